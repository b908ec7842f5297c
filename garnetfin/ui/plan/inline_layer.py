"""Parts in ducts on the plan: a symbol of one shape each across the duct, at true length, with its tag."""

from collections.abc import Callable
from functools import lru_cache
from math import atan2, degrees, hypot

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPolygonF, QTransform

from garnetfin.engine.layout.inline_outlines import PlacedPart, parts_of_level
from garnetfin.engine.results import DuctResult, InlineRecord
from garnetfin.project.lookup import Same
from garnetfin.project.tree import Project
from garnetfin.ui.plan.layers import pen, text
from garnetfin.ui.plan.tags import beside, write_tag
from garnetfin.ui.state import Selection
from garnetfin.ui.theme import theme

LEAST_PX = 7.0  # a part is drawn at least as long
TAGGED_PX = 9.0  # across, from which on its tag is written
HIT_PX = 4.0


def parts_on(project: Project, networks: tuple[DuctResult, ...], level_id: str) -> tuple[PlacedPart, ...]:
    """All parts in the ducts of a level."""
    return tuple(p for ducts in networks for p in _parts_on(Same(project), Same(ducts), level_id))


@lru_cache(maxsize=8)
def _parts_on(project: Same, ducts: Same, level_id: str) -> tuple[PlacedPart, ...]:
    return parts_of_level(project.item, ducts.item, level_id)


def part_at(parts: tuple[PlacedPart, ...], m: QTransform, at: QPointF) -> PlacedPart | None:
    """The part under a place in pixels, the one painted last."""
    return next((p for p in reversed(parts) if _frame(p, m, HIT_PX)[1].contains(at)), None)


def _frame(part: PlacedPart, m: QTransform, more: float = 0.0) -> tuple[QTransform, QPainterPath, QRectF]:
    """(from the part's own pixels, x along the air, to those of the plan; its body there; its body in its own)."""
    middle, ahead = m.map(QPointF(*part.middle)), m.map(QPointF(*_ahead(part)))
    turn = degrees(atan2(ahead.y() - middle.y(), ahead.x() - middle.x()))
    scale = hypot(ahead.x() - middle.x(), ahead.y() - middle.y())
    long, wide = max(part.length_m * scale, LEAST_PX) + 2 * more, max(part.width_m * scale, LEAST_PX) + 2 * more
    own = QRectF(-long / 2, -wide / 2, long, wide)
    to_plan = QTransform().translate(middle.x(), middle.y()).rotate(turn)
    path = QPainterPath()
    path.addRect(own)
    return to_plan, to_plan.map(path), own


def _ahead(part: PlacedPart) -> tuple[float, float]:
    return part.middle[0] + part.way[0], part.middle[1] + part.way[1]


def parts_shadow(m: QTransform, parts: tuple[PlacedPart, ...]) -> QPainterPath:
    """What they cover, in pixels."""
    taken = QPainterPath()
    taken.setFillRule(Qt.FillRule.WindingFill)
    for part in parts:
        taken.addPath(_frame(part, m)[1])
    return taken


def paint_parts(
    p: QPainter, m: QTransform, parts: tuple[PlacedPart, ...], selection: Selection, taken: QPainterPath
) -> None:
    """Symbols, then tags where they are free of what is `taken`, which grows by them."""
    chosen = set(selection.of("inline"))
    for part in parts:
        paint_symbol(p, m, part, part.record.part_id in chosen)
    for part in parts:
        _tag(p, m, part, taken)


def paint_symbol(p: QPainter, m: QTransform, part: PlacedPart, chosen: bool) -> None:
    """One part: its body across the duct, and the mark of its kind."""
    to_plan, _, box = _frame(part, m)
    r = part.record
    lacks = r.refusal in ("none", "unknown", "minutes", "smoke") and not r.typed
    ink = theme.colour("garnet" if chosen else "bad" if lacks else "ink")
    p.save()
    p.setTransform(to_plan, True)
    p.setPen(pen(ink, 1.8 if chosen else 1.1))
    p.setBrush(theme.colour("garnet_tint" if chosen else "sheet"))
    if r.kind not in ("measuring cross", "access door", "flexible connector"):
        p.drawRect(box)
    SYMBOLS[r.kind](p, box, r)
    p.restore()


def _fire(p: QPainter, box: QRectF, r: InlineRecord) -> None:
    p.drawLine(box.bottomLeft(), box.topRight())
    if r.smoke:
        _letter(p, box, "S")


def _smoke(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    p.drawLine(box.bottomLeft(), box.topRight())
    _letter(p, box, "S")


def _letter(p: QPainter, box: QRectF, letter: str) -> None:
    if box.height() > 14:
        text(p, QPointF(box.center().x(), box.top() + 6), letter, p.pen().color(), 9, 700, halo=theme.colour("sheet"))


def _blade(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    p.drawLine(box.bottomLeft(), box.topRight())
    p.setBrush(p.pen().color())
    p.drawEllipse(box.center(), 2, 2)


def _combs(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    """Two combs that face each other across the air."""
    teeth = max(2, min(8, int(box.width() / 5)))
    reach = box.height() * 0.3
    for k in range(1, teeth + 1):
        x = box.left() + box.width() * k / (teeth + 1)
        p.drawLine(QPointF(x, box.top()), QPointF(x, box.top() + reach))
        p.drawLine(QPointF(x, box.bottom()), QPointF(x, box.bottom() - reach))


def _plus(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    c, s = box.center(), min(box.width(), box.height()) * 0.3
    p.drawLine(c + QPointF(-s, 0), c + QPointF(s, 0))
    p.drawLine(c + QPointF(0, -s), c + QPointF(0, s))


def _zigzag(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    turns = max(2, min(8, int(box.height() / 5)))
    places = [
        QPointF(box.right() if k % 2 else box.left(), box.top() + box.height() * k / turns) for k in range(turns + 1)
    ]
    p.drawPolyline(QPolygonF(places))


def _cross(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    c, s = box.center(), max(min(box.height() * 0.4, 9.0), 4.0)
    p.drawEllipse(c, s, s)
    p.drawLine(c + QPointF(-s, 0), c + QPointF(s, 0))
    p.drawLine(c + QPointF(0, -s), c + QPointF(0, s))


def _door(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    text(p, QPointF(box.center().x(), box.bottom() + 7), "D", p.pen().color(), 9.5, 700, halo=theme.colour("sheet"))
    p.drawLine(box.bottomLeft(), box.bottomRight())


def _waves(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    for x in (box.left(), box.right()):
        path = QPainterPath(QPointF(x, box.top()))
        waves = max(2, min(6, int(box.height() / 6)))
        step = box.height() / waves
        for k in range(waves):
            y = box.top() + k * step
            path.quadTo(QPointF(x + (3 if k % 2 else -3), y + step / 2), QPointF(x, y + step))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(path)


def _dot(p: QPainter, box: QRectF, _r: InlineRecord) -> None:
    p.setBrush(p.pen().color())
    p.drawEllipse(box.center(), 2.5, 2.5)


SYMBOLS: dict[str, Callable[..., None]] = {
    "fire damper": _fire,
    "smoke damper": _smoke,
    "volume damper": _blade,
    "attenuator": _combs,
    "heater": _plus,
    "filter": _zigzag,
    "measuring cross": _cross,
    "access door": _door,
    "flexible connector": _waves,
    "own part": _dot,
}


def _tag(p: QPainter, m: QTransform, part: PlacedPart, taken: QPainterPath) -> None:
    """Tag with its minutes beside the body, on the first side that is free."""
    box = _frame(part, m)[1].boundingRect()
    if max(box.width(), box.height()) < TAGGED_PX:
        return
    r = part.record
    words = f"{r.tag} {r.resists_min}" if r.resists_min else r.tag
    write_tag(p, words, beside(box, words), taken)
