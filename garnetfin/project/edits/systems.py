"""Edits of air systems."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.tables import fan_models
from garnetfin.project.edits.rooms import edit_rooms
from garnetfin.project.lookup import fresh_ids, position, replaced, with_part
from garnetfin.project.new import usual_system
from garnetfin.project.systems import Operation
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule, Value

SYSTEM_VALUES = ("supply_c", "warm_limit_k", "friction_pa_m", "allowance", "fan_rpm", "motor_efficiency")


def _edit(project: Project, system_id: str, **changes: object) -> Project:
    system = project.air_systems[position(project.air_systems, system_id)]
    return with_part(project, "air_systems", structs.replace(system, **changes))


class AddSystem(Struct, frozen=True):
    """Another air handling unit, with usual parts; the rooms given are served by it."""

    label: ClassVar[str] = "New air system"
    room_ids: tuple[str, ...] = ()

    def apply(self, project: Project) -> Project:
        system = usual_system(fresh_ids(project.air_systems, "ahu", 1)[0], f"AHU {len(project.air_systems) + 1}")
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


class SetPartPressure(Struct, frozen=True):
    """Pressure drop of a part of the unit at its rated flow [Pa]."""

    label: ClassVar[str] = "Pressure of unit part"
    system_id: str
    part_id: str
    pressure_pa: float

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        part = system.parts[position(system.parts, self.part_id)]
        parts = replaced(system.parts, self.part_id, structs.replace(part, pressure_pa=self.pressure_pa))
        return _edit(project, self.system_id, parts=parts)


class ChooseFan(Struct, frozen=True):
    """A fan of the catalogue, or "" for the best by rule; the speed goes back to the rule."""

    label: ClassVar[str] = "Choose fan"
    system_id: str
    fan_id: str

    def apply(self, project: Project) -> Project:
        if self.fan_id and self.fan_id not in fan_models():
            raise InputError(f"“{self.fan_id}” is not in the catalogue", remedy="Take one of: " + ", ".join(fan_models()))
        return _edit(project, self.system_id, fan_id=self.fan_id, fan_rpm=Rule())


OPERATION_FIELDS = ("mode", "lead_h", "from_h", "to_h", "night_cooling_c", "night_heating_c")


class SetOperation(Struct, frozen=True):
    """When the plant of an air system runs, or of a zone ("zone:" and its id); mode "" lets a zone follow its system."""

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
