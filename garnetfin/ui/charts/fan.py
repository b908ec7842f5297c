"""The fan chart: curves at their speeds, the system curve, the operating point, stall."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from garnetfin.ui.charts.base import Chart, Scale, polyline, reach, words, x_axis, y_axis
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import FanChartVM


class FanChart(Chart[FanChartVM]):
    LEFT, TOP, FOOT = 60.0, 32.0, 34.0

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Fan curves")

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        right, bottom = self.width() - 30, self.height() - self.FOOT
        highest = max(
            [b for _, b in vm.curve]
            + [vm.wanted[1] * (1.3 if vm.system else 1.0)]
            + [b for _, c in vm.others if not vm.system for _, b in c]
        )
        _, most = reach([highest * (1.3 if vm.system else 1.05)], 5)
        _, far = reach([vm.most_flow], 5)
        x, y = Scale(0, far, self.LEFT, right), Scale(vm.least, most, bottom, self.TOP)
        frame = QRectF(QPointF(self.LEFT, self.TOP), QPointF(right, bottom))
        p.fillRect(frame, c("sheet"))
        y_axis(p, y, self.LEFT, right, 5, vm.pressure_digits)
        x_axis(p, x, bottom, 5, vm.flow_digits, self.TOP)
        words(p, QPointF(self.LEFT - 8, self.TOP - 14), vm.pressure_unit, side="right")
        words(p, QPointF(right, bottom + 25), vm.flow_unit, side="right")
        p.setPen(QPen(c("rule"), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(frame)
        p.setClipRect(frame)

        def line(points) -> list[tuple[float, float]]:
            return [(x(a), y(b)) for a, b in points]

        if vm.stall:
            edge = line(vm.stall)
            region = QPainterPath()
            region.addPolygon(
                QPolygonF([QPointF(self.LEFT, bottom), *[QPointF(*q) for q in edge], QPointF(self.LEFT, edge[-1][1])])
            )
            tint = c("bad")
            tint.setAlphaF(0.28)
            p.fillPath(region, QBrush(tint, Qt.BrushStyle.BDiagPattern))
            tint.setAlphaF(1.0)
            polyline(p, edge, c("bad"), 1.2, Qt.PenStyle.DashLine)
            words(p, QPointF(self.LEFT + 14, self.TOP + 14), f"stall, {vm.name}", "bad", 11, side="left")
        for label, points in vm.others:
            polyline(p, line(points), c("bar"), 1.0)
            if points:
                first = (
                    points[0] if vm.system else points[len(points) // 3 + 4 * (int(label) if label.isdigit() else 0)]
                )
                at = QPointF(x(first[0]) + (12 if vm.system else 0), y(first[1]))
                p.setPen(QPen(c("bar"), 1))
                p.setBrush(c("sheet"))
                p.drawEllipse(at, 6.5, 6.5)
                words(p, at, label, "faint", 10)
        for label, points in vm.speeds:
            polyline(p, line(points), c("garnet"), 1.0, Qt.PenStyle.DotLine)
            low = [q for q in line(points) if q[1] > bottom - 34]
            if low:
                words(p, QPointF(low[0][0] - 4, bottom - 34 + 14), label, "garnet", 10.5, side="right")
        polyline(p, line(vm.system), c("supply"), 2.4)
        polyline(p, line(vm.curve), c("garnet"), 2.8)
        self._names(p, vm, x, y, right)
        p.setClipping(False)
        self._states(p, vm, x, y, right)
        if vm.point:
            self._point(p, vm, QPointF(x(vm.point[0]), y(vm.point[1])), bottom, right)

    def _states(self, p: QPainter, vm: FanChartVM, x: Scale, y: Scale, right: float) -> None:
        """Operating points of what-ifs, numbered on the curve and named in a list at the right."""
        c = theme.colour
        for i, (text, q, pa, asked) in enumerate(vm.states):
            at = QPointF(x(q), y(pa))
            tone = "garnet" if asked else "supply"
            p.setPen(QPen(c(tone), 1.5))
            p.setBrush(c("sheet"))
            p.drawEllipse(at, 4, 4)
            line = QPointF(right - 10, self.TOP + 16 + 16 * i)
            words(p, line, f"{text}  {q:.2f}", tone, 11, 600 if asked else 400, "right")
            p.setPen(QPen(c("rule"), 1))
            width = QFontMetricsF(theme.font(11, 600 if asked else 400)).horizontalAdvance(f"{text}  {q:.2f}")
            p.drawLine(QPointF(line.x() - width - 4, line.y()), at + QPointF(4, -3))

    def _names(self, p: QPainter, vm: FanChartVM, x: Scale, y: Scale, right: float) -> None:
        high = [q for q in vm.system if y(q[1]) < self.TOP + 46]
        if high:
            words(
                p,
                QPointF(min(x(high[0][0]) - 10, right - 8), self.TOP + 46),
                vm.system_name,
                "supply",
                11.5,
                600,
                "right",
            )
        if len(vm.curve) > 2 and vm.system:
            a, b = vm.curve[-3]
            words(p, QPointF(min(x(a) - 8, right - 8), y(b) + 2), vm.speed, "garnet", 11.5, 600, "right")

    def _point(self, p: QPainter, vm: FanChartVM, at: QPointF, bottom: float, right: float) -> None:
        c = theme.colour
        polyline(p, [(self.LEFT, at.y()), (at.x(), at.y()), (at.x(), bottom)], c("ink"), 1, Qt.PenStyle.DotLine)
        p.setPen(QPen(c("garnet"), 2.6))
        p.setBrush(c("sheet"))
        p.drawEllipse(at, 6, 6)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(c("garnet"))
        p.drawEllipse(at, 1.8, 1.8)
        box = QRectF(at.x() + 16, at.y() - 46, 156, 36)
        if box.right() > right or vm.states:
            box.moveRight(at.x() - 16)
        if box.top() < self.TOP:
            box.moveTop(at.y() + 12)
        p.setPen(QPen(c("garnet"), 1.2))
        p.setBrush(c("sheet"))
        p.drawRoundedRect(box, 4, 4)
        words(p, QPointF(box.left() + 8, box.top() + 11), "Operating point", "garnet", 11, 600, "left")
        words(p, QPointF(box.left() + 8, box.top() + 26), vm.point_text, "ink", 11.5, 500, "left")
