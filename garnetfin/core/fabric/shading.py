"""Which part of a window the sun reaches: reveal, overhang, fins, and whatever stands in front of it."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

GRID = 8  # points each way on what is lit of a window
APART_M = 0.2  # obstacles that nowhere come further out than this are the wall itself
LOWEST, FOOT_M = np.radians(3.0), 2.0
NEAR_M = 0.01  # closer to the window's plane than this nothing shades it


@dataclass(frozen=True, slots=True)
class Window:
    """A window and what is fixed to it, in m. Fins are named as seen from outside."""

    width_m: float
    height_m: float
    reveal_m: float = 0.0
    overhang_m: float = 0.0
    overhang_gap_m: float = 0.0
    fin_left_m: float = 0.0
    fin_right_m: float = 0.0
    fin_gap_m: float = 0.0

    def __post_init__(self) -> None:
        if not (self.width_m > 0 and self.height_m > 0):
            raise InputError("A window needs width and height above 0")
        if (
            not min(
                self.reveal_m, self.overhang_m, self.overhang_gap_m, self.fin_left_m, self.fin_right_m, self.fin_gap_m
            )
            >= 0
        ):
            raise InputError("Reveal, overhang and fins must be 0 m or more")


def shaded_edges(
    elevation: NDArray, azimuth: NDArray, facing_deg: float, window: Window
) -> tuple[NDArray, NDArray, NDArray, NDArray]:
    """(seen, from the left, from the right, from above) of endless fins and overhang [m], shape of elevation.

    Angles in radians. A reveal is an overhang and two fins without a gap. Left and right as seen from outside.
    """
    g = (azimuth - np.radians(facing_deg) + np.pi) % (2 * np.pi) - np.pi
    seen = (np.abs(g) < np.pi / 2 - 1e-6) & (elevation > 0)
    side = np.tan(np.where(seen, g, 0.0))
    profile = np.tan(np.where(seen, elevation, 0.0)) / np.cos(np.where(seen, g, 0.0))
    above = np.maximum(window.reveal_m * profile, window.overhang_m * profile - window.overhang_gap_m)
    # Seen from outside the sun moves to the left as its azimuth grows past the wall's: then the left fin shades.
    left = np.maximum(window.reveal_m * side, window.fin_left_m * side - np.where(side > 0, window.fin_gap_m, 0.0))
    right = np.maximum(-window.reveal_m * side, -window.fin_right_m * side - np.where(side < 0, window.fin_gap_m, 0.0))
    return (
        seen,
        np.clip(left, 0, window.width_m),
        np.clip(right, 0, window.width_m),
        np.clip(above, 0, window.height_m),
    )


def lit_share(elevation: NDArray, azimuth: NDArray, facing_deg: float, window: Window) -> NDArray[np.float64]:
    """Share of a window that the sun reaches past its reveal, overhang and fins [-]; 0 with the sun behind the wall."""
    seen, left, right, above = shaded_edges(elevation, azimuth, facing_deg, window)
    wide = np.maximum(window.width_m - left - right, 0.0)
    return np.where(seen, wide * (window.height_m - above) / (window.width_m * window.height_m), 0.0)


def in_front(polygons: NDArray, middle: NDArray, facing_deg: float) -> list[NDArray]:
    """Obstacles (n, corners, 3) as a list of (corners, 3) in the window's own axes: right, up, away; what is behind is
    cut off.

    Axes of the polygons: east, north, up [m]; `middle` is the window's middle. What stands lower than LOWEST above the
    horizon of the window's foot is left out: a sun that low carries next to nothing.
    """
    if not len(polygons):
        return []
    f = np.radians(facing_deg)
    axes = np.array([[-np.cos(f), np.sin(f), 0.0], [0.0, 0.0, 1.0], [np.sin(f), np.cos(f), 0.0]])
    local = (np.asarray(polygons, float) - middle) @ axes.T
    away = local[:, :, 2]
    # No part of a flat obstacle is nearer than the box around it.
    beside = np.maximum(np.maximum(local[:, :, 0].min(axis=1), -local[:, :, 0].max(axis=1)), 0.0)
    near = np.hypot(beside, np.maximum(away.min(axis=1), 0.0))
    kept = (away.max(axis=1) > APART_M) & (local[:, :, 1].max(axis=1) + FOOT_M > near * np.tan(LOWEST))
    found = []
    for corners, first in zip(local[kept], away.min(axis=1)[kept]):
        cut = _clip(corners) if first < NEAR_M else corners
        if len(cut) >= 3:
            found.append(cut)
    return found


def _clip(corners: NDArray) -> NDArray:
    """The part of a polygon further than NEAR_M from the window's plane (Sutherland and Hodgman, one plane)."""
    kept = []
    for a, b in zip(corners, np.roll(corners, -1, axis=0)):
        da, db = a[2] - NEAR_M, b[2] - NEAR_M
        if da >= 0:
            kept.append(a)
        if (da >= 0) != (db >= 0):
            kept.append(a + (b - a) * da / (da - db))
    return np.array(kept)


def lit_past(
    obstacles: list[NDArray], elevation: NDArray, azimuth: NDArray, facing_deg: float, window: Window
) -> NDArray[np.float64]:
    """lit_share with flat convex obstacles from `in_front`. Shape of elevation.

    Each obstacle is cast along the sun onto the window's plane. What reveal, overhang and fins leave lit is exact;
    of that
    the share in shadow is counted on GRID x GRID points, so overlapping shadows count once.
    """
    if not obstacles:
        return lit_share(elevation, azimuth, facing_deg, window)
    seen, left, right, above = (x.ravel() for x in shaded_edges(elevation, azimuth, facing_deg, window))
    w, h = window.width_m / 2, window.height_m / 2
    lit = np.zeros(seen.size)
    wide, high = 2 * w - left - right, 2 * h - above
    at = np.flatnonzero(seen & (wide > 0) & (high > 0))
    if not len(at):
        return lit.reshape(elevation.shape)
    b, g = elevation.ravel()[at], azimuth.ravel()[at] - np.radians(facing_deg)
    # A shadow moves by the distance along the sun's direction, taken in the window's axes.
    to_right, up = -np.tan(g), np.tan(b) / np.cos(g)
    # Corners of all obstacles side by side, the last one repeated, so that one pass finds whose shadow comes near when.
    most = max(len(c) for c in obstacles)
    padded = np.array([np.concatenate([c, np.repeat(c[-1:], most - len(c), axis=0)]) for c in obstacles])
    x = padded[:, :, 0, None] - padded[:, :, 2, None] * to_right
    y = padded[:, :, 1, None] - padded[:, :, 2, None] * up
    near = (x.max(axis=1) > -w) & (x.min(axis=1) < w) & (y.max(axis=1) > -h) & (y.min(axis=1) < h)
    step = (np.arange(GRID) + 0.5) / GRID
    free = np.ones((len(at), GRID, GRID), bool)
    for k in np.flatnonzero(near.any(axis=1)):
        when = np.flatnonzero(near[k])
        px = (-w + left[at[when], None] + wide[at[when], None] * step)[:, :, None]
        py = (-h + high[at[when], None] * step)[:, None, :]
        over = under = np.ones((len(when), GRID, GRID), bool)
        for i in range(most):
            j = (i + 1) % most
            ax, ay = x[k, i, when, None, None], y[k, i, when, None, None]
            side = (x[k, j, when, None, None] - ax) * (py - ay) - (y[k, j, when, None, None] - ay) * (px - ax)
            over, under = over & (side >= 0), under & (side <= 0)
        free[when] &= ~(over | under)
    lit[at] = free.mean(axis=(1, 2)) * wide[at] * high[at] / (4 * w * h)
    return lit.reshape(elevation.shape)
