"""A study as lines: one figure over what is varied."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPen

from garnetfin.ui.charts.base import Chart, Labels, Scale, polyline, reach, title, words, x_axis, y_axis
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.options import PlotVM

TONES = ("garnet", "supply", "return", "exhaust", "outdoor", "ink", "faint")
MARKS = 2.6


class StudyChart(Chart[PlotVM]):
    """Lines told apart by colour, by their mark and by their name at the end."""

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        left, right, top, bottom = 62.0, self.width() - 118.0, 40.0, self.height() - 40.0
        if right - left < 60 or bottom - top < 40:
            return
        xs, ys = ([pt[k] for line in vm.lines for pt in line.points] for k in (0, 1))
        x = Scale(min(xs), max(max(xs), min(xs) + 1e-9), left, right)
        low, high = reach(ys, 5, from_zero=False)
        y = Scale(low, high, bottom, top)
        y_axis(p, y, left, right, 5, max(vm.y_digits, 1 if high - low < 5 else 0))
        x_axis(p, x, bottom, 6, vm.x_digits if x.high - x.low < 10 else 0)
        title(p, 14, 16, vm.title)
        words(p, QPointF((left + right) / 2, bottom + 28), vm.x_name)
        words(p, QPointF(14, top - 10), vm.y_name, side="left")
        labels = Labels()
        for i, line in enumerate(vm.lines):
            tone = c(TONES[i % len(TONES)])
            points = [(x(a), y(b)) for a, b in line.points]
            polyline(p, points, tone, 1.8)
            p.setPen(QPen(tone, 1.4))
            p.setBrush(c("sheet"))
            for a, b in points:
                box = QRectF(a - MARKS, b - MARKS, 2 * MARKS, 2 * MARKS)
                (p.drawEllipse, p.drawRect)[i % 2](box)
            if line.name:
                labels.place(p, QPointF(*points[-1]), line.name, TONES[i % len(TONES)])
