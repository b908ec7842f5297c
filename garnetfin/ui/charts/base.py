"""The base of all charts: scales with even ticks, axes, labels that yield, drawn by QPainter.

One drawing serves window, picture and print. A chart renders a frozen view-model and paints in paint_chart.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor, isfinite, log10
from typing import Generic, TypeVar

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from garnetfin import display
from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme


def ticks(low: float, high: float, about: int = 5) -> list[float]:
    """Even round numbers within low..high."""
    if not (isfinite(low) and isfinite(high)) or high <= low:
        return [low]
    raw = (high - low) / max(1, about)
    power = 10 ** floor(log10(raw))
    step = next(s * power for s in (1, 2, 2.5, 5, 10) if s * power >= raw * 0.999)
    first = ceil(low / step - 1e-9)
    return [round(k * step, 10) for k in range(first, floor(high / step + 1e-9) + 1)]


def decimals(values: Sequence[float], least: int = 0) -> int:
    """As few decimals as tell round figures apart, at least some."""
    return next((n for n in range(least, 4) if all(abs(v - round(v, n)) < 1e-9 for v in values)), 4)


def reach(values: Sequence[float], about: int = 5, from_zero: bool = True) -> tuple[float, float]:
    """A range that holds all values and ends on ticks."""
    known = [v for v in values if isfinite(v)] or [0.0, 1.0]
    low, high = min(known), max(known)
    if from_zero:
        low, high = min(low, 0.0), max(high, 0.0)
    if high - low < 1e-9:
        high = low + 1
    raw = (high - low) / max(1, about)
    power = 10 ** floor(log10(raw))
    step = next(s * power for s in (1, 2, 2.5, 5, 10) if s * power >= raw * 0.999)
    return floor(low / step + 1e-9) * step, ceil(high / step - 1e-9) * step


@dataclass(frozen=True, slots=True)
class Scale:
    """A straight map from values to pixels."""

    low: float
    high: float
    start: float
    end: float

    def __call__(self, value: float) -> float:
        return self.start + (value - self.low) / (self.high - self.low) * (self.end - self.start)

    def back(self, pixel: float) -> float:
        return self.low + (pixel - self.start) / (self.end - self.start) * (self.high - self.low)


VM = TypeVar("VM")


class Chart(QWidget, Generic[VM]):
    """Paper, antialiasing, focus ring; subclasses paint into it what a view-model of their kind holds."""

    background = "paper"

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._vm: VM | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)

    @property
    def shows(self) -> bool:
        """Whether something was rendered."""
        return self._vm is not None

    @property
    def vm(self) -> VM:
        """What is shown. Raises LookupError before anything was rendered."""
        if self._vm is None:
            raise LookupError("nothing was rendered yet")
        return self._vm

    def render_vm(self, vm: VM) -> None:
        """Show a view-model."""
        if vm != self._vm:
            self._vm = vm
            self.update()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour(self.background))
        if self.shows:
            self.paint_chart(p)
        if ringed(self):
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(theme.colour("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(QRectF(self.rect()).adjusted(1, 1, -2, -2))

    def paint_chart(self, p: QPainter) -> None:
        """Draw self.vm."""


def words(
    p: QPainter,
    at: QPointF,
    text: str,
    colour: str | QColor = "faint",
    px: float = 10.5,
    weight: int = 400,
    side: str = "centre",
    italic: bool = False,
) -> float:
    """One line whose middle height is at `at`; side = which part of it lies there. Gives its width."""
    text = tr(text)
    font = theme.font(px, weight, italic)
    metrics = QFontMetricsF(font)
    width = metrics.horizontalAdvance(text)
    x = at.x() - {"left": 0.0, "centre": width / 2, "right": width}[side]
    p.setFont(font)
    p.setPen(theme.colour(colour) if isinstance(colour, str) else colour)
    p.drawText(QPointF(x, at.y() + (metrics.ascent() - metrics.descent()) / 2), text)
    return width


def title(p: QPainter, x: float, y: float, heading: str, note: str = "") -> None:
    """Heading and a faint remark behind it."""
    width = words(p, QPointF(x, y), heading, "ink", 12.5, 600, "left")
    words(p, QPointF(x + width + 12, y), note, "faint", 11.5, 400, "left")


def y_axis(p: QPainter, y: Scale, left: float, right: float, about: int = 5, digits: int = 0) -> None:
    """Hairlines across and figures at the left, with at least `digits` decimals."""
    marks = ticks(min(y.low, y.high), max(y.low, y.high), about)
    digits = decimals(marks, digits)
    for value in marks:
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(QPointF(left, y(value)), QPointF(right, y(value)))
        words(p, QPointF(left - 8, y(value)), display.number(value, digits), side="right")


def x_axis(p: QPainter, x: Scale, bottom: float, about: int = 6, digits: int = 0, top: float | None = None) -> None:
    """Figures below, hairlines up to `top` when given; at least `digits` decimals."""
    marks = ticks(x.low, x.high, about)
    digits = decimals(marks, digits)
    for value in marks:
        if top is not None:
            p.setPen(QPen(theme.colour("rule"), 1))
            p.drawLine(QPointF(x(value), top), QPointF(x(value), bottom))
        words(p, QPointF(x(value), bottom + 11), display.number(value, digits))


def polyline(
    p: QPainter,
    points: Sequence[tuple[float, float]],
    colour: QColor,
    width: float = 1.5,
    style: Qt.PenStyle = Qt.PenStyle.SolidLine,
) -> None:
    pen = QPen(colour, width, style)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPolyline(QPolygonF([QPointF(a, b) for a, b in points]))


def area(p: QPainter, upper: Sequence[tuple[float, float]], lower: Sequence[tuple[float, float]], fill: QColor) -> None:
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(a, b) for a, b in (*upper, *reversed(lower))]))
    p.fillPath(path, fill)


class Labels:
    """Places words so that they do not lie over each other; a label that finds no place is left out."""

    def __init__(self) -> None:
        self._taken: list[QRectF] = []

    def block(self, box: QRectF) -> None:
        self._taken.append(box)

    def place(
        self,
        p: QPainter,
        around: QPointF,
        text: str,
        colour: str,
        px: float = 10.5,
        weight: int = 500,
        must: bool = False,
    ) -> bool:
        metrics = QFontMetricsF(theme.font(px, weight))
        width, height = metrics.horizontalAdvance(text), 12.0
        for dx, dy in (
            (7, 0),
            (-7 - width, 0),
            (-width / 2, -12),
            (-width / 2, 12),
            (7, -10),
            (7, 10),
            (-7 - width, -10),
            (-7 - width, 10),
        ):
            box = QRectF(around.x() + dx, around.y() + dy - height / 2, width, height)
            if not any(box.intersects(t) for t in self._taken):
                break
        else:
            if not must:
                return False
            box = QRectF(around.x() + 7, around.y() - height / 2, width, height)
        self._taken.append(box)
        font = theme.font(px, weight)
        path = QPainterPath()
        path.addText(box.left(), box.center().y() + (metrics.ascent() - metrics.descent()) / 2, font, text)
        p.strokePath(
            path,
            QPen(theme.colour("paper"), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin),
        )
        words(p, QPointF(box.left(), box.center().y()), text, colour, px, weight, "left")
        return True
