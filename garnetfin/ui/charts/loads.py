"""Charts of loads: the hour field, the day by cause, the heating by cause."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPen

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Scale, area, polyline, reach, title, words, y_axis
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models.chart_data import DayVM, HourFieldVM


class HourField(Chart[HourFieldVM]):
    """12 months x 24 hours as a field of colour around zero; a click picks an hour, arrows walk."""

    picked = Signal(int, int)
    governing = Signal()
    TOP, LEFT = 54.0, 52.0

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Hour field")

    def _cell(self) -> tuple[float, float]:
        return (self.width() - self.LEFT - 46) / 24, min(30.0, max(4.0, (self.height() - self.TOP - 66) / 12))

    def box_of(self, month: int, hour: int) -> QRectF:
        w, h = self._cell()
        return QRectF(self.LEFT + hour * w, self.TOP + month * h, w - 0.9, h - 0.9)

    def paint_chart(self, p: QPainter) -> None:
        vm, (w, h) = self.vm, self._cell()
        title(p, 14, 20, vm.heading, vm.note)
        values = np.array(vm.values)
        limit = float(np.abs(values).max()) or 1.0
        for hour in range(0, 24, 3):
            words(p, QPointF(self.LEFT + (hour + 0.5) * w, self.TOP - 9), str(hour))
        right = self.LEFT + 24 * w
        words(p, QPointF(right + 24, self.TOP - 9), "max")
        p.setPen(Qt.PenStyle.NoPen)
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for month in range(12):
            for hour in range(24):
                p.fillRect(self.box_of(month, hour), map_colour("diverging", 0.5 + values[month, hour] / limit / 2))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for month in range(12):
            y = self.TOP + (month + 0.5) * h
            now = month == vm.chosen[0]
            words(
                p,
                QPointF(self.LEFT - 10, y),
                display.MONTHS[month],
                "ink" if now else "faint",
                11,
                600 if now else 400,
                "right",
            )
            words(
                p,
                QPointF(right + 40, y),
                display.number(float(values[month].max()), vm.digits),
                "garnet" if now else "faint",
                11,
                600 if now else 400,
                "right",
            )
        box = self.box_of(*vm.chosen).adjusted(-1.5, -1.5, 1.5, 1.5)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(theme.colour("sheet"), 3))
        p.drawRoundedRect(box.adjusted(-1, -1, 1, 1), 3, 3)
        p.setPen(QPen(theme.colour("garnet"), 2))
        p.drawRoundedRect(box, 3, 3)
        self._legend(p, limit, self.TOP + 12 * h + 16)

    def _legend(self, p: QPainter, limit: float, y: float) -> None:
        width = 200.0
        for i in range(int(width)):
            p.fillRect(QRectF(self.LEFT + i, y, 1.2, 8), map_colour("diverging", i / width))
        for share in (-1.0, -0.5, 0.0, 0.5, 1.0):
            text = ("+" if share > 0 else "") + display.number(share * limit, 0 if limit > 8 else 1)
            words(p, QPointF(self.LEFT + (share + 1) / 2 * width, y + 17), text)
        words(p, QPointF(self.LEFT + width + 18, y + 3), f"{self.vm.legend}, {self.vm.unit}", side="left")

    def why_at(self, at: QPointF) -> tuple:
        found = self.hour_at(at) if self.shows else None
        return ("block", self.vm.room_ids, "cooling", *found) if found and self.vm.room_ids else ()

    def hour_at(self, at: QPointF) -> tuple[int, int] | None:
        w, h = self._cell()
        hour, month = int((at.x() - self.LEFT) // w), int((at.y() - self.TOP) // h)
        return (month, hour) if 0 <= hour < 24 and 0 <= month < 12 else None

    def mousePressEvent(self, event) -> None:
        found = self.hour_at(event.position())
        if found:
            self.picked.emit(*found)

    def mouseMoveEvent(self, event) -> None:
        found = self.hour_at(event.position())
        if found and self.shows:
            month, hour = found
            value = display.number(self.vm.values[month][hour], self.vm.digits)
            self.setToolTip(f"{display.hour(month, hour)}: {value} {self.vm.unit}")
            if event.buttons() & Qt.MouseButton.LeftButton:
                self.picked.emit(month, hour)

    def keyPressEvent(self, event) -> None:
        moves = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        if event.key() in moves and self.shows:
            month, hour = (a + b for a, b in zip(self.vm.chosen, moves[event.key()]))
            self.picked.emit(month % 12, hour % 24)
        elif event.key() == Qt.Key.Key_Home:
            self.governing.emit()
        else:
            super().keyPressEvent(event)


class DayByCause(Chart[DayVM]):
    """Positive causes stacked from zero up, heat that leaves stacked down, the total as a line."""

    background = "sheet"

    def paint_chart(self, p: QPainter) -> None:
        vm = self.vm
        values = np.array([v for _, v in vm.causes], float).reshape(-1, 24)  # a room without any cause has no row
        up, down = np.maximum(values, 0), np.minimum(values, 0)
        low, high = reach([*up.sum(axis=0), *down.sum(axis=0), *vm.instant, *vm.against], 4)
        right = self.width() - 216
        x = Scale(0, 24, 44, right - 12)
        y = Scale(low, high, self.height() - 24, 16)
        y_axis(p, y, 44, right - 12, 4, 0 if high > 4 else 1)
        for at in range(0, 25, 3):
            words(p, QPointF(x(at), self.height() - 13), str(at))
        centres = [x(h + 0.5) for h in range(24)]
        for part in (up, down):
            base = np.zeros(24)
            for (name, _), row in zip(vm.causes, part):
                if np.abs(row).max() > 1e-9:
                    area(
                        p,
                        [(a, y(v)) for a, v in zip(centres, base + row)],
                        [(a, y(v)) for a, v in zip(centres, base)],
                        theme.cause(name),
                    )
                base = base + row
        for line, tone, style in (
            (vm.instant, "faint", Qt.PenStyle.DotLine),
            (vm.against, "supply", Qt.PenStyle.DashLine),
        ):
            if line:
                polyline(
                    p, [(a, y(min(high, max(low, v)))) for a, v in zip(centres, line)], theme.colour(tone), 1.6, style
                )
        polyline(p, [(a, y(v)) for a, v in zip(centres, vm.total)], theme.colour("ink"), 1.2)
        spot = QPointF(centres[vm.hour], y(vm.total[vm.hour]))
        polyline(p, [(spot.x(), 12), (spot.x(), self.height() - 24)], theme.colour("garnet"), 1, Qt.PenStyle.DashLine)
        p.setPen(QPen(theme.colour("garnet"), 1.8))
        p.setBrush(theme.colour("sheet"))
        p.drawEllipse(spot, 4, 4)
        words(
            p,
            QPointF(spot.x() - 8, max(8.0, spot.y() - 12)),
            f"{display.number(vm.total[vm.hour], 1)} {vm.unit}",
            "garnet",
            11.5,
            600,
            "right",
        )
        order = sorted(range(len(vm.causes)), key=lambda i: -abs(values[i, vm.hour]))
        keys = [
            (text, tone, style)
            for text, tone, style, line in (
                ("entering in the hour", "faint", Qt.PenStyle.DotLine, vm.instant),
                (vm.against_name, "supply", Qt.PenStyle.DashLine, vm.against),
            )
            if line
        ]
        step = min(18.0, (self.height() - 16) / max(1, len(order) + len(keys)))
        for k, (text, tone, style) in enumerate(keys):
            top = 14 + (len(order) + k) * step
            polyline(p, [(right + 6, top), (right + 22, top)], theme.colour(tone), 1.6, style)
            words(p, QPointF(right + 28, top), text, "faint", 11, side="left")
        for k, i in enumerate(order):
            name, row = vm.causes[i]
            top = 14 + k * step
            p.fillRect(QRectF(right + 8, top - 5, 11, 11), theme.cause(name))
            words(p, QPointF(right + 28, top), name.capitalize(), "ink", 11.5, side="left")
            words(p, QPointF(self.width() - 14, top), display.number(row[vm.hour], 1), "ink", 11.5, 500, "right")
