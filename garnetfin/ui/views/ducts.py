"""Ducts: the plan with ducts at true width; draw a run; tables of segments and runs."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QKeySequence, QShortcut
from PySide6.QtWidgets import QLineEdit, QSplitter, QStackedWidget

from garnetfin import display
from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.core.units import parse
from garnetfin.engine.layout.duct_methods import METHODS, compare
from garnetfin.engine.layout.placing import placing
from garnetfin.engine.layout.routes import ask
from garnetfin.engine.results import DuctResult, Missing, there
from garnetfin.project.ducts import Air
from garnetfin.project.edits.ceilings import RemoveCeilingParts
from garnetfin.project.edits.duct_runs import RemoveDucts
from garnetfin.project.edits.duct_shape import MoveDucts
from garnetfin.project.edits.inline import RemoveInline
from garnetfin.project.edits.systems import SetSystemChoice
from garnetfin.project.inline import KINDS
from garnetfin.project.lookup import find
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.long_section import SectionChart
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.duct_clicks import CeilingTool, JoinTool, MergeDuctTool, PartTool, SplitDuctTool
from garnetfin.ui.plan.duct_select import DuctHand
from garnetfin.ui.plan.duct_tools import DrawDuct, Drawing
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models.duct_tables import fitting_table, method_table, regain_table, section_vm, take_off_table
from garnetfin.ui.view_models.ducts import the_ducts
from garnetfin.ui.view_models.tables import TableVM, run_table, segment_table
from garnetfin.ui.views.base import View
from garnetfin.ui.views.routes import RoutesPage
from garnetfin.ui.widgets.controls import Switch, TextButton, ToolButton, ToolRow
from garnetfin.ui.widgets.table import Table

# What ducts are coloured by: (key, words, quantity).
FIELDS = (
    ("velocity", "Velocity", "velocity"),
    ("friction", "Friction", "friction"),
    ("pressure", "Pressure", "pressure"),
    ("size", "Size", "duct_size"),
    ("noise", "Noise", "noise"),
    ("class", "Class", "pressure"),
)
CLASS_COLOURS = {"A": "outdoor_fill", "B": "supply_fill", "C": "return_fill", "D": "exhaust_fill"}
SHAPES = (("round", "Round"), ("rectangular", "Rectangular"), ("oval", "Oval"))
SIDES = (("centre", "Axis"), ("top", "Top"), ("bottom", "Bottom"), ("left", "Left"), ("right", "Right"))
ANGLES = (("15", "15°"), ("30", "30°"), ("45", "45°"), ("90", "90°"))
LABELS = (("none", "No labels"), ("size", "Size"), ("flow", "+ flow"), ("height", "+ height"))
TOOLS = (
    ("draw", "duct", "Draw a duct (D)"),
    ("join", "join", "Join two open ends (J)"),
    ("split", "split", "Split a duct (X)"),
    ("merge", "merge", "Merge a short piece (M)"),
    ("part", "damper", "Put a part into a duct (I)"),
    ("zone", "zone", "Ceiling zone (C)"),
    ("beam", "beam", "Obstacle (B)"),
)


AIRS = (("supply", "Supply"), ("return", "Return"), ("extract", "Extract"), ("outdoor", "Outdoor"))


class DuctsView(View):
    HINT = (
        "Click a duct; Shift adds. Drag it: what hangs on it follows. PgUp and PgDn move it in height. Click "
        "a size to pin it."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.colour_by = "air"
        self.drawing = Drawing()
        # proposals to be asked for again after an edit; for which terminals
        self._again, self._asked_for = False, ()
        self.select_tool = ToolButton("select", "Select and move (Esc)", checkable=True)
        self.tools.add(self.select_tool)
        self.select_tool.clicked.connect(lambda: self.use_tool(""))
        self.tool_buttons: dict[str, ToolButton] = {}
        for name, icon, tip in TOOLS:
            self.tool_buttons[name] = self.tools.add(ToolButton(icon, tip, checkable=True))
            self.tool_buttons[name].clicked.connect(lambda _=False, n=name: self.use_tool(n))
        self.draw_tool = self.tool_buttons["draw"]
        self.fit_tool = ToolButton("find", "Show the whole plan (F)")
        self.undo_tool = ToolButton("undo", "Undo (Ctrl+Z)")
        for tool in (self.fit_tool, self.undo_tool):
            self.tools.add(tool)
        self.fit_tool.clicked.connect(self.fit_plan)
        self.undo_tool.clicked.connect(session.undo)
        self.air_strip = self.tools.add_strip("", AIRS, self._air)
        self.propose_button = TextButton("Propose routes", filled=True)
        self.propose_button.setToolTip("Complete layouts for the terminals chosen, or for all of this level (P)")
        self.propose_button.clicked.connect(self.propose)
        self.looks = ToolRow()  # how ducts are shown
        self.colour_strip = self.looks.add_strip(
            "Colour", (("air", "Air"), *((k, label) for k, label, _ in FIELDS)), self._colour
        )
        self.label_strip = self.looks.add_strip("", LABELS, lambda key: self._look())
        self.label_strip.set_now("size")
        self.single, self.joints, self.zones, self.others, self.beside = (
            Switch("lines"),
            Switch("joints"),
            Switch("ceiling"),
            Switch("others"),
            Switch("next level"),
        )
        self.others.setToolTip("Ducts, pipes, trays and beams that came from files")
        self.others.setChecked(True)
        for switch, row in (
            (self.single, self.looks),
            (self.joints, self.looks),
            (self.zones, self.tools),
            (self.others, self.tools),
            (self.beside, self.tools),
        ):
            row.add(switch, 10)
            switch.toggled.connect(lambda on: self._look())
        self.tools.add(self.propose_button, 12)
        self.options = ToolRow()  # how the next run is drawn
        self.shape_strip = self.options.add_strip("", SHAPES, self._shape)
        self.side_strip = self.options.add_strip("", SIDES, lambda key: self._draw_as(side=key))
        self.angle_strip = self.options.add_strip("", ANGLES, lambda key: self._draw_as(angle_deg=float(key)))
        self.angle_strip.set_now("90")
        self.side_strip.setToolTip("The side that stays flat where the size changes")
        self.angle_strip.setToolTip("Runs go at multiples of this angle")
        self.angle_field = self.options.add_field("own °", 44, "An angle of your own, 1 to 90 degrees", self._angle)
        self.height_field = self.options.add_field(
            "axis at", 58, "Height of the axis above the floor; empty: as the level's ducts", self._height
        )
        self.slope_field = self.options.add_field("fall %", 46, "Fall of the run, per cent of its length", self._slope)
        self.terminal_switch = Switch("terminal")
        self.terminal_switch.setToolTip("A free end in a room becomes a terminal")
        self.terminal_switch.setChecked(True)
        self.terminal_switch.toggled.connect(lambda on: self._draw_as(with_terminal=on))
        self.soft_switch = Switch("flexible")
        self.soft_switch.toggled.connect(lambda on: self._draw_as(soft_end=on))
        self.options.add(self.terminal_switch, 8)
        self.options.add(self.soft_switch, 8)
        self.part_options = ToolRow()  # which part goes into ducts
        self.part_strip = self.part_options.add_strip("", tuple((k, k.capitalize()) for k in KINDS), self._part_kind)
        self.part_strip.set_now(KINDS[0])
        for row in (self.looks, self.options, self.part_options):
            row.setFixedHeight(32)
            self._column.addWidget(row)
        self.plan = PlanCanvas()
        self.plan.picked.connect(self.pick)
        self.plan.intent.connect(self.intent)
        self.plan.hint.connect(self.hint)
        self.plan.hand = DuctHand(self.plan)
        self.other = PlanCanvas()  # the next level, beside
        self.other.picked.connect(self.pick)
        self.other.intent.connect(self.intent)
        self.other.hand = DuctHand(self.other)
        self.other.setVisible(False)
        plans = QSplitter(Qt.Orientation.Horizontal)
        plans.addWidget(self.plan)
        plans.addWidget(self.other)
        plans.setChildrenCollapsible(False)
        self._plans = plans
        self.segments, self.runs, self.fittings = Table(), Table(row_height=19), Table(row_height=22)
        for table in (self.segments, self.runs, self.fittings):
            table.picked.connect(self.pick)
        self.methods, self.bill, self.regain = Table(row_height=26), Table(row_height=22), Table(row_height=22)
        self.regain.picked.connect(self.pick)
        self.methods.picked.connect(self._method)
        self._compared: tuple = (None, None)  # results and system, and what came of them
        self._comparer = Newest(self._compare, "ways of sizing", self)
        self._comparer.ready.connect(self._on_compared)
        self.section = SectionChart()
        self.section.picked.connect(lambda i: self.pick("segment", (i,)))
        self.section.removed.connect(self.remove_selected)
        self.section.lifted.connect(lambda i, dz: self.intent.emit(MoveDucts((i,), 0.0, 0.0, dz)))
        self.drawer = Drawer(
            (
                ("Segments", self.segments),
                ("Runs", self.runs),
                ("Fittings", self.fittings),
                ("Sizing methods", self.methods),
                ("Regain", self.regain),
                ("Take-off", self.bill),
                ("Long section", self.section),
            )
        )
        self.drawer.chosen.connect(lambda i: session.changed.emit())
        self.routes = RoutesPage()
        self.routes.closed.connect(lambda: self._show_routes(False))
        self.routes.taken.connect(self._take_route)
        self.routes.changed.connect(session.changed)
        self.routes.said.connect(self.refused)
        self.routes.placing_asked.connect(self._place_terminals)
        self.routes.mend_asked = self._mend_route
        self._pages = QStackedWidget()
        self._pages.addWidget(MainAndDrawer(plans, self.drawer, 200))
        self._pages.addWidget(self.routes)
        self.set_main(self._pages)
        QShortcut(QKeySequence("P"), self.plan, self.propose).setContext(Qt.ShortcutContext.WidgetShortcut)
        keys = (
            ("D", "draw"),
            ("J", "join"),
            ("X", "split"),
            ("M", "merge"),
            ("I", "part"),
            ("C", "zone"),
            ("B", "beam"),
        )
        for canvas in (self.plan, self.other):
            for key, on in (
                *((k, lambda n=name: self.use_tool(n)) for k, name in keys),
                ("Escape", self._escape),
                ("Delete", self.remove_selected),
            ):
                QShortcut(QKeySequence(key), canvas, on).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.use_tool("")

    def render_state(self, state: State) -> None:
        if self._again and self.proposing and not state.stale:
            self._again = False
            self.routes.ask(
                state, ask(state.results, state.show.system_id, state.show.air, state.show.level_id, self._asked_for)
            )
        self.air_strip.set_now(state.show.air)
        ducts = the_ducts(state)
        found = ducts if isinstance(ducts, DuctResult) else None
        self.plan.legend = self._legend(state, found) if found is not None else ()
        style = self._style(state, ducts)
        self.others.setVisible(any(o.source for o in state.project.obstacles))
        self.plan.render_state(state, style, state.show.level_id)
        if self.beside.isChecked():
            self.other.render_state(state, style, self._next_level(state))
        for canvas in (self.plan, self.other):
            level = find(state.project.levels, canvas.level_id)
            canvas.caption = level.name if self.beside.isChecked() and level is not None else ""
        self._render_drawer(state, ducts)
        self.undo_tool.setEnabled(bool(self.session.undo_label))
        self._render_notes(state, ducts)

    def _render_drawer(self, state: State, ducts: DuctResult | Missing) -> None:
        """The page of the drawer that is seen, and no other."""
        found, units, nothing = ducts if isinstance(ducts, DuctResult) else None, state.show.units, TableVM((), ())
        chosen, ends = state.selection.of("segment"), state.selection.of("terminal")
        match self.drawer.head.tabs[self.drawer.head.now]:
            case "Segments":
                self.segments.render_vm(segment_table(state, found) if found else nothing, chosen, units)
            case "Runs":
                self.runs.render_vm(run_table(state, found) if found else nothing, ends, units)
            case "Fittings":
                self.fittings.render_vm(fitting_table(state, found) if found else nothing, chosen, units)
            case "Sizing methods":
                self._render_methods(state)
            case "Long section":
                self.section.render_vm(section_vm(state, ducts))
            case "Regain":
                self.regain.render_vm(regain_table(state, found) if found else nothing, chosen, units)
            case "Take-off":
                self.bill.render_vm(take_off_table(state, found) if found else nothing, (), units)

    def _render_notes(self, state: State, ducts: DuctResult | Missing) -> None:
        """The method and what there is in one line each; what is missing instead."""
        if isinstance(ducts, Missing):
            self.tools.note.set_words(ducts.remedy)
            self.drawer.set_note(ducts.reason)
            return
        units = state.show.units
        limit = there(state.results.air[state.show.system_id]).figures.friction_pa_m.figure
        method = dict(METHODS)[state.system.sizing].lower()
        rate = f"{method}, {display.with_unit('friction', limit, units)}"
        self.tools.note.set_words(rate if state.system.sizing == "friction" else method)
        self.drawer.set_note(f"{len(ducts.segments)} segments, {display.with_unit('mass', ducts.mass_kg, units)}")

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
                colours = {
                    i: map_colour("amount", 0.08 + 0.9 * (self._value(s) - low) / max(1e-9, high - low))
                    for i, s in ducts.segments.items()
                }
                if self.colour_by == "class":
                    colours = {i: theme.colour(CLASS_COLOURS[s.tightness]) for i, s in ducts.segments.items()}
        return layers.PlanStyle(
            fills,
            lines,
            frozenset(hatched),
            ducts=True,
            duct_fills=colours,
            index_run=index,
            units=state.show.units,
            zones=self.zones.isChecked(),
            others=self.others.isChecked(),
            labels=self.label_strip.now,
            single=self.single.isChecked(),
            joints=self.joints.isChecked(),
        )

    @staticmethod
    def _next_level(state: State) -> str:
        """The level above the one shown, or the one below the topmost."""
        ranked = sorted(state.project.levels, key=lambda x: x.elevation_m)
        at = next((i for i, x in enumerate(ranked) if x.id == state.show.level_id), 0)
        return ranked[at + 1 if at + 1 < len(ranked) else at - 1].id if len(ranked) > 1 else state.show.level_id

    def _value(self, s) -> float:
        return {
            "velocity": s.velocity_m_s,
            "friction": s.friction_pa_m,
            "pressure": s.left_pa if s.left_pa == s.left_pa else 0.0,
            "size": s.section.area_m2**0.5,
            "noise": s.noise_db,
            "class": abs(s.static_pa),
        }[self.colour_by]

    def _span(self, ducts: DuctResult) -> tuple[float, float]:
        values = [self._value(s) for s in ducts.segments.values()]
        return (0.0 if self.colour_by not in ("size", "noise") else min(values)), max(values)

    def _legend(self, state: State, ducts: DuctResult) -> tuple:
        units = state.show.units
        if self.colour_by == "air":
            others = tuple(
                (theme.colour(f"{fill}_fill"), name)
                for air, fill, name in (
                    ("return", "return", "Return"),
                    ("extract", "exhaust", "Extract"),
                    ("outdoor", "outdoor", "Outdoor"),
                )
                if any(d.air == air for d in state.results.networks(state.show.system_id))
            )
            return (
                (theme.colour("supply_fill"), "Supply"),
                *others,
                (_dashes, "index run"),
                (_beam, "beam or tray"),
                (None, f"flows in {display.unit('room_flow', units)}"),
            )
        if self.colour_by == "class":
            used = sorted({r.tightness for r in ducts.segments.values()})
            return tuple((theme.colour(CLASS_COLOURS[k]), f"class {k}") for k in used)
        low, high = self._span(ducts)
        quantity = next(q for k, _, q in FIELDS if k == self.colour_by)
        return tuple(
            (map_colour("amount", 0.08 + 0.9 * k / 4), display.with_unit(quantity, low + (high - low) * k / 4, units))
            for k in range(5)
        )

    def _air(self, air: str) -> None:
        """Whose ducts are drawn and listed."""
        if self.plan.tool is not None:
            self.plan.tool.air = air
        self.session.set_show(air=air)

    def _colour(self, key: str) -> None:
        self.colour_by = key
        self.session.changed.emit()

    # -- ways of sizing ------------------------------------------------------------------------------------------
    def _render_methods(self, state: State) -> None:
        asked, found = self._compared
        if asked is None or asked[0] is not state.found or asked[1] != state.show.system_id:
            self._compared, found = ((state.found, state.show.system_id), None), None
            if state.known:
                self._comparer.submit(self._compared[0])
        self.methods.render_vm(
            method_table(state, found), (state.system.sizing,) if state.system else (), state.show.units
        )

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
        self.routes.close_work()
        self._comparer.close()

    # -- route proposals -----------------------------------------------------------------------------------------
    @property
    def proposing(self) -> bool:
        return self._pages.currentWidget() is self.routes

    def propose(self) -> None:
        """For the terminals chosen, those beyond the ducts chosen, or all of the level."""
        state = self.session.state
        if not state.known or state.system is None:
            return
        wanted = state.selection.of("terminal")
        network = the_ducts(state)
        if state.selection.kind == "segment" and isinstance(network, DuctResult):
            chosen = set(state.selection.ids)
            wanted = tuple(t.terminal_id for t in network.terminals if chosen & set(network.path(t.segment_id)))
        self.use_tool("")
        self._asked_for = wanted
        self._show_routes(True)
        self.routes.ask(state, ask(state.results, state.show.system_id, state.show.air, state.show.level_id, wanted))

    def _place_terminals(self, room_ids: tuple[str, ...], air: Air) -> None:
        """Terminals for the rooms that want some, then the same question anew."""
        found = placing(self.session.state.results, room_ids, air)
        if found.failed:
            reason, numbers = found.failed[0]
            self.refused.emit(f"No {air} terminals in {', '.join(numbers[:6])}: {reason}")
        if found.command is not None:
            self._again, self._asked_for = True, ()
            self.intent.emit(found.command)

    def _show_routes(self, on: bool) -> None:
        self._pages.setCurrentIndex(1 if on else 0)
        self.tools.setVisible(not on)
        self.looks.setVisible(not on)
        self.session.changed.emit()

    def _take_route(self, command) -> None:
        self.intent.emit(command)
        self._show_routes(False)
        self.hint.emit("Route taken: edit it like anything else; undo brings the old one back")

    def _mend_route(self, command) -> None:
        """The edit is made; the same is asked again once it is computed."""
        self.intent.emit(command)
        self._again = True

    # -- tools ---------------------------------------------------------------------------------------------------
    def fit_plan(self) -> None:
        """Show the whole plan."""
        self.plan.fit()

    def use_tool(self, name: str) -> None:
        """Take a tool in hand by its name in TOOLS; "" puts it away."""
        self.select_tool.setChecked(not name)
        for known, button in self.tool_buttons.items():
            button.setChecked(known == name)
        self.options.setVisible(name == "draw")
        self.part_options.setVisible(name == "part")
        self.looks.setVisible(name not in ("draw", "part"))
        canvas = self.plan
        match name:
            case "draw":
                canvas.tool = DrawDuct(canvas, self.drawing, self.session.show.air)
                canvas.tool.on_height = lambda h: self.height_field.setText(display.number(h, 2))
            case "join":
                canvas.tool = JoinTool(canvas)
            case "split":
                canvas.tool = SplitDuctTool(canvas)
            case "merge":
                canvas.tool = MergeDuctTool(canvas)
            case "part":
                canvas.tool = PartTool(canvas, self.part_strip.now)
            case "zone" | "beam":
                self.zones.setChecked(True)
                canvas.tool = CeilingTool(canvas, name)
            case _:
                canvas.tool = None
                canvas.unsetCursor()
                self.hint.emit(self.HINT)
        canvas.setFocus()
        canvas.update()

    def _part_kind(self, _kind: str) -> None:
        self.use_tool("part")

    def _draw_as(self, **changes) -> None:
        for name, value in changes.items():
            setattr(self.drawing, name, value)

    def _shape(self, shape: str) -> None:
        self._draw_as(shape=shape)

    def _look(self) -> None:
        if self.other.isHidden() == self.beside.isChecked():
            self.other.setVisible(self.beside.isChecked())
            self._plans.setSizes([1000, 1000])
            self.plan.refit()
            self.other.refit()
        self.session.changed.emit()

    def _angle(self, field: QLineEdit) -> None:
        value = self._number(field, 1, 90, "An angle lies between 1 and 90 degrees")
        if value is not None:
            self._draw_as(angle_deg=value)
            self.angle_strip.set_now(f"{value:g}")

    def _height(self, field: QLineEdit) -> None:
        if not field.text().strip():
            self._draw_as(height_m=None)
            return
        try:
            value = parse(field.text(), "length", self.session.show.units)
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return
        if -10 <= value <= 100:
            self._draw_as(height_m=value)
        else:
            self.refused.emit("The axis lies between 10 m below the floor and 100 m above it")

    def _slope(self, field: QLineEdit) -> None:
        value = self._number(field, -20, 20, "A fall lies between −20 and 20 %", 0.0)
        if value is not None:
            self._draw_as(slope=value / 100)

    def _number(
        self, field: QLineEdit, low: float, high: float, wrong: str, empty: float | None = None
    ) -> float | None:
        if not field.text().strip():
            return empty
        try:
            value = float(field.text().replace(",", ".").replace("−", "-"))
        except ValueError:
            value = float("nan")
        if low <= value <= high:
            return value
        self.refused.emit(wrong)
        return None

    def _escape(self) -> None:
        if self.plan.tool is not None:
            self.use_tool("")
        else:
            self.session.select()

    def remove_selected(self) -> None:
        chosen = self.session.selection
        if chosen.kind in ("segment", "terminal"):
            self.intent.emit(RemoveDucts(chosen.of("segment"), chosen.of("terminal")))
            self.session.select()
        elif chosen.kind == "inline":
            self.intent.emit(RemoveInline(chosen.ids))
            self.session.select()
        elif chosen.kind in ("obstacle", "ceiling zone"):
            self.intent.emit(RemoveCeilingParts(chosen.of("ceiling zone"), chosen.of("obstacle")))
            self.session.select()

    def leave(self) -> None:
        if self.proposing:
            self._show_routes(False)
        self.use_tool("")


def _dashes(p, box) -> None:
    dashed = layers.pen(theme.colour("garnet"), 1.3)
    dashed.setDashPattern([4, 3])
    p.setPen(dashed)
    p.drawLine(box.left() - 8, box.center().y(), box.right(), box.center().y())


def _beam(p, box) -> None:
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(layers.pen(theme.colour("faint"), 0.9, Qt.PenStyle.DashLine))
    p.drawRect(box)
