"""Pressure from the intake to every room and back: total and static pressure before and behind every part and duct of a
run.
"""

from dataclasses import dataclass

from garnetfin.core.ducts.balance import component_loss
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import Case, unit_parts
from garnetfin.engine.results import DuctResult, TerminalResult
from garnetfin.engine.stages.fan import leaving_parts

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
    density, flow = at.air.density_kg_m3, at.ducts.flow_m3s
    casing = density / 2 * FACE_M_S**2
    total = 0.0

    def through(side: str, name: str, ref: tuple[str, str], loss: float, velocity_pa: float, speed: float) -> None:
        nonlocal total
        total -= loss
        steps.append(Step(side, name, ref, loss, total, total - velocity_pa, speed))

    parts = unit_parts(at, WhatIf(filter=filter_state))
    kinds = {p.title: p for p in at.system.parts}
    order = [p.kind for p in at.system.parts]
    fan_at = order.index("supply_fan") if "supply_fan" in order else len(order)
    behind = {p.title for p in at.system.parts[fan_at + 1 :]}
    needed = (
        sum(component_loss(flow, at.system.rated_m3s, pa, n) for _, pa, n in parts)
        + at.ducts.runs.fan_pa
        + (at.fan.allowance_pa if at.fan is not None else 0.0)
    )
    for late in (False, True):
        for name, pa, grows in parts:
            if (name in behind) == late:
                through(
                    "unit",
                    name,
                    ("part", kinds[name].id if name in kinds else ""),
                    component_loss(flow, at.system.rated_m3s, pa, grows),
                    casing,
                    FACE_M_S,
                )
        if not late:
            through("unit", "Supply fan", ("part", "supply_fan"), -needed, casing, FACE_M_S)
    if at.fan is not None and at.fan.allowance_pa > 0:
        through("unit", "Margin on pressure", ("system", at.system.id), at.fan.allowance_pa, casing, FACE_M_S)
    _ducts(at.ducts, terminal, through, density)
    row = next((r for r in at.air.rooms if r.room_id == terminal.room_id), None)
    steps.append(Step("room", "Room", ("room", terminal.room_id), 0.0, 0.0, 0.0, 0.0))
    total = 0.0
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
        parts_back = leaving_parts(at.system) if way == "return" else ()
        through(
            way,
            f"{way.capitalize()} fan",
            ("part", f"{way}_fan"),
            -(back.runs.fan_pa + sum(pa for _, pa in parts_back)),
            casing,
            FACE_M_S,
        )
        for p, pa in reversed(parts_back):
            through(way, f"{p.title}, air that leaves", ("part", p.id), pa, casing, FACE_M_S)
        break
    return tuple(steps)


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
        through(side, "Surplus that no damper takes", ("terminal", terminal.terminal_id), terminal.left_pa, 0.0, 0.0)


def _ducts(ducts: DuctResult, terminal: TerminalResult, through, density: float) -> None:
    """Ducts from the unit to a terminal, what its dampers take, the terminal itself: down to the room at 0."""
    for segment_id in ducts.path(terminal.segment_id):
        _duct(ducts, segment_id, "supply", through, density)
    _spare(terminal, "supply", through)
    through(
        "supply", f"Terminal {terminal.label}", ("terminal", terminal.terminal_id), terminal.point.pressure_pa, 0.0, 0.0
    )
