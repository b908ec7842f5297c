"""Reads foreign files without holding up the window: one at a time, with progress, stopped by a click."""

import logging
import threading
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.exchange.reading import read
from garnetfin.exchange.results import Answer

log = logging.getLogger(__name__)


class Reader(QObject):
    """`done` brings (answer, what it is for); all signals cross to the interface's thread by Qt's queued connection."""

    progress = Signal(float, str)
    done = Signal(object, object)
    failed = Signal(str)
    stopped = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None

    @property
    def busy(self) -> bool:
        return self._thread is not None and self._thread.is_alive()

    def start(
        self, path: Path, kind: str = "", options: dict | None = None, purpose: Callable[[Answer], None] | None = None
    ) -> bool:
        """False when another file is still being read."""
        if self.busy:
            return False
        self._stop.clear()
        self._thread = threading.Thread(
            target=self._run, args=(path, kind, options, purpose), name="reader", daemon=True
        )
        self._thread.start()
        return True

    def stop(self) -> None:
        self._stop.set()

    def close(self) -> None:
        """Stop and wait; the reading process is gone afterwards."""
        self.stop()
        if self._thread is not None:
            self._thread.join(timeout=5)

    def _read(self, path: Path, kind: str, options: dict | None) -> object:
        return read(path, kind, options, self.progress.emit, self._stop.is_set)

    def _run(self, path: Path, kind: str, options: dict | None, purpose: object) -> None:
        try:
            answer = self._read(path, kind, options)
        except Cancelled:
            self.stopped.emit()
        except GarnetfinError as error:
            self.failed.emit(str(error))
        except Exception as error:  # the last resort: a fault here must not pass unseen
            log.exception("reading failed")
            self.failed.emit(f"{path.name} could not be read. {type(error).__name__}: {error}")
        else:
            self.done.emit(answer, purpose)
