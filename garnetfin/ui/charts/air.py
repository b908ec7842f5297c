"""The needs strip: one line a room with every need on one scale, a ring on the greatest."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPainterPath, QPen

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Scale, reach, ticks, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import NeedsVM
from garnetfin.ui.widgets.field import paint_mark

SIGNS = ("cooling", "latent", "heating", "outdoor air", "air change", "make-up")
COLOURS = {
    "cooling": "supply",
    "latent": "supply",
    "heating": "bad",
    "outdoor air": "outdoor",
    "air change": "faint",
    "make-up": "exhaust",
}


def sign(p: QPainter, name: str, at: QPointF) -> None:
    """Square cooling, drop latent, diamond heating, triangle outdoor air, bar least air change, cross make-up."""
    c = theme.colour(COLOURS[name])
    path = QPainterPath()
    if name == "cooling":
        path.addRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7))
    elif name == "heating":
        path.moveTo(at.x(), at.y() - 5)
        for dx, dy in ((5, 0), (0, 5), (-5, 0)):
            path.lineTo(at.x() + dx, at.y() + dy)
        path.closeSubpath()
    elif name == "outdoor air":
        path.moveTo(at.x(), at.y() - 4.5)
        path.lineTo(at.x() + 4.6, at.y() + 3.8)
        path.lineTo(at.x() - 4.6, at.y() + 3.8)
        path.closeSubpath()
    elif name == "latent":
        path.moveTo(at.x(), at.y() - 5)
        path.cubicTo(at.x() + 5, at.y() + 1, at.x() + 3, at.y() + 5, at.x(), at.y() + 5)
        path.cubicTo(at.x() - 3, at.y() + 5, at.x() - 5, at.y() + 1, at.x(), at.y() - 5)
    elif name == "make-up":
        path.addRect(QRectF(at.x() - 5, at.y() - 1, 10, 2))
        path.addRect(QRectF(at.x() - 1, at.y() - 5, 2, 10))
    else:
        path.addRect(QRectF(at.x() - 1, at.y() - 5, 2, 10))
    p.fillPath(path, c)


class NeedsStrip(Chart[NeedsVM]):
    """Grows with its rows; put it into a scroll area."""

    picked = Signal(str)
    ROW, TOP = 20.0, 26.0

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("What governs each room’s flow")

    def render_vm(self, vm: NeedsVM) -> None:
        super().render_vm(vm)
        self.setFixedHeight(int(self.TOP + self.ROW * len(vm.rows) + 14))

    def sizeHint(self) -> QSize:
        return QSize(700, 300)

    def _scale(self) -> tuple[Scale, float]:
        _, most = reach([v for r in self.vm.rows for v in (*r.needs, r.flow) if v < 1e9], 6)
        return Scale(0, most, 196, self.width() - 210), most

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        x, most = self._scale()
        right = 196.0
        at = 20.0
        for name in SIGNS:
            sign(p, name, QPointF(at, 16))
            at += 28 + words(
                p,
                QPointF(at + 10, 16),
                name if name != "air change" else "least air change",
                "faint",
                11.5,
                side="left",
            )
        bottom = self.TOP + self.ROW * len(vm.rows)
        for value in ticks(0, most, 6):
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(x(value), self.TOP - 2), QPointF(x(value), bottom))
            if x(value) > at + 10:
                words(p, QPointF(x(value), self.TOP - 10), display.number(value))
        for i, row in enumerate(vm.rows):
            y = self.TOP + (i + 0.5) * self.ROW
            if row.room_id in vm.chosen:
                p.fillRect(QRectF(0, y - self.ROW / 2, self.width(), self.ROW), c("garnet_tint"))
                p.fillRect(QRectF(0, y - self.ROW / 2, 3, self.ROW), c("garnet"))
            words(p, QPointF(14, y), row.number, "faint", 12, side="left")
            words(p, QPointF(54, y), row.name, "ink", 12, side="left")
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(right, y), QPointF(x(max(v for v in (*row.needs, row.flow, 0.0) if v < 1e9)), y))
            if row.flow > 0:
                ring = row.needs[SIGNS.index(row.governs)] if row.governs in SIGNS else row.flow
                p.setBrush(c("sheet") if not row.pinned else Qt.BrushStyle.NoBrush)
                p.setPen(QPen(c("garnet"), 1.4))
                p.drawEllipse(QPointF(x(ring), y), 7.5, 7.5)
            for name, value in zip(SIGNS, row.needs):
                if 0 < value < 1e9:
                    sign(p, name, QPointF(x(value), y))
            if row.pinned:
                paint_mark(p, QPointF(self.width() - 156, y), "pinned")
            words(p, QPointF(self.width() - 106, y), row.flow_text, "ink", 12, 600, "right")
            governs = "garnet" if row.governs != "cooling" else "faint"
            words(
                p,
                QPointF(self.width() - 16, y),
                row.governs,
                governs,
                12,
                side="right",
                italic=row.governs in ("transfer air", "no flow"),
            )

    def why_at(self, at: QPointF) -> tuple:
        """The need whose sign is near, else the flow of the row."""
        i = int((at.y() - self.TOP) // self.ROW)
        if not self.shows or not 0 <= i < len(self.vm.rows):
            return ()
        row, (x, _) = self.vm.rows[i], self._scale()
        near = (
            min((abs(x(v) - at.x()), name) for name, v in zip(SIGNS, row.needs) if v < 1e9)
            if any(v < 1e9 for v in row.needs)
            else (float("inf"), "")
        )
        return ("need", row.room_id, near[1]) if near[0] < 7 else ("flow", row.room_id)

    def mousePressEvent(self, event) -> None:
        i = int((event.position().y() - self.TOP) // self.ROW)
        if self.shows and 0 <= i < len(self.vm.rows):
            self.picked.emit(self.vm.rows[i].room_id)

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(event.key())
        if step and self.shows and self.vm.rows:
            ids = [r.room_id for r in self.vm.rows]
            at = ids.index(self.vm.chosen[0]) + step if self.vm.chosen and self.vm.chosen[0] in ids else 0
            self.picked.emit(ids[at % len(ids)])
        else:
            super().keyPressEvent(event)
