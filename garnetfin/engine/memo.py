"""Remembering rows of stages: a row is recomputed only when something it reads was replaced."""

from collections import OrderedDict, deque
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import fields, is_dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from garnetfin.project.lookup import Same

MOST_RUNS, LEAST_RUNS, USES = 200, 6, 12_000
_NONE, _RUN = object(), object()
MOST_LATE = 4
MANY = 64  # parts from which a tuple's key is kept


class Ready(tuple[Any, ...]):
    """A part of a key that was made before and is taken as it is."""


class Key(tuple[Any, ...]):
    """A made key; it holds what counts by identity, so that no identity is used again while the key is known."""

    held: list[Any]


class LongKey(Key):
    """A key of many parts, whose hash is taken once."""

    hashed: int

    def __hash__(self) -> int:
        return self.hashed


def key(*parts: Any) -> Key:
    """Strings, bytes and numbers count by value, tuples part by part, everything else by identity.

    An identity stands as a complex number: keys of thousands of parts are hashed and compared without a call of ours
    for each.
    """
    made, held = [], []
    for p in parts:
        if isinstance(p, (str, int, float, bytes, Ready)) or p is None:
            made.append(p)
        elif isinstance(p, tuple):
            made.append(p if isinstance(p, Key) else key(*p) if len(p) < MANY else _key_of(Same(p)))
        else:
            made.append(complex(id(p), 1.0))
            held.append(p)
    found = Key(made)
    found.held = held
    return found


_last: list[LongKey] = []  # the places of last time


@lru_cache(maxsize=16)
def _places(rooms: Same) -> LongKey:
    found = _long(
        ((r.id, r.number, r.name, r.level_id, r.system_id, r.ceiling_m, Same(r.outline)) for r in rooms.item), []
    )
    last = _last[:]
    if last == [found]:
        return last[0]  # the very key of last time where nothing moved: it compares at once
    _last[:] = [found]
    return found


def room_places(rooms: tuple[Any, ...]) -> Key:
    """What stages that do not look into rooms read of them: name, place and size.

    An edit of people or lights leaves it as it is.
    """
    return _places(Same(rooms))


@lru_cache(maxsize=64)
def _key_of(parts: Same) -> LongKey:
    """Of a long tuple such as all ducts of a project: made once while that very tuple is about."""
    made = key(*parts.item)
    return _long(made, made.held)


def _long(parts: Iterable[Any], held: list[Any]) -> LongKey:
    found = LongKey(parts)
    found.held, found.hashed = held, hash(tuple(found))
    return found


def alike(a: Any, b: Any) -> bool:
    """Whether two results are the same in every part."""
    if a is b:
        return True
    if type(a) is not type(b):
        return False
    if isinstance(a, np.ndarray):
        return a.shape == b.shape and a.dtype == b.dtype and bool(np.array_equal(a, b, equal_nan=a.dtype.kind == "f"))
    if isinstance(a, (tuple, list)):
        return len(a) == len(b) and all(alike(x, y) for x, y in zip(a, b))
    if isinstance(a, Mapping):
        return a.keys() == b.keys() and all(alike(x, b[i]) for i, x in a.items())
    if is_dataclass(a):
        return all(alike(getattr(a, f.name), getattr(b, f.name)) for f in fields(a))
    return bool(a == b) or a != a and b != b


class Memo:
    """Owned by one thread. What no run of late has used leaves: an edit that is taken back computes nothing, and memory
    stays flat.

    How many runs that are hangs on how much one run uses: some hundreds in a small building, a handful in one of
    thousands of rooms.
    """

    def __init__(self) -> None:
        # in the order of their last use, with a mark where each run began
        self._rows: OrderedDict[tuple[Any, ...], Any] = OrderedDict()
        self._late: dict[tuple[Any, ...], deque[Any]] = {}
        self._runs = self._oldest = self._used = 0
        self.computed = 0

    def turn(self) -> None:
        """A run begins."""
        keep = min(MOST_RUNS, max(LEAST_RUNS, USES // max(1, self._used)))
        self._used = 0
        self._runs += 1
        self._rows[_RUN, self._runs] = _NONE
        while self._oldest < self._runs - keep and self._rows:
            found, _ = self._rows.popitem(last=False)
            if found[0] is _RUN:
                self._oldest = found[1]

    def again(self, name: tuple[Any, ...], value: Any) -> Any:
        """What was found under that name of late where nothing in it differs from `value`, else `value`: who reads it
        then need not look again.
        """
        late = self._late.setdefault(name, deque(maxlen=MOST_LATE))
        for known in late:
            if alike(known, value):
                return known
        late.append(value)
        return value

    def one(self, stage: str, row_key: tuple[Any, ...], compute: Callable[[], Any]) -> Any:
        return self.rows(stage, [row_key], lambda stale: [compute()])[0]

    def rows(
        self, stage: str, keys: Sequence[tuple[Any, ...]], compute: Callable[[list[int]], Sequence[Any]]
    ) -> list[Any]:
        """One value per key; `compute` gets the positions of all stale rows at once."""
        rows, values, stale = self._rows, [], []
        for i, k in enumerate(keys):
            k = (stage, k)
            row = rows.pop(k, _NONE)  # what is used goes to the end
            if row is _NONE:
                stale.append(i)
            else:
                rows[k] = row
            values.append(row)
        self.computed += len(stale)
        self._used += len(values)
        for i, row in zip(stale, compute(stale) if stale else ()):
            rows[stage, keys[i]] = values[i] = row
        return values
