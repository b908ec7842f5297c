"""Edits of heights, levels, shafts and voids: the faces follow at once, and so does what hangs on a level."""

import unittest

from msgspec import structs

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.derive import derive
from garnetfin.project.edits.groups import SetLevel
from garnetfin.project.edits.marks import AddMark, RemoveMark
from garnetfin.project.edits.outlines import AddRoom, MoveRooms
from garnetfin.project.edits.rooms import SetCeiling
from garnetfin.project.new import new_project
from garnetfin.project.spaces import Level
from garnetfin.project.tree import Project
from tests.example import station, station_results


def box(x0: float, y0: float, x1: float, y1: float) -> tuple[tuple[float, float], ...]:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def hall() -> Project:
    """Two levels: a hall of 8 x 8 m with offices south of it on both, and above the hall nothing."""
    project = new_project()
    ground = structs.replace(project.levels[0], storey_m=3.6)
    upper = Level(id="U", name="Upper", elevation_m=3.6, storey_m=3.6)
    project = structs.replace(project, levels=(ground, upper))
    for level, outline in ((ground.id, box(0, 0, 8, 8)), (ground.id, box(0, -4, 8, 0)), ("U", box(0, -4, 8, 0))):
        project = AddRoom(level, outline).apply(project)
    return project


class Heights(unittest.TestCase):
    def setUp(self):
        self.project = hall()
        self.hall, self.office, self.above = (r.id for r in self.project.rooms)

    def outside(self, project: Project, room_id: str) -> float:
        return sum(w.length_m * w.height_m for w in project.walls if w.outside and w.room_a == room_id)

    def test_a_hall_that_becomes_tall_gets_its_upper_walls_at_once(self):
        before, corridor = self.outside(self.project, self.hall), self.outside(self.project, self.above)
        tall = SetCeiling((self.hall,), 6.9).apply(self.project)
        self.assertAlmostEqual(self.outside(tall, self.hall), 2 * before)
        # The office above loses the wall it had over the low hall's roof.
        self.assertAlmostEqual(corridor - self.outside(tall, self.above), 8.0 * 3.6)
        everything = {r.id for r in tall.rooms}
        again = derive(tall, everything)
        self.assertAlmostEqual(self.outside(again, self.hall), self.outside(tall, self.hall))
        self.assertEqual(len([s for s in tall.slabs if s.room_below == self.hall]), 1)
        low = SetCeiling((self.hall,), 3.3).apply(tall)
        self.assertAlmostEqual(self.outside(low, self.hall), before)
        self.assertAlmostEqual(self.outside(low, self.above), corridor)

    def test_a_height_that_reaches_no_other_level_leaves_the_faces_as_they_are(self):
        self.assertIs(SetCeiling((self.hall,), 3.0).apply(self.project).walls, self.project.walls)

    def test_a_tall_hall_is_no_floor_without_a_room_on_the_level_above(self):
        around = AddRoom("U", box(-3, 8, 11, 11)).apply(self.project)
        for outline in (box(-3, 0, 0, 8), box(8, 0, 11, 8)):
            around = AddRoom("U", outline).apply(around)
        low = run(around, Memo()).building.levels[1].unclaimed_m2
        self.assertAlmostEqual(low, 64.0, delta=0.5)
        for closed in (SetCeiling((self.hall,), 6.9), AddMark("void", "U", box(0, 0, 8, 8))):
            self.assertEqual(run(closed.apply(around), Memo()).building.levels[1].unclaimed_m2, 0.0)

    def test_a_shaft_takes_the_place_of_outdoors_and_gives_it_back(self):
        level = self.project.levels[0].id
        shafted = AddMark("shaft", level, box(8, 2, 9, 6)).apply(self.project)
        to_shaft = [w for w in shafted.walls if w.room_a == self.hall and w.room_b == "shaft"]
        self.assertAlmostEqual(sum(w.length_m for w in to_shaft), 4.0)
        self.assertAlmostEqual(self.outside(self.project, self.hall) - self.outside(shafted, self.hall), 4.0 * 3.6)
        open_ = RemoveMark(shafted.plan_marks[-1].id).apply(shafted)
        self.assertAlmostEqual(self.outside(open_, self.hall), self.outside(self.project, self.hall))

    def test_a_mark_needs_an_area_and_a_level(self):
        flat = ((0.0, 0.0), (1.0, 0.0), (2.0, 0.0))
        self.assertRaisesRegex(InputError, "shaft needs an outline", AddMark("shaft", "U", flat).apply, self.project)
        self.assertRaises(GarnetfinError, AddMark("void", "X", box(0, 0, 1, 1)).apply, self.project)

    def test_moving_a_room_makes_its_old_neighbours_anew_too(self):
        moved = MoveRooms((self.hall,), 0.0, 20.0).apply(self.project)
        self.assertAlmostEqual(self.outside(moved, self.office), self.outside(self.project, self.office) + 8 * 3.6)


class RaisedStorey(unittest.TestCase):
    def test_ducts_and_terminals_go_along_with_their_level(self):
        level = station().levels[0]
        raised = SetLevel(level.id, "storey_m", level.storey_m + 0.2).apply(station())
        old = {p.id: p for p in station().duct_points}
        for p in raised.duct_points:
            self.assertAlmostEqual(p.z_m - old[p.id].z_m, 0.0 if p.level_id == level.id else 0.2)

    def test_a_raised_storey_brings_no_flood_of_findings(self):
        level = station().levels[0]
        results = run(SetLevel(level.id, "storey_m", level.storey_m + 0.2).apply(station()), Memo())
        new = {(f.code, f.object_id) for f in results.findings} - {
            (f.code, f.object_id) for f in station_results().findings
        }
        self.assertLessEqual(len(new), 2)
        self.assertLessEqual(len(results.findings), len(station_results().findings) + 2)

    def test_a_raised_ceiling_says_what_hangs_below_it_and_its_mend_clears_that(self):
        room = next(r for r in station().rooms if r.number == "0.02")
        raised = SetCeiling((room.id,), room.ceiling_m + 0.5).apply(station())
        found = [f for f in run(raised, Memo()).findings if f.code == "terminal-height"]
        self.assertEqual([f.object_id for f in found], [room.id])
        mended = found[0].mends[0].command.apply(raised)
        self.assertNotIn("terminal-height", [f.code for f in run(mended, Memo()).findings])
        ids = {t.point_id for t in raised.terminals if t.room_id == room.id}
        self.assertTrue(all(abs(p.z_m - (room.ceiling_m + 0.5)) < 1e-6 for p in mended.duct_points if p.id in ids))
        self.assertNotIn("terminal-height", [f.code for f in station_results().findings])
