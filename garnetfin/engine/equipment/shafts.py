"""Shafts through each level: risers of all systems for the rooms beyond it, and the free area they want together."""

from collections.abc import Iterable, Mapping

from garnetfin.core.equipment import shafts as core
from garnetfin.core.equipment.shafts import Riser
from garnetfin.engine.equipment.records import ShaftDuct, ShaftRecord
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, Missing
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

LEAST_M3S = 1e-6
FLOWS = (("supply", "flow_m3s"), ("return", "return_m3s"), ("extract", "extract_m3s"))


def shafts(project: Project, air: Mapping[str, AirResult | Missing]) -> dict[str, ShaftRecord]:
    """By level, what passes through its shaft; levels that nothing passes have none.

    A unit stands on the level of its ducts' first point, else on the topmost; air of a level farther away passes
    every level between.
    """
    levels = sorted(project.levels, key=lambda x: x.elevation_m)
    at = {x.id: i for i, x in enumerate(levels)}
    speed = assumption(project.book, "duct_riser_m_s").figure
    wrap = assumption(project.book, "duct_insulation_m").figure
    through: dict[str, list[ShaftDuct]] = {x.id: [] for x in levels}
    for system in project.air_systems:
        found = air.get(system.id)
        if not isinstance(found, AirResult) or len(levels) < 2:
            continue
        home = _home(project, system, at, len(levels) - 1)
        for way, field in FLOWS:
            by_level = [0.0] * len(levels)
            for row in found.rooms:
                by_level[at[find(project.rooms, row.room_id).level_id]] += getattr(row, field)
            for i, level in enumerate(levels):
                beyond = by_level[i + 1 :] if i >= home else by_level[:i]
                if i == home:
                    continue
                flow = sum(beyond) + by_level[i]
                if flow > LEAST_M3S:
                    through[level.id].append(
                        ShaftDuct(system.id, way, flow, core.riser(flow, speed, insulation_m=wrap))
                    )
    return {x.id: _record(project, x.id, x.name, through[x.id]) for x in levels if through[x.id]}


def _home(project: Project, system: AirSystem, at: Mapping[str, int], top: int) -> int:
    point = find(project.duct_points, system.root_point_id) if system.root_point_id else None
    return at[point.level_id] if point is not None else top


def _record(project: Project, level_id: str, name: str, ducts: Iterable[ShaftDuct]) -> ShaftRecord:
    own = tuple(ducts)
    risers: list[Riser] = [d.size for d in own if d.size is not None]
    size = core.shaft(risers) if risers else None
    drawn = sum(m.area_m2 for m in project.plan_marks if m.kind == "shaft" and m.level_id == level_id)
    return ShaftRecord(level_id, name, own, size, drawn)
