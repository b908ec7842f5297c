"""Bookings of fans: worked figures, every loop of sixteen sets of fans, least air power by a linear programme."""

import itertools
import unittest

import numpy as np
from scipy.optimize import linprog

from garnetfin.core.errors import InputError
from garnetfin.core.fans.bookings import Losses, Present, bookings

MIXED = Losses(outdoor=60, unit=320, supply=210, back=140, recirculation=15, relief=90)
FRESH = Losses(outdoor=260, unit=180, supply=210, back=140, relief=190)


class Worked(unittest.TestCase):
    def test_a_unit_that_recirculates(self):
        for fans, supply, back, exhaust, rooms, throttled in (
            ({"back": True}, 590, 230, 0, 0, 0),
            ({"back": False}, 820, 0, 0, 230, 0),
            ({"back": False, "exhaust": True}, 685, 0, 230, 0, 95),
            ({"back": True, "exhaust": True}, 590, 140, 90, 0, 0),
        ):
            with self.subTest(fans=fans):
                b = bookings(MIXED, Present(recirculates=True, **fans))
                self.assertEqual(
                    (b.supply, b.back, b.exhaust, b.rooms, b.outdoor_damper), (supply, back, exhaust, rooms, throttled)
                )

    def test_all_outdoor_air(self):
        for fans, supply, back, exhaust in (
            ({"back": True}, 650, 330, 0),
            ({"back": False}, 980, 0, 0),
            ({"back": False, "exhaust": True}, 650, 0, 330),
        ):
            b = bookings(FRESH, Present(**fans))
            self.assertEqual((b.supply, b.back, b.exhaust), (supply, back, exhaust))

    def test_a_loss_below_nothing_is_refused(self):
        with self.assertRaisesRegex(InputError, "cannot be"):
            Losses(outdoor=-1, unit=0, supply=0)
        with self.assertRaisesRegex(InputError, "cannot be"):
            Losses(outdoor=1, unit=float("nan"), supply=0)


def sets():
    for supply, back, exhaust, extract in itertools.product((True, False), repeat=4):
        yield Present(supply, back, exhaust, extract, True, True, True)


class EveryLoop(unittest.TestCase):
    """Round every closed way from outdoors to outdoors pressures add to nothing: fans give what ways take."""

    def test_sixteen_sets_of_fans(self):
        lost = Losses(outdoor=60, unit=320, supply=210, back=140, recirculation=15, relief=90, extract=75)
        for there in sets():
            with self.subTest(fans=there):
                b = bookings(lost, there)
                into = -lost.outdoor - b.outdoor_damper - lost.unit + b.supply - lost.supply
                if there.supply:
                    self.assertAlmostEqual(into, b.rooms)
                    self.assertAlmostEqual(b.rooms - lost.back + b.back, b.box)
                    self.assertAlmostEqual(b.box + b.exhaust - lost.relief - b.relief_damper, 0.0)
                    self.assertAlmostEqual(b.box - lost.recirculation - b.recirculation_damper, b.mixing)
                    self.assertGreaterEqual(min(b.outdoor_damper, b.recirculation_damper, b.relief_damper), -1e-9)
                self.assertGreaterEqual(b.rooms + b.extract - lost.extract, -1e-9)
                self.assertGreaterEqual(min(b.supply, b.back, b.exhaust, b.extract), 0.0)

    def test_no_cheaper_set_of_pressures_serves(self):
        """Least air power over all pressures that keep dampers at 0 or more, rooms not below outdoors."""
        rng = np.random.default_rng(7)
        flows = {"supply": 1.8, "back": 1.7, "exhaust": 0.6, "extract": 0.1}
        for there in sets():
            if not there.supply:
                continue
            a, u, s, r, t, e, x = rng.uniform(10, 300, 7)
            b = bookings(Losses(a, u, s, r, t, e, x), there)
            # unknown: S R X E P N M
            power = [flows["supply"], flows["back"], flows["exhaust"], flows["extract"], 0, 0, 0]
            equal = [[1, 0, 0, 0, -1, 0, 1], [0, 1, 0, 0, 1, -1, 0]]  # M + S - u - s = P, P - r + R = N
            above = [
                [0, 0, 0, 0, 0, 0, 1],  # M <= -a
                [0, 0, 0, 0, 0, -1, 1],  # M <= N - t
                [0, 0, -1, 0, 0, -1, 0],  # N + X >= e
                [0, 0, 0, -1, -1, 0, 0],  # P + E >= x
            ]
            bounds = [(0, None)] + [(0, None if on else 0) for on in (there.back, there.exhaust, there.extract)]
            # Box N is not drawn below outdoors by a return fan; the rule's own choice where nothing asks for it.
            bounds += [(0, None), (0 if there.back else None, None), (None, None)]
            best = linprog(power, above, [-a, -t, -e, -x], equal, [u + s, r], bounds)
            self.assertTrue(best.success)
            here = np.dot(power[:4], (b.supply, b.back, b.exhaust, b.extract))
            with self.subTest(fans=there):
                self.assertGreaterEqual(here, best.fun - 1e-6)
                if not there.exhaust:
                    # With one the rule keeps rooms at outdoors and throttles, where pressing them could cost less.
                    self.assertAlmostEqual(here / best.fun, 1.0, places=6)
