"""The fan at its operating point, with its curve, what it lifts and the candidates."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.flows.fan_lines import together
from garnetfin.engine.flows.flow_results import Flows
from garnetfin.engine.results import FanResult, Missing, Results
from garnetfin.report.blocks import (
    Block,
    Col,
    Facts,
    Figure,
    Heading,
    Label,
    Shape,
    TableBlock,
    Text,
    figure,
    number,
    with_unit,
)


def fans(results: Results, units: System) -> list[Block]:
    """Every fan of every system at its point, what it carries and the candidates; all fans together."""
    blocks: list[Block] = []
    for system in results.project.air_systems:
        supply = results.fan(system.id)
        if isinstance(supply, Missing):
            blocks += [Heading(f"Supply fan, {system.name}", 2), Text(f"{supply.reason}. {supply.remedy}")]
        for way, fan in results.fans_of(system.id).items():
            blocks.append(Heading(f"{way.capitalize()} fan, {system.name}", 2))
            blocks += _one(fan, units)
        blocks += _together(results, system.id, units)
        blocks.append(Text("The fan catalogue is invented sample data; take the maker's before ordering.", True))
    return blocks


def _one(fan: FanResult, units: System) -> list[Block]:
    pressure = display.unit("pressure", units)
    blocks: list[Block] = []
    if isinstance(fan.chosen, Missing) or fan.point is None:
        missing = (
            fan.chosen if isinstance(fan.chosen, Missing) else Missing("no point", "The fan meets no system curve")
        )
        blocks.append(Text(f"{missing.reason}. {missing.remedy}"))
    else:
        p = fan.point
        blocks += [
            Facts(
                (
                    ("Fan", f"{fan.chosen.fan_id}, {display.size_of_wheel(fan.chosen.wheel_m, units)}"),
                    ("Speed", f"{fan.chosen.speed_rpm:.0f} rpm ({fan.speed_origin})"),
                    ("Flow", with_unit("system_flow", p.flow_m3s, units)),
                    ("Total pressure", with_unit("pressure", p.pressure_pa, units)),
                    ("Electric power", with_unit("shaft_power", p.electric_w, units)),
                    ("Efficiency of the wheel", f"{p.efficiency:.0%}"),
                    ("Distance from stall", f"{p.from_stall:.0%}"),
                    ("Motor", with_unit("shaft_power", p.motor_w, units, 1)),
                    (
                        "Specific power of this fan",
                        f"{with_unit('specific_fan_power', p.specific_w_m3s, units)}, SFP {p.specific_class}",
                    ),
                )
            ),
            _curve(fan, units),
        ]
    rows = [(name, figure("pressure", pa, units)) for name, pa in fan.part_pa]
    for name, pa in (
        ("Ducts, index run", fan.duct_pa),
        ("Margin", fan.allowance_pa),
        ("System effect at the fan", fan.effect_pa),
    ):
        if pa:
            rows.append((name, figure("pressure", pa, units)))
    blocks += [
        Heading("Required fan pressure", 3),
        TableBlock(
            (Col("Part", width=3, left=True), Col("Pressure", pressure)),
            tuple(rows),
            ("Total pressure", figure("pressure", fan.wanted_pa, units)),
            frozenset({1}),
        ),
        Heading("Candidates at the duty", 3),
        TableBlock(
            (
                Col("Fan", width=1.6, left=True),
                Col("Kind", width=2, left=True),
                Col("Electric", display.unit("shaft_power", units)),
                Col("Speed", "rpm"),
                Col("Efficiency", "%"),
                Col("Stall margin", "%"),
                Col("", width=2.4, left=True),
            ),
            tuple(
                (
                    c.fan_id,
                    c.kind.replace("-", " "),
                    figure("shaft_power", c.point.electric_w, units),
                    number(c.speed_rpm),
                    number(c.point.efficiency * 100),
                    number(c.point.from_stall * 100),
                    "",
                )
                if c.point
                else (c.fan_id, c.kind.replace("-", " "), "", "", "", "", c.reason)
                for c in fan.candidates
            ),
        ),
    ]
    return blocks


def _together(results: Results, system_id: str, units: System) -> list[Block]:
    """All fans of the system with its specific fan power."""
    flows = results.real.get(system_id)
    found = together(results, system_id, flows) if isinstance(flows, Flows) else None
    if found is None or isinstance(found, Missing):
        return []
    return [
        Heading(
            "All fans of the system",
            3,
            f"SFP {found.specific_class}, {with_unit('specific_fan_power', found.specific_w_m3s, units)}",
        ),
        TableBlock(
            (Col("Fan", width=3, left=True), Col("Electric", display.unit("shaft_power", units))),
            tuple((name, figure("shaft_power", w, units)) for name, w in found.fans),
            ("Together", figure("shaft_power", found.electric_w, units)),
            frozenset({1}),
        ),
        Text(f"{found.hours:.0f} hours a year: {found.year_wh / 1e6:.1f} MWh.", True),
    ]


def _curve(fan: FanResult, units: System) -> Figure:
    def line(points) -> tuple[tuple[float, float], ...]:
        return tuple(
            (display.to_shown("system_flow", float(q), units), display.to_shown("pressure", float(p), units))
            for q, p in zip(*points)
        )

    curve, system = line(fan.lines.chosen), line(fan.lines.system)
    point = (
        display.to_shown("system_flow", fan.point.flow_m3s, units),
        display.to_shown("pressure", fan.point.pressure_pa, units),
    )
    high, far = max(p for _, p in curve) * 1.2, curve[-1][0] * 1.05
    system = tuple(q for q in system if q[1] <= high and q[0] <= far)
    shapes = [Shape(((0, high * k / 4), (far, high * k / 4)), "rule", 0.4) for k in range(5)]
    shapes += [Shape(((far * k / 5, 0), (far * k / 5, high)), "rule", 0.4) for k in range(6)]
    shapes += [
        Shape(system, "supply", 1.2),
        Shape(curve, "garnet", 1.5),
        Shape(((0, point[1]), point, (point[0], 0)), "ink", 0.5, dashed=True),
    ]
    digits = 0 if units == "SI" else 1
    labels = [
        Label((-far * 0.012, high * k / 4), display.number(high * k / 4, digits), "faint", side="right")
        for k in range(5)
    ]
    labels += [Label((far * k / 5, -high * 0.06), display.number(far * k / 5, 1), "faint") for k in range(6)]
    labels += [
        Label((point[0], point[1] + high * 0.05), "operating point", "garnet", 7, "left"),
        Label((far * 0.995, -high * 0.12), display.unit("system_flow", units), "faint", side="right"),
        Label((-far * 0.012, high * 1.05), display.unit("pressure", units), "faint", side="right"),
    ]
    return Figure((-far * 0.06, -high * 0.14, far * 1.02, high * 1.08), 74, tuple(shapes), tuple(labels), alike=False)
