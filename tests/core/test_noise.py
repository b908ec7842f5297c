"""Noise of air systems against published values and closed forms."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core import noise
from garnetfin.core.errors import InputError

SPECTRUM = (55, 50, 44, 38, 33, 28, 22, 16)


class Published(unittest.TestCase):
    """Values of the method page; each to its last printed digit."""

    def test_ratings_of_a_spectrum(self):
        assert_allclose(noise.noise_criterion(SPECTRUM), 33.8, atol=0.051)
        assert_allclose(noise.noise_rating(SPECTRUM), 34.4, atol=0.051)
        assert_allclose(noise.weighted(SPECTRUM), 41.1, atol=0.051)

    def test_flow_in_a_duct(self):
        assert_allclose(noise.duct_power(8.0, 0.25), 46.1, atol=0.051)

    def test_an_open_end(self):
        assert_allclose(noise.open_end(0.25)[1], 9.0, atol=0.051)
        self.assertTrue((noise.open_end(0.25, flush=False) > noise.open_end(0.25)).all())

    def test_rooms(self):
        assert_allclose(noise.to_room(2.0, 200.0)[4], -11.5, atol=0.051)

    def test_a_curve_of_the_table_has_its_own_number(self):
        for rating, row in zip(noise.NC, noise.NC_TABLE):
            assert_allclose(noise.noise_criterion(row), rating, atol=1e-9)


class Sums(unittest.TestCase):
    def test_equal_levels_add_three_decibels(self):
        assert_allclose(noise.add([50.0, 50.0]), 50 + 10 * np.log10(2), atol=1e-12)
        assert_allclose(noise.add(np.full((4, 8), 30.0)), 30 + 10 * np.log10(4), atol=1e-12)

    def test_a_shape_adds_up_to_its_total(self):
        for shape in (*noise.FAN_SHAPE.values(), noise.TERMINAL_SHAPE):
            assert_allclose(noise.add(noise.shaped(70.0, shape)), 70.0, atol=1e-9)
            assert_allclose(noise.weighted(noise.shaped(30.0, shape, a_weighted=True)), 30.0, atol=1e-9)

    def test_bands_of_flow_add_up_to_its_total_and_rise_in_pitch_with_speed(self):
        for v in (3.0, 6.0, 12.0):
            assert_allclose(noise.add(noise.duct_bands(v, 0.1)), noise.duct_power(v, 0.1), atol=1e-9)
        slow, fast = (noise.duct_bands(v, 0.1) - noise.duct_power(v, 0.1) for v in (3.0, 12.0))
        self.assertTrue((fast[4:] > slow[4:]).all())


class Dampers(unittest.TestCase):
    def test_what_they_add_and_how_far_they_may_go_belong_together(self):
        for place in noise.DAMPER_DB:
            for adds in (1.0, 2.5, 4.5):
                assert_allclose(noise.damper_adds(noise.most_ratio(adds, place), place), adds, atol=1e-9)
        self.assertEqual(noise.most_ratio(5.0, "upstream"), float("inf"))
        self.assertEqual(noise.damper_adds(1.0, "neck"), 0.0)

    def test_further_upstream_is_quieter(self):
        ratios = np.linspace(1.5, 6, 10)
        self.assertTrue((noise.damper_adds(ratios, "upstream") < noise.damper_adds(ratios, "plenum")).all())
        self.assertTrue((noise.damper_adds(ratios, "plenum") < noise.damper_adds(ratios, "neck")).all())


class Refusals(unittest.TestCase):
    def test_what_cannot_be_is_named(self):
        self.assertRaisesRegex(InputError, "diameter above 0", noise.open_end, 0.0)
        self.assertRaisesRegex(InputError, "above 0", noise.to_room, -1.0, 50.0)
        self.assertRaises(InputError, noise.to_room, float("nan"), 50.0)

    def test_ducts_quiet_more_with_lining_and_never_below_nothing(self):
        for side in (0.15, 0.3, 0.6, 1.2):
            for is_round in (True, False):
                bare, lined = noise.along(side, is_round), noise.along(side, is_round, lined=True)
                self.assertTrue((bare >= 0).all() and (lined > bare).all())
