"""From walls, slabs and openings to the surfaces of each room."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from msgspec import structs

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import glass_resistance
from garnetfin.core.fabric.ground import SOIL, basement_u_values, slab_u_value, with_soil
from garnetfin.core.fabric.layers import Layer, resistance
from garnetfin.core.loads.balance import HR_USUAL
from garnetfin.core.loads.heating import AIR_WH_M3K
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import materials
from garnetfin.engine.memo import Ready, key
from garnetfin.engine.resolve import assumption, day_profiles, operation_in_force, resolve, use_in_force
from garnetfin.engine.results import Face
from garnetfin.project.book import Book
from garnetfin.project.fabric import BuildUp, Glazing
from garnetfin.project.lookup import Same, find, slabs_of, walls_of
from garnetfin.project.spaces import NO_ROOM, Opening, Room, Slab, Wall
from garnetfin.project.systems import Zone
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

OUTER_FILM, GROUND_FILM = 25.0, 1e6
# Inside convective coefficients on a cooling day (ISO 6946 annex) [W/m2K].
HC_WALL, HC_FLOOR, HC_CEILING = 2.5, 5.0, 0.7
# Inside film resistances for U-values (ISO 6946): horizontal, upwards, downwards heat flow [m2K/W].
R_SI = {"wall": 0.13, "roof": 0.10, "floor": 0.17}
# Sun taken up inside, where the build-up does not say; of light walls, floors as furnished, white ceilings.
ABSORBED = {"wall": 0.4, "floor": 0.6, "ceiling": 0.3}
DOOR_ABSORPTANCE = 0.6
UNLIKE_K = 1.0  # rooms whose set-points differ by more pass heat through their walls
# The far side of a face between rooms, by its kind: its convective film, and how sun is taken up there.
FAR_SIDE = {"partition": (HC_WALL, "wall"), "floor": (HC_CEILING, "ceiling"), "ceiling": (HC_FLOOR, "floor")}


@dataclass(frozen=True, slots=True)
class Surface:
    """One row of the balance: `layers` with film (None = adiabatic back) and what drives it from behind."""

    face: Face
    layers: tuple[Layer, ...]
    film: float | None
    hc: float
    behind: str  # outdoors, air (no sun), ground, room, inside
    cause: str
    absorptance: float  # outside, of sun
    inside_absorptance: float
    is_floor: bool = False
    opening: Opening | None = None
    glazing: Glazing | None = None
    other_id: str = ""  # the room behind it
    # of the face that looks into that room: its film, what it takes up of sun there, whether it is that room's floor
    far_hc: float = HC_WALL
    far_absorptance: float = 0.0
    far_is_floor: bool = False
    void_ua: float = 0.0  # of ceiling tiles: what lies above the void loses to outdoors [W/K]
    at: tuple[float, float, float] = (0.0, 0.0, 0.0)  # middle of a window: x, y of the plan, height above zero


@dataclass(frozen=True, slots=True)
class RoomFabric:
    """Surfaces of a room and the share b of the drop to outdoors that unheated neighbours make, by room id."""

    surfaces: tuple[Surface, ...]
    b_factors: tuple[tuple[str, float], ...]


def core_layers(build_up: BuildUp, book: Book = Book()) -> tuple[Layer, ...]:
    """Library materials filled in, up to a ventilated gap. Raises InputError naming a material that is not there."""
    return _core_layers(build_up, Same(book.materials))


@lru_cache(maxsize=1024)
def _core_layers(build_up: BuildUp, own: Same) -> tuple[Layer, ...]:
    layers = []
    for part in build_up.layers:
        if part.ventilated:
            break
        if part.own:
            layers.append(Layer(part.thickness_m, part.conductivity_w_mk, part.density_kg_m3, part.specific_heat_j_kgk))
            continue
        if not part.material:
            layers.append(Layer(resistance_m2k_w=part.resistance_m2k_w))
            continue
        material = find(own.item, part.material) or materials().get(part.material)
        if material is None:
            raise InputError(
                f"Material “{part.material}” is not in the library",
                where=f"build-up {build_up.name}",
                remedy="Choose another material for that layer",
            )
        layers.append(
            Layer(
                part.thickness_m,
                part.conductivity_w_mk or material.conductivity_w_mk,
                material.density_kg_m3,
                material.specific_heat_j_kgk,
            )
        )
    if not layers:
        raise InputError(
            "Nothing lies inside of the ventilated gap",
            where=f"build-up {build_up.name}",
            remedy="Put a layer before the gap",
        )
    return tuple(layers)


def outer_film(build_up: BuildUp) -> float:
    """Film at the far face: outdoors, or still air where the build-up ends at a ventilated gap (ISO 6946)."""
    return 1 / R_SI["wall"] if any(part.ventilated for part in build_up.layers) else OUTER_FILM


def absorbed(build_up: BuildUp, kind: str) -> float:
    """Share of the sun inside that a wall, floor or ceiling takes up [-]: the build-up's own, else the usual one."""
    return resolve(build_up.inside_absorptance, ABSORBED[kind], "usual").figure


def u_outdoors(kind: str, layers: tuple[Layer, ...], film: float = OUTER_FILM) -> float:
    """[W/m2K] of a wall, roof or floor to outdoors, with the usual films (ISO 6946)."""
    return 1 / (R_SI[kind] + resistance(layers) + 1 / film)


def u_inside(kind: str, layers: tuple[Layer, ...]) -> float:
    """[W/m2K] of a wall, roof or floor between rooms, an inside film on both sides (ISO 6946)."""
    return 1 / (2 * R_SI[kind] + resistance(layers))


def set_points(room: Room, zone: Zone | None, book: Book) -> tuple[float, float]:
    """(cooling, heating) set-points in force [degC], without all else that room_figures resolves."""
    return _set_points(Same(room), Same(zone), Same(book))


@lru_cache(maxsize=8192)
def _set_points(room: Same, zone: Same, book: Same) -> tuple[float, float]:
    use = use_in_force(book.item, room.item.use_id)

    def one(name: str) -> float:
        given = getattr(zone.item, name) if zone.item is not None else Rule()
        return resolve(
            getattr(room.item, name), getattr(use, name) if isinstance(given, Rule) else given.value, ""
        ).figure

    return one("cooling_c"), one("heating_c")


@dataclass(frozen=True, slots=True)
class KeptAs:
    """How a served room is kept: set-points [degC] and what the hours of its plant are made from."""

    cooling_c: float
    heating_c: float
    hours: tuple[Any, ...]

    def unlike(self, other: "KeptAs") -> bool:
        """Whether heat passes between the two."""
        if self is other:
            return False
        apart = max(abs(self.cooling_c - other.cooling_c), abs(self.heating_c - other.heating_c))
        return apart > UNLIKE_K or self.hours != other.hours


def kept_as(project: Project, room: Room) -> KeptAs:
    """How a served room is kept, without all else that room_figures resolves."""
    zone, system = find(project.zones, room.zone_id), find(project.air_systems, room.system_id)
    return _kept_as(Same(room), Same(zone), Same(system.operation if system is not None else None), Same(project.book))


@lru_cache(maxsize=8192)
def _kept_as(room: Same, zone: Same, operation: Same, book: Same) -> KeptAs:
    plant = operation_in_force(zone.item, operation.item)
    hours: tuple[Any, ...] = (plant.mode,)
    if plant.mode != "always":
        profile = day_profiles(book.item, room.item.profile_id or use_in_force(book.item, room.item.use_id).profile)
        hours = (structs.astuple(plant), profile.summer.tobytes(), profile.winter.tobytes())
    return KeptAs(*_set_points(room, zone, book), hours)


def alike(project: Project, one: Room, other: Room) -> bool:
    """Whether two rooms are kept so much alike that no heat passes between them: both by plant, at the same
    set-points, at the same hours.
    """
    return _alike(*(kept_as(project, room) if room.kept else None for room in (one, other)))


def _alike(one: KeptAs | None, other: KeptAs | None) -> bool:
    return one is not None and other is not None and not one.unlike(other)


@lru_cache(maxsize=1024)
def half(layers: tuple[Layer, ...], from_inside: bool = True) -> tuple[Layer, ...]:
    """The half of a build-up next to the room, by resistance; alike rooms on both sides meet at its middle."""
    if not from_inside:
        layers = layers[::-1]
    wanted, kept = resistance(layers) / 2, []
    for layer in layers:
        share = min(1.0, wanted / layer.resistance)
        if share <= 1e-9:
            break
        kept.append(
            Layer(layer.thickness_m * share, layer.conductivity_w_mk, layer.density_kg_m3, layer.specific_heat_j_kgk)
            if not layer.resistance_m2k_w
            else Layer(resistance_m2k_w=layer.resistance_m2k_w * share)
        )
        wanted -= layer.resistance * share
    return tuple(kept)


class Reads:
    """What the fabric of each room is made from, as parts of memo keys; looked up once for all rooms of a project."""

    def __init__(self, project: Project) -> None:
        walls, slabs = Same(project.walls), Same(project.slabs)
        self._faces, self.ids = _face_keys(walls, slabs), _neighbour_ids(walls, slabs)
        self._common = Ready((Same(project.build_ups), Same(project.glazings), Same(project.book)))
        served = {room.id: room.kept for room in project.rooms}
        self._beside: dict[str, Ready] = {}
        as_kept: dict[str, KeptAs | None] = {}
        for room in project.rooms:
            as_kept[room.id] = kept = kept_as(project, room) if room.kept else None
            if kept is not None:
                self._beside[room.id] = Ready((room.id, kept.cooling_c, kept.heating_c, kept.hours))
            else:
                # An unheated room's drift hangs on its own faces and on which rooms beside it have plant.
                theirs = tuple((i, served[i]) for i in self.ids.get(room.id, ()) if i in served)
                self._beside[room.id] = Ready((room.id, self._faces.get(room.id), theirs, Same(room)))

        # ids of the rooms that each room passes heat to
        self.open_to = {
            i: tuple(o for o in self.ids.get(i, ()) if o in as_kept and not _alike(kept, as_kept[o]))
            for i, kept in as_kept.items()
        }

    def of(self, room: Room) -> Ready:
        beside = self._beside
        return Ready(
            (
                room.id,
                self._faces.get(room.id),
                tuple(beside[i] for i in self.ids.get(room.id, ()) if i in beside),
                self._common,
            )
        )


def face_keys(project: Project) -> dict[str, Ready]:
    """Walls and slabs of each room, by its id, as part of a memo key."""
    return _face_keys(Same(project.walls), Same(project.slabs))


@lru_cache(maxsize=16)
def _face_keys(walls: Same, slabs: Same) -> dict[str, Ready]:
    """Walls and slabs of each room as part of a key, made once for as long as no wall or slab moves."""
    ids = {i for w in walls.item for i in (w.room_a, w.room_b)} | {
        i for s in slabs.item for i in (s.room_below, s.room_above)
    }
    return {i: Ready((key(walls_of(walls.item, i)), key(slabs_of(slabs.item, i)))) for i in ids - NO_ROOM}


@lru_cache(maxsize=16)
def _neighbour_ids(walls: Same, slabs: Same) -> dict[str, tuple[str, ...]]:
    found: dict[str, set[str]] = {}
    for pair in (*((w.room_a, w.room_b) for w in walls.item), *((s.room_below, s.room_above) for s in slabs.item)):
        for one, other in (pair, pair[::-1]):
            if one not in NO_ROOM and other not in NO_ROOM:
                found.setdefault(one, set()).add(other)
    return {i: tuple(sorted(others - {i})) for i, others in found.items()}


def neighbour_ids(project: Project, room_id: str) -> tuple[str, ...]:
    """Ids of what lies behind the walls and slabs of a room."""
    return _neighbour_ids(Same(project.walls), Same(project.slabs)).get(room_id, ())


def neighbours(project: Project, room: Room) -> tuple[Room, ...]:
    """Rooms behind a wall or slab of this one, in the order of their ids."""
    found = (find(project.rooms, i) for i in neighbour_ids(project, room.id))
    return tuple(n for n in found if n is not None)


def room_fabric(project: Project, room: Room) -> RoomFabric:
    """Surfaces of one room. Outside walls of one direction and build-up count together, less their openings."""
    surfaces: list[Surface] = []
    b_factors: dict[str, float] = {}
    gross: dict[tuple[Any, ...], list[Wall]] = {}
    for wall in walls_of(project.walls, room.id):
        if wall.outside:
            gross.setdefault((wall.facing_deg % 360, wall.build_up_id, wall.buried_m > 0), []).append(wall)
        else:
            surfaces += _inside_wall(project, room, wall, b_factors)
    for (facing, build_up_id, buried), walls in gross.items():
        opened = 0.0
        for wall in walls:
            for opening in wall.openings:
                opened += opening.area_m2
                surfaces.append(_opening(project, wall, opening))
        below = sum(w.length_m * w.buried_m for w in walls)
        net = sum(w.length_m * w.height_m for w in walls) - opened - below
        if net < 0 or (net == 0 and not below):
            raise InputError(
                f"Openings of {opened:.1f} m² are larger than the walls that hold them",
                where=f"room {room.number}, wall {walls[0].id}",
                remedy="Make windows smaller",
            )
        build_up = find(project.build_ups, build_up_id)
        if net > 1e-6:
            surfaces.append(_outside(build_up, project.book, "wall", net, facing, 90.0, walls[0].id))
        if buried:
            surfaces.append(_buried(project, room, build_up, walls, below))
    for slab in slabs_of(project.slabs, room.id):
        surfaces.append(_slab(project, room, slab, b_factors))
    return RoomFabric(tuple(surfaces), tuple(sorted(b_factors.items())))


def _outside(
    build_up: BuildUp, book: Book, kind: str, area: float, azimuth: float, tilt: float, wall_id: str
) -> Surface:
    layers, film = core_layers(build_up, book), outer_film(build_up)
    u = u_outdoors(kind, layers, film)
    face = Face(kind, "outdoors", area, u, azimuth, tilt, build_up.name, wall_id)
    return Surface(
        face,
        layers,
        film,
        HC_CEILING if kind == "roof" else HC_WALL,
        "outdoors" if film == OUTER_FILM else "air",
        "roofs" if kind == "roof" else "walls",
        build_up.absorptance,
        absorbed(build_up, "ceiling" if kind == "roof" else "wall"),
    )


def _buried(project: Project, room: Room, build_up: BuildUp, walls: list[Wall], area: float) -> Surface:
    """The part of walls that stands against earth, as a basement's wall (ISO 13370)."""
    layers = core_layers(build_up, project.book)
    depth = max(w.buried_m for w in walls)
    floor = area_of(room.outline)
    _, u = basement_u_values(floor, max(sum(w.length_m for w in walls), 1.0), depth, 1.0, resistance(layers))
    rest = 1 / u - R_SI["wall"] - resistance(layers) - SOIL.resistance
    soil = (*layers, SOIL, Layer(resistance_m2k_w=rest)) if rest > 1e-6 else (*layers, SOIL)
    face = Face("wall", "ground", area, u, 0.0, 90.0, f"{build_up.name}, in the ground", walls[0].id)
    return Surface(face, soil, GROUND_FILM, HC_WALL, "ground", "floors", 0.0, absorbed(build_up, "wall"))


def _opening(project: Project, wall: Wall, opening: Opening) -> Surface:
    if not opening.glazing_id:
        face = Face(
            "door",
            "outdoors",
            opening.area_m2,
            opening.door_u_w_m2k,
            wall.facing_deg % 360,
            90.0,
            opening.kind,
            wall.id,
            opening.id,
        )
        return Surface(
            face, (), 1 / (1 / opening.door_u_w_m2k - R_SI["wall"]), HC_WALL, "outdoors", "walls", DOOR_ABSORPTANCE, 0.4
        )
    glazing = find(project.glazings, opening.glazing_id)
    face = Face(
        opening.kind,
        "outdoors",
        opening.area_m2,
        glazing.u_w_m2k,
        wall.facing_deg % 360,
        90.0,
        glazing.name,
        wall.id,
        opening.id,
    )
    share = min(1.0, max(0.0, opening.at_m / wall.length_m))
    level = find(project.levels, wall.level_id)
    middle = (
        wall.start[0] + share * (wall.end[0] - wall.start[0]),
        wall.start[1] + share * (wall.end[1] - wall.start[1]),
        (level.elevation_m if level else 0.0) + (opening.sill_m + opening.head_m) / 2,
    )
    return Surface(
        face,
        (),
        float(1 / glass_resistance(glazing.u_w_m2k)),
        HC_WALL,
        "air",
        "conduction through glass",
        0.0,
        0.0,
        opening=opening,
        glazing=glazing,
        at=middle,
    )


def _inside_wall(project: Project, room: Room, wall: Wall, b_factors: dict[str, float]) -> list[Surface]:
    area = wall.length_m * wall.height_m
    build_up = find(project.build_ups, wall.build_up_id)
    layers = core_layers(build_up, project.book)
    if wall.room_a != room.id:
        layers = layers[::-1]
    other = find(project.rooms, wall.other(room.id))
    found = _beside(project, room, other, build_up, layers, area, "partition", b_factors, wall.id)
    if found is not None:
        return [found]
    face = Face("partition", "inside", area, u_inside("wall", layers), 0.0, 90.0, build_up.name, wall.id)
    return [Surface(face, half(layers), None, HC_WALL, "inside", "", 0.0, absorbed(build_up, "wall"))]


def _beside(
    project: Project,
    room: Room,
    other: Room | None,
    build_up: BuildUp,
    layers: tuple[Layer, ...],
    area: float,
    kind: str,
    b_factors: dict[str, float],
    wall_id: str = "",
) -> Surface | None:
    """The face to a room that is not kept as this one is: unheated, at another set-point, or at other hours.

    None between rooms alike. `layers` run from this room outwards.
    """
    if other is None or alike(project, room, other):
        return None
    if other.kept:
        to, name, cause = f"room:{other.id}", f"to {other.number} {other.name.lower()}", "adjacent rooms"
    else:
        if room.kept:
            b_factors[other.id] = b_factor(project, other)
        to, name, cause = f"unheated:{other.id}", f"to {other.name.lower()}", "unheated spaces"
    face = Face(kind, to, area, u_inside("wall", layers), 0.0, 90.0, name, wall_id)
    own = "wall" if kind == "partition" else kind
    hc = {"wall": HC_WALL, "floor": HC_FLOOR, "ceiling": HC_CEILING}[own]
    far_hc, far = FAR_SIDE[kind]
    return Surface(
        face,
        layers,
        far_hc + HR_USUAL,
        hc,
        "room",
        cause,
        0.0,
        absorbed(build_up, own),
        other_id=other.id,
        far_hc=far_hc,
        far_absorptance=absorbed(build_up, far),
        far_is_floor=far == "floor",
    )


def _slab(project: Project, room: Room, slab: Slab, b_factors: dict[str, float]) -> Surface:
    build_up = find(project.build_ups, slab.build_up_id)
    layers = core_layers(build_up, project.book)
    if slab.kind == "roof":
        return _outside(
            build_up,
            project.book,
            "roof",
            slab.area_m2 / max(0.1, np.cos(np.radians(slab.tilt_deg))),
            slab.azimuth_deg % 360,
            slab.tilt_deg,
            "",
        )
    if slab.kind == "ground":
        u = ground_u_value(project, room, slab, resistance(layers))
        face = Face("floor", "ground", slab.area_m2, u, 0.0, 180.0, build_up.name)
        return Surface(
            face,
            with_soil(layers, u),
            GROUND_FILM,
            HC_FLOOR,
            "ground",
            "floors",
            0.0,
            absorbed(build_up, "floor"),
            True,
        )
    if slab.kind == "exposed":
        u = u_outdoors("floor", layers)
        face = Face("floor", "outdoors", slab.area_m2, u, 0.0, 180.0, build_up.name)
        return Surface(face, layers, OUTER_FILM, HC_FLOOR, "air", "floors", 0.0, absorbed(build_up, "floor"), True)
    is_floor = slab.room_above == room.id
    kind, hc = ("floor", HC_FLOOR) if is_floor else ("ceiling", HC_CEILING)
    taken = absorbed(build_up, kind)
    # Build-ups of floors run from the room above downwards.
    inward = layers if is_floor else layers[::-1]
    other = find(project.rooms, slab.room_below if is_floor else slab.room_above)
    found = _beside(project, room, other, build_up, inward, slab.area_m2, kind, b_factors)
    if found is not None:
        return replace(found, is_floor=is_floor)
    face = Face(kind, "inside", slab.area_m2, u_inside("floor", layers), 0.0, 180.0 if is_floor else 0.0, build_up.name)
    return Surface(face, half(inward), None, hc, "inside", "", 0.0, taken, is_floor)


def ground_u_value(project: Project, room: Room, slab: Slab, floor_resistance: float) -> float:
    """Of a floor on the ground, as a basement's where the room's outside walls stand against earth (ISO 13370)."""
    depth = max((w.buried_m for w in walls_of(project.walls, room.id) if w.outside), default=0.0)
    if depth > 0:
        return basement_u_values(slab.area_m2, max(slab.perimeter_m, 1.0), depth, floor_resistance, 1.0)[0]
    return slab_u_value(slab.area_m2, max(slab.perimeter_m, 1.0), floor_resistance)


def b_factor(project: Project, room: Room) -> float:
    """Where an unheated room stands between inside (0) and outdoors (1), from its steady heat losses."""
    inside, outside = losses(project, room)
    return outside / (outside + inside) if inside else 1.0


def losses(project: Project, room: Room) -> tuple[float, float]:
    """Steady heat losses of an unheated room to served rooms and to outdoors and ground [W/K]: its faces, and the air
    that leaks.
    """
    inside = outside = 0.0
    for surface in room_fabric(project, room).surfaces:
        ua = surface.face.area_m2 * surface.face.u_w_m2k
        if surface.face.to in ("outdoors", "ground"):
            outside += ua
        elif surface.face.to.startswith("room:"):
            inside += ua
    leak = assumption(project.book, "infiltration_1h").figure
    return float(inside), float(outside + AIR_WH_M3K * leak * area_of(room.outline) * room.ceiling_m)
