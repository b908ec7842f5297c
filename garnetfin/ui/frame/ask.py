"""A line below the tool row that asks for typed values; nothing is modal, Escape drops it."""

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QWidget

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import System, parse
from garnetfin.engine.results import there
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.controls import LinkText, TextButton, Words


@dataclass(frozen=True, slots=True)
class Wanted:
    """One value: what it is called, what stands there, its quantity ("" for text), or choices (key, words)."""

    key: str
    words: str
    text: str = ""
    quantity: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    width: int = 70


class Ask(QWidget):
    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(36)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(14, 0, 14, 0)
        self._row.setSpacing(6)
        self.fields: dict[str, QWidget] = {}
        self._wanted: tuple[Wanted, ...] = ()
        self._on: Callable[[dict], str | None] | None = None
        self._units: System = "SI"
        self.reason = Words("", px=11.5, tone="bad")
        self.hide()

    def ask(
        self, title: str, wanted: tuple[Wanted, ...], button: str, on: Callable[[dict], str | None], units: System
    ) -> None:
        """Show the line.

        `on` gets the values by key (SI figures, text, chosen key) and says why not, if it cannot be.
        """
        while self._row.count():
            item = self._row.takeAt(0)
            if item.widget() is not None and item.widget() is not self.reason:
                there(item.widget()).deleteLater()
        self.fields, self._wanted, self._on, self._units = {}, wanted, on, units
        self._row.addWidget(Words(title, px=12.5, tone="ink", weight=600))
        for w in wanted:
            self._row.addSpacing(8)
            self._row.addWidget(Words(w.words, px=12))
            self._row.addWidget(self._field(w))
        self.button = TextButton(button, filled=True)
        self.button.clicked.connect(self.take)
        self._row.addSpacing(8)
        self._row.addWidget(self.button)
        self.close_link = LinkText("leave it")
        self.close_link.clicked.connect(self.drop)
        self._row.addWidget(self.close_link)
        self.reason.set_words("")
        self._row.addWidget(self.reason, 1)
        self.show()
        if self.fields:
            first = next(iter(self.fields.values()))
            first.setFocus(Qt.FocusReason.OtherFocusReason)
            if isinstance(first, QLineEdit):
                first.selectAll()

    def _field(self, wanted: Wanted) -> QWidget:
        if wanted.choices:
            box = QComboBox()
            for key, words in wanted.choices:
                box.addItem(tr(words), key)
            box.setCurrentIndex(max(0, box.findData(wanted.text)))
            made: QWidget = box
        else:
            edit = QLineEdit(wanted.text)
            edit.setFixedWidth(wanted.width)
            edit.returnPressed.connect(self.take)
            made = edit
        made.setFont(theme.font(12))
        made.setAccessibleName(wanted.words)
        made.installEventFilter(self)
        self.fields[wanted.key] = made
        return made

    def eventFilter(self, watched, event) -> bool:
        if event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape:
            self.drop()
            return True
        return super().eventFilter(watched, event)

    def take(self) -> None:
        """Read all values; the line stays with its reason while one of them cannot be used."""
        values: dict = {}
        for w in self._wanted:
            field = self.fields[w.key]
            if isinstance(field, QComboBox):
                values[w.key] = field.currentData()
                continue
            text = field.text().strip()
            try:
                values[w.key] = parse(text, w.quantity, self._units) if w.quantity else text
            except GarnetfinError as error:
                self.reason.set_words(f"{w.words}: {error}")
                field.setFocus()
                return
        why = self._on(values) if self._on is not None else None
        if why:
            self.reason.set_words(why)
        else:
            self.drop()

    def drop(self) -> None:
        self.hide()
        self._on = None

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("tint"))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
