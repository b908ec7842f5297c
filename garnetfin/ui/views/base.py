"""What every view has: a tool row, a main part, and the way it speaks to the session."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from garnetfin.engine.results import Missing
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.widgets.controls import ToolRow, Words


class View(QWidget):
    """Renders a State; edits go out as intents, selections as picks."""

    intent = Signal(object)
    refused = Signal(str)
    hint = Signal(str)
    HINT = ""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.tools = ToolRow()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self._column.addWidget(self.tools)

    def set_main(self, widget: QWidget) -> None:
        self._column.addWidget(widget, 1)

    def render_state(self, state: State) -> None:
        raise AssertionError(f"{type(self).__name__} shows nothing")

    def pick(self, kind: str, ids: tuple[str, ...], add: bool = False) -> None:
        """Select in the whole program; with `add` the parts join what is selected of their kind, or leave it."""
        if add and ids and self.session.selection.kind == kind:
            kept = [i for i in self.session.selection.ids if i not in ids]
            ids = tuple(kept) if len(kept) < len(self.session.selection.ids) else (*kept, *ids)
        self.session.select(kind, *ids)

    def leave(self) -> None:
        """The view goes out of sight: put tools away."""


class Nothing(QWidget):
    """Stands where a chart cannot be: what is missing and what would help."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        column = QVBoxLayout(self)
        column.setContentsMargins(40, 60, 40, 40)
        self._what, self._help = Words("", px=17, tone="ink", weight=600), Words("", px=12.5)
        column.addWidget(self._what)
        column.addWidget(self._help)
        column.addStretch(1)

    def say(self, missing: Missing | None) -> None:
        self._what.set_words((missing.reason if missing else "computing …").capitalize())
        self._help.set_words(missing.remedy if missing else "")
