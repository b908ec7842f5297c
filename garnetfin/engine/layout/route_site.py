"""One level as route proposals see it: where they start, what they replace, what is in the way, at which heights."""

from dataclasses import dataclass
from math import hypot

from garnetfin.core.errors import InputError
from garnetfin.core.routes.tracks import Block, Outline, Space, Tracks, Zone, tracks
from garnetfin.engine.results import AirResult, Missing, Results
from garnetfin.engine.stages.duct_clashes import GAP_M
from garnetfin.engine.stages.terminals import OF_ROOM, terminal_flows
from garnetfin.project.ducts import Air, Segment
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Level
from garnetfin.project.tree import Project

LEAST_DUCT_M = 0.1
LEAST_LAYER_M = 0.15  # of one air, where several share the height
IMPROVE_S = 0.6
UPRIGHT_M = 0.3  # of rise, above which a duct is a riser and no step
STEP_M = 0.06  # differences of height that a duct takes without a step
SIDE_GAP_M = 0.1  # between ducts side by side


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked for: terminals of one air on one level, rooms to keep out of, heights of trunk and branches above
    the floor (None: by rule).
    """

    system_id: str
    air: Air
    level_id: str
    terminal_ids: tuple[str, ...]
    shut: tuple[str, ...] = ()
    trunk_m: float | None = None
    branch_m: float | None = None
    # duct point to start from; "" the end of what stays, the unit, an open end, or the shaft
    start: str = ""
    # ducts of other airs that are laid anew afterwards and are in nobody's way until then
    ignored: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Site:
    """What all layouts of a question share."""

    project: Project
    question: Question
    air: AirResult
    start: str  # duct point, "" for a new one
    at: tuple[float, float, float]
    removed: tuple[str, ...]
    flows: tuple[float, ...]
    z_trunk: float
    z_branch: float
    space: Space
    tracks: Tracks
    nodes: tuple[int, ...]
    root: int
    improve_s: float = IMPROVE_S
    band_m: float | None = None  # height of the layer it has to itself, above or below other ducts
    fixed_m: tuple[float, float] = (0.0, 0.0)  # lowest and highest edge of ducts that stay


def ask(results: Results, system_id: str, air: Air, level_id: str, terminal_ids: tuple[str, ...] = ()) -> Question:
    """The terminals named, or all of that system, air and level."""
    project = results.project
    served = {r.id for r in project.rooms if r.system_id == system_id}
    level_of = {p.id: p.level_id for p in project.duct_points}
    every = tuple(
        t.id for t in project.terminals if t.air == air and t.room_id in served and level_of[t.point_id] == level_id
    )
    chosen = tuple(i for i in every if i in terminal_ids)
    return Question(system_id, air, level_id, chosen or every)


def site_of(results: Results, question: Question, layer: tuple[float, float] | None = None) -> Site:
    """The level for one question; `layer` (lowest, highest edge [m]) is what its ducts keep to.

    Raises InputError where there are no flows, no terminals, nowhere to start, or no building.
    """
    project = results.project
    air = results.air.get(question.system_id)
    if not isinstance(air, AirResult):
        raise InputError(
            "There are no flows to route", remedy=air.remedy if isinstance(air, Missing) else "Choose an air system"
        )
    if not question.terminal_ids:
        raise InputError(f"There are no {question.air} terminals on this level", remedy="Place terminals in Air first")
    level = find(project.levels, question.level_id)
    removed = replaced(project, results, question)
    start, at = _start(project, question, removed)
    z = level.elevation_m + question.trunk_m if question.trunk_m is not None else _usual_height(project, question, at)
    z_branch = z if question.branch_m is None else level.elevation_m + question.branch_m
    if layer is not None:
        z = z_branch = sum(layer) / 2
    members = tuple(find(project.terminals, i) for i in question.terminal_ids)
    flow = terminal_flows(tuple(t for t in project.terminals if t.air == question.air), air)
    spots = [find(project.duct_points, t.point_id) for t in members]
    space, heights = _space(project, results, question, removed, z, layer)
    if not start:
        at = _clear_of(space.ducts, project, question, at)
    net = tracks(space, [(at[0], at[1]), *((p.x_m, p.y_m) for p in spots)], 0.0, SIDE_GAP_M + 0.2)
    if not len(net.xy):
        raise InputError("There is no building on this level to route in", remedy="Draw rooms first")
    return Site(
        project,
        question,
        air,
        start,
        at,
        removed,
        tuple(max(flow[t.id], 1e-4) for t in members),
        z,
        z_branch,
        space,
        net,
        tuple(net.nearest((p.x_m, p.y_m)) for p in spots),
        net.nearest((at[0], at[1])),
        IMPROVE_S,
        layer[1] - layer[0] if layer else None,
        heights,
    )


def replaced(project: Project, results: Results, question: Question) -> tuple[str, ...]:
    """Ducts of the level that feed none but the terminals asked for."""
    network = results.network(question.system_id, question.air)
    own = [s for s in project.segments if s.system_id == question.system_id and s.air == question.air]
    on_level = {p.id for p in project.duct_points if p.level_id == question.level_id}
    if isinstance(network, Missing):
        return tuple(s.id for s in own if s.a in on_level and s.b in on_level) if question.terminal_ids else ()
    points = {find(project.terminals, i).point_id for i in question.terminal_ids}
    served: dict[str, set[str]] = {}
    for t in network.terminals:
        for i in network.path(t.segment_id):
            served.setdefault(i, set()).add(t.terminal_id)
    wanted = set(question.terminal_ids)
    found = []
    for s in own:
        beyond = served.get(s.id, set())
        upright = (
            abs(find(project.duct_points, s.a).z_m - find(project.duct_points, s.b).z_m) > UPRIGHT_M
            and not {s.a, s.b} & points
        )
        if s.a in on_level and s.b in on_level and not upright and beyond <= wanted and (beyond or question.level_id):
            if beyond or not {s.a, s.b} & {p for i, n in served.items() if n - wanted for p in _ends(project, i)}:
                found.append(s.id)
    return tuple(found)


def _ends(project: Project, segment_id: str) -> tuple[str, str]:
    s = find(project.segments, segment_id)
    return s.a, s.b


def _start(project: Project, question: Question, removed: tuple[str, ...]) -> tuple[str, tuple[float, float, float]]:
    """Where the route begins: a point that kept and replaced ducts share, the unit's end, an open end, or the shaft or
    unit of the level.
    """
    gone = set(removed)
    own = [s for s in project.segments if s.system_id == question.system_id and s.air == question.air]
    kept = {p for s in own if s.id not in gone for p in (s.a, s.b)}
    root = find(project.air_systems, question.system_id).root_of(question.air)
    on_level = {p.id: p for p in project.duct_points if p.level_id == question.level_id}
    if question.start:
        if question.start not in on_level:
            raise InputError("The start does not lie on this level", remedy="Choose another")
        p = on_level[question.start]
        return p.id, (p.x_m, p.y_m, p.z_m)
    held = {t.point_id for t in project.terminals}
    shared = [p for s in own if s.id in gone for p in (s.a, s.b) if p in kept or p == root]
    count: dict[str, int] = {}
    for s in own:
        if s.id not in gone:
            for p in (s.a, s.b):
                count[p] = count.get(p, 0) + 1
    open_ends = [p for p, n in count.items() if n == 1 and p not in held]
    known = {p.id: p for p in project.duct_points}
    upright = [  # where a riser passes
        p
        for s in own
        if s.id not in gone and abs(known[s.a].z_m - known[s.b].z_m) > UPRIGHT_M
        for p in (s.a, s.b)
        if p not in held
    ]
    for i in (*shared, root, *open_ends, *upright):
        if i in on_level:
            p = on_level[i]
            return i, (p.x_m, p.y_m, p.z_m)
    level = find(project.levels, question.level_id)
    marks = [m for m in project.plan_marks if m.level_id == question.level_id and m.kind in ("unit", "shaft")]
    mark = next((m for kind in ("shaft", "unit") for m in marks if m.kind == kind), None)
    if mark is None:
        raise InputError(
            "There is nowhere to start on this level", remedy="Draw a riser or a first duct from the unit here"
        )
    xs, ys = [p[0] for p in mark.outline], [p[1] for p in mark.outline]
    return "", ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2, level.elevation_m + level.storey_m - 0.55)


def _usual_height(project: Project, question: Question, at: tuple[float, float, float]) -> float:
    """Of the axis: of the ducts there, else of the middle of the lowest ceiling zone, else of the start."""
    points = {p.id: p for p in project.duct_points if p.level_id == question.level_id}
    mine = [points[t.point_id].z_m for t in project.terminals if t.id in question.terminal_ids]
    level = find(project.levels, question.level_id)
    zones = [z for z in project.ceiling_zones if z.level_id == question.level_id]
    if zones:
        low = max(z.ceiling_m + z.allowance_m for z in zones)
        high = min(z.soffit_m for z in zones)
        if high > low:
            middle = level.elevation_m + (low + high) / 2
            # Where the start or the terminals lie about there already, no steps are made for nothing.
            return next(
                (z for z in (at[2], sorted(mine)[len(mine) // 2] if mine else at[2]) if abs(z - middle) < STEP_M),
                middle,
            )
    own = sorted(
        points[i].z_m
        for s in project.segments
        if s.air == question.air and s.system_id == question.system_id
        for i in (s.a, s.b)
        if i in points
    )
    return own[len(own) // 2] if own else mine[0] if mine else at[2]


def _clear_of(
    fixed: tuple[Outline, ...], project: Project, question: Question, at: tuple[float, float, float]
) -> tuple[float, float, float]:
    """A new start in the shaft or unit: of its quarter points the one furthest from ducts that are there."""
    from shapely import Point, Polygon, unary_union

    mark = next(
        (
            m
            for m in project.plan_marks
            if m.level_id == question.level_id
            and m.kind in ("shaft", "unit")
            and Polygon(m.outline).contains(Point(at[0], at[1]))
        ),
        None,
    )
    if mark is None or not fixed:
        return at
    there = unary_union([Polygon(o) for o in fixed])
    x0, y0, x1, y1 = Polygon(mark.outline).bounds
    spots = [(x0 + (x1 - x0) * fx, y0 + (y1 - y0) * fy) for fx in (0.5, 0.25, 0.75) for fy in (0.5, 0.2, 0.8)]
    x, y = max(spots, key=lambda s: there.distance(Point(s)))
    return x, y, at[2]


def _space(
    project: Project,
    results: Results,
    question: Question,
    removed: tuple[str, ...],
    z: float,
    layer: tuple[float, float] | None,
) -> tuple[Space, tuple[float, float]]:
    """The level, and between what heights the ducts lie that stay there."""
    level_id, level = question.level_id, find(project.levels, question.level_id)
    rooms = [r for r in project.rooms if r.level_id == level_id and (not r.sketched or r.placed)]
    zones = [x for x in project.ceiling_zones if x.level_id == level_id]
    marks = [m.outline for m in project.plan_marks if m.level_id == level_id and m.kind in ("shaft", "unit")]
    void = [m for m in project.plan_marks if m.level_id == level_id and m.kind == "void"]
    blocks = []
    for o in project.obstacles:
        if o.level_id != level_id or not o.in_way:
            continue
        if o.kind == "column":
            blocks.append(Block(f"{o.kind} {o.id}", o.outline))
            continue
        over = [x for x in zones if overlap(x.outline, o.outline)]
        if over and all(o.top_m <= x.ceiling_m for x in over):
            continue  # it stands in the room
        free = max(0.0, min((o.bottom_m - x.ceiling_m - x.allowance_m for x in over), default=o.bottom_m))
        gates = []
        for hole in o.sleeves:
            half, (x, y) = hole.width_m / 2 + 0.02, hole.at
            gates.append(
                (
                    ((x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)),
                    hole.top_m - hole.bottom_m,
                )
            )
        blocks.append(Block(f"{o.kind} {o.id}", o.outline, free, tuple(gates)))
    fixed, edges = [], []
    gone = {*removed, *question.ignored}
    for network in (n for s in project.air_systems for n in results.networks(s.id)):
        for i, r in network.segments.items():
            segment = find(project.segments, i)
            a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
            length = hypot(a.x_m - b.x_m, a.y_m - b.y_m)
            middle = (a.z_m + b.z_m) / 2
            apart = r.outer_height_m / 2 + (0.2 if layer is None else (layer[1] - layer[0]) / 2 + GAP_M - 1e-6)
            if i in gone or a.level_id != level_id or length < 0.05 or abs(middle - z) > apart:
                continue
            edges += [middle - r.outer_height_m / 2, middle + r.outer_height_m / 2]
            fixed.append(strip((a.x_m, a.y_m), (b.x_m, b.y_m), r.section.width_m + 2 * r.make.around_m))
    shut = tuple((r.id, r.outline) for r in rooms if r.id in question.shut) + tuple((m.id, m.outline) for m in void)
    space = Space(
        tuple(r.outline for r in rooms),
        tuple(r.outline for r in rooms if r.use_id == "corridor"),
        tuple(r.outline for r in rooms if r.ceiling_m >= level.storey_m - 0.1),
        shut,
        tuple(Zone(x.name, x.outline, x.free_m) for x in zones),
        tuple(blocks),
        tuple(fixed),
        tuple(marks),
    )
    return space, (min(edges, default=z), max(edges, default=z))


def overlap(a: Outline, b: Outline) -> bool:
    from shapely import Polygon

    return bool(Polygon(a).buffer(0).intersects(Polygon(b).buffer(0)))


def strip(a: tuple[float, float], b: tuple[float, float], width: float) -> Outline:
    length = hypot(b[0] - a[0], b[1] - a[1])
    nx, ny = -(b[1] - a[1]) / length * width / 2, (b[0] - a[0]) / length * width / 2
    return ((a[0] + nx, a[1] + ny), (b[0] + nx, b[1] + ny), (b[0] - nx, b[1] - ny), (a[0] - nx, a[1] - ny))


def shared_layer(results: Results, question: Question) -> tuple[float, float] | None:
    """The layer of one air (lowest, highest edge [m]) where several airs have terminals on a level and none has ducts
    there yet: the free height above the ceilings is shared out by flow, the greatest on top.

    None where heights are given, where the air is alone, or where the height is too little to be shared.
    """
    project, level = results.project, find(results.project.levels, question.level_id)
    air = results.air.get(question.system_id)
    if question.trunk_m is not None or question.branch_m is not None or not isinstance(air, AirResult):
        return None
    level_of = {p.id: p.level_id for p in project.duct_points}
    rooms = {r.id for r in project.rooms if r.system_id == question.system_id}
    of_level = [t for t in project.terminals if t.room_id in rooms and level_of[t.point_id] == level.id]
    laid = [s for s in project.segments if level_of[s.a] == level_of[s.b] == level.id]
    laid = [s for s in laid if (s.system_id, s.air) != (question.system_id, question.air)]
    laid = [s for s in laid if s.id not in question.ignored]
    airs = {t.air for t in of_level} & set(OF_ROOM)
    if len(airs) < 2 or question.air not in airs:
        return None
    flows = terminal_flows(project.terminals, air)
    whole = {kind: sum(flows[t.id] for t in of_level if t.air == kind) for kind in airs}
    girth = {kind: max(q, 1e-4) ** 0.5 for kind, q in whole.items()}
    low, high = free_height(project, level)
    free = high - low - (len(airs) - 1) * GAP_M
    bands, at = {}, high
    for kind in sorted(airs, key=lambda k: (-round(whole[k], 2), list(OF_ROOM).index(k))):
        depth = free * girth[kind] / sum(girth.values())
        bands[kind] = (at - depth, at)
        at -= depth + GAP_M
    if min(b - a for a, b in bands.values()) < LEAST_LAYER_M:
        return None
    own = bands[question.air]
    return None if any(_within(project, s, own) for s in laid) else own


def _within(project: Project, segment: Segment, band: tuple[float, float]) -> bool:
    """Whether a level duct's axis runs in a layer."""
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    return bool(abs(a.z_m - b.z_m) < LEAST_DUCT_M and band[0] <= (a.z_m + b.z_m) / 2 <= band[1])


def free_height(project: Project, level: Level) -> tuple[float, float]:
    """Lowest and highest edge [m] that ducts of a level may have: above its ceilings, below its slab."""
    zones = [z for z in project.ceiling_zones if z.level_id == level.id]
    return (
        level.elevation_m + max((z.ceiling_m + z.allowance_m for z in zones), default=2.3),
        level.elevation_m + min((z.soffit_m for z in zones), default=level.storey_m),
    )


def layers(site: Site) -> list[tuple[float, float]]:
    """Heights (low, high) that the ceiling zones of the level leave below and above the ducts that stay."""
    project, level = site.project, find(site.project.levels, site.question.level_id)
    zones = [z for z in project.ceiling_zones if z.level_id == level.id]
    low = level.elevation_m + max((z.ceiling_m for z in zones), default=2.3)
    high = level.elevation_m + min((z.soffit_m for z in zones), default=level.storey_m)
    bottom, top = site.fixed_m
    return [(a, b) for a, b in ((low, bottom - GAP_M), (top + GAP_M, high)) if b - a >= LEAST_DUCT_M - 1e-6]


def starts(results: Results, question: Question) -> tuple[tuple[str, str], ...]:
    """(duct point, words) of what a route of a question may start from: the unit's end, risers and open ends of what
    stays.
    """
    project = results.project
    gone = set(replaced(project, results, question))
    own = [
        s for s in project.segments if s.system_id == question.system_id and s.air == question.air and s.id not in gone
    ]
    roots = find(project.air_systems, question.system_id).roots_of(question.air)
    held = {t.point_id for t in project.terminals}
    count: dict[str, int] = {}
    upright = set()
    for s in own:
        a, b = find(project.duct_points, s.a), find(project.duct_points, s.b)
        for i in (s.a, s.b):
            count[i] = count.get(i, 0) + 1
            if hypot(a.x_m - b.x_m, a.y_m - b.y_m) < 0.05:
                upright.add(i)
    found = []
    for p in project.duct_points:
        if p.level_id != question.level_id or p.id in held:
            continue
        kind = "unit" if p.id in roots else "riser" if p.id in upright else "open end" if count.get(p.id) == 1 else ""
        if kind:
            found.append((p.id, f"{kind} at {p.x_m:.1f}, {p.y_m:.1f}"))
    return tuple(found)
