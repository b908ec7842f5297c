"""Design conditions from a year of hours: quantiles, coincident wet bulb, daily range, clearness of the sky.

Source: ISO 15927-5 and the ASHRAE Handbook, climatic design information, for what is counted.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.psychro import properties as air
from garnetfin.core.sun import SunDays, clear_sky, hourly
from garnetfin.core.weather.hourly import MONTH_OF_HOUR, Year, complete, usable

SUMMER = (0.4, 1.0, 2.0)  # % of hours that may be hotter
WINTER = (99.6, 99.0)  # % of hours that are warmer
NEAR_K, NEAREST = 0.5, 8
CLEAREST_DAYS = 3


@dataclass(frozen=True, slots=True, eq=False)
class Statistics:
    """What a year says; months first: dry_c, wet_c (12, 3) in the order of SUMMER, the rest (12,).

    winter_c (2,) in the order of WINTER.
    """

    dry_c: NDArray[np.float64]
    wet_c: NDArray[np.float64]
    range_k: NDArray[np.float64]
    wet_range_k: NDArray[np.float64]
    tau_b: NDArray[np.float64]
    tau_d: NDArray[np.float64]
    mean_c: NDArray[np.float64]
    wind_m_s: NDArray[np.float64]
    winter_c: NDArray[np.float64]
    greatest_c: float
    least_c: float


def quantile(values: NDArray[Any], share: float) -> float:
    """Linear between the sorted values at (n - 1) share."""
    values = values[np.isfinite(values)]
    return float(np.quantile(values, share))


def coincident(dry: NDArray[Any], wet: NDArray[Any], at: float) -> float:
    """Mean wet bulb [degC] of the hours within half a kelvin of a dry bulb; with fewer than 5 such hours the 8
    nearest.
    """
    near = np.abs(dry - at) <= NEAR_K
    if near.sum() < 5:
        near = np.argsort(np.abs(dry - at))[:NEAREST]
    return float(np.mean(wet[near]))


def wet_bulb(year: Year) -> NDArray[np.float64]:
    """Wet bulb of every hour (8760,) [degC] of a complete year."""
    ratio = air.saturation_ratio(np.minimum(year.dew_c, year.dry_c), year.pressure_pa)
    return air.wet_bulb(year.dry_c, ratio, year.pressure_pa)


def statistics(year: Year, sun: SunDays) -> Statistics:
    """Raises InputError with fewer than 8,700 valid hours.

    One typical year understates rare extremes; see the report.
    """
    full = complete(usable(year))
    wet = wet_bulb(full)
    dry = full.dry_c
    months = [m == MONTH_OF_HOUR for m in range(12)]
    hot = np.array([[quantile(dry[m], 1 - p / 100) for p in SUMMER] for m in months])
    together = np.array([[coincident(dry[m], wet[m], hot[k, i]) for i in range(3)] for k, m in enumerate(months)])
    days, wet_days = dry.reshape(-1, 24), wet.reshape(-1, 24)
    day_month = MONTH_OF_HOUR.reshape(-1, 24)[:, 0]
    ranges, wet_ranges = np.empty(12), np.empty(12)
    for k in range(12):
        own = day_month == k
        warm = own & (days.max(axis=1) >= quantile(dry[months[k]], 0.95))
        ranges[k] = np.ptp(days[warm], axis=1).mean()
        wet_ranges[k] = np.ptp(wet_days[warm], axis=1).mean()
    taus = np.array([_fit_sky(full, sun, k) for k in range(12)])
    return Statistics(
        hot,
        np.minimum(together, hot),
        ranges,
        wet_ranges,
        taus[:, 0],
        taus[:, 1],
        np.array([dry[m].mean() for m in months]),
        np.array([full.wind_m_s[m].mean() for m in months]),
        np.array([quantile(dry, 1 - p / 100) for p in WINTER]),
        float(dry.max()),
        float(dry.min()),
    )


def _fit_sky(year: Year, sun: SunDays, month: int) -> tuple[float, float]:
    """(tau_b, tau_d) whose clear sky comes nearest to the month's three clearest days."""
    from scipy.optimize import least_squares

    own = np.flatnonzero(month == MONTH_OF_HOUR)
    beam, diffuse = year.beam_w_m2[own].reshape(-1, 24), year.diffuse_w_m2[own].reshape(-1, 24)
    if beam.max() < 50:
        return 0.4, 2.3
    best = np.argsort(beam.sum(axis=1))[-CLEAREST_DAYS:]
    elevation, e0 = sun.elevation[month], sun.e0_w_m2[month]
    usable_hours = hourly(np.degrees(elevation)) > 5

    def off(taus: NDArray[Any]) -> NDArray[Any]:
        eb, ed = clear_sky(e0, elevation, taus[0], taus[1])
        return np.concatenate(
            [
                (hourly(eb)[usable_hours] - beam[best].mean(axis=0)[usable_hours]),
                (hourly(ed)[usable_hours] - diffuse[best].mean(axis=0)[usable_hours]),
            ]
        )

    found = least_squares(off, (0.4, 2.3), bounds=((0.1, 1.3), (1.2, 3.6)), xtol=1e-10, ftol=1e-10)
    return float(found.x[0]), float(found.x[1])
