"""Route proposals: several complete layouts of one level, sized and judged; one that does not work says where, why and
what would free it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import hypot
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.sizes import SIDE_MM
from garnetfin.core.errors import GarnetfinError
from garnetfin.core.routes import trees
from garnetfin.core.routes.tracks import Outline, Tracks
from garnetfin.display import amount, told
from garnetfin.engine.layout.duct_methods import life_cost
from garnetfin.engine.layout.route_site import (
    LEAST_DUCT_M,
    STEP_M,
    Question,
    Site,
    ask,
    layers,
    overlap,
    shared_layer,
    site_of,
    starts,
    strip,
)
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, Missing, Results, there
from garnetfin.engine.stages.duct_clashes import Clash, clashes
from garnetfin.engine.stages.duct_tree import ducts
from garnetfin.project.ducts import Role, Shape
from garnetfin.project.edits import Command, Commands
from garnetfin.project.edits.ceilings import RemoveCeilingParts, SetCeilingZone
from garnetfin.project.edits.duct_runs import SetShape
from garnetfin.project.edits.duct_shape import StepAside
from garnetfin.project.edits.duct_values import SetDuctValue
from garnetfin.project.edits.routes import Run, TakeRoute
from garnetfin.project.edits.systems import SetSystemValue
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned

ROUNDS = 4  # of routing anew past stretches that turned out too low
DROPS_M = (0.05, 0.15, 0.3)  # of a ceiling that are tried to free a layout
LOWEST_CEILING_M = 2.3  # lower ones are not offered
CLUSTER_M, MOST_CLUSTER = 4.0, 4
FAR_ABOVE, FAR_ABOVE_PA = 2.0, 50.0  # of the pressure of the least layout, that is no choice among equals
ALONG = 0.9  # cosine between a stretch and a duct that it runs along
OFF_TRACK_M = 0.3  # a terminal further from every track is out of reach
WEIGHTS = {"cost": 0.5, "fan_pa": 0.15, "mass_kg": 0.15, "fittings": 0.1, "imbalance_pa": 0.1}
KINDS = (
    ("corridor", "Corridor trunk", "one trunk along the corridor, branches to its sides"),
    ("shortest", "Shortest tree", "least duct, wherever it runs"),
    ("twin", "Two trunks", "the rooms shared between two trunks"),
    ("other", "Trunk elsewhere", "the trunk in the next best way"),
    ("home", "Home runs", "from one box, a duct to every few terminals"),
)


@dataclass(frozen=True, slots=True)
class Failure:
    """Why a layout does not work: the reason in numbers, what is in the way (outlines), the way as far as it was found;
    commands or questions that free it.
    """

    reason: str
    blocked: tuple[Outline, ...] = ()
    part_id: str = ""
    mends: tuple[tuple[str, "Command | Question"], ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "reason", told(self.reason))


@dataclass(frozen=True, slots=True, eq=False)
class Proposal:
    """A layout.

    `command` takes it, `found` are its ducts as they would be; figures are of the whole network of that air.
    """

    kind: str
    name: str
    line: str
    command: Command | None
    project: Project | None = None
    found: DuctResult | None = None
    cost: float = 0.0
    fan_pa: float = 0.0
    mass_kg: float = 0.0
    fittings: int = 0
    imbalance_pa: float = 0.0
    score: float = 0.0
    note: str = ""
    breaks: str = ""  # a limit that it breaks although it can be built
    good: bool = True
    failure: Failure | None = None
    others: tuple[DuctResult, ...] = ()  # ducts of other airs that it lays anew as well

    @property
    def figures(self) -> tuple[float, float, float, float, float]:
        return self.cost, self.fan_pa, self.mass_kg, float(self.fittings), self.imbalance_pa


def propose(
    results: Results,
    question: Question,
    progress: Callable[[float, str], None] = lambda share, name: None,
    stopped: Callable[[], bool] = lambda: False,
    mended: bool = True,
) -> tuple[Proposal, ...]:
    """Layouts of every kind, the best first, then those that do not work.

    Raises InputError when there is nothing to route.
    """
    site = site_of(results, question)
    own = shared_layer(results, question)
    shared = site_of(results, question, own) if own is not None else None
    found: list[Proposal] = []
    for n, (kind, name, line) in enumerate(KINDS):
        if stopped():
            break
        progress(n / len(KINDS), name)
        if shared is not None:
            made = _try(results, shared, kind, name, f"{line}, in its share of the height", found, stopped, False)
            if made is not None and made.failure is None and not made.breaks:
                found += [] if any(_alike(made, other) for other in found) else [made]
                continue
        made = _try(results, site, kind, name, line, found, stopped, mended and not site.space.ducts)
        if made is not None and made.failure is not None and site.space.ducts and not stopped():
            made = _in_a_layer(results, site, question, kind, name, line, found, stopped, mended) or made
        if made is not None and not any(_alike(made, other) for other in found):
            found.append(made)
    return ranked(found)


def ranked(found: list[Proposal], weights: dict[str, float] = WEIGHTS) -> tuple[Proposal, ...]:
    """Scored against the greatest of each figure; those that break a limit after those that keep all, failed ones last.

    One whose ducts ask for a pressure far above the least of all breaks a limit as well.
    """
    works = [p for p in found if p.failure is None]
    least_pa = min((p.fan_pa for p in works), default=0.0)
    works = [
        replace(p, breaks=told(f"{p.fan_pa / least_pa:.1f} times the least pressure"))
        if not p.breaks and least_pa > 0 and p.fan_pa > max(FAR_ABOVE * least_pa, least_pa + FAR_ABOVE_PA)
        else p
        for p in works
    ]
    most = {name: max((getattr(p, name) for p in works), default=1.0) or 1.0 for name in weights}
    scored = [replace(p, score=sum(w * getattr(p, name) / most[name] for name, w in weights.items())) for p in works]
    return (
        *sorted(scored, key=lambda p: (bool(p.breaks), not p.good, bool(p.others), p.score)),
        *(p for p in found if p.failure is not None),
    )


def _alike(a: Proposal, b: Proposal) -> bool:
    return (
        a.failure is None
        and b.failure is None
        and all(abs(x - y) <= 0.02 * max(abs(x), abs(y), 1e-9) for x, y in zip(a.figures, b.figures))
    )


def _in_a_layer(
    results: Results,
    site: Site,
    question: Question,
    kind: str,
    name: str,
    line: str,
    before: list[Proposal],
    stopped: Callable[[], bool],
    mended: bool,
) -> Proposal | None:
    """The same below or above the ducts that are there, where the ceiling leaves a layer; else the failure with what
    would free it.
    """
    last = None
    for low, high in layers(site):
        again = _try(
            results,
            site_of(results, question, (low, high)),
            kind,
            name,
            f"{line}, in a layer of its own",
            before,
            stopped,
            False,
        )
        if again is not None and again.failure is None:
            return again
        last = again or last
    if mended:
        return _try(results, site, kind, name, line, before, stopped, True)
    return last


# -- one layout -----------------------------------------------------------------------------------------------------
def _try(
    results: Results,
    site: Site,
    kind: str,
    name: str,
    line: str,
    before: list[Proposal],
    stopped: Callable[[], bool],
    mended: bool,
) -> Proposal | None:
    """A layout of a kind: routed, sized, and routed anew past stretches that are too low for it."""
    net = site.tracks.without(site.tracks.height_m < LEAST_DUCT_M)
    made = best = None
    for _ in range(ROUNDS):
        found = _tree(site, net, kind, before, stopped)
        if found is None:
            return None
        if isinstance(found, trees.NoWay):
            if best is not None:
                return best
            return _failed(results, site, kind, name, line, found, net, made, mended)
        made = found
        proposal, low = _judged(results, site, kind, name, line, found, net)
        if best is None or _rank(proposal) > _rank(best):
            best = proposal
        if not low.any() or stopped():
            break
        net = net.without(low)
    if best is not None and best.failure is not None:
        return replace(
            best, failure=replace(best.failure, mends=_mends(results, site, kind, name, line, best.failure, mended))
        )
    return best


def _rank(p: Proposal) -> tuple[bool, bool, float]:
    """The greater the better: what can be built, what keeps its limits, what costs less."""
    return p.good, not p.breaks, -p.cost


def _tree(
    site: Site, net: Tracks, kind: str, before: list[Proposal], stopped: Callable[[], bool]
) -> "list[trees.RouteTree] | trees.NoWay | None":
    """One tree, or several from one start; None where the kind makes no sense here."""
    costs = trees.Costs()
    ways = trees.Ways(net, costs)
    nodes, q = site.nodes, site.flows
    for t, (node, terminal_id) in enumerate(zip(nodes, site.question.terminal_ids)):
        point = find(site.project.duct_points, find(site.project.terminals, terminal_id).point_id)
        if hypot(net.xy[node][0] - point.x_m, net.xy[node][1] - point.y_m) > OFF_TRACK_M:
            # no track comes there: outside, or in a room to be kept clear
            return trees.NoWay(t)
    if kind == "corridor":
        if not net.corridor.any():
            return None
        lanes = _lanes(net)
        if not lanes.any():
            return None
        found = trees.trunk(ways, site.root, nodes, q, lanes)
    elif kind == "shortest":
        found = trees.steiner(ways, site.root, nodes, q, site.improve_s, stopped)
    elif kind == "other":
        first = next((p for p in before if p.failure is None), None)
        if first is None:
            return None
        busy = _main_edges(site, net, first)
        if not busy.any():
            return None
        found = trees.steiner(trees.Ways(net.without(busy), costs), site.root, nodes, q, site.improve_s, stopped)
    elif kind == "twin":
        if len(nodes) < 4:
            return None
        groups = _two_groups(site, net)
        made = []
        for group in groups:
            tree = trees.steiner(
                trees.Ways(net, costs),
                site.root,
                [nodes[i] for i in group],
                [q[i] for i in group],
                site.improve_s / 2,
                stopped,
            )
            if isinstance(tree, trees.NoWay):
                return trees.NoWay(group[tree.terminal])
            made.append(_renamed(tree, group))
            net = _taken(net, made, site.root)
        return made
    else:
        if len(nodes) < 3:
            return None
        made = []
        for group in _clusters(site, net):
            tree = trees.steiner(
                trees.Ways(net, costs), site.root, [nodes[i] for i in group], [q[i] for i in group], 0.0, stopped
            )
            if isinstance(tree, trees.NoWay):
                return trees.NoWay(group[tree.terminal])
            made.append(_renamed(tree, group))
            net = _taken(net, made, site.root)
        return made
    return found if isinstance(found, trees.NoWay) else [found]


def _lanes(net: Tracks) -> np.ndarray:
    """Nodes on the long line of every wing's corridors that has most of them, near their middle."""
    found = np.zeros(len(net.xy), bool)
    for wing in range(len(net.axes)):
        corridor = net.corridor & (net.wing == wing)
        if not corridor.any():
            continue
        own = net.own_xy(wing)
        spread = np.ptp(own[corridor], axis=0)
        k = 1 if spread[0] >= spread[1] else 0
        edges = net.edges[net.open & ~net.linking & (net.along_x == (k == 1))]
        usable = corridor & np.isin(np.arange(len(net.xy)), edges)
        places, count = np.unique(np.round(own[usable][:, k], 3), return_counts=True)
        if len(places):
            lane = places[np.argmax(count - 0.01 * np.abs(places - places.mean()))]
            found |= usable & (np.abs(own[:, k] - lane) < 0.01)
    return found


def _renamed(tree: trees.RouteTree, group: list[int]) -> trees.RouteTree:
    return trees.RouteTree(tree.root, tree.parent, {group[t]: n for t, n in tree.ends.items()})


def _taken(net: Tracks, made: list[trees.RouteTree], root: int) -> Tracks:
    """Tracks that trees run on already are shut, but for the first steps from the start; what runs across them may
    still cross.
    """
    used = {frozenset((n, up)) for tree in made for n, up in tree.parent.items() if up >= 0}
    close = np.abs(net.xy - net.xy[root]).sum(axis=1) < 1.0
    shut = np.array([frozenset((int(a), int(b))) in used and not (close[a] and close[b]) for a, b in net.edges])
    return net.without(shut)


def _main_edges(site: Site, net: Tracks, first: Proposal) -> np.ndarray:
    """Tracks under the trunk of another layout: ducts that carry more than a third of all."""
    from shapely import LineString, intersects, linestrings

    flow = sum(site.flows)
    lines = []
    for s in first.project.segments:
        r = first.found.segments.get(s.id)
        a, b = find(first.project.duct_points, s.a), find(first.project.duct_points, s.b)
        near = (
            hypot(a.x_m - site.at[0], a.y_m - site.at[1]) < 1.5 or hypot(b.x_m - site.at[0], b.y_m - site.at[1]) < 1.5
        )
        if (
            r is not None
            and r.flow_m3s > flow / 3
            and a.level_id == site.question.level_id
            and hypot(a.x_m - b.x_m, a.y_m - b.y_m) > 0.3
            and not near
        ):
            line = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)]).buffer(0.4, cap_style="flat")
            lines.append((line, np.array([b.x_m - a.x_m, b.y_m - a.y_m]) / hypot(a.x_m - b.x_m, a.y_m - b.y_m)))
    closed = np.zeros(len(net.edges), bool)
    segments = linestrings(np.stack([net.xy[net.edges[:, 0]], net.xy[net.edges[:, 1]]], axis=1))
    way = net.xy[net.edges[:, 1]] - net.xy[net.edges[:, 0]]
    for lane, along in lines:
        alike = np.abs(way @ along) > ALONG * np.hypot(way[:, 0], way[:, 1])
        closed |= intersects(segments, lane.buffer(-0.01)) & alike
    return closed


def _two_groups(site: Site, net: Tracks) -> list[list[int]]:
    """Terminals on either side of the start along the longer way, about alike in flow."""
    xy = net.xy[list(site.nodes)]
    k = int(np.argmax(np.ptp(xy, axis=0)))
    order = sorted(range(len(xy)), key=lambda i: (xy[i, k], xy[i, 1 - k]))
    sums, half = np.cumsum([site.flows[i] for i in order]), sum(site.flows) / 2
    cut = max(1, min(len(order) - 1, int(np.searchsorted(sums, half)) + 1))
    return [order[:cut], order[cut:]]


def _clusters(site: Site, net: Tracks) -> list[list[int]]:
    """Neighbouring terminals, four at most, those far away first."""
    xy = net.xy[list(site.nodes)]
    left = sorted(range(len(xy)), key=lambda i: -np.abs(xy[i] - net.xy[site.root]).sum())
    groups = []
    while left:
        seed = left.pop(0)
        near = sorted(
            (i for i in left if np.abs(xy[i] - xy[seed]).sum() < CLUSTER_M),
            key=lambda i: np.abs(xy[i] - xy[seed]).sum(),
        )[: MOST_CLUSTER - 1]
        groups.append([seed, *near])
        left = [i for i in left if i not in near]
    return groups


def _command(site: Site, net: Tracks, made: list[trees.RouteTree]) -> TakeRoute:
    """Places, runs and ends of trees; drops to terminals and rises to branches at another height come in between."""
    question, project = site.question, site.project
    places: list[tuple[float, float, float]] = [site.at]
    runs: list[Run] = []
    at_end: dict[int, int] = {}
    whole = sum(site.flows)
    z = site.z_trunk
    if abs(site.at[2] - z) > STEP_M:
        places.append((site.at[0], site.at[1], z))
        runs.append(Run(0, 1, "trunk", "rectangular"))
    base = len(places) - 1
    for tree in made:
        number = {tree.root: base}
        flow = tree.flows(site.flows)
        kept, pairs = trees.corners(net, tree)
        on_trunk = {n for n in kept if flow[n] >= 0.2 * whole or n == tree.root}
        for up, node in pairs:
            x, y = (float(v) for v in net.xy[node])
            main = node in on_trunk
            role: Role = "trunk" if main else "last" if node in tree.ends.values() and up in on_trunk else "branch"
            shape: Shape = "rectangular" if main else "round"
            height = z if main else site.z_branch
            first = number[up]
            if abs(places[first][2] - height) > STEP_M:
                places.append((places[first][0], places[first][1], height))
                runs.append(Run(first, len(places) - 1, role, shape))
                first = len(places) - 1
            places.append((x, y, height))
            number[node] = len(places) - 1
            runs.append(Run(first, number[node], role, shape))
        for terminal, node in tree.ends.items():
            at_end[terminal] = number[node]
    ends = []
    taken: set[int] = set()
    for terminal, place in sorted(at_end.items()):
        point = find(project.duct_points, find(project.terminals, question.terminal_ids[terminal]).point_id)
        exact = (point.x_m, point.y_m, point.z_m)
        goes_on = any(r.first == place for r in runs) or place in taken or place == 0
        flat = abs(exact[2] - places[place][2]) <= STEP_M
        if not goes_on and flat:
            places[place] = exact
            ends.append((question.terminal_ids[terminal], place))
        else:
            if hypot(exact[0] - places[place][0], exact[1] - places[place][1]) > 0.02 and not goes_on:
                places[place] = (exact[0], exact[1], places[place][2])
            if flat and hypot(exact[0] - places[place][0], exact[1] - places[place][1]) <= 0.02:
                ends.append((question.terminal_ids[terminal], place))
                places[place] = exact
            else:
                places.append(exact)
                runs.append(Run(place, len(places) - 1, "last", "round"))
                ends.append((question.terminal_ids[terminal], len(places) - 1))
        taken.add(place)
    return TakeRoute(
        question.system_id,
        question.air,
        question.level_id,
        site.removed,
        tuple(places),
        site.start,
        tuple(runs),
        tuple(ends),
    )


def _judged(
    results: Results, site: Site, kind: str, name: str, line: str, made: list[trees.RouteTree], net: Tracks
) -> tuple[Proposal, np.ndarray]:
    """The layout sized; and which tracks were too low for what they carry."""
    question = site.question
    low = np.zeros(len(net.edges), bool)
    command: Command = _command(site, net, made)
    try:
        project = command.apply(site.project)
    except GarnetfinError as error:
        return Proposal(kind, name, line, None, good=False, failure=Failure(str(error))), low
    system = find(project.air_systems, question.system_id)
    memo = Memo()
    found = ducts(project, system, site.air, memo, question.air)
    if isinstance(found, Missing):
        return Proposal(kind, name, line, None, good=False, failure=Failure(found.remedy)), low
    project, found, command = _flattened(site, project, found, command, memo)
    project, found, command, crossed, left = _crossings(results, site, project, found, command, memo)
    old = {s.id for s in site.project.segments}
    worst, note, blocked, part = 0.0, "", [], ""
    crowded = 0
    for s in project.segments:
        r = found.segments.get(s.id)
        if r is None or s.id in old or r.pinned:
            continue
        free = min(r.clear_height_m, r.obstacle_height_m)
        over = r.outer_height_m - free
        if over > 1e-6:
            low |= _under(project, s, net, r.outer_height_m)
            what = r.obstacle if r.obstacle_height_m <= r.clear_height_m else "the ceiling"
            if over > worst:
                worst, part = over, what
                note = told(f"touches {what} by {amount('duct_size', over)}")
            blocked.append(s.id)
        elif "velocity" in r.ladder.relaxed:
            crowded += 1  # it fits, but only with air too fast
            if free < 0.5:
                low |= _under(project, s, net, free + 1e-3)
    _sheet, cost = life_cost(replace(results, project=project), found)
    losses = found.runs.loss_pa
    good = not blocked and not left
    breaks = f"{crowded} duct{'s run' if crowded > 1 else ' runs'} faster than the limit" if crowded else ""
    words = note or (
        breaks
        if breaks
        else f"{crossed} ducts pass under or over others"
        if crossed
        else "clear of all that is in the way"
    )
    failure = None
    if left:
        c = left[0]
        new, there = (c.second, c.first) if c.second not in old else (c.first, c.second)
        outline = _outline_of(project, there)
        failure = Failure(
            f"The new {_named(project, new)} meets the {_named(project, there)}: "
            f"{amount('duct_size', c.missing_m)} more are needed between their heights, and the ceiling leaves no room "
            "to step aside.",
            (outline,) if outline else (),
            c.first,
        )
    elif blocked:
        over = [find(project.segments, i) for i in blocked]
        failure = Failure(
            f"{note[0].upper()}{note[1:]}: no size fits there.",
            tuple(o.outline for o in project.obstacles if f"{o.kind} {o.id}" == part)
            or tuple(_outline_of(project, s.id) for s in over[:3]),
            part,
        )
    return Proposal(
        kind,
        name,
        line,
        command if good else None,
        project,
        found,
        cost,
        found.runs.fan_pa,
        found.mass_kg,
        sum(len(r.fittings) for r in found.segments.values()),
        float(losses.max() - losses.min()) if len(losses) else 0.0,
        0.0,
        words,
        breaks,
        good,
        failure,
    ), low


def _flattened(
    site: Site, project: Project, found: DuctResult, command: Command, memo: Memo
) -> tuple[Project, DuctResult, Command]:
    """New ducts that are too high for what they pass become rectangles as high as fits, where a size can be so low."""
    old = {s.id for s in site.project.segments}
    steps: list[Command] = []
    for r in found.segments.values():
        free = min(r.clear_height_m, r.obstacle_height_m, site.band_m or 1e9) - 2 * r.make.around_m
        if r.segment_id in old or r.pinned or r.outer_height_m <= free + 2 * r.make.around_m + 1e-6:
            continue
        side = max((mm / 1000 for mm in SIDE_MM if mm / 1000 <= free + 1e-6), default=0.0)
        if side:
            steps += [
                SetShape((r.segment_id,), "rectangular"),
                SetDuctValue((r.segment_id,), "height_m", Pinned(value=side, note="to pass what is in the way")),
            ]
    if not steps:
        return project, found, command
    for step in steps:
        project = step.apply(project)
    again = ducts(project, find(project.air_systems, found.system_id), site.air, memo, found.air)
    return project, again if isinstance(again, DuctResult) else found, Commands("Apply route", (command, *steps))


def _under(project: Project, segment, net: Tracks, height_m: float) -> np.ndarray:
    """Tracks beneath a duct on which it does not fit."""
    from shapely import LineString, covers, linestrings

    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    if hypot(a.x_m - b.x_m, a.y_m - b.y_m) < 0.02:
        return np.zeros(len(net.edges), bool)
    line = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)]).buffer(0.03)
    segments = linestrings(np.stack([net.xy[net.edges[:, 0]], net.xy[net.edges[:, 1]]], axis=1))
    answer: NDArray[Any] = covers(line, segments) & (net.height_m < height_m)
    return answer


def _named(project: Project, segment_id: str) -> str:
    """A duct as people speak of it: its air, and the room it runs over."""
    from shapely import Point, Polygon

    s = find(project.segments, segment_id)
    a, b = find(project.duct_points, s.a), find(project.duct_points, s.b)
    middle = Point((a.x_m + b.x_m) / 2, (a.y_m + b.y_m) / 2)
    over = (r for r in project.rooms if r.level_id == a.level_id and Polygon(r.outline).buffer(0).covers(middle))
    room = next(over, None)
    return f"{s.air} duct above {room.number} {room.name}" if room is not None else f"{s.air} duct"


def _outline_of(project: Project, segment_id: str) -> Outline:
    s = find(project.segments, segment_id)
    a, b = find(project.duct_points, s.a), find(project.duct_points, s.b)
    return strip((a.x_m, a.y_m), (b.x_m, b.y_m), 0.4) if hypot(a.x_m - b.x_m, a.y_m - b.y_m) > 0.01 else ()


def _crossings(
    results: Results, site: Site, project: Project, found: DuctResult, command: Command, memo: Memo
) -> tuple[Project, DuctResult, Command, int, list[Clash]]:
    """New ducts that cross others step aside where the ceiling leaves room;

    (project, ducts, command, how many step, clashes that are left).
    """
    others = [
        n
        for s in site.project.air_systems
        for n in results.networks(s.id)
        if (n.system_id, n.air) != (found.system_id, found.air)
    ]
    old, ignored = {s.id for s in site.project.segments}, set(site.question.ignored)
    steps: list[StepAside] = []
    left: list[Clash] = []
    for _ in range(40):
        new = [c for c in clashes(project, [*others, found], memo) if {c.first, c.second} - old]
        new = [c for c in new if not {c.first, c.second} & ignored]
        new = [c for c in new if c not in left]
        if not new:
            break
        c = new[0]
        step = _aside(project, found, c, old)
        if step is None:
            left.append(c)
            continue
        try:
            project = step.apply(project)
        except GarnetfinError:
            left.append(c)
            continue
        steps.append(step)
        again = ducts(project, find(project.air_systems, found.system_id), site.air, memo, found.air)
        if isinstance(again, Missing):
            break
        found = again
    if steps:
        command = Commands(
            "Apply route", ((*command.steps, *steps) if isinstance(command, Commands) else (command, *steps))
        )
    return project, found, command, len(steps), left


def _aside(project: Project, found: DuctResult, c: Clash, old: set[str]) -> StepAside | None:
    """The new one of two goes under or over, whichever the ceiling allows."""
    second = c.second if c.second not in old else ""
    if not second or second not in found.segments:
        return None
    r = found.segments[second]
    segment = find(project.segments, second)
    a = find(project.duct_points, segment.a)
    if not (c.half_m < c.share * r.length_m and c.half_m < (1 - c.share) * r.length_m):
        return None
    level = find(project.levels, a.level_id)
    zones = [
        z
        for z in project.ceiling_zones
        if z.level_id == a.level_id and overlap(z.outline, _outline_of(project, second))
    ]
    low = level.elevation_m + max((z.ceiling_m for z in zones), default=2.2)
    high = level.elevation_m + min((z.soffit_m for z in zones), default=level.storey_m)
    for dz in (-c.missing_m, c.missing_m) if c.below else (c.missing_m, -c.missing_m):
        z = a.z_m + dz
        if z - r.outer_height_m / 2 >= low - 1e-6 and z + r.outer_height_m / 2 <= high + 1e-6 and (dz < 0) == c.below:
            return StepAside(second, round(c.share, 4), round(c.half_m, 3), round(dz, 3))
    return None


# -- what does not work ---------------------------------------------------------------------------------------------
def _failed(
    results: Results, site: Site, kind: str, name: str, line: str, no: trees.NoWay, net: Tracks, made, mended: bool
) -> Proposal:
    """Where the way ends: what shuts the cheapest way to the terminal when heights did not count."""
    terminal = find(site.project.terminals, site.question.terminal_ids[no.terminal])
    room = find(site.project.rooms, terminal.room_id)
    free = trees.Ways(replace(site.tracks, open=np.ones(len(site.tracks.edges), bool)), trees.Costs())
    way = free.path(free.from_nodes({site.root: 0.0}), site.nodes[no.terminal])
    blocked, part, reason = (), "", f"No way leads to terminal {terminal.label} in {room.number} {room.name}."
    if room.id in site.question.shut:
        reason, blocked = (
            f"Terminal {terminal.label} lies in {room.number} {room.name}, which is to be kept clear.",
            (room.outline,),
        )
    elif way is not None:
        number = {frozenset((int(a), int(b))): i for i, (a, b) in enumerate(site.tracks.edges)}
        shut = [number[frozenset(pair)] for pair in zip(way[0], way[0][1:]) if not net.open[number[frozenset(pair)]]]
        lowest = min(shut, key=lambda i: site.tracks.height_m[i], default=None)
        if lowest is not None:
            height = site.tracks.height_m[lowest]
            part = site.tracks.names[site.tracks.limit[lowest]] if site.tracks.limit[lowest] >= 0 else ""
            if part and np.isfinite(height):
                reason = (
                    f"{part[0].upper()}{part[1:]} leaves {amount('duct_size', height)} on the way to terminal "
                    f"{terminal.label}; it needs more."
                )
                blocked = tuple(o.outline for o in site.project.obstacles if f"{o.kind} {o.id}" == part) or tuple(
                    z.outline
                    for z in site.project.ceiling_zones
                    if z.name == part and z.level_id == site.question.level_id
                )
            else:
                reason = (
                    f"Other ducts are in the way to terminal {terminal.label} in {room.number} {room.name}: no "
                    f"lane is left beside them."
                )
                blocked = (room.outline,)
    else:
        blocked = (room.outline,)
    failure = Failure(reason, blocked, part)
    failure = replace(failure, mends=_mends(results, site, kind, name, line, failure, mended))
    return Proposal(kind, name, line, None, good=False, failure=failure)


def _mends(
    results: Results, site: Site, kind: str, name: str, line: str, failure: Failure, mended: bool
) -> tuple[tuple[str, "Command | Question"], ...]:
    """One thing changed at a time and tried: only what succeeds is offered."""
    if not mended:
        return ()
    question, project = site.question, site.project
    tries: list[tuple[str, Command | Question]] = []
    zone = next(
        (z for z in project.ceiling_zones if z.name == failure.part_id and z.level_id == question.level_id), None
    ) or next((z for z in project.ceiling_zones if z.level_id == question.level_id), None)
    if zone is not None:
        for drop in DROPS_M:
            if zone.ceiling_m - drop >= LOWEST_CEILING_M:
                tries.append(
                    (
                        told(f"{zone.name} {amount('duct_size', drop)} lower"),
                        SetCeilingZone(zone.id, "ceiling_m", round(zone.ceiling_m - drop, 3)),
                    )
                )
    friction = site.air.figures.friction_pa_m.figure
    tries.append(
        (
            told(f"Friction {amount('friction', friction * 1.5, 1)}"),
            SetSystemValue(question.system_id, "friction_pa_m", Pinned(value=round(friction * 1.5, 2))),
        )
    )
    obstacle = next((o for o in project.obstacles if f"{o.kind} {o.id}" == failure.part_id), None)
    if obstacle is not None:
        tries.append((f"Without {failure.part_id}", RemoveCeilingParts((), (obstacle.id,))))
    for room_id in question.shut:
        tries.append(
            (
                f"Allow {find(project.rooms, room_id).number}",
                replace(question, shut=tuple(i for i in question.shut if i != room_id)),
            )
        )
    found: list[tuple[str, Command | Question]] = []
    for label, change in tries:
        if len(found) == 2:
            break
        try:
            if isinstance(change, Question):
                other_site = site_of(results, change)
            else:
                changed = change.apply(project)
                air = there(results.air[question.system_id])
                if isinstance(change, SetSystemValue):
                    figures = replace(
                        air.figures, friction_pa_m=replace(air.figures.friction_pa_m, figure=change.value.value)
                    )
                    air = replace(air, figures=figures)
                other_site = site_of(
                    replace(results, project=changed, air={**results.air, question.system_id: air}), question
                )
        except GarnetfinError:
            continue
        other_results = results if isinstance(change, Question) else replace(results, project=other_site.project)
        again = _try(other_results, replace(other_site, improve_s=0.0), kind, name, line, [], lambda: False, False)
        for layer in (
            layers(other_site) if again is not None and again.failure is not None and other_site.space.ducts else ()
        ):
            lower = replace(
                site_of(
                    replace(other_results, air={**results.air, question.system_id: other_site.air}),
                    other_site.question,
                    layer,
                ),
                improve_s=0.0,
            )
            again = _try(other_results, lower, kind, name, line, [], lambda: False, False) or again
            if again.failure is None:
                break
        kinds = {type(c) for _, c in found}
        # the least of each sort is enough
        if again is not None and again.failure is None and type(change) not in kinds:
            found.append((label, change))
    return tuple(found)


__all__ = ["Failure", "Proposal", "Question", "ask", "propose", "ranked", "starts"]
