"""Background work: a thread of its own that takes the newest job and drops what came before, or all in turn."""

import logging
import sys
import threading
from collections import deque
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Signal

from garnetfin.core.errors import Cancelled

log = logging.getLogger(__name__)


class Newest(QObject):
    """Runs `work(job, stopped)` for the newest submitted job; stopped() turns true when a newer one waits.

    in_turn    every job is done, one after the other; stopped() turns true only when it is told to stop
    ready and failed cross to the interface's thread by Qt's queued connection.
    """

    ready = Signal(object)
    failed = Signal(str)
    halted = Signal()

    def __init__(
        self,
        work: Callable[[Any, Callable[[], bool]], Any],
        name: str,
        parent: QObject | None = None,
        in_turn: bool = False,
    ) -> None:
        super().__init__(parent)
        self._work = work
        self._wake = threading.Condition()
        self._jobs: deque[Any] = deque()
        self._in_turn = in_turn
        self._closed = self._busy = self._halt = False
        self._thread = threading.Thread(target=self._run, name=name, daemon=True)
        self._thread.start()

    def submit(self, job: Any) -> int:
        """Take a job; how many are done before it."""
        with self._wake:
            if not self._in_turn:
                self._jobs.clear()
            before = len(self._jobs) + self._busy if self._in_turn else 0
            self._jobs.append(job)
            self._wake.notify()
            return before

    def stop(self) -> None:
        """Give up the job in hand; `halted` tells once it is given up."""
        with self._wake:
            self._halt = self._busy

    @property
    def idle(self) -> bool:
        with self._wake:
            return not (self._jobs or self._busy)

    def close(self) -> None:
        """Stop after the step in hand; safe to call twice."""
        with self._wake:
            self._closed = True
            self._wake.notify()
        self._thread.join(timeout=5)

    def _stopped(self) -> bool:
        return self._closed or self._halt or (bool(self._jobs) and not self._in_turn)

    def _run(self) -> None:
        sys.setswitchinterval(0.001)
        while True:
            with self._wake:
                self._wake.wait_for(lambda: self._jobs or self._closed)
                if self._closed:
                    return
                job, self._busy, self._halt = self._jobs.popleft(), True, False
            try:
                result = self._work(job, self._stopped)
            except Cancelled:
                if self._halt:
                    self._tell(self.halted)
            except Exception as error:  # the last resort: a fault here must not end the thread
                log.exception("background work failed")
                self._tell(self.failed, f"{type(error).__name__}: {error}")
            else:
                self._tell(self.ready, result)
            with self._wake:
                self._busy = False

    def _tell(self, signal: Any, *value: Any) -> None:
        if not self._closed:
            try:
                signal.emit(*value)
            except RuntimeError:  # the window went while the last step was still under way
                log.debug("nobody is left to tell")
