"""States of the air through a unit, winter and summer, and the check of its coil."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import Missing, Results, TrainResult
from garnetfin.engine.studies.coil_sheet import air_state, coil_sheet
from garnetfin.engine.studies.worksheet import places
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, number, with_unit
from garnetfin.report.sheets.state_chart import state_chart


def coils(results: Results, units: System) -> list[Block]:
    blocks: list[Block] = []
    for system in results.project.air_systems:
        found = results.trains[system.id]
        blocks.append(Heading(system.name, 2))
        if isinstance(found, Missing):
            blocks.append(Text(f"{found.reason}. {found.remedy}"))
            continue
        for point in (found.cooling, found.heating):
            blocks += _states(system, found, point, units)
        blocks += _coil(results, system.id, units)
    return blocks or [Text("No air system.")]


def _columns(units: System) -> tuple[Col, ...]:
    return (
        Col("Place", width=3, left=True),
        Col("Dry bulb", display.unit("temperature", units)),
        Col("Water", display.unit("humidity_ratio", units)),
        Col("RH", "%", 0.7),
        Col("Enthalpy", display.unit("enthalpy", units), 1.1),
        Col("Wet bulb", display.unit("temperature", units)),
        Col("Dry air", display.unit("mass_flow", units)),
        Col("Heat", display.unit("load", units)),
    )


def _cells(s, units: System) -> tuple[str, ...]:
    return (
        figure("temperature", s.t, units),
        figure("humidity_ratio", s.w, units),
        number(s.rh * 100),
        figure("enthalpy", s.h, units),
        figure("temperature", s.wb, units),
        figure("mass_flow", s.m, units),
    )


def _states(system, found: TrainResult, point, units: System) -> list[Block]:
    rows: list[tuple[str, ...]] = []
    for node, title in places(system, found):
        t, w, m = point.node(node)
        heat = point.heat_w(node)
        rows.append(
            (
                f"{len(rows) + 1}  {title[:1].upper() + title[1:]}",
                *_cells(air_state(t, w, m, found.pressure_pa), units),
                figure("load", heat, units) if abs(heat) >= 0.5 else "",
            )
        )
    return [
        Heading("States of the air", 3, point.name),
        state_chart(system, found, point, units),
        TableBlock(_columns(units), tuple(rows)),
    ]


def _coil(results: Results, system_id: str, units: System) -> list[Block]:
    sheet = coil_sheet(results, system_id)
    if isinstance(sheet, Missing):
        return [Heading("Coil check sheet", 3), Text(f"{sheet.reason}. {sheet.remedy}")]
    states = tuple(
        (name, *_cells(s, units), "") for name, s in (("Entering", sheet.entering), ("Leaving", sheet.leaving))
    )

    cold = display.cooling(results.project.book.cooling_unit)

    def shown(quantity: str, value: float) -> str:
        return figure(quantity, value, units) if quantity else number(value, 1)

    ratios = tuple(
        (
            r.name,
            shown(r.quantity, r.value),
            display.unit(r.quantity, units) if r.quantity else r.unit,
            "" if r.band is None else f"{shown(r.quantity, r.band[0])} to {shown(r.quantity, r.band[1])}",
            "look" if r.odd else "",
        )
        for r in sheet.ratios
    )
    return [
        Heading("Coil check sheet", 3, sheet.at),
        Facts(
            (
                ("Total load", with_unit(cold, sheet.total_w, units)),
                ("Sensible", f"{with_unit(cold, sheet.sensible_w, units)} ({sheet.ratio:.2f})"),
                ("Surface", with_unit("temperature", sheet.adp_c, units)),
                ("Bypass factor", f"{sheet.bypass:.2f}"),
                ("Condensate", with_unit("moisture_flow", sheet.condensate_kg_s, units)),
                ("Outdoor air", f"{sheet.outdoor_share:.0%}"),
                ("Rooms", f"{sheet.rooms_rh[0]:.0%} to {sheet.rooms_rh[1]:.0%} relative humidity"),
            )
        ),
        TableBlock(_columns(units), states),
        TableBlock(
            (Col("What the load is made of", width=3, left=True), Col("Load", display.unit(cold, units))),
            tuple((n, figure(cold, v, units)) for n, v in sheet.parts),
            ("Total", figure(cold, sheet.total_w, units)),
            frozenset({1}),
        ),
        TableBlock(
            (
                Col("Figure to judge by", width=3, left=True),
                Col("Value", width=1),
                Col("Unit", width=1, left=True),
                Col("Usual", width=1.4),
                Col("", width=0.6, left=True),
            ),
            ratios,
        ),
    ]
