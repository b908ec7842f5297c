"""The duct system as drawn: points, segments between them, terminals."""

from typing import Literal

from garnetfin.core.ducts.fittings.catalogue import choices
from garnetfin.core.ducts.friction import FLEXIBLE, MATERIALS
from garnetfin.core.errors import InputError
from garnetfin.project.inline import MOST_IN_ONE, Inline
from garnetfin.project.values import Node, Rule, Value, finite, value_within, within

Shape = Literal["round", "rectangular", "oval"]
Around = Literal["", "room", "void", "shaft", "plant", "outdoors"]
Role = Literal["", "trunk", "branch", "last"]  # "" by what hangs on it
Air = Literal["supply", "return", "extract", "outdoor"]
Side = Literal["centre", "top", "bottom", "left", "right"]  # the side that stays flat where the size changes
PLACES = ("elbow", "takeoff", "transition")  # where a fitting may be chosen by hand
TIGHTNESS = ("A", "B", "C", "D")  # EN 1507, EN 12237


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


class DuctPoint(Node, frozen=True):
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


def fitting_choices(place: str, shape: str, air: str) -> tuple[tuple[str, str], ...]:
    """(id, name) of fittings that may stand at a place of a duct."""
    return choices(place, shape, air != "supply")


def is_flexible(material: str) -> bool:
    return material in FLEXIBLE


class FittingChoice(Node, frozen=True):
    """A fitting of the segment before which it stands, chosen by hand: another kind, a coefficient of its own or a
    length of duct that
    loses as much. What is by rule follows topology and the office standards.
    """

    place: Literal["elbow", "takeoff", "transition"]
    fitting: str = ""  # id in the catalogue, "" by rule
    k: Value = Rule()
    equivalent_m: Value = Rule()

    def __post_init__(self) -> None:
        value_within(self.k, -5, 100, "A loss coefficient", f"fitting {self.place}")
        value_within(self.equivalent_m, 0, 200, "An equivalent length", f"fitting {self.place}", "m")


class Segment(Node, frozen=True):
    """A straight duct between two points; the air's direction follows from the unit, not from a and b."""

    id: str
    system_id: str
    a: str
    b: str
    shape: Shape = "round"
    role: Role = "branch"
    air: Air = "supply"
    size: Rule | PinnedSize = Rule()
    flexible_m: float = 0.0  # flexible duct at its end, in addition
    # one side held, the other by rule; of a round duct its diameter
    width_m: Value = Rule()
    height_m: Value = Rule()
    velocity_m_s: Value = Rule()  # greatest of its own
    friction_pa_m: Value = Rule()
    material: str = ""  # "" = the office book's
    lining_m: Value = Rule()
    insulation_m: Value = Rule()
    around: Around = ""  # where it runs, "" as it is drawn
    side: Side = "centre"
    tightness: str = ""  # class of pressure and leakage, "" by rule
    thickness_m: Value = Rule()  # of its sheet
    fittings: tuple[FittingChoice, ...] = ()
    # balancing damper at its start; "" by rule: before every terminal
    damper: Literal["", "none", "blade", "orifice"] = ""
    damper_deg: Value = Rule()  # its blade, 0 open; by rule what takes the surplus
    label_at: tuple[float, float] | None = None  # where its label was moved to, from its middle
    inline: tuple[Inline, ...] = ()  # parts that stand in it

    def __post_init__(self) -> None:
        where = f"segment {self.id}"
        within(self.flexible_m, 0, 20, "Flexible duct", where, "m")
        value_within(self.width_m, 0.03, 5, "Duct width", where, "m")
        value_within(self.height_m, 0.03, 5, "Duct height", where, "m")
        value_within(self.velocity_m_s, 0.3, 40, "Greatest velocity", where, "m/s")
        value_within(self.friction_pa_m, 0.02, 50, "Greatest friction", where, "Pa/m")
        value_within(self.lining_m, 0, 0.2, "Lining", where, "m")
        value_within(self.insulation_m, 0, 0.3, "Insulation", where, "m")
        value_within(self.damper_deg, 0, 90, "Blade angle", where, "°")
        value_within(self.thickness_m, 0.0003, 0.01, "Sheet thickness", where, "m")
        if self.damper not in ("", "none", "blade", "orifice"):
            raise InputError(f"There is no damper “{self.damper}”", where=where, remedy="Take blade, orifice or none")
        if self.tightness and self.tightness not in TIGHTNESS:
            raise InputError(
                f"There is no duct class “{self.tightness}”", where=where, remedy="Take one of: " + ", ".join(TIGHTNESS)
            )
        if self.material and self.material not in MATERIALS:
            raise InputError(
                f"There is no duct material “{self.material}”",
                where=where,
                remedy="Take one of: " + ", ".join(MATERIALS),
            )
        if len({f.place for f in self.fittings}) != len(self.fittings):
            raise InputError("A fitting is chosen twice", where=where)
        if len(self.inline) > MOST_IN_ONE:
            raise InputError(f"A duct holds up to {MOST_IN_ONE} parts, not {len(self.inline)}", where=where)
        if self.label_at is not None:
            for v in self.label_at:
                within(v, -1e4, 1e4, "The place of a label", where, "m")
        if self.a == self.b:
            raise InputError("A duct needs two ends", where=f"segment {self.id}")


class Terminal(Node, frozen=True):
    id: str
    label: str
    point_id: str
    room_id: str
    kind: str = "swirl"
    air: Air = "supply"
    share: Value = Rule()  # of the room's flow; by rule all alike
    model: str = ""  # "" = chosen by rule

    def __post_init__(self) -> None:
        value_within(self.share, 0, 1, "Share of the room's flow", f"terminal {self.label}")
