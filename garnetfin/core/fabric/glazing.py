"""Glass: how much sun passes at an angle, and what the absorbed rest does."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

INNER_FILM = 7.7
OUTER_FILM = 25.0


def angle_factor(cos_incidence: ArrayLike, panes: ArrayLike, angle_class: ArrayLike) -> NDArray[np.float64]:
    """Share of the normal transmittance left at an angle of incidence [-], 0 at grazing light.

    panes 1..3; angle_class 4 clear float, 2.5 coated. Source: Karlsson and Roos (2000), Solar Energy 69.
    """
    z = np.arccos(np.clip(np.asarray(cos_incidence, float), 0.0, 1.0)) / (np.pi / 2)
    p, q = np.asarray(panes, float), np.asarray(angle_class, float)
    a, b = 8.0, 0.25 / q
    al, ga = 5.2 + 0.7 * q, (5.26 + 0.06 * p) + (0.73 + 0.04 * p) * q
    return np.maximum(0.0, 1 - a * z**al - b * z**2 - (1 - a - b) * z**ga)


def glass_resistance(u_value_w_m2k: ArrayLike) -> NDArray[np.float64]:
    """From the inside face to outdoor air [m2K/W], the outer film included; needs 0 < U <= 7."""
    u = np.asarray(u_value_w_m2k, float)
    if not np.all((u > 0) & (u <= 7)):
        raise InputError("A window needs a U-value above 0 and at most 7 W/m2K",
                         remedy="Give the U-value of the whole window, frame included")
    return 1 / u - 1 / INNER_FILM


def lit_share(elevation: NDArray, azimuth: NDArray, facing_deg: float, width_m: float, height_m: float,
              reveal_m: float = 0.0, overhang_m: float = 0.0, overhang_gap_m: float = 0.0) -> NDArray[np.float64]:
    """Share of a window that the sun reaches past its reveal and an endless overhang [-], shape of elevation.

    Angles in radians; a reveal is an overhang and two fins without a gap. 0 with the sun behind the wall.
    """
    if not (width_m > 0 and height_m > 0 and reveal_m >= 0 and overhang_m >= 0):
        raise InputError("A window needs width and height above 0, reveal and overhang of 0 or more")
    g = (azimuth - np.radians(facing_deg) + np.pi) % (2 * np.pi) - np.pi
    seen = (np.abs(g) < np.pi / 2 - 1e-6) & (elevation > 0)
    side = np.tan(np.where(seen, np.abs(g), 0.0))
    profile = np.tan(np.where(seen, elevation, 0.0)) / np.cos(np.where(seen, g, 0.0))
    down = np.maximum(reveal_m * profile, overhang_m * profile - overhang_gap_m)
    shaded_h, shaded_w = np.clip(down, 0, height_m), np.clip(reveal_m * side, 0, width_m)
    return np.where(seen, (width_m - shaded_w) * (height_m - shaded_h) / (width_m * height_m), 0.0)
