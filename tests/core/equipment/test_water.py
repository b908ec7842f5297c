"""Water in tubes against published properties and the limits of its laws."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.equipment import water
from garnetfin.core.errors import InputError


class Properties(unittest.TestCase):
    def test_water_of_ten_degrees(self):
        of = water.liquid(10.0)
        assert_allclose([of.density, of.heat], [999.753, 4194.93], rtol=2e-6)
        assert_allclose([of.conductivity, of.viscosity], [0.578910, 0.00130680], rtol=2e-5)

    def test_published_values_of_water(self):
        """IAPWS-95 at 101325 Pa, within what the fit promises."""
        of = water.liquid(np.array([20.0, 50.0, 80.0]))
        assert_allclose(of.density, [998.21, 988.03, 971.79], rtol=2e-4)
        assert_allclose(of.heat, [4184.1, 4181.3, 4196.3], rtol=4e-4)
        assert_allclose(of.conductivity, [0.5985, 0.6436, 0.6703], rtol=5e-3)
        assert_allclose(of.viscosity, [1.0016e-3, 5.465e-4, 3.543e-4], rtol=3e-3)

    def test_glycol_between_two_shares_lies_between_them(self):
        low, mid, high = (water.liquid(5.0, share) for share in (0.2, 0.25, 0.3))
        for name in ("density", "heat", "conductivity", "viscosity"):
            a, b, c = (float(getattr(x, name)) for x in (low, mid, high))
            self.assertTrue(min(a, c) < b < max(a, c), name)

    def test_what_cannot_be_is_refused(self):
        for t, glycol in ((-3.0, 0.0), (96.0, 0.0), (61.0, 0.3), (-9.0, 0.2), (20.0, 0.1), (20.0, 0.5), (np.nan, 0.0)):
            with self.subTest(t=t, glycol=glycol), self.assertRaises(InputError):
                water.liquid(t, glycol)


class Tubes(unittest.TestCase):
    def test_film_at_one_metre_a_second(self):
        assert_allclose(water.film(1.0, 0.0113, water.liquid(9.0)), 3899.64, rtol=2e-6)

    def test_friction(self):
        assert_allclose(water.friction_factor([3000.0, 9000.0]), [0.0334322, 0.0324306], rtol=3e-6)
        assert_allclose(water.friction_factor(1000.0), 0.064)

    def test_laws_meet_at_their_ends(self):
        of = water.liquid(20.0)
        for re in (water.LAMINAR, water.TURBULENT):
            v = np.array([0.999999, 1.000001]) * re * float(of.viscosity / of.density) / 0.01
            for law in (water.film(v, 0.01, of), water.friction_factor(water.reynolds(v, 0.01, of))):
                assert_allclose(law[0], law[1], rtol=1e-4)

    def test_drop_of_a_straight_tube_in_laminar_flow(self):
        """Hagen and Poiseuille, 32 mu L v/d2, with both headers on top."""
        of, v, d = water.liquid(10.0), 0.1, 0.010
        drop = water.tube_drop(v, d, 2.0, 0, of)
        assert_allclose(drop, 32 * of.viscosity * 2.0 * v / d**2 + 3 * of.density * v**2 / 2, rtol=1e-12)
