"""The plan: shapes from the project, picking, drawing tool, what is painted again and what is not."""

import unittest

from msgspec import structs
from PySide6.QtCore import QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QKeyEvent, QPainter, QTransform
from PySide6.QtTest import QSignalSpy, QTest

from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import DrawRun, SetSize
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned
from garnetfin.ui.app import make_app
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.duct_tools import DrawDuct, Drawing
from garnetfin.ui.plan.geometry import distance_to, duct_paths, label_box, other_ends, path_of, wall_paths
from garnetfin.ui.theme import theme
from tests.example import by_number, one_room, station, station_results
from tests.ui.view_models.test_cards import SYSTEM, state


class Geometry(unittest.TestCase):
    def test_distance_to_a_stretch(self):
        self.assertEqual(distance_to((3, 4), (0, 0), (0, 0))[0], 5)
        self.assertEqual(distance_to((5, 2), (0, 0), (10, 0)), (2, 0.5))
        self.assertEqual(distance_to((-3, 4), (0, 0), (10, 0)), (5, 0.0))

    def test_label_goes_into_the_long_part_of_an_angled_room(self):
        x0, y0, x1, y1 = label_box(by_number(station(), "0.08").outline)
        self.assertEqual((y0, y1), (6, 7.8))
        self.assertGreater(x1 - x0, 20)

    def test_label_of_a_triangle_lies_inside(self):
        self.assertEqual(len(label_box(((0.0, 0.0), (4.0, 0.0), (0.0, 4.0)))), 4)

    def test_walls_are_solid_but_for_their_openings(self):
        paths = wall_paths(one_room(), "G")
        self.assertTrue(paths.solid.contains(QPointF(0.5, 0.0)))
        self.assertFalse(paths.solid.contains(QPointF(2.5, 0.0)))
        self.assertTrue(paths.glass.contains(QPointF(2.5, 0.0)))
        self.assertEqual([(w.id, o.id) for w, o, _, _ in paths.hits], [("w1", "W1")])

    def test_walls_are_made_again_only_when_walls_or_outlines_change(self):
        before = wall_paths(station(), "G")
        edited = SetRoomValue((station().rooms[0].id,), "people", Pinned(value=3.0)).apply(station())
        self.assertIs(wall_paths(edited, "G"), before)

    def test_door_leaves_give_way_to_labels(self):
        make_app()
        plan = QTransform(20.0, 0.0, 0.0, -20.0, 60.0, 400.0)
        label = QRectF(300.0, 150.0, 200.0, 100.0)

        def drawn(labels) -> QImage:
            image = QImage(900, 500, QImage.Format.Format_RGB32)
            image.fill(QColor("white"))
            p = QPainter(image)
            layers.paint_doors(p, plan, station(), "G", labels)
            p.end()
            return image

        def inked(image, box) -> int:
            part = image.copy(box.toRect())
            return sum(
                part.pixelColor(x, y) != QColor("white") for x in range(part.width()) for y in range(part.height())
            )

        free, yielding = drawn([]), drawn([label])
        self.assertGreater(inked(free, label), 20)
        self.assertEqual(inked(yielding, label), 0)
        self.assertGreater(inked(yielding, QRectF(yielding.rect())), 100)  # all other leaves stay

    def test_ducts_have_their_true_width_and_no_line_inside_a_tee(self):
        ducts = station_results().ducts[SYSTEM]
        paths = duct_paths(station(), ducts, "G")
        for segment_id, path in list(paths.pieces.items())[:12]:
            a, b = paths.lines[segment_id]
            box, width = path.boundingRect(), ducts.segments[segment_id].section.width_m
            self.assertAlmostEqual(min(box.width(), box.height()), min(width, abs(a[0] - b[0]) + abs(a[1] - b[1])), 6)
        joint = find(station().duct_points, station().segments[10].a)
        if joint.level_id == "G":
            self.assertTrue(paths.union.contains(QPointF(joint.x_m, joint.y_m)))

    def test_a_riser_shows_on_both_its_levels(self):
        ducts = station_results().ducts[SYSTEM]
        for level in ("G", "U"):
            self.assertEqual(len(duct_paths(station(), ducts, level).risers), 1)

    def test_far_ends(self):
        self.assertEqual(other_ends(one_room().segments), {"p1": "p2", "p2": "p1"})

    def test_path_closes(self):
        self.assertAlmostEqual(path_of(((0.0, 0.0), (2.0, 0.0), (2.0, 1.0))).length(), 3 + 5**0.5, 6)


class Canvas(unittest.TestCase):
    def setUp(self):
        self.app = make_app()
        theme.set_dark(False)
        self.plan = PlanCanvas()
        self.addCleanup(self.plan.close)
        self.plan.resize(980, 480)
        self.plan.show()
        self.app.processEvents()
        self.show_state(state("Ducts"))

    def show_state(self, s, level: str = "G", **style) -> None:
        self.state = s
        self.plan.render_state(s, layers.PlanStyle(**{"ducts": True, **style}), level)
        self.app.processEvents()

    def pixel(self, x: float, y: float) -> QPointF:
        return self.plan.map.map(QPointF(x, y))

    def test_the_whole_building_is_in_view(self):
        for x, y in ((-1.8, 0), (36, -2.4), (36, 14.4), (0, 14.4)):
            self.assertTrue(QRectF(self.plan.rect()).contains(self.pixel(x, y)))

    def test_north_is_up_and_metres_are_metres(self):
        self.assertLess(self.pixel(0, 10).y(), self.pixel(0, 0).y())
        back = self.plan.to_metres(self.pixel(7.25, 3.5))
        self.assertAlmostEqual(back.x(), 7.25, 9)
        self.assertAlmostEqual(back.y(), 3.5, 9)

    def test_the_smallest_part_under_the_mouse_is_meant(self):
        terminal = next(t for t in station().terminals if t.label == "0.04")
        point = find(station().duct_points, terminal.point_id)
        self.assertEqual(self.plan.what_is_at(self.pixel(point.x_m, point.y_m)), ("terminal", terminal.id))
        self.assertEqual(self.plan.what_is_at(self.pixel(9.3, 6.6))[0], "segment")
        self.assertEqual(self.plan.what_is_at(self.pixel(25.0, 1.0)), ("room", by_number(station(), "0.05").id))
        self.assertEqual(self.plan.what_is_at(QPointF(3, 3)), ("", ""))

    def test_windows_are_picked_where_there_are_no_ducts(self):
        self.show_state(state("Building"), ducts=False)
        self.assertEqual(self.plan.what_is_at(self.pixel(1.0, 0.0)), ("opening", "G-02/W02"))
        self.assertEqual(self.plan.what_is_at(self.pixel(3.0, 3.0))[0], "room")

    def test_shift_adds(self):
        picked = QSignalSpy(self.plan.picked)
        at = self.pixel(25.0, 1.0).toPoint()
        QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, at)
        self.assertEqual([picked.at(0)[2], picked.at(1)[2]], [False, True])

    def test_pan_by_middle_button_and_keys(self):
        before = self.plan.to_metres(QPointF(400, 200))
        QTest.mousePress(self.plan, Qt.MouseButton.MiddleButton, pos=QPoint(400, 200))
        QTest.mouseMove(self.plan, QPoint(450, 200))
        QTest.mouseRelease(self.plan, Qt.MouseButton.MiddleButton, pos=QPoint(450, 200))
        self.assertAlmostEqual(self.plan.to_metres(QPointF(450, 200)).x(), before.x(), 6)
        scale = self.plan.map.m11()
        QTest.keyClick(self.plan, Qt.Key.Key_Plus)
        self.assertGreater(self.plan.map.m11(), scale)
        QTest.keyClick(self.plan, Qt.Key.Key_Minus)
        self.assertAlmostEqual(self.plan.map.m11(), scale, 9)

    def test_the_picture_is_kept_until_something_drawn_changes(self):
        self.plan.grab()
        first = self.plan._picture.cacheKey()
        self.show_state(state("Ducts"))
        self.plan.grab()
        self.assertEqual(self.plan._picture.cacheKey(), first)
        self.show_state(state("Ducts", "segment", station().segments[5].id))
        self.plan.grab()
        self.assertNotEqual(self.plan._picture.cacheKey(), first)

    def test_a_wider_duct_is_drawn_wider(self):
        def supply_pixels() -> int:
            image = self.plan.grab().toImage()
            fill = theme.colour("supply_fill").rgb()
            return sum(
                image.pixel(x, y) == fill for x in range(0, image.width(), 2) for y in range(0, image.height(), 2)
            )

        before = supply_pixels()
        trunk = [s.id for s in station().segments if s.role == "trunk"]
        wide = SetSize(tuple(trunk), PinnedSize(shape="rectangular", width_m=1.2, height_m=0.25)).apply(station())
        self.show_state(state("Ducts", project=wide))
        self.assertGreater(supply_pixels(), 1.3 * before)

    def test_every_colouring_paints(self):
        ducts = station_results().ducts[SYSTEM]
        red = QColor("#ff0000")
        self.show_state(state("Ducts"), duct_fills={i: red for i in ducts.segments})
        image = self.plan.grab().toImage()
        self.assertTrue(
            any(image.pixel(x, y) == red.rgb() for x in range(image.width()) for y in range(0, image.height(), 3))
        )

    def test_a_plan_without_results_or_levels_paints_too(self):
        from garnetfin.project.tree import Project

        self.show_state(state("Ducts", project=Project()), level="")
        self.assertFalse(self.plan.grab().isNull())
        self.assertEqual(self.plan.what_is_at(QPointF(100, 100)), ("", ""))


class Labels(unittest.TestCase):
    def setUp(self):
        make_app()
        self.image = QImage(400, 300, QImage.Format.Format_RGB32)
        self.p = QPainter(self.image)

    def tearDown(self):
        self.p.end()

    def test_a_label_keeps_off_what_is_taken(self):
        taken = path_of(((0.0, 0.0), (400.0, 0.0), (400.0, 160.0), (0.0, 160.0)))
        at = layers._quiet(QRectF(0, 0, 400, 300), 80, 30, taken)
        self.assertGreaterEqual(at.y() - 15, 160)

    def test_where_nothing_is_free_there_is_no_label(self):
        taken = path_of(((0.0, 0.0), (400.0, 0.0), (400.0, 300.0), (0.0, 300.0)))
        self.assertIsNone(layers._quiet(QRectF(0, 0, 400, 300), 80, 30, taken))

    def test_text_says_where_it_stands(self):
        box = layers.text(self.p, QPointF(200, 100), "0.01", QColor("black"))
        self.assertAlmostEqual(box.center().x(), 200, 3)
        right = layers.text(self.p, QPointF(200, 100), "0.01", QColor("black"), align=Qt.AlignmentFlag.AlignRight)
        self.assertAlmostEqual(right.right(), 200, 3)


class DrawingDucts(unittest.TestCase):
    def setUp(self):
        self.app = make_app()
        self.plan = PlanCanvas()
        self.addCleanup(self.plan.close)
        self.plan.resize(900, 500)
        self.plan.show()
        self.app.processEvents()
        self.plan.render_state(state("Ducts", project=one_room()), layers.PlanStyle(ducts=True), "G")
        self.tool = DrawDuct(self.plan, Drawing())
        self.plan.tool = self.tool
        self.asked = QSignalSpy(self.plan.intent)

    def press(self, x: float, y: float, free: bool = False) -> None:
        self.tool.press(QPointF(x, y), Qt.KeyboardModifier.AltModifier if free else Qt.KeyboardModifier.NoModifier)

    def key(self, key: Qt.Key, text: str = "") -> bool:
        return self.tool.key(QKeyEvent(QKeyEvent.Type.KeyPress, key, Qt.KeyboardModifier.NoModifier, text))

    def test_right_angles_unless_alt_is_held(self):
        self.press(1.0, 1.0)
        self.press(3.0, 1.4)
        self.key(Qt.Key.Key_Return)
        command = self.asked.at(0)[0]
        self.assertEqual(command.points[1][:2], (3.0, 1.0))
        self.press(1.0, 1.0)
        self.press(3.0, 1.8, free=True)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.asked.at(1)[0].points[1][:2], (3.0, 1.8))

    def test_starts_off_the_side_of_a_duct_at_its_height(self):
        self.press(2.55, 5.0)
        self.press(4.0, 5.0)
        self.key(Qt.Key.Key_Return)
        command = self.asked.at(0)[0]
        self.assertIsInstance(command, DrawRun)
        self.assertAlmostEqual(command.points[0][0], 2.5, 6)
        self.assertEqual(command.points[0][2], 2.6)

    def test_ending_on_a_duct_ends_the_run_whose_terminal_is_where_it_began(self):
        self.press(4.5, 1.0)
        self.press(4.5, 6.0)
        self.press(2.52, 6.0)
        self.assertEqual(self.asked.count(), 1)
        drawn = self.asked.at(0)[0]
        self.assertEqual((drawn.terminal_room, drawn.points[-1][:2]), ("r1", (4.5, 1.0)))

    def test_a_free_end_in_a_room_gets_its_terminal(self):
        self.press(2.5, 5.0)
        self.press(4.0, 5.0)
        self.press(4.0, 1.0)
        self.tool.finish()
        self.assertEqual(self.asked.at(0)[0].terminal_room, "r1")
        self.tool.drawing.with_terminal = False
        self.press(2.5, 5.0)
        self.press(1.0, 5.0)
        self.press(1.0, 1.0)
        self.tool.finish()
        self.assertEqual(self.asked.at(1)[0].terminal_room, "")

    def test_typed_lengths_backspace_and_escape(self):
        said = QSignalSpy(self.plan.hint)
        self.press(1.0, 1.0)
        self.tool.move(QPointF(2.0, 1.0), Qt.KeyboardModifier.NoModifier)
        for sign in "1.2.3":
            self.key(Qt.Key.Key_1, sign)
        self.key(Qt.Key.Key_Return)
        self.assertIn("not a length", said.at(said.count() - 1)[0])
        for sign in "1.59":
            self.key(Qt.Key.Key_1, sign)
        self.key(Qt.Key.Key_Backspace)
        self.key(Qt.Key.Key_Return)
        self.key(Qt.Key.Key_Return)
        self.assertAlmostEqual(self.asked.at(0)[0].points[1][0], 2.5, 9)
        self.press(1.0, 1.0)
        self.key(Qt.Key.Key_Escape)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.asked.count(), 1)

    def test_one_point_is_no_run(self):
        self.press(1.0, 1.0)
        self.tool.finish()
        self.assertEqual(self.asked.count(), 0)

    def test_the_preview_paints(self):
        self.press(1.0, 1.0)
        self.tool.move(QPointF(3.0, 1.0), Qt.KeyboardModifier.NoModifier)
        before = self.plan.grab().toImage()
        self.tool.move(QPointF(4.5, 1.0), Qt.KeyboardModifier.NoModifier)
        self.assertNotEqual(before, self.plan.grab().toImage())

    def test_a_level_without_ducts_has_a_height_of_its_own(self):
        bare = structs.replace(
            one_room(),
            segments=(),
            terminals=(),
            duct_points=(),
            air_systems=(structs.replace(one_room().air_systems[0], root_point_id=""),),
        )
        self.plan.render_state(state("Ducts", project=bare), layers.PlanStyle(ducts=True), "G")
        self.assertAlmostEqual(self.tool._height(), 2.45)
