"""Remembering rows of stages: a row is recomputed only when something it reads was replaced."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from functools import lru_cache
from typing import Any

from garnetfin.project.lookup import Same

LARGEST = 20_000


class Ready(tuple):
    """A part of a key that was made before and is taken as it is."""


def key(*parts: Any) -> tuple[Hashable, ...]:
    """Strings, bytes and numbers count by value, tuples part by part, everything else by identity."""
    return tuple(p if isinstance(p, (str, int, float, bytes, Ready)) or p is None
                 else key(*p) if isinstance(p, tuple) else Same(p) for p in parts)


@lru_cache(maxsize=16)
def _places(rooms: Same) -> Ready:
    return Ready((r.id, r.number, r.name, r.level_id, r.system_id, r.ceiling_m, Same(r.outline)) for r in rooms.item)


def places(rooms: tuple) -> Ready:
    """What stages that do not look into rooms read of them: name, place and size. An edit of people or lights leaves it as it is."""
    return _places(Same(rooms))


class Memo:
    """Owned by one thread. Rows that were not used lately leave first."""

    def __init__(self, largest: int = LARGEST) -> None:
        self._rows: OrderedDict[tuple, Any] = OrderedDict()
        self._largest = largest
        self.computed = 0

    def one(self, stage: str, row_key: tuple, compute: Callable[[], Any]) -> Any:
        return self.rows(stage, [row_key], lambda stale: [compute()])[0]

    def rows(self, stage: str, keys: Sequence[tuple], compute: Callable[[list[int]], Sequence[Any]]) -> list[Any]:
        """One value per key; `compute` gets the positions of all stale rows at once."""
        full = [(stage, k) for k in keys]
        stale = [i for i, k in enumerate(full) if k not in self._rows]
        found = dict(zip(stale, compute(stale))) if stale else {}
        self.computed += len(stale)
        values = []
        for i, k in enumerate(full):
            if i in found:
                self._rows[k] = found[i]
            else:
                self._rows.move_to_end(k)
            values.append(self._rows[k])
        while len(self._rows) > self._largest:
            self._rows.popitem(last=False)
        return values
