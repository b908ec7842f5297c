"""Machines that make cold and heat: what one gives and takes, how many of which are needed, a year of hours, pumps.

Heat and power in W, temperatures in degC: w of the water (leaving; evaporating; of a boiler returning), a of the air or
condenser water that enters. Methods: Plant.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import Bands, MachineModel
from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
MOST_MACHINES = 6
TOWER_APPROACH_K, TOWER_LEAST_C, TOWER_SHARE = 4.0, 18.0, 0.025  # own: condenser water over the wet bulb, fans and pump
LARGE_SPARE = 0.35
PUMP_EFFICIENCY, PUMP_BASE = 0.6, 0.4
PIPE_PA_M, FITTINGS = 150.0, 1.5
ROOM_FACTOR, ROOM_MORE_M2, ROOM_M2_KW = 1.25, 8.0, 0.01  # for pumps, vessels and boards: own estimate
AMP_VOLTS, AMP_COS = 400.0, 0.85


def _polynomial(of: Bands, w: Array, a: Array) -> Array:
    """1, w, w2, a, a2, wa."""
    answer: NDArray[Any] = of[0] + of[1] * w + of[2] * w**2 + of[3] * a + of[4] * a**2 + of[5] * w * a
    return answer


def runs_at(of: MachineModel, w: ArrayLike, a: ArrayLike) -> NDArray[np.bool_]:
    """Whether a machine runs at all at its water and its surroundings."""
    w, a = np.asarray(w, float), np.asarray(a, float)
    answer: NDArray[Any] = (
        (w >= of.water_low_c) & (w <= of.water_high_c) & (a >= of.ambient_low_c) & (a <= of.ambient_high_c)
    )
    return answer


def capacity(of: MachineModel, w: ArrayLike, a: ArrayLike) -> Array:
    """Greatest heat or cold [W]; 0 outside the limits of its water and surroundings."""
    w, a = np.asarray(w, float), np.asarray(a, float)
    return np.where(runs_at(of, w, a), of.nominal_w * np.maximum(_polynomial(of.capacity, w, a), 0.0), 0.0)


def _part(of: MachineModel, x: Array) -> Array:
    """Input at a share of the load, against full load; below its least share it starts and stops."""
    at = np.maximum(x, of.least_part)
    full = of.part_0 + of.part_1 * at + of.part_2 * at**2
    answer: NDArray[Any] = full * np.where(x < of.least_part, x / max(of.least_part, 1e-9), 1.0)
    return answer


def power(of: MachineModel, w: ArrayLike, a: ArrayLike, share: ArrayLike) -> Array:
    """Electricity or fuel [W] at a share of what it could give then."""
    w, a, x = np.asarray(w, float), np.asarray(a, float), np.asarray(share, float)
    answer: NDArray[Any] = capacity(of, w, a) * _polynomial(of.input, w, a) / of.nominal_cop * _part(of, x)
    return answer


class Design(NamedTuple):
    """What machines are chosen for: load [W], temperatures, margin on the load, reserve of one, fewest machines."""

    load_w: float
    w: float
    a: float
    margin: float = 0.0
    standby: bool = False
    fewest: int = 1


@dataclass(frozen=True, slots=True)
class MachineTried:
    """A model that was looked at; why: "" where it serves."""

    model: MachineModel
    count: int
    each_w: float
    why: str


@dataclass(frozen=True, slots=True)
class MachineChoice:
    """The machines: how many in all, how many of them in reserve, what each gives, spare share of the load."""

    model: MachineModel | None
    count: int
    standby: int
    each_w: float
    input_w: float
    spare: float
    tried: tuple[MachineTried, ...]


def fewest_for(load_w: float) -> int:
    """Machines by rule: one to 150 kW, then two."""
    return 1 if load_w <= 150e3 else 2


def choose(models: Sequence[MachineModel], want: Design) -> MachineChoice:
    """Fewest machines in all, then least capacity, then least input at half load.

    Raises InputError for a load that is not above 0, or without models.
    """
    if not models or not (0 < want.load_w < math.inf):
        raise InputError("Machines need models and a load above 0", where="plant")
    tried, fit = [], []
    for m in models:
        each = float(capacity(m, want.w, want.a))
        if each <= 0:
            tried.append(MachineTried(m, 0, 0.0, "limits"))
            continue
        running = max(want.fewest, math.ceil(want.load_w * (1 + want.margin) / each - 1e-9))
        total = running + int(want.standby)
        tried.append(MachineTried(m, total, each, "number" if total > MOST_MACHINES else ""))
        if total <= MOST_MACHINES:
            fit.append((total, total * each, float(power(m, want.w, want.a, 0.5)), m.model, m, each))
    if not fit:
        return MachineChoice(None, 0, 0, 0.0, 0.0, 0.0, tuple(tried))
    total, _, _, _, model, each = min(fit, key=lambda x: x[:4])
    return judged(model, total, want, tuple(tried))


def judged(model: MachineModel, count: int, want: Design, tried: tuple[MachineTried, ...] = ()) -> MachineChoice:
    """Machines that are pinned, or chosen: what they give and take at design. Spare leaves the reserve out."""
    each = float(capacity(model, want.w, want.a))
    running = count - int(want.standby)
    share = min(1.0, want.load_w / (running * each)) if running > 0 and each > 0 else 0.0
    taken = running * float(power(model, want.w, want.a, share))
    spare = running * each / want.load_w - 1
    return MachineChoice(model, count, int(want.standby), each, taken, spare, tried)


@dataclass(frozen=True, slots=True, eq=False)
class Year:
    """Hours of a group of machines: what they meet, what is left [W], how many run, input [W]."""

    met_w: Array
    unmet_w: Array
    running: NDArray[np.int64]
    input_w: Array


def year(model: MachineModel, count: int, load_w: Array, w: ArrayLike, a: Array) -> Year:
    """Hours (n,) of `count` machines that share a load equally. Raises InputError for loads below 0 or no figures."""
    if not np.all(load_w >= 0):
        raise InputError("Loads of a year must be 0 or more", where="plant")
    each = capacity(model, w, a)
    wanted = np.where(each > 0, np.ceil(load_w / np.where(each > 0, each, 1.0) - 1e-9), 0)
    running = np.minimum(wanted, count).astype(np.int64)
    met = np.minimum(load_w, running * each)
    share = np.divide(met, running * each, out=np.zeros_like(met), where=running * each > 0)
    return Year(met, load_w - met, running, running * power(model, w, a, share))


def condenser_water(wet_bulb_c: ArrayLike) -> Array:
    """Water that a cooling tower gives back [degC]."""
    return np.maximum(np.asarray(wet_bulb_c, float) + TOWER_APPROACH_K, TOWER_LEAST_C)


class Recovered(NamedTuple):
    """Heat and cold at once: cold made with its heat used, that heat, its input [W]."""

    cold_w: Array
    heat_w: Array
    input_w: Array


def recover(model: MachineModel, cold_w: ArrayLike, heat_w: ArrayLike, w: ArrayLike, hot_c: ArrayLike) -> Recovered:
    """What a machine makes of both at once, its condenser at the hot water's temperature."""
    w, hot = np.asarray(w, float), np.asarray(hot_c, float)
    each = _polynomial(model.input, w, hot) / model.nominal_cop * float(_part(model, np.asarray(1.0)))
    cold = np.minimum(np.asarray(cold_w, float), np.asarray(heat_w, float) / (1 + each))
    return Recovered(cold, cold * (1 + each), cold * each)


class Pump(NamedTuple):
    """Flow [m3/s], head [Pa], power [W] at design."""

    flow_m3s: float
    head_pa: float
    power_w: float


def pump(
    heat_w: float, flow_c: float, back_c: float, machine_pa: float, coil_pa: float, pipe_m: float, glycol: float = 0.0
) -> Pump:
    """The pump of a circuit: machine, the coil that loses most with a valve of the same, pipes there and back.

    Raises InputError for a load below 0 or water with one temperature.
    """
    if not heat_w >= 0 or flow_c == back_c:
        raise InputError("A pump needs a load of 0 or more and two water temperatures", where="pump")
    of = water.liquid(0.5 * (flow_c + back_c), glycol)
    flow = heat_w / float(of.density * of.heat) / abs(flow_c - back_c)
    head = machine_pa + 2 * coil_pa + FITTINGS * PIPE_PA_M * 2 * pipe_m
    return Pump(flow, head, flow * head / PUMP_EFFICIENCY)


def pump_year(design_w: float, load_w: Array, design_load_w: float) -> Array:
    """Power of a pump [W] over hours: a base and the square of its flow while it runs."""
    y = np.clip(load_w / design_load_w, 0.2, 1.0)
    return np.where(load_w > 0, design_w * y * (PUMP_BASE + (1 - PUMP_BASE) * y**2), 0.0)


def early_pipe_m(floor_m2: float, storeys: int, storey_m: float) -> float:
    """Longest way of pipes [m] of a building that is not drawn yet: own estimate."""
    return 0.8 * math.sqrt(max(floor_m2, 0.0)) + storeys * storey_m


def machine_floor(model: MachineModel) -> float:
    """Floor of one machine with room to serve it [m2]."""
    return (model.length_m + 2 * model.service_m) * (model.width_m + 2 * model.service_m)


def indoors(model: MachineModel) -> bool:
    """Whether it stands in a plant room; those that cool or heat outdoor air stand on the roof."""
    return model.kind in ("chiller_water", "boiler")


def plant_room(machines: Sequence[tuple[MachineModel, int]]) -> float:
    """Floor of a plant room [m2] for its machines, their pumps, vessels and boards; 0 without any indoors."""
    inside = [(m, n) for m, n in machines if indoors(m)]
    if not inside:
        return 0.0
    floor = sum(machine_floor(m) * n for m, n in inside)
    return ROOM_FACTOR * floor + ROOM_MORE_M2 + ROOM_M2_KW * sum(m.nominal_w * n for m, n in inside) / 1000


def amps(power_w: float) -> float:
    """Current of a motor on three phases of 400 V [A]."""
    return power_w / (math.sqrt(3) * AMP_VOLTS * AMP_COS)
