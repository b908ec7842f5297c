"""Session and background work without a window."""

import threading
import time
import unittest
from unittest import mock

from garnetfin.core.errors import Cancelled
from garnetfin.engine import run as engine
from garnetfin.project.edits.outlines import AddRoom
from garnetfin.project.edits.rooms import SetCeiling, SetRoomValue
from garnetfin.project.values import Pinned
from garnetfin.ui.app import make_app
from garnetfin.ui.bridge import Newest
from garnetfin.ui.session import Session
from garnetfin.ui.view_models.chain import chain
from tests.example import one_room


def spin(app, done, seconds: float = 240.0) -> bool:
    until = time.monotonic() + seconds
    while not done() and time.monotonic() < until:
        app.processEvents()
        time.sleep(0.001)
    return done()


class InSteps(unittest.TestCase):
    """Loads are shown as soon as they are known, while air, ducts and fans are those of the project before."""

    def setUp(self):
        self.app, self.gate, self.reached = make_app(), threading.Event(), threading.Event()
        self.session = Session()
        self.addCleanup(self.session.close)
        self.addCleanup(self.gate.set)
        self.session.start(one_room(), None)
        self.assertTrue(spin(self.app, lambda: self.session.settled))
        self.before = self.session.results
        self.session.set_show(link="Loads")
        real = engine.chain

        def waiting(*arguments):
            self.reached.set()
            self.gate.wait(60)
            return real(*arguments)

        patch = mock.patch.object(engine, "chain", waiting)
        patch.start()
        self.addCleanup(patch.stop)

    def early(self) -> bool:
        return self.session.state.project is self.session.project

    def never_early(self) -> bool:
        """The engine is at the air, and what it had to tell before has arrived."""
        self.assertTrue(spin(self.app, self.reached.is_set))
        self.app.processEvents()
        return not self.early()

    def test_loads_come_first_and_the_chain_says_what_still_stands(self):
        self.session.do(SetRoomValue(("r1",), "people", Pinned(value=9.0)))
        self.assertTrue(spin(self.app, self.early))
        state = self.session.state
        self.assertTrue(state.stale)
        self.assertGreater(state.results.blocks[""].peak_w, self.before.blocks[""].peak_w)
        self.assertIs(state.results.air, self.before.air)
        self.assertEqual([x.name for x in chain(state, 0).links if not x.stale], ["Climate", "Building", "Loads"])
        self.gate.set()
        self.assertTrue(spin(self.app, lambda: self.session.settled))
        self.assertIsNot(self.session.results.air["a"], self.before.air["a"])
        self.assertIs(self.session.state.found, self.session.results)
        self.assertFalse(any(x.stale for x in chain(self.session.state, 0).links))

    def test_where_parts_came_or_went_nothing_is_mixed(self):
        self.session.do(AddRoom("G", ((20.0, 0.0), (24.0, 0.0), (24.0, 4.0), (20.0, 4.0))))
        self.assertTrue(self.never_early())
        self.gate.set()
        self.assertTrue(spin(self.app, lambda: self.session.settled))

    def test_other_links_wait_for_all(self):
        self.session.set_show(link="Ducts")
        self.session.do(SetRoomValue(("r1",), "people", Pinned(value=9.0)))
        self.assertTrue(self.never_early())
        self.session.set_show(link="Building")
        self.assertTrue(self.early())


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
