"""Layouts from several spigots of a unit: every terminal belongs to one, and their ducts run side by side."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.layout.all_levels import joined
from garnetfin.engine.layout.route_site import Question
from garnetfin.engine.layout.routes import Proposal, propose
from garnetfin.engine.results import AirResult, Results
from garnetfin.engine.stages.terminals import terminal_flows
from garnetfin.project.ducts import DuctPoint
from garnetfin.project.lookup import find

NAME, LINE = "Several spigots", "each with its own trunk"
LEAST_SHARE = 0.35  # of the flow at one of two


def from_spigots(results: Results, question: Question, stopped: Callable[[], bool] = lambda: False) -> Proposal | None:
    """One proposal that begins at all spigots of the air on a level; None with one alone, or where it cannot be."""
    project = results.project
    system = find(project.air_systems, question.system_id)
    points = [find(project.duct_points, i) for i in system.roots_of(question.air)]
    roots = [p for p in points if p.level_id == question.level_id]
    if len(roots) < 2 or len(question.terminal_ids) < len(roots) or question.start:
        return None
    parts: list[Proposal] = []
    now = results
    for root, group in zip(roots, groups(results, question, roots)):
        if not group:
            continue
        try:
            found = propose(now, replace(question, terminal_ids=group, start=root.id), stopped=stopped, mended=False)
        except GarnetfinError:
            return None
        best = next((p for p in found if p.failure is None and p.project is not None and p.found is not None), None)
        if best is None or best.project is None or best.found is None:
            return None
        parts.append(best)
        now = now.with_ducts(best.project, best.found)
    like = replace(parts[0], kind="spigots", name=NAME, line=LINE, note=f"{len(parts)} spigots share the terminals")
    return joined(results, question, (), parts, like)


def groups(results: Results, question: Question, roots: Sequence[DuctPoint]) -> list[tuple[str, ...]]:
    """Terminals by spigot: each to the nearest along walls; of two, the cut of least length at which neither has less
    than its share of the flow.
    """
    project, air = results.project, results.air.get(question.system_id)
    if not isinstance(air, AirResult):
        return [() for _ in roots]
    flow = terminal_flows(tuple(t for t in project.terminals if t.air == question.air), air)
    ids = question.terminal_ids
    at = [find(project.duct_points, find(project.terminals, i).point_id) for i in ids]
    apart = [[abs(p.x_m - r.x_m) + abs(p.y_m - r.y_m) for r in roots] for p in at]
    if len(roots) != 2:
        nearest = [row.index(min(row)) for row in apart]
        return [tuple(i for i, n in zip(ids, nearest) if n == k) for k in range(len(roots))]
    order = sorted(range(len(ids)), key=lambda i: apart[i][0] - apart[i][1])
    whole = sum(flow[i] for i in ids) or 1.0

    def cost(cut: int) -> tuple[bool, float]:
        share = sum(flow[ids[i]] for i in order[:cut]) / whole
        length = sum(apart[i][0] for i in order[:cut]) + sum(apart[i][1] for i in order[cut:])
        return not LEAST_SHARE <= share <= 1 - LEAST_SHARE, length

    cut = min(range(1, len(ids)), key=cost)
    return [tuple(ids[i] for i in sorted(order[:cut])), tuple(ids[i] for i in sorted(order[cut:]))]
