"""What an importer understood of a file: parts as the project knows them, and notes for the engineer.

A draft is no project: it is looked at, chosen from, and taken over by one command.
"""

from collections import Counter
from collections.abc import Mapping
from typing import Literal

from msgspec import structs

from garnetfin.core.errors import InputError
from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.spaces import NO_ROOM, Level, Obstacle, Opening, PlanMark, Room, Slab, Wall
from garnetfin.project.systems import Zone
from garnetfin.project.values import Node, Point, within

MOST_NOTES = 400
NoteKind = Literal["found", "missing", "assumed", "left out"]


class Note(Node, frozen=True):
    """Something found, missing, assumed or left out, and where."""

    kind: NoteKind
    text: str
    where: str = ""


class Asked(Node, frozen=True):
    """A figure that the file lacks and nothing tells: the conductivity of a material.

    places      (build-up, number of the layer) where it lies
    suggestion  what the library has for a name like it, None where nothing is alike
    """

    key: str
    name: str
    thickness_m: float
    places: tuple[tuple[str, int], ...] = ()
    density_kg_m3: float = 0.0
    specific_heat_j_kgk: float = 0.0
    suggestion: float | None = None
    source: str = ""

    def layer(self, conductivity_w_mk: float) -> BuildUpLayer:
        """The layer with a conductivity; with its mass where the file gives that."""
        if self.density_kg_m3 >= 0.5 and self.specific_heat_j_kgk >= 50:
            return BuildUpLayer(
                name=self.name[:60],
                thickness_m=self.thickness_m,
                conductivity_w_mk=conductivity_w_mk,
                density_kg_m3=self.density_kg_m3,
                specific_heat_j_kgk=self.specific_heat_j_kgk,
            )
        return BuildUpLayer(name=self.name[:60], resistance_m2k_w=max(self.thickness_m / conductivity_w_mk, 1e-3))


class LooseOpening(Node, frozen=True):
    """An opening known by its middle in plan; it goes to the nearest wall once walls are derived."""

    opening: Opening
    level_id: str
    at: Point
    room_id: str = ""  # when the file says whose it is


class Reference(Node, frozen=True):
    """Something that others draw and that ducts have to clear; `group` is its class and layer."""

    group: str
    obstacle: Obstacle


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
    asked: tuple[Asked, ...] = ()
    references: tuple[Reference, ...] = ()
    marks: tuple[PlanMark, ...] = ()  # shafts
    altitude_m: float | None = None
    notes: tuple[Note, ...] = ()

    def __post_init__(self) -> None:
        if self.north_deg is not None:
            within(self.north_deg, -360, 360, "North", self.source, "°")
        if self.latitude_deg is not None:
            within(self.latitude_deg, -90, 90, "Latitude", self.source, "°")
        if self.longitude_deg is not None:
            within(self.longitude_deg, -180, 180, "Longitude", self.source, "°")


def groups_of(draft: Draft) -> dict[str, int]:
    """How many things of each class and layer others draw, the most first."""
    return dict(Counter(r.group for r in draft.references).most_common())


def answered(draft: Draft, conductivity: Mapping[str, float]) -> Draft:
    """The draft with conductivities [W/mK] given for what it asked about, by key.

    Raises InputError for one that is not between 0.001 and 500.
    """
    left, notes = [], list(draft.notes)
    layers = {b.id: list(b.layers) for b in draft.build_ups}
    for asked in draft.asked:
        k = conductivity.get(asked.key)
        if k is None:
            left.append(asked)
            continue
        within(k, 0.001, 500, "Conductivity", asked.name, "W/mK")
        for build_up_id, i in asked.places:
            if build_up_id in layers:
                layers[build_up_id][i] = asked.layer(k)
        notes.append(Note(kind="assumed", text=f"conductivity of {asked.name}: {k:g} W/mK"))
    build_ups = tuple(structs.replace(b, layers=tuple(layers[b.id])) for b in draft.build_ups)
    return structs.replace(draft, build_ups=build_ups, asked=tuple(left), notes=tuple(notes[-MOST_NOTES:]))


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
    for mark in draft.marks:
        must(mark.level_id in known["levels"], f"The level of {mark.kind} {mark.id}")
    for reference in draft.references:
        must(reference.obstacle.level_id in known["levels"], f"The level of {reference.obstacle.kind}")
    for loose in draft.openings:
        must(loose.level_id in known["levels"], f"The level of opening {loose.opening.id}")
        must(
            not loose.opening.glazing_id or loose.opening.glazing_id in known["glazings"],
            f"Glazing of {loose.opening.id}",
        )
    return draft
