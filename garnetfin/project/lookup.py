"""Finding parts by id: made once per tuple, kept while that very tuple is alive in the cache."""

from functools import lru_cache
from typing import Any, TypeVar

from msgspec import Struct, structs

from garnetfin.core.errors import GarnetfinError

P = TypeVar("P", bound=Struct)


class Same:
    """Wraps a part or result so that it is compared by identity; holding it keeps the identity valid."""

    __slots__ = ("item",)

    def __init__(self, item: Any) -> None:
        self.item = item

    def __hash__(self) -> int:
        return id(self.item)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and other.item is self.item


MOST_KNOWN = 64
_known: dict[int, tuple[tuple[Any, ...], dict[str, int]]] = {}


def positions(items: tuple[Any, ...]) -> dict[str, int]:
    """Place of every part by its id."""
    # Asked tens of thousands of times an edit: by the tuple's own identity, which what is kept holds.
    found = _known.get(id(items))
    if found is None:
        found = items, {item.id: i for i, item in enumerate(items)}
        for oldest in list(_known)[: len(_known) - MOST_KNOWN + 1]:
            _known.pop(oldest, None)
        _known[id(items)] = found
    return found[1]


def position(items: tuple[Any, ...], item_id: str) -> int:
    """Raises GarnetfinError when there is no such part (any more)."""
    try:
        return positions(items)[item_id]
    except KeyError:
        raise GarnetfinError(f"“{item_id}” is no longer in the project", remedy="Select it again") from None


def find(items: tuple[Any, ...], item_id: str) -> Any:
    """The part with that id, or None."""
    i = positions(items).get(item_id)
    return None if i is None else items[i]


def replaced(items: tuple[Any, ...], item_id: str, item: Any) -> tuple[Any, ...]:
    """The tuple with one part put in place of another; the same tuple when nothing differs."""
    i = position(items, item_id)
    return items if items[i] == item else (*items[:i], item, *items[i + 1 :])


def with_part(project: P, kind: str, part: Any) -> P:
    """The project with one part put in place of the one of its id; the same project when nothing differs."""
    items = replaced(getattr(project, kind), part.id, part)
    return project if items is getattr(project, kind) else structs.replace(project, **{kind: items})


@lru_cache(maxsize=16)
def _walls_of(same: Same) -> dict[str, tuple[Any, ...]]:
    found: dict[str, list[Any]] = {}
    for wall in same.item:
        for room_id in {wall.room_a, wall.room_b}:
            found.setdefault(room_id, []).append(wall)
    return {room_id: tuple(walls) for room_id, walls in found.items()}


def walls_of(walls: tuple[Any, ...], room_id: str) -> tuple[Any, ...]:
    return _walls_of(Same(walls)).get(room_id, ())


@lru_cache(maxsize=16)
def _slabs_of(same: Same) -> dict[str, tuple[Any, ...]]:
    found: dict[str, list[Any]] = {}
    for slab in same.item:
        for room_id in {slab.room_below, slab.room_above}:
            found.setdefault(room_id, []).append(slab)
    return {room_id: tuple(slabs) for room_id, slabs in found.items()}


def slabs_of(slabs: tuple[Any, ...], room_id: str) -> tuple[Any, ...]:
    return _slabs_of(Same(slabs)).get(room_id, ())


def fresh_ids(items: tuple[Any, ...], prefix: str, count: int) -> list[str]:
    """Ids that no part has, counting up from the highest of that prefix."""
    highest = 0
    for item in items:
        if item.id.startswith(prefix) and item.id[len(prefix) :].isdigit():
            highest = max(highest, int(item.id[len(prefix) :]))
    return [f"{prefix}{highest + 1 + i}" for i in range(count)]
