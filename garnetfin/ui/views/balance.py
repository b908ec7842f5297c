"""Balance: the pressure stair, what every terminal really gets, what-ifs, and the ways to set a system."""

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.core.errors import Cancelled, GarnetfinError, InputError
from garnetfin.core.units import parse
from garnetfin.display import in_units
from garnetfin.engine.flows.balance_check import run_of
from garnetfin.engine.flows.commissioning import commissioning
from garnetfin.engine.flows.damper_by_hand import pinned_for
from garnetfin.engine.flows.flow_results import NoiseResult, WhatIf
from garnetfin.engine.flows.network import case_in
from garnetfin.engine.flows.resizing import Resized, resize
from garnetfin.engine.flows.single_changes import Check, check
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.project.edits.duct_runs import SetSizes
from garnetfin.project.lookup import find
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.base import title, words
from garnetfin.ui.charts.pressure_along_run import PressureStair
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer, page_of
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models import balance as vms
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models.ducts import the_ducts
from garnetfin.ui.view_models.tables import TableVM
from garnetfin.ui.views.base import Nothing, View
from garnetfin.ui.widgets.controls import Switch, TextButton, ToolRow
from garnetfin.ui.widgets.table import Table

AIRS = (("supply", "Supply"), ("return", "Return"), ("extract", "Extract"))
FILTERS = (("", "as designed"), ("clean", "clean"), ("final", "loaded"))
LEAST_SPEED, MOST_SPEED = 0.3, 1.6
PLAN_HEIGHT = 280


class _Head(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(36)
        self.note = ""

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour("paper"))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, 0, 0, self.height())
        title(p, 14, 20, "Terminals")
        words(p, QPointF(self.width() - 14, 20), self.note, "faint", 11.5, side="right")


class BalanceView(View):
    HINT = (
        "Click a dot, a path or a row; drag a dot up or down to set its damper. What-ifs combine; none of them "
        "changes the project."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._found: dict[str, tuple[tuple, object]] = {}  # page -> what was asked, and the answer
        self._busy = ("", 0.0)
        self.tools.add_words("What if")
        self.switches: dict[str, Switch] = {}
        for name, text, tip in (
            ("dampers_open", "no dampers", "Every balancing damper stands open"),
            ("pressed", "compressed flexible duct", "Flexible ducts are compressed by 30 %"),
            ("turned_down", "boxes at minimum", "Variable-volume boxes hold their least flow"),
            (
                "leaking",
                "duct leakage",
                "Ducts leak three times as much as their class says; where leaks are typed, as it allows",
            ),
        ):
            switch = self.switches[name] = Switch(text)
            switch.setToolTip(tip)
            switch.toggled.connect(lambda on, n=name: self._what(**{n: on}))
            self.tools.add(switch, 6)
        self.more = ToolRow()
        self.more.setFixedHeight(32)
        self.air_strip = self.more.add_strip("", AIRS, lambda air: session.set_show(air=air))
        self.filter_strip = self.more.add_strip("Filter", FILTERS, lambda key: self._what(filter=key))
        self.speed_field = self.more.add_field(
            "fan %", 54, "Fan speed, per cent of what it turns at; empty: as it turns", self._speed, 6
        )
        self.air_field = self.more.add_field(
            "air temperature",
            104,
            "Temperature of the air in ducts and rooms’ supply; empty: as designed",
            self._air,
            6,
        )
        self.shut_button, self.door_button, self.clear_button = (
            TextButton("Close duct"),
            TextButton("Close door"),
            TextButton("As designed"),
        )
        self.shut_button.setToolTip("A damper in the duct that is selected is shut, or open again")
        self.door_button.setToolTip("The door of the room that is selected is closed, or open again")
        self.shut_button.clicked.connect(self._shut)
        self.door_button.clicked.connect(self._door)
        self.clear_button.clicked.connect(lambda: session.set_show(what=WhatIf()))
        for button in (self.shut_button, self.door_button, self.clear_button):
            self.more.add(button, 8)
        self._column.addWidget(self.more)
        self.stair = PressureStair()
        self.stair.picked.connect(lambda t: self.pick("terminal", (t,)))
        self.stair.pulled.connect(self._pulled)
        self._head = _Head()
        self.table = Table(row_height=17.3)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.table.picked.connect(self.pick)
        self.table.hovered.connect(self.stair.light)
        self.stair.hovered.connect(self._pointed)
        self.table.intent.connect(self.intent)
        self.table.refused.connect(self.refused)
        side = QWidget()
        side.setFixedWidth(404)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._head)
        column.addWidget(self.table, 1)
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.stair, 1)
        row.addWidget(side)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(both)
        self._stack.addWidget(self._nothing)
        self.plan = PlanCanvas()
        self.plan.picked.connect(self.pick)
        self._lit = ""  # terminal whose path is pointed at
        self.rooms, self.run, self.sheet, self.ways, self.changes, self.noise = (Table(row_height=22) for _ in range(6))
        for table in (self.rooms, self.run, self.sheet, self.noise):
            table.picked.connect(
                lambda kind, ids: self.pick(kind, ids) if kind in ("room", "segment", "terminal") else None
            )
        self.changes.doubleClicked.connect(lambda index: self._make_change(index.row() - 1))
        self.twice = Switch("a second pass")
        self.twice.toggled.connect(lambda on: session.changed.emit())
        self.take_sizes = TextButton("Apply these sizes")
        self.take_sizes.clicked.connect(self._take_sizes)
        self.take_sizes.setEnabled(False)
        self.drawer = Drawer(
            (
                ("Rooms", self.rooms),
                ("Run by parts", self.run),
                ("Commissioning", page_of(self.sheet, self.twice)),
                ("Balance by resizing", page_of(self.ways, self.take_sizes)),
                ("Most effective changes", self.changes),
                ("Noise", self.noise),
                ("Plan", self.plan),
            )
        )
        self.drawer.chosen.connect(lambda i: session.changed.emit())
        self._worker = Newest(self._work, "balance", self)
        self._worker.ready.connect(self._on_found)
        self._worker.failed.connect(self.refused)
        self._whole = MainAndDrawer(self._stack, self.drawer, 176)
        self.set_main(self._whole)

    # -- rendering -----------------------------------------------------------------------------------------------
    def render_state(self, state: State) -> None:
        what = state.show.what
        for name, switch in self.switches.items():
            if switch.isChecked() != getattr(what, name):
                switch.blockSignals(True)
                switch.setChecked(getattr(what, name))
                switch.blockSignals(False)
        boxes = state.system is not None and state.system.flow == "load"
        self.switches["turned_down"].setEnabled(boxes)
        self.switches["turned_down"].setToolTip(
            "Variable-volume boxes hold their least flow"
            if boxes
            else "This system has constant flow: no boxes to turn down"
        )
        self.filter_strip.set_now(what.filter)
        shown = state.show.air if state.show.air in dict(AIRS) else "supply"
        self.air_strip.set_now(shown)
        if not self.speed_field.hasFocus():
            self.speed_field.setText(f"{what.speed * 100:.0f}" if what.speed != 1.0 else "")
        if not self.air_field.hasFocus():
            self.air_field.setText(
                display.figure("temperature", what.air_c, state.show.units) if what.air_c is not None else ""
            )
        segment, room = self._segment(state), self._room(state)
        self.shut_button.setEnabled(bool(segment))
        self.shut_button.setText("Open duct" if segment and segment in what.shut else "Close duct")
        self.door_button.setEnabled(bool(room))
        self.door_button.setText("Open door" if room and room in what.doors else "Close door")
        self.clear_button.setEnabled(what.any)
        for button in (self.shut_button, self.door_button):
            button.updateGeometry()
        ducts = the_ducts(state)
        if isinstance(ducts, DuctResult) and ducts.air == "outdoor":
            ducts = state.results.network(state.show.system_id)
        if not isinstance(ducts, DuctResult):
            self._nothing.say(ducts)
            self._stack.setCurrentWidget(self._nothing)
            self.tools.note.set_words("")
            for table in (self.rooms, self.run, self.sheet, self.ways, self.changes, self.noise):
                table.render_vm(TableVM((), ()), (), state.show.units)
            return
        self._stack.setCurrentIndex(0)
        fan = state.results.fans.get(state.show.system_id, Missing("no fan"))
        self.stair.render_vm(charts.stair(state, ducts, fan))
        tolerance = assumption(state.project.book, "balance_share").figure
        self.table.render_vm(
            vms.terminal_table(state, ducts, tolerance), state.selection.of("terminal"), state.show.units
        )
        self._head.note = f"{len(ducts.terminals)}, by excess pressure · {what.words}"
        self._head.update()
        flows = vms.real(state)
        solved = (
            ""
            if flows is None or flows.converged
            else f" · not solved, {flows.residual_pa:.2g} Pa are left at {flows.worst}"
        )
        self.tools.note.set_words(
            f"{display.with_unit('system_flow', flows.fan_m3s, state.show.units)} by the fan{solved}"
            if flows is not None
            else "solving …"
        )
        self._drawer(state, ducts)

    def _drawer(self, state: State, ducts: DuctResult) -> None:
        units = state.show.units
        page = self.drawer.head.tabs[self.drawer.head.now]
        self.drawer.set_note("")
        match page:
            case "Rooms":
                self.rooms.render_vm(vms.room_table(state), state.selection.of("room"), units)
                self.drawer.set_note(state.show.what.words)
            case "Run by parts":
                self._run(state)
            case "Plan":
                self._whole.raise_to(PLAN_HEIGHT)
                self._render_plan(state, ducts)
            case "Noise":
                found = state.results.noise.get(ducts.system_id)
                if isinstance(found, NoiseResult) and ducts.air == "supply":
                    self.noise.render_vm(vms.noise_table(state, ducts, found), state.selection.of("terminal"), units)
                    self.drawer.set_note("first level: octave bands, silencer and bends by default figures")
                else:
                    self.noise.render_vm(
                        vms.note_table("Noise", "Sound is followed from the supply fan to the rooms"), (), units
                    )
            case _:
                self._answered(state, page)

    def _render_plan(self, state: State, ducts: DuctResult) -> None:
        """The level with the path to the terminal that is pointed at or chosen, else the index run; ducts by how their
        flow stands to design.
        """
        chosen = self._lit or next((i for i in state.selection.of("terminal")), "") or ducts.index.terminal_id
        end = next((t for t in ducts.terminals if t.terminal_id == chosen), ducts.index)
        flows = vms.real(state)
        fills = {}
        for i, r in ducts.segments.items():
            share = (
                flows.segments[i] / r.flow_m3s if flows is not None and i in flows.segments and r.flow_m3s > 0 else 1.0
            )
            fills[i] = map_colour("diverging", 0.5 + 0.5 * max(-1.0, min(1.0, (share - 1) / vms.SWING)))
        room = find(state.project.rooms, end.room_id)
        style = layers.PlanStyle(
            {},
            {r.id: (r.number, r.name) for r in state.project.rooms},
            frozenset(r.id for r in state.project.rooms if not r.system_id),
            ducts=True,
            duct_fills=fills if state.show.what.any else {},
            index_run=ducts.path(end.segment_id),
            units=state.show.units,
            labels="none",
        )
        self.plan.render_state(
            state, style, room.level_id if self._lit or state.selection.of("terminal") else state.show.level_id
        )
        self.drawer.set_note(
            f"path to {end.label}" + (", ducts by real against designed flow" if state.show.what.any else "")
        )

    def _pointed(self, terminal_id: str) -> None:
        self.table.light(terminal_id)
        self._lit = terminal_id
        if self.drawer.head.tabs[self.drawer.head.now] == "Plan" and self.session.results is not None:
            self.session.changed.emit()

    def _run(self, state: State) -> None:
        if not state.known:
            return
        at = case_in(state.results, state.show.system_id)
        if isinstance(at, Missing):
            return
        chosen = next(
            (t for t in at.ducts.terminals if t.terminal_id in state.selection.of("terminal")), at.ducts.index
        )
        self.run.render_vm(
            vms.step_table(state, run_of(at, chosen, state.show.what.filter)),
            (chosen.terminal_id, *state.selection.of("segment")),
            state.show.units,
        )
        self.drawer.set_note(f"at design flow, to {chosen.label}{' and back' if at.leaving else ''}")

    def _answered(self, state: State, page: str) -> None:
        """Pages whose figures take longer: asked for when they are in front, shown when they are there."""
        asked = (
            state.found,
            state.show.system_id,
            page,
            self.twice.isChecked()
            if page == "Commissioning"
            else state.show.what
            if page == "Most effective changes"
            else None,
        )
        known = self._found.get(page)
        if known is None or known[0] != asked:
            known = self._found[page] = (asked, None)
            self._worker.submit(asked)
        found = known[1]
        table = {"Commissioning": self.sheet, "Balance by resizing": self.ways, "Most effective changes": self.changes}[
            page
        ]
        self.take_sizes.setEnabled(page == "Balance by resizing" and isinstance(found, Resized) and bool(found.sizes))
        if found is None or isinstance(found, Missing):
            table.render_vm(
                vms.note_table(
                    page,
                    f"Computing … {self._busy[1]:.0%}"
                    if found is None
                    else f"{found.reason.capitalize()}. {found.remedy}.",
                ),
                (),
                state.show.units,
            )
            return
        if page == "Commissioning":
            table.render_vm(
                vms.sheet_table(state, found),
                (*state.selection.of("terminal"), *state.selection.of("segment")),
                state.show.units,
            )
            turn = (
                f"then the fan to {found.speed_ratio * 100:.1f} % of its speed"
                if abs(found.speed_ratio - 1) > 0.0005
                else "the fan stays as it turns"
            )
            self.drawer.set_note(f"simulated by {found.solves} solves, {turn}; within ±{found.spread * 100:.1f} %")
        elif page == "Balance by resizing":
            table.render_vm(vms.ways_table(state, found), (), state.show.units)
            self.drawer.set_note(f"{len(found.sizes)} ducts smaller, no run above the index run")
        else:
            table.render_vm(vms.change_table(state, found), (), state.show.units)
            self.drawer.set_note(f"as found: {state.show.what.words}; a double click makes the change")

    # -- background ----------------------------------------------------------------------------------------------
    def _work(self, asked: tuple, stopped: Callable[[], bool]) -> tuple:
        results, system_id, page, extra = asked

        def told(share: float) -> None:
            if stopped():
                raise Cancelled
            self._busy = (page, share)

        match page:
            case "Commissioning":
                at = case_in(results, system_id)
                return asked, at if isinstance(at, Missing) else commissioning(at, 2 if extra else 1, told)
            case "Balance by resizing":
                return asked, resize(results, system_id, told)
            case _:
                return asked, check(results, system_id, extra, told)

    def _on_found(self, answer: tuple) -> None:
        page = answer[0][2]
        if self._found.get(page, (None,))[0] == answer[0]:
            self._found[page] = answer
            self.session.changed.emit()

    @property
    def working(self) -> bool:
        return not self._worker.idle

    def close_work(self) -> None:
        self._worker.close()

    # -- what-ifs ------------------------------------------------------------------------------------------------
    def _what(self, **changes) -> None:
        self.session.set_show(what=replace(self.session.show.what, **changes))

    def _speed(self, field: QLineEdit) -> None:
        text = field.text().strip().rstrip("%").strip()
        try:
            value = float(text.replace(",", ".")) / 100 if text else 1.0
        except ValueError:
            value = float("nan")
        if LEAST_SPEED <= value <= MOST_SPEED:
            self._what(speed=round(value, 4))
        else:
            self.refused.emit(f"The fan turns at {LEAST_SPEED:.0%} to {MOST_SPEED:.0%} of its speed")

    def _air(self, field: QLineEdit) -> None:
        if not field.text().strip():
            self._what(air_c=None)
            return
        try:
            value = parse(field.text(), "temperature", self.session.show.units)
            if not -20 <= value <= 60:
                raise InputError("Air in ducts lies between −20 and 60 °C")
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return
        self._what(air_c=value)

    def _segment(self, state: State) -> str:
        """The duct that is selected, or that of the selected terminal."""
        chosen = state.selection.of("segment")
        if chosen:
            return chosen[0]
        ducts = state.results.network(state.show.system_id) if state.known else None
        own = (
            next((t for t in ducts.terminals if t.terminal_id in state.selection.of("terminal")), None)
            if isinstance(ducts, DuctResult)
            else None
        )
        return own.segment_id if own is not None else ""

    def _room(self, state: State) -> str:
        chosen = state.selection.of("room")
        if chosen:
            return chosen[0]
        terminal = find(state.project.terminals, next(iter(state.selection.of("terminal")), ""))
        return terminal.room_id if terminal is not None else ""

    def _shut(self) -> None:
        segment, shut = self._segment(self.session.state), self.session.show.what.shut
        if segment:
            self._what(shut=tuple(s for s in shut if s != segment) if segment in shut else (*shut, segment))

    def _door(self) -> None:
        room, doors = self._room(self.session.state), self.session.show.what.doors
        if room:
            self._what(doors=tuple(r for r in doors if r != room) if room in doors else (*doors, room))

    # -- edits ---------------------------------------------------------------------------------------------------
    def _pulled(self, terminal_id: str, surplus_pa: float, gesture: int) -> None:
        """The dot of a terminal was dragged: its damper is pinned where it takes what stands above nothing then."""
        command = pinned_for(self.session.state.results, self.session.show.system_id, terminal_id, surplus_pa)
        if isinstance(command, Missing):
            remedy = in_units(command.remedy, self.session.show.units)
            self.refused.emit(f"{command.reason.capitalize()}. {remedy}.")
        else:
            self.session.do(command, gesture)

    def _take_sizes(self) -> None:
        found = self._found.get("Balance by resizing", (None, None))[1]
        if isinstance(found, Resized) and found.sizes:
            self.intent.emit(
                SetSizes(tuple((s, z.shape, z.width_m, z.height_m) for s, z in sorted(found.sizes.items())))
            )

    def _make_change(self, row: int) -> None:
        found = self._found.get("Most effective changes", (None, None))[1]
        if not isinstance(found, Check) or not 0 <= row < len(found.changes):
            return
        change = found.changes[row]
        if change.command is None:
            self.refused.emit(f"{change.words}: this is done on site, the drawing holds it already")
        else:
            self.intent.emit(change.command)
