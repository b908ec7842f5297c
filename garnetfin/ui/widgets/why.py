"""Why: the derivation of a figure beside the view; each of its numbers leads on to where it comes from."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QGuiApplication, QPainter, QPalette, QPen
from PySide6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from garnetfin.ui.focus import ringed
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.why import ORIGINS, WhyVM, plain_text
from garnetfin.ui.widgets.controls import LinkText
from garnetfin.ui.widgets.side_page import SidePage

MARGIN = 18


class _Rows(QWidget):
    """What a figure is made of; a click or Return leads on."""

    chosen = Signal(object)
    NAME, NOTE = 17.0, 14.0

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.vm: WhyVM | None = None
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.at = 0

    def render_vm(self, vm: WhyVM) -> None:
        self.vm, self.at = vm, 0
        self.setFixedHeight(round(sum(self._height(r) for r in vm.rows) + 6))
        self.setAccessibleName("; ".join(f"{r.name} {r.value} {r.unit}" for r in vm.rows))
        self.update()

    def _height(self, row) -> float:
        return self.NAME + (self.NOTE if row.note else 0) + 5

    def row_at(self, y: float) -> int:
        top = 0.0
        for i, row in enumerate(self.vm.rows if self.vm else ()):
            top += self._height(row)
            if y < top:
                return i
        return -1

    def paintEvent(self, event) -> None:
        if self.vm is None:
            return
        p, c, y = QPainter(self), theme.colour, 0.0
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, row in enumerate(self.vm.rows):
            height = self._height(row)
            if ringed(self) and i == self.at:
                p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
                p.drawRect(QRectF(0.5, y + 0.5, self.width() - 1, height - 2))
            value, small = theme.font(12, 600), theme.font(10.5)
            unit_room = QFontMetricsF(small).horizontalAdvance(row.unit) + 4 if row.unit else 0
            room = self.width() - unit_room - QFontMetricsF(value).horizontalAdvance(row.value) - 8
            p.setFont(theme.font(12))
            p.setPen(c("garnet" if row.address else "ink"))
            p.drawText(
                QRectF(2, y, room, self.NAME),
                Qt.AlignmentFlag.AlignVCenter,
                QFontMetricsF(p.font()).elidedText(row.name, Qt.TextElideMode.ElideRight, room),
            )
            p.setFont(value)
            p.setPen(c("ink"))
            p.drawText(
                QRectF(0, y, self.width() - unit_room, self.NAME),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                row.value,
            )
            p.setFont(small)
            p.setPen(c("faint"))
            p.drawText(
                QRectF(self.width() - unit_room + 3, y + 1, unit_room, self.NAME),
                Qt.AlignmentFlag.AlignVCenter,
                row.unit,
            )
            if row.note:
                p.drawText(
                    QRectF(2, y + self.NAME - 2, self.width() - 4, self.NOTE),
                    Qt.AlignmentFlag.AlignVCenter,
                    QFontMetricsF(small).elidedText(row.note, Qt.TextElideMode.ElideRight, self.width() - 6),
                )
            y += height
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(0, y - 2.5), QPointF(self.width(), y - 2.5))

    def mousePressEvent(self, event) -> None:
        i = self.row_at(event.position().y())
        if i >= 0 and self.vm.rows[i].address:
            self.chosen.emit(self.vm.rows[i].address)

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(event.key())
        if step and self.vm and self.vm.rows:
            self.at = max(0, min(len(self.vm.rows) - 1, self.at + step))
            self.update()
        elif (
            event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space)
            and self.vm
            and self.vm.rows
            and self.vm.rows[self.at].address
        ):
            self.chosen.emit(self.vm.rows[self.at].address)
        else:
            super().keyPressEvent(event)


class WhyPanel(SidePage):
    """Stands in the place of the card while it is asked. `asked` carries the address to explain next."""

    asked = Signal(object)
    closed = Signal()
    picked = Signal(str, tuple)

    def __init__(self, parent: QWidget | None = None) -> None:
        inside = QWidget()
        super().__init__("Why", inside, parent)
        column = QVBoxLayout(inside)
        column.setContentsMargins(MARGIN, 8, MARGIN - 8, 8)
        column.setSpacing(6)
        top = QHBoxLayout()
        self.back, self.close_link = LinkText("← Back", px=12), LinkText("Close", px=12)
        self.back.clicked.connect(self.go_back)
        self.close_link.clicked.connect(self.closed)
        top.addWidget(self.back)
        top.addStretch(1)
        top.addWidget(self.close_link)
        column.addLayout(top)
        self.kind, self.name, self.figure = (
            self._label(px, weight, tone)
            for px, weight, tone in ((11, 400, "faint"), (14, 600, "ink"), (20, 600, "ink"))
        )
        self.equation = self._label(12.5, 400, "ink")
        self.equation.setTextInteractionFlags(
            Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        )
        self.equation.linkActivated.connect(self._link)
        self.rows = _Rows()
        self.rows.chosen.connect(self._to)
        self.source, self.remark = self._label(11, 400, "faint"), self._label(11.5, 400, "ink")
        self.show_link, self.copy_link = LinkText("Show it", px=12), LinkText("Copy this derivation", px=12)
        self.show_link.clicked.connect(self._show)
        self.copy_link.clicked.connect(self._copy)
        for part in (
            self.kind,
            self.name,
            self.figure,
            self.equation,
            self.rows,
            self.source,
            self.remark,
            self.show_link,
            self.copy_link,
        ):
            column.addWidget(part)
        column.addStretch(1)
        self.vm: WhyVM | None = None
        self.trail: list[tuple] = []

    def _label(self, px: float, weight: int, tone: str) -> QLabel:
        label = QLabel()
        label.setWordWrap(True)
        label.setProperty("why", (px, weight, tone))
        return label

    def _paint_labels(self) -> None:
        for label in (self.kind, self.name, self.figure, self.equation, self.source, self.remark):
            px, weight, tone = label.property("why")
            label.setFont(theme.font(px, weight))
            palette = label.palette()
            palette.setColor(QPalette.ColorRole.WindowText, theme.colour(tone))
            palette.setColor(QPalette.ColorRole.Link, theme.colour("garnet"))
            label.setPalette(palette)

    def start(self, address: tuple) -> None:
        """A new question; the trail begins here."""
        self.trail = [address]

    def follow(self, address: tuple) -> None:
        self.trail.append(address)

    @property
    def address(self) -> tuple:
        return self.trail[-1] if self.trail else ()

    def go_back(self) -> None:
        if len(self.trail) > 1:
            self.trail.pop()
            self.asked.emit(self.address)
        else:
            self.closed.emit()

    def render_vm(self, vm: WhyVM) -> None:
        self._paint_labels()
        if vm == self.vm:
            return
        self.vm = vm
        self.kind.setText("Why · " + ORIGINS.get(vm.origin, "derived"))
        self.name.setText(vm.name)
        self.figure.setText(f"{vm.figure} <span style='font-size:11px; font-weight:400'>{vm.unit}</span>")
        self.equation.setText("= " + vm.equation if vm.equation else "")
        self.equation.setVisible(bool(vm.equation))
        self.rows.render_vm(vm)
        self.rows.setVisible(bool(vm.rows))
        self.source.setText(vm.source)
        self.source.setVisible(bool(vm.source))
        self.remark.setText(vm.remark)
        self.remark.setVisible(bool(vm.remark))
        self.show_link.setVisible(bool(vm.go[0]))
        self.back.setVisible(len(self.trail) > 1)
        self.verticalScrollBar().setValue(0)
        self.setAccessibleDescription(plain_text(vm))

    def _link(self, href: str) -> None:
        if self.vm is not None and href.isdigit() and int(href) < len(self.vm.terms):
            self._to(self.vm.terms[int(href)])

    def _to(self, address: tuple) -> None:
        self.follow(address)
        self.asked.emit(address)

    def _show(self) -> None:
        if self.vm is not None:
            self.picked.emit(self.vm.go[0], (self.vm.go[1],))

    def _copy(self) -> None:
        if self.vm is not None:
            QGuiApplication.clipboard().setText(plain_text(self.vm))

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        elif event.key() == Qt.Key.Key_Backspace:
            self.go_back()
        else:
            super().keyPressEvent(event)
