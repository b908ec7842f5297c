"""What a network is made from: the case of a system in results, the fans and parts that stand in it."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.balance import component_loss
from garnetfin.core.fans.ranking import rank
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.resolve import part_figure
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, RoomResult
from garnetfin.engine.stages.fan import DUCT_EXPONENT, at_rated, fan_table, lifted_parts
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
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
    fan: FanResult | None
    leaving: dict[str, DuctResult]  # return, extract, outdoor, those that are drawn
    rooms: dict[str, RoomResult]


def case_of(
    project: Project, system: AirSystem, air, ducts, fan, leaving: dict[Any, Any], rooms: dict[Any, Any]
) -> Case | Missing:
    for before in (air, ducts):
        if isinstance(before, Missing):
            return before
    if ducts.flow_m3s <= 0:
        return Missing("no flow", "Give a room a load or outdoor air")
    return Case(
        project,
        system,
        air,
        ducts,
        fan if isinstance(fan, FanResult) else None,
        {w: d for w, d in leaving.items() if isinstance(d, DuctResult) and d.flow_m3s > 0},
        {i: r for i, r in rooms.items() if isinstance(r, RoomResult)},
    )


def case_in(results, system_id: str) -> Case | Missing:
    """The case of a system in results."""
    system = find(results.project.air_systems, system_id)
    if system is None:
        return Missing("no system", "Add an air system")
    return case_of(
        results.project,
        system,
        results.air[system_id],
        results.ducts[system_id],
        results.fans[system_id],
        {way: results.network(system_id, way) for way in ("return", "extract", "outdoor")},
        results.rooms,
    )


def unit_parts(at: Case, what: WhatIf = WhatIf()) -> list[tuple[str, float, float]]:
    """(name, Pa at the rated flow, exponent) of what the supply fan lifts in the unit, with the filter as loaded as
    `what` says.
    """
    drops = []
    for part in lifted_parts(at.system):
        pa = at_rated(at.system, part, at.ducts.flow_m3s)
        if part.kind == "filter" and what.filter:
            pa *= part_figure(part, what.filter).figure
        drops.append((part.title, pa, part.grows))
    if "outdoor" in at.leaving:
        drops.append(
            (
                "Outdoor-air ducts",
                at.leaving["outdoor"].runs.fan_pa * (at.system.rated_m3s / at.ducts.flow_m3s) ** DUCT_EXPONENT,
                DUCT_EXPONENT,
            )
        )
    if at.fan is not None and at.fan.effect_pa > 0:
        drops.append(
            ("System effect at the fan", at.fan.effect_pa * (at.system.rated_m3s / at.ducts.flow_m3s) ** 2, 2.0)
        )
    return drops


def supply_curve(at: Case, what: WhatIf, density: float):
    """The chosen fan as it turns, or what stands for it."""
    if at.fan is None or at.fan.curve is None:
        wanted = (
            at.fan.wanted_pa
            if at.fan is not None
            else at.ducts.runs.fan_pa
            + sum(component_loss(at.ducts.flow_m3s, at.system.rated_m3s, pa, n) for _, pa, n in unit_parts(at))
        )
        return Steady(at.ducts.flow_m3s, wanted, speed=what.speed)
    return at.fan.curve.at(at.fan.curve.speed_rpm * what.speed, density)


def leaving_fan(at: Case, flow_m3s: float, pressure_pa: float):
    """(model, rpm, duty) of the best fan for air that leaves, None where none can do it."""
    known = fan_table(at.project.book)
    first = next(
        iter(rank(known.values(), flow_m3s, pressure_pa, at.air.density_kg_m3, at.air.figures.motor_efficiency.figure)),
        None,
    )
    return None if first is None or first.point is None else (known[first.fan_id], first.speed_rpm, first.point)


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
