"""The air balance on the plan: what enters and leaves every room, and what passes from room to room."""

from math import atan2, cos, hypot, sin

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPolygonF, QTransform

from garnetfin import display
from garnetfin.engine.results import AirResult, RoomAir
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import path_of, polygon
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme

LEAST_M3S = 5e-4
ROW, WIDE = 13.0, 44.0


def paint_air(p: QPainter, m: QTransform, state: State, level_id: str, blocked: QPainterPath) -> None:
    """Arrows of the air system shown: supply down into the room, return and extract up out of it, leaks sideways,
    transfer between. They keep clear of what is `blocked`, in pixels: terminals and their figures.
    """
    air = state.results.air.get(state.show.system_id)
    if not isinstance(air, AirResult):
        return
    rooms = {r.id: r for r in state.project.rooms if r.level_id == level_id}
    for row in air.rooms:
        if row.room_id in rooms:
            _paint_room(p, m, rooms[row.room_id].outline, row, state.show.units, blocked)
    for move in air.moves:
        a, b = rooms.get(move.from_room), rooms.get(move.to_room)
        if a is not None and b is not None and move.flow_m3s > LEAST_M3S:
            _paint_move(
                p,
                _middle(m, a.outline),
                _middle(m, b.outline),
                display.figure("room_flow", move.flow_m3s, state.show.units),
                move.by_rule,
                blocked,
            )
        elif (a or b) is not None and move.flow_m3s > LEAST_M3S:
            here, other = a or b, find(state.project.rooms, move.to_room if a is not None else move.from_room)
            way = "to" if a is not None else "from"
            layers.text(
                p,
                _middle(m, here.outline) + QPointF(0, 26),
                f"{way} {other.number}: {display.figure('room_flow', move.flow_m3s, state.show.units)}",
                theme.colour("good"),
                10.5,
                500,
                halo=theme.colour("sheet"),
            )


def air_shadow(m: QTransform, state: State, level_id: str, blocked: QPainterPath) -> QPainterPath:
    """What the arrows and their figures cover, in pixels."""
    air, taken = state.results.air.get(state.show.system_id), QPainterPath()
    if isinstance(air, AirResult):
        rooms = {r.id: r for r in state.project.rooms if r.level_id == level_id}
        for row in air.rooms:
            if row.room_id in rooms:
                shape, lines = _lines(m, rooms[row.room_id].outline, row)
                if lines:
                    taken.addRect(_place(shape, len(lines), blocked))
    return taken


def _place(shape: QPainterPath, count: int, blocked: QPainterPath) -> QRectF:
    """Where arrows of a room stand: the first of its corners that is free, then anywhere along its edges; covered, yet
    in the room, where none is.
    """
    box, high = shape.boundingRect(), 16 + ROW * (count - 1)
    low, top = box.bottom() - 2 - high, box.top() + 4
    left, right = box.left() + 5, box.right() - 5 - WIDE
    steps = max(2, int((right - left) / WIDE) + 1)
    along = [left + (right - left) * k / steps for k in range(1, steps)]
    middles = (low + (top - low) * k / 4 for k in (1, 2, 3)) if low > top else ()
    places = [QRectF(x, y, WIDE, high) for y in (low, top) for x in (left, right, *along)]
    places += [QRectF(x, y, WIDE, high) for y in middles for x in (left, right)]
    within = [r for r in places if shape.contains(r)]
    return next((r for r in within if not blocked.intersects(r)), (within or places)[0])


def _lines(m: QTransform, outline: tuple, row: RoomAir) -> tuple[QPainterPath, list]:
    """(the room in pixels, (way, colour, flow) of its arrows); none where they have no space."""
    lines = [
        (way, colour, flow)
        for way, colour, flow in (
            ("in", "supply", row.flow_m3s),
            ("out", "return", row.return_m3s),
            ("out", "exhaust", row.extract_m3s),
            ("leak out" if row.offset_m3s > 0 else "leak in", "faint", abs(row.offset_m3s)),
            ("lack", "bad", row.short_m3s),
        )
        if flow > LEAST_M3S
    ]
    shape = m.map(path_of(outline))
    box = shape.boundingRect()
    return shape, lines if box.width() >= 34 and box.height() >= 16 + ROW * len(lines) else []


def _middle(m: QTransform, outline: tuple) -> QPointF:
    return m.map(polygon(outline).boundingRect().center())


def _paint_room(p: QPainter, m: QTransform, outline: tuple, row: RoomAir, units: str, blocked: QPainterPath) -> None:
    c, (shape, lines) = theme.colour, _lines(m, outline, row)
    at = _place(shape, max(1, len(lines)), blocked).topLeft() + QPointF(7, 8)
    for way, colour, flow in lines:
        _arrow(p, at, way, c(colour))
        words = display.figure("room_flow", flow, units)
        layers.text(
            p,
            at + QPointF(9, 0),
            f"lacks {words}" if way == "lack" else words,
            c(colour),
            10.5,
            500,
            Qt.AlignmentFlag.AlignLeft,
            halo=c("sheet"),
        )
        at += QPointF(0, ROW)


def _arrow(p: QPainter, at: QPointF, way: str, colour: QColor) -> None:
    """Down: into the room; up: out of it; to the left and right: through its walls."""
    turn = {"in": 90, "out": -90, "leak out": 180, "leak in": 0, "lack": 0}[way]
    p.save()
    p.translate(at)
    p.rotate(turn)
    p.setPen(layers.pen(colour, 1.5))
    p.drawLine(QPointF(-4.5, 0), QPointF(3, 0))
    p.setBrush(colour)
    p.setPen(Qt.PenStyle.NoPen)
    p.drawPolygon(QPolygonF([QPointF(5, 0), QPointF(0.5, -3), QPointF(0.5, 3)]))
    p.restore()


def _paint_move(p: QPainter, a: QPointF, b: QPointF, words: str, by_rule: bool, blocked: QPainterPath) -> None:
    """A bow from room to room with an arrow head; solid where it is typed, dashed by rule."""
    colour = theme.colour("good")
    length = hypot(b.x() - a.x(), b.y() - a.y())
    if length < 20:
        return
    n = QPointF(-(b.y() - a.y()), b.x() - a.x()) / length
    knee = (a + b) / 2 + n * min(18.0, length * 0.15)
    path = QPainterPath(a)
    path.quadTo(knee, b)
    p.setBrush(Qt.BrushStyle.NoBrush)
    drawn = layers.pen(colour, 1.8)
    if by_rule:
        drawn.setDashPattern([4, 2.5])
    p.strokePath(path, drawn)
    turn = atan2(b.y() - knee.y(), b.x() - knee.x())
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(colour)
    p.drawPolygon(QPolygonF([b, *(b - 9 * QPointF(cos(turn + s), sin(turn + s)) for s in (0.4, -0.4))]))
    places = [path.pointAtPercent(share) for share in (0.5, 0.35, 0.65, 0.2, 0.8)]
    at = next((x for x in places if not blocked.intersects(QRectF(x.x() - 14, x.y() - 8, 28, 16))), places[0])
    layers.text(p, at, words, colour, 10.5, 600, halo=theme.colour("sheet"))
