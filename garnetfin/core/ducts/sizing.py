"""Sizing by limits: of standard sizes the one of least metal that keeps friction, velocity, height and aspect; whole
trees at once.

Source: ASHRAE Handbook Fundamentals, duct design, equal friction; EN 1505 and EN 1506 for sizes.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.friction import ROUGHNESS_M, duct_gradient
from garnetfin.core.ducts.sizes import Section, Series
from garnetfin.core.ducts.tree import Tree

Array = NDArray[np.float64]
SOFT_ASPECT = 4.0
# The order in which limits are given up when no size keeps them all; height never is.
GIVEN_UP = ("friction", "aspect", "velocity", "height")


@dataclass(frozen=True, slots=True, eq=False)
class Ladder:
    """Every candidate of one segment: arrays (candidates,) beside series.sections.

    Masks say which limit a size breaks; `chosen` is what the rule gives, `relaxed` the limits it had to give up.
    """

    series: Series
    velocity_m_s: Array
    friction_pa_m: Array
    too_rough: NDArray[np.bool_]
    too_fast: NDArray[np.bool_]
    too_high: NDArray[np.bool_]
    too_flat: NDArray[np.bool_]
    chosen: int
    relaxed: tuple[str, ...]

    @property
    def section(self) -> Section:
        """The size that was chosen."""
        return self.series.sections[self.chosen]


@dataclass(frozen=True, slots=True)
class Limits:
    """friction [Pa/m], velocity [m/s], clear height [m] (inf where nothing is above or below), aspect."""

    friction_pa_m: float
    velocity_m_s: float
    height_m: float
    aspect: float = SOFT_ASPECT


@dataclass(frozen=True, slots=True, eq=False)
class Batch:
    """Segments of one shape by candidates (n, k): velocity, friction, and which limit a size breaks."""

    series: Series
    velocity_m_s: Array
    friction_pa_m: Array
    broken: dict[str, NDArray[np.bool_]]

    def ladder(self, row: int, chosen: int, relaxed: tuple[str, ...]) -> Ladder:
        """What one duct was chosen from: `row` of the batch, the rung taken, limits let go."""
        b = self.broken
        return Ladder(
            self.series,
            self.velocity_m_s[row],
            self.friction_pa_m[row],
            b["friction"][row],
            b["velocity"][row],
            b["height"][row],
            b["aspect"][row],
            chosen,
            relaxed,
        )


def candidates(
    series: Series,
    flow_m3s: Array,
    limits: Sequence[Limits],
    density: float,
    viscosity: float,
    roughness_m: Array | float = ROUGHNESS_M["galvanised"],
    compression: Array | float = 0.0,
) -> Batch:
    """All candidates of segments (n,) with their limits; roughness [m] and compression of flexible ducts [%] alike or
    one a segment.
    """
    flow = np.asarray(flow_m3s, float)[:, None]
    velocity = flow / series.area_m2
    rough, pressed = (x if np.isscalar(x) else np.asarray(x, float)[:, None] for x in (roughness_m, compression))
    friction = duct_gradient(flow, series.area_m2, series.hydraulic_m, rough, pressed, density, viscosity)

    def column(name: str) -> Array:
        return np.array([getattr(w, name) for w in limits])[:, None]

    shape = velocity.shape
    return Batch(
        series,
        velocity,
        friction,
        {
            "friction": friction > column("friction_pa_m") * (1 + 1e-9),
            "aspect": np.broadcast_to(series.aspect > column("aspect") + 1e-9, shape),
            "velocity": velocity > column("velocity_m_s") * (1 + 1e-9),
            "height": np.broadcast_to(series.height_m > column("height_m") + 1e-9, shape),
        },
    )


def choose(
    batch: Batch, least_area_m2: Array, rows: NDArray[np.intp] | None = None, most_area_m2: Array | None = None
) -> tuple[NDArray[np.intp], list[tuple[str, ...]]]:
    """(size, limits it had to give up) of rows: the lightest that keeps all limits and is not below an area (nor above
    another).

    Once friction is given up, the size that comes closest to it is wanted, not the lightest; once height is, the
    lowest.
    """
    series = batch.series
    rows = np.arange(len(batch.velocity_m_s)) if rows is None else rows
    least = np.minimum(least_area_m2, float(series.area_m2.max()))[:, None]
    usable = series.area_m2 >= least * (1 - 1e-9)
    if most_area_m2 is not None:
        smaller = usable & (series.area_m2 <= most_area_m2[:, None] * (1 + 1e-9))
        usable = np.where(smaller.any(axis=1)[:, None], smaller, usable)
    friction, mass = batch.friction_pa_m[rows], np.round(series.mass_kg_m, 6)
    chosen, stage = np.zeros(len(rows), np.intp), np.full(len(rows), -1)
    waiting = np.arange(len(rows))
    for given_up in range(len(GIVEN_UP) + 1):
        kept = [batch.broken[name][rows[waiting]] for name in GIVEN_UP[given_up:]]
        fits = usable[waiting] & ~np.any(kept, axis=0) if kept else usable[waiting]
        some = fits.any(axis=1)
        if some.any():
            rank = mass if not given_up else friction[waiting] if given_up < len(GIVEN_UP) else series.height_m
            rank = np.where(fits, np.round(rank, 9) if given_up else rank, np.inf)
            best = rank.min(axis=1, keepdims=True)
            tied = np.where(rank <= best, friction[waiting], np.inf)  # of equals the one of least friction
            chosen[waiting[some]] = tied.argmin(axis=1)[some]
            stage[waiting[some]] = given_up
            waiting = waiting[~some]
        if not len(waiting):
            break
    relaxed = [tuple(name for name in GIVEN_UP[:g] if batch.broken[name][r, c]) for r, c, g in zip(rows, chosen, stage)]
    return chosen, relaxed


def size_ladder(
    series: Series,
    flow_m3s: float,
    limits: Limits,
    density: float,
    viscosity: float,
    roughness_m: float = ROUGHNESS_M["galvanised"],
    least_area_m2: float = 0.0,
) -> Ladder:
    """All candidates for one flow, and the choice among them; a duct is never smaller than one it feeds
    (least_area_m2).
    """
    batch = candidates(series, np.array([flow_m3s]), [limits], density, viscosity, roughness_m)
    chosen, relaxed = choose(batch, np.array([least_area_m2]))
    return batch.ladder(0, int(chosen[0]), relaxed[0])


@dataclass(frozen=True, slots=True, eq=False)
class Ducts:
    """Segments to be sized: flows [m3/s], lengths [m], the series each takes its size from, limits, pinned sections
    (None: by rule).
    """

    flow_m3s: Array
    length_m: Array
    series: tuple[Series, ...]  # one a segment; segments of one series are sized together
    limits: tuple[Limits, ...]
    pinned: tuple[Section | None, ...]
    density: float
    viscosity: float
    roughness_m: Array | float = ROUGHNESS_M["galvanised"]
    compression: Array | float = 0.0  # of flexible ducts [%]

    def friction(self, area_m2: Array, hydraulic_m: Array) -> Array:
        """Friction [Pa/m] of all segments at given sections (n,)."""
        return duct_gradient(
            self.flow_m3s, area_m2, hydraulic_m, self.roughness_m, self.compression, self.density, self.viscosity
        )


@dataclass(frozen=True, slots=True, eq=False)
class Sized:
    """A ladder and a section for every segment; `by` says which method gave it ("pinned", "friction", "regain" ...)."""

    ladders: tuple[Ladder, ...]
    sections: tuple[Section, ...]
    by: tuple[str, ...]
    friction: tuple[float, ...] = ()  # limit that was kept [Pa/m]
    regained: tuple["Regained", ...] = ()  # sections of the straight ways, by regain alone

    @property
    def area_m2(self) -> Array:
        """(segments,) of the sections."""
        return np.array([s.area_m2 for s in self.sections])


@dataclass(frozen=True, slots=True)
class Regained:
    """A section behind a takeoff: its ducts by number, velocity before it and in it [m/s]; static pressure gained
    there, lost along it, carried on from the sections before and left for those behind [Pa].

    ends  why regain ends with it: "" where it goes on, "slow" or "no size"
    """

    segments: tuple[int, ...]
    before_m_s: float
    velocity_m_s: float
    gained_pa: float
    lost_pa: float
    carried_pa: float
    left_pa: float
    ends: str = ""


def batches(ducts: Ducts) -> list[tuple[NDArray[np.intp], Batch]]:
    """(segments, their candidates) for each series in use."""
    groups: dict[int, list[int]] = {}
    for i, s in enumerate(ducts.series):
        groups.setdefault(id(s), []).append(i)

    def rows(x: Array | float, g: list[int]) -> Array | float:
        return x if np.isscalar(x) else x[g]

    return [
        (
            np.array(g),
            candidates(
                ducts.series[g[0]],
                ducts.flow_m3s[g],
                [ducts.limits[i] for i in g],
                ducts.density,
                ducts.viscosity,
                rows(ducts.roughness_m, g),
                rows(ducts.compression, g),
            ),
        )
        for g in groups.values()
    ]


def by_limits(tree: Tree, ducts: Ducts) -> Sized:
    """Leaf to root, level by level, so that no duct is smaller than one it feeds; pinned sizes stand as they are."""
    count = len(ducts.flow_m3s)
    depth, groups = tree.depth, batches(ducts)
    chosen, relaxed, least = np.zeros(count, np.intp), [()] * count, np.zeros(count)
    row_of, group_of, area = np.zeros(count, np.intp), np.zeros(count, np.intp), np.zeros(count)

    def take(members: NDArray[np.intp], batch: Batch) -> None:
        chosen[members], gave_up = choose(batch, least[members], row_of[members])
        area[members] = batch.series.area_m2[chosen[members]]
        for i, names in zip(members.tolist(), gave_up):
            relaxed[i] = names

    for g, (members, batch) in enumerate(groups):
        row_of[members], group_of[members] = np.arange(len(members)), g
        take(members, batch)
    pinned = np.array([s.area_m2 if s is not None else np.nan for s in ducts.pinned])
    for level in range(int(depth.max(initial=0)), -1, -1):
        here = np.flatnonzero(depth == level)
        # What is wide enough for those behind it stays: of fewer sizes it would be chosen again.
        narrow = here[area[here] < least[here]]
        for g in np.unique(group_of[narrow]):
            take(narrow[group_of[narrow] == g], groups[g][1])
        real = np.where(np.isfinite(pinned[here]), pinned[here], area[here])
        up = tree.parent[here]
        np.maximum.at(least, up[up >= 0], real[up >= 0])
    ladders = tuple(groups[group_of[i]][1].ladder(row_of[i], int(chosen[i]), relaxed[i]) for i in range(count))
    sections = tuple(p or ladder.section for p, ladder in zip(ducts.pinned, ladders))
    return Sized(ladders, sections, tuple("pinned" if p else "limits" for p in ducts.pinned))
