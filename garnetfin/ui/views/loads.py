"""Loads: the hour field, every room at the hour, the day by cause, the room table."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter
from PySide6.QtWidgets import QGridLayout, QSplitter, QStackedWidget, QWidget

from garnetfin import display
from garnetfin.core.errors import Cancelled
from garnetfin.engine.results import Missing, peak_of
from garnetfin.engine.studies.densities import DensityTable, density_table
from garnetfin.engine.studies.sensitivity import Sensitivity, sensitivity
from garnetfin.engine.studies.year import YearResult, hours_of, year_of
from garnetfin.project.edits.book import FreeUseProfile, SetUseProfile
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.base import title, words
from garnetfin.ui.charts.loads import DayByCause, HourField
from garnetfin.ui.charts.movers import MoversChart
from garnetfin.ui.charts.profile import ProfileChart
from garnetfin.ui.charts.year import DurationCurve, YearField
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer, page_of
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import map_colour, theme
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models.tables import GROUPS, density_rows, load_table
from garnetfin.ui.views.base import Nothing, View
from garnetfin.ui.widgets.controls import LinkText, RunButton, Strip, ToolButton, Words
from garnetfin.ui.widgets.table import Table

FULL_W_M2 = 100.0


class RoomsAtHour(QWidget):
    """Small plans of all levels, the upper ones above, coloured by W/m2 at the hour; a scale beside them."""

    HEAD, LEFT, SCALE, BESIDE, BELOW = 36, 34, 78, 24, 4

    def __init__(self, pick, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pick = pick
        self.plans: list[PlanCanvas] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(self.LEFT, self.HEAD, self.SCALE, 8)
        self._grid.setHorizontalSpacing(self.BESIDE)
        self._grid.setVerticalSpacing(self.BELOW)
        self._title, self._levels, self._wide, self._columns = "", (), 2.0, 0
        self._units = "SI"

    def render_state(self, state: State, at: tuple[int, int]) -> None:
        levels = state.project.levels
        if len(self.plans) != len(levels):
            for plan in self.plans:
                plan.setParent(None)
            self.plans, self._columns = [PlanCanvas(still=True) for _ in levels], 0
            for plan in self.plans:
                plan.picked.connect(self._pick)
        self._title, self._levels = f"Rooms at {display.hour(*at)}", tuple(x.name for x in reversed(levels))
        self._units = state.show.units
        corners = [p for r in state.project.rooms for p in r.outline]
        if corners:
            xs, ys = zip(*corners)
            self._wide = max(max(xs) - min(xs), 1.0) / max(max(ys) - min(ys), 1.0)
        self._lay_out()
        style = _style(state, at)
        for plan, level in zip(self.plans, levels):
            plan.render_state(state, style, level.id)
        self.update()

    def _lay_out(self) -> None:
        """As many columns as make the plans largest, the uppermost level first."""
        count = len(self.plans)
        width, height = self.width() - self.LEFT - self.SCALE, self.height() - self.HEAD - 8

        def scale(columns: int) -> float:
            rows = -(-count // columns)
            return min((width / columns - self.BESIDE) / self._wide, height / rows - self.BELOW)

        columns = max(range(1, count + 1), key=lambda c: (scale(c), -c), default=1)
        if columns == self._columns:
            return
        self._columns = columns
        for k, plan in enumerate(reversed(self.plans)):
            self._grid.addWidget(plan, k // columns, k % columns)
            plan.show()
        for k in range(max(self._grid.rowCount(), self._grid.columnCount())):
            self._grid.setRowStretch(k, 1 if k < -(-count // columns) else 0)
            self._grid.setColumnStretch(k, 1 if k < columns else 0)

    def resizeEvent(self, event) -> None:
        self._lay_out()

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
            p.translate(plan.x() - 16, plan.y() + plan.height() / 2)
            p.rotate(-90)
            words(
                p,
                QPointF(0, 0),
                QFontMetricsF(theme.font(11.5, 500)).elidedText(name, Qt.TextElideMode.ElideRight, plan.height()),
                "ink",
                11.5,
                500,
            )
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
        if not room.kept or found is None:
            hatched.add(room.id)
            fills[room.id] = theme.colour("paper")
            lines[room.id] = (
                display.with_unit("temperature", float(found.air_c[at]), state.show.units, 0) if found else "open",
            )
            continue
        density = float(found.sensible_w[at]) / found.figures.area_m2.figure
        fills[room.id] = map_colour("amount", density / FULL_W_M2)
        lines[room.id] = (display.figure("power_density", density, state.show.units, 0),)
    return layers.PlanStyle(fills, lines, frozenset(hatched), compact=True, units=state.show.units)


class LoadsView(View):
    HINT = "Pick an hour; the plans show every room at it. Point at a figure and press W for its derivation."
    TABS = ("Day by cause", "Room table", "Sensitivity", "Through the day", "Year", "Estimates")

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.kind = "sensible"
        self.sort: tuple[int, bool] = (-1, False)
        self.group, self.day_kind, self.moves = "", "working", "cooling"
        self._moved: Sensitivity | Missing | None = None
        self._asked: tuple | None = None
        self._year: YearResult | None = None
        self._year_of: tuple | None = None
        self._mover = Newest(self._find_movers, "movers", self)
        self._mover.ready.connect(self._on_movers)
        self._densities: DensityTable | Missing | None = None
        self._dense_for: object = None
        self._counter = Newest(self._find_densities, "densities", self)
        self._counter.ready.connect(self._on_densities)
        self._runner = Newest(self._run_year, "year", self)
        self._runner.ready.connect(self._on_year)
        self._runner.failed.connect(self._year_failed)
        self.governing = ToolButton("pin", "Back to the governing hour (Home)")
        self.governing.clicked.connect(lambda: session.set_show(hour=None))
        self.tools.add(self.governing)
        self.scope = self.tools.add_strip(
            "For",
            (("room", "Room"), ("zone", "Zone"), ("level", "Level"), ("system", "System"), ("building", "Building")),
            lambda k: session.set_show(scope=k, hour=None),
        )
        self.show_kind = self.tools.add_strip(
            "Show", (("sensible", "Sensible"), ("latent", "Latent"), ("total", "Total")), self._show
        )
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
        self.day, self.table, self.movers, self.profile = DayByCause(), Table(), MoversChart(), ProfileChart()
        self.table.picked.connect(self._picked_row)
        self.table.headed.connect(self._sort)
        self.profile.drawn.connect(self._profile_drawn)
        self.estimates = Table()
        self.year_field, self.year_curve = YearField(), DurationCurve()
        self.year_field.picked.connect(lambda hour: session.set_show(hour=(charts.month_of(hour), hour % 24)))
        self.group_strip, self.day_strip = Strip(GROUPS), Strip(charts.DAY_KINDS)
        self.moves_strip = Strip((("cooling", "Cooling"), ("heating", "Heating")))
        self.group_strip.chosen.connect(self._group)
        self.day_strip.chosen.connect(self._day)
        self.moves_strip.chosen.connect(self._moves)
        self.run_button = RunButton("Run the year")
        self.run_button.clicked.connect(self.run_year)
        self.free_link = LinkText("Back to the profile that ships", px=12)
        self.free_link.clicked.connect(lambda: self.intent.emit(FreeUseProfile(self._use_id(self.session.state))))
        year = QSplitter()
        year.setChildrenCollapsible(False)
        year.setHandleWidth(1)
        year.addWidget(self.year_field)
        year.addWidget(self.year_curve)
        year.setSizes([600, 384])
        self.drawer = Drawer(
            tuple(
                zip(
                    self.TABS,
                    (
                        self.day,
                        page_of(self.table, Words("Group", px=12), self.group_strip),
                        page_of(self.movers, self.moves_strip),
                        page_of(self.profile, self.day_strip, self.free_link),
                        page_of(year, self.run_button),
                        self.estimates,
                    ),
                )
            )
        )
        self.drawer.chosen.connect(lambda i: session.changed.emit())
        self.set_main(MainAndDrawer(self._stack, self.drawer, 236))

    def leave(self) -> None:
        self._asked = None

    def close_work(self) -> None:
        """Threads of this view end with the window."""
        self._mover.close()
        self._counter.close()
        self._runner.close()

    @property
    def tab(self) -> str:
        return self.TABS[self.drawer.head.now]

    def block(self, state: State):
        ids, name = charts.scope_rooms(state)
        return charts.scope_block(state, ids) if state.known else Missing("computing"), name

    def render_state(self, state: State) -> None:
        self.scope.set_now(state.show.scope)
        self.show_kind.set_now(self.kind)
        block, name = self.block(state)
        if state.system:
            self.scope.set_choices(
                (
                    ("room", "Room"),
                    *((("zone", "Zone"),) if state.project.zones else ()),
                    ("level", "Level"),
                    ("system", state.system.name),
                    ("building", "Building"),
                )
            )
        if isinstance(block, Missing):
            self._nothing.say(block)
            self._stack.setCurrentWidget(self._nothing)
            return
        self._stack.setCurrentIndex(0)
        values = charts.field_of(block, self.kind)
        at = state.show.hour or peak_of(values, block.counted)
        self.field.render_vm(charts.hour_field(state, block, name, self.kind))
        self.rooms.render_state(state, at)
        note = f"{display.hour(*at)} · {name} · {self.kind}, {display.unit('load', state.show.units)}"
        match self.tab:
            case "Day by cause":
                other = state.against_block(block.room_ids)
                self.day.render_vm(
                    charts.day_by_cause(state, block, self.kind, other, state.against_name if other else "")
                )
            case "Room table":
                self.group_strip.set_now(self.group)
                self.table.sorted_by = self.sort
                self.table.render_vm(
                    load_table(state, self.sort, self.group), state.selection.of("room"), state.show.units
                )
                self.table.horizontalHeader().viewport().update()
                note = "click a head to sort · Ctrl+C copies the rows"
            case "Sensitivity":
                self._ask_movers(state, block)
                self.moves_strip.set_now(self.moves)
                self.movers.render_vm(charts.movers(state, self._moved))
                note = f"{name} · low hollow, high filled, one input at a time"
            case "Through the day":
                self.day_strip.set_now(self.day_kind)
                self.profile.render_vm(charts.profile(state, self._use_id(state), self.day_kind))
                self.free_link.setVisible(any(u.use_id == self._use_id(state) for u in state.project.book.use_profiles))
                note = "drag to draw; every room of the use follows"
            case "Year":
                note = self._render_year(state, block, name)
            case "Estimates":
                if self._dense_for is not state.found:
                    self._dense_for, self._densities = state.found, None
                    self._counter.submit(state.results)
                self.estimates.render_vm(density_rows(state, self._densities), (), state.show.units)
                note = (
                    f"typical floor with the office standards' shell · cooling / heating, "
                    f"{display.unit('power_density', state.show.units)}"
                )
        self.drawer.set_note(note)

    def _show(self, kind: str) -> None:
        self.kind = kind
        self.session.set_show(hour=None)
        self.session.changed.emit()

    # -- table ---------------------------------------------------------------------------------------------------
    def _sort(self, column: int) -> None:
        now, falling = self.sort
        figures = column in (3, 4, 5, 7, 8, 9, 10)
        self.sort = (column, figures) if now != column else (column, not falling) if falling == figures else (-1, False)
        self.session.changed.emit()

    def _group(self, key: str) -> None:
        self.group = key
        self.session.changed.emit()

    def _picked_row(self, kind: str, ids: tuple) -> None:
        rooms = tuple(i for i in ids if not i.startswith("group "))
        if rooms:
            self.pick("room", rooms)

    # -- profile -------------------------------------------------------------------------------------------------
    def _use_id(self, state: State) -> str:
        chosen = [r for r in state.project.rooms if r.id in state.selection.of("room")]
        served = [r for r in state.project.rooms if r.kept]
        found = chosen or served or list(state.project.rooms)
        return found[0].use_id if found else "office_open"

    def _day(self, key: str) -> None:
        self.day_kind = key
        self.session.changed.emit()

    def _profile_drawn(self, hours: tuple) -> None:
        self.intent.emit(SetUseProfile(self._use_id(self.session.state), self.day_kind, hours))

    # -- what moves it -------------------------------------------------------------------------------------------
    def _moves(self, key: str) -> None:
        self.moves = key
        self.session.changed.emit()

    def _ask_movers(self, state: State, block) -> None:
        asked = (state.found, block.room_ids, self.moves)
        if (
            self._asked is None
            or any(a is not b and a != b for a, b in zip(self._asked[1:], asked[1:]))
            or self._asked[0] is not asked[0]
        ):
            self._asked = asked
            self._moved = None
            self._mover.submit(asked)

    @staticmethod
    def _find_movers(job: tuple, stopped) -> tuple:
        def told(share: float) -> None:
            if stopped():
                raise Cancelled

        results, ids, kind = job
        return job, sensitivity(results, ids, kind == "heating", told)

    def _on_movers(self, answer: tuple) -> None:
        job, found = answer
        if job is self._asked:
            self._moved = found
            self.session.changed.emit()

    # -- early estimates side by side ------------------------------------------------------------------------------
    @staticmethod
    def _find_densities(results, stopped) -> tuple:
        def told(share: float) -> None:
            if stopped():
                raise Cancelled

        return results, density_table(results, told)

    def _on_densities(self, answer: tuple) -> None:
        if answer[0] is self._dense_for:
            self._densities = answer[1]
            self.session.changed.emit()

    # -- year ----------------------------------------------------------------------------------------------------
    def run_year(self) -> None:
        """Run the rooms looked at through the hours of the weather file; a second click stops."""
        state = self.session.state
        block, _ = self.block(state)
        weather = state.project.site.weather if state.project.site else None
        data = self.session.contents.get(weather.content) if weather else None
        if self.run_button.busy:
            self._runner.submit(None)
            self.run_button.set_busy("")
        elif isinstance(block, Missing) or data is None:
            self.refused.emit("A year of hours is missing. Read a weather file in Climate first")
        else:
            self._runner.submit((state.results, data, block.room_ids))
            self.run_button.set_busy("Stop")

    def _run_year(self, job: tuple | None, stopped) -> tuple | None:
        if job is None:
            return None
        results, data, ids = job

        def told(share: float) -> None:
            if stopped():
                raise Cancelled

        return results, year_of(results, hours_of(data), ids, told)

    def _on_year(self, answer: tuple | None) -> None:
        self.run_button.set_busy("")
        if answer is not None:
            self._year_of, self._year = answer
        self.session.changed.emit()

    def _year_failed(self, why: str) -> None:
        self.run_button.set_busy("")
        self.refused.emit(why)

    def _render_year(self, state: State, block, name: str) -> str:
        weather = state.project.site.weather if state.project.site else None
        if weather is None:
            return "no year of hours: read a weather file in Climate"
        if (
            self._year is None
            or set(self._year.room_ids) - set(block.room_ids)
            or set(block.room_ids) - set(self._year.room_ids)
        ):
            return f"{weather.name}: run it for {name}"
        field, curve = charts.year_loads(state, self._year)
        self.year_field.render_vm(field)
        self.year_curve.render_vm(curve)
        stale = " · of an earlier state, run it again" if self._year_of is not state.found else ""
        return (
            f"{name}: {self._year.beyond} h beyond the design days' "
            f"{display.with_unit('load', self._year.design_w, state.show.units)}{stale}"
        )

    def _pick_room(self, kind: str, ids: tuple, add: bool) -> None:
        if kind == "opening":
            return
        self.pick(kind, ids, add)
        if ids and self.session.show.scope not in ("room", "zone"):
            self.session.set_show(scope="room", hour=None)
        elif not ids:
            self.session.set_show(scope="system", hour=None)
