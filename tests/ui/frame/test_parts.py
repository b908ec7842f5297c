"""The parts of the frame, each alone: what they show and what they ask for."""

import unittest

from PySide6.QtCore import QPoint, QPointF, QRect, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QSignalSpy, QTest
from PySide6.QtWidgets import QWidget

from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.edits.rooms import SetRoomUse, SetRoomValue
from garnetfin.project.values import Pinned, Rule
from garnetfin.ui.app import make_app
from garnetfin.ui.focus import ringed
from garnetfin.ui.frame.chain import ChainBand
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.frame.status import Banner, StatusLine
from garnetfin.ui.theme import map_colour, mix, pixmap, theme
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Ladder, Line, Lines, Rung
from garnetfin.ui.view_models.chain import chain
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM
from garnetfin.ui.widgets.card import Card, FindingBlock, LadderPart
from garnetfin.ui.widgets.controls import LinkText, Strip, Switch, TextButton, ToolButton, ToolRow, Words
from garnetfin.ui.widgets.field import ValueField
from garnetfin.ui.widgets.table import Table
from tests.example import station_results
from tests.ui.view_models.test_cards import state


class PartTest(unittest.TestCase):
    def setUp(self):
        self.app = make_app()
        theme.set_dark(False)

    def show(self, widget: QWidget, width: int = 300, height: int = 0) -> QWidget:
        widget.resize(width, height or max(widget.sizeHint().height(), 24))
        widget.show()
        self.addCleanup(widget.close)
        self.app.processEvents()
        return widget


class Controls(PartTest):
    def test_strip_says_only_what_changes(self):
        strip = self.show(Strip((("a", "Air"), ("b", "Velocity"), ("c", "Friction"))))
        chosen = QSignalSpy(strip.chosen)
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=strip.box_of("b").center().toPoint())
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=strip.box_of("b").center().toPoint())
        QTest.keyClick(strip, Qt.Key.Key_Right)
        QTest.keyClick(strip, Qt.Key.Key_Right)
        self.assertEqual([chosen.at(k)[0] for k in range(chosen.count())], ["b", "c", "a"])
        self.assertEqual(strip.now, "a")

    def test_strip_keeps_its_choice_when_labels_change(self):
        strip = Strip((("a", "A"), ("b", "B")))
        strip.set_now("b")
        strip.set_choices((("a", "A"), ("b", "Another name")))
        self.assertEqual(strip.now, "b")
        strip.set_choices((("x", "X"),))
        self.assertEqual(strip.now, "x")

    def test_buttons_act_by_mouse_and_key(self):
        for button in (
            ToolButton("select", "Select"),
            TextButton("Take it"),
            TextButton("Export", filled=True),
            LinkText("Show"),
            Switch("on"),
        ):
            self.show(button, 120)
            clicked = QSignalSpy(button.clicked)
            QTest.mouseClick(button, Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
            QTest.keyClick(button, Qt.Key.Key_Space)
            self.assertEqual(clicked.count(), 2, button)
            self.assertFalse(button.grab().isNull())

    def test_words_elide(self):
        words = self.show(Words("a very long remark that has no room at all"), 60)
        self.assertEqual(words.words[:6], "a very")
        self.assertFalse(words.grab().isNull())

    def test_tool_row_keeps_its_note_at_the_right(self):
        row = ToolRow()
        row.add(ToolButton("fan", "Fan"))
        strip = row.add_strip("Colour by", (("a", "A"), ("b", "B")), lambda key: None)
        row.note.set_words("note")
        self.show(row, 600)
        self.assertGreater(row.note.x(), strip.x())


class Fields(PartTest):
    VM = InputVM(edits.room_value(("r1",), "people"), "People", "4", "", "rule", "count")

    def field(self, **changes) -> ValueField:
        from dataclasses import replace

        field = self.show(ValueField(replace(self.VM, **changes), "SI"), 260)
        self.asked = QSignalSpy(field.intent)
        return field

    def type(self, field: ValueField, text: str) -> None:
        field.edit.setFocus()
        field.edit.selectAll()
        QTest.keyClick(field.edit, Qt.Key.Key_Delete)
        QTest.keyClicks(field.edit, text)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)

    def test_asks_once_for_the_edit(self):
        field = self.field()
        self.type(field, "9")
        self.assertEqual(
            [self.asked.at(k)[0] for k in range(self.asked.count())],
            [SetRoomValue(("r1",), "people", Pinned(value=9.0))],
        )

    def test_the_same_text_asks_for_nothing(self):
        field = self.field()
        self.type(field, "4")
        self.assertEqual(self.asked.count(), 0)

    def test_rendering_never_is_an_edit_and_never_takes_away_what_is_being_typed(self):
        field = self.field()
        field.edit.setFocus()
        QTest.keyClicks(field.edit, "12")
        field.render_vm(self.VM, "SI")
        self.assertIn("12", field.edit.text())
        self.assertEqual(self.asked.count(), 0)

    def test_a_fault_grows_the_row_and_escape_clears_it(self):
        field = self.field()
        height = field.height()
        self.type(field, "many")
        self.assertGreater(field.height(), height)
        self.assertEqual(field.edit.text(), "many")
        QTest.keyClick(field, Qt.Key.Key_Escape)
        self.assertEqual((field.edit.text(), field.fault, field.height()), ("4", "", height))

    def test_the_mark_unpins_what_is_not_by_rule(self):
        field = self.field()
        QTest.mouseClick(field, Qt.MouseButton.LeftButton, pos=QPoint(144, 10))
        self.assertEqual(self.asked.count(), 0)
        field = self.field(origin="imported")
        QTest.mouseClick(field, Qt.MouseButton.LeftButton, pos=QPoint(144, 10))
        self.assertEqual(self.asked.at(0)[0], SetRoomValue(("r1",), "people", Rule()))

    def test_choices(self):
        field = self.field(
            edit=edits.room_use(("r1",)),
            choices=(("office_single", "Office"), ("meeting", "Meeting")),
            chosen="office_single",
            quantity="",
        )
        field.edit.activated.emit(1)
        self.assertEqual(self.asked.at(0)[0], SetRoomUse(("r1",), "meeting"))

    def test_a_wheel_over_a_list_changes_nothing(self):
        field = self.field(
            edit=edits.room_use(("r1",)),
            choices=(("office_single", "Office"), ("meeting", "Meeting")),
            chosen="office_single",
            quantity="",
        )
        wheel = QWheelEvent(
            QPointF(10, 8),
            QPointF(10, 8),
            QPoint(0, -120),
            QPoint(0, -120),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        self.app.sendEvent(field.edit, wheel)
        self.assertEqual((field.edit.currentIndex(), self.asked.count()), (0, 0))

    def test_every_mark_paints(self):
        pictures = {
            origin: self.field(origin=origin).grab().toImage() for origin in ("rule", "pinned", "imported", "plain")
        }
        for a in pictures:
            for b in pictures:
                if a < b:
                    self.assertNotEqual(pictures[a], pictures[b], (a, b))


class Cards(PartTest):
    def card(self, *sections, title: str = "Room", kind: str = "Room") -> CardVM:
        return CardVM(kind, title, "line", (Headline("Cooling", "3.6", "kW", "at noon"),), tuple(sections))

    def test_an_equal_card_is_not_touched(self):
        card = self.show(Card(), 296, 600)
        vm = self.card(Inputs("Inside", "", (Fields.VM,)))
        card.render_vm(vm, "SI")
        part = card.parts[0]
        card.render_vm(self.card(Inputs("Inside", "", (Fields.VM,))), "SI")
        self.assertIs(card.parts[0], part)

    def test_fields_of_one_thing_are_kept_and_of_another_are_made_anew(self):
        from dataclasses import replace

        card = self.show(Card(), 296, 600)
        card.render_vm(self.card(Inputs("Inside", "", (Fields.VM,))), "SI")
        field = card.field("room_value_people")
        card.render_vm(self.card(Inputs("Inside", "", (replace(Fields.VM, text="7"),))), "SI")
        self.assertIs(card.field("room_value_people"), field)
        self.assertEqual(field.edit.text(), "7")
        card.render_vm(
            self.card(
                Inputs("Inside", "", (replace(Fields.VM, edit=edits.room_value(("r2",), "people")),)), kind="Room 2"
            ),
            "SI",
        )
        self.assertIsNot(card.field("room_value_people"), field)

    def test_a_line_with_a_target_selects_it(self):
        card = self.show(Card(), 296, 600)
        card.render_vm(
            self.card(
                Lines(
                    "Faces", "", (Line("wall", "3", "m²"), Line("0.07 Boat store", "unheated", target=("room", "r7")))
                )
            ),
            "SI",
        )
        picked = QSignalSpy(card.picked)
        QTest.mouseClick(card.parts[0], Qt.MouseButton.LeftButton, pos=QPoint(40, int(card.parts[0].HEAD + 18.5 * 1.5)))
        self.assertEqual(picked.at(0), ["room", ("r7",)])
        QTest.mouseClick(card.parts[0], Qt.MouseButton.LeftButton, pos=QPoint(40, int(card.parts[0].HEAD + 18.5 * 0.5)))
        self.assertEqual(picked.count(), 1)

    def test_ladder_by_mouse_and_keyboard(self):
        rungs = (
            Rung("ø160", "5.0", "1.20", 1.0, "–", "3", ("round", 0.16, 0.16), over=True),
            Rung("ø200", "3.2", "0.60", 0.5, "–", "4", ("round", 0.2, 0.2), by_rule=True),
            Rung("ø250", "2.0", "0.20", 0.2, "–", "5", ("round", 0.25, 0.25), reason="too deep by 50 mm"),
        )
        ladder = self.show(LadderPart(), 260, 200)
        ladder.render_vm(Ladder("Size ladder", "", ("s1",), 0.8, ("mm", "m/s", "Pa/m", "kg/m"), rungs, ""), "SI")
        asked = QSignalSpy(ladder.intent)

        def click(i: int, keys=Qt.KeyboardModifier.NoModifier) -> None:
            QTest.mouseClick(
                ladder, Qt.MouseButton.LeftButton, keys, QPoint(40, int(ladder.TOP + (i + 0.4) * ladder.STEP))
            )

        click(0)
        self.assertEqual(asked.at(0)[0], SetSize(("s1",), PinnedSize(shape="round", width_m=0.16, height_m=0.16)))
        click(2)  # does not fit: no size to take
        self.assertEqual(asked.count(), 1)
        click(1, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(asked.at(1)[0], SetSize(("s1",), Rule()))
        QTest.keyClick(ladder, Qt.Key.Key_Down)
        QTest.keyClick(ladder, Qt.Key.Key_Return)
        self.assertEqual(asked.at(2)[0].size, PinnedSize(shape="round", width_m=0.2, height_m=0.2))

    def test_a_finding_offers_its_mends_and_its_place(self):
        finding = next(f for f in station_results().findings if f.mends)
        block = self.show(FindingBlock(finding), 260)
        asked = QSignalSpy(block.intent)
        QTest.mouseClick(block.mends[0], Qt.MouseButton.LeftButton, pos=QPoint(6, 6))
        self.assertEqual(asked.at(0)[0], finding.mends[0].command)
        self.assertIn(finding.title, block.accessibleName())

    def test_every_section_of_every_view_paints(self):
        from garnetfin.ui.view_models.cards import card as make
        from tests.example import station

        card = self.show(Card(), 296, 900)
        room, segment = station().rooms[0].id, station().segments[0].id
        for link, kind, ids in (
            ("Building", "room", (room,)),
            ("Loads", "room", (room,)),
            ("Air", "", ()),
            ("Ducts", "segment", (segment,)),
            ("Balance", "terminal", (station().terminals[0].id,)),
            ("Fan", "", ()),
            ("Climate", "", ()),
            ("Documents", "", ()),
        ):
            card.render_vm(make(state(link, kind, *ids)), "SI")
            self.app.processEvents()
            self.assertFalse(card.grab().isNull())
            self.assertTrue(card.parts)


class ChainBands(PartTest):
    def test_links_fill_the_width_and_answer_clicks(self):
        band = self.show(ChainBand(), 1280)
        band.render_vm(chain(state("Loads"), 0))
        chosen, system = QSignalSpy(band.chosen), QSignalSpy(band.system_asked)
        QTest.mouseClick(band, Qt.MouseButton.LeftButton, pos=band.box_of(6).center().toPoint())
        QTest.mouseClick(band, Qt.MouseButton.LeftButton, pos=QPoint(40, 30))
        self.assertEqual((chosen.at(0)[0], system.count()), ("Fan", 1))
        QTest.keyClick(band, Qt.Key.Key_Left)
        self.assertEqual(chosen.at(1)[0], "Building")

    def test_findings_and_gaps_look_different(self):
        band = self.show(ChainBand(), 1280)
        band.render_vm(chain(state("Loads"), 0))
        with_findings = band.grab(QRect(150, 0, 1130, 64)).toImage()
        from garnetfin.project.tree import Project

        band.render_vm(chain(state("Loads", project=Project()), 0))
        self.assertNotEqual(with_findings, band.grab(QRect(150, 0, 1130, 64)).toImage())

    def test_a_narrow_window_still_holds_all_links(self):
        band = self.show(ChainBand(), 1024)
        band.render_vm(chain(state("Loads"), 0))
        self.assertLessEqual(band.box_of(7).right(), 1025)


class Tables(PartTest):
    def table(self) -> Table:
        table = self.show(Table(), 500, 200)
        self.vm = TableVM(
            (Column("No.", width=60, left=True), Column("People", "", 80), Column("Room", left=True, stretch=True)),
            tuple(
                Row(
                    "room",
                    f"r{k}",
                    (
                        Cell(str(k)),
                        Cell(str(k * 2), "pinned", quantity="count", edit=edits.room_value((f"r{k}",), "people")),
                        Cell(f"Room {k}"),
                    ),
                )
                for k in range(5)
            ),
        )
        table.render_vm(self.vm, (), "SI")
        return table

    def test_columns_share_the_width(self):
        table = self.table()
        self.assertEqual(sum(table.columnWidth(c) for c in range(3)), table.viewport().width())

    def test_a_click_picks_and_rendering_does_not(self):
        table = self.table()
        picked = QSignalSpy(table.picked)
        QTest.mouseClick(
            table.viewport(), Qt.MouseButton.LeftButton, pos=table.visualRect(table.model_.index(2, 0)).center()
        )
        self.assertEqual(picked.at(0), ["room", ("r2",)])
        table.render_vm(self.vm, ("r3",), "SI")
        self.assertEqual(picked.count(), 1)
        self.assertEqual(table.chosen, frozenset({"r3"}))

    def test_typing_into_a_cell_asks_for_the_edit(self):
        table = self.table()
        asked, refused = QSignalSpy(table.intent), QSignalSpy(table.refused)
        index = table.model_.index(1, 1)
        self.assertTrue(table.model_.flags(index) & Qt.ItemFlag.ItemIsEditable)
        self.assertFalse(table.model_.flags(table.model_.index(1, 2)) & Qt.ItemFlag.ItemIsEditable)
        table.setCurrentIndex(index)
        table.edit(index)
        editor = table.viewport().findChild(QWidget)
        QTest.keyClicks(editor, "11")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.app.processEvents()
        self.assertEqual(asked.at(0)[0], SetRoomValue(("r1",), "people", Pinned(value=11.0)))
        self.assertFalse(table.model_.setData(index, "lots"))
        self.assertIn("not a number", refused.at(0)[0])
        table.model_.setData(index, "")
        self.assertEqual(asked.at(1)[0], SetRoomValue(("r1",), "people", Rule()))

    def test_only_changed_rows_are_announced(self):
        from dataclasses import replace

        table = self.table()
        changed = QSignalSpy(table.model_.dataChanged)
        table.render_vm(self.vm, (), "SI")
        self.assertEqual(changed.count(), 0)
        rows = list(self.vm.rows)
        rows[3] = replace(rows[3], cells=(*rows[3].cells[:2], Cell("Hall")))
        table.render_vm(replace(self.vm, rows=tuple(rows)), (), "SI")
        self.assertEqual((changed.count(), changed.at(0)[0].row()), (1, 3))

    def test_text_for_a_spreadsheet(self):
        table = self.table()
        self.assertEqual(table.as_text().splitlines()[:2], ["No.\tPeople\tRoom", "0\t0\tRoom 0"])
        table.selectRow(4)
        self.assertEqual(len(table.as_text().splitlines()), 2)


class Drawers(PartTest):
    def test_pages_and_grip(self):
        pages = (("One", QWidget()), ("Two", QWidget()))
        drawer = Drawer(pages)
        both = self.show(MainAndDrawer(QWidget(), drawer, 200), 600, 600)
        self.assertEqual(both.sizes()[1], 200)
        chosen = QSignalSpy(drawer.chosen)
        QTest.mouseClick(drawer.head, Qt.MouseButton.LeftButton, pos=drawer.head.box_of(1).center().toPoint())
        self.assertEqual((chosen.at(0)[0], drawer.page), (1, pages[1][1]))
        QTest.keyClick(drawer.head, Qt.Key.Key_Right)
        self.assertIs(drawer.page, pages[0][1])
        QTest.mouseDClick(both.handle(1), Qt.MouseButton.LeftButton, pos=QPoint(300, 3))
        self.assertEqual(both.sizes()[1], 0)
        QTest.mouseDClick(both.handle(1), Qt.MouseButton.LeftButton, pos=QPoint(300, 3))
        self.assertGreater(both.sizes()[1], 100)


class Status(PartTest):
    def test_says_what_is_going_on(self):
        line = self.show(StatusLine(), 1000)
        line.render_line((("G", "Ground"),), "G", "SI", 0.034, False, "saved 12:41", 3, False)
        self.assertEqual(
            [x.text() for x in (line.level, line.units, line.time, line.saved, line.findings)],
            ["Ground level", "SI", "34 ms", "saved 12:41", "findings 3"],
        )
        line.render_line((), "", "IP", None, True, "not saved", 0, False)
        self.assertEqual(line.time.text(), "computing")
        toggled = QSignalSpy(line.units_toggled)
        QTest.mouseClick(line.units, Qt.MouseButton.LeftButton, pos=QPoint(20, 10))
        self.assertEqual(toggled.count(), 1)

    def test_banner_acts_and_closes(self):
        banner, done = self.show(Banner(), 900), []
        banner.say("There are unsaved edits.", "watch", ("Save", lambda: done.append(1)))
        self.assertTrue(banner.isVisible())
        QTest.mouseClick(banner._acts[0], Qt.MouseButton.LeftButton, pos=QPoint(5, 8))
        self.assertEqual((done, banner.isVisible()), ([1], False))
        banner.say("No acts")
        self.assertFalse(banner._acts[0].isVisible())


class Looks(PartTest):
    def test_icons_take_the_colour_asked_for(self):
        red, blue = (pixmap("fan", theme.colour(c), 18).toImage() for c in ("bad", "supply"))
        self.assertNotEqual(red, blue)

    def test_colours_mix_and_maps_clamp(self):
        white, ink = theme.colour("sheet"), theme.colour("ink")
        self.assertEqual(mix(white, ink, 0.0).name(), white.name())
        self.assertEqual(mix(white, ink, 1.0).name(), ink.name())
        self.assertEqual(map_colour("amount", -1), map_colour("amount", 0))
        self.assertEqual(map_colour("amount", 9), map_colour("amount", 1))

    def test_rings_show_only_for_the_keyboard(self):
        strip = self.show(Strip((("a", "A"), ("b", "B"))))
        strip.setFocus()
        QTest.keyClick(strip, Qt.Key.Key_Right)
        self.assertEqual(ringed(strip), strip.hasFocus())
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPointF(5, 10).toPoint())
        self.assertFalse(ringed(strip))
