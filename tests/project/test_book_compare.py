"""Two office standards side by side: what differs is listed once, and nothing else."""

import unittest

from msgspec import structs

from garnetfin.project.book import Book, OwnMaterial
from garnetfin.project.book_compare import NONE, compare
from garnetfin.project.edits.book import SetAssumption, SetBookChoice, SetUseFigure
from garnetfin.project.edits.papers import SetSheet
from garnetfin.project.new import new_project
from garnetfin.project.papers import Sheet
from garnetfin.project.values import Pinned, Rule


def after(*commands) -> Book:
    project = new_project()
    for command in commands:
        project = command.apply(project)
    return project.book


class Compared(unittest.TestCase):
    def test_a_book_does_not_differ_from_itself(self):
        self.assertEqual(compare(Book(), Book()), ())

    def test_assumptions_in_si_with_their_quantity(self):
        (found,) = compare(after(), after(SetAssumption("infiltration_1h", Pinned(value=0.7))))
        self.assertEqual((found.kind, found.now, found.quantity), ("Assumption", 0.7, "air_change"))
        back = compare(after(SetAssumption("infiltration_1h", Pinned(value=0.7))), after())
        self.assertEqual((back[0].before, back[0].now), (found.now, found.before))

    def test_a_figure_pinned_at_what_the_rule_gives_is_no_difference(self):
        usual = compare(after(), after(SetAssumption("infiltration_1h", Pinned(value=0.7))))[0].before
        self.assertEqual(compare(after(), after(SetAssumption("infiltration_1h", Pinned(value=usual)))), ())
        self.assertEqual(compare(after(), after(SetAssumption("infiltration_1h", Rule()))), ())

    def test_choices_in_words(self):
        (found,) = compare(after(), after(SetBookChoice("outdoor_method", "people and area")))
        self.assertEqual(found.kind, "Choice")
        self.assertEqual(found.name, "Outdoor method")
        self.assertNotEqual(found.before, found.now)

    def test_a_use_against_what_ships(self):
        (found,) = compare(after(), after(SetUseFigure("office_single", "lights_w_m2", 5.5)))
        self.assertEqual(found.now, 5.5)
        self.assertIn("lights", found.name)
        self.assertIsInstance(found.before, float)

    def test_materials_new_gone_and_changed(self):
        one = OwnMaterial(
            id="m1",
            name="Felt",
            conductivity_w_mk=0.05,
            density_kg_m3=200.0,
            specific_heat_j_kgk=1000.0,
            source="typed",
        )
        plain, with_it = Book(), structs.replace(Book(), materials=(one,))
        other = structs.replace(Book(), materials=(structs.replace(one, conductivity_w_mk=0.06),))
        self.assertEqual([(d.name, d.before, d.now) for d in compare(plain, with_it)], [("Felt", NONE, "new")])
        self.assertEqual([(d.before, d.now) for d in compare(with_it, plain)], [("there", "gone")])
        self.assertEqual([(d.before, d.now) for d in compare(with_it, other)], [("there", "changed")])
        # another id of the same material is no change
        self.assertEqual(compare(with_it, structs.replace(Book(), materials=(structs.replace(one, id="m2"),))), ())

    def test_the_sheet(self):
        (found,) = compare(after(), after(SetSheet("company", "Office of Rooms")))
        self.assertEqual((found.kind, found.before, found.now), ("Sheet", NONE, "Office of Rooms"))
        logo = structs.replace(Book(), sheet=structs.replace(Sheet(), logo=b"\x89PNG\r\n\x1a\n1234"))
        self.assertEqual(compare(Book(), logo)[0].now, "12 bytes")
