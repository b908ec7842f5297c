"""Elbows: coefficients on the duct's own velocity, without the friction of the arc."""

from functools import lru_cache

from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.ducts.sizes import Section

ROUND_R_OVER_D = 1.5
RECT_R_OVER_W = 1.0


@lru_cache(maxsize=4096)
def elbow(section: Section, angle_deg: float, flat_bend: bool = True) -> tuple[str, float]:
    """(fitting id, k) of the office book's elbow at a turning angle of 0..180 degrees.

    flat_bend   the bend lies in plan, so the width is in its plane; in a drop it is the height
    """
    if section.shape == "round":
        name = "elbow-round-smooth"
        return name, float(look_up(name, "k", ROUND_R_OVER_D) * look_up(name, "angle", angle_deg))
    name = "elbow-rect-radius"
    in_plane, normal = (section.width_m, section.height_m) if flat_bend else (section.height_m, section.width_m)
    return name, float(look_up(name, "k", RECT_R_OVER_W, normal / in_plane) * look_up(name, "angle", angle_deg))
