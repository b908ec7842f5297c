"""Rooms and faces as CSV in SI units, for spreadsheets and other programs."""

import csv
import io

from garnetfin.engine.face_list import face_rows
from garnetfin.engine.results import Results
from garnetfin.engine.stages.building import known_as
from garnetfin.project.lookup import find

ROOM_HEADS = (
    "Number",
    "Name",
    "Level",
    "Use",
    "Zone",
    "Air system",
    "Known as",
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
    """What each room is counted with, for other programs: people, lights [W/m2], equipment [W/m2], area [m2], volume [m3]."""
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
    """One line per room; loads stand empty where they could not be computed."""
    project, rows = results.project, []
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
        if found is None:
            rows.append([*head, *[""] * (len(ROOM_HEADS) - len(head))])
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
                        found.peak_w if room.system_id else None,
                        found.heating_w if room.system_id else None,
                        air.flow_m3s * 1000 if air else None,
                    )
                ),
            ]
        )
    return _text(ROOM_HEADS, rows)


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


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:.6g}"


def _text(heads: tuple[str, ...], rows: list[list[str]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(heads)
    writer.writerows([[_harmless(cell) for cell in row] for row in rows])
    return out.getvalue()


def _harmless(cell: str) -> str:
    """A name that a spreadsheet would take for a formula is kept as text."""
    return f"'{cell}" if cell[:1] in "=@\t" or cell[:1] in "+-" and not cell[1:2].isdigit() and cell[1:2] != "." else cell
