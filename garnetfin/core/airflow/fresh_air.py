"""Outdoor air that arrives in rooms where air recirculates: a tracer, the least intake that serves all, least flows.

Every room gives off as much tracer as the clean air it asks for, so that an excess of 1 is its limit. All flows of one
call in any one unit. Source: mass balance of a well-mixed tracer; without transfer air it is the multiple-zone
procedure of ASHRAE 62.1.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
SMALLEST = 1e-9
ENOUGH = 0.7  # of its supply that a room may ask for as outdoor air before it drives the intake


@dataclass(frozen=True, slots=True, eq=False)
class RoomStreams:
    """Air of rooms (R,): supply, outdoor air that leaks in, return; moves (T, 2) rooms it leaves and enters with moved
    (T,).
    """

    supply: Array
    leaks_in: Array
    returned: Array
    moves: NDArray[np.intp]
    moved: Array

    def reached(self, tracer: Array, supply: Array) -> tuple[Array, Array]:
        """(excess of each room from its own tracer, and for each unit of excess in the supply air) (R,)."""
        given = np.stack([tracer, supply], axis=1)
        into = np.bincount(self.moves[:, 1], self.moved, len(given)) if len(self.moved) else np.zeros(len(given))
        total = np.maximum(self.supply + self.leaks_in + into, SMALLEST)
        found = given / total[:, None]
        # Only rooms that get air of others hang together; the rest stand alone.
        fed = np.flatnonzero(into > 0)
        if len(fed):
            place = {int(r): k for k, r in enumerate(fed)}
            matrix, right = np.diag(total[fed]), given[fed].copy()
            for (start, end), flow in zip(self.moves.tolist(), self.moved.tolist()):
                if flow <= 0:
                    continue
                if start in place:
                    matrix[place[end], place[start]] -= flow
                else:
                    right[place[end]] += flow * found[start]
            found[fed] = np.linalg.solve(matrix, right)
        return np.asarray(found[:, 0], float), np.asarray(found[:, 1], float)


@dataclass(frozen=True, slots=True, eq=False)
class Intake:
    """The least outdoor air that keeps every room within its limit, and the room that asks for it (-1: none).

    flow is at most all supply air; `possible` is False where even that leaves a room short.
    """

    flow: float
    critical: int
    possible: bool


@dataclass(frozen=True, slots=True, eq=False)
class Arrival:
    """Outdoor air that arrives in rooms (R,) with what other rooms have left of it, and their excess (R,); that of the
    supply air.
    """

    arrives: Array
    excess: Array
    in_supply: float


def least_intake(wanted: ArrayLike, air: RoomStreams) -> Intake:
    """wanted (R,): clean air each room asks for, divided by the effectiveness of its air distribution."""
    q = np.asarray(wanted, float)
    total = float(air.supply.sum())
    if total <= SMALLEST or not (q > 0).any():
        return Intake(0.0, -1, True)
    own, of_supply = air.reached(q, air.supply)
    fed = of_supply > SMALLEST
    room = np.where(fed, (1 - own) / np.where(fed, of_supply, 1.0), np.inf)
    room = np.where(~fed & (own > 1 + 1e-9), -np.inf, room)
    critical = int(room.argmin())
    share = float(room[critical])
    back = float(air.returned.sum())
    a, b = ((air.returned * v).sum() / back if back > SMALLEST else 0.0 for v in (own, of_supply))
    if share <= 1e-9 or back <= SMALLEST:
        return Intake(total, critical, share > -1e-6)
    return Intake(float(np.clip(total * (1 - share / (a + b * share)), 0.0, total)), critical, True)


def arriving(wanted: ArrayLike, air: RoomStreams, intake: float) -> Arrival:
    """What arrives in rooms of an intake of outdoor air."""
    q = np.asarray(wanted, float)
    total, back = float(air.supply.sum()), float(air.returned.sum())
    own, of_supply = air.reached(q, air.supply)
    again = 1.0 - min(1.0, intake / total) if total > SMALLEST else 0.0
    a, b = ((air.returned * v).sum() / back if back > SMALLEST else 0.0 for v in (own, of_supply))
    if again * b >= 1 - 1e-12:  # all air goes round and none comes in: no steady state
        return Arrival(np.zeros(len(q)), np.full(len(q), np.inf), np.inf)
    in_supply = again * a / (1 - again * b)
    excess = own + of_supply * in_supply
    arrives = air.supply * (1 - in_supply) + air.leaks_in
    for (start, end), flow in zip(air.moves, air.moved):
        arrives[end] += flow * (1 - excess[start])
    return Arrival(arrives, excess, float(in_supply))


def least_flows(wanted: ArrayLike, low: ArrayLike, high: ArrayLike, share: ArrayLike) -> Array:
    """Least flows of boxes (..., R) at which no room asks for more than a share (...,) of its flow as outdoor air, as
    small as that allows; low and high (R,) are what else bounds them.
    """
    q, low, high = (np.asarray(x, float) for x in (wanted, low, high))
    z = np.maximum(np.asarray(share, float), SMALLEST)[..., None]
    return np.asarray(np.minimum(np.maximum(q / z, low), np.maximum(high, low)))


def shares_to_try(wanted: ArrayLike, low: ArrayLike, high: ArrayLike, count: int = 200) -> Array:
    """Shares (count,) from that which boxes reach fully open to that at their own least flows; none where no room asks.

    The first gives the least intake with the smallest flows.
    """
    q, low, high = (np.asarray(x, float) for x in (wanted, low, high))
    asks = (q > 0) & (high > SMALLEST)
    if not asks.any():
        return np.ones(0)
    open_ = float((q[asks] / high[asks]).max())
    closed = float((q[asks] / np.maximum(np.minimum(low, high)[asks], SMALLEST)).max())
    return np.linspace(min(open_, 1.0), min(max(open_, closed), 1.0), count)


def zone_intake(wanted: ArrayLike, least: ArrayLike, uncorrected: float, block: float) -> NDArray[Any]:
    """Intake (...,) by the multiple-zone procedure at least flows (..., R): the sum over its efficiency."""
    q, least = np.asarray(wanted, float), np.asarray(least, float)
    zd = np.where(q > 0, q / np.maximum(least, SMALLEST), 0.0).max(axis=-1)
    efficiency = 1 + uncorrected / max(block, SMALLEST) - zd
    return np.asarray(np.where(efficiency > SMALLEST, uncorrected / np.maximum(efficiency, SMALLEST), np.inf))
