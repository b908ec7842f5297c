"""Ducts that meet in one place without being joined: crossings at one height."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from math import ceil, hypot
from typing import Any

import numpy as np

from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import DuctResult
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

GAP_M = 0.05  # left between ducts that cross, insulation included
UPRIGHT = 0.7
STEP_M = 0.5  # in which the greatest size is rounded up, for pairs that may meet


@dataclass(frozen=True, slots=True)
class Clash:
    """Two segments that cross too close: how much more they must be apart [m], and where along the thinner one (share
    of its length).
    """

    first: str  # the larger one, which stays
    second: str
    missing_m: float
    below: bool  # the thinner one passes below
    share: float
    half_m: float  # of the stretch of the thinner one that is in the way
    at: tuple[float, float]


@dataclass(frozen=True, slots=True)
class _Box:
    segment_id: str
    ends: tuple[Any, ...]
    size: tuple[float, float]  # outer width and height [m]
    joints: frozenset[str]
    corners: tuple[Any, ...]


def clashes(project: Project, networks: Iterable[DuctResult], memo: Memo) -> tuple[Clash, ...]:
    """All pairs, of every system and air; ducts that are joined, or joined to the same duct, are no pair."""
    known = tuple(n for n in networks)
    return memo.one("clashes", key(project.duct_points, project.segments, *known), lambda: _find(project, known, memo))


def _find(project: Project, networks: tuple[DuctResult, ...], memo: Memo) -> tuple[Clash, ...]:
    results = {i: r for n in networks for i, r in n.segments.items()}
    outer = {i: (r.section.width_m + 2 * r.make.around_m, r.outer_height_m) for i, r in results.items()}
    if len(outer) < 2:
        return ()
    # Which ducts may ever meet follows from how they run; only the sizes of those are looked at again when a size
    # moves.
    wide, high = (ceil(max(o[k] for o in outer.values()) / STEP_M) * STEP_M for k in (0, 1))
    near = memo.one(
        "near ducts", key(project.duct_points, project.segments, wide, high), lambda: _near(project, wide, high)
    )
    pairs = [(a, b) for a, b in near if a in outer and b in outer]
    if not pairs:
        return ()
    return tuple(_meeting(project, pairs, outer))


def _near(project: Project, wide: float, high: float) -> tuple[tuple[str, str], ...]:
    """Pairs of flat ducts, not joined, that would meet were all as large as this."""
    from shapely import STRtree, polygons

    beside: dict[str, set[str]] = {}
    for segment in project.segments:
        beside.setdefault(segment.a, set()).add(segment.id)
        beside.setdefault(segment.b, set()).add(segment.id)
    boxes = [b for s in project.segments if (b := _box(project, s.id, (wide, high))) is not None]
    if len(boxes) < 2:
        return ()
    shapes = polygons(np.array([b.corners for b in boxes]))
    low, top = (np.array([pick(b.ends[0].z_m, b.ends[1].z_m) for b in boxes]) for pick in (min, max))
    i, k = STRtree(shapes).query(shapes, predicate="intersects")
    apart = np.maximum(low[i] - top[k], low[k] - top[i]) - high
    kept = (i < k) & (apart < GAP_M - 1e-6)
    return tuple(
        (boxes[a].segment_id, boxes[b].segment_id)
        for a, b in zip(i[kept].tolist(), k[kept].tolist())
        if not _joined(boxes[a], boxes[b], beside)
    )


def _meeting(project: Project, pairs: list[tuple[str, str]], outer: dict[str, tuple[float, float]]) -> Iterator[Clash]:
    from shapely import area, centroid, get_x, get_y, intersection, polygons

    boxes = {i: _box(project, i, outer[i]) for pair in pairs for i in pair}
    one, two = (polygons(np.array([boxes[p[k]].corners for p in pairs])) for k in (0, 1))
    meets = intersection(one, two)
    real = area(meets) >= 1e-4
    middles = centroid(meets[real])
    for (i, k), x, y in zip([p for p, met in zip(pairs, real) if met], get_x(middles), get_y(middles)):
        one, two, at = boxes[i], boxes[k], (float(x), float(y))
        z = [_height(b, at) for b in (one, two)]
        gap = abs(z[0] - z[1]) - (one.size[1] + two.size[1]) / 2
        if gap >= GAP_M - 1e-6:
            continue
        first, second, z1, z2 = (
            (one, two, *z) if one.size[0] * one.size[1] >= two.size[0] * two.size[1] else (two, one, z[1], z[0])
        )
        yield Clash(
            first.segment_id,
            second.segment_id,
            GAP_M - gap,
            z2 <= z1,
            _share(second, at),
            first.size[0] / 2 + second.size[1] + 0.1,
            at,
        )


def _box(project: Project, segment_id: str, size: tuple[float, float]) -> _Box | None:
    """A duct of an outer size as a rectangle in plan; None for one that stands upright."""
    segment = find(project.segments, segment_id)
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    plan = hypot(a.x_m - b.x_m, a.y_m - b.y_m)
    if abs(a.z_m - b.z_m) > UPRIGHT * max(plan, 1e-9) or plan < 0.02:
        return None
    nx, ny = -(b.y_m - a.y_m) / plan * size[0] / 2, (b.x_m - a.x_m) / plan * size[0] / 2
    corners = (
        (a.x_m + nx, a.y_m + ny),
        (b.x_m + nx, b.y_m + ny),
        (b.x_m - nx, b.y_m - ny),
        (a.x_m - nx, a.y_m - ny),
        (a.x_m + nx, a.y_m + ny),
    )
    return _Box(segment_id, (a, b), size, frozenset((segment.a, segment.b)), corners)


def _joined(one: _Box, two: _Box, beside: dict[str, set[str]]) -> bool:
    """True for ducts that meet at a point, or meet the same duct."""
    near = set().union(*(beside[p] for p in one.joints))
    return two.segment_id in near or any(near & beside[p] for p in two.joints)


def _share(box: _Box, at: tuple[float, float]) -> float:
    a, b = box.ends
    dx, dy = b.x_m - a.x_m, b.y_m - a.y_m
    return float(min(1.0, max(0.0, ((at[0] - a.x_m) * dx + (at[1] - a.y_m) * dy) / (dx * dx + dy * dy))))


def _height(box: _Box, at: tuple[float, float]) -> float:
    a, b = box.ends
    return float(a.z_m + _share(box, at) * (b.z_m - a.z_m))
