"""The page of the state list: its table, and buttons that add rows."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from garnetfin.project.edits.state_list import AddListRow, MoveListRow, RemoveListRow
from garnetfin.ui.state import State
from garnetfin.ui.view_models.state_list import KINDS, ListVM, first_key, list_table
from garnetfin.ui.widgets.controls import TextButton
from garnetfin.ui.widgets.table import Table


class StateListPage(QWidget):
    """Rows are named in the table and made in the card; Delete takes chosen rows away, Alt with an arrow moves one."""

    intent = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state: State | None = None
        self.table = Table(row_height=19)
        self.buttons: dict[str, TextButton] = {}
        column, row = QVBoxLayout(self), QHBoxLayout()
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(4)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(6)
        for kind, name, what in KINDS:
            button = TextButton(name)
            button.setToolTip(f"A new row: {what}")
            button.clicked.connect(lambda _=False, k=kind: self.add(k))
            row.addWidget(button)
            self.buttons[kind] = button
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(self.table, 1)
        for keys, on in (
            ("Delete", self.remove),
            ("Alt+Up", lambda: self.move(-1)),
            ("Alt+Down", lambda: self.move(1)),
        ):
            QShortcut(QKeySequence(keys), self.table, on).setContext(Qt.ShortcutContext.WidgetShortcut)

    def render_list(self, state: State, found: ListVM) -> None:
        self._state = state
        self.table.render_vm(list_table(state, found), state.selection.of("state row"), state.show.units)

    def add(self, kind: str) -> None:
        if self._state is not None:
            self.intent.emit(AddListRow(kind, first_key(self._state, kind)))

    def remove(self) -> None:
        chosen = self._state.selection.of("state row") if self._state else ()
        if chosen:
            self.intent.emit(RemoveListRow(chosen))

    def move(self, by: int) -> None:
        chosen = self._state.selection.of("state row") if self._state else ()
        if chosen:
            self.intent.emit(MoveListRow(chosen[0], by))
