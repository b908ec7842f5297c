"""The pressure stair: the unit at the left, opened out by a wedge, then every path from the fan to a room."""

from itertools import count, pairwise
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from garnetfin import display
from garnetfin.ui.charts.base import Chart, Labels, Scale, polyline, reach, ticks, title, words, x_axis, y_axis
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import StairVM

_gestures = count(1_000_000)


class PressureStair(Chart[StairVM]):
    """A click near a path selects its terminal; arrow keys walk along the ends by surplus."""

    picked = Signal(str)
    # a dot was dragged: terminal, what stands above nothing there [Pa], gesture
    pulled = Signal(str, float, int)
    hovered = Signal(str)  # terminal whose path lies under the pointer, "" for none
    TOP, FOOT = 56.0, 86.0

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Pressure stair")
        self._hover, self._gesture = "", 0
        self._grip: tuple[str, Any] | None = None

    def _scales(self) -> tuple[Scale, Scale, Scale]:
        vm = self.vm
        bottom = self.height() - self.FOOT
        low, high = reach([vm.fan - sum(v for _, v in vm.parts), -sum(v for _, v in vm.parts)], 8)
        longest = max((c[0] for path in vm.paths for c in path.corners), default=1.0)
        _, far = reach([0.0, longest * 1.04], 6)
        _, high_duct = reach([vm.ducts], 6)
        left = max(246.0, self.width() * 0.38)
        return (
            Scale(low, high, bottom, self.TOP),
            Scale(0, far, left, self.width() - 16),
            Scale(0, high_duct, bottom, self.TOP + 20),
        )

    def paint_chart(self, p: QPainter) -> None:
        vm, c = self.vm, theme.colour
        title(p, 14, 20, "Pressure stair", vm.note)
        unit_y, x, y = self._scales()
        bottom, left = self.height() - self.FOOT, x.start
        self._unit(p, unit_y, 44.0, left - 50)
        # The wedge: the ducts' share of the fan's pressure, opened out.
        wedge = QPolygonF(
            [
                QPointF(left - 48, unit_y(vm.ducts)),
                QPointF(left - 22, y(y.high)),
                QPointF(left - 22, bottom),
                QPointF(left - 48, unit_y(0)),
            ]
        )
        path = QPainterPath()
        path.addPolygon(wedge)
        p.fillPath(path, c("band"))
        y_axis(p, y, left, x.end, 6, vm.digits)
        p.setPen(QPen(c("ink"), 1.2))
        p.drawLine(QPointF(left, y(0)), QPointF(x.end, y(0)))
        x_axis(p, x, bottom, 6)
        words(p, QPointF(x.end, bottom + 27), f"{vm.length_unit} from the fan", side="right")
        ranked = sorted(vm.paths, key=lambda q: (q.terminal_id == vm.chosen, q.terminal_id == vm.index))
        for route in ranked:
            index, chosen = route.terminal_id == vm.index, route.terminal_id in (vm.chosen, self._hover)
            colour = c("garnet") if index else c(vm.tone)
            # What paths share is drawn once, but for those that stand out.
            line = [(x(a), y(b)) for a, b in (route.corners if index or chosen else route.corners[route.shared :])]
            polyline(
                p,
                line,
                colour,
                2.6 if index else 2.4 if chosen else 1.0,
                Qt.PenStyle.DashLine if route.dashed and not index and not chosen else Qt.PenStyle.SolidLine,
            )
        labels = Labels()
        self._remark(p, x, y, labels)
        for route in reversed(ranked):
            a, b = route.corners[-1]
            at = QPointF(x(a), y(b))
            index, chosen = route.terminal_id == vm.index, route.terminal_id == vm.chosen
            labels.block(QRectF(at.x() - 4, at.y() - 4, 8, 8))
            p.setPen(QPen(c("garnet") if index else c(vm.tone), 1.5))
            p.setBrush(c(vm.tone) if chosen and not index else c("sheet"))
            p.drawEllipse(at, 4.5 if index or chosen else 3.2, 4.5 if index or chosen else 3.2)
        for route in reversed(ranked):
            a, b = route.corners[-1]
            index, chosen = route.terminal_id == vm.index, route.terminal_id == vm.chosen
            labels.place(
                p,
                QPointF(x(a), y(b)),
                route.label,
                "garnet" if index else vm.tone,
                10.5 if not chosen else 11.5,
                600 if index or chosen else 400,
                must=index or chosen,
            )
        self._legend(p, bottom + 50)

    def _unit(self, p: QPainter, y: Scale, left: float, right: float) -> None:
        """Parts in air order as falling steps, the fan as one rise, what follows it as falls again."""
        vm, c = self.vm, theme.colour
        for value in ticks(y.low, y.high, 9):
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(left, y(value)), QPointF(right, y(value)))
            words(p, QPointF(left - 7, y(value)), display.number(value, vm.digits), side="right")
        polyline(p, [(left, y(0)), (right, y(0))], c("ink"), 1, Qt.PenStyle.DashLine)
        falls = [*vm.parts]
        step = (right - left) / (len(falls) + len(vm.after) + 2)
        at, level, line = left, 0.0, [(left, y(0))]
        marks = []
        for name, pa in falls:
            at += step
            line.append((at, y(level)))
            level -= pa
            line.append((at, y(level)))
            marks.append((name, at, (y(level) + y(level + pa)) / 2, pa))
        at += step
        line.append((at, y(level)))
        polyline(p, line, c("ink"), 1.6)
        top = level + vm.fan
        p.fillRect(QRectF(at - 1.7, y(top), 3.4, y(level) - y(top)), c("garnet"))
        p.save()
        p.translate(at - 9, (y(level) + y(top)) / 2)
        p.rotate(-90)
        words(p, QPointF(0, 0), f"Fan +{display.number(vm.fan, vm.digits)}", "garnet", 11.5, 600)
        p.restore()
        line, level = [(at, y(top))], top
        for name, pa in vm.after:
            line.append((at + step * 0.7, y(level)))
            level -= pa
            at += step * 0.7
            line.append((at, y(level)))
            words(p, QPointF(at - step * 0.2, y(top) - 10), f"{name} {display.number(pa, vm.digits)}", "faint", 10.5)
        line.append((right, y(level)))
        polyline(p, line, c("ink"), 1.6)
        for name, mark, middle, pa in marks:
            # Left of a drop the stair is empty, as far as the axis; a long name takes two lines there.
            figure, metrics = display.number(pa, vm.digits), QFontMetricsF(theme.font(10.5))
            room = mark - 6 - left
            if metrics.horizontalAdvance(f"{name} {figure}") < room:
                words(p, QPointF(mark - 5, middle), f"{name} {figure}", side="right")
            elif metrics.horizontalAdvance(name) < room:
                words(p, QPointF(mark - 5, middle - 6), name, side="right")
                words(p, QPointF(mark - 5, middle + 7), figure, side="right")
            else:
                words(p, QPointF(mark + 5, middle), f"{name} {figure}", side="left")
        words(p, QPointF((left + right) / 2, self.height() - self.FOOT + 18), "unit")

    def _remark(self, p: QPainter, x: Scale, y: Scale, labels: Labels) -> None:
        vm = self.vm
        route = next((q for q in vm.paths if q.terminal_id == vm.chosen), None)
        if route is None or route.terminal_id == vm.index or vm.solved:
            return
        a, b = route.corners[-1]
        polyline(p, [(x(a), y(b)), (x(a), y(0))], theme.colour(vm.tone), 1.2, Qt.PenStyle.DotLine)
        side = "right" if x(a) - x.start > 124 else "left"
        at = x(a) - 9 if side == "right" else x(a) + 9
        # Low down, where few paths run; the words stand on paper so that lines do not cross them.
        low = y(0) - 30
        box = QRectF(at - 112 if side == "right" else at - 2, low - 9, 114, 32)
        labels.block(box)
        p.fillRect(box, theme.colour("paper"))
        words(p, QPointF(at, low), f"{display.number(b, vm.digits)} {vm.unit} to spare", vm.tone, 11.5, 600, side)
        words(
            p,
            QPointF(at, low + 15),
            "its damper takes it" if route.damped else "no damper takes it",
            "faint" if route.damped else "watch",
            11,
            side=side,
        )

    def _legend(self, p: QPainter, y: float) -> None:
        c, x = theme.colour, 44.0
        for text, colour, width, style in (
            ("index run", "garnet", 2.6, Qt.PenStyle.SolidLine),
            (self.vm.levels[0], self.vm.tone, 1.2, Qt.PenStyle.SolidLine),
            (self.vm.levels[1], self.vm.tone, 1.2, Qt.PenStyle.DashLine),
        ):
            if text:
                polyline(p, [(x, y), (x + 26, y)], c(colour), width, style)
                x += 47 + words(p, QPointF(x + 33, y), text, "faint", 11, side="left")
        p.setPen(QPen(c(self.vm.tone), 1.5))
        p.setBrush(c("sheet"))
        p.drawEllipse(QPointF(x + 4, y), 3.2, 3.2)
        words(
            p,
            QPointF(x + 13, y),
            "terminal" if self.vm.solved else "terminal, its height the excess pressure",
            "faint",
            11,
            side="left",
        )
        words(
            p,
            QPointF(44, y + 20),
            "As it really runs: every path ends in its room."
            if self.vm.solved
            else "The index run sets the fan; a step taken out of it lowers all.",
            "faint",
            11,
            side="left",
        )

    def terminal_at(self, at: QPointF, dots: bool = False) -> str:
        """The terminal whose dot, or else whose path, runs near a point."""
        if not self.shows or not self.vm.paths:
            return ""
        _, x, y = self._scales()
        best = min(
            ((x(q.corners[-1][0]) - at.x()) ** 2 + (y(q.corners[-1][1]) - at.y()) ** 2, q.terminal_id)
            for q in self.vm.paths
        )
        if best[0] < 14**2 or dots:
            return best[1] if best[0] < 14**2 else ""
        near = min((_away(at, [(x(a), y(b)) for a, b in q.corners]), q.terminal_id) for q in self.vm.paths)
        return near[1] if near[0] < 5 else ""

    def why_at(self, at: QPointF) -> tuple:
        if not self.shows or self.vm.solved:
            return ()  # what a what-if moves is solved beside the results
        dot, path = self.terminal_at(at, dots=True), self.terminal_at(at)
        return ("surplus", dot) if dot else ("run", path) if path else ()

    def mousePressEvent(self, event) -> None:
        found = self.terminal_at(event.position())
        if found:
            self.picked.emit(found)
        dot = self.terminal_at(event.position(), dots=True)
        self._grip = (dot, event.position()) if dot and self.shows and not self.vm.solved else None

    def mouseMoveEvent(self, event) -> None:
        if self._grip is not None and event.buttons() & Qt.MouseButton.LeftButton:
            terminal, start = self._grip
            if (event.position() - start).manhattanLength() > 4 or self._gesture:
                self._gesture = self._gesture or next(_gestures)
                y = self._scales()[2]
                self.pulled.emit(terminal, max(0.0, y.back(event.position().y())) * self.vm.pa_shown, self._gesture)
            return
        found = self.terminal_at(event.position())
        self.light(found)
        route = next((q for q in self.vm.paths if q.terminal_id == found), None) if self.shows else None
        self.setToolTip(
            f"{route.label} {route.room}: {display.number(route.corners[-1][1], 1)} {self.vm.unit} "
            f"{'at its end' if self.vm.solved else 'surplus'}"
            if route
            else ""
        )

    def mouseReleaseEvent(self, event) -> None:
        self._grip, self._gesture = None, 0

    def light(self, terminal_id: str) -> None:
        """Mark the path to a terminal that is pointed at, here or in a table beside."""
        if terminal_id != self._hover:
            self._hover = terminal_id
            self.update()
            self.hovered.emit(terminal_id)

    def leaveEvent(self, event) -> None:
        self.light("")

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1}.get(event.key())
        if step and self.shows and self.vm.paths:
            ids = [q.terminal_id for q in sorted(self.vm.paths, key=lambda q: q.corners[-1][1])]
            at = ids.index(self.vm.chosen) + step if self.vm.chosen in ids else 0
            self.picked.emit(ids[at % len(ids)])
        else:
            super().keyPressEvent(event)


def _away(at: QPointF, line: list[tuple[float, float]]) -> float:
    """Distance of a point from a broken line [px]."""
    best = float("inf")
    for (x0, y0), (x1, y1) in pairwise(line):
        dx, dy = x1 - x0, y1 - y0
        t = min(1.0, max(0.0, ((at.x() - x0) * dx + (at.y() - y0) * dy) / max(dx * dx + dy * dy, 1e-9)))
        best = min(best, ((x0 + t * dx - at.x()) ** 2 + (y0 + t * dy - at.y()) ** 2) ** 0.5)
    return best
