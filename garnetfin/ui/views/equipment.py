"""The page of equipment: its schedules, with what can be fixed in place, and what is put into rooms."""

from functools import partial
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.equipment.schedules import KEYS
from garnetfin.exchange.equipment_catalogue import read_equipment
from garnetfin.project.edits.equipment import PutBox, PutRoomUnit, RemoveRoomUnits
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models.equipment import ROOM_UNITS, rooms_of, schedule_table
from garnetfin.ui.widgets.bare import Menu
from garnetfin.ui.widgets.controls import LinkText, Strip, TextButton
from garnetfin.ui.widgets.table import Table

SHOWN = (("all", "all"), ("system", "system"), ("level", "level"))


class EquipmentPage(QWidget):
    intent = Signal(object)
    picked = Signal(str, tuple)
    said = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state: State | None = None
        self.key, self.shown, self.item = KEYS[0][0], "all", ""
        self.strip, self.shown_strip = Strip(KEYS), Strip(SHOWN)
        self.strip.chosen.connect(self._choose)
        self.shown_strip.chosen.connect(self._filter)
        self.box_button = TextButton("Put one box")
        self.unit_button = TextButton("Put a unit …")
        self.remove_button = TextButton("Remove")
        self.own_link = LinkText("Own catalogue …", px=12)
        for button, tip, on in (
            (self.box_button, "One flow box for all chosen rooms", self.put_box),
            (self.unit_button, "A unit of some kind into each chosen room", self.ask_unit),
            (self.remove_button, "The chosen unit out of its room", self.remove),
        ):
            button.setToolTip(tip)
            button.clicked.connect(on)
        self.own_link.clicked.connect(self.ask_catalogue)
        self.table = Table(row_height=19)
        self.table.picked.connect(self._on_picked)
        self.table.intent.connect(self.intent)
        self.table.refused.connect(self.said)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(4)
        # two rows: names of schedules fill one in other languages
        for parts in (
            (self.strip, self.own_link),
            (self.shown_strip, self.box_button, self.unit_button, self.remove_button),
        ):
            row = QHBoxLayout()
            row.setContentsMargins(14, 0, 14, 0)
            row.setSpacing(7)
            for part in parts:
                row.addWidget(part)
            row.addStretch(1)
            column.addLayout(row)
        column.addWidget(self.table, 1)

    def render_page(self, state: State) -> None:
        self._state = state
        self.strip.set_now(self.key)
        self.shown_strip.set_now(self.shown)
        rooms = state.selection.of("room")
        self.box_button.setVisible(self.key == "boxes")
        self.box_button.setEnabled(bool(rooms))
        self.unit_button.setVisible(self.key == "room_units")
        self.unit_button.setEnabled(bool(rooms))
        self.remove_button.setVisible(self.key == "room_units")
        self.remove_button.setEnabled(find(state.project.room_units, self.item) is not None)
        if state.known:
            vm = schedule_table(state, self.key, self.shown == "system", self.shown == "level")
            chosen = {self.item} if self.item else set()
            chosen |= {row.id for row in vm.rows if set(rooms_of(state, self.key, row.id)) & set(rooms)}
            self.table.render_vm(vm, tuple(chosen), state.show.units)

    def _again(self) -> None:
        if self._state is not None:
            self.render_page(self._state)

    def show_schedule(self, key: str) -> None:
        """One of the schedules by its key."""
        self._choose(key)

    def _choose(self, key: str) -> None:
        self.key, self.item = key, ""
        self._again()

    def _filter(self, shown: str) -> None:
        self.shown = shown
        self._again()

    def _on_picked(self, _kind: str, ids: tuple[str, ...]) -> None:
        """A piece with its rooms, so that the plan and the card show them."""
        self.item = ids[0] if ids else ""
        rooms = rooms_of(self._state, self.key, self.item) if self._state is not None and self._state.known else ()
        if rooms:
            self.picked.emit("room", rooms)
        elif self.key == "inline" and self.item:
            self.picked.emit("inline", (self.item,))
        elif self.key == "coils" and self.item:
            self.picked.emit("part", (self.item.rpartition(":")[2],))
        self._again()

    def put_box(self) -> None:
        if self._state is not None:
            self.intent.emit(PutBox(self._state.selection.of("room")))

    def ask_unit(self) -> None:
        """The kinds of units, to be put into the chosen rooms."""
        menu = Menu(self)
        for kind, name in ROOM_UNITS:
            menu.addAction(name, partial(self.put_unit, kind))
        menu.popup(self.unit_button.mapToGlobal(self.unit_button.rect().bottomLeft()))

    def put_unit(self, kind: str) -> None:
        if self._state is not None:
            self.intent.emit(PutRoomUnit(self._state.selection.of("room"), kind))

    def remove(self) -> None:
        if self.item:
            self.intent.emit(RemoveRoomUnits((self.item,)))

    def ask_catalogue(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Catalogue of equipment", "", "CSV (*.csv)")
        if name:
            self.take_catalogue(Path(name))

    def take_catalogue(self, path: Path) -> None:
        try:
            self.intent.emit(read_equipment(path))
        except GarnetfinError as error:
            self.said.emit(str(error))
