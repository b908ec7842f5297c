"""What a card shows: headline figures and sections, as plain values that can be compared."""

from dataclasses import dataclass, field
from typing import Any, NamedTuple

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.resolve import Figure
from garnetfin.engine.results import Finding
from garnetfin.ui.view_models.edit import Edit


@dataclass(frozen=True, slots=True)
class Headline:
    label: str
    figure: str
    unit: str
    reason: str = ""
    tone: str = ""  # "", watch, bad
    why: tuple = ()  # address of the figure's derivation


@dataclass(frozen=True, slots=True)
class InputVM:
    """One row: label, mark of its origin, value, unit. `choices` makes it a list instead of a typed figure."""

    edit: Edit
    label: str
    text: str
    unit: str
    origin: str = "plain"  # rule, pinned, imported, plain (no rule behind it), several
    quantity: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    chosen: str = ""
    tip: str = ""


@dataclass(frozen=True, slots=True)
class Inputs:
    title: str
    note: str
    rows: tuple[InputVM, ...]


@dataclass(frozen=True, slots=True)
class Line:
    label: str
    value: str
    unit: str = ""
    strong: bool = False
    lead: str = ""  # a narrow first column, e.g. a direction
    target: tuple[str, str] = ("", "")  # (kind, id) selected by a click
    why: tuple = ()


@dataclass(frozen=True, slots=True)
class Lines:
    title: str
    note: str
    rows: tuple[Line, ...]


@dataclass(frozen=True, slots=True)
class BarLine:
    label: str
    left: float  # heating, 0..1 of the greatest
    right: float
    left_text: str
    right_text: str
    why_left: tuple = ()
    why_right: tuple = ()


@dataclass(frozen=True, slots=True)
class CauseBars:
    title: str
    note: str
    rows: tuple[BarLine, ...]
    left_total: str
    right_total: str


class PartBar(NamedTuple):
    label: str
    share: float  # of the greatest
    text: str
    strong: bool = False
    why: tuple = ()


@dataclass(frozen=True, slots=True)
class PartBars:
    """Named amounts with one bar each, and their sum."""

    title: str
    note: str
    rows: tuple[PartBar, ...]
    total: str
    total_label: str
    why: tuple = ()  # of the sum


@dataclass(frozen=True, slots=True)
class Axes:
    """Several things side by side: one axis a figure, each with lettered points (letter, place 0..1, figure)."""

    title: str
    note: str
    rows: tuple[tuple[str, str, tuple[tuple[str, float, str], ...]], ...]


class Piece(NamedTuple):
    label: str
    share: float  # of the whole bar
    text: str
    colour: str  # its name
    why: tuple = ()


@dataclass(frozen=True, slots=True)
class StackBar:
    """One bar in pieces with a legend."""

    title: str
    note: str
    rows: tuple[Piece, ...]
    total: str
    total_label: str
    why: tuple = ()  # of the sum


@dataclass(frozen=True, slots=True)
class Rung:
    label: str
    velocity: str
    friction: str
    friction_share: float  # of the ladder's greatest shown
    ratio: str
    mass: str
    size: tuple[str, float, float]  # shape, width, height
    reason: str = ""  # why it does not fit; then it is struck through
    over: bool = False  # above the friction limit
    by_rule: bool = False
    pinned: bool = False
    clears: bool = False


@dataclass(frozen=True, slots=True)
class Ladder:
    title: str
    note: str
    segment_ids: tuple[str, ...]
    limit_share: float
    units: tuple[str, str, str, str]
    rungs: tuple[Rung, ...]
    legend: str


@dataclass(frozen=True, slots=True)
class DayLine:
    title: str
    note: str
    values: tuple[float, ...]
    peak_hour: int
    peak_text: str
    whys: tuple[tuple, ...] = ()  # by hour


@dataclass(frozen=True, slots=True)
class FindingsVM:
    title: str
    note: str
    findings: tuple[Finding, ...]


Section = Inputs | Lines | CauseBars | PartBars | Axes | StackBar | Ladder | DayLine | FindingsVM


@dataclass(frozen=True, slots=True)
class CardVM:
    kind: str
    title: str
    line: str
    headlines: tuple[Headline, ...] = ()
    sections: tuple[Section, ...] = field(default=())
    foot: tuple[str, Edit | None] = ("", None)  # a link at the foot: words, and what it does


def input_row(
    figure: Figure,
    edit: Edit,
    label: str,
    quantity: str,
    units: System,
    several: bool = False,
    digits: int | None = None,
) -> InputVM:
    by_rule = display.with_unit(quantity, figure.by_rule, units, digits)
    tip = figure.source if figure.origin == "rule" else f"{figure.origin}: {figure.source}; by rule {by_rule}"
    return InputVM(
        edit,
        label,
        "several" if several else display.figure(quantity, figure.figure, units, digits),
        display.unit(quantity, units),
        "several" if several else figure.origin,
        quantity,
        tip=tip,
    )


def one_choice(rooms: list[Any], edit: Edit, field: str, label: str, choices: tuple[tuple[str, str], ...]) -> InputVM:
    """One list for a field of several rooms; it stands at nothing while they differ."""
    values = {getattr(r, field) for r in rooms}
    one = len(values) == 1
    return InputVM(
        edit, label, "" if one else "several", "", "plain", choices=choices, chosen=values.pop() if one else "several"
    )
