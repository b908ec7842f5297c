"""Building: the plan with rooms, the levels lifted apart, tables of rooms and faces, and the pages that take things
in.
"""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.engine.results import there
from garnetfin.engine.stages.building import KNOWN, known_as
from garnetfin.project.edits.groups import AddZone
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.rooms import RemoveOpening
from garnetfin.project.edits.underlays import RemoveUnderlay
from garnetfin.project.lookup import find, walls_of
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.language import tr
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.axonometric import Axonometric
from garnetfin.ui.plan.building_tools import FillTool, OpeningTool, PaintTool, ScaleTool, SplitTool
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.room_tools import DrawMark, DrawRoom
from garnetfin.ui.plan.select_tool import SelectTool
from garnetfin.ui.plan.underlay import lines_of
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, mix, theme
from garnetfin.ui.view_models.building import face_table
from garnetfin.ui.view_models.rooms import FAMILIES, family
from garnetfin.ui.view_models.tables import room_table
from garnetfin.ui.views.taking_in import TakingIn
from garnetfin.ui.widgets.controls import ToolButton
from garnetfin.ui.widgets.table import Table

EXPOSURES = (("No outside wall", 0.0), ("One side", 0.35), ("Two sides", 0.7), ("Three or more", 1.0))
COLOURS = (
    ("use", "Use"),
    ("exposure", "Exposure"),
    ("build-up", "Build-up"),
    ("zone", "Zone"),
    ("system", "Air system"),
    ("known", "Input detail"),
    ("load", "W/m²"),
)
SCOPES = (("all", "All"), ("room", "Selected"), ("neighbours", "Neighbours"), ("zone", "Its zone"))
GROUP_FILLS = ("gathering", "work", "laboratory", "wet", "sleep", "workshop", "stores")


class FacesPage(QWidget):
    """The faces of the building, filtered while one types."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.wanted = QLineEdit()
        self.wanted.setPlaceholderText(tr("Filter: type part of a room, a face, a direction, a build-up …"))
        self.wanted.setFrame(False)
        self.wanted.setFixedHeight(28)
        self.wanted.setTextMargins(12, 0, 12, 0)
        self.wanted.setFont(theme.font(12))
        self.wanted.setAccessibleName("Filter faces")
        self.table = Table()
        column.addWidget(self.wanted)
        column.addWidget(self.table, 1)
        self._state: State | None = None
        self.wanted.textChanged.connect(lambda: self.render_state(self._state))

    def render_state(self, state: State | None) -> None:
        self._state = state
        if state is not None:
            self.table.render_vm(face_table(state, self.wanted.text()), state.selection.of("face"), state.show.units)


class BuildingView(TakingIn):
    HINT = (
        "Click a room or a window; Shift adds. Drag moves, over empty plan it bands, with Alt a lasso. R draws a "
        "room, Del removes."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.colour_by = "use"
        self._make_tools()
        self.plan, self.lifted = PlanCanvas(), Axonometric()
        self.plan.hand = SelectTool(self.plan)
        self.plan.contents = session.contents
        for shown in (self.plan, self.lifted):
            shown.picked.connect(self.pick)
            shown.hint.connect(self.hint)
        self.plan.intent.connect(self._drawn)
        self.plan.north_asked.connect(self.ask_north)
        for keys, on in (
            ("R", lambda: self.use_tool("room")),
            ("Escape", self._escape),
            ("Delete", self.remove_selected),
        ):
            QShortcut(QKeySequence(keys), self.plan, on).setContext(Qt.ShortcutContext.WidgetShortcut)
        QShortcut(QKeySequence.StandardKey.Paste, self.plan, self.paste).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.table, self.faces = Table(), FacesPage()
        for table in (self.table, self.faces.table):
            table.picked.connect(self.pick)
            table.intent.connect(self.intent)
            table.refused.connect(self.refused)
        self.table.pasted.connect(self.start_list)
        self._build_ups = None
        self._build_ups_holder = QWidget()
        holder = QVBoxLayout(self._build_ups_holder)
        holder.setContentsMargins(0, 0, 0, 0)
        self.drawer = Drawer((("Rooms", self.table), ("Faces", self.faces), ("Build-ups", self._build_ups_holder)))
        self.drawer.chosen.connect(lambda _: session.changed.emit())
        self._top = QStackedWidget()
        self._top.addWidget(self.plan)
        self._top.addWidget(self.lifted)
        self._main = MainAndDrawer(self._top, self.drawer, 228)
        self.pages.insertWidget(0, self._main)
        self.pages.setCurrentWidget(self._main)
        self.set_main(self.pages)
        self.use_tool("select")

    def _make_tools(self) -> None:
        def tool(icon: str, tip: str, on: Callable, checkable: bool = True) -> ToolButton:
            made = ToolButton(icon, tip, checkable=checkable)
            made.clicked.connect(lambda checked=False: on())
            self.tools.add(made)
            return made

        self.select_tool = tool("select", "Select and move (Esc)", lambda: self.use_tool("select"))
        self.room_tool = tool("room", "Draw a room (R)", lambda: self.use_tool("room"))
        self.fill_tool = tool("fill", "Make a room of a space in the drawing below", lambda: self.use_tool("fill"))
        self.split_tool = tool("split", "Split a room by a line", lambda: self.use_tool("split"))
        self.window_tool = tool("window", "Put windows on walls", lambda: self.use_tool("window"))
        self.block_tool = tool("wall", "Draw a surrounding building, a shaft or a void", lambda: self.use_tool("block"))
        self.door_tool = tool("door", "Put doors on walls", lambda: self.use_tool("door"))
        self.paint_tool = tool("group", "Paint rooms into a zone or an air system", lambda: self.use_tool("paint"))
        self.scale_tool = tool("measure", "Scale the underlay by two points", lambda: self.use_tool("scale"))
        self.lift_tool = tool("lift", "Exploded view", self.lift)
        self.fit_tool = tool("find", "Show the whole plan (F)", self.fit, False)
        self.undo_tool = tool("undo", "Undo (Ctrl+Z)", self.session.undo, False)
        self.strip = self.tools.add_strip("", COLOURS, self._colour)
        self.way_strip = self.tools.add_strip(
            "", (("rectangle", "Rectangle"), ("corners", "Corners")), lambda _: self.use_tool("room")
        )
        self.mark_strip = self.tools.add_strip(
            "",
            (("block", "Surrounding building"), ("shaft", "Shaft"), ("void", "Void")),
            lambda _: self.use_tool("block"),
        )
        self.scope_strip = self.tools.add_strip("", SCOPES, self._scope)
        self.group_box = QComboBox()
        self.group_box.setAccessibleName("What rooms are painted into")
        self.group_box.setMinimumWidth(130)
        self.group_box.activated.connect(self._group_chosen)
        self.tools.add(self.group_box, 4)

    # -- rendering -----------------------------------------------------------------------------------------------
    def render_state(self, state: State) -> None:
        self.plan.contents = self.session.contents
        self.plan.legend = self._legend(state)
        style = self.plan_style(state)
        self.plan.render_state(state, style, state.show.level_id)
        if self.fit_next and not state.stale:
            self.fit_next = False
            self.plan.refit()
        if self._top.currentWidget() is self.lifted:
            self.lifted.render_state(state, style.fills, style.hatched)
        if self.drawer.page is self.faces:
            self.faces.render_state(state)
            self.drawer.set_note("Click a face; its card shows direction, U-value and sun")
        elif self.drawer.page is self._build_ups_holder:
            self.build_ups.render_state(state)
            self.drawer.set_note("Drag a layer to reorder · type a thickness · section on the winter day")
        else:
            self.table.render_vm(room_table(state), state.selection.of("room"), state.show.units)
            self.drawer.set_note("Paste from a spreadsheet with Ctrl V · type in any cell")
        self.undo_tool.setEnabled(bool(self.session.undo_label))
        self.scale_tool.setEnabled(any(u.level_id == state.show.level_id for u in state.project.underlays))
        self.fill_tool.setEnabled(
            any(u.level_id == state.show.level_id and u.kind == "lines" for u in state.project.underlays)
        )
        self._fill_groups(state)
        level = find(state.project.levels, state.show.level_id)
        self.tools.note.set_words(f"{level.name} level" if level and self._tool == "select" else "")

    @property
    def build_ups(self):
        """The build-up editor, made when it is first looked at, so that the window is there sooner."""
        if self._build_ups is None:
            from garnetfin.ui.pages.build_ups import BuildUpsPage

            self._build_ups = BuildUpsPage()
            self._build_ups.intent.connect(self.intent)
            self._build_ups.refused.connect(self.refused)
            self._build_ups.own_asked.connect(self.ask_material)
            there(self._build_ups_holder.layout()).addWidget(self._build_ups)
        return self._build_ups

    def show_build_ups(self) -> None:
        """The build-up editor, with room for its section."""
        self.drawer.choose(2)
        whole = sum(self._main.sizes())
        self._main.setSizes([max(whole - 300, 200), 300])

    def underlay_layers(self, state: State) -> tuple[str, ...]:
        """Names of the layers of the selected underlay."""
        under = find(state.project.underlays, (state.selection.of("underlay") or ("",))[0])
        content = self.session.contents.get(under.content) if under is not None and under.kind == "lines" else None
        return tuple(lines_of(content).arrays) if content else ()

    def _legend(self, state: State) -> tuple:
        unheated = (lambda p, box: layers.paint_hatched_box(p, box), "Unheated")
        match self.colour_by:
            case "use":
                return (*((theme.use_fill(key), label) for key, (label, _) in FAMILIES.items()), unheated)
            case "exposure":
                return tuple((_exposed(share), label) for label, share in EXPOSURES)
            case "known":
                return tuple((_known(i), label) for i, label in enumerate(KNOWN))
            case "build-up":
                return tuple((c, find(state.project.build_ups, i).name) for i, c in _build_up_colours(state).items())
            case "zone":
                return (
                    *((_group_fill(i), z.name) for i, z in enumerate(state.project.zones)),
                    (theme.colour("sheet"), "in no zone"),
                )
            case "system":
                return (*((_group_fill(i), s.name) for i, s in enumerate(state.project.air_systems)), unheated)
        return tuple((map_colour("amount", w / 100), f"{w} W/m²") for w in (0, 25, 50, 75, 100))

    def plan_style(self, state: State) -> layers.PlanStyle:
        """Fills and labels of rooms by what the plan is coloured by."""
        project, units = state.project, state.show.units
        fills: dict[str, QColor] = {}
        lines, hatched = {}, set()
        zones = {z.id: (i, z.name) for i, z in enumerate(project.zones)}
        systems = {s.id: (i, s.name) for i, s in enumerate(project.air_systems)}
        for room in project.rooms:
            found = state.results.room(room.id) if state.known else None
            area = display.with_unit("area", found.figures.area_m2.figure, units) if found else ""
            if not room.kept and self.colour_by != "known":
                hatched.add(room.id)
                fills[room.id] = theme.colour("paper")
                lines[room.id] = (room.number, room.name, f"{area} · unconditioned")
                continue
            lines[room.id] = (room.number, room.name, area)
            match self.colour_by:
                case "use":
                    fills[room.id] = theme.use_fill(family(room.use_id))
                case "exposure":
                    sides = {round(w.facing_deg) for w in walls_of(project.walls, room.id) if w.outside}
                    fills[room.id] = _exposed(EXPOSURES[min(len(sides), 3)][1])
                case "known":
                    known = known_as(project, room)
                    fills[room.id] = _known(KNOWN.index(known))
                    lines[room.id] = (room.number, room.name, known)
                case "zone":
                    if room.zone_id in zones:
                        i, name = zones[room.zone_id]
                        fills[room.id] = _group_fill(i)
                        lines[room.id] = (room.number, room.name, name)
                case "system":
                    i, name = systems[room.system_id]
                    fills[room.id] = _group_fill(i)
                    lines[room.id] = (room.number, room.name, name)
                case "load" if found:
                    density = found.peak_w / found.figures.area_m2.figure
                    lines[room.id] = (room.number, room.name, display.with_unit("power_density", density, units, 0))
                    fills[room.id] = mix(map_colour("amount", density / 100), theme.colour("sheet"), 0.35)
        colours = _build_up_colours(state) if self.colour_by == "build-up" else {}
        walls = {w.id: colours[w.build_up_id] for w in project.walls} if colours else {}
        return layers.PlanStyle(fills, lines, frozenset(hatched), units=units, wall_fills=walls)

    def _colour(self, key: str) -> None:
        self.colour_by = key
        self.session.changed.emit()

    # -- tools ---------------------------------------------------------------------------------------------------
    def use_tool(self, name: str) -> None:
        """Take a tool in hand: select, room, fill, split, window, door, paint, scale."""
        self._tool = name
        buttons = {
            "select": self.select_tool,
            "room": self.room_tool,
            "fill": self.fill_tool,
            "split": self.split_tool,
            "window": self.window_tool,
            "door": self.door_tool,
            "paint": self.paint_tool,
            "scale": self.scale_tool,
            "block": self.block_tool,
        }
        for key, button in buttons.items():
            button.setChecked(key == name)
        if name != "select" and self._top.currentWidget() is self.lifted:
            self.lift()
        self.way_strip.setVisible(name == "room")
        self.mark_strip.setVisible(name == "block")
        self.group_box.setVisible(name == "paint")
        self.strip.setVisible(name not in ("room", "block") and not self.lift_tool.isChecked())
        self.scope_strip.setVisible(self.lift_tool.isChecked())
        plan = self.plan
        if name == "paint":
            if self.colour_by not in ("zone", "system"):
                self.strip.set_now("zone")
                self._colour("zone")
            self._group_chosen()
        else:
            plan.tool = {
                "select": lambda: None,
                "room": lambda: DrawRoom(plan, self.way_strip.now == "rectangle"),
                "block": lambda: DrawMark(plan, self.mark_strip.now),
                "fill": lambda: FillTool(plan),
                "split": lambda: SplitTool(plan),
                "window": lambda: OpeningTool(plan, "window"),
                "door": lambda: OpeningTool(plan, "door"),
                "scale": lambda: ScaleTool(plan, self._measured),
            }[name]()
        if name == "select":
            plan.unsetCursor()
            self.hint.emit(self.HINT)
        self.tools.note.set_words("")
        plan.setFocus()
        plan.update()

    def leave(self) -> None:
        self.use_tool("select")
        self.ask.drop()

    def _escape(self) -> None:
        if self.plan.tool is not None:
            self.use_tool("select")
        elif self.plan.hand.busy:
            self.plan.hand.cancel()
        else:
            self.session.select()

    def lift(self) -> None:
        """The plan or the levels lifted apart."""
        lifted = self._top.currentWidget() is self.plan
        self._top.setCurrentWidget(self.lifted if lifted else self.plan)
        self.lift_tool.setChecked(lifted)
        if lifted:
            self.use_tool("select")
            self.hint.emit(self.lifted.HINT)
            self.lifted.setFocus()
        else:
            self.strip.setVisible(True)
            self.scope_strip.setVisible(False)
        self.session.changed.emit()

    def _scope(self, key: str) -> None:
        self.lifted.scope = key
        self.lifted.update()

    def fit(self) -> None:
        (self.lifted if self.lift_tool.isChecked() else self.plan).fit()

    def _fill_groups(self, state: State) -> None:
        wanted = (
            [(s.id, s.name) for s in state.project.air_systems]
            if self.colour_by == "system"
            else [*((z.id, z.name) for z in state.project.zones), ("new", "a new zone")]
        )
        if [(self.group_box.itemData(i), self.group_box.itemText(i)) for i in range(self.group_box.count())] != wanted:
            now = self.group_box.currentData()
            self.group_box.clear()
            for key, words in wanted:
                self.group_box.addItem(words, key)
            self.group_box.setCurrentIndex(max(0, self.group_box.findData(now)))
            if self._tool == "paint":
                self._group_chosen()

    def _group_chosen(self, *_) -> None:
        """The paint tool follows the choice; "a new zone" makes one with what is selected."""
        if self.group_box.currentData() == "new":
            before = {z.id for z in self.session.project.zones}
            self.intent.emit(AddZone(self.session.selection.of("room")))
            made = [z for z in self.session.project.zones if z.id not in before]
            if made:
                self.group_box.insertItem(self.group_box.count() - 1, made[0].name, made[0].id)
                self.group_box.setCurrentIndex(self.group_box.findData(made[0].id))
        key = self.group_box.currentData() or ""
        self.plan.tool = PaintTool(self.plan, "system" if self.colour_by == "system" else "zone", key)

    def remove_selected(self) -> None:
        chosen = self.session.selection
        if chosen.kind == "room":
            self.intent.emit(RemoveRooms(chosen.ids))
        elif chosen.kind == "opening":
            for key in chosen.ids:
                self.intent.emit(RemoveOpening(*key.split("/")))
        elif chosen.kind == "underlay":
            self.intent.emit(RemoveUnderlay(chosen.ids[0]))
        else:
            return
        self.session.select()

    # -- pages ---------------------------------------------------------------------------------------------------
    def show_plan(self) -> None:
        self.pages.setCurrentWidget(self._main)
        self.plan.setFocus()


def _exposed(share: float) -> QColor:
    return mix(theme.colour("sheet"), theme.colour("glass"), 0.15 + 0.55 * share)


def _known(rank: int) -> QColor:
    return mix(theme.colour("sheet"), theme.colour("outdoor"), (0.04, 0.13, 0.26)[rank])


def _group_fill(i: int) -> QColor:
    fill = theme.use_fill(GROUP_FILLS[i % len(GROUP_FILLS)])
    return fill if i < len(GROUP_FILLS) else mix(fill, theme.colour("ink"), 0.15)


def _build_up_colours(state: State) -> dict[str, QColor]:
    """A colour for each build-up that walls have."""
    used = dict.fromkeys(w.build_up_id for w in state.project.walls)
    tones = ("supply", "return", "outdoor", "exhaust", "garnet", "glass", "faint", "watch", "good")
    return {b: theme.colour(tones[i % len(tones)]) for i, b in enumerate(used)}
