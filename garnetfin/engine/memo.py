"""Remembering rows of stages: a row is recomputed only when something it reads was replaced."""

from collections import OrderedDict, deque
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import fields, is_dataclass
from functools import lru_cache
from itertools import islice
from typing import Any

import numpy as np

from garnetfin.project.lookup import Same

MOST_BYTES = 128 * 2**20  # remembered beside what the last run used
MOST_WEIGHED = 4
MOST_LATE = 2
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
    return bool(a == b) or (a != a and b != b)


def weight(value: Any, depth: int = 3) -> int:
    """About how many bytes a result takes by itself; of long tuples the first few parts stand for all."""
    if isinstance(value, np.ndarray):
        return int(value.nbytes) + 100
    if depth == 0 or isinstance(value, (str, int, float)) or value is None:
        return 60
    if isinstance(value, Mapping):
        parts: Sequence[Any] = list(islice(value.values(), MOST_WEIGHED))
        count = len(value)
    elif isinstance(value, (tuple, list)):
        parts, count = value[:MOST_WEIGHED], len(value)
    elif is_dataclass(value):
        return 100 + sum(weight(getattr(value, f.name), depth - 1) for f in fields(value))
    else:
        return 200
    return 60 + sum(weight(x, depth - 1) + 50 for x in parts) * count // max(len(parts), 1)


class Memo:
    """Owned by one thread. What no run of late has used leaves: an edit that is taken back computes nothing, and memory
    stays flat.

    What was used by the last run always stays; beside it as much as MOST_BYTES, or as that run itself used.
    """

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        # in the order of their last use: value, weight, run of that use
        self._rows: OrderedDict[tuple[Any, ...], tuple[Any, int, int]] = OrderedDict()
        self._late: dict[tuple[Any, ...], deque[Any]] = {}
        self._most = most_bytes
        self._run = self._whole = self._used = 0
        self.computed = 0

    @property
    def held_bytes(self) -> int:
        """About what is remembered."""
        return self._whole

    def turn(self) -> None:
        """A run begins."""
        beside = max(self._most, self._used)
        while self._rows and self._whole - self._used > beside:
            first, (_, bytes_, run) = next(iter(self._rows.items()))
            if run == self._run:
                break
            del self._rows[first]
            self._whole -= bytes_
        self._used = 0
        self._run += 1

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
        rows, stale = self._rows, []
        values: list[Any] = []
        for i, k in enumerate(keys):
            k = (stage, k)
            row = rows.pop(k, None)  # what is used goes to the end
            if row is None:
                stale.append(i)
                values.append(None)
                continue
            value, bytes_, run = row
            if run != self._run:
                self._used += bytes_
                row = value, bytes_, self._run
            rows[k] = row
            values.append(value)
        self.computed += len(stale)
        for i, found in zip(stale, compute(stale) if stale else ()):
            k, bytes_ = (stage, keys[i]), weight(found)
            if k not in rows:  # a key may stand twice among those that were stale
                self._whole += bytes_
                self._used += bytes_
            rows[k] = found, bytes_, self._run
            values[i] = found
        return values
