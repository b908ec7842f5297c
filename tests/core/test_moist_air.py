"""States of moist air from any two properties, and processes, against a real-gas library's values and against
balances.
"""

import unittest
from itertools import combinations

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import processes as do
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.states import NAMES, doubtful, state

P = 101325.0
NOT_A_PAIR = ({"w", "td"}, {"h", "wb"})


def w_at(t: float, rh: float, p: float = P) -> float:
    return float(air.humidity_ratio(t, rh, p))


class AnyTwo(unittest.TestCase):
    def test_every_pair_leads_back_to_the_state(self):
        # Away from 0 degC wet bulb, where two states have the same one, and from pairs with volume, which say little of
        # the water.
        rng = np.random.default_rng(5)
        t, rh, p = rng.uniform(8, 55, 200), rng.uniform(0.12, 0.95, 200), rng.uniform(60e3, 105e3, 200)
        known = state(("t", t), ("rh", rh), p)
        for a, b in combinations(NAMES, 2):
            if {a, b} in NOT_A_PAIR:
                continue
            found = state((a, known.get(a)), (b, known.get(b)), p)
            with self.subTest(pair=(a, b)):
                loose = 50 if "v" in (a, b) else 1
                # Bisection over 150 K in 60 steps and five Newton steps leave less than a micro-kelvin; volume
                # multiplies it.
                assert_allclose(found.t, known.t, atol=2e-6 * loose)
                assert_allclose(found.w, known.w, rtol=2e-6 * loose, atol=1e-9)

    def test_cold_air_over_ice(self):
        known = state(("t", [-25.0, -8.0]), ("rh", [0.8, 0.5]), P)
        for other in ("wb", "td", "h"):
            assert_allclose(state(("t", known.t), (other, known.get(other)), P).w, known.w, rtol=1e-6)

    def test_what_cannot_exist_is_refused_with_what_is_accepted(self):
        for first, second, words in (
            (("t", 20.0), ("wb", 25.0), "wet bulb cannot be above"),
            (("t", 20.0), ("td", 21.0), "dew point cannot be above"),
            (("t", 20.0), ("rh", 1.2), "between 0 and 100"),
            (("t", 20.0), ("rh", -0.1), "between 0 and 100"),
            (("t", -300.0), ("rh", 0.5), "between -60 and 90"),
            (("t", 20.0), ("w", -0.001), "below 0"),
            (("t", 20.0), ("w", 0.03), "fog"),
            (("t", 20.0), ("wb", -5.0), "drier than dry"),
            (("w", 0.01), ("td", 12.0), "say the same"),
            (("h", 50e3), ("wb", 17.0), "nearly the same"),
            (("t", 20.0), ("t", 21.0), "different"),
            (("t", np.nan), ("rh", 0.5), "finite"),
            (("t", 20.0), ("x", 1.0), "no property"),
            (("h", 50e3), ("rh", 1.5), "between 0 and 100"),
        ):
            with self.subTest(words=words):
                self.assertRaisesRegex(InputError, words, state, first, second, P)
        self.assertRaisesRegex(InputError, "30 and 120 kPa", state, ("t", 20.0), ("rh", 0.5), 20e3)

    def test_volume_is_doubtful_and_says_so(self):
        self.assertIn("Volume", doubtful("t", "v"))
        self.assertEqual(doubtful("w", "v"), "")
        self.assertEqual(doubtful("t", "rh"), "")


class CheckValues(unittest.TestCase):
    """Values of a real-gas library; the tolerances are what perfect-gas relations differ by from it over all states,
    0.03 K and 1e-5 kg/kg.
    """

    def test_mixing(self):
        t = np.array([[33.0], [25.0], [14.0]])
        w = np.array([[w_at(33, 0.45)], [w_at(25, 0.5)], [w_at(14, 0.9)]])
        found = do.mix(np.array([[0.6], [1.7], [0.4]]), t, w, P)
        assert_allclose((found.t[0], found.w[0], found.fog_kg[0]), (25.165, 0.010758, 0.0), atol=5e-3, rtol=0)
        self.assertLess(abs(found.w[0] - 0.010758), 4e-6)

    def test_fog_falls_out_and_nothing_is_lost(self):
        t, w = np.array([[-12.0], [23.0]]), np.array([[w_at(-12, 0.9)], [w_at(23, 0.75)]])
        found = do.mix(np.ones((2, 1)), t, w, P)
        self.assertAlmostEqual(float(found.t[0]), 7.548, delta=0.02)
        self.assertAlmostEqual(float(found.fog_kg[0]), 0.000761, delta=4e-6)
        before = air.enthalpy(t, w).mean()
        after = air.enthalpy(found.t, found.w) + found.fog_kg * air.water_enthalpy(found.t)
        assert_allclose(after, before, rtol=1e-9)
        assert_allclose(found.w + found.fog_kg, w.mean(), rtol=1e-12)

    def test_wet_coil(self):
        coil = do.cool_to(27.5, w_at(27.5, 0.5), 13.0, 0.1, P, 1.0)
        assert_allclose((coil.adp_c, coil.total_w, coil.sensible_w), (11.379, 21846, 14827), rtol=2e-3)
        self.assertAlmostEqual(float(coil.w), 0.008723, delta=4e-6)
        coil = do.cool_to(30.0, w_at(30, 0.6), 14.0, 0.2, P, 1.0)
        assert_allclose((coil.adp_c, coil.total_w), (9.937, 33330), rtol=2e-3)

    def test_dry_coil_keeps_its_water_and_a_coil_that_need_not_cool_is_off(self):
        coil = do.cool_to([30.0, 15.0], [0.006, 0.006], [18.0, 18.0], 0.1, P, 1.0)
        assert_allclose(coil.w, 0.006)
        assert_allclose(coil.total_w, [air.specific_heat(0.006) * 12.0, 0.0], rtol=1e-9, atol=1e-9)
        self.assertTrue(np.isnan(coil.adp_c).all())

    def test_line_through_two_states(self):
        adp, bypass = do.coil_line(27.0, 0.011, 13.0, 0.0088, P)
        self.assertAlmostEqual(adp, 11.706, delta=0.01)
        assert_allclose(bypass, (13 - adp) / (27 - adp), rtol=1e-9)
        self.assertRaisesRegex(InputError, "No coil surface", do.coil_line, 27.0, 0.011, 16.0, 0.0080, P)
        self.assertRaisesRegex(InputError, "fog", do.coil_line, 27.0, 0.011, 10.0, 0.0105, P)

    def test_humidifiers(self):
        wet = do.evaporate(32.0, w_at(32, 0.2), 0.8, P)
        assert_allclose((wet.t, wet.w), (19.967, 0.010892), rtol=1e-3)
        steam = do.add_water(22.0, w_at(22, 0.15), 0.004, do.STEAM_J_KG, P)
        assert_allclose((steam.t, steam.w), (22.531, 0.006455), rtol=1e-3)
        spray = do.add_water(28.0, w_at(28, 0.25), 0.003, 4186.0 * 10, P)
        self.assertAlmostEqual(float(spray.t), 20.640, delta=0.02)

    def test_recovery_and_its_frost_limit(self):
        cold, warm = (-10.0, w_at(-10, 0.85), 1.0), (22.0, w_at(22, 0.4), 1.0)
        found = do.recover(*cold, *warm, 0.75, 0.0, P)
        assert_allclose((found.t, found.out_t, found.condensate_kg_s), (14.00, 2.916, 0.001912), rtol=6e-3)
        k = do.frost_share(*cold, *warm, 0.8, 0.0, P, 4.0)
        self.assertAlmostEqual(float(k), 0.858, delta=2e-3)
        limited = do.recover(*cold, *warm, 0.8, 0.0, P, k)
        assert_allclose((limited.t, limited.out_t), (11.97, 4.0), rtol=3e-3)

    def test_fan_duct_and_flow(self):
        w = w_at(13, 0.9)
        rise = do.fan_work(13.0, w, P, 1000.0, 0.6) / air.specific_heat(w)
        self.assertAlmostEqual(float(rise), 1.339, delta=0.005)
        self.assertAlmostEqual(float(do.duct_gain(13.0, 0.0085, 1.1, 29.0, 60.0)), 13.83, delta=0.01)
        assert_allclose(
            do.duct_before(do.duct_gain(13.0, 0.0085, 1.1, 29.0, 60.0), 0.0085, 1.1, 29.0, 60.0), 13.0, rtol=1e-12
        )
        m = float(do.flow_for(12e3, 24.0, 13.5, 0.0085))
        self.assertAlmostEqual(m, 1.1181, delta=6e-4)  # the real gas takes 0.04 % more heat a kelvin
        self.assertAlmostEqual(0.0085 + 3000 / float(air.vapour_enthalpy(24.0)) / m, 0.009554, delta=3e-6)


class Balances(unittest.TestCase):
    """Every process keeps its energy and water, over random states; rounding alone is left."""

    def setUp(self):
        rng = np.random.default_rng(11)
        self.p = rng.uniform(70e3, 105e3, 300)
        self.t = rng.uniform(-15, 45, 300)
        self.w = air.humidity_ratio(self.t, rng.uniform(0.05, 0.95, 300), self.p)
        self.m = rng.uniform(0.1, 5, 300)
        self.rng = rng

    def test_coil(self):
        coil = do.cool_to(self.t, self.w, self.rng.uniform(-5, 30, 300), self.rng.uniform(0, 0.4, 300), self.p, self.m)
        out = self.m * (air.enthalpy(self.t, self.w) - air.enthalpy(coil.t, coil.w))
        assert_allclose(coil.total_w, out - coil.condensate_kg_s * air.water_enthalpy(coil.t), atol=1e-6)
        self.assertTrue((coil.w <= self.w + 1e-12).all())
        wet = np.isfinite(coil.adp_c)
        self.assertTrue(wet.any() and not wet.all())
        # The leaving state lies between the entering one and saturated air at the surface, by mass.
        bf = (coil.w[wet] - do.saturated(coil.adp_c[wet], self.p[wet])) / (
            self.w[wet] - do.saturated(coil.adp_c[wet], self.p[wet])
        )
        assert_allclose(
            air.enthalpy(coil.t[wet], coil.w[wet]),
            bf * air.enthalpy(self.t[wet], self.w[wet])
            + (1 - bf) * air.enthalpy(coil.adp_c[wet], do.saturated(coil.adp_c[wet], self.p[wet])),
            rtol=1e-6,
            atol=1e-3,
        )

    def test_recovery(self):
        te, we = np.full(300, 22.0), air.humidity_ratio(np.full(300, 22.0), 0.45, self.p)
        me = self.rng.uniform(0.1, 5, 300)
        found = do.recover(
            self.t, self.w, self.m, te, we, me, self.rng.uniform(0, 1, 300), self.rng.uniform(0, 1, 300), self.p
        )
        came = self.m * air.enthalpy(self.t, self.w) + me * air.enthalpy(te, we)
        went = (
            self.m * air.enthalpy(found.t, found.w)
            + me * air.enthalpy(found.out_t, found.out_w)
            + found.condensate_kg_s * air.water_enthalpy(found.out_t)
        )
        # Fog on the supply side would be a finding; where it falls its energy is not in this sum.
        clear = found.w < do.saturated(found.t, self.p) * (1 - 1e-9)
        assert_allclose(went[clear], came[clear], rtol=1e-9, atol=1e-5)

    def test_evaporation_keeps_the_wet_bulb(self):
        warm = self.t > 10
        wet = do.evaporate(self.t[warm], self.w[warm], 0.7, self.p[warm])
        assert_allclose(
            air.wet_bulb(wet.t, wet.w, self.p[warm]), air.wet_bulb(self.t[warm], self.w[warm], self.p[warm]), atol=1e-6
        )

    def test_dried_air_reaches_its_humidity(self):
        damp = (self.w > 0.004) & (self.t > 12)
        coil = do.dry_to(self.t[damp], self.w[damp], 0.75 * self.w[damp], 0.1, self.p[damp])
        some = np.isfinite(coil.t)
        assert_allclose(coil.w[some], 0.75 * self.w[damp][some], rtol=1e-12)
        again = do.cool_to(self.t[damp][some], self.w[damp][some], coil.t[some], 0.1, self.p[damp][some])
        assert_allclose(again.w, coil.w[some], rtol=1e-6)


class Refusals(unittest.TestCase):
    def test_each_says_what_is_accepted(self):
        for words, call in (
            ("shares of 0", lambda: do.mix([[-1.0], [2.0]], [[20.0], [30.0]], [[0.008], [0.01]], P)),
            ("shares of 0", lambda: do.mix([[0.0]], [[20.0]], [[0.008]], P)),
            ("bypass", lambda: do.cool_to(30.0, 0.01, 15.0, 1.0, P)),
            ("0 and 100", lambda: do.evaporate(30.0, 0.01, 1.1, P)),
            ("water out", lambda: do.add_water(20.0, 0.008, -0.001, 2.6e6, P)),
            ("100 %", lambda: do.recover(-5.0, 0.002, 1.0, 22.0, 0.006, 1.0, 1.2, 0.0, P)),
            ("efficiency", lambda: do.fan_work(20.0, 0.008, P, 500.0, 0.0)),
            ("carries no load", lambda: do.flow_for(1000.0, 20.0, 20.0, 0.008)),
            ("colder", lambda: do.coil_line(15.0, 0.008, 20.0, 0.007, P)),
        ):
            with self.subTest(words=words):
                self.assertRaisesRegex(InputError, words, call)
