"""The base of the project tree, and figures that are by rule, pinned or imported."""

import math
import re

from msgspec import Struct

from garnetfin.core.errors import InputError
from garnetfin.core.texts import shortened

FIRE_MIN = (0, 30, 60, 90, 120, 180, 240)  # classes of resistance [min], 0 none


class Node(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, gc=False):
    """Base of everything in the project tree.

    Fields hold scalars, strings, tuples and Nodes: no list, dict or array.
    """


class Rule(Node, tag_field="origin", tag="rule"):
    """The room use, a standard or the office standards decides."""


class Derived(Rule, frozen=True, tag="derived"):  # type: ignore[misc]
    """By rule, with the figure that what is chosen further on gives; it is made anew each time and never stored."""

    value: float
    source: str


class Pinned(Node, tag_field="origin", tag="pinned"):
    """Fixed by the engineer; recomputing never changes it."""

    value: float
    note: str = ""

    def __post_init__(self) -> None:
        finite(self.value, "A pinned value")


class Imported(Node, tag_field="origin", tag="imported"):
    """Taken from a file or a source that is named."""

    value: float
    source: str = ""

    def __post_init__(self) -> None:
        finite(self.value, "An imported value")


Value = Rule | Pinned | Imported
Point = tuple[float, float]


# Ids stand in addresses, in files for other programs and in messages; a stroke parts them there, so it is none of their
# signs.
ID = re.compile(r"[A-Za-z0-9_$][A-Za-z0-9_$.:+ -]{0,119}")


def id_ok(part_id: str, where: str) -> None:
    """Refuse what is no id: all of them are made of one alphabet."""
    if ID.fullmatch(part_id) is None:
        raise InputError(
            f"“{shortened(part_id)}” is no id",
            where=where,
            remedy="An id has 1 to 120 Latin letters, digits, blanks and signs of “_$.:+-”",
        )


def finite(value: float, what: str, where: str = "") -> None:
    """NaN and infinity would be saved as null, so nothing in the tree may hold them."""
    if not math.isfinite(value):
        raise InputError(f"{what} must be a finite number, got {value}", where=where)


def within(value: float, low: float, high: float, what: str, where: str, unit: str = "") -> None:
    """Refuse a figure outside low..high; put this way round, NaN is refused too."""
    if not low <= value <= high:
        unit = f" {unit}" if unit else ""
        raise InputError(f"{what} must lie between {low:g} and {high:g}{unit}, got {value:g}", where=where)


def none_or_within(value: float, low: float, high: float, what: str, where: str, unit: str = "") -> None:
    """As `within`, for figures whose 0 means that they are taken from elsewhere."""
    if value != 0:
        within(value, low, high, what, where, unit)


def value_within(value: Value, low: float, high: float, what: str, where: str, unit: str = "") -> None:
    if not isinstance(value, Rule):
        within(value.value, low, high, what, where, unit)


def outline_ok(outline: tuple[Point, ...], what: str, where: str) -> None:
    if len(outline) < 3 or len(outline) > 2000:
        raise InputError(f"{what} needs 3 to 2000 corners, got {len(outline)}", where=where)
    for x, y in outline:
        if not (abs(x) <= 1e5 and abs(y) <= 1e5):
            raise InputError(f"{what} has a corner more than 100 km away", where=where)
