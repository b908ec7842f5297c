"""The bill of quantities of a system's ducts: lengths and sheet by size, standard pieces, fittings, flexible ducts, terminals."""

from collections import Counter
from dataclasses import dataclass

from garnetfin.core.ducts.sizes import SEAMS, STEEL_KG_M3, Section, sheet_m
from garnetfin.engine.results import DuctResult, Results

PIECE_M = {"rectangular": 1.5, "round": 3.0}     # standard lengths of sections; project default
LEAST_PIECE_M = 0.2


@dataclass(frozen=True, slots=True)
class SizeRow:
    """A size: straight length [m], standard sections and cut pieces, sheet [m2] and its thickness [m], steel with seams [kg]."""

    section: Section
    length_m: float
    standard: int
    cut: int
    sheet_m2: float
    thickness_m: float
    mass_kg: float


@dataclass(frozen=True, slots=True)
class CountRow:
    kind: str                        # fitting, flexible, terminal, damper
    name: str
    size: str
    count: int
    length_m: float = 0.0


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
    """(standard sections, cut pieces) of a straight length; a rest too short to be made shares the last section with one cut more."""
    whole = int(length_m / piece_m + 1e-9)
    rest = length_m - whole * piece_m
    if rest < 1e-6:
        return whole, 0
    if rest < LEAST_PIECE_M and whole:
        return whole - 1, 2
    return whole, 1


def take_off(results: Results, found: DuctResult) -> TakeOff:
    """All ducts of a system; fittings by name and size, as topology, sizes and directions call for them."""
    lengths: dict[Section, list[float]] = {}
    fittings: Counter = Counter()
    flexible: dict[str, list[float]] = {}
    known = {s.id: s for s in results.project.segments}
    for r in found.segments.values():
        lengths.setdefault(r.section, []).append(r.length_m)
        for f in r.fittings:
            fittings["damper" if f.name.startswith("damper") else "fitting", f.name, r.section.label] += 1
        if known[r.segment_id].flexible_m > 0:
            flexible.setdefault(r.section.label, []).append(known[r.segment_id].flexible_m)
    sizes = []
    for section in sorted(lengths, key=lambda s: (s.shape, s.area_m2)):
        made = [pieces(x, PIECE_M[section.shape]) for x in lengths[section]]
        total, t = sum(lengths[section]), sheet_m(section.shape, max(section.width_m, section.height_m))
        sheet = section.perimeter_m * total
        sizes.append(SizeRow(section, total, sum(a for a, _ in made), sum(b for _, b in made), sheet, t, sheet * t * STEEL_KG_M3 * SEAMS))
    counts = [CountRow(kind, name, size, n) for (kind, name, size), n in sorted(fittings.items())]
    counts += [CountRow("flexible", "flexible duct", size, len(xs), sum(xs)) for size, xs in sorted(flexible.items())]
    models = Counter(t.point.model for t in found.terminals)
    counts += [CountRow("terminal", model, "", n) for model, n in sorted(models.items())]
    return TakeOff(tuple(sizes), tuple(counts))

