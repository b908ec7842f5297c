"""Pressure from the intake to every room and back: total and static pressure before and behind every part and duct of a
run.
"""

from collections.abc import Callable
from dataclasses import dataclass

from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import Case, unit_parts
from garnetfin.engine.results import DuctResult, TerminalResult
from garnetfin.engine.stages.fan_duty import LEAST_M3S, Drop

FACE_M_S = 2.5  # velocity in the casing of the unit, for its static pressures


@dataclass(frozen=True, slots=True)
class Step:
    """One part of the way: what it loses [Pa] (a fan adds), total and static pressure behind it against the rooms [Pa],
    velocity there [m/s].
    """

    side: str  # unit, supply, room, return, extract
    name: str
    ref: tuple[str, str]  # kind and id of what it is
    loss_pa: float
    total_pa: float
    static_pa: float
    velocity_m_s: float


def run_of(at: Case, terminal: TerminalResult, filter_state: str = "") -> tuple[Step, ...]:
    """The run through one supply terminal at design flow: intake, unit, ducts, damper, terminal, room; then its room's
    grille and the way back.
    """
    steps: list[Step] = []
    density = at.air.density_kg_m3
    casing = density / 2 * FACE_M_S**2
    total = 0.0

    def through(side: str, name: str, ref: tuple[str, str], loss: float, velocity_pa: float, speed: float) -> None:
        nonlocal total
        total -= loss
        steps.append(Step(side, name, ref, loss, total, total - velocity_pa, speed))

    parts = unit_parts(at, WhatIf(filter=filter_state))
    parts += [Drop(n, pa, 2.0) for n, pa in (("Outdoor air throttled", at.unit.booked.outdoor_damper),) if pa > 0]
    order = [p.id for p in at.system.parts]
    kinds = [p.kind for p in at.system.parts]
    behind = set(order[kinds.index("supply_fan") + 1 :]) if "supply_fan" in kinds else set()
    margin = at.fan.allowance_pa if at.fan is not None else 0.0
    lifted = at.unit.booked.rooms
    needed = sum(d.pressure_pa for d in parts) + at.ducts.runs.fan_pa + margin + lifted
    for late in (False, True):
        for d in parts:
            if (d.part_id in behind) == late:
                through("unit", d.name, ("part", d.part_id), d.pressure_pa, casing, FACE_M_S)
        if not late:
            through("unit", "Supply fan", ("part", "supply_fan"), -needed, casing, FACE_M_S)
    if at.fan is not None and at.fan.allowance_pa > 0:
        through("unit", "Margin on pressure", ("system", at.system.id), at.fan.allowance_pa, casing, FACE_M_S)
    _ducts(at.ducts, terminal, through, density)
    row = next((r for r in at.air.rooms if r.room_id == terminal.room_id), None)
    total = lifted
    steps.append(Step("room", "Room", ("room", terminal.room_id), 0.0, total, total, 0.0))
    for way in ("return", "extract"):
        back = at.leaving.get(way)
        grille = (
            next((t for t in back.terminals if t.room_id == terminal.room_id), None)
            if back is not None and row is not None
            else None
        )
        if grille is None:
            continue
        through(
            way,
            f"Grille {grille.label}",
            ("terminal", grille.terminal_id),
            grille.point.pressure_pa,
            density / 2 * grille.point.neck_m_s**2,
            grille.point.neck_m_s,
        )
        _spare(grille, way, through)
        for segment_id in reversed(back.path(grille.segment_id)):
            _duct(back, segment_id, way, through, density)
        _leaving(at, way, through, casing)
        break
    return tuple(steps)


def _leaving(at: Case, way: str, through: Callable[..., None], casing: float) -> None:
    """From the end of return or extract ducts outdoors: what stands before the fan, the fan, the way of relief."""

    def all_of(drops: tuple[Drop, ...]) -> None:
        for d in drops:
            if d.pressure_pa > 0:
                through(way, d.name, ("part", d.part_id), d.pressure_pa, casing, FACE_M_S)

    unit, load = at.unit, at.unit.ways.get(way)
    all_of(unit.back if way == "return" else ())
    if load is not None:
        if load.allowance_pa > 0:
            through(way, "Margin on pressure", ("system", at.system.id), load.allowance_pa, casing, FACE_M_S)
        through(way, f"{way.capitalize()} fan", ("part", f"{way}_fan"), -load.wanted_pa, casing, FACE_M_S)
    if way != "return" or unit.relieved_m3s <= LEAST_M3S:
        return
    if "exhaust" in unit.ways:
        through(way, "Exhaust fan", ("part", "exhaust_fan"), -unit.booked.exhaust, casing, FACE_M_S)
    all_of((*reversed(unit.relief), Drop("Relief damper", unit.booked.relief_damper, 2.0)))


def _duct(ducts: DuctResult, segment_id: str, side: str, through, density: float) -> None:
    """A duct with the damper at its start; what a pinned blade takes stands among the duct's own fittings."""
    s = ducts.segments[segment_id]
    velocity_pa = density / 2 * s.velocity_m_s**2
    through(side, f"Duct {segment_id}", ("segment", segment_id), s.loss_pa, velocity_pa, s.velocity_m_s)
    if s.damper is not None and not s.damper_pinned and s.damper.surplus_pa > 0.005:
        through(
            side, f"Damper in {segment_id}", ("segment", segment_id), s.damper.surplus_pa, velocity_pa, s.velocity_m_s
        )


def _spare(terminal: TerminalResult, side: str, through) -> None:
    """Surplus that a damper in the terminal's neck takes, or none does."""
    if terminal.neck and terminal.damper.angle_deg is not None and terminal.damper.surplus_pa > 0.005:
        through(
            side,
            f"Damper in the neck of {terminal.label}",
            ("terminal", terminal.terminal_id),
            terminal.damper.surplus_pa,
            0.0,
            0.0,
        )
    if terminal.left_pa > 0.005:
        through(
            side, "Excess pressure that no damper takes", ("terminal", terminal.terminal_id), terminal.left_pa, 0.0, 0.0
        )


def _ducts(ducts: DuctResult, terminal: TerminalResult, through, density: float) -> None:
    """Ducts from the unit to a terminal, what its dampers take, the terminal itself: down to the room at 0."""
    for segment_id in ducts.path(terminal.segment_id):
        _duct(ducts, segment_id, "supply", through, density)
    _spare(terminal, "supply", through)
    through(
        "supply", f"Terminal {terminal.label}", ("terminal", terminal.terminal_id), terminal.point.pressure_pa, 0.0, 0.0
    )
