"""Errors an engineer can act on."""


class GarnetfinError(Exception):
    """`what` failed, `where` in the job, and the `remedy`."""

    def __init__(self, what: str, *, where: str = "", remedy: str = "") -> None:
        super().__init__(". ".join(part for part in (what, where, remedy) if part))
        self.what, self.where, self.remedy = what, where, remedy


class InputError(GarnetfinError, ValueError):
    """A value outside what the method is valid for."""


class FileError(GarnetfinError):
    """A project file that cannot be read or written."""


class ChangedError(FileError):
    """A file that somebody else wrote since it was read."""


class Cancelled(GarnetfinError):
    """The work was stopped because something newer is wanted."""

    def __init__(self) -> None:
        super().__init__("Stopped")
