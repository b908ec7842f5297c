"""Findings of what is far from usual: rooms that do not close, loads far from those of their use, an invented place."""

from collections.abc import Iterator, Sequence
from functools import partial
from math import isfinite, nan
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.loads.estimate import densities
from garnetfin.core.outlines import inside
from garnetfin.core.plausible import (
    CEILING_M,
    COOLING_C,
    HEATING_C,
    LEAST_CHANGE_1H,
    MOST_EQUIPMENT_W_M2,
    MOST_LEAK_1H,
    MOST_LIGHTS_W_M2,
    U_GLASS,
    U_OPAQUE,
    Limits,
    Rooms,
    odd,
    vector_area,
)
from garnetfin.core.tables import places
from garnetfin.display import amount, number
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption, day_profiles, use_in_force
from garnetfin.engine.results import CAUSES, Block, Climate, Finding, Mend, Missing, RoomAir, RoomResult
from garnetfin.engine.stages.building import outside_shares
from garnetfin.engine.stages.faces import core_layers, face_keys, outer_film, u_outdoors
from garnetfin.engine.stages.loads import USUAL_FLOOR_M2, estimate_of_use
from garnetfin.project.derive import present
from garnetfin.project.edits.openings import ShrinkGlass
from garnetfin.project.edits.outlines import DeriveFaces
from garnetfin.project.edits.rooms import SetCeiling, SetRoomValue
from garnetfin.project.lookup import Same, find, slabs_of, walls_of
from garnetfin.project.spaces import Level, Room, Slab, Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

SPECIAL = ("server", "kitchen", "laboratory", "workshop")
SUN = CAUSES.index("solar through glass")
SUN_SHARE, SUN_ROOM_W_M2 = 0.5, 30.0  # of a room's cooling load, and per m2 of floor
LISTED_M2, LEAST_FACADE = 50.0, 0.8  # of listed rooms on a level, and of a circle's border around them
EDGE_M, EDGE_SHARE = 1.0, 0.5  # of an outline on the level's edge, and what of it must be outside wall
CLOSES_M = 0.25  # half the width of gaps between rooms that count as walls
POLEWARD_DEG = 60.0  # glass that looks less far from the pole than this may see no sun
COOLING_W_M2, HEATING_W_M2 = (10.0, 150.0), (5.0, 120.0)
MOST_OF_LOAD, LEAST_OF_FLOOR = 0.5, 0.1
CEILING_BELOW_SLAB_M = 0.3
USUAL_GLASS = 0.6  # of a facade, to which a mend takes it


class Geometry(NamedTuple):
    """Of a room, from the project's walls and slabs: how many faces, and areas [m2]."""

    faces: int
    floor_m2: float
    top_m2: float
    faces_m2: float
    open_m2: float
    facade_m2: float
    glass_m2: float
    sunny_m2: float


def plausibility(
    project: Project,
    climate: Climate | Missing,
    rooms: dict[str, RoomResult | Missing],
    room_air: dict[str, RoomAir],
    building: Block | Missing,
    memo: Memo,
) -> list[Finding]:
    """What an engineer would look at twice, in the project's order."""
    found = [*_place(project), *_u_values(project), *_facades(project), *_building(project, building, rooms)]
    known = [(r, x) for r in project.rooms if isinstance(x := rooms.get(r.id), RoomResult) and x.kept]
    known = [(r, x) for r, x in known if x.estimate is None]
    if not known or not isinstance(climate, Climate):
        return found
    geometry = _geometries(project, [r for r, _ in known], memo)
    usual = [_usual(project, climate, r, x, memo) for r, x in known]
    limits = Limits(
        *(assumption(project.book, f"usual_{name}").figure for name in ("over", "under", "changes", "glass"))
    )
    arrays = _arrays(known, geometry, usual, room_air)
    by_room: dict[str, list[str]] = {}
    for code, broken in odd(arrays, limits).items():
        for k in np.flatnonzero(broken).tolist():
            if code != "estimate-far" or not made_by_sun(known[k][1]):  # the sun has its own finding
                by_room.setdefault(known[k][0].id, []).append(code)
    edges = _edges(project, memo)
    for k, (room, result) in enumerate(known):
        for code in by_room.get(room.id, ()):
            found.append(_told(project, code, room, result, arrays, k, limits))
        if room.id in edges:
            found.append(_edge(room, *edges[room.id]))
    return found


def made_by_sun(result: RoomResult) -> bool:
    """More than half of its cooling comes through glass, and enough of it to be told."""
    sun = result.cause_w("solar through glass")
    return sun > SUN_SHARE * max(result.peak_w, 0.0) and sun > SUN_ROOM_W_M2 * result.figures.area_m2.figure


# -- figures ------------------------------------------------------------------------------------------------------
def _arrays(
    known: Sequence[tuple[Room, RoomResult]],
    geometry: Sequence[Geometry],
    usual: Sequence[tuple[float, float]],
    room_air: dict[str, RoomAir],
) -> Rooms:
    def each(values: Any) -> NDArray[np.float64]:
        return np.array(list(values), float)

    found, figures = [x for _, x in known], [x.figures for _, x in known]
    area, volume = each(f.area_m2.figure for f in figures), each(x.volume_m3 for x in found)
    flow = each(room_air[x.room_id].flow_m3s if x.room_id in room_air else nan for x in found)
    glass = each(g.glass_m2 for g in geometry)
    sun = each(float(x.instant_w[SUN, x.peak[0]].max()) for x in found)
    return Rooms(
        area,
        volume,
        each(r.ceiling_m for r, _ in known),
        each(x.peak_w for x in found) / area,
        each(x.heating_w for x in found) / area,
        each(c for c, _ in usual),
        each(h for _, h in usual),
        np.where(flow > 0, flow * 3600 / volume, nan),
        each(f.people.figure for f in figures),
        each(f.lights_w_m2.figure for f in figures),
        each(f.equipment_w_m2.figure for f in figures),
        each(f.infiltration_1h.figure for f in figures),
        each(f.cooling_c.figure for f in figures),
        each(f.heating_c.figure for f in figures),
        each(g.faces for g in geometry),
        each(g.floor_m2 for g in geometry),
        each(g.top_m2 for g in geometry),
        each(nan if r.sketched else g.faces_m2 for (r, _), g in zip(known, geometry)),
        each(nan if r.sketched else g.open_m2 for (r, _), g in zip(known, geometry)),
        each(g.glass_m2 / g.facade_m2 if g.facade_m2 else nan for g in geometry),
        each(g.sunny_m2 for g in geometry),
        sun * each(g.sunny_m2 for g in geometry) / np.where(glass > 0, glass, 1.0),
        np.array([f.use.id in SPECIAL for f in figures], bool),
        np.array([f.use.id == "server" for f in figures], bool),
        np.array([not g.facade_m2 for g in geometry], bool),
    )


def _usual(project: Project, climate: Climate, room: Room, result: RoomResult, memo: Memo) -> tuple[float, float]:
    """(cooling, heating) [W/m2] of the early estimate of the room's use; nan where its load is near what the people,
    lights and equipment of its use alone would give, so that nothing is to be asked.
    """
    f = result.figures
    area = f.area_m2.figure
    gains = f.use.people_m2 * f.use.sensible_w + f.use.lights_w_m2 + f.use.equipment_w_m2
    if 0.5 < result.peak_w / area / (gains + 20.0) < 2.0 and result.heating_w / area < 40.0:
        return nan, nan
    shares = tuple(float(round(x)) for x in outside_shares(project, room, area))
    use = use_in_force(project.book, f.use.id)
    profile = day_profiles(project.book, use.profile)

    def compute() -> tuple[float, float]:
        gains, shell, weather = estimate_of_use(project, climate, use, profile, (shares[0], shares[1]))
        return densities(USUAL_FLOOR_M2, shell, gains, weather, use.cooling_c, use.heating_c)

    found: tuple[float, float] = memo.one("usual load", key(climate, f.use.id, project.book, *shares), compute)
    return found


def _geometries(project: Project, rooms: Sequence[Room], memo: Memo) -> list[Geometry]:
    southern = project.site is not None and project.site.latitude_deg < 0
    storeys = {level.id: level.storey_m for level in project.levels}
    parts = [(room, walls_of(project.walls, room.id), slabs_of(project.slabs, room.id)) for room in rooms]
    faces = face_keys(project)
    return memo.rows(
        "closed",
        [(room.id, Same(room.outline), faces.get(room.id), southern, *storeys.values()) for room in rooms],
        lambda stale: [_geometry(*parts[i], storeys, southern) for i in stale],
    )


def _geometry(
    room: Room, walls: Sequence[Wall], slabs: Sequence[Slab], storeys: dict[str, float], southern: bool
) -> Geometry:
    areas, normals = [], []
    facade = glass = sunny = 0.0
    for wall in walls:
        area = wall.length_m * wall.height_m
        # Above a parapet between two rooms there is air, not a face that is missing.
        areas.append(area if wall.outside else wall.length_m * max(wall.height_m, storeys.get(wall.level_id, 0.0)))
        normals.append((*_outward(room, wall), 0.0))
        if wall.outside:
            panes = sum(o.area_m2 for o in wall.openings if o.glazing_id)
            facade, glass = facade + area, glass + panes
            from_pole = abs((wall.facing_deg + (180.0 if southern else 0.0) + 180.0) % 360.0 - 180.0)
            sunny += panes if from_pole > POLEWARD_DEG else 0.0
    floor = top = 0.0
    for slab in slabs:
        up = slab.room_below == room.id
        areas.append(slab.area_m2)
        normals.append((0.0, 0.0, 1.0 if up else -1.0))
        floor, top = (floor, top + slab.area_m2) if up else (floor + slab.area_m2, top)
    open_ = vector_area(np.array(areas), np.array(normals).reshape(-1, 3), np.zeros(len(areas), int), 1)[0]
    return Geometry(len(areas), floor, top, sum(areas), float(open_), facade, glass, sunny)


def _outward(room: Room, wall: Wall) -> tuple[float, float]:
    """Unit normal of a wall on the plan, away from the room."""
    (x0, y0), (x1, y1) = wall.start, wall.end
    nx, ny = (y1 - y0) / wall.length_m, -(x1 - x0) / wall.length_m
    middle = (x0 + x1) / 2, (y0 + y1) / 2
    within = inside(room.outline, (middle[0] + 0.5 * nx, middle[1] + 0.5 * ny))
    return (-nx, -ny) if within else (nx, ny)


def _edges(project: Project, memo: Memo) -> dict[str, tuple[float, float]]:
    """Rooms at the edge of their level without outside walls there: (length of the edge, of outside walls) [m]."""
    found: dict[str, tuple[float, float]] = {}
    for level in project.levels:
        outlines = present(project, level)
        marks = tuple(m.outline for m in project.plan_marks if m.level_id == level.id and m.kind != "block")
        row = ("edge", level.id, tuple((i, Same(o)) for i, o in outlines.items()), tuple(Same(m) for m in marks))
        on_edge = memo.one("edge", row, partial(_on_edge, outlines, marks))
        found |= _without_wall(project, level, on_edge)
    return found


def _on_edge(outlines: dict[str, Any], marks: tuple[Any, ...]) -> dict[str, float]:
    """How much of each outline [m] lies on the outer border of all of them."""
    from shapely import LinearRing, Polygon, unary_union

    if not outlines:
        return {}
    whole = unary_union([Polygon(o).buffer(CLOSES_M, join_style="mitre") for o in (*outlines.values(), *marks)])
    shape = whole.buffer(-CLOSES_M, join_style="mitre")
    border = unary_union([LinearRing(part.exterior) for part in getattr(shape, "geoms", [shape])]).buffer(0.05)
    return {i: float(LinearRing(o).intersection(border).length) for i, o in outlines.items()}


def _without_wall(project: Project, level: Level, on_edge: dict[str, float]) -> dict[str, tuple[float, float]]:
    found = {}
    for i, edge in on_edge.items():
        if edge > EDGE_M:
            walls = sum(w.length_m for w in walls_of(project.walls, i) if w.outside and w.level_id == level.id)
            if walls < EDGE_SHARE * edge:
                found[i] = (edge, float(walls))
    return found


# -- what is said -------------------------------------------------------------------------------------------------
def _told(project: Project, code: str, room: Room, result: RoomResult, a: Rooms, k: int, limits: Limits) -> Finding:
    f, use = result.figures, result.figures.use.name
    per_m2 = f"{amount('power_density', float(a.cooling_w_m2[k]))} of cooling"
    by_rule = {
        name: Mend(label, SetRoomValue((room.id,), name, Rule()))
        for name, label in (
            ("people", "People by rule"),
            ("lights_w_m2", "Lights by rule"),
            ("equipment_w_m2", "Equipment by rule"),
            ("infiltration_1h", "Infiltration by rule"),
            ("cooling_c", "Cooling set-point by rule"),
            ("heating_c", "Heating set-point by rule"),
            ("supply_m3s", "Flow by rule"),
        )
        if not isinstance(getattr(room, name), Rule)
    }
    anew = (Mend("Walls and slabs anew", DeriveFaces((room.id,))),) if not room.sketched else ()
    level = find(project.levels, room.level_id)
    typed = tuple(by_rule[n] for n in ("people", "lights_w_m2", "equipment_w_m2", "infiltration_1h") if n in by_rule)
    link, title, reason, mends = {
        "estimate-far": (
            "Loads",
            f"{room.number} asks for {per_m2}",
            f"{use} here comes to {amount('power_density', float(a.usual_cooling_w_m2[k]))} by the early estimate. "
            "Look at its faces, its glass and its gains.",
            typed,
        ),
        "heating-far": (
            "Loads",
            f"{room.number} asks for {amount('power_density', float(a.heating_w_m2[k]))} of heating",
            f"{use} here comes to {amount('power_density', float(a.usual_heating_w_m2[k]))} by the early estimate. "
            "Look at its U-values, its outside faces and its leakage.",
            typed[-1:],
        ),
        "air-change": (
            "Air",
            f"{room.number} is supplied {amount('air_change', float(a.change_1h[k]))}",
            f"Rooms usually get {number(LEAST_CHANGE_1H, 1)} to {amount('air_change', limits.change_1h)}.",
            tuple(by_rule[n] for n in ("supply_m3s",) if n in by_rule),
        ),
        "few-faces": (
            "Building",
            f"{room.number} has {int(a.faces[k])} faces",
            "A room has four and more. What is not drawn loses no heat.",
            anew,
        ),
        "no-floor": ("Building", f"{room.number} has no floor", "What is not drawn loses no heat.", anew),
        "no-ceiling": (
            "Building",
            f"{room.number} has neither ceiling nor roof",
            "What is not drawn takes no sun and loses no heat.",
            anew,
        ),
        "not-closed": (
            "Building",
            f"{room.number}: faces of {amount('area', float(a.faces_m2[k]))} do not hold its volume",
            f"{amount('volume', float(a.volume_m3[k]))} have more around them. Look at its walls "
            "and its ceiling height.",
            anew,
        ),
        "open-side": (
            "Building",
            f"{room.number} is open on a side",
            f"Its faces do not close: {amount('area', float(a.open_m2[k]))} are missing on one side.",
            anew,
        ),
        "glass-share": (
            "Building",
            f"{room.number}: {float(a.glass_share[k]):.0%} of its outside wall is glass",
            f"More than {limits.glass:.0%} is hardly ever built. Look at heads, sills and widths.",
            (Mend(f"Glass to {USUAL_GLASS:.0%}", ShrinkGlass(room.id, min(USUAL_GLASS, limits.glass))),),
        ),
        "people": (
            "Loads",
            f"{room.number}: {number(float(a.people[k]), 0)} people on {amount('area', f.area_m2.figure)}",
            "More than one on a square metre is a crowd.",
            tuple(by_rule[n] for n in ("people",) if n in by_rule),
        ),
        "gains": (
            "Loads",
            f"{room.number}: lights or equipment far above the usual",
            f"{amount('electric_density', f.lights_w_m2.figure)} of lights, "
            f"{amount('electric_density', f.equipment_w_m2.figure)} of equipment; up to "
            f"{amount('electric_density', MOST_LIGHTS_W_M2)} and {amount('power_density', MOST_EQUIPMENT_W_M2)} are "
            "usual.",
            tuple(by_rule[n] for n in ("lights_w_m2", "equipment_w_m2") if n in by_rule),
        ),
        "infiltration": (
            "Loads",
            f"{room.number} leaks {amount('air_change', f.infiltration_1h.figure)}",
            f"More than {amount('air_change', MOST_LEAK_1H)} is an open window.",
            tuple(by_rule[n] for n in ("infiltration_1h",) if n in by_rule),
        ),
        "set-point": (
            "Loads",
            f"{room.number}: set-points of {amount('temperature', f.heating_c.figure)} and "
            f"{amount('temperature', f.cooling_c.figure)}",
            f"Heating from {amount('temperature', HEATING_C[0])} to {amount('temperature', HEATING_C[1])}, cooling "
            f"from {amount('temperature', COOLING_C[0])} to {amount('temperature', COOLING_C[1])} is usual.",
            tuple(by_rule[n] for n in ("heating_c", "cooling_c") if n in by_rule),
        ),
        "ceiling": (
            "Building",
            f"{room.number} is {amount('length', room.ceiling_m)} high",
            f"Rooms are {amount('length', CEILING_M[0])} to {amount('length', CEILING_M[1])} high.",
            (
                Mend(
                    "As its storey",
                    SetCeiling((room.id,), max(0.5, (level.storey_m if level else 3.0) - CEILING_BELOW_SLAB_M)),
                ),
            ),
        ),
        "glass-without-sun": (
            "Loads",
            f"{room.number}: no sun comes through {amount('area', float(a.sunny_m2[k]))} of glass",
            "It looks towards the sun, yet nothing arrives. Look at what stands in front of it, and at its glass.",
            (),
        ),
    }[code]
    return Finding(f"odd-{code}", link, "room", room.id, title, reason, "watch", mends)


def _edge(room: Room, edge_m: float, walls_m: float) -> Finding:
    return Finding(
        "odd-edge",
        "Building",
        "room",
        room.id,
        f"{room.number} has no outside wall on the edge of the building",
        f"{amount('length', edge_m)} of it lie on the edge, {amount('length', walls_m)} are outside wall.",
        "watch",
        (Mend("Walls and slabs anew", DeriveFaces((room.id,))),),
    )


def _place(project: Project) -> Iterator[Finding]:
    """Weather that is invented, until another is given."""
    site = project.site
    if site is None or site.weather is not None or not project.rooms:
        return
    by_rule = not site.months or any(isinstance(m.dry_bulb_c, Rule) for m in site.months)
    if by_rule:
        place = places().get(site.place_id) or next(iter(places().values()))
        yield Finding(
            "place-invented",
            "Climate",
            "site",
            "",
            f"The weather is that of {place.name}, which is invented",
            "No real place has it. Read a weather file, or type the design conditions and the position.",
            "watch",
        )


def _u_values(project: Project) -> Iterator[Finding]:
    """Of build-ups to outdoors and of glass."""
    used = {w.build_up_id: "wall" for w in project.walls if w.outside}
    used |= {s.build_up_id: "roof" for s in project.slabs if s.kind == "roof"}
    used |= {s.build_up_id: "floor" for s in project.slabs if s.kind == "exposed"}
    for build_up in project.build_ups:
        if build_up.id in used:
            u = u_outdoors(used[build_up.id], core_layers(build_up, project.book), outer_film(build_up))
            if not U_OPAQUE[0] <= u <= U_OPAQUE[1]:
                yield _odd_u("build-up", build_up.id, build_up.name, u, U_OPAQUE)
    panes = {o.glazing_id for w in project.walls for o in w.openings if o.glazing_id}
    for glazing in project.glazings:
        if glazing.id in panes and not U_GLASS[0] <= glazing.u_w_m2k <= U_GLASS[1]:
            yield _odd_u("glazing", glazing.id, glazing.name, glazing.u_w_m2k, U_GLASS)


def _odd_u(kind: str, object_id: str, name: str, u: float, band: tuple[float, float]) -> Finding:
    return Finding(
        "odd-u-value",
        "Building",
        kind,
        object_id,
        f"{name} has a U-value of {amount('u_value', u)}",
        f"{amount('u_value', band[0], bare=True)} to {amount('u_value', band[1])} is usual. Another unit was likely "
        "meant.",
        "watch",
    )


def _facades(project: Project) -> Iterator[Finding]:
    """Levels whose rooms come from a list with too little outside wall around them."""
    for level in project.levels:
        listed = [r for r in project.rooms if r.level_id == level.id and r.sketched and r.system_id]
        floor = sum(x if isfinite(x := _floor(r)) else 0.0 for r in listed)
        outside = sum(w.length_m for r in listed for w in walls_of(project.walls, r.id) if w.outside)
        least = LEAST_FACADE * 2 * np.sqrt(np.pi * floor)
        if floor >= LISTED_M2 and outside < least:
            yield Finding(
                "facade-missing",
                "Building",
                "level",
                level.id,
                f"{level.name}: rooms of a list stand without their facade",
                f"{amount('area', floor, 0)} have {amount('length', float(outside))} of outside wall; the shortest way "
                f"around them is {amount('length', float(least / LEAST_FACADE))}. Rooms without outside walls count as "
                "early estimates: type the walls, or draw the rooms.",
                "watch",
            )


def _floor(room: Room) -> float:
    return nan if isinstance(room.area_m2, Rule) else room.area_m2.value


def _building(project: Project, building: Block | Missing, rooms: dict[str, RoomResult | Missing]) -> Iterator[Finding]:
    """The building as a whole, and a room that makes most of it."""
    if isinstance(building, Missing) or building.area_m2 <= 0:
        return
    cooling, heating = building.peak_w / building.area_m2, building.heating_w / building.area_m2
    for what, value, band in (("cooling", cooling, COOLING_W_M2), ("heating", heating, HEATING_W_M2)):
        if not band[0] <= value <= band[1]:
            yield Finding(
                "odd-building",
                "Loads",
                "site",
                what,
                f"The building asks for {amount('power_density', value)} of {what}",
                f"{amount('power_density', band[0], bare=True)} to {amount('power_density', band[1])} is usual.",
                "watch",
            )
    month, hour = building.peak
    for room in project.rooms if len(building.room_ids) > 2 else ():
        found = rooms.get(room.id)
        if isinstance(found, RoomResult) and found.kept:
            share = float(found.sensible_w[month, hour]) / max(building.peak_w, 1.0)
            if share > MOST_OF_LOAD and found.figures.area_m2.figure < LEAST_OF_FLOOR * building.area_m2:
                yield Finding(
                    "odd-share",
                    "Loads",
                    "room",
                    room.id,
                    f"{room.number} makes {share:.0%} of the building's cooling",
                    f"It has {found.figures.area_m2.figure / building.area_m2:.0%} of its floor.",
                    "watch",
                )
