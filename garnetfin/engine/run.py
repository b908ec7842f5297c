"""The engine: one pure function from project to results, in stages that remember what they read."""

import time
from collections.abc import Callable
from typing import Any

from garnetfin.core.errors import Cancelled
from garnetfin.engine.chain import LEAVING, Asked, Chain, chain, without
from garnetfin.engine.equipment.equipment import Found, equipment
from garnetfin.engine.equipment.records import Equipment
from garnetfin.engine.faults import Faults
from garnetfin.engine.findings.findings import Worked, findings
from garnetfin.engine.flows.network import case_of
from garnetfin.engine.flows.real_flows import real_flows, with_temperatures
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import AirResult, BuildingResult, DuctResult, First, Missing, Results
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.blocks import block
from garnetfin.engine.stages.building import building, building_findings
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.duct_clashes import clashes
from garnetfin.engine.stages.loads import loads
from garnetfin.engine.stages.noise import noise_paths
from garnetfin.engine.stages.terminals import terminals
from garnetfin.engine.stages.train import building_hours, plant
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project


class Token:
    """Asked between stages; a run that is no longer wanted stops there."""

    def __init__(self, stopped: Callable[[], bool] = lambda: False) -> None:
        self._stopped = stopped

    def check(self) -> None:
        if self._stopped():
            raise Cancelled


def _flows(project: Project, system: AirSystem, weather, made: Chain, rooms: dict[Any, Any], memo: Memo):
    """What every room of a system really gets, as designed and with the fan as it turns."""
    air, supply = made.air, made.ducts
    at = case_of(project, system, air, supply, made.fans, made.leaving, rooms)
    if isinstance(at, Missing) or isinstance(air, Missing):
        return at
    row = key(
        system,
        project.book,
        air,
        supply,
        *at.fans.values(),
        *at.leaving.values(),
        tuple(rooms[r.room_id] for r in air.rooms),
        tuple(parts.key for way in ("supply", *LEAVING) if (parts := duct_parts(project, system.id, way)) is not None),
    )
    return memo.one("flows", row, lambda: with_temperatures(at, real_flows(at), weather, memo))


def _answered(project: Project, found: tuple[Any, ...]) -> tuple[tuple[Any, ...], tuple[Any, ...]]:
    """(findings that are open, findings the engineer answers for with what was said)."""
    known = {(a.code, a.kind, a.object_id): a for a in project.accepted}
    said = tuple((f, known[f.code, f.kind, f.object_id]) for f in found if (f.code, f.kind, f.object_id) in known)
    return tuple(f for f in found if (f.code, f.kind, f.object_id) not in known), said


def run(
    project: Project,
    memo: Memo,
    token: Token | None = None,
    progress: Callable[[str], None] = lambda stage: None,
    first: Callable[[First], None] = lambda _: None,
) -> Results:
    """All results of a project. Raises Cancelled when the token says so; a gap in the project is no error.

    first   gets what is known before the air is, at once
    """
    token, faults = token or Token(), Faults()
    started, before = time.perf_counter(), memo.computed
    memo.turn()

    def stage(name: str) -> None:
        token.check()
        progress(name)

    stage("climate")
    weather = faults.stage(("Climate", "site", "", "The climate"), climate, project.site, memo)
    stage("loads")
    rooms = faults.stage(
        ("Loads", "site", "", "Loads"),
        loads,
        project,
        weather,
        memo,
        otherwise=lambda m: {r.id: m for r in project.rooms},
    )
    blocks = {
        i: faults.stage(("Loads", "site", i, "Loads of rooms together"), block, project, rooms, i, memo)
        for i in ("", *(s.id for s in project.air_systems), *(f"zone:{z.id}" for z in project.zones))
    }
    token.check()
    first(First(project, weather, rooms, blocks))
    also = faults.stage(
        ("Air", "site", "", "Hours of the building"), building_hours, weather, blocks[""], otherwise=lambda m: ()
    )
    chains = {
        s.id: faults.stage(
            ("Air", "system", s.id, s.name),
            chain,
            Asked(project, s, weather, rooms, also),
            memo,
            stage,
            faults,
            otherwise=without,
        )
        for s in project.air_systems
    }
    air, networks = {i: c.air for i, c in chains.items()}, {i: c.ducts for i, c in chains.items()}
    driven, trains = {i: c.fans for i, c in chains.items()}, {i: c.train for i, c in chains.items()}
    warmed = {i: c.warmed for i, c in chains.items() if c.warmed is not None}
    fans = {i: by_way["supply"] for i, by_way in driven.items()}
    other_fans = {(i, way): f for i, by_way in driven.items() for way, f in by_way.items() if way != "supply"}
    leaving = {(i, a): found for i, c in chains.items() for a, found in c.leaving.items()}
    working = {i: c.system for i, c in chains.items() if c.system is not None}
    systems = tuple(working.get(s.id, s) for s in project.air_systems)
    plant_figures = faults.stage(
        ("Air", "site", "", "Coils and heaters together"), plant, project, trains, air, rooms, also
    )
    stage("flows")
    real = {
        s.id: faults.stage(
            ("Balance", "system", s.id, f"Real flows of {s.name}"),
            _flows,
            project,
            s,
            weather,
            chains[s.id],
            rooms,
            memo,
        )
        for s in systems
    }
    noise = {
        s.id: faults.stage(
            ("Balance", "system", s.id, f"Noise of {s.name}"),
            noise_paths,
            project,
            s,
            air[s.id],
            networks[s.id],
            fans[s.id],
            memo,
        )
        for s in systems
    }
    stage("equipment")
    chosen = faults.stage(
        ("Air", "site", "", "Equipment"),
        equipment,
        project,
        Found(
            weather,
            rooms,
            air,
            networks,
            driven,
            trains,
            plant_figures,
            noise,
            blocks,
            {i: c.boxes for i, c in chains.items()},
        ),
        memo,
        faults,
        otherwise=lambda _: Equipment(),
    )
    stage("findings")
    at_rooms = faults.stage(
        ("Air", "site", "", "Terminals in their rooms"), terminals, project, air, memo, otherwise=lambda m: {}
    )
    checked = faults.stage(
        ("Building", "site", "", "Checks of the building"),
        building,
        project,
        memo,
        otherwise=lambda m: BuildingResult((), (), ()),
    )
    ducts_there = [n for n in (*networks.values(), *leaving.values()) if isinstance(n, DuctResult)]
    clashed = faults.stage(
        ("Ducts", "site", "", "Ducts that meet"), clashes, project, ducts_there, memo, otherwise=lambda m: ()
    )
    found = (
        *faults.stage(
            ("Building", "site", "", "Findings of the building"),
            building_findings,
            project,
            checked,
            otherwise=lambda m: (),
        ),
        *findings(
            project,
            rooms,
            air,
            networks,
            leaving,
            driven,
            trains,
            clashed,
            memo,
            real,
            noise,
            faults,
            weather,
            blocks[""],
            warmed,
            chosen,
            Worked(systems, tuple(i for i, c in chains.items() if c.loops)),
        ),
    )
    found = (*faults.findings(rooms, {r.id: r.number for r in project.rooms}), *found)
    open_, accepted = _answered(project, found)
    token.check()
    room_air = {r.room_id: r for a in air.values() if isinstance(a, AirResult) for r in a.rooms}
    return Results(
        project,
        weather,
        rooms,
        blocks,
        air,
        networks,
        fans,
        open_,
        time.perf_counter() - started,
        memo.computed - before,
        room_air,
        checked,
        trains,
        plant_figures,
        at_rooms,
        leaving,
        noise,
        real,
        accepted,
        other_fans,
        warmed,
        chosen,
        working,
    )
