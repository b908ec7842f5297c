"""Coils against published figures, a coil of many small cells, and what must hold for any coil."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.equipment import coils, water
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import cool_to, saturated

P = 101325.0
WARM = coils.Air(1.5, 26.0, 0.0105, P)


def by_cells(surface, of, by, cells=400, rounds=60):
    """A counterflow coil in many cells that take turns: heat and moisture pass by the surface each cell finds."""
    ua, uw = surface.air_w_k / cells, surface.water_w_k / cells
    c = by.flow * by.heat
    water_c = np.full(cells + 1, by.t)  # water_c[i + 1] enters cell i, counted in the order of the air
    for _ in range(rounds):
        t, w = of.t, of.w
        heat = np.zeros(cells)
        for i in range(cells):
            tw = 0.5 * (water_c[i] + water_c[i + 1])
            s = tw + (t - tw) * ua / (ua + uw)
            cp = float(air.specific_heat(w))
            if float(saturated(s, P)) < w:
                low, high = tw, t
                for _ in range(40):
                    s = 0.5 * (low + high)
                    into = surface.wet_factor * ua / cp * float(air.enthalpy(t, w) - air.enthalpy(s, saturated(s, P)))
                    low, high = (s, high) if into > uw * (s - tw) else (low, s)
                beta = surface.wet_factor * ua / (of.flow * cp)
                dried = min(w, w - beta * (w - float(saturated(s, P))))
                g = beta * of.flow * float(air.enthalpy(t, w) - air.enthalpy(s, saturated(s, P)))
                heat[i] = g - of.flow * (w - dried) * 4186 * s
                t, w = float(air.temperature(air.enthalpy(t, w) - g / of.flow, dried)), dried
            else:
                heat[i] = (t - tw) / (1 / ua + 1 / uw)
                t -= heat[i] / (of.flow * cp)
        rising = by.t + np.concatenate([np.cumsum(heat[::-1])[::-1], [0.0]]) / c
        if np.abs(rising - water_c).max() < 1e-5:
            break
        water_c = 0.5 * (water_c + rising)
    return heat.sum(), t, w


class Performance(unittest.TestCase):
    def test_published_counterflow_and_rows(self):
        found = coils.perform(coils.Surface(6000, 11000, 0.92), WARM, coils.Water(1.6, 7.0))
        assert_allclose(found.total_w, 32740.8, rtol=2e-5)
        assert_allclose([found.t, found.w], [10.8062, 0.00797621], rtol=2e-5)
        rows = coils.perform(coils.Surface(6000, 11000, 0.92, 4), WARM, coils.Water(1.6, 7.0))
        assert_allclose(rows.total_w, 32547.3, rtol=2e-5)

    def test_published_heating(self):
        found = coils.perform(coils.Surface(1800, 6000, 1.0, 2), coils.Air(2.0, 5.0, 0.004, P), coils.Water(0.4, 60.0))
        assert_allclose(-found.total_w, 42840.6, rtol=2e-5)
        assert_allclose(found.t, 26.1362, rtol=2e-5)
        assert_allclose(found.w, 0.004)

    def test_against_a_coil_of_cells(self):
        """Cells of first order: 400 of them are within 0.3 %, eight sections within 0.5 % of what they come to."""
        for surface, by in (
            (coils.Surface(6000, 11000, 0.92), coils.Water(1.6, 7.0)),
            (coils.Surface(2500, 4000, 0.92), coils.Water(0.8, 12.0)),
        ):
            total, t, w = by_cells(surface, WARM, by)
            found = coils.perform(surface, WARM, by)
            assert_allclose(found.total_w, total, rtol=8e-3)
            assert_allclose(found.t, t, atol=0.08)
            assert_allclose(found.w, w, rtol=8e-3)

    def test_energy_closes_and_duty_has_a_direction(self):
        seed = np.random.default_rng(7)
        n = 300
        of = coils.Air(seed.uniform(0.3, 4, n), seed.uniform(18, 34, n), seed.uniform(0.004, 0.014, n), P)
        of = of._replace(w=np.minimum(of.w, 0.95 * saturated(of.t, P)))
        surface = coils.Surface(of.flow * seed.uniform(500, 4000, n), of.flow * seed.uniform(800, 6000, n), 1.0, 4)
        by = coils.Water(of.flow * seed.uniform(0.3, 1.5, n), seed.uniform(4, 15, n))
        found = coils.perform(surface, of, by)
        assert_allclose(by.flow * by.heat * (found.water_c - by.t), found.total_w, rtol=1e-9)
        dry = coils.perform(surface, of._replace(w=np.full(n, 1e-4)), by)
        self.assertTrue((found.total_w >= dry.total_w * (1 - 0.02)).all())
        for more in (
            coils.perform(surface._replace(rows=6), of, by),
            coils.perform(surface, of, by._replace(t=by.t - 1)),
            coils.perform(surface, of, by._replace(flow=by.flow * 1.2)),
        ):
            self.assertTrue((more.total_w >= found.total_w * (1 - 0.01)).all())
        self.assertTrue((found.w <= saturated(found.t, P) + 1e-9).all())

    def test_bypass_factor_returns_the_coils_own_state(self):
        found = coils.perform(coils.Surface(6000, 11000, 0.92), WARM, coils.Water(1.6, 7.0))
        factor = coils.bypass_of(26.0, 0.0105, found.t, found.w, P)
        back = cool_to(26.0, 0.0105, found.t, factor, P)
        assert_allclose(back.w, found.w, rtol=1e-7)
        line = (26.0 - float(found.t)) / (26.0 - float(back.adp_c))
        assert_allclose(factor, 1 - line, atol=2e-4)  # nearly the same share on a straight line in t

    def test_what_cannot_be_is_refused(self):
        for of, by in (
            (WARM._replace(flow=0.0), coils.Water(1.0, 7.0)),
            (WARM, coils.Water(0.0, 7.0)),
            (WARM, coils.Water(1.0, 26.0)),
            (WARM._replace(flow=np.nan), coils.Water(1.0, 7.0)),
        ):
            with self.subTest(of=of, by=by), self.assertRaises(InputError):
                coils.perform(coils.Surface(6000, 11000), of, by)


class Choice(unittest.TestCase):
    want = coils.Wanted(
        coils.Air(np.array([1.6]), np.array([26.5]), np.array([0.0108]), P),
        np.array([14.2]),
        7.0,
        13.0,
        coils.Face(1.0, 0.7),
    )

    def test_published(self):
        series = tuple(s for s in shipped("coils") if "cooling" in s.use)
        chosen = coils.choose(series, self.want).chosen
        self.assertEqual((chosen.built.series.series, chosen.built.rows, chosen.built.circuits), ("GF-K16-25", 4, 6))
        assert_allclose(chosen.total_w, 27960, atol=3)
        assert_allclose([chosen.water_kg_s, chosen.water_m_s], [1.1109, 1.0206], rtol=2e-4)
        assert_allclose(chosen.water_pa, 21286, rtol=1e-3)
        valve = coils.at_valve(chosen.built, self.want, 0, chosen.water_kg_s)
        assert_allclose(valve, 1.0811, rtol=2e-3)
        assert_allclose(chosen.done.t, 14.139, atol=0.02)

    def test_the_first_of_the_order(self):
        """Each refused coil, looked at alone, fails by what it was refused for; the chosen one passes all of it."""
        series = tuple(s for s in shipped("coils") if "cooling" in s.use)
        found = coils.choose(series, self.want)
        names = [c.built.name for c in found.tried]
        before = found.tried[: names.index(found.chosen.built.name)]
        self.assertTrue(before and all(c.why for c in before))
        liquid = water.liquid(10.0)
        for c in before:
            if c.why == "duty":
                alone = coils.perform(
                    c.built.surface(1.6, c.water_kg_s, liquid),
                    coils.Air(1.6, 26.5, 0.0108, P),
                    coils.Water(c.water_kg_s, 7.0, float(liquid.heat)),
                )
                self.assertGreater(float(alone.t), 14.2 + coils.REACHED_K)
            elif c.why == "air drop":
                self.assertGreater(c.air_pa, 120)
            elif c.why == "water drop":
                self.assertGreater(c.water_pa, 30e3)
            else:
                self.assertIn(c.why, ("water velocity", "air velocity"))

    def test_heating_with_hot_water(self):
        want = coils.Wanted(
            coils.Air(np.array([2.0]), np.array([5.0]), np.array([0.004]), P),
            np.array([24.0]),
            60.0,
            45.0,
            coils.Face(1.2, 0.7),
        )
        chosen = coils.choose(shipped("coils"), want).chosen
        self.assertIsNotNone(chosen)
        assert_allclose(-chosen.total_w, 2.0 * (1006 + 1860 * 0.004) * 19, rtol=1e-9)
        self.assertGreaterEqual(float(chosen.done.t[0]), 24.0 - coils.REACHED_K)

    def test_refused(self):
        for wrong in (
            self.want._replace(water_out_c=7.0),
            self.want._replace(water_in_c=30.0, water_out_c=35.0),
            self.want._replace(water_in_c=12.0, water_out_c=10.0),
            self.want._replace(face=coils.Face(0.0, 0.7)),
        ):
            with self.subTest(wrong=wrong), self.assertRaises(InputError):
                coils.choose(shipped("coils"), wrong)

    def test_kv_of_a_valve(self):
        """1 m3/h at 1 bar has kv 1 by definition."""
        assert_allclose(coils.valve_kv(1 / 3600, 1e5), 1.0)
