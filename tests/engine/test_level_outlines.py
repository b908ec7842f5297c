"""A level as polygons: walls with their openings, ducts at true width; areas by another road."""

import math
import unittest

from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from garnetfin.engine.layout.level_outlines import WIDEST_LEAF, duct_outlines, label_box, wall_outlines
from garnetfin.project.spaces import INSIDE, OUTSIDE, Opening, Wall
from tests.example import station, station_results

ROOM = ((0.0, 0.0), (5.0, 0.0), (5.0, 4.0), (0.0, 4.0))


def wall(*openings: Opening, room_b: str = OUTSIDE) -> Wall:
    return Wall(
        id="w",
        level_id="G",
        start=(0.0, 0.0),
        end=(5.0, 0.0),
        height_m=3.0,
        thickness_m=0.3,
        build_up_id="b",
        room_a="r",
        room_b=room_b,
        openings=openings,
    )


WINDOW = Opening(id="o", kind="window", at_m=2.0, width_m=1.6, sill_m=0.9, head_m=2.4, glazing_id="g")
DOOR = Opening(id="d", kind="door", at_m=4.0, width_m=0.9, sill_m=0.0, head_m=2.1)


class Walls(unittest.TestCase):
    def test_solid_and_gaps_fill_the_wall(self):
        found = wall_outlines((wall(WINDOW, DOOR),), {"r": ROOM}, "G")
        solid, gaps = (unary_union([Polygon(p) for p in parts]) for parts in (found.solid, found.gaps))
        whole = box(-0.15, -0.15, 5.15, 0.15)  # both ends reach half the thickness around the corner
        self.assertAlmostEqual(solid.union(gaps).symmetric_difference(whole).area, 0.0, places=9)
        self.assertAlmostEqual(solid.intersection(gaps).area, 0.0, places=9)
        self.assertAlmostEqual(gaps.area, (1.6 + 0.9) * 0.3, places=9)

    def test_glass_lies_in_its_gap_and_a_door_opens_into_its_room(self):
        found = wall_outlines((wall(WINDOW, DOOR),), {"r": ROOM}, "G")
        self.assertEqual((len(found.glass), len(found.panes), len(found.doors)), (1, 4, 1))
        self.assertTrue(Polygon(found.gaps[0]).buffer(1e-9).contains(Polygon(found.glass[0])))
        hinge, tip, *swing = found.doors[0]
        self.assertAlmostEqual(math.dist(hinge, tip), 0.9)
        self.assertGreater(tip[1], 0.5)  # the room lies to the north of the wall
        self.assertTrue(all(abs(math.dist(hinge, p) - 0.9) < 1e-9 for p in swing))
        self.assertEqual([o.id for _, o, _, _ in found.openings], ["o", "d"])

    def test_a_wide_leaf_has_no_swing(self):
        wide = Opening(id="d", kind="door", at_m=2.5, width_m=WIDEST_LEAF + 0.1, sill_m=0.0, head_m=2.1)
        self.assertEqual(wall_outlines((wall(wide),), {"r": ROOM}, "G").doors, ())

    def test_other_levels_and_rooms_that_are_not_drawn_are_left_out(self):
        self.assertEqual(wall_outlines((wall(WINDOW),), {"r": ROOM}, "1").solid, ())
        self.assertEqual(wall_outlines((wall(room_b=INSIDE),), {"r": ROOM}, "G").solid, ())


class Labels(unittest.TestCase):
    def test_a_box_is_its_own_place(self):
        self.assertEqual(label_box(ROOM), (0.0, 0.0, 5.0, 4.0))

    def test_in_an_angle_it_takes_the_larger_arm(self):
        angle = ((0.0, 0.0), (8.0, 0.0), (8.0, 3.0), (2.0, 3.0), (2.0, 5.0), (0.0, 5.0))
        self.assertEqual(label_box(angle), (0.0, 0.0, 8.0, 3.0))


class Ducts(unittest.TestCase):
    def test_pieces_are_as_wide_as_their_sections_and_the_rings_hold_them(self):
        project, ducts = station(), station_results().ducts["ahu-north"]
        for level in project.levels:
            found = duct_outlines(project.duct_points, project.segments, ducts, level.id)
            together = unary_union([Polygon(p) for p in found.pieces.values()]) if found.pieces else Polygon()
            rings = unary_union([Polygon(r).buffer(0) for r in found.rings]) if found.rings else Polygon()
            self.assertLess(together.difference(rings.buffer(1e-6)).area, 1e-6)
            for segment_id, outline in found.pieces.items():
                a, b = found.lines[segment_id]
                width = ducts.segments[segment_id].section.width_m
                self.assertAlmostEqual(Polygon(outline).area, math.dist(a, b) * width, places=9)
        self.assertTrue(found.pieces or found.risers)
