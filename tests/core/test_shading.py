"""Shadows and shades: published lit shares, obstacles against fixed fins and overhangs, blinds after EN 13363-1."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import window_u_value
from garnetfin.core.fabric.shades import Device, closed_hours, with_shade
from garnetfin.core.fabric.shading import Window, in_front, lit_day, lit_past

SOUTH = 180.0


def lit(elevation: float, off_deg: float, **measures) -> float:
    return float(lit_past([], np.radians([elevation]), np.radians([SOUTH + off_deg]), SOUTH, Window(**measures))[0])


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
        fixed = lit_past([], *self.SUN, SOUTH, Window(1.0, 1.2, overhang_m=0.5, overhang_gap_m=0.1))
        assert_allclose(self.cast(plate), fixed, atol=1e-5)  # the plate begins a micrometre before the glass

    def test_a_tall_wing_at_the_jamb_is_a_fin(self):
        wing = [(-0.5, 0, -90), (-0.5, -0.8, -90), (-0.5, -0.8, 90), (-0.5, 0, 90)]
        fixed = lit_past([], *self.SUN, SOUTH, Window(1.0, 1.2, fin_left_m=0.8))
        assert_allclose(self.cast(wing), fixed, atol=1e-5)

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
        far = [(-9, -1500, 0), (9, -1500, 0), (9, -1500, 9), (-9, -1500, 9)]
        self.assertEqual(in_front(np.array([behind, far], float), self.MIDDLE, SOUTH), [])

    def test_the_part_behind_the_plane_is_cut_off(self):
        through = [(2, 5, 0), (2, -5, 0), (2, -5, 3), (2, 5, 3)]
        cut = in_front(np.array([through], float), self.MIDDLE, SOUTH)[0]
        self.assertGreaterEqual(cut[:, 2].min(), 0.0)
        self.assertAlmostEqual(cut[:, 2].max(), 5.0)


def block(x0: float, x1: float, y0: float, y1: float, height: float) -> list:
    """The four walls of a block; x to the east, y to the north."""
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    return [[(*a, 0), (*b, 0), (*b, height), (*a, height)] for a, b in zip(corners, corners[1:] + corners[:1])]


def by_rays(obstacles: list, elevation: float, azimuth: float, window: Window, n: int = 120) -> float:
    """Lit share of a south window of bare glass by n x n rays: each is free or meets an obstacle's plane within it."""
    b, g = np.radians(elevation), np.radians(azimuth - SOUTH)
    to_sun = np.array([-np.sin(g) * np.cos(b), np.sin(b), np.cos(g) * np.cos(b)])
    step = (np.arange(n) + 0.5) / n - 0.5
    x, y = (a.ravel() for a in np.meshgrid(step * window.width_m, step * window.height_m))
    free = np.ones(n * n, bool)
    for corners in obstacles:
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
        along = normal @ to_sun
        if abs(along) < 1e-12:
            continue
        start = np.stack([x, y, np.zeros_like(x)], axis=1)
        t = ((corners[0] - start) @ normal) / along
        hit = start + t[:, None] * to_sun
        sides = [
            (np.cross(c - a, hit - a) @ normal) for a, c in zip(corners, np.roll(corners, -1, axis=0), strict=True)
        ]
        free &= ~((t > 0) & (np.min(sides, axis=0) >= 0))
    return float(free.mean())


class Exact(unittest.TestCase):
    """Published by the methods, and rays."""

    def test_finite_overhang_and_fin(self):
        window = Window(
            1.8,
            1.4,
            overhang_m=0.9,
            overhang_gap_m=0.15,
            overhang_left_m=0.2,
            overhang_right_m=0.6,
            fin_left_m=0.6,
            fin_gap_m=0.1,
            fin_below_m=0.0,
            fin_above_m=0.2,
        )
        for elevation, azimuth, wanted in ((50.0, 215.0, 0.1460), (35.0, 150.0, 0.5867)):
            found = lit_past([], np.radians([elevation]), np.radians([azimuth]), SOUTH, window)
            # Strips end where outlines turn, not where two outlines cross: some ten-thousandths of the window.
            assert_allclose(found, wanted, atol=1.5e-3)

    def test_two_blocks_beside(self):
        walls = np.array(block(-6, -2, -9, -5, 8) + block(-3, 4, -15, -11, 11), float)
        before = in_front(walls, np.array([0.0, 0.0, 4.0]), SOUTH, 2.0)
        found = lit_past(before, np.radians([28.0]), np.radians([195.0]), SOUTH, Window(2.0, 2.0))
        assert_allclose(found, 0.0755, atol=1e-3)

    def test_scenes_by_chance_against_rays(self):
        rng = np.random.default_rng(6)
        window = Window(2.0, 1.6)
        for _ in range(40):
            walls = []
            for _ in range(rng.integers(1, 4)):
                x, y = rng.uniform(-8, 6), rng.uniform(-12, -2)
                walls += block(x, x + rng.uniform(0.5, 5), y, y + rng.uniform(0.5, 1.9), rng.uniform(2, 9))
            before = in_front(np.array(walls, float), np.array([0.0, 0.0, 1.5]), SOUTH, window.height_m)
            elevation, azimuth = rng.uniform(8, 65), SOUTH + rng.uniform(-70, 70)
            found = lit_past(before, np.radians([elevation]), np.radians([azimuth]), SOUTH, window)[0]
            # 120 x 120 rays are sharp to half a ray along an edge; strips to 0.014 at worst.
            assert_allclose(found, by_rays(before, elevation, azimuth, window), atol=0.02)

    def test_one_obstacle_more_never_lets_more_sun_in(self):
        walls = [np.array(w, float) for w in block(-4, -1, -6, -3, 6) + block(0, 3, -9, -7, 9)]
        elevation, azimuth = np.radians(np.linspace(15, 60, 30)), np.radians(SOUTH + np.linspace(-50, 50, 30))
        middle, last = np.array([0.0, 0.0, 1.5]), 1.0
        for k in range(1, len(walls) + 1):
            before = in_front(np.array(walls[:k]), middle, SOUTH, 1.2)
            now = lit_past(before, elevation, azimuth, SOUTH, Window(1.0, 1.2))
            self.assertTrue((now <= last + 1e-9).all())
            last = now

    def test_a_day_of_quick_shadows_against_rays_every_twenty_seconds(self):
        """Slats of a screen: beam on the glass in any hour within 2 W/m2 of 800, the day within a hundredth."""
        slats = [[(x, -3, 0), (x + 0.5, -3, 0), (x + 0.5, -3, 8), (x, -3, 8)] for x in np.arange(-9, 9, 1.3)]
        before = in_front(np.array(slats, float), np.array([0.0, 0.0, 1.5]), SOUTH, 1.5)
        window = Window(1.2, 1.5)

        def path(minutes: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
            turn = np.radians((minutes / 60 - 12) * 15)
            return np.radians(50.0) * np.cos(turn), np.radians(SOUTH) + turn * 0.9

        five, fine = path(np.arange(2.5, 1440, 5)), path(np.arange(1 / 6, 1440, 1 / 3))

        def beam(lit: np.ndarray, sun: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
            cosine = np.cos(sun[0]) * np.cos(sun[1] - np.radians(SOUTH))
            return (800 * lit * np.maximum(cosine, 0) * (sun[0] > 0)).reshape(24, -1).mean(axis=1)

        found = beam(lit_day(before, *five, SOUTH, window), five)
        exact = beam(lit_past(before, *fine, SOUTH, window), fine)
        assert_allclose(found, exact, atol=2.0)
        assert_allclose(found.sum(), exact.sum(), rtol=0.01)
        self.assertLess(exact.sum(), 0.9 * beam(np.ones(len(fine[0])), fine).sum())


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
