"""Where ducts cross walls that resist fire: in plan and height, places that are one counted once.

A run that touches a wall and stays on its side crosses nothing; a point in the wall with runs to both sides is one
crossing. Source: plane geometry.
"""

from collections import defaultdict
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
NEAR_M = 1e-6
ENDS_M = 0.01  # a wall reaches this far beyond its drawn ends: walls meet at joints


@dataclass(frozen=True, slots=True)
class Crossing:
    """One crossing: duct, share along it from its first end, and the walls that meet there, the first of them the one
    that resists longest.
    """

    duct: int
    share: float
    walls: tuple[int, ...]


def crossings(
    ducts_m: Array, nodes: NDArray[np.intp], walls_m: Array, heights_m: Array, thick_m: Array, minutes: Array
) -> tuple[Crossing, ...]:
    """All crossings, by duct and along it.

    ducts_m     (n, 2, 3) ends of ducts, nodes (n, 2) which of them meet
    walls_m     (m, 2, 2) ends of walls in plan, heights_m (m, 2) foot and head, thick_m, minutes (m,)
    """
    if not len(ducts_m) or not len(walls_m):
        return ()
    found: dict[int, list[tuple[float, int]]] = defaultdict(list)
    touching: list[tuple[int, int, int]] = []  # duct, its end, wall
    for i, j in _near(ducts_m, walls_m):
        place = _place(ducts_m[i], walls_m[j])
        if place is None:
            continue
        share, length = place
        z = ducts_m[i, 0, 2] + share * (ducts_m[i, 1, 2] - ducts_m[i, 0, 2])
        if not heights_m[j, 0] - NEAR_M <= z <= heights_m[j, 1] + NEAR_M:
            continue
        at_end = 0 if share * length < NEAR_M else 1 if (1 - share) * length < NEAR_M else None
        if at_end is None:
            found[i].append((share, j))
        else:
            touching.append((i, at_end, j))
    _through_points(found, touching, ducts_m, nodes, walls_m)
    return _as_one(found, ducts_m, thick_m, minutes)


def _near(ducts_m: Array, walls_m: Array) -> list[tuple[int, int]]:
    """Pairs of duct and wall whose boxes in plan meet."""
    from shapely import STRtree, box

    def boxes(ends: Array, more: float) -> Any:
        low, high = ends[:, :, :2].min(axis=1) - more, ends[:, :, :2].max(axis=1) + more
        return box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])

    pairs = STRtree(boxes(walls_m, ENDS_M)).query(boxes(ducts_m, 0.0))
    return sorted(zip(*(x.tolist() for x in pairs)))


def _place(duct: Array, wall: Array) -> tuple[float, float] | None:
    """(share along a duct, its length in plan) where it meets a wall in plan; None where it does not, or runs along."""
    along, wide = duct[1, :2] - duct[0, :2], wall[1] - wall[0]
    length, long = float(np.hypot(*along)), float(np.hypot(*wide))
    across = float(along[0] * wide[1] - along[1] * wide[0])
    if length < NEAR_M or long < NEAR_M or abs(across) < 1e-9 * length * long:
        return None
    apart = wall[0] - duct[0, :2]
    share = float(apart[0] * wide[1] - apart[1] * wide[0]) / across
    on_wall = float(apart[0] * along[1] - apart[1] * along[0]) / across
    slack = ENDS_M / long
    if not (-NEAR_M / length <= share <= 1 + NEAR_M / length and -slack <= on_wall <= 1 + slack):
        return None
    return min(max(share, 0.0), 1.0), length


def _through_points(
    found: dict[int, list[tuple[float, int]]],
    touching: list[tuple[int, int, int]],
    ducts_m: Array,
    nodes: NDArray[np.intp],
    walls_m: Array,
) -> None:
    """Points that lie in a wall: a crossing where runs lead to both of its sides."""
    at: dict[tuple[int, int], list[tuple[int, int]]] = defaultdict(list)
    for i, end, j in touching:
        at[int(nodes[i, end]), j].append((i, end))
    for (_, j), meet in at.items():
        sides = {_side(ducts_m[i, 1 - end], walls_m[j]) for i, end in meet}
        if {-1, 1} <= sides:
            i, end = meet[0]
            found[i].append((float(end), j))


def _side(point: Array, wall: Array) -> int:
    """On which side of a wall's line a point lies: -1, 0, 1."""
    (ax, ay), (bx, by) = wall
    off = (bx - ax) * (point[1] - ay) - (by - ay) * (point[0] - ax)
    return 0 if abs(off) < NEAR_M else 1 if off > 0 else -1


def _as_one(
    found: dict[int, list[tuple[float, int]]], ducts_m: Array, thick_m: Array, minutes: Array
) -> tuple[Crossing, ...]:
    """Crossings of a duct nearer to each other than half a wall are one."""
    made: list[Crossing] = []
    for i in sorted(found):
        length = float(np.linalg.norm(ducts_m[i, 1] - ducts_m[i, 0]))
        group: list[tuple[float, int]] = []
        for share, j in [*sorted(found[i]), (np.inf, -1)]:
            if group and (share - group[-1][0]) * length > max(float(thick_m[k]) for _, k in group) / 2 + NEAR_M:
                order = sorted({k for _, k in group}, key=lambda k: (-float(minutes[k]), k))
                made.append(Crossing(i, sum(s for s, _ in group) / len(group), tuple(order)))
                group = []
            group.append((share, j))
    return tuple(made)
