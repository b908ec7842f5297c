"""A finding on a card: what, why, buttons that mend it, and a reason to type for one that is accepted."""

from datetime import date

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from garnetfin.engine.results import Finding
from garnetfin.project.edits.papers import AcceptFinding
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.controls import LinkText, TextButton


class FindingBlock(QWidget):
    """Bar, triangle, fact, two lines of reason, mends."""

    intent = Signal(object)
    picked = Signal(str, tuple)
    ROOM = 234  # for buttons beside each other

    def __init__(self, finding: Finding, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.finding = finding
        self.mends = []
        for mend in finding.mends:
            button = TextButton(mend.label, self)
            button.clicked.connect(lambda _=False, m=mend: self.intent.emit(m.command))
            self.mends.append(button)
        show = LinkText("Show", self, 11.5)
        show.clicked.connect(lambda: self.picked.emit(finding.kind, (finding.object_id,)))
        self.accept = LinkText("Accept …", self, 11.5)
        self.accept.setToolTip(
            "Accept it with a reason: it is printed among the accepted issues and no longer counts as open"
        )
        self.accept.clicked.connect(self._ask_reason)
        self.reason = QLineEdit(self)
        self.reason.setPlaceholderText(tr("why it is accepted, then Enter"))
        self.reason.setAccessibleName("Why it is accepted")
        self.reason.setFont(theme.font(11.5))
        self.reason.returnPressed.connect(self._take_reason)
        self.reason.hide()
        rows = self._lay_out([*self.mends, show, self.accept])
        self.setFixedHeight(22 + 15 * self._lines() + 30 + 24 * (rows - 1))
        self.setAccessibleName(f"{finding.title}. {finding.reason}")
        self.setToolTip(f"{finding.title}. {finding.reason}")

    def _ask_reason(self) -> None:
        """A line for the reason in the place of the buttons; nothing typed leaves all as it is."""
        self.reason.setGeometry(12, self.height() - 26, self.width() - 22, 21)
        self.reason.show()
        self.reason.raise_()
        self.reason.setFocus()

    def _take_reason(self) -> None:
        if self.reason.text().strip():
            f = self.finding
            self.intent.emit(AcceptFinding(f.code, f.kind, f.object_id, self.reason.text(), f"{date.today():%Y-%m-%d}"))
        self.reason.hide()

    def _lay_out(self, buttons: list[QWidget]) -> int:
        """Buttons at the foot, in as many rows as the card's width asks for."""
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 0, 8, 6)
        column.setSpacing(4)
        column.addStretch(1)
        rows, taken, row = 0, self.ROOM + 1, None
        for button in buttons:
            width = button.sizeHint().width() + 6
            if row is None or taken + width > self.ROOM:
                row, rows, taken = QHBoxLayout(), rows + 1, 0
                row.setSpacing(6)
                row.setAlignment(Qt.AlignmentFlag.AlignLeft)
                column.addLayout(row)
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignBottom)
            taken += width
        return rows

    def _lines(self) -> int:
        metrics = QFontMetricsF(theme.font(11.5))
        return max(1, min(3, int(metrics.horizontalAdvance(self.finding.reason) / 222) + 1))

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = theme.colour
        tone = c(self.finding.severity)
        p.fillRect(self.rect(), c("paper"))
        p.fillRect(QRectF(0, 0, 3, self.height()), tone)
        p.setPen(QPen(tone, 1.3))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon([QPointF(12, 17), QPointF(17.5, 7), QPointF(23, 17)])
        font = theme.font(12, 600)
        p.setFont(font)
        p.setPen(tone)
        room = self.width() - 36
        p.drawText(
            QRectF(29, 3, room, 18),
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(font).elidedText(tr(self.finding.title), Qt.TextElideMode.ElideRight, room),
        )
        p.setFont(theme.font(11.5))
        p.setPen(c("ink"))
        p.drawText(
            QRectF(12, 22, self.width() - 20, 15 * self._lines() + 6), Qt.TextFlag.TextWordWrap, tr(self.finding.reason)
        )
