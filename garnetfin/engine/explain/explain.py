"""Why? The derivation of a figure, made when it is asked for: an equation with its numbers, and what each of them rests
on.

An address names a figure: ("room", id, "cooling", month, hour) and the like. Each part of a derivation has an
address of its
own, down to what was typed, an entry of the office standards, or a source.
"""

from garnetfin.engine.explain.air import AIR_KINDS
from garnetfin.engine.explain.building import BUILDING_KINDS
from garnetfin.engine.explain.derivation import Address, NotThere, Why, among
from garnetfin.engine.explain.ducts import DUCT_KINDS
from garnetfin.engine.explain.equipment import EQUIPMENT_KINDS
from garnetfin.engine.explain.faces import behind_why, face_why, u_why, window_why
from garnetfin.engine.explain.figures import FIGURE_KINDS
from garnetfin.engine.explain.inline import INLINE_KINDS
from garnetfin.engine.explain.inputs import book_why, input_why, month_why, outdoor_why, profile_why, site_why
from garnetfin.engine.explain.lists import LIST_KINDS
from garnetfin.engine.explain.loads import cause_why, heating_cause_why, room_why
from garnetfin.engine.explain.together import block_cause_why, block_heating_why, block_why
from garnetfin.engine.explain.unit import UNIT_KINDS
from garnetfin.engine.results import Results


def explain(results: Results, address: Address) -> Why | None:
    """The derivation of a figure of these results, or None for one that is not (or no longer) there."""
    kind, *rest = address
    try:
        return among(_KINDS, kind)(results, *rest)
    except NotThere:
        return None


_KINDS = {
    "room": room_why,
    "cause": cause_why,
    "face": face_why,
    "behind": behind_why,
    "window": window_why,
    "u": u_why,
    "heating": heating_cause_why,
    "input": input_why,
    "profile": profile_why,
    "block": block_why,
    "block cause": block_cause_why,
    "block heating": block_heating_why,
    "outdoor": outdoor_why,
    "month": month_why,
    "site": site_why,
    "book": book_why,
    **AIR_KINDS,
    **DUCT_KINDS,
    **FIGURE_KINDS,
    **BUILDING_KINDS,
    **UNIT_KINDS,
    **LIST_KINDS,
    **EQUIPMENT_KINDS,
    **INLINE_KINDS,
}
