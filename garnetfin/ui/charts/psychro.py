"""The psychrometric chart: drawn on a plot that can be panned and zoomed; states that are set can be dragged."""

from math import hypot

import pyqtgraph as pg
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QFont, QPainter, QPolygonF, QTransform
from PySide6.QtWidgets import QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.ui.charts.base import ticks, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.psychro import LineVM, PsychroVM, StateVM

PENS = {
    "h": (0.7, "rule", Qt.PenStyle.DotLine),
    "rh": (1.0, "rule", Qt.PenStyle.SolidLine),
    "wb": (0.6, "rule", Qt.PenStyle.DashLine),
    "v": (0.6, "rule", Qt.PenStyle.DashDotLine),
    "saturation": (1.6, "ink", Qt.PenStyle.SolidLine),
}
# Which lines are named first, and how far off their ends [px].
LABELS = {"rh": (0, 0), "h": (-12, -9), "v": (0, -10), "wb": (0, 0)}
NEAR_PX = 12.0
# Where the number of a state may stand beside its dot [px], the best first.
BESIDE = ((9, -11), (-9, -12), (16, 11), (-16, 11), (24, -4), (0, -22), (26, 18), (-26, -18), (0, 22))


class _Axis(pg.AxisItem):
    """Figures as the program writes them."""

    def tickStrings(self, values, scale, spacing):
        digits = 0 if spacing >= 1 else 1
        return [display.number(v * scale, digits) for v in values]

    def tickValues(self, low, high, size):
        marks = ticks(low, high, 6)
        return [(marks[1] - marks[0] if len(marks) > 1 else 1.0, marks)]


class _Layer(pg.GraphicsObject):
    """Draws a PsychroVM in pixels over the plot's own coordinates."""

    def __init__(self) -> None:
        super().__init__()
        self.vm: PsychroVM | None = None

    def show_vm(self, vm: PsychroVM) -> None:
        self.prepareGeometryChange()
        self.vm = vm
        self.update()

    def boundingRect(self) -> QRectF:
        if self.vm is None:
            return QRectF()
        (x0, x1), (y0, y1) = self.vm.x_range, self.vm.y_range
        return QRectF(x0, y0, x1 - x0, y1 - y0).adjusted(-4 * (x1 - x0), -4 * (y1 - y0), 4 * (x1 - x0), 4 * (y1 - y0))

    def paint(self, p: QPainter, *_) -> None:
        if self.vm is None:
            return
        to_px = p.transform()
        p.save()
        p.resetTransform()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw(p, to_px)
        p.restore()


class _Lines(_Layer):
    """Lines of one property each, with their labels; made into polygons once."""

    def __init__(self) -> None:
        super().__init__()
        self._made: tuple = ((), ())

    def draw(self, p: QPainter, m: QTransform) -> None:
        vm, c = self.vm, theme.colour
        if vm is None:
            return
        if self._made[0] is not vm.lines:
            self._made = vm.lines, tuple(QPolygonF([QPointF(*q) for q in line.points]) for line in vm.lines)
        for line, shape in zip(vm.lines, self._made[1]):
            width, colour, style = PENS[line.kind]
            p.setPen(pg.mkPen(c(colour), width=width, style=style))
            p.drawPolyline(m.map(shape))
        # States and the name of the other design point are drawn over this.
        states = [m.map(QPointF(s.t, s.w)) for s in (*vm.states, *vm.rows)]
        taken = [QRectF(at.x() - 14, at.y() - 16, 28, 24) for at in states]
        if vm.others:
            at = m.map(QPointF(vm.others[0].t, vm.others[0].w))
            taken.append(QRectF(at.x() - 90, at.y() - 22, 180, 16))
        for kind in LABELS:
            for line in vm.lines:
                if line.kind == kind and line.label:
                    self._label(p, m, line, taken)

    def _label(self, p: QPainter, m: QTransform, line: LineVM, taken: list[QRectF]) -> None:
        """A line's name where lines of its kind have theirs, unless another name stands there."""
        vm = self.vm
        if vm is None:
            return
        right, top = vm.x_range[0] + 0.95 * (vm.x_range[1] - vm.x_range[0]), vm.y_range[1] * 0.9
        inside = [q for q in line.points if vm.x_range[0] < q[0] < right and vm.y_range[0] <= q[1] < top]
        if len(inside) < 2:
            return
        # Relative humidity and enthalpy are named at their upper ends, wet bulbs on their way, volumes at the foot.
        place = {"wb": len(inside) // 3, "v": 0}.get(line.kind, len(inside) - 1)
        at = m.map(QPointF(*inside[place])) + QPointF(*LABELS[line.kind])
        wide = p.fontMetrics().horizontalAdvance(line.label) + 8
        box = QRectF(at.x() - wide / 2, at.y() - 7, wide, 14)
        if any(box.intersects(other) for other in taken):
            return
        taken.append(box)
        p.fillRect(box, theme.colour("paper"))
        words(p, at, line.label, "faint", 10.5)


class _States(_Layer):
    """Processes and states; a movable state follows the mouse along its humidity and says where it was let go."""

    def __init__(self, chart: "PsychroChart") -> None:
        super().__init__()
        self._chart = chart
        self._held: StateVM | None = None
        self._at = 0.0
        self.px: dict[str, QPointF] = {}  # where the states were drawn last
        self.setZValue(10)
        self.setAcceptHoverEvents(True)

    # -- drawing -------------------------------------------------------------------------------------------------
    def draw(self, p: QPainter, m: QTransform) -> None:
        vm, c = self.vm, theme.colour
        if vm is None:
            return
        for path in (*vm.paths, *vm.row_paths):
            dashed = path.faint or path.nature == "faint"
            p.setPen(
                pg.mkPen(
                    c("bad") if path.faint else c(path.nature),
                    width=1.1 if path.faint or path.thin else 2.2,
                    style=Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine,
                )
            )
            p.drawPolyline(m.map(QPolygonF([QPointF(*q) for q in path.points])))
            if path.label:
                words(p, m.map(QPointF(*path.points[-1])) + QPointF(-8, -6), path.label, "garnet", 10.5, side="right")
        for s in vm.others:
            self._dot(p, m.map(QPointF(s.t, s.w)), c("bad"), 3.0)
        if vm.others:
            first = vm.others[0]
            side = "right" if first.t > vm.x_range[0] + 0.6 * (vm.x_range[1] - vm.x_range[0]) else "left"
            words(
                p,
                m.map(QPointF(first.t, first.w)) + QPointF(-6 if side == "right" else 4, -14),
                vm.other_name,
                "bad",
                10.5,
                side=side,
            )
        self.px = {}
        for s in (*vm.rows, *vm.states):
            at = m.map(QPointF(self._at if s is self._held else s.t, s.w))
            self.px[s.node] = at
            self._dot(p, at, c(s.nature), 5.0 if s.node in vm.movable else 4.0)
        taken: list[QPointF] = list(self.px.values())
        for s in (*vm.states, *vm.rows):
            self._name(p, s, taken)
        if self._held is not None:
            words(
                p,
                self.px[self._held.node] + QPointF(0, 20),
                f"{display.number(self._at, 1)} {vm.units[0]}",
                "garnet",
                11.5,
                600,
            )

    @staticmethod
    def _dot(p: QPainter, at: QPointF, colour: QColor, radius: float) -> None:
        p.setPen(pg.mkPen(colour, width=1.8))
        p.setBrush(theme.colour("sheet"))
        p.drawEllipse(at, radius, radius)

    def _name(self, p: QPainter, s: StateVM, taken: list[QPointF]) -> None:
        """Numbers of states that lie on each other stand apart."""
        at = self.px[s.node]
        spot = next(
            (
                at + QPointF(*by)
                for by in BESIDE
                if all(hypot(at.x() + by[0] - q.x(), at.y() + by[1] - q.y()) > 9 for q in taken)
            ),
            at + QPointF(*BESIDE[0]),
        )
        taken.append(spot)
        if s.number > 0:
            words(p, spot, str(s.number), s.nature, 12, 600)
        else:
            words(p, spot, s.name, s.nature, 10.5, 500, "left" if spot.x() >= at.x() else "right")

    # -- mouse ---------------------------------------------------------------------------------------------------
    def state_near(self, at: QPointF, movable: bool = False) -> StateVM | None:
        """The state within reach of a pixel of the plot."""
        best, near, vm = None, NEAR_PX, self.vm
        if vm is None:
            return None
        for s in (*vm.states, *vm.rows):
            q = self.px.get(s.node)
            if q is not None and (s.node in vm.movable or not movable):
                apart = hypot(q.x() - at.x(), q.y() - at.y())
                # Of two that lie on each other the one that can be dragged is meant.
                if apart < near - (0.0 if s.node in vm.movable else 1.0):
                    best, near = s, apart
        return best

    def _pixel(self, event) -> QPointF:
        return QPointF(self._chart.plot.mapFromScene(event.scenePos()))

    def hoverEvent(self, event) -> None:
        s = None if event.isExit() else self.state_near(self._pixel(event))
        movable = s is not None and self.vm is not None and s.node in self.vm.movable
        if movable:
            event.acceptDrags(Qt.MouseButton.LeftButton)
        self._chart.plot.setCursor(Qt.CursorShape.SizeHorCursor if movable else Qt.CursorShape.ArrowCursor)
        tip = f"{s.name}: {s.text[0]}, {s.text[1]}" + ("; drag it along" if movable else "") if s is not None else ""
        self._chart.plot.setToolTip(tip)

    def mouseDragEvent(self, event) -> None:
        if event.isStart():
            self._held = self.state_near(
                QPointF(self._chart.plot.mapFromScene(event.buttonDownScenePos())), movable=True
            )
        if self._held is None or event.button() != Qt.MouseButton.LeftButton:
            event.ignore()
            return
        event.accept()
        self._at = event.pos().x()
        self.update()
        if event.isFinish():
            held, self._held = self._held, None
            # What follows draws this anew; the mouse is let out of it first.
            QTimer.singleShot(0, lambda: self._chart.moved.emit(held.node, self._at, held.t))


class PsychroChart(QWidget):
    """Renders a PsychroVM. `moved`: a node, its new and its old dry bulb as shown."""

    moved = Signal(str, float, float)
    picked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.vm: PsychroVM | None = None
        self.plot = pg.PlotWidget(axisItems={"bottom": _Axis("bottom"), "right": _Axis("right")})
        self.plot.setAccessibleName("Psychrometric chart")
        self.plot.setFrameShape(pg.QtWidgets.QFrame.Shape.NoFrame)
        self.plot.showAxis("right")
        self.plot.hideAxis("left")
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.scene().sigMouseClicked.connect(self._clicked)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.plot)
        self._lines, self.states = _Lines(), _States(self)
        for layer in (self._lines, self.states):
            self.plot.addItem(layer, ignoreBounds=True)
        self._range: tuple | None = None
        self._heading = pg.LabelItem(justify="left")
        self._heading.setParentItem(self.plot.getPlotItem())
        theme.changed.connect(self._themed)

    def _themed(self) -> None:
        if self.vm is not None:
            vm, self.vm, self._range = self.vm, None, None
            self.render_vm(vm)

    def render_vm(self, vm: PsychroVM) -> None:
        if vm == self.vm:
            return
        self.vm = vm
        fixed = (vm.x_range, vm.y_range, vm.units, vm.pressure)
        if fixed != self._range:
            self._range = fixed
            self._frame(vm)
        if (
            self._lines.vm is None
            or self._lines.vm.lines is not vm.lines
            or fixed[:2] != (self._lines.vm.x_range, self._lines.vm.y_range)
        ):
            self._lines.show_vm(vm)
        self.states.show_vm(vm)

    def _frame(self, vm: PsychroVM) -> None:
        """Axes, range and heading."""
        c, item = theme.colour, self.plot.getPlotItem()
        self.plot.setBackground(c("paper"))
        font = QFont(theme.font(10.5))
        for name in ("bottom", "right"):
            axis = item.getAxis(name)
            axis.setPen(pg.mkPen(c("rule")))
            axis.setTextPen(pg.mkPen(c("faint")))
            axis.setTickFont(font)
            axis.setStyle(tickLength=-4)
        item.getAxis("right").setWidth(44)
        item.getAxis("bottom").setHeight(20)
        item.setXRange(*vm.x_range, padding=0)
        item.setYRange(*vm.y_range, padding=0)
        self._heading.setText(
            "<span style='font-family:{};font-size:12.5px;font-weight:600;color:{}'>Psychrometric chart</span>"
            "<span style='font-size:11px;color:{}'>&nbsp;&nbsp;{} · {} · {}</span>".format(
                theme.font(12).family(),
                c("ink").name(),
                c("faint").name(),
                vm.pressure,
                f"dry bulb {vm.units[0]}",
                f"water {vm.units[1]}",
            )
        )
        self._heading.setPos(8, -2)

    def spot(self, node: str) -> QPointF:
        """Where a state lies [px of the plot]."""
        vm = self.vm
        if vm is None:
            raise LookupError("nothing was rendered yet")
        s = next(s for s in (*vm.states, *vm.rows) if s.node == node)
        return QPointF(self.plot.mapFromScene(self.plot.getPlotItem().getViewBox().mapViewToScene(QPointF(s.t, s.w))))

    def _clicked(self, event) -> None:
        if event.double():
            if self.vm is not None:
                self.plot.getPlotItem().setXRange(*self.vm.x_range, padding=0)
                self.plot.getPlotItem().setYRange(*self.vm.y_range, padding=0)
            return
        near = self.states.state_near(QPointF(self.plot.mapFromScene(event.scenePos())))
        if near is not None:
            self.picked.emit(near.node)
