"""What each kind of part does to the supply air that passes it: one function a kind, for many hours at once.

Source: processes of moist air, core/psychro.
"""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import processes as do
from garnetfin.core.psychro import properties as air
from garnetfin.core.systems.parts import SMALLEST, Array, Control, Node, Part

WATER_J_KG = 4186.0 * 10.0  # of a spray's water at 10 degC


@dataclass(slots=True)
class Trace:
    """What one sweep found; parts add to it on their way."""

    nodes: dict[str, Node] = field(default_factory=dict)
    heat: dict[str, Array] = field(default_factory=dict)
    water: dict[str, Array] = field(default_factory=dict)
    coils: dict[str, do.Coil] = field(default_factory=dict)
    extra: dict[str, Array] = field(default_factory=dict)


@dataclass(slots=True)
class Stream:
    """The supply air on its way, and what its parts go by; all (h,).

    t, w, m                 as it stands [degC, kg/kg, kg/s]
    handler, supplied       what the unit lifts and what reaches the rooms; the duct leaks the difference
    outdoor, relief         what is taken in and blown out; the air that comes back is at tr, wr
    free                    more outdoor air is taken to cool for nothing
    humid_goal, driest_w    what a humidifier aims at, and what the dampest room allows
    wanted                  (place in the list, humidity) -> temperature wanted behind that part
    mixing                  place of the mixing box among the parts, None without one
    control                 how the system answers
    share, frost, fog, short, rise, exhaust     what parts leave for the record
    """

    t: Array
    w: Array
    m: Array
    pressure_pa: Array | float
    handler: Array
    supplied: Array
    outdoor: Array
    relief: Array
    tr: Array
    wr: Array
    free: NDArray[np.bool_]
    cooling: NDArray[np.bool_]
    heating: NDArray[np.bool_]
    humid_goal: Array
    driest_w: Callable[[], Array]
    wanted: Callable[[int, Array], Array]
    mixing: int | None
    control: Control
    reset: Array | float  # of what the fan’s sensor holds
    trace: Trace
    share: Array
    frost: NDArray[np.bool_]
    fog: Array
    short: NDArray[np.bool_]
    rise: Array
    exhaust: tuple[Array, Array]


Passed = tuple[Array, Array]  # heat [W] and water [kg/s] the air took up
Pass = Callable[[Part, int, Stream], Passed]
_PASSES: dict[str, Pass] = {}


def passes(*kinds: str) -> Callable[[Pass], Pass]:
    """Registers what parts of these kinds do. Raises InputError for a kind that is taken."""

    def registered(function: Pass) -> Pass:
        for kind in kinds:
            if kind in _PASSES:
                raise InputError(f"There are two ways through a part of the kind “{kind}”")
            _PASSES[kind] = function
        return function

    return registered


def through(part: Part, place: int, air_: Stream) -> Passed:
    """Lets the air through a part; a kind nobody wrote a way for leaves it as it is."""
    found = _PASSES.get(part.kind)
    return found(part, place, air_) if found is not None else _nothing(air_)


def _nothing(s: Stream) -> Passed:
    return np.zeros_like(s.t), np.zeros_like(s.t)


# -- kinds --------------------------------------------------------------------------------------------------------
@passes("recovery")
def _recovery(part: Part, place: int, s: Stream) -> Passed:
    s.share, s.frost = _recovery_share(part, place, s)
    got = do.recover(
        s.t, s.w, s.m, s.tr, s.wr, s.relief, part.get("sensible"), part.get("latent"), s.pressure_pa, s.share
    )
    water = s.m * (got.w - s.w)
    s.t, s.w, s.exhaust = got.t, got.w, (got.out_t, got.out_w)
    s.trace.extra["exhaust_fog"] = got.condensate_kg_s
    return got.heat_w, water


def _recovery_share(part: Part, place: int, s: Stream) -> tuple[Array, NDArray[np.bool_]]:
    """How much of it is used: none where it would only have to be cooled away, less where the exhaust would freeze."""
    sides = (s.t, s.w, s.m, s.tr, s.wr, s.relief, part.get("sensible"), part.get("latent"), s.pressure_pa)
    full = do.recover(*sides)
    k = np.ones_like(s.t)
    if s.mixing is not None:
        behind = s.wanted(s.mixing, s.wr)
        goal = (s.handler * behind - (s.handler - s.outdoor) * s.tr) / np.maximum(s.outdoor, SMALLEST)
    else:
        goal = s.wanted(place, s.w)
    warms = full.t > s.t + 1e-9
    over = warms & (full.t > goal)
    k = np.where(over, np.clip((goal - s.t) / np.where(warms, full.t - s.t, 1.0), 0.0, 1.0), k)
    # Recovery that warms is of use only to that goal; one that cools only where cooling is wanted.
    k = np.where((full.t < s.t - 1e-9) & (goal > s.t), 0.0, k)
    k = np.where(s.free & warms, 0.0, k)
    frost_c = part.get("frost_c", -np.inf)
    if not np.isfinite(frost_c):
        return k, np.zeros(s.t.shape, bool)
    limit = do.frost_share(*sides, frost_c, full)
    return np.minimum(k, limit), limit < k


@passes("mixing")
def _mixing(_part: Part, _place: int, s: Stream) -> Passed:
    back = np.maximum(s.handler - s.outdoor, 0.0)
    total = np.maximum(s.handler, SMALLEST)
    mixed = do.settle(
        (s.outdoor * air.enthalpy(s.t, s.w) + back * air.enthalpy(s.tr, s.wr)) / total,
        (s.outdoor * s.w + back * s.wr) / total,
        s.pressure_pa,
    )
    s.t, s.w, s.m, s.fog = mixed.t, mixed.w, s.handler, mixed.fog_kg * s.handler
    return _nothing(s)


@passes("preheat", "heating")
def _heater(part: Part, place: int, s: Stream) -> Passed:
    to_c = part.get("set_c", 5.0) if part.kind == "preheat" else s.wanted(place, s.w)
    on = s.heating & (to_c > s.t)
    heat = np.where(on, s.m * air.specific_heat(s.w) * (to_c - s.t), 0.0)
    s.t = np.where(on, to_c, s.t)
    return heat, np.zeros_like(heat)


@passes("cooling", "precool")
def _coil(part: Part, place: int, s: Stream) -> Passed:
    to_c = part.get("set_c", 18.0) if part.kind == "precool" else s.wanted(place, s.w)
    bypass = part.get("bypass", 0.1)
    coil = do.cool_to(s.t, s.w, np.where(s.cooling, to_c, s.t + 1.0), bypass, s.pressure_pa, s.m)
    if part.kind == "cooling" and part.choice == "dry air":
        most = s.driest_w()
        damp = s.cooling & (coil.w > most + 1e-9) & np.isfinite(most)
        if damp.any():
            drier = do.dry_to(s.t, s.w, np.where(damp, most, coil.w), bypass, s.pressure_pa, s.m)
            use = damp & np.isfinite(drier.t)
            figures = ("t", "w", "adp_c", "total_w", "sensible_w", "condensate_kg_s")
            coil = do.Coil(*(np.where(use, getattr(drier, n), getattr(coil, n)) for n in figures))
    s.trace.coils[part.id] = coil
    s.t, s.w = coil.t, coil.w
    return -coil.total_w, -coil.condensate_kg_s


def water_j_kg(part: Part) -> float:
    """Enthalpy of the water that a humidifier gives [J/kg]."""
    return do.STEAM_J_KG if part.choice != "spray" else WATER_J_KG


@passes("humidifier")
def _humidifier(part: Part, _place: int, s: Stream) -> Passed:
    water = np.maximum(s.humid_goal - s.w, 0.0)
    got = do.add_water(s.t, s.w, water, water_j_kg(part), s.pressure_pa)
    s.short = got.w > got.most_w
    if s.short.any():
        # The most that still evaporates: a fixed point in few steps, since the limit hardly moves with the water.
        for _ in range(4):
            water = np.where(s.short, np.maximum(np.minimum(water, got.most_w - s.w), 0.0), water)
            got = do.add_water(s.t, s.w, water, water_j_kg(part), s.pressure_pa)
    s.t, s.w = got.t, got.w
    return s.m * water * water_j_kg(part), s.m * water


LEAST_EFFICIENCY = 0.06  # of a fan that hardly turns
DRIVE_SHARE = 0.08  # of a drive's losses that stay at no load; own


LEAST_RESET = 0.2  # of what the sensor holds at design


def reset_share(flow_kg_s: Array, design_kg_s: Array) -> Array:
    """What a sensor that is reset holds (h,), of what it holds at design [-]: as much as the box needs that is nearest
    to its design flow. Flows (rooms, h) [kg/s].
    """
    asks = design_kg_s > SMALLEST
    if not asks.any():
        return np.ones(flow_kg_s.shape[1])
    return np.asarray(np.maximum(((flow_kg_s[asks] / design_kg_s[asks, None]) ** 2).max(axis=0), LEAST_RESET))


def at_part_flow(
    flow_share: Array, pressure_pa: float, efficiency: float, base: float, reset: Array | float = 1.0
) -> tuple[Array, Array]:
    """(pressure [Pa], efficiency to the air [-]) of a fan at shares of its design flow (h,).

    A share `base` of its pressure, times `reset`, is held by the sensor in the ducts, the rest falls with the square of
    the flow; motor and drive keep less of their efficiency as shaft power falls.
    """
    x = np.clip(flow_share, 1e-3, None)
    pressure = pressure_pa * (base * reset + (1 - base) * x**2)
    shaft = x * pressure / max(pressure_pa, SMALLEST)
    kept = efficiency * shaft * (1 + DRIVE_SHARE) / (shaft + DRIVE_SHARE)
    return pressure, np.maximum(kept, LEAST_EFFICIENCY)


def fan_work(
    part: Part, t: Array, w: Array, m: Array, pressure_pa: Array | float, control: Control, reset: Array | float = 1.0
) -> Array:
    """Heat of a fan in the air [J/kg], at the pressure that its flow m leaves it; reset as of `reset_share`."""
    pressure: Array | float = part.get("pressure_pa")
    efficiency: Array | float = part.get("efficiency", 0.6)
    if control.fan_kg_s > 0:
        pressure, efficiency = at_part_flow(
            m / control.fan_kg_s, part.get("pressure_pa"), part.get("efficiency", 0.6), control.fan_base, reset
        )
    return np.asarray(part.get("to_air", 1.0) * do.fan_work(t, w, pressure_pa, pressure, efficiency))


@passes("supply_fan")
def _fan(part: Part, _place: int, s: Stream) -> Passed:
    before = air.enthalpy(s.t, s.w)
    work = fan_work(part, s.t, s.w, s.m, s.pressure_pa, s.control, s.reset)
    behind = air.temperature(before + work, s.w)
    s.rise, s.t = behind - s.t, behind
    return work * s.m, np.zeros_like(s.t)


@passes("duct")
def _duct(part: Part, _place: int, s: Stream) -> Passed:
    s.trace.nodes["before duct"] = Node("before duct", s.t, s.w, s.m)
    s.m = s.supplied
    behind = do.duct_gain(s.t, s.w, s.m, part.get("around_c", 24.0), part.get("ua_w_k"))
    heat = s.m * air.specific_heat(s.w) * (behind - s.t)
    s.t = behind
    return heat, np.zeros_like(heat)
