"""Charts for other programs: pictures and drawings open in independent readers, figures are those of the engine."""

import csv
import io
import tempfile
import unittest
from pathlib import Path

from lxml import etree
from numpy.testing import assert_allclose
from PIL import Image

from garnetfin.ui.charts.base import Chart
from garnetfin.ui.charts.writing import KINDS, as_bytes, chart_under, csv_of
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_figures import figures_of
from tests.example import station_results
from tests.ui.driver import WindowTest


class Written(WindowTest):
    first = "Loads"

    def charts(self, link: str) -> list[Chart]:
        self.session.set_show(link=link)
        self.wait()
        return [c for c in self.window.view(link).findChildren(Chart) if c.isVisible() and c.shows]

    def rows(self, chart: Chart) -> list[list[str]]:
        return list(csv.reader(io.StringIO(csv_of(chart).decode("utf-8-sig"))))

    def test_every_chart_in_sight_opens_as_picture_and_drawing(self):
        seen = 0
        for link in ("Climate", "Loads", "Air", "Balance", "Fan"):
            for chart in self.charts(link):
                with self.subTest(link=link, chart=type(chart).__name__):
                    image = Image.open(io.BytesIO(as_bytes(chart, "png")))
                    self.assertEqual(image.size, (2 * chart.width(), 2 * chart.height()))
                    self.assertGreater(len(image.convert("RGB").getcolors(1 << 24)), 8, "nothing is drawn")
                    drawing = etree.fromstring(as_bytes(chart, "svg"))
                    paths = drawing.xpath("//*[local-name()='path' or local-name()='polyline' or local-name()='text']")
                    self.assertGreater(len(paths), 8)
                    seen += 1
        self.assertGreater(seen, 5)

    def test_figures_of_a_day_are_the_causes_of_the_building(self):
        chart = next(c for c in self.charts("Loads") if type(c).__name__ == "DayByCause")
        head, *rows = self.rows(chart)
        self.assertEqual(len(rows), 24)
        block = station_results().blocks["ahu-north"]
        at = head.index("total [kW]")
        governing = rows[chart.vm.hour]
        assert_allclose(float(governing[at]), block.peak_w / 1000, rtol=1e-3)
        assert_allclose(sum(float(x) for x in governing[1:at]), block.peak_w / 1000, rtol=1e-3)

    def test_figures_of_the_fan_and_of_runs(self):
        fan = next(c for c in self.charts("Fan") if type(c).__name__ == "FanChart")
        names = {r[0] for r in self.rows(fan)[1:]}
        self.assertIn("system curve", names)
        stair = next(c for c in self.charts("Balance") if type(c).__name__ == "PressureStair")
        runs = self.rows(stair)[1:]
        index = station_results().ducts["ahu-north"].index.label
        first = next(r for r in runs if r[0] == index)
        self.assertAlmostEqual(float(first[2]), station_results().ducts["ahu-north"].runs.fan_pa, delta=0.5)

    def test_the_menu_over_a_chart_writes_it(self):
        chart = self.charts("Loads")[0]
        self.assertIs(chart_under(chart), chart)
        menu = self.window.menu_at(chart, chart.mapToGlobal(chart.rect().center()))
        words = [a.text() for a in menu.actions()]
        self.assertIn("Copy as picture", words)
        self.assertIn("Export figures (CSV) …", words)
        next(a for a in menu.actions() if a.text() == "Copy as picture").trigger()
        self.assertFalse(self.app.clipboard().image().isNull())
        with tempfile.TemporaryDirectory() as folder:
            for kind in KINDS:
                self.window.write_chart(chart, kind, Path(folder) / f"c.{kind}")
                self.assertGreater((Path(folder) / f"c.{kind}").stat().st_size, 100)
            self.window.write_chart(chart, "png", Path(folder) / "none" / "c.png")
        self.assertIn("could not be written", self.window.banner.sentence.words)

    def test_dark_colours_stay_on_the_screen(self):
        chart = self.charts("Loads")[0]
        light = as_bytes(chart, "svg")
        theme.set_dark(True)
        self.addCleanup(theme.set_dark, False)
        self.assertEqual(as_bytes(chart, "svg"), light)
        self.assertTrue(theme.dark)

    def test_a_drawing_without_figures_says_so(self):
        train = next(c for c in self.charts("Air") if type(c).__name__ == "TrainChart")
        self.assertIsNone(figures_of(train.vm))
        self.assertRaises(ValueError, csv_of, train)
        self.assertNotIn(
            "CSV",
            " ".join(a.text() for a in self.window.menu_at(train, train.mapToGlobal(train.rect().center())).actions()),
        )


if __name__ == "__main__":
    unittest.main()
