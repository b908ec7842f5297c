"""Fans in series and in parallel, system effect, points of curves, what is no curve."""

import unittest

import numpy as np
from numpy.testing import assert_allclose
from scipy.optimize import brentq

from garnetfin.core.errors import InputError
from garnetfin.core.fans.catalogue import check_points
from garnetfin.core.fans.curve import Curve, speed_for
from garnetfin.core.fans.duty import duty, motor_for, operating_flow, operating_points, specific_class
from garnetfin.core.fans.effect import effective_length, outlet_effect
from garnetfin.core.fans.ranking import rank
from garnetfin.core.tables import fan_models

MODEL = fan_models()["GF-P400"]
ONE = Curve(MODEL, 2000.0, 1.2)


class Together(unittest.TestCase):
    def test_in_series_pressures_add_in_parallel_flows(self):
        q = np.linspace(0.2, ONE.greatest_m3s * 0.95, 12)
        two = Curve(MODEL, 2000.0, 1.2, 2, True)
        assert_allclose(two.pressure(q), 2 * ONE.pressure(q), rtol=1e-12)
        assert_allclose(two.shaft_power(q), 2 * ONE.shaft_power(q), rtol=1e-12)
        beside = Curve(MODEL, 2000.0, 1.2, 3)
        assert_allclose(beside.pressure(3 * q), ONE.pressure(q), rtol=1e-12)
        assert_allclose(beside.shaft_power(3 * q), 3 * ONE.shaft_power(q), rtol=1e-12)
        assert_allclose(beside.stall_m3s, 3 * ONE.stall_m3s)
        assert_allclose(beside.sound_power(3 * 0.8), ONE.sound_power(0.8) + 10 * np.log10(3))
        # Efficiency is that of one.
        assert_allclose(duty(beside, 2.4, 1.0, 1.0).efficiency, duty(ONE, 0.8, 1.0, 1.0).efficiency, rtol=1e-12)

    def test_a_duty_shared_by_two_is_the_duty_of_one_at_half(self):
        single = {c.fan_id: c for c in rank(fan_models().values(), 0.8, 500.0, 1.2, 0.9) if c.point}
        pair = {c.fan_id: c for c in rank(fan_models().values(), 1.6, 500.0, 1.2, 0.9, 2) if c.point}
        self.assertEqual(set(single), set(pair))
        for i in single:
            assert_allclose(pair[i].speed_rpm, single[i].speed_rpm, rtol=1e-6)
            assert_allclose(pair[i].point.electric_w, 2 * single[i].point.electric_w, rtol=1e-6)
            self.assertEqual(pair[i].point.motor_w, single[i].point.motor_w)  # each has its own
        stacked = {c.fan_id: c for c in rank(fan_models().values(), 0.8, 1000.0, 1.2, 0.9, 2, True) if c.point}
        for i in single:
            assert_allclose(stacked[i].speed_rpm, single[i].speed_rpm, rtol=1e-6)

    def test_none_at_all_is_refused(self):
        self.assertRaisesRegex(InputError, "At least one fan", Curve, MODEL, 2000.0, 1.2, 0)

    def test_static_is_total_less_what_the_outlet_carries(self):
        q = 0.9
        assert_allclose(ONE.static(q), ONE.pressure(q) - 0.6 * (q / MODEL.outlet_m2) ** 2)

    def test_reasons_say_how_far_off(self):
        reasons = [c.reason for c in rank(fan_models().values(), 0.3, 1800.0, 1.2, 0.9) if not c.point]
        self.assertTrue(any("Pa short" in r for r in reasons))
        self.assertTrue(any("rpm too fast" in r for r in reasons) or any("stall" in r for r in reasons))
        reserve = next(c for c in rank(fan_models().values(), 0.95, 560.0, 1.2, 0.9) if c.point)
        assert_allclose(reserve.reserve, 1 - reserve.speed_rpm / reserve.max_rpm)
        assert_allclose(reserve.tip_m_s, np.pi * reserve.wheel_m * reserve.speed_rpm / 60)


class Points(unittest.TestCase):
    def test_every_point_satisfies_both_curves(self):
        def system(q: float) -> float:
            return 400 * q**2

        found = operating_points(ONE, system)
        self.assertEqual(len(found), 1)
        assert_allclose(
            found[0], brentq(lambda q: float(ONE.pressure(q)) - system(q), 0.01, ONE.greatest_m3s * 0.999), rtol=1e-8
        )

    def test_a_flat_system_meets_a_humped_curve_twice(self):
        humped = (
            fan_models()["GF-F450"]
            if "GF-F450" in fan_models()
            else min(fan_models().values(), key=lambda m: m.total_pa[0] / m.total_pa.max())
        )
        curve = Curve(humped, humped.speed_rpm, 1.2)
        level = float(humped.total_pa[0] + humped.total_pa.max()) / 2
        self.assertGreaterEqual(len(operating_points(curve, lambda q: level)), 2)

    def test_motors_and_classes(self):
        self.assertEqual(motor_for(1000.0), 1500.0)  # 1,150 W with the reserve
        self.assertEqual(motor_for(950.0), 1100.0)
        self.assertEqual(motor_for(60e3), 75e3)  # 69 kW with the reserve
        self.assertTrue(np.isnan(motor_for(2e6)))
        self.assertEqual([specific_class(w) for w in (299, 300, 501, 1300, 5000)], [0, 0, 2, 4, 7])


class NoDuty(unittest.TestCase):
    def test_nothing_to_do_is_said_in_words(self):
        model = next(iter(fan_models().values()))
        for flow, pressure in ((0.0, 300.0), (1.0, 0.0), (float("nan"), 300.0), (1.0, float("nan")), (-1.0, 300.0)):
            self.assertEqual(speed_for(model, flow, pressure, 1.2), "there is no duty to do")
            self.assertTrue(all(c.point is None for c in rank((model,), flow, pressure, 1.2, 0.9)))
        curve = Curve(model, model.speed_rpm, 1.2)
        for flow in (0.0, -0.2, float("nan")):
            self.assertRaisesRegex(InputError, "moves air forward", duty, curve, flow, 1.0, 0.9)
        self.assertIsNone(operating_flow(curve, lambda _flow: float("nan")))


class SystemEffect(unittest.TestCase):
    def test_by_hand(self):
        """Outlet 0.1 m2 at 10 m/s, blast 0.8: k 0.47 on 60 Pa; 2.5 diameters of 0.3568 m take all of it away."""
        assert_allclose(effective_length(0.1, 10.0), 2.5 * 0.356825, rtol=1e-5)
        assert_allclose(outlet_effect(0.1, 1.0, 1.2, 0.0, 0.8), 0.47 * 60.0)
        assert_allclose(outlet_effect(0.1, 1.0, 1.2, 2.5 * 0.356825 / 2, 0.8), 0.47 * 30.0, rtol=1e-4)
        self.assertEqual(outlet_effect(0.1, 1.0, 1.2, 5.0, 0.8), 0.0)
        assert_allclose(effective_length(0.1, 17.7), 3.5 * 0.356825, rtol=1e-5)

    def test_bad_outlets_are_refused(self):
        self.assertRaisesRegex(InputError, "area above 0", effective_length, 0.0, 5.0)


class NoCurve(unittest.TestCase):
    GOOD = (
        [0.0, 0.5, 1.0, 1.5],
        [500.0, 520.0, 450.0, 200.0],
        [200.0, 400.0, 700.0, 700.0],
        [True, False, False, False],
    )

    def refuse(self, match: str, column: int, values: list) -> None:
        rows = [list(x) for x in self.GOOD]
        rows[column] = values
        self.assertRaisesRegex(InputError, match, check_points, *rows, "fan X")

    def test_points_that_are_no_curve_are_named(self):
        check_points(*self.GOOD, "fan X")
        self.assertRaisesRegex(
            InputError, "at least 4 points, got 3", check_points, *(x[:3] for x in self.GOOD), "fan X"
        )
        self.refuse("point 3", 0, [0.0, 0.5, 0.5, 1.5])
        self.refuse("point 2", 2, [200.0, 0.0, 700.0, 700.0])
        self.refuse("efficiency.*Check the units", 2, [0.2, 0.4, 0.7, 0.7])  # kW for W
        self.refuse("rises to 460", 1, [500.0, 450.0, 460.0, 200.0])
        self.refuse("cannot be", 1, [500.0, float("nan"), 450.0, 200.0])
        self.refuse("marked as stall", 3, [True, True, True, True])
