"""The program is killed in the middle of its work, again and again: every edit it told of comes back, and the file
opens.
"""

import os
import random
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from PySide6.QtTest import QTest

from garnetfin.core.errors import ChangedError, FileError
from garnetfin.project.edits.rooms import SetRoomText
from garnetfin.project.edits.underlays import AddUnderlay, RemoveUnderlay
from garnetfin.project.journal import beside, read
from garnetfin.project.store import load, save
from garnetfin.project.underlays import Underlay
from garnetfin.ui.app import make_app
from garnetfin.ui.crash_recovery import CrashRecovery
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session
from tests.example import one_room
from tests.ui.test_session import spin


class Killed(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path, self.journals = self.folder / "job.gfin", self.folder / "state"

    def kill_after(self, lines: int, seed: int, *more: str) -> int:
        """Number of the last edit that was told before the kill."""
        # Programs of ours that ran in this process before may have shut out the current folder.
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": str(Path(__file__).parents[2])}
        child = subprocess.Popen(
            [sys.executable, "-m", "tests.ui.crash_driver", str(self.path), str(self.journals), str(seed), *more],
            stdout=subprocess.PIPE,
            text=True,
            env=environment,
            cwd=Path(__file__).parents[2],
        )
        told = 0
        try:
            self.assertEqual(child.stdout.readline().strip(), "ready")
            for _ in range(lines):
                told = int(child.stdout.readline())
            child.send_signal(signal.SIGKILL)
            for line in child.stdout:  # what it told until the signal reached it
                if line.endswith("\n") and line.strip().isdigit():
                    told = int(line)
        finally:
            child.kill()
            child.wait(10)
            child.stdout.close()
        return told

    def test_every_edit_comes_back_however_often_it_is_killed(self):
        self.rounds([42, 43])

    def rounds(self, seeds: list[int]) -> None:
        save(one_room(), self.path)
        for round_, seed in enumerate(seeds):
            told = self.kill_after(random.Random(seed).randrange(1, 40), round_, *(("save",) if round_ % 2 else ()))
            self.assertEqual(load(self.path).rooms[0].id, "r1")  # the file itself always opens
            left, older = CrashRecovery(self.journals).left(self.path)
            self.assertIsNone(older)
            now = left.project if left is not None else load(self.path)
            self.assertGreaterEqual(int(now.rooms[0].name.removeprefix("Edit ")), told)
            # The next round opens the file with these edits, and its undo leads back before the crash.
        self.assertTrue(left is None or len(left.entries) > 1)

    def test_a_project_that_never_had_a_file_is_offered(self):
        told = self.kill_after(5, 1)
        found = CrashRecovery(self.journals).unsaved()
        self.assertEqual(len(found), 1)
        self.assertGreaterEqual(int(found[0].project.rooms[0].name.removeprefix("Edit ")), told)
        app = make_app()
        window = MainWindow(Session(journals=self.journals))
        self.addCleanup(lambda: (setattr(window.session, "_saved", window.session.project), window.close()))
        window.show()
        window.offer_unsaved()
        self.assertIn("was never saved", window.banner.sentence.words)
        window.banner._act(0)  # take it up
        self.assertTrue(spin(app, lambda: window.session.settled))
        self.assertEqual(window.session.project, found[0].project)
        self.assertTrue(window.session.unsaved)
        self.assertGreater(len(window.session._history.entries), 2)
        self.assertFalse(found[0].path.exists())  # it has a journal of its own now


class Kept(unittest.TestCase):
    """Two windows, changed files, folders that cannot be written."""

    def setUp(self):
        self.app = make_app()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path, self.journals = self.folder / "a.gfin", self.folder / "state"
        save(one_room(), self.path)

    def window(self) -> MainWindow:
        made = MainWindow(Session(journals=self.journals))
        made.show()
        self.addCleanup(
            lambda: (
                setattr(made.session, "_saved", made.session.project),
                setattr(made.session, "_saved_marks", tuple(made.session.marks.values())),
                made.close(),
            )
        )
        return made

    def name(self, window: MainWindow, name: str) -> None:
        self.assertEqual(window.session.do(SetRoomText("r1", "name", name)), "")

    def test_edits_left_beside_a_file_are_back_with_undo_and_can_be_left(self):
        first = self.window()
        first.open(self.path)
        self.name(first, "A")
        self.name(first, "B")
        first.session.keeping.journal._file.close()  # as a crash leaves it
        first.session.keeping.journal = None
        second = self.window()
        self.assertTrue(second.open(self.path))
        self.assertIn("2 edits", second.banner.sentence.words)
        self.assertEqual(second.session.project.rooms[0].name, "B")
        self.assertTrue(second.session.unsaved)
        second.session.undo()
        self.assertEqual(second.session.project.rooms[0].name, "A")
        self.assertEqual(read(beside(self.path)).project.rooms[0].name, "A")
        second.banner._act(1)  # the file as it was saved
        self.assertEqual(second.session.project, one_room())
        self.assertFalse(second.session.unsaved)

    def test_a_mark_alone_comes_back_too(self):
        first = self.window()
        first.open(self.path)
        first.session.keep_mark("before")
        first.session.keeping.journal._file.close()
        first.session.keeping.journal = None
        second = self.window()
        second.open(self.path)
        self.assertEqual(list(second.session.marks), ["before"])
        self.assertTrue(second.session.unsaved)
        second.save()
        self.assertFalse(second.session.unsaved)
        self.assertFalse(read(beside(self.path)).lost)

    def test_the_same_file_opened_again_is_no_copy(self):
        window = self.window()
        window.open(self.path)
        self.assertTrue(window.open(self.path))
        self.assertEqual(window.session.path, self.path)
        self.path.write_bytes(b"broken")
        self.assertFalse(window.open(self.path))
        self.assertTrue(beside(self.path).exists())  # what is in hand is kept on

    def test_contents_that_no_file_holds_are_in_the_journal(self):
        window = self.window()
        window.open(self.path)
        session, level = window.session, window.session.project.levels[0].id
        name = session.keep(b"drawing")
        session.do(AddUnderlay(Underlay(id="", name="plan.dxf", level_id=level, kind="lines", content=name, scale=1.0)))

        def kept(path: Path) -> dict:
            return read(beside(path)).contents

        self.assertEqual(kept(self.path), {name: b"drawing"})
        session.save()
        session.keep_anew()
        self.assertEqual(kept(self.path), {})  # the file holds it
        session.do(RemoveUnderlay(session.project.underlays[0].id))
        session.save()
        self.assertEqual(kept(self.path), {name: b"drawing"})  # the file no longer does, and an undo wants it
        other = self.folder / "b.gfin"
        session.save(other)
        self.assertEqual(kept(other), {name: b"drawing"})
        session.keeping.journal._file.close()  # as a crash leaves it
        session.keeping.journal = None
        second = self.window()
        second.open(other)
        second.session.undo()
        self.assertEqual(second.session.contents[second.session.project.underlays[0].content], b"drawing")

    def test_a_drawing_that_is_missing_from_its_file_is_no_fault_of_a_save(self):
        level = one_room().levels[0].id
        save(
            AddUnderlay(
                Underlay(id="", name="plan.dxf", level_id=level, kind="lines", content="0" * 32, scale=1.0)
            ).apply(one_room()),
            self.path,
        )
        window = self.window()
        window.open(self.path)
        window.session.save()
        window.session.do(RemoveUnderlay(window.session.project.underlays[0].id))
        window.session.save()
        self.assertFalse(window.session.unsaved)

    def test_a_second_window_gets_a_copy_and_says_so(self):
        first, second = self.window(), self.window()
        first.open(self.path)
        self.assertTrue(second.open(self.path))
        self.assertIn("open in another window", second.banner.sentence.words)
        self.assertIsNone(second.session.path)
        with self.assertRaisesRegex(FileError, "is open in another window"):
            second.session.save(self.path)
        self.name(first, "mine")
        first.session.save()
        self.assertEqual(load(self.path).rooms[0].name, "mine")

    def test_a_file_somebody_else_wrote_is_not_overwritten_unasked(self):
        window = self.window()
        window.open(self.path)
        self.name(window, "mine")
        save(one_room(name="theirs"), self.path)
        with self.assertRaises(ChangedError):
            window.session.save()
        self.assertFalse(window._save_to(self.path))
        self.assertIn("was changed by another program", window.banner.sentence.words)
        self.assertEqual(load(self.path).rooms[0].name, "theirs")
        window.banner._act(1)  # put mine in its place
        self.assertEqual(load(self.path).rooms[0].name, "mine")
        self.assertFalse(window.session.unsaved)

    def test_edits_to_a_file_that_changed_since_are_offered_beside_it(self):
        first = self.window()
        first.open(self.path)
        self.name(first, "lost")
        first.session.keeping.journal._file.close()
        first.session.keeping.journal = None
        save(one_room(name="theirs"), self.path)
        second = self.window()
        second.open(self.path)
        self.assertEqual(second.session.project.rooms[0].name, "theirs")
        self.assertIn("was changed after a crash left 1 edit", second.banner.sentence.words)
        second.banner._act(0)
        self.assertEqual(second.session.project.rooms[0].name, "lost")
        self.assertIsNone(second.session.path)

    def test_a_folder_that_cannot_be_written_keeps_edits_elsewhere(self):
        window = self.window()
        said = []
        window.session.refused.connect(said.append)
        real = Path.open

        def refuse(path, mode="r", *a, **k):
            if "w" in mode and path.parent == self.folder:
                raise PermissionError(13, "Permission denied")
            return real(path, mode, *a, **k)

        with mock.patch.object(Path, "open", refuse):
            window.open(self.path)
            self.name(window, "kept")
        self.assertTrue(any("cannot be written" in s and "your own folder" in s for s in said), said)
        self.assertFalse(beside(self.path).exists())
        window.session.keeping.journal._file.close()
        window.session.keeping.journal = None
        other = self.window()
        other.open(self.path)
        self.assertEqual(other.session.project.rooms[0].name, "kept")

    def test_a_full_disk_is_said_once_and_kept_again_when_there_is_room(self):
        window = self.window()
        window.open(self.path)
        said = []
        window.session.refused.connect(said.append)
        journal = window.session.keeping.journal
        with mock.patch.object(journal, "write", side_effect=OSError(28, "No space left on device")):
            self.name(window, "A")
            with mock.patch(
                "garnetfin.project.journal.Journal.begin", side_effect=OSError(28, "No space left on device")
            ):
                self.name(window, "B")
        self.assertEqual(sum("No space left" in s for s in said), 1)
        self.assertTrue(beside(self.path).exists())  # what was kept before stays until it can be kept anew
        self.assertEqual(window.session.project.rooms[0].name, "B")
        self.name(window, "C")
        self.assertEqual(read(beside(self.path)).project.rooms[0].name, "C")

    def test_a_folder_that_vanished_is_said_and_nothing_is_lost(self):
        inner = self.folder / "net"
        inner.mkdir()
        path = inner / "b.gfin"
        save(one_room(), path)
        window = self.window()
        window.open(path)
        self.name(window, "A")
        for file in inner.iterdir():
            file.unlink()
        inner.rmdir()
        self.name(window, "B")
        self.assertTrue(spin(self.app, lambda: "in your own folder" in window.banner.sentence.words, 120))
        self.assertEqual(read(window.session.keeping.journal.path).project.rooms[0].name, "B")
        self.assertFalse(inner.exists())
        self.name(window, "A")
        self.assertFalse(window.save())
        self.assertIn("could not be saved", window.banner.sentence.words)
        self.assertEqual(window.session.project.rooms[0].name, "A")
        self.assertTrue(window._save_to(self.folder / "c.gfin"))
        self.assertEqual(load(self.folder / "c.gfin").rooms[0].name, "A")

    def test_closed_in_order_nothing_is_left(self):
        window = self.window()
        window.open(self.path)
        self.name(window, "A")
        window.save()
        window.close()
        QTest.qWait(10)
        self.assertEqual(sorted(p.name for p in self.folder.iterdir() if p.name != "state"), ["a.gfin"])
        self.assertEqual(list(self.journals.iterdir()) if self.journals.exists() else [], [])
