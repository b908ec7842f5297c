"""Findings of what is far from usual, through the whole engine, and that their mends clear them."""

import unittest

from msgspec import structs

from garnetfin.core.errors import InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.openings import ShrinkGlass
from garnetfin.project.edits.outlines import DeriveFaces
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.new import new_project
from garnetfin.project.site import MonthConditions
from garnetfin.project.spaces import Wall
from garnetfin.project.values import Pinned
from tests.engine.test_first_pass import listed
from tests.example import by_number, one_room, station, station_results
from tests.project.test_shape import house


def found(project, code):
    return [f for f in run(project, Memo()).findings if f.code == code]


def odd_codes(project) -> set[str]:
    return {f.code for f in run(project, Memo()).findings if f.code.startswith("odd-")}


class Rooms(unittest.TestCase):
    def cleared(self, project, code):
        """A finding is there, and each of its mends takes it away; the finding."""
        told = found(project, code)
        self.assertTrue(told, code)
        self.assertTrue(told[0].mends, code)
        for mend in told[0].mends:
            after = mend.command.apply(project)
            self.assertNotIn(told[0].object_id, [f.object_id for f in found(after, code)], mend.label)
        return told[0]

    def test_a_drawn_house_is_usual(self):
        self.assertEqual(odd_codes(house()), set())

    def test_the_example_is_usual_but_for_what_its_sun_says(self):
        self.assertEqual([f.code for f in station_results().findings if f.code.startswith("odd-")], [])
        number = "0.03"  # a corner of glass: three times the estimate, by the sun, which has its own finding
        codes = {f.code for f in station_results().findings if f.object_id == by_number(station(), number).id}
        self.assertIn("sun-share", codes)

    def test_typed_figures_far_from_usual(self):
        for name, value, code in (
            ("people", 200.0, "odd-people"),
            ("lights_w_m2", 60.0, "odd-gains"),
            ("equipment_w_m2", 260.0, "odd-gains"),
            ("equipment_w_m2", 260.0, "odd-estimate-far"),
            ("infiltration_1h", 6.0, "odd-infiltration"),
            ("infiltration_1h", 15.0, "odd-heating-far"),
            ("cooling_c", 15.0, "odd-set-point"),
            ("supply_m3s", 1.0, "odd-air-change"),
        ):
            with self.subTest(name=name, value=value):
                project = SetRoomValue(("n1",), name, Pinned(value=value)).apply(house())
                self.assertEqual(self.cleared(project, code).object_id, "n1")

    def test_a_height_that_no_room_has(self):
        project = house()
        room = structs.replace(project.rooms[0], ceiling_m=14.0)
        self.cleared(structs.replace(project, rooms=(room, *project.rooms[1:])), "odd-ceiling")

    def test_faces_that_are_not_there(self):
        whole = house()
        walls = tuple(w for w in whole.walls if "n1" not in (w.room_a, w.room_b))
        slabs = tuple(s for s in whole.slabs if "n1" not in (s.room_below, s.room_above))
        self.cleared(structs.replace(whole, walls=walls), "odd-few-faces")
        self.cleared(structs.replace(whole, walls=walls), "odd-not-closed")
        self.cleared(structs.replace(whole, walls=walls), "odd-edge")
        self.cleared(structs.replace(whole, slabs=slabs), "odd-no-floor")
        self.cleared(structs.replace(whole, slabs=slabs), "odd-no-ceiling")
        outside = next(w for w in whole.walls if w.room_a == "n1" and w.outside)
        less = structs.replace(whole, walls=tuple(w for w in whole.walls if w is not outside))
        told = self.cleared(less, "odd-open-side")
        self.assertIn(f"{outside.length_m * outside.height_m:.1f} m²", told.reason)

    def test_the_book_sets_the_limits(self):
        project = SetAssumption("usual_glass", Pinned(value=0.1)).apply(one_room())
        (told,) = found(project, "odd-glass-share")
        less = told.mends[0].command.apply(project)
        self.assertFalse(found(less, "odd-glass-share"))
        (wall,) = (w for w in less.walls if w.outside)
        self.assertAlmostEqual(wall.openings[0].area_m2 / (wall.length_m * wall.height_m), 0.1, 6)
        self.assertRaises(InputError, ShrinkGlass("r1", 2.0).apply, project)
        self.assertFalse(found(one_room(), "odd-glass-share"))

    def test_glass_that_nothing_reaches(self):
        """A pane to the south that is opaque by a typing error; the same pane as it should be."""
        project = one_room()
        opaque = structs.replace(project.glazings[0], tau_e=0.0, g=0.001)
        dark = structs.replace(project, glazings=(opaque, *project.glazings[1:]))
        self.assertTrue(found(dark, "odd-glass-without-sun"))
        self.assertFalse(found(project, "odd-glass-without-sun"))


class FabricAndBuilding(unittest.TestCase):
    def test_u_values_in_the_wrong_unit(self):
        project = one_room()
        thin = structs.replace(project.glazings[0], u_w_m2k=0.13)
        self.assertEqual(
            [f.object_id for f in found(structs.replace(project, glazings=(thin,)), "odd-u-value")], [thin.id]
        )
        bare = structs.replace(project.build_ups[0], layers=project.build_ups[0].layers[:1])
        self.assertEqual(
            [f.object_id for f in found(structs.replace(project, build_ups=(bare,)), "odd-u-value")], ["b"]
        )
        self.assertFalse(found(project, "odd-u-value"))

    def test_a_building_that_asks_for_too_much(self):
        project = one_room(equipment_w_m2=Pinned(value=250.0))
        self.assertEqual([f.object_id for f in found(project, "odd-building")], ["cooling"])

    def test_a_room_that_makes_most_of_the_load(self):
        small = by_number(station(), "0.03")
        served = tuple(r.id for r in station().rooms)
        project = SetRoomValue((small.id,), "equipment_w_m2", Pinned(value=5000.0)).apply(station())
        self.assertIn(small.id, served)
        self.assertEqual([f.object_id for f in found(project, "odd-share")], [small.id])


class Listed(unittest.TestCase):
    def test_a_list_without_facades_says_so_on_each_level(self):
        project = listed()
        results = run(project, Memo())
        told = [f.object_id for f in results.findings if f.code == "facade-missing"]
        self.assertEqual(
            told, [level.id for level in project.levels if any(r.level_id == level.id for r in project.rooms)]
        )
        self.assertTrue(all(results.room(r.id).estimate is not None for r in project.rooms))

    def test_typed_walls_clear_it_level_by_level(self):
        project = listed()
        upper = project.levels[-1].id
        walls = tuple(
            Wall(
                id=f"typed-{r.id}",
                level_id=upper,
                start=(0.0, 0.0),
                end=(12.0, 0.0),
                room_a=r.id,
                room_b="",
                thickness_m=0.3,
                height_m=3.0,
                build_up_id=project.build_ups[0].id,
                facing_deg=180.0,
            )
            for r in project.rooms
            if r.level_id == upper
        )
        project = structs.replace(project, walls=project.walls + walls)
        self.assertNotIn(upper, [f.object_id for f in found(project, "facade-missing")])

    def test_drawn_rooms_never_ask(self):
        self.assertFalse(found(station(), "facade-missing"))


class Places(unittest.TestCase):
    def test_weather_of_an_invented_place_until_another_is_given(self):
        project = listed()
        self.assertTrue(found(project, "place-invented"))
        months = tuple(MonthConditions(dry_bulb_c=Pinned(value=30.0)) for _ in range(12))
        typed = structs.replace(project, site=structs.replace(project.site, months=months))
        self.assertFalse(found(typed, "place-invented"))
        self.assertFalse(found(new_project(), "place-invented"), "an empty project has nothing to sign")


class Anew(unittest.TestCase):
    def test_walls_made_anew_are_one_command(self):
        whole = house()
        walls = tuple(structs.replace(w, openings=()) for w in whole.walls)  # windows go with the walls that go
        whole = structs.replace(whole, walls=walls)
        bare = structs.replace(whole, walls=())
        again = DeriveFaces(tuple(r.id for r in whole.rooms)).apply(bare)
        self.assertEqual(len(again.walls), len(whole.walls))
        loads = [sum(run(p, Memo()).room(r.id).peak_w for r in whole.rooms) for p in (again, whole)]
        self.assertAlmostEqual(*loads, delta=0.01 * loads[0])  # heights follow the storey, which the house rounds


if __name__ == "__main__":
    unittest.main()
