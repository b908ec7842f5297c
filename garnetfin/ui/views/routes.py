"""Route proposals in the place of the plan: several layouts side by side, one taken by a click; progress and stop while
they are made.
"""

import threading

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QBrush, QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.core.units import parse
from garnetfin.engine.layout.all_airs import propose_level
from garnetfin.engine.layout.all_levels import levels_with, propose_levels
from garnetfin.engine.layout.placing import wanting
from garnetfin.engine.layout.routes import Proposal, Question, starts
from garnetfin.engine.results import Results, there
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.base import words
from garnetfin.ui.countdown import Countdown
from garnetfin.ui.plan.canvas import PlanCanvas
from garnetfin.ui.plan.geometry import polygon
from garnetfin.ui.plan.layers import PlanStyle, pen
from garnetfin.ui.state import Selection, State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.routes import TileVM, tiles
from garnetfin.ui.widgets.bare import thin
from garnetfin.ui.widgets.controls import TextButton, Words

SHOWN_EVERY_MS = 120


class _SmallPlan(PlanCanvas):
    """A plan that is looked at only; what is in the way is hatched in red."""

    def __init__(self) -> None:
        super().__init__(still=True)
        self.blocked: tuple = ()
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def paint(self, p: QPainter) -> None:
        super().paint(p)
        for outline in self.blocked:
            if outline:
                shape = self.map.map(polygon(outline))
                p.setPen(pen(theme.colour("bad"), 1.6))
                p.setBrush(QBrush(theme.colour("bad"), Qt.BrushStyle.BDiagPattern))
                p.drawPolygon(shape)


class Tile(QWidget):
    """One proposal: plan above, figures below, the catch, a button; a failed one says what is in the way and what would
    free it.
    """

    chosen = Signal(int)
    taken = Signal(int)
    mended = Signal(int, int)
    FOOT, ABOVE_REASON, BELOW_REASON = 96, 20, 40

    def __init__(self, number: int) -> None:
        super().__init__()
        self.number = number
        self.vm: TileVM | None = None
        self._chosen = False
        self.plan = _SmallPlan()
        self.plan.setParent(self)
        self.button = TextButton("Apply", self)
        self.button.clicked.connect(lambda: self.taken.emit(self.number))
        self.mends = [TextButton("", self), TextButton("", self)]
        for k, button in enumerate(self.mends):
            button.clicked.connect(lambda _=False, k=k: self.mended.emit(self.number, k))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(300)

    @property
    def foot(self) -> float:
        """Height below the plan [px]: as much as the reason needs."""
        if self.vm is None or self.vm.works:
            return self.FOOT
        return max(self.FOOT, self._reason_px() + self.ABOVE_REASON + self.BELOW_REASON)

    def _reason_px(self) -> float:
        wide = QRectF(0, 0, max(self.width() - 36, 60), 10_000)
        metrics = QFontMetricsF(theme.font(11.5))
        return metrics.boundingRect(wide, Qt.TextFlag.TextWordWrap, self.vm.reason).height() if self.vm else 0.0

    def show_tile(self, vm: TileVM, chosen: bool) -> None:
        self.vm, self._chosen = vm, chosen
        self.setAccessibleName(f"Proposal {vm.letter}, {vm.name}")
        self.button.setVisible(vm.works)
        for k, button in enumerate(self.mends):
            button.setVisible(k < len(vm.mends))
            if k < len(vm.mends):
                button.setText(vm.mends[k])
        self._place()
        self.update()

    def _place(self) -> None:
        self.plan.setGeometry(8, 34, self.width() - 16, int(self.height() - 34 - self.foot))
        self.button.adjustSize()
        self.button.move(self.width() - self.button.sizeHint().width() - 16, int(self.height() - self.foot + 28))
        x = 18
        for button in self.mends:
            button.adjustSize()
            button.move(x, self.height() - 30)
            x += button.sizeHint().width() + 10

    def resizeEvent(self, event) -> None:
        self._place()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = theme.colour
        p.fillRect(self.rect(), c("paper"))
        vm = self.vm
        if vm is None:
            return
        ink = "garnet" if vm.works else "bad"
        p.setPen(QPen(c(ink), 1.4))
        p.setBrush(c(ink) if self._chosen else c("sheet"))
        p.drawEllipse(QPointF(23, 18), 9, 9)
        words(p, QPointF(23, 18), vm.letter, c("on_garnet") if self._chosen else c(ink), 11, 600)
        words(p, QPointF(40, 18), vm.name, "ink", 13, 600, "left")
        words(
            p,
            QPointF(52 + QFontMetricsF(theme.font(13, 600)).horizontalAdvance(vm.name), 18),
            vm.line,
            "faint",
            11.5,
            400,
            "left",
        )
        y = self.height() - self.foot + 12
        if vm.works:
            for k, (label, figure, unit, least) in enumerate(vm.figures):
                x = 18 + k * 86
                words(p, QPointF(x, y), label, "faint", 11, 400, "left")
                words(p, QPointF(x, y + 20), figure, "good" if least else "ink", 16.5, 600, "left")
                words(
                    p,
                    QPointF(x + QFontMetricsF(theme.font(16.5, 600)).horizontalAdvance(figure) + 4, y + 21),
                    unit,
                    "faint",
                    11,
                    400,
                    "left",
                )
                if least:
                    words(p, QPointF(x, y + 38), "least", "good", 11, 500, "left")
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(c("watch" if vm.watched else "good"))
            p.drawEllipse(QPointF(22, y + 62), 3, 3)
            words(p, QPointF(32, y + 62), vm.note, "ink", 11.5, 400, "left")
        else:
            words(p, QPointF(18, y), "In the way", "faint", 11, 400, "left")
            p.setPen(c("ink"))
            p.setFont(theme.font(11.5))
            p.drawText(QRectF(18, y + 8, self.width() - 36, self._reason_px() + 2), Qt.TextFlag.TextWordWrap, vm.reason)
            if not vm.mends:
                words(
                    p,
                    QPointF(18, self.height() - 18),
                    "No single change that was tried frees it.",
                    "faint",
                    11.5,
                    400,
                    "left",
                )
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(c("garnet"), 2.5) if self._chosen else QPen(c("rule"), 1))
        p.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event) -> None:
        self.setFocus()
        self.chosen.emit(self.number)

    def keyPressEvent(self, event) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.vm is not None and self.vm.works:
            self.taken.emit(self.number)
        elif event.key() == Qt.Key.Key_Space:
            self.chosen.emit(self.number)
        else:
            super().keyPressEvent(event)


class RoutesPage(QWidget):
    """Asks for proposals in the background and shows them; `taken` carries the command, `closed` puts the page away."""

    taken = Signal(object)
    closed = Signal()
    changed = Signal()
    said = Signal(str)
    placing_asked = Signal(tuple, str)  # rooms that want terminals, and of which air

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        head = QWidget()
        head.setFixedHeight(40)
        row = QHBoxLayout(head)
        row.setContentsMargins(16, 0, 14, 0)
        row.setSpacing(8)
        self.title, self.note = Words("Propose routes", px=13, tone="garnet", weight=600), Words("", px=11.5)
        row.addWidget(self.title)
        row.addWidget(self.note, 1)
        self.shut = QComboBox()
        self.shut.setToolTip("A room that no duct may run through")
        self.shut.activated.connect(self._ask_anew)
        self.start = QComboBox()
        self.start.setToolTip("Where the ducts begin")
        self.start.activated.connect(self._ask_anew)
        self.extent = QComboBox()
        self.extent.setToolTip("One level, or all that have terminals of this air, with risers through the shafts")
        self.extent.addItem("this level", False)
        self.extent.addItem("all levels", True)
        self.extent.activated.connect(self._ask_anew)
        for box in (self.shut, self.start):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(15)
        self.trunk, self.branch = QLineEdit(), QLineEdit()
        for field, hint, tip in (
            (self.trunk, "trunk at", "Height of the trunk's axis above the floor; empty: by the ceiling"),
            (self.branch, "branches at", "Height of the branches above the floor; empty: as the trunk"),
        ):
            field.setPlaceholderText(hint)
            field.setToolTip(tip)
            field.setAccessibleName(tip)
            field.setFixedWidth(78)
            field.returnPressed.connect(self._ask_anew)
        self.stop, self.again, self.away = TextButton("Stop"), TextButton("Try again"), TextButton("Discard")
        for widget in (self.extent, self.start, self.shut, self.trunk, self.branch, self.stop, self.again, self.away):
            row.addWidget(widget)
        self.stop.clicked.connect(self._halt)
        self.again.clicked.connect(self._ask_anew)
        self.away.clicked.connect(self.closed)
        column.addWidget(head)
        self._grid_of = QWidget()
        self._grid = QGridLayout(self._grid_of)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(0)
        self._bare = QWidget()
        bare = QVBoxLayout(self._bare)
        bare.setContentsMargins(24, 18, 24, 18)
        self.why_bare, self.place = Words("", px=13, tone="ink"), TextButton("", filled=True)
        self.place.clicked.connect(self._ask_placing)
        bare.addWidget(self.why_bare)
        bare.addWidget(self.place, 0, Qt.AlignmentFlag.AlignLeft)
        self._bare.setVisible(False)
        column.addWidget(self._bare)
        area = QScrollArea()
        thin(area)
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(self._grid_of)
        column.addWidget(area, 1)
        self.tiles: list[Tile] = []
        self.found: tuple[Proposal, ...] = ()
        self.now = 0
        self._question: Question | None = None
        self._state: State | None = None
        self._flag = threading.Event()
        self._share = (0.0, "")
        self._gone = Countdown()
        self._wanting: tuple[str, ...] = ()
        self._worker = Newest(self._work, "routes", self)
        self._worker.ready.connect(self._ready)
        self._worker.failed.connect(self._broke)
        self._clock = QTimer(self, interval=SHOWN_EVERY_MS)
        self._clock.timeout.connect(self._tell)

    @property
    def busy(self) -> bool:
        return self._clock.isActive()

    def ask(self, state: State, question: Question) -> None:
        """Propose for the project as it stands."""
        self._state, self._question, self.found, self.now = state, question, (), 0
        if [self.shut.itemData(i) for i in range(self.shut.count())][1:] != [
            r.id for r in state.project.rooms if r.level_id == question.level_id
        ]:
            self.shut.clear()
            self.shut.addItem("through any room", "")
            for room in state.project.rooms:
                if room.level_id == question.level_id:
                    self.shut.addItem(f"not through {room.number} {room.name}", room.id)
        self.start.clear()
        self.start.addItem("start by itself", "")
        for point_id, words_ in starts(state.results, question) if state.known else ():
            self.start.addItem(words_, point_id)
        self.start.setCurrentIndex(max(0, self.start.findData(question.start)))
        self.shut.setCurrentIndex(max(0, self.shut.findData(question.shut[0]) if question.shut else 0))
        several = state.known and len(levels_with(state.results, question.system_id, question.air)) > 1
        self.extent.setVisible(several)
        if not several:
            self.extent.setCurrentIndex(0)
        for widget in (self.start, self.trunk, self.branch):
            widget.setEnabled(not self.extent.currentData())  # of one level alone
        self._render()
        self._flag = threading.Event()
        self._share = (0.0, "")
        self._show_bare(state, question)
        if not question.terminal_ids:
            self.stop.setVisible(False)
            self.again.setVisible(False)
            self.note.set_words("")
            self.changed.emit()
            return
        self._clock.start()
        self.stop.setVisible(True)
        self.again.setVisible(False)
        self._worker.submit((state.results, question, self._flag, bool(self.extent.currentData())))
        self._tell()

    def _show_bare(self, state: State, q: Question) -> None:
        """Without terminals there is nothing to lay out: what is missing, and the step that brings it."""
        self._bare.setVisible(not q.terminal_ids)
        if q.terminal_ids or not state.known:
            return
        self._wanting = wanting(state.results, q.system_id, q.air, q.level_id)
        count = len(self._wanting)
        self.why_bare.set_words(
            f"No {q.air} terminals stand on this level, and ducts are laid out to terminals."
            if count
            else f"No room of this level has {q.air} air: its flow comes from loads or is typed in Air."
        )
        self.place.setText(f"Place terminals in {count} room{'s' if count != 1 else ''}")
        self.place.setVisible(bool(count))

    def _ask_placing(self) -> None:
        if self._question is not None:
            self.placing_asked.emit(self._wanting, self._question.air)

    def close_work(self) -> None:
        self._flag.set()
        self._worker.close()

    def _ask_anew(self, *_) -> None:
        if self._state is None or self._question is None:
            return
        heights: list[float | None] = []
        for field in (self.trunk, self.branch):
            try:
                heights.append(parse(field.text(), "length", self._state.show.units) if field.text().strip() else None)
            except GarnetfinError as error:
                self.said.emit(str(error))
                return
        shut = self.shut.currentData()
        q = self._question
        self.ask(
            self._state,
            Question(
                q.system_id,
                q.air,
                q.level_id,
                q.terminal_ids,
                (shut,) if shut else (),
                heights[0],
                heights[1],
                self.start.currentData() or "",
            ),
        )

    def _halt(self) -> None:
        self._flag.set()

    def _work(self, job: tuple[Results, Question, threading.Event, bool], stopped) -> tuple:
        results, question, flag, every_level = job

        def told(share: float, name: str) -> None:
            if stopped():
                raise Cancelled
            self._share = (share, name)

        try:
            asked = propose_levels if every_level else propose_level
            return asked(results, question, told, flag.is_set), "", flag.is_set()
        except GarnetfinError as error:
            if isinstance(error, Cancelled):
                raise
            return (), str(error), False

    def _tell(self) -> None:
        share, name = self._share
        if self.busy:
            self.note.set_words(f"{name or 'starting'} … {self._gone.say(share)}")

    def _ready(self, answer: tuple) -> None:
        self._clock.stop()
        self.stop.setVisible(False)
        self.again.setVisible(True)
        self.found, fault, halted = answer
        self.now = 0
        works = sum(p.failure is None for p in self.found)
        words_ = (
            fault
            or f"{len(self._question.terminal_ids)} terminals · {works} complete, {len(self.found) - works} failed"
            + (" · stopped" if halted else "")
        )
        self.note.set_words(words_, "bad" if fault else "")
        self._render()
        self.changed.emit()

    def _broke(self, what: str) -> None:
        self._clock.stop()
        self.stop.setVisible(False)
        self.again.setVisible(True)
        self.note.set_words(f"Proposals stopped. {what}", "bad")

    def _render(self) -> None:
        vms = tiles(self.found, self._state.show.units) if self._state else ()
        while len(self.tiles) > len(vms):
            tile = self.tiles.pop()
            self._grid.removeWidget(tile)
            tile.deleteLater()
        while len(self.tiles) < len(vms):
            tile = Tile(len(self.tiles))
            tile.chosen.connect(self._choose)
            tile.taken.connect(self._take)
            tile.mended.connect(self._mend)
            self._grid.addWidget(tile, len(self.tiles) // 2, len(self.tiles) % 2)
            self.tiles.append(tile)
        for k, (tile, vm, p) in enumerate(zip(self.tiles, vms, self.found)):
            tile.show_tile(vm, k == self.now)
            tile.plan.blocked = p.failure.blocked if p.failure else ()
            tile.plan.render_state(
                self._of(p),
                PlanStyle(ducts=True, compact=True, labels="none", quiet=True, units=self._state.show.units),
                self._question.level_id,
            )

    def _of(self, p: Proposal) -> State:
        """The project as it would be; where nothing works, as it is without the ducts that were to be replaced."""
        state = there(self._state)
        if p.found is None or p.project is None:
            return State(state.project, state.found, Selection(), state.show, False)
        results = state.results.with_ducts(p.project, p.found, *p.others)
        return State(p.project, results, Selection(), state.show, False)

    def _choose(self, number: int) -> None:
        self.now = number
        for k, (tile, vm) in enumerate(zip(self.tiles, tiles(self.found, self._state.show.units))):
            tile.show_tile(vm, k == number)
        self.changed.emit()

    def _take(self, number: int) -> None:
        p = self.found[number]
        if p.command is not None:
            self.taken.emit(p.command)

    def _mend(self, number: int, k: int) -> None:
        """What would free a failed one: a changed question is asked at once, an edit is made and asked again."""
        _, change = self.found[number].failure.mends[k]
        if isinstance(change, Question):
            self.ask(self._state, change)
        else:
            self.mend_asked(change)

    def mend_asked(self, command) -> None:
        """Set by the view: an edit that frees a failed proposal."""
