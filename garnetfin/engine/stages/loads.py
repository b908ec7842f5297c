"""Loads: rooms from the tree go to the core as one batch; only rooms that an edit touched are in it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import INNER_FILM, angle_factor, lit_share
from garnetfin.core.fabric.layers import Layer, admittances
from garnetfin.core.loads.balance import Surfaces, radiant_films
from garnetfin.core.loads.heating import heating_loads
from garnetfin.core.loads.rooms import CAUSE, RoomDays, cooling_loads
from garnetfin.core.psychro import properties as air
from garnetfin.core.sun import hourly
from garnetfin.core.tables import profiles
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import RoomFigures, room_figures
from garnetfin.engine.results import Block, Climate, Missing, RoomResult
from garnetfin.engine.stages.faces import BRIDGES_W_M2K, OUTER_FILM, RoomFabric, Surface, heat_loss, reads, room_fabric
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project

WARM_UP_W_M2 = 8.0                 # reheat after a night at a lower set-point; project default
EMITTANCE, SKY_LOSS_W_M2 = 0.9, 63.0
AIR_FACTOR = 1006.0


@dataclass(frozen=True, slots=True, eq=False)
class _Row:
    room: Room
    figures: RoomFigures
    fabric: RoomFabric


def loads(project: Project, climate: Climate | Missing, memo: Memo) -> dict[str, RoomResult | Missing]:
    """Every room's loads, by id; a room that cannot be computed says why and the others go on."""
    if isinstance(climate, Missing):
        return {room.id: climate for room in project.rooms}
    keys = [key(room, climate, find(project.zones, room.zone_id), project.area_basis, reads(project, room))
            for room in project.rooms]
    values = memo.rows("loads", keys, lambda stale: _batch(project, climate, [project.rooms[i] for i in stale], memo))
    return {room.id: value for room, value in zip(project.rooms, values)}


def _batch(project: Project, climate: Climate, rooms: list[Room], memo: Memo) -> list[RoomResult | Missing]:
    found: dict[str, RoomResult | Missing] = {}
    rows: list[_Row] = []
    for room in rooms:
        try:
            fabric = room_fabric(project, room)
            if fabric.surfaces:
                rows.append(_Row(room, room_figures(
                    room, walls_of(project.walls, room.id), find(project.zones, room.zone_id), project.area_basis), fabric))
            else:
                found[room.id] = Missing("no faces", f"Give room {room.number} walls, a floor or a ceiling")
        except InputError as error:
            found[room.id] = Missing("not computed", str(error))
    if rows:
        for row, result in zip(rows, _compute(climate, rows, memo)):
            found[row.room.id] = result
    return [found[room.id] for room in rooms]


@lru_cache(maxsize=1024)
def _response(layers: tuple[Layer, ...], film: float | None) -> tuple[NDArray, NDArray]:
    return admittances(layers, film)


def _compute(climate: Climate, rows: Sequence[_Row], memo: Memo) -> list[RoomResult]:
    surfaces = [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    room = np.array([r for r, _ in surfaces])
    area = np.array([s.face.area_m2 for _, s in surfaces])
    answers = [_response(s.layers, s.film) for _, s in surfaces]
    set_point = np.array([row.figures.cooling_c.figure for row in rows])
    volume = np.array([row.figures.area_m2.figure * row.room.ceiling_m for row in rows])
    leak_m3s = np.array([row.figures.infiltration_1h.figure for row in rows]) * volume / 3600
    heat_m3 = climate.dry_air_kg_m3 * AIR_FACTOR
    convective, radiant = _gains(rows)
    windows = [(i, s) for i, (_, s) in enumerate(surfaces) if s.glazing is not None]
    sun = [_window(climate, s, memo) for _, s in windows]
    days = RoomDays(
        Surfaces(room, area, np.array([s.hc for _, s in surfaces]), radiant_films(room, area),
                 np.array([y for y, _ in answers]), np.array([t for _, t in answers])),
        np.array([_behind(climate, rows[r], s) for r, s in surfaces]),
        np.array([CAUSE[s.cause] if s.cause else -1 for _, s in surfaces]),
        _sun_weights(room, surfaces), _floor_weights(room, surfaces, len(rows)),
        np.array([i for i, _ in windows], int), *(
            np.array([w[k] for w in sun]).reshape(-1, 12, 24) for k in range(3)),
        convective, radiant, leak_m3s * heat_m3, climate.days.dry_bulb_c, set_point)
    cooling = cooling_loads(days)
    heating = _heating(climate, rows, leak_m3s)
    latent = _latent(climate, rows, leak_m3s)
    return [RoomResult(
        row.room.id, row.figures, float(volume[r]), tuple(s.face for s in row.fabric.surfaces),
        cooling.by_cause_w[:, r], cooling.sensible_w[r], latent[r], heating.by_cause_w[:, r], float(heating.total_w[r]))
        for r, row in enumerate(rows)]


def _behind(climate: Climate, row: _Row, surface: Surface) -> NDArray[np.float64]:
    """Temperature behind a face through the twelve days (12, 24) [degC]."""
    outdoor = climate.days.dry_bulb_c
    match surface.behind:
        case "outdoors":
            face = climate.face(surface.face.azimuth_deg, surface.face.tilt_deg)
            sun = hourly((face.beam + face.diffuse)[0])
            sky = SKY_LOSS_W_M2 * max(0.0, float(np.cos(np.radians(surface.face.tilt_deg))))
            return outdoor + (surface.absorptance * sun - EMITTANCE * sky) / OUTER_FILM
        case "ground":
            return np.full((12, 24), climate.figures.annual_mean_c.figure)
        case "unheated":
            b = dict(row.fabric.b_factors)[surface.face.to.partition(":")[2]]
            inside = row.figures.cooling_c.figure
            # The room beside is heavy and in between: it follows the day's mean, not its swing.
            return np.broadcast_to(inside + b * (outdoor.mean(axis=1, keepdims=True) - inside), (12, 24))
    return outdoor


def _window(climate: Climate, surface: Surface, memo: Memo) -> tuple[NDArray, NDArray, NDArray]:
    """(transmitted beam [W], transmitted diffuse [W], absorbed [W/m2 on the inside glass]), each (12, 24)."""
    o, g, facing = surface.opening, surface.glazing, surface.face.azimuth_deg

    def compute() -> tuple[NDArray, NDArray, NDArray]:
        face = climate.face(facing, 90.0)
        lit = lit_share(climate.sun.elevation, climate.sun.azimuth, facing, o.width_m, o.height_m, o.reveal_m,
                        o.overhang_m)
        beam = hourly(face.beam[0] * lit * angle_factor(face.cos_incidence[0], g.panes, g.angle_class))
        diffuse = hourly(face.diffuse[0]) * g.diffuse_ratio
        glass = o.area_m2 * (1 - g.frame_share)
        absorbed = (g.g - g.tau_e) * (1 - g.frame_share) * (beam + diffuse) / (1 - g.u_w_m2k / INNER_FILM)
        return g.tau_e * glass * beam, g.tau_e * glass * diffuse, absorbed

    return memo.one("window", key(climate, facing, o.width_m, o.height_m, o.reveal_m, o.overhang_m, g), compute)


def _sun_weights(room: NDArray, surfaces: list[tuple[int, Surface]]) -> NDArray[np.float64]:
    """Share of diffused sun each face takes; glass takes its part and loses what it transmits."""
    def taken(s: Surface) -> tuple[float, float]:
        if s.glazing is None:
            return s.inside_absorptance, s.inside_absorptance
        through = s.glazing.tau_e * s.glazing.diffuse_ratio * (1 - s.glazing.frame_share)
        return through + 0.15, 0.15
    counted = np.array([s.face.area_m2 * taken(s)[0] for _, s in surfaces])
    kept = np.array([s.face.area_m2 * taken(s)[1] for _, s in surfaces])
    return kept / np.bincount(room, counted)[room]


def _floor_weights(room: NDArray, surfaces: list[tuple[int, Surface]], rooms: int) -> NDArray[np.float64]:
    """Share of transmitted beam the floor takes at once, spread over the room's floors by area."""
    floor = np.array([s.face.area_m2 if s.is_floor else 0.0 for _, s in surfaces])
    total = np.bincount(room, floor, rooms)
    taken = np.array([s.inside_absorptance for _, s in surfaces])
    return np.where(floor > 0, taken * floor / np.where(total > 0, total, 1)[room], 0.0)


def _gains(rows: Sequence[_Row]) -> tuple[NDArray, NDArray]:
    """(convective, radiant) of people, lights, equipment: (3, rooms, 24) [W]."""
    convective, radiant = np.zeros((3, len(rows), 24)), np.zeros((3, len(rows), 24))
    for r, row in enumerate(rows):
        f, use = row.figures, row.figures.use
        profile = profiles()[use.profile]
        area = f.area_m2.figure
        for k, (watts, share) in enumerate((
                (f.people.figure * use.sensible_w, use.people_radiant),
                (f.lights_w_m2.figure * area, use.lights_radiant),
                (f.equipment_w_m2.figure * area, use.equipment_radiant))):
            radiant[k, r] = watts * share * profile
            convective[k, r] = watts * (1 - share) * profile
    return convective, radiant


def _latent(climate: Climate, rows: Sequence[_Row], leak_m3s: NDArray) -> NDArray[np.float64]:
    """Latent load (rooms, 12, 24) [W] of people and infiltration at the humidity the room is held at; never below 0."""
    people = np.array([row.figures.people.figure * row.figures.use.latent_w * profiles()[row.figures.use.profile]
                       for row in rows])
    set_point = np.array([row.figures.cooling_c.figure for row in rows])
    held = np.array([row.figures.humidity for row in rows])
    inside = air.humidity_ratio(set_point, held, climate.pressure_pa)
    drier = climate.days.humidity_ratio - inside[:, None, None]
    leak = 2.5e6 * climate.dry_air_kg_m3 * leak_m3s[:, None, None] * drier
    return np.maximum(people[:, None, :] + leak, 0.0)


def _heating(climate: Climate, rows: Sequence[_Row], leak_m3s: NDArray):
    def total(row: _Row, wanted: str, bridges: float = BRIDGES_W_M2K) -> float:
        return sum(heat_loss(s, bridges) for s in row.fabric.surfaces if s.cause == wanted)

    def unheated(row: _Row) -> float:
        b = dict(row.fabric.b_factors)
        return sum(s.face.area_m2 * s.face.u_w_m2k * b[s.face.to.partition(":")[2]]
                   for s in row.fabric.surfaces if s.behind == "unheated")

    def column(values) -> NDArray[np.float64]:
        return np.array(list(values), float)

    return heating_loads(
        column(total(r, "walls and roofs") for r in rows), column(total(r, "glass conduction") for r in rows),
        column(unheated(r) for r in rows), column(total(r, "ground", 0.0) for r in rows), leak_m3s,
        WARM_UP_W_M2 * column(r.figures.area_m2.figure for r in rows), column(r.figures.heating_c.figure for r in rows),
        climate.figures.winter_c.figure, climate.figures.annual_mean_c.figure, climate.pressure_pa)


def block(project: Project, rooms: dict[str, RoomResult | Missing], system_id: str, memo: Memo) -> Block | Missing:
    """The served rooms of a system ("" = of all systems) at their common worst hour."""
    members = [room for room in project.rooms if room.system_id and system_id in ("", room.system_id)]
    known = [rooms[m.id] for m in members if isinstance(rooms[m.id], RoomResult)]
    if not members:
        return Missing("no rooms", "Serve rooms by this air system")
    if not known:
        return next(rooms[m.id] for m in members)
    return memo.one("block", key(tuple(known)), lambda: Block(
        tuple(r.room_id for r in known), sum(r.by_cause_w for r in known), sum(r.sensible_w for r in known),
        sum(r.latent_w for r in known), sum(r.heating_by_cause_w for r in known), sum(r.heating_w for r in known),
        sum(r.peak_w for r in known)))
