"""Parts in ducts with the mouse: put in by click, dragged along, chosen, typed, taken out; seen in cards and tables."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.project.edits.inline import PutInline, SetInline
from garnetfin.project.inline import KINDS, inline_part, inline_places
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned
from garnetfin.ui.plan.inline_layer import SYMBOLS, part_at
from garnetfin.ui.view_models.card import Lines
from garnetfin.ui.view_models.cards import card
from garnetfin.ui.view_models.edits import typed
from tests.example import by_number
from tests.ui.driver import WindowTest

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
DUCT = "s42"


class Parts(WindowTest):
    first = "Ducts"

    def setUp(self):
        super().setUp()
        self.ducts = self.view("Ducts")
        self.plan = self.ducts.plan

    def along(self, share: float) -> QPoint:
        """Where a share of the duct lies on the plan [px]."""
        project = self.session.project
        s = find(project.segments, DUCT)
        a, b = (find(project.duct_points, i) for i in (s.a, s.b))
        spot = QPointF(a.x_m + share * (b.x_m - a.x_m), a.y_m + share * (b.y_m - a.y_m))
        return self.plan.map.map(spot).toPoint()

    def input(self, label: str):
        vm = card(self.session.state)
        return next(r for part in vm.sections for r in getattr(part, "rows", ()) if getattr(r, "label", "") == label)

    def put(self, kind: str = "fire damper", at: float = 0.3) -> str:
        self.session.do(PutInline((DUCT,), kind, at))
        self.wait()
        return self.session.selection.ids[0]

    def test_put_in_by_click_and_chosen(self):
        self.click(self.ducts.tool_buttons["part"], (14, 14))
        self.assertTrue(self.ducts.part_options.isVisible())
        self.ducts.part_strip.set_now("heater")
        self.ducts.use_tool("part")
        QTest.mouseMove(self.plan, self.along(0.4))
        QTest.mouseClick(self.plan, LEFT, NONE, self.along(0.4))
        self.wait()
        segment, part = inline_part(self.session.project, "i1")
        self.assertEqual((segment.id, part.kind), (DUCT, "heater"))
        self.assertAlmostEqual(part.at, 0.4, delta=0.03)
        self.assertEqual((self.session.selection.kind, self.session.selection.ids), ("inline", ("i1",)))
        QTest.mouseClick(self.plan, LEFT, NONE, QPoint(5, 5))
        self.assertEqual(len(inline_places(self.session.project.segments)), 1)
        self.session.undo()
        self.assertEqual(inline_places(self.session.project.segments), {})

    def test_dragged_along_its_duct(self):
        part_id = self.put(at=0.3)
        start, end = self.along(0.3), self.along(0.7)
        self.assertEqual(part_at(self.plan.parts, self.plan.map, QPointF(start)).record.part_id, part_id)
        QTest.mousePress(self.plan, LEFT, NONE, start)
        for k in (1, 2, 3, 4):
            QTest.mouseMove(self.plan, start + (end - start) * k / 4)
        QTest.mouseRelease(self.plan, LEFT, NONE, end)
        self.wait()
        self.assertAlmostEqual(inline_part(self.session.project, part_id)[1].at, 0.7, delta=0.03)

    def test_removed_by_key(self):
        self.put()
        self.plan.setFocus()
        QTest.keyClick(self.plan, Qt.Key.Key_Delete)
        self.wait()
        self.assertEqual(inline_places(self.session.project.segments), {})

    def test_its_card_types_what_it_is(self):
        part_id = self.put()
        vm = card(self.session.state)
        self.assertEqual(vm.title, "FD-1 fire damper")
        for label, text, field, value in (
            ("Its k", "2.5", "k", 2.5),
            ("or its loss", "30", "rated_pa", 30.0),
            ("Length", "0.4", "length_m", 0.4),
        ):
            self.session.do(typed(self.input(label), text, "SI"))
            self.wait()
            self.assertEqual(getattr(inline_part(self.session.project, part_id)[1], field).value, value)
        self.session.do(typed(self.input("From the unit’s end"), "1.5", "SI"))
        self.wait()
        record = self.session.state.results.ducts["ahu-north"].segments[DUCT].inline[0]
        self.assertAlmostEqual(record.near_m, 1.5)
        self.session.do(self.input("Resists fire").edit.filled("90"))
        self.session.do(self.input("For smoke too").edit.filled("yes"))
        self.wait()
        part = inline_part(self.session.project, part_id)[1]
        self.assertEqual((part.fire_min, part.smoke), (90, True))

    def test_several_are_changed_at_once(self):
        self.session.do(PutInline(("s1", DUCT, "s3"), "fire damper"))
        self.wait()
        self.assertEqual(len(self.session.selection.ids), 3)
        self.session.do(self.input("Resists fire").edit.filled("120"))
        self.wait()
        parts = [inline_part(self.session.project, i)[1] for i in ("i1", "i2", "i3")]
        self.assertEqual({p.fire_min for p in parts}, {120})

    def test_the_card_of_the_duct_lists_them_and_puts_more(self):
        self.put()
        self.session.do(SetInline(("i1",), "k", Pinned(value=1.0)))
        self.session.select("segment", DUCT)
        self.wait()
        listed = next(s for s in card(self.session.state).sections if isinstance(s, Lines) and s.title == "Parts in it")
        self.assertEqual([(r.label, r.target) for r in listed.rows], [("FD-1 fire damper", ("inline", "i1"))])
        self.session.do(self.input("Put in").edit.filled("filter"))
        self.wait()
        self.assertEqual(inline_part(self.session.project, "i2")[1].kind, "filter")

    def test_every_kind_has_a_symbol_and_is_painted(self):
        self.assertEqual(set(SYMBOLS), set(KINDS))
        for n, kind in enumerate(KINDS):
            self.session.do(PutInline((DUCT,), kind, 0.05 + 0.09 * n))
        self.wait()
        self.plan.grab()
        self.assertEqual({x.record.kind for x in self.plan.parts}, set(KINDS))


class Fire(WindowTest):
    def input(self, label: str):
        vm = card(self.session.state)
        rows = [r for part in vm.sections for r in getattr(part, "rows", ()) if getattr(r, "label", "") == label]
        return rows[0] if rows else None

    def test_a_compartment_is_rated_in_the_card_and_its_ducts_get_dampers(self):
        rooms = tuple(by_number(self.session.project, n).id for n in ("0.01", "0.02"))
        self.session.select("room", *rooms)
        self.wait()
        around = self.input("Walls around")
        self.assertEqual(around.chosen, "0")
        self.session.do(around.edit.filled("60"))
        self.wait()
        self.assertEqual(self.input("Walls around").chosen, "60")
        self.window.view("Building").plan.grab()  # painted with its second line
        told = [f for f in self.session.state.results.findings if f.code == "fire-crossing"]
        self.session.do(told[0].mends[-1].command)
        self.wait()
        self.assertEqual([f for f in self.session.state.results.findings if f.code == "fire-crossing"], [])
        self.assertEqual(len(inline_places(self.session.project.segments)), len(told[0].mends[-1].command.places))

    def test_one_wall_in_its_card(self):
        wall = next(w for w in self.session.project.walls if not w.outside)
        self.session.select("face", f"wall/{wall.id}")
        self.wait()
        self.session.do(self.input("Resists fire").edit.filled("120"))
        self.wait()
        self.assertEqual(find(self.session.project.walls, wall.id).fire_min, 120)
        self.session.do(self.input("Smoke too").edit.filled("yes"))
        self.wait()
        self.assertTrue(find(self.session.project.walls, wall.id).smoke)
