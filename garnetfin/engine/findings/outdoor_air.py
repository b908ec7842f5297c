"""Findings of outdoor air where air recirculates, of zones' own supply temperatures and of their lowest humidity."""

from collections.abc import Iterator
from math import ceil

import numpy as np

from garnetfin.core.airflow.fresh_air import ENOUGH
from garnetfin.core.airflow.outdoor_air import discharge_for
from garnetfin.core.psychro import properties as air
from garnetfin.display import amount
from garnetfin.engine.results import AirResult, Finding, Mend, RoomAir, TrainResult
from garnetfin.engine.stages.air import part_of
from garnetfin.project.edits import Commands
from garnetfin.project.edits.groups import SetZoneValue
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import AddPart, SetPart, SetSystemValue
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

SHORT = 0.99  # of the outdoor air a room asks for, below which it is told
DRIVEN = 1.15  # times the sum of what rooms ask for, above which the room behind it is told
STEP_M3S = 0.005
HELD_K, DRY = 0.1, 0.005


def outdoor_air_findings(project: Project, system: AirSystem, flows: AirResult) -> Iterator[Finding]:
    """What is asked of the unit and what arrives."""
    if flows.outdoor.figure > flows.flow_m3s * 1.001 and flows.outdoor.origin != "rule":
        yield Finding(
            "outdoor-above-supply",
            "Air",
            "system",
            system.id,
            "More outdoor air than supply air",
            f"{amount('room_flow', flows.outdoor.figure)} are asked of {amount('room_flow', flows.flow_m3s)}.",
            "bad",
            (Mend("Outdoor air by rule", SetSystemValue(system.id, "outdoor_m3s", Rule())),),
        )
    impossible = _impossible(project, flows)
    if impossible is not None:
        yield impossible
        return
    yield from _short(project, system, flows)
    yield from _driven(project, flows)


def _impossible(project: Project, flows: AirResult) -> Finding | None:
    """A room that even all outdoor air leaves short, or that no mixing serves."""
    v, fresh = flows.ventilation, flows.fresh
    by_zones = v is not None and (not v.possible or v.outdoor_m3s > flows.flow_m3s * 1.001)
    if flows.outdoor.origin != "rule" or not (by_zones or (fresh is not None and not fresh.possible)):
        return None
    row = next((r for r in flows.rooms if r.room_id == flows.critical_room), None)
    if row is None:
        return None
    enough = float(discharge_for(ENOUGH, v.share, row.wanted_m3s)) if v is not None else _enough(row)
    return Finding(
        "ventilation",
        "Air",
        "room",
        row.room_id,
        f"{_number(project, row)} cannot be ventilated by mixing",
        f"It asks for {amount('room_flow', row.wanted_m3s)} of outdoor air in {amount('room_flow', row.flow_m3s)} "
        "of supply.",
        "bad",
        (_supply(row, enough),),
    )


def _short(project: Project, system: AirSystem, flows: AirResult) -> Iterator[Finding]:
    """Rooms in which less arrives than they ask for, told together."""
    short = [r for r in flows.rooms if r.wanted_m3s > 0 and flows.arrives_m3s[r.room_id] < SHORT * r.wanted_m3s]
    if not short:
        return
    worst = max(short, key=lambda r: r.wanted_m3s - flows.arrives_m3s[r.room_id])
    mends = []
    if flows.fresh is not None and flows.fresh.least_m3s > flows.outdoor_m3s:
        least = flows.fresh.least_m3s
        mends.append(
            Mend(
                f"Take in {amount('room_flow', least)}",
                SetSystemValue(system.id, "outdoor_m3s", Pinned(value=round(least, 4))),
            )
        )
    if flows.outdoor.origin != "rule":
        mends.append(Mend("Outdoor air by rule", SetSystemValue(system.id, "outdoor_m3s", Rule())))
    others = f" {len(short) - 1} more are short." if len(short) > 1 else ""
    yield Finding(
        "outdoor-short",
        "Air",
        "room",
        worst.room_id,
        f"{_number(project, worst)} gets {amount('room_flow', flows.arrives_m3s[worst.room_id])} of outdoor air",
        f"It asks for {amount('room_flow', worst.wanted_m3s)}; {amount('room_flow', flows.outdoor_m3s)} are taken in "
        f"and shared with the supply air.{others}",
        "bad",
        tuple(mends),
    )


def _driven(project: Project, flows: AirResult) -> Iterator[Finding]:
    """An intake far above the rooms' sum, because one room asks for most of its supply as outdoor air."""
    fresh = flows.fresh
    if fresh is None or flows.outdoor.origin != "rule" or not fresh.critical_room:
        return
    row = next((r for r in flows.rooms if r.room_id == fresh.critical_room), None)
    if row is None or row.flow_m3s <= 0 or flows.outdoor_m3s <= DRIVEN * fresh.sum_m3s:
        return
    share = row.wanted_m3s / row.flow_m3s
    yield Finding(
        "outdoor-driven",
        "Air",
        "room",
        row.room_id,
        f"{_number(project, row)} drives the outdoor air to {flows.outdoor_m3s / flows.flow_m3s:.0%} of the supply",
        f"{share:.0%} of its supply must be outdoor air, so nearly all air has to be; all rooms together ask for "
        f"{amount('room_flow', fresh.sum_m3s)}. With more supply there, less is taken in.",
        "watch",
        (_supply(row, _enough(row)), *_supply_all(flows)) if share > ENOUGH else (),
    )


def _supply_all(flows: AirResult) -> tuple[Mend, ...]:
    """More supply in every room that asks for most of it as outdoor air, as one step."""
    rows = [r for r in flows.rooms if r.flow_m3s > 0 and r.wanted_m3s > ENOUGH * r.flow_m3s and r.origin == "rule"]
    if len(rows) < 2:
        return ()
    steps = tuple(_supply(r, _enough(r)).command for r in rows)
    return (Mend(f"Supply more in {len(rows)} rooms", Commands("More supply", steps)),)


def _enough(row: RoomAir) -> float:
    return row.wanted_m3s / ENOUGH


def _supply(row: RoomAir, flow_m3s: float) -> Mend:
    flow = round(ceil(flow_m3s / STEP_M3S - 1e-6) * STEP_M3S, 4)
    return Mend(f"Supply {amount('room_flow', flow)}", SetRoomValue((row.room_id,), "supply_m3s", Pinned(value=flow)))


def _number(project: Project, row: RoomAir) -> str:
    room = find(project.rooms, row.room_id)
    return room.number if room is not None else ""


# -- zones --------------------------------------------------------------------------------------------------------
def zone_findings(project: Project, system: AirSystem, flows: AirResult, proof: TrainResult) -> Iterator[Finding]:
    """Of zones that ask for air of their own."""
    yield from _not_held(project, system, flows)
    yield from _too_dry(project, system, flows, proof)


def _not_held(project: Project, system: AirSystem, flows: AirResult) -> Iterator[Finding]:
    """Zones that want colder air than the system supplies; warmer air is made at their branches."""
    told = set()
    for row, own_c in zip(flows.rooms, flows.own_c):
        room = find(project.rooms, row.room_id)
        supply_c = flows.figures.supply_c.figure
        if room is None or room.zone_id in told or np.isnan(own_c):
            continue
        months = set(system.cooling_months) - set(system.heating_months)
        warmer = own_c > supply_c + HELD_K and months
        if own_c < supply_c - HELD_K or warmer:
            told.add(room.zone_id)
            zone = find(project.zones, room.zone_id)
            why = (
                "Nothing heats its air in months without heating."
                if warmer
                else "Air is heated at the branch of a zone, never cooled."
            )
            yield Finding(
                "zone-supply",
                "Air",
                "zone",
                room.zone_id,
                f"{zone.name if zone is not None else room.number} does not get its "
                f"{amount('temperature', float(own_c))}",
                f"The system supplies {amount('temperature', supply_c)}. {why}",
                "watch",
                (
                    Mend("Supply of the system by rule", SetSystemValue(system.id, "supply_c", Rule())),
                    Mend("Supply of the zone by rule", SetZoneValue(room.zone_id, "supply_c", Rule())),
                ),
            )


def _too_dry(project: Project, system: AirSystem, flows: AirResult, proof: TrainResult) -> Iterator[Finding]:
    """Rooms drier on the winter design day than their zone allows."""
    solved, i = proof.heating.solved, proof.heating.i
    low = np.array([r.humidity_low for r in flows.rooms])
    asks = (low > 0) & (proof.rooms.design_kg_s > 0)
    if not asks.any():
        return
    least_w = air.humidity_ratio(proof.winter_set_c, np.maximum(low, 1e-6), proof.pressure_pa)
    missing = np.where(asks, least_w - solved.room_w[:, i], -1.0)
    worst = int(missing.argmax())
    held = air.relative_humidity(proof.winter_set_c[worst], solved.room_w[worst, i], proof.pressure_pa)
    if float(held) > low[worst] - DRY:
        return
    steam = float((np.maximum(missing, 0.0) * solved.supply_kg_s[:, i]).sum())
    humidifier = part_of(system, "humidifier")
    wanted = Pinned(value=round(min(float(low[asks].max()), 0.9), 3))
    mend = (
        Mend("Put a humidifier in", AddPart(system.id, "humidifier"))
        if humidifier is None
        else Mend(f"Humidifier to {wanted.value:.0%}", SetPart(system.id, humidifier.id, "humidity", wanted))
    )
    row = flows.rooms[worst]
    yield Finding(
        "humid-low",
        "Air",
        "room",
        row.room_id,
        f"{_number(project, row)} becomes as dry as {float(held):.0%} in winter",
        f"Its zone asks for {low[worst]:.0%} at least: {amount('moisture_flow', steam)} of steam would hold it.",
        "watch",
        (mend,),
    )
