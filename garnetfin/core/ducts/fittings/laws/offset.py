"""Offsets: two bends one after the other.

Source: rows of the catalogue (Idelchik, sect. 6), two bends without what they spare each other.
"""

from garnetfin.core.ducts.fittings.laws.law import Law, register
from garnetfin.core.ducts.fittings.tables import look_up

register(
    Law(
        "two smooth bends",
        lambda at: (
            2
            * float(
                look_up("offset-round-smooth", "k", at["r_over_d"])
                * look_up("offset-round-smooth", "angle", at["angle_deg"])
            )
        ),
    ),
    Law(
        "two radius bends",
        lambda at: (
            2
            * float(
                look_up("offset-rect-radius", "k", at["r_over_w"], at["h_over_w"])
                * look_up("offset-rect-radius", "angle", at["angle_deg"])
            )
        ),
    ),
)
