"""Tables of Balance: rows for everything, in both unit systems, whatever stands in the way."""

import unittest
from dataclasses import replace

from garnetfin.engine.flows.balance_check import run_of
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import case_in
from garnetfin.engine.flows.real_flows import ask
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Missing
from garnetfin.ui.state import Selection, Show, State
from garnetfin.ui.view_models import balance as vms
from garnetfin.ui.view_models.charts import fan_chart, stair
from garnetfin.ui.view_models.tables import state_table
from tests.example import station, station_results

AHU = "ahu-north"


def state(what: WhatIf = WhatIf(), units: str = "SI", flows=None) -> State:
    results = station_results()
    show = Show(link="Balance", system_id=AHU, level_id="G", units=units, what=what)
    return State(
        station(),
        results,
        Selection(),
        show,
        False,
        flows=flows if flows is not None else ask(results, AHU, what, Memo()),
    )


class Tables(unittest.TestCase):
    def check(self, table, rows: int) -> None:
        self.assertEqual(len(table.rows), rows)
        for row in table.rows:
            self.assertEqual(len(row.cells), len(table.columns))
            self.assertFalse(any("nan" in c.text for c in row.cells), row)

    def test_terminals_rooms_and_noise_in_both_units(self):
        ducts, noise = station_results().ducts[AHU], station_results().noise[AHU]
        for units in ("SI", "IP"):
            s = state(WhatIf(dampers_open=True, speed=0.9), units)
            self.check(vms.terminal_table(s, ducts, 0.1), 34)
            self.check(vms.room_table(s), len(s.flows.rooms))
            self.check(vms.noise_table(s, ducts, noise), 34)
            self.check(
                vms.step_table(s, run_of(case_in(station_results(), AHU), ducts.index)),
                len(run_of(case_in(station_results(), AHU), ducts.index)),
            )

    def test_what_is_off_by_more_than_the_tolerance_is_marked(self):
        ducts, s = station_results().ducts[AHU], state(WhatIf(dampers_open=True))
        for row in vms.terminal_table(s, ducts, 0.1).rows:
            ratio = s.flows.ratio(row.id)
            self.assertEqual(row.cells[3].tone == "watch", abs(ratio - 1) > 0.1 + 1e-9)
            self.assertEqual(row.cells[3].why, ())  # under a what-if there is no derivation
        self.assertTrue(all(r.cells[3].why for r in vms.terminal_table(state(), ducts, 0.1).rows))

    def test_a_room_that_is_cut_off_is_named(self):
        terminals = station_results().ducts[AHU].terminals
        alone = next(t for t in terminals if sum(x.room_id == t.room_id for x in terminals) == 1)
        row = next(r for r in vms.room_table(state(WhatIf(shut=(alone.segment_id,)))).rows if r.id == alone.room_id)
        self.assertEqual((row.cells[-1].text, row.cells[-1].tone), ("cut off", "bad"))

    def test_before_anything_is_solved(self):
        empty = replace(state(), flows=Missing("no ducts", "Draw a duct from the unit"))
        self.assertEqual(vms.room_table(empty).rows[0].cells[0].text, "Draw a duct from the unit")
        self.assertIsNone(vms.real(empty))
        dashes = vms.terminal_table(empty, station_results().ducts[AHU], 0.1)
        self.assertTrue(all(r.cells[3].text == "–" for r in dashes.rows))


class Charts(unittest.TestCase):
    def test_every_path_ends_in_its_room_under_a_what_if(self):
        s = state(WhatIf(dampers_open=True))
        vm = stair(s, station_results().ducts[AHU], station_results().fans[AHU])
        self.assertTrue(vm.solved)
        for path in vm.paths:
            self.assertAlmostEqual(path.corners[-1][1], 0.0, 1)
            pressures = [p for _, p in path.corners]
            self.assertEqual(pressures[0], max(pressures))
        parts = sum(v for _, v in (*vm.parts, *vm.after))
        self.assertAlmostEqual(parts + s.flows.root_pa, s.flows.fan_pa, 3)

    def test_points_of_what_ifs_lie_on_the_fans_curve(self):
        flows = (state().flows, state(WhatIf(filter="final")).flows)
        s = state(WhatIf(filter="final"))
        vm = fan_chart(s, station_results().fans[AHU], "pressure", flows)
        self.assertEqual([(words, asked) for words, _, _, asked in vm.states], [("filter loaded", True)])
        curve = station_results().fans[AHU].curve
        self.assertAlmostEqual(float(curve.pressure(flows[1].fan_m3s)), flows[1].fan_pa, 3)
        self.assertEqual(len(state_table(s, flows).rows), 2)
