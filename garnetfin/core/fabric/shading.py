"""Which part of a window the sun reaches: reveal, overhang, fins, and whatever stands in front of it."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

NEAR_M = 0.01                        # closer to the window's plane than this nothing shades it


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
        if not min(self.reveal_m, self.overhang_m, self.overhang_gap_m, self.fin_left_m, self.fin_right_m,
                   self.fin_gap_m) >= 0:
            raise InputError("Reveal, overhang and fins must be 0 m or more")


def shaded_edges(elevation: NDArray, azimuth: NDArray, facing_deg: float, window: Window) -> tuple[NDArray, NDArray, NDArray, NDArray]:
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
    return (seen, np.clip(left, 0, window.width_m), np.clip(right, 0, window.width_m), np.clip(above, 0, window.height_m))


def lit_share(elevation: NDArray, azimuth: NDArray, facing_deg: float, window: Window) -> NDArray[np.float64]:
    """Share of a window that the sun reaches past its reveal, overhang and fins [-]; 0 with the sun behind the wall."""
    seen, left, right, above = shaded_edges(elevation, azimuth, facing_deg, window)
    wide = np.maximum(window.width_m - left - right, 0.0)
    return np.where(seen, wide * (window.height_m - above) / (window.width_m * window.height_m), 0.0)


def in_front(polygons: list[NDArray], middle: NDArray, facing_deg: float) -> list[NDArray]:
    """Obstacles (corners, 3) as (corners, 3) in the window's own axes: right, up, away; what lies behind it is cut off.

    Axes of the polygons: east, north, up [m]; `middle` is the window's middle. Empty when nothing stands in front.
    """
    f = np.radians(facing_deg)
    right, away = np.array([-np.cos(f), np.sin(f), 0.0]), np.array([np.sin(f), np.cos(f), 0.0])
    found = []
    for corners in polygons:
        rel = np.asarray(corners, float) - middle
        local = np.stack([rel @ right, rel[:, 2], rel @ away], axis=1)
        if local[:, 2].max() <= NEAR_M:
            continue
        cut = _clip(local) if local[:, 2].min() < NEAR_M else local
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


def lit_past(obstacles: list[NDArray], elevation: NDArray, azimuth: NDArray, facing_deg: float,
             window: Window) -> NDArray[np.float64]:
    """lit_share with obstacles from `in_front`: each is cast along the sun onto the window's plane and cut out of it.

    Exact for flat obstacles; their union counts once. Shape of elevation.
    """
    if not obstacles:
        return lit_share(elevation, azimuth, facing_deg, window)
    import shapely
    seen, left, right, above = (x.ravel() for x in shaded_edges(elevation, azimuth, facing_deg, window))
    w, h = window.width_m / 2, window.height_m / 2
    lit = np.zeros(seen.size)
    at = np.flatnonzero(seen & (left + right < 2 * w) & (above < 2 * h))
    if not len(at):
        return lit.reshape(elevation.shape)
    free = shapely.box(-w + left[at], -h, w - right[at], h - above[at])
    b, g = elevation.ravel()[at], azimuth.ravel()[at] - np.radians(facing_deg)
    # A shadow moves by the distance along the sun's direction, taken in the window's axes.
    to_right, up = -np.tan(g), np.tan(b) / np.cos(g)
    for corners in obstacles:
        x = corners[:, 0] - corners[:, 2] * to_right[:, None]
        y = corners[:, 1] - corners[:, 2] * up[:, None]
        near = (x.max(1) > -w) & (x.min(1) < w) & (y.max(1) > -h) & (y.min(1) < h)
        if near.any():
            shadow = shapely.polygons(np.stack([x[near], y[near]], axis=2))
            free[near] = shapely.difference(free[near], shadow)
    lit[at] = shapely.area(free) / (4 * w * h)
    return lit.reshape(elevation.shape)
