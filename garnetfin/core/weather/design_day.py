"""Design days: the day of each month against which rooms are sized."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air

# Share of the daily range below the maximum for hours 0..23. ASHRAE Handbook Fundamentals ch. 14 (verify edition).
RANGE_SHARE = np.array([.88, .92, .95, .98, 1, .98, .91, .74, .55, .38, .23, .13,
                        .05, 0, 0, .06, .14, .24, .39, .50, .59, .68, .75, .82])


@dataclass(frozen=True, slots=True, eq=False)
class DesignDays:
    """Hour means of the twelve design days, arrays (12, 24): degC, degC, kg/kg."""

    dry_bulb_c: NDArray[np.float64]
    wet_bulb_c: NDArray[np.float64]
    humidity_ratio: NDArray[np.float64]


def design_days(dry_bulb_c: ArrayLike, wet_bulb_c: ArrayLike, range_k: ArrayLike, wet_range_k: ArrayLike,
                pressure_pa: float) -> DesignDays:
    """Twelve days from each month's maximum dry bulb, coincident wet bulb and their daily ranges, all (12,)."""
    db, wb, dr, wr = (np.asarray(x, float) for x in (dry_bulb_c, wet_bulb_c, range_k, wet_range_k))
    if not (np.all(np.isfinite(db + wb)) and np.all(dr >= 0) and np.all(wr >= 0)):
        raise InputError("Design days need finite temperatures and ranges of 0 K or more")
    dry = db[:, None] - dr[:, None] * RANGE_SHARE
    wet = np.minimum(wb[:, None] - wr[:, None] * RANGE_SHARE, dry)
    return DesignDays(dry, wet, air.ratio_from_wet_bulb(dry, wet, pressure_pa))
