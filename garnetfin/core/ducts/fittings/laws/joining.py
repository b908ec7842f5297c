"""Branches that join: a fast whole draws them along, so k may be below 0.

Source: Idelchik, Handbook of Hydraulic Resistance, sect. 7.
"""

import numpy as np

from garnetfin.core.ducts.fittings.laws.law import Figures, LegLaw, cosine, register, where, within

SMALL = 0.35  # of the whole's area; a branch up to it has the full coefficient
LEAST_DEG, MOST_DEG = 30.0, 60.0  # what the wye's formula is printed for
STILL = 1e-6


def _factor(share: Figures, area: Figures) -> Figures:
    falling = 0.9 * (1 - share)
    return where(
        area <= SMALL, 1.0, np.maximum(0.55, falling) if isinstance(falling, np.ndarray) else max(0.55, falling)
    )


def _k(share: Figures, area: Figures, cos_angle: Figures) -> Figures:
    return _factor(share, area) * (1 + (share / area) ** 2 - 2 * (1 - share) ** 2 - 2 * share**2 / area * cos_angle)


def _wye(share: Figures, area: Figures, angle_deg: Figures) -> Figures:
    return _k(share, area, cosine(within(angle_deg, LEAST_DEG, MOST_DEG)))


def _angle(k: float, share: float, area: float) -> float | None:
    if share <= STILL:
        return None
    factor, speed = _factor(share, area), share / area
    drawn = (factor * (1 + speed * speed - 2 * (1 - share) ** 2) - k) / (factor * 2 * share**2 / area)
    return float(np.degrees(np.arccos(np.clip(drawn, -1, 1))))


def _head_on(share: Figures, area: Figures, _: Figures) -> Figures:
    return 1 + 1 / area**2 + 3 / area**2 * (share**2 - share)


register(
    LegLaw("joining square", lambda share, area, _: _k(share, area, 0.0), lambda at: (at["qb_qc"], at["ab_ac"], 0.0)),
    LegLaw("joining wye", _wye, lambda at: (at["qb_qc"], at["ab_ac"], at["angle_deg"]), _angle),
    LegLaw("joining head on", _head_on, lambda at: (at["qb_qc"], at["ab_ac"], 0.0)),
)
