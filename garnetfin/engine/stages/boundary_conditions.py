"""What drives the rooms of a batch: sun through windows, temperatures behind faces, people, hours of the plant."""

from collections.abc import Mapping, Sequence
from dataclasses import astuple, dataclass, field
from functools import lru_cache
from hashlib import blake2b
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.fabric.glazing import INNER_FILM, angle_factor
from garnetfin.core.fabric.layers import Layer, admittances
from garnetfin.core.fabric.shades import Device, closed_hours, with_shade
from garnetfin.core.fabric.shading import APART_M, ENDLESS, Window, in_front, lit_day
from garnetfin.core.loads.balance import Surfaces, radiant_films, sum_by
from garnetfin.core.loads.plant import Plan
from garnetfin.core.loads.plant_hours import PlantDay, plant_day
from garnetfin.core.loads.rooms import CAUSE, RoomDays
from garnetfin.core.outlines import counter_clockwise
from garnetfin.core.sun import hourly
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import RoomFigures, assumption
from garnetfin.engine.results import Climate, Felt
from garnetfin.engine.stages.faces import OUTER_FILM, RoomFabric, Surface, set_points
from garnetfin.project.lookup import Same, find
from garnetfin.project.site import Site
from garnetfin.project.spaces import Opening, Room, Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import Point, Rule, Value

FRAME_ABSORPTANCE = 0.6
IN_USE = 0.05  # share of full use from which a room counts as used
WALLS_AT_ONCE = 256
NO_HEATING_C, NO_COOLING_C = -60.0, 90.0


@dataclass(frozen=True, slots=True, eq=False)
class Row:
    """A room of the batch; `kept` is False for rooms without plant, which drift."""

    room: Room
    figures: RoomFigures
    fabric: RoomFabric
    kept: bool
    volume_m3: float
    lights_kept: float = 1.0  # share of the lights' heat that stays in the room
    beside: Mapping[str, Felt] = field(default_factory=dict)  # rooms beside as this one feels them, by id


@dataclass(frozen=True, slots=True, eq=False)
class Hours:
    """Hours of the plant of one room: through the twelve months, (12, 24), and on the winter design day, (24,)."""

    months: PlantDay
    winter: PlantDay

    @property
    def always(self) -> bool:
        """Whether the plant runs around the clock in every month."""
        return self.months.always

    @property
    def counted(self) -> NDArray[np.bool_]:
        """Hours (12, 24) in which the governing load is looked for."""
        return self.months.counted


def summer_months(site: Site | None) -> tuple[int, ...]:
    """Months 0..11 in which the clock runs an hour ahead: the summer half of the year, where the place says so."""
    if site is None or not site.summer_time:
        return ()
    return tuple(range(3, 10)) if site.latitude_deg >= 0 else (*range(3), *range(9, 12))


def plant_hours(figures: RoomFigures, kept: bool, site: Site | None) -> Hours:
    """When the plant of a room runs, from its operation and the hours of its use by the clock of the place.

    The winter design day follows its own profile where that one knows any use, and the other days' use where it does
    not.
    """
    if not kept:
        none = np.zeros((12, 24), bool)
        return Hours(PlantDay(none, none, none), PlantDay(none[0], none[0], none[0]))
    operation, summer = figures.operation, summer_months(site)
    used, cold = figures.profile.summer > IN_USE, figures.profile.winter > IN_USE

    def day(used: NDArray[np.bool_], early_h: int) -> PlantDay:
        return plant_day(used, operation.mode, operation.lead_h, operation.from_h, operation.to_h, early_h)

    days = [day(used, int(month in summer)) for month in range(12)]
    months = PlantDay(*(np.array([getattr(d, name) for d in days]) for name in ("on", "start_up", "first_used")))
    return Hours(months, day(cold if cold.any() else used, 0))


def plan_of(rows: Sequence[Row], hours: Sequence[Hours]) -> Plan:
    """The plant's plan for a batch through the twelve months; set back at night where the operation says so."""
    return _plan(rows, [h.months for h in hours])


def winter_plan(rows: Sequence[Row], hours: Sequence[Hours]) -> Plan:
    """The same on the winter design day."""
    return _plan(rows, [h.winter for h in hours])


def _plan(rows: Sequence[Row], days: Sequence[PlantDay]) -> Plan:
    shape = (len(rows), *days[0].on.shape) if days else (0, 24)
    on, heat, cool = np.zeros(shape, bool), np.empty(shape), np.empty(shape)
    for r, (row, day) in enumerate(zip(rows, days)):
        f, operation = row.figures, row.figures.operation
        on[r], cool[r] = day.on, f.cooling_c.figure
        heat[r] = min(f.heating_c.figure, f.cooling_c.figure)
        if row.kept and not day.always:
            night = ~day.on
            given = operation.night_cooling_c, operation.night_heating_c
            if not all(isinstance(v, Rule) for v in given):
                on[r] = True
                cool[r][night] = NO_COOLING_C if isinstance(given[0], Rule) else given[0].value
                heat[r][night] = min(NO_HEATING_C if isinstance(given[1], Rule) else given[1].value, f.cooling_c.figure)
                heat[r] = np.minimum(heat[r], cool[r])
    return Plan(
        on,
        heat,
        cool,
        np.array([row.figures.heating_limit_w.figure for row in rows]),
        np.array([row.figures.cooling_limit_w.figure for row in rows]),
        np.array([row.kept and day.always for row, day in zip(rows, days)]),
    )


@lru_cache(maxsize=2048)
def _response(layers: tuple[Layer, ...], film: float | None) -> tuple[NDArray[Any], NDArray[Any]]:
    return admittances(layers, film)


def boundary_conditions(
    project: Project, climate: Climate, rows: Sequence[Row], hours: Sequence[Hours], air_heat: float, memo: Memo
) -> RoomDays:
    """The batch as the core takes it."""
    surfaces = [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    room = np.array([r for r, _ in surfaces])
    area = np.array([s.face.area_m2 for _, s in surfaces])
    answers = [_response(s.layers, s.film) for _, s in surfaces]
    volume = np.array([row.volume_m3 for row in rows])
    leak = np.array([row.figures.infiltration_1h.figure for row in rows]) * volume / 3600 * air_heat
    convective, radiant = gains_of(rows, project.site)
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
        np.array([_behind(project, climate, rows[r], s) for r, s in surfaces]),
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


def _behind(project: Project, climate: Climate, row: Row, surface: Surface) -> NDArray[np.float64]:
    """Temperature behind a face through the twelve days (12, 24) [degC]."""
    outdoor = climate.days.dry_bulb_c
    match surface.behind:
        case "outdoors":
            answer: NDArray[Any] = climate.sol_air(surface.face.azimuth_deg, surface.face.tilt_deg, surface.absorptance)
            return answer
        case "ground":
            return climate.ground_c
        case "room":
            felt = row.beside.get(surface.other_id)
            if felt is not None:
                return felt.environment_c(surface.far_hc, surface.far_absorptance, surface.far_is_floor)
            # Before the room beside is known it stands at its set-point, or as it is outdoors.
            other = find(project.rooms, surface.other_id)
            if other is not None and other.kept:
                return np.full((12, 24), set_points(other, find(project.zones, other.zone_id), project.book)[0])
    return outdoor


def window(
    project: Project, climate: Climate, surface: Surface, blocks: NDArray[Any], memo: Memo
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(transmitted beam [W], transmitted diffuse [W], absorbed [W/m2 on the inside glass], inside shade [W]), each (12,
    24).
    """
    o, g, facing = surface.opening, surface.glazing, surface.face.azimuth_deg
    assert o is not None and g is not None, "only glass has a window"
    shape = shape_of(o)
    north_deg = project.site.north_deg if project.site else 0.0
    before, cast = memo.one(
        "in front", key(blocks, surface.at, facing, north_deg, o.height_m), lambda: casting(surface, blocks, north_deg)
    )

    def compute() -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
        face, sun = climate.face(facing, 90.0), climate.sun
        lit = lit_day(before, sun.elevation, sun.azimuth, facing, shape, bodies=True)
        beam = hourly(face.beam[0] * lit * angle_factor(face.cos_incidence[0], g.panes, g.angle_class))
        diffuse = hourly(face.diffuse[0]) * g.diffuse_ratio
        return glass_sun(g, o.area_m2, beam, diffuse, hourly((face.beam + face.diffuse)[0]))

    answer: tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]] = memo.one(
        "window", key(climate, facing, *astuple(shape), g, cast), compute
    )
    return answer


def shape_of(opening: Opening) -> Window:
    """A window with what is fixed to it; overhangs and fins go on without end where no end is typed."""

    def end(value: Value) -> float:
        return ENDLESS if isinstance(value, Rule) else value.value

    o = opening
    return Window(
        o.width_m,
        o.height_m,
        o.reveal_m,
        o.overhang_m,
        o.overhang_gap_m,
        o.fin_left_m,
        o.fin_right_m,
        o.fin_gap_m,
        end(o.overhang_left_m),
        end(o.overhang_right_m),
        end(o.fin_above_m),
        end(o.fin_below_m),
    )


def glass_sun(
    g, area_m2: float, beam: NDArray[Any], diffuse: NDArray[Any], on_face: NDArray[Any]
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
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


def casting(surface: Surface, blocks: NDArray[Any], north_deg: float) -> tuple[list[NDArray[Any]], bytes]:
    """What stands in front of a window, in its own axes, and the same as a part of a key."""
    # Azimuths count from true north, the plan from its own upward direction.
    middle = to_compass(np.array([surface.at]), north_deg)[0]
    before = in_front(blocks, middle, surface.face.azimuth_deg, surface.opening.height_m)
    return before, b"".join(b.tobytes() for b in before)


def to_compass(points: NDArray[Any], north_deg: float) -> NDArray[np.float64]:
    """Points (..., 3) of the plan, whose upward direction bears north_deg, in axes east, north, up."""
    turn = np.radians(north_deg)
    x, y = points[..., 0], points[..., 1]
    return np.stack([x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn), points[..., 2]], axis=-1)


def obstacles(project: Project) -> NDArray[np.float64]:
    """Flat faces that may cast shadows (n, 4, 3) in axes east, north, up: own outside walls, and blocks beside.

    They stand counter-clockwise as seen from outside.
    """
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
        (*_from_outside(w, north_deg), base.get(w.level_id, 0.0), w.height_m)
        for w in walls.item
        if w.outside and w.room_a not in listed
    ]
    for mark in marks.item:
        if mark.kind == "block" and mark.height_m > 0:
            z = base.get(mark.level_id, 0.0)
            # Outlines run counter-clockwise on the plan, and then their walls do so too as seen from outside.
            outline = counter_clockwise(mark.outline)
            sides += [(a, b, z, mark.height_m) for a, b in zip(outline, (*outline[1:], outline[0]))]
    return _of_sides(tuple(sides), north_deg)


@lru_cache(maxsize=8)
def _of_sides(sides: tuple[tuple[Point, Point, float, float], ...], north_deg: float) -> NDArray[np.float64]:
    """By what they are: an opening, an inside wall or the name of a level leaves shadows, and all under them, alone."""
    if not sides:
        return np.zeros((0, 4, 3))
    return to_compass(
        np.array([((*a, z), (*b, z), (*b, z + h), (*a, z + h)) for a, b, z, h in sides], float), north_deg
    )


def before_walls(project: Project) -> dict[str, bytes]:
    """By room, the obstacles in front of its outside walls with openings, as a part of keys: shadows that change
    elsewhere leave it alone.
    """
    return _before_walls(Same(project.walls), Same(obstacles(project)), project.site.north_deg if project.site else 0.0)


@lru_cache(maxsize=8)
def _before_walls(walls: Same, blocks: Same, north_deg: float) -> dict[str, bytes]:
    corners: NDArray[np.float64] = blocks.item
    glazed = [w for w in walls.item if w.outside and w.openings]
    if not glazed or not len(corners):
        return {}
    facing = np.radians([w.facing_deg for w in glazed])
    outward = np.stack([np.sin(facing), np.cos(facing)], axis=-1)
    start = to_compass(np.array([(*w.start, 0.0) for w in glazed]), north_deg)[:, :2]
    flat = corners[:, :, :2].reshape(-1, 2)
    found: dict[str, bytes] = {}
    for lo in range(0, len(glazed), WALLS_AT_ONCE):
        k = slice(lo, lo + WALLS_AT_ONCE)
        away = outward[k] @ flat.T - (outward[k] * start[k]).sum(axis=1)[:, None]
        # a little more than windows themselves look at
        there = away.reshape(len(away), len(corners), -1).max(axis=2) > APART_M - 1e-6
        for wall, before in zip(glazed[k], there):
            if before.any():
                there_are = wall.id.encode() + corners[before].tobytes()
                found[wall.room_a] = found.get(wall.room_a, b"") + blake2b(there_are, digest_size=16).digest()
    return found


def _from_outside(wall: Wall, north_deg: float) -> tuple[Point, Point]:
    """The ends of an outside wall, from left to right as seen from outside."""
    facing = np.radians(wall.facing_deg - north_deg)
    (x0, y0), (x1, y1) = wall.start, wall.end
    # to the right as seen from outside is a quarter turn on from where the wall faces
    along = -(x1 - x0) * np.cos(facing) + (y1 - y0) * np.sin(facing)
    return (wall.start, wall.end) if along > 0 else (wall.end, wall.start)


def _sun_taken(surface: Surface) -> tuple[float, float]:
    """(share of diffused sun that leaves the room's faces at this one, share that heats it)."""
    if surface.glazing is None:
        return surface.inside_absorptance, surface.inside_absorptance
    through = surface.glazing.tau_e * surface.glazing.diffuse_ratio * (1 - surface.glazing.frame_share)
    return through + 0.15, 0.15


def sun_weights(room: NDArray[Any], surfaces: list[tuple[int, Surface]]) -> NDArray[np.float64]:
    """Share of diffused sun each face takes; glass takes its part and loses what it transmits."""
    counted = np.array([s.face.area_m2 * _sun_taken(s)[0] for _, s in surfaces])
    kept = np.array([s.face.area_m2 * _sun_taken(s)[1] for _, s in surfaces])
    answer: NDArray[Any] = kept / np.bincount(room, counted)[room]
    return answer


def sun_inside(rows: Sequence[Row], days: RoomDays) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(diffused sun, beam on floors), each (rooms, 12, 24) [W/m2] on a face that takes it all up."""
    count, surfaces = len(rows), [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    room = days.surfaces.room
    absorbing = np.bincount(room, [s.face.area_m2 * _sun_taken(s)[0] for _, s in surfaces], count)
    floors = np.bincount(room, [s.face.area_m2 if s.is_floor else 0.0 for _, s in surfaces], count)
    on_floor = np.bincount(room, days.floor_weight, count)
    window_room = room[days.window_surface]
    beam, diffuse = (sum_by(window_room, count, w) for w in (days.window_beam_w, days.window_diffuse_w))
    spread = diffuse + beam * (1 - on_floor)[:, None, None]
    floor_area = np.where(floors > 0, floors, np.inf)
    return spread / absorbing[:, None, None], beam / floor_area[:, None, None]


def floor_weights(room: NDArray[Any], surfaces: list[tuple[int, Surface]], rooms: int) -> NDArray[np.float64]:
    """Share of transmitted beam the floor takes at once, spread over the room's floors by area."""
    floor = np.array([s.face.area_m2 if s.is_floor else 0.0 for _, s in surfaces])
    total = np.bincount(room, floor, rooms)
    taken = np.array([s.inside_absorptance for _, s in surfaces])
    return np.where(floor > 0, taken * floor / np.where(total > 0, total, 1)[room], 0.0)


def gains_of(rows: Sequence[Row], site: Site | None) -> tuple[NDArray[Any], NDArray[Any]]:
    """(convective, radiant) of people, lights, equipment on the summer design days:

    (3, rooms, 24), or with summer time (3, rooms, 12, 24) [W].
    """
    parts = _by_profile(rows, [row.figures.profile.summer for row in rows])
    if not summer_months(site):
        return parts
    return by_clock(parts[0], site), by_clock(parts[1], site)


def winter_gains(rows: Sequence[Row]) -> tuple[NDArray[Any], NDArray[Any]]:
    """(convective, radiant) of people, lights, equipment (3, rooms, 24) [W] on the winter design day; 0 by rule."""
    return _by_profile(rows, [row.figures.profile.winter for row in rows])


def _by_profile(rows: Sequence[Row], profiles: Sequence[NDArray[Any]]) -> tuple[NDArray[Any], NDArray[Any]]:
    convective, radiant = np.zeros((3, len(rows), 24)), np.zeros((3, len(rows), 24))
    for r, (row, profile) in enumerate(zip(rows, profiles)):
        f, use = row.figures, row.figures.use
        area = f.area_m2.figure
        for k, (watts, share) in enumerate(
            (
                (f.people.figure * use.sensible_w, use.people_radiant),
                (f.lights_w_m2.figure * area * row.lights_kept, use.lights_radiant),
                (f.equipment_w_m2.figure * area, use.equipment_radiant),
            )
        ):
            radiant[k, r] = watts * share * profile
            convective[k, r] = watts * (1 - share) * profile
    return convective, radiant


def by_clock(hours: NDArray[Any], site: Site | None) -> NDArray[np.float64]:
    """Profiles of clock time (..., 24) in standard time for twelve months (..., 12, 24): an hour early in those of
    summer time.
    """
    months = np.repeat(hours[..., None, :], 12, axis=-2)
    months[..., list(summer_months(site)), :] = np.roll(hours, -1, axis=-1)[..., None, :]
    return months
