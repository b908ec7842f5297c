"""Edits of terminals: put them in even places, move, align and copy them; catalogues of the office's own."""

from typing import ClassVar

import numpy as np
from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.terminal_choice import PLACING, frame_of, inside
from garnetfin.project.catalogue import OwnTerminal
from garnetfin.project.ducts import DuctPoint, Terminal
from garnetfin.project.edits.duct_runs import LETTER, SetTerminal
from garnetfin.project.lookup import find, fresh_ids, position, replaced
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project

LOW_M = 0.3  # height of a displacement unit above the floor


class Placement(Struct, frozen=True):
    """Terminals of one kind for one air of a room; model "" is by rule."""

    room_id: str
    air: str
    kind: str
    model: str
    at: tuple[tuple[float, float], ...]


def joined(project: Project, room_id: str, air: str) -> tuple[Terminal, ...]:
    """Terminals of a room that hang on a duct."""
    used = {p for s in project.segments for p in (s.a, s.b)}
    return tuple(t for t in project.terminals if t.room_id == room_id and t.air == air and t.point_id in used)


class PlaceTerminals(Struct, frozen=True):
    """Terminals put into rooms in place of those of the same air that hang on no duct yet."""

    label: ClassVar[str] = "Place terminals"
    placements: tuple[Placement, ...]

    def apply(self, project: Project) -> Project:
        for placement in self.placements:
            project = _placed(project, placement)
        return project


def _placed(project: Project, p: Placement) -> Project:
    room = project.rooms[position(project.rooms, p.room_id)]
    if p.kind not in PLACING or p.air not in LETTER:
        raise InputError(f"There is no terminal “{p.kind}” for {p.air} air", where=f"room {room.number}")
    if not 1 <= len(p.at) <= 200:
        raise InputError("A room takes 1 to 200 terminals at once", where=f"room {room.number}")
    if joined(project, p.room_id, p.air):
        raise InputError(
            f"Terminals of {room.number} hang on ducts and stay",
            where=f"room {room.number}",
            remedy="Move them, or remove them first",
        )
    gone = {t.id for t in project.terminals if t.room_id == p.room_id and t.air == p.air}
    project = without_terminals(project, gone)
    z = usual_height(project, room, p.kind)
    point_ids = fresh_ids(project.duct_points, "p", len(p.at))
    terminal_ids = fresh_ids(project.terminals, "t", len(p.at))
    points = tuple(
        DuctPoint(id=i, level_id=room.level_id, x_m=round(x, 4), y_m=round(y, 4), z_m=z)
        for i, (x, y) in zip(point_ids, p.at)
    )
    made = tuple(
        Terminal(
            id=i,
            label=_label(room, p.air, k, len(p.at)),
            point_id=q,
            room_id=room.id,
            kind=p.kind,
            air=p.air,
            model=p.model,
        )
        for k, (i, q) in enumerate(zip(terminal_ids, point_ids))
    )
    return structs.replace(project, duct_points=project.duct_points + points, terminals=project.terminals + made)


def _label(room: Room, air: str, k: int, count: int) -> str:
    letter = "" if count == 1 else chr(ord("a") + k) if k < 26 else f"-{k + 1}"
    return f"{room.number}{LETTER[air]}{letter}"


def usual_height(project: Project, room: Room, kind: str) -> float:
    """Of terminals above the building's zero [m]: in the ceiling; wall grilles below it, displacement units on the
    floor."""
    level = find(project.levels, room.level_id)
    above = {"wallg": room.ceiling_m - 0.3, "displ": LOW_M}.get(kind, room.ceiling_m)
    return float(round(level.elevation_m + max(above, 0.1), 3))


def without_terminals(project: Project, gone: set[str]) -> Project:
    """Terminals away, with their points where nothing else uses them."""
    if not gone:
        return project
    left = tuple(t for t in project.terminals if t.id not in gone)
    used = (
        {p for s in project.segments for p in (s.a, s.b)}
        | {t.point_id for t in left}
        | {i for s in project.air_systems for i in s.roots}
    )
    freed = {t.point_id for t in project.terminals if t.id in gone} - used
    return structs.replace(
        project, terminals=left, duct_points=tuple(p for p in project.duct_points if p.id not in freed)
    )


class SetTerminalKind(Struct, frozen=True):
    """The kind of terminals; their models go back to the rule."""

    label: ClassVar[str] = "Kind of terminals"
    terminal_ids: tuple[str, ...]
    kind: str

    def apply(self, project: Project) -> Project:
        for terminal_id in self.terminal_ids:
            project = SetTerminal(terminal_id, kind=self.kind).apply(project)
        return project


class MoveTerminals(Struct, frozen=True):
    """Terminals moved on the plan; ducts that end at them follow."""

    label: ClassVar[str] = "Move terminals"
    terminal_ids: tuple[str, ...]
    dx_m: float
    dy_m: float

    def apply(self, project: Project) -> Project:
        moved = {project.terminals[position(project.terminals, i)].point_id for i in self.terminal_ids}
        points = tuple(
            structs.replace(p, x_m=p.x_m + self.dx_m, y_m=p.y_m + self.dy_m) if p.id in moved else p
            for p in project.duct_points
        )
        return project if not (self.dx_m or self.dy_m) else structs.replace(project, duct_points=points)


class HangTerminals(Struct, frozen=True):
    """Terminals at the height their kind has in their room: in the ceiling, below it, or on the floor."""

    label: ClassVar[str] = "Terminals to the ceiling"
    terminal_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        heights: dict[str, float] = {}
        for i in self.terminal_ids:
            terminal = project.terminals[position(project.terminals, i)]
            room = find(project.rooms, terminal.room_id)
            if room is not None:
                heights[terminal.point_id] = usual_height(project, room, terminal.kind)
        points = tuple(
            structs.replace(p, z_m=heights[p.id]) if heights.get(p.id, p.z_m) != p.z_m else p
            for p in project.duct_points
        )
        return structs.replace(project, duct_points=points) if points != project.duct_points else project


class AlignTerminals(Struct, frozen=True):
    """Terminals of rooms to the middles of ceiling tiles, a grid that starts in the room's corner; each takes a tile of
    its own.
    """

    label: ClassVar[str] = "Align to the ceiling grid"
    room_ids: tuple[str, ...]
    module_m: float

    def apply(self, project: Project) -> Project:
        if not 0.1 <= self.module_m <= 3:
            raise InputError(f"A ceiling module lies between 0.1 and 3 m, got {self.module_m:g} m")
        points = project.duct_points
        for room_id in self.room_ids:
            room = project.rooms[position(project.rooms, room_id)]
            frame = frame_of(room.outline)
            flat = frame.to_room(np.asarray(room.outline, float))
            nx, ny = max(1, int(frame.length_m / self.module_m)), max(1, int(frame.width_m / self.module_m))
            i, j = np.meshgrid(np.arange(nx) + 0.5, np.arange(ny) + 0.5, indexing="ij")
            tiles = np.column_stack([i.ravel(), j.ravel()]) * self.module_m
            tiles = tiles[inside(flat, tiles)]
            free = np.ones(len(tiles), bool)
            for t in project.terminals:
                if t.room_id != room_id or PLACING.get(t.kind, ("area",))[0] == "wall" or not free.any():
                    continue
                point = find(points, t.point_id)
                at = frame.to_room(np.array([[point.x_m, point.y_m]]))[0]
                away = np.where(free, np.hypot(*(tiles - at).T), np.inf)
                best = int(away.argmin())
                free[best] = False
                x, y = frame.to_plan(tiles[best][None])[0]
                points = replaced(
                    points, point.id, structs.replace(point, x_m=round(float(x), 4), y_m=round(float(y), 4))
                )
        return project if points is project.duct_points else structs.replace(project, duct_points=points)


class CopyTerminals(Struct, frozen=True):
    """The terminals of one room to others, aligned at the rooms' middles or their corners; what would lie outside is
    left out.
    """

    label: ClassVar[str] = "Copy terminals"
    from_room: str
    to_rooms: tuple[str, ...]
    align: str = "middle"

    def apply(self, project: Project) -> Project:
        if self.align not in ("middle", "corner"):
            raise InputError(f"Terminals are not aligned by {self.align}", remedy="middle or corner")
        source = project.rooms[position(project.rooms, self.from_room)]
        own = [t for t in project.terminals if t.room_id == source.id]
        if not own:
            raise InputError(f"Room {source.number} has no terminals to copy", remedy="Place some first")
        a = frame_of(source.outline)
        for room_id in self.to_rooms:
            if room_id == source.id:
                continue
            room = project.rooms[position(project.rooms, room_id)]
            b = frame_of(room.outline)
            shift = (
                np.array([b.length_m - a.length_m, b.width_m - a.width_m]) / 2
                if self.align == "middle"
                else np.zeros(2)
            )
            outline = np.asarray(room.outline, float)
            groups: dict[tuple[str, str, str], list[tuple[float, float]]] = {}
            for t in own:
                p = find(project.duct_points, t.point_id)
                xy = b.to_plan(a.to_room(np.array([[p.x_m, p.y_m]])) + shift)
                if inside(outline, xy)[0]:
                    groups.setdefault((t.air, t.kind, t.model), []).append((float(xy[0, 0]), float(xy[0, 1])))
            if not groups:
                raise InputError(
                    f"None of the terminals of {source.number} would lie in {room.number}",
                    remedy="Align at the other place",
                )
            for air in {k[0] for k in groups}:  # several kinds of one air go in together
                made = [
                    Placement(room.id, air, kind, model, tuple(at))
                    for (x, kind, model), at in groups.items()
                    if x == air
                ]
                project = _placed(project, made[0])
                for more in made[1:]:
                    kept = [t for t in project.terminals if t.room_id == room.id and t.air == air]
                    project = _beside(project, more, len(kept))
        return project


def _beside(project: Project, p: Placement, have: int) -> Project:
    """Terminals put in beside those that are there."""
    room = find(project.rooms, p.room_id)
    others = tuple(t for t in project.terminals if t.room_id == p.room_id and t.air == p.air)
    bare = structs.replace(project, terminals=tuple(t for t in project.terminals if t not in others))
    made = _placed(bare, p)
    new = made.terminals[len(bare.terminals) :]
    ids = fresh_ids(project.terminals, "t", len(new))
    named = tuple(
        structs.replace(t, id=i, label=_label(room, p.air, have + k, 99)) for k, (i, t) in enumerate(zip(ids, new))
    )
    return structs.replace(made, terminals=project.terminals + named)


class TakeTerminals(Struct, frozen=True):
    """Models of the office's own; one of a name that is there takes its place."""

    label: ClassVar[str] = "Own catalogue of terminals"
    models: tuple[OwnTerminal, ...]

    def apply(self, project: Project) -> Project:
        new = {m.id for m in self.models}
        kept = tuple(t for t in project.book.terminals if t.id not in new)
        return structs.replace(project, book=structs.replace(project.book, terminals=(*kept, *self.models)))


class ClearOwnTerminals(Struct, frozen=True):
    """The office's own terminals away; terminals of theirs are chosen by rule again."""

    label: ClassVar[str] = "Own catalogue away"

    def apply(self, project: Project) -> Project:
        gone = {t.id for t in project.book.terminals}
        if not gone:
            return project
        terminals = tuple(structs.replace(t, model="") if t.model in gone else t for t in project.terminals)
        return structs.replace(project, terminals=terminals, book=structs.replace(project.book, terminals=()))
