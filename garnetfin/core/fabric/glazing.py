"""Glass: how much sun passes at an angle, and what the absorbed rest does."""

from typing import Any

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
    answer: NDArray[Any] = np.maximum(0.0, 1 - a * z**al - b * z**2 - (1 - a - b) * z**ga)
    return answer


def glass_resistance(u_value_w_m2k: ArrayLike) -> NDArray[np.float64]:
    """From the inside face to outdoor air [m2K/W], the outer film included; needs 0 < U <= 7.

    Raises InputError beyond that.
    """
    u = np.asarray(u_value_w_m2k, float)
    if not np.all((u > 0) & (u <= 7)):
        raise InputError(
            "A window needs a U-value above 0 and at most 7 W/m2K",
            remedy="Give the U-value of the whole window, frame included",
        )
    return 1 / u - 1 / INNER_FILM


def window_u_value(
    glass_u: float, frame_u: float, frame_share: float, edge_w_mk: float, edge_m: float, area_m2: float
) -> float:
    """U-value of a window from glass, frame and the spacer along the glass edge [W/m2K]. Source: ISO 10077-1.

    Raises InputError without an area, or with a frame of all of it.
    """
    if not (0 <= frame_share < 1 and area_m2 > 0 and edge_m >= 0):
        raise InputError("A window needs an area above 0 and a share of frame below 1")
    return (1 - frame_share) * glass_u + frame_share * frame_u + edge_m * edge_w_mk / area_m2
