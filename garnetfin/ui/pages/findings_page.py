"""All findings at the side, by cause: chosen by link and level, stepped through, each shown where it is and fixed
here.
"""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QHBoxLayout, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from garnetfin.core.units import System
from garnetfin.engine.results import Finding
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.findings import Cause, FindingsListVM
from garnetfin.ui.widgets.bare import Choice, thin
from garnetfin.ui.widgets.controls import LinkText, Words
from garnetfin.ui.widgets.finding_block import FindingBlock
from garnetfin.ui.widgets.side_page import SidePage

HELD = int(Qt.ItemDataRole.UserRole)
OPEN_UP_TO = 6  # findings of one cause that are shown without a click


class FindingsPage(SidePage):
    """`picked` carries a finding to be shown where it is; `intent` an edit that would help."""

    picked = Signal(str, tuple)
    intent = Signal(object)
    filtered = Signal()
    closed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        inside = QWidget()
        super().__init__("Findings", inside, parent)
        column = QVBoxLayout(inside)
        column.setContentsMargins(18, 12, 12, 12)
        column.setSpacing(8)
        head = QHBoxLayout()
        self.heading = Words("", px=17, tone="ink", weight=600)
        close = LinkText("Close")
        close.setToolTip(tr("Back to the card (Esc)"))
        close.clicked.connect(self.closed)
        head.addWidget(self.heading, 1)
        head.addWidget(close)
        column.addLayout(head)
        choices = QHBoxLayout()
        self.link, self.level = Choice(), Choice()
        for choice, name in ((self.link, "Link"), (self.level, "Level")):
            choice.setAccessibleName(tr(name))
            choice.activated.connect(self.filtered)
            choices.addWidget(choice, 1)
        column.addLayout(choices)
        self.tree = QTreeWidget()
        self.tree.setHeaderHidden(True)
        self.tree.setFrameShape(QTreeWidget.Shape.NoFrame)
        self.tree.setIndentation(12)
        self.tree.setStyleSheet("QTreeView::item { padding: 3px 0; }")
        self.tree.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.tree.setFont(theme.font(12))
        self.tree.setAccessibleName(tr("Findings by cause"))
        thin(self.tree)
        self.tree.itemSelectionChanged.connect(self._chosen)
        column.addWidget(self.tree, 1)
        self._place = QVBoxLayout()
        column.addLayout(self._place)
        self.block: FindingBlock | None = None
        self._vm: FindingsListVM | None = None
        self._items: dict[int, QTreeWidgetItem] = {}
        self._units: System = "SI"

    @property
    def asked(self) -> tuple[str, str]:
        """Link and level that are chosen, "" for all."""
        return str(self.link.currentData() or ""), str(self.level.currentData() or "")

    def render_vm(self, vm: FindingsListVM, units: System) -> None:
        self.heading.set_words(f"{tr('Findings')}  {vm.heading}", "ink")
        if vm == self._vm and units == self._units:
            return
        kept = self.now
        self._vm, self._units = vm, units
        for choice, rows in ((self.link, vm.links), (self.level, vm.levels)):
            wanted = choice.currentData()
            choice.clear()
            for key, words in rows:
                choice.addItem(tr(words), key)
            choice.setCurrentIndex(max(0, choice.findData(wanted)))
        self.tree.blockSignals(True)
        self.tree.clear()
        self._items = {}
        for cause in vm.causes:
            self._add(cause, units)
        self.tree.blockSignals(False)
        # the same place stays chosen while it is still a finding
        again = next((f for f in vm.in_order if kept and (f.code, f.object_id) == (kept.code, kept.object_id)), None)
        if again is not None:
            self._choose(again, show=False)
        else:
            self._show_block(None)

    def _add(self, cause: Cause, units: System) -> None:
        top = self._item(cause.title if len(cause.findings) > 1 else "", cause.findings[0], units)
        self.tree.addTopLevelItem(top)
        if len(cause.findings) > 1:
            for f in cause.findings:
                top.addChild(self._item("", f, units))
            top.setExpanded(len(cause.findings) <= OPEN_UP_TO)

    def _item(self, title: str, finding: Finding, units: System) -> QTreeWidgetItem:
        told = finding.in_units(units)
        item = QTreeWidgetItem([title or told.title])
        item.setData(0, HELD, finding)
        self._items[id(finding)] = item  # the row under its cause comes after the cause
        item.setToolTip(0, f"{told.link}: {told.title}. {told.reason}")
        item.setForeground(
            0, QColor(theme.colour(finding.severity)) if finding.severity == "bad" else theme.colour("ink")
        )
        return item

    @property
    def now(self) -> Finding | None:
        """The finding that is chosen."""
        items = self.tree.selectedItems()
        return items[0].data(0, HELD) if items else None

    def step(self, by: int) -> Finding | None:
        """The next finding of the list, or the one before; round at its ends."""
        order = self._vm.in_order if self._vm is not None else ()
        if not order:
            return None
        now = self.now
        at = next((i for i, f in enumerate(order) if f is now), -1 if by > 0 else 0)
        found = order[(at + by) % len(order)]
        self._choose(found, show=True)
        return found

    def _choose(self, finding: Finding, show: bool) -> None:
        item = self._items.get(id(finding))
        if item is not None:
            self.tree.blockSignals(not show)
            self.tree.setCurrentItem(item)
            self.tree.blockSignals(False)
            self._show_block(finding)

    def _chosen(self) -> None:
        finding = self.now
        self._show_block(finding)
        if finding is not None:
            self.picked.emit(finding.kind, (finding.object_id,))

    def _show_block(self, finding: Finding | None) -> None:
        if self.block is not None:
            self.block.setParent(None)
            self.block.deleteLater()
            self.block = None
        if finding is not None:
            self.block = FindingBlock(finding.in_units(self._units))
            self.block.intent.connect(self.intent)
            self.block.picked.connect(self.picked)
            self._place.addWidget(self.block)
