"""The demo's script makes the file that ships; its invented weather keeps to physics."""

import importlib.util
import sys
import unittest
from pathlib import Path

import numpy as np
from msgspec import structs

from garnetfin.core.weather.design_day import design_days
from garnetfin.project.store import load
from tests.example import station, station_results

DEMO = Path(__file__).parents[2] / "demo"


def script(name: str):
    spec = importlib.util.spec_from_file_location(name, DEMO / f"{name}.py")
    module = importlib.util.module_from_spec(spec)
    sys.modules[name] = module
    spec.loader.exec_module(module)
    return module


class Weather(unittest.TestCase):
    def setUp(self):
        self.months = script("weather").months()

    def test_july_is_warmest_and_january_coldest(self):
        warm = [m.dry_bulb_c.value for m in self.months]
        self.assertEqual((warm.index(max(warm)), warm.index(min(warm))), (6, 0))
        self.assertEqual((max(warm), min(warm)), (31.8, 9.5))

    def test_design_days_are_possible_air(self):
        columns = {
            n: [getattr(m, n).value for m in self.months]
            for n in ("dry_bulb_c", "wet_bulb_c", "range_k", "wet_range_k")
        }
        days = design_days(*columns.values(), 101325.0)
        self.assertTrue(np.all(days.humidity_ratio > 0))
        self.assertTrue(np.all(days.wet_bulb_c <= days.dry_bulb_c + 1e-9))

    def test_the_sky_is_clearest_in_winter(self):
        self.assertLess(self.months[0].tau_b.value, self.months[6].tau_b.value)


class TernPoint(unittest.TestCase):
    def test_the_script_makes_the_file_that_ships_twice_over(self):
        script("weather")
        demo = script("make_tern_point")
        import json

        plan = json.loads((DEMO / "tern_point_plan.json").read_text(encoding="utf-8"))
        self.assertEqual(demo.rooms(plan), tuple(structs.replace(r, zone_id="") for r in station().rooms))
        self.assertEqual(demo.walls(plan), station().walls)
        self.assertEqual(demo.slabs(plan), station().slabs)
        self.assertEqual(load(DEMO / "tern-point.gfin"), station())

    def test_it_has_everything_awkward(self):
        rooms = {r.number: r for r in station().rooms}
        self.assertEqual((rooms["0.03"].ceiling_m, rooms["0.07"].system_id, rooms["0.12"].air), (6.8, "", "transfer"))
        self.assertTrue(any(o.kind == "glass wall" for w in station().walls for o in w.openings))
        self.assertTrue(any(o.sleeves for o in station().obstacles))

    def test_findings_are_few_and_each_has_its_mend(self):
        findings = station_results().findings
        self.assertTrue(3 <= len(findings) <= 12)
        self.assertTrue(all(f.mends for f in findings))
