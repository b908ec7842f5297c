"""The example project that ships with the program."""

from importlib.resources import files

from garnetfin.project.store import decode_container
from garnetfin.project.tree import Project

NAME = "tern-point.gfin"


def example_project() -> Project:
    """Tern Point Field Station, an invented building. Raises FileError when the installation is damaged."""
    return decode_container(files("garnetfin.ui").joinpath("assets", "example", NAME).read_bytes(), NAME)
