"""Shapes of fittings against sums by hand: what they take of the axes, their sheet, what hangs them."""

import unittest
from math import pi, sqrt

from numpy.testing import assert_allclose

from garnetfin.core.ducts import pieces
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.tables import hangers

MM = 1e-6  # checks are given to a thousandth of a millimetre


def rectangle(width: float, height: float) -> Section:
    return Section("rectangular", width, height)


def circle(diameter: float) -> Section:
    return Section("round", diameter, diameter)


class Takes(unittest.TestCase):
    def test_tees_and_wyes(self):
        made = pieces.tee(rectangle(0.6, 0.4), rectangle(0.45, 0.35), 90.0)
        assert_allclose(made.takes_m, (0.325, 0.325, 0.4), atol=MM)
        reduced = pieces.reducer(rectangle(0.6, 0.4), rectangle(0.4, 0.4))
        assert_allclose(reduced.takes_m, (0.0, 0.373205), atol=MM)
        assert_allclose(made.sheet_m2 + reduced.sheet_m2, 1.98480, atol=5e-6)
        assert_allclose(pieces.tee(circle(0.4), circle(0.315), 45.0).takes_m, (0.122739, 0.522739, 0.540343), atol=MM)
        # leaning the other way its two sides change places
        back = pieces.tee(circle(0.4), circle(0.315), 135.0)
        assert_allclose(back.takes_m, (0.522739, 0.122739, 0.540343), atol=MM)

    def test_a_small_branch_that_stands_upright_is_a_tap(self):
        main = rectangle(0.6, 0.4)
        self.assertTrue(pieces.tapped(main, circle(0.16), 90.0))
        self.assertFalse(pieces.tapped(main, circle(0.16), 60.0))
        self.assertFalse(pieces.tapped(main, rectangle(0.45, 0.35), 90.0))  # 0.66 of the main
        made = pieces.tap(main, circle(0.16))
        assert_allclose(made.takes_m, (0.0, 0.0, 0.45))
        # frustum from 260 to 160 mm over 150 mm
        assert_allclose(made.sheet_m2, pi * (0.26 + 0.16) / 2 * sqrt(0.15**2 + 0.05**2))
        assert_allclose(pieces.tap(main, circle(0.16), flat=False).takes_m[2], 0.35)
        assert_allclose(pieces.tap(main, rectangle(0.5, 0.2), shoe=True).takes_m[2], 0.3 + 0.125)

    def test_bends(self):
        flat = pieces.bend(rectangle(0.5, 0.3), 90.0)
        assert_allclose((*flat.takes_m, flat.sheet_m2), (0.5, 0.5, 1.256637), atol=MM)
        upright = pieces.bend(rectangle(0.5, 0.3), 90.0, flat=False)
        assert_allclose(upright.takes_m, (0.3, 0.3))
        round_ = pieces.bend(circle(0.4), 60.0)
        assert_allclose(round_.sheet_m2, 0.915232, atol=MM)
        assert_allclose(round_.takes_m[0], 0.6 * sqrt(3) / 3)
        mitre = pieces.bend(rectangle(0.5, 0.3), 90.0, mitred=True)
        assert_allclose((mitre.takes_m[0], mitre.sheet_m2), (0.3, 1.6 * 0.6))
        # nothing turns by nothing, and what turns back takes two
        assert_allclose(pieces.bend(rectangle(0.5, 0.3), 0.0).takes_m, (0.0, 0.0))
        assert_allclose(pieces.bend(rectangle(0.5, 0.3), 150.0).takes_m[0], 2 * 0.5 * 0.767327, atol=MM)

    def test_reducers(self):
        flat = pieces.reducer(rectangle(0.6, 0.4), rectangle(0.4, 0.3), flat_side=True)
        assert_allclose((flat.takes_m[1], flat.sheet_m2), (0.549495, 0.944972), atol=MM)
        small = pieces.reducer(rectangle(0.4, 0.3), rectangle(0.35, 0.3))
        self.assertEqual(small.takes_m[1], 0.25)  # none is shorter
        cone = pieces.reducer(circle(0.4), circle(0.25))
        assert_allclose(cone.sheet_m2, pi * 0.325 * sqrt(cone.takes_m[1] ** 2 + 0.075**2))
        to_round = pieces.reducer(rectangle(0.4, 0.3), circle(0.3))
        assert_allclose(to_round.sheet_m2, (1.4 + pi * 0.3) / 2 * sqrt(to_round.takes_m[1] ** 2 + 0.025**2))

    def test_heads_and_boxes(self):
        made = pieces.bullhead(rectangle(0.6, 0.3), [rectangle(0.4, 0.3), rectangle(0.3, 0.3)])
        assert_allclose(made.takes_m, (0.3, 0.4, 0.4))
        self.assertEqual(len(pieces.box(rectangle(0.6, 0.3), [circle(0.2)] * 5).takes_m), 6)


class Hung(unittest.TestCase):
    def test_the_least_row_that_carries(self):
        rows = hangers()
        self.assertEqual(pieces.hanger_for(rows, circle(0.2)).upto_m, 0.2)
        self.assertEqual(pieces.hanger_for(rows, circle(0.21)).upto_m, 0.4)
        self.assertEqual(pieces.hanger_for(rows, rectangle(0.6, 0.4)).spacing_m, 2.4)
        self.assertEqual(pieces.hanger_for(rows, rectangle(0.7, 0.4)).rail, "41x21")
        self.assertEqual(pieces.hanger_for(rows, rectangle(9.0, 4.0)).upto_m, 6.0)  # the greatest there is
        self.assertEqual([pieces.hangers_on(x, 2.4) for x in (0.3, 2.4, 2.5, 6.0)], [1, 1, 2, 3])

    def test_ties_and_flanges_grow_with_the_sides(self):
        self.assertEqual(pieces.ties(rectangle(1.2, 1.1), 1.5, 300.0), 4)
        self.assertEqual(pieces.ties(rectangle(1.2, 0.5), 1.5, -1500.0), 3)
        self.assertEqual(pieces.ties(rectangle(1.0, 0.5), 1.5, 300.0), 0)
        self.assertEqual([pieces.flange_kg_m(rectangle(a, 0.3)) for a in (1.0, 1.5, 2.5)], [0.85, 1.30, 1.90])
        self.assertEqual(pieces.flange_kg_m(circle(1.2)), 0.0)

    def test_mass_and_insulation_of_two_legs_and_a_bend(self):
        duct, outside = rectangle(0.5, 0.3), rectangle(0.56, 0.36)
        bend = pieces.bend(duct, 90.0)
        straight = 6.0 + 4.0 - 2 * bend.takes_m[0] - pieces.UNIT_M
        sheet = straight * duct.perimeter_m + bend.sheet_m2
        assert_allclose(sheet, 15.4166, atol=5e-5)
        assert_allclose(pieces.sheet_kg(sheet, 0.0007, 7850.0), 87.256, atol=5e-4)
        assert_allclose(pieces.wrapped_m2(duct, outside, straight, bend.sheet_m2), 17.7291, atol=5e-5)
