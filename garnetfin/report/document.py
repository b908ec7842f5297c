"""The document set: every paper in its order, those that the engineer prints."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from garnetfin.core.units import System
from garnetfin.engine.results import Results
from garnetfin.project.papers import PAPER_NAMES, PAPERS
from garnetfin.report.blocks import Block, Start
from garnetfin.report.sheets.air import air_flows, terminals
from garnetfin.report.sheets.balance import balance, noise
from garnetfin.report.sheets.basis import basis
from garnetfin.report.sheets.changes import changes
from garnetfin.report.sheets.coils import coils
from garnetfin.report.sheets.cover import cover
from garnetfin.report.sheets.derivations import derivations
from garnetfin.report.sheets.ducts import ducts
from garnetfin.report.sheets.equipment import equipment
from garnetfin.report.sheets.fan import fans
from garnetfin.report.sheets.findings import findings
from garnetfin.report.sheets.loads import summary
from garnetfin.report.sheets.outdoor import outdoor
from garnetfin.report.sheets.plans import plans
from garnetfin.report.sheets.quantities import quantities
from garnetfin.report.sheets.rooms import rooms
from garnetfin.report.watch import UNWATCHED, Watch


@dataclass(frozen=True, slots=True, eq=False)
class Order:
    """What is to be printed: results, units, and the mark that changes count against."""

    results: Results
    units: System = "SI"
    before: Results | None = None
    before_name: str = ""
    issued: bool = False  # these pages are the last issue, not the work towards the next
    watch: Watch = UNWATCHED


MAKERS: dict[str, Callable[[Results, System], list[Block]]] = {
    "basis": basis,
    "summary": summary,
    "rooms": rooms,
    "air": air_flows,
    "outdoor": outdoor,
    "coils": coils,
    "terminals": terminals,
    "equipment": equipment,
    "plans": plans,
    "ducts": ducts,
    "quantities": quantities,
    "fan": fans,
    "noise": noise,
    "findings": findings,
    "derivations": derivations,
}


def paper(order: Order, paper_id: str) -> list[Block]:
    """The blocks of one paper; what could not be computed says why in its place."""
    if paper_id == "cover":
        return cover(order.results, order.units, order.issued)
    if paper_id == "changes":
        return changes(order.results, order.before, order.before_name, order.units)
    if paper_id == "balance":
        return balance(order.results, order.units, order.watch)
    return MAKERS[paper_id](order.results, order.units)


def printed(order: Order) -> tuple[str, ...]:
    """Ids of the papers in the set, in their order; changes only where a mark is compared with."""
    left_out = order.results.project.papers.left_out
    return tuple(i for i, _ in PAPERS if i not in left_out and (i != "changes" or order.before is not None))


def document(order: Order, only: tuple[str, ...] = ()) -> list[Block]:
    """Blocks of the set, each paper after its Start; `only` prints these papers whether left out or not."""
    wanted, made = only or printed(order), []
    for n, paper_id in enumerate(wanted):
        watch = order.watch.part(n / len(wanted), (n + 1) / len(wanted))
        watch(0.0, PAPER_NAMES[paper_id])
        made += [Start(paper_id, PAPER_NAMES[paper_id]), *paper(replace(order, watch=watch), paper_id)]
    return made
