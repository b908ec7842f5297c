"""Every row that ships: complete, in range, with its source."""

import unittest

import numpy as np

from garnetfin.core.errors import InputError
from garnetfin.core.tables import (
    fan_models,
    fitting_tables,
    materials,
    profiles,
    read_rows,
    room_use,
    room_uses,
    terminal_models,
)


class RoomUses(unittest.TestCase):
    def test_thirty_uses_with_a_source_for_every_group(self):
        self.assertEqual(len(room_uses()), 30)
        for row in read_rows("room_uses.csv"):
            for column in ("source_people", "source_lighting", "source_equipment", "source_setpoints", "source_air_en"):
                self.assertTrue(row[column], f"{row['id']}: {column}")

    def test_figures_make_sense(self):
        for use in room_uses().values():
            with self.subTest(use=use.id):
                self.assertLess(use.heating_c, use.cooling_c)
                self.assertIn(use.profile, profiles())
                for share in (use.people_radiant, use.lights_radiant, use.equipment_radiant):
                    self.assertTrue(0 <= share <= 1)
                self.assertTrue(0 <= use.people_m2 < 2)
                self.assertTrue(0 <= use.air_person_m3s <= 0.02)

    def test_an_unknown_use_is_refused_with_what_there_is(self):
        self.assertRaisesRegex(InputError, "office_single", room_use, "disco")


class Profiles(unittest.TestCase):
    def test_are_shares_of_24_hours_and_cannot_be_changed(self):
        for name, hours in profiles().items():
            with self.subTest(profile=name):
                self.assertEqual(hours.shape, (24,))
                self.assertTrue(np.all((hours >= 0) & (hours <= 1)))
                self.assertGreater(hours.max(), 0)
                self.assertRaises(ValueError, hours.__setitem__, 0, 1.0)


class Materials(unittest.TestCase):
    def test_are_physical_and_sourced(self):
        self.assertEqual(len(materials()), 58)
        for m in materials().values():
            with self.subTest(material=m.id):
                self.assertTrue(0.01 < m.conductivity_w_mk < 500)
                self.assertTrue(10 <= m.density_kg_m3 < 10_000)
                self.assertTrue(300 < m.specific_heat_j_kgk < 2500)
                self.assertTrue(m.source)


class Catalogues(unittest.TestCase):
    def test_terminals_lose_more_with_more_flow(self):
        for m in terminal_models().values():
            with self.subTest(model=m.model):
                self.assertGreater(len(m.flow_m3s), 1)
                self.assertTrue(np.all(np.diff(m.flow_m3s) > 0))
                self.assertTrue(np.all(np.diff(m.pressure_pa) > 0))

    def test_fans_are_possible_machines(self):
        self.assertEqual(len(fan_models()), 12)
        for m in fan_models().values():
            with self.subTest(fan=m.fan_id):
                self.assertTrue(np.all(np.diff(m.flow_m3s) > 0))
                self.assertTrue(np.all(m.shaft_w > 0))
                self.assertLess(float((m.flow_m3s * m.total_pa / m.shaft_w).max()), 0.85)
                self.assertTrue(m.min_rpm < m.speed_rpm <= m.max_rpm)
                self.assertTrue(m.stalled[0] and not m.stalled[-1])

    def test_fittings_have_a_source_and_whole_tables(self):
        for name, entry in fitting_tables().items():
            self.assertTrue(entry["source"], name)
            for table in entry.get("tables", {}).values():
                shape = tuple(len(a["values"]) for a in table["axes"])
                self.assertEqual(np.array(table["values"], float).shape, shape, name)
                for axis in table["axes"]:
                    self.assertTrue(np.all(np.diff(axis["values"]) > 0), name)
