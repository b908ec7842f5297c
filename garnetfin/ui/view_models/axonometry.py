"""The building as faces in space, for the lifted-apart view: polygons in metres, levels lifted from each other."""

from dataclasses import dataclass

from garnetfin.project.lookup import find
from garnetfin.project.spaces import INSIDE, Opening, Wall
from garnetfin.project.tree import Project

Point3 = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Solid:
    """One face: corners in metres, what it is (wall, glass, door, floor, roof), and which part a click selects."""

    kind: str
    target: tuple[str, str]
    corners: tuple[Point3, ...]
    outside: bool = True


def solids(project: Project, lift_m: float, only: frozenset[str] | None = None) -> tuple[Solid, ...]:
    """Floors and walls level by level from below, each level lifted by lift_m above the one under it.

    only    rooms to show; None shows all. Roofs are drawn for shown rooms alone: over a whole level they would hide it.
    """
    rank = {x.id: i for i, x in enumerate(sorted(project.levels, key=lambda x: x.elevation_m))}
    lifted = {x.id: x.elevation_m + rank[x.id] * lift_m for x in project.levels}
    rooms = {r.id: r for r in project.rooms}
    made: list[Solid] = []
    for level in sorted(project.levels, key=lambda x: x.elevation_m):
        z = lifted[level.id]
        for room in project.rooms:
            if room.level_id == level.id and (only is None or room.id in only):
                made.append(Solid("floor", ("room", room.id), tuple((x, y, z) for x, y in room.outline)))
        for wall in project.walls:
            if (
                wall.level_id == level.id
                and wall.room_b != INSIDE
                and (only is None or wall.room_a in only or wall.room_b in only)
            ):
                made += _wall(wall, z)
        if only is not None:
            for slab in project.slabs:
                room = rooms.get(slab.room_below)
                if slab.kind == "roof" and room is not None and room.id in only and room.level_id == level.id:
                    top = z + _height(project, room.id)
                    made.append(Solid("roof", ("face", f"slab/{slab.id}"), tuple((x, y, top) for x, y in room.outline)))
    return tuple(made)


def _height(project: Project, room_id: str) -> float:
    room = find(project.rooms, room_id)
    return max(
        (w.height_m for w in project.walls if room_id in (w.room_a, w.room_b) and w.level_id == room.level_id),
        default=room.ceiling_m,
    )


def _wall(wall: Wall, z: float) -> list[Solid]:
    (x0, y0), (x1, y1) = wall.start, wall.end
    quad = ((x0, y0, z), (x1, y1, z), (x1, y1, z + wall.height_m), (x0, y0, z + wall.height_m))
    made = [Solid("wall", ("face", f"wall/{wall.id}"), quad, wall.outside)]
    made += [
        Solid("glass" if o.glazing_id else "door", ("opening", f"{wall.id}/{o.id}"), _opening(wall, o, z), wall.outside)
        for o in wall.openings
    ]
    return made


def _opening(wall: Wall, o: Opening, z: float) -> tuple[Point3, ...]:
    def at(t: float) -> tuple[float, float]:
        s = t / wall.length_m
        return wall.start[0] + s * (wall.end[0] - wall.start[0]), wall.start[1] + s * (wall.end[1] - wall.start[1])

    low, high = at(o.at_m - o.width_m / 2), at(o.at_m + o.width_m / 2)
    top = min(o.head_m, wall.height_m)
    return (*low, z + o.sill_m), (*high, z + o.sill_m), (*high, z + top), (*low, z + top)


def shown_rooms(project: Project, scope: str, kind: str, ids: tuple[str, ...]) -> frozenset[str] | None:
    """Rooms that a scope shows of what is selected: "room" itself, its "zone", or a face with its "neighbours";

    None = all.
    """
    chosen: set[str] = set()
    if kind == "room":
        chosen = set(ids)
    elif kind == "zone":
        chosen = {r.id for r in project.rooms if r.zone_id in ids}
    elif kind in ("face", "opening"):
        for i in ids:
            part = i.partition("/")[2] if kind == "face" else i.partition("/")[0]
            wall = find(project.walls, part)
            slab = find(project.slabs, part) if wall is None else None
            pair = (
                (wall.room_a, wall.room_b)
                if wall is not None
                else (slab.room_below, slab.room_above)
                if slab is not None
                else ()
            )
            chosen |= {r for r in pair if find(project.rooms, r) is not None}
    if scope == "all" or not chosen:
        return None
    if scope == "zone":
        zones = {find(project.rooms, i).zone_id for i in chosen} - {""}
        chosen |= {r.id for r in project.rooms if r.zone_id in zones}
    if scope == "neighbours" and kind == "room":
        own = frozenset(chosen)
        sides = [{w.room_a, w.room_b} for w in project.walls] + [{s.room_below, s.room_above} for s in project.slabs]
        chosen |= {i for pair in sides if pair & own for i in pair if find(project.rooms, i) is not None}
    return frozenset(chosen)
