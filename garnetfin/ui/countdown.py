"""How far long work is, and how long it still takes by what it took so far."""

from collections.abc import Callable
from math import ceil
from time import monotonic

SAID_FROM_S, SAID_FROM = 1.5, 0.05  # before both of them a forecast would be a guess


class Countdown:
    """One for each kind of work. A share below the last one is the begin of a new job."""

    def __init__(self, clock: Callable[[], float] = monotonic) -> None:
        self._clock = clock
        self._begun, self._share = clock(), 2.0  # above any share: the first word begins

    def say(self, share: float) -> str:
        """ "40 %", once it can be told with the time left: "40 %, 15 s left"."""
        now = self._clock()
        if share < self._share:
            self._begun = now
        self._share = share
        gone = now - self._begun
        if gone < SAID_FROM_S or share < SAID_FROM or share >= 1.0:
            return f"{share:.0%}"
        return f"{share:.0%}, {_time(gone * (1.0 - share) / share)} left"


def _time(seconds: float) -> str:
    """In steps that do not flicker: 5 s below a minute, whole minutes above."""
    if seconds <= 55.0:
        return f"{max(1, ceil(seconds / 5.0)) * 5} s"
    return f"{ceil(seconds / 60.0)} min"
