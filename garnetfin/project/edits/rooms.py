"""Edits of rooms and of the openings in their walls."""

import itertools
from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.airflow.room_balance import PRESSURE
from garnetfin.core.airflow.supply import NEEDS
from garnetfin.core.errors import InputError
from garnetfin.core.tables import people_heat, profiles, room_use
from garnetfin.project.derive import follow
from garnetfin.project.lookup import find, fresh_ids, position, replaced
from garnetfin.project.parts import KINDS
from garnetfin.project.spaces import Opening, Room
from garnetfin.project.tree import Project
from garnetfin.project.uses import DEFAULT_USE, guess
from garnetfin.project.values import Imported, Pinned, Rule, Value, within

ROOM_VALUES = (
    "area_m2",
    "cooling_c",
    "heating_c",
    "people",
    "lights_w_m2",
    "equipment_w_m2",
    "infiltration_1h",
    "air_change_1h",
    "outdoor_m3s",
    "supply_m3s",
    "people_area_m2",
    "moisture_w",
    "cooling_limit_w",
    "heating_limit_w",
    "extract_m3s",
    "return_m3s",
)


def edit_rooms(project: Project, room_ids: tuple[str, ...], **changes: object) -> Project:
    rooms = project.rooms
    for room_id in room_ids:
        room = rooms[position(rooms, room_id)]
        rooms = replaced(rooms, room_id, structs.replace(room, **changes))
    return project if rooms is project.rooms else structs.replace(project, rooms=rooms)


class SetRoomValue(Struct, frozen=True):
    """Pin, import or set free one value of one or more rooms."""

    label: ClassVar[str] = "Room value"
    room_ids: tuple[str, ...]
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if self.field not in ROOM_VALUES:
            raise InputError(f"A room has no value “{self.field}”")
        return edit_rooms(project, self.room_ids, **{self.field: self.value})


class UnpinRoom(Struct, frozen=True):
    """All values of rooms back to the rule."""

    label: ClassVar[str] = "Unpin all"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        free = {
            f: Room.__struct_defaults__[i]
            for i, f in enumerate(Room.__struct_fields__[-len(Room.__struct_defaults__) :])
            if f in ROOM_VALUES
        }
        return edit_rooms(project, self.room_ids, **free)


class SetRoomUse(Struct, frozen=True):
    label: ClassVar[str] = "Room use"
    room_ids: tuple[str, ...]
    use_id: str

    def apply(self, project: Project) -> Project:
        room_use(self.use_id)
        return edit_rooms(project, self.room_ids, use_id=self.use_id)


ROOM_CHOICES = {
    "air": ("supply", "transfer"),
    "rest": ("", *(k for k, _ in KINDS["terminals"].choices)),
    "pressure": tuple(PRESSURE),
    "need": ("", *NEEDS),
}


class SetRoomChoice(Struct, frozen=True):
    """What people do, or the profile of use, of rooms, "" as the use has it; how they get air, which need governs,
    their pressure.
    """

    label: ClassVar[str] = "Room choice"
    room_ids: tuple[str, ...]
    field: str
    value: str

    def apply(self, project: Project) -> Project:
        if self.field == "activity":
            known = people_heat()
        elif self.field == "profile_id":
            known = {*profiles(), *(p.id for p in project.book.profiles)}
        elif self.field in ROOM_CHOICES:
            if self.value not in ROOM_CHOICES[self.field]:
                raise InputError(
                    f"A room cannot have {self.field} “{self.value}”",
                    remedy="Take one of: " + ", ".join(ROOM_CHOICES[self.field]),
                )
            return edit_rooms(project, self.room_ids, **{self.field: self.value})
        else:
            raise InputError(f"A room has no choice “{self.field}”")
        if self.value and self.value not in known:
            raise InputError(f"“{self.value}” is not in the office standards", remedy="Choose one of the list")
        return edit_rooms(project, self.room_ids, **{self.field: self.value})


class SetRoomText(Struct, frozen=True):
    """Number or name; a new name brings the use it sounds like, unless the use was chosen otherwise."""

    label: ClassVar[str] = "Rename room"
    room_id: str
    field: str
    text: str

    def apply(self, project: Project) -> Project:
        text = self.text.strip()
        if self.field not in ("number", "name") or not 1 <= len(text) <= 80:
            raise InputError("A room needs a number and a name of 1 to 80 signs")
        changes = {self.field: text}
        room = project.rooms[position(project.rooms, self.room_id)]
        # A use that was never chosen, only guessed from the old name, follows the new one; it stands in the card to be
        # corrected.
        if self.field == "name" and guess(text) and room.use_id in (guess(room.name), DEFAULT_USE):
            changes["use_id"] = guess(text)
        return edit_rooms(project, (self.room_id,), **changes)


class SetCeiling(Struct, frozen=True):
    label: ClassVar[str] = "Ceiling height"
    room_ids: tuple[str, ...]
    height_m: float

    def apply(self, project: Project) -> Project:
        return follow(project, edit_rooms(project, self.room_ids, ceiling_m=self.height_m))


class SetVoid(Struct, frozen=True):
    """Height of the void above the ceiling that return air passes [m]; 0 for none."""

    label: ClassVar[str] = "Void above the ceiling"
    room_ids: tuple[str, ...]
    height_m: float

    def apply(self, project: Project) -> Project:
        return edit_rooms(project, self.room_ids, plenum_m=self.height_m)


class SetServed(Struct, frozen=True):
    """Which air system serves a room ("" for none)."""

    label: ClassVar[str] = "Air system of room"
    room_ids: tuple[str, ...]
    system_id: str

    def apply(self, project: Project) -> Project:
        if self.system_id and find(project.air_systems, self.system_id) is None:
            raise InputError("There is no such air system")
        return edit_rooms(project, self.room_ids, system_id=self.system_id)


OPENING_VALUES = (
    "at_m",
    "width_m",
    "sill_m",
    "head_m",
    "reveal_m",
    "overhang_m",
    "overhang_gap_m",
    "fin_left_m",
    "fin_right_m",
    "fin_gap_m",
)
OPENING_ENDS = ("overhang_left_m", "overhang_right_m", "fin_above_m", "fin_below_m")


def check_openings(project: Project, wall_id: str, openings: tuple[Opening, ...]) -> Project:
    wall = project.walls[position(project.walls, wall_id)]
    for o in openings:
        where = f"{o.kind} {o.id}"
        if o.width_m > wall.length_m + 1e-6:
            raise InputError(
                f"A width of {o.width_m:.2f} m does not fit the wall of {wall.length_m:.2f} m",
                where=where,
                remedy=f"At most {wall.length_m:.2f} m",
            )
        within(o.at_m, o.width_m / 2 - 1e-6, wall.length_m - o.width_m / 2 + 1e-6, "Place along the wall", where, "m")
    ranked = sorted(openings, key=lambda o: o.at_m)
    for left, right in itertools.pairwise(ranked):
        apart = (right.at_m - right.width_m / 2) - (left.at_m + left.width_m / 2)
        if apart < -1e-6:
            raise InputError(
                f"It would overlap {right.kind} {right.id} by {-apart * 1000:.0f} mm",
                where=f"{left.kind} {left.id}",
                remedy="Make it narrower or move it",
            )
    walls = replaced(project.walls, wall_id, structs.replace(wall, openings=openings))
    return project if walls is project.walls else structs.replace(project, walls=walls)


class SetOpening(Struct, frozen=True):
    """One measure of a window or door [m]; the middle gives way so that it stays on its wall. How far overhang and fins
    reach is a figure or, by rule, without end.
    """

    label: ClassVar[str] = "Opening"
    wall_id: str
    opening_id: str
    field: str
    value: float | Value

    def apply(self, project: Project) -> Project:
        if self.field not in (OPENING_ENDS if isinstance(self.value, Rule | Pinned | Imported) else OPENING_VALUES):
            raise InputError(f"An opening has no measure “{self.field}”")
        wall = project.walls[position(project.walls, self.wall_id)]
        opening = wall.openings[position(wall.openings, self.opening_id)]
        changed = structs.replace(opening, **{self.field: self.value})
        if self.field == "width_m" and changed.width_m <= wall.length_m:
            low, high = changed.width_m / 2, wall.length_m - changed.width_m / 2
            changed = structs.replace(changed, at_m=min(max(changed.at_m, low), high))
        return check_openings(project, self.wall_id, replaced(wall.openings, self.opening_id, changed))


class SetGlazing(Struct, frozen=True):
    """The glazing of openings, given as (wall id, opening id)."""

    label: ClassVar[str] = "Glazing"
    openings: tuple[tuple[str, str], ...]
    glazing_id: str

    def apply(self, project: Project) -> Project:
        if find(project.glazings, self.glazing_id) is None:
            raise InputError("There is no such glazing in the project")
        walls = project.walls
        for wall_id, opening_id in self.openings:
            wall = walls[position(walls, wall_id)]
            opening = wall.openings[position(wall.openings, opening_id)]
            by_hand = opening.own_glazing or opening.glazing_id != self.glazing_id
            changed = replaced(
                wall.openings, opening_id, structs.replace(opening, glazing_id=self.glazing_id, own_glazing=by_hand)
            )
            if changed is not wall.openings:
                walls = replaced(walls, wall_id, structs.replace(wall, openings=changed))
        return project if walls is project.walls else structs.replace(project, walls=walls)


class AddWindow(Struct, frozen=True):
    """A window in the widest gap of a wall, or at a place along it."""

    label: ClassVar[str] = "Add window"
    wall_id: str
    glazing_id: str
    width_m: float = 1.2
    at_m: float | None = None

    def apply(self, project: Project) -> Project:
        wall = project.walls[position(project.walls, self.wall_id)]
        edges = sorted((o.at_m - o.width_m / 2, o.at_m + o.width_m / 2) for o in wall.openings)
        gaps, last = [], 0.0
        for low, high in edges:
            gaps.append((low - last, last))
            last = max(last, high)
        gaps.append((wall.length_m - last, last))
        room, start = max(gaps)
        if self.at_m is None and room < 0.3:
            raise InputError(
                "The wall has no gap of 0.3 m for a window",
                where=f"wall {wall.id}",
                remedy="Remove or narrow an opening first",
            )
        width = self.width_m if self.at_m is not None else min(self.width_m, room - 0.1)
        everywhere = tuple(o for w in project.walls for o in w.openings)
        new = Opening(
            id=fresh_ids(everywhere, "W", 1)[0],
            kind="window",
            width_m=width,
            at_m=start + room / 2 if self.at_m is None else self.at_m,
            sill_m=0.9,
            head_m=min(2.4, wall.height_m),
            glazing_id=self.glazing_id,
        )
        return check_openings(project, self.wall_id, (*wall.openings, new))


class RemoveOpening(Struct, frozen=True):
    label: ClassVar[str] = "Remove opening"
    wall_id: str
    opening_id: str

    def apply(self, project: Project) -> Project:
        wall = project.walls[position(project.walls, self.wall_id)]
        position(wall.openings, self.opening_id)
        kept = tuple(o for o in wall.openings if o.id != self.opening_id)
        return check_openings(project, self.wall_id, kept)
