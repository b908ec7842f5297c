"""Opaque build-ups: exact periodic response of layered slabs, in hour means.

A slab answers a temperature swing of period 24 h/p with q_in = Y_i th_in - Y_t th_out (Carslaw and Jaeger;
ISO 13786). Inputs held for an hour hold harmonics above 12; folding them back gives the exact transfer from
hour means to hour means. Layers run from inside to outside.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

FOLDS = 2
HARMONICS = 13 + 24 * FOLDS  # 0..60
DAILY = 13  # harmonics of 24 hour means, 0..12


@dataclass(frozen=True, slots=True)
class Layer:
    """A homogeneous layer; `resistance_m2k_w` alone (above 0) makes it massless, e.g. an air gap."""

    thickness_m: float = 0.0
    conductivity_w_mk: float = 0.0
    density_kg_m3: float = 0.0
    specific_heat_j_kgk: float = 0.0
    resistance_m2k_w: float = 0.0

    def __post_init__(self) -> None:
        massless = self.resistance_m2k_w > 0
        if not massless and not (
            self.thickness_m > 0
            and self.conductivity_w_mk > 0
            and self.density_kg_m3 > 0
            and self.specific_heat_j_kgk > 0
        ):
            raise InputError(
                "A layer needs thickness, conductivity, density and specific heat above 0",
                remedy="Give all four, or a resistance alone",
            )

    @property
    def resistance(self) -> float:
        """[m2K/W] of the layer alone."""
        return self.resistance_m2k_w or self.thickness_m / self.conductivity_w_mk


@lru_cache(maxsize=1024)
def resistance(layers: tuple[Layer, ...]) -> float:
    """Sum of the layers' resistances [m2K/W], without films."""
    return sum(layer.resistance for layer in layers)


def admittances(
    layers: tuple[Layer, ...], outer_film_w_m2k: float | None
) -> tuple[NDArray[np.complex128], NDArray[np.complex128]]:
    """(Y_i, Y_t) [W/m2K], each (61,): the inside face's own and the transmitted response.

    outer_film_w_m2k    film at the far face, or None for an adiabatic back (Y_t is then 0)
    Layer matrices are scaled by exp(-Re g), so any thickness is safe.

    Raises InputError for a film of 0 or less.
    """
    if outer_film_w_m2k is not None and not outer_film_w_m2k > 0:
        raise InputError("The outer film must be above 0 W/m2K")
    w = 2 * np.pi * np.arange(HARMONICS) / 86400
    m11 = m22 = np.ones(HARMONICS, complex)
    m12 = m21 = np.zeros(HARMONICS, complex)
    shrink = np.zeros(HARMONICS)
    for layer in layers:
        r = layer.resistance
        if layer.resistance_m2k_w:
            a, b, c = 1.0, np.full(HARMONICS, r, complex), np.zeros(HARMONICS)
        else:
            capacity = layer.thickness_m * layer.density_kg_m3 * layer.specific_heat_j_kgk
            g = np.sqrt(1j * w * r * capacity)
            g[0] = 1.0
            small = np.exp(-2 * g)
            lag = np.exp(1j * g.imag)
            a, sinh = (1 + small) / 2 * lag, (1 - small) / 2 * lag
            b, c = r / g * sinh, g / r * sinh
            a[0], b[0], c[0] = 1.0, r, 0.0
            shrink = shrink + np.where(w > 0, g.real, 0.0)
        m11, m12, m21, m22 = m11 * a + m12 * c, m11 * b + m12 * a, m21 * a + m22 * c, m21 * b + m22 * a
    if outer_film_w_m2k is None:
        return m21 / m11, np.zeros(HARMONICS, complex)
    m12, m22 = m12 + m11 / outer_film_w_m2k, m22 + m21 / outer_film_w_m2k
    return m22 / m12, np.exp(-shrink) / m12


def _folding() -> tuple[NDArray[Any], NDArray[Any]]:
    """Constant real matrices (13, 61) that fold real and imaginary parts of a transfer function."""

    def share(p: int) -> float:
        return float(np.sinc(p / 24) ** 2)

    real, imaginary = np.zeros((DAILY, HARMONICS)), np.zeros((DAILY, HARMONICS))
    for n in range(DAILY):
        total = 0.0
        for m in range(-FOLDS, FOLDS + 1):
            p = n + 24 * m
            real[n, abs(p)] += share(p)
            imaginary[n, abs(p)] += np.sign(p) * share(p)
            total += share(p)
        real[n, HARMONICS - 1] += 1 - total
    return real, imaginary


_FOLD_REAL, _FOLD_IMAGINARY = _folding()


def fold(response: NDArray[np.complex128]) -> NDArray[np.complex128]:
    """Hour-mean to hour-mean transfer (..., 13) of a transfer function (..., 61)."""
    answer: NDArray[Any] = response.real @ _FOLD_REAL.T + 1j * (response.imag @ _FOLD_IMAGINARY.T)
    return answer
