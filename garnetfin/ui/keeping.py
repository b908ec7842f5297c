"""Keeping a session against a crash: its journal beside the file, or in a folder of the user where that cannot be written."""

import logging
import time
from collections.abc import Mapping
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from garnetfin.core.errors import GarnetfinError
from garnetfin.project.history import History
from garnetfin.project.journal import SUFFIX, Found, Journal, away, beside, digest, held, read
from garnetfin.project.store import Mark
from garnetfin.project.tree import Project
from garnetfin.ui.bridge import Newest

log = logging.getLogger(__name__)
SYNC_MS = 500                        # edits reach the disk itself within this time; a killed program loses none in any case
LOST = ".lost"                       # behind the name of a journal whose file was changed by somebody else since


class Keeping(QObject):
    """One journal at a time. Without a folder (tests, pictures) nothing is kept."""

    fault = Signal(str)              # edits are no longer kept, or are kept elsewhere: one sentence
    gone = Signal()                  # the journal was taken away under our hands: all has to be written anew

    def __init__(self, folder: Path | None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.folder = folder
        self.journal: Journal | None = None
        self._failing = False
        self._later = QTimer(self, singleShot=True, interval=SYNC_MS)
        self._later.timeout.connect(self._submit)
        self._syncer: Newest | None = None

    # -- what was left behind ------------------------------------------------------------------------------------
    def held(self, path: Path) -> str:
        """Who else has a project file open, "" for nobody."""
        if self.folder is None:
            return ""
        return held(beside(path)) or held(away(path, self.folder))

    def left(self, path: Path) -> tuple[Found | None, Found | None]:
        """(edits beside a file that it does not hold, edits made to an older state of a file that somebody changed since)."""
        if self.folder is None:
            return None, None
        for place in (beside(path), away(path, self.folder)):
            try:
                found = read(place) if place.exists() else None
            except GarnetfinError as error:
                log.warning("%s", error)
                continue
            if found is not None and found.lost:
                if found.digest == digest(path):
                    return found, None
                aside = place.with_name(place.name + LOST)
                place.replace(aside)
                return None, read(aside)
        return None, None

    def unsaved(self) -> list[Found]:
        """Projects that never had a file and whose window ended in a crash, newest first."""
        found = []
        for place in sorted(self.folder.glob(f"*{SUFFIX}")) if self.folder is not None and self.folder.is_dir() else ():
            try:
                one = read(place) if not held(place) else None
            except GarnetfinError:
                continue
            if one is not None and not one.of and len(one.entries) > 1:
                found.append(one)
        return sorted(found, key=lambda f: -f.time)

    @staticmethod
    def forget(found: Found) -> None:
        found.path.unlink(missing_ok=True)

    # -- keeping -------------------------------------------------------------------------------------------------
    def begin(self, history: History, path: Path | None, saved_at: int, contents: Mapping[str, bytes], marks: Mapping[str, Mark]) -> None:
        """A journal for what is in hand; the one before is done with."""
        self.end()
        if self.folder is None:
            return
        places = [self.folder / f"new-{time.time_ns():x}{SUFFIX}"] if path is None else [beside(path), away(path, self.folder)]
        why = ""
        for place in places:
            try:
                if place.parent == self.folder:
                    self.folder.mkdir(parents=True, exist_ok=True)
                self.journal = Journal.begin(place, history.entries, history.at, path, saved_at, contents, marks)
                self._failing = False
                if why:
                    self.fault.emit(f"{path.parent} cannot be written ({why}): edits are kept against a crash in your own folder instead")
                return
            except OSError as error:
                why = error.strerror or str(error)
            except GarnetfinError as error:
                why = error.what
        self.fault.emit(f"Edits are not kept against a crash: {why}. Save often")

    def end(self, remove: bool = True) -> None:
        if self.journal is not None:
            self.journal.close(remove)
            self.journal = None

    def close(self) -> None:
        self.end()
        if self._syncer is not None:
            self._syncer.close()

    def _keep(self, write) -> bool:
        """One line; what could not be written is said once."""
        if self.journal is None:
            return False
        try:
            write(self.journal)
        except OSError as error:
            if not self._failing:
                self._failing = True
                self.fault.emit(f"Edits are not kept against a crash: {error.strerror or error}. Save to another folder")
            return False
        if not self._later.isActive():
            self._later.start()
        return True

    def edit(self, history: History, before: Project, again) -> None:
        """The entry in force was made from `before`. After a fault the whole history is written anew by `again()`, once it can be."""
        if self._failing:
            again()
            return
        entry = history.entries[history.at]
        self._keep(lambda j: j.edit(entry.label, entry.gesture, history.at, before, entry.project))

    def move(self, history: History) -> None:
        self._keep(lambda j: j.move(history.at))

    def content(self, name: str, data: bytes) -> None:
        self._keep(lambda j: j.content(name, data))

    def mark(self, mark: Mark) -> None:
        self._keep(lambda j: j.mark(mark))

    def unmark(self, name: str) -> None:
        self._keep(lambda j: j.unmark(name))

    def saved(self, path: Path, history: History) -> None:
        self._keep(lambda j: j.saved(path, history.at))

    def _submit(self) -> None:
        if self.journal is not None and not self.journal.path.exists():
            self.gone.emit()                         # its folder vanished: lines would go nowhere
            return
        if self._syncer is None:
            self._syncer = Newest(self._sync, "journal", self)
        self._syncer.submit(self.journal)

    @staticmethod
    def _sync(journal: Journal | None, stopped) -> None:
        try:
            if journal is not None:
                journal.sync()
        except (OSError, ValueError):
            pass                     # closed meanwhile, or told with the next line
