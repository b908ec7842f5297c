"""Whole systems, from a list through edits and the engine, solved again at every node by least squares.

Tolerance: 0.03 K, 0.02 g/kg and 0.2 % of flow. The two sides differ in the factor for real gas of saturated air (1.004
to 1.005, here one), which moves a coil's surface by some hundredths of a kelvin, and in where a fan's air is taken.
"""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.psychro import properties as air
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.engine.stages.train import design_cases, winter_case
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import AddPart, SetPart, SetPattern, SetSystemChoice, SetSystemValue
from garnetfin.project.values import Pinned
from tests.engine.node_equations import Equations, saturated_w
from tests.engine.test_first_pass import listed

AHU, MEMO = "ahu1", Memo()
NEAR_C, NEAR_W, NEAR_M = 0.03, 2e-5, 2e-3


def pin(value: float) -> Pinned:
    return Pinned(value=value)


SYSTEMS = {
    "constant flow with reheat": (SetPattern(AHU, "cav_reheat"),),
    "variable flow with reheat": (SetPattern(AHU, "vav_reheat"), SetSystemValue(AHU, "least_share", pin(0.35))),
    "variable flow, economiser": (SetPattern(AHU, "vav"), SetPart(AHU, "mixing", "choice", "enthalpy")),
    "outdoor air with room units": (SetPattern(AHU, "doas"), SetSystemValue(AHU, "supply_c", pin(16.0))),
    "single zone with a ceiling void": (SetPattern(AHU, "single_zone_cav"), AddPart(AHU, "plenum")),
    "ventilation with heating": (SetPattern(AHU, "heating_ventilation"), SetPart(AHU, "recovery", "latent", pin(0.4))),
    "leaks outdoors, pinned rooms": (
        SetPattern(AHU, "cav_reheat"),
        SetPart(AHU, "duct", "choice", "outside"),
        SetPart(AHU, "duct", "leakage", pin(0.08)),
        SetPart(AHU, "cooling", "bypass", pin(0.2)),
    ),
    "constant coil leaving temperature": (SetPattern(AHU, "cav_reheat"), SetSystemChoice(AHU, "supply", "held")),
}


class NodeByNode(unittest.TestCase):
    def _states(self, edits):
        project = listed(("Ground",))
        for edit in (*edits, SetAssumption("infiltration_1h", pin(0.2))):
            project = edit.apply(project)
        first = project.rooms[0].id
        project = SetRoomValue((first,), "equipment_w_m2", pin(30.0)).apply(project)
        results = run(project, MEMO)
        found, flows, system = results.trains[AHU], results.air[AHU], project.air_systems[0]
        self.assertFalse(len(found.rooms.moves))
        known = [results.rooms[r.room_id] for r in flows.rooms]
        summer, winter = (
            design_cases(system, results.climate, flows, known),
            winter_case(system, results.climate, flows, known),
        )
        for point, (rooms, hours) in ((found.cooling, summer), (found.heating, winter)):
            at = point.month * 24 + point.hour if point.month >= 0 else 0
            yield (
                point,
                Equations(
                    found,
                    point.i,
                    rooms.sensible_w[:, at],
                    rooms.latent_w[:, at],
                    rooms.set_c[:, at],
                    rooms.hold_c[:, at],
                    float(hours.outdoor_c[at]),
                    float(hours.outdoor_w[at]),
                    float(hours.plenum_w[at]),
                    bool(hours.cooling[at]),
                    bool(hours.heating[at]),
                ),
            )

    def test_every_node_of_eight_systems(self):
        for name, edits in SYSTEMS.items():
            for point, equations in self._states(edits):
                season = "winter" if point.month < 0 else "summer"
                with self.subTest(system=name, season=season):
                    node, room, flow, worst = equations.solve()
                    self.assertLess(worst, 1e-6)
                    for key, (t, w) in node.items():
                        self.assertAlmostEqual(t, point.node(key)[0], delta=NEAR_C, msg=key)
                        self.assertAlmostEqual(w, point.node(key)[1], delta=NEAR_W, msg=key)
                    solved = point.solved
                    assert_allclose(room[:, 0], solved.room_c[:, point.i], atol=NEAR_C)
                    assert_allclose(room[:, 1], solved.room_w[:, point.i], atol=NEAR_W)
                    assert_allclose(flow, solved.supply_kg_s[:, point.i], rtol=NEAR_M)
                    self._switches(equations, point)

    def _switches(self, e: Equations, point) -> None:
        """What was taken over as on or off is so of need: a coil that is off would have nothing to do."""
        target, at = float(point.solved.target_c[point.i]), point.node("supply")[0]
        if not any(e.coils_on.values()) and e.cooling and e.coils_on:
            self.assertLess(at, target + NEAR_C)
        if e.heats_on and not any(e.heats_on.values()) and e.heating:
            self.assertGreater(at, target - NEAR_C)

    def test_saturation_here_and_there(self):
        for t in (-20.0, 0.5, 12.0, 30.0):
            here = saturated_w(t, 101325.0)
            self.assertAlmostEqual(here / float(air.saturation_ratio(t, 101325.0)), 1.0, delta=1.5e-3)
        self.assertTrue(np.isfinite(saturated_w(40.0, 90e3)))
