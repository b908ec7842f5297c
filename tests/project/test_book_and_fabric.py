"""Edits of the office standards, build-ups, glazings, shades, fabric sets, blocks beside, place and plant hours."""

import unittest

from msgspec import structs

from garnetfin.core.errors import InputError
from garnetfin.core.tables import materials, profiles
from garnetfin.project.book import Book, DayProfile
from garnetfin.project.edits.book import AddMaterial, SetAssumption, SetUseFigure, SetUseProfile, profile_of
from garnetfin.project.edits.fabric import (
    AddBuildUp,
    AddFabricSet,
    AddGlazing,
    AddLayer,
    ApplyFabricSet,
    ClearUnused,
    MoveLayer,
    RemoveFabricSet,
    RemoveLayer,
    SetBuildUp,
    SetFabricSet,
    SetGlazingValue,
    SetLayer,
    SetLayerMaterial,
    SetShade,
)
from garnetfin.project.edits.marks import AddMark, RemoveMark, SetBlock
from garnetfin.project.edits.openings import SetWall
from garnetfin.project.edits.rooms import SetGlazing, SetRoomChoice, SetRoomText
from garnetfin.project.edits.site import SetPlace, SetSite, SetWeather
from garnetfin.project.edits.systems import SetOperation
from garnetfin.project.lookup import find
from garnetfin.project.site import MonthStatistics, WeatherYear
from garnetfin.project.tree import check_links
from garnetfin.project.uses import guess
from garnetfin.project.values import Imported, Pinned, Rule
from tests.example import one_room, station

SQUARE = ((0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0))


class Layers(unittest.TestCase):
    def layers(self, *commands):
        project = one_room()
        for c in commands:
            project = c.apply(project)
        check_links(project)
        return project.build_ups[0].layers

    def test_put_in_moved_and_taken_out(self):
        materials = [x.material for x in self.layers(AddLayer("b", 1, "osb", 0.015))]
        self.assertEqual(materials, ["plasterboard_700", "osb", "mineral_wool", "concrete_2200"])
        self.assertEqual(
            [x.material for x in self.layers(MoveLayer("b", 0, 2))],
            ["mineral_wool", "concrete_2200", "plasterboard_700"],
        )
        self.assertEqual(len(self.layers(RemoveLayer("b", 0))), 2)
        self.assertEqual(self.layers(SetLayerMaterial("b", 1, "xps"))[1].material, "xps")
        gap = self.layers(AddLayer("b", 1, "", 0.025))[1]
        self.assertEqual((gap.resistance_m2k_w, gap.ventilated), (0.18, False))

    def test_a_thickness_in_another_unit_is_guessed(self):
        for value, words in (
            (0.00014, "If metres were meant, type 140 mm"),
            (140.0, "If 140 mm were meant"),
            (0.0, "between"),
        ):
            self.assertRaisesRegex(InputError, words, SetLayer("b", 1, "thickness_m", value).apply, one_room())
        self.assertRaisesRegex(InputError, "type 0.035", SetLayer("b", 1, "conductivity_w_mk", 35.0).apply, one_room())

    def test_refusals(self):
        for command, words in (
            (SetLayer("b", 9, "thickness_m", 0.1), "no longer there"),
            (SetLayer("b", 0, "colour", 0.1), "no figure"),
            (SetLayerMaterial("b", 0, "moonrock"), "not in the library"),
            (AddLayer("b", 0, "moonrock"), "not in the library"),
            (SetBuildUp("b", "name", "  "), "needs a name"),
            (SetBuildUp("b", "age", 3.0), "no figure"),
        ):
            self.assertRaisesRegex(InputError, words, command.apply, one_room())
        one = RemoveLayer("b", 0).apply(RemoveLayer("b", 0).apply(one_room()))
        self.assertRaisesRegex(InputError, "keeps at least one", RemoveLayer("b", 0).apply, one)

    def test_copy_and_names(self):
        project = AddBuildUp("b").apply(one_room())
        self.assertEqual(len(project.build_ups), 2)
        self.assertEqual(SetBuildUp("b", "name", "Brick").apply(project).build_ups[0].name, "Brick")
        check_links(project)


class Glass(unittest.TestCase):
    def test_values_stay_possible(self):
        g = SetGlazingValue("g", "g", 0.3).apply(one_room()).glazings[0]
        self.assertLessEqual(g.tau_e, 0.3)
        self.assertRaisesRegex(InputError, "no figure", SetGlazingValue("g", "age", 0.3).apply, one_room())

    def test_from_the_library_in_a_frame(self):
        made = AddGlazing("triple_lowe_ar").apply(one_room()).glazings[-1]
        self.assertTrue(0.6 < made.u_w_m2k < 1.2)  # the frame makes it worse than its middle
        self.assertEqual((made.g, made.panes), (0.5, 3))
        self.assertRaisesRegex(InputError, "not in the library", AddGlazing("mirror").apply, one_room())

    def test_shades(self):
        project = SetShade("g", "kind", "outside").apply(one_room())
        self.assertTrue(project.glazings[0].shade.outside)
        self.assertIs(SetShade("g", "kind", "outside").apply(project), project)
        self.assertEqual(SetShade("g", "rule", "hours").apply(project).glazings[0].shade.rule, "hours")
        self.assertEqual(SetShade("g", "from_h", 7.6).apply(project).glazings[0].shade.from_h, 8)
        self.assertIsNone(SetShade("g", "kind", "").apply(project).glazings[0].shade)
        for command, on, words in (
            (SetShade("g", "tau", 0.2), one_room(), "has no shade"),
            (SetShade("g", "rule", "dusk"), project, "no rule"),
            (SetShade("g", "kind", "curtain"), project, "no shade"),
            (SetShade("g", "rho", 0.99), project, "Reflectance"),
        ):
            self.assertRaisesRegex(InputError, words, command.apply, on)


class Sets(unittest.TestCase):
    def test_a_set_goes_to_a_level_and_leaves_what_was_chosen_by_hand(self):
        project = AddFabricSet().apply(station())
        found = project.fabric_sets[0]
        self.assertEqual((found.wall, found.ground), ("W1", "F1"))
        project = SetFabricSet(found.id, "wall", "P1").apply(SetFabricSet(found.id, "glazing", "G3").apply(project))
        ground = project.levels[0].id
        by_hand = next(w for w in project.walls if w.outside and w.level_id == ground)
        project = SetWall((by_hand.id,), "build_up_id", "R1").apply(project)
        window = next(
            (w, o) for w in project.walls for o in w.openings if o.glazing_id == "G1" and w.level_id == ground
        )
        project = SetGlazing(((window[0].id, window[1].id),), "G2").apply(project)
        done = ApplyFabricSet(found.id, f"level {ground}").apply(project)
        check_links(done)
        walls = [w for w in done.walls if w.outside and w.level_id == ground and w.id != by_hand.id]
        self.assertTrue(walls and all(w.build_up_id == "P1" for w in walls))
        self.assertEqual(find(done.walls, by_hand.id).build_up_id, "R1")
        below = {r.id for r in project.rooms if r.level_id == ground}  # the hall is two levels high
        self.assertTrue(all(w.build_up_id != "P1" for w in done.walls if w.outside and w.room_a not in below))
        kept = next(o for o in find(done.walls, window[0].id).openings if o.id == window[1].id)
        self.assertEqual(kept.glazing_id, "G2")
        self.assertIs(ApplyFabricSet(found.id, f"level {ground}").apply(done), done)
        self.assertEqual(RemoveFabricSet(found.id).apply(done).fabric_sets, ())

    def test_by_zone_and_refusals(self):
        project = SetFabricSet("S1", "wall", "P1").apply(AddFabricSet().apply(station()))
        zone = project.zones[0].id
        done = ApplyFabricSet("S1", f"zone {zone}").apply(project)
        rooms = {r.id for r in project.rooms if r.zone_id == zone}
        self.assertTrue(all((w.build_up_id == "P1") == bool(rooms & {w.room_a}) for w in done.walls if w.outside))
        for command, words in (
            (SetFabricSet("S1", "colour", ""), "no kind"),
            (SetFabricSet("S1", "wall", "X9"), "no longer"),
            (ApplyFabricSet("S1", "moon"), "cannot be applied"),
        ):
            self.assertRaisesRegex(InputError, words, command.apply, project)

    def test_clearing_out_is_one_step_and_keeps_what_is_used(self):
        project = AddMaterial("Straw", 0.05, 100.0, 2000.0).apply(
            AddGlazing("double_clear").apply(AddBuildUp("b").apply(one_room()))
        )
        cleared = ClearUnused().apply(project)
        self.assertEqual((len(cleared.build_ups), len(cleared.glazings), cleared.book.materials), (1, 1, ()))
        check_links(cleared)
        self.assertIs(ClearUnused().apply(cleared), cleared)


class OfficeBook(unittest.TestCase):
    def test_own_materials_are_found_in_layers(self):
        project = AddMaterial("Straw bale", 0.052, 110.0, 2000.0).apply(one_room())
        own = project.book.materials[0]
        self.assertEqual(SetLayerMaterial("b", 1, own.id).apply(project).build_ups[0].layers[1].material, own.id)
        for name, words in (
            ("straw BALE", "already"),
            (" ", "needs a name"),
            (next(iter(materials().values())).name, "already"),
        ):
            self.assertRaisesRegex(InputError, words, AddMaterial(name, 0.05, 100.0, 1000.0).apply, project)

    def test_a_profile_is_made_on_the_first_stroke(self):
        hours = (0.5,) * 24
        project = SetUseProfile("office_single", "other", hours).apply(one_room())
        own = profile_of(project.book, "office_single")
        self.assertEqual(own.other, hours)
        self.assertEqual(own.working, tuple(float(v) for v in profiles()["day"]))
        self.assertIs(SetUseProfile("office_single", "other", hours).apply(project), project)
        self.assertRaisesRegex(
            InputError, "kind of day", SetUseProfile("office_single", "holiday", hours).apply, project
        )
        self.assertRaisesRegex(InputError, "24 hours", DayProfile, id="x", name="x", working=(1.0,))
        self.assertRaisesRegex(InputError, "share of use", DayProfile, id="x", name="x", working=(2.0,) * 24)

    def test_refusals(self):
        for command, words in (
            (SetAssumption("weather", Rule()), "no assumption"),
            (SetUseFigure("office_single", "colour", 1.0), "no figure"),
            (SetUseFigure("moonbase", "lights_w_m2", 1.0), "not in the office standards"),
            (SetAssumption("estimate_glass", Pinned(value=2.0)), "Estimate: glass share"),
            (SetUseFigure("office_single", "lights_w_m2", -1.0), "between"),
            (SetRoomChoice(("r1",), "activity", "sleeping"), "not in the office standards"),
            (SetRoomChoice(("r1",), "mood", ""), "no choice"),
        ):
            self.assertRaisesRegex(InputError, words, command.apply, one_room())
        self.assertEqual(SetAssumption("bridges_w_m2k", Rule()).apply(one_room()).book, Book())


class Names(unittest.TestCase):
    def test_a_name_brings_the_use_it_sounds_like(self):
        project = SetRoomText("r1", "name", "Meeting room 3").apply(one_room())
        self.assertEqual(project.rooms[0].use_id, "meeting")
        # A use chosen otherwise stays.
        chosen = structs.replace(project, rooms=(structs.replace(project.rooms[0], use_id="gym"),))
        self.assertEqual(SetRoomText("r1", "name", "Kitchen").apply(chosen).rooms[0].use_id, "gym")
        self.assertEqual(SetRoomText("r1", "name", "Room Z").apply(project).rooms[0].use_id, "meeting")
        self.assertEqual((guess("Server room"), guess("Zz")), ("server", ""))


class Place(unittest.TestCase):
    YEAR = WeatherYear(
        content="c",
        name="f.epw",
        months=(
            MonthStatistics(
                dry_bulb_c=(30.0, 29.0, 28.0),
                wet_bulb_c=(20.0, 19.0, 18.0),
                range_k=9.0,
                wet_range_k=3.0,
                tau_b=0.4,
                tau_d=2.3,
                mean_c=15.0,
                wind_m_s=4.0,
            ),
        )
        * 12,
        winter_c=(-9.0, -7.0),
        greatest_c=33.0,
        least_c=-12.0,
    )

    def test_weather_frees_what_was_taken_over_and_keeps_what_is_pinned(self):
        site = station().site
        months = (structs.replace(site.months[0], dry_bulb_c=Pinned(value=14.0)), *site.months[1:])
        project = SetWeather(self.YEAR, ("There", 50.0, 8.0, 120.0, 1.0)).apply(
            structs.replace(station(), site=structs.replace(site, months=months))
        )
        self.assertEqual(project.site.months[0].dry_bulb_c, Pinned(value=14.0))
        self.assertFalse(
            any(isinstance(getattr(m, n), Imported) for m in project.site.months for n in m.__struct_fields__)
        )
        self.assertEqual((project.site.name, project.site.latitude_deg), ("There", 50.0))
        self.assertEqual(project.site.winter_c, site.winter_c)
        self.assertIsNone(SetWeather(None).apply(project).site.weather)

    def test_places_numbers_and_percentages(self):
        project = SetPlace("karrow").apply(one_room())
        self.assertEqual(project.site.place_id, "karrow")
        self.assertEqual(SetSite("winter_percent", "99").apply(project).site.winter_percent, "99")
        for command, words in (
            (SetPlace("atlantis"), "no place that ships"),
            (SetSite("summer_percent", "7"), "not among"),
            (SetSite("latitude_deg", 91.0), "Latitude"),
            (SetSite("name", " "), "needs a name"),
            (SetSite("mood", 1.0), "no figure"),
        ):
            self.assertRaisesRegex(InputError, words, command.apply, project)
        bare = structs.replace(one_room(), site=None)
        self.assertEqual(SetPlace("karrow").apply(bare).site.name, "Karrow, inland plain")
        self.assertRaisesRegex(InputError, "no place yet", SetSite("name", "X").apply, bare)


class PlantAndBlocks(unittest.TestCase):
    def test_hours_of_systems_and_zones(self):
        project = SetOperation("a", "mode", "hours").apply(one_room())
        self.assertEqual(project.air_systems[0].operation.mode, "hours")
        self.assertRaisesRegex(InputError, "stop after it starts", SetOperation("a", "from_h", 18.0).apply, project)
        self.assertEqual(SetOperation("a", "from_h", 20.0).apply(project).air_systems[0].operation.from_h, 20)
        self.assertRaisesRegex(InputError, "cannot run", SetOperation("a", "mode", "often").apply, project)
        self.assertRaisesRegex(InputError, "no setting", SetOperation("a", "colour", 1.0).apply, project)
        zone = station().zones[0].id
        own = SetOperation(f"zone:{zone}", "mode", "use").apply(station())
        self.assertEqual(find(own.zones, zone).operation.mode, "use")
        self.assertIsNone(find(SetOperation(f"zone:{zone}", "mode", "").apply(own).zones, zone).operation)

    def test_blocks_beside(self):
        project = AddMark("block", "G", SQUARE, 12.0).apply(one_room())
        mark = project.plan_marks[0]
        self.assertEqual((mark.kind, mark.height_m), ("block", 12.0))
        self.assertEqual(SetBlock(mark.id, 20.0).apply(project).plan_marks[0].height_m, 20.0)
        self.assertEqual(RemoveMark(mark.id).apply(project).plan_marks, ())
        self.assertRaisesRegex(
            InputError,
            "outline with an area",
            AddMark("block", "G", ((0.0, 0.0), (1.0, 0.0), (2.0, 0.0)), 5.0).apply,
            project,
        )
