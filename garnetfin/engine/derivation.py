"""The shape of a derivation: an equation with its numbers, and parts that lead on by their addresses."""

import math
from dataclasses import dataclass

from garnetfin.engine.resolve import Figure

Address = tuple


@dataclass(frozen=True, slots=True)
class Term:
    """A number inside an equation; `address` leads on."""

    figure: float
    quantity: str
    address: Address = ()


@dataclass(frozen=True, slots=True)
class Part:
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
    parts: tuple[Part, ...] = ()
    source: str = ""
    origin: str = ""  # rule, pinned, imported, typed, ""
    go: tuple[str, str] = ("", "")
    remark: str = ""


def most(parts: list[Part], count: int = 16) -> tuple[Part, ...]:
    """The first parts, and what all others make together."""
    if len(parts) <= count:
        return tuple(parts)
    rest = parts[count - 1 :]
    return (*parts[: count - 1], Part(f"{len(rest)} others", sum(p.figure for p in rest), parts[0].quantity))


def counted(name: str, parts: list[Part], words: str = "") -> Why:
    """A number of things, each named."""
    return Why(name, len(parts), "count", (words or "counted",), most(parts) if parts else ())


def given_figure(name: str, quantity: str, f: Figure, go: tuple[str, str]) -> Why:
    """A figure that is by rule, pinned or imported, with what the rule would give beside it;

    NaN says there is no rule.
    """
    beside = (Part("By rule", f.by_rule, quantity),) if f.origin != "rule" and not math.isnan(f.by_rule) else ()
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
