"""Tables of an air system: states, flows and balance of rooms, coils, proof, plant."""

import numpy as np

from garnetfin import display
from garnetfin.engine.results import AirResult, Missing, Plant, Point, RoomAir, TrainResult, there
from garnetfin.engine.studies.coil_sheet import AirState, air_state, closing, coil_sheet, part_title
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.psychro import states
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM


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
        Column("Fresh", symbol, 74),
        Column("asked for", symbol, 84),
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
        short = air.arrives_m3s[r.room_id] < 0.99 * r.wanted_m3s
        fresh = (
            Cell(
                display.figure("room_flow", air.arrives_m3s[r.room_id], units),
                tone="bad" if short else "",
                why=("arrives", room.id),
            ),
            Cell(
                display.figure("room_flow", r.need("outdoor air"), units) if r.need("outdoor air") else display.DASH,
                tone="faint",
                why=("need", room.id, "outdoor air"),
            ),
        )
        figures = [
            display.figure("room_flow", getattr(r, n), units) if abs(getattr(r, n)) > 5e-7 else display.DASH
            for n in names
        ]
        cells = [Cell(t, why=why) for t in figures]
        cells[2] = Cell(
            figures[2],
            "pinned" if _pinned(room.extract_m3s) else "",
            edit=edits.room_value((room.id,), "extract_m3s"),
            quantity="room_flow",
            why=why,
        )
        cells[4] = Cell(
            figures[4],
            "pinned" if _pinned(room.return_m3s) else "",
            edit=edits.room_value((room.id,), "return_m3s"),
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
                    *fresh,
                    Cell(r.pressure, tone="faint" if r.pressure == "neutral" else ""),
                    Cell(", ".join(sources.get(room.id, ())), tone="faint"),
                ),
            )
        )

    def sums_of(own: list[RoomAir], ids: tuple[str, ...]) -> list[Cell]:
        sums = [
            Cell(
                display.figure("room_flow", sum(getattr(r, n) for r in own), units),
                tone="strong",
                why=("air of", ids, n),
            )
            for n in names
        ]
        # What arrives does not add up: air that one room leaves unused arrives in others again.
        return [*sums, Cell(""), Cell("")]

    for key, (name, own) in groups.items():
        ids = tuple(r.room_id for r in own)
        rows.append(Row("sum", key, (Cell(""), Cell(name, tone="strong"), *sums_of(own, ids), Cell(""), Cell(""))))
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
    parts = [p.id for p in there(state.results.trains[state.show.system_id]).parts]
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
            ("Left over", f"{display.within(sheet.residual_w)} W", ("coil figure", *hour, "residual")),
        ]
    )
    right = [
        (
            part_title(results, state.show.system_id, k),
            *(
                Cell(text.replace("-", display.MINUS), tone="faint", why=("closes", *hour, k, what))
                for what, text in (
                    ("air", display.number(m, 3)),
                    ("energy", display.within(e)),
                    ("water", display.within(w * 3.6e6)),
                )
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
            display.with_unit(display.cooling(book.cooling_unit), plant.cooling_w, units, 1),
            display.hour(*plant.cooling_at) + about,
            "strong",
            ("plant", "cooling"),
        )
        line(
            "Cooling, sum of all coils",
            display.with_unit(display.cooling(book.cooling_unit), plant.cooling_sum_w, units, 1),
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
            "early estimate, ratio of the office standards",
            why=("plant floor", "plant"),
        )
        line(
            "Floor for air handlers",
            display.with_unit("area", plant.handlers_m2, units),
            "early estimate, ratio of the office standards",
            why=("plant floor", "handlers"),
        )
    space = results.equipment.space
    if space is not None:
        more = f", {', '.join(space.upper)}" if space.upper else ""
        line(
            "Plant room, of what is chosen",
            display.with_unit("area", space.total_m2, units),
            f"clear height {display.measure(space.clear_m, units)} · "
            f"{display.with_unit('area', space.upper_m2, units)} at the upper end of what is likely{more}",
            "strong",
            ("plant space", "total"),
        )
        line(
            "of it for air handlers",
            display.with_unit("area", space.handlers_m2, units),
            "with room to pull their coils out",
            why=("plant space", "handlers"),
        )
        line(
            "of it for machines indoors",
            display.with_unit("area", space.machines_m2, units),
            "with pumps, vessels and boards",
            why=("plant space", "machines"),
        )
        line(
            "On the roof",
            display.with_unit("area", space.roof_m2, units),
            "machines that take air from outdoors, with room to serve them",
            why=("plant space", "roof"),
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
