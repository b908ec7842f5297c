"""Terminals of the office's own catalogues, as they stand in the office standards."""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.core.fans.catalogue import FAN_KINDS, check_points
from garnetfin.core.terminal_choice import PLACING
from garnetfin.project.values import Node, within

MOST_POINTS, MOST_MODELS = 60, 3000
MOST_FANS = 1000


class TerminalPoint(Node, frozen=True):
    """One measured point; noise with 10 dB room effect."""

    flow_m3s: float
    pressure_pa: float
    throw_050_m: float
    throw_025_m: float
    sound_db: float
    nc: float


class OwnTerminal(Node, frozen=True):
    """A model with its points, flow rising."""

    id: str  # the model's name
    kind: str
    description: str
    use: Literal["supply", "return"]
    size_m: float
    neck_m2: float
    effective_m2: float
    points: tuple[TerminalPoint, ...]
    source: str = ""

    def __post_init__(self) -> None:
        where = f"terminal {self.id}"
        if not self.id.strip():
            raise InputError("A terminal needs a model name", where="catalogue")
        if self.kind not in PLACING:
            raise InputError(
                f"There is no kind of terminal “{self.kind}”", where=where, remedy="Take one of: " + ", ".join(PLACING)
            )
        within(self.size_m, 0.02, 10, "Size", where, "m")
        within(self.neck_m2, 1e-4, 20, "Neck area", where, "m²")
        within(self.effective_m2, 1e-4, 20, "Effective area", where, "m²")
        if not 2 <= len(self.points) <= MOST_POINTS:
            raise InputError(f"A terminal needs 2 to {MOST_POINTS} points, got {len(self.points)}", where=where)
        for p in self.points:
            within(p.flow_m3s, 1e-5, 50, "Flow", where, "m³/s")
            within(p.pressure_pa, 1e-3, 5000, "Pressure drop", where, "Pa")
            within(p.throw_050_m, 0, 200, "Throw to 0.50 m/s", where, "m")
            within(p.throw_025_m, 0, 200, "Throw to 0.25 m/s", where, "m")
            within(p.sound_db, -50, 150, "Sound power", where, "dB")
            within(p.nc, -50, 150, "NC", where)
        if any(b.flow_m3s <= a.flow_m3s for a, b in zip(self.points, self.points[1:])):
            raise InputError(
                "The flow must rise from point to point", where=where, remedy="Sort the rows of the model by flow"
            )
        if any(b.pressure_pa <= a.pressure_pa for a, b in zip(self.points, self.points[1:])):
            raise InputError(
                "The pressure drop must rise with the flow", where=where, remedy="Check the units of the rows"
            )


class FanPoint(Node, frozen=True):
    """One measured point of a fan at its catalogue speed and density."""

    flow_m3s: float
    total_pa: float
    shaft_w: float
    sound_db: float
    stalled: bool = False


class OwnFan(Node, frozen=True):
    """A fan of the office's own catalogues with its points, flow rising."""

    id: str  # the model's name
    kind: str
    wheel_m: float
    outlet_m2: float
    speed_rpm: float
    min_rpm: float
    max_rpm: float
    density_kg_m3: float
    motor_w: float
    points: tuple[FanPoint, ...]
    source: str = ""

    def __post_init__(self) -> None:
        where = f"fan {self.id}"
        if not self.id.strip():
            raise InputError("A fan needs a model name", where="catalogue")
        if self.kind not in FAN_KINDS:
            raise InputError(
                f"There is no kind of fan “{self.kind}”", where=where, remedy="Take one of: " + ", ".join(FAN_KINDS)
            )
        for value, low, high, what, unit in (
            (self.wheel_m, 0.05, 5, "Wheel diameter", "m"),
            (self.outlet_m2, 1e-3, 30, "Outlet area", "m²"),
            (self.speed_rpm, 50, 10000, "Speed", "rpm"),
            (self.min_rpm, 10, 10000, "Least speed", "rpm"),
            (self.max_rpm, 50, 12000, "Greatest speed", "rpm"),
            (self.density_kg_m3, 0.5, 2, "Density", "kg/m³"),
            (self.motor_w, 1, 1e6, "Motor", "W"),
        ):
            within(value, low, high, what, where, unit)
        if self.min_rpm > self.max_rpm:
            raise InputError("The least speed is above the greatest", where=where)
        if len(self.points) > MOST_POINTS:
            raise InputError(f"A fan has at most {MOST_POINTS} points, got {len(self.points)}", where=where)
        for p in self.points:
            within(p.sound_db, -50, 160, "Sound power", where, "dB")
        check_points(
            [p.flow_m3s for p in self.points],
            [p.total_pa for p in self.points],
            [p.shaft_w for p in self.points],
            [p.stalled for p in self.points],
            where,
        )
