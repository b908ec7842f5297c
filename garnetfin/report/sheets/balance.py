"""Balance: the index run from intake to room and back, dampers, the commissioning sheet, what rooms really get,
noise.
"""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.flows.balance_check import run_of
from garnetfin.engine.flows.commissioning import Sheet, commissioning, remembered, set_on_site
from garnetfin.engine.flows.flow_results import Flows, NoiseResult
from garnetfin.engine.flows.network import Case, case_in
from garnetfin.engine.results import Missing, Results
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, number, with_unit
from garnetfin.report.sheets.ducts import dampers
from garnetfin.report.watch import UNWATCHED, Watch

# Dampers of a system up to which the papers simulate how they are set one after the other: beyond it takes minutes and
# is asked for in Balance.
MOST_SIMULATED = 150


def balance(results: Results, units: System, watch: Watch = UNWATCHED) -> list[Block]:
    """Run, dampers, commissioning sheet and rooms of every system."""
    blocks: list[Block] = []
    systems = results.project.air_systems
    for n, system in enumerate(systems):
        watch(n / len(systems), f"balance of {system.name}")
        at = case_in(results, system.id)
        blocks.append(Heading(system.name, 2))
        if isinstance(at, Missing):
            blocks.append(Text(f"{at.reason}. {at.remedy}"))
            continue
        blocks += [
            *_run(at, units),
            *(dampers(results, at.ducts, units) if at.ducts.terminals else []),
            *_commissioning(at, units, watch.part(n / len(systems), (n + 1) / len(systems))),
            *_rooms(results, at, units),
        ]
    return blocks


def noise(results: Results, units: System) -> list[Block]:
    """Noise of every system in its rooms."""
    blocks = [
        b
        for system in results.project.air_systems
        if not isinstance(at := case_in(results, system.id), Missing)
        for b in _noise(results, at, units)
    ]
    return blocks or [Text("No noise yet: it needs ducts, terminals and a fan.")]


def _run(at: Case, units: System) -> list[Block]:
    """The index run part by part, total and static pressure behind each."""
    pressure = display.unit("pressure", units)
    rows = tuple(
        (
            s.side,
            s.name,
            figure("fine_pressure", s.loss_pa, units),
            figure("fine_pressure", s.total_pa, units),
            figure("fine_pressure", s.static_pa, units),
            figure("velocity", s.velocity_m_s, units) if s.velocity_m_s else "",
        )
        for s in run_of(at, at.ducts.index)
    )
    return [
        Heading("Pressure from the intake to the room of the index run", 3, at.ducts.index.label),
        TableBlock(
            (
                Col("Where", width=1, left=True),
                Col("Part", width=3, left=True),
                Col("Loss", pressure),
                Col("Total behind", pressure, 1.3),
                Col("Static behind", pressure, 1.3),
                Col("Velocity", display.unit("velocity", units)),
            ),
            rows,
            strong=frozenset(i for i, s in enumerate(run_of(at, at.ducts.index)) if s.loss_pa < 0),
        ),
    ]


def _sheet(at: Case, watch: Watch) -> Sheet | Missing:
    known, count = remembered(at, 2), len(set_on_site(at))
    if known is None and count > MOST_SIMULATED:
        return Missing(
            "not simulated",
            f"How {count} dampers are set one after the other takes minutes to work out. "
            "Open Balance, Commissioning, with the second pass: what it finds is printed here. As pressure "
            "bookkeeping sets them they stand above",
        )
    return known or commissioning(at, 2, lambda share: watch(share, f"commissioning of {at.system.name}"))


def _commissioning(at: Case, units: System, watch: Watch) -> list[Block]:
    """Proportional balancing in the order of work, with columns to write into on site."""
    sheet = _sheet(at, watch)
    if isinstance(sheet, Missing):
        return [Heading("Commissioning", 3), Text(f"{sheet.reason.capitalize()}. {sheet.remedy}.")]
    flow = display.unit("room_flow", units)
    rows = tuple(
        (
            number(r.order),
            r.label,
            r.group,
            figure("room_flow", r.design_m3s, units),
            number(r.first * 100),
            number(r.target * 100, 1),
            figure("room_flow", r.reading_m3s, units),
            "stays open" if r.reference else display.DASH if r.angle_deg is None else number(r.angle_deg),
            number(r.final * 100, 1),
            "",
        )
        for r in sheet.rows
    )
    turn = (
        f"Last the fan is turned to {sheet.speed_ratio * 100:.1f} % of its speed."
        if abs(sheet.speed_ratio - 1) > 0.0005
        else "The fan stays as it turns."
    )
    return [
        Heading("Commissioning sheet", 3, "proportional balancing, second pass"),
        Facts(
            (
                (
                    "Fan",
                    f"{at.fan.chosen.fan_id}, {at.fan.chosen.speed_rpm:.0f} rpm"
                    if at.fan is not None and not isinstance(at.fan.chosen, Missing)
                    else "not chosen yet",
                ),
                ("Whole flow", with_unit("system_flow", at.ducts.flow_m3s, units)),
                ("Flows may differ by", f"{sheet.share:.0%}"),
            )
        ),
        TableBlock(
            (
                Col("Step", width=0.6),
                Col("Damper", width=2.6, left=True),
                Col("Group", width=1.1, left=True),
                Col("Design", flow),
                Col("Open", "%", 0.8),
                Col("Set to", "%", 0.9),
                Col("Reading", flow, 1.1),
                Col("Blade", "°", 1.2),
                Col("At the end", "%", 1.2),
                Col("Found", flow, 1.1),
            ),
            rows,
        ),
        Text(
            f"All dampers stand open first. Each group is worked in this order: its first terminal stays open, every "
            f"other is closed until it has the same share of its "
            f"design flow. {turn} Simulated on the network of this system: all within {sheet.spread * 100:.1f} % at "
            f"the end.",
            True,
        ),
    ]


def _rooms(results: Results, at: Case, units: System) -> list[Block]:
    flows = results.real.get(at.system.id)
    if not isinstance(flows, Flows):
        return []
    flow, rows = display.unit("room_flow", units), []
    for r in flows.rooms:
        room = find(results.project.rooms, r.room_id)
        rows.append(
            (
                room.number,
                room.name,
                figure("room_flow", r.design_m3s, units),
                figure("room_flow", r.real_m3s, units),
                display.signed((r.real_m3s / r.design_m3s - 1) * 100, 1) if r.design_m3s > 0 else display.DASH,
                figure("power", r.lacks_w, units) if r.lacks_w else "",
                ", ".join(r.short) or "none",
            )
        )
    note = "" if flows.converged else f"not solved: {flows.residual_pa:.2g} Pa are left at {flows.worst}"
    return [
        Heading("What rooms really get", 3, note or "dampers as set, the fan on its curve"),
        TableBlock(
            (
                Col("No.", width=0.8, left=True),
                Col("Room", width=2.4, left=True),
                Col("Design", flow),
                Col("Real", flow),
                Col("", "%", 0.8),
                Col("Cooling shortfall", display.unit("power", units), 1.3),
                Col("Short of criterion", width=2, left=True),
            ),
            tuple(rows),
        ),
    ]


def _noise(results: Results, at: Case, units: System) -> list[Block]:
    found = results.noise.get(at.system.id)
    if not isinstance(found, NoiseResult):
        return []
    rows = []
    for room_id, r in sorted(found.rooms.items(), key=lambda kv: -kv[1].nc):
        room = find(results.project.rooms, room_id)
        rows.append(
            (
                room.number,
                room.name,
                *(number(x, 0) for x in r.bands),
                number(r.nc),
                number(r.nr),
                number(r.dba),
                number(r.limit_nc),
                r.loudest,
            )
        )
    return [
        Heading(at.system.name, 2, "first level, supply side"),
        TableBlock(
            (
                Col("No.", width=0.9, left=True),
                Col("Room", width=2.4, left=True),
                *(Col(n, "", 0.6) for n in ("63", "125", "250", "500", "1k", "2k", "4k", "8k")),
                Col("NC", "", 0.6),
                Col("NR", "", 0.6),
                Col("dB(A)", "", 0.8),
                Col("Limit", "", 0.8),
                Col("Loudest", width=1.1, left=True),
            ),
            tuple(rows),
        ),
        Text(
            "Octave bands in dB. Fan spectrum, silencer, lining and bends by default figures of the program; take "
            "the makers’ before signing.",
            True,
        ),
    ]
