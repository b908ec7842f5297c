"""Equipment as the engineer has it: what is pinned of flow boxes, units in rooms, coils, air handlers and machines.

What is not listed is chosen by rule; a part here holds what was fixed of one, by the id the rules give it.
"""

from typing import Literal

from garnetfin.core.equipment.casings import ARRANGEMENTS
from garnetfin.core.equipment.catalogue import MACHINE_KINDS, SHEETS, UNIT_KINDS, one_row
from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, value_within, within

MOST_OF_ONE = 12
STEPS = ("low", "medium", "high")
CIRCUITS = ("cold", "hot")
MACHINES_OF = {"cold": ("chiller_air", "chiller_water"), "hot": ("boiler", "heat_pump_air")}


class FlowBox(Node, frozen=True):
    """A box in the duct of one room, or of a group of rooms that share it.

    model       "" = the first of the catalogue that serves
    heating     greatest flow while it heats
    leave_c     warmest air it may send into its rooms
    """

    id: str
    room_ids: tuple[str, ...]
    tag: str = ""
    model: str = ""
    least_m3s: Value = Rule()
    heating_m3s: Value = Rule()
    leave_c: Value = Rule()

    def __post_init__(self) -> None:
        where = f"flow box {self.tag or self.id}"
        if not self.room_ids or len(set(self.room_ids)) < len(self.room_ids):
            raise InputError("A flow box needs rooms, each once", where=where)
        value_within(self.least_m3s, 0, 1000, "Least flow", where, "m³/s")
        value_within(self.heating_m3s, 0, 1000, "Heating flow", where, "m³/s")
        value_within(self.leave_c, 15, 80, "Warmest air", where, "°C")


class RoomUnit(Node, frozen=True):
    """Units of one kind in a room. count 0 and model "" = by rule."""

    id: str
    room_id: str
    kind: Literal["fan_coil", "beam", "radiator", "convector", "floor", "ceiling", "electric", "direct"]
    tag: str = ""
    model: str = ""
    count: int = 0
    step: str = ""  # of the fan; "" = as the office standards
    cover_m2k_w: Value = Rule()  # of floors and ceilings
    area_share: Value = Rule()  # of the floor, that pipes lie in
    longest_m: Value = Rule()
    highest_m: Value = Rule()

    def __post_init__(self) -> None:
        where = f"room unit {self.tag or self.id}"
        if self.kind not in UNIT_KINDS:
            raise InputError(f"There is no room unit “{self.kind}”", where=where)
        within(self.count, 0, MOST_OF_ONE, "Number of units", where)
        if self.step and self.step not in STEPS:
            raise InputError(f"A fan has no step “{self.step}”", where=where, remedy="Take one of: " + ", ".join(STEPS))
        value_within(self.cover_m2k_w, 0, 1, "Cover", where, "m²K/W")
        value_within(self.area_share, 0.05, 1, "Share of the floor", where)
        value_within(self.longest_m, 0.1, 20, "Length at most", where, "m")
        value_within(self.highest_m, 0.05, 5, "Height at most", where, "m")


class CoilChoice(Node, frozen=True):
    """What is fixed of the coil of a part; id: system:part."""

    id: str
    system_id: str
    part_id: str
    tag: str = ""
    series: str = ""
    rows: int = 0
    water_in_c: Value = Rule()
    water_out_c: Value = Rule()

    def __post_init__(self) -> None:
        where = f"coil {self.tag or self.id}"
        within(self.rows, 0, 20, "Rows", where)
        value_within(self.water_in_c, -10, 110, "Water that enters", where, "°C")
        value_within(self.water_out_c, -10, 110, "Water that leaves", where, "°C")


class UnitChoice(Node, frozen=True):
    """What is fixed of the casing of an air system; id: the system's."""

    id: str
    tag: str = ""
    size: str = ""
    velocity_m_s: Value = Rule()  # on its filters
    arrangement: str = "stacked"
    room_id: str = ""  # it stands in; "" = the one its ducts begin in, where no air system serves that

    def __post_init__(self) -> None:
        where = f"unit {self.tag or self.id}"
        value_within(self.velocity_m_s, 0.5, 5, "Velocity on the filters", where, "m/s")
        if self.arrangement not in ARRANGEMENTS:
            raise InputError(
                f"A unit cannot be “{self.arrangement}”", where=where, remedy="Take one of: " + ", ".join(ARRANGEMENTS)
            )


class Machines(Node, frozen=True):
    """What is fixed of the machines of a circuit; id: cold or hot. count 0 and model "" = by rule."""

    id: str
    kind: str = ""  # "" = as the office standards
    tag: str = ""
    model: str = ""
    count: int = 0
    fewest: int = 0
    standby: bool = False
    margin: Value = Rule()
    ambient_rise_k: Value = Rule()

    def __post_init__(self) -> None:
        where = f"machines {self.tag or self.id}"
        if self.id not in CIRCUITS:
            raise InputError(
                f"There is no circuit “{self.id}”", where=where, remedy="Take one of: " + ", ".join(CIRCUITS)
            )
        if self.kind and self.kind not in MACHINE_KINDS:
            raise InputError(
                f"There is no kind of machine “{self.kind}”",
                where=where,
                remedy="Take one of: " + ", ".join(MACHINES_OF[self.id]),
            )
        within(self.count, 0, MOST_OF_ONE, "Number of machines", where)
        within(self.fewest, 0, MOST_OF_ONE, "Fewest machines", where)
        value_within(self.margin, 0, 1, "Margin", where)
        value_within(self.ambient_rise_k, -10, 20, "Air around them, above outdoors", where, "K")


class Cell(Node, frozen=True):
    """A cell of a catalogue row: heading, what stands there."""

    heading: str
    text: str


class OwnEquipment(Node, frozen=True):
    """A row of the office's own catalogue of equipment, as it stands in its file; it goes before those that ship."""

    id: str  # sheet:name
    sheet: str
    cells: tuple[Cell, ...]
    source: str = ""

    def __post_init__(self) -> None:
        where = f"catalogue row {self.id}"
        if self.sheet not in SHEETS:
            raise InputError(
                f"There is no catalogue “{self.sheet}”", where=where, remedy="Take one of: " + ", ".join(SHEETS)
            )
        if len(self.cells) > 80:
            raise InputError(f"A row of {len(self.cells)} cells is longer than the 80 accepted", where=where)
        one_row(SHEETS[self.sheet][0], {c.heading: c.text for c in self.cells}, where)
