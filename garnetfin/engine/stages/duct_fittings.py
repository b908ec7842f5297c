"""Fittings that topology, sizes and directions call for, those chosen by hand in their place."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.fittings import dampers, elbows, junctions, transitions
from garnetfin.core.ducts.fittings.catalogue import choices, coefficient
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.results import FittingLoss
from garnetfin.engine.stages.duct_layout import STRAIGHT_DEG, Layout, angle_deg
from garnetfin.project.book import Book
from garnetfin.project.ducts import FittingChoice, Segment
from garnetfin.project.values import Rule

NO_TURN_DEG, MOST_ELBOW_DEG = 5.0, 135.0
OPPOSITE_DEG = 165.0
FLAT_RISE = 0.35  # of both ducts at a bend, below which it lies in plan
UNIT_CONNECTION_K = 0.05  # flexible connection at the unit's spigot
MOST_LEGS = 3  # of one junction; where more leave there is a box


@dataclass(frozen=True, slots=True, eq=False)
class Frame:
    """What fittings are found from: ducts as drawn, the air in them, sizes.

    `way` is the air: supply parts, what leaves gathers.
    """

    at: Layout
    way: str
    book: Book
    flow: Sequence[float]
    sections: Sequence[Section]
    velocity_pa: Sequence[float]


def fittings(
    at: Layout,
    way: str,
    book: Book,
    flow: NDArray[Any],
    sections: Sequence[Section],
    velocity_pa: NDArray[Any],
    friction_pa_m: NDArray[Any],
) -> list[tuple[FittingLoss, ...]]:
    """Booked on the segment behind each of them."""
    tree, found = at.tree, [()] * len(sections)
    # plain figures: thousands of single products are many times faster
    frame = Frame(at, way, book, flow.tolist(), sections, velocity_pa.tolist())
    parent, rise, lengths, rub = (
        tree.parent.tolist(),
        np.abs(at.vectors[:, 2]).tolist(),
        at.lengths.tolist(),
        friction_pa_m.tolist(),
    )
    for s in tree.order.tolist():
        p, mine, pv = parent[s], [], frame.velocity_pa[s]
        if p < 0:
            mine.append(FittingLoss("unit connection", UNIT_CONNECTION_K, "duct", UNIT_CONNECTION_K * pv))
        elif frame.flow[s] > 0 and frame.flow[p] > 0:
            turn = at.turns[p]
            if len(turn) == 1:
                flat = rise[p] + rise[s] < FLAT_RISE * (lengths[p] + lengths[s])
                first, then = (p, s) if way == "supply" else (s, p)
                mine += _in_line(frame, s, first, then, turn[s], flat)
            else:
                mine.append((_parting if way == "supply" else _joining)(frame, s, p, turn))
        if at.damped.get(s) is not None:
            shut = at.damped[s] >= dampers.SHUT_DEG
            k = dampers.k_at(sections[s], 0.0 if shut else at.damped[s])
            mine.append(
                FittingLoss(
                    "damper, shut" if shut else f"damper, {at.damped[s]:.0f}°" if at.damped[s] else "damper, open",
                    k,
                    "duct",
                    k * pv,
                )
            )
        found[s] = (
            tuple(_by_hand(at.segments[s], f, pv, rub[s]) for f in mine) if at.segments[s].fittings else tuple(mine)
        )
    return found


def chosen(segment: Segment, place: str) -> FittingChoice | None:
    return next((f for f in segment.fittings if f.place == place), None)


def _named(frame: Frame, s: int, place: str, shape: str) -> str:
    """The fitting chosen by hand, else the office standards' where it goes with the shape, else ""."""
    own = chosen(frame.at.segments[s], place)
    if own is not None and own.fitting:
        return own.fitting if own.fitting in dict(choices(place, shape, frame.way != "supply")) else ""
    if place == "elbow":
        if frame.at.made[s].material in FLEXIBLE and shape == "round":
            return "elbow-flex"
        return {"round": frame.book.elbow_round, "rectangular": frame.book.elbow_rectangular}.get(shape, "")
    if place == "takeoff":
        wanted = frame.book.takeoff_supply if frame.way == "supply" else frame.book.takeoff_leaving
        return wanted if wanted in dict(choices(place, shape, frame.way != "supply")) else ""
    return ""


def _by_hand(segment: Segment, found: FittingLoss, velocity_pa: float, friction_pa_m: float) -> FittingLoss:
    """A coefficient of the engineer's own, or an equivalent length, in place of the catalogue's."""
    own = chosen(segment, found.place) if found.place else None
    if own is None:
        return found
    if not isinstance(own.equivalent_m, Rule):
        pressure = friction_pa_m * own.equivalent_m.value
        return FittingLoss(
            found.name, pressure / velocity_pa if velocity_pa > 0 else 0.0, "duct", pressure, found.place
        )
    if not isinstance(own.k, Rule):
        base = found.pressure_pa / found.k if found.k else velocity_pa
        return FittingLoss(
            found.name, own.k.value, found.reference if found.k else "duct", own.k.value * base, found.place
        )
    return found


def _parting(frame: Frame, s: int, p: int, turn: dict[int, float]) -> FittingLoss:
    """The leg of a junction at which supply air parts."""
    sections, flow, common_pa = frame.sections, frame.flow, frame.velocity_pa[p]
    through = min(turn, key=lambda c: turn[c])
    straight = turn[through] <= STRAIGHT_DEG
    if len(turn) > MOST_LEGS:
        k = coefficient(
            "plenum-box",
            ain_abox=0.3,
            ain_aneck=sections[p].area_m2 / sections[s].area_m2 * flow[s] / max(flow[p], 1e-9),
        )
        return FittingLoss("plenum-box", k, "common", k * common_pa)
    if straight and s == through:
        name, k = junctions.straight(sections[p], sections[s], flow[p], flow[s])
        return FittingLoss(name, k, "common", k * common_pa)
    named = _named(frame, s, "takeoff", sections[p].shape)
    if not named and not straight and len(turn) == 2 and min(turn.values()) > 60:
        name, k = junctions.bullhead(sections[p], sections[s], flow[p], flow[s])
    elif not named and straight and turn[s] > 75 and _opposite(frame.at, [c for c in turn if c != through]):
        name, k = junctions.branch(sections[p], sections[s], flow[p], flow[s], turn[s], "cross-div-90")
    else:
        name, k = junctions.branch(sections[p], sections[s], flow[p], flow[s], turn[s], named)
    return FittingLoss(name, k, "common", k * common_pa, "takeoff")


def _opposite(at: Layout, sides: Sequence[int]) -> bool:
    """Two legs that leave a trunk to either side."""
    if len(sides) != 2:
        return False
    a, b = sides
    return (
        angle_deg(at.vectors[a].tolist(), at.vectors[b].tolist(), float(at.lengths[a] * at.lengths[b])) > OPPOSITE_DEG
    )


def _joining(frame: Frame, s: int, p: int, turn: dict[int, float]) -> FittingLoss:
    """The leg of a junction at which air comes together, booked on the duct it comes from."""
    sections, flow, common_pa = frame.sections, frame.flow, frame.velocity_pa[p]
    through = min(turn, key=lambda c: turn[c])
    straight = turn[through] <= STRAIGHT_DEG
    if straight and s == through:
        beside = [(sections[c], flow[c], turn[c]) for c in turn if c != s]
        name, k = junctions.straight_converging(sections[p], sections[s], flow[p], flow[s], beside)
        return FittingLoss(name, k, "common", k * common_pa)
    named = _named(frame, s, "takeoff", sections[p].shape)
    if not named and not straight and len(turn) == 2 and min(turn.values()) > 60:
        name, k = junctions.bullhead_converging(sections[p], sections[s], flow[p], flow[s])
    else:
        name, k = junctions.branch_converging(sections[p], sections[s], flow[p], flow[s], turn[s], named)
    return FittingLoss(name, k, "common", k * common_pa, "takeoff")


def bend_k(at: Layout, way: str, book: Book, s: int, section: Section) -> float:
    """Coefficient of the bend by which a duct goes on from the one before, were both of a section; 0 where it goes
    straight on, parts, or begins. Chosen fittings and typed coefficients count.
    """
    p = int(at.tree.parent[s])
    if p < 0 or len(at.turns[p]) != 1 or at.turns[p][s] <= NO_TURN_DEG:
        return 0.0
    own = chosen(at.segments[s], "elbow")
    if own is not None and not isinstance(own.k, Rule):
        return own.k.value
    parts = 2 if at.turns[p][s] > MOST_ELBOW_DEG else 1
    rise, lengths = np.abs(at.vectors[:, 2]), at.lengths
    flat = bool(rise[p] + rise[s] < FLAT_RISE * (lengths[p] + lengths[s]))
    frame = Frame(at, way, book, (), (), ())
    return elbows.elbow(section, at.turns[p][s] / parts, flat, _named(frame, s, "elbow", section.shape))[1] * parts


def _in_line(frame: Frame, s: int, first: int, then: int, turn_deg: float, flat: bool) -> list[FittingLoss]:
    before, after, mine, velocity_pa = frame.sections[first], frame.sections[then], [], frame.velocity_pa
    if turn_deg > NO_TURN_DEG:
        parts = 2 if turn_deg > MOST_ELBOW_DEG else 1  # one elbow does not turn so far
        name, k = elbows.elbow(before, turn_deg / parts, flat, _named(frame, s, "elbow", before.shape))
        mine.append(
            FittingLoss(
                name if parts == 1 else f"{name}, two", k * parts, "duct", k * parts * velocity_pa[first], "elbow"
            )
        )
    one_side = (
        frame.at.segments[first].side != "centre" and frame.at.segments[first].side == frame.at.segments[then].side
    )
    change = transitions.transition(before, after, one_side, _named(frame, s, "transition", before.shape))
    if change:
        name, k = change
        mine.append(FittingLoss(name, k, "small", k * max(velocity_pa[first], velocity_pa[then]), "transition"))
    return mine
