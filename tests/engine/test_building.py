"""Checks of a building, zones in the chain, and what floor areas are measured between."""

import unittest

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import CAUSES
from garnetfin.engine.run import run
from garnetfin.engine.stages.building import known_as
from garnetfin.exchange.room_list import to_draft, understand
from garnetfin.exchange.tables import rows_of_text
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.groups import AddZone, SetAreaBasis, SetLevel, SetZoneValue
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import SetSystemValue
from garnetfin.project.lookup import find
from garnetfin.project.new import new_project
from garnetfin.project.values import Pinned
from tests.example import by_number, one_room, station, station_results
from tests.project.test_shape import box, house


def titles(project) -> dict:
    return {f.code: f for f in run(project, Memo()).findings}


class Checks(unittest.TestCase):
    def test_a_wrong_overlap_points_at_the_room_and_its_mend_clears_it(self):
        project = house()
        second = structs.replace(find(project.rooms, "n2"), outline=box(5, 0, 10, 4))
        project = structs.replace(project, rooms=(project.rooms[0], second))
        found = titles(project)["overlap"]
        self.assertEqual(found.object_id, "n2")
        self.assertIn("4.0 m²", found.title)
        for mend in found.mends:
            self.assertNotIn("overlap", titles(mend.command.apply(project)))

    def test_floor_that_rooms_enclose_and_none_claims(self):
        project = station()
        level = project.levels[0].id
        core = by_number(project, "0.11")
        self.assertNotIn("floor-hole", titles(project))
        found = titles(RemoveRooms((core.id,)).apply(project))["floor-hole"]
        self.assertEqual((found.kind, found.object_id), ("level", level))

    def test_rooms_against_the_architects_floor(self):
        level = station().levels[0].id
        area = station_results().building.levels[0].rooms_m2
        near = SetLevel(level, "floor_m2", Pinned(value=area * 1.01)).apply(station())
        far = SetLevel(level, "floor_m2", Pinned(value=area * 1.2)).apply(station())
        self.assertNotIn("floor-sum", titles(near))
        self.assertIn("83%", titles(far)["floor-sum"].title)

    def test_a_window_in_an_inside_wall_is_found_and_removed(self):
        project = one_room()
        inner = structs.replace(project.walls[1], openings=project.walls[0].openings)
        project = structs.replace(project, walls=(structs.replace(project.walls[0], openings=()), inner))
        found = titles(project)["window-inside"]
        self.assertNotIn("window-inside", titles(found.mends[0].command.apply(project)))

    def test_glass_share_by_facade_is_the_hand_count(self):
        result = run(one_room(), Memo()).building
        self.assertEqual(len(result.facades), 1)
        assert_allclose(
            (result.facades[0].facing_deg, result.facades[0].wall_m2, result.facades[0].glass_m2), (180, 15.0, 3.0)
        )

    def test_rooms_in_no_zone_count_once_there_are_zones(self):
        self.assertNotIn("no-zone", titles(house()))
        found = titles(AddZone(("n1",)).apply(house()))["no-zone"]
        self.assertIn("1 served room is", found.title)
        self.assertNotIn("no-zone", titles(found.mends[0].command.apply(AddZone(("n1",)).apply(house()))))

    def test_how_well_rooms_are_known(self):
        project = house()
        self.assertEqual([known_as(project, r) for r in project.rooms], ["detailed", "shell"])
        self.assertEqual(known_as(project, structs.replace(project.rooms[0], sketched=True)), "shell")
        # no wall, roof or floor of its own is known
        alone = structs.replace(project.rooms[0], id="nobody", sketched=True)
        self.assertEqual(known_as(project, alone), "early estimate")


class Zones(unittest.TestCase):
    def test_a_zone_moves_set_points_of_its_rooms_but_not_pinned_ones(self):
        project = SetRoomValue(("n2",), "cooling_c", Pinned(value=21.0)).apply(AddZone(("n1", "n2")).apply(house()))
        project = SetZoneValue("z1", "cooling_c", Pinned(value=23.5)).apply(project)
        figures = [run(project, Memo()).room(i).figures.cooling_c for i in ("n1", "n2")]
        self.assertEqual(
            [(f.figure, f.by_rule, f.origin) for f in figures], [(23.5, 23.5, "rule"), (21.0, 23.5, "pinned")]
        )
        self.assertEqual(figures[0].source, "zone Zone 1")

    def test_a_colder_supply_in_the_zone_needs_less_air(self):
        project = AddZone(("n1",)).apply(house())
        memo = Memo()
        before = run(project, memo)
        after = run(SetZoneValue("z1", "supply_c", Pinned(value=11.0)).apply(project), memo)
        rooms = [r.room_air["n1"] for r in (before, after)]
        room_c = before.room("n1").figures.cooling_c.figure
        # The load is the same, so the flows are as the inverse of the rises.
        assert_allclose(rooms[1].need("cooling") / rooms[0].need("cooling"), (room_c - 14) / (room_c - 11), rtol=1e-9)
        # By rule the system supplies what its coldest zone wants; the rest of the rooms gets that air too.
        others = [r.room_air["n2"].need("cooling") for r in (before, after)]
        assert_allclose(others[1] / others[0], (room_c - 14) / (room_c - 11), rtol=1e-9)
        held = run(SetSystemValue("ahu1", "supply_c", Pinned(value=14.0)).apply(after.project), memo)
        assert_allclose(held.room_air["n2"].need("cooling"), others[0])

    def test_a_lower_humidity_limit_raises_the_latent_load_of_leaking_air(self):
        project = AddZone(("n1",)).apply(house())
        dry = SetZoneValue("z1", "humidity_high", Pinned(value=0.4)).apply(project)
        memo = Memo()
        before, after = (run(p, memo).room("n1") for p in (project, dry))
        self.assertEqual((before.figures.humidity, after.figures.humidity), (0.5, 0.4))
        self.assertGreater(after.latent_w.max(), before.latent_w.max())
        assert_allclose(after.sensible_w, before.sensible_w)


class Areas(unittest.TestCase):
    def test_net_and_wall_centre_areas_and_which_one_is_used(self):
        room = run(house(), Memo()).room("n1").figures
        # 6 x 4 m on wall centres: outside walls of 0.36 m on three sides, an inside wall of 0.12 m on the fourth.
        assert_allclose((room.centre_m2, room.net_m2), (24.0, (6 - 0.18 - 0.06) * (4 - 0.36)), rtol=1e-9)
        net = run(SetAreaBasis("net").apply(house()), Memo()).room("n1").figures
        self.assertEqual((room.area_m2.figure, net.area_m2.figure), (room.centre_m2, room.net_m2))
        self.assertIn("less half of each wall", net.area_m2.source)


if __name__ == "__main__":
    unittest.main()


class ListedByLevel(unittest.TestCase):
    """A room of a list without outside walls is an early estimate wherever it lies."""

    @classmethod
    def setUpClass(cls):
        rows = "number\tname\tarea\tlevel\n" + "\n".join(
            f"{n}.01\tOffice\t40\t{level}" for n, level in enumerate(("Ground", "First", "Second"))
        )
        draft = to_draft(understand(rows_of_text(rows), "list"), new_project(), "L0")
        cls.project = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(new_project())
        cls.results = run(cls.project, Memo())
        cls.lowest, cls.middle, cls.top = (cls.results.room(r.id) for r in cls.project.rooms)

    def test_each_level_is_an_estimate(self):
        for found in (self.lowest, self.middle, self.top):
            self.assertIsNotNone(found.estimate)

    def test_they_differ_by_roof_and_ground_alone(self):
        by = {n: f.by_cause_w for n, f in (("low", self.lowest), ("mid", self.middle), ("top", self.top))}
        i = {c: CAUSES.index(c) for c in ("roofs", "floors")}
        self.assertEqual(float(np.abs(by["mid"][[i["roofs"], i["floors"]]]).max()), 0.0)
        self.assertGreater(float(by["top"][i["roofs"]].max()), 0.0)
        self.assertEqual(float(np.abs(by["top"][i["floors"]]).max()), 0.0)
        self.assertLess(float(by["low"][i["floors"]].min()), 0.0)  # the ground takes heat away in summer
        self.assertEqual(float(np.abs(by["low"][i["roofs"]]).max()), 0.0)

    def test_heating_by_hand(self):
        f, book = self.results.climate.figures, self.project.book
        inside, area = self.middle.figures.heating_c.figure, 40.0
        roof, ground = (assumption(book, f"estimate_{n}_u").figure for n in ("roof", "ground"))
        self.assertAlmostEqual(
            self.top.heating_w - self.middle.heating_w, roof * area * (inside - f.winter_c.figure), places=6
        )
        self.assertAlmostEqual(
            self.lowest.heating_w - self.middle.heating_w,
            1.45 * ground * area * (inside - f.annual_mean_c.figure),
            places=6,
        )

    def test_a_worse_roof_acts(self):
        worse = SetAssumption("estimate_roof_u", Pinned(value=1.0)).apply(self.project)
        found = run(worse, Memo())
        top, middle = self.project.rooms[2].id, self.project.rooms[1].id
        self.assertGreater(found.room(top).heating_w, self.top.heating_w + 100)
        self.assertEqual(found.room(middle).heating_w, self.middle.heating_w)
