"""What drives the rooms of a batch: sun through windows, temperatures behind faces, people, hours of the plant."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.fabric.glazing import INNER_FILM, angle_factor
from garnetfin.core.fabric.layers import Layer, admittances
from garnetfin.core.fabric.shades import Device, closed_hours, with_shade
from garnetfin.core.fabric.shading import Window, in_front, lit_past, lit_share
from garnetfin.core.loads.balance import Surfaces, radiant_films
from garnetfin.core.loads.plant import Plan
from garnetfin.core.loads.rooms import CAUSE, RoomDays
from garnetfin.core.sun import hourly
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import RoomFigures, assumption
from garnetfin.engine.results import Climate
from garnetfin.engine.stages.faces import OUTER_FILM, RoomFabric, Surface
from garnetfin.project.lookup import Same
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

FRAME_ABSORPTANCE = 0.6
IN_USE = 0.05  # share of full use from which a room counts as used
NO_HEATING_C, NO_COOLING_C = -60.0, 90.0
EVERY = 6  # of the five-minute samples one is cast for shadows of obstacles: every half hour


@dataclass(frozen=True, slots=True, eq=False)
class Row:
    """A room of the batch; `kept` is False for rooms without plant, which drift."""

    room: Room
    figures: RoomFigures
    fabric: RoomFabric
    kept: bool
    volume_m3: float
    lights_kept: float = 1.0  # share of the lights' heat that stays in the room


@dataclass(frozen=True, slots=True, eq=False)
class Hours:
    """Hours of the plant of one room (24,): running, and of these the start-up before use."""

    on: NDArray[np.bool_]
    start_up: NDArray[np.bool_]
    always: bool

    @property
    def counted(self) -> NDArray[np.bool_]:
        """Hours in which the governing load is looked for."""
        return self.on & ~self.start_up

    @property
    def first_used(self) -> int:
        """The first hour of use after the plant starts."""
        used = np.flatnonzero(self.counted)
        begins = [h for h in used if not self.counted[h - 1]]
        return int(begins[0] if begins else 0)


def plant_hours(figures: RoomFigures, kept: bool) -> Hours:
    """When the plant of a room runs, from its operation and the hours of its use."""
    none = np.zeros(24, bool)
    if not kept:
        return Hours(none, none, False)
    operation, used = figures.operation, figures.profile.summer > IN_USE
    if operation.mode == "always" or (used.all() and operation.mode == "use") or not used.any():
        return Hours(np.ones(24, bool), none, True)
    if operation.mode == "hours":
        on = none.copy()
        on[operation.from_h : operation.to_h] = True
    else:
        on = used.copy()
        for k in range(1, operation.lead_h + 1):
            on |= np.roll(used, -k)
    counted = on & used
    start_up = on & ~used & np.array([not counted[:h].any() for h in range(24)])
    if not counted.any():
        start_up = none
    return Hours(on, start_up, False)


def plan_of(rows: Sequence[Row], hours: Sequence[Hours]) -> Plan:
    """The plant's plan for a batch; set back at night where the operation says so."""
    count = len(rows)
    on, heat, cool = np.zeros((count, 24), bool), np.empty((count, 24)), np.empty((count, 24))
    for r, (row, h) in enumerate(zip(rows, hours)):
        f, operation = row.figures, row.figures.operation
        on[r], cool[r] = h.on, f.cooling_c.figure
        heat[r] = min(f.heating_c.figure, f.cooling_c.figure)
        if row.kept and not h.always:
            night = ~h.on
            given = operation.night_cooling_c, operation.night_heating_c
            if not all(isinstance(v, Rule) for v in given):
                on[r] = True
                cool[r, night] = NO_COOLING_C if isinstance(given[0], Rule) else given[0].value
                heat[r, night] = min(NO_HEATING_C if isinstance(given[1], Rule) else given[1].value, cool[r, 0])
                heat[r] = np.minimum(heat[r], cool[r])
    return Plan(
        on,
        heat,
        cool,
        np.array([row.figures.heating_limit_w.figure for row in rows]),
        np.array([row.figures.cooling_limit_w.figure for row in rows]),
        np.array([row.kept and h.always for row, h in zip(rows, hours)]),
    )


@lru_cache(maxsize=2048)
def _response(layers: tuple[Layer, ...], film: float | None) -> tuple[NDArray, NDArray]:
    return admittances(layers, film)


def drive(
    project: Project,
    climate: Climate,
    rows: Sequence[Row],
    hours: Sequence[Hours],
    air_heat: float,
    memo: Memo,
    beside: Callable[[str], NDArray],
) -> RoomDays:
    """The batch as the core takes it. `beside(room id)`: temperature (12, 24) that a partition's far side sees."""
    surfaces = [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    room = np.array([r for r, _ in surfaces])
    area = np.array([s.face.area_m2 for _, s in surfaces])
    answers = [_response(s.layers, s.film) for _, s in surfaces]
    volume = np.array([row.volume_m3 for row in rows])
    leak = np.array([row.figures.infiltration_1h.figure for row in rows]) * volume / 3600 * air_heat
    convective, radiant = _gains(project, rows)
    windows = [(i, s) for i, (_, s) in enumerate(surfaces) if s.glazing is not None]
    blocks = obstacles(project)
    sun = [window(project, climate, s, blocks, memo) for _, s in windows]
    bridged = np.array([s.face.area_m2 if s.face.to == "outdoors" else 0.0 for _, s in surfaces])
    shades = np.array([w[3] for w in sun]).reshape(-1, 12, 24)
    return RoomDays(
        Surfaces(
            room,
            area,
            np.array([s.hc for _, s in surfaces]),
            radiant_films(room, area),
            np.array([y for y, _ in answers]),
            np.array([t for _, t in answers]),
        ),
        np.array([_behind(climate, s, beside) for _, s in surfaces]),
        np.array([CAUSE[s.cause] if s.cause else -1 for _, s in surfaces]),
        sun_weights(room, surfaces),
        floor_weights(room, surfaces, len(rows)),
        np.array([i for i, _ in windows], int),
        *(np.array([w[k] for w in sun]).reshape(-1, 12, 24) for k in range(3)),
        convective,
        radiant,
        leak,
        climate.days.dry_bulb_c,
        np.array([row.figures.cooling_c.figure for row in rows]),
        np.bincount(room, bridged, len(rows)) * assumption(project.book, "bridges_w_m2k").figure,
        assumption(project.book, "air_capacity").figure * volume * air_heat,
        plan_of(rows, hours),
        shades if shades.any() else None,
    )


def _behind(climate: Climate, surface: Surface, beside: Callable[[str], NDArray]) -> NDArray[np.float64]:
    """Temperature behind a face through the twelve days (12, 24) [degC]."""
    outdoor = climate.days.dry_bulb_c
    match surface.behind:
        case "outdoors":
            return climate.sol_air(surface.face.azimuth_deg, surface.face.tilt_deg, surface.absorptance)
        case "ground":
            return climate.ground_c
        case "room":
            return beside(surface.other_id)
    return outdoor


def window(
    project: Project, climate: Climate, surface: Surface, blocks: NDArray, memo: Memo
) -> tuple[NDArray, NDArray, NDArray, NDArray]:
    """(transmitted beam [W], transmitted diffuse [W], absorbed [W/m2 on the inside glass], inside shade [W]), each (12,
    24).
    """
    o, g, facing = surface.opening, surface.glazing, surface.face.azimuth_deg
    shape = Window(o.width_m, o.height_m, o.reveal_m, o.overhang_m, o.overhang_gap_m, o.fin_left_m, o.fin_right_m)
    north_deg = project.site.north_deg if project.site else 0.0
    before, cast = memo.one(
        "in front", key(blocks, surface.at, facing, north_deg), lambda: casting(surface, blocks, north_deg)
    )

    def compute() -> tuple[NDArray, NDArray, NDArray, NDArray]:
        face, sun = climate.face(facing, 90.0), climate.sun
        if before:
            # Shadows move slowly: one sample in six is cast and stands for its neighbours.
            lit = np.repeat(
                lit_past(before, sun.elevation[:, 3::EVERY], sun.azimuth[:, 3::EVERY], facing, shape), EVERY, axis=1
            )
        else:
            lit = lit_share(sun.elevation, sun.azimuth, facing, shape)
        beam = hourly(face.beam[0] * lit * angle_factor(face.cos_incidence[0], g.panes, g.angle_class))
        diffuse = hourly(face.diffuse[0]) * g.diffuse_ratio
        return glass_sun(g, o.area_m2, beam, diffuse, hourly((face.beam + face.diffuse)[0]))

    return memo.one(
        "window",
        key(
            climate,
            facing,
            o.width_m,
            o.height_m,
            o.reveal_m,
            o.overhang_m,
            o.overhang_gap_m,
            o.fin_left_m,
            o.fin_right_m,
            g,
            cast,
        ),
        compute,
    )


def glass_sun(
    g, area_m2: float, beam: NDArray, diffuse: NDArray, on_face: NDArray
) -> tuple[NDArray, NDArray, NDArray, NDArray]:
    """Transmitted beam and diffuse [W], absorbed [W/m2], heat of an inside shade [W] of a window of some area.

    beam, diffuse: sun on the glass after angle and shadow [W/m2]; on_face: all sun on its face, by which a shade
    closes.
    """
    clear, glass = 1 - g.frame_share, area_m2 * (1 - g.frame_share)
    inward = 1 - g.u_w_m2k / INNER_FILM
    tau, total, to_glass, to_shade = np.full(beam.shape, g.tau_e), np.full(beam.shape, g.g), None, np.zeros(beam.shape)
    if g.shade is not None:
        s = g.shade
        shut = closed_hours(s.rule, on_face, s.limit_w_m2, (s.from_h, s.to_h))
        g_shut, tau_shut = with_shade(g.g, g.tau_e, g.rho_e, g.u_w_m2k, Device(s.tau, s.rho, s.outside))
        tau, total = np.where(shut, tau_shut, tau), np.where(shut, g_shut, total)
        if not s.outside:
            to_shade = np.where(shut, total - tau, 0.0) * glass * (beam + diffuse)
            to_glass = np.where(shut, 0.0, total - tau)
    to_glass = total - tau if to_glass is None else to_glass
    absorbed = to_glass * clear * (beam + diffuse) / inward
    absorbed = absorbed + g.frame_share * FRAME_ABSORPTANCE * g.frame_u_w_m2k / OUTER_FILM * on_face / inward
    return tau * glass * beam, tau * glass * diffuse, absorbed, to_shade


def casting(surface: Surface, blocks: NDArray, north_deg: float) -> tuple[list[NDArray], bytes]:
    """What stands in front of a window, in its own axes, and the same as a part of a key."""
    # Azimuths count from true north, the plan from its own upward direction.
    middle = to_compass(np.array([surface.at]), north_deg)[0]
    before = in_front(blocks, middle, surface.face.azimuth_deg)
    return before, b"".join(b.tobytes() for b in before)


def to_compass(points: NDArray, north_deg: float) -> NDArray[np.float64]:
    """Points (..., 3) of the plan, whose upward direction bears north_deg, in axes east, north, up."""
    turn = np.radians(north_deg)
    x, y = points[..., 0], points[..., 1]
    return np.stack([x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn), points[..., 2]], axis=-1)


def obstacles(project: Project) -> NDArray[np.float64]:
    """Flat faces that may cast shadows (n, 4, 3) in axes east, north, up: own outside walls, and blocks beside."""
    listed = frozenset(r.id for r in project.rooms if r.sketched)
    return _obstacles(
        Same(project.walls),
        Same(project.plan_marks),
        Same(project.levels),
        listed,
        project.site.north_deg if project.site else 0.0,
    )


@lru_cache(maxsize=8)
def _obstacles(walls: Same, marks: Same, levels: Same, listed: frozenset[str], north_deg: float) -> NDArray[np.float64]:
    base = {level.id: level.elevation_m for level in levels.item}
    sides = [
        (w.start, w.end, base.get(w.level_id, 0.0), w.height_m)
        for w in walls.item
        if w.outside and w.room_a not in listed
    ]
    for mark in marks.item:
        if mark.kind == "block" and mark.height_m > 0:
            z = base.get(mark.level_id, 0.0)
            sides += [(a, b, z, mark.height_m) for a, b in zip(mark.outline, (*mark.outline[1:], mark.outline[0]))]
    if not sides:
        return np.zeros((0, 4, 3))
    return to_compass(
        np.array([((*a, z), (*b, z), (*b, z + h), (*a, z + h)) for a, b, z, h in sides], float), north_deg
    )


def sun_weights(room: NDArray, surfaces: list[tuple[int, Surface]]) -> NDArray[np.float64]:
    """Share of diffused sun each face takes; glass takes its part and loses what it transmits."""

    def taken(s: Surface) -> tuple[float, float]:
        if s.glazing is None:
            return s.inside_absorptance, s.inside_absorptance
        through = s.glazing.tau_e * s.glazing.diffuse_ratio * (1 - s.glazing.frame_share)
        return through + 0.15, 0.15

    counted = np.array([s.face.area_m2 * taken(s)[0] for _, s in surfaces])
    kept = np.array([s.face.area_m2 * taken(s)[1] for _, s in surfaces])
    return kept / np.bincount(room, counted)[room]


def floor_weights(room: NDArray, surfaces: list[tuple[int, Surface]], rooms: int) -> NDArray[np.float64]:
    """Share of transmitted beam the floor takes at once, spread over the room's floors by area."""
    floor = np.array([s.face.area_m2 if s.is_floor else 0.0 for _, s in surfaces])
    total = np.bincount(room, floor, rooms)
    taken = np.array([s.inside_absorptance for _, s in surfaces])
    return np.where(floor > 0, taken * floor / np.where(total > 0, total, 1)[room], 0.0)


def _gains(project: Project, rows: Sequence[Row]) -> tuple[NDArray, NDArray]:
    """(convective, radiant) of people, lights, equipment:

    (3, rooms, 24), or with summer time (3, rooms, 12, 24) [W].
    """
    convective, radiant = np.zeros((3, len(rows), 24)), np.zeros((3, len(rows), 24))
    for r, row in enumerate(rows):
        f, use = row.figures, row.figures.use
        area = f.area_m2.figure
        for k, (watts, share) in enumerate(
            (
                (f.people.figure * use.sensible_w, use.people_radiant),
                (f.lights_w_m2.figure * area * row.lights_kept, use.lights_radiant),
                (f.equipment_w_m2.figure * area, use.equipment_radiant),
            )
        ):
            radiant[k, r] = watts * share * f.profile.summer
            convective[k, r] = watts * (1 - share) * f.profile.summer
    if project.site is None or not project.site.summer_time:
        return convective, radiant
    return civil(convective, project.site.latitude_deg), civil(radiant, project.site.latitude_deg)


def civil(hours: NDArray, latitude_deg: float) -> NDArray[np.float64]:
    """Profiles of clock time (..., 24) in standard time for twelve months (..., 12, 24): an hour early in the summer
    half.
    """
    summer = range(3, 10) if latitude_deg >= 0 else (*range(9, 12), *range(0, 3))
    months = np.repeat(hours[..., None, :], 12, axis=-2)
    months[..., list(summer), :] = np.roll(hours, -1, axis=-1)[..., None, :]
    return months
