"""Sun against published check values, pvlib and ray tracing."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import angle_factor, glass_resistance
from garnetfin.core.fabric.shading import Window, lit_past
from garnetfin.core.sun import (
    DAY,
    PARALLAX_DEG,
    YEAR,
    SunDays,
    beyond_the_air,
    clear_sky,
    face_sun,
    hourly,
    julian_day,
    sun_days,
    sun_position,
)
from garnetfin.core.weather.design_day import RANGE_SHARE, design_days


class ClearSky(unittest.TestCase):
    def test_check_values(self):
        for tb, td, b, beam, diffuse in ((0.35, 2.40, 60, 929.10, 114.55), (0.50, 2.10, 30, 604.25, 114.27)):
            found = clear_sky(1367.0, np.radians(b), tb, td)
            assert_allclose(found, (beam, diffuse), atol=0.005)  # half of the last printed digit

    def test_night_is_dark(self):
        self.assertEqual([float(x) for x in clear_sky(1367.0, -0.1, 0.4, 2.3)], [0.0, 0.0])

    def test_bad_clearness_is_refused(self):
        self.assertRaisesRegex(InputError, "optical depths", clear_sky, 1367.0, 1.0, 0.0, 2.3)


class Position(unittest.TestCase):
    PLACES = ((46.2, 0.0, 0.0), (-36.8, 174.6, 12.0), (3.4, 101.9, 8.0), (69.0, -120.0, -8.0), (0.0, 0.0, 0.0))

    def test_a_published_position(self):
        # Meeus, example 25.a: 1992 October 13.0 dynamical time, apparent declination -7.78507 deg.
        julian = julian_day(1992, 10, 13) - 58.7 / 86400  # the earth ran 58.7 s behind then
        north, _ = sun_position(np.array([julian]), 90.0, 0.0)
        # seen from the pole the elevation is the declination, less the parallax; 0.01 deg is what the series gives
        self.assertAlmostEqual(float(np.degrees(north[0])) + PARALLAX_DEG, -7.78507, delta=0.01)

    def test_the_full_theory_of_pvlib(self):
        import pandas as pd
        from pvlib import solarposition

        minutes = (np.arange(288) + 0.5) * 5
        for latitude, longitude, offset in self.PLACES:
            own = sun_days(latitude, longitude, offset)
            for month in range(12):
                start = pd.Timestamp(year=YEAR, month=month + 1, day=DAY)
                times = (start + pd.to_timedelta(minutes - 60 * offset, unit="min")).tz_localize("UTC")
                found = solarposition.get_solarposition(times, latitude, longitude)
                elevation = found["elevation"].to_numpy()
                assert_allclose(np.degrees(own.elevation[month]), elevation, atol=0.01)
                off = (np.degrees(own.azimuth[month]) - found["azimuth"].to_numpy() + 180) % 360 - 180
                assert_allclose(off * np.cos(np.radians(elevation)), 0.0, atol=0.01)

    def test_irradiance_outside_the_air(self):
        from pvlib.irradiance import get_extra_radiation

        days = np.arange(1, 366)
        theirs = get_extra_radiation(days, method="spencer", solar_constant=1367.0)
        assert_allclose(beyond_the_air(days), theirs, rtol=1e-12)


class Faces(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.sun = sun_days(46.2, 0.0, 0.0)

    def test_beam_and_ground_light_equal_pvlib(self):
        from pvlib import irradiance

        beam, diffuse = clear_sky(self.sun.e0_w_m2[:, None], self.sun.elevation, 0.4, 2.3)
        for azimuth, tilt in ((180.0, 90.0), (275.0, 90.0), (90.0, 35.0), (0.0, 0.0)):
            own = face_sun(self.sun, beam, diffuse, [azimuth], [tilt], 0.2)
            zenith, around = 90 - np.degrees(self.sun.elevation), np.degrees(self.sun.azimuth)
            theirs = irradiance.beam_component(tilt, azimuth, zenith, around, beam)
            up = self.sun.elevation > 0
            assert_allclose(own.beam[0][up], theirs[up], atol=1e-6)
            ghi = beam * np.sin(np.maximum(self.sun.elevation, 0)) + diffuse
            if tilt == 0.0:
                assert_allclose(own.beam[0] + own.diffuse[0], ghi, atol=1e-6)

    def test_polar_night_gives_zeros(self):
        sun = sun_days(85.0, 0.0, 0.0)
        beam, diffuse = clear_sky(sun.e0_w_m2[:, None], sun.elevation, 0.4, 2.3)
        self.assertEqual(float(face_sun(sun, beam, diffuse, [180.0], [90.0], 0.2).beam[0, 11].max()), 0.0)

    def test_hours_are_means_of_their_samples(self):
        samples = np.arange(288.0)[None]
        assert_allclose(hourly(samples)[0, :2], [5.5, 17.5], rtol=1e-15)

    def test_day_is_mirrored_at_noon(self):
        sun = SunDays(self.sun.elevation, self.sun.azimuth, self.sun.e0_w_m2)
        beam, diffuse = clear_sky(sun.e0_w_m2[:, None], sun.elevation, 0.4, 2.3)
        east, west = (hourly(face_sun(sun, beam, diffuse, [a], [90.0], 0.2).beam)[0, 5].sum() for a in (90.0, 270.0))
        # In June the equation of time moves noon by less than 2 minutes: below 2 % of the day's sum.
        assert_allclose(east, west, rtol=0.02)


class Shade(unittest.TestCase):
    def lit(self, b: float, g: float, **measures) -> float:
        return float(lit_past([], np.radians([b]), np.radians([180.0 + g]), 180.0, Window(**measures))[0])

    def test_overhang_and_reveal_check_values(self):
        # Formula value to four digits; ray tracing gave .602 and .8086.
        assert_allclose(
            self.lit(45, 30, width_m=1.0, height_m=1.2, overhang_m=0.5, overhang_gap_m=0.1), 0.6022, atol=5e-5
        )
        assert_allclose(self.lit(40, 25, width_m=1.2, height_m=1.5, reveal_m=0.2), 0.8084, atol=5e-5)

    def test_sun_behind_the_wall_lights_nothing(self):
        self.assertEqual(self.lit(40, 120, width_m=1, height_m=1), 0.0)

    def test_bad_window_is_refused(self):
        self.assertRaisesRegex(InputError, "width and height", self.lit, 40, 0, width_m=0, height_m=1)


class Glass(unittest.TestCase):
    def test_angle_factors(self):
        at = np.cos(np.radians([30, 60, 75]))
        assert_allclose(angle_factor(at, 2, 4.0), [0.9924, 0.8744, 0.5630], atol=5e-5)
        assert_allclose(angle_factor(at, 2, 2.5), [0.9871, 0.8304, 0.5179], atol=5e-5)

    def test_diffuse_is_the_mean_over_the_hemisphere(self):
        i = np.linspace(0, np.pi / 2, 20001)
        for q, wanted in ((4.0, 0.8931), (2.5, 0.8711)):
            mean = np.trapezoid(angle_factor(np.cos(i), 2, q) * np.sin(2 * i), i)
            assert_allclose(mean, wanted, atol=1e-4)

    def test_impossible_u_value_is_refused(self):
        self.assertRaisesRegex(InputError, "at most 7", glass_resistance, 7.4)


class DesignDays(unittest.TestCase):
    def test_reaches_its_maximum_and_falls_by_its_range(self):
        days = design_days([30.0] * 12, [20.0] * 12, [10.0] * 12, [4.0] * 12, 101325.0)
        assert_allclose(days.dry_bulb_c.max(axis=1), 30.0)
        assert_allclose(days.dry_bulb_c.min(axis=1), 30.0 - 10.0 * RANGE_SHARE.max())
        self.assertTrue(np.all(days.wet_bulb_c <= days.dry_bulb_c))

    def test_hottest_hours_are_early_afternoon(self):
        self.assertEqual(list(np.flatnonzero(RANGE_SHARE == 0)), [13, 14])

    def test_no_number_is_refused(self):
        self.assertRaisesRegex(
            InputError, "finite", design_days, [np.nan] * 12, [20.0] * 12, [10.0] * 12, [4.0] * 12, 1e5
        )
