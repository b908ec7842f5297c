"""The air system solved for many hours at once with all its feedbacks.

A train is an ordered list of parts: what the outdoor air passes on its way to the rooms, the rooms, what their air
passes on its
way back. Five figures are torn (supply temperature and humidity, the fan's rise, return temperature and humidity); a
sweep marches
rooms, return, handler, and Newton closes the loop for all hours together. Methods: Air, section e. t degC, w kg/kg,
m kg dry air/s, W.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.systems.parts import Array, Control, Hours, Part, Rooms, Solved, check_order
from garnetfin.core.systems.sweep import Sweep

FIRST_SWEEPS, MOST_STEPS, FRESH_EVERY, DAMPED_SWEEPS = 2, 60, 10, 200
FEW = 400  # hours
STEP = np.array([1e-4, 1e-7, 1e-4, 1e-4, 1e-7])
LIMIT = np.array([10.0, 0.005, 10.0, 10.0, 0.005])
SETTLED = np.array([1e-6, 1e-10, 1e-6, 1e-6, 1e-10])  # some milliwatts in a large system
START = np.array([16.0, 0.008, 1.0, 24.0, 0.009])


def solve(parts: tuple[Part, ...], rooms: Rooms, hours: Hours, control: Control, start: Array | None = None) -> Solved:
    """The train at every hour. Hours that do not converge keep their best state, with the residual that is left.

    start (5, H) may hold torn figures of a like problem. Raises InputError for a train that cannot be.
    """
    check_order(parts)
    sweep = Sweep(parts, rooms, hours, control)
    count = len(hours.outdoor_c)
    x = np.repeat(START[:, None], count, axis=1) if start is None else start.copy()
    active, residual = np.flatnonzero(hours.on), np.zeros(count)
    steps = 0
    if len(active):
        for _ in range(FIRST_SWEEPS):
            x[:, active] = sweep.torn(x[:, active], active)
        x[:, active], residual[active], steps = _settle(sweep, x[:, active], active)
        left = np.flatnonzero(residual > 1.0)
        if len(left):
            x[:, left], residual[left] = _damped(sweep, x[:, left], left)
    return sweep.record(x, residual, steps)


def _size(r: Array) -> Array:
    answer: NDArray[Any] = np.nan_to_num(np.abs(r / SETTLED[:, None]).max(axis=0), nan=np.inf)
    return answer


def _slopes(sweep: Sweep, x: Array, r: Array, at: NDArray[Any]) -> Array:
    """Of the residuals by finite differences (h, 5, 5), scaled so that kelvins and grams weigh alike."""
    hours = x.shape[1]
    slope = np.empty((hours, 5, 5))
    # A few hours are moved five ways in one sweep; many are not, since their arrays would leave the cache.
    together = 5 if hours <= FEW else 1
    for first in range(0, 5, together):
        moved = np.tile(x, together)
        for k in range(together):
            moved[first + k, k * hours : (k + 1) * hours] += STEP[first + k]
        change = sweep.torn(moved, np.tile(at, together)) - moved - np.tile(r, together)
        for k in range(together):
            slope[:, :, first + k] = (change[:, k * hours : (k + 1) * hours] / STEP[:, None]).T
    bad = ~np.isfinite(slope).all(axis=(1, 2))
    bad |= np.abs(np.linalg.det(np.where(bad[:, None, None], 0.0, slope))) < 1e-9
    slope[bad] = -np.eye(5)
    return slope


def _settle(sweep: Sweep, x: Array, at: NDArray[Any]) -> tuple[Array, Array, int]:
    """Newton with slopes kept up to date by Broyden's rule; hour by hour a step that does not help is halved.

    Hours leave as they settle. The best state found comes back with its residual.
    """
    best, best_size = x.copy(), np.full(x.shape[1], np.inf)
    live = np.arange(x.shape[1])
    now, slope = x, np.empty(0)
    r = sweep.torn(now, at) - now
    step = np.zeros_like(now)
    for count in range(MOST_STEPS):
        size = _size(r)
        better = size < best_size[live]
        best[:, live[better]], best_size[live[better]] = now[:, better], size[better]
        going = size > 1.0
        if not going.any():
            return best, best_size, count
        if not going.all():
            live, now, r, size, step = live[going], now[:, going], r[:, going], size[going], step[:, going]
            slope = slope[going] if len(slope) else slope
        if count % FRESH_EVERY == 0:
            slope = _slopes(sweep, now, r, at[live])
        full = np.linalg.solve(slope, -(r / STEP[:, None]).T[:, :, None])[:, :, 0].T * STEP[:, None]
        step = np.clip(full, -LIMIT[:, None], LIMIT[:, None])
        new = now + step
        new_r = sweep.torn(new, at[live]) - new
        worse = _size(new_r) > 4 * size
        if worse.any():
            step = np.where(worse, 0.25 * step, step)
            new = now + step
            new_r = sweep.torn(new, at[live]) - new
        s, y = (step / STEP[:, None]).T, ((new_r - r) / STEP[:, None]).T
        moved = np.maximum((s * s).sum(axis=1), 1e-30)
        slope = slope + ((y - np.einsum("hij,hj->hi", slope, s)) / moved[:, None])[:, :, None] * s[:, None, :]
        flat = ~(np.abs(np.linalg.det(np.nan_to_num(slope))) > 1e-9)
        slope[flat] = -np.eye(5)
        now, r = new, np.nan_to_num(new_r, nan=1e9)
    return best, best_size, MOST_STEPS


def _damped(sweep: Sweep, x: Array, at: NDArray[Any]) -> tuple[Array, Array]:
    """Half steps of plain substitution, for hours on an edge between two ways of running."""
    best, best_size, now = x.copy(), np.full(x.shape[1], np.inf), x
    for _ in range(DAMPED_SWEEPS):
        r = sweep.torn(now, at) - now
        size = _size(r)
        better = size < best_size
        best, best_size = np.where(better, now, best), np.where(better, size, best_size)
        if (best_size <= 1.0).all():
            break
        now = now + 0.5 * np.nan_to_num(r)
    return best, best_size
