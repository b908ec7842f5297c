"""What each fan of a system has to carry: parts, ducts and rooms on its way, booked to the fans that are there."""

from dataclasses import dataclass

from garnetfin.core.ducts.balance import component_loss
from garnetfin.core.fans.bookings import Bookings, Losses, Present, bookings
from garnetfin.engine.resolve import part_figure
from garnetfin.engine.results import AirResult, DuctResult
from garnetfin.project.parts import KINDS, Part
from garnetfin.project.systems import FAN_WAYS, AirSystem
from garnetfin.project.values import Rule

DUCT_EXPONENT = 1.9  # of ducts that are not looked at one by one
LEAST_M3S = 1e-9
FAN_PARTS = {"supply": "supply_fan", "return": "return_fan", "exhaust": "exhaust_fan"}


@dataclass(frozen=True, slots=True)
class Drop:
    """What a piece of the way takes at its own design flow [Pa], and how it grows with flow; part_id "" for ducts."""

    name: str
    pressure_pa: float
    exponent: float
    part_id: str = ""


@dataclass(frozen=True, slots=True)
class Way:
    """A fan's load: its design flow [m3/s], drops beside its ducts, those of its ducts and the margin on them [Pa]."""

    way: str
    flow_m3s: float
    drops: tuple[Drop, ...]
    duct_pa: float
    allowance_pa: float

    @property
    def wanted_pa(self) -> float:
        return sum(d.pressure_pa for d in self.drops) + self.duct_pa + self.allowance_pa


@dataclass(frozen=True, slots=True)
class UnitAir:
    """Air through a unit at design [m3/s], drops by where they stand, and what each fan carries."""

    supply_m3s: float
    outdoor_m3s: float
    back_m3s: float
    recirculated_m3s: float
    relieved_m3s: float
    outside: tuple[Drop, ...]  # up to and with the mixing box; none without one
    inside: tuple[Drop, ...]  # from there to the supply ducts
    back: tuple[Drop, ...]  # on the return side before box N
    relief: tuple[Drop, ...]
    booked: Bookings
    ways: dict[str, Way]


def lifted_parts(system: AirSystem) -> tuple[Part, ...]:
    """Parts whose pressure the supply fan overcomes: those that drop one, before the rooms."""
    kinds = [p.kind for p in system.parts]
    before = system.parts[: kinds.index("rooms")] if "rooms" in kinds else system.parts
    return tuple(p for p in before if KINDS[p.kind].pressure_pa is not None)


def leaving_parts(system: AirSystem) -> tuple[tuple[Part, float], ...]:
    """Parts of the unit in the way of relief, with what each takes from the air that leaves [Pa]."""
    drops = (
        (p, part_figure(p, "pressure").figure if p.kind == "relief" else part_figure(p, "exhaust_pa").figure)
        for p in system.parts
        if p.kind in ("relief", "recovery")
    )
    return tuple((p, pa) for p, pa in drops if pa > 0)


def at_rated(system: AirSystem, part: Part, flow: float) -> float:
    """Drop of a part at the rated flow [Pa].

    A drop that is typed stands there; one by rule stands at the design flow, as a unit is chosen for it.
    """
    pa = part_figure(part, "pressure").figure
    return pa * (system.rated_m3s / flow) ** part.grows if isinstance(part.pressure_pa, Rule) and flow > 0 else pa


def has_fan(system: AirSystem, way: str) -> bool:
    """Whether a fan stands in a way; systems without a train have those of supply and return."""
    if way == "extract":
        return True  # extract ducts end at a fan of their own
    if not system.parts:
        return way in ("supply", "return")
    return any(p.kind == FAN_PARTS[way] for p in system.parts)


def unit_air(system: AirSystem, air: AirResult, ducts: DuctResult | None, drawn: dict[str, DuctResult]) -> UnitAir:
    """Flows, drops and bookings of a system; ducts None for one that supplies nothing."""
    supply = ducts.flow_m3s if ducts is not None else 0.0
    back = drawn["return"].flow_m3s if "return" in drawn else sum(r.return_m3s for r in air.rooms)
    kinds = [p.kind for p in system.parts]
    mixes = "mixing" in kinds
    recirculated = min(max(supply - air.intake_m3s(supply), 0.0), back) if mixes else 0.0
    relieved = max(back - recirculated, 0.0)
    outside, inside = _supply_side(system, supply, drawn.get("outdoor"), mixes)
    returned, relief = _return_side(system)
    margin = air.figures.allowance.figure
    returned_ducts, known = _return_ducts(drawn.get("return"), back, relief)
    extracts = "extract" in drawn and drawn["extract"].flow_m3s > LEAST_M3S
    supply_pa = ducts.runs.fan_pa if ducts is not None else 0.0
    extract_pa = drawn["extract"].runs.fan_pa if extracts else 0.0
    part = next((p for p in system.parts if p.kind == "mixing"), None)
    there = Present(
        has_fan(system, "supply"),
        has_fan(system, "return"),
        has_fan(system, "exhaust"),
        has_fan(system, "extract"),
        recirculated > LEAST_M3S,
        relieved > LEAST_M3S,
        extracts,
    )
    lost = Losses(
        outdoor=_sum(outside),
        unit=_sum(inside),
        supply=supply_pa * (1 + margin),
        back=_sum(returned) + returned_ducts * (1 + margin * known) if back > LEAST_M3S else 0.0,
        recirculation=next((d.pressure_pa for d in outside if part is not None and d.part_id == part.id), 0.0),
        relief=_sum(relief),
        extract=extract_pa * (1 + margin),
    )
    booked = bookings(lost, there)
    ways: dict[str, Way] = {}
    if there.supply and supply > LEAST_M3S:
        ways["supply"] = Way(
            "supply",
            supply,
            (
                *outside,
                *inside,
                *_more("Return path, lifted through the rooms", booked.rooms),
                *_more("Outdoor air throttled", booked.outdoor_damper),
            ),
            supply_pa,
            supply_pa * margin,
        )
    if there.back and back > LEAST_M3S:
        ways["return"] = _return_way(system, back, returned, relief, returned_ducts, margin * known, booked)
    if there.exhaust and relieved > LEAST_M3S:
        drops = relief if booked.box <= 0 else _more("Relief, beyond what the return fan lifts", booked.exhaust)
        short = _more("Return path", booked.exhaust - _sum(drops)) if booked.box < 0 else ()
        ways["exhaust"] = _typed(system, "exhaust", relieved) or Way("exhaust", relieved, (*drops, *short), 0.0, 0.0)
    if there.extract and extracts:
        pressed = booked.extract - lost.extract
        ways["extract"] = Way(
            "extract", drawn["extract"].flow_m3s, _less("Rooms are pressed", pressed), extract_pa, extract_pa * margin
        )
    return UnitAir(
        supply,
        supply - recirculated,
        back,
        recirculated,
        relieved,
        outside,
        inside,
        returned,
        relief,
        booked,
        {w: ways[w] for w in FAN_WAYS if w in ways},
    )


def _sum(drops: tuple[Drop, ...]) -> float:
    return sum(d.pressure_pa for d in drops)


def _more(name: str, pa: float) -> tuple[Drop, ...]:
    return (Drop(name, pa, 2.0),) if pa > 1e-9 else ()


def _less(name: str, pa: float) -> tuple[Drop, ...]:
    return (Drop(name, pa, 2.0),) if pa < -1e-9 else ()


def _supply_side(
    system: AirSystem, flow: float, outdoor: DuctResult | None, mixes: bool
) -> tuple[tuple[Drop, ...], tuple[Drop, ...]]:
    """(drops up to and with the mixing box, drops behind it)."""
    outside: list[Drop] = []
    inside: list[Drop] = []
    if outdoor is not None:
        (outside if mixes else inside).append(Drop("Outdoor-air ducts", outdoor.runs.fan_pa, DUCT_EXPONENT))
    before = mixes
    for part in lifted_parts(system):
        pa = component_loss(flow, system.rated_m3s, at_rated(system, part, flow), part.grows)
        (outside if before else inside).append(Drop(part.title, pa, part.grows, part.id))
        if part.kind == "mixing":
            before = False
    return tuple(outside), tuple(inside)


def _return_side(system: AirSystem) -> tuple[tuple[Drop, ...], tuple[Drop, ...]]:
    """(drops on the return side before the box behind the return fan, drops of the way of relief)."""
    kinds = [p.kind for p in system.parts]
    behind = system.parts[kinds.index("rooms") + 1 :] if "rooms" in kinds else ()
    back = tuple(
        Drop(p.title, part_figure(p, "pressure").figure, p.grows, p.id) for p in behind if p.kind == "attenuator"
    )
    relief = tuple(Drop(f"{p.title}, air that leaves", pa, p.grows, p.id) for p, pa in leaving_parts(system))
    return back, relief


def _return_ducts(drawn: DuctResult | None, flow: float, relief: tuple[Drop, ...]) -> tuple[float, float]:
    """(what return ducts lose [Pa], 1 where they are drawn). Until then what the office standards give a return fan,
    less the way of relief.
    """
    if drawn is not None:
        return drawn.runs.fan_pa, 1.0
    usual = KINDS["return_fan"].figures["pressure_pa"].by_rule or 0.0
    return (max(usual - _sum(relief), 0.0), 0.0) if flow > LEAST_M3S else (0.0, 0.0)


def _typed(system: AirSystem, way: str, flow: float) -> Way | None:
    """The load of a fan whose pressure is typed at its part."""
    part = next((p for p in system.parts if p.kind == FAN_PARTS[way]), None)
    if part is None or isinstance(part.given("pressure_pa"), Rule):
        return None
    typed = Drop(f"As typed at the {way} fan", part_figure(part, "pressure_pa").figure, DUCT_EXPONENT, part.id)
    return Way(way, flow, (typed,), 0.0, 0.0)


def _return_way(
    system: AirSystem,
    flow: float,
    returned: tuple[Drop, ...],
    relief: tuple[Drop, ...],
    ducts_pa: float,
    margin: float,
    booked: Bookings,
) -> Way:
    typed = _typed(system, "return", flow)
    if typed is not None:
        return typed
    behind = relief if abs(booked.box - _sum(relief)) < 1e-9 else _more("Box behind it, above outdoors", booked.box)
    return Way(
        "return", flow, (*returned, *behind, *_less("Rooms are pressed", -booked.rooms)), ducts_pa, ducts_pa * margin
    )
