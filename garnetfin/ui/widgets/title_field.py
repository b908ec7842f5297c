"""The name of the project in the window's head: words until it is clicked, then a field."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFontMetricsF
from PySide6.QtWidgets import QLineEdit, QWidget

from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme

MOST_PX, LEAST_PX = 420, 90


class TitleField(QLineEdit):
    """`named` carries a name that was typed; Enter or leaving the field types it, Esc puts the old one back."""

    named = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = ""
        self.setFont(theme.font(12.5))
        self.setMaxLength(120)
        self.setAccessibleName(tr("Name of the project"))
        self.setToolTip(tr("Name of the project: click to change it"))
        self.setFixedHeight(22)
        self.editingFinished.connect(self._finished)
        theme.changed.connect(self._dye)
        self._dye()

    def set_name(self, name: str) -> None:
        self._shown = name
        if not self.hasFocus():
            self.setText(name)
            self.setCursorPosition(0)
        wide = QFontMetricsF(self.font()).horizontalAdvance(name) + 18
        self.setFixedWidth(round(min(MOST_PX, max(LEAST_PX, wide))))

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.setText(self._shown)
            self.clearFocus()
        else:
            super().keyPressEvent(event)
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.clearFocus()

    def _finished(self) -> None:
        typed = self.text().strip()
        if typed and typed != self._shown:
            self.named.emit(typed)
        else:
            self.setText(self._shown)
        self.setCursorPosition(0)

    def _dye(self) -> None:
        c = theme.colour
        self.setStyleSheet(
            f"QLineEdit {{ border: 1px solid transparent; background: transparent; color: {c('faint').name()}; }}"
            f"QLineEdit:hover {{ border-color: {c('rule').name()}; }}"
            f"QLineEdit:focus {{ border-color: {c('garnet').name()}; color: {c('ink').name()};"
            f" background: {c('sheet').name()}; }}"
        )
