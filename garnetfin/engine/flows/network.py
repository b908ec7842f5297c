"""What a network is made from: the case of a system in results, the fans and parts that stand in it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.fans.curve import Curve
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.resolve import part_figure
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, Results, RoomResult
from garnetfin.engine.stages.fan_duty import Drop, UnitAir, unit_air
from garnetfin.project.lookup import find
from garnetfin.project.systems import FAN_WAYS, AirSystem
from garnetfin.project.tree import Project


@dataclass(frozen=True, slots=True)
class Steady:
    """Stands for a fan that is not chosen yet: falls gently through the duty that is wanted."""

    flow_m3s: float
    pressure_pa: float
    stall_m3s: float = 0.0
    speed: float = 1.0

    @property
    def greatest_m3s(self) -> float:
        return 2.5 * self.flow_m3s * self.speed

    def pressure(self, q) -> NDArray[np.float64]:
        return (
            self.pressure_pa * self.speed**2 * (1.2 - 0.2 * (np.asarray(q, float) / (self.flow_m3s * self.speed)) ** 2)
        )


@dataclass(frozen=True, slots=True, eq=False)
class Case:
    """What a network is built from: one system of one set of results."""

    project: Project
    system: AirSystem
    air: AirResult
    ducts: DuctResult
    fans: dict[str, FanResult]  # those that could be computed, by way
    leaving: dict[str, DuctResult]  # return, extract, outdoor, those that are drawn
    rooms: dict[str, RoomResult]
    unit: UnitAir

    @property
    def fan(self) -> FanResult | None:
        return self.fans.get("supply")


def case_of(
    project: Project,
    system: AirSystem,
    air: AirResult | Missing,
    ducts: DuctResult | Missing,
    fans: Mapping[str, FanResult | Missing],
    leaving: Mapping[str, DuctResult | Missing],
    rooms: Mapping[str, RoomResult | Missing],
) -> Case | Missing:
    if isinstance(air, Missing):
        return air
    if isinstance(ducts, Missing):
        return ducts
    if ducts.flow_m3s <= 0:
        return Missing("no flow", "Give a room a load or outdoor air")
    drawn = {w: d for w, d in leaving.items() if isinstance(d, DuctResult) and d.flow_m3s > 0}
    return Case(
        project,
        system,
        air,
        ducts,
        {w: f for w, f in fans.items() if isinstance(f, FanResult)},
        drawn,
        {i: r for i, r in rooms.items() if isinstance(r, RoomResult)},
        unit_air(system, air, ducts, drawn),
    )


def case_in(results: Results, system_id: str) -> Case | Missing:
    """The case of a system in results."""
    system = results.system(system_id)
    if system is None:
        return Missing("no system", "Add an air system")
    return case_of(
        results.project,
        system,
        results.air[system_id],
        results.ducts[system_id],
        {way: results.fan(system_id, way) for way in FAN_WAYS},
        {way: results.network(system_id, way) for way in ("return", "extract", "outdoor")},
        results.rooms,
    )


def unit_parts(at: Case, what: WhatIf = WhatIf()) -> list[Drop]:
    """What the supply fan lifts in the unit, in the order of the air, with the filter as loaded as `what` says."""
    drops = [with_filter(at, d, what) for d in (*at.unit.outside, *at.unit.inside)]
    if at.fan is not None and at.fan.effect_pa > 0:
        drops.append(Drop("System effect at the fan", at.fan.effect_pa, 2.0))
    return drops


def with_filter(at: Case, drop: Drop, what: WhatIf) -> Drop:
    part = find(at.system.parts, drop.part_id) if drop.part_id else None
    if part is None or part.kind != "filter" or not what.filter:
        return drop
    return replace(drop, pressure_pa=drop.pressure_pa * part_figure(part, what.filter).figure)


def supply_curve(at: Case, what: WhatIf, density: float) -> Curve | Steady:
    """The chosen fan as it turns, or what stands for it."""
    if at.fan is None or at.fan.curve is None:
        way = at.unit.ways.get("supply")
        # Without a fan the network has no margin either.
        bare = way.wanted_pa - way.allowance_pa if way is not None else 0.0
        wanted = at.fan.wanted_pa if at.fan is not None else bare
        return Steady(at.ducts.flow_m3s, wanted, speed=what.speed)
    return at.fan.curve.at(at.fan.curve.speed_rpm * what.speed, density)


def leaving_curve(at: Case, way: str, density: float) -> Curve | Steady | None:
    """The fan of a way of air that leaves, what stands for it, or None where none is there."""
    load = at.unit.ways.get(way)
    if load is None:
        return None
    fan = at.fans.get(way)
    if fan is None or fan.curve is None:
        return Steady(load.flow_m3s, load.wanted_pa)
    return fan.curve.at(fan.curve.speed_rpm, density)


def box_flows(at: Case, what: WhatIf) -> dict[str, float]:
    """Flow that each variable-volume box holds; none in a system of constant flow."""
    if at.system.flow != "load":
        return {}
    row = {r.room_id: i for i, r in enumerate(at.air.rooms)}
    held = {}
    for t in at.ducts.terminals:
        i = row.get(t.room_id)
        if i is None or at.air.rooms[i].flow_m3s <= 0:
            continue
        share = t.flow_m3s / at.air.rooms[i].flow_m3s
        whole = (
            at.air.rooms[i].least_m3s
            if what.turned_down
            else float(at.air.flow_hours[i, at.air.block_hour])
            if at.air.block_at
            else at.air.rooms[i].flow_m3s
        )
        held[t.terminal_id] = max(share * whole, 1e-6)
    return held


def thinner(what: WhatIf) -> float:
    """Density of other air over that of the design [-]."""
    return 1.0 if what.air_c is None else 293.15 / (273.15 + what.air_c)
