"""Room heat balance: how heat at every face reaches the air, by harmonic.

Nodes of a room: air, mean radiant star, inside face of every surface. With fixed coefficients the
balance is linear, so each harmonic is eliminated by itself and folded to hour means: exact, with all rooms,
months and hours at once. Positive load = heat that must be removed (cooling).

Source: ISO 13786 for the response of each face.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import DAILY, fold

STEFAN_BOLTZMANN = 5.670374e-8
HR_USUAL = 5.5  # radiant coefficient of a face seen through a partition, where its own room is not at hand [W/m2K]


@dataclass(frozen=True, slots=True, eq=False)
class Surfaces:
    """Inside faces of all rooms, sorted by room: arrays (surfaces,), responses (surfaces, 61)."""

    room: NDArray[np.intp]
    area_m2: NDArray[np.float64]
    hc_w_m2k: NDArray[np.float64]
    hr_w_m2k: NDArray[np.float64]
    y_in: NDArray[np.complex128]
    y_through: NDArray[np.complex128]

    def __post_init__(self) -> None:
        if len(self.room) and np.any(np.diff(self.room) < 0):
            raise InputError("Surfaces must be sorted by room")
        bad = ~((self.area_m2 > 0) & (self.hc_w_m2k > 0) & (self.hr_w_m2k > 0))
        if bad.any():
            raise InputError("A surface needs an area and films above 0", where=f"surface {int(np.argmax(bad))}")


@dataclass(frozen=True, slots=True, eq=False)
class RoomResponse:
    """How heat reaches the air of a room held at its temperature, folded to harmonics 0..12; the star's as they are.

    air (rooms, 13)         heat per K of air temperature [W/K]
    per_flux (surfaces, 13) heat per W/m2 absorbed at a surface [m2]
    through (surfaces, 13)  heat per K behind a surface [W/K]
    star (rooms, 13)        heat per W of long-wave radiant gain [-]; also the star's own K per K of air
    star_flux (surfaces, 13) K of the star per W/m2 absorbed at a surface
    star_gain (rooms, 13)   K of the star per W of radiant gain
    star_through (surfaces, 13) K of the star per K behind a surface
    """

    air: NDArray[np.complex128]
    per_flux: NDArray[np.complex128]
    through: NDArray[np.complex128]
    star: NDArray[np.complex128]
    star_flux: NDArray[np.complex128]
    star_through: NDArray[np.complex128]
    star_gain: NDArray[np.complex128]


def radiant_films(
    room: NDArray[Any], area_m2: NDArray[Any], emittance: float = 0.9, mean_k: float = 299.15
) -> NDArray[Any]:
    """Surface-to-star coefficients hr [W/m2K] (surfaces,) from areas alone.

    Mean radiant temperature method, Carroll (1980): F = 1/(1 - A F / sum A F), iterated with damping;
    the share A F / sum A F is capped at 0.45.
    """
    starts = np.flatnonzero(np.diff(room, prepend=-1))
    which = np.cumsum(np.diff(room, prepend=-1) != 0) - 1
    f = np.ones(len(room))
    for _ in range(40):
        share = np.minimum(0.45, area_m2 * f / np.add.reduceat(area_m2 * f, starts)[which])
        f = 0.5 * f + 0.5 / (1 - share)
    return 4 * STEFAN_BOLTZMANN * mean_k**3 / (1 / f + (1 - emittance) / emittance)


def respond(surfaces: Surfaces) -> RoomResponse:
    """Eliminate surfaces and star per harmonic and fold. Every room must own at least one surface."""
    starts = np.flatnonzero(np.diff(surfaces.room, prepend=-1))
    which = np.cumsum(np.diff(surfaces.room, prepend=-1) != 0) - 1
    area, hc, hr = (x[:, None] for x in (surfaces.area_m2, surfaces.hc_w_m2k, surfaces.hr_w_m2k))
    d = surfaces.y_in + (hc + hr)
    k_r = np.add.reduceat(area * hr * (1 - hr / d), starts, axis=0)
    b = np.add.reduceat(area * hc * hr / d, starts, axis=0)
    a0 = np.add.reduceat(area * hc * (1 - hc / d), starts, axis=0)
    star = b / k_r
    per_flux = area * (hc + hr * star[which]) / d
    # The star's own temperature is looked at and felt beyond partitions, never balanced: plain harmonics do.
    star_flux = area * hr / (d[:, :DAILY] * k_r[which, :DAILY])
    return RoomResponse(
        fold(a0 - b * star),
        fold(per_flux),
        fold(per_flux * surfaces.y_through),
        fold(star),
        star_flux,
        star_flux * surfaces.y_through[:, :DAILY],
        1 / k_r[:, :DAILY],
    )


def day_spectrum(hours: NDArray[Any]) -> NDArray[np.complex128]:
    """Harmonics 0..12 (..., 13) of hour means (..., 24)."""
    return np.fft.rfft(hours, axis=-1)


def day_hours(spectrum: NDArray[Any]) -> NDArray[np.float64]:
    """Hour means (..., 24) of harmonics (..., 13), in their unit [any]."""
    return np.fft.irfft(spectrum, 24, axis=-1)


def sum_by(groups: NDArray[np.intp], count: int, rows: NDArray[Any]) -> NDArray[Any]:
    """Rows (n, ...) added up by group number into (count, ...)."""
    total = np.zeros((count, *rows.shape[1:]), rows.dtype)
    if len(groups):
        order = np.argsort(groups, kind="stable")
        ranked = groups[order]
        starts = np.flatnonzero(np.diff(ranked, prepend=-1))
        total[ranked[starts]] = np.add.reduceat(rows[order], starts, axis=0)
    return total
