"""The plan as painter paths in metres (y to the north), made once per project part and level."""

from dataclasses import dataclass
from functools import lru_cache
from math import cos, hypot, pi, sin

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF

from garnetfin.engine.results import DuctResult
from garnetfin.project.lookup import Same, find
from garnetfin.project.spaces import INSIDE, Opening, Wall
from garnetfin.project.tree import Project

Point = tuple[float, float]


def polygon(outline: tuple[Point, ...]) -> QPolygonF:
    return QPolygonF([QPointF(x, y) for x, y in outline])


def path_of(outline: tuple[Point, ...]) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(polygon(outline))
    path.closeSubpath()
    return path


@lru_cache(maxsize=2048)
def label_box(outline: tuple[Point, ...]) -> tuple[float, float, float, float]:
    """The largest upright rectangle between corners (x0, y0, x1, y1): a quiet place for a label in any outline."""
    xs, ys = sorted({p[0] for p in outline}), sorted({p[1] for p in outline})
    shape, best, found = polygon(outline), -1.0, (*outline[0], *outline[0])
    for i, x0 in enumerate(xs):
        for x1 in xs[i + 1:]:
            for j, y0 in enumerate(ys):
                for y1 in ys[j + 1:]:
                    size = (x1 - x0) * (y1 - y0)
                    if size > best and all(shape.containsPoint(QPointF(
                            x0 + fx * (x1 - x0), y0 + fy * (y1 - y0)), Qt.FillRule.OddEvenFill)
                            for fx in (0.03, 0.5, 0.97) for fy in (0.03, 0.5, 0.97)):
                        best, found = size, (x0, y0, x1, y1)
    return found


@dataclass(frozen=True, slots=True, eq=False)
class WallPaths:
    """Solid parts, glass, door leaves of a level; hits = (wall, opening, from, to) for picking."""

    solid: QPainterPath
    gaps: QPainterPath
    glass: QPainterPath
    panes: QPainterPath
    doors: QPainterPath
    hits: tuple[tuple[Wall, Opening, Point, Point], ...]
    bounds: QRectF


WIDEST_LEAF = 1.7                  # wider doors slide or lift: a gap without a swing


def wall_paths(project: Project, level_id: str) -> WallPaths:
    # Doors open into rooms, so outlines count; other values of a room do not.
    return _wall_paths(Same(project.walls), level_id, tuple((r.id, r.outline) for r in project.rooms))


@lru_cache(maxsize=32)
def _wall_paths(same: Same, level_id: str, outlines: tuple) -> WallPaths:
    solid, gaps, glass, panes, doors = (QPainterPath() for _ in range(5))
    solid.setFillRule(Qt.FillRule.WindingFill)
    hits = []
    walls, rooms = same.item, dict(outlines)
    for wall in walls:
        if wall.level_id != level_id or wall.room_b == INSIDE:
            continue                                         # towards a room that is not drawn there is no place for a wall
        (x0, y0), (x1, y1) = wall.start, wall.end
        ux, uy = (x1 - x0) / wall.length_m, (y1 - y0) / wall.length_m
        half = wall.thickness_m / 2

        def quad(a: float, b: float, low: float = -half, high: float = half) -> QPolygonF:
            return polygon(tuple((x0 + ux * t - uy * n, y0 + uy * t + ux * n)
                                 for t, n in ((a, low), (b, low), (b, high), (a, high), (a, low))))

        at = -half
        for o in sorted(wall.openings, key=lambda o: o.at_m):
            a, b = o.at_m - o.width_m / 2, o.at_m + o.width_m / 2
            solid.addPolygon(quad(at, a))
            at = b
            gaps.addPolygon(quad(a, b))
            start, end = (x0 + ux * a, y0 + uy * a), (x0 + ux * b, y0 + uy * b)
            hits.append((wall, o, start, end))
            if o.glazing_id:
                glass.addPolygon(quad(a, b, -half * 0.35, half * 0.35))
                for n in (-half, half, -half * 0.35, half * 0.35):
                    panes.moveTo(start[0] - uy * n, start[1] + ux * n)
                    panes.lineTo(end[0] - uy * n, end[1] + ux * n)
            elif o.width_m <= WIDEST_LEAF:
                inward = label_box(rooms[wall.room_a]) if wall.room_a in rooms else None
                _door(doors, start, (ux, uy), o.width_m, inward)
        solid.addPolygon(quad(at, wall.length_m + half))
    return WallPaths(solid, gaps, glass, panes, doors, tuple(hits), solid.boundingRect())


def _door(path: QPainterPath, hinge: Point, u: Point, width: float, inward: tuple | None) -> None:
    """A leaf standing open at a right angle into the room, and its swing."""
    hx, hy = hinge
    side = 1.0
    if inward is not None:
        to_room = ((inward[0] + inward[2]) / 2 - hx, (inward[1] + inward[3]) / 2 - hy)
        side = 1.0 if -u[1] * to_room[0] + u[0] * to_room[1] >= 0 else -1.0
    leaf = (-u[1] * side, u[0] * side)
    path.moveTo(hx, hy)
    path.lineTo(hx + leaf[0] * width, hy + leaf[1] * width)
    for k in range(1, 13):
        a = pi / 2 * k / 12
        path.lineTo(hx + width * (leaf[0] * cos(a) + u[0] * sin(a)), hy + width * (leaf[1] * cos(a) + u[1] * sin(a)))


@dataclass(frozen=True, slots=True, eq=False)
class DuctPaths:
    """Ducts of a level: the union for outline, each piece by segment id, centre lines, risers."""

    union: QPainterPath
    pieces: dict[str, QPainterPath]
    lines: dict[str, tuple[Point, Point]]
    risers: dict[str, QPainterPath]


def duct_paths(project: Project, ducts: DuctResult, level_id: str) -> DuctPaths:
    return _duct_paths(Same(project.duct_points), Same(project.segments), Same(ducts), level_id)


@lru_cache(maxsize=16)
def _duct_paths(same_points: Same, same_segments: Same, same_ducts: Same, level_id: str) -> DuctPaths:
    from shapely import Polygon, unary_union
    points, segments, ducts = same_points.item, same_segments.item, same_ducts.item
    pieces, lines, risers, shapes, reach = {}, {}, {}, [], {}
    for segment in segments:
        a, b = find(points, segment.a), find(points, segment.b)
        result = ducts.segments.get(segment.id)
        if result is None or level_id not in (a.level_id, b.level_id):
            continue
        width = result.section.width_m
        length = hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        if length < 1e-6:
            size = result.section
            risers[segment.id] = _rectangle(a.x_m, a.y_m, size.width_m, size.height_m)
            lines[segment.id] = ((a.x_m, a.y_m), (b.x_m, b.y_m))
            continue
        if a.level_id != b.level_id and level_id != a.level_id:
            continue
        ux, uy = (b.x_m - a.x_m) / length, (b.y_m - a.y_m) / length
        nx, ny = -uy * width / 2, ux * width / 2
        outline = ((a.x_m + nx, a.y_m + ny), (b.x_m + nx, b.y_m + ny), (b.x_m - nx, b.y_m - ny),
                   (a.x_m - nx, a.y_m - ny))
        pieces[segment.id] = path_of(outline)
        lines[segment.id] = ((a.x_m, a.y_m), (b.x_m, b.y_m))
        shapes.append(Polygon(outline))
        for p in (a, b):
            reach.setdefault(p.id, []).append((p, ux, uy, width))
    # A square at each joint fills the corner that two flat ends leave open.
    for joint in reach.values():
        if len(joint) > 1:
            p, ux, uy, _ = joint[0]
            half = min(sorted(w for *_, w in joint)[-2:]) / 2
            shapes.append(Polygon([(p.x_m + sx * half * ux - sy * half * uy, p.y_m + sx * half * uy + sy * half * ux)
                                   for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))]))
    union = QPainterPath()
    merged = unary_union(shapes) if shapes else None
    for part in getattr(merged, "geoms", [merged] if merged is not None and not merged.is_empty else []):
        for ring in (part.exterior, *part.interiors):
            union.addPath(path_of(tuple(ring.coords)))
    return DuctPaths(union, pieces, lines, risers)


def other_ends(segments: tuple) -> dict[str, str]:
    """For each duct point the far end of the first segment that meets it."""
    return _other_ends(Same(segments))


@lru_cache(maxsize=4)
def _other_ends(same: Same) -> dict[str, str]:
    found: dict[str, str] = {}
    for s in same.item:
        found.setdefault(s.a, s.b)
        found.setdefault(s.b, s.a)
    return found


def _rectangle(x: float, y: float, width: float, height: float) -> QPainterPath:
    path = QPainterPath()
    path.addRect(QRectF(x - width / 2, y - height / 2, width, height))
    path.moveTo(x - width / 2, y - height / 2)
    path.lineTo(x + width / 2, y + height / 2)
    path.moveTo(x - width / 2, y + height / 2)
    path.lineTo(x + width / 2, y - height / 2)
    return path


def distance_to(p: Point, a: Point, b: Point) -> tuple[float, float]:
    """(distance of a point from a stretch, place along it 0..1)."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    square = dx * dx + dy * dy
    t = 0.0 if square == 0 else min(1.0, max(0.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / square))
    return hypot(p[0] - a[0] - t * dx, p[1] - a[1] - t * dy), t
