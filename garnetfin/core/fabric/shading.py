"""Which part of a window the sun reaches: reveal, overhang, fins, and whatever stands in front of it.

Source: geometry of parallel rays.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

APART_M = 0.05  # obstacles that nowhere come further out than this are the wall itself
LOWEST = np.radians(0.5)  # what stays below this above the horizon of the window's foot casts nothing that counts
NEAR_M = 1e-6  # closer to the window's plane than this nothing shades it
BENDS = 0.03  # change of the slope between samples from which a sample is looked at more closely
FINER = 8  # parts of such a sample
MOST_AT_ONCE = 400_000  # corners times strips that are cast in one pass
ENDLESS = float("inf")
_FAR = 1e7  # where corners stand that pad a shorter list


@dataclass(frozen=True, slots=True)
class Window:
    """A window and what is fixed to it, in m. Left and right as seen from outside.

    overhang_left_m, overhang_right_m  how far the overhang goes past the jambs
    fin_above_m, fin_below_m           how far fins go past head and sill
    """

    width_m: float
    height_m: float
    reveal_m: float = 0.0
    overhang_m: float = 0.0
    overhang_gap_m: float = 0.0
    fin_left_m: float = 0.0
    fin_right_m: float = 0.0
    fin_gap_m: float = 0.0
    overhang_left_m: float = ENDLESS
    overhang_right_m: float = ENDLESS
    fin_above_m: float = ENDLESS
    fin_below_m: float = ENDLESS

    def __post_init__(self) -> None:
        if not (self.width_m > 0 and self.height_m > 0):
            raise InputError("A window needs width and height above 0")
        fixed = (self.reveal_m, self.overhang_m, self.overhang_gap_m, self.fin_left_m, self.fin_right_m, self.fin_gap_m)
        reach = (self.overhang_left_m, self.overhang_right_m, self.fin_above_m, self.fin_below_m)
        if not min(*fixed, *reach) >= 0:
            raise InputError("Reveal, overhang and fins must be 0 m or more")

    def fixtures(self) -> tuple["Window", list[NDArray[np.float64]]]:
        """(the window with its endless parts alone, its finite ones as flat obstacles (4, 3) in its own axes)."""
        w, h, plates, endless = self.width_m / 2, self.height_m / 2, [], self
        sides = self.overhang_left_m, self.overhang_right_m
        if self.overhang_m > 0 and min(sides) < ENDLESS:
            left, right = (w + min(side, _FAR) for side in sides)
            y, out = h + self.overhang_gap_m, self.overhang_m
            plates.append([(-left, y, 0.0), (right, y, 0.0), (right, y, out), (-left, y, out)])
            endless = replace(endless, overhang_m=0.0, overhang_gap_m=0.0)
        ends = self.fin_below_m, self.fin_above_m
        if min(ends) < ENDLESS:
            low, high = -h - min(ends[0], _FAR), h + min(ends[1], _FAR)
            for side, out in ((-1.0, self.fin_left_m), (1.0, self.fin_right_m)):
                x = side * (w + self.fin_gap_m)
                if out > 0:
                    plates.append([(x, low, 0.0), (x, low, out), (x, high, out), (x, high, 0.0)])
            endless = replace(endless, fin_left_m=0.0, fin_right_m=0.0, fin_gap_m=0.0)
        return endless, [np.array(plate) for plate in plates]


def shaded_edges(
    elevation: NDArray[Any], azimuth: NDArray[Any], facing_deg: float, window: Window
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
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


def in_front(
    polygons: NDArray[Any], middle: NDArray[Any], facing_deg: float, height_m: float = 0.0
) -> list[NDArray[Any]]:
    """Obstacles (n, corners, 3) as a list of (corners, 3) in the window's own axes: right, up, away; what is behind is
    cut off.

    Axes of the polygons: east, north, up [m]; `middle` is the window's middle, height_m its height. What stays lower
    than LOWEST above the horizon of its foot is left out: a sun that low carries next to nothing.
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
    kept = (away.max(axis=1) > APART_M) & (local[:, :, 1].max(axis=1) + height_m / 2 > near * np.tan(LOWEST))
    found = []
    for corners, first in zip(local[kept], away.min(axis=1)[kept]):
        cut = _clip(corners) if first < NEAR_M else corners
        if len(cut) >= 3:
            found.append(cut)
    return found


def _clip(corners: NDArray[Any]) -> NDArray[Any]:
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
    obstacles: list[NDArray[Any]],
    elevation: NDArray[Any],
    azimuth: NDArray[Any],
    facing_deg: float,
    window: Window,
    bodies: bool = False,
) -> NDArray[np.float64]:
    """Share of a window that the sun reaches [-] past what is fixed to it and flat convex obstacles from `in_front`.

    Shape of elevation, angles in radians; 0 with the sun behind the wall. Endless parts are exact in closed form. Each
    obstacle is cast along the sun onto the window's plane; the union of the shadows is integrated over strips that
    begin and end where an outline turns or meets a jamb, so that overlapping shadows count once.

    bodies: the obstacles are walls of closed bodies, counter-clockwise as seen from outside; then those alone count
    through which a ray towards the sun enters, half of them, and no roofs.
    """
    endless, plates = window.fixtures()
    cast = [*obstacles, *plates]
    seen, left, right, above = (x.ravel() for x in shaded_edges(elevation, azimuth, facing_deg, endless))
    w, h = window.width_m / 2, window.height_m / 2
    lit = np.zeros(seen.size)
    wide, high = 2 * w - left - right, 2 * h - above
    at = np.flatnonzero(seen & (wide > 0) & (high > 0))
    lit[at] = wide[at] * high[at]
    if cast and len(at):
        b, g = elevation.ravel()[at], azimuth.ravel()[at] - np.radians(facing_deg)
        # A shadow moves by the distance along the sun's direction, taken in the window's axes.
        to_right, up = -np.tan(g), np.tan(b) / np.cos(g)
        # Corners of all obstacles side by side, the last one repeated.
        most = max(len(c) for c in cast)
        padded = np.array([np.concatenate([c, np.repeat(c[-1:], most - len(c), axis=0)]) for c in cast])
        box = (-w + left[at], w - right[at], np.full(len(at), -h), h - above[at])
        counts = np.ones((len(at), len(cast)), bool)
        if bodies and obstacles:
            to_sun = np.stack([-np.sin(g) * np.cos(b), np.sin(b), np.cos(g) * np.cos(b)], axis=1)
            walls = padded[: len(obstacles)]
            outward = np.cross(walls[:, 1] - walls[:, 0], walls[:, 2] - walls[:, 0])
            counts[:, : len(obstacles)] = to_sun @ outward.T < 0
        lit[at] -= _dark(padded, (to_right, up), counts, box)
    return np.maximum(lit, 0.0).reshape(elevation.shape) / (4 * w * h)


def _dark(
    corners: NDArray[Any], moves: tuple[NDArray[Any], NDArray[Any]], counts: NDArray[Any], box: tuple[NDArray[Any], ...]
) -> NDArray[np.float64]:
    """Area (M,) [m2] of a rectangle (left, right, low, high, each (M,)) under the union of convex shadows.

    corners     (obstacles, corners, 3): right, up, away; moves: by how much a shadow moves for each metre away (M,),
                right and up; counts (M, obstacles)
    """
    near = counts.copy()
    for axis, (low, high) in enumerate(((box[0], box[1]), (box[2], box[3]))):
        # corner by corner: a few large steps instead of very many small ones
        cast = [corners[:, k, axis] - corners[:, k, 2] * moves[axis][:, None] for k in range(corners.shape[1])]
        greatest, least = cast[0].copy(), cast[0].copy()
        for one in cast[1:]:
            np.maximum(greatest, one, out=greatest)
            np.minimum(least, one, out=least)
        near &= (greatest > low[:, None]) & (least < high[:, None])
    ever = near.any(axis=0)  # most obstacles never shade the window at hand
    near, kept = near[:, ever], corners[ever]
    x, y = (kept[None, :, :, axis] - kept[None, :, :, 2] * moves[axis][:, None, None] for axis in (0, 1))
    at, which = np.nonzero(near)
    whole = np.zeros(len(near), bool)
    whole[at[_covers(x[at, which], y[at, which], tuple(edge[at] for edge in box))]] = True
    dark = np.where(whole, (box[1] - box[0]) * (box[3] - box[2]), 0.0)
    live = np.flatnonzero(near.any(axis=1) & ~whole)
    # Samples with as many shadows go together, so that none waits for the fullest one.
    order = live[np.argsort(near[live].sum(axis=1), kind="stable")]
    while len(order):
        count = int(near[order[0]].sum())
        alike = order[near[order].sum(axis=1) == count]
        order = order[len(alike) :]
        strips = 2 * (3 * count * x.shape[2] + 1)
        step = max(1, MOST_AT_ONCE // (strips * count * x.shape[2]))
        for lo in range(0, len(alike), step):
            part = alike[lo : lo + step]
            which = np.argsort(~near[part], axis=1, kind="stable")[:, :count, None]
            dark[part] = _dark_of(
                np.take_along_axis(x[part], which, 1),
                np.take_along_axis(y[part], which, 1),
                tuple(edge[part] for edge in box),
            )
    return dark


def _covers(x: NDArray[Any], y: NDArray[Any], box: tuple[NDArray[Any], ...]) -> NDArray[np.bool_]:
    """Whether each convex shadow (P, corners) holds all four corners of its rectangle (P,)."""
    x0, x1, y0, y1 = (edge[:, None] for edge in box)
    dx, dy = np.roll(x, -1, axis=1) - x, np.roll(y, -1, axis=1) - y
    over, under = np.ones(len(x), bool), np.ones(len(x), bool)
    for px, py in ((x0, y0), (x1, y0), (x1, y1), (x0, y1)):
        side = dx * (py - y) - dy * (px - x)
        over &= (side >= 0).all(axis=1)
        under &= (side <= 0).all(axis=1)
    return over | under


def _dark_of(x: NDArray[Any], y: NDArray[Any], box: tuple[NDArray[Any], ...]) -> NDArray[np.float64]:
    """_dark where every shadow comes near."""
    x0, x1, y0, y1 = (edge[:, None] for edge in box)
    ax, ay, bx, by = x, y, np.roll(x, -1, axis=2), np.roll(y, -1, axis=2)
    with np.errstate(divide="ignore", invalid="ignore"):
        slope, rise = (by - ay) / (bx - ax), (bx - ax) / (by - ay)
        meets = [ay + (edge[:, :, None] - ax) * slope for edge in (x0, x1)]
    borders = np.concatenate([y0, y1, *(m.reshape(len(x), -1) for m in (y, *meets))], axis=1)
    borders = np.sort(np.clip(np.where(np.isfinite(borders), borders, y0), y0, y1), axis=1)
    height = np.repeat(np.diff(borders, axis=1) / 2, 2, axis=1)
    middle = np.repeat((borders[:, 1:] + borders[:, :-1]) / 2, 2, axis=1) + height * np.tile(
        [-0.5, 0.5], height.shape[1] // 2
    )
    # In the middle of a strip every shadow covers one interval: between the sides of its outline that cross there.
    level = middle[:, :, None, None]
    a, b = ay[:, None], by[:, None]
    crosses = (a > level) != (b > level)
    across = np.where(crosses, ax[:, None] + (level - a) * np.where(crosses, rise[:, None], 0.0), np.nan)
    begin = np.clip(np.where(crosses, across, np.inf).min(axis=3), x0[:, :, None], x1[:, :, None])
    end = np.clip(np.where(crosses, across, -np.inf).max(axis=3), x0[:, :, None], x1[:, :, None])
    rank = np.argsort(begin, axis=2)
    begin, end = np.take_along_axis(begin, rank, 2), np.take_along_axis(end, rank, 2)
    so_far = np.maximum.accumulate(end, axis=2)
    before = np.concatenate([np.broadcast_to(x0[:, :, None], begin[:, :, :1].shape), so_far[:, :, :-1]], axis=2)
    covered = np.maximum(end - np.maximum(begin, before), 0.0).sum(axis=2)
    return np.asarray((covered * height).sum(axis=1))


def lit_day(
    obstacles: list[NDArray[Any]],
    elevation: NDArray[Any],
    azimuth: NDArray[Any],
    facing_deg: float,
    window: Window,
    bodies: bool = False,
) -> NDArray[np.float64]:
    """lit_past of days of samples (..., n) in order of time, where shadows pass quickly looked at more closely.

    A sample beside which the lit share bends is replaced, with its neighbours, by the mean of FINER parts weighted with
    the sun's height over the window's plane; the sun moves straight between samples.
    """
    lit = lit_past(obstacles, elevation, azimuth, facing_deg, window, bodies)
    if not obstacles and not window.fixtures()[1]:
        return lit
    bent = np.zeros(lit.shape, bool)
    bent[..., 1:-1] = np.abs(lit[..., 2:] - 2 * lit[..., 1:-1] + lit[..., :-2]) > BENDS
    bent[..., :-1] |= bent[..., 1:]
    bent[..., 1:] |= bent[..., :-1]
    which = np.nonzero(bent & (elevation > 0))
    if not len(which[0]):
        return lit
    sun = np.stack(
        [np.cos(elevation) * np.sin(azimuth), np.cos(elevation) * np.cos(azimuth), np.sin(elevation)], axis=-1
    )
    last = lit.shape[-1] - 1
    *days, n = which
    parts = []
    for k in range(FINER):
        by = (k + 0.5) / FINER - 0.5
        other = np.clip(n + (1 if by > 0 else -1), 0, last)
        moved = sun[which] * (1 - abs(by)) + sun[(*days, other)] * abs(by)
        parts.append(moved / np.linalg.norm(moved, axis=-1, keepdims=True))
    ray = np.array(parts)
    b, a = np.arcsin(np.clip(ray[..., 2], -1.0, 1.0)), np.arctan2(ray[..., 0], ray[..., 1])
    weight = np.maximum(np.cos(b) * np.cos(a - np.radians(facing_deg)), 0.0) * (b > 0)
    finer = lit_past(obstacles, b, a, facing_deg, window, bodies)
    total = weight.sum(axis=0)
    lit[which] = np.where(total > 1e-12, (finer * weight).sum(axis=0) / np.where(total > 1e-12, total, 1.0), lit[which])
    return lit
