"""Branches whose corner is eased: conical taps, shoes. Their tables go by branch velocity over whole velocity.

Source: the rows of the catalogue; the pieces were measured, no formula is printed.
"""

from garnetfin.core.ducts.fittings.laws.law import LegLaw, register
from garnetfin.core.ducts.fittings.tables import look_up


def _by_speed(fitting: str) -> LegLaw:
    return LegLaw(
        fitting, lambda share, area, _: look_up(fitting, "k", share / area), lambda at: (at["vb_vc"], 1.0, 0.0)
    )


register(*(_by_speed(i) for i in ("takeoff-conical", "takeoff-shoe-45", "tee-div-90-conical", "wye-div-45-conical")))
