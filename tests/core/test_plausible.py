"""What is far from usual in rooms' figures: each limit from both sides, and the sum of faces' vectors."""

import unittest
from dataclasses import replace

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.plausible import Limits, Rooms, odd, vector_area

USUAL = {
    "area_m2": 20.0,
    "volume_m3": 60.0,
    "ceiling_m": 3.0,
    "cooling_w_m2": 60.0,
    "heating_w_m2": 40.0,
    "usual_cooling_w_m2": 50.0,
    "usual_heating_w_m2": 30.0,
    "change_1h": 6.0,
    "people": 2.0,
    "lights_w_m2": 8.0,
    "equipment_w_m2": 10.0,
    "infiltration_1h": 0.3,
    "cooling_c": 25.0,
    "heating_c": 20.0,
    "faces": 6.0,
    "floor_m2": 20.0,
    "top_m2": 20.0,
    "faces_m2": 94.0,
    "open_m2": 0.0,
    "glass_share": 0.4,
    "sunny_m2": 3.0,
    "sun_w_m2": 80.0,
}


def rooms(count: int = 1, **changes) -> Rooms:
    figures = {
        name: np.broadcast_to(np.asarray(changes.get(name, value), float), count) for name, value in USUAL.items()
    }
    kinds = {name: np.broadcast_to(changes.get(name, False), count) for name in ("special", "server", "inner")}
    return Rooms(**figures, **kinds)


def told(**changes) -> set[str]:
    return {code for code, broken in odd(rooms(**changes)).items() if broken[0]}


class Limit(unittest.TestCase):
    def test_a_usual_room_says_nothing(self):
        self.assertEqual(told(), set())

    def test_every_limit_from_both_sides(self):
        for code, inside, outside in (
            ("estimate-far", {"cooling_w_m2": 149.0}, {"cooling_w_m2": 151.0}),
            ("estimate-far", {"cooling_w_m2": 18.0}, {"cooling_w_m2": 17.0}),
            ("heating-far", {"heating_w_m2": 89.0}, {"heating_w_m2": 91.0}),
            ("air-change", {"change_1h": 19.9}, {"change_1h": 20.1}),
            ("air-change", {"change_1h": 0.6}, {"change_1h": 0.4}),
            ("few-faces", {"faces": 4}, {"faces": 3}),
            ("no-floor", {"floor_m2": 0.1}, {"floor_m2": 0.0}),
            ("no-ceiling", {"top_m2": 0.1}, {"top_m2": 0.0}),
            # 60 m3 have at least 4.8 x 60^(2/3) = 73.6 m2 around them
            ("not-closed", {"faces_m2": 73.7}, {"faces_m2": 73.4}),
            ("open-side", {"open_m2": 4.6}, {"open_m2": 4.8}),
            ("glass-share", {"glass_share": 0.89}, {"glass_share": 0.91}),
            ("people", {"people": 20.4}, {"people": 20.6}),
            ("gains", {"lights_w_m2": 39.0}, {"lights_w_m2": 41.0}),
            ("gains", {"equipment_w_m2": 199.0}, {"equipment_w_m2": 201.0}),
            ("infiltration", {"infiltration_1h": 2.9}, {"infiltration_1h": 3.1}),
            ("set-point", {"cooling_c": 18.1}, {"cooling_c": 17.9}),
            ("set-point", {"heating_c": 25.9}, {"heating_c": 26.1}),
            ("ceiling", {"ceiling_m": 11.9}, {"ceiling_m": 12.1}),
            ("glass-without-sun", {"sun_w_m2": 3.1}, {"sun_w_m2": 2.9}),
        ):
            with self.subTest(code=code, outside=outside):
                self.assertNotIn(code, told(**inside))
                self.assertIn(code, told(**outside))

    def test_the_book_sets_four_of_them(self):
        strict = Limits(over=1.1, under=0.9, change_1h=5.0, glass=0.3)
        found = {code for code, broken in odd(rooms(cooling_w_m2=70.0), strict).items() if broken[0]}
        self.assertEqual(found, {"estimate-far", "heating-far", "air-change", "glass-share"})

    def test_uses_with_loads_of_their_own_are_let_be(self):
        wild = {"cooling_w_m2": 900.0, "heating_w_m2": 300.0, "equipment_w_m2": 800.0, "change_1h": 60.0}
        self.assertEqual(told(**wild, special=True, server=True), set())
        self.assertEqual(told(**wild), {"estimate-far", "heating-far", "air-change", "gains"})

    def test_rooms_without_outside_wall_may_ask_for_little_but_not_for_much(self):
        self.assertEqual(told(cooling_w_m2=5.0, inner=True), set())
        self.assertEqual(told(cooling_w_m2=200.0, inner=True), {"estimate-far"})

    def test_what_is_not_known_breaks_nothing(self):
        unknown = {name: np.nan for name in USUAL}
        self.assertEqual(told(**unknown), set())

    def test_rooms_are_told_apart(self):
        found = odd(rooms(3, people=np.array([2.0, 50.0, 3.0])))["people"]
        self.assertEqual(found.tolist(), [False, True, False])


class Closed(unittest.TestCase):
    def test_bodies_close_and_one_without_a_face_is_open_by_it(self):
        """A box, and a wedge of 45 degrees: the sum over a closed body is nothing (divergence theorem)."""
        across = np.sqrt(0.5)
        box = [(15.0, (1, 0, 0)), (15.0, (-1, 0, 0)), (12.0, (0, 1, 0)), (12.0, (0, -1, 0)), (20.0, (0, 0, 1))]
        box.append((20.0, (0, 0, -1)))
        wedge = [(9.0, (0, 0, -1)), (9.0, (-1, 0, 0)), (9.0 / across, (across, 0, across))]
        wedge += [(4.5, (0, 1, 0)), (4.5, (0, -1, 0))]
        faces = [*box, *wedge, *box[1:]]
        room = np.repeat([0, 1, 2], [6, 5, 5])
        found = vector_area(np.array([a for a, _ in faces]), np.array([n for _, n in faces], float), room, 4)
        assert_allclose(found, (0.0, 0.0, 15.0, 0.0), atol=1e-12)

    def test_nothing_of_a_room_is_changed(self):
        r = rooms()
        odd(replace(r, people=np.array([99.0])))
        self.assertEqual(r.people[0], 2.0)


if __name__ == "__main__":
    unittest.main()
