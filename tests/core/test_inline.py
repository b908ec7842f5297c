"""Parts in the run of a duct: laws, choice, places; figures from the equations in hand."""

import math
import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.ducts import inline
from garnetfin.core.ducts.fittings.dampers import k_at
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.equipment.catalogue import SHEETS, InlineModel, headings, one_row, shipped
from garnetfin.core.errors import InputError

MODELS = shipped("inline")
BY_NAME = {m.model: m for m in MODELS}
AIR = (1.2, 1.81e-5)
CURVE = ((0.0314, 7.7), (0.0628, 17.9), (0.0942, 34.0), (0.1414, 68.8), (0.1885, 116.0), (0.2356, 175.1))


def row(**cells: str) -> InlineModel:
    cells = {"model": "X", "kind": "filter", "shape": "rectangular", "width_mm": "300", "height_mm": "300", **cells}
    kind = SHEETS["inline"][0]
    return one_row(kind, {h: cells.get(h, "") for h in headings(kind)}, "row 1")


class Laws(unittest.TestCase):
    def test_a_coefficient_counts_on_the_free_area(self):
        found = inline.model_loss(BY_NAME["GF-F60-500x300"], 0.9, AIR)
        self.assertAlmostEqual(found.pressure_pa, 0.3 * 0.6 * (0.9 / 0.1224) ** 2, places=9)
        self.assertAlmostEqual(found.pressure_pa, 9.73183, places=5)
        # on the velocity of the duct
        self.assertAlmostEqual(found.pressure_pa / (0.6 * (0.9 / 0.15) ** 2), 0.450548, places=6)

    def test_a_power_law_in_thin_air(self):
        found = inline.model_loss(BY_NAME["GF-FI-600x600"], 0.72, (0.98, 1.85e-5))
        self.assertAlmostEqual(found.pressure_pa, 87.9521, places=3)
        self.assertAlmostEqual(found.pressure_pa, 90 * (0.98 / 1.2) ** 0.2 * (1.85 / 1.81) ** 0.8, places=9)

    def test_a_curve_between_and_beyond_its_points(self):
        self.assertAlmostEqual(inline.curve_loss(CURVE, 0.12, AIR).pressure_pa, 51.4603, places=4)
        beyond = inline.curve_loss(CURVE, 0.3, AIR)
        self.assertAlmostEqual(beyond.pressure_pa, 274.394, places=3)
        self.assertTrue(beyond.beyond)
        self.assertFalse(inline.curve_loss(CURVE, 0.2356, AIR).beyond)
        for q, p in CURVE:
            self.assertAlmostEqual(inline.curve_loss(CURVE, q, AIR).pressure_pa, p, places=6)

    def test_two_points_make_a_power_law(self):
        n = math.log(4) / math.log(2)
        for q in (0.05, 0.13, 0.2, 0.5):
            found = inline.curve_loss(((0.1, 10.0), (0.2, 40.0)), q, AIR)
            self.assertAlmostEqual(found.pressure_pa, 10 * (q / 0.1) ** n, places=6)

    def test_the_exponent_is_the_slope_of_the_curve(self):
        """By differences: what the network makes of a part must be its own law near design."""
        for q in (0.05, 0.12, 0.2):
            low, high = (inline.curve_loss(CURVE, q * f, AIR).pressure_pa for f in (0.9999, 1.0001))
            slope = math.log(high / low) / math.log(1.0001 / 0.9999)
            self.assertAlmostEqual(inline.curve_loss(CURVE, q, AIR).exponent, slope, places=3)

    def test_a_blade_by_its_table(self):
        m = BY_NAME["GF-V-300x200"]
        found = inline.model_loss(m, 0.3, AIR, 30.0)
        self.assertAlmostEqual(found.pressure_pa, k_at(inline.section_of(m), 30.0) * 0.6 * (0.3 / 0.06) ** 2, places=9)
        self.assertGreater(found.pressure_pa, inline.model_loss(m, 0.3, AIR).pressure_pa)

    def test_no_air_and_no_length_lose_nothing(self):
        self.assertEqual(inline.model_loss(BY_NAME["GF-F60-500x300"], 0.0, AIR).pressure_pa, 0.0)
        self.assertEqual(inline.model_loss(BY_NAME["GF-A-300x200"], 1.0, AIR).pressure_pa, 0.0)

    def test_wrong_figures_are_refused(self):
        for call in (
            lambda: inline.k_loss(1.0, 0.0, 0.1, 1.2),
            lambda: inline.power_loss(10.0, 0.0, 2.0, 0.1, AIR),
            lambda: inline.power_loss(10.0, 0.1, 3.0, 0.1, AIR),
            lambda: inline.power_loss(10.0, math.nan, 2.0, 0.1, AIR),
            lambda: inline.curve_loss(((0.1, 1.0),), 0.1, AIR),
        ):
            with self.assertRaises(InputError):
                call()

    def test_transitions_on_both_sides(self):
        duct, part = Section("rectangular", 0.4, 0.25), Section("rectangular", 0.5, 0.3)
        self.assertEqual(inline.adapters(duct, duct, 0.5, 1.2), 0.0)
        found = inline.adapters(duct, part, 0.5, 1.2)
        self.assertGreater(found, 0.0)
        self.assertAlmostEqual(found / inline.adapters(duct, part, 1.0, 1.2), 0.25, places=9)


class Rows(unittest.TestCase):
    def test_rows_that_cannot_be_are_refused(self):
        for cells, says in (
            ({"law": "k", "length_mm": "200"}, "free_area_m2"),
            ({"law": "power", "length_mm": "200", "rated_m3s": "0.2", "rated_pa": "20"}, "exponent"),
            ({"law": "power", "length_mm": "200", "rated_m3s": "0.2", "rated_pa": "20", "exponent": "0.5"}, "between"),
            ({"law": "curve", "length_mm": "200", "points_m3s_pa": "0.1:20;0.2:10"}, "rise"),
            ({"law": "curve", "length_mm": "200", "points_m3s_pa": "0.1;20"}, "cannot be read"),
            ({"law": "magic"}, "law cannot be"),
            ({"law": "k", "width_mm": "nan"}, "width_mm"),
        ):
            with self.subTest(cells), self.assertRaisesRegex(InputError, says):
                row(**cells)

    def test_every_kind_that_ships_has_models(self):
        kinds = {m.kind for m in MODELS}
        self.assertIn("attenuator", kinds)
        self.assertEqual(len(MODELS), 293)
        for m in MODELS:
            if m.law == "k" and m.length_m:
                self.assertLessEqual(m.free_m2, m.face_m2 * 1.001, m.model)


class Choice(unittest.TestCase):
    shelf = inline.Shelf(MODELS)

    def test_the_smallest_that_is_not_smaller_on_either_side(self):
        """By looking at all rows one by one."""
        rng = np.random.default_rng(3)
        for _ in range(60):
            duct = Section("rectangular", *(float(x) for x in rng.uniform(0.1, 0.9, 2).round(2)))
            flow, asked = float(rng.uniform(0.05, 3)), float(rng.choice([0, 60, 90]))
            fits = [
                m
                for m in MODELS
                if m.kind == "fire damper"
                and m.shape == "rectangular"
                and m.width_m >= duct.width_m - 1e-4
                and m.height_m >= duct.height_m - 1e-4
                and flow / (m.width_m * m.height_m) <= m.most_m_s
                and m.fire_min >= asked
            ]
            found = self.shelf.choose("fire damper", duct, flow, asked)
            if not fits:
                self.assertIsNone(found.model)
                self.assertEqual(len(found.refused), sum(m.kind == "fire damper" for m in MODELS))
                continue
            self.assertAlmostEqual(found.model.face_m2, min(m.face_m2 for m in fits))
            self.assertIn(found.model, fits)
            self.assertTrue(all(inline.judged(m, duct, flow, asked) == "" for m in fits))

    def test_reasons_are_true(self):
        duct = Section("round", 0.25, 0.25)
        found = self.shelf.choose("fire damper", duct, 0.3, 90, True)
        self.assertEqual(found.model.model, "GF-FS120-250")
        for name, why in found.refused.items():
            m = BY_NAME[name]
            true = {
                "shape": m.shape != "round",
                "size": m.width_m < 0.25,
                "velocity": 0.3 / m.face_m2 > m.most_m_s > 0,
                "minutes": m.fire_min < 90,
                "smoke": not m.smoke,
            }
            self.assertTrue(true[why], (name, why))

    def test_doors_go_by_the_greater_side(self):
        for side, name in ((0.2, "180x80"), (0.315, "300x200"), (0.5, "400x300"), (0.9, "600x500")):
            found = self.shelf.choose("access door", Section("rectangular", side, 0.15), 0.2)
            self.assertEqual(found.model.model, f"GF-A-{name}")

    def test_nothing_serves_what_is_too_large(self):
        self.assertIsNone(self.shelf.choose("heater", Section("rectangular", 2.0, 1.0), 1.0).model)
        self.assertIsNone(self.shelf.choose("no such kind", Section("round", 0.2, 0.2), 1.0).model)


class Sound(unittest.TestCase):
    def test_an_attenuator_makes_what_air_in_its_gaps_makes(self):
        """K + 55 lg of the velocity in the gaps + 10 lg of the free area, split as in straight ducts."""
        found = inline.flow_sound(BY_NAME["GF-Qa-800x400-1200"], 1.9)
        assert_allclose(found[[0, 4]], [56.63, 47.39], atol=0.01)

    def test_parts_without_figures_are_silent(self):
        self.assertLess(inline.flow_sound(BY_NAME["GF-X-200"], 0.2).max(), 0)


class Places(unittest.TestCase):
    def test_between_fittings_and_other_parts(self):
        found = inline.free_places((0.5, 5.0), [(2.0, 2.6)], 0.4, (0.3, 0.1))
        assert_allclose(found, [(1.0, 1.7), (3.1, 4.7)])
        self.assertAlmostEqual(inline.nearest_place(found, 2.2), 1.7)
        self.assertAlmostEqual(inline.nearest_place(found, 2.6), 3.1)
        self.assertAlmostEqual(inline.nearest_place(found, 4.0), 4.0)

    def test_nowhere(self):
        self.assertEqual(inline.free_places((0.0, 0.5), [], 0.4, (0.3, 0.1)), ())
        self.assertIsNone(inline.nearest_place((), 1.0))
