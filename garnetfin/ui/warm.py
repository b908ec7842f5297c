"""Imports what the first look at each view and the first typed unit need, in a thread, once the window is at rest: the
hands do not wait for it.
"""

import logging
import sys
import threading
from importlib import import_module

from PySide6.QtCore import QTimer

from garnetfin.ui.focus import resting_ms
from garnetfin.ui.frame.window import VIEWS, MainWindow

log = logging.getLogger(__name__)
STEP_MS, REST_MS = 120, 700  # between two views; since the last key or click
AFTER_MS = 1500  # of the start; by then the first results are on screen
MODULES = (
    *(module for module, _ in VIEWS.values()),
    "garnetfin.ui.pages.options_page",
    "garnetfin.ui.pages.settings_page",
    "garnetfin.ui.pages.help_pages",
    "garnetfin.report.document",
    "garnetfin.report.to_pdf",
    "pypdfium2",
    "reportlab.platypus",
    "scipy.sparse.linalg",
    "shapely",
)


def warm_up() -> threading.Thread:
    """Started once; whatever cannot be imported is told when it is needed."""
    thread = threading.Thread(target=_work, name="warm up", daemon=True)
    thread.start()
    return thread


class Views(QTimer):
    """Makes the views one by one while the hands rest, so that the first look at each is as quick as any later one."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window, interval=STEP_MS)
        self._window, self._left = window, list(VIEWS)
        self._thread = warm_up()
        self.timeout.connect(self._step)
        self.start()

    def _step(self) -> None:
        if (
            self._thread.is_alive()
            or not self._window.session.opened
            or not self._window.session.settled
            or resting_ms() < REST_MS
        ):
            return
        if self._left:
            self._window.view(self._left.pop(0))
        else:
            self.stop()


def _work() -> None:
    sys.setswitchinterval(0.001)
    from garnetfin.core.errors import GarnetfinError
    from garnetfin.core.units import parse

    try:
        parse("1 ft", "length", "SI")  # makes the registry of units
    except GarnetfinError as error:
        log.warning("%s", error)
    for name in MODULES:
        try:
            import_module(name)
        except ImportError as error:
            log.warning("%s: %s", name, error)
