"""What moves a load most: bars around the load as it is, strongest first."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPen

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Scale, reach, ticks, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import MoversVM


class MoversChart(Chart[MoversVM]):
    """Each input with its low (hollow) and high (filled) end; the figures stand at the ends."""

    background = "sheet"
    LABEL = 252.0

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        if not vm.rows:
            words(p, QPointF(18, 24), vm.note, "faint", 12, side="left")
            return
        ends = [v for r in vm.rows for v in (r.low, r.high)]
        low, high = reach([*ends, vm.base], 5, from_zero=False)
        x = Scale(low, high, self.LABEL + 60, self.width() - 80)
        step = min(20.0, (self.height() - 34) / len(vm.rows))
        bottom = 10 + step * len(vm.rows)
        for value in ticks(low, high, 6):
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(x(value), 6), QPointF(x(value), bottom))
            words(p, QPointF(x(value), bottom + 11), display.number(value, vm.digits))
        words(p, QPointF(self.width() - 14, bottom + 11), vm.unit, side="right")
        for i, row in enumerate(vm.rows):
            y = 10 + step * (i + 0.5)
            words(p, QPointF(18, y), row.name, "ink", 12, side="left")
            words(p, QPointF(self.LABEL, y), f"{row.low_text} / {row.high_text}", "faint", 10.5, side="right")
            for value, filled in ((row.low, False), (row.high, True)):
                left, right = sorted((x(vm.base), x(value)))
                box = QRectF(left, y - 4.5, max(1.0, right - left), 9)
                if filled:
                    p.fillRect(box, c("garnet"))
                else:
                    p.setPen(QPen(c("garnet"), 1.2))
                    p.setBrush(c("sheet"))
                    p.drawRect(box)
            lower, upper = sorted((row.low, row.high, vm.base))[0], sorted((row.low, row.high, vm.base))[2]
            for value, side, dx in ((lower, "right", -6), (upper, "left", 6)):
                if abs(value - vm.base) > 1e-9:
                    words(
                        p,
                        QPointF(x(value) + dx, y),
                        f"{'+' if value > vm.base else ''}{display.number(value - vm.base, vm.digits)}",
                        "ink",
                        10.5,
                        500,
                        side,
                    )
        p.setPen(QPen(c("ink"), 1.4))
        p.drawLine(QPointF(x(vm.base), 4), QPointF(x(vm.base), bottom))
