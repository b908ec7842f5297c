"""Edits of room outlines: draw, reshape, move, remove. Walls and slabs follow; openings stay with their wall."""

from math import hypot
from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.adjacency import Outline, Stretch, area_left, crosses_itself, overlap_area, wall_stretches
from garnetfin.core.errors import InputError
from garnetfin.core.tables import room_use
from garnetfin.project.lookup import find, fresh_ids, position, replaced
from garnetfin.project.spaces import OUTSIDE, Level, Opening, Room, Slab, Wall
from garnetfin.project.tree import Project

OUTER_M, INNER_M = 0.36, 0.12       # thickness of new walls
LEAST_AREA_M2 = 0.2
OVERLAP_M2 = 0.05                   # more than this in common is a wrong overlap
CEILING_BELOW_SLAB_M = 0.4
REACHES_UP = 0.6                    # of the storey above, from which on a tall room counts there too


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
        _check_outline(project, self.level_id, self.outline, "")
        room = Room(id=fresh_ids(project.rooms, "n", 1)[0], number=self.number or next_number(project, level),
                    name=self.name or use.name, level_id=self.level_id, outline=self.outline, use_id=self.use_id,
                    ceiling_m=max(0.5, level.storey_m - CEILING_BELOW_SLAB_M), system_id=self.system_id)
        return derive(structs.replace(project, rooms=(*project.rooms, room)), {room.id})


class SetOutline(Struct, frozen=True):
    """Another outline for a room: a moved corner or edge, or all of it."""

    label: ClassVar[str] = "Reshape room"
    room_id: str
    outline: Outline

    def apply(self, project: Project) -> Project:
        room = project.rooms[position(project.rooms, self.room_id)]
        if room.outline == self.outline:
            return project
        _check_outline(project, room.level_id, self.outline, self.room_id)
        rooms = replaced(project.rooms, self.room_id, structs.replace(room, outline=self.outline))
        return derive(structs.replace(project, rooms=rooms), {self.room_id})


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
        moved = structs.replace(project, rooms=rooms)
        for room_id in self.room_ids:
            room = find(rooms, room_id)
            _check_outline(moved, room.level_id, room.outline, room_id)
        return derive(moved, set(self.room_ids))


class RemoveRooms(Struct, frozen=True):
    """Rooms away, with what belongs to them; ducts stay, their terminals there go."""

    label: ClassVar[str] = "Remove rooms"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        for room_id in self.room_ids:
            position(project.rooms, room_id)
        gone = set(self.room_ids)
        beside = {w.other(r) for r in gone for w in project.walls if r in (w.room_a, w.room_b)}
        beside |= {x for s in project.slabs if gone & {s.room_below, s.room_above} for x in (s.room_below, s.room_above)}
        left = structs.replace(
            project, rooms=tuple(r for r in project.rooms if r.id not in gone),
            walls=tuple(w for w in project.walls if not gone & {w.room_a, w.room_b}),
            slabs=tuple(s for s in project.slabs if not gone & {s.room_below, s.room_above}),
            terminals=tuple(t for t in project.terminals if t.room_id not in gone))
        touched = {r for r in beside - gone if find(left.rooms, r) is not None}
        return derive(left, touched) if touched else left


def next_number(project: Project, level: Level) -> str:
    """One above the highest of the level: 1.07 after 1.06; the level's place in the building leads."""
    storey = sorted(project.levels, key=lambda x: x.elevation_m).index(level)
    taken = [0]
    for room in project.rooms:
        head, _, tail = room.number.rpartition(".")
        if head == str(storey) and tail.isdigit():
            taken.append(int(tail))
    return f"{storey}.{max(taken) + 1:02d}"


def _check_outline(project: Project, level_id: str, outline: Outline, room_id: str) -> None:
    where = f"room {find(project.rooms, room_id).number}" if room_id else "new room"
    if len(set(outline)) < 3:
        raise InputError("A room needs three corners or more", where=where, remedy="Click another corner")
    if crosses_itself(outline):
        raise InputError("The outline crosses itself", where=where, remedy="Give the corners in their order")
    area = overlap_area(outline, outline)
    if area < LEAST_AREA_M2:
        raise InputError(f"An area of {area:.2f} m² is too small for a room", where=where)
    for other in project.rooms:
        if other.id != room_id and other.level_id == level_id:
            common = overlap_area(outline, other.outline)
            if common > OVERLAP_M2:
                raise InputError(f"It would overlap room {other.number} {other.name} by {common:.1f} m²", where=where,
                                 remedy="Draw up to the wall of that room")


def _present(project: Project, level: Level) -> dict[str, Outline]:
    """Rooms that stand on a level or reach well up into it."""
    found = {r.id: r.outline for r in project.rooms if r.level_id == level.id}
    for room in project.rooms:
        below = find(project.levels, room.level_id)
        top = below.elevation_m + room.ceiling_m
        if below.elevation_m < level.elevation_m - 0.01 and top > level.elevation_m + REACHES_UP * level.storey_m:
            found[room.id] = room.outline
    return found


def derive(project: Project, touched: set[str]) -> Project:
    """Walls and slabs of the touched rooms and their neighbours made anew from the outlines.

    What stood between the same two rooms in the same direction keeps its id, build-up and openings.
    Raises InputError when an opening no longer fits its wall.
    """
    if not project.build_ups:
        return project
    levels = [x for x in project.levels if touched & _present(project, x).keys()]
    walls = list(project.walls)
    for level in levels:
        outlines = _present(project, level)
        shafts = {f"shaft {m.id}": m.outline for m in project.plan_marks if m.kind == "shaft" and m.level_id == level.id}
        stretches = [_as_shaft(s) for s in wall_stretches({**outlines, **shafts}, project.site.north_deg if project.site else 0.0)
                     if s.room_a not in shafts]
        # Neighbours, before and after, are made anew with the touched rooms: what they lost is now outdoors.
        mine = touched & outlines.keys()
        near = set(mine)
        for w in walls:
            if w.level_id == level.id and mine & {w.room_a, w.room_b}:
                near |= {w.room_a, w.room_b}
        for s in stretches:
            if mine & {s.room_a, s.room_b}:
                near |= {s.room_a, s.room_b}
        near -= {OUTSIDE, "shaft"}
        old = [w for w in walls if w.level_id == level.id and near & {w.room_a, w.room_b}]
        new = [s for s in stretches if near & {s.room_a, s.room_b}]
        walls = [w for w in walls if w not in old] + _remade(project, level, old, new, walls)
    return structs.replace(project, walls=tuple(walls), slabs=_slabs(project, touched))


def _as_shaft(s: Stretch) -> Stretch:
    return Stretch(s.start, s.end, s.room_a, "shaft", s.facing_deg) if s.room_b.startswith("shaft ") else s


def _build_up(project: Project, *wanted: str) -> str:
    """The first of the wanted build-ups the project has, else its first one."""
    return next((w for w in wanted if find(project.build_ups, w) is not None), project.build_ups[0].id)


def _remade(project: Project, level: Level, old: list[Wall], new: list[Stretch], everywhere: list[Wall]) -> list[Wall]:
    """Stretches as walls; each takes over id, build-up and openings of the old wall it lies on most."""
    used: set[str] = set()
    carried: dict[int, tuple[Wall, list[Opening]]] = {}
    for wall in old:
        fits = [(i, _shared_length(wall, s)) for i, s in enumerate(new) if _alike(wall, s)]
        if fits:
            best = max(fits, key=lambda pair: pair[1])[0]
            if best not in carried:
                carried[best] = (wall, [])
        for opening in wall.openings:
            at = _point(wall, opening.at_m)
            homes = [i for i, s in enumerate(new) if _alike(wall, s)]
            if not homes:
                continue                                     # the wall is no more, e.g. its room was removed
            home = min(homes, key=lambda i: _off(new[i], at))
            carried.setdefault(home, (wall, []))[1].append((opening, at))
    made, fresh = [], iter(fresh_ids(tuple(everywhere), "w", len(new)))
    for i, s in enumerate(new):
        wall, openings = carried.get(i, (None, []))
        outside = s.room_b == OUTSIDE
        keep = wall is not None and wall.id not in used and wall.outside == outside
        placed = tuple(_placed(s, o, at) for o, at in openings)
        base = dict(level_id=level.id, start=s.start, end=s.end, room_a=s.room_a, room_b=s.room_b,
                    facing_deg=round(s.facing_deg, 3) if outside else 0.0, openings=placed)
        if keep:
            used.add(wall.id)
            made.append(structs.replace(wall, **base))
        else:
            unheated = not outside and s.room_b != "shaft" and bool(find(project.rooms, s.room_a).system_id) != bool(
                find(project.rooms, s.room_b).system_id)
            build_up = _build_up(project, "W1") if outside else _build_up(project, "P2" if unheated else "P1", "P1")
            made.append(Wall(id=next(fresh), thickness_m=OUTER_M if outside else INNER_M, height_m=level.storey_m,
                             build_up_id=build_up, **base))
    return made


def _alike(wall: Wall, s: Stretch) -> bool:
    """Same rooms on its sides, same direction."""
    if {wall.room_a, wall.room_b} != {s.room_a, s.room_b}:
        return False
    ux, uy = (wall.end[0] - wall.start[0]) / wall.length_m, (wall.end[1] - wall.start[1]) / wall.length_m
    vx, vy = (s.end[0] - s.start[0]) / s.length_m, (s.end[1] - s.start[1]) / s.length_m
    if wall.outside:
        turned = (wall.facing_deg - s.facing_deg + 180) % 360 - 180
        return abs(turned) < 5
    return abs(ux * vy - uy * vx) < 0.09


def _point(wall: Wall, at: float) -> tuple[float, float]:
    t = at / wall.length_m
    return wall.start[0] + t * (wall.end[0] - wall.start[0]), wall.start[1] + t * (wall.end[1] - wall.start[1])


def _along(s: Stretch, p: tuple[float, float]) -> float:
    return ((p[0] - s.start[0]) * (s.end[0] - s.start[0]) + (p[1] - s.start[1]) * (s.end[1] - s.start[1])) / s.length_m


def _off(s: Stretch, p: tuple[float, float]) -> float:
    """How far a point lies from a stretch."""
    t = min(s.length_m, max(0.0, _along(s, p)))
    x = s.start[0] + (s.end[0] - s.start[0]) * t / s.length_m
    y = s.start[1] + (s.end[1] - s.start[1]) * t / s.length_m
    return hypot(p[0] - x, p[1] - y)


def _shared_length(wall: Wall, s: Stretch) -> float:
    ends = sorted((_along(s, wall.start), _along(s, wall.end)))
    return min(s.length_m, ends[1]) - max(0.0, ends[0])


def _placed(s: Stretch, opening: Opening, at: tuple[float, float]) -> Opening:
    if opening.width_m > s.length_m + 1e-6:
        raise InputError(f"{opening.kind.capitalize()} {opening.id} of {opening.width_m:.2f} m no longer fits its wall of "
                         f"{s.length_m:.2f} m", remedy="Make it narrower or remove it first")
    half = opening.width_m / 2
    return structs.replace(opening, at_m=round(min(max(_along(s, at), half), s.length_m - half), 6))


def _above_or_below(project: Project, room: Room, touched: set[str]) -> bool:
    """True for a room over or under a touched one: its roof or floor has changed."""
    return any(other.level_id != room.level_id and overlap_area(room.outline, other.outline) > OVERLAP_M2
               for other in project.rooms if other.id in touched)


def _slabs(project: Project, touched: set[str]) -> tuple[Slab, ...]:
    """Roofs, floors on ground, floors between and exposed floors of the touched rooms, by what lies above and below."""
    levels = sorted(project.levels, key=lambda x: x.elevation_m)
    again = {r.id for r in project.rooms} & touched
    kept = [s for s in project.slabs if not touched & {s.room_below, s.room_above}]
    below_again = {x for s in project.slabs if touched & {s.room_below, s.room_above} for x in (s.room_below, s.room_above)}
    again |= {r.id for r in project.rooms if r.id in below_again or _above_or_below(project, r, touched)}
    kept = [s for s in kept if not again & {s.room_below, s.room_above} or s.kind == "between"]
    taken = {(s.room_below, s.room_above) for s in kept}
    outer = sum(w.length_m for w in project.walls if w.outside and w.level_id == levels[0].id) if levels else 0.0
    floor = sum(overlap_area(r.outline, r.outline) for r in project.rooms if levels and r.level_id == levels[0].id) or 1.0
    old = {(s.kind, s.room_below, s.room_above): s for s in project.slabs}
    made: list[Slab] = []

    def add(kind: str, below: str, above: str, area: float, build_up: str, perimeter: float = 0.0) -> None:
        if area < 0.05 or (below, above) in taken and kind == "between":
            return
        taken.add((below, above))
        before = old.get((kind, below, above))
        same = dict(kind=kind, room_below=below, room_above=above, area_m2=round(area, 6), perimeter_m=round(perimeter, 6))
        made.append(structs.replace(before, **same) if before is not None
                    else Slab(id=f"{kind[0]}-{below or 'x'}-{above or 'x'}", build_up_id=build_up, **same))

    for room in project.rooms:
        if room.id not in again:
            continue
        at = next(i for i, x in enumerate(levels) if x.id == room.level_id)
        # A hall through several storeys has its roof above the highest level it reaches.
        top = max(i for i, x in enumerate(levels) if i == at or room.id in _present(project, x))
        over = _present(project, levels[top + 1]) if top + 1 < len(levels) else {}
        under = _present(project, levels[at - 1]) if at else {}
        for other, outline in over.items():
            add("between", room.id, other, overlap_area(room.outline, outline), _build_up(project, "F2"))
        for other, outline in under.items():
            add("between", other, room.id, overlap_area(room.outline, outline), _build_up(project, "F2"))
        add("roof", room.id, OUTSIDE, area_left(room.outline, list(over.values())), _build_up(project, "R1"))
        open_below = area_left(room.outline, list(under.values()))
        if at == 0:
            add("ground", OUTSIDE, room.id, open_below, _build_up(project, "F1"), outer * open_below / floor)
        else:
            add("exposed", OUTSIDE, room.id, open_below, _build_up(project, "F2"))
    return (*kept, *made)
