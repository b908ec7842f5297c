"""Why? for air: flows and what governs them, outdoor air, states and parts of the train, coil load, plant."""

from typing import Any

import numpy as np

from garnetfin import display
from garnetfin.core.airflow.supply import STEPS
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.properties import SEA_LEVEL_PA
from garnetfin.engine.explain.derivation import (
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    first,
    given_figure,
    most,
    present,
    the,
    the_room,
)
from garnetfin.engine.results import AirResult, Missing, Point, Results, RoomAir, TrainResult
from garnetfin.engine.stages.air import FAN_RISE_K, OFF_COIL_RH
from garnetfin.engine.stages.train import beside_the_air, point_at
from garnetfin.engine.studies.coil_sheet import air_state as state_of
from garnetfin.engine.studies.coil_sheet import coil_sheet, load_parts, part_title
from garnetfin.engine.studies.worksheet import answers
from garnetfin.project.parts import KINDS
from garnetfin.project.spaces import Room

PROCESS = "Air-side processes, ASHRAE Handbook Fundamentals ch. 1; see methods, Air"
LABELS = {
    "cooling": "Cooling",
    "latent": "Latent load",
    "heating": "Heating",
    "outdoor air": "Outdoor air",
    "air change": "Least air change",
    "make-up": "Make-up for extract",
}


def _row(results: Results, room_id: str) -> tuple[RoomAir, AirResult, Room]:
    flows = first(
        a for a in results.air.values() if isinstance(a, AirResult) and any(r.room_id == room_id for r in a.rooms)
    )
    return among(results.room_air, room_id), flows, the(results.project.rooms, room_id)


def flow(results: Results, room_id: str) -> Why:
    row, _, room = _row(results, room_id)
    parts = tuple(
        Contribution(
            LABELS[n],
            row.need(n),
            "room_flow",
            ("need", room_id, n),
            "" if n in row.carried else "met by something else than the air",
        )
        for n in LABELS
        if np.isfinite(row.need(n))
    )
    step = next(s for limit, s in STEPS if row.exact_m3s < limit)
    words: tuple[Any, ...] = (f"{row.governs} governs",)
    if row.origin == "rule" and row.flow_m3s > 0:
        words += (
            ": ",
            Term(row.exact_m3s, "room_flow", ("need", room_id, row.governs) if row.governs in LABELS else ()),
            f", rounded up to steps of {step * 1000:g} L/s",
        )
    return Why(
        f"Supply air of {room.number} {room.name}",
        row.flow_m3s,
        "room_flow",
        words,
        parts,
        "The greatest need of those the air has to meet",
        row.origin,
        ("room", room_id),
    )


def need(results: Results, room_id: str, which: str) -> Why:
    row, flows, room = _row(results, room_id)
    found = the_room(results, room_id)
    f, value, name = found.figures, row.need(which), f"{LABELS[which]} of {room.number} {room.name}"
    go = ("room", room_id)
    supply = f.supply_c or flows.figures.supply_c
    if which == "cooling":
        at = int(np.argmax(np.where(found.counted.reshape(288), flows.sensible_w[_index(flows, room_id)], -np.inf)))
        load = float(flows.sensible_w[_index(flows, room_id)][at])
        return Why(
            name,
            value,
            "room_flow",
            (
                Term(max(load, 0.0), "load", ("room", room_id, "cooling", at // 24, at % 24)),
                f" / ({flows.heat_j_m3k:.0f} J/m³K × (",
                Term(f.cooling_c.figure, "temperature", ("input", room_id, "cooling_c")),
                " − ",
                Term(
                    flows.supply_c if f.supply_c is None else max(supply.figure, flows.supply_c),
                    "temperature",
                    ("system", flows.system_id, "supply_c"),
                ),
                "))",
            ),
            (),
            "Flow at local standard density; sensible heat with the cp of the supply air",
            go=go,
        )
    if which == "latent":
        counted = np.where(found.counted.reshape(288), flows.latent_w[_index(flows, room_id)], 0.0)
        latent = float(counted.max())
        most = float(air.humidity_ratio(f.cooling_c.figure, row.humidity_high, results.climate.pressure_pa))
        dry = float(air.humidity_ratio(flows.supply_c - FAN_RISE_K, OFF_COIL_RH, results.climate.pressure_pa))
        return Why(
            name,
            value,
            "room_flow",
            (
                Term(latent, "load", ("room", room_id, "latent")),
                f" / ({float(air.vapour_enthalpy(f.cooling_c.figure)) / 1e6:.3f} MJ/kg × "
                f"{flows.density_kg_m3:.3f} kg/m³ × (",
                Term(most, "humidity_ratio"),
                " − ",
                Term(dry, "humidity_ratio"),
                "))",
            ),
            (Contribution("Highest relative humidity", row.humidity_high, "fraction", (), row.humidity_source),),
            f"Supply air taken as it leaves a wet coil: {OFF_COIL_RH:.0%}, {FAN_RISE_K:g} K colder than supplied",
            go=go,
        )
    if which == "heating":
        return Why(
            name,
            value,
            "room_flow",
            (
                Term(found.heating_w, "load", ("room", room_id, "heating")),
                f" / ({flows.heat_j_m3k:.0f} J/m³K × ",
                Term(
                    flows.figures.warm_limit_k.figure,
                    "temperature_difference",
                    ("system", flows.system_id, "warm_limit_k"),
                ),
                ")",
            ),
            (),
            "Air no warmer than the room by more than the limit",
            go=go,
        )
    if which == "outdoor air":
        return Why(
            name,
            value,
            "room_flow",
            (Term(f.outdoor_m3s.figure, "room_flow", ("input", room_id, "outdoor_m3s")),),
            (
                Contribution(
                    "People",
                    f.people.figure,
                    "plain",
                    ("input", room_id, "people"),
                    f"{f.air_person_m3s * 1000:g} L/s each",
                ),
                Contribution(
                    "Floor area",
                    f.area_m2.figure,
                    "area",
                    ("input", room_id, "area_m2"),
                    f"{f.air_area_m3s_m2 * 1000:g} L/s m²",
                ),
            ),
            f.outdoor_m3s.source,
            go=go,
        )
    if which == "air change":
        return Why(
            name,
            value,
            "room_flow",
            (
                Term(f.air_change_1h.figure, "air_change", ("input", room_id, "air_change_1h")),
                " × ",
                Term(found.volume_m3, "volume"),
                " / 3600 s",
            ),
            (),
            f.air_change_1h.source,
            go=go,
        )
    return Why(
        name,
        value,
        "room_flow",
        (
            Term(row.extract_m3s, "room_flow", ("input", room_id, "extract_m3s")),
            " + ",
            Term(row.transfer_out_m3s, "room_flow"),
            " out − ",
            Term(row.transfer_in_m3s, "room_flow"),
            " in by transfer",
        ),
        (),
        "What leaves the room by extract and transfer has to come in",
        go=go,
    )


def _index(flows: AirResult, room_id: str) -> int:
    return next(i for i, r in enumerate(flows.rooms) if r.room_id == room_id)


def balance(results: Results, room_id: str) -> Why:
    row, flows, room = _row(results, room_id)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    parts = [Contribution("Supply", row.flow_m3s, "room_flow", ("flow", room_id))]
    parts += [
        Contribution(
            f"From {names[m.from_room]}",
            m.flow_m3s,
            "room_flow",
            ("air balance", m.from_room),
            "by rule: what is lacking" if m.by_rule else "typed",
        )
        for m in flows.moves
        if m.to_room == room_id
    ]
    parts += [
        Contribution(f"To {names[m.to_room]}", -m.flow_m3s, "room_flow", ("air balance", m.to_room))
        for m in flows.moves
        if m.from_room == room_id
    ]
    parts += [
        Contribution("Extract", -row.extract_m3s, "room_flow", ("input", room_id, "extract_m3s")),
        Contribution("Leaks out", -row.offset_m3s, "room_flow"),
    ]
    if row.short_m3s:
        parts.append(Contribution("Make-up that is missing", row.short_m3s, "room_flow"))
    return Why(
        f"Return air of {room.number} {room.name}",
        row.return_m3s,
        "room_flow",
        ("closes the balance: what comes in less what else goes out",),
        tuple(p for p in parts if abs(p.figure) > 1e-9),
        f"pressure of the room: {row.pressure}",
        go=("room", room_id),
    )


def flows_of(results: Results, ids: tuple[str, ...]) -> Why:
    """Supply air of several rooms."""
    rows = [_row(results, i)[0] for i in ids]
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    parts = sorted(
        (Contribution(names[r.room_id], r.flow_m3s, "room_flow", ("flow", r.room_id), r.governs) for r in rows),
        key=lambda p: -p.figure,
    )
    return Why(
        f"Supply air of {len(rows)} rooms",
        sum(r.flow_m3s for r in rows),
        "room_flow",
        ("the sum of their own flows",),
        most(parts),
    )


def outdoor(results: Results, system_id: str) -> Why:
    flows: AirResult = among(results.air, system_id)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    parts = sorted(
        (
            Contribution(names[r.room_id], r.need("outdoor air"), "room_flow", ("need", r.room_id, "outdoor air"))
            for r in flows.rooms
        ),
        key=lambda p: -p.figure,
    )
    v = flows.ventilation
    words: tuple[Any, ...] = (flows.outdoor.source,)
    if v is not None:
        words = (
            Term(v.uncorrected_m3s, "room_flow"),
            f" / {v.efficiency:.3f}; the critical room is {names[flows.critical_room]}, "
            f"outdoor share {v.share:.3f}, diversity of people {v.diversity:.2f}",
        )
    return Why(
        "Outdoor air of the unit",
        flows.outdoor_m3s,
        "system_flow",
        words,
        most(parts, 14),
        flows.outdoor.source,
        flows.outdoor.origin,
        ("system", system_id),
    )


def point_of(results: Results, system_id: str, month: int, hour: int) -> tuple[TrainResult, Point]:
    """A system at an hour of the design days. Raises NotThere where it has none."""
    point = point_at(results, system_id, month, hour)
    if isinstance(point, Missing):
        raise NotThere
    return among(results.trains, system_id), point


def system_value(results: Results, system_id: str, field: str) -> Why:
    flows: AirResult = among(results.air, system_id)
    names = {
        "supply_c": ("Supply temperature", "temperature"),
        "warm_limit_k": ("Heating air above the room", "temperature_difference"),
        "least_share": ("Least flow, of a room’s own", "fraction"),
        "humidity_high": ("Humidity limit", "fraction"),
    }
    name, quantity = names[field]
    return given_figure(name, quantity, getattr(flows.figures, field), ("system", system_id))


def part_value(results: Results, system_id: str, part_id: str, name: str) -> Why:
    found: TrainResult = among(results.trains, system_id)
    part = first(p for p in found.parts if p.id == part_id)
    label, quantity = (
        ("Pressure drop", "pressure")
        if name == "pressure"
        else (KINDS[part.kind].figures[name].label, KINDS[part.kind].figures[name].quantity)
    )
    return given_figure(
        f"{label}, {part_title(results, system_id, part_id)}", quantity, found.figures[part_id, name], ("part", part_id)
    )


def air_state(results: Results, system_id: str, node: str, month: int, hour: int) -> Why:
    """A state: its temperature, and how the air came to it."""
    found, point = point_of(results, system_id, month, hour)
    t, w, m = point.node(node)
    p = found.pressure_pa
    parts = [
        Contribution("Humidity ratio", w, "humidity_ratio"),
        Contribution("Relative humidity", float(air.relative_humidity(t, w, p)), "fraction"),
        Contribution("Enthalpy", float(air.enthalpy(t, w)), "enthalpy"),
        Contribution("Wet bulb", float(air.wet_bulb(t, w, p)), "temperature"),
        Contribution("Dry air", m, "mass_flow"),
    ]
    names = {
        "outdoor": "Outdoor air",
        "supply": "Supply air at the rooms",
        "rooms": "Air of the rooms, mixed",
        "return": "Return air",
        "exhaust": "Exhaust air",
    }
    title = names.get(node) or f"Behind {part_title(results, system_id, node)}"
    words: tuple[Any, ...] = ()
    if node == "outdoor" and month >= 0:
        words = (Term(t, "temperature", ("outdoor", month, hour)),)
    elif node == "rooms":
        words = ("rooms at their set-points or where they drift, weighed by the air that returns",)
    elif node == "supply":
        words = (
            "wanted ",
            Term(float(point.solved.target_c[point.i]), "temperature", ("system", system_id, "supply_c")),
            " at the rooms",
        )
    elif node in [q.id for q in found.parts]:
        words = ("see the part",)
        parts.append(
            Contribution("Heat into the air there", point.heat_w(node), "load", ("part", system_id, node, month, hour))
        )
    return Why(f"{title}, {point.name}", t, "temperature", words, tuple(parts), PROCESS)


def part(results: Results, system_id: str, part_id: str, month: int, hour: int) -> Why:
    """What a part does to the air: its equation with numbers."""
    found, point = point_of(results, system_id, month, hour)
    core = first(q for q in found.parts if q.id == part_id)
    before_id = _before(found, part_id)
    t1, w1, _m1 = point.node(before_id)
    t2, _w2, m2 = point.node(part_id)
    heat, title = point.heat_w(part_id), part_title(results, system_id, part_id)

    def own(name: str) -> Term:
        f = found.figures[part_id, name]
        return Term(f.figure, KINDS[core.kind].figures[name].quantity, ("part figure", system_id, part_id, name))

    before = Term(t1, "temperature", ("air state", system_id, before_id, month, hour))
    go = ("part", f"{system_id}/{part_id}")
    parts = (
        Contribution("Air in front", t1, "temperature", ("air state", system_id, before_id, month, hour)),
        Contribution("Air behind", t2, "temperature", ("air state", system_id, part_id, month, hour)),
        Contribution("Dry air", m2, "mass_flow"),
    )
    name = f"{title}, {point.name}"
    if core.kind == "recovery":
        tr = point.node("return")[0]
        share = float(point.solved.recovery_share[point.i])
        return Why(
            name,
            heat,
            "load",
            (
                "C of the smaller flow × ",
                own("sensible"),
                " × (",
                Term(tr, "temperature", ("air state", system_id, "return", month, hour)),
                " − ",
                before,
                f") × {share:.2f} in use",
            ),
            (
                *parts,
                Contribution(
                    "Exhaust leaves at",
                    point.node("exhaust")[0],
                    "temperature",
                    ("air state", system_id, "exhaust", month, hour),
                ),
            ),
            "EN 308; " + PROCESS,
            go=go,
            remark="Held back by frost."
            if bool(point.solved.frost[point.i])
            else "Turned down, since more would have to be cooled away."
            if share < 0.999
            else "",
        )
    if core.kind in ("cooling", "precool"):
        return (
            coil(results, system_id, month, hour)
            if core.kind == "cooling"
            else Why(name, heat, "load", (Term(m2, "mass_flow"), " × Δh − condensate"), parts, PROCESS, go=go)
        )
    if core.kind in ("preheat", "heating"):
        return Why(
            name,
            heat,
            "load",
            (
                Term(m2, "mass_flow"),
                f" × {float(air.specific_heat(w1)):.0f} J/kgK × (",
                Term(t2, "temperature"),
                " − ",
                before,
                ")",
            ),
            parts,
            PROCESS,
            go=go,
        )
    if core.kind in ("supply_fan", "return_fan"):
        v = float(air.specific_volume(t1, w1, found.pressure_pa))
        return Why(
            name,
            heat,
            "load",
            (
                Term(m2, "mass_flow"),
                f" × {v:.3f} m³/kg × ",
                own("pressure_pa"),
                " / ",
                own("efficiency"),
                " × ",
                own("to_air"),
                " to the air",
            ),
            parts,
            PROCESS,
            go=go,
        )
    if core.kind == "duct":
        return Why(
            name,
            heat,
            "load",
            ("air of ", before, " in ", own("around_c"), "; U A = ", own("u_value"), " × ", own("surface_m2")),
            parts,
            PROCESS,
            go=go,
        )
    if core.kind == "mixing":
        out, handler = point.of(point.solved.outdoor_kg_s), point.of(point.solved.handler_kg_s)
        return Why(
            name,
            t2,
            "temperature",
            (
                Term(out, "mass_flow", ("system outdoor", system_id)),
                " of ",
                before,
                " with ",
                Term(handler - out, "mass_flow"),
                " of ",
                Term(point.node("return")[0], "temperature", ("air state", system_id, "return", month, hour)),
            ),
            parts,
            "Mixed by dry-air mass and enthalpy",
            go=go,
            remark="More outdoor air than the least: free cooling." if bool(point.solved.free[point.i]) else "",
        )
    if core.kind == "humidifier":
        water = float(point.solved.water_kg_s[part_id][point.i])
        return Why(name, water, "moisture_flow", ("keeps the rooms at ", own("humidity")), parts, PROCESS, go=go)
    if core.kind == "terminals":
        return Why(
            name,
            point.of(point.solved.reheat_w.sum(axis=0)),
            "load",
            ("what each room needs warmer than the supply air, summed",),
            parts,
            PROCESS,
            go=go,
        )
    return Why(
        name, heat, "load", ("changes pressure, not the air’s state",) if abs(heat) < 1 else (), parts, PROCESS, go=go
    )


def _before(found: TrainResult, part_id: str) -> str:
    ids = [q.id for q in found.parts]
    i = ids.index(part_id)
    rooms = next(k for k, q in enumerate(found.parts) if q.kind == "rooms")
    if i == 0:
        return "outdoor"
    return "rooms" if i == rooms + 1 else ids[i - 1]


def coil(results: Results, system_id: str, month: int, hour: int) -> Why:
    found, point = point_of(results, system_id, month, hour)
    sheet = coil_sheet(results, system_id, point)
    if isinstance(sheet, Missing):
        raise NotThere
    made, _ = load_parts(found, point)
    a, b = sheet.entering, sheet.leaving
    return Why(
        f"Cooling coil, {point.name}",
        sheet.total_w,
        "load",
        (
            Term(a.m, "mass_flow"),
            " × (",
            Term(a.h, "enthalpy", ("air state", system_id, _before(found, sheet.part_id), month, hour)),
            " − ",
            Term(b.h, "enthalpy", ("air state", system_id, sheet.part_id, month, hour)),
            f") − condensate {sheet.condensate_kg_s * 3600:.1f} kg/h × {b.t:.1f} °C",
        ),
        tuple(Contribution(n, v, "load", _address(results, system_id, n, month, hour)) for n, v in made),
        "Bypass factor and apparatus dew point; " + PROCESS,
        go=("part", f"{system_id}/{sheet.part_id}"),
        remark=f"The parts sum to the load; {sheet.residual_w:.1e} W are left over.",
    )


def _address(results: Results, system_id: str, name: str, month: int, hour: int) -> tuple[Any, ...]:
    found: TrainResult = among(results.trains, system_id)
    by_name = {
        "Heat recovery": "recovery",
        "Duct gain": "duct",
        "Fans": "supply_fan",
        "Reheat at terminals": "terminals",
        "Ceiling voids": "plenum",
    }
    if name == "Ventilation":
        return ("system outdoor", system_id)
    if name.startswith("Rooms") and month >= 0:
        return ("block", found.room_ids, "cooling" if name.endswith("sensible") else "latent", month, hour)
    kind = by_name.get(name)
    part_id = next((q.id for q in found.parts if q.kind == kind), "")
    return ("part", system_id, part_id, month, hour) if part_id else ()


def plant(results: Results, what: str) -> Why:
    found = present(results.plant)
    systems = {s.id: s.name for s in results.project.air_systems}
    trains = [t for t in results.trains.values() if isinstance(t, TrainResult)]
    beside = beside_the_air(results.project, results.air, results.rooms)
    m, h = (-1, 0) if what == "heating" else found.cooling_at
    asked = beside.heat_w if what == "heating" else float(beside.cold_w[m * 24 + h])
    others = (Contribution("Rooms from which air is drawn alone", asked, "load"),) if asked > 0 else ()
    if what == "heating":
        parts = tuple(Contribution(systems[t.system_id], t.heater_w(t.heating), "load") for t in trains) + others
        return Why(
            "Heating of the central plant",
            found.heating_w,
            "load",
            ("coils of handlers, reheat and room heaters on the winter design day",),
            parts,
            PROCESS,
        )
    parts = tuple(
        Contribution(
            systems[t.system_id],
            t.cold_w(point_at(results, t.system_id, m, h)),
            "load",
            ("coil", t.system_id, m, h),
            f"own peak {t.coils_peak_w / 1000:.1f} kW, {t.cooling.name}",
        )
        for t in trains
    )
    return Why(
        f"Cooling of the central plant, {display.hour(m, h)}",
        found.cooling_w,
        "load",
        (
            "the sum of all coils at the building’s own hour; each at its own hour they make ",
            Term(found.cooling_sum_w, "load"),
        ),
        parts + others,
        PROCESS,
    )


STATE_FIGURES = {
    "t": ("Dry bulb", "temperature"),
    "w": ("Humidity ratio", "humidity_ratio"),
    "h": ("Enthalpy", "enthalpy"),
    "rh": ("Relative humidity", "fraction"),
    "wb": ("Wet bulb", "temperature"),
    "td": ("Dew point", "temperature"),
    "volume": ("Specific volume", "specific_volume"),
}
WORK_FIGURES = {
    "heat_w": ("Heat", "load"),
    "sensible_w": ("Sensible heat", "load"),
    "flow_m3s": ("Flow", "room_flow"),
    "water_kg_s": ("Water", "moisture_flow"),
}


def list_row(results: Results, row_id: str, what: str, at: tuple[Any, ...] = ()) -> Why:
    """A figure of the state list. `at`: (air system, month, hour) of the point in force, where one is."""
    row, points = the(results.project.state_list, row_id), {at[0]: point_of(results, *at)[1]} if at else {}
    a = answers(results, points)[[r.id for r in results.project.state_list].index(row_id)]
    names = {r.id: r.name for r in results.project.state_list}
    words = {
        "state": "by the two figures typed",
        "mix": "mixed by dry air and enthalpy",
        "process": "from one state to another",
        "difference": "between two states",
        "flow": "what the flow carries between two states",
    }.get(row.kind, "as the chain has it")
    made_of = tuple(
        Contribution(names[s.row], s.share, "fraction", ("list row", s.row, "t", at))
        for s in row.sources
        if s.row in names
    )
    if what in WORK_FIGURES:
        name, quantity = WORK_FIGURES[what]
        return Why(f"{name}, {row.name}", getattr(a, what), quantity, (words,), made_of, PROCESS)
    name, quantity = STATE_FIGURES[what]
    pressure = SEA_LEVEL_PA if isinstance(results.climate, Missing) else results.climate.pressure_pa
    s = state_of(a.t, a.w, 1.0, pressure)
    others = tuple(
        Contribution(n, getattr(s, k), q) for k, (n, q) in STATE_FIGURES.items() if k in ("t", "w") and k != what
    )
    return Why(
        f"{name}, {row.name}",
        getattr(s, what),
        quantity,
        (words, " at ", Term(pressure, "air_pressure")),
        (*made_of, *others),
        "ASHRAE Fundamentals ch. 1; see methods, Air",
    )


def arrives(results: Results, room_id: str) -> Why:
    """Outdoor air in a room: in its supply and what leaks in, and what other rooms have not used of theirs."""
    row, flows, room = _row(results, room_id)
    share = flows.outdoor_m3s / flows.flow_m3s if flows.flow_m3s > 0 else 0.0
    return Why(
        f"Outdoor air that arrives in {room.number} {room.name}",
        flows.arrives_m3s[room_id],
        "room_flow",
        (
            "a tracer given off as outdoor air is asked for: ",
            Term(row.flow_m3s, "room_flow", ("flow", room_id)),
            " of supply, of which ",
            Term(share, "fraction"),
            " are outdoor air, and the unused part of what recirculates",
        ),
        (
            Contribution("Asked for", row.wanted_m3s, "room_flow", ("need", room_id, "outdoor air")),
            Contribution("Taken in by the unit", flows.outdoor_m3s, "room_flow", ("system outdoor", flows.system_id)),
            Contribution("In by transfer", row.transfer_in_m3s, "room_flow", ("air balance", room_id)),
        ),
        "Mass balance of the tracer in all rooms together; see methods, Outdoor air",
        go=("room", room_id),
    )


AIR_KINDS = {
    "arrives": arrives,
    "flow": flow,
    "list row": list_row,
    "flows of": flows_of,
    "need": need,
    "air balance": balance,
    "system outdoor": outdoor,
    "system": system_value,
    "part figure": part_value,
    "air state": air_state,
    "part": part,
    "coil": coil,
    "plant": plant,
}
