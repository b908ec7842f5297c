"""Units in rooms: fan coils, beams, radiators, floors, ceilings, electric ones and direct cooling.

What each gives, and which of a catalogue serves a need. Heat in W, water in kg/s, air in m3/s and kg dry air/s, degC.
Arrays of rooms throughout. Sources: EN 1397 (fan coils), EN 442 (radiators), EN 1264 (floors). Methods: Room units.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import UnitModel, stacked
from garnetfin.core.equipment.coils import Air, Surface, Water, bypass_of, marched
from garnetfin.core.equipment.exchangers import counter, counter_ntu
from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import cool_to, rising_root, saturated

Array = NDArray[np.float64]
RATED_AIR_C, RATED_WET_C, RATED_WATER_C, RATED_BACK_C = 27.0, 19.0, 7.0, 12.0
RATED_WATER_HEAT = 4193.0
RATED_HEAT = (20.0, 45.0, 40.0)  # room, water in and back, at which fan coils heat
RADIATOR_EXCESS_K = float((75 - 65) / np.log((75 - 20) / (65 - 20)))
FEWEST_UNITS, MOST_UNITS = 1, 6
MOST_BEAMS, BEAM_MOST_PA = 8, 120.0
ROOM_TAKES_DB = 10.0  # sound power less pressure of one unit in its room: own estimate
SILL_CLEAR_M = 0.12
FITS = 5e-3  # of a rated duty; a section that just turns wet keeps some from closing
LEAST_WATER, DAMPEST = 0.02, 0.95
NEWTON_ROUNDS, CLOSED = 9, 1e-6
DRY_MARGIN_K = 1.0  # of cold surfaces above the dew point of their room
UA_SPAN = (0.5, 3.2)  # transfer units on the air's side that fan coils have


# fan coils


@dataclass(frozen=True, slots=True, eq=False)
class FanCoils:
    """What fan coils pass: UA of air and water when they cool [W/K], of the heating coil, by row of the catalogue.

    fits   False where no coil gives both rated duties; the nearest stands there
    """

    air_w_k: Array
    water_w_k: Array
    heating_w_k: Array
    fits: NDArray[np.bool_]


def rated_fan_coils(models: Sequence[UnitModel]) -> FanCoils:
    """Coils found from the duties of a catalogue: 27 degC, wet bulb 19 degC, water 7/12; heating 20 degC, 45/40."""
    flow = 1.2 * stacked(models, "air_m3s")
    total, sensible = stacked(models, "cool_total_w"), stacked(models, "cool_sensible_w")
    w1 = float(air.ratio_from_wet_bulb(RATED_AIR_C, RATED_WET_C, air.SEA_LEVEL_PA))
    mcp = flow * float(air.specific_heat(w1))
    by = Water(total / (RATED_WATER_HEAT * (RATED_BACK_C - RATED_WATER_C)), RATED_WATER_C, RATED_WATER_HEAT)
    of = Air(flow, RATED_AIR_C, w1)
    back = np.full(len(models), RATED_BACK_C)

    def misses(x: Array) -> Array:
        """(2, rows): water where it enters against its rating [K of 5], sensible heat against the rated, less 1."""
        surface = Surface(np.exp(x[0]) * mcp, np.exp(x[1]) * mcp)
        t, w, entering, _ = marched(surface, of, by, back)
        given = flow * air.specific_heat(w) * (RATED_AIR_C - t)
        return np.array([(entering - RATED_WATER_C) / 5.0, given / sensible - 1.0])

    x = np.log(np.array([np.full(len(models), 1.3), np.full(len(models), 2.5)]))
    low, high = np.log(np.array([UA_SPAN, (0.2, 20.0)]).T)
    for _ in range(14):
        here = misses(x)
        if np.abs(here).max() < 1e-9:
            break
        step = 1e-4
        slope = (
            np.array(
                [
                    (misses(x + step * np.array([[1.0], [0.0]])) - here),
                    (misses(x + step * np.array([[0.0], [1.0]])) - here),
                ]
            )
            / step
        )
        (a, c), (b, d) = slope  # a: first equation by the first unknown, b: by the second
        det = a * d - b * c
        det = np.where(np.abs(det) < 1e-9, 1e-9, det)
        move = np.array([-(d * here[0] - b * here[1]) / det, -(a * here[1] - c * here[0]) / det])
        x = np.clip(x + np.clip(move, -0.5, 0.5), low[:, None], high[:, None])
    return FanCoils(np.exp(x[0]) * mcp, np.exp(x[1]) * mcp, _heating_ua(models), np.abs(misses(x)).max(axis=0) < FITS)


def _heating_ua(models: Sequence[UnitModel]) -> Array:
    """UA [W/K] of counterflow that gives the rated heat at the rated flows; 0 without a heating coil."""
    room, hot, _ = RATED_HEAT
    heat, flow = stacked(models, "heat_w"), stacked(models, "heat_water_kg_s")
    has = (heat > 0) & (flow > 0)
    mcp = 1.2 * stacked(models, "air_m3s") * air.CP_AIR
    c = mcp / np.where(has, flow * float(water.liquid(hot).heat), 1.0)
    share = np.minimum(heat / (mcp * (hot - room)), 0.999 * np.minimum(1.0, 1 / c))
    return np.where(has, counter_ntu(share, c) * mcp, 0.0)


class RoomAsked(NamedTuple):
    """What the air of rooms is and what units have to do there, each (rooms,): room [degC], sensible heat to take out
    [W], water the room gives off [kg/s], primary air [kg/s] and its state.
    """

    room_c: Array
    need_w: Array
    gains_kg_s: Array
    primary_kg_s: Array
    primary_w: Array
    pressure_pa: float = air.SEA_LEVEL_PA


@dataclass(frozen=True, slots=True, eq=False)
class Worked:
    """What units do in their rooms: share of the rated water, heat [W], condensate [kg/s], room [kg/kg], air they send
    and water they give back [degC], need that is left [W].
    """

    share: Array
    sensible_w: Array
    total_w: Array
    condensate_kg_s: Array
    room_w: Array
    leaving_c: Array
    back_c: Array
    short_w: Array


@dataclass(frozen=True, slots=True, eq=False)
class _Bank:
    """Fan coils in their rooms, all (rooms,): what they pass, their air, rated water and fans, and what is asked."""

    air_w_k: Array
    water_w_k: Array
    flow_kg_s: Array
    water_kg_s: Array
    fan_w: Array
    asked: RoomAsked
    cold_c: float

    def off(self, x: Array, wide_open: Array) -> tuple[Array, Any]:
        """What is left over (3, rooms) at (water that leaves, room's humidity, share of the water), and the state.

        wide_open   rooms whose valve is held open in place of the need
        """
        back, room_w, share = x
        of = Air(self.flow_kg_s, self.asked.room_c, room_w, self.asked.pressure_pa)
        heat = float(water.liquid(self.cold_c).heat)
        surface = Surface(self.air_w_k, self.water_w_k * share**0.8)
        t, w, entering, total = marched(surface, of, Water(self.water_kg_s * share, self.cold_c, heat), back)
        wet = self.flow_kg_s * np.maximum(room_w - w, 0.0)
        given = self.flow_kg_s * air.specific_heat(w) * (self.asked.room_c - t) - self.fan_w
        carried = self.asked.primary_kg_s * (room_w - self.asked.primary_w) + wet
        scale = np.maximum(np.abs(self.asked.need_w), 100.0)
        held = np.where(wide_open, share - 1.0, (given - self.asked.need_w) / scale)
        # in figures of one: of 10 K, of 1 g/s, of the need
        return np.array([(entering - self.cold_c) / 10, (carried - self.asked.gains_kg_s) * 1e3, held]), (
            t,
            w,
            given,
            total,
            wet,
        )

    def settled(self, x: Array, wide_open: Array) -> tuple[Array, Any]:
        """Newton with differences, steps limited; a section of a coil that just turns wet may keep it from closing."""
        nudges = np.array([1e-3, 1e-6, 1e-4])
        most = np.array([[4.0], [0.002], [0.25]])
        low = np.array([self.cold_c + 1e-3 + 0 * x[0], 1e-5 + 0 * x[0], LEAST_WATER + 0 * x[0]])
        damp = DAMPEST * saturated(self.asked.room_c, self.asked.pressure_pa)
        high = np.array([self.asked.room_c - 1e-3, damp, 1.0 + 0 * x[0]])
        best, least = x.copy(), np.full(x.shape[1], np.inf)
        left = np.arange(x.shape[1])  # rooms that have not settled
        for _ in range(NEWTON_ROUNDS):
            bank, now, held = self.part(left), x[:, left], wide_open[left]
            here, _state = bank.off(now, held)
            size = np.abs(here).max(axis=0)
            better = size < least[left]
            best[:, left[better]], least[left[better]] = now[:, better], size[better]
            open_ = size >= CLOSED
            if not open_.any():
                break
            left, bank, now, here, held = left[open_], bank.part(open_), now[:, open_], here[:, open_], held[open_]
            # three nudges at once: rooms stand three times beside each other
            thrice = np.tile(np.arange(len(left)), 3)
            nudged = np.concatenate([now + nudges[k] * np.eye(3)[k][:, None] for k in range(3)], axis=1)
            off = bank.part(thrice).off(nudged, held[thrice])[0].reshape(3, 3, -1)
            slopes = [(off[:, k] - here) / nudges[k] for k in range(3)]
            jacobian = np.moveaxis(np.array(slopes), (0, 1, 2), (2, 1, 0)) + 1e-9 * np.eye(3)
            move = -np.linalg.solve(jacobian, here.T[..., None])[..., 0].T
            x = x.copy()
            x[:, left] = np.clip(now + np.clip(move, -most, most), low[:, left], high[:, left])
        return best, self.off(best, wide_open)[1]

    def part(self, rooms: NDArray[Any]) -> "_Bank":
        """The same for some of the rooms."""
        of = self.asked
        asked = RoomAsked(
            of.room_c[rooms],
            of.need_w[rooms],
            of.gains_kg_s[rooms],
            of.primary_kg_s[rooms],
            of.primary_w[rooms],
            of.pressure_pa,
        )
        return _Bank(
            self.air_w_k[rooms],
            self.water_w_k[rooms],
            self.flow_kg_s[rooms],
            self.water_kg_s[rooms],
            self.fan_w[rooms],
            asked,
            self.cold_c,
        )


def fan_coils_at(
    passes: tuple[Array, Array], flow_m3s: Array, water_kg_s: Array, fan_w: Array, asked: RoomAsked, cold_c: float
) -> Worked:
    """Fan coils that throttle their water until they do what is asked, with the room's humidity in balance.

    All (rooms,), of all units of a room together; passes: UA of air and of water [W/K].
    A room where nothing carries its water away has no balance: its air is taken as damp as 95 %.
    """
    flow = 1.2 * asked.pressure_pa / air.SEA_LEVEL_PA * flow_m3s
    bank = _Bank(*passes, flow, water_kg_s, fan_w, asked, cold_c)
    damp = asked.primary_w + asked.gains_kg_s / np.maximum(asked.primary_kg_s + 0.3 * flow, 1e-3)
    start = np.array([cold_c + 0.4 * (asked.room_c - cold_c), damp, np.ones_like(flow)])
    open_ = np.ones(len(flow), bool)
    full, state = bank.settled(start, open_)
    lacks = state[2] < asked.need_w
    x, state = bank.settled(np.array([full[0], full[1], np.where(lacks, 1.0, 0.6)]), lacks)
    t, given, total, wet = state[0], state[2], state[3], state[4]
    heat = x[2] * water_kg_s * float(water.liquid(cold_c).heat)
    short = np.where(lacks, np.maximum(0.0, asked.need_w - given), 0.0)
    return Worked(x[2], given, total, wet, x[1], t, cold_c + total / heat, short)


def fan_coils_open(
    passes: tuple[Array, Array], flow_m3s: Array, water_kg_s: Array, fan_w: Array, asked: RoomAsked, cold_c: float
) -> Array:
    """Sensible heat [W] that fan coils with open valves take out of rooms whose humidity is in balance."""
    flow = 1.2 * asked.pressure_pa / air.SEA_LEVEL_PA * flow_m3s
    damp = asked.primary_w + asked.gains_kg_s / np.maximum(asked.primary_kg_s + 0.3 * flow, 1e-3)
    start = np.array([cold_c + 0.4 * (asked.room_c - cold_c), damp, np.ones_like(flow)])
    quiet = asked._replace(need_w=np.zeros_like(flow))
    bank = _Bank(*passes, flow, water_kg_s, fan_w, quiet, cold_c)
    given: Array = bank.settled(start, np.ones(len(flow), bool))[1][2]
    return given


def fan_coil_heats(
    heating_w_k: ArrayLike,
    flow_m3s: ArrayLike,
    water_kg_s: ArrayLike,
    fan_w: ArrayLike,
    room_c: ArrayLike,
    hot_c: float,
) -> Array:
    """Heat [W] that fan coils give a room with hot water at their rated flow, with their fans'."""
    mcp: Array = 1.2 * np.asarray(flow_m3s, float) * air.CP_AIR
    c: Array = np.asarray(water_kg_s, float) * float(water.liquid(hot_c).heat)
    ua: Array = np.asarray(heating_w_k, float)
    has = (ua > 0) & (c > 0) & (mcp > 0)
    safe: Array = np.where(has, mcp, 1.0)
    lift: Array = np.maximum(hot_c - np.asarray(room_c, float), 0.0)
    given: Array = counter(ua / safe, safe / np.where(has, c, 1.0)) * safe * lift
    answer: Array = np.where(has, given, 0.0) + np.asarray(fan_w, float)
    return answer


# beams


def beam(model: UnitModel, room_c: ArrayLike, water_c: float, primary_m3s: ArrayLike, water_kg_s: ArrayLike) -> Array:
    """Heat [W] a beam takes out by its water; never more than water as warm as the room would."""
    room, primary, flow = np.broadcast_arrays(*(np.asarray(x, float) for x in (room_c, primary_m3s, water_kg_s)))
    c = np.maximum(flow, 1e-9) * float(water.liquid(water_c).heat)
    strength = (
        model.beam_w
        * (primary / model.primary_ref_m3s) ** model.beam_primary_exponent
        * (flow / model.cool_water_kg_s) ** model.beam_water_exponent
    )
    apart = np.maximum(room - water_c, 0.0)

    def past(q: Array) -> Array:
        return np.asarray(q - strength * np.maximum(apart - q / (2 * c), 0.0) ** model.beam_exponent)

    return rising_root(past, 0.5 * c * apart, np.zeros_like(apart), c * apart, 60, 1e-9)


def nozzle_pa(model: UnitModel, primary_m3s: ArrayLike) -> Array:
    """Pressure [Pa] at the nozzles of a beam."""
    answer: NDArray[Any] = model.primary_ref_pa * (np.asarray(primary_m3s, float) / model.primary_ref_m3s) ** 2
    return answer


# radiators


def log_excess(flow_c: ArrayLike, back_c: ArrayLike, room_c: ArrayLike) -> Array:
    """Mean excess [K] of water that falls from flow to return in a room; 0 where the return is no warmer."""
    a: Array = np.asarray(flow_c, float) - np.asarray(room_c, float)
    b: Array = np.asarray(back_c, float) - np.asarray(room_c, float)
    warm = (a > 0) & (b > 0)
    even = np.abs(a - b) < 1e-9
    ratio: Array = np.where(warm & ~even, a / np.where(warm, b, 1.0), 2.0)
    answer: NDArray[Any] = np.where(warm, np.where(even, a, (a - b) / np.log(ratio)), 0.0)
    return answer


def radiator_heat(
    rated_w: ArrayLike, exponent: ArrayLike, flow_c: ArrayLike, back_c: ArrayLike, room_c: ArrayLike
) -> Array:
    """Heat [W] of radiators rated at 75/65/20 degC. Source: EN 442."""
    answer: NDArray[Any] = np.asarray(rated_w, float) * (
        log_excess(flow_c, back_c, room_c) / RADIATOR_EXCESS_K
    ) ** np.asarray(exponent, float)
    return answer


def radiator_back(
    rated_w: ArrayLike, exponent: ArrayLike, flow_c: ArrayLike, room_c: ArrayLike, need_w: ArrayLike
) -> Array:
    """Return [degC] at which a throttled radiator gives just what is needed; its flow where it cannot give it."""
    rated, n, hot, room, need = np.broadcast_arrays(
        *(np.asarray(x, float) for x in (rated_w, exponent, flow_c, room_c, need_w))
    )
    found = rising_root(
        lambda back: radiator_heat(rated, n, hot, back, room) - need, hot - 10, room + 1e-6, hot, 60, 1e-9
    )
    return np.where(radiator_heat(rated, n, hot, hot, room) < need, hot, found)


# floors and ceilings


class Film(NamedTuple):
    """Heat from a surface to its room, q = scale x excess^exponent [W/m2]."""

    scale: float
    exponent: float


FILMS = {
    ("floor", "heats"): Film(8.92, 1.1),
    ("ceiling", "cools"): Film(8.92, 1.1),
    ("ceiling", "heats"): Film(6.5, 1.0),
    ("floor", "cools"): Film(7.0, 1.0),
}


def surface_heat(
    resistance_m2k_w: ArrayLike, cover_m2k_w: ArrayLike, excess_k: ArrayLike, film: Film
) -> tuple[Array, Array]:
    """(heat [W/m2], surface against the room [K]) of pipes in floors or ceilings with a mean excess of their water."""
    r: Array = np.asarray(resistance_m2k_w, float) + np.asarray(cover_m2k_w, float)
    excess: Array = np.asarray(excess_k, float) + 0 * r

    def lift(q: Array) -> Array:
        answer: NDArray[Any] = (np.maximum(q, 0.0) / film.scale) ** (1 / film.exponent)
        return answer

    most: Array = excess / np.maximum(r, 1e-6)
    found = rising_root(lambda q: q * r + lift(q) - excess, 0.5 * most, np.zeros_like(most), most, 60, 1e-10)
    return found, lift(found)


def surface_most(limit_k: ArrayLike, film: Film) -> Array:
    """Heat [W/m2] at which a surface differs from its room by a limit [K]."""
    answer: NDArray[Any] = film.scale * np.maximum(np.asarray(limit_k, float), 0.0) ** film.exponent
    return answer


# direct cooling


@dataclass(frozen=True, slots=True, eq=False)
class Direct:
    """Direct cooling at a state: total and sensible [W], leaving air, bypass factor."""

    total_w: Array
    sensible_w: Array
    t: Array
    w: Array
    bypass: float


def _along(flow: Array, t1: Array, w1: Array, bypass: ArrayLike, total: Array, p: float) -> Array:
    """Leaving air [degC] with which a coil of a bypass factor takes a total out."""
    low = np.full_like(t1, -20.0)
    cold: Array = rising_root(
        lambda x: total - np.asarray(cool_to(t1, w1, x, bypass, p, flow).total_w), t1 - 10, low, t1 - 1e-6, 60, 1e-8
    )
    return cold


def direct_bypass(model: UnitModel) -> float:
    """Bypass factor [-] of an indoor unit from its rated total and sensible duties."""
    flow = 1.2 * model.air_m3s
    w1 = float(air.ratio_from_wet_bulb(RATED_AIR_C, RATED_WET_C, air.SEA_LEVEL_PA))
    h2 = float(air.enthalpy(RATED_AIR_C, w1)) - model.cool_total_w / flow
    w2, t2 = w1, RATED_AIR_C
    for _ in range(60):  # leaving state of both duties: enthalpy less what its condensate takes along
        t2 = RATED_AIR_C - model.cool_sensible_w / (flow * float(air.specific_heat(w2)))
        condensate = (w1 - w2) * float(air.water_enthalpy(t2))
        w2 = (h2 - condensate - air.CP_AIR * t2) / (air.LATENT + air.CP_VAPOUR * t2)
    return float(bypass_of(RATED_AIR_C, w1, t2, w2, air.SEA_LEVEL_PA))


def direct(model: UnitModel, room_c: ArrayLike, room_w: ArrayLike, outdoor_c: ArrayLike, pressure_pa: float) -> Direct:
    """What an indoor unit with its own outdoor unit does at full run, gross of its fan: own estimate of how its rating
    moves with the wet bulb and the air outdoors.
    """
    t, w, out = np.broadcast_arrays(*(np.asarray(x, float) for x in (room_c, room_w, outdoor_c)))
    star = air.wet_bulb(t, w, pressure_pa)
    total = model.cool_total_w * (1 + 0.016 * (star - 19)) * (1 - 0.006 * (out - 35))
    flow = np.full_like(t, 1.2 * model.air_m3s * pressure_pa / air.SEA_LEVEL_PA)
    bypass = direct_bypass(model)
    cold = _along(flow, t, w, bypass, total, pressure_pa)
    done = cool_to(t, w, cold, bypass, pressure_pa, flow)
    return Direct(total, np.asarray(done.sensible_w), np.asarray(done.t), np.asarray(done.w), bypass)


def most_sound(room_nc: float) -> float:
    """Sound power [dB(A)] of all units of a room that its limit [NC] lets through: own estimate."""
    return room_nc + 7.0 + ROOM_TAKES_DB


def refuse_need(need_w: ArrayLike, what: str) -> None:
    """Raises InputError for needs that are no figures or below 0."""
    if not np.all(np.asarray(need_w, float) >= 0):
        raise InputError(f"The need of {what} must be 0 or more", where="room units")
