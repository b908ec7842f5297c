"""Outdoor air: what each room needs by which standard, and what the system takes in."""

import numpy as np

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import AirResult, Missing, Results
from garnetfin.project.book import OUTDOOR_METHODS
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, number, with_unit


def outdoor(results: Results, units: System) -> list[Block]:
    blocks: list[Block] = []
    for system in results.project.air_systems:
        air = results.air[system.id]
        blocks.append(Heading(system.name, 2, OUTDOOR_METHODS[results.project.book.outdoor_method]))
        blocks += [Text(f"{air.reason}. {air.remedy}")] if isinstance(air, Missing) else _system(results, air, units)
    return blocks or [Text("No air system.")]


def _system(results: Results, air: AirResult, units: System) -> list[Block]:
    flow = display.unit("room_flow", units)
    facts = [
        ("The unit takes in", with_unit("room_flow", air.outdoor_m3s, units)),
        ("Where it comes from", f"{air.outdoor.origin}: {air.outdoor.source}"),
        ("Of the supply air", f"{air.outdoor_m3s / air.flow_m3s:.0%}" if air.flow_m3s else display.DASH),
    ]
    if air.fresh is not None:
        first = find(results.project.rooms, air.fresh.critical_room)
        facts += [
            ("Sum of what rooms ask for", with_unit("room_flow", air.fresh.sum_m3s, units)),
            ("Least that serves every room", with_unit("room_flow", air.fresh.least_m3s, units)),
            ("Room that asks for it", f"{first.number} {first.name}" if first is not None else display.DASH),
        ]
    v = air.ventilation
    if v is not None:
        critical = find(results.project.rooms, air.critical_room)
        facts += [
            ("Sum of needs, people diversity counted", with_unit("room_flow", v.uncorrected_m3s, units)),
            ("Diversity of people", f"{v.diversity:.2f}"),
            ("Efficiency of the system", f"{v.efficiency:.2f}" if v.possible else "not possible"),
            ("Critical room", f"{critical.number} {critical.name}" if critical is not None else display.DASH),
        ]
    rows, need = [], []
    for i, r in enumerate(air.rooms):
        room, found = find(results.project.rooms, r.room_id), results.room(r.room_id)
        if found is None:
            continue
        f = found.figures
        efficiency = (
            float(np.atleast_1d(v.zone_efficiency)[i]) if v is not None and i < np.size(v.zone_efficiency) else None
        )
        need.append(f.outdoor_m3s.figure)
        rows.append(
            (
                room.number,
                room.name,
                f.use.name,
                figure("people", f.people.figure, units),
                figure("area", f.area_m2.figure, units),
                figure("room_flow", f.air_person_m3s, units, 1),
                figure("room_flow", f.air_area_m3s_m2, units, 2),
                figure("room_flow", f.outdoor_m3s.figure, units),
                f.outdoor_m3s.origin,
                figure("room_flow", r.flow_m3s, units),
                figure("room_flow", air.arrives_m3s[r.room_id], units),
                number(efficiency, 2) if efficiency is not None else "",
            )
        )
    return [
        Facts(tuple(facts), 2),
        TableBlock(
            (
                Col("No.", width=0.7, left=True),
                Col("Room", width=1.9, left=True),
                Col("Use", width=2, left=True),
                Col("People", width=0.9),
                Col("Floor", display.unit("area", units), 0.9),
                Col("A person", flow, 1.1),
                Col("A floor area", f"{flow} {display.unit('area', units)}", 1.3),
                Col("Needs", flow),
                Col("", width=0.9, left=True),
                Col("Supply", flow),
                Col("Arrives", flow),
                Col("Eff.", width=0.7),
            ),
            tuple(rows),
            ("", "Sum", "", "", "", "", "", figure("room_flow", sum(need), units), "", "", "", ""),
            frozenset({7}),
        ),
        Text(
            "A person and a floor area: rates in force with the method of the office standards. Arrives: fresh air in "
            "the "
            "room, with what other rooms have not used of theirs. Eff.: of the room within the system, where air "
            "recirculates.",
            True,
        ),
    ]
