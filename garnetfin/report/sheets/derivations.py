"""Why: the derivations of the headline figures as on screen, two steps down."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.explain.derivation import Term, Why
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.results import DuctResult, Missing, Results
from garnetfin.report.blocks import Block, Col, Heading, TableBlock, Text, figure, with_unit

MOST_STEPS = 60


def words(why: Why, units: System) -> str:
    """The equation as a sentence."""
    pieces = (
        with_unit(display.in_watts(p.quantity, p.figure), p.figure, units) if isinstance(p, Term) else p
        for p in why.equation
    )
    text = "".join(pieces)
    return text[:1].upper() + text[1:]


def derivation(why: Why, units: System, parts: bool = True, note: str = "") -> list[Block]:
    """One figure: its equation with numbers, its parts, its source."""
    value = with_unit(display.in_watts(why.quantity, why.figure), why.figure, units)
    blocks: list[Block] = [Heading(why.name, 3, f"{value}{', ' + why.origin if why.origin else ''}{note}")]
    if why.equation:
        blocks.append(Text(f"= {words(why, units)}"))
    if parts and why.parts:
        rows = []
        for p in why.parts:
            quantity = display.in_watts(p.quantity, p.figure)
            rows.append((p.name, figure(quantity, p.figure, units), display.unit(quantity, units), p.note))
        blocks.append(
            TableBlock(
                (
                    Col("Contribution", width=3, left=True),
                    Col("Value"),
                    Col("Unit", width=0.9, left=True),
                    Col("Note", width=3.4, left=True),
                ),
                tuple(rows),
            )
        )
    if why.source or why.remark:
        blocks.append(Text(" ".join(x for x in (why.source, why.remark) if x), True))
    return blocks


def derivations(results: Results, units: System) -> list[Block]:
    """Building, then each air system from its flow to its fan; what these rest on follows once."""
    blocks: list[Block] = []
    served = tuple(r.id for r in results.project.rooms if r.system_id and results.room(r.id) is not None)
    starts: list[tuple[str, list[tuple]]] = [
        (
            "Building",
            [("block", served, "cooling"), ("block", served, "heating"), ("plant", "cooling"), ("plant", "heating")],
        )
    ]
    for system in results.project.air_systems:
        found, train = results.ducts[system.id], results.trains[system.id]
        addresses: list[tuple] = [("system outdoor", system.id), ("system", system.id, "supply_c")]
        if not isinstance(train, Missing):
            addresses.append(("coil", system.id, train.cooling.month, train.cooling.hour))
        if isinstance(found, DuctResult) and found.terminals:
            addresses += [("run", found.index.terminal_id), ("terminal flow", found.index.terminal_id)]
        addresses += [("fan pressure", system.id), ("fan power", system.id)]
        starts.append((system.name, addresses))
    for title, addresses in starts:
        made = _tree(results, addresses, units)
        if made:
            blocks += [Heading(title, 2), *made]
    return blocks or [Text("Nothing to derive yet.")]


def _tree(results: Results, addresses: list[tuple], units: System) -> list[Block]:
    """Derivations of the figures and of what they name, each once, nearest first."""
    blocks, seen, waiting, steps = [], set(), [(a, 0) for a in addresses], 0
    while waiting and steps < MOST_STEPS:
        address, depth = waiting.pop(0)
        why = explain(results, address) if address and address not in seen else None
        seen.add(address)
        if why is None:
            continue
        steps += 1
        blocks += derivation(why, units)
        if depth < 1:
            waiting += [
                (t.address, depth + 1)
                for t in (*(p for p in why.equation if isinstance(p, Term)), *why.parts)
                if t.address
            ]
    return blocks
