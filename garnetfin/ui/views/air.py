"""Air: the system as a train with its states on the psychrometric chart; flows, balance, proof, year and terminals
below.
"""

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.core.errors import Cancelled
from garnetfin.core.units import from_shown
from garnetfin.engine.results import AirResult, Missing, Point, there
from garnetfin.engine.stages.train import all_hours
from garnetfin.engine.studies.air_year import AirYear, air_year
from garnetfin.engine.studies.year import hours_of
from garnetfin.project.edits.duct_runs import RemoveDucts
from garnetfin.project.edits.systems import AddPart, MovePart, RemovePart, SetSystemChoice, SetSystemValue
from garnetfin.project.values import Pinned
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.air import NeedsStrip
from garnetfin.ui.charts.figure import FigureChart
from garnetfin.ui.charts.loads import HourField
from garnetfin.ui.charts.psychro import PsychroChart
from garnetfin.ui.charts.train import PartButton, TrainChart
from garnetfin.ui.charts.year import YearField
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer, page_of
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.terminal_select import TerminalHand
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import air as vms
from garnetfin.ui.view_models import air_hours, air_tables, charts, psychro, state_list
from garnetfin.ui.view_models.equipment import casing_figure, counted
from garnetfin.ui.view_models.tables import flow_table
from garnetfin.ui.view_models.terminals import catalogue_words
from garnetfin.ui.views.base import Nothing, View
from garnetfin.ui.views.equipment import EquipmentPage
from garnetfin.ui.views.state_list import StateListPage
from garnetfin.ui.views.terminals import TerminalsPage
from garnetfin.ui.widgets.bare import Menu, thin
from garnetfin.ui.widgets.controls import RunButton, ToolButton, Words
from garnetfin.ui.widgets.table import Table

# Parts at hand in the tool row: kind, icon, words.
PALETTE = (
    ("filter", "filter", "Filter"),
    ("recovery", "recovery", "Heat recovery"),
    ("mixing", "mixing", "Mixing of return air"),
    ("cooling", "coil-cold", "Cooling coil"),
    ("heating", "coil-warm", "Heating coil"),
    ("humidifier", "humidifier", "Humidifier"),
)


TALL = {
    "Hours": 300,
    "Year": 280,
    "State list": 220,
    "Terminals": 200,
    "Equipment": 264,
}  # pages that say little in a low drawer


HINTS = {
    "plan": "Click a terminal or a room; drag a terminal where its air is wanted. Boxes and units stand at their size.",
    "casing": "The unit to scale, with the space its service takes. Its size is fixed under Equipment, Air handlers.",
    "Equipment": "Click a line and its rooms are chosen. Cells behind a ring or a pin can be typed into; W says why.",
}


class AirView(View):
    HINT = (
        "Drag a section along the unit, or out of it. Click a section for its figures; drag a ringed state to move the "
        "supply temperature."
    )
    TABS = (
        "What governs",
        "Rooms",
        "Air balance",
        "State list",
        "Coil check",
        "Hours",
        "Year",
        "Terminals",
        "Equipment",
        "Plant",
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.shown = "train"  # train or plan
        self.at = "cooling"  # which state the train shows: cooling, heating, hour
        self._known: tuple | None = None  # the point in force and what it was made from
        self._field: vms.HourFieldVM | None = None
        self._field_of: object = None
        self._hours = Newest(self._find_hours, "air hours", self)
        self._hours.ready.connect(self._on_hours)
        self._year: AirYear | None = None
        self._year_of: object = None  # the results it was run for
        self._runner = Newest(self._run_year, "air year", self)
        self._runner.ready.connect(self._on_year)
        self._runner.failed.connect(lambda why: (self.run_button.set_busy(""), self.refused.emit(why)))
        self._make_tools()
        self.train = TrainChart()
        self.train.picked.connect(lambda part: self.pick("part", (part,)) if part else self.session.select())
        self.train.opened.connect(lambda part: self.pick("part", (part,)))
        self.train.moved.connect(lambda part, before: self._edit(MovePart, part, before))
        self.train.removed.connect(lambda part: self._edit(RemovePart, part))
        self.train.dropped.connect(lambda kind, before: self._edit(AddPart, kind, before))
        self.chart = PsychroChart()
        self.chart.picked.connect(self._pick_node)
        self.chart.moved.connect(self._drag_state)
        self.states = Table(row_height=18.6)
        self.states.picked.connect(lambda kind, ids: self._pick_node(ids[0]))
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(self._train_page())
        self._stack.addWidget(self._nothing)
        self.plan = PlanCanvas()
        self.plan.hand = TerminalHand(self.plan)
        self.plan.picked.connect(self.pick)
        self.plan.intent.connect(self.intent)
        self.plan.hint.connect(self.hint)
        self._stack.addWidget(self.plan)
        self.casing = FigureChart()
        self._stack.addWidget(self.casing)
        for keys, on in (("Delete", self._remove_terminals), ("Escape", self.session.select)):
            QShortcut(QKeySequence(keys), self.plan, on).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.drawer = Drawer(tuple(zip(self.TABS, self._pages())))
        self.drawer.chosen.connect(self._tab_chosen)
        self._split = MainAndDrawer(self._stack, self.drawer, 150)
        self.set_main(self._split)

    # -- building ------------------------------------------------------------------------------------------------
    def _make_tools(self) -> None:
        self.parts = {}
        for kind, icon, words in PALETTE:
            button = PartButton(
                kind, icon, f"{words}: click to put it in where it usually stands, or drag it into the unit"
            )
            button.clicked.connect(lambda _=False, k=kind: self._edit(AddPart, k, ""))
            self.parts[kind] = self.tools.add(button)
        self.more_button = self.tools.add(ToolButton("more", "Put in another part …"))
        self.more_button.clicked.connect(self._more_parts)
        self.show_strip = self.tools.add_strip(
            "", (("train", "Unit"), ("casing", "Casing"), ("plan", "Plan")), self.show_main
        )
        self.state_strip = self.tools.add_strip(
            "", (("cooling", "Cooling"), ("heating", "Heating"), ("hour", "Any hour …")), self._state
        )
        self.flow_strip = self.tools.add_strip(
            "",
            (("fixed", "Constant flow"), ("load", "Variable flow")),
            lambda flow: self.intent.emit(SetSystemChoice(self.session.show.system_id, "flow", flow)),
        )

    def _more_parts(self) -> None:
        """Every kind of part that can be put in, where it usually stands."""
        menu = Menu(self)
        for kind, name in vms.addable(self.session.state):
            menu.addAction(name, lambda k=kind: self._edit(AddPart, k, ""))
        menu.popup(self.more_button.mapToGlobal(self.more_button.rect().bottomLeft()))

    def _train_page(self) -> QWidget:
        page, right = QWidget(), QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.train.setFixedHeight(236)
        column.addWidget(self.train)
        beside = QVBoxLayout(right)
        beside.setContentsMargins(0, 6, 0, 4)
        beside.setSpacing(2)
        head = QHBoxLayout()
        head.setContentsMargins(14, 0, 14, 0)
        self._states_head, self._states_note = Words("States", px=12.5, tone="ink", weight=600), Words("dry air", px=11)
        head.addWidget(self._states_head)
        head.addStretch(1)
        head.addWidget(self._states_note)
        beside.addLayout(head)
        beside.addWidget(self.states, 1)
        self.foot = tuple(Words("", px=11.5) for _ in range(2))
        for line in self.foot:
            row = QHBoxLayout()
            row.setContentsMargins(14, 0, 14, 0)
            row.addWidget(line)
            beside.addLayout(row)
        both = QSplitter(Qt.Orientation.Horizontal)
        both.setHandleWidth(1)
        both.setChildrenCollapsible(False)
        both.addWidget(self.chart)
        both.addWidget(right)
        both.setSizes([610, 374])
        column.addWidget(both, 1)
        return page

    def _pages(self) -> tuple[QWidget, ...]:
        self.strip = NeedsStrip()
        self.strip.picked.connect(lambda room_id: self.pick("room", (room_id,)))
        scroll = QScrollArea()
        thin(scroll)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setWidget(self.strip)
        self.table, self.balance, self.coil, self.proof, self.plant = (Table() for _ in range(5))
        self.list = StateListPage()
        self.list.table.picked.connect(self.pick)
        self.list.table.refused.connect(self.refused)
        for source in (self.list, self.list.table):
            source.intent.connect(self.intent)
        for table in (self.table, self.balance):
            table.picked.connect(lambda kind, ids: self.pick(kind, ids) if kind == "room" else None)
            table.intent.connect(self.intent)
            table.refused.connect(self.refused)
        proof = QSplitter()
        proof.setHandleWidth(1)
        proof.setChildrenCollapsible(False)
        proof.addWidget(self.coil)
        proof.addWidget(self.proof)
        proof.setSizes([450, 534])
        self.field = HourField()
        self.field.picked.connect(self._pick_hour)
        self.terminals = TerminalsPage()
        self.terminals.intent.connect(self.intent)
        self.terminals.said.connect(self.refused)
        self.terminals.picked.connect(self.pick)
        self.equipment = EquipmentPage()
        self.equipment.intent.connect(self.intent)
        self.equipment.said.connect(self.refused)
        self.equipment.picked.connect(self.pick)
        self.year_field, self.months = YearField(), Table(row_height=18)
        self.year_field.picked.connect(lambda hour: self._pick_hour(charts.month_of(hour), hour % 24))
        self.run_button = RunButton("Run the year")
        self.run_button.clicked.connect(self.run_year)
        year = QSplitter()
        year.setHandleWidth(1)
        year.setChildrenCollapsible(False)
        year.addWidget(self.year_field)
        year.addWidget(self.months)
        year.setSizes([400, 584])
        return (
            scroll,
            self.table,
            self.balance,
            self.list,
            proof,
            self.field,
            page_of(year, self.run_button),
            self.terminals,
            self.equipment,
            self.plant,
        )

    def close_work(self) -> None:
        self._hours.close()
        self._runner.close()
        self.terminals.close_work()

    @property
    def tab(self) -> str:
        return self.TABS[self.drawer.head.now]

    def _tab_chosen(self, _i: int) -> None:
        self._split.raise_to(TALL.get(self.tab, 0))
        self._say()
        self.session.changed.emit()

    def _say(self) -> None:
        """What the hand can do here."""
        self.hint.emit(HINTS.get(self.tab) or HINTS.get(self.shown, self.HINT))

    # -- rendering -----------------------------------------------------------------------------------------------
    def point(self, state: State) -> Point | Missing:
        """The state the train shows; an hour picked is solved once."""
        made_of = (state.found, state.show.system_id, self.at, state.show.hour if self.at == "hour" else None)
        if self._known is None or self._known[0][0] is not made_of[0] or self._known[0][1:] != made_of[1:]:
            self._known = made_of, vms.point_of(state, self.at)
        return self._known[1]

    def render_state(self, state: State) -> None:
        point, units = self.point(state), state.show.units
        air = state.results.air.get(state.show.system_id) if state.known else None
        rows = state_list.answered(state, point)
        self._render_tools(state, point)
        if isinstance(point, Missing):
            self._nothing.say(point if state.known else None)
            self._stack.setCurrentWidget(self._nothing)
        elif self.shown == "casing" and (drawn := casing_figure(state)) is not None:
            self._stack.setCurrentWidget(self.casing)
            self.casing.render_vm(drawn)
        elif self.shown == "plan":
            self._stack.setCurrentWidget(self.plan)
            self.plan.legend = self._legend(state)
            self.plan.render_state(state, self._style(state), state.show.level_id)
        else:
            self._stack.setCurrentIndex(0)
            self.train.render_vm(vms.train(state, point))
            self.chart.render_vm(
                psychro.psychro(state, point, *(state_list.on_chart(state, rows) if self.tab == "State list" else ()))
            )
            self.states.render_vm(air_tables.state_rows(state, point), (), units)
            self._states_head.set_words(f"States, {point.name}")
            lines = air_tables.state_foot(state, point)
            for words, (name, figure) in zip(self.foot, (*lines, ("", ""))):
                words.set_words(f"{name}   {figure}".strip())
        self._render_tab(state, air, point, rows)

    def _render_tools(self, state: State, point: Point | Missing) -> None:
        addable = dict(vms.addable(state))
        for kind, button in self.parts.items():
            button.setEnabled(kind in addable)
            button.setVisible(self.shown == "train")
        self.more_button.setVisible(self.shown == "train")
        self.state_strip.setVisible(self.shown == "train")
        found = state.results.trains.get(state.show.system_id) if state.known else None
        names = ("Cooling", "Heating", "Any hour …")
        if found is not None and not isinstance(found, Missing):
            winter = display.with_unit("temperature", found.heating.node("outdoor")[0], state.show.units, 0)
            chosen = point.name if self.at == "hour" and not isinstance(point, Missing) else "Any hour …"
            names = (f"Cooling, {found.cooling.name}", f"Heating, {winter}", chosen)
        self.state_strip.set_choices(tuple(zip(("cooling", "heating", "hour"), names)))
        self.state_strip.set_now(self.at)
        self.show_strip.set_now(self.shown)
        if state.system:
            self.flow_strip.set_now(state.system.flow)

    def _render_tab(self, state: State, air, point: Point | Missing, rows: state_list.ListVM) -> None:
        units, note = state.show.units, ""
        known = isinstance(air, AirResult)
        match self.tab:
            case "What governs" if known:
                self.strip.render_vm(charts.needs(state, air))
                note = f"{display.unit('room_flow', units)} · the greatest need governs; the ring is what is taken"
            case "Rooms" if known:
                self.table.render_vm(flow_table(state), state.selection.of("room"), units)
                note = (
                    f"sum of rooms {display.with_unit('system_flow', air.peaks_m3s, units)}, coincident "
                    f"{display.with_unit('system_flow', air.block_m3s, units)}"
                )
            case "Air balance" if known:
                self.balance.render_vm(air_tables.balance_table(state, air), state.selection.of("room"), units)
                note = "type an extract or a return to pin it"
            case "State list":
                self.list.render_list(state, rows)
                note = "click a row for what it is made of · Ctrl+C copies"
            case "Coil check" if isinstance(point, Point):
                self.coil.render_vm(air_tables.coil_table(state, point), (), units)
                self.proof.render_vm(air_tables.proof_table(state, point), (), units)
                note = point.name
            case "Hours" if known:
                self._ask_hours(state)
                note = "pick an hour: unit, chart and coil check show it"
            case "Year":
                note = self._render_year(state)
            case "Terminals":
                self.terminals.render_page(state)
                note = catalogue_words(state)
            case "Equipment":
                self.equipment.render_page(state)
                note = counted(state) if state.known else ""
            case "Plant":
                self.plant.render_vm(air_tables.plant_table(state), (), units)
                note = "early figures from ratios of the office standards"
        self.drawer.set_note(note)

    def show_main(self, what: str) -> None:
        """The train with its chart, or the plan with the air of every room."""
        self.shown = what
        self._say()
        self.session.changed.emit()

    def _style(self, state: State) -> layers.PlanStyle:
        lines = {r.id: (r.number, r.name) for r in state.project.rooms}
        away = frozenset(r.id for r in state.project.rooms if r.system_id != state.show.system_id)
        return layers.PlanStyle(
            {i: theme.colour("paper") for i in away}, lines, away, terminals=True, air=True, units=state.show.units
        )

    def _legend(self, state: State) -> tuple:
        c = theme.colour
        return (
            (c("supply"), "Supply"),
            (c("return"), "Return"),
            (c("exhaust"), "Extract"),
            (c("good"), "from room to room"),
            (c("faint"), "leaks"),
            (None, f"flows in {display.unit('room_flow', state.show.units)}"),
        )

    # -- edits ---------------------------------------------------------------------------------------------------
    def _edit(self, command, *args) -> None:
        self.intent.emit(command(self.session.show.system_id, *args))

    def _remove_terminals(self) -> None:
        chosen = self.session.selection.of("terminal")
        if chosen:
            self.intent.emit(RemoveDucts((), chosen))
            self.session.select()

    def _drag_state(self, node: str, shown_to: float, shown_from: float) -> None:
        """A state dragged along its humidity moves the supply temperature by as much."""
        state = self.session.state
        point = self.point(state)
        if isinstance(point, Missing):
            return
        units = state.show.units
        by = from_shown("temperature", shown_to, units) - from_shown("temperature", shown_from, units)
        held = there(state.results.air[state.show.system_id]).figures.supply_c.figure
        self.intent.emit(SetSystemValue(state.show.system_id, "supply_c", Pinned(value=round(held + by, 1))))
        self.chart.vm = None  # whatever comes of it, the state goes back to where it is
        self.session.changed.emit()

    # -- picking -------------------------------------------------------------------------------------------------
    def _state(self, at: str) -> None:
        self.at = at
        if at == "hour":
            self.drawer.choose(self.TABS.index("Hours"))
        self.session.changed.emit()

    def _pick_hour(self, month: int, hour: int) -> None:
        self.at = "hour"
        self.session.set_show(hour=(month, hour))
        self.session.changed.emit()

    def _pick_node(self, node: str) -> None:
        system = self.session.state.system
        if any(r.id == node for r in self.session.project.state_list):
            self.drawer.choose(self.TABS.index("State list"))
            self.pick("state row", (node,))
        elif system is not None and any(p.id == node for p in system.parts):
            self.pick("part", (node,))
        elif node in ("supply", "before duct"):
            self.session.select()

    # -- the hours of the design days ------------------------------------------------------------------------------
    def _ask_hours(self, state: State) -> None:
        asked = (state.found, state.show.system_id)
        if self._field_of is None or self._field_of[0] is not asked[0] or self._field_of[1] != asked[1]:
            self._field_of = asked
            self._hours.submit(asked)
        elif self._field is not None:
            self.field.render_vm(air_hours.with_chosen(self._field, self.point(state)))

    @staticmethod
    def _find_hours(asked: tuple, stopped) -> tuple:
        return asked, all_hours(*asked)

    def _on_hours(self, answer: tuple) -> None:
        asked, solved = answer
        if asked is self._field_of and not isinstance(solved, Missing):
            self._field = air_hours.coil_field(self.session.state, asked[0], asked[1], solved)
            self.session.changed.emit()

    # -- the year of hours -------------------------------------------------------------------------------------------
    def run_year(self) -> None:
        """Run the air system through the hours of the weather file; a second click stops."""
        state = self.session.state
        weather = state.project.site.weather if state.project.site else None
        data = self.session.contents.get(weather.content) if weather else None
        if self.run_button.busy:
            self._runner.submit(None)
            self.run_button.set_busy("")
        elif not state.known or data is None:
            self.refused.emit("A year of hours is missing. Read a weather file in Climate first")
        else:
            self._runner.submit((state.results, data, state.show.system_id))
            self.run_button.set_busy("Stop")

    @staticmethod
    def _run_year(job: tuple | None, stopped) -> tuple | None:
        if job is None:
            return None
        results, data, system_id = job

        def told(share: float) -> None:
            if stopped():
                raise Cancelled

        return results, air_year(results, hours_of(data), system_id, told)

    def _on_year(self, answer: tuple | None) -> None:
        self.run_button.set_busy("")
        if answer is not None:
            self._year_of, self._year = answer
        self.session.changed.emit()

    def _render_year(self, state: State) -> str:
        weather = state.project.site.weather if state.project.site else None
        if weather is None:
            return "no year of hours: read a weather file in Climate"
        if self._year is None or self._year.system_id != state.show.system_id:
            return f"{weather.name}: run it for {state.system.name if state.system else 'the air system'}"
        field, months = air_hours.air_year(state, self._year)
        self.year_field.render_vm(field)
        self.months.render_vm(months, (), state.show.units)
        stale = " · of an earlier state, run it again" if self._year_of is not state.found else ""
        return (
            f"{self._year.beyond} h beyond the design days’ "
            f"{display.with_unit('load', self._year.design_w, state.show.units)}"
            f"{air_hours.unmet(state, self._year)}{stale}"
        )
