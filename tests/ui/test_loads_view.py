"""Loads driven by mouse and keyboard: tables, profiles, movers, year, marks, and Why on its figures."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.exchange.weather_files import to_csv
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.site import SetWeather
from garnetfin.project.site import MonthStatistics, WeatherYear
from garnetfin.project.values import Pinned
from garnetfin.ui.frame.side_panel import why_under
from tests.core.test_weather import synthetic
from tests.example import by_number
from tests.ui.driver import WindowTest


class Loads(WindowTest):
    first = "Loads"

    def setUp(self):
        super().setUp()
        self.loads = self.view("Loads")

    def tab(self, name: str) -> None:
        head = self.loads.drawer.head
        self.click(head, head.box_of(head.tabs.index(name)).center())
        self.wait()

    def room(self, number: str) -> str:
        return by_number(self.session.project, number).id

    def head_click(self, column: int) -> None:
        head = self.loads.table.horizontalHeader()
        x = head.sectionViewportPosition(column) + head.sectionSize(column) // 2
        QTest.mouseClick(head.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(x, 8))
        self.wait()

    # -- table ---------------------------------------------------------------------------------------------------
    def test_the_table_sorts_by_a_head_and_groups(self):
        self.tab("Room table")
        self.head_click(4)
        rows = self.loads.table.model_.vm.rows
        self.assertEqual(rows[0].cells[1].text, "Hall")  # the greatest cooling load first
        self.assertEqual(self.loads.sort, (4, True))
        self.head_click(4)
        self.head_click(4)
        self.assertEqual(self.loads.sort, (-1, False))
        self.loads.group_strip.chosen.emit("level")
        self.wait()
        groups = [r for r in self.loads.table.model_.vm.rows if r.kind == "group"]
        self.assertEqual([g.cells[1].text for g in groups], ["Ground", "Upper"])
        self.assertEqual(len(self.loads.table.model_.vm.rows), 2 + len(self.session.project.rooms))

    def test_rooms_without_plant_say_how_warm_they_get(self):
        self.tab("Room table")
        row = next(r for r in self.loads.table.model_.vm.rows if r.id == self.room("0.07"))
        self.assertTrue(any("not served" in c.text and "°C" in c.text for c in row.cells))

    # -- profile -------------------------------------------------------------------------------------------------
    def test_a_profile_is_drawn_with_the_mouse_and_taken_back(self):
        self.session.select("room", self.room("0.02"))
        self.tab("Through the day")
        chart = self.loads.profile
        before = self.session.results.room(self.room("0.02")).peak_w
        x, y = chart._scales()
        QTest.mousePress(chart, Qt.MouseButton.LeftButton, pos=QPoint(int(x(10.5)), int(y(0.0))))
        QTest.mouseMove(chart, QPoint(int(x(15.5)), int(y(0.0))))
        self.app.processEvents()
        QTest.mouseRelease(chart, Qt.MouseButton.LeftButton, pos=QPoint(int(x(15.5)), int(y(0.0))))
        self.wait()
        own = self.session.project.book.profiles
        self.assertEqual(len(own), 1)
        self.assertEqual(own[0].working[10], 0.0)
        self.assertLess(self.session.results.room(self.room("0.02")).peak_w, before)
        self.click(self.loads.free_link, (4, 4))
        self.wait()
        self.assertEqual(self.session.project.book.profiles, ())
        self.assertAlmostEqual(self.session.results.room(self.room("0.02")).peak_w, before)

    def test_and_by_keyboard(self):
        self.session.select("room", self.room("0.02"))
        self.tab("Through the day")
        chart = self.loads.profile
        chart.setFocus()
        chart.hour = 3
        QTest.keyClick(chart, Qt.Key.Key_Up)
        self.wait()
        self.assertAlmostEqual(self.session.project.book.profiles[0].working[3], 0.05)

    # -- what moves it, estimates ----------------------------------------------------------------------------------
    def test_what_moves_a_room_follows_the_selection(self):
        self.session.select("room", self.room("0.02"))
        self.session.set_show(scope="room")
        self.tab("Sensitivity")
        self.wait(lambda: self.loads._moved is not None)
        first = self.loads.movers.vm.rows[0].name
        self.session.select("room", self.room("1.11"))
        self.wait(lambda: self.loads._moved is not None and self.loads._moved.room_ids == (self.room("1.11"),))
        self.wait()
        self.assertEqual(self.loads.movers.vm.rows[0].name, "Equipment")  # the data room
        self.assertNotEqual(first, "Equipment")
        self.loads.moves_strip.chosen.emit("heating")
        self.wait(lambda: self.loads._moved is not None and self.loads._moved.heating)

    def test_estimates_side_by_side(self):
        self.tab("Estimates")
        self.wait(lambda: self.loads._densities is not None)
        self.wait()
        vm = self.loads.estimates.model_.vm
        self.assertIn("Sandmere", [c.name for c in vm.columns])
        self.assertEqual(len(vm.rows), len({r.use_id for r in self.session.project.rooms}))

    # -- year ----------------------------------------------------------------------------------------------------
    def test_a_year_is_run_beside_the_design_days(self):
        self.tab("Year")
        self.click(self.loads.run_button, (8, 8))
        self.wait(lambda: self.window.banner.isVisible())  # no weather file yet: said
        month = MonthStatistics(
            dry_bulb_c=(30.0, 29.0, 28.0),
            wet_bulb_c=(20.0, 19.0, 18.0),
            range_k=9.0,
            wet_range_k=3.0,
            tau_b=0.4,
            tau_d=2.3,
            mean_c=15.0,
            wind_m_s=4.0,
        )
        content = self.session.keep(to_csv(synthetic(46.2)).encode())
        self.session.do(
            SetWeather(
                WeatherYear(
                    content=content,
                    name="f",
                    months=(month,) * 12,
                    winter_c=(-9.0, -7.0),
                    greatest_c=33.0,
                    least_c=-12.0,
                )
            )
        )
        self.wait()
        self.session.select("room", self.room("0.02"))
        self.session.set_show(scope="room")
        self.wait()
        self.click(self.loads.run_button, (8, 8))
        self.wait(lambda: self.loads._year is not None and not self.loads.run_button.busy)
        self.wait()
        self.assertEqual(len(self.loads.year_field.vm.values), 8760)
        self.assertIn("beyond", self.loads.drawer.head.note)
        box = self.loads.year_field._box()
        self.click(self.loads.year_field, QPointF(box.left() + box.width() * 0.55, box.center().y()))
        self.wait()
        self.assertIsNotNone(self.session.show.hour)

    # -- marks ---------------------------------------------------------------------------------------------------
    def test_a_mark_shows_what_changed(self):
        self.window.actions_["keep mark"].trigger()
        self.window.ask.fields["name"].setText("before")
        self.window.ask.take()
        self.wait()
        self.assertEqual(list(self.session.marks), ["before"])
        room = self.room("0.02")
        self.session.select("room", room)
        self.session.set_show(scope="room")
        self.session.do(SetRoomValue((room,), "people", Pinned(value=48.0)))
        self.wait()
        card = self.window.card.vm
        since = next(s for s in card.sections if s.title == "Since the snapshot")
        self.assertIn("→", since.rows[0].value)
        self.assertTrue(any("people" in r.label and r.value.startswith("+") for r in since.rows))
        self.assertTrue(self.loads.day.vm.against)
        self.session.compare("")
        self.wait()
        self.assertFalse([s for s in self.window.card.vm.sections if s.title == "Since the snapshot"])

    # -- limits, operation -----------------------------------------------------------------------------------------
    def test_the_plants_hours_are_chosen_in_the_card(self):
        self.choose("operation_mode", "use")
        self.wait()
        self.assertEqual(self.session.project.air_systems[0].operation.mode, "use")
        self.type_into("operation_lead_h", "2")
        self.wait()
        self.assertEqual(self.session.project.air_systems[0].operation.lead_h, 2)
        self.type_into("operation_night_heating_c", "16")
        self.wait()
        self.assertEqual(self.session.project.air_systems[0].operation.night_heating_c, Pinned(value=16.0))

    def test_an_assumption_is_typed_and_unpinned(self):
        self.type_into("assumption_infiltration_1h", "0.5")
        self.wait()
        self.assertEqual(self.session.project.book.infiltration_1h, Pinned(value=0.5))
        self.type_into("assumption_infiltration_1h", "")
        self.wait()
        self.assertEqual(self.session.results.room(self.room("0.02")).figures.infiltration_1h.figure, 0.2)

    def test_a_figure_of_a_use_moves_all_its_rooms_by_rule(self):
        use = by_number(self.session.project, "1.01").use_id
        self.session.select("room", self.room("1.01"))
        self.wait()
        self.type_into("use_figure_equipment_w_m2", "33")
        self.wait()
        mine = [
            self.session.results.room(r.id).figures.equipment_w_m2
            for r in self.session.project.rooms
            if r.use_id == use
        ]
        self.assertTrue(all(f.by_rule == 33.0 for f in mine))
        self.assertEqual(self.window.card.field("use_figure_equipment_w_m2").vm.origin, "pinned")
        self.type_into("use_figure_equipment_w_m2", "")
        self.wait()
        self.assertEqual(self.session.project.book.uses, ())

    def test_a_limit_and_a_void_are_typed_in_the_card(self):
        room = self.room("0.04")
        self.session.select("room", room)
        self.session.set_show(scope="room")
        self.wait()
        self.type_into("room_value_cooling_limit_w", "0.5")
        self.type_into("void_height_m", "0.5")
        self.wait()
        found = self.session.results.room(room)
        self.assertEqual((found.figures.cooling_limit_w.figure, self.session.project.rooms[3].plenum_m), (500.0, 0.5))
        self.assertIn("cooling-short", [f.code for f in self.session.results.findings])
        plant = next(s for s in self.window.card.vm.sections if s.title == "Plant")
        self.assertTrue(any("void" in r.label for r in plant.rows))


class Why(WindowTest):
    first = "Loads"

    def setUp(self):
        super().setUp()
        self.loads = self.view("Loads")

    @property
    def asked(self) -> bool:
        return self.window.side.asking

    def test_from_the_cards_headline_down_to_a_typed_value(self):
        QTest.keyClick(self.window.card, Qt.Key.Key_W)
        self.wait()
        self.assertTrue(self.asked)
        why = self.window.side.why
        self.assertIn("Cooling of 26 rooms", why.vm.name)
        self.click(why.rows, (40, 8))  # the greatest room
        self.wait()
        self.assertIn("Hall", why.vm.name)
        why.rows.setFocus()
        QTest.keyClick(why.rows, Qt.Key.Key_Return)  # its greatest cause
        self.wait()
        self.assertIn("Solar through glass", why.vm.name)
        self.assertEqual(len(why.trail), 3)
        QTest.keyClick(why, Qt.Key.Key_Backspace)
        self.wait()
        self.assertIn("Cooling of 0.03", why.vm.name)
        QTest.keyClick(why, Qt.Key.Key_Escape)
        self.wait()
        self.assertFalse(self.asked)

    def test_links_inside_an_equation_lead_on(self):
        room = by_number(self.session.project, "0.02").id
        self.window.ask_why(("cause", room, "infiltration", 7, 14))
        self.wait()
        self.window.side.why.equation.linkActivated.emit("0")
        self.wait()
        self.assertEqual(self.window.side.why.vm.name, "Infiltration")
        self.window.side.why.show_link.clicked.emit()
        self.wait()
        self.assertEqual(self.session.selection.ids, (room,))
        self.assertFalse(self.asked)

    def test_the_derivation_follows_an_edit(self):
        room = by_number(self.session.project, "0.02").id
        self.window.ask_why(("input", room, "people"))
        self.session.do(SetRoomValue((room,), "people", Pinned(value=3.0)))
        self.wait()
        self.assertEqual((self.window.side.why.vm.figure, self.window.side.why.vm.origin), ("3", "pinned"))

    def test_every_part_of_the_screen_knows_its_figures(self):
        part = next(p for p in self.window.card.parts if p.vm.title == "Causes")
        address = why_under(part, part.mapToGlobal(QPoint(part.width() - 20, part.HEAD + 12)))
        self.assertEqual(address[0], "block cause")
        cell = self.loads.field.box_of(6, 14).center().toPoint()
        self.assertEqual(why_under(self.loads.field, self.loads.field.mapToGlobal(cell))[-2:], (6, 14))
        self.loads.drawer.head._choose(1)
        self.wait()
        table = self.loads.table
        index = table.model_.index(1, 4)
        at = table.viewport().mapToGlobal(table.visualRect(index).center())
        self.assertEqual(why_under(table.viewport(), at)[0], "room")

    def test_units_switch_in_a_derivation_too(self):
        self.window.ask_why(("outdoor", 6, 14))
        self.wait()
        si = self.window.side.why.vm.unit
        self.session.set_show(units="IP")
        self.wait()
        self.assertEqual((si, self.window.side.why.vm.unit), ("°C", "°F"))

    def test_a_figure_that_goes_away_closes_its_derivation(self):
        self.window.ask_why(("room", "nobody", "cooling"))
        self.wait()
        self.assertFalse(self.asked)
