"""The Air view: train, psychrometric chart, states, balance, coil check, plant, as plain values in the units in
force.
"""

import itertools
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from garnetfin import display
from garnetfin.core.units import to_shown
from garnetfin.engine.air_year import AirYear
from garnetfin.engine.coil_sheet import AirState, air_state, closing, coil_sheet, part_title
from garnetfin.engine.psychro_chart import chart_lines, coil_path
from garnetfin.engine.results import AirResult, FanResult, Missing, Plant, Point, TrainResult
from garnetfin.engine.stages.train import point_at
from garnetfin.engine.year import date_of
from garnetfin.project.lookup import find
from garnetfin.project.parts import KINDS, PATTERNS
from garnetfin.ui.state import State
from garnetfin.ui.view_models.chart_data import HourFieldVM, YearFieldVM
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

OUTDOOR, MIXED, SUPPLY, RETURN, EXHAUST = "outdoor", "faint", "supply", "return", "exhaust"


@dataclass(frozen=True)
class StateVM:
    """A numbered state: where it is, the air's nature (a colour), its figures."""

    number: int
    node: str
    name: str
    nature: str
    t: float  # in the unit shown
    w: float
    text: tuple[str, str]  # "26.5 °C", "11.5 g/kg"


@dataclass(frozen=True)
class PartVM:
    id: str
    kind: str
    title: str
    note: str
    side: str  # supply, return
    before: str  # nature of the air in front of it, and behind it
    behind: str
    works: bool  # gives or takes heat at this point
    why: tuple = ()


@dataclass(frozen=True)
class TrainVM:
    parts: tuple[PartVM, ...]
    states: tuple[StateVM, ...]
    chosen: str
    rooms: tuple[str, str]  # how many, and the air they get
    returned: str
    recovery: str
    findings: frozenset[str]


@dataclass(frozen=True)
class LineVM:
    kind: str
    label: str
    points: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class PathVM:
    """A process from state to state; faint: of the other design point."""

    nature: str
    points: tuple[tuple[float, float], ...]
    faint: bool = False


@dataclass(frozen=True)
class PsychroVM:
    lines: tuple[LineVM, ...]
    paths: tuple[PathVM, ...]
    states: tuple[StateVM, ...]
    others: tuple[StateVM, ...]  # of the other design point, without numbers
    other_name: str
    rows: tuple[StateVM, ...]  # of the state list
    row_paths: tuple[PathVM, ...]
    pressure: str
    x_range: tuple[float, float]
    y_range: tuple[float, float]
    units: tuple[str, str]
    movable: frozenset[str]  # nodes that can be dragged


def point_of(state: State, kind: str) -> Point | Missing:
    """The design point in force: cooling, heating, or the hour that is picked."""
    found = (
        state.results.trains.get(state.show.system_id, Missing("no system", "Add an air system"))
        if state.results
        else Missing("computing")
    )
    if isinstance(found, Missing):
        return found
    if kind == "heating":
        return found.heating
    if kind == "hour" and state.show.hour is not None:
        return point_at(state.results, state.show.system_id, *state.show.hour)
    return found.cooling


def _natures(found: TrainResult) -> dict[str, str]:
    """Nature of the air behind every part and at every node."""
    natures, now = {"outdoor": OUTDOOR}, OUTDOOR
    mixes = any(p.kind == "mixing" for p in found.parts)
    back = False
    for part in found.parts:
        if part.kind == "mixing":
            now = MIXED
        elif part.kind in ("cooling", "heating", "supply_fan") and now in (OUTDOOR, MIXED):
            now = SUPPLY
        elif part.kind == "rooms":
            now, back = RETURN, True
        elif part.kind == "relief" and back:
            now = EXHAUST
        natures[part.id] = now
    return natures | {
        "supply": SUPPLY,
        "rooms": RETURN,
        "return": RETURN if mixes else EXHAUST,
        "exhaust": EXHAUST,
        "before duct": SUPPLY,
    }


def _nodes(found: TrainResult, point: Point) -> list[tuple[str, str]]:
    """Nodes worth a number: (node, name), in the order of the air; where nothing changed there is none."""
    rows, last = [("outdoor", "Outdoor")], point.node("outdoor")
    names = {
        "recovery": "After recovery",
        "preheat": "Preheated",
        "precool": "Precooled",
        "mixing": "Mixed",
        "cooling": "Cooled",
        "heating": "Heated",
        "humidifier": "Humidified",
    }
    for part in found.parts:
        if part.kind == "rooms":
            break
        now = point.node(part.id)
        moved = abs(now[0] - last[0]) > 0.02 or abs(now[1] - last[1]) > 2e-5
        if part.kind in names and (moved or part.kind in ("cooling", "mixing")):
            rows.append((part.id, names[part.kind]))
            last = now
    rows += [("supply", "Supply to rooms"), ("rooms", "Rooms"), ("return", "Return")]
    if any(p.kind == "recovery" for p in found.parts):
        rows.append(("exhaust", "Exhaust"))
    return rows


def states(state: State, found: TrainResult, point: Point) -> tuple[StateVM, ...]:
    units, natures, made = state.show.units, _natures(found), []
    for i, (node, name) in enumerate(_nodes(found, point), 1):
        t, w, _ = point.node(node)
        made.append(
            StateVM(
                i,
                node,
                name,
                natures.get(node, SUPPLY),
                to_shown("temperature", t, units),
                to_shown("humidity_ratio", w, units),
                (display.with_unit("temperature", t, units), display.with_unit("humidity_ratio", w, units)),
            )
        )
    return tuple(made)


def train(state: State, point: Point) -> TrainVM:
    results, units, system = state.results, state.show.units, state.system
    found: TrainResult = results.trains[system.id]
    flows: AirResult = results.air[system.id]
    natures, parts, before, side = _natures(found), [], OUTDOOR, "supply"
    fan = results.fans.get(system.id)
    lifted = dict(zip((p.id for p in system.parts), (p.title for p in system.parts)))
    pressure = dict(fan.part_pa) if isinstance(fan, FanResult) else {}
    for part in found.parts:
        if part.kind == "rooms":
            side, before = "return", RETURN
            continue
        heat = point.heat_w(part.id)
        note = _note(state, found, point, part, pressure.get(lifted[part.id]), heat)
        parts.append(
            PartVM(
                part.id,
                part.kind,
                find(system.parts, part.id).title,
                note,
                side,
                before,
                natures[part.id],
                abs(heat) > 1.0,
                ("part", system.id, part.id, point.month, point.hour),
            )
        )
        before = natures[part.id]
    recovery = next((p for p in found.parts if p.kind == "recovery"), None)
    return TrainVM(
        tuple(parts),
        states(state, found, point),
        next(iter(state.selection.of("part")), ""),
        (f"{sum(r.flow_m3s > 0 for r in flows.rooms)} rooms", display.with_unit("room_flow", flows.flow_m3s, units)),
        f"Return from rooms, {display.with_unit('room_flow', point.node('rooms')[2] / flows.density_kg_m3, units)}",
        f"{float(point.solved.recovery_share[point.i]) * recovery.get('sensible') * 100:.0f} %" if recovery else "",
        frozenset(
            f.object_id.partition("/")[2]
            for f in results.findings
            if f.kind == "part" and f.object_id.startswith(f"{system.id}/")
        ),
    )


def _note(state: State, found: TrainResult, point: Point, part, drop: float | None, heat: float) -> str:
    units = state.show.units
    words = [display.with_unit("pressure", drop, units)] if drop is not None else []
    match part.kind:
        case "supply_fan" | "return_fan":
            words = [
                display.with_unit("pressure", part.get("pressure_pa"), units),
                display.with_unit("load", heat, units, 1),
            ]
        case "mixing":
            handler = point.of(point.solved.handler_kg_s)
            share = point.of(point.solved.outdoor_kg_s) / handler if handler else 0.0
            words = [f"{share * 100:.0f} % outdoor"]
        case "cooling" | "heating" | "preheat" | "precool" | "recovery" | "plenum":
            words.append(display.with_unit("load", abs(heat), units, 1) if abs(heat) > 1.0 else "off")
        case "duct":
            words = [display.with_unit("load", heat, units, 1), f"leaks {part.get('leakage') * 100:.0f} %"]
        case "humidifier":
            water = float(point.solved.water_kg_s.get(part.id, np.zeros(1))[point.i])
            words.append(display.with_unit("moisture_flow", water, units) if water > 3e-6 else "off")
        case "terminals":
            reheat, unit = point.of(point.solved.reheat_w.sum(axis=0)), point.solved.unit_w[:, point.i]
            if reheat > 1:
                words = [f"reheat {display.with_unit('load', reheat, units, 1)}"]
            elif np.abs(unit).sum() > 1:
                words = [f"in rooms {display.with_unit('load', float(np.abs(unit).sum()), units, 1)}"]
    return " · ".join(words)


def _shown(points: np.ndarray, units) -> tuple[tuple[float, float], ...]:
    return tuple(
        (to_shown("temperature", float(t), units), to_shown("humidity_ratio", float(w), units)) for t, w in points
    )


def _paths(
    state: State, found: TrainResult, point: Point, made: tuple[StateVM, ...], faint: bool = False
) -> tuple[PathVM, ...]:
    units, paths = state.show.units, []
    for a, b in itertools.pairwise(made):
        if b.node == "rooms":
            nature = "garnet"
        elif b.node in ("return", "exhaust"):
            nature = b.nature
        else:
            nature = b.nature if b.node != "supply" else SUPPLY
        ends = np.array([point.node(a.node)[:2], point.node(b.node)[:2]])
        coil = point.solved.coils.get(b.node)
        if coil is not None and not faint:
            ends = coil_path(*ends[0], *ends[1], float(coil.adp_c[point.i]), found.pressure_pa)
        if b.node == "exhaust" or a.node == "return":
            continue
        paths.append(PathVM(nature, _shown(ends, units), faint))
    back = next((s for s in made if s.node == "return"), None)
    mixed = next((s for s in made if any(p.id == s.node and p.kind == "mixing" for p in found.parts)), None)
    if back and mixed:
        paths.append(PathVM(MIXED, ((back.t, back.w), (mixed.t, mixed.w)), faint))
    return tuple(paths)


LABELLED = {"rh": (0.2, 0.4, 0.6, 0.8), "SI": 10, "IP": 0}  # enthalpy: every second line
MOVABLE = ("held", "coil", "neediest")


@lru_cache(maxsize=8)
def _lines(pressure_pa: float, units: str) -> tuple[LineVM, ...]:
    """Lines of the chart; the same tuple while pressure and units stay."""
    lines = []
    for line in chart_lines(pressure_pa, units):
        label = ""
        if line.kind == "rh" and line.value in LABELLED["rh"]:
            label = f"{line.value * 100:.0f} %"
        elif (
            line.kind == "h"
            and round(to_shown("enthalpy", line.value, units)) % (20 if units == "SI" else 10) == LABELLED[units]
        ):
            label = display.figure("enthalpy", line.value, units, 0)
        lines.append(
            LineVM(
                "saturation" if line.kind == "rh" and line.value == 1.0 else line.kind,
                label,
                _shown(line.points, units),
            )
        )
    return tuple(lines)


def psychro(
    state: State, point: Point, rows: tuple[StateVM, ...] = (), row_paths: tuple[PathVM, ...] = ()
) -> PsychroVM:
    units = state.show.units
    found: TrainResult = state.results.trains[state.show.system_id]
    other = found.heating if point.month >= 0 else found.cooling
    made, others = states(state, found, point), states(state, found, other)
    temperatures = [s.t for s in (*made, *others, *rows)]
    low, high = min(temperatures), max(temperatures)
    room = 0.12 * (high - low)
    most = max(s.w for s in (*made, *others, *rows))
    movable = (
        frozenset(
            s.node
            for s in made
            if state.system.supply in MOVABLE and (s.node == "supply" or s.node in point.solved.coils)
        )
        if point.month >= 0
        else frozenset()
    )
    return PsychroVM(
        _lines(found.pressure_pa, units),
        _paths(state, found, point, made) + _paths(state, found, other, others, True),
        made,
        others,
        other.name
        if other.month >= 0
        else f"winter, {display.with_unit('temperature', other.node('outdoor')[0], units, 0)}",
        rows,
        row_paths,
        display.with_unit("air_pressure", found.pressure_pa, units),
        (low - room, high + room),
        (0.0, most * 1.28),
        (display.unit("temperature", units), display.unit("humidity_ratio", units)),
        movable,
    )


def state_rows(state: State, point: Point) -> TableVM:
    """States of the train as a table beside the chart."""
    units = state.show.units
    found: TrainResult = state.results.trains[state.show.system_id]
    columns = (
        Column("State", width=104, left=True, stretch=True),
        Column("", display.unit("temperature", units), 46),
        Column("", display.unit("humidity_ratio", units), 44),
        Column("", "%RH", 36),
        Column("", display.unit("enthalpy", units), 48),
        Column("", display.unit("mass_flow", units), 62),
    )
    rows = []
    for s in states(state, found, point):
        a = air_state(*point.node(s.node), found.pressure_pa)
        why = ("air state", found.system_id, s.node, point.month, point.hour)
        rows.append(Row("node", s.node, (Cell(f"{s.number}  {s.name}"), *_state_cells(a, units, why))))
    return TableVM(columns, tuple(rows))


def _state_cells(a: AirState, units, why: tuple) -> tuple[Cell, ...]:
    return (
        Cell(display.figure("temperature", a.t, units), why=why),
        Cell(display.figure("humidity_ratio", a.w, units), why=why),
        Cell(f"{a.rh * 100:.0f}", why=why),
        Cell(display.figure("enthalpy", a.h, units), why=why),
        Cell(display.figure("mass_flow", a.m, units), why=why),
    )


def state_foot(state: State, point: Point) -> tuple[tuple[str, str], ...]:
    """Below the states: what coils take and give."""
    units = state.show.units
    found: TrainResult = state.results.trains[state.show.system_id]
    lines = []
    if point.cooling_w > 1:
        water = sum(float(c.condensate_kg_s[point.i]) for c in point.solved.coils.values())
        lines.append(
            (
                f"Cooling coil, condensate {display.with_unit('moisture_flow', water, units)}",
                display.with_unit("load", point.cooling_w, units, 1),
            )
        )
    heat = found.heater_w(point)
    if heat > 1:
        lines.append(("Heating, with reheat and room heaters", display.with_unit("load", heat, units, 1)))
    if not lines:
        lines.append(("Coils are off", ""))
    return tuple(lines)


def coil_field(state: State, results, system_id: str, solved) -> HourFieldVM:
    """What coils and room units take at every hour of the design days."""
    units = state.show.units
    cold = (solved.cooling_w + np.maximum(solved.unit_w, 0.0).sum(axis=0)).reshape(12, 24)
    found: TrainResult = results.trains[system_id]
    return HourFieldVM(
        "Coil load through the design days",
        f"all cooling coils and room units, {display.unit('load', units)}",
        tuple(tuple(to_shown("load", float(v), units) for v in row) for row in cold),
        (found.cooling.month, found.cooling.hour),
        display.unit("load", units),
        1,
        legend="taken out of the air",
    )


def with_chosen(state: State, field: HourFieldVM, point: Point | Missing) -> HourFieldVM:
    """The same field with the hour in force ringed."""
    return field if isinstance(point, Missing) or point.month < 0 else replace(field, chosen=(point.month, point.hour))


def air_year(state: State, year: AirYear) -> tuple[YearFieldVM, TableVM]:
    """The coils through the year, and what each month takes and saves."""
    units = state.show.units
    shown = np.asarray(to_shown("load", year.cold_w, units), float)
    at = int(shown.argmax())
    month, day, hour = date_of(at)
    unit = display.unit("load", units)
    field = YearFieldVM(
        "Coil load through the year",
        f"{display.figure('load', float(year.cold_w[at]), units, 1)} {unit} on {day} {display.MONTHS[month]}, "
        f"{hour}–{hour + 1} h",
        shown,
        0.0,
        float(shown.max()) or 1.0,
        unit,
        chosen=at,
    )
    columns = (
        Column("kWh", width=44, left=True, stretch=True),
        Column("Coils", width=58),
        Column("dry", width=54),
        Column("Heat", width=56),
        Column("reheat", width=56),
        Column("Recov.", width=52),
        Column("Fans", width=50),
        Column("Water", "kg", 50),
        Column("On", "h", 44),
        Column("Free", "h", 44),
        Column("partly", "h", 44),
        Column("Frost", "h", 44),
    )
    series = (
        year.cold_w,
        year.sensible_w,
        year.heat_w,
        year.reheat_w,
        np.abs(year.recovered_w),
        year.fans_w,
        year.water_kg_s * 3600.0 * 1000.0,
        year.on,
        year.free,
        year.partial,
        year.frost,
    )
    sums = [year.by_month(v) for v in series]
    rows = [
        Row("month", f"m{k}", (Cell(name), *(_sum_cell(v[k]) for v in sums))) for k, name in enumerate(display.MONTHS)
    ]
    rows.append(Row("month", "year", (Cell("Year", tone="strong"), *(_sum_cell(v.sum(), "strong") for v in sums))))
    return field, TableVM(columns, tuple(rows))


def _sum_cell(value: float, tone: str = "") -> Cell:
    return Cell(display.number(float(value), 0) if value >= 0.5 else display.DASH, tone=tone)


def balance_table(state: State, air: AirResult) -> TableVM:
    """Air balance of rooms, of zones and levels, and of the system."""
    units, project = state.show.units, state.project
    symbol = display.unit("room_flow", units)
    columns = (
        Column("No.", width=54, left=True),
        Column("Room", width=120, left=True, stretch=True),
        Column("Supply", symbol, 76),
        Column("In", symbol, 66),
        Column("Extract", symbol, 78),
        Column("Out", symbol, 66),
        Column("Return", symbol, 78),
        Column("Leaks out", symbol, 88),
        Column("Pressure", width=110, left=True),
        Column("Air from", width=96, left=True),
    )
    rows, groups = [], {}
    sources: dict[str, list[str]] = {}
    for m in air.moves:
        sources.setdefault(m.to_room, []).append(find(project.rooms, m.from_room).number)
    names = ("flow_m3s", "transfer_in_m3s", "extract_m3s", "transfer_out_m3s", "return_m3s", "offset_m3s")
    for r in air.rooms:
        room = find(project.rooms, r.room_id)
        level, zone = find(project.levels, room.level_id), find(project.zones, room.zone_id) if room.zone_id else None
        for key, name in (
            (f"level {level.id}", f"{level.name} level"),
            *(((f"zone {zone.id}", zone.name),) if zone else ()),
            ("system", "All rooms"),
        ):
            groups.setdefault(key, (name, []))[1].append(r)
        why = ("air balance", room.id)
        figures = [
            display.figure("room_flow", getattr(r, n), units) if abs(getattr(r, n)) > 5e-7 else display.DASH
            for n in names
        ]
        cells = [Cell(t, why=why) for t in figures]
        cells[2] = Cell(
            figures[2],
            "pinned" if _pinned(room.extract_m3s) else "",
            field=("room", (room.id,), "extract_m3s"),
            quantity="room_flow",
            why=why,
        )
        cells[4] = Cell(
            figures[4],
            "pinned" if _pinned(room.return_m3s) else "",
            field=("room", (room.id,), "return_m3s"),
            quantity="room_flow",
            why=why,
        )
        if r.short_m3s > 0:
            cells[5] = Cell(f"short {display.figure('room_flow', r.short_m3s, units)}", tone="bad")
        rows.append(
            Row(
                "room",
                room.id,
                (
                    Cell(room.number, tone="faint"),
                    Cell(room.name),
                    *cells,
                    Cell(r.pressure, tone="faint" if r.pressure == "neutral" else ""),
                    Cell(", ".join(sources.get(room.id, ())), tone="faint"),
                ),
            )
        )
    for key, (name, own) in groups.items():
        ids = tuple(r.room_id for r in own)
        rows.append(
            Row(
                "sum",
                key,
                (
                    Cell(""),
                    Cell(name, tone="strong"),
                    *(
                        Cell(
                            display.figure("room_flow", sum(getattr(r, n) for r in own), units),
                            tone="strong",
                            why=("air of", ids, n),
                        )
                        for n in names
                    ),
                    Cell(""),
                    Cell(""),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def _pinned(value) -> bool:
    return type(value).__name__ == "Pinned"


def coil_table(state: State, point: Point) -> TableVM:
    """The coil check sheet as lines: what, figure, unit or remark."""
    units, sheet = state.show.units, coil_sheet(state.results, state.show.system_id, point)
    columns = (
        Column("Coil check sheet", width=150, left=True, stretch=True),
        Column("Entering", width=80),
        Column("Leaving", width=80),
        Column("", width=120, left=True),
    )
    if isinstance(sheet, Missing):
        return TableVM(
            columns,
            (
                Row(
                    "line",
                    "none",
                    (Cell(f"{sheet.reason.capitalize()}. {sheet.remedy}", italic=True), Cell(""), Cell(""), Cell("")),
                ),
            ),
        )
    a, b, rows = sheet.entering, sheet.leaving, []
    hour = (point.month, point.hour)
    parts = [p.id for p in state.results.trains[state.show.system_id].parts]
    at = parts.index(sheet.part_id)
    before, behind = (
        ("air state", state.show.system_id, node, *hour) for node in (parts[at - 1] if at else "outdoor", sheet.part_id)
    )

    def of(what: str) -> tuple:
        return ("coil figure", state.show.system_id, *hour, what)

    def pair(name: str, quantity: str, x: float, y: float, digits: int | None = None) -> None:
        rows.append(
            (
                Cell(name),
                Cell(display.figure(quantity, x, units, digits), why=before),
                Cell(display.figure(quantity, y, units, digits), why=behind),
                Cell(display.unit(quantity, units), tone="faint"),
            )
        )

    def single(name: str, text: str, remark: str = "", tone: str = "", why: tuple = ()) -> None:
        rows.append((Cell(name), Cell(""), Cell(text, tone=tone, why=why), Cell(remark, tone="faint")))

    pair("Dry bulb", "temperature", a.t, b.t)
    pair("Wet bulb", "temperature", a.wb, b.wb)
    pair("Humidity ratio", "humidity_ratio", a.w, b.w, 2 if units == "SI" else 1)
    pair("Relative humidity", "fraction", a.rh, b.rh)
    pair("Enthalpy", "enthalpy", a.h, b.h)
    pair("Flow at its own state", "system_flow", a.flow_m3s, b.flow_m3s)
    single(
        "Dry air",
        display.figure("mass_flow", a.m, units, 3 if units == "SI" else 1),
        display.unit("mass_flow", units),
        why=("dry air", state.show.system_id, sheet.part_id, *hour),
    )
    why = ("coil", state.show.system_id, *hour)
    single(
        "Total load",
        display.figure("load", sheet.total_w, units),
        f"{display.unit('load', units)}, {sheet.at}",
        "strong",
        why,
    )
    single(
        "Sensible", display.figure("load", sheet.sensible_w, units), f"heat ratio {sheet.ratio:.2f}", why=of("sensible")
    )
    single(
        "Latent",
        display.figure("load", sheet.total_w - sheet.sensible_w, units),
        f"condensate {display.with_unit('moisture_flow', sheet.condensate_kg_s, units)}",
        why=of("latent"),
    )
    single(
        "Surface",
        display.figure("temperature", sheet.adp_c, units),
        f"bypass factor {sheet.bypass:.2f}",
        why=of("surface"),
    )
    single("Outdoor air", f"{sheet.outdoor_share * 100:.0f}", "% of the handler’s air", why=of("outdoor share"))
    single(
        "Ventilation load",
        display.figure("load", sheet.ventilation_w, units),
        f"sensible {display.with_unit('load', sheet.ventilation_sensible_w, units)}",
        why=of("ventilation"),
    )
    single(
        "Room humidity",
        f"{sheet.rooms_rh[0] * 100:.0f}–{sheet.rooms_rh[1] * 100:.0f}",
        f"%, limit {sheet.rooms_limit * 100:.0f} %",
        "watch" if sheet.rooms_rh[1] > sheet.rooms_limit + 0.005 else "",
        of("humidity"),
    )
    for r in sheet.ratios:
        quantity = r.quantity
        text = display.figure(quantity, r.value, units) if quantity else display.number(r.value, 1)
        symbol = display.unit(quantity, units) if quantity else r.unit
        band = ""
        if r.band:
            low, high = (display.figure(quantity, x, units) if quantity else display.number(x, 0) for x in r.band)
            band = f"usual {low}–{high}"
        single(r.name, text, f"{symbol} {band}".strip(), "watch" if r.odd else "", of(r.name))
    return TableVM(columns, tuple(Row("line", f"l{i}", cells) for i, cells in enumerate(rows)))


def proof_table(state: State, point: Point) -> TableVM:
    """What the coil's load is made of, and that every node closes."""
    units, results = state.show.units, state.results
    found: TrainResult = results.trains[state.show.system_id]
    columns = (
        Column("What it is made of", width=150, left=True, stretch=True),
        Column("", display.unit("load", units), 74),
        Column("Closing of every node", width=150, left=True),
        Column("air", "kg/s", 60),
        Column("energy", "W", 84),
        Column("water", "g/h", 70),
    )
    sheet = coil_sheet(results, state.show.system_id, point)
    hour = (found.system_id, point.month, point.hour)
    left = (
        []
        if isinstance(sheet, Missing)
        else [(n, display.figure("load", v, units), ("coil figure", *hour, n)) for n, v in sheet.parts]
        + [
            ("Coils together", display.figure("load", sheet.total_w, units), ("coil", *hour)),
            ("Left over", f"{sheet.residual_w:.1e} W".replace("-", display.MINUS), ("coil figure", *hour, "residual")),
        ]
    )
    right = [
        (
            part_title(results, state.show.system_id, k),
            *(
                Cell(text.replace("-", display.MINUS), tone="faint", why=("closes", *hour, k, what))
                for what, text in (("air", display.number(m, 3)), ("energy", f"{e:.1e}"), ("water", f"{w * 3.6e6:.1e}"))
            ),
        )
        for k, m, e, w in closing(found, point)
    ]
    rows = []
    for i in range(max(len(left), len(right))):
        a = left[i] if i < len(left) else ("", "", ())
        b = right[i] if i < len(right) else ("", *(Cell("") for _ in range(3)))
        strong = "strong" if a[0] == "Coils together" else ""
        rows.append(
            Row("line", f"p{i}", (Cell(a[0], tone=strong), Cell(a[1], tone=strong, why=a[2]), Cell(b[0]), *b[1:]))
        )
    return TableVM(columns, tuple(rows))


def plant_table(state: State) -> TableVM:
    """What the plant must give, how much room it takes, and how flow moves between zones and levels."""
    units, results, project = state.show.units, state.results, state.project
    columns = (
        Column("Plant and shares", width=230, left=True, stretch=True),
        Column("", width=110),
        Column("", width=330, left=True),
    )
    plant = results.plant
    rows: list[tuple[Cell, ...]] = []

    def line(name: str, text: str, remark: str = "", tone: str = "", why: tuple = ()) -> None:
        rows.append((Cell(name, tone=tone), Cell(text, tone=tone, why=why), Cell(remark, tone="faint")))

    if isinstance(plant, Missing):
        line(f"{plant.reason.capitalize()}", "", plant.remedy)
    else:
        plant: Plant
        book = project.book

        def water(name: str) -> str:
            from garnetfin.engine.resolve import assumption

            return display.figure("temperature", assumption(book, name).figure, units, 0)

        about = ", rooms among it are early estimates" if plant.estimated else ""
        line(
            "Cooling, at the building’s own hour",
            display.with_unit("load", plant.cooling_w, units, 1),
            display.hour(*plant.cooling_at) + about,
            "strong",
            ("plant", "cooling"),
        )
        line(
            "Cooling, sum of all coils",
            display.with_unit("load", plant.cooling_sum_w, units, 1),
            "each system at its own hour",
            why=("cooling sum",),
        )
        line(
            "Heating",
            display.with_unit("load", plant.heating_w, units, 1),
            "winter design day: handlers, reheat, room heaters",
            "strong",
            ("plant", "heating"),
        )
        line(
            "Chilled water",
            display.with_unit("water_flow", plant.chilled_m3s, units),
            f"{water('chilled_supply_c')} / {water('chilled_return_c')} {display.unit('temperature', units)}",
            why=("plant water", "chilled"),
        )
        line(
            "Heating water",
            display.with_unit("water_flow", plant.hot_m3s, units),
            f"{water('hot_supply_c')} / {water('hot_return_c')} {display.unit('temperature', units)}",
            why=("plant water", "hot"),
        )
        line(
            "Floor for plant",
            display.with_unit("area", plant.plant_m2, units),
            "early estimate, ratio of the office book",
            why=("plant floor", "plant"),
        )
        line(
            "Floor for air handlers",
            display.with_unit("area", plant.handlers_m2, units),
            "early estimate, ratio of the office book",
            why=("plant floor", "handlers"),
        )
    air = results.air.get(state.show.system_id)
    if isinstance(air, AirResult):
        found = results.trains.get(state.show.system_id)
        line(
            "Sum of the rooms’ own flows",
            display.with_unit("room_flow", air.peaks_m3s, units),
            "constant flow moves this all hours",
            why=("system figure", air.system_id, "peaks"),
        )
        line(
            "Coincident flow",
            display.with_unit("room_flow", air.block_m3s, units),
            f"{air.diversity:.0%} of the sum, {display.hour(air.block_hour // 24, air.block_hour % 24)}"
            if air.peaks_m3s
            else "",
            why=("system figure", air.system_id, "coincident"),
        )
        for name, flow, bypass, winter, ids in _zones(state, air, found):
            line(
                name,
                display.with_unit("room_flow", flow, units),
                f"bypass {display.with_unit('room_flow', bypass, units)} when it closes · winter "
                f"{display.with_unit('room_flow', winter, units)}",
                why=("air of", ids, "flow_m3s"),
            )
    return TableVM(columns, tuple(Row("line", f"l{i}", cells) for i, cells in enumerate(rows)))


def _zones(state: State, air: AirResult, found) -> list[tuple[str, float, float, float, tuple[str, ...]]]:
    """(name, flow, flow a bypass takes when it closes to its least, flow on the winter day, rooms) of zones and
    levels.
    """
    project, made = state.project, {}
    winter = (
        found.heating.solved.supply_kg_s[:, found.heating.i] / air.density_kg_m3
        if isinstance(found, TrainResult)
        else np.zeros(len(air.rooms))
    )
    for i, r in enumerate(air.rooms):
        room = find(project.rooms, r.room_id)
        zone, level = find(project.zones, room.zone_id) if room.zone_id else None, find(project.levels, room.level_id)
        for name in ((f"Zone {zone.name}",) if zone else ()) + (f"{level.name} level",):
            flow, bypass, cold, ids = made.get(name, (0.0, 0.0, 0.0, ()))
            made[name] = (
                flow + r.flow_m3s,
                bypass + max(0.0, r.flow_m3s - r.least_m3s),
                cold + float(winter[i]),
                (*ids, r.room_id),
            )
    return [(n, *v) for n, v in made.items()]


PATTERN_CHOICES = tuple((k, p.name) for k, p in PATTERNS.items())
ADDABLE = (
    "preheat",
    "precool",
    "mixing",
    "cooling",
    "heating",
    "humidifier",
    "recovery",
    "filter",
    "attenuator",
    "supply_fan",
    "duct",
    "intake",
    "plenum",
    "return_fan",
    "relief",
)


def addable(state: State) -> tuple[tuple[str, str], ...]:
    """Kinds that may be put in now."""
    once = {"recovery", "mixing", "supply_fan", "duct", "plenum", "return_fan", "relief", "intake"}
    there = {p.kind for p in state.system.parts} if state.system else set()
    return tuple((k, KINDS[k].name) for k in ADDABLE if not (k in once and k in there))
