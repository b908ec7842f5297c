"""Reading project files: small ones at once, large ones in a process of their own and a thread that waits for it, so
that the window stays.
"""

from dataclasses import dataclass
from pathlib import Path

from garnetfin.exchange.reading import read
from garnetfin.project import container
from garnetfin.project.journal import digest
from garnetfin.project.store import Opened, load_all, load_contents
from garnetfin.ui.reader import Reader

AT_ONCE = 2 * 2**20  # bytes of JSON that are decoded within a frame or two


@dataclass(frozen=True, slots=True)
class FileRead:
    """What a project file held when it was read: project and marks, what lies beside them, and the file's digest."""

    opened: Opened
    contents: dict[str, bytes]
    digest: str


def is_large(path: Path) -> bool:
    """True for a file that is read apart from the window's thread."""
    return container.weight(path) > AT_ONCE


def read_file(path: Path) -> FileRead:
    """Read it here and now. Raises FileError."""
    before = digest(path)  # taken first: what somebody writes meanwhile counts as a change
    return _with_contents(path, load_all(path), before)


def _with_contents(path: Path, opened: Opened, before: str) -> FileRead:
    return FileRead(opened, load_contents(path, opened.project, *(m.project for m in opened.marks)), before)


class Opener(Reader):
    """Brings a FileRead by `done`."""

    def _read(self, path: Path, kind: str, options: dict | None) -> FileRead:
        before = digest(path)
        answer = read(path, "project", None, self.progress.emit, self._stop.is_set)
        return _with_contents(path, answer.project, before)
