"""Start of the plant before the rooms are used: cooling down after a night off, and warming up."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.loads.plant import Plan, run_plant

REACHED_K = 0.1  # this near the set-point counts as reached
_HALVINGS = 16


def cooling_start(
    g: NDArray, force: NDArray, plan: Plan, governing_w: NDArray, first_used: NDArray
) -> tuple[NDArray, NDArray]:
    """(limit (R,) [W], hour the set-point is reached (R,), 24 if never) on one day, g (R, 24, 24), force (R, 24).

    The limit is the governing load of the used hours where that brings the room to its set-point an hour after use
    begins, else the least constant heat that does, by bisection: the need falls as the limit grows.
    """

    def reached(limit: NDArray) -> NDArray:
        found = run_plant(g, force[:, None], replace(plan, cool_limit_w=limit, held=np.zeros(len(limit), bool)))
        near = (found.air_c[:, 0] <= plan.cool_c + REACHED_K) & plan.on
        return np.where(near.any(axis=1), near.argmax(axis=1), 24)

    low = np.maximum(governing_w, 1.0)
    hour = reached(low)
    late = hour > first_used + 1
    if late.any():
        high = np.full(len(low), np.abs(force).max() * 3 + 1.0)
        at = low.copy()
        for _ in range(_HALVINGS):
            middle = (at + high) / 2
            fine = reached(middle) <= first_used + 1
            high, at = np.where(fine, middle, high), np.where(fine, at, middle)
        low = np.where(late, high, low)
        hour = reached(low)
    return low, hour


def warm_up(g: NDArray, force: NDArray, plan: Plan, first_used: NDArray) -> NDArray[np.float64]:
    """Least constant heat (R,) [W] that brings rooms to the heating set-point of the first used hour by its begin.

    g (R, 24, 24), force (R, 24) on the heating day; the plant may run in the hours the plan says. Bisection; monotone.
    """
    rooms = np.arange(len(g))
    wanted = plan.heat_c[rooms, first_used] - REACHED_K
    before = (first_used - 1) % 24
    endless = run_plant(g, force[:, None], replace(plan, heat_limit_w=np.full(len(g), np.inf)))
    high = np.maximum(endless.heat_w[:, 0].max(axis=1), 1.0)
    low = np.zeros(len(g))
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        air = run_plant(g, force[:, None], replace(plan, heat_limit_w=middle)).air_c[:, 0]
        fine = (air[rooms, before] >= wanted) | (air[rooms, first_used] >= wanted) & ~plan.on[rooms, before]
        high, low = np.where(fine, middle, high), np.where(fine, low, middle)
    return high
