"""Where ducts cross walls that resist fire, and whether a damper stands there that does."""

from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from garnetfin.core.rated import Crossing, crossings
from garnetfin.engine.results import SegmentResult
from garnetfin.project.ducts import DuctPoint, Segment
from garnetfin.project.lookup import Same, find, positions
from garnetfin.project.spaces import Wall
from garnetfin.project.tree import Project

BESIDE_M = 0.1  # of the wall, within which the middle of a damper counts as standing in it; own default


class FireCrossing(NamedTuple):
    """A crossing: the duct, share along it, its level, walls, minutes and smoke asked; the damper there and what is
    missing: "none", "minutes", "smoke", "" where it is met.
    """

    segment_id: str
    at: float
    level_id: str
    wall_ids: tuple[str, ...]
    minutes: int
    smoke: bool
    part_id: str
    lacks: str


def fire_crossings(project: Project, known: Mapping[str, SegmentResult]) -> tuple[FireCrossing, ...]:
    """All crossings of ducts with rated walls; known: what ducts came to, whose dampers count."""
    rated = tuple(w for w in project.walls if w.fire_min or w.smoke)
    if not rated or not project.segments:
        return ()
    levels = tuple((x.id, x.elevation_m) for x in project.levels)
    found = _crossings(Same(project.segments), Same(project.duct_points), rated, levels)
    if not found:
        return ()
    dampers = list(_dampers(project, known))
    return tuple(_met(project, c, rated, dampers) for c in found)


@lru_cache(maxsize=8)
def _crossings(
    segments: Same, points: Same, rated: tuple[Wall, ...], levels: tuple[tuple[str, float], ...]
) -> tuple[Crossing, ...]:
    drawn: tuple[Segment, ...] = segments.item
    ends: tuple[DuctPoint, ...] = points.item
    place, foot = positions(ends), dict(levels)
    nodes = np.array([(place[s.a], place[s.b]) for s in drawn])
    xyz = np.array([(p.x_m, p.y_m, p.z_m) for p in ends])
    heights = np.array([(foot[w.level_id], foot[w.level_id] + w.height_m) for w in rated])
    return crossings(
        xyz[nodes],
        nodes,
        np.array([(w.start, w.end) for w in rated]),
        heights,
        np.array([w.thickness_m for w in rated]),
        np.array([w.fire_min for w in rated], float),
    )


class _Damper(NamedTuple):
    part_id: str
    at: tuple[float, float, float]
    minutes: int
    smoke: bool


def _spot(project: Project, segment: Segment, share: float) -> tuple[float, float, float]:
    a, b = (find(project.duct_points, i) for i in (segment.a, segment.b))
    x, y, z = ((u + share * (v - u)) for u, v in ((a.x_m, b.x_m), (a.y_m, b.y_m), (a.z_m, b.z_m)))
    return x, y, z


def _dampers(project: Project, known: Mapping[str, SegmentResult]) -> Iterable[_Damper]:
    """Fire dampers where they stand, with what their models resist; a model that is missing resists nothing."""
    for segment in project.segments:
        for part in segment.inline:
            if part.kind != "fire damper":
                continue
            r = known.get(segment.id)
            record = next((p for p in r.inline if p.part_id == part.id), None) if r is not None else None
            yield _Damper(
                part.id,
                _spot(project, segment, part.at),
                record.resists_min if record is not None else 0,
                record is not None and record.shuts_for_smoke,
            )


def _met(project: Project, c: Crossing, rated: tuple[Wall, ...], dampers: list[_Damper]) -> FireCrossing:
    """A crossing with the nearest damper in its wall."""
    segment, walls = project.segments[c.duct], [rated[k] for k in c.walls]
    spot = np.array(_spot(project, segment, c.share))
    reach = max(w.thickness_m for w in walls) / 2 + BESIDE_M
    near = [(float(np.linalg.norm(spot - d.at)), d) for d in dampers]
    there = min((x for x in near if x[0] <= reach + 1e-6), key=lambda x: x[0], default=None)
    minutes, smoke = walls[0].fire_min, any(w.smoke for w in walls)
    damper = there[1] if there is not None else None
    lacks = (
        "none"
        if damper is None
        else "minutes"
        if damper.minutes < minutes
        else "smoke"
        if smoke and not damper.smoke
        else ""
    )
    return FireCrossing(
        segment.id,
        c.share,
        walls[0].level_id,
        tuple(w.id for w in walls),
        minutes,
        smoke,
        damper.part_id if damper is not None else "",
        lacks,
    )
