"""Air driven by mouse and keyboard: the train, the chart, flows and balance, the state list, the year, terminals, and
Why.
"""

from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from garnetfin.core.units import to_shown
from garnetfin.project.edits.site import SetWeather
from garnetfin.project.edits.systems import SetPattern, SetSystemValue
from garnetfin.project.values import Pinned
from garnetfin.ui.charts.train import LOW_DUCT, LOW_HIGH, MIME, TOP_DUCT
from garnetfin.ui.frame.side_panel import why_under
from tests.example import by_number
from tests.ui.driver import WindowTest

AHU = "ahu-north"


class AirTest(WindowTest):
    first = "Air"

    def setUp(self):
        super().setUp()
        self.air = self.view("Air")

    def tab(self, name: str) -> None:
        head = self.air.drawer.head
        self.click(head, head.box_of(head.tabs.index(name)).center())
        self.wait()

    def room(self, number: str) -> str:
        return by_number(self.session.project, number).id

    def kinds(self) -> list[str]:
        return [p.kind for p in self.session.project.air_systems[0].parts]

    def part_at(self, part_id: str) -> QPointF:
        part = next(p for p in self.air.train.vm.parts if p.id == part_id)
        y = TOP_DUCT + 22 if part.side == "return" else LOW_DUCT + LOW_HIGH / 2
        return QPointF(self.air.train.places()[part_id], y)

    def drag(self, widget, start: QPointF, end: QPointF) -> None:
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for share in (0.3, 0.6, 1.0):
            at = start + (end - start) * share
            # QTest's own moves hold no button down.
            event = QMouseEvent(
                QEvent.Type.MouseMove,
                at,
                widget.mapToGlobal(at),
                Qt.MouseButton.NoButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            )
            QApplication.sendEvent(widget, event)
        QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=end.toPoint())
        self.wait()


class Train(AirTest):
    def test_a_click_on_a_part_shows_its_figures_and_pinning_one_moves_the_coil(self):
        self.click(self.air.train, self.part_at("recovery"))
        self.wait()
        self.assertEqual(self.window.card.vm.title, "Heat recovery, rotor")
        before = self.session.results.trains[AHU].coils_peak_w
        self.type_into("part_sensible", "40 %")
        self.wait()
        self.assertGreater(self.session.results.trains[AHU].coils_peak_w, before)
        self.assertIn("40 %", self.air.train.vm.recovery)
        away = next(s for s in self.window.card.vm.sections if s.title == "Without this component")
        self.assertTrue(any(r.label == "Cooling" for r in away.rows))

    def test_a_recovery_above_all_is_refused_and_the_last_good_value_stays(self):
        self.click(self.air.train, self.part_at("recovery"))
        self.wait()
        field = self.type_into("part_sensible", "120 %")
        self.assertIn("between 0 and 1", field.fault)
        self.assertEqual(field.edit.text(), "120 %")
        self.assertEqual(self.session.results.trains[AHU].figures["recovery", "sensible"].figure, 0.8)

    def test_dragging_a_part_along_moves_it_and_off_takes_it_out(self):
        fan, coil = self.part_at("supply_fan"), self.part_at("cooling")
        self.drag(self.air.train, fan, coil - QPointF(20, 0))
        self.assertLess(self.kinds().index("supply_fan"), self.kinds().index("cooling"))
        self.drag(self.air.train, self.part_at("attenuator"), self.part_at("attenuator") + QPointF(0, 120))
        self.assertNotIn("attenuator", self.kinds())
        self.session.undo()
        self.session.undo()
        self.wait()
        self.assertLess(self.kinds().index("cooling"), self.kinds().index("supply_fan"))
        self.assertIn("attenuator", self.kinds())

    def test_a_part_cannot_be_dragged_where_it_makes_no_sense(self):
        self.drag(self.air.train, self.part_at("mixing"), self.part_at("intake") + QPointF(8, 0))
        self.assertTrue(self.window.banner.isVisible())
        self.assertEqual(self.kinds().index("mixing"), self.kinds().index("recovery") + 1)

    def test_parts_are_dropped_in_and_clicked_in(self):
        data = QMimeData()
        data.setData(MIME, b"preheat")
        at = self.part_at("recovery") - QPointF(50, 0)
        enter = QDragEnterEvent(
            at.toPoint(), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        self.air.train.dragEnterEvent(enter)
        self.assertTrue(enter.isAccepted())
        self.air.train.dropEvent(
            QDropEvent(at, Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        )
        self.wait()
        self.assertEqual(self.kinds()[self.kinds().index("preheat") + 1], "recovery")
        self.click(self.air.parts["humidifier"], (14, 14))
        self.wait()
        self.assertIn("humidifier", self.kinds())
        self.assertFalse(self.air.parts["recovery"].isEnabled())  # there is one already

    def test_by_keyboard(self):
        self.air.train.setFocus()
        self.session.select("part", "attenuator")
        self.wait()
        QTest.keyClick(self.air.train, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
        self.wait()
        self.assertLess(self.kinds().index("attenuator"), self.kinds().index("supply_fan"))
        QTest.keyClick(self.air.train, Qt.Key.Key_Delete)
        self.wait()
        self.assertNotIn("attenuator", self.kinds())
        QTest.keyClick(self.air.train, Qt.Key.Key_Right)
        self.wait()
        self.assertEqual(self.session.selection.kind, "part")

    def test_patterns_and_control_in_the_card(self):
        self.session.select()
        self.wait()
        self.choose("pattern_pattern", "vav_reheat")
        self.assertEqual(self.session.project.air_systems[0].flow, "load")
        self.assertEqual(self.air.flow_strip.now, "load")
        self.click(self.air.flow_strip, self.air.flow_strip.box_of("fixed").center())
        self.wait()
        self.assertEqual(self.session.project.air_systems[0].flow, "fixed")
        self.choose("months_cooling_months", "none")
        self.assertEqual(self.session.results.trains[AHU].coils_peak_w, 0.0)
        self.choose("book_choice_outdoor_method", "people and area")
        self.assertEqual(self.session.project.book.outdoor_method, "people and area")

    def test_what_plays_no_part_is_not_shown(self):
        # a ducted return has no shares of a void
        self.assertFalse(any(p.kind == "plenum" for p in self.air.train.vm.parts))
        self.session.select("part", "mixing")
        self.wait()
        self.assertNotIn("part_changeover_c", [f.edit.objectName() for f in self.fields()])
        self.choose("part_choice", "dry bulb")
        self.assertIn("part_changeover_c", [f.edit.objectName() for f in self.fields()])

    def test_findings_of_a_part_lead_to_it(self):
        system = self.session.project.air_systems[0].id
        self.session.do(SetSystemValue(system, "outdoor_m3s", Pinned(value=1.6)))
        self.wait()
        finding = next(f for f in self.session.results.findings if f.code == "unbalanced")
        self.session.set_show(link="Loads")
        self.window._go_to(finding.kind, (finding.object_id,))
        self.wait()
        self.assertEqual((self.session.show.link, self.session.selection.ids), ("Air", ("recovery",)))
        self.assertIn("recovery", self.air.train.vm.findings)


class States(AirTest):
    def test_winter_summer_and_any_hour(self):
        self.click(self.air.state_strip, self.air.state_strip.box_of("heating").center())
        self.wait()
        self.assertEqual(self.air.train.vm.states[0].text[0], "−8.0 °C")
        self.click(self.air.state_strip, self.air.state_strip.box_of("hour").center())
        self.wait(lambda: self.session.settled and self.air._field is not None)
        field = self.air.field
        self.click(field, field.box_of(3, 10).center())
        self.wait()
        self.assertEqual(self.air._known[1].month, 3)
        self.assertIn("21 Apr", self.air.state_strip._choices[2][1])
        self.assertEqual(field.vm.chosen, (3, 10))

    def test_dragging_the_supply_state_moves_the_supply_temperature(self):
        view, chart = self.air.chart.plot, self.air.chart
        state = next(s for s in chart.vm.states if s.node == "supply")
        view.grab()  # drawn, so that the mouse finds the states
        start, box = chart.spot("supply"), view.getPlotItem().getViewBox()
        end = QPointF(view.mapFromScene(box.mapViewToScene(QPointF(state.t + 2.0, state.w))))
        before = self.session.results.air[AHU].figures.supply_c.figure
        self.drag(view.viewport(), start, end)
        self.wait()
        found = self.session.results.air[AHU].figures.supply_c
        self.assertEqual(found.origin, "pinned")
        self.assertAlmostEqual(found.figure, before + 2.0, delta=0.3)

    def test_the_states_are_those_of_the_results_in_the_units_shown(self):
        point = self.session.results.trains[AHU].cooling
        for units in ("SI", "IP"):
            self.session.set_show(units=units)
            self.wait()
            for s in self.air.train.vm.states:
                t, _w, _ = point.node(s.node)
                self.assertAlmostEqual(s.t, to_shown("temperature", t, units), places=9)
                self.assertTrue(self.air.chart.plot.rect().contains(self.air.chart.spot(s.node).toPoint()))
            self.assertIn("in Hg" if units == "IP" else "kPa", self.air.chart.vm.pressure)

    def test_a_row_of_the_states_selects_its_part(self):
        row = self.air.states.row_of("cooling")
        self.air.states.selectRow(row)
        self.wait()
        self.assertEqual(self.session.selection.ids, ("cooling",))

    def test_without_a_train_the_view_says_what_is_missing(self):
        self.session.do(SetPattern(AHU, "cav_reheat"))
        self.session.select()
        self.wait()
        self.type_into("system_value_supply_c", "35")
        self.wait()
        self.assertIn("cannot cool", self.air._nothing._help.words)
        self.session.undo()
        self.wait()
        self.assertEqual(self.air._stack.currentIndex(), 0)

    def test_coil_check_proof_and_plant(self):
        self.tab("Coil check")
        rows = {r.cells[0].text: r.cells[2].text for r in self.air.coil.model_.vm.rows}
        self.assertEqual(rows["Total load"], "88.22")
        left = {r.cells[0].text: r.cells[1].text for r in self.air.proof.model_.vm.rows}
        word, size, unit = left["Left over"].split()
        self.assertEqual((word, unit), ("within", "W"))
        self.assertLess(float(size), 0.1)
        self.tab("Plant")
        self.assertTrue(any("bypass" in r.cells[2].text for r in self.air.plant.model_.vm.rows))
        self.assertTrue(any("early estimate" in r.cells[2].text for r in self.air.plant.model_.vm.rows))


class Rooms(AirTest):
    def test_extract_typed_in_the_balance_is_pinned_and_moves_the_train(self):
        self.tab("Air balance")
        table = self.air.balance
        index = table.model_.index(table.row_of(self.room("0.02")), 4)
        table.model_.setData(index, "60")
        self.wait()
        row = self.session.results.room_air[self.room("0.02")]
        self.assertAlmostEqual(row.extract_m3s, 0.060)
        self.assertEqual(table.model_.vm.rows[index.row()].cells[4].origin, "pinned")
        sums = next(r for r in table.model_.vm.rows if r.id == "system")
        self.assertEqual(len(sums.cells), len(table.model_.vm.columns))

    def test_what_governs_is_pinned_in_the_card(self):
        self.session.select("room", self.room("0.01"))
        self.wait()
        self.choose("room_choice_need", "heating")
        self.assertEqual(self.session.results.room_air[self.room("0.01")].governs, "heating")
        self.choose("room_choice_pressure", "positive")
        self.assertEqual(self.session.results.room_air[self.room("0.01")].pressure, "positive")

    def test_transfer_air_is_given_and_taken_away(self):
        self.session.select("room", self.room("0.13"))
        self.wait()
        self.choose("transfer_from_room", self.room("0.08"))
        move = next(m for m in self.session.results.air[AHU].moves if m.to_room == self.room("0.13"))
        self.assertEqual(move.from_room, self.room("0.08"))
        self.type_into("transfer_flow_m3s", "15")
        self.wait()
        self.assertAlmostEqual(
            next(m for m in self.session.results.air[AHU].moves if m.to_room == self.room("0.13")).flow_m3s, 0.015
        )
        self.choose("move_transfer_from_room", "")
        self.assertEqual(len(self.session.project.transfers), 1)

    def test_the_strip_of_needs_selects_rooms(self):
        self.air.strip.picked.emit(self.room("0.02"))
        self.wait()
        self.assertEqual(self.window.card.vm.title, "Seminar room")

    def test_the_plan_shows_the_air_of_every_room(self):
        self.click(self.air.show_strip, self.air.show_strip.box_of("plan").center())
        self.wait()
        self.assertTrue(self.air.plan.isVisible())
        self.click_plan(self.air.plan, 2.0, 1.0)
        self.assertEqual(self.session.selection.ids, (self.room("0.01"),))
        with_air = self.air.plan.grab().toImage()
        self.air.plan._style = type(self.air.plan._style)(terminals=True)
        self.assertNotEqual(with_air, self.air.plan.grab().toImage())  # arrows were drawn


class StateListPage(AirTest):
    def setUp(self):
        super().setUp()
        self.tab("State list")
        self.page = self.air.list

    def test_rows_are_added_named_made_and_removed(self):
        self.click(self.page.buttons["state"], (10, 10))
        self.wait()
        new = self.session.project.state_list[-1]
        self.session.select("state row", new.id)
        self.wait()
        self.type_into("list_row_a_value", "30")
        self.choose("list_row_b", "wb")
        self.type_into("list_row_b_value", "22 C")
        self.wait()
        self.assertEqual(self.window.card.vm.headlines[0].figure, "30.0")
        field = self.type_into("list_row_b_value", "150")
        self.assertIn("between -60 and 90", field.fault)
        self.type_into("list_row_b_value", "35")
        self.wait()
        self.assertIn("wet bulb cannot be above", self.window.card.vm.line)
        table = self.page.table
        table.model_.setData(table.model_.index(table.row_of(new.id), 0), "Too wet")
        self.wait()
        self.assertEqual(self.session.project.state_list[-1].name, "Too wet")
        table.setFocus()
        QTest.keyClick(table, Qt.Key.Key_Delete)
        self.wait()
        self.assertNotIn(new.id, [r.id for r in self.session.project.state_list])

    def test_a_mix_takes_streams_with_shares_and_shows_on_the_chart(self):
        self.click(self.page.buttons["mix"], (10, 10))
        self.wait()
        mix = self.session.project.state_list[-1]
        self.session.select("state row", mix.id)
        self.wait()
        self.assertIn(mix.id, [s.node for s in self.air.chart.vm.rows])
        share = next(f for f in self.fields() if f.vm.edit.slot == "share")
        share.edit.setFocus()
        share.edit.selectAll()
        QTest.keyClicks(share.edit, "3")
        QTest.keyClick(share.edit, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(self.session.project.state_list[-1].sources[0].share, 3.0)
        self.choose("list_source_source", "row1")
        self.assertEqual(self.session.project.state_list[-1].sources[0].row, "row1")

    def test_it_is_copied_for_a_spreadsheet(self):
        self.page.table.setFocus()
        self.page.table.clearSelection()
        QTest.keyClick(self.page.table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        lines = QApplication.clipboard().text().splitlines()
        self.assertEqual(len(lines), 1 + len(self.session.project.state_list))
        self.assertEqual(lines[1].split("\t")[2], "31.8")
        self.assertIn("-", lines[5].split("\t")[9])  # the minus a spreadsheet reads

    def test_a_click_on_the_chart_picks_a_row(self):
        self.air.chart.picked.emit("row2")
        self.wait()
        self.assertEqual(self.session.selection.ids, ("row2",))
        self.assertEqual(self.window.card.vm.title, "Room wanted")


class YearPage(AirTest):
    def test_runs_through_the_hours_and_says_when_there_are_none(self):
        self.tab("Year")
        self.session.do(SetWeather(None))
        self.wait()
        self.assertIn("no year of hours", self.air.drawer.head.note)
        self.click(self.air.run_button, (10, 10))
        self.assertTrue(self.window.banner.isVisible())

    def test_the_examples_own_year(self):
        from garnetfin.ui.example import example_contents

        self.session.contents.update(example_contents(self.session.project))
        self.tab("Year")
        self.click(self.air.run_button, (10, 10))
        self.wait(lambda: self.air._year is not None and not self.air.run_button.busy)
        rows = self.air.months.model_.vm.rows
        self.assertEqual(rows[-1].cells[0].text, "Year")
        self.assertEqual(len(rows), 13)
        self.assertIn("beyond the design days", self.air.drawer.head.note)
        self.session.do(SetPattern(AHU, "vav_reheat"))
        self.wait()
        self.assertIn("earlier state", self.air.drawer.head.note)


class Terminals(AirTest):
    def setUp(self):
        super().setUp()
        self.tab("Terminals")
        self.page = self.air.terminals

    def settle(self) -> None:
        self.wait(lambda: self.page._placer.idle and self.session.settled)

    def test_grilles_are_placed_in_all_rooms_then_moved_with_the_mouse(self):
        self.click(self.page.air_strip, self.page.air_strip.box_of("return").center())
        self.click(self.page.place_button, (10, 10))
        self.settle()
        own = [t for t in self.session.project.terminals if t.air == "return"]
        self.assertGreater(len(own), 15)
        self.air.show_main("plan")
        self.wait()
        t = next(t for t in own if t.room_id == self.room("0.01"))
        p = next(p for p in self.session.project.duct_points if p.id == t.point_id)
        plan = self.air.plan
        start = plan.map.map(QPointF(p.x_m, p.y_m))
        self.drag(plan, start, plan.map.map(QPointF(p.x_m - 1.02, p.y_m - 0.48)))
        moved = next(q for q in self.session.project.duct_points if q.id == t.point_id)
        self.assertLess(moved.x_m, p.x_m - 0.7)
        self.assertEqual(self.session.selection.ids, (t.id,))
        plan.setFocus()
        QTest.keyClick(plan, Qt.Key.Key_Right)
        self.wait()
        nudged = next(q for q in self.session.project.duct_points if q.id == t.point_id)
        self.assertAlmostEqual(nudged.x_m, moved.x_m + 0.05)

    def test_the_card_of_a_terminal_pins_its_share_and_kind_and_delete_removes_it(self):
        own = [t for t in self.session.project.terminals if t.room_id == self.room("0.02")]
        self.session.select("terminal", own[0].id)
        self.wait()
        self.assertEqual(self.headline("Air"), "67")
        self.type_into("terminal_share", "50 %")
        self.wait()
        self.assertEqual(self.headline("Air"), "100")
        self.choose("terminal_kind_kind", "ceilr")
        self.assertEqual(self.session.results.terminals[own[0].id].kind, "ceilr")
        self.session.select("terminal", *(t.id for t in own))
        self.wait()
        self.choose("terminal_kind_kind", "ceil4")
        self.assertEqual(
            {t.kind for t in self.session.results.terminals.values() if t.room_id == self.room("0.02")}, {"ceil4"}
        )
        self.air.show_main("plan")
        self.wait()
        self.air.plan.setFocus()
        QTest.keyClick(self.air.plan, Qt.Key.Key_Delete)
        self.wait()
        self.assertFalse([t for t in self.session.project.terminals if t.room_id == self.room("0.02")])

    def test_an_option_is_taken_by_a_click_and_ducts_keep_theirs(self):
        self.session.select("room", self.room("0.01"))
        self.wait()
        self.page.table.selectRow(0)
        self.wait()
        self.assertTrue(self.window.banner.isVisible())  # they hang on ducts
        self.click(self.page.air_strip, self.page.air_strip.box_of("return").center())
        self.page.table.clearSelection()
        self.page.table.selectRow(1)
        self.wait()
        own = [t for t in self.session.project.terminals if t.air == "return"]
        self.assertEqual({t.model for t in own}, {self.page.table.model_.vm.rows[1].id})

    def test_copied_and_aligned(self):
        self.session.select("room", self.room("0.01"))
        self.click(self.page.air_strip, self.page.air_strip.box_of("return").center())
        self.wait()
        self.page.take("GF-egrid-500")
        self.wait()
        bare = [t for t in self.session.project.terminals if t.room_id == self.room("0.01") and t.air == "supply"]
        from garnetfin.project.edits.duct_runs import RemoveDucts

        self.session.do(RemoveDucts((), tuple(t.id for t in bare)))
        self.session.select("room", self.room("0.01"), self.room("0.02"))
        self.wait()
        self.click(self.page.copy_button, (10, 10))
        self.wait()
        self.assertEqual(
            len([t for t in self.session.project.terminals if t.room_id == self.room("0.02") and t.air == "return"]), 1
        )
        self.click(self.page.align_button, (10, 10))
        self.wait()
        self.assertEqual(self.session.undo_label, "Align to the ceiling grid")

    def test_an_own_catalogue_is_read_or_refused_with_the_row(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "own.csv"
            path.write_text("model,kind\nA,swirl\n")
            self.page.read_catalogue(path)
            self.assertTrue(self.window.banner.isVisible())
            from tests.exchange.test_terminal_catalogue import ROW, text

            path.write_text(text(ROW.format(q=50, p=5), ROW.format(q=100, p=20)))
            self.page.read_catalogue(path)
            self.wait()
        self.assertEqual(self.session.project.book.terminals[0].id, "A")
        self.assertIn("1 of your own", self.air.drawer.head.note)


class Why(AirTest):
    def address_of(self, table, row: int, column: int) -> tuple:
        at = table.viewport().mapToGlobal(table.visualRect(table.model_.index(row, column)).center())
        return why_under(table.viewport(), at)

    def test_train_tables_and_card_know_their_figures(self):
        at = self.part_at("cooling").toPoint()
        self.assertEqual(why_under(self.air.train, self.air.train.mapToGlobal(at))[:3], ("part", AHU, "cooling"))
        self.assertEqual(self.address_of(self.air.states, 2, 1)[0], "air state")
        self.tab("Rooms")
        self.assertEqual(self.address_of(self.air.table, 0, 2)[0], "need")
        self.tab("Air balance")
        self.assertEqual(self.address_of(self.air.balance, 0, 2)[0], "air balance")
        self.session.select("part", "cooling")
        self.wait()
        self.window.card.setFocus()
        QTest.keyClick(self.window.card, Qt.Key.Key_W)
        self.wait()
        self.assertTrue(self.window.side.asking)
        self.assertIn("ooling", self.window.side.why.vm.name)
        self.click(self.window.side.why.rows, QPoint(40, 8).toTuple())
        self.wait()
        self.assertEqual(len(self.window.side.why.trail), 2)
