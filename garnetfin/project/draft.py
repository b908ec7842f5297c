"""What an importer understood of a file: parts as the project knows them, and notes for the engineer.

A draft is no project: it is looked at, chosen from, and taken over by one command.
"""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.project.fabric import BuildUp, Glazing
from garnetfin.project.spaces import NO_ROOM, Level, Opening, Room, Slab, Wall
from garnetfin.project.systems import Zone
from garnetfin.project.values import Node, Point, within

MOST_NOTES = 400


class Note(Node, frozen=True):
    """Something found, missing, assumed or left out, and where."""

    kind: Literal["found", "missing", "assumed", "left out"]
    text: str
    where: str = ""


class LooseOpening(Node, frozen=True):
    """An opening known by its middle in plan; it goes to the nearest wall once walls are derived."""

    opening: Opening
    level_id: str
    at: Point
    room_id: str = ""  # when the file says whose it is


class Draft(Node, frozen=True):
    """Rooms and faces read from one source. Ids are the file's own; a room with a system_id is heated or cooled there.

    derive      walls and slabs follow from the outlines; else they are given
    updates     ids of rooms that are known by their number: they keep place, outline and faces
    """

    source: str
    name: str = ""
    north_deg: float | None = None  # bearing of the file's y axis
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    levels: tuple[Level, ...] = ()
    rooms: tuple[Room, ...] = ()
    walls: tuple[Wall, ...] = ()
    slabs: tuple[Slab, ...] = ()
    build_ups: tuple[BuildUp, ...] = ()
    glazings: tuple[Glazing, ...] = ()
    zones: tuple[Zone, ...] = ()
    openings: tuple[LooseOpening, ...] = ()
    outside_build_up: str = ""  # for derived walls, when the file says
    inside_build_up: str = ""
    derive: bool = False
    updates: tuple[str, ...] = ()
    notes: tuple[Note, ...] = ()

    def __post_init__(self) -> None:
        if self.north_deg is not None:
            within(self.north_deg, -360, 360, "North", self.source, "°")
        if self.latitude_deg is not None:
            within(self.latitude_deg, -90, 90, "Latitude", self.source, "°")
        if self.longitude_deg is not None:
            within(self.longitude_deg, -180, 180, "Longitude", self.source, "°")


def check_draft(draft: Draft) -> Draft:
    """The draft, if every id leads somewhere and none is used twice; raises InputError else."""
    known = {}
    for kind in ("levels", "rooms", "walls", "slabs", "build_ups", "glazings", "zones"):
        items = getattr(draft, kind)
        known[kind] = {x.id for x in items}
        if len(known[kind]) != len(items):
            raise InputError(f"Two {kind.replace('_', ' ')} have the same id", where=draft.source)

    def must(there: bool, what: str) -> None:
        if not there:
            raise InputError(f"{what} leads nowhere", where=draft.source)

    for room in draft.rooms:
        must(room.level_id in known["levels"], f"The level of room {room.number}")
        must(not room.zone_id or room.zone_id in known["zones"], f"The zone of room {room.number}")
    rooms = known["rooms"] | NO_ROOM
    for wall in draft.walls:
        must(wall.level_id in known["levels"] and wall.build_up_id in known["build_ups"], f"Wall {wall.id}")
        must(wall.room_a in known["rooms"] and wall.room_b in rooms, f"A side of wall {wall.id}")
        must(
            all(not o.glazing_id or o.glazing_id in known["glazings"] for o in wall.openings),
            f"Glazing in wall {wall.id}",
        )
    for slab in draft.slabs:
        must(slab.build_up_id in known["build_ups"] and {slab.room_below, slab.room_above} <= rooms, f"Slab {slab.id}")
    for loose in draft.openings:
        must(loose.level_id in known["levels"], f"The level of opening {loose.opening.id}")
        must(
            not loose.opening.glazing_id or loose.opening.glazing_id in known["glazings"],
            f"Glazing of {loose.opening.id}",
        )
    return draft
