"""Getting a building in through the window: lists, foreign files, underlays, tools, groups, levels, faces in space."""

import tempfile
from pathlib import Path

from msgspec import structs
from numpy.testing import assert_allclose
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from garnetfin.core.outlines import area_of
from garnetfin.exchange.gbxml_write import write_gbxml
from garnetfin.project.edits.groups import AddLevel
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned
from garnetfin.ui.plan.underlay import lines_near, segments
from garnetfin.ui.state import Selection
from tests.exchange.samples import add_beam, tower, write_dxf, write_ifc
from tests.exchange.test_gbxml import Ordinary
from tests.exchange.test_room_list import LIST
from tests.ui.driver import WindowTest

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class Building(WindowTest):
    open_example = False

    def setUp(self):
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.window.new()
        self.wait()
        self.view_ = self.window.view("Building")
        self.plan = self.view_.plan

    @property
    def project(self):
        return self.session.project

    def do(self, name: str):
        """A command of the menus."""
        self.window.actions_[name].trigger()
        self.app.processEvents()

    def at(self, x: float, y: float) -> QPoint:
        return self.plan.map.map(QPointF(x, y)).toPoint()

    def click_at(self, x: float, y: float, keys=NONE):
        QTest.mouseMove(self.plan, self.at(x, y))
        QTest.mouseClick(self.plan, LEFT, keys, self.at(x, y))
        self.wait()

    def drag(self, start, *rest, keys=NONE):
        QTest.mousePress(self.plan, LEFT, keys, self.at(*start))
        for p in rest:
            QTest.mouseMove(self.plan, self.at(*p))
        QTest.mouseRelease(self.plan, LEFT, keys, self.at(*rest[-1]))
        self.wait()

    def draw(self, x0, y0, x1, y1):
        self.click(self.view_.room_tool, (14, 14))
        self.click_at(x0, y0)
        self.click_at(x1, y1)
        self.click(self.view_.select_tool, (14, 14))

    def answer(self, **values):
        """Type into the line that asks and take it."""
        ask = self.view_.ask
        self.assertTrue(ask.isVisible(), "nothing is asked")
        for key, text in values.items():
            field = ask.fields[key]
            if isinstance(field, QLineEdit):
                field.setText(str(text))
            else:
                field.setCurrentIndex(field.findData(text))
        self.click(ask.button, (10, 10))
        self.wait()

    def insert(self, path: Path):
        self.view_.insert(path)
        self.wait(lambda: not self.view_.reader.busy)
        self.wait()


class Lists(Building):
    def page(self):
        return self.view_.list_page

    def test_a_pasted_list_becomes_rooms_and_wrong_rows_are_told(self):
        self.do("list")
        QApplication.clipboard().setText(LIST)
        self.page().text.paste()
        self.wait(lambda: not self.page()._later.isActive())
        self.assertIn("3 rooms understood, 4 lines left out", self.page().line.words)
        self.assertEqual(self.page().take_button.text(), "Apply 3 rooms")
        self.click(self.page().take_button, (10, 10))
        self.wait()
        self.assertEqual([r.number for r in self.project.rooms], ["1.01", "1.02", "0.05"])
        self.assertFalse(self.link("Loads").missing)
        self.assertTrue(self.plan.isVisible())
        self.session.undo()
        self.wait()
        self.assertEqual(self.project.rooms, ())

    def test_a_column_is_given_another_meaning(self):
        self.do("list")
        self.page().text.setPlainText("No;Footprint;Room\n1;20;Office")
        self.wait(lambda: not self.page()._later.isActive())
        self.assertIn("No column for area", self.page().line.words)
        box = self.page().boxes[1]
        box.setCurrentIndex(box.findData("area"))
        box.activated.emit(box.currentIndex())
        self.assertEqual(self.page().take_button.text(), "Apply 1 room")

    def test_areas_without_a_unit_that_look_like_feet_are_asked_about(self):
        self.do("list")
        self.page().text.setPlainText("No;Name;Area;Carpet\n1;WC;70;x\n2;Toilet;65;x\n3;Store;120;x\nSum;;255;")
        self.wait(lambda: not self.page()._later.isActive())
        self.assertTrue(self.page().question.isVisible())
        self.assertIn("255.0 m² in all, or 23.7 m²", self.page().question.words)
        self.assertFalse(self.page().take_button.isEnabled())
        for words in ("3 rooms understood", "1 sum or heading passed over", "Not used: Carpet"):
            self.assertIn(words, self.page().line.words)
        self.click(self.page().feet, (10, 10))
        self.assertFalse(self.page().question.isVisible())
        self.click(self.page().take_button, (10, 10))
        self.wait()
        self.assertAlmostEqual(self.project.rooms[0].area_m2.value, 70 * 0.3048**2)

    def test_rooms_that_are_there_are_compared_before_they_change(self):
        self.do("list")
        self.page().text.setPlainText("No;Name;Area\n1;Office;20")
        self.wait(lambda: not self.page()._later.isActive())
        self.click(self.page().take_button, (10, 10))
        self.wait()
        self.view_.start_list("No;Name;Area;People\n1;Office;20;3\n2;Store;10;", "programme")
        self.assertEqual(self.page().take_button.text(), "Compare 2 rooms")
        self.click(self.page().take_button, (10, 10))
        page = self.view_.draft_page
        self.assertTrue(page.isVisible())
        self.assertEqual({d.number: d.kind for d in page.differences}, {"1": "changed", "2": "new"})
        self.click(page.take_button, (10, 10))
        self.wait()
        self.assertEqual((self.project.rooms[0].number, self.project.rooms[0].people.value), ("1", 3.0))
        self.assertEqual(len(self.project.rooms), 2)

    def test_another_sheet_of_a_workbook(self):
        import openpyxl

        book = openpyxl.Workbook()
        for title, rows in (
            ("Cover", [("Programme",)]),
            ("A", [("No", "Area"), (1, 20)]),
            ("B", [("No", "Area"), (7, 9)]),
        ):
            sheet = book.create_sheet(title)
            for row in rows:
                sheet.append(row)
        path = self.folder / "sheets.xlsx"
        book.save(path)
        self.insert(path)
        page = self.page()
        self.assertEqual([page.sheet.itemText(i) for i in range(3)], ["sheet Cover", "sheet A", "sheet B"])
        self.assertEqual((page.sheet.currentIndex(), page.understood.good[0].room.number), (1, "1"))
        page.sheet.setCurrentIndex(2)
        page.sheet.activated.emit(2)
        self.assertEqual(page.understood.good[0].room.number, "7")

    def test_a_conductivity_that_is_missing_is_asked_for_before_rooms_are_taken(self):
        path = self.folder / "house.xml"
        path.write_bytes(Ordinary().house(name="Type 7b"))
        self.insert(path)
        page = self.view_.draft_page
        field = page.answers["m2"]
        self.assertEqual((field.text(), page.take_button.isEnabled()), ("", False))
        field.setText("much")
        self.assertFalse(page.take_button.isEnabled())
        field.setText("0.04")
        self.assertTrue(page.take_button.isEnabled())
        self.click(page.take_button, (10, 10))
        self.wait()
        layers = next(b for b in self.project.build_ups if b.name == "Wall").layers
        self.assertEqual([x.conductivity_w_mk for x in layers], [0.04, 0.8])

    def test_ctrl_v_in_the_room_table_opens_the_list_and_escape_leaves_it(self):
        QApplication.clipboard().setText("No\tArea\n1\t20")
        self.view_.table.setFocus()
        QTest.keyClick(self.view_.table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.page().isVisible())
        QTest.keyClick(self.page(), Qt.Key.Key_Escape)
        self.assertTrue(self.plan.isVisible())
        self.assertEqual(self.project.rooms, ())

    def test_a_list_file_is_read_and_a_bad_one_is_told(self):
        path = self.folder / "rooms.csv"
        path.write_text(LIST, encoding="utf-8")
        self.insert(path)
        self.assertEqual(self.page().take_button.text(), "Apply 3 rooms")
        bad = self.folder / "rooms.xlsx"
        bad.write_bytes(b"PK\x03\x04nothing")
        self.insert(bad)
        self.assertIn("broken or not an XLSX", self.window.banner.sentence.words)


class Files(Building):
    def setUp(self):
        super().setUp()
        self.first = tower(2, 2)
        self.path = self.folder / "house.xml"
        self.path.write_bytes(write_gbxml(self.first))

    def test_a_building_is_shown_chosen_from_and_taken(self):
        self.insert(self.path)
        page = self.view_.draft_page
        self.assertTrue(page.isVisible())
        self.assertIn("8 rooms: 8 new", page.line.words)
        self.assertTrue(any(r.cells[0].text == "found" for r in page.notes.model_.vm.rows))
        row = page.rooms.visualRect(page.rooms.model_.index(0, 0)).center()
        QTest.mouseClick(page.rooms.viewport(), LEFT, NONE, row)
        self.assertEqual(page.take_button.text(), "Apply 7 rooms")
        QTest.keyClick(page.rooms, Qt.Key.Key_Space)
        self.assertEqual(page.take_button.text(), "Apply 8 rooms")
        QTest.keyClick(page.rooms, Qt.Key.Key_Space)
        self.click(page.take_button, (10, 10))
        self.wait()
        self.assertEqual(len(self.project.rooms), 7)
        self.assertEqual(self.session.selection.kind, "room")
        self.assertFalse(self.link("Loads").missing)

    def test_what_others_draw_is_offered_by_class_taken_and_hidden_at_will(self):
        path = add_beam(write_ifc(tower(1, 2, 1), self.folder / "house.ifc", millimetres=False))
        self.insert(path)
        page = self.view_.draft_page
        box = page.others["beam"]
        self.assertEqual((box.text(), page.take_button.text()), ("1 × beam", "Apply 2 rooms, 1 part of others"))
        box.setChecked(False)
        self.assertEqual(page.take_button.text(), "Apply 2 rooms")
        box.setChecked(True)
        self.click(page.take_button, (10, 10))
        self.wait()
        (beam,) = self.project.obstacles
        self.assertEqual((beam.kind, beam.source), ("beam", "house.ifc"))
        ducts = self.view("Ducts")
        self.assertTrue(ducts.others.isVisible())
        middle = QPointF(2.0, 2.0)
        self.assertEqual(ducts.plan._in_ceiling(middle, 0.1), ("obstacle", beam.id))
        ducts.others.click()
        self.wait()
        self.assertEqual(ducts.plan._in_ceiling(middle, 0.1), ("", ""))
        ducts.others.click()
        self.session.select("obstacle", beam.id)
        self.wait()
        self.assertIn("from house.ifc", self.window.card.vm.line)

    def test_another_project_puts_the_page_away(self):
        self.insert(self.path)
        self.assertTrue(self.view_.draft_page.isVisible())
        self.window.open_example()
        self.wait()
        self.window._go_to("room", (self.project.rooms[0].id,))
        self.wait()
        self.assertTrue(self.plan.isVisible())

    def test_a_changed_file_shows_differences_and_keeps_what_is_pinned(self):
        self.insert(self.path)
        self.click(self.view_.draft_page.take_button, (10, 10))
        self.wait()
        room = self.project.rooms[0]
        self.session.do(SetRoomValue((room.id,), "people", Pinned(value=7)))
        other = structs.replace(
            self.first, rooms=(structs.replace(self.first.rooms[0], name="Archive"), *self.first.rooms[1:])
        )
        self.path.write_bytes(write_gbxml(other))
        self.insert(self.path)
        page = self.view_.draft_page
        self.assertIn("1 changed, 7 as before", page.line.words)
        self.assertIn("name Office 0 → Archive", page.rooms.model_.vm.rows[0].cells[-1].text)
        self.click(page.take_button, (10, 10))
        self.wait()
        self.assertEqual((self.project.rooms[0].name, self.project.rooms[0].people), ("Archive", Pinned(value=7)))

    def test_a_hostile_file_is_refused_and_the_project_stays(self):
        self.draw(0, 0, 5, 4)
        before = self.project
        self.path.write_bytes(b'<!DOCTYPE a [<!ENTITY b "c">]><gbXML>&b;</gbXML>')
        self.insert(self.path)
        self.assertIn("document type", self.window.banner.sentence.words)
        self.assertIs(self.project, before)
        self.insert(self.folder / "what.exe")
        self.assertIn("not a file this program reads", self.window.banner.sentence.words)

    def test_reading_is_stopped_by_a_click(self):
        self.view_.insert(self.path)
        self.wait(lambda: self.window.banner.isVisible())
        self.assertIn("Reading house.xml", self.window.banner.sentence.words)
        self.click(self.window.banner._acts[0], (5, 8))
        self.wait(lambda: not self.view_.reader.busy)
        self.wait()
        self.assertIn("was left", self.window.banner.sentence.words)
        self.assertEqual(self.project.rooms, ())

    def test_files_are_dropped_on_the_window(self):
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.path))])
        self.window.dropEvent(QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, data, LEFT, NONE))
        self.wait(lambda: not self.view_.reader.busy)
        self.wait()
        self.assertTrue(self.view_.draft_page.isVisible())

    def test_what_is_written_reads_back(self):
        self.insert(self.path)
        self.click(self.view_.draft_page.take_button, (10, 10))
        self.wait()
        for what, name in (
            ("gbxml", "out.xml"),
            ("rooms", "rooms.csv"),
            ("faces", "faces.csv"),
            ("lifted", "lifted.pdf"),
        ):
            self.window.write(what, self.folder / name)
            self.assertGreater((self.folder / name).stat().st_size, 500, what)
        self.assertEqual((self.folder / "rooms.csv").read_text("utf-8-sig").count("\n"), 9)
        # Under another name it is still known by the ids and numbers of its rooms; people by rule come back as figures.
        self.insert(self.folder / "out.xml")
        self.assertIn("8 changed", self.view_.draft_page.line.words)
        self.assertIn("people by rule → 2", self.view_.draft_page.rooms.model_.vm.rows[0].cells[-1].text)
        self.window.write("rooms", Path("/nowhere/rooms.csv"))
        self.assertIn("could not be written", self.window.banner.sentence.words)


class Underlays(Building):
    def setUp(self):
        super().setUp()
        self.insert(write_dxf(self.folder / "plan.dxf", rooms=3))

    def test_rooms_are_filled_from_a_drawing_in_millimetres(self):
        self.assertEqual(self.session.selection.kind, "underlay")
        assert_allclose(self.project.underlays[0].scale, 0.001)
        self.click(self.view_.fill_tool, (14, 14))
        for x in (3.0, 7.0, 11.0):
            self.click_at(x, 3.0)
        self.assertEqual(len(self.project.rooms), 3)
        assert_allclose([area_of(r.outline) for r in self.project.rooms], [4.1 * 5, 4.2 * 5, 4.1 * 5])
        self.assertEqual(sum(not w.outside for w in self.project.walls), 2)
        self.click_at(3.0, -3.0)
        self.assertIn("do not enclose", self.window.banner.sentence.words)

    def test_all_rooms_of_the_drawing_come_on_the_compare_page(self):
        import ezdxf

        self.session.undo()
        self.wait()
        doc = ezdxf.readfile(write_dxf(self.folder / "named.dxf", rooms=3))
        for k, (x, name) in enumerate(((3.0, "Office"), (7.0, "WC"), (11.0, "Store"))):
            doc.modelspace().add_text(f"1.{k + 1:02d}", height=200).set_placement((x * 1000, 3200))
            doc.modelspace().add_text(name, height=200).set_placement((x * 1000, 2800))
        doc.saveas(self.folder / "named.dxf")
        self.insert(self.folder / "named.dxf")
        self.window.actions_["rooms of drawing"].trigger()
        page = self.view_.draft_page
        self.wait(lambda: page.isVisible(), 30.0)
        self.assertEqual(
            [(d.number, d.name) for d in page.differences], [("1.01", "Office"), ("1.02", "WC"), ("1.03", "Store")]
        )
        self.click(page.take_button, (10, 10))
        self.wait()
        assert_allclose([area_of(r.outline) for r in self.project.rooms], [4.1 * 5, 4.2 * 5, 4.1 * 5])
        self.assertEqual(sum(not w.outside for w in self.project.walls), 2)

    def test_a_drawing_without_texts_says_so(self):
        self.window.actions_["rooms of drawing"].trigger()
        self.wait(
            lambda: bool(self.window.banner.sentence.words) and "No text" in self.window.banner.sentence.words, 20.0
        )

    def test_corners_snap_to_lines_of_the_drawing(self):
        self.draw(0.08, 0.1, 3.93, 4.9)
        self.assertEqual(set(self.project.rooms[0].outline), {(0, 0), (4, 0), (4, 5), (0, 5)})

    def test_lines_attract_along_their_way_and_long_ones_count_however_far_they_begin(self):
        # The walls at y 0 and x 8.4 run past these places; no end of a line and no corner is near.
        self.draw(1.53, 0.06, 6.47, 2.97)
        xs, ys = ({p[k] for p in self.project.rooms[0].outline} for k in (0, 1))
        self.assertEqual((min(ys), sorted(xs)), (0.0, [1.55, 6.45]))
        under, content = self.plan.underlays()[0]
        whole = lines_near([(under, content)], 2.0, 2.5, 60.0)
        self.assertEqual(len(whole), len(segments(under, content)))
        self.assertEqual(len(lines_near([(under, content)], 500.0, 500.0, 60.0)), 0)
        passing = lines_near([(under, content)], 2.0, 0.0, 0.5)
        self.assertTrue(any(r[0] < 1.0 < 3.0 < r[2] or r[2] < 1.0 < 3.0 < r[0] for r in passing))

    def test_contents_belong_to_the_project_in_hand(self):
        self.assertEqual(len(self.session.contents), 1)
        self.window.open_example()
        self.assertIn("unsaved edits", self.window.banner.sentence.words)
        self.assertEqual(len(self.session.contents), 1)
        self.window.banner._act(1)  # without them
        self.wait()
        weather = self.session.project.site.weather
        self.assertEqual(set(self.session.contents), {weather.content})

    def test_layers_go_off_in_the_card_and_stop_attracting(self):
        self.assertEqual(self.project.underlays[0].hidden_layers, ("GRID",))
        self.assertEqual(
            [r.label for s in self.window.card.vm.sections if s.title == "Layers" for r in s.rows],
            ["FURNITURE", "GRID", "WALLS"],
        )
        before = self.view_.grab().toImage()
        self.choose("show_layer_WALLS", "off")
        self.assertIn("WALLS", self.project.underlays[0].hidden_layers)
        self.assertNotEqual(self.view_.grab().toImage(), before)
        self.assertIsNone(self.plan.nearest_line_end(QPointF(0.05, 0.05)))

    def test_two_points_and_a_typed_distance_scale_it(self):
        self.click(self.view_.scale_tool, (14, 14))
        self.click_at(0.05, 0.05)
        self.click_at(4.0, 0.02)
        self.answer(m="8")
        assert_allclose(self.project.underlays[0].scale, 0.002, rtol=1e-9)
        self.session.undo()
        self.wait()
        assert_allclose(self.project.underlays[0].scale, 0.001)

    def test_it_is_saved_with_the_project_and_drawn_again(self):
        path = self.folder / "job.gfin"
        self.session.save(path)
        before = self.plan.grab().toImage()
        self.session.contents.clear()
        self.window.open(path)
        self.wait()
        self.assertEqual(set(self.session.contents), {self.project.underlays[0].content})
        self.session.select()
        self.plan.refit()
        self.wait()
        self.assertEqual(self.plan.grab().toImage(), before)

    def test_a_picture_and_a_pdf_page_lie_below_too_and_go(self):
        from PIL import Image
        from reportlab.pdfgen import canvas

        Image.new("RGB", (400, 300), "red").save(self.folder / "a.png")
        page = canvas.Canvas(str(self.folder / "a.pdf"))
        for _ in range(2):
            page.line(10, 10, 500, 500)
            page.showPage()
        page.save()
        self.insert(self.folder / "a.png")
        assert_allclose(self.project.underlays[-1].scale, 30 / 400)
        self.insert(self.folder / "a.pdf")
        self.assertEqual(len(self.project.underlays), 3)
        self.answer(page="2")
        self.wait(lambda: not self.view_.reader.busy)
        self.wait()
        self.assertEqual([u.name for u in self.project.underlays][-1], "a.pdf, page 2")
        self.view_.use_tool("select")
        self.plan.setFocus()
        QTest.keyClick(self.plan, Qt.Key.Key_Delete)
        self.wait()
        self.assertEqual(len(self.project.underlays), 2)


class Drawn(Building):
    """Rooms by one drag as by two clicks; what attracts, what does not; what was drawn is chosen."""

    def begin(self):
        self.click(self.view_.room_tool, (14, 14))

    def box(self, k: int = -1) -> tuple[float, float, float, float]:
        xs, ys = zip(*self.project.rooms[k].outline)
        return min(xs), min(ys), max(xs), max(ys)

    def test_a_drag_draws_a_room_and_selects_it(self):
        self.begin()
        self.drag((0, 0), (3, 2), (5, 4))
        self.assertEqual([self.box(0)], [(0, 0, 5, 4)])
        self.assertEqual(self.session.selection, Selection("room", (self.project.rooms[0].id,)))
        self.drag((5, 0), (6, 2), (9, 4))
        self.assertEqual(self.session.selection.ids, (self.project.rooms[1].id,))

    def test_two_clicks_still_do_and_a_hand_that_shakes_is_no_drag(self):
        self.begin()
        near = 3 / self.plan.map.m11()
        self.drag((0, 0), (near, near))
        self.assertEqual(self.project.rooms, ())
        self.click_at(5, 4)
        self.assertEqual(self.box(0), (0, 0, 5, 4))

    def test_corners_attract_on_their_own_level_within_a_quarter_metre_and_not_with_alt(self):
        self.begin()
        self.drag((0, 0), (3, 2), (5, 4))
        self.drag((5.15, 0.15), (7, 2), (9, 3.9))
        self.assertEqual(self.box(), (5, 0, 9, 4))
        self.session.undo()
        self.wait()
        self.drag((5.15, 0.15), (7, 2), (9, 3.9), keys=Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.box(), (5.15, 0.15, 9, 3.9))
        self.session.do(AddLevel())
        self.session.set_show(level_id=self.project.levels[-1].id)
        self.wait()
        self.drag((0.1, 0.1), (2, 2), (4.9, 3.8))
        self.assertEqual(self.box(), (0.1, 0.1, 4.9, 3.8))  # rooms below do not attract

    def test_a_sliver_is_refused_with_a_word(self):
        self.begin()
        told = []
        self.plan.hint.connect(told.append)
        self.drag((0, 0), (3, 0.0), (5, 0.0))
        self.assertEqual(self.project.rooms, ())
        self.assertIn("Both sides have to be longer than 50 mm", told)


class Hands(Building):
    def setUp(self):
        super().setUp()
        self.draw(0, 0, 5, 4)
        self.draw(5, 0, 9, 4)
        self.session.select()
        self.wait()

    def test_a_room_is_dragged_and_jumps_to_corners(self):
        self.click_at(2.0, 1.0)
        self.drag((2.0, 1.0), (2.2, 1.4), (2.05, 5.02))
        self.assertEqual(min(y for _, y in self.project.rooms[0].outline), 4.0)
        self.assertEqual(self.session.undo_label, "Move rooms")

    def test_arrow_keys_nudge_and_shift_strides(self):
        self.session.select("room", "n1", "n2")
        self.wait()
        self.plan.setFocus()
        QTest.keyClick(self.plan, Qt.Key.Key_Right)
        QTest.keyClick(self.plan, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.wait()
        self.assertEqual(self.project.rooms[0].outline[0], (0.05, 0.5))

    def test_band_and_lasso_select_what_lies_inside(self):
        self.drag((-1, -1), (4, 3), (9.5, 4.8))
        self.assertEqual(set(self.session.selection.of("room")), {"n1", "n2"})
        self.session.select()
        self.drag((-0.6, -0.6), (5.3, -0.6), (5.3, 4.6), (-0.6, 4.6), keys=Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.session.selection.of("room"), ("n1",))
        self.drag((12, 7), (13, 8))
        self.assertEqual(self.session.selection.kind, "")

    def test_windows_and_doors_by_click_then_dragged_and_typed(self):
        self.click(self.view_.window_tool, (14, 14))
        self.click_at(2.0, 0.0)
        self.assertEqual(self.session.selection.kind, "opening")
        self.click_at(5.0, 2.0)
        self.assertIn("outside wall", self.window.banner.sentence.words)
        self.click(self.view_.door_tool, (14, 14))
        self.click_at(5.0, 2.0)
        self.assertEqual(self.window.card.vm.kind.split()[0], "Door")
        self.click(self.view_.select_tool, (14, 14))
        wall = next(w for w in self.project.walls if w.openings and w.outside)
        self.drag((2.0, 0.0), (2.5, 0.1), (3.5, 0.1))
        moved = find(self.project.walls, wall.id)
        x = moved.start[0] + moved.openings[0].at_m * (moved.end[0] - moved.start[0]) / moved.length_m
        assert_allclose(x, 3.5, atol=0.06)  # a pixel is some 25 mm here, and places go in steps of 50 mm
        self.session.select("opening", f"{wall.id}/{moved.openings[0].id}")
        self.wait()
        self.do("row")
        self.answer(n="3", step="0")
        self.assertEqual(len(find(self.project.walls, wall.id).openings), 3)

    def test_a_room_is_split_by_two_clicks_and_merged_again(self):
        self.click(self.view_.split_tool, (14, 14))
        self.click_at(2.0, 0.0)
        self.click_at(2.02, 4.0)
        self.assertEqual(len(self.project.rooms), 3)
        self.click(self.view_.select_tool, (14, 14))
        new = self.project.rooms[-1].id
        self.session.select("room", "n1", new)
        self.do("merge")
        self.wait()
        self.assertEqual(len(self.project.rooms), 2)
        self.session.select()
        self.do("merge")
        self.assertIn("Select 2 rooms", self.window.banner.sentence.words)

    def test_typed_moves_copies_numbers_mirrors_and_levels(self):
        self.session.select("room", "n2")
        self.do("move")
        self.answer(x="1 ft", y="0")
        assert_allclose(min(x for x, _ in find(self.project.rooms, "n2").outline), 5.3048)
        self.do("copy row")
        self.answer(n="2", x="4", y="0")
        self.assertEqual(len(self.project.rooms), 4)
        self.session.select("room", *(r.id for r in self.project.rooms))
        self.do("number")
        self.answer(first="A-7")
        self.assertEqual(sorted(r.number for r in self.project.rooms), ["A-10", "A-7", "A-8", "A-9"])
        self.do("mirror x")
        self.wait()
        self.assertEqual(self.session.undo_label, "Mirror rooms")
        self.do("copy level")
        self.answer(level="L1")
        self.assertEqual(sum(r.level_id == "L1" for r in self.project.rooms), 4)

    def test_width_and_depth_are_typed_and_neighbours_bound_them(self):
        self.session.select("room", "n2")
        self.do("size")
        self.answer(w="5 m", d="10 ft")
        self.assertEqual(
            set(find(self.project.rooms, "n2").outline), {(5.0, 0.0), (10.0, 0.0), (10.0, 3.048), (5.0, 3.048)}
        )
        self.session.select("room", "n1")
        self.do("size")
        self.answer(w="0", d="4")
        self.assertIn("above 0", self.view_.ask.reason.words)
        self.answer(w="6")
        self.assertIn("overlap", self.view_.ask.reason.words)
        self.session.select("room", "n1", "n2")
        self.do("size")
        self.assertIn("one room", self.window.banner.sentence.words)

    def test_a_wrong_entry_stays_with_its_reason_until_it_is_left(self):
        self.session.select("room", "n2")
        self.do("move")
        self.answer(x="three", y="0")
        self.assertIn("not a number", self.view_.ask.reason.words)
        self.answer(x="-2")
        self.assertIn("overlap", self.view_.ask.reason.words)
        QTest.keyClick(self.view_.ask.fields["x"], Qt.Key.Key_Escape)
        self.assertFalse(self.view_.ask.isVisible())

    def test_the_north_arrow_is_dragged_and_typed(self):
        arrow = QPoint(self.plan.width() - 32, 44)
        QTest.mousePress(self.plan, LEFT, NONE, arrow)
        QTest.mouseMove(self.plan, arrow + QPoint(0, -12))
        QTest.mouseMove(self.plan, arrow + QPoint(14, 0))
        QTest.mouseRelease(self.plan, LEFT, NONE, arrow + QPoint(14, 0))
        self.wait()
        # The arrow points to the right of the plan, so the plan's upward direction looks west.
        assert_allclose(self.project.site.north_deg, 270.0)
        self.assertEqual({round(w.facing_deg) % 90 for w in self.project.walls if w.outside}, {0})
        self.click(self.plan, (self.plan.width() - 32, 44))
        self.answer(deg="30")
        assert_allclose(self.project.site.north_deg, 30.0)

    def test_a_wrong_overlap_of_a_file_is_found_and_trimmed_by_a_click(self):
        room = find(self.project.rooms, "n2")
        broken = structs.replace(
            self.project,
            rooms=(self.project.rooms[0], structs.replace(room, outline=tuple((x - 1.0, y) for x, y in room.outline))),
        )
        self.session.start(broken, None)
        self.wait()
        finding = next(f for f in self.session.results.findings if f.code == "overlap")
        self.window._go_to(finding.kind, (finding.object_id,))
        self.wait()
        self.assertEqual(self.session.selection.ids, ("n2",))
        self.session.do(finding.mends[0].command)
        self.wait()
        self.assertNotIn("overlap", {f.code for f in self.session.results.findings})


class Groups(Building):
    def setUp(self):
        super().setUp()
        self.draw(0, 0, 5, 4)
        self.draw(5, 0, 9, 4)
        self.wait()

    def test_a_zone_of_rooms_holds_its_set_point(self):
        self.session.select("room", "n1")
        self.do("zone")
        self.wait()
        self.assertEqual(self.window.card.vm.kind, "Zone")
        self.type_into("zone_value_cooling_c", "22.5")
        self.type_into("rename_zone_name", "South")
        self.wait()
        self.assertEqual(self.project.zones[0].name, "South")
        self.assertEqual(self.session.results.room("n1").figures.cooling_c.figure, 22.5)
        self.assertIn("no-zone", {f.code for f in self.session.results.findings})

    def test_rooms_are_painted_into_zones_by_dragging_over_them(self):
        self.click(self.view_.paint_tool, (14, 14))
        self.wait()
        self.assertEqual(self.view_.colour_by, "zone")
        zone = self.project.zones[0].id
        self.assertEqual(self.view_.group_box.currentData(), zone)
        self.drag((2, 2), (4, 2), (7, 2))
        self.assertEqual([r.zone_id for r in self.project.rooms], [zone, zone])
        self.click_at(2, 2, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.project.rooms[0].zone_id, "")

    def test_levels_come_and_go_and_have_heights(self):
        self.do("level above")
        self.wait()
        self.assertEqual(self.window.card.vm.kind, "Level")
        top = self.project.levels[-1]
        self.assertEqual(self.session.show.level_id, top.id)
        self.type_into("level_name", "Attic")
        self.type_into("level_storey_m", "2.6")
        self.wait()
        self.assertEqual((self.project.levels[-1].name, self.project.levels[-1].storey_m), ("Attic", 2.6))
        self.window.card._foot.click()
        self.wait()
        self.assertEqual(len(self.project.levels), 2)
        self.session.select("level", "L0")
        self.wait()
        self.type_into("level_floor_m2", "60")
        self.wait()
        self.assertIn("floor-sum", {f.code for f in self.session.results.findings})

    def test_a_room_changes_level_zone_and_basis_in_its_card(self):
        self.session.select("room", "n2")
        self.wait()
        self.choose("room_level_level_id", "L1")
        self.assertEqual(find(self.project.rooms, "n2").level_id, "L1")
        self.session.select()
        self.wait()
        before = self.session.results.room("n1").figures.area_m2.figure
        self.choose("area_basis_basis", "net")
        self.assertLess(self.session.results.room("n1").figures.area_m2.figure, before)


class Seeing(WindowTest):
    def setUp(self):
        super().setUp()
        self.view_ = self.view("Building")

    def test_every_overlay_colours_the_plan_and_says_what_its_colours_mean(self):
        seen = set()
        for key, _ in self.view_.strip._choices:
            self.click(self.view_.strip, self.view_.strip.box_of(key).center())
            self.wait()
            self.assertEqual(self.view_.colour_by, key)
            self.assertTrue(self.view_.plan.legend, key)
            seen.add(
                self.view_.plan.grab()
                .toImage()
                .copy(100, 0, 800, 360)
                .convertToFormat(self.view_.plan.grab().toImage().Format.Format_RGB32)
                .constBits()
                .tobytes()
            )
        self.assertEqual(len(seen), 7)

    def test_faces_are_filtered_while_typing_and_a_row_selects(self):
        self.click(self.view_.drawer.head, self.view_.drawer.head.box_of(1).center())
        whole = len(self.view_.faces.table.model_.vm.rows)
        QTest.keyClicks(self.view_.faces.wanted, "south glass")
        self.assertEqual(len(self.view_.faces.table.model_.vm.rows), 0)
        self.view_.faces.wanted.clear()
        QTest.keyClicks(self.view_.faces.wanted, "0.01 west")
        rows = self.view_.faces.table.model_.vm.rows
        self.assertTrue(0 < len(rows) < whole)
        self.view_.faces.table.selectRow(0)
        self.wait()
        self.assertEqual(self.session.selection.kind, "face")
        self.assertEqual(self.window.card.vm.title, "Outside wall, west")
        self.assertIn("Sun", [h.label for h in self.window.card.vm.headlines])

    def test_the_build_up_of_a_face_is_changed_in_its_card(self):
        wall = next(w for w in self.session.project.walls if w.outside)
        self.session.select("face", f"wall/{wall.id}")
        self.wait()
        self.choose("wall_build_up_id", "P1")
        self.assertEqual(find(self.session.project.walls, wall.id).build_up_id, "P1")

    def test_levels_lift_apart_turn_and_any_face_is_picked(self):
        self.click(self.view_.lift_tool, (14, 14))
        self.wait()
        lifted = self.view_.lifted
        self.assertTrue(lifted.isVisible())
        lifted.grab()
        kinds = {s.kind for s, _ in lifted.shapes}
        self.assertEqual(kinds, {"floor", "wall", "glass", "door"})
        tops = {}
        for solid, shape in lifted.shapes:
            if solid.kind == "floor":
                level = find(self.session.project.rooms, solid.target[1]).level_id
                box = shape.boundingRect()
                tops.setdefault(level, []).append((box.top(), box.bottom()))
        ground, upper = tops["G"], tops["U"]
        self.assertGreater(min(t for t, _ in ground), min(t for t, _ in upper))
        wanted = next((s, shape) for s, shape in reversed(lifted.shapes) if s.kind == "wall")
        at = wanted[1].boundingRect().center()
        self.click(lifted, at)
        self.wait()
        self.assertIn(self.session.selection.kind, ("face", "opening"))
        self.assertEqual((self.session.selection.kind, self.session.selection.ids[0]), lifted.what_is_at(at))
        before = lifted.grab().toImage()
        QTest.keyClick(lifted, Qt.Key.Key_Left)
        QTest.keyClick(lifted, Qt.Key.Key_Plus)
        self.assertNotEqual(lifted.grab().toImage(), before)

    def test_only_a_room_its_neighbours_or_its_zone_are_shown(self):
        room = next(r for r in self.session.project.rooms if r.number == "0.02")
        self.session.select("room", room.id)
        self.click(self.view_.lift_tool, (14, 14))
        self.wait()
        shown = {}
        for key in ("room", "neighbours", "zone", "all"):
            self.click(self.view_.scope_strip, self.view_.scope_strip.box_of(key).center())
            self.view_.lifted.grab()
            shown[key] = {s.target[1] for s, _ in self.view_.lifted.shapes if s.kind == "floor"}
        self.assertEqual(shown["room"], {room.id})
        project = self.session.project
        beside = {i for w in project.walls if room.id in (w.room_a, w.room_b) for i in (w.room_a, w.room_b)}
        over = {
            i for x in project.slabs if room.id in (x.room_below, x.room_above) for i in (x.room_below, x.room_above)
        }
        self.assertEqual(shown["neighbours"], (beside | over) & {r.id for r in project.rooms})
        self.assertTrue(shown["room"] < shown["neighbours"] < shown["all"])
        self.assertEqual(shown["zone"], {r.id for r in self.session.project.rooms if r.zone_id == room.zone_id})

    def test_measured_areas_stand_in_the_card(self):
        self.session.select("room", self.session.project.rooms[0].id)
        self.wait()
        lines = next(s for s in self.window.card.vm.sections if s.title == "Measured").rows
        self.assertEqual([x.label for x in lines], ["Wall centres · used", "Net, between walls", "Input detail"])

    def test_keyboard_reaches_every_new_command(self):
        names = [e.text for e in self.window._entries() if e.kind == "do"]
        for words in ("Room list …", "Merge", "Turn north …", "Export the building with loads as gbXML …"):
            self.assertIn(words, names)


if __name__ == "__main__":
    import unittest

    unittest.main()
