"""Machines against published figures, and hours that must add up."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.equipment import plant, water
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.errors import InputError

MODELS = {m.model: m for m in shipped("machines")}
AIR_COOLED = tuple(m for m in MODELS.values() if m.kind == "chiller_air")


class Machine(unittest.TestCase):
    def test_published_chiller(self):
        m = MODELS["GF-LC160"]
        assert_allclose(plant.capacity(m, 7, 38), 155718, rtol=1e-5)
        assert_allclose(plant.power(m, 7, 38, 1.0), 51923.3, rtol=1e-5)
        assert_allclose(plant.power(m, 7, 28, 0.6), 26160.5, rtol=1e-5)
        assert_allclose(plant.power(m, 7, 20, 0.1), 5159.27, rtol=1e-5)

    def test_published_heat_pump(self):
        m = MODELS["GF-AH120"]
        assert_allclose(plant.capacity(m, 45, -7), 81662.4, rtol=1e-5)
        assert_allclose(plant.power(m, 45, -7, 1.0), 32276.5, rtol=1e-5)

    def test_rating_points(self):
        """At the point of its rating each machine is its nominal self, but for the digits of its polynomial."""
        points = {"chiller_air": (7, 35), "chiller_water": (7, 30), "heat_pump_air": (45, 7), "dx_condensing": (6, 35)}
        for m in MODELS.values():
            if m.kind in points:
                assert_allclose(plant.capacity(m, *points[m.kind]), m.nominal_w, rtol=0.01)
                cop = float(plant.capacity(m, *points[m.kind]) / plant.power(m, *points[m.kind], 1.0))
                assert_allclose(cop, m.nominal_cop, rtol=0.02)

    def test_outside_its_limits_it_stands_still(self):
        m = MODELS["GF-LC160"]
        assert_allclose(plant.capacity(m, [7, 25, 7], [50, 30, 30])[:2], 0)
        assert_allclose(plant.power(m, 7, 50, 1.0), 0)

    def test_heat_and_cold_at_once(self):
        found = plant.recover(MODELS["GF-WC250"], 100e3, 80e3, 7.0, 45.0)
        assert_allclose(found, [62291.4, 80000.0, 17708.6], rtol=1e-5)
        assert_allclose(found.cold_w + found.input_w, found.heat_w, rtol=1e-12)


class Choice(unittest.TestCase):
    def test_published(self):
        found = plant.choose(AIR_COOLED, plant.Design(240e3, 7, 38, 0.05, True, 2))
        self.assertEqual((found.model.model, found.count), ("GF-LC160", 3))
        assert_allclose(found.spare, 0.29765, rtol=1e-4)
        assert_allclose(found.count * plant.machine_floor(found.model), 54.0, atol=0.01)

    def test_fewest_then_least_capacity(self):
        for load in (20e3, 90e3, 300e3, 1.2e6, 4e6):
            want = plant.Design(load, 7, 35, 0.05, False, plant.fewest_for(load))
            found = plant.choose(AIR_COOLED, want)
            others = [t for t in found.tried if not t.why]
            self.assertEqual(found.count, min(t.count for t in others))
            alike = [t for t in others if t.count == found.count]
            assert_allclose(found.each_w, min(t.each_w for t in alike))
            self.assertGreaterEqual(found.count * found.each_w, load * 1.05 - 1)

    def test_none(self):
        found = plant.choose(AIR_COOLED, plant.Design(20e6, 7, 35))
        self.assertIsNone(found.model)
        self.assertTrue(all(t.why == "number" for t in found.tried))
        for wrong in (0.0, -1.0, np.nan, np.inf):
            with self.assertRaises(InputError):
                plant.choose(AIR_COOLED, plant.Design(wrong, 7, 35))


class Hours(unittest.TestCase):
    def test_met_and_unmet_are_the_load(self):
        seed = np.random.default_rng(2)
        load, out = seed.uniform(0, 500e3, 8760), seed.uniform(-20, 48, 8760)
        found = plant.year(MODELS["GF-LC160"], 2, load, 7.0, out)
        assert_allclose(found.met_w + found.unmet_w, load, rtol=1e-12)
        self.assertTrue((found.running <= 2).all() and (found.unmet_w >= 0).all())
        still = out > 46
        assert_allclose(found.met_w[still], 0)
        # one hour at a time, as a loop would
        for i in range(0, 8760, 977):
            each = float(plant.capacity(MODELS["GF-LC160"], 7.0, out[i]))
            n = min(2, int(np.ceil(load[i] / each))) if each else 0
            given = min(load[i], n * each)
            taken = n * float(plant.power(MODELS["GF-LC160"], 7.0, out[i], given / (n * each))) if n else 0.0
            assert_allclose([found.met_w[i], found.input_w[i]], [given, taken], rtol=1e-9)

    def test_refused(self):
        with self.assertRaises(InputError):
            plant.year(MODELS["GF-LC160"], 2, np.array([-1.0]), 7.0, np.array([30.0]))


class Pumps(unittest.TestCase):
    def test_closed_form(self):
        found = plant.pump(100e3, 7.0, 12.0, 45e3, 25e3, 40.0)
        of = water.liquid(9.5)
        assert_allclose(found.flow_m3s, 100e3 / (float(of.density) * float(of.heat) * 5), rtol=1e-12)
        assert_allclose(found.head_pa, 45e3 + 2 * 25e3 + 1.5 * 150 * 80)
        assert_allclose(found.power_w, found.flow_m3s * found.head_pa / 0.6)

    def test_year(self):
        powers = plant.pump_year(1000.0, np.array([0.0, 5e3, 50e3, 100e3]), 100e3)
        assert_allclose(powers, [0.0, 1000 * 0.2 * (0.4 + 0.6 * 0.04), 1000 * 0.5 * (0.4 + 0.6 * 0.25), 1000.0])

    def test_refused(self):
        for wrong in ((100.0, 7.0, 7.0), (np.nan, 7.0, 12.0)):
            with self.assertRaises(InputError):
                plant.pump(*wrong, 1e4, 1e4, 10.0)

    def test_room_for_machines(self):
        """Air-cooled ones stand on the roof; a boiler and a chiller indoors want their floors and a share more."""
        self.assertEqual(plant.plant_room([(MODELS["GF-LC160"], 2)]), 0.0)
        boiler = MODELS["GF-KB90"]
        floor = (0.825 + 1.6) * (0.7 + 1.6)
        assert_allclose(plant.plant_room([(boiler, 2)]), 1.25 * 2 * floor + 8 + 0.01 * 180, rtol=1e-9)
        assert_allclose(plant.amps(10e3), 10e3 / (np.sqrt(3) * 400 * 0.85))
