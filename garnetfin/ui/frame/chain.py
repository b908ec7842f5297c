"""The chain: eight links across the top, each with its live headline figure."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QWidget

from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chain import ChainVM, LinkVM

SYSTEM_WIDTH, LINK_WIDTH, HEIGHT = 152, 141, 64


class ChainBand(QWidget):
    """Shows a ChainVM; a click or the arrow keys choose a link, a click at the left the air system."""

    chosen = Signal(str)
    system_asked = Signal(QPointF)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._vm: ChainVM | None = None
        self._hover = -1
        self.setFixedHeight(HEIGHT)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Chain")

    def render_vm(self, vm: ChainVM) -> None:
        if vm != self._vm:
            self._vm = vm
            self.setAccessibleDescription("; ".join(f"{k.name}: {k.figure} {k.unit}" for k in vm.links))
            self.update()

    @property
    def vm(self) -> ChainVM | None:
        return self._vm

    def sizeHint(self) -> QSize:
        return QSize(1280, HEIGHT)

    def _link_width(self) -> float:
        return max(108.0, min(LINK_WIDTH, (self.width() - SYSTEM_WIDTH) / 8))

    def box_of(self, i: int) -> QRectF:
        return QRectF(SYSTEM_WIDTH + i * self._link_width(), 0, self._link_width(), HEIGHT)

    def _at(self, at: QPointF) -> int:
        return next((i for i in range(8) if self.box_of(i).contains(at)), -1)

    # -- painting ------------------------------------------------------------------------------------------------
    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = theme.colour
        p.fillRect(self.rect(), c("band"))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, HEIGHT - 0.5), QPointF(self.width(), HEIGHT - 0.5))
        if self._vm is None:
            return
        self._paint_system(p)
        for i, link in enumerate(self._vm.links):
            self._paint_link(p, i, link)
        if ringed(self):
            active = [k.name for k in self._vm.links].index(self._vm.active)
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(self.box_of(active).adjusted(4, 3, -4, -3))

    def _paint_system(self, p: QPainter) -> None:
        c, vm = theme.colour, self._vm
        p.setPen(c("faint"))
        p.setFont(theme.font(11))
        p.drawText(QPointF(14, 22), tr("Air system"))
        p.setPen(c("ink"))
        font = theme.font(14.5, 600)
        p.setFont(font)
        name = QFontMetricsF(font).elidedText(vm.system, Qt.TextElideMode.ElideRight, 112)
        p.drawText(QPointF(14, 43), name)
        x = 14 + QFontMetricsF(font).horizontalAdvance(name) + 8
        p.setPen(QPen(c("faint"), 1.4))
        p.drawPolyline([QPointF(x, 35), QPointF(x + 4, 39), QPointF(x + 8, 35)])
        p.setPen(c("faint"))
        p.setFont(theme.font(10.5))
        p.drawText(QPointF(14, 58), tr(vm.system_note))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(SYSTEM_WIDTH - 0.5, 8), QPointF(SYSTEM_WIDTH - 0.5, HEIGHT - 4))

    def _paint_link(self, p: QPainter, i: int, link: LinkVM) -> None:
        c, box = theme.colour, self.box_of(i)
        active = link.name == self._vm.active
        if active or i == self._hover:
            path = QPainterPath()
            path.addRoundedRect(box.adjusted(0.5, 4.5, -0.5, 8), 4, 4)
            p.setClipRect(box.adjusted(0, 0, 0, 0))
            p.setPen(QPen(c("rule"), 1) if active else Qt.PenStyle.NoPen)
            p.setBrush(c("sheet") if active else c("tint"))
            p.drawPath(path)
            p.setClipping(False)
        x, y = box.left() + 15, 18.0
        name_font = theme.font(12.5, 600)
        p.setFont(name_font)
        name_width = QFontMetricsF(name_font).horizontalAdvance(tr(link.name))
        # The thread: from the last link's name to this bead, from this name to the edge.
        thread = QPen(c("garnet"), 2.0 if active else 1.0)
        if link.missing:
            thread.setStyle(Qt.PenStyle.DashLine)
        p.setPen(thread)
        if i:
            p.drawLine(QPointF(box.left(), y), QPointF(x - 6, y))
        p.setPen(QPen(c("garnet"), 2.0 if active else 1.0))
        p.drawLine(QPointF(x + 13 + name_width + 8, y), QPointF(box.right(), y))
        self._paint_bead(p, QPointF(x, y), link, active)
        p.setPen(c("garnet") if active else c("ink"))
        p.drawText(QPointF(x + 12, 22), tr(link.name))
        p.setPen(c("faint") if link.missing or link.stale else c("ink"))
        figure_font = theme.font(13 if link.missing else 16.5, 500)
        metrics = QFontMetricsF(figure_font)
        unit_font = theme.font(10.5)
        unit_width = QFontMetricsF(unit_font).horizontalAdvance(link.unit) + 3 if link.unit else 0
        room = box.width() - 20
        if metrics.horizontalAdvance(tr(link.figure)) + unit_width > room:
            figure_font = theme.font(14.5, 500)
            metrics = QFontMetricsF(figure_font)
        p.setFont(figure_font)
        p.drawText(QPointF(box.left() + 11, 43), tr(link.figure))
        p.setPen(c("faint"))
        p.setFont(unit_font)
        p.drawText(QPointF(box.left() + 11 + metrics.horizontalAdvance(tr(link.figure)) + 3, 43), tr(link.unit))
        p.setPen(c("garnet" if link.changed and link.note != "unchanged" else "faint"))
        note = QFontMetricsF(unit_font).elidedText(tr(link.note), Qt.TextElideMode.ElideRight, box.width() - 13)
        p.drawText(QPointF(box.left() + 11, 58), note)

    def _paint_bead(self, p: QPainter, at: QPointF, link: LinkVM, active: bool) -> None:
        c = theme.colour
        if link.findings:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(c("watch"))
            count = str(min(link.findings, 999))
            half = 7.0 + 3.0 * (len(count) - 2 if len(count) > 2 else 0)
            disc = QRectF(at.x() - half, at.y() - 7, 2 * half, 14)
            p.drawRoundedRect(disc, 7, 7)
            p.setPen(c("sheet"))
            font = theme.font(10.5, 600)
            keep = p.font()
            p.setFont(font)
            p.drawText(disc.adjusted(-1, -1, 1, 1), Qt.AlignmentFlag.AlignCenter, count)
            p.setFont(keep)
            return
        p.setPen(QPen(c("garnet"), 1.5))
        p.setBrush(c("garnet") if active else c("band"))
        p.drawEllipse(at, 4.2 if active else 3.4, 4.2 if active else 3.4)

    # -- input ---------------------------------------------------------------------------------------------------
    def mouseMoveEvent(self, event) -> None:
        hover = self._at(event.position())
        if hover != self._hover:
            self._hover = hover
            link = self._vm.links[hover] if self._vm and hover >= 0 else None
            self.setToolTip(
                f"{link.name}: {link.figure} {link.unit}, {link.note}  (Alt+{hover + 1})"
                if link
                else "Choose the air system"
            )
            self.update()

    def leaveEvent(self, event) -> None:
        self._hover = -1
        self.update()

    def mousePressEvent(self, event) -> None:
        i = self._at(event.position())
        if i >= 0 and self._vm:
            self.chosen.emit(self._vm.links[i].name)
        elif event.position().x() < SYSTEM_WIDTH:
            self.system_asked.emit(QPointF(14, HEIGHT))

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(event.key())
        if step and self._vm:
            names = [k.name for k in self._vm.links]
            self.chosen.emit(names[(names.index(self._vm.active) + step) % len(names)])
        else:
            super().keyPressEvent(event)
