"""The first pass: from a list with number, name, area and level to a system with a fan."""

import itertools
import unittest

from msgspec import structs

from garnetfin.core.errors import Cancelled
from garnetfin.engine.layout.all_airs import propose_level
from garnetfin.engine.layout.all_levels import propose_levels, riser
from garnetfin.engine.layout.auto_design import auto_design
from garnetfin.engine.layout.placing import placing, wanting
from garnetfin.engine.layout.routes import ask, propose
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.exchange.room_list import to_draft, understand
from garnetfin.exchange.tables import rows_of_text
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.ceilings import AddCeilingZone
from garnetfin.project.edits.duct_runs import RemoveDucts, SetSize
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.edits.lay_out import LayOutRooms
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.lookup import find
from garnetfin.project.new import new_project
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned

ROOMS = (("Office", 18), ("Office", 22), ("Meeting room", 36), ("Corridor", 40), ("Office", 24), ("Classroom", 55))


def listed(levels=("Ground", "Upper"), rooms=ROOMS):
    rows = ["number\tname\tarea\tlevel"] + [
        f"{n}.{i:02d}\t{name}\t{area}\t{level}"
        for n, level in enumerate(levels)
        for i, (name, area) in enumerate(rooms, 1)
    ]
    draft = to_draft(understand(rows_of_text("\n".join(rows)), "list"), new_project(), "L0")
    return TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(new_project())


class FromAList(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.before, cls.told = listed(), []
        cls.found = auto_design(cls.before, progress=lambda share, words: cls.told.append((share, words)))
        cls.after = cls.found.command.apply(cls.before)
        cls.results = run(cls.after, Memo())

    def test_every_room_has_air_on_ducts_that_a_fan_drives(self):
        check_links(self.after)
        self.assertEqual(self.found.missed, ())
        network = self.results.ducts["ahu1"]
        self.assertEqual({t.room_id for t in network.terminals}, {r.id for r in self.after.rooms})
        back = self.results.network("ahu1", "return")
        self.assertEqual(
            {t.room_id for t in back.terminals},
            {r.room_id for r in self.results.air["ahu1"].rooms if r.return_m3s > 0.002},
        )
        self.assertIsNotNone(self.results.fans["ahu1"].point)
        self.assertLess(self.results.real["ahu1"].spread, 0.01)
        self.assertNotIn("bad", [f.severity for f in self.results.findings])

    def test_loads_stay_the_early_estimates(self):
        before = run(self.before, Memo())
        for room in self.after.rooms:
            self.assertEqual(self.results.room(room.id).estimate is None, before.room(room.id).estimate is None)
            self.assertAlmostEqual(self.results.room(room.id).peak_w, before.room(room.id).peak_w, 6)

    def test_it_is_one_step_with_progress_and_every_assumption_named(self):
        self.assertEqual(self.found.command.label, "First design")
        shares = [s for s, _ in self.told]
        self.assertEqual(shares, sorted(shares))
        names = [what for what, _ in self.found.assumed]
        for wanted in (
            "Use of rooms",
            "Places of rooms",
            "Shaft",
            "Pattern",
            "Supply air",
            "Parts of the unit",
            "Terminals",
            "Duct sizes",
            "Dampers",
            "Fan",
            "Place and weather",
        ):
            self.assertIn(wanted, names)

    def test_run_again_it_changes_nothing(self):
        again = auto_design(self.after)
        self.assertIsNone(again.command)
        self.assertEqual(again.missed, ())

    def test_pins_stay_when_it_is_run_again(self):
        segment = self.results.ducts["ahu1"].terminals[0].segment_id
        size = PinnedSize(shape="round", width_m=0.2, height_m=0.2)
        room = self.after.rooms[0].id
        project = SetSize((segment,), size).apply(self.after)
        project = SetRoomValue((room,), "supply_m3s", Pinned(value=0.2)).apply(project)
        # Ducts of the upper level away: the pass lays them out anew, and them alone.
        upper = {p.id for p in project.duct_points if p.level_id == "L1"}
        gone = tuple(s.id for s in project.segments if s.air == "supply" and s.a in upper and s.b in upper)
        project = RemoveDucts(gone, ()).apply(project)
        again = auto_design(project)
        self.assertIsNotNone(again.command)
        made = again.command.apply(project)
        self.assertEqual(find(made.segments, segment).size, size)
        self.assertEqual(find(made.rooms, room).supply_m3s, Pinned(value=0.2))
        self.assertEqual({t.room_id for t in run(made, Memo()).ducts["ahu1"].terminals}, {r.id for r in made.rooms})

    def test_rooms_keep_the_place_they_were_given(self):
        self.assertIs(LayOutRooms(tuple(r.id for r in self.after.rooms)).apply(self.after), self.after)
        for level in ("L0", "L1"):
            boxes = [
                (
                    min(x for x, _ in r.outline),
                    min(y for _, y in r.outline),
                    max(x for x, _ in r.outline),
                    max(y for _, y in r.outline),
                )
                for r in self.after.rooms
                if r.level_id == level
            ]
            for i, a in enumerate(boxes):
                for b in boxes[:i]:
                    self.assertTrue(
                        a[2] <= b[0] + 1e-6 or b[2] <= a[0] + 1e-6 or a[3] <= b[1] + 1e-6 or b[3] <= a[1] + 1e-6
                    )


class Edges(unittest.TestCase):
    def test_stopped_it_takes_nothing(self):
        asked = []

        def stopped() -> bool:
            asked.append(1)
            return len(asked) > 4

        self.assertRaises(Cancelled, auto_design, listed(("Ground",)), "", lambda share, words: None, stopped)

    def test_without_rooms_it_says_so(self):
        found = auto_design(new_project())
        self.assertIsNone(found.command)
        self.assertRegex(found.missed[0], "There are no rooms")


class AirsTogether(unittest.TestCase):
    def test_every_air_of_a_level_has_its_own_height(self):
        before = listed(("Ground",), (*ROOMS, ("WC", 12), ("Kitchen", 30)))
        found = auto_design(before)
        self.assertEqual(found.missed, ())
        after = found.command.apply(before)
        results = run(after, Memo())
        self.one_above_the_other(results, ("supply", "return", "extract"))

    def one_above_the_other(self, results: Results, airs: tuple[str, ...]) -> None:
        """Level ducts of each air lie wholly above those of the next: the greatest flow has the top layer."""
        project = results.project
        points = {p.id: p for p in project.duct_points}
        edges = []
        for air in airs:
            network = results.network("ahu1", air)
            lying = [
                (points[s.a].z_m, network.segments[s.id].outer_height_m / 2)
                for s in project.segments
                if s.air == air and abs(points[s.a].z_m - points[s.b].z_m) < 0.01 and s.id in network.segments
            ]
            edges.append((min(z - half for z, half in lying), max(z + half for z, half in lying)))
        for above, below in itertools.pairwise(edges):
            self.assertGreater(above[0], below[1] - 1e-6)
        self.assertFalse([f for f in results.findings if f.code in ("crossing", "duct-height")])

    def test_airs_are_laid_anew_together_where_one_lay_in_the_middle(self):
        project = auto_design(listed(("Ground",))).command.apply(listed(("Ground",)))
        # supply alone, as it was laid before anyone thought of the return
        alone = tuple(t.id for t in project.terminals if t.air == "return")
        back = tuple(s.id for s in project.segments if s.air == "return")
        project = RemoveDucts(back, alone).apply(project)
        results = run(project, Memo())
        first = propose(results, ask(results, "ahu1", "supply", "L0"), mended=False)[0]
        results = run(first.command.apply(project), Memo())
        placed = placing(results, wanting(results, "ahu1", "return", "L0"), "return").command.apply(results.project)
        results = run(placed, Memo())
        found = propose_level(results, ask(results, "ahu1", "return", "L0"))
        together = next(p for p in found if p.kind == "together")
        self.assertIsNone(together.failure)
        self.assertEqual([n.air for n in together.others], ["supply"])
        taken = together.command.apply(placed)
        check_links(taken)
        after = run(taken, Memo())
        self.one_above_the_other(after, ("supply", "return"))
        self.assertAlmostEqual(after.network("ahu1", "return").runs.fan_pa, together.fan_pa, places=6)
        self.assertEqual(after.network("ahu1").unreached, ())


class AllLevels(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        before = listed(("Ground", "Upper", "Third"))
        laid = auto_design(before).command.apply(before)
        keep = tuple(s for s in laid.segments if s.air != "supply")
        cls.bare = structs.replace(laid, segments=keep)  # supply terminals of three levels on no duct
        cls.results = run(cls.bare, Memo())
        cls.found = propose_levels(cls.results, ask(cls.results, "ahu1", "supply", "L0"))

    def test_one_proposal_reaches_every_level_through_the_shaft(self):
        self.assertGreaterEqual(len(self.found), 2)
        for p in self.found:
            taken = p.command.apply(self.bare)
            check_links(taken)
            after = run(taken, Memo())
            network = after.network("ahu1")
            self.assertEqual((network.unreached, network.looped), ((), ()))
            self.assertEqual({t.room_id for t in network.terminals}, {r.id for r in taken.rooms})
            # flows are settled again with heat and leaks of these ducts: a size may step here and there
            self.assertAlmostEqual(network.flow_m3s / p.found.flow_m3s, 1.0, delta=0.02)
            alike = [network.segments[i].section == r.section for i, r in p.found.segments.items()]
            self.assertGreater(sum(alike) / len(alike), 0.9)
            points = {q.id: q for q in taken.duct_points}
            marks = [m for m in taken.plan_marks if m.kind == "shaft"]
            for s in taken.segments:
                a, b = points[s.a], points[s.b]
                if s.air == "supply" and a.level_id != b.level_id:
                    xs, ys = zip(*marks[0].outline)
                    self.assertTrue(min(xs) <= a.x_m <= max(xs) and min(ys) <= a.y_m <= max(ys))

    def test_a_riser_goes_to_the_shaft_that_stands_on_all_levels(self):
        system = self.bare.air_systems[0]
        root = find(self.bare.duct_points, system.root_of("supply"))
        away = structs.replace(root, x_m=root.x_m + 6.0, y_m=root.y_m + 1.0)
        moved = structs.replace(
            self.bare, duct_points=tuple(away if p.id == root.id else p for p in self.bare.duct_points)
        )
        (run_,) = riser(moved, "ahu1", "supply", self.bare.levels)
        xs, ys = zip(*next(m for m in self.bare.plan_marks if m.kind == "shaft").outline)
        middle = round((min(xs) + max(xs)) / 2, 3), round((min(ys) + max(ys)) / 2, 3)
        self.assertEqual(run_.points[0], (away.x_m, away.y_m, away.z_m))
        self.assertEqual([p[:2] for p in run_.points[2:]], [middle] * 3)  # at the shaft, then a node on each level
        self.assertEqual(len({p[2] for p in run_.points[2:]}), 3)
        # where the shaft ends below the top it is no way up
        short = structs.replace(
            moved, plan_marks=tuple(m for m in moved.plan_marks if m.level_id != self.bare.levels[-1].id)
        )
        (straight,) = riser(short, "ahu1", "supply", self.bare.levels)
        self.assertEqual({p[:2] for p in straight.points}, {(away.x_m, away.y_m)})

    def test_a_level_that_cannot_be_reached_is_named(self):
        upper = self.bare.levels[1]
        low = AddCeilingZone(upper.id, ((-50.0, -50.0), (80.0, -50.0), (80.0, 50.0), (-50.0, 50.0)), 3.0, 3.04)
        results = run(low.apply(self.bare), Memo())
        (failed,) = propose_levels(results, ask(results, "ahu1", "supply", "L0"))
        self.assertIn(f"{upper.name}: ", failed.failure.reason)
        self.assertIsNone(failed.command)
