"""The status line: level, units, time of the last run, saved, findings, hint. And the quiet banner."""

from PySide6.QtCore import QPoint, QPointF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.bare import Menu
from garnetfin.ui.widgets.controls import LinkText, Words


class _Item(QAbstractButton):
    """A word in the line that acts; a fine rule behind it."""

    def __init__(self, tip: str, weight: int = 400, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._weight, self.tone, self.arrow = weight, "ink", False
        self.setToolTip(tip)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setFixedHeight(24)

    def set_words(self, words: str, tone: str = "ink") -> None:
        words = tr(words)
        if words != self.text() or tone != self.tone:
            self.tone = tone
            self.setText(words)
            self.setAccessibleName(words)
            width = QFontMetricsF(theme.font(11.5, self._weight)).horizontalAdvance(words)
            self.setFixedWidth(round(width + (16 if self.arrow else 0) + 28))
            self.update()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setFont(theme.font(11.5, self._weight))
        p.setPen(theme.colour(self.tone))
        p.drawText(self.rect().adjusted(14, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self.text())
        if self.arrow:
            x = self.width() - 24.0
            p.setPen(QPen(theme.colour("faint"), 1.3))
            p.drawPolyline([QPointF(x, 10), QPointF(x + 4, 14), QPointF(x + 8, 10)])
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(self.width() - 1, 5, self.width() - 1, 18)
        if ringed(self):
            p.setPen(QPen(theme.colour("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(self.rect().adjusted(5, 3, -6, -4))


class StatusLine(QWidget):
    level_chosen = Signal(str)
    units_toggled = Signal()
    findings_asked = Signal(QPoint)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(24)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 8, 0)
        row.setSpacing(0)
        self.level = _Item("Level shown (Ctrl+Page up, Ctrl+Page down)", 600)
        self.level.arrow = True
        self.units = _Item("SI or IP units (Ctrl+U)", 600)
        self.time, self.saved = _Item("Time of the last run of the engine"), _Item("When the file was last saved")
        self.findings = _Item("Limits that are broken; click for all of them (F7)", 600)
        self.hint = Words("", px=11.5)
        self.hint.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        for item in (self.level, self.units, self.time, self.saved, self.findings):
            row.addWidget(item)
        row.addSpacing(12)
        row.addWidget(self.hint, 1)
        self._levels: tuple[tuple[str, str], ...] = ()
        self.level.clicked.connect(self._level_menu)
        self.units.clicked.connect(self.units_toggled)
        self.findings.clicked.connect(lambda: self.findings_asked.emit(self.findings.mapToGlobal(QPoint(0, 0))))
        for quiet in (self.time, self.saved):
            quiet.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def render_line(
        self,
        levels: tuple[tuple[str, str], ...],
        level_id: str,
        units: str,
        seconds: float | None,
        stale: bool,
        saved: str,
        findings: int,
        bad: bool,
    ) -> None:
        self._levels = levels
        self.level.set_words(f"{dict(levels).get(level_id, 'No')} level")
        self.units.set_words(units)
        self.time.set_words("computing" if stale or seconds is None else f"{seconds * 1000:.0f} ms", "faint")
        self.saved.set_words(saved, "watch" if saved.startswith("not") else "faint")
        self.findings.set_words(f"findings {findings}", "bad" if bad else "watch" if findings else "faint")

    def _level_menu(self) -> None:
        menu = Menu(self)
        for key, name in self._levels:
            menu.addAction(name, lambda k=key: self.level_chosen.emit(k))
        menu.popup(self.level.mapToGlobal(QPoint(0, -menu.sizeHint().height())))

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("band"))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, 0, self.width(), 0)


class Banner(QWidget):
    """One sentence under the chain, with at most two words that act; never in the way."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(32)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 0, 12, 0)
        row.setSpacing(14)
        self.sentence = Words("", px=12.5, tone="ink")
        self.sentence.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._acts = [LinkText(""), LinkText("")]
        close = LinkText("Close")
        close.clicked.connect(self.hide)
        row.addWidget(self.sentence, 1)
        for act in self._acts:
            row.addWidget(act)
        row.addWidget(close)
        self._on: list = [None, None]
        for i, act in enumerate(self._acts):
            act.clicked.connect(lambda _=False, i=i: self._act(i))
        self.tone = "watch"
        self.hide()

    def say(self, sentence: str, tone: str = "watch", *acts: tuple[str, object]) -> None:
        self.tone = tone
        self.sentence.set_words(sentence, "ink")
        self.sentence.setToolTip(sentence)
        self.setAccessibleName(sentence)
        for i, link in enumerate(self._acts):
            link.setVisible(i < len(acts))
            self._on[i] = acts[i][1] if i < len(acts) else None
            if i < len(acts):
                link.setText(acts[i][0])
                link.updateGeometry()
        self.show()
        self.update()

    def _act(self, i: int) -> None:
        self.hide()
        if self._on[i] is not None:
            self._on[i]()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("sheet"))
        p.fillRect(0, 0, 4, self.height(), theme.colour(self.tone))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
