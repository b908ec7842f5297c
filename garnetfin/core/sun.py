"""Sun: positions through the design days, clear sky, and irradiance on faces.

Angles in radians inside; azimuth from north clockwise, tilt 0 = facing up, 90 deg = wall.
Days are sampled every 5 minutes (12 mid-points an hour) and averaged to hours.
"""

from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

SAMPLES = 288
YEAR, DAY = 2021, 21  # a year between leap years
TERRESTRIAL_S = 67.0  # by which even time runs ahead of the turning earth
PARALLAX_DEG = 8.794 / 3600
SOLAR_W_M2 = 1367.0


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


def hourly(samples: NDArray[Any]) -> NDArray[np.float64]:
    """Hour means (..., 24) of five-minute samples (..., 288), in their unit [any]."""
    answer: NDArray[Any] = samples.reshape(*samples.shape[:-1], 24, SAMPLES // 24).mean(axis=-1)
    return answer


def sun_days(latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> SunDays:
    """Sun positions (true elevation, no refraction) for the 21st of every month in standard time."""
    minutes = (np.arange(SAMPLES) + 0.5) * (1440 / SAMPLES) - 60 * utc_offset_h
    julian = np.array([julian_day(YEAR, month, DAY) for month in range(1, 13)])
    elevation, azimuth = sun_position(julian[:, None] + minutes / 1440, latitude_deg, longitude_deg)
    day_of_year = julian - julian_day(YEAR, 1, 1) + 1
    return SunDays(elevation, azimuth, beyond_the_air(day_of_year))


def sun_position(
    julian_day: NDArray[np.float64], latitude_deg: float, longitude_deg: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(true elevation, azimuth from north clockwise) [rad] at Julian days of universal time (...).

    Within 0.01 degree of the full theory in this century. Source: Meeus, Astronomical Algorithms, ch. 22 and 25.
    """
    days = julian_day - 2451545.0
    t = (days + TERRESTRIAL_S / 86400) / 36525
    mean_longitude = 280.46646 + t * (36000.76983 + 0.0003032 * t)
    anomaly = np.radians(357.52911 + t * (35999.05029 - 0.0001537 * t))
    centre = (
        (1.914602 - t * (0.004817 + 0.000014 * t)) * np.sin(anomaly)
        + (0.019993 - 0.000101 * t) * np.sin(2 * anomaly)
        + 0.000289 * np.sin(3 * anomaly)
    )
    node = np.radians(125.04 - 1934.136 * t)
    longitude = np.radians(mean_longitude + centre - 0.00569 - 0.00478 * np.sin(node))
    obliquity = np.radians(23.439291 - 0.0130042 * t + 0.00256 * np.cos(node))
    declination = np.arcsin(np.sin(obliquity) * np.sin(longitude))
    right_ascension = np.arctan2(np.cos(obliquity) * np.sin(longitude), np.cos(longitude))
    sidereal_deg = 280.46061837 + 360.98564736629 * days - 0.00478 * np.sin(node) * np.cos(obliquity)
    hour = np.radians(sidereal_deg + longitude_deg) - right_ascension
    latitude = np.radians(latitude_deg)
    sine = np.sin(latitude) * np.sin(declination) + np.cos(latitude) * np.cos(declination) * np.cos(hour)
    elevation = np.arcsin(np.clip(sine, -1.0, 1.0))
    elevation = elevation - np.radians(PARALLAX_DEG) * np.cos(elevation)  # seen from the ground, not the earth's middle
    azimuth = np.pi + np.arctan2(np.sin(hour), np.cos(hour) * np.sin(latitude) - np.tan(declination) * np.cos(latitude))
    return elevation, azimuth


def beyond_the_air(day_of_year: ArrayLike) -> NDArray[np.float64]:
    """Normal irradiance outside the atmosphere [W/m2] on days 1..366. Source: Spencer (1971)."""
    b = 2 * np.pi * (np.asarray(day_of_year, float) - 1) / 365
    return SOLAR_W_M2 * (
        1.00011 + 0.034221 * np.cos(b) + 0.00128 * np.sin(b) + 0.000719 * np.cos(2 * b) + 7.7e-05 * np.sin(2 * b)
    )


def julian_day(year: int, month: int, day: int) -> float:
    """Julian day [d] of a date at 0 h universal time."""
    return date(year, month, day).toordinal() + 1721424.5


def clear_sky(
    e0: ArrayLike, elevation: ArrayLike, tau_b: ArrayLike, tau_d: ArrayLike
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Beam normal and diffuse horizontal irradiance [W/m2] of a clear sky; 0 with the sun down.

    e0 extraterrestrial normal [W/m2]; elevation [rad]; tau_b, tau_d pseudo optical depths (about 0.2..1.1, 1.4..3).
    Source: ASHRAE Handbook Fundamentals ch. 14 (2013 and later); air mass Kasten and Young (1989), Appl. Opt. 28.

    Raises InputError for optical depths of 0 or less.
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
    beam: NDArray[Any],
    diffuse: NDArray[Any],
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
