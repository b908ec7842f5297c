"""What changed since a mark, by system, room and duct, with the cause."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import Results
from garnetfin.engine.studies.change_list import Moved, change_list
from garnetfin.report.blocks import Block, Col, Heading, Number, TableBlock, Text


def changes(results: Results, before: Results | None, name: str, units: System) -> list[Block]:
    if before is None:
        return [Text("No snapshot is compared with. Choose one in “Compare with”.")]
    found = change_list(before, results, units)
    blocks: list[Block] = [Text(f"Against “{name}”.")]
    if not found.any:
        return [*blocks, Text("Nothing moved.")]
    for system in found.systems:
        rows = tuple((label, *cells(m, units), display.unit(m.quantity, units)) for label, m in system.figures if m.any)
        if rows:
            blocks += [
                Heading(system.name, 2),
                TableBlock(
                    (
                        Col("Figure", width=3, left=True),
                        Col("Before"),
                        Col("Now"),
                        Col("Step"),
                        Col("Unit", width=0.9, left=True),
                    ),
                    rows,
                ),
            ]
    if found.rooms:
        load, flow = display.unit("load", units), display.unit("room_flow", units)
        rows = tuple(
            (
                c.number,
                c.name,
                *cells(c.cooling, units),
                *cells(c.heating, units)[2:],
                *cells(c.flow, units)[1:],
                "; ".join(c.reasons),
            )
            for c in found.rooms
        )
        blocks += [
            Heading("Rooms", 2, str(len(rows))),
            TableBlock(
                (
                    Col("No.", width=0.7, left=True),
                    Col("Room", width=1.7, left=True),
                    Col("Cooling", load),
                    Col("Now", load, 0.8),
                    Col("Step", load, 0.8),
                    Col("Heating, step", load, 1.2),
                    Col("Air now", flow),
                    Col("Step", flow, 0.8),
                    Col("Cause", width=3.4, left=True),
                ),
                rows,
            ),
        ]
    if found.ducts:
        rows = tuple(
            (c.segment_id, c.air, c.before or display.DASH, c.now or display.DASH, *cells(c.flow, units), c.reason)
            for c in found.ducts
        )
        size, flow = display.unit("duct_size", units), display.unit("room_flow", units)
        blocks += [
            Heading("Ducts", 2, str(len(rows))),
            TableBlock(
                (
                    Col("Duct", width=0.8, left=True),
                    Col("Air", width=0.9, left=True),
                    Col("Before", size, 1.3),
                    Col("Now", size, 1.3),
                    Col("Flow", flow, 0.9),
                    Col("Now", flow, 0.9),
                    Col("Step", flow, 0.9),
                    Col("Cause", width=2.6, left=True),
                ),
                rows,
            ),
        ]
    return blocks


def cells(m: Moved, units: System) -> tuple[str, str, str]:
    """Before, now, and the step with its sign; an en dash where there was or is none."""

    def one(value: float | None) -> str:
        return (
            display.DASH
            if value is None
            else Number(display.figure(m.quantity, value, units), display.to_shown(m.quantity, value, units))
        )

    if m.before is None or m.now is None or not m.any:
        return one(m.before), one(m.now), "" if not m.any else display.DASH
    step = display.to_shown(m.quantity, m.now, units) - display.to_shown(m.quantity, m.before, units)
    digits = len(display.figure(m.quantity, 0.0, units).partition(".")[2])
    return one(m.before), one(m.now), Number(display.signed(step, digits), step)
