"""The page of terminals: what the catalogue offers for a room, the schedule of all, and what is done with several at
once.
"""

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Missing
from garnetfin.engine.stages.terminals import placement
from garnetfin.exchange.terminal_catalogue import read_terminals
from garnetfin.project.ducts import Air
from garnetfin.project.edits.terminals import AlignTerminals, CopyTerminals, PlaceTerminals, TakeTerminals, joined
from garnetfin.project.lookup import find
from garnetfin.ui.bridge import Newest
from garnetfin.ui.state import State
from garnetfin.ui.view_models.terminals import AIR, KINDS, kinds_of, option_table, schedule
from garnetfin.ui.widgets.controls import LinkText, Strip, TextButton
from garnetfin.ui.widgets.table import Table


class TerminalsPage(QWidget):
    intent = Signal(object)
    picked = Signal(str, tuple)
    said = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state: State | None = None
        self.air: Air = "supply"
        self.kind = "ceiling"
        self.air_strip, self.kind_strip = Strip(AIR), Strip(KINDS)
        self.air_strip.chosen.connect(self._air)
        self.kind_strip.chosen.connect(self._kind)
        self.place_button = TextButton("Place in rooms")
        self.copy_button = TextButton("Copy by")
        self.align_strip = Strip((("middle", "middles"), ("corner", "corners")))
        self.align_strip.setToolTip(
            "Rooms lie over each other by their middles or their corners when terminals are copied"
        )
        self.align_button = TextButton("To ceiling grid")
        self.own_link = LinkText("Own catalogue …", px=12)
        for button, tip, on in (
            (self.place_button, "The best option for every chosen room, or every room without", self.place),
            (self.copy_button, "Terminals of the first chosen room to the others, aligned at their middles", self.copy),
            (self.align_button, "Terminals of the chosen rooms to the middles of ceiling tiles", self.align),
        ):
            button.setToolTip(tip)
            button.clicked.connect(on)
        self.own_link.clicked.connect(self.ask_catalogue)
        self.table, self.schedule = Table(row_height=19), Table(row_height=19)
        self.table.picked.connect(lambda kind, ids: self.take(ids[0]) if kind == "option" else None)
        self.schedule.picked.connect(self.picked)
        self._placer = Newest(self._find, "terminals", self)
        self._placer.ready.connect(self._on_found)
        self._placer.failed.connect(self.said)
        column, row = QVBoxLayout(self), QHBoxLayout()
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(4)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(7)
        for part in (
            self.air_strip,
            self.kind_strip,
            self.place_button,
            self.copy_button,
            self.align_strip,
            self.align_button,
            self.own_link,
        ):
            row.addWidget(part)
        row.addStretch(1)
        column.addLayout(row)
        both = QSplitter(Qt.Orientation.Horizontal)
        both.setHandleWidth(1)
        both.setChildrenCollapsible(False)
        both.addWidget(self.table)
        both.addWidget(self.schedule)
        both.setSizes([440, 544])
        column.addWidget(both, 1)

    def close_work(self) -> None:
        self._placer.close()

    def render_page(self, state: State) -> None:
        self._state = state
        self.air_strip.set_now(self.air)
        self.kind_strip.set_now(self.kind)
        self.kind_strip.setVisible(self.air == "supply")
        rooms = self.rooms()
        self.table.render_vm(option_table(state, rooms[0] if rooms else "", self.air, self.kind), (), state.show.units)
        self.schedule.render_vm(schedule(state), state.selection.of("terminal"), state.show.units)
        self.copy_button.setEnabled(len(rooms) > 1)
        self.align_button.setEnabled(bool(rooms))

    def rooms(self) -> tuple[str, ...]:
        """Chosen rooms, or those of chosen terminals."""
        state = self._state
        if state is None:
            return ()
        chosen = [t.room_id for t in state.project.terminals if t.id in state.selection.of("terminal")]
        return state.selection.of("room") or tuple(dict.fromkeys(chosen))

    def _air(self, air: Air) -> None:
        self.air = air
        self.render_page(self._state)

    def _kind(self, kind: str) -> None:
        self.kind = kind
        self.render_page(self._state)

    # -- doing ---------------------------------------------------------------------------------------------------
    def take(self, model: str) -> None:
        """One option for the first chosen room."""
        found = placement(self._state.results, self.rooms()[0], self.air, model, kinds_of(self.kind))
        if isinstance(found, Missing):
            self.said.emit(f"{found.reason.capitalize()}. {found.remedy}")
        else:
            self.intent.emit(PlaceTerminals((found,)))

    def place(self) -> None:
        """The best for chosen rooms, or for all of the system that have none; looked for in the background."""
        state = self._state
        if state is None or not state.known:
            return
        have = {t.room_id for t in state.project.terminals if t.air == self.air}
        rooms = self.rooms() or tuple(
            r.id for r in state.project.rooms if r.system_id == state.show.system_id and r.id not in have
        )
        self._placer.submit((state.results, rooms, self.air, kinds_of(self.kind)))

    @staticmethod
    def _find(job: tuple, stopped) -> tuple:
        results, rooms, air, kinds = job
        made, left = [], []
        for room_id in rooms:
            number = find(results.project.rooms, room_id).number
            if joined(results.project, room_id, air):
                left.append(f"{number} keeps its terminals, they hang on ducts")
                continue
            found = placement(results, room_id, air, "", kinds)
            if not isinstance(found, Missing):
                made.append(found)
            elif found.reason not in ("no flow", "no air"):
                left.append(f"{number}: {found.reason}")
        return tuple(made), left

    def _on_found(self, answer: tuple) -> None:
        made, left = answer
        if made:
            self.intent.emit(PlaceTerminals(made))
        if left or not made:
            self.said.emit(
                "; ".join(left[:4]) + (f" and {len(left) - 4} more" if len(left) > 4 else "")
                or "No room wants terminals of this air"
            )

    def copy(self) -> None:
        rooms = self.rooms()
        if len(rooms) > 1:
            self.intent.emit(CopyTerminals(rooms[0], rooms[1:], self.align_strip.now))

    def align(self) -> None:
        rooms = self.rooms()
        if rooms:
            self.intent.emit(AlignTerminals(rooms, assumption(self._state.project.book, "ceiling_module_m").figure))

    def ask_catalogue(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "A catalogue of terminals", str(Path.home()), "Catalogues (*.csv)")
        if path:
            self.read_catalogue(Path(path))

    def read_catalogue(self, path: Path) -> None:
        try:
            self.intent.emit(TakeTerminals(read_terminals(path)))
        except GarnetfinError as error:
            self.said.emit(str(error))
