"""A year of hours: a field of 365 days by 24 hours, and the duration curve beside it."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPen

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Labels, Scale, polyline, reach, ticks, title, words
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models.chart_data import DurationVM, YearFieldVM

MONTH_STARTS = (0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334, 365)


class YearField(Chart[YearFieldVM]):
    """Days across, hours of the day upwards; the figure under the pointer is said. A click picks the hour."""

    picked = Signal(int)
    TOP, LEFT, BOTTOM = 40.0, 44.0, 58.0

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self._image: QImage | None = None
        self._made: object = None
        self.setAccessibleName("Year of hours")

    def _box(self) -> QRectF:
        return QRectF(self.LEFT, self.TOP, self.width() - self.LEFT - 18, self.height() - self.TOP - self.BOTTOM)

    def _field(self) -> QImage:
        """One pixel an hour, scaled when painted; 256 colours of the map looked up at once."""
        if self._made is not self.vm or self._image is None:
            low, high = self.vm.low, self.vm.high
            share = np.clip((self.vm.values - low) / max(1e-9, high - low), 0, 1)
            table = np.array([map_colour(self.vm.colours, k / 255).rgb() for k in range(256)], np.uint32)
            pixels = np.ascontiguousarray(table[(share * 255).astype(int)].reshape(365, 24).T[::-1])
            self._image = QImage(pixels.data, 365, 24, 365 * 4, QImage.Format.Format_RGB32).copy()
            self._made = self.vm
        return self._image

    def paint_chart(self, p: QPainter) -> None:
        vm, box = self.vm, self._box()
        title(p, 14, 18, vm.heading, vm.note)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        p.drawImage(box, self._field())
        for hour in (0, 6, 12, 18, 24):
            words(p, QPointF(self.LEFT - 8, box.bottom() - hour / 24 * box.height()), str(hour), side="right")
        for m in range(12):
            x = box.left() + MONTH_STARTS[m] / 365 * box.width()
            words(p, QPointF(x + box.width() / 24, box.bottom() + 11), display.MONTHS[m])
            if m:
                p.setPen(QPen(theme.colour("sheet"), 1))
                p.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        if vm.chosen >= 0:
            day, hour = divmod(vm.chosen, 24)
            at = QPointF(box.left() + (day + 0.5) / 365 * box.width(), box.bottom() - (hour + 0.5) / 24 * box.height())
            p.setBrush(Qt.BrushStyle.NoBrush)
            for colour, width in (("sheet", 4), ("garnet", 2)):
                p.setPen(QPen(theme.colour(colour), width))
                p.drawEllipse(at, 6, 6)
        top = box.bottom() + 26
        for i in range(180):
            p.fillRect(QRectF(box.left() + i, top, 1.2, 8), map_colour(vm.colours, i / 180))
        for share in (0, 0.5, 1.0):
            words(
                p, QPointF(box.left() + share * 180, top + 17), display.number(vm.low + share * (vm.high - vm.low), 0)
            )
        words(p, QPointF(box.left() + 196, top + 4), vm.unit, side="left")

    def hour_at(self, at: QPointF) -> int:
        box = self._box()
        if not box.contains(at):
            return -1
        day = min(364, int((at.x() - box.left()) / box.width() * 365))
        hour = min(23, int((box.bottom() - at.y()) / box.height() * 24))
        return day * 24 + hour

    def mouseMoveEvent(self, event) -> None:
        hour = self.hour_at(event.position()) if self.shows else -1
        if hour >= 0:
            day = hour // 24
            month = next(m for m in range(12) if day < MONTH_STARTS[m + 1])
            self.setToolTip(
                f"{day - MONTH_STARTS[month] + 1} {display.MONTHS[month]}, {hour % 24}–{hour % 24 + 1} h: "
                f"{display.number(float(self.vm.values[hour]), self.vm.digits)} {self.vm.unit}"
            )

    def mousePressEvent(self, event) -> None:
        hour = self.hour_at(event.position()) if self.shows else -1
        if hour >= 0:
            self.picked.emit(hour)


class DurationCurve(Chart[DurationVM]):
    """Hours of the year by value, highest first; lines at design values with the hours beyond them."""

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        title(p, 14, 18, vm.heading, vm.note)
        values = np.sort(vm.values)[::-1]
        low, high = reach([float(values[0]), float(values[-1]), *(m.value for m in vm.marks)], 6, from_zero=False)
        x = Scale(0, len(values), 52, self.width() - 20)
        y = Scale(low, high, self.height() - 32, 40)
        for value in ticks(low, high, 6):
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(x(0), y(value)), QPointF(x(len(values)), y(value)))
            words(p, QPointF(x(0) - 8, y(value)), display.number(value, 0), side="right")
        for at in range(0, len(values) + 1, 2000):
            words(p, QPointF(x(at), self.height() - 20), display.number(at))
        words(p, QPointF(x(len(values)), self.height() - 8), "hours of the year", side="right")
        told = np.unique(
            np.concatenate(
                [
                    np.arange(0, 200, 4),
                    np.linspace(0, len(values) - 1, 300).astype(int),
                    len(values) - 1 - np.arange(0, 200, 4),
                ]
            )
        )
        polyline(p, [(x(int(i)), y(float(values[i]))) for i in told], c("ink"), 1.6)
        labels = Labels()
        for mark in vm.marks:
            p.setPen(QPen(c("garnet" if mark.hot else "supply"), 1.2, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x(0), y(mark.value)), QPointF(x(len(values)), y(mark.value)))
            side = x(len(values) * (0.32 if mark.hot else 0.05))
            labels.place(
                p, QPointF(side, y(mark.value) - 10), mark.text, "garnet" if mark.hot else "supply", 11, 500, must=True
            )
