"""Layers of the plan, painted in pixels through a map from metres. One call per layer wherever it can be."""

from dataclasses import dataclass, field
from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QTransform

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import DuctResult
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Wall
from garnetfin.project.tree import Project
from garnetfin.ui.plan.geometry import duct_paths, label_box, other_ends, path_of, polygon, wall_paths
from garnetfin.ui.plan.pens import pen
from garnetfin.ui.state import Selection
from garnetfin.ui.theme import theme

# Where a label may stand in its box, as shares of the spare room, from the middle outwards.
PLACES = sorted(
    ((fx, fy) for fx in (0, -0.5, 0.5, -1, 1) for fy in (0, 0.5, 1, -0.5, -1)), key=lambda q: abs(q[0]) + abs(q[1])
)
LEAST_LABEL_PX = 9.0  # rooms drawn smaller bear no label
COMPACT_PX = 11.0  # the one figure of a room on a small plan
RATING_M, TICK_M = 0.08, 0.5  # of the line beside a rated wall
SMALL_SCALE = 16.0  # px/m below which sizes on ducts are dropped


DASHED = Qt.PenStyle.DashLine


@dataclass(frozen=True)
class PlanStyle:
    """What a view wants of the plan: fills and label lines by room id, and how ducts are coloured."""

    fills: dict[str, QColor] = field(default_factory=dict)
    lines: dict[str, tuple[str, ...]] = field(default_factory=dict)
    hatched: frozenset[str] = frozenset()
    ducts: bool = False
    duct_fills: dict[str, QColor] = field(default_factory=dict)
    index_run: tuple[str, ...] = ()
    compact: bool = False  # one figure per room, no names
    wall_fills: dict[str, QColor] = field(default_factory=dict)
    terminals: bool = False  # without ducts
    zones: bool = False  # ceiling zones with their free height
    others: bool = True  # obstacles that came from files
    labels: str = "size"  # on ducts: none, size, flow, height
    single: bool = False  # ducts as single lines
    quiet: bool = False  # terminals without their flow
    joints: bool = False  # between standard sections
    air: bool = False  # what enters and leaves each room, as arrows
    units: System = "SI"


def text(
    p: QPainter,
    at: QPointF,
    words: str,
    colour: QColor,
    px: float = 11.5,
    weight: int = 400,
    align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignHCenter,
    halo: QColor | None = None,
) -> QRectF:
    """One line of text whose middle height is at `at`; a halo keeps it legible on lines."""
    font = theme.font(px, weight)
    metrics = QFontMetricsF(font)
    width = metrics.horizontalAdvance(words)
    x = at.x() - (
        width / 2 if align == Qt.AlignmentFlag.AlignHCenter else width if align == Qt.AlignmentFlag.AlignRight else 0
    )
    base = at.y() + (metrics.ascent() - metrics.descent()) / 2
    p.setFont(font)
    if halo is not None:
        path = QPainterPath()
        path.addText(x, base, font, words)
        p.strokePath(path, QPen(halo, 3.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    p.setPen(colour)
    p.drawText(QPointF(x, base), words)
    return QRectF(x, at.y() - metrics.height() / 2, width, metrics.height())


@lru_cache(maxsize=8192)
def text_width(words: str, px: float, weight: int) -> float:
    """Width of a line in pixels, measured once."""
    return QFontMetricsF(theme.font(px, weight)).horizontalAdvance(words)


def hatch(colour: QColor, leaning: str = "/") -> QBrush:
    return QBrush(colour, Qt.BrushStyle.BDiagPattern if leaning == "/" else Qt.BrushStyle.FDiagPattern)


def paint_rooms(p: QPainter, m: QTransform, project: Project, level_id: str, style: PlanStyle) -> None:
    p.setPen(Qt.PenStyle.NoPen)
    for room in project.rooms:
        if room.level_id != level_id:
            continue
        shape = m.map(polygon(room.outline))
        p.setBrush(style.fills.get(room.id, theme.colour("sheet")))
        p.drawPolygon(shape)
        if room.id in style.hatched:
            p.setBrush(hatch(theme.colour("hatch")))
            p.drawPolygon(shape)
        if room.sketched:  # a room from a list has an area, but no place
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(pen(theme.colour("faint"), 1.0, Qt.PenStyle.DashLine))
            p.drawPolygon(shape)
            p.setPen(Qt.PenStyle.NoPen)


def paint_marks(
    p: QPainter, m: QTransform, project: Project, level_id: str, compact: bool = False, units: bool = True
) -> None:
    """Shafts, stairs and the like; the outlines of `units` as they were drawn, unless these are laid out themselves."""
    c = theme.colour
    for mark in project.plan_marks:
        if mark.level_id != level_id or (mark.kind == "unit" and (compact or not units)):
            continue
        shape = m.map(polygon(mark.outline))
        box = shape.boundingRect()
        if mark.kind == "void":
            p.setBrush(c("paper"))
            p.setPen(Qt.PenStyle.NoPen)
            p.drawPolygon(shape)
        if mark.kind == "block":
            p.setBrush(c("band"))
            p.setPen(pen(c("faint"), 1.2, Qt.PenStyle.DashLine))
            p.drawPolygon(shape)
            if not compact:
                text(p, box.center(), f"{mark.label} {display.number(mark.height_m, 1)} m", c("faint"), 10.5)
            continue
        p.setBrush(c("sheet") if mark.kind in ("shaft", "unit") else Qt.BrushStyle.NoBrush)
        p.setPen(pen(c("wall"), 1.2) if mark.kind in ("shaft", "unit") else Qt.PenStyle.NoPen)
        p.drawPolygon(shape)
        thin = pen(c("faint"), 0.7, Qt.PenStyle.DashLine if mark.kind == "void" else Qt.PenStyle.SolidLine)
        p.setPen(thin)
        if mark.kind in ("shaft", "void"):
            p.drawLine(box.topLeft(), box.bottomRight())
            p.drawLine(box.topRight(), box.bottomLeft())
        if mark.kind == "stair":
            steps = max(2, int(box.height() / max(4.0, m.m11() * 0.28)))
            for k in range(steps + 1):
                y = box.top() + box.height() * k / steps
                p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            p.setPen(pen(c("ink"), 1.0))
            p.drawLine(QPointF(box.center().x(), box.bottom() - 4), QPointF(box.center().x(), box.top() + 4))
        if mark.label and (not compact or mark.kind == "void"):
            words = mark.label
            small = theme.font(10.5)
            if QFontMetricsF(small).horizontalAdvance(words) < box.width() - 4:
                text(p, box.center(), words, c("faint"), 10.5, halo=c("paper") if mark.kind == "void" else c("sheet"))


def paint_walls(
    p: QPainter, m: QTransform, project: Project, level_id: str, fills: dict[str, QColor] | None = None
) -> None:
    """Walls with their openings; `fills` colours walls by id."""
    c = theme.colour
    paths = wall_paths(project, level_id)
    p.setPen(Qt.PenStyle.NoPen)
    p.fillPath(m.map(paths.solid), c("wall"))
    for wall in project.walls if fills else ():
        if wall.level_id == level_id and wall.id in fills:
            p.setPen(pen(fills[wall.id], max(3.0, wall.thickness_m * m.m11())))
            p.drawLine(m.map(QPointF(*wall.start)), m.map(QPointF(*wall.end)))
    p.fillPath(m.map(paths.gaps), c("sheet"))
    p.fillPath(m.map(paths.glass), c("glass"))
    p.strokePath(m.map(paths.panes), pen(c("wall"), 0.8))
    for wall in project.walls:
        if (wall.fire_min or wall.smoke) and wall.level_id == level_id:
            _paint_rating(p, m, wall)


def _paint_rating(p: QPainter, m: QTransform, wall: Wall) -> None:
    """A second thin line beside a wall that resists fire, a tick every half metre, and its minutes."""
    (ax, ay), (bx, by) = wall.start, wall.end
    long = wall.length_m
    ux, uy = (bx - ax) / long, (by - ay) / long
    off = wall.thickness_m / 2 + RATING_M
    p.setPen(pen(theme.colour("garnet"), 1.0))

    def at(along: float, out: float) -> QPointF:
        return m.map(QPointF(ax + ux * along - uy * out, ay + uy * along + ux * out))

    p.drawLine(at(0.0, off), at(long, off))
    if m.m11() * TICK_M >= 5.0:
        for k in range(1, int(long / TICK_M) + 1):
            p.drawLine(at(k * TICK_M, off), at(k * TICK_M, off + RATING_M))
    words = f"{wall.fire_min or ''}{' S' if wall.smoke else ''}".strip()
    if long * m.m11() > 2.5 * text_width(words, 9, 600):
        text(p, at(long / 2, off), words, theme.colour("garnet"), 9, 600, halo=theme.colour("sheet"))


def paint_doors(p: QPainter, m: QTransform, project: Project, level_id: str, labels: list[QRectF]) -> None:
    """The leaves of doors, which give way to the labels of rooms."""
    p.save()
    if labels:
        rest = QPainterPath()
        rest.addRect(QRectF(p.window()))
        for box in labels:
            rest.addRect(box)  # odd and even: what lies in a label is left out
        p.setClipPath(rest, Qt.ClipOperation.IntersectClip)
    p.strokePath(m.map(wall_paths(project, level_id).doors), pen(theme.colour("faint"), 0.8))
    p.restore()


def paint_obstacles(
    p: QPainter, m: QTransform, project: Project, level_id: str, others: bool, chosen: tuple[str, ...]
) -> None:
    """Outlines of what stands in the way of ducts, those chosen strong; what came from files only where wanted."""
    p.setBrush(Qt.BrushStyle.NoBrush)
    for obstacle in project.obstacles:
        if obstacle.level_id == level_id and obstacle.kind != "column" and (others or not obstacle.source):
            strong = obstacle.id in chosen
            p.setPen(pen(theme.colour("garnet"), 2.0) if strong else pen(theme.colour("faint"), 0.9, DASHED))
            p.drawPolygon(m.map(polygon(obstacle.outline)))


def paint_room_labels(
    p: QPainter, m: QTransform, project: Project, level_id: str, style: PlanStyle, taken: QPainterPath | None = None
) -> list[QRectF]:
    """Number, name and more in the quietest part of each room; `taken` is what labels should not lie on. The boxes of
    the labels, in pixels.
    """
    c = theme.colour
    boxes: list[QRectF] = []
    for room in project.rooms:
        if room.level_id != level_id:
            continue
        x0, y0, x1, y1 = label_box(room.outline)
        box = m.mapRect(QRectF(x0, y0, x1 - x0, y1 - y0))
        lines = style.lines.get(room.id, ())
        if style.compact:
            fill = style.fills.get(room.id)
            dark = fill is not None and fill.lightnessF() < 0.5
            for line in lines:
                if text_width(line, COMPACT_PX, 500) > box.width() or box.height() < COMPACT_PX:
                    continue  # figures across each other tell nothing
                plain = room.id in style.hatched
                colour = c("faint") if plain else QColor("white") if dark else QColor("#23262B")
                text(
                    p, box.center(), line, colour, COMPACT_PX, 400 if plain else 500, halo=c("paper") if plain else None
                )
            continue
        covered = _room_label(p, box.adjusted(5, 3, -5, -3), lines, taken)
        if covered is not None:
            boxes.append(covered)
    return boxes


def _room_label(p: QPainter, box: QRectF, lines: tuple[str, ...], taken: QPainterPath | None) -> QRectF | None:
    """The fullest form of the label that fits, and the box it covers; a name of two words may take two lines."""
    if not lines or box.width() < LEAST_LABEL_PX or box.height() < LEAST_LABEL_PX:
        return None
    c = theme.colour
    number, name, *rest = (*lines, "")
    more = [r for r in rest if r]
    first, _, second = name.partition(" ")
    broken = [first, second] if second else [name]

    def rows(names: list[str], with_number: bool = True, with_more: bool = True) -> list:
        made = [(number, c("faint"), 11.0, 400)] if with_number else []
        made += [(n, c("ink"), 12.0, 500) for n in names]
        return made + ([(r, c("faint"), 11.0, 400) for r in more] if with_more else [])

    forms = [rows([name]), rows(broken), rows([name], with_more=False), rows(broken, with_more=False)]
    forms += [
        [(" ".join((number, name, *more)), c("ink"), 11.0, 400)],
        [(f"{number} {name}", c("ink"), 11.0, 400)],
        [(name, c("ink"), 10.5, 400)],
        [(number, c("faint"), 10.5, 400)],
    ]
    step = 14.5
    for form in forms:
        width = max(text_width(words, px, weight) for words, _, px, weight in form)
        height = step * len(form)
        if width > box.width() or height > box.height() + 4:
            continue
        at = _quiet(box, width, height, taken)
        if at is None:
            continue
        y = at.y() - step * (len(form) - 1) / 2
        covered = QRectF(at.x() - width / 2, at.y() - height / 2, width, height)
        if taken is not None:
            taken.addRect(covered)
        for words, colour, px, weight in form:
            text(p, QPointF(at.x(), y), words, colour, px, weight)
            y += step
        return covered
    return None


def _quiet(box: QRectF, width: float, height: float, taken: QPainterPath | None) -> QPointF | None:
    """The place nearest the middle of the box where a label of this size lies on nothing."""
    if taken is None or taken.isEmpty():
        return box.center()
    spare_x, spare_y = max(0.0, box.width() - width) / 2, max(0.0, box.height() - height) / 2
    middle = box.center()
    for fx, fy in PLACES:
        x, y = middle.x() + fx * spare_x, middle.y() + fy * spare_y
        if not taken.intersects(QRectF(x - width / 2 - 2, y - height / 2, width + 4, height)):
            return QPointF(x, y)
    return None


def duct_shadow(m: QTransform, project: Project, ducts: DuctResult | None, level_id: str) -> QPainterPath:
    """All that ducts, terminals and their figures cover, in pixels."""
    taken = m.map(duct_paths(project, ducts, level_id).union) if ducts is not None else QPainterPath()
    taken.setFillRule(Qt.FillRule.WindingFill)
    for terminal in project.terminals:
        point = find(project.duct_points, terminal.point_id)
        if point is not None and point.level_id == level_id:
            at = m.map(QPointF(point.x_m, point.y_m))
            below = _leads_up(project, point)
            taken.addRect(QRectF(at.x() - 12, at.y() - (8 if below else 22), 24, 30))
    return taken


def paint_terminals(
    p: QPainter,
    m: QTransform,
    project: Project,
    flows: dict[str, float],
    level_id: str,
    units: str,
    selection: Selection,
    quiet: bool = False,
) -> None:
    """Supply diffusers: a circle with six blades; nozzles: a triangle; grilles for air that leaves: a square with three
    bars.
    """
    c = theme.colour
    r = max(2.5 if quiet else 4.0, min(7.0, m.m11() * 0.24))
    for terminal in project.terminals:
        point = find(project.duct_points, terminal.point_id)
        if point is None or point.level_id != level_id:
            continue
        at = m.map(QPointF(point.x_m, point.y_m))
        chosen = terminal.id in selection.of("terminal")
        own = (
            c("garnet")
            if chosen
            else c({"supply": "supply", "return": "return", "extract": "exhaust", "outdoor": "outdoor"}[terminal.air])
        )
        p.setBrush(c("garnet_tint") if chosen else c("sheet"))
        p.setPen(pen(own, 2.0 if chosen else 1.2))
        if terminal.air != "supply":
            p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))
            for dy in (-0.5, 0.0, 0.5):
                p.drawLine(at + QPointF(-r * 0.6, dy * r), at + QPointF(r * 0.6, dy * r))
        elif terminal.kind == "wallg":
            path = QPainterPath(QPointF(at.x() - r * 0.8, at.y() - r))
            path.lineTo(at.x() + r, at.y())
            path.lineTo(at.x() - r * 0.8, at.y() + r)
            path.closeSubpath()
            p.drawPath(path)
        else:
            p.drawEllipse(at, r, r)
            blades = QPainterPath()
            for k in range(6):
                turned = QTransform().rotate(60 * k)
                blades.moveTo(at + turned.map(QPointF(r * 0.25, 0)))
                blades.lineTo(at + turned.map(QPointF(r * 0.75, r * 0.25)))
            p.strokePath(blades, pen(own, 1.0))
        if quiet:
            continue
        flow = flows.get(terminal.id)
        words = display.figure("room_flow", flow, units) if flow is not None else display.DASH
        below = _leads_up(project, point)
        text(p, QPointF(at.x(), at.y() + (r + 8 if below else -r - 8)), words, own, 10.5, 500)


def _leads_up(project: Project, point) -> bool:
    """True when the duct comes from the north, so that the flow's place is below the symbol."""
    beside = other_ends(project.segments).get(point.id)
    return beside is None or find(project.duct_points, beside).y_m >= point.y_m


def paint_selection(
    p: QPainter,
    m: QTransform,
    project: Project,
    level_id: str,
    selection: Selection,
    units: System = "SI",
    handles: bool = True,
) -> None:
    """Rooms: 2 px garnet, square corners, round mid-handles. Openings: the stretch of wall."""
    c = theme.colour
    for room_id in selection.of("room"):
        room = find(project.rooms, room_id)
        if room is None or room.level_id != level_id:
            continue
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(pen(c("garnet"), 2.0))
        p.drawPath(m.map(path_of(room.outline)))
        if len(selection.ids) > 1 or not handles:
            continue  # handles pull one room alone
        p.setBrush(c("sheet"))
        p.setPen(pen(c("garnet"), 1.4))
        for x, y in room.outline:
            at = m.map(QPointF(x, y))
            p.drawRect(QRectF(at.x() - 3, at.y() - 3, 6, 6))
        for (x0, y0), (x1, y1) in zip(room.outline, room.outline[1:] + room.outline[:1]):
            p.drawEllipse(m.map(QPointF((x0 + x1) / 2, (y0 + y1) / 2)), 3.2, 3.2)
        _dimensions(p, m, room.outline, units)
    for key in selection.of("face"):
        kind, _, wall_id = key.partition("/")
        wall = find(project.walls, wall_id) if kind == "wall" else None
        if wall is not None and wall.level_id == level_id:
            p.setPen(pen(c("garnet"), 4.0))
            p.drawLine(m.map(QPointF(*wall.start)), m.map(QPointF(*wall.end)))
    for key in selection.of("opening"):
        wall_id, _, opening_id = key.partition("/")
        for wall, opening, start, end in wall_paths(project, level_id).hits:
            if wall.id == wall_id and opening.id == opening_id:
                p.setPen(pen(c("garnet"), 4.0))
                p.drawLine(m.map(QPointF(*start)), m.map(QPointF(*end)))


def _dimensions(p: QPainter, m: QTransform, outline: tuple, units: System) -> None:
    """Width below and depth at the left of a selected room, in garnet."""
    c = theme.colour
    xs, ys = [q[0] for q in outline], [q[1] for q in outline]
    low, high = m.map(QPointF(min(xs), min(ys))), m.map(QPointF(max(xs), max(ys)))
    p.setPen(pen(c("garnet"), 1.0))
    y, x = low.y() + 22, low.x() - 18
    p.drawLine(QPointF(low.x(), y), QPointF(high.x(), y))
    p.drawLine(QPointF(x, low.y()), QPointF(x, high.y()))
    for tick in (low.x(), high.x()):
        p.drawLine(QPointF(tick, y - 5), QPointF(tick, y + 5))
    for tick in (low.y(), high.y()):
        p.drawLine(QPointF(x - 5, tick), QPointF(x + 5, tick))
    text(
        p,
        QPointF((low.x() + high.x()) / 2, y - 9),
        display.measure(max(xs) - min(xs), units, False),
        c("garnet"),
        11,
        500,
        halo=c("paper"),
    )
    p.save()
    p.translate(x - 9, (low.y() + high.y()) / 2)
    p.rotate(-90)
    text(p, QPointF(0, 0), display.measure(max(ys) - min(ys), units, False), c("garnet"), 11, 500, halo=c("paper"))
    p.restore()


SCALE_M = {"SI": (10.0, "10 m"), "IP": (32 * 0.3048, "32 ft")}


def paint_scale(p: QPainter, m: QTransform, at: QPointF, units: str = "SI") -> None:
    """A bar of 10 m, or of 32 feet, in four pieces."""
    c = theme.colour
    long_m, words = SCALE_M[units]
    length = long_m * m.m11()
    p.setPen(pen(c("ink"), 1.0))
    for k in range(4):
        p.setBrush(c("ink") if k % 2 == 0 else c("sheet"))
        p.drawRect(QRectF(at.x() + length * k / 4, at.y(), length / 4, 3))
    text(p, QPointF(at.x() + 2, at.y() - 9), "0", c("ink"), 10.5, align=Qt.AlignmentFlag.AlignLeft)
    text(p, QPointF(at.x() + length, at.y() - 9), words, c("ink"), 10.5, align=Qt.AlignmentFlag.AlignRight)


def paint_north(p: QPainter, at: QPointF, north_deg: float) -> None:
    c = theme.colour
    p.setPen(pen(c("faint"), 1.0))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(at, 10.5, 10.5)
    p.save()
    p.translate(at)
    p.rotate(-north_deg)  # north_deg is the bearing of the plan's upward direction
    arrow = QPainterPath(QPointF(0, -7))
    arrow.lineTo(4, 5)
    arrow.lineTo(0, 2.5)
    arrow.lineTo(-4, 5)
    arrow.closeSubpath()
    p.fillPath(arrow, c("ink"))
    p.restore()
    text(p, QPointF(at.x(), at.y() - 18), "N", c("ink"), 10.5)


def paint_hatched_box(p: QPainter, box: QRectF) -> None:
    """The sign of an unheated room in a legend."""
    p.setPen(pen(theme.colour("rule"), 1.0))
    p.setBrush(theme.colour("paper"))
    p.drawRect(QRectF(box.left(), box.top(), 11, 11))
    p.setBrush(hatch(theme.colour("faint")))
    p.drawRect(QRectF(box.left(), box.top(), 11, 11))
