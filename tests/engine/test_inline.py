"""Parts in ducts through the whole engine: losses, lengths, network, sound, findings, derivations."""

import unittest
from functools import cache

import numpy as np
from msgspec import structs

from garnetfin.core.ducts.fittings.transitions import transition
from garnetfin.core.ducts.network import losses
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.display import told
from garnetfin.engine.equipment.schedules import schedule
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.findings.inline import inline_findings
from garnetfin.engine.flows import network_builder
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import case_in
from garnetfin.engine.layout.inline_outlines import parts_of_level
from garnetfin.engine.layout.take_off import take_off
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import INLINE_LOSS
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.edits.inline import MoveInline, PutInline, SetInline, SetInlineChoice
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned
from tests.engine.test_leaving_ducts import with_return
from tests.example import station, station_results

SYSTEM = "ahu-north"
MODELS = {m.model: m for m in shipped("inline")}
# Sizes pinned, so that a part moves no size.
PINNED = (
    SetSize(("s1",), PinnedSize(shape="rectangular", width_m=0.75, height_m=0.6)),
    SetSize(("s42",), PinnedSize(shape="rectangular", width_m=0.6, height_m=0.4)),
)


@cache
def bare():
    project = station()
    for pinned in PINNED:
        project = pinned.apply(project)
    return project


@cache
def bare_results():
    return run(bare(), Memo())


def with_parts(*commands):
    project = bare()
    for c in commands:
        project = c.apply(project)
    return project


@cache
def attenuated():
    return run(with_parts(PutInline(("s1",), "attenuator", 0.3)), Memo())


def of(results, part_id: str):
    return next(p for r in results.ducts[SYSTEM].segments.values() for p in r.inline if p.part_id == part_id)


class Losses(unittest.TestCase):
    def test_a_fire_damper_by_hand(self):
        """Law of its row on its own area, transitions to it and back, friction on what is left of the duct."""
        results = run(with_parts(PutInline(("s1",), "fire damper", 0.5, 60)), Memo())
        ducts, before = results.ducts[SYSTEM], bare_results().ducts[SYSTEM]
        r, was, p = ducts.segments["s1"], before.segments["s1"], of(results, "i1")
        m = MODELS["GF-F60-800x600"]
        self.assertEqual(p.model, m)
        rho, q = results.air[SYSTEM].density_kg_m3, r.flow_m3s
        duct, part = Section("rectangular", 0.75, 0.6), Section("rectangular", 0.8, 0.6)
        pv = rho / 2 * (q / duct.area_m2) ** 2
        by_hand = m.k_free * rho / 2 * (q / m.free_m2) ** 2 + pv * (
            transition(duct, part)[1] + transition(part, duct)[1]
        )
        self.assertAlmostEqual(p.pressure_pa, by_hand, places=9)
        self.assertAlmostEqual(r.friction_pa, r.friction_pa_m * (r.length_m - m.length_m), places=9)
        # of the run: what the part adds, but for what leaks follow the pressure
        self.assertAlmostEqual(r.loss_pa - was.loss_pa, by_hand - r.friction_pa_m * m.length_m, delta=0.02)
        self.assertAlmostEqual(ducts.runs.fan_pa - before.runs.fan_pa, r.loss_pa - was.loss_pa, delta=0.3)
        asked, was_asked = (x.fan(SYSTEM).wanted_pa for x in (results, bare_results()))
        self.assertAlmostEqual(asked - was_asked, by_hand, delta=0.1 * by_hand + 0.5)

    def test_what_is_typed_stands(self):
        put = PutInline(("s1",), "own part", 0.5)
        for edits, wanted in (
            ((SetInline(("i1",), "rated_pa", Pinned(value=25.0)),), lambda *_: 25.0),
            ((SetInline(("i1",), "k", Pinned(value=1.5)),), lambda _p, _rho, pv: 1.5 * pv),
            (
                (
                    SetInline(("i1",), "rated_pa", Pinned(value=25.0)),
                    SetInline(("i1",), "rated_m3s", Pinned(value=2.0)),
                ),
                lambda p, rho, _pv: 25.0 * (p.flow_m3s / 2.0) ** 2 * rho / 1.2,
            ),
        ):
            results = run(with_parts(put, *edits), Memo())
            p, r = of(results, "i1"), results.ducts[SYSTEM].segments["s1"]
            rho = results.air[SYSTEM].density_kg_m3
            self.assertAlmostEqual(p.pressure_pa, wanted(p, rho, rho / 2 * r.velocity_m_s**2), places=6)

    def test_nothing_else_moves_where_a_part_loses_nothing(self):
        results = run(with_parts(PutInline(("s1",), "access door", 0.5)), Memo())
        self.assertEqual(results.ducts[SYSTEM].runs.fan_pa, bare_results().ducts[SYSTEM].runs.fan_pa)

    def test_air_that_leaves_too(self):
        """In a return trunk, near the unit: the end at the unit is where its air goes."""
        project = with_return()
        trunk = next(s for s in project.segments if s.air == "return" and s.role == "trunk")
        before = run(project, Memo()).network(SYSTEM, "return")
        results = run(
            SetInline(("i1",), "k", Pinned(value=2.0)).apply(PutInline((trunk.id,), "own part", 0.2).apply(project)),
            Memo(),
        )
        network = results.network(SYSTEM, "return")
        p = network.segments[trunk.id].inline[0]
        pv = results.air[SYSTEM].density_kg_m3 / 2 * network.segments[trunk.id].velocity_m_s ** 2
        self.assertAlmostEqual(p.pressure_pa, 2 * pv, places=9)
        self.assertAlmostEqual(network.runs.fan_pa - before.runs.fan_pa, 2 * pv, delta=0.05 * pv)
        piece = parts_of_level(project, network, "U")[0]
        self.assertAlmostEqual(piece.way[0], 1.0, msg="its air goes back to the unit, which lies to the right")


class Network(unittest.TestCase):
    def test_a_part_is_an_arc_that_loses_at_design_what_it_does(self):
        """Read off the finished network: the arc's own law at the flow half way along its duct."""
        results = run(with_parts(PutInline(("s42",), "heater", 0.5)), Memo())
        p, r = of(results, "i1"), results.ducts[SYSTEM].segments["s42"]
        self.assertGreater(p.pressure_pa, 5.0)
        case = case_in(results, SYSTEM)
        for thinner, what in ((1.0, WhatIf()), (293.15 / 313.15, WhatIf(air_c=40.0))):
            built = network_builder.build(case, what)
            at = built.names.index("heater in s42")
            q = r.flow_m3s - r.leak_m3s / 2
            lost = float(losses(built.net, np.full(len(built.names), q))[0][at])
            self.assertAlmostEqual(lost, p.pressure_pa * thinner ** (p.exponent - 1), places=6)
            self.assertAlmostEqual(built.net.exponent[at], p.exponent)

    def test_terminals_still_get_their_design_flow(self):
        """With its pressure in the fan's duty, the system as designed gives what it gave."""
        flows, before = attenuated().real[SYSTEM], bare_results().real[SYSTEM]
        for i, q in before.terminals.items():
            self.assertAlmostEqual(flows.terminals[i] / q, 1.0, delta=0.02)


class Sound(unittest.TestCase):
    def test_an_attenuator_takes_its_insertion_loss_of_the_fan(self):
        """Sound of the fan at the end of its own duct, band by band: less what its row takes, and what is left of the
        duct's own attenuation; the fan itself is the same where its model is.
        """
        results = attenuated()
        p = of(results, "i1")
        before, now = (x.noise[SYSTEM] for x in (bare_results(), results))
        self.assertGreater(max(p.model.loss_db), 10)
        rooms = [i for i in now.rooms if now.rooms[i].nc < before.rooms[i].nc - 0.2]
        self.assertGreater(len(rooms), len(now.rooms) // 2)
        # rooms are quieter by fan sound alone: what terminals and boxes make is as it was
        for i, n in now.terminals.items():
            for k in (2, 4):
                np.testing.assert_allclose(n.by_source[k], before.terminals[i].by_source[k], atol=0.3)


class Told(unittest.TestCase):
    def found(self, *commands):
        results = run(with_parts(*commands), Memo())
        return results, list(inline_findings(results.project, results.ducts[SYSTEM]))

    def test_none_serves(self):
        results, found = self.found(PutInline(("s12",), "filter", 0.5))
        self.assertEqual([f.code for f in found], ["no-model"])
        self.assertIn("of another shape", told(found[0].reason))
        mended = found[0].mends[0].command.apply(results.project)
        self.assertEqual(mended, bare())

    def test_a_fixed_model_that_breaks_a_rule_stays_and_is_told(self):
        results, found = self.found(
            PutInline(("s1",), "fire damper", 0.5, 90), SetInlineChoice(("i1",), "model", "GF-F60-600x600")
        )
        self.assertEqual(of(results, "i1").model.model, "GF-F60-600x600")
        # it resists what its model does, not what is asked of it
        self.assertEqual(schedule(results, "inline").cell("i1", "minutes"), "60 min")
        told_ = next(f for f in found if f.code == "inline-model")
        self.assertIn("smaller than the duct", told(told_.title))
        again = run(told_.mends[0].command.apply(results.project), Memo())
        self.assertEqual(of(again, "i1").refusal, "")

    def test_parts_in_each_other_are_moved_apart(self):
        results, found = self.found(
            PutInline(("s42",), "heater", 0.5),
            PutInline(("s42",), "own part", 0.52),
            SetInline(("i2",), "length_m", Pinned(value=0.3)),
            SetInline(("i2",), "k", Pinned(value=1.0)),
        )
        codes = [f.code for f in found]
        self.assertIn("inline-overlap", codes)
        mend = next(f for f in found if f.code == "inline-overlap").mends[0].command
        self.assertIsInstance(mend, MoveInline)
        after = run(mend.apply(results.project), Memo())
        self.assertNotIn("inline-overlap", [f.code for f in inline_findings(after.project, after.ducts[SYSTEM])])

    def test_straight_before_and_behind(self):
        results, found = self.found(
            PutInline(("s42",), "measuring cross", 0.5), SetInline(("i1",), "k", Pinned(value=1.0))
        )
        self.assertEqual([f.code for f in found], ["no-model"])  # crosses are round
        results, found = self.found(PutInline(("s42",), "fire damper", 0.25, 60))
        self.assertEqual([f.code for f in found], ["inline-straight"])
        mended = run(found[0].mends[0].command.apply(results.project), Memo())
        self.assertEqual(list(inline_findings(mended.project, mended.ducts[SYSTEM])), [])

    def test_too_much_in_a_duct(self):
        _, found = self.found(*(PutInline(("s21",), "attenuator", 0.2 * k) for k in (1, 2, 3, 4)))
        self.assertIn("inline-long", [f.code for f in found])

    def test_every_figure_is_derived(self):
        results = attenuated()
        p = of(results, "i1")
        for figure in ("pressure_pa", "velocity_m_s", "length_m", "mass_kg", "flow_m3s", "near_m"):
            why = explain(results, ("inline", "i1", figure))
            self.assertAlmostEqual(why.figure, getattr(p, figure), places=9)
        r = results.ducts[SYSTEM].segments["s1"]
        at = next(k for k, f in enumerate(r.fittings) if f.reference == INLINE_LOSS)
        self.assertAlmostEqual(explain(results, ("fitting", "s1", at)).figure, p.pressure_pa)
        parts = explain(results, ("inline", "i1", "pressure_pa")).parts
        self.assertAlmostEqual(sum(x.figure for x in parts if x.quantity == "fine_pressure"), p.pressure_pa)
        self.assertIsNone(explain(results, ("inline", "i9", "pressure_pa")))
        self.assertIsNone(explain(results, ("inline", "i1", "colour")))


class Scheduled(unittest.TestCase):
    def test_each_part_is_a_line_whose_figures_are_derived(self):
        results = attenuated()
        p, found = of(results, "i1"), schedule(results, "inline")
        self.assertEqual([x.id for x in found.lines], ["i1"])
        self.assertEqual(found.cell("i1", "model"), p.model.model)
        for column in found.columns:
            if column.quantity:
                self.assertAlmostEqual(found.cell("i1", column.key), getattr(p, column.key))
                self.assertAlmostEqual(
                    explain(results, ("equipment", "inline", "i1", column.key)).figure, getattr(p, column.key)
                )
        self.assertEqual(schedule(bare_results(), "inline").lines, ())


class Drawn(unittest.TestCase):
    def test_where_it_stands_on_its_level(self):
        """Its middle by its share of the drawn duct, at true length, across the duct."""
        project = with_parts(PutInline(("s42",), "heater", 0.3))
        results = run(project, Memo())
        s = find(project.segments, "s42")
        a, b = (find(project.duct_points, i) for i in (s.a, s.b))
        piece = parts_of_level(project, results.ducts[SYSTEM], a.level_id)[0]
        self.assertAlmostEqual(piece.middle[0], a.x_m + 0.3 * (b.x_m - a.x_m))
        self.assertAlmostEqual(piece.middle[1], a.y_m + 0.3 * (b.y_m - a.y_m))
        self.assertAlmostEqual(piece.length_m, piece.record.model.length_m)
        other = next(x.id for x in project.levels if x.id != a.level_id)
        self.assertEqual(parts_of_level(project, results.ducts[SYSTEM], other), ())

    def test_the_bill_counts_parts_and_cuts_their_length_from_the_duct(self):
        before, now = (take_off(x, x.ducts[SYSTEM]) for x in (bare_results(), attenuated()))
        rows = [r for r in now.counts if r.kind == "part"]
        p = of(attenuated(), "i1")
        self.assertEqual([(r.name, r.count) for r in rows], [(f"attenuator {p.model.model}", 1)])
        self.assertAlmostEqual(rows[0].mass_kg, p.mass_kg)
        self.assertAlmostEqual(before.straight_m - now.straight_m, p.length_m, places=6)

    def test_nothing_of_parts_is_in_the_example(self):
        self.assertFalse(any(r.inline for r in station_results().ducts[SYSTEM].segments.values()))
        self.assertEqual(structs.replace(station(), segments=station().segments), station())


if __name__ == "__main__":
    unittest.main()
