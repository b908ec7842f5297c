"""What every room really gets: a system's network solved, its boxes opened and closed until they settle, and what a
shortage means.
"""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from msgspec import structs

from garnetfin.core.ducts import network as nw
from garnetfin.core.fans.curve import Curve
from garnetfin.core.fans.duty import Duty, duty
from garnetfin.engine.flows.fan_lines import drive_of
from garnetfin.engine.flows.flow_results import Flows, RoomGets, WhatIf
from garnetfin.engine.flows.network import Case, Steady, box_flows, case_in, thinner
from garnetfin.engine.flows.network_builder import Built, build
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import NEEDS, Climate, Missing, RoomResult, TerminalResult
from garnetfin.engine.stages.loads import loads_with
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned

SHORT = 0.005  # of a need, below which it counts as met
MOST_BOX_ROUNDS = 12


def real_flows(
    at: Case,
    what: WhatIf = WhatIf(),
    sections: dict[Any, Any] | None = None,
    added_k: dict[str, float] | None = None,
    start: "Flows | None" = None,
) -> Flows:
    """Solve a case.

    Boxes that run out of pressure are opened round after round, those that get enough then hold again; the starved are
    named.
    """
    opened, seen, held = frozenset(), set(), box_flows(at, what)
    for _ in range(MOST_BOX_ROUNDS):
        seen.add(opened)
        made = build(at, what, sections, added_k, opened)
        found = nw.solve(made.net, made.start_m3s)
        short = {
            i
            for i, pa in made.box_pa.items()
            if found.pressure_pa[made.into[i][0]] - found.pressure_pa[made.into[i][1]] < pa * (1 - 1e-6)
        }
        plenty = {i for i in opened if found.flow_m3s[made.terminal[i]] > held[i] * (1 + 1e-6)}
        after = (opened - plenty) | short
        if after == opened:
            break
        # Of boxes that are opened and closed in turn one is opened at a time: the one that lacks most.
        if after in seen and short:
            after = opened | {
                min(short, key=lambda i: (found.pressure_pa[made.into[i][0]] / max(made.box_pa[i], 1e-9), i))
            }
        if after in seen:
            break
        opened = after
    flows = {i: float(found.flow_m3s[a]) for i, a in made.terminal.items()} | made.wanted
    design = {t.terminal_id: made.wanted.get(t.terminal_id, t.flow_m3s) for t in at.ducts.terminals}
    if at.system.flow == "load":
        design |= {i: q for i, q in box_flows(at, what).items()}
    segments = {i: float(found.flow_m3s[a]) for i, a in made.segment.items()}
    fan_m3s = float(found.flow_m3s[made.fan_arcs["supply"]])
    curve = made.net.fans[made.fan_arcs["supply"]]
    fan_pa = nw.fan_pressure(curve, fan_m3s)[0]
    point = None
    if at.fan is not None and at.fan.curve is not None and 0 < fan_m3s < curve.greatest_m3s:
        point = duty(curve, fan_m3s, drive_of(at.system, at.fan).figure, at.fan.motor.figure)
    names = {arc: way for way, arc in made.fan_arcs.items()}
    left = {i: float(found.pressure_pa[n]) for i, n in made.end_node.items()}
    beyond = _cut_off(at, what)
    return Flows(
        what,
        flows,
        segments,
        _of_rooms(at, what, flows, {i: float(found.pressure_pa[n]) for i, n in made.room_node.items()}),
        fan_m3s,
        fan_pa,
        point,
        tuple(names[a] for a in found.stalled if not isinstance(made.net.fans[a], Steady)),
        _back_duties(at, made, found),
        tuple(sorted(opened)),
        tuple(i for i, q in flows.items() if q < -1e-6),
        beyond,
        design,
        {t.terminal_id: t.flow_m3s for w in ("return", "extract") if w in at.leaving for t in at.leaving[w].terminals},
        left,
        float(found.pressure_pa[made.root]),
        tuple(
            (made.names[a], float(found.pressure_pa[made.net.start[a]] - found.pressure_pa[made.net.end[a]]))
            for a in made.unit
        ),
        found.converged,
        found.steps,
        found.residual_pa,
        found.residual_m3s,
        made.names[found.worst_arc],
    )


def _back_duties(at: Case, made: Built, found: nw.Solved) -> dict[str, Duty]:
    points = {}
    for way, arc in made.fan_arcs.items():
        curve, q = made.net.fans[arc], float(found.flow_m3s[arc])
        fan = at.fans.get(way)
        if way != "supply" and fan is not None and isinstance(curve, Curve) and 0 < q < curve.greatest_m3s:
            points[way] = duty(curve, q, drive_of(at.system, fan).figure, fan.motor.figure)
    return points


def _cut_off(at: Case, what: WhatIf) -> tuple[str, ...]:
    """Rooms whose every supply terminal lies behind a shut damper."""
    shut = set(what.shut)
    if not shut:
        return ()
    open_, all_ = set(), set()
    for t in at.ducts.terminals:
        all_.add(t.room_id)
        if not shut & set(at.ducts.path(t.segment_id)):
            open_.add(t.room_id)
    return tuple(sorted(all_ - open_))


def _of_rooms(at: Case, what: WhatIf, flows: dict[str, float], pressure_pa: dict[str, float]) -> tuple[RoomGets, ...]:
    """Design and real supply air of rooms, needs that are not met, and cooling that is missing."""
    own: dict[str, list[TerminalResult]] = {}
    for t in at.ducts.terminals:
        own.setdefault(t.room_id, []).append(t)
    held = box_flows(at, what)
    made = []
    for row in at.air.rooms:
        if row.room_id not in own:
            continue
        real = sum(flows[t.terminal_id] for t in own[row.room_id])
        design = sum(held.get(t.terminal_id, t.flow_m3s) for t in own[row.room_id])
        known = at.rooms[row.room_id]
        # With boxes a room asks for less than its greatest flow; then only a starved one is short.
        share = 1.0 if not held else min(design / row.flow_m3s, 1.0) if row.flow_m3s > 0 else 1.0
        short = tuple(
            n
            for n, need in zip(NEEDS, row.needs_m3s)
            if n in row.carried and real < need * share * (1 - SHORT) and need * share <= design * (1 + SHORT)
        )
        lacks = 0.0
        supply_c = what.air_c if what.air_c is not None else at.air.supply_c
        fall = known.figures.cooling_c.figure - supply_c
        if "cooling" in row.carried and known.peak_w > 0:
            wanted = (
                row.need("cooling") * share * at.air.heat_j_m3k * (known.figures.cooling_c.figure - at.air.supply_c)
            )
            lacks = max(0.0, min(wanted, known.peak_w) - real * at.air.heat_j_m3k * thinner(what) * fall)
            lacks = lacks if lacks > SHORT * wanted else 0.0
            if lacks and "cooling" not in short and row.need("cooling") * share <= design * (1 + SHORT):
                short = ("cooling", *short)
        made.append(
            RoomGets(
                row.room_id,
                design,
                real,
                short,
                lacks if "cooling" in short else 0.0,
                0.0,
                pressure_pa.get(row.room_id, 0.0),
            )
        )
    return tuple(made)


def with_temperatures(at: Case, found: Flows, climate: Climate | Missing, memo: Memo) -> Flows:
    """The same with how much warmer rooms get that lack cooling: the load engine with what reaches them as the limit of
    their plant.
    """
    lacking = {r.room_id: r for r in found.rooms if r.lacks_w > 0}
    if not lacking or isinstance(climate, Missing):
        return found
    limited = []
    for room_id, gets in lacking.items():
        room, known = find(at.project.rooms, room_id), at.rooms[room_id]
        # In tenths of a watt, and the very room of last time where neither moved: its loads are known then.
        least = round(max(1.0, min(known.peak_w - gets.lacks_w, known.figures.cooling_limit_w.figure)), 1)
        limited.append(
            memo.one(
                "limited room",
                key(room, least),
                lambda r=room, w=least: structs.replace(r, cooling_limit_w=Pinned(value=w)),
            )
        )
    warm = dict(zip(lacking, loads_with(at.project, climate, limited, at.rooms, memo)))
    rooms = []
    for r in found.rooms:
        after = warm.get(r.room_id)
        if r.room_id in lacking and isinstance(after, RoomResult):
            before = at.rooms[r.room_id]
            over = max(0.0, float((after.air_c - before.air_c)[before.counted].max()))
            r = replace(r, warmer_k=over)
        rooms.append(r)
    return replace(found, rooms=tuple(rooms))


def worst_rooms(found: Flows, most: int = 5) -> Sequence[RoomGets]:
    """Rooms that fall short most."""
    return sorted((r for r in found.rooms if r.short), key=lambda r: r.real_m3s / max(r.design_m3s, 1e-9))[:most]


def ask(results, system_id: str, what: WhatIf, memo: Memo) -> Flows | Missing:
    """What every room gets under a what-if, with how warm it gets."""
    at = case_in(results, system_id)
    if isinstance(at, Missing):
        return at
    return with_temperatures(at, real_flows(at, what), results.climate, memo)


STATES = (
    WhatIf(),
    WhatIf(dampers_open=True),
    WhatIf(filter="clean"),
    WhatIf(filter="final"),
    WhatIf(pressed=True),
    WhatIf(turned_down=True),
    WhatIf(leaking=True),
)


def every_state(results, system_id: str, what: WhatIf) -> tuple[Flows, ...]:
    """The system in every state its fan may find it in, and in the one that is asked; those that could be solved."""
    at = case_in(results, system_id)
    if isinstance(at, Missing):
        return ()
    states = [s for s in STATES if not s.turned_down or at.system.flow == "load"]
    return tuple(
        f for f in (real_flows(at, s) for s in (*states, *((what,) if what not in states else ()))) if f.converged
    )
