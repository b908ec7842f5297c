"""Find or do: one field that finds commands, rooms, ducts, terminals and findings, and does or selects them."""

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QLineEdit, QWidget

from garnetfin.ui import theme as looks
from garnetfin.ui.charts.base import words
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme

MOST = 12


@dataclass(frozen=True, slots=True)
class Entry:
    kind: str
    text: str
    note: str
    act: Callable[[], None]


def rank(entries: list[Entry], typed: str) -> list[Entry]:
    """Entries that hold every typed word; those whose text begins with the first one lead."""
    parts = typed.casefold().split()
    found = []
    for i, entry in enumerate(entries):
        whole = f"{entry.text} {entry.kind} {entry.note}".casefold()
        if all(part in whole for part in parts):
            starts = bool(parts) and entry.text.casefold().startswith(parts[0])
            word = bool(parts) and any(w.startswith(parts[0]) for w in entry.text.casefold().split())
            found.append(((not starts, not word, i), entry))
    return [e for _, e in sorted(found, key=lambda pair: pair[0])][:MOST]


class _List(QWidget):
    ROW = 26

    def __init__(self, finder: "Finder") -> None:
        super().__init__(finder.window(), Qt.WindowType.ToolTip)
        self.finder = finder
        self.entries: list[Entry] = []
        self.at = 0
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = theme.colour
        p.fillRect(self.rect(), c("sheet"))
        p.setPen(QPen(c("rule"), 1))
        p.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        if not self.entries:
            words(p, QPointF(12, self.ROW / 2 + 2), "Nothing of that name", "faint", 12, side="left", italic=True)
        for i, entry in enumerate(self.entries):
            y = 3 + i * self.ROW
            if i == self.at:
                p.fillRect(QRectF(3, y, self.width() - 6, self.ROW), c("garnet_tint"))
            words(p, QPointF(12, y + self.ROW / 2), entry.kind, "faint", 10.5, side="left")
            font = theme.font(12.5, 500)
            text = QFontMetricsF(font).elidedText(entry.text, Qt.TextElideMode.ElideRight, self.width() - 190)
            words(p, QPointF(82, y + self.ROW / 2), text, "ink", 12.5, 500, "left")
            words(p, QPointF(self.width() - 12, y + self.ROW / 2), entry.note, "faint", 10.5, side="right")

    def mousePressEvent(self, event) -> None:
        i = int((event.position().y() - 3) // self.ROW)
        if 0 <= i < len(self.entries):
            self.at = i
            self.finder.take()


class Finder(QLineEdit):
    """The field at the top right. `entries` is asked each time, so that it is never behind the project."""

    def __init__(self, entries: Callable[[], list[Entry]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._entries = entries
        self.list: _List | None = None
        self.setPlaceholderText(tr("Find or do …"))
        self.setFixedSize(230, 20)
        self.setFrame(False)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setTextMargins(22, 0, 44, 0)
        self.setAccessibleName("Find or do")
        self.setToolTip("Find rooms, ducts, terminals; do commands (Ctrl+K)")
        self.textEdited.connect(self._show)
        self.setFont(theme.font(12))

    def paintEvent(self, event) -> None:
        super().paintEvent(event)
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(theme.colour("garnet" if self.hasFocus() else "rule"), 1))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        p.drawPixmap(QPointF(5, 3), looks.pixmap("find", theme.colour("faint"), 14, self.devicePixelRatioF()))
        if not self.text():
            words(p, QPointF(self.width() - 8, self.height() / 2), "Ctrl K", "faint", 10.5, side="right")

    def _show(self) -> None:
        if self.list is None:
            self.list = _List(self)
        self.list.entries = rank(self._entries(), self.text())
        self.list.at = 0
        width = 430
        corner = self.mapToGlobal(self.rect().bottomRight())
        self.list.setGeometry(corner.x() - width, corner.y() + 3, width, max(1, len(self.list.entries)) * _List.ROW + 6)
        self.list.update()
        self.list.show()

    def take(self) -> None:
        """Do the entry in hand."""
        if self.list is not None and self.list.entries:
            entry = self.list.entries[self.list.at]
            self.leave()
            entry.act()

    def leave(self) -> None:
        self.clear()
        if self.list is not None:
            self.list.hide()
        self.clearFocus()

    def focusInEvent(self, event) -> None:
        super().focusInEvent(event)
        if event.reason() != Qt.FocusReason.MouseFocusReason or self.text():
            self._show()

    def focusOutEvent(self, event) -> None:
        super().focusOutEvent(event)
        if self.list is not None:
            self.list.hide()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and self.list is not None and self.list.isVisible():
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Tab: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Backtab: -1}.get(event.key())
            if step and self.list.entries:
                self.list.at = (self.list.at + step) % len(self.list.entries)
                self.list.update()
                return True
        return super().event(event)

    def keyPressEvent(self, event) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take()
        elif event.key() == Qt.Key.Key_Escape:
            self.leave()
        else:
            super().keyPressEvent(event)
