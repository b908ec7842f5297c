"""Faces of rooms from walls and slabs, unheated neighbours, resolved values, clear heights, fittings by topology."""

import math
import unittest

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import Layer, resistance
from garnetfin.core.outlines import area_of
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import resolve, room_figures, site_figures, system_figures
from garnetfin.engine.run import run
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.duct_layout import clearances
from garnetfin.engine.stages.faces import b_factor, core_layers, half, room_fabric
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import DrawRun, MovePoint, SetShape
from garnetfin.project.fabric import BuildUp, BuildUpLayer
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.spaces import CeilingZone, Obstacle, Slab, Sleeve, Wall
from garnetfin.project.values import Imported, Pinned, Rule
from tests.example import by_number, one_room, site, station, station_results

SYSTEM = "ahu-north"


def two_rooms(heated: bool = True):
    """The room of `one_room` with another one east of it."""
    base = one_room()
    other = structs.replace(
        base.rooms[0],
        id="r2",
        number="2",
        name="Store",
        system_id="a" if heated else "",
        outline=((5.0, 0.0), (9.0, 0.0), (9.0, 4.0), (5.0, 4.0)),
    )
    inner = structs.replace(base.walls[1], room_b="r2")
    outer = structs.replace(base.walls[0], id="w3", room_a="r2", start=(5.0, 0.0), end=(9.0, 0.0), openings=())
    slabs = (*base.slabs, Slab(id="t2", kind="roof", room_below="r2", room_above="", area_m2=16.0, build_up_id="b"))
    return structs.replace(base, rooms=(*base.rooms, other), walls=(base.walls[0], inner, outer), slabs=slabs)


class Layers(unittest.TestCase):
    def test_half_of_a_build_up_has_half_its_resistance(self):
        layers = (Layer(0.0125, 0.21, 700, 1000), Layer(0.05, 0.035, 30, 1030), Layer(0.0125, 0.21, 700, 1000))
        for part in (half(layers), half(layers, False)):
            assert_allclose(resistance(part), resistance(layers) / 2, rtol=1e-12)
        self.assertEqual(half(layers)[0], layers[0])

    def test_half_of_a_gap(self):
        assert_allclose(resistance(half((Layer(resistance_m2k_w=0.18),))), 0.09)

    def test_unknown_material_is_named(self):
        build_up = BuildUp(id="x", name="X", layers=(BuildUpLayer(material="moonrock", thickness_m=0.1),))
        self.assertRaisesRegex(InputError, "moonrock.*build-up X", core_layers, build_up)

    def test_an_equivalent_conductivity_takes_the_place_of_the_library(self):
        build_up = BuildUp(
            id="x", name="X", layers=(BuildUpLayer(material="cellulose", thickness_m=0.24, conductivity_w_mk=0.06),)
        )
        assert_allclose(resistance(core_layers(build_up)), 4.0)


class Faces(unittest.TestCase):
    def test_walls_count_less_their_openings(self):
        fabric = room_fabric(one_room(), one_room().rooms[0])
        wall = next(s for s in fabric.surfaces if s.face.kind == "wall")
        window = next(s for s in fabric.surfaces if s.face.kind == "window")
        assert_allclose(wall.face.area_m2 + window.face.area_m2, 5 * 3)
        assert_allclose(window.face.area_m2, 2 * 1.5)

    def test_u_values_are_those_of_the_layers(self):
        wall = next(s for s in room_fabric(one_room(), one_room().rooms[0]).surfaces if s.face.kind == "wall")
        layers = core_layers(one_room().build_ups[0])
        assert_allclose(wall.face.u_w_m2k, 1 / (0.13 + resistance(layers) + 0.04), rtol=1e-12)

    def test_a_window_loses_what_its_u_value_says(self):
        """Inside film 7.7 and the surface's resistance give back U."""
        window = next(s for s in room_fabric(one_room(), one_room().rooms[0]).surfaces if s.glazing is not None)
        assert_allclose(1 / (1 / 7.7 + 1 / window.film), 1.3, rtol=1e-12)

    def test_heated_neighbours_meet_in_the_middle_of_the_wall(self):
        partition = next(
            s for s in room_fabric(two_rooms(), two_rooms().rooms[0]).surfaces if s.face.kind == "partition"
        )
        self.assertEqual((partition.film, partition.behind), (None, "inside"))

    def test_an_unheated_neighbour_takes_heat(self):
        project = two_rooms(heated=False)
        fabric = room_fabric(project, project.rooms[0])
        partition = next(s for s in fabric.surfaces if s.face.to == "unheated:r2")
        self.assertEqual(partition.cause, "unheated spaces")
        self.assertEqual(fabric.b_factors[0][0], "r2")
        warm, cold = run(two_rooms(), Memo()).room("r1"), run(project, Memo()).room("r1")
        self.assertGreater(cold.heating_w, warm.heating_w)

    def test_b_factor_is_the_balance_of_steady_losses(self):
        project = two_rooms(heated=False)
        b = b_factor(project, project.rooms[1])
        r = resistance(core_layers(project.build_ups[0]))
        inside = 12.0 / (0.26 + r)  # an inside film on both sides; outdoors 0.04 (ISO 6946)
        outside = 12.0 / (0.17 + r) + 16.0 / (0.14 + r) + 0.34 * 0.2 * 16 * 2.8
        assert_allclose(b, outside / (inside + outside), rtol=1e-12)
        self.assertTrue(0 < b < 1)

    def test_a_store_beside_nothing_heated_is_outdoors(self):
        project = structs.replace(
            two_rooms(heated=False), rooms=tuple(structs.replace(r, system_id="") for r in two_rooms().rooms)
        )
        self.assertEqual(b_factor(project, project.rooms[1]), 1.0)

    def test_every_room_of_the_station_closes_its_volume(self):
        """Isoperimetry: faces of a closed body are at least 4.836 V^(2/3); core rooms of one level too."""
        for room in station().rooms:
            result = station_results().room(room.id)
            total = sum(f.area_m2 for f in result.faces)
            self.assertGreater(total, 4.5 * result.volume_m3 ** (2 / 3), room.number)

    def test_all_partitions_have_two_sides_of_one_area(self):
        sides: dict[str, list[float]] = {}
        for room in station().rooms:
            for f in station_results().room(room.id).faces:
                if f.kind == "partition":
                    sides.setdefault(f.wall_id, []).append(f.area_m2)
        walls = {w.id: w for w in station().walls}
        for wall_id, areas in sides.items():
            self.assertEqual(len(areas), 1 if walls[wall_id].room_b == "shaft" else 2, wall_id)
            self.assertAlmostEqual(min(areas), max(areas))

    def test_the_station_has_the_floor_it_is_drawn_with(self):
        total = sum(station_results().room(r.id).figures.area_m2.figure for r in station().rooms)
        self.assertAlmostEqual(total, 898, delta=0.5)


class Resolved(unittest.TestCase):
    def test_origins(self):
        self.assertEqual(
            [resolve(v, 1.0, "book").origin for v in (Rule(), Pinned(value=2.0), Imported(value=3.0))],
            ["rule", "pinned", "imported"],
        )
        self.assertEqual(resolve(Pinned(value=2.0, note="agreed"), 1.0, "book").source, "agreed")
        self.assertEqual(resolve(Pinned(value=2.0), 1.0, "book").by_rule, 1.0)

    def test_area_is_that_of_the_outline_either_way_round(self):
        square = ((0.0, 0.0), (3.0, 0.0), (3.0, 2.0), (0.0, 2.0))
        self.assertEqual(area_of(square), 6.0)
        self.assertEqual(area_of(square[::-1]), 6.0)

    def test_rooms_without_an_outside_wall_do_not_leak(self):
        for number, rate in (("0.01", 0.2), ("1.11", 0.0)):
            room = by_number(station(), number)
            self.assertEqual(room_figures(room, walls_of(station().walls, room.id)).infiltration_1h.figure, rate)

    def test_people_follow_area_and_use_and_outdoor_air_follows_people(self):
        figures = room_figures(one_room(area_m2=Pinned(value=40.0)).rooms[0], ())
        self.assertEqual(figures.people.figure, 4)
        assert_allclose(figures.outdoor_m3s.figure, 4 * 0.007 + 40 * 0.0007)

    def test_defaults_of_place_and_system_name_their_source(self):
        for figures in (site_figures(site()), system_figures(one_room().air_systems[0])):
            for name in figures.__slots__:
                if name != "months":
                    self.assertIn("office standards", getattr(figures, name).source)


def clear_of(project, segment_id: str):
    segment = find(project.segments, segment_id)
    parts = duct_parts(project, segment.system_id, segment.air)
    return clearances(parts, Memo())[parts.segments.index(segment)]


class Clearances(unittest.TestCase):
    ZONE = CeilingZone(
        id="z",
        name="Zone",
        level_id="G",
        outline=((0.0, 0.0), (5.0, 0.0), (5.0, 4.0), (0.0, 4.0)),
        ceiling_m=2.5,
        soffit_m=2.9,
        allowance_m=0.05,
    )
    BEAM = Obstacle(
        id="B",
        kind="beam",
        level_id="G",
        outline=((0.0, 1.9), (5.0, 1.9), (5.0, 2.6), (0.0, 2.6)),
        bottom_m=2.75,
        top_m=2.9,
    )

    def clear(self, **parts):
        project = structs.replace(one_room(), **parts)
        return clear_of(project, project.segments[0].id)

    def test_free_height_of_a_zone_and_under_a_beam(self):
        assert_allclose(self.clear(ceiling_zones=(self.ZONE,)).zone_m, 0.35)
        found = self.clear(ceiling_zones=(self.ZONE,), obstacles=(self.BEAM,))
        assert_allclose((found.zone_m, found.obstacle_m), (0.35, 0.2))
        self.assertEqual(found.obstacle, "beam B")

    def test_a_sleeve_lets_through_what_fits_into_it(self):
        sleeve = Sleeve(at=(2.5, 2.2), width_m=0.5, bottom_m=2.76, top_m=2.88)
        assert_allclose(
            self.clear(
                ceiling_zones=(self.ZONE,), obstacles=(structs.replace(self.BEAM, sleeves=(sleeve,)),)
            ).obstacle_m,
            0.12,
        )
        aside = structs.replace(sleeve, at=(4.5, 2.2))
        assert_allclose(
            self.clear(
                ceiling_zones=(self.ZONE,), obstacles=(structs.replace(self.BEAM, sleeves=(aside,)),)
            ).obstacle_m,
            0.2,
        )

    def test_outside_zones_everything_is_free(self):
        self.assertEqual(self.clear(obstacles=(self.BEAM,)).zone_m, math.inf)

    def test_a_riser_has_no_ceiling(self):
        project = structs.replace(one_room(), ceiling_zones=(self.ZONE,))
        project = DrawRun("a", "G", ((2.5, 2.0, 2.6), (2.5, 2.0, 1.0))).apply(project)
        self.assertEqual(clear_of(project, project.segments[-1].id).zone_m, math.inf)

    def test_a_low_zone_makes_flat_ducts(self):
        flat = structs.replace(self.ZONE, ceiling_m=2.74)
        project = SetShape(("s1",), "rectangular").apply(structs.replace(one_room(), ceiling_zones=(flat,)))
        section = run(project, Memo()).ducts["a"].segments["s1"].section
        self.assertLessEqual(section.height_m, 0.11)


class Fittings(unittest.TestCase):
    def names(self, project) -> list[str]:
        ducts = run(project, Memo()).ducts["a"]
        return sorted(f.name for s in ducts.segments.values() for f in s.fittings)

    def test_a_straight_duct_has_only_its_ends(self):
        self.assertEqual(self.names(one_room()), ["damper, open", "unit connection"])

    def test_a_bend_is_an_elbow_of_its_angle(self):
        project = DrawRun("a", "G", ((2.5, 2.0, 2.6), (4.0, 2.0, 2.6)), "round", "last").apply(
            structs.replace(one_room(), terminals=())
        )
        project = structs.replace(
            project, terminals=(structs.replace(one_room().terminals[0], point_id=project.segments[-1].b),)
        )
        ducts = run(project, Memo()).ducts["a"]
        elbow = next(f for s in ducts.segments.values() for f in s.fittings if "elbow" in f.name)
        assert_allclose(elbow.k, 0.15)
        flat = MovePoint(project.segments[-1].b, 4.0, 0.5, 2.6).apply(project)
        bent = next(f for s in run(flat, Memo()).ducts["a"].segments.values() for f in s.fittings if "elbow" in f.name)
        assert_allclose(bent.k, 0.15 * 0.6, rtol=1e-6)

    def test_a_branch_makes_a_tee_or_tap_and_a_straight_leg(self):
        project = DrawRun("a", "G", ((2.5, 5.0, 2.6), (4.0, 5.0, 2.6), (4.0, 3.0, 2.6)), "round", "last", "r1").apply(
            one_room()
        )
        names = self.names(project)
        self.assertIn("tee-straight", names)
        self.assertTrue({"tee-div-90", "takeoff-conical"} & set(names), names)
        self.assertEqual(names.count("damper, open"), 2)

    def test_a_main_that_ends_across_is_a_bullhead(self):
        base = structs.replace(one_room(), terminals=())
        for x in (1.0, 4.0):
            base = DrawRun("a", "G", ((2.5, 2.0, 2.6), (x, 2.0, 2.6)), "round", "last", "r1").apply(base)
        self.assertEqual(self.names(base).count("tee-div-bullhead"), 2)

    def test_a_change_of_size_is_a_transition(self):
        project = one_room()
        point = structs.replace(project.duct_points[0], id="p3", y_m=5.0)
        first, second = (
            structs.replace(
                project.segments[0], a="p1", b="p3", size=PinnedSize(shape="round", width_m=0.25, height_m=0.25)
            ),
            structs.replace(project.segments[0], id="s2", a="p3", b="p2"),
        )
        project = structs.replace(project, duct_points=(*project.duct_points, point), segments=(first, second))
        self.assertIn("trans-converging", self.names(project))

    def test_losses_are_k_times_the_velocity_pressure_of_their_section(self):
        ducts = station_results().ducts[SYSTEM]
        rho = station_results().air[SYSTEM].density_kg_m3
        for s in ducts.segments.values():
            for f in s.fittings:
                if f.reference == "duct" and f.name.startswith("damper"):
                    assert_allclose(f.pressure_pa, f.k * rho / 2 * s.velocity_m_s**2, rtol=1e-9)
            parts = s.friction_pa + s.flexible_pa + sum(f.pressure_pa for f in s.fittings)
            assert_allclose(s.loss_pa, parts, rtol=1e-9)

    def test_air_direction_follows_from_the_unit(self):
        """Pressure falls along every path, whichever way its pieces were drawn."""
        ducts = station_results().ducts[SYSTEM]
        for t in ducts.terminals:
            left = [ducts.segments[s].left_pa for s in ducts.path(t.segment_id)]
            self.assertTrue(np.all(np.diff(left) < 1.0), t.label)


class Walls(unittest.TestCase):
    def test_a_wall_knows_its_length_and_other_side(self):
        wall = Wall(
            id="w",
            level_id="G",
            start=(0.0, 0.0),
            end=(3.0, 4.0),
            room_a="a",
            room_b="b",
            thickness_m=0.1,
            height_m=3.0,
            build_up_id="x",
        )
        self.assertEqual((wall.length_m, wall.other("a"), wall.other("b"), wall.outside), (5.0, "b", "a", False))

    def test_lookups_follow_the_very_tuple(self):
        self.assertIs(find(station().rooms, station().rooms[4].id), station().rooms[4])
        self.assertIsNone(find(station().rooms, "nobody"))
        self.assertIs(walls_of(station().walls, "r001"), walls_of(station().walls, "r001"))
