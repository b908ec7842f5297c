"""Where equipment stands on the plan: boxes in ducts of their rooms alone, units in rooms and below windows."""

import unittest
from math import dist

from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of, inside
from garnetfin.display import told
from garnetfin.engine.equipment.schedules import schedule
from garnetfin.engine.equipment.standing import standings
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.layout.equipment_outlines import boxes_of_level, handlers_of_level, room_units_of_level
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import BOX_LOSS
from garnetfin.engine.run import run
from garnetfin.project.edits.equipment import PutBox, PutRoomUnit, SetEquipment
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Opening
from garnetfin.project.tree import check_links
from tests.engine.equipped import bare
from tests.example import by_number, station, station_results


class Ducts(unittest.TestCase):
    def test_a_box_stands_where_air_of_its_rooms_alone_begins(self):
        """By the terminals beyond each duct, counted one by one."""
        found = station_results()
        for ducts in found.ducts.values():
            beyond: dict[str, set[str]] = {i: set() for i in ducts.segment_ids}
            for t in ducts.terminals:
                for i in ducts.path(t.segment_id):
                    beyond[i].add(t.room_id)
            for box_id, stands in found.equipment.box_ducts.items():
                rooms = set(found.equipment.boxes[box_id].room_ids)
                for i in stands:
                    self.assertEqual(beyond[i], rooms)
                    self.assertFalse(beyond[ducts.path(i)[-2]] <= rooms, "the one before carries other air as well")
                    self.assertTrue(any(f.reference == BOX_LOSS for f in ducts.segments[i].fittings))
                own = {t.segment_id for t in ducts.terminals if t.room_id in rooms}
                self.assertTrue(all(set(ducts.path(i)) & set(stands) for i in own), "no terminal is without its box")

    def test_bodies_have_their_true_length_and_lie_on_their_duct(self):
        found = station_results()
        ducts = found.ducts["ahu-north"]
        project = found.project
        for level in project.levels:
            for piece in boxes_of_level(found, ducts, level.id):
                box_id, _, segment_id = piece.item_id.partition("@")
                model = found.equipment.boxes[box_id].model
                self.assertAlmostEqual(
                    max(dist(a, b) for a, b in zip(piece.outline, piece.outline[1:])), model.length_m
                )
                segment = find(project.segments, segment_id)
                a, b = (find(project.duct_points, i) for i in (segment.a, segment.b))
                middle = [sum(p[k] for p in piece.outline) / 4 for k in (0, 1)]
                assert_allclose(middle, [(a.x_m + b.x_m) / 2, (a.y_m + b.y_m) / 2], atol=1e-9)
                # the arrow points away from the unit: towards the end that more of the run is behind
                tail, head = piece.way
                i = ducts.segment_ids.index(segment_id)
                root = ducts.tree.entering[i]
                first = (a, b) if ducts.ends[i][0] == root else (b, a)
                self.assertLess(dist(tail, (first[0].x_m, first[0].y_m)), dist(head, (first[0].x_m, first[0].y_m)))

    def test_boxes_of_all_levels_are_those_that_stand_in_ducts(self):
        found = station_results()
        shown = [p for level in found.project.levels for p in boxes_of_level(found, found.ducts["ahu-north"], level.id)]
        self.assertEqual(len(shown), sum(len(s) for s in found.equipment.box_ducts.values()))

    def test_a_group_whose_rooms_lie_on_other_branches_is_told(self):
        project = bare()
        rooms = ("n1", "n3")  # on both sides of the first tee
        before = {f.code for f in run(project, Memo()).findings}
        grouped = run(PutBox(rooms).apply(project), Memo())
        self.assertNotIn("box-place", before)
        finding = next(f for f in grouped.findings if f.code == "box-place")
        self.assertEqual(finding.object_id, rooms[0])
        mended = run(finding.mends[0].command.apply(grouped.project), Memo())
        self.assertNotIn("box-place", {f.code for f in mended.findings})


class Tight(unittest.TestCase):
    def test_boxes_longer_than_their_ducts_are_told_and_radiators_spare_them(self):
        found = station_results()
        project = found.project
        finding = next(f for f in found.findings if f.code == "box-length")
        points = {p.id: (p.x_m, p.y_m, p.z_m) for p in project.duct_points}
        length = {s.id: dist(points[s.a], points[s.b]) for s in project.segments}
        tight = [
            box_id
            for box_id, stands in found.equipment.box_ducts.items()
            if any(length[i] < found.equipment.boxes[box_id].model.length_m for i in stands)
        ]
        self.assertIn(f"{len(tight)} boxes", finding.title)
        mended = run(finding.mends[0].command.apply(project), Memo())
        self.assertNotIn("box-length", {f.code for f in mended.findings})
        self.assertFalse(set(tight) & set(mended.equipment.boxes))


class Rooms(unittest.TestCase):
    def test_radiators_stand_below_windows_inside_their_room(self):
        project = station()
        room = by_number(project, "0.02")
        found = run(PutRoomUnit((room.id,), "radiator").apply(project), Memo())
        record = next(u for u in found.equipment.room_units.values() if u.room_id == room.id)
        placed = [p for p in room_units_of_level(found, room.level_id) if room.id in p.room_ids]
        self.assertEqual(len(placed), record.count)
        windows = [
            (
                w.start[0] + (w.end[0] - w.start[0]) * o.at_m / w.length_m,
                w.start[1] + (w.end[1] - w.start[1]) * o.at_m / w.length_m,
            )
            for w in project.walls
            if room.id in (w.room_a, w.room_b)
            for o in w.openings
            if o.glazing_id
        ]
        for piece in placed:
            self.assertAlmostEqual(area_of(piece.outline), record.model.length_m * max(record.model.depth_m, 0.1))
            middle = tuple(sum(p[k] for p in piece.outline) / 4 for k in (0, 1))
            self.assertTrue(inside(room.outline, middle))
            self.assertLess(min(dist(middle, w) for w in windows), 0.6)

    def test_without_windows_units_share_the_length_of_their_room(self):
        project = station()
        room = by_number(project, "1.11")
        bare_walls = tuple(
            structs.replace(w, openings=tuple(o for o in w.openings if not o.glazing_id))
            if room.id in (w.room_a, w.room_b)
            else w
            for w in project.walls
        )
        self.assertTrue(all(isinstance(o, Opening) for w in bare_walls for o in w.openings))
        found = run(PutRoomUnit((room.id,), "fan_coil").apply(structs.replace(project, walls=bare_walls)), Memo())
        placed = [p for p in room_units_of_level(found, room.level_id) if room.id in p.room_ids]
        record = next(u for u in found.equipment.room_units.values() if u.room_id == room.id)
        self.assertEqual(len(placed), record.count)
        for piece in placed:
            self.assertTrue(inside(room.outline, tuple(sum(p[k] for p in piece.outline) / 4 for k in (0, 1))))


class Handlers(unittest.TestCase):
    def test_it_stands_where_its_ducts_begin_with_all_its_floor_inside(self):
        found = station_results()
        at, made = found.equipment.standings["ahu-north"], found.equipment.units["ahu-north"].layout
        room = find(found.project.rooms, at.room_id)
        self.assertEqual(room.number, "1.13")
        self.assertTrue(at.fits)
        self.assertAlmostEqual(area_of(at.floor), made.floor_m2, msg="the floor that the sheet tells")
        self.assertAlmostEqual(area_of(at.body), made.length_m * made.width_m)
        for outline, within in ((at.floor, room.outline), (at.body, at.floor)):
            middle = [sum(p[k] for p in outline) / 4 for k in (0, 1)]
            for p in outline:
                near = tuple(m + (x - m) * 0.999 for x, m in zip(p, middle))
                self.assertTrue(inside(within, near))

    def test_elsewhere_it_says_what_is_missing_and_other_decks_are_lower(self):
        project = SetEquipment("units", "ahu-north", "room_id", "0.09").apply(station())
        found = run(project, Memo())
        at, made = found.equipment.standings["ahu-north"], found.equipment.units["ahu-north"].layout
        room = by_number(project, "0.09")
        self.assertAlmostEqual(at.high_m, made.clear_m - room.ceiling_m)
        finding = next(f for f in found.findings if f.code == "unit-does-not-fit")
        self.assertEqual(finding.object_id, room.id)
        self.assertIn(f"{at.high_m:.2f} m of height", told(finding.reason))
        self.assertEqual(schedule(found, "units").cell("ahu-north", "lacks_high_m"), at.high_m)
        self.assertEqual(explain(found, ("equipment", "units", "ahu-north", "lacks_long_m")).figure, at.lacks.long_m)
        beside = run(finding.mends[0].command.apply(project), Memo())
        self.assertLess(beside.equipment.standings["ahu-north"].high_m, at.high_m)
        small = run(SetEquipment("units", "ahu-north", "room_id", "0.04").apply(station()), Memo())
        lacks = next(f for f in small.findings if f.code == "plant-room-small")
        short = small.equipment.space.total_m2 - area_of(by_number(project, "0.04").outline)
        self.assertIn(f"{short:.1f} m²", lacks.title)
        shapes = [p for p in handlers_of_level(found, room.level_id) if p.room_ids == (room.id,)]
        self.assertEqual([p.kind for p in shapes], ["floor of unit short", "unit short"])

    def test_two_units_in_one_room_leave_each_other_their_floor(self):
        found = station_results()
        made = found.equipment.units["ahu-north"]
        other = structs.replace(station().air_systems[0], id="second")
        project = structs.replace(station(), air_systems=(*station().air_systems, other))
        project = SetEquipment("units", "second", "room_id", "1.13").apply(project)
        both = standings(project, {"ahu-north": made, "second": made}, Memo())
        self.assertTrue(both["ahu-north"].fits)
        self.assertFalse(both["second"].fits, "two of 39 m² do not go into 70 m² with their sides as they are")
        alone = standings(project, {"second": made}, Memo())
        self.assertTrue(alone["second"].fits)

    def test_a_room_that_goes_is_no_longer_where_it_stands(self):
        project = SetEquipment("units", "ahu-north", "room_id", "0.07").apply(station())
        self.assertEqual(project.units[0].room_id, by_number(project, "0.07").id)
        left = RemoveRooms((by_number(project, "0.07").id,)).apply(project)
        self.assertEqual([u.room_id for u in left.units], [""])
        check_links(left)

    def test_a_room_that_is_not_there_is_refused(self):
        with self.assertRaises(InputError) as told:
            SetEquipment("units", "ahu-north", "room_id", "7.77").apply(station())
        self.assertIn("7.77", str(told.exception))


if __name__ == "__main__":
    unittest.main()
