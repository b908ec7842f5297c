"""Another office standards beside the work: what is different in it, what it would move here, and then to take it or to
leave it.
"""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from garnetfin import display
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import Token, run
from garnetfin.engine.studies.change_list import ChangeList, change_list
from garnetfin.engine.studies.changes import changes
from garnetfin.project.book import Book
from garnetfin.project.book_compare import BookDifference, compare
from garnetfin.project.edits.book import TakeBook
from garnetfin.ui.bridge import Newest
from garnetfin.ui.widgets.controls import TextButton
from garnetfin.ui.widgets.side_list import ListPage

MOST_ROWS = 40


class BookPage(ListPage):
    """Shows the preview; the taking goes out as a command."""

    intent = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        self.take_button = TextButton("Apply these standards", filled=True)
        super().__init__("Office standards", self.take_button, "Skip", parent)
        self.take_button.clicked.connect(self.take)
        self._book: Book | None = None
        self.differences: tuple[BookDifference, ...] = ()
        self.moved: ChangeList | None = None
        self._memo = Memo()
        self._worker = Newest(self._work, "office standards", self)
        self._worker.ready.connect(self._on_moved)
        self._worker.failed.connect(lambda what: self.line.setText(f"What it moves could not be computed. {what}"))

    def show_book(self, book: Book, name: str, results: Results, units: str) -> None:
        """Compare at once; what it moves follows when it is computed."""
        self._book, self._units, self.moved = book, units, None
        self.differences = compare(results.project.book, book)
        self.title.setText(name)
        count = len(self.differences)
        self.line.setText(
            "It is the book in hand: nothing differs."
            if not count
            else f"{count} {'entry differs' if count == 1 else 'entries differ'}. Computing what they move …"
        )
        self.take_button.setVisible(bool(count))
        self._list("")
        if count:
            self._worker.submit((results, book))

    def _work(self, job: tuple, stopped) -> tuple:
        before, book = job
        after = run(TakeBook(book).apply(before.project), self._memo, Token(stopped))
        return book, changes(before, after), change_list(before, after, self._units)

    def _on_moved(self, answer: tuple) -> None:
        book, counted, moved = answer
        if book is not self._book:
            return
        self.moved = moved
        self.line.setText(
            f"{len(self.differences)} {'entry differs' if len(self.differences) == 1 else 'entries differ'}."
        )
        self._list(f"{counted.words}. What is pinned stays.")

    def _list(self, summary: str) -> None:
        groups: list[tuple[str, list[str]]] = []
        if summary:
            lines = [summary]
            for system in self.moved.systems:
                lines += [f"{system.name}, {label.lower()}: {self._step(m)}" for label, m in system.figures if m.any]
            lines += [
                f"{c.number} {c.name}: "
                f"{self._step(c.cooling if c.cooling.any else c.heating if c.heating.any else c.flow)}"
                for c in self.moved.rooms[:12]
            ]
            groups.append(("What it would move", lines))
        if self.differences:
            groups.append(
                (
                    "What is different",
                    [
                        f"{d.kind}: {d.name}, {self._value(d, d.before)} → {self._value(d, d.now)}"
                        for d in self.differences[:MOST_ROWS]
                    ]
                    + ([f"and {len(self.differences) - MOST_ROWS} more"] if len(self.differences) > MOST_ROWS else []),
                )
            )
        self.list_groups(tuple((name, tuple(rows)) for name, rows in groups))

    def _step(self, m) -> str:
        before, now = (
            display.DASH if v is None else display.figure(m.quantity, v, self._units) for v in (m.before, m.now)
        )
        return f"{before} → {now} {display.unit(m.quantity, self._units)}"

    def _value(self, d: BookDifference, value: float | str) -> str:
        return (
            value
            if isinstance(value, str)
            else display.with_unit(d.quantity, value, self._units)
            if d.quantity != "plain"
            else f"{value:g}"
        )

    def take(self) -> None:
        if self._book is not None:
            self.intent.emit(TakeBook(self._book))
            self.closed.emit()

    @property
    def working(self) -> bool:
        return not self._worker.idle

    def close_work(self) -> None:
        self._worker.close()
