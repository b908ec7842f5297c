"""What an engineer checks on a building by eye: floor against rooms, glass by facade, overlaps, rooms left over."""

from collections.abc import Iterator
from functools import lru_cache

import numpy as np

from garnetfin.core.adjacency import Outline, overlaps
from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of, without
from garnetfin.display import amount
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import BuildingResult, Facade, Finding, LevelCheck, Mend, Overlap
from garnetfin.project.derive import present
from garnetfin.project.edits.groups import AddZone
from garnetfin.project.edits.outlines import OVERLAP_M2, RemoveRooms, TrimRoom
from garnetfin.project.edits.rooms import RemoveOpening
from garnetfin.project.lookup import Same, find, slabs_of, walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

KNOWN = ("early estimate", "shell", "detailed")
MOST_GLASS = 0.7  # of a facade, above which it deserves a look; project default
FLOOR_OFF = 0.03  # rooms against the architect's floor area
LEAST_HOLE_M2 = 1.0
WALL_GAP_M = 0.25


def known_as(project: Project, room: Room) -> str:
    """How well a room is known: by area and use alone, by its outside faces, or with the openings in its walls."""
    if stands_on_area(project, room):
        return KNOWN[0]
    if room.sketched:
        return KNOWN[1]
    outside = [w for w in walls_of(project.walls, room.id) if w.outside]
    return KNOWN[2] if not outside or any(w.openings for w in outside) else KNOWN[1]


def stands_on_area(project: Project, room: Room) -> bool:
    """True for a listed room of which no outside wall is known: its area and use count, on whatever level it lies.

    How much of it lies under a roof or on the ground is `outside_shares`.
    """
    return room.sketched and not any(w.outside for w in walls_of(project.walls, room.id))


def outside_shares(project: Project, room: Room, area_m2: float) -> tuple[float, float]:
    """(share of its ceiling that is a roof, share of its floor on the ground) [-], by its slabs."""
    slabs = slabs_of(project.slabs, room.id)
    roof, ground = (sum(s.area_m2 for s in slabs if s.kind == kind) for kind in ("roof", "ground"))
    return round(min(1.0, roof / area_m2), 3), round(min(1.0, ground / area_m2), 3)


def building(project: Project, memo: Memo) -> BuildingResult:
    levels, found = [], []
    by_level: dict[str, list[Room]] = {}
    for room in project.rooms:
        by_level.setdefault(room.level_id, []).append(room)
    for level in project.levels:
        # A hall that reaches up through the storey stands on this level too.
        standing = present(project, level)
        rooms = [r for r in project.rooms if r.id in standing]
        marks = tuple(m.outline for m in project.plan_marks if m.level_id == level.id and m.kind in ("shaft", "void"))
        row = ("level", level.id, tuple(Same(r.outline) for r in rooms), tuple(Same(m) for m in marks))
        pairs, holes = memo.one(
            "building", row, lambda rooms=rooms, marks=marks: _level([r.outline for r in rooms], marks)
        )
        found += [Overlap(rooms[i].id, rooms[j].id, area) for i, j, area in pairs]
        listed = sum(
            _area(r.outline) if isinstance(r.area_m2, Rule) else r.area_m2.value for r in by_level.get(level.id, ())
        )
        levels.append(
            LevelCheck(level.id, listed, holes, None if isinstance(level.floor_m2, Rule) else level.floor_m2.value)
        )
    return BuildingResult(tuple(levels), _facades(project), tuple(found))


@lru_cache(maxsize=16_384)
def _area(outline: Outline) -> float:
    return area_of(outline)


def _level(outlines: list[Outline], marks: tuple[Outline, ...]) -> tuple[list[tuple[int, int, float]], float]:
    """(wrong overlaps, floor that the rooms enclose and none of them claims [m2])."""
    from shapely import Polygon, unary_union

    pairs = [(i, j, a) for i, j, a in overlaps(outlines, outlines) if i < j and a > OVERLAP_M2]
    if not outlines:
        return pairs, 0.0
    whole = unary_union([Polygon(o).buffer(0) for o in (*outlines, *marks)]).buffer(WALL_GAP_M, join_style="mitre")
    holes = [
        Polygon(ring).buffer(WALL_GAP_M, join_style="mitre").area
        for part in getattr(whole, "geoms", [whole])
        for ring in part.interiors
    ]
    return pairs, float(sum(a for a in holes if a > LEAST_HOLE_M2))


def _facades(project: Project) -> tuple[Facade, ...]:
    """Gross wall and glass [m2] of the eight directions that have walls."""
    gross, glass = np.zeros(8), np.zeros(8)
    for w in project.walls:
        if w.outside:
            k = round(w.facing_deg / 45) % 8
            gross[k] += w.length_m * w.height_m
            glass[k] += sum(o.area_m2 for o in w.openings if o.glazing_id)
    return tuple(Facade(45.0 * k, float(gross[k]), float(glass[k])) for k in range(8) if gross[k] > 0)


def _trimmed(room: Room, other: Room) -> tuple[Mend, ...]:
    """A room less another one; where nothing would be left of it, it goes."""
    try:
        without(room.outline, other.outline)
    except InputError:
        return (Mend(f"Remove {room.number}", RemoveRooms((room.id,))),)
    return (Mend(f"Trim {room.number}", TrimRoom(room.id, other.id)),)


def building_findings(project: Project, result: BuildingResult) -> Iterator[Finding]:
    for o in result.overlaps:
        a, b = find(project.rooms, o.room_a), find(project.rooms, o.room_b)
        yield Finding(
            "overlap",
            "Building",
            "room",
            b.id,
            f"{b.number} overlaps {a.number} by {amount('area', o.area_m2)}",
            "Floor counts twice there, and the wall between them is not found.",
            "bad",
            (*_trimmed(b, a), *_trimmed(a, b)),
        )
    for wall in project.walls:
        if not wall.outside:
            for o in wall.openings:
                if o.glazing_id:
                    room = find(project.rooms, wall.room_a)
                    yield Finding(
                        "window-inside",
                        "Building",
                        "opening",
                        f"{wall.id}/{o.id}",
                        f"Window {o.id} is in an inside wall",
                        f"It gives {room.number if room else 'its room'} no sun and no outdoor loss.",
                        "watch",
                        (Mend("Remove it", RemoveOpening(wall.id, o.id)),),
                    )
    if project.zones:
        left = tuple(r.id for r in project.rooms if r.system_id and not r.zone_id)
        if left:
            yield Finding(
                "no-zone",
                "Building",
                "room",
                left[0],
                f"{len(left)} served room{'s are' if len(left) > 1 else ' is'} in no zone",
                "Their control follows the room use alone.",
                "watch",
                (Mend("New zone of them", AddZone(left)),),
            )
    for row in result.levels:
        level = find(project.levels, row.level_id)
        if row.unclaimed_m2 > LEAST_HOLE_M2:
            yield Finding(
                "floor-hole",
                "Building",
                "level",
                level.id,
                f"{level.name}: {amount('area', row.unclaimed_m2)} in no room",
                "The rooms enclose floor that none of them claims. Draw the missing room or a shaft.",
                "watch",
            )
        if row.floor_m2 and abs(row.rooms_m2 / row.floor_m2 - 1) > FLOOR_OFF:
            yield Finding(
                "floor-sum",
                "Building",
                "level",
                level.id,
                f"{level.name}: rooms are {row.rooms_m2 / row.floor_m2:.0%} of the floor",
                f"{amount('area', row.rooms_m2)} in rooms, {amount('area', row.floor_m2)} given for the level.",
                "watch",
            )
    for facade in result.facades:
        if facade.glass_m2 > MOST_GLASS * facade.wall_m2:
            yield Finding(
                "glass-share",
                "Building",
                "facade",
                f"{facade.facing_deg:g}",
                f"{_COMPASS[int(facade.facing_deg / 45) % 8]} facade is {facade.glass_m2 / facade.wall_m2:.0%} glass",
                f"{amount('area', facade.glass_m2, 0, bare=True)} of {amount('area', facade.wall_m2, 0)}. Check "
                "sills and heads.",
                "watch",
            )


_COMPASS = ("North", "North-east", "East", "South-east", "South", "South-west", "West", "North-west")
