"""Processes of moist air: state and data in, state, heat and water out. All broadcast arrays; methods: Air, section b.

t degC, w kg/kg, h J/kg dry air, m kg dry air/s, heat W, water kg/s. Condensate leaves at the temperature of the
leaving air.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError, SupplyTooWarm
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.states import root

Array = NDArray[np.float64]
STEAM_J_KG = 2.676e6  # saturated at 100 degC
HUMIDIFIER_RH = 0.95  # a humidifier takes air no further


@dataclass(frozen=True, slots=True, eq=False)
class Mixed:
    """fog_kg is the water per kg of dry air that falls out, 0 without fog."""

    t: Array
    w: Array
    fog_kg: Array


def saturated(t: ArrayLike, p: ArrayLike) -> Array:
    """Humidity ratio of saturated air; above the boiling point without bound, so that solvers may look there."""
    es = air.saturated_vapour(np.maximum(t, -200.0), p)
    p = np.asarray(p, float)
    return np.where(es < 0.99 * p, air.RATIO * es / np.maximum(p - es, 0.01 * p), 60.0)


def settle(h: ArrayLike, w: ArrayLike, p: ArrayLike) -> Mixed:
    """Air of an enthalpy and a water content; what it cannot hold falls out as water of its temperature."""
    h, w, p = np.broadcast_arrays(*(np.asarray(x, float) for x in (h, w, p)))
    t = np.asarray(air.temperature(h, w))
    foggy = np.asarray(w > saturated(t, p))
    if not foggy.any():
        return Mixed(t, w, np.zeros(h.shape))
    hf, wf, pf = h[foggy], w[foggy], p[foggy]

    def left(ts: Array) -> Array:
        ws = saturated(ts, pf)
        answer: NDArray[Any] = air.enthalpy(ts, ws) + (wf - ws) * air.water_enthalpy(ts) - hf
        return answer

    ts = rising_root(left, t[foggy] + 1.0, t[foggy] - 1.0, air.dew_point(wf, pf) + 1.0)
    ws = saturated(ts, pf)
    t, out, fog = t.copy(), w.copy(), np.zeros(h.shape)
    t[foggy], out[foggy], fog[foggy] = ts, ws, np.maximum(wf - ws, 0.0)
    return Mixed(t, out, fog)


def mix(weights: ArrayLike, t: ArrayLike, w: ArrayLike, p: ArrayLike) -> Mixed:
    """Streams along the first axis, by their dry-air masses (any sum above 0).

    Raises InputError for shares below 0, or none above it.
    """
    r, t, w = np.broadcast_arrays(*(np.asarray(x, float) for x in (weights, t, w)))
    total = r.sum(axis=0)
    if not np.all(r >= 0) or not np.all(total > 0):
        raise InputError("Streams that mix need shares of 0 or more, one of them above 0")
    return settle((r * air.enthalpy(t, w)).sum(axis=0) / total, (r * w).sum(axis=0) / total, p)


@dataclass(frozen=True, slots=True, eq=False)
class Coil:
    """Leaving air, apparatus dew point (NaN where dry or off), total and sensible heat taken out [W], condensate
    [kg/s].
    """

    t: Array
    w: Array
    adp_c: Array
    total_w: Array
    sensible_w: Array
    condensate_kg_s: Array


def _coil(m: ArrayLike, t1: Array, w1: Array, t2: Array, w2: Array, adp: Array) -> Coil:
    m = np.asarray(m, float)
    condensate = m * (w1 - w2)
    total = m * (air.enthalpy(t1, w1) - air.enthalpy(t2, w2)) - condensate * air.water_enthalpy(t2)
    return Coil(t2, w2, adp, total, m * air.specific_heat(w2) * (t1 - t2), condensate)


def cool_to(t1: ArrayLike, w1: ArrayLike, t2: ArrayLike, bypass: ArrayLike, p: ArrayLike, m: ArrayLike = 1.0) -> Coil:
    """Cooling to a leaving dry bulb with a bypass factor of 0 to below 1: dry where its surface stays above the dew
    point.

    Where t2 is not below t1 the coil is off.

    Raises InputError for a bypass beyond that.
    """
    t1, w1, t2, bf, p = np.broadcast_arrays(*(np.asarray(x, float) for x in (t1, w1, t2, bypass, p)))
    if not np.all((bf >= 0) & (bf < 1)):
        raise InputError("A bypass factor must be at least 0 and below 1")
    off = ~(t2 < t1)
    dry_adp = (t2 - bf * t1) / (1 - bf)
    td = np.nan_to_num(air.dew_point(w1, p), nan=-90.0)
    wet = ~off & (dry_adp < td)
    out, adp = w1.copy(), np.full(t1.shape, np.nan)
    if wet.any():
        a, b, c, d, e, limit = t1[wet], w1[wet], t2[wet], bf[wet], p[wet], td[wet]
        into = air.enthalpy(a, b)

        def past(ta: Array) -> Array:
            ws = saturated(ta, e)
            answer: NDArray[Any] = air.temperature(d * into + (1 - d) * air.enthalpy(ta, ws), d * b + (1 - d) * ws) - c
            return answer

        surface = rising_root(past, dry_adp[wet], np.full(a.shape, -60.0), limit)
        adp[wet] = surface
        out[wet] = d * b + (1 - d) * saturated(surface, e)
    return _coil(m, t1, w1, np.where(off, t1, t2), out, adp)


def rising_root(
    f: Callable[[Array], Array], start: Array, low: Array, high: Array, steps: int = 30, close: float = 1e-11
) -> Array:
    """The argument [any] where a rising function of arrays passes zero: secant steps kept in a bracket, halved where
    they leave it, until none moves by `close`.
    """
    before, x = np.clip(start + 0.01, low, high), np.clip(start, low, high)
    value_before, there = f(before), np.zeros(np.shape(x), bool)
    for _ in range(steps):
        value = f(x)
        low, high = np.where(value < 0, np.maximum(low, x), low), np.where(value > 0, np.minimum(high, x), high)
        slope = (value - value_before) / np.where(x != before, x - before, 1.0)
        step = x - value / np.where(slope > 0, slope, 1.0)
        inside = (slope > 0) & (step >= low) & (step <= high)
        # one that is there stays: two equal steps have no slope, and would send it back to the middle of its bracket
        new = np.where(there | (value == 0), x, np.where(inside, step, 0.5 * (low + high)))
        there = there | (np.abs(new - x) < close)
        if there.all():
            return new
        before, value_before, x = x, value, new
    return x


def dry_to(t1: ArrayLike, w1: ArrayLike, w2: ArrayLike, bypass: ArrayLike, p: ArrayLike, m: ArrayLike = 1.0) -> Coil:
    """Cooling until a humidity ratio is reached;

    NaN where the surface would have to be below -60 degC or drier than dry.
    """
    t1, w1, w2, bf, p = np.broadcast_arrays(*(np.asarray(x, float) for x in (t1, w1, w2, bypass, p)))
    at = (w2 - bf * w1) / (1 - bf)
    possible = (at > saturated(-60.0, p)) & (w2 < w1)
    adp = np.where(possible, air.dew_point(np.where(possible, at, 0.01), p), np.nan)
    ta, ws = np.nan_to_num(adp), np.where(possible, at, w1)
    t2 = air.temperature(bf * air.enthalpy(t1, w1) + (1 - bf) * air.enthalpy(ta, ws), bf * w1 + (1 - bf) * ws)
    return _coil(m, t1, w1, np.where(possible, t2, np.nan), np.where(possible, w2, np.nan), adp)


def coil_line(t1: float, w1: float, t2: float, w2: float, p: float) -> tuple[float, float]:
    """(apparatus dew point, bypass factor) of the line through two states.

    Raises InputError where the line misses saturation: cool along a bypass factor to w2, then reheat.
    """
    if not t2 < t1:
        raise InputError("The leaving air must be colder than the entering air")
    slope = (w1 - w2) / (t1 - t2)
    grid = np.linspace(t2, -60.0, 800)
    gap = w2 + slope * (grid - t2) - saturated(grid, p)
    if gap[0] > 1e-9:
        raise InputError("The leaving air would be fog", remedy="Raise its temperature or dry it")
    over = np.flatnonzero(gap >= 0)
    if not len(over):
        raise InputError(
            "No coil surface lies on this line", remedy="Cool to the same humidity along a bypass factor, then reheat"
        )
    i = int(over[0])
    low, high = (grid[i], grid[i - 1]) if i else (grid[0] - 1e-9, grid[0])
    ta = float(root(lambda x: w2 + slope * (x - t2) - saturated(x, p), np.array(low), np.array(high)))
    ta = t2 if not np.isfinite(ta) else ta
    return ta, (t2 - ta) / (t1 - ta)


@dataclass(frozen=True, slots=True, eq=False)
class Wetted:
    """Leaving air and the water it took up [kg/s]; most_w is the humidity ratio beyond which the device cannot go."""

    t: Array
    w: Array
    water_kg_s: Array
    most_w: Array


def evaporate(t1: ArrayLike, w1: ArrayLike, effectiveness: ArrayLike, p: ArrayLike, m: ArrayLike = 1.0) -> Wetted:
    """Adiabatic humidifier along the wet bulb, effectiveness 0..1. Raises InputError beyond that."""
    t1, w1, e, p = np.broadcast_arrays(*(np.asarray(x, float) for x in (t1, w1, effectiveness, p)))
    if not np.all((e >= 0) & (e <= 1)):
        raise InputError("An effectiveness must lie between 0 and 100 %")
    star = air.wet_bulb(t1, w1, p)
    t2 = t1 - e * (t1 - star)
    w2 = air.ratio_from_wet_bulb(t2, star, p)
    return Wetted(t2, w2, np.asarray(m, float) * (w2 - w1), saturated(star, p))


def add_water(
    t1: ArrayLike, w1: ArrayLike, water: ArrayLike, enthalpy: ArrayLike, p: ArrayLike, m: ArrayLike = 1.0
) -> Wetted:
    """Steam or spray: `water` [kg per kg of dry air] of an enthalpy [J/kg] into the air.

    Raises InputError for water below 0.
    """
    t1, w1, dw, hw, p = np.broadcast_arrays(*(np.asarray(x, float) for x in (t1, w1, water, enthalpy, p)))
    if not np.all(dw >= 0):
        raise InputError("A humidifier cannot take water out", remedy="Use a cooling coil")
    w2 = w1 + dw
    t2 = air.temperature(air.enthalpy(t1, w1) + dw * hw, w2)
    return Wetted(t2, w2, np.asarray(m, float) * dw, HUMIDIFIER_RH * saturated(t2, p))


@dataclass(frozen=True, slots=True, eq=False)
class Recovered:
    """Both leaving states, heat to the outdoor air [W], the share k of full recovery in use, condensate of the exhaust
    [kg/s].
    """

    t: Array
    w: Array
    out_t: Array
    out_w: Array
    heat_w: Array
    share: Array
    condensate_kg_s: Array


def recover(
    to: ArrayLike,
    wo: ArrayLike,
    ms: ArrayLike,
    te: ArrayLike,
    we: ArrayLike,
    me: ArrayLike,
    sensible: ArrayLike,
    latent: ArrayLike,
    p: ArrayLike,
    share: ArrayLike = 1.0,
) -> Recovered:
    """Heat recovery between outdoor air (ms) and exhaust air (me) with effectiveness of heat and water, 0..1;

    EN 308.

    Raises InputError for effectiveness beyond that.
    """
    arrays = np.broadcast_arrays(*(np.asarray(x, float) for x in (to, wo, ms, te, we, me, sensible, latent, p, share)))
    to, wo, ms, te, we, me, es, el, p, k = arrays
    if not np.all((es >= 0) & (es <= 1) & (el >= 0) & (el <= 1)):
        raise InputError("A recovery cannot give back less than 0 or more than 100 %")
    some = (ms > 0) & (me > 0)
    mso, meo = np.where(some, ms, 1.0), np.where(some, me, 1.0)
    cs, ce = mso * air.specific_heat(wo), meo * air.specific_heat(we)
    on = np.where(some, k, 0.0)
    t2 = to + on * es * np.minimum(cs, ce) / cs * (te - to)
    w2 = wo + on * el * np.minimum(mso, meo) / mso * (we - wo)
    after = settle(air.enthalpy(t2, w2), np.minimum(w2, saturated(t2, p)), p)
    t2, w2 = after.t, after.w
    gained = mso * (air.enthalpy(t2, w2) - air.enthalpy(to, wo))
    out = settle(
        air.enthalpy(te, we) - np.where(some, gained / meo, 0.0), we - np.where(some, mso / meo * (w2 - wo), 0.0), p
    )
    return Recovered(t2, w2, out.t, out.w, np.where(some, gained, 0.0), on, meo * out.fog_kg * some)


def frost_share(
    to: ArrayLike,
    wo: ArrayLike,
    ms: ArrayLike,
    te: ArrayLike,
    we: ArrayLike,
    me: ArrayLike,
    sensible: ArrayLike,
    latent: ArrayLike,
    p: ArrayLike,
    frost_c: ArrayLike,
    full: Recovered | None = None,
) -> Array:
    """Share k of full recovery at which the exhaust leaves at no less than frost_c; 1 where it does so anyway.

    `full` may hold what full recovery gives, where that is known.
    """
    arrays = np.broadcast_arrays(
        *(np.asarray(x, float) for x in (to, wo, ms, te, we, me, sensible, latent, p, frost_c))
    )
    full = full or recover(*arrays[:9])
    cold = (
        (full.out_t < arrays[9]) & (arrays[9] < arrays[3]) & (arrays[0] < arrays[9]) & (arrays[2] > 0) & (arrays[5] > 0)
    )
    k = np.ones(arrays[0].shape)
    if cold.any():
        part = [a[cold] for a in arrays]
        # The exhaust gets colder the more is taken from it.
        k[cold] = rising_root(
            lambda x: part[9] - recover(*part[:9], x).out_t,
            np.full(part[0].shape, 0.9),
            np.zeros(part[0].shape),
            np.ones(part[0].shape),
        )
    return k


def fan_work(t_in: ArrayLike, w: ArrayLike, p: ArrayLike, pressure_pa: ArrayLike, efficiency: ArrayLike) -> Array:
    """Work of a fan on the air [J/kg dry air], efficiency of fan, drive and (in the stream) motor above 0.05 to 1.

    Raises InputError for a pressure below 0 or an efficiency beyond that.
    """
    pressure, eta = np.asarray(pressure_pa, float), np.asarray(efficiency, float)
    if not np.all(pressure >= 0) or not np.all((eta > 0.05) & (eta <= 1)):
        raise InputError("A fan needs a pressure of 0 or more and an efficiency of 5 to 100 %")
    answer: NDArray[Any] = air.specific_volume(t_in, w, p) * pressure / eta
    return answer


MOST_UNITS = 5.0


def duct_gain(t: ArrayLike, w: ArrayLike, m: ArrayLike, around_c: ArrayLike, ua_w_k: ArrayLike) -> Array:
    """Dry bulb [degC] at the end of a duct in surroundings of one temperature."""
    m, ua = np.asarray(m, float), np.asarray(ua_w_k, float)
    fall = np.exp(-np.where(m > 0, ua / (np.where(m > 0, m, 1.0) * air.specific_heat(w)), 0.0))
    return around_c + (np.asarray(t, float) - around_c) * fall


def duct_before(t: ArrayLike, w: ArrayLike, m: ArrayLike, around_c: ArrayLike, ua_w_k: ArrayLike) -> Array:
    """Dry bulb [degC] at the start of a duct that ends at t.

    Beyond MOST_UNITS transfer units its end is as warm as what is around within 0.7 %, whatever its start was; the
    start is taken as there.
    """
    m, ua = np.asarray(m, float), np.asarray(ua_w_k, float)
    units = np.where(m > 0, ua / (np.where(m > 0, m, 1.0) * air.specific_heat(w)), 0.0)
    fall = np.exp(-np.minimum(units, MOST_UNITS))
    return around_c + (np.asarray(t, float) - around_c) / fall


def flow_for(heat_w: ArrayLike, room_c: ArrayLike, supply_c: ArrayLike, supply_w: ArrayLike) -> Array:
    """Supply air [kg/s] that takes a sensible load out of a room; cp is that of the supply air, so that water closes
    exactly.

    Raises SupplyTooWarm where supply air is as warm as the room.
    """
    rise = np.asarray(room_c, float) - np.asarray(supply_c, float)
    if not np.all(rise != 0):
        raise SupplyTooWarm("Supply air as warm as the room carries no load", remedy="Lower the supply temperature")
    answer: NDArray[Any] = np.asarray(heat_w, float) / (air.specific_heat(supply_w) * rise)
    return answer
