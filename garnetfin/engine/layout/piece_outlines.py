"""Ducts of a level piece by piece: an outline for each section of a straight run, and what is left of the ducts
between them is fittings.
"""

from dataclasses import dataclass
from math import hypot

from garnetfin.core.adjacency import Outline
from garnetfin.engine.layout.duct_pieces import Pieces, StraightRun, pieces_of
from garnetfin.engine.layout.level_outlines import DuctOutlines
from garnetfin.engine.results import DuctResult
from garnetfin.project.tree import Project

LEAST_M = 1e-5  # gaps thinner than that come of rounding
LEAST_M2 = 1e-4  # and so do smaller rests


@dataclass(frozen=True, slots=True)
class PieceOutlines:
    straight: tuple[Outline, ...]
    fittings: tuple[Outline, ...]


def piece_outlines(project: Project, ducts: DuctResult, found: DuctOutlines) -> PieceOutlines:
    """Pieces of the ducts that lie flat on the level of `found`; none where nothing could be sized."""
    if not ducts.segments or not found.pieces:
        return PieceOutlines((), ())
    from shapely import Polygon, difference, unary_union

    made = pieces_of(project, ducts)
    sections = tuple(
        outline
        for run in made.runs
        if all(i in found.pieces for i in run.segment_ids)
        for outline in _sections(ducts, found, made, run)
    )
    whole = Polygon()
    for ring in found.rings:  # a ring within another one is a hole
        whole = whole.symmetric_difference(Polygon(ring).buffer(0))
    rest = difference(whole, unary_union([Polygon(s) for s in sections]).buffer(LEAST_M, join_style="mitre"))
    parts = [p for p in getattr(rest, "geoms", [rest]) if p.geom_type == "Polygon" and p.area > LEAST_M2]
    rings = (ring for part in parts for ring in (part.exterior, *part.interiors))
    return PieceOutlines(sections, tuple(tuple((float(x), float(y)) for x, y in r.coords[:-1]) for r in rings))


def _sections(ducts: DuctResult, found: DuctOutlines, made: Pieces, run: StraightRun) -> list[Outline]:
    first = run.segment_ids[0]
    (ax, ay), (bx, by) = found.lines[first]
    i = ducts.segment_ids.index(first)
    if ducts.ends is not None and ducts.tree.entering[i] != ducts.ends[i][0]:
        (ax, ay), (bx, by) = (bx, by), (ax, ay)
    length = hypot(bx - ax, by - ay)
    ux, uy, half = (bx - ax) / length, (by - ay) / length, ducts.segments[first].section.width_m / 2
    at = made.takes_m[first][0]
    outlines: list[Outline] = []
    for stretch in run.stretches_m:
        ends = [(ax + ux * t, ay + uy * t) for t in (at, at + stretch)]
        (x0, y0), (x1, y1) = ends
        outlines.append(
            (
                (x0 - uy * half, y0 + ux * half),
                (x1 - uy * half, y1 + ux * half),
                (x1 + uy * half, y1 - ux * half),
                (x0 + uy * half, y0 - ux * half),
            )
        )
        at += stretch
    return outlines
