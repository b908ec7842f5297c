"""What the ducts of one air system for one air read of a project, as the very tuples of last time while nothing in them
moved: an edit elsewhere leaves them, and all that is remembered by them, alone.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from garnetfin.engine.memo import Key, key, room_places
from garnetfin.project.ducts import Air, DuctPoint, Segment, Terminal
from garnetfin.project.lookup import Same, positions
from garnetfin.project.spaces import CeilingZone, Obstacle
from garnetfin.project.tree import Project

_last: dict[tuple[Any, ...], tuple[Any, ...]] = {}
MOST_KEPT = 4096


def same_again(name: tuple[Any, ...], items: Iterable[Any]) -> tuple[Any, ...]:
    """The tuple of last time under that name where each of its parts is the very part of then."""
    made, last = tuple(items), _last.get(name)
    if last is not None and len(last) == len(made) and all(a is b for a, b in zip(last, made)):
        return last
    if len(_last) >= MOST_KEPT:
        _last.clear()
    _last[name] = made
    return made


@dataclass(frozen=True, slots=True, eq=False)
class DuctParts:
    """Ducts of one system and air, where they run, and the terminals that hang on them or stand in rooms of theirs.

    levels      (id, floor [m], storey [m]) of those on which they run
    """

    segments: tuple[Segment, ...]
    points: tuple[DuctPoint, ...]
    terminals: tuple[Terminal, ...]
    zones: tuple[CeilingZone, ...]
    obstacles: tuple[Obstacle, ...]
    levels: tuple[tuple[str, float, float], ...]
    key: Key


def duct_parts(project: Project, system_id: str, way: Air) -> DuctParts | None:
    """None without a duct."""
    return _by_system(
        Same(project.segments),
        Same(project.duct_points),
        Same(project.terminals),
        Same(project.ceiling_zones),
        Same(project.obstacles),
        tuple((x.id, x.elevation_m, x.storey_m) for x in project.levels),
        _Served(project),
    ).get((system_id, way))


class _Served:
    """Systems of rooms, told apart by the rooms' places."""

    def __init__(self, project: Project) -> None:
        self.rooms, self._known = project.rooms, room_places(project.rooms)

    def __hash__(self) -> int:
        return hash(self._known)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Served) and (self._known is other._known or self._known == other._known)


@lru_cache(maxsize=8)
def _by_system(
    segments: Same,
    points: Same,
    terminals: Same,
    zones: Same,
    obstacles: Same,
    levels: tuple[tuple[str, float, float], ...],
    served: _Served,
) -> dict[tuple[str, str], DuctParts]:
    group: dict[tuple[str, str], list[Segment]] = {}
    for s in segments.item:
        group.setdefault((s.system_id, s.air), []).append(s)
    system_of = {r.id: r.system_id for r in served.rooms}
    place = positions(points.item)
    found = {}
    for (system_id, way), own in group.items():
        ends = {i for s in own for i in (s.a, s.b)}
        here = [points.item[k] for k in sorted(place[i] for i in ends)]
        on = {p.level_id for p in here}
        name = (system_id, way)
        parts: list[tuple[Any, ...]] = [
            same_again((*name, what), items)
            for what, items in (
                ("segments", own),
                ("points", here),
                (
                    "terminals",
                    (
                        t
                        for t in terminals.item
                        if t.air == way and (t.point_id in ends or system_of.get(t.room_id) == system_id)
                    ),
                ),
                ("zones", (z for z in zones.item if z.level_id in on)),
                ("obstacles", (o for o in obstacles.item if o.level_id in on)),
            )
        ]
        there = tuple(x for x in levels if x[0] in on)
        drawn, ends_at, hung, above, beside = parts
        found[name] = DuctParts(drawn, ends_at, hung, above, beside, there, key(*name, *parts, there))
    return found
