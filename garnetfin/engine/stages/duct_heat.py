"""What supply ducts take up from where they run: surroundings, conductance, temperature at every end, damp outsides."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.heat import FINISH, Conductance, Wrapped, along, conductance
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.psychro import properties as air
from garnetfin.engine.memo import Memo, Ready, key
from garnetfin.engine.results import AirResult, Climate, DuctHeat, DuctResult, Make, Missing, RoomResult
from garnetfin.engine.slices import DuctParts, duct_parts
from garnetfin.engine.stages.duct_flows import Carried
from garnetfin.engine.stages.duct_tree import SizedDucts
from garnetfin.project.ducts import DuctPoint, Segment
from garnetfin.project.lookup import Same, find, positions
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

Array = NDArray[np.float64]
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


@dataclass(frozen=True, slots=True, eq=False)
class AirAlong:
    """Air in the supply ducts of a system (segments,): where they run, how warm it is there and in them [degC]."""

    places: list[Place]
    wrapped: Wrapped
    passes: Conductance
    around_c: Array
    start_c: Array
    end_c: Array
    root_c: float
    first_kg_s: Array
    last_kg_s: Array
    terminal_c: Array  # (terminals,)

    def rooms_k(
        self, on: Carried, before: tuple[tuple[str, float], ...], share: float
    ) -> tuple[tuple[str, float], ...]:
        """(room, by how much warmer than the mean of all terminals its air arrives [K]), a share of the way from what
        it was before.
        """
        flow: dict[str, float] = {}
        heat: dict[str, float] = {}
        for t, t_c in zip(on.at.reached, self.terminal_c.tolist()):
            q = on.terminal_m3s[t.id]
            flow[t.room_id] = flow.get(t.room_id, 0.0) + q
            heat[t.room_id] = heat.get(t.room_id, 0.0) + q * t_c
        mean = sum(heat.values()) / max(sum(flow.values()), 1e-12)
        was = dict(before)
        return tuple(
            (i, round(was.get(i, 0.0) + share * (heat[i] / flow[i] - mean - was.get(i, 0.0)), 4))
            for i in flow
            if flow[i] > 0
        )


def air_along(
    project: Project,
    system: AirSystem,
    climate: Climate | Missing,
    sizes: SizedDucts | Missing,
    rooms: Mapping[str, RoomResult | Missing],
    memo: Memo,
) -> AirAlong | None:
    """None where the system states its own figures, or nothing is drawn."""
    if system.heat != "computed" or isinstance(climate, Missing) or isinstance(sizes, Missing):
        return None
    parts, places = places_of(project, system, memo)
    held = Ready(held_beside(places, rooms)), Ready(_held_c(rooms, sizes.on.air))
    row = key(sizes, climate, parts.key, places, *held)
    found: AirAlong = memo.one("air along ducts", row, lambda: _along(parts, places, climate, sizes, rooms))
    return found


def duct_heat(
    climate: Climate,
    ducts: DuctResult,
    flows: AirResult,
    air: AirAlong,
    rooms: Mapping[str, RoomResult | Missing],
    memo: Memo,
) -> DuctHeat:
    """The same by duct, with what they take up and where they would drip."""
    row = key(ducts, flows, climate, air, tuple(rooms[r.room_id] for r in flows.rooms))
    found: DuctHeat = memo.one("duct heat", row, lambda: _by_duct(climate, ducts, flows, air, rooms))
    return found


def places_of(project: Project, system: AirSystem, memo: Memo) -> tuple[DuctParts, list[Place]]:
    """Supply ducts and where each runs, which hangs on the drawing alone."""
    parts = duct_parts(project, system.id, "supply")
    assert parts is not None  # there are ducts
    areas = _areas(Same(project.rooms), parts.levels)
    drawn = key(parts.segments, parts.points, project.plan_marks, parts.levels, areas)
    found: list[Place] = memo.one(
        "duct places", drawn, lambda: memo.again(("duct places", system.id), surroundings(project, parts))
    )
    return parts, found


def held_beside(places: list[Place], rooms: Mapping[str, RoomResult | Missing]) -> tuple[float | None, ...]:
    """At what the rooms are held in or above which ducts run [degC], None where that is not known."""
    return _held_beside(Same(places), Same(rooms))


@lru_cache(maxsize=8)
def _held_beside(places: Same, rooms: Same) -> tuple[float | None, ...]:
    beside = dict.fromkeys(p.room_id for p in places.item if p.room_id)
    known = (_known(rooms.item, i) for i in beside)
    return tuple(None if r is None else r.figures.cooling_c.figure for r in known)


@lru_cache(maxsize=64)
def _areas(rooms: Same, levels: tuple[tuple[str, float, float], ...]) -> Ready:
    """Where rooms lie on some levels, and how high."""
    on = {i for i, _, _ in levels}
    listed = any(r.sketched for r in rooms.item)
    return Ready((listed, *((r.id, r.ceiling_m, Same(r.outline)) for r in rooms.item if r.level_id in on)))


def _held_c(rooms: Mapping[str, RoomResult | Missing], flows: AirResult) -> list[float]:
    return [p.figures.cooling_c.figure for r in flows.rooms if (p := _known(rooms, r.room_id))]


def _along(
    parts: DuctParts,
    places: list[Place],
    climate: Climate,
    sizes: SizedDucts,
    rooms: Mapping[str, RoomResult | Missing],
) -> AirAlong:
    on, tree = sizes.on, sizes.on.at.tree
    held = _held_c(rooms, on.air)
    usual_c = float(np.mean(held)) if held else SHAFT_C
    by_place = {p: _around_c(p, climate, usual_c, rooms) for p in dict.fromkeys(places)}
    around = np.array([by_place[p] for p in places])
    wrapped = _wrapped(parts.points, parts.segments, sizes.found.sections, on.at.made, on.at.length_m.tolist())
    wrapped = replace(
        wrapped, velocity_m_s=sizes.losses.velocity_m_s, density=on.air.density_kg_m3, viscosity=on.air.viscosity_pa_s
    )
    supply = on.air.supply_c
    found = conductance(wrapped, np.full(len(places), supply), around)
    length = on.at.length_m
    first = on.flow_m3s * on.air.density_kg_m3
    last = first - on.leak_m3s * on.air.density_kg_m3
    cp = float(air.specific_heat(SUPPLY_RATIO))

    def march(root_c: float) -> tuple[Array, Array]:
        starts, ends = np.full(len(places), root_c), np.full(len(places), root_c)
        for k, level in enumerate(tree.levels):
            starts[level] = ends[tree.parent[level]] if k else root_c
            ends[level] = along(
                starts[level], found.k_w_mk[level] * length[level], cp, first[level], last[level], around[level]
            )
        return starts, ends

    # All ends are linear in the temperature at the unit: it is set so that what is held at the rooms is their mean.
    weight = np.array([on.terminal_m3s[t.id] for t in on.at.reached])
    own = on.at.own

    def mean(root_c: float) -> float:
        return float(np.average(march(root_c)[1][own], weights=weight))

    low, high = mean(supply - 5.0), mean(supply + 5.0)
    root = supply - 5.0 + 10.0 * (supply - low) / max(high - low, 1e-9)
    starts, ends = march(root)
    return AirAlong(places, wrapped, found, around, starts, ends, root, first, last, ends[own])


def _by_duct(
    climate: Climate, ducts: DuctResult, flows: AirResult, along_: AirAlong, rooms: Mapping[str, RoomResult | Missing]
) -> DuctHeat:
    ids, tree = ducts.segment_ids, ducts.tree
    around, found = along_.around_c, along_.passes
    length = np.array([ducts.segments[i].length_m for i in ids])
    damp = max((r.humidity_high for r in flows.rooms), default=0.6)
    room_c = min(_held_c(rooms, flows), default=24.0)
    dew = float(air.dew_point(air.humidity_ratio(room_c, damp, climate.pressure_pa), climate.pressure_pa))
    outside_dew = float(air.dew_point(climate.days.humidity_ratio.max(), climate.pressure_pa))
    outer = around + found.k_w_mk * (along_.start_c - around) / (found.outside_w_m2k * along_.wrapped.outer_m)
    middle = (along_.first_kg_s + along_.last_kg_s) / 2
    gained = middle * float(air.specific_heat(SUPPLY_RATIO)) * (along_.end_c - along_.start_c)
    outdoors = [p.kind == "outdoors" for p in along_.places]
    return DuctHeat(
        kinds=dict(zip(ids, (p.kind for p in along_.places))),
        around_c=dict(zip(ids, around.tolist())),
        u_w_m2k=dict(zip(ids, found.u_w_m2k.tolist())),
        start_c=dict(zip(ids, along_.start_c.tolist())),
        end_c=dict(zip(ids, along_.end_c.tolist())),
        gained_w=dict(zip(ids, gained.tolist())),
        outside_c=dict(zip(ids, outer.tolist())),
        dew_c=dict(zip(ids, np.where(outdoors, outside_dew, dew).tolist())),
        terminal_c=dict(zip((t.terminal_id for t in ducts.terminals), along_.terminal_c.tolist())),
        root_c=along_.root_c,
        ua_w_k=float((found.k_w_mk * length)[tree.reached].sum()),
        surface_m2=float((along_.wrapped.inner_m * length)[tree.reached].sum()),
        mean_around_c=float(np.average(around, weights=np.maximum(found.k_w_mk * length, 1e-9))),
    )


def _known(rooms: Mapping[str, RoomResult | Missing], room_id: str) -> RoomResult | None:
    found = rooms.get(room_id)
    return found if isinstance(found, RoomResult) else None


def wrapped_ducts(
    points: tuple[DuctPoint, ...], drawn: Sequence[Segment], ducts: DuctResult, flows: AirResult
) -> Wrapped:
    """Some drawn and sized ducts with their layers, for heat."""
    records = [ducts.segments[s.id] for s in drawn]
    found = _wrapped(
        points, drawn, [r.section for r in records], [r.make for r in records], [r.length_m for r in records]
    )
    return replace(
        found,
        velocity_m_s=np.array([r.velocity_m_s for r in records]),
        density=flows.density_kg_m3,
        viscosity=flows.viscosity_pa_s,
    )


def _wrapped(
    points: tuple[DuctPoint, ...],
    drawn: Sequence[Segment],
    sections: Sequence[Section],
    made: Sequence[Make],
    length_m: Sequence[float],
) -> Wrapped:
    """Without the air in them."""
    place = positions(points)
    rise = [abs(points[place[s.a]].z_m - points[place[s.b]].z_m) for s in drawn]
    return Wrapped(
        np.array([s.width_m for s in sections]),
        np.array([s.height_m for s in sections]),
        np.array([s.shape == "round" for s in sections]),
        np.array([m.lining_m for m in made]),
        np.array([m.insulation_m for m in made]),
        np.array([FINISH["bright" if m.insulation_m > 0 else "galvanised"] for m in made]),
        np.array([dz > STEEP * max(length, 1e-9) for dz, length in zip(rise, length_m)]),
        np.zeros(len(sections)),
        1.0,
        1.0,
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


def _around_c(place: Place, climate: Climate, usual_c: float, rooms: Mapping[str, RoomResult | Missing]) -> float:
    """Temperature around a duct on a summer's design day [degC]; usual_c where its room is not known."""
    if place.kind == "outdoors":
        return float(climate.days.dry_bulb_c.max()) + SUN_K
    if place.kind in ("shaft", "plant"):
        return SHAFT_C if place.kind == "shaft" else PLANT_C
    room = _known(rooms, place.room_id)
    room_c = room.figures.cooling_c.figure if room is not None else usual_c
    return room_c + (VOID_K if place.kind == "void" else 0.0)
