"""Parts that stand in ducts of given sizes: which model each is, and what it loses at the flow there."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts import inline as core
from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.equipment import catalogues
from garnetfin.engine.results import INLINE_LOSS, FittingLoss, InlineRecord
from garnetfin.engine.stages.duct_flows import Carried
from garnetfin.project.book import Book
from garnetfin.project.ducts import Segment
from garnetfin.project.inline import Inline
from garnetfin.project.lookup import Same
from garnetfin.project.values import Rule

TAGS = {
    "fire damper": "FD",
    "smoke damper": "SD",
    "volume damper": "VD",
    "attenuator": "AT",
    "heater": "DH",
    "filter": "DF",
    "measuring cross": "MC",
    "flexible connector": "FX",
    "access door": "AD",
    "own part": "P",
}

Standing = dict[int, tuple[InlineRecord, ...]]  # by place of the duct, those with parts alone


def shelf(book: Book) -> core.Shelf:
    """The catalogue in force: rows of the office's own before those that ship."""
    return _shelf(Same(catalogues.rows(book, "inline")))


@lru_cache(maxsize=8)
def _shelf(rows: Same) -> core.Shelf:
    return core.Shelf(rows.item)


def model_names(book: Book, kind: str, there: InlineRecord | None) -> list[str]:
    """Models of a kind to choose from: where one stands, those of its shape, the ones that are not smaller first."""
    models = shelf(book).of_kind(kind)
    own = there.model if there is not None else None
    if own is None or own.shape == "any":
        return [m.model for m in models]
    alike = [m for m in models if m.shape == own.shape]
    return [m.model for m in sorted(alike, key=lambda m: m.width_m < own.width_m or m.height_m < own.height_m)]


def tag_of(part: Inline) -> str:
    """As typed; by rule its kind and the number of its id, which no edit of others changes."""
    return part.tag or f"{TAGS[part.kind]}-{''.join(c for c in part.id if c.isdigit()) or part.id}"


def standing(on: Carried, sections: Sequence[Section]) -> Standing:
    """All parts in ducts, those of each in the order in which it is drawn from the unit on."""
    found: Standing = {}
    known = shelf(on.book)
    for i, s in enumerate(on.at.segments):
        if s.inline:
            made = [_record(on, i, s, part, sections[i], known) for part in s.inline]
            found[i] = tuple(sorted(made, key=lambda r: (r.near_m, r.part_id)))
    return found


def losses_of(parts: Sequence[InlineRecord], velocity_pa: float) -> tuple[FittingLoss, ...]:
    """What parts of a duct lose, as they are booked among its fittings; doors and what has no model lose nothing."""
    return tuple(
        FittingLoss(
            p.kind,
            p.pressure_pa / max(velocity_pa, 1e-9),
            INLINE_LOSS,
            p.pressure_pa,
            part_id=p.part_id,
            exponent=p.exponent,
        )
        for p in parts
        if p.pressure_pa > 0
    )


def taken_m(found: Standing, count: int) -> NDArray[np.float64]:
    """Length of each duct that parts take (segments,) [m]."""
    taken = np.zeros(count)
    for i, parts in found.items():
        taken[i] = sum(p.length_m for p in parts)
    return taken


def _record(on: Carried, i: int, segment: Segment, part: Inline, duct: Section, known: core.Shelf) -> InlineRecord:
    flow = float(on.flow_m3s[i])
    chosen, refused, refusal = _model(part, duct, flow, known)
    whole = float(on.at.length_m[i])
    from_a = int(on.at.tree.entering[i]) == int(on.at.ends[i][0])
    section = duct if chosen is None or chosen.shape == "any" else core.section_of(chosen)
    loss, between = _loss(on, part, chosen, flow, duct, section)
    length = part.length_m.value if not isinstance(part.length_m, Rule) else chosen.length_m if chosen else 0.0
    return InlineRecord(
        part_id=part.id,
        tag=tag_of(part),
        kind=part.kind,
        segment_id=segment.id,
        model=chosen,
        pinned=bool(part.model),
        refusal=refusal,
        refused=refused,
        section=section,
        near_m=(part.at if from_a else 1 - part.at) * whole,
        length_m=length,
        flow_m3s=flow,
        velocity_m_s=flow / section.area_m2,
        own_pa=loss.pressure_pa,
        adapters_pa=between,
        exponent=loss.exponent,
        beyond=loss.beyond,
        typed=not (isinstance(part.k, Rule) and isinstance(part.rated_pa, Rule)),
        fire_min=part.fire_min,
        smoke=part.smoke,
        from_a=from_a,
    )


def _model(part: Inline, duct: Section, flow_m3s: float, known: core.Shelf) -> tuple[Any, dict[str, str], str]:
    """(model, why others were not taken, what the fixed one breaks or why there is none)."""
    if part.model:
        fixed = known.by_name.get(part.model)
        if fixed is None or fixed.kind != part.kind:
            return None, {}, "unknown"
        return fixed, {}, core.judged(fixed, duct, flow_m3s, part.fire_min, part.smoke)
    found = known.choose(part.kind, duct, flow_m3s, part.fire_min, part.smoke)
    return found.model, found.refused, "" if found.model is not None else "none"


def _loss(
    on: Carried, part: Inline, chosen: Any, flow_m3s: float, duct: Section, section: Section
) -> tuple[core.Loss, float]:
    """(what it loses by itself, what transitions on either side of it lose [Pa])."""
    density, viscosity = on.air.density_kg_m3, on.air.viscosity_pa_s
    between = core.adapters(duct, section, flow_m3s, density) if flow_m3s > 0 else 0.0
    if not isinstance(part.k, Rule):
        return core.k_loss(part.k.value, duct.area_m2, flow_m3s, density), between
    if not isinstance(part.rated_pa, Rule):
        at = flow_m3s if isinstance(part.rated_m3s, Rule) else part.rated_m3s.value
        if flow_m3s <= 0 or at <= 0:
            return core.Loss(0.0, 2.0), 0.0
        exponent = core.USUAL_EXPONENT.get(part.kind, 2.0)
        if isinstance(part.rated_m3s, Rule):  # typed at the flow and in the air that is there
            return core.Loss(part.rated_pa.value, exponent), between
        return core.power_loss(part.rated_pa.value, at, exponent, flow_m3s, (density, viscosity)), between
    if chosen is None:
        return core.Loss(0.0, 2.0), 0.0
    angle = 0.0 if isinstance(part.angle_deg, Rule) else part.angle_deg.value
    return core.model_loss(chosen, flow_m3s, (density, viscosity), angle), between
