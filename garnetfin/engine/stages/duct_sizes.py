"""Sizes of a system's ducts by the method it follows and the rules of the office book."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.friction import ROUGHNESS_M, gradient
from garnetfin.core.ducts.life_cycle import Prices, by_cost
from garnetfin.core.ducts.regain import by_regain
from garnetfin.core.ducts.sizes import Section, Series, rectangular_series, round_series, with_height
from garnetfin.core.ducts.sizing import Ducts, Limits, Sized, by_limits
from garnetfin.core.ducts.tree import Tree
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, FittingLoss
from garnetfin.project.book import Book
from garnetfin.project.ducts import PinnedSize, Segment
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Rule

STRAIGHT_DEG = 15.0
ROUNDS = 4                           # of the least-cost programme, whose fittings follow the sizes


@dataclass(frozen=True, slots=True)
class DuctRules:
    """The office book on ducts: greatest velocity by role [m/s], shape limits [m], when a trunk is reduced, prices."""

    velocity_m_s: dict[str, float]
    aspect: float
    least_m: float
    step_m: float
    extra: bool
    reduce_share: float
    prices: Prices

    def series(self, shape: str, fixed_height_m: float | None = None) -> Series:
        if shape == "round":
            return round_series(round(self.least_m * 1000), self.extra)
        whole = rectangular_series(max(10, round(self.step_m * 1000)), least_mm=round(self.least_m * 1000))
        return whole if fixed_height_m is None else with_height(whole, fixed_height_m)


@lru_cache(maxsize=16)
def duct_rules(book: Book) -> DuctRules:
    def figure(name: str) -> float:
        return assumption(book, name).figure
    return DuctRules({"trunk": figure("duct_trunk_m_s"), "riser": figure("duct_riser_m_s"), "branch": figure("duct_branch_m_s"),
                      "last": figure("duct_last_m_s")}, figure("duct_aspect"), figure("duct_least_m"), figure("duct_step_m"),
                     book.duct_series == "extra", figure("duct_reduce"),
                     Prices(figure("sheet_price"), figure("energy_price"), figure("fan_hours"), figure("life_years"), figure("interest")))


def through_legs(tree: Tree, vectors: NDArray) -> NDArray[np.intp]:
    """For every segment itself where it goes straight on from its parent (or is its only child), else -1."""
    children: dict[int, list[int]] = {}
    for s in tree.order:
        if tree.parent[s] >= 0:
            children.setdefault(int(tree.parent[s]), []).append(int(s))
    unit = vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-9)
    through = np.full(len(tree.parent), -1)
    for p, beside in children.items():
        turn = {c: float(np.degrees(np.arccos(np.clip(unit[p] @ unit[c], -1, 1)))) for c in beside}
        best = min(beside, key=lambda c: turn[c])
        if len(beside) == 1 or turn[best] <= STRAIGHT_DEG:
            through[best] = best
    return through


def sized(system: AirSystem, book: Book, air: AirResult, segments: Sequence[Segment], tree: Tree, flow: NDArray, length: NDArray, vectors: NDArray,
          height_m: Sequence[float], roles: Sequence[str], losses: Callable[[Sequence[Section]], tuple[list[tuple[FittingLoss, ...]], NDArray]],
          end_pa: NDArray) -> Sized:
    """Ladders and sections. `losses` gives fittings and flexible ducts [Pa] for given sections; end_pa the terminals' losses, NaN elsewhere."""
    rules = duct_rules(book)
    friction = np.inf if system.sizing == "velocity" else air.figures.friction_pa_m.figure
    fixed = None if isinstance(system.duct_height_m, Rule) else system.duct_height_m.value
    ducts = Ducts(flow, length, tuple(rules.series(s.shape, fixed) for s in segments),
                  tuple(Limits(friction, rules.velocity_m_s[role], h, rules.aspect) for role, h in zip(roles, height_m)),
                  tuple(Section(s.size.shape, s.size.width_m, s.size.height_m) if isinstance(s.size, PinnedSize) else None for s in segments),
                  air.density_kg_m3, air.viscosity_pa_s)
    through = through_legs(tree, vectors)
    match system.sizing:
        case "regain":
            found = by_regain(tree, ducts, through, rules.velocity_m_s["trunk"])
        case "cost":
            found = _least_cost(tree, ducts, losses, end_pa, rules.prices)
        case _:
            found = by_limits(tree, ducts)
    return _kept(tree, ducts, found, through, rules.reduce_share) if rules.reduce_share > 0 else found


def _least_cost(tree: Tree, ducts: Ducts, losses: Callable, end_pa: NDArray, prices: Prices) -> Sized:
    """Fittings follow the sizes they join: the programme is repeated with those of the last round; the round that costs least is kept."""
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


def _cost(tree: Tree, ducts: Ducts, found: Sized, fittings: list, flexible_pa: NDArray, end_pa: NDArray, per_pa: float, prices: Prices) -> float:
    """Metal, and the power of the greatest run, of sizes as they are."""
    area, hydraulic = (np.array([getattr(s, n) for s in found.sections]) for n in ("area_m2", "hydraulic_m"))
    drop = flexible_pa + np.array([sum(f.pressure_pa for f in fs) for fs in fittings]) + ducts.length_m * gradient(
        ducts.flow_m3s, area, hydraulic, ROUGHNESS_M["galvanised"], ducts.density, ducts.viscosity)
    along, most = np.zeros(len(drop)), 0.0
    for s in tree.order:
        along[s] = (along[tree.parent[s]] if tree.parent[s] >= 0 else 0.0) + drop[s]
        most = max(most, along[s] + (end_pa[s] if np.isfinite(end_pa[s]) else 0.0))
    return float(prices.sheet_m2 * (4 * area / hydraulic * ducts.length_m).sum() + per_pa * most)


def _kept(tree: Tree, ducts: Ducts, found: Sized, through: NDArray, share: float) -> Sized:
    """Along a straight trunk the size is kept until its velocity has fallen by a share."""
    sections, ladders, by = list(found.sections), list(found.ladders), list(found.by)
    for s in tree.order:
        p = int(tree.parent[s])
        if p < 0 or through[s] != s or ducts.pinned[s] is not None or sections[p].shape != sections[s].shape or sections[p] == sections[s]:
            continue
        before, after = ducts.flow_m3s[p] / sections[p].area_m2, ducts.flow_m3s[s] / sections[p].area_m2
        if after >= (1 - share) * before and sections[p].height_m <= ducts.limits[s].height_m + 1e-9:
            sections[s], by[s] = sections[p], "kept"
            at = next((i for i, x in enumerate(ladders[s].series.sections) if x == sections[p]), None)
            if at is not None:
                ladders[s] = replace(ladders[s], chosen=at, relaxed=())
    return Sized(tuple(ladders), tuple(sections), tuple(by))
