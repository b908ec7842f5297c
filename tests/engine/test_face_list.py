"""The list of faces against what the loads are computed from, and faces in space against hand counts."""

import unittest

from numpy.testing import assert_allclose

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.engine.studies.face_list import face_row, face_rows, sun_on
from garnetfin.report.to_csv import FACE_HEADS, ROOM_HEADS, faces_csv, rooms_csv
from garnetfin.ui.view_models.axonometry import shown_rooms, solids
from tests.example import by_number, one_room, station, station_results
from tests.project.test_shape import house


class Faces(unittest.TestCase):
    def test_u_values_and_areas_are_those_of_the_loads(self):
        for room in station().rooms:
            rows = [f for f in face_rows(station()) if f.room_id == room.id and f.other in ("outdoors", "ground")]
            mine = sum(f.net_m2 * f.u_w_m2k for f in rows)
            theirs = sum(
                f.area_m2 * f.u_w_m2k
                for f in station_results().room(room.id).faces
                if f.to in ("outdoors", "ground") and not f.opening_id
            )
            assert_allclose(mine, theirs, rtol=1e-9, err_msg=room.number)

    def test_every_wall_and_slab_comes_once(self):
        ids = [f.id for f in face_rows(station())]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertEqual(len(ids), len(station().walls) + len(station().slabs))
        self.assertIsNone(face_row(station(), "wall/none"))

    def test_sun_on_a_wall_is_what_its_sol_air_temperature_used(self):
        row = next(f for f in face_rows(one_room()) if f.kind == "outside wall")
        climate = run(one_room(), Memo()).climate
        assert_allclose(sun_on(climate, row), climate.compass_sun[180], rtol=1e-12)
        self.assertIsNone(sun_on(climate, next(f for f in face_rows(one_room()) if f.kind == "floor on ground")))

    def test_csv_has_a_line_for_each_and_keeps_formulas_as_text(self):
        rooms, faces = rooms_csv(station_results()).splitlines(), faces_csv(station_results()).splitlines()
        self.assertEqual((rooms[0].count(","), faces[0].count(",")), (len(ROOM_HEADS) - 1, len(FACE_HEADS) - 1))
        self.assertEqual((len(rooms) - 1, len(faces) - 1), (28, len(station().walls) + len(station().slabs)))
        odd = rooms_csv(run(one_room(name="=1+2"), Memo())).splitlines()[1]
        self.assertIn("'=1+2", odd)


class Space(unittest.TestCase):
    def test_floors_walls_and_openings_stand_where_the_plan_has_them(self):
        found = solids(house(), 5.0)
        count = {k: sum(s.kind == k for s in found) for k in ("floor", "wall", "glass")}
        self.assertEqual(count, {"floor": 2, "wall": len(house().walls), "glass": 1})
        glass = next(s for s in found if s.kind == "glass")
        # 1.2 m wide about 1.5 m from the corner, sill 0.9, head 2.4, in the wall at y 0.
        self.assertEqual(
            {(round(x, 6), round(y, 6), round(z, 6)) for x, y, z in glass.corners},
            {(0.9, 0, 0.9), (2.1, 0, 0.9), (0.9, 0, 2.4), (2.1, 0, 2.4)},
        )

    def test_each_level_is_lifted_above_the_one_below(self):
        low = {s.target[1]: s.corners[0][2] for s in solids(station(), 0.0) if s.kind == "floor"}
        high = {s.target[1]: s.corners[0][2] for s in solids(station(), 6.0) if s.kind == "floor"}
        rooms = {r.id: r.level_id for r in station().rooms}
        for room_id in low:
            assert_allclose(high[room_id] - low[room_id], 6.0 if rooms[room_id] == "U" else 0.0)

    def test_one_room_shows_its_own_faces_with_its_roof(self):
        room = by_number(station(), "0.06")
        found = solids(station(), 0.0, frozenset({room.id}))
        self.assertEqual([s.target[1] for s in found if s.kind == "floor"], [room.id])
        self.assertTrue(any(s.kind == "roof" for s in found))

    def test_what_a_scope_shows(self):
        project = station()
        room = by_number(project, "0.02")
        self.assertIsNone(shown_rooms(project, "all", "room", (room.id,)))
        self.assertIsNone(shown_rooms(project, "room", "", ()))
        self.assertEqual(shown_rooms(project, "room", "room", (room.id,)), {room.id})
        wall = next(w for w in project.walls if room.id in (w.room_a, w.room_b) and not w.outside)
        self.assertEqual(shown_rooms(project, "neighbours", "face", (f"wall/{wall.id}",)), {wall.room_a, wall.room_b})
        self.assertEqual(
            shown_rooms(project, "zone", "zone", (room.zone_id,)),
            {r.id for r in project.rooms if r.zone_id == room.zone_id},
        )


if __name__ == "__main__":
    unittest.main()
