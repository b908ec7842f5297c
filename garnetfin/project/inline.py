"""Parts that stand in the run of a duct, where they stand and what is fixed of them; the rest is chosen by rule."""

from functools import lru_cache
from typing import Any, Literal

from msgspec import structs

from garnetfin.core.equipment.catalogue import INLINE_KINDS
from garnetfin.core.errors import InputError
from garnetfin.project.lookup import Same, find
from garnetfin.project.values import FIRE_MIN, Node, Rule, Value, value_within, within

OWN = "own part"
KINDS = (*INLINE_KINDS, OWN)
MOST_IN_ONE = 50


class Inline(Node, frozen=True):
    """A part in a duct.

    at          place of its middle as a share of the drawn duct from its first end
    model       "" = the smallest of the catalogue that serves
    angle_deg   blade of a volume damper, 0 open
    k           on the velocity of the duct, in place of the catalogue's
    rated_pa    loss at rated_m3s, in place of the catalogue's; by rule the flow is that of the duct
    fire_min    what it has to resist; smoke: it has to shut for smoke too
    """

    id: str
    kind: Literal[
        "fire damper",
        "smoke damper",
        "volume damper",
        "attenuator",
        "heater",
        "filter",
        "measuring cross",
        "flexible connector",
        "access door",
        "own part",
    ]
    at: float = 0.5
    model: str = ""
    tag: str = ""
    angle_deg: Value = Rule()
    k: Value = Rule()
    rated_pa: Value = Rule()
    rated_m3s: Value = Rule()
    length_m: Value = Rule()
    fire_min: int = 0
    smoke: bool = False

    def __post_init__(self) -> None:
        where = f"{self.kind} {self.tag or self.id}"
        if self.kind not in KINDS:
            raise InputError(
                f"No part of a duct is a “{self.kind}”", where=where, remedy="Take one of: " + ", ".join(KINDS)
            )
        within(self.at, 0, 1, "Its place along the duct", where)
        value_within(self.angle_deg, 0, 85, "Blade angle", where, "°")
        value_within(self.k, 0, 1000, "Its coefficient", where)
        value_within(self.rated_pa, 0, 5000, "Its loss", where, "Pa")
        value_within(self.rated_m3s, 0.001, 1000, "The flow of its loss", where, "m³/s")
        value_within(self.length_m, 0, 10, "Its length", where, "m")
        if not isinstance(self.k, Rule) and not isinstance(self.rated_pa, Rule):
            raise InputError(
                "Its loss is typed as a coefficient and as a pressure", where=where, remedy="Leave one of them by rule"
            )
        if self.fire_min not in FIRE_MIN:
            raise InputError(
                f"{self.fire_min} minutes are no class",
                where=where,
                remedy="Take one of: " + ", ".join(str(m) for m in FIRE_MIN),
            )


def inline_places(segments: tuple[Any, ...]) -> dict[str, tuple[str, int]]:
    """(duct, place in its list) of every part in ducts, by its id."""
    return _places(Same(segments))


@lru_cache(maxsize=16)
def _places(segments: Same) -> dict[str, tuple[str, int]]:
    return {part.id: (s.id, n) for s in segments.item if s.inline for n, part in enumerate(s.inline)}


def inline_part(project: Any, part_id: str) -> tuple[Any, Inline] | None:
    """(the duct it stands in, the part), None where there is no such part."""
    found = inline_places(project.segments).get(part_id)
    if found is None:
        return None
    segment = find(project.segments, found[0])
    return segment, segment.inline[found[1]]


def system_of_part(project: Any, part_id: str) -> str:
    """Id of the air system in whose duct a part stands, "" where there is no such part."""
    found = inline_part(project, part_id)
    return "" if found is None else str(found[0].system_id)


def level_of_part(project: Any, part_id: str) -> str:
    """Id of the level on which the duct of a part begins, "" where there is no such part."""
    found = inline_part(project, part_id)
    return "" if found is None else str(find(project.duct_points, found[0].a).level_id)


def between(parts: tuple[Inline, ...], low: float, high: float) -> tuple[Inline, ...]:
    """Parts whose middles lie in a stretch of their duct (shares), with their places in that stretch."""
    share = max(high - low, 1e-9)
    last = high >= 1
    return tuple(
        structs.replace(p, at=min(max((p.at - low) / share, 0.0), 1.0))
        for p in parts
        if low <= p.at and (p.at < high or last)
    )


def shifted(parts: tuple[Inline, ...], from_m: float, own_m: float, whole_m: float, turned: bool) -> tuple[Inline, ...]:
    """Parts of a duct of own_m that becomes a stretch of a longer one from from_m on; turned: it is read backwards."""
    return tuple(
        structs.replace(p, at=(from_m + (1 - p.at if turned else p.at) * own_m) / max(whole_m, 1e-9)) for p in parts
    )
