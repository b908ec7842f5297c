"""Cards of place, air system, fan and report."""

from garnetfin import display
from garnetfin.core.tables import fan_models
from garnetfin.engine.resolve import part_figure
from garnetfin.engine.results import AirResult, FanResult, Missing
from garnetfin.engine.stages.fan import lifted_parts
from garnetfin.ui.state import State
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines, PartBars
from garnetfin.ui.view_models.rooms import findings_section, input_row


def system_card(state: State) -> CardVM:
    results, units, system = state.results, state.show.units, state.system
    air = results.air.get(system.id) if results and system else Missing("no system")
    if air is None or isinstance(air, Missing):
        return CardVM("Air system", system.name if system else "none", air.remedy if air else "",
                      (), findings_section(results, "", (), "Air") if results else ())
    air: AirResult
    f = air.figures
    area = sum(results.room(r.room_id).figures.area_m2.figure for r in air.rooms if results.room(r.room_id))
    counts: dict[str, list] = {}
    for row in air.rooms:
        counts.setdefault(row.governs, []).append(row)
    return CardVM("Air system · constant flow", system.name, f"{len(air.rooms)} rooms on "
                  f"{display.with_unit('area', area, units, 0)}", (
        Headline("Supply", display.figure("system_flow", air.flow_m3s, units), display.unit("system_flow", units),
                 "sum of the rooms"),
        Headline("Outdoor", display.figure("system_flow", air.outdoor_m3s, units), display.unit("system_flow", units),
                 f"{air.outdoor_m3s / air.flow_m3s * 100:.0f} % of supply" if air.flow_m3s else ""),
        Headline("Per floor", display.number(air.flow_m3s * 1000 / area, 1) if area else display.DASH, "L/s m²",
                 f"{air.flow_m3s / area * 3.6e3:.1f} m³/h m²" if area else "")),
        (Inputs("Supply air", "of the system", (
            input_row(f.supply_c, ("system", (system.id,), "supply_c"), "Supply temperature", "temperature", units),
            input_row(f.warm_limit_k, ("system", (system.id,), "warm_limit_k"), "Warmer than the room by",
                      "temperature_difference", units))),
         Lines("What governs", "rooms", tuple(
             Line(name.capitalize(), str(len(rows)), "") for name, rows in
             sorted(counts.items(), key=lambda kv: -len(kv[1])))),
         *findings_section(results, "", (), "Air")))


def fan_card(state: State) -> CardVM:
    results, units, system = state.results, state.show.units, state.system
    fan = results.fans.get(system.id) if results and system else None
    if fan is None or isinstance(fan, Missing):
        return CardVM("Fan", system.name if system else "none", fan.remedy if fan else "computing")
    fan: FanResult
    pressure = display.unit("pressure", units)
    greatest = max([pa for _, pa in fan.part_pa] + [fan.duct_pa]) or 1.0
    index = results.ducts[system.id].index.label
    rows = [(name, pa / greatest, display.figure("pressure", pa, units), False) for name, pa in fan.part_pa]
    rows.append((f"Ducts, index run {index}", fan.duct_pa / greatest, display.figure("pressure", fan.duct_pa, units), True))
    if fan.allowance_pa:
        rows.append(("Margin", fan.allowance_pa / greatest, display.figure("pressure", fan.allowance_pa, units), False))
    lift = PartBars("What it has to lift", pressure, tuple(rows), display.figure("pressure", fan.wanted_pa, units),
                    "Total pressure")
    f = results.air[system.id].figures
    if isinstance(fan.chosen, Missing):
        return CardVM("Supply fan", fan.chosen.reason, fan.chosen.remedy, (),
                      (lift, *findings_section(results, "system", (system.id,))))
    point = fan.point
    by_rule = next((c.speed_rpm for c in fan.candidates if c.fan_id == fan.chosen.fan_id and c.point), fan.chosen.speed_rpm)
    parts = tuple(input_row(part_figure(p, "pressure"), ("part", (system.id, p.id), "pressure"), p.title, "pressure", units)
                  for p in lifted_parts(system))
    inputs = (
        InputVM(("fan", (system.id,), "fan_id"), "Fan", fan.chosen.fan_id, "", "pinned" if system.fan_id else "rule",
                choices=(("", "the best by rule"), *((m, m) for m in fan_models())), chosen=system.fan_id),
        InputVM(("system", (system.id,), "fan_rpm"), "Speed", display.figure("speed", fan.chosen.speed_rpm, units), "rpm",
                fan.speed_origin, "speed", tip=f"by rule {by_rule:.0f} rpm meets the duty"),
        input_row(f.allowance, ("system", (system.id,), "allowance"), "Margin on pressure", "fraction", units),
        input_row(f.motor_efficiency, ("system", (system.id,), "motor_efficiency"), "Motor and control", "fraction", units))
    rank = [c.fan_id for c in fan.candidates if c.point]
    place = f"{rank.index(fan.chosen.fan_id) + 1} of {len(rank)}" if fan.chosen.fan_id in rank else "not ranked"
    return CardVM(f"Supply fan · {place} · {system.name}",
                  f"{fan.chosen.kind.replace('-', ' ').capitalize()} {display.size_of_wheel(fan.chosen.wheel_m, units)}",
                  f"{fan.chosen.fan_id} at {fan.chosen.speed_rpm:.0f} rpm", (
        Headline("Electric", display.figure("shaft_power", point.electric_w, units), display.unit("shaft_power", units),
                 f"motor {display.with_unit('shaft_power', point.motor_w, units, 1)}"),
        Headline("Efficiency", f"{point.efficiency * 100:.0f}", "%", "wheel, total"),
        Headline("From stall", f"{point.from_stall * 100:.0f}", "%", "wanted 10 %",
                 "bad" if point.from_stall < 0.1 else "")),
        (lift, Inputs("Inputs", f"{sum(r.origin == 'pinned' for r in inputs)} pinned", inputs),
         Inputs("Parts of the unit", f"at {display.with_unit('system_flow', system.rated_m3s, units)}", parts),
         *findings_section(results, "system", (system.id,)),
         Lines("At the operating point", "", (
             Line("Flow", display.figure("system_flow", point.flow_m3s, units), display.unit("system_flow", units)),
             Line("Specific fan power", display.figure("specific_fan_power", point.specific_w_m3s, units),
                  "kW/(m³/s)"),
             Line("Class of EN 16798-3", f"SFP {point.specific_class}"),
             Line("Sound power at the fan", display.number(point.sound_db, 0), "dB")))))


def papers_card(state: State, pages: int, made: str) -> CardVM:
    results = state.results
    blocking = tuple(f for f in results.findings if f.severity == "bad") if results else ()
    return CardVM("Papers", "Report", f"{pages} pages · {made}" if pages else made, (
        Headline("Pages", str(pages) if pages else display.DASH, "", "A4"),
        Headline("Findings", str(len(results.findings)) if results else display.DASH, "", "printed at the end"),
        Headline("Open", str(len(blocking)), "", "limits broken", "bad" if blocking else "")),
        (Lines("What it holds", "", tuple(Line(x, "") for x in (
            "Basis of design: place, months, assumptions", "Room loads by cause", "Air flows and what governs",
            "Duct plan and schedule, index run", "Terminals and dampers", "Fan at its operating point", "Findings"))),
         *((Lines("Before you issue", f"{len(blocking)} open", tuple(
             Line(f.title, f.link) for f in blocking[:6])),) if blocking else ())))
