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
    import numpy as np
    from shapely import STRtree, area, centroid, get_x, get_y, intersection, polygons
    boxes, corners = [], []
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
        nx, ny = -(b.y_m - a.y_m) / plan * width / 2, (b.x_m - a.x_m) / plan * width / 2
        corners.append(((a.x_m + nx, a.y_m + ny), (b.x_m + nx, b.y_m + ny), (b.x_m - nx, b.y_m - ny), (a.x_m - nx, a.y_m - ny), (a.x_m + nx, a.y_m + ny)))
    if len(boxes) < 2:
        return ()
    # Pairs are sifted by height as arrays first: of a tower's levels one over the other none is left.
    shapes = polygons(np.array(corners))
    low, high = (np.array([pick(b.ends[0].z_m, b.ends[1].z_m) for b in boxes]) for pick in (min, max))
    half = np.array([b.size[1] / 2 for b in boxes])
    i, k = STRtree(shapes).query(shapes, predicate="intersects")
    apart = np.maximum(low[i] - high[k], low[k] - high[i]) - half[i] - half[k]
    kept = (i < k) & (apart < GAP_M - 1e-6)
    pairs = [(a, b) for a, b in zip(i[kept].tolist(), k[kept].tolist()) if not _joined(boxes[a], boxes[b], beside)]
    if not pairs:
        return ()
    meets = intersection(shapes[[a for a, _ in pairs]], shapes[[b for _, b in pairs]])
    sizes, middles = area(meets), centroid(meets)
    found = []
    for (i, k), size, x, y in zip(pairs, sizes, get_x(middles), get_y(middles)):
        if size < 1e-4:
            continue
        one, two, at = boxes[i], boxes[k], (float(x), float(y))
        z = [_height(b, at) for b in (one, two)]
        gap = abs(z[0] - z[1]) - (one.size[1] + two.size[1]) / 2
        if gap >= GAP_M - 1e-6:
            continue
        first, second, z1, z2 = (one, two, *z) if one.size[0] * one.size[1] >= two.size[0] * two.size[1] else (two, one, z[1], z[0])
        found.append(Clash(first.segment_id, second.segment_id, GAP_M - gap, z2 <= z1, _share(second, at), first.size[0] / 2 + second.size[1] + 0.1, at))
    return tuple(found)


def _joined(one: _Box, two: _Box, beside: dict[str, set[str]]) -> bool:
    """True for ducts that meet at a point, or meet the same duct."""
    near = set().union(*(beside[p] for p in one.joints))
    return two.segment_id in near or any(near & beside[p] for p in two.joints)


def _share(box: _Box, at: tuple[float, float]) -> float:
    a, b = box.ends
    dx, dy = b.x_m - a.x_m, b.y_m - a.y_m
    return min(1.0, max(0.0, ((at[0] - a.x_m) * dx + (at[1] - a.y_m) * dy) / (dx * dx + dy * dy)))


def _height(box: _Box, at: tuple[float, float]) -> float:
    a, b = box.ends
    return a.z_m + _share(box, at) * (b.z_m - a.z_m)
