"""Where a unit stands in a room, against rooms measured by hand and a search by corners in small steps."""

import math
import unittest

from garnetfin.core.equipment.standing import lacks, stand
from garnetfin.core.outlines import area_of, inside

ROOM = ((0.0, 0.0), (8.0, 0.0), (8.0, 4.0), (0.0, 4.0))
ANGLE = ((0.0, 0.0), (9.0, 0.0), (9.0, 3.0), (4.0, 3.0), (4.0, 7.0), (0.0, 7.0))  # an L of two arms


def turned(outline, by: float):
    return tuple((x * math.cos(by) - y * math.sin(by), x * math.sin(by) + y * math.cos(by)) for x, y in outline)


class Stand(unittest.TestCase):
    def test_it_stands_nearest_to_where_it_is_wanted(self):
        floor = stand(ROOM, 6.0, 3.0, (0.0, 0.0))
        self.assertAlmostEqual(math.dist(floor.middle, (3.0, 1.5)), 0.0, delta=1e-6)
        self.assertAlmostEqual(area_of(floor.outline), 18.0)
        far = stand(ROOM, 6.0, 3.0, (8.0, 4.0))
        self.assertAlmostEqual(math.dist(far.middle, (5.0, 2.5)), 0.0, delta=1e-6)

    def test_just_as_large_as_the_room_fits_and_a_millimetre_more_does_not(self):
        self.assertIsNotNone(stand(ROOM, 8.0, 4.0, (0, 0)))
        self.assertIsNotNone(stand(ROOM, 4.0, 8.0, (0, 0)), "turned by a quarter")
        self.assertIsNone(stand(ROOM, 8.001, 4.0, (0, 0)))
        self.assertIsNone(stand(ROOM, 8.0, 4.001, (0, 0)))

    def test_all_corners_are_inside_an_angled_room_in_any_turn(self):
        for by in (0.0, 0.3, 1.2, 2.9):
            outline = turned(ANGLE, by)
            floor = stand(outline, 6.5, 2.8, turned(((4.0, 7.0),), by)[0])
            middle = floor.middle
            for x, y in floor.outline:
                near = (middle[0] + (x - middle[0]) * 0.999, middle[1] + (y - middle[1]) * 0.999)
                self.assertTrue(inside(outline, near), by)

    def test_others_keep_it_away(self):
        first = stand(ROOM, 4.0, 4.0, (0, 0))
        second = stand(ROOM, 4.0, 4.0, (0, 0), (first.outline,))
        self.assertAlmostEqual(second.middle[0], 6.0, delta=1e-4)
        self.assertIsNone(stand(ROOM, 4.0, 4.0, (0, 0), (first.outline, second.outline)))


class Missing(unittest.TestCase):
    def test_what_is_missing_is_measured(self):
        found = lacks(ROOM, 9.2, 3.0)
        self.assertAlmostEqual(found.long_m, 1.2, delta=0.02)  # found by halves to a centimetre
        self.assertTrue(math.isnan(found.wide_m), "no narrower one would fit")

    def test_either_side_may_help(self):
        """A floor of 7 by 4.5 fits once it is 4 wide, or once it is 4 long and turned."""
        found = lacks(ROOM, 7.0, 4.5)
        self.assertAlmostEqual(found.wide_m, 0.5, delta=0.02)
        self.assertAlmostEqual(found.long_m, 3.0, delta=0.02)

    def test_around_a_corner(self):
        """In the L the long arm is 3 wide and 9 long, the other 4 wide and 7 long."""
        found = lacks(ANGLE, 8.0, 3.4)
        self.assertAlmostEqual(found.wide_m, 0.4, delta=0.02)
        self.assertAlmostEqual(found.long_m, 1.0, delta=0.02)


if __name__ == "__main__":
    unittest.main()
