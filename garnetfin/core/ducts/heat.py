"""Heat that ducts take up or lose: conductance through film, lining, insulation and film, temperature along a duct that
may leak, what its outside feels like to damp air.

Source: Gnielinski (heat transfer in ducts), EN ISO 12241 (films outside, layers), Langmuir's shape factor of edges.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
PRANDTL = 0.71
EDGE = 0.54  # of a corner, on thickness (Langmuir)
INSULATION_W_MK = 0.038
# Outside film of sheet or cladding indoors, on which c of EN ISO 12241 rests [W/m2K].
FINISH = {"bright": 2.5, "oxidised": 3.1, "galvanised": 4.0, "dusty": 5.3, "not metal": 8.5}
THICKNESSES_M = (0.013, 0.019, 0.025, 0.030, 0.040, 0.050, 0.060, 0.080, 0.100)
FILM_ROUNDS = 6


@dataclass(frozen=True, slots=True, eq=False)
class Wrapped:
    """Ducts (n,) for heat: clear inside, layers outward [m], air in them and around.

    width_m, height_m   clear inside; a round duct has its diameter in both
    round_              True for round, False for rectangular and oval (taken as rectangular)
    lining_m, insulation_m  thickness of the layers, 0 without; film c of the finish outside
    """

    width_m: Array
    height_m: Array
    round_: NDArray[np.bool_]
    lining_m: Array
    insulation_m: Array
    finish: Array
    upright: NDArray[np.bool_]
    velocity_m_s: Array
    density: float
    viscosity: float
    conductivity: float = INSULATION_W_MK  # of the layers [W/mK]

    @property
    def layers_m(self) -> Array:
        """Lining and insulation together [m]."""
        return np.asarray(self.lining_m + self.insulation_m)

    @property
    def inner_m(self) -> Array:
        """Perimeter inside [m]."""
        return np.asarray(np.where(self.round_, np.pi * self.width_m, 2 * (self.width_m + self.height_m)))

    @property
    def outer_m(self) -> Array:
        """Perimeter outside all layers [m]."""
        t = self.layers_m
        edges = 2 * (self.width_m + self.height_m) + 8 * t
        return np.asarray(np.where(self.round_, np.pi * (self.width_m + 2 * t), edges))

    @property
    def hydraulic_m(self) -> Array:
        """Hydraulic diameter of the clear inside [m]."""
        area = np.where(self.round_, np.pi / 4 * self.width_m**2, self.width_m * self.height_m)
        return np.asarray(4 * area / self.inner_m)


def inside_film(ducts: Wrapped, inside_c: ArrayLike) -> Array:
    """Film inside (n,) [W/m2K]: turbulent from Re 1e4, laminar below 2300, linear between."""
    lam = 0.02436 + 7.5e-5 * np.asarray(inside_c, float)
    re = ducts.density * ducts.velocity_m_s * ducts.hydraulic_m / ducts.viscosity

    def turbulent(r: Array) -> Array:
        return np.asarray(0.0214 * (r**0.8 - 100) * PRANDTL**0.4)

    low, high = 3.66, turbulent(np.array(1e4))
    between = low + (re - 2300) / (1e4 - 2300) * (high - low)
    nu = np.where(re >= 1e4, turbulent(np.maximum(re, 1e4)), np.where(re < 2300, low, between))
    return np.asarray(nu * lam / ducts.hydraulic_m)


def layer_resistance(ducts: Wrapped) -> Array:
    """Of lining and insulation together (n,) [mK/W]; the sheet between them is left out."""
    t = ducts.layers_m
    safe = np.maximum(t, 1e-12)
    pipe = np.log(1 + 2 * t / ducts.width_m) / (2 * np.pi * ducts.conductivity)
    box = 1 / (ducts.conductivity * (ducts.inner_m / safe + 4 * EDGE))
    return np.asarray(np.where(t > 0, np.where(ducts.round_, pipe, box), 0.0))


def _outside_film(ducts: Wrapped, apart_k: Array) -> Array:
    lying, upright = ducts.finish + 0.05 * apart_k, ducts.finish + 0.2 + 0.09 * apart_k
    return np.asarray(np.where(ducts.upright, upright, lying))


@dataclass(frozen=True, slots=True, eq=False)
class Conductance:
    """Conductance by length (n,) [W/mK], U on the inside, film outside [W/m2K], temperature of the outside [degC]."""

    k_w_mk: Array
    u_w_m2k: Array
    outside_w_m2k: Array
    outside_c: Array


def conductance(ducts: Wrapped, inside_c: ArrayLike, around_c: ArrayLike) -> Conductance:
    """What passes through ducts with air inside at inside_c in surroundings at around_c (n,) [degC].

    Raises InputError for a thickness below 0 or a section of nothing.
    """
    if not (np.all(ducts.width_m > 0) and np.all(ducts.height_m > 0) and np.all(ducts.layers_m >= 0)):
        raise InputError("A duct needs a section above 0 and layers of 0 or more", where="heat of ducts")
    inside, around = np.asarray(inside_c, float), np.asarray(around_c, float)
    hi = inside_film(ducts, inside)
    fixed = 1 / (hi * ducts.inner_m) + layer_resistance(ducts)
    ho = _outside_film(ducts, np.full(ducts.inner_m.shape, 5.0))
    k, outside = np.zeros_like(ho), np.zeros_like(ho)
    for _ in range(FILM_ROUNDS):
        k = 1 / (fixed + 1 / (ho * ducts.outer_m))
        outside = around + k * (inside - around) / (ho * ducts.outer_m)
        ho = _outside_film(ducts, np.abs(outside - around))
    return Conductance(k, k / ducts.inner_m, ho, outside)


def along(
    start_c: ArrayLike,
    k_w_k: ArrayLike,
    cp: ArrayLike,
    first_kg_s: ArrayLike,
    last_kg_s: ArrayLike,
    around_c: ArrayLike,
    entering_c: ArrayLike | None = None,
) -> Array:
    """Temperature at the end of ducts (n,) [degC] whose flow goes from first to last [kg/s]; less leaks out, more in.

    k_w_k conductance times length [W/K]; entering_c of air that leaks in, by rule that around.
    """
    t1, k, c, m1, m2, ta = np.broadcast_arrays(
        *(np.asarray(x, float) for x in (start_c, k_w_k, cp, first_kg_s, last_kg_s, around_c))
    )
    tl = ta if entering_c is None else np.broadcast_to(np.asarray(entering_c, float), ta.shape)
    g, more = k / c, m2 - m1
    flows = (m1 > 0) & (m2 > 0)
    a, b = np.where(flows, m1, 1.0), np.where(flows, m2, 1.0)
    still = np.abs(more) < 1e-9 * a
    plain = ta + (t1 - ta) * np.exp(-g / a)
    out = ta + (t1 - ta) * (b / a) ** (g / np.where(more < 0, -more, 1.0))
    inward = np.where(more > 0, more, 1.0)
    rests = (g * ta + inward * tl) / (g + inward)
    into = rests + (t1 - rests) * (a / b) ** (1 + g / inward)
    return np.asarray(np.where(~flows, ta, np.where(still, plain, np.where(more < 0, out, into))))


def least_thickness(ducts: Wrapped, inside_c: ArrayLike, around_c: ArrayLike, limit_c: ArrayLike) -> float | None:
    """The thinnest insulation of those sold [m] with which no duct is colder outside than its limit (n,) [degC]."""
    for t in THICKNESSES_M:
        wrapped = replace(ducts, insulation_m=np.full(ducts.inner_m.shape, t))
        if np.all(conductance(wrapped, inside_c, around_c).outside_c >= np.asarray(limit_c, float)):
            return t
    return None
