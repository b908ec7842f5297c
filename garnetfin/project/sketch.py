"""Faces of rooms that are known by figures alone: a list says how long outside walls are, not where they stand."""

from typing import Any

from garnetfin.core.errors import InputError
from garnetfin.project.derive import OUTER_M, usual_build_up
from garnetfin.project.spaces import INSIDE, OUTSIDE, Opening, Room, Slab, Wall
from garnetfin.project.tree import Project


def sketch_faces(
    room: Room,
    sides: dict[float, tuple[float, float]],
    roof_m2: float,
    ground_m2: float,
    height_m: float,
    build_ups: tuple[str, str, str, str, str],
    glazing_id: str,
) -> tuple[list[Wall], list[Slab]]:
    """Faces of a room that is known by figures alone.

    sides       outward bearing [deg] -> (wall length [m], glass area [m2])
    build_ups   ids of outside wall, partition, roof, floor on ground, floor between
    What is not said to be outside borders on rooms alike. Raises InputError where glass is larger than its wall.
    """
    outer, inner, roof, ground, between = build_ups
    xs, ys = [p[0] for p in room.outline], [p[1] for p in room.outline]
    x0, y0, x1, y1 = min(xs), min(ys), max(xs), max(ys)
    walls, taken = [], 0.0
    for k, (facing, (length, glass)) in enumerate(sorted(sides.items())):
        if glass > 0.95 * length * height_m:
            raise InputError(
                f"Glass of {glass:.1f} m² is larger than its wall of {length * height_m:.1f} m²",
                where=f"room {room.number}",
                remedy="Check the glass area or the wall length",
            )
        start, end = _side(facing, length, x0, y0, x1, y1, taken if facing % 90 else 0.0)
        openings = ()
        if glass > 0:
            sill = 0.9 if glass < length * (height_m - 1.3) * 0.95 else 0.02
            high = min(height_m - 0.02, max(sill + 0.3, 2.4 if sill > 0.1 else height_m - 0.02))
            width = min(glass / (high - sill), length - 0.02)
            high = sill + glass / width
            openings = (
                Opening(
                    id=f"{room.id}-{k}",
                    kind="window" if sill > 0.1 else "glass wall",
                    at_m=length / 2,
                    width_m=width,
                    sill_m=sill,
                    head_m=high,
                    glazing_id=glazing_id,
                ),
            )
        walls.append(
            Wall(
                id=f"{room.id}-{k}",
                level_id=room.level_id,
                start=start,
                end=end,
                room_a=room.id,
                room_b=OUTSIDE,
                thickness_m=OUTER_M,
                height_m=height_m,
                build_up_id=outer,
                facing_deg=facing,
                openings=openings,
            )
        )
        taken += length if facing % 90 else 0.0
    rest = 2 * (x1 - x0 + y1 - y0) - sum(length for length, _ in sides.values())
    if rest > 0.1:
        walls.append(
            Wall(
                id=f"{room.id}-in",
                level_id=room.level_id,
                start=(x0, (y0 + y1) / 2),
                end=(x0 + rest, (y0 + y1) / 2),
                room_a=room.id,
                room_b=INSIDE,
                thickness_m=0.12,
                height_m=height_m,
                build_up_id=inner,
            )
        )
    floor = room.area_m2.value
    roof_m2, ground_m2 = min(roof_m2, floor), min(ground_m2, floor)
    slabs = []
    for kind, area, below, above, build_up in (
        ("roof", roof_m2, room.id, OUTSIDE, roof),
        ("between", floor - roof_m2, room.id, INSIDE, between),
        ("ground", ground_m2, OUTSIDE, room.id, ground),
        ("between", floor - ground_m2, INSIDE, room.id, between),
    ):
        if area > 0.05:
            slabs.append(
                Slab(
                    id=f"{kind}-{below}-{above}",
                    kind=kind,
                    room_below=below,
                    room_above=above,
                    area_m2=area,
                    build_up_id=build_up,
                    perimeter_m=sum(n for n, _ in sides.values()) if kind == "ground" else 0.0,
                )
            )
    return walls, slabs


def _side(facing: float, length: float, x0: float, y0: float, x1: float, y1: float, shift: float) -> tuple[Any, ...]:
    """Where a wall of that bearing is drawn; bearings between the four sides lie below the room, one after the
    other.
    """
    match round(facing) % 360:
        case 0:
            return (x0 + length, y1), (x0, y1)
        case 90:
            return (x1, y0), (x1, y0 + length)
        case 180:
            return (x0, y0), (x0 + length, y0)
        case 270:
            return (x0, y0 + length), (x0, y0)
    return (x0 + shift, y0), (x0 + shift + length, y0)


def sketch_build_ups(project_build_ups: tuple[Any, ...]) -> tuple[str, str, str, str, str]:
    """Ids of outside wall, partition, roof, floor on ground and floor between among build-ups."""
    shell = Project(build_ups=project_build_ups)
    return tuple(usual_build_up(shell, x) for x in ("W1", "P1", "R1", "F1", "F2"))
