"""A large project file is read beside the window; it can be stopped, and what is in hand is asked about once."""

import tempfile
from pathlib import Path
from unittest import mock

from garnetfin.project.edits.rooms import SetRoomText
from garnetfin.project.store import save
from garnetfin.ui import opening
from garnetfin.ui.example import example_contents
from tests.example import one_room, station
from tests.ui.driver import WindowTest


class Large(WindowTest):
    open_example = False

    def setUp(self):
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path = self.folder / "large.gfin"
        save(station(), self.path, example_contents(station()))
        self.enterContext(mock.patch.object(opening, "AT_ONCE", 0))

    def said(self) -> str:
        return self.window.banner.sentence.words

    def test_it_opens_once_it_is_read(self):
        self.assertTrue(self.window.open(self.path))
        self.assertFalse(self.session.opened)
        self.assertIn("Reading large.gfin", self.said())
        self.wait()
        self.assertEqual(self.session.project, station())
        self.assertEqual(self.session.path, self.path)
        self.assertEqual(set(self.session.contents), {station().site.weather.content})
        self.assertFalse(self.session.unsaved)

    def test_stop_leaves_what_is_in_hand(self):
        self.session.start(one_room(), None)
        self.wait()
        self.window.open(self.path)
        self.window.banner._act(0)
        self.wait(lambda: not self.window.opener.busy)
        self.app.processEvents()
        self.assertEqual(self.session.project, one_room())
        self.assertFalse(self.window.banner.isVisibleTo(self.window))

    def test_a_broken_one_is_refused_in_a_sentence(self):
        self.path.write_bytes(self.path.read_bytes()[:-2000] + b"\0" * 2000)
        self.window.open(self.path)
        self.wait(lambda: "large.gfin is broken" in self.said())
        self.assertFalse(self.session.opened)

    def test_unsaved_edits_are_asked_about_once(self):
        self.session.start(one_room(), None)
        self.session.do(SetRoomText("r1", "name", "edited"))
        self.wait()
        self.assertFalse(self.window.open(self.path))
        self.assertIn("There are unsaved edits", self.said())
        self.window.banner._act(1)  # without them
        self.wait(lambda: self.session.path == self.path)
        self.wait()
        self.assertEqual(self.session.project, station())
