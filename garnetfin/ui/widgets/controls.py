"""Small controls of the frame: tool buttons, strips of choices, switches, text buttons, mends."""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QLineEdit, QSizePolicy, QWidget

from garnetfin.ui import theme as looks
from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme


def _focus_ring(widget: QWidget, p: QPainter, box: QRectF) -> None:
    if ringed(widget):
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(theme.colour("garnet"), 1, Qt.PenStyle.DotLine))
        p.drawRoundedRect(box.adjusted(1.5, 1.5, -1.5, -1.5), 3, 3)


class ToolButton(QAbstractButton):
    """28 x 28 with an 18 px icon; the chosen one stands on garnet tint."""

    def __init__(self, icon: str, tip: str, parent: QWidget | None = None, checkable: bool = False) -> None:
        super().__init__(parent)
        self._icon = icon
        self.setCheckable(checkable)
        self.setToolTip(tr(tip))
        self.setAccessibleName(tr(tip))
        self.setFixedSize(28, 28)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect())
        if self.isChecked() or (self.underMouse() and self.isEnabled()):
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.colour("garnet_tint" if self.isChecked() else "tint"))
            p.drawRoundedRect(box, 4, 4)
        colour = theme.colour("garnet" if self.isChecked() else "ink" if self.isEnabled() else "faint")
        p.drawPixmap(QPointF(5, 5), looks.pixmap(self._icon, colour, 18, self.devicePixelRatioF()))
        _focus_ring(self, p, box)


class Strip(QWidget):
    """A row of choices, one of them outlined in garnet."""

    chosen = Signal(str)

    def __init__(self, choices: tuple[tuple[str, str], ...] = (), parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._choices: tuple[tuple[str, str], ...] = ()
        self._now = ""
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setFixedHeight(24)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.set_choices(choices)

    def set_choices(self, choices: tuple[tuple[str, str], ...]) -> None:
        choices = tuple((key, tr(label)) for key, label in choices)
        if choices != self._choices:
            self._choices = choices
            self._now = self._now if self._now in dict(choices) else choices[0][0] if choices else ""
            self.setAccessibleName(", ".join(label for _, label in choices))
            self.updateGeometry()
            self.setFixedWidth(self.sizeHint().width())

    @property
    def now(self) -> str:
        return self._now

    def set_now(self, key: str) -> None:
        if key != self._now:
            self._now = key
            self.update()

    def _widths(self) -> list[float]:
        metrics = QFontMetricsF(theme.font(12, 500))
        return [metrics.horizontalAdvance(label) + 20 for _, label in self._choices]

    def sizeHint(self) -> QSize:
        return QSize(int(sum(self._widths())) + 2, 24)

    def box_of(self, key: str) -> QRectF:
        x = 1.0
        for (name, _), width in zip(self._choices, self._widths()):
            if name == key:
                return QRectF(x, 1, width, 22)
            x += width
        return QRectF()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        p.setPen(QPen(theme.colour("rule"), 1))
        p.setBrush(theme.colour("tint"))
        p.drawRoundedRect(box, 4, 4)
        for key, label in self._choices:
            cell = self.box_of(key)
            now = key == self._now
            if now:
                p.setPen(QPen(theme.colour("garnet"), 1.2))
                p.setBrush(theme.colour("sheet"))
                p.drawRoundedRect(cell.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
            p.setPen(theme.colour("garnet" if now else "ink"))
            p.setFont(theme.font(12, 500 if now else 400))
            p.drawText(cell, Qt.AlignmentFlag.AlignCenter, label)
        _focus_ring(self, p, QRectF(self.rect()))

    def _choose(self, key: str) -> None:
        if key and key != self._now:
            self.set_now(key)
            self.chosen.emit(key)

    def mousePressEvent(self, event) -> None:
        for key, _ in self._choices:
            if self.box_of(key).contains(event.position()):
                self._choose(key)

    def keyPressEvent(self, event) -> None:
        keys = [k for k, _ in self._choices]
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(event.key())
        if step and keys:
            self._choose(keys[(keys.index(self._now) + step) % len(keys)])
        else:
            super().keyPressEvent(event)


class Switch(QAbstractButton):
    """24 x 14, with its words behind it."""

    def __init__(self, words: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setText(tr(words))
        self.setCheckable(True)
        self.setAccessibleName(tr(words))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(int(QFontMetricsF(theme.font(12)).horizontalAdvance(self.text())) + 38, 24)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        track = QRectF(2, self.height() / 2 - 7, 24, 14)
        on = self.isChecked()
        p.setPen(QPen(theme.colour("garnet" if on else "faint"), 1))
        p.setBrush(theme.colour("garnet" if on else "tint"))
        p.drawRoundedRect(track, 7, 7)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(theme.colour("on_garnet" if on else "faint"))
        p.drawEllipse(QPointF(track.right() - 7 if on else track.left() + 7, track.center().y()), 4.5, 4.5)
        p.setPen(theme.colour("garnet" if on else "ink"))
        p.setFont(theme.font(12, 500 if on else 400))
        p.drawText(QRectF(34, 0, self.width(), self.height()), Qt.AlignmentFlag.AlignVCenter, self.text())
        _focus_ring(self, p, QRectF(self.rect()))


class TextButton(QAbstractButton):
    """An outlined garnet button 19 high (a mend), or the one filled button of a view."""

    def __init__(self, words: str, parent: QWidget | None = None, filled: bool = False) -> None:
        super().__init__(parent)
        self.setText(words)
        self._filled = filled
        self.setAccessibleName(tr(words))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setFixedHeight(26 if filled else 20)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def setText(self, words: str) -> None:
        super().setText(tr(words))

    def sizeHint(self) -> QSize:
        width = QFontMetricsF(theme.font(12 if self._filled else 11.5, 500)).horizontalAdvance(self.text())
        return QSize(int(width) + (26 if self._filled else 17), self.height())

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        able = self.isEnabled()
        p.setPen(QPen(theme.colour("garnet" if able else "rule"), 1))
        fill = (
            "tint"
            if not able
            else "garnet"
            if self._filled
            else "garnet_tint"
            if self.underMouse() or self.isDown()
            else "sheet"
        )
        p.setBrush(theme.colour(fill))
        p.drawRoundedRect(box, 4, 4)
        p.setPen(theme.colour("faint" if not able else "on_garnet" if self._filled else "garnet"))
        p.setFont(theme.font(12 if self._filled else 11.5, 500))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, self.text())
        _focus_ring(self, p, QRectF(self.rect()))


class RunButton(TextButton):
    """Starts work, and stops it while it goes on."""

    def __init__(self, words: str) -> None:
        super().__init__(words)
        self._words, self.busy = words, False

    def set_busy(self, words: str) -> None:
        self.busy = bool(words)
        self.setText(words or self._words)
        self.updateGeometry()


class LinkText(QAbstractButton):
    """Words that act: garnet, underlined under the mouse."""

    def __init__(self, words: str, parent: QWidget | None = None, px: float = 12) -> None:
        super().__init__(parent)
        self._px = px
        self.setText(words)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def setText(self, words: str) -> None:
        super().setText(tr(words))

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(theme.font(self._px, 500))
        return QSize(int(metrics.horizontalAdvance(self.text())) + 6, int(metrics.height()) + 4)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        font = theme.font(self._px, 500)
        if self.underMouse():
            font.setUnderline(True)
        p.setFont(font)
        p.setPen(theme.colour("garnet"))
        p.drawText(self.rect(), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.text())
        _focus_ring(self, p, QRectF(self.rect()))


class Words(QWidget):
    """A single quiet line of text that elides."""

    def __init__(
        self, words: str = "", parent: QWidget | None = None, px: float = 11.5, tone: str = "faint", weight: int = 400
    ) -> None:
        super().__init__(parent)
        self._words, self._px, self._tone, self._weight = tr(words), px, tone, weight
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def set_words(self, words: str, tone: str = "") -> None:
        tone = tone or self._tone
        words = tr(words)
        if words != self._words or tone != self._tone:
            self._words, self._tone = words, tone
            self.updateGeometry()
            self.update()

    @property
    def words(self) -> str:
        return self._words

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(theme.font(self._px, self._weight))
        return QSize(int(metrics.horizontalAdvance(self._words)) + 4, int(metrics.height()) + 2)

    def minimumSizeHint(self) -> QSize:
        return QSize(20, self.sizeHint().height())

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        font = theme.font(self._px, self._weight)
        p.setFont(font)
        p.setPen(theme.colour(self._tone))
        words = QFontMetricsF(font).elidedText(self._words, Qt.TextElideMode.ElideRight, self.width())
        p.drawText(self.rect(), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)


class ToolRow(QWidget):
    """36 high; icons, then choices, then a note at the right."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(36)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(8, 0, 14, 0)
        self._row.setSpacing(2)
        self._stretch_at = 0
        self._row.addStretch(1)
        self.note = Words("", px=11.5)
        self._row.addWidget(self.note)

    def add(self, widget: QWidget, space: int = 2) -> QWidget:
        self._row.insertSpacing(self._stretch_at, space)
        self._row.insertWidget(self._stretch_at + 1, widget)
        self._stretch_at += 2
        return widget

    def add_words(self, words: str) -> None:
        self.add(Words(words, px=12), 12)
        self._row.insertSpacing(self._stretch_at, 4)
        self._stretch_at += 1

    def add_strip(self, words: str, choices: tuple[tuple[str, str], ...], on: Callable[[str], None]) -> Strip:
        if words:
            self.add_words(words)
        strip = Strip(choices)
        strip.chosen.connect(on)
        self.add(strip, 4)
        return strip

    def add_field(self, label: str, width: int, tip: str, on: Callable[[QLineEdit], None], space: int = 2) -> QLineEdit:
        """A small field to type into; what cannot be stays in it with a reason."""
        field = QLineEdit()
        field.setPlaceholderText(tr(label))
        field.setFixedWidth(width)
        field.setToolTip(tip)
        field.setAccessibleName(tip)
        field.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        field.editingFinished.connect(lambda: on(field))
        return self.add(field, space)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("sheet"))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
