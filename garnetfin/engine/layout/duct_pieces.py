"""The pieces that the ducts of a system are made of: one for each fitting with all its ends, and the straight runs
between them, each less what the fittings at its ends take.

Source: EN 1505, EN 1506; core/ducts/pieces.
"""

from collections import defaultdict
from dataclasses import dataclass
from math import acos, degrees, hypot

from garnetfin.core.ducts import pieces as shapes
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import DuctResult, SegmentResult
from garnetfin.engine.stages.duct_fittings import FLAT_RISE, MOST_LEGS
from garnetfin.engine.stages.duct_layout import STRAIGHT_DEG
from garnetfin.engine.stages.duct_make import DENSITY_KG_M3
from garnetfin.project.book import Book
from garnetfin.project.lookup import positions
from garnetfin.project.tree import Project

BULLHEAD_DEG = 60.0  # both legs of a junction beyond it, nothing goes on
LEAST_REST_M = 0.2  # a shorter rest of a straight run shares the last section
ONE_LINE_DEG = 5.0
SHORT_M = 1e-4


@dataclass(frozen=True, slots=True)
class Piece:
    """One fitting as it is made: its kind, its name in the catalogue, its sizes, the ducts it is booked on first.

    sheet_m2 developed, mass_kg with laps and flanges; 0 for what is bought (dampers, connectors).
    """

    kind: str  # bend, reducer, tee, tap, bullhead, box, connector, damper, cap
    name: str
    size: str
    segment_ids: tuple[str, ...]
    ends: tuple[Section, ...]
    angle_deg: float = 0.0
    sheet_m2: float = 0.0
    mass_kg: float = 0.0
    flange_m: float = 0.0
    thickness_m: float = 0.0


@dataclass(frozen=True, slots=True)
class StraightRun:
    """Drawn ducts in one line, of one section and make, with at most taps between them.

    axis_m as drawn, length_m less what fittings take at both ends and parts in it, stretches_m what it is made from.
    """

    segment_ids: tuple[str, ...]
    lengths_m: tuple[float, ...]  # of each as drawn
    axis_m: float
    length_m: float
    stretches_m: tuple[float, ...]
    sheet_m2: float
    mass_kg: float
    flange_m: float
    ties: int


@dataclass(frozen=True, slots=True)
class Pieces:
    """All pieces of a network; `lacking_m` by run where its fittings need more than is drawn."""

    fittings: tuple[Piece, ...]
    runs: tuple[StraightRun, ...]
    lacking_m: dict[str, float]  # by the first duct of a run
    takes_m: dict[str, tuple[float, float]]  # of every duct, at its end towards the unit and at the other

    @property
    def joints(self) -> int:
        """Where two pieces meet: one fewer than pieces; a tap sits on its main, the unit's connector is not ours."""
        parts = sum(len(r.stretches_m) for r in self.runs) + sum(
            p.kind not in ("connector", "tap") for p in self.fittings
        )
        return max(parts - 1, 0)


def stretches(length_m: float, piece_m: float) -> tuple[float, ...]:
    """Lengths of the sections of a straight run: whole ones and a rest; a rest too short to be made is shared out over
    the last two.
    """
    whole = int(length_m / piece_m + 1e-9)
    rest = length_m - whole * piece_m
    if rest < SHORT_M:
        return (piece_m,) * whole
    if rest < LEAST_REST_M and whole:
        return (*(piece_m,) * (whole - 1), (piece_m + rest) / 2, (piece_m + rest) / 2)
    return (*(piece_m,) * whole, rest)


def piece_length(book: Book, section: Section) -> float:
    """Of the standard length that a section is made in [m]."""
    return assumption(book, "piece_rectangular_m" if section.shape == "rectangular" else "piece_round_m").figure


def pieces_of(project: Project, found: DuctResult) -> Pieces:
    """All pieces of the ducts that could be computed."""
    return _Cutter(project, found).made()


class _Cutter:
    """Walks the tree once from the unit and notes what every node takes of the ducts at it."""

    def __init__(self, project: Project, found: DuctResult) -> None:
        self.project, self.found, self.book = project, found, project.book
        self.order = [int(s) for s in found.tree.order]
        self.parent = found.tree.parent.tolist()
        self.children: dict[int, list[int]] = defaultdict(list)
        for s in self.order:
            if self.parent[s] >= 0:
                self.children[self.parent[s]].append(s)
        self.known = [i in found.segments for i in found.segment_ids]
        # what could not be computed is in no order of the tree; the first one holds its place
        blank = next(iter(found.segments.values()))
        self.result = [found.segments.get(i, blank) for i in found.segment_ids]
        known = positions(project.segments)
        self.drawn = [project.segments[known[i]] for i in found.segment_ids]
        self.vector = self._vectors()
        self.size = [hypot(*v) for v in self.vector]
        self.near = [0.0] * len(self.result)
        self.far = [0.0] * len(self.result)
        self.pieces: list[Piece] = []

    def _vectors(self) -> list[tuple[float, float, float]]:
        """Of each duct away from the unit [m]."""
        points, entering = positions(self.project.duct_points), self.found.tree.entering.tolist()
        first = entering if self.found.ends is None else self.found.ends[:, 0].tolist()
        made = []
        for i, s in enumerate(self.drawn):
            a, b = (self.project.duct_points[points[p]] for p in (s.a, s.b))
            way = 1.0 if entering[i] == first[i] else -1.0
            made.append((way * (b.x_m - a.x_m), way * (b.y_m - a.y_m), way * (b.z_m - a.z_m)))
        return made

    def made(self) -> Pieces:
        """Fittings first, then what is left between them."""
        for s in self.order:
            r = self.result[s]
            if not self.known[s]:
                continue
            if self.parent[s] < 0:
                self._take(self.near, s, shapes.UNIT_M)
                self._add("connector", "unit connection", r.section.label, (s,), (r.section,))
            below = self.children[s]
            if len(below) == 1:
                self._in_line(s, below[0])
            elif below:
                self._junction(s, below)
            if any(f.name.startswith("damper") for f in r.fittings):
                name = next(f.name for f in r.fittings if f.name.startswith("damper"))
                self._take(self.near, s, shapes.DAMPER_M)
                self._add("damper", name, r.section.label, (s,), (r.section,))
        for open_end in end_caps(self.found):
            s = self.found.segment_ids.index(open_end)
            section = self.found.segments[open_end].section
            self._add("cap", "end-cap", section.label, (s,), (section,), shapes.cap_m2(section))
        runs, lacking = self._runs()
        takes = {i: (self.near[k], self.far[k]) for k, i in enumerate(self.found.segment_ids) if self.known[k]}
        return Pieces(tuple(self.pieces), runs, lacking, takes)

    # -- what stands at a node ---------------------------------------------------------------------------------
    def _in_line(self, p: int, s: int) -> None:
        """Bends and changes of size between a duct and the one behind it."""
        one, two = self.result[p], self.result[s]
        if not (self.known[p] and self.known[s]) or self._soft(p) or self._soft(s):
            return
        first = one if self.found.air == "supply" else two
        for f in two.fittings:
            if f.place == "elbow":
                angle = self._angle(p, s)
                mitred = "mitred" in f.name or "vaned" in f.name
                made = shapes.bend(first.section, angle, self._flat(p, s), mitred)
                self._take(self.far, p, made.takes_m[0])
                self._take(self.near, s, made.takes_m[1])
                self._add(
                    "bend", f.name, first.section.label, (s,), (first.section, first.section), made.sheet_m2, angle
                )
            elif f.place == "transition":
                self._reduced(p, s, f.name)

    def _reduced(self, p: int, s: int, name: str, behind_m: float = 0.0) -> None:
        """A reducer between two ducts, on the smaller of them; `behind_m` further on."""
        one, two = self.result[p].section, self.result[s].section
        sides = {self.drawn[i].side for i in (p, s)}
        made = shapes.reducer(one, two, len(sides) == 1 and "centre" not in sides)
        on_the_second = two.area_m2 <= one.area_m2
        self._take(self.near if on_the_second else self.far, s if on_the_second else p, made.takes_m[1] + behind_m)
        self._add("reducer", name, f"{one.label} – {two.label}", (s,), (one, two), made.sheet_m2, beside=p)

    def _junction(self, p: int, below: list[int]) -> None:
        """One piece where air parts or comes together, taps each for itself."""
        turn = {c: self._angle(p, c) for c in below if self.known[c]}
        main = self.result[p]
        if not turn:
            return
        through = min(turn, key=lambda c: turn[c])
        sections = [self.result[c].section for c in turn]
        ids = (*turn,)
        label = f"{main.section.label} – {' – '.join(s.label for s in sections)}"
        names = {c: next((f.name for f in self.result[c].fittings if f.place == "takeoff"), "") for c in turn}
        straight = turn[through] <= STRAIGHT_DEG
        if len(turn) > MOST_LEGS:
            made = shapes.box(main.section, sections)
            self._spread(p, ids, made)
            self._add("box", "plenum-box", label, ids, (main.section, *sections), made.sheet_m2, beside=p)
        elif not straight and min(turn.values()) > BULLHEAD_DEG:
            made = shapes.bullhead(main.section, sections, self._flat(p, ids[0]))
            self._spread(p, ids, made)
            self._add("bullhead", names[ids[0]], label, ids, (main.section, *sections), made.sheet_m2, beside=p)
        else:
            self._tees(p, through, [c for c in turn if c != through], turn, names, straight)

    def _tees(
        self, p: int, through: int, branches: list[int], turn: dict[int, float], names: dict[int, str], straight: bool
    ) -> None:
        """Branches beside a way that goes on: taps where they are small and upright, else a tee with its reducer."""
        main, on = self.result[p].section, self.result[through].section
        ups, downs, sheet = [0.0], [0.0], 0.0
        taps: list[float] = []
        teed: list[int] = []
        for c in branches:
            branch, flat = self.result[c].section, self._flat(p, c)
            if straight and shapes.tapped(main, branch, turn[c]):
                made = shapes.tap(main, branch, flat, "shoe" in names[c])
                taps.append(shapes.in_plane_m(branch, flat) / 2 + shapes.COLLAR_M)
                self._take(self.near, c, made.takes_m[2])
                size = f"{main.label} – {branch.label}"
                self._add("tap", names[c], size, (c,), (branch,), made.sheet_m2, turn[c])
                continue
            made = shapes.tee(main, branch, turn[c], flat)
            ups.append(made.takes_m[0])
            downs.append(made.takes_m[1])
            self._take(self.near, c, made.takes_m[2])
            # a second branch on the same piece shares its body
            sheet += made.sheet_m2 - (main.perimeter_m * sum(made.takes_m[:2]) if teed else 0.0)
            teed.append(c)
        self._take(self.far, p, max(ups))
        self._take(self.near, through, max(downs))
        reduced = main != on
        if teed:
            if reduced:
                made = shapes.reducer(main, on)
                self._take(self.near, through, made.takes_m[1])
                sheet += made.sheet_m2
            ends = (main, on, *(self.result[c].section for c in teed))
            size = f"{main.label} – {' – '.join(s.label for s in ends[1:])}"
            self._add("tee", names[teed[0]], size, (*teed, through), ends, max(sheet, 0.0), turn[teed[0]], beside=p)
        elif reduced:
            self._reduced(p, through, "reducer", max(taps, default=0.0))

    def _spread(self, p: int, below: tuple[int, ...], made: shapes.Shape) -> None:
        self._take(self.far, p, made.takes_m[0])
        for c, taken in zip(below, made.takes_m[1:]):
            self._take(self.near, c, taken)

    def _take(self, side: list[float], s: int, length_m: float) -> None:
        if not self._soft(s):
            side[s] += length_m

    # -- straight runs --------------------------------------------------------------------------------------------
    def _runs(self) -> tuple[tuple[StraightRun, ...], dict[str, float]]:
        follows: dict[int, int] = {}
        for p, below in self.children.items():
            for s in below:
                if self._goes_on(p, s):
                    follows[p] = s
        begun = set(follows.values())
        runs, lacking = [], {}
        for s in self.order:
            if s in begun or not self.known[s] or self._soft(s):
                continue
            chain = [s]
            while chain[-1] in follows:
                chain.append(follows[chain[-1]])
            run, lack = self._run(chain)
            runs.append(run)
            if lack > SHORT_M:
                lacking[self.found.segment_ids[s]] = lack
        return tuple(runs), lacking

    def _goes_on(self, p: int, s: int) -> bool:
        """Whether a duct is made in one line with the one before it."""
        one, two = self.result[p], self.result[s]
        if not (self.known[p] and self.known[s]) or self._soft(p) or self._soft(s):
            return False
        alike = (one.section, one.make, one.thickness_m, one.tightness) == (
            two.section,
            two.make,
            two.thickness_m,
            two.tightness,
        )
        return alike and self.far[p] + self.near[s] < SHORT_M and self._angle(p, s) <= ONE_LINE_DEG

    def _run(self, chain: list[int]) -> tuple[StraightRun, float]:
        rows = [self.result[s] for s in chain]
        axis = sum(r.length_m for r in rows)
        standing = sum(p.length_m for r in rows for p in r.inline)
        length = axis - sum(self.near[s] + self.far[s] for s in chain) - standing
        first = rows[0]
        outside = first.section.grown(first.make.lining_m)
        cut = stretches(max(length, 0.0), piece_length(self.book, first.section))
        sheet = outside.perimeter_m * max(length, 0.0)
        flange = 2 * len(cut) * outside.perimeter_m if outside.shape != "round" else 0.0
        run = StraightRun(
            tuple(self.found.segment_ids[s] for s in chain),
            tuple(r.length_m for r in rows),
            axis,
            max(length, 0.0),
            cut,
            sheet,
            self._mass(first, sheet, flange, outside),
            flange,
            sum(shapes.ties(outside, c, first.static_pa) for c in cut),
        )
        return run, max(-length, 0.0)

    # -- small things ---------------------------------------------------------------------------------------------
    def _add(
        self,
        kind: str,
        name: str,
        size: str,
        on: tuple[int, ...],
        ends: tuple[Section, ...],
        sheet_m2: float = 0.0,
        angle_deg: float = 0.0,
        beside: int = -1,
    ) -> None:
        """`beside` is another duct at the fitting: the thicker sheet of the two is taken for all of it."""
        r = self.result[on[0]]
        other = self.result[beside] if beside >= 0 else None
        r = other if other is not None and other.thickness_m > r.thickness_m else r
        ends = tuple(e.grown(r.make.lining_m) for e in ends)
        framed = kind not in ("cap", "damper", "connector")
        flange = sum(e.perimeter_m for e in ends if e.shape != "round") if framed else 0.0
        mass = self._mass(r, sheet_m2, flange, max(ends, key=lambda e: e.area_m2)) if sheet_m2 else 0.0
        ids = tuple(self.found.segment_ids[s] for s in on)
        thickness = r.thickness_m if sheet_m2 else 0.0
        self.pieces.append(Piece(kind, name or kind, size, ids, ends, angle_deg, sheet_m2, mass, flange, thickness))

    def _mass(self, r: SegmentResult, sheet_m2: float, flange_m: float, outside: Section) -> float:
        density = DENSITY_KG_M3.get(r.make.material, 0.0)
        if not density:
            return 0.0
        return shapes.sheet_kg(sheet_m2, r.thickness_m, density) + flange_m * shapes.flange_kg_m(outside)

    def _soft(self, s: int) -> bool:
        return self.result[s].make.material in FLEXIBLE

    def _angle(self, p: int, s: int) -> float:
        (ax, ay, az), (bx, by, bz) = self.vector[p], self.vector[s]
        size = self.size[p] * self.size[s]
        return degrees(acos(max(-1.0, min(1.0, (ax * bx + ay * by + az * bz) / size)))) if size > 0 else 0.0

    def _flat(self, p: int, s: int) -> bool:
        """Whether two ducts meet in plan."""
        rise = abs(self.vector[p][2]) + abs(self.vector[s][2])
        return rise < FLAT_RISE * (self.size[p] + self.size[s])


def joints(made: Pieces, run: StraightRun) -> tuple[tuple[str, float], ...]:
    """(duct, distance from its end towards the unit [m]) where the sections of a straight run meet."""
    found, at = [], made.takes_m[run.segment_ids[0]][0]
    places = []
    for stretch in run.stretches_m[:-1]:
        at += stretch
        places.append(at)
    begin = 0.0
    for i, length in zip(run.segment_ids, run.lengths_m):
        found += [(i, x - begin) for x in places if begin < x <= begin + length]
        begin += length
    return tuple(found)


def end_caps(found: DuctResult) -> tuple[str, ...]:
    """Segments whose far end is open: a cap closes them."""
    tree, ends = found.tree, {t.segment_id for t in found.terminals}
    going_on = {int(tree.parent[s]) for s in tree.order}
    return tuple(
        found.segment_ids[s]
        for s in tree.order
        if int(s) not in going_on and found.segment_ids[s] not in ends and found.segment_ids[s] in found.segments
    )
