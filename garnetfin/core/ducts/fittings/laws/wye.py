"""A branch that leaves at an angle: what it keeps of the whole flow's velocity counts.

The printed step at 0.8 of the whole flow's velocity is blended over a tenth, so that losses stay continuous.
Source: Idelchik, Handbook of Hydraulic Resistance, sect. 7.
"""

import numpy as np

from garnetfin.core.ducts.fittings.laws.law import Figures, LegLaw, cosine, register, within

STEP, BLEND = 0.75, 0.10
STILL = 1e-6  # of the whole velocity; below it the angle does not show in k


def _factor(speed: Figures) -> Figures:
    return 1.0 - 0.1 * within((speed - STEP) / BLEND, 0.0, 1.0)


def _k(share: Figures, area: Figures, angle_deg: Figures) -> Figures:
    speed = share / area
    return _factor(speed) * (1 + speed**2 - 2 * speed * cosine(angle_deg))


def _angle(k: float, share: float, area: float) -> float | None:
    speed = share / area
    if speed <= STILL:
        return None
    return float(np.degrees(np.arccos(np.clip((1 + speed * speed - k / _factor(speed)) / (2 * speed), -1, 1))))


register(LegLaw("wye", _k, lambda at: (at["qb_qc"], at["ab_ac"], at["angle_deg"]), _angle))
