"""The psychrometric chart: drawn on a plot that can be panned and zoomed; states that are set can be dragged."""

import pyqtgraph as pg
from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.ui.charts.base import ticks
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.air import PsychroVM, StateVM

FAINT = {"h": (0.7, "rule", Qt.PenStyle.DotLine), "rh": (1.0, "rule", Qt.PenStyle.SolidLine), "wb": (0.6, "rule", Qt.PenStyle.DashLine),
         "v": (0.6, "rule", Qt.PenStyle.DashDotLine), "saturation": (1.6, "ink", Qt.PenStyle.SolidLine)}


class _Axis(pg.AxisItem):
    """Figures as the program writes them."""

    def tickStrings(self, values, scale, spacing):
        digits = 0 if spacing >= 1 else 1
        return [display.number(v * scale, digits) for v in values]

    def tickValues(self, low, high, size):
        marks = ticks(low, high, 6)
        return [(marks[1] - marks[0] if len(marks) > 1 else 1.0, marks)]


class _Dot(pg.TargetItem):
    """A state on the chart; a movable one follows the mouse along its humidity and reports where it was let go."""

    def __init__(self, state: StateVM, movable: bool, colour, on_move) -> None:
        super().__init__(pos=(state.t, state.w), size=10 if movable else 8, symbol="o", movable=movable, pen=pg.mkPen(colour, width=1.8),
                         brush=pg.mkBrush(theme.colour("sheet")), hoverBrush=pg.mkBrush(theme.colour("garnet_tint")))
        self.node = state.node
        if movable:
            self.setCursor(Qt.CursorShape.SizeHorCursor)
            self.sigPositionChangeFinished.connect(lambda item: on_move(self.node, float(item.pos().x()), state.t))


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
        self.plot.setMouseEnabled(x=True, y=True)
        self.plot.scene().sigMouseClicked.connect(self._clicked)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.plot)
        self.dots: dict[str, _Dot] = {}
        self._range: tuple | None = None
        self._fixed: tuple | None = None             # what the lines were drawn for
        self._moving: list = []
        self._heading = pg.LabelItem(justify="left")
        self._heading.setParentItem(self.plot.getPlotItem())
        theme.changed.connect(self._themed)

    def _themed(self) -> None:
        if self.vm is not None:
            vm, self.vm = self.vm, None
            self.render_vm(vm)

    def render_vm(self, vm: PsychroVM) -> None:
        if vm == self.vm:
            return
        old, self.vm = self.vm, vm
        c, item = theme.colour, self.plot.getPlotItem()
        self.plot.setBackground(c("paper"))
        fixed = (vm.lines, vm.x_range, vm.y_range, theme.dark)
        if fixed != self._fixed:
            self._fixed = fixed
            item.clear()
            self._lines(vm, item)
        else:
            for made in self._moving:
                item.removeItem(made)
        self._moving: list = []
        self.dots = {}
        font = QFont(theme.font(10.5))
        for name in ("bottom", "right"):
            axis = item.getAxis(name)
            axis.setPen(pg.mkPen(c("rule")))
            axis.setTextPen(pg.mkPen(c("faint")))
            axis.setTickFont(font)
            axis.setStyle(tickLength=-4)
        item.getAxis("right").setWidth(44)
        item.getAxis("bottom").setHeight(20)
        if old is None or old.x_range != vm.x_range or old.y_range != vm.y_range or old.units != vm.units:
            self._range = (vm.x_range, vm.y_range)
            item.setXRange(*vm.x_range, padding=0)
            item.setYRange(*vm.y_range, padding=0)
        self._heading.setText("<span style='font-family:{};font-size:12.5px;font-weight:600;color:{}'>Psychrometric chart</span>"
                              "<span style='font-size:11px;color:{}'>&nbsp;&nbsp;{} · {} · {}</span>".format(
                                  theme.font(12).family(), c("ink").name(), c("faint").name(), vm.pressure, f"dry bulb {vm.units[0]}",
                                  f"water {vm.units[1]}"))
        self._heading.setPos(8, -2)
        self._paths(vm, item)
        self._states(vm, item)

    def _add(self, item, made) -> None:
        """What changes with the states; the lines below it stay."""
        item.addItem(made)
        self._moving.append(made)

    def _lines(self, vm: PsychroVM, item) -> None:
        c = theme.colour
        for line in vm.lines:
            width, colour, style = FAINT[line.kind]
            x, y = zip(*line.points)
            item.addItem(pg.PlotCurveItem(list(x), list(y), pen=pg.mkPen(c(colour), width=width, style=style), antialias=True))
            if line.label:
                right = vm.x_range[0] + 0.95 * (vm.x_range[1] - vm.x_range[0])
                inside = [q for q in line.points if vm.x_range[0] < q[0] < right and vm.y_range[0] < q[1] < vm.y_range[1] * 0.9]
                if not inside:
                    continue
                at = inside[-1]
                text = pg.TextItem(line.label, color=c("faint"), anchor=(0.5, 0.5) if line.kind == "rh" else (1.0, 1.0),
                                   fill=pg.mkBrush(c("paper")) if line.kind == "rh" else None)
                text.setFont(theme.font(10.5))
                text.setPos(*at)
                item.addItem(text)

    def _paths(self, vm: PsychroVM, item) -> None:
        c = theme.colour
        for path in (*vm.paths, *vm.row_paths):
            colour = c("bad") if path.faint else c(path.nature)
            pen = pg.mkPen(colour, width=1.1 if path.faint else 2.2, style=Qt.PenStyle.DashLine if path.faint or path.nature == "faint" else Qt.PenStyle.SolidLine)
            x, y = zip(*path.points)
            self._add(item, pg.PlotCurveItem(list(x), list(y), pen=pen, antialias=True))

    def _states(self, vm: PsychroVM, item) -> None:
        c = theme.colour
        for s in vm.others:
            self._add(item, pg.ScatterPlotItem([s.t], [s.w], size=6, pen=pg.mkPen(c("bad"), width=1.2), brush=pg.mkBrush(c("paper"))))
        if vm.others:
            text = pg.TextItem(vm.other_name, color=c("bad"), anchor=(0.0, 1.2))
            text.setFont(theme.font(10.5))
            text.setPos(vm.others[0].t, vm.others[0].w)
            self._add(item, text)
        for s in (*vm.rows, *vm.states):
            movable = s.node in vm.movable
            dot = _Dot(s, movable, c("garnet") if s in vm.rows else c(s.nature), lambda n, new, was: self.moved.emit(n, new, was))
            dot.setToolTip(f"{s.name}: {s.text[0]}, {s.text[1]}" + ("; drag it along" if movable else ""))
            self._add(item, dot)
            self.dots[s.node] = dot
        taken: list[tuple[float, float]] = []
        wide, high = vm.x_range[1] - vm.x_range[0], vm.y_range[1] - vm.y_range[0]
        for s in (*vm.states, *vm.rows):
            # Numbers of states that lie on each other stand apart.
            spot = next(((dx, dy) for dx, dy in ((0.016, 0.05), (-0.016, 0.055), (0.03, -0.05), (-0.03, -0.05), (0.045, 0.02), (0.0, 0.1), (0.05, -0.09))
                         if all(abs(s.t + dx * wide - a) > 0.02 * wide or abs(s.w + dy * high - b) > 0.05 * high for a, b in taken)), (0.05, 0.1))
            taken.append((s.t + spot[0] * wide, s.w + spot[1] * high))
            text = pg.TextItem(str(s.number) if s.number > 0 else s.name, color=c("garnet") if s in vm.rows else c(s.nature), anchor=(0.5, 0.5))
            text.setFont(theme.font(12, 600) if s.number > 0 else theme.font(10.5, 500))
            text.setPos(s.t + spot[0] * wide, s.w + spot[1] * high)
            self._add(item, text)

    def _clicked(self, event) -> None:
        if event.double():
            vm = self.vm
            if vm is not None:
                self.plot.getPlotItem().setXRange(*vm.x_range, padding=0)
                self.plot.getPlotItem().setYRange(*vm.y_range, padding=0)
            return
        near, best = None, 14.0
        for node, dot in self.dots.items():
            at = dot.mapToScene(QPointF(0, 0))
            distance = (at - event.scenePos()).manhattanLength()
            if distance < best:
                near, best = node, distance
        if near:
            self.picked.emit(near)


