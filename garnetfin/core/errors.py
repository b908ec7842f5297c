"""Errors an engineer can act on."""

from garnetfin.core.texts import MOST_WHERE, bounded, shortened


class GarnetfinError(Exception):
    """`what` failed, `where` in the job, and the `remedy`."""

    def __init__(self, what: str, *, where: str = "", remedy: str = "") -> None:
        self.what, self.where, self.remedy = bounded(what), shortened(where, MOST_WHERE), bounded(remedy)
        super().__init__(". ".join(part for part in (self.what, self.where, self.remedy) if part))


class InputError(GarnetfinError, ValueError):
    """A value outside what the method is valid for."""


class SupplyTooWarm(InputError):
    """Supply air that is no cooler than the room, so that no flow of it carries the load."""


class FileError(GarnetfinError):
    """A project file that cannot be read or written."""


class ChangedError(FileError):
    """A file that somebody else wrote since it was read."""


class Cancelled(GarnetfinError):
    """The work was stopped because something newer is wanted."""

    def __init__(self) -> None:
        super().__init__("Stopped")
