"""The project: flat tuples of named parts, linked by id."""

from collections.abc import Callable, Iterable, KeysView
from typing import Any, Literal

from garnetfin.core.errors import InputError
from garnetfin.project.book import Book
from garnetfin.project.ducts import DuctPoint, Segment, Terminal
from garnetfin.project.equipment import CoilChoice, FlowBox, Machines, RoomUnit, UnitChoice
from garnetfin.project.fabric import SET_KINDS, BuildUp, FabricSet, Glazing
from garnetfin.project.lookup import find, positions
from garnetfin.project.papers import Accepted, Papers
from garnetfin.project.site import Site
from garnetfin.project.spaces import NO_ROOM, CeilingZone, Level, Obstacle, PlanMark, Room, Slab, Wall
from garnetfin.project.state_list import ListRow
from garnetfin.project.systems import AirSystem, Transfer, Zone
from garnetfin.project.underlays import Underlay
from garnetfin.project.values import Node, id_ok

FORMAT = 8
UNTITLED = "Untitled"
# Parts of one kind; a file with more is not one of ours. Growth is looked at up to 10,000 rooms.
MOST_OF_A_KIND = 60_000
MOST = {
    "levels": 500,
    "rooms": 15_000,
    "air_systems": 1_000,
    "zones": 5_000,
    "build_ups": 5_000,
    "glazings": 5_000,
    "fabric_sets": 1_000,
    "underlays": 500,
}


class Project(Node, frozen=True):
    """One job as a value. Every edit makes a new one that shares all untouched parts."""

    format: int = FORMAT
    name: str = UNTITLED
    # what ids in models and findings that went out were made from, where the name has changed since
    first_name: str = ""
    site: Site | None = None
    levels: tuple[Level, ...] = ()
    rooms: tuple[Room, ...] = ()
    walls: tuple[Wall, ...] = ()
    slabs: tuple[Slab, ...] = ()
    build_ups: tuple[BuildUp, ...] = ()
    glazings: tuple[Glazing, ...] = ()
    plan_marks: tuple[PlanMark, ...] = ()
    ceiling_zones: tuple[CeilingZone, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()
    zones: tuple[Zone, ...] = ()
    underlays: tuple[Underlay, ...] = ()
    fabric_sets: tuple[FabricSet, ...] = ()
    book: Book = Book()
    # floor areas by rule: on wall centre lines, or between walls
    area_basis: Literal["centre", "net"] = "centre"
    air_systems: tuple[AirSystem, ...] = ()
    transfers: tuple[Transfer, ...] = ()
    duct_points: tuple[DuctPoint, ...] = ()
    segments: tuple[Segment, ...] = ()
    terminals: tuple[Terminal, ...] = ()
    # equipment: what is fixed of each; the rest is chosen by rule
    flow_boxes: tuple[FlowBox, ...] = ()
    room_units: tuple[RoomUnit, ...] = ()
    coils: tuple[CoilChoice, ...] = ()
    units: tuple[UnitChoice, ...] = ()
    machines: tuple[Machines, ...] = ()
    state_list: tuple[ListRow, ...] = ()
    papers: Papers = Papers()
    accepted: tuple[Accepted, ...] = ()

    @property
    def model_name(self) -> str:
        """What ids of its parts in files of others are made from."""
        return self.first_name or self.name


LISTS = (
    "levels",
    "rooms",
    "walls",
    "slabs",
    "build_ups",
    "glazings",
    "fabric_sets",
    "plan_marks",
    "ceiling_zones",
    "obstacles",
    "zones",
    "underlays",
    "air_systems",
    "transfers",
    "duct_points",
    "segments",
    "terminals",
    "flow_boxes",
    "room_units",
    "coils",
    "units",
    "machines",
    "state_list",
    "accepted",
)


def _to_check(project: Project, sound: Project | None) -> Callable[[str], Iterable[Any]]:
    """Parts of a kind whose links may lead nowhere: all, or those that are not the very parts of a sound project from
    which nothing was taken away.
    """
    if sound is None:
        return lambda kind: getattr(project, kind)
    pairs = [(getattr(sound, kind), getattr(project, kind)) for kind in LISTS]
    if any(old is not new and not positions(old).keys() <= positions(new).keys() for old, new in pairs):
        return lambda kind: getattr(project, kind)

    def differing(kind: str) -> Iterable[Any]:
        old, new = getattr(sound, kind), getattr(project, kind)
        return () if old is new else (x for x in new if find(old, x.id) is not x)

    return differing


def _each_once(segments: tuple[Segment, ...]) -> None:
    """Raise InputError where the id of a part in ducts cannot be one, or stands twice."""
    seen: set[str] = set()
    for segment in segments:
        for part in segment.inline:
            id_ok(part.id, f"parts in segment {segment.id}")
            if part.id in seen:
                raise InputError(f"The id “{part.id}” is used twice", where="parts in ducts")
            seen.add(part.id)


def check_links(project: Project, sound: Project | None = None) -> None:
    """Raise InputError at the first id that is used twice or leads nowhere.

    sound   a project that holds, from which this one was edited: only what differs from it is looked at
    """
    known: dict[str, KeysView[str]] = {}
    for kind in LISTS:
        items = getattr(project, kind)
        if len(items) > MOST.get(kind, MOST_OF_A_KIND):
            raise InputError(
                f"{len(items)} {kind} are more than the {MOST.get(kind, MOST_OF_A_KIND)} accepted", where=kind
            )
        known[kind] = positions(items).keys()
        if sound is not None and items is getattr(sound, kind):
            continue
        if kind != "accepted":  # named by what they accept
            for part_id in known[kind]:
                id_ok(part_id, kind)
        if len(known[kind]) != len(items):
            seen: set[str] = set()
            twice = next(i.id for i in items if i.id in seen or seen.add(i.id))
            raise InputError(f"The id “{twice}” is used twice", where=kind)
    parts = _to_check(project, sound)

    def must(kind: str, wanted: str, where: str) -> None:
        if wanted not in known[kind]:
            raise InputError(f"“{wanted}” is not among the {kind.replace('_', ' ')}", where=where)

    rooms = set(known["rooms"]) | NO_ROOM
    for room in parts("rooms"):
        must("levels", room.level_id, f"room {room.number}")
        if room.system_id:
            must("air_systems", room.system_id, f"room {room.number}")
        if room.zone_id:
            must("zones", room.zone_id, f"room {room.number}")
    for wall in parts("walls"):
        must("levels", wall.level_id, f"wall {wall.id}")
        must("build_ups", wall.build_up_id, f"wall {wall.id}")
        for room_id in (wall.room_a, wall.room_b):
            if room_id not in rooms:
                raise InputError(f"“{room_id}” is not among the rooms", where=f"wall {wall.id}")
        for opening in wall.openings:
            id_ok(opening.id, f"openings of wall {wall.id}")
            if opening.glazing_id:
                must("glazings", opening.glazing_id, f"{opening.kind} {opening.id}")
    for slab in parts("slabs"):
        must("build_ups", slab.build_up_id, f"slab {slab.id}")
        for room_id in (slab.room_below, slab.room_above):
            if room_id not in rooms:
                raise InputError(f"“{room_id}” is not among the rooms", where=f"slab {slab.id}")
    for fabric_set in parts("fabric_sets"):
        for kind in SET_KINDS:
            if getattr(fabric_set, kind):
                must("build_ups", getattr(fabric_set, kind), f"fabric set {fabric_set.name}")
        if fabric_set.glazing:
            must("glazings", fabric_set.glazing, f"fabric set {fabric_set.name}")
    for kind in ("plan_marks", "ceiling_zones", "obstacles", "underlays", "duct_points"):
        for item in parts(kind):
            must("levels", item.level_id, f"{kind.replace('_', ' ')} {item.id}")
    for transfer in parts("transfers"):
        must("rooms", transfer.from_room, f"transfer {transfer.id}")
        must("rooms", transfer.to_room, f"transfer {transfer.id}")
    if project.segments is not getattr(sound, "segments", None):
        _each_once(project.segments)
    for segment in parts("segments"):
        must("air_systems", segment.system_id, f"segment {segment.id}")
        must("duct_points", segment.a, f"segment {segment.id}")
        must("duct_points", segment.b, f"segment {segment.id}")
    for terminal in parts("terminals"):
        must("duct_points", terminal.point_id, f"terminal {terminal.label}")
        must("rooms", terminal.room_id, f"terminal {terminal.label}")
    for box in parts("flow_boxes"):
        for room_id in box.room_ids:
            must("rooms", room_id, f"flow box {box.tag or box.id}")
    for unit in parts("room_units"):
        must("rooms", unit.room_id, f"room unit {unit.tag or unit.id}")
    for coil in parts("coils"):
        must("air_systems", coil.system_id, f"coil {coil.tag or coil.id}")
    for casing in parts("units"):
        must("air_systems", casing.id, f"unit {casing.tag or casing.id}")
        if casing.room_id:
            must("rooms", casing.room_id, f"unit {casing.tag or casing.id}")
    for system in parts("air_systems"):
        for point_id in system.roots:
            must("duct_points", point_id, f"air system {system.name}")
