"""Air of the rooms: flows with every need, the balance of each room, the schedule of terminals."""

import math

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import AirResult, Missing, Results
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, number, with_unit


def air_flows(results: Results, units: System) -> list[Block]:
    blocks: list[Block] = []
    for system in results.project.air_systems:
        air = results.air[system.id]
        blocks.append(Heading(system.name, 2, display.unit("room_flow", units)))
        if isinstance(air, Missing):
            blocks.append(Text(f"{air.reason}. {air.remedy}"))
            continue
        air: AirResult
        share = air.outdoor_m3s / air.flow_m3s if air.flow_m3s else 0
        blocks.append(
            Facts(
                (
                    ("Supply air", with_unit("system_flow", air.flow_m3s, units)),
                    ("Outdoor air", f"{with_unit('system_flow', air.outdoor_m3s, units)} ({share:.0%})"),
                    (
                        "Supply temperature",
                        f"{with_unit('temperature', air.figures.supply_c.figure, units)} "
                        f"({air.figures.supply_c.origin})",
                    ),
                    (
                        "Heating air at most",
                        f"{with_unit('temperature_difference', air.figures.warm_limit_k.figure, units)} above the room",
                    ),
                    ("Flows are at", with_unit("density", air.density_kg_m3, units)),
                    ("Rooms", str(len(air.rooms))),
                )
            )
        )
        rows = []
        for row in air.rooms:
            room = find(results.project.rooms, row.room_id)
            rows.append(
                (
                    room.number,
                    room.name,
                    *(figure("room_flow", n, units) for n in row.needs_m3s),
                    figure("room_flow", row.flow_m3s, units),
                    row.governs,
                )
            )
        blocks.append(
            TableBlock(
                (
                    Col("No.", width=0.8, left=True),
                    Col("Room", width=2.2, left=True),
                    Col("Cooling"),
                    Col("Latent", width=0.9),
                    Col("Heating"),
                    Col("Outdoor", width=1.0),
                    Col("Air ch.", width=0.9),
                    Col("Make-up", width=1.0),
                    Col("Supply"),
                    Col("Governs", width=1.4, left=True),
                ),
                tuple(rows),
                ("", "Sum", "", "", "", "", "", "", figure("room_flow", air.peaks_m3s, units), ""),
                frozenset({8}),
            )
        )
        blocks += _balance(results, air, units)
    return blocks


def _balance(results: Results, air: AirResult, units: System) -> list[Block]:
    """Air balance of every room: what comes in and what goes out."""
    rows = []
    for r in air.rooms:
        room = find(results.project.rooms, r.room_id)
        rows.append(
            (
                room.number,
                room.name,
                *(
                    figure("room_flow", v, units)
                    for v in (
                        r.flow_m3s,
                        r.transfer_in_m3s,
                        r.extract_m3s,
                        r.transfer_out_m3s,
                        r.return_m3s,
                        r.offset_m3s,
                    )
                ),
                r.pressure,
            )
        )
    sums = tuple(
        figure("room_flow", sum(getattr(r, n) for r in air.rooms), units)
        for n in ("flow_m3s", "transfer_in_m3s", "extract_m3s", "transfer_out_m3s", "return_m3s", "offset_m3s")
    )
    return [
        Heading("Air balance of the rooms", 3, display.unit("room_flow", units)),
        TableBlock(
            (
                Col("No.", width=0.8, left=True),
                Col("Room", width=2.2, left=True),
                Col("Supply"),
                Col("In by transfer", width=1.2),
                Col("Extract"),
                Col("Out by transfer", width=1.2),
                Col("Return"),
                Col("Leaks out"),
                Col("Pressure", width=1.3, left=True),
            ),
            tuple(rows),
            ("", "Sum", *sums, ""),
            frozenset(range(2, 8)),
        ),
    ]


def terminals(results: Results, units: System) -> list[Block]:
    """Terminals of every air system."""
    blocks = [b for s in results.project.air_systems for b in _terminals(results, s.id, units)]
    return blocks or [Text("No terminals. Place some in Air or draw ducts to them.")]


def _terminals(results: Results, system_id: str, units: System) -> list[Block]:
    """Schedule of all terminals in rooms of the system, supply and what leaves."""
    rows, project = [], results.project

    def text(value: float, digits: int = 1) -> str:
        return number(value, digits) if math.isfinite(value) else display.DASH

    for t in project.terminals:
        found, room = results.terminals.get(t.id), find(project.rooms, t.room_id)
        if found is None or room is None or room.system_id != system_id:
            continue
        rows.append(
            (
                t.label,
                room.name,
                t.air,
                found.point.model,
                figure("room_flow", found.flow_m3s, units),
                figure("velocity", found.point.neck_m_s, units),
                figure("pressure", found.point.pressure_pa, units),
                text(found.ratio, 2),
                text(found.nc, 0),
                text(found.room_nc, 0),
            )
        )
    if not rows:
        return []
    return [
        Heading("Terminals", 3, "reach: throw to 0.25 m/s over the distance it should cover"),
        TableBlock(
            (
                Col("Terminal", width=1.1, left=True),
                Col("Room", width=2.1, left=True),
                Col("Air", width=0.9, left=True),
                Col("Model", width=1.8, left=True),
                Col("Flow", display.unit("room_flow", units)),
                Col("Neck", display.unit("velocity", units)),
                Col("Drop", display.unit("pressure", units)),
                Col("Reach"),
                Col("NC", width=0.7),
                Col("Together NC", width=1.1),
            ),
            tuple(rows),
        ),
    ]
