"""Equipment on the plan: flow boxes in their ducts as a body with an arrow, units in rooms as their outline."""

from functools import lru_cache
from math import atan2, cos, sin

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPolygonF, QTransform

from garnetfin.engine.layout.equipment_outlines import Placed, boxes_of_level, handlers_of_level, room_units_of_level
from garnetfin.engine.results import DuctResult, Results
from garnetfin.project.lookup import Same
from garnetfin.ui.plan.geometry import polygon
from garnetfin.ui.plan.layers import pen, text
from garnetfin.ui.plan.tags import TAG_H, beside, tag_width, write_tag
from garnetfin.ui.state import Selection
from garnetfin.ui.theme import theme

FLAT = ("floor", "ceiling", "floor of unit", "floor of unit short")  # one walks over or under them
SMALL_PX = 14.0  # a body shorter than this bears no tag


def placed_on(results: Results, ducts: DuctResult | None, level_id: str) -> tuple[Placed, ...]:
    """All pieces of a level: boxes of these ducts, and units in rooms."""
    return _placed_on(Same(results), Same(ducts), level_id)


@lru_cache(maxsize=2)
def _placed_on(results: Same, ducts: Same, level_id: str) -> tuple[Placed, ...]:
    boxes = boxes_of_level(results.item, ducts.item, level_id) if ducts.item is not None else ()
    return (*boxes, *room_units_of_level(results.item, level_id), *handlers_of_level(results.item, level_id))


def equipment_shadow(m: QTransform, pieces: tuple[Placed, ...]) -> QPainterPath:
    """What they cover, in pixels."""
    taken = QPainterPath()
    taken.setFillRule(Qt.FillRule.WindingFill)
    for piece in pieces:
        if piece.kind not in FLAT:
            taken.addPath(m.map(_body(piece)))
    return taken


def piece_at(pieces: tuple[Placed, ...], m: QTransform, at: QPointF) -> Placed | None:
    """The piece whose body lies under a place in pixels; the one painted last."""
    return next((x for x in reversed(pieces) if x.kind not in FLAT and m.map(_body(x)).contains(at)), None)


def _body(piece: Placed) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(polygon(piece.outline))
    path.closeSubpath()
    return path


def paint_equipment(
    p: QPainter, m: QTransform, pieces: tuple[Placed, ...], selection: Selection, taken: QPainterPath
) -> None:
    """Bodies, then tags where they are free of what is `taken`, which grows by them."""
    rooms = set(selection.of("room"))
    for piece in pieces:
        chosen = bool(rooms & set(piece.room_ids))
        short = piece.kind.endswith(" short")
        ink = theme.colour("bad" if short else "garnet" if chosen else "supply" if piece.kind == "box" else "ink")
        line = pen(ink, 1.8 if chosen else 1.1)
        if piece.kind in FLAT:
            line.setDashPattern([5, 3])
            p.setBrush(Qt.BrushStyle.NoBrush)
        else:
            p.setBrush(theme.colour("garnet_tint" if chosen else "sheet"))
        p.setPen(line)
        p.drawPath(m.map(_body(piece)))
        if piece.kind == "box":
            _arrow(p, m, piece, ink)
    for piece in pieces:
        _tag(p, m, piece, taken)


def _arrow(p: QPainter, m: QTransform, piece: Placed, ink) -> None:
    tail, head = (m.map(QPointF(*at)) for at in piece.way)
    if (head - tail).manhattanLength() < 5:
        return
    turn = atan2(head.y() - tail.y(), head.x() - tail.x())
    p.drawLine(tail, head)
    p.setBrush(ink)
    p.drawPolygon(QPolygonF([head, *(head - QPointF(cos(turn + s), sin(turn + s)) * 4.5 for s in (0.45, -0.45))]))


def _tag(p: QPainter, m: QTransform, piece: Placed, taken: QPainterPath) -> None:
    """The tag beside its body, on the first side that is free."""
    box = m.map(_body(piece)).boundingRect()
    if not piece.tag or max(box.width(), box.height()) < SMALL_PX:
        return
    wide = tag_width(piece.tag)
    if piece.kind in FLAT:
        write_tag(p, piece.tag, (QRectF(box.left() + 3, box.bottom() - TAG_H - 2, wide, TAG_H),), taken)
    elif box.width() > wide + 8 and box.height() > TAG_H + 4:  # a body that holds its own tag
        text(p, box.center(), piece.tag, theme.colour("ink"), 10.5, 600)
    else:
        write_tag(p, piece.tag, beside(box, piece.tag), taken)
