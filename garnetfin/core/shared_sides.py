"""A side of a room moved, and with it the sides of the rooms across its wall.

Outlines are corners (x, y) [m], anticlockwise, without holes. Source: plane geometry.
"""

from collections.abc import Mapping
from math import hypot

from garnetfin.core.adjacency import (
    LARGEST_GAP_M,
    PARALLEL,
    SHORTEST_M,
    Outline,
    Point,
    anticlockwise,
    crosses_itself,
    sides_of,
)
from garnetfin.core.errors import InputError

MEETS_M = 0.02  # ends of two sides nearer than this are one corner


def moved_side(outlines: Mapping[str, Outline], name: str, side: int, by: Point) -> dict[str, Outline]:
    """The outlines that change when a side of one moves by (dx, dy) [m]: that one, and those that face the side.

    outlines  of one level, by name: all that may lie across the wall
    side      from corner `side` to the next one of outlines[name]

    Raises InputError when nothing would be left of one of them.
    """
    outline = outlines[name]
    start, end = outline[side], outline[(side + 1) % len(outline)]
    changed = {name: _with_side(outline, side, 0.0, 1.0, by)}
    for other, line in outlines.items():
        if other != name:
            turned = _doubled_area(line) * _doubled_area(outline) < 0
            follows = _following(line, end if turned else start, start if turned else end, by)
            if follows is not None:
                changed[other] = follows
    for other, line in changed.items():
        if _doubled_area(line) * _doubled_area(outlines[other]) <= 0 or crosses_itself(line):
            raise InputError("The wall would pass the one across the room", remedy="Move it less far")
    return {other: anticlockwise(line) for other, line in changed.items()}


def _following(outline: Outline, start: Point, end: Point, by: Point) -> Outline | None:
    """The outline with what faces start to end moved as well; None where nothing does."""
    length = hypot(end[0] - start[0], end[1] - start[1])
    if length < SHORTEST_M or not _near(outline, start, end):
        return None
    outline, follows = tuple(q for q, _ in sides_of(outline)), False  # corners on a straight line say nothing
    u = (end[0] - start[0]) / length, (end[1] - start[1]) / length
    for i in reversed(range(len(outline))):  # from the last on: corners that are put in move no number before them
        p, q = outline[i], outline[(i + 1) % len(outline)]
        own = hypot(q[0] - p[0], q[1] - p[1])
        if own < SHORTEST_M or abs(u[0] * (q[1] - p[1]) - u[1] * (q[0] - p[0])) > PARALLEL * own:
            continue
        (a, aside), (b, _) = _seen(start, u, p), _seen(start, u, q)
        low, high = max(0.0, min(a, b)), min(length, max(a, b))
        if abs(aside) <= LARGEST_GAP_M and high - low >= SHORTEST_M and a > b:  # a neighbour's side runs the other way
            outline, follows = _with_side(outline, i, (a - high) / own, (a - low) / own, by), True
    return outline if follows else None


def _with_side(outline: Outline, side: int, low: float, high: float, by: Point) -> Outline:
    """The outline with the part low..high (0 to 1) of a side moved; what remains of the side stays, with a step."""
    after = (side + 1) % len(outline)
    p, q = outline[side], outline[after]
    own = hypot(q[0] - p[0], q[1] - p[1])
    corners = list(outline)
    between: list[Point] = []
    if low * own > MEETS_M or _straight(outline[side - 1], p, q):
        at = _between(p, q, low)
        between += [at, _moved(at, by)]
    else:
        corners[side] = _moved(p, by)
    if (1.0 - high) * own > MEETS_M or _straight(p, q, outline[(after + 1) % len(outline)]):
        at = _between(p, q, high)
        between += [_moved(at, by), at]
    else:
        corners[after] = _moved(q, by)
    if after:
        return (*corners[: side + 1], *between, *corners[after:])
    return (*corners, *between)


def _straight(a: Point, b: Point, c: Point) -> bool:
    """Whether a line goes straight on at its middle point."""
    one, two = (b[0] - a[0], b[1] - a[1]), (c[0] - b[0], c[1] - b[1])
    return abs(one[0] * two[1] - one[1] * two[0]) < PARALLEL * hypot(*one) * hypot(*two)


def _near(outline: Outline, start: Point, end: Point) -> bool:
    """Whether an outline comes within a wall of a line, by the boxes around them."""
    return all(
        min(p[k] for p in outline) <= max(start[k], end[k]) + LARGEST_GAP_M
        and max(p[k] for p in outline) >= min(start[k], end[k]) - LARGEST_GAP_M
        for k in (0, 1)
    )


def _seen(start: Point, u: Point, p: Point) -> tuple[float, float]:
    """A point along a line and aside of it [m]."""
    x, y = p[0] - start[0], p[1] - start[1]
    return x * u[0] + y * u[1], x * u[1] - y * u[0]


def _between(p: Point, q: Point, share: float) -> Point:
    return p[0] + (q[0] - p[0]) * share, p[1] + (q[1] - p[1]) * share


def _moved(p: Point, by: Point) -> Point:
    return round(p[0] + by[0], 6), round(p[1] + by[1], 6)


def _doubled_area(outline: Outline) -> float:
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0])))
