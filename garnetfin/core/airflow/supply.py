"""Room supply air: what each need asks for, and which one governs."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

NEEDS = ("cooling", "heating", "outdoor air", "air change")
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
    """Up to the step of its size; a flow on a step stays."""
    flow = np.asarray(flow_m3s, float)
    step = np.select([flow < limit for limit, _ in STEPS], [s for _, s in STEPS])
    return np.ceil(np.round(flow / step, 6)) * step


def cooling_flow(load_w: ArrayLike, room_c: ArrayLike, supply_c: ArrayLike, heat_j_m3k: float) -> NDArray[np.float64]:
    """Flow [m3/s at local standard density] that removes a sensible load; heat_j_m3k = dry-air density x cp."""
    rise = np.asarray(room_c, float) - np.asarray(supply_c, float)
    return np.maximum(0.0, np.asarray(load_w, float)) / (heat_j_m3k * np.where(rise > 0, rise, np.nan))


def room_flows(cooling_w: NDArray, heating_w: NDArray, outdoor_m3s: NDArray, air_change_m3s: NDArray,
               room_c: NDArray, supply_c: ArrayLike, warm_limit_k: float, heat_j_m3k: float) -> RoomFlows:
    """Supply flow of rooms (rooms,) as the greatest need; ties go to the first in NEEDS.

    supply_c        of the system (scalar), or of each room (rooms,)
    warm_limit_k    how much warmer than the room heating air may be (11 K for ceiling outlets)
    Raises InputError where the supply air is no colder than a room that needs cooling.
    """
    hopeless = (cooling_w > 0) & (room_c <= supply_c)
    if hopeless.any():
        raise InputError("Supply air must be colder than the room it cools", where=f"room {int(np.argmax(hopeless))}",
                         remedy="Lower the supply temperature or raise the set-point")
    if not warm_limit_k > 0:
        raise InputError("Heating air must be allowed above 0 K warmer than the room")
    needs = np.array([np.nan_to_num(cooling_flow(cooling_w, room_c, supply_c, heat_j_m3k)),
                      np.maximum(heating_w, 0) / (heat_j_m3k * warm_limit_k), outdoor_m3s, air_change_m3s])
    exact = needs.max(axis=0)
    return RoomFlows(needs, np.where(exact > 0, needs.argmax(axis=0), -1), exact, round_up(exact))
