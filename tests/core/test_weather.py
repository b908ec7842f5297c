"""Hours of weather: quantiles of a ramp, clearness taken back from the model's own sky, and faults that are found and
mended.
"""

import unittest
from dataclasses import replace

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.sun import clear_sky, hourly, sun_days
from garnetfin.core.weather import hourly as hours
from garnetfin.core.weather.hourly import HOURS, MONTH_DAYS, MONTH_OF_HOUR, Year, complete, faults, from_csv, mended
from garnetfin.core.weather.percentiles import coincident, quantile, statistics
from garnetfin.exchange.weather_files import to_csv

TAUS = {0: (0.33, 2.45), 6: (0.50, 2.10), 9: (0.75, 1.65)}


def synthetic(latitude: float = 40.0, shift_h: int = 0) -> Year:
    """A smooth invented year under a clear sky of known clearness; each month's days are alike but for the
    temperature.
    """
    sun = sun_days(latitude, 0.0, 0.0)
    taus = np.array([TAUS.get(m, (0.40, 2.30)) for m in range(12)])
    beam, diffuse = clear_sky(sun.e0_w_m2[:, None], sun.elevation, taus[:, :1], taus[:, 1:])
    month = MONTH_OF_HOUR.reshape(-1, 24)[:, 0]
    day, hour = np.arange(365)[:, None], np.arange(24)[None, :] + 0.5
    dry = (
        12
        - 9 * np.cos(2 * np.pi * (day - 15) / 365)
        + 5 * np.cos(2 * np.pi * (hour - 15) / 24)
        + 1.5 * np.sin(day * 1.7)
    )
    return Year(
        dry.ravel(),
        (dry - 7).ravel(),
        np.full(HOURS, 100_000.0),
        np.roll(hourly(beam)[month].ravel(), shift_h),
        np.roll(hourly(diffuse)[month].ravel(), shift_h),
        np.full(HOURS, 3.0),
    )


class Quantiles(unittest.TestCase):
    def test_a_ramp(self):
        ramp = np.arange(8760.0)
        self.assertAlmostEqual(quantile(ramp, 0.996), 8723.964, 6)
        self.assertAlmostEqual(quantile(ramp, 0.004), 35.036, 6)

    def test_coincident_wet_bulb_is_the_mean_of_the_hours_near_by(self):
        dry, wet = np.arange(100) * 0.1, np.arange(100) * 0.05
        self.assertAlmostEqual(coincident(dry, wet, 5.0), 2.5, 9)
        # Far from all hours the eight nearest count.
        self.assertAlmostEqual(coincident(dry, wet, 40.0), wet[-8:].mean(), 9)

    def test_statistics_of_a_known_year(self):
        year = synthetic()
        found = statistics(year, sun_days(40.0, 0.0, 0.0))
        for month, taus in TAUS.items():
            assert_allclose((found.tau_b[month], found.tau_d[month]), taus, atol=1e-3)
        # Every day swings by 10 K about its mean: hour means by a little less.
        assert_allclose(found.range_k, 2 * 5 * np.cos(2 * np.pi * 0.0 / 24), atol=0.1)
        own = year.dry_c[MONTH_OF_HOUR == 6]
        self.assertAlmostEqual(found.dry_c[6, 0], np.quantile(own, 0.996), 9)
        self.assertTrue(np.all(found.wet_c <= found.dry_c))
        self.assertAlmostEqual(found.winter_c[0], np.quantile(year.dry_c, 0.004), 9)
        assert_allclose(found.wind_m_s, 3.0)

    def test_too_few_hours_are_refused(self):
        dry = synthetic().dry_c.copy()
        dry[:100] = np.nan
        self.assertRaisesRegex(
            InputError, "Only 8660 hours", statistics, replace(synthetic(), dry_c=dry), sun_days(40.0, 0.0, 0.0)
        )


class Faults(unittest.TestCase):
    def kinds(self, year: Year, utc: float = 0.0) -> dict:
        return {(f.kind, f.field): f for f in faults(year, 40.0, 0.0, utc)}

    def test_a_sound_year_has_none(self):
        self.assertEqual(self.kinds(synthetic()), {})

    def test_holes_short_and_long(self):
        dry = synthetic().dry_c.copy()
        dry[100:102], dry[500:510] = np.nan, np.nan
        year = replace(synthetic(), dry_c=dry)
        found = self.kinds(year)
        self.assertEqual((found["gap", "dry_c"].rows, found["gap", "dry_c"].count), ((101,), 2))
        self.assertEqual(found["long gap", "dry_c"].count, 10)
        fixed = mended(year, tuple(found.values()))
        self.assertEqual(self.kinds(fixed), {})
        assert_allclose(fixed.dry_c[100:102], np.interp([100, 101], [99, 102], dry[[99, 102]]))
        assert_allclose(fixed.dry_c[500:510], dry[476:486])

    def test_nothing_is_mended_without_the_word(self):
        dry = synthetic().dry_c.copy()
        dry[7] = np.nan
        self.assertTrue(np.isnan(mended(replace(synthetic(), dry_c=dry), ()).dry_c[7]))

    def test_negative_and_impossible_figures(self):
        beam, wind = synthetic().beam_w_m2.copy(), synthetic().wind_m_s.copy()
        beam[12], wind[20] = -9.0, 200.0
        year = replace(synthetic(), beam_w_m2=beam, wind_m_s=wind)
        found = self.kinds(year)
        self.assertEqual(set(found), {("negative", "beam_w_m2"), ("range", "wind_m_s")})
        fixed = mended(year, tuple(found.values()))
        self.assertEqual((fixed.beam_w_m2[12], fixed.wind_m_s[20]), (0.0, 3.0))

    def test_units_are_told_by_the_size_of_a_column(self):
        y = synthetic()
        for wrong, field, mend in (
            (replace(y, dry_c=y.dry_c * 1.8 + 32), "dry_c", "read °F"),
            (replace(y, dry_c=y.dry_c + 273.15), "dry_c", "read K"),
            (replace(y, pressure_pa=y.pressure_pa / 1000), "pressure_pa", "read kPa"),
            (replace(y, pressure_pa=y.pressure_pa / 100), "pressure_pa", "read hPa"),
            (replace(y, beam_w_m2=y.beam_w_m2 * 3.6), "beam_w_m2", "read kJ/m² in the hour"),
            (replace(y, wind_m_s=y.wind_m_s * 3.6 + 5), "wind_m_s", "read km/h"),
        ):
            with self.subTest(mend=mend):
                found = self.kinds(wrong)["units", field]
                self.assertEqual(found.mend, mend)
                if field != "wind_m_s":
                    assert_allclose(getattr(mended(wrong, (found,)), field), getattr(y, field), atol=1e-9)

    def test_a_clock_of_another_zone(self):
        found = self.kinds(synthetic(), utc=3.0)["zone", ""]
        self.assertEqual(found.count, 3)
        shifted = mended(synthetic(), (found,))
        self.assertNotIn(("zone", ""), self.kinds(shifted, utc=3.0))

    def test_the_fast_sun_is_near_the_exact_one(self):
        exact = np.sin(sun_days(40.0, 10.0, 1.0).elevation)
        fast = hours.sine_of_sun(40.0, 10.0, 1.0).reshape(365, 24)
        starts = np.concatenate([[0], np.cumsum(MONTH_DAYS)])[:12] + 20
        assert_allclose(fast[starts], exact[:, 6::12], atol=0.02)


class Kept(unittest.TestCase):
    def test_hours_survive_as_text(self):
        dry = synthetic().dry_c.copy()
        dry[33] = np.nan
        year = replace(synthetic(), dry_c=dry)
        again = from_csv(to_csv(year).encode())
        for name in hours.FIELDS:
            assert_allclose(getattr(again, name), getattr(year, name), atol=0.51 if name == "pressure_pa" else 0.051)

    def test_damaged_hours_are_refused(self):
        good = to_csv(synthetic()).encode()
        for bad in (
            b"",
            b"x\n1\n",
            good[:5000],
            good.replace(b"dry_c", b"wet_c"),
            good.replace(b"3.00\n", b"three\n", 1),
        ):
            self.assertRaises(InputError, from_csv, bad)

    def test_a_complete_year_has_no_holes(self):
        year = replace(synthetic(), dew_c=np.full(HOURS, np.nan), beam_w_m2=np.full(HOURS, np.nan))
        full = complete(year)
        self.assertTrue(all(np.isfinite(getattr(full, name)).all() for name in hours.FIELDS))

    def test_a_year_has_8760_hours(self):
        self.assertRaisesRegex(InputError, "8760 hours", Year, *[np.zeros(10)] * 6)
