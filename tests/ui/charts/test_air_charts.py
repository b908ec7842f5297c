"""The train, the chart and the needs strip as widgets: what is where, what the mouse reaches, light and dark."""

import itertools
import unittest

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest

from garnetfin.project.edits.systems import SetPattern
from garnetfin.ui.app import make_app
from garnetfin.ui.charts.air import SIGNS, NeedsStrip
from garnetfin.ui.charts.psychro import PsychroChart
from garnetfin.ui.charts.train import LEFT, LOW_DUCT, TOP_DUCT, TrainChart
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import air as vms
from garnetfin.ui.view_models import charts, psychro
from tests.example import TREATING
from tests.ui.view_models.test_air import AHU, state


class Train(unittest.TestCase):
    def setUp(self):
        make_app()
        theme.set_dark(False)
        self.chart = TrainChart()
        self.addCleanup(self.chart.deleteLater)

    def show(self, pattern: str = "cav_reheat", width: int = 984):
        s = state(SetPattern(AHU, pattern))
        self.chart.resize(width, 236)
        self.chart.render_vm(vms.train(s, vms.point_of(s, "cooling")))
        return self.chart.vm

    def test_parts_stand_in_the_order_of_the_air_inside_the_chart(self):
        for pattern in TREATING:
            for width in (984, 1500):
                vm, places = self.show(pattern, width), self.chart.places()
                supply = [places[p.id] for p in vm.parts if p.side == "supply"]
                back = [places[p.id] for p in vm.parts if p.side == "return" and p.kind != "relief"]
                self.assertEqual(supply, sorted(supply))
                self.assertEqual(back, sorted(back, reverse=True))  # the air runs to the left
                self.assertTrue(all(LEFT - 4 <= x <= width - 4 for x in places.values()))
                self.assertGreater(min((b - a for a, b in itertools.pairwise(supply)), default=99), 40)

    def test_the_mouse_reaches_every_part_and_nothing_between_the_ducts(self):
        vm, places = self.show(), self.chart.places()
        for part in vm.parts:
            y = TOP_DUCT + 20 if part.side == "return" else LOW_DUCT + 25
            self.assertEqual(self.chart.part_at(QPointF(places[part.id], y)), part.id)
        self.assertEqual(self.chart.part_at(QPointF(600.0, 110.0)), "")
        self.assertEqual(self.chart.part_at(QPointF(5.0, 5.0)), "")

    def test_drops_come_before_the_part_to_the_right_and_before_the_rooms_at_the_end(self):
        self.show()
        places = self.chart.places()
        self.assertEqual(self.chart.before_at(QPointF(places["cooling"] - 5, LOW_DUCT), "supply")[0], "cooling")
        self.assertEqual(self.chart.before_at(QPointF(self.chart.width() - 10.0, LOW_DUCT), "supply")[0], "rooms")
        self.assertEqual(self.chart.before_at(QPointF(places["return_fan"] + 20, TOP_DUCT), "return")[0], "return_fan")

    def test_tags_of_states_do_not_lie_on_each_other(self):
        from PySide6.QtGui import QPainter, QPixmap

        for pattern in TREATING:
            self.show(pattern)
            places, spots = self.chart.places(), []
            for s in self.chart.vm.states:
                at = self.chart._tag_place(s, places)
                if at is not None:
                    spots.append(at)
            self.assertGreaterEqual(len(spots), 5)
            picture = QPixmap(self.chart.size())
            p = QPainter(picture)
            self.chart.paint_chart(p)
            p.end()
            self.assertFalse(picture.isNull())

    def test_light_and_dark_differ_and_the_chosen_part_is_garnet(self):
        self.show()
        light = self.chart.grab().toImage()
        theme.set_dark(True)
        self.assertNotEqual(light, self.chart.grab().toImage())
        theme.set_dark(False)
        garnet = theme.colour("garnet")
        self.assertFalse(self._has(light, garnet, "cooling"))
        from dataclasses import replace

        self.chart.render_vm(replace(self.chart.vm, chosen="cooling"))
        self.assertTrue(self._has(self.chart.grab().toImage(), garnet, "cooling"))

    def _has(self, image, colour: QColor, part: str) -> bool:
        x = int(self.chart.places()[part])
        return any(
            image.pixelColor(i, j).name() == colour.name()
            for i in range(x - 16, x + 17)
            for j in range(int(LOW_DUCT) - 8, int(LOW_DUCT) + 62)
        )

    def test_keys_step_through_the_parts(self):
        found = []
        vm = self.show()
        self.chart.picked.connect(found.append)
        QTest.keyClick(self.chart, Qt.Key.Key_Right)
        self.assertEqual(found, [vm.parts[0].id])
        self.chart.setFocus()
        QTest.keyClick(self.chart, Qt.Key.Key_A)  # any other key is let through
        self.assertEqual(len(found), 1)


class Psychro(unittest.TestCase):
    def setUp(self):
        self.app = make_app()
        theme.set_dark(False)
        self.chart = PsychroChart()
        self.addCleanup(self.chart.deleteLater)
        self.chart.resize(620, 300)
        self.chart.show()

    def show(self, kind: str = "cooling", units: str = "SI"):
        s = state(units=units)
        self.chart.render_vm(psychro.psychro(s, vms.point_of(s, kind)))
        self.app.processEvents()
        self.chart.plot.grab()
        return self.chart.vm

    def test_states_lie_where_their_figures_say(self):
        for units in ("SI", "IP"):
            vm = self.show(units=units)
            out, room = (next(s for s in vm.states if s.node == n) for n in ("outdoor", "rooms"))
            a, b = self.chart.spot("outdoor"), self.chart.spot("rooms")
            self.assertGreater(a.x(), b.x())  # warmer to the right
            self.assertLess(a.y(), b.y())  # damper above
            self.assertEqual((self.chart.states.px["outdoor"] - a).manhattanLength() < 2, True)
            self.assertGreater(out.t, room.t)

    def test_the_mouse_finds_states_and_of_two_the_one_that_can_be_dragged(self):
        self.show()
        layer = self.chart.states
        self.assertEqual(layer.state_near(self.chart.spot("outdoor")).node, "outdoor")
        self.assertIsNone(layer.state_near(QPointF(300, 20)))
        self.assertIsNone(layer.state_near(self.chart.spot("outdoor"), movable=True))
        self.assertEqual(layer.state_near(self.chart.spot("supply"), movable=True).node, "supply")

    def test_a_double_click_shows_all_again(self):
        vm = self.show()
        box = self.chart.plot.getPlotItem().getViewBox()
        box.scaleBy((0.3, 0.3))

        class Twice:
            def double(self):
                return True

        self.chart._clicked(Twice())
        self.assertAlmostEqual(box.viewRange()[0][0], vm.x_range[0], places=6)
        self.assertAlmostEqual(box.viewRange()[1][1], vm.y_range[1], places=6)

    def test_lines_stay_while_states_move(self):
        one = self.show()
        self.assertIs(self.chart._lines.vm.lines, one.lines)
        made = self.chart._lines._made[1]
        self.show("heating")
        self.chart.plot.grab()
        self.assertIs(self.chart._lines._made[1], made)
        theme.set_dark(True)
        dark = self.chart.grab().toImage()
        theme.set_dark(False)
        self.assertNotEqual(dark, self.chart.grab().toImage())


class Needs(unittest.TestCase):
    def test_every_need_has_its_sign_and_a_row_is_picked(self):
        make_app()
        theme.set_dark(False)
        strip = NeedsStrip()
        self.addCleanup(strip.deleteLater)
        s = state()
        strip.resize(984, 400)
        strip.render_vm(charts.needs(s, s.results.air[AHU]))
        self.assertEqual(len(SIGNS), len(strip.vm.rows[0].needs))
        found = []
        strip.picked.connect(found.append)
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPointF(300, strip.TOP + 1.5 * strip.ROW).toPoint())
        self.assertEqual(found, [strip.vm.rows[1].room_id])
        self.assertFalse(strip.grab().isNull())
