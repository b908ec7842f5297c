"""A build-up drawn to scale with the temperature and dew point running through it; layers are dragged to reorder."""

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPen

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Scale, polyline, reach, ticks, words
from garnetfin.ui.theme import mix, theme
from garnetfin.ui.view_models.chart_data import SectionVM

WIDEST_SHARE = 0.03  # of the drawing, for layers too thin to see


class SectionChart(Chart[SectionVM]):
    """Inside at the left. A click chooses a layer, a drag puts it elsewhere, Alt with left and right too."""

    chosen = Signal(int)
    moved = Signal(int, int)
    background = "sheet"

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Section through the build-up")
        self._from, self._x = -1, 0.0

    def _frame(self) -> QRectF:
        return QRectF(70, 26, self.width() - 140, self.height() - 62)

    def edges(self) -> list[float]:
        """Pixel of every face between layers; thin layers get a least width."""
        box, thick = self._frame(), self.vm.thickness
        whole = sum(thick) or 1.0
        shares = [max(t / whole, WIDEST_SHARE) for t in thick]
        total, x, found = sum(shares), box.left(), [box.left()]
        for share in shares:
            x += share / total * box.width()
            found.append(x)
        return found

    def paint_chart(self, p: QPainter) -> None:
        vm, c, box = self.vm, theme.colour, self._frame()
        edges = self.edges()
        words(p, QPointF(12, 13), "inside", "ink", 11, 600, "left")
        words(p, QPointF(self.width() - 12, 13), "outside" if vm.outside else "other side", "ink", 11, 600, "right")
        for i, (a, b) in enumerate(itertools.pairwise(edges)):
            rect = QRectF(a, box.top(), b - a, box.height())
            kind = vm.kinds[i]
            p.fillRect(rect, c("paper") if kind == "gap" else mix(c("sheet"), c("wall"), vm.shades[i]))
            if kind == "insulation":
                self._waves(p, rect)
            if i == vm.chosen:
                p.setBrush(c("garnet_tint"))
                p.fillRect(rect.adjusted(0, 0, 0, 0), c("garnet_tint"))
                p.setPen(QPen(c("garnet"), 2))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(rect.adjusted(1, 1, -1, -1))
            p.setPen(QPen(c("faint"), 1))
            p.drawLine(rect.topRight(), rect.bottomRight())
            if b - a > 22:
                words(p, QPointF((a + b) / 2, box.bottom() + 10), vm.marks[i], "faint", 10)
        p.setPen(QPen(c("ink"), 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(QRectF(edges[0], box.top(), edges[-1] - edges[0], box.height()))
        if vm.temperature:
            self._curves(p, edges, box)
        if self._from >= 0:
            p.setPen(QPen(c("garnet"), 2, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(self._x, box.top() - 6), QPointF(self._x, box.bottom() + 6))

    def _waves(self, p: QPainter, rect: QRectF) -> None:
        p.setPen(QPen(theme.colour("rule"), 1))
        step = 9.0
        y = rect.top()
        while y < rect.bottom() - step:
            p.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y + step))
            y += step

    def _curves(self, p: QPainter, edges: list[float], box: QRectF) -> None:
        vm, c = self.vm, theme.colour
        low, high = reach([*vm.temperature, *(d for d in vm.dew if d > -40)], 4, from_zero=False)
        y = Scale(low, high, box.bottom(), box.top())
        for value in ticks(low, high, 4):
            words(p, QPointF(box.left() - 34, y(value)), display.number(value, 0), side="right")
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(box.left() - 30, y(value)), QPointF(box.left() - 26, y(value)))
        inner = edges[: len(vm.temperature) - 2]
        xs = [edges[0] - 24, *inner, inner[-1] + 24]
        # Layers beyond a ventilated gap do not count and carry no curve.
        polyline(p, list(zip(xs, map(y, vm.temperature))), c("garnet"), 2)
        polyline(
            p,
            [(a, max(box.top(), min(box.bottom(), y(d)))) for a, d in zip(xs, vm.dew)],
            c("supply"),
            1.8,
            Qt.PenStyle.DashLine,
        )
        for i in vm.wet:
            at = QPointF(xs[i], y(vm.temperature[i]))
            p.setPen(QPen(c("watch"), 1.6))
            p.setBrush(c("sheet"))
            p.drawEllipse(at, 5, 5)
        right = box.right() + 66
        for text, tone, value, side in (
            ("temperature", "garnet", vm.temperature[-1], -8),
            ("dew point", "supply", vm.dew[-1], 8),
        ):
            words(p, QPointF(right, y(value) + side), text, tone, 10.5, 500, "right")
        if vm.wet:
            words(
                p,
                QPointF(self.width() / 2, 13),
                "on the winter day water would condense at the rings",
                "watch",
                11,
                600,
            )

    def layer_at(self, x: float) -> int:
        edges = self.edges()
        return next((i for i, (a, b) in enumerate(itertools.pairwise(edges)) if a <= x < b), -1)

    def mousePressEvent(self, event) -> None:
        if self.shows:
            self._from, self._x = self.layer_at(event.position().x()), event.position().x()
            if self._from >= 0:
                self.chosen.emit(self._from)

    def mouseMoveEvent(self, event) -> None:
        if not self.shows:
            return
        i = self.layer_at(event.position().x())
        self.setToolTip(self.vm.names[i] if i >= 0 else "")
        if self._from >= 0 and event.buttons() & Qt.MouseButton.LeftButton:
            self._x = event.position().x()
            self.update()

    def mouseReleaseEvent(self, event) -> None:
        start, self._from = self._from, -1
        if start >= 0:
            end = self.layer_at(event.position().x())
            if end >= 0 and end != start:
                self.moved.emit(start, end)
            self.update()

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(event.key())
        if step and self.shows:
            to = max(0, min(len(self.vm.thickness) - 1, self.vm.chosen + step))
            if event.modifiers() & Qt.KeyboardModifier.AltModifier and to != self.vm.chosen:
                self.moved.emit(self.vm.chosen, to)
            self.chosen.emit(to)
        else:
            super().keyPressEvent(event)
