"""Drawing, picking, sizing and removing ducts in the window; balance."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.engine.layout.duct_methods import life_cost
from garnetfin.engine.layout.take_off import take_off
from garnetfin.project.lookup import find
from garnetfin.project.values import Rule
from garnetfin.ui.widgets.card import LadderPart
from tests.ui.driver import WindowTest

SYSTEM = "ahu-north"


class Ducts(WindowTest):
    first = "Ducts"

    def setUp(self):
        super().setUp()
        self.ducts = self.view("Ducts")
        self.plan = self.ducts.plan

    def segment_at(self, x: float, y: float) -> str:
        self.click_plan(self.plan, x, y)
        self.assertEqual(self.session.selection.kind, "segment")
        return self.session.selection.ids[0]

    def draw(self, *points: tuple[float, float], end: bool = True) -> None:
        self.click(self.ducts.draw_tool, (14, 14))
        for x, y in points:
            at = self.plan.map.map(QPointF(x, y)).toPoint()
            QTest.mouseMove(self.plan, at)
            QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        if end:
            QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()

    def test_a_rung_of_the_ladder_pins_the_size_and_lets_go_again(self):
        segment_id = self.segment_at(9.3, 6.6)
        ladder = self.window.card.part(LadderPart)
        wanted = next(i for i, r in enumerate(ladder.vm.rungs) if not (r.reason or r.by_rule))
        self.click(ladder, (60, int(ladder.TOP + (wanted + 0.4) * ladder.STEP)))
        self.wait()
        result = self.session.results.ducts[SYSTEM].segments[segment_id]
        self.assertTrue(result.pinned)
        self.assertEqual(
            (result.section.shape, result.section.width_m, result.section.height_m),
            ladder.vm.rungs[next(i for i, r in enumerate(ladder.vm.rungs) if r.pinned)].size,
        )
        pinned = next(i for i, r in enumerate(ladder.vm.rungs) if r.pinned)
        self.click(ladder, (60, int(ladder.TOP + (pinned + 0.4) * ladder.STEP)), keys=Qt.KeyboardModifier.AltModifier)
        self.wait()
        self.assertEqual(find(self.session.project.segments, segment_id).size, Rule())

    def test_the_mend_of_the_beam_takes_a_flatter_size(self):
        finding = next(f for f in self.session.results.findings if f.code == "height")
        self.session.select("segment", finding.object_id)
        self.wait()
        from garnetfin.ui.widgets.card import FindingsPart

        block = self.window.card.part(FindingsPart).blocks[0]
        self.click(block.mends[0], (10, 10))
        self.wait()
        self.assertNotIn(
            (finding.code, finding.object_id), [(f.code, f.object_id) for f in self.session.results.findings]
        )

    def test_a_run_is_drawn_from_the_trunk_into_a_room_and_gets_air(self):
        before = len(self.session.project.terminals)
        self.draw((23.7, 6.6), (23.7, 4.0))
        self.assertEqual(len(self.session.project.terminals), before + 1)
        new = self.session.project.terminals[-1]
        self.assertEqual(find(self.session.project.rooms, new.room_id).number, "0.04")
        found = next(t for t in self.session.results.ducts[SYSTEM].terminals if t.terminal_id == new.id)
        self.assertGreater(found.flow_m3s, 0)
        self.session.undo()
        self.wait()
        self.assertEqual(len(self.session.project.terminals), before)

    def test_a_typed_length_is_taken_to_the_millimetre(self):
        self.draw((23.7, 6.6), end=False)
        QTest.mouseMove(self.plan, self.plan.map.map(QPointF(23.7, 4.5)).toPoint())
        QTest.keyClicks(self.plan, "2.125")
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()
        new = self.session.project.terminals[-1]
        point = find(self.session.project.duct_points, new.point_id)
        self.assertAlmostEqual(point.y_m, 6.6 - 2.125, 6)

    def test_escape_drops_the_run_and_then_the_tool(self):
        project = self.session.project
        self.draw((23.7, 6.6), (23.7, 4.0), end=False)
        QTest.keyClick(self.plan, Qt.Key.Key_Escape)
        self.assertIs(self.session.project, project)

    def test_a_rectangular_run_without_a_terminal(self):
        self.click(self.ducts.draw_tool, (14, 14))
        self.click(self.ducts.shape_strip, self.ducts.shape_strip.box_of("rectangular").center())
        self.ducts.terminal_switch.setChecked(False)
        for x, y in ((23.7, 6.6), (23.7, 4.0)):
            self.click(self.plan, self.plan.map.map(QPointF(x, y)))
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(self.session.project.segments[-1].shape, "rectangular")
        self.assertEqual(len(self.session.project.terminals), 34)

    def test_delete_removes_what_is_selected(self):
        segment_id = self.segment_at(22.8, 4.6)
        QTest.keyClick(self.plan, Qt.Key.Key_Delete)
        self.wait()
        self.assertIsNone(find(self.session.project.segments, segment_id))
        self.assertIn("no-terminal", [f.code for f in self.session.results.findings])

    def test_colours_and_levels(self):
        for key in ("velocity", "friction", "pressure", "size", "air"):
            self.click(self.ducts.colour_strip, self.ducts.colour_strip.box_of(key).center())
            self.wait()
            self.assertEqual(self.ducts.colour_by, key)
            self.assertFalse(self.plan.grab().isNull())
        QTest.keyClick(self.window, Qt.Key.Key_PageUp, Qt.KeyboardModifier.ControlModifier)
        self.wait()
        self.assertEqual(self.session.show.level_id, "U")

    def test_shape_is_changed_in_the_card(self):
        segment_id = self.segment_at(9.3, 6.6)
        self.choose("shape_shape", "round")
        self.assertEqual(self.session.results.ducts[SYSTEM].segments[segment_id].section.shape, "round")

    def test_terminal_card_and_share(self):
        terminal = next(t for t in self.session.project.terminals if t.label == "0.01a")
        point = find(self.session.project.duct_points, terminal.point_id)
        self.click_plan(self.plan, point.x_m, point.y_m)
        self.assertEqual(self.session.selection.ids, (terminal.id,))
        before = next(t for t in self.session.results.ducts[SYSTEM].terminals if t.terminal_id == terminal.id).flow_m3s
        self.type_into("terminal_share", "50 %")
        self.wait()
        after = next(t for t in self.session.results.ducts[SYSTEM].terminals if t.terminal_id == terminal.id).flow_m3s
        self.assertAlmostEqual(after / before, 1.5, 6)

    def test_wheel_zooms_about_the_mouse_and_f_shows_all(self):
        at = QPointF(400, 200)
        before = self.plan.to_metres(at)
        self.plan.zoom(1.5, at)
        after = self.plan.to_metres(at)
        self.assertAlmostEqual(before.x(), after.x(), 9)
        scale = self.plan.map.m11()
        self.plan.setFocus()
        QTest.keyClick(self.plan, Qt.Key.Key_F)
        self.assertLess(self.plan.map.m11(), scale)


class Balance(WindowTest):
    def test_stair_table_and_card_share_the_selection(self):
        balance = self.view("Balance")
        terminal = next(t.id for t in self.session.project.terminals if t.label == "0.09a")
        row = balance.table.row_of(terminal)
        self.click(
            balance.table.viewport(), QPointF(balance.table.visualRect(balance.table.model_.index(row, 1)).center())
        )
        self.wait()
        self.assertEqual(balance.stair.vm.chosen, terminal)
        self.assertIn("0.09a", self.window.card.vm.kind)
        QTest.keyClick(balance.stair, Qt.Key.Key_Down)
        self.wait()
        self.assertNotEqual(self.session.selection.ids, (terminal,))

    def test_every_path_of_the_stair_starts_at_the_fan_and_ends_at_its_surplus(self):
        balance = self.view("Balance")
        ducts = self.session.results.ducts[SYSTEM]
        for path, t in zip(balance.stair.vm.paths, ducts.terminals):
            self.assertAlmostEqual(path.corners[0][1], ducts.runs.fan_pa, 6)
            self.assertAlmostEqual(path.corners[-1][1], t.surplus_pa, 6)
            self.assertTrue(all(b[0] >= a[0] - 1e-9 for a, b in zip(path.corners, path.corners[1:])))


class Sizing(WindowTest):
    first = "Ducts"

    def setUp(self):
        super().setUp()
        self.ducts = self.view("Ducts")

    def tab(self, name: str) -> None:
        head = self.ducts.drawer.head
        self.click(head, head.box_of(head.tabs.index(name)).center())
        self.wait()

    def test_ways_of_sizing_stand_side_by_side_and_a_click_takes_one(self):
        self.tab("Sizing methods")
        self.wait(lambda: self.ducts._compared[1] is not None and self.session.settled)
        table = self.ducts.methods
        self.assertEqual([r.id for r in table.model_.vm.rows], ["friction", "velocity", "regain", "cost"])
        self.assertEqual(table.chosen, frozenset({"friction"}))
        _, before = life_cost(self.session.results, self.session.results.ducts[SYSTEM])
        table.selectRow(table.row_of("cost"))
        self.wait()
        self.assertEqual(self.session.project.air_systems[0].sizing, "cost")
        self.assertLess(life_cost(self.session.results, self.session.results.ducts[SYSTEM])[1], before)
        self.assertEqual(self.ducts.tools.note.words, "least cost over life")
        self.session.undo()
        self.wait()
        self.assertAlmostEqual(life_cost(self.session.results, self.session.results.ducts[SYSTEM])[1], before)

    def test_the_card_holds_the_rule_and_the_office_book(self):
        self.session.select()
        self.wait()
        self.choose("system_choice_sizing", "velocity")
        self.type_into("assumption_duct_branch_m_s", "3 m/s")
        self.wait()
        branches = [
            s for s in self.session.results.ducts[SYSTEM].segments.values() if s.velocity_limit == 3.0 and not s.pinned
        ]
        self.assertTrue(branches and all(s.velocity_m_s <= 3.0 + 1e-9 or s.ladder.relaxed for s in branches))
        self.type_into("system_value_duct_height_m", "150")
        self.wait()
        self.assertEqual(
            {
                s.section.height_m
                for s in self.session.results.ducts[SYSTEM].segments.values()
                if s.section.shape == "rectangular" and not s.pinned
            },
            {0.15},
        )
        self.type_into("system_value_duct_height_m", "")
        self.wait()
        self.assertEqual(self.session.project.air_systems[0].duct_height_m, Rule())
        field = self.type_into("assumption_duct_aspect", "20")
        self.assertIn("between 1 and 8", field.fault)

    def test_fittings_lead_to_their_ducts_and_the_take_off_sums(self):
        self.tab("Fittings")
        rows = self.ducts.fittings.model_.vm.rows
        losses = [float(r.cells[6].text.replace("\u2212", "-")) for r in rows]
        self.assertEqual(losses, sorted(losses, reverse=True))
        self.ducts.fittings.selectRow(0)
        self.wait()
        self.assertEqual(self.session.selection.ids, (rows[0].id,))
        self.tab("Take-off")
        bill = {r.id: r for r in self.ducts.bill.model_.vm.rows}
        found = self.session.results.ducts[SYSTEM]
        made = take_off(self.session.results, found)
        self.assertAlmostEqual(float(bill["sum"].cells[7].text.replace("\u202f", "")), made.mass_kg, delta=0.06)
        self.assertTrue(any(r.kind == "count" for r in bill.values()))


class AirThatLeaves(WindowTest):
    first = "Ducts"

    def setUp(self):
        super().setUp()
        self.ducts = self.view("Ducts")
        self.plan = self.ducts.plan
        self.click(self.ducts.air_strip, self.ducts.air_strip.box_of("return").center())
        self.wait()

    def draw(self, *points: tuple[float, float]) -> None:
        self.click(self.ducts.draw_tool, (14, 14))
        for x, y in points:
            QTest.mouseClick(
                self.plan,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
                self.plan.map.map(QPointF(x, y)).toPoint(),
            )
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()
        QTest.keyClick(self.plan, Qt.Key.Key_Escape)
        self.wait()

    def test_a_return_run_is_drawn_across_supply_ducts_and_listed_by_itself(self):
        self.assertIn("Draw a duct", self.window.card.vm.line)
        supply = [s for s in self.session.project.segments if s.air == "supply"]
        self.draw((12.0, 1.4), (2.0, 1.4))  # across the branches of three rooms
        made = [s for s in self.session.project.segments if s.air == "return"]
        self.assertEqual((len(made), [s for s in self.session.project.segments if s.air == "supply"]), (1, supply))
        found = self.session.results.network(SYSTEM, "return")
        self.assertEqual(list(found.segments), [made[0].id])
        rows = self.ducts.segments.model_.vm.rows
        self.assertEqual([r.id for r in rows], [made[0].id])
        self.click_plan(self.plan, 11.0, 1.4)
        self.assertEqual(self.session.selection.ids, (made[0].id,))
        self.assertIn("return", self.window.card.vm.kind)
        self.assertTrue(any(name == "Return" for _, name in self.plan.legend))

    def test_the_air_shown_is_what_tables_and_card_speak_of(self):
        self.draw((12.0, 1.4), (2.0, 1.4))
        self.session.select()
        self.wait()
        self.assertIn("Return ducts", self.window.card.vm.kind)
        self.click(self.ducts.air_strip, self.ducts.air_strip.box_of("supply").center())
        self.wait()
        self.assertIn("Supply ducts", self.window.card.vm.kind)
        self.assertEqual(len(self.ducts.segments.model_.vm.rows), 73)
        self.session.undo()
        self.wait()
        self.assertFalse(any(s.air == "return" for s in self.session.project.segments))
