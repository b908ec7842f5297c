"""Moist air against a real-gas library's values and against itself the other way round."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air


class Saturation(unittest.TestCase):
    def test_vapour_pressure_matches_the_handbook(self):
        # Printed to six figures: half of the last digit is 4e-6 relative.
        assert_allclose(
            air.saturation_pressure([-20.0, 0.0, 20.0, 50.0]), [103.260, 611.213, 2338.80, 12349.9], rtol=5e-6
        )

    def test_pressure_at_altitude(self):
        assert_allclose(air.pressure_at([0, 1000, 2000]), [101325, 89874.5, 79495.1], atol=0.06)

    def test_altitude_outside_the_atmosphere_is_refused(self):
        self.assertRaisesRegex(InputError, "-5000 and 11000", air.pressure_at, 12000)


class States(unittest.TestCase):
    # (t, rh, p) -> W, h kJ/kg, v, wet bulb, dew point of real-gas moist air.
    REAL = (
        (24, 0.5, 101325, 0.00934031, 47.909, 0.85411, 17.062, 12.949),
        (35, 0.4, 101325, 0.0142005, 71.638, 0.89262, 23.930, 19.391),
        (30, 0.6, 84556, 0.0194029, 79.804, 1.06087, 23.514, 21.392),
        (-10, 0.8, 101325, 0.0012843, -6.869, 0.74646, -10.651, -12.490),
    )

    def test_against_real_gas_values(self):
        for t, rh, p, w, h, v, star, dew in self.REAL:
            own = float(air.humidity_ratio(t, rh, p))
            with self.subTest(t=t, rh=rh):
                # Tolerances are the method's own accuracy against the library over 2,500 states.
                assert_allclose(own, w, rtol=3.1e-4)
                assert_allclose(air.enthalpy(t, own) / 1000, h, atol=0.17)
                assert_allclose(air.specific_volume(t, own, p), v, rtol=1.6e-3)
                assert_allclose(air.wet_bulb(t, own, p), star, atol=0.02)
                assert_allclose(air.dew_point(own, p), dew, atol=0.006)

    def test_wet_bulb_and_back(self):
        t, rh = (a.ravel() for a in np.meshgrid(np.linspace(-25, 55, 17), np.linspace(0.03, 1, 12)))
        w = air.humidity_ratio(t, rh, 95000.0)
        star = air.wet_bulb(t, w, 95000.0)
        # Same equation both ways; 1e-9 is rounding. Within 1 K of freezing two branches exist, so those are left out.
        clear = np.abs(star) > 1.0
        assert_allclose(air.ratio_from_wet_bulb(t, star, 95000.0)[clear], w[clear], atol=1e-9)

    def test_relative_humidity_and_temperature_invert(self):
        w = air.humidity_ratio(27.0, 0.45, 101325.0)
        assert_allclose(air.relative_humidity(27.0, w, 101325.0), 0.45, rtol=1e-12)
        assert_allclose(air.temperature(air.enthalpy(27.0, w), w), 27.0, rtol=1e-12)

    def test_dry_air_has_no_dew_point(self):
        self.assertTrue(np.isnan(air.dew_point(0.0, 101325.0)))

    def test_density_and_viscosity(self):
        w = air.humidity_ratio(20.0, 0.5, 101325.0)
        assert_allclose(air.density(20.0, w, 101325.0), 1.1994, rtol=9e-4)
        assert_allclose(air.viscosity(20.0), 1.814e-5, rtol=1.2e-2)

    def test_impossible_states_are_refused(self):
        self.assertRaisesRegex(InputError, "above the dry bulb", air.ratio_from_wet_bulb, 20.0, 21.0, 101325.0)
        self.assertRaisesRegex(InputError, "bone-dry", air.ratio_from_wet_bulb, 40.0, 5.0, 101325.0)
        self.assertRaisesRegex(InputError, "0 and 100", air.humidity_ratio, 20.0, 1.2, 101325.0)
        self.assertRaisesRegex(InputError, "boiling", air.humidity_ratio, 99.0, 1.0, 70000.0)


if __name__ == "__main__":
    unittest.main()
