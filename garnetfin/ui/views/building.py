"""Building: the plan with rooms, and the table of all rooms."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QKeySequence, QShortcut

from garnetfin import display
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.rooms import AddWindow, RemoveOpening
from garnetfin.project.lookup import find, walls_of
from garnetfin.ui.frame.controls import ToolButton
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.frame.table import Table
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.hand import Hand
from garnetfin.ui.plan.room_tools import DrawRoom
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, mix, theme
from garnetfin.ui.view_models.rooms import FAMILIES, family
from garnetfin.ui.view_models.tables import room_table
from garnetfin.ui.views.base import View

EXPOSURES = (("No outside wall", 0.0), ("One side", 0.35), ("Two sides", 0.7), ("Three or more", 1.0))


class BuildingView(View):
    HINT = "Click a room or a window; Shift adds. Pull a corner or side of a room. R draws a room, Del removes."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.colour_by = "use"
        self.select_tool = ToolButton("select", "Select (Esc)", checkable=True)
        self.select_tool.setChecked(True)
        self.select_tool.clicked.connect(lambda: self.use_tool(False))
        self.fit_tool = ToolButton("find", "Show the whole plan (F)")
        self.window_tool = ToolButton("window", "Add a window to the selected room’s longest outside wall")
        self.undo_tool = ToolButton("undo", "Undo (Ctrl+Z)")
        self.room_tool = ToolButton("room", "Draw a room (R)", checkable=True)
        self.room_tool.clicked.connect(lambda: self.use_tool(True))
        for tool in (self.select_tool, self.room_tool, self.window_tool, self.fit_tool, self.undo_tool):
            self.tools.add(tool)
        self.fit_tool.clicked.connect(lambda: self.plan.fit())
        self.window_tool.clicked.connect(self._add_window)
        self.undo_tool.clicked.connect(session.undo)
        self.strip = self.tools.add_strip("Colour by", (("use", "Use"), ("exposure", "Exposure"), ("load", "Cooling W/m²")),
                                          self._colour)
        self.way_strip = self.tools.add_strip("", (("rectangle", "Rectangle"), ("corners", "Corners")),
                                              lambda key: self.use_tool(True))
        self.plan = PlanCanvas()
        self.plan.picked.connect(self.pick)
        self.plan.intent.connect(self._drawn)
        self.plan.hint.connect(self.hint)
        self.plan.hand = Hand(self.plan)
        for keys, on in (("R", lambda: self.use_tool(True)), ("Escape", self._escape), ("Delete", self.remove_selected)):
            QShortcut(QKeySequence(keys), self.plan, on).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.table = Table()
        self.table.picked.connect(self.pick)
        self.table.intent.connect(self.intent)
        self.table.refused.connect(self.refused)
        self.drawer = Drawer((("Rooms", self.table),))
        self.set_main(MainAndDrawer(self.plan, self.drawer, 228))
        self.use_tool(False)

    def render_state(self, state: State) -> None:
        self.plan.legend = self._legend()
        self.plan.render_state(state, self._style(state), state.show.level_id)
        self.table.render_vm(room_table(state), state.selection.of("room"), state.show.units)
        self.drawer.set_note("Double click or type in a cell; Ctrl C copies for a spreadsheet")
        self.undo_tool.setEnabled(bool(self.session.undo_label))
        self.window_tool.setEnabled(bool(self._outside_walls(state)) and bool(state.project.glazings))
        level = find(state.project.levels, state.show.level_id)
        self.tools.note.set_words(f"{level.name} level" if level else "")

    # -- tools ---------------------------------------------------------------------------------------------------
    def use_tool(self, drawing: bool) -> None:
        self.select_tool.setChecked(not drawing)
        self.room_tool.setChecked(drawing)
        self.way_strip.setVisible(drawing)
        self.plan.tool = DrawRoom(self.plan, self.way_strip.now == "rectangle") if drawing else None
        if not drawing:
            self.plan.unsetCursor()
            self.hint.emit(self.HINT)
        self.plan.setFocus()
        self.plan.update()

    def leave(self) -> None:
        self.use_tool(False)

    def _escape(self) -> None:
        if self.plan.tool is not None:
            self.use_tool(False)
        else:
            self.session.select()

    def _drawn(self, command) -> None:
        """A new room is selected at once, so that its use and name can be typed."""
        before = {r.id for r in self.session.project.rooms}
        self.intent.emit(command)
        new = [r.id for r in self.session.project.rooms if r.id not in before]
        if new:
            self.session.select("room", *new)

    def remove_selected(self) -> None:
        chosen = self.session.selection
        if chosen.kind == "room":
            self.intent.emit(RemoveRooms(chosen.ids))
            self.session.select()
        elif chosen.kind == "opening":
            self.intent.emit(RemoveOpening(*chosen.ids[0].split("/")))
            self.session.select()

    def _legend(self) -> tuple:
        if self.colour_by == "use":
            unheated = (lambda p, box: layers.paint_hatched_box(p, box), "Unheated")
            return (*((theme.use_fill(key), label) for key, (label, _) in FAMILIES.items()), unheated)
        if self.colour_by == "exposure":
            return tuple((_exposed(share), label) for label, share in EXPOSURES)
        return tuple((map_colour("amount", w / 100), f"{w} W/m²") for w in (0, 25, 50, 75, 100))

    def _style(self, state: State) -> layers.PlanStyle:
        project, units = state.project, state.show.units
        fills: dict[str, QColor] = {}
        lines, hatched = {}, set()
        for room in project.rooms:
            found = state.results.room(room.id) if state.results else None
            area = display.with_unit("area", found.figures.area_m2.figure, units) if found else ""
            if not room.system_id:
                hatched.add(room.id)
                fills[room.id] = theme.colour("paper")
                lines[room.id] = (room.number, room.name, f"{area} · unheated")
                continue
            lines[room.id] = (room.number, room.name, area)
            if self.colour_by == "use":
                fills[room.id] = theme.use_fill(family(room.use_id))
            elif self.colour_by == "exposure":
                sides = {round(w.facing_deg) for w in walls_of(project.walls, room.id) if w.outside}
                fills[room.id] = _exposed(EXPOSURES[min(len(sides), 3)][1])
            elif found:
                density = found.peak_w / found.figures.area_m2.figure
                lines[room.id] = (room.number, room.name, display.with_unit("power_density", density, units, 0))
                fills[room.id] = mix(map_colour("amount", density / 100), theme.colour("sheet"), 0.35)
        return layers.PlanStyle(fills, lines, frozenset(hatched), units=units)

    def _colour(self, key: str) -> None:
        self.colour_by = key
        self.session.changed.emit()

    def _outside_walls(self, state: State) -> list:
        ids = state.selection.of("room")
        return [w for i in ids[:1] for w in walls_of(state.project.walls, i) if w.outside]

    def _add_window(self) -> None:
        state = self.session.state
        walls = self._outside_walls(state)
        if walls:
            free = max(walls, key=lambda w: w.length_m - sum(o.width_m for o in w.openings))
            before = {o.id for o in free.openings}
            self.intent.emit(AddWindow(free.id, state.project.glazings[0].id))
            after = find(self.session.project.walls, free.id)
            new = [o.id for o in after.openings if o.id not in before]
            if new:
                self.session.select("opening", f"{free.id}/{new[0]}")


def _exposed(share: float) -> QColor:
    return mix(theme.colour("sheet"), theme.colour("glass"), 0.15 + 0.55 * share)


