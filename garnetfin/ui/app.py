"""Starting the window. Heavy imports wait until it is on screen."""

import gc
import logging
import os
import sys
from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication

from garnetfin.ui import theme as looks
from garnetfin.ui.focus import watch
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.language import choose
from garnetfin.ui.session import Session
from garnetfin.ui.theme import theme


def make_app() -> QApplication:
    """The one QApplication, with font and look applied."""
    # Projects and results are trees without circles that live long: looking through all of them for circles again and again would
    # halt every thread for tenths of a second in a large building.
    gc.set_threshold(20_000, 50, 100)
    app = QApplication.instance() or QApplication(sys.argv[:1])
    app.setApplicationName("garnetfin")
    app.setOrganizationName("garnetfin")
    watch(app)
    looks.load_fonts()
    looks.apply(app)
    app.setWindowIcon(looks.icon("garnetfin", theme.colour("garnet")))
    return app


def run_window(path: Path | None = None, example: bool = False) -> int:
    """Open the window, on a file, on the example, or on the first page. Returns the exit code."""
    logging.basicConfig(level=logging.WARNING)
    settings = QSettings("garnetfin", "garnetfin")
    # Everything is laid out in pixels at 13 px type; Qt scales all of it together, on top of the desktop's own factor.
    os.environ.setdefault("QT_SCALE_FACTOR", str(settings.value("scale", 1.0, float)))
    app = make_app()
    theme.set_dark(settings.value("dark", False, bool))
    choose(app, str(settings.value("language", "")))
    looks.apply(app)
    from platformdirs import user_state_path
    journals = user_state_path("garnetfin") if settings.value("keep journal", True, bool) else None
    window = MainWindow(Session(journals=journals), settings)
    window.session.set_show(units="IP" if settings.value("units", "SI") == "IP" else "SI")
    if settings.value("window/geometry") is not None:
        window.restoreGeometry(settings.value("window/geometry"))
    window.show()
    last = window.last_path() if settings.value("open last", False, bool) else None
    if example:
        window.open_example()
    elif path is not None or last is not None:
        window.open(path or last)
    else:
        window.offer_unsaved()
    code = app.exec()
    # A picture of ours left on the clipboard would outlive the toolkit that holds it.
    if app.clipboard().ownsClipboard() and app.clipboard().mimeData().hasImage():
        app.clipboard().clear()
    window.session.close()
    return code


def has_display() -> bool:
    """True where a window can be shown."""
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")) or (
        os.environ.get("QT_QPA_PLATFORM") in ("offscreen", "minimal", "vnc"))
