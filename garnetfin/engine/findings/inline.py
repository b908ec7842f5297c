"""Findings of parts in ducts: none that serves, what a fixed one breaks, where it stands too near to something."""

from collections import Counter
from collections.abc import Iterator

from garnetfin.core.ducts.inline import Stretch, free_places, nearest_place
from garnetfin.display import amount
from garnetfin.engine.findings.naming import some
from garnetfin.engine.layout.duct_pieces import pieces_of
from garnetfin.engine.results import DuctResult, Finding, InlineRecord, Mend, SegmentResult, there
from garnetfin.project.edits.inline import MoveInline, RemoveInline, SetInlineChoice
from garnetfin.project.tree import Project

BREAKS = {
    "shape": "is of another shape than the duct",
    "size": "is smaller than the duct",
    "velocity": "gets more velocity than it may have",
    "minutes": "resists fire for fewer minutes than asked",
    "smoke": "does not shut for smoke",
    "unknown": "is not in the catalogue",
}
COUNTS = {
    "shape": "of another shape",
    "size": "smaller than the duct",
    "velocity": "too fast",
    "minutes": "of fewer minutes",
    "smoke": "without release for smoke",
}
APART_M = 0.005


def inline_findings(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Of all parts in these ducts."""
    records = [r for r in ducts.segments.values() if r.inline]
    if not records:
        return
    yield from _without_model([p for r in records for p in r.inline if p.refusal == "none"])
    takes = pieces_of(project, ducts).takes_m
    supply = ducts.air == "supply"
    for r in records:
        for part in r.inline:
            yield from _of_model(part)
        yield from _places(r, takes.get(r.segment_id, (0.0, 0.0)), supply)


def _without_model(parts: list[InlineRecord]) -> Iterator[Finding]:
    """One finding a kind, with the reasons counted."""
    for kind in dict.fromkeys(p.kind for p in parts if p.kind != "own part"):
        mine = [p for p in parts if p.kind == kind]
        counts = Counter(why for p in mine[:1] for why in p.refused.values())
        told = ", ".join(f"{n} {COUNTS[why]}" for why, n in counts.most_common())
        whom = some([p.tag for p in mine])
        yield Finding(
            "no-model",
            "Ducts",
            "inline",
            mine[0].part_id,
            f"No {kind} of the catalogue serves {whom}",
            f"Of the catalogue’s: {told}. Change the duct’s size or shape, take in another catalogue, or type it."
            if told
            else "The catalogue has none of this kind. Take another catalogue in, or type its loss.",
            "watch" if all(p.typed for p in mine) else "bad",
            (Mend("Take them out" if len(mine) > 1 else "Take it out", RemoveInline(tuple(p.part_id for p in mine))),),
        )
    bare = [p for p in parts if p.kind == "own part" and not p.typed]
    if bare:
        yield Finding(
            "own-part-bare",
            "Ducts",
            "inline",
            bare[0].part_id,
            f"Nothing is known of the loss of {some([p.tag for p in bare])}",
            "Type its coefficient, or its loss at a flow.",
            "watch",
            (Mend("Take it out", RemoveInline(tuple(p.part_id for p in bare))),),
        )


def _of_model(part: InlineRecord) -> Iterator[Finding]:
    m = part.model
    if part.pinned and part.refusal:
        yield Finding(
            "inline-model",
            "Ducts",
            "inline",
            part.part_id,
            f"{part.tag}: its model {BREAKS[part.refusal]}",
            f"{m.model if m is not None else 'The fixed model'} stays, as it was fixed by hand.",
            "bad" if part.refusal in ("minutes", "smoke", "unknown") else "watch",
            (Mend("Let the rule choose", SetInlineChoice((part.part_id,), "model", "")),),
        )
    if m is not None and part.flow_m3s > 0 and part.velocity_m_s < m.least_m_s * (1 - 1e-9):
        yield Finding(
            "inline-velocity",
            "Ducts",
            "inline",
            part.part_id,
            f"{part.tag} gets only {amount('velocity', part.velocity_m_s)}",
            f"{m.model} works from {amount('velocity', m.least_m_s)} on: make the duct smaller there.",
            "watch",
        )
    if part.beyond:
        yield Finding(
            "beyond-data",
            "Ducts",
            "inline",
            part.part_id,
            f"{part.tag} passes more air than its curve knows",
            f"{amount('room_flow', part.flow_m3s)} lie beyond the last point of its catalogue; its loss is carried on.",
            "watch",
        )


def _places(r: SegmentResult, takes_m: tuple[float, float], supply: bool) -> Iterator[Finding]:
    """Parts that stand in each other, in a fitting, or without the straight they want."""
    ends = (takes_m[0], r.length_m - takes_m[1])
    faces = {p.part_id: (p.near_m - p.length_m / 2, p.near_m + p.length_m / 2) for p in r.inline}
    whole = sum(p.length_m for p in r.inline)
    if whole > ends[1] - ends[0] + APART_M:
        lacks = whole - max(ends[1] - ends[0], 0.0)
        yield Finding(
            "inline-long",
            "Ducts",
            "segment",
            r.segment_id,
            f"Parts in duct {r.segment_id} are {amount('duct_size', lacks)} longer than its straight",
            f"They take {amount('length', whole)}; between its fittings there are "
            f"{amount('length', max(ends[1] - ends[0], 0.0))}.",
            "bad",
            (Mend("Take the last one out", RemoveInline((r.inline[-1].part_id,))),),
        )
        return
    for part in r.inline:
        low, high = faces[part.part_id]
        others = [f for i, f in faces.items() if i != part.part_id and part.length_m > 0]
        into = max((min(high, b) - max(low, a) for a, b in others if min(high, b) - max(low, a) > 0), default=0.0)
        beyond = max(ends[0] - low, high - ends[1], 0.0) if part.length_m > 0 else 0.0
        if max(into, beyond) > APART_M:
            yield _overlap(part, r, max(into, beyond), into >= beyond, free_places(ends, others, part.length_m, (0, 0)))
        elif part.model is not None and part.length_m > 0:
            yield from _straight(part, r, ends, others, supply)


def _overlap(part: InlineRecord, r: SegmentResult, by_m: float, in_part: bool, free: tuple[Stretch, ...]) -> Finding:
    to = nearest_place(free, part.near_m)
    return Finding(
        "inline-overlap",
        "Ducts",
        "inline",
        part.part_id,
        f"{part.tag} stands {amount('duct_size', by_m)} in {'another part' if in_part else 'a fitting'}",
        f"In duct {r.segment_id}. Move it along, or take it out.",
        "bad",
        () if to is None else (Mend(f"Move it by {amount('length', abs(to - part.near_m))}", _to(part, r, to)),),
    )


def _straight(
    part: InlineRecord, r: SegmentResult, ends: tuple[float, float], others: list[tuple[float, float]], supply: bool
) -> Iterator[Finding]:
    """A part with less straight duct before or behind it, in air direction, than its catalogue wants."""
    m = there(part.model)
    before, behind = m.before_d * r.section.hydraulic_m, m.behind_d * r.section.hydraulic_m
    wants = (before, behind) if supply else (behind, before)
    low, high = part.near_m - part.length_m / 2, part.near_m + part.length_m / 2
    near = low - max([ends[0], *(b for _, b in others if b <= low + APART_M)])
    far = min([ends[1], *(a for a, _ in others if a >= high - APART_M)]) - high
    has = (near, far) if supply else (far, near)
    if has[0] >= before - APART_M and has[1] >= behind - APART_M:
        return
    to = nearest_place(free_places(ends, others, part.length_m, wants), part.near_m)
    yield Finding(
        "inline-straight",
        "Ducts",
        "inline",
        part.part_id,
        f"{part.tag} lacks straight duct",
        f"It wants {amount('duct_size', before)} before and {amount('duct_size', behind)} behind it and has "
        f"{amount('duct_size', max(has[0], 0.0))} and {amount('duct_size', max(has[1], 0.0))}; its loss stands as in "
        "the catalogue.",
        "watch",
        () if to is None else (Mend(f"Move it by {amount('length', abs(to - part.near_m))}", _to(part, r, to)),),
    )


def _to(part: InlineRecord, r: SegmentResult, near_m: float) -> MoveInline:
    share = near_m / max(r.length_m, 1e-9)
    return MoveInline(part.part_id, share if part.from_a else 1 - share)
