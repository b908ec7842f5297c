"""What a reading can give: a table, a draft, lines or a picture, or a refusal."""

import math

from msgspec import Struct

from garnetfin.core.errors import InputError
from garnetfin.project.draft import Draft
from garnetfin.project.site import MonthStatistics
from garnetfin.project.store import Opened
from garnetfin.project.values import Node


class Table(Node, frozen=True):
    """Rows of a table; of a workbook those of the sheet named, and the names of all of its sheets."""

    rows: tuple[tuple[str, ...], ...]
    sheet: str = ""
    sheets: tuple[str, ...] = ()
    others: tuple[tuple[tuple[str, ...], ...], ...] = ()  # rows of every sheet, in the order of `sheets`


class Layer(Node, frozen=True):
    """Lines of one layer, flat: x0, y0, x1, y1, x0, ... in the drawing's units."""

    name: str
    lines: tuple[float, ...]
    on: bool = True

    def __post_init__(self) -> None:
        if len(self.lines) % 4 or not all(math.isfinite(v) and abs(v) < 1e12 for v in self.lines):
            raise InputError("A layer has lines that are no lines", where=f"layer {self.name}")


class Words(Node, frozen=True):
    """A text of a drawing: its middle or beginning, height in the drawing's units, layer."""

    x: float
    y: float
    height: float
    words: str
    layer: str = "0"

    def __post_init__(self) -> None:
        if not all(math.isfinite(v) and abs(v) < 1e12 for v in (self.x, self.y, self.height)):
            raise InputError("A text has no place", where=f"layer {self.layer}")


class Drawing(Node, frozen=True):
    """Lines and texts of a drawing by layer; `unit_m` metres per drawing unit, 0 when the file does not say."""

    name: str
    layers: tuple[Layer, ...]
    unit_m: float = 0.0
    notes: tuple[str, ...] = ()
    texts: tuple[Words, ...] = ()

    @property
    def count(self) -> int:
        return sum(len(x.lines) // 4 for x in self.layers)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        xs = [v for x in self.layers for v in x.lines[::2]]
        ys = [v for x in self.layers for v in x.lines[1::2]]
        return (min(xs), min(ys), max(xs), max(ys)) if xs else (0.0, 0.0, 0.0, 0.0)


class Picture(Node, frozen=True):
    """A picture as PNG; `pixel_m` metres per pixel when the file lets one guess, else 0."""

    name: str
    png: bytes
    width: int
    height: int
    pixel_m: float = 0.0
    pages: int = 1
    notes: tuple[str, ...] = ()


class WeatherRead(Node, frozen=True):
    """Hours of a weather file as the program keeps them, what is still wrong, and what they say of the place.

    faults: (kind, field, sentence, what a mend would do, first rows). Without months `why_not` says what is in the way.
    """

    name: str
    place: str
    latitude_deg: float
    longitude_deg: float
    altitude_m: float | None
    utc_offset_h: float
    located: bool
    csv: bytes
    faults: tuple[tuple[str, str, str, str, tuple[int, ...]], ...] = ()
    mended: tuple[str, ...] = ()
    months: tuple[MonthStatistics, ...] = ()
    winter_c: tuple[float, float] = (0.0, 0.0)
    greatest_c: float = 0.0
    least_c: float = 0.0
    notes: tuple[str, ...] = ()
    headings: tuple[str, ...] = ()
    why_not: str = ""


class Answer(Struct, frozen=True):
    """One of these; `refused` is a sentence."""

    refused: str = ""
    table: Table | None = None
    draft: Draft | None = None
    lines: Drawing | None = None
    picture: Picture | None = None
    weather: WeatherRead | None = None
    project: Opened | None = None
