"""A save that is cut off at any step, a display that goes away, signals, odd journals and settings: nothing is lost,
nothing is left about.
"""

import json
import os
import signal
import subprocess
import sys
import tempfile
import unittest
import zlib
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QByteArray, QSettings

from garnetfin.core.errors import FileError
from garnetfin.project.disk import PART, below, clear_parts, file_name, write_by, write_whole
from garnetfin.project.edits.rooms import SetRoomText
from garnetfin.project.journal import SUFFIX, beside, read
from garnetfin.project.store import load, save
from garnetfin.ui.app import make_app
from garnetfin.ui.crash_recovery import CrashRecovery
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session
from garnetfin.ui.settings import FIELDS, USUAL, Stored
from tests.example import one_room
from tests.ui.driver import WindowTest

ROOT = Path(__file__).parents[2]


def room_name(project) -> str:
    return project.rooms[0].name


class CutOff(unittest.TestCase):
    """Two edits, an undo and a redo, then a save in a process that ends one step further each time."""

    @classmethod
    def setUpClass(cls):
        cls.base = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        done = subprocess.run(
            [sys.executable, "-m", "tests.ui.save_driver", str(cls.base)],
            cwd=ROOT,
            # Programs of ours that ran in this process before may have shut out the current folder.
            env={**os.environ, "PYTHONPATH": str(ROOT)},
            capture_output=True,
            text=True,
            check=False,
        )
        cls.ways = {
            way: (int(steps), int(ended)) for way, steps, ended in (line.split() for line in done.stdout.splitlines())
        }
        cls.said = done.stderr

    def test_every_way_was_cut_off_at_every_step(self):
        self.assertEqual(set(self.ways), {"same", "as", "first"}, self.said)
        for way, (steps, ended) in self.ways.items():
            self.assertEqual(ended, 0, f"{way}: {self.said}")
            self.assertGreater(steps, 12, way)

    def test_whatever_step_it_was_the_edits_and_their_undo_are_there(self):
        for way, (steps, _) in self.ways.items():
            for step in range(1, steps + 1):
                with self.subTest(way=way, step=step):
                    folder = self.base / f"{way}-{step}"
                    keeping = CrashRecovery(folder / "state")
                    if way == "first" and not (folder / "job.gfin").exists():
                        found = keeping.unsaved()
                        self.assertEqual([room_name(f.project) for f in found], ["B"])
                        self.assertEqual(len(found[0].entries), 3)
                        continue
                    path = folder / ("other.gfin" if way == "as" and (folder / "other.gfin").exists() else "job.gfin")
                    left, older = keeping.left(path)
                    self.assertIsNone(older, "edits of ours were taken for a foreign change")
                    now = left.project if left is not None else load(path)
                    self.assertEqual(room_name(now), "B")
                    if room_name(load(path)) != "B":
                        self.assertEqual(len(left.entries), 3)
                    if way == "first":
                        self.assertEqual(keeping.unsaved(), [], "it has a file, so it is not offered as one without")

    def test_nothing_is_left_about_once_it_is_opened_again(self):
        for way, (steps, _) in self.ways.items():
            for step in range(1, steps + 1):
                folder = self.base / f"{way}-{step}"
                keeping = CrashRecovery(folder / "state")
                for path in (folder / "job.gfin", folder / "other.gfin"):
                    keeping.left(path)
                keeping.unsaved()
                odd = [
                    p.name
                    for p in folder.iterdir()
                    if p.name not in ("job.gfin", "other.gfin", "state", ".job.gfin-journal", ".other.gfin-journal")
                ]
                self.assertEqual(odd, [], f"{way} {step}")


class Leaving(unittest.TestCase):
    """The real run of the window in a process of its own, ended from outside."""

    CODE = (
        "import os, sys\nfrom pathlib import Path\nfrom PySide6.QtCore import QTimer\nfrom PySide6.QtWidgets import "
        "QApplication\n"
        "from garnetfin.ui import app\nfrom garnetfin.project.edits.rooms import SetRoomText\n"
        "class Window(app.MainWindow):\n"
        "    def show(self):\n"
        "        super().show()\n"
        "        QTimer.singleShot(0, self.work)\n"
        "    def work(self):\n"
        "        self.session.do(SetRoomText(self.session.project.rooms[0].id, 'name', 'kept'))\n"
        "        print('told', flush=True)\n"
        "        if sys.argv[2] == 'display': QApplication.exit(1)\n"
        "        if sys.argv[2] == 'close': self.close(); self.close(); self.close_without_edits()\n"
        "app.MainWindow = Window\nsys.exit(app.run_window(Path(sys.argv[1])))\n"
    )

    def begin(self, how: str) -> tuple[subprocess.Popen, Path]:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        path = folder / "job.gfin"
        save(one_room(), path)
        environment = {
            **os.environ,
            "QT_QPA_PLATFORM": "offscreen",
            "HOME": str(folder),
            "XDG_CONFIG_HOME": str(folder / "config"),
            "XDG_STATE_HOME": str(folder / "state"),
        }
        return subprocess.Popen(
            [sys.executable, "-c", self.CODE, str(path), how],
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            env=environment,
            cwd=ROOT,
        ), path

    def end(self, child: subprocess.Popen, number: int | None = None) -> tuple[int, str]:
        try:
            self.assertEqual(child.stdout.readline().strip(), "told")
            if number is not None:
                child.send_signal(number)
            _, said = child.communicate()
        finally:
            child.kill()
        return child.returncode, said

    def test_a_display_that_goes_away_or_a_signal_takes_no_edit_along(self):
        cases = (
            ("display", None, 1),
            ("signal", signal.SIGINT, 130),
            ("signal", signal.SIGTERM, 143),
            ("signal", signal.SIGHUP, 129),
        )
        for (how, number, code), (child, path) in zip(cases, [self.begin(how) for how, *_ in cases]):
            with self.subTest(how=how, number=number):
                ended, said = self.end(child, number)
                self.assertEqual(ended, code, said)
                self.assertIn("Edits that were not saved are kept", said)
                self.assertNotIn("Traceback", said)
                self.assertEqual(room_name(read(beside(path)).project), "kept")
                self.assertEqual(room_name(load(path)), room_name(one_room()))

    def test_only_the_answer_to_the_question_goes_without_them(self):
        child, path = self.begin("close")
        self.assertEqual(self.end(child), (0, ""))
        self.assertFalse(beside(path).exists())

    def test_a_display_that_does_not_answer_gets_a_sentence(self):
        environment = {**os.environ, "DISPLAY": ":4711", "WAYLAND_DISPLAY": "none-such"}
        environment.pop("QT_QPA_PLATFORM", None)
        done = subprocess.run(
            [sys.executable, "-m", "garnetfin"], capture_output=True, text=True, env=environment, cwd=ROOT, check=False
        )
        self.assertEqual(done.returncode, 1)
        self.assertIn("does not answer", done.stderr)
        self.assertIn("garnetfin compute FILE", done.stderr)
        self.assertNotIn("Traceback", done.stderr)


class Journals(unittest.TestCase):
    def setUp(self):
        self.app = make_app()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path, self.state = self.folder / "a.gfin", self.folder / "state"
        save(one_room(), self.path)

    def window(self) -> MainWindow:
        made = MainWindow(Session(journals=self.state))
        self.addCleanup(made.close_without_edits)
        return made

    def crash(self, name: str) -> None:
        """A window that edits and is gone."""
        window = self.window()
        window.open(self.path)
        window.session.do(SetRoomText("r1", "name", name))
        window.session.keeping.close(remove=False)

    def test_edits_put_aside_are_never_written_over(self):
        for name in ("first", "second"):
            self.crash(name)
            save(one_room(name=f"theirs after {name}"), self.path)
            CrashRecovery(self.state).left(self.path)
        window = self.window()
        window.open(self.path)
        self.assertIn("was changed after a crash left 1 edit", window.banner.sentence.words)
        names = []
        while window.banner.isVisibleTo(window) and "crash left" in window.banner.sentence.words:
            names.append(room_name(window.session.keeping.older(self.path).project))
            window.banner._act(1)  # forget them: the other set is offered
        self.assertEqual(sorted(names), ["first", "second"])
        self.assertEqual(list(self.folder.glob(".*lost*")), [])

    def test_the_file_as_saved_that_cannot_be_read_costs_no_edit(self):
        self.crash("kept")
        window = self.window()
        window.open(self.path)
        whole = self.path.read_bytes()
        self.path.write_bytes(b"broken meanwhile")
        window.banner._act(1)  # open the file as saved
        self.assertIn("is broken or not a project", window.banner.sentence.words)
        self.assertEqual(room_name(window.session.project), "kept")
        window.session.do(SetRoomText("r1", "name", "later"))
        self.assertEqual(room_name(read(beside(self.path)).project), "later")
        self.path.write_bytes(whole)
        window.banner._act(0)  # try again
        self.assertEqual(room_name(window.session.project), room_name(one_room()))

    def test_heads_of_a_wrong_kind_are_put_aside_with_a_sentence(self):
        from msgspec import json as mjson

        project = mjson.decode(mjson.encode(one_room()))
        for odd in (
            {"begun": "noon"},
            {"process": "x"},
            {"saved_at": [1]},
            {"host": 7},
            {"of": None},
            {"project": 3},
            {"begun": 1e300, "project": []},
        ):
            text = json.dumps({"garnetfin_journal": 1, "project": project, **odd}).encode()
            line = f"{zlib.crc32(text):08x} ".encode() + text + b"\n"
            beside(self.path).write_bytes(line)
            self.state.mkdir(exist_ok=True)
            (self.state / f"new-1{SUFFIX}").write_bytes(line)
            keeping, said = CrashRecovery(self.state), []
            keeping.fault.connect(said.append)
            self.assertEqual(keeping.held(self.path), "", odd)
            self.assertEqual(keeping.left(self.path), (None, None), odd)
            keeping.unsaved()
            self.assertEqual(len(said), 1, odd)
            self.assertIn("cannot be read", said[0])
        self.assertEqual(len(list(self.folder.glob(".*broken*"))), 7)

    def test_empty_journals_go_and_those_with_edits_stay(self):
        for edits in (0, 2):
            session = Session(journals=self.state)
            session.start(one_room(), None)
            for i in range(edits):
                session.do(SetRoomText("r1", "name", f"N{i}"))
            session.close()
        self.assertEqual(len(list(self.state.iterdir())), 2)
        self.assertEqual(len(CrashRecovery(self.state).unsaved()), 1)
        self.assertEqual(len(list(self.state.iterdir())), 1)


class Writing(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_a_fault_at_any_step_leaves_the_old_file(self):
        path = self.folder / "a.txt"
        path.write_bytes(b"old")
        for name in ("os.fsync", "os.replace", "os.chmod", "pathlib.Path.open"):
            with (
                mock.patch(
                    f"garnetfin.project.disk.{name}" if name.startswith("os") else name,
                    side_effect=OSError(28, "No space left on device"),
                ),
                self.assertRaisesRegex(FileError, "a.txt could not be written: No space left"),
            ):
                write_whole(path, b"new")
            self.assertEqual(path.read_bytes(), b"old", name)
        with self.assertRaises(FileError):
            write_by(path, lambda out: (out.write(b"half"), (_ for _ in ()).throw(OSError(5, "Input/output error"))))
        self.assertEqual([p.name for p in self.folder.iterdir()], ["a.txt"])
        write_whole(path, b"new")
        self.assertEqual(path.read_bytes(), b"new")

    def test_parts_left_by_a_crash_go_and_one_in_work_stays(self):
        path = self.folder / "a.txt"
        stale, busy = (self.folder / f".a.txt.{x}{PART}" for x in ("00000000", "11111111"))
        stale.write_bytes(b"half")
        code = (
            "import sys, fcntl; f = open(sys.argv[1], 'wb'); fcntl.flock(f, fcntl.LOCK_EX); print('on', "
            "flush=True); sys.stdin.read()"
        )
        other = subprocess.Popen([sys.executable, "-c", code, str(busy)], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
        other.stdout.readline()
        clear_parts(path)
        self.assertEqual([p.name for p in self.folder.iterdir()], [busy.name])
        other.communicate()
        write_whole(path, b"new")
        self.assertEqual([p.name for p in self.folder.iterdir()], ["a.txt"])

    def test_a_link_leads_on_and_a_pipe_takes_the_data(self):
        target, link, pipe = self.folder / "t", self.folder / "l", self.folder / "p"
        target.write_bytes(b"old")
        link.symlink_to(target)
        write_whole(link, b"new")
        self.assertTrue(link.is_symlink())
        self.assertEqual(target.read_bytes(), b"new")
        os.mkfifo(pipe)
        reader = subprocess.Popen(["cat", str(pipe)], stdout=subprocess.PIPE)
        write_whole(pipe, b"through")
        self.assertEqual(reader.communicate()[0], b"through")
        with self.assertRaisesRegex(FileError, "there is a folder of that name"):
            write_whole(self.folder, b"")

    def test_names_stay_below_their_folder(self):
        for words, name in (
            ("Tern Point", "tern-point"),
            ("../../etc", "etc"),
            ("", "file"),
            (" . ", "file"),
            ("…", "file"),
            ("Büro 3", "büro-3"),
            (".hidden", "hidden"),
            ("a/b\\c", "a-b-c"),
            ("x" * 400, "x" * 80),
            ("con\0", "con"),
        ):
            self.assertEqual(file_name(words), name)
        for bad in ("../a", "/etc/passwd", "a/../../b", "..", "."):
            with self.assertRaises(FileError, msg=bad):
                below(self.folder, bad)
        (self.folder / "out").symlink_to("/tmp")
        with self.assertRaises(FileError):
            below(self.folder, "out/a")
        self.assertEqual(below(self.folder, "tables/a.csv"), self.folder / "tables" / "a.csv")


class OddSettings(WindowTest):
    open_example = False

    def test_a_stored_value_that_cannot_be_is_as_if_it_were_not_there(self):
        store = self.window.settings.store
        odd = (
            "0",
            "nan",
            "inf",
            "-1",
            "abc",
            "",
            "1e999",
            ["a", "b"],
            [],
            {"a": 1},
            QByteArray(b"\x00\xff"),
            "\0",
            2**62,
            "1" * 400,
            "x" * 100_000,
            [["a"]],
            None,
        )
        for value in odd:
            for name in FIELDS:
                store.setValue(
                    name.replace("_", " ") if not name.startswith("last_") else name.replace("_", "/"), value
                )
            store.sync()
            again = Stored(QSettings(store.fileName(), QSettings.Format.IniFormat))
            for name in FIELDS:
                found = again.get(name)
                self.assertIs(type(found), type(getattr(USUAL, name)), (name, value))
            self.assertTrue(0.5 <= again.get("scale") <= 3.0, value)
            self.assertIn(again.get("units"), ("SI", "IP"))
            self.assertEqual(again.recent, [], value)
            window = MainWindow(Session(), store)
            window.show_settings()
            window.fill_recent()
            self.assertIsNone(window.last_path())
            window.start_page.set_recent(window._recent_paths())
            window.close()

    def test_what_is_set_comes_back_typed(self):
        settings = self.window.settings
        for name, value in (
            ("scale", 1.25),
            ("dark", True),
            ("units", "IP"),
            ("recent", ("/a",)),
            ("last_show", ("Air", "s1", "G", "SI")),
            ("language", "de"),
            ("open_last", True),
        ):
            settings.set(name, value)
            settings.store.sync()
            self.assertEqual(Stored(QSettings(settings.store.fileName(), QSettings.Format.IniFormat)).get(name), value)
