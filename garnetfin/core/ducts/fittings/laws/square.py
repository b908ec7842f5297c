"""Legs that take their flow square off the whole: tees, crosses, straight take-offs, bullheads.

k = 1 + part * (branch velocity / whole velocity)^2; the part is the row's own: 1 for a sharp corner, less for a full
radius or a bullhead. Source: Idelchik, Handbook of Hydraulic Resistance, sect. 7.
"""

from garnetfin.core.ducts.fittings.laws.law import LegLaw, register

register(
    LegLaw(
        "square",
        lambda share, area, part: 1 + part * (share / area) ** 2,
        lambda at: (at["qb_qc"], at["ab_ac"], at.get("part", 1.0)),
    )
)
