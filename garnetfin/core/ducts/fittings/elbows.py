"""Elbows: coefficients on the duct's own velocity, without the friction of the arc.

Source: rows of the catalogue (Idelchik, sect. 6).
"""

from functools import lru_cache

from garnetfin.core.ducts.fittings.catalogue import coefficient
from garnetfin.core.ducts.sizes import Section

USUAL = {"round": "elbow-round-smooth", "rectangular": "elbow-rect-radius", "oval": "elbow-oval"}
RIGHT_DEG = 90.0
# Turning vanes are listed at a right angle only.
AT_RIGHT_ANGLE = ("elbow-rect-vaned-single", "elbow-rect-vaned-wide", "elbow-rect-vaned-double")


@lru_cache(maxsize=8192)
def elbow(section: Section, angle_deg: float, flat_bend: bool = True, fitting: str = "") -> tuple[str, float]:
    """(fitting id, k) of an elbow at a turning angle of 0..180 degrees; the usual one of its shape when none is named.

    flat_bend   the bend lies in plan, so the width is in its plane; in a drop it is the height
    """
    name = fitting or USUAL[section.shape]
    in_plane, normal = (section.width_m, section.height_m) if flat_bend else (section.height_m, section.width_m)
    k = coefficient(name, angle_deg=angle_deg, h_over_w=normal / in_plane)
    return name, k * angle_deg / RIGHT_DEG if name in AT_RIGHT_ANGLE else k
