"""The derivation of a figure as words and rows, in the units in force."""

from dataclasses import dataclass
from html import escape

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.explain.derivation import Contribution, Term, Why

ORIGINS = {"rule": "by rule", "pinned": "pinned by the engineer", "imported": "imported", "typed": "typed"}


@dataclass(frozen=True)
class WhyRow:
    name: str
    value: str
    unit: str
    note: str
    address: tuple


@dataclass(frozen=True)
class WhyVM:
    """equation: rich text; the n-th link in it leads to terms[n]."""

    name: str
    figure: str
    unit: str
    equation: str
    terms: tuple[tuple, ...]
    rows: tuple[WhyRow, ...]
    source: str
    remark: str
    origin: str
    go: tuple[str, str]


def why_vm(why: Why, units: System) -> WhyVM:
    pieces, terms = [], []
    for piece in why.equation:
        if isinstance(piece, Term):
            shown = escape(display.with_unit(display.in_watts(piece.quantity, piece.figure), piece.figure, units))
            if piece.address:
                shown = f'<a href="{len(terms)}">{shown}</a>'
                terms.append(piece.address)
            pieces.append(f"<b>{shown}</b>")
        else:
            pieces.append(escape(piece))
    quantity = display.in_watts(why.quantity, why.figure)
    equation = "".join(pieces)
    return WhyVM(
        why.name,
        display.figure(quantity, why.figure, units),
        display.unit(quantity, units),
        equation[:1].upper() + equation[1:] if not equation.startswith("<") else equation,
        tuple(terms),
        tuple(_row(p, units) for p in why.parts),
        why.source,
        why.remark,
        why.origin,
        why.go,
    )


def _row(part: Contribution, units: System) -> WhyRow:
    quantity = display.in_watts(part.quantity, part.figure)
    return WhyRow(
        part.name, display.figure(quantity, part.figure, units), display.unit(quantity, units), part.note, part.address
    )


def plain_text(vm: WhyVM) -> str:
    """The derivation as lines for the clipboard and for papers."""
    import re

    lines = [f"{vm.name}: {vm.figure} {vm.unit}".rstrip()]
    if vm.equation:
        lines.append("= " + re.sub(r"<[^>]+>", "", vm.equation))
    lines += [f"  {r.name}: {r.value} {r.unit}".rstrip() + (f" ({r.note})" if r.note else "") for r in vm.rows]
    lines += [x for x in (vm.source, vm.remark) if x]
    return "\n".join(lines)
