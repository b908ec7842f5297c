"""What papers are made of: headings, lines, tables and figures as data, free of any page format."""

from dataclasses import dataclass


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
    width: float = 1.0               # share of the page
    left: bool = False


@dataclass(frozen=True, slots=True)
class TableBlock:
    columns: tuple[Col, ...]
    rows: tuple[tuple[str, ...], ...]
    total: tuple[str, ...] = ()
    strong: frozenset[int] = frozenset()     # rows set in bold


@dataclass(frozen=True, slots=True)
class Shape:
    """A polyline or polygon in the figure's own coordinates; colours are named, see to_pdf."""

    points: tuple[tuple[float, float], ...]
    stroke: str = "ink"
    width: float = 0.5
    fill: str = ""
    closed: bool = False
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class Label:
    at: tuple[float, float]
    text: str
    colour: str = "ink"
    size: float = 6.5
    side: str = "centre"


@dataclass(frozen=True, slots=True)
class Figure:
    """Shapes and labels within (x0, y0, x1, y1); drawn to scale when `alike`, else stretched to its height."""

    box: tuple[float, float, float, float]
    height_mm: float
    shapes: tuple[Shape, ...]
    labels: tuple[Label, ...] = ()
    alike: bool = True


@dataclass(frozen=True, slots=True)
class PageBreak:
    """What follows starts a new page."""


Block = Heading | Text | Facts | TableBlock | Figure | PageBreak
