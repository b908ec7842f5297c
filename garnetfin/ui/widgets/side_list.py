"""A page of the side that tells of work: a title, a line on how far it is, then words in groups below a head each."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPalette
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.controls import LinkText
from garnetfin.ui.widgets.side_page import SidePage

MARGIN = 18


class ListPage(SidePage):
    """`act`: the button below the line; `leave`: words of the link at the foot."""

    closed = Signal()

    def __init__(self, name: str, act: QWidget, leave: str, parent: QWidget | None = None) -> None:
        self._inside = QWidget()
        super().__init__(name, self._inside, parent)
        self._column = QVBoxLayout(self._inside)
        self._column.setContentsMargins(MARGIN, 14, MARGIN - 8, 12)
        self._column.setSpacing(3)
        self.title, self.line = self._label(17, "ink", 600), self._label(11.5, "faint")
        self.close_link = LinkText(leave)
        self.close_link.clicked.connect(self.closed)
        for part in (self.title, self.line, act):
            self._column.addWidget(part)
        self._rows: list[QLabel] = []
        self._column.addStretch(1)
        self._column.addWidget(self.close_link)

    def _label(self, px: float, tone: str, weight: int = 400) -> QLabel:
        label = QLabel()
        label.setWordWrap(True)
        label.setFont(theme.font(px, weight))
        label.setProperty("tone", tone)
        # follows the look
        label.setForegroundRole(
            QPalette.ColorRole.PlaceholderText if tone == "faint" else QPalette.ColorRole.WindowText
        )
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        return label

    def list_groups(self, groups: tuple[tuple[str, tuple[str, ...]], ...]) -> None:
        """Heads with their rows in place of those before; a head without rows is left out."""
        for row in self._rows:
            row.setParent(None)
            row.deleteLater()
        self._rows = []
        for name, rows in groups:
            for i, text in enumerate((name, *rows) if rows else ()):
                row = self._label(11.5, "ink" if i else "garnet", 400 if i else 600)
                row.setText(text)
                if not i:
                    row.setContentsMargins(0, 8, 0, 0)
                self._column.insertWidget(self._column.count() - 2, row)
                self._rows.append(row)
