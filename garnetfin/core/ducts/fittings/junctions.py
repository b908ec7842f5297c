"""Junctions where supply air parts and where air that leaves comes together: coefficients on the velocity of the whole
flow.
"""

from collections.abc import Sequence
from math import cos, radians

from garnetfin.core.ducts.fittings.catalogue import coefficient, nearest
from garnetfin.core.ducts.fittings.laws.joining import LEAST_DEG, MOST_DEG
from garnetfin.core.ducts.fittings.laws.law import leg_law
from garnetfin.core.ducts.fittings.transitions import transition
from garnetfin.core.ducts.sizes import Section

SQUARE_DEG = 75.0  # a branch at less than this angle is a wye
TAP_BELOW = 0.6  # branch area / main area below which a main gets a tap instead of a tee


def clamped(angle_deg: float) -> float:
    """An angle within those for which wyes are measured [deg]."""
    return min(max(angle_deg, LEAST_DEG), MOST_DEG)


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
    if angle_deg < SQUARE_DEG:
        return "wye-div", leg_law("wye").one(flow, nearest("wye-div", area), max(angle_deg, 15.0))
    if area < TAP_BELOW:
        tap = "takeoff-conical" if leaving.shape == "round" else "takeoff-shoe-45"
        return tap, leg_law(tap).one(flow, area)
    return "tee-div-90", leg_law("square").one(flow, nearest("tee-div-90", area), 1.0)


def bullhead(common: Section, leaving: Section, common_m3s: float, leaving_m3s: float) -> tuple[str, float]:
    """(fitting id, k on the common section) of one leg where the main ends against a duct across."""
    speed = leaving_m3s / common_m3s * common.area_m2 / leaving.area_m2
    return "tee-div-bullhead", coefficient("tee-div-bullhead", "branch", qb_qc=speed, ab_ac=1.0)


def straight_converging(
    common: Section,
    arriving: Section,
    common_m3s: float,
    arriving_m3s: float,
    beside: Sequence[tuple[Section, float, float]] = (),
) -> tuple[str, float]:
    """(fitting id, k on the common section) of the straight leg where branches join; its size change included.

    beside   section, flow [m3/s] and angle [deg] of each branch; where all of them join below 75 degrees the momentum
             they bring counts. May be below 0: a fast branch draws this leg along.
    """
    share = arriving_m3s / common_m3s
    name, k = "tee-conv-straight", leg_law("joining straight").one(share, 1.0)
    if beside and all(angle < SQUARE_DEG for _, _, angle in beside) and share < 1:
        brought = sum(
            2 * (flow / common_m3s) ** 2 * common.area_m2 / section.area_m2 * cos(radians(clamped(angle)))
            for section, flow, angle in beside
        )
        name, k = "wye-conv-straight", leg_law("joining straight, wye").one(share, 1.0, brought / (1 - share) ** 2)
    grown = transition(arriving, common)
    if grown:
        speed = (
            arriving_m3s / arriving.area_m2 / (common_m3s / common.area_m2)
            if arriving.area_m2 < common.area_m2
            else 1.0
        )
        k += grown[1] * speed**2
    return name, k


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
        return fitting, coefficient(fitting, "branch", ab_ac=area, qb_qc=share, angle_deg=clamped(angle_deg))
    if angle_deg < SQUARE_DEG:
        return "wye-conv", leg_law("joining wye").one(share, nearest("wye-conv", area), angle_deg)
    return "tee-conv-90", leg_law("joining square").one(share, nearest("tee-conv-90", area))


def bullhead_converging(
    common: Section, arriving: Section, common_m3s: float, arriving_m3s: float
) -> tuple[str, float]:
    """(fitting id, k on the common section) of one leg where two ducts meet head on. The formula is that of two equal
    ducts of half the whole's area or more; smaller ones are read there.
    """
    area, share = arriving.area_m2 / common.area_m2, arriving_m3s / common_m3s
    return "tee-conv-bullhead", leg_law("joining head on").one(share, nearest("tee-conv-bullhead", area))
