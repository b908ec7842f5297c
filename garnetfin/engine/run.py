"""The engine: one pure function from project to results, in stages that remember what they read."""

import time
from collections.abc import Callable

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import AirResult, Missing, Results
from garnetfin.engine.stages.air import air_system
from garnetfin.engine.stages.building import building, building_findings
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.ducts import ducts
from garnetfin.engine.stages.fan import fan
from garnetfin.engine.stages.findings import findings
from garnetfin.engine.stages.loads import block, loads
from garnetfin.project.tree import Project

STAGES = ("climate", "loads", "air", "ducts", "fan", "findings")


class Token:
    """Asked between stages; a run that is no longer wanted stops there."""

    def __init__(self, stopped: Callable[[], bool] = lambda: False) -> None:
        self._stopped = stopped

    def check(self) -> None:
        if self._stopped():
            raise Cancelled


def _guarded(stage: Callable, *arguments):
    """The stage's result; a figure outside what its method is valid for stops that stage alone and is said."""
    try:
        return stage(*arguments)
    except Cancelled:
        raise
    except GarnetfinError as error:
        return Missing("not computed", str(error))


def run(project: Project, memo: Memo, token: Token | None = None,
        progress: Callable[[str], None] = lambda stage: None) -> Results:
    """All results of a project. Raises Cancelled when the token says so; a gap in the project is no error."""
    token = token or Token()
    started, before = time.perf_counter(), memo.computed

    def stage(name: str) -> None:
        token.check()
        progress(name)

    stage("climate")
    weather = _guarded(climate, project.site, memo)
    stage("loads")
    rooms = loads(project, weather, memo)
    blocks = {system_id: block(project, rooms, system_id, memo)
              for system_id in ("", *(s.id for s in project.air_systems), *(f"zone:{z.id}" for z in project.zones))}
    stage("air")
    air = {s.id: _guarded(air_system, project, s, weather, rooms, memo) for s in project.air_systems}
    stage("ducts")
    networks = {s.id: _guarded(ducts, project, s, air[s.id], memo) for s in project.air_systems}
    stage("fan")
    fans = {s.id: _guarded(fan, s, air[s.id], networks[s.id], memo) for s in project.air_systems}
    stage("findings")
    checked = building(project, memo)
    found = (*building_findings(project, checked), *findings(project, rooms, air, networks, fans))
    token.check()
    room_air = {r.room_id: r for a in air.values() if isinstance(a, AirResult) for r in a.rooms}
    return Results(project, weather, rooms, blocks, air, networks, fans, found, time.perf_counter() - started,
                   memo.computed - before, room_air, checked)
