"""From walls, slabs and openings to the surfaces of each room."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import glass_resistance
from garnetfin.core.fabric.ground import slab_u_value, with_soil
from garnetfin.core.fabric.layers import Layer, resistance
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import materials
from garnetfin.engine.resolve import INFILTRATION_1H
from garnetfin.engine.results import Face
from garnetfin.project.fabric import BuildUp, Glazing
from garnetfin.project.lookup import find, slabs_of, walls_of
from garnetfin.project.spaces import OUTSIDE, Opening, Room, Slab, Wall
from garnetfin.project.tree import Project

OUTER_FILM, GROUND_FILM = 25.0, 1e6
# Inside convective coefficients on a cooling day (ISO 6946 annex) [W/m2K].
HC_WALL, HC_FLOOR, HC_CEILING = 2.5, 5.0, 0.7
# Inside film resistances for U-values (ISO 6946): horizontal, upwards, downwards heat flow [m2K/W].
R_SI = {"wall": 0.13, "roof": 0.10, "floor": 0.17}
ABSORBED_FLOOR, ABSORBED_CEILING = 0.6, 0.3
ROOF_ABSORPTANCE = 0.8
DOOR_ABSORPTANCE = 0.6
BRIDGES_W_M2K = 0.05               # added to every outside face for heating; project default


@dataclass(frozen=True, slots=True)
class Surface:
    """One row of the balance: `layers` with film (None = adiabatic back) and what drives it from behind."""

    face: Face
    layers: tuple[Layer, ...]
    film: float | None
    hc: float
    behind: str                    # outdoors, air (no sun), ground, unheated, inside
    cause: str
    absorptance: float             # outside, of sun
    inside_absorptance: float
    is_floor: bool = False
    opening: Opening | None = None
    glazing: Glazing | None = None


@dataclass(frozen=True, slots=True)
class RoomFabric:
    """Surfaces of a room and the share b of the drop to outdoors that unheated neighbours make, by room id."""

    surfaces: tuple[Surface, ...]
    b_factors: tuple[tuple[str, float], ...]


@lru_cache(maxsize=512)
def core_layers(build_up: BuildUp) -> tuple[Layer, ...]:
    """Library materials filled in. Raises InputError naming a material that is not there."""
    layers = []
    for part in build_up.layers:
        if part.own:
            layers.append(Layer(part.thickness_m, part.conductivity_w_mk, part.density_kg_m3, part.specific_heat_j_kgk))
            continue
        if not part.material:
            layers.append(Layer(resistance_m2k_w=part.resistance_m2k_w))
            continue
        material = materials().get(part.material)
        if material is None:
            raise InputError(f"Material “{part.material}” is not in the library", where=f"build-up {build_up.name}")
        layers.append(Layer(part.thickness_m, part.conductivity_w_mk or material.conductivity_w_mk,
                            material.density_kg_m3, material.specific_heat_j_kgk))
    return tuple(layers)


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
        kept.append(Layer(layer.thickness_m * share, layer.conductivity_w_mk, layer.density_kg_m3,
                          layer.specific_heat_j_kgk) if not layer.resistance_m2k_w
                    else Layer(resistance_m2k_w=layer.resistance_m2k_w * share))
        wanted -= layer.resistance * share
    return tuple(kept)


def reads(project: Project, room: Room) -> tuple:
    """All parts of the tree that the fabric of a room is made from: the row's memo key."""
    walls, slabs, served = _beside(project, room)
    # An unheated neighbour's temperature hangs on what lies beside it in turn.
    unheated = tuple((n, *_beside(project, n)) for n in (find(project.rooms, i) for i, system_id in served if not system_id))
    return (room.id, walls, slabs, served, unheated, project.build_ups, project.glazings)


def _beside(project: Project, room: Room) -> tuple[tuple, tuple, tuple]:
    """Walls and slabs of a room, and which of its neighbours are served."""
    walls, slabs = walls_of(project.walls, room.id), slabs_of(project.slabs, room.id)
    ids = {w.other(room.id) for w in walls} | {s.room_below for s in slabs} | {s.room_above for s in slabs}
    neighbours = (find(project.rooms, i) for i in sorted(ids - {room.id}))
    return walls, slabs, tuple((n.id, n.system_id) for n in neighbours if n is not None)


def room_fabric(project: Project, room: Room) -> RoomFabric:
    """Surfaces of one room. Outside walls of one direction and build-up count together, less their openings."""
    surfaces: list[Surface] = []
    b_factors: dict[str, float] = {}
    gross: dict[tuple, list[Wall]] = {}
    for wall in walls_of(project.walls, room.id):
        if wall.outside:
            gross.setdefault((wall.facing_deg % 360, wall.build_up_id), []).append(wall)
        else:
            surfaces += _inside_wall(project, room, wall, b_factors)
    for (facing, build_up_id), walls in gross.items():
        opened = 0.0
        for wall in walls:
            for opening in wall.openings:
                opened += opening.area_m2
                surfaces.append(_opening(project, wall, opening))
        net = sum(w.length_m * w.height_m for w in walls) - opened
        if net <= 0:
            raise InputError(f"Openings of {opened:.1f} m² are larger than the walls that hold them",
                             where=f"room {room.number}, wall {walls[0].id}", remedy="Make windows smaller")
        surfaces.append(_outside(find(project.build_ups, build_up_id), "wall", net, facing, 90.0, walls[0].id))
    for slab in slabs_of(project.slabs, room.id):
        surfaces.append(_slab(project, room, slab, b_factors))
    return RoomFabric(tuple(surfaces), tuple(sorted(b_factors.items())))


def _outside(build_up: BuildUp, kind: str, area: float, azimuth: float, tilt: float, wall_id: str) -> Surface:
    layers = core_layers(build_up)
    u = 1 / (R_SI[kind] + resistance(layers) + 1 / OUTER_FILM)
    face = Face(kind, "outdoors", area, u, azimuth, tilt, build_up.name, wall_id)
    return Surface(face, layers, OUTER_FILM, HC_CEILING if kind == "roof" else HC_WALL, "outdoors", "walls and roofs",
                   max(build_up.absorptance, ROOF_ABSORPTANCE) if kind == "roof" else build_up.absorptance,
                   ABSORBED_CEILING if kind == "roof" else build_up.inside_absorptance)


def _opening(project: Project, wall: Wall, opening: Opening) -> Surface:
    if not opening.glazing_id:
        face = Face("door", "outdoors", opening.area_m2, opening.door_u_w_m2k, wall.facing_deg % 360, 90.0,
                    opening.kind, wall.id, opening.id)
        return Surface(face, (), 1 / (1 / opening.door_u_w_m2k - R_SI["wall"]), HC_WALL, "outdoors", "walls and roofs",
                       DOOR_ABSORPTANCE, 0.4)
    glazing = find(project.glazings, opening.glazing_id)
    face = Face(opening.kind, "outdoors", opening.area_m2, glazing.u_w_m2k, wall.facing_deg % 360, 90.0,
                glazing.name, wall.id, opening.id)
    return Surface(face, (), float(1 / glass_resistance(glazing.u_w_m2k)), HC_WALL, "air", "glass conduction", 0.0, 0.0,
                   opening=opening, glazing=glazing)


def _inside_wall(project: Project, room: Room, wall: Wall, b_factors: dict[str, float]) -> list[Surface]:
    area = wall.length_m * wall.height_m
    layers = core_layers(find(project.build_ups, wall.build_up_id))
    if wall.room_a != room.id:
        layers = layers[::-1]
    other = find(project.rooms, wall.other(room.id))
    if _takes_heat(room, other):
        return [_to_unheated(project, other, layers, area, "partition", HC_WALL, 0.4, b_factors, wall.id)]
    face = Face("partition", "inside", area, 1 / (2 * R_SI["wall"] + resistance(layers)), 0.0, 90.0,
                find(project.build_ups, wall.build_up_id).name, wall.id)
    return [Surface(face, half(layers), None, HC_WALL, "inside", "", 0.0, 0.4)]


def _takes_heat(room: Room, other: Room | None) -> bool:
    """True for an unheated neighbour of a served room. What an unheated room itself would need is nobody's load."""
    return bool(room.system_id) and other is not None and not other.system_id


def _to_unheated(project: Project, other: Room, layers: tuple[Layer, ...], area: float, kind: str, hc: float,
                 inside_absorptance: float, b_factors: dict[str, float], wall_id: str = "") -> Surface:
    b_factors[other.id] = b_factor(project, other)
    film = 1 / R_SI["wall"]
    face = Face(kind, f"unheated:{other.id}", area, 1 / (2 * R_SI["wall"] + resistance(layers)), 0.0, 90.0,
                f"to {other.name.lower()}", wall_id)
    return Surface(face, layers, film, hc, "unheated", "unheated beside", 0.0, inside_absorptance)


def _slab(project: Project, room: Room, slab: Slab, b_factors: dict[str, float]) -> Surface:
    build_up = find(project.build_ups, slab.build_up_id)
    layers = core_layers(build_up)
    if slab.kind == "roof":
        return _outside(build_up, "roof", slab.area_m2 / max(0.1, np.cos(np.radians(slab.tilt_deg))),
                        slab.azimuth_deg % 360, slab.tilt_deg, "")
    if slab.kind == "ground":
        u = slab_u_value(slab.area_m2, max(slab.perimeter_m, 1.0), resistance(layers))
        face = Face("floor", "ground", slab.area_m2, u, 0.0, 180.0, build_up.name)
        return Surface(face, with_soil(layers, u), GROUND_FILM, HC_FLOOR, "ground", "ground", 0.0, ABSORBED_FLOOR, True)
    if slab.kind == "exposed":
        u = 1 / (R_SI["floor"] + resistance(layers) + 1 / OUTER_FILM)
        face = Face("floor", "outdoors", slab.area_m2, u, 0.0, 180.0, build_up.name)
        return Surface(face, layers, OUTER_FILM, HC_FLOOR, "air", "walls and roofs", 0.0, ABSORBED_FLOOR, True)
    is_floor = slab.room_above == room.id
    kind, hc, taken = ("floor", HC_FLOOR, ABSORBED_FLOOR) if is_floor else ("ceiling", HC_CEILING, ABSORBED_CEILING)
    # Build-ups of floors run from the room above downwards.
    inward = layers if is_floor else layers[::-1]
    other = find(project.rooms, slab.room_below if is_floor else slab.room_above)
    if _takes_heat(room, other):
        surface = _to_unheated(project, other, inward, slab.area_m2, kind, hc, taken, b_factors)
        return Surface(surface.face, inward, surface.film, hc, "unheated", "unheated beside", 0.0, taken, is_floor)
    face = Face(kind, "inside", slab.area_m2, 1 / (R_SI["floor"] * 2 + resistance(layers)), 0.0,
                180.0 if is_floor else 0.0, build_up.name)
    return Surface(face, half(inward), None, hc, "inside", "", 0.0, taken, is_floor)


def b_factor(project: Project, room: Room) -> float:
    """Where an unheated room stands between inside (0) and outdoors (1), from its steady heat losses."""
    inside = outside = 0.0
    for wall in walls_of(project.walls, room.id):
        u = 1 / (2 * R_SI["wall"] + resistance(core_layers(find(project.build_ups, wall.build_up_id))))
        area = wall.length_m * wall.height_m
        if wall.room_b == OUTSIDE:
            opened = sum(o.area_m2 for o in wall.openings)
            outside += u * max(area - opened, 0.0) + sum(
                o.area_m2 * (find(project.glazings, o.glazing_id).u_w_m2k if o.glazing_id else o.door_u_w_m2k)
                for o in wall.openings)
        else:
            other = find(project.rooms, wall.other(room.id))
            inside += u * area if other is not None and other.system_id else 0.0
    for slab in slabs_of(project.slabs, room.id):
        layers = core_layers(find(project.build_ups, slab.build_up_id))
        if slab.kind == "between":
            other = find(project.rooms, slab.room_below if slab.room_above == room.id else slab.room_above)
            inside += slab.area_m2 / (0.34 + resistance(layers)) if other is not None and other.system_id else 0.0
        elif slab.kind in ("roof", "exposed"):
            outside += slab.area_m2 / (0.14 + resistance(layers))
        else:
            outside += slab.area_m2 * slab_u_value(slab.area_m2, max(slab.perimeter_m, 1.0), resistance(layers))
    outside += 0.34 * INFILTRATION_1H * area_of(room.outline) * room.ceiling_m
    return outside / (outside + inside) if inside else 1.0


def heat_loss(surface: Surface, bridges: float = BRIDGES_W_M2K) -> float:
    """A (U + bridges) [W/K] of a face to outdoors."""
    return surface.face.area_m2 * (surface.face.u_w_m2k + bridges)
