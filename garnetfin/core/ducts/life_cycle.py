"""Least cost over life: standard sizes of a whole tree that cost least with the fan power they call for. Exact on a
grid of pressure.

In the spirit of the T-method (Tsal, Behls and Mangel), but with standard sizes throughout: a dynamic programme from
leaves to root over
(size class, pressure that is there to be spent).

Source: own method, a dynamic programme over the tree.
"""

import contextlib
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.sizes import Series
from garnetfin.core.ducts.sizing import Ducts, Sized, batches, by_limits
from garnetfin.core.ducts.tree import Tree
from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
CLASSES, STEPS = 48, 240
HOURS_OF_YEAR = 8760.0


@dataclass(frozen=True, slots=True)
class Prices:
    """Of sheet [money/m2], electric energy [money/kWh]; hours a year, years, interest; efficiency of fan, motor and
    drive together.
    """

    sheet_m2: float = 60.0
    energy_kwh: float = 0.25
    hours: float = 3000.0
    years: float = 15.0
    interest: float = 0.04
    efficiency: float = 0.55

    def __post_init__(self) -> None:
        for name, low, high in (
            ("sheet_m2", 0, 1e5),
            ("energy_kwh", 0, 100),
            ("hours", 0, HOURS_OF_YEAR),
            ("years", 0, 100),
            ("interest", 0, 1),
        ):
            if not low <= getattr(self, name) <= high:
                raise InputError(
                    f"{name.replace('_', ' ')} must lie between {low:g} and {high:g}, got {getattr(self, name):g}"
                )
        if not 0.05 <= self.efficiency <= 1:
            raise InputError(f"The efficiency of the fan must lie between 5 and 100 %, got {self.efficiency:.0%}")

    @property
    def worth(self) -> float:
        """Present worth of one unit of money a year [-]."""
        return self.years if self.interest == 0 else (1 - (1 + self.interest) ** -self.years) / self.interest

    def per_pa(self, flow_m3s: float) -> float:
        """What a pascal of fan pressure costs over life [money]."""
        return flow_m3s / self.efficiency / 1000 * self.hours * self.energy_kwh * self.worth


@dataclass(frozen=True, slots=True, eq=False)
class Options:
    """For every segment and size class (n, k), growing: candidate of its series (-1: none), cost [money], loss [Pa]
    (inf where none).
    """

    candidate: NDArray[np.intp]
    cost: Array
    loss_pa: Array


def least_cost(
    parent: NDArray[np.intp],
    order: NDArray[np.intp],
    options: Options,
    end_pa: Array,
    per_pa: float,
    most_pa: float,
    steps: int = STEPS,
    firm: bool = True,
) -> tuple[NDArray[np.intp], float]:
    """(class of every segment, cost). end_pa (n,): loss of the terminal at a segment's end, NaN where it has none.

    A segment's class is never above its parent's. Where most_pa is a firm limit losses are rounded up to the grid,
    which costs at most
    depth x step of pressure; else to the nearest step, so that they err to neither side.
    Raises InputError when the tree cannot be fed within most_pa.
    """
    count, classes = options.cost.shape
    step = most_pa / steps
    known = np.where(np.isfinite(options.loss_pa), options.loss_pa, 0.0) / step
    need = np.where(np.isfinite(options.loss_pa), np.ceil(known - 1e-9) if firm else np.rint(known), steps + 1).astype(
        int
    )
    tables: dict[int, Array] = {}
    picked = np.zeros((count, classes, steps + 1), np.int8)
    children: list[list[int]] = [[] for _ in range(count)]
    for s in order:
        if parent[s] >= 0:
            children[parent[s]].append(int(s))
    roots = [int(s) for s in order if parent[s] < 0]
    pressure = np.arange(steps + 1) * step
    for s in order[::-1]:
        inside = np.zeros((classes, steps + 1))
        for c in children[s]:
            inside += tables.pop(c)
        if np.isfinite(end_pa[s]):
            inside = inside + np.where(pressure >= end_pa[s] - 1e-9, 0.0, np.inf)
        table = np.full((classes, steps + 1), np.inf)
        # A leg that regains pressure leaves more beyond it than before; what exceeds the grid counts as its end.
        left_over = np.arange(steps + 1) - need[s][:, None]
        there = left_over >= 0
        table[there] = (options.cost[s][:, None] + np.take_along_axis(inside, np.clip(left_over, 0, steps), axis=1))[
            there
        ]
        # The best of this class and all smaller ones, for a parent of this class.
        best = np.minimum.accumulate(table, axis=0)
        better = np.empty(table.shape, bool)
        better[0] = True
        better[1:] = table[1:] < best[:-1]
        picked[s] = np.maximum.accumulate(np.where(better, np.arange(classes)[:, None], 0), axis=0)
        tables[int(s)] = best
    together = sum(tables[r][-1] for r in roots) + per_pa * pressure
    at = int(np.argmin(together))
    if not np.isfinite(together[at]):
        raise InputError(
            f"The ducts cannot be fed with {most_pa:.0f} Pa", remedy="Allow a greater pressure or larger sizes"
        )
    found = np.zeros(count, np.intp)
    left = {r: (classes - 1, at) for r in roots}
    for s in order:
        k, p = left.pop(int(s))
        k = int(picked[s, k, p])
        found[s] = k
        for c in children[s]:
            left[c] = (k, min(p - need[s, k], steps))
    return found, float(together[at])


def size_options(ducts: Ducts, fixed_pa: Array, own_k: Array, sheet_price: float) -> Options:
    """Classes of area common to all segments; in each the cheapest candidate that keeps height, aspect and velocity.

    fixed_pa  losses that do not follow a segment's own size (fittings counted on the section before) [Pa]
    own_k     coefficients on its own velocity pressure
    A segment for which nothing keeps its limits takes what the limits choose, as one class.
    """
    count = len(ducts.flow_m3s)
    areas = np.concatenate([s.area_m2 for s in {id(s): s for s in ducts.series}.values()])
    edges = np.geomspace(areas.min(), areas.max(), CLASSES + 1)
    edges[-1] *= 1 + 1e-9
    candidate = np.full((count, CLASSES), -1)
    cost, loss = np.full((count, CLASSES), np.inf), np.full((count, CLASSES), np.inf)
    for members, batch in batches(ducts):
        series: Series = batch.series
        perimeter = 4 * series.area_m2 / series.hydraulic_m
        of_class = np.clip(np.searchsorted(edges, series.area_m2, side="right") - 1, 0, CLASSES - 1)
        price = sheet_price * perimeter * ducts.length_m[members][:, None]
        drop = (
            batch.friction_pa_m * ducts.length_m[members][:, None]
            + own_k[members][:, None] * ducts.density / 2 * batch.velocity_m_s**2
            + fixed_pa[members][:, None]
        )
        low = ~batch.broken["height"]
        fits = low & ~(batch.broken["aspect"] | batch.broken["velocity"])
        # Where nothing keeps all limits, height alone counts; where that fits nowhere, nothing does.
        fits = np.where(fits.any(axis=1)[:, None], fits, np.where(low.any(axis=1)[:, None], low, True))
        value = np.where(fits, price + 1e-6 * drop, np.inf)
        rows = np.arange(len(members))
        for k in np.unique(of_class):
            inside = np.flatnonzero(of_class == k)
            best = inside[value[:, inside].argmin(axis=1)]
            there = np.isfinite(value[rows, best])
            candidate[members[there], k] = best[there]
            cost[members[there], k], loss[members[there], k] = price[rows, best][there], drop[rows, best][there]
        for row, i in enumerate(members):
            own = ducts.pinned[i]
            if own is not None:
                k = int(np.clip(np.searchsorted(edges, own.area_m2, side="right") - 1, 0, CLASSES - 1))
                nearest = int(np.abs(series.area_m2 - own.area_m2).argmin())
                candidate[i], cost[i], loss[i] = -1, np.inf, np.inf
                candidate[i, k], cost[i, k], loss[i, k] = (
                    nearest,
                    sheet_price * own.perimeter_m * ducts.length_m[i],
                    drop[row, nearest],
                )
    used = np.isfinite(cost).any(axis=0)  # classes no series has a size in are left out
    return Options(candidate[:, used], cost[:, used], loss[:, used])


def by_cost(tree: Tree, ducts: Ducts, fixed_pa: Array, own_k: Array, end_pa: Array, prices: Prices) -> Sized:
    """Sizes of least cost over life; losses that hang on neighbours are taken as given and the programme is repeated by
    the caller.
    """
    frame = by_limits(tree, ducts)
    if not len(tree.order):
        return frame
    options = size_options(ducts, fixed_pa, own_k, prices.sheet_m2)
    per_pa = prices.per_pa(float(sum(ducts.flow_m3s[s] for s in tree.order if tree.parent[s] < 0)))
    # The limits' own sizes show how much pressure there may be; twice that leaves room for smaller ducts.
    along = np.zeros(len(tree.parent))
    dearest = 0.0
    for s in tree.order:
        own = options.loss_pa[s]
        along[s] = (along[tree.parent[s]] if tree.parent[s] >= 0 else 0.0) + float(
            np.min(own[np.isfinite(own)], initial=np.inf)
        )
        dearest = max(dearest, along[s] + (end_pa[s] if np.isfinite(end_pa[s]) else 0.0))
    found, most = None, max(2.5 * dearest, 30.0)
    for _ in range(4):
        try:
            found, _ = least_cost(tree.parent, tree.order, options, end_pa, per_pa, most, firm=False)
            break
        except InputError:
            most *= 2
    if found is None:
        return frame
    spent = _spent(tree, options, found, end_pa)
    if spent < 0.6 * most:  # a finer grid about the optimum
        with contextlib.suppress(InputError):
            found, _ = least_cost(tree.parent, tree.order, options, end_pa, per_pa, 1.3 * spent, firm=False)
    ladders, sections, by = list(frame.ladders), list(frame.sections), list(frame.by)
    rows = {int(i): (batch, row) for members, batch in batches(ducts) for row, i in enumerate(members)}
    for s in tree.order:
        if ducts.pinned[s] is None:
            batch, row = rows[int(s)]
            pick = int(options.candidate[s, found[s]])
            sections[s], by[s] = batch.series.sections[pick], "cost"
            ladders[s] = batch.ladder(
                row, pick, tuple(n for n in ("velocity", "height", "aspect") if batch.broken[n][row, pick])
            )
    return Sized(tuple(ladders), tuple(sections), tuple(by))


def _spent(tree: Tree, options: Options, found: NDArray[np.intp], end_pa: Array) -> float:
    along, most = np.zeros(len(tree.parent)), 0.0
    for s in tree.order:
        along[s] = (along[tree.parent[s]] if tree.parent[s] >= 0 else 0.0) + options.loss_pa[s, found[s]]
        most = max(most, along[s] + (end_pa[s] if np.isfinite(end_pa[s]) else 0.0))
    return most
