"""Ducts: from the drawn tree and the rooms' flows to sizes, fittings, losses and runs."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.balance import run_losses
from garnetfin.core.ducts.fittings import dampers, elbows, tees, transitions
from garnetfin.core.ducts.friction import ROUGHNESS_M, flexible_factor, gradient
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.ducts.tree import Tree, build_tree, gather_flows
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import AirResult, DuctResult, FittingLoss, Missing, SegmentResult, TerminalResult
from garnetfin.engine.stages.duct_sizes import duct_rules, sized
from garnetfin.engine.stages.terminals import terminal_flows, terminal_point
from garnetfin.project.ducts import DuctPoint, PinnedSize, Segment, Terminal
from garnetfin.project.lookup import find, positions
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

STRAIGHT_DEG, NO_TURN_DEG = 15.0, 5.0
ROUGHEST = 0.05                    # of the hydraulic diameter
UNIT_CONNECTION_K = 0.05           # flexible connection at the unit's spigot


@dataclass(frozen=True, slots=True)
class Clearance:
    """Free height of the ceiling zones a duct passes, and under the lowest obstacle in them; inf where free."""

    zone_m: float
    obstacle_m: float
    obstacle: str


def ducts(project: Project, system: AirSystem, air: AirResult | Missing, memo: Memo) -> DuctResult | Missing:
    if isinstance(air, Missing):
        return air
    segments = tuple(s for s in project.segments if s.system_id == system.id)
    if not segments:
        return Missing("no ducts", "Draw a duct from the unit")
    if not system.root_point_id:
        return Missing("no start", "Join a duct to the unit")
    supply = tuple(t for t in project.terminals if t.air == "supply")
    if not supply:
        return Missing("no terminals", "Put a terminal at the end of a run")
    row = key(system.id, system.root_point_id, system.sizing, system.duct_height_m, air, project.segments, project.terminals, project.book, project.duct_points,
              project.ceiling_zones, project.obstacles)
    return memo.one("ducts", row, lambda: _compute(project, system, air, segments, supply, memo))


def _compute(project: Project, system: AirSystem, air: AirResult, segments: tuple[Segment, ...], supply: tuple[Terminal, ...],
             memo: Memo) -> DuctResult | Missing:
    index = positions(project.duct_points)
    xyz = np.array([(p.x_m, p.y_m, p.z_m) for p in project.duct_points])
    ends = np.array([(index[s.a], index[s.b]) for s in segments])
    root = index[system.root_point_id]
    tree = build_tree(len(xyz), ends, root)
    at_end = {int(tree.leaving[s]): int(s) for s in tree.order}
    reached = [t for t in supply if index[t.point_id] in at_end]
    if not reached:
        return Missing("not joined", "Join the ducts to the unit and to a terminal")
    flows = terminal_flows(supply, air)
    node_flow = np.zeros(len(xyz))
    for t in reached:
        node_flow[index[t.point_id]] += flows[t.id]
    flow = gather_flows(tree, node_flow)
    if air.block_at is not None:
        flow = np.minimum(flow, _running_peaks(tree, index, reached, flows, air, len(xyz)))
    vectors = xyz[tree.leaving] - xyz[tree.entering]
    length = np.where(tree.reached, np.linalg.norm(vectors, axis=1), np.linalg.norm(xyz[ends[:, 1]] - xyz[ends[:, 0]], axis=1))
    clear = memo.rows("clearance", [key(find(project.duct_points, s.a), find(project.duct_points, s.b),
                                        project.ceiling_zones, project.obstacles) for s in segments],
                      lambda stale: [clearance(project, segments[i]) for i in stale])
    vertical = np.abs(vectors[:, 2]) > 0.7 * np.maximum(length, 1e-9)
    roles = ["riser" if vertical[i] else s.role for i, s in enumerate(segments)]
    velocity_limit = [duct_rules(project.book).velocity_m_s[role] for role in roles]
    flexible = np.array([s.flexible_m for s in segments])
    with_terminal = {at_end[index[t.point_id]] for t in reached}
    points = [terminal_point(t, flows[t.id], project.book) for t in reached]
    own = np.array([at_end[index[t.point_id]] for t in reached])
    end_pa = np.full(len(segments), np.nan)
    end_pa[own] = [p.pressure_pa for p in points]

    def losses(sections: Sequence[Section]) -> tuple[list[tuple[FittingLoss, ...]], NDArray]:
        area, hydraulic = (np.array([getattr(s, n) for s in sections]) for n in ("area_m2", "hydraulic_m"))
        # Thin flexible ducts are rougher than friction formulas reach; the end of their range holds.
        rough = np.where(flexible > 0, np.minimum(ROUGHNESS_M["flexible"], ROUGHEST * hydraulic), ROUGHNESS_M["galvanised"])
        flexible_pa = flexible * flexible_factor(hydraulic) * gradient(flow, area, hydraulic, rough, air.density_kg_m3, air.viscosity_pa_s)
        return _fittings(tree, sections, flow, vectors, air.density_kg_m3 * (flow / area)**2 / 2, with_terminal), flexible_pa
    found = sized(system, project.book, air, segments, tree, flow, length, vectors, [c.zone_m for c in clear], roles, losses, end_pa)
    ladders, sections = found.ladders, found.sections
    area = np.array([s.area_m2 for s in sections])
    hydraulic = np.array([s.hydraulic_m for s in sections])
    friction = gradient(flow, area, hydraulic, ROUGHNESS_M["galvanised"], air.density_kg_m3, air.viscosity_pa_s)
    velocity = flow / area
    velocity_pa = air.density_kg_m3 * velocity**2 / 2
    fittings, flexible_pa = losses(sections)
    loss = friction * length + flexible_pa + np.array([sum(f.pressure_pa for f in fs) for fs in fittings])
    runs = run_losses(tree, loss, own, np.array([p.pressure_pa for p in points]), len(xyz), root)
    distance = np.zeros(len(segments))
    for s in tree.order:
        distance[s] = length[s] + (distance[tree.parent[s]] if tree.parent[s] >= 0 else 0.0)
    on = tree.paths_matrix(own).sum(axis=0)
    results = {s.id: SegmentResult(
        s.id, float(flow[i]), sections[i], ladders[i], isinstance(s.size, PinnedSize), float(length[i]),
        float(velocity[i]), float(friction[i]), float(friction[i] * length[i]), float(flexible_pa[i]), fittings[i],
        float(loss[i]), float(runs.node_pa[tree.leaving[i]]) if tree.reached[i] else float("nan"),
        clear[i].zone_m, clear[i].obstacle_m, clear[i].obstacle, float(sections[i].mass_kg_m * length[i]),
        float(distance[i]), int(on[i]), velocity_limit[i], found.by[i]) for i, s in enumerate(segments)}
    terminals = tuple(TerminalResult(
        t.id, t.label, t.room_id, segments[own[i]].id, flows[t.id], points[i], float(runs.loss_pa[i]),
        float(runs.surplus_pa[i]),
        dampers.setting(sections[own[i]], float(velocity_pa[own[i]]), float(runs.surplus_pa[i])),
        float(distance[own[i]])) for i, t in enumerate(reached))
    have = {t.room_id for t in reached}
    return DuctResult(
        system.id, results, terminals, tuple(t.id for t in supply if t not in reached),
        tuple(r.room_id for r in air.rooms if r.flow_m3s > 0 and r.room_id not in have),
        tuple(segments[i].id for i in tree.looped), tree, runs, tuple(s.id for s in segments), float(length.sum()),
        float(sum(r.mass_kg for r in results.values())), float(flow[tree.order[0]]) if len(tree.order) else 0.0)


def _running_peaks(tree: Tree, index: dict[str, int], reached: list[Terminal], flows: dict[str, float], air: AirResult,
                   nodes: int) -> NDArray:
    """Greatest flow of every duct at one hour [m3/s], where the rooms' flows follow their loads."""
    row = {r.room_id: i for i, r in enumerate(air.rooms)}
    at_node = np.zeros((nodes, air.flow_hours.shape[1]))
    for t in reached:
        room = row.get(t.room_id)
        if room is not None and air.rooms[room].flow_m3s > 0:
            at_node[index[t.point_id]] += flows[t.id] / air.rooms[room].flow_m3s * air.flow_hours[room]
    return gather_flows(tree, at_node).max(axis=1)


def clearance(project: Project, segment: Segment) -> Clearance:
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    zone_m = obstacle_m = float("inf")
    name = ""
    if abs(a.z_m - b.z_m) > 0.7 * max(_plan_length(a, b), 1e-9):
        return Clearance(zone_m, obstacle_m, name)
    from shapely import LineString, Point, Polygon
    line = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
    for zone in project.ceiling_zones:
        if zone.level_id != a.level_id or line.intersection(Polygon(zone.outline).buffer(0)).length < 0.05:
            continue
        zone_m = min(zone_m, zone.free_m)
        for obstacle in project.obstacles:
            if obstacle.level_id != a.level_id:
                continue
            crossing = line.intersection(Polygon(obstacle.outline).buffer(0))
            if crossing.length > 0.01:
                sleeve = next((h for h in obstacle.sleeves if crossing.distance(Point(h.at)) <= h.width_m / 2), None)
                under = (sleeve.top_m - sleeve.bottom_m if sleeve
                         else max(0.0, obstacle.bottom_m - zone.ceiling_m - zone.allowance_m))
                if under < obstacle_m:
                    obstacle_m, name = under, f"{obstacle.kind} {obstacle.id}"
    return Clearance(zone_m, obstacle_m, name)


def _plan_length(a: DuctPoint, b: DuctPoint) -> float:
    return ((a.x_m - b.x_m) ** 2 + (a.y_m - b.y_m) ** 2) ** 0.5


def _fittings(tree: Tree, sections: Sequence[Section], flow: NDArray, vectors: NDArray, velocity_pa: NDArray,
              with_terminal: set[int]) -> list[tuple[FittingLoss, ...]]:
    """Fittings that topology, sizes and directions call for, booked on the segment behind them."""
    found: list[tuple[FittingLoss, ...]] = [()] * len(sections)
    children: dict[int, list[int]] = {}
    for s in tree.order:
        if tree.parent[s] >= 0:
            children.setdefault(int(tree.parent[s]), []).append(int(s))
    norms = np.maximum(np.linalg.norm(vectors, axis=1), 1e-9)
    for s in (int(i) for i in tree.order):
        p, mine = int(tree.parent[s]), []
        if p < 0:
            mine.append(FittingLoss("unit connection", UNIT_CONNECTION_K, "duct", UNIT_CONNECTION_K * velocity_pa[s]))
        elif flow[s] > 0 and flow[p] > 0:
            beside = children[p]
            turn = {c: float(np.degrees(np.arccos(np.clip(vectors[p] @ vectors[c] / (norms[p] * norms[c]), -1, 1))))
                    for c in beside}
            if len(beside) == 1:
                mine += _in_line(sections[p], sections[s], turn[s], velocity_pa[p], velocity_pa[s],
                                 abs(vectors[p][2]) + abs(vectors[s][2]) < 0.5 * (norms[p] + norms[s]) * 0.7)
            else:
                through = min(beside, key=lambda c: turn[c])
                if turn[through] > STRAIGHT_DEG:
                    through = -1
                if s == through:
                    name, k = tees.straight(sections[p], sections[s], flow[p], flow[s])
                elif through < 0 and len(beside) == 2 and min(turn.values()) > 60:
                    name, k = tees.bullhead(sections[p], sections[s], flow[p], flow[s])
                else:
                    name, k = tees.branch(sections[p], sections[s], flow[p], flow[s], turn[s])
                mine.append(FittingLoss(name, k, "common", k * velocity_pa[p]))
        if s in with_terminal:
            k = dampers.open_k(sections[s])
            mine.append(FittingLoss("damper, open", k, "duct", k * velocity_pa[s]))
        found[s] = tuple(mine)
    return found


def _in_line(before: Section, after: Section, turn_deg: float, before_pa: float, after_pa: float,
             flat: bool) -> list[FittingLoss]:
    mine = []
    if turn_deg > NO_TURN_DEG:
        name, k = elbows.elbow(before, turn_deg, flat)
        mine.append(FittingLoss(name, k, "duct", k * before_pa))
    change = transitions.transition(before, after)
    if change:
        name, k = change
        mine.append(FittingLoss(name, k, "small", k * max(before_pa, after_pa)))
    return mine

