"""Findings of air systems: what cannot be met, which limit holds it, and what would help."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from garnetfin.core.airflow.supply import NEEDS
from garnetfin.core.psychro import properties as air
from garnetfin.display import amount
from garnetfin.engine.findings.outdoor_air import outdoor_air_findings, zone_findings
from garnetfin.engine.results import AirResult, Finding, Mend, Point, RoomResult, TrainResult, there
from garnetfin.engine.stages.air import part_of, supplies
from garnetfin.project.edits.rooms import SetRoomChoice, SetRoomValue
from garnetfin.project.edits.systems import (
    AddPart,
    AddSystem,
    SetPart,
    SetPattern,
    SetSystemChoice,
    SetSystemValue,
    SetTransfer,
)
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

MOST_FALL_K = 14.0  # supply below the room, mixing outlets
COLDEST_SUPPLY_C, WARMEST_SUPPLY_C = 4.0, 40.0
LEAST_ROOM_C, MOST_ROOM_C = -30.0, 60.0  # beyond them a temperature of a room is no figure but a sign
LEAST_INLET_C = 5.0  # of a water coil in winter
OVERCOOLED_K, WARM_K, COLD_K = 1.0, 1.0, 0.5
HUMID_MARGIN = 0.005
MOST_REHEAT = 0.2  # of the coil's load, on the hottest design day
LEAST_BALANCE = 0.6  # exhaust through a recovery over the outdoor air through it
FOUL = ("toilet", "kitchen", "laboratory")  # air of theirs goes out, not round
SMALL_M3S = 0.010


def air_findings(
    project: Project, system: AirSystem, flows: AirResult, rooms: dict[Any, Any], proof: object
) -> Iterator[Finding]:
    if not supplies(system):
        yield from _extract_alone(project, system, flows, rooms)
        return
    yield from _rooms(project, system, flows, rooms)
    yield from outdoor_air_findings(project, system, flows)
    if isinstance(proof, TrainResult):
        yield from zone_findings(project, system, flows, proof)
        yield from _summer(project, system, flows, proof)
        for i, row in enumerate(flows.rooms):
            if row.governs == "transfer air":
                found = room_on_transfer(
                    project, rooms[row.room_id], float(proof.cooling.solved.room_c[i, proof.cooling.i])
                )
                if found is not None:
                    yield found
        yield from _winter(project, system, proof)
        yield from _recovery(system, flows, proof)


def _extract_alone(project: Project, system: AirSystem, flows: AirResult, rooms: dict[Any, Any]) -> Iterator[Finding]:
    """Rooms from which air is drawn alone: what comes in to make it up, and what heats and cools them."""
    short = [r for r in flows.rooms if r.short_m3s > SMALL_M3S]
    if short:
        total = sum(r.short_m3s for r in short)
        yield Finding(
            "make-up-by-doors",
            "Air",
            "system",
            system.id,
            f"{amount('room_flow', total)} come in by doors and leaks",
            f"{system.name} draws them out of {len(short)} rooms and gives none; rooms beside them have to be given as "
            "much, and doors need grilles or gaps for it.",
            "watch",
        )
    bare = [
        r.room_id
        for r in flows.rooms
        if r.rest in ("none", "reheat") and isinstance(rooms[r.room_id], RoomResult) and rooms[r.room_id].heating_w > 0
    ]
    if bare:
        yield Finding(
            "not-heated",
            "Air",
            "system",
            system.id,
            f"Nothing heats {len(bare)} rooms",
            f"{system.name} gives no air that could; {_named(project, bare[0])} is the first.",
            "bad",
            (Mend("Room heaters", SetRoomChoice(tuple(bare), "rest", "heater")),),
        )


def _named(project: Project, room_id: str) -> str:
    return str(find(project.rooms, room_id).number)


def _rooms(project: Project, system: AirSystem, flows: AirResult, rooms: dict[Any, Any]) -> Iterator[Finding]:
    for row in flows.rooms:
        room = find(project.rooms, row.room_id)
        if row.short_m3s > SMALL_M3S:
            near = [w.other(room.id) for w in walls_of(project.walls, room.id)]
            near = [find(project.rooms, i) for i in near]
            giver = max(
                (r for r in near if r is not None and r.system_id == system.id and r.air == "supply"),
                key=lambda r: next((x.return_m3s for x in flows.rooms if x.room_id == r.id), 0.0),
                default=None,
            )
            mends = (
                [Mend("Supply by rule", SetRoomValue((room.id,), "supply_m3s", Rule()))] if row.origin != "rule" else []
            )
            if giver is not None:
                mends.append(Mend(f"Take it from {giver.number}", SetTransfer(giver.id, room.id)))
            yield Finding(
                "make-up",
                "Air",
                "room",
                room.id,
                f"{room.number} lacks make-up air",
                f"{amount('room_flow', (row.extract_m3s + row.transfer_out_m3s))} leave, "
                f"{amount('room_flow', row.short_m3s)} "
                f"less come in.",
                "bad",
                tuple(mends),
            )
        if not np.isfinite(row.need("latent")) and "latent" in row.carried:
            yield Finding(
                "latent",
                "Air",
                "room",
                room.id,
                f"{room.number}: supply air is too damp to dry it",
                f"At {row.humidity_high:.0%} the room is no damper than air of "
                f"{amount('temperature', flows.supply_c)} off a coil.",
                "bad",
                (
                    Mend(
                        "Supply 2 K colder",
                        SetSystemValue(system.id, "supply_c", Pinned(value=round(flows.supply_c - 2, 1))),
                    ),
                ),
            )
        most = max((n for name, n in zip(NEEDS, row.needs_m3s) if name in row.carried and np.isfinite(n)), default=0.0)
        if room.need and row.origin == "rule" and row.exact_m3s < most - SMALL_M3S:
            greatest = NEEDS[
                int(
                    np.argmax(
                        [n if name in row.carried and np.isfinite(n) else -1.0 for name, n in zip(NEEDS, row.needs_m3s)]
                    )
                )
            ]
            yield Finding(
                "pinned-need",
                "Air",
                "room",
                room.id,
                f"{room.number} has less air than {greatest} needs",
                f"{room.need.capitalize()} is pinned to govern: {amount('room_flow', row.exact_m3s)} of "
                f"{amount('room_flow', most)}.",
                "watch",
                (Mend("Let the greatest govern", SetRoomChoice((room.id,), "need", "")),),
            )
        mixing = part_of(system, "mixing") is not None
        if mixing and room.use_id in FOUL and row.return_m3s > max(SMALL_M3S, 0.1 * row.flow_m3s):
            all_of_it = row.extract_m3s + row.return_m3s
            yield Finding(
                "foul-return",
                "Air",
                "room",
                room.id,
                f"Air of {room.number} is a circular transfer",
                f"{amount('room_flow', row.return_m3s)} return from a {rooms[room.id].figures.use.name.lower()}; they "
                f"should go out.",
                "watch",
                (
                    Mend(
                        "Extract all of it", SetRoomValue((room.id,), "extract_m3s", Pinned(value=round(all_of_it, 4)))
                    ),
                ),
            )
    for t in project.transfers:
        a, b = find(project.rooms, t.from_room), find(project.rooms, t.to_room)
        if system.id in (a.system_id, b.system_id) and a.system_id != b.system_id and b.system_id == system.id:
            yield Finding(
                "transfer",
                "Air",
                "room",
                b.id,
                f"No air passes from {a.number} to {b.number}",
                "Air is transferred between rooms of one air system; this transfer is left out.",
                "watch",
            )


def drift(temperature_c: float) -> str:
    """Where a room goes that is not held; a figure that no room ever has says instead that nothing holds it."""
    if not LEAST_ROOM_C <= temperature_c <= MOST_ROOM_C:
        return "is held by nothing: its load is far beyond its air"
    return f"drifts to {amount('temperature', temperature_c)}"


def _colder(system: AirSystem, flows: AirResult, k: float) -> Mend:
    now = flows.figures.supply_c.figure
    value = min(WARMEST_SUPPLY_C, max(COLDEST_SUPPLY_C, round(now + k, 1)))
    word = "colder" if value < now else "warmer"
    return Mend(
        f"Supply {amount('temperature_difference', abs(value - now), 0)} {word}",
        SetSystemValue(system.id, "supply_c", Pinned(value=value)),
    )


def _summer(project: Project, system: AirSystem, flows: AirResult, proof: TrainResult) -> Iterator[Finding]:
    at, solved = proof.cooling, proof.cooling.solved
    if not solved.solved[at.i]:
        yield Finding(
            "unsolved",
            "Air",
            "system",
            system.id,
            "The air system finds no steady state",
            f"{solved.residual[at.i] * 1e-6:.2g} K are left at {at.name}; the best state is shown.",
            "bad",
            (Mend("Constant supply temperature", SetSystemChoice(system.id, "supply", "held")),),
        )
    cooling = part_of(system, "cooling")
    if cooling is not None and cooling.id in solved.coils:
        adp = float(solved.coils[cooling.id].adp_c[at.i])
        limit = proof.figures[cooling.id, "adp_low_c"].figure
        if adp < limit:
            yield Finding(
                "adp",
                "Air",
                "part",
                f"{system.id}/{cooling.id}",
                f"The coil’s surface would be at {amount('temperature', adp)}",
                f"{amount('temperature', limit)} is the coldest accepted"
                + (", and it would freeze." if adp < 0 else "."),
                "bad" if adp < 0 else "watch",
                (
                    _colder(system, flows, 1.0),
                    Mend("Bypass factor 0.05", SetPart(system.id, cooling.id, "bypass", Pinned(value=0.05))),
                ),
            )
    held = np.clip(solved.room_c[:, at.i], LEAST_ROOM_C, MOST_ROOM_C)  # beyond, nothing holds the room: said elsewhere
    fall = float(np.max(np.where(proof.rooms.design_kg_s > 0, held - solved.supply_c[:, at.i], 0.0)))
    if fall > MOST_FALL_K:
        yield Finding(
            "supply-cold",
            "Air",
            "system",
            system.id,
            f"Supply air is {amount('temperature_difference', fall)} colder than a room",
            f"Mixing outlets keep rooms free of draught up to {amount('temperature_difference', MOST_FALL_K, 0)}.",
            "watch",
            (
                _colder(system, flows, fall - MOST_FALL_K),
                Mend("Room units", SetPart(system.id, there(part_of(system, "terminals")).id, "choice", "unit")),
            ),
        )
    yield from _humid(project, system, flows, proof, at)
    yield from _drift(project, system, flows, proof, at)
    raised = max(proof.cooling.of(proof.cooling.solved.raised_kg_s), proof.heating.of(proof.heating.solved.raised_kg_s))
    if raised > SMALL_M3S:
        more = raised / flows.density_kg_m3
        yield Finding(
            "relief",
            "Air",
            "system",
            system.id,
            "More air is drawn out than outdoor air comes in",
            f"Hoods, extracts and leaks take {amount('room_flow', more)} beyond it; the unit takes in that much more.",
            "watch",
            (
                Mend(
                    f"Outdoor air {amount('room_flow', (flows.outdoor_m3s + more))}",
                    SetSystemValue(system.id, "outdoor_m3s", Pinned(value=round(flows.outdoor_m3s + more, 3))),
                ),
            ),
        )
    reheat = float(solved.reheat_w[:, at.i].sum())
    if at.cooling_w > 0 and reheat > MOST_REHEAT * at.cooling_w and system.flow == "fixed":
        yield Finding(
            "reheat",
            "Air",
            "system",
            system.id,
            f"{amount('load', reheat, 1)} are heated in at the peak of cooling",
            f"That is {reheat / at.cooling_w:.0%} of the coil’s load, at {at.name}.",
            "watch",
            (Mend("Let flows follow the load", SetPattern(system.id, "vav_reheat")),),
        )


def _humid(project: Project, system: AirSystem, flows: AirResult, proof: TrainResult, at: Point) -> Iterator[Finding]:
    solved = at.solved
    inside = np.clip(solved.room_c[:, at.i], LEAST_ROOM_C, MOST_ROOM_C)  # a room that nothing holds has no humidity
    rh = air.relative_humidity(inside, solved.room_w[:, at.i], proof.pressure_pa)
    over = rh - proof.rooms.humid_high
    flowing = proof.rooms.design_kg_s > 0
    # the train takes fan coils as dry; how damp their rooms become is told with them
    dried = {u.room_id for u in project.room_units if u.kind == "fan_coil"}
    put = {u.room_id for u in project.room_units}
    dried |= {r.room_id for r in flows.rooms if r.rest == "unit" and r.room_id not in put}
    works = np.array([i in dried for i in proof.room_ids]) & (solved.unit_w[:, at.i] > 1.0)
    over = np.where(flowing & ~works, over, -1.0)
    worst = int(np.argmax(over))
    if over[worst] <= HUMID_MARGIN:
        return
    room_id = proof.room_ids[worst]
    cooling = part_of(system, "cooling")
    dries = cooling is not None and cooling.choice == "dry air"
    mends = []
    if cooling is None:
        mends.append(Mend("Put a cooling coil in", AddPart(system.id, "cooling")))
    elif not dries:
        mends.append(Mend("Dry the air, then reheat", SetPart(system.id, cooling.id, "choice", "dry air")))
    mends.append(_colder(system, flows, -2.0))
    reason = (
        "No coil surface can dry the air that far." if dries else f"{proof.rooms.humid_high[worst]:.0%} is its limit."
    )
    yield Finding(
        "humid",
        "Air",
        "room",
        room_id,
        f"{_named(project, room_id)} becomes {rh[worst]:.0%} damp",
        f"At {at.name}. {reason}"
        + (f" {int((over > HUMID_MARGIN).sum())} rooms pass it." if (over > HUMID_MARGIN).sum() > 1 else ""),
        "watch",
        tuple(mends),
    )


def _drift(project: Project, system: AirSystem, flows: AirResult, proof: TrainResult, at: Point) -> Iterator[Finding]:
    """Rooms that are not held in summer: too cold under least flow, too warm for want of cold air."""
    solved, flowing = at.solved, proof.rooms.design_kg_s > 0
    off = np.where(flowing, solved.room_c[:, at.i] - proof.set_c, 0.0)
    below = np.where(flowing, solved.room_c[:, at.i] - np.minimum(proof.winter_set_c, proof.set_c), 0.0)
    cold, warm = int(below.argmin()), int(off.argmax())
    if below[cold] < -OVERCOOLED_K:
        count = int((below < -OVERCOOLED_K).sum())
        yield Finding(
            "overcooled",
            "Air",
            "room",
            proof.room_ids[cold],
            f"{_named(project, proof.room_ids[cold])} {drift(solved.room_c[cold, at.i])}",
            f"Its load does not warm the air it has to get; {count} rooms at {at.name}.",
            "watch",
            (
                Mend(
                    "Reheat at the terminals",
                    SetPart(system.id, there(part_of(system, "terminals")).id, "choice", "reheat"),
                ),
                _colder(system, flows, 2.0),
            ),
        )
    if off[warm] > WARM_K:
        count = int((off > WARM_K).sum())
        mends = (
            (Mend("Put a cooling coil in", AddPart(system.id, "cooling")),)
            if part_of(system, "cooling") is None
            else (
                Mend("Room units", SetPart(system.id, there(part_of(system, "terminals")).id, "choice", "unit")),
                _colder(system, flows, -2.0),
            )
        )
        yield Finding(
            "warm",
            "Air",
            "room",
            proof.room_ids[warm],
            f"{_named(project, proof.room_ids[warm])} {drift(solved.room_c[warm, at.i])}",
            f"The air cannot take its load; {count} rooms at {at.name}.",
            "watch",
            mends,
        )


def _warmer(system: AirSystem) -> tuple[Mend, ...]:
    """Another way to warmer outdoor air: a recovery, or return air mixed in."""
    if part_of(system, "recovery") is None:
        return (Mend("Put a heat recovery in", AddPart(system.id, "recovery")),)
    return (Mend("Mix return air in", AddPart(system.id, "mixing")),) if part_of(system, "mixing") is None else ()


def _in_winter(temperature_c: float) -> str:
    if temperature_c < LEAST_ROOM_C:
        return "is not heated at all in winter"
    return f"gets {amount('temperature', temperature_c)} in winter"


def _winter(project: Project, system: AirSystem, proof: TrainResult) -> Iterator[Finding]:
    at = proof.heating
    solved = at.solved
    flowing = proof.rooms.design_kg_s > 0
    off = np.where(flowing, solved.room_c[:, at.i] - proof.winter_set_c, 0.0)
    worst = int(off.argmin())
    if off[worst] < -COLD_K:
        terminals = part_of(system, "terminals")
        mends = [] if part_of(system, "heating") else [Mend("Put a heating coil in", AddPart(system.id, "heating"))]
        if terminals.choice in ("", "none"):
            mends.append(Mend("Reheat at the terminals", SetPart(system.id, terminals.id, "choice", "reheat")))
        mends.append(Mend("Room heaters", SetPart(system.id, terminals.id, "choice", "heater")))
        yield Finding(
            "cold",
            "Air",
            "room",
            proof.room_ids[worst],
            f"{_named(project, proof.room_ids[worst])} {_in_winter(solved.room_c[worst, at.i])}",
            f"{int((off < -COLD_K).sum())} rooms are not heated to their set-points by this air.",
            "bad",
            tuple(mends),
        )
    before = "outdoor"
    for part in proof.parts:
        if part.kind == "rooms":
            break
        if part.kind in ("heating", "cooling") and at.node(before)[0] < LEAST_INLET_C:
            yield Finding(
                "preheat",
                "Air",
                "part",
                f"{system.id}/{part.id}",
                f"Air of {amount('temperature', at.node(before)[0])} meets a water coil",
                f"Below {amount('temperature', LEAST_INLET_C, 0)} it can freeze on the winter design day.",
                "watch",
                (Mend("Put a preheat coil in", AddPart(system.id, "preheat", part.id)), *_warmer(system)),
            )
            break
        before = part.id
    if float(solved.fog_kg_s[at.i]) > 1e-6:
        yield Finding(
            "fog",
            "Air",
            "system",
            system.id,
            "Mixing makes fog in winter",
            f"{amount('moisture_flow', float(solved.fog_kg_s[at.i]))} fall out where outdoor and return air meet.",
            "watch",
            (
                Mend("Preheat to 5 °C", AddPart(system.id, "preheat", there(part_of(system, "mixing")).id)),
                *_warmer(system),
            ),
        )
    if bool(solved.humid_short[at.i]):
        part = part_of(system, "humidifier")
        yield Finding(
            "humidifier",
            "Air",
            "part",
            f"{system.id}/{part.id}",
            "The humidifier reaches its limit",
            "Air at 95 % takes up no more; the rooms stay drier than asked.",
            "watch",
            (
                Mend("Hold rooms at 30 %", SetPart(system.id, part.id, "humidity", Pinned(value=0.30))),
                *((Mend("Steam", SetPart(system.id, part.id, "choice", "steam")),) if part.choice == "spray" else ()),
            ),
        )


def _recovery(system: AirSystem, flows: AirResult, proof: TrainResult) -> Iterator[Finding]:
    part = part_of(system, "recovery")
    if part is None:
        return
    at = proof.heating
    if bool(at.solved.frost[at.i]):
        limit = proof.figures[part.id, "frost_c"].figure
        mends = (
            ()
            if part_of(system, "preheat")
            else (Mend("Put a preheat coil before it", AddPart(system.id, "preheat", part.id)),)
        ) + (Mend("Recover moisture, 60 %", SetPart(system.id, part.id, "latent", Pinned(value=0.6))),)
        yield Finding(
            "frost",
            "Air",
            "part",
            f"{system.id}/{part.id}",
            "The recovery is held back by frost",
            f"It gives {float(at.solved.recovery_share[at.i]):.0%} so that its exhaust stays above "
            f"{amount('temperature', limit)}.",
            "watch",
            mends,
        )
    into, out = at.of(at.solved.outdoor_kg_s), at.of(at.solved.relief_kg_s)
    if into > 0 and out < LEAST_BALANCE * into:
        yield Finding(
            "unbalanced",
            "Air",
            "part",
            f"{system.id}/{part.id}",
            "The recovery is unbalanced",
            f"{amount('mass_flow', into)} come in through it, {amount('mass_flow', out, bare=True)} go out; "
            "hoods and extracts pass it by.",
            "watch",
            _own_air(flows),
        )


def _own_air(flows: AirResult) -> tuple[Mend, ...]:
    """Rooms that draw out most of their own air, on a unit of their own."""
    hooded = tuple(
        r.room_id for r in flows.rooms if r.extract_m3s > max(SMALL_M3S, 0.5 * (r.flow_m3s + r.transfer_in_m3s))
    )
    least = Mend("Least outdoor air", SetSystemValue(flows.system_id, "outdoor_m3s", Rule()))
    return (
        (Mend(f"Own unit for {len(hooded)} rooms", AddSystem(hooded, ("recovery", "mixing", "return_fan"))),)
        if hooded and len(hooded) < len(flows.rooms)
        else ((least,) if flows.outdoor.origin != "rule" else ())
    )


def room_on_transfer(project: Project, result: RoomResult, temperature_c: float) -> Finding | None:
    """A room that lives on the air of others and gets too warm on it."""
    room, over = find(project.rooms, result.room_id), temperature_c - result.figures.cooling_c.figure
    if over <= 2.0:
        return None
    return Finding(
        "transfer-warm",
        "Air",
        "room",
        room.id,
        f"{room.number} gets {amount('temperature', temperature_c)} on transfer air"
        if temperature_c <= MOST_ROOM_C
        else f"{room.number} is held by no transfer air",
        f"{amount('power', result.peak_w)} are more than the air that passes can take.",
        "watch",
        (Mend("Give it supply air", SetRoomChoice((room.id,), "air", "supply")),),
    )
