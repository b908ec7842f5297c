"""CrashRecovery a session against a crash: its journal beside the file, or in a folder of the user where that cannot be
written.
"""

import glob
import logging
import time
from collections.abc import Mapping
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from garnetfin.core.errors import GarnetfinError
from garnetfin.project.disk import clear_parts
from garnetfin.project.history import History
from garnetfin.project.journal import SUFFIX, Found, Journal, away, beside, clear_beginnings, digest, held, read
from garnetfin.project.store import Mark
from garnetfin.project.tree import Project
from garnetfin.ui.bridge import Newest

log = logging.getLogger(__name__)
# edits reach the disk itself within this time; a killed program loses none in any case
SYNC_MS = 500
# behind the name of a journal whose file was changed by somebody else since, and of one that cannot be read
LOST, BROKEN = ".lost", ".broken"


def _aside(place: Path, why: str) -> Path:
    """A name behind which a journal is put aside; one that lies there already is never written over."""
    made, count = place.with_name(place.name + why), 1
    while made.exists():
        count += 1
        made = place.with_name(f"{place.name}{why}-{count}")
    return made


class CrashRecovery(QObject):
    """One journal at a time. Without a folder (tests, pictures) nothing is kept."""

    fault = Signal(str)  # edits are no longer kept, or are kept elsewhere: one sentence
    # the journal was taken away or ends in the middle of a line: all has to be written anew
    gone = Signal()

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
        mine = self.journal.path if self.journal is not None else None
        return next(
            (who for place in (beside(path), away(path, self.folder)) if place != mine and (who := held(place))), ""
        )

    def left(self, path: Path) -> tuple[Found | None, Found | None]:
        """(edits beside a file that it does not hold, edits made to an older state of a file that somebody changed
        since).

        What cannot be read is put aside, never written over.
        """
        if self.folder is None:
            return None, None
        clear_parts(path)
        for place in (beside(path), away(path, self.folder)):
            clear_beginnings(place)
            try:
                found = read(place) if place.exists() else None
            except GarnetfinError as error:
                aside = _aside(place, BROKEN)
                place.replace(aside)
                self.fault.emit(f"Edits that a crash left cannot be read: {error.what}. They are kept as {aside.name}")
                continue
            if found is None:
                continue
            if not found.lost:
                place.unlink(missing_ok=True)
            elif found.digest == digest(path):
                return found, None
            else:
                place.replace(_aside(place, LOST))
        return None, self.older(path)

    def older(self, path: Path) -> Found | None:
        """The newest edits put aside since somebody else changed their file, None where there are none."""
        found = []
        for place in (beside(path), away(path, self.folder)) if self.folder is not None else ():
            for aside in place.parent.glob(f"{glob.escape(place.name + LOST)}*"):
                try:
                    found.append(read(aside))
                except GarnetfinError as error:
                    log.warning("%s", error)
        return max(found, key=lambda f: f.time, default=None)

    def unsaved(self) -> list[Found]:
        """Projects that never had a file and whose window ended in a crash, newest first."""
        found = []
        for place in sorted(self.folder.glob(f"*{SUFFIX}")) if self.folder is not None and self.folder.is_dir() else ():
            try:
                one = read(place) if not held(place) else None
            except GarnetfinError:
                continue
            if one is None:
                continue
            if not one.lost or (not one.of and len(one.entries) < 2 and not one.marked):
                place.unlink(missing_ok=True)  # nothing was done in it, or all of it is in a file
            elif not one.of:
                found.append(one)
        return sorted(found, key=lambda f: -f.time)

    @staticmethod
    def forget(found: Found) -> None:
        found.path.unlink(missing_ok=True)

    # -- keeping -------------------------------------------------------------------------------------------------
    def begin(
        self,
        history: History,
        path: Path | None,
        saved_at: int,
        contents: Mapping[str, bytes],
        marks: Mapping[str, Mark],
    ) -> None:
        """A journal for what is in hand. The one before goes only once the new one is whole."""
        if self.folder is None:
            return
        before, why = self.journal, ""
        places = (
            [self.folder / f"new-{time.time_ns():x}{SUFFIX}"]
            if path is None
            else [beside(path), away(path, self.folder)]
        )
        for place in places:
            try:
                if place.parent == self.folder:
                    self.folder.mkdir(parents=True, exist_ok=True)
                self.journal = Journal.begin(
                    place, history.entries, history.at, path, saved_at, contents, marks, before
                )
            except OSError as error:
                why = error.strerror or str(error)
                continue
            except GarnetfinError as error:
                why = error.what
                continue
            if before is not None:
                before.close(remove=before.path != place)
            self._failing = False
            if why:
                self.fault.emit(
                    f"{path.parent} cannot be written ({why}): edits are kept against a crash in your own folder "
                    f"instead"
                )
            return
        self._fail(why)

    def _fail(self, why: str) -> None:
        """Said once; every further edit tries to write all of it anew."""
        if not self._failing:
            self._failing = True
            self.fault.emit(f"Edits are not kept against a crash: {why}. Save to another folder")

    def close(self, remove: bool = False) -> None:
        """`remove`: only once somebody said that nothing of it is needed.

        What is left lies there for the next opening.
        """
        self._later.stop()
        if self._syncer is not None:
            self._syncer.close()
            self._syncer = None
        if self.journal is not None:
            self.journal.close(remove)
            self.journal = None

    def _keep(self, write) -> None:
        """One line. After a fault the lines before may end in the middle: then all is written anew, once it can be."""
        if self._failing:
            self.gone.emit()
            return
        if self.journal is None:
            return
        try:
            write(self.journal)
        except OSError as error:
            self._fail(error.strerror or str(error))
            return
        if not self._later.isActive():
            self._later.start()

    def edit(self, history: History, before: Project) -> None:
        """The entry in force was made from `before`."""
        entry = history.entry
        self._keep(lambda j: j.edit(entry.label, entry.gesture, history.at, before, entry.project))

    def move(self, history: History) -> None:
        self._keep(lambda j: j.move(history.at))

    def content(self, name: str, data: bytes) -> None:
        self._keep(lambda j: j.content(name, data))

    def mark(self, mark: Mark) -> None:
        self._keep(lambda j: j.mark(mark))

    def unmark(self, name: str) -> None:
        self._keep(lambda j: j.unmark(name))

    def saving(self, path: Path, told: str, history: History) -> None:
        """Before a save. What cannot be told is no hindrance: the save may go elsewhere than the journal."""
        if self.journal is not None and not self._failing:
            try:
                self.journal.saving(path, told, history.at)
                self.journal.sync()
            except OSError as error:
                log.warning("%s", error)
                self._fail(error.strerror or str(error))

    def saved(self, path: Path, history: History) -> None:
        self._keep(lambda j: j.saved(path, history.at))

    def _submit(self) -> None:
        if self.journal is not None and not self.journal.path.exists():
            self.gone.emit()  # its folder vanished: lines would go nowhere
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
            pass  # closed meanwhile, or told with the next line
