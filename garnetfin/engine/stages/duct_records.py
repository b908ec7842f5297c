"""One record for each duct and each terminal, from what was found of them all."""

from garnetfin.core.ducts.fittings import dampers
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.noise import duct_power
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import SegmentResult, TerminalResult
from garnetfin.engine.stages import duct_make
from garnetfin.engine.stages.duct_flows import Carried
from garnetfin.engine.stages.duct_losses import Lost
from garnetfin.engine.stages.duct_sizes import Sized
from garnetfin.project.ducts import PinnedSize, Segment
from garnetfin.project.values import Rule

Settings = list[dampers.DamperSetting | None]


def settings(on: Carried, found: Sized, losses: Lost) -> Settings:
    """Of each duct's balancing damper, None where none stands."""
    return [
        _setting(s, found.sections[i], float(losses.velocity_pa[i]), float(losses.taken_pa[i]))
        if i in on.at.damped
        else None
        for i, s in enumerate(on.at.segments)
    ]


def _setting(segment: Segment, section: Section, velocity_pa: float, taken_pa: float) -> dampers.DamperSetting:
    """As pinned, or what takes its share of the surplus."""
    if segment.damper == "orifice":
        return dampers.orifice(velocity_pa, taken_pa)
    if isinstance(segment.damper_deg, Rule):
        return dampers.setting(section, velocity_pa, taken_pa)
    if segment.damper_deg.value >= dampers.SHUT_DEG:
        return dampers.DamperSetting(0.0, dampers.SHUT_K, segment.damper_deg.value)
    added = dampers.k_at(section, segment.damper_deg.value) - dampers.open_k(section)
    return dampers.DamperSetting(added * velocity_pa, added, segment.damper_deg.value)


def segment_records(
    on: Carried, found: Sized, losses: Lost, velocity_limit: list[float], set_: Settings
) -> dict[str, SegmentResult]:
    """By segment id."""
    at, margin = on.at, assumption(on.book, "class_margin").figure
    # plain figures: thousands of single readings of arrays are many times slower
    flow, length, velocity, friction = (
        x.tolist() for x in (on.flow_m3s, at.length_m, losses.velocity_m_s, losses.friction_pa_m)
    )
    rubbed, flexible, lost, left, static = (
        x.tolist()
        for x in (
            losses.friction_pa_m * losses.straight_m,
            losses.flexible_pa,
            losses.loss_pa,
            losses.left_pa,
            losses.static_pa,
        )
    )
    leaks, ends = on.leak_m3s.tolist(), losses.end_pa.tolist()
    distance, terminals_on = at.distance_m.tolist(), at.terminals_on.tolist()
    noise = duct_power(losses.velocity_m_s, losses.area_m2).tolist()
    records = {}
    for i, s in enumerate(at.segments):
        section, made = found.sections[i], at.made[i]
        thick = duct_make.thickness(s, section.grown(made.lining_m), static[i])
        records[s.id] = SegmentResult(
            segment_id=s.id,
            flow_m3s=flow[i],
            section=section,
            ladder=found.ladders[i],
            pinned=isinstance(s.size, PinnedSize),
            length_m=length[i],
            velocity_m_s=velocity[i],
            friction_pa_m=friction[i],
            friction_pa=rubbed[i],
            flexible_pa=flexible[i],
            fittings=losses.fittings[i],
            loss_pa=lost[i],
            left_pa=left[i],
            clear_height_m=at.clear[i].zone_m,
            obstacle_height_m=at.clear[i].obstacle_m,
            obstacle=at.clear[i].obstacle,
            sleeve_m=at.clear[i].sleeve_m,
            mass_kg=duct_make.mass_per_m(section, made, thick) * length[i],
            distance_m=distance[i],
            terminals_on=terminals_on[i],
            velocity_limit=velocity_limit[i],
            friction_limit=found.friction[i],
            make=made,
            outer_height_m=section.height_m + 2 * made.around_m,
            static_pa=static[i],
            tightness=duct_make.tightness(s, section, static[i], on.book.duct_class, margin),
            tight_pinned=bool(s.tightness),
            thickness_m=thick,
            noise_db=noise[i],
            damper=set_[i],
            damper_pinned=i in at.damped and not at.free[i],
            leak_m3s=leaks[i],
            end_pa=ends[i],
            role=at.roles[i],
            by=found.by[i],
            inline=losses.inline.get(i, ()),
        )
    return records


def terminal_records(on: Carried, losses: Lost, set_: Settings) -> tuple[TerminalResult, ...]:
    """Of those the unit reaches, in the project's order."""
    at, records = on.at, []
    for i, t in enumerate(at.reached):
        own, point, spare = int(at.own[i]), on.points[i], float(losses.unspent_pa[i])
        setting, neck = set_[own] or dampers.DamperSetting(0.0, 0.0, None), own in at.turns
        if neck:
            velocity_pa = on.air.density_kg_m3 * point.neck_m_s**2 / 2
            setting = dampers.setting(Section("round", point.neck_m, point.neck_m), velocity_pa, spare)
            spare = spare if setting.angle_deg is None else 0.0
        records.append(
            TerminalResult(
                terminal_id=t.id,
                label=t.label,
                room_id=t.room_id,
                segment_id=at.segments[own].id,
                flow_m3s=on.terminal_m3s[t.id],
                point=point,
                run_pa=float(losses.runs.loss_pa[i]),
                surplus_pa=float(losses.runs.surplus_pa[i]),
                damper=setting,
                distance_m=float(at.distance_m[own]),
                left_pa=spare,
                neck=neck,
            )
        )
    return tuple(records)
