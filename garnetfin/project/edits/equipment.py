"""Edits of equipment: what is fixed of boxes, units in rooms, coils, air handlers and machines.

Each names its piece as the rules do; a piece of which nothing is fixed any more is by rule again.
"""

from difflib import get_close_matches
from typing import Any, ClassVar

from msgspec import Struct, structs

from garnetfin.core.equipment.catalogue import SHEETS, shipped
from garnetfin.core.errors import InputError
from garnetfin.core.texts import shortened
from garnetfin.project.edits.rooms import edit_rooms
from garnetfin.project.equipment import CoilChoice, FlowBox, Machines, OwnEquipment, RoomUnit, UnitChoice
from garnetfin.project.lookup import find, position
from garnetfin.project.tree import Project
from garnetfin.project.values import Value

# What may be fixed of each kind, by its list in the project.
FIELDS: dict[str, tuple[str, ...]] = {
    "flow_boxes": ("tag", "model", "least_m3s", "heating_m3s", "leave_c"),
    "room_units": ("tag", "model", "count", "step", "cover_m2k_w", "area_share", "longest_m", "highest_m"),
    "coils": ("tag", "series", "rows", "water_in_c", "water_out_c"),
    "units": ("tag", "size", "velocity_m_s", "arrangement", "room_id"),
    "machines": ("tag", "kind", "model", "count", "fewest", "standby", "margin", "ambient_rise_k"),
}
STAYS = ("room_units",)  # what is put by hand is there, whatever else is by rule
BOX, COIL = "box:", ":"
REST_OF = {"fan_coil": "unit", "beam": "unit", "ceiling": "unit", "direct": "own unit"}


def box_of(room_id: str) -> str:
    """Id of the box that one room has by rule."""
    return f"{BOX}{room_id}"


def coil_of(system_id: str, part_id: str) -> str:
    """Id of the coil of a part."""
    return f"{system_id}{COIL}{part_id}"


def _by_rule(project: Project, sheet: str, item_id: str) -> Any:
    """A piece of which nothing is fixed. Raises GarnetfinError where what it belongs to is gone."""
    if sheet == "flow_boxes":
        room_id = item_id.removeprefix(BOX)
        position(project.rooms, room_id)
        return FlowBox(id=item_id, room_ids=(room_id,))
    if sheet == "coils":
        system_id, _, part_id = item_id.rpartition(COIL)
        position(project.air_systems, system_id)
        return CoilChoice(id=item_id, system_id=system_id, part_id=part_id)
    if sheet == "units":
        position(project.air_systems, item_id)
        return UnitChoice(id=item_id)
    if sheet == "machines":
        return Machines(id=item_id)
    position(project.room_units, item_id)
    return None


def _kept(project: Project, sheet: str, made: Any) -> Project:
    """The project with a piece in its list; one of which nothing is fixed leaves it."""
    items = getattr(project, sheet)
    old = find(items, made.id)
    grouped = sheet == "flow_boxes" and (len(made.room_ids) > 1 or made.id != box_of(made.room_ids[0]))
    fixed = sheet in STAYS or grouped or made != _by_rule(project, sheet, made.id)
    if not fixed:
        left = tuple(x for x in items if x.id != made.id)
        return project if old is None else structs.replace(project, **{sheet: left})
    if old is None:
        return structs.replace(project, **{sheet: (*items, made)})
    return structs.replace(project, **{sheet: tuple(made if x.id == made.id else x for x in items)})


# Fields that name something of a catalogue: its sheet where that is another than the piece's.
NAMED = {"model": "", "series": "coils", "size": "casings"}
SHEET_OF = {"flow_boxes": "boxes"}


def _must_be_known(project: Project, sheet: str, name: str) -> None:
    """Raises InputError for a model that no catalogue has."""
    first = {key: keys[0] for key, (_, _, keys) in SHEETS.items()}[sheet]
    known = {str(getattr(row, first)) for row in shipped(sheet)}
    known |= {c.text for o in project.book.equipment if o.sheet == sheet for c in o.cells if c.heading == first}
    if name not in known:
        close = get_close_matches(name, known, 3, 0.5)
        raise InputError(
            f"There is no “{shortened(name)}” in the catalogue",
            where=sheet.replace("_", " "),
            remedy="Take one such as " + ", ".join(close or sorted(known)[:3]),
        )


def _room_named(project: Project, name: str) -> str:
    """Id of the room with this number or id. Raises InputError where there is none."""
    found = next((r.id for r in project.rooms if name in (r.id, r.number)), None)
    if found is None:
        close = get_close_matches(name, [r.number for r in project.rooms], 3, 0.3)
        raise InputError(
            f"There is no room “{shortened(name)}”",
            where="where a unit stands",
            remedy="Take the number of a room" + (f" such as {', '.join(close)}" if close else ""),
        )
    return found


class SetEquipment(Struct, frozen=True):
    """A figure or a choice of one piece: sheet is its list in the project."""

    label: ClassVar[str] = "Equipment"
    sheet: str
    item_id: str
    field: str
    value: Value | str | int | bool

    def apply(self, project: Project) -> Project:
        if self.field not in FIELDS.get(self.sheet, ()):
            raise InputError(f"There is no “{self.field}” of {self.sheet.replace('_', ' ')}")
        old = find(getattr(project, self.sheet), self.item_id) or _by_rule(project, self.sheet, self.item_id)
        value = self.value.strip() if isinstance(self.value, str) else self.value
        if self.field in NAMED and value:
            sheet = NAMED[self.field] or SHEET_OF.get(self.sheet, self.sheet)
            _must_be_known(project, sheet, str(value))
        if self.field == "room_id" and value:
            value = _room_named(project, str(value))
        new = structs.replace(old, **{self.field: value})
        return project if new == old else _kept(project, self.sheet, new)


class PutBox(Struct, frozen=True):
    """One flow box for rooms of one system, in place of those they have."""

    label: ClassVar[str] = "Put boxes"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        rooms = [project.rooms[position(project.rooms, r)] for r in self.room_ids]
        systems = {r.system_id for r in rooms}
        if len(systems) != 1 or "" in systems:
            raise InputError("A box serves rooms of one air system", remedy="Choose rooms that one system serves")
        gone = set(self.room_ids)
        left = []
        for box in project.flow_boxes:
            others = tuple(r for r in box.room_ids if r not in gone)
            if others:
                left.append(box if others == box.room_ids else structs.replace(box, room_ids=others))
        if len(rooms) > 1:
            taken = {b.id for b in left}
            own = next(i for i in (f"{BOX}group{n}" for n in range(1, len(left) + 2)) if i not in taken)
            left.append(FlowBox(id=own, room_ids=tuple(r.id for r in rooms)))
        return project if tuple(left) == project.flow_boxes else structs.replace(project, flow_boxes=tuple(left))


class PutRoomUnit(Struct, frozen=True):
    """A unit of a kind in each of these rooms; what serves them beside the air follows."""

    label: ClassVar[str] = "Put a unit"
    room_ids: tuple[str, ...]
    kind: str

    def apply(self, project: Project) -> Project:
        units = list(project.room_units)
        for room_id in self.room_ids:
            position(project.rooms, room_id)
            if any(u.room_id == room_id and u.kind == self.kind for u in units):
                continue
            taken = {u.id for u in units}
            own = next(i for i in (f"unit:{room_id}:{n}" for n in range(1, len(units) + 2)) if i not in taken)
            units.append(RoomUnit(id=own, room_id=room_id, kind=self.kind))  # type: ignore[arg-type]
        made = structs.replace(project, room_units=tuple(units))
        served = tuple(r for r in self.room_ids if made.rooms[position(made.rooms, r)].system_id)
        alone = tuple(r for r in self.room_ids if r not in served)
        made = edit_rooms(made, alone, by_units=True) if alone else made
        return edit_rooms(made, served, rest=REST_OF.get(self.kind, "heater")) if served else made


class RemoveRoomUnits(Struct, frozen=True):
    """Units out of their rooms; what is there by rule comes back."""

    label: ClassVar[str] = "Remove units"
    unit_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        for unit_id in self.unit_ids:
            position(project.room_units, unit_id)
        gone = set(self.unit_ids)
        rooms = {u.room_id for u in project.room_units if u.id in gone}
        made = structs.replace(project, room_units=tuple(u for u in project.room_units if u.id not in gone))
        empty = tuple(r for r in sorted(rooms) if not any(u.room_id == r for u in made.room_units))
        return edit_rooms(made, empty, rest="", by_units=False) if empty else made


class TakeEquipment(Struct, frozen=True):
    """Rows of the office's own catalogue; one of a name that is there takes its place."""

    label: ClassVar[str] = "Own catalogue of equipment"
    rows: tuple[OwnEquipment, ...]

    def apply(self, project: Project) -> Project:
        new = {r.id for r in self.rows}
        kept = tuple(r for r in project.book.equipment if r.id not in new)
        return structs.replace(project, book=structs.replace(project.book, equipment=(*kept, *self.rows)))
