"""A command with one place left empty, and how what is typed or chosen fills it."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from msgspec import structs

from garnetfin.project.edits import Command
from garnetfin.project.values import Pinned, Rule, Value

# Months that are offered as one choice.
MONTH_SPANS = {"all": tuple(range(1, 13)), "summer": (5, 6, 7, 8, 9), "winter": (1, 2, 3, 4, 10, 11, 12), "none": ()}

Entered = float | str | None  # a figure in SI, a text or chosen id; None sets the value free for the rule


def as_typed(entered: Entered) -> Entered:
    return entered


def pinned(entered: Entered) -> Value:
    """A typed figure stays whatever the rule says; nothing typed lets the rule decide."""
    return Rule() if entered is None or isinstance(entered, str) else Pinned(value=entered)


def worded(entered: Entered) -> str:
    """A word of a list; none typed lets the rule choose."""
    return "" if entered is None else str(entered).strip()


def whole(entered: Entered) -> int:
    return round(float(entered or 0.0))


def is_yes(entered: Entered) -> bool | Entered:
    return entered == "yes"


def is_on(entered: Entered) -> bool:
    return entered == "on"


def or_all(entered: Entered) -> Entered:
    return entered or "all"


def span_of_months(entered: Entered) -> tuple[int, ...]:
    return MONTH_SPANS[str(entered)]


@dataclass(frozen=True, slots=True)
class Edit:
    """What an input gives.

    command     with its place left empty
    slot        that place, a field of the command; "" where nothing is filled in
    fill        from what is entered to what stands there
    why         address of the figure's derivation; ("given", ...) is completed by label and quantity of the input
    empty       the command for nothing entered, where it is another one
    """

    command: Command
    slot: str = ""
    fill: Callable[[Any], Any] = as_typed
    why: tuple = ()
    empty: Command | None = None

    def filled(self, entered: Entered = "") -> Command:
        if self.empty is not None and (entered is None or not str(entered).strip()):
            return self.empty
        return structs.replace(self.command, **{self.slot: self.fill(entered)}) if self.slot else self.command

    def address(self, label: str, quantity: str) -> tuple:
        """Where its figure is derived, () for a text or a choice."""
        if self.why[:1] != ("given",):
            return self.why
        return (*self.why, label, quantity) if quantity else ()

    @property
    def name(self) -> str:
        """Of the field, for the keyboard map: room_value_people."""
        what = next((getattr(self.command, x) for x in ("field", "place", "layer") if hasattr(self.command, x)), "")
        slot = self.slot if not what or self.slot in ("k", "equivalent_m") else ""
        return "_".join(x for x in (_words(type(self.command)), what, slot) if x)


@lru_cache(maxsize=256)
def _words(kind: type) -> str:
    return re.sub(r"(?<=[a-z])(?=[A-Z])", "_", kind.__name__.removeprefix("Set")).lower()
