"""Edits of zones, levels, the north arrow and what areas are measured between."""

import itertools
from typing import ClassVar, Literal

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.derive import follow
from garnetfin.project.ducts import DuctPoint
from garnetfin.project.edits.rooms import edit_rooms
from garnetfin.project.edits.shape import CopyRooms
from garnetfin.project.lookup import find, fresh_ids, position, with_part
from garnetfin.project.spaces import Level
from garnetfin.project.systems import Zone
from garnetfin.project.tree import Project
from garnetfin.project.values import Value

ZONE_VALUES = ("cooling_c", "heating_c", "supply_c", "humidity_low", "humidity_high")


class AddZone(Struct, frozen=True):
    """A new zone with rooms in it."""

    label: ClassVar[str] = "New zone"
    room_ids: tuple[str, ...] = ()
    name: str = ""

    def apply(self, project: Project) -> Project:
        zone = Zone(id=fresh_ids(project.zones, "z", 1)[0], name=self.name.strip() or f"Zone {len(project.zones) + 1}")
        made = structs.replace(project, zones=(*project.zones, zone))
        return edit_rooms(made, self.room_ids, zone_id=zone.id)


class SetZone(Struct, frozen=True):
    """Which zone rooms belong to ("" for none)."""

    label: ClassVar[str] = "Zone of rooms"
    room_ids: tuple[str, ...]
    zone_id: str

    def apply(self, project: Project) -> Project:
        if self.zone_id:
            position(project.zones, self.zone_id)
        return edit_rooms(project, self.room_ids, zone_id=self.zone_id)


class SetZoneValue(Struct, frozen=True):
    """A set-point, supply temperature or humidity limit of a zone, pinned or by rule."""

    label: ClassVar[str] = "Zone value"
    zone_id: str
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if self.field not in ZONE_VALUES:
            raise InputError(f"A zone has no value “{self.field}”")
        zone = project.zones[position(project.zones, self.zone_id)]
        return with_part(project, "zones", structs.replace(zone, **{self.field: self.value}))


class RenameZone(Struct, frozen=True):
    label: ClassVar[str] = "Rename zone"
    zone_id: str
    name: str

    def apply(self, project: Project) -> Project:
        if not 1 <= len(self.name.strip()) <= 60:
            raise InputError("A zone needs a name of 1 to 60 signs")
        zone = project.zones[position(project.zones, self.zone_id)]
        return with_part(project, "zones", structs.replace(zone, name=self.name.strip()))


class RemoveZone(Struct, frozen=True):
    """A zone away; its rooms stay, in no zone."""

    label: ClassVar[str] = "Remove zone"
    zone_id: str

    def apply(self, project: Project) -> Project:
        position(project.zones, self.zone_id)
        members = tuple(r.id for r in project.rooms if r.zone_id == self.zone_id)
        made = edit_rooms(project, members, zone_id="")
        return structs.replace(made, zones=tuple(z for z in made.zones if z.id != self.zone_id))


class AddLevel(Struct, frozen=True):
    """A level on top of the highest one, or below the lowest."""

    label: ClassVar[str] = "New level"
    below: bool = False
    name: str = ""

    def apply(self, project: Project) -> Project:
        ranked = sorted(project.levels, key=lambda x: x.elevation_m)
        storey = ranked[0 if self.below else -1].storey_m if ranked else 3.4
        at = 0.0 if not ranked else ranked[0].elevation_m - storey if self.below else ranked[-1].elevation_m + storey
        level = Level(
            id=fresh_ids(project.levels, "L", 1)[0],
            elevation_m=round(at, 6),
            storey_m=storey,
            name=self.name.strip() or (f"Basement {len(ranked)}" if self.below else f"Level {len(ranked)}"),
        )
        levels = tuple(sorted((*project.levels, level), key=lambda x: x.elevation_m))
        return structs.replace(project, levels=levels)


class SetLevel(Struct, frozen=True):
    """Name, elevation or storey height of a level. With a storey's height the levels above move along."""

    label: ClassVar[str] = "Level"
    level_id: str
    field: Literal["name", "elevation_m", "storey_m", "floor_m2"]
    value: str | float | Value

    def apply(self, project: Project) -> Project:
        level = project.levels[position(project.levels, self.level_id)]
        if self.field == "name" and not 1 <= len(str(self.value).strip()) <= 40:
            raise InputError("A level needs a name of 1 to 40 signs")
        given = (
            self.value.strip()
            if self.field == "name"
            else self.value
            if self.field == "floor_m2"
            else float(self.value)
        )
        changed = structs.replace(level, **{self.field: given})
        if changed == level:
            return project
        risen = changed.storey_m - level.storey_m
        levels = []
        for x in project.levels:
            above = x.elevation_m > level.elevation_m + 0.01
            levels.append(
                changed
                if x.id == level.id
                else structs.replace(x, elevation_m=round(x.elevation_m + risen, 6))
                if above and risen
                else x
            )
        levels.sort(key=lambda x: x.elevation_m)
        for low, high in itertools.pairwise(levels):
            if high.elevation_m - low.elevation_m < 0.5:
                raise InputError(
                    f"It would lie within 0.5 m of level {(low if low.id != level.id else high).name}",
                    where=f"level {level.name}",
                    remedy="Choose another elevation",
                )
        # Walls that were as high as the storey follow it; others were given their height by hand or by a drawing.
        walls = tuple(
            structs.replace(w, height_m=changed.storey_m)
            if w.level_id == level.id and risen and abs(w.height_m - level.storey_m) < 1e-6
            else w
            for w in project.walls
        )
        by_id = {x.id: x.elevation_m for x in levels}
        lifted = {x.id: round(by_id[x.id] - x.elevation_m, 6) for x in project.levels}
        made = structs.replace(
            project,
            levels=tuple(levels),
            walls=walls if risen else project.walls,
            duct_points=tuple(_lifted(p, lifted[p.level_id]) for p in project.duct_points),
        )
        return follow(project, made)


def _lifted(point: DuctPoint, by_m: float) -> DuctPoint:
    """Ducts and terminals hang on their level and go along with it."""
    return structs.replace(point, z_m=round(point.z_m + by_m, 6)) if by_m else point


class RemoveLevel(Struct, frozen=True):
    """An empty level away."""

    label: ClassVar[str] = "Remove level"
    level_id: str

    def apply(self, project: Project) -> Project:
        level = project.levels[position(project.levels, self.level_id)]
        held = [
            kind
            for kind in ("rooms", "duct_points", "plan_marks", "ceiling_zones", "obstacles", "underlays")
            if any(x.level_id == level.id for x in getattr(project, kind))
        ]
        if held:
            raise InputError(
                f"Level {level.name} still holds {held[0].replace('_', ' ')}", remedy="Remove or move them first"
            )
        if len(project.levels) == 1:
            raise InputError("A building needs a level")
        made = structs.replace(project, levels=tuple(x for x in project.levels if x.id != level.id))
        return follow(project, made)


class CopyLevel(Struct, frozen=True):
    """All drawn rooms of a level, with their openings, onto another level."""

    label: ClassVar[str] = "Copy level"
    level_id: str
    to_level_id: str

    def apply(self, project: Project) -> Project:
        if self.level_id == self.to_level_id:
            raise InputError("A level cannot be copied onto itself", remedy="Choose another level")
        rooms = tuple(r.id for r in project.rooms if r.level_id == self.level_id and not r.sketched)
        if not rooms:
            raise InputError("The level has no drawn rooms")
        return CopyRooms(rooms, level_id=self.to_level_id).apply(project)


class SetNorth(Struct, frozen=True):
    """Bearing of the plan's upward direction [deg]; the facing of every outside wall turns with it."""

    label: ClassVar[str] = "Turn north"
    north_deg: float

    def apply(self, project: Project) -> Project:
        if project.site is None:
            raise InputError("The project has no place yet")
        site = structs.replace(project.site, north_deg=self.north_deg)
        turned = self.north_deg - project.site.north_deg
        if not turned:
            return project
        walls = tuple(
            structs.replace(w, facing_deg=round((w.facing_deg + turned) % 360, 6)) if w.outside else w
            for w in project.walls
        )
        slabs = tuple(
            structs.replace(s, azimuth_deg=round((s.azimuth_deg + turned) % 360, 6)) if s.tilt_deg else s
            for s in project.slabs
        )
        return structs.replace(project, site=site, walls=walls, slabs=slabs)


class SetAreaBasis(Struct, frozen=True):
    """Floor areas by rule: on the centre lines of walls, or between walls (net)."""

    label: ClassVar[str] = "Area measured"
    basis: Literal["centre", "net"]

    def apply(self, project: Project) -> Project:
        if self.basis not in ("centre", "net"):
            raise InputError("Areas are measured at wall centres or net")
        return project if project.area_basis == self.basis else structs.replace(project, area_basis=self.basis)


class SetRoomLevel(Struct, frozen=True):
    """Rooms put on another level as they are; their openings go along."""

    label: ClassVar[str] = "Level of rooms"
    room_ids: tuple[str, ...]
    level_id: str

    def apply(self, project: Project) -> Project:
        position(project.levels, self.level_id)
        ids = tuple(i for i in self.room_ids if project.rooms[position(project.rooms, i)].level_id != self.level_id)
        if not ids:
            return project
        from garnetfin.project.edits.outlines import RemoveRooms

        copied = CopyRooms(ids, level_id=self.level_id).apply(project)
        fresh = copied.rooms[len(project.rooms) :]
        left = RemoveRooms(ids).apply(copied)
        names = {new.id: old for new, old in zip(fresh, ids)}
        return _renamed(left, names, {i: find(project.rooms, i).number for i in ids}, project)


def _renamed(project: Project, names: dict[str, str], numbers: dict[str, str], before: Project) -> Project:
    """Copies take over the ids and numbers of the rooms they stand for, so that links to these hold."""

    def name(i: str) -> str:
        return names.get(i, i)

    rooms = tuple(
        structs.replace(r, id=names[r.id], number=numbers[names[r.id]], origin=find(before.rooms, names[r.id]).origin)
        if r.id in names
        else r
        for r in project.rooms
    )
    return structs.replace(
        project,
        rooms=rooms,
        walls=tuple(structs.replace(w, room_a=name(w.room_a), room_b=name(w.room_b)) for w in project.walls),
        slabs=tuple(
            structs.replace(s, room_below=name(s.room_below), room_above=name(s.room_above)) for s in project.slabs
        ),
    )
