"""Pages that stand in the place of the plan while something is taken in: a foreign building, or a list of rooms."""

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeySequence, QPainter, QShortcut
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLayout,
    QLineEdit,
    QPlainTextEdit,
    QScrollArea,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from garnetfin import display
from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import System, parse
from garnetfin.engine.results import there
from garnetfin.exchange.room_list import FIELDS, Understood, to_draft, understand
from garnetfin.exchange.tables import rows_of_text
from garnetfin.project.draft import Draft, answered, groups_of
from garnetfin.project.edits.imports import Difference, TakeDraft, differences
from garnetfin.project.tree import Project
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.building import import_table, list_table, note_table
from garnetfin.ui.widgets.controls import LinkText, TextButton, Words
from garnetfin.ui.widgets.table import Table

Sheets = tuple[tuple[str, str], ...]


MOST_ASKED = 12  # materials that are asked about one by one
OTHERS_A_ROW = 4


def clear_layout(layout: QLayout) -> None:
    """All widgets of a layout away."""
    while layout.count():
        widget = there(layout.takeAt(0)).widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()


class _Page(QWidget):
    """Title, one line, the middle, and the row of buttons."""

    intent = Signal(object)
    left = Signal()

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(20, 16, 20, 12)
        self._column.setSpacing(6)
        self.title = Words(title, px=17, tone="ink", weight=600)
        self.line = Words("", px=12.5)
        self._column.addWidget(self.title)
        self._column.addWidget(self.line)
        self.take_button = TextButton("Apply", filled=True)
        self.take_button.clicked.connect(self.take)
        self.leave_link = LinkText("Skip")
        self.leave_link.clicked.connect(self.left)

    def _foot(self, *more: QWidget) -> None:
        row = QHBoxLayout()
        row.setContentsMargins(0, 6, 0, 0)
        row.setSpacing(14)
        for widget in (self.take_button, *more, self.leave_link):
            row.addWidget(widget)
        row.addStretch(1)
        self._column.addLayout(row)

    def take(self) -> None:
        raise AssertionError(f"{type(self).__name__} takes nothing")

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("paper"))


class DraftPage(_Page):
    """What a file holds, room by room against the project; a click on a row, or Space, takes it or leaves it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Import", parent)
        self.rooms, self.notes = Table(), Table()
        self.rooms.clicked.connect(lambda index: self.toggle(self.rooms.model_.vm.rows[index.row()].id))
        QShortcut(QKeySequence(Qt.Key.Key_Space), self.rooms, self._toggle_selected).setContext(
            Qt.ShortcutContext.WidgetShortcut
        )
        self._asked = QWidget()
        self._asked_rows = QGridLayout(self._asked)
        self._asked_rows.setContentsMargins(0, 2, 0, 4)
        self._asked_rows.setHorizontalSpacing(10)
        self._column.addWidget(self._asked)
        self.answers: dict[str, QLineEdit] = {}
        self._others = QWidget()
        self._others_rows = QGridLayout(self._others)
        self._others_rows.setContentsMargins(0, 2, 0, 4)
        self._others_rows.setHorizontalSpacing(16)
        self._column.addWidget(self._others)
        self.others: dict[str, QCheckBox] = {}
        halves = QSplitter(Qt.Orientation.Vertical)  # what is said of a file needs the whole width
        for part in (self.rooms, self.notes):
            halves.addWidget(part)
        halves.setSizes([330, 210])
        self._column.addWidget(halves, 1)
        every, none = LinkText("All"), LinkText("None")
        every.clicked.connect(lambda: self._set(frozenset(d.key for d in self.differences)))
        none.clicked.connect(lambda: self._set(frozenset()))
        self._foot(every, none)
        self.draft: Draft | None = None
        self.differences: tuple[Difference, ...] = ()
        self.taken: frozenset[str] = frozenset()
        self._units: System = "SI"

    def show_draft(self, draft: Draft, project: Project, units: System) -> None:
        self.draft, self._units = draft, units
        self.differences = differences(project, draft)
        # Rooms that left the file stay unless the engineer says otherwise.
        self.taken = frozenset(d.key for d in self.differences if d.kind != "gone")
        self.title.set_words(draft.name if draft.name == draft.source else f"{draft.name} · {draft.source}")
        counts = {k: sum(d.kind == k for d in self.differences) for k in ("new", "changed", "same", "gone")}
        words = [
            f"{counts['new']} new",
            f"{counts['changed']} changed",
            f"{counts['same']} as before",
            f"{counts['gone']} no longer there",
        ]
        self.line.set_words(
            f"{len(draft.rooms)} room{'s' if len(draft.rooms) != 1 else ''}: "
            + ", ".join(w for w, n in zip(words, counts.values()) if n)
            + ". What you pinned or edited stays. Click a row to take it or leave it."
        )
        self.notes.render_vm(note_table(draft), (), units)
        self._ask(draft)
        self._offer_others(draft)
        self._set(self.taken)
        self.rooms.setFocus()

    def _ask(self, draft: Draft) -> None:
        """A field for each conductivity that the file lacks, with what the library has for a name like it."""
        clear_layout(self._asked_rows)
        self.answers = {}
        self._asked.setVisible(bool(draft.asked))
        for i, asked in enumerate(draft.asked[:MOST_ASKED]):
            field = QLineEdit()
            unit = display.unit("conductivity", self._units)
            field.setText(
                "" if asked.suggestion is None else display.figure("conductivity", asked.suggestion, self._units)
            )
            field.setPlaceholderText(unit)
            field.setFixedWidth(76)
            field.setAccessibleName(f"Conductivity of {asked.name}")
            field.textChanged.connect(lambda _: self._set(self.taken))
            thick = display.with_unit("duct_size", asked.thickness_m, self._units)
            said = f"like {asked.source}" if asked.source else "nothing in the library is alike"
            for column, widget in enumerate(
                (Words(f"{asked.name}, {thick}, has no conductivity", px=12), field, Words(f"{unit} · {said}", px=11.5))
            ):
                self._asked_rows.addWidget(widget, i, column)
            self.answers[asked.key] = field
        self._asked_rows.setColumnStretch(3, 1)

    def _offer_others(self, draft: Draft) -> None:
        """A box for each class and layer of what others draw, to be taken as obstacles."""
        clear_layout(self._others_rows)
        self.others = {}
        groups = groups_of(draft)
        self._others.setVisible(bool(groups))
        if groups:
            head = Words("Drawn by others, in the way of ducts:", px=12)
            self._others_rows.addWidget(head, 0, 0, 1, OTHERS_A_ROW)
        for i, (group, count) in enumerate(groups.items()):
            box = QCheckBox(f"{count} × {group}")
            box.setChecked(True)
            box.toggled.connect(lambda _: self._set(self.taken))
            self._others_rows.addWidget(box, 1 + i // OTHERS_A_ROW, i % OTHERS_A_ROW)
            self.others[group] = box
        self._others_rows.setColumnStretch(OTHERS_A_ROW, 1)

    def _answered(self) -> Draft | None:
        """The draft with what was answered; None while something is open."""
        if self.draft is None:
            return None
        figures = {}
        for asked in self.draft.asked:
            field = self.answers.get(asked.key)
            try:
                if field is not None:
                    figures[asked.key] = parse(field.text(), "conductivity", self._units)
                elif asked.suggestion is not None:
                    figures[asked.key] = asked.suggestion
            except GarnetfinError:
                return None
        try:
            draft = answered(self.draft, figures)
        except GarnetfinError:
            return None
        return draft if not draft.asked else None

    def toggle(self, key: str) -> None:
        self._set(self.taken ^ {key})

    def _toggle_selected(self) -> None:
        """The rows chosen by keyboard are taken, or left when all of them were taken."""
        rows = self.rooms.model_.vm.rows
        keys = {rows[i.row()].id for i in self.rooms.selectionModel().selectedRows()} or {
            rows[i.row()].id for i in (self.rooms.currentIndex(),) if i.isValid()
        }
        self._set(self.taken - keys if keys <= self.taken else self.taken | keys)

    def _set(self, taken: frozenset[str]) -> None:
        self.taken = taken
        self.rooms.render_vm(import_table(self.draft, self.differences, taken, self._units), (), self._units)
        count = sum(d.kind != "gone" and d.key in taken for d in self.differences)
        gone = sum(d.kind == "gone" and d.key in taken for d in self.differences)
        groups = groups_of(self.draft) if self.draft is not None else {}
        parts = sum(groups[group] for group, box in self.others.items() if box.isChecked())
        self.take_button.setText(
            f"Apply {count} room{'s' if count != 1 else ''}"
            + (f", {parts} part{'s' if parts != 1 else ''} of others" if parts else "")
            + (f", remove {gone}" if gone else "")
        )
        self.take_button.setFixedWidth(self.take_button.sizeHint().width())
        self.take_button.setEnabled(bool(count or gone or parts) and self._answered() is not None)

    def take(self) -> None:
        draft = self._answered()
        if draft is None:
            return
        keys = tuple(d.key for d in self.differences if d.kind != "gone" and d.key in self.taken)
        gone = tuple(d.room_id for d in self.differences if d.kind == "gone" and d.key in self.taken)
        groups = tuple(group for group, box in self.others.items() if box.isChecked())
        self.intent.emit(TakeDraft(draft, keys, gone, groups))


class ListPage(_Page):
    """Rows pasted, typed or read from a file; what each column means; what was understood of each line."""

    file_asked = Signal()
    compared = Signal(object)  # a draft whose rooms are there already in part
    DELAY_MS = 200

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Rooms from a list", parent)
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText(
            "Paste rows from a spreadsheet here, with a line of headings: number, name, use, area, ceiling height, "
            "outside wall lengths and glass areas by direction (Wall S, Glass S …)"
        )
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.text.setTabChangesFocus(True)
        self.text.setFixedHeight(104)
        self.text.setTabStopDistance(112)
        self.text.setAccessibleName("Rows of the list")
        self._column.addWidget(self.text)
        self.question = Words("", px=12.5, tone="bad")
        self.metres, self.feet = TextButton("They are square metres"), TextButton("They are square feet")
        self.metres.clicked.connect(lambda: self._answer("m²"))
        self.feet.clicked.connect(lambda: self._answer("ft²"))
        self._asking = QWidget()
        asking = QHBoxLayout(self._asking)
        asking.setContentsMargins(0, 0, 0, 0)
        for widget in (self.question, self.metres, self.feet):
            asking.addWidget(widget)
        asking.addStretch(1)
        self._asking.setVisible(False)
        self._column.addWidget(self._asking)
        self._columns = QWidget()
        self._grid = QGridLayout(self._columns)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(1)
        self._scroll = QScrollArea()
        self._scroll.setWidget(self._columns)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setFixedHeight(58)
        self._column.addWidget(self._scroll)
        self.table = Table()
        self._column.addWidget(self.table, 1)
        browse = LinkText("Open a CSV or XLSX file …")
        browse.clicked.connect(self.file_asked)
        self.sheet = QComboBox()
        self.sheet.setAccessibleName("Sheet of the workbook")
        self.sheet.setToolTip("Sheets of the workbook that hold rows")
        self.sheet.activated.connect(self._another_sheet)
        self._foot(browse, self.sheet)
        self._later = QTimer(self, singleShot=True, interval=self.DELAY_MS)
        self._later.timeout.connect(self._read)
        self.text.textChanged.connect(self._later.start)
        self.boxes: list[QComboBox] = []
        self.understood: Understood | None = None
        self.source = "room list"
        self._project: Callable[[], tuple[Project, str, System]] | None = None
        self._area_unit = ""  # as it was answered
        self._by_hand: dict[str, int] | None = None  # columns that were chosen
        self._rows: list[list[str]] = []

    def begin(
        self,
        project: Callable[[], tuple[Project, str, System]],
        text: str = "",
        source: str = "room list",
        sheets: Sheets = (),
        sheet: str = "",
    ) -> None:
        """`project` gives the project, the level in hand and the units whenever they are needed; sheets are those of a
        workbook with their rows as text.
        """
        self._project, self.source, self._area_unit = project, source, ""
        self.sheet.clear()
        for name, rows in sheets:
            self.sheet.addItem(f"sheet {name}", rows)
        self.sheet.setCurrentIndex(next((i for i, (name, _) in enumerate(sheets) if name == sheet), 0))
        self.sheet.setVisible(len(sheets) > 1)
        self.text.setPlainText(text)
        self._read()
        self.text.setFocus()

    def _another_sheet(self, index: int) -> None:
        self._area_unit = ""
        self.text.setPlainText(self.sheet.itemData(index) or "")
        self._read()

    def _answer(self, unit: str) -> None:
        """The unit of areas that have none."""
        self._area_unit = unit
        by_hand = self._by_hand
        self._understand(self._rows, by_hand)

    def _read(self) -> None:
        """Understand the list anew, with the columns guessed from its headings."""
        self._later.stop()
        try:
            rows = rows_of_text(self.text.toPlainText())
            self._understand(rows, None)
        except GarnetfinError as error:
            self.understood = None
            self._nothing(str(error) if self.text.toPlainText().strip() else "")

    def _understand(self, rows: list[list[str]], mapping: dict[str, int] | None) -> None:
        project, _, units = self._project()
        present = frozenset(r.number for r in project.rooms if r.origin is None or r.origin.source != self.source)
        self.understood = understand(rows, self.source, units, mapping, present, self._area_unit)
        self._rows, self._by_hand = rows, mapping
        if mapping is None:
            self._lay_columns()
        self.table.render_vm(list_table(self.understood, units), (), units)
        found = self.understood
        good, wrong = len(found.good), sum(r.kind == "wrong" for r in found.rows)
        beside = sum(r.kind in ("total", "group") for r in found.rows)
        asked = found.feet is not None
        self._asking.setVisible(asked)
        if found.feet is not None:
            metres, feet = (display.with_unit("area", a, units) for a in found.feet)
            self.question.set_words(f"The areas have no unit: {metres} in all, or {feet} if they are square feet?")
        missing = [FIELDS[k][0].lower() for k in ("number", "area") if k not in self.understood.mapping]
        self.line.set_words(
            f"{good} rooms understood"
            + (
                f", {wrong} line{'s' if wrong > 1 else ''} left out with {'their' if wrong > 1 else 'its'} reason"
                if wrong
                else ""
            )
            + (
                f", {beside} sum{'s' if beside > 1 else ''} or heading{'s' if beside > 1 else ''} passed over"
                if beside
                else ""
            )
            + (f", {len(found.present)} are there already and are compared" if found.present else "")
            + (
                f". Not used: {', '.join(found.unused[:6])}{' …' if len(found.unused) > 6 else ''}"
                if found.unused
                else ""
            )
            + (f". No column for {' and '.join(missing)}: choose it below" if missing else "")
            + (f". {found.refused()}" if found.refused() and not missing else "")
        )
        self.take_button.setText(
            f"Compare {good} room{'s' if good != 1 else ''}"
            if found.present
            else f"Apply {good} room{'s' if good != 1 else ''}"
        )
        self.take_button.setFixedWidth(self.take_button.sizeHint().width())
        self.take_button.setEnabled(good > 0 and not asked)

    def _nothing(self, words: str) -> None:
        self._asking.setVisible(False)
        self.line.set_words(words or "Number and area are enough; everything else follows by rule.")
        self.take_button.setText("Apply")
        self.take_button.setEnabled(False)
        self._lay_columns()
        self.table.render_vm(list_table(Understood("", (), {}, ()), "SI"), (), "SI")

    def _lay_columns(self) -> None:
        """One choice of meaning per column."""
        clear_layout(self._grid)
        self.boxes = []
        heads = self.understood.heads if self.understood else ()
        by_column = {c: k for k, c in self.understood.mapping.items()} if self.understood else {}
        for i, head in enumerate(heads[:40]):
            box = QComboBox()
            box.addItem("(not used)", "")
            for key, (words, _) in FIELDS.items():
                box.addItem(words, key)
            box.setCurrentIndex(box.findData(by_column.get(i, "")))
            box.setMinimumWidth(128)
            box.setAccessibleName(f"Meaning of column {head}")
            box.activated.connect(lambda _=0, i=i: self._mapped(i))
            self._grid.addWidget(Words(head or f"column {i + 1}", px=11), 0, i)
            self._grid.addWidget(box, 1, i)
            self.boxes.append(box)
        self._scroll.setVisible(bool(heads))

    def _mapped(self, column: int) -> None:
        """A column chosen by hand takes its meaning from the column that had it."""
        key = self.boxes[column].currentData()
        for i, box in enumerate(self.boxes):
            if i != column and key and box.currentData() == key:
                box.setCurrentIndex(0)
        self._understand(self._rows, {box.currentData(): i for i, box in enumerate(self.boxes) if box.currentData()})

    def take(self) -> None:
        project, level_id, _ = self._project()
        draft = to_draft(self.understood, project, level_id)
        if draft.updates:
            self.compared.emit(draft)
            return
        self.intent.emit(TakeDraft(draft, tuple(r.id for r in draft.rooms)))
