"""Leaks of ducts through the whole engine: against a march in slices, into fan and coil, through the network."""

import unittest
from functools import lru_cache

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.project.edits.book import SetBookChoice
from garnetfin.project.edits.duct_values import SetDuctChoice
from garnetfin.project.edits.systems import SetPart, SetSystemChoice
from garnetfin.project.values import Pinned
from tests.engine.test_leaving_ducts import AHU, with_return
from tests.example import station

CLASS_C = {"A": 27e-6, "B": 9e-6, "C": 3e-6, "D": 1e-6}
COMPUTED = SetSystemChoice(AHU, "leakage", "computed")


@lru_cache(maxsize=20)
def after(*edits, of=station) -> Results:
    project = COMPUTED.apply(of())
    for edit in edits:
        project = edit.apply(project)
    return run(project, Memo())


def loose(results: Results):
    """All supply ducts of the loosest class."""
    return SetDuctChoice(tuple(results.ducts[AHU].segments), "tightness", "A")


class Marched(unittest.TestCase):
    def test_every_duct_in_slices(self):
        """From the far end of every duct to the unit's in 400 slices: what leaks and what is left.

        Tolerance 0.5 % of pressures: the mean flow carries the friction where a march has it slice by slice; 1.2 % of
        leaks, since a flow box is booked at one end where the pressure of both ends is meant.
        """
        for edits in ((), (loose(after()),)):
            results = after(*edits)
            air, net = results.air[AHU], results.ducts[AHU]
            density, viscosity = air.density_kg_m3, air.viscosity_pa_s
            for s in net.segments.values():
                q, total, out = s.flow_m3s - s.leak_m3s, s.end_pa, 0.0
                area, hydraulic = s.section.area_m2, s.section.hydraulic_m
                step = s.length_m / 400
                for _ in range(400):
                    static = total - density / 2 * (q / area) ** 2
                    leak = CLASS_C[s.tightness] * s.section.perimeter_m * step * np.sign(static) * abs(static) ** 0.65
                    total += step * float(
                        duct_gradient(q, area, hydraulic, s.make.roughness_m, s.make.compression, density, viscosity)
                    )
                    q, out = q + leak, out + leak
                self.assertAlmostEqual(out / s.leak_m3s, 1.0, delta=0.012, msg=s.segment_id)
                assert_allclose(total - s.end_pa, s.friction_pa, rtol=0.005, atol=1e-4)

    def test_flows_add_up_at_every_junction(self):
        results = after(loose(after()))
        net = results.ducts[AHU]
        taken = {t.segment_id: 0.0 for t in net.terminals}
        for t in net.terminals:
            taken[t.segment_id] += t.flow_m3s
        for i, s in net.segments.items():
            beyond = sum(x.flow_m3s for j, x in net.segments.items() if net.before(j) is s)
            self.assertAlmostEqual(s.flow_m3s - s.leak_m3s, beyond + taken.get(i, 0.0), places=9)
        self.assertAlmostEqual(net.flow_m3s - net.leak_m3s, sum(t.flow_m3s for t in net.terminals), places=9)


class Carried(unittest.TestCase):
    def test_the_fans_duty_is_the_coils_air(self):
        for edits in ((), (loose(after()),), (SetPart(AHU, "duct", "leakage", Pinned(value=0.08)),)):
            results = after(*edits)
            fan, train, air = results.fans[AHU], results.trains[AHU], results.air[AHU]
            handler = float(train.cooling.solved.handler_kg_s[train.cooling.i])
            assert_allclose(fan.wanted_m3s * air.density_kg_m3, handler, rtol=1e-9)
            assert_allclose(results.ducts[AHU].flow_m3s, air.flow_m3s + results.ducts[AHU].leak_m3s, rtol=1e-9)
            # The share of outdoor air is kept, so that rooms get what they got.
            outdoor = float(train.cooling.solved.outdoor_kg_s[train.cooling.i])
            assert_allclose(outdoor / handler, air.outdoor_m3s / air.flow_m3s, rtol=1e-6)

    def test_a_pinned_share_is_spread_over_the_ducts(self):
        results = after(SetPart(AHU, "duct", "leakage", Pinned(value=0.08)))
        net = results.ducts[AHU]
        assert_allclose(net.leak_m3s / net.flow_m3s, 0.08, rtol=1e-9)
        assert_allclose(results.trains[AHU].figures["duct", "leakage"].figure, 0.08)

    def test_looser_ducts_ask_more_of_fan_and_coil(self):
        tight, slack = after(), after(loose(after()))
        ratio = slack.ducts[AHU].leak_m3s / tight.ducts[AHU].leak_m3s
        self.assertGreater(ratio, 2.9)  # class A lets three times as much through as B, at a little more pressure
        self.assertLess(ratio, 3.2)
        self.assertGreater(slack.fans[AHU].wanted_m3s, tight.fans[AHU].wanted_m3s)
        self.assertGreater(slack.trains[AHU].coils_peak_w, tight.trains[AHU].coils_peak_w)
        best = after(SetBookChoice("duct_class", "D"))
        self.assertLess(best.ducts[AHU].leak_m3s, 0.2 * tight.ducts[AHU].leak_m3s)

    def test_a_share_that_is_typed_for_the_unit_alone_leaves_ducts_as_they_were(self):
        results = after(SetSystemChoice(AHU, "leakage", "typed"))
        self.assertEqual(results.ducts[AHU].leak_m3s, 0.0)
        self.assertEqual(results.trains[AHU].figures["duct", "leakage"].figure, 0.03)

    def test_sucked_ducts_draw_air_in(self):
        net = after(of=with_return).network(AHU, "return")
        self.assertTrue(all(s.leak_m3s < 0 for s in net.segments.values()))
        self.assertAlmostEqual(net.flow_m3s, sum(t.flow_m3s for t in net.terminals) + net.leak_m3s, places=9)


class Network(unittest.TestCase):
    def test_design_flows_come_back_with_leaks_in_it(self):
        for edits, of in (((), station), ((loose(after()),), station), ((), with_return)):
            flows = after(*edits, of=of).real[AHU]
            # Fittings count on the flow half way along, where the design has that at their own end.
            for i, q in flows.design.items():
                self.assertAlmostEqual(flows.terminals[i] / q, 1.0, delta=2e-3)

    def test_the_derivation_gives_the_figure(self):
        results = after(loose(after()))
        for i, s in list(results.ducts[AHU].segments.items())[:12]:
            why = explain(results, ("duct", i, "leak"))
            first, last = (p.figure for p in why.parts)
            mean = (abs(last) ** 1.65 - abs(first) ** 1.65) / 1.65 / (last - first)
            assert_allclose(CLASS_C["A"] * s.section.perimeter_m * s.length_m * mean, why.figure, rtol=1e-3)
