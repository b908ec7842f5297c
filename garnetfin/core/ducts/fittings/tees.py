"""Junctions where supply air parts and where air that leaves comes together: coefficients on the velocity of the whole
flow.
"""

from math import cos, radians

from garnetfin.core.ducts.fittings.catalogue import coefficient
from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.ducts.fittings.transitions import transition
from garnetfin.core.ducts.sizes import Section

TAP_BELOW = 0.6  # branch area / main area below which a main gets a tap instead of a tee


def straight(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float) -> tuple[str, float]:
    """(fitting id, k on the common section) of the straight leg of a diverging tee, its size change included."""
    vc, vs = common_m3s / common.area_m2, leaving_m3s / leaving.area_m2
    if vs <= vc:
        return "tee-straight", 0.4 * (1 - vs / vc) ** 2
    reduced = transition(common, leaving)
    return "tee-straight", reduced[1] * (vs / vc) ** 2 if reduced else 0.0


def branch(
    common: Section, leaving: Section, common_m3s: float, leaving_m3s: float, angle_deg: float = 90.0, fitting: str = ""
) -> tuple[str, float]:
    """(fitting id, k on the common section) of a branch that leaves at an angle of 15..165 degrees; `fitting` names
    another kind.

    A small round branch is a conical tap, a small rectangular one a tap with a 45 degree shoe, a large one a tee;
    below 75 degrees it is a wye. Source: Idelchik sect. 7; ASHRAE Handbook Fundamentals, duct design chapter.
    """
    area, flow = leaving.area_m2 / common.area_m2, leaving_m3s / common_m3s
    speed = flow / area
    if fitting:
        return fitting, coefficient(
            fitting, "branch", ab_ac=area, qb_qc=flow, vb_vc=speed, angle_deg=max(angle_deg, 15.0)
        )
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


def straight_converging(
    common: Section, arriving: Section, common_m3s: float, arriving_m3s: float
) -> tuple[str, float]:
    """(fitting id, k on the common section) of the straight leg where a branch joins; its size change included.

    May be below 0.
    """
    share = 1 - arriving_m3s / common_m3s
    k = 1.55 * share - share**2
    grown = transition(arriving, common)
    if grown:
        speed = (
            arriving_m3s / arriving.area_m2 / (common_m3s / common.area_m2)
            if arriving.area_m2 < common.area_m2
            else 1.0
        )
        k += grown[1] * speed**2
    return "tee-conv-straight", k


def branch_converging(
    common: Section,
    arriving: Section,
    common_m3s: float,
    arriving_m3s: float,
    angle_deg: float = 90.0,
    fitting: str = "",
) -> tuple[str, float]:
    """(fitting id, k on the common section) of a branch that joins at an angle; below 75 degrees it is a wye. May be
    below 0: the faster
    stream draws it along. Source: Idelchik sect. 7.
    """
    area, share = arriving.area_m2 / common.area_m2, arriving_m3s / common_m3s
    if fitting:
        return fitting, coefficient(
            fitting, "branch", ab_ac=area, qb_qc=share, angle_deg=min(max(angle_deg, 30.0), 60.0)
        )
    factor = 1.0 if area <= 0.35 else max(0.55, 0.9 * (1 - share))
    base = 1 + (share / area) ** 2 - 2 * (1 - share) ** 2
    if angle_deg < 75.0:
        return "wye-conv", factor * (base - 2 * share**2 / area * cos(radians(min(max(angle_deg, 30.0), 60.0))))
    return "tee-conv-90", factor * base


def bullhead_converging(
    common: Section, arriving: Section, common_m3s: float, arriving_m3s: float
) -> tuple[str, float]:
    """(fitting id, k on the common section) of one leg where two ducts meet head on."""
    area, share = arriving.area_m2 / common.area_m2, arriving_m3s / common_m3s
    return "tee-conv-bullhead", 1 + 1 / area**2 + 3 / area**2 * (share**2 - share)
