"""The build-up editor, fabric sets, glazing and shades, blocks beside: by mouse and keyboard."""

import itertools

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from garnetfin.project.lookup import find
from tests.ui.driver import WindowTest


class BuildUps(WindowTest):
    def setUp(self):
        super().setUp()
        self.building = self.view("Building")
        head = self.building.drawer.head
        self.click(head, head.box_of(2).center())
        self.wait()
        self.page = self.building.build_ups

    def layers(self):
        return find(self.session.project.build_ups, self.page.chosen_id).layers

    def test_a_layer_is_found_while_typing_and_goes_in(self):
        before = len(self.layers())
        self.page.search.setFocus()
        QTest.keyClicks(self.page.search, "calcium silicate masonry")
        QTest.keyClick(self.page.search, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(len(self.layers()), before + 1)
        self.assertEqual(self.layers()[self.page.layer].material, "calcium_silicate")
        QTest.keyClicks(self.page.search, "unobtainium")
        QTest.keyClick(self.page.search, Qt.Key.Key_Return)
        self.wait(lambda: self.window.banner.isVisible())
        self.assertEqual(len(self.layers()), before + 1)

    def test_a_layer_is_dragged_to_another_place(self):
        first = self.layers()[0].material
        edges = self.page.section.edges()
        middle = [int((a + b) / 2) for a, b in itertools.pairwise(edges)]
        y = int(self.page.section.height() / 2)
        QTest.mousePress(self.page.section, Qt.MouseButton.LeftButton, pos=QPoint(middle[0], y))
        QTest.mouseMove(self.page.section, QPoint(middle[2], y))
        QTest.mouseRelease(self.page.section, Qt.MouseButton.LeftButton, pos=QPoint(middle[2], y))
        self.wait()
        self.assertEqual(self.layers()[2].material, first)
        QTest.keyClick(self.page.section, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
        self.wait()
        self.assertEqual(self.layers()[1].material, first)

    def test_a_thickness_is_typed_and_loads_follow(self):
        before = self.session.results.blocks[""].heating_w
        row = next(i for i, x in enumerate(self.layers()) if x.thickness_m > 0.2)
        model = self.page.layers.model_
        self.assertTrue(model.setData(model.index(row, 1), "400"))
        self.wait()
        self.assertAlmostEqual(self.layers()[row].thickness_m, 0.4)
        self.assertLess(self.session.results.blocks[""].heating_w, before)
        # millimetres of a layer that thin: refused in words
        model.setData(model.index(row, 1), "0.05")
        self.wait(lambda: self.window.banner.isVisible())
        self.assertAlmostEqual(self.layers()[row].thickness_m, 0.4)

    def test_copying_choosing_and_clearing_out(self):
        count = len(self.session.project.build_ups)
        self.click(self.page.copy_link, (4, 4))
        self.wait()
        self.assertEqual(len(self.session.project.build_ups), count + 1)
        self.click(
            self.page.list.viewport(), self.page.list.visualRect(self.page.list.model_.index(1, 0)).center().toTuple()
        )
        self.wait()
        self.assertEqual(self.page.chosen_id, self.session.project.build_ups[1].id)
        self.click(self.page.clear_link, (4, 4))
        self.wait()
        self.assertLessEqual(len(self.session.project.build_ups), count)
        self.session.undo()
        self.wait()
        self.assertEqual(len(self.session.project.build_ups), count + 1)

    def test_own_material_is_asked_for_and_found(self):
        self.click(self.page.own_link, (4, 4))
        self.wait()
        self.assertTrue(self.building.ask.isVisible())

    def test_condensation_is_ringed_and_marked_in_the_list(self):
        self.page.choose("W1")
        self.assertEqual(self.page.section.vm.wet, ())
        # felt outside of wool: water forms below it in winter
        self.page.choose("R3")
        self.assertTrue(self.page.section.vm.wet)
        tones = {r.id: r.cells[1].tone for r in self.page.list.model_.vm.rows}
        self.assertEqual((tones["W1"], tones["R3"]), ("", "watch"))


class Windows(WindowTest):
    def test_a_shade_is_chosen_and_takes_sun_off(self):
        self.view("Building")
        room = next(r for r in self.session.project.rooms if r.number == "0.03")
        wall, opening = next(
            (w, o) for w in self.session.project.walls if w.room_a == room.id for o in w.openings if o.glazing_id
        )
        self.session.select("opening", f"{wall.id}/{opening.id}")
        self.wait()
        before = self.session.results.room(room.id).cause_w("solar through glass")
        self.choose("shade_kind", "outside")
        self.wait()
        self.assertLess(self.session.results.room(room.id).cause_w("solar through glass"), 0.6 * before)
        self.choose("shade_rule", "hours")
        self.wait()
        self.assertIsNotNone(self.window.card.field("shade_from_h"))
        self.type_into("opening_fin_left_m", "0.5")
        self.wait()
        kept = next(o for o in find(self.session.project.walls, wall.id).openings if o.id == opening.id)
        self.assertEqual(kept.fin_left_m, 0.5)

    def test_glass_from_the_library(self):
        self.view("Building")
        wall, opening = next((w, o) for w in self.session.project.walls for o in w.openings if o.glazing_id)
        self.session.select("opening", f"{wall.id}/{opening.id}")
        self.wait()
        count = len(self.session.project.glazings)
        self.choose("add_glazing_glass_id", "triple_sc")
        self.wait()
        self.assertGreater(len(self.session.project.glazings), count)


class SetsAndBlocks(WindowTest):
    def test_a_set_is_made_changed_and_applied(self):
        building = self.view("Building")
        building.add_fabric_set()
        self.wait()
        self.assertEqual(self.session.selection.kind, "fabric set")
        self.choose("fabric_set_wall", "R1")
        self.wait()
        self.choose("apply_fabric_set_where", "all")
        self.wait()
        self.assertTrue(all(w.build_up_id == "R1" for w in self.session.project.walls if w.outside))

    def test_a_block_is_drawn_and_raised(self):
        building = self.view("Building")
        building.use_tool("block")
        before = self.session.results.blocks[""].by_cause_w[0].sum()
        building.plan.fit()
        self.wait()
        self.click_plan(building.plan, 2.0, -3.5)
        self.click_plan(building.plan, 16.0, -1.5)
        self.wait()
        mark = next(m for m in self.session.project.plan_marks if m.kind == "block")
        self.session.select("block", mark.id)
        self.wait()
        self.type_into("block_height_m", "20")
        self.wait()
        self.assertEqual(find(self.session.project.plan_marks, mark.id).height_m, 20.0)
        self.assertLess(self.session.results.blocks[""].by_cause_w[0].sum(), before)
