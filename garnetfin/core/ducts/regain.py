"""Static regain: from the fan outward every section is as small as it may be while what slowing down gives back pays
for what is lost, with what sections before have left over.

A section is all between two places where air leaves the straight way, however many pieces it is drawn in.

Source: ASHRAE Handbook Fundamentals, duct design, static regain.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.sizes import Section
from garnetfin.core.ducts.sizing import Batch, Ducts, Regained, Sized, batches, by_limits, choose
from garnetfin.core.ducts.tree import Tree

Array = NDArray[np.float64]
SLOWEST_M_S = 3.0  # below it there is nothing to regain


def straight_k(v1: Array, v2: Array) -> Array:
    """Coefficient of a takeoff's straight leg on the velocity pressure before it (ducts, section c)."""
    return 0.4 * (1 - np.minimum(v2 / np.maximum(v1, 1e-9), 1.0)) ** 2


def left_over(v1: Array, v2: Array, lost_pa: Array, density: float) -> Array:
    """Static pressure regained behind a takeoff beyond what the section loses [Pa]; below 0 it is lost on the way.

    v1, v2  velocity before the takeoff and in the section [m/s]; lost_pa friction and fittings of the section
    """
    return np.asarray(gained(v1, v2, density) - lost_pa)


def gained(v1: Array, v2: Array, density: float) -> Array:
    """Static pressure that slowing down at a takeoff gives back, its own loss taken off [Pa]."""
    return np.asarray(density / 2 * (v1**2 - v2**2) - straight_k(v1, v2) * density / 2 * v1**2)


@dataclass(frozen=True, slots=True, eq=False)
class Ways:
    """How air goes on in drawn segments (n,).

    through     the straight continuation of its parent (itself: it is one), -1 where it branches off or begins
    section     first segment of the section each belongs to
    least_m_s   velocity below which a section regains nothing
    own_k       coefficient of the bend at the beginning of a segment at a section [-]
    """

    through: NDArray[np.intp]
    section: NDArray[np.intp]
    least_m_s: Array
    own_k: Callable[[int, Section], float]


@dataclass(frozen=True, slots=True, eq=False)
class _Place:
    """Where a segment's row of candidates is found."""

    batch: Batch
    row: int

    def broken(self, name: str) -> NDArray[np.bool_]:
        return np.asarray(self.batch.broken[name][self.row])


def by_regain(tree: Tree, ducts: Ducts, ways: Ways) -> Sized:
    """Sizes from the root outward, section by section.

    The first section goes by its own velocity limit; branches begin by the limits and regain from there on. A section
    whose air is too slow, or for which no size will do, and all after it on that way, follow the limits. No section is
    larger than the one before.
    """
    return _Regain(tree, ducts, ways).sized()


class _Regain:
    def __init__(self, tree: Tree, ducts: Ducts, ways: Ways) -> None:
        self.tree, self.ducts, self.ways = tree, ducts, ways
        frame = by_limits(tree, ducts)  # where regain does not hold, and the ladders with their limits
        self.sections, self.by, self.ladders = list(frame.sections), list(frame.by), list(frame.ladders)
        self.area = frame.area_m2.copy()
        self.carried = np.zeros(len(self.area))
        self.ended = np.zeros(len(self.area), bool)  # regain, from this segment on
        self.told: list[Regained] = []
        self.place: dict[int, _Place] = {}
        for members, batch in batches(ducts):
            for row, i in enumerate(members.tolist()):
                self.place[i] = _Place(batch, row)

    def sized(self) -> Sized:
        for group in self._groups():
            head = group[0]
            if self.ducts.pinned[head] is not None:
                continue
            parent = int(self.tree.parent[head])
            if parent < 0:
                self._first(group)
            else:
                self._next(group, parent)
        return Sized(tuple(self.ladders), tuple(self.sections), tuple(self.by), regained=tuple(self.told))

    def _groups(self) -> list[list[int]]:
        """Segments of one section and one series each, in the order of the air; pinned ones stand alone."""
        found: dict[int, list[int]] = {}
        at: dict[int, int] = {}
        for s in self.tree.order.tolist():
            parent = int(self.tree.parent[s])
            joins = (
                parent >= 0
                and self.ways.section[s] == self.ways.section[parent]
                and self.ducts.series[s] is self.ducts.series[parent]
                and self.ducts.pinned[s] is None
                and self.ducts.pinned[parent] is None
            )
            at[s] = at[parent] if joins else s
            found.setdefault(at[s], []).append(s)
        return list(found.values())

    def _allowed(self, group: list[int]) -> NDArray[np.bool_]:
        """Candidates that keep height, aspect and the greatest velocity of all pieces."""
        bad = [self.place[i].broken(name) for i in group for name in ("height", "aspect", "velocity")]
        return np.asarray(~np.any(bad, axis=0))

    def _lost(self, group: list[int]) -> Array:
        """Friction and bends of a section at every candidate [Pa]."""
        density, series = self.ducts.density, self.place[group[0]].batch.series
        lost = np.zeros(len(series.area_m2))
        for i in group:
            here = self.place[i]
            lost += here.batch.friction_pa_m[here.row] * self.ducts.length_m[i]
            bends = np.array([self.ways.own_k(i, section) for section in series.sections])
            if bends.any():
                lost += bends * density / 2 * here.batch.velocity_m_s[here.row] ** 2
        return lost

    def _first(self, group: list[int]) -> None:
        ok, series = self._allowed(group), self.place[group[0]].batch.series
        pick = int(np.where(ok, series.mass_kg_m, np.inf).argmin()) if ok.any() else self.ladders[group[0]].chosen
        self._take(group, pick, "first velocity", 0.0)

    def _next(self, group: list[int], parent: int) -> None:
        head, here = group[0], self.place[group[0]]
        v1 = float(self.ducts.flow_m3s[parent]) / self.area[parent]
        same = self.ways.section[head] == self.ways.section[parent]
        goes_on = self.ways.through[head] == head or same
        ends = ""
        if goes_on and not self.ended[parent] and v1 < SLOWEST_M_S:
            ends = "slow"
        elif goes_on and not self.ended[parent]:
            v2, series = here.batch.velocity_m_s[here.row], here.batch.series
            lost = self._lost(group)
            left = self.carried[parent] + left_over(np.full_like(v2, v1), v2, lost, self.ducts.density)
            fits = self._allowed(group) & (v2 >= self.ways.least_m_s[head] * (1 - 1e-9))
            fits &= series.area_m2 <= self.area[parent] * (1 + 1e-9)
            ok = fits & (left >= 0)
            if ok.any():
                pick = int(np.where(ok, series.area_m2 + 1e-6 * series.mass_kg_m, np.inf).argmin())
                self._tell(group, v1, float(v2[pick]), float(lost[pick]), float(self.carried[parent]))
                self._take(group, pick, "regain", float(left[pick]))
                return
            ends = "no size"
            if fits.any():  # what lacks at the best of those that keep the other limits
                best = int(np.where(fits, left, -np.inf).argmax())
                self._tell(group, v1, float(v2[best]), float(lost[best]), float(self.carried[parent]), ends)
                ends = ""
        if ends:
            v2 = float(self.ducts.flow_m3s[head]) / self.area[head]
            self._tell(group, v1, v2, 0.0, float(self.carried[parent]), ends)
        # The limits decide, but no larger than the section before.
        for i in group:
            at = self.place[i]
            before = float(self.area[int(self.tree.parent[i])])
            chosen, _ = choose(at.batch, np.zeros(1), np.array([at.row]), np.array([before]))
            self._take([i], int(chosen[0]), "limits", 0.0)
            self.ended[i] = goes_on

    def _tell(self, group: list[int], v1: float, v2: float, lost: float, carried: float, ends: str = "") -> None:
        back = float(gained(np.array(v1), np.array(v2), self.ducts.density)) if ends != "slow" else 0.0
        left = carried + back - lost
        self.told.append(Regained(tuple(group), v1, v2, back, lost, carried, left, ends))

    def _take(self, group: list[int], pick: int, word: str, carried: float) -> None:
        names = ("friction", "velocity", "height", "aspect") if word == "limits" else ("height",)
        for i in group:
            at = self.place[i]
            self.sections[i], self.by[i] = at.batch.series.sections[pick], word
            self.area[i], self.carried[i] = at.batch.series.area_m2[pick], carried
            self.ladders[i] = at.batch.ladder(at.row, pick, tuple(n for n in names if at.broken(n)[pick]))
