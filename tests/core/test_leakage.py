"""Leaks: worked figures, a march in slices, a duct with its friction solved to its root."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.ducts.leakage import at_pressure, leak, leak_coefficient, mean_along
from garnetfin.core.errors import InputError


class Leaks(unittest.TestCase):
    def test_worked_figures(self):
        assert_allclose(mean_along(250.0, 100.0), 28.49999, rtol=1e-6)
        assert_allclose(mean_along(100.0, -40.0), 6.73297, rtol=1e-6)
        # 68.4 m2 of class B at 400 Pa
        assert_allclose(leak(leak_coefficient("B"), 68.4, 400.0, 400.0), 0.0302439, rtol=1e-5)
        assert_allclose(mean_along(80.0, 80.0), 80.0**0.65)

    def test_the_mean_is_that_of_many_slices(self):
        for first, last in ((300.0, 20.0), (-500.0, -30.0), (120.0, -90.0)):
            p = np.linspace(first, last, 200_001)
            # 1e-4: the march is coarse where the pressure passes 0
            assert_allclose(mean_along(first, last), at_pressure((p[1:] + p[:-1]) / 2).mean(), rtol=1e-4)

    def test_one_duct_to_its_root(self):
        """Round 0.4 m, 40 m, k 0.5, class A, 0.5 m3/s and 120 Pa at its end."""
        area, surface, pv_of = np.pi * 0.04, np.pi * 0.4 * 40.0, lambda q: 0.6 * (q / (np.pi * 0.04)) ** 2
        out = 0.0
        for _ in range(60):
            near, mid = 0.5 + out, 0.5 + out / 2
            friction = float(duct_gradient(mid, area, 0.4, 9e-5, 0.0, 1.2, 1.81e-5)) * 40.0
            last = 120.0 - pv_of(mid)
            out = float(leak(leak_coefficient("A"), surface, last + friction, last))
        assert_allclose(out, 0.030357, rtol=1e-3)
        # a march in 1,500 slices has 144.355; the mean flow for friction is good to 0.04 %
        assert_allclose(120.0 + friction + 0.5 * pv_of(near), 144.355, rtol=4e-4)

    def test_a_class_that_is_none_is_refused(self):
        with self.assertRaisesRegex(InputError, "no class of tightness “E”"):
            leak_coefficient("E")
