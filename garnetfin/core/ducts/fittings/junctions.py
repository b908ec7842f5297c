"""Junctions where supply air parts and where air that leaves comes together: coefficients on the velocity of the whole
flow.
"""

from garnetfin.core.ducts.fittings.catalogue import coefficient
from garnetfin.core.ducts.fittings.laws.law import leg_law
from garnetfin.core.ducts.fittings.transitions import transition
from garnetfin.core.ducts.sizes import Section

TAP_BELOW = 0.6  # branch area / main area below which a main gets a tap instead of a tee


def straight(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float) -> tuple[str, float]:
    """(fitting id, k on the common section) of the straight leg of a diverging tee, its size change included."""
    vc, vs = common_m3s / common.area_m2, leaving_m3s / leaving.area_m2
    if vs <= vc:
        return "tee-straight", leg_law("straight").one(vs / vc, 1.0)
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
        return "wye-div", leg_law("wye").one(flow, area, max(angle_deg, 15.0))
    if area < TAP_BELOW:
        tap = "takeoff-conical" if leaving.shape == "round" else "takeoff-shoe-45"
        return tap, leg_law(tap).one(flow, area)
    return "tee-div-90", leg_law("square").one(flow, area, 1.0)


def bullhead(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float) -> tuple[str, float]:
    """(fitting id, k on the common section) of one leg where the main ends against a duct across."""
    speed = leaving_m3s / common_m3s * common.area_m2 / leaving.area_m2
    return "tee-div-bullhead", coefficient("tee-div-bullhead", "branch", qb_qc=speed, ab_ac=1.0)


def straight_converging(
    common: Section, arriving: Section, common_m3s: float, arriving_m3s: float
) -> tuple[str, float]:
    """(fitting id, k on the common section) of the straight leg where a branch joins; its size change included.

    May be below 0.
    """
    k = leg_law("joining straight").one(arriving_m3s / common_m3s, 1.0)
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
    if angle_deg < 75.0:
        return "wye-conv", leg_law("joining wye").one(share, area, angle_deg)
    return "tee-conv-90", leg_law("joining square").one(share, area)


def bullhead_converging(
    common: Section, arriving: Section, common_m3s: float, arriving_m3s: float
) -> tuple[str, float]:
    """(fitting id, k on the common section) of one leg where two ducts meet head on."""
    area, share = arriving.area_m2 / common.area_m2, arriving_m3s / common_m3s
    return "tee-conv-bullhead", leg_law("joining head on").one(share, area)
