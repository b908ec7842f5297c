"""The project's name: changed where it stands, undone like any edit, on every document."""

import unittest

from msgspec import structs
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from garnetfin.core.errors import InputError
from garnetfin.project.edits.whole import SetName
from garnetfin.project.tree import UNTITLED
from garnetfin.report.blocks import Heading
from garnetfin.report.document import Order, paper
from tests.example import station
from tests.ui.driver import WindowTest


class Title(WindowTest):
    def test_a_click_a_name_and_enter(self):
        field = self.window.title
        self.assertEqual(field.text(), station().name)
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, "Tern Point, west wing")
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(self.session.project.name, "Tern Point, west wing")
        self.assertTrue(self.window.windowTitle().startswith("Tern Point, west wing"))
        cover = next(b for b in paper(Order(self.session.results), "cover") if isinstance(b, Heading))
        self.assertEqual(cover.text, "Tern Point, west wing")
        self.session.undo()
        self.wait()
        self.assertEqual(field.text(), station().name)

    def test_escape_or_nothing_typed_leaves_it(self):
        field = self.window.title
        for typed, key in (("other", Qt.Key.Key_Escape), ("", Qt.Key.Key_Return)):
            field.setFocus()
            field.selectAll()
            QTest.keyClick(field, Qt.Key.Key_Delete)
            QTest.keyClicks(field, typed)
            QTest.keyClick(field, key)
            self.wait()
            self.assertEqual((self.session.project.name, field.text()), (station().name, station().name))


class Edit(unittest.TestCase):
    def test_names_have_signs_and_an_end(self):
        self.assertEqual(SetName("  A  ").apply(station()).name, "A")
        renamed = SetName("B").apply(SetName("A").apply(station()))
        self.assertEqual((renamed.name, renamed.model_name), ("B", station().name))  # ids in models stay
        self.assertEqual(SetName(station().name).apply(renamed), station())
        fresh = SetName("Mill").apply(structs.replace(station(), name=UNTITLED))
        self.assertEqual(SetName("Old mill").apply(fresh).model_name, "Mill")
        self.assertIs(SetName(station().name).apply(station()).rooms, station().rooms)
        for bad in ("", "   ", "x" * 121):
            self.assertRaises(InputError, SetName(bad).apply, station())


if __name__ == "__main__":
    unittest.main()
