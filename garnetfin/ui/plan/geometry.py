"""The plan as painter paths in metres (y to the north), made once per project part and level."""

from dataclasses import dataclass
from functools import lru_cache
from math import hypot

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF

from garnetfin.engine.layout import level_outlines
from garnetfin.engine.results import DuctResult
from garnetfin.project.lookup import Same
from garnetfin.project.spaces import Opening, Wall
from garnetfin.project.tree import Project

Point = tuple[float, float]


@lru_cache(maxsize=8192)
def polygon(outline: tuple[Point, ...]) -> QPolygonF:
    """Of an outline in metres; shared, so it is mapped and never changed."""
    return QPolygonF([QPointF(x, y) for x, y in outline])


def path_of(outline: tuple[Point, ...]) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(polygon(outline))
    path.closeSubpath()
    return path


@lru_cache(maxsize=2048)
def label_box(outline: tuple[Point, ...]) -> tuple[float, float, float, float]:
    """Where a label has most room in an outline, remembered."""
    return level_outlines.label_box(outline)


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


def wall_paths(project: Project, level_id: str) -> WallPaths:
    # Doors open into rooms, so outlines count; other values of a room do not.
    return _wall_paths(Same(project.walls), level_id, tuple((r.id, r.outline) for r in project.rooms))


@lru_cache(maxsize=32)
def _wall_paths(same: Same, level_id: str, outlines: tuple) -> WallPaths:
    found = level_outlines.wall_outlines(same.item, dict(outlines), level_id)
    solid, gaps, glass, panes, doors = (QPainterPath() for _ in range(5))
    solid.setFillRule(Qt.FillRule.WindingFill)
    for path, shapes in ((solid, found.solid), (gaps, found.gaps), (glass, found.glass)):
        for outline in shapes:
            path.addPolygon(polygon((*outline, outline[0])))
    for path, lines in ((panes, found.panes), (doors, found.doors)):
        for line in lines:
            path.moveTo(*line[0])
            for point in line[1:]:
                path.lineTo(*point)
    return WallPaths(solid, gaps, glass, panes, doors, found.openings, solid.boundingRect())


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
    found = level_outlines.duct_outlines(same_points.item, same_segments.item, same_ducts.item, level_id)
    union = QPainterPath()
    for ring in found.rings:
        union.addPath(path_of(ring))
    return DuctPaths(
        union,
        {i: path_of(o) for i, o in found.pieces.items()},
        found.lines,
        {i: _rectangle(*r) for i, r in found.risers.items()},
    )


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
