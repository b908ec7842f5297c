"""One input row of a card: label, mark of origin, value on its line, unit. Typing pins; the mark unpins."""

from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPalette, QPen
from PySide6.QtWidgets import QLineEdit, QWidget

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import System
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.card import InputVM
from garnetfin.ui.view_models.edits import typed
from garnetfin.ui.widgets.bare import Choice, Menu

ROW, VALUE_LEFT, UNIT_ROOM = 21.5, 154, 44


def paint_mark(p: QPainter, at: QPointF, origin: str) -> None:
    """Ring: by rule. Garnet head with a stem: pinned. Arrow onto a bar: imported."""
    c = theme.colour
    p.setBrush(Qt.BrushStyle.NoBrush)
    if origin == "rule":
        p.setPen(QPen(c("faint"), 1.1))
        p.drawEllipse(at, 2.4, 2.4)
    elif origin == "pinned":
        p.setPen(QPen(c("garnet"), 1.3))
        p.drawLine(QPointF(at.x() - 3.6, at.y() + 3.6), QPointF(at.x(), at.y()))
        p.setBrush(c("garnet"))
        p.setPen(Qt.PenStyle.NoPen)
        p.drawEllipse(QPointF(at.x() + 0.9, at.y() - 0.9), 2.9, 2.9)
    elif origin == "imported":
        p.setPen(QPen(c("faint"), 1.1))
        p.drawLine(QPointF(at.x(), at.y() - 4), QPointF(at.x(), at.y() + 1.5))
        p.drawPolyline(
            [QPointF(at.x() - 2, at.y() - 0.5), QPointF(at.x(), at.y() + 1.7), QPointF(at.x() + 2, at.y() - 0.5)]
        )
        p.drawLine(QPointF(at.x() - 3, at.y() + 3.8), QPointF(at.x() + 3, at.y() + 3.8))


@lru_cache(maxsize=1)
def _clear() -> QPalette:
    """Of a line that is typed into: its ground is that of the card."""
    made = QPalette()  # holds what is set here alone; the rest follows the look
    made.setColor(QPalette.ColorRole.Base, Qt.GlobalColor.transparent)
    return made


class ValueField(QWidget):
    """Shows an InputVM. A wrong entry stays in the field with the reason below; the last good value stays in force."""

    intent = Signal(object)

    def __init__(self, vm: InputVM, units: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._vm, self._units, self._fault = vm, units, ""
        self._rendering = False
        # one of the two: a choice among words, or a line to type in
        self._box = Choice(self) if vm.choices else None
        self._line = None if vm.choices else QLineEdit(self)
        if self._box is not None:
            self._box.activated.connect(self._on_choice)
            self._box.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        if self._line is not None:
            self._line.setAlignment(Qt.AlignmentFlag.AlignRight if vm.quantity else Qt.AlignmentFlag.AlignLeft)
            self._line.setFrame(False)
            self._line.setPalette(_clear())
            self._line.editingFinished.connect(self._on_typed)
            self._line.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
            self._line.customContextMenuRequested.connect(self._menu)
        self.edit: QWidget = self._box or self._line or self
        self.edit.setObjectName(vm.edit.name)
        self.render_vm(vm, units)

    def render_vm(self, vm: InputVM, units: System) -> None:
        self._rendering = True
        changed = vm != self._vm or units != self._units
        self._vm, self._units = vm, units
        self.edit.setAccessibleName(f"{vm.label} {vm.unit}".strip())
        self.edit.setToolTip(vm.tip or f"{vm.label}: type a figure; another unit may stand behind it")
        box, line = self._box, self._line
        if box is not None:
            if changed or not box.count():
                box.clear()
                for key, label in vm.choices:
                    box.addItem(tr(label), key)
            box.setCurrentIndex(next((i for i, (k, _) in enumerate(vm.choices) if k == vm.chosen), -1))
        elif line is not None and not (line.hasFocus() and line.isModified()) and (changed or not self._fault):
            self._settle(vm.text)
        self._rendering = False
        self.setFixedHeight(self._height())
        self._place()
        self.update()

    @property
    def vm(self) -> InputVM:
        return self._vm

    @property
    def fault(self) -> str:
        return self._fault

    @property
    def _wide(self) -> bool:
        """Choices and words take the room that figures leave to mark and unit."""
        return bool(self._vm.choices) or not self._vm.quantity

    def _height(self) -> int:
        return round(ROW) + (15 * self._fault_lines() if self._fault else 0)

    def _fault_lines(self) -> int:
        return max(1, -(-len(self._fault) // 42))

    def _place(self) -> None:
        row = round(ROW)
        right = self.width() - (0 if self._wide else UNIT_ROOM)
        left = 96 if self._wide else VALUE_LEFT
        self.edit.setFont(theme.font(12, 500))
        self.edit.setGeometry(left, 0, max(40, right - left), row - 2)

    def resizeEvent(self, event) -> None:
        self._place()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c, vm, row = theme.colour, self._vm, ROW
        p.setFont(theme.font(12))
        p.setPen(c("ink"))
        label = QFontMetricsF(p.font()).elidedText(
            tr(vm.label), Qt.TextElideMode.ElideRight, 136 if not self._wide else 84
        )
        p.drawText(QRectF(0, 0, 140, row), Qt.AlignmentFlag.AlignVCenter, label)
        right = self.width() - (0 if self._wide else UNIT_ROOM)
        paint_mark(p, QPointF(144 if not self._wide else 88, row / 2), vm.origin)
        line = {"pinned": QPen(c("garnet"), 1.2), "imported": QPen(c("faint"), 0.8)}.get(
            vm.origin, QPen(c("faint"), 0.8)
        )
        if vm.origin == "rule":
            line.setDashPattern([1.5, 2.5])
        if self._fault:
            line = QPen(c("bad"), 1.4)
        p.setPen(line)
        p.drawLine(QPointF(VALUE_LEFT if not self._wide else 98, row - 2), QPointF(right, row - 2))
        p.setPen(c("faint"))
        p.setFont(theme.font(11.5 if len(vm.unit) < 7 else 9.5))
        p.drawText(QRectF(right + 4, 0, UNIT_ROOM, row), Qt.AlignmentFlag.AlignVCenter, tr(vm.unit))
        if self._fault:
            p.setPen(c("bad"))
            p.setFont(theme.font(11))
            p.drawText(QRectF(0, row, self.width(), self.height() - row), Qt.TextFlag.TextWordWrap, self._fault)

    # -- entering ------------------------------------------------------------------------------------------------
    def _settle(self, text: str | None = None) -> None:
        """What stands in the line is what holds: nothing typed is open, no fault told."""
        if self._line is not None:
            if text is not None:
                self._line.setText(text)
            self._line.setModified(False)
        self._set_fault("")

    def _on_typed(self) -> None:
        if self._line is None or not self._line.isModified():
            return
        text = self._line.text()
        if text.strip() == self._vm.text:
            self._settle()
            return
        try:
            command = typed(self._vm, text, self._units)
        except GarnetfinError as error:
            self._set_fault(str(error))
            return
        self._settle()
        self.intent.emit(command)

    def refuse(self, reason: str) -> None:
        """The edit could not be: keep what was typed and say why."""
        self._set_fault(reason)

    def _set_fault(self, fault: str) -> None:
        if fault != self._fault:
            self._fault = fault
            self.setFixedHeight(self._height())
            self.update()

    def _on_choice(self, index: int) -> None:
        if not self._rendering and self._box is not None:
            self.intent.emit(self._vm.edit.filled(self._box.itemData(index)))

    def unpin(self) -> None:
        if self._vm.origin in ("pinned", "imported", "several") and not self._vm.choices:
            self._settle()
            self.intent.emit(self._vm.edit.filled(None))

    def why_at(self, at: QPointF) -> tuple:
        return self._vm.edit.address(self._vm.label, self._vm.quantity)

    def mousePressEvent(self, event) -> None:
        if not self._vm.choices and abs(event.position().x() - 144) < 9:
            self.unpin()
        elif event.position().x() < VALUE_LEFT:
            self.edit.setFocus(Qt.FocusReason.MouseFocusReason)

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape and not self._vm.choices:
            self._settle(self._vm.text)
        else:
            super().keyPressEvent(event)

    def _menu(self, at) -> None:
        line, window = self._line, self.window()
        if line is None:
            return
        menu = Menu(self)
        if self._vm.origin in ("pinned", "imported", "several"):
            menu.addAction("Let the rule decide", self.unpin)
        address = self._vm.edit.address(self._vm.label, self._vm.quantity)
        ask_why = getattr(window, "ask_why", None)
        if address and ask_why is not None:
            menu.addAction("Why?", lambda: ask_why(address))
        for words, act in (("Copy", line.copy), ("Paste", line.paste)):
            entry = menu.addAction(words)
            entry.triggered.connect(line.selectAll)
            entry.triggered.connect(act)
        menu.popup(line.mapToGlobal(at))
