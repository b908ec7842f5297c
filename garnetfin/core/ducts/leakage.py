"""Air that leaks out of ducts, or into them, by class, surface and static pressure.

Source: EN 12237, EN 1507 (limits of classes A to D, exponent 0.65); mean along a duct of linear pressure in closed
form.
"""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
EXPONENT = 0.65
CLASS_C = {"A": 27e-6, "B": 9e-6, "C": 3e-6, "D": 1e-6}  # m3/(s m2 Pa^0.65)
NEAR_PA = 1e-3  # ends whose pressures differ by less have one


def leak_coefficient(class_name: str) -> float:
    """Leak of a class [m3/(s m2 Pa^0.65)]. Raises InputError for a class that is none."""
    if class_name not in CLASS_C:
        raise InputError(f"There is no class of tightness “{class_name}”", remedy="Take one of: " + ", ".join(CLASS_C))
    return CLASS_C[class_name]


def at_pressure(static_pa: ArrayLike) -> Array:
    """|p|^0.65 with the sign of p [Pa^0.65]: above 0 air leaves."""
    p = np.asarray(static_pa, float)
    return np.asarray(np.sign(p) * np.abs(p) ** EXPONENT)


def mean_along(first_pa: ArrayLike, last_pa: ArrayLike) -> Array:
    """Mean of `at_pressure` along a duct whose static pressure runs straight between its ends [Pa^0.65]."""
    p1, p2 = np.broadcast_arrays(np.asarray(first_pa, float), np.asarray(last_pa, float))
    apart = p2 - p1
    same = np.abs(apart) < NEAR_PA
    integral = (np.abs(p2) ** (1 + EXPONENT) - np.abs(p1) ** (1 + EXPONENT)) / (1 + EXPONENT)
    return np.where(same, at_pressure((p1 + p2) / 2), integral / np.where(same, 1.0, apart))


def leak(coefficient: ArrayLike, surface_m2: ArrayLike, first_pa: ArrayLike, last_pa: ArrayLike) -> Array:
    """Leak of ducts [m3/s] by class coefficient, surface and the static pressures at their ends; above 0 air leaves."""
    return np.asarray(np.asarray(coefficient, float) * np.asarray(surface_m2, float) * mean_along(first_pa, last_pa))
