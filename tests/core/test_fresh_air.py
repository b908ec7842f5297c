"""Outdoor air that arrives: published states, the multiple-zone procedure, and a tracer stepped through time."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.airflow.fresh_air import (
    RoomStreams,
    arriving,
    least_flows,
    least_intake,
    shares_to_try,
    zone_intake,
)
from garnetfin.core.airflow.outdoor_air import multiple_zones


def streams(supply, returned=None, leaks=0.0, moves=(), moved=()) -> RoomStreams:
    supply = np.asarray(supply, float)
    back = supply if returned is None else np.asarray(returned, float)
    leaks_in = np.broadcast_to(np.asarray(leaks, float), supply.shape)
    return RoomStreams(supply, leaks_in, back, np.array(moves, int).reshape(-1, 2), np.array(moved, float))


WITH_TRANSFER = streams([120, 200, 0], [90, 200, 0], 0.0, [(0, 2)], [30])
WANTED = np.array([50.0, 70.0, 8.0])


class Published(unittest.TestCase):
    def test_least_intake_with_a_room_on_transfer_air(self):
        found = least_intake(WANTED, WITH_TRANSFER)
        self.assertAlmostEqual(found.flow, 172.575, 3)
        self.assertEqual((found.critical, found.possible), (2, True))
        at_it = arriving(WANTED, WITH_TRANSFER, found.flow)
        assert_allclose(at_it.excess[2], 1.0, atol=1e-9)
        assert_allclose(at_it.arrives[2], WANTED[2], atol=1e-9)

    def test_what_arrives_of_less(self):
        found = arriving(WANTED, WITH_TRANSFER, 150.0)
        self.assertAlmostEqual(found.in_supply, 0.420115, 6)
        assert_allclose(found.arrives, (69.586, 115.977, 4.897), atol=1e-3)

    def test_without_transfer_it_is_the_multiple_zone_procedure(self):
        q = np.array([42.0, 147.0, 60.0])
        found = least_intake(q, streams([100, 300, 90], [100, 300, 90]))
        by_rule = multiple_zones(q, 0 * q, 1.0, [100, 300, 90], np.ones(3), 3.0, 490.0)
        self.assertAlmostEqual(found.flow, by_rule.outdoor_m3s, 6)
        self.assertEqual(found.critical, by_rule.critical)
        # the same zones in a larger system
        whole = streams([100, 300, 90, 210])
        self.assertAlmostEqual(least_intake([*q, 0.0], whole).flow, 361.368, 3)

    def test_least_flows_of_boxes(self):
        voz, low, high = [80.0, 60.0, 40.0], [60.0, 50.0, 40.0], [300.0, 200.0, 120.0]
        shares = shares_to_try(voz, low, high)
        flows = least_flows(voz, low, high, shares)
        assert_allclose(flows[0], (240.0, 180.0, 120.0), atol=1e-9)
        intake = zone_intake(voz, flows, 180.0, 560.0)
        self.assertAlmostEqual(float(intake[0]), 182.169, 3)
        self.assertTrue((np.diff(intake[np.isfinite(intake)]) >= -1e-9).all(), "smaller flows never need less")


class ThroughTime(unittest.TestCase):
    def test_a_canteen_beside_offices_and_a_corridor(self):
        """All rooms stepped until nothing moves, tracer given off as clean air is wanted: an independent way."""
        supply, returned = np.array([0.30, 0.10, 0.12, 0.0]), np.array([0.20, 0.08, 0.12, 0.02])
        moves, moved = np.array([(0, 3), (1, 3)]), np.array([0.10, 0.02])
        leaks, q = np.array([0.0, 0.01, 0.0, 0.0]), np.array([0.25, 0.02, 0.03, 0.01])
        intake = 0.30
        air = RoomStreams(supply, leaks, returned, moves, moved)
        c, in_supply, step = np.zeros(4), 0.0, 0.05
        for _ in range(20_000):
            came = supply * in_supply
            for (a, b), flow in zip(moves, moved):
                came[b] += flow * c[a]
            into = supply + leaks + np.bincount(moves[:, 1], moved, 4)
            c = c + step * (q + came - into * c)
            in_supply = (1 - intake / supply.sum()) * float((returned * c).sum() / returned.sum())
        found = arriving(q, air, intake)
        assert_allclose(found.excess, c, rtol=1e-6)
        self.assertAlmostEqual(found.in_supply, in_supply, 6)
        # What arrives unused is what dilutes: excess 1 is exactly enough.
        assert_allclose(found.arrives >= q, found.excess <= 1)

    def test_the_least_intake_is_the_first_that_serves_all(self):
        rng = np.random.default_rng(7)
        for _ in range(40):
            supply = rng.uniform(0.05, 0.5, 5)
            q = supply * rng.uniform(0.05, 0.9, 5)
            air = streams(supply, supply * rng.uniform(0.5, 1.0, 5))
            found = least_intake(q, air)
            self.assertLess(arriving(q, air, found.flow).excess.max(), 1 + 1e-9)
            self.assertGreater(arriving(q, air, 0.98 * found.flow).excess.max(), 1.0)


class Edges(unittest.TestCase):
    def test_without_an_intake_nothing_arrives(self):
        found = arriving([0.05, 0.1], streams([0.1, 0.3], moves=[(0, 1)], moved=[0.05], returned=[0.05, 0.35]), 0.0)
        assert_allclose(found.arrives, 0.0)
        self.assertTrue(np.isinf(found.excess).all())

    def test_what_cannot_be(self):
        self.assertFalse(least_intake([0.2, 0.1], streams([0.1, 0.3])).possible)
        self.assertEqual(least_intake([0.2, 0.1], streams([0.1, 0.3])).flow, 0.4)
        # a room that gets no air at all but asks for some
        self.assertFalse(least_intake([0.1, 0.1], streams([0.3, 0.0])).possible)
        self.assertEqual(least_intake([0.1, 0.1], streams([0.3, 0.0])).critical, 1)

    def test_nothing_asked_or_moved(self):
        self.assertEqual(least_intake([0.0, 0.0], streams([0.1, 0.3])).flow, 0.0)
        self.assertEqual(least_intake([0.1], streams([0.0])).flow, 0.0)
        self.assertEqual(len(shares_to_try([0.0], [0.1], [0.2])), 0)

    def test_all_outdoor_air_brings_no_tracer_back(self):
        found = arriving([0.05, 0.1], streams([0.1, 0.3]), 0.4)
        self.assertEqual(found.in_supply, 0.0)
        assert_allclose(found.arrives, (0.1, 0.3))

    def test_no_return_is_all_outdoor_air(self):
        self.assertEqual(least_intake([0.05, 0.1], streams([0.1, 0.3], [0.0, 0.0])).flow, 0.4)


if __name__ == "__main__":
    unittest.main()
