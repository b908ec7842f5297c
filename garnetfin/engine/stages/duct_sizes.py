"""Sizes of a system's ducts by the method it follows and the rules of the office standards."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.friction import FLEXIBLE, duct_gradient
from garnetfin.core.ducts.life_cycle import Prices, by_cost
from garnetfin.core.ducts.regain import Ways, by_regain
from garnetfin.core.ducts.sizes import (
    Section,
    Series,
    held,
    inch_series,
    measures,
    oval_series,
    rectangular_series,
    round_series,
)
from garnetfin.core.ducts.sizing import Ducts, Limits, Sized, by_limits
from garnetfin.core.ducts.tree import Tree
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, FittingLoss
from garnetfin.engine.stages.duct_fittings import bend_k
from garnetfin.engine.stages.duct_flows import Carried
from garnetfin.engine.stages.duct_layout import Layout
from garnetfin.engine.stages.duct_make import noise_velocity
from garnetfin.project.book import Book
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Rule, Value

Losses = Callable[[Sequence[Section]], tuple[list[tuple[FittingLoss, ...]], NDArray[Any]]]
AVAILABLE_PA = 100.0  # for ducts and terminals, where nothing is said
LEAST_RATE_PA_M, MOST_RATE_PA_M = 0.05, 20.0
ROUNDS = 4  # of the least-cost programme, whose fittings follow the sizes


@dataclass(frozen=True, slots=True)
class DuctRules:
    """Office standards on ducts: greatest velocity by role [m/s], shape limits [m], when a trunk is reduced, prices."""

    velocity_m_s: dict[str, float]
    aspect: float
    least_m: float
    step_m: float
    most_m: float
    series_name: str
    reduce_share: float
    prices: Prices

    def series(self, shape: str, width_m: float | None = None, height_m: float | None = None) -> Series:
        """Candidates of a shape, with a side held where one is given."""
        least, most, step = round(self.least_m * 1000), round(self.most_m * 1000), max(10, round(self.step_m * 1000))
        if self.series_name == "inch":
            whole = inch_series(shape, self.least_m, self.most_m)
        elif shape == "round":
            whole = round_series(least, self.series_name == "extra", most)
        else:
            whole = (oval_series if shape == "oval" else rectangular_series)(step, most, least_mm=least)
        return whole if width_m is None and height_m is None else held(whole, width_m, height_m)


@lru_cache(maxsize=16)
def duct_rules(book: Book) -> DuctRules:
    def figure(name: str) -> float:
        return assumption(book, name).figure

    return DuctRules(
        {
            "trunk": figure("duct_trunk_m_s"),
            "riser": figure("duct_riser_m_s"),
            "branch": figure("duct_branch_m_s"),
            "last": figure("duct_last_m_s"),
        },
        figure("duct_aspect"),
        figure("duct_least_m"),
        figure("duct_step_m"),
        figure("duct_most_m"),
        book.duct_series,
        figure("duct_reduce"),
        Prices(
            figure("sheet_price"), figure("energy_price"), figure("fan_hours"), figure("life_years"), figure("interest")
        ),
    )


def _held(value: Value) -> float | None:
    return None if isinstance(value, Rule) else value.value


def sized(system: AirSystem, on: Carried, velocity_m_s: Sequence[float], losses: Losses) -> Sized:
    """Ladders and sections, by the method of the system and the greatest velocity of each duct.

    `losses` gives fittings and flexible ducts [Pa] for given sections.
    """
    at, book, air, flow = on.at, on.book, on.air, on.flow_m3s
    end_pa, rough, pressed = on.end_pa, on.roughness_m, on.compression
    height_m = [c.zone_m - 2 * m.around_m for c, m in zip(at.clear, at.made)]
    rules, segments, tree, length = duct_rules(book), at.segments, at.tree, at.length_m
    fixed = _held(system.duct_height_m)
    series = tuple(
        rules.series(
            shape,
            _held(s.width_m),
            h if (h := _held(s.height_m)) is not None else fixed if shape == "rectangular" else None,
        )
        # flexible duct is round, whatever was drawn
        for s, shape in zip(
            segments, ("round" if m.material in FLEXIBLE else s.shape for s, m in zip(segments, at.made))
        )
    )
    pinned = tuple(
        Section(s.size.shape, s.size.width_m, s.size.height_m) if isinstance(s.size, PinnedSize) else None
        for s in segments
    )

    def frame(friction: NDArray[Any]) -> Ducts:
        return Ducts(
            flow,
            length,
            series,
            tuple(Limits(float(r), v, h, rules.aspect) for r, v, h in zip(friction, velocity_m_s, height_m)),
            pinned,
            air.density_kg_m3,
            air.viscosity_pa_s,
            rough,
            pressed,
        )

    friction = _friction(system, on, velocity_m_s, pinned, losses, frame)
    ducts = frame(friction)
    match system.sizing:
        case "regain":
            found = by_regain(tree, ducts, _ways(on))
        case "cost":
            found = _least_cost(tree, ducts, losses, end_pa, rules.prices)
        case _:
            found = by_limits(tree, ducts)
    if rules.reduce_share > 0:
        found = _kept(tree, ducts, found, at.through, rules.reduce_share)
    return replace(found, friction=tuple(friction.tolist()))


def _ways(on: Carried) -> Ways:
    """Sections of the drawn ducts between places where air leaves, with their bends."""
    at, tree = on.at, on.at.tree
    ends = set(at.own.tolist())
    section = np.arange(len(at.segments))
    for s in tree.order.tolist():
        parent = int(tree.parent[s])
        if parent >= 0 and len(at.turns[parent]) == 1 and parent not in ends:
            section[s] = section[parent]

    def slow(role: str) -> float:
        return assumption(on.book, SLOW[role]).figure

    return Ways(
        at.through,
        section,
        np.array([slow(role) for role in at.roles]),
        lambda i, size: bend_k(at, on.way, on.book, i, size),
    )


SLOW = {
    "trunk": "duct_slow_trunk_m_s",
    "riser": "duct_slow_trunk_m_s",
    "branch": "duct_slow_branch_m_s",
    "last": "duct_slow_last_m_s",
}


def first_rate(
    flow_m3s: float, velocity_m_s: float, pinned: Section | None, roughness_m: float, air: AirResult
) -> float:
    """Friction [Pa/m] of the first section at its own greatest velocity, as a round duct; of a pinned size as it is."""
    if pinned is not None:
        area, hydraulic = (float(v[0]) for v in measures((pinned,)))
    else:
        area = flow_m3s / velocity_m_s
        hydraulic = 2 * float(np.sqrt(area / np.pi))
    return float(duct_gradient(flow_m3s, area, hydraulic, roughness_m, 0.0, air.density_kg_m3, air.viscosity_pa_s))


def _friction(
    system: AirSystem,
    on: Carried,
    velocity_m_s: Sequence[float],
    pinned: Sequence[Section | None],
    losses: Losses,
    frame: Callable[[NDArray[Any]], Ducts],
) -> NDArray[np.float64]:
    """The greatest friction of every segment [Pa/m]: a rate for all, that of the first section at its own velocity
    limit or pinned size, or what the pressure there is leaves per metre of its run. A segment's own limit stands above
    them.
    """
    air, segments, tree, flow = on.air, on.at.segments, on.at.tree, on.flow_m3s
    rate = np.full(len(segments), np.inf if system.sizing == "velocity" else air.figures.friction_pa_m.figure)
    first = [int(s) for s in tree.order if tree.parent[s] < 0 and flow[s] > 0]
    if system.sizing != "velocity" and system.friction_from == "first velocity" and first:
        s = max(first, key=lambda i: flow[i])
        rate[:] = first_rate(float(flow[s]), velocity_m_s[s], pinned[s], float(on.roughness_m[s]), air)
    elif system.sizing != "velocity" and system.friction_from == "pressure":
        rate = _from_pressure(
            AVAILABLE_PA if isinstance(system.available_pa, Rule) else system.available_pa.value,
            tree,
            on.at.length_m,
            losses,
            on.end_pa,
            frame(rate),
            by_limits,
        )
    own = np.array([np.nan if isinstance(s.friction_pa_m, Rule) else s.friction_pa_m.value for s in segments])
    return np.where(np.isfinite(own), own, rate)


def _from_pressure(
    available_pa: float,
    tree: Tree,
    length: NDArray[Any],
    losses: Losses,
    end_pa: NDArray[Any],
    ducts: Ducts,
    size: Callable[..., Any],
) -> NDArray[np.float64]:
    """Pressure that is there for a run over its effective length, the least of all runs through a segment; fittings as
    lengths of the first sizes.
    """
    found = size(tree, ducts)
    parts, flexible_pa = losses(found.sections)
    area, hydraulic = measures(found.sections)
    rub = np.maximum(ducts.friction(area, hydraulic), 1e-6)
    effective = length + (flexible_pa + np.array([sum(f.pressure_pa for f in fs) for fs in parts])) / rub
    along = tree.along(effective)
    least = tree.beyond(
        np.where(np.isfinite(end_pa), (available_pa - end_pa) / np.maximum(along, 0.1), np.inf), np.minimum
    )
    return np.clip(np.where(np.isfinite(least), least, LEAST_RATE_PA_M), LEAST_RATE_PA_M, MOST_RATE_PA_M)


def _least_cost(tree: Tree, ducts: Ducts, losses: Losses, end_pa: NDArray[Any], prices: Prices) -> Sized:
    """Fittings follow the sizes they join: the programme is repeated with those of the last round; the round that costs
    least is kept.
    """
    found = by_limits(tree, ducts)
    per_pa = prices.per_pa(float(sum(ducts.flow_m3s[s] for s in tree.order if tree.parent[s] < 0)))
    best, least, seen = found, np.inf, []
    for _ in range(ROUNDS + 1):
        fittings, flexible_pa = losses(found.sections)
        spent = _cost(tree, ducts, found, fittings, flexible_pa, end_pa, per_pa, prices)
        if spent < least:
            best, least = found, spent
        if found.sections in seen or len(seen) == ROUNDS:
            break
        seen.append(found.sections)
        own = np.array([sum(f.k for f in fs if f.reference == "duct") for fs in fittings])
        fixed = flexible_pa + np.array([sum(f.pressure_pa for f in fs if f.reference != "duct") for fs in fittings])
        found = by_cost(tree, ducts, fixed, own, end_pa, prices)
    return best


def _cost(
    tree: Tree,
    ducts: Ducts,
    found: Sized,
    fittings: list[Any],
    flexible_pa: NDArray[Any],
    end_pa: NDArray[Any],
    per_pa: float,
    prices: Prices,
) -> float:
    """Metal, and the power of the greatest run, of sizes as they are."""
    area, hydraulic = measures(found.sections)
    drop = (
        flexible_pa
        + np.array([sum(f.pressure_pa for f in fs) for fs in fittings])
        + ducts.length_m * ducts.friction(area, hydraulic)
    )
    most = float((tree.along(drop) + np.where(np.isfinite(end_pa), end_pa, 0.0))[tree.order].max(initial=0.0))
    return float(prices.sheet_m2 * (4 * area / hydraulic * ducts.length_m).sum() + per_pa * most)


def _kept(tree: Tree, ducts: Ducts, found: Sized, through: NDArray[Any], share: float) -> Sized:
    """Along a straight trunk the size is kept until its velocity has fallen by a share."""
    sections, ladders, by = list(found.sections), list(found.ladders), list(found.by)
    for s in tree.order:
        p = int(tree.parent[s])
        if (
            p < 0
            or through[s] != s
            or ducts.pinned[s] is not None
            or sections[p].shape != sections[s].shape
            or sections[p] == sections[s]
        ):
            continue
        before, after = ducts.flow_m3s[p] / sections[p].area_m2, ducts.flow_m3s[s] / sections[p].area_m2
        if after >= (1 - share) * before and sections[p].height_m <= ducts.limits[s].height_m + 1e-9:
            sections[s], by[s] = sections[p], "kept"
            at = next((i for i, x in enumerate(ladders[s].series.sections) if x == sections[p]), None)
            if at is not None:
                ladders[s] = replace(ladders[s], chosen=at, relaxed=())
    return Sized(tuple(ladders), tuple(sections), tuple(by))


def velocity_limits(book: Book, at: Layout) -> list[float]:
    """Greatest velocity in each duct [m/s]: its own, else by its role, and by noise where the office sizes by it."""
    rules = duct_rules(book)
    quiet = assumption(book, "noise_nc").figure if book.duct_velocity == "noise" else None
    limits = []
    for role, s in zip(at.roles, at.segments):
        by_role = rules.velocity_m_s[role]
        by_rule = by_role if quiet is None else min(by_role, noise_velocity(role, quiet))
        limits.append(by_rule if isinstance(s.velocity_m_s, Rule) else s.velocity_m_s.value)
    return limits
