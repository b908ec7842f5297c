"""Schedules of equipment: flow boxes, room units, coils, air handlers, machines, pumps."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.equipment.schedules import Column, Schedule, schedules
from garnetfin.engine.results import Results
from garnetfin.report.blocks import Block, Col, Heading, TableBlock, Text, figure
from garnetfin.report.unit_figure import unit_figure

MOST_COLUMNS = 12  # of one table on a page; what is more follows below, with the tag again


def equipment(results: Results, units: System) -> list[Block]:
    """One table a kind; a wide one in two."""
    blocks: list[Block] = []
    for one in schedules(results):
        blocks.append(Heading(one.title, 2, f"{len(one.lines)}"))
        parts = _parts(one.columns)
        for columns in parts:
            blocks.append(_table(one, columns, units))
        remarks = tuple(f"{line.cells[0]}: {line.remark}." for line in one.lines if line.remark)
        blocks += [Text(r) for r in remarks]
        if one.key == "units":
            drawn = ((u, unit_figure(u, units)) for u in results.equipment.units.values())
            blocks += [b for u, made in drawn if made is not None for b in (Heading(f"{u.tag}, {u.name}", 3), made)]
        blocks.append(Text("By rule, but for what is marked ●, which is pinned.", faint=True))
    return blocks or [Text("No equipment is chosen yet.")]


def _parts(columns: tuple[Column, ...]) -> list[tuple[Column, ...]]:
    """Columns in groups that fit a page, each with the tag in front."""
    tag, rest = columns[0], columns[1:]
    groups = -(-len(rest) // (MOST_COLUMNS - 1))
    size = -(-len(rest) // groups)
    return [(tag, *rest[i : i + size]) for i in range(0, len(rest), size)]


def _table(one: Schedule, columns: tuple[Column, ...], units: System) -> TableBlock:
    at = [one.columns.index(c) for c in columns]
    rows = []
    for line in one.lines:
        cells = []
        for i, c in zip(at, columns):
            cell = line.cells[i]
            text = cell if isinstance(cell, str) else figure(c.quantity, cell, units, c.digits)
            cells.append(f"● {text}" if c.key in line.fixed and isinstance(cell, str) else text)
        rows.append(tuple(cells))
    heads = tuple(
        Col(c.name, display.unit(c.quantity, units) if c.quantity else "", c.width, not c.quantity) for c in columns
    )
    return TableBlock(heads, tuple(rows))
