"""Hours of the plant: which run, which only make the room ready, across midnight and by the clock of summer."""

import unittest

import numpy as np

from garnetfin.core.errors import InputError
from garnetfin.core.loads.plant_hours import plant_day


def hours(*spans: tuple[int, int]) -> np.ndarray:
    """Hours from the first to the last of each span inclusive, across midnight where they run so."""
    found = np.zeros(24, bool)
    for first, last in spans:
        found[[(first + k) % 24 for k in range((last - first) % 24 + 1)]] = True
    return found


class Hours(unittest.TestCase):
    def same(self, day, on, start_up, first):
        for name, got, wanted in (
            ("on", day.on, on),
            ("start-up", day.start_up, start_up),
            ("first", day.first_used, first),
        ):
            self.assertEqual(np.flatnonzero(got).tolist(), np.flatnonzero(wanted).tolist(), name)
        self.assertTrue((day.counted == (on & ~start_up)).all())

    def test_use_across_midnight(self):
        day = plant_day(hours((20, 3)), "use", 2)
        self.same(day, hours((18, 3)), hours((18, 19)), hours((20, 20)))

    def test_two_starts(self):
        day = plant_day(hours((8, 10), (17, 20)), "use", 1)
        self.same(day, hours((7, 10), (16, 20)), hours((7, 7), (16, 16)), hours((8, 8), (17, 17)))

    def test_a_break_that_the_lead_bridges_is_no_start(self):
        day = plant_day(hours((8, 10), (12, 15)), "use", 3)
        self.same(day, hours((5, 15)), hours((5, 7)), hours((8, 8)))

    def test_typed_hours_across_midnight(self):
        day = plant_day(hours((22, 5)), "hours", from_h=20, to_h=6)
        self.same(day, hours((20, 5)), hours((20, 21)), hours((22, 22)))

    def test_in_summer_time_use_and_typed_hours_come_an_hour_early(self):
        day = plant_day(hours((8, 17)), "use", 1, early_h=1)
        self.same(day, hours((6, 16)), hours((6, 6)), hours((7, 7)))
        typed = plant_day(hours((8, 17)), "hours", from_h=6, to_h=18, early_h=1)
        self.same(typed, hours((5, 16)), hours((5, 6)), hours((7, 7)))

    def test_a_start_that_meets_no_use_has_no_start_up(self):
        day = plant_day(hours((8, 10)), "hours", from_h=12, to_h=20)
        self.same(day, hours((12, 19)), hours(), hours())

    def test_around_the_clock_nothing_starts(self):
        for day in (
            plant_day(hours((8, 17)), "always"),
            plant_day(np.zeros(24, bool), "use", 1),
            plant_day(hours((8, 17)), "use", 14),
            plant_day(hours((8, 17)), "hours", from_h=0, to_h=24),
        ):
            self.assertTrue(day.always)
            self.assertFalse(day.start_up.any() or day.first_used.any())

    def test_hours_that_end_where_they_begin(self):
        with self.assertRaisesRegex(InputError, "must stop after it starts"):
            plant_day(hours((8, 17)), "hours", from_h=6, to_h=6)
