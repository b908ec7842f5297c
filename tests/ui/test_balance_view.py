"""Balance in the window: what-ifs by mouse, the stair, dampers by hand, the pages of its drawer."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned, Rule
from tests.ui.driver import WindowTest

AHU = "ahu-north"


class Balance(WindowTest):
    first = "Balance"

    def setUp(self):
        super().setUp()
        self.balance = self.view("Balance")

    def row(self, table, row_id: str):
        vm = table.model_.vm
        return next(r for r in vm.rows if r.id == row_id)

    def dot(self, terminal_id: str) -> QPointF:
        stair = self.balance.stair
        _, x, y = stair._scales()
        a, b = next(q for q in stair.vm.paths if q.terminal_id == terminal_id).corners[-1]
        return QPointF(x(a), y(b))

    def switch(self, name: str) -> None:
        button = self.balance.switches[name]
        self.click(button, (12, button.height() // 2))
        self.wait()

    # -- what-ifs ------------------------------------------------------------------------------------------------
    def test_switches_combine_and_change_nothing_in_the_project(self):
        project, index = self.session.project, self.session.results.ducts[AHU].index
        self.assertEqual(self.row(self.balance.table, index.terminal_id).cells[3].text, "0")
        self.switch("dampers_open")
        alone = self.row(self.balance.table, index.terminal_id).cells[3]
        self.assertLess(alone.swing, -0.2)
        self.assertTrue(self.balance.stair.vm.solved)
        self.switch("leaking")
        self.assertEqual(self.session.show.what, WhatIf(dampers_open=True, leaking=True))
        self.assertIn("dampers open, duct leakage", self.balance._head.note)
        self.assertIs(self.session.project, project)
        self.click(self.balance.clear_button, (10, 8))
        self.wait()
        self.assertFalse(self.session.show.what.any)
        self.assertFalse(self.balance.switches["dampers_open"].isChecked())
        self.assertFalse(self.balance.stair.vm.solved)

    def test_the_strip_of_the_filter_and_typed_figures(self):
        strip = self.balance.filter_strip
        self.click(strip, strip.box_of("final").center())
        self.wait()
        self.assertEqual(self.session.show.what.filter, "final")
        self.balance.speed_field.setFocus()
        QTest.keyClicks(self.balance.speed_field, "90")
        QTest.keyClick(self.balance.speed_field, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(self.session.show.what.speed, 0.9)
        self.assertLess(self.session.state.flows.fan_m3s, 2.75)
        QTest.keyClicks(self.balance.air_field, "50 degF")
        QTest.keyClick(self.balance.air_field, Qt.Key.Key_Return)
        self.wait()
        self.assertAlmostEqual(self.session.show.what.air_c, 10.0)

    def test_figures_that_cannot_be_are_refused_and_the_last_stays(self):
        self.balance.speed_field.setText("900")
        self.balance.speed_field.editingFinished.emit()
        self.assertEqual(self.session.show.what.speed, 1.0)
        self.assertIn("30%", self.window.banner.sentence.words)
        self.balance.air_field.setText("hot")
        self.balance.air_field.editingFinished.emit()
        self.assertIsNone(self.session.show.what.air_c)

    def test_a_duct_is_shut_and_a_door_closed_from_what_is_selected(self):
        t = self.session.results.ducts[AHU].terminals[0]
        self.assertFalse(self.balance.shut_button.isEnabled())
        self.session.select("terminal", t.terminal_id)
        self.wait()
        self.click(self.balance.shut_button, (10, 8))
        self.click(self.balance.door_button, (10, 8))
        self.wait()
        self.assertEqual((self.session.show.what.shut, self.session.show.what.doors), ((t.segment_id,), (t.room_id,)))
        self.assertEqual(self.balance.shut_button.text(), "Open duct")
        self.click(self.balance.shut_button, (10, 8))
        self.wait()
        self.assertEqual(self.session.show.what.shut, ())

    def test_boxes_are_for_variable_flow(self):
        self.assertFalse(self.balance.switches["turned_down"].isEnabled())
        self.assertIn("no boxes", self.balance.switches["turned_down"].toolTip())

    def test_rooms_say_what_a_shortage_means(self):
        self.session.set_show(what=WhatIf(speed=0.8))
        self.wait()
        rows = self.balance.rooms.model_.vm.rows
        self.assertTrue(any(r.cells[5].tone == "watch" and r.cells[6].text != "–" for r in rows))
        self.assertTrue(any(r.cells[8].text == "short" for r in rows))

    # -- the stair -----------------------------------------------------------------------------------------------
    def test_a_path_is_picked_by_its_dot_and_by_its_line(self):
        stair = self.balance.stair
        t = max(self.session.results.ducts[AHU].terminals, key=lambda t: t.distance_m)
        self.click(stair, self.dot(t.terminal_id))
        self.wait()
        self.assertEqual(self.session.selection.of("terminal"), (t.terminal_id,))
        _, x, y = stair._scales()
        index = next(q for q in stair.vm.paths if q.terminal_id == stair.vm.index)
        (a, b), (c, d) = index.corners[1:3]
        self.click(stair, QPointF((x(a) + x(c)) / 2, (y(b) + y(d)) / 2))
        self.wait()
        self.assertEqual(self.session.selection.kind, "terminal")

    def test_a_dot_that_is_dragged_pins_its_damper_in_one_step(self):
        t = max(self.session.results.ducts[AHU].terminals, key=lambda t: t.surplus_pa)
        start = self.dot(t.terminal_id).toPoint()
        y = self.balance.stair._scales()[2]
        end = QPointF(start.x(), y(10.0)).toPoint()
        QTest.mousePress(self.balance.stair, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        for k in (0.4, 0.8, 1.0):
            from PySide6.QtCore import QEvent
            from PySide6.QtGui import QMouseEvent

            at = QPointF(start.x(), start.y() + k * (end.y() - start.y()))
            self.app.sendEvent(
                self.balance.stair,
                QMouseEvent(
                    QEvent.Type.MouseMove,
                    at,
                    self.balance.stair.mapToGlobal(at),
                    Qt.MouseButton.NoButton,
                    Qt.MouseButton.LeftButton,
                    Qt.KeyboardModifier.NoModifier,
                ),
            )
        QTest.mouseRelease(self.balance.stair, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end)
        self.wait()
        self.assertIsInstance(find(self.session.project.segments, t.segment_id).damper_deg, Pinned)
        # A pixel of the stair is about half a pascal.
        self.assertAlmostEqual(
            self.session.results.ducts[AHU].segments[t.segment_id].damper.surplus_pa, 10.0, delta=1.5
        )
        self.session.undo()
        self.wait()
        self.assertEqual(find(self.session.project.segments, t.segment_id).damper_deg, Rule())

    def test_a_blade_is_typed_into_the_table(self):
        t = self.session.results.ducts[AHU].terminals[2]
        table = self.balance.table
        at = [r.id for r in table.model_.vm.rows].index(t.terminal_id)
        table.model_.setData(table.model_.index(at, 5), "33")
        self.wait()
        self.assertEqual(find(self.session.project.segments, t.segment_id).damper_deg, Pinned(value=33.0))
        self.assertEqual(self.row(table, t.terminal_id).cells[5].origin, "pinned")

    def test_pointing_at_a_path_lights_its_row_and_the_other_way_round(self):
        t = max(self.session.results.ducts[AHU].terminals, key=lambda t: t.distance_m)
        QTest.mouseMove(self.balance.stair, self.dot(t.terminal_id).toPoint())
        self.balance.stair.light(self.balance.stair.terminal_at(self.dot(t.terminal_id)))
        self.assertEqual(self.balance.table.lit, t.terminal_id)
        self.assertIn(t.terminal_id, (self.balance._lit,))
        other = self.balance.table.model_.vm.rows[4].id
        self.balance.table.hovered.emit(other)
        self.assertEqual(self.balance.stair._hover, other)
        self.assertEqual(self.balance.table.lit, other)

    def test_the_plan_follows_the_path_that_is_chosen(self):
        t = next(
            t
            for t in self.session.results.ducts[AHU].terminals
            if find(self.session.project.rooms, t.room_id).level_id != self.session.show.level_id
        )
        self.session.select("terminal", t.terminal_id)
        self.open_page("Plan")
        self.assertEqual(self.balance.plan.level_id, find(self.session.project.rooms, t.room_id).level_id)
        self.assertIn(t.label, self.balance.drawer.head.note)

    # -- pages ---------------------------------------------------------------------------------------------------
    def open_page(self, name: str) -> None:
        head = self.balance.drawer.head
        self.click(head, head.box_of(head.tabs.index(name)).center())
        self.wait(lambda: self.session.settled and not self.balance.working)
        self.wait()

    def test_the_run_by_parts_goes_from_intake_to_room(self):
        t = self.session.results.ducts[AHU].terminals[5]
        self.session.select("terminal", t.terminal_id)
        self.open_page("Run by parts")
        rows = self.balance.run.model_.vm.rows
        self.assertEqual((rows[0].cells[1].text, rows[-1].cells[1].text), ("Outdoor louvre", "Room"))
        self.assertIn(f"Terminal {t.label}", [r.cells[1].text for r in rows])

    def test_commissioning_is_worked_out_in_the_background(self):
        self.open_page("Commissioning")
        rows = self.balance.sheet.model_.vm.rows
        self.assertEqual(len(rows), len(self.session.results.ducts[AHU].terminals))
        self.assertEqual(rows[0].cells[8].text, "stays open")
        self.assertIn("solves", self.balance.drawer.head.note)

    def test_smaller_sizes_are_taken_as_one_step(self):
        self.open_page("Balance by resizing")
        self.assertEqual(len(self.balance.ways.model_.vm.rows), 2)
        before = self.session.project
        self.click(self.balance.take_sizes, (20, 8))
        self.wait(lambda: self.session.settled and not self.balance.working)
        self.assertGreater(sum(s.pinned for s in self.session.results.ducts[AHU].segments.values()), 10)
        self.session.undo()
        self.wait()
        self.assertIs(self.session.project, before)

    def test_a_change_that_helps_is_made_by_a_double_click(self):
        self.session.set_show(what=WhatIf(dampers_open=True))
        self.open_page("Most effective changes")
        table = self.balance.changes
        row = next(i for i, r in enumerate(table.model_.vm.rows) if r.cells[0].text.startswith("Duct"))
        duct = table.model_.vm.rows[row].cells[0].text.split()[1].rstrip(":")
        table.scrollTo(table.model_.index(row, 0))
        table.doubleClicked.emit(table.model_.index(row, 0))
        self.wait(lambda: self.session.settled and not self.balance.working)
        self.assertTrue(self.session.results.ducts[AHU].segments[duct].pinned)

    def test_noise_lists_the_index_path_first(self):
        self.open_page("Noise")
        rows = self.balance.noise.model_.vm.rows
        self.assertEqual(rows[0].id, self.session.results.noise[AHU].index)
        self.session.select("terminal", rows[3].id)
        self.wait()
        self.assertIn("Damper pressure at the noise limit", str(self.window.card.vm))


class NothingToBalance(WindowTest):
    open_example = False

    def test_a_new_project_says_what_is_missing(self):
        self.window.new()
        self.wait()
        self.session.set_show(link="Balance")
        self.wait()
        view = self.window.view("Balance")
        self.assertIs(view._stack.currentWidget(), view._nothing)
        self.assertFalse(view.shut_button.isEnabled())
