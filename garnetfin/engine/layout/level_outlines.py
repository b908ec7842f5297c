"""A level as polygons in metres (y to the north), walls with openings and ducts at true width: for the plan on screen,
papers and drawing files.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, pi, sin
from typing import Any

from garnetfin.core.outlines import inside
from garnetfin.engine.results import DuctResult
from garnetfin.project.ducts import DuctPoint, Segment
from garnetfin.project.lookup import find
from garnetfin.project.spaces import INSIDE, Opening, Wall

Point = tuple[float, float]
Outline = tuple[Point, ...]
WIDEST_LEAF = 1.7  # wider doors slide or lift: a gap without a swing


def label_box(outline: Outline) -> tuple[float, float, float, float]:
    """The largest upright rectangle between corners (x0, y0, x1, y1): a quiet place for a label in any outline."""
    xs, ys = sorted({p[0] for p in outline}), sorted({p[1] for p in outline})
    best, found = -1.0, (*outline[0], *outline[0])
    for i, x0 in enumerate(xs):
        for x1 in xs[i + 1 :]:
            for j, y0 in enumerate(ys):
                for y1 in ys[j + 1 :]:
                    size = (x1 - x0) * (y1 - y0)
                    if size > best and all(
                        inside(outline, (x0 + fx * (x1 - x0), y0 + fy * (y1 - y0)))
                        for fx in (0.03, 0.5, 0.97)
                        for fy in (0.03, 0.5, 0.97)
                    ):
                        best, found = size, (x0, y0, x1, y1)
    return found


@dataclass(frozen=True, slots=True)
class WallOutlines:
    """Solid parts and gaps; panes of glass; lines of glass and of door leaves; openings with the stretch they take."""

    solid: tuple[Outline, ...]
    gaps: tuple[Outline, ...]
    glass: tuple[Outline, ...]
    panes: tuple[tuple[Point, Point], ...]
    doors: tuple[tuple[Point, ...], ...]
    openings: tuple[tuple[Wall, Opening, Point, Point], ...]


def wall_outlines(walls: Sequence[Wall], rooms: dict[str, Outline], level_id: str) -> WallOutlines:
    """`rooms`: outlines by id; doors open into them."""
    solid, gaps, glass, panes, doors, openings = [], [], [], [], [], []
    for wall in walls:
        if wall.level_id != level_id or wall.room_b == INSIDE:
            # towards a room that is not drawn there is no place for a wall
            continue
        (x0, y0), (x1, y1) = wall.start, wall.end
        ux, uy = (x1 - x0) / wall.length_m, (y1 - y0) / wall.length_m
        half = wall.thickness_m / 2

        def quad(a: float, b: float, low: float = -half, high: float = half) -> Outline:
            return tuple(
                (x0 + ux * t - uy * n, y0 + uy * t + ux * n) for t, n in ((a, low), (b, low), (b, high), (a, high))
            )

        at = -half
        for o in sorted(wall.openings, key=lambda o: o.at_m):
            a, b = o.at_m - o.width_m / 2, o.at_m + o.width_m / 2
            solid.append(quad(at, a))
            at = b
            gaps.append(quad(a, b))
            start, end = (x0 + ux * a, y0 + uy * a), (x0 + ux * b, y0 + uy * b)
            openings.append((wall, o, start, end))
            if o.glazing_id:
                glass.append(quad(a, b, -half * 0.35, half * 0.35))
                panes += [
                    ((start[0] - uy * n, start[1] + ux * n), (end[0] - uy * n, end[1] + ux * n))
                    for n in (-half, half, -half * 0.35, half * 0.35)
                ]
            elif o.width_m <= WIDEST_LEAF:
                doors.append(
                    _door(start, (ux, uy), o.width_m, label_box(rooms[wall.room_a]) if wall.room_a in rooms else None)
                )
        solid.append(quad(at, wall.length_m + half))
    return WallOutlines(tuple(solid), tuple(gaps), tuple(glass), tuple(panes), tuple(doors), tuple(openings))


def _door(hinge: Point, u: Point, width: float, inward: tuple[Any, ...] | None) -> tuple[Point, ...]:
    """A leaf standing open at a right angle into the room, and its swing."""
    hx, hy = hinge
    side = 1.0
    if inward is not None:
        to_room = ((inward[0] + inward[2]) / 2 - hx, (inward[1] + inward[3]) / 2 - hy)
        side = 1.0 if -u[1] * to_room[0] + u[0] * to_room[1] >= 0 else -1.0
    leaf = (-u[1] * side, u[0] * side)
    swing = tuple(
        (hx + width * (leaf[0] * cos(a) + u[0] * sin(a)), hy + width * (leaf[1] * cos(a) + u[1] * sin(a)))
        for a in (pi / 2 * k / 12 for k in range(1, 13))
    )
    return (hinge, (hx + leaf[0] * width, hy + leaf[1] * width), *swing)


@dataclass(frozen=True, slots=True)
class DuctOutlines:
    """Ducts of a level: rings of their union, each piece and centre line by segment id, risers as their section."""

    rings: tuple[Outline, ...]
    pieces: dict[str, Outline]
    lines: dict[str, tuple[Point, Point]]
    risers: dict[str, tuple[float, float, float, float]]  # middle, width, height


def duct_outlines(
    points: Sequence[DuctPoint], segments: Sequence[Segment], ducts: DuctResult, level_id: str
) -> DuctOutlines:
    from shapely import Polygon, unary_union

    pieces, lines, risers, shapes, reach = {}, {}, {}, [], {}
    for segment in segments:
        a, b = find(points, segment.a), find(points, segment.b)
        result = ducts.segments.get(segment.id)
        if result is None or level_id not in (a.level_id, b.level_id):
            continue
        width = result.section.width_m
        length = hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        if length < 1e-6:
            risers[segment.id] = (a.x_m, a.y_m, result.section.width_m, result.section.height_m)
            lines[segment.id] = ((a.x_m, a.y_m), (b.x_m, b.y_m))
            continue
        if a.level_id != b.level_id and level_id != a.level_id:
            continue
        ux, uy = (b.x_m - a.x_m) / length, (b.y_m - a.y_m) / length
        nx, ny = -uy * width / 2, ux * width / 2
        outline = (
            (a.x_m + nx, a.y_m + ny),
            (b.x_m + nx, b.y_m + ny),
            (b.x_m - nx, b.y_m - ny),
            (a.x_m - nx, a.y_m - ny),
        )
        pieces[segment.id] = outline
        lines[segment.id] = ((a.x_m, a.y_m), (b.x_m, b.y_m))
        shapes.append(Polygon(outline))
        for p in (a, b):
            reach.setdefault(p.id, []).append((p, ux, uy, width))
    # A square at each joint fills the corner that two flat ends leave open.
    for joint in reach.values():
        if len(joint) > 1:
            p, ux, uy, _ = joint[0]
            half = min(sorted(w for *_, w in joint)[-2:]) / 2
            shapes.append(
                Polygon(
                    [
                        (p.x_m + sx * half * ux - sy * half * uy, p.y_m + sx * half * uy + sy * half * ux)
                        for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))
                    ]
                )
            )
    merged = unary_union(shapes) if shapes else None
    parts = getattr(merged, "geoms", [merged] if merged is not None and not merged.is_empty else [])
    rings = tuple(
        tuple((float(x), float(y)) for x, y in ring.coords[:-1])
        for part in parts
        for ring in (part.exterior, *part.interiors)
    )
    return DuctOutlines(rings, pieces, lines, risers)
