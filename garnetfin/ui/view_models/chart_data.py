"""What the charts show, as plain values in the units in force."""

from dataclasses import dataclass

import numpy as np

from garnetfin.core.units import System
from garnetfin.display import MINUS
from garnetfin.engine.layout.long_section import LongSection


@dataclass(frozen=True)
class HourFieldVM:
    """values: 12 months of 24 hours in the unit shown."""

    heading: str
    note: str
    values: tuple[tuple[float, ...], ...]
    chosen: tuple[int, int]
    unit: str
    digits: int = 1
    room_ids: tuple[str, ...] = ()  # of a sensible load, for its derivation
    legend: str = f"{MINUS} room loses heat   + room gains heat"


@dataclass(frozen=True)
class DayVM:
    """causes: (name, 24 values); total 24 values; all in the unit shown."""

    causes: tuple[tuple[str, tuple[float, ...]], ...]
    total: tuple[float, ...]
    hour: int
    unit: str
    instant: tuple[float, ...] = ()  # what enters in each hour, before anything stores it
    against: tuple[float, ...] = ()  # the same day with a mark
    against_name: str = ""


@dataclass(frozen=True)
class MonthVM:
    name: str
    dry: tuple[float, ...]
    wet: tuple[float, ...]
    sun: tuple[float, ...]
    facade: str
    head: str  # "31.8 / 22.4"


@dataclass(frozen=True)
class MonthsVM:
    months: tuple[MonthVM, ...]
    chosen: int
    warmest: int
    unit: str
    sun_unit: str


@dataclass(frozen=True)
class NeedRow:
    room_id: str
    number: str
    name: str
    needs: tuple[float, ...]
    flow: float
    flow_text: str
    governs: str
    pinned: bool


@dataclass(frozen=True)
class NeedsVM:
    rows: tuple[NeedRow, ...]
    unit: str
    chosen: tuple[str, ...]


@dataclass(frozen=True)
class PathVM:
    """Corners (metres from the fan, Pa left) down to the room; what is left at the end the damper takes. Up to the
    `shared`-th corner it runs with
    paths before it.
    """

    terminal_id: str
    label: str
    corners: tuple[tuple[float, float], ...]
    dashed: bool
    damped: bool = True
    room: str = ""
    shared: int = 0


@dataclass(frozen=True)
class StairVM:
    """parts before the fan in air order and after it: (name, Pa); pressures in the unit shown."""

    parts: tuple[tuple[str, float], ...]
    after: tuple[tuple[str, float], ...]
    fan: float
    ducts: float
    paths: tuple[PathVM, ...]
    index: str
    chosen: str
    unit: str
    length_unit: str
    digits: int
    levels: tuple[str, str]  # names of solid and dashed
    note: str = ""
    tone: str = "supply"  # colour of the air
    solved: bool = False  # real pressures under a what-if, not the bookkeeping at design flow
    pa_shown: float = 1.0  # Pa of one unit on the scale


@dataclass(frozen=True)
class FanChartVM:
    """Curves as (flow, pressure) points in the units shown."""

    curve: tuple[tuple[float, float], ...]
    others: tuple[tuple[str, tuple[tuple[float, float], ...]], ...]
    speeds: tuple[tuple[str, tuple[tuple[float, float], ...]], ...]
    system: tuple[tuple[float, float], ...]
    stall: tuple[tuple[float, float], ...]
    point: tuple[float, float] | None
    wanted: tuple[float, float]
    name: str
    speed: str
    point_text: str
    flow_unit: str
    pressure_unit: str
    flow_digits: int
    pressure_digits: int
    most_flow: float
    # operating points of what-ifs: words, flow, pressure, asked
    states: tuple[tuple[str, float, float, bool], ...] = ()
    least: float = 0.0  # of the upright axis
    system_name: str = "system curve"


@dataclass(frozen=True)
class MoverRow:
    name: str
    low_text: str
    high_text: str
    low: float
    high: float


@dataclass(frozen=True)
class MoversVM:
    rows: tuple[MoverRow, ...]
    base: float
    unit: str
    digits: int
    note: str = ""


@dataclass(frozen=True)
class ProfileVM:
    """24 shares of full use."""

    name: str
    note: str
    hours: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class YearFieldVM:
    """values: 8,760 hours in the unit shown; the map runs from low to high."""

    heading: str
    note: str
    values: np.ndarray
    low: float
    high: float
    unit: str
    colours: str = "amount"
    digits: int = 1
    chosen: int = -1


@dataclass(frozen=True)
class DurationMark:
    value: float
    text: str
    hot: bool


@dataclass(frozen=True, eq=False)
class DurationVM:
    heading: str
    note: str
    values: np.ndarray
    marks: tuple[DurationMark, ...]
    unit: str


@dataclass(frozen=True)
class PathMonth:
    """Runs of (azimuth, elevation) [rad] while the sun is up; where it stands highest."""

    index: int
    runs: tuple[tuple[tuple[float, float], ...], ...]
    noon: tuple[float, float] | None


@dataclass(frozen=True)
class PathHour:
    hour: int
    runs: tuple[tuple[tuple[float, float], ...], ...]
    label_at: tuple[float, float] | None


@dataclass(frozen=True)
class SunPathVM:
    note: str
    months: tuple[PathMonth, ...]
    hours: tuple[PathHour, ...]
    plan: tuple[tuple[tuple[float, float], ...], ...]
    blocks: tuple[tuple[tuple[float, float], ...], ...]
    sun: tuple[float, float] | None
    chosen: int
    lines: tuple[str, ...]


@dataclass(frozen=True)
class SectionVM:
    """Layers inside to outside; temperature and dew point at inside air, each face, outside air, in the unit shown."""

    names: tuple[str, ...]
    thickness: tuple[float, ...]
    kinds: tuple[str, ...]  # gap, insulation, solid
    shades: tuple[float, ...]
    marks: tuple[str, ...]
    temperature: tuple[float, ...]
    dew: tuple[float, ...]
    wet: tuple[int, ...]
    outside: bool
    chosen: int


@dataclass(frozen=True, slots=True)
class LongSectionVM:
    """A run with what is chosen of it; `air` names its colour."""

    found: LongSection | None
    note: str
    air: str
    chosen: tuple[str, ...]
    units: System
    level_id: str = ""
