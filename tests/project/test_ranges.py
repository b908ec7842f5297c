"""Every figure of the tree refuses what is outside its range, with the range in the sentence."""

import math
import unittest

import msgspec
from msgspec import structs

from garnetfin.core.errors import InputError
from garnetfin.project.book import Book
from garnetfin.project.ducts import DuctPoint, PinnedSize, Segment, Terminal
from garnetfin.project.equipment import Cell, CoilChoice, FlowBox, Machines, OwnEquipment, RoomUnit, UnitChoice
from garnetfin.project.fabric import BuildUp, BuildUpLayer, FabricSet, Glazing
from garnetfin.project.papers import Accepted
from garnetfin.project.site import MonthConditions, Site
from garnetfin.project.spaces import CeilingZone, Level, Obstacle, Opening, PlanMark, Room, Slab, Sleeve, Wall
from garnetfin.project.systems import AirSystem, FanChoice, Operation, Part
from garnetfin.project.tree import LISTS, Project, check_links
from garnetfin.project.underlays import Underlay
from garnetfin.project.values import Imported, Pinned, Rule
from tests.example import one_room, station

SQUARE = ((0.0, 0.0), (2.0, 0.0), (2.0, 2.0))
GOOD = (
    Level(id="G", name="Ground", elevation_m=0.0, storey_m=3.0),
    one_room().rooms[0],
    one_room().walls[0],
    one_room().walls[0].openings[0],
    one_room().slabs[0],
    PlanMark(id="m", kind="shaft", level_id="G", outline=SQUARE),
    CeilingZone(id="z", name="Z", level_id="G", outline=SQUARE, ceiling_m=2.5, soffit_m=3.0),
    Obstacle(id="o", kind="beam", level_id="G", outline=SQUARE, bottom_m=2.6, top_m=3.0),
    Sleeve(at=(1.0, 1.0), width_m=0.4, bottom_m=2.7, top_m=2.9),
    one_room().build_ups[0].layers[0],
    one_room().build_ups[0],
    one_room().glazings[0],
    one_room().site,
    one_room().site.months[0],
    Book(),
    Operation(),
    Part(id="u", kind="cooling", pressure_pa=Pinned(value=80.0), exponent=1.8),
    one_room().air_systems[0],
    FanChoice(),
    one_room().duct_points[0],
    one_room().segments[0],
    one_room().terminals[0],
    PinnedSize(shape="rectangular", width_m=0.4, height_m=0.2),
)
# (part, field, values that must be refused)
BAD = (
    (Level, "storey_m", (0.0, -1.0, 101.0)),
    (Level, "elevation_m", (3000.0,)),
    (Room, "ceiling_m", (0.0, 101.0)),
    (Room, "outline", (SQUARE[:2], ((0.0, 0.0), (1e9, 0.0), (0.0, 1.0)))),
    (Wall, "thickness_m", (0.0, 6.0)),
    (Wall, "height_m", (0.0, 300.0)),
    (Wall, "end", ((0.0, 0.0),)),
    (Wall, "facing_deg", (400.0,)),
    (Opening, "width_m", (0.0, 300.0)),
    (Opening, "head_m", (0.5,)),
    (Opening, "sill_m", (-2.0,)),
    (Opening, "at_m", (-1.0,)),
    (Opening, "reveal_m", (-0.1, 4.0)),
    (Opening, "overhang_m", (-0.1,)),
    (Opening, "door_u_w_m2k", (0.0, 8.0)),
    (Slab, "area_m2", (0.0,)),
    (Slab, "tilt_deg", (-1.0, 91.0)),
    (Slab, "perimeter_m", (-1.0,)),
    (PlanMark, "outline", (SQUARE[:2],)),
    (CeilingZone, "soffit_m", (2.0,)),
    (CeilingZone, "allowance_m", (-0.1, 0.6)),
    (Obstacle, "top_m", (2.0,)),
    (Sleeve, "width_m", (0.0,)),
    (Sleeve, "top_m", (2.0,)),
    (BuildUpLayer, "thickness_m", (0.0, 4.0)),
    (BuildUp, "layers", ((),)),
    (BuildUp, "absorptance", (-0.1, 1.1)),
    (Glazing, "u_w_m2k", (0.0, 7.1)),
    (Glazing, "g", (-0.1, 1.1, 0.3)),
    (Glazing, "tau_e", (0.6,)),
    (Glazing, "frame_share", (0.95,)),
    (Glazing, "panes", (0, 5)),
    (Site, "latitude_deg", (91.0,)),
    (Site, "longitude_deg", (181.0,)),
    (Site, "altitude_m", (-500.0, 9500.0)),
    (Site, "utc_offset_h", (15.0,)),
    (Part, "exponent", (0.9, 2.3)),
    (AirSystem, "rated_m3s", (0.0,)),
    (DuctPoint, "x_m", (2e5,)),
    (Segment, "flexible_m", (-1.0, 21.0)),
    (Segment, "b", ("p2",)),
    (PinnedSize, "width_m", (0.0, 6.0)),
    (PinnedSize, "height_m", (0.01,)),
)
BAD_VALUES = (
    (MonthConditions, "dry_bulb_c", (70.0, -70.0)),
    (MonthConditions, "wet_bulb_c", (31.0,)),
    (MonthConditions, "range_k", (-1.0,)),
    (MonthConditions, "tau_b", (0.0,)),
    (Part, "pressure_pa", (-1.0, 6000.0)),
    (Book, "infiltration_1h", (-0.1, 21.0)),
    (Book, "estimate_glass", (1.0,)),
    (Operation, "night_cooling_c", (61.0,)),
    (Room, "moisture_w", (-1.0,)),
    (Room, "cooling_limit_w", (-1.0,)),
    (Room, "cooling_c", (4.0, 51.0)),
    (Room, "people", (-1.0,)),
    (Room, "area_m2", (0.0,)),
    (Room, "lights_w_m2", (-1.0,)),
    (Room, "infiltration_1h", (51.0,)),
    (Room, "supply_m3s", (-0.1,)),
    (AirSystem, "supply_c", (3.0, 41.0)),
    (AirSystem, "allowance", (-0.1, 1.1)),
    (FanChoice, "speed_rpm", (10.0,)),
    (FanChoice, "motor_efficiency", (0.0, 1.1)),
    (AirSystem, "friction_pa_m", (0.0,)),
    (Terminal, "share", (-0.1, 1.1)),
    (Site, "winter_c", (-61.0, 41.0)),
    (Site, "winter_humidity", (-0.1, 1.1)),
)


def good(kind: type):
    return next(g for g in GOOD if type(g) is kind)


class Ranges(unittest.TestCase):
    def test_figures_outside_their_range_are_refused_in_a_sentence(self):
        for kind, field, values in BAD:
            for value in values:
                with (
                    self.subTest(kind=kind.__name__, field=field, value=value),
                    self.assertRaises(InputError) as caught,
                ):
                    structs.replace(good(kind), **{field: value})
                self.assertTrue(str(caught.exception)[0].isupper())

    def test_no_number_is_refused_everywhere(self):
        for part in GOOD:
            for field in part.__struct_fields__:
                if isinstance(getattr(part, field), float):
                    for value in (math.nan, math.inf):
                        with self.subTest(part=type(part).__name__, field=field), self.assertRaises(InputError):
                            structs.replace(part, **{field: value})

    def test_designable_values_have_their_ranges_too_pinned_and_imported(self):
        for kind, field, values in BAD_VALUES:
            for value in values:
                for origin in (Pinned, Imported):
                    with self.subTest(kind=kind.__name__, field=field, value=value), self.assertRaises(InputError):
                        structs.replace(good(kind), **{field: origin(value=value)})
            structs.replace(good(kind), **{field: Rule()})

    def test_twelve_months_or_none(self):
        self.assertRaisesRegex(
            InputError, "twelve months, got 3", structs.replace, good(Site), months=good(Site).months[:3]
        )

    def test_a_round_duct_has_one_diameter(self):
        self.assertRaisesRegex(InputError, "one diameter", PinnedSize, shape="round", width_m=0.2, height_m=0.3)

    def test_parts_are_frozen_and_hashable_values(self):
        for part in GOOD:
            self.assertRaises(AttributeError, setattr, part, part.__struct_fields__[0], "x")
            self.assertEqual(hash(part), hash(structs.replace(part)))

    def test_every_part_survives_json(self):
        for part in GOOD:
            self.assertEqual(msgspec.json.decode(msgspec.json.encode(part), type=type(part)), part)


class Links(unittest.TestCase):
    def test_the_example_and_the_small_project_hold_together(self):
        check_links(station())
        check_links(one_room())

    def test_every_kind_of_part_is_checked_for_double_ids(self):
        under = Underlay(id="u1", name="plan", level_id=station().levels[0].id, kind="lines", content="0")
        whole = structs.replace(
            station(),
            underlays=(under,),
            fabric_sets=(FabricSet(id="s1", name="Set"),),
            accepted=(Accepted(id="d1", code="x", kind="room", object_id="r", reason="so"),),
            flow_boxes=(FlowBox(id="box:r001", room_ids=("r001",)),),
            room_units=(RoomUnit(id="unit:r001:1", room_id="r001", kind="radiator"),),
            coils=(CoilChoice(id="ahu-north:cooling", system_id="ahu-north", part_id="cooling"),),
            units=(UnitChoice(id="ahu-north"),),
            machines=(Machines(id="cold"),),
        )
        for kind in LISTS:
            items = getattr(whole, kind)
            self.assertTrue(items, kind)
            self.assertRaisesRegex(
                InputError, "used twice", check_links, structs.replace(whole, **{kind: (*items, items[0])})
            )

    def test_every_reference_is_checked(self):
        for kind, field, wrong in (
            ("rooms", "level_id", "X"),
            ("rooms", "system_id", "X"),
            ("rooms", "zone_id", "X"),
            ("walls", "level_id", "X"),
            ("walls", "build_up_id", "X"),
            ("walls", "room_b", "X"),
            ("slabs", "build_up_id", "X"),
            ("slabs", "room_above", "X"),
            ("plan_marks", "level_id", "X"),
            ("ceiling_zones", "level_id", "X"),
            ("obstacles", "level_id", "X"),
            ("duct_points", "level_id", "X"),
            ("segments", "system_id", "X"),
            ("segments", "a", "X"),
            ("terminals", "room_id", "X"),
            ("terminals", "point_id", "X"),
            ("air_systems", "root_point_id", "X"),
        ):
            items = getattr(station(), kind)
            broken = structs.replace(items[0], **{field: wrong})
            with self.subTest(kind=kind, field=field):
                self.assertRaisesRegex(
                    InputError, "X", check_links, structs.replace(station(), **{kind: (broken, *items[1:])})
                )

    def test_references_of_equipment_are_checked(self):
        for kind, part in (
            ("flow_boxes", FlowBox(id="b", room_ids=("X",))),
            ("room_units", RoomUnit(id="u", room_id="X", kind="direct")),
            ("coils", CoilChoice(id="X:cooling", system_id="X", part_id="cooling")),
            ("units", UnitChoice(id="X")),
        ):
            with self.subTest(kind=kind), self.assertRaisesRegex(InputError, "X"):
                check_links(structs.replace(station(), **{kind: (part,)}))

    def test_figures_of_equipment_stay_within_their_ranges(self):
        for kind, fields in (
            (FlowBox, {"id": "b", "room_ids": ()}),
            (FlowBox, {"id": "b", "room_ids": ("r", "r")}),
            (FlowBox, {"id": "b", "room_ids": ("r",), "leave_c": Pinned(value=99.0)}),
            (RoomUnit, {"id": "u", "room_id": "r", "kind": "stove"}),
            (RoomUnit, {"id": "u", "room_id": "r", "kind": "floor", "area_share": Pinned(value=0.0)}),
            (RoomUnit, {"id": "u", "room_id": "r", "kind": "fan_coil", "step": "turbo"}),
            (RoomUnit, {"id": "u", "room_id": "r", "kind": "fan_coil", "count": 99}),
            (CoilChoice, {"id": "a:c", "system_id": "a", "part_id": "c", "rows": -1}),
            (UnitChoice, {"id": "a", "arrangement": "round"}),
            (UnitChoice, {"id": "a", "velocity_m_s": Pinned(value=0.1)}),
            (Machines, {"id": "warm"}),
            (Machines, {"id": "cold", "kind": "stove"}),
            (OwnEquipment, {"id": "x", "sheet": "stoves", "cells": ()}),
            (OwnEquipment, {"id": "x", "sheet": "boxes", "cells": (Cell(heading="model", text="A"),)}),
        ):
            with self.subTest(kind=kind.__name__, fields=fields), self.assertRaises(InputError):
                kind(**fields)

    def test_a_window_without_glazing_in_the_project_is_found(self):
        wall = structs.replace(
            one_room().walls[0], openings=(structs.replace(one_room().walls[0].openings[0], glazing_id="none"),)
        )
        self.assertRaisesRegex(
            InputError, "none.*glazings", check_links, structs.replace(one_room(), walls=(wall, *one_room().walls[1:]))
        )

    def test_an_empty_project_is_whole(self):
        check_links(Project())
