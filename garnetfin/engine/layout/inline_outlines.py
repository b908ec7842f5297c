"""Parts in ducts of a level as places in metres: where each stands, which way its air goes, how long and wide it is."""

from math import hypot
from typing import NamedTuple

from garnetfin.engine.layout.level_outlines import Point
from garnetfin.engine.results import DuctResult, InlineRecord
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

LEAST_M = 0.12  # drawn length of what takes none, such as a door


class PlacedPart(NamedTuple):
    """A part: its middle, the way the air goes in its duct (a unit vector), its length along and its width across."""

    record: InlineRecord
    middle: Point
    way: Point
    length_m: float
    width_m: float
    duct_m: float  # width of the duct

    @property
    def corners(self) -> tuple[Point, Point, Point, Point]:
        (x, y), (ux, uy) = self.middle, self.way
        a, b = self.length_m / 2, self.width_m / 2
        return tuple(  # type: ignore[return-value]
            (x + s * a * ux - t * b * uy, y + s * a * uy + t * b * ux) for s, t in ((-1, -1), (1, -1), (1, 1), (-1, 1))
        )


def parts_of_level(project: Project, ducts: DuctResult, level_id: str) -> tuple[PlacedPart, ...]:
    """Parts in ducts that lie on a level; those in upright ducts are not seen in plan."""
    found = []
    for r in ducts.segments.values():
        if not r.inline:
            continue
        segment = find(project.segments, r.segment_id)
        if segment is None:  # results of the project before
            continue
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        length = hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        if level_id not in (a.level_id, b.level_id) or length < 1e-6:
            continue
        for p in r.inline:
            share = p.near_m / max(r.length_m, 1e-9)
            share = share if p.from_a else 1 - share
            outward = 1.0 if p.from_a == (ducts.air == "supply") else -1.0
            way = (outward * (b.x_m - a.x_m) / length, outward * (b.y_m - a.y_m) / length)
            middle = (a.x_m + share * (b.x_m - a.x_m), a.y_m + share * (b.y_m - a.y_m))
            found.append(
                PlacedPart(
                    p,
                    middle,
                    way,
                    max(p.length_m, LEAST_M),
                    max(p.section.width_m, r.section.width_m),
                    r.section.width_m,
                )
            )
    return tuple(found)
