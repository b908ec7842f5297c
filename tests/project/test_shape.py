"""Rooms made from rooms: split, merge, copy, mirror, number; levels, zones, openings in rows."""

import unittest

from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.project.edits.groups import (
    AddLevel,
    AddZone,
    CopyLevel,
    RemoveLevel,
    RemoveZone,
    RenameZone,
    SetLevel,
    SetNorth,
    SetRoomLevel,
    SetZone,
    SetZoneValue,
)
from garnetfin.project.edits.openings import AddOpening, CopyOpenings, MoveOpening, RepeatOpening, SetSlab, SetWall
from garnetfin.project.edits.outlines import AddRoom, MoveRooms
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.shape import CopyRooms, MergeRooms, MirrorRooms, NumberRooms, SplitRoom
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.new import new_project
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import by_number, station


def box(x0, y0, x1, y1):
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def house():
    """Two rooms beside each other on the ground, a south window in the first."""
    project = new_project()
    for outline in (box(0, 0, 6, 4), box(6, 0, 10, 4)):
        project = AddRoom("L0", outline, system_id="ahu1").apply(project)
    south = next(w for w in walls_of(project.walls, "n1") if w.outside and abs(w.facing_deg - 180) < 1)
    return AddOpening(south.id, "window", 1.5).apply(project)


def outside_m2(project) -> float:
    return sum(w.length_m * w.height_m for w in project.walls if w.outside)


def glass_m2(project) -> float:
    return sum(o.area_m2 for w in project.walls for o in w.openings if o.glazing_id)


class Split(unittest.TestCase):
    def test_areas_outside_walls_and_windows_are_kept(self):
        before = house()
        after = SplitRoom("n1", ((3.5, 0.0), (3.5, 4.0))).apply(before)
        check_links(after)
        self.assertEqual(len(after.rooms), 3)
        assert_allclose(sorted(area_of(r.outline) for r in after.rooms), [10, 14, 16])
        assert_allclose((outside_m2(after), glass_m2(after)), (outside_m2(before), glass_m2(before)), rtol=1e-9)
        self.assertTrue(any({w.room_a, w.room_b} == {"n1", "n3"} for w in after.walls))

    def test_the_window_goes_to_the_piece_whose_wall_holds_it(self):
        after = SplitRoom("n1", ((2.5, 0.0), (2.5, 4.0))).apply(house())
        holder = next(w.room_a for w in after.walls if w.openings)
        self.assertEqual({x for x, _ in find(after.rooms, holder).outline}, {0.0, 2.5})

    def test_amounts_stay_with_the_first_piece_and_set_points_go_to_all(self):
        project = SetRoomValue(("n1",), "people", Pinned(value=5)).apply(house())
        project = SetRoomValue(("n1",), "cooling_c", Pinned(value=22)).apply(project)
        after = SplitRoom("n1", ((3.5, -1.0), (3.5, 5.0))).apply(project)
        self.assertEqual([find(after.rooms, i).people for i in ("n1", "n3")], [Pinned(value=5), Rule()])
        self.assertEqual(find(after.rooms, "n3").cooling_c, Pinned(value=22))

    def test_a_line_that_divides_nothing_is_refused(self):
        self.assertRaisesRegex(
            InputError, "does not divide.*wall to wall", SplitRoom("n1", ((1, 1), (2, 2))).apply, house()
        )
        self.assertRaisesRegex(InputError, "two points", SplitRoom("n1", ((1, 1), (1, 1))).apply, house())

    def test_terminals_go_to_the_piece_they_stand_in(self):
        hall = by_number(station(), "0.06")
        x0, y0, x1, y1 = (
            min(x for x, _ in hall.outline),
            min(y for _, y in hall.outline),
            max(x for x, _ in hall.outline),
            max(y for _, y in hall.outline),
        )
        after = SplitRoom(hall.id, (((x0 + x1) / 2, y0), ((x0 + x1) / 2, y1))).apply(station())
        check_links(after)
        rooms = {
            t.room_id for t in after.terminals if t.id in {u.id for u in station().terminals if u.room_id == hall.id}
        }
        self.assertEqual(len(rooms), 2)


class Merge(unittest.TestCase):
    def test_merging_what_was_split_gives_the_room_back(self):
        before = house()
        after = MergeRooms(("n1", "n3")).apply(SplitRoom("n1", ((3.5, 0.0), (3.5, 4.0))).apply(before))
        self.assertEqual(set(find(after.rooms, "n1").outline), set(find(before.rooms, "n1").outline))
        assert_allclose((outside_m2(after), glass_m2(after)), (outside_m2(before), glass_m2(before)), rtol=1e-9)
        check_links(after)

    def test_pinned_amounts_add_up_and_others_follow_the_rule(self):
        project = house()
        for i, n in (("n1", 3), ("n2", 4)):
            project = SetRoomValue((i,), "people", Pinned(value=n)).apply(project)
        self.assertEqual(MergeRooms(("n1", "n2")).apply(project).rooms[0].people.value, 7)
        self.assertEqual(MergeRooms(("n1", "n2")).apply(house()).rooms[0].people, Rule())

    def test_rooms_apart_or_on_two_levels_are_refused(self):
        far = AddRoom("L0", box(20, 0, 24, 4)).apply(house())
        self.assertRaisesRegex(InputError, "do not touch", MergeRooms(("n1", "n3")).apply, far)
        up = AddRoom("L1", box(0, 0, 6, 4)).apply(house())
        self.assertRaisesRegex(InputError, "different levels", MergeRooms(("n1", "n3")).apply, up)
        self.assertRaisesRegex(InputError, "two rooms", MergeRooms(("n1",)).apply, up)


class Copies(unittest.TestCase):
    def test_a_row_of_copies_keeps_windows_and_inputs(self):
        project = SetRoomValue(("n1",), "people", Pinned(value=2)).apply(house())
        after = CopyRooms(("n1",), dy_m=-4.0, count=3).apply(project)
        check_links(after)
        copies = after.rooms[2:]
        self.assertEqual([r.people for r in copies], [Pinned(value=2)] * 3)
        self.assertEqual(len({r.number for r in after.rooms}), 5)
        # Only the last copy's south wall is outdoors, so only there a window can stand besides the first room's own,
        # now inside.
        self.assertEqual([w.room_a for w in after.walls if w.openings], [copies[-1].id])

    def test_a_mirrored_copy_has_its_window_at_the_mirrored_place(self):
        after = CopyRooms(("n1",), dx_m=-6.0, mirror="x").apply(house())
        wall = next(w for w in after.walls if w.openings and w.room_a == "n3")
        x = wall.start[0] + wall.openings[0].at_m * (wall.end[0] - wall.start[0]) / wall.length_m
        assert_allclose(x, -1.5, atol=1e-6)  # 1.5 m from the common wall at x 0, as before

    def test_mirroring_twice_is_where_it_began(self):
        before = house()
        once = MirrorRooms(("n1", "n2"), "x").apply(before)
        assert_allclose(glass_m2(once), glass_m2(before))
        self.assertNotEqual(once.rooms[0].outline, before.rooms[0].outline)
        twice = MirrorRooms(("n1", "n2"), "x").apply(once)
        self.assertEqual({frozenset(r.outline) for r in twice.rooms}, {frozenset(r.outline) for r in before.rooms})
        wall = next(w for w in twice.walls if w.openings)
        x = wall.start[0] + wall.openings[0].at_m * (wall.end[0] - wall.start[0]) / wall.length_m
        assert_allclose(x, 1.5, atol=1e-6)

    def test_a_level_is_copied_with_its_windows_and_floors_between(self):
        after = CopyLevel("L0", "L1").apply(house())
        self.assertEqual(sum(r.level_id == "L1" for r in after.rooms), 2)
        assert_allclose(glass_m2(after), 2 * glass_m2(house()))
        between = [s for s in after.slabs if s.kind == "between"]
        assert_allclose(sorted(s.area_m2 for s in between), [16, 24])
        self.assertEqual({s.room_below for s in after.slabs if s.kind == "roof"}, {"n3", "n4"})
        check_links(after)

    def test_copies_onto_rooms_that_are_there_are_refused(self):
        self.assertRaisesRegex(InputError, "overlap", CopyRooms(("n1",), dx_m=1.0).apply, house())
        self.assertRaisesRegex(InputError, "onto itself", CopyLevel("L0", "L0").apply, house())

    def test_numbers_count_up_and_keep_their_width(self):
        after = NumberRooms(("n2", "n1"), "B-098").apply(house())
        self.assertEqual([r.number for r in after.rooms], ["B-099", "B-098"])
        self.assertEqual(NumberRooms(("n1",), "7a").apply(house()).rooms[0].number, "7a")
        self.assertRaisesRegex(InputError, "no figure", NumberRooms(("n1",), "A").apply, house())


class Levels(unittest.TestCase):
    def test_levels_are_added_above_and_below_and_only_empty_ones_go(self):
        project = AddLevel(below=True).apply(AddLevel().apply(house()))
        assert_allclose([x.elevation_m for x in project.levels], [-3.4, 0, 3.4, 6.8])
        left = RemoveLevel(project.levels[0].id).apply(project)
        self.assertEqual(len(left.levels), 3)
        self.assertRaisesRegex(InputError, "still holds rooms", RemoveLevel("L0").apply, project)

    def test_a_higher_storey_lifts_the_levels_above_and_its_walls_follow(self):
        after = SetLevel("L0", "storey_m", 4.0).apply(house())
        assert_allclose(find(after.levels, "L1").elevation_m, 4.0)
        self.assertEqual({w.height_m for w in after.walls}, {4.0})
        self.assertRaisesRegex(InputError, "within 0.5 m", SetLevel("L1", "elevation_m", 0.2).apply, house())

    def test_a_basement_turns_ground_floors_into_floors_over_outdoors_until_it_is_filled(self):
        project = AddLevel(below=True).apply(house())
        project = SetLevel("L0", "name", "Ground floor").apply(project)
        basement = project.levels[0].id
        filled = AddRoom(basement, box(0, 0, 10, 4)).apply(project)
        self.assertEqual(
            sorted(s.kind for s in filled.slabs if "n1" in (s.room_above, s.room_below)), ["between", "roof"]
        )

    def test_rooms_change_their_level_and_keep_id_number_and_windows(self):
        after = SetRoomLevel(("n1",), "L1").apply(house())
        moved = find(after.rooms, "n1")
        self.assertEqual((moved.level_id, moved.number), ("L1", find(house().rooms, "n1").number))
        assert_allclose(glass_m2(after), glass_m2(house()))
        check_links(after)

    def test_north_turns_every_outside_wall(self):
        before = house()
        after = SetNorth(30.0).apply(before)
        for a, b in zip(before.walls, after.walls):
            if a.outside:
                assert_allclose((b.facing_deg - a.facing_deg) % 360, 30.0, atol=1e-6)
        self.assertIs(SetNorth(0.0).apply(before), before)
        # A room reshaped afterwards finds the same bearings from the geometry.
        moved = MoveRooms(("n1", "n2"), 1.0, 0.0).apply(after)
        self.assertEqual(
            sorted(round(w.facing_deg) % 360 for w in moved.walls if w.outside),
            sorted(round(w.facing_deg) % 360 for w in after.walls if w.outside),
        )


class Zones(unittest.TestCase):
    def test_a_zone_gathers_rooms_has_values_and_leaves_them_behind(self):
        project = AddZone(("n1", "n2"), "South").apply(house())
        zone = project.zones[0]
        project = SetZoneValue(zone.id, "cooling_c", Pinned(value=23.0)).apply(project)
        project = RenameZone(zone.id, " West ").apply(SetZone(("n2",), "").apply(project))
        check_links(project)
        self.assertEqual((project.zones[0].name, project.zones[0].cooling_c.value), ("West", 23.0))
        self.assertEqual([r.zone_id for r in project.rooms], [zone.id, ""])
        left = RemoveZone(zone.id).apply(project)
        self.assertEqual((left.zones, left.rooms[0].zone_id), ((), ""))

    def test_bad_zones_are_refused(self):
        project = AddZone().apply(house())
        self.assertRaisesRegex(InputError, "no value", SetZoneValue("z1", "colour", Rule()).apply, project)
        self.assertRaisesRegex(InputError, "name of 1", RenameZone("z1", " ").apply, project)
        crossed = SetZoneValue("z1", "heating_c", Pinned(value=25)).apply(project)
        self.assertRaisesRegex(
            InputError, "heating set-point is above", SetZoneValue("z1", "cooling_c", Pinned(value=22)).apply, crossed
        )


class Openings(unittest.TestCase):
    def test_a_window_gives_way_to_ends_and_neighbours(self):
        wall = next(w for w in house().walls if w.openings)
        after = AddOpening(wall.id, "window", 0.1).apply(house())
        first, _second = sorted(find(after.walls, wall.id).openings, key=lambda o: o.at_m)
        assert_allclose(first.width_m, 0.9)  # from the corner to the other window at 0.9 m
        self.assertRaisesRegex(InputError, "no gap", AddOpening(wall.id, "window", 1.5).apply, house())
        inner = next(w for w in house().walls if not w.outside)
        self.assertRaisesRegex(InputError, "outside wall", AddOpening(inner.id, "window", 2.0).apply, house())
        self.assertEqual(
            find(AddOpening(inner.id, "door", 2.0).apply(house()).walls, inner.id).openings[0].kind, "door"
        )

    def test_a_row_is_spread_evenly_or_by_a_step(self):
        wall = next(w for w in house().walls if w.openings)
        even = RepeatOpening(wall.id, wall.openings[0].id, 4).apply(house())
        assert_allclose([o.at_m for o in find(even.walls, wall.id).openings], [0.75, 2.25, 3.75, 5.25])
        step = RepeatOpening(wall.id, wall.openings[0].id, 3, 1.5).apply(house())
        assert_allclose([o.at_m for o in find(step.walls, wall.id).openings], [1.5, 3.0, 4.5])
        self.assertRaisesRegex(
            InputError, "do not fit", RepeatOpening(wall.id, wall.openings[0].id, 9, 1.5).apply, house()
        )
        self.assertRaisesRegex(
            InputError, "overlap", RepeatOpening(wall.id, wall.openings[0].id, 3, 0.5).apply, house()
        )

    def test_openings_are_copied_to_walls_that_face_the_same_way(self):
        after = CopyOpenings("n1", ("n2",)).apply(house())
        wall = next(w for w in walls_of(after.walls, "n2") if w.openings)
        assert_allclose((wall.facing_deg, wall.openings[0].at_m), (180, 1.5 / 6 * 4))
        self.assertRaisesRegex(InputError, "no openings", CopyOpenings("n2", ("n1",)).apply, house())

    def test_a_dragged_opening_stays_on_its_wall_and_off_its_neighbours(self):
        wall = next(w for w in house().walls if w.openings)
        moved = MoveOpening(wall.id, wall.openings[0].id, 99.0).apply(house())
        assert_allclose(find(moved.walls, wall.id).openings[0].at_m, 6 - 0.6)

    def test_build_up_of_walls_and_roofs(self):
        wall, roof = house().walls[0], next(s for s in house().slabs if s.kind == "roof")
        after = SetSlab(roof.id, "tilt_deg", 20.0).apply(SetWall((wall.id,), "build_up_id", "P1").apply(house()))
        self.assertEqual((find(after.walls, wall.id).build_up_id, find(after.slabs, roof.id).tilt_deg), ("P1", 20.0))
        self.assertRaisesRegex(InputError, "no such build-up", SetWall((wall.id,), "build_up_id", "no").apply, house())


class Untouched(unittest.TestCase):
    def test_parts_that_an_edit_does_not_touch_stay_the_very_same(self):
        before = station()
        room = by_number(before, "1.03") if any(r.number == "1.03" for r in before.rooms) else before.rooms[-1]
        after = NumberRooms((room.id,), "9.99").apply(before)
        self.assertIs(after.walls, before.walls)
        self.assertEqual(sum(a is not b for a, b in zip(before.rooms, after.rooms)), 1)
        self.assertIs(structs.replace(before).walls, before.walls)


if __name__ == "__main__":
    unittest.main()
