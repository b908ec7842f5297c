"""Building: the plan with rooms, the levels lifted apart, tables of rooms and faces, and the pages that take things in."""

from collections.abc import Callable
from pathlib import Path

import msgspec
from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.stages.building import KNOWN, known_as
from garnetfin.exchange.reading import kind_of
from garnetfin.exchange.results import Answer, Drawing, Picture
from garnetfin.project.edits.groups import AddLevel, AddZone, CopyLevel, SetNorth
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.edits.openings import CopyOpenings, RepeatOpening
from garnetfin.project.edits.outlines import MoveRooms, RemoveRooms
from garnetfin.project.edits.rooms import AddWindow, RemoveOpening
from garnetfin.project.edits.shape import CopyRooms, MergeRooms, MirrorRooms, NumberRooms
from garnetfin.project.edits.systems import AddSystem
from garnetfin.project.edits.underlays import AddUnderlay, RemoveUnderlay, ScaleUnderlay
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.underlays import Underlay
from garnetfin.ui.frame.ask import Ask, Wanted
from garnetfin.ui.frame.controls import ToolButton
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.frame.import_pages import DraftPage, ListPage
from garnetfin.ui.frame.table import Table
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.axonometric import Axonometric
from garnetfin.ui.plan.building_tools import FillTool, OpeningTool, PaintTool, ScaleTool, SplitTool
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.hand import Hand
from garnetfin.ui.plan.room_tools import DrawRoom
from garnetfin.ui.plan.underlay import lines_of
from garnetfin.ui.reader import Reader
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, mix, theme
from garnetfin.ui.view_models.building import face_table
from garnetfin.ui.view_models.rooms import FAMILIES, family
from garnetfin.ui.view_models.tables import room_table
from garnetfin.ui.views.base import View

EXPOSURES = (("No outside wall", 0.0), ("One side", 0.35), ("Two sides", 0.7), ("Three or more", 1.0))
COLOURS = (("use", "Use"), ("exposure", "Exposure"), ("build-up", "Build-up"), ("zone", "Zone"), ("system", "Air system"), ("known", "Known"),
           ("load", "W/m²"))
SCOPES = (("all", "All"), ("room", "Selected"), ("neighbours", "Neighbours"), ("zone", "Its zone"))
GROUP_FILLS = ("gathering", "work", "laboratory", "wet", "sleep", "workshop", "stores")
PICTURE_WIDTH_M = 30.0               # of a picture that says nothing about its scale, until two points are measured
FAR_M = 1000.0                       # a drawing further from its origin is moved to the plan's


class FacesPage(QWidget):
    """The faces of the building, filtered while one types."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.wanted = QLineEdit()
        self.wanted.setPlaceholderText("Filter: type part of a room, a face, a direction, a build-up …")
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


class BuildingView(View):
    HINT = ("Click a room or a window; Shift adds. Drag moves, over empty plan it bands, with Alt a lasso. R draws a room, Del removes.")
    reading = Signal(str)                            # news of a file that is being read; "" when it is over

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.colour_by = "use"
        self.reader = Reader(self)
        self._make_tools()
        self.plan, self.lifted = PlanCanvas(), Axonometric()
        self.plan.hand = Hand(self.plan)
        self.plan.contents = session.contents
        for shown in (self.plan, self.lifted):
            shown.picked.connect(self.pick)
            shown.hint.connect(self.hint)
        self.plan.intent.connect(self._drawn)
        self.plan.north_asked.connect(self.ask_north)
        for keys, on in (("R", lambda: self.use_tool("room")), ("Escape", self._escape), ("Delete", self.remove_selected)):
            QShortcut(QKeySequence(keys), self.plan, on).setContext(Qt.ShortcutContext.WidgetShortcut)
        QShortcut(QKeySequence.StandardKey.Paste, self.plan, self.paste).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.table, self.faces = Table(), FacesPage()
        for table in (self.table, self.faces.table):
            table.picked.connect(self.pick)
            table.intent.connect(self.intent)
            table.refused.connect(self.refused)
        self.table.pasted.connect(self.start_list)
        self.drawer = Drawer((("Rooms", self.table), ("Faces", self.faces)))
        self.drawer.chosen.connect(lambda _: session.changed.emit())
        self._top = QStackedWidget()
        self._top.addWidget(self.plan)
        self._top.addWidget(self.lifted)
        self._main = MainAndDrawer(self._top, self.drawer, 228)
        self.draft_page, self.list_page = DraftPage(), ListPage()
        self.draft_page.intent.connect(self._take)
        self.list_page.intent.connect(self._take)
        self.list_page.file_asked.connect(lambda: self.file_asked.emit("list"))
        for page in (self.draft_page, self.list_page):
            page.left.connect(self.show_plan)
        self._pages = QStackedWidget()
        for page in (self._main, self.draft_page, self.list_page):
            self._pages.addWidget(page)
        self.ask = Ask()
        self._column.addWidget(self.ask)
        self.set_main(self._pages)
        self.reader.progress.connect(lambda share, words: self.reading.emit(f"Reading {self._source}: {words}, {share:.0%}"))
        self.reader.done.connect(self._read)
        self.reader.failed.connect(self._not_read)
        self.reader.stopped.connect(lambda: self._not_read(f"{self._source} was left; the project is as it was"))
        self._source = ""
        self._fit_next = False                           # what was taken in is shown whole once it is there
        self.use_tool("select")

    file_asked = Signal(str)                         # a file of a kind is to be chosen: list, building, underlay

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
        self.door_tool = tool("door", "Put doors on walls", lambda: self.use_tool("door"))
        self.paint_tool = tool("group", "Paint rooms into a zone or an air system", lambda: self.use_tool("paint"))
        self.scale_tool = tool("measure", "Scale the underlay by two points", lambda: self.use_tool("scale"))
        self.lift_tool = tool("lift", "Levels lifted apart", self.lift)
        self.fit_tool = tool("find", "Show the whole plan (F)", self.fit, False)
        self.undo_tool = tool("undo", "Undo (Ctrl+Z)", self.session.undo, False)
        self.strip = self.tools.add_strip("", COLOURS, self._colour)
        self.way_strip = self.tools.add_strip("", (("rectangle", "Rectangle"), ("corners", "Corners")), lambda key: self.use_tool("room"))
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
        if self._fit_next and not state.stale:
            self._fit_next = False
            self.plan.refit()
        if self._top.currentWidget() is self.lifted:
            self.lifted.render_state(state, style.fills, style.hatched)
        if self.drawer.page is self.faces:
            self.faces.render_state(state)
            self.drawer.set_note("Click a face; its card shows direction, U-value and sun")
        else:
            self.table.render_vm(room_table(state), state.selection.of("room"), state.show.units)
            self.drawer.set_note("Paste from a spreadsheet with Ctrl V · type in any cell")
        self.undo_tool.setEnabled(bool(self.session.undo_label))
        self.scale_tool.setEnabled(any(u.level_id == state.show.level_id for u in state.project.underlays))
        self.fill_tool.setEnabled(any(u.level_id == state.show.level_id and u.kind == "lines" for u in state.project.underlays))
        self._fill_groups(state)
        level = find(state.project.levels, state.show.level_id)
        self.tools.note.set_words(f"{level.name} level" if level and self._tool == "select" else "")

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
                return (*((_group_fill(i), z.name) for i, z in enumerate(state.project.zones)), (theme.colour("sheet"), "in no zone"))
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
            found = state.results.room(room.id) if state.results else None
            area = display.with_unit("area", found.figures.area_m2.figure, units) if found else ""
            if not room.system_id and self.colour_by != "known":
                hatched.add(room.id)
                fills[room.id] = theme.colour("paper")
                lines[room.id] = (room.number, room.name, f"{area} · unheated")
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
        buttons = {"select": self.select_tool, "room": self.room_tool, "fill": self.fill_tool, "split": self.split_tool,
                   "window": self.window_tool, "door": self.door_tool, "paint": self.paint_tool, "scale": self.scale_tool}
        for key, button in buttons.items():
            button.setChecked(key == name)
        if name != "select" and self._top.currentWidget() is self.lifted:
            self.lift()
        self.way_strip.setVisible(name == "room")
        self.group_box.setVisible(name == "paint")
        self.strip.setVisible(name != "room" and not self.lift_tool.isChecked())
        self.scope_strip.setVisible(self.lift_tool.isChecked())
        plan = self.plan
        if name == "paint":
            if self.colour_by not in ("zone", "system"):
                self.strip.set_now("zone")
                self._colour("zone")
            self._group_chosen()
        else:
            plan.tool = {"select": lambda: None, "room": lambda: DrawRoom(plan, self.way_strip.now == "rectangle"),
                         "fill": lambda: FillTool(plan), "split": lambda: SplitTool(plan), "window": lambda: OpeningTool(plan, "window"),
                         "door": lambda: OpeningTool(plan, "door"), "scale": lambda: ScaleTool(plan, self._measured)}[name]()
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
        wanted = [(s.id, s.name) for s in state.project.air_systems] if self.colour_by == "system" else [
            *((z.id, z.name) for z in state.project.zones), ("new", "a new zone")]
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

    def _drawn(self, command) -> None:
        """What was drawn is selected at once, so that its values can be typed."""
        rooms = {r.id for r in self.session.project.rooms}
        openings = {(w.id, o.id) for w in self.session.project.walls for o in w.openings}
        self.intent.emit(command)
        new = [r.id for r in self.session.project.rooms if r.id not in rooms]
        if new:
            self.session.select("room", *new)
            return
        fresh = [f"{w.id}/{o.id}" for w in self.session.project.walls for o in w.openings if (w.id, o.id) not in openings]
        if len(fresh) == 1:
            self.session.select("opening", *fresh)

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

    # -- rooms -> rooms, by typed values -------------------------------------------------------------------------
    def _rooms(self, least: int = 1) -> tuple[str, ...]:
        """The selected rooms; a sentence instead when there are too few."""
        ids = self.session.selection.of("room")
        if len(ids) < least:
            self.refused.emit("Select a room first" if least == 1 else f"Select {least} rooms or more first: Shift adds")
            return ()
        return ids

    def _ask(self, title: str, wanted: tuple[Wanted, ...], button: str, command: Callable[[dict], object]) -> None:
        self.show_plan()

        def take(values: dict) -> str:
            rooms = {r.id for r in self.session.project.rooms}
            try:
                made = command(values)
            except (GarnetfinError, ValueError, OverflowError) as error:
                return str(error)
            why = self.session.do(made)
            new = [r.id for r in self.session.project.rooms if r.id not in rooms]
            if new:
                self.session.select("room", *new)
            return why
        self.ask.ask(title, wanted, button, take, self.session.show.units)

    def ask_move(self) -> None:
        if ids := self._rooms():
            self._ask("Move", (Wanted("x", "to the right", "0", "length"), Wanted("y", "upwards", "0", "length")), "Move",
                      lambda v: MoveRooms(ids, v["x"], v["y"]))

    def ask_copy(self) -> None:
        if ids := self._rooms():
            self._ask("Copy in a row", (Wanted("n", "times", "1", "count", width=44), Wanted("x", "each to the right", "0", "length"),
                                        Wanted("y", "each upwards", "0", "length")), "Copy",
                      lambda v: CopyRooms(ids, v["x"], v["y"], round(v["n"])))

    def ask_copy_rooms_to_level(self) -> None:
        if ids := self._rooms():
            self._ask("Copy to level", (Wanted("level", "level", choices=self._levels()),), "Copy",
                      lambda v: CopyRooms(ids, level_id=v["level"]))

    def ask_copy_level(self) -> None:
        here = self.session.show.level_id
        name = find(self.session.project.levels, here).name
        self._ask(f"Copy all rooms of {name}", (Wanted("level", "onto level", choices=tuple(x for x in self._levels() if x[0] != here)),),
                  "Copy", lambda v: CopyLevel(here, v["level"]))

    def _levels(self) -> tuple[tuple[str, str], ...]:
        return tuple((x.id, x.name) for x in self.session.project.levels)

    def ask_number(self) -> None:
        if ids := self._rooms():
            rooms = sorted((find(self.session.project.rooms, i) for i in ids), key=lambda r: (
                -round(max(y for _, y in r.outline)), min(x for x, _ in r.outline)))
            self._ask("Number in sequence, from the upper left", (Wanted("first", "first number", rooms[0].number, width=90),), "Number",
                      lambda v: NumberRooms(tuple(r.id for r in rooms), v["first"]))

    def ask_row(self) -> None:
        chosen = self.session.selection.of("opening")
        if len(chosen) != 1:
            self.refused.emit("Select a window or door first")
            return
        wall_id, _, opening_id = chosen[0].partition("/")
        self._ask("Row of openings", (Wanted("n", "times", "3", "count", width=44), Wanted("step", "apart (0 spreads evenly)", "0", "length")),
                  "Repeat", lambda v: RepeatOpening(wall_id, opening_id, round(v["n"]), v["step"]))

    def ask_north(self) -> None:
        site = self.session.project.site
        self._ask("Turn north", (Wanted("deg", "bearing of the plan’s upward direction", display.number(site.north_deg if site else 0.0, 1), "angle"),),
                  "Turn", lambda v: SetNorth(v["deg"] % 360))

    def merge(self) -> None:
        if ids := self._rooms(2):
            self.intent.emit(MergeRooms(ids))
            if find(self.session.project.rooms, ids[0]) is not None:
                self.session.select("room", ids[0])

    def mirror(self, axis: str) -> None:
        if ids := self._rooms():
            self.intent.emit(MirrorRooms(ids, axis))

    def copy_openings(self) -> None:
        if ids := self._rooms(2):
            self.intent.emit(CopyOpenings(ids[0], ids[1:]))

    def add_zone(self) -> None:
        before = {z.id for z in self.session.project.zones}
        self.intent.emit(AddZone(self.session.selection.of("room")))
        made = [z.id for z in self.session.project.zones if z.id not in before]
        if made:
            self.session.select("zone", *made)

    def add_system(self) -> None:
        before = {x.id for x in self.session.project.air_systems}
        self.intent.emit(AddSystem(self.session.selection.of("room")))
        made = [x.id for x in self.session.project.air_systems if x.id not in before]
        if made:
            self.session.set_show(system_id=made[0])

    def add_level(self, below: bool) -> None:
        before = {x.id for x in self.session.project.levels}
        self.intent.emit(AddLevel(below))
        made = [x.id for x in self.session.project.levels if x.id not in before]
        if made:
            self.session.set_show(level_id=made[0])
            self.session.select("level", *made)

    def add_window(self) -> None:
        """A window in the widest gap of the selected room's longest free outside wall."""
        project = self.session.project
        walls = [w for i in self._rooms()[:1] for w in walls_of(project.walls, i) if w.outside]
        if walls and project.glazings:
            free = max(walls, key=lambda w: w.length_m - sum(o.width_m for o in w.openings))
            self._drawn(AddWindow(free.id, project.glazings[0].id))
        elif self.session.selection.of("room"):
            self.refused.emit("The room has no outside wall")

    # -- taking things in ----------------------------------------------------------------------------------------
    def show_plan(self) -> None:
        self._pages.setCurrentWidget(self._main)
        self.plan.setFocus()

    def start_list(self, text: str = "", source: str = "room list") -> None:
        self.use_tool("select")
        self.list_page.begin(lambda: (self.session.project, self.session.show.level_id, self.session.show.units), text, source)
        self._pages.setCurrentWidget(self.list_page)

    def paste(self) -> None:
        from PySide6.QtWidgets import QApplication
        text = QApplication.clipboard().text()
        if text.strip():
            self.start_list(text)
        else:
            self.refused.emit("There is no text to paste; copy rows of a spreadsheet first")

    def insert(self, path: Path, page: int = 0) -> None:
        """Read a foreign file, each kind to its place; the window stays in use meanwhile."""
        try:
            kind = kind_of(path)
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return
        self._source = path.name
        purpose = (lambda answer: self._page_read(answer, path, page)) if kind == "page" else self._dispatch
        if self.reader.start(path, kind, {"page": page}, purpose):
            self.reading.emit(f"Reading {path.name}")
        else:
            self.refused.emit("Another file is still being read; stop it first")

    def _read(self, answer: Answer, purpose: Callable[[Answer], None]) -> None:
        self.reading.emit("")
        try:
            purpose(answer)
        except GarnetfinError as error:
            self.refused.emit(str(error))

    def _not_read(self, words: str) -> None:
        self.reading.emit("")
        self.refused.emit(words)

    def _dispatch(self, answer: Answer) -> None:
        if answer.table is not None:
            self.start_list("\n".join("\t".join(_quoted(c) for c in row) for row in answer.table.rows), self._source)
        elif answer.draft is not None:
            self.use_tool("select")
            self.draft_page.show_draft(answer.draft, self.session.project, self.session.show.units)
            self._pages.setCurrentWidget(self.draft_page)
        elif answer.lines is not None:
            self._put_lines(answer.lines)
        elif answer.picture is not None:
            self._put_picture(answer.picture)

    def _page_read(self, answer: Answer, path: Path, page: int) -> None:
        self._put_picture(answer.picture, f", page {page + 1}")
        pages = answer.picture.pages
        if pages > 1 and page == 0:
            def another(values: dict) -> str:
                wanted = round(values["page"])
                if not 1 <= wanted <= pages:
                    return f"Pages 1 to {pages} are there"
                self.session.undo()
                self.insert(path, wanted - 1)
                return ""
            self.ask.ask(f"Page 1 of {pages} lies below", (Wanted("page", "another page", "2", "count", width=44),), "Put it", another, "SI")

    def _put_lines(self, drawing: Drawing) -> None:
        x0, y0, x1, y1 = drawing.bounds
        guess = 0.001 if max(x1 - x0, y1 - y0) > 500 else 1.0
        scale = drawing.unit_m or guess
        near = max(abs(v) for v in (x0, y0, x1, y1)) * scale < FAR_M
        self._put(Underlay(id="", name=drawing.name[:60], level_id=self.session.show.level_id, kind="lines", scale=scale,
                           content=self.session.keep(msgspec.json.encode(drawing)), x_m=0.0 if near else round(-x0 * scale, 6),
                           y_m=0.0 if near else round(-y0 * scale, 6), hidden_layers=tuple(x.name for x in drawing.layers if not x.on)))
        words = [f"{drawing.count} lines on {len(drawing.layers)} layers", *drawing.notes]
        if not drawing.unit_m:
            words.append("taken as " + ("millimetres" if guess < 1 else "metres") + "; scale it by two points")
        self.session.said.emit("; ".join(words))

    def _put_picture(self, picture: Picture, more: str = "") -> None:
        scale = picture.pixel_m or PICTURE_WIDTH_M / picture.width
        self._put(Underlay(id="", name=f"{picture.name[:50]}{more}", level_id=self.session.show.level_id, kind="picture", scale=scale,
                           content=self.session.keep(picture.png)))
        self.session.said.emit("; ".join([*picture.notes, "click two points you know the distance of, to scale it"]))
        self.use_tool("scale")

    def _put(self, under: Underlay) -> None:
        self.show_plan()
        self.intent.emit(AddUnderlay(under))
        made = self.session.project.underlays
        if made:
            self.session.select("underlay", made[-1].id)
        self._fit_next = True

    def _measured(self, a: tuple, b: tuple) -> None:
        """Two points of the underlay were clicked: ask how far they are apart."""
        project, level = self.session.project, self.session.show.level_id
        chosen = self.session.selection.of("underlay")
        under = find(project.underlays, chosen[0]) if chosen else next((u for u in reversed(project.underlays) if u.level_id == level), None)
        if under is None:
            self.refused.emit("There is no underlay on this level")
            return
        now = ((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5
        self.use_tool("select")
        self._ask("Between the two points", (Wanted("m", "distance", f"{now:.3f}", "length"), Wanted("level", "", "no", choices=(
            ("no", "keep its turn"), ("yes", "lay the line level")))), "Scale",
            lambda v: ScaleUnderlay(under.id, a, b, v["m"], v["level"] == "yes"))

    def _take(self, command: TakeDraft) -> None:
        before = {r.id for r in self.session.project.rooms}
        first = not before
        why = self.session.do(command)
        if why:
            return
        new = [r for r in self.session.project.rooms if r.id not in before]
        self.show_plan()
        if new:
            self.session.set_show(level_id=new[0].level_id)
            self.session.select("room", *(r.id for r in new if r.level_id == new[0].level_id))
        self._fit_next = first
        self.session.said.emit(f"{len(new)} rooms taken from {command.draft.source}")


def _quoted(cell: str) -> str:
    return '"' + cell.replace('"', '""') + '"' if any(c in cell for c in '\t"\n') else cell


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
