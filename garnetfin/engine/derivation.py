"""The shape of a derivation: an equation with its numbers, and parts that lead on by their addresses."""

from dataclasses import dataclass

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
    origin: str = ""                 # rule, pinned, imported, typed, ""
    go: tuple[str, str] = ("", "")
    remark: str = ""
