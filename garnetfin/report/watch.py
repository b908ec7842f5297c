"""Told how far the making of papers is, and asked whether they are still wanted."""

from collections.abc import Callable

from garnetfin.core.errors import Cancelled


class Watch:
    """watch(share, words) says how far the work is; it raises Cancelled once nobody wants it any more."""

    def __init__(
        self,
        told: Callable[[float, str], None] = lambda share, words: None,
        stopped: Callable[[], bool] = lambda: False,
    ) -> None:
        self._told, self._stopped = told, stopped

    def __call__(self, share: float, words: str) -> None:
        if self._stopped():
            raise Cancelled
        self._told(share, words)

    def part(self, low: float, high: float) -> "Watch":
        """For a piece of the work that runs from one share of it to another."""
        return Watch(lambda share, words: self(low + (high - low) * share, words))


UNWATCHED = Watch()
