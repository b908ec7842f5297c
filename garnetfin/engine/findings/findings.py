"""Findings: limits that are broken, with the place, the reason, and commands that would mend them."""

from collections.abc import Callable, Iterator, Mapping
from typing import Any, NamedTuple

import numpy as np

from garnetfin.core.tables import materials
from garnetfin.display import amount
from garnetfin.engine.equipment.records import Equipment
from garnetfin.engine.faults import Faults
from garnetfin.engine.findings.air import MOST_ROOM_C, air_findings
from garnetfin.engine.findings.balance import balance_findings
from garnetfin.engine.findings.duct_heat import duct_heat_findings
from garnetfin.engine.findings.ducts import crossing_findings, duct_findings
from garnetfin.engine.findings.ducts_drawn import drawn_findings
from garnetfin.engine.findings.equipment import equipment_findings
from garnetfin.engine.findings.fans import booking_findings, fan_findings
from garnetfin.engine.findings.fire import fire_findings
from garnetfin.engine.findings.plausibility import made_by_sun, plausibility
from garnetfin.engine.memo import Memo, key, room_places
from garnetfin.engine.results import (
    AirResult,
    Block,
    Climate,
    DuctHeat,
    DuctResult,
    Finding,
    Lack,
    Mend,
    Missing,
    RoomResult,
    TrainResult,
)
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.faces import face_keys
from garnetfin.engine.stages.fan_duty import unit_air
from garnetfin.project.edits.fabric import THICKEST_M, SetLayer
from garnetfin.project.edits.rooms import SetGlazing, SetRoomValue
from garnetfin.project.edits.systems import SetOperation, SetSystemValue
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

MOST_TERMINAL_PA = 40.0
MOST_WARM_UP = 1.5  # warm-up after a night off, over the steady loss


class Worked(NamedTuple):
    """Air systems as they were computed, and those whose coils do not settle."""

    systems: tuple[AirSystem, ...]
    loops: tuple[str, ...]


def findings(
    project: Project,
    rooms: dict[Any, Any],
    air: dict[Any, Any],
    ducts: dict[Any, Any],
    leaving: dict[Any, Any],
    fans: dict[Any, Any],
    trains: dict[Any, Any],
    clashed: tuple[Any, ...],
    memo: Memo,
    real: dict[Any, Any],
    noise: dict[Any, Any],
    faults: Faults,
    climate: Climate | Missing,
    building: Block | Missing,
    warmed: Mapping[str, DuctHeat],
    chosen: Equipment,
    worked: Worked,
) -> tuple[Finding, ...]:
    """All of them; a check that fails is said, and the others go on."""
    found: list[Finding] = []

    def check(link: str, what: str, call: Callable[..., Any], *arguments) -> None:
        found.extend(
            faults.stage(
                (link, "site", "", f"Findings of {what}"), lambda: tuple(call(*arguments)), otherwise=lambda m: ()
            )
        )

    # What findings of air read beside the air itself.
    where = (room_places(project.rooms), project.zones, project.transfers, project.book)
    roots = tuple(s.roots for s in project.air_systems)
    check("Loads", "rooms", _of_rooms, project, rooms, memo)
    check("Building", "build-ups", _odd_layers, project)
    room_air = {r.room_id: r for a in air.values() if isinstance(a, AirResult) for r in a.rooms}
    check("Loads", "what is usual", plausibility, project, climate, rooms, room_air, building, memo)
    for system in worked.systems:
        check("Air", f"warm-up of {system.name}", _warm_up, project, system, rooms)
        check(
            "Air", f"air of {system.name}", _air, project, system, air[system.id], rooms, trains[system.id], where, memo
        )
        networks = {way: leaving[system.id, way] for way in ("return", "extract", "outdoor")}
        for network in (ducts[system.id], *networks.values()):
            if isinstance(network, DuctResult):
                check(
                    "Ducts",
                    f"ducts of {system.name}",
                    memo.one,
                    "duct findings",
                    key(
                        network,
                        air[system.id],
                        system.flow,
                        project.book,
                        roots,
                        parts.key if (parts := duct_parts(project, system.id, network.air)) is not None else None,
                        tuple(
                            (r.number, r.name) for i in network.unroomed if (r := find(project.rooms, i)) is not None
                        ),
                    ),
                    lambda n=network, a=air[system.id]: tuple(duct_findings(project, n, a)),
                )
        check("Ducts", f"ducts of {system.name}", _not_joined, system, networks)
        check(
            "Balance",
            f"balance of {system.name}",
            balance_findings,
            project,
            system,
            real.get(system.id),
            ducts[system.id],
            fans[system.id]["supply"],
            noise.get(system.id),
        )
        heat = warmed.get(system.id)
        if heat is not None:
            check(
                "Ducts",
                f"heat of ducts of {system.name}",
                duct_heat_findings,
                project,
                system,
                air[system.id],
                ducts[system.id],
                heat,
            )
        check("Fan", f"the fans of {system.name}", fan_findings, system, fans[system.id])
        if isinstance(air[system.id], AirResult) and isinstance(ducts[system.id], DuctResult):
            check(
                "Fan", f"what fans of {system.name} carry", _booked, system, air[system.id], ducts[system.id], leaving
            )
    known = {
        i: r for n in (*ducts.values(), *leaving.values()) if isinstance(n, DuctResult) for i, r in n.segments.items()
    }
    check("Air", "equipment", equipment_findings, project, chosen, worked.loops)
    check("Ducts", "ducts that meet", crossing_findings, clashed, known)
    check("Ducts", "ducts through rated walls", fire_findings, project, known)
    check(
        "Ducts",
        "ducts as drawn",
        memo.one,
        "drawn findings",
        key(
            room_places(project.rooms),
            project.levels,
            project.plan_marks,
            project.duct_points,
            project.segments,
            project.terminals,
            tuple((s.id, s.name, s.roots) for s in project.air_systems),
        ),
        lambda: tuple(drawn_findings(project)),
    )
    return tuple(found)


def _air(
    project: Project,
    system: AirSystem,
    air: AirResult | Missing,
    rooms: dict[Any, Any],
    proof: TrainResult | Missing,
    where: tuple[Any, ...],
    memo: Memo,
) -> list[Finding]:
    if isinstance(air, AirResult):
        return [*_pinned_flows(project, air), *_of_air(project, system, air, rooms, proof, where, memo)]
    if air.code == Lack.TOO_WARM:
        return [
            Finding(
                "supply-too-warm",
                "Air",
                "system",
                system.id,
                "Supply air is too warm",
                air.remedy,
                "bad",
                (Mend("Supply by rule", SetSystemValue(system.id, "supply_c", Rule())),),
            )
        ]
    return []


def _not_joined(system: AirSystem, networks: dict[str, DuctResult | Missing]) -> list[Finding]:
    """Of ducts for air that leaves; supply ducts say so in the chain."""
    return [
        Finding(
            "not-joined", "Ducts", "system", system.id, f"The {way} ducts are not joined", f"{network.remedy}.", "bad"
        )
        for way, network in networks.items()
        if isinstance(network, Missing) and network.code == Lack.NOT_JOINED
    ]


def _of_rooms(project: Project, rooms: dict[Any, Any], memo: Memo) -> list[Finding]:
    """Of every room, in the project's order; remembered for the rooms of one air system together."""
    by_system: dict[str, list[Room]] = {}
    for room in project.rooms:
        by_system.setdefault(room.system_id, []).append(room)
    by_room: dict[str, tuple[Finding, ...]] = {}
    faces = face_keys(project)
    for own in by_system.values():
        row = key(tuple(own), tuple(rooms[r.id] for r in own), tuple(faces.get(r.id) for r in own), project.glazings)
        by_room |= memo.one(
            "room findings",
            row,
            lambda own=own: {
                r.id: said for r in own if (said := (*_room(project, r, rooms[r.id]), *_plant(r, rooms[r.id])))
            },
        )
    return [f for room in project.rooms if room.id in by_room for f in by_room[room.id]]


def _of_air(
    project: Project,
    system,
    flows: AirResult,
    rooms: dict[Any, Any],
    proof: TrainResult | Missing,
    where: tuple[Any, ...],
    memo: Memo,
) -> tuple[Finding, ...]:
    own = tuple(find(project.rooms, r.room_id) for r in flows.rooms)
    faces, found = face_keys(project), tuple(rooms[r.id] for r in own)
    row = key(system, flows, proof, own, found, tuple(faces.get(r.id) for r in own), project.room_units, *where)
    return memo.one("air findings", row, lambda: tuple(air_findings(project, system, flows, rooms, proof)))


def _room(project: Project, room, result: RoomResult | Missing) -> Iterator[Finding]:
    if isinstance(result, Missing):
        if result.code == Lack.UNSOLVED:
            yield _unsolved(room)
        if result.code in (Lack.NO_FACES, Lack.NOT_COMPUTED, Lack.NO_WAY_OUT):
            yield Finding(
                "room-open",
                "Building",
                "room",
                room.id,
                f"{room.number} {room.name} has {result.reason}"
                if result.code != Lack.NOT_COMPUTED
                else f"{room.number} cannot be computed",
                result.remedy,
                "bad",
            )
        return
    if not room.kept:
        return
    f = result.figures
    if f.heating_c.figure > f.cooling_c.figure:
        yield Finding(
            "set-points-crossed",
            "Loads",
            "room",
            room.id,
            f"{room.number}: set-points crossed",
            f"Heating at {amount('temperature', f.heating_c.figure)} is above cooling at "
            f"{amount('temperature', f.cooling_c.figure)}.",
            "bad",
            (
                Mend("Heating by rule", SetRoomValue((room.id,), "heating_c", Rule())),
                Mend("Cooling by rule", SetRoomValue((room.id,), "cooling_c", Rule())),
            ),
        )
    if result.estimate is None and made_by_sun(result):
        panes = [(o.wall_id, o.opening_id) for o in result.faces if o.kind in ("window", "glass wall")]
        now = {(w.id, o.id): o.glazing_id for w in walls_of(project.walls, room.id) for o in w.openings}
        used = [find(project.glazings, now[p]) for p in panes]
        better = [g for g in sorted(project.glazings, key=lambda g: g.g) if g.g < 0.95 * max(u.g for u in used)][:1]
        mends = tuple(Mend(f"Glass g {g.g:.2f}", SetGlazing(tuple(panes), g.id)) for g in better)
        yield Finding(
            "sun-share",
            "Loads",
            "room",
            room.id,
            f"{room.number}: sun is {result.cause_w('solar through glass') / result.peak_w:.0%} of cooling",
            f"{amount('load', result.cause_w('solar through glass'), 1, bare=True)} of "
            f"{amount('load', result.peak_w, 1)} come through "
            f"{amount('area', sum(o.area_m2 for o in result.faces if o.kind in ('window', 'glass wall')))} of glass.",
            "watch",
            mends,
        )


def _plant(room: Room, result: RoomResult | Missing) -> Iterator[Finding]:
    """What the hours and limits of the plant lead to in a room."""
    if not isinstance(result, RoomResult) or not room.kept:
        return
    f = result.figures
    if result.short_hours:
        warm, _month, _hour = result.warmest
        yield Finding(
            "cooling-short",
            "Loads",
            "room",
            room.id,
            f"{room.number} gets {amount('temperature', warm)} warm"
            if warm <= MOST_ROOM_C
            else f"{room.number} has far less cooling than it needs",
            f"{amount('load', f.cooling_limit_w.figure, 1)} are there, {amount('load', result.peak_w, 1)} are needed: "
            f"{result.short_hours} design hours are too warm.",
            "bad",
            (
                Mend("Without limit", SetRoomValue((room.id,), "cooling_limit_w", Rule())),
                Mend(
                    f"Give {amount('load', result.peak_w, 1)}",
                    SetRoomValue(
                        (room.id,), "cooling_limit_w", Pinned(value=float(np.ceil(result.peak_w / 100) * 100))
                    ),
                ),
            ),
        )


def _unsolved(room: Room) -> Finding:
    return Finding(
        "unsolved",
        "Loads",
        "room",
        room.id,
        f"{room.number}: the plant finds no steady day",
        "Its set-points and limits contradict each other. Free its limits.",
        "bad",
        (Mend("Without limits", SetRoomValue((room.id,), "cooling_limit_w", Rule())),),
    )


def _warm_up(project: Project, system, rooms: dict[Any, Any]) -> Iterator[Finding]:
    """A night off that asks for far more plant than the loss itself."""
    known = [rooms[r.id] for r in project.rooms if r.system_id == system.id and isinstance(rooms[r.id], RoomResult)]
    need, steady = sum(r.warm_up_w for r in known), sum(float(r.heating_by_cause_w.sum()) for r in known)
    if need > MOST_WARM_UP * steady > 0 and system.operation.mode == "use" and system.operation.lead_h < 4:
        longer = system.operation.lead_h + 1
        yield Finding(
            "warm-up",
            "Loads",
            "system",
            system.id,
            f"Warm-up takes {need / steady:.1f} times the heat loss",
            f"{amount('load', need, 0)} bring the rooms up in {system.operation.lead_h} h, "
            f"{amount('load', steady, 0)} hold "
            f"them.",
            "watch",
            (
                Mend(f"Start {longer} h before", SetOperation(system.id, "lead_h", longer)),
                Mend("Hold 16 °C at night", SetOperation(system.id, "night_heating_c", Pinned(value=16.0))),
            ),
        )


def _odd_layers(project: Project) -> Iterator[Finding]:
    """Figures of build-ups that look like another unit, as files bring them."""
    for b in project.build_ups:
        for i, layer in enumerate(b.layers):
            name = layer.name or layer.material or "air gap"
            known = find(project.book.materials, layer.material) or materials().get(layer.material)
            density = layer.density_kg_m3 or (known.density_kg_m3 if known else 0.0)
            if layer.conductivity_w_mk > 5 and density < 2000:
                yield Finding(
                    "layer-conductivity",
                    "Building",
                    "build-up",
                    b.id,
                    f"{b.name}: {name} conducts like metal",
                    f"{amount('conductivity', layer.conductivity_w_mk)} at "
                    f"{amount('material_density', density)}; mW/mK were likely meant.",
                    "watch",
                    (
                        Mend(
                            f"Apply {amount('conductivity', layer.conductivity_w_mk / 1000)}",
                            SetLayer(b.id, i, "conductivity_w_mk", layer.conductivity_w_mk / 1000),
                        ),
                    ),
                )
            if layer.thickness_m > THICKEST_M:
                yield Finding(
                    "layer-thickness",
                    "Building",
                    "build-up",
                    b.id,
                    f"{b.name}: {name} is {amount('length', layer.thickness_m)} thick",
                    "A figure in another unit was likely meant.",
                    "watch",
                    (
                        Mend(
                            f"Apply {amount('duct_size', layer.thickness_m / 10)}",
                            SetLayer(b.id, i, "thickness_m", layer.thickness_m / 10),
                        ),
                    ),
                )


def _pinned_flows(project: Project, air: AirResult) -> Iterator[Finding]:
    for row in air.rooms:
        if row.origin == "pinned" and row.flow_m3s < row.exact_m3s * 0.98:
            room = find(project.rooms, row.room_id)
            yield Finding(
                "flow-short",
                "Air",
                "room",
                row.room_id,
                f"{room.number}: pinned flow is short",
                f"{amount('room_flow', row.flow_m3s)} are pinned, {amount('room_flow', row.exact_m3s)} are needed.",
                "bad",
                (
                    Mend("Let the rule decide", SetRoomValue((row.room_id,), "supply_m3s", Rule())),
                    Mend(
                        f"Pin {amount('room_flow', row.exact_m3s)}",
                        SetRoomValue((row.room_id,), "supply_m3s", Pinned(value=round(row.exact_m3s, 4))),
                    ),
                ),
            )


def _booked(
    system: AirSystem, air: AirResult, ducts: DuctResult, leaving: dict[tuple[str, str], DuctResult | Missing]
) -> Iterator[Finding]:
    drawn = {way: net for (i, way), net in leaving.items() if i == system.id and isinstance(net, DuctResult)}
    return booking_findings(system, unit_air(system, air, ducts, drawn).booked)
