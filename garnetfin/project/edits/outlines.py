"""Edits of room outlines: draw, reshape, move, remove. Walls and slabs follow; openings stay with their wall."""

from typing import Any, ClassVar

from msgspec import Struct, structs

from garnetfin.core.adjacency import Outline, crosses_itself, overlap_area
from garnetfin.core.errors import InputError
from garnetfin.core.outlines import enclosed, to_centres, without
from garnetfin.core.shared_sides import moved_side
from garnetfin.core.tables import room_use
from garnetfin.project.derive import derive, follow
from garnetfin.project.equipment import FlowBox, UnitChoice
from garnetfin.project.lookup import find, fresh_ids, position, replaced
from garnetfin.project.spaces import Level, Room, Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import Point

LEAST_AREA_M2 = 0.2
OVERLAP_M2 = 0.05  # more than this in common is a wrong overlap
CEILING_BELOW_SLAB_M = 0.4


class AddRoom(Struct, frozen=True):
    """A room with a drawn outline on a level; number and name follow when they are left out."""

    label: ClassVar[str] = "Draw room"
    level_id: str
    outline: Outline
    use_id: str = "office_single"
    system_id: str = ""
    number: str = ""
    name: str = ""

    def apply(self, project: Project) -> Project:
        level = project.levels[position(project.levels, self.level_id)]
        use = room_use(self.use_id)
        check_outline(project, self.level_id, self.outline, "")
        room = Room(
            id=fresh_ids(project.rooms, "n", 1)[0],
            number=self.number or next_number(project, level),
            name=self.name or use.name,
            level_id=self.level_id,
            outline=self.outline,
            use_id=self.use_id,
            ceiling_m=max(0.5, level.storey_m - CEILING_BELOW_SLAB_M),
            system_id=self.system_id,
        )
        return follow(project, structs.replace(project, rooms=(*project.rooms, room)))


class FillRoom(Struct, frozen=True):
    """A room that fills the space lines (x0, y0, x1, y1) of a drawing enclose around a point [m], up to the middle of
    its walls.
    """

    label: ClassVar[str] = "Fill room"
    level_id: str
    at: Point
    lines: tuple[tuple[float, float, float, float], ...]
    system_id: str = ""

    def apply(self, project: Project) -> Project:
        outline = to_centres(enclosed(self.lines, self.at), self.lines)
        return AddRoom(self.level_id, outline, system_id=self.system_id).apply(project)


class SetOutline(Struct, frozen=True):
    """Another outline for a room: a moved corner or edge, or all of it."""

    label: ClassVar[str] = "Reshape room"
    room_id: str
    outline: Outline

    def apply(self, project: Project) -> Project:
        room = project.rooms[position(project.rooms, self.room_id)]
        if room.outline == self.outline:
            return project
        check_outline(project, room.level_id, self.outline, self.room_id)
        rooms = replaced(project.rooms, self.room_id, structs.replace(room, outline=self.outline, sketched=False))
        return follow(project, structs.replace(project, rooms=rooms))


class MoveSide(Struct, frozen=True):
    """A side of a room moved in plan [m], from its corner of that number to the next; the rooms across the wall follow,
    so that the wall stays one.
    """

    label: ClassVar[str] = "Move wall"
    room_id: str
    side: int
    dx_m: float
    dy_m: float

    def outlines(self, project: Project) -> dict[str, Outline]:
        """The outlines that change, by the room's id. Raises InputError when nothing would be left of a room."""
        room = project.rooms[position(project.rooms, self.room_id)]
        beside = {r.id: r.outline for r in project.rooms if r.level_id == room.level_id and not r.sketched}
        if not 0 <= self.side < len(room.outline):
            raise InputError(
                f"Room {room.number} has no side {self.side}", where=f"room {room.number}", remedy="Choose one it has"
            )
        return moved_side({**beside, room.id: room.outline}, room.id, self.side, (self.dx_m, self.dy_m))

    def apply(self, project: Project) -> Project:
        if not (self.dx_m or self.dy_m):
            return project
        rooms = project.rooms
        changed = self.outlines(project)
        for room_id, outline in changed.items():
            rooms = replaced(rooms, room_id, structs.replace(find(rooms, room_id), outline=outline, sketched=False))
        moved = structs.replace(project, rooms=rooms)
        for room_id, outline in changed.items():
            check_outline(moved, find(rooms, room_id).level_id, outline, room_id)
        return follow(project, moved)


class MoveRooms(Struct, frozen=True):
    """Rooms moved in plan [m]."""

    label: ClassVar[str] = "Move rooms"
    room_ids: tuple[str, ...]
    dx_m: float
    dy_m: float

    def apply(self, project: Project) -> Project:
        if not (self.dx_m or self.dy_m):
            return project
        rooms = project.rooms
        for room_id in self.room_ids:
            room = rooms[position(rooms, room_id)]
            outline = tuple((round(x + self.dx_m, 6), round(y + self.dy_m, 6)) for x, y in room.outline)
            rooms = replaced(rooms, room_id, structs.replace(room, outline=outline))
        sketched = {i for i in self.room_ids if find(rooms, i).sketched}
        moved = structs.replace(
            project,
            rooms=rooms,
            walls=tuple(shifted_wall(w, self.dx_m, self.dy_m) if w.room_a in sketched else w for w in project.walls)
            if sketched
            else project.walls,
        )
        for room_id in self.room_ids:
            room = find(rooms, room_id)
            if not room.sketched:
                check_outline(moved, room.level_id, room.outline, room_id)
        return follow(project, moved)


class DeriveFaces(Struct, frozen=True):
    """Walls and slabs of drawn rooms made anew from their outlines."""

    label: ClassVar[str] = "Walls and slabs anew"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        for room_id in self.room_ids:
            position(project.rooms, room_id)
        return derive(project, set(self.room_ids))


class TrimRoom(Struct, frozen=True):
    """The part of a room that another room covers cut off it."""

    label: ClassVar[str] = "Trim room"
    room_id: str
    by_room_id: str

    def apply(self, project: Project) -> Project:
        room = project.rooms[position(project.rooms, self.room_id)]
        other = project.rooms[position(project.rooms, self.by_room_id)]
        return SetOutline(room.id, without(room.outline, other.outline)).apply(project)


def transfers_without(project: Project, gone: set[str]) -> tuple[Any, ...]:
    """Transfers of air that neither leave nor enter one of these rooms."""
    return tuple(t for t in project.transfers if not gone & {t.from_room, t.to_room})


def boxes_without(project: Project, gone: set[str]) -> tuple[FlowBox, ...]:
    """Flow boxes for the rooms that stay; one that is left without a room goes."""
    kept = []
    for box in project.flow_boxes:
        rooms = tuple(r for r in box.room_ids if r not in gone)
        if rooms:
            kept.append(box if rooms == box.room_ids else structs.replace(box, room_ids=rooms))
    return tuple(kept)


def units_without(project: Project, gone: set[str]) -> tuple[UnitChoice, ...]:
    """Units, of which none stands in a room that goes."""
    return tuple(structs.replace(u, room_id="") if u.room_id in gone else u for u in project.units)


class RemoveRooms(Struct, frozen=True):
    """Rooms away, with what belongs to them; ducts stay, their terminals there go."""

    label: ClassVar[str] = "Remove rooms"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        for room_id in self.room_ids:
            position(project.rooms, room_id)
        gone = set(self.room_ids)
        beside = {w.other(r) for r in gone for w in project.walls if r in (w.room_a, w.room_b)}
        beside |= {
            x for s in project.slabs if gone & {s.room_below, s.room_above} for x in (s.room_below, s.room_above)
        }
        left = structs.replace(
            project,
            rooms=tuple(r for r in project.rooms if r.id not in gone),
            walls=tuple(w for w in project.walls if not gone & {w.room_a, w.room_b}),
            slabs=tuple(s for s in project.slabs if not gone & {s.room_below, s.room_above}),
            terminals=tuple(t for t in project.terminals if t.room_id not in gone),
            transfers=transfers_without(project, gone),
            flow_boxes=boxes_without(project, gone),
            room_units=tuple(u for u in project.room_units if u.room_id not in gone),
            units=units_without(project, gone),
        )
        touched = {r for r in beside - gone if find(left.rooms, r) is not None}
        return derive(left, touched) if touched else left


def shifted_wall(wall: Wall, dx: float, dy: float) -> Wall:
    """A wall of a room from a list goes along with it; walls of drawn rooms are derived."""
    (x0, y0), (x1, y1) = wall.start, wall.end
    return structs.replace(
        wall, start=(round(x0 + dx, 6), round(y0 + dy, 6)), end=(round(x1 + dx, 6), round(y1 + dy, 6))
    )


def next_number(project: Project, level: Level) -> str:
    """One above the highest of the level: 1.07 after 1.06; the level's place in the building leads."""
    storey = sorted(project.levels, key=lambda x: x.elevation_m).index(level)
    taken = [0]
    for room in project.rooms:
        head, _, tail = room.number.rpartition(".")
        if head == str(storey) and tail.isdigit():
            taken.append(int(tail))
    return f"{storey}.{max(taken) + 1:02d}"


def check_outline(project: Project, level_id: str, outline: Outline, room_id: str) -> None:
    where = f"room {find(project.rooms, room_id).number}" if room_id else "new room"
    if len(set(outline)) < 3:
        raise InputError("A room needs three corners or more", where=where, remedy="Click another corner")
    if crosses_itself(outline):
        raise InputError("The outline crosses itself", where=where, remedy="Give the corners in their order")
    area = overlap_area(outline, outline)
    if area < LEAST_AREA_M2:
        raise InputError(f"An area of {area:.2f} m² is too small for a room", where=where)
    for other in project.rooms:
        if other.id != room_id and other.level_id == level_id and not other.sketched:
            common = overlap_area(outline, other.outline)
            if common > OVERLAP_M2:
                raise InputError(
                    f"It would overlap room {other.number} {other.name} by {common:.1f} m²",
                    where=where,
                    remedy="Draw up to the wall of that room",
                )
