"""The bill of quantities of a system's ducts: lengths and sheet by size, standard pieces, fittings, flexible ducts,
terminals.
"""

from collections import Counter
from dataclasses import dataclass
from typing import Any

from garnetfin.core.ducts.fittings.catalogue import STRAIGHT_LEGS
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import DuctResult, Results, SegmentResult
from garnetfin.project.book import Book

LEAST_PIECE_M = 0.2
# Fittings whose two legs or more are booked each on its own duct.
OF_TWO_LEGS = ("tee-div-bullhead", "tee-conv-bullhead", "cross-div-90", "plenum-box")


@dataclass(frozen=True, slots=True)
class SizeRow:
    """A size of one material and sheet: straight length [m], standard sections and cut pieces, sheet [m2] and thickness
    [m], mass with seams [kg].

    `section` is the clear inside; a lined duct's sheet goes around its lining.
    """

    section: Section
    length_m: float
    standard: int
    cut: int
    sheet_m2: float
    thickness_m: float
    mass_kg: float
    material: str = "galvanised"
    tightness: str = "B"
    segment_ids: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class CountRow:
    kind: str  # fitting, flexible, terminal, damper, lining, insulation
    name: str
    size: str
    count: int
    length_m: float = 0.0
    area_m2: float = 0.0


@dataclass(frozen=True, slots=True)
class TakeOff:
    sizes: tuple[SizeRow, ...]
    counts: tuple[CountRow, ...]

    @property
    def mass_kg(self) -> float:
        return sum(r.mass_kg for r in self.sizes)

    @property
    def sheet_m2(self) -> float:
        return sum(r.sheet_m2 for r in self.sizes)

    def by_thickness(self) -> tuple[tuple[float, float, float], ...]:
        """(thickness [m], sheet [m2], steel [kg]), thin first."""
        found: dict[float, list[float]] = {}
        for r in self.sizes:
            row = found.setdefault(r.thickness_m, [0.0, 0.0])
            row[0] += r.sheet_m2
            row[1] += r.mass_kg
        return tuple((t, *found[t]) for t in sorted(found))


def pieces(length_m: float, piece_m: float) -> tuple[int, int]:
    """(standard sections, cut pieces) of a straight length; a rest too short to be made shares the last section with
    one cut more.
    """
    whole = int(length_m / piece_m + 1e-9)
    rest = length_m - whole * piece_m
    if rest < 1e-6:
        return whole, 0
    if rest < LEAST_PIECE_M and whole:
        return whole - 1, 2
    return whole, 1


@dataclass(frozen=True, slots=True)
class FittingPiece:
    """A fitting as one piece that is made or bought, with the duct it is booked on; both sizes of junctions and
    transitions.
    """

    kind: str  # fitting, damper
    name: str
    size: str
    segment_id: str


def fitting_pieces(found: DuctResult) -> list[FittingPiece]:
    """One piece for each fitting: the straight leg of a junction is no piece of its own, and one in which two legs are
    booked alike is one piece.
    """
    made: list[FittingPiece] = []
    whole: set[tuple[int, str]] = set()
    for k, segment_id in enumerate(found.segment_ids):
        r, above = found.segments.get(segment_id), int(found.tree.parent[k])
        if r is None:
            continue
        before = found.segments.get(found.segment_ids[above]) if above >= 0 else None
        for f in r.fittings:
            of_two = f.name in OF_TWO_LEGS
            if f.name in STRAIGHT_LEGS or (of_two and (above, f.name) in whole):
                continue
            if of_two:
                whole.add((above, f.name))
            size = r.section.label
            if before is not None and (of_two or f.place in ("takeoff", "transition")):
                size = f"{before.section.label} – {size}"
            made.append(FittingPiece("damper" if f.name.startswith("damper") else "fitting", f.name, size, segment_id))
    return made


def take_off(results: Results, found: DuctResult) -> TakeOff:
    """All ducts of a system; fittings by name and size, as topology, sizes and directions call for them."""
    book = results.project.book
    lengths: dict[tuple[Any, ...], list[SegmentResult]] = {}
    counts_of: Counter[Any] = Counter()
    flexible: dict[str, list[float]] = {}
    around: dict[tuple[str, float], float] = {}
    known = {s.id: s for s in results.project.segments}
    for r in found.segments.values():
        if r.make.material in FLEXIBLE:
            flexible.setdefault(r.section.label, []).append(r.length_m)
        else:
            lengths.setdefault(
                (r.section, r.make.material, r.make.lining_m, round(r.thickness_m, 6), r.tightness), []
            ).append(r)
        if known[r.segment_id].flexible_m > 0:
            flexible.setdefault(r.section.label, []).append(known[r.segment_id].flexible_m)
        outside = r.section.grown(r.make.lining_m)
        if r.make.lining_m > 0:
            around["lining", r.make.lining_m] = (
                around.get(("lining", r.make.lining_m), 0.0) + outside.perimeter_m * r.length_m
            )
        if r.make.insulation_m > 0:
            thick = r.make.insulation_m
            around["insulation", thick] = (
                around.get(("insulation", thick), 0.0) + outside.grown(thick).perimeter_m * r.length_m
            )
    counts_of.update((p.kind, p.name, p.size) for p in fitting_pieces(found))
    sizes = []
    for row in sorted(lengths, key=lambda k: (k[0].shape, k[0].area_m2, *k[1:])):
        section, material, lining, thick, tight = row
        piece = assumption(book, "piece_rectangular_m" if section.shape == "rectangular" else "piece_round_m").figure
        made = [pieces(r.length_m, piece) for r in lengths[row]]
        total = sum(r.length_m for r in lengths[row])
        sizes.append(
            SizeRow(
                section,
                total,
                sum(a for a, _ in made),
                sum(b for _, b in made),
                section.grown(lining).perimeter_m * total,
                thick,
                sum(r.mass_kg for r in lengths[row]),
                material,
                tight,
                tuple(r.segment_id for r in lengths[row]),
            )
        )
    caps = Counter(found.segments[i].section.label for i in end_caps(found))
    counts = [CountRow(kind, name, size, n) for (kind, name, size), n in sorted(counts_of.items())]
    counts += [CountRow("fitting", "end-cap", size, n) for size, n in sorted(caps.items())]
    counts += [CountRow("flexible", "flexible duct", size, len(xs), sum(xs)) for size, xs in sorted(flexible.items())]
    counts += [
        CountRow(kind, f"{kind}, {thick * 1000:.0f} mm", "", 1, 0.0, area)
        for (kind, thick), area in sorted(around.items())
    ]
    models = Counter(t.point.model for t in found.terminals)
    counts += [CountRow("terminal", model, "", n) for model, n in sorted(models.items())]
    return TakeOff(tuple(sizes), tuple(counts))


def joints(book: Book, r: SegmentResult) -> tuple[float, ...]:
    """Where standard sections of a duct meet, from its first end [m]."""
    piece = assumption(book, "piece_rectangular_m" if r.section.shape == "rectangular" else "piece_round_m").figure
    whole, cut = pieces(r.length_m, piece)
    rest = r.length_m - whole * piece
    return tuple(piece * (i + 1) for i in range(whole if cut else whole - 1)) + (
        (whole * piece + rest / 2,) if cut == 2 else ()
    )


def end_caps(found: DuctResult) -> tuple[str, ...]:
    """Segments whose far end is open: a cap closes them."""
    tree, ends = found.tree, {t.segment_id for t in found.terminals}
    going_on = {int(tree.parent[s]) for s in tree.order}
    return tuple(
        found.segment_ids[s] for s in tree.order if int(s) not in going_on and found.segment_ids[s] not in ends
    )
