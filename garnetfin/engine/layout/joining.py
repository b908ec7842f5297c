"""Two open ends of ducts: what joins them, and what it costs in pressure."""

from dataclasses import dataclass
from typing import Any

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import AirResult, DuctResult, Results
from garnetfin.engine.stages.duct_tree import ducts
from garnetfin.project.edits.duct_shape import JoinEnds, meeting, ways_between
from garnetfin.project.lookup import find


@dataclass(frozen=True, slots=True)
class Joining:
    """`command` joins the ends over points;

    None when nothing fits, and `missing` says what would make it fit. Loss of the new pieces [Pa].
    """

    command: JoinEnds | None
    kind: str
    between: tuple[Any, ...]
    missing: str = ""
    loss_pa: float | None = None


def joining(results: Results, first_id: str, second_id: str) -> Joining:
    """What fits between two open ends, tried on the project as it stands."""
    project = results.project
    mine = meeting(project, first_id)
    known = {i: s for n in results.networks(mine[0].system_id) for i, s in n.segments.items()} if mine else {}
    width = known[mine[0].id].section.width_m if mine and mine[0].id in known else 0.2
    kind, between, missing = ways_between(project, first_id, second_id, width)
    if missing:
        return Joining(None, "", (), missing)
    command = JoinEnds(first_id, second_id, between)
    try:
        joined = command.apply(project)
    except GarnetfinError as error:
        return Joining(None, "", (), str(error))
    system = find(joined.air_systems, mine[0].system_id)
    air = results.air.get(system.id)
    found = ducts(joined, system, air, Memo(), mine[0].air) if isinstance(air, AirResult) else None
    loss = None
    if isinstance(found, DuctResult):
        old = {s.id for s in project.segments}
        loss = sum(r.loss_pa for i, r in found.segments.items() if i not in old)
    return Joining(command, kind, between, "", loss)
