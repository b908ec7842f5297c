"""Diverging junctions of supply systems: coefficients on the velocity of the whole flow."""

from math import cos, radians

from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.ducts.fittings.transitions import transition
from garnetfin.core.ducts.sizes import Section

TAP_BELOW = 0.6          # branch area / main area below which a main gets a tap instead of a tee


def straight(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float) -> tuple[str, float]:
    """(fitting id, k on the common section) of the straight leg of a diverging tee, its size change included."""
    vc, vs = common_m3s / common.area_m2, leaving_m3s / leaving.area_m2
    if vs <= vc:
        return "tee-straight", 0.4 * (1 - vs / vc) ** 2
    reduced = transition(common, leaving)
    return "tee-straight", reduced[1] * (vs / vc) ** 2 if reduced else 0.0


def branch(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float,
           angle_deg: float = 90.0) -> tuple[str, float]:
    """(fitting id, k on the common section) of a branch that leaves at an angle of 15..165 degrees.

    A small round branch is a conical tap, a small rectangular one a tap with a 45 degree shoe, a large one a tee;
    below 75 degrees it is a wye. Source: Idelchik sect. 7; ASHRAE Handbook Fundamentals, duct design chapter.
    """
    area, flow = leaving.area_m2 / common.area_m2, leaving_m3s / common_m3s
    speed = flow / area
    if angle_deg < 75.0:
        factor = 1.0 - 0.1 * min(max((speed - 0.75) / 0.10, 0.0), 1.0)
        return "wye-div", factor * (1 + speed**2 - 2 * speed * cos(radians(max(angle_deg, 15.0))))
    if area < TAP_BELOW and leaving.shape == "round":
        return "takeoff-conical", float(look_up("takeoff-conical", "k", speed))
    if area < TAP_BELOW:
        return "takeoff-shoe-45", float(look_up("takeoff-shoe-45", "k", speed))
    return "tee-div-90", 1 + speed**2


def bullhead(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float) -> tuple[str, float]:
    """(fitting id, k on the common section) of one leg where the main ends against a duct across."""
    speed = leaving_m3s / common_m3s * common.area_m2 / leaving.area_m2
    return "tee-div-bullhead", 1 + 0.3 * speed**2
