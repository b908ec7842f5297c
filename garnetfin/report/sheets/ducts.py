"""Ducts by size, pressure calculation of the index run, terminals with dampers."""

from garnetfin import display
from garnetfin.core.tables import fitting_words
from garnetfin.core.units import System
from garnetfin.engine.results import DuctResult, Missing, Results
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, number, with_unit
from garnetfin.report.sheets.quantities import AIRS


def ducts(results: Results, units: System) -> list[Block]:
    """Index run and ducts by size of every system and air."""
    blocks: list[Block] = []
    for system in results.project.air_systems:
        found = results.ducts[system.id]
        if isinstance(found, Missing):
            blocks += [Heading(f"{system.name}, supply", 2), Text(f"{found.reason}. {found.remedy}")]
        for network in sorted(results.networks(system.id), key=lambda d: list(AIRS).index(d.air)):
            blocks += [
                Heading(f"{system.name}, {AIRS[network.air].lower()}", 2),
                *(_index_run(network, units) if network.terminals else []),
                *_regain(network, units),
                *_schedule(results, network, units),
            ]
    return blocks or [Text("No air system.")]


def _index_run(found: DuctResult, units: System) -> list[Block]:
    rows = []
    for segment_id in found.path(found.index.segment_id):
        s = found.segments[segment_id]
        rows.append(
            (
                segment_id,
                display.size(s.section, units),
                figure("room_flow", s.flow_m3s, units),
                figure("length", s.length_m, units),
                figure("velocity", s.velocity_m_s, units),
                figure("friction", s.friction_pa_m, units),
                figure("fine_pressure", s.friction_pa + s.flexible_pa, units),
                ", ".join(f"{fitting_words(f.name)} {f.k:.2f}" for f in s.fittings),
                figure("fine_pressure", sum(f.pressure_pa for f in s.fittings), units),
                figure("fine_pressure", s.left_pa, units),
            )
        )
    rows.append(
        (
            "terminal",
            found.index.point.model,
            figure("room_flow", found.index.flow_m3s, units),
            "",
            "",
            "",
            "",
            "",
            figure("fine_pressure", found.index.point.pressure_pa, units),
            "0",
        )
    )
    return [
        Heading("Index run", 3, f"to {found.index.label}, {with_unit('pressure', found.runs.fan_pa, units)}"),
        TableBlock(
            (
                Col("Segment", width=1, left=True),
                Col("Size", display.unit("duct_size", units), 1.4),
                Col("Flow", display.unit("room_flow", units)),
                Col("Length", display.unit("length", units)),
                Col("Vel.", display.unit("velocity", units), 0.9),
                Col("Frict.", display.unit("friction", units), 1.1),
                Col("Pipe", display.unit("pressure", units), 0.8),
                Col("Fittings, k", width=3.2, left=True),
                Col("Fittings", display.unit("pressure", units), 1.1),
                Col("Left", display.unit("pressure", units), 0.9),
            ),
            tuple(rows),
        ),
    ]


def _regain(found: DuctResult, units: System) -> list[Block]:
    """Sections sized by static regain: what slowing down gives back and what is left of it."""
    if not found.regained:
        return []
    velocity, pressure = display.unit("velocity", units), display.unit("fine_pressure", units)
    rows = []
    for r in found.regained:
        own = [found.segments[found.segment_ids[k]] for k in r.segments]
        rows.append(
            (
                own[0].segment_id,
                number(len(own)),
                figure("length", sum(s.length_m for s in own), units),
                figure("velocity", r.before_m_s, units),
                figure("velocity", r.velocity_m_s, units),
                *(
                    figure("fine_pressure", value, units)
                    for value in (r.gained_pa, r.lost_pa, r.carried_pa, r.left_pa, own[0].static_pa)
                ),
                {"": "", "slow": "slow already", "no size": "no size regains it"}[r.ends],
            )
        )
    return [
        Heading("Static regain", 3, "sections behind takeoffs, in the order of the air"),
        TableBlock(
            (
                Col("Section", width=1, left=True),
                Col("Pieces", width=0.8),
                Col("Length", display.unit("length", units)),
                Col("Before", velocity),
                Col("In it", velocity),
                Col("Gained", pressure),
                Col("Lost", pressure),
                Col("Carried", pressure),
                Col("Left", pressure),
                Col("Static", pressure),
                Col("Ends", width=1.6, left=True),
            ),
            tuple(rows),
        ),
    ]


def _schedule(results: Results, found: DuctResult, units: System) -> list[Block]:
    """Ducts of one size together."""
    sizes: dict[tuple, list] = {}
    for s in found.segments.values():
        sizes.setdefault((s.section.shape, s.section.width_m, s.section.height_m), []).append(s)
    rows = tuple(
        (
            display.size(group[0].section, units),
            number(len(group)),
            figure("length", sum(s.length_m for s in group), units, 1),
            figure("mass", sum(s.mass_kg for s in group), units, 1),
            str(sum(s.pinned for s in group) or ""),
        )
        for _, group in sorted(sizes.items())
    )
    return [
        Heading("Ducts by size", 3),
        TableBlock(
            (
                Col("Size", display.unit("duct_size", units), 1.6, True),
                Col("Pieces"),
                Col("Length", display.unit("length", units)),
                Col("Duct mass", display.unit("mass", units)),
                Col("Pinned"),
            ),
            rows,
            (
                "Sum",
                number(len(found.segments)),
                figure("length", found.length_m, units, 1),
                figure("mass", found.mass_kg, units, 1),
                "",
            ),
            frozenset({1, 2, 3}),
        ),
    ]


def dampers(results: Results, found: DuctResult, units: System) -> list[Block]:
    pressure = display.unit("pressure", units)
    rows = []
    for t in sorted(found.terminals, key=lambda t: t.label):
        room = find(results.project.rooms, t.room_id)
        r = found.segments[t.segment_id]
        d = t.damper if t.neck else r.damper
        angle = (
            "none"
            if d is None
            else f"plate, {d.free:.0%} free"
            if d.free is not None
            else "open"
            if d.added_k <= 1e-9
            else display.DASH
            if d.angle_deg is None
            else (f"{d.angle_deg:.0f}°{' pinned' if r.damper_pinned and not t.neck else ''}")
        )
        rows.append(
            (
                t.label,
                room.name,
                t.point.model,
                figure("room_flow", t.flow_m3s, units),
                figure("fine_pressure", t.point.pressure_pa, units),
                figure("fine_pressure", t.run_pa, units),
                figure("fine_pressure", t.surplus_pa, units),
                number(d.added_k, 2) if d is not None else "",
                angle,
            )
        )
    return [
        Heading("Terminals and dampers", 3),
        Facts(
            (
                ("Terminals", str(len(found.terminals))),
                ("Flow", with_unit("system_flow", found.flow_m3s, units)),
                ("Pressure the ducts need", with_unit("pressure", found.runs.fan_pa, units)),
            )
        ),
        TableBlock(
            (
                Col("Terminal", width=1, left=True),
                Col("Room", width=2.2, left=True),
                Col("Model", width=1.8, left=True),
                Col("Flow", display.unit("room_flow", units)),
                Col("Terminal", pressure, 1.1),
                Col("Run", pressure),
                Col("Excess pressure", pressure),
                Col("k", width=0.8),
                Col("Blade", width=1.3),
            ),
            tuple(rows),
        ),
    ]
