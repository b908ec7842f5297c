"""Sun: positions through the design days, clear sky, and irradiance on faces.

Angles in radians inside; azimuth from north clockwise, tilt 0 = facing up, 90 deg = wall.
Days are sampled every 5 minutes (12 mid-points an hour) and averaged to hours.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

SAMPLES = 288


@dataclass(frozen=True, slots=True, eq=False)
class SunDays:
    """The 21st of each month: arrays (12, 288), e0_w_m2 (12,)."""

    elevation: NDArray[np.float64]
    azimuth: NDArray[np.float64]
    e0_w_m2: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class FaceSun:
    """Irradiance on faces [W/m2], arrays (faces, 12, 288); cos_incidence is 0 where the sun is behind."""

    beam: NDArray[np.float64]
    diffuse: NDArray[np.float64]
    cos_incidence: NDArray[np.float64]


def hourly(samples: NDArray) -> NDArray[np.float64]:
    """Hour means (..., 24) of five-minute samples (..., 288)."""
    return samples.reshape(*samples.shape[:-1], 24, SAMPLES // 24).mean(axis=-1)


def sun_days(latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> SunDays:
    """Sun positions from pvlib (true elevation, no refraction) for the 21st of every month in standard time."""
    import pandas as pd
    from pvlib import irradiance, solarposition

    minutes = pd.to_timedelta((np.arange(SAMPLES) + 0.5) * (1440 / SAMPLES) - 60 * utc_offset_h, unit="min")
    starts = [pd.Timestamp(year=2021, month=m, day=21) for m in range(1, 13)]
    times = pd.DatetimeIndex(np.concatenate([(s + minutes).values for s in starts])).tz_localize("UTC")
    found = solarposition.get_solarposition(times, latitude_deg, longitude_deg)
    days = np.array([s.day_of_year for s in starts])
    e0 = irradiance.get_extra_radiation(days, method="spencer", solar_constant=1367.0)
    return SunDays(
        np.radians(found["elevation"].to_numpy()).reshape(12, SAMPLES),
        np.radians(found["azimuth"].to_numpy()).reshape(12, SAMPLES),
        np.asarray(e0, float),
    )


def clear_sky(
    e0: ArrayLike, elevation: ArrayLike, tau_b: ArrayLike, tau_d: ArrayLike
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Beam normal and diffuse horizontal irradiance [W/m2] of a clear sky; 0 with the sun down.

    e0 extraterrestrial normal [W/m2]; elevation [rad]; tau_b, tau_d pseudo optical depths (about 0.2..1.1, 1.4..3).
    Source: ASHRAE Handbook Fundamentals ch. 14 (2013 and later); air mass Kasten and Young (1989), Appl. Opt. 28.
    """
    e0, b, tb, td = np.broadcast_arrays(*(np.asarray(x, float) for x in (e0, elevation, tau_b, tau_d)))
    if not np.all((tb > 0) & (td > 0)):
        raise InputError("Sky clearness needs optical depths above 0")
    up = b > 0
    safe = np.where(up, b, 0.5)
    m = 1 / (np.sin(safe) + 0.50572 * (6.07995 + np.degrees(safe)) ** -1.6364)
    ab = 1.454 - 0.406 * tb - 0.268 * td + 0.021 * tb * td
    ad = 0.507 + 0.205 * tb - 0.080 * td - 0.190 * tb * td
    return np.where(up, e0 * np.exp(-tb * m**ab), 0.0), np.where(up, e0 * np.exp(-td * m**ad), 0.0)


def face_sun(
    sun: SunDays,
    beam: NDArray,
    diffuse: NDArray,
    azimuth_deg: ArrayLike,
    tilt_deg: ArrayLike,
    ground_reflectance: float,
) -> FaceSun:
    """Irradiance on faces of given azimuth and tilt (faces,) under beam, diffuse (12, 288) [W/m2].

    Sky light by the ratio Y of vertical to horizontal (ASHRAE Fundamentals ch. 14), ground light isotropic.
    """
    facing = np.radians(np.asarray(azimuth_deg, float))[:, None, None]
    tilt = np.radians(np.asarray(tilt_deg, float))[:, None, None]
    b, a = sun.elevation[None], sun.azimuth[None]
    vertical = np.cos(b) * np.cos(a - facing)
    cosine = np.where(b > 0, np.maximum(0.0, vertical * np.sin(tilt) + np.sin(b) * np.cos(tilt)), 0.0)
    y = np.maximum(0.45, 0.55 + 0.437 * vertical + 0.313 * vertical**2)
    sky = diffuse * (y * np.sin(tilt) + np.maximum(np.cos(tilt), 0.0))
    ground = (beam * np.sin(np.maximum(b, 0)) + diffuse) * ground_reflectance * (1 - np.cos(tilt)) / 2
    return FaceSun(beam * cosine, sky + ground, cosine)
