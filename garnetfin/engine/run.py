"""The engine: one pure function from project to results, in stages that remember what they read."""

import time
from collections.abc import Callable
from typing import Any

from garnetfin.core.errors import Cancelled
from garnetfin.engine.faults import Faults
from garnetfin.engine.findings.findings import findings
from garnetfin.engine.flows.network import case_of
from garnetfin.engine.flows.real_flows import real_flows, with_temperatures
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import AirResult, BuildingResult, DuctHeat, DuctResult, Missing, Results, TrainResult
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.air import air_system
from garnetfin.engine.stages.blocks import block
from garnetfin.engine.stages.building import building, building_findings
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.duct_clashes import clashes
from garnetfin.engine.stages.duct_heat import AirAlong, air_along, duct_heat
from garnetfin.engine.stages.duct_tree import SizedDucts, ducts, sized_ducts
from garnetfin.engine.stages.fan import fans as chosen_fans
from garnetfin.engine.stages.loads import loads
from garnetfin.engine.stages.noise import noise_paths
from garnetfin.engine.stages.terminals import terminals
from garnetfin.engine.stages.train import Behind, building_hours, plant, train
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

MOST_ROUNDS, SETTLED_K, RELAX = 20, 0.005, 0.7
RELAX_ROOMS = 0.9  # more flow is warmed less: a tenth of what its warmth moves comes back


class Token:
    """Asked between stages; a run that is no longer wanted stops there."""

    def __init__(self, stopped: Callable[[], bool] = lambda: False) -> None:
        self._stopped = stopped

    def check(self) -> None:
        if self._stopped():
            raise Cancelled


LEAVING = ("return", "extract", "outdoor")


def _chain(
    project: Project,
    system: AirSystem,
    weather,
    rooms: dict[Any, Any],
    also: tuple[int, ...],
    memo: Memo,
    stage: Callable[[str], None],
    faults: Faults,
) -> tuple[Any, ...]:
    """Flows, ducts, fan and train of one air system.

    Where the air behind the coil is held, fan heat and duct gain warm what reaches the rooms, and where heat of ducts
    is computed every room gets its own; flows rest on it: rounds go on until they agree, or come back to where they
    were, as sizes and rounded flows may.
    """
    warmer, seen = 0.0, []
    arriving: tuple[tuple[str, float], ...] = ()

    def guarded(link: str, what: str, call: Callable[..., Any], *arguments):
        return faults.stage((link, "system", system.id, f"{what} of {system.name}"), call, *arguments)

    def behind(flows, along: AirAlong | None) -> tuple[Any, ...]:
        """(supply ducts, fans, air system proved, ducts of the air that leaves, heat of the supply ducts)."""
        network = guarded("Ducts", "Supply ducts", ducts, project, system, flows, memo, "supply", near)
        warmed = None
        if along is not None and isinstance(network, DuctResult):
            heat = guarded("Ducts", "Heat of the ducts", duct_heat, weather, network, flows, along, rooms, memo)
            warmed = heat if isinstance(heat, DuctHeat) else None
        leaving = {
            air: guarded("Ducts", f"{air.capitalize()} ducts", ducts, project, system, flows, memo, air)
            for air in LEAVING
        }
        stage("fan")
        driven = guarded("Fan", "The fans", chosen_fans, system, project.book, flows, network, leaving, memo)
        if isinstance(driven, Missing):
            driven = {"supply": driven}
        stage("train")
        at = Behind(network, warmed, driven)
        proof = guarded("Air", "States of air", train, project, system, weather, flows, at, rooms, also, memo)
        return network, driven, proof, leaving, warmed

    near: SizedDucts | None = None  # sizes of the round before
    for round_ in range(MOST_ROUNDS):
        stage("air")
        flows = guarded("Air", "Air flows", air_system, project, system, weather, rooms, memo, warmer, arriving)
        stage("ducts")
        sizes = guarded("Ducts", "Supply ducts", sized_ducts, project, system, flows, memo, "supply", near)
        along = guarded("Ducts", "Heat of the ducts", air_along, project, system, weather, sizes, rooms, memo)
        along = along if isinstance(along, AirAlong) else None
        reached, rest = warmer, None
        if system.supply == "coil":
            rest = behind(flows, along)
            if not isinstance(rest[2], TrainResult):
                break
            reached = rest[2].cooling.node("supply")[0] - flows.figures.supply_c.figure
        seen.append((warmer, dict(arriving)))
        after = along.rooms_k(sizes.on, arriving, RELAX_ROOMS if round_ else 1.0) if along is not None else arriving
        if any(_agree((reached, dict(after)), before) for before in seen):
            break
        near = sizes if isinstance(sizes, SizedDucts) else None
        arriving = after
        warmer += (RELAX if round_ else 1.0) * (reached - warmer)
    network, driven, proof, leaving, warmed = rest or behind(flows, along)
    return flows, network, driven, proof, leaving, warmed


def _agree(now: tuple[float, dict[str, float]], then: tuple[float, dict[str, float]]) -> bool:
    """Whether what reaches rooms is as warm as it was taken to be."""
    return abs(now[0] - then[0]) < SETTLED_K and all(
        abs(k - then[1].get(i, 0.0)) < SETTLED_K for i, k in now[1].items()
    )


def _flows(project: Project, system: AirSystem, weather, chain: tuple[Any, ...], rooms: dict[Any, Any], memo: Memo):
    """What every room of a system really gets, as designed and with the fan as it turns."""
    air, supply, driven, _, leaving, _ = chain
    at = case_of(project, system, air, supply, driven, leaving, rooms)
    if isinstance(at, Missing):
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
    project: Project, memo: Memo, token: Token | None = None, progress: Callable[[str], None] = lambda stage: None
) -> Results:
    """All results of a project. Raises Cancelled when the token says so; a gap in the project is no error."""
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
    also = faults.stage(
        ("Air", "site", "", "Hours of the building"), building_hours, weather, blocks[""], otherwise=lambda m: ()
    )
    chains = {
        s.id: faults.stage(
            ("Air", "system", s.id, s.name),
            _chain,
            project,
            s,
            weather,
            rooms,
            also,
            memo,
            stage,
            faults,
            otherwise=lambda m: (m, m, {"supply": m}, m, dict.fromkeys(LEAVING, m), None),
        )
        for s in project.air_systems
    }
    air, networks, driven, trains = ({i: c[k] for i, c in chains.items()} for k in range(4))
    warmed = {i: c[5] for i, c in chains.items() if c[5] is not None}
    fans = {i: by_way["supply"] for i, by_way in driven.items()}
    other_fans = {(i, way): f for i, by_way in driven.items() for way, f in by_way.items() if way != "supply"}
    leaving = {(i, a): found for i, c in chains.items() for a, found in c[4].items()}
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
        for s in project.air_systems
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
        for s in project.air_systems
    }
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
    )
