"""Walls and areas derived from outlines, against hand counts, and against the example's hand-made walls."""

import unittest

from numpy.testing import assert_allclose

from garnetfin.core.adjacency import (
    anticlockwise,
    crosses_itself,
    inset,
    inset_area,
    overlap_area,
    overlaps,
    wall_stretches,
)
from tests.example import station

SQUARE = ((0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0))
EAST = ((4.0, 0.0), (7.0, 0.0), (7.0, 3.0), (4.0, 3.0))


def lengths(stretches) -> dict:
    found: dict = {}
    for s in stretches:
        found[s.room_a, s.room_b] = found.get((s.room_a, s.room_b), 0) + s.length_m
    return found


class Walls(unittest.TestCase):
    def test_a_room_alone_has_its_whole_perimeter_outside(self):
        stretches = wall_stretches({"a": SQUARE})
        self.assertEqual(lengths(stretches), {("a", ""): 14.0})
        self.assertEqual(sorted(s.facing_deg for s in stretches), [0, 90, 180, 270])

    def test_facing_is_the_outward_bearing(self):
        by_facing = {round(s.facing_deg): (s.start, s.end) for s in wall_stretches({"a": SQUARE})}
        self.assertEqual({p[1] for p in by_facing[180]}, {0.0})  # the south wall lies at y 0
        self.assertEqual({p[0] for p in by_facing[90]}, {4.0})

    def test_the_compass_turns_with_the_north_arrow(self):
        self.assertEqual(sorted(round(s.facing_deg) for s in wall_stretches({"a": SQUARE}, 30.0)), [30, 120, 210, 300])

    def test_drawing_direction_changes_nothing(self):
        self.assertEqual(lengths(wall_stretches({"a": SQUARE[::-1]})), lengths(wall_stretches({"a": SQUARE})))
        self.assertEqual(anticlockwise(SQUARE[::-1]), SQUARE)

    def test_neighbours_share_a_wall_once(self):
        self.assertEqual(
            lengths(wall_stretches({"a": SQUARE, "b": EAST})), {("a", ""): 11.0, ("a", "b"): 3.0, ("b", ""): 9.0}
        )

    def test_a_gap_up_to_a_wall_counts_as_shared_and_a_wider_one_does_not(self):
        def moved(by: float):
            return tuple((x + by, y) for x, y in EAST)

        self.assertIn(("a", "b"), lengths(wall_stretches({"a": SQUARE, "b": moved(0.3)})))
        self.assertNotIn(("a", "b"), lengths(wall_stretches({"a": SQUARE, "b": moved(0.8)})))

    def test_a_wall_beside_two_rooms_is_divided(self):
        north = {
            "b": ((0.0, 3.0), (1.5, 3.0), (1.5, 5.0), (0.0, 5.0)),
            "c": ((1.5, 3.0), (3.0, 3.0), (3.0, 5.0), (1.5, 5.0)),
        }
        found = lengths(wall_stretches({"a": SQUARE, **north}))
        self.assertEqual((found["a", "b"], found["a", "c"]), (1.5, 1.5))
        assert_allclose(found["a", ""], 14 - 3)

    def test_collinear_corners_make_no_extra_walls(self):
        odd = ((0.0, 0.0), (2.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0))
        self.assertEqual(len(wall_stretches({"a": odd})), 4)

    def test_rooms_back_to_back_do_not_face_through_each_other(self):
        far = ((0.0, 10.0), (4.0, 10.0), (4.0, 13.0), (0.0, 13.0))
        self.assertEqual(lengths(wall_stretches({"a": SQUARE, "b": far})), {("a", ""): 14.0, ("b", ""): 14.0})

    def test_slanted_walls(self):
        left, right = ((0.0, 0.0), (4.0, 0.0), (0.0, 4.0)), ((4.0, 0.0), (4.0, 4.0), (0.0, 4.0))
        found = lengths(wall_stretches({"a": left, "b": right}))
        assert_allclose(found["a", "b"], 32**0.5)

    def test_the_station_comes_out_as_it_was_drawn_by_hand(self):
        """Every pair of rooms, every length, every direction of the example's 99 walls."""
        hall = next(r for r in station().rooms if r.number == "0.03")
        for level in station().levels:
            outlines = {r.id: r.outline for r in station().rooms if r.level_id == level.id}
            if level.id == "U":
                outlines[hall.id] = hall.outline
            outlines["shaft"] = next(
                m.outline for m in station().plan_marks if m.kind == "shaft" and m.level_id == level.id
            )
            derived, drawn = {}, {}
            for s in wall_stretches(outlines):
                if s.room_a != "shaft":
                    key = (frozenset((s.room_a, s.room_b)), round(s.facing_deg) if not s.room_b else None)
                    derived[key] = derived.get(key, 0) + s.length_m
            for w in station().walls:
                if w.level_id == level.id:
                    key = (frozenset((w.room_a, w.room_b)), round(w.facing_deg) if w.outside else None)
                    drawn[key] = drawn.get(key, 0) + w.length_m
            self.assertEqual(derived.keys(), drawn.keys())
            for key in drawn:
                assert_allclose(derived[key], drawn[key], atol=1e-5)


class Areas(unittest.TestCase):
    def test_overlaps_of_two_lists(self):
        above = ((1.0, 1.0), (6.0, 1.0), (6.0, 3.0), (1.0, 3.0))
        assert_allclose(overlap_area(SQUARE, above), 6.0)
        self.assertEqual(
            [(i, j, round(a, 9)) for i, j, a in overlaps([SQUARE, EAST], [above])], [(0, 0, 6.0), (1, 0, 4.0)]
        )
        self.assertEqual(overlaps([SQUARE], []), [])
        # Outlines that only touch share no floor.
        self.assertEqual(overlaps([SQUARE], [EAST]), [])

    def test_many_rooms_give_the_walls_counted_by_hand(self):
        across, along = 12, 9
        rooms = {
            f"{i}/{j}": tuple((x + 4 * i, y + 3 * j) for x, y in SQUARE) for i in range(across) for j in range(along)
        }
        found = lengths(wall_stretches(rooms))
        outside = sum(v for (_, b), v in found.items() if not b)
        inside = sum(v for (_, b), v in found.items() if b)
        assert_allclose(outside, 2 * (4 * across + 3 * along))
        assert_allclose(inside, 3 * along * (across - 1) + 4 * across * (along - 1))

    def test_sides_move_inwards_by_their_own_insets(self):
        assert_allclose(inset_area(SQUARE, [0.1, 0.2, 0.3, 0.4]), (4 - 0.2 - 0.4) * (3 - 0.1 - 0.3), rtol=1e-12)
        self.assertEqual(inset_area(SQUARE, [0.0] * 4), 12.0)
        ell = ((0.0, 0.0), (4.0, 0.0), (4.0, 2.0), (2.0, 2.0), (2.0, 4.0), (0.0, 4.0))
        # An L of 2 m arms drawn in by 0.1 m all round: 12 m2 less its perimeter of 16 m x 0.1 m, plus 4 corners net of
        # 0.01 m2.
        assert_allclose(inset_area(ell, [0.1] * 6), 12 - 1.6 + 4 * 0.01, rtol=1e-12)
        self.assertEqual(inset(SQUARE, [1.0, 0.0, 0.0, 0.0])[0], (0.0, 1.0))
        straight = ((0.0, 0.0), (2.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0))
        assert_allclose(inset_area(straight, [0.1] * 5), 3.8 * 2.8, rtol=1e-12)

    def test_a_bow_tie_crosses_itself(self):
        self.assertTrue(crosses_itself(((0.0, 0.0), (2.0, 2.0), (2.0, 0.0), (0.0, 2.0))))
        self.assertFalse(crosses_itself(SQUARE))
