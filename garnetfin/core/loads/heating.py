"""Heating load, steady (in the manner of EN 12831-1:2017)."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

HEATING_CAUSES = ("walls and roofs", "glass conduction", "unheated beside", "ground", "infiltration", "warm-up")
GROUND_FACTOR = 1.45


@dataclass(frozen=True, slots=True, eq=False)
class HeatingLoads:
    """by_cause_w (causes, rooms) in the order of HEATING_CAUSES; total_w (rooms,), never below 0."""

    total_w: NDArray[np.float64]
    by_cause_w: NDArray[np.float64]


def heating_loads(fabric_w_k: NDArray, glass_w_k: NDArray, unheated_w_k: NDArray, ground_ua_w_k: NDArray,
                  air_m3s: NDArray, warm_up_w: NDArray, inside_c: NDArray, outside_c: float, annual_mean_c: float,
                  pressure_pa: float) -> HeatingLoads:
    """Loads [W] of rooms (rooms,) at one design temperature.

    fabric_w_k, glass_w_k   sum of A (U + dU_bridges) to outdoors
    unheated_w_k            sum of A U b to unheated rooms
    ground_ua_w_k           sum of A U_equiv of ISO 13370, without the factor 1.45
    air_m3s                 greater of infiltration and hygienic minimum
    warm_up_w               reheat after a setback, added as it is
    Rooms that want no more than the outdoor temperature get 0.
    """
    rise = inside_c - outside_c
    ground = GROUND_FACTOR * ground_ua_w_k * (inside_c - annual_mean_c)
    volume_heat = 0.34 * 3600 * pressure_pa / 101325.0
    parts = np.array([fabric_w_k * rise, glass_w_k * rise, unheated_w_k * rise, ground,
                      volume_heat * air_m3s * rise, warm_up_w])
    parts = np.where(rise > 0, parts, 0.0)
    total = np.maximum(parts.sum(axis=0), 0.0)
    return HeatingLoads(total, parts)
