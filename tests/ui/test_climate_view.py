"""Climate driven as an engineer would: place, months, weather file with faults, year, sun path."""

import tempfile
from dataclasses import replace
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.project.edits.site import SetWeather
from garnetfin.project.values import Imported, Pinned, Rule
from tests.core.test_weather import synthetic
from tests.exchange.test_weather_files import epw, plain
from tests.ui.driver import WindowTest


class Climate(WindowTest):
    first = "Climate"

    def setUp(self):
        super().setUp()
        self.climate = self.view("Climate")
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def take_in(self, text: str, name: str) -> None:
        path = self.folder / name
        path.write_text(text)
        self.window.insert(path, "weather")
        self.wait(lambda: self.climate.page.found is not None and not self.climate.reader.busy)

    def test_a_month_is_clicked_and_typed(self):
        self.click(self.climate.days, self.climate.days.box_of(2).center())
        self.type_into("month_dry_bulb_c", "25")
        self.wait()
        self.assertEqual(self.session.project.site.months[2].dry_bulb_c, Pinned(value=25.0))
        self.assertEqual(self.window.card.field("month_dry_bulb_c").vm.origin, "pinned")
        field = self.type_into("month_dry_bulb_c", "5")  # below its wet bulb: refused in words
        self.assertIn("above the dry bulb", field.fault)
        self.type_into("month_dry_bulb_c", "")
        self.wait()
        self.assertEqual(self.session.project.site.months[2].dry_bulb_c, Rule())
        self.assertEqual(self.window.card.field("month_dry_bulb_c").vm.origin, "rule")

    def test_another_place_in_one_choice_and_back(self):
        before = self.session.results.blocks[""].peak_w
        self.choose("place_place_id", "sandmere")
        self.wait()
        self.assertEqual(self.session.project.site.place_id, "sandmere")
        self.assertNotEqual(self.session.results.blocks[""].peak_w, before)
        while self.session.project.site.place_id:  # the keyboard walked over the places between
            self.session.undo()
        self.wait()
        self.assertAlmostEqual(self.session.results.blocks[""].peak_w, before)

    def test_position_is_typed(self):
        self.type_into("site_latitude_deg", "52")
        self.type_into("site_name", "Elsewhere")
        self.wait()
        self.assertEqual((self.session.project.site.latitude_deg, self.session.project.site.name), (52.0, "Elsewhere"))
        self.assertIn("between", self.type_into("site_latitude_deg", "95").fault)

    def test_a_weather_file_is_shown_taken_and_gives_the_year(self):
        self.take_in(epw(synthetic(40.0)), "year.epw")
        self.assertIn("Nowhere Point", self.climate.page.line._words)
        self.assertEqual(self.climate.page.take_button.text(), "Apply weather and place")
        old = self.session.project.site
        self.click(self.climate.page.keep_place, (4, 4))
        self.wait()
        site = self.session.project.site
        self.assertEqual((site.name, site.latitude_deg, site.weather.name), (old.name, old.latitude_deg, "year.epw"))
        self.session.undo()
        self.take_in(epw(synthetic(40.0)), "year.epw")
        self.click(self.climate.page.take_button, (8, 8))
        self.wait()
        site = self.session.project.site
        self.assertEqual((site.name, site.latitude_deg, site.weather.name), ("Nowhere Point", 40.0, "year.epw"))
        self.assertIn("The place is now Nowhere Point, 40.00°", self.window.banner.sentence.toolTip())
        self.assertFalse(any(isinstance(m.dry_bulb_c, Imported) for m in site.months))
        self.assertIs(self.climate._stack.currentWidget(), self.climate.year)
        # The duration curve counts the hours beyond each design value, and a hotter pinned one has none.
        marks = self.climate.curve.vm.marks
        self.assertRegex(marks[0].text, r"^summer .* \d+ h above$")
        self.climate.month = int(self.session.results.climate.days.dry_bulb_c.max(axis=1).argmax())
        self.session.changed.emit()
        self.wait()
        self.type_into("month_dry_bulb_c", "45")
        self.wait()
        self.assertIn("0 h above, pinned", self.climate.curve.vm.marks[0].text)
        hot = self.session.results.climate.days.dry_bulb_c.max()
        self.choose("site_summer_percent", "2")
        self.wait()
        self.assertEqual(self.session.results.climate.days.dry_bulb_c.max(), hot)  # pinned stays

    def test_the_hours_travel_with_the_file(self):
        self.take_in(epw(synthetic(40.0)), "year.epw")
        self.click(self.climate.page.take_button, (8, 8))
        self.wait()
        path = self.folder / "job.gfin"
        self.session.save(path)
        self.session.open(path)
        self.wait()
        self.assertIsNotNone(self.climate.hours(self.session.state))
        self.window.do(SetWeather(None))
        self.wait()
        self.assertIsNone(self.session.project.site.weather)

    def test_faults_are_mended_by_a_click_only(self):
        year, before = synthetic(46.2), self.session.project.site.weather
        dry = year.dry_c.copy()
        dry[100:102] = np.nan
        self.take_in(plain(replace(year, dry_c=dry)), "holes.csv")
        page = self.climate.page
        self.assertEqual([f[0] for f in page.found.faults], ["gap"])
        index = page.faults.model_.index(0, 1)
        self.click(page.faults.viewport(), QPointF(page.faults.visualRect(index).center()))
        self.wait(lambda: not self.climate.reader.busy and not page.found.faults)
        self.assertEqual(len(page.found.mended), 1)
        QTest.keyClick(page, Qt.Key.Key_Escape)
        self.wait()
        self.assertIs(self.session.project.site.weather, before)
        self.assertIs(self.climate._stack.currentWidget(), self.climate.days)

    def test_a_broken_file_is_said_and_nothing_changes(self):
        path, before = self.folder / "year.csv", self.session.project.site.weather
        path.write_text("a,b\n1,2\n")
        self.window.insert(path, "weather")
        self.wait(lambda: self.window.banner.isVisible() and not self.climate.reader.busy)
        self.assertIs(self.session.project.site.weather, before)

    def test_without_hours_the_year_says_what_helps(self):
        self.climate.show_part("year")
        self.wait()
        self.assertIs(self.climate._stack.currentWidget(), self.climate._nothing)

    def test_the_sun_stands_where_the_hour_says(self):
        self.session.set_show(hour=(11, 12))
        self.climate.show_part("sun")
        self.wait()
        vm = self.climate.sun.vm
        self.assertEqual(vm.chosen, 11)
        self.assertAlmostEqual(np.degrees(vm.sun[1]), 90 - 46.2 - 23.4, delta=1.0)  # noon at midwinter
        self.session.set_show(hour=(11, 2))
        self.wait()
        self.assertIsNone(self.climate.sun.vm.sun)
        middle, r = self.climate.sun._middle()
        north = self.climate.sun.at(0.0, 0.0)
        self.assertAlmostEqual(north.y(), middle.y() - r)
