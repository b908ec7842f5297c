"""Findings that are open, and deviations the engineer answers for."""

from garnetfin.core.units import System
from garnetfin.engine.results import Results
from garnetfin.report.blocks import Block, Col, Heading, TableBlock, Text


def findings(results: Results, units: System) -> list[Block]:
    found = [f.in_units(units) for f in results.findings]
    open_ = tuple((f.link, f.title, f.reason, "limit" if f.severity == "bad" else "look") for f in found)
    blocks: list[Block] = [Heading("Open findings", 2, str(len(open_)))]
    blocks.append(
        TableBlock(
            (
                Col("Link", width=0.9, left=True),
                Col("Finding", width=3, left=True),
                Col("Reason", width=5, left=True),
                Col("", width=0.6, left=True),
            ),
            open_,
            strong=frozenset(i for i, f in enumerate(results.findings) if f.severity == "bad"),
        )
        if open_
        else Text("None.")
    )
    answered = [(f.in_units(units), a) for f, a in results.accepted]
    said = tuple((f.link, f.title, f.reason, a.reason, a.date) for f, a in answered)
    blocks.append(Heading("Accepted issues", 2, str(len(said))))
    blocks.append(
        TableBlock(
            (
                Col("Link", width=0.9, left=True),
                Col("Finding", width=2.4, left=True),
                Col("Reason", width=3.4, left=True),
                Col("Accepted because", width=2.6, left=True),
                Col("On", width=1, left=True),
            ),
            said,
        )
        if said
        else Text("None.")
    )
    known = {(f.code, f.kind, f.object_id) for f, _ in results.accepted}
    gone = [a for a in results.project.accepted if (a.code, a.kind, a.object_id) not in known]
    if gone:
        blocks.append(Text(f"{len(gone)} accepted issues no longer occur.", True))
    return blocks
