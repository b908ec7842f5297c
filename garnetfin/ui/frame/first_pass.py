"""The first pass beside the work: how far it is, and when it is done what it made, what it rests on and what is left to look at."""

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from garnetfin.engine.first_pass import FirstPass, first_pass
from garnetfin.project.tree import Project
from garnetfin.ui.bridge import Newest
from garnetfin.ui.frame.controls import LinkText, TextButton
from garnetfin.ui.frame.side import SidePage
from garnetfin.ui.theme import theme

MARGIN = 18


class FirstPassPage(SidePage):
    """Starts and stops the work; what comes of it goes out as one command."""

    intent = Signal(object)
    closed = Signal()
    said = Signal(str)
    _told = Signal(float, str)

    def __init__(self, parent: QWidget | None = None) -> None:
        self._inside = QWidget()
        super().__init__("First pass", self._inside, parent)
        self._column = QVBoxLayout(self._inside)
        self._column.setContentsMargins(MARGIN, 14, MARGIN - 8, 12)
        self._column.setSpacing(3)
        self.title, self.line = self._label(17, "ink", 600), self._label(11.5, "faint")
        self.stop_button, self.close_link = TextButton("Stop"), LinkText("Back to the card")
        self.stop_button.clicked.connect(self.stop)
        self.close_link.clicked.connect(self.closed)
        for part in (self.title, self.line, self.stop_button):
            self._column.addWidget(part)
        self._rows: list[QLabel] = []
        self._column.addStretch(1)
        self._column.addWidget(self.close_link)
        self.found: FirstPass | None = None
        self._stopped, self._project = False, None
        self._worker = Newest(self._work, "first pass", self)
        self._worker.ready.connect(self._on_found)
        self._worker.failed.connect(lambda what: self._end(f"Stopped. {what}"))
        self._told.connect(self._tell)

    def _label(self, px: float, tone: str, weight: int = 400) -> QLabel:
        label = QLabel()
        label.setWordWrap(True)
        label.setFont(theme.font(px, weight))
        label.setProperty("tone", tone)
        label.setStyleSheet(f"color: {theme.colour(tone).name()}")
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        return label

    # -- work ----------------------------------------------------------------------------------------------------
    def start(self, project: Project, system_id: str) -> None:
        if self.working:
            return
        self._stopped, self.found, self._project = False, None, project
        self._list(())
        self.title.setText("First pass")
        self.line.setText("Starting …")
        self.stop_button.setVisible(True)
        self._worker.submit((project, system_id))

    def stop(self) -> None:
        self._stopped = True
        self._end("Stopped: nothing of it was taken")

    def _work(self, job: tuple, newer: Callable[[], bool]) -> tuple:
        project, system_id = job
        return project, first_pass(project, system_id, self._told.emit, lambda: self._stopped or newer())

    def _tell(self, share: float, words: str) -> None:
        if not self._stopped and self.found is None:
            self.title.setText(f"First pass  {share:.0%}")
            self.line.setText(f"{words} …")

    def _end(self, words: str) -> None:
        self.title.setText("First pass")
        self.line.setText(words)
        self.stop_button.setVisible(False)

    def _on_found(self, answer: tuple) -> None:
        project, found = answer
        if self._stopped:
            return
        self.found = found
        self._end("One step of undo takes all of it back." if found.command is not None else "Nothing was to do: what is there stays as it is.")
        self._list((("Made", found.done), ("It rests on", tuple(f"{what}: {how}" for what, how in found.assumed)), ("Left to look at", found.missed)))
        if found.command is not None:
            self.intent.emit((project, found.command))

    def _list(self, groups: tuple[tuple[str, tuple[str, ...]], ...]) -> None:
        for row in self._rows:
            row.setParent(None)
            row.deleteLater()
        self._rows = []
        for name, rows in groups:
            for i, text in enumerate((name, *rows) if rows else ()):
                row = self._label(11.5, "ink" if i else "garnet", 400 if i else 600)
                row.setText(text)
                if not i:
                    row.setContentsMargins(0, 8, 0, 0)
                self._column.insertWidget(self._column.count() - 2, row)
                self._rows.append(row)

    @property
    def working(self) -> bool:
        return not self._worker.idle

    def close_work(self) -> None:
        self._stopped = True
        self._worker.close()
