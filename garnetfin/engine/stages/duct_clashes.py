"""Ducts that meet in one place without being joined: crossings at one height."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import hypot

from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import DuctResult
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

GAP_M = 0.05                         # left between ducts that cross, insulation included
UPRIGHT = 0.7


@dataclass(frozen=True, slots=True)
class Clash:
    """Two segments that cross too close: how much more they must be apart [m], and where along the thinner one (share of its length)."""

    first: str                       # the larger one, which stays
    second: str
    missing_m: float
    below: bool                      # the thinner one passes below
    share: float
    half_m: float                    # of the stretch of the thinner one that is in the way
    at: tuple[float, float]


@dataclass(frozen=True, slots=True)
class _Box:
    segment_id: str
    ends: tuple
    size: tuple[float, float]        # outer width and height [m]
    joints: frozenset[str]


def clashes(project: Project, networks: Iterable[DuctResult], memo: Memo) -> tuple[Clash, ...]:
    """All pairs, of every system and air; ducts that are joined, or joined to the same duct, are no pair."""
    known = tuple(n for n in networks)
    return memo.one("clashes", key(project.duct_points, project.segments, *known), lambda: _find(project, known))


def _find(project: Project, networks: tuple[DuctResult, ...]) -> tuple[Clash, ...]:
    from shapely import LineString, STRtree
    boxes, shapes = [], []
    beside: dict[str, set[str]] = {}
    for segment in project.segments:
        beside.setdefault(segment.a, set()).add(segment.id)
        beside.setdefault(segment.b, set()).add(segment.id)
    results = {i: r for n in networks for i, r in n.segments.items()}
    for segment in project.segments:
        result = results.get(segment.id)
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        plan = hypot(a.x_m - b.x_m, a.y_m - b.y_m)
        if result is None or abs(a.z_m - b.z_m) > UPRIGHT * max(plan, 1e-9) or plan < 0.02:
            continue
        width = result.section.width_m + 2 * result.make.around_m
        boxes.append(_Box(segment.id, (a, b), (width, result.outer_height_m), frozenset((segment.a, segment.b))))
        shapes.append(LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)]).buffer(width / 2, cap_style="flat"))
    if len(boxes) < 2:
        return ()
    tree, found = STRtree(shapes), []
    for i, k in zip(*tree.query(shapes, predicate="intersects")):
        if i >= k:
            continue
        one, two = boxes[i], boxes[k]
        near = set().union(*(beside[p] for p in one.joints))
        if two.segment_id in near or any(near & beside[p] for p in two.joints):
            continue
        inter = shapes[i].intersection(shapes[k])
        if inter.area < 1e-4:
            continue
        at = (inter.centroid.x, inter.centroid.y)
        z = [_height(b, at) for b in (one, two)]
        gap = abs(z[0] - z[1]) - (one.size[1] + two.size[1]) / 2
        if gap >= GAP_M - 1e-6:
            continue
        first, second, z1, z2 = (one, two, *z) if one.size[0] * one.size[1] >= two.size[0] * two.size[1] else (two, one, z[1], z[0])
        found.append(Clash(first.segment_id, second.segment_id, GAP_M - gap, z2 <= z1, _share(second, at), first.size[0] / 2 + second.size[1] + 0.1, at))
    return tuple(found)


def _share(box: _Box, at: tuple[float, float]) -> float:
    a, b = box.ends
    dx, dy = b.x_m - a.x_m, b.y_m - a.y_m
    return min(1.0, max(0.0, ((at[0] - a.x_m) * dx + (at[1] - a.y_m) * dy) / (dx * dx + dy * dy)))


def _height(box: _Box, at: tuple[float, float]) -> float:
    a, b = box.ends
    return a.z_m + _share(box, at) * (b.z_m - a.z_m)
