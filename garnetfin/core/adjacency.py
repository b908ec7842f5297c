"""Which rooms share a wall, a floor, a roof: derived from outlines in plan.

Outlines are polygons (x, y) in metres, either way round, without holes. A gap up to a wall's thickness between two
parallel edges that face each other counts as one shared wall.

Source: own method; areas by Shapely.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import hypot
from typing import Any

import numpy as np
from numpy.typing import NDArray

Point = tuple[float, float]
Outline = tuple[Point, ...]
OUTSIDE = ""
SHORTEST_M = 0.05  # stretches below this are corners, not walls
LARGEST_GAP_M = 0.45
PARALLEL = 0.02  # sine of the angle up to which edges count as parallel


@dataclass(frozen=True, slots=True)
class Stretch:
    """A straight piece of wall with the same on both sides; room_b "" is outdoors; facing = outward bearing of
    room_a.
    """

    start: Point
    end: Point
    room_a: str
    room_b: str
    facing_deg: float

    @property
    def length_m(self) -> float:
        """Of the stretch in plan."""
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])


def anticlockwise(outline: Outline) -> Outline:
    """The outline with its corners turning to the left, as all of ours do."""
    doubled = sum(x1 * y2 - x2 * y1 for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1]))
    return outline if doubled > 0 else outline[::-1]


def wall_stretches(outlines: Mapping[str, Outline], north_deg: float = 0.0) -> list[Stretch]:
    """Walls of one level. Shared stretches come once, under the room that stands first in `outlines`.

    north_deg   bearing of the plan's y axis: 0 = north is up

    Pairs of edges that lie near each other come from a tree, so that a level of a thousand rooms takes a fraction of
    a second.
    """
    names, starts, ends = [], [], []
    for name, outline in outlines.items():
        for p, q in sides_of(anticlockwise(outline)):
            names.append(name)
            starts.append(p)
            ends.append(q)
    if not names:
        return []
    place = {name: i for i, name in enumerate(outlines)}
    p, q = np.array(starts, float), np.array(ends, float)
    length = np.hypot(*(q - p).T)
    u = (q - p) / length[:, None]
    covered = _covered(np.array([place[n] for n in names]), p, q, u, length)
    facing = (np.degrees(np.arctan2(u[:, 1], -u[:, 0])) + north_deg) % 360
    ranked = list(outlines)
    found: list[Stretch] = []
    for i, name in enumerate(names):
        mine = [(low, high, ranked[other]) for low, high, other in covered.get(i, ())]
        start, along = starts[i], (float(u[i, 0]), float(u[i, 1]))
        for low, high, other in _divide(float(length[i]), mine):
            if high - low < SHORTEST_M or (other and place[other] < place[name]):
                continue
            found.append(Stretch(_along(start, along, low), _along(start, along, high), name, other, float(facing[i])))
    return found


def _covered(
    room: NDArray[Any], p: NDArray[Any], q: NDArray[Any], u: NDArray[Any], length: NDArray[Any]
) -> dict[int, list[tuple[float, float, int]]]:
    """By edge: the spans that an edge of another room faces across at most a wall's thickness, and that room."""
    found: dict[int, list[tuple[float, float, int]]] = {}
    for i, j, low, high, _ in zip(*facing_sides(room, p, q, u, length)):
        found.setdefault(int(i), []).append((float(low), float(high), int(room[j])))
    return found


def facing_sides(
    room: NDArray[Any], p: NDArray[Any], q: NDArray[Any], u: NDArray[Any], length: NDArray[Any]
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
    """Pairs of edges of different rooms that face each other across at most a wall's thickness: (one, the other, from
    and to along the one [m], gap between them [m]).
    """
    import shapely

    lines = shapely.linestrings(np.stack([p, q], axis=1))
    i, j = shapely.STRtree(lines).query(lines, predicate="dwithin", distance=LARGEST_GAP_M + 0.01)
    near = room[i] != room[j]
    i, j = i[near], j[near]
    sine = u[i, 0] * u[j, 1] - u[i, 1] * u[j, 0]
    turned = (u[i] * u[j]).sum(axis=1) < 0  # neighbours run the other way
    # Outward is to the right of an anticlockwise edge; the neighbour lies there, or just inside for sloppy drawings.
    middle = (p[j] + q[j]) / 2 - p[i]
    apart = middle[:, 0] * u[i, 1] - middle[:, 1] * u[i, 0]
    ends = np.stack([((p[j] - p[i]) * u[i]).sum(axis=1), ((q[j] - p[i]) * u[i]).sum(axis=1)])
    low, high = np.maximum(0.0, ends.min(axis=0)), np.minimum(length[i], ends.max(axis=0))
    good = (
        (np.abs(sine) <= PARALLEL) & turned & (apart >= -0.05) & (apart <= LARGEST_GAP_M) & (high - low >= SHORTEST_M)
    )
    return i[good], j[good], low[good], high[good], apart[good]


def sides_of(outline: Outline) -> list[tuple[Point, Point]]:
    """Edges of an outline [m], those in one line joined."""
    corners = [p for i, p in enumerate(outline) if hypot(p[0] - outline[i - 1][0], p[1] - outline[i - 1][1]) > 1e-6]
    kept = []
    for i, p in enumerate(corners):
        a, b = corners[i - 1], corners[(i + 1) % len(corners)]
        cross = (p[0] - a[0]) * (b[1] - p[1]) - (p[1] - a[1]) * (b[0] - p[0])
        scale = hypot(p[0] - a[0], p[1] - a[1]) * hypot(b[0] - p[0], b[1] - p[1])
        if abs(cross) > 1e-6 * max(scale, 1e-12):
            kept.append(p)
    return [(kept[i - 1], p) for i, p in enumerate(kept)] if len(kept) > 2 else []


def _along(p: Point, u: Point, t: float) -> Point:
    return round(p[0] + u[0] * t, 6), round(p[1] + u[1] * t, 6)


def _divide(length: float, covered: list[tuple[float, float, str]]) -> list[tuple[float, float, str]]:
    """Pieces of 0..length with what lies behind each; where two overlap the first keeps it."""
    pieces, at = [], 0.0
    for low, high, name in sorted(covered):
        low = max(low, at)
        if high - low < SHORTEST_M:
            continue
        if low - at >= SHORTEST_M:
            pieces.append((at, low, OUTSIDE))
        else:
            low = at
        pieces.append((low, high, name))
        at = high
    if length - at >= SHORTEST_M:
        pieces.append((at, length, OUTSIDE))
    elif pieces:
        low, _, name = pieces[-1]
        pieces[-1] = (low, length, name)
    return pieces


def overlap_area(a: Outline, b: Outline) -> float:
    """Area that two outlines share [m2]."""
    from shapely import Polygon

    return float(Polygon(a).buffer(0).intersection(Polygon(b).buffer(0)).area)


def crosses_itself(outline: Outline) -> bool:
    """True where an outline is no simple polygon."""
    from shapely import Polygon

    return not Polygon(outline).is_valid


def overlaps(below: Sequence[Outline], above: Sequence[Outline]) -> list[tuple[int, int, float]]:
    """(i, j, shared area [m2]) of every pair of outlines, one from each list, that share more than a trace."""
    import shapely

    if not below or not above:
        return []
    first, second = (shapely.buffer([shapely.Polygon(o) for o in outlines], 0) for outlines in (below, above))
    j, i = shapely.STRtree(first).query(second, predicate="intersects")
    area = shapely.area(shapely.intersection(first[i], second[j]))
    return [(int(a), int(b), float(c)) for a, b, c in zip(i, j, area) if c > 1e-6]


def inset(outline: Outline, insets: Sequence[float]) -> Outline:
    """Corners when each side of an outline, anticlockwise and in its order, moves inwards by its own inset [m]."""
    moved: list[Point] = []
    lines = []
    for (x0, y0), (x1, y1), by in zip(outline, (*outline[1:], outline[0]), insets):
        length = hypot(x1 - x0, y1 - y0)
        ux, uy = (x1 - x0) / length, (y1 - y0) / length
        lines.append((x0 - uy * by, y0 + ux * by, ux, uy))
    for i in range(len(lines)):
        ax, ay, ux, uy = lines[i - 1]
        bx, by, vx, vy = lines[i]
        cross = ux * vy - uy * vx
        # Sides in one line meet where the second one starts.
        t = ((bx - ax) * vy - (by - ay) * vx) / cross if abs(cross) > 1e-9 else (bx - ax) * ux + (by - ay) * uy
        moved.append((ax + ux * t, ay + uy * t))
    return tuple(moved)


def inset_area(outline: Outline, insets: Sequence[float]) -> float:
    """Area [m2] left when the sides move inwards; 0 when nothing is left.

    From wall centre lines, with half the thickness of each wall, this is the net area.
    """
    moved = inset(outline, insets)
    return max(0.0, sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(moved, (*moved[1:], moved[0]))) / 2)
