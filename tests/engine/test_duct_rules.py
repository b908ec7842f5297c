"""Ducts of the example by every way of sizing, by the rules of the office standards, and their bill of quantities."""

import unittest
from collections import Counter

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.layout.duct_methods import METHODS, compare, life_cost
from garnetfin.engine.layout.duct_pieces import stretches
from garnetfin.engine.layout.take_off import take_off
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.engine.run import run
from garnetfin.project.edits.book import SetAssumption, SetBookChoice
from garnetfin.project.edits.duct_runs import RemoveDucts
from garnetfin.project.edits.systems import SetSystemChoice, SetSystemValue
from garnetfin.project.values import Pinned
from garnetfin.ui.state import Selection, Show, State
from garnetfin.ui.view_models.duct_tables import regain_table
from tests.example import station, station_results

AHU = "ahu-north"
MEMO = Memo()


def ducts_after(*edits) -> DuctResult:
    project = station()
    for edit in edits:
        project = edit.apply(project)
    return run(project, MEMO).ducts[AHU]


class Methods(unittest.TestCase):
    def test_each_way_keeps_pins_flows_and_heights(self):
        base = station_results().ducts[AHU]
        for method, _ in METHODS:
            found = ducts_after(SetSystemChoice(AHU, "sizing", method))
            for i, s in found.segments.items():
                self.assertEqual(s.pinned, base.segments[i].pinned)
                if s.pinned:
                    self.assertEqual(s.section, base.segments[i].section)
                elif "height" not in s.ladder.relaxed:
                    self.assertLessEqual(s.section.height_m, s.clear_height_m + 1e-9)
                    # what leaks hangs on sizes: some tenths of a thousandth
                    assert_allclose(s.flow_m3s, base.segments[i].flow_m3s, rtol=2e-3)
            # What is left at the end of every run is what its terminal and damper take.
            assert_allclose(found.runs.loss_pa + found.runs.surplus_pa, found.runs.fan_pa)

    def test_side_by_side_is_what_switching_gives(self):
        rows = compare(station_results(), AHU)
        self.assertEqual([r.method for r in rows], [m for m, _ in METHODS])
        for row in rows:
            found = ducts_after(SetSystemChoice(AHU, "sizing", row.method))
            assert_allclose((row.mass_kg, row.fan_pa), (found.mass_kg, found.runs.fan_pa))
        by = {r.method: r for r in rows}
        self.assertEqual(min(rows, key=lambda r: r.cost).method, "cost")
        self.assertLess(by["velocity"].mass_kg, by["friction"].mass_kg)
        sheet, cost = life_cost(station_results(), station_results().ducts[AHU])
        assert_allclose((by["friction"].sheet_m2, by["friction"].cost), (sheet, cost))
        self.assertIsInstance(compare(station_results(), "nobody"), Missing)

    def test_what_gave_each_size_is_known(self):
        self.assertEqual(
            set(Counter(s.by for s in ducts_after(SetSystemChoice(AHU, "sizing", "regain")).segments.values())),
            {"limits", "pinned", "regain", "first velocity"},
        )
        self.assertIn("cost", {s.by for s in ducts_after(SetSystemChoice(AHU, "sizing", "cost")).segments.values()})

    def test_an_unknown_way_is_refused(self):
        self.assertRaisesRegex(InputError, "cannot have", SetSystemChoice(AHU, "sizing", "by eye").apply, station())


class Rules(unittest.TestCase):
    def test_velocities_of_the_book_bind(self):
        slow = ducts_after(SetAssumption("duct_last_m_s", Pinned(value=2.0)))
        last = [s for s in slow.segments.values() if s.velocity_limit == 2.0 and not s.pinned and not s.ladder.relaxed]
        self.assertTrue(last)
        self.assertTrue(all(s.velocity_m_s <= 2.0 + 1e-9 for s in last))
        self.assertGreater(slow.mass_kg, station_results().ducts[AHU].mass_kg)

    def test_a_trunk_is_reduced_only_after_a_set_share(self):
        kept = ducts_after(SetAssumption("duct_reduce", Pinned(value=0.3)))
        self.assertLess(
            len({s.section for s in kept.segments.values()}),
            len({s.section for s in station_results().ducts[AHU].segments.values()}),
        )
        self.assertIn("kept", {s.by for s in kept.segments.values()})
        self.assertTrue(all(s.section == s.ladder.section for s in kept.segments.values() if s.by == "kept"))

    def test_sizes_of_the_site(self):
        extra = ducts_after(SetBookChoice("duct_series", "extra"))
        self.assertTrue(
            any(
                round(s.section.width_m * 1000) in (112, 140, 150, 180, 224)
                for s in extra.segments.values()
                if s.section.shape == "round"
            )
        )
        steps = ducts_after(SetAssumption("duct_step_m", Pinned(value=0.1)))
        self.assertTrue(
            all(
                abs(
                    (s.section.width_m - s.section.height_m) / 0.1 % 1
                    - round((s.section.width_m - s.section.height_m) / 0.1 % 1)
                )
                < 1e-6
                for s in steps.segments.values()
                if s.section.shape == "rectangular" and not s.pinned
            )
        )
        least = ducts_after(SetAssumption("duct_least_m", Pinned(value=0.15)))
        self.assertGreaterEqual(min(s.section.width_m for s in least.segments.values() if not s.pinned), 0.15)

    def test_one_height_for_the_system(self):
        flat = ducts_after(SetSystemValue(AHU, "duct_height_m", Pinned(value=0.15)))
        self.assertEqual(
            {s.section.height_m for s in flat.segments.values() if s.section.shape == "rectangular" and not s.pinned},
            {0.15},
        )
        self.assertRaisesRegex(
            InputError,
            "Height of rectangular",
            SetSystemValue(AHU, "duct_height_m", Pinned(value=9.0)).apply,
            station(),
        )


class Bill(unittest.TestCase):
    def test_sums_are_those_of_the_segments(self):
        results = station_results()
        found = results.ducts[AHU]
        bill = take_off(results, found)
        # every metre of axis is straight duct or inside a fitting, but for runs that are too short for theirs
        taken = sum(a + b for a, b in bill.made.takes_m.values())
        lacking = sum(bill.made.lacking_m.values())
        assert_allclose(bill.straight_m + taken - lacking, found.length_m, rtol=1e-9)
        assert_allclose(sum(r.axis_m for r in bill.sizes), found.length_m)
        assert_allclose(sum(t[1] for t in bill.by_thickness()), bill.sheet_m2)
        assert_allclose(sum(t[2] for t in bill.by_thickness()), bill.mass_kg)
        # the quick figure by seams and axes is within a tenth of pieces, flanges and laps
        assert_allclose(bill.mass_kg, found.mass_kg, rtol=0.1)
        self.assertEqual(sum(r.count for r in bill.counts if r.kind == "terminal"), len(found.terminals))
        self.assertEqual(len({r.section for r in bill.sizes}), len(bill.sizes))
        self.assertTrue(all(r.size.startswith("ø") for r in bill.counts if r.kind == "flexible"))

    def test_pieces_cover_the_length_and_none_is_too_short_to_make(self):
        for piece in (1.5, 3.0):
            for length in np.linspace(0.05, 9.0, 300):
                made = stretches(float(length), piece)
                self.assertAlmostEqual(sum(made), length)
                self.assertGreaterEqual(min(made), min(length, 0.2) - 1e-9)
                self.assertLessEqual(max(made), piece + 1e-9)

    def test_it_follows_the_ducts(self):
        segment = station_results().ducts[AHU].segment_ids[-1]
        results = run(RemoveDucts((segment,)).apply(station()), MEMO)
        self.assertLess(
            take_off(results, results.ducts[AHU]).sheet_m2,
            take_off(station_results(), station_results().ducts[AHU]).sheet_m2,
        )


class Regain(unittest.TestCase):
    def test_every_section_is_told_and_where_it_ends(self):
        project = SetSystemChoice(AHU, "sizing", "regain").apply(station())
        results = run(project, MEMO)
        found = results.ducts[AHU]
        self.assertGreater(len(found.regained), 5)
        for r in found.regained:
            first = found.segments[found.segment_ids[r.segments[0]]]
            if not r.ends:
                self.assertEqual(first.by, "regain")
                self.assertGreaterEqual(r.left_pa, -1e-9)
                assert_allclose(first.velocity_m_s, r.velocity_m_s, rtol=1e-6)
        table = regain_table(State(project, results, Selection(), Show(system_id=AHU), False), found)
        self.assertEqual(len(table.rows), len(found.regained))
        for row in table.rows:
            for cell in row.cells:
                if cell.why:
                    why = explain(results, cell.why)
                    self.assertLess(abs(why.figure - float(cell.text.replace("\u2212", "-"))), 0.06, cell.why)
        ended = [r for r in found.regained if r.ends == "no size"]
        findings = [f for f in results.findings if f.code == "regain-ends"]
        self.assertEqual(len(findings), 1 if ended else 0)  # one for all of them
        for f in findings:
            for mend in f.mends:
                after = run(mend.command.apply(project), MEMO).ducts[AHU]
                self.assertNotEqual([r.left_pa for r in after.regained], [r.left_pa for r in found.regained])

    def test_other_ways_of_sizing_have_no_sections(self):
        self.assertEqual(station_results().ducts[AHU].regained, ())
