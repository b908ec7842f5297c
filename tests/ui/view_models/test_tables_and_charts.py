"""Rows of tables and points of charts agree with the results they show."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin import display
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned
from garnetfin.ui.view_models import charts, tables
from garnetfin.ui.view_models.chain import chain
from tests.example import by_number, station, station_results
from tests.ui.view_models.test_cards import SYSTEM, state


def columns(table: tables.TableVM) -> list[str]:
    return [c.name for c in table.columns]


class Tables(unittest.TestCase):
    def check(self, table: tables.TableVM, rows: int) -> None:
        self.assertEqual(len(table.rows), rows)
        self.assertEqual(len({r.id for r in table.rows}), rows)
        for row in table.rows:
            self.assertEqual(len(row.cells), len(table.columns))

    def test_rooms(self):
        s = state("Building")
        table = tables.room_table(s)
        self.check(table, 28)
        self.check(tables.room_table(s, served_only=True), 26)
        self.check(tables.room_table(s, this_level=True), 15)
        boat = next(r for r in table.rows if r.cells[1].text == "Boat store")
        self.assertEqual((boat.cells[-2].text, boat.cells[-2].italic), ("not served: unconditioned", True))
        reading = table.rows[0]
        self.assertEqual(reading.cells[columns(table).index("Equip.")].origin, "pinned")
        self.assertEqual(
            reading.cells[columns(table).index("Cooling")].text,
            display.figure("power", station_results().room(reading.id).peak_w, "SI"),
        )

    def test_transfer_rooms_say_so(self):
        wc = next(r for r in tables.room_table(state("Building")).rows if r.cells[1].text == "WC")
        self.assertEqual(wc.cells[-2].text, "transfer")

    def test_loads(self):
        table = tables.load_table(state("Loads"))
        self.check(table, 28)
        bars = [c.bar for r in table.rows for c in r.cells if c.bar is not None]
        self.assertAlmostEqual(max(bars), 1.0)

    def test_flows(self):
        table = tables.flow_table(state("Air"))
        self.check(table, 26)
        for row in table.rows:
            strong = [c for c in row.cells[2:6] if c.tone == "strong"]
            self.assertLessEqual(len(strong), 1)

    def test_segments_and_runs(self):
        ducts = station_results().ducts[SYSTEM]
        self.check(tables.segment_table(state("Ducts"), ducts), 73)
        table = tables.run_table(state("Balance"), ducts)
        self.check(table, 34)
        surplus = [float(r.cells[4].text) for r in table.rows]
        self.assertEqual(surplus, sorted(surplus))
        self.assertEqual(table.rows[0].cells[5].text, "open")

    def test_a_pinned_segment_carries_its_mark(self):
        segment = station().segments[5].id
        project = SetSize((segment,), PinnedSize(shape="rectangular", width_m=0.5, height_m=0.25)).apply(station())
        s = state("Ducts", project=project)
        row = next(r for r in tables.segment_table(s, s.results.ducts[SYSTEM]).rows if r.id == segment)
        self.assertEqual((row.cells[2].text, row.cells[2].origin), ("500 × 250", "pinned"))

    def test_fans_and_what_rooms_get(self):
        fan, ducts = station_results().fans[SYSTEM], station_results().ducts[SYSTEM]
        table = tables.fan_table(state("Fan"), fan)
        self.check(table, 12)
        powers = [float(r.cells[2].text) for r in table.rows if r.cells[2].text]
        self.assertEqual(powers, sorted(powers))
        self.assertTrue(all(r.cells[-1].text for r in table.rows))
        flows = tables.room_flows(state("Fan"), station_results().real[SYSTEM], ducts)
        self.check(flows, 34)
        self.assertTrue(all(r.cells[2].text == r.cells[3].text for r in flows.rows))


class Chain(unittest.TestCase):
    def test_links_in_the_order_of_work(self):
        vm = chain(state("Loads"), 8)
        self.assertEqual(
            [k.name for k in vm.links], ["Climate", "Building", "Loads", "Air", "Ducts", "Balance", "Fan", "Documents"]
        )
        self.assertEqual((vm.active, vm.system), ("Loads", "AHU North"))
        self.assertEqual(sum(k.findings for k in vm.links), len(station_results().findings))
        self.assertEqual((vm.links[-1].figure, vm.links[-1].note), ("issue 1", "8 pages"))

    def test_an_empty_project_says_what_is_missing_in_every_link(self):
        links = {k.name: k for k in chain(state("Building", project=Project()), 0).links}
        self.assertEqual(links["Building"].figure, "no rooms")
        for name in ("Climate", "Loads", "Air", "Ducts", "Balance", "Fan"):
            self.assertTrue(links[name].missing, name)
            self.assertLessEqual(len(links[name].figure.split()), 2, name)

    def test_a_finding_is_counted_at_its_link(self):
        project = SetRoomValue((by_number(station(), "0.01").id,), "supply_m3s", Pinned(value=0.02)).apply(station())
        pinned = state("Air", project=project)
        found = [f.code for f in pinned.results.findings if f.link == "Air"]
        self.assertIn("flow-short", found)
        self.assertEqual(next(k.findings for k in chain(pinned, 0).links if k.name == "Air"), len(found))


class ChartPoints(unittest.TestCase):
    def test_months(self):
        climate = station_results().climate
        vm = charts.months(state("Climate"), climate, 3)
        self.assertEqual((len(vm.months), vm.chosen, vm.warmest), (12, 3, 6))
        for m, month in enumerate(vm.months):
            assert_allclose(max(month.dry), climate.days.dry_bulb_c[m].max())
            self.assertGreaterEqual(min(np.array(month.dry) - np.array(month.wet)), -1e-9)
        ip = charts.months(state("Climate", units="IP"), climate, 3)
        assert_allclose(np.array(ip.months[0].dry), np.array(vm.months[0].dry) * 1.8 + 32)

    def test_needs(self):
        air = station_results().air[SYSTEM]
        vm = charts.needs(state("Air"), air)
        self.assertEqual(len(vm.rows), 26)
        for row, source in zip(vm.rows, air.rooms):
            assert_allclose(row.needs, [n * 1000 for n in source.needs_m3s])

    def test_stair_parts_close_around_the_fan(self):
        results = station_results()
        vm = charts.stair(state("Balance"), results.ducts[SYSTEM], results.fans[SYSTEM])
        assert_allclose(vm.fan - sum(v for _, v in (*vm.parts, *vm.after)), vm.ducts, rtol=1e-9)
        self.assertEqual(vm.index, results.ducts[SYSTEM].index.terminal_id)

    def test_stair_never_rises_but_at_a_regain(self):
        results = station_results()
        vm = charts.stair(state("Balance"), results.ducts[SYSTEM], results.fans[SYSTEM])
        for path in vm.paths:
            for (_, a), (_, b) in zip(path.corners, path.corners[1:]):
                self.assertLessEqual(b, a + 1.0)

    def test_fan_curves_meet_in_the_operating_point(self):
        fan = station_results().fans[SYSTEM]
        vm = charts.fan_chart(state("Fan"), fan)
        for line in (vm.curve, vm.system):
            q, p = (np.array(x) for x in zip(*line))
            # Between sampled points the curve is drawn straight: worth 1 % here.
            assert_allclose(np.interp(vm.point[0], q, p), vm.point[1], rtol=0.01)
        self.assertEqual(len(vm.speeds), 3)

    def test_stall_edge_follows_the_affinity_laws(self):
        q, p = station_results().fans[SYSTEM].lines.stall
        assert_allclose(p / q**2, p[-1] / q[-1] ** 2, rtol=1e-9)

    def test_a_run_without_a_fan_still_has_its_stair(self):
        from garnetfin.project.edits.systems import ChooseFan

        results = run(ChooseFan(SYSTEM, "GF-P250").apply(station()), Memo())
        vm = charts.stair(state("Balance"), results.ducts[SYSTEM], results.fans[SYSTEM])
        self.assertEqual(len(vm.paths), 34)
