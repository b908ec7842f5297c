"""Commissioning, resizing, single changes, bookkeeping and noise of the example."""

import unittest
from unittest import mock

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core import noise
from garnetfin.core.errors import Cancelled
from garnetfin.engine.flows import commissioning as commissioning_module
from garnetfin.engine.flows.balance_check import run_of
from garnetfin.engine.flows.commissioning import commissioning, remembered
from garnetfin.engine.flows.damper_by_hand import pinned_for
from garnetfin.engine.flows.fan_lines import lines_of, together
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import case_in
from garnetfin.engine.flows.real_flows import real_flows
from garnetfin.engine.flows.resizing import resize
from garnetfin.engine.flows.single_changes import check, missing_share
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Missing
from garnetfin.engine.run import run
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.duct_runs import SetSizes
from garnetfin.project.edits.duct_values import SetDuctChoice
from garnetfin.project.edits.systems import RemovePart, SetFanValue, SetPattern
from garnetfin.project.values import Pinned
from tests.engine.test_leaving_ducts import with_return
from tests.example import station, station_results

AHU = "ahu-north"


def stop(share: float) -> None:
    raise Cancelled


class CommissioningSheet(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.at = case_in(station_results(), AHU)
        cls.once, cls.twice = commissioning(cls.at), commissioning(cls.at, 2)

    def test_the_index_terminal_stays_open_and_every_other_is_set_once(self):
        rows = self.once.rows
        self.assertEqual(
            sorted(r.segment_id for r in rows),
            sorted(i for i, r in self.at.ducts.segments.items() if r.damper is not None),
        )
        self.assertEqual([r.order for r in rows], list(range(1, len(rows) + 1)))
        reference = [r for r in rows if r.reference]
        # With every damper open the least served terminal need not be that of the longest run, but one near to it.
        runs = {t.terminal_id: t.run_pa for t in self.at.ducts.terminals}
        self.assertEqual(len(reference), 1)
        self.assertGreater(runs[reference[0].terminal_id], 0.95 * max(runs.values()))
        self.assertEqual(reference[0].angle_deg, 0.0)
        self.assertEqual(rows[0].order, 1)
        self.assertEqual(min(rows, key=lambda r: r.first).terminal_id, reference[0].terminal_id)

    def test_a_second_pass_brings_them_together_at_the_computed_blades(self):
        self.assertLess(self.twice.spread, 0.06)
        self.assertLess(self.twice.spread, self.once.spread)
        off = [
            abs(r.angle_deg - r.computed_deg)
            for r in self.twice.rows
            if r.angle_deg is not None and r.computed_deg is not None
        ]
        # Of degrees: the blade that stays open here is that of another run than in the computed setting, 5 Pa shorter.
        self.assertLess(np.median(off), 3.0)
        self.assertAlmostEqual(self.twice.speed_ratio, 1.0, 2)
        for r in self.once.rows:
            assert_allclose(r.reading_m3s / r.design_m3s, r.target, rtol=2e-3)

    def test_branches_with_dampers_are_groups_of_their_own(self):
        ducts = self.at.ducts
        branch = next(s.segment_id for s in ducts.segments.values() if 2 <= s.terminals_on <= 5)
        results = run(SetDuctChoice((branch,), "damper", "blade").apply(station()), Memo())
        sheet = commissioning(case_in(results, AHU))
        own = [r for r in sheet.rows if r.group == f"beyond {branch}"]
        self.assertEqual(len(own), ducts.segments[branch].terminals_on)
        self.assertEqual([r.order for r in own], list(range(1, len(own) + 1)))
        self.assertEqual(sum(r.reference for r in own), 1)

    def test_the_book_says_how_far_a_flow_may_be_off(self):
        """A row counts as reached within the share of the office standards, by its own final flow."""
        for share in (0.01, 0.3):
            project = SetAssumption("balance_share", Pinned(value=share)).apply(station())
            sheet = commissioning(case_in(run(project, Memo()), AHU))
            self.assertEqual([r.within for r in sheet.rows], [abs(r.final - 1) <= share for r in sheet.rows])
            self.assertEqual(sheet.share, share)

    def test_it_can_be_stopped_and_boxes_need_none(self):
        with mock.patch.dict(commissioning_module._known, clear=True):
            self.assertRaises(Cancelled, commissioning, self.at, 1, stop)
            self.assertIsNone(remembered(self.at, 1))  # half of it is nothing
        self.assertIs(commissioning(self.at, 1), remembered(self.at, 1))
        results = run(SetPattern(AHU, "vav").apply(station()), Memo())
        self.assertIsInstance(commissioning(case_in(results, AHU)), Missing)


class Resizing(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = resize(station_results(), AHU)

    def test_smaller_ducts_take_surplus_and_raise_no_run(self):
        before, after = self.found.throttled, self.found.resized
        self.assertLess(after.taken_pa, 0.85 * before.taken_pa)
        self.assertLess(after.most_pa, before.most_pa)
        self.assertLessEqual(after.fan_pa, before.fan_pa + 1e-6)
        self.assertLess(after.spread, before.spread)
        self.assertLess(after.sheet_m2, before.sheet_m2)
        self.assertLessEqual(after.over_limit, before.over_limit)
        self.assertLess(after.cost, before.cost)

    def test_taken_as_one_edit_they_give_the_same_figures(self):
        edit = SetSizes(tuple((s, z.shape, z.width_m, z.height_m) for s, z in self.found.sizes.items()))
        results = run(edit.apply(station()), Memo())
        ducts = results.ducts[AHU]
        assert_allclose(ducts.runs.fan_pa, self.found.resized.fan_pa, rtol=1e-9)
        assert_allclose(
            sum(r.damper.surplus_pa for r in ducts.segments.values() if r.damper),
            self.found.resized.taken_pa,
            rtol=1e-9,
        )
        self.assertEqual(
            sum(s.pinned for s in ducts.segments.values()),
            sum(s.pinned for s in station_results().ducts[AHU].segments.values()) + len(self.found.sizes),
        )
        for s in self.found.sizes:
            self.assertLessEqual(ducts.segments[s].velocity_m_s, ducts.segments[s].velocity_limit * 1.001)
        self.assertLess(results.real[AHU].spread, 1e-3)

    def test_it_can_be_stopped(self):
        self.assertRaises(Cancelled, resize, station_results(), AHU, stop)


class SingleChanges(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.what = WhatIf(dampers_open=True)
        cls.found = check(station_results(), AHU, cls.what)

    def test_changes_are_ranked_by_what_they_gain(self):
        proven = [c for c in self.found.changes if c.proven or c.command is None or "Fan" in c.words]
        self.assertGreater(len(self.found.changes), 10)
        self.assertTrue(any(c.proven for c in self.found.changes))
        self.assertEqual([c.after for c in proven[:3]], sorted(c.after for c in proven[:3]))
        self.assertGreater(self.found.changes[0].gain, 0)
        self.assertIn("Fan", self.found.changes[0].words)
        assert_allclose(self.found.missing, missing_share(real_flows(case_in(station_results(), AHU), self.what)))

    def test_a_proven_change_holds_when_it_is_made(self):
        change = next(c for c in self.found.changes if c.proven)
        fan = station_results().fans[AHU]
        from garnetfin.project.edits.systems import ChooseFan
        from garnetfin.project.values import Pinned

        project = SetFanValue(AHU, "speed_rpm", Pinned(value=fan.chosen.speed_rpm)).apply(
            ChooseFan(AHU, fan.chosen.fan_id).apply(change.command.apply(station()))
        )
        after = real_flows(case_in(run(project, Memo()), AHU), self.what)
        assert_allclose(missing_share(after), change.after, rtol=1e-6)

    def test_nothing_is_missing_as_designed(self):
        found = check(station_results(), AHU, WhatIf())
        self.assertLess(found.missing, 1e-3)
        self.assertEqual(found.rooms_short, ())
        self.assertRaises(Cancelled, check, station_results(), AHU, WhatIf(), stop)


class Bookkeeping(unittest.TestCase):
    def test_every_run_comes_down_to_its_room(self):
        at = case_in(station_results(), AHU)
        for t in at.ducts.terminals:
            steps = run_of(at, t)
            room = next(i for i, s in enumerate(steps) if s.side == "room")
            assert_allclose(steps[room - 1].total_pa, 0.0, atol=1e-9)
            assert_allclose(sum(s.loss_pa for s in steps[:room]), 0.0, atol=1e-9)
            fan = next(s for s in steps if s.loss_pa < 0)
            assert_allclose(-fan.loss_pa, at.fan.wanted_pa, rtol=1e-9)
            for s in steps:
                self.assertLessEqual(s.static_pa, s.total_pa + 1e-12)

    def test_a_loaded_filter_loses_more(self):
        at = case_in(station_results(), AHU)
        lost = {
            state: next(s.loss_pa for s in run_of(at, at.ducts.index, state) if s.name.startswith("Filter"))
            for state in ("clean", "", "final")
        }
        assert_allclose((lost["clean"], lost["final"]), (0.6 * lost[""], 1.4 * lost[""]))

    def test_the_way_back_ends_outside(self):
        at = case_in(run(with_return(), Memo()), AHU)
        grille = at.leaving["return"].terminals[0]
        t = next(t for t in at.ducts.terminals if t.room_id == grille.room_id)
        steps = run_of(at, t)
        self.assertEqual([s.side for s in steps if s.side != "supply"][-1], "return")
        assert_allclose(steps[-1].total_pa, 0.0, atol=1e-6)
        below = [s for s in steps if s.side == "return" and s.name.startswith("Duct")]
        self.assertTrue(all(s.total_pa < 0 for s in below))


class SoundOfTheExample(unittest.TestCase):
    def test_levels_fall_along_the_ducts_unless_their_flow_makes_more(self):
        found, ducts = station_results().noise[AHU], station_results().ducts[AHU]
        for s in ducts.tree.order:
            p = ducts.tree.parent[s]
            if p >= 0:
                r = ducts.segments[ducts.segment_ids[s]]
                most = noise.add(
                    [found.at_end[ducts.segment_ids[p]], noise.duct_bands(r.velocity_m_s, r.section.area_m2)]
                )
                self.assertTrue((found.at_end[r.segment_id] <= most + 1e-9).all())

    def test_without_its_silencer_every_room_hears_more_of_the_fan(self):
        silencer = next(p.id for p in station().air_systems[0].parts if p.kind == "attenuator")
        bare = run(RemovePart(AHU, silencer).apply(station()), Memo()).noise[AHU]
        for i, n in station_results().noise[AHU].terminals.items():
            self.assertGreater(noise.weighted(bare.terminals[i].by_source[0]), noise.weighted(n.by_source[0]) + 3)

    def test_a_room_hears_all_its_terminals(self):
        found = station_results().noise[AHU]
        for room_id, room in found.rooms.items():
            own = [n for n in found.terminals.values() if n.room_id == room_id]
            assert_allclose(room.bands, noise.add([noise.add(n.by_source) for n in own]), atol=1e-9)
            self.assertGreaterEqual(room.nc, max(n.nc for n in own) - 1e-9)
            assert_allclose(room.nr, noise.noise_rating(room.bands))
        self.assertIn(found.index, found.terminals)


class ByHand(unittest.TestCase):
    def test_a_dot_pulled_to_a_pressure_pins_the_blade_that_takes_it(self):
        ducts = station_results().ducts[AHU]
        # one whose size is not on the edge of the next: what the blade takes moves its leaks a little
        t = next(
            t for t in ducts.terminals if t.damper.surplus_pa > 25 and ducts.segments[t.segment_id].friction_pa_m < 0.8
        )
        results = run(pinned_for(station_results(), AHU, t.terminal_id, 15.0).apply(station()), Memo())
        # 0.1 Pa: the angle is kept to a tenth of a degree.
        assert_allclose(results.ducts[AHU].segments[t.segment_id].damper.surplus_pa, 15.0, atol=0.15)
        self.assertIsInstance(pinned_for(station_results(), AHU, t.terminal_id, 1e5), Missing)
        self.assertIsInstance(pinned_for(station_results(), AHU, "none", 5.0), Missing)


class FanLines(unittest.TestCase):
    def test_curves_by_other_figures_pass_through_the_point(self):
        fan = station_results().fans[AHU]
        for quantity, value in (
            ("efficiency", fan.point.efficiency),
            ("power", fan.point.shaft_w),
            ("noise", fan.point.sound_db),
            ("pressure", fan.point.pressure_pa),
        ):
            line, others = lines_of(station_results(), AHU, quantity)
            # 1 %: sixty points of a smooth curve, joined straight.
            assert_allclose(np.interp(fan.point.flow_m3s, *line), value, rtol=0.01)
            self.assertEqual(len(others), 3)

    def test_all_fans_together(self):
        found = together(station_results(), AHU, station_results().real[AHU])
        assert_allclose(found.electric_w, sum(w for _, w in found.fans))
        assert_allclose(found.year_wh, found.electric_w * found.hours)
        self.assertEqual([n for n, _ in found.fans], ["Supply fan", "Return fan, until its ducts are drawn"])
        drawn = run(with_return(), Memo())
        self.assertEqual([n for n, _ in together(drawn, AHU, drawn.real[AHU]).fans], ["Supply fan", "Return fan"])


class Plates(unittest.TestCase):
    def test_a_plate_is_not_opened_by_a_what_if_nor_set_on_site(self):
        t = next(t for t in station_results().ducts[AHU].terminals if t.surplus_pa > 30)
        at = case_in(run(SetDuctChoice((t.segment_id,), "damper", "orifice").apply(station()), Memo()), AHU)
        open_, free = (
            real_flows(at, WhatIf(dampers_open=True)),
            real_flows(case_in(station_results(), AHU), WhatIf(dampers_open=True)),
        )
        self.assertLess(open_.ratio(t.terminal_id), 0.95 * free.ratio(t.terminal_id))
        self.assertNotIn(t.segment_id, [r.segment_id for r in commissioning(at).rows])
