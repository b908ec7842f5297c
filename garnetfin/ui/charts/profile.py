"""Use through the day: a step line of 24 hours that is pulled up and down."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPen

from garnetfin.ui.charts.base import Chart, Scale, polyline, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import ProfileVM

STEP = 0.05


class ProfileChart(Chart[ProfileVM]):
    """Drag across the hours to draw; up and down keys move the hour the keyboard is at, left and right walk."""

    drawn = Signal(tuple)  # 24 shares, when the pointer lets go
    background = "sheet"

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Profile")
        self._held: list[float] | None = None
        self._last = -1
        self.hour = 12

    def _scales(self) -> tuple[Scale, Scale]:
        return Scale(0, 24, 52, self.width() - 200), Scale(0, 1, self.height() - 26, 14)

    @property
    def shares(self) -> tuple[float, ...]:
        return tuple(self._held) if self._held is not None else self.vm.hours

    def paint_chart(self, p: QPainter) -> None:
        x, y = self._scales()
        c, hours = theme.colour, self.shares
        for share in (0, 0.25, 0.5, 0.75, 1.0):
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(x(0), y(share)), QPointF(x(24), y(share)))
            words(p, QPointF(x(0) - 8, y(share)), f"{share:.0%}", side="right")
        for at in range(0, 25, 3):
            words(p, QPointF(x(at), self.height() - 14), str(at))
        for h, share in enumerate(hours):
            p.fillRect(QRectF(x(h) + 0.5, y(share), x(h + 1) - x(h) - 1, y(0) - y(share)), c("garnet_tint"))
        line = [(x(h + k), y(share)) for h, share in enumerate(hours) for k in (0, 1)]
        polyline(p, line, c("garnet"), 1.8)
        if self.hasFocus():
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(QRectF(x(self.hour), y(1), x(self.hour + 1) - x(self.hour), y(0) - y(1)))
        left = x(24) + 18
        for i, (text, tone, weight) in enumerate(
            (
                (self.vm.name, "ink", 600),
                (self.vm.note, "faint", 400),
                (f"{self.hour}–{self.hour + 1} h: {hours[self.hour]:.0%}", "ink", 500),
                (f"{sum(hours):.1f} h of full use", "faint", 400),
            )
        ):
            words(p, QPointF(left, 22 + 18 * i), text, tone, 11.5, weight, "left")

    def _at(self, at: QPointF) -> tuple[int, float]:
        x, y = self._scales()
        share = min(1.0, max(0.0, y.back(at.y())))
        return min(23, max(0, int(x.back(at.x())))), round(share / STEP) * STEP

    def mousePressEvent(self, event) -> None:
        x, _ = self._scales()
        if not self.shows or not x(0) - 4 <= event.position().x() <= x(24) + 4:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self._held = list(self.vm.hours)
        self.hour, share = self._at(event.position())
        self._held[self.hour] = share
        self._last = self.hour
        self.update()

    def mouseMoveEvent(self, event) -> None:
        if self._held is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        hour, share = self._at(event.position())
        for h in range(min(self._last, hour), max(self._last, hour) + 1):
            self._held[h] = share
        self._last = self.hour = hour
        self.update()

    def mouseReleaseEvent(self, event) -> None:
        if self._held is not None:
            held, self._held = tuple(round(v, 3) for v in self._held), None
            if held != self.vm.hours:
                self.drawn.emit(held)
            self.update()

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Up: STEP, Qt.Key.Key_Down: -STEP}.get(event.key())
        walk = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(event.key())
        if step and self.shows:
            hours = list(self.vm.hours)
            hours[self.hour] = round(min(1.0, max(0.0, hours[self.hour] + step)), 3)
            self.drawn.emit(tuple(hours))
        elif walk:
            self.hour = (self.hour + walk) % 24
            self.update()
        else:
            super().keyPressEvent(event)
