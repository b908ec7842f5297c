"""Twelve small day charts: dry bulb, wet bulb, sun on the worst facade."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPen

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Scale, area, polyline, reach, title, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import MonthsVM


class MonthDays(Chart[MonthsVM]):
    """Six across, two down; a click or the arrow keys choose a month."""

    picked = Signal(int)
    TOP = 52.0

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Design days of the twelve months")

    def box_of(self, month: int) -> QRectF:
        width = (self.width() - 44 - 40) / 6
        height = (self.height() - self.TOP - 24) / 2
        return QRectF(44 + month % 6 * width, self.TOP + month // 6 * height + 22, width - 14, height - 46)

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        title(p, 14, 20, "Design days", "21st of each month, clear sky, standard time")
        self._legend(p)
        low, high = reach([t for m in vm.months for t in (*m.dry, *m.wet)], 4)
        _, most = reach([s for m in vm.months for s in m.sun], 3)
        for i, month in enumerate(vm.months):
            box = self.box_of(i)
            y, sun = Scale(low, high, box.bottom(), box.top()), Scale(0, most, box.bottom(), box.top())
            x = Scale(0, 24, box.left(), box.right())
            now = i == vm.chosen
            p.setPen(QPen(c("garnet") if now else c("rule"), 1.4 if now else 1))
            p.setBrush(c("sheet"))
            p.drawRoundedRect(box, 2, 2)
            words(p, QPointF(box.left(), box.top() - 11), month.name, "garnet" if now else "ink", 12, 600, "left")
            words(
                p,
                QPointF(box.right(), box.top() - 11),
                month.head,
                "garnet" if i == vm.warmest else "ink",
                12,
                400,
                "right",
            )
            for value in (v for v in (0.0, *range(-40, 131, 10 if vm.unit == "°C" else 20)) if low < v < high):
                p.setPen(QPen(c("rule"), 1))
                p.drawLine(QPointF(box.left(), y(value)), QPointF(box.right(), y(value)))
                if i % 6 == 0:
                    words(p, QPointF(box.left() - 7, y(value)), display.number(value), side="right")
            hours = [x(h + 0.5) for h in range(24)]
            line = [(a, sun(v)) for a, v in zip(hours, month.sun)]
            area(p, line, [(a, box.bottom()) for a in hours], c("return_fill"))
            polyline(p, line, c("return"), 1)
            polyline(p, [(a, y(v)) for a, v in zip(hours, month.dry)], c("garnet"), 1.8)
            polyline(p, [(a, y(v)) for a, v in zip(hours, month.wet)], c("supply"), 1.5)
            top = max(range(24), key=lambda h: month.sun[h])
            middle = min(max(hours[top], box.left() + 26), box.right() - 26)
            words(p, QPointF(middle, box.top() + 10), month.facade, "return", 10.5, 500)
            if i % 6 == 5:
                for value in (
                    range(300, int(most) + 1, 300) if vm.sun_unit == "W/m²" else range(100, int(most) + 1, 100)
                ):
                    words(p, QPointF(box.right() + 6, sun(value)), str(value), "return", 10.5, side="left")
            if i >= 6 or self.height() > 330:
                for hour in (6, 12, 18):
                    words(p, QPointF(x(hour), box.bottom() + 10), str(hour))

    def _legend(self, p: QPainter) -> None:
        c, right = theme.colour, self.width() - 30.0
        for text, width, paint in (
            (f"sun on the worst facade, {self.vm.sun_unit}", 200, None),
            (f"wet bulb, {self.vm.unit}", 104, "supply"),
            ("dry bulb", 92, "garnet"),
        ):
            x = right - width
            if paint is None:
                p.setPen(QPen(c("return"), 1))
                p.setBrush(c("return_fill"))
                p.drawRect(QRectF(x, 16, 20, 9))
            else:
                polyline(p, [(x, 20), (x + 20, 20)], c(paint), 2)
            words(p, QPointF(x + 27, 20), text, "faint", 11.5, side="left")
            right = x - 4

    def month_at(self, at: QPointF) -> int:
        return next((i for i in range(12) if self.box_of(i).adjusted(0, -20, 0, 12).contains(at)), -1)

    def why_at(self, at: QPointF) -> tuple:
        month = self.month_at(at)
        return ("month", month, "dry_bulb_c") if month >= 0 else ()

    def mousePressEvent(self, event) -> None:
        month = self.month_at(event.position())
        if month >= 0:
            self.picked.emit(month)

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: 6, Qt.Key.Key_Up: -6}.get(event.key())
        if step and self.shows:
            self.picked.emit((self.vm.chosen + step) % 12)
        else:
            super().keyPressEvent(event)
