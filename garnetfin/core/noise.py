"""Noise of air systems in octave bands, first level: what makes it, what takes it on the way, what is heard in a room.

Levels in dB: sound power re 1 pW, sound pressure re 20 uPa; bands 63 Hz to 8 kHz along the last axis. Methods: Noise.
"""

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
BANDS_HZ = np.array([63.0, 125, 250, 500, 1000, 2000, 4000, 8000])
A_WEIGHT = np.array([-26.2, -16.1, -8.6, -3.2, 0.0, 1.2, 1.0, -1.1])
SOUND_M_S = 343.0
LEAST_DB = -60.0
NC = np.arange(15, 66, 5)
NC_TABLE = np.array(
    [
        [47, 36, 29, 22, 17, 14, 12, 11],
        [51, 40, 33, 26, 22, 19, 17, 16],
        [54, 44, 37, 31, 27, 24, 22, 21],
        [57, 48, 41, 35, 31, 29, 28, 27],
        [60, 52, 45, 40, 36, 34, 33, 32],
        [64, 56, 50, 45, 41, 39, 38, 37],
        [67, 60, 54, 49, 46, 44, 43, 42],
        [71, 64, 58, 54, 51, 49, 48, 47],
        [74, 67, 62, 58, 56, 54, 53, 52],
        [77, 71, 67, 63, 61, 59, 58, 57],
        [80, 75, 71, 68, 66, 64, 63, 62],
    ],
    float,
)
NR_A = np.array([35.5, 22, 12, 4.8, 0, -3.5, -6.1, -8])
NR_B = np.array([0.79, 0.87, 0.93, 0.974, 1, 1.015, 1.025, 1.03])
# Octave bands against the total [dB], own estimates until a spectrum is typed; normalised below.
FAN_SHAPE = {
    "backward": (-5, -4, -5, -8, -12, -16, -21, -26),
    "forward": (-2, -6, -11, -15, -19, -23, -27, -31),
    "axial": (-8, -7, -5, -5, -7, -10, -14, -19),
}
TERMINAL_SHAPE = (0, 0, -1, -4, -8, -13, -19, -26)
# Attenuation [dB/m] by greatest side up to [m]; after VDI 2081, to be checked before signing.
ROUND_DB_M = (
    (0.2, (0.1, 0.1, 0.15, 0.15, 0.3, 0.3, 0.3, 0.3)),
    (0.4, (0.05, 0.1, 0.1, 0.15, 0.2, 0.2, 0.2, 0.2)),
    (0.8, (0.0, 0.05, 0.05, 0.1, 0.15, 0.15, 0.15, 0.15)),
    (9.0, (0.0, 0.0, 0.0, 0.05, 0.05, 0.05, 0.05, 0.05)),
)
SHEET_DB_M = (
    (0.2, (0.6, 0.6, 0.45, 0.3, 0.3, 0.3, 0.3, 0.3)),
    (0.4, (0.6, 0.6, 0.45, 0.3, 0.2, 0.2, 0.2, 0.2)),
    (0.8, (0.6, 0.6, 0.3, 0.15, 0.15, 0.15, 0.15, 0.15)),
    (9.0, (0.45, 0.3, 0.15, 0.1, 0.05, 0.05, 0.05, 0.05)),
)
# Own estimates: what a lining of 25 mm and flexible duct take beside it, a bend, a splitter silencer of about a metre.
LINED_DB_M, FLEXIBLE_DB_M = (0.5, 1, 2, 5, 8, 8, 6, 4), (0.5, 1, 2, 3, 4, 5, 5, 4)
BEND_DB, SILENCER_DB = (0, 0, 0, 1, 2, 3, 3, 3), (3, 6, 12, 20, 25, 22, 15, 10)
# What a damper near an outlet adds by the ratio of pressures (ASHRAE Handbook Applications): in the neck, in a plenum
# inlet, far upstream.
DAMPER_RATIO = np.array([1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 6.0])
DAMPER_DB = {
    "neck": np.array([0, 5, 9, 12, 15, 18, 24.0]),
    "plenum": np.array([0, 2, 3, 4, 5, 6, 9.0]),
    "upstream": np.array([0, 0, 0, 0, 2, 3, 5.0]),
}
UPSTREAM_M = 1.5


def add(levels: ArrayLike, axis: int = 0) -> Array:
    """Levels together: 10 lg of the sum of their powers."""
    answer: NDArray[Any] = 10 * np.log10(
        np.maximum(np.sum(10 ** (np.asarray(levels, float) / 10), axis=axis), 10 ** (LEAST_DB / 10))
    )
    return answer


def weighted(levels: ArrayLike) -> Array:
    """Level [dB(A)] of bands (..., 8) [dB]."""
    return add(np.asarray(levels, float) + A_WEIGHT, axis=-1)


def shaped(total_db: ArrayLike, shape: ArrayLike, a_weighted: bool = False) -> Array:
    """Bands (..., 8) [dB] of totals (...) by a shape; the shape is moved so that the bands add up to the total, or to
    it in
    dB(A).
    """
    s = np.asarray(shape, float)
    return s + np.asarray(np.asarray(total_db, float) - (weighted(s) if a_weighted else add(s, axis=-1)))[..., None]


def duct_power(velocity_m_s: ArrayLike, area_m2: ArrayLike) -> Array:
    """Sound power that flow makes in straight ducts, 7 + 50 lg v + 10 lg S, not below 0. Source: VDI 2081."""
    answer: NDArray[Any] = np.maximum(7 + 50 * np.log10(np.maximum(velocity_m_s, 1e-3)) + 10 * np.log10(area_m2), 0.0)
    return answer


def duct_bands(velocity_m_s: ArrayLike, area_m2: ArrayLike) -> Array:
    """The same in octave bands (..., 8) [dB], split by -2 - 26 lg(1.14 + 0.02 f/v) and moved to add up to the total.

    Source: VDI 2081.
    """
    v = np.maximum(velocity_m_s, 0.1)
    return shaped(duct_power(v, area_m2), duct_split(v))


def duct_split(velocity_m_s: ArrayLike) -> Array:
    """How sound of flow in straight ducts lies over the bands (..., 8) [dB], moved to no total.

    Source: VDI 2081.
    """
    v = np.maximum(velocity_m_s, 0.1)
    answer: NDArray[Any] = -2 - 26 * np.log10(1.14 + 0.02 * BANDS_HZ / np.asarray(v)[..., None])
    return answer


@lru_cache(maxsize=1024)
def along(side_m: float, is_round: bool, lined: bool = False, flexible: bool = False) -> Array:
    """Attenuation of a straight duct [dB/m] (8,)."""
    row = next(v for most, v in (ROUND_DB_M if is_round else SHEET_DB_M) if side_m <= most)
    found = (
        np.array(FLEXIBLE_DB_M, float)
        if flexible
        else np.array(row, float) + (np.array(LINED_DB_M, float) if lined else 0.0)
    )
    found.flags.writeable = False
    return found


def open_end(diameter_m: ArrayLike, flush: bool = True) -> Array:
    """End reflection [dB] of outlets (...) in bands (..., 8): 10 lg(1 + (0.8 c / (pi f D))^1.88) where the outlet
    lies in a
    wall or ceiling, without
    0.8 in free space.

    Raises InputError for a diameter of 0.
    """
    d = np.asarray(diameter_m, float)
    if not (d > 0).all():
        raise InputError(f"An outlet needs a diameter above 0, got {d.min():g}", where="end reflection")
    answer: NDArray[Any] = 10 * np.log10(
        1 + ((0.8 if flush else 1.0) * SOUND_M_S / (np.pi * BANDS_HZ * d[..., None])) ** 1.88
    )
    return answer


def to_room(distance_m: ArrayLike, volume_m3: ArrayLike) -> Array:
    """Sound pressure less sound power in furnished rooms (...) in bands (..., 8): -10 lg r - 5 lg V - 3 lg f + 12.

    Source: Schultz.

    Raises InputError for a distance or a volume of 0.
    """
    r, v = np.broadcast_arrays(np.asarray(distance_m, float), np.asarray(volume_m3, float))
    if not ((r > 0) & (v > 0)).all():
        raise InputError(
            f"Distance and volume must be above 0, got {r.min():g} m and {v.min():g} m³", where="room effect"
        )
    answer: NDArray[Any] = (-10 * np.log10(r) - 5 * np.log10(v))[..., None] - 3 * np.log10(BANDS_HZ) + 12
    return answer


_NC_LEVELS = np.concatenate([NC_TABLE[:1] - 5, NC_TABLE, NC_TABLE[-1:] + 5])
_NC_NUMBERS = np.concatenate([[10], NC, [70]]).astype(float)


def noise_criterion(levels: ArrayLike) -> Array:
    """NC [-] of spectra (..., 8) [dB]: the greatest over bands; held at 10 below and 70 above the table, where it is
    no figure
    any more.
    """
    bands = np.asarray(levels, float)
    answer: NDArray[Any] = np.max([np.interp(bands[..., i], _NC_LEVELS[:, i], _NC_NUMBERS) for i in range(8)], axis=0)
    return answer


def noise_rating(levels: ArrayLike) -> Array:
    """NR [-] of spectra (..., 8) [dB]."""
    answer: NDArray[Any] = ((np.asarray(levels, float) - NR_A) / NR_B).max(axis=-1)
    return answer


def damper_adds(ratio: ArrayLike, place: str) -> Array:
    """What a balancing damper adds to the sound of its outlet [dB], by the pressure of both over that of the outlet
    alone.
    """
    return np.interp(ratio, DAMPER_RATIO, DAMPER_DB[place])


def most_ratio(adds_db: ArrayLike, place: str) -> Array:
    """The pressure ratio up to which a damper adds no more than this; inf where it never does."""
    table, adds = DAMPER_DB[place], np.asarray(adds_db, float)
    first = int(np.flatnonzero(np.diff(table) > 0)[0])
    return np.where(adds >= table[-1], np.inf, np.interp(np.maximum(adds, 0.0), table[first:], DAMPER_RATIO[first:]))
