"""How effective an exchanger is: counterflow, and tubes in rows across unmixed air.

ntu and capacity ratios are those of the air: ntu = UA/(m cp), c = m cp/(w c_w), of any size.
Source: VDI Heat Atlas, part C1. Methods: Coils.
"""

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
_NEARLY = 1e-9  # below this distance from c = 0 and c = 1 the limit is taken


def counter(ntu: ArrayLike, c: ArrayLike) -> Array:
    """Effectiveness [-] of counterflow on the air's side."""
    ntu, c = np.broadcast_arrays(np.asarray(ntu, float), np.asarray(c, float))
    even = np.abs(1 - c) < 1e-7
    decay = np.exp(-ntu * (1 - np.where(even, 0.0, c)))
    answer: NDArray[Any] = np.where(even, ntu / (1 + ntu), (1 - decay) / (1 - np.where(even, 0.0, c) * decay))
    return answer


def counter_ntu(effectiveness: ArrayLike, c: ArrayLike) -> Array:
    """Transfer units [-] that counterflow needs for an effectiveness on the air's side below its greatest."""
    e, c = np.broadcast_arrays(np.asarray(effectiveness, float), np.asarray(c, float))
    e = np.minimum(e, (1 - _NEARLY) / np.maximum(c, 1.0))
    even = np.abs(1 - c) < 1e-7
    other = np.where(even, 0.0, c)
    answer: NDArray[Any] = np.where(even, e / (1 - e), np.log((1 - other * e) / (1 - e)) / (1 - other))
    return answer


def crossed(ntu: ArrayLike, c: ArrayLike, rows: ArrayLike) -> Array:
    """Effectiveness [-] of rows of tubes in counterflow order, each crossed by the air; 0 rows: counterflow."""
    ntu, c, rows = np.broadcast_arrays(*(np.asarray(x, float) for x in (ntu, c, rows)))
    n = np.maximum(rows, 1.0)
    one = -np.expm1(-ntu / n)
    still = c < _NEARLY
    ratio = np.where(still, 1.0, c)
    row = np.where(still, one, -np.expm1(-ratio * one) / ratio)
    even = np.abs(1 - c) < 1e-7
    left = np.maximum((1 - row * c) / (1 - row), 1e-300) ** n
    many = (left - 1) / np.where(even, 1.0, left - c)
    answer: NDArray[Any] = np.where(even, n * row / (1 + (n - 1) * row), many)
    return np.where(rows > 0, answer, counter(ntu, c))


def correction(ntu: ArrayLike, c: ArrayLike, rows: ArrayLike) -> Array:
    """Share [-] of its transfer units with which counterflow does what rows do; 1 for 0 rows."""
    units: Array = np.maximum(np.asarray(ntu, float), 1e-12)
    found = counter_ntu(crossed(units, c, rows), c) / units
    return np.where(np.asarray(rows) > 0, found, 1.0)
