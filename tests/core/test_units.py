"""Units: display factors against Pint, and what may be typed."""

import unittest

import pint
from numpy.testing import assert_allclose

from garnetfin import display
from garnetfin.core.errors import InputError
from garnetfin.core.units import QUANTITIES, from_shown, parse, to_shown


class Factors(unittest.TestCase):
    def test_every_factor_equals_pint(self):
        registry = pint.UnitRegistry(cache_folder=None)
        registry.define("kBtu = 1000 Btu")
        registry.define("hectofoot = 100 ft")
        for quantity in QUANTITIES.values():
            if quantity.name.startswith("temperature") or quantity.name == "enthalpy":
                continue
            stored = registry.Quantity(1.0, quantity.si.pint).to(quantity.si.pint).magnitude / quantity.si.factor
            shown = registry.Quantity(stored * quantity.si.factor, quantity.si.pint).to(quantity.ip.pint).magnitude
            # Btu and inch of water have several definitions; they differ by less than 1e-3 (water at 4 or 15.6 C).
            assert_allclose(to_shown(quantity.name, stored, "IP"), shown, rtol=1e-3, err_msg=quantity.name)

    def test_enthalpy_counts_from_another_zero_in_ip(self):
        # Dry air counts from 0 °F there: h = 0.240 t; saturated air of 70 °F has 34.1 Btu/lb (handbook tables, half the
        # last digit).
        assert_allclose(to_shown("enthalpy", 1006.0 * (0 - 32) / 1.8, "IP"), 0.0, atol=0.02)
        from garnetfin.core.psychro.properties import enthalpy, saturation_ratio

        t = (70 - 32) / 1.8
        assert_allclose(to_shown("enthalpy", float(enthalpy(t, saturation_ratio(t, 101325.0))), "IP"), 34.09, atol=0.06)

    def test_temperatures(self):
        assert_allclose(to_shown("temperature", 20.0, "IP"), 68.0)
        assert_allclose(to_shown("temperature_difference", 10.0, "IP"), 18.0)
        assert_allclose(from_shown("temperature", 68.0, "IP"), 20.0)


class Typing(unittest.TestCase):
    def test_any_unit_into_any_field(self):
        for text, quantity, wanted in (
            ("12 ft", "length", 3.6576),
            ("850 m3/h", "room_flow", 850 / 3600),
            ("0.3 in wg", "pressure", 74.72),
            ("300", "room_flow", 0.3),
            ("75 °F", "temperature", 23.888889),
            ("10 °F", "temperature_difference", 5.555556),
            ("1.1 W/m2K", "u_value", 1.1),
            ("50 %", "fraction", 0.5),
            ("16 in", "duct_size", 0.4064),
            ("1,5", "length", 1.5),
            ("−8", "temperature", -8.0),
            ("1 200", "power", 1200.0),
            ("2 kW", "power", 2000.0),
            ("500 cfm", "room_flow", 0.2359737),
            ("0.1 in wg/100 ft", "friction", 0.8172),
            ("3 tons", "refrigeration", 10550.6),
            ("12 kW", "refrigeration", 12000.0),
            ("12' 6\"", "length", 3.81),
            ("12'-6 1/2\"", "length", 3.8227),
            ('8"', "duct_size", 0.2032),
            ('1/2"', "sheet", 0.0127),
            ("7′", "length", 2.1336),
        ):
            with self.subTest(text=text):
                assert_allclose(parse(text, quantity, "SI"), wanted, rtol=2e-4)

    def test_a_bare_number_is_in_the_unit_shown(self):
        assert_allclose(parse("500", "room_flow", "IP"), 0.2359737, rtol=1e-6)

    def test_feet_and_inches_that_cannot_be_are_refused(self):
        for text, why in (("6' 14\"", "a foot among its inches"), ('3 1/0"', "divides by 0")):
            with self.subTest(text=text), self.assertRaisesRegex(InputError, why):
                parse(text, "length", "IP")
        for text in ("'", '"', "6' 2' 2"):
            with self.subTest(text=text), self.assertRaises(InputError):
                parse(text, "length", "IP")

    def test_what_is_wrong_is_said_with_what_is_accepted(self):
        for text in ("", "ten", "3 kg", "1e999", "4 m**9**9**9", "5 __import__"):
            with self.subTest(text=text), self.assertRaisesRegex(InputError, "Type a number in m"):
                parse(text, "length", "SI")


class Display(unittest.TestCase):
    def test_signs_and_thousands(self):
        self.assertEqual(display.number(-1234.6), "−1\u202f235")
        self.assertEqual(display.number(-0.001, 1), "0.0")
        self.assertEqual(display.number(float("nan")), "–")

    def test_lengths_of_drawings_are_feet_and_inches_in_ip(self):
        for metres, words in (
            (3.81, "12′ 6″"),
            (0.2032, "0′ 8″"),
            (1.8288, "6′ 0″"),
            (0.3111, "1′ ¼″"),
            (-0.3048, "−1′ 0″"),
        ):
            self.assertEqual(display.measure(metres, "IP"), words)
            self.assertLess(abs(parse(words.lstrip("−").replace(" ¼″", " 1/4″"), "length", "IP") - abs(metres)), 0.0032)
        self.assertEqual((display.measure(6.4, "SI"), display.measure(6.4, "SI", False)), ("6.40 m", "6.40"))

    def test_figures_in_both_systems(self):
        self.assertEqual(display.with_unit("room_flow", 0.3, "SI"), "300 L/s")
        self.assertEqual(display.with_unit("temperature", 21.0, "IP"), "69.8 °F")
        self.assertEqual(display.direction(359.0), "North")
