"""Edits that make rooms from rooms: split, merge, copy (to a place, a level, in a row), mirror, number."""

import re
from collections.abc import Callable
from typing import Any, ClassVar, Literal

from msgspec import Struct, structs

from garnetfin.core import outlines as plane
from garnetfin.core.adjacency import Outline, Point
from garnetfin.core.errors import InputError
from garnetfin.project.derive import along as along_wall
from garnetfin.project.derive import derive, off, point_along
from garnetfin.project.edits.outlines import boxes_without, check_outline, next_number, units_without
from garnetfin.project.lookup import find, fresh_ids, position, replaced, walls_of
from garnetfin.project.spaces import NO_ROOM, Opening, Room, Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import Imported, Pinned, Rule, Value

MOST_COPIES = 500
NEAR_M = 0.3  # a carried opening must find its wall within this


class SplitRoom(Struct, frozen=True):
    """A room divided by a line of two or more points [m]; the greatest piece stays the room it was.

    Values per floor area or volume and set-points go to all pieces; amounts (people, flows, area) stay with the first.
    """

    label: ClassVar[str] = "Split room"
    room_id: str
    line: tuple[Point, ...]

    def apply(self, project: Project) -> Project:
        room = project.rooms[position(project.rooms, self.room_id)]
        pieces = plane.cut(room.outline, self.line)
        rooms = replaced(project.rooms, room.id, structs.replace(room, outline=pieces[0], sketched=False))
        made = structs.replace(project, rooms=rooms)
        amounts = dict(area_m2=Rule(), people=Rule(), outdoor_m3s=Rule(), supply_m3s=Rule(), origin=None)
        for outline, room_id in zip(pieces[1:], fresh_ids(project.rooms, "n", len(pieces) - 1)):
            level = find(made.levels, room.level_id)
            piece = structs.replace(
                room, id=room_id, number=next_number(made, level), outline=outline, sketched=False, **amounts
            )
            made = structs.replace(made, rooms=(*made.rooms, piece))
        made = _terminals_follow(made, {room.id, *(r.id for r in made.rooms[len(project.rooms) :])})
        return _carry(
            made,
            walls_of(project.walls, room.id),
            {r.id for r in made.rooms[len(project.rooms) :]} | {room.id},
            {},
            lambda p: p,
        )


class MergeRooms(Struct, frozen=True):
    """Rooms that touch become the first of them; amounts that were pinned in all are added up."""

    label: ClassVar[str] = "Merge rooms"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        rooms = [project.rooms[position(project.rooms, i)] for i in dict.fromkeys(self.room_ids)]
        if len(rooms) < 2:
            raise InputError("Merging needs two rooms", remedy="Select another one with Shift")
        if len({r.level_id for r in rooms}) > 1:
            raise InputError("Rooms of different levels cannot be merged", remedy="Give the lower one a higher ceiling")
        if any(r.sketched for r in rooms):
            raise InputError(
                "Rooms from a list have no place yet",
                where=f"room {next(r.number for r in rooms if r.sketched)}",
                remedy="Draw them first",
            )
        first, gone = rooms[0], {r.id for r in rooms[1:]}
        sums = {f: _sum([getattr(r, f) for r in rooms]) for f in ("area_m2", "people", "outdoor_m3s", "supply_m3s")}
        whole = structs.replace(first, outline=plane.joined([r.outline for r in rooms]), **sums)
        kept = tuple(whole if r.id == first.id else r for r in project.rooms if r.id not in gone)
        walls = []
        for w in project.walls:
            a, b = (first.id if x in gone else x for x in (w.room_a, w.room_b))
            if a != b:
                walls.append(w if (a, b) == (w.room_a, w.room_b) else structs.replace(w, room_a=a, room_b=b))
        made = structs.replace(
            project,
            rooms=kept,
            walls=tuple(walls),
            slabs=tuple(s for s in project.slabs if not gone & {s.room_below, s.room_above}),
            terminals=tuple(
                structs.replace(t, room_id=first.id) if t.room_id in gone else t for t in project.terminals
            ),
            transfers=_joined_transfers(project, first.id, gone),
            flow_boxes=boxes_without(project, gone),
            room_units=tuple(u for u in project.room_units if u.room_id not in gone),
            units=units_without(project, gone),
        )
        check_outline(made, first.level_id, whole.outline, first.id)
        return derive(made, {first.id})


def _joined_transfers(project: Project, kept: str, gone: set[str]) -> tuple[Any, ...]:
    """Transfers of air once rooms are one: those between them are gone, of equal ones the first stays."""
    found: dict[tuple[str, str], object] = {}
    for t in project.transfers:
        a, b = (kept if x in gone else x for x in (t.from_room, t.to_room))
        if a != b:
            found.setdefault(
                (a, b), t if (a, b) == (t.from_room, t.to_room) else structs.replace(t, from_room=a, to_room=b)
            )
    return tuple(found.values())


class CopyRooms(Struct, frozen=True):
    """Copies of rooms with their openings and inputs, `count` times, each moved by (dx, dy) [m]; onto a level when one
    is named.

    mirror   "x": left and right change sides about the middle of the rooms; "y": front and back
    """

    label: ClassVar[str] = "Copy rooms"
    room_ids: tuple[str, ...]
    dx_m: float = 0.0
    dy_m: float = 0.0
    count: int = 1
    level_id: str = ""
    mirror: Literal["", "x", "y"] = ""

    def apply(self, project: Project) -> Project:
        if not 1 <= self.count * len(self.room_ids) <= MOST_COPIES:
            raise InputError(f"1 to {MOST_COPIES} copied rooms are accepted, got {self.count * len(self.room_ids)}")
        sources = [project.rooms[position(project.rooms, i)] for i in self.room_ids]
        flip = _flip(sources, self.mirror)
        made = project
        for k in range(1, self.count + 1):

            def moved(p: Point, k: int = k) -> Point:
                x, y = flip(p)
                return round(x + k * self.dx_m, 6), round(y + k * self.dy_m, 6)

            made = _copied(made, sources, moved, self.level_id, project.walls)
        return made


class MirrorRooms(Struct, frozen=True):
    """Rooms turned over in place about the middle of their box: "x" changes left and right, "y" front and back."""

    label: ClassVar[str] = "Mirror rooms"
    room_ids: tuple[str, ...]
    mirror: Literal["x", "y"]

    def apply(self, project: Project) -> Project:
        sources = [project.rooms[position(project.rooms, i)] for i in self.room_ids]
        flip = _flip(sources, self.mirror)
        turned = {r.id: structs.replace(r, outline=plane.tidy([flip(p) for p in r.outline])) for r in sources}
        bare = structs.replace(
            project,
            rooms=tuple(turned.get(r.id, r) for r in project.rooms),
            walls=tuple(w for w in project.walls if not turned.keys() & {w.room_a, w.room_b}),
        )
        for room in turned.values():
            check_outline(bare, room.level_id, room.outline, room.id)
        beside = {w.other(i) for i in turned for w in walls_of(project.walls, i)} - NO_ROOM
        own = tuple(w for i in turned for w in walls_of(project.walls, i))
        return _carry(bare, tuple(dict.fromkeys(own)), {*turned, *beside}, {i: i for i in turned}, flip)


class NumberRooms(Struct, frozen=True):
    """Numbers in sequence from a first one; its last run of digits counts up and keeps its width."""

    label: ClassVar[str] = "Number rooms"
    room_ids: tuple[str, ...]
    first: str

    def apply(self, project: Project) -> Project:
        found = re.fullmatch(r"(.*?)(\d+)(\D*)", self.first.strip())
        if found is None or len(self.first) > 40:
            raise InputError(f"“{self.first}” has no figure to count up", remedy="Give a first number such as 1.01")
        head, digits, tail = found.groups()
        rooms = project.rooms
        for k, room_id in enumerate(self.room_ids):
            number = f"{head}{int(digits) + k:0{len(digits)}d}{tail}"
            rooms = replaced(rooms, room_id, structs.replace(rooms[position(rooms, room_id)], number=number))
        return project if rooms is project.rooms else structs.replace(project, rooms=rooms)


def _sum(values: list[Value]) -> Value:
    if all(isinstance(v, Pinned) for v in values):
        return Pinned(value=sum(v.value for v in values), note="sum of merged rooms")
    if all(isinstance(v, Imported) for v in values):
        return Imported(value=sum(v.value for v in values), source=values[0].source)
    return Rule()


def _flip(rooms: list[Room], mirror: str) -> Callable[[Point], Point]:
    x, y = plane.middle_of([r.outline for r in rooms]) if rooms else (0.0, 0.0)
    if mirror == "x":
        return lambda p: (round(2 * x - p[0], 6), p[1])
    if mirror == "y":
        return lambda p: (p[0], round(2 * y - p[1], 6))
    return lambda p: p


def _copied(
    project: Project, sources: list[Room], moved: Callable[[Point], Point], level_id: str, walls: tuple[Wall, ...]
) -> Project:
    ids = dict(zip((r.id for r in sources), fresh_ids(project.rooms, "n", len(sources))))
    made = project
    for room in sources:
        level = made.levels[position(made.levels, level_id or room.level_id)]
        outline: Outline = plane.tidy([moved(p) for p in room.outline])
        if not room.sketched:
            check_outline(made, level.id, outline, "")
        other = structs.replace(
            room, id=ids[room.id], number=next_number(made, level), level_id=level.id, outline=outline, origin=None
        )
        made = structs.replace(made, rooms=(*made.rooms, other))
    own = {w.id: w for r in sources for w in walls_of(walls, r.id)}
    return _carry(made, tuple(own.values()), set(ids.values()), ids, moved)


def _carry(
    project: Project, sources: tuple[Wall, ...], touched: set[str], ids: dict[str, str], moved: Callable[[Point], Point]
) -> Project:
    """Walls derived, then build-ups, thickness and openings of the source walls put where they come to lie.

    ids      source room -> the room that stands for it; openings of copies get ids of their own
    """
    own = {w.id for w in sources}
    bare = structs.replace(
        project,
        walls=tuple(
            structs.replace(w, openings=()) if w.id in own and touched & {w.room_a, w.room_b} else w
            for w in project.walls
        ),
    )
    made = derive(bare, touched)
    walls = list(made.walls)
    near = [i for i, w in enumerate(walls) if touched & {w.room_a, w.room_b}]
    copies = any(a != b for a, b in ids.items())
    carried = [o for w in sources for o in w.openings]
    fresh = iter(fresh_ids(tuple(o for w in walls for o in w.openings) + tuple(carried), "W", len(carried)))
    for source in sources:
        if ids and not ids.keys() & {source.room_a, source.room_b}:
            continue
        middle = moved(point_along(source, source.length_m / 2))
        home = _home(walls, near, middle, source.outside)
        if home is not None:
            walls[home] = structs.replace(
                walls[home], build_up_id=source.build_up_id, thickness_m=source.thickness_m, height_m=source.height_m
            )
        for opening in source.openings:
            at = moved(point_along(source, opening.at_m))
            home = _home(walls, near, at, source.outside)
            if home is not None:
                walls[home] = _with_opening(walls[home], opening, at, next(fresh) if copies else opening.id)
    return structs.replace(made, walls=tuple(walls))


def _home(walls: list[Wall], near: list[int], at: Point, outside: bool) -> int | None:
    """The wall on which a point lies; one of the same kind first."""
    ranked = sorted((off(walls[i], at) + (0.0 if walls[i].outside == outside else 10.0), i) for i in near)
    return ranked[0][1] if ranked and ranked[0][0] < NEAR_M else None


def _with_opening(wall: Wall, opening: Opening, at: Point, opening_id: str) -> Wall:
    """The wall with the opening, unless it does not fit there; glass does not go into inside walls."""
    half, place = opening.width_m / 2, along_wall(wall, at)
    if (
        opening.width_m > wall.length_m
        or any(abs(o.at_m - place) < (o.width_m + opening.width_m) / 2 - 1e-6 for o in wall.openings)
        or (opening.glazing_id and not wall.outside)
        or any(o.id == opening_id for o in wall.openings)
    ):
        return wall
    placed = structs.replace(opening, id=opening_id, at_m=round(min(max(place, half), wall.length_m - half), 6))
    return structs.replace(wall, openings=(*wall.openings, placed))


def _terminals_follow(project: Project, room_ids: set[str]) -> Project:
    """Terminals of the rooms belong to the one they stand in."""
    rooms = [r for r in project.rooms if r.id in room_ids]
    made = []
    for t in project.terminals:
        if t.room_id in room_ids:
            p = find(project.duct_points, t.point_id)
            home = next((r.id for r in rooms if plane.inside(r.outline, (p.x_m, p.y_m))), t.room_id)
            t = structs.replace(t, room_id=home) if home != t.room_id else t
        made.append(t)
    return structs.replace(project, terminals=tuple(made))
