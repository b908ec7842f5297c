"""Rooms with a unit of another kind than their system has, units with a machine of their own, systems that draw air
out alone.
"""

import unittest
from functools import lru_cache

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, FanResult, Missing, Results
from garnetfin.engine.run import run
from garnetfin.project.edits.duct_runs import DrawRun
from garnetfin.project.edits.rooms import SetRoomChoice, SetRoomValue
from garnetfin.project.edits.systems import AddSystem, SetPattern
from garnetfin.project.values import Pinned
from tests.example import by_number, station

AHU, MEMO, Z = "ahu-north", Memo(), 6.6


def room(number: str) -> str:
    return by_number(station(), number).id


@lru_cache(maxsize=20)
def after(*edits) -> Results:
    project = station()
    for edit in edits:
        project = edit.apply(project)
    return run(project, MEMO)


HOT = room("1.11")  # the data room: cooled all year


class OtherUnits(unittest.TestCase):
    def row(self, results, room_id=HOT):
        return results.room_air[room_id]

    def test_a_room_unit_takes_cooling_from_the_air_of_that_room_alone(self):
        before, with_unit = after(), after(SetRoomChoice((HOT,), "rest", "unit"))
        self.assertNotIn("cooling", self.row(with_unit).carried)
        self.assertLess(self.row(with_unit).flow_m3s, 0.5 * self.row(before).flow_m3s)
        for other in before.air[AHU].rooms:
            if other.room_id != HOT:
                self.assertEqual(with_unit.room_air[other.room_id].flow_m3s, other.flow_m3s)
        # What the air no longer takes the unit does: its load less what its air takes.
        train = with_unit.trains[AHU]
        k, point = train.room_ids.index(HOT), train.cooling
        solved = point.solved
        self.assertGreater(solved.unit_w[k, point.i], 0.0)
        air_takes = (
            solved.supply_kg_s[k, point.i]
            * (1006 + 1860 * point.node("supply")[1])
            * (solved.room_c[k, point.i] - solved.supply_c[k, point.i])
        )
        assert_allclose(solved.unit_w[k, point.i] + air_takes, solved.load_w[k, point.i], rtol=1e-6)
        self.assertEqual(float(np.abs(np.delete(solved.unit_w[:, point.i], k)).max()), 0.0)

    def test_a_machine_of_its_own_takes_it_off_the_plant(self):
        on_plant, own = after(SetRoomChoice((HOT,), "rest", "unit")), after(SetRoomChoice((HOT,), "rest", "own unit"))
        train = on_plant.trains[AHU]
        k = train.room_ids.index(HOT)
        unit = float(train.cooling.solved.unit_w[k, train.cooling.i])
        assert_allclose(train.cold_w(train.cooling) - unit, own.trains[AHU].cold_w(own.trains[AHU].cooling), rtol=1e-6)
        assert_allclose(train.cooling.cooling_w, own.trains[AHU].cooling.cooling_w, rtol=1e-9)
        self.assertLess(own.plant.cooling_w, on_plant.plant.cooling_w)

    def test_a_heater_in_one_room_of_a_system_with_reheat(self):
        cell = room("1.01")
        train = after(SetRoomChoice((cell,), "rest", "heater")).trains[AHU]
        k, at = train.room_ids.index(cell), train.heating
        self.assertLess(at.solved.unit_w[k, at.i], 0.0)
        self.assertEqual(at.solved.reheat_w[k, at.i], 0.0)
        self.assertAlmostEqual(float(at.solved.room_c[k, at.i]), float(train.winter_set_c[k]), places=4)
        self.assertGreater(float(np.delete(at.solved.reheat_w[:, at.i], k).max()), 0.0)

    def test_a_room_of_a_system_of_units_can_live_on_air_alone(self):
        cell = room("1.01")
        results = after(SetPattern(AHU, "doas"), SetRoomChoice((cell,), "rest", "reheat"))
        self.assertIn("cooling", results.room_air[cell].carried)
        self.assertNotIn("cooling", results.room_air[room("1.02")].carried)


EXTRACT = "ahu1"


@lru_cache(maxsize=8)
def extracting(*edits) -> Results:
    """Two study cells on a system that draws air out alone, with its duct drawn."""
    project = station()
    cells = (room("1.01"), room("1.02"))
    project = AddSystem(cells).apply(project)
    system_id = project.air_systems[-1].id
    for edit in (
        SetPattern(system_id, "extract"),
        SetRoomValue(cells, "extract_m3s", Pinned(value=0.05)),
        DrawRun(system_id, "U", ((16.0, 7.6, Z), (4.0, 7.6, Z)), role="trunk", air="extract"),
        *(
            DrawRun(system_id, "U", ((x, 7.6, Z), (x, 4.0, Z)), role="last", air="extract", terminal_room=i)
            for i, x in zip(cells, (5.0, 8.0))
        ),
    ):
        project = edit.apply(project)
    for edit in edits:
        project = edit(project, system_id, cells)
    return run(project, MEMO)


class ExtractAlone(unittest.TestCase):
    def setUp(self):
        self.results = extracting()
        self.system = self.results.project.air_systems[-1]

    def test_its_rooms_get_no_air_and_lose_what_is_drawn(self):
        air = self.results.air[self.system.id]
        self.assertEqual((air.flow_m3s, air.outdoor_m3s), (0.0, 0.0))
        for row in air.rooms:
            self.assertEqual((row.flow_m3s, row.extract_m3s, row.carried), (0.0, 0.05, ()))
            self.assertAlmostEqual(row.short_m3s, 0.05)
            self.assertEqual(row.governs, "no supply")

    def test_ducts_and_fan_are_those_of_the_extract(self):
        net = self.results.network(self.system.id, "extract")
        self.assertIsInstance(net, DuctResult)
        self.assertAlmostEqual(net.flow_m3s - net.leak_m3s, 0.1)
        fan = self.results.fan(self.system.id, "extract")
        self.assertIsInstance(fan, FanResult)
        margin = self.results.air[self.system.id].figures.allowance.figure
        assert_allclose(fan.wanted_pa, net.runs.fan_pa * (1 + margin), rtol=1e-9)
        self.assertIsInstance(self.results.fan(self.system.id), Missing)

    def test_no_air_is_treated_and_it_says_so(self):
        proof = self.results.trains[self.system.id]
        self.assertIsInstance(proof, Missing)
        self.assertEqual(proof.code, "extract-alone")

    def test_make_up_and_rooms_without_heat_are_told_and_heaters_mend_it(self):
        said = {f.code: f for f in self.results.findings if f.object_id == self.system.id}
        self.assertIn("100 L/s", said["make-up-by-doors"].title)
        (mend,) = said["not-heated"].mends
        mended = run(mend.command.apply(self.results.project), MEMO)
        self.assertNotIn("not-heated", {f.code for f in mended.findings if f.object_id == self.system.id})
        # Heaters of theirs hang on the plant as others do.
        heat = sum(mended.rooms[r.room_id].heating_w for r in mended.air[self.system.id].rooms)
        assert_allclose(mended.plant.heating_w - self.results.plant.heating_w, heat, rtol=1e-9)

    def test_rooms_of_the_other_system_keep_their_flows(self):
        before, now = after().air[AHU], self.results.air[AHU]
        flows = {r.room_id: r.flow_m3s for r in before.rooms}
        for row in now.rooms:
            self.assertEqual(row.flow_m3s, flows[row.room_id])
        self.assertEqual(len(before.rooms) - len(now.rooms), 2)
