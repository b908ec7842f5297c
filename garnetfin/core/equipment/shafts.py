"""Shafts: rectangles for risers, pipes, and the free area they want together.

Lengths in m, flows in m3/s. Methods: Shafts.
"""

import math
from collections.abc import Sequence
from typing import NamedTuple

from garnetfin.core.errors import InputError

SIDES_M = tuple(round(0.10 + 0.05 * i, 2) for i in range(29))  # 0.10 .. 1.50
FLATTEST = 2.5
BETWEEN_M, BEHIND_M, FRONT_M = 0.10, 0.05, 0.15
PIPES_MM = (15, 20, 25, 32, 40, 50, 65, 80, 100, 125, 150, 200)
# Inner and outer diameters [m] of medium steel pipe, EN 10255 up to DN 150, EN 10220 beyond.
BORES_M = (0.0161, 0.0217, 0.0273, 0.0360, 0.0419, 0.0530, 0.0688, 0.0808, 0.1053, 0.1300, 0.1554, 0.2101)
OUTERS_M = (0.0213, 0.0269, 0.0337, 0.0424, 0.0483, 0.0603, 0.0761, 0.0889, 0.1143, 0.1397, 0.1651, 0.2191)
PIPE_M_S = 1.5


class Riser(NamedTuple):
    """A duct in a shaft: width and depth of its sheet, insulation all round."""

    width_m: float
    depth_m: float
    insulation_m: float = 0.0


def riser(flow_m3s: float, most_m_s: float, deepest_m: float = 1.5, insulation_m: float = 0.0) -> Riser | None:
    """The rectangle of least width and depth together, then of least area, that a flow fits; None where it is deeper
    than allowed.

    Raises InputError for a flow or a velocity that is not above 0.
    """
    if not (flow_m3s > 0 and most_m_s > 0):
        raise InputError("A riser needs a flow and a velocity above 0", where="shaft")
    area = flow_m3s / most_m_s
    fit = [
        (w + d, w * d, w, d)
        for d in SIDES_M
        for w in SIDES_M
        if w >= d and w <= FLATTEST * d + 1e-9 and d <= deepest_m + 1e-9 and w * d >= area - 1e-12
    ]
    if not fit:
        return None
    _, _, width, depth = min(fit)
    return Riser(width, depth, insulation_m)


class Pipe(NamedTuple):
    """Nominal bore [mm], inner and outer diameter, velocity [m/s], drop [Pa/m]."""

    nominal_mm: int
    bore_m: float
    outer_m: float
    velocity_m_s: float
    drop_pa_m: float


def pipe(flow_m3s: float, most_pa_m: float, density: float = 999.0, viscosity: float = 1.2e-3) -> Pipe | None:
    """The smallest pipe within a drop and 1.5 m/s; None where none is large enough. Friction after Haaland, 0.05 mm
    rough.

    Raises InputError for a flow that is not above 0.
    """
    if not flow_m3s > 0:
        raise InputError("A pipe needs a flow above 0", where="shaft")
    for nominal, bore, outer in zip(PIPES_MM, BORES_M, OUTERS_M):
        v = flow_m3s / (math.pi * bore**2 / 4)
        re = v * bore * density / viscosity
        factor = 64 / re if re < 2300 else (-1.8 * math.log10((5e-5 / bore / 3.7) ** 1.11 + 6.9 / re)) ** -2
        drop = factor / bore * density * v**2 / 2
        if v <= PIPE_M_S and drop <= most_pa_m:
            return Pipe(nominal, bore, outer, v, drop)
    return None


class ShaftSize(NamedTuple):
    """Inner width and depth of a shaft, its area, ducts by row."""

    width_m: float
    depth_m: float
    area_m2: float
    rows: int


def _row(items: Sequence[Riser]) -> tuple[float, float]:
    """(length with room between and at the ends, depth of the deepest) of ducts side by side."""
    outer = [(r.width_m + 2 * r.insulation_m, r.depth_m + 2 * r.insulation_m) for r in items]
    return sum(w for w, _ in outer) + BETWEEN_M * (len(outer) + 1), max(d for _, d in outer)


def shaft(risers: Sequence[Riser]) -> ShaftSize:
    """The smaller of one row of ducts and two rows. Raises InputError without ducts."""
    if not risers:
        raise InputError("A shaft needs a duct", where="shaft")
    length, depth = _row(risers)
    one = ShaftSize(length, depth + BEHIND_M + FRONT_M, length * (depth + BEHIND_M + FRONT_M), 1)
    if len(risers) < 2:
        return one
    rows: tuple[list[Riser], list[Riser]] = ([], [])
    for r in sorted(risers, key=lambda r: -(r.width_m + 2 * r.insulation_m)):
        lengths = [sum(x.width_m + 2 * x.insulation_m + BETWEEN_M for x in row) for row in rows]
        rows[0 if lengths[0] <= lengths[1] else 1].append(r)
    (a, deep_a), (b, deep_b) = _row(rows[0]), _row(rows[1])
    width, depth = max(a, b), deep_a + deep_b + 2 * (BEHIND_M + FRONT_M)
    two = ShaftSize(width, depth, width * depth, 2)
    return min(one, two, key=lambda s: s.area_m2)
