"""Loss coefficients from tables: multilinear inside, the end value outside. Source: own method."""

from functools import cache
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.tables import fitting_tables


@cache
def _arrays(fitting: str, name: str) -> tuple[tuple[NDArray[Any], ...], NDArray[Any], bool]:
    table = fitting_tables()[fitting]["tables"][name]
    log = table["interpolation"] == "log"
    values = np.array(table["values"], float)
    return tuple(np.array(a["values"], float) for a in table["axes"]), np.log(values) if log else values, log


def look_up(fitting: str, name: str, *at: ArrayLike) -> NDArray[np.float64]:
    """The table's value at the given axis values (broadcast), clamped at the ends [-]."""
    axes, values, log = _arrays(fitting, name)
    points = np.broadcast_arrays(*(np.asarray(x, float) for x in at))
    low, part = [], []
    for axis, x in zip(axes, points):
        inside = np.clip(x, axis[0], axis[-1])
        i = np.clip(np.searchsorted(axis, inside, side="right") - 1, 0, len(axis) - 2)
        low.append(i)
        part.append((inside - axis[i]) / (axis[i + 1] - axis[i]))
    total = np.zeros(points[0].shape)
    for corner in range(2 ** len(axes)):
        weight, index = np.ones(points[0].shape), []
        for k in range(len(axes)):
            upper = corner >> k & 1
            weight = weight * (part[k] if upper else 1 - part[k])
            index.append(low[k] + upper)
        total = total + weight * values[tuple(index)]
    return np.exp(total) if log else total


def invert(fitting: str, name: str, value: float) -> float | None:
    """The axis value at which a rising one-axis table reaches `value`; None beyond its end, the start below it."""
    (axis,), values, log = _arrays(fitting, name)
    wanted = np.log(value) if log else value
    if wanted > values[-1]:
        return None
    return float(np.interp(wanted, values, axis))
