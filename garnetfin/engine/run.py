"""The engine: one pure function from project to results, in stages that remember what they read."""

import time
from collections.abc import Callable

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.engine.flows import real_flows, with_temperatures
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.network import case_of
from garnetfin.engine.results import AirResult, DuctResult, Missing, Results, TrainResult
from garnetfin.engine.stages.air import air_system
from garnetfin.engine.stages.blocks import block
from garnetfin.engine.stages.building import building, building_findings
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.duct_clashes import clashes
from garnetfin.engine.stages.ducts import ducts
from garnetfin.engine.stages.fan import fan
from garnetfin.engine.stages.findings import findings
from garnetfin.engine.stages.loads import loads
from garnetfin.engine.stages.noise import noise_paths
from garnetfin.engine.stages.terminals import terminals
from garnetfin.engine.stages.train import building_hours, plant, train
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

STAGES = ("climate", "loads", "air", "ducts", "fan", "train", "flows", "findings")
MOST_ROUNDS, SETTLED_K, RELAX = 20, 0.005, 0.7


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


def _chain(project: Project, system: AirSystem, weather, rooms: dict, also: tuple[int, ...], memo: Memo,
           stage: Callable[[str], None]) -> tuple:
    """Flows, ducts, fan and train of one air system.

    Where the air behind the coil is held, fan heat and duct gain warm what reaches the rooms, and flows rest on it: rounds go on
    until the two agree.
    """
    warmer, made = 0.0, ()
    for round_ in range(MOST_ROUNDS):
        stage("air")
        flows = _guarded(air_system, project, system, weather, rooms, memo, warmer)
        stage("ducts")
        network = _guarded(ducts, project, system, flows, memo)
        leaving = {air: _guarded(ducts, project, system, flows, memo, air) for air in ("return", "extract", "outdoor")}
        stage("fan")
        driven = _guarded(fan, system, project.book, flows, network, memo, leaving["outdoor"])
        stage("train")
        proof = _guarded(train, project, system, weather, flows, network, leaving["return"], driven, rooms, also, memo)
        made = (flows, network, driven, proof, leaving)
        if system.supply != "coil" or not isinstance(proof, TrainResult):
            break
        reached = proof.cooling.node("supply")[0] - flows.figures.supply_c.figure
        if abs(reached - warmer) < SETTLED_K:
            break
        warmer += (RELAX if round_ else 1.0) * (reached - warmer)
    return made


def _flows(project: Project, system: AirSystem, weather, chain: tuple, rooms: dict, memo: Memo):
    """What every room of a system really gets, as designed and with the fan as it turns."""
    air, supply, driven, _, leaving = chain
    at = case_of(project, system, air, supply, driven, leaving, rooms)
    if isinstance(at, Missing):
        return at
    row = key(system, project.book, air, supply, driven if at.fan else None, *at.leaving.values(), tuple(rooms[r.room_id] for r in air.rooms), project.segments)
    return memo.one("flows", row, lambda: with_temperatures(at, real_flows(at), weather, memo))


def _answered(project: Project, found: tuple) -> tuple[tuple, tuple]:
    """(findings that are open, findings the engineer answers for with what was said)."""
    known = {(a.code, a.kind, a.object_id): a for a in project.accepted}
    said = tuple((f, known[f.code, f.kind, f.object_id]) for f in found if (f.code, f.kind, f.object_id) in known)
    return tuple(f for f in found if (f.code, f.kind, f.object_id) not in known), said


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
    also = building_hours(weather, blocks[""])
    chains = {s.id: _chain(project, s, weather, rooms, also, memo, stage) for s in project.air_systems}
    air, networks, fans, trains = ({i: c[k] for i, c in chains.items()} for k in range(4))
    leaving = {(i, a): found for i, c in chains.items() for a, found in c[4].items()}
    plant_figures = plant(project, trains, air, rooms, also)
    stage("flows")
    real = {s.id: _guarded(_flows, project, s, weather, chains[s.id], rooms, memo) for s in project.air_systems}
    noise = {s.id: _guarded(noise_paths, project, s, air[s.id], networks[s.id], fans[s.id], memo) for s in project.air_systems}
    stage("findings")
    at_rooms = terminals(project, air, memo)
    checked = building(project, memo)
    clashed = clashes(project, [n for n in (*networks.values(), *leaving.values()) if isinstance(n, DuctResult)], memo)
    found = (*building_findings(project, checked), *findings(project, rooms, air, networks, leaving, fans, trains, clashed, memo, real, noise))
    open_, accepted = _answered(project, found)
    token.check()
    room_air = {r.room_id: r for a in air.values() if isinstance(a, AirResult) for r in a.rooms}
    return Results(project, weather, rooms, blocks, air, networks, fans, open_, time.perf_counter() - started,
                   memo.computed - before, room_air, checked, trains, plant_figures, at_rooms, leaving, noise, real, accepted)
