"""Transitions: coefficients on the velocity in the smaller section.

Source: rows of the catalogue (Idelchik, sect. 5).
"""

from functools import lru_cache

from garnetfin.core.ducts.fittings.catalogue import coefficient
from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.ducts.sizes import Section

CONVERGING_DEG = 30.0
DIVERGING_DEG = 25.0
FLAT_DEG = 20.0


@lru_cache(maxsize=4096)
def transition(
    entering: Section, leaving: Section, flat_side: bool = False, fitting: str = ""
) -> tuple[str, float] | None:
    """(fitting id, k on the smaller section) between two sections in air direction; None when they are equal.

    flat_side   one side of a rectangular duct runs through straight
    """
    if entering == leaving:
        return None
    ratio = leaving.area_m2 / entering.area_m2
    if fitting:
        return fitting, coefficient(fitting, area_ratio=max(ratio, 1 / ratio))
    if ratio <= 1:
        return "trans-converging", float(look_up("trans-converging", "k", 1 / ratio, CONVERGING_DEG))
    if flat_side and entering.shape == leaving.shape == "rectangular":
        return "trans-one-side-flat", float(look_up("trans-one-side-flat", "k", ratio, FLAT_DEG))
    if entering.shape == leaving.shape == "round":
        name = "trans-round-diverging"
    elif entering.shape == leaving.shape:
        name = "trans-rect-diverging"
    else:
        name = "trans-round-rect-diverging"
    return name, float(look_up(name, "k", ratio, DIVERGING_DEG))
