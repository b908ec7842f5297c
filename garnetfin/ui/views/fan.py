"""Fan: curves with the operating point, a speed slider, candidates, what the rooms get."""

from itertools import count
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QFileDialog, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.flows.flow_results import Flows
from garnetfin.engine.flows.real_flows import every_state
from garnetfin.engine.results import DuctResult, FanResult, Missing, there
from garnetfin.exchange.fan_catalogue import read_fans
from garnetfin.project.edits.systems import ChooseFan, ClearOwnFans, SetFanValue, TakeFans
from garnetfin.project.values import Pinned
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.base import ticks, words
from garnetfin.ui.charts.fan import FanChart
from garnetfin.ui.focus import ringed
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer, page_of
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models.systems import fan_way, fan_ways
from garnetfin.ui.view_models.tables import TableVM, fan_table, room_flows, state_table
from garnetfin.ui.views.base import Nothing, View
from garnetfin.ui.widgets.controls import LinkText, Switch, ToolButton
from garnetfin.ui.widgets.table import Table

_gestures = count(1)


class SpeedSlider(QWidget):
    """Pull the speed; each pull is one step of undo."""

    moved = Signal(float, int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(58)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Fan speed")
        self.low, self.high, self.speed, self.note = 500.0, 1500.0, 1000.0, ""
        self._gesture = 0

    def set_range(self, low: float, high: float, speed: float, note: str) -> None:
        self.low, self.high, self.speed, self.note = low, high, speed, note
        self.setAccessibleDescription(f"{speed:.0f} rpm of {low:.0f} to {high:.0f}")
        self.update()

    def _track(self) -> QRectF:
        return QRectF(196, 22, min(380.0, self.width() * 0.4), 3)

    def at(self, speed: float) -> float:
        track = self._track()
        return track.left() + (min(max(speed, self.low), self.high) - self.low) / (self.high - self.low) * track.width()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c, track = theme.colour, self._track()
        p.fillRect(self.rect(), c("paper"))
        words(p, QPointF(60, 23), "Speed", "ink", 12.5, 500, "left")
        words(p, QPointF(104, 23), f"{self.speed:.0f}", "garnet", 13, 600, "left")
        words(p, QPointF(142, 24), "rpm", "faint", 11, side="left")
        p.fillRect(track, c("rule"))
        p.fillRect(QRectF(track.left(), track.top(), self.at(self.speed) - track.left(), 3), c("garnet"))
        for value in ticks(self.low, self.high, 6):
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(self.at(value), 34), QPointF(self.at(value), 38))
            words(p, QPointF(self.at(value), 46), display.number(value))
        p.setPen(QPen(c("garnet"), 2))
        p.setBrush(c("sheet"))
        p.drawEllipse(QPointF(self.at(self.speed), 23.5), 7, 7)
        if ringed(self):
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawEllipse(QPointF(self.at(self.speed), 23.5), 10, 10)
        words(p, QPointF(track.right() + 28, 23), self.note, "faint", 11.5, side="left")

    def _move(self, x: float) -> None:
        track = self._track()
        share = min(1.0, max(0.0, (x - track.left()) / track.width()))
        self.moved.emit(round(self.low + share * (self.high - self.low)), self._gesture)

    def mousePressEvent(self, event) -> None:
        if self._track().adjusted(-10, -16, 10, 16).contains(event.position()):
            self._gesture = next(_gestures)
            self._move(event.position().x())

    def mouseMoveEvent(self, event) -> None:
        if self._gesture:
            self._move(event.position().x())

    def mouseReleaseEvent(self, event) -> None:
        self._gesture = 0

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Right: 10, Qt.Key.Key_Left: -10, Qt.Key.Key_PageUp: 50, Qt.Key.Key_PageDown: -50}.get(
            event.key()
        )
        if step:
            self.moved.emit(round(min(self.high, max(self.low, self.speed + step))), 0)
        else:
            super().keyPressEvent(event)


AXES = (("pressure", "Flow and pressure"), ("efficiency", "Efficiency"), ("power", "Power"), ("noise", "Noise"))


class FanView(View):
    HINT = (
        "Pull the speed to pin it; a double click on a candidate chooses that fan. What-ifs of Balance hold here too."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.rule_tool = ToolButton("fan", "Fan and speed back to the rule")
        self.rule_tool.clicked.connect(self._by_rule)
        self.tools.add(self.rule_tool)
        self.way_strip = self.tools.add_strip("", (("supply", "Supply"),), lambda way: session.set_show(fan_way=way))
        self.axes_strip = self.tools.add_strip("Axes", AXES, lambda key: session.changed.emit())
        self.states_switch = Switch("all what-ifs")
        self.states_switch.setToolTip(
            "The fan’s point with dampers open, filters clean and loaded, flexible ducts compressed, boxes at "
            "minimum, duct leakage"
        )
        self.states_switch.toggled.connect(lambda on: session.changed.emit())
        self.tools.add(self.states_switch, 10)
        self.chart, self.slider = FanChart(), SpeedSlider()
        self.slider.moved.connect(self._speed)
        main = QWidget()
        column = QVBoxLayout(main)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.chart, 1)
        column.addWidget(self.slider)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(main)
        self._stack.addWidget(self._nothing)
        self.candidates, self.rooms, self.points = Table(row_height=26), Table(), Table(row_height=24)
        self.candidates.doubleClicked.connect(self._choose)
        self.rooms.picked.connect(self.pick)
        self.catalogue_link, self.away_link = LinkText("Own catalogue …"), LinkText("own fans away")
        self.catalogue_link.setToolTip("Fans of your own as CSV; the file format says what it holds")
        self.catalogue_link.clicked.connect(self._ask_catalogue)
        self.away_link.clicked.connect(lambda: self.intent.emit(ClearOwnFans()))
        self.drawer = Drawer(
            (
                ("Candidates", page_of(self.candidates, self.catalogue_link, self.away_link)),
                ("Rooms with this fan", self.rooms),
                ("What-ifs", self.points),
            )
        )
        self.drawer.chosen.connect(lambda i: session.changed.emit())
        self._states: tuple[tuple, tuple] = ((), ())  # what was asked, and the answer
        self._worker = Newest(self._work, "operating points", self)
        self._worker.ready.connect(self._on_states)
        self.set_main(MainAndDrawer(self._stack, self.drawer, 232))

    def render_state(self, state: State) -> None:
        way = fan_way(state)
        self.way_strip.set_choices(fan_ways(state) or (("supply", "Supply"),))
        self.way_strip.set_now(way)
        self.way_strip.setVisible(len(fan_ways(state)) > 1)
        fan = state.results.fan(state.show.system_id, way) if state.known else None
        self.away_link.setVisible(bool(state.project.book.fans))
        if not isinstance(fan, FanResult):
            self._nothing.say(fan)
            self._stack.setCurrentWidget(self._nothing)
            for table in (self.candidates, self.rooms, self.points):
                table.render_vm(TableVM((), ()), (), state.show.units)
            return
        self.candidates.render_vm(
            fan_table(state, fan), (fan.chosen.fan_id,) if not isinstance(fan.chosen, Missing) else (), state.show.units
        )
        self.drawer.set_note("ranked by electric power at the duty; far from the measured speed last")
        air = there(state.results.air[fan.system_id])
        self.tools.note.set_words(
            f"{display.with_unit('density', air.density_kg_m3, state.show.units)} · duty "
            f"{display.with_unit('system_flow', fan.wanted_m3s, state.show.units)}, "
            f"{display.with_unit('pressure', fan.wanted_pa, state.show.units)}"
        )
        if isinstance(fan.chosen, Missing):
            self._nothing.say(fan.chosen)
            self._stack.setCurrentWidget(self._nothing)
            return
        self._stack.setCurrentIndex(0)
        page = self.drawer.head.tabs[self.drawer.head.now]
        states = (
            self._ask_states(state)
            if way == "supply" and (self.states_switch.isChecked() or page == "What-ifs" or state.show.what.any)
            else ()
        )
        drawn = states if self.states_switch.isChecked() else tuple(f for f in states if f.what == state.show.what)
        self.chart.render_vm(charts.fan_chart(state, fan, self.axes_strip.now, drawn))
        model = fan.curve.model
        flows = state.flows if isinstance(state.flows, Flows) else None
        off = flows.spread if flows is not None and not state.show.what.any else None
        if way != "supply":
            off = None
        note = (
            f"by rule: every room gets its flow ±{off * 100:.0f} %"
            if fan.speed_origin == "rule" and off is not None
            else (
                f"pinned: the furthest terminal gets ±{off * 100:.0f} %" if off is not None else state.show.what.words
            )
        )
        self.slider.set_range(model.min_rpm, model.max_rpm, fan.chosen.speed_rpm, note)
        ducts = state.results.ducts[fan.system_id]
        if page == "Rooms with this fan" and isinstance(ducts, DuctResult) and flows is not None:
            self.rooms.render_vm(room_flows(state, flows, ducts), state.selection.of("terminal"), state.show.units)
            self.drawer.set_note(state.show.what.words)
        if page == "What-ifs":
            self.points.render_vm(state_table(state, states), (), state.show.units)
            self.drawer.set_note("the network solved with dampers as they are set" if states else "solving …")

    # -- operating points of what-ifs ----------------------------------------------------------------------------
    def _ask_states(self, state: State) -> tuple[Flows, ...]:
        asked = (state.found, state.show.system_id, state.show.what)
        if self._states[0] != asked:
            self._states = (asked, ())
            self._worker.submit(asked)
        return self._states[1]

    @staticmethod
    def _work(asked: tuple, stopped) -> tuple:
        return asked, every_state(*asked)

    def _on_states(self, answer: tuple) -> None:
        if answer[0] == self._states[0]:
            self._states = answer
            self.session.changed.emit()

    @property
    def working(self) -> bool:
        return not self._worker.idle

    def close_work(self) -> None:
        self._worker.close()

    # -- edits ---------------------------------------------------------------------------------------------------
    def _speed(self, rpm: float, gesture: int) -> None:
        self.session.do(
            SetFanValue(self.session.show.system_id, "speed_rpm", Pinned(value=rpm), fan_way(self.session.state)),
            gesture,
        )

    def _by_rule(self) -> None:
        self.intent.emit(ChooseFan(self.session.show.system_id, "", fan_way(self.session.state)))

    def _choose(self, index) -> None:
        chosen = self.candidates.model_.vm.rows[index.row()].id
        self.intent.emit(ChooseFan(self.session.show.system_id, chosen, fan_way(self.session.state)))

    def _ask_catalogue(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Catalogue of fans", "", "CSV (*.csv)")
        if path:
            self.read_catalogue(Path(path))

    def read_catalogue(self, path: Path) -> None:
        """Fans of a file into the office standards; rows that look odd are said, none is dropped."""
        try:
            fans, remarks = read_fans(path)
            self.intent.emit(TakeFans(fans))
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return
        if remarks:
            self.refused.emit(remarks[0] + (f" · {len(remarks) - 1} more rows look odd" if len(remarks) > 1 else ""))
