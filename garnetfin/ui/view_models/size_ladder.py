"""Every size a duct may take, with what it costs and what it breaks."""

from math import isfinite

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import SegmentResult
from garnetfin.ui.view_models.card import Ladder, Rung

RUNGS = 11


def ladder(result: SegmentResult, ids: tuple[str, ...], limit: float, units: System) -> Ladder:
    """Rungs around what the rule gives, falling friction; sizes too deep are struck through with the reason."""
    found = result.ladder
    sections = found.series.sections
    now = next((i for i, s in enumerate(sections) if s == result.section), None)
    centre = found.chosen if now is None else now
    height = sections[found.chosen].height_m
    clearing = max((s.height_m for s in sections if s.height_m <= result.obstacle_height_m + 1e-9), default=height)
    heights = {height, result.section.height_m, min(clearing, height)}
    near = [
        i
        for i, s in enumerate(sections)
        if s.shape == "round"
        or i == centre
        or (s.aspect <= 4.01 and any(abs(s.height_m - h) <= (0.0505 if h == height else 1e-6) for h in heights))
    ]
    near.sort(key=lambda i: -found.friction_pa_m[i])
    at = near.index(centre)
    first = max(0, min(at - RUNGS // 2, len(near) - RUNGS))
    kept = near[first : first + RUNGS]
    for must in (found.chosen, centre):
        if must not in kept:
            kept = [*kept[1:], must]
    kept.sort(key=lambda i: -found.friction_pa_m[i])
    greatest = max(float(found.friction_pa_m[i]) for i in kept) or 1.0
    free = min(result.clear_height_m, result.obstacle_height_m)
    rungs = []
    for i in kept:
        s = sections[i]
        deep = s.height_m - result.clear_height_m
        rungs.append(
            Rung(
                display.size(s, units),
                display.figure("velocity", float(found.velocity_m_s[i]), units),
                display.figure("friction", float(found.friction_pa_m[i]), units),
                float(found.friction_pa_m[i]) / greatest,
                "–" if s.shape == "round" else display.number(s.aspect, 1),
                display.figure("linear_mass", s.mass_kg_m, units),
                (s.shape, s.width_m, s.height_m),
                f"too deep by {display.with_unit('duct_size', deep, units)}" if deep > 1e-9 else "",
                bool(found.too_rough[i]) or bool(found.too_fast[i]),
                i == found.chosen,
                result.pinned and s == result.section,
                isfinite(free) and s.height_m <= free + 1e-9,
            )
        )
    if result.pinned and now is None:
        rungs.insert(
            0,
            Rung(
                display.size(result.section, units),
                display.figure("velocity", result.velocity_m_s, units),
                display.figure("friction", result.friction_pa_m, units),
                min(1.0, result.friction_pa_m / greatest),
                display.number(result.section.aspect, 1),
                display.figure("linear_mass", result.section.mass_kg_m, units),
                (result.section.shape, result.section.width_m, result.section.height_m),
                pinned=True,
            ),
        )
    note = display.with_unit("room_flow", result.flow_m3s, units)
    if isfinite(free):
        low, high = sorted((free, result.clear_height_m))
        span = display.figure("duct_size", low, units) + (
            f"–{display.figure('duct_size', high, units)}" if high > low else ""
        )
        note += f" · free depth {span} {display.unit('duct_size', units)}"
    legend = f"fits beneath {result.obstacle}" if result.obstacle else ""
    return Ladder(
        "Size ladder",
        note,
        ids,
        limit / greatest,
        (
            display.unit("duct_size", units),
            display.unit("velocity", units),
            display.unit("friction", units),
            display.unit("linear_mass", units),
        ),
        tuple(rungs),
        legend,
    )
