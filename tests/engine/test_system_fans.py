"""All fans of a system through the whole engine: with every set of fans the network whose dampers stand as booked
gives the design flows back; what is booked, chosen, shown and found.
"""

import itertools
import unittest
from functools import lru_cache

from numpy.testing import assert_allclose

from garnetfin.engine.flows.fan_lines import together
from garnetfin.engine.flows.network import case_in
from garnetfin.engine.flows.real_flows import real_flows
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, FanResult, Missing, Results
from garnetfin.engine.run import run
from garnetfin.project.edits.systems import (
    AddPart,
    ChooseFan,
    RemovePart,
    SetFanValue,
    SetPart,
    SetSystemChoice,
    SetSystemValue,
)
from garnetfin.project.values import Pinned
from tests.engine.test_leaving_ducts import AHU, with_return

NEAR = 1e-3  # of a flow; the network stops at a thousandth of a pascal, speeds of fans are found to 1e-4
RECIRCULATES = (SetSystemValue(AHU, "outdoor_m3s", Pinned(value=1.6)),)


@lru_cache(maxsize=40)
def made(back: bool, exhaust: bool, *edits) -> Results:
    # Without leaks, so that flows meet to the digit.
    project = SetSystemChoice(AHU, "leakage", "typed").apply(with_return())
    if not back:
        project = RemovePart(AHU, "return_fan").apply(project)
    if exhaust:
        project = AddPart(AHU, "exhaust_fan").apply(project)
    for edit in edits:
        project = edit.apply(project)
    return run(project, Memo())


class EverySet(unittest.TestCase):
    def test_design_flows_come_back(self):
        for back, exhaust, edits in itertools.product((True, False), (True, False), ((), RECIRCULATES)):
            with self.subTest(return_fan=back, exhaust_fan=exhaust, recirculates=bool(edits)):
                results = made(back, exhaust, *edits)
                at = case_in(results, AHU)
                flows = real_flows(at)
                self.assertTrue(flows.converged)
                for i, q in flows.design.items():
                    self.assertAlmostEqual(flows.terminals[i] / q, 1.0, delta=NEAR)
                assert_allclose(flows.fan_m3s, at.unit.supply_m3s, rtol=NEAR)
                for way, point in flows.back.items():
                    assert_allclose(point.flow_m3s, at.unit.ways[way].flow_m3s, rtol=2 * NEAR)
                self.assertEqual(set(flows.back), set(at.unit.ways) - {"supply"})

    def test_the_supply_fan_carries_what_no_other_does(self):
        with_all, alone = made(True, False), made(False, False)
        lifted = with_all.fan(AHU).wanted_pa
        back = with_all.fan(AHU, "return")
        assert_allclose(alone.fan(AHU).wanted_pa, lifted + back.wanted_pa, rtol=1e-9)
        self.assertIsInstance(alone.fan(AHU, "return"), Missing)
        assert_allclose(case_in(alone, AHU).unit.booked.rooms, back.wanted_pa, rtol=1e-9)
        split = made(True, True)
        assert_allclose(
            split.fan(AHU, "return").wanted_pa + split.fan(AHU, "exhaust").wanted_pa, back.wanted_pa, rtol=1e-9
        )
        self.assertLess(split.fan(AHU, "exhaust").wanted_m3s, split.fan(AHU, "return").wanted_m3s + 1e-9)

    def test_an_exhaust_fan_alone_throttles_the_intake_where_air_recirculates(self):
        unit = case_in(made(False, True, *RECIRCULATES), AHU).unit
        back = case_in(made(False, True, *RECIRCULATES), AHU).leaving["return"].runs.fan_pa
        mixing = next(d.pressure_pa for d in unit.outside if d.name.startswith("Mixing"))
        assert_allclose(unit.booked.mixing, min(-sum(d.pressure_pa for d in unit.outside), -back - mixing))
        self.assertEqual(unit.booked.rooms, 0.0)


class Found(unittest.TestCase):
    def codes(self, results):
        return {f.code: f for f in results.findings}

    def test_pressed_rooms_are_told_and_a_fan_mends_them(self):
        alone = made(False, False)
        found = self.codes(alone)["rooms-pressed"]
        for mend in found.mends:
            self.assertNotIn("rooms-pressed", self.codes(run(mend.command.apply(alone.project), Memo())))

    def test_a_throttled_intake_is_told_and_a_return_fan_mends_it(self):
        # An intake that loses next to nothing beside return ducts that lose more: 20 Pa and more are to be held back.
        easy = [SetPart(AHU, p, "pressure", Pinned(value=0.0)) for p in ("intake", "filter", "recovery", "mixing")]
        results = made(False, True, *RECIRCULATES, *easy)
        unit = case_in(results, AHU).unit
        self.assertGreater(unit.booked.outdoor_damper, 20.0)
        assert_allclose(unit.booked.outdoor_damper, case_in(results, AHU).leaving["return"].runs.fan_pa, rtol=1e-9)
        (mend,) = self.codes(results)["intake-throttled"].mends
        after = run(mend.command.apply(results.project), Memo())
        self.assertNotIn("intake-throttled", self.codes(after))
        self.assertLess(after.fan(AHU).wanted_pa, results.fan(AHU).wanted_pa)

    def test_speed_pinned_at_the_return_fan_moves_it_alone(self):
        before = made(True, False)
        slow = SetFanValue(AHU, "speed_rpm", Pinned(value=before.fan(AHU, "return").chosen.speed_rpm * 0.8), "return")
        after = made(True, False, slow)
        self.assertLess(after.fan(AHU, "return").point.flow_m3s, 0.9 * before.fan(AHU, "return").point.flow_m3s)
        assert_allclose(after.fan(AHU).point.flow_m3s, before.fan(AHU).point.flow_m3s, rtol=1e-9)
        titles = [f.title for f in after.findings if f.code == "fan-flow"]
        self.assertTrue(any("return fan" in t for t in titles), titles)

    def test_a_return_fan_of_the_catalogue_is_taken_as_asked(self):
        ranked = [c.fan_id for c in made(True, False).fan(AHU, "return").candidates if c.point]
        chosen = made(True, False, ChooseFan(AHU, ranked[1], "return"))
        self.assertEqual(chosen.fan(AHU, "return").chosen.fan_id, ranked[1])
        self.assertEqual(chosen.fan(AHU).chosen.fan_id, made(True, False).fan(AHU).chosen.fan_id)

    def test_all_fans_count_in_the_specific_power(self):
        results = made(True, True)
        found = together(results, AHU, results.real[AHU])
        self.assertEqual([n for n, _ in found.fans], ["Supply fan", "Return fan", "Exhaust fan"])
        assert_allclose(found.electric_w, sum(w for _, w in found.fans))

    def test_a_typed_pressure_of_the_return_fan_is_what_it_is_chosen_for(self):
        typed = made(True, False, SetPart(AHU, "return_fan", "pressure_pa", Pinned(value=400.0)))
        self.assertIsInstance(typed.network(AHU, "return"), DuctResult)
        found = typed.fan(AHU, "return")
        self.assertIsInstance(found, FanResult)
        self.assertAlmostEqual(found.wanted_pa, 400.0)
