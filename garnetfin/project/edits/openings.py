"""Edits that place openings: by a click on a wall, in a row, copied from room to room."""

from typing import ClassVar, Literal

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.edits.rooms import check_openings
from garnetfin.project.lookup import find, fresh_ids, position, walls_of, with_part
from garnetfin.project.spaces import Opening, Wall
from garnetfin.project.tree import Project

USUAL = {
    "window": (1.2, 0.9, 2.4),
    "glass wall": (2.4, 0.1, 2.6),
    "door": (0.9, 0.0, 2.1),
    "outside door": (1.0, 0.0, 2.2),
}
CLEAR_M = 0.05  # between openings that are put in a row
NARROWEST_M = 0.3


def _fresh(project: Project, count: int) -> list[str]:
    return fresh_ids(tuple(o for w in project.walls for o in w.openings), "W", count)


class AddOpening(Struct, frozen=True):
    """A window or door with its middle at a place along a wall [m]; it gives way to the wall's ends and narrows to its
    gap.
    """

    label: ClassVar[str] = "Add opening"
    wall_id: str
    kind: Literal["window", "glass wall", "door", "outside door"]
    at_m: float
    width_m: float = 0.0  # 0 = the usual width
    glazing_id: str = ""

    def apply(self, project: Project) -> Project:
        wall = project.walls[position(project.walls, self.wall_id)]
        glazed = self.kind in ("window", "glass wall")
        if glazed and not wall.outside:
            raise InputError(
                "A window needs an outside wall",
                where=f"wall {wall.id}",
                remedy="Click an outside wall, or place a door",
            )
        if glazed and not project.glazings:
            raise InputError("The project has no glazing", remedy="Add one first")
        width, sill, head = USUAL[self.kind]
        width = self.width_m or width
        low, high = _gap(wall, self.at_m)
        if high - low < NARROWEST_M:
            raise InputError(
                "There is no gap of 0.3 m", where=f"wall {wall.id}", remedy="Click elsewhere along the wall"
            )
        width = min(width, high - low)
        at = min(max(self.at_m, low + width / 2), high - width / 2)
        kind = "outside door" if self.kind == "door" and wall.outside else self.kind
        new = Opening(
            id=_fresh(project, 1)[0],
            kind=kind,
            at_m=round(at, 6),
            width_m=round(width, 6),
            sill_m=sill,
            head_m=min(head, wall.height_m),
            glazing_id=(self.glazing_id or project.glazings[0].id) if glazed else "",
        )
        return check_openings(project, wall.id, (*wall.openings, new))


def _gap(wall: Wall, at: float) -> tuple[float, float]:
    """The free stretch of a wall around a place; empty when an opening lies there."""
    low, high = 0.0, wall.length_m
    for o in wall.openings:
        a, b = o.at_m - o.width_m / 2, o.at_m + o.width_m / 2
        if a <= at <= b:
            return at, at
        low, high = (max(low, b), high) if b < at else (low, min(high, a))
    return low, high


class RepeatOpening(Struct, frozen=True):
    """One opening `count` times along its wall, by a step [m] from middle to middle; step 0 spreads them evenly."""

    label: ClassVar[str] = "Row of openings"
    wall_id: str
    opening_id: str
    count: int
    step_m: float = 0.0

    def apply(self, project: Project) -> Project:
        wall = project.walls[position(project.walls, self.wall_id)]
        first = wall.openings[position(wall.openings, self.opening_id)]
        if not 2 <= self.count <= 100:
            raise InputError(f"2 to 100 openings are accepted, got {self.count}")
        others = tuple(o for o in wall.openings if o.id != first.id)
        if self.step_m:
            places = [first.at_m + k * self.step_m for k in range(self.count)]
        else:
            places = [wall.length_m * (k + 0.5) / self.count for k in range(self.count)]
        if not first.width_m / 2 <= min(places) <= max(places) <= wall.length_m - first.width_m / 2:
            raise InputError(
                f"{self.count} times {first.width_m:.2f} m do not fit the wall of {wall.length_m:.2f} m",
                where=f"wall {wall.id}",
                remedy="Fewer openings, or a shorter step",
            )
        ids = [first.id, *_fresh(project, self.count - 1)]
        row = tuple(structs.replace(first, id=i, at_m=round(at, 6)) for i, at in zip(ids, places))
        return check_openings(project, wall.id, (*others, *row))


class CopyOpenings(Struct, frozen=True):
    """The openings of a room's outside walls onto the outside walls of other rooms that face the same way.

    A wall that differs in length takes them at the same share of its length; those that do not fit are left out.
    """

    label: ClassVar[str] = "Copy openings"
    room_id: str
    to_room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        sources = [w for w in walls_of(project.walls, self.room_id) if w.outside and w.openings]
        if not sources:
            raise InputError("The room has no openings in outside walls", where=_name(project, self.room_id))
        made, placed = project, 0
        for room_id in self.to_room_ids:
            for source in sources:
                homes = [
                    w
                    for w in walls_of(made.walls, room_id)
                    if w.outside and abs((w.facing_deg - source.facing_deg + 180) % 360 - 180) < 5
                ]
                if room_id == self.room_id or not homes:
                    continue
                home = max(homes, key=lambda w: w.length_m)
                openings = home.openings
                for o in source.openings:
                    at = o.at_m / source.length_m * home.length_m
                    low, high = at - o.width_m / 2, at + o.width_m / 2
                    if (
                        low < -1e-6
                        or high > home.length_m + 1e-6
                        or any(abs(x.at_m - at) < (x.width_m + o.width_m) / 2 + CLEAR_M for x in openings)
                    ):
                        continue
                    fresh = fresh_ids(tuple(x for w in made.walls for x in w.openings) + openings, "W", 1)[0]
                    openings = (*openings, structs.replace(o, id=fresh, at_m=round(at, 6)))
                    placed += 1
                made = check_openings(made, home.id, openings)
        if not placed:
            raise InputError("No outside wall of those rooms faces the same way with space for them")
        return made


class MoveOpening(Struct, frozen=True):
    """An opening to another place along its wall [m], kept between the wall's ends."""

    label: ClassVar[str] = "Move opening"
    wall_id: str
    opening_id: str
    at_m: float

    def apply(self, project: Project) -> Project:
        wall = project.walls[position(project.walls, self.wall_id)]
        opening = wall.openings[position(wall.openings, self.opening_id)]
        half = opening.width_m / 2
        at = round(min(max(self.at_m, half), wall.length_m - half), 6)
        moved = tuple(structs.replace(o, at_m=at) if o.id == opening.id else o for o in wall.openings)
        return check_openings(project, wall.id, moved)


class SetWall(Struct, frozen=True):
    """Build-up, thickness, height or height against earth [m], minutes of fire resistance or smoke of walls.

    A build-up chosen so stays when a fabric set is applied.
    """

    label: ClassVar[str] = "Wall"
    wall_ids: tuple[str, ...]
    field: Literal["build_up_id", "thickness_m", "height_m", "buried_m", "fire_min", "smoke"]
    value: str | float

    def apply(self, project: Project) -> Project:
        if self.field == "build_up_id" and find(project.build_ups, str(self.value)) is None:
            raise InputError("There is no such build-up in the project")
        wanted = set(self.wall_ids)
        for wall_id in wanted:
            position(project.walls, wall_id)
        by_hand = {"own_fabric": True} if self.field == "build_up_id" else {}
        walls = tuple(
            structs.replace(w, **{self.field: self.value}, **by_hand)
            if w.id in wanted and getattr(w, self.field) != self.value
            else w
            for w in project.walls
        )
        return project if walls == project.walls else structs.replace(project, walls=walls)


class RateWalls(Struct, frozen=True):
    """All inside walls around rooms, between them and what is none of them, resist fire for so many minutes."""

    label: ClassVar[str] = "Fire resistance"
    room_ids: tuple[str, ...]
    fire_min: int

    def apply(self, project: Project) -> Project:
        within_ = set(self.room_ids)
        for room_id in within_:
            position(project.rooms, room_id)
        around = tuple(w.id for w in project.walls if not w.outside and (w.room_a in within_) != (w.room_b in within_))
        return SetWall(around, "fire_min", self.fire_min).apply(project)


class SetSlab(Struct, frozen=True):
    """Build-up or tilt of a roof or floor."""

    label: ClassVar[str] = "Roof or floor"
    slab_id: str
    field: Literal["build_up_id", "tilt_deg", "azimuth_deg"]
    value: str | float

    def apply(self, project: Project) -> Project:
        if self.field == "build_up_id" and find(project.build_ups, str(self.value)) is None:
            raise InputError("There is no such build-up in the project")
        slab = project.slabs[position(project.slabs, self.slab_id)]
        by_hand = {"own_fabric": True} if self.field == "build_up_id" and self.value != slab.build_up_id else {}
        return with_part(project, "slabs", structs.replace(slab, **{self.field: self.value}, **by_hand))


def _name(project: Project, room_id: str) -> str:
    room = find(project.rooms, room_id)
    return f"room {room.number}" if room else room_id


class ShrinkGlass(Struct, frozen=True):
    """The panes of a room made narrower, each about its middle, so that they are a share of its outside walls."""

    label: ClassVar[str] = "Less glass"
    room_id: str
    share: float

    def apply(self, project: Project) -> Project:
        walls = [w for w in walls_of(project.walls, self.room_id) if w.outside]
        whole = sum(w.length_m * w.height_m for w in walls)
        glass = sum(o.area_m2 for w in walls for o in w.openings if o.glazing_id)
        if glass <= 0 or not 0 < self.share < 1:
            raise InputError(
                "There is no glass to make smaller", where=f"room {self.room_id}", remedy="Take a share of 1 to 99 %"
            )
        by = min(1.0, self.share * whole / glass)
        for wall in walls:
            openings = tuple(
                structs.replace(o, width_m=round(max(o.width_m * by, 0.05), 6)) if o.glazing_id else o
                for o in wall.openings
            )
            if openings != wall.openings:
                project = check_openings(project, wall.id, openings)
        return project
