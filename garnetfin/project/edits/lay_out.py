"""Rooms of a list given a stand-in place: two rows on every level, with a unit and a shaft beside them, so that ducts
can be laid out early.
"""

from typing import Any, ClassVar

from msgspec import Struct, structs

from garnetfin.core.outlines import area_of
from garnetfin.project.derive import follow
from garnetfin.project.edits.outlines import shifted_wall
from garnetfin.project.lookup import fresh_ids
from garnetfin.project.spaces import PlanMark, Room
from garnetfin.project.tree import Project

DEPTH_M, CORRIDOR_M, LEAST_M = 5.0, 2.0, 1.2
SHAFT_M = 2.4
BESIDE_M = 10.0  # from rooms that are drawn


class LayOutRooms(Struct, frozen=True):
    """Rooms of a list side by side in two rows along a corridor, in their order. Their figures and their early
    estimates stay as they are; a
    room that was laid out before keeps its place.
    """

    label: ClassVar[str] = "Lay out rooms"
    room_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        wanted = {r.id for r in project.rooms if r.id in set(self.room_ids) and r.sketched and not r.placed}
        if not wanted:
            return project
        moved: dict[str, tuple[Any, ...]] = {}
        for level in project.levels:
            own = [r for r in project.rooms if r.level_id == level.id and r.id in wanted]
            if own:
                there = [
                    x
                    for r in project.rooms
                    if r.level_id == level.id and (not r.sketched or r.placed)
                    for x, _ in r.outline
                ]
                moved |= _rows(own, (max(there) + BESIDE_M if there else SHAFT_M, 0.0))
        rooms = tuple(
            structs.replace(r, outline=moved[r.id], placed=True) if r.id in moved else r for r in project.rooms
        )
        before = {r.id: r for r in project.rooms}
        walls = tuple(
            shifted_wall(w, *(a - b for a, b in zip(moved[w.room_a][0], before[w.room_a].outline[0])))
            if w.room_a in moved
            else w
            for w in project.walls
        )
        return structs.replace(project, rooms=rooms, walls=walls)


def _rows(rooms: list[Room], at: tuple[float, float]) -> dict[str, tuple[Any, ...]]:
    """Outlines: corridors in a strip between the rows, every other room in the row that is shorter."""
    x0, y0 = at
    halls = [r for r in rooms if r.use_id == "corridor"]
    strip = CORRIDOR_M if halls else 0.0
    ends, made = [x0, x0], {}
    for r in (r for r in rooms if r.use_id != "corridor"):
        row = 0 if ends[0] <= ends[1] else 1
        floor = r.area_m2.value if hasattr(r.area_m2, "value") else area_of(r.outline)
        width = max(floor / DEPTH_M, LEAST_M)
        low = y0 + (DEPTH_M + strip if row else 0.0)
        made[r.id] = _box(ends[row], low, width, floor / width)
        ends[row] += width
    along = max(max(ends) - x0, 2.0)
    x = x0
    for r in halls:  # together they are as long as the rows
        made[r.id] = _box(x, y0 + DEPTH_M, along / len(halls), CORRIDOR_M)
        x += along / len(halls)
    return made


def _box(x: float, y: float, width: float, depth: float) -> tuple[Any, ...]:
    return tuple(
        (round(a, 4), round(b, 4)) for a, b in ((x, y), (x + width, y), (x + width, y + depth), (x, y + depth))
    )


class AddShaft(Struct, frozen=True):
    """A shaft beside the rooms of levels that have neither shaft nor unit, one above the other."""

    label: ClassVar[str] = "Shaft"
    level_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        bare = [
            i
            for i in self.level_ids
            if not any(m.level_id == i and m.kind in ("shaft", "unit") for m in project.plan_marks)
        ]
        spots = [p for r in project.rooms if r.level_id in bare and (not r.sketched or r.placed) for p in r.outline]
        if not bare or not spots:
            return project
        old = next((m for m in project.plan_marks if m.kind in ("shaft", "unit")), None)
        if old is not None:
            outline = old.outline
        else:
            x, y = min(p[0] for p in spots), sum(p[1] for p in spots) / len(spots)
            outline = _box(x - SHAFT_M, y - SHAFT_M / 2, SHAFT_M, SHAFT_M)
        ids = fresh_ids(project.plan_marks, "m", len(bare))
        new = tuple(
            PlanMark(id=i, kind="shaft", level_id=level, outline=outline, label="shaft") for i, level in zip(ids, bare)
        )
        return follow(project, structs.replace(project, plan_marks=project.plan_marks + new))
