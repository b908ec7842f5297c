"""Balance by resizing: smaller ducts on runs with pressure to spare, beside the dampers they make needless."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from msgspec import structs

from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.layout.duct_methods import life_cost
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import BOUGHT_LOSS, AirResult, DuctResult, FanResult, Missing, there
from garnetfin.engine.stages.duct_tree import ducts
from garnetfin.engine.stages.noise import noise_paths
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.lookup import find

ROUNDS = 8
NEAR_PA = 0.5


@dataclass(frozen=True, slots=True)
class Way:
    """One way of balancing: steel [kg], sheet [m2], money over life, dampers that are set, what they take [Pa], worst
    NC and of which terminal.
    """

    name: str
    mass_kg: float
    sheet_m2: float
    cost: float
    dampers: int
    taken_pa: float
    most_pa: float
    fan_pa: float
    worst_nc: float
    loudest: str
    over_limit: int
    spread: float  # of the runs' losses over the index run


@dataclass(frozen=True, slots=True)
class Resized:
    """Both ways, and the sizes that would be pinned: duct id -> section."""

    throttled: Way
    resized: Way
    sizes: dict[str, Section]


def resize(results, system_id: str, progress: Callable[[float], None] = lambda share: None) -> Resized | Missing:
    """Sizes for a balance without throttling. Every run keeps within the index run, its velocity and its noise limit;
    dampers take the rest.

    `progress` may raise to stop.
    """
    project, system = results.project, find(results.project.air_systems, system_id)
    before, air = results.network(system_id), results.air.get(system_id)
    for missing in (before, air):
        if isinstance(missing, Missing):
            return missing
    if system.flow == "load":
        return Missing("boxes hold their flow", "In a variable-flow system boxes take the excess pressure")
    memo, pinned, barred = Memo(), {}, set()
    now = before
    quiet = assumption(project.book, "noise_nc").figure
    goal = before.runs.fan_pa
    for round_ in range(ROUNDS):
        progress(round_ / ROUNDS)
        tried = _smaller(project, now, air, barred)
        if not tried:
            break
        trial = pinned | tried
        after = ducts(_with(project, trial), system, air, memo)
        if isinstance(after, Missing):
            break
        # What overshoots the index run or gets too loud goes back, and is not tried again.
        heard = there(noise_paths(_with(project, trial), system, air, after, results.fans[system_id], memo))
        old = noise_paths(_with(project, pinned), system, air, now, results.fans[system_id], memo)
        bad = {
            t.segment_id
            for t in after.terminals
            if t.run_pa > goal + 1e-6
            or heard.terminals[t.terminal_id].nc > max(quiet, old.terminals[t.terminal_id].nc + 0.1)
        }
        back = {s for s in tried for b in bad if s in after.path(b)}
        barred |= back
        pinned |= {s: z for s, z in tried.items() if s not in back}
        now = ducts(_with(project, pinned), system, air, memo)
        if now.runs.fan_pa > goal + 1e-6:  # neighbours' tees moved it: the whole round goes back
            pinned = {s: z for s, z in pinned.items() if s not in tried}
            barred |= set(tried)
            now = ducts(_with(project, pinned), system, air, memo)
    return Resized(
        _way(results, project, "By dampers", system, air, before, results.fans[system_id], memo),
        _way(results, _with(project, pinned), "Balance by resizing", system, air, now, results.fans[system_id], memo),
        pinned,
    )


def _with(project, sizes: dict[str, Section]):
    if not sizes:
        return project
    return structs.replace(
        project,
        segments=tuple(
            structs.replace(
                s, size=PinnedSize(shape=sizes[s.id].shape, width_m=sizes[s.id].width_m, height_m=sizes[s.id].height_m)
            )
            if s.id in sizes
            else s
            for s in project.segments
        ),
    )


def _smaller(project, now: DuctResult, air: AirResult, barred: set[str]) -> dict[str, Section]:
    """One duct a run, nearest its terminal first, whose next smaller size still leaves its runs within the index run by
    a rough figure.
    """
    spare: dict[str, float] = {}
    for t in now.terminals:
        for s in now.path(t.segment_id):
            spare[s] = min(spare.get(s, np.inf), t.surplus_pa)
    used: set[str] = set()
    found = {}
    for t in sorted(now.terminals, key=lambda t: -t.surplus_pa):
        path = now.path(t.segment_id)
        if used & {x.terminal_id for x in now.terminals if set(path) & set(found) & set(now.path(x.segment_id))}:
            continue
        for s in reversed(path):
            r, segment = now.segments[s], find(project.segments, s)
            if s in barred or s in found or isinstance(segment.size, PinnedSize) or spare[s] < NEAR_PA:
                continue
            smaller = max(
                (
                    z
                    for z in r.ladder.series.sections
                    if z.shape == r.section.shape
                    and z.area_m2 < r.section.area_m2 * 0.99
                    and z.aspect <= 4
                    and z.height_m <= r.section.height_m + 1e-9
                ),
                key=lambda z: z.area_m2,
                default=None,
            )
            if smaller is None or r.flow_m3s / smaller.area_m2 > r.velocity_limit * 1.001:
                continue
            rub = float(
                duct_gradient(
                    r.flow_m3s,
                    smaller.area_m2,
                    smaller.hydraulic_m,
                    r.make.roughness_m,
                    r.make.compression,
                    air.density_kg_m3,
                    air.viscosity_pa_s,
                )
            )
            fittings = sum(f.pressure_pa for f in r.fittings if f.reference not in BOUGHT_LOSS)
            more = (
                rub * r.straight_m
                - r.friction_pa
                + max(fittings, 0.0) * ((r.section.area_m2 / smaller.area_m2) ** 2 - 1) * 0.8
            )
            if more < spare[s]:
                found[s] = smaller
                for x in now.terminals:
                    if s in now.path(x.segment_id):
                        for y in now.path(x.segment_id):
                            spare[y] = min(spare[y], x.surplus_pa - more)
                break
    return found


def _way(
    results, project, name: str, system, air: AirResult, found: DuctResult, fan: FanResult | Missing, memo: Memo
) -> Way:
    sheet, cost = life_cost(results, found)
    heard = there(noise_paths(project, system, air, found, fan, memo))
    loud = max(heard.terminals.values(), key=lambda n: n.nc)
    takes = [r.damper.surplus_pa for r in found.segments.values() if r.damper is not None]
    losses = found.runs.loss_pa
    labels = {t.terminal_id: t.label for t in found.terminals}
    return Way(
        name,
        found.mass_kg,
        sheet,
        cost,
        sum(x > NEAR_PA for x in takes),
        float(sum(takes)),
        max(takes, default=0.0),
        found.runs.fan_pa,
        loud.nc,
        labels[loud.terminal_id],
        sum(n.nc > n.limit_nc for n in heard.terminals.values()),
        float(losses.std() / max(found.runs.fan_pa, 1e-9)),
    )
