"""Climate: design days, sun and sky of the place."""

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.fabric.ground import ground_months
from garnetfin.core.psychro import properties as air
from garnetfin.core.sun import FaceSun, clear_sky, face_sun, hourly, sun_days
from garnetfin.core.weather.design_day import design_days
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import site_figures
from garnetfin.engine.results import Climate, Missing
from garnetfin.project.site import Site

COMPASS = tuple(range(0, 360, 45))
OUTER_FILM, EMITTANCE, SKY_LOSS_W_M2 = 25.0, 0.9, 63.0


def climate(site: Site | None, memo: Memo) -> Climate | Missing:
    if site is None:
        return Missing("no place", "Give a place with its design conditions")
    return memo.one("climate", key(site), lambda: _compute(site, memo))


def _compute(site: Site, memo: Memo) -> Climate:
    figures = site_figures(site)
    pressure = float(air.pressure_at(site.altitude_m))
    tau_b, tau_d = figures.column("tau_b")[:, None], figures.column("tau_d")[:, None]
    days = design_days(
        figures.column("dry_bulb_c"),
        figures.column("wet_bulb_c"),
        figures.column("range_k"),
        figures.column("wet_range_k"),
        pressure,
    )
    # The sun's way depends on the place alone, and costs most: it outlives edits of the weather.
    sun = memo.one(
        "sun",
        key(site.latitude_deg, site.longitude_deg, site.utc_offset_h),
        lambda: sun_days(site.latitude_deg, site.longitude_deg, site.utc_offset_h),
    )
    beam, diffuse = clear_sky(sun.e0_w_m2[:, None], sun.elevation, tau_b, tau_d)

    @lru_cache(maxsize=256)
    def face(azimuth_deg: float, tilt_deg: float) -> FaceSun:
        return face_sun(sun, beam, diffuse, [azimuth_deg], [tilt_deg], figures.ground_reflectance.figure)

    @lru_cache(maxsize=512)
    def behind(azimuth_deg: float, tilt_deg: float, absorptance: float) -> NDArray[Any]:
        sky = SKY_LOSS_W_M2 * max(0.0, float(np.cos(np.radians(tilt_deg))))
        found = face(azimuth_deg, tilt_deg)
        return days.dry_bulb_c + (absorptance * hourly((found.beam + found.diffuse)[0]) - EMITTANCE * sky) / OUTER_FILM

    means = days.dry_bulb_c.mean(axis=1)
    ground = ground_months(figures.annual_mean_c.figure, means)
    compass = {a: hourly((face(float(a), 90.0).beam + face(float(a), 90.0).diffuse)[0]) for a in COMPASS}
    return Climate(
        figures,
        days,
        sun,
        beam,
        diffuse,
        pressure,
        air.standard_density(pressure),
        float(air.humidity_ratio(figures.winter_c.figure, figures.winter_humidity.figure, pressure)),
        compass,
        face,
        behind,
        np.repeat(ground[:, None], 24, axis=1),
    )
