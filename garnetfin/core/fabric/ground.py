"""Floors on the ground (ISO 13370)."""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import Layer

SOIL_CONDUCTIVITY = 2.0
SOIL = Layer(0.5, SOIL_CONDUCTIVITY, 2000.0, 1000.0)


def slab_u_value(
    area_m2: float, perimeter_m: float, floor_resistance_m2k_w: float, wall_thickness_m: float = 0.38
) -> float:
    """U-value [W/m2K] of a slab on ground, from inside air to the virtual ground temperature.

    Raises InputError without an area and a perimeter.
    """
    if not (area_m2 > 0 and perimeter_m > 0 and floor_resistance_m2k_w >= 0):
        raise InputError("A floor on ground needs an area and an exposed perimeter above 0")
    b = area_m2 / (perimeter_m / 2)
    dt = wall_thickness_m + SOIL_CONDUCTIVITY * (0.17 + floor_resistance_m2k_w + 0.04)
    if dt < b:
        return 2 * SOIL_CONDUCTIVITY / (math.pi * b + dt) * math.log(math.pi * b / dt + 1)
    return SOIL_CONDUCTIVITY / (0.457 * b + dt)


def with_soil(layers: tuple[Layer, ...], u_value_w_m2k: float) -> tuple[Layer, ...]:
    """The floor, half a metre of soil and the massless rest that gives the slab's U-value."""
    rest = 1 / u_value_w_m2k - 0.17 - sum(layer.resistance for layer in layers) - SOIL.resistance
    return (*layers, SOIL, Layer(resistance_m2k_w=rest)) if rest > 1e-6 else (*layers, SOIL)


def basement_u_values(
    area_m2: float,
    perimeter_m: float,
    depth_m: float,
    floor_resistance_m2k_w: float,
    wall_resistance_m2k_w: float,
    wall_thickness_m: float = 0.38,
) -> tuple[float, float]:
    """(floor, wall) U-values [W/m2K] of a heated basement `depth_m` below the ground (ISO 13370).

    Raises InputError without a depth, an area and a perimeter.
    """
    if not (
        depth_m > 0 and area_m2 > 0 and perimeter_m > 0 and floor_resistance_m2k_w >= 0 and wall_resistance_m2k_w >= 0
    ):
        raise InputError("A basement needs a depth, an area and a perimeter above 0")
    b = area_m2 / (perimeter_m / 2)
    dt = wall_thickness_m + SOIL_CONDUCTIVITY * (0.17 + floor_resistance_m2k_w + 0.04)
    deep = dt + depth_m / 2
    if deep < b:
        floor = 2 * SOIL_CONDUCTIVITY / (math.pi * b + deep) * math.log(math.pi * b / deep + 1)
    else:
        floor = SOIL_CONDUCTIVITY / (0.457 * b + deep)
    dw = SOIL_CONDUCTIVITY * (0.13 + wall_resistance_m2k_w + 0.04)
    dt = min(dt, dw)
    wall = 2 * SOIL_CONDUCTIVITY / (math.pi * depth_m) * (1 + 0.5 * dt / (dt + depth_m)) * math.log(depth_m / dw + 1)
    return floor, wall


def ground_months(
    annual_mean_c: float, month_means_c: NDArray[Any], damping: float = 0.25, lag_months: int = 1
) -> NDArray[Any]:
    """Virtual ground temperature of the twelve months [degC]: the year's mean and a damped, late part of the months'.

    In the manner of the annex of ISO 13370, whose periodic part is about a quarter of the air's swing a month late.
    """
    swing = np.roll(np.asarray(month_means_c, float) - float(np.mean(month_means_c)), lag_months)
    return annual_mean_c + damping * swing
