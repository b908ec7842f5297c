"""A run of ducts unrolled: ducts at their height between floor and structure, ceilings, beams, clashes, and pressure on
the way.
"""

from dataclasses import dataclass
from math import hypot
from typing import Any

from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.results import DuctResult, Results
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Level

LEAST_M = 0.35  # on the axis for a riser, which has no length in plan


@dataclass(frozen=True, slots=True)
class Piece:
    """A duct from start to end along the run [m]; z of its axis at both, outer height and section; total pressure at
    its end [Pa].
    """

    segment_id: str
    start_m: float
    end_m: float
    z_start: float
    z_end: float
    height_m: float
    section: Section
    upright: bool
    pressure_pa: float
    flow_m3s: float
    level_id: str


@dataclass(frozen=True, slots=True)
class Stretch:
    """Something above or below the run: a ceiling zone (low: ceiling, high: structure) or an obstacle (its lower and
    upper edge).
    """

    kind: str  # zone, or the obstacle's own
    name: str
    part_id: str
    start_m: float
    end_m: float
    low_m: float
    high_m: float
    lowest_m: float = 0.0  # of a zone: the lowest permitted edge of a duct


@dataclass(frozen=True, slots=True)
class Overlap:
    """A duct and what it meets: place, heights, and how far they overlap [m]."""

    segment_id: str
    what: str
    start_m: float
    end_m: float
    low_m: float
    high_m: float

    @property
    def words(self) -> str:
        return f"{self.what} and {self.segment_id} overlap by {(self.high_m - self.low_m) * 1000:.0f} mm"


@dataclass(frozen=True, slots=True)
class LongSection:
    pieces: tuple[Piece, ...]
    stretches: tuple[Stretch, ...]
    overlaps: tuple[Overlap, ...]
    levels: tuple[Level, ...]
    length_m: float


def long_section(results: Results, found: DuctResult, segment_id: str) -> LongSection:
    """The run from the unit to a segment, in the order of the way from the unit; risers take a little length of their
    own.
    """
    from shapely import LineString, Point, Polygon

    project = results.project
    pieces, stretches, overlaps, seen, at = [], [], [], [], 0.0
    ids = list(found.segment_ids)
    for i in found.path(segment_id):
        r, k = found.segments[i], ids.index(i)
        segment = find(project.segments, i)
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        if found.tree.leaving[k] == found.ends[k][0]:
            a, b = b, a
        plan = hypot(a.x_m - b.x_m, a.y_m - b.y_m)
        upright = plan < 0.05
        end = at + (LEAST_M if upright else plan)
        pieces.append(
            Piece(i, at, end, a.z_m, b.z_m, r.outer_height_m, r.section, upright, r.left_pa, r.flow_m3s, b.level_id)
        )
        level = find(project.levels, a.level_id)
        if level not in seen:
            seen.append(level)
        if not upright:
            line, base = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)]), level.elevation_m

            def spans(
                outline: tuple[Any, ...], line: LineString = line, start: float = at
            ) -> list[tuple[float, float]]:
                inter = line.intersection(Polygon(outline).buffer(0))
                parts = [g for g in getattr(inter, "geoms", [inter]) if g.length > 0.01]
                return [
                    tuple(sorted(start + line.project(Point(q)) for q in (g.coords[0], g.coords[-1]))) for g in parts
                ]

            for zone in project.ceiling_zones:
                if zone.level_id == level.id:
                    for s, e in spans(zone.outline):
                        stretches.append(
                            Stretch(
                                "zone",
                                zone.name,
                                zone.id,
                                s,
                                e,
                                base + zone.ceiling_m,
                                base + zone.soffit_m,
                                base + zone.ceiling_m + zone.allowance_m,
                            )
                        )
            for obstacle in project.obstacles:
                if obstacle.level_id != level.id or obstacle.kind == "column":
                    continue
                for s, e in spans(obstacle.outline):
                    low, high = base + obstacle.bottom_m, base + obstacle.top_m
                    stretches.append(
                        Stretch(obstacle.kind, f"{obstacle.kind} {obstacle.id}", obstacle.id, s, e, low, high)
                    )
                    middle = (s + e) / 2
                    z = a.z_m + (b.z_m - a.z_m) * (middle - at) / plan
                    bottom, top = z - r.outer_height_m / 2, z + r.outer_height_m / 2
                    sleeve = any(base + h.bottom_m <= bottom and top <= base + h.top_m for h in obstacle.sleeves)
                    if obstacle.in_way and min(top, high) - max(bottom, low) > 0.001 and not sleeve:
                        overlaps.append(
                            Overlap(i, f"{obstacle.kind} {obstacle.id}", s, e, max(bottom, low), min(top, high))
                        )
        at = end
    return LongSection(tuple(pieces), tuple(stretches), tuple(overlaps), tuple(seen), at)
