"""Ducts: the plan with ducts at true width; draw a run; tables of segments and runs."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QKeySequence, QShortcut

from garnetfin import display
from garnetfin.core.errors import Cancelled
from garnetfin.engine.duct_methods import METHODS, compare
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.project.edits.ducts import RemoveDucts
from garnetfin.project.edits.systems import SetSystemChoice
from garnetfin.ui.bridge import Newest
from garnetfin.ui.frame.controls import Switch, ToolButton
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.frame.table import Table
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.duct_tools import DrawDuct
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models.ducts import fitting_table, method_table, take_off_table, the_ducts
from garnetfin.ui.view_models.tables import TableVM, run_table, segment_table
from garnetfin.ui.views.base import View

# What ducts are coloured by: (key, words, quantity).
FIELDS = (("velocity", "Velocity", "velocity"), ("friction", "Friction", "friction"), ("pressure", "Pressure", "pressure"),
          ("size", "Size", "duct_size"))


class DuctsView(View):
    HINT = "Click a duct or terminal; Shift adds. A rung of the ladder pins a size; Alt click lets the rule decide."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.colour_by = "air"
        self.select_tool = ToolButton("select", "Select (Esc)", checkable=True)
        self.draw_tool = ToolButton("duct", "Draw a duct (D)", checkable=True)
        self.fit_tool = ToolButton("find", "Show the whole plan (F)")
        self.undo_tool = ToolButton("undo", "Undo (Ctrl+Z)")
        self.select_tool.setChecked(True)
        for tool in (self.select_tool, self.draw_tool, self.fit_tool, self.undo_tool):
            self.tools.add(tool)
        self.select_tool.clicked.connect(lambda: self.use_tool(False))
        self.draw_tool.clicked.connect(lambda: self.use_tool(True))
        self.fit_tool.clicked.connect(lambda: self.plan.fit())
        self.undo_tool.clicked.connect(session.undo)
        self.colour_strip = self.tools.add_strip(
            "Colour by", (("air", "Air"), *((k, label) for k, label, _ in FIELDS)), self._colour)
        self.shape_strip = self.tools.add_strip("", (("round", "Round"), ("rectangular", "Rectangular")), self._shape)
        self.terminal_switch = Switch("end in a terminal")
        self.terminal_switch.setChecked(True)
        self.terminal_switch.toggled.connect(lambda on: self._shape(self.shape_strip.now))
        self.tools.add(self.terminal_switch, 10)
        self.plan = PlanCanvas()
        self.plan.picked.connect(self.pick)
        self.plan.intent.connect(self.intent)
        self.plan.hint.connect(self.hint)
        self.segments, self.runs, self.fittings = Table(), Table(row_height=19), Table(row_height=19)
        for table in (self.segments, self.runs, self.fittings):
            table.picked.connect(self.pick)
        self.methods, self.bill = Table(row_height=26), Table(row_height=19)
        self.methods.picked.connect(self._method)
        self._compared: tuple = (None, None)                 # results and system, and what came of them
        self._comparer = Newest(self._compare, "ways of sizing", self)
        self._comparer.ready.connect(self._on_compared)
        self.drawer = Drawer((("Segments", self.segments), ("Runs", self.runs), ("Fittings", self.fittings), ("Ways of sizing", self.methods),
                              ("Take-off", self.bill)))
        self.drawer.chosen.connect(lambda i: session.changed.emit())
        self.set_main(MainAndDrawer(self.plan, self.drawer, 200))
        for keys, on in (("D", lambda: self.use_tool(True)), ("Escape", self._escape), ("Delete", self.remove_selected)):
            QShortcut(QKeySequence(keys), self.plan, on).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.use_tool(False)

    def render_state(self, state: State) -> None:
        ducts = the_ducts(state)
        known = isinstance(ducts, DuctResult)
        self.plan.legend = self._legend(state, ducts) if known else ()
        self.plan.render_state(state, self._style(state, ducts), state.show.level_id)
        nothing = TableVM((), ())
        match self.drawer.head.tabs[self.drawer.head.now]:
            case "Segments":
                self.segments.render_vm(segment_table(state, ducts) if known else nothing, state.selection.of("segment"), state.show.units)
            case "Runs":
                self.runs.render_vm(run_table(state, ducts) if known else nothing, state.selection.of("terminal"), state.show.units)
            case "Fittings":
                self.fittings.render_vm(fitting_table(state, ducts) if known else nothing, state.selection.of("segment"), state.show.units)
            case "Ways of sizing":
                self._render_methods(state)
            case "Take-off":
                self.bill.render_vm(take_off_table(state, ducts) if known else nothing, (), state.show.units)
        self.undo_tool.setEnabled(bool(self.session.undo_label))
        if known:
            limit = state.results.air[state.show.system_id].figures.friction_pa_m.figure
            method = dict(METHODS)[state.system.sizing].lower()
            self.tools.note.set_words(f"{method}, {display.with_unit('friction', limit, state.show.units)}" if state.system.sizing == "friction" else method)
            self.drawer.set_note(f"{len(ducts.segments)} segments, {display.with_unit('mass', ducts.mass_kg, state.show.units)}")
        else:
            self.tools.note.set_words(ducts.remedy)
            self.drawer.set_note(ducts.reason)

    def _style(self, state: State, ducts: DuctResult | Missing) -> layers.PlanStyle:
        lines, hatched, fills = {}, set(), {}
        for room in state.project.rooms:
            lines[room.id] = (room.number, room.name)
            if not room.system_id:
                hatched.add(room.id)
                fills[room.id] = theme.colour("paper")
        colours: dict[str, QColor] = {}
        index: tuple[str, ...] = ()
        if isinstance(ducts, DuctResult):
            index = ducts.path(ducts.index.segment_id)
            if self.colour_by != "air":
                low, high = self._span(ducts)
                colours = {i: map_colour("amount", 0.08 + 0.9 * (self._value(s) - low) / max(1e-9, high - low))
                           for i, s in ducts.segments.items()}
        return layers.PlanStyle(fills, lines, frozenset(hatched), ducts=True, duct_fills=colours, index_run=index,
                                units=state.show.units)

    def _value(self, s) -> float:
        return {"velocity": s.velocity_m_s, "friction": s.friction_pa_m, "pressure": s.left_pa if s.left_pa == s.left_pa else 0.0,
                "size": s.section.area_m2**0.5}[self.colour_by]

    def _span(self, ducts: DuctResult) -> tuple[float, float]:
        values = [self._value(s) for s in ducts.segments.values()]
        return (0.0 if self.colour_by != "size" else min(values)), max(values)

    def _legend(self, state: State, ducts: DuctResult) -> tuple:
        units = state.show.units
        if self.colour_by == "air":
            return ((theme.colour("supply_fill"), "Supply"), (_dashes, "index run"), (_beam, "beam or tray"),
                    (None, f"flows in {display.unit('room_flow', units)}"))
        low, high = self._span(ducts)
        quantity = next(q for k, _, q in FIELDS if k == self.colour_by)
        return tuple((map_colour("amount", 0.08 + 0.9 * k / 4), display.with_unit(quantity, low + (high - low) * k / 4, units))
                     for k in range(5))

    def _colour(self, key: str) -> None:
        self.colour_by = key
        self.session.changed.emit()

    # -- ways of sizing ------------------------------------------------------------------------------------------
    def _render_methods(self, state: State) -> None:
        asked, found = self._compared
        if asked is None or asked[0] is not state.results or asked[1] != state.show.system_id:
            self._compared, found = ((state.results, state.show.system_id), None), None
            if state.results is not None:
                self._comparer.submit(self._compared[0])
        self.methods.render_vm(method_table(state, found), (state.system.sizing,) if state.system else (), state.show.units)

    @staticmethod
    def _compare(asked: tuple, stopped) -> tuple:
        def told(share: float) -> None:
            if stopped():
                raise Cancelled
        return asked, compare(*asked, told)

    def _on_compared(self, answer: tuple) -> None:
        if answer[0] is self._compared[0]:
            self._compared = answer
            self.session.changed.emit()

    def _method(self, kind: str, ids: tuple) -> None:
        if kind == "method" and self.session.state.system and ids[0] != self.session.state.system.sizing:
            self.intent.emit(SetSystemChoice(self.session.show.system_id, "sizing", ids[0]))

    def close_work(self) -> None:
        self._comparer.close()

    # -- tools ---------------------------------------------------------------------------------------------------
    def use_tool(self, drawing: bool) -> None:
        self.select_tool.setChecked(not drawing)
        self.draw_tool.setChecked(drawing)
        self.shape_strip.setVisible(drawing)
        self.terminal_switch.setVisible(drawing)
        self.plan.tool = DrawDuct(self.plan, self.shape_strip.now, self.terminal_switch.isChecked()) if drawing else None
        if not drawing:
            self.plan.unsetCursor()
            self.hint.emit(self.HINT)
        self.plan.setFocus()
        self.plan.update()

    def _shape(self, shape: str) -> None:
        if self.plan.tool is not None:
            self.plan.tool.shape, self.plan.tool.with_terminal = shape, self.terminal_switch.isChecked()

    def _escape(self) -> None:
        if self.plan.tool is not None:
            self.use_tool(False)
        else:
            self.session.select()

    def remove_selected(self) -> None:
        chosen = self.session.selection
        if chosen.kind in ("segment", "terminal"):
            self.intent.emit(RemoveDucts(chosen.of("segment"), chosen.of("terminal")))
            self.session.select()

    def leave(self) -> None:
        self.use_tool(False)


def _dashes(p, box) -> None:
    dashed = layers.pen(theme.colour("garnet"), 1.3)
    dashed.setDashPattern([4, 3])
    p.setPen(dashed)
    p.drawLine(box.left() - 8, box.center().y(), box.right(), box.center().y())


def _beam(p, box) -> None:

    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(layers.pen(theme.colour("faint"), 0.9, Qt.PenStyle.DashLine))
    p.drawRect(box)
