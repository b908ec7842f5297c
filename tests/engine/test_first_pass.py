"""The first pass: from a list with number, name, area and level to a system with a fan."""

import itertools
import unittest

from garnetfin.core.errors import Cancelled
from garnetfin.engine.layout.all_airs import propose_level
from garnetfin.engine.layout.auto_design import auto_design
from garnetfin.engine.layout.placing import placing, wanting
from garnetfin.engine.layout.routes import ask, propose
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.exchange.room_list import to_draft, understand
from garnetfin.exchange.tables import rows_of_text
from garnetfin.project.ducts import PinnedSize
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
        self.assertEqual(self.found.command.label, "First pass")
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
