"""The first pass beside the work: how far it is, and when it is done what it made, what it rests on and what is left to
look at.
"""

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from garnetfin.engine.layout.auto_design import AutoDesign, auto_design
from garnetfin.project.tree import Project
from garnetfin.ui.bridge import Newest
from garnetfin.ui.countdown import Countdown
from garnetfin.ui.widgets.controls import TextButton
from garnetfin.ui.widgets.side_list import ListPage


class FirstPassPage(ListPage):
    """Starts and stops the work; what comes of it goes out as one command."""

    intent = Signal(object)
    said = Signal(str)
    _told = Signal(float, str)

    def __init__(self, parent: QWidget | None = None) -> None:
        self.stop_button = TextButton("Stop")
        super().__init__("First design", self.stop_button, "Back to the card", parent)
        self.stop_button.clicked.connect(self.stop)
        self.found: AutoDesign | None = None
        self._stopped, self._project = False, None
        self._gone = Countdown()
        self._worker = Newest(self._work, "first design", self)
        self._worker.ready.connect(self._on_found)
        self._worker.failed.connect(lambda what: self._end(f"Stopped. {what}"))
        self._told.connect(self._tell)

    # -- work ----------------------------------------------------------------------------------------------------
    def start(self, project: Project, system_id: str) -> None:
        if self.working:
            return
        self._stopped, self.found, self._project = False, None, project
        self.list_groups(())
        self.title.setText("First design")
        self.line.setText("Starting …")
        self.stop_button.setVisible(True)
        self._worker.submit((project, system_id))

    def stop(self) -> None:
        self._stopped = True
        self._end("Stopped: nothing of it was taken")

    def _work(self, job: tuple, newer: Callable[[], bool]) -> tuple:
        project, system_id = job
        return project, auto_design(project, system_id, self._told.emit, lambda: self._stopped or newer())

    def _tell(self, share: float, words: str) -> None:
        if not self._stopped and self.found is None:
            self.title.setText(f"First design  {self._gone.say(share)}")
            self.line.setText(f"{words} …")

    def _end(self, words: str) -> None:
        self.title.setText("First design")
        self.line.setText(words)
        self.stop_button.setVisible(False)

    def _on_found(self, answer: tuple) -> None:
        project, found = answer
        if self._stopped:
            return
        self.found = found
        self._end(
            "One step of undo takes all of it back."
            if found.command is not None
            else "Nothing was to do: what is there stays as it is."
        )
        self.list_groups(
            (
                ("Made", found.done),
                ("It rests on", tuple(f"{what}: {how}" for what, how in found.assumed)),
                ("Left to look at", found.missed),
            )
        )
        if found.command is not None:
            self.intent.emit((project, found.command))

    @property
    def working(self) -> bool:
        return not self._worker.idle

    def close_work(self) -> None:
        self._stopped = True
        self._worker.close()
