"""Plane geometry of outlines: areas, cutting, joining, mirroring. Outlines are corners (x, y) [m] without holes.

Source: plane geometry.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from math import hypot
from typing import Any

import numpy as np

from garnetfin.core.adjacency import Outline, Point, anticlockwise, facing_sides, sides_of
from garnetfin.core.errors import InputError

STEP_M = 1e-4  # corners are kept to a tenth of a millimetre
LEAST_WALL_M = 0.04
JOG_M = 0.08
ALONG = 0.4  # share of a side along which its wall must be drawn; the rest may be doors
WIDEST_GAP_M = 0.45  # between outlines that are joined across a wall
LEAST_PIECE_M2 = 0.2
SLOPPY_M = 0.02  # rooms nearer than this meet already
FACES_M = 0.3  # a side that faces other rooms for less stays where it is


def area_of(outline: Sequence[Point]) -> float:
    """Area of a polygon [m2], whichever way round."""
    return abs(sum(x1 * y2 - x2 * y1 for (x1, y1), (x2, y2) in zip(outline, (*outline[1:], outline[0])))) / 2


def counter_clockwise(outline: Sequence[Point]) -> Outline:
    """The same outline [m], its inside to the left of every side."""
    doubled = sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0])))
    return tuple(outline) if doubled > 0 else tuple(outline)[::-1]


def tidy(points: Sequence[Point]) -> Outline:
    """Corners rounded, without doubles and without corners on a straight line, anticlockwise."""
    kept: list[Point] = []
    for x, y in points:
        p = (round(round(x / STEP_M) * STEP_M, 6), round(round(y / STEP_M) * STEP_M, 6))
        if not kept or p != kept[-1]:
            kept.append(p)
    while len(kept) > 1 and kept[0] == kept[-1]:
        kept.pop()
    straight = [p for i, p in enumerate(kept) if abs(_cross(kept[i - 1], p, kept[(i + 1) % len(kept)])) > 1e-6]
    return anticlockwise(tuple(straight)) if len(straight) > 2 else tuple(straight)


def _cross(a: Point, b: Point, c: Point) -> float:
    return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])


def cut(outline: Outline, line: Sequence[Point]) -> list[Outline]:
    """Pieces of an outline that a line of two or more points divides it into, greatest first.

    The line's ends are prolonged to the edge when they fall short of it by up to half a metre.
    Raises InputError when it does not divide the outline.
    """
    from shapely import LineString, Polygon
    from shapely.ops import split

    if len(line) < 2 or len(set(line)) < 2:
        raise InputError("A dividing line needs two points", remedy="Click where it starts and ends")
    points = [_prolonged(line[1], line[0]), *line[1:-1], _prolonged(line[-2], line[-1])]
    pieces = [tidy(list(g.exterior.coords)) for g in split(Polygon(outline), LineString(points)).geoms]
    pieces = [p for p in pieces if len(p) > 2 and area_of(p) >= LEAST_PIECE_M2]
    if len(pieces) < 2:
        raise InputError("The line does not divide the room", remedy="Draw it from wall to wall")
    return sorted(pieces, key=lambda p: -area_of(p))


def _prolonged(a: Point, b: Point, by: float = 0.5) -> Point:
    length = ((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5 or 1.0
    return b[0] + (b[0] - a[0]) / length * by, b[1] + (b[1] - a[1]) / length * by


def joined(outlines: Sequence[Outline]) -> Outline:
    """One outline around several that touch or lie a wall apart.

    Raises InputError when they are further apart or enclose a hole.
    """
    from shapely import Polygon, unary_union

    half = WIDEST_GAP_M / 2 + 0.01
    whole = unary_union([Polygon(o) for o in outlines])
    if whole.geom_type != "Polygon":
        whole = whole.buffer(half, join_style="mitre").buffer(-half, join_style="mitre")
    if whole.geom_type != "Polygon":
        raise InputError("The rooms do not touch", remedy="Choose rooms that share a wall")
    if whole.interiors:
        raise InputError("The rooms enclose a hole", remedy="Take the room in the middle too")
    return tidy(list(whole.exterior.coords))


def without(outline: Outline, other: Outline) -> Outline:
    """The greatest piece of an outline that another does not cover. Raises InputError when nothing usable is left."""
    from shapely import Polygon

    left = Polygon(outline).buffer(0).difference(Polygon(other).buffer(0))
    pieces = sorted(getattr(left, "geoms", [left]), key=lambda g: -g.area)
    if not pieces or pieces[0].area < LEAST_PIECE_M2 or pieces[0].interiors:
        raise InputError("Trimming leaves no room", remedy="Remove one of the two rooms")
    return tidy(list(pieces[0].exterior.coords))


DOOR_M, GATE_M = 1.85, 4.5  # the widest doors and gates in a wall that are closed
# How lines are completed, the most careful way first: loose ends up to this apart are joined; wall faces that run
# towards
# each other are joined up to this apart; wall faces run on to the next line.
WAYS = (
    (0.05, DOOR_M, ""),
    (0.05, DOOR_M, "corners"),
    (0.3, DOOR_M, ""),
    (0.3, DOOR_M, "all"),
    (DOOR_M, DOOR_M, "all"),
    (0.3, GATE_M, "all"),
)
OFF_M = 0.03  # how far aside a line may lie that goes on beyond a door
REACH_M = 40.0
MOST_NEAR = 20_000


def enclosed(lines: Sequence[tuple[float, float, float, float]], at: Point) -> Outline:
    """The outline that lines (x0, y0, x1, y1) [m] enclose around a point; loose ends up to a door apart are joined.

    Raises InputError where the space runs out of reach or no line is near.
    """
    import shapely

    # Rounded alike everywhere, so that ends that mean the same place are the same.
    near = [
        tuple(round(v, 4) for v in q)
        for q in lines
        if min(q[0], q[2]) < at[0] + REACH_M
        and max(q[0], q[2]) > at[0] - REACH_M
        and min(q[1], q[3]) < at[1] + REACH_M
        and max(q[1], q[3]) > at[1] - REACH_M
    ]
    if not near:
        raise InputError(
            "There are no lines around that place", remedy="Click inside a space of the drawing, or show its layers"
        )
    if len(near) > MOST_NEAR:
        raise InputError(
            f"{len(near)} lines around that place are too many", remedy="Hide the layers that are not walls"
        )
    drawn = shapely.node(shapely.multilinestrings([[(x0, y0), (x1, y1)] for x0, y0, x1, y1 in near]))
    parts = shapely.get_parts(drawn)
    spot = shapely.Point(at)
    for gap, opening, run_on in WAYS:
        added = [
            *_facing(parts, opening),
            *_loose(parts, gap),
            *(_running_on(parts, run_on == "corners") if run_on else ()),
        ]
        whole = shapely.node(shapely.union_all([drawn, *added])) if added else drawn
        faces = [f for f in shapely.polygonize(shapely.get_parts(whole)).geoms if f.contains(spot)]
        if faces:
            outline = tidy(
                list(shapely.Polygon(min(faces, key=lambda f: f.area).exterior).simplify(0.005).exterior.coords)
            )
            if len(outline) >= 3 and area_of(outline) >= LEAST_PIECE_M2:
                return outline
    raise InputError("The lines do not enclose that place", remedy="Close the gaps, or draw the room by its corners")


def _ends(parts) -> tuple[list[Point], list[Point], list[bool]]:
    """For each end of each line: its place, the direction in which it would run on, and whether it is short as a wall
    is thick.
    """
    places, ways, short = [], [], []
    for part in parts:
        (x0, y0), (x1, y1) = part.coords[0], part.coords[-1]
        length = hypot(x1 - x0, y1 - y0)
        if length > 1e-9:
            u = ((x1 - x0) / length, (y1 - y0) / length)
            places += [(x1, y1), (x0, y0)]
            ways += [u, (-u[0], -u[1])]
            short += [length < WIDEST_GAP_M] * 2
    return places, ways, short


def _facing(parts, widest: float) -> list[Any]:
    """Lines across doors: between two ends that run towards each other, as the faces of a wall do on both sides of a
    door.

    Two short lines are no such faces: they are rather the ends of two walls that happen to stand opposite each other.
    """
    import shapely

    places, ways, short = _ends(parts)
    spots = shapely.points(places)
    found = []
    for a, b in zip(*shapely.STRtree(spots).query(spots, predicate="dwithin", distance=widest)):
        if a < b:
            dx, dy = places[b][0] - places[a][0], places[b][1] - places[a][1]
            length = hypot(dx, dy)
            if (
                length > 0.02
                and not (short[a] and short[b])
                and all(
                    w[0] * dx * s + w[1] * dy * s > 0 and abs(w[0] * dy - w[1] * dx) < OFF_M
                    for w, s in ((ways[a], 1), (ways[b], -1))
                )
            ):
                found.append(shapely.LineString([places[a], places[b]]))
    return found


def _running_on(parts, corners: bool) -> list[Any]:
    """Lines that run on from their end to the first line they meet within a door's width: doors beside a crossing wall.

    corners   only from ends where lines meet: what ends alone is rather a door leaf or a piece of furniture
    """
    import shapely

    places, ways, short = _ends(parts)
    if corners:
        met = Counter((round(x, 4), round(y, 4)) for x, y in places)
        kept = [k for k, (x, y) in enumerate(places) if met[round(x, 4), round(y, 4)] > 1 and not short[k]]
        places, ways = [places[k] for k in kept], [ways[k] for k in kept]
    if not places:
        return []
    rays = shapely.linestrings(
        [[(x + u * 1e-4, y + v * 1e-4), (x + u * DOOR_M, y + v * DOOR_M)] for (x, y), (u, v) in zip(places, ways)]
    )
    i, j = shapely.STRtree(parts).query(rays, predicate="intersects")
    starts = shapely.points(places)
    nearest: dict[int, float] = {}
    for a, apart in zip(i, shapely.distance(shapely.intersection(rays[i], parts[j]), starts[i])):
        nearest[int(a)] = min(nearest.get(int(a), DOOR_M), float(apart))
    return [
        shapely.LineString(
            [places[a], (places[a][0] + ways[a][0] * (d + 1e-4), places[a][1] + ways[a][1] * (d + 1e-4))]
        )
        for a, d in nearest.items()
        if d > 0.001
    ]


def _loose(parts, gap: float) -> list[Any]:
    """Short lines from each loose end to other loose ends, and across narrow gaps to the nearest line."""
    import shapely

    count: dict[Point, int] = {}
    owner: dict[Point, int] = {}
    for i, part in enumerate(parts):
        for x, y in (part.coords[0], part.coords[-1]):
            key = (round(x, 4), round(y, 4))
            count[key], owner[key] = count.get(key, 0) + 1, i
    loose = [p for p, n in count.items() if n == 1]
    if not loose:
        return []
    spots = shapely.points(loose)
    i, j = shapely.STRtree(spots).query(spots, predicate="dwithin", distance=gap)
    found = [shapely.LineString([loose[a], loose[b]]) for a, b in zip(i, j) if a < b]
    if gap <= 0.3:
        k, m = shapely.STRtree(parts).query(spots, predicate="dwithin", distance=gap)
        found += [
            line
            for a, b in zip(k, m)
            if b != owner[loose[a]] and (line := shapely.shortest_line(spots[a], parts[b])).length > 1e-9
        ]
    return found


def to_centres(outline: Outline, lines: Sequence[tuple[float, float, float, float]]) -> Outline:
    """An outline along the inner faces of walls moved to the middle of these walls.

    A wall is where a drawn line runs beyond a side and along a good part of it, at most WIDEST_GAP_M away; other
    sides stay.
    """
    outline = _without_jogs(outline)
    outsets = []
    for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0])):
        side = hypot(x1 - x0, y1 - y0)
        ux, uy = (x1 - x0) / side, (y1 - y0) / side
        beyond: dict[float, float] = {}  # distance outwards -> length of lines that run along there
        for ax, ay, bx, by in lines:
            length = hypot(bx - ax, by - ay)
            if length < 1e-6 or abs((bx - ax) * uy - (by - ay) * ux) > 0.02 * length:
                continue
            # outward is to the right of an anticlockwise side
            out = ((ax + bx) / 2 - x0) * uy - ((ay + by) / 2 - y0) * ux
            ends = sorted(((ax - x0) * ux + (ay - y0) * uy, (bx - x0) * ux + (by - y0) * uy))
            along = min(side, ends[1]) - max(0.0, ends[0])
            if LEAST_WALL_M <= out <= WIDEST_GAP_M and along > 0:
                key = round(out, 2)
                beyond[key] = beyond.get(key, 0.0) + along
        # The other face of the wall is the longest of them; glass and leaves between the faces are shorter.
        length, out = max(((length, -out) for out, length in beyond.items()), default=(0.0, 0.0))
        outsets.append(-out / 2 if length >= side * ALONG else 0.0)
    return _without_jogs(grown(outline, outsets))


def meeting_in_walls(outlines: Mapping[str, Outline]) -> dict[str, Outline]:
    """Outlines of one level [m] along the inner faces of walls, with sides in the middle of walls to other rooms.

    A side that faces rooms across at most LARGEST_GAP_M goes out by half the gap as a whole, the mean gap where they
    differ, so that no wall's end is left between two rooms; sides to outdoors stay, and so do rooms that meet already.
    """
    sides = {name: sides_of(anticlockwise(outline)) for name, outline in outlines.items()}
    rows = [(k, *side) for k, own in enumerate(sides.values()) for side in own]
    if not rows:
        return dict(outlines)
    room = np.array([k for k, _, _ in rows])
    p, q = np.array([a for _, a, _ in rows], float), np.array([b for _, _, b in rows], float)
    length = np.hypot(*(q - p).T)
    i, _, low, high, apart = facing_sides(room, p, q, (q - p) / length[:, None], length)
    along = np.bincount(i, high - low, len(rows))
    gap = np.bincount(i, (high - low) * apart, len(rows)) / np.where(along > 0, along, 1.0)
    moves = np.where((along >= np.minimum(FACES_M, length / 2)) & (gap > SLOPPY_M), gap / 2, 0.0)
    found, at = {}, 0
    for name, own in sides.items():
        by = moves[at : at + len(own)]
        at += len(own)
        found[name] = grown([a for a, _ in own], by.tolist()) if by.any() else outlines[name]
    return found


def grown(outline: Sequence[Point], outsets: Sequence[float]) -> Outline:
    """An anticlockwise outline with a strip of its own depth [m] laid on the outside of each side; corners are
    filled.
    """
    from shapely import Polygon, unary_union

    pieces = [Polygon(outline)]
    n = len(outline)
    for i, by in enumerate(outsets):
        (x0, y0), (x1, y1) = outline[i], outline[(i + 1) % n]
        side = hypot(x1 - x0, y1 - y0)
        ux, uy = (x1 - x0) / side, (y1 - y0) / side
        before = outsets[i - 1] if _cross(outline[i - 1], outline[i], outline[(i + 1) % n]) > 0 else 0.0
        after = outsets[(i + 1) % n] if _cross(outline[i], outline[(i + 1) % n], outline[(i + 2) % n]) > 0 else 0.0
        ax, ay, bx, by_ = x0 - ux * before, y0 - uy * before, x1 + ux * after, y1 + uy * after
        if by > 0:
            pieces.append(
                Polygon([(ax, ay), (bx, by_), (bx + uy * by, by_ - ux * by), (ax + uy * by, ay - ux * by)]).buffer(1e-6)
            )
    whole = unary_union(pieces)
    whole = max(getattr(whole, "geoms", [whole]), key=lambda g: g.area)
    return tidy(list(whole.exterior.coords))


def _without_jogs(outline: Outline) -> Outline:
    """Linings, columns and wall ends that stand in or out by a little are levelled."""
    from shapely import Polygon

    whole = Polygon(outline)
    for by in (JOG_M, -2 * JOG_M, JOG_M):
        whole = whole.buffer(by, join_style="mitre")
    if whole.geom_type != "Polygon" or whole.is_empty:
        return outline
    found = tidy(list(whole.exterior.simplify(0.01).coords))
    return found if len(found) >= 3 else outline


def inside(outline: Outline, at: Point) -> bool:
    """True when a point lies within an outline."""
    hit = False
    for (x1, y1), (x2, y2) in zip(outline, (*outline[1:], outline[0])):
        if (y1 > at[1]) != (y2 > at[1]) and at[0] < (x2 - x1) * (at[1] - y1) / (y2 - y1) + x1:
            hit = not hit
    return hit


def middle_of(outlines: Sequence[Outline]) -> Point:
    """Middle of the box around outlines."""
    xs, ys = [p[0] for o in outlines for p in o], [p[1] for o in outlines for p in o]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
