"""Findings of ducts: limits that are broken, runs that cannot be as they are drawn; each with commands that would mend
it.
"""

from collections.abc import Iterator
from functools import lru_cache
from math import hypot
from typing import Any

from garnetfin.core.ducts.friction import FLEXIBLE, ROUGHEST
from garnetfin.core.ducts.sizes import Section, rectangular_series, round_series
from garnetfin.core.ducts.sizing import Limits, size_ladder
from garnetfin.display import amount, section_amount
from garnetfin.engine.findings.duct_fittings import beyond_range, fits, flexible_findings
from garnetfin.engine.findings.inline import inline_findings
from garnetfin.engine.findings.naming import some
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, DuctResult, Finding, Mend, SegmentResult, TerminalResult
from garnetfin.engine.stages.duct_clashes import Clash
from garnetfin.engine.stages.duct_make import bears
from garnetfin.project.ducts import TIGHTNESS, PinnedSize
from garnetfin.project.edits.duct_runs import AddSpigot, RemoveDucts, SetSize, SetTerminal
from garnetfin.project.edits.duct_shape import MoveDucts, StepAside, carried
from garnetfin.project.edits.duct_values import SetDuctChoice
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

LEAST_DAMPER_PV = 1.0  # velocity pressure at a damper, below which it can hardly be set [Pa]
MOST_TERMINAL_PA = 40.0
CLEAR_M = 0.005
LEAST_WITHIN_M = 0.05  # of a duct in a zone that it runs through


BESIDE_UNIT_M = 3.0  # within which a loose end may be meant to begin at the unit


def duct_findings(project: Project, ducts: DuctResult, air: AirResult) -> Iterator[Finding]:
    yield from _apart(project, ducts)
    yield from beyond_range(ducts)
    missing = [find(project.rooms, i) for i in ducts.unroomed]
    if ducts.air == "supply" and missing:
        first, numbers = missing[0], some([r.number for r in missing])
        yield Finding(
            "no-terminal",
            "Ducts",
            "room",
            first.id,
            f"{len(missing)} rooms have no terminal"
            if len(missing) > 1
            else f"{first.number} {first.name} has no terminal",
            f"{numbers}: supply air has no way in. Draw a run that ends in the room."
            if len(missing) > 1
            else "Its supply air has no way in. Draw a run that ends in the room.",
            "bad",
        )
    elif missing:
        # Grilles are put in one after the other; what is left is said once.
        numbers = ", ".join(r.number for r in missing[:6]) + (" …" if len(missing) > 6 else "")
        rooms = f"{len(missing)} rooms have" if len(missing) > 1 else f"{missing[0].number} has"
        yield Finding(
            "no-grille",
            "Ducts",
            "room",
            missing[0].id,
            f"{rooms} no {ducts.air} grille on a duct",
            f"{numbers}: draw runs that end there.",
            "watch",
        )
    for segment_id in ducts.looped:
        yield Finding(
            "ring",
            "Ducts",
            "segment",
            segment_id,
            f"Duct {segment_id} closes a ring",
            "Ducts are sized as a tree without this piece; real flows take it along. Pin its size, or remove it.",
            "watch",
            (Mend("Remove it", RemoveDucts((segment_id,))),),
        )
    for result in ducts.segments.values():
        yield from _segment(result, air)
    yield from _together(project, ducts)
    yield from flexible_findings(project, ducts)
    yield from inline_findings(project, ducts)
    margin = assumption(project.book, "class_margin").figure
    for result in ducts.segments.values():
        yield from _height_of(project, result)
        yield from _made(result, margin)
    yield from fits(project, ducts)
    for t in ducts.terminals:
        terminal = find(project.terminals, t.terminal_id)
        if t.point.pressure_pa > MOST_TERMINAL_PA:
            mends = (Mend("Let the rule choose", SetTerminal(t.terminal_id, model="")),) if terminal.model else ()
            yield Finding(
                "terminal-loss",
                "Ducts",
                "terminal",
                t.terminal_id,
                f"Terminal {t.label} takes {amount('pressure', t.point.pressure_pa)}",
                f"{amount('room_flow', t.flow_m3s)} are much for {t.point.model}: above "
                f"{amount('pressure', MOST_TERMINAL_PA)}.",
                "watch",
                mends,
            )
    most_pa, most_deg = (
        assumption(project.book, "damper_most_pa").figure,
        assumption(project.book, "damper_most_deg").figure,
    )
    by_end = {t.segment_id: t for t in ducts.terminals}
    # they take what is to spare
    boxes = ducts.air == "supply" and find(project.air_systems, ducts.system_id).flow == "load"
    for r in ducts.segments.values():
        d = r.damper
        if d is None or d.free is not None or r.damper_pinned or d.surplus_pa <= 0.5 or boxes:
            continue
        weak = air.density_kg_m3 * r.velocity_m_s**2 / 2 < LEAST_DAMPER_PV
        if d.angle_deg is None or weak or d.angle_deg > most_deg or d.surplus_pa > most_pa:
            yield _damper(by_end.get(r.segment_id), r, weak, most_pa, most_deg)


@lru_cache(maxsize=1024)
def _rung_below(section: Section) -> Section | None:
    """The greatest smaller section of the same shape."""
    series = round_series(63) if section.shape == "round" else rectangular_series()
    return max(
        (s for s in series.sections if s.area_m2 < section.area_m2 * 0.99 and s.aspect <= 4),
        key=lambda s: s.area_m2,
        default=None,
    )


def _damper(t: TerminalResult | None, segment: SegmentResult, weak: bool, most_pa: float, most_deg: float) -> Finding:
    """A damper that takes too much, stands too far closed, or has too little velocity to work with."""
    kind, object_id, label = (
        ("terminal", t.terminal_id, t.label) if t is not None else ("segment", segment.segment_id, segment.segment_id)
    )
    smaller = _rung_below(segment.section)
    fast = smaller is not None and segment.flow_m3s / smaller.area_m2 <= segment.velocity_limit * 1.25
    mends = (
        (
            Mend(
                f"Duct {section_amount(smaller)}",
                SetSize(
                    (segment.segment_id,),
                    PinnedSize(shape=smaller.shape, width_m=smaller.width_m, height_m=smaller.height_m),
                ),
            ),
        )
        if fast
        else ()
    )
    takes = segment.damper.surplus_pa
    plate = Mend("An orifice plate", SetDuctChoice((segment.segment_id,), "damper", "orifice"))
    # a smaller duct helps a blade that is too far closed; it takes little of a surplus that is too large
    mends = (plate, *mends) if takes > most_pa else (*mends, plate)
    if segment.damper.angle_deg is None:
        return Finding(
            "damper",
            "Balance",
            kind,
            object_id,
            f"{label} cannot be balanced here",
            f"At {amount('velocity', segment.velocity_m_s)} in {section_amount(segment.section)} no blade takes "
            f"{amount('pressure', takes)}.",
            "watch",
            mends,
        )
    if weak:
        return Finding(
            "damper",
            "Balance",
            kind,
            object_id,
            f"{label} is hard to balance here",
            f"At {amount('velocity', segment.velocity_m_s)} in {section_amount(segment.section)} a blade at "
            f"{segment.damper.angle_deg:.0f}° takes {amount('pressure', takes)}; a little turn changes much.",
            "watch",
            mends,
        )
    return Finding(
        "damper",
        "Balance",
        kind,
        object_id,
        f"Damper of {label} takes {amount('pressure', takes)}",
        f"Its blade stands at {segment.damper.angle_deg:.0f}°; above {amount('pressure', most_pa)} or "
        f"{most_deg:.0f}° it is heard "
        f"and hard to set.",
        "watch",
        mends,
    )


def _segment(result: SegmentResult, air: AirResult) -> Iterator[Finding]:
    if result.flow_m3s <= 0:
        return
    height = result.outer_height_m
    free = min(result.clear_height_m, result.obstacle_height_m)
    let_rule = Mend("Let the rule decide", SetSize((result.segment_id,), Rule()))
    if height > free + 1e-9:
        mends = [
            Mend(
                f"Apply {section_amount(s)}",
                SetSize((result.segment_id,), PinnedSize(shape=s.shape, width_m=s.width_m, height_m=s.height_m)),
            )
            for s in _that_fit(result, free, air)
        ]
        by_obstacle = result.obstacle_height_m < result.clear_height_m
        name = result.obstacle if by_obstacle else "the ceiling"
        touch = f"Touches {name} by" if by_obstacle else "Deeper than the ceiling by"
        yield Finding(
            "height",
            "Ducts",
            "segment",
            result.segment_id,
            f"{touch} {amount('duct_size', (height - free))}",
            f"{section_amount(result.section)} needs {amount('duct_size', height)}, {amount('duct_size', free)} "
            "are free.",
            "bad",
            tuple(mends) or ((let_rule,) if result.pinned else ()),
        )
    width = result.section.width_m + (height - result.section.height_m)  # as much around its sides
    if width > result.sleeve_m + 1e-9:
        yield Finding(
            "sleeve",
            "Ducts",
            "segment",
            result.segment_id,
            f"Wider than the sleeve through {result.obstacle} by {amount('duct_size', width - result.sleeve_m)}",
            f"{section_amount(result.section)} needs {amount('duct_size', width)}. Hold a width that passes, or have "
            "the sleeve made wider.",
            "bad",
            (let_rule,) if result.pinned else (),
        )
    limits = result.ladder
    if result.pinned and result.velocity_m_s > result.velocity_limit * 1.001:
        yield Finding(
            "velocity",
            "Ducts",
            "segment",
            result.segment_id,
            f"{section_amount(result.section)} runs at {amount('velocity', result.velocity_m_s)}",
            f"{amount('velocity', result.velocity_limit)} is the limit here; {section_amount(limits.section)} "
            "keeps it.",
            "watch",
            (let_rule,),
        )
    elif not result.pinned and limits.relaxed:
        yield Finding(
            "limits",
            "Ducts",
            "segment",
            result.segment_id,
            f"No size keeps {' and '.join(limits.relaxed)}",
            f"{section_amount(result.section)} comes nearest: {amount('friction', result.friction_pa_m)}, "
            f"{amount('velocity', result.velocity_m_s)}.",
            "watch",
        )


def _that_fit(result: SegmentResult, free_m: float, air: AirResult) -> list[Section]:
    """The lightest size within the free height that keeps every other limit, in the duct's shape or else flat."""
    limits = Limits(air.figures.friction_pa_m.figure, result.velocity_limit, free_m - 2 * result.make.around_m)
    for series in (result.ladder.series, rectangular_series()):
        ladder = size_ladder(series, result.flow_m3s, limits, air.density_kg_m3, air.viscosity_pa_s)
        if not set(ladder.relaxed) - {"aspect"}:
            return [ladder.section]
    return []


def _apart(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Terminals in rooms of the system that no duct reaches, told together."""
    apart = []
    for terminal_id in ducts.unreached:
        t = find(project.terminals, terminal_id)
        room = find(project.rooms, t.room_id)
        if room is not None and room.system_id == ducts.system_id:
            apart.append(t)
    if apart:
        one = len(apart) == 1
        yield Finding(
            "not-joined",
            "Ducts",
            "terminal",
            apart[0].id,
            f"Terminal {apart[0].label} is not joined" if one else f"{len(apart)} terminals are not joined",
            "No duct leads from the unit to it. Draw from it to a duct."
            if one
            else f"No duct leads from the unit to {some([t.label for t in apart])}. Draw from them to ducts.",
            "bad",
            tuple(_another_spigot(project, ducts, apart[0].point_id)),
        )


def _another_spigot(project: Project, ducts: DuctResult, point_id: str) -> Iterator[Mend]:
    """Ducts that end beside the unit without joining its first spigot may begin at one of their own."""
    system, points = find(project.air_systems, ducts.system_id), {p.id: p for p in project.duct_points}
    beside: dict[str, list[str]] = {}
    for s in project.segments:
        if (s.system_id, s.air) == (ducts.system_id, ducts.air):
            beside.setdefault(s.a, []).append(s.b)
            beside.setdefault(s.b, []).append(s.a)
    together, waiting = {point_id}, [point_id]
    while waiting:
        new = [p for p in beside.get(waiting.pop(), ()) if p not in together]
        together.update(new)
        waiting += new
    held = {t.point_id for t in project.terminals}
    ends = [points[p] for p in together if len(beside.get(p, ())) == 1 and p not in held]
    roots = [points[p] for p in system.roots_of(ducts.air) if p in points]
    near = [(hypot(p.x_m - q.x_m, p.y_m - q.y_m), p.id) for p in ends for q in roots if p.level_id == q.level_id]
    if near and min(near)[0] <= BESIDE_UNIT_M:
        yield Mend("Begin it at the unit, on a spigot of its own", AddSpigot(system.id, ducts.air, min(near)[1]))


def _together(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """What many ducts share is said once."""

    def figure(name: str) -> float:
        return assumption(project.book, name).figure

    least = {
        "trunk": figure("duct_slow_trunk_m_s"),
        "riser": figure("duct_slow_trunk_m_s"),
        "branch": figure("duct_slow_branch_m_s"),
        "last": figure("duct_slow_last_m_s"),
    }
    weak = figure("duct_least_pa_m")
    # The least size of all cannot be made smaller.
    larger = [
        r
        for r in ducts.segments.values()
        if r.flow_m3s > 0 and r.section.area_m2 > 1.001 * float(r.ladder.series.area_m2.min())
    ]
    slow = [r for r in larger if r.velocity_m_s < least[r.role] * 0.999]
    if slow:
        worst = min(slow, key=lambda r: r.velocity_m_s)
        limit = least[worst.role]
        yield Finding(
            "slow",
            "Ducts",
            "segment",
            worst.segment_id,
            f"{len(slow)} ducts run slower than their least"
            if len(slow) > 1
            else f"{section_amount(worst.section)} runs at {amount('velocity', worst.velocity_m_s)}",
            f"Slowest is {worst.segment_id} with {amount('velocity', worst.velocity_m_s)}, "
            f"{amount('velocity', limit)} are the least.",
            "watch",
        )
    loose = [r for r in larger if r.friction_pa_m < weak * 0.999]
    if loose:
        worst = min(loose, key=lambda r: r.friction_pa_m)
        yield Finding(
            "least-friction",
            "Ducts",
            "segment",
            worst.segment_id,
            f"{len(loose)} ducts lose less than {amount('friction', weak)}",
            f"{worst.segment_id} has {amount('friction', worst.friction_pa_m)}: larger than it need be.",
            "watch",
        )
    idle = [i for i, r in ducts.segments.items() if r.flow_m3s <= 0 and i not in ducts.looped]
    if idle:
        yield Finding(
            "no-flow",
            "Ducts",
            "segment",
            idle[0],
            f"{len(idle)} ducts carry no air" if len(idle) > 1 else f"Duct {idle[0]} carries no air",
            f"{some(idle)}: no terminal lies beyond. Draw on, or take them away.",
            "watch",
            (Mend("Remove", RemoveDucts(tuple(idle))),),
        )


def _height_of(project: Project, r: SegmentResult) -> Iterator[Finding]:
    """A duct below the ceiling or in the structure of the zone it runs in, below the floor or above the level."""
    segment = find(project.segments, r.segment_id)
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    if abs(a.z_m - b.z_m) > 0.02:
        return  # risers and falls pass through
    level = find(project.levels, a.level_id)
    low, high = level.elevation_m, level.elevation_m + level.storey_m
    zones = zones_of(project, segment)
    if zones:
        low, high = (
            level.elevation_m + f(getattr(z, n) for z in zones) for f, n in ((max, "ceiling_m"), (min, "soffit_m"))
        )
    if r.outer_height_m > high - low:
        return  # it fits at no height, which is said already
    under, over = low - (a.z_m - r.outer_height_m / 2), a.z_m + r.outer_height_m / 2 - high
    if max(under, over) <= CLEAR_M:
        return
    shift, where = (
        (under, "below the ceiling" if zones else "below the floor")
        if under > over
        else (-over, "in the structure" if zones else "above its level")
    )
    mend = ()
    roots = {i for s in project.air_systems for i in s.roots}
    if not carried(project, (r.segment_id,), (0.0, 0.0, shift)) & roots:
        mend = (
            Mend(
                f"{'Raise' if shift > 0 else 'Lower'} by {amount('duct_size', abs(shift))}",
                MoveDucts((r.segment_id,), 0.0, 0.0, round(shift, 4)),
            ),
        )
    yield Finding(
        "duct-height",
        "Ducts",
        "segment",
        r.segment_id,
        f"{amount('duct_size', abs(shift))} {where}",
        f"{section_amount(r.section)} lies at {amount('duct_size', (a.z_m - level.elevation_m))} above the floor, "
        f"{amount('length', low - level.elevation_m, bare=True)} to "
        f"{amount('length', high - level.elevation_m)} are free.",
        "bad",
        mend,
    )


def zones_of(project: Project, segment) -> list[Any]:
    """Ceiling zones that a duct runs through."""
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    zones = [z for z in project.ceiling_zones if z.level_id == a.level_id]
    return (
        [z for z in zones if _runs_through((a.x_m, a.y_m), (b.x_m, b.y_m), z.outline)]
        if (a.x_m, a.y_m) != (b.x_m, b.y_m)
        else []
    )


@lru_cache(maxsize=16_384)
def _runs_through(a: tuple[float, float], b: tuple[float, float], outline: tuple[Any, ...]) -> bool:
    from shapely import LineString

    return bool(LineString([a, b]).intersection(_sound(outline)).length > LEAST_WITHIN_M)


@lru_cache(maxsize=1024)
def _sound(outline: tuple[Any, ...]) -> Any:
    """The area within an outline, crossings of its own taken out."""
    from shapely import Polygon

    return Polygon(outline).buffer(0)


def _made(r: SegmentResult, margin: float) -> Iterator[Finding]:
    """Class, sheet and roughness of a duct."""
    if r.flow_m3s > 0 and not bears(r.tightness, r.section, r.static_pa * (1 + margin)):
        better = next((c for c in TIGHTNESS if bears(c, r.section, r.static_pa * (1 + margin))), "")
        mends = (Mend(f"Class {better}", SetDuctChoice((r.segment_id,), "tightness", better)),) if better else ()
        yield Finding(
            "duct-class",
            "Ducts",
            "segment",
            r.segment_id,
            f"{amount('pressure', r.static_pa)} are too much for class {r.tightness}",
            f"With {margin:.0%} margin. " + ("" if better else "No class bears it: lower the pressure."),
            "bad",
            mends,
        )
    if r.make.material not in FLEXIBLE and r.make.roughness_m > ROUGHEST * r.section.hydraulic_m:
        yield Finding(
            "rough",
            "Ducts",
            "segment",
            r.segment_id,
            f"{r.make.material} is rough for {section_amount(r.section)}",
            "Its friction is taken at the end of the formula's range, 5 % of the diameter.",
            "watch",
        )


def crossing_findings(clashed: tuple[Clash, ...], known: dict[str, SegmentResult]) -> Iterator[Finding]:
    """Ducts that cross at one height."""
    for c in clashed:
        one, two = known[c.first], known[c.second]
        dz = round(-c.missing_m if c.below else c.missing_m, 3)
        share, half = c.share, c.half_m
        way = "under" if c.below else "over"
        mends = (
            [Mend(f"{c.second} {way} {c.first}", StepAside(c.second, round(share, 4), round(half, 3), dz))]
            if (half < share * two.length_m and half < (1 - share) * two.length_m)
            else []
        )
        mends.append(
            Mend(
                f"{'Lower' if dz < 0 else 'Raise'} {c.second} by {amount('duct_size', abs(dz))}",
                MoveDucts((c.second,), 0.0, 0.0, dz),
            )
        )
        yield Finding(
            "crossing",
            "Ducts",
            "segment",
            c.second,
            f"{section_amount(two.section)} crosses {section_amount(one.section)}",
            f"{c.second} and {c.first} need {amount('duct_size', c.missing_m)} more between their heights.",
            "bad",
            tuple(mends),
        )
