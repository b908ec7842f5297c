"""Starting the window. Heavy imports wait until it is on screen."""

import gc
import logging
import os
import signal
import socket
import sys
from pathlib import Path

from PySide6.QtCore import QRect, QSettings, QSocketNotifier, QTimer
from PySide6.QtWidgets import QApplication, QWidget

from garnetfin.ui import theme as looks
from garnetfin.ui.focus import watch
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.language import choose
from garnetfin.ui.session import Session
from garnetfin.ui.settings import Stored
from garnetfin.ui.theme import theme
from garnetfin.ui.warm import AFTER_MS, Views


def fit_into(window: QWidget, screen: QRect) -> None:
    """No larger than what a screen leaves, and all of it in sight, wherever it stood when it was closed."""
    width, height = min(window.width(), screen.width()), min(window.height(), screen.height())
    window.resize(max(width, window.minimumWidth()), max(height, window.minimumHeight()))
    x = min(max(window.x(), screen.left()), max(screen.left(), screen.right() + 1 - window.width()))
    y = min(max(window.y(), screen.top()), max(screen.top(), screen.bottom() + 1 - window.height()))
    window.move(x, y)


def make_app() -> QApplication:
    """The one QApplication, with font and look applied."""
    # Projects and results are trees without circles that live long: looking through all of them for circles again and
    # again would
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
    store = QSettings("garnetfin", "garnetfin")
    settings = Stored(store)
    # Everything is laid out in pixels at 13 px type; Qt scales all of it together, on top of the desktop's own factor.
    os.environ.setdefault("QT_SCALE_FACTOR", str(settings.get("scale")))
    app = make_app()
    theme.set_dark(settings.get("dark"))
    choose(app, settings.get("language"))
    looks.apply(app)
    from platformdirs import user_state_path

    journals = user_state_path("garnetfin") if settings.get("keep_journal") else None
    window = MainWindow(Session(journals=journals), store)
    window.session.set_show(units=settings.get("units"))
    if settings.geometry is not None:
        window.restoreGeometry(settings.geometry)
    fit_into(window, window.screen().availableGeometry())
    ends = _end_by_signal(app)
    window.show()
    last = window.last_path() if settings.get("open_last") else None
    if example:
        window.open_example()
    elif path is not None or last is not None:
        window.open(path or last)
    else:
        window.offer_unsaved()
    QTimer.singleShot(AFTER_MS, window, lambda: Views(window))
    code = app.exec()
    # A picture of ours left on the clipboard would outlive the toolkit that holds it.
    if app.clipboard().ownsClipboard() and app.clipboard().mimeData().hasImage():
        app.clipboard().clear()
    # Whatever ended the loop, a logout or a lost display among it: only a close that was confirmed has taken the
    # journal away.
    unsaved = window.session.unsaved and window.session.keeping.journal is not None
    window.close_work()
    window.session.close()
    if unsaved:
        print("Edits that were not saved are kept. They come back when the project is opened again.", file=sys.stderr)
    ends.setEnabled(False)
    return code


def _end_by_signal(app: QApplication) -> QSocketNotifier:
    """Ctrl+C in the terminal, a logout or a kill that can be heard leave the loop in order; unsaved edits stay in their
    journal.
    """
    hear, tell = socket.socketpair()
    for end in (hear, tell):
        end.setblocking(False)
    signal.set_wakeup_fd(tell.fileno(), warn_on_full_buffer=False)
    notifier = QSocketNotifier(hear.fileno(), QSocketNotifier.Type.Read, app)
    notifier.ends = (hear, tell)  # kept as long as it is
    last: list[int] = []
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda number, frame: last.append(number))

    def wake() -> None:
        hear.recv(64)
        app.exit(128 + (last[-1] if last else signal.SIGTERM))

    notifier.activated.connect(wake)
    return notifier


def has_display() -> bool:
    """True where a window can be shown.

    A display that is named and does not answer would end the toolkit without a word of ours.
    """
    platform = os.environ.get("QT_QPA_PLATFORM", "").partition(":")[0]
    if platform in ("offscreen", "minimal", "vnc"):
        return True
    wayland, named = os.environ.get("WAYLAND_DISPLAY"), os.environ.get("DISPLAY")
    if (
        wayland
        and platform in ("", "wayland")
        and _answers(str(Path(os.environ.get("XDG_RUNTIME_DIR", "/run"), wayland)))
    ):
        return True
    return bool(named) and platform in ("", "xcb") and _x_answers(named)


def _answers(place: str) -> bool:
    """Whether somebody listens at a socket; one that begins with a zero byte is abstract."""
    with socket.socket(socket.AF_UNIX) as ask:
        ask.settimeout(5)
        try:
            ask.connect(place)
        except OSError:
            return False
    return True


def _x_answers(display: str) -> bool:
    """Whether an X server listens at “host:number.screen”; without a host at its socket in /tmp, or the abstract one of
    that name.
    """
    host, _, rest = display.rpartition(":")
    number = rest.partition(".")[0]
    if not number.isdigit():
        return False
    if host in ("", "unix"):
        place = f"/tmp/.X11-unix/X{number}"
        if _answers(place) or _answers(f"\0{place}"):
            return True
        host = "localhost"  # a forwarded display may listen on the network alone
    if host.startswith("/"):
        return _answers(host)
    try:
        socket.create_connection((host, 6000 + int(number)), timeout=5).close()
    except OSError:
        return False
    return True
