"""Which unit of a catalogue serves a room: by kind, the first in its order that passes every limit.

Each choice keeps what was tried and the first reason why it was not taken. Methods: Room units.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.equipment import room_units as units
from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import UnitModel, stacked
from garnetfin.core.errors import InputError

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Tried:
    """A model with a count that was looked at; why: "" where it serves, value against limit in SI."""

    row: str
    count: int
    why: str
    value: float = 0.0
    limit: float = 0.0


@dataclass(frozen=True, slots=True)
class Picked:
    """The unit of one room, None where none serves; what was tried before it."""

    model: UnitModel | None
    count: int
    tried: tuple[Tried, ...]


class Circuit(NamedTuple):
    """Water to and from units [degC]."""

    flow_c: float
    back_c: float


def fan_coils(
    models: Sequence[UnitModel],
    rated: units.FanCoils,
    asked: units.RoomAsked,
    heat_w: Array,
    heating_c: Array,
    most_dba: Array,
    cold_c: float,
    hot_c: float,
) -> list[Picked]:
    """Fewest units, then least air, with which cooling, heating and sound hold; one `Picked` a room.

    models   of one step of the fan; rated: what each passes, in their order
    heat     to give [W] at the heating set-points; most: sound power of all units of a room [dB(A)]
    """
    _needs(asked.need_w, heat_w, models)
    order = sorted(range(len(models)), key=lambda i: (models[i].air_m3s, models[i].model))
    rooms = len(asked.need_w)
    tried: list[list[Tried]] = [[] for _ in range(rooms)]
    picked: list[Picked | None] = [None] * rooms
    for n in range(units.FEWEST_UNITS, units.MOST_UNITS + 1):
        left = [r for r in range(rooms) if picked[r] is None]
        if not left:
            break
        at = np.array([(r, i) for r in left for i in order])
        cools, heats, loud = _fan_coil_gives(models, rated, asked, heating_c, n, at, (cold_c, hot_c))
        for (r, i), cool, heat, db in zip(at, cools, heats, loud):
            if picked[r] is not None:
                continue
            why = _first(
                (cool < asked.need_w[r] - 1e-6, "cooling", cool, asked.need_w[r]),
                (heat < heat_w[r] - 1e-6, "heating", heat, heat_w[r]),
                (db > most_dba[r], "sound", db, most_dba[r]),
            )
            tried[r].append(Tried(models[i].row, n, *why))
            if not why[0]:
                picked[r] = Picked(models[i], n, tuple(tried[r]))
    return [p or Picked(None, 0, tuple(tried[r])) for r, p in enumerate(picked)]


def _fan_coil_gives(
    models: Sequence[UnitModel],
    rated: units.FanCoils,
    asked: units.RoomAsked,
    heating_c: Array,
    n: int,
    at: NDArray[np.int64],
    water_c: tuple[float, float],
) -> tuple[Array, Array, Array]:
    """(sensible, heating [W], sound power [dB(A)]) of n units with open valves, for pairs (room, model)."""
    r, i = at[:, 0], at[:, 1]
    cold_c, hot_c = water_c

    def of(name: str) -> Array:
        return np.asarray(stacked(models, name)[i] * n)

    room = units.RoomAsked(
        asked.room_c[r],
        np.full(len(r), np.inf),
        asked.gains_kg_s[r],
        asked.primary_kg_s[r],
        asked.primary_w[r],
        asked.pressure_pa,
    )
    cool = units.fan_coils_open(
        (rated.air_w_k[i] * n, rated.water_w_k[i] * n), of("air_m3s"), of("cool_water_kg_s"), of("fan_w"), room, cold_c
    )
    heat = units.fan_coil_heats(
        rated.heating_w_k[i] * n, of("air_m3s"), of("heat_water_kg_s"), of("fan_w"), heating_c[r], hot_c
    )
    return cool, heat, stacked(models, "sound_dba")[i] + 10 * np.log10(n)


def beams(
    models: Sequence[UnitModel],
    need_w: Array,
    room_c: Array,
    primary_m3s: Array,
    most_m: Array,
    most_dba: Array,
    circuit: Circuit,
) -> list[Picked]:
    """Fewest beams, then the shortest, then the first nozzle, that the primary air of a room can drive."""
    _needs(need_w, need_w, models)
    order = sorted(models, key=lambda m: (m.length_m, m.model))
    found = []
    for r, need in enumerate(need_w):
        tried: list[Tried] = []
        taken = None
        for n in range(1, units.MOST_BEAMS + 1):
            each = primary_m3s[r] / n
            for m in order:
                pressure = float(units.nozzle_pa(m, each))
                gives = float(units.beam(m, room_c[r], circuit.flow_c, max(each, 1e-6), m.cool_water_kg_s)) * n
                loud = m.sound_dba + 10 * np.log10(n)
                why = _first(
                    (each < m.primary_low_m3s - 1e-9, "little primary air", each, m.primary_low_m3s),
                    (each > m.primary_high_m3s + 1e-9, "much primary air", each, m.primary_high_m3s),
                    (pressure > units.BEAM_MOST_PA, "nozzle pressure", pressure, units.BEAM_MOST_PA),
                    (m.length_m > most_m[r], "length", m.length_m, most_m[r]),
                    (loud > most_dba[r], "sound", loud, most_dba[r]),
                    (gives < need - 1e-6, "cooling", gives, need),
                )
                tried.append(Tried(m.row, n, *why))
                if not why[0]:
                    taken = Picked(m, n, tuple(tried))
                    break
            if taken is not None:
                break
        found.append(taken or Picked(None, 0, tuple(tried)))
    return found


def radiators(
    models: Sequence[UnitModel],
    need_w: Array,
    room_c: Array,
    most_m: Array,
    highest_m: Array,
    circuit: Circuit,
    counts: NDArray[np.int64],
) -> list[Picked]:
    """Least heat that is enough, then least depth, of radiators below their windows; counts alike in a room."""
    _needs(need_w, need_w, models)
    rated, exponent = stacked(models, "heat_w"), stacked(models, "heat_exponent")
    length, height, depth = (stacked(models, n) for n in ("length_m", "height_m", "depth_m"))
    gives = units.radiator_heat(rated, exponent, circuit.flow_c, circuit.back_c, room_c[:, None]) * counts[:, None]
    found = []
    for r, need in enumerate(need_w):
        tried = []
        chosen = None
        for i in np.lexsort((depth, gives[r])):
            m = models[i]
            why = _first(
                (length[i] > most_m[r] + 1e-9, "length", length[i], most_m[r]),
                (height[i] > highest_m[r] + 1e-9, "height", height[i], highest_m[r]),
                (gives[r, i] < need - 1e-9, "heating", gives[r, i], need),
            )
            tried.append(Tried(m.row, int(counts[r]), *why))
            if not why[0]:
                chosen = m
                break
        found.append(Picked(chosen, int(counts[r]) if chosen else 0, tuple(tried)))
    return found


def electric(models: Sequence[UnitModel], need_w: Array) -> list[Picked]:
    """Least power that is enough."""
    _needs(need_w, need_w, models)
    order = sorted(models, key=lambda m: (m.heat_w, m.model))
    return [_first_that_gives(order, [m.heat_w for m in order], float(need), "heating") for need in need_w]


def direct(
    models: Sequence[UnitModel], need_w: Array, room_c: Array, room_w: Array, outdoor_c: float, pressure_pa: float
) -> list[Picked]:
    """Fewest, then least, direct cooling whose sensible heat is enough at the air of its room."""
    _needs(need_w, need_w, models)
    order = sorted(models, key=lambda m: (m.cool_total_w, m.model))
    gives = np.array(
        [units.direct(m, room_c, room_w, outdoor_c, pressure_pa).sensible_w - m.fan_w for m in order], float
    )
    found = []
    for r, need in enumerate(need_w):
        tried: list[Tried] = []
        for n in range(1, units.MOST_UNITS + 1):
            one = _first_that_gives(order, [g * n for g in gives[:, r]], float(need), "cooling", n)
            tried += one.tried
            if one.model is not None:
                break
        found.append(Picked(one.model, one.count, tuple(tried)))
    return found


class SurfaceAsked(NamedTuple):
    """A floor or ceiling that heats or cools: need [W], area in use [m2], cover [m2K/W], room [degC], the surface's
    limit and the dew point of the room [degC; -inf where it does not matter].
    """

    need_w: float
    area_m2: float
    cover_m2k_w: float
    room_c: float
    dew_c: float = -np.inf


@dataclass(frozen=True, slots=True)
class SurfacePicked:
    """A floor or ceiling: spacing of its pipes, heat [W], surface [degC], what another unit has to do [W]; capped where
    the surface may not be warmer or colder.
    """

    model: UnitModel | None
    heat_w: float
    surface_c: float
    rest_w: float
    capped: bool
    tried: tuple[Tried, ...]


def surfaces(models: Sequence[UnitModel], asked: SurfaceAsked, circuit: Circuit, heats: bool) -> SurfacePicked:
    """Widest spacing of pipes that does what is needed; else the closest, with what is left named."""
    _needs(np.array([asked.need_w]), np.array([asked.area_m2]), models)
    kind = models[0].kind
    film = units.FILMS[kind, "heats" if heats else "cools"]
    mean = (
        units.log_excess(circuit.flow_c, circuit.back_c, asked.room_c)
        if heats
        else units.log_excess(-circuit.flow_c, -circuit.back_c, -asked.room_c)
    )
    best: SurfacePicked | None = None
    tried: list[Tried] = []
    for m in sorted(models, key=lambda m: -m.resistance_m2k_w):
        limit = m.surface_high_c - asked.room_c if heats else asked.room_c - max(m.surface_low_c, asked.dew_c + 1)
        q, lift = units.surface_heat(m.resistance_m2k_w, asked.cover_m2k_w, mean, film)
        most = float(units.surface_most(limit, film))
        capped = float(q) > most
        flux, lift_k = (most, max(limit, 0.0)) if capped else (float(q), float(lift))
        heat = flux * asked.area_m2
        given = min(heat, asked.need_w)
        enough = heat >= asked.need_w - 1e-9
        tried.append(Tried(m.row, 1, "" if enough else "heating" if heats else "cooling", heat, asked.need_w))
        surface = asked.room_c + (lift_k if heats else -lift_k)
        found = SurfacePicked(m, given, surface, max(0.0, asked.need_w - heat), capped, tuple(tried))
        if enough:
            return found
        if best is None or found.heat_w > best.heat_w:
            best = found
    assert best is not None
    return SurfacePicked(best.model, best.heat_w, best.surface_c, best.rest_w, best.capped, tuple(tried))


def water_of(heat_w: float, circuit: Circuit) -> float:
    """Water [kg/s] that carries heat between flow and return."""
    mean = 0.5 * (circuit.flow_c + circuit.back_c)
    return abs(heat_w) / (float(water.liquid(mean).heat) * abs(circuit.flow_c - circuit.back_c))


def _first_that_gives(
    order: Sequence[UnitModel], gives: Sequence[float], need: float, what: str, count: int = 1
) -> Picked:
    tried = []
    for m, g in zip(order, gives):
        enough = g >= need - 1e-9
        tried.append(Tried(m.row, count, "" if enough else what, float(g), need))
        if enough:
            return Picked(m, count, tuple(tried))
    return Picked(None, 0, tuple(tried))


def _first(*checks: tuple[bool, str, float, float]) -> tuple[str, float, float]:
    """The first reason that holds, with its value and limit."""
    return next(((why, float(v), float(limit)) for bad, why, v, limit in checks if bad), ("", 0.0, 0.0))


def _needs(cool_w: Array, heat_w: Array, models: Sequence[UnitModel]) -> None:
    units.refuse_need(cool_w, "cooling")
    units.refuse_need(heat_w, "heating")
    if not models:
        raise InputError("There is no unit of this kind to choose from", where="catalogue")
