"""The card at the right: headline figures and sections of what is selected. Sections are reused while they fit."""

from typing import Any, Generic, Protocol, TypeVar

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from garnetfin.core.units import System
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.values import Rule
from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import card as vms
from garnetfin.ui.widgets.controls import LinkText
from garnetfin.ui.widgets.field import ValueField, paint_mark
from garnetfin.ui.widgets.finding_block import FindingBlock
from garnetfin.ui.widgets.side_page import SidePage

MARGIN = 18


class Section(Protocol):
    """What the head of a section needs."""

    @property
    def title(self) -> str: ...

    @property
    def note(self) -> str: ...


VM = TypeVar("VM", bound=Section)


class _Part(QWidget, Generic[VM]):
    """A section: title, hairline, note at the right; what is below is the subclass's."""

    intent = Signal(object)
    picked = Signal(str, tuple)
    HEAD = 26

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._vm: VM | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    @property
    def vm(self) -> VM:
        """What is shown. Raises LookupError before anything was rendered."""
        if self._vm is None:
            raise LookupError("nothing was rendered yet")
        return self._vm

    def render_vm(self, vm: VM, units: System) -> None:
        """Show a section."""
        self._vm = vm
        self.setFixedHeight(round(self.wanted_height()))
        self.update()

    def wanted_height(self) -> float:
        return self.HEAD + 8

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._vm is not None:
            self._paint_head(p)
            self.paint_body(p)

    def paint_body(self, p: QPainter) -> None:
        """Nothing below the head."""

    def _paint_head(self, p: QPainter) -> None:
        c = theme.colour
        p.setFont(theme.font(11.5, 600))
        p.setPen(c("ink"))
        p.drawText(
            QRectF(0, 0, self.width(), 18),
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
            tr(self.vm.title),
        )
        p.setFont(theme.font(11))
        p.setPen(c("faint"))
        room = self.width() - QFontMetricsF(theme.font(11.5, 600)).horizontalAdvance(tr(self.vm.title)) - 10
        note = QFontMetricsF(theme.font(11)).elidedText(tr(self.vm.note), Qt.TextElideMode.ElideRight, room)
        p.drawText(QRectF(0, 0, self.width(), 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, note)
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, 21.5), QPointF(self.width(), 21.5))


class InputsPart(_Part[vms.Inputs]):
    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.fields: list[ValueField] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, self.HEAD - 2, 0, 8)
        self._column.setSpacing(0)

    def render_vm(self, vm: vms.Inputs, units: System) -> None:
        self._vm = vm
        if [f.vm.edit for f in self.fields] != [r.edit for r in vm.rows] or any(
            bool(f.vm.choices) != bool(r.choices) for f, r in zip(self.fields, vm.rows)
        ):
            for field in self.fields:
                field.setParent(None)
                field.deleteLater()
            self.fields = [ValueField(row, units, self) for row in vm.rows]
            for field in self.fields:
                field.intent.connect(self.intent)
                self._column.addWidget(field)
                field.show()
        else:
            for field, row in zip(self.fields, vm.rows):
                field.render_vm(row, units)
        self.update()


class LinesPart(_Part[vms.Lines]):
    def wanted_height(self) -> float:
        return self.HEAD + len(self.vm.rows) * 18.5 + 8

    def _has_lead(self) -> bool:
        return any(r.lead for r in self.vm.rows)

    def paint_body(self, p: QPainter) -> None:
        c, step = theme.colour, 18.5
        # With a lead the unit column holds a second figure, e.g. the U-value of a face.
        lead = 46 if self._has_lead() else 0
        for i, row in enumerate(self.vm.rows):
            y = self.HEAD + i * step
            p.setFont(theme.font(11))
            p.setPen(c("faint"))
            p.drawText(QRectF(0, y, lead, step), Qt.AlignmentFlag.AlignVCenter, row.lead)
            unit_room = (
                44 if lead else (QFontMetricsF(theme.font(11)).horizontalAdvance(tr(row.unit)) + 4 if row.unit else 0)
            )
            value_font = theme.font(12, 500)
            value_width = QFontMetricsF(value_font).horizontalAdvance(tr(row.value))
            label_font = theme.font(12, 600 if row.strong else 400)
            p.setFont(label_font)
            p.setPen(c("garnet" if row.target[0] and not lead else "ink"))
            room = self.width() - lead - unit_room - value_width - 8
            p.drawText(
                QRectF(lead, y, room, step),
                Qt.AlignmentFlag.AlignVCenter,
                QFontMetricsF(label_font).elidedText(tr(row.label), Qt.TextElideMode.ElideRight, room),
            )
            p.setPen(c("ink"))
            p.setFont(value_font)
            p.drawText(
                QRectF(0, y, self.width() - unit_room, step),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                tr(row.value),
            )
            if lead:
                p.drawText(
                    QRectF(0, y, self.width(), step),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    row.unit,
                )
            else:
                p.setFont(theme.font(11))
                p.setPen(c("faint"))
                p.drawText(
                    QRectF(self.width() - unit_room + 4, y, unit_room, step),
                    Qt.AlignmentFlag.AlignVCenter,
                    tr(row.unit),
                )

    def why_at(self, at: QPointF) -> tuple:
        i = int((at.y() - self.HEAD) // 18.5)
        return self.vm.rows[i].why if 0 <= i < len(self.vm.rows) else ()

    def mousePressEvent(self, event) -> None:
        i = int((event.position().y() - self.HEAD) // 18.5)
        if 0 <= i < len(self.vm.rows) and self.vm.rows[i].target[0]:
            kind, target = self.vm.rows[i].target
            self.picked.emit(kind, (target,))


class CauseBarsPart(_Part[vms.CauseBars]):
    STEP = 24

    def wanted_height(self) -> float:
        return self.HEAD + len(self.vm.rows) * self.STEP + 36

    def paint_body(self, p: QPainter) -> None:
        c, width = theme.colour, self.width()
        font = QFontMetricsF(theme.font(11, 500))
        longest = max(
            (font.horizontalAdvance(text) for r in self.vm.rows for text in (r.left_text, r.right_text)), default=0.0
        )
        middle, reach = width * 0.5, width * 0.5 - max(34.0, longest + 8)
        bottom = self.HEAD + len(self.vm.rows) * self.STEP + 5
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(middle, self.HEAD + 8), QPointF(middle, bottom))
        for i, row in enumerate(self.vm.rows):
            y = self.HEAD + i * self.STEP
            p.setFont(theme.font(11))
            p.setPen(c("faint"))
            p.drawText(QRectF(0, y, width, 14), Qt.AlignmentFlag.AlignCenter, tr(row.label))
            p.setPen(Qt.PenStyle.NoPen)
            # Heat that a cause takes out of the room at this hour is drawn on the other side, hollow.
            for share, right in ((row.left, False), (row.right, True)):
                colour = c("garnet" if right else "supply")
                length = abs(share) * reach
                start = middle if right == (share >= 0) else middle - length
                p.setBrush(colour if share >= 0 else Qt.BrushStyle.NoBrush)
                p.setPen(Qt.PenStyle.NoPen if share >= 0 else QPen(colour, 1))
                if length >= 0.7:
                    p.drawRect(QRectF(start, y + 14, length, 7))
            p.setFont(theme.font(11, 500))
            p.setPen(c("ink"))
            left_end = middle - max(row.left, -row.right, 0) * reach
            right_end = middle + max(row.right, 0) * reach
            if row.left_text:
                p.drawText(
                    QRectF(0, y + 10, left_end - 4, 15),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    row.left_text,
                )
            if row.right_text:
                p.drawText(QRectF(right_end + 4, y + 10, width, 15), Qt.AlignmentFlag.AlignVCenter, row.right_text)
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, bottom + 3), QPointF(width, bottom + 3))
        p.setFont(theme.font(12, 600))
        p.setPen(c("supply"))
        p.drawText(QRectF(0, bottom + 5, width, 18), Qt.AlignmentFlag.AlignLeft, self.vm.left_total)
        p.setPen(c("garnet"))
        p.drawText(QRectF(0, bottom + 5, width, 18), Qt.AlignmentFlag.AlignRight, self.vm.right_total)

    def why_at(self, at: QPointF) -> tuple:
        i = int((at.y() - self.HEAD) // self.STEP)
        if not 0 <= i < len(self.vm.rows):
            return ()
        row = self.vm.rows[i]
        left = at.x() < self.width() / 2
        return (row.why_left if left else row.why_right) or row.why_right or row.why_left


class PartBarsPart(_Part[vms.PartBars]):
    STEP = 18.5

    def wanted_height(self) -> float:
        return self.HEAD + len(self.vm.rows) * self.STEP + 32

    def paint_body(self, p: QPainter) -> None:
        c, width = theme.colour, self.width()
        for i, (label, share, words, strong, _) in enumerate(self.vm.rows):
            y = self.HEAD + i * self.STEP
            p.setFont(theme.font(12))
            p.setPen(c("ink"))
            p.drawText(
                QRectF(0, y, 150, self.STEP),
                Qt.AlignmentFlag.AlignVCenter,
                QFontMetricsF(p.font()).elidedText(tr(label), Qt.TextElideMode.ElideRight, 142),
            )
            p.fillRect(QRectF(148, y + 5, 74 * share, 8), c("garnet" if strong else "supply"))
            p.setFont(theme.font(12, 500))
            p.drawText(
                QRectF(0, y, width, self.STEP), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )
        y = self.HEAD + len(self.vm.rows) * self.STEP + 3
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, y), QPointF(width, y))
        p.setFont(theme.font(12, 600))
        p.setPen(c("ink"))
        p.drawText(QRectF(0, y + 2, width, 20), Qt.AlignmentFlag.AlignVCenter, tr(self.vm.total_label))
        p.setPen(c("garnet"))
        p.drawText(
            QRectF(0, y + 2, width, 20), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.vm.total
        )

    def why_at(self, at: QPointF) -> tuple:
        return _row_why(self.vm, int((at.y() - self.HEAD) // self.STEP))


def _row_why(vm: vms.PartBars | vms.StackBar, i: int) -> tuple:
    """Of a bar, or of the sum below them."""
    return vm.rows[i].why if 0 <= i < len(vm.rows) else vm.why if i >= 0 else ()


class AxesPart(_Part[vms.Axes]):
    """One axis below the other; the points of one letter are joined."""

    STEP, TINTS = 58.0, ("garnet", "supply", "return", "outdoor", "exhaust", "ink")
    DASHES = ((), (5, 3), (1.5, 3), (6, 2, 1, 2), (3, 3), (8, 3))

    def wanted_height(self) -> float:
        return self.HEAD + len(self.vm.rows) * self.STEP + 6

    def paint_body(self, p: QPainter) -> None:
        c, left, right = theme.colour, 30.0, self.width() - 34.0
        lines: dict[str, list[QPointF]] = {}
        places = []
        for i, (label, unit, points) in enumerate(self.vm.rows):
            y = self.HEAD + i * self.STEP + 28
            p.setFont(theme.font(11.5, 500))
            p.setPen(c("ink"))
            p.drawText(QRectF(0, y - 28, 200, 16), Qt.AlignmentFlag.AlignVCenter, tr(label))
            p.setPen(c("faint"))
            p.drawText(
                QRectF(0, y - 28, self.width(), 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, unit
            )
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(0, y), QPointF(self.width(), y))
            taken: list[float] = []
            for letter, share, words in points:
                x = left + share * (right - left)
                while any(abs(x - t) < 17 for t in taken):  # points of one place stand beside each other
                    x += 17
                taken.append(x)
                lines.setdefault(letter, []).append(QPointF(x, y))
                places.append((letter, QPointF(x, y), words))
        for k, line in enumerate(lines.values()):
            way = QPen(c(self.TINTS[k % 6]), 1.3)
            if self.DASHES[k % 6]:
                way.setDashPattern(self.DASHES[k % 6])
            p.setPen(way)
            p.drawPolyline(QPolygonF(line))
        order = list(lines)
        for letter, at, words in places:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(c(self.TINTS[order.index(letter) % 6]))
            p.drawEllipse(at, 8, 8)
            p.setPen(c("on_garnet"))
            p.setFont(theme.font(10.5, 600))
            p.drawText(QRectF(at.x() - 9, at.y() - 9, 18, 18), Qt.AlignmentFlag.AlignCenter, letter)
        last: dict[float, float] = {}
        for letter, at, words in sorted(places, key=lambda q: q[1].x()):
            if at.x() - last.get(at.y(), -99.0) > 34:
                p.setPen(c("ink"))
                p.setFont(theme.font(10.5, 500))
                p.drawText(QRectF(at.x() - 40, at.y() + 9, 80, 14), Qt.AlignmentFlag.AlignCenter, words)
                last[at.y()] = at.x()


class StackPart(_Part[vms.StackBar]):
    STEP = 18.5

    def wanted_height(self) -> float:
        return self.HEAD + 24 + len(self.vm.rows) * self.STEP + 32

    def paint_body(self, p: QPainter) -> None:
        c, width, x = theme.colour, self.width(), 0.0
        for i, (label, share, words, colour, _) in enumerate(self.vm.rows):
            piece = share * width
            p.fillRect(QRectF(x, self.HEAD + 2, max(0.0, piece - 1), 15), c(colour))
            x += piece
            y = self.HEAD + 24 + i * self.STEP
            p.fillRect(QRectF(0, y + 4, 10, 10), c(colour))
            p.setFont(theme.font(12))
            p.setPen(c("ink"))
            p.drawText(QRectF(18, y, width, self.STEP), Qt.AlignmentFlag.AlignVCenter, tr(label))
            p.setFont(theme.font(12, 500))
            p.drawText(
                QRectF(0, y, width, self.STEP), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )
        y = self.HEAD + 24 + len(self.vm.rows) * self.STEP + 3
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, y), QPointF(width, y))
        p.setPen(c("faint"))
        p.setFont(theme.font(12))
        p.drawText(QRectF(18, y + 2, width, 20), Qt.AlignmentFlag.AlignVCenter, tr(self.vm.total_label))
        p.setPen(c("ink"))
        p.setFont(theme.font(12, 600))
        p.drawText(
            QRectF(0, y + 2, width, 20), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.vm.total
        )

    def why_at(self, at: QPointF) -> tuple:
        return _row_why(self.vm, int((at.y() - self.HEAD - 24) // self.STEP))


class LadderPart(_Part[vms.Ladder]):
    """The size ladder: a rail at the left, one rung a size; a click pins it, a click with Alt lets the rule decide."""

    STEP, TOP = 26.4, 44

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._at = 0

    def wanted_height(self) -> float:
        return self.TOP + len(self.vm.rungs) * self.STEP + 24

    def paint_body(self, p: QPainter) -> None:
        c, vm, width = theme.colour, self.vm, self.width()
        p.setFont(theme.font(10.5))
        p.setPen(c("faint"))
        for x, words in (
            (18, vm.units[0]),
            (118, vm.units[1]),
            (172, vm.units[2]),
            (215, "w/h"),
            (width - 2, vm.units[3]),
        ):
            box = QRectF(x - 60, 25, 60, 16) if x > 60 else QRectF(x, 25, 60, 16)
            p.drawText(
                box,
                (Qt.AlignmentFlag.AlignRight if x > 60 else Qt.AlignmentFlag.AlignLeft) | Qt.AlignmentFlag.AlignVCenter,
                words,
            )
        p.setPen(QPen(c("rule"), 2))
        p.drawLine(QPointF(5, self.TOP), QPointF(5, self.TOP + len(vm.rungs) * self.STEP - 4))
        for i, rung in enumerate(vm.rungs):
            self._paint_rung(p, i, rung)
        y = self.TOP + len(vm.rungs) * self.STEP + 10
        p.setFont(theme.font(10.5))
        x = 2.0
        if vm.legend:
            self._tick(p, QPointF(x + 4, y))
            p.setPen(c("faint"))
            p.drawText(QPointF(x + 12, y + 4), vm.legend)
            x += 28 + QFontMetricsF(p.font()).horizontalAdvance(vm.legend)
        self._ring(p, QPointF(x + 4, y))
        p.setPen(c("faint"))
        p.drawText(QPointF(x + 12, y + 4), "what the rule gives")

    def _ring(self, p: QPainter, at: QPointF) -> None:
        p.setPen(QPen(theme.colour("ink"), 1.4))
        p.setBrush(theme.colour("sheet"))
        p.drawEllipse(at, 3.2, 3.2)

    def _tick(self, p: QPainter, at: QPointF) -> None:
        p.setPen(QPen(theme.colour("good"), 1.6))
        p.drawPolyline([at + QPointF(-4, 0), at + QPointF(-1, 3), at + QPointF(4, -4)])

    def _paint_rung(self, p: QPainter, i: int, rung: vms.Rung) -> None:
        c, y = theme.colour, self.TOP + i * self.STEP
        middle = y + self.STEP / 2 - 2
        chosen = rung.pinned or (rung.by_rule and not any(r.pinned for r in self.vm.rungs))
        if chosen:
            p.setPen(QPen(c("garnet"), 1.2))
            p.setBrush(c("garnet_tint"))
            p.drawRoundedRect(QRectF(-0.5 + 1, y - 1, self.width() - 2, self.STEP - 1), 4, 4)
        if ringed(self) and i == self._at:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(QRectF(2, y, self.width() - 4, self.STEP - 3))
        if rung.pinned:
            paint_mark(p, QPointF(6, middle), "pinned")
        elif rung.by_rule:
            self._ring(p, QPointF(5, middle))
        else:
            p.setPen(QPen(c("rule"), 2))
            p.drawLine(QPointF(2, middle), QPointF(9, middle))
        font = theme.font(12, 600 if chosen or rung.by_rule else 400)
        font.setStrikeOut(bool(rung.reason))
        p.setFont(font)
        p.setPen(c("faint" if rung.reason else "garnet" if chosen else "ink"))
        p.drawText(QRectF(18, y, 90, self.STEP - 4), Qt.AlignmentFlag.AlignVCenter, rung.label)
        if rung.reason:
            p.setFont(theme.font(11, italic=True))
            p.drawText(
                QRectF(100, y, self.width() - 102, self.STEP - 4),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                rung.reason,
            )
            return
        if rung.clears:
            self._tick(p, QPointF(18 + QFontMetricsF(font).horizontalAdvance(rung.label) + 10, middle))
        p.setFont(theme.font(12, 400))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        p.setPen(c("ink"))
        p.drawText(QRectF(58, y, 60, self.STEP - 4), right, rung.velocity)
        p.drawText(QRectF(155, y, 60, self.STEP - 4), right, rung.ratio)
        p.drawText(QRectF(self.width() - 62, y, 60, self.STEP - 4), right, rung.mass)
        p.setPen(c("watch" if rung.over else "ink"))
        p.setFont(theme.font(12, 600 if rung.over else 400))
        p.drawText(QRectF(112, y - 2, 60, self.STEP - 4), right, rung.friction)
        bar = QRectF(134, y + self.STEP - 6.5, 38 * min(1.0, rung.friction_share), 2.2)
        p.fillRect(bar, c("watch" if rung.over else "supply"))
        tick = 134 + 38 * min(1.0, self.vm.limit_share)
        p.setPen(QPen(c("ink"), 1))
        p.drawLine(QPointF(tick, y + self.STEP - 9), QPointF(tick, y + self.STEP - 3.5))

    def why_at(self, at: QPointF) -> tuple:
        i = self.rung_at(at.y())
        return ("rung", self.vm.segment_ids[0], *self.vm.rungs[i].size) if i >= 0 else ()

    def rung_at(self, y: float) -> int:
        i = int((y - self.TOP) // self.STEP)
        return i if 0 <= i < len(self.vm.rungs) else -1

    def _take(self, i: int, free: bool) -> None:
        rung = self.vm.rungs[i]
        if free or rung.pinned:
            self.intent.emit(SetSize(self.vm.segment_ids, Rule()))
        elif not rung.reason:
            shape, width, height = rung.size
            self.intent.emit(SetSize(self.vm.segment_ids, PinnedSize(shape=shape, width_m=width, height_m=height)))

    def mousePressEvent(self, event) -> None:
        i = self.rung_at(event.position().y())
        if i >= 0:
            self._take(i, bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(event.key())
        if step:
            self._at = max(0, min(len(self.vm.rungs) - 1, self._at + step))
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self._take(min(self._at, len(self.vm.rungs) - 1), bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))
        else:
            super().keyPressEvent(event)


class DayPart(_Part[vms.DayLine]):
    def wanted_height(self) -> float:
        return self.HEAD + 74

    def paint_body(self, p: QPainter) -> None:
        c, vm, width = theme.colour, self.vm, self.width()
        top, bottom = self.HEAD + 14, self.HEAD + 54
        high, low = max(max(vm.values), 1.0), min(min(vm.values), 0.0)

        def at(i: int) -> QPointF:
            return QPointF((i + 0.5) / 24 * width, bottom - (vm.values[i] - low) / (high - low) * (bottom - top))

        zero = bottom + low / (high - low) * (bottom - top)

        line = [at(i) for i in range(24)]
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(c("garnet_tint"))
        p.drawPolygon(QPolygonF([QPointF(line[0].x(), zero), *line, QPointF(line[-1].x(), zero)]))
        p.setPen(QPen(c("garnet"), 1.5))
        p.drawPolyline(QPolygonF(line))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, zero), QPointF(width, zero))
        peak = at(vm.peak_hour)
        p.setPen(QPen(c("garnet"), 1.5))
        p.setBrush(c("sheet"))
        p.drawEllipse(peak, 3.5, 3.5)
        p.setFont(theme.font(11, 600))
        p.setPen(c("garnet"))
        left = peak.x() > width / 2
        box = QRectF(peak.x() - 108, peak.y() - 17, 100, 14) if left else QRectF(peak.x() + 8, peak.y() - 17, 100, 14)
        p.drawText(box, Qt.AlignmentFlag.AlignRight if left else Qt.AlignmentFlag.AlignLeft, vm.peak_text)
        p.setFont(theme.font(10.5))
        p.setPen(c("faint"))
        for hour in (0, 6, 12, 18, 24):
            box = QRectF(hour / 24 * width - 20, bottom + 4, 40, 14)
            side = (
                Qt.AlignmentFlag.AlignLeft
                if hour == 0
                else Qt.AlignmentFlag.AlignRight
                if hour == 24
                else (Qt.AlignmentFlag.AlignHCenter)
            )
            p.drawText(box.translated(20 if hour == 0 else -20 if hour == 24 else 0, 0), side, str(hour))

    def why_at(self, at: QPointF) -> tuple:
        hour = int(at.x() / max(self.width(), 1) * 24)
        return self.vm.whys[hour] if self.vm.whys and 0 <= hour < 24 else ()


class FindingsPart(_Part[vms.FindingsVM]):
    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.blocks: list[FindingBlock] = []
        self._units: System = "SI"
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, self.HEAD + 2, 0, 8)
        self._column.setSpacing(6)

    def render_vm(self, vm: vms.FindingsVM, units: System) -> None:
        if self._vm is None or (vm.findings, units) != (self.vm.findings, self._units):
            self._units = units
            for block in self.blocks:
                block.setParent(None)
                block.deleteLater()
            self.blocks = [FindingBlock(f.in_units(units), self) for f in vm.findings]
            for block in self.blocks:
                block.intent.connect(self.intent)
                block.picked.connect(self.picked)
                self._column.addWidget(block)
                block.show()
        self._vm = vm
        self.update()


PARTS: dict[type, type[_Part[Any]]] = {
    vms.Inputs: InputsPart,
    vms.Lines: LinesPart,
    vms.CauseBars: CauseBarsPart,
    vms.PartBars: PartBarsPart,
    vms.StackBar: StackPart,
    vms.Axes: AxesPart,
    vms.Ladder: LadderPart,
    vms.DayLine: DayPart,
    vms.FindingsVM: FindingsPart,
}


class _Top(QWidget):
    """Kind, title, line, three headline figures."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.vm: vms.CardVM | None = None

    def render_vm(self, vm: vms.CardVM) -> None:
        self.vm = vm
        self.setFixedHeight(126 if vm.headlines else 58 + 15 * self._line_rows())
        self.update()

    def _line_rows(self) -> int:
        return max(1, -(-len(self.vm.line) // 40)) if self.vm else 1

    def why_at(self, at: QPointF) -> tuple:
        if self.vm is None or not self.vm.headlines or at.y() < 70:
            return ()
        step = min(90.0, self.width() / max(3, len(self.vm.headlines)) + 2)
        return self.vm.headlines[min(len(self.vm.headlines) - 1, max(0, int(at.x() // step)))].why

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c, vm, width = theme.colour, self.vm, self.width()
        if vm is None:
            return
        p.setFont(theme.font(11))
        p.setPen(c("faint"))
        p.drawText(
            QRectF(0, 10, width, 16),
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(p.font()).elidedText(tr(vm.kind), Qt.TextElideMode.ElideRight, width),
        )
        font = theme.font(17, 600)
        p.setFont(font)
        p.setPen(c("ink"))
        p.drawText(
            QRectF(0, 26, width, 23),
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(font).elidedText(tr(vm.title), Qt.TextElideMode.ElideRight, width),
        )
        p.setFont(theme.font(11.5))
        p.setPen(c("faint"))
        if vm.headlines:
            p.drawText(
                QRectF(0, 48, width, 17),
                Qt.AlignmentFlag.AlignVCenter,
                QFontMetricsF(p.font()).elidedText(tr(vm.line), Qt.TextElideMode.ElideRight, width),
            )
        else:
            p.drawText(QRectF(0, 50, width, self.height() - 50), Qt.TextFlag.TextWordWrap, vm.line)
        step = min(90.0, width / max(3, len(vm.headlines)) + 2)
        for i, h in enumerate(vm.headlines):
            x = i * step
            tone = c(h.tone) if h.tone else c("ink")
            p.setFont(theme.font(11))
            p.setPen(c("faint"))
            room = width - x if i == len(vm.headlines) - 1 else step - 3
            p.drawText(
                QPointF(x, 84), QFontMetricsF(p.font()).elidedText(tr(h.label), Qt.TextElideMode.ElideRight, room)
            )
            figure = theme.font(20, 600)
            small = theme.font(11)
            p.setFont(figure)
            p.setPen(tone)
            p.drawText(QPointF(x, 104), h.figure)
            at = x + QFontMetricsF(figure).horizontalAdvance(h.figure) + 3
            p.setFont(small)
            p.setPen(c("faint"))
            p.drawText(
                QPointF(at, 104),
                QFontMetricsF(small).elidedText(
                    h.unit,
                    Qt.TextElideMode.ElideRight,
                    max(20.0, (width if i == len(vm.headlines) - 1 else x + step) - at),
                ),
            )
            p.setFont(theme.font(10.5))
            p.setPen(tone if h.tone else c("faint"))
            p.drawText(
                QPointF(x, 119), QFontMetricsF(p.font()).elidedText(tr(h.reason), Qt.TextElideMode.ElideRight, room)
            )


class Card(SidePage):
    """Renders a CardVM; emits intents (commands) and what is to be selected."""

    intent = Signal(object)
    picked = Signal(str, tuple)

    def __init__(self, parent: QWidget | None = None) -> None:
        self._inside = QWidget()
        super().__init__("Card", self._inside, parent)
        self._column = QVBoxLayout(self._inside)
        self._column.setContentsMargins(MARGIN, 0, MARGIN - 8, 8)
        self._column.setSpacing(0)
        self._top = _Top()
        self._column.addWidget(self._top)
        self._foot = LinkText("", px=12)
        self._foot.clicked.connect(self._on_foot)
        self._column.addStretch(1)
        self._column.addWidget(self._foot)
        self.parts: list[_Part] = []
        self.vm: vms.CardVM | None = None
        self._units: System = "SI"

    def render_vm(self, vm: vms.CardVM, units: System) -> None:
        if vm == self.vm and units == self._units:
            return
        # Two cards of another thing are other cards: fields never carry over what was typed for one into the next.
        same_thing = self.vm is not None and (vm.kind, [type(s) for s in vm.sections]) == (
            self.vm.kind,
            [type(s) for s in self.vm.sections],
        )
        self.vm, self._units = vm, units
        self._top.render_vm(vm)
        if not same_thing:
            for part in self.parts:
                part.setParent(None)
                part.deleteLater()
            self.parts = [PARTS[type(s)](self._inside) for s in vm.sections]
            for i, part in enumerate(self.parts):
                part.intent.connect(self.intent)
                part.picked.connect(self.picked)
                self._column.insertWidget(1 + i, part)
                part.show()
            self.verticalScrollBar().setValue(0)
        for part, section in zip(self.parts, vm.sections):
            part.render_vm(section, units)
        self._foot.setText(vm.foot[0])
        self._foot.setVisible(bool(vm.foot[0]))
        self._foot.updateGeometry()
        self.setAccessibleDescription(f"{vm.kind}, {vm.title}")

    @property
    def in_hand(self) -> bool:
        """True while the keyboard is in one of the card's fields."""
        return any(f.edit.hasFocus() for part in self.parts if isinstance(part, InputsPart) for f in part.fields)

    def field(self, name: str) -> ValueField:
        """The field of that name, e.g. room_value_cooling_c; for the keyboard map and tests."""
        return next(
            f for part in self.parts if isinstance(part, InputsPart) for f in part.fields if f.edit.objectName() == name
        )

    def part(self, kind: type) -> _Part:
        return next(p for p in self.parts if isinstance(p, kind))

    def _on_foot(self) -> None:
        if self.vm.foot[1] is not None:
            self.intent.emit(self.vm.foot[1].filled())
