"""Loads: the hour field, every room at the hour, the day by cause, the room table."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QSplitter, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.engine.results import Missing, peak_of
from garnetfin.ui.charts.base import title, words
from garnetfin.ui.charts.loads import DayByCause, HourField
from garnetfin.ui.frame.controls import ToolButton
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.frame.table import Table
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models.tables import load_table
from garnetfin.ui.views.base import Nothing, View

FULL_W_M2 = 100.0


class RoomsAtHour(QWidget):
    """Small plans of all levels, the upper ones above, coloured by W/m2 at the hour; a scale beside them."""

    HEAD, SCALE = 36, 78

    def __init__(self, pick, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pick = pick
        self.plans: list[PlanCanvas] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(34, self.HEAD, self.SCALE, 8)
        self._column.setSpacing(4)
        self._title, self._levels = "", ()
        self._units = "SI"

    def render_state(self, state: State, at: tuple[int, int]) -> None:
        levels = state.project.levels
        if len(self.plans) != len(levels):
            for plan in self.plans:
                plan.setParent(None)
            self.plans = [PlanCanvas(still=True) for _ in levels]
            for plan in reversed(self.plans):
                plan.picked.connect(self._pick)
                self._column.addWidget(plan, 1)
                plan.show()
        self._title, self._levels = f"Rooms at {display.hour(*at)}", tuple(x.name for x in reversed(levels))
        self._units = state.show.units
        style = _style(state, at)
        for plan, level in zip(self.plans, levels):
            plan.render_state(state, style, level.id)
        self.update()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour("paper"))
        title(p, 14, 20, self._title)
        words(
            p,
            QPointF(self.width() - 14, 20),
            f"sensible, {display.unit('power_density', self._units)} of floor",
            "faint",
            11.5,
            side="right",
        )
        for plan, name in zip(reversed(self.plans), self._levels):
            p.save()
            p.translate(18, plan.y() + plan.height() / 2)
            p.rotate(-90)
            words(p, QPointF(0, 0), name, "ink", 11.5, 500)
            p.restore()
        top, height = self.HEAD + 26.0, min(150.0, self.height() * 0.4)
        x = self.width() - self.SCALE + 16.0
        for i in range(int(height)):
            p.fillRect(QRectF(x, top + i, 9, 1.3), map_colour("amount", 1 - i / height))
        for share in (0, 0.25, 0.5, 0.75, 1.0):
            value = display.figure("power_density", share * FULL_W_M2, self._units, 0)
            words(p, QPointF(x + 16, top + height * (1 - share)), value + ("+" if share == 1 else ""), side="left")


def _style(state: State, at: tuple[int, int]) -> layers.PlanStyle:
    fills, lines, hatched = {}, {}, set()
    for room in state.project.rooms:
        found = state.results.room(room.id)
        if not room.system_id or found is None:
            hatched.add(room.id)
            fills[room.id] = theme.colour("paper")
            lines[room.id] = ("unheated" if found else "open",)
            continue
        density = float(found.sensible_w[at]) / found.figures.area_m2.figure
        fills[room.id] = map_colour("amount", density / FULL_W_M2)
        lines[room.id] = (display.figure("power_density", density, state.show.units, 0),)
    return layers.PlanStyle(fills, lines, frozenset(hatched), compact=True, units=state.show.units)


class LoadsView(View):
    HINT = "Pick an hour; the plans show every room at it. Arrow keys walk, the ring is the governing hour."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.kind = "sensible"
        self.governing = ToolButton("pin", "Back to the governing hour (Home)")
        self.governing.clicked.connect(lambda: session.set_show(hour=None))
        self.tools.add(self.governing)
        self.scope = self.tools.add_strip("For", (("room", "Room"), ("level", "Level"), ("system", "System"),
                                                  ("building", "Building")), lambda k: session.set_show(scope=k, hour=None))
        self.show_kind = self.tools.add_strip("Show", (("sensible", "Sensible"), ("latent", "Latent"), ("total", "Total")),
                                              self._show)
        self.tools.note.set_words("21st of each month, clear sky, standard time")
        self.field = HourField()
        self.field.picked.connect(lambda m, h: session.set_show(hour=(m, h)))
        self.field.governing.connect(lambda: session.set_show(hour=None))
        self.rooms = RoomsAtHour(self._pick_room)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        both = QSplitter()
        both.setHandleWidth(1)
        both.setChildrenCollapsible(False)
        both.addWidget(self.field)
        both.addWidget(self.rooms)
        both.setSizes([496, 488])
        self._stack.addWidget(both)
        self._stack.addWidget(self._nothing)
        self.day = DayByCause()
        self.table = Table()
        self.table.picked.connect(self.pick)
        self.drawer = Drawer((("Day by cause", self.day), ("Room table", self.table)))
        self.set_main(MainAndDrawer(self._stack, self.drawer, 220))

    def block(self, state: State):
        ids, name = charts.scope_rooms(state)
        return charts.scope_block(state, ids) if state.results else Missing("computing"), name

    def render_state(self, state: State) -> None:
        self.scope.set_now(state.show.scope)
        block, name = self.block(state)
        if state.system:
            self.scope.set_choices((("room", "Room"), ("level", "Level"), ("system", state.system.name),
                                    ("building", "Building")))
        if isinstance(block, Missing):
            self._nothing.say(block)
            self._stack.setCurrentWidget(self._nothing)
            return
        self._stack.setCurrentIndex(0)
        values = charts.field_of(block, self.kind)
        at = state.show.hour or peak_of(values, block.counted)
        self.field.render_vm(charts.hour_field(state, block, name, self.kind))
        self.rooms.render_state(state, at)
        self.day.render_vm(charts.day_by_cause(state, block, self.kind))
        self.table.render_vm(load_table(state), state.selection.of("room"), state.show.units)
        self.drawer.set_note(f"{display.hour(*at)} · {name} · {self.kind}, {display.unit('load', state.show.units)}")

    def _show(self, kind: str) -> None:
        self.kind = kind
        self.session.set_show(hour=None)
        self.session.changed.emit()

    def _pick_room(self, kind: str, ids: tuple, add: bool) -> None:
        if kind == "opening":
            return
        self.pick(kind, ids, add)
        if ids and self.session.show.scope != "room":
            self.session.set_show(scope="room", hour=None)
        elif not ids:
            self.session.set_show(scope="system", hour=None)
