"""Room supply air: what each need asks for, and which one governs.

Source: ASHRAE Handbook Fundamentals, air and water of a room; rounding is our own.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError, SupplyTooWarm
from garnetfin.core.psychro import properties as air

NEEDS = ("cooling", "latent", "heating", "outdoor air", "air change", "make-up")
# Flows are rounded up, never down: (below this flow [m3/s], to this step [m3/s]).
STEPS = ((0.25, 0.005), (1.0, 0.010), (np.inf, 0.025))


@dataclass(frozen=True, slots=True, eq=False)
class RoomFlows:
    """needs_m3s (needs, rooms) in the order of NEEDS; governs (rooms,) is the row of the greatest, -1 for no flow."""

    needs_m3s: NDArray[np.float64]
    governs: NDArray[np.intp]
    exact_m3s: NDArray[np.float64]
    rounded_m3s: NDArray[np.float64]


def round_up(flow_m3s: ArrayLike) -> NDArray[np.float64]:
    """Flows [m3/s] up to the step of their size; a flow on a step stays."""
    flow = np.asarray(flow_m3s, float)
    step = np.select([flow < limit for limit, _ in STEPS], [s for _, s in STEPS])
    answer: NDArray[Any] = np.ceil(np.round(flow / step, 6)) * step
    return answer


def cooling_flow(load_w: ArrayLike, room_c: ArrayLike, supply_c: ArrayLike, heat_j_m3k: float) -> NDArray[np.float64]:
    """Flow [m3/s at local standard density] that removes a sensible load; heat_j_m3k = dry-air density x cp."""
    rise = np.asarray(room_c, float) - np.asarray(supply_c, float)
    answer: NDArray[Any] = np.maximum(0.0, np.asarray(load_w, float)) / (heat_j_m3k * np.where(rise > 0, rise, np.nan))
    return answer


def latent_flow(
    latent_w: ArrayLike, room_c: ArrayLike, most_w: ArrayLike, supply_w: ArrayLike, density_kg_m3: float
) -> NDArray[np.float64]:
    """Flow [m3/s] that carries the moisture of a room away below a humidity ratio; inf where the supply air is no
    drier.

    density_kg_m3 is dry air in a cubic metre at local standard density.
    """
    moisture = np.maximum(0.0, np.asarray(latent_w, float)) / air.vapour_enthalpy(room_c)
    drier = np.asarray(most_w, float) - np.asarray(supply_w, float)
    flow = moisture / (np.where(drier > 0, drier, 1.0) * density_kg_m3)
    return np.where(moisture > 0, np.where(drier > 0, flow, np.inf), 0.0)


def room_flows(
    cooling_w: NDArray[Any],
    heating_w: NDArray[Any],
    outdoor_m3s: NDArray[Any],
    air_change_m3s: NDArray[Any],
    room_c: NDArray[Any],
    supply_c: ArrayLike,
    warm_limit_k: float,
    heat_j_m3k: float,
    latent_m3s: ArrayLike = 0.0,
    make_up_m3s: ArrayLike = 0.0,
    carried: NDArray[np.bool_] | None = None,
    pinned: ArrayLike = -1,
) -> RoomFlows:
    """Supply flow of rooms (rooms,) as the greatest need; ties go to the first in NEEDS.

    supply_c        of the system (scalar), or of each room (rooms,)
    warm_limit_k    how much warmer than the room heating air may be (11 K for ceiling outlets)
    latent_m3s, make_up_m3s  needs computed before (rooms,); an infinite one does not govern, it is a finding
    pinned          row of NEEDS that governs whatever the others ask, -1 for the greatest
    carried         (needs, rooms): whether the air has to meet it; others are met by something else and only shown.
                    None: all
    Raises InputError where the supply air is no colder than a room that needs cooling by air.
    """
    meets = np.ones((len(NEEDS), len(cooling_w)), bool) if carried is None else carried
    hopeless = (cooling_w > 0) & (room_c <= supply_c) & meets[NEEDS.index("cooling")]
    if hopeless.any():
        raise SupplyTooWarm(
            "Supply air must be colder than the room it cools",
            where=f"room {int(np.argmax(hopeless))}",
            remedy="Lower the supply temperature or raise the set-point",
        )
    if not warm_limit_k > 0:
        raise InputError("Heating air must be allowed above 0 K warmer than the room")
    zero = np.zeros(len(cooling_w))
    needs = np.array(
        [
            np.nan_to_num(cooling_flow(cooling_w, room_c, supply_c, heat_j_m3k)),
            latent_m3s + zero,
            np.maximum(heating_w, 0) / (heat_j_m3k * warm_limit_k),
            outdoor_m3s,
            air_change_m3s,
            make_up_m3s + zero,
        ]
    )
    counted = np.where(np.isfinite(needs) & meets, needs, 0.0)
    row = np.where(np.asarray(pinned) + zero >= 0, np.asarray(pinned) + zero, counted.argmax(axis=0)).astype(np.intp)
    one = np.where(np.isfinite(needs), needs, 0.0)[row, np.arange(len(row))]
    exact = np.where(np.asarray(pinned) + zero >= 0, one, counted.max(axis=0))
    return RoomFlows(needs, np.where(exact > 0, row, -1), exact, round_up(exact))


@dataclass(frozen=True, slots=True, eq=False)
class VariableFlows:
    """Flow through the hours (rooms, hours) [m3/s], its greatest sum, and that over the sum of the rooms' greatest
    flows.
    """

    flow_m3s: NDArray[np.float64]
    block_m3s: float
    block_hour: int
    diversity: float


def variable_flows(wanted_m3s: NDArray[Any], least_m3s: NDArray[Any], most_m3s: NDArray[Any]) -> VariableFlows:
    """Rooms whose flow follows the load: wanted (rooms, hours), never below least or above most (rooms,)."""
    flow = np.clip(wanted_m3s, np.minimum(least_m3s, most_m3s)[:, None], most_m3s[:, None])
    together = flow.sum(axis=0)
    at = int(together.argmax())
    peaks = float(flow.max(axis=1).sum())
    return VariableFlows(flow, float(together[at]), at, float(together[at]) / peaks if peaks > 0 else 1.0)
