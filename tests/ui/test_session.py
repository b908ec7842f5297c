"""Session and background work without a window."""

import threading
import time
import unittest

from garnetfin.core.errors import Cancelled
from garnetfin.project.edits.rooms import SetCeiling, SetRoomValue
from garnetfin.project.values import Pinned
from garnetfin.ui.app import make_app
from garnetfin.ui.bridge import Newest
from garnetfin.ui.session import Session
from tests.example import one_room


def spin(app, done, seconds: float = 240.0) -> bool:
    until = time.monotonic() + seconds
    while not done() and time.monotonic() < until:
        app.processEvents()
        time.sleep(0.001)
    return done()


class Background(unittest.TestCase):
    def setUp(self):
        self.app = make_app()

    def test_of_many_jobs_only_the_newest_is_delivered(self):
        gate, got = threading.Event(), []

        def work(job, stopped):
            gate.wait(5)
            for _ in range(50):
                if stopped():
                    raise Cancelled
            return job

        newest = Newest(work, "test")
        newest.ready.connect(got.append)
        for job in range(20):
            newest.submit(job)
            time.sleep(0.001)
        gate.set()
        self.assertTrue(spin(self.app, lambda: 19 in got and newest.idle))
        self.assertLessEqual(len(got), 2)
        newest.close()

    def test_a_fault_is_told_and_the_thread_goes_on(self):
        told, got = [], []

        def work(job, stopped):
            if job == "bad":
                raise KeyError("oops")
            return job

        newest = Newest(work, "test")
        newest.failed.connect(told.append)
        newest.ready.connect(got.append)
        with self.assertLogs("garnetfin.ui.bridge", "ERROR"):
            newest.submit("bad")
            self.assertTrue(spin(self.app, lambda: bool(told)))
        newest.submit("good")
        self.assertTrue(spin(self.app, lambda: got == ["good"]))
        newest.close()
        newest.close()


class Sessions(unittest.TestCase):
    def setUp(self):
        self.app = make_app()
        self.session = Session()
        self.addCleanup(self.session.close)
        self.session.start(one_room(), None)
        self.assertTrue(spin(self.app, lambda: self.session.settled))

    def test_edits_recompute_and_results_belong_to_the_project(self):
        self.session.do(SetCeiling(("r1",), 3.4))
        self.assertTrue(self.session.state.stale)
        self.assertTrue(spin(self.app, lambda: self.session.settled))
        self.assertIs(self.session.results.project, self.session.project)
        self.assertFalse(self.session.state.stale)

    def test_a_refused_edit_changes_nothing_and_says_why(self):
        told = []
        self.session.refused.connect(told.append)
        before = self.session.project
        self.assertIn("0.5 and 100", self.session.do(SetCeiling(("r1",), 0.0)))
        self.assertIs(self.session.project, before)
        self.assertEqual(len(told), 1)

    def test_twenty_quick_edits_end_at_the_last_one(self):
        for people in range(1, 21):
            self.session.do(SetRoomValue(("r1",), "people", Pinned(value=float(people))))
        self.assertTrue(spin(self.app, lambda: self.session.settled))
        self.assertEqual(self.session.results.room("r1").figures.people.figure, 20.0)
        for _ in range(20):
            self.session.undo()
        self.assertTrue(spin(self.app, lambda: self.session.settled))
        self.assertEqual(self.session.project, one_room())
