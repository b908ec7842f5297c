"""One air of a system on several levels at once: risers through shafts, a trunk with branches on every level."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.layout.duct_methods import life_cost
from garnetfin.engine.layout.route_site import Question, ask
from garnetfin.engine.layout.routes import Failure, Proposal, propose, ranked
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import AirResult, DuctResult, Results
from garnetfin.engine.stages.duct_tree import ducts
from garnetfin.project.ducts import Air, DuctPoint, Segment
from garnetfin.project.edits import Command, Commands
from garnetfin.project.edits.duct_runs import DrawRun
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Level, PlanMark
from garnetfin.project.tree import Project

BELOW_TOP_M = 0.55  # of a storey, where ducts start when nothing else says so
UPRIGHT_M, LEAST_RISE_M = 0.02, 0.3
MOST_SHAFTS = 6  # that are looked at for one riser


def levels_with(results: Results, system_id: str, air: Air) -> tuple[Level, ...]:
    """Levels on which a system has terminals of an air, the lowest first."""
    found = [x for x in results.project.levels if ask(results, system_id, air, x.id).terminal_ids]
    return tuple(sorted(found, key=lambda x: x.elevation_m))


def propose_levels(
    results: Results,
    question: Question,
    progress: Callable[[float, str], None] = lambda *_: None,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[Proposal, ...]:
    """Layouts of all levels of a question's system and air: on each the same kind where it works there, else the best.

    A failure names the level. Raises InputError when there is nothing to route.
    """
    levels = levels_with(results, question.system_id, question.air)
    base, risers, results = _with_risers(results, question.system_id, question.air, levels)
    by_level: dict[str, tuple[Proposal, ...]] = {}
    for n, level in enumerate(levels):
        asked = replace(ask(base, question.system_id, question.air, level.id), shut=question.shut)
        share = n / len(levels)
        by_level[level.id] = propose(base, asked, _part(progress, share, 1 / len(levels), level.name), stopped)
        if stopped():
            return ()
        failed = next((p for p in by_level[level.id] if p.failure is not None), None)
        if failed is not None and all(p.failure is not None for p in by_level[level.id]):
            reason = f"{level.name}: {failed.failure.reason}" if failed.failure is not None else level.name
            return (replace(failed, failure=Failure(reason, mends=()), command=None),)
    kinds = {p.kind: p for found in by_level.values() for p in found if p.failure is None}
    made = [_joined(results, question, base.project, risers, by_level, p) for p in kinds.values()]
    return ranked(_different([p for p in made if p is not None]))


def _part(
    progress: Callable[[float, str], None], share: float, width: float, name: str
) -> Callable[[float, str], None]:
    return lambda at, kind: progress(share + at * width, f"{name}, {kind}")


def riser(project: Project, system_id: str, air: Air, levels: Sequence[Level]) -> tuple[DrawRun, ...]:
    """Up and down from what is there to the levels that none of a system's ducts reaches yet, a node on each: from the
    start of the system through the nearest shaft that stands on all levels between, straight up where there is none.
    """
    root = find(project.duct_points, find(project.air_systems, system_id).root_of(air))
    if root is None:
        return ()
    points = {p.id: p for p in project.duct_points}
    own = [s for s in project.segments if s.system_id == system_id and s.air == air]
    reached = {points[p].level_id for s in own for p in (s.a, s.b)} | {root.level_id}
    height = find(project.levels, root.level_id).elevation_m
    made = []
    for up in (True, False):
        wanted = [x for x in levels if x.id not in reached and (x.elevation_m > height) == up]
        wanted.sort(key=lambda x: x.elevation_m, reverse=not up)
        if not wanted:
            continue
        foot = _foot(points, own, root, wanted[0].elevation_m)
        way = [(foot.x_m, foot.y_m, foot.z_m), *(_to_shaft(project, root, wanted[-1]) if foot is root else [])]
        x, y = way[-1][:2]
        way += [(x, y, round(level.elevation_m + level.storey_m - BELOW_TOP_M, 3)) for level in wanted]
        made.append(DrawRun(system_id, foot.level_id, tuple(way), "rectangular", "trunk", "", air))
    return tuple(made)


def _foot(points: dict[str, DuctPoint], own: Sequence[Segment], root: DuctPoint, height_m: float) -> DuctPoint:
    """The end of a riser that is nearest in height to a level, else the start of the system."""
    ends = [
        points[p]
        for s in own
        if abs(points[s.a].x_m - points[s.b].x_m) + abs(points[s.a].y_m - points[s.b].y_m) < UPRIGHT_M
        and abs(points[s.a].z_m - points[s.b].z_m) > LEAST_RISE_M
        and points[s.a].level_id != points[s.b].level_id
        for p in (s.a, s.b)
    ]
    return min((root, *ends), key=lambda p: abs(p.z_m - height_m) if p is not root else abs(root.z_m - height_m) - 1e-6)


def _to_shaft(project: Project, root: DuctPoint, level: Level) -> list[tuple[float, float, float]]:
    """The way from a point to the middle of the shaft that leads to a level; nothing where it stands in one, or where
    there is none.
    """
    from shapely import Point, Polygon

    first = find(project.levels, root.level_id)
    low, high = sorted((first.elevation_m, level.elevation_m))
    between = [x.id for x in project.levels if low - 1e-6 <= x.elevation_m <= high + 1e-6]
    marks = [m for m in project.plan_marks if m.kind == "shaft"]
    at = Point(root.x_m, root.y_m)

    def stands(mark: PlanMark) -> bool:
        area = Polygon(mark.outline)
        others = (
            any(m.level_id == i and Polygon(m.outline).contains(area.centroid) for m in marks)
            for i in between
            if i != mark.level_id
        )
        return all(others)

    near = sorted((m for m in marks if m.level_id == first.id), key=lambda m: at.distance(Polygon(m.outline)))
    shaft = next((m for m in near[:MOST_SHAFTS] if stands(m)), None)
    if shaft is None or Polygon(shaft.outline).buffer(0.05).contains(at):
        return []
    x, y = Polygon(shaft.outline).centroid.coords[0]
    return [(round(x, 3), root.y_m, root.z_m), (round(x, 3), round(y, 3), root.z_m)]


def _with_risers(
    results: Results, system_id: str, air: Air, levels: Sequence[Level]
) -> tuple[Results, list[Command], Results]:
    """(results with the risers drawn, the risers, results as they were)."""
    project, steps = results.project, list[Command](riser(results.project, system_id, air, levels))
    for step in steps:
        project = step.apply(project)
    return replace(results, project=project), steps, results


def _joined(
    results: Results,
    question: Question,
    base: Project,
    risers: list[Command],
    by_level: dict[str, tuple[Proposal, ...]],
    like: Proposal,
) -> Proposal | None:
    """The layouts of one kind on all levels as one, sized together."""
    parts = []
    for found in by_level.values():
        works = [p for p in found if p.failure is None and p.command is not None]
        parts.append(next((p for p in works if p.kind == like.kind), works[0]))
    line, note = f"{like.line}, on {len(by_level)} levels", "risers drawn with it" if risers else ""
    return joined(replace(results, project=base), question, risers, parts, replace(like, line=line, note=note))


def joined(
    results: Results, question: Question, before: Sequence[Command], parts: Sequence[Proposal], like: Proposal
) -> Proposal | None:
    """Layouts of several parts of a system as one proposal, sized together; None where they cannot be.

    before  steps that are taken first, which `results` has already; `like` gives kind, name, line and note
    """
    air, project = results.air.get(question.system_id), results.project
    commands = [p.command for p in parts if p.command is not None]
    try:
        for command in commands:
            project = command.apply(project)
    except GarnetfinError:
        return None
    if not isinstance(air, AirResult):
        return None
    network = ducts(project, find(project.air_systems, question.system_id), air, Memo(), question.air)
    if not isinstance(network, DuctResult):
        return None
    _, cost = life_cost(replace(results, project=project), network)
    losses = network.runs.loss_pa
    return Proposal(
        like.kind,
        like.name,
        like.line,
        Commands("Apply route", (*before, *commands)),
        project,
        network,
        cost,
        network.runs.fan_pa,
        network.mass_kg,
        sum(len(r.fittings) for r in network.segments.values()),
        float(losses.max() - losses.min()) if len(losses) else 0.0,
        0.0,
        like.note or "clear of all that is in the way",
        next((p.breaks for p in parts if p.breaks), ""),
    )


def _different(made: list[Proposal]) -> list[Proposal]:
    """Without those whose figures are those of one before."""
    kept: list[Proposal] = []
    for p in made:
        if not any(abs(p.mass_kg - q.mass_kg) < 0.5 and abs(p.fan_pa - q.fan_pa) < 0.5 for q in kept):
            kept.append(p)
    return kept
