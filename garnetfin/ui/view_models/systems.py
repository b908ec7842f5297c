"""Cards of place, air system, fan and report."""

from garnetfin import display
from garnetfin.engine.explain.unit import drop_at_design
from garnetfin.engine.flows.fan_lines import drive_of, together
from garnetfin.engine.flows.flow_results import Flows
from garnetfin.engine.layout.without_part import without_part
from garnetfin.engine.resolve import part_figure
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, Point, Results, TrainResult, there
from garnetfin.engine.stages.fan import fan_table as fan_catalogue
from garnetfin.engine.stages.fan_duty import lifted_parts
from garnetfin.engine.studies.coil_sheet import air_state
from garnetfin.project.lookup import find
from garnetfin.project.parts import KINDS, PATTERNS, Part
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import (
    CardVM,
    FindingsVM,
    Headline,
    Inputs,
    InputVM,
    Line,
    Lines,
    PartBar,
    PartBars,
    input_row,
)
from garnetfin.ui.view_models.edit import MONTH_SPANS
from garnetfin.ui.view_models.findings import findings_section
from garnetfin.ui.view_models.room_air import book_section

SPANS = (("all", "all year"), ("summer", "May to September"), ("winter", "October to April"), ("none", "never"))


def months_row(system, field: str, label: str) -> InputVM:
    """Months of cooling or heating as one choice; others are kept and named."""
    months = getattr(system, field)
    known = next((k for k, v in MONTH_SPANS.items() if v == months), "own")
    choices = SPANS if known != "own" else (*SPANS, ("own", ", ".join(display.MONTHS[m - 1] for m in months)))
    return InputVM(edits.months(system.id, field), label, "", "", choices=choices, chosen=known)


def system_card(state: State, point: Point | Missing | None = None) -> CardVM:
    units, system = state.show.units, state.system
    air = state.results.air.get(system.id) if state.known and system is not None else Missing("no system")
    choices = _control_rows(system) if system else ()
    if air is None or isinstance(air, Missing) or system is None:
        return CardVM(
            "Air system",
            system.name if system else "none",
            air.remedy if isinstance(air, Missing) else "",
            (),
            (
                *((Inputs("Control", "", choices),) if choices else ()),
                *(findings_section(state.results, "", (), "Air") if state.known else ()),
            ),
        )
    results, f = state.results, air.figures
    area = sum(r.figures.area_m2.figure for r in (results.room(x.room_id) for x in air.rooms) if r is not None)
    counts: dict[str, list] = {}
    for row in air.rooms:
        counts.setdefault(row.governs, []).append(row)
    found = results.trains.get(system.id)
    heads = [
        Headline(
            "Supply",
            display.figure("system_flow", air.flow_m3s, units),
            display.unit("system_flow", units),
            "coincident" if air.block_at else "sum of rooms",
            why=("system figure", system.id, "supply"),
        ),
        Headline(
            "Outdoor",
            display.figure("system_flow", air.outdoor_m3s, units),
            display.unit("system_flow", units),
            f"{air.outdoor_m3s / air.flow_m3s * 100:.0f} % of supply" if air.flow_m3s else "",
            why=("system outdoor", system.id),
        ),
    ]
    if isinstance(found, TrainResult):
        cold = display.cooling(state.project.book.cooling_unit)
        heads.append(
            Headline(
                "Coil",
                display.figure(cold, found.coils_peak_w, units, 1),
                display.unit(cold, units),
                found.cooling.name,
                why=("coil", system.id, found.cooling.month, found.cooling.hour),
            )
        )
    values = (
        input_row(f.supply_c, edits.system_value(system.id, "supply_c"), "Supply temperature", "temperature", units),
        input_row(
            f.warm_limit_k,
            edits.system_value(system.id, "warm_limit_k"),
            "Warmer than room by",
            "temperature_difference",
            units,
        ),
        input_row(air.outdoor, edits.system_value(system.id, "outdoor_m3s"), "Least outdoor air", "system_flow", units),
        input_row(f.humidity_high, edits.system_value(system.id, "humidity_high"), "Humidity limit", "fraction", units),
        *(
            (
                input_row(
                    f.least_share,
                    edits.system_value(system.id, "least_share"),
                    "Least flow of a room",
                    "fraction",
                    units,
                ),
            )
            if system.flow == "load"
            else ()
        ),
        months_row(system, "cooling_months", "Cooling in"),
        months_row(system, "heating_months", "Heating in"),
    )
    return CardVM(
        f"Air system · {PATTERNS[system.pattern].name.lower() if system.pattern in PATTERNS else system.pattern}",
        system.name,
        f"{len(air.rooms)} rooms on {display.with_unit('area', area, units, 0)}",
        tuple(heads),
        (
            Inputs("Control", "click a part for its figures", choices),
            Inputs("Supply air", "of the system", values),
            *findings_section(results, "system", (system.id,), "Air"),
            Lines(
                "What governs",
                "rooms",
                tuple(
                    Line(name.capitalize(), str(len(rows)), "", why=("governed", system.id, name))
                    for name, rows in sorted(counts.items(), key=lambda kv: -len(kv[1]))
                ),
            ),
            *_flows(air, units),
            book_section(state.project.book, units),
        ),
    )


def _flows(air: AirResult, units) -> tuple[Lines, ...]:
    """Sum of rooms and coincident peak, whichever the unit is sized for; the multiple-zone procedure where it is
    used.
    """
    rows = [
        Line(
            "Sum of the rooms’ own",
            display.figure("system_flow", air.peaks_m3s, units),
            display.unit("system_flow", units),
            strong=air.block_at is None,
            why=("system figure", air.system_id, "peaks"),
        ),
        Line(
            f"Coincident, {display.hour(air.block_hour // 24, air.block_hour % 24)}",
            display.figure("system_flow", air.block_m3s, units),
            display.unit("system_flow", units),
            strong=air.block_at is not None,
            why=("system figure", air.system_id, "coincident"),
        ),
        Line("Diversity", f"{air.diversity * 100:.0f}", "%", why=("system figure", air.system_id, "diversity")),
    ]
    v = air.ventilation
    if v is not None:
        rows += [
            Line(
                "62.1, uncorrected outdoor",
                display.figure("room_flow", v.uncorrected_m3s, units),
                display.unit("room_flow", units),
            ),
            Line("62.1, system efficiency", f"{v.efficiency:.2f}"),
        ]
    return (Lines("Constant and variable flow", "the unit’s in bold", tuple(rows)),)


def _control_rows(system) -> tuple[InputVM, ...]:
    return (
        InputVM(
            edits.pattern(system.id),
            "Pattern",
            "",
            "",
            choices=tuple((k, p.name) for k, p in PATTERNS.items()),
            chosen=system.pattern,
        ),
        InputVM(
            edits.system_choice(system.id, "flow"),
            "Flow",
            "",
            "",
            choices=(("fixed", "constant"), ("load", "follows the load")),
            chosen=system.flow,
        ),
        InputVM(
            edits.system_choice(system.id, "boxes"),
            "Flow boxes",
            "",
            "",
            choices=(("chosen", "by rule"), ("none", "none")),
            chosen=system.boxes,
        ),
        InputVM(
            edits.system_choice(system.id, "coils"),
            "Coils give",
            "",
            "",
            choices=(("chosen", "bypass and drop by rule"), ("typed", "nothing, figures stand")),
            chosen=system.coils,
        ),
        InputVM(
            edits.system_choice(system.id, "supply"),
            "Supply is",
            "",
            "",
            choices=(
                ("held", "constant supply temperature"),
                ("coil", "constant coil leaving temperature"),
                ("room", "as the rooms need"),
                ("neediest", "critical-room reset"),
            ),
            chosen=system.supply,
        ),
    )


def part_card(state: State, point: Point) -> CardVM:
    """A part of the train at the point in force: what it does, its figures, what it would be without it."""
    results, units, system = state.results, state.show.units, there(state.system)
    found = there(results.trains[system.id])
    part = find(system.parts, state.selection.ids[0])
    kind, at = KINDS[part.kind], [p.id for p in found.parts].index(part.id)
    before_id = found.parts[at - 1].id if at else "outdoor"
    rows = [
        input_row(
            found.figures[part.id, name],
            edits.part_value(system.id, part.id, name),
            f.label,
            f.quantity,
            units,
            digits=2 if f.quantity == "plain" else None,
        )
        for name, f in kind.figures.items()
        if _matters(part, name)
    ]
    if kind.pressure_pa is not None:
        rows.append(
            input_row(
                found.figures[part.id, "pressure"],
                edits.part_value(system.id, part.id, "pressure"),
                "Pressure drop",
                "pressure",
                units,
            )
        )
    if kind.choices:
        rows.append(
            InputVM(
                edits.part_value(system.id, part.id, "choice"),
                "Kind",
                "",
                "",
                choices=kind.choices,
                chosen=part.choice or kind.choices[0][0],
            )
        )
    rows.append(InputVM(edits.part_value(system.id, part.id, "name"), "Name", part.title, "", "plain"))
    summer, winter = found.cooling, found.heating
    heads = (
        _head("In summer", summer, part, found, before_id, units),
        _head("In winter", winter, part, found, before_id, units),
    )
    if kind.pressure_pa is not None:
        fan = results.fans.get(system.id)
        drop = (
            dict(fan.part_pa).get(part.title)
            if isinstance(fan, FanResult)
            else found.figures[part.id, "pressure"].figure
        )
        heads += (
            Headline(
                "Costs",
                display.figure("pressure", drop or 0.0, units),
                display.unit("pressure", units),
                "of the supply fan",
                why=("part drop", system.id, part.id) if drop else ("part figure", system.id, part.id, "pressure"),
            ),
        )
    lines = _through(found, point, part, before_id, units, system.id)
    own = tuple(f for f in results.findings if f.kind == "part" and f.object_id == f"{system.id}/{part.id}")
    away = _away(results, system.id, part.id, point, units) if part.kind not in ("rooms", "terminals") else ()
    return CardVM(
        f"Part {at + 1} of {len(found.parts)} · {system.name}",
        part.title,
        point.name,
        heads,
        (
            Inputs(
                "Inputs",
                f"{sum(r.origin == 'rule' for r in rows)} by rule · {sum(r.origin == 'pinned' for r in rows)} pinned",
                tuple(rows),
            ),
            lines,
            *((Lines("Without this component", "against now", away),) if away else ()),
            *((FindingsVM("Finding", "", own[:2]),) if own else ()),
        ),
        ("Remove from the unit", edits.remove_part(system.id, part.id))
        if part.kind not in ("rooms", "terminals")
        else ("", None),
    )


def _away(results: Results, system_id: str, part_id: str, point: Point, units) -> tuple[Line, ...]:
    """What changes at the point in force without the part."""
    moved = without_part(results, system_id, part_id, point.month, point.hour)
    if isinstance(moved, Missing):
        return (Line(moved.reason, display.DASH),)

    def why(what: str) -> tuple:
        return ("part away", system_id, part_id, point.month, point.hour, what)

    def change(value: float) -> str:
        text = display.figure("load", value, units, 1)
        return text if value <= 0 or text.startswith(display.MINUS) else f"+{text}"

    lines = tuple(
        Line(n, change(then - now), display.unit("load", units), why=why(n))
        for n, (now, then) in moved.items()
        if n != "Supply"
    )
    if "Supply" in moved:
        now, then = moved["Supply"]
        lines += (
            Line(
                "Supply",
                f"{display.figure('temperature', then, units)}, was {display.figure('temperature', now, units)}",
                display.unit("temperature", units),
                why=why("Supply"),
            ),
        )
    return lines or (Line("nothing changes at this hour", ""),)


def _matters(part: Part, name: str) -> bool:
    """Figures that play no part are not shown."""
    if part.kind == "mixing":
        return part.choice == "dry bulb"
    return True


def _head(label: str, point: Point, part: Part, found: TrainResult, before_id: str, units) -> Headline:
    terminals = part.kind == "terminals"
    # Room units cool with figures above 0; what is shown is heat into the air.
    heat = (
        float(point.solved.reheat_w[:, point.i].sum() - point.solved.unit_w[:, point.i].sum())
        if terminals
        else point.heat_w(part.id)
    )
    before = (
        "rooms"
        if found.parts[[p.id for p in found.parts].index(part.id) - 1].kind == "rooms" and before_id != "outdoor"
        else before_id
    )
    a, b = point.node(before)[0], point.node(part.id)[0] if part.id in point.solved.nodes else float("nan")
    change = (
        f"{display.figure('temperature', a, units)} → {display.figure('temperature', b, units)}"
        if part.id in point.solved.nodes
        else ""
    )
    return Headline(
        label,
        display.figure("load", abs(heat), units, 1) if abs(heat) > 1 else "off",
        display.unit("load", units) if abs(heat) > 1 else "",
        change,
        why=("part", found.system_id, part.id, point.month, point.hour),
    )


def _through(found: TrainResult, point: Point, part: Part, before_id: str, units, system_id: str) -> Lines:
    """The air in front of a part and behind it."""
    rows, p = [], found.pressure_pa
    for label, node in (("In front", "rooms" if before_id == "rooms" else before_id), ("Behind", part.id)):
        if node not in point.solved.nodes:
            continue
        t, w, m = point.node(node)
        a = air_state(t, w, m, p)
        rows.append(
            Line(
                f"{label}: {display.with_unit('humidity_ratio', w, units)}, {a.rh:.0%} RH",
                display.figure("temperature", t, units),
                display.unit("temperature", units),
                why=("air state", system_id, node, point.month, point.hour),
            )
        )
        rows.append(
            Line(
                "    dry air",
                display.figure("mass_flow", m, units, 3 if units == "SI" else 1),
                display.unit("mass_flow", units),
                why=("dry air", system_id, node, point.month, point.hour),
            )
        )
    if part.kind == "terminals":
        for label, watts in (
            ("Reheat", point.solved.reheat_w - point.solved.zone_w),
            ("Zones’ own supply", point.solved.zone_w),
        ):
            whole = float(watts[:, point.i].sum())
            if whole > 1:
                rows.append(Line(label, display.figure("load", whole, units), display.unit("load", units)))
    if part.id in point.solved.coils:
        coil = point.solved.coils[part.id]
        i = point.i
        rows += [
            Line(
                "Sensible",
                display.figure("load", float(coil.sensible_w[i]), units),
                display.unit("load", units),
                why=("part", system_id, part.id, point.month, point.hour),
            ),
            Line(
                "Surface",
                display.figure("temperature", float(coil.adp_c[i]), units),
                display.unit("temperature", units),
                why=("part", system_id, part.id, point.month, point.hour),
            ),
            Line(
                "Condensate",
                display.figure("moisture_flow", float(coil.condensate_kg_s[i]), units),
                display.unit("moisture_flow", units),
                why=("part", system_id, part.id, point.month, point.hour),
            ),
        ]
    return Lines("Air through it", point.name, tuple(rows))


def fan_way(state: State) -> str:
    """The fan that is shown; the first there is where the system has not the one asked for."""
    ways = state.results.fans_of(state.show.system_id) if state.known else {}
    return state.show.fan_way if state.show.fan_way in ways else next(iter(ways), "supply")


def fan_ways(state: State) -> tuple[tuple[str, str], ...]:
    """Fans to choose from: key and name."""
    ways = state.results.fans_of(state.show.system_id) if state.known else {}
    return tuple((way, way.capitalize()) for way in ways)


def fan_card(state: State) -> CardVM:
    units, system = state.show.units, state.system
    way = fan_way(state)
    fan = state.results.fan(system.id, way) if state.known and system is not None else None
    if fan is None or isinstance(fan, Missing) or system is None:
        why = fan.remedy if isinstance(fan, Missing) else "computing"
        return CardVM("Fan", system.name if system else "none", why)
    results = state.results
    name = f"{way.capitalize()} fan"
    pressure = display.unit("pressure", units)
    greatest = max([pa for _, pa in fan.part_pa] + [fan.duct_pa]) or 1.0
    net = results.network(system.id, way)
    index = net.index if isinstance(net, DuctResult) else None
    lifts = ("fan pressure", system.id, way)
    rows = [
        PartBar(
            part_name,
            pa / greatest,
            display.figure("pressure", pa, units),
            False,
            drop_at_design(results, system.id, part_name) or lifts,
        )
        for part_name, pa in fan.part_pa
    ]
    if fan.duct_pa:
        rows.append(
            PartBar(
                f"Ducts, index run {index.label}" if index is not None else "Ducts, not drawn yet",
                fan.duct_pa / greatest,
                display.figure("pressure", fan.duct_pa, units),
                True,
                ("run", index.terminal_id) if index is not None else lifts,
            )
        )
    if fan.allowance_pa:
        rows.append(
            PartBar(
                "Margin", fan.allowance_pa / greatest, display.figure("pressure", fan.allowance_pa, units), False, lifts
            )
        )
    if fan.effect_pa:
        rows.append(
            PartBar(
                "System effect at the fan",
                fan.effect_pa / greatest,
                display.figure("pressure", fan.effect_pa, units),
                True,
                lifts,
            )
        )
    lift = PartBars(
        "Required fan pressure",
        pressure,
        tuple(rows),
        display.figure("pressure", fan.wanted_pa, units),
        "Total pressure",
        lifts,
    )
    f, choice = there(results.air[system.id]).figures, system.fan(way)
    if isinstance(fan.chosen, Missing):
        return CardVM(
            name, fan.chosen.reason, fan.chosen.remedy, (), (lift, *findings_section(results, "system", (system.id,)))
        )
    point, curve = there(fan.point), there(fan.curve)
    by_rule = next(
        (c.speed_rpm for c in fan.candidates if c.fan_id == fan.chosen.fan_id and c.point), fan.chosen.speed_rpm
    )
    parts = tuple(
        input_row(part_figure(p, "pressure"), edits.part_value(system.id, p.id, "pressure"), p.title, "pressure", units)
        for p in (lifted_parts(there(results.system(system.id))) if way == "supply" else ())
    )
    inputs = (
        InputVM(
            edits.fan(system.id, way),
            "Fan",
            fan.chosen.fan_id,
            "",
            "pinned" if choice.model else "rule",
            choices=(("", "the best by rule"), *((m, m) for m in fan_catalogue(state.project.book))),
            chosen=choice.model,
        ),
        InputVM(
            edits.fan_value(system.id, way, "speed_rpm"),
            "Speed",
            display.figure("speed", fan.chosen.speed_rpm, units),
            "rpm",
            fan.speed_origin,
            "speed",
            tip=f"by rule {by_rule:.0f} rpm meets the duty",
        ),
        input_row(f.allowance, edits.system_value(system.id, "allowance"), "Margin on pressure", "fraction", units),
        input_row(
            fan.motor, edits.fan_value(system.id, way, "motor_efficiency"), "Motor and control", "fraction", units
        ),
        input_row(
            drive_of(system, fan), edits.fan_value(system.id, way, "drive_efficiency"), "Drive", "fraction", units
        ),
        InputVM(
            edits.fan_arrangement(system.id, way),
            "Fans",
            "",
            "",
            choices=(("single", "one"), ("parallel", "side by side"), ("series", "one behind the other")),
            chosen=choice.arrangement,
        ),
        *(
            (InputVM(edits.fan_count(system.id, way), "    how many", str(choice.count), "", "plain", "count"),)
            if choice.count > 1
            else ()
        ),
        InputVM(
            edits.fan_value(system.id, way, "outlet_duct_m"),
            "Straight duct behind",
            ""
            if isinstance(choice.outlet_duct_m, Rule)
            else display.figure("length", choice.outlet_duct_m.value, units),
            display.unit("length", units),
            "rule" if isinstance(choice.outlet_duct_m, Rule) else "pinned",
            "length",
            tip="empty: as long as the outlet needs; 0: it blows into a plenum",
        ),
        InputVM(
            edits.fan_value(system.id, way, "effect_k"),
            "Bends at the fan, k",
            "" if isinstance(choice.effect_k, Rule) else display.number(choice.effect_k.value, 2),
            "",
            "rule" if isinstance(choice.effect_k, Rule) else "pinned",
            "plain",
            tip="of bends and things in the way at inlet and outlet, on the outlet’s velocity",
        ),
    )
    rank = [c.fan_id for c in fan.candidates if c.point]
    place = f"{rank.index(fan.chosen.fan_id) + 1} of {len(rank)}" if fan.chosen.fan_id in rank else "not ranked"
    return CardVM(
        f"{name} · {place} · {system.name}",
        f"{fan.chosen.kind.replace('-', ' ').capitalize()} {display.size_of_wheel(fan.chosen.wheel_m, units)}",
        f"{fan.chosen.fan_id} at {fan.chosen.speed_rpm:.0f} rpm",
        (
            Headline(
                "Electric",
                display.figure("shaft_power", point.electric_w, units),
                display.unit("shaft_power", units),
                f"motor {display.with_unit('shaft_power', point.motor_w, units, 1)}",
                why=("fan power", system.id, way),
            ),
            Headline(
                "Efficiency",
                f"{point.efficiency * 100:.0f}",
                "%",
                "wheel, total",
                why=("fan figure", system.id, "efficiency", way),
            ),
            Headline(
                "Stall margin",
                f"{point.from_stall * 100:.0f}",
                "%",
                "wanted 10 %",
                "bad" if point.from_stall < 0.1 else "",
                ("fan figure", system.id, "stall", way),
            ),
        ),
        (
            lift,
            Inputs("Inputs", f"{sum(r.origin == 'pinned' for r in inputs)} pinned", inputs),
            *(
                (Inputs("Parts of the unit", f"at {display.with_unit('system_flow', system.rated_m3s, units)}", parts),)
                if parts
                else ()
            ),
            *findings_section(results, "system", (system.id,)),
            Lines(
                "At the operating point",
                "",
                (
                    Line(
                        "Flow",
                        display.figure("system_flow", point.flow_m3s, units),
                        display.unit("system_flow", units),
                        why=("fan figure", system.id, "flow", way),
                    ),
                    Line(
                        "Specific fan power",
                        display.figure("specific_fan_power", point.specific_w_m3s, units),
                        "kW/(m³/s)",
                        why=("fan figure", system.id, "specific", way),
                    ),
                    Line(
                        "Class of EN 16798-3",
                        f"SFP {point.specific_class}",
                        why=("fan figure", system.id, "specific", way),
                    ),
                    Line(
                        "Static pressure",
                        display.figure("pressure", float(curve.static(point.flow_m3s)), units),
                        display.unit("pressure", units),
                        why=("fan figure", system.id, "static", way),
                    ),
                    Line(
                        "Shaft, with the drive",
                        display.figure("shaft_power", point.shaft_w, units),
                        display.unit("shaft_power", units),
                        why=("fan figure", system.id, "shaft", way),
                    ),
                    Line(
                        "Sound power at the fan",
                        display.number(point.sound_db, 0),
                        "dB",
                        why=("fan figure", system.id, "sound", way),
                    ),
                ),
            ),
            *_all_fans(state, system.id),
        ),
    )


def _all_fans(state: State, system_id: str) -> tuple[Lines, ...]:
    """The fans of a system together, and a year of running."""
    flows, units = state.results.real.get(system_id), state.show.units
    found = together(state.results, system_id, flows) if isinstance(flows, Flows) else None
    if found is None or isinstance(found, Missing):
        return ()
    power = display.unit("shaft_power", units)

    def why(what: str) -> tuple:
        return ("fans", system_id, what)

    return (
        Lines(
            "With the other fans",
            "",
            (
                *(Line(name, display.figure("shaft_power", w, units), power, why=why(name)) for name, w in found.fans),
                Line(
                    "Together",
                    display.figure("shaft_power", found.electric_w, units),
                    power,
                    strong=True,
                    why=why("electric"),
                ),
                Line(
                    "Specific fan power of the system",
                    display.figure("specific_fan_power", found.specific_w_m3s, units),
                    "kW/(m³/s)",
                    why=why("specific"),
                ),
                Line("Class of EN 16798-3", f"SFP {found.specific_class}", why=why("specific")),
            ),
        ),
        Lines(
            "A year of running",
            f"{found.hours:.0f} h",
            (
                Line("Electricity", display.number(found.year_wh / 1e6, 1), "MWh", why=why("year")),
                Line("Price", display.number(found.price, 0), why=why("price")),
            ),
        ),
    )
