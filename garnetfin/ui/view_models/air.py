"""The Air view: train, psychrometric chart, states, balance, coil check, plant, as plain values in the units in
force.
"""

from dataclasses import dataclass

import numpy as np

from garnetfin import display
from garnetfin.engine.results import AirResult, FanResult, Missing, Point, TrainResult, there
from garnetfin.engine.stages.train import point_at
from garnetfin.project.lookup import find
from garnetfin.project.parts import KINDS
from garnetfin.ui.state import State
from garnetfin.ui.view_models.psychro import OUTDOOR, RETURN, StateVM, natures_of, states


@dataclass(frozen=True)
class PartVM:
    id: str
    kind: str
    title: str
    note: str
    side: str  # supply, return
    before: str  # nature of the air in front of it, and behind it
    behind: str
    works: bool  # gives or takes heat at this point
    why: tuple = ()


@dataclass(frozen=True)
class TrainVM:
    parts: tuple[PartVM, ...]
    states: tuple[StateVM, ...]
    chosen: str
    rooms: tuple[str, str]  # how many, and the air they get
    returned: str
    recovery: str
    findings: frozenset[str]


def point_of(state: State, kind: str) -> Point | Missing:
    """The design point in force: cooling, heating, or the hour that is picked."""
    found = (
        state.results.trains.get(state.show.system_id, Missing("no system", "Add an air system"))
        if state.known
        else Missing("computing")
    )
    if isinstance(found, Missing):
        return found
    if kind == "heating":
        return found.heating
    if kind == "hour" and state.show.hour is not None:
        return point_at(state.results, state.show.system_id, *state.show.hour)
    return found.cooling


def train(state: State, point: Point) -> TrainVM:
    results, units, system = state.results, state.show.units, there(state.system)
    found: TrainResult = results.trains[system.id]
    flows: AirResult = results.air[system.id]
    natures, parts, before, side = natures_of(found), [], OUTDOOR, "supply"
    fan = results.fans.get(system.id)
    lifted = dict(zip((p.id for p in system.parts), (p.title for p in system.parts)))
    pressure = dict(fan.part_pa) if isinstance(fan, FanResult) else {}
    for part in found.parts:
        if part.kind == "rooms":
            side, before = "return", RETURN
            continue
        heat = point.heat_w(part.id)
        note = _note(state, found, point, part, pressure.get(lifted[part.id]), heat)
        parts.append(
            PartVM(
                part.id,
                part.kind,
                find(system.parts, part.id).title,
                note,
                side,
                before,
                natures[part.id],
                abs(heat) > 1.0,
                ("part", system.id, part.id, point.month, point.hour),
            )
        )
        before = natures[part.id]
    recovery = next((p for p in found.parts if p.kind == "recovery"), None)
    return TrainVM(
        tuple(parts),
        states(state, found, point),
        next(iter(state.selection.of("part")), ""),
        (f"{sum(r.flow_m3s > 0 for r in flows.rooms)} rooms", display.with_unit("room_flow", flows.flow_m3s, units)),
        f"Return from rooms, {display.with_unit('room_flow', point.node('rooms')[2] / flows.density_kg_m3, units)}",
        f"{float(point.solved.recovery_share[point.i]) * recovery.get('sensible') * 100:.0f} %" if recovery else "",
        frozenset(
            f.object_id.partition("/")[2]
            for f in results.findings
            if f.kind == "part" and f.object_id.startswith(f"{system.id}/")
        ),
    )


def _note(state: State, found: TrainResult, point: Point, part, drop: float | None, heat: float) -> str:
    units = state.show.units
    words = [display.with_unit("pressure", drop, units)] if drop is not None else []
    match part.kind:
        case "supply_fan" | "return_fan":
            words = [
                display.with_unit("pressure", part.get("pressure_pa"), units),
                display.with_unit("load", heat, units, 1),
            ]
        case "exhaust_fan":
            words = [display.with_unit("pressure", part.get("pressure_pa"), units)]
        case "mixing":
            handler = point.of(point.solved.handler_kg_s)
            share = point.of(point.solved.outdoor_kg_s) / handler if handler else 0.0
            words = [f"{share * 100:.0f} % outdoor"]
        case "cooling" | "heating" | "preheat" | "precool" | "recovery" | "plenum":
            words.append(display.with_unit("load", abs(heat), units, 1) if abs(heat) > 1.0 else "off")
        case "duct":
            leaks = display.number(part.get("leakage") * 100, 1)
            words = [display.with_unit("load", heat, units, 1), f"leaks {leaks} %"]
        case "humidifier":
            water = float(point.solved.water_kg_s.get(part.id, np.zeros(1))[point.i])
            words.append(display.with_unit("moisture_flow", water, units) if water > 3e-6 else "off")
        case "terminals":
            reheat, unit = point.of(point.solved.reheat_w.sum(axis=0)), point.solved.unit_w[:, point.i]
            if reheat > 1:
                words = [f"reheat {display.with_unit('load', reheat, units, 1)}"]
            elif np.abs(unit).sum() > 1:
                words = [f"in rooms {display.with_unit('load', float(np.abs(unit).sum()), units, 1)}"]
    return " · ".join(words)


ADDABLE = (
    "preheat",
    "precool",
    "mixing",
    "cooling",
    "heating",
    "humidifier",
    "recovery",
    "filter",
    "attenuator",
    "supply_fan",
    "duct",
    "intake",
    "plenum",
    "return_fan",
    "exhaust_fan",
    "relief",
)


def addable(state: State) -> tuple[tuple[str, str], ...]:
    """Kinds that may be put in now."""
    once = {"recovery", "mixing", "supply_fan", "duct", "plenum", "return_fan", "exhaust_fan", "relief", "intake"}
    there = {p.kind for p in state.system.parts} if state.system else set()
    return tuple((k, KINDS[k].name) for k in ADDABLE if not (k in once and k in there))
