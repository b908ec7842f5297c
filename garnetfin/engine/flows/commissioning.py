"""The commissioning sheet: proportional balancing simulated on the real network, in the order it is done on site."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts import network as nw
from garnetfin.core.ducts.fittings import dampers
from garnetfin.core.ducts.fittings.tables import invert
from garnetfin.core.ducts.proportional import proportional
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import Case, Steady
from garnetfin.engine.flows.network_builder import build
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Missing, SegmentResult
from garnetfin.project.lookup import Same, find


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A damper in its turn.

    Flows [m3/s], ratios of design; angle None where no blade does it; computed: as pressure bookkeeping sets it.
    """

    order: int
    segment_id: str
    terminal_id: str  # "" for the damper of a branch
    label: str
    group: str
    design_m3s: float
    first: float
    target: float
    reading_m3s: float
    final: float
    angle_deg: float | None
    computed_deg: float | None
    reference: bool
    within: bool


@dataclass(frozen=True, slots=True)
class Sheet:
    rows: tuple[SheetRow, ...]
    speed_ratio: float  # of the fan, set last
    share: float  # tolerance
    solves: int
    spread: float  # greatest distance of a terminal from its design flow at the end
    passes: int


MOST_KNOWN = 8
_known: dict[tuple[Any, ...], Sheet | Missing] = {}


def _key(at: Case, passes: int) -> tuple[Any, ...]:
    return (
        Same(at.ducts),
        Same(at.air),
        Same(at.fan),
        tuple(Same(d) for d in at.leaving.values()),
        Same(at.system),
        Same(at.project.book),
        passes,
    )


def remembered(at: Case, passes: int) -> Sheet | Missing | None:
    """What was found for this very system as it stands, None where nobody has worked it out."""
    return _known.get(_key(at, passes))


def set_on_site(at: Case) -> dict[str, SegmentResult]:
    """Ducts with a damper that is set on site, by id; a plate is not."""
    return {i: r for i, r in at.ducts.segments.items() if r.damper is not None and r.damper.free is None}


def commissioning(at: Case, passes: int = 1, progress: Callable[[float], None] = lambda share: None) -> Sheet | Missing:
    """One row a damper, remembered. passes: a second one takes back what drifted. `progress` may raise to stop."""
    known = remembered(at, passes)
    if known is None:
        known = _known[_key(at, passes)] = _simulated(at, passes, progress)
        for oldest in list(_known)[:-MOST_KNOWN]:
            _known.pop(oldest, None)
    return known


def _simulated(at: Case, passes: int, progress: Callable[[float], None]) -> Sheet | Missing:
    if at.system.flow == "load":
        return Missing("boxes hold their flow", "A variable-flow system is set at its boxes, not at dampers")
    segments = set_on_site(at)
    if not segments:
        return Missing("no dampers", "Put balancing dampers into ducts")
    open_ = build(at, WhatIf(dampers_open=True))
    ids = list(segments)
    arc = np.array([open_.segment[i] for i in ids])
    beyond: dict[str, list[Any]] = {i: [] for i in ids}
    for t in at.ducts.terminals:
        for i in at.ducts.path(t.segment_id):
            if i in beyond:
                beyond[i].append(t)
    wanted = np.array([sum(t.flow_m3s for t in beyond[i]) for i in ids])
    live = np.flatnonzero(wanted > 0)
    ids, arc, wanted = [ids[i] for i in live], arc[live], wanted[live]
    state = {"start": open_.start_m3s, "count": 0}

    def ratios(k: np.ndarray) -> np.ndarray:
        whole = open_.net.k.copy()
        whole[arc] += k
        found = nw.solve(replace(open_.net, k=whole), state["start"], 1e-4, 1e-7)
        state["start"], state["count"] = found.flow_m3s, state["count"] + 1
        answer: NDArray[Any] = np.abs(found.flow_m3s[arc]) / wanted
        return answer

    groups = _groups(at, ids, beyond)
    steps, k = proportional(
        ratios,
        len(ids),
        [g for _, g in groups],
        check=progress,
        most_passes=passes,
        hints=np.array([segments[i].damper.added_k for i in ids]),
    )
    speed, final = _turn(at, open_, arc, k, wanted, state)
    named = {i: name for name, g in groups for i in g}
    share = assumption(at.project.book, "balance_share").figure
    last = {s.damper: s for s in steps}
    by_end = {t.segment_id: t for t in at.ducts.terminals}
    rows = []
    for order, s in enumerate((x for x in steps if last[x.damper] is x), 1):
        r, t = segments[ids[s.damper]], by_end.get(ids[s.damper])
        room = find(at.project.rooms, t.room_id) if t is not None else None
        angle = (
            invert(dampers.blade(r.section), "k", dampers.open_k(r.section) + float(k[s.damper]))
            if k[s.damper] > 0
            else 0.0
        )
        rows.append(
            SheetRow(
                order,
                ids[s.damper],
                t.terminal_id if t else "",
                f"{t.label} {room.name if room else ''}".strip() if t else f"branch {ids[s.damper]}",
                named[s.damper],
                float(wanted[s.damper]),
                s.first,
                s.target,
                s.reached * float(wanted[s.damper]),
                float(final[s.damper]),
                angle,
                r.damper.angle_deg if k[s.damper] > 0 or r.damper.added_k > 0 else 0.0,
                s.reference,
                abs(float(final[s.damper]) - 1) <= share,
            )
        )
    ends = [float(final[i]) for i, x in enumerate(ids) if x in by_end]
    return Sheet(tuple(rows), speed, share, state["count"], max((abs(x - 1) for x in ends), default=0.0), passes)


def _groups(at: Case, ids: list[str], beyond: dict[str, list[Any]]) -> list[tuple[str, list[int]]]:
    """Dampers set against each other, deepest first: those whose next damper towards the fan is the same."""
    place, found = {x: i for i, x in enumerate(ids)}, {}
    for i, x in enumerate(ids):
        above = [s for s in at.ducts.path(x)[:-1] if s in place]
        found.setdefault(above[-1] if above else "", []).append(i)
    depth = {s: len(at.ducts.path(s)) if s else 0 for s in found}
    return [("all" if not s else f"beyond {s}", found[s]) for s in sorted(found, key=lambda s: (-depth[s], s))]


def _turn(at: Case, open_, arc, k, wanted, state) -> tuple[float, np.ndarray]:
    """(speed over that of the chosen fan, ratios) once the fan is turned until the whole flow is right."""
    fan = open_.fan_arcs["supply"]
    curve, speed, whole = open_.net.fans[fan], 1.0, open_.net.k.copy()
    whole[arc] += k
    goal = at.ducts.flow_m3s
    for _ in range(12):
        turned = (
            replace(curve, speed=curve.speed * speed)
            if isinstance(curve, Steady)
            else curve.at(curve.speed_rpm * speed, curve.density_kg_m3)
        )
        found = nw.solve(replace(open_.net, k=whole, fans=open_.net.fans | {fan: turned}), state["start"], 1e-4, 1e-7)
        state["start"], state["count"] = found.flow_m3s, state["count"] + 1
        ratio = float(found.flow_m3s[fan]) / goal
        if abs(ratio - 1) < 1e-4:
            break
        speed /= ratio
    return speed, np.abs(found.flow_m3s[arc]) / wanted
