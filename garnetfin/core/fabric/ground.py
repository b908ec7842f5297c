"""Floors on the ground (ISO 13370)."""

import math

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import Layer

SOIL_CONDUCTIVITY = 2.0
SOIL = Layer(0.5, SOIL_CONDUCTIVITY, 2000.0, 1000.0)


def slab_u_value(area_m2: float, perimeter_m: float, floor_resistance_m2k_w: float,
                 wall_thickness_m: float = 0.38) -> float:
    """U-value [W/m2K] of a slab on ground, from inside air to the virtual ground temperature."""
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
