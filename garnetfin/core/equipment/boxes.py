"""Flow boxes: limits of their flow, what they do at an hour, and which of a catalogue is the first that serves.

Flows in m3/s at local standard density, heat in W, temperatures in degC. All functions work on arrays of boxes.
Methods: Flow boxes. Dual maximum after ASHRAE Guideline 36.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core import noise
from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import BoxModel, stacked
from garnetfin.core.equipment.exchangers import crossed
from garnetfin.core.errors import InputError
from garnetfin.core.psychro.properties import SEA_LEVEL_PA, specific_heat

Array = NDArray[np.float64]
HALVINGS = 40
SUPPLY_RATIO = 0.0085  # humidity ratio of supply air that heat capacity is counted with
TEST_PA = 250.0  # across the box, at which catalogues give sound
# What a path takes of sound power until the room's own is known [dB]: own estimates.
RADIATED_PATH = np.array([10, 14, 17, 20, 25, 30, 33, 33], float)
DISCHARGE_PATH = np.array([16, 20, 26, 34, 42, 46, 38, 30], float)


def air_heat(pressure_pa: float) -> float:
    """Heat capacity of flows on drawings [J/m3K] at a local pressure [Pa]."""
    return 1.2 * pressure_pa / SEA_LEVEL_PA * float(specific_heat(SUPPLY_RATIO))


@dataclass(frozen=True, slots=True, eq=False)
class Limits:
    """Flows between which boxes work [m3/s]; need is what the heating load would take at the leaving limit."""

    most: Array
    least: Array
    heating: Array
    need: Array
    leaving_c: Array  # warmest air that a box may send into its room


class Flows(NamedTuple):
    """What the limits of boxes rest on, figures or (boxes,): greatest flow and what asks for a least one [m3/s], heat
    of the rooms on the winter design day [W], their heating set-point [degC].

    heating   a heating maximum by hand [m3/s]; NaN where it is by rule
    model     least flow of the model [m3/s]
    dual      whether the heating maximum lies above the least flow
    """

    most: ArrayLike
    wanted: ArrayLike
    heat_w: ArrayLike
    heating_c: ArrayLike
    dual: ArrayLike = True
    heating: ArrayLike = np.nan
    model: ArrayLike = 0.0


def limits(of: Flows, rise_k: ArrayLike, leave_c: ArrayLike, capacity: float) -> Limits:
    """Least and heating flow of boxes; air sent in is at most so much warmer than the room, and at most so warm.

    Raises InputError for flows or heat below 0, or a warmest air that is not above the room.
    """
    most, wanted, heat, at, typed, model = (
        np.asarray(x, float) for x in (of.most, of.wanted, of.heat_w, of.heating_c, of.heating, of.model)
    )
    if not (np.all(most >= 0) and np.all(wanted >= 0) and np.all(heat >= 0)):
        raise InputError("Flows and heat of boxes must be 0 or more", where="flow boxes")
    warm: Array = np.minimum(at + np.asarray(rise_k, float), np.asarray(leave_c, float))
    lift = warm - at
    if not np.all(lift > 0):
        raise InputError(
            "The warmest air of a box is not above its room", where="flow boxes", remedy="Raise the leaving limit"
        )
    least = np.minimum(np.maximum(wanted, model), most)
    need = heat / (capacity * lift)
    single = np.minimum(np.maximum(least, need), most)
    heating = np.minimum(np.maximum(least, np.where(np.isnan(typed), need, typed)), most)
    dual = np.asarray(of.dual, bool)
    return Limits(most, np.where(dual, least, single), np.where(dual, heating, single), need, warm)


@dataclass(frozen=True, slots=True, eq=False)
class Held:
    """What boxes do: flow [m3/s], air they send in [degC], reheat [W], room [degC], what is short of the load [W]."""

    flow: Array
    leaving_c: Array
    reheat_w: Array
    room_c: Array
    short_w: Array
    state: NDArray[np.int8]  # 0 cooling, 1 dead band, 2 reheat, 3 heating


STATES = ("cooling", "dead band", "reheat", "heating")


def held(
    load_w: ArrayLike,
    fall_w_k: ArrayLike,
    supply_c: ArrayLike,
    cooling_c: ArrayLike,
    heating_c: ArrayLike,
    of: Limits,
    capacity: float,
) -> Held:
    """Steady state of rooms behind boxes with reheat, all broadcast.

    load     with the room at its cooling set-point, above 0 where it wants cooling [W]
    fall     W/K by which the load falls as the room gets warmer, 0 or more
    Raises InputError for set-points that cross, or where there is neither air nor anything else that sets the room.
    """
    q, fall, ts, tc, th, most, least, heating, warm = np.broadcast_arrays(
        *(
            np.asarray(x, float)
            for x in (load_w, fall_w_k, supply_c, cooling_c, heating_c, of.most, of.least, of.heating, of.leaving_c)
        )
    )
    if not np.all(th <= tc):
        raise InputError("The heating set-point is above the cooling set-point", where="flow boxes")
    k = capacity
    tied = fall + k * least
    if not np.all(tied > 0):
        raise InputError("A room without air and without outside is held by nothing", where="flow boxes")
    cools = (q > 0) & (ts < tc)
    wanted = np.where(cools, q / (k * np.where(cools, tc - ts, 1.0)), 0.0)
    full = cools & (wanted >= most)
    floats = (q + fall * tc + k * least * ts) / tied
    cooled = cools & (wanted >= least)
    dead = ~cooled & (floats >= th)
    at_heating = q + fall * (tc - th)  # load with the room at its heating set-point
    power = k * least * (th - ts) - at_heating
    reheats = ~cooled & ~dead & (power <= k * least * (warm - ts))
    heats = ~cooled & ~dead & ~reheats
    warming = np.clip(-at_heating / (k * np.maximum(warm - th, 1e-9)), least, heating)
    flow = np.where(cooled, np.where(full, most, wanted), np.where(heats, warming, least))
    leaving = np.where(reheats, ts + np.divide(power, k * least, out=np.zeros_like(power), where=least > 0), ts)
    leaving = np.where(heats, warm, leaving)
    lacks = np.where(heats, np.maximum(0.0, -at_heating - k * flow * (warm - th)), 0.0)
    short = np.where(full, np.maximum(0.0, q - k * most * (tc - ts)), lacks)
    moved = (q + fall * tc + k * flow * leaving) / np.where(fall + k * flow > 0, fall + k * flow, 1.0)
    room = np.where(cooled & ~full, tc, np.where(reheats | (heats & (lacks <= 0)), th, moved))
    room = np.where(dead, floats, room)
    state = np.select([cooled, dead, reheats], [0, 1, 2], 3).astype(np.int8)
    return Held(flow, leaving, k * flow * (leaving - ts), room, short, state)


class Asked(NamedTuple):
    """What boxes are chosen for, each (boxes,): flows [m3/s], reheat [W] at a flow, its entering air, hot water [degC],
    limit of the room [NC].
    """

    most_m3s: Array
    reheat_w: Array  # 0: none is wanted
    reheat_m3s: Array
    supply_c: Array
    hot_c: Array
    room_nc: Array


class Standards(NamedTuple):
    """Limits of the office: velocity in the inlet [m/s], drop [Pa], pressure at which sound is asked [Pa]."""

    inlet_m_s: float = 9.0
    drop_pa: float = 100.0
    test_pa: float = 150.0


REASONS = ("", "flow", "inlet velocity", "drop", "radiated sound", "discharge sound", "reheat")


@dataclass(frozen=True, slots=True, eq=False)
class Judged:
    """Boxes (B) against models (M): each (B, M); why: number of the first reason in REASONS, 0 where it serves."""

    why: NDArray[np.int8]
    velocity_m_s: Array
    box_pa: Array
    coil_pa: Array
    radiated_nc: Array
    discharge_nc: Array
    reheat_w: Array  # the most its coil gives
    radiated_db: Array  # (B, M, 8) sound power
    discharge_db: Array


def sound(models: Sequence[BoxModel], flow_m3s: Array, drop_pa: Array) -> tuple[Array, Array]:
    """Radiated and discharge sound power [dB] (boxes, models, 8) at flows (boxes, models) with a drop across them."""
    reference = stacked(models, "reference_m3s")
    more = stacked(models, "flow_db") * np.log10(np.maximum(flow_m3s / reference, 1e-6))
    more = (more + stacked(models, "pressure_db") * np.log10(np.maximum(drop_pa, 1e-3) / TEST_PA))[..., None]
    return stacked(models, "radiated_db") + more, stacked(models, "discharge_db") + more


def heard(radiated_db: ArrayLike, discharge_db: ArrayLike) -> Array:
    """Sound pressure of boxes in their rooms [dB] (..., 8), through the casing and along the duct together."""
    return noise.add(
        np.array([np.asarray(radiated_db, float) - RADIATED_PATH, np.asarray(discharge_db, float) - DISCHARGE_PATH])
    )


def drops(models: Sequence[BoxModel], flow_m3s: Array) -> tuple[Array, Array]:
    """Drop [Pa] of the open box and of its coil, (boxes, models)."""
    x = flow_m3s / stacked(models, "reference_m3s")
    box: Array = stacked(models, "open_drop_pa") * x**2
    coil: Array = stacked(models, "coil_drop_pa") * x ** stacked(models, "coil_drop_exponent")
    return box, coil


def coil_heat(
    models: Sequence[BoxModel], flow_m3s: Array, supply_c: Array, hot_c: Array, water_share: ArrayLike, capacity: float
) -> Array:
    """Heat [W] that the coils of boxes give their air at a share of their reference water, broadcast to (..., M).

    hot     entering water [degC]
    """
    rows = stacked(models, "coil_rows")
    has = rows > 0
    share = np.asarray(water_share, float)
    air = capacity * np.maximum(flow_m3s, 1e-9)
    side = stacked(models, "coil_ua_air") * (flow_m3s / stacked(models, "reference_m3s")) ** stacked(
        models, "coil_air_exponent"
    )
    tubes = stacked(models, "coil_ua_water") * share ** stacked(models, "coil_water_exponent")
    through = 1 / (1 / np.maximum(side, 1e-9) + 1 / np.maximum(tubes, 1e-9))
    of_water = np.where(has, stacked(models, "coil_water_kg_s"), 1.0) * share * water.liquid(hot_c).heat
    found = crossed(through / air, air / of_water, rows) * air * np.maximum(hot_c - supply_c, 0.0)
    return np.where(has, found, 0.0)


def judge(models: Sequence[BoxModel], asked: Asked, standards: Standards, capacity: float) -> Judged:
    """Each of B boxes against each of M models of one kind. Raises InputError without models."""
    if not models:
        raise InputError("There is no flow box to choose from", where="catalogue")
    most = asked.most_m3s[:, None]
    velocity = most / stacked(models, "inlet_m2")
    box, coil = drops(models, most)
    across = np.maximum(standards.test_pa, box)
    radiated, discharge = sound(models, most, across)
    radiated_nc = noise.noise_criterion(radiated - RADIATED_PATH)
    discharge_nc = noise.noise_criterion(discharge - DISCHARGE_PATH)
    wanted = asked.reheat_w[:, None]
    given = coil_heat(models, asked.reheat_m3s[:, None], asked.supply_c[:, None], asked.hot_c[:, None], 1.0, capacity)
    limit = asked.room_nc[:, None]
    wrong = (
        most > stacked(models, "flow_max_m3s") * (1 + 1e-9),
        velocity > standards.inlet_m_s * (1 + 1e-9),
        box + coil > standards.drop_pa * (1 + 1e-9),
        radiated_nc > limit,
        discharge_nc > limit,
        (wanted > 0) & (given < wanted),
    )
    why = np.select(wrong, np.arange(1, 1 + len(wrong), dtype=np.int8), np.int8(0)).astype(np.int8)
    return Judged(why, velocity, box, coil, radiated_nc, discharge_nc, given, radiated, discharge)


def in_order(models: Sequence[BoxModel], kind: str, reheat: bool) -> tuple[BoxModel, ...]:
    """Models of a kind, with coils where reheat is wanted and without them where it is not, in the order of choice."""
    fit = [m for m in models if m.kind == kind and (m.coil_rows > 0) == reheat]
    return tuple(sorted(fit, key=lambda m: (m.inlet_m, m.coil_rows, m.model)))


def first(judged: Judged, among: int) -> NDArray[np.int64]:
    """Number of the first model that serves each box, of the first so many; -1 where none does."""
    serves = judged.why[:, :among] == 0
    if not among:
        return np.full(len(serves), -1)
    answer: NDArray[Any] = np.where(serves.any(axis=1), serves.argmax(axis=1), -1)
    return answer


class CoilWater(NamedTuple):
    """Hot water of boxes (boxes,): flow [kg/s], back [degC], drop [Pa]; NaN where their coils cannot."""

    flow_kg_s: Array
    back_c: Array
    drop_pa: Array


def coil_water(
    models: Sequence[BoxModel], duty_w: Array, flow_m3s: Array, supply_c: Array, hot_c: Array, capacity: float
) -> CoilWater:
    """Water with which the coil of each box, one model each, gives its duty [W] at an air flow; by halving."""

    def gives(share: Array) -> Array:
        return coil_heat(models, flow_m3s, supply_c, hot_c, share, capacity)

    low, high = np.full(len(models), 0.001), np.ones(len(models))
    can = (duty_w > 0) & (gives(high) >= duty_w)
    for _ in range(HALVINGS):
        mid = 0.5 * (low + high)
        less = gives(mid) < duty_w
        low, high = np.where(less, mid, low), np.where(less, high, mid)
    share = np.where(can, 0.5 * (low + high), np.nan)
    flow = share * stacked(models, "coil_water_kg_s")
    back = hot_c - duty_w / (flow * water.liquid(hot_c).heat)
    return CoilWater(flow, back, stacked(models, "coil_water_pa") * share**1.8)
