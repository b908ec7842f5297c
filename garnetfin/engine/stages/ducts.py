"""Ducts: from the drawn tree and the rooms' flows to sizes, fittings, losses and runs."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.balance import dampers_take, run_losses
from garnetfin.core.ducts.fittings import dampers
from garnetfin.core.ducts.friction import ROUGHNESS_M, duct_gradient
from garnetfin.core.ducts.sizes import Section, measures
from garnetfin.core.ducts.tree import gather_flows
from garnetfin.core.noise import duct_power
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, DuctResult, FittingLoss, Missing, SegmentResult, TerminalResult
from garnetfin.engine.stages import duct_make
from garnetfin.engine.stages.duct_fittings import fittings
from garnetfin.engine.stages.duct_layout import Layout, layout
from garnetfin.engine.stages.duct_sizes import duct_rules, sized
from garnetfin.engine.stages.terminals import OF_ROOM, terminal_flows, terminal_point
from garnetfin.project.ducts import PinnedSize, Segment, Terminal
from garnetfin.project.lookup import Same
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

LEAST_BACK_M3S = 0.002  # less air than this leaves by a door's gap


def ducts(
    project: Project, system: AirSystem, air: AirResult | Missing, memo: Memo, way: str = "supply"
) -> DuctResult | Missing:
    """The ducts of a system for supply, return, extract or outdoor air; all but supply are walked against the air, from
    the unit outward.
    """
    if isinstance(air, Missing):
        return air
    segments = _grouped(Same(project.segments)).get((system.id, way), ())
    if not segments:
        return Missing("no ducts", "Draw a duct from the unit")
    if not system.root_of(way):
        return Missing("no start", "Join a duct to the unit")
    members = _of_air(Same(project.terminals), way)
    if not members:
        return Missing("no terminals", "Put a terminal at the end of a run")
    row = key(
        system.id,
        way,
        system.root_of(way),
        system.sizing,
        system.duct_height_m,
        system.friction_from,
        system.available_pa,
        air,
        project.segments,
        project.terminals,
        project.book,
        project.duct_points,
        project.ceiling_zones,
        project.obstacles,
    )
    return memo.one(
        "ducts", row, lambda: _compute(project, system, air, layout(project, system, way, segments, members, memo), way)
    )


@lru_cache(maxsize=4)
def _grouped(segments: Same) -> dict[tuple[str, str], tuple[Segment, ...]]:
    found: dict[tuple[str, str], list[Segment]] = {}
    for s in segments.item:
        found.setdefault((s.system_id, s.air), []).append(s)
    return {group: tuple(those) for group, those in found.items()}


@lru_cache(maxsize=16)
def _of_air(terminals: Same, way: str) -> tuple[Terminal, ...]:
    return tuple(t for t in terminals.item if t.air == way)


def _compute(project: Project, system: AirSystem, air: AirResult, at: Layout | None, way: str) -> DuctResult | Missing:
    if at is None:
        return Missing("not joined", "Join the ducts to the unit and to a terminal")
    tree, segments, length, own, damped = at.tree, at.segments, at.length_m, at.own, at.damped
    flows = terminal_flows(at.members, air)
    node_flow = np.zeros(at.nodes)
    np.add.at(node_flow, at.at, [flows[t.id] for t in at.reached])
    flow = gather_flows(tree, node_flow)
    if air.block_at is not None and way == "supply":
        flow = np.minimum(flow, _running_peaks(at, flows, air))
    rules = duct_rules(project.book)
    quiet = assumption(project.book, "noise_nc").figure if project.book.duct_velocity == "noise" else None
    velocity_limit = [
        s.velocity_m_s.value
        if not isinstance(s.velocity_m_s, Rule)
        else rules.velocity_m_s[role]
        if quiet is None
        else min(rules.velocity_m_s[role], duct_make.noise_velocity(role, quiet))
        for role, s in zip(at.roles, segments)
    ]
    rough, pressed = duct_make.made_arrays(at.made)
    around = [m.around_m for m in at.made]
    points = [terminal_point(t, flows[t.id], project.book) for t in at.reached]
    point_pa = np.array([p.pressure_pa for p in points])
    end_pa = np.full(len(segments), np.nan)
    end_pa[own] = point_pa
    soft, hung = assumption(project.book, "flexible_share").figure * 100, np.flatnonzero(at.flexible_m > 0)

    def losses(sections: Sequence[Section]) -> tuple[list[tuple[FittingLoss, ...]], NDArray]:
        area, hydraulic = measures(sections)
        flexible_pa = np.zeros(len(sections))
        if len(hung):
            flexible_pa[hung] = at.flexible_m[hung] * duct_gradient(
                flow[hung],
                area[hung],
                hydraulic[hung],
                ROUGHNESS_M["flexible"],
                soft,
                air.density_kg_m3,
                air.viscosity_pa_s,
            )
        rub = duct_gradient(flow, area, hydraulic, rough, pressed, air.density_kg_m3, air.viscosity_pa_s)
        return fittings(
            at, way, project.book, flow, sections, air.density_kg_m3 * (flow / area) ** 2 / 2, rub
        ), flexible_pa

    found = sized(
        system,
        project.book,
        air,
        at,
        flow,
        [c.zone_m - 2 * x for c, x in zip(at.clear, around)],
        velocity_limit,
        losses,
        end_pa,
        rough,
        pressed,
    )
    sections = found.sections
    area, hydraulic = measures(sections)
    friction = duct_gradient(flow, area, hydraulic, rough, pressed, air.density_kg_m3, air.viscosity_pa_s)
    velocity = flow / area
    velocity_pa = air.density_kg_m3 * velocity**2 / 2
    parts, flexible_pa = losses(sections)
    loss = friction * length + flexible_pa + np.array([sum(f.pressure_pa for f in fs) for fs in parts])
    runs = run_losses(tree, loss, own, point_pa, at.nodes, at.root)
    taken, unspent = dampers_take(tree, runs.surplus_pa, own, at.free)
    settings = [
        _setting(s, sections[i], float(velocity_pa[i]), float(taken[i])) if i in damped else None
        for i, s in enumerate(segments)
    ]
    left = np.where(tree.reached, runs.node_pa[tree.leaving], np.nan)
    # Air that leaves is sucked: below the air around by what is lost up to the unit, and by its own velocity.
    static = np.nan_to_num(left + loss - velocity_pa if way == "supply" else -(left + loss + velocity_pa)).tolist()
    columns = zip(
        *(
            x.tolist()
            for x in (
                flow,
                length,
                velocity,
                friction,
                friction * length,
                flexible_pa,
                loss,
                left,
                at.distance_m,
                at.terminals_on,
                duct_power(velocity, area),
            )
        )
    )
    results, margin = {}, assumption(project.book, "class_margin").figure
    for i, (s, (q, long, v, per_m, rubbed, soft_pa, lost, after, away, on, sound)) in enumerate(zip(segments, columns)):
        section, made = sections[i], at.made[i]
        thick = duct_make.thickness(s, section.grown(made.lining_m), static[i])
        results[s.id] = SegmentResult(
            s.id,
            q,
            section,
            found.ladders[i],
            isinstance(s.size, PinnedSize),
            long,
            v,
            per_m,
            rubbed,
            soft_pa,
            parts[i],
            lost,
            after,
            at.clear[i].zone_m,
            at.clear[i].obstacle_m,
            at.clear[i].obstacle,
            duct_make.mass_per_m(section, made, thick) * long,
            away,
            on,
            velocity_limit[i],
            found.friction[i],
            made,
            section.height_m + 2 * around[i],
            static[i],
            duct_make.tightness(s, section, static[i], project.book.duct_class, margin),
            bool(s.tightness),
            thick,
            sound,
            settings[i],
            i in damped and not at.free[i],
            found.by[i],
        )
    terminals = []
    for i, t in enumerate(at.reached):
        setting, spare, neck = (
            settings[own[i]] or dampers.DamperSetting(0.0, 0.0, None),
            float(unspent[i]),
            int(own[i]) in at.turns,
        )
        if neck:
            setting = dampers.setting(
                Section("round", points[i].neck_m, points[i].neck_m),
                air.density_kg_m3 * points[i].neck_m_s ** 2 / 2,
                spare,
            )
            spare = spare if setting.angle_deg is None else 0.0
        terminals.append(
            TerminalResult(
                t.id,
                t.label,
                t.room_id,
                segments[own[i]].id,
                flows[t.id],
                points[i],
                float(runs.loss_pa[i]),
                float(runs.surplus_pa[i]),
                setting,
                float(at.distance_m[own[i]]),
                spare,
                neck,
            )
        )
    have, joined = {t.room_id for t in at.reached}, {t.id for t in at.reached}
    return DuctResult(
        system.id,
        results,
        tuple(terminals),
        tuple(t.id for t in at.members if t.id not in joined),
        ()
        if way == "outdoor"
        else tuple(
            r.room_id
            for r in air.rooms
            if getattr(r, OF_ROOM[way]) > (0 if way == "supply" else LEAST_BACK_M3S) and r.room_id not in have
        ),
        tuple(segments[i].id for i in tree.looped),
        tree,
        runs,
        tuple(s.id for s in segments),
        float(length.sum()),
        float(sum(r.mass_kg for r in results.values())),
        float(flow[tree.order[tree.parent[tree.order] < 0]].sum()),
        way,
        at.ends,
    )


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


def _running_peaks(at: Layout, flows: dict[str, float], air: AirResult) -> NDArray:
    """Greatest flow of every duct at one hour [m3/s], where the rooms' flows follow their loads."""
    row = {r.room_id: i for i, r in enumerate(air.rooms)}
    at_node = np.zeros((at.nodes, air.flow_hours.shape[1]))
    for t, node in zip(at.reached, at.at):
        room = row.get(t.room_id)
        if room is not None and air.rooms[room].flow_m3s > 0:
            at_node[node] += flows[t.id] / air.rooms[room].flow_m3s * air.flow_hours[room]
    return gather_flows(at.tree, at_node).max(axis=1)
