"""Air flows of rooms: every need and the one that governs."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import AirResult, Missing, Results
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Col, Facts, Heading, PageBreak, TableBlock, Text


def air_flows(results: Results, units: System) -> list[Block]:
    blocks: list[Block] = []
    for system in results.project.air_systems:
        air = results.air[system.id]
        blocks += [PageBreak(), Heading(f"Air flows, {system.name}", 2, display.unit("room_flow", units))]
        if isinstance(air, Missing):
            blocks.append(Text(f"{air.reason}. {air.remedy}"))
            continue
        air: AirResult
        share = air.outdoor_m3s / air.flow_m3s if air.flow_m3s else 0
        blocks.append(Facts((
            ("Supply air", display.with_unit("system_flow", air.flow_m3s, units)),
            ("Outdoor air", f"{display.with_unit('system_flow', air.outdoor_m3s, units)} ({share:.0%})"),
            ("Supply temperature", f"{display.with_unit('temperature', air.figures.supply_c.figure, units)} "
                                   f"({air.figures.supply_c.origin})"),
            ("Heating air at most", f"{display.with_unit('temperature_difference', air.figures.warm_limit_k.figure, units)} "
                                    "above the room"),
            ("Flows are at", display.with_unit("density", air.density_kg_m3, units)), ("Rooms", str(len(air.rooms))))))
        rows = []
        for row in air.rooms:
            room = find(results.project.rooms, row.room_id)
            rows.append((room.number, room.name, *(display.figure("room_flow", n, units) for n in row.needs_m3s),
                         display.figure("room_flow", row.flow_m3s, units), row.governs))
        blocks.append(TableBlock(
            (Col("No.", width=0.8, left=True), Col("Room", width=2.4, left=True), Col("Cooling"), Col("Heating"),
             Col("Outdoor air", width=1.2), Col("Air change", width=1.2), Col("Supply"), Col("Governs", width=1.4, left=True)),
            tuple(rows), ("", "Sum", "", "", "", "", display.figure("room_flow", air.flow_m3s, units), "")))
    return blocks
