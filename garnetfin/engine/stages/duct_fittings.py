"""Fittings that topology, sizes and directions call for, those chosen by hand in their place."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import acos, degrees

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.fittings import dampers, elbows, tees, transitions
from garnetfin.core.ducts.fittings.catalogue import choices, coefficient
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.ducts.tree import Tree
from garnetfin.engine.results import FittingLoss, Make
from garnetfin.project.book import Book
from garnetfin.project.ducts import FittingChoice, Segment
from garnetfin.project.values import Rule

STRAIGHT_DEG, NO_TURN_DEG, MOST_ELBOW_DEG = 15.0, 5.0, 135.0
OPPOSITE_DEG = 165.0
UNIT_CONNECTION_K = 0.05           # flexible connection at the unit's spigot
MOST_LEGS = 3                      # of one junction; where more leave there is a box


@dataclass(frozen=True, slots=True, eq=False)
class Frame:
    """What fittings are found from: the tree, who stands where, how air moves. `way` is the air: supply parts, what leaves gathers."""

    segments: Sequence[Segment]
    tree: Tree
    flow: NDArray
    vectors: NDArray
    damped: dict[int, float | None]  # segments with a balancing damper: its blade where one is pinned, else 0 [deg]; None for a plate
    way: str
    book: Book
    made: Sequence[Make]


def fittings(at: Frame, sections: Sequence[Section], velocity_pa: NDArray, friction_pa_m: NDArray) -> list[tuple[FittingLoss, ...]]:
    """Booked on the segment behind each of them."""
    tree = at.tree
    found: list[tuple[FittingLoss, ...]] = [()] * len(sections)
    children: dict[int, list[int]] = {}
    for s in tree.order:
        if tree.parent[s] >= 0:
            children.setdefault(int(tree.parent[s]), []).append(int(s))
    norms = np.maximum(np.linalg.norm(at.vectors, axis=1), 1e-9)
    vectors, lengths = at.vectors.tolist(), norms.tolist()          # plain figures: thousands of single products are many times faster
    for s in (int(i) for i in tree.order):
        p, mine = int(tree.parent[s]), []
        if p < 0:
            mine.append(FittingLoss("unit connection", UNIT_CONNECTION_K, "duct", UNIT_CONNECTION_K * velocity_pa[s]))
        elif at.flow[s] > 0 and at.flow[p] > 0:
            beside = children[p]
            turn = {c: _angle(vectors[p], vectors[c], lengths[p] * lengths[c]) for c in beside}
            flat = abs(vectors[p][2]) + abs(vectors[s][2]) < 0.5 * (lengths[p] + lengths[s]) * 0.7
            if len(beside) == 1:
                first, then = (p, s) if at.way == "supply" else (s, p)
                mine += _in_line(at, s, first, then, sections, turn[s], velocity_pa, flat)
            elif at.way != "supply":
                mine.append(_joining(at, s, p, turn, sections, float(velocity_pa[p])))
            else:
                mine.append(_parting(at, s, p, turn, norms, sections, float(velocity_pa[p])))
        if at.damped.get(s) is not None:
            shut = at.damped[s] >= dampers.SHUT_DEG
            k = dampers.k_at(sections[s], 0.0 if shut else at.damped[s])
            mine.append(FittingLoss("damper, shut" if shut else f"damper, {at.damped[s]:.0f}°" if at.damped[s] else "damper, open", k, "duct", k * velocity_pa[s]))
        found[s] = tuple(_by_hand(at.segments[s], f, velocity_pa[s], friction_pa_m[s]) for f in mine) if at.segments[s].fittings else tuple(mine)
    return found


def _angle(a: Sequence[float], b: Sequence[float], lengths: float) -> float:
    return degrees(acos(max(-1.0, min(1.0, (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / lengths))))


def chosen(segment: Segment, place: str) -> FittingChoice | None:
    return next((f for f in segment.fittings if f.place == place), None)


def _named(at: Frame, s: int, place: str, shape: str) -> str:
    """The fitting chosen by hand, else the office book's where it goes with the shape, else ""."""
    own = chosen(at.segments[s], place)
    if own is not None and own.fitting:
        return own.fitting if own.fitting in dict(choices(place, shape, at.way != "supply")) else ""
    if place == "elbow":
        if at.made[s].material in FLEXIBLE and shape == "round":
            return "elbow-flex"
        return {"round": at.book.elbow_round, "rectangular": at.book.elbow_rectangular}.get(shape, "")
    if place == "takeoff":
        wanted = at.book.takeoff_supply if at.way == "supply" else at.book.takeoff_leaving
        return wanted if wanted in dict(choices(place, shape, at.way != "supply")) else ""
    return ""


def _by_hand(segment: Segment, found: FittingLoss, velocity_pa: float, friction_pa_m: float) -> FittingLoss:
    """A coefficient of the engineer's own, or an equivalent length, in place of the catalogue's."""
    own = chosen(segment, found.place) if found.place else None
    if own is None:
        return found
    if not isinstance(own.equivalent_m, Rule):
        pressure = friction_pa_m * own.equivalent_m.value
        return FittingLoss(found.name, pressure / velocity_pa if velocity_pa > 0 else 0.0, "duct", pressure, found.place)
    if not isinstance(own.k, Rule):
        base = found.pressure_pa / found.k if found.k else velocity_pa
        return FittingLoss(found.name, own.k.value, found.reference if found.k else "duct", own.k.value * base, found.place)
    return found


def _parting(at: Frame, s: int, p: int, turn: dict[int, float], norms: NDArray, sections: Sequence[Section], common_pa: float) -> FittingLoss:
    """The leg of a junction at which supply air parts."""
    through = min(turn, key=lambda c: turn[c])
    straight = turn[through] <= STRAIGHT_DEG
    if len(turn) > MOST_LEGS:
        k = coefficient("plenum-box", ain_abox=0.3, ain_aneck=sections[p].area_m2 / sections[s].area_m2 * at.flow[s] / max(at.flow[p], 1e-9))
        return FittingLoss("plenum-box", k, "common", k * common_pa)
    if straight and s == through:
        name, k = tees.straight(sections[p], sections[s], at.flow[p], at.flow[s])
        return FittingLoss(name, k, "common", k * common_pa)
    named = _named(at, s, "takeoff", sections[p].shape)
    sides = [c for c in turn if not (straight and c == through)]
    if not named and not straight and len(turn) == 2 and min(turn.values()) > 60:
        name, k = tees.bullhead(sections[p], sections[s], at.flow[p], at.flow[s])
    elif not named and straight and len(sides) == 2 and turn[s] > 75 and _angle(at.vectors[sides[0]], at.vectors[sides[1]], norms[sides[0]] * norms[sides[1]]) > OPPOSITE_DEG:
        name, k = tees.branch(sections[p], sections[s], at.flow[p], at.flow[s], turn[s], "cross-div-90")
    else:
        name, k = tees.branch(sections[p], sections[s], at.flow[p], at.flow[s], turn[s], named)
    return FittingLoss(name, k, "common", k * common_pa, "takeoff")


def _joining(at: Frame, s: int, p: int, turn: dict[int, float], sections: Sequence[Section], common_pa: float) -> FittingLoss:
    """The leg of a junction at which air comes together, booked on the duct it comes from."""
    through = min(turn, key=lambda c: turn[c])
    straight = turn[through] <= STRAIGHT_DEG
    if straight and s == through:
        name, k = tees.straight_converging(sections[p], sections[s], at.flow[p], at.flow[s])
        return FittingLoss(name, k, "common", k * common_pa)
    named = _named(at, s, "takeoff", sections[p].shape)
    if not named and not straight and len(turn) == 2 and min(turn.values()) > 60:
        name, k = tees.bullhead_converging(sections[p], sections[s], at.flow[p], at.flow[s])
    else:
        name, k = tees.branch_converging(sections[p], sections[s], at.flow[p], at.flow[s], turn[s], named)
    return FittingLoss(name, k, "common", k * common_pa, "takeoff")


def _in_line(at: Frame, s: int, first: int, then: int, sections: Sequence[Section], turn_deg: float, velocity_pa: NDArray, flat: bool) -> list[FittingLoss]:
    before, after, mine = sections[first], sections[then], []
    if turn_deg > NO_TURN_DEG:
        parts = 2 if turn_deg > MOST_ELBOW_DEG else 1            # one elbow does not turn so far
        name, k = elbows.elbow(before, turn_deg / parts, flat, _named(at, s, "elbow", before.shape))
        mine.append(FittingLoss(name if parts == 1 else f"{name}, two", k * parts, "duct", k * parts * velocity_pa[first], "elbow"))
    one_side = at.segments[first].side != "centre" and at.segments[first].side == at.segments[then].side
    change = transitions.transition(before, after, one_side, _named(at, s, "transition", before.shape))
    if change:
        name, k = change
        mine.append(FittingLoss(name, k, "small", k * max(velocity_pa[first], velocity_pa[then]), "transition"))
    return mine
