"""Parts of an air system: what kinds there are, which figures each has, and trains to start from."""

from dataclasses import dataclass
from typing import Literal

from garnetfin.core.equipment.casings import FILTERS
from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, value_within, within

Kind = Literal[
    "intake",
    "filter",
    "recovery",
    "preheat",
    "precool",
    "mixing",
    "cooling",
    "heating",
    "humidifier",
    "supply_fan",
    "attenuator",
    "duct",
    "terminals",
    "rooms",
    "plenum",
    "return_fan",
    "exhaust_fan",
    "relief",
]


@dataclass(frozen=True, slots=True)
class FigureKind:
    """A figure of a part: label, quantity, the figure by rule (None: computed), what is accepted, where the rule comes
    from.
    """

    label: str
    quantity: str
    by_rule: float | None
    low: float
    high: float
    source: str = "office standards, as it ships"


@dataclass(frozen=True, slots=True)
class PartKind:
    """name as on screen; pressure drop [Pa] by rule at the rated flow (None: has none) and how it grows with flow."""

    name: str
    pressure_pa: float | None
    exponent: float
    figures: dict[str, FigureKind]
    choices: tuple[tuple[str, str], ...] = ()
    side: str = "supply"  # or return, both


BYPASS = FigureKind("Bypass factor", "plain", 0.10, 0.0, 0.9)
KINDS: dict[str, PartKind] = {
    "intake": PartKind("Outdoor louvre", 25, 2.0, {}),
    "filter": PartKind(
        "Filter",
        95,
        1.2,
        {
            "clean": FigureKind("Clean, of this drop", "fraction", 0.6, 0.1, 1.0),
            "final": FigureKind("Loaded, of this drop", "fraction", 1.4, 1.0, 5.0),
        },
        (("", "of no class"), *((name, name) for name in FILTERS)),
    ),
    "recovery": PartKind(
        "Heat recovery",
        140,
        1.6,
        {
            "sensible": FigureKind(
                "Temperature ratio", "fraction", 0.75, 0, 1, "office standards; EN 308 at equal flows"
            ),
            "latent": FigureKind("Moisture ratio", "fraction", 0.0, 0, 1),
            "frost_c": FigureKind("Frost limit, exhaust side", "temperature", -3.0, -40, 15),
            "exhaust_pa": FigureKind("Pressure drop, exhaust", "pressure", 120.0, 0, 5000),
        },
    ),
    "preheat": PartKind("Preheat coil", 20, 1.8, {"set_c": FigureKind("Heats to", "temperature", 5.0, -20, 40)}),
    "precool": PartKind(
        "Precool coil", 45, 1.8, {"set_c": FigureKind("Cools to", "temperature", 20.0, 4, 35), "bypass": BYPASS}
    ),
    "mixing": PartKind(
        "Mixing",
        10,
        2.0,
        {"changeover_c": FigureKind("Closed above", "temperature", 18.0, -10, 35)},
        (("", "least outdoor air"), ("dry bulb", "economiser, dry bulb"), ("enthalpy", "economiser, enthalpy")),
    ),
    "cooling": PartKind(
        "Cooling coil",
        85,
        1.8,
        {"bypass": BYPASS, "adp_low_c": FigureKind("Coldest surface", "temperature", 5.0, -10, 20)},
        (("", "by temperature"), ("dry air", "keeps the humidity limit")),
    ),
    "heating": PartKind("Heating coil", 30, 1.8, {}),
    "humidifier": PartKind(
        "Humidifier",
        15,
        2.0,
        {"humidity": FigureKind("Holds rooms at", "fraction", 0.35, 0, 0.9)},
        (("steam", "steam"), ("spray", "spray, adiabatic")),
    ),
    "supply_fan": PartKind(
        "Supply fan",
        None,
        2.0,
        {
            "pressure_pa": FigureKind("Total pressure", "pressure", None, 0, 10000, "what parts and ducts need"),
            "efficiency": FigureKind(
                "Efficiency to the air", "fraction", None, 0.06, 1, "of the chosen fan with its drive"
            ),
            "to_air": FigureKind("Heat reaching the air", "fraction", 1.0, 0, 1),
        },
    ),
    "attenuator": PartKind("Silencer", 40, 2.0, {}, side="both"),
    "duct": PartKind(
        "Supply ducts",
        None,
        2.0,
        {
            "leakage": FigureKind("Leakage", "fraction", 0.03, 0, 0.4),
            "surface_m2": FigureKind("Duct surface", "area", None, 0, 1e5, "of the ducts as drawn"),
            "u_value": FigureKind("U-value", "u_value", 1.1, 0, 10, "office standards, 30 mm insulation"),
            "around_c": FigureKind("Air around them", "temperature", 26.0, -30, 60),
        },
        (("", "leaks into the ceiling void"), ("outside", "leaks outdoors")),
    ),
    "terminals": PartKind(
        "Terminals",
        None,
        2.0,
        {},
        (
            ("none", "supply air alone"),
            ("reheat", "reheat at the terminal"),
            ("unit", "room units"),
            ("own unit", "room units, own outdoor unit"),
            ("heater", "room heaters"),
        ),
    ),
    "rooms": PartKind("Rooms", None, 2.0, {}, side="both"),
    "plenum": PartKind(
        "Ceiling void",
        None,
        2.0,
        {
            "lights": FigureKind("Lights, share to void", "fraction", 0.3, 0, 1),
            "roofs": FigureKind("Roof, share to void", "fraction", 0.3, 0, 1),
            "walls": FigureKind("Walls, share to void", "fraction", 0.0, 0, 1),
        },
        side="return",
    ),
    "return_fan": PartKind(
        "Return fan",
        None,
        2.0,
        {
            "pressure_pa": FigureKind(
                "Total pressure", "pressure", 250.0, 0, 10000, "office standards, until return ducts are drawn"
            ),
            "efficiency": FigureKind("Efficiency to the air", "fraction", 0.55, 0.06, 1),
            "to_air": FigureKind("Heat reaching the air", "fraction", 1.0, 0, 1),
        },
        side="return",
    ),
    "exhaust_fan": PartKind(
        "Exhaust fan",
        None,
        2.0,
        {"pressure_pa": FigureKind("Total pressure", "pressure", None, 0, 10000, "what the way of relief needs")},
        side="return",
    ),
    "relief": PartKind("Exhaust louvre", 25, 2.0, {}, side="return"),
}


class PartFigure(Node, frozen=True):
    """A figure of a part that is not by rule."""

    name: str
    value: Value


class Part(Node, frozen=True):
    """A part in its place in the train; what is not in `figures` is by rule."""

    id: str
    kind: Kind
    name: str = ""  # "" = as its kind
    pressure_pa: Value = Rule()  # at the rated flow of the system
    exponent: float = 0.0  # of pressure on flow; 0 = as its kind
    choice: str = ""
    figures: tuple[PartFigure, ...] = ()

    def __post_init__(self) -> None:
        where = f"part {self.name or self.kind}"
        if self.kind not in KINDS:
            raise InputError(f"There is no part “{self.kind}”", where=where, remedy="Take one of: " + ", ".join(KINDS))
        kind = KINDS[self.kind]
        value_within(self.pressure_pa, 0, 5000, "Pressure drop", where, "Pa")
        if self.exponent:
            within(self.exponent, 1, 2.2, "Exponent", where)
        if self.choice and self.choice not in dict(kind.choices):
            raise InputError(
                f"{kind.name} cannot be “{self.choice}”",
                where=where,
                remedy="Take one of: " + ", ".join(label for _, label in kind.choices),
            )
        for f in self.figures:
            if f.name not in kind.figures:
                raise InputError(f"{kind.name} has no figure “{f.name}”", where=where)
            value_within(
                f.value, kind.figures[f.name].low, kind.figures[f.name].high, kind.figures[f.name].label, where
            )

    @property
    def title(self) -> str:
        return self.name or KINDS[self.kind].name

    @property
    def grows(self) -> float:
        return self.exponent or KINDS[self.kind].exponent

    def given(self, name: str) -> Value:
        return next((f.value for f in self.figures if f.name == name), Rule())


@dataclass(frozen=True, slots=True)
class Pattern:
    """A train to start from."""

    name: str
    flow: str
    supply: str
    rest: str
    kinds: tuple[str, ...]


FRONT, BACK = ("intake", "filter", "recovery"), ("supply_fan", "attenuator", "duct", "terminals", "rooms")
PATTERNS: dict[str, Pattern] = {
    "single_zone_cav": Pattern(
        "Single zone, constant flow",
        "fixed",
        "room",
        "none",
        (*FRONT, "mixing", "cooling", "heating", *BACK, "return_fan", "relief"),
    ),
    "cav_reheat": Pattern(
        "Constant flow with reheat",
        "fixed",
        "neediest",
        "reheat",
        (*FRONT, "mixing", "cooling", "heating", *BACK, "return_fan", "relief"),
    ),
    "vav": Pattern(
        "Variable flow", "load", "held", "none", (*FRONT, "mixing", "cooling", "heating", *BACK, "return_fan", "relief")
    ),
    "vav_reheat": Pattern(
        "Variable flow with reheat",
        "load",
        "held",
        "reheat",
        (*FRONT, "mixing", "cooling", "heating", *BACK, "return_fan", "relief"),
    ),
    "doas": Pattern(
        "Outdoor air with room units",
        "fixed",
        "held",
        "unit",
        (*FRONT, "cooling", "heating", *BACK, "return_fan", "relief"),
    ),
    "heating_ventilation": Pattern(
        "Ventilation with heating", "fixed", "room", "heater", (*FRONT, "heating", *BACK, "return_fan", "relief")
    ),
    "extract": Pattern("Extract alone", "fixed", "held", "none", ("rooms",)),
}


def pattern_parts(pattern: str, old: tuple[Part, ...] = ()) -> tuple[Part, ...]:
    """Parts of a pattern; those of the same kind that were there keep what is pinned on them."""
    if pattern not in PATTERNS:
        raise InputError(f"There is no pattern “{pattern}”", remedy="Take one of: " + ", ".join(PATTERNS))
    kept = list(old)
    parts = []
    for kind in PATTERNS[pattern].kinds:
        found = next((p for p in kept if p.kind == kind), None)
        if found is not None:
            kept.remove(found)
        part = found or Part(id=_free(kind, parts, old), kind=kind)
        if kind == "terminals":
            part = Part(id=part.id, kind=kind, name=part.name, choice=PATTERNS[pattern].rest)
        parts.append(part)
    return tuple(parts)


def _free(kind: str, parts: list[Part], old: tuple[Part, ...]) -> str:
    taken = {p.id for p in (*parts, *old)}
    return next(i for i in (kind, *(f"{kind}{n}" for n in range(2, 99))) if i not in taken)
