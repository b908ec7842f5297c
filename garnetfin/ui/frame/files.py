"""Files of the window: open, save, new, take in, write, what was opened lately and where one was in it."""

import time
from datetime import datetime
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog

from garnetfin.core.errors import ChangedError, GarnetfinError
from garnetfin.project.book_file import SUFFIX
from garnetfin.project.disk import file_name, write_whole
from garnetfin.project.journal import Found
from garnetfin.project.new import new_project
from garnetfin.ui.example import example_contents, example_project
from garnetfin.ui.frame.parts import WindowPart
from garnetfin.ui.opening import FileRead, Opener, is_large, read_file
from garnetfin.ui.settings import existing
from garnetfin.ui.state import LINKS


def _edits(count: int) -> str:
    return "1 edit" if abs(count) == 1 else f"{abs(count)} edits"


def _clock(at: float) -> str:
    """Hour and minute of today, else the day as well."""
    then = time.localtime(at)
    return time.strftime("%H:%M" if time.localtime()[:3] == then[:3] else "%Y-%m-%d %H:%M", then)


class Files(WindowPart):
    """What the window does with files; part of MainWindow."""

    opener: Opener | None = None  # of large files
    _going_on = False  # the next opening goes on without the unsaved edits

    def open(self, path: Path) -> bool:
        """Open a project; a bad file is said in the banner and the project in hand stays.

        Edits that a crash left beside it are taken up; a file that another window holds is opened as a copy.
        """
        if self._guard(lambda: self.open(path), path.name):
            return False
        if is_large(path):
            return self._read_apart(path)
        try:
            return self._open_read(path, read_file(path))
        except GarnetfinError as error:
            self.banner.say(str(error), "bad")
            return False

    def _read_apart(self, path: Path) -> bool:
        """Read a large file beside the window; what is in hand stays until it is there."""
        if self.opener is None:
            self.opener = Opener(self)
            self.opener.done.connect(self._on_read)
            self.opener.failed.connect(lambda why: self.banner.say(why, "bad"))
            self.opener.stopped.connect(self.banner.hide)
        if not self.opener.start(path, purpose=path):
            self.banner.say(f"Another project is still being read. {path.name} was not opened", "watch")
            return False
        self._agreed = self.session.project  # that this may go was asked already, if it had to be
        self.banner.say(f"Reading {path.name} …", "good", ("Stop", self.opener.stop))
        return True

    def _on_read(self, read: FileRead, path: Path) -> None:
        if self.session.project is self._agreed or not self._guard(lambda: self._open_read(path, read), path.name):
            self._open_read(path, read)

    def _open_read(self, path: Path, read: FileRead) -> bool:
        session = self.session
        self._going_on = False
        again = session.path is not None and session.path.absolute() == path.absolute()
        try:
            who = "" if again else session.keeping.held(path)  # this very window may hold it
            left, older = (None, None) if who or again else session.keeping.left(path)
            session.open(path, left, read)
        except (GarnetfinError, OSError) as error:
            self.banner.say(str(error), "bad")
            return False
        self.banner.hide()
        if who:
            self.banner.say(
                f"{path.name} is open in {who}. This is a copy: saving asks for a name of its own.",
                "watch",
                ("Save as …", self.save_as),
            )
        elif left is not None:
            count = abs(left.at - max(0, left.saved_at))
            what = "Snapshots" if not count else _edits(count)
            self.banner.say(
                f"{what} of {_clock(left.time)} that {path.name} does not hold {'is' if count == 1 else 'are'} back.",
                "good",
                ("Save", self.save),
                ("Open the file as saved", lambda: self._as_saved(path)),
            )
        elif older is not None:
            self._offer_older(path, older)
        elif read.opened.left_out:
            count = len(read.opened.left_out)
            self.banner.say(
                f"{path.name} is damaged: {count} of its snapshots cannot be read ({read.opened.left_out[0]}). Saving "
                f"leaves {'it' if count == 1 else 'them'} out; "
                "keep a copy of the file first.",
                "watch",
                ("Save as …", self.save_as),
            )
        elif read.opened.told:
            self.banner.say(" ".join(read.opened.told), "watch")
        self._remember(path)
        self._restore_show(path)
        return True

    def _offer_older(self, path: Path, older: Found | None) -> None:
        """Edits to a state of a file that is no longer there, one set after the other."""
        if older is None:
            return

        def forget() -> None:
            self.session.keeping.forget(older)
            self._offer_older(path, self.session.keeping.older(path))

        self.banner.say(
            f"{path.name} was changed after a crash left {_edits(len(older.entries) - 1)} of {_clock(older.time)} "
            f"unsaved.",
            "watch",
            ("Show those edits", lambda: self._take_up(older)),
            ("Forget them", forget),
        )

    def _as_saved(self, path: Path) -> None:
        """The file as it stands on disk, without the edits that were taken up; they stay while it cannot be read."""
        try:
            self.session.open(path)
        except (GarnetfinError, OSError) as error:
            self.banner.say(str(error), "bad", ("Try again", lambda: self._as_saved(path)))

    def _take_up(self, found: Found) -> None:
        self.session.take_up(found)
        self.banner.say(
            f"{found.project.name} is back as it stood at {_clock(found.time)}. It has no file yet.",
            "good",
            ("Save as …", self.save_as),
        )

    def offer_unsaved(self) -> None:
        """Projects without a file that a crash left behind, on the first page and in the banner."""
        found = self.session.keeping.unsaved()
        if found and not self.session.opened:
            self.banner.say(
                f"{found[0].project.name} was never saved when the program ended at {_clock(found[0].time)}: "
                f"{_edits(len(found[0].entries) - 1)}.",
                "watch",
                ("Recover", lambda: self._take_up(found[0])),
                ("Forget it", lambda: (self.session.keeping.forget(found[0]), self.offer_unsaved())),
            )

    def _guard(self, again, name: str) -> bool:
        """Unsaved edits of the project in hand are asked about before another takes its place;

        True while that is open.
        """
        if not self.session.unsaved or self._going_on:
            self._going_on = False
            return False

        def go_on() -> None:
            self._going_on = True
            again()

        self.banner.say(
            f"There are unsaved edits. Open {name}?",
            "watch",
            ("Save first", lambda: self.save() and again()),
            ("Without them", go_on),
        )
        return True

    def new(self) -> None:
        """An empty building; unsaved edits of the one in hand are asked about first."""
        if not self._guard(self.new, "a new project"):
            self._start_new()

    def _start_new(self) -> None:
        self.session.start(new_project(), None)
        self.session.set_show(link="Building")
        self.banner.hide()

    def open_example(self) -> None:
        if self._guard(self.open_example, "the example"):
            return
        try:
            project = example_project()
        except GarnetfinError as error:
            self.banner.say(str(error), "bad")
            return
        self.session.start(project, None, example_contents(project))
        self.banner.hide()

    def insert_dialog(self, what: str) -> None:
        """Choose a foreign file: a list, a building, or something to lie below the plan."""
        kinds = {
            "list": "Tables (*.csv *.tsv *.txt *.xlsx)",
            "building": "Buildings (*.xml *.gbxml *.ifc)",
            "underlay": "Drawings and pictures (*.dxf *.pdf *.png *.jpg *.jpeg)",
            "weather": "Years of weather (*.epw *.tm3 *.csv *.txt)",
        }
        path, _ = QFileDialog.getOpenFileName(self, "Insert", str(self.session.path or Path.home()), kinds[what])
        if path:
            self.insert(Path(path), what)

    def insert(self, path: Path, what: str = "") -> None:
        """A foreign file to the view that takes it in: weather to Climate, all else to Building."""
        if what == "weather" or path.suffix.lower() in (".epw", ".tm3"):
            if not self.session.opened:
                self._start_new()
            self.session.set_show(link="Climate")
            self.refresh()
            self.view("Climate").insert(path)
        else:
            self.building().insert(path)

    def _reading(self, words: str, view: str = "Building") -> None:
        if words:
            self.banner.say(words, "good", ("Stop", lambda: self.view(view).reader.stop()))
        else:
            self.banner.hide()

    def dragEnterEvent(self, event) -> None:
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event) -> None:
        """Files dropped on the window: a project is opened, anything else goes to Building."""
        paths = [Path(u.toLocalFile()) for u in event.mimeData().urls() if u.isLocalFile()]
        for path in paths[:1]:
            if path.suffix == ".gfin":
                self.open(path)
            elif path.suffix == SUFFIX:
                self.take_book(path)
            else:
                self.insert(path)
        if len(paths) > 1:
            self.banner.say(f"One file at a time: {paths[0].name} is taken, {len(paths) - 1} others are left", "watch")

    def write(self, what: str, path: Path | None = None) -> None:
        """The building as gbXML, rooms or faces as CSV, the lifted levels as PDF."""
        results = self.session.results
        if not self.session.opened or results is None:
            self.banner.say("Open or draw a building first", "watch")
            return
        ending = {"gbxml": ".xml", "lifted": ".pdf"}.get(what, ".csv")
        if path is None:
            path = self._where("" if what == "gbxml" else f"-{what}", ending, "building")
            if path is None:
                return
        path = path if path.suffix else path.with_suffix(ending)
        from garnetfin.ui.frame.writing import exported, write_lifted

        try:
            if what == "lifted":
                write_lifted(self.building(), path)
            else:
                write_whole(path, exported(results, what))
        except GarnetfinError as error:
            self.banner.say(str(error), "bad")
            return
        self.status.hint.set_words(f"Wrote {path.name}")

    def _where(self, words: str, ending: str, usual: str) -> Path | None:
        """A file that is asked for beside the project, named by it."""
        name = file_name(self.session.project.name, usual) + words + ending
        chosen, _ = QFileDialog.getSaveFileName(
            self, "Export", str((self.session.path or Path.home() / "x").parent / name), f"(*{ending})"
        )
        return Path(chosen) if chosen else None

    def write_chart(self, chart, kind: str, path: Path | None = None) -> None:
        """A chart as a picture, a drawing or its figures."""
        from garnetfin.ui.charts.writing import as_bytes

        if path is None:
            path = self._where("-chart", f".{kind}", "chart")
            if path is None:
                return
        path = path if path.suffix else path.with_suffix(f".{kind}")
        try:
            write_whole(path, as_bytes(chart, kind))
        except GarnetfinError as error:
            self.banner.say(str(error), "bad")
            return
        self.status.hint.set_words(f"Wrote {path.name}")

    def open_dialog(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, "Open a project", str(self.session.path or Path.home()), "Garnetfin projects (*.gfin)"
        )
        if path:
            self.open(Path(path))

    def save(self) -> bool:
        if self.session.path is None:
            return self.save_as()
        return self._save_to(self.session.path)

    def save_as(self) -> bool:
        path, _ = QFileDialog.getSaveFileName(
            self,
            "Save the project",
            str(self.session.path or Path.home() / "project.gfin"),
            "Garnetfin projects (*.gfin)",
        )
        if not path:
            return False
        target = Path(path)
        return self._save_to(target if target.suffix else target.with_suffix(".gfin"))

    def _save_to(self, path: Path, replace_changed: bool = False) -> bool:
        try:
            self.session.save(path, replace_changed)
        except ChangedError as error:
            self.banner.say(
                f"{error}.",
                "bad",
                ("Save as …", self.save_as),
                ("Put mine in its place", lambda: self._save_to(path, True)),
            )
            return False
        except GarnetfinError as error:
            self.banner.say(str(error), "bad", ("Save as …", self.save_as))
            return False
        self._remember(path)
        self.status.hint.set_words(f"Saved {path.name} at {datetime.now():%H:%M}")
        return True

    def _recent_paths(self) -> list[Path]:
        return self.settings.recent

    def _remember(self, path: Path) -> None:
        self.settings.remember(path)

    def fill_recent(self) -> None:
        self.recent_menu.clear()
        for path in self._recent_paths():
            self.recent_menu.addAction(f"{path.stem}   {path.parent}", partial(self.open, path))
        if self.recent_menu.isEmpty():
            self.recent_menu.addAction("none yet").setEnabled(False)

    # -- where one was -------------------------------------------------------------------------------------------
    def keep_show(self) -> None:
        """What is in front, for the next time this file is opened."""
        self.settings.keep_geometry(self.saveGeometry())
        if self.session.path is not None and self.session.opened:
            show = self.session.show
            self.settings.set("last_path", str(self.session.path.resolve()))
            self.settings.set("last_show", (show.link, show.system_id, show.level_id, show.units))
        elif self.session.opened:
            self.settings.forget("last_path", "last_show")

    def _restore_show(self, path: Path) -> None:
        """The view, air system, level and units of the last time, as far as they are still there."""
        if self.settings.get("last_path") != str(path.resolve()):
            return
        link, system_id, level_id, units = self.settings.get("last_show")
        project, changes = self.session.project, {}
        if link in LINKS:
            changes["link"] = link
        if any(s.id == system_id for s in project.air_systems):
            changes["system_id"] = system_id
        if any(x.id == level_id for x in project.levels):
            changes["level_id"] = level_id
        if units in ("SI", "IP"):
            changes["units"] = units
        self.session.set_show(**changes)

    def last_path(self) -> Path | None:
        """The project that was in hand when the window was closed."""
        return existing(self.settings.get("last_path"))
