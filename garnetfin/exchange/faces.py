"""From polygons in space, as files give them, to walls, openings and slabs of the project."""

from dataclasses import dataclass, field
from math import atan2, degrees, hypot

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import inside
from garnetfin.project.draft import Note
from garnetfin.project.spaces import INSIDE, OUTSIDE, SHAFT, Level, Opening, Room, Slab, Wall

FLAT_BELOW = 45.0  # a face tilted less is a roof or floor, else a wall
STEEPEST_ROOF = 85.0  # that is called one stays one
LEAST_M2 = 0.01
SHORTEST_M = 0.02


@dataclass(frozen=True, slots=True)
class RawOpening:
    id: str
    kind: str  # window, glass wall, door, outside door
    points: NDArray  # (n, 3) [m]
    glazing_id: str = ""
    door_u_w_m2k: float = 1.8


@dataclass(frozen=True, slots=True)
class RawFace:
    """A polygon (n, 3) [m] whose normal points away from the first of its one or two rooms."""

    id: str
    points: NDArray
    rooms: tuple[str, ...]
    build_up_id: str
    ground: bool = False  # the file says it lies on or in the ground
    thickness_m: float = 0.0
    perimeter_m: float = 0.0  # exposed edge of a floor on the ground, when the file says
    openings: tuple[RawOpening, ...] = ()
    roof: bool = False  # the file calls it a roof, however steep


@dataclass(slots=True)
class Faces:
    walls: list[Wall] = field(default_factory=list)
    slabs: list[Slab] = field(default_factory=list)
    notes: list[Note] = field(default_factory=list)


def area_vector(points: NDArray) -> NDArray:
    """Newell's vector: along the normal, as long as the area of the polygon [m2]."""
    return np.cross(points, np.roll(points, -1, axis=0)).sum(axis=0) / 2


def build_faces(
    raws: list[RawFace], rooms: list[Room], levels: list[Level], north_deg: float, thickness: dict[str, float]
) -> Faces:
    """Walls and slabs of the polygons; what cannot be used is noted with its reason, the rest goes on."""
    made = Faces()
    by_id = {r.id: r for r in rooms}
    base = {r.id: next(x.elevation_m for x in levels if x.id == r.level_id) for r in rooms}
    flat: dict[tuple, list] = {}
    for raw in raws:
        sides = [r for r in dict.fromkeys(raw.rooms) if r in by_id]
        if not sides:
            continue
        if not np.isfinite(raw.points).all() or len(raw.points) < 3:
            made.notes.append(Note(kind="left out", text="a face without a shape", where=raw.id))
            continue
        vector = area_vector(raw.points)
        area = float(np.linalg.norm(vector))
        if area < LEAST_M2:
            made.notes.append(Note(kind="left out", text=f"a face of {area:.3f} m²", where=raw.id))
            continue
        tilt = degrees(atan2(hypot(vector[0], vector[1]), abs(vector[2])))
        try:
            if tilt < FLAT_BELOW or (raw.roof and tilt < STEEPEST_ROOF):
                _flat(raw, sides, base, vector, area, tilt, north_deg, flat, made)
            else:
                made.walls.append(_wall(raw, sides, by_id, levels, vector, area, north_deg, thickness, made))
        except InputError as error:
            made.notes.append(Note(kind="left out", text=str(error), where=raw.id))
    for (kind, below, above, build_up, tilt, azimuth), (area, face_id, edge) in flat.items():
        made.slabs.append(
            Slab(
                id=face_id,
                kind=kind,
                room_below=below,
                room_above=above,
                area_m2=area,
                build_up_id=build_up,
                tilt_deg=tilt,
                azimuth_deg=azimuth,
                perimeter_m=edge if kind == "ground" else 0.0,
            )
        )
    return made


def _flat(
    raw: RawFace,
    sides: list[str],
    base: dict[str, float],
    vector: NDArray,
    area: float,
    tilt: float,
    north: float,
    flat: dict,
    made: Faces,
) -> None:
    """Roofs and floors; alike faces between the same rooms count together."""
    z = float(raw.points[:, 2].mean())
    tilt = 0.0 if tilt < 1.0 else round(tilt, 3)
    azimuth = (
        180.0
        if not tilt
        else round((degrees(atan2(vector[0], vector[1])) + (180 if vector[2] < 0 else 0) + north) % 360, 3)
    )
    room = sides[0]
    if len(raw.rooms) == 2:  # a second room that was left out still is no outdoors
        other = sides[1] if len(sides) == 2 else INSIDE
        lower, upper = (
            (room, other)
            if base[room] < base.get(other, z) or (other == INSIDE and z > base[room] + 0.5)
            else (other, room)
        )
        key = ("between", lower, upper, raw.build_up_id, 0.0, 180.0)
        plan = area
    elif z > base[room] + 0.5:
        key, plan = ("roof", room, OUTSIDE, raw.build_up_id, tilt, azimuth), abs(float(vector[2]))
    else:
        kind = "ground" if raw.ground or z < min(base.values()) + 0.5 else "exposed"
        key, plan = (kind, OUTSIDE, room, raw.build_up_id, 0.0, 180.0), area
    if raw.openings:
        glass = sum(float(np.linalg.norm(area_vector(o.points))) for o in raw.openings)
        made.notes.append(Note(kind="left out", text=f"{glass:.1f} m² of roof light, taken as roof", where=raw.id))
    had = flat.get(key, (0.0, raw.id, 0.0))
    flat[key] = (had[0] + plan, had[1], had[2] + raw.perimeter_m)


def _wall(
    raw: RawFace,
    sides: list[str],
    rooms: dict[str, Room],
    levels: list[Level],
    vector: NDArray,
    area: float,
    north: float,
    thickness: dict[str, float],
    made: Faces,
) -> Wall:
    """A wall as long as the polygon is wide in plan, and as high as its area asks for."""
    nx, ny = float(vector[0]), float(vector[1])
    span = hypot(nx, ny)
    nx, ny = nx / span, ny / span
    middle = raw.points.mean(axis=0)
    room = rooms[sides[0]]
    # Files turn normals either way; outward is where the room is not.
    if inside(room.outline, (middle[0] + nx * 0.15, middle[1] + ny * 0.15)) and not inside(
        room.outline, (middle[0] - nx * 0.15, middle[1] - ny * 0.15)
    ):
        nx, ny = -nx, -ny
    u = np.array([-ny, nx])
    places = raw.points[:, :2] @ u
    low, high = float(places.min()), float(places.max())
    if high - low < SHORTEST_M:
        raise InputError(f"a wall of {high - low:.3f} m")
    depth = float(middle[:2] @ np.array([nx, ny]))
    start = np.array([nx, ny]) * depth + u * low
    end = np.array([nx, ny]) * depth + u * high
    bottom = float(raw.points[:, 2].min())
    level = _level_of(levels, bottom)
    hidden = SHAFT if SHAFT in raw.rooms else INSIDE
    other = sides[1] if len(sides) == 2 else hidden if len(raw.rooms) == 2 else OUTSIDE
    openings = tuple(o for o in (_opening(x, u, low, high, bottom, level, made) for x in raw.openings) if o is not None)
    height = area / (high - low)
    buried = round(height, 9) if raw.ground and other == OUTSIDE else 0.0
    return Wall(
        id=raw.id,
        level_id=level.id,
        start=_point(start),
        end=_point(end),
        room_a=sides[0],
        room_b=other,
        thickness_m=raw.thickness_m or thickness.get(raw.build_up_id) or 0.2,
        height_m=height,
        buried_m=min(buried, height),
        build_up_id=raw.build_up_id,
        facing_deg=round((degrees(atan2(nx, ny)) + north) % 360, 3) if other == OUTSIDE else 0.0,
        openings=openings,
    )


def _opening(
    raw: RawOpening, u: NDArray, low: float, high: float, bottom: float, level: Level, made: Faces
) -> Opening | None:
    if not np.isfinite(raw.points).all() or len(raw.points) < 3:
        made.notes.append(Note(kind="left out", text="an opening without a shape", where=raw.id))
        return None
    area = float(np.linalg.norm(area_vector(raw.points)))
    places = raw.points[:, :2] @ u
    left, right = max(low, float(places.min())), min(high, float(places.max()))
    z0, z1 = float(raw.points[:, 2].min()), float(raw.points[:, 2].max())
    if area < LEAST_M2 or right - left < 0.05 or z1 - z0 < 0.05:
        made.notes.append(Note(kind="left out", text=f"an opening of {area:.3f} m²", where=raw.id))
        return None
    # The area counts: an arched window becomes a rectangle of its height.
    width = min(area / (z1 - z0), right - left)
    sill = z0 - (bottom if bottom > level.elevation_m + level.storey_m * 0.5 else level.elevation_m)
    sill = min(max(sill, -1.0), 100.0)
    return Opening(
        id=raw.id,
        kind=raw.kind,
        at_m=round((left + right) / 2 - low, 6),
        width_m=round(width, 9),
        sill_m=round(sill, 9),
        head_m=round(sill + area / width, 9),
        glazing_id=raw.glazing_id,
        door_u_w_m2k=raw.door_u_w_m2k,
    )


def _level_of(levels: list[Level], z: float) -> Level:
    under = [x for x in levels if x.elevation_m <= z + 0.6]
    return max(under, key=lambda x: x.elevation_m) if under else min(levels, key=lambda x: x.elevation_m)


def _point(p: NDArray) -> tuple[float, float]:
    return round(float(p[0]), 9), round(float(p[1]), 9)


def floor_outline(polygons: list[NDArray]) -> tuple | None:
    """The outline (x, y) around floor polygons (n, 3); the greatest piece, its holes filled.

    None without a usable area.
    """
    from shapely import Polygon, unary_union

    from garnetfin.core.outlines import tidy

    shapes = []
    for points in polygons:
        if len(points) >= 3 and np.isfinite(points).all():
            shape = Polygon(points[:, :2]).buffer(0)
            if shape.area > 1e-4:
                shapes.append(shape)
    if not shapes:
        return None
    whole = unary_union(shapes).buffer(0.005, join_style="mitre").buffer(-0.005, join_style="mitre")
    greatest = max(getattr(whole, "geoms", [whole]), key=lambda g: g.area, default=None)
    if greatest is None or greatest.is_empty or greatest.area < 0.2:
        return None
    outline = tidy(list(greatest.exterior.simplify(0.002).coords))
    return outline if len(outline) >= 3 else None
