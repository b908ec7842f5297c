"""The leg that runs on where a branch leaves or joins.

Leaving: a slowing stream loses like a sudden widening, k = 0.4 (1 - v/v_whole)^2; one that speeds up in a smaller duct
loses what its contraction does, let in over the first fifth so that losses stay continuous.
Joining: k = 1.55 q - q^2 with q the branch's share, and what a widening behind it takes; where branches join below
75 degrees, the momentum they bring along the main: 1 - (1 - q)^2 - 2 q^2 cos(angle) / area.
Source: Idelchik, Handbook of Hydraulic Resistance, sect. 7.
"""

from garnetfin.core.ducts.fittings.laws.law import Figures, LegLaw, cosine, register, where, within

LET_IN = 0.2
LEAST_LET_IN = 0.1
USUAL_CONTRACTION = 0.05


def _let_in(speed: Figures) -> Figures:
    return within((speed - 1.0) / LET_IN, 0.0, 1.0)


def _leaving(share: Figures, area: Figures, contraction: Figures) -> Figures:
    speed = share / area
    return where(speed <= 1, 0.4 * (1 - speed) ** 2, contraction * speed**2 * _let_in(speed))


def _contraction(k: float, share: float, area: float) -> float:
    speed = share / area
    return k / (speed**2 * max(_let_in(speed), LEAST_LET_IN)) if speed > 1 else USUAL_CONTRACTION


def _joining(share: Figures, area: Figures, widening: Figures) -> Figures:
    return 1.55 * (1 - share) - (1 - share) ** 2 + widening * (share / area) ** 2


def _widening(k: float, share: float, area: float) -> float:
    return (k - 1.55 * (1 - share) + (1 - share) ** 2) / max((share / area) ** 2, 1e-9)


def _joining_wye(share: Figures, area: Figures, angle_deg: Figures) -> Figures:
    """`share` and `area` of the branch that joins at an angle; below 0 where it draws this leg along."""
    return 1 - (1 - share) ** 2 - 2 * share**2 / area * cosine(angle_deg)


def _beside_wye(share: Figures, _area: Figures, drawn: Figures) -> Figures:
    """Of this leg's own share: momentum along the main, of which branches at an angle bring `drawn` (1 - share)^2."""
    return 1 - share**2 - drawn * (1 - share) ** 2


def _drawn(k: float, share: float, _area: float) -> float | None:
    left = (1 - share) ** 2
    return (1 - share**2 - k) / left if left > 1e-9 else None


register(
    LegLaw("joining straight, wye", _beside_wye, lambda at: (1 - at["qb_qc"], 1.0, 0.0), _drawn),
    LegLaw("straight", _leaving, lambda at: (min(at["vs_vc"], 1.0), 1.0, 0.0), _contraction),
    LegLaw("joining straight", _joining, lambda at: (1 - at["qb_qc"], 1.0, 0.0), _widening),
    LegLaw("beside a joining wye", _joining_wye, lambda at: (at["qb_qc"], at["ab_ac"], at["angle_deg"])),
)
