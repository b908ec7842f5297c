"""Findings of ducts as they are drawn, whatever their sizes: two units on one run, ducts outside the building,
terminals outside their room or below its ceiling.
"""

from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from garnetfin.display import amount
from garnetfin.engine.findings.naming import some
from garnetfin.engine.results import Finding, Mend
from garnetfin.project.ducts import DuctPoint, Terminal
from garnetfin.project.edits.duct_runs import SetTerminal
from garnetfin.project.edits.terminals import HangTerminals, usual_height
from garnetfin.project.lookup import find
from garnetfin.project.spaces import PlanMark, Room
from garnetfin.project.tree import Project

OFF_M = 0.6  # a duct further from rooms and shafts runs outside the building
HANGS_M = 0.1  # a terminal this far below its ceiling hangs in the room
ON_WALLS = ("wallg", "displ")


def drawn_findings(project: Project) -> Iterator[Finding]:
    """What is wrong whatever the ducts' sizes are: two units on one run, ducts outside the building, terminals outside
    their room.
    """
    yield from _two_units(project)
    yield from _outside(project)
    yield from _below_ceiling(project)


def _below_ceiling(project: Project) -> Iterator[Finding]:
    """Terminals that hang in the room, as a ceiling that was raised leaves them."""
    by_room: dict[str, list[tuple[Terminal, float]]] = {}
    for terminal in project.terminals:
        point, room = find(project.duct_points, terminal.point_id), find(project.rooms, terminal.room_id)
        if point is None or room is None or room.sketched or terminal.kind in ON_WALLS:
            continue
        low = usual_height(project, room, terminal.kind) - point.z_m
        if low > HANGS_M:
            by_room.setdefault(room.id, []).append((terminal, low))
    for room_id, hanging in by_room.items():
        room, ids = find(project.rooms, room_id), tuple(t.id for t, _ in hanging)
        count = f"{len(hanging)} terminals hang" if len(hanging) > 1 else f"Terminal {hanging[0][0].label} hangs"
        yield Finding(
            "terminal-height",
            "Ducts",
            "room",
            room_id,
            f"{room.number}: {count} below the ceiling",
            f"{amount('length', max(low for _, low in hanging))} below the ceiling at "
            f"{amount('length', room.ceiling_m)}. Their ducts end where they hang.",
            "watch",
            (Mend("Move to the ceiling", HangTerminals(ids)),),
        )


def _two_units(project: Project) -> Iterator[Finding]:
    owners: dict[str, set[tuple[str, str]]] = {}
    first: dict[str, str] = {}
    for s in project.segments:
        for i in (s.a, s.b):
            owners.setdefault(i, set()).add((s.system_id, s.air))
            first.setdefault(i, s.id)
    for point_id, who in owners.items():
        if len(who) > 1:
            yield Finding(
                "two-units",
                "Ducts",
                "segment",
                first[point_id],
                "Two air handlers on one run",
                "Ducts of "
                + " and ".join(sorted(f"{find(project.air_systems, i).name} ({air})" for i, air in who))
                + " meet there. Move one away.",
                "bad",
            )


@lru_cache(maxsize=4)
def _covered(outlines: tuple[tuple[str, tuple[tuple[float, float], ...]], ...]) -> dict[str, Any]:
    """What rooms, shafts and units cover of each level, with what a duct may stand off from them."""
    from shapely import Polygon, prepare, unary_union

    by_level: dict[str, list[Any]] = {}
    for level_id, outline in outlines:
        by_level.setdefault(level_id, []).append(Polygon(outline).buffer(OFF_M))
    whole = {i: unary_union(shapes) for i, shapes in by_level.items()}
    for shape in whole.values():
        prepare(shape)
    return whole


def _outside(project: Project) -> Iterator[Finding]:
    import numpy as np
    from shapely import Point, Polygon, contains_xy

    parts: tuple[Room | PlanMark, ...] = (*project.rooms, *project.plan_marks)
    covering = [x for x in parts if x.level_id and (not isinstance(x, PlanMark) or x.kind != "block")]
    whole = _covered(tuple((x.level_id, x.outline) for x in covering))
    off: set[str] = set()
    for level_id, shape in whole.items():
        points = [p for p in project.duct_points if p.level_id == level_id]
        inside = contains_xy(shape, np.array([(p.x_m, p.y_m) for p in points]).reshape(-1, 2))
        off |= {p.id for p, within in zip(points, inside) if not within and not shape.covers(Point(p.x_m, p.y_m))}
    ids = [s.id for s in project.segments if s.a in off or s.b in off]
    if ids:
        yield Finding(
            "outside",
            "Ducts",
            "segment",
            ids[0],
            f"{len(ids)} ducts run outside the building"
            if len(ids) > 1
            else f"Duct {ids[0]} runs outside the building",
            f"{some(ids)}: no room or shaft is there. Move them in, or insulate them for outdoors.",
            "watch",
        )
    rooms = {r.id: r for r in project.rooms}
    for t in project.terminals:
        point, room = find(project.duct_points, t.point_id), rooms[t.room_id]
        if point.level_id == room.level_id and _within_box(room.outline, point):
            continue  # the usual case, told without geometry
        if point.level_id != room.level_id or Polygon(room.outline).distance(Point(point.x_m, point.y_m)) > OFF_M:
            there = next(
                (
                    r
                    for r in project.rooms
                    if r.level_id == point.level_id and Polygon(r.outline).covers(Point(point.x_m, point.y_m))
                ),
                None,
            )
            yield Finding(
                "terminal-away",
                "Ducts",
                "terminal",
                t.id,
                f"Terminal {t.label} lies outside room {room.number}",
                "It serves a room that it does not reach."
                + (f" {there.number} {there.name} is there." if there else ""),
                "watch",
                (Mend(f"Serve {there.number}", SetTerminal(t.id, room_id=there.id)),) if there else (),
            )


def _within_box(outline: tuple[Any, ...], point: DuctPoint) -> bool:
    """True for a point in a room of four upright corners; any other is left to geometry."""
    xs, ys = {p[0] for p in outline}, {p[1] for p in outline}
    return (
        len(outline) == 4
        and len(xs) == 2
        and len(ys) == 2
        and min(xs) <= point.x_m <= max(xs)
        and min(ys) <= point.y_m <= max(ys)
    )
