"""Rooms drawn, reshaped, moved and removed: walls, slabs and openings follow."""

import unittest

from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, FanResult, RoomResult
from garnetfin.engine.run import run
from garnetfin.project.derive import derive
from garnetfin.project.edits.duct_runs import DrawRun
from garnetfin.project.edits.outlines import AddRoom, MoveRooms, MoveSide, RemoveRooms, SetOutline, next_number
from garnetfin.project.edits.rooms import AddWindow, SetRoomValue
from garnetfin.project.lookup import find
from garnetfin.project.new import new_project
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned
from tests.example import by_number, station


def box(x: float, y: float, w: float, h: float):
    return (x, y), (x + w, y), (x + w, y + h), (x, y + h)


def two_storeys():
    """Two rooms below, one above that overhangs one of them and the yard."""
    project = AddRoom("L0", box(0, 0, 5, 4), system_id="ahu1").apply(new_project())
    project = AddRoom("L0", box(5, 0, 3, 4), system_id="ahu1").apply(project)
    return AddRoom("L1", box(3, 0, 7, 4), system_id="ahu1").apply(project)


def areas(project, kind: str) -> dict:
    return {(s.room_below, s.room_above): s.area_m2 for s in project.slabs if s.kind == kind}


def outside(project, room_id: str) -> float:
    return sum(w.length_m for w in project.walls if w.outside and w.room_a == room_id)


class Drawing(unittest.TestCase):
    def test_a_first_room_has_four_walls_a_roof_and_a_floor(self):
        project = AddRoom("L0", box(0, 0, 5, 4)).apply(new_project())
        check_links(project)
        self.assertEqual(len(project.walls), 4)
        self.assertEqual([s.kind for s in project.slabs], ["roof", "ground"])
        assert_allclose(areas(project, "ground")["", "n1"], 20)
        self.assertEqual((project.rooms[0].number, project.rooms[0].name), ("0.01", "Cellular office"))

    def test_a_second_room_shares_its_wall(self):
        project = two_storeys()
        check_links(project)
        shared = [w for w in project.walls if {w.room_a, w.room_b} == {"n1", "n2"}]
        self.assertEqual(len(shared), 1)
        assert_allclose(shared[0].length_m, 4)
        assert_allclose(outside(project, "n1"), 14)

    def test_floors_between_roofs_and_exposed_floors_follow_from_what_lies_above_and_below(self):
        project = two_storeys()
        self.assertEqual(areas(project, "between"), {("n1", "n3"): 8.0, ("n2", "n3"): 12.0})
        self.assertEqual(areas(project, "roof"), {("n1", ""): 12.0, ("n3", ""): 28.0})
        self.assertEqual(areas(project, "exposed"), {("", "n3"): 8.0})
        total = sum(areas(project, "ground").values())
        assert_allclose(total, 32)

    def test_what_is_drawn_is_computed(self):
        results = run(two_storeys(), Memo())
        self.assertTrue(all(isinstance(r, RoomResult) for r in results.rooms.values()))
        faces = [(f.kind, f.to) for f in results.room("n3").faces]
        self.assertIn(("floor", "outdoors"), faces)

    def test_numbers_count_on_by_level(self):
        project = two_storeys()
        self.assertEqual([r.number for r in project.rooms], ["0.01", "0.02", "1.01"])
        self.assertEqual(next_number(station(), station().levels[1]), "1.14")

    def test_bad_outlines_are_refused_with_the_reason(self):
        project = two_storeys()
        for outline, pattern in (
            (box(1, 1, 2, 2), "overlap room 0.01 Cellular office by 4.0 m²"),
            (((20.0, 0.0), (22.0, 2.0), (22.0, 0.0), (20.0, 2.0)), "crosses itself"),
            (box(20, 0, 0.2, 0.2), "too small"),
            (((20.0, 0.0), (22.0, 0.0), (20.0, 0.0)), "three corners"),
        ):
            with self.subTest(outline=outline):
                self.assertRaisesRegex(InputError, pattern, AddRoom("L0", outline).apply, project)

    def test_a_whole_building_from_nothing_to_a_fan(self):
        """New project, rooms, a window, a run from the unit: the chain computes to its end."""
        project = two_storeys()
        south = next(w for w in project.walls if w.room_a == "n1" and round(w.facing_deg) == 180)
        project = AddWindow(south.id, "G1", 2.0).apply(project)
        project = DrawRun("ahu1", "L0", ((10.0, 2.0, 2.9), (6.5, 2.0, 2.9)), "round", "branch", "n2").apply(project)
        project = DrawRun("ahu1", "L0", ((6.5, 2.0, 2.9), (2.5, 2.0, 2.9)), "round", "last", "n1").apply(project)
        check_links(project)
        self.assertEqual(project.air_systems[0].root_point_id, project.segments[0].a)
        results = run(project, Memo())
        self.assertIsInstance(results.ducts["ahu1"], DuctResult)
        self.assertIsInstance(results.fans["ahu1"], FanResult)
        self.assertIn("no-terminal", [f.code for f in results.findings])  # 1.01 has none yet


class Reshaping(unittest.TestCase):
    def test_a_pulled_side_moves_its_wall_with_its_windows(self):
        room = by_number(station(), "0.02")
        project = SetOutline(room.id, box(6.6, -1.0, 7.2, 7.0)).apply(station())
        check_links(project)
        wall = find(project.walls, "G-10")
        self.assertEqual((wall.start[1], [o.id for o in wall.openings]), (-1.0, ["W04", "W05", "W06"]))
        before = [o.at_m for o in find(station().walls, "G-10").openings]
        moved = [min(o.at_m, wall.length_m - o.at_m) for o in wall.openings]
        assert_allclose(sorted(moved), sorted(min(a, 7.2 - a) for a in before), atol=1e-6)
        assert_allclose(outside(project, room.id), 7.2 + 2)

    def test_deriving_anew_what_did_not_change_changes_nothing(self):
        for number in ("0.01", "0.06", "0.09", "1.03", "1.12"):
            room = by_number(station(), number)
            again = derive(station(), {room.id})
            self.assertEqual({w.id for w in again.walls}, {w.id for w in station().walls}, number)
            self.assertEqual(sum(len(w.openings) for w in again.walls), sum(len(w.openings) for w in station().walls))
            self.assertEqual(
                {(s.kind, s.room_below, s.room_above): round(s.area_m2, 3) for s in again.slabs},
                {(s.kind, s.room_below, s.room_above): round(s.area_m2, 3) for s in station().slabs},
            )

    def test_a_window_too_wide_for_its_shrunk_wall_refuses_the_edit(self):
        room = by_number(station(), "0.01")
        self.assertRaisesRegex(
            InputError, "W01 of 5.20 m no longer fits", SetOutline(room.id, box(-1.8, 3.0, 8.4, 3.0)).apply, station()
        )

    def test_a_shared_wall_moves_as_one(self):
        project = two_storeys()
        first = project.rooms[0]
        before = sum(area_of(r.outline) for r in project.rooms if r.level_id == first.level_id)
        side, beside = next(
            (i, other)
            for i in range(len(first.outline))
            for other in MoveSide(first.id, i, 0.0, 0.0).outlines(project)
            if other != first.id
        )
        (x0, y0), (x1, y1) = first.outline[side], first.outline[(side + 1) % len(first.outline)]
        shift = (0.3, 0.0) if abs(x1 - x0) < abs(y1 - y0) else (0.0, 0.3)
        moved = MoveSide(first.id, side, *shift).apply(project)
        check_links(moved)
        here = [r for r in moved.rooms if r.level_id == first.level_id]
        self.assertAlmostEqual(sum(area_of(r.outline) for r in here), before, 6)  # nothing lost between rooms
        self.assertNotEqual(find(moved.rooms, beside).outline, find(project.rooms, beside).outline)

        def between(p):
            return sum(w.length_m for w in p.walls if {w.room_a, w.room_b} == {first.id, beside})

        self.assertAlmostEqual(between(moved), between(project), 6)

    def test_a_wall_that_would_pass_the_one_across_is_refused(self):
        room = by_number(station(), "0.01")
        y = min(p[1] for p in room.outline)
        side = next(
            i
            for i, p in enumerate(room.outline)
            if p[1] == room.outline[(i + 1) % len(room.outline)][1] and p[1] > y  # the inner side
        )
        for shift in (-40.0, 40.0):
            with self.assertRaisesRegex(InputError, "pass the one across|overlap"):
                MoveSide(room.id, side, 0.0, shift).apply(station())
        with self.assertRaisesRegex(InputError, "has no side 40"):
            MoveSide(room.id, 40, 0.0, 1.0).apply(station())

    def test_an_unchanged_outline_is_no_edit(self):
        self.assertIs(MoveSide(by_number(station(), "0.01").id, 0, 0.0, 0.0).apply(station()), station())
        room = by_number(station(), "0.01")
        self.assertIs(SetOutline(room.id, room.outline).apply(station()), station())
        self.assertIs(MoveRooms((room.id,), 0.0, 0.0).apply(station()), station())

    def test_moving_keeps_pins_and_area(self):
        project = SetRoomValue(("n3",), "people", Pinned(value=9.0)).apply(two_storeys())
        moved = MoveRooms(("n3",), 0.0, 6.0).apply(project)
        check_links(moved)
        self.assertEqual(find(moved.rooms, "n3").people, Pinned(value=9.0))
        self.assertEqual(areas(moved, "between"), {})
        assert_allclose(areas(moved, "exposed")["", "n3"], 28)
        assert_allclose(areas(moved, "roof")["n1", ""], 20)

    def test_moving_into_another_room_is_refused(self):
        self.assertRaisesRegex(InputError, "overlap", MoveRooms(("n1",), 2.0, 0.0).apply, two_storeys())


class Removing(unittest.TestCase):
    def test_neighbours_get_their_outside_walls_and_roofs_back(self):
        project = RemoveRooms(("n2", "n3")).apply(two_storeys())
        check_links(project)
        assert_allclose(outside(project, "n1"), 18)
        self.assertEqual(areas(project, "roof"), {("n1", ""): 20.0})
        self.assertEqual(len(project.rooms), 1)

    def test_a_room_of_the_station_with_its_terminals(self):
        room = by_number(station(), "0.02")
        project = RemoveRooms((room.id,)).apply(station())
        check_links(project)
        self.assertEqual(len(project.terminals), 31)
        self.assertEqual(len(project.segments), len(station().segments))
        results = run(project, Memo())
        self.assertIsInstance(results.fans["ahu-north"], FanResult)

    def test_the_last_room(self):
        project = RemoveRooms(("n1", "n2", "n3")).apply(two_storeys())
        self.assertEqual((project.rooms, project.walls, project.slabs), ((), (), ()))


class NewProject(unittest.TestCase):
    def test_is_whole_and_says_what_is_missing(self):
        check_links(new_project())
        results = run(new_project(), Memo())
        self.assertEqual(results.blocks[""].reason, "no rooms")
        self.assertIn("invented", new_project().site.name)
