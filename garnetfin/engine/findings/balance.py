"""Findings of the real network: fans in stall, rooms that fall short, air the wrong way, surplus nobody takes, rooms
that are too loud.
"""

from collections.abc import Iterator

from garnetfin.display import amount
from garnetfin.engine.flows.flow_results import Flows, NoiseResult
from garnetfin.engine.flows.real_flows import worst_rooms
from garnetfin.engine.results import DuctResult, FanResult, Finding, Mend, Missing
from garnetfin.project.edits.duct_runs import SetTerminal
from garnetfin.project.edits.duct_values import SetDuctChoice, SetDuctValue
from garnetfin.project.edits.equipment import SetEquipment
from garnetfin.project.edits.systems import AddPart, ChooseFan, SetFanValue
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

CUT_OFF, LEFT_PA, NAMED = 0.05, 5.0, 3


def balance_findings(
    project: Project,
    system: AirSystem,
    flows: Flows | Missing,
    ducts: DuctResult | Missing,
    fan: FanResult | Missing,
    noise: NoiseResult | Missing | None,
) -> Iterator[Finding]:
    if not isinstance(flows, Flows) or not isinstance(ducts, DuctResult):
        return
    if not flows.converged:
        yield Finding(
            "no-convergence",
            "Balance",
            "system",
            system.id,
            "The network is not solved",
            f"After {flows.steps} steps {amount('fine_pressure', flows.residual_pa, 2)} and "
            f"{amount('room_flow', flows.residual_m3s, 3)} are left, "
            f"most at {flows.worst}. The best state is shown.",
            "bad",
        )
    for way in flows.stalled:
        yield Finding(
            "in-stall",
            "Fan",
            "system",
            system.id,
            f"The {way} fan runs left of its peak",
            "There its flow is not steady; a gently falling line stands for its curve.",
            "bad",
            (Mend("Let the rule choose", ChooseFan(system.id, "")),) if way == "supply" else (),
        )
    if isinstance(fan, FanResult) and len(fan.meets) > 1:
        yield Finding(
            "meets-twice",
            "Fan",
            "system",
            system.id,
            f"Fan and system meet {len(fan.meets)} times",
            "At " + ", ".join(f"{q:.2f}" for q in fan.meets) + " m³/s: the fan may run at any of them.",
            "bad",
            (Mend("Let the rule choose", ChooseFan(system.id, "")),),
        )
    for terminal_id in flows.backwards:
        t = find(project.terminals, terminal_id)
        yield Finding(
            "backwards",
            "Balance",
            "terminal",
            terminal_id,
            f"Air flows backwards at {t.label}",
            f"{amount('room_flow', -flows.terminals[terminal_id])} the wrong way: another run pulls or pushes "
            "through it.",
            "bad",
        )
    for terminal_id in flows.starved:
        t = find(project.terminals, terminal_id)
        yield Finding(
            "starved",
            "Balance",
            "terminal",
            terminal_id,
            f"The box of {t.label} is open and short",
            f"It gets {amount('room_flow', flows.terminals[terminal_id], bare=True)} of "
            f"{amount('room_flow', flows.design[terminal_id])}.",
            "bad",
        )
    yield from _short(project, system, flows, ducts)
    left = [t for t in ducts.terminals if t.left_pa > LEFT_PA] if system.flow != "load" else []
    if left:
        worst = max(left, key=lambda t: t.left_pa)
        named = ", ".join(t.label for t in left[:NAMED]) + (" …" if len(left) > NAMED else "")
        bare = ducts.segments[worst.segment_id].damper is None
        yield Finding(
            "no-damper",
            "Balance",
            "terminal",
            worst.terminal_id,
            f"{amount('pressure', worst.left_pa)} that no damper takes",
            f"{named}: more air than designed comes there.",
            "watch",
            (Mend("A blade before it", SetDuctChoice((worst.segment_id,), "damper", "blade")),) if bare else (),
        )
    if isinstance(noise, NoiseResult):
        yield from _loud(project, system, ducts, noise)


def _short(project: Project, system: AirSystem, flows: Flows, ducts: DuctResult) -> Iterator[Finding]:
    """Rooms without air, and those whose needs are not met as the system really runs."""
    cut = [r for r in flows.rooms if r.design_m3s > 0 and r.real_m3s < CUT_OFF * r.design_m3s]
    for r in cut:
        room = find(project.rooms, r.room_id)
        own = [t for t in ducts.terminals if t.room_id == r.room_id]
        shut = [s for t in own for s in ducts.path(t.segment_id) if ducts.segments[s].damper_pinned]
        mends = (
            (Mend(f"Damper of {shut[-1]} by rule", SetDuctValue((shut[-1],), "damper_deg", Rule())),) if shut else ()
        )
        yield Finding(
            "cut-off",
            "Balance",
            "room",
            r.room_id,
            f"{room.number} {room.name} gets no air",
            f"{amount('room_flow', r.real_m3s, 1, bare=True)} of {amount('room_flow', r.design_m3s)}"
            + (f": a damper in {shut[-1]} is shut." if shut else "."),
            "bad",
            mends,
        )
    known = {r.room_id for r in cut}
    short = [r for r in flows.rooms if r.short and r.real_m3s < 0.97 * r.design_m3s and r.room_id not in known]
    if short:
        worst = worst_rooms(flows, 20)[0]
        worst = next((r for r in worst_rooms(flows, 50) if r in short), worst)
        room = find(project.rooms, worst.room_id)
        numbers = ", ".join(find(project.rooms, r.room_id).number for r in short[:NAMED]) + (
            " …" if len(short) > NAMED else ""
        )
        watts = sum(r.lacks_w for r in short)
        lacks = (
            f" {amount('power', watts)} of cooling are missing, up to "
            f"{amount('temperature_difference', max(r.warmer_k for r in short))} warmer."
            if watts
            else ""
        )
        mends = (
            (Mend("Fan speed by rule", SetFanValue(system.id, "speed_rpm", Rule())),)
            if not isinstance(system.fan("supply").speed_rpm, Rule)
            else ()
        )
        pinned = next(
            (
                t.segment_id
                for t in ducts.terminals
                if t.room_id == worst.room_id and ducts.segments[t.segment_id].damper_pinned
            ),
            "",
        )
        if pinned:
            mends = (*mends, Mend("Its damper by rule", SetDuctValue((pinned,), "damper_deg", Rule())))
        yield Finding(
            "short",
            "Balance",
            "room",
            worst.room_id,
            f"{len(short)} rooms get too little air" if len(short) > 1 else f"{room.number} gets too little air",
            f"{numbers}. {room.number} gets {amount('room_flow', worst.real_m3s, bare=True)} of "
            f"{amount('room_flow', worst.design_m3s)}: "
            f"{', '.join(worst.short)}.{lacks}",
            "bad",
            mends,
        )


def _loud(project: Project, system: AirSystem, ducts: DuctResult, noise: NoiseResult) -> Iterator[Finding]:
    """The index noise path, and how many rooms are above their limit with it."""
    loud = [r for r in noise.rooms.values() if r.nc > r.limit_nc + 0.5]
    if not loud:
        return
    index = noise.terminals[noise.index]
    room, t = find(project.rooms, index.room_id), next(t for t in ducts.terminals if t.terminal_id == noise.index)
    at = noise.rooms[index.room_id]
    mends: tuple[Mend, ...]
    match at.loudest:
        case "fan":
            why, mends = (
                "The fan is loudest there",
                (
                    Mend(
                        "Another silencer",
                        AddPart(system.id, "attenuator", "duct" if any(p.id == "duct" for p in system.parts) else ""),
                    ),
                ),
            )
        case "damper":
            why = (
                f"Its damper takes {amount('pressure', t.surplus_pa)}; {amount('pressure', index.heard_pa)} "
                "would not be heard"
            )
            mends = ()
        case "terminal":
            terminal = find(project.terminals, noise.index)
            why, mends = (
                f"{t.point.model} is loudest there",
                (Mend("Model by rule", SetTerminal(noise.index, model="")),) if terminal.model else (),
            )
        case "box":
            pinned = next((b for b in project.flow_boxes if room.id in b.room_ids and b.model), None)
            by_rule = Mend("Box by rule", SetEquipment("flow_boxes", pinned.id, "model", "")) if pinned else None
            why = "Its flow box is loudest there"
            mends = (by_rule,) if by_rule is not None else ()
        case _:
            why, mends = "The flow in its ducts is loudest there", ()
    more = (
        f" {len(loud) - 1} more rooms are above theirs."
        if len(loud) > 2
        else " One more room is above its own."
        if len(loud) == 2
        else ""
    )
    yield Finding(
        "noise-path",
        "Balance",
        "terminal",
        noise.index,
        f"{room.number} {room.name}: NC {at.nc:.0f}, limit {at.limit_nc:.0f}",
        f"{why}.{more}",
        "watch",
        mends,
    )
