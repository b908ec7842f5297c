"""The air system proved: every part's states at the hours that may govern, with what ducts, fan and rooms give back."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import saturated
from garnetfin.core.systems.parts import ROOM_UNITS, Control, Hours, Part, Rooms, Solved
from garnetfin.core.systems.train import solve
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import Figure, assumption, part_figure
from garnetfin.engine.results import (
    AirResult,
    Climate,
    DuctHeat,
    DuctResult,
    FanResult,
    Lack,
    Missing,
    Plant,
    Point,
    Results,
    RoomResult,
    TrainResult,
)
from garnetfin.engine.stages.air import supplies
from garnetfin.engine.stages.fan_duty import FAN_PARTS, lifted_parts
from garnetfin.project.book import Book
from garnetfin.project.lookup import find
from garnetfin.project.parts import KINDS
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

SCREENED = 24  # hours of the greatest rough coil load that are solved
DUCT_GUESS_PA, FAN_GUESS = 250.0, 0.55
WANTED = {
    "supply": "what parts and ducts need",
    "return": "what return ducts, recovery and exhaust louvre need",
    "exhaust": "what the way of relief needs",
}
HEATERS = ("preheat", "heating")
WATER_J_M3K = 4.186e6
# kinds of units in rooms that take cold or heat from the plant's water
COLD_WATER = frozenset({"fan_coil", "beam", "ceiling"})
HOT_WATER = frozenset({"fan_coil", "radiator", "convector", "floor", "ceiling"})


@dataclass(frozen=True, slots=True, eq=False)
class Behind:
    """What is further on in the chain and leads back to the train: supply ducts, their heat, fans by their ways."""

    ducts: DuctResult | Missing
    heat: DuctHeat | None
    fans: Mapping[str, FanResult | Missing]


def train(
    project: Project,
    system: AirSystem,
    climate: Climate | Missing,
    flows: AirResult | Missing,
    behind: Behind,
    rooms: dict[str, RoomResult | Missing],
    also: tuple[int, ...],
    memo: Memo,
) -> TrainResult | Missing:
    """also: hours of the 288 that are wanted beside those that may govern."""
    if isinstance(climate, Missing):
        return climate
    if isinstance(flows, Missing):
        return flows
    if not system.parts:
        return Missing("no unit", "Choose a pattern for the air system")
    if not supplies(system):
        return Missing("extract alone", "The system draws air out of its rooms and treats none", Lack.EXTRACT_ALONE)
    if flows.peaks_m3s <= 0:
        return Missing("no flow", "Give a room a load or outdoor air")
    known = [rooms[r.room_id] for r in flows.rooms]
    row = key(
        system,
        project.book,
        climate,
        flows,
        behind.ducts,
        behind.heat,
        *(f for f in behind.fans.values() if isinstance(f, FanResult)),
        also,
    )
    try:
        return memo.one("train", row, lambda: _compute(project, system, climate, flows, behind, known, also))
    except InputError as error:
        return Missing("not computed", str(error), Lack.NOT_COMPUTED)


def _compute(
    project: Project,
    system: AirSystem,
    climate: Climate,
    flows: AirResult,
    behind: Behind,
    known: list[RoomResult],
    also: tuple[int, ...],
) -> TrainResult:
    parts, figures = core_parts(system, behind)
    leak = next((p.get("leakage") for p in parts if p.kind == "duct"), 0.0)
    control = control_of(project.book, system, flows, leak)
    rooms, hours = design_cases(system, climate, flows, known)
    chosen = _screen(flows, rooms, hours, control, also)
    winter_rooms, winter_hours = winter_case(system, climate, flows, known)
    # The winter design day is one more column of the same solution.
    solved = solve(
        parts,
        _beside(_columns(rooms, chosen), winter_rooms),
        _hours_beside(_hours_at(hours, chosen), winter_hours),
        control,
    )
    on_plant = np.array([r.rest != "own unit" for r in flows.rooms])
    cold = (solved.cooling_w + np.maximum(solved.unit_w[on_plant], 0).sum(axis=0))[: len(chosen)]
    best, last = int(np.argmax(cold)), len(chosen)
    at = tuple((int(h) // 24, int(h) % 24) for h in chosen)
    return TrainResult(
        system.id,
        parts,
        figures,
        control,
        rooms,
        at,
        solved,
        Point(*at[best], solved, best),
        Point(-1, -1, solved, last),
        tuple(r.room_id for r in flows.rooms),
        climate.pressure_pa,
        float(cold[best]),
        rooms.set_c[:, 0],
        winter_rooms.set_c[:, 0],
        winter_rooms.sensible_w[:, 0],
        tuple(p.id for p in system.parts if p.kind in HEATERS),
        on_plant,
    )


def core_parts(system: AirSystem, behind: Behind) -> tuple[tuple[Part, ...], dict[tuple[str, str], Figure]]:
    """The train for the core, and every figure of its parts with its origin."""
    found, figures = [], {}
    for part in system.parts:
        values = {}
        for name in KINDS[part.kind].figures:
            figure = part_figure(part, name, *_computed(system, part.kind, name, behind))
            figures[part.id, name] = figure
            values[name] = figure.figure
        if part.kind == "duct":
            values["ua_w_k"] = values["surface_m2"] * values["u_value"]
        if KINDS[part.kind].pressure_pa is not None:
            figures[part.id, "pressure"] = part_figure(part, "pressure")
        found.append(Part(part.id, part.kind, values, part.choice))
    return tuple(found), figures


def _computed(system: AirSystem, kind: str, name: str, behind: Behind) -> tuple[float | None, str]:
    """Figures of parts that by rule come from what is further on in the chain."""
    ducts, heat, fans = behind.ducts, behind.heat, behind.fans
    if kind == "duct" and name == "surface_m2":
        if isinstance(ducts, Missing):
            return 0.0, "no ducts are drawn yet"
        return sum(
            s.section.perimeter_m * s.length_m for s in ducts.segments.values()
        ), "of the ducts as drawn and sized"
    if kind == "duct" and heat is not None and name in ("surface_m2", "u_value", "around_c"):
        return {
            "surface_m2": (heat.surface_m2, "of the ducts as drawn and sized, inside"),
            "u_value": (heat.ua_w_k / max(heat.surface_m2, 1e-9), "of the ducts: films, lining, insulation"),
            "around_c": (heat.mean_around_c, "where the ducts run, weighed by what passes through them"),
        }[name]
    if kind == "duct" and name == "leakage" and isinstance(ducts, DuctResult) and system.leakage == "computed":
        return ducts.leak_m3s / max(ducts.flow_m3s, 1e-9), "of the ducts as drawn: class, surface and pressure"
    way = next((w for w, k in FAN_PARTS.items() if k == kind), "")
    fan = fans.get(way) if way else None
    if name == "pressure_pa" and isinstance(fan, FanResult):
        return (fan.point.pressure_pa, "at the fan’s operating point") if fan.point else (fan.wanted_pa, WANTED[way])
    if name == "efficiency" and isinstance(fan, FanResult) and fan.point:
        return (
            min(1.0, fan.point.flow_m3s * fan.point.pressure_pa / max(fan.point.electric_w, 1e-9)),
            "of the chosen fan, its drive and motor in the air",
        )
    if kind == "supply_fan" and name == "pressure_pa":
        drops = sum(part_figure(p, "pressure").figure for p in lifted_parts(system))
        return drops + DUCT_GUESS_PA, f"parts of the unit and {DUCT_GUESS_PA:.0f} Pa for ducts that are not drawn yet"
    if kind == "supply_fan" and name == "efficiency":
        return FAN_GUESS, "office standards, until a fan is chosen"
    return None, ""


def control_of(book: Book, system: AirSystem, flows: AirResult, leak: float) -> Control:
    rest = next((p.choice for p in system.parts if p.kind == "terminals"), "") or "none"
    return Control(
        system.flow,
        system.supply,
        rest,
        flows.figures.supply_c.figure,
        flows.figures.warm_limit_k.figure,
        flows.intake_m3s(flows.flow_m3s / (1 - leak)) * flows.density_kg_m3,
        flows.flow_m3s / (1 - leak) * flows.density_kg_m3 if system.flow == "load" else 0.0,
        assumption(book, "fan_base").figure,
        book.fan_reset == "reset",
    )


def rooms_of(flows: AirResult, set_c: NDArray[Any], sensible: NDArray[Any], latent: NDArray[Any]) -> Rooms:
    """Rooms of a system for the core, with loads (R, H) at any hours."""
    density = flows.density_kg_m3
    at = {r.room_id: i for i, r in enumerate(flows.rooms)}

    def column(name: str) -> NDArray[Any]:
        return np.array([getattr(r, name) for r in flows.rooms]) * density

    moved = [(at[m.from_room], at[m.to_room]) for m in flows.moves]
    coming = column("flow_m3s") + column("transfer_in_m3s")
    going = column("extract_m3s") + column("transfer_out_m3s")
    # What leaks out, as a share of the larger, is kept when flows vary.
    larger = np.maximum(np.maximum(coming, going), 1e-9)
    offset = np.clip(column("offset_m3s") / larger, -1.0, 1.0)
    return Rooms(
        column("flow_m3s"),
        column("least_m3s"),
        column("extract_m3s"),
        np.maximum(offset, -1.0),
        np.array(moved, int).reshape(-1, 2),
        np.array([m.flow_m3s for m in flows.moves]) * density,
        set_c,
        sensible,
        latent,
        np.array([r.humidity_high for r in flows.rooms]),
        np.array([r.flow_m3s > 0 for r in flows.rooms]),
        np.array([r.governs == "transfer air" for r in flows.rooms]),
        np.minimum(flows.hold_c[:, None], set_c),
        flows.fall_w_k,
        flows.own_c,
        np.array([r.warm_k for r in flows.rooms]),
        tuple(r.rest for r in flows.rooms),
    )


def design_cases(
    system: AirSystem, climate: Climate, flows: AirResult, known: Sequence[RoomResult]
) -> tuple[Rooms, Hours]:
    """Rooms and conditions of the 288 hours of twelve design days.

    A room that loses heat then floats; it asks for none.
    """
    set_c = np.repeat([[r.figures.cooling_c.figure] for r in known], 288, axis=1)
    month = np.arange(288) // 24 + 1
    running = np.any([r.counted.reshape(288) for r in known], axis=0)
    hours = Hours(
        climate.days.dry_bulb_c.reshape(288),
        climate.days.humidity_ratio.reshape(288),
        climate.pressure_pa,
        running,
        np.isin(month, system.cooling_months),
        np.isin(month, system.heating_months),
        flows.plenum_w,
    )
    return rooms_of(flows, set_c, np.maximum(flows.sensible_w, 0.0), flows.latent_w), hours


def winter_case(
    system: AirSystem, climate: Climate, flows: AirResult, known: Sequence[RoomResult]
) -> tuple[Rooms, Hours]:
    """The winter design day: heating of every room, no gains, rooms at their heating set-points."""
    one = np.ones(1, bool)
    set_c = np.array([[r.figures.heating_c.figure] for r in known])
    heating = np.array([[-r.heating_w] for r in known])
    cold = any(m in system.heating_months for m in (12, 1, 2, 6, 7, 8))
    hours = Hours(
        np.array([climate.figures.winter_c.figure]),
        np.array([climate.winter_ratio]),
        climate.pressure_pa,
        one,
        one & False,
        one & cold,
        np.zeros(1),
    )
    return rooms_of(flows, set_c, heating, np.zeros_like(heating)), hours


OF_HOURS = ("set_c", "sensible_w", "latent_w", "hold_c")  # of rooms, by the hour


def _columns(rooms: Rooms, at: NDArray[Any]) -> Rooms:
    return replace(rooms, **{n: getattr(rooms, n)[:, at] for n in OF_HOURS})


def _hours_at(hours: Hours, at: NDArray[Any]) -> Hours:
    return Hours(
        hours.outdoor_c[at],
        hours.outdoor_w[at],
        hours.pressure_pa,
        hours.on[at],
        hours.cooling[at],
        hours.heating[at],
        hours.plenum_w[at],
    )


def _beside(rooms: Rooms, more: Rooms) -> Rooms:
    """The same rooms at further hours."""
    joined: dict[str, Any] = {n: np.hstack([getattr(rooms, n), getattr(more, n)]) for n in OF_HOURS}
    return replace(rooms, **joined)


def _hours_beside(hours: Hours, more: Hours) -> Hours:
    one, two = (
        [getattr(h, n) for n in ("outdoor_c", "outdoor_w", "on", "cooling", "heating", "plenum_w")]
        for h in (hours, more)
    )
    t, w, on, cooling, heating, plenum_w = (np.concatenate(pair) for pair in zip(one, two))
    return Hours(t, w, hours.pressure_pa, on, cooling, heating, plenum_w)


def rough_coil_w(rooms: Rooms, hours: Hours, control: Control) -> NDArray[Any]:
    """Coil load without feedbacks (H,), good to rank hours by: mixed air to supply air at the rooms' flows."""
    cp = 1020.0
    fall = np.maximum(rooms.set_c - control.supply_c, 1.0)
    design = rooms.design_kg_s[:, None]
    m = (
        np.clip(rooms.sensible_w / (cp * fall), rooms.least_kg_s[:, None], design)
        if control.flow == "load"
        else design + 0 * fall
    )
    total = np.maximum(m.sum(axis=0), 1e-9)
    need = rooms.set_c - rooms.sensible_w / np.maximum(m * cp, 1e-9)
    match control.supply:
        case "neediest":
            ts = np.where(m > 1e-9, need, np.inf).min(axis=0)
        case "room":
            ts = (m * need).sum(axis=0) / total
        case _:
            ts = np.full(m.shape[1], control.supply_c)
    room = (m * rooms.set_c).sum(axis=0) / total
    ts = np.clip(ts, control.supply_c, room)
    share = np.clip(control.outdoor_kg_s / total, 0.0, 1.0) if control.outdoor_kg_s > 0 else np.ones(len(total))
    wet = saturated(ts - 1.0, hours.pressure_pa) * 0.92
    room_w = wet + rooms.latent_w.sum(axis=0) / 2.5e6 / total
    t_mix, w_mix = room + share * (hours.outdoor_c - room), room_w + share * (hours.outdoor_w - room_w)
    out = air.enthalpy(np.minimum(ts - 1.0, t_mix), np.minimum(wet, w_mix))
    rests = np.array(rooms.rest or (control.rest,) * len(m))
    left = np.maximum(rooms.sensible_w - m * cp * (rooms.set_c - ts), 0.0)
    unit = left[np.isin(rests, ROOM_UNITS)].sum(axis=0)
    answer: NDArray[Any] = (total * (air.enthalpy(t_mix, w_mix) - out) + hours.plenum_w + unit) * (
        hours.on & hours.cooling
    )
    return answer


def _screen(flows: AirResult, rooms: Rooms, hours: Hours, control: Control, also: tuple[int, ...]) -> NDArray[Any]:
    rough = rough_coil_w(rooms, hours, control)
    top = np.argsort(-rough, kind="stable")[:SCREENED]
    return np.unique([*top.tolist(), *also])


def point_at(results: Results, system_id: str, month: int, hour: int) -> Point | Missing:
    """An air system at any hour of the design days; month -1 is the winter design day."""
    found = results.trains.get(system_id, Missing("no system"))
    if isinstance(found, Missing):
        return found
    if month < 0:
        return found.heating
    if (month, hour) in found.hours:
        return Point(month, hour, found.solved, found.hours.index((month, hour)))
    system = find(results.project.air_systems, system_id)
    flows = results.air[system_id]
    rooms, hours = design_cases(system, results.climate, flows, [results.rooms[r.room_id] for r in flows.rooms])
    one = np.array([month * 24 + hour])
    return Point(month, hour, solve(found.parts, _columns(rooms, one), _hours_at(hours, one), found.control), 0)


def without(results: Results, system_id: str, part_id: str, month: int, hour: int) -> Point | Missing:
    """The system at an hour of the design days (month -1: winter) with a part away; the supply fan lifts that much
    less.
    """
    found = results.trains.get(system_id, Missing("no system"))
    if isinstance(found, Missing):
        return found
    part = next((p for p in found.parts if p.id == part_id), None)
    if part is None or part.kind in ("rooms", "terminals"):
        return Missing("no part", "A unit needs it")
    fan = results.fans.get(system_id)
    title = find(find(results.project.air_systems, system_id).parts, part_id).title
    drop = dict(fan.part_pa).get(title, 0.0) if isinstance(fan, FanResult) else 0.0
    parts = tuple(
        Part(p.id, p.kind, p.figures | {"pressure_pa": max(p.get("pressure_pa") - drop, 0.0)}, p.choice)
        if p.kind == "supply_fan"
        else p
        for p in found.parts
        if p.id != part_id
    )
    system, flows = find(results.project.air_systems, system_id), results.air[system_id]
    known = [results.rooms[r.room_id] for r in flows.rooms]
    if month < 0:
        rooms, hours = winter_case(system, results.climate, flows, known)
    else:
        rooms, hours = design_cases(system, results.climate, flows, known)
        one = np.array([month * 24 + hour])
        rooms, hours = _columns(rooms, one), _hours_at(hours, one)
    try:
        return Point(month, hour, solve(parts, rooms, hours, found.control), 0)
    except InputError as error:
        return Missing("not computed", str(error), Lack.NOT_COMPUTED)


def all_hours(results: Results, system_id: str) -> Solved | Missing:
    """The system at all 288 hours of the design days."""
    found = results.trains.get(system_id, Missing("no system"))
    if isinstance(found, Missing):
        return found
    system, flows = find(results.project.air_systems, system_id), results.air[system_id]
    rooms, hours = design_cases(system, results.climate, flows, [results.rooms[r.room_id] for r in flows.rooms])
    return solve(found.parts, rooms, hours, found.control)


HOURS_OF_PLANT = 12  # of 288; six once missed the greatest by half a per cent


def building_hours(climate: Climate | Missing, block: object) -> tuple[int, ...]:
    """Hours at which the building as a whole may ask most of the plant: its loads and how warm and damp it is
    outdoors.
    """
    if isinstance(climate, Missing) or isinstance(block, Missing):
        return ()
    load = (np.maximum(block.sensible_w, 0) + np.maximum(block.latent_w, 0)).reshape(288)
    outside = air.enthalpy(climate.days.dry_bulb_c, climate.days.humidity_ratio).reshape(288)
    scale = load.max() if load.max() > 0 else 1.0
    rank = load / scale + (outside - outside.min()) / max(float(np.ptp(outside)), 1.0)
    rank = np.where(block.counted.reshape(288), rank, -1.0)
    return tuple(sorted(int(h) for h in np.argsort(-rank, kind="stable")[:HOURS_OF_PLANT]))


@dataclass(frozen=True, slots=True, eq=False)
class Beside:
    """What units and heaters of rooms ask of the plant whose system treats no air, or that have none: cold (288,) and
    heat [W].
    """

    cold_w: NDArray[np.float64]
    heat_w: float


def beside_the_air(project: Project, flows: dict[str, AirResult | Missing], rooms: dict[str, Any]) -> Beside:
    cold, heat = np.zeros(288), 0.0
    for system in project.air_systems:
        found = flows.get(system.id)
        if supplies(system) or not isinstance(found, AirResult):
            continue
        for row in found.rooms:
            known: RoomResult = rooms[row.room_id]
            if row.rest == "unit":
                cold += np.where(known.counted, np.maximum(known.sensible_w, 0.0), 0.0).reshape(288)
            if row.rest in ("unit", "heater"):
                heat += max(known.heating_w, 0.0)
    kinds: dict[str, set[str]] = {}
    for unit in project.room_units:
        kinds.setdefault(unit.room_id, set()).add(unit.kind)
    for room in project.rooms:
        alone = rooms.get(room.id)
        if room.system_id or not isinstance(alone, RoomResult):
            continue
        if kinds.get(room.id, set()) & COLD_WATER:
            cold += np.where(alone.counted, np.maximum(alone.sensible_w, 0.0), 0.0).reshape(288)
        if kinds.get(room.id, set()) & HOT_WATER:
            heat += max(alone.heating_w, 0.0)
    return Beside(cold, heat)


def plant(
    project: Project,
    trains: dict[str, TrainResult | Missing],
    flows: dict[str, AirResult | Missing],
    rooms: dict[Any, Any],
    also: tuple[int, ...],
) -> Plant | Missing:
    """Cooling at the building's own hour and as the sum of all systems; heating of the winter day; water; floor."""
    known = [t for t in trains.values() if isinstance(t, TrainResult)]
    beside = beside_the_air(project, flows, rooms)
    serving = {r.system_id for r in project.rooms}
    needed = [trains[s.id] for s in project.air_systems if s.id in serving and supplies(s)]
    for train_ in needed:
        if isinstance(train_, Missing):
            return train_  # the others alone would be too small a plant
    if not known and not (beside.heat_w > 0 or beside.cold_w.any()):
        return next(
            (t for t in trains.values() if isinstance(t, Missing)), Missing("no air system", "Add an air system")
        )
    together = []
    for h in also:
        at = (h // 24, h % 24)
        together.append((sum(t.cold_w(Point(*at, t.solved, t.hours.index(at))) for t in known) + beside.cold_w[h], at))
    if not known:
        h = int(beside.cold_w.argmax())
        together = [(float(beside.cold_w[h]), (h // 24, h % 24))]
    elif len(known) == 1 or not together:
        peak = known[0].cooling
        together.append((known[0].coils_peak_w + beside.cold_w[peak.month * 24 + peak.hour], (peak.month, peak.hour)))
    cooling, at = max(together)
    heating = sum(t.heater_w(t.heating) for t in known) + beside.heat_w

    def figure(name: str) -> float:
        return assumption(project.book, name).figure

    def water(load_w: float, warm: str, cold: str) -> float:
        fall = figure(warm) - figure(cold)
        return load_w / (WATER_J_M3K * fall) if fall > 0 else float("nan")

    estimated = any(isinstance(r, RoomResult) and r.estimate is not None for r in rooms.values())
    return Plant(
        cooling,
        at,
        sum(t.coils_peak_w for t in known) + float(beside.cold_w.max()),
        heating,
        water(cooling, "chilled_return_c", "chilled_supply_c"),
        water(heating, "hot_supply_c", "hot_return_c"),
        figure("plant_m2_kw") * (cooling + heating) / 1000,
        figure("handler_m2_m3s") * sum(a.flow_m3s for a in flows.values() if isinstance(a, AirResult)),
        estimated,
    )
