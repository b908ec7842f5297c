"""Ducts: from the drawn tree and the rooms' flows to sizes, fittings, losses and runs."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.balance import dampers_take, run_losses
from garnetfin.core.ducts.fittings import dampers
from garnetfin.core.ducts.friction import ROUGHNESS_M, duct_gradient
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.ducts.tree import Tree, build_tree, gather_flows
from garnetfin.core.noise import duct_power
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, DuctResult, FittingLoss, Missing, SegmentResult, TerminalResult
from garnetfin.engine.stages import duct_make
from garnetfin.engine.stages.duct_fittings import Frame, fittings
from garnetfin.engine.stages.duct_sizes import duct_rules, sized
from garnetfin.engine.stages.terminals import OF_ROOM, terminal_flows, terminal_point
from garnetfin.project.ducts import DuctPoint, PinnedSize, Segment, Terminal
from garnetfin.project.lookup import find, positions
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

LEAST_BACK_M3S = 0.002               # less air than this leaves by a door's gap


@dataclass(frozen=True, slots=True)
class Clearance:
    """Free height of the ceiling zones a duct passes, and under the lowest obstacle in them; inf where free."""

    zone_m: float
    obstacle_m: float
    obstacle: str


def ducts(project: Project, system: AirSystem, air: AirResult | Missing, memo: Memo, way: str = "supply") -> DuctResult | Missing:
    """The ducts of a system for supply, return, extract or outdoor air; all but supply are walked against the air, from the unit outward."""
    if isinstance(air, Missing):
        return air
    segments = tuple(s for s in project.segments if s.system_id == system.id and s.air == way)
    if not segments:
        return Missing("no ducts", "Draw a duct from the unit")
    if not system.root_of(way):
        return Missing("no start", "Join a duct to the unit")
    members = tuple(t for t in project.terminals if t.air == way)
    if not members:
        return Missing("no terminals", "Put a terminal at the end of a run")
    row = key(system.id, way, system.root_of(way), system.sizing, system.duct_height_m, system.friction_from, system.available_pa, air, project.segments, project.terminals, project.book, project.duct_points,
              project.ceiling_zones, project.obstacles)
    return memo.one("ducts", row, lambda: _compute(project, system, air, segments, members, way, memo))


def _compute(project: Project, system: AirSystem, air: AirResult, segments: tuple[Segment, ...], members: tuple[Terminal, ...],
             way: str, memo: Memo) -> DuctResult | Missing:
    index = positions(project.duct_points)
    xyz = np.array([(p.x_m, p.y_m, p.z_m) for p in project.duct_points])
    ends = np.array([(index[s.a], index[s.b]) for s in segments])
    root = index[system.root_of(way)]
    tree = build_tree(len(xyz), ends, root)
    at_end = {int(tree.leaving[s]): int(s) for s in tree.order}
    reached = [t for t in members if index[t.point_id] in at_end]
    if not reached:
        return Missing("not joined", "Join the ducts to the unit and to a terminal")
    flows = terminal_flows(members, air)
    node_flow = np.zeros(len(xyz))
    for t in reached:
        node_flow[index[t.point_id]] += flows[t.id]
    flow = gather_flows(tree, node_flow)
    if air.block_at is not None and way == "supply":
        flow = np.minimum(flow, _running_peaks(tree, index, reached, flows, air, len(xyz)))
    vectors = xyz[tree.leaving] - xyz[tree.entering]
    length = np.where(tree.reached, np.linalg.norm(vectors, axis=1), np.linalg.norm(xyz[ends[:, 1]] - xyz[ends[:, 0]], axis=1))
    clear = memo.rows("clearance", [key(find(project.duct_points, s.a), find(project.duct_points, s.b),
                                        project.ceiling_zones, project.obstacles) for s in segments],
                      lambda stale: [clearance(project, segments[i]) for i in stale])
    vertical = np.abs(vectors[:, 2]) > 0.7 * np.maximum(length, 1e-9)
    roles = ["riser" if vertical[i] else s.role for i, s in enumerate(segments)]
    rules = duct_rules(project.book)
    quiet = assumption(project.book, "noise_nc").figure if project.book.duct_velocity == "noise" else None
    velocity_limit = [s.velocity_m_s.value if not isinstance(s.velocity_m_s, Rule) else rules.velocity_m_s[role] if quiet is None
                      else min(rules.velocity_m_s[role], duct_make.noise_velocity(role, quiet)) for role, s in zip(roles, segments)]
    made = [duct_make.make(s, project.book) for s in segments]
    rough, pressed = duct_make.made_arrays(made)
    around = np.array([m.around_m for m in made])
    flexible = np.array([s.flexible_m for s in segments])
    with_terminal = {at_end[index[t.point_id]] for t in reached}
    points = [terminal_point(t, flows[t.id], project.book) for t in reached]
    own = np.array([at_end[index[t.point_id]] for t in reached])
    end_pa = np.full(len(segments), np.nan)
    end_pa[own] = [p.pressure_pa for p in points]

    soft = assumption(project.book, "flexible_share").figure * 100
    going_on = {int(p) for p in tree.parent if p >= 0}
    damped = {i: None if s.damper == "orifice" else 0.0 if isinstance(s.damper_deg, Rule) else s.damper_deg.value for i, s in enumerate(segments)
              if s.damper in ("blade", "orifice") or s.damper == "" and (i in with_terminal and i not in going_on or not isinstance(s.damper_deg, Rule))}
    frame = Frame(segments, tree, flow, vectors, damped, way, project.book, made)

    def losses(sections: Sequence[Section]) -> tuple[list[tuple[FittingLoss, ...]], NDArray]:
        area, hydraulic = (np.array([getattr(s, n) for s in sections]) for n in ("area_m2", "hydraulic_m"))
        flexible_pa = np.zeros(len(sections))
        hung = np.flatnonzero(flexible > 0)
        if len(hung):
            flexible_pa[hung] = flexible[hung] * duct_gradient(flow[hung], area[hung], hydraulic[hung], ROUGHNESS_M["flexible"], soft, air.density_kg_m3, air.viscosity_pa_s)
        rub = duct_gradient(flow, area, hydraulic, rough, pressed, air.density_kg_m3, air.viscosity_pa_s)
        return fittings(frame, sections, air.density_kg_m3 * (flow / area)**2 / 2, rub), flexible_pa
    found = sized(system, project.book, air, segments, tree, flow, length, vectors, [c.zone_m - 2 * float(x) for c, x in zip(clear, around)], velocity_limit,
                  losses, end_pa, rough, pressed)
    ladders, sections = found.ladders, found.sections
    area = np.array([s.area_m2 for s in sections])
    hydraulic = np.array([s.hydraulic_m for s in sections])
    friction = duct_gradient(flow, area, hydraulic, rough, pressed, air.density_kg_m3, air.viscosity_pa_s)
    velocity = flow / area
    velocity_pa = air.density_kg_m3 * velocity**2 / 2
    parts, flexible_pa = losses(sections)
    loss = friction * length + flexible_pa + np.array([sum(f.pressure_pa for f in fs) for fs in parts])
    runs = run_losses(tree, loss, own, np.array([p.pressure_pa for p in points]), len(xyz), root)
    free = np.array([i in damped and (isinstance(s.damper_deg, Rule) or s.damper == "orifice") for i, s in enumerate(segments)])
    taken, unspent = dampers_take(tree, runs.surplus_pa, own, free)
    settings = [_setting(segments[i], sections[i], float(velocity_pa[i]), float(taken[i])) if i in damped else None for i in range(len(segments))]
    distance = np.zeros(len(segments))
    for s in tree.order:
        distance[s] = length[s] + (distance[tree.parent[s]] if tree.parent[s] >= 0 else 0.0)
    on = tree.paths_matrix(own).sum(axis=0)
    left = np.where(tree.reached, runs.node_pa[tree.leaving], np.nan)
    # Air that leaves is sucked: below the air around by what is lost up to the unit, and by its own velocity.
    static = np.nan_to_num(left + loss - velocity_pa if way == "supply" else -(left + loss + velocity_pa))
    sound = duct_power(velocity, area)
    results = {}
    for i, s in enumerate(segments):
        outside = sections[i].grown(made[i].lining_m)
        thick = duct_make.thickness(s, outside, float(static[i]))
        results[s.id] = SegmentResult(
            s.id, float(flow[i]), sections[i], ladders[i], isinstance(s.size, PinnedSize), float(length[i]),
            float(velocity[i]), float(friction[i]), float(friction[i] * length[i]), float(flexible_pa[i]), parts[i],
            float(loss[i]), float(left[i]), clear[i].zone_m, clear[i].obstacle_m, clear[i].obstacle,
            duct_make.mass_per_m(sections[i], made[i], thick) * float(length[i]),
            float(distance[i]), int(on[i]), velocity_limit[i], float(found.friction[i]), made[i], sections[i].height_m + 2 * float(around[i]),
            float(static[i]), duct_make.tightness(s, sections[i], float(static[i]), project.book), bool(s.tightness), thick, float(sound[i]), settings[i], i in damped and not free[i], found.by[i])
    terminals = []
    for i, t in enumerate(reached):
        setting, left, neck = settings[own[i]] or dampers.DamperSetting(0.0, 0.0, None), float(unspent[i]), own[i] in going_on
        if neck:
            setting = dampers.setting(Section("round", points[i].neck_m, points[i].neck_m), air.density_kg_m3 * points[i].neck_m_s**2 / 2, left)
            left = left if setting.angle_deg is None else 0.0
        terminals.append(TerminalResult(t.id, t.label, t.room_id, segments[own[i]].id, flows[t.id], points[i], float(runs.loss_pa[i]), float(runs.surplus_pa[i]),
                                        setting, float(distance[own[i]]), left, neck))
    have = {t.room_id for t in reached}
    return DuctResult(
        system.id, results, tuple(terminals), tuple(t.id for t in members if t not in reached),
        () if way == "outdoor" else tuple(r.room_id for r in air.rooms if getattr(r, OF_ROOM[way]) > (0 if way == "supply" else LEAST_BACK_M3S) and r.room_id not in have),
        tuple(segments[i].id for i in tree.looped), tree, runs, tuple(s.id for s in segments), float(length.sum()),
        float(sum(r.mass_kg for r in results.values())), float(sum(flow[s] for s in tree.order if tree.parent[s] < 0)), way, ends)


def _setting(segment: Segment, section: Section, velocity_pa: float, taken_pa: float) -> dampers.DamperSetting:
    """Of a damper: as pinned, or what takes its share of the surplus."""
    if segment.damper == "orifice":
        return dampers.orifice(velocity_pa, taken_pa)
    if isinstance(segment.damper_deg, Rule):
        return dampers.setting(section, velocity_pa, taken_pa)
    if segment.damper_deg.value >= dampers.SHUT_DEG:
        return dampers.DamperSetting(0.0, dampers.SHUT_K, segment.damper_deg.value)
    added = dampers.k_at(section, segment.damper_deg.value) - dampers.open_k(section)
    return dampers.DamperSetting(added * velocity_pa, added, segment.damper_deg.value)


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
