"""Tables: head on tint with faint units, hairlines, marks, bars, reasons in italics over empty cells."""

from functools import lru_cache

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QKeySequence, QPainter, QPen
from PySide6.QtWidgets import QAbstractItemView, QApplication, QHeaderView, QLineEdit, QStyledItemDelegate, QTableView

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import System, parse
from garnetfin.report.to_csv import harmless
from garnetfin.ui.charts.pictograms import paint_pictogram
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.tables import Row, TableVM
from garnetfin.ui.widgets.bare import thin
from garnetfin.ui.widgets.field import paint_mark

PAD = 8
FIRST_PAD, MOST_MORE = 28, 44  # air around the first column; how much wider its words may make it


class _Model(QAbstractTableModel):
    refused = Signal(str)
    intent = Signal(object)

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.vm = TableVM((), ())
        self.units: System = "SI"

    def set_vm(self, vm: TableVM) -> None:
        """Rows that are equal stay untouched; the changed ones are announced as one stretch."""
        old, self.vm = self.vm, vm
        if old.columns != vm.columns or [r.id for r in old.rows] != [r.id for r in vm.rows]:
            self.beginResetModel()
            self.endResetModel()
            return
        moved = [i for i, (a, b) in enumerate(zip(old.rows, vm.rows)) if a is not b and a != b]
        if moved:
            self.dataChanged.emit(self.index(moved[0], 0), self.index(moved[-1], len(vm.columns) - 1))

    def rowCount(self, parent=QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.vm.rows)

    def columnCount(self, parent=QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.vm.columns)

    def data(self, index, role=Qt.ItemDataRole.DisplayRole):
        cell = self.vm.rows[index.row()].cells[index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return cell.text
        if role == Qt.ItemDataRole.ToolTipRole and len(cell.text) > 24:
            return cell.text
        return None

    def headerData(self, section, orientation, role=Qt.ItemDataRole.DisplayRole):
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            column = self.vm.columns[section]
            return f"{column.name} {column.unit}".strip()
        return None

    def flags(self, index):
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return base | Qt.ItemFlag.ItemIsEditable if self.vm.rows[index.row()].cells[index.column()].edit else base

    def setData(self, index, value, role=Qt.ItemDataRole.EditRole) -> bool:
        cell = self.vm.rows[index.row()].cells[index.column()]
        text = str(value).strip()
        if text == cell.text:
            return False
        try:
            entered = (parse(text, cell.quantity, self.units) if text else None) if cell.quantity else text
            self.intent.emit(cell.edit.filled(entered))
        except (GarnetfinError, TypeError) as error:
            self.refused.emit(str(error) or "A figure is needed here")
            return False
        return True


class _Delegate(QStyledItemDelegate):
    def __init__(self, table: "Table") -> None:
        super().__init__(table)
        self._table = table

    def sizeHint(self, option, index) -> QSize:
        return QSize(60, self._table.row_height)

    def createEditor(self, parent, option, index):
        editor = QLineEdit(parent)
        editor.setFrame(False)
        editor.setFont(theme.font(12, 500))
        if not self._table.model_.vm.columns[index.column()].left:
            editor.setAlignment(Qt.AlignmentFlag.AlignRight)
        return editor

    def paint(self, p: QPainter, option, index) -> None:
        vm = self._table.model_.vm
        row, column = vm.rows[index.row()], vm.columns[index.column()]
        cell = row.cells[index.column()]
        c, box = theme.colour, QRectF(option.rect)
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = row.id in self._table.chosen
        if chosen:
            p.fillRect(option.rect, c("garnet_tint"))
            if index.column() == 0:
                p.fillRect(QRectF(box.left(), box.top(), 3, box.height()), c("garnet"))
        elif row.id == self._table.lit:
            p.fillRect(option.rect, c("tint"))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(box.bottomLeft() + QPointF(0, -0.5), box.bottomRight() + QPointF(0, -0.5))
        if (
            index.row() == self._table.currentIndex().row()
            and index.column() == self._table.currentIndex().column()
            and (self._table.hasFocus())
        ):
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(box.adjusted(1, 1, -2, -2))
        tone = {"faint": "faint", "watch": "watch", "bad": "bad", "garnet": "garnet"}.get(cell.tone, "ink")
        weight = 600 if cell.tone == "strong" or (chosen and index.column() == 1) else 500 if tone == "garnet" else 400
        font = theme.font(12, weight, cell.italic)
        p.setFont(font)
        inner = box.adjusted(
            14 if index.column() == 0 else PAD, 0, -PAD - (6 if index.column() == len(vm.columns) - 1 else 0), 0
        )
        if cell.span:
            inner.setLeft(inner.left() - 4 * 90)
            p.setClipping(False)
        if cell.fitting:
            paint_pictogram(
                p,
                QRectF(inner.left(), box.top() + 2, box.height() - 4, box.height() - 4),
                cell.fitting,
                c("garnet" if chosen else "ink"),
            )
            inner.setLeft(inner.left() + box.height() + 4)
        text_width = QFontMetricsF(font).horizontalAdvance(cell.text)
        if cell.bar is not None:
            track = QRectF(inner.left(), box.center().y() - 4, max(4.0, inner.width() - max(38.0, text_width + 8)), 8)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(c("garnet") if chosen else c("bar"))
            p.drawRect(QRectF(track.left(), track.top(), track.width() * min(1.0, max(0.0, cell.bar)), 8))
        if cell.swing is not None:
            half = max(8.0, (inner.width() - 34) / 2)
            middle = inner.left() + half
            p.setPen(QPen(c("rule"), 1))
            p.drawLine(QPointF(middle, box.top() + 3), QPointF(middle, box.bottom() - 3))
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(c("watch") if cell.swing < 0 else c("supply"))
            p.drawRect(QRectF(middle + min(cell.swing, 0.0) * half, box.center().y() - 4, abs(cell.swing) * half, 8))
        p.setPen(c(tone))
        side = Qt.AlignmentFlag.AlignLeft if column.left and not cell.span else Qt.AlignmentFlag.AlignRight
        text = QFontMetricsF(font).elidedText(tr(cell.text), Qt.TextElideMode.ElideRight, inner.width())
        p.drawText(inner, side | Qt.AlignmentFlag.AlignVCenter, text)
        if cell.origin == "pinned":
            paint_mark(p, QPointF(inner.right() - text_width - 9, box.center().y()), "pinned")
        p.restore()


class _Head(QHeaderView):
    def __init__(self, table: "Table") -> None:
        super().__init__(Qt.Orientation.Horizontal, table)
        self._table = table
        self.setMinimumSectionSize(20)
        self.setSectionsClickable(False)

    def sizeHint(self) -> QSize:
        return QSize(100, 21)

    def mouseReleaseEvent(self, event) -> None:
        super().mouseReleaseEvent(event)
        section = self.logicalIndexAt(event.position().toPoint())
        if section >= 0:
            self._table.headed.emit(section)

    def paintSection(self, p: QPainter, rect: QRect, section: int) -> None:
        c, columns = theme.colour, self._table.model_.vm.columns
        p.fillRect(rect, c("tint"))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(rect.bottomLeft(), rect.bottomRight())
        if section >= len(columns):
            return
        column = columns[section]
        font, small = theme.font(11, 500), theme.font(10.5)
        name, unit = (
            QFontMetricsF(font).horizontalAdvance(tr(column.name)),
            QFontMetricsF(small).horizontalAdvance(column.unit),
        )
        gap = 4 if column.name and column.unit else 0
        left = rect.left() + (14 if section == 0 else PAD)
        right = rect.right() - PAD - (6 if section == len(columns) - 1 else 0)
        x = left if column.left else right - name - unit - gap
        base = rect.center().y() + QFontMetricsF(font).ascent() / 2 - 1.5
        p.setFont(font)
        p.setPen(c("ink"))
        p.drawText(QPointF(x, base), tr(column.name))
        p.setFont(small)
        p.setPen(c("faint"))
        p.drawText(QPointF(x + name + gap, base), column.unit)
        if self._table.sorted_by[0] == section:
            up = -1 if self._table.sorted_by[1] else 1
            at = QPointF(left - 7 if column.left else x - 7, rect.center().y())
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(c("garnet"))
            p.drawPolygon([at + QPointF(-3, up * 2), at + QPointF(3, up * 2), at + QPointF(0, -up * 3)])


@lru_cache(maxsize=256)
def _head_width(name: str, unit: str) -> float:
    """What the words of a head take, with the air around them."""
    words = QFontMetricsF(theme.font(11, 500)).horizontalAdvance(name) + QFontMetricsF(
        theme.font(10.5)
    ).horizontalAdvance(unit)
    return words + (4 if name and unit else 0) + PAD + 4


class Table(QTableView):
    """Shows a TableVM. A click selects in the whole program; cells with a field can be typed into."""

    picked = Signal(str, tuple)
    intent = Signal(object)
    refused = Signal(str)
    pasted = Signal(str)
    headed = Signal(int)  # a head was clicked
    hovered = Signal(str)  # id of the row under the pointer, "" for none

    def __init__(self, parent=None, row_height: float = 21.4) -> None:
        super().__init__(parent)
        thin(self)
        self.row_height = round(row_height)
        self.chosen: frozenset[str] = frozenset()
        self.lit = ""  # a row that is pointed at elsewhere
        self.sorted_by: tuple[int, bool] = (-1, False)  # column and whether it falls, as the head shows it
        self.model_ = _Model(self)
        self.model_.intent.connect(self.intent)
        self.model_.refused.connect(self.refused)
        self.setModel(self.model_)
        self.setItemDelegate(_Delegate(self))
        self.setHorizontalHeader(_Head(self))
        self.verticalHeader().hide()
        self.verticalHeader().setMinimumSectionSize(12)
        self.verticalHeader().setDefaultSectionSize(self.row_height)
        self.setShowGrid(False)
        self.setMouseTracking(True)
        self.setFrameShape(QTableView.Shape.NoFrame)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
            | QAbstractItemView.EditTrigger.AnyKeyPressed
        )
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.selectionModel().selectionChanged.connect(self._on_selection)
        self._rendering = False

    def render_vm(self, vm: TableVM, chosen: tuple[str, ...], units: System) -> None:
        self._rendering = True
        self.model_.units = units
        fresh = self.model_.vm.columns != vm.columns or len(self.model_.vm.rows) != len(vm.rows)
        self.model_.set_vm(vm)
        if fresh:
            # a scroll bar that comes or goes changes what there is to share
            self.updateGeometries()
            self._spread()
        wanted = frozenset(chosen)
        if wanted != self.chosen:
            self.chosen = wanted
            self.viewport().update()
            at = next((i for i, r in enumerate(vm.rows) if r.id in wanted), None)
            if at is not None and not self.hasFocus():
                self.scrollTo(self.model_.index(at, 0))
        self._rendering = False

    def row_of(self, item_id: str) -> int:
        return next(i for i, r in enumerate(self.model_.vm.rows) if r.id == item_id)

    def _spread(self) -> None:
        columns = self.model_.vm.columns
        # A head that is longer in other units widens its column; what no longer fits is scrolled to.
        widths = [max(c.width, _head_width(tr(c.name), c.unit)) for c in columns]
        if columns and columns[0].left and not columns[0].stretch:
            # Numbers and ids by which a row is known are read whole, within reason.
            longest = max((r.cells[0].text for r in self.model_.vm.rows), key=len, default="")
            widths[0] = max(
                widths[0],
                min(QFontMetricsF(theme.font(12.5, 600)).horizontalAdvance(longest) + FIRST_PAD, widths[0] + MOST_MORE),
            )
        rest = self.viewport().width() - sum(widths)
        # Without a column that stretches all of them share what is left.
        everywhere = not any(c.stretch for c in columns)
        stretching = len(columns) if everywhere else sum(c.stretch for c in columns)
        for i, column in enumerate(columns):
            extra = rest / stretching if (column.stretch or everywhere) and rest > 0 else 0
            self.setColumnWidth(i, int(widths[i] + extra))

    def resizeEvent(self, event) -> None:
        super().resizeEvent(event)
        self._spread()

    def light(self, row_id: str) -> None:
        """Mark the row of what is pointed at in a chart beside."""
        if row_id != self.lit:
            self.lit = row_id
            self.viewport().update()

    def mouseMoveEvent(self, event) -> None:
        super().mouseMoveEvent(event)
        index = self.indexAt(event.position().toPoint())
        self.hovered.emit(self.model_.vm.rows[index.row()].id if index.isValid() else "")

    def leaveEvent(self, event) -> None:
        super().leaveEvent(event)
        self.hovered.emit("")

    def _on_selection(self, *_) -> None:
        if self._rendering:
            return
        rows = [self.model_.vm.rows[i.row()] for i in self.selectionModel().selectedRows()]
        if rows:
            self.picked.emit(rows[0].kind, tuple(r.id for r in rows))

    def keyPressEvent(self, event) -> None:
        if event.matches(QKeySequence.StandardKey.Copy):
            QApplication.clipboard().setText(self.as_text())
        elif event.matches(QKeySequence.StandardKey.Paste) and QApplication.clipboard().text().strip():
            self.pasted.emit(QApplication.clipboard().text())
        else:
            super().keyPressEvent(event)

    def as_text(self) -> str:
        """The selected rows (or all) with the head, separated by tabs, for a spreadsheet."""
        rows: list[Row] = [self.model_.vm.rows[i.row()] for i in self.selectionModel().selectedRows()] or list(
            self.model_.vm.rows
        )
        lines = ["\t".join(f"{c.name} {c.unit}".strip() for c in self.model_.vm.columns)]
        lines += [
            "\t".join(harmless(cell.text.replace("\u202f", "").replace("\u2212", "-")) for cell in row.cells)
            for row in rows
        ]
        return "\n".join(lines)

    def why_at(self, at: QPointF) -> tuple:
        index = self.indexAt(self.viewport().mapFrom(self, at.toPoint()))
        return self.model_.vm.rows[index.row()].cells[index.column()].why if index.isValid() else ()
