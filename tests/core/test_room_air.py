"""Outdoor air, needs of rooms, balances and transfers, against worked values and closing sums."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.airflow.outdoor_air import (
    RISE_PPM,
    dilution,
    discharge_for,
    multiple_zones,
    people_and_area,
    perceived_quality,
)
from garnetfin.core.airflow.room_balance import pressure_class, room_balance, transfer_order
from garnetfin.core.airflow.supply import NEEDS, latent_flow, room_flows, variable_flows
from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air


class OutdoorAir(unittest.TestCase):
    def test_perceived_quality_and_dilution(self):
        # 15 people x 7 L/s + 60 m2 x 0.7 L/s m2.
        assert_allclose(perceived_quality(15, 60.0, 0.007, 0.0007), 0.147)
        # 20 people at 20 L/h in 200 L/s are 555.6 ppm above outdoors.
        assert_allclose(dilution(20 * 20e-3 / 3600, 555.5556), 0.200, rtol=1e-6)
        self.assertLess(RISE_PPM["I"], RISE_PPM["II"])
        self.assertRaisesRegex(InputError, "above 0", dilution, 1e-5, 0.0)

    def test_people_and_area_grows_as_the_air_is_spread_worse(self):
        assert_allclose(people_and_area(10, 100.0, 0.0025, 0.0003), 0.055)
        assert_allclose(people_and_area(10, 100.0, 0.0025, 0.0003, 0.8), 0.055 / 0.8)
        self.assertRaisesRegex(InputError, "effectiveness", people_and_area, 1, 1.0, 0.01, 0.001, 0.0)

    def test_multiple_zones(self):
        # Office, meeting and reception on one duct; every figure by hand from Vou = D sum(Rp Pz) + sum(Ra Az), Ev = 1 +
        # Xs - Zd.
        rp, ra = np.array([0.050, 0.075, 0.010]), np.array([0.060, 0.015, 0.012])
        discharge, people = np.array([0.60, 0.28, 0.12]), np.array([20.0, 30.0, 4.0])
        found = multiple_zones(rp, ra, 1.0, discharge, people, 40.0, 1.0)
        uncorrected = 40 / 54 * 0.135 + 0.087
        zd = (rp + ra) / discharge
        ev = 1 + uncorrected - zd
        assert_allclose(found.uncorrected_m3s, uncorrected)
        assert_allclose(found.zone_efficiency, ev)
        self.assertEqual(found.critical, int(ev.argmin()))
        assert_allclose(found.outdoor_m3s, uncorrected / ev.min())
        # The discharge that brings the critical zone to the next one's efficiency is what is said to mend it.
        wanted = discharge_for(float(np.sort(ev)[1]), found.share, (rp + ra)[found.critical])
        better = discharge.copy()
        better[found.critical] = wanted
        again = multiple_zones(rp, ra, 1.0, better, people, 40.0, 1.0)
        assert_allclose(again.efficiency, np.sort(ev)[1], rtol=1e-12)

    def test_a_zone_that_gets_too_little_cannot_be_ventilated(self):
        found = multiple_zones(np.array([0.05]), np.array([0.05]), 1.0, np.array([0.02]), np.array([5.0]), 5.0, 1.0)
        self.assertFalse(found.possible)
        self.assertTrue(np.isnan(found.outdoor_m3s))
        self.assertRaisesRegex(
            InputError, "more than its zones hold", multiple_zones, [0.1], [0.1], 1.0, [0.3], [5.0], 6.0, 1.0
        )
        self.assertRaisesRegex(InputError, "no primary flow", multiple_zones, [0.1], [0.1], 1.0, [0.3], [5.0], 5.0, 0.0)


class Needs(unittest.TestCase):
    HEAT = 1.2 * float(air.specific_heat(0.0085))

    def flows(self, **given):
        rooms = {
            "cooling_w": 2400.0,
            "heating_w": 3500.0,
            "outdoor_m3s": 0.05,
            "air_change_m3s": 0.03,
            "room_c": 24.0,
        } | given
        extra = {k: rooms.pop(k) for k in ("latent_m3s", "make_up_m3s", "carried", "pinned") if k in rooms}
        return room_flows(*(np.array([v]) for v in rooms.values()), 14.0, 11.0, self.HEAT, **extra)

    def test_check_values(self):
        found = self.flows(latent_m3s=float(latent_flow(2200.0, 24.0, 0.0103, 0.0085, 1.2)))
        # 195.7 and 259.5 L/s by hand; 400.1 for the latent load.
        assert_allclose(found.needs_m3s[:3, 0] * 1000, (195.7, 400.1, 259.5), atol=0.6)
        self.assertEqual(NEEDS[found.governs[0]], "latent")

    def test_supply_air_no_drier_than_the_room_cannot_dry_it(self):
        self.assertTrue(np.isinf(latent_flow(500.0, 24.0, 0.008, 0.0085, 1.2)))
        found = self.flows(latent_m3s=np.inf)
        self.assertEqual(NEEDS[found.governs[0]], "heating")  # shown, but it does not govern

    def test_what_the_air_need_not_carry_does_not_govern(self):
        found = self.flows(carried=np.isin(NEEDS, ("outdoor air", "air change"))[:, None])
        self.assertEqual(NEEDS[found.governs[0]], "outdoor air")
        assert_allclose(found.exact_m3s, 0.05)

    def test_a_pinned_need_governs_whatever_the_others_ask(self):
        found = self.flows(pinned=np.array([NEEDS.index("air change")]))
        self.assertEqual(NEEDS[found.governs[0]], "air change")
        assert_allclose((found.exact_m3s[0], found.rounded_m3s[0]), (0.03, 0.03))

    def test_variable_flow_has_a_coincident_peak_below_the_sum(self):
        hours = np.array([[0.1, 0.3, 0.2], [0.4, 0.1, 0.2]])
        found = variable_flows(hours, np.array([0.15, 0.05]), np.array([0.3, 0.4]))
        assert_allclose(found.flow_m3s, [[0.15, 0.3, 0.2], [0.4, 0.1, 0.2]])
        self.assertEqual((found.block_m3s, found.block_hour), (0.55, 0))
        assert_allclose(found.diversity, 0.55 / 0.7)


class Balance(unittest.TestCase):
    def test_every_room_closes_whatever_is_given(self):
        rng = np.random.default_rng(2)
        n = 60
        supply, extract = rng.uniform(0, 0.5, n), rng.uniform(0, 0.4, n) * (rng.random(n) < 0.4)
        moves = np.array([(a, b) for a, b in rng.integers(0, n, (40, 2)) if a != b])
        returns = np.where(rng.random(n) < 0.2, rng.uniform(0, 0.4, n), np.nan)
        found = room_balance(
            supply, extract, rng.choice([-0.1, -0.05, 0, 0.05, 0.1], n), moves, rng.uniform(0, 0.1, len(moves)), returns
        )
        assert_allclose(found.closing, 0, atol=1e-12)
        self.assertTrue((found.returned >= 0).all() and (found.short >= 0).all())
        self.assertTrue((found.short > 0).any())
        # What leaves rooms to others arrives there.
        assert_allclose(found.transfer_in.sum(), found.transfer_out.sum())

    def test_classes_of_pressure(self):
        for offset, name in (
            (0.02, "positive high"),
            (0.01, "positive"),
            (0.002, "neutral"),
            (-0.008, "slightly negative"),
            (-0.02, "negative high"),
            (0.008, "slightly positive"),
            (-0.01, "negative"),
        ):
            self.assertEqual(pressure_class(offset, 0.2, 0.1), name)

    def test_order_of_transfers_puts_givers_first_and_rings_last(self):
        order = transfer_order(5, np.array([(2, 1), (1, 0), (3, 4), (4, 3)]))
        self.assertLess(order.index(2), order.index(1))
        self.assertLess(order.index(1), order.index(0))
        self.assertEqual(sorted(order[-2:]), [3, 4])

    def test_return_below_nothing_is_refused(self):
        self.assertRaisesRegex(
            InputError,
            "below 0",
            room_balance,
            np.array([0.1]),
            np.array([0.0]),
            np.array([0.0]),
            np.zeros((0, 2), int),
            np.zeros(0),
            np.array([-0.1]),
        )
