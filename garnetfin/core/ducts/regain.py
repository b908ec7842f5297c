"""Static regain: from the fan outward every section is as large as what slowing down gives back pays for its loss.

Source: ASHRAE Handbook Fundamentals, duct design, static regain.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.sizing import Batch, Ducts, Sized, batches, by_limits, choose
from garnetfin.core.ducts.tree import Tree

Array = NDArray[np.float64]
SLOWEST_M_S = 3.0  # below it there is nothing to regain


def straight_k(v1: Array, v2: Array) -> Array:
    """Coefficient of a takeoff's straight leg on the velocity pressure before it (ducts, section c)."""
    return 0.4 * (1 - np.minimum(v2 / np.maximum(v1, 1e-9), 1.0)) ** 2


def left_over(v1: Array, v2: Array, friction_pa_m: Array, length_m: Array, density: float) -> Array:
    """Static pressure regained beyond the loss of the section [Pa]; below 0 it is lost on the way."""
    return density / 2 * (v1**2 - v2**2) - friction_pa_m * length_m - straight_k(v1, v2) * density / 2 * v1**2


@dataclass(frozen=True, slots=True, eq=False)
class _Place:
    """Where a segment's row of candidates is found."""

    batch: Batch
    row: int


def by_regain(tree: Tree, ducts: Ducts, through: NDArray[np.intp], first_velocity_m_s: float) -> Sized:
    """Sizes from the root outward.

    through  for every segment the straight continuation of its parent (itself: it is one), -1 where it branches off
    or begins
    The first section takes the velocity given; branches begin by the limits. A section whose air is too slow, or too
    long for any size to
    regain its loss, and all after it on that way, follow the limits. No section is larger than the one before it.
    """
    # where regain does not hold, and the ladders with their limits
    frame = by_limits(tree, ducts)
    count = len(ducts.flow_m3s)
    place: list[_Place | None] = [None] * count
    for members, batch in batches(ducts):
        for row, i in enumerate(members):
            place[i] = _Place(batch, row)
    depth = tree.depth
    sections, by, ladders = list(frame.sections), list(frame.by), list(frame.ladders)
    area = frame.area_m2.copy()
    for level in range(int(depth.max(initial=0)) + 1):
        for i in np.flatnonzero((depth == level) & tree.reached):
            parent, mine = int(tree.parent[i]), place[i]
            if ducts.pinned[i] is not None:
                continue
            series = mine.batch.series
            if parent < 0:
                fast = mine.batch.velocity_m_s[mine.row] <= first_velocity_m_s * (1 + 1e-9)
                ok = fast & ~mine.batch.broken["height"][mine.row] & ~mine.batch.broken["aspect"][mine.row]
                pick = int(np.where(ok, series.mass_kg_m, np.inf).argmin()) if ok.any() else ladders[i].chosen
                word = "first velocity"
            else:
                v1 = float(ducts.flow_m3s[parent]) / area[parent]
                pick = (
                    _pick(mine, v1, float(ducts.length_m[i]), area[parent], ducts.density)
                    if (through[i] == i and v1 >= SLOWEST_M_S and by[parent] in ("regain", "first velocity", "pinned"))
                    else -1
                )
                word = "regain"
                if pick < 0:
                    # The limits decide, but no larger than the section before.
                    chosen, _ = choose(mine.batch, np.zeros(1), np.array([mine.row]), np.array([area[parent]]))
                    pick, word = int(chosen[0]), "limits"
            sections[i], by[i] = series.sections[pick], word
            area[i] = series.area_m2[pick]
            old = ladders[i]
            ladders[i] = mine.batch.ladder(
                mine.row,
                pick,
                tuple(n for n in ("friction", "velocity", "height", "aspect") if mine.batch.broken[n][mine.row, pick])
                if word == "limits"
                else tuple(n for n in ("height",) if mine.batch.broken[n][mine.row, pick]),
            )
            del old
    return Sized(tuple(ladders), tuple(sections), tuple(by))


def _pick(mine: _Place, v1: float, length_m: float, most_area_m2: float, density: float) -> int:
    """The smallest size whose regain covers its loss within the other limits; -1 for none."""
    b, r = mine.batch, mine.row
    v2 = b.velocity_m_s[r]
    ok = (
        (left_over(v1, v2, b.friction_pa_m[r], length_m, density) >= 0)
        & ~b.broken["height"][r]
        & ~b.broken["aspect"][r]
    )
    ok &= (b.series.area_m2 <= most_area_m2 * (1 + 1e-9)) & ~b.broken["velocity"][r]
    if not ok.any():
        return -1
    return int(np.where(ok, b.series.area_m2 + 1e-6 * b.series.mass_kg_m, np.inf).argmin())
