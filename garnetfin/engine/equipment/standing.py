"""Where the units of air systems stand: in the room that is fixed for each, else in the one its ducts begin in where
no air system serves that room; side by side where there are several, and what is missing where one does not fit.
"""

from collections.abc import Mapping

from garnetfin.core.adjacency import Outline
from garnetfin.core.equipment import standing as core
from garnetfin.core.equipment.casings import BEHIND_M, ENDS_M, LEAST_FRONT_M, Layout
from garnetfin.core.outlines import inside
from garnetfin.engine.equipment.records import Standing, UnitRecord
from garnetfin.engine.equipment.units import choice_of
from garnetfin.engine.memo import Memo, key
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Room
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

LEAST_LACK_M = 0.005
FILLED = ("shaft", "stair", "void")


def standings(project: Project, units: Mapping[str, UnitRecord], memo: Memo) -> dict[str, Standing]:
    """By system; none of a unit that stands in no room, as on a roof, or before its ducts begin anywhere."""
    found: dict[str, Standing] = {}
    taken: dict[str, tuple[Outline, ...]] = {}  # floors in each room
    for system in project.air_systems:
        unit = units.get(system.id)
        room, pinned = _room(project, system)
        if unit is None or unit.layout is None or room is None:
            continue
        root = find(project.duct_points, system.root_point_id)
        near = (root.x_m, root.y_m) if root is not None and root.level_id == room.level_id else room.outline[0]
        others = (*_drawn(project, room.level_id), *taken.get(room.id, ()))
        made = _placed(unit.layout, room, near, others, pinned, memo)
        found[system.id] = made
        if made.floor is not None:
            taken[room.id] = (*taken.get(room.id, ()), made.floor)
    return found


def _room(project: Project, system: AirSystem) -> tuple[Room | None, bool]:
    """(room, whether it is fixed)."""
    fixed = find(project.rooms, choice_of(project, system.id).room_id)
    if fixed is not None:
        return fixed, True
    root = find(project.duct_points, system.root_point_id)
    if root is None:
        return None, False
    at = (root.x_m, root.y_m)
    own = (r for r in project.rooms if r.level_id == root.level_id and not r.system_id and inside(r.outline, at))
    return next(own, None), False


def _drawn(project: Project, level_id: str) -> tuple[Outline, ...]:
    """What is drawn on a level and leaves no floor."""
    return tuple(m.outline for m in project.plan_marks if m.level_id == level_id and m.kind in FILLED)


def floor_of(made: Layout) -> tuple[float, float]:
    """(length, width) of the floor with the space its service takes [m]."""
    front = max(made.casing.width_m, LEAST_FRONT_M)
    return made.length_m + ENDS_M, made.width_m + front + BEHIND_M


def _placed(
    made: Layout, room: Room, near: tuple[float, float], others: tuple[Outline, ...], pinned: bool, memo: Memo
) -> Standing:
    long_m, wide_m = floor_of(made)
    row = key(long_m, wide_m, made.width_m, made.clear_m, room.id, room.outline, room.ceiling_m, near, others, pinned)

    def compute() -> Standing:
        floor = core.stand(room.outline, long_m, wide_m, near, others)
        high = max(0.0, made.clear_m - room.ceiling_m)
        high = high if high > LEAST_LACK_M else 0.0
        if floor is None:
            lacks = core.lacks(room.outline, long_m, wide_m, others)
            return Standing(room.id, pinned, (long_m, wide_m), made.clear_m, None, None, lacks, high)
        return Standing(
            room.id, pinned, (long_m, wide_m), made.clear_m, floor.outline, _body(floor, made, room), None, high
        )

    found: Standing = memo.one("standing", row, compute)
    return found


def _body(floor: core.Floor, made: Layout, room: Room) -> Outline:
    """The casing on its floor: its back to the wall that is nearer, its doors towards the middle of the room."""
    (x, y), (ux, uy) = floor.middle, floor.along
    off = (floor.wide_m - made.width_m) / 2 - BEHIND_M
    middle = [sum(p[k] for p in room.outline) / len(room.outline) for k in (0, 1)]
    side = 1.0 if (middle[0] - x) * -uy + (middle[1] - y) * ux <= 0 else -1.0
    at = (x - uy * off * side, y + ux * off * side)
    return core.Floor(at, floor.along, made.length_m, made.width_m).outline
