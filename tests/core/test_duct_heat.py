"""Heat of ducts: worked figures, a march in slices, what must hold of any duct."""

import unittest
from dataclasses import replace

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.ducts.heat import FINISH, Wrapped, along, conductance, least_thickness
from garnetfin.core.errors import InputError


def duct(width, height=None, insulation=0.0, finish="galvanised", v=6.0, lining=0.0, upright=False) -> Wrapped:
    one = np.ones(1)
    return Wrapped(
        width * one,
        (width if height is None else height) * one,
        np.array([height is None]),
        lining * one,
        insulation * one,
        FINISH[finish] * one,
        np.array([upright]),
        v * one,
        1.2,
        1.81e-5,
    )


class Worked(unittest.TestCase):
    def test_a_round_duct_bare_and_wrapped(self):
        bare = conductance(duct(0.4), 14.0, 26.0)
        assert_allclose((bare.u_w_m2k[0], bare.outside_c[0]), (3.54574, 16.4926), rtol=1e-4)
        wrapped = conductance(duct(0.4, insulation=0.03, finish="bright"), 14.0, 26.0)
        assert_allclose((wrapped.u_w_m2k[0], wrapped.outside_c[0]), (0.893392, 22.5141), rtol=1e-4)

    def test_a_rectangular_duct(self):
        # of a material of 0.040 W/mK
        found = conductance(replace(duct(0.6, 0.3, 0.025, "not metal", 5.0), conductivity=0.04), 13.0, 28.0)
        assert_allclose(found.u_w_m2k[0], 1.28288, rtol=1e-4)

    def test_along_a_duct_that_leaks_or_draws_in(self):
        for start, k, m1, m2, around, entering, cp, wanted in (
            (13.0, 1.35 * 42, 1.15, 1.02, 27.0, None, 1020.0, 13.70002),
            (24.0, 2.2 * 35, 0.9, 1.04, 29.0, None, 1020.0, 24.99759),
            (23.0, 1.1 * 28, 0.5, 0.56, -8.0, 12.0, 1015.0, 20.22049),
        ):
            assert_allclose(along(start, k, cp, m1, m2, around, entering), wanted, atol=1e-4)

    def test_the_least_thickness_that_does_not_drip(self):
        # 600 x 300, 6 m/s, 11.5 degC in a void of 28 degC and 62 %: dew point 20.045
        dew = 20.045 + 1.0
        self.assertEqual(least_thickness(duct(0.6, 0.3, 0.0, "bright"), 11.5, 28.0, dew), 0.019)
        found = conductance(duct(0.6, 0.3, 0.019, "bright"), 11.5, 28.0)
        assert_allclose(found.outside_c[0], 21.8179, atol=2e-3)
        self.assertIsNone(least_thickness(duct(0.6, 0.3, 0.0, "bright"), 11.5, 28.0, 27.9))


class Holds(unittest.TestCase):
    def test_more_insulation_never_lets_more_through(self):
        for shape in ((0.2, None), (0.8, 0.25)):
            k = [float(conductance(duct(*shape, t), 14.0, 28.0).k_w_mk[0]) for t in np.linspace(0, 0.1, 21)]
            self.assertTrue((np.diff(k) < 0).all())

    def test_a_march_in_slices(self):
        rng = np.random.default_rng(3)
        for _ in range(20):
            start, around, entering = rng.uniform(-10, 40, 3)
            k, m1, m2 = rng.uniform(5, 200), *rng.uniform(0.3, 2.0, 2)
            n, t, m = 20_000, start, m1
            for _ in range(n):
                dm = (m2 - m1) / n
                gain = k / n / 1006.0 * (around - t) + max(dm, 0.0) * (entering - t)
                t, m = t + gain / (m + dm / 2), m + dm
            assert_allclose(along(start, k, 1006.0, m1, m2, around, entering), t, atol=2e-3)

    def test_what_is_no_duct_is_refused(self):
        with self.assertRaisesRegex(InputError, "section above 0"):
            conductance(duct(0.0), 14.0, 26.0)
        with self.assertRaisesRegex(InputError, "layers of 0 or more"):
            conductance(duct(0.3, insulation=-0.01), 14.0, 26.0)
