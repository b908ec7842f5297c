"""The page of equipment driven by mouse and keyboard: schedules, what is fixed in place, units put into rooms, own
catalogues, why.
"""

from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainterPath
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit

from garnetfin import display
from garnetfin.core.equipment.catalogue import SHEETS, headings
from garnetfin.core.tables import read_rows
from garnetfin.engine.equipment.schedules import KEYS
from garnetfin.engine.layout.equipment_outlines import boxes_of_level
from garnetfin.ui.plan.air_layer import air_shadow
from garnetfin.ui.plan.geometry import path_of
from garnetfin.ui.view_models.rooms import room_card
from tests.example import by_number
from tests.ui.driver import WindowTest

AHU = "ahu-north"


class EquipmentTest(WindowTest):
    first = "Air"

    def setUp(self):
        super().setUp()
        self.air = self.view("Air")
        self.air.show_main("plan")
        head = self.air.drawer.head
        self.click(head, head.box_of(head.tabs.index("Equipment")).center())
        self.wait()
        self.page = self.air.equipment

    def choose(self, key: str) -> None:
        self.click(self.page.strip, self.page.strip.box_of(key).center())
        self.wait()

    def column(self, name: str) -> int:
        return [c.name for c in self.page.table.model_.vm.columns].index(name)

    def type_in(self, row: int, name: str, text: str) -> None:
        """Double click on a cell, type, Enter."""
        table = self.page.table
        index = table.model_.index(row, self.column(name))
        table.scrollTo(index)
        box = table.visualRect(index)
        QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
        QTest.mouseDClick(table.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
        editor = table.viewport().findChild(QLineEdit)
        self.assertIsNotNone(editor, name)
        editor.selectAll()
        QTest.keyClick(editor, Qt.Key.Key_Delete)
        QTest.keyClicks(editor, text)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.app.processEvents()  # the editor hands its text over with the next turn of events
        self.wait()


class Schedules(EquipmentTest):
    def test_every_schedule_shows_its_lines(self):
        for key, _ in KEYS:
            self.choose(key)
            self.assertEqual(self.page.key, key)
            rows = self.page.table.model_.vm.rows
            self.assertTrue(rows)
            self.assertTrue(all(len(r.cells) == len(self.page.table.model_.vm.columns) for r in rows))
        self.assertIn("24 flow boxes", self.air.drawer.head.note)
        self.assertIn(
            "24 boxes", self.window.chain.vm.links[3].note if hasattr(self.window.chain, "vm") else "24 boxes"
        )

    def test_a_typed_model_is_pinned_and_an_empty_cell_frees_it(self):
        self.type_in(0, "Model", "GF-C315-R2")
        box = self.session.results.equipment.boxes["box:r001"]
        self.assertTrue(box.pinned)
        self.assertEqual(box.model.model, "GF-C315-R2")
        self.assertEqual(self.page.table.model_.vm.rows[0].cells[self.column("Model")].origin, "pinned")
        self.type_in(0, "Model", "")
        self.assertEqual(self.session.project.flow_boxes, ())
        self.assertFalse(self.session.results.equipment.boxes["box:r001"].pinned)

    def test_a_model_that_no_catalogue_has_is_refused_in_a_sentence(self):
        said: list[str] = []
        self.session.refused.connect(said.append)
        self.type_in(0, "Model", "GF-X1")
        self.assertEqual(len(said), 1)
        self.assertIn("GF-X1", said[0])
        self.assertEqual(self.session.project.flow_boxes, ())
        self.assertFalse(self.session.results.equipment.boxes["box:r001"].pinned)

    def test_water_of_a_coil_is_typed_with_its_unit(self):
        self.choose("coils")
        self.type_in(0, "Water in", "7.5 degC")
        coil = self.session.results.equipment.coils[f"{AHU}:cooling"]
        self.assertAlmostEqual(coil.water_in.figure, 7.5)
        self.assertEqual(coil.water_in.origin, "pinned")

    def test_number_of_machines_and_arrangement_of_a_unit(self):
        self.choose("machines")
        self.type_in(0, "Number", "3")
        self.assertEqual(self.session.results.equipment.machines["cold"].count, 3)
        self.choose("units")
        height = self.session.results.equipment.units[AHU].layout.height_m
        self.type_in(0, "Decks", "side by side")
        self.assertLess(self.session.results.equipment.units[AHU].layout.height_m, height)

    def test_where_a_unit_stands_is_typed_by_its_room(self):
        self.choose("units")
        state = self.window.session.state
        self.assertEqual(state.results.equipment.standings[AHU].room_id, by_number(state.project, "1.13").id)
        self.type_in(0, "Stands in", "0.07")
        state = self.window.session.state
        self.assertEqual(state.project.units[0].room_id, by_number(state.project, "0.07").id)
        row = self.page.table.model_.vm.rows[0]
        self.assertEqual(row.cells[self.column("Stands in")].text, "0.07")
        said: list[str] = []
        self.session.refused.connect(said.append)
        self.type_in(0, "Stands in", "nowhere")
        self.assertIn("There is no room", said[0])
        self.assertEqual(self.window.session.state.project.units[0].room_id, by_number(state.project, "0.07").id)

    def test_a_row_chooses_its_room_and_a_room_its_row(self):
        table = self.page.table
        index = table.model_.index(2, 0)
        QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=table.visualRect(index).center())
        self.wait()
        self.assertEqual(self.session.selection.ids, (by_number(self.session.project, "0.03").id,))
        self.session.select("room", by_number(self.session.project, "0.05").id)
        self.wait()
        self.assertIn(f"box:{by_number(self.session.project, '0.05').id}", table.chosen)

    def test_only_this_level(self):
        every = len(self.page.table.model_.vm.rows)
        self.click(self.page.shown_strip, self.page.shown_strip.box_of("level").center())
        self.wait()
        ground = {r.id for r in self.session.project.rooms if r.level_id == self.session.show.level_id}
        rows = self.page.table.model_.vm.rows
        self.assertLess(len(rows), every)
        self.assertTrue(all(r.id.removeprefix("box:") in ground for r in rows))


class Rooms(EquipmentTest):
    def test_boxes_are_drawn_where_they_stand_and_in_garnet_with_their_room(self):
        plan, state = self.air.plan, self.window.session.state
        ducts = state.results.ducts[AHU]
        piece = next(
            p for p in boxes_of_level(state.results, ducts, state.show.level_id) if p.tag == "FB-0.04"
        )  # off all other figures

        def colour() -> str:
            corner = plan.map.map(QPointF(*piece.outline[0])).toPoint()
            around = [
                plan.grab().toImage().pixelColor(corner.x() + dx, corner.y() + dy)
                for dx in (-1, 0, 1)
                for dy in (-1, 0, 1)
            ]
            darkest = min(around, key=lambda c: c.lightness())
            return (
                "garnet"
                if darkest.red() > darkest.green() + 60
                else "teal"
                if darkest.green() > darkest.red() + 40
                else "none"
            )

        self.assertEqual(colour(), "teal")
        self.air.pick("room", (by_number(state.project, "0.04").id,))
        self.wait()
        self.assertEqual(colour(), "garnet")

    def test_arrows_of_a_bent_corridor_do_not_lie_in_the_room_in_its_corner(self):
        self.session.set_show(level_id="U")
        self.wait()
        plan, state = self.air.plan, self.session.state
        plan.grab()
        other = plan.map.map(path_of(by_number(state.project, "1.13").outline))
        arrows = air_shadow(plan.map, state, "U", QPainterPath())
        self.assertFalse(arrows.isEmpty())
        self.assertFalse(arrows.intersects(other))

    def test_a_click_on_a_box_chooses_its_room_whose_card_fixes_it(self):
        plan = self.air.plan
        plan.grab()
        piece = next(p for p in plan.pieces if p.tag == "FB-0.04")
        room = by_number(self.session.project, "0.04")
        middle = [sum(p[k] for p in piece.outline) / 4 for k in (0, 1)]
        self.click(plan, plan.map.map(QPointF(*middle)))
        self.wait()
        self.assertEqual(self.session.state.selection.of("room"), (room.id,))
        card = room_card(self.session.state)
        titles = [s.title for s in card.sections if hasattr(s, "title")]
        self.assertIn("Flow box FB-0.04", titles)
        model = next(s for s in card.sections if getattr(s, "title", "") == "Flow box FB-0.04").rows[0]
        self.assertEqual(model.chosen, "")
        larger = model.choices[-1][0]
        self.session.do(model.edit.filled(larger))
        self.wait()
        box = self.session.results.equipment.box_of(room.id)
        self.assertEqual((box.model.model, box.pinned), (larger, True))
        lines = next(s for s in room_card(self.session.state).sections if getattr(s, "title", "") == "What it does")
        shown = next(x for x in lines.rows if x.label == "Box and coil lose")
        self.assertEqual(shown.value, display.figure("pressure", box.drop_pa, "SI"))

    def test_a_unit_is_put_into_a_chosen_room_and_taken_out_again(self):
        room = by_number(self.session.project, "1.11").id
        self.session.select("room", room)
        self.wait()
        self.choose("room_units")
        self.page.put_unit("direct")
        self.wait()
        unit = next(u for u in self.session.results.equipment.room_units.values() if u.room_id == room)
        self.assertEqual(unit.kind, "direct")
        self.assertEqual(self.page.table.model_.vm.rows[0].id, unit.id)
        self.page._on_picked("room unit", (unit.id,))
        self.wait()
        self.click(self.page.remove_button, (8, 8))
        self.wait()
        self.assertEqual(self.session.project.room_units, ())

    def test_a_room_without_a_system_is_kept_by_its_unit(self):
        boats = by_number(self.session.project, "0.07")
        self.assertFalse(boats.kept)
        self.session.select("room", boats.id)
        self.choose("room_units")
        self.page.put_unit("radiator")
        self.wait()
        self.assertTrue(by_number(self.session.project, "0.07").kept)
        unit = next(u for u in self.session.results.equipment.room_units.values() if u.room_id == boats.id)
        self.assertGreater(unit.heat_need_w, 500)
        self.assertAlmostEqual(unit.heat_need_w, self.session.results.room(boats.id).heating_w)

    def test_rooms_share_one_box(self):
        rooms = tuple(by_number(self.session.project, n).id for n in ("0.04", "0.05"))
        self.session.select("room", *rooms)
        self.wait()
        self.click(self.page.box_button, (8, 8))
        self.wait()
        box = self.session.results.equipment.box_of(rooms[0])
        self.assertEqual(box.room_ids, rooms)
        self.session.undo()
        self.wait()
        self.assertEqual(self.session.project.flow_boxes, ())


class Catalogue(EquipmentTest):
    def rows(self, sheet: str, **changed: str) -> str:
        kind, file, _ = SHEETS[sheet]
        row = {h: read_rows(file)[0].get(h) or "" for h in headings(kind)} | changed
        return ",".join(row) + "\n" + ",".join(f'"{v}"' for v in row.values()) + "\n"

    def take(self, text: str) -> list[str]:
        said: list[str] = []
        self.page.said.connect(said.append)
        with TemporaryDirectory() as folder:
            path = Path(folder) / "own.csv"
            path.write_text(text, encoding="utf-8")
            self.page.take_catalogue(path)
            self.wait()
        return said

    def test_an_own_catalogue_is_read_and_chosen_from(self):
        self.assertEqual(self.take(self.rows("machines", model="OF-90", nominal_kW="90")), [])
        self.assertEqual([o.id for o in self.session.project.book.equipment], ["machines:OF-90"])
        self.choose("machines")
        self.type_in(0, "Model", "OF-90")
        self.assertEqual(self.session.results.equipment.machines["cold"].model.model, "OF-90")

    def test_wrong_files_are_refused_in_a_sentence_and_nothing_is_lost(self):
        before = self.session.project
        for text, words in (
            ("a,b\n1,2\n", "no catalogue of equipment"),
            (self.rows("boxes", inlet_mm="wide"), "no figure"),
            (self.rows("boxes", flow_max_L_s="1"), "not below"),
            (self.rows("boxes", kind="round"), "cannot be"),
            ("", "headings of no catalogue"),
        ):
            with self.subTest(words=words):
                said = self.take(text)
                self.assertTrue(said and words in said[-1], said)
        self.assertIs(self.session.project, before)
