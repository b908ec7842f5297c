"""Which rooms share a wall, a floor, a roof: derived from outlines in plan.

Outlines are polygons (x, y) in metres, either way round, without holes. A gap up to a wall's thickness between two
parallel edges that face each other counts as one shared wall.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import atan2, degrees, hypot

Point = tuple[float, float]
Outline = tuple[Point, ...]
OUTSIDE = ""
SHORTEST_M = 0.05                  # stretches below this are corners, not walls
LARGEST_GAP_M = 0.45
PARALLEL = 0.02                    # sine of the angle up to which edges count as parallel


@dataclass(frozen=True, slots=True)
class Stretch:
    """A straight piece of wall with the same on both sides; room_b "" is outdoors; facing = outward bearing of room_a."""

    start: Point
    end: Point
    room_a: str
    room_b: str
    facing_deg: float

    @property
    def length_m(self) -> float:
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])


def anticlockwise(outline: Outline) -> Outline:
    doubled = sum(x1 * y2 - x2 * y1 for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1]))
    return outline if doubled > 0 else outline[::-1]


def wall_stretches(outlines: Mapping[str, Outline], north_deg: float = 0.0) -> list[Stretch]:
    """Walls of one level. Shared stretches come once, under the room that stands first in `outlines`.

    north_deg   bearing of the plan's y axis: 0 = north is up
    """
    edges = [(name, p, q) for name, outline in outlines.items()
             for p, q in _sides(anticlockwise(outline))]
    place = {name: i for i, name in enumerate(outlines)}
    found: list[Stretch] = []
    for name, p, q in edges:
        length = hypot(q[0] - p[0], q[1] - p[1])
        u = ((q[0] - p[0]) / length, (q[1] - p[1]) / length)
        facing = (degrees(atan2(u[1], -u[0])) + north_deg) % 360
        covered: list[tuple[float, float, str]] = []
        for other, a, b in edges:
            if other != name:
                span = _facing_span(p, u, length, a, b)
                if span is not None:
                    covered.append((*span, other))
        for low, high, other in _divide(length, covered):
            if high - low < SHORTEST_M or other and place[other] < place[name]:
                continue
            found.append(Stretch(_along(p, u, low), _along(p, u, high), name, other, facing))
    return found


def _sides(outline: Outline) -> list[tuple[Point, Point]]:
    """Edges, those in one line joined."""
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


def _facing_span(p: Point, u: Point, length: float, a: Point, b: Point) -> tuple[float, float] | None:
    """Part of the edge p + t u that the edge a-b faces across at most a wall's thickness."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    other = hypot(dx, dy)
    sine = (u[0] * dy - u[1] * dx) / other
    if abs(sine) > PARALLEL or u[0] * dx + u[1] * dy >= 0:      # neighbours run the other way
        return None
    # Outward is to the right of an anticlockwise edge; the neighbour lies there, or just inside for sloppy drawings.
    apart = ((a[0] - p[0]) * u[1] - (a[1] - p[1]) * u[0] + (b[0] - p[0]) * u[1] - (b[1] - p[1]) * u[0]) / 2
    if not -0.05 <= apart <= LARGEST_GAP_M:
        return None
    ends = sorted((x - p[0]) * u[0] + (y - p[1]) * u[1] for x, y in (a, b))
    low, high = max(0.0, ends[0]), min(length, ends[1])
    return (low, high) if high - low >= SHORTEST_M else None


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


def area_left(a: Outline, others: list[Outline]) -> float:
    """Area of an outline that none of the others covers [m2]."""
    from shapely import Polygon, unary_union
    return float(Polygon(a).buffer(0).difference(unary_union([Polygon(o).buffer(0) for o in others])).area)


def crosses_itself(outline: Outline) -> bool:
    from shapely import Polygon
    return not Polygon(outline).is_valid
