"""The sun's way over the plan: azimuth around, elevation inwards, the building in the middle."""

from math import cos, pi, radians, sin

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Labels, polyline, title, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import SunPathVM


class SunPath(Chart[SunPathVM]):
    """Horizon outside, zenith in the middle. The plan is true to north; its size is chosen to fit the inner circle."""

    def _middle(self) -> tuple[QPointF, float]:
        return QPointF(self.width() / 2 - 60, self.height() / 2 + 12), min(
            self.width() / 2 - 120, self.height() / 2 - 44
        )

    def at(self, azimuth: float, elevation: float) -> QPointF:
        middle, r = self._middle()
        away = r * (1 - elevation / (pi / 2))
        return QPointF(middle.x() + away * sin(azimuth), middle.y() - away * cos(azimuth))

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        title(p, 14, 18, "Sun path", vm.note)
        middle, r = self._middle()
        p.setBrush(c("sheet"))
        p.setPen(QPen(c("faint"), 1.2))
        p.drawEllipse(middle, r, r)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for elevation in (15, 30, 45, 60, 75):
            p.setPen(QPen(c("rule"), 1))
            ring = r * (1 - elevation / 90)
            p.drawEllipse(middle, ring, ring)
            words(p, QPointF(middle.x() + 3, middle.y() - ring + 7), f"{elevation}°", side="left")
        for k in range(36):
            a = radians(k * 10)
            inner = r - (10 if k % 9 == 0 else 5)
            p.setPen(QPen(c("faint"), 1))
            p.drawLine(
                QPointF(middle.x() + inner * sin(a), middle.y() - inner * cos(a)),
                QPointF(middle.x() + r * sin(a), middle.y() - r * cos(a)),
            )
        for name, a in (("N", 0), ("E", 90), ("S", 180), ("W", 270)):
            words(
                p,
                QPointF(middle.x() + (r + 14) * sin(radians(a)), middle.y() - (r + 14) * cos(radians(a))),
                name,
                "ink",
                12,
                600,
            )
        self._plan(p, middle, r)
        labels = Labels()
        for month in vm.months:
            now = month.index == vm.chosen
            for run in month.runs:
                polyline(
                    p,
                    [(q.x(), q.y()) for q in (self.at(a, e) for a, e in run)],
                    c("garnet" if now else "return"),
                    2.2 if now else 1.0,
                )
            if month.noon is not None:
                labels.place(
                    p,
                    self.at(*month.noon),
                    display.MONTHS[month.index],
                    "garnet" if now else "faint",
                    10.5,
                    600 if now else 400,
                )
        for path in vm.hours:
            for line in path.runs:
                polyline(
                    p, [(q.x(), q.y()) for q in (self.at(a, e) for a, e in line)], c("rule"), 1, Qt.PenStyle.DotLine
                )
            if path.label_at is not None:
                labels.place(p, self.at(*path.label_at), str(path.hour), "faint", 10)
        if vm.sun is not None:
            q = self.at(*vm.sun)
            p.setPen(QPen(c("sheet"), 2))
            p.setBrush(c("garnet"))
            p.drawEllipse(q, 6, 6)
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DashLine))
            p.drawLine(q, middle)
        left = middle.x() + r + 40
        for i, text in enumerate(vm.lines):
            words(
                p,
                QPointF(left, 60 + 19 * i),
                text,
                "ink" if i == 0 else "faint",
                12 if i == 0 else 11.5,
                600 if i == 0 else 400,
                "left",
            )

    def _plan(self, p: QPainter, middle: QPointF, r: float) -> None:
        """Outlines of the rooms and of blocks beside, drawn within half the circle."""
        vm = self.vm
        xs = [x for poly in vm.plan for x, _ in poly]
        if not xs:
            return
        ys = [y for poly in vm.plan for _, y in poly]
        cx, cy = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
        size = max(((x - cx) ** 2 + (y - cy) ** 2) ** 0.5 for poly in vm.plan for x, y in poly) or 1.0
        scale = r * 0.42 / size
        path = QPainterPath()
        path.setFillRule(Qt.FillRule.WindingFill)
        for poly in vm.plan:
            path.addPolygon(
                QPolygonF([QPointF(middle.x() + (x - cx) * scale, middle.y() - (y - cy) * scale) for x, y in poly])
            )
            path.closeSubpath()
        fill = theme.colour("band")
        fill.setAlphaF(0.85)
        p.fillPath(path, fill)
        p.setPen(QPen(theme.colour("wall"), 0.8))
        p.drawPath(path)
        p.setPen(QPen(theme.colour("wall"), 1.2))
        for poly in vm.blocks:
            p.drawPolygon(
                QPolygonF([QPointF(middle.x() + (x - cx) * scale, middle.y() - (y - cy) * scale) for x, y in poly])
            )
