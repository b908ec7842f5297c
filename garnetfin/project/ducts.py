"""The duct system as drawn: points, segments between them, terminals."""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, finite, value_within, within

Shape = Literal["round", "rectangular"]
Role = Literal["trunk", "branch", "last"]


class PinnedSize(Node, tag_field="origin", tag="pinned"):
    """A section fixed by the engineer; round has width = height."""

    shape: Shape
    width_m: float
    height_m: float

    def __post_init__(self) -> None:
        within(self.width_m, 0.03, 5, "Duct width", "pinned size", "m")
        within(self.height_m, 0.03, 5, "Duct height", "pinned size", "m")
        if self.shape == "round" and self.width_m != self.height_m:
            raise InputError("A round duct has one diameter", where="pinned size")


class DuctPoint(Node):
    """A point of the centreline; z above the building's zero."""

    id: str
    level_id: str
    x_m: float
    y_m: float
    z_m: float

    def __post_init__(self) -> None:
        for name in ("x_m", "y_m", "z_m"):
            finite(getattr(self, name), f"Coordinate {name[0]}", f"duct point {self.id}")
            within(getattr(self, name), -1e5, 1e5, f"Coordinate {name[0]}", f"duct point {self.id}", "m")


class Segment(Node):
    """A straight duct between two points; the air's direction follows from the unit, not from a and b."""

    id: str
    system_id: str
    a: str
    b: str
    shape: Shape = "round"
    role: Role = "branch"
    size: Rule | PinnedSize = Rule()
    flexible_m: float = 0.0                                  # flexible duct at its end, in addition

    def __post_init__(self) -> None:
        within(self.flexible_m, 0, 20, "Flexible duct", f"segment {self.id}", "m")
        if self.a == self.b:
            raise InputError("A duct needs two ends", where=f"segment {self.id}")


class Terminal(Node):
    id: str
    label: str
    point_id: str
    room_id: str
    kind: str = "swirl"
    air: Literal["supply", "return", "extract"] = "supply"
    share: Value = Rule()                                    # of the room's flow; by rule all alike
    model: str = ""                                          # "" = chosen by rule

    def __post_init__(self) -> None:
        value_within(self.share, 0, 1, "Share of the room's flow", f"terminal {self.label}")
