"""Invented design conditions of Tern Point: twelve months from a handful of numbers, no measured weather.

Dry bulb follows one yearly wave between a winter and a summer value, a third of a month behind the sun; the daily
range grows with it. The coincident wet bulb lies below it by a share of the
temperature. The sky is clearest in winter. Every figure is rounded as a station would print it.
"""

import math

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
        made.append(MonthConditions(
            dry_bulb_c=given(WINTER_MONTH_C + (SUMMER_C - WINTER_MONTH_C) * w, 1),
            wet_bulb_c=given(WINTER_WET_C + (SUMMER_WET_C - WINTER_WET_C) * w, 1),
            range_k=given(RANGE_WINTER_K + (RANGE_SUMMER_K - RANGE_WINTER_K) * w, 1), wet_range_k=given(2.4 + 1.8 * w, 1),
            tau_b=given(0.32 + 0.11 * w, 3), tau_d=given(2.56 - 0.30 * w, 3)))
    return tuple(made)


def site() -> Site:
    return Site(name="Tern Point", latitude_deg=46.2, longitude_deg=0.0, altitude_m=9.0, utc_offset_h=0.0,
                months=months(), winter_c=Pinned(value=WINTER_DESIGN_C, note="agreed with the client"),
                annual_mean_c=Imported(value=ANNUAL_MEAN_C, source="invented weather of the demo"),
                note="An invented coast; no place has this weather.")
