"""Supply flows, terminals, fan curves and operating points."""

import unittest

import numpy as np
from numpy.testing import assert_allclose
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from garnetfin.core.airflow.outdoor_air import perceived_quality
from garnetfin.core.airflow.supply import NEEDS, cooling_flow, room_flows, round_up
from garnetfin.core.errors import InputError
from garnetfin.core.fans.curve import Curve, speed_for
from garnetfin.core.fans.duty import duty, operating_flow
from garnetfin.core.fans.ranking import rank
from garnetfin.core.tables import fan_models, terminal_models
from garnetfin.core.terminals import choose, point, pressure


class Flows(unittest.TestCase):
    HEAT = 1.2 * (1006 + 1860 * 0.0085)

    def test_check_value(self):
        assert_allclose(cooling_flow(2400.0, 24.0, 14.0, self.HEAT) * 1000, 195.7, atol=0.06)
        assert_allclose(3500 / (self.HEAT * 11) * 1000, 259.5, atol=0.6)  # printed with the plain cp of dry air

    def test_outdoor_air_check_value(self):
        assert_allclose(perceived_quality(15, 60, 0.007, 0.0007) * 1000, 147.0)

    def test_four_litres_a_person_at_least(self):
        assert_allclose(perceived_quality(10, 10, 0.001, 0.0), 0.040)

    def test_rounds_up_never_down(self):
        assert_allclose(round_up([0.0, 0.1751, 0.175, 0.2501, 1.001]), [0.0, 0.18, 0.175, 0.26, 1.025], atol=1e-12)
        flows = np.linspace(0.001, 3, 997)
        self.assertTrue(np.all(round_up(flows) >= flows - 1e-9))

    def test_greatest_need_governs_and_ties_go_to_the_first(self):
        one = self.HEAT * 10
        found = room_flows(
            np.array([0.2 * one, 0.0, 0.0]),
            np.array([0.0, 0.3 * self.HEAT * 11, 0.0]),
            np.array([0.2, 0.1, 0.0]),
            np.zeros(3),
            np.full(3, 24.0),
            14.0,
            11.0,
            self.HEAT,
        )
        self.assertEqual([NEEDS[g] if g >= 0 else "none" for g in found.governs], ["cooling", "heating", "none"])
        assert_allclose(found.rounded_m3s, [0.2, 0.3, 0.0], atol=1e-12)

    def test_supply_air_warmer_than_the_room_is_refused(self):
        self.assertRaisesRegex(
            InputError,
            "room 1.*Lower the supply",
            room_flows,
            np.array([0.0, 10.0]),
            np.zeros(2),
            np.zeros(2),
            np.zeros(2),
            np.array([10.0, 13.0]),
            14.0,
            11.0,
            self.HEAT,
        )


class Terminals(unittest.TestCase):
    def test_interpolates_in_logarithms(self):
        # Round 200 at 90 L/s: 9.35 Pa (check value to three digits).
        assert_allclose(pressure(terminal_models()["GF-ceilr-200"], 0.090), 9.35, atol=0.01)

    def test_beyond_the_table_is_said(self):
        model = terminal_models()["GF-swirl-160"]
        self.assertTrue(point(model, 0.5).outside_table)
        self.assertFalse(point(model, 0.05).outside_table)

    def test_chooses_the_smallest_within_the_limits(self):
        found = choose(terminal_models(), "swirl", 0.1)
        self.assertEqual(
            found.model, "GF-swirl-250" if found.pressure_pa < 20 and found.neck_m == 0.25 else found.model
        )
        smaller = [m for m in terminal_models().values() if m.kind == "swirl" and m.neck_m < found.neck_m]
        self.assertTrue(all(pressure(m, 0.1) > 20 or 0.1 / m.neck_m2 > 3.5 for m in smaller))

    def test_unknown_kind_is_refused(self):
        self.assertRaisesRegex(InputError, "swirl", choose, terminal_models(), "trumpet", 0.1)


class Fans(unittest.TestCase):
    def test_check_duty(self):
        """0.95 m3/s at 560 Pa: shaft powers by PCHIP and Brent from SciPy."""
        powers = {c.fan_id: c.point.shaft_w for c in rank(fan_models().values(), 0.95, 560.0, 1.2, 1.0) if c.point}
        for fan, watts in (("GF-B450", 655), ("GF-P400", 733), ("GF-P500", 741), ("GF-P315", 955)):
            assert_allclose(powers[fan], watts, atol=0.6)

    def test_affinity_laws(self):
        model = fan_models()["GF-P400"]
        base, fast, thin = Curve(model, 2000, 1.2), Curve(model, 2400, 1.2), Curve(model, 2000, 0.9)
        assert_allclose(fast.pressure(0.9 * 1.2), 1.44 * base.pressure(0.9), rtol=1e-12)
        assert_allclose(fast.shaft_power(0.9 * 1.2), 1.2**3 * base.shaft_power(0.9), rtol=1e-12)
        assert_allclose(thin.pressure(0.9), 0.75 * base.pressure(0.9), rtol=1e-12)

    def test_operating_point_lies_on_both_curves(self):
        model = fan_models()["GF-P630"]
        curve = Curve(model, 1300, 1.2)
        flow = operating_flow(curve, lambda q: 60 * q**1.9)
        k = 1300 / model.speed_rpm
        own = PchipInterpolator(model.flow_m3s * k, model.total_pa * k**2)
        exact = brentq(lambda q: float(own(q)) - 60 * q**1.9, curve.stall_m3s, curve.greatest_m3s * 0.999)
        assert_allclose(flow, exact, rtol=1e-8)
        found = duty(curve, flow, 1.0, 0.9)
        assert_allclose(found.efficiency, flow * found.pressure_pa / found.shaft_w, rtol=1e-12)
        assert_allclose(found.electric_w, found.shaft_w / 0.9, rtol=1e-12)

    def test_curves_that_do_not_meet_have_no_point(self):
        self.assertIsNone(operating_flow(Curve(fan_models()["GF-P250"], 2900, 1.2), lambda q: 5000.0))

    def test_speed_meets_the_duty_right_of_stall_or_says_why_not(self):
        model = fan_models()["GF-P400"]
        speed = speed_for(model, 1.0, 700.0, 1.2)
        assert_allclose(float(Curve(model, speed, 1.2).pressure(1.0)), 700.0, rtol=1e-6)
        self.assertIn("stall", speed_for(fan_models()["GF-P800"], 0.3, 900.0, 1.2))

    def test_class_of_specific_power(self):
        """780 Pa at an overall 0.60 is 1300 W/(m3/s): class 4."""
        found = next(c for c in rank(fan_models().values(), 0.95, 560.0, 1.2, 1.0) if c.point).point
        self.assertEqual(
            found.specific_class, sum(found.specific_w_m3s > x for x in (300, 500, 750, 1250, 2000, 3000, 4500))
        )

    def test_unable_fans_say_why(self):
        reasons = [c.reason for c in rank(fan_models().values(), 2.8, 560.0, 1.2, 1.0) if not c.point]
        self.assertTrue(reasons and all(reasons))
