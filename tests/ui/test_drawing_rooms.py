"""Drawing a building in the window: new project, rooms, corners pulled, rooms removed."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.project.lookup import find
from tests.ui.driver import WindowTest


class NewBuilding(WindowTest):
    open_example = False

    def setUp(self):
        super().setUp()
        self.app.processEvents()
        self.click(self.window.start_page.start_new, (20, 10))
        self.wait()
        self.building = self.window.view("Building")
        self.plan = self.building.plan

    def at(self, x: float, y: float):
        return self.plan.map.map(QPointF(x, y)).toPoint()

    def rectangle(self, x0: float, y0: float, x1: float, y1: float) -> None:
        if self.plan.tool is None:
            self.click(self.building.room_tool, (14, 14))
        for x, y in ((x0, y0), (x1, y1)):
            QTest.mouseMove(self.plan, self.at(x, y))
            QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.at(x, y))
        self.wait()

    def test_rooms_by_rectangle_share_walls_and_get_loads(self):
        self.rectangle(0, 0, 5, 4)
        self.assertEqual(self.session.selection.kind, "room")
        self.rectangle(5.1, 0.05, 9, 4)  # attracted by the first room's wall and corners
        first, second = self.session.project.rooms
        self.assertEqual(min(x for x, _ in second.outline), max(x for x, _ in first.outline))
        self.assertTrue(any({w.room_a, w.room_b} == {first.id, second.id} for w in self.session.project.walls))
        self.assertEqual(self.link("Building").figure, "2")
        self.assertFalse(self.link("Loads").missing)
        self.assertEqual(self.link("Ducts").figure, "no ducts")
        self.assertEqual(self.window.card.vm.title, "Cellular office")

    def test_a_room_by_its_corners_with_typed_lengths(self):
        self.click(self.building.room_tool, (14, 14))
        self.click(self.building.way_strip, self.building.way_strip.box_of("corners").center())
        QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.at(0, 0))
        for (x, y), length in (((5, 0), "6.2"), ((6.2, 3), "3.4"), ((2, 3.4), "6.2")):
            QTest.mouseMove(self.plan, self.at(x, y))
            QTest.keyClicks(self.plan, length)
            QTest.keyClick(self.plan, Qt.Key.Key_Return)
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()
        room = self.session.project.rooms[0]
        self.assertAlmostEqual(self.session.results.room(room.id).figures.area_m2.figure, 6.2 * 3.4, 2)

    def test_lengths_are_typed_in_the_units_of_whoever_draws(self):
        self.session.set_show(units="IP")
        self.wait()
        self.click(self.building.room_tool, (14, 14))
        self.click(self.building.way_strip, self.building.way_strip.box_of("corners").center())
        QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.at(0, 0))
        for (x, y), length in (((5, 0), "20"), ((6.1, 3), "12.5"), ((2, 3.8), "20")):
            QTest.mouseMove(self.plan, self.at(x, y))
            QTest.keyClicks(self.plan, length)
            QTest.keyClick(self.plan, Qt.Key.Key_Return)
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()
        room = self.session.project.rooms[0]
        self.assertAlmostEqual(self.session.results.room(room.id).figures.area_m2.figure, 250 * 0.3048**2, 2)

    def test_a_click_near_the_first_corner_closes_the_room_at_right_angles(self):
        self.click(self.building.room_tool, (14, 14))
        self.click(self.building.way_strip, self.building.way_strip.box_of("corners").center())
        corners = [self.at(0, 0), self.at(6, 0), self.at(6, 4), self.at(0, 4), self.at(0, 0)]
        for at, (dx, dy) in zip(corners, ((0, 0), (0, 3), (-2, 0), (4, 3), (5, -4))):  # a hand is some pixels off
            at += QPoint(dx, dy)
            QTest.mouseMove(self.plan, at)
            QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        self.wait()
        self.assertEqual(len(self.session.project.rooms), 1)
        outline = self.session.project.rooms[0].outline
        self.assertEqual(len(outline), 4)
        self.assertEqual((len({x for x, _ in outline}), len({y for _, y in outline})), (2, 2))  # nothing askew

    def test_a_shaft_is_drawn_and_the_room_beside_has_no_outside_wall_there(self):
        self.rectangle(0, 0, 5, 4)
        room = self.session.project.rooms[0].id
        outside = sum(w.length_m for w in self.session.project.walls if w.outside)
        self.click(self.building.block_tool, (14, 14))
        self.click(self.building.mark_strip, self.building.mark_strip.box_of("shaft").center())
        self.rectangle(5, 0, 6, 4)
        (mark,) = self.session.project.plan_marks
        self.assertEqual(mark.kind, "shaft")
        beside = [
            w for w in self.session.project.walls if room in (w.room_a, w.room_b) and "shaft" in (w.room_a, w.room_b)
        ]
        self.assertAlmostEqual(sum(w.length_m for w in beside), 4.0, 3)
        self.assertAlmostEqual(sum(w.length_m for w in self.session.project.walls if w.outside), outside - 4.0, 3)
        self.session.undo()
        self.wait()
        self.assertEqual(self.session.project.plan_marks, ())

    def test_an_overlap_is_refused_in_the_banner(self):
        self.rectangle(0, 0, 5, 4)
        self.rectangle(2, 2, 7, 6)
        self.assertEqual(len(self.session.project.rooms), 1)
        self.assertIn("overlap room 0.01", self.window.banner.sentence.words)

    def test_a_corner_is_pulled_and_undone(self):
        self.rectangle(0, 0, 5, 4)
        QTest.keyClick(self.plan, Qt.Key.Key_Escape)
        project = self.session.project
        for start, end in (((5, 4), (6, 5)), ((2.5, 0), (2.5, -1))):
            room = self.session.project.rooms[0]
            corner = min(room.outline, key=lambda p, s=start: abs(p[0] - s[0]) + abs(p[1] - s[1]))
            side = start[1] == 0
            x, y = ((room.outline[0][0] + room.outline[1][0]) / 2, room.outline[0][1]) if side else corner
            QTest.mousePress(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.at(x, y))
            QTest.mouseMove(self.plan, self.at(*end))
            QTest.mouseRelease(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.at(*end))
            self.wait()
        outline = self.session.project.rooms[0].outline
        self.assertGreater(max(y for _, y in outline), 4.5)
        self.assertLess(min(y for _, y in outline), -0.5)
        self.session.undo()
        self.session.undo()
        self.wait()
        self.assertIs(self.session.project, project)

    def test_a_rectangle_takes_typed_sides(self):
        said = []
        self.building.hint.connect(said.append)
        self.click(self.building.room_tool, (14, 14))
        QTest.mouseMove(self.plan, self.at(1, 1))
        QTest.mouseClick(self.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.at(1, 1))
        QTest.mouseMove(self.plan, self.at(0, 3))
        QTest.keyClicks(self.plan, "4.5")
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.assertEqual(self.session.project.rooms, ())
        self.assertIn("Type width × depth", said[-1])
        QTest.keyClicks(self.plan, "4,5 x 3")
        QTest.keyClick(self.plan, Qt.Key.Key_Return)
        self.wait()
        outline = self.session.project.rooms[0].outline
        (x0, x1), (y0, y1) = ((min(v), max(v)) for v in zip(*outline))
        self.assertAlmostEqual(x1 - x0, 4.5, 6)
        self.assertAlmostEqual(y1 - y0, 3.0, 6)
        self.assertAlmostEqual(x1, 1.0, 1)  # to the left of the first corner, where the mouse is
        self.assertAlmostEqual(y0, 1.0, 1)

    def pull_side(self, modifiers):
        """The right side of the first room pulled half a metre to the right."""
        room = self.session.project.rooms[0]
        self.session.select("room", room.id)
        self.wait()
        x, y = max(p[0] for p in room.outline), sum(p[1] for p in room.outline) / 4
        QTest.mousePress(self.plan, Qt.MouseButton.LeftButton, modifiers, self.at(x, y))
        QTest.mouseMove(self.plan, self.at(x + 0.5, y))
        QTest.mouseRelease(self.plan, Qt.MouseButton.LeftButton, modifiers, self.at(x + 0.5, y))
        self.wait()

    def test_a_shared_wall_moves_as_one_and_with_alt_alone(self):
        self.rectangle(0, 0, 5, 4)
        self.rectangle(5, 0, 10, 4)
        QTest.keyClick(self.plan, Qt.Key.Key_Escape)
        self.pull_side(Qt.KeyboardModifier.AltModifier)
        self.assertIn("overlap room 0.02", self.window.banner.sentence.words)
        self.pull_side(Qt.KeyboardModifier.NoModifier)
        first, second = self.session.project.rooms
        middle = max(p[0] for p in first.outline)
        self.assertGreater(middle, 5.2)
        self.assertEqual(min(p[0] for p in second.outline), middle)
        self.session.undo()
        self.wait()
        self.assertEqual(max(p[0] for p in self.session.project.rooms[0].outline), 5.0)

    def test_delete_removes_rooms_and_windows(self):
        self.rectangle(0, 0, 5, 4)
        QTest.keyClick(self.plan, Qt.Key.Key_Escape)
        self.window.actions_["window gap"].trigger()
        self.wait()
        self.assertEqual(self.session.selection.kind, "opening")
        self.plan.setFocus()
        QTest.keyClick(self.plan, Qt.Key.Key_Delete)
        self.wait()
        self.assertEqual(sum(len(w.openings) for w in self.session.project.walls), 0)
        self.session.select("room", self.session.project.rooms[0].id)
        self.wait()
        QTest.keyClick(self.plan, Qt.Key.Key_Delete)
        self.wait()
        self.assertEqual(self.session.project.rooms, ())

    def test_new_asks_first_when_there_are_unsaved_edits(self):
        self.rectangle(0, 0, 5, 4)
        QTest.keyClick(self.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        self.wait()
        self.assertEqual(len(self.session.project.rooms), 1)
        self.assertIn("unsaved", self.window.banner.sentence.words)
        self.click(self.window.banner._acts[1], (5, 8))
        self.wait()
        self.assertEqual(self.session.project.rooms, ())

    def test_a_first_duct_starts_at_the_unit_and_the_fan_is_chosen(self):
        self.rectangle(0, 0, 5, 4)
        QTest.keyClick(self.plan, Qt.Key.Key_Escape)
        ducts = self.view("Ducts")
        self.click(ducts.draw_tool, (14, 14))
        for x, y in ((8, 2), (2.5, 2)):
            at = ducts.plan.map.map(QPointF(x, y)).toPoint()
            QTest.mouseClick(ducts.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        QTest.keyClick(ducts.plan, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(len(self.session.project.terminals), 1)
        root = find(self.session.project.duct_points, self.session.project.air_systems[0].root_point_id)
        self.assertAlmostEqual(root.x_m, 8, 1)
        self.assertFalse(self.link("Balance").missing)
