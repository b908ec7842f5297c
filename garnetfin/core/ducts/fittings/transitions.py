"""Transitions: coefficients on the velocity in the smaller section."""

from functools import lru_cache

from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.ducts.sizes import Section

CONVERGING_DEG = 30.0
DIVERGING_DEG = 25.0


@lru_cache(maxsize=4096)
def transition(entering: Section, leaving: Section) -> tuple[str, float] | None:
    """(fitting id, k on the smaller section) between two sections in air direction; None when they are equal."""
    if entering == leaving:
        return None
    ratio = leaving.area_m2 / entering.area_m2
    if ratio <= 1:
        return "trans-converging", float(look_up("trans-converging", "k", 1 / ratio, CONVERGING_DEG))
    if entering.shape == leaving.shape == "round":
        name = "trans-round-diverging"
    elif entering.shape == leaving.shape:
        name = "trans-rect-diverging"
    else:
        name = "trans-round-rect-diverging"
    return name, float(look_up(name, "k", ratio, DIVERGING_DEG))
