"""What each kind of edit computes anew, in a building of 60 rooms and four air systems: work is counted, not time."""

import unittest

import numpy as np
from msgspec import structs

from garnetfin.engine.memo import Memo, alike, key, weight
from garnetfin.engine.run import run
from garnetfin.engine.slices import duct_parts
from garnetfin.project.edits.duct_runs import MovePoint
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.values import Pinned
from tests.edits_of_the_day import Counted, kinds
from tests.rows_of_rooms import building

ROUNDS = 6  # of an air system, at most
SYSTEM = {
    "chain": 1,
    "sizes": ROUNDS,
    "air along ducts": ROUNDS,
    "ducts": 1,
    "duct heat": 1,
    # once more with the drops of its coils, and of the boxes that its rooms ask for
    "fans": 2,
    "train": 2,
    "boxes": 2 * ROUNDS,
    "air with boxes": ROUNDS,
    "coil": 4,
    "valve": 2,
    "unit sheet": 1,
    "silencer": 1,
    "machines": 2,
    "box places": 1,
    "flows": 1,
    "noise": 1,
    "clashes": 1,
    "air findings": 1,
    "duct findings": 1,
}
AIR = SYSTEM | {"air": ROUNDS, "air of a room": 15 * ROUNDS, "terminals of a system": 1, "terminals of a room": 15}
ROOM = AIR | {"loads": 1, "block": 2, "share of a block": 2, "room findings": 1, "closed": 1}
DRAWN = AIR | {"duct layout": 1, "duct places": 1, "near ducts": 1, "drawn findings": 1, "clearance": 1}
# Kind of edit: rows of each stage that it may compute anew; of all other stages none.
MOST = {
    "people of a room": ROOM,
    "width of a window": ROOM | {"window": 1},
    "an inside wall": ROOM | {"loads": 2, "closed": 2},
    "name of a level": {"drawn findings": 1},
    # four outside walls turn a little: shadows of those rooms, and where ducts of the level run
    "corner of a room": ROOM
    | {"loads": 10, "closed": 10, "in front": 10, "window": 1, "share of a block": 3, "building": 1, "edge": 1}
    | {"duct places": 4, "room findings": 4, "air findings": 4, "drawn findings": 1},
    "end of a duct": DRAWN,
    "pinned size": DRAWN,
    "share of a terminal": DRAWN,
    "name of a room": {"loads": 1, "room findings": 1, "air findings": 4, "drawn findings": 1},
    "bypass of a coil": {"chain": 1, "fans": 2, "train": 2, "flows": 1, "noise": 1, "air findings": 1}
    | {"boxes": 2 * ROUNDS, "coil": 2, "valve": 1, "unit sheet": 1, "silencer": 1, "machines": 1},
}


class Work(unittest.TestCase):
    def test_every_kind_of_edit_computes_what_it_reaches(self):
        project, memo = building(3, 5, 4), Counted()
        run(project, memo)
        for name, most in MOST.items():
            made = kinds(project)[name]
            for k in range(3):
                project = made(project, k).apply(project)
                memo.by_stage.clear()
                run(project, memo)
            counts = {stage: n for stage, n in memo.by_stage.items() if n}  # of the third such edit
            self.assertTrue(counts, f"{name} reaches nothing")
            over = {stage: n for stage, n in counts.items() if n > most.get(stage, 0)}
            self.assertEqual(over, {}, name)

    def test_an_edit_taken_back_computes_nothing(self):
        project, memo = building(3, 5, 4), Memo()
        run(project, memo)
        edited = SetRoomValue((project.rooms[7].id,), "people", Pinned(value=9.0)).apply(project)
        self.assertGreater(run(edited, memo).recomputed, 0)
        self.assertEqual(run(project, memo).recomputed, 0)


class Slices(unittest.TestCase):
    def test_ducts_of_other_systems_leave_a_slice_the_very_one(self):
        project = building(2, 3, 2)
        one, two = (s.id for s in project.air_systems)
        before = duct_parts(project, one, "supply")
        point = next(p for p in project.duct_points if p.id in {s.a for s in project.segments if s.system_id == two})
        moved = MovePoint(point.id, point.x_m + 0.1, point.y_m, point.z_m).apply(project)
        after = duct_parts(moved, one, "supply")
        for part in ("segments", "points", "terminals", "zones", "obstacles"):
            self.assertIs(getattr(before, part), getattr(after, part), part)
        self.assertEqual(before.key, after.key)
        self.assertNotEqual(duct_parts(project, two, "supply").key, duct_parts(moved, two, "supply").key)
        self.assertIsNone(duct_parts(project, one, "return"))

    def test_terminals_of_a_system_are_those_on_its_ducts_and_in_its_rooms(self):
        project = building(2, 3, 2)
        one, two = (s.id for s in project.air_systems)
        loose = structs.replace(project.terminals[0], id="loose", label="loose", point_id="nowhere")
        point = structs.replace(project.duct_points[0], id="nowhere", x_m=500.0)
        more = structs.replace(
            project, terminals=(*project.terminals, loose), duct_points=(*project.duct_points, point)
        )
        self.assertIn(loose, duct_parts(more, one, "supply").terminals)  # its room is served by that system
        self.assertNotIn(loose, duct_parts(more, two, "supply").terminals)
        self.assertEqual(run(more, Memo()).ducts[one].unreached, ("loose",))


class Remembered(unittest.TestCase):
    def test_what_was_not_used_of_late_leaves_once_there_is_much(self):
        memo = Memo(most_bytes=100_000)
        memo.one("s", key("kept"), lambda: np.zeros(10))
        for k in range(50):
            memo.turn()
            memo.one("s", key("kept"), lambda: self.fail("it was used in every run"))
            memo.one("s", key(k), lambda: np.zeros(1000))
        memo.turn()
        self.assertLess(memo.held_bytes, 130_000)
        self.assertGreater(memo.held_bytes, 70_000)
        computed = memo.computed
        memo.one("s", key(49), lambda: self.fail("the last is there"))
        memo.one("s", key(0), lambda: np.zeros(1000))
        self.assertEqual(memo.computed, computed + 1)

    def test_what_one_run_uses_stays_however_much_it_is(self):
        memo, many = Memo(most_bytes=1000), [key(i) for i in range(200)]
        for _ in range(3):
            memo.turn()
            memo.rows("s", many, lambda stale: [np.zeros(100) for _ in stale])
        self.assertEqual(memo.computed, 200)

    def test_memory_of_many_edits_is_bounded(self):
        project, memo = building(2, 4, 2), Memo(most_bytes=2_000_000)
        run(project, memo)
        held = []
        for k in range(25):
            room = project.rooms[k % len(project.rooms)].id
            project = SetRoomValue((room,), "people", Pinned(value=2.0 + k)).apply(project)
            run(project, memo)
            held.append(memo.held_bytes)
        self.assertLess(max(held[12:]), 1.25 * max(held[:12]))

    def test_weights_are_about_the_bytes(self):
        self.assertAlmostEqual(weight(np.zeros(1000)) / 8000, 1.0, delta=0.05)
        self.assertAlmostEqual(weight((np.zeros(1000),) * 40) / 320_000, 1.0, delta=0.1)

    def test_what_comes_out_the_same_is_the_very_part_of_before(self):
        memo = Memo()
        first = (np.array([1.0, np.nan]), {"a": (1, "b")}, float("nan"))
        same = (np.array([1.0, np.nan]), {"a": (1, "b")}, float("nan"))
        other = (np.array([1.0, 2.0]), {"a": (1, "b")}, float("nan"))
        self.assertIs(memo.again(("x",), first), first)
        self.assertIs(memo.again(("x",), same), first)
        self.assertIs(memo.again(("x",), other), other)
        self.assertFalse(alike(np.zeros(3), np.zeros(4)) or alike((1,), [1]) or alike({"a": 1}, {"b": 1}))


if __name__ == "__main__":
    unittest.main()
