"""Design days: the day of each month against which rooms are sized.

Source: ASHRAE Handbook Fundamentals, climatic design information, for the shape of the day.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air

# Share of the daily range below the maximum for hours 0..23. ASHRAE Handbook Fundamentals ch. 14 (verify edition).
RANGE_SHARE = np.array(
    [
        0.88,
        0.92,
        0.95,
        0.98,
        1,
        0.98,
        0.91,
        0.74,
        0.55,
        0.38,
        0.23,
        0.13,
        0.05,
        0,
        0,
        0.06,
        0.14,
        0.24,
        0.39,
        0.50,
        0.59,
        0.68,
        0.75,
        0.82,
    ]
)


@dataclass(frozen=True, slots=True, eq=False)
class DesignDays:
    """Hour means of the twelve design days, arrays (12, 24): degC, degC, kg/kg."""

    dry_bulb_c: NDArray[np.float64]
    wet_bulb_c: NDArray[np.float64]
    humidity_ratio: NDArray[np.float64]


def design_days(
    dry_bulb_c: ArrayLike, wet_bulb_c: ArrayLike, range_k: ArrayLike, wet_range_k: ArrayLike, pressure_pa: float
) -> DesignDays:
    """Twelve days from each month's maximum dry bulb, coincident wet bulb and their daily ranges, all (12,).

    Raises InputError for figures that are not finite, or ranges below 0.
    """
    db, wb, dr, wr = (np.asarray(x, float) for x in (dry_bulb_c, wet_bulb_c, range_k, wet_range_k))
    if not (np.all(np.isfinite(db + wb)) and np.all(dr >= 0) and np.all(wr >= 0)):
        raise InputError("Design days need finite temperatures and ranges of 0 K or more")
    dry = db[:, None] - dr[:, None] * RANGE_SHARE
    wet = np.minimum(wb[:, None] - wr[:, None] * RANGE_SHARE, dry)
    return DesignDays(dry, wet, air.ratio_from_wet_bulb(dry, wet, pressure_pa))
