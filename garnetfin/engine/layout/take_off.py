"""The bill of quantities of a system's ducts: straight lengths and sheet by size, fittings as pieces with their sheet,
flexible ducts, insulation, hangers, terminals.
"""

from collections import Counter
from dataclasses import dataclass
from math import ceil
from typing import Any

from garnetfin.core.ducts import pieces as shapes
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.tables import hangers
from garnetfin.engine.layout.duct_pieces import Piece, Pieces, StraightRun, piece_length, pieces_of
from garnetfin.engine.results import DuctResult, InlineRecord, Results, SegmentResult
from garnetfin.project.book import Book


@dataclass(frozen=True, slots=True)
class SizeRow:
    """A size of one material and sheet: straight length between fittings [m], standard sections and cut pieces, sheet
    [m2] and thickness [m], mass with laps and flanges [kg], flange frames [m].

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
    flange_m: float = 0.0
    axis_m: float = 0.0  # as drawn, with what fittings take


@dataclass(frozen=True, slots=True)
class CountRow:
    kind: str  # fitting, part, connector, flexible, terminal, damper, lining, insulation, hanger
    name: str
    size: str
    count: int
    length_m: float = 0.0
    area_m2: float = 0.0
    mass_kg: float = 0.0
    thickness_m: float = 0.0


@dataclass(frozen=True, slots=True)
class TakeOff:
    """All of a network; sums are of straight runs and fittings together."""

    sizes: tuple[SizeRow, ...]
    counts: tuple[CountRow, ...]
    made: Pieces

    @property
    def straight_m(self) -> float:
        """Straight duct between fittings [m]."""
        return sum(r.length_m for r in self.sizes)

    @property
    def mass_kg(self) -> float:
        """Steel of straights and fittings [kg]."""
        return sum(r.mass_kg for r in self.sizes) + sum(r.mass_kg for r in self.counts if r.kind == "fitting")

    @property
    def sheet_m2(self) -> float:
        """Developed sheet of straights and fittings [m2]."""
        return sum(r.sheet_m2 for r in self.sizes) + sum(r.area_m2 for r in self.counts if r.kind == "fitting")

    @property
    def flange_m(self) -> float:
        """Flange frames of straights and fittings [m]."""
        return sum(r.flange_m for r in self.sizes) + sum(p.flange_m for p in self.made.fittings)

    def by_thickness(self) -> tuple[tuple[float, float, float], ...]:
        """(thickness [m], sheet [m2], steel [kg]), thin first."""
        found: dict[float, list[float]] = {}
        fittings = [(r.thickness_m, r.area_m2, r.mass_kg) for r in self.counts if r.kind == "fitting"]
        for thickness, sheet, mass in [*((r.thickness_m, r.sheet_m2, r.mass_kg) for r in self.sizes), *fittings]:
            row = found.setdefault(thickness, [0.0, 0.0])
            row[0] += sheet
            row[1] += mass
        return tuple((t, *found[t]) for t in sorted(found))


def take_off(results: Results, found: DuctResult) -> TakeOff:
    """All ducts of a system; fittings by name and size, as topology, sizes and directions call for them."""
    made = pieces_of(results.project, found)
    return TakeOff(
        _sizes(results.project.book, found, made),
        (
            *_fittings(made),
            *_parts(found),
            *_soft(results, found),
            *_around(found, made),
            *_hangers(found),
            *_terminals(found),
        ),
        made,
    )


def _sizes(book: Book, found: DuctResult, made: Pieces) -> tuple[SizeRow, ...]:
    rows: dict[tuple[Any, ...], list[StraightRun]] = {}
    for run in made.runs:
        r = found.segments[run.segment_ids[0]]
        alike = (r.section, r.make.material, r.make.lining_m, round(r.thickness_m, 6), r.tightness)
        rows.setdefault(alike, []).append(run)
    sizes = []
    for alike in sorted(rows, key=lambda k: (k[0].shape, k[0].area_m2, *k[1:])):
        section, material, _lining, thick, tight = alike
        whole = piece_length(book, section)
        stretches = [x for run in rows[alike] for x in run.stretches_m]
        standard = sum(abs(x - whole) < 1e-6 for x in stretches)
        sizes.append(
            SizeRow(
                section,
                sum(run.length_m for run in rows[alike]),
                standard,
                len(stretches) - standard,
                sum(run.sheet_m2 for run in rows[alike]),
                thick,
                sum(run.mass_kg for run in rows[alike]),
                material,
                tight,
                tuple(i for run in rows[alike] for i in run.segment_ids),
                sum(run.flange_m for run in rows[alike]),
                sum(run.axis_m for run in rows[alike]),
            )
        )
    return tuple(sizes)


def _fittings(made: Pieces) -> list[CountRow]:
    """Pieces by what they are, their sizes and their sheet."""
    alike: dict[tuple[Any, ...], list[Piece]] = {}
    for piece in made.fittings:
        bought = piece.kind if piece.kind in ("damper", "connector") else "fitting"
        thick = round(piece.thickness_m, 6)
        alike.setdefault((bought, piece.name, piece.size, thick), []).append(piece)
    return [
        CountRow(
            kind,
            name,
            size,
            len(of),
            area_m2=sum(p.sheet_m2 for p in of),
            mass_kg=sum(p.mass_kg for p in of),
            thickness_m=thick,
        )
        for (kind, name, size, thick), of in sorted(alike.items())
    ]


def _parts(found: DuctResult) -> list[CountRow]:
    """Parts that stand in ducts, by kind and model."""
    alike: dict[tuple[str, str], list[InlineRecord]] = {}
    for r in found.segments.values():
        for p in r.inline:
            name = f"{p.kind} {p.model.model}" if p.model is not None else p.kind
            alike.setdefault((name, p.section.label), []).append(p)
    return [
        CountRow("part", name, size, len(of), sum(p.length_m for p in of), mass_kg=sum(p.mass_kg for p in of))
        for (name, size), of in sorted(alike.items())
    ]


def _soft(results: Results, found: DuctResult) -> list[CountRow]:
    """Flexible ducts, whole ones and ends; all are round: an end is as wide as the neck it comes to."""
    flexible: dict[str, list[float]] = {}
    known = {s.id: s for s in results.project.segments}
    necks = {t.segment_id: t.point.neck_m for t in found.terminals if not t.neck}

    def round_label(section: Section, neck_m: float) -> str:
        if section.shape == "round":
            return section.label
        wide = neck_m or section.equal_area_m
        return Section("round", wide, wide).label

    for r in found.segments.values():
        if r.make.material in FLEXIBLE:
            flexible.setdefault(round_label(r.section, 0.0), []).append(r.length_m)
        if known[r.segment_id].flexible_m > 0:
            label = round_label(r.section, necks.get(r.segment_id, 0.0))
            flexible.setdefault(label, []).append(known[r.segment_id].flexible_m)
    return [CountRow("flexible", "flexible duct", size, len(xs), sum(xs)) for size, xs in sorted(flexible.items())]


def _around(found: DuctResult, made: Pieces) -> list[CountRow]:
    """Lining inside and insulation outside, of straights and fittings."""
    around: dict[tuple[str, float], float] = {}

    def add(r: SegmentResult, straight_m: float, sheet_m2: float) -> None:
        outside = r.section.grown(r.make.lining_m)
        for kind, thick, inner, outer in (
            ("lining", r.make.lining_m, outside, outside),
            ("insulation", r.make.insulation_m, outside, outside.grown(r.make.insulation_m)),
        ):
            if thick > 0:
                area = shapes.wrapped_m2(inner, outer, straight_m, sheet_m2)
                around[kind, thick] = around.get((kind, thick), 0.0) + area

    for run in made.runs:
        axis = max(run.axis_m, 1e-9)
        for i in run.segment_ids:  # each duct of a run has its share, as it may be wrapped by itself
            add(found.segments[i], run.length_m * found.segments[i].length_m / axis, 0.0)
    for piece in made.fittings:
        if piece.sheet_m2 > 0:
            add(found.segments[piece.segment_ids[0]], 0.0, piece.sheet_m2)
    return [
        CountRow(kind, f"{kind}, {thick * 1000:.0f} mm", "", 1, area_m2=area)
        for (kind, thick), area in sorted(around.items())
    ]


def _hangers(found: DuctResult) -> list[CountRow]:
    """Supports of every drawn duct that lies, one at each floor where it rises."""
    counts: Counter[tuple[str, str]] = Counter()
    mass: dict[tuple[str, str], float] = {}
    for r in found.segments.values():
        if r.make.material in FLEXIBLE:
            continue
        hanger = shapes.hanger_for(hangers(), r.section.grown(r.make.around_m))
        by_length = 1 if r.role == "riser" else shapes.hangers_on(r.length_m, hanger.spacing_m)
        number = max(by_length, ceil(r.mass_kg / hanger.capacity_kg))  # closer where the steel would be too much
        kind = f"hanger, M{hanger.rod}, {hanger.rail}", f"{r.section.shape} to {hanger.upto_m * 1000:.0f} mm"
        counts[kind] += number
        mass[kind] = mass.get(kind, 0.0) + number * hanger.mass_kg
    return [CountRow("hanger", name, size, n, mass_kg=mass[name, size]) for (name, size), n in sorted(counts.items())]


def _terminals(found: DuctResult) -> list[CountRow]:
    models = Counter(t.point.model for t in found.terminals)
    return [CountRow("terminal", model, "", n) for model, n in sorted(models.items())]
