"""Casings, silencers and shafts against published figures and counting by hand."""

import itertools
import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core import noise
from garnetfin.core.equipment import casings, shafts, silencers
from garnetfin.core.equipment.casings import Section
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.errors import InputError

SIZES = casings.casings(shipped("casings"))
SUPPLY = (
    Section("damper"),
    Section("filter_bag"),
    Section("plate"),
    Section("cooling", 6 * 0.026),
    Section("heating"),
    Section("fan"),
    Section("silencer"),
)
EXHAUST = (Section("filter_panel"), Section("plate"), Section("fan"), Section("damper"))


class Unit(unittest.TestCase):
    def test_published(self):
        size, refused = casings.choose_size(SIZES, 1.8, 1.6, 2.0)
        self.assertEqual([r.size for r in refused], [c.size for c in SIZES[: len(refused)]])
        self.assertEqual(size.size, "GF-A05")
        speed = 1.8 / size.filter_face_m2
        assert_allclose(speed, 1.7120, rtol=1e-4)
        self.assertEqual(casings.velocity_class(speed), "V2")
        made = casings.lay_out(size, SUPPLY, EXHAUST)
        assert_allclose([made.length_m, made.width_m, made.height_m], [7.55, 1.40, 2.26], atol=0.006)
        assert_allclose(made.mass_kg, 1821.4, atol=0.06)
        assert_allclose([made.floor_m2, made.clear_m], [27.450, 2.86], atol=0.006)
        self.assertEqual(made.pieces, 4)

    def test_the_smallest_that_is_slow_enough(self):
        for flow in np.linspace(0.05, 12, 40):
            found, refused = casings.choose_size(SIZES, flow, 0.5 * flow, 2.0)
            fits = [c for c in SIZES if flow / c.filter_face_m2 <= 2.0 and flow / c.coil_face_m2 <= 2.5]
            self.assertIs(found, fits[0] if fits else None)
            self.assertTrue(all(r.velocity_m_s > r.limit_m_s for r in refused))

    def test_sections_stand_apart_and_the_wheel_in_both_decks(self):
        for size in SIZES:
            made = casings.lay_out(size, SUPPLY, EXHAUST)
            self.assertEqual([s.deck for s in made.stations].count("both"), 1)
            for deck in ("supply", "exhaust"):
                row = sorted((s for s in made.stations if s.deck in (deck, "both")), key=lambda s: s.start_m)
                for a, b in itertools.pairwise(row):
                    self.assertGreaterEqual(b.start_m, a.start_m + a.length_m - 1e-9)

    def test_arrangements(self):
        stacked, beside = (casings.lay_out(SIZES[4], SUPPLY, EXHAUST, a) for a in ("stacked", "side by side"))
        self.assertLess(beside.height_m, stacked.height_m)
        self.assertLess(stacked.width_m, beside.width_m)
        assert_allclose(stacked.length_m, beside.length_m)

    def test_limits_of_the_unit(self):
        assert_allclose(casings.inner_power_limit(1.8, 0.78, False), 980, atol=1e-9)
        self.assertEqual(casings.fan_power_class(1900), "SFP 4")
        self.assertEqual(casings.recovery_class(0.8, 40000.0, 1000.0), "H1")
        self.assertEqual(casings.recovery_class(0.8, 0.0, 1000.0), "H6")
        clean, loaded = casings.filter_drop("ePM1 50 %", 2.0)
        assert_allclose([clean, loaded], [80, 180])

    def test_refused(self):
        for flows in ((0.0, 0.0), (-1.0, 1.0), (np.nan, 1.0)):
            with self.assertRaises(InputError):
                casings.choose_size(SIZES, *flows, 2.0)
        for wrong in ((SUPPLY, EXHAUST, "round"), ((), (), "stacked"), ((Section("wheel"),), (), "single")):
            with self.assertRaises(InputError):
                casings.lay_out(SIZES[0], *wrong)
        with self.assertRaises(InputError):
            casings.filter_drop("G4", 2.0)


class Silencer(unittest.TestCase):
    before = np.array([82, 84, 83, 80, 77, 73, 68, 62], float)
    allowed = np.array([80, 78, 70, 60, 56, 54, 54, 54], float)

    def test_published(self):
        found = silencers.choose(shipped("attenuators"), self.before, self.allowed, 1.5, (0.7, 0.6), 50.0)
        self.assertEqual(found.model.model, "GF-S200-100-12")
        assert_allclose(found.drop_pa, 42.551, rtol=1e-4)
        self.assertTrue((found.after_db <= self.allowed).all())
        # levels behind it are those that get through and its own, together
        through = self.before - np.array(found.model.loss_db)
        assert_allclose(found.after_db, noise.add(np.array([through, found.own_db])))
        total = found.model.noise_db + found.model.noise_slope * np.log10(1.5 / 0.42 / 5) + 10 * np.log10(0.42)
        assert_allclose(noise.add(found.own_db), total)

    def test_none_names_the_band(self):
        found = silencers.choose(shipped("attenuators"), self.before, self.allowed - 40, 1.5, (0.7, 0.6), 50.0)
        self.assertIsNone(found.model)
        self.assertGreater(found.lacks_db, 0)
        self.assertEqual(len(found.refused), len(shipped("attenuators")))

    def test_refused(self):
        with self.assertRaises(InputError):
            silencers.choose(shipped("attenuators"), self.before, self.allowed, 0.0, (0.7, 0.6), 50.0)


class Shaft(unittest.TestCase):
    def test_published(self):
        found = shafts.riser(1.2, 6.5)
        self.assertEqual((found.width_m, found.depth_m), (0.55, 0.35))
        size = shafts.shaft([shafts.Riser(0.5, 0.4, 0.03), shafts.Riser(0.45, 0.35, 0.03), shafts.Riser(0.3, 0.25)])
        assert_allclose([size.width_m, size.depth_m, size.area_m2], [1.77, 0.66, 1.1682], atol=1e-9)

    def test_deep_ones_are_refused_and_flat_ones_found(self):
        self.assertIsNone(shafts.riser(5.0, 5.0, 0.3))
        flat = shafts.riser(0.5, 5.0, 0.2)
        self.assertTrue(flat.depth_m <= 0.2 and flat.width_m <= 2.5 * flat.depth_m + 1e-9)
        with self.assertRaises(InputError):
            shafts.riser(0.0, 5.0)

    def test_many_ducts_take_two_rows(self):
        size = shafts.shaft([shafts.Riser(0.6, 0.2)] * 8)
        self.assertIn(size.rows, (1, 2))
        one = 8 * 0.6 + 9 * 0.1
        self.assertLessEqual(size.area_m2, one * (0.2 + 0.2) + 1e-9)
        with self.assertRaises(InputError):
            shafts.shaft([])

    def test_pipes(self):
        """DN 50 at 1 L/s of water: Darcy-Weisbach with Colebrook's factor, solved here by iteration."""
        found = shafts.pipe(0.001, 150.0)
        v = 0.001 / (np.pi * found.bore_m**2 / 4)
        re, f = v * found.bore_m * 999 / 1.2e-3, 0.02
        for _ in range(50):
            f = (-2 * np.log10(5e-5 / found.bore_m / 3.7 + 2.51 / (re * np.sqrt(f)))) ** -2
        assert_allclose(found.drop_pa_m, f / found.bore_m * 999 * v**2 / 2, rtol=0.02)
        self.assertLessEqual(found.drop_pa_m, 150)
        self.assertIsNone(shafts.pipe(1.0, 150.0))
