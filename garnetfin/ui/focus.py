"""Focus is drawn only while the keyboard is in use; the mouse needs no ring."""

from time import monotonic

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication, QWidget


class _Watch(QObject):
    keyboard = False
    last = 0.0  # when a hand last did something

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        # every event of the program passes here: most are none of the hands'
        if not event.isInputEvent():
            return False
        self.last = monotonic()
        if event.type() == QEvent.Type.KeyPress:
            self.keyboard = True
        elif event.type() == QEvent.Type.MouseButtonPress:
            self.keyboard = False
        return False


_watch = _Watch()


def watch(app: QApplication) -> None:
    app.installEventFilter(_watch)


def resting_ms() -> float:
    """For how long no key and no mouse was used."""
    return 1000 * (monotonic() - _watch.last)


def ringed(widget: QWidget) -> bool:
    """True when the widget should show that it has the focus."""
    return _watch.keyboard and widget.hasFocus()
