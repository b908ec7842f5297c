"""What the architect of Tern Point might have sent: demo/rooms.csv and demo/ground-floor.dxf, made from the example.

Run: python demo/make_foreign_files.py
"""

import csv
from pathlib import Path

from garnetfin.core.tables import room_uses
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.lookup import slabs_of, walls_of
from garnetfin.project.tree import Project
from garnetfin.ui.example import example_project

HERE = Path(__file__).parent
SIDES = {0: "N", 90: "E", 180: "S", 270: "W"}


def room_list(project: Project) -> list[list[str]]:
    """Number, name, level, use, area, height, outside walls and glass by direction; one row lacks its area, as rows
    do.
    """
    results = run(project, Memo())
    rows = [
        [
            "No.",
            "Room",
            "Level",
            "Use",
            "Area [m²]",
            "Ceiling height [m]",
            *(f"Wall {s}" for s in SIDES.values()),
            *(f"Glass {s}" for s in SIDES.values()),
            "Roof [m²]",
            "Served",
        ]
    ]
    levels = {x.id: x.name for x in project.levels}
    for room in project.rooms:
        outside = [w for w in walls_of(project.walls, room.id) if w.outside and w.level_id == room.level_id]
        length, glass = (
            {k: f(outside, k) for k in SIDES}
            for f in (
                lambda ws, k: sum(w.length_m for w in ws if round(w.facing_deg / 90) * 90 % 360 == k),
                lambda ws, k: sum(
                    o.area_m2
                    for w in ws
                    if round(w.facing_deg / 90) * 90 % 360 == k
                    for o in w.openings
                    if o.glazing_id
                ),
            )
        )
        roof = sum(s.area_m2 for s in slabs_of(project.slabs, room.id) if s.kind == "roof")
        area = results.room(room.id).figures.area_m2.figure
        rows.append(
            [
                room.number,
                room.name,
                levels[room.level_id],
                room_uses()[room.use_id].name,
                "" if room.number == "0.11" else f"{area:.1f}",
                f"{room.ceiling_m:g}",
                *(f"{length[k]:.1f}" if length[k] else "" for k in SIDES),
                *(f"{glass[k]:.1f}" if glass[k] else "" for k in SIDES),
                f"{roof:.1f}" if roof else "",
                "" if room.system_id else "no",
            ]
        )
    return rows


def drawing(project: Project, path: Path) -> None:
    """Walls of the ground floor as two lines each, in millimetres; windows, doors and grid on layers of their own."""
    import ezdxf
    from shapely import LineString, unary_union

    doc = ezdxf.new("R2010")
    doc.header["$INSUNITS"] = 4
    for name in ("WALLS", "WINDOWS", "DOORS", "GRID"):
        doc.layers.add(name)
    space, level = doc.modelspace(), project.levels[0].id
    solid, holes = [], []
    for wall in project.walls:
        if wall.level_id != level:
            continue
        line = LineString([wall.start, wall.end])
        solid.append(line.buffer(wall.thickness_m / 2, cap_style="square"))
        for o in wall.openings:
            a, b = (line.interpolate(o.at_m + s * o.width_m / 2) for s in (-1, 1))
            hole = LineString([a, b]).buffer(wall.thickness_m / 2 + 0.01, cap_style="flat")
            if o.glazing_id:
                space.add_line((a.x * 1000, a.y * 1000), (b.x * 1000, b.y * 1000), dxfattribs={"layer": "WINDOWS"})
            else:
                holes.append(hole)
                space.add_line(
                    (a.x * 1000, a.y * 1000), (a.x * 1000, a.y * 1000 + o.width_m * 1000), dxfattribs={"layer": "DOORS"}
                )
    walls = unary_union(solid).difference(unary_union(holes))
    for part in getattr(walls, "geoms", [walls]):
        for ring in (part.exterior, *part.interiors):
            space.add_lwpolyline(
                [(round(x * 1000), round(y * 1000)) for x, y in ring.coords], close=True, dxfattribs={"layer": "WALLS"}
            )
    xs = sorted({round(p[0], 1) for r in project.rooms if r.level_id == level for p in r.outline})
    for x in (xs[0], xs[-1]):
        space.add_line((x * 1000, -3000), (x * 1000, 16000), dxfattribs={"layer": "GRID"})
    doc.saveas(path)


def main() -> None:
    project = example_project()
    with (HERE / "rooms.csv").open("w", encoding="utf-8", newline="") as file:
        csv.writer(file, delimiter=";", lineterminator="\n").writerows(room_list(project))
    drawing(project, HERE / "ground-floor.dxf")


if __name__ == "__main__":
    main()
