"""Several spigots of one unit: one plenum, each tree of ducts as if it were alone, the greatest run for the fan."""

import tempfile
import unittest
from pathlib import Path

from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.engine.layout.all_airs import propose_level
from garnetfin.engine.layout.routes import ask
from garnetfin.engine.layout.spigots import groups
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.project.edits.duct_runs import AddSpigot, DrawRun, RemoveDucts
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import SetSystemChoice
from garnetfin.project.lookup import find
from garnetfin.project.spaces import PlanMark
from garnetfin.project.store import load, save
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned
from tests.example import one_room

Z = 2.6
SHORT = ((2.5, 8.0), (2.5, 4.0))
LONG = ((3.5, 8.0), (9.5, 8.0), (9.5, 2.0))


def bare() -> Project:
    """One room with 0.4 m3/s that leaks nothing, and no duct."""
    project = SetRoomValue(("r1",), "supply_m3s", Pinned(value=0.4)).apply(one_room())
    project = structs.replace(project, segments=(), terminals=(), duct_points=())
    project = structs.replace(
        project, air_systems=tuple(structs.replace(s, root_point_id="") for s in project.air_systems)
    )
    return SetSystemChoice("a", "leakage", "typed").apply(project)


def drawn(project: Project, points) -> Project:
    return DrawRun("a", "G", tuple((x, y, Z) for x, y in points), terminal_room="r1").apply(project)


def two() -> Project:
    """Two runs beside each other, the second from a spigot of its own."""
    project = drawn(drawn(bare(), SHORT), LONG)
    second = next(p.id for p in project.duct_points if (p.x_m, p.y_m) == LONG[0])
    return AddSpigot("a", "supply", second).apply(project)


def alone(points) -> Results:
    """One of them with half of the air."""
    return run(drawn(SetRoomValue(("r1",), "supply_m3s", Pinned(value=0.2)).apply(bare()), points), Memo())


class OnePlenum(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.project = two()
        check_links(cls.project)
        cls.results = run(cls.project, Memo())
        cls.found = cls.results.ducts["a"]

    def test_each_tree_is_what_it_is_alone(self):
        self.assertEqual(self.found.unreached, ())
        runs = {}
        for points in (SHORT, LONG):
            single = alone(points).ducts["a"]
            runs[points] = single.runs.fan_pa
            mine = [r for r in self.found.segments.values()]
            for other in single.segments.values():
                same = [r for r in mine if abs(r.length_m - other.length_m) < 1e-6 and r.section == other.section]
                assert_allclose(min(abs(r.loss_pa - other.loss_pa) for r in same), 0.0, atol=1e-6)
        # the fan gives what the greater of them needs, the other has the rest to spare
        assert_allclose(self.found.runs.fan_pa, max(runs.values()), rtol=1e-9)
        spare = [t.surplus_pa for t in self.found.terminals]
        assert_allclose(sorted(spare), (0.0, max(runs.values()) - min(runs.values())), atol=1e-6)
        assert_allclose(self.found.flow_m3s, 0.4)

    def test_the_network_gives_the_design_flows_back(self):
        flows = self.results.real["a"]
        for t in self.found.terminals:
            self.assertAlmostEqual(flows.terminals[t.terminal_id] / t.flow_m3s, 1.0, delta=2e-3)

    def test_without_it_the_second_run_is_not_joined_and_the_mend_begins_it(self):
        project = drawn(drawn(bare(), SHORT), LONG)
        (f,) = [f for f in run(project, Memo()).findings if f.code == "not-joined"]
        mended = f.mends[0].command.apply(project)
        self.assertEqual(mended.air_systems[0].spigots, self.project.air_systems[0].spigots)
        self.assertEqual([f for f in run(mended, Memo()).findings if f.code == "not-joined"], [])
        # far from the unit no spigot is meant
        far = drawn(drawn(bare(), SHORT), ((9.0, 8.0), (9.5, 2.0)))
        (f,) = [f for f in run(far, Memo()).findings if f.code == "not-joined"]
        self.assertEqual(f.mends, ())

    def test_drawn_on_the_unit_it_begins_there(self):
        project = structs.replace(
            bare(),
            plan_marks=(
                PlanMark(id="U", kind="unit", level_id="G", outline=((2.0, 7.5), (4.0, 7.5), (4.0, 8.5), (2.0, 8.5))),
            ),
        )
        project = drawn(drawn(project, SHORT), LONG)
        self.assertEqual(len(project.air_systems[0].spigots), 1)
        self.assertEqual(run(project, Memo()).ducts["a"].unreached, ())
        # a run that joins the first one needs none
        project = drawn(project, ((2.5, 6.0), (5.0, 6.0)))
        self.assertEqual(len(project.air_systems[0].spigots), 1)

    def test_it_goes_with_its_last_duct_and_comes_back_from_a_file(self):
        with tempfile.TemporaryDirectory() as folder:
            save(self.project, Path(folder) / "two.gfin")
            again = load(Path(folder) / "two.gfin")
        self.assertEqual(again.air_systems[0].spigots, self.project.air_systems[0].spigots)
        second = self.project.air_systems[0].spigots[0].point_id
        gone = tuple(s.id for s in self.project.segments if find(self.project.duct_points, s.a).y_m > 7.9)
        away = RemoveDucts(tuple(i for i in gone if i != self.project.segments[0].id)).apply(self.project)
        self.assertNotIn(second, away.air_systems[0].roots)
        check_links(away)


class Proposed(unittest.TestCase):
    def test_terminals_are_shared_and_both_trunks_laid(self):
        hall = ((0.0, 0.0), (12.0, 0.0), (12.0, 9.0), (0.0, 9.0))
        project = two()
        project = structs.replace(project, rooms=tuple(structs.replace(r, outline=hall) for r in project.rooms))
        for x in (1.0, 4.0, 6.0, 8.0):
            project = drawn(project, ((2.5, 4.0), (x, 3.0)))
        results = run(project, Memo())
        asked = ask(results, "a", "supply", "G")
        roots = [find(project.duct_points, i) for i in project.air_systems[0].roots_of("supply")]
        one, other = groups(results, asked, roots)
        self.assertEqual(sorted((*one, *other)), sorted(asked.terminal_ids))
        share = len(one) / len(asked.terminal_ids)  # all have the same flow
        self.assertTrue(0.35 <= share <= 0.65)
        found = [p for p in propose_level(results, asked) if p.kind == "spigots"]
        self.assertEqual(len(found), 1)
        self.assertIsNone(found[0].failure)
        taken = found[0].command.apply(project)
        check_links(taken)
        after = run(taken, Memo()).ducts["a"]
        self.assertEqual(after.unreached, ())
        begun = {p for s in taken.segments for p in (s.a, s.b)} & set(taken.air_systems[0].roots_of("supply"))
        self.assertEqual(len(begun), 2)  # ducts begin at both
