"""Ducts as they are drawn: the tree from the unit, lengths, turns, what lies in the way. None of it hangs on a flow."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import acos, degrees
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.tree import Tree, build_tree
from garnetfin.engine.memo import Memo, Ready, key
from garnetfin.engine.results import Make
from garnetfin.engine.slices import DuctParts
from garnetfin.engine.stages import duct_make
from garnetfin.project.book import Book
from garnetfin.project.ducts import DuctPoint, Segment, Terminal
from garnetfin.project.lookup import positions
from garnetfin.project.spaces import CeilingZone, Obstacle
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

STRAIGHT_DEG = 15.0


@dataclass(frozen=True, slots=True)
class Clearance:
    """Free height of the ceiling zones a duct passes, beside the obstacles in them and through their sleeves, and the
    narrowest of those sleeves; inf where free.
    """

    zone_m: float
    obstacle_m: float
    obstacle: str
    sleeve_m: float = float("inf")


@dataclass(frozen=True, slots=True, eq=False)
class Layout:
    """The ducts of one system for one air.

    Arrays by segment; `reached` are the terminals the unit reaches, each at the end of segment `own`.
    """

    segments: tuple[Segment, ...]
    members: tuple[Terminal, ...]  # terminals of this air, those of other systems and loose ones too
    reached: tuple[Terminal, ...]
    own: NDArray[np.intp]
    nodes: int
    root: int
    at: NDArray[np.intp]  # node of each reached terminal
    ends: NDArray[np.intp]  # (segments, 2)
    tree: Tree
    vectors: NDArray[np.float64]  # in air direction (segments, 3) [m]
    lengths: NDArray[np.float64]  # of the vectors, never 0
    length_m: NDArray[np.float64]
    distance_m: NDArray[np.float64]  # from the unit to its end
    terminals_on: NDArray[np.intp]
    # by segment with others behind it: the angle [deg] at which each of them goes on
    turns: dict[int, dict[int, float]]
    # itself where a segment goes straight on from its parent, or is the only one behind it; else -1
    through: NDArray[np.intp]
    roles: tuple[str, ...]
    made: tuple[Make, ...]
    # segments with a balancing damper: its blade where one is pinned, else 0 [deg]; None for a plate
    damped: dict[int, float | None]
    free: NDArray[np.bool_]  # its damper is set by rule
    flexible_m: NDArray[np.float64]
    clear: tuple[Clearance, ...]


def layout(project: Project, system: AirSystem, way: str, parts: DuctParts, memo: Memo) -> Layout | None:
    """None where no terminal is reached."""
    wraps = system.heat == "computed" and way == "supply"
    row = key(system.id, way, system.roots_of(way), parts.key, project.book, wraps)
    return memo.one("duct layout", row, lambda: _laid(project.book, system.roots_of(way), parts, wraps, memo))


def _laid(book: Book, roots: tuple[str, ...], parts: DuctParts, wraps: bool, memo: Memo) -> Layout | None:
    segments, members = parts.segments, parts.terminals
    index = positions(parts.points)
    joined = [index[i] for i in roots if i in index]
    if not joined:
        return None
    xyz = np.array([(p.x_m, p.y_m, p.z_m) for p in parts.points])
    drawn = np.array([(index[s.a], index[s.b]) for s in segments])
    root = joined[0]
    # all spigots of an air open into one plenum: they are one node of the tree
    ends = np.where(np.isin(drawn, joined), root, drawn)
    tree = build_tree(len(xyz), ends, root)
    at_end = {int(tree.leaving[s]): int(s) for s in tree.order}
    reached = tuple(t for t in members if index.get(t.point_id) in at_end)
    if not reached:
        return None
    own = np.array([at_end[index[t.point_id]] for t in reached])
    along = xyz[drawn[:, 1]] - xyz[drawn[:, 0]]
    outward = np.where(tree.entering == ends[:, 0], 1.0, -1.0)
    vectors = np.where(tree.reached[:, None], along * outward[:, None], 0.0)
    length = np.linalg.norm(along, axis=1)
    vertical = np.abs(vectors[:, 2]) > 0.7 * np.maximum(length, 1e-9)
    lengths = np.maximum(np.linalg.norm(vectors, axis=1), 1e-9)
    turns = _turns(tree, vectors, lengths)
    on = tree.beyond(np.bincount(own, minlength=len(segments)))
    clear = clearances(parts, memo)
    going_on, ending = set(turns), set(own.tolist())
    damped = {
        i: None if s.damper == "orifice" else 0.0 if isinstance(s.damper_deg, Rule) else s.damper_deg.value
        for i, s in enumerate(segments)
        if s.damper in ("blade", "orifice")
        or (s.damper == "" and ((i in ending and i not in going_on) or not isinstance(s.damper_deg, Rule)))
    }
    free = np.array(
        [i in damped and (isinstance(s.damper_deg, Rule) or s.damper == "orifice") for i, s in enumerate(segments)]
    )
    return Layout(
        segments,
        members,
        reached,
        own,
        len(xyz),
        root,
        np.array([index[t.point_id] for t in reached]),
        ends,
        tree,
        vectors,
        lengths,
        length,
        tree.along(length),
        on,
        turns,
        _through(len(segments), turns),
        roles(segments, tree, vertical, on, turns, xyz[tree.leaving]),
        tuple(duct_make.make(s, book, wraps) for s in segments),
        damped,
        free,
        np.array([s.flexible_m for s in segments]),
        tuple(clear),
    )


TRUNK_SHARE = 0.25  # of all terminals; what carries fewer, off the main way, is a branch


def roles(
    segments: Sequence[Segment],
    tree: Tree,
    vertical: NDArray[np.bool_],
    terminals_on: NDArray[np.intp],
    turns: dict[int, dict[int, float]],
    ends_at: NDArray[Any],
) -> tuple[str, ...]:
    """Role of every segment: riser, trunk, branch or last piece. As chosen, but that no last piece carries several
    terminals; by rule the way on which most hang is the trunk, with what carries a quarter of all, and what serves one
    terminal is a last piece. Whoever drew first plays no part: of equals the straightest way is the main one, then
    that which ends first along x, y, z.
    """
    main: set[int] = set()
    ends: list[list[float]] = np.round(ends_at, 4).tolist()
    for first in (int(s) for s in tree.order if tree.parent[s] < 0):
        at: int | None = first
        while at is not None:
            main.add(at)
            beside = turns.get(at, {})
            at = min(beside, key=lambda c: (-int(terminals_on[c]), round(beside[c], 3), ends[c]), default=None)
    whole = max((int(terminals_on[s]) for s in tree.order if tree.parent[s] < 0), default=0)
    made = []
    for i, s in enumerate(segments):
        on = int(terminals_on[i])
        if vertical[i]:
            made.append("riser")
        elif s.role and not (s.role == "last" and on > 1):
            made.append(s.role)
        elif on == 1:
            made.append("last")
        elif on > 1 and (i in main or on >= TRUNK_SHARE * whole):
            made.append("trunk")
        else:
            made.append("branch")
    return tuple(made)


def _turns(tree: Tree, vectors: NDArray[Any], lengths: NDArray[Any]) -> dict[int, dict[int, float]]:
    found: dict[int, dict[int, float]] = {}
    # plain figures: thousands of single products are many times faster
    plain, whole = vectors.tolist(), lengths.tolist()
    for s in tree.order.tolist():
        p = int(tree.parent[s])
        if p >= 0:
            found.setdefault(p, {})[s] = angle_deg(plain[p], plain[s], whole[p] * whole[s])
    return found


def angle_deg(a: Sequence[float], b: Sequence[float], lengths: float) -> float:
    """Between two vectors, by the product of their lengths."""
    return degrees(acos(max(-1.0, min(1.0, (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / lengths))))


def _through(count: int, turns: dict[int, dict[int, float]]) -> NDArray[np.intp]:
    through = np.full(count, -1)
    for beside in turns.values():
        best = min(beside, key=lambda c: beside[c])
        if len(beside) == 1 or beside[best] <= STRAIGHT_DEG:
            through[best] = best
    return through


def clearances(parts: DuctParts, memo: Memo) -> list[Clearance]:
    """Of all ducts in their order; only those that moved, or whose surroundings did, are looked at again."""
    place, floors = positions(parts.points), {i: floor for i, floor, _ in parts.levels}
    zones: dict[str, tuple[CeilingZone, ...]] = {}
    obstacles: dict[str, tuple[Obstacle, ...]] = {}
    for level_id in floors:
        zones[level_id] = tuple(z for z in parts.zones if z.level_id == level_id)
        obstacles[level_id] = tuple(o for o in parts.obstacles if o.level_id == level_id and o.in_way)
    ends = [(parts.points[place[s.a]], parts.points[place[s.b]]) for s in parts.segments]
    around = {i: Ready(key(floors[i], zones[i], obstacles[i])) for i in floors}

    def compute(stale: list[int]) -> list[Clearance]:
        at = [(*ends[k], ends[k][0].level_id) for k in stale]
        return [_clearance(a, b, floors[i], zones[i], obstacles[i]) for a, b, i in at]

    return memo.rows("clearance", [key(a, b, around[a.level_id]) for a, b in ends], compute)


def _clearance(
    a: DuctPoint, b: DuctPoint, floor_m: float, zones: Sequence[CeilingZone], obstacles: Sequence[Obstacle]
) -> Clearance:
    """Of a duct between two points on a level with its floor, ceiling zones, and obstacles that are in the way."""
    zone_m = obstacle_m = sleeve_m = float("inf")
    name = ""
    if not zones or abs(a.z_m - b.z_m) > 0.7 * max(_plan_length(a, b), 1e-9):
        return Clearance(zone_m, obstacle_m, name)
    from shapely import LineString, Point, Polygon

    line = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
    axis_m = (a.z_m + b.z_m) / 2 - floor_m
    for zone in zones:
        if line.intersection(Polygon(zone.outline).buffer(0)).length < 0.05:
            continue
        zone_m = min(zone_m, zone.free_m)
        for obstacle in obstacles:
            crossing = line.intersection(Polygon(obstacle.outline).buffer(0))
            if crossing.length > 0.01:
                sleeve = next((h for h in obstacle.sleeves if crossing.distance(Point(h.at)) <= h.width_m / 2), None)
                free = sleeve.top_m - sleeve.bottom_m if sleeve else _beside(obstacle, zone, axis_m)
                sleeve_m = min(sleeve_m, sleeve.width_m if sleeve else sleeve_m)
                if free < obstacle_m:
                    obstacle_m, name = free, f"{obstacle.kind} {obstacle.id}"
    return Clearance(zone_m, obstacle_m, name, sleeve_m)


def _beside(obstacle: Obstacle, zone: CeilingZone, axis_m: float) -> float:
    """Height [m] that an obstacle leaves to a duct: under it, or above it where the duct's axis lies in its upper half
    or above; all heights from the level's floor.
    """
    low, high = zone.ceiling_m + zone.allowance_m, zone.soffit_m
    if axis_m > (obstacle.bottom_m + obstacle.top_m) / 2:
        return max(0.0, high - max(obstacle.top_m, low))
    return max(0.0, min(obstacle.bottom_m, high) - low)


def _plan_length(a: DuctPoint, b: DuctPoint) -> float:
    return float(((a.x_m - b.x_m) ** 2 + (a.y_m - b.y_m) ** 2) ** 0.5)
