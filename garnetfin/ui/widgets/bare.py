"""Scroll bars, menus and choices in the program's own look, drawn from the theme.

A style sheet for the whole program would be matched against every widget whenever one is made, shown or the look
changes, and hold the
window for seconds; these few parts draw themselves, and only menus, which are rarely about, have a sheet of their own.
"""

from PySide6.QtCore import QPointF, QRect, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPalette, QPen
from PySide6.QtWidgets import QAbstractScrollArea, QComboBox, QMenu, QScrollBar, QWidget

from garnetfin.ui.theme import theme

THICK, LEAST, ROUND = 8, 24, 3.0


class ThinBar(QScrollBar):
    """A bare handle without arrows; a click beside it pages."""

    def __init__(self, orientation: Qt.Orientation, parent: QWidget | None = None) -> None:
        super().__init__(orientation, parent)
        self._from: tuple[float, int] | None = None  # where the handle was taken, and the value then
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)

    @property
    def _upright(self) -> bool:
        return self.orientation() == Qt.Orientation.Vertical

    def sizeHint(self) -> QSize:
        return QSize(THICK, LEAST) if self._upright else QSize(LEAST, THICK)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def _handle(self) -> tuple[float, float]:
        """(begin, length) of the handle along the bar."""
        whole = float(self.height() if self._upright else self.width())
        span = self.maximum() - self.minimum()
        length = min(whole, max(float(LEAST), whole * self.pageStep() / max(1, span + self.pageStep())))
        return ((whole - length) * (self.value() - self.minimum()) / span if span else 0.0), length

    def handle_rect(self) -> QRect:
        begin, length = self._handle()
        return (
            QRect(1, round(begin), THICK - 2, round(length))
            if self._upright
            else QRect(round(begin), 1, round(length), THICK - 2)
        )

    def paintEvent(self, event) -> None:
        if self.maximum() <= self.minimum():
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(theme.colour("bar" if self.underMouse() or self._from else "rule"))
        p.drawRoundedRect(self.handle_rect(), ROUND, ROUND)

    def _along(self, at: QPointF) -> float:
        return at.y() if self._upright else at.x()

    def mousePressEvent(self, event) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            event.ignore()
            return
        at, (begin, length) = self._along(event.position()), self._handle()
        if begin <= at <= begin + length:
            self._from = (at, self.value())
            self.setSliderDown(True)
        else:
            self.setValue(self.value() + (self.pageStep() if at > begin else -self.pageStep()))
        self.update()

    def mouseMoveEvent(self, event) -> None:
        if self._from is None:
            return
        taken, value = self._from
        free = (self.height() if self._upright else self.width()) - self._handle()[1]
        span = self.maximum() - self.minimum()
        self.setValue(
            round(value + (self._along(event.position()) - taken) * span / free) if free > 0 else self.minimum()
        )

    def mouseReleaseEvent(self, event) -> None:
        self._from = None
        self.setSliderDown(False)
        self.update()


def thin(area: QAbstractScrollArea) -> None:
    """Give an area bars of this look."""
    area.setVerticalScrollBar(ThinBar(Qt.Orientation.Vertical))
    area.setHorizontalScrollBar(ThinBar(Qt.Orientation.Horizontal))


def menu_sheet() -> str:
    """The sheet of menus and menu bars in the look in force."""
    paper, sheet, ink, faint, rule, tint = (
        theme.colour(n).name() for n in ("paper", "sheet", "ink", "faint", "rule", "garnet_tint")
    )
    return f"""
        QMenuBar {{ background: {paper}; color: {ink}; padding: 0; }}
        QMenuBar::item {{ padding: 5px 9px; background: transparent; }}
        QMenuBar::item:selected {{ background: {tint}; }}
        QMenu {{ background: {sheet}; border: 1px solid {rule}; padding: 4px; }}
        QMenu::item {{ padding: 4px 24px 4px 20px; border-radius: 3px; }}
        QMenu::item:selected {{ background: {tint}; color: {ink}; }}
        QMenu::item:disabled {{ color: {faint}; }}
        QMenu::separator {{ height: 1px; background: {rule}; margin: 4px 8px; }}"""


class Menu(QMenu):
    """A menu that comes up where one asked for it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setStyleSheet(menu_sheet())


class Choice(QComboBox):
    """A choice without a frame.

    A wheel over a scrolling card must not change it; a list that stands at nothing opens before anything is taken.
    """

    def wheelEvent(self, event) -> None:
        event.ignore()

    def keyPressEvent(self, event) -> None:
        if self.currentIndex() < 0 and event.key() in (
            Qt.Key.Key_Down,
            Qt.Key.Key_Up,
            Qt.Key.Key_PageDown,
            Qt.Key.Key_PageUp,
        ):
            self.showPopup()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        colour = self.palette().color(QPalette.ColorRole.Text)
        p.setPen(colour)
        p.setFont(self.font())
        place = self.rect().adjusted(4, 0, -14, 0)
        text = QFontMetricsF(self.font()).elidedText(self.currentText(), Qt.TextElideMode.ElideRight, place.width())
        p.drawText(place, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, text)
        x, y = self.width() - 10.0, self.height() / 2 - 1.5
        p.setPen(QPen(theme.colour("faint"), 1.2))
        p.drawPolyline([QPointF(x, y), QPointF(x + 3, y + 3), QPointF(x + 6, y)])
