"""What papers are made of: headings, lines, tables, figures and plans as data, free of any page format."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.core.units import System, to_shown


class Number(str):
    """A figure as printed that keeps its value in the printed unit, so that a table file holds a number and not
    words.
    """

    value: float
    unit: str  # where the text carries it

    def __new__(cls, text: str, value: float, unit: str = "") -> "Number":
        made = super().__new__(cls, text)
        made.value, made.unit = value, unit
        return made


def figure(quantity: str, value: float | None, units: System, digits: int | None = None) -> str:
    """A stored SI figure as printed; what is no number stays words."""
    text = display.figure(quantity, value, units, digits)
    return text if text == display.DASH else Number(text, to_shown(quantity, value, units))


def with_unit(quantity: str, value: float | None, units: System, digits: int | None = None) -> str:
    """A stored SI figure as printed, its unit behind it."""
    text = display.with_unit(quantity, value, units, digits)
    return (
        text
        if text.startswith(display.DASH)
        else Number(text, to_shown(quantity, value, units), display.unit(quantity, units))
    )


def number(value: float | None, digits: int = 0) -> str:
    """A figure without a quantity: a count, a share in per cent, a level."""
    text = display.number(value, digits)
    return text if text == display.DASH else Number(text, float(value))


@dataclass(frozen=True, slots=True)
class Heading:
    text: str
    level: int = 1
    note: str = ""


@dataclass(frozen=True, slots=True)
class Text:
    text: str
    faint: bool = False


@dataclass(frozen=True, slots=True)
class Facts:
    """Label and value pairs in columns."""

    rows: tuple[tuple[str, str], ...]
    columns: int = 3


@dataclass(frozen=True, slots=True)
class Col:
    name: str
    unit: str = ""
    width: float = 1.0  # share of the page
    left: bool = False


@dataclass(frozen=True, slots=True)
class TableBlock:
    columns: tuple[Col, ...]
    rows: tuple[tuple[str, ...], ...]
    total: tuple[str, ...] = ()
    summed: frozenset[int] = frozenset()  # columns whose total is the sum of the rows above
    strong: frozenset[int] = frozenset()  # rows set in bold


@dataclass(frozen=True, slots=True)
class Shape:
    """A polyline or polygon in the figure's own coordinates; colours are named, see to_pdf.

    block, at    the symbol it is a line of and where that stands: drawing files keep a symbol once
    """

    points: tuple[tuple[float, float], ...]
    stroke: str = "ink"
    width: float = 0.5
    fill: str = ""
    closed: bool = False
    dashed: bool = False
    layer: str = ""
    block: str = ""
    at: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Label:
    at: tuple[float, float]
    text: str
    colour: str = "ink"
    size: float = 6.5
    side: str = "centre"
    layer: str = ""
    turned_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class Figure:
    """Shapes and labels within (x0, y0, x1, y1); drawn to scale when `alike`, else stretched to its height."""

    box: tuple[float, float, float, float]
    height_mm: float
    shapes: tuple[Shape, ...]
    labels: tuple[Label, ...] = ()
    alike: bool = True


@dataclass(frozen=True, slots=True)
class Plan:
    """A drawing on a sheet of its own, to scale: shapes in metres, what stands in its title block."""

    title: str
    figure: Figure
    facts: tuple[tuple[str, str], ...]
    legend: tuple[tuple[str, str, str], ...] = ()  # words, stroke, fill
    north_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class Contents:
    """The list of papers with the page each begins on."""


@dataclass(frozen=True, slots=True)
class Start:
    """A paper of the set begins: a new page, and an entry of the contents."""

    paper_id: str
    title: str


@dataclass(frozen=True, slots=True)
class PageBreak:
    """What follows starts a new page, or stays on this one while so much of it is left."""

    least_mm: float = float("inf")


Block = Heading | Text | Facts | TableBlock | Figure | Plan | Contents | Start | PageBreak
