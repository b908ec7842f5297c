"""Climate: design days, sun and sky of the place."""

from functools import lru_cache

import numpy as np

from garnetfin.core.psychro import properties as air
from garnetfin.core.sun import FaceSun, clear_sky, face_sun, hourly, sun_days
from garnetfin.core.weather.design_day import design_days
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import site_figures
from garnetfin.engine.results import Climate, Missing
from garnetfin.project.site import Site

COMPASS = tuple(range(0, 360, 45))


def climate(site: Site | None, memo: Memo) -> Climate | Missing:
    if site is None:
        return Missing("no place", "Give a place with its design conditions")
    if not site.months:
        return Missing("no weather", "Give the twelve months' design conditions")
    return memo.one("climate", key(site), lambda: _compute(site, memo))


def _compute(site: Site, memo: Memo) -> Climate:
    figures = site_figures(site)
    pressure = float(air.pressure_at(site.altitude_m))
    columns = {name: np.array([getattr(m, name) for m in site.months]) for name in site.months[0].__struct_fields__}
    days = design_days(columns["dry_bulb_c"], columns["wet_bulb_c"], columns["range_k"], columns["wet_range_k"],
                       pressure)
    # The sun's way depends on the place alone, and costs most: it outlives edits of the weather.
    sun = memo.one("sun", key(site.latitude_deg, site.longitude_deg, site.utc_offset_h),
                   lambda: sun_days(site.latitude_deg, site.longitude_deg, site.utc_offset_h))
    beam, diffuse = clear_sky(sun.e0_w_m2[:, None], sun.elevation, columns["tau_b"][:, None], columns["tau_d"][:, None])

    @lru_cache(maxsize=256)
    def face(azimuth_deg: float, tilt_deg: float) -> FaceSun:
        return face_sun(sun, beam, diffuse, [azimuth_deg], [tilt_deg], figures.ground_reflectance.figure)

    compass = {a: hourly((face(float(a), 90.0).beam + face(float(a), 90.0).diffuse)[0]) for a in COMPASS}
    return Climate(figures, days, sun, beam, diffuse, pressure, 1.2 * pressure / 101325.0,
                   float(air.humidity_ratio(figures.winter_c.figure, figures.winter_humidity.figure, pressure)),
                   compass, face)
