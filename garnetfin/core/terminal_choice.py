"""Terminals for a room: how many of which model in which even grid, and where they stand. Methods: Air, section h.

A room is turned so that its longest side lies along u; lengths in m, flows in m3/s, nc in dB with 10 dB room effect.

Source: own method; throw and NC from the catalogue.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.tables import TerminalModel
from garnetfin.core.terminals import Limits

Array = NDArray[np.float64]
MOST_ACROSS, MOST_IN_ALL = 12, 60
ASPECT = 1.5  # of a cell, longer to shorter side
FROM_WALL_M = 0.3
ON_WALL_M, FROM_FACADE_M = 0.05, 0.6
# How a kind is placed, and the band of throw to the length it should reach (None: no rule).
PLACING: dict[str, tuple[str, tuple[float, float] | None]] = {
    "ceil4": ("area", (0.7, 1.8)),
    "ceilr": ("area", (0.7, 1.8)),
    "swirl": ("area", (0.7, 1.8)),
    "slot2": ("line", (0.7, 1.8)),
    "wallg": ("wall", (0.8, 1.5)),
    "displ": ("wall", None),
    "egrid": ("return", None),
}
RULES = ("outside its table", "neck velocity", "pressure", "spacing", "noise", "throw")


@dataclass(frozen=True, slots=True)
class Option:
    """A model in a grid; `ratio` of throw to the length it should reach (NaN without a rule), `nc` of all together."""

    model: str
    nx: int
    ny: int
    count: int
    flow_m3s: float
    neck_m_s: float
    pressure_pa: float
    throw_m: float
    ratio: float
    nc: float


@dataclass(frozen=True, slots=True)
class Selection:
    """The best grid of every model that has one, in order of merit; how often each rule stopped the others, by model
    and in all.
    """

    options: tuple[Option, ...]
    feasible: int
    stopped_by: tuple[tuple[str, str], ...]  # model, the rule that stopped most of its grids
    counts: tuple[tuple[str, int], ...]


@dataclass(frozen=True, slots=True, eq=False)
class Frame:
    """A room's own axes: origin, direction of u, and the box around it."""

    x: float
    y: float
    ux: float
    uy: float
    length_m: float
    width_m: float

    def to_plan(self, uv: Array) -> Array:
        """(n, 2) of u, v to x, y [m]."""
        answer: NDArray[Any] = np.array([self.x, self.y]) + uv @ np.array([[self.ux, self.uy], [-self.uy, self.ux]])
        return answer

    def to_room(self, xy: Array) -> Array:
        """Points of the plan (..., 2) in the frame of the room [m]."""
        answer: NDArray[Any] = (np.asarray(xy, float) - [self.x, self.y]) @ np.array(
            [[self.ux, -self.uy], [self.uy, self.ux]]
        )
        return answer


def frame_of(outline: Sequence[tuple[float, float]]) -> Frame:
    """Axes along the longest side of an outline."""
    p = np.asarray(outline, float)
    sides = np.roll(p, -1, axis=0) - p
    longest = sides[np.argmax(np.round(np.hypot(*sides.T), 6))]
    ux, uy = longest / np.hypot(*longest)
    if ux < -1e-9 or (abs(ux) <= 1e-9 and uy < 0):
        ux, uy = -ux, -uy
    flat = p @ np.array([[ux, -uy], [uy, ux]])
    low, high = flat.min(axis=0), flat.max(axis=0)
    x, y = low @ np.array([[ux, uy], [-uy, ux]])
    return Frame(float(x), float(y), float(ux), float(uy), float(high[0] - low[0]), float(high[1] - low[1]))


def inside(outline: Array, points: Array) -> NDArray[np.bool_]:
    """Which points (n, 2) lie within an outline (k, 2)."""
    a, b = outline, np.roll(outline, -1, axis=0)
    x, y = points[:, :1], points[:, 1:]
    rise = np.where(b[:, 1] == a[:, 1], 1.0, b[:, 1] - a[:, 1])
    crosses = ((a[:, 1] > y) != (b[:, 1] > y)) & (x < a[:, 0] + (b[:, 0] - a[:, 0]) * (y - a[:, 1]) / rise)
    answer: NDArray[Any] = crosses.sum(axis=1) % 2 == 1
    return answer


def nearest_wall(outline: Array, points: Array) -> tuple[Array, Array]:
    """(distance, foot) of points to the nearest side of an outline."""
    a = outline
    side = np.roll(outline, -1, axis=0) - a
    t = np.clip(((points[:, None] - a) * side).sum(axis=2) / np.maximum((side**2).sum(axis=1), 1e-12), 0, 1)
    foot = a + t[..., None] * side
    away = np.hypot(*(points[:, None] - foot).transpose(2, 0, 1))
    best = away.argmin(axis=1)
    row = np.arange(len(points))
    return away[row, best], foot[row, best]


def places(outline: Sequence[tuple[float, float]], kind: str, nx: int, ny: int) -> tuple[Array, bool]:
    """(positions (n, 2) on the plan, whether one was moved off a wall) of a grid in a room; cells outside it are
    dropped.
    """
    p = np.asarray(outline, float)
    frame, way = frame_of(outline), PLACING.get(kind, ("area", None))[0]
    flat = frame.to_room(p)
    i, j = np.meshgrid((np.arange(nx) + 0.5) / nx, (np.arange(ny) + 0.5) / ny, indexing="ij")
    uv = np.column_stack([i.ravel() * frame.length_m, j.ravel() * frame.width_m])
    if way == "wall":  # on the short side, blowing along the room
        uv = np.column_stack([np.full(nx * ny, ON_WALL_M), (np.arange(nx * ny) + 0.5) / (nx * ny) * frame.width_m])
    elif way == "line":
        uv = np.column_stack(
            [
                (np.arange(nx * ny) + 0.5) / (nx * ny) * frame.length_m,
                np.full(nx * ny, min(FROM_FACADE_M, frame.width_m / 2)),
            ]
        )
    uv = uv[inside(flat, uv)]
    if way == "wall" or not len(uv):
        return frame.to_plan(uv), False
    away, foot = nearest_wall(flat, uv)
    close = away < FROM_WALL_M - 1e-9
    if close.any():
        push = np.where(away[:, None] > 1e-6, (uv - foot) / np.maximum(away, 1e-6)[:, None], [0.0, 1.0])
        uv = np.where(close[:, None], foot + push * FROM_WALL_M, uv)
    return frame.to_plan(uv), bool(close.any())


@lru_cache(maxsize=512)
def _grids(outline: tuple[tuple[float, float], ...], way: str) -> tuple[Array, Array, Array]:
    """(nx, ny, terminals that stand in the room) of every grid worth a look."""
    across = range(1, MOST_ACROSS + 1) if way in ("area", "return") else (1,)
    pairs = [(nx, ny) for nx in range(1, MOST_ACROSS + 1) for ny in across if nx * ny <= MOST_IN_ALL]
    frame = frame_of(outline)
    flat = frame.to_room(np.asarray(outline, float))
    if way not in ("area", "return"):
        count = np.array(
            [len(places(outline, next(k for k, (w, _) in PLACING.items() if w == way), nx, ny)[0]) for nx, ny in pairs]
        )
    else:
        uv = np.concatenate(
            [
                np.column_stack(
                    [
                        np.repeat((np.arange(nx) + 0.5) / nx * frame.length_m, ny),
                        np.tile((np.arange(ny) + 0.5) / ny * frame.width_m, nx),
                    ]
                )
                for nx, ny in pairs
            ]
        )
        starts = np.cumsum([0, *(nx * ny for nx, ny in pairs)])[:-1]
        count = np.add.reduceat(inside(flat, uv).astype(int), starts)
    nx, ny = np.array(pairs).T
    return nx, ny, count


def at_flow(model: TerminalModel, flow_m3s: Array) -> dict[str, Array]:
    """Pressure, throw, nc between a model's points: log-log in flow, nc linear in log flow; NaN outside them."""
    q = np.asarray(flow_m3s, float)
    known = (q >= model.flow_m3s[0] * (1 - 1e-9)) & (q <= model.flow_m3s[-1] * (1 + 1e-9))
    x, xs = np.log(np.maximum(q, 1e-9)), np.log(model.flow_m3s)

    def between(ys: Array, logs: bool) -> Array:
        found = np.exp(np.interp(x, xs, np.log(np.maximum(ys, 1e-9)))) if logs else np.interp(x, xs, ys)
        return np.where(known, found, np.nan)

    return {
        "pressure_pa": between(model.pressure_pa, True),
        "throw_m": between(model.throw_025_m, bool(model.throw_025_m.all())),
        "nc": between(model.nc, False),
        "neck_m_s": q / model.neck_m2,
    }


def select(
    models: Iterable[TerminalModel], outline: Sequence[tuple[float, float]], flow_m3s: float, limits: Limits
) -> Selection:
    """Models of a catalogue for a room. Raises InputError without flow."""
    if not flow_m3s > 0:
        raise InputError("A room without flow needs no terminals", remedy="Give the room air first")
    frame = frame_of(outline)
    shape = tuple(map(tuple, outline))
    options, counts, stopped, feasible = [], Counter(), [], 0
    for model in models:
        way, band = PLACING[model.kind]
        nx, ny, count = _grids(shape, way)
        flow = flow_m3s / np.maximum(count, 1)
        at = at_flow(model, flow)
        px, py = frame.length_m / nx, frame.width_m / ny
        reach = {
            "area": np.minimum(px, py) / 2,
            "wall": np.full(len(nx), frame.length_m),
            "line": np.full(len(nx), frame.width_m),
        }.get(way, np.full(len(nx), np.nan))
        ratio = at["throw_m"] / reach
        nc = at["nc"] + 10 * np.log10(np.maximum(count, 1))
        spaced = (
            np.maximum(px, py) / np.minimum(px, py) <= ASPECT + 1e-9
            if way == "area"
            else (nx * model.neck_m <= 0.9 * frame.length_m if way == "line" else np.ones(len(nx), bool))
        )
        with np.errstate(invalid="ignore"):
            passed = np.stack(
                [
                    np.isfinite(at["nc"]),
                    at["neck_m_s"] <= limits.neck_m_s + 1e-9,
                    at["pressure_pa"] <= limits.pressure_pa + 1e-9,
                    spaced,
                    nc <= limits.nc + 1e-9,
                    np.ones(len(nx), bool) if band is None else (ratio >= band[0]) & (ratio <= band[1]),
                ]
            )
        passed[:, count == 0] = False
        good = np.flatnonzero(passed.all(axis=0))
        feasible += len(good)
        broken = Counter(RULES[int(k)] for k in np.argmin(passed[:, ~passed.all(axis=0)], axis=0))
        counts += broken
        if not len(good):
            stopped.append((model.model, broken.most_common(1)[0][0]))
            continue
        off = np.abs(ratio - 1) if band else np.zeros(len(nx))
        best = min(good, key=lambda g: (count[g], round(off[g], 9), round(nc[g], 9)))
        options.append(
            Option(
                model.model,
                int(nx[best]),
                int(ny[best]),
                int(count[best]),
                float(flow[best]),
                float(at["neck_m_s"][best]),
                float(at["pressure_pa"][best]),
                float(at["throw_m"][best]),
                float(ratio[best]) if band else float("nan"),
                float(nc[best]),
            )
        )
    options.sort(
        key=lambda o: (o.count, round(abs(o.ratio - 1), 9) if o.ratio == o.ratio else 0.0, round(o.nc, 9), o.model)
    )
    return Selection(tuple(options), feasible, tuple(stopped), tuple(counts.most_common()))
