"""Equipment of a level as outlines in metres: flow boxes in their ducts, units in their rooms."""

from collections.abc import Iterator
from math import hypot
from typing import NamedTuple

from garnetfin.core.outlines import inside
from garnetfin.engine.equipment.records import BoxRecord, RoomUnitRecord
from garnetfin.engine.layout.level_outlines import Outline, Point, label_box
from garnetfin.engine.results import DuctResult, Results
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.tree import Project

BODY_M = 0.1  # of a box beyond its inlet on each side
AT_WALL = ("radiator", "convector", "electric")
IN_FLOOR_OR_CEILING = ("floor", "ceiling")
LEAST_DEEP_M, WALL_GAP_M = 0.1, 0.04
USUAL_UNIT_M = (0.9, 0.6)  # of units whose catalogue gives no size


class Placed(NamedTuple):
    """One piece: its id and tag, its kind, its body, and where the air goes from and to in it; rooms it serves."""

    item_id: str
    tag: str
    kind: str
    outline: Outline
    way: tuple[Point, Point]
    room_ids: tuple[str, ...]


def boxes_of_level(results: Results, ducts: DuctResult, level_id: str) -> tuple[Placed, ...]:
    """Flow boxes in ducts that lie on a level, at their true length."""
    of, project = results.equipment, results.project
    return tuple(
        placed
        for box_id, stands in of.box_ducts.items()
        for segment_id in stands
        if segment_id in ducts.segments
        for placed in _box(project, ducts, of.boxes[box_id], segment_id, level_id)
    )


def _box(project: Project, ducts: DuctResult, box: BoxRecord, segment_id: str, level_id: str) -> Iterator[Placed]:
    segment, result = find(project.segments, segment_id), ducts.segments[segment_id]
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    ends = [(a.x_m, a.y_m), (b.x_m, b.y_m)]
    if box.model is None or level_id not in (a.level_id, b.level_id) or ends[0] == ends[1]:
        return
    if _starts_at_b(ducts, segment_id):
        ends.reverse()
    (x0, y0), (x1, y1) = ends
    length = hypot(x1 - x0, y1 - y0)
    ux, uy = (x1 - x0) / length, (y1 - y0) / length
    x, y, long = (x0 + x1) / 2, (y0 + y1) / 2, box.model.length_m or USUAL_UNIT_M[0]
    wide = max(box.model.inlet_m, box.model.outlet_width_m, result.section.width_m) + 2 * BODY_M
    yield Placed(
        f"{box.id}@{segment_id}",
        box.tag,
        "box",
        _rectangle((x, y), (ux, uy), long, wide),
        ((x - ux * long * 0.3, y - uy * long * 0.3), (x + ux * long * 0.3, y + uy * long * 0.3)),
        box.room_ids,
    )


def _starts_at_b(ducts: DuctResult, segment_id: str) -> bool:
    """Whether the end towards the unit is the second one of a duct as it was drawn."""
    i = ducts.segment_ids.index(segment_id)
    return ducts.ends is not None and bool(ducts.tree.entering[i] != ducts.ends[i][0])


def _rectangle(middle: Point, along: Point, long: float, wide: float) -> Outline:
    (x, y), (ux, uy) = middle, along
    return tuple(
        (x + ux * s * long / 2 - uy * t * wide / 2, y + uy * s * long / 2 + ux * t * wide / 2)
        for s, t in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    )


def room_units_of_level(results: Results, level_id: str) -> tuple[Placed, ...]:
    """Units in rooms of a level: below windows, else side by side in the middle of their room; those that lie in a
    floor or a ceiling as what they cover.
    """
    return tuple(
        placed
        for record in results.equipment.room_units.values()
        if record.model is not None
        for placed in _units(results.project, record, level_id)
    )


def handlers_of_level(results: Results, level_id: str) -> tuple[Placed, ...]:
    """Air handlers in rooms of a level: the floor that each wants, then its body; where it does not fit both in the
    middle of its room, as "short".
    """
    found: list[Placed] = []
    of = results.equipment
    for system_id, at in of.standings.items():
        room, made = find(results.project.rooms, at.room_id), of.units[system_id].layout
        if room is None or room.level_id != level_id or made is None:
            continue
        floor, body, short = at.floor, at.body, "" if at.fits else " short"
        if floor is None or body is None:
            x0, y0, x1, y1 = label_box(room.outline)
            middle = ((x0 + x1) / 2, (y0 + y1) / 2)
            along = (1.0, 0.0) if x1 - x0 >= y1 - y0 else (0.0, 1.0)
            floor = _rectangle(middle, along, *at.size_m)
            body = _rectangle(middle, along, made.length_m, made.width_m)
        way = (floor[0], floor[0])
        found.append(Placed(f"{system_id}@floor", "", f"floor of unit{short}", floor, way, (room.id,)))
        found.append(Placed(system_id, of.units[system_id].tag, f"unit{short}", body, way, (room.id,)))
    return tuple(found)


def _units(project: Project, record: RoomUnitRecord, level_id: str) -> Iterator[Placed]:
    room = find(project.rooms, record.room_id)
    if room is None or room.level_id != level_id or record.model is None:
        return
    x0, y0, x1, y1 = label_box(room.outline)
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    own = (room.id,)
    if record.kind in IN_FLOOR_OR_CEILING:
        wide, deep = 0.8 * (x1 - x0), 0.8 * (y1 - y0)
        yield Placed(
            record.id, record.tag, record.kind, _rectangle(middle, (1.0, 0.0), wide, deep), (middle, middle), own
        )
        return
    long = record.model.length_m or USUAL_UNIT_M[0]
    deep = max(record.model.depth_m or USUAL_UNIT_M[1], LEAST_DEEP_M)
    places = _at_windows(project, room.id, room.outline, deep) if record.kind in AT_WALL else []
    if len(places) < record.count:
        along = (1.0, 0.0) if x1 - x0 >= y1 - y0 else (0.0, 1.0)
        reach = max(x1 - x0, y1 - y0)
        shares = [(k + 0.5) / record.count - 0.5 for k in range(len(places), record.count)]
        places += [((middle[0] + along[0] * s * reach, middle[1] + along[1] * s * reach), along) for s in shares]
    for k, (at, along) in enumerate(places[: record.count]):
        yield Placed(f"{record.id}@{k}", record.tag, record.kind, _rectangle(at, along, long, deep), (at, at), own)


def _at_windows(project: Project, room_id: str, outline: Outline, deep: float) -> list[tuple[Point, Point]]:
    """(middle, direction) of places below the windows of a room, the widest first, inside its wall."""
    found = []
    for wall in walls_of(project.walls, room_id):
        (x0, y0), (x1, y1) = wall.start, wall.end
        ux, uy = (x1 - x0) / wall.length_m, (y1 - y0) / wall.length_m
        off = wall.thickness_m / 2 + WALL_GAP_M + deep / 2
        for o in wall.openings:
            if not o.glazing_id:
                continue
            x, y = x0 + ux * o.at_m, y0 + uy * o.at_m
            both = ((x - uy * off, y + ux * off), (x + uy * off, y - ux * off))
            at = next((p for p in both if inside(outline, p)), None)
            if at is not None:
                found.append((o.width_m, at, (ux, uy)))
    found.sort(key=lambda f: -f[0])
    return [(at, along) for _, at, along in found]
