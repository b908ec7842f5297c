"""Start of the plant before the rooms are used: cooling down after a night off, and warming up.

Source: own method on the same balance; EN 12831-1 for reheat.
"""

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.loads.plant import Plan, run_plant

REACHED_K = 0.1  # this near the set-point counts as reached
_HALVINGS = 16


def cooling_start(
    g: NDArray[Any], force: NDArray[Any], plan: Plan, governing_w: NDArray[Any], first_used: NDArray[Any]
) -> tuple[NDArray[Any], NDArray[Any]]:
    """(limit (R,) [W], hour in which each start reaches the set-point (R, 24)) on one day.

    g (R, 24, 24), force (R, 24) of the day.

    first_used (R, 24) marks the first used hour after every start; the hours stand there, -1 elsewhere and 24 where a
    start never comes to the set-point before the plant stops. The limit is the governing load of the used hours where
    that brings the room to its set-point within an hour after each begin of use, else the least constant heat that
    does, by bisection: the need falls as the limit grows.
    """

    room, run, runs, in_time = _starts(plan.on, first_used)

    def reached(limit: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
        found = run_plant(g, force[:, None], replace(plan, cool_limit_w=limit, held=np.zeros(len(limit), bool)))
        near = ((found.air_c[:, 0] <= plan.cool_c + REACHED_K) & plan.on)[room[:, None], run] & runs
        hours, late = np.full(first_used.shape, -1), np.zeros(len(limit), bool)
        hours[first_used] = np.where(near.any(axis=1), run[np.arange(len(run)), near.argmax(axis=1)], 24)
        np.logical_or.at(late, room, ~(near & in_time).any(axis=1))
        return hours, late

    low = np.maximum(governing_w, 1.0)
    hour, late = reached(low)
    if late.any():
        high = np.full(len(low), np.abs(force).max() * 3 + 1.0)
        at = low.copy()
        for _ in range(_HALVINGS):
            middle = (at + high) / 2
            fine = ~reached(middle)[1]
            high, at = np.where(fine, middle, high), np.where(fine, at, middle)
        low = np.where(late, high, low)
        hour, _ = reached(low)
    return low, hour


def _starts(
    on: NDArray[Any], first_used: NDArray[Any]
) -> tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.bool_], NDArray[np.bool_]]:
    """(room (N,), the 24 hours from each start on (N, 24), which of them come before the plant stops, and which not
    later than an hour after the first use)."""
    room, first = np.nonzero(first_used)
    back = (first[:, None] - np.arange(24)) % 24
    ahead = np.cumprod(on[room[:, None], back], axis=1).sum(axis=1) - 1  # hours of plant before the first used one
    run = (first[:, None] - ahead[:, None] + np.arange(24)) % 24
    runs = np.cumprod(on[room[:, None], run], axis=1).astype(bool)
    return room, run, runs, np.arange(24) <= ahead[:, None] + 1


def warm_up(g: NDArray[Any], force: NDArray[Any], plan: Plan, first_used: NDArray[Any]) -> NDArray[np.float64]:
    """Least constant heat (R,) [W] that brings rooms to the heating set-point of the first used hours by their begin.

    g (R, 24, 24), force (R, 24) on the heating day; first_used (R, 24) marks the first used hour after every start;
    the plant may run in the hours the plan says. Bisection; monotone.
    """
    wanted = plan.heat_c - REACHED_K
    endless = run_plant(g, force[:, None], replace(plan, heat_limit_w=np.full(len(g), np.inf)))
    high = np.maximum(endless.heat_w[:, 0].max(axis=1), 1.0)
    low = np.zeros(len(g))
    # Warm by the end of the hour before; in that hour itself where nothing runs before.
    runs_before = np.roll(plan.on, 1, axis=1)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        air = run_plant(g, force[:, None], replace(plan, heat_limit_w=middle)).air_c[:, 0]
        warm = (np.roll(air, 1, axis=1) >= wanted) | (air >= wanted) & ~runs_before
        fine = (warm | ~first_used).all(axis=1)
        high, low = np.where(fine, middle, high), np.where(fine, low, middle)
    answer: NDArray[Any] = high
    return answer
