"""Straight ducts: friction factor and pressure gradient (Darcy-Weisbach)."""

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

LAMINAR, TURBULENT = 2000.0, 4000.0
ROUGHEST = 0.05  # of the hydraulic diameter; the friction formulas reach no further
# Absolute roughness [m]; ASHRAE Handbook Fundamentals, duct design chapter, range classes.
ROUGHNESS_M = {
    "galvanised": 0.09e-3,
    "galvanised, short joints": 0.15e-3,
    "stainless": 0.03e-3,
    "aluminium": 0.03e-3,
    "plastic": 0.03e-3,
    "black steel": 0.05e-3,
    "fibre board": 0.9e-3,
    "concrete, smooth": 1.3e-3,
    "masonry shaft": 3.0e-3,
    "flexible": 3.0e-3,
    "flexible, metal": 1.5e-3,
    "lined": 0.9e-3,
}
MATERIALS = tuple(m for m in ROUGHNESS_M if m != "lined")  # a lining is put into a duct of one of these
FLEXIBLE = ("flexible", "flexible, metal")


def friction_factor(reynolds: ArrayLike, relative_roughness: ArrayLike) -> NDArray[np.float64]:
    """Darcy friction factor [-] of Reynolds number (0..1e8) and roughness / hydraulic diameter (0..0.05).

    The two broadcast; air at rest gives 0. Below Re 2000: 64/Re. Above 4000: Colebrook, by two Halley steps
    from Haaland's start (to rounding). Between: a cubic in logarithms, so that loss always rises with flow.
    Raises InputError naming the first bad element. Source: Colebrook (1939), J. Inst. Civ. Eng. 11.
    """
    re, rr = np.broadcast_arrays(np.asarray(reynolds, float), np.asarray(relative_roughness, float))
    bad = ~((re >= 0) & (re <= 1e8) & (rr >= 0) & (rr <= 0.05))
    if bad.any():
        i = int(np.flatnonzero(bad)[0])
        raise InputError(
            f"Friction needs Re 0..1e8 and roughness/diameter 0..0.05, got {re.flat[i]:g}, {rr.flat[i]:g}",
            where=f"element {i}",
            remedy="Check size, flow and material of that duct",
        )
    rough, slope = _colebrook(np.maximum(re, TURBULENT), rr)
    t = np.clip(np.log(np.maximum(re, LAMINAR) / LAMINAR) / np.log(TURBULENT / LAMINAR), 0, 1)
    span = np.log(TURBULENT / LAMINAR)
    low = np.log(64 / LAMINAR)
    between = (
        (2 * t**3 - 3 * t**2 + 1) * low
        + (t**3 - 2 * t**2 + t) * span * -1.0
        + (3 * t**2 - 2 * t**3) * np.log(rough)
        + (t**3 - t**2) * span * slope
    )
    return np.select([re <= LAMINAR, re < TURBULENT], [64.0 / np.where(re > 0, re, np.inf), np.exp(between)], rough)


def _colebrook(re: NDArray[Any], rr: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
    """(f, d ln f / d ln Re) of Colebrook's equation."""
    a, b, c = rr / 3.7, 2.51 / re, 2 / np.log(10)
    x = -1.8 * np.log10(6.9 / re + a**1.11)
    for _ in range(2):
        arg = a + b * x
        g, g1, g2 = x + c * np.log(arg), 1 + c * b / arg, -c * b**2 / arg**2
        x = x - 2 * g * g1 / (2 * g1**2 - g * g2)
    s = c * b / (a + b * x)
    return x**-2, -2 * s / (1 + s)


def gradient(
    flow_m3s: ArrayLike,
    area_m2: ArrayLike,
    hydraulic_m: ArrayLike,
    roughness_m: ArrayLike,
    density: float,
    viscosity: float,
) -> NDArray[np.float64]:
    """Friction [Pa/m] at a flow of 0 or more. Raises InputError for a section of 0."""
    area, dh = np.asarray(area_m2, float), np.asarray(hydraulic_m, float)
    if not (np.all(area > 0) and np.all(dh > 0)):
        raise InputError("A duct needs a section above 0", remedy="Give it a size")
    v = np.asarray(flow_m3s, float) / area
    f = friction_factor(density * v * dh / viscosity, np.asarray(roughness_m, float) / dh)
    answer: NDArray[Any] = f / dh * density * v**2 / 2
    return answer


def duct_gradient(
    flow_m3s: ArrayLike,
    area_m2: ArrayLike,
    hydraulic_m: ArrayLike,
    roughness_m: ArrayLike,
    compression_percent: ArrayLike,
    density: float,
    viscosity: float,
) -> NDArray[np.float64]:
    """Friction [Pa/m] of ducts of any material. Compressed flexible ducts lose more (compression 0: none); thin ones
    are rougher than the
    formulas reach: the end of their range holds.
    """
    # Rounding must not put the end of the range out of it.
    rough = np.minimum(np.asarray(roughness_m, float), ROUGHEST * (1 - 1e-12) * np.asarray(hydraulic_m, float))
    return gradient(flow_m3s, area_m2, hydraulic_m, rough, density, viscosity) * flexible_factor(
        hydraulic_m, compression_percent
    )


def flexible_factor(diameter_m: ArrayLike, compression_percent: ArrayLike = 4.0) -> NDArray[np.float64]:
    """How many times [-] the friction of the fully extended flexible duct its compressed state has (0..30 %).

    Source: ASHRAE Handbook Fundamentals, after Weaver and Culp (verify).
    """
    r = np.clip(np.asarray(compression_percent, float), 0.0, 30.0)
    answer: NDArray[Any] = 1 + 0.58 * r * np.exp(-4.96 * np.asarray(diameter_m, float))
    return answer
