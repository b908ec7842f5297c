"""Air systems: supply conditions, control, the train of parts, the fan, sizing rules; zones; transfer of air between
rooms.
"""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.core.systems.parts import Part as CorePart
from garnetfin.core.systems.parts import check_order
from garnetfin.project.parts import Part
from garnetfin.project.values import Node, Rule, Value, value_within, within


class Operation(Node, frozen=True):
    """When the plant of rooms runs.

    `always` holds the set-point around the clock; else it is off, or set back, at night.
    """

    mode: Literal["always", "use", "hours"] = "always"
    lead_h: int = 1  # hours before use begins
    from_h: int = 6
    to_h: int = 18
    night_cooling_c: Value = Rule()  # by rule the plant is off; else it holds this
    night_heating_c: Value = Rule()

    def __post_init__(self) -> None:
        where = "hours of the plant"
        within(self.lead_h, 0, 4, "Hours before use", where, "h")
        within(self.from_h, 0, 23, "From", where, "h")
        within(self.to_h, 1, 24, "To", where, "h")
        value_within(self.night_cooling_c, 5, 60, "Cooling at night", where, "°C")
        value_within(self.night_heating_c, -10, 40, "Heating at night", where, "°C")
        if self.mode == "hours" and self.from_h == self.to_h:
            raise InputError(
                "The plant must stop after it starts", where=where, remedy="Give hours such as 6 to 18, or 20 to 6"
            )


class Zone(Node, frozen=True):
    """Rooms that share control. What is by rule here is left to the room's use and to the air system."""

    id: str
    name: str
    cooling_c: Value = Rule()
    heating_c: Value = Rule()
    supply_c: Value = Rule()
    humidity_low: Value = Rule()  # relative humidity limits [-]
    humidity_high: Value = Rule()
    operation: Operation | None = None  # None = as the air system

    def __post_init__(self) -> None:
        where = f"zone {self.name}"
        value_within(self.cooling_c, 5, 50, "Cooling set-point", where, "°C")
        value_within(self.heating_c, -10, 40, "Heating set-point", where, "°C")
        value_within(self.supply_c, 4, 40, "Supply temperature", where, "°C")
        value_within(self.humidity_low, 0, 1, "Lowest humidity", where)
        value_within(self.humidity_high, 0, 1, "Highest humidity", where)
        for low, high, what in (
            (self.heating_c, self.cooling_c, "The heating set-point is above the cooling set-point"),
            (self.humidity_low, self.humidity_high, "The lowest humidity is above the highest"),
        ):
            if not (isinstance(low, Rule) or isinstance(high, Rule)) and low.value > high.value:
                raise InputError(what, where=where, remedy="Lower the one or raise the other")


class Transfer(Node, frozen=True):
    """Air that flows from room to room through doors and grilles; by rule what the room it enters lacks."""

    id: str
    from_room: str
    to_room: str
    flow_m3s: Value = Rule()

    def __post_init__(self) -> None:
        value_within(self.flow_m3s, 0, 1000, "Transfer air", f"transfer {self.id}", "m³/s")
        if self.from_room == self.to_room:
            raise InputError("Air cannot be transferred from a room to itself", where=f"transfer {self.id}")


ALL_MONTHS = tuple(range(1, 13))


class FanChoice(Node, frozen=True):
    """What the engineer chose of one fan of a system; by rule the best of the catalogue, at the speed that does it.

    way: supply, return, extract (at the extract ducts), exhaust (in the way of relief).
    """

    way: Literal["supply", "return", "extract", "exhaust"] = "supply"
    model: str = ""  # "" = the best of the catalogue
    speed_rpm: Value = Rule()
    motor_efficiency: Value = Rule()
    drive_efficiency: Value = Rule()  # by rule by the kind of fan
    count: int = 1  # alike
    arrangement: Literal["single", "series", "parallel"] = "single"
    outlet_duct_m: Value = Rule()  # straight duct behind it; by rule as long as it needs
    effect_k: Value = Rule()  # of bends and things in the way at the fan, on its outlet velocity

    def __post_init__(self) -> None:
        where = f"{self.way} fan"
        value_within(self.speed_rpm, 50, 10000, "Fan speed", where, "rpm")
        value_within(self.motor_efficiency, 0.1, 1, "Motor efficiency", where)
        value_within(self.drive_efficiency, 0.3, 1, "Drive efficiency", where)
        within(self.count, 1, 12, "Number of fans", where)
        value_within(self.outlet_duct_m, 0, 50, "Straight duct behind the fan", where, "m")
        value_within(self.effect_k, 0, 20, "Coefficient at the fan", where)


# a fan of each way as the rules have it
BY_RULE: dict[str, FanChoice] = {
    "supply": FanChoice(way="supply"),
    "return": FanChoice(way="return"),
    "extract": FanChoice(way="extract"),
    "exhaust": FanChoice(way="exhaust"),
}


FAN_WAYS = tuple(BY_RULE)


class Spigot(Node, frozen=True):
    """A further place at the unit where ducts of an air begin or end, on the same fan as the first."""

    air: Literal["supply", "return", "extract", "outdoor"]
    point_id: str


class AirSystem(Node, frozen=True):
    id: str
    name: str
    pattern: str = "cav_reheat"
    flow: Literal["fixed", "load"] = "fixed"  # constant, or following the load of each room
    supply: Literal["held", "coil", "room", "neediest"] = "neediest"
    outdoor_m3s: Value = Rule()  # least outdoor air of the unit
    least_share: Value = Rule()  # of a room's flow, with variable flow
    humidity_high: Value = Rule()  # of its rooms
    people: Value = Rule()  # in all its rooms at once
    cooling_months: tuple[int, ...] = ALL_MONTHS
    heating_months: tuple[int, ...] = ALL_MONTHS
    supply_c: Value = Rule()
    warm_limit_k: Value = Rule()
    # where supply ducts begin, and where those for return and extract air end
    root_point_id: str = ""
    return_point_id: str = ""
    extract_point_id: str = ""
    outdoor_point_id: str = ""  # where ducts from the louvre reach the unit
    spigots: tuple[Spigot, ...] = ()  # beside those first ones
    parts: tuple[Part, ...] = ()
    rated_m3s: float = 1.0
    friction_pa_m: Value = Rule()
    sizing: Literal["friction", "velocity", "regain", "cost"] = "friction"
    friction_from: Literal["rate", "first velocity", "pressure"] = "rate"  # where the greatest friction comes from
    # for ducts and terminals, where friction comes from pressure
    available_pa: Value = Rule()
    duct_height_m: Value = Rule()  # of rectangular ducts, where one is fixed
    allowance: Value = Rule()  # share added to the fan's pressure
    fans: tuple[FanChoice, ...] = ()  # what is chosen of each fan; those that are not listed are by rule
    # of ducts: computed from class, surface and pressure where they are drawn, or the share typed at the part
    leakage: Literal["computed", "typed"] = "computed"
    # of supply ducts: from insulation and where they run, or the U-value typed at the part
    heat: Literal["computed", "typed"] = "typed"
    # whether rooms whose flow or reheat is controlled have flow boxes by rule
    boxes: Literal["chosen", "none"] = "none"
    # bypass factor and air drop of coils: of the coils that are chosen, or typed at their parts
    coils: Literal["chosen", "typed"] = "typed"
    operation: Operation = Operation()

    def root_of(self, air: str) -> str:
        """The duct point at the unit of supply, return, extract or outdoor-air ducts; "" without any."""
        return {
            "supply": self.root_point_id,
            "return": self.return_point_id,
            "extract": self.extract_point_id,
            "outdoor": self.outdoor_point_id,
        }[air]

    def roots_of(self, air: str) -> tuple[str, ...]:
        """All duct points at the unit of an air, the first one first."""
        first = self.root_of(air)
        return (*((first,) if first else ()), *(s.point_id for s in self.spigots if s.air == air))

    def fan(self, way: str) -> FanChoice:
        """What is chosen of its fan for a way of the air."""
        return next((f for f in self.fans if f.way == way), BY_RULE[way])

    @property
    def roots(self) -> tuple[str, ...]:
        """All duct points at its unit, of every air."""
        first = (self.root_point_id, self.return_point_id, self.extract_point_id, self.outdoor_point_id)
        return (*(i for i in first if i), *(s.point_id for s in self.spigots))

    def __post_init__(self) -> None:
        where = f"air system {self.name}"
        value_within(self.supply_c, 4, 40, "Supply temperature", where, "°C")
        value_within(self.warm_limit_k, 0.5, 40, "Heating air above the room", where, "K")
        within(self.rated_m3s, 0.001, 1000, "Rated flow", where, "m³/s")
        value_within(self.friction_pa_m, 0.05, 20, "Friction", where, "Pa/m")
        value_within(self.available_pa, 5, 3000, "Pressure for the ducts", where, "Pa")
        value_within(self.duct_height_m, 0.05, 3, "Height of rectangular ducts", where, "m")
        value_within(self.allowance, 0, 1, "Margin on pressure", where)
        ways = [f.way for f in self.fans]
        if len(set(ways)) < len(ways):
            raise InputError("A fan is chosen twice", where=where, remedy="One choice for each way of the air")
        value_within(self.outdoor_m3s, 0, 1000, "Outdoor air", where, "m³/s")
        value_within(self.least_share, 0, 1, "Least flow", where)
        value_within(self.humidity_high, 0.05, 1, "Humidity limit", where)
        value_within(self.people, 0, 1e6, "People", where)
        for months in (self.cooling_months, self.heating_months):
            if len(months) > 12 or any(m not in ALL_MONTHS for m in months) or len(set(months)) != len(months):
                raise InputError("Months are numbers from 1 to 12, each once", where=where)
        if len(self.parts) > 40:
            raise InputError(f"A unit of {len(self.parts)} parts is longer than the 40 accepted", where=where)
        if len({p.id for p in self.parts}) != len(self.parts):
            raise InputError("Two parts have one id", where=where)
        if self.parts:
            check_order(tuple(CorePart(p.id, p.kind) for p in self.parts))
