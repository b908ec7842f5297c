"""Water and glycol in tubes: properties, friction, heat passed to the wall.

Water is a fit to IAPWS-95 at 2..95 degC (0.02 % of rho cp, 0.4 % of k, 0.2 % of mu); glycol is ethylene glycol by
mass share. Friction and heat after Gnielinski (VDI Heat Atlas, part G1). Methods: Water.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
LAMINAR, TURBULENT = 2300.0, 4000.0
STRAIGHT_BEND, IN_AND_OUT = 1.5, 3.0  # losses of a return bend and of both headers, on the velocity pressure
WATER_C, GLYCOL_C = (2.0, 95.0), (-10.0, 60.0)

# Rising powers of t [degC]; of viscosity its logarithm.
_WATER = {
    "density": (1000.19, 0.0133833, -0.0058669, 1.58529e-5),
    "heat": (4216.42, -2.77643, 0.0695814, -7.11294e-4, 2.94356e-6),
    "conductivity": (0.558576, 2.12966e-3, -9.62888e-6),
    "log_viscosity": (-6.32789, -0.0338974, 2.85683e-4, -1.93942e-6, 6.29529e-9),
}
_GLYCOL = {
    0.2: {
        "density": (1029.1, -0.38),
        "heat": (3860.8, 1.81),
        "conductivity": (0.48414, 0.00112),
        "log_viscosity": (-5.7516, -0.03485, 0.000165),
    },
    0.3: {
        "density": (1045.1, -0.46),
        "heat": (3658.1, 2.86),
        "conductivity": (0.44592, 0.00093),
        "log_viscosity": (-5.4497, -0.03657, 0.000165),
    },
    0.4: {
        "density": (1060.5, -0.53),
        "heat": (3434.2, 4.0),
        "conductivity": (0.4099, 0.00077),
        "log_viscosity": (-5.1480, -0.03900, 0.000178),
    },
}
_FREEZES = {0.0: 0.0, 0.2: -8.0, 0.3: -14.6, 0.4: -23.8}


@dataclass(frozen=True, slots=True, eq=False)
class Liquid:
    """Density [kg/m3], specific heat [J/kgK], conductivity [W/mK], dynamic viscosity [Pa s]."""

    density: Array
    heat: Array
    conductivity: Array
    viscosity: Array


def _polynomial(powers: tuple[float, ...], t: Array) -> Array:
    answer: NDArray[Any] = np.polynomial.polynomial.polyval(t, np.asarray(powers, float))
    return answer


def freezes_at(glycol: float) -> float:
    """[degC] at which water with a share of glycol by mass of 0..0.4 begins to freeze."""
    return float(np.interp(glycol, list(_FREEZES), list(_FREEZES.values())))


def liquid(t: ArrayLike, glycol: float = 0.0) -> Liquid:
    """Properties at t [degC] of water with a share of ethylene glycol by mass of 0, or 0.2..0.4.

    Raises InputError beyond 2..95 degC (with glycol -10..60 degC), below freezing, or for another share.
    """
    t = np.asarray(t, float)
    if glycol and not 0.2 <= glycol <= 0.4:
        raise InputError(f"A share of glycol of {glycol:g} is not known", remedy="Take 0, or 0.2 to 0.4")
    low, high = GLYCOL_C if glycol else WATER_C
    if not np.all((t >= max(low, freezes_at(glycol))) & (t <= high)):
        raise InputError(f"Water must have {low:g} to {high:g} °C, got {float(t.min()):g}", where="water")
    if not glycol:
        found = {name: _polynomial(powers, t) for name, powers in _WATER.items()}
    else:
        lower, upper = (0.2, 0.3) if glycol <= 0.3 else (0.3, 0.4)
        x = (glycol - lower) / (upper - lower)
        found = {
            name: (1 - x) * _polynomial(_GLYCOL[lower][name], t) + x * _polynomial(_GLYCOL[upper][name], t)
            for name in _WATER
        }
    return Liquid(found["density"], found["heat"], found["conductivity"], np.exp(found["log_viscosity"]))


def reynolds(velocity_m_s: ArrayLike, diameter_m: float, of: Liquid) -> Array:
    """Reynolds number [-] in tubes of an inner diameter."""
    answer: NDArray[Any] = np.asarray(velocity_m_s, float) * diameter_m * of.density / of.viscosity
    return answer


def _blend(re: Array, laminar: Array | float, turbulent: Array) -> Array:
    """Between laminar and turbulent flow straight from one to the other, as nobody knows which it is."""
    x = np.clip((re - LAMINAR) / (TURBULENT - LAMINAR), 0.0, 1.0)
    answer: NDArray[Any] = (1 - x) * laminar + x * turbulent
    return answer


def friction_factor(re: ArrayLike) -> Array:
    """Darcy's friction factor [-] of smooth tubes; between 2300 and 4000 linear in the Reynolds number."""
    number: Array = np.maximum(np.asarray(re, float), 1.0)
    laminar = 64 / np.minimum(number, LAMINAR)
    return _blend(number, laminar, (0.79 * np.log(np.maximum(number, TURBULENT)) - 1.64) ** -2)


def film(velocity_m_s: ArrayLike, diameter_m: float, of: Liquid) -> Array:
    """Heat passed between water and the wall of a tube [W/m2K]; laminar 4.36 k/d, turbulent after Gnielinski."""
    re = reynolds(velocity_m_s, diameter_m, of)
    prandtl = of.viscosity * of.heat / of.conductivity
    high = np.maximum(re, TURBULENT)
    eighth = friction_factor(high) / 8
    turbulent = eighth * (high - 1000) * prandtl / (1 + 12.7 * np.sqrt(eighth) * (prandtl ** (2 / 3) - 1))
    answer: NDArray[Any] = _blend(re, 4.36, turbulent) * of.conductivity / diameter_m
    return answer


def tube_drop(velocity_m_s: ArrayLike, diameter_m: float, length_m: ArrayLike, bends: ArrayLike, of: Liquid) -> Array:
    """Pressure drop [Pa] of one circuit of a coil: its tubes, its return bends and both headers."""
    friction = friction_factor(reynolds(velocity_m_s, diameter_m, of))
    lost = friction * np.asarray(length_m, float) / diameter_m + STRAIGHT_BEND * np.asarray(bends, float) + IN_AND_OUT
    answer: NDArray[Any] = lost * of.density * np.asarray(velocity_m_s, float) ** 2 / 2
    return answer
