"""Sides that move with the wall they stand on, against outlines worked out by hand."""

import unittest

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.core.shared_sides import moved_side

LEFT = ((0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0))
RIGHT = ((4.0, 0.0), (9.0, 0.0), (9.0, 3.0), (4.0, 3.0))
HALL = ((0.0, 3.0), (9.0, 3.0), (9.0, 5.0), (0.0, 5.0))


def same(a, b):
    """Whether two outlines have the same corners in the same order, from wherever they start."""
    return len(a) == len(b) and any(tuple(a[k:] + a[:k]) == tuple(b) for k in range(len(a)))


class Sides(unittest.TestCase):
    def test_the_room_across_follows_and_others_stay(self):
        for by in (1.0, -1.0):
            changed = moved_side({"a": LEFT, "b": RIGHT, "h": HALL}, "a", 1, (by, 0.0))
            self.assertEqual(set(changed), {"a", "b"})
            self.assertTrue(same(changed["a"], ((0.0, 0.0), (4.0 + by, 0.0), (4.0 + by, 3.0), (0.0, 3.0))))
            self.assertTrue(same(changed["b"], ((4.0 + by, 0.0), (9.0, 0.0), (9.0, 3.0), (4.0 + by, 3.0))))

    def test_a_long_side_across_gets_a_step(self):
        changed = moved_side({"a": LEFT, "b": RIGHT, "h": HALL}, "a", 2, (0.0, 0.5))
        self.assertEqual(set(changed), {"a", "h"})
        step = ((4.0, 3.5), (4.0, 3.0), (9.0, 3.0), (9.0, 5.0), (0.0, 5.0), (0.0, 3.5))
        self.assertTrue(same(changed["h"], step), changed["h"])

    def test_a_short_side_takes_part_of_the_long_one_along(self):
        changed = moved_side({"a": LEFT, "b": RIGHT, "h": HALL}, "h", 0, (0.0, -1.0))
        self.assertEqual(set(changed), {"a", "b", "h"})
        self.assertEqual([area_of(changed[k]) for k in "abh"], [8.0, 10.0, 27.0])

    def test_corners_on_a_straight_line_make_no_spike(self):
        hall = ((0.0, 3.0), (2.0, 3.0), (4.0, 3.0), (9.0, 3.0), (9.0, 5.0), (0.0, 5.0))
        changed = moved_side({"a": LEFT, "b": RIGHT, "h": hall}, "a", 2, (0.0, 0.5))
        self.assertAlmostEqual(area_of(changed["h"]), 18.0 - 2.0, 9)
        alone = moved_side({"h": hall}, "h", 1, (0.0, 1.0))
        self.assertAlmostEqual(area_of(alone["h"]), 18.0 - 2.0, 9)

    def test_a_wall_with_thickness_between_moves_both_faces(self):
        right = tuple((x + 0.2, y) for x, y in RIGHT)
        changed = moved_side({"a": LEFT, "b": right}, "a", 1, (0.5, 0.0))
        self.assertEqual(min(x for x, _ in changed["b"]), 4.7)
        self.assertEqual(max(x for x, _ in changed["a"]), 4.5)

    def test_outlines_that_turn_to_the_right_move_too(self):
        changed = moved_side({"a": LEFT, "b": RIGHT[::-1]}, "a", 1, (0.5, 0.0))
        self.assertAlmostEqual(area_of(changed["b"]), 13.5, 9)

    def test_a_slanted_wall_moves_along_its_normal(self):
        one = ((0.0, 0.0), (4.0, 0.0), (2.0, 3.0), (0.0, 3.0))
        two = ((4.0, 0.0), (8.0, 0.0), (8.0, 3.0), (2.0, 3.0))
        changed = moved_side({"a": one, "b": two}, "a", 1, (0.5, 0.0))
        self.assertAlmostEqual(area_of(changed["a"]) + area_of(changed["b"]), 24.0, 9)
        self.assertAlmostEqual(area_of(changed["a"]), 9.0 + 1.5, 9)

    def test_nothing_is_turned_inside_out(self):
        for by in (5.0, 6.0, -4.0, -5.0):
            with self.assertRaisesRegex(InputError, "pass the one across"):
                moved_side({"a": LEFT, "b": RIGHT}, "a", 1, (by, 0.0))


if __name__ == "__main__":
    unittest.main()
