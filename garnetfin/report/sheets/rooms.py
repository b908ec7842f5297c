"""A sheet for each room: what it is counted with, its faces, its load by cause at its hour, its heating, its air."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.resolve import ROOM_FIGURES
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Results, RoomResult
from garnetfin.engine.stages.building import known_as
from garnetfin.engine.studies.change_list import FIELDS
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Col, Facts, Heading, PageBreak, TableBlock, Text, figure, with_unit
from garnetfin.report.sheets.derivations import derivation
from garnetfin.report.sheets.loads import hours_figure

LEAST_MM = 120.0  # of a page, for a room to begin on it
WITHOUT_LIMIT = ("cooling_limit_w", "heating_limit_w")


def rooms(results: Results, units: System) -> list[Block]:
    """Rooms in the project's order; one that would be torn apart begins a page."""
    blocks: list[Block] = []
    for i, room in enumerate(results.project.rooms):
        blocks += [*([PageBreak(LEAST_MM)] if i else []), *room_sheet(results, room.id, units)]
    return blocks or [Text("No rooms yet. Draw one, paste a list or import a building.")]


def room_sheet(results: Results, room_id: str, units: System) -> list[Block]:
    project, room = results.project, find(results.project.rooms, room_id)
    level = find(project.levels, room.level_id)
    found, air = results.room(room_id), results.room_air.get(room_id)
    head = Heading(f"{room.number} {room.name}", 2, f"{level.name}, {known_as(project, room)}")
    if found is None:
        missing = results.rooms[room_id]
        return [head, Text(f"{missing.reason}. {missing.remedy}")]
    month, hour = found.peak
    facts = [
        ("Use", found.figures.use.name),
        ("Floor", with_unit("area", found.figures.area_m2.figure, units)),
        ("Volume", with_unit("volume", found.volume_m3, units)),
    ]
    if found.kept:
        facts += [
            ("Cooling, sensible", f"{with_unit('power', found.peak_w, units)}, {display.hour(month, hour)}"),
            ("Latent at that hour", with_unit("power", float(found.latent_w[month, hour]), units)),
            ("Heating", with_unit("power", found.heating_w, units)),
        ]
    else:
        warmest, m, h = found.warmest
        facts += [
            ("Air system", "none: unconditioned"),
            ("Warmest", f"{with_unit('temperature', warmest, units)}, {display.hour(m, h)}"),
            ("Winter design day", with_unit("temperature", found.winter_c, units)),
        ]
    if air is not None:
        facts += [
            ("Supply air", f"{with_unit('room_flow', air.flow_m3s, units)}, {air.governs}"),
            ("Extract", with_unit("room_flow", air.extract_m3s, units)),
            ("Return", with_unit("room_flow", air.return_m3s, units)),
        ]
    blocks: list[Block] = [head, Facts(tuple(facts)), *_inputs(found, units), *_faces(results, found, units)]
    if found.kept and found.estimate is None:
        blocks += [*_causes(found, units), hours_figure(found.sensible_w[month], hour, units, 30)]
    for address in (("room", room_id, "cooling"), ("room", room_id, "heating")) if found.kept else ():
        why = explain(results, address)
        if why is not None:
            blocks += derivation(why, units, parts=False)
    return blocks


def _inputs(found: RoomResult, units: System) -> list[Block]:
    rows = []
    for field in ROOM_FIGURES:
        f, (name, quantity, _) = getattr(found.figures, field), FIELDS[field]
        if field in WITHOUT_LIMIT and f.origin == "rule":
            continue
        rows.append(
            (
                name[:1].upper() + name[1:],
                figure(quantity, f.figure, units),
                display.unit(quantity, units),
                f.origin,
                f.source,
            )
        )
    return [
        Heading("Counted with", 3),
        TableBlock(
            (
                Col("Figure", width=2, left=True),
                Col("Value", width=0.9),
                Col("Unit", width=0.8, left=True),
                Col("Origin", width=0.9, left=True),
                Col("Where from", width=4.2, left=True),
            ),
            tuple(rows),
        ),
    ]


def _faces(results: Results, found: RoomResult, units: System) -> list[Block]:
    if not found.faces:
        return []
    looks = ("wall", "window", "glass wall", "roof", "door")
    rows = tuple(
        (
            f.kind.capitalize(),
            _behind(results, f.to),
            display.direction(f.azimuth_deg) if f.to == "outdoors" and f.kind in looks and f.tilt_deg > 5 else "",
            figure("area", f.area_m2, units),
            figure("u_value", f.u_w_m2k, units),
            f.name,
        )
        for f in found.faces
    )
    return [
        Heading("Faces", 3),
        TableBlock(
            (
                Col("Face", width=1.2, left=True),
                Col("To", width=1.4, left=True),
                Col("Looks", width=1.2, left=True),
                Col("Area", display.unit("area", units)),
                Col("U", display.unit("u_value", units)),
                Col("Build-up", width=3, left=True),
            ),
            rows,
        ),
    ]


def _behind(results: Results, to: str) -> str:
    """What lies behind a face, a room by its number."""
    kind, _, own = to.partition(":")
    room = find(results.project.rooms, own) if own else None
    if room is None:
        return to
    return f"room {room.number}" if kind == "room" else f"{room.number}, {kind}"


def _causes(found: RoomResult, units: System) -> list[Block]:
    """Cooling at the peak and heating side by side, cause by cause."""
    cooling = {c: found.cause_w(c) for c in CAUSES}
    heating = dict(zip(HEATING_CAUSES, found.heating_by_cause_w))
    names = [*CAUSES, *(c for c in HEATING_CAUSES if c not in CAUSES)]
    rows = tuple(
        (
            c.capitalize(),
            figure("power", cooling[c], units) if abs(cooling.get(c, 0.0)) >= 0.5 else "",
            figure("power", float(heating[c]), units) if abs(heating.get(c, 0.0)) >= 0.5 else "",
        )
        for c in names
        if abs(cooling.get(c, 0.0)) >= 0.5 or abs(heating.get(c, 0.0)) >= 0.5
    )
    # What is too small for a line of its own stands together, so that the columns add up.
    small = [sum(v for c, v in found.items() if abs(v) < 0.5) for found in (cooling, heating)]
    if any(abs(v) > 1e-9 for v in small):
        rows = (*rows, ("Smaller ones", *(figure("power", float(v), units, 1) for v in small)))
    power = display.unit("power", units)
    steady = float(sum(heating.values()))
    note = (
        ""
        if abs(steady - found.heating_w) < 1
        else f"heating: the balance through the night asks for {with_unit('power', found.heating_w, units)}"
    )
    return [
        Heading("Causes", 3, note),
        TableBlock(
            (Col("Cause", width=3, left=True), Col("Cooling", power), Col("Heating", power)),
            rows,
            ("Sum", figure("power", found.peak_w, units), figure("power", steady, units)),
            frozenset({1, 2}),
        ),
    ]
