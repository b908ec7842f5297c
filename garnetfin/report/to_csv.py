"""Rooms and faces as CSV in SI units, and the tables of the papers, for spreadsheets and other programs."""

import csv
import io
import re
from math import cos, radians

from garnetfin.engine.results import Results
from garnetfin.engine.stages.building import known_as
from garnetfin.engine.studies.face_list import face_rows
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.report.blocks import Block, Heading, Number, Start, TableBlock

# Directions in which outside faces are summed, 45 degrees apart from north on, clockwise.
COMPASS_WORDS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
ROOM_HEADS = (
    "Number",
    "Name",
    "Level",
    "Use",
    "Zone",
    "Air system",
    "Input detail",
    "Area [m2]",
    "Net area [m2]",
    "Ceiling height [m]",
    "Volume [m3]",
    "People",
    "Lights [W/m2]",
    "Equipment [W/m2]",
    "Heating set-point [degC]",
    "Cooling set-point [degC]",
    "Outdoor air [L/s]",
    "Cooling load [W]",
    "Heating load [W]",
    "Supply air [L/s]",
    "Served",
    "Roof area [m2]",
    "Floor on ground [m2]",
    *(f"Outside wall {word} [m]" for word in COMPASS_WORDS),
    *(f"Glass {word} [m2]" for word in COMPASS_WORDS),
)
FACE_HEADS = (
    "Face",
    "Kind",
    "Room",
    "To",
    "Level",
    "Direction [deg]",
    "Tilt [deg]",
    "Area [m2]",
    "Openings [m2]",
    "Glass [m2]",
    "U [W/m2K]",
    "Build-up",
)


def counted(results: Results) -> dict[str, tuple[float, float, float, float, float]]:
    """What each room is counted with, for other programs: people, lights [W/m2], equipment [W/m2], area [m2], volume
    [m3].
    """
    found = ((r.id, results.room(r.id)) for r in results.project.rooms)
    return {
        i: (
            f.figures.people.figure,
            f.figures.lights_w_m2.figure,
            f.figures.equipment_w_m2.figure,
            f.figures.area_m2.figure,
            f.volume_m3,
        )
        for i, f in found
        if f is not None
    }


def rooms_csv(results: Results) -> str:
    """One line per room; loads stand empty where they could not be computed.

    Outside faces stand by direction, so that the table read as a list of rooms gives the same building.
    """
    project, rows = results.project, []
    outside = outside_of(project)
    levels = {x.id: x.name for x in project.levels}
    for room in project.rooms:
        found, air = results.room(room.id), results.room_air.get(room.id)
        zone, system = find(project.zones, room.zone_id), find(project.air_systems, room.system_id)
        head = [
            room.number,
            room.name,
            levels[room.level_id],
            room.use_id,
            zone.name if zone else "",
            system.name if system else "",
            known_as(project, room),
        ]
        roof, ground, lengths, glass = outside[room.id]
        tail = ["yes" if room.kept else "no", *(_figure(v) for v in (roof, ground, *lengths, *glass))]
        if found is None:
            rows.append([*head, *[""] * (len(ROOM_HEADS) - len(head) - len(tail)), *tail])
            continue
        f = found.figures
        rows.append(
            [
                *head,
                *(
                    _figure(v)
                    for v in (
                        f.area_m2.figure,
                        f.net_m2,
                        room.ceiling_m,
                        found.volume_m3,
                        f.people.figure,
                        f.lights_w_m2.figure,
                        f.equipment_w_m2.figure,
                        f.heating_c.figure,
                        f.cooling_c.figure,
                        f.outdoor_m3s.figure * 1000,
                        found.peak_w if room.kept else None,
                        found.heating_w if room.system_id else None,
                        air.flow_m3s * 1000 if air else None,
                    )
                ),
                *tail,
            ]
        )
    return _text(ROOM_HEADS, rows)


def outside_of(project: Project) -> dict[str, tuple[float, float, list[float], list[float]]]:
    """(roof [m2] in plan, floor on the ground [m2], wall lengths [m] and glass [m2] by direction) of each room.

    A wall counts with the length that gives its area at the height of the room's ceiling.
    """
    found: dict[str, tuple[float, float, list[float], list[float]]] = {
        r.id: (0.0, 0.0, [0.0] * len(COMPASS_WORDS), [0.0] * len(COMPASS_WORDS)) for r in project.rooms
    }
    heights = {r.id: r.ceiling_m for r in project.rooms}
    for face in face_rows(project):
        if face.room_id not in found:
            continue
        roof, ground, lengths, glass = found[face.room_id]
        if face.kind == "roof":
            found[face.room_id] = (roof + face.area_m2 * cos(radians(face.tilt_deg)), ground, lengths, glass)
        elif face.kind == "floor on ground":
            found[face.room_id] = (roof, ground + face.area_m2, lengths, glass)
        elif face.azimuth_deg is not None:
            side = round(face.azimuth_deg / 45) % len(COMPASS_WORDS)
            lengths[side] += face.area_m2 / heights[face.room_id]
            glass[side] += face.glass_m2
    return found


def faces_csv(results: Results) -> str:
    """One line per wall, roof and floor."""
    project = results.project
    levels = {x.id: x.name for x in project.levels}
    numbers = {r.id: r.number for r in project.rooms}
    return _text(
        FACE_HEADS,
        [
            [
                f.id,
                f.kind,
                numbers.get(f.room_id, ""),
                numbers.get(f.other, f.other),
                levels.get(f.level_id, ""),
                _figure(f.azimuth_deg),
                _figure(f.tilt_deg),
                _figure(f.area_m2),
                _figure(f.opened_m2),
                _figure(f.glass_m2),
                _figure(f.u_w_m2k),
                find(project.build_ups, f.build_up_id).name,
            ]
            for f in face_rows(project)
        ],
    )


def tables_csv(blocks: list[Block]) -> dict[str, str]:
    """Every table of the papers by the name of a file, figures in the printed unit with all their digits."""
    found: dict[str, str] = {}
    paper = section = heading = ""
    for block in blocks:
        if isinstance(block, Start):
            paper, section, heading = block.paper_id, "", ""
        elif isinstance(block, Heading):
            section, heading = (block.text, "") if block.level < 3 else (section, block.text)
        elif isinstance(block, TableBlock):
            stem = (
                "-".join(
                    re.sub(r"[^a-z0-9.]+", "-", part.lower()).strip("-") for part in (paper, section, heading) if part
                )
                or "table"
            )
            name = next(
                n
                for n in (f"{stem}{'' if i == 1 else f'-{i}'}.csv" for i in range(1, len(found) + 2))
                if n not in found
            )
            heads = tuple(c.name + (f" [{c.unit}]" if c.unit else "") for c in block.columns)
            rows = [*block.rows, *((block.total,) if block.total else ())]
            found[name] = _text(
                heads, [[f"{cell.value:.10g}" if isinstance(cell, Number) else cell for cell in row] for row in rows]
            )
    return found


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:.6g}"


def _text(heads: tuple[str, ...], rows: list[list[str]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(heads)
    writer.writerows([[harmless(cell) for cell in row] for row in rows])
    return out.getvalue()


def harmless(cell: str) -> str:
    """A name that a spreadsheet would take for a formula is kept as text; an empty cell stays empty."""
    first, second = cell[:1], cell[1:2]
    formula = (first and first in "=@\t") or (first and first in "+-" and not second.isdigit() and second != ".")
    return f"'{cell}" if formula else cell
