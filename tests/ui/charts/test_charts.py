"""The base of charts, and charts as widgets: where things lie, what a click means, what is painted."""

import itertools
import unittest

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QSignalSpy, QTest

from garnetfin.core.tables import fitting_tables
from garnetfin.ui.app import make_app
from garnetfin.ui.charts.air import NeedsStrip
from garnetfin.ui.charts.base import Labels, Scale, reach, ticks
from garnetfin.ui.charts.climate import MonthDays
from garnetfin.ui.charts.fan import FanChart
from garnetfin.ui.charts.loads import DayByCause, HourField
from garnetfin.ui.charts.pictograms import paint_pictogram
from garnetfin.ui.charts.pressure_along_run import PressureStair
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import charts
from garnetfin.ui.views.fan import SpeedSlider
from tests.example import station, station_results
from tests.ui.view_models.test_cards import SYSTEM, state


class Base(unittest.TestCase):
    def test_ticks_are_round_and_inside(self):
        for low, high, about in ((0, 29, 5), (-8, 32, 4), (0, 0.07, 5), (-250, 410, 8), (3, 3.4, 4)):
            found = ticks(low, high, about)
            self.assertTrue(2 <= len(found) <= about * 2 + 1, (low, high, found))
            self.assertTrue(all(low - 1e-9 <= t <= high + 1e-9 for t in found))
            steps = {round(b - a, 9) for a, b in itertools.pairwise(found)}
            self.assertEqual(len(steps), 1)

    def test_a_range_without_width_has_one_tick(self):
        self.assertEqual(ticks(5, 5), [5])

    def test_reach_holds_all_values_and_ends_on_ticks(self):
        for values in ([3, 28], [-7, 12], [0.2], [], [float("nan"), 4]):
            low, high = reach(values)
            self.assertTrue(all(low <= v <= high for v in values if v == v))
            self.assertLess(low, high)

    def test_scale_and_back(self):
        scale = Scale(10, 30, 200, 100)
        self.assertEqual((scale(10), scale(30), scale(20)), (200, 100, 150))
        self.assertAlmostEqual(scale.back(scale(17.3)), 17.3)

    def test_labels_yield_rather_than_overlap(self):
        make_app()
        image = QImage(200, 100, QImage.Format.Format_RGB32)
        p = QPainter(image)
        labels = Labels()
        placed = sum(labels.place(p, QPointF(100, 50), f"label {k}", "ink") for k in range(30))
        self.assertTrue(1 <= placed <= 8)
        self.assertTrue(labels.place(p, QPointF(100, 50), "must", "ink", must=True))
        p.end()


class ChartTest(unittest.TestCase):
    def show(self, chart, vm, width: int = 700, height: int = 460):
        self.app = make_app()
        theme.set_dark(False)
        chart.resize(width, height)
        chart.render_vm(vm)
        chart.show()
        self.addCleanup(chart.close)
        self.app.processEvents()
        return chart

    def has_colour(self, chart, colour: QColor, box=None) -> bool:
        image = chart.grab().toImage()
        rows, columns = (
            (range(image.height()), range(image.width()))
            if box is None
            else (range(box.top(), box.bottom()), range(box.left(), box.right()))
        )
        wanted = colour.rgb()
        return any(image.pixel(x, y) == wanted for y in rows for x in columns)


class HourFields(ChartTest):
    def setUp(self):
        s = state("Loads")
        block = charts.scope_block(s, charts.scope_rooms(s)[0])
        self.field = self.show(HourField(), charts.hour_field(s, block, "all", "sensible"))

    def test_every_cell_answers_to_its_click(self):
        picked = QSignalSpy(self.field.picked)
        for month, hour in ((0, 0), (11, 23), (6, 14)):
            QTest.mouseClick(
                self.field, Qt.MouseButton.LeftButton, pos=self.field.box_of(month, hour).center().toPoint()
            )
            self.assertEqual(picked.at(picked.count() - 1), [month, hour])
        QTest.mouseClick(self.field, Qt.MouseButton.LeftButton, pos=QPointF(5, 5).toPoint())
        self.assertEqual(picked.count(), 3)

    def test_arrow_keys_walk_around_the_edges(self):
        picked = QSignalSpy(self.field.picked)
        month, hour = self.field.vm.chosen
        QTest.keyClick(self.field, Qt.Key.Key_Up)
        QTest.keyClick(self.field, Qt.Key.Key_Right)
        self.assertEqual([picked.at(0), picked.at(1)], [[(month - 1) % 12, hour], [month, (hour + 1) % 24]])

    def test_the_chosen_hour_is_ringed(self):
        box = self.field.box_of(*self.field.vm.chosen).adjusted(-5, -5, 5, 5).toRect()
        self.assertTrue(self.has_colour(self.field, theme.colour("garnet"), box))


class Others(ChartTest):
    def test_day_by_cause_paints_every_cause_that_weighs(self):
        s = state("Loads")
        block = charts.scope_block(s, charts.scope_rooms(s)[0])
        day = self.show(DayByCause(), charts.day_by_cause(s, block, "sensible"), 980, 200)
        for cause in ("solar through glass", "people", "equipment"):
            self.assertTrue(self.has_colour(day, theme.cause(cause)), cause)

    def test_a_month_is_picked_by_click_and_key(self):
        days = self.show(MonthDays(), charts.months(state("Climate"), station_results().climate, 6), 980, 600)
        picked = QSignalSpy(days.picked)
        QTest.mouseClick(days, Qt.MouseButton.LeftButton, pos=days.box_of(9).center().toPoint())
        QTest.keyClick(days, Qt.Key.Key_Right)
        QTest.keyClick(days, Qt.Key.Key_Up)
        self.assertEqual([picked.at(k)[0] for k in range(3)], [9, 7, 0])

    def test_a_room_is_picked_on_the_needs_strip(self):
        strip = self.show(NeedsStrip(), charts.needs(state("Air"), station_results().air[SYSTEM]), 980)
        picked = QSignalSpy(strip.picked)
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPointF(400, strip.TOP + strip.ROW * 3.5).toPoint())
        self.assertEqual(picked.at(0)[0], strip.vm.rows[3].room_id)
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPointF(400, 4).toPoint())
        self.assertEqual(picked.count(), 1)

    def test_a_dot_of_the_stair_is_its_terminal(self):
        results = station_results()
        stair = self.show(
            PressureStair(), charts.stair(state("Balance"), results.ducts[SYSTEM], results.fans[SYSTEM]), 640, 640
        )
        _, x, y = stair._scales()
        for path in stair.vm.paths[:5]:
            a, b = path.corners[-1]
            found = stair.terminal_at(QPointF(x(a), y(b)))
            near = next(q for q in stair.vm.paths if q.terminal_id == found).corners[-1]
            self.assertLess(abs(x(near[0]) - x(a)) + abs(y(near[1]) - y(b)), 15)
        self.assertEqual(stair.terminal_at(QPointF(2, 2)), "")

    def test_the_stair_walks_by_keys_along_the_surplus(self):
        results = station_results()
        stair = self.show(
            PressureStair(), charts.stair(state("Balance"), results.ducts[SYSTEM], results.fans[SYSTEM]), 640, 640
        )
        picked = QSignalSpy(stair.picked)
        QTest.keyClick(stair, Qt.Key.Key_Down)
        self.assertEqual(picked.at(0)[0], results.ducts[SYSTEM].index.terminal_id)

    def test_fan_chart_marks_its_operating_point(self):
        chart = self.show(FanChart(), charts.fan_chart(state("Fan"), station_results().fans[SYSTEM]), 980, 420)
        self.assertTrue(self.has_colour(chart, theme.colour("supply")))
        self.assertTrue(self.has_colour(chart, theme.colour("garnet")))

    def test_all_charts_paint_in_the_dark_and_when_small(self):
        results, s = station_results(), state("Balance")
        for chart, vm in (
            (PressureStair(), charts.stair(s, results.ducts[SYSTEM], results.fans[SYSTEM])),
            (FanChart(), charts.fan_chart(s, results.fans[SYSTEM])),
            (MonthDays(), charts.months(s, results.climate, 0)),
        ):
            self.show(chart, vm, 420, 300)
            theme.set_dark(True)
            self.assertTrue(self.has_colour(chart, theme.colour("paper")))
            theme.set_dark(False)

    def test_slider_keeps_to_the_fans_range(self):
        slider = SpeedSlider()
        make_app()
        slider.resize(700, 58)
        slider.set_range(400, 1280, 755, "")
        moved = QSignalSpy(slider.moved)
        QTest.mousePress(slider, Qt.MouseButton.LeftButton, pos=QPointF(slider.at(1280) + 8, 23).toPoint())
        QTest.mouseRelease(slider, Qt.MouseButton.LeftButton)
        QTest.keyClick(slider, Qt.Key.Key_Right)
        self.assertEqual(moved.at(0)[0], 1280)
        self.assertEqual(moved.at(1)[0], 765)
        self.assertGreater(moved.at(0)[1], 0)  # a pull is a gesture, a key is not
        self.assertEqual(moved.at(1)[1], 0)


class Stations(unittest.TestCase):
    def test_the_example_has_a_terminal_in_every_supplied_room(self):
        have = {t.room_id for t in station().terminals}
        for row in station_results().air[SYSTEM].rooms:
            if row.flow_m3s:
                self.assertIn(row.room_id, have)


class Pictograms(unittest.TestCase):
    def drawn(self, fitting: str) -> bytes:
        picture = QImage(64, 64, QImage.Format.Format_ARGB32)
        picture.fill(Qt.GlobalColor.white)
        painter = QPainter(picture)
        paint_pictogram(painter, QRectF(4, 4, 56, 56), fitting, QColor("black"))
        painter.end()
        return bytes(picture.constBits())

    def test_every_row_of_the_catalogue_is_drawn_and_a_picture_of_one_name_is_one(self):
        blank = QImage(64, 64, QImage.Format.Format_ARGB32)
        blank.fill(Qt.GlobalColor.white)
        by_picture: dict[str, set[bytes]] = {}
        for name, entry in fitting_tables().items():
            drawn = self.drawn(name)
            self.assertNotEqual(drawn, bytes(blank.constBits()), name)
            by_picture.setdefault(f"{entry['picture']} {entry['shape'] == 'round'}", set()).add(drawn)
        self.assertEqual([p for p, drawings in by_picture.items() if len(drawings) != 1], [])
        # kinds an eye must tell apart look different
        apart = ("wye-div", "tee-div-90", "takeoff-conical", "takeoff-shoe-45", "cross-div-90", "tee-div-bullhead",
                 "elbow-rect-mitred", "elbow-rect-vaned-single", "trans-converging", "trans-rect-diverging",
                 "entry-flush", "exit-abrupt")  # fmt: skip
        self.assertEqual(len({self.drawn(name) for name in apart}), len(apart))
