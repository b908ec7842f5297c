"""Walls and slabs that follow from the outlines of rooms; what stood there before keeps its id, build-up and
openings.
"""

from collections.abc import Callable
from math import hypot
from typing import Any

from msgspec import structs

from garnetfin.core.adjacency import Outline, Stretch, overlaps, wall_stretches
from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.project.lookup import find, fresh_ids
from garnetfin.project.spaces import NO_ROOM, OUTSIDE, SHAFT, Level, Opening, Slab, Wall
from garnetfin.project.tree import Project

OUTER_M, INNER_M = 0.36, 0.12  # thickness of new walls
ON_WALL_M = 0.05  # apart, within which a stretch is a piece of a wall
REACHES_UP = 0.6  # of the storey above, from which on a tall room counts there too
LEAST_SLAB_M2 = 0.05
NEAR_M = 0.5
Point = tuple[float, float]


def present(project: Project, level: Level) -> dict[str, Outline]:
    """Drawn rooms that stand on a level or reach well up into it."""
    found = {r.id: r.outline for r in project.rooms if r.level_id == level.id and not r.sketched}
    lower = {x.id: x.elevation_m for x in project.levels if x.elevation_m < level.elevation_m - 0.01}
    reach = level.elevation_m + REACHES_UP * level.storey_m
    for room in project.rooms:
        if room.level_id in lower and lower[room.level_id] + room.ceiling_m > reach and not room.sketched:
            found[room.id] = room.outline
    return found


def follow(before: Project, after: Project) -> Project:
    """Walls and slabs after an edit of a height, a level, an outline, a shaft or a void: those of every room are made
    anew whose place, or whose surroundings, the edit changed. All such edits end here.

    Raises InputError when an opening no longer fits its wall.
    """
    touched = _moved(before, after)
    return derive(after, touched) if touched else after


def _moved(before: Project, after: Project) -> set[str]:
    """Ids of drawn rooms that stand elsewhere, reach other levels, lie between others, or touch a shaft that moved."""
    then, now = _stands(before), _stands(after)
    touched = {i for i in then.keys() | now.keys() if then.get(i) != now.get(i)}
    shafts = [{(m.level_id, m.outline) for m in p.plan_marks if m.kind == "shaft"} for p in (before, after)]
    for level_id, outline in shafts[0] ^ shafts[1]:
        level = find(after.levels, level_id)
        if level is not None:
            touched |= {i for i, drawn in present(after, level).items() if _near(drawn, outline)}
    return touched


def _stands(project: Project) -> dict[str, tuple[Any, ...]]:
    """What the faces of each drawn room are made from: its outline, the levels it stands on, and those next to it."""
    levels = sorted(project.levels, key=lambda x: x.elevation_m)
    there: dict[str, list[int]] = {}
    for k, level in enumerate(levels):
        for i in present(project, level):
            there.setdefault(i, []).append(k)
    ids = [None, *(level.id for level in levels), None]
    outlines = {room.id: room.outline for room in project.rooms}
    return {i: (outlines[i], *ids[min(on) : max(on) + 3]) for i, on in there.items()}


def _near(one: Outline, other: Outline) -> bool:
    """Whether two outlines come within half a metre, by the boxes around them."""
    return all(
        max(p[k] for p in one) + NEAR_M >= min(p[k] for p in other)
        and max(p[k] for p in other) + NEAR_M >= min(p[k] for p in one)
        for k in (0, 1)
    )


def derive(project: Project, touched: set[str]) -> Project:
    """Walls and slabs of the touched rooms and their neighbours made anew from the outlines.

    Rooms from a list have no place, so they keep the faces that were typed for them.
    Raises InputError when an opening no longer fits its wall.
    """
    touched = {i for i in touched if (room := find(project.rooms, i)) is None or not room.sketched}
    if not project.build_ups or not touched:
        return project
    walls = list(project.walls)
    for level in project.levels:
        outlines = present(project, level)
        mine = touched & outlines.keys()
        if not mine and not any(w.level_id == level.id and (w.room_a in touched or w.room_b in touched) for w in walls):
            continue
        shafts = {
            f"shaft {m.id}": m.outline for m in project.plan_marks if m.kind == "shaft" and m.level_id == level.id
        }
        north = project.site.north_deg if project.site else 0.0
        stretches = [_as_shaft(s) for s in wall_stretches({**outlines, **shafts}, north) if s.room_a not in shafts]
        # Neighbours, before and after, are made anew with the touched rooms: what they lost is now outdoors.
        near = set(mine)
        for w in walls:
            if w.level_id == level.id and (w.room_a in touched or w.room_b in touched):
                near |= {w.room_a, w.room_b}
        for s in stretches:
            if s.room_a in mine or s.room_b in mine:
                near |= {s.room_a, s.room_b}
        near -= NO_ROOM
        old = [w for w in walls if w.level_id == level.id and (w.room_a in near or w.room_b in near)]
        new = [s for s in stretches if s.room_a in near or s.room_b in near]
        gone = {w.id for w in old}
        walls = [w for w in walls if w.id not in gone] + _remade(project, level, old, new, walls)
    walled = structs.replace(project, walls=tuple(walls))
    return structs.replace(walled, slabs=slabs(walled, touched))


def _as_shaft(s: Stretch) -> Stretch:
    return Stretch(s.start, s.end, s.room_a, SHAFT, s.facing_deg) if s.room_b.startswith("shaft ") else s


def usual_build_up(project: Project, *wanted: str) -> str:
    """The first of the wanted build-ups the project has, else its first one."""
    return next((w for w in wanted if find(project.build_ups, w) is not None), project.build_ups[0].id)


def _remade(project: Project, level: Level, old: list[Wall], new: list[Stretch], everywhere: list[Wall]) -> list[Wall]:
    """Stretches as walls; each takes over id, build-up and openings of the old wall it lies on most."""
    used: set[str] = set()
    carried: dict[int, tuple[Wall, list[tuple[Opening, Point]]]] = {}
    rated: dict[int, Wall] = {}  # pieces of walls that resist fire
    beside: dict[frozenset[Any], list[int]] = {}
    for i, s in enumerate(new):
        beside.setdefault(frozenset((s.room_a, s.room_b)), []).append(i)
    for wall in old:
        alike = [i for i in beside.get(frozenset((wall.room_a, wall.room_b)), ()) if _alike(wall, new[i])]
        if wall.fire_min or wall.smoke:  # every piece of what it was resists as it did, whatever rooms it parts now
            rated |= {i: wall for i, s in enumerate(new) if i in alike or _lies_on(wall, s)}
        if not alike:
            continue  # the wall is no more, e.g. its room was removed
        best = max(alike, key=lambda i: _shared_length(wall, new[i]))
        carried.setdefault(best, (wall, []))
        for opening in wall.openings:
            at = point_along(wall, opening.at_m)
            home = min(alike, key=lambda i: off(new[i], at))
            carried.setdefault(home, (wall, []))[1].append((opening, at))
    made, fresh = [], iter(fresh_ids(tuple(everywhere), "w", len(new)))
    served = {r.id: bool(r.system_id) for r in project.rooms}
    for i, s in enumerate(new):
        wall, openings = carried.get(i, (None, []))
        outside = s.room_b == OUTSIDE
        keep = wall is not None and wall.id not in used and wall.outside == outside
        placed = tuple(_placed(s, o, at) for o, at in openings)
        base: dict[str, Any] = dict(
            level_id=level.id,
            start=s.start,
            end=s.end,
            room_a=s.room_a,
            room_b=s.room_b,
            facing_deg=round(s.facing_deg, 3) if outside else 0.0,
            openings=placed,
        )
        if i in rated:
            base |= {"fire_min": rated[i].fire_min, "smoke": rated[i].smoke}
        if keep:
            used.add(wall.id)
            made.append(structs.replace(wall, **base))
        else:
            unheated = s.room_b not in NO_ROOM and served[s.room_a] != served[s.room_b]
            build_up = (
                usual_build_up(project, "W1") if outside else usual_build_up(project, "P2" if unheated else "P1", "P1")
            )
            made.append(
                Wall(
                    id=next(fresh),
                    thickness_m=OUTER_M if outside else INNER_M,
                    height_m=level.storey_m,
                    build_up_id=build_up,
                    **base,
                )
            )
    return made


def _alike(wall: Wall, s: Stretch) -> bool:
    """Same direction; outside walls face the same way."""
    if wall.outside:
        return abs((wall.facing_deg - s.facing_deg + 180) % 360 - 180) < 5
    ux, uy = (wall.end[0] - wall.start[0]) / wall.length_m, (wall.end[1] - wall.start[1]) / wall.length_m
    vx, vy = (s.end[0] - s.start[0]) / s.length_m, (s.end[1] - s.start[1]) / s.length_m
    return abs(ux * vy - uy * vx) < 0.09


def point_along(wall: Wall, at: float) -> Point:
    t = at / wall.length_m
    return wall.start[0] + t * (wall.end[0] - wall.start[0]), wall.start[1] + t * (wall.end[1] - wall.start[1])


def along(s: Stretch | Wall, p: Point) -> float:
    """Metres from the start at which a point stands beside a stretch."""
    return ((p[0] - s.start[0]) * (s.end[0] - s.start[0]) + (p[1] - s.start[1]) * (s.end[1] - s.start[1])) / s.length_m


def off(s: Stretch | Wall, p: Point) -> float:
    """How far a point lies from a stretch."""
    t = min(s.length_m, max(0.0, along(s, p)))
    x = s.start[0] + (s.end[0] - s.start[0]) * t / s.length_m
    y = s.start[1] + (s.end[1] - s.start[1]) * t / s.length_m
    return hypot(p[0] - x, p[1] - y)


def _lies_on(wall: Wall, s: Stretch) -> bool:
    """Whether an inside stretch is a piece of an inside wall."""
    return (
        not wall.outside
        and s.room_b != OUTSIDE
        and _alike(wall, s)
        and _shared_length(wall, s) > ON_WALL_M
        and off(s, _nearest(s, wall)) < ON_WALL_M
    )


def _nearest(s: Stretch, wall: Wall) -> Point:
    """The middle of what a stretch and a wall share, on the wall's line."""
    ends = sorted((along(s, wall.start), along(s, wall.end)))
    middle = (max(0.0, ends[0]) + min(s.length_m, ends[1])) / 2
    x = s.start[0] + (s.end[0] - s.start[0]) * middle / s.length_m
    y = s.start[1] + (s.end[1] - s.start[1]) * middle / s.length_m
    (ax, ay), (bx, by) = wall.start, wall.end
    t = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / wall.length_m**2
    return ax + t * (bx - ax), ay + t * (by - ay)


def _shared_length(wall: Wall, s: Stretch) -> float:
    ends = sorted((along(s, wall.start), along(s, wall.end)))
    return min(s.length_m, ends[1]) - max(0.0, ends[0])


def _placed(s: Stretch, opening: Opening, at: Point) -> Opening:
    if opening.width_m > s.length_m + 1e-6:
        raise InputError(
            f"{opening.kind.capitalize()} {opening.id} of {opening.width_m:.2f} m no longer fits its wall of "
            f"{s.length_m:.2f} m",
            remedy="Make it narrower or remove it first",
        )
    half = opening.width_m / 2
    return structs.replace(opening, at_m=round(min(max(along(s, at), half), s.length_m - half), 6))


def slabs(project: Project, touched: set[str]) -> tuple[Slab, ...]:
    """Roofs, floors on ground, floors between and exposed floors of the touched rooms, by what lies above and below."""
    levels = sorted(project.levels, key=lambda x: x.elevation_m)
    stands = [present(project, x) for x in levels]
    base = {r.id: next(i for i, x in enumerate(levels) if x.id == r.level_id) for r in project.rooms if not r.sketched}
    # A hall through several storeys has its roof above the highest level it reaches.
    top = {room_id: max(i for i, there in enumerate(stands) if room_id in there) for room_id in base}
    again = touched & base.keys()
    for s in project.slabs:
        if s.room_below in touched or s.room_above in touched:
            again |= {s.room_below, s.room_above} & base.keys()
    above: dict[str, list[tuple[str, float]]] = {}
    below: dict[str, list[tuple[str, float]]] = {}
    for i in range(len(levels) - 1):
        low = [r for r in stands[i] if top[r] == i]
        high = [r for r in stands[i + 1] if base[r] == i + 1]
        if not (again & {*low, *high}):
            continue
        for a, b, area in overlaps([stands[i][r] for r in low], [stands[i + 1][r] for r in high]):
            above.setdefault(low[a], []).append((high[b], area))
            below.setdefault(high[b], []).append((low[a], area))
    for room_id in tuple(touched & base.keys()):
        again |= {other for other, _ in (*above.get(room_id, ()), *below.get(room_id, ()))}
    kept = [
        s
        for s in project.slabs
        if not ({s.room_below, s.room_above} & (again | touched))
        or (s.kind == "between" and not {s.room_below, s.room_above} & touched)
    ]
    return (
        *kept,
        *_new_slabs(
            project, again, {(s.room_below, s.room_above) for s in kept if s.kind == "between"}, base, above, below
        ),
    )


def _new_slabs(
    project: Project,
    again: set[str],
    taken: set[Any],
    base: dict[str, int],
    above: dict[Any, Any],
    below: dict[Any, Any],
) -> list[Slab]:
    old = {(s.kind, s.room_below, s.room_above): s for s in project.slabs}
    ids = {s.id for s in project.slabs}
    made: list[Slab] = []

    def add(kind: str, low: str, high: str, area: float, build_up: str, perimeter: float = 0.0) -> None:
        if area < LEAST_SLAB_M2 or (kind == "between" and (low, high) in taken):
            return
        taken.add((low, high))
        before = old.get((kind, low, high))
        same = dict(kind=kind, room_below=low, room_above=high, area_m2=round(area, 6), perimeter_m=round(perimeter, 6))
        if before is not None:
            made.append(structs.replace(before, **same))
            return
        # A slab that went over to another room may still bear the name.
        name = f"{kind[0]}-{low or 'x'}-{high or 'x'}"
        free = name if name not in ids else next(i for i in (f"{name}-{k}" for k in range(2, 100_000)) if i not in ids)
        ids.add(free)
        made.append(Slab(id=free, build_up_id=build_up, **same))

    perimeter = ground_perimeter(project)
    for room in project.rooms:
        if room.id not in again:
            continue
        floor = area_of(room.outline)
        for other, area in above.get(room.id, ()):
            add("between", room.id, other, area, usual_build_up(project, "F2"))
        for other, area in below.get(room.id, ()):
            add("between", other, room.id, area, usual_build_up(project, "F2"))
        add("roof", room.id, OUTSIDE, floor - sum(a for _, a in above.get(room.id, ())), usual_build_up(project, "R1"))
        open_below = floor - sum(a for _, a in below.get(room.id, ()))
        if base[room.id] == 0:
            add("ground", OUTSIDE, room.id, open_below, usual_build_up(project, "F1"), perimeter(open_below))
        else:
            add("exposed", OUTSIDE, room.id, open_below, usual_build_up(project, "F2"))
    return made


def ground_perimeter(project: Project) -> Callable[[float], float]:
    """The part of the lowest level's outside edge [m] that an area [m2] of its floor answers for."""
    lowest = min(project.levels, key=lambda x: x.elevation_m).id
    outer = sum(w.length_m for w in project.walls if w.outside and w.level_id == lowest)
    floor = sum(area_of(r.outline) for r in project.rooms if r.level_id == lowest) or 1.0
    return lambda area: outer * area / floor
