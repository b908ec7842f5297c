"""Which way figures move: every row changes one thing and says what physics demands of which figure, through the whole
engine, on a small building with one of everything, on one room with its duct, and on a list of rooms that was laid out
by the first pass.
"""

import unittest
from collections.abc import Callable
from functools import lru_cache
from typing import Any

from msgspec import structs

from garnetfin.engine.memo import Memo
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Results, TrainResult
from garnetfin.engine.run import run
from garnetfin.project.fabric import Shade
from garnetfin.project.inline import Inline
from garnetfin.project.parts import PartFigure
from garnetfin.project.site import MonthConditions
from garnetfin.project.systems import FanChoice, Operation
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned
from tests.engine.crowded import crowded
from tests.engine.every_input import at, places_of, put
from tests.engine.test_first_pass import listed
from tests.example import one_room

Change = Callable[[Project], Project]
Reading = Callable[[Results], float]
SAME = 1e-9  # of the figure: below it nothing moved


# -- projects --------------------------------------------------------------------------------------------------------
@lru_cache(maxsize=3)
def project_of(name: str) -> Project:
    if name == "building":
        return crowded()
    if name == "one room":
        return one_room()
    from garnetfin.engine.layout.auto_design import auto_design

    before = listed()
    return auto_design(before).command.apply(before)


# -- changes -----------------------------------------------------------------------------------------------------------
def every(owner: str, only: Callable[[Any], bool] = bool, **fields: Any) -> Change:
    """All objects of a class with other fields; a function gets the object."""

    def change(project: Project) -> Project:
        for way in list(places_of(project, owner)):
            one = at(project, way)
            if only(one):
                new = {n: v(one) if callable(v) else v for n, v in fields.items()}
                project = put(project, way, structs.replace(one, **new))
        return project

    return change


def book(**values: float | str) -> Change:
    return lambda p: structs.replace(
        p, book=structs.replace(p.book, **{n: v if isinstance(v, str) else Pinned(value=v) for n, v in values.items()})
    )


def site(**values: float) -> Change:
    return lambda p: structs.replace(p, site=structs.replace(p.site, **values))


def pinned(value: float) -> Pinned:
    return Pinned(value=value)


def months(**values: float) -> Change:
    """All months with other design conditions, what is not given as it is."""

    def change(p: Project) -> Project:
        old = p.site.months or (MonthConditions(),) * 12
        new = tuple(structs.replace(m, **{n: pinned(v) for n, v in values.items()}) for m in old)
        return structs.replace(p, site=structs.replace(p.site, months=new))

    return change


def part(kind: str, **figures: float) -> Change:
    def figured(one: Any) -> tuple[PartFigure, ...]:
        kept = tuple(f for f in one.figures if f.name not in figures)
        return kept + tuple(PartFigure(name=n, value=pinned(v)) for n, v in figures.items())

    return every("Part", lambda x: x.kind == kind, figures=figured)


def thicker(material: str, by: float) -> Change:
    return every("BuildUpLayer", lambda x: x.material == material, thickness_m=lambda x: x.thickness_m * by)


def fire_dampers() -> Change:
    return every(
        "Segment",
        lambda x: x.role == "trunk" and x.air == "supply",
        inline=(Inline(id="i1", kind="fire damper", k=pinned(3.0)),),
    )


def shaded(**fields: Any) -> Change:
    return every("Glazing", shade=Shade(rule="always", **fields))


# -- figures -----------------------------------------------------------------------------------------------------------
def cooling(r: Results) -> float:
    return sum(x.peak_w for x in map(r.room, r.rooms) if x is not None and x.kept)


def heating(r: Results) -> float:
    return sum(x.heating_w for x in map(r.room, r.rooms) if x is not None and x.kept)


def latent(r: Results) -> float:
    return sum(float(x.latent_w.max()) for x in map(r.room, r.rooms) if x is not None and x.kept)


def start_up(r: Results) -> float:
    return sum(x.start_up_w for x in map(r.room, r.rooms) if x is not None and x.kept)


def warm_up(r: Results) -> float:
    return sum(x.warm_up_w for x in map(r.room, r.rooms) if x is not None and x.kept)


def _airs(r: Results) -> list[AirResult]:
    return [a for a in r.air.values() if isinstance(a, AirResult)]


def flow(r: Results) -> float:
    return sum(a.flow_m3s for a in _airs(r))


def outdoor(r: Results) -> float:
    return sum(a.outdoor_m3s for a in _airs(r))


def extract(r: Results) -> float:
    return sum(x.extract_m3s for a in _airs(r) for x in a.rooms)


def _trains(r: Results) -> list[TrainResult]:
    return [t for t in r.trains.values() if isinstance(t, TrainResult)]


def coil(r: Results) -> float:
    return sum(t.cooling.cooling_w for t in _trains(r))


def unit_heat(r: Results) -> float:
    return sum(t.heater_w(t.heating) for t in _trains(r))


def fresh(r: Results) -> float:
    return sum(sum(a.arrives_m3s.values()) for a in _airs(r))


def zone_heat(r: Results) -> float:
    return sum(float(t.solved.zone_w.sum()) for t in _trains(r))


def reheat(r: Results) -> float:
    return sum(float(t.solved.reheat_w.sum()) for t in _trains(r))


def hot_water(r: Results) -> float:
    return r.plant.hot_m3s


def chilled_water(r: Results) -> float:
    return r.plant.chilled_m3s


def plant_floor(r: Results) -> float:
    return r.plant.plant_m2 + r.plant.handlers_m2


def _ducts(r: Results) -> list[DuctResult]:
    return [d for d in r.ducts.values() if isinstance(d, DuctResult)]


def index_run(r: Results) -> float:
    return sum(d.index.run_pa for d in _ducts(r))


def sheet(r: Results) -> float:
    return sum(d.mass_kg for d in _ducts(r))


def area(r: Results) -> float:
    return sum(s.section.width_m * s.section.height_m for d in _ducts(r) for s in d.segments.values())


def least_height(r: Results) -> float:
    return sum(s.outer_height_m for d in _ducts(r) for s in d.segments.values())


def _fans(r: Results) -> list[FanResult]:
    return [f for f in r.fans.values() if isinstance(f, FanResult)]


def fan_pressure(r: Results) -> float:
    return sum(f.wanted_pa for f in _fans(r))


def electric(r: Results) -> float:
    return sum(f.point.electric_w for f in _fans(r) if f.point is not None)


def terminal_noise(r: Results) -> float:
    return sum(t.nc for t in r.terminals.values() if t.nc == t.nc)


ALL = ("building", "one room", "list")
DRAWN = ("building", "one room")
WITH_UNIT = ("building", "list")

# what is changed, how, which figure, the sign that physics demands, where
ROWS: tuple[tuple[str, Change, Reading, int, tuple[str, ...]], ...] = (
    # building
    ("more insulation", thicker("mineral_wool", 2.0), heating, -1, ("one room",)),
    ("more insulation", thicker("mineral_wool", 2.0), cooling, -1, ("one room",)),
    ("outside darker", every("BuildUp", absorptance=0.95), cooling, +1, DRAWN),
    ("outside white", every("BuildUp", absorptance=0.15), cooling, -1, DRAWN),
    ("outside darker, no change of winter", every("BuildUp", absorptance=0.95), heating, 0, DRAWN),
    ("heavier inside", thicker("concrete_2200", 2.5), cooling, -1, ("one room",)),
    ("wider windows", every("Opening", width_m=lambda o: o.width_m * 1.2), cooling, +1, ("one room",)),
    ("wider windows", every("Opening", width_m=lambda o: o.width_m * 1.2), heating, +1, ("one room",)),
    ("glass lets more in", every("Glazing", g=0.7, tau_e=0.62), cooling, +1, DRAWN),
    ("glass of less U", every("Glazing", u_w_m2k=0.7), heating, -1, DRAWN),
    ("deeper overhang", every("Opening", overhang_m=lambda o: o.overhang_m + 1.0), cooling, -1, DRAWN),
    ("higher gap", every("Opening", overhang_m=1.0, overhang_gap_m=0.1), cooling, -1, ("one room",)),
    ("deeper reveal", every("Opening", reveal_m=0.4), cooling, -1, DRAWN),
    ("fins", every("Opening", fin_left_m=0.8, fin_right_m=0.8), cooling, -1, DRAWN),
    ("outside blind", shaded(outside=True, tau=0.05), cooling, -1, DRAWN),
    ("blind lets more in", shaded(tau=0.5, rho=0.3), cooling, -1, ("one room",)),
    ("doors of more U", every("Opening", lambda o: not o.glazing_id, door_u_w_m2k=4.0), heating, +1, ("building",)),
    ("ground takes part of the wall", every("Wall", lambda w: w.outside, buried_m=1.5), cooling, -1, ("one room",)),
    (
        "a longer edge on the ground",
        every("Slab", lambda s: s.kind == "ground", perimeter_m=lambda s: 2 * s.perimeter_m + 1),
        heating,
        +1,
        DRAWN,
    ),
    (
        "higher storeys leave ceilings",
        every("Level", elevation_m=lambda x: x.elevation_m + 0.001),
        cooling,
        0,
        ("list",),
    ),
    # people, lights and air of rooms
    ("more people", every("Room", people=pinned(40.0)), cooling, +1, ALL),
    ("more people, moisture", every("Room", people=pinned(40.0)), latent, +1, ALL),
    ("more people, air", every("Room", people=pinned(40.0)), outdoor, +1, ALL),
    ("people work harder", every("Room", activity="athletics"), cooling, +1, ALL),
    ("more lights", every("Room", lights_w_m2=pinned(25.0)), cooling, +1, ALL),
    ("more equipment", every("Room", equipment_w_m2=pinned(90.0)), cooling, +1, ALL),
    ("a process", every("Room", moisture_w=pinned(900.0)), latent, +1, ALL),
    ("cooler rooms", every("Room", cooling_c=pinned(21.0)), cooling, +1, ALL),
    ("cooler rooms", every("Room", cooling_c=pinned(21.0)), coil, +1, WITH_UNIT),
    ("warmer rooms in winter", every("Room", heating_c=pinned(23.5)), heating, +1, ALL),
    ("leakier rooms", every("Room", infiltration_1h=pinned(0.9)), heating, +1, DRAWN),
    ("more air changes", every("Room", air_change_1h=pinned(12.0)), flow, +1, ALL),
    ("more outdoor air", every("Room", outdoor_m3s=pinned(0.3)), outdoor, +1, ALL),
    ("more outdoor air", every("Room", outdoor_m3s=pinned(0.3)), unit_heat, +1, WITH_UNIT),
    ("more extract", every("Room", extract_m3s=pinned(0.05)), extract, +1, ALL),
    ("flows typed", every("Room", supply_m3s=pinned(0.6)), flow, +1, ALL),
    ("larger rooms", every("Room", area_m2=pinned(90.0)), heating, +1, ("list",)),
    # climate
    ("hotter", months(dry_bulb_c=39.0, wet_bulb_c=25.0), cooling, +1, ALL),
    ("hotter", months(dry_bulb_c=39.0, wet_bulb_c=25.0), coil, +1, WITH_UNIT),
    ("moister", months(dry_bulb_c=30.0, wet_bulb_c=26.0), coil, +1, WITH_UNIT),
    ("hazier", months(tau_b=0.75, tau_d=1.8), cooling, -1, ("one room",)),
    ("colder", site(winter_c=pinned(-30.0)), heating, +1, ALL),
    ("colder", site(winter_c=pinned(-30.0)), unit_heat, +1, WITH_UNIT),
    ("brighter ground", site(ground_reflectance=pinned(0.7)), cooling, +1, ALL),
    ("a warmer year below the floor", site(annual_mean_c=pinned(19.0)), heating, -1, ALL),
    ("thinner air", site(altitude_m=2500.0), flow, +1, ALL),
    # book
    ("leaks by rule", book(infiltration_1h=0.8), heating, +1, DRAWN),
    ("thermal bridges", book(bridges_w_m2k=0.2), heating, +1, DRAWN),
    ("estimates: glass", book(estimate_glass=0.7), cooling, +1, ("list",)),
    ("estimates: sun", book(estimate_g=0.6), cooling, +1, ("list",)),
    ("estimates: walls", book(estimate_wall_u=0.8), heating, +1, ("list",)),
    ("estimates: roofs", book(estimate_roof_u=0.8), heating, +1, ("list",)),
    ("estimates: floors", book(estimate_ground_u=0.8), heating, +1, ("list",)),
    ("estimates: leaks", book(estimate_leak_1h=1.0), heating, +1, ("list",)),
    ("estimates: windows", book(estimate_glass_u=3.0), heating, +1, ("list",)),
    ("better category of air", book(category="I"), outdoor, +1, ALL),
    ("chilled water warms more", book(chilled_return_c=18.0), chilled_water, -1, WITH_UNIT),
    ("heating water cools more", book(hot_return_c=25.0), hot_water, -1, WITH_UNIT),
    ("plant rooms", book(plant_m2_kw=0.2, handler_m2_m3s=20.0), plant_floor, +1, WITH_UNIT),
    # plant by the clock
    (
        "plant that goes off must start",
        every("AirSystem", operation=Operation(mode="hours", from_h=5, to_h=18)),
        start_up,
        +1,
        ("one room",),
    ),
    (
        "and warms up",
        every("AirSystem", operation=Operation(mode="hours", from_h=5, to_h=18)),
        warm_up,
        +1,
        ("one room",),
    ),
    # air systems
    ("cooler supply", every("AirSystem", supply_c=pinned(12.0)), flow, -1, ("one room",)),
    ("warmer supply", every("AirSystem", supply_c=pinned(18.5)), flow, +1, ALL),
    ("dry rooms", every("AirSystem", humidity_high=pinned(0.45)), flow, +1, ("building",)),
    ("less outdoor air of the unit", every("AirSystem", outdoor_m3s=pinned(0.02)), coil, -1, ("building",)),
    ("better recovery", part("recovery", sensible=0.9), unit_heat, -1, WITH_UNIT),
    ("no recovery", part("recovery", sensible=0.0), unit_heat, +1, WITH_UNIT),
    ("less intake than rooms ask for", every("AirSystem", outdoor_m3s=pinned(0.05)), fresh, -1, WITH_UNIT),
    ("every room served", book(recirculation="bare"), fresh, +1, ("building",)),
    ("a warmer zone", every("Zone", supply_c=pinned(20.0)), zone_heat, +1, ("building",)),
    ("rooms may be colder", every("Room", heating_c=pinned(16.0)), reheat, -1, ("building",)),
    ("a leaky duct", part("duct", leakage=0.25), coil, +1, WITH_UNIT),
    ("warm surroundings of ducts", part("duct", around_c=45.0, u_value=3.0), coil, +1, WITH_UNIT),
    ("a weak fan wheel", part("supply_fan", efficiency=0.3), coil, +1, WITH_UNIT),
    # ducts
    ("more friction allowed", every("AirSystem", friction_pa_m=pinned(3.0)), area, -1, WITH_UNIT),
    ("more friction allowed", every("AirSystem", friction_pa_m=pinned(3.0)), index_run, +1, WITH_UNIT),
    ("fire dampers in trunks", fire_dampers(), index_run, +1, WITH_UNIT),
    ("slow ducts", book(duct_trunk_m_s=3.0, duct_branch_m_s=2.5, duct_last_m_s=2.0), sheet, +1, WITH_UNIT),
    ("insulated ducts are thicker", book(duct_insulation_m=0.05), least_height, +1, ALL),
    (
        "longer flexible ends",
        every("Segment", lambda s: s.role == "last", flexible_m=2.0),
        index_run,
        +1,
        ("one room",),
    ),
    ("allowance", every("AirSystem", allowance=pinned(0.3)), fan_pressure, +1, ALL),
    (
        "a dirty filter",
        every("Part", lambda x: x.kind == "filter", pressure_pa=pinned(300.0)),
        fan_pressure,
        +1,
        WITH_UNIT,
    ),
    ("a dirty filter", every("Part", lambda x: x.kind == "filter", pressure_pa=pinned(300.0)), electric, +1, WITH_UNIT),
    ("loose ducts", every("Segment", tightness="A"), electric, +1, ("list",)),
    ("tight ducts", every("Segment", tightness="D"), electric, -1, ("list",)),
    ("a weak motor", every("AirSystem", fans=(FanChoice(motor_efficiency=pinned(0.5)),)), electric, +1, WITH_UNIT),
    ("bends at the fan", every("AirSystem", fans=(FanChoice(effect_k=pinned(1.2)),)), fan_pressure, +1, WITH_UNIT),
    ("small necks", book(neck_m_s=8.0), terminal_noise, +1, ("list",)),
)


class Directions(unittest.TestCase):
    def hold(self, name: str) -> None:
        memo, project = Memo(), project_of(name)
        before = run(project, memo)
        for what, change, figure, sign, where in ROWS:
            if name not in where:
                continue
            with self.subTest(what=what, figure=figure.__name__, project=name):
                now, then = figure(run(change(project), memo)), figure(before)
                moved = 0 if abs(now - then) <= SAME * max(abs(then), 1e-6) else (1 if now > then else -1)
                self.assertEqual(moved, sign, f"{figure.__name__}: {then:.6g} -> {now:.6g}")

    def test_on_a_small_building(self):
        self.hold("building")

    def test_on_one_room(self):
        self.hold("one room")

    def test_on_a_list(self):
        self.hold("list")

    def test_every_project_has_rows_of_each_kind(self):
        for name in ALL:
            figures = {f.__name__ for _, _, f, _, where in ROWS if name in where}
            self.assertLessEqual({"cooling", "heating", "flow", "outdoor", "fan_pressure"}, figures)


if __name__ == "__main__":
    unittest.main()
