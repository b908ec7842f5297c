"""What supply ducts take up from where they run: surroundings, conductance, temperature at every end, damp outsides."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.heat import FINISH, Wrapped, along, conductance
from garnetfin.core.psychro import properties as air
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import AirResult, Climate, DuctHeat, DuctResult, Missing, RoomResult
from garnetfin.engine.slices import DuctParts, duct_parts
from garnetfin.project.ducts import DuctPoint, Segment
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Room
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

SHAFT_C, PLANT_C = 24.0, 28.0
VOID_K, SUN_K = 2.0, 8.0  # a void above its room, what lies in the sun above the air; own
NEAR_ROOM_M = 0.6  # a duct in a wall belongs to the room beside it
SUPPLY_RATIO = 0.0085
STEEP = 0.7


@dataclass(frozen=True, slots=True)
class Place:
    """Where a duct runs: kind, and the room it is in or above, "" without one."""

    kind: str
    room_id: str = ""


def duct_heat(
    project: Project,
    system: AirSystem,
    climate: Climate | Missing,
    flows: AirResult | Missing,
    ducts: DuctResult | Missing,
    rooms: dict[str, RoomResult | Missing],
    memo: Memo,
) -> DuctHeat | None:
    """None where the system states its own figures, or nothing is drawn."""
    if system.heat != "computed" or isinstance(climate, Missing):
        return None
    if isinstance(flows, Missing) or isinstance(ducts, Missing):
        return None
    parts = duct_parts(project, system.id, "supply")
    assert parts is not None  # there are ducts
    # Where ducts run hangs on the drawing alone: it is looked up once for all flows.
    drawn = key(parts.segments, parts.points, project.plan_marks, parts.levels, _areas(project.rooms, parts))
    places: list[Place] = memo.one("duct places", drawn, lambda: surroundings(project, parts))
    beside = tuple(rooms.get(i) for i in dict.fromkeys(p.room_id for p in places) if i)
    row = key(ducts, flows, climate, drawn, beside, tuple(rooms[r.room_id] for r in flows.rooms))
    found: DuctHeat = memo.one("duct heat", row, lambda: _compute(parts, places, climate, flows, ducts, rooms))
    return found


def _areas(rooms: tuple[Room, ...], parts: DuctParts) -> tuple[Any, ...]:
    """Where rooms lie on the levels of some ducts, and how high."""
    on = {i for i, _, _ in parts.levels}
    listed = any(r.sketched for r in rooms)
    return (listed, *((r.id, r.ceiling_m, *r.outline) for r in rooms if r.level_id in on))


def _compute(
    parts: DuctParts,
    places: list[Place],
    climate: Climate,
    flows: AirResult,
    ducts: DuctResult,
    rooms: dict[str, RoomResult | Missing],
) -> DuctHeat:
    ids, tree = ducts.segment_ids, ducts.tree
    records = [ducts.segments[i] for i in ids]
    held = [p.figures.cooling_c.figure for r in flows.rooms if (p := _known(rooms, r.room_id))]
    usual_c = float(np.mean(held)) if held else SHAFT_C
    by_place = {p: _around_c(p, climate, usual_c, rooms) for p in dict.fromkeys(places)}
    around = np.array([by_place[p] for p in places])
    wrapped = wrapped_ducts(parts.points, parts.segments, ducts, flows)
    supply = flows.supply_c
    found = conductance(wrapped, np.full(len(ids), supply), around)
    length = np.array([r.length_m for r in records])
    first = np.array([r.flow_m3s for r in records]) * flows.density_kg_m3
    last = first - np.array([r.leak_m3s for r in records]) * flows.density_kg_m3
    cp = float(air.specific_heat(SUPPLY_RATIO))

    def march(root_c: float) -> tuple[NDArray[Any], NDArray[Any]]:
        starts, ends = np.full(len(ids), root_c), np.full(len(ids), root_c)
        for k, level in enumerate(tree.levels):
            starts[level] = ends[tree.parent[level]] if k else root_c
            ends[level] = along(
                starts[level], found.k_w_mk[level] * length[level], cp, first[level], last[level], around[level]
            )
        return starts, ends

    # All ends are linear in the temperature at the unit: it is set so that what is held at the rooms is their mean.
    at = {i: k for k, i in enumerate(ids)}
    weight = np.array([t.flow_m3s for t in ducts.terminals])
    own = np.array([at[t.segment_id] for t in ducts.terminals])

    def mean(root_c: float) -> float:
        return float(np.average(march(root_c)[1][own], weights=weight))

    low, high = mean(supply - 5.0), mean(supply + 5.0)
    root = supply - 5.0 + 10.0 * (supply - low) / max(high - low, 1e-9)
    starts, ends = march(root)
    damp = max((r.humidity_high for r in flows.rooms), default=0.6)
    room_c = min(held, default=24.0)
    dew = float(air.dew_point(air.humidity_ratio(room_c, damp, climate.pressure_pa), climate.pressure_pa))
    outside_dew = float(air.dew_point(climate.days.humidity_ratio.max(), climate.pressure_pa))
    outer = around + found.k_w_mk * (starts - around) / (found.outside_w_m2k * wrapped.outer_m)
    middle = (first + last) / 2
    gained = middle * cp * (ends - starts)
    return DuctHeat(
        kinds=dict(zip(ids, (p.kind for p in places))),
        around_c=dict(zip(ids, around.tolist())),
        u_w_m2k=dict(zip(ids, found.u_w_m2k.tolist())),
        start_c=dict(zip(ids, starts.tolist())),
        end_c=dict(zip(ids, ends.tolist())),
        gained_w=dict(zip(ids, gained.tolist())),
        outside_c=dict(zip(ids, outer.tolist())),
        dew_c=dict(zip(ids, np.where([p.kind == "outdoors" for p in places], outside_dew, dew).tolist())),
        terminal_c={t.terminal_id: float(ends[at[t.segment_id]]) for t in ducts.terminals},
        root_c=root,
        ua_w_k=float((found.k_w_mk * length)[tree.reached].sum()),
        surface_m2=float((wrapped.inner_m * length)[tree.reached].sum()),
        mean_around_c=float(np.average(around, weights=np.maximum(found.k_w_mk * length, 1e-9))),
    )


def _known(rooms: dict[str, RoomResult | Missing], room_id: str) -> RoomResult | None:
    found = rooms.get(room_id)
    return found if isinstance(found, RoomResult) else None


def wrapped_ducts(
    points: tuple[DuctPoint, ...], drawn: Sequence[Segment], ducts: DuctResult, flows: AirResult
) -> Wrapped:
    """Drawn and sized ducts with their layers, for heat."""
    records = [ducts.segments[s.id] for s in drawn]
    ends = [(find(points, s.a), find(points, s.b)) for s in drawn]
    upright = [abs(a.z_m - b.z_m) > STEEP * max(r.length_m, 1e-9) for (a, b), r in zip(ends, records)]
    return Wrapped(
        np.array([r.section.width_m for r in records]),
        np.array([r.section.height_m for r in records]),
        np.array([r.section.shape == "round" for r in records]),
        np.array([r.make.lining_m if r.make else 0.0 for r in records]),
        np.array([r.make.insulation_m if r.make else 0.0 for r in records]),
        np.array([FINISH["bright" if r.make and r.make.insulation_m > 0 else "galvanised"] for r in records]),
        np.array(upright),
        np.array([r.velocity_m_s for r in records]),
        flows.density_kg_m3,
        flows.viscosity_pa_s,
    )


def surroundings(project: Project, parts: DuctParts) -> list[Place]:
    """Where every duct runs by its middle: as said, else in a room, in the void above one, in a shaft, beside plant, or
    outdoors. Ducts of listed rooms lie in voids.
    """
    from shapely import Point, Polygon, STRtree

    areas: list[tuple[str, str, float, float]] = []  # kind, room, level's floor, ceiling above it
    shapes, levels = [], []
    floors = {level.id: level.elevation_m for level in project.levels}
    for room in project.rooms:
        shapes.append(Polygon(room.outline).buffer(0))
        areas.append(("room", room.id, floors.get(room.level_id, 0.0), room.ceiling_m))
        levels.append(room.level_id)
    for mark in project.plan_marks:
        if mark.kind in ("shaft", "unit", "void"):
            shapes.append(Polygon(mark.outline).buffer(0))
            kind = {"unit": "plant", "shaft": "shaft", "void": "room"}[mark.kind]
            areas.append((kind, "", floors.get(mark.level_id, 0.0), np.inf))
            levels.append(mark.level_id)
    listed = any(r.sketched for r in project.rooms)
    tree = STRtree(shapes) if shapes else None
    made = []
    for s in parts.segments:
        a, b = find(parts.points, s.a), find(parts.points, s.b)
        z, level = (a.z_m + b.z_m) / 2, a.level_id
        found = Place("void" if listed else "outdoors")
        if tree is not None:
            point = Point((a.x_m + b.x_m) / 2, (a.y_m + b.y_m) / 2)
            near = [k for k in tree.query(point, "dwithin", NEAR_ROOM_M).tolist() if levels[k] == level]
            best = min(near, key=lambda k: (areas[k][0] == "room", shapes[k].distance(point), k), default=None)
            if best is not None:
                kind, room_id, floor, ceiling = areas[best]
                above = kind == "room" and z - floor >= ceiling - 0.05
                found = Place("void" if above else kind, room_id)
        made.append(Place(s.around, found.room_id) if s.around else found)
    return made


def _around_c(place: Place, climate: Climate, usual_c: float, rooms: dict[str, RoomResult | Missing]) -> float:
    """Temperature around a duct on a summer's design day [degC]; usual_c where its room is not known."""
    if place.kind == "outdoors":
        return float(climate.days.dry_bulb_c.max()) + SUN_K
    if place.kind in ("shaft", "plant"):
        return SHAFT_C if place.kind == "shaft" else PLANT_C
    room = _known(rooms, place.room_id)
    room_c = room.figures.cooling_c.figure if room is not None else usual_c
    return room_c + (VOID_K if place.kind == "void" else 0.0)
