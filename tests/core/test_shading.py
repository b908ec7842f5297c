"""Shadows and shades: published lit shares, obstacles against fixed fins and overhangs, blinds after EN 13363-1."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import window_u_value
from garnetfin.core.fabric.shades import Device, closed_hours, with_shade
from garnetfin.core.fabric.shading import GRID, Window, in_front, lit_past, lit_share

SOUTH = 180.0


def lit(elevation: float, off_deg: float, **measures) -> float:
    return float(lit_share(np.radians([elevation]), np.radians([SOUTH + off_deg]), SOUTH, Window(**measures))[0])


class Fixed(unittest.TestCase):
    def test_published_shares(self):
        self.assertAlmostEqual(lit(45, 30, width_m=1, height_m=1.2, overhang_m=0.5, overhang_gap_m=0.1), 0.6022, 4)
        self.assertAlmostEqual(lit(1, 40, width_m=1, height_m=1, fin_left_m=0.3), 0.7483, 4)
        self.assertAlmostEqual(lit(40, 25, width_m=1.2, height_m=1.5, reveal_m=0.2), 0.8084, 4)

    def test_a_fin_shades_from_its_own_side_only(self):
        # West of south the sun stands to the left of one who looks at the window from outside.
        self.assertLess(lit(20, 40, width_m=1, height_m=1, fin_left_m=0.3), 1.0)
        self.assertEqual(lit(20, 40, width_m=1, height_m=1, fin_right_m=0.3), 1.0)
        self.assertAlmostEqual(
            lit(20, 40, width_m=1, height_m=1, fin_left_m=0.3), lit(20, -40, width_m=1, height_m=1, fin_right_m=0.3), 12
        )

    def test_behind_the_wall_and_below_the_horizon_nothing_is_lit(self):
        self.assertEqual(lit(30, 120, width_m=1, height_m=1), 0.0)
        self.assertEqual(lit(-5, 0, width_m=1, height_m=1), 0.0)

    def test_deep_fins_take_it_all(self):
        self.assertEqual(lit(10, 60, width_m=1, height_m=1, fin_left_m=5.0), 0.0)

    def test_impossible_windows_are_refused(self):
        self.assertRaisesRegex(InputError, "above 0", Window, 0.0, 1.0)
        self.assertRaisesRegex(InputError, "0 m or more", Window, 1.0, 1.0, reveal_m=-0.1)


class Obstacles(unittest.TestCase):
    MIDDLE = np.array([0.0, 0.0, 1.0])
    SUN = np.radians(np.linspace(12, 70, 15)), np.radians(SOUTH + np.linspace(-60, 60, 15))

    def cast(self, corners, window=Window(1.0, 1.2)) -> np.ndarray:
        return lit_past(in_front(np.array([corners], float), self.MIDDLE, SOUTH), *self.SUN, SOUTH, window)

    def test_a_wide_plate_above_is_an_overhang(self):
        plate = [(-90, 0, 1.7), (90, 0, 1.7), (90, -0.5, 1.7), (-90, -0.5, 1.7)]
        fixed = lit_share(*self.SUN, SOUTH, Window(1.0, 1.2, overhang_m=0.5, overhang_gap_m=0.1))
        # The edge of a shadow falls between two rows of points: half a row at most.
        assert_allclose(self.cast(plate), fixed, atol=0.5 / GRID + 0.01)
        self.assertLess(np.abs(self.cast(plate) - fixed).mean(), 0.04)

    def test_a_tall_wing_at_the_jamb_is_a_fin(self):
        wing = [(-0.5, 0, -90), (-0.5, -0.8, -90), (-0.5, -0.8, 90), (-0.5, 0, 90)]
        fixed = lit_share(*self.SUN, SOUTH, Window(1.0, 1.2, fin_left_m=0.8))
        assert_allclose(self.cast(wing), fixed, atol=0.5 / GRID + 0.01)

    def test_two_shadows_over_each_other_count_once(self):
        plate = [(-90, 0, 1.7), (90, 0, 1.7), (90, -0.5, 1.7), (-90, -0.5, 1.7)]
        once = self.cast(plate)
        twice = lit_past(
            in_front(np.array([plate, plate], float), self.MIDDLE, SOUTH), *self.SUN, SOUTH, Window(1.0, 1.2)
        )
        assert_allclose(twice, once)

    def test_a_wall_across_the_street_hides_the_low_sun_alone(self):
        wall = [(-200, -20, 0), (200, -20, 0), (200, -20, 9), (-200, -20, 9)]
        elevation, azimuth = np.radians([10.0, 40.0]), np.radians([SOUTH, SOUTH])
        found = lit_past(
            in_front(np.array([wall], float), self.MIDDLE, SOUTH), elevation, azimuth, SOUTH, Window(1.0, 1.2)
        )
        assert_allclose(found, [0.0, 1.0])

    def test_what_stands_behind_or_far_below_casts_nothing(self):
        behind = [(-9, 5, 0), (9, 5, 0), (9, 5, 20), (-9, 5, 20)]
        far = [(-9, -500, 0), (9, -500, 0), (9, -500, 9), (-9, -500, 9)]
        self.assertEqual(in_front(np.array([behind, far], float), self.MIDDLE, SOUTH), [])

    def test_the_part_behind_the_plane_is_cut_off(self):
        through = [(2, 5, 0), (2, -5, 0), (2, -5, 3), (2, 5, 3)]
        cut = in_front(np.array([through], float), self.MIDDLE, SOUTH)[0]
        self.assertGreaterEqual(cut[:, 2].min(), 0.0)
        self.assertAlmostEqual(cut[:, 2].max(), 5.0)


class Blinds(unittest.TestCase):
    def test_published_values(self):
        inside = with_shade(0.60, 0.54, 0.26, 1.1, Device(0.1, 0.6, False))
        outside = with_shade(0.60, 0.54, 0.26, 1.1, Device(0.1, 0.6, True))
        self.assertAlmostEqual(inside[0], 0.37763, 5)
        self.assertAlmostEqual(outside[0], 0.09143, 5)
        self.assertAlmostEqual(inside[1], 0.54 * 0.1 / (1 - 0.26 * 0.6), 9)

    def test_a_device_that_does_nothing_leaves_the_glass_as_it_is(self):
        self.assertAlmostEqual(with_shade(0.5, 0.43, 0.2, 1.3, Device(1.0, 0.0, False))[0], 0.5, 9)

    def test_when_it_is_closed(self):
        sun = np.array([[0.0] * 8 + [300.0] * 8 + [0.0] * 8])
        self.assertEqual(closed_hours("sun", sun, 200.0, (0, 0)).sum(), 8)
        self.assertEqual(closed_hours("hours", sun, 0.0, (22, 6)).sum(), 8)
        self.assertEqual(
            (closed_hours("always", sun, 0, (0, 0)).sum(), closed_hours("never", sun, 0, (0, 0)).sum()), (24, 0)
        )
        self.assertRaisesRegex(InputError, "never, always", closed_hours, "sometimes", sun, 0.0, (0, 0))

    def test_more_than_all_light_is_refused(self):
        self.assertRaisesRegex(InputError, "at most 1 together", Device, 0.6, 0.6, True)

    def test_window_from_glass_and_frame(self):
        # 1.23 x 1.48 m, glass 1.1, frame 1.4 on a quarter, edge 0.06 over 4.336 m: by hand.
        self.assertAlmostEqual(
            window_u_value(1.1, 1.4, 0.25, 0.06, 4.336, 1.23 * 1.48), 0.75 * 1.1 + 0.25 * 1.4 + 0.06 * 4.336 / 1.8204, 9
        )
