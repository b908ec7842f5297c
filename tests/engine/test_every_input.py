"""Every input acts: each field of each part of a project is changed, and a result changes, or it is listed with its
reason below.
"""

import unittest
from collections.abc import Callable
from functools import cache

from msgspec import structs

from garnetfin.engine.layout.fire_crossings import fire_crossings
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.inline import PutInline
from garnetfin.project.edits.openings import RateWalls, SetWall
from garnetfin.project.parts import KINDS, Part, PartFigure
from garnetfin.project.systems import AirSystem, Operation
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule
from tests.engine.crowded import crowded
from tests.engine.equipped import bare, equipped
from tests.engine.every_input import acts, every_field, mark_of
from tests.engine.test_directions import book, every
from tests.engine.test_first_pass import listed
from tests.example import one_room, station

WORDS = "a name, number or note that people read"
KNOWN_BY = "what other parts know it by; which one it is moves nothing"
PAPER = "what papers say and hold; tested with the papers"
DRAWN = "how it is drawn, not what is computed"
CHOSEN = "marks a choice made by hand, which a set that is given to a building leaves alone"
STOCK = "a stock from which commands copy into the project; tested with those commands"
WEATHER = "what is told of a weather file beside what is computed from its hours"
PARTS = "a list; what stands in it is tried field by field"


def crossed() -> Project:
    """A wall that a duct crosses, through a damper that resists as long but does not shut for smoke."""
    inside = tuple(r.id for r in station().rooms[:1])
    first = fire_crossings(RateWalls(inside, 60).apply(station()), {})[0]
    project = SetWall(first.wall_ids, "fire_min", 60).apply(station())
    project = SetWall(first.wall_ids, "smoke", True).apply(project)
    return PutInline((first.segment_id,), "fire damper", first.at, 60).apply(project)


# Fields that move no result, and why.
EXCEPTIONS: dict[str, str] = {
    "Project.format": "the version of the file format; tested with old files",
    **dict.fromkeys(
        (
            "Project.name",
            "Project.first_name",
            "Site.name",
            "Site.note",
            "Pinned.note",
            "Imported.source",
            "Level.name",
        ),
        WORDS,
    ),
    **dict.fromkeys(("Room.number", "Room.name", "BuildUp.name", "BuildUpLayer.name", "Glazing.name"), WORDS),
    **dict.fromkeys(("Glazing.source", "Shade.name", "PlanMark.label", "CeilingZone.name", "Zone.name"), WORDS),
    **dict.fromkeys(
        ("DayProfile.name", "OwnMaterial.name", "OwnMaterial.source", "AirSystem.name", "Part.name"), WORDS
    ),
    **dict.fromkeys(("OwnTerminal.description", "OwnTerminal.source", "OwnFan.source", "Terminal.label"), WORDS),
    **dict.fromkeys(("ListRow.name", "Underlay.name", "FabricSet.name", "Obstacle.kind"), WORDS),
    **dict.fromkeys(
        [
            f"{owner}.id"
            for owner in (
                *("Level", "Room", "Wall", "Opening", "Slab", "BuildUp", "Glazing", "PlanMark", "CeilingZone"),
                *("Obstacle", "Zone", "Underlay", "FabricSet", "DayProfile", "OwnMaterial", "OwnTerminal", "OwnFan"),
                *("AirSystem", "Part", "Transfer", "DuctPoint", "Segment", "Terminal", "ListRow", "Accepted"),
            )
        ],
        KNOWN_BY,
    ),
    "PartFigure.name": KNOWN_BY,
    **dict.fromkeys(
        [f"Papers.{n}" for n in ("left_out", "job", "client", "made_by", "checked_by", "scale", "issues")], PAPER
    ),
    **dict.fromkeys([f"Sheet.{n}" for n in ("company", "lines", "logo", "plans")], PAPER),
    **dict.fromkeys([f"Issue.{n}" for n in ("number", "date", "note")], PAPER),
    **dict.fromkeys(("Project.papers", "Book.sheet"), PAPER),
    **dict.fromkeys(
        [f"Accepted.{n}" for n in ("code", "kind", "object_id", "reason", "date")], "sets findings aside, tested there"
    ),
    **dict.fromkeys(
        ("AirSystem.spigots", "Spigot.air", "Spigot.point_id"),
        "which points stand at the unit; tested with two spigots",
    ),
    "Project.accepted": "sets findings aside; tested with findings",
    **dict.fromkeys(
        [
            f"Underlay.{n}"
            for n in ("level_id", "kind", "content", "scale", "turn_deg", "x_m", "y_m", "visible", "hidden_layers")
        ],
        DRAWN,
    ),
    **dict.fromkeys(("Project.underlays", "Segment.label_at"), DRAWN),
    **dict.fromkeys(("Opening.own_glazing", "Wall.own_fabric", "Slab.own_fabric"), CHOSEN),
    **dict.fromkeys(
        [
            f"FabricSet.{n}"
            for n in ("wall", "partition", "to_unheated", "roof", "ground", "exposed", "between", "glazing")
        ],
        STOCK,
    ),
    **dict.fromkeys(("Project.fabric_sets", "Book.fabric_sets", "Book.build_ups", "Book.glazings"), STOCK),
    **dict.fromkeys(
        ("WeatherYear.content", "WeatherYear.name", "WeatherYear.greatest_c", "WeatherYear.least_c"), WEATHER
    ),
    **dict.fromkeys(("WeatherYear.mended", "MonthStatistics.wind_m_s", "Site.wind_m_s"), WEATHER),
    **dict.fromkeys(("WeatherYear.months", "Site.months", "Project.levels", "Project.rooms", "Wall.openings"), PARTS),
    **dict.fromkeys(("Project.build_ups", "Project.glazings", "Project.zones", "Project.air_systems"), PARTS),
    **dict.fromkeys(("Project.duct_points", "Part.figures", "OwnFan.points", "OwnTerminal.points"), PARTS),
    **dict.fromkeys(("Project.book", "AirSystem.operation"), PARTS),
    **dict.fromkeys(
        ("Segment.fittings", "Segment.inline", "UseChange.field", "UseChange.use_id", "UseProfile.use_id"), PARTS
    ),
    **dict.fromkeys([f"RoomOrigin.{n}" for n in ("source", "key", "number", "name", "use_id", "level_id")], STOCK),
    **dict.fromkeys([f"RoomOrigin.{n}" for n in ("ceiling_m", "outline", "faces")], STOCK),
    **dict.fromkeys(("Obstacle.source", "Obstacle.group"), STOCK),
    "Room.origin": "what a file gave, against which the next one is compared",
    "Room.sketched": "an outline that is no place; tested with lists of rooms",
    "Room.placed": "where a listed room stands in for a place; tested with the first pass",
    "Wall.level_id": "the plan that draws it; a wall is where its room is",
    "Opening.fin_below_m": "the sun comes from above: what hangs below the sill shades nothing",
    "DayProfile.id": KNOWN_BY,
    "DayProfile.other": "days off count in the year of hours alone, which is tested there",
    "Book.ceiling_module_m": "the grid to which terminals are drawn",
    "Book.cooling_unit": "how figures of the plant are written, and tested there",
    "Book.balance_share": "told on the commissioning sheet, and tested there",
    "OwnTerminal.effective_m2": "kept of the catalogue; throws are as measured",
    "OwnTerminal.use": "which models are proposed for supply or return; tested with the proposals",
    **dict.fromkeys(
        [f"{owner}.{n}" for owner in ("FlowBox", "RoomUnit", "CoilChoice", "UnitChoice", "Machines") for n in ("id",)],
        KNOWN_BY,
    ),
    **dict.fromkeys([f"OwnEquipment.{n}" for n in ("id", "sheet")], "which catalogue and row it is"),
    "Inline.id": KNOWN_BY,
    "OwnEquipment.source": WORDS,
    "Cell.heading": "which figure of a row it is",
    "CoilChoice.system_id": KNOWN_BY,
    "CoilChoice.part_id": KNOWN_BY,
    "TerminalPoint.throw_050_m": "kept of the catalogue; throws are judged to 0.25 m/s",
}


# -- where a field could matter ------------------------------------------------------------------------------------
def with_part(kind: str, behind: str, **fields: object) -> Callable[[], Project]:
    """The crowded house with one part more."""

    def made() -> Project:
        system = crowded().air_systems[0]
        at = next(k for k, p in enumerate(system.parts) if p.kind == behind) + 1
        parts = (*system.parts[:at], Part(id=f"new-{kind}", kind=kind, **fields), *system.parts[at:])
        return structs.replace(crowded(), air_systems=(structs.replace(system, parts=parts),))

    return made


def typed(*changes: Callable[[Project], Project], of: Callable[[], Project] = crowded) -> Callable[[], Project]:
    def made() -> Project:
        project = of()
        for change in changes:
            project = change(project)
        return project

    return made


by_use = every("AirSystem", operation=Operation(mode="use", lead_h=1))
by_hours = every("AirSystem", operation=Operation(mode="hours", from_h=6, to_h=19))
without_weather = every("Site", weather=None, months=())
branches = every("Segment", lambda s: s.role == "trunk", role="branch", size=Rule())
lasts = every("Segment", lambda s: s.role == "trunk", role="last", size=Rule())
slow = every("Segment", size=Rule(), width_m=Pinned(value=1.2))
GAP = {
    "thickness_m": 0.0,
    "resistance_m2k_w": 0.1,
    "conductivity_w_mk": 0.0,
    "density_kg_m3": 0.0,
    "specific_heat_j_kgk": 0.0,
}


def leaving_as(air: str) -> Callable[[Project], Project]:
    """The return ducts for another air."""

    def change(project: Project) -> Project:
        root = project.air_systems[0].return_point_id
        project = every("AirSystem", return_point_id="", **{f"{air}_point_id": root})(project)
        for owner in ("Segment", "Terminal"):
            project = every(owner, lambda x: x.air == "return", air=air)(project)
        return project

    return change


toilets = every("Room", lambda r: r.id == "n2", use_id="toilet", extract_m3s=Rule())

SITUATIONS: dict[str, Callable[[], Project]] = {
    "Site.place_id": typed(without_weather),
    **dict.fromkeys([f"MonthConditions.{n}" for n in ("dry_bulb_c", "wet_bulb_c", "range_k")], station),
    **dict.fromkeys([f"MonthConditions.{n}" for n in ("wet_range_k", "tau_b", "tau_d")], station),
    "Wall.thickness_m": typed(lambda p: structs.replace(p, area_basis="net")),
    "Shade.from_h": typed(every("Shade", rule="hours")),
    "Shade.to_h": typed(every("Shade", rule="hours")),
    "Operation.lead_h": typed(by_use),
    **dict.fromkeys(
        [f"Operation.{n}" for n in ("from_h", "to_h", "night_cooling_c", "night_heating_c")], typed(by_hours)
    ),
    **dict.fromkeys(("Book.warm_up_w_m2", "Book.air_capacity"), typed(by_hours)),
    "Book.fixture_m2": typed(toilets),
    **dict.fromkeys(
        [f"Book.estimate_{n}" for n in ("glass", "glass_u", "g", "wall_u", "roof_u", "ground_u", "leak_1h")],
        lambda: listed(("Ground",)),
    ),
    "Book.usual_under": typed(every("Room", people=Pinned(value=0.0), equipment_w_m2=Pinned(value=0.0))),
    "Book.usual_over": typed(every("Room", equipment_w_m2=Pinned(value=150.0))),
    "Book.usual_glass": typed(every("Opening", width_m=4.6), of=one_room),
    "Book.class_margin": typed(every("Segment", size=PinnedSize(shape="rectangular", width_m=0.2, height_m=0.2))),
    "BuildUpLayer.resistance_m2k_w": typed(
        every("BuildUpLayer", lambda x: x.name == "typed", **GAP), every("Room", people=Rule())
    ),
    "DayProfile.working": typed(every("DayProfile", summer_design=(), winter_design=())),
    "Segment.system_id": typed(
        lambda p: structs.replace(p, air_systems=(*p.air_systems, AirSystem(id="other", name="Other")))
    ),
    "OwnTerminal.kind": typed(every("Terminal", lambda t: t.air == "supply", model="", kind="swirl")),
    "Book.duct_branch_m_s": typed(branches),
    "Book.duct_last_m_s": typed(lasts),
    "Book.duct_slow_trunk_m_s": typed(slow),
    "Book.duct_slow_branch_m_s": typed(branches, slow),
    "Book.duct_slow_last_m_s": typed(lasts, slow),
    "Book.blast_ratio": typed(every("FanChoice", outlet_duct_m=Pinned(value=0.3))),
    "Book.fan_base": typed(every("AirSystem", flow="load")),
    "Book.fan_reset": typed(every("AirSystem", flow="load")),
    "Book.least_flows": typed(every("AirSystem", flow="load")),
    "AirSystem.rated_m3s": typed(every("Part", lambda p: p.kind == "filter", pressure_pa=Pinned(value=90.0))),
    "Segment.around": typed(every("AirSystem", heat="computed")),
    "AirSystem.people": typed(book(outdoor_method="people and area")),
    "AirSystem.available_pa": typed(every("AirSystem", friction_from="pressure")),
    "AirSystem.extract_point_id": typed(leaving_as("extract")),
    "AirSystem.outdoor_point_id": typed(leaving_as("outdoor")),
    "Book.neck_m_s": station,
    "Book.terminal_pa": station,
    "Book.duct_aspect": typed(every("AirSystem", duct_height_m=Pinned(value=0.15)), every("Segment", size=Rule())),
    "Segment.side": typed(every("Segment", lambda s: s.id in ("s9", "s10"), side="top")),
    "FittingChoice.fitting": typed(every("FittingChoice", k=Rule()), every("Segment", shape="round")),
    "Book.duct_reduce": station,
    **dict.fromkeys([f"Project.{n}" for n in ("flow_boxes", "room_units", "coils", "units", "machines")], equipped),
    **dict.fromkeys(
        [f"FlowBox.{n}" for n in ("room_ids", "tag", "model", "least_m3s", "heating_m3s", "leave_c")], equipped
    ),
    **dict.fromkeys([f"RoomUnit.{n}" for n in ("room_id", "kind", "tag", "model", "count", "step")], equipped),
    **dict.fromkeys([f"RoomUnit.{n}" for n in ("cover_m2k_w", "area_share", "longest_m", "highest_m")], equipped),
    **dict.fromkeys([f"CoilChoice.{n}" for n in ("tag", "series", "rows", "water_in_c", "water_out_c")], equipped),
    **dict.fromkeys([f"UnitChoice.{n}" for n in ("tag", "size", "velocity_m_s", "arrangement", "room_id")], equipped),
    **dict.fromkeys([f"Machines.{n}" for n in ("kind", "tag", "model", "count", "fewest", "standby")], equipped),
    **dict.fromkeys(("Machines.margin", "Machines.ambient_rise_k", "OwnEquipment.cells", "Cell.text"), equipped),
    **dict.fromkeys(("Book.equipment", "Book.box_control", "Book.unit_step", "Book.silencer_pa"), equipped),
    **dict.fromkeys([f"Book.{n}" for n in ("margin_cold", "margin_heat", "fan_power")], equipped),
    "Book.fuel_price": bare,
    **dict.fromkeys(("AirSystem.coils", "AirSystem.boxes", "Room.by_units"), equipped),
    "Book.piece_round_m": station,
    **dict.fromkeys(("Wall.fire_min", "Wall.smoke"), crossed),
    **dict.fromkeys([f"Obstacle.{n}" for n in ("outline", "bottom_m", "top_m")], typed(every("Obstacle", sleeves=()))),
}


@cache
def where(situation: Callable[[], Project]) -> Project:
    return situation()


class EveryInput(unittest.TestCase):
    maxDiff = None

    def test_every_field_acts_or_is_listed(self):
        memo, dead = Memo(), {}
        for name, kind in every_field().items():
            if name not in EXCEPTIONS:
                why = acts(where(SITUATIONS.get(name, crowded)), name, kind, memo)
                if why:
                    dead[name] = why
        self.assertEqual(dead, {}, "let it act, or list it with its reason")

    def test_exceptions_are_fields_and_few(self):
        fields = every_field()
        self.assertEqual([name for name in (*EXCEPTIONS, *SITUATIONS) if name not in fields], [])
        self.assertLess(len(EXCEPTIONS), len(fields) / 3)

    def test_every_figure_of_every_part_acts(self):
        front = {
            "preheat": "recovery",
            "precool": "recovery",
            "humidifier": "heating",
            "plenum": "rooms",
            "exhaust_fan": "return_fan",
        }
        memo, dead = Memo(), []
        for kind, known in KINDS.items():
            project = crowded() if kind not in front else with_part(kind, front[kind])()
            before = mark_of(run(project, memo))
            for name, figure in known.figures.items():
                low, high = figure.low, figure.high
                tries = (low + share * (high - low) for share in (0.5, 0.9, 0.1, 0.02, 0.003, 0.3))
                if all(mark_of(run(self.pinned(project, kind, name, v), memo)) == before for v in tries):
                    dead.append(f"{kind}.{name}")
        self.assertEqual(dead, [])

    @staticmethod
    def pinned(project: Project, kind: str, name: str, value: float) -> Project:
        def figures(part: Part) -> tuple[PartFigure, ...]:
            kept = tuple(f for f in part.figures if f.name != name)
            return (*kept, PartFigure(name=name, value=Pinned(value=value)))

        return every("Part", lambda p: p.kind == kind, figures=figures)(project)

    def test_a_field_that_is_read_by_nothing_is_found(self):
        """The sweep can fail: a name is no input of the computation."""
        fields = every_field()
        self.assertTrue(acts(one_room(), "Room.name", fields["Room.name"], Memo()))
        self.assertEqual(acts(one_room(), "Room.people", fields["Room.people"], Memo()), "")


if __name__ == "__main__":
    unittest.main()
