"""What the charts show, as plain values in the units in force."""

from dataclasses import dataclass


@dataclass(frozen=True)
class HourFieldVM:
    """values: 12 months of 24 hours in the unit shown."""

    heading: str
    note: str
    values: tuple[tuple[float, ...], ...]
    chosen: tuple[int, int]
    unit: str
    digits: int = 1


@dataclass(frozen=True)
class DayVM:
    """causes: (name, 24 values); total 24 values; all in the unit shown."""

    causes: tuple[tuple[str, tuple[float, ...]], ...]
    total: tuple[float, ...]
    hour: int
    unit: str


@dataclass(frozen=True)
class MonthVM:
    name: str
    dry: tuple[float, ...]
    wet: tuple[float, ...]
    sun: tuple[float, ...]
    facade: str
    head: str                      # "31.8 / 22.4"


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
    """Corners (metres from the fan, Pa left) down to the room; what is left at the end the damper takes."""

    terminal_id: str
    label: str
    corners: tuple[tuple[float, float], ...]
    dashed: bool


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
    levels: tuple[str, str]                     # names of solid and dashed


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
