"""Every air of a level laid out anew in one go, each in its own share of the height above the ceilings."""

from collections.abc import Callable
from dataclasses import replace

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.layout.route_site import Question, ask, replaced, site_of
from garnetfin.engine.layout.routes import Failure, Proposal, propose, ranked
from garnetfin.engine.layout.spigots import from_spigots
from garnetfin.engine.results import DuctResult, Results
from garnetfin.engine.stages.terminals import OF_ROOM
from garnetfin.project.ducts import Air
from garnetfin.project.edits import Command, Commands

NAME, LINE = "All airs together", "each in its own share of the height"


def propose_level(
    results: Results,
    question: Question,
    progress: Callable[[float, str], None] = lambda *_: None,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[Proposal, ...]:
    """What `propose` finds and, where ducts of other airs are there too, all of them laid anew together.

    Raises InputError when there is nothing to route.
    """
    found = propose(results, question, lambda share, name: progress(share * 0.7, name), stopped)
    apart = None if stopped() else from_spigots(results, question, stopped)
    found = ranked([*found, apart]) if apart is not None else found
    airs = _laid(results, question)
    if not airs or stopped() or question.trunk_m is not None or question.branch_m is not None:
        return found
    progress(0.75, NAME)
    made = together(results, question, airs, stopped)
    return ranked([*found, made]) if made is not None else found


def _laid(results: Results, question: Question) -> dict[Air, Question]:
    """The other airs of the system with terminals on the level, when one of them has ducts there."""
    asked = {air: ask(results, question.system_id, air, question.level_id) for air in OF_ROOM if air != question.air}
    asked = {air: replace(q, shut=question.shut) for air, q in asked.items() if q.terminal_ids}
    return asked if any(replaced(results.project, results, q) for q in asked.values()) else {}


def together(
    results: Results, question: Question, others: dict[Air, Question], stopped: Callable[[], bool] = lambda: False
) -> Proposal | None:
    """One proposal that lays the asked air and the others, the greatest flow first; a failure says which does not fit.

    None where it was stopped.
    """
    asked = {question.air: question, **others}
    flow = {air: sum(site_of(results, q).flows) for air, q in asked.items()}
    old = {air: replaced(results.project, results, q) for air, q in asked.items()}
    order = sorted(asked, key=lambda air: (-flow[air], air))
    steps: list[Command] = []
    networks: dict[str, DuctResult] = {}
    own: Proposal | None = None
    for k, air in enumerate(order):
        waiting = tuple(i for later in order[k + 1 :] for i in old[later])
        try:
            found = propose(results, replace(asked[air], ignored=waiting), stopped=stopped, mended=False)
        except GarnetfinError as error:
            return _failed(f"{air.capitalize()}: {error}")
        if stopped():
            return None
        best = next((p for p in found if p.failure is None and p.command is not None), None)
        if best is None or best.command is None or best.found is None or best.project is None:
            why = next((p.failure for p in found if p.failure is not None), None)
            return _failed(f"{air.capitalize()}: {why.reason if why else 'no way was found.'}", why)
        steps.append(best.command)
        networks[air] = best.found
        own = best if air == question.air else own
        results = results.with_ducts(best.project, best.found)
    if own is None:
        return None
    return replace(
        own,
        kind="together",
        name=NAME,
        line=LINE,
        command=Commands("Apply route", tuple(steps)),
        project=results.project,
        note=f"lays {' and '.join(a for a in order if a != question.air)} anew as well",
        others=tuple(n for air, n in networks.items() if air != question.air),
    )


def _failed(reason: str, why: Failure | None = None) -> Proposal:
    failure = Failure(reason, why.blocked if why else (), why.part_id if why else "")
    return Proposal("together", NAME, LINE, None, good=False, failure=failure)
