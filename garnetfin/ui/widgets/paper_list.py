"""The papers of the set: a switch, the name, its pages and what moved in it.

A click shows it, the switch prints it or leaves it out.
"""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QWidget

from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.papers import PaperList as PaperListVM

WIDTH, HEAD, ROW, SWITCH = 244, 38.0, 35.0, 40.0


class PaperList(QWidget):
    chosen = Signal(str)
    switched = Signal(str, bool)

    def __init__(self) -> None:
        super().__init__()
        self.vm: PaperListVM | None = None
        self.setFixedWidth(WIDTH)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._at = 0

    def render_vm(self, vm: PaperListVM) -> None:
        if vm != self.vm:
            self.vm = vm
            self._at = next((i for i, r in enumerate(vm.rows) if r.paper_id == vm.chosen), self._at)
            self.setMinimumHeight(round(HEAD + ROW * len(vm.rows) + 8))
            self.setAccessibleName("Document set: " + "; ".join(f"{r.name}, {r.pages}" for r in vm.rows))
            self.update()

    def box_of(self, paper_id: str) -> QRectF:
        """Its row; the switch is the first SWITCH of it."""
        i = next(i for i, r in enumerate(self.vm.rows) if r.paper_id == paper_id)
        return QRectF(0, HEAD + i * ROW, self.width(), ROW)

    def mousePressEvent(self, event) -> None:
        i = int((event.position().y() - HEAD) // ROW)
        if self.vm is None or not 0 <= i < len(self.vm.rows) or event.position().y() < HEAD:
            return
        row = self.vm.rows[i]
        self._at = i
        if event.position().x() < SWITCH:
            self.switched.emit(row.paper_id, not row.printed)
        else:
            self.chosen.emit(row.paper_id)

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(event.key())
        rows = self.vm.rows if self.vm else ()
        if step and rows:
            self._at = max(0, min(len(rows) - 1, self._at + step))
            self.chosen.emit(rows[self._at].paper_id)
            self.update()
        elif event.key() == Qt.Key.Key_Space and rows:
            self.switched.emit(rows[self._at].paper_id, not rows[self._at].printed)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event) -> None:
        p, c = QPainter(self), theme.colour
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), c("sheet"))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(self.width() - 0.5, 0), QPointF(self.width() - 0.5, self.height()))
        if self.vm is None:
            return
        p.setFont(theme.font(12.5, 600))
        p.setPen(c("ink"))
        p.drawText(QRectF(14, 8, 160, 22), Qt.AlignmentFlag.AlignVCenter, tr("Document set"))
        p.setFont(theme.font(11.5))
        p.setPen(c("faint"))
        p.drawText(
            QRectF(0, 8, self.width() - 14, 22),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            tr(f"{self.vm.pages} pages") if self.vm.pages else "",
        )
        for i, row in enumerate(self.vm.rows):
            self._row(p, HEAD + i * ROW, row, ringed(self) and i == self._at)

    def _row(self, p: QPainter, y: float, row, ring: bool) -> None:
        c, width = theme.colour, self.width() - 1
        if row.paper_id == self.vm.chosen:
            p.fillRect(QRectF(0, y, width, ROW), c("garnet_tint"))
            p.fillRect(QRectF(0, y, 3, ROW), c("garnet"))
        track = QRectF(14, y + ROW / 2 - 6.5, 22, 13)
        p.setPen(QPen(c("garnet" if row.printed else "faint"), 1))
        p.setBrush(c("garnet" if row.printed else "tint"))
        p.drawRoundedRect(track, 6.5, 6.5)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(c("on_garnet" if row.printed else "faint"))
        p.drawEllipse(QPointF(track.right() - 6.5 if row.printed else track.left() + 6.5, track.center().y()), 4, 4)
        p.setFont(theme.font(12, 600 if row.paper_id == self.vm.chosen else 400))
        p.setPen(c("ink" if row.printed else "faint"))
        p.drawText(
            QRectF(48, y + 3, width - 56, 16),
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(p.font()).elidedText(tr(row.name), Qt.TextElideMode.ElideRight, width - 56),
        )
        p.setFont(theme.font(10.5))
        p.setPen(c("faint"))
        p.drawText(QRectF(48, y + 18, width - 56, 14), Qt.AlignmentFlag.AlignVCenter, tr(row.pages))
        if row.moved:
            p.setPen(c("garnet"))
            p.drawText(
                QRectF(48, y + 18, width - 62, 14),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                f"■ {tr(row.moved)}",
            )
        p.setBrush(Qt.BrushStyle.NoBrush)
        if ring:
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(QRectF(1.5, y + 1.5, width - 3, ROW - 3))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(14, y + ROW - 0.5), QPointF(width - 14, y + ROW - 0.5))
