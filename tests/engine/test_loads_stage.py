"""Loads of whole projects: plant by the hour, rooms without plant, voids, shadows, shades, earth, set-points,
estimates, the book.
"""

import unittest

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin import display
from garnetfin.core.tables import places
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Missing, Results, RoomResult
from garnetfin.engine.run import run
from garnetfin.engine.stages.boundary_conditions import by_clock
from garnetfin.project.edits.book import FreeUseProfile, SetAssumption, SetUseFigure, SetUseProfile
from garnetfin.project.edits.fabric import AddLayer, SetShade
from garnetfin.project.edits.marks import AddMark
from garnetfin.project.edits.openings import SetWall
from garnetfin.project.edits.rooms import SetOpening, SetRoomChoice, SetRoomUse, SetRoomValue, SetServed, SetVoid
from garnetfin.project.edits.site import SetPlace, SetSite
from garnetfin.project.edits.systems import SetOperation
from garnetfin.project.sketch import sketch_faces
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule
from tests.example import by_number as by_no
from tests.example import one_room, station, station_results

SYSTEM = "ahu-north"


def after(*commands, project: Project | None = None) -> Results:
    project = project or station()
    for command in commands:
        project = command.apply(project)
    return run(project, Memo())


def found_in(results: Results, wanted: str):
    return results.room(by_no(results.project, wanted).id)


class Plant(unittest.TestCase):
    def test_off_at_night_the_load_stands_in_the_used_hours(self):
        results = after(SetOperation(SYSTEM, "mode", "use"))
        held, found = found_in(station_results(), "0.02"), found_in(results, "0.02")
        self.assertEqual(found.sensible_w[:, :6].max(), 0.0)
        self.assertGreater(found.peak_w, held.peak_w)  # what the night stored comes on top
        self.assertTrue(found.counted[found.peak])
        assert_allclose(found.by_cause_w.sum(axis=0), found.sensible_w, atol=1e-6)
        self.assertGreater(found.air_c[6].max(), found.figures.cooling_c.figure + 0.5)
        self.assertGreater(found.warm_up_w, 0)
        self.assertIn("warm-up", [f.code for f in results.findings])

    def test_an_earlier_start_needs_less_warm_up(self):
        need = [
            found_in(after(SetOperation(SYSTEM, "mode", "use"), SetOperation(SYSTEM, "lead_h", h)), "0.02").warm_up_w
            for h in (1, 3)
        ]
        self.assertLess(need[1], need[0])

    def test_set_back_at_night_needs_less_than_off(self):
        off, back = (
            found_in(after(SetOperation(SYSTEM, "mode", "hours"), *more), "0.02").warm_up_w
            for more in ((), (SetOperation(SYSTEM, "night_heating_c", Pinned(value=17.0)),))
        )
        self.assertLess(back, off)

    def test_a_limit_lets_the_room_drift_and_is_said(self):
        room = by_no(station(), "0.04").id
        results = after(SetRoomValue((room,), "cooling_limit_w", Pinned(value=500.0)))
        found = results.room(room)
        self.assertGreater(found.warmest[0], found.figures.cooling_c.figure + 0.5)
        self.assertGreater(found.short_hours, 0)
        # The need itself stands; only the unheated rooms beside feel the drift, and it them in turn.
        assert_allclose(found.peak_w, station_results().room(room).peak_w, rtol=1e-3)
        finding = next(f for f in results.findings if f.code == "cooling-short")
        for mend in finding.mends:
            self.assertNotIn(
                "cooling-short", [f.code for f in run(mend.command.apply(results.project), Memo()).findings]
            )

    def test_every_room_closes_its_day(self):
        """What comes through faces and by leakage on a day arrives on that day: storage delays it and keeps nothing."""
        for found in station_results().rooms.values():
            if found.kept:
                for cause in (
                    "conduction through glass",
                    "walls",
                    "roofs",
                    "floors",
                    "unheated spaces",
                    "adjacent rooms",
                    "thermal bridges",
                    "infiltration",
                ):
                    i = CAUSES.index(cause)
                    assert_allclose(
                        found.by_cause_w[i].sum(axis=1), found.instant_w[i].sum(axis=1), rtol=1e-4, atol=1e-3
                    )
                for cause in ("people", "lights", "equipment"):
                    i = CAUSES.index(cause)
                    # A little of what radiates leaves through walls and glass.
                    share = found.by_cause_w[i].sum() / max(found.instant_w[i].sum(), 1e-9)
                    self.assertTrue(0.75 < share <= 1.0 + 1e-9 or found.instant_w[i].sum() == 0)


class WithoutPlant(unittest.TestCase):
    def test_the_boat_store_drifts_between_its_neighbours_and_outdoors(self):
        found = found_in(station_results(), "0.07")
        outdoor = station_results().climate.days.dry_bulb_c
        self.assertFalse(found.kept)
        self.assertEqual(found.peak_w, 0.0)
        self.assertTrue(outdoor[6].min() < found.air_c[6].min() and found.air_c[6].max() < outdoor[6].max() + 5)
        self.assertTrue(-8.0 < found.winter_c < 18.0)

    def test_rooms_beside_feel_its_drift(self):
        store = by_no(station(), "0.07").id
        before, served = found_in(station_results(), "0.15"), found_in(after(SetServed((store,), SYSTEM)), "0.15")
        i = CAUSES.index("unheated spaces")
        self.assertGreater(np.abs(before.by_cause_w[i] - served.by_cause_w[i]).max(), 1.0)
        self.assertIn(f"unheated:{store}", [f.to for f in before.faces])
        self.assertNotIn(f"unheated:{store}", [f.to for f in served.faces])

    def test_two_that_touch_settle_together(self):
        ids = tuple(by_no(station(), n).id for n in ("0.06", "0.07"))
        results = after(SetServed(ids, ""))
        for room_id in ids:
            self.assertTrue(np.isfinite(results.room(room_id).air_c).all())

    def test_a_sealed_one_says_so(self):
        project = one_room(system_id="", infiltration_1h=Pinned(value=0.0))
        closed = structs.replace(
            project, walls=tuple(structs.replace(w, room_b="shaft", openings=()) for w in project.walls), slabs=()
        )
        found = run(closed, Memo()).rooms["r1"]
        self.assertIsInstance(found, Missing)
        self.assertEqual(found.reason, "no way out")


class Fabric(unittest.TestCase):
    def test_a_block_beside_takes_sun_off(self):
        project = one_room()
        free = run(project, Memo()).room("r1")
        block = AddMark("block", "G", ((-20.0, -9.0), (25.0, -9.0), (25.0, -6.0), (-20.0, -6.0)), 15.0)
        dark = run(block.apply(project), Memo()).room("r1")
        self.assertLess(dark.by_cause_w[0, 11].max(), 0.6 * free.by_cause_w[0, 11].max())  # December sun is low
        assert_allclose(dark.by_cause_w[1], free.by_cause_w[1])

    def test_turning_plan_and_block_alike_changes_nothing_about_the_shadow(self):
        block = AddMark("block", "G", ((-20.0, -9.0), (25.0, -9.0), (25.0, -6.0), (-20.0, -6.0)), 15.0)
        plain = run(block.apply(one_room()), Memo()).room("r1")
        site = structs.replace(one_room().site, north_deg=90.0)
        turned = structs.replace(
            one_room(),
            site=site,
            walls=tuple(structs.replace(w, facing_deg=270.0) if w.outside else w for w in one_room().walls),
        )
        west = run(block.apply(turned), Memo()).room("r1")
        free = run(turned, Memo()).room("r1")
        self.assertLess(west.by_cause_w[0].max(), free.by_cause_w[0].max())
        self.assertNotAlmostEqual(west.by_cause_w[0].max(), plain.by_cause_w[0].max(), 0)

    def test_outside_blinds_do_more_than_inside_ones(self):
        free, inside, outside = (
            run(SetShade("g", "kind", k).apply(one_room()), Memo()).room("r1").cause_w("solar through glass")
            for k in ("", "inside", "outside")
        )
        self.assertTrue(outside < 0.5 * inside < inside < free)

    def test_overhang_and_fins_take_sun_off(self):
        free = run(one_room(), Memo()).room("r1").by_cause_w[0]
        for field in ("overhang_m", "fin_left_m", "fin_right_m"):
            found = run(SetOpening("w1", "W1", field, 0.8).apply(one_room()), Memo()).room("r1").by_cause_w[0]
            self.assertLess(found.sum(), free.sum())

    def test_a_buried_wall_loses_to_the_ground(self):
        results = run(SetWall(("w1",), "buried_m", 0.8).apply(one_room()), Memo()).room("r1")
        kinds = [(f.kind, f.to) for f in results.faces]
        self.assertIn(("wall", "ground"), kinds)
        area = sum(f.area_m2 for f in results.faces if f.kind == "wall" and f.to == "outdoors")
        self.assertAlmostEqual(area, 5.0 * 3.0 - 3.0 - 5.0 * 0.8, 9)

    def test_a_ventilated_gap_ends_the_build_up(self):
        whole = run(one_room(), Memo()).room("r1")
        project = AddLayer("b", 1, "", 0.04, True).apply(one_room())
        cut = run(project, Memo()).room("r1")
        u = next(f.u_w_m2k for f in cut.faces if f.kind == "wall")
        # Plasterboard alone between two films of still air.
        self.assertAlmostEqual(u, 1 / (0.13 + 0.0125 / 0.21 + 0.13), 9)
        self.assertGreater(u, next(f.u_w_m2k for f in whole.faces if f.kind == "wall"))

    def test_rooms_at_other_set_points_pass_heat(self):
        cold = by_no(station(), "0.02").id
        results = after(
            SetRoomValue((cold,), "heating_c", Pinned(value=10.0)),
            SetRoomValue((cold,), "cooling_c", Pinned(value=18.0)),
        )
        beside = found_in(results, "0.01")
        i = HEATING_CAUSES.index("adjacent rooms")
        self.assertGreater(beside.heating_by_cause_w[i], 50)
        self.assertLess(beside.cause_w("adjacent rooms"), -10)
        # In the building's sum heat between its rooms is no loss.
        self.assertEqual(results.blocks[""].heating_by_cause_w[i], 0.0)

    def test_a_void_carries_heat_to_the_coil(self):
        room = by_no(station(), "1.12").id
        plain, found = station_results().room(room), after(SetVoid((room,), 0.6)).room(room)
        self.assertLess(found.peak_w, plain.peak_w)
        self.assertGreater(found.void.air_c[found.peak], found.figures.cooling_c.figure)
        self.assertGreater(found.return_gain_w[found.peak], 0)
        assert_allclose(found.heating_w, plain.heating_w, rtol=0.01)


class BookAndPlace(unittest.TestCase):
    def test_an_assumption_moves_all_by_rule_and_no_pinned_one(self):
        pinned = by_no(station(), "0.01").id
        results = after(
            SetRoomValue((pinned,), "infiltration_1h", Pinned(value=0.3)),
            SetAssumption("infiltration_1h", Pinned(value=0.6)),
        )
        rates = {r.room_id: r.figures.infiltration_1h for r in results.rooms.values()}
        self.assertEqual(rates[pinned].figure, 0.3)
        moved = [f for k, f in rates.items() if f.origin == "rule" and f.figure > 0]
        self.assertTrue(len(moved) > 10 and all(f.figure == 0.6 for f in moved))

    def test_a_use_as_the_office_has_it(self):
        project = one_room()
        base = run(project, Memo()).room("r1")
        results = run(SetUseFigure("office_single", "equipment_w_m2", 40.0).apply(project), Memo()).room("r1")
        self.assertGreater(results.peak_w, base.peak_w)
        freed = SetUseFigure("office_single", "equipment_w_m2", None).apply(
            SetUseFigure("office_single", "equipment_w_m2", 40.0).apply(project)
        )
        self.assertEqual(freed.book, project.book)

    def test_a_drawn_profile_moves_the_load(self):
        late = tuple(1.0 if 18 <= h < 22 else 0.0 for h in range(24))
        project = SetUseProfile("office_single", "working", late).apply(one_room())
        found = run(project, Memo()).room("r1")
        people = found.instant_w[9, 6]
        self.assertEqual((people[19] > 0, people[10]), (True, 0.0))
        self.assertEqual(FreeUseProfile("office_single").apply(project).book, one_room().book)
        # The summer design day may differ from the working day.
        summer = SetUseProfile("office_single", "summer_design", (0.5,) * 24).apply(project)
        self.assertGreater(run(summer, Memo()).room("r1").instant_w[9, 6, 3], 0)

    def test_a_room_may_leave_its_use(self):
        found = run(SetRoomChoice(("r1",), "activity", "athletics").apply(one_room()), Memo()).room("r1")
        self.assertEqual(found.figures.use.sensible_w, 210.0)
        found = run(SetRoomChoice(("r1",), "profile_id", "always").apply(one_room()), Memo()).room("r1")
        self.assertEqual(found.figures.profile.summer.min(), 1.0)

    def test_people_by_floor_area(self):
        found = run(SetRoomValue(("r1",), "people_area_m2", Pinned(value=4.0)).apply(one_room()), Memo()).room("r1")
        self.assertEqual(found.figures.people.figure, found.figures.area_m2.figure / 4.0)

    def test_people_are_a_fraction_until_they_are_printed(self):
        def at(area: float) -> RoomResult:
            project = SetRoomUse(("r1",), "office_single").apply(one_room())
            each = SetRoomValue(("r1",), "people_area_m2", Pinned(value=10.0)).apply(project)
            return run(SetRoomValue(("r1",), "area_m2", Pinned(value=area)).apply(each), Memo()).room("r1")

        for area, people in ((25.0, 2.5), (5.0, 0.5), (9.0, 0.9)):
            found = at(area)
            self.assertAlmostEqual(found.figures.people.figure, people)
            self.assertGreater(found.figures.outdoor_m3s.figure, 0.0)
        # 25 rooms of 9 m2 are 22.5 people, not 25
        self.assertAlmostEqual(25 * at(9.0).figures.people.figure, 22.5)
        # half a person brings half the heat and half the outdoor air of one
        half, one = at(5.0), at(10.0)
        i = CAUSES.index("people")
        assert_allclose(2 * half.instant_w[i], one.instant_w[i], rtol=1e-9)
        rate = half.figures.air_person_m3s
        self.assertAlmostEqual(one.figures.outdoor_m3s.figure - half.figures.outdoor_m3s.figure,
                               0.5 * rate + 5 * half.figures.air_area_m3s_m2)  # fmt: skip
        printed = [display.figure("people", x, "SI") for x in (0.0, 0.2, 0.6, 1.4, 2.6)]
        self.assertEqual(printed, ["0", "1", "1", "1", "3"])

    def test_another_place_moves_conditions_that_are_by_rule(self):
        project = SetPlace("sandmere").apply(one_room())
        results = run(project, Memo())
        # The months of this project are pinned; its winter follows the place.
        self.assertEqual(results.climate.days.dry_bulb_c.max(), 30.0)
        self.assertAlmostEqual(results.climate.figures.winter_c.figure, 4.2)
        freed = structs.replace(project, site=structs.replace(project.site, months=()))
        self.assertAlmostEqual(
            run(freed, Memo()).climate.days.dry_bulb_c.max(), max(m[0] for m in places()["sandmere"].months)
        )

    def test_a_place_at_the_pole(self):
        for latitude in (90.0, -90.0):
            results = run(SetSite("latitude_deg", latitude).apply(one_room()), Memo())
            self.assertTrue(np.isfinite(results.room("r1").sensible_w).all())

    def test_summer_time_brings_people_an_hour_early(self):
        plain = run(one_room(), Memo()).room("r1").instant_w[9]
        summer = run(SetSite("summer_time", True).apply(one_room()), Memo()).room("r1").instant_w[9]
        assert_allclose(summer[6], np.roll(plain[6], -1))
        assert_allclose(summer[0], plain[0])
        south = by_clock(np.arange(24.0), structs.replace(station().site, latitude_deg=-30.0, summer_time=True))
        assert_allclose(south[0], np.roll(np.arange(24.0), -1))
        assert_allclose(south[6], np.arange(24.0))


class Estimates(unittest.TestCase):
    @staticmethod
    def listed(sides: dict) -> Project:
        base = structs.replace(one_room(), walls=(), slabs=(), segments=(), terminals=(), duct_points=())
        room = structs.replace(base.rooms[0], sketched=True, area_m2=Pinned(value=20.0))
        walls, slabs = sketch_faces(room, sides, 0.0, 0.0, 3.0, ("b",) * 5, "g")
        return structs.replace(base, rooms=(room,), walls=tuple(walls), slabs=tuple(slabs))

    def test_a_room_of_area_and_use_stands_on_an_estimate_with_a_band(self):
        results = run(self.listed({}), Memo())
        found, block = results.room("r1"), results.blocks[""]
        self.assertIsNotNone(found.estimate)
        self.assertAlmostEqual(found.peak_w, found.estimate.cooling_w_m2 * 20.0, 6)
        self.assertTrue(block.estimated and block.low_w < block.peak_w < block.high_w)
        self.assertGreater(found.heating_w, 0)

    def test_with_outside_walls_its_own_faces_take_over(self):
        found = run(self.listed({180.0: (5.0, 4.0)}), Memo()).room("r1")
        self.assertIsNone(found.estimate)
        self.assertGreater(found.cause_w("solar through glass"), 0)

    def test_the_books_shell_moves_it(self):
        base = run(self.listed({}), Memo()).room("r1")
        glassy = run(SetAssumption("estimate_glass", Pinned(value=0.7)).apply(self.listed({})), Memo()).room("r1")
        self.assertGreater(glassy.peak_w, base.peak_w)
        again = SetAssumption("estimate_glass", Rule()).apply(
            SetAssumption("estimate_glass", Pinned(value=0.7)).apply(self.listed({}))
        )
        self.assertEqual(again.book, self.listed({}).book)


class Blocks(unittest.TestCase):
    def test_zones_have_their_own_hour(self):
        results = station_results()
        for zone in results.project.zones:
            block = results.blocks[f"zone:{zone.id}"]
            ids = [r.id for r in results.project.rooms if r.zone_id == zone.id and r.system_id]
            self.assertEqual(set(block.room_ids), set(ids))
            self.assertAlmostEqual(block.peak_w, float(sum(results.room(i).sensible_w for i in ids).max()), 6)
            self.assertLessEqual(block.peak_w, block.sum_of_peaks_w + 1e-9)
