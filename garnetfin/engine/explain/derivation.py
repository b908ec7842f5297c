"""The shape of a derivation: an equation with its numbers, and parts that lead on by their addresses."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.resolve import Figure
from garnetfin.engine.results import FanResult, Missing, Results, RoomResult
from garnetfin.project.lookup import find

Address = tuple[Any, ...]
T = TypeVar("T")
K = TypeVar("K")


class NotThere(GarnetfinError):
    """What an address names is not (or no longer) among the results."""

    def __init__(self) -> None:
        super().__init__("This figure is not there any more")


def present(found: T | Missing | None) -> T:
    """What was looked for. Raises NotThere where there is nothing, or a stage could not run."""
    if found is None or isinstance(found, Missing):
        raise NotThere
    return found


def the(items: tuple[Any, ...], item_id: str) -> Any:
    """The part of the project with that id. Raises NotThere."""
    return present(find(items, item_id))


def among(found: Mapping[K, T | Missing], key: K) -> T:
    """One of several results by its key. Raises NotThere."""
    return present(found.get(key))


def nth(items: Sequence[T], i: int) -> T:
    """One of several by its place. Raises NotThere beyond the last."""
    if not 0 <= i < len(items):
        raise NotThere
    return items[i]


def first(found: Iterable[T]) -> T:
    """The first that fits. Raises NotThere where none does."""
    return present(next(iter(found), None))


def fan_of(results: Results, system_id: str, way: str = "supply") -> FanResult:
    """The fan of a system for one way of the air."""
    found = results.fan(system_id, way)
    if isinstance(found, Missing):
        raise NotThere
    return found


def the_room(results: Results, room_id: str) -> RoomResult:
    """What was computed of a room. Raises NotThere."""
    return present(results.room(room_id))


@dataclass(frozen=True, slots=True)
class Term:
    """A number inside an equation; `address` leads on."""

    figure: float
    quantity: str
    address: Address = ()


@dataclass(frozen=True, slots=True)
class Contribution:
    """What a figure is made of."""

    name: str
    figure: float
    quantity: str
    address: Address = ()
    note: str = ""


@dataclass(frozen=True, slots=True)
class Why:
    """One figure: words and terms of its equation, its parts, where it comes from. `go`: what on screen to show."""

    name: str
    figure: float
    quantity: str
    equation: tuple[str | Term, ...] = ()
    parts: tuple[Contribution, ...] = ()
    source: str = ""
    origin: str = ""  # rule, pinned, imported, typed, ""
    go: tuple[str, str] = ("", "")
    remark: str = ""


def most(parts: list[Contribution], count: int = 16) -> tuple[Contribution, ...]:
    """The first parts, and what all others make together."""
    if len(parts) <= count:
        return tuple(parts)
    rest = parts[count - 1 :]
    return (*parts[: count - 1], Contribution(f"{len(rest)} others", sum(p.figure for p in rest), parts[0].quantity))


def counted(name: str, parts: list[Contribution], words: str = "") -> Why:
    """A number of things, each named."""
    return Why(name, len(parts), "count", (words or "counted",), most(parts) if parts else ())


def given_figure(name: str, quantity: str, f: Figure, go: tuple[str, str]) -> Why:
    """A figure that is by rule, pinned or imported, with what the rule would give beside it;

    NaN says there is no rule.
    """
    beside = (Contribution("By rule", f.by_rule, quantity),) if f.origin != "rule" and not math.isnan(f.by_rule) else ()
    return Why(
        name,
        f.figure,
        quantity,
        (),
        beside,
        f.source,
        f.origin,
        go,
        "A pinned value stays whatever is recomputed; clear its field and the rule decides again."
        if f.origin == "pinned"
        else "",
    )
