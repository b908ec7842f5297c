"""Findings of what stands in ducts: fittings beyond what they are made for, flexible pieces too long, fittings with no
room between them.
"""

from collections.abc import Iterator
from math import acos, degrees, radians, tan

import numpy as np

from garnetfin.core.ducts.fittings.catalogue import range_of
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.tables import fitting_tables
from garnetfin.display import amount, section_amount
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import DuctResult, Finding, FittingLoss, Mend, SegmentResult
from garnetfin.project.edits import Commands
from garnetfin.project.edits.duct_runs import SetFlexible, SetSize
from garnetfin.project.edits.duct_shape import MergeDuct
from garnetfin.project.edits.duct_values import SetFitting
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

FLAT = 0.7  # of a bend's axis that stands upright, above which it turns in plan
LARGER = 1.1  # of area; a change of shape may grow a little
HEAD_ON = "tee-conv-bullhead"


def beyond_range(ducts: DuctResult) -> Iterator[Finding]:
    """Junctions whose areas lie outside what their fittings are made for; they are read at the nearest figure."""
    beyond: list[tuple[str, FittingLoss, float]] = []
    for k, segment_id in enumerate(ducts.segment_ids):
        above = int(ducts.tree.parent[k])
        own = ducts.segments.get(segment_id)
        whole = ducts.segments.get(ducts.segment_ids[above]) if above >= 0 else None
        if own is None or whole is None:
            continue
        area = own.section.area_m2 / whole.section.area_m2
        for f in own.fittings:
            low, high = range_of(f.name)
            if f.reference == "common" and not low - 1e-9 <= area <= high + 1e-9:
                beyond.append((segment_id, f, area))
    if beyond:
        segment_id, f, area = beyond[0]
        low, high = range_of(f.name)
        head_on = f.name == HEAD_ON
        yield Finding(
            "fitting-range",
            "Ducts",
            "segment",
            segment_id,
            f"{len(beyond)} junctions lie outside what their fittings are made for"
            if len(beyond) > 1
            else "A junction lies outside what its fitting is made for",
            f"{fitting_tables()[f.name]['name']}: {area:.2f} of the whole's area, made for {low:.2f} to {high:.2f}; "
            "its nearest figure is taken.",
            "watch",
            (Mend("Join it at the side", SetFitting((segment_id,), "takeoff", "tee-conv-90")),) if head_on else (),
        )


def flexible_findings(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Flexible ends that are longer than the office wants them, told together."""
    most_m = assumption(project.book, "flexible_most_m").figure
    drawn = (find(project.segments, i) for i in ducts.segments)
    long = [s for s in drawn if s is not None and s.flexible_m > most_m + 1e-9]
    if long:
        steps = tuple(SetFlexible(s.id, most_m) for s in long)
        yield Finding(
            "flexible-long",
            "Ducts",
            "segment",
            long[0].id,
            f"{len(long)} flexible ends are longer than they should be"
            if len(long) > 1
            else f"The flexible end of {long[0].id} is {amount('length', long[0].flexible_m)} long",
            f"Up to {amount('length', most_m)} are usual; longer pieces sag and lose more.",
            "watch",
            (Mend(f"To {amount('length', most_m)}", Commands("Flexible duct", steps)),),
        )


def fits(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Pinned ducts larger than the one before; elbows that overlap."""
    tree, ids = ducts.tree, ducts.segment_ids
    for s in tree.order:
        p = int(tree.parent[s])
        if p < 0:
            continue
        mine, before = ducts.segments[ids[s]], ducts.segments[ids[p]]
        if (
            (mine.pinned or before.pinned)
            and mine.section.area_m2 > before.section.area_m2 * LARGER
            and mine.flow_m3s <= before.flow_m3s * 1.001
        ):
            which = mine if mine.pinned else before
            yield Finding(
                "larger-on",
                "Ducts",
                "segment",
                which.segment_id,
                f"{section_amount(mine.section)} follows {section_amount(before.section)}",
                "A duct is larger than the one that feeds it.",
                "watch",
                (Mend("Let the rule decide", SetSize((which.segment_id,), Rule())),),
            )
    onward: dict[str, list[SegmentResult]] = {}
    bends = _bends(project, ducts)
    for s in tree.order:
        if tree.parent[s] >= 0:
            onward.setdefault(ids[tree.parent[s]], []).append(ducts.segments[ids[s]])
    for r in ducts.segments.values():
        straight = (0.0, True)
        own = bends.get(r.segment_id, straight)
        need = sum(_laying(f.name, f.place, r.section, own) for f in r.fittings)
        after = onward.get(r.segment_id, []) if need else []
        need += sum(
            _laying(f.name, f.place, r.section, bends.get(n.segment_id, straight))
            for n in after[:1]
            for f in n.fittings
            if len(after) == 1
        )
        if r.flow_m3s > 0 and need > r.length_m + 0.02 and r.length_m > 0.02:
            yield Finding(
                "overlap",
                "Ducts",
                "segment",
                r.segment_id,
                f"Fittings overlap by {amount('duct_size', (need - r.length_m))}",
                f"{amount('length', r.length_m)} lie between its bends, {amount('length', need)} are taken by them.",
                "watch",
                (Mend("Merge into its neighbour", MergeDuct(r.segment_id)),)
                if len(after) <= 1 and r.length_m < 0.5
                else (),
            )


def _laying(name: str, place: str, section: Section, bend: tuple[float, bool]) -> float:
    """Length on the axis that half a bend takes [m]: its radius times the tangent of half its angle; bends with a mitre
    take half the side in whose plane they turn.
    """
    angle_deg, flat = bend
    if place != "elbow" or angle_deg <= 0:
        return 0.0
    ratio = 0.5 if "mitred" in name or "vaned" in name else 1.5 if section.shape == "round" else 1.0
    side = section.width_m if section.shape == "round" or flat else section.height_m
    return ratio * side * tan(radians(min(angle_deg, 150.0) / 2))


def _bends(project: Project, ducts: DuctResult) -> dict[str, tuple[float, bool]]:
    """(angle [deg], whether it lies flat) in which each duct with an elbow goes on from the one before it."""
    found = {}
    for k, segment_id in enumerate(ducts.segment_ids):
        above = int(ducts.tree.parent[k])
        if above < 0 or not any(f.place == "elbow" for f in ducts.segments[segment_id].fittings):
            continue
        one, two = (find(project.segments, ducts.segment_ids[i]) for i in (above, k))
        joint = next((p for p in (two.a, two.b) if p in (one.a, one.b)), None)
        if joint is None:
            continue
        far = one.a if one.b == joint else one.b
        on = two.a if two.b == joint else two.b
        a, at, b = (find(project.duct_points, p) for p in (far, joint, on))
        first = np.array([at.x_m - a.x_m, at.y_m - a.y_m, at.z_m - a.z_m])
        then = np.array([b.x_m - at.x_m, b.y_m - at.y_m, b.z_m - at.z_m])
        length = float(np.linalg.norm(first) * np.linalg.norm(then))
        if length > 0:
            angle = degrees(acos(max(-1.0, min(1.0, float(first @ then) / length))))
            across = np.cross(first, then)
            found[segment_id] = angle, abs(float(across[2])) >= FLAT * float(np.linalg.norm(across))
    return found
