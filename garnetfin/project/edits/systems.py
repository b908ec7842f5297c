"""Edits of air systems."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.tables import fan_models
from garnetfin.project.catalogue import OwnFan
from garnetfin.project.edits.rooms import edit_rooms
from garnetfin.project.lookup import fresh_ids, position, replaced, with_part
from garnetfin.project.new import usual_system
from garnetfin.project.parts import KINDS, PATTERNS, Part, PartFigure, pattern_parts
from garnetfin.project.systems import FAN_WAYS, FanChoice, Operation, Transfer
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule, Value

SYSTEM_VALUES = (
    "supply_c",
    "warm_limit_k",
    "friction_pa_m",
    "allowance",
    "outdoor_m3s",
    "least_share",
    "humidity_high",
    "people",
    "duct_height_m",
    "available_pa",
)


def _edit(project: Project, system_id: str, **changes: object) -> Project:
    system = project.air_systems[position(project.air_systems, system_id)]
    return with_part(project, "air_systems", structs.replace(system, **changes))


FAN_VALUES = ("speed_rpm", "motor_efficiency", "drive_efficiency", "outlet_duct_m", "effect_k")


def _edit_fan(project: Project, system_id: str, way: str, **changes: object) -> Project:
    if way not in FAN_WAYS:
        raise InputError(f"A system has no {way} fan", remedy="Take one of: " + ", ".join(FAN_WAYS))
    system = project.air_systems[position(project.air_systems, system_id)]
    new = structs.replace(system.fan(way), **changes)
    kept = tuple(f for f in system.fans if f.way != way)
    by_rule = new == FanChoice(way=new.way)
    fans = kept if by_rule else tuple(sorted((*kept, new), key=lambda f: FAN_WAYS.index(f.way)))
    return _edit(project, system_id, fans=fans)


class AddSystem(Struct, frozen=True):
    """Another air handling unit, with usual parts but for kinds that are left out; the rooms given are served by it."""

    label: ClassVar[str] = "New air system"
    room_ids: tuple[str, ...] = ()
    leave_out: tuple[str, ...] = ()

    def apply(self, project: Project) -> Project:
        system = usual_system(fresh_ids(project.air_systems, "ahu", 1)[0], f"AHU {len(project.air_systems) + 1}")
        system = structs.replace(system, parts=tuple(p for p in system.parts if p.kind not in self.leave_out))
        made = structs.replace(project, air_systems=(*project.air_systems, system))
        return edit_rooms(made, self.room_ids, system_id=system.id)


class SetSystemValue(Struct, frozen=True):
    label: ClassVar[str] = "Air system value"
    system_id: str
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if self.field not in SYSTEM_VALUES:
            raise InputError(f"An air system has no value “{self.field}”")
        return _edit(project, self.system_id, **{self.field: self.value})


class SetFanValue(Struct, frozen=True):
    """A figure of one fan of a system: supply, return, extract or exhaust."""

    label: ClassVar[str] = "Fan value"
    system_id: str
    field: str
    value: Value
    way: str = "supply"

    def apply(self, project: Project) -> Project:
        if self.field not in FAN_VALUES:
            raise InputError(f"A fan has no value “{self.field}”")
        return _edit_fan(project, self.system_id, self.way, **{self.field: self.value})


class SetPart(Struct, frozen=True):
    """A figure of a part ("pressure" for its drop at the rated flow), its choice ("choice") or its name ("name")."""

    label: ClassVar[str] = "Part of the air system"
    system_id: str
    part_id: str
    field: str
    value: Value | str

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        part = system.parts[position(system.parts, self.part_id)]
        if self.field in ("choice", "name"):
            new = structs.replace(part, **{self.field: str(self.value).strip()})
        elif self.field == "pressure":
            if KINDS[part.kind].pressure_pa is None:
                raise InputError(f"{part.title} has no pressure drop of its own")
            new = structs.replace(part, pressure_pa=self.value)
        else:
            others = tuple(f for f in part.figures if f.name != self.field)
            typed = () if isinstance(self.value, Rule) else (PartFigure(name=self.field, value=self.value),)
            if self.field not in KINDS[part.kind].figures:
                raise InputError(f"{part.title} has no figure “{self.field}”")
            new = structs.replace(part, figures=(*others, *typed))
        return _edit(project, self.system_id, parts=replaced(system.parts, self.part_id, new))


class AddPart(Struct, frozen=True):
    """A part put into the train before another one ("" = where it usually stands)."""

    label: ClassVar[str] = "New part"
    system_id: str
    kind: str
    before: str = ""

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        part_id = (
            fresh_ids(system.parts, self.kind, 1)[0] if any(p.id == self.kind for p in system.parts) else self.kind
        )
        if self.kind not in KINDS:
            raise InputError(f"There is no part “{self.kind}”", remedy="Take one of: " + ", ".join(KINDS))
        part = Part(id=part_id, kind=self.kind, choice="steam" if self.kind == "humidifier" else "")
        at = position(system.parts, self.before) if self.before else usual_place(system.parts, self.kind)
        return _edit(project, self.system_id, parts=(*system.parts[:at], part, *system.parts[at:]))


USUAL_ORDER = (
    "intake",
    "filter",
    "preheat",
    "recovery",
    "precool",
    "mixing",
    "cooling",
    "heating",
    "humidifier",
    "supply_fan",
    "attenuator",
    "duct",
    "terminals",
    "rooms",
    "plenum",
    "return_fan",
    "exhaust_fan",
    "relief",
)


def usual_place(parts: tuple[Part, ...], kind: str) -> int:
    """Where a part of a kind usually stands in a train."""
    rank = USUAL_ORDER.index(kind)
    return next((i for i, p in enumerate(parts) if USUAL_ORDER.index(p.kind) > rank), len(parts))


class MovePart(Struct, frozen=True):
    """A part before another one, or at the end with ""."""

    label: ClassVar[str] = "Move part"
    system_id: str
    part_id: str
    before: str

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        part = system.parts[position(system.parts, self.part_id)]
        if self.before == self.part_id:
            return project
        rest = tuple(p for p in system.parts if p.id != self.part_id)
        at = position(rest, self.before) if self.before else len(rest)
        parts = (*rest[:at], part, *rest[at:])
        return project if parts == system.parts else _edit(project, self.system_id, parts=parts)


class RemovePart(Struct, frozen=True):
    label: ClassVar[str] = "Remove part"
    system_id: str
    part_id: str

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        part = system.parts[position(system.parts, self.part_id)]
        if part.kind in ("rooms", "terminals"):
            raise InputError(f"A unit needs {part.title.lower()}", remedy="Take out another part")
        return _edit(project, self.system_id, parts=tuple(p for p in system.parts if p.id != self.part_id))


class SetPattern(Struct, frozen=True):
    """A train to start from; parts of the same kind keep what is pinned on them."""

    label: ClassVar[str] = "Pattern of the air system"
    system_id: str
    pattern: str

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        parts = pattern_parts(self.pattern, system.parts)
        chosen = PATTERNS[self.pattern]
        return _edit(project, self.system_id, pattern=self.pattern, flow=chosen.flow, supply=chosen.supply, parts=parts)


SYSTEM_CHOICES = {
    "friction_from": ("rate", "first velocity", "pressure"),
    "sizing": ("friction", "velocity", "regain", "cost"),
    "flow": ("fixed", "load"),
    "supply": ("held", "coil", "room", "neediest"),
    "leakage": ("computed", "typed"),
    "heat": ("computed", "typed"),
    "boxes": ("chosen", "none"),
    "coils": ("chosen", "typed"),
}


class SetFans(Struct, frozen=True):
    """How many fans alike, one behind the other or side by side; "" and 0 leave what is there."""

    label: ClassVar[str] = "Fans"
    system_id: str
    arrangement: str = ""
    count: int = 0
    way: str = "supply"

    def apply(self, project: Project) -> Project:
        fan = project.air_systems[position(project.air_systems, self.system_id)].fan(self.way)
        arrangement = self.arrangement or fan.arrangement
        if arrangement not in ("single", "series", "parallel"):
            raise InputError(f"Fans cannot stand “{arrangement}”", remedy="single, series or parallel")
        count = round(self.count) or fan.count
        if arrangement == "single" and round(self.count) > 1:
            arrangement = "parallel"
        return _edit_fan(
            project,
            self.system_id,
            self.way,
            arrangement=arrangement,
            count=1 if arrangement == "single" else max(2, count),
        )


class SetSystemChoice(Struct, frozen=True):
    """How the flow or the supply temperature is controlled, how ducts are sized, or the system's name."""

    label: ClassVar[str] = "Control of the air system"
    system_id: str
    field: str
    value: str

    def apply(self, project: Project) -> Project:
        if self.field == "name":
            if not self.value.strip():
                raise InputError("An air system needs a name")
            return _edit(project, self.system_id, name=self.value.strip())
        if self.value not in SYSTEM_CHOICES.get(self.field, ()):
            raise InputError(f"An air system cannot have {self.field} “{self.value}”")
        return _edit(project, self.system_id, **{self.field: self.value})


class SetMonths(Struct, frozen=True):
    """Months in which cooling or heating is available, 1 to 12."""

    label: ClassVar[str] = "Months of the plant"
    system_id: str
    field: str  # cooling_months, heating_months
    months: tuple[int, ...]

    def apply(self, project: Project) -> Project:
        if self.field not in ("cooling_months", "heating_months"):
            raise InputError(f"An air system has no {self.field.replace('_', ' ')}")
        return _edit(project, self.system_id, **{self.field: tuple(sorted(set(self.months)))})


class SetTransfer(Struct, frozen=True):
    """Air from one room to another, by rule what the other lacks; made when it is not there."""

    label: ClassVar[str] = "Transfer air"
    from_room: str
    to_room: str
    flow_m3s: Value = Rule()

    def apply(self, project: Project) -> Project:
        rooms = [project.rooms[position(project.rooms, i)] for i in (self.from_room, self.to_room)]
        for room in rooms:
            if not room.system_id:
                raise InputError(f"Room {room.number} is served by no air system", remedy="Serve it first")
        if rooms[0].system_id != rooms[1].system_id:
            raise InputError(
                "Air is transferred between rooms of one air system",
                where=f"rooms {rooms[0].number}, {rooms[1].number}",
                remedy="Serve both by the same air system",
            )
        old = next((t for t in project.transfers if (t.from_room, t.to_room) == (self.from_room, self.to_room)), None)
        if old is not None:
            return with_part(project, "transfers", structs.replace(old, flow_m3s=self.flow_m3s))
        new = Transfer(
            id=fresh_ids(project.transfers, "move", 1)[0],
            from_room=self.from_room,
            to_room=self.to_room,
            flow_m3s=self.flow_m3s,
        )
        return structs.replace(project, transfers=(*project.transfers, new))


class MoveTransfer(Struct, frozen=True):
    """Transfer air from another room instead, with its flow as typed; from "" it is taken away."""

    label: ClassVar[str] = "Transfer air"
    transfer_id: str
    from_room: str

    def apply(self, project: Project) -> Project:
        old = project.transfers[position(project.transfers, self.transfer_id)]
        if self.from_room == old.from_room:
            return project
        without = RemoveTransfer(old.id).apply(project)
        return SetTransfer(self.from_room, old.to_room, old.flow_m3s).apply(without) if self.from_room else without


class RemoveTransfer(Struct, frozen=True):
    label: ClassVar[str] = "Remove transfer air"
    transfer_id: str

    def apply(self, project: Project) -> Project:
        position(project.transfers, self.transfer_id)
        return structs.replace(project, transfers=tuple(t for t in project.transfers if t.id != self.transfer_id))


class ChooseFan(Struct, frozen=True):
    """A fan of the catalogue, or "" for the best by rule; the speed goes back to the rule."""

    label: ClassVar[str] = "Choose fan"
    system_id: str
    fan_id: str
    way: str = "supply"

    def apply(self, project: Project) -> Project:
        known = (*fan_models(), *(f.id for f in project.book.fans))
        if self.fan_id and self.fan_id not in known:
            raise InputError(f"“{self.fan_id}” is not in the catalogue", remedy="Take one of: " + ", ".join(known))
        return _edit_fan(project, self.system_id, self.way, model=self.fan_id, speed_rpm=Rule())


class TakeFans(Struct, frozen=True):
    """Fans of a catalogue into the office standards; those of the same name are replaced."""

    label: ClassVar[str] = "Own catalogue of fans"
    fans: tuple[OwnFan, ...]

    def apply(self, project: Project) -> Project:
        new = {f.id for f in self.fans}
        kept = tuple(f for f in project.book.fans if f.id not in new)
        return structs.replace(project, book=structs.replace(project.book, fans=(*kept, *self.fans)))


class ClearOwnFans(Struct, frozen=True):
    """The office's own fans away; a system that had one of them takes the best again."""

    label: ClassVar[str] = "Own fans away"

    def apply(self, project: Project) -> Project:
        gone = {f.id for f in project.book.fans}
        if not gone:
            return project
        made = structs.replace(project, book=structs.replace(project.book, fans=()))
        for system in project.air_systems:
            for fan in system.fans:
                if fan.model in gone:
                    made = ChooseFan(system.id, "", fan.way).apply(made)
        return made


OPERATION_FIELDS = ("mode", "lead_h", "from_h", "to_h", "night_cooling_c", "night_heating_c")


class SetOperation(Struct, frozen=True):
    """When the plant of an air system runs, or of a zone ("zone:" and its id); mode "" lets a zone follow its
    system.
    """

    label: ClassVar[str] = "Hours of the plant"
    owner: str
    field: str
    value: Value | float | str

    def apply(self, project: Project) -> Project:
        if self.field not in OPERATION_FIELDS:
            raise InputError(f"The plant has no setting “{self.field}”")
        kind, items, owner_id = "air_systems", project.air_systems, self.owner
        if self.owner.startswith("zone:"):
            kind, items, owner_id = "zones", project.zones, self.owner[5:]
        owner = items[position(items, owner_id)]
        if self.field == "mode" and self.value == "" and kind == "zones":
            return with_part(project, kind, structs.replace(owner, operation=None))
        old = owner.operation or Operation()
        value = round(self.value) if self.field in ("lead_h", "from_h", "to_h") else self.value
        if self.field == "mode" and value not in ("always", "use", "hours"):
            raise InputError(f"The plant cannot run “{value}”", remedy="always, use or hours")
        return with_part(project, kind, structs.replace(owner, operation=structs.replace(old, **{self.field: value})))
