"""Invented design conditions of Tern Point: twelve months from a handful of numbers, no measured weather.

Dry bulb follows one yearly wave between a winter and a summer value, a third of a month behind the sun; the daily
range grows with it. The coincident wet bulb lies below it by a share of the
temperature. The sky is clearest in winter. Every figure is rounded as a station would print it.
"""

import math

import numpy as np

from garnetfin.core.sun import clear_sky, hourly, sun_days
from garnetfin.core.weather.hourly import MONTH_OF_HOUR, Year
from garnetfin.project.site import MonthConditions, Site
from garnetfin.project.values import Imported, Pinned

SUMMER_C, WINTER_MONTH_C = 31.8, 9.5
SUMMER_WET_C, WINTER_WET_C = 22.4, 7.6
RANGE_SUMMER_K, RANGE_WINTER_K = 10.4, 5.2
WINTER_DESIGN_C, ANNUAL_MEAN_C = -8.0, 11.1


def _wave(month: int) -> float:
    """0 in January to 1 in July, a third of a month late."""
    phase = 2 * math.pi * (month - 0.35) / 12
    return (1 - math.cos(phase)) / 2


def months() -> tuple[MonthConditions, ...]:
    raw = [_wave(m) for m in range(12)]
    low, high = min(raw), max(raw)

    def given(value: float, digits: int) -> Imported:
        return Imported(value=round(value, digits), source="invented weather of the demo")

    made = []
    for value in raw:
        w = (value - low) / (high - low)
        made.append(
            MonthConditions(
                dry_bulb_c=given(WINTER_MONTH_C + (SUMMER_C - WINTER_MONTH_C) * w, 1),
                wet_bulb_c=given(WINTER_WET_C + (SUMMER_WET_C - WINTER_WET_C) * w, 1),
                range_k=given(RANGE_WINTER_K + (RANGE_SUMMER_K - RANGE_WINTER_K) * w, 1),
                wet_range_k=given(2.4 + 1.8 * w, 1),
                tau_b=given(0.32 + 0.11 * w, 3),
                tau_d=given(2.56 - 0.30 * w, 3),
            )
        )
    return tuple(made)


def site() -> Site:
    return Site(
        name="Tern Point",
        latitude_deg=46.2,
        longitude_deg=0.0,
        altitude_m=9.0,
        utc_offset_h=0.0,
        months=months(),
        winter_c=Pinned(value=WINTER_DESIGN_C, note="agreed with the client"),
        annual_mean_c=Imported(value=ANNUAL_MEAN_C, source="invented weather of the demo"),
        note="An invented coast; no place has this weather.",
    )


def hours() -> Year:
    """An invented year of hours that goes with the months: cloudy and clear spells, warm and cold ones, from a fixed
    seed.
    """
    rng = np.random.default_rng(1946)

    def spells(width: float) -> np.ndarray:
        """Smooth noise of about a week, 365 days."""
        return np.convolve(rng.normal(0, width, 371), np.ones(7) / 7, "valid") * 2.6

    given = months()
    sun = sun_days(46.2, 0.0, 0.0)
    tau_b, tau_d = (np.array([getattr(m, name).value for m in given])[:, None] for name in ("tau_b", "tau_d"))
    beam, diffuse = (hourly(x) for x in clear_sky(sun.e0_w_m2[:, None], sun.elevation, tau_b, tau_d))
    month = MONTH_OF_HOUR.reshape(-1, 24)[:, 0]
    cloud = np.clip(0.45 + spells(0.35), 0.0, 1.0)
    day, hour = np.arange(365), np.arange(24) + 0.5
    mean = ANNUAL_MEAN_C - 9.2 * np.cos(2 * np.pi * (day - 26) / 365) + spells(2.7) + 1.6 * (0.5 - cloud)
    swing = (1.6 + 3.4 * (1 - cloud)) * np.where(np.cos(2 * np.pi * (day - 26) / 365) < 0, 1.0, 0.7)
    dry = mean[:, None] + swing[:, None] * np.cos(2 * np.pi * (hour - 15) / 24)
    dew = np.minimum(dry, (mean - 2.6 - 1.5 * (1 - cloud))[:, None] + 0.1 * (dry - mean[:, None]))
    clear = (1 - cloud)[:, None]
    wind = np.maximum(0.3, 4.2 + spells(1.2))[:, None] + 0.9 * np.sin(2 * np.pi * (hour - 9) / 24)
    return Year(
        dry.ravel(),
        dew.ravel(),
        np.full(8760, 101_200.0),
        (beam[month] * clear**1.6).ravel(),
        (diffuse[month] * (1 + 0.9 * (1 - clear)) * (1 - 0.4 * (1 - clear) ** 3)).ravel(),
        np.maximum(wind, 0.2).ravel(),
    )
