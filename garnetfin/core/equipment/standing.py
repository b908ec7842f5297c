"""Where a unit stands in a room: its floor with the space its service takes, inside the outline, clear of others.

Source: plane geometry; every place in steps is tried in the four turns along the longest wall.
"""

from collections.abc import Callable, Sequence
from math import atan2, cos, hypot, sin
from typing import NamedTuple

import numpy as np

from garnetfin.core.adjacency import Outline, Point

STEP_M = 0.1
MOST_PLACES = 40_000  # tried in one turn; larger rooms are tried in wider steps
CLOSE_M = 0.01  # by which missing lengths are found
TOUCH_M = 1e-6


class Floor(NamedTuple):
    """A floor by its middle, the direction of its length, and its sides [m]."""

    middle: Point
    along: Point
    long_m: float
    wide_m: float

    @property
    def outline(self) -> Outline:
        """Its four corners [m]."""
        (x, y), (ux, uy) = self.middle, self.along
        half = ((-1, -1), (1, -1), (1, 1), (-1, 1))
        return tuple(
            (
                x + ux * s * self.long_m / 2 - uy * t * self.wide_m / 2,
                y + uy * s * self.long_m / 2 + ux * t * self.wide_m / 2,
            )
            for s, t in half
        )


class Lacks(NamedTuple):
    """By how much a floor is too long at its width, and too wide at its length, where one of both alone would help
    [m]; NaN where it would not.
    """

    long_m: float
    wide_m: float


def stand(outline: Outline, long_m: float, wide_m: float, near: Point, others: Sequence[Outline] = ()) -> Floor | None:
    """The place in a room, with its sides along the longest wall or across it, whose middle is nearest to a point;
    None where there is none.
    """
    return _Room(outline, others).nearest(long_m, wide_m, near)


def lacks(outline: Outline, long_m: float, wide_m: float, others: Sequence[Outline] = ()) -> Lacks:
    """What is missing of a floor that does not fit."""
    room = _Room(outline, others)
    return Lacks(
        long_m - _most(lambda long: room.fits(long, wide_m), long_m),
        wide_m - _most(lambda wide: room.fits(long_m, wide), wide_m),
    )


def _most(fits: Callable[[float], bool], whole: float) -> float:
    """The greatest length below the whole one that fits; NaN where none does."""
    low, high = CLOSE_M, whole
    if not fits(low):
        return float("nan")
    while high - low > CLOSE_M:
        middle = (low + high) / 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    return low


class _Room:
    """An outline turned so that its longest wall lies along x, less what stands in it."""

    def __init__(self, outline: Outline, others: Sequence[Outline]) -> None:
        from shapely import Polygon, prepare, unary_union

        walls = list(zip(outline, (*outline[1:], outline[0])))
        (x0, y0), (x1, y1) = max(walls, key=lambda w: round(hypot(w[1][0] - w[0][0], w[1][1] - w[0][1]), 3))
        turn = atan2(y1 - y0, x1 - x0)
        self.u = (cos(turn), sin(turn))
        free = Polygon([self._turned(p) for p in outline])
        if others:
            free = free.difference(unary_union([Polygon([self._turned(p) for p in o]) for o in others]))
        self.free = free.buffer(TOUCH_M)  # floors may touch its edges
        self.bounds = free.bounds
        prepare(self.free)

    def _turned(self, p: Point) -> Point:
        return (p[0] * self.u[0] + p[1] * self.u[1], -p[0] * self.u[1] + p[1] * self.u[0])

    def _back(self, p: Point) -> Point:
        return (p[0] * self.u[0] - p[1] * self.u[1], p[0] * self.u[1] + p[1] * self.u[0])

    def _places(self, wide: float, high: float) -> np.ndarray:
        """Lower left corners (n, 2) where such a rectangle lies inside."""
        import shapely

        if not self.bounds or np.isnan(self.bounds).any():
            return np.zeros((0, 2))
        x0, y0, x1, y1 = self.bounds
        span_x, span_y = x1 - x0 - wide, y1 - y0 - high
        if min(span_x, span_y) < -TOUCH_M:
            return np.zeros((0, 2))
        step = max(STEP_M, (max(span_x, STEP_M) * max(span_y, STEP_M) / MOST_PLACES) ** 0.5)
        xs = np.unique(np.append(np.arange(0.0, max(span_x, 0.0), step), max(span_x, 0.0))) + x0
        ys = np.unique(np.append(np.arange(0.0, max(span_y, 0.0), step), max(span_y, 0.0))) + y0
        x, y = (a.ravel() for a in np.meshgrid(xs, ys))
        inside = shapely.contains(self.free, shapely.box(x, y, x + wide, y + high))
        return np.column_stack((x[inside], y[inside]))

    def fits(self, long_m: float, wide_m: float) -> bool:
        return len(self._places(long_m, wide_m)) > 0 or len(self._places(wide_m, long_m)) > 0

    def nearest(self, long_m: float, wide_m: float, near: Point) -> Floor | None:
        at = np.array(self._turned(near))
        found: list[tuple[float, Floor]] = []
        for turned in (False, True):
            size = np.array((wide_m, long_m) if turned else (long_m, wide_m))
            middles = self._places(*size) + size / 2
            if len(middles):
                away = np.hypot(*(middles - at).T)
                k = int(away.argmin())
                along = (-self.u[1], self.u[0]) if turned else self.u
                x, y = middles[k]
                found.append((float(away[k]), Floor(self._back((float(x), float(y))), along, long_m, wide_m)))
        return min(found, key=lambda f: f[0])[1] if found else None
