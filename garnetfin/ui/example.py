"""The example project that ships with the program."""

from importlib.resources import as_file, files

from garnetfin.project.store import decode_container, load_contents
from garnetfin.project.tree import Project

NAME = "tern-point.gfin"


def _file():
    return files("garnetfin.ui").joinpath("assets", "example", NAME)


def example_project() -> Project:
    """Tern Point Field Station, an invented building. Raises FileError when the installation is damaged."""
    return decode_container(_file().read_bytes(), NAME)


def example_contents(project: Project) -> dict[str, bytes]:
    """What lies beside the example: its invented year of hours."""
    with as_file(_file()) as path:
        return load_contents(path, project)
