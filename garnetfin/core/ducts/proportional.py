"""Proportional balancing: dampers set one after the other so that every terminal of a group gets the same share of its
design flow.

The work on site is simulated: what is set early drifts as others are set, and the fan is turned last.

Source: proportional balancing as EN 12599 presumes it.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
SETTLED = 1e-4  # of a ratio
MOST_TRIES = 30
LEAST_K, MOST_K = 1e-3, 1e5
SAME = 0.002  # ratios this near need no setting


@dataclass(frozen=True, slots=True)
class Setting:
    """One step: the damper, its place in the order, ratios of flow to design first, wanted, when set; k beyond open.
    reference: it stays open.
    """

    damper: int
    order: int
    first: float
    target: float
    reached: float
    k: float
    reference: bool
    pass_: int = 1


def proportional(
    ratios: Callable[[Array], Array],
    count: int,
    groups: Sequence[Sequence[int]],
    open_first: Array | None = None,
    check: Callable[[float], None] = lambda share: None,
    most_passes: int = 1,
    hints: Array | None = None,
) -> tuple[list[Setting], Array]:
    """(steps in order, k of every damper). ratios(k) gives flow over design (count,) with dampers at k beyond open
    (count,).

    groups: dampers that are set against each other, in the order of work: terminals of a branch first, then branches
    among each other.
    hints: k that is expected of every damper, where the search begins.
    `check` is told how far the work is and may raise. Raises InputError for a damper that is in no or two groups.
    """
    if sorted(i for g in groups for i in g) != list(range(count)):
        raise InputError("Every damper belongs to one group", where="proportional balancing")
    k = np.zeros(count) if open_first is None else np.array(open_first, float)
    first, steps, order, done = ratios(k), [], 0, 0
    for pass_ in range(1, most_passes + 1):
        for group in groups:
            now = ratios(k)
            ranked = sorted(group, key=lambda i: now[i])
            reference = next((i for i in ranked if k[i] == 0), ranked[0])
            order += 1
            steps.append(
                Setting(
                    reference,
                    order,
                    float(first[reference]),
                    float(now[reference]),
                    float(now[reference]),
                    0.0,
                    True,
                    pass_,
                )
            )
            for i in (x for x in ranked if x != reference):
                check(done / (count * most_passes))
                done += 1
                order += 1
                k[i], at = _close(ratios, k, i, reference, 0.0 if hints is None else float(hints[i]))
                steps.append(
                    Setting(i, order, float(first[i]), float(at[reference]), float(at[i]), float(k[i]), False, pass_)
                )
    return steps, k


def _close(ratios: Callable[[Array], Array], k: Array, i: int, reference: int, hint: float) -> tuple[float, Array]:
    """k of damper i at which it gets the reference's ratio, and all ratios then; 0 where it gets less even when
    open.
    """

    def off(value: float) -> tuple[float, Array]:
        trial = k.copy()
        trial[i] = value
        at = ratios(trial)
        return float(at[i] - at[reference]), at

    start = k[i]
    here, at = off(start)
    if abs(here) < SAME:
        return start, at
    if here < 0:
        bare, open_at = off(0.0)
        if bare <= 0:
            return 0.0, open_at
    near = _secant(off, np.log(max(start, hint))) if max(start, hint) > LEAST_K else None
    if near is not None:
        return near
    # On the logarithm of k the ratio falls smoothly; regula falsi between a bracket that is widened.
    low, high = np.log(LEAST_K), np.log(MOST_K)
    f_low, f_high = off(LEAST_K)[0], -1.0
    guess = np.log(
        max(start, 0.0) + max(1.0, 5.0 * ((at[i] / max(at[reference], 1e-9)) ** 2 - 1)) * (1 if here > 0 else 0.5)
    )
    for tries in range(MOST_TRIES):
        value, at = off(float(np.exp(guess)))
        if abs(value) < SETTLED:
            break
        if value > 0:
            low, f_low = guess, value
        else:
            high, f_high = guess, value
        # A secant while the bracket is fresh, halving when it crawls.
        guess = low + (high - low) * f_low / (f_low - f_high) if tries % 3 else (low + high) / 2
        if f_high == -1.0:
            guess = low + 1.0
    return float(np.exp(guess)), at


def _secant(off: Callable[[float], tuple[float, Array]], x: float) -> tuple[float, Array] | None:
    """A root near ln k = x in few steps; None where it wanders off."""
    first = x
    (here, at), before = off(float(np.exp(x))), (x + 0.5, None)
    for _ in range(6):
        if abs(here) < SETTLED:
            return float(np.exp(x)), at
        # To begin with a ratio falls by about a third of itself for each unit of ln k.
        slope = -0.3 if before[1] is None or before[0] == x else (here - before[1]) / (x - before[0])
        if slope > -1e-3:
            return None
        before, x = (x, here), x - float(np.clip(here / slope, -1.5, 1.5))
        if abs(x - first) > 4:
            return None
        here, at = off(float(np.exp(x)))
    return (float(np.exp(x)), at) if abs(here) < 10 * SETTLED else None
