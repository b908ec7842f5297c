"""Options against what stands: a bar for each figure and option, to either side of no difference."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Scale, reach, title, words, x_axis
from garnetfin.ui.charts.study import TONES
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.options import DifferencesVM

LEFT, RIGHT, TOP, FOOT = 230.0, 70.0, 52.0, 34.0
MOST_BAND, LEAST_BAR = 44.0, 3.0


class DifferencesChart(Chart[DifferencesVM]):
    """Figures below each other, options in their own colours."""

    background = "sheet"

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        title(p, 14, 18, "Differences against what stands", "%")
        if not vm.names:
            words(p, QPointF(14, 44), "Keep what stands as an option, then change the project", side="left")
            return
        if not vm.rows:
            words(p, QPointF(14, 44), "No figure differs", side="left")
            return
        at = 14.0
        for i, name in enumerate(vm.names):
            p.fillRect(QRectF(at, 30, 10, 10), c(TONES[i % len(TONES)]))
            at += 16 + words(p, QPointF(at + 16, 35), name, "ink", 11.5, side="left") + 18
        low, high = reach([v for _, values in vm.rows for v in values if v is not None], 6)
        # room for the figures of bars that go to the left
        x = Scale(low, high, LEFT + (RIGHT if low < 0 else 0.0), self.width() - RIGHT)
        bottom = self.height() - FOOT
        band = min(MOST_BAND, (bottom - TOP) / len(vm.rows))
        bar = max(LEAST_BAR, (band - 6) / len(vm.names))
        x_axis(p, x, TOP + band * len(vm.rows) + 4, 6, 0, TOP)
        for k, (name, values) in enumerate(vm.rows):
            middle = TOP + band * (k + 0.5)
            words(p, QPointF(14, middle), name, "ink", 11.5, side="left")
            for i, value in enumerate(values):
                if value is None:
                    continue
                y = middle - bar * len(values) / 2 + i * bar
                left, right = sorted((x(0.0), x(value)))
                p.fillRect(QRectF(left, y + 0.5, max(1.0, right - left), max(1.0, bar - 1)), c(TONES[i % len(TONES)]))
                side = "left" if value >= 0 else "right"
                end = right + 5 if value >= 0 else left - 5
                if bar >= 9:
                    words(p, QPointF(end, y + bar / 2), display.signed(value, 1), "ink", 10.5, side=side)
        p.fillRect(QRectF(x(0.0) - 0.5, TOP, 1, band * len(vm.rows)), c("ink"))
