"""Tracks on which ducts may run on one level: straight lines along x and y, with what each stretch costs and how high a
duct may be there.

Source: own method.
"""

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

Point = tuple[float, float]
Outline = tuple[Point, ...]
CLOSE_M = 0.15  # lines closer than this are one
MOST_NODES = 20_000
# weight of a metre: above a corridor, above a room, below a ceiling that hides nothing
CORRIDOR, ROOM, IN_VIEW = 1.0, 1.3, 2.2
WALL_M = 0.5  # more for a wall that is passed
BEND_M, TAKEOFF_M = 1.5, 1.0
BESIDE_M = 0.25  # a line past an obstacle, half a duct away


@dataclass(frozen=True, slots=True)
class Zone:
    """Free height of an area [m]."""

    name: str
    outline: Outline
    free_m: float


@dataclass(frozen=True, slots=True)
class Block:
    """Something in the way: free height that is left there [m], 0 for none; `name` says what it is."""

    name: str
    outline: Outline
    free_m: float = 0.0
    gates: tuple[tuple[Outline, float], ...] = ()  # holes in it and their heights


@dataclass(frozen=True, slots=True)
class Space:
    """One level as routes see it. `in_view` rooms have no ceiling to hide ducts; `shut` ones are kept out of."""

    rooms: tuple[Outline, ...]
    corridors: tuple[Outline, ...] = ()
    in_view: tuple[Outline, ...] = ()
    shut: tuple[tuple[str, Outline], ...] = ()
    zones: tuple[Zone, ...] = ()
    blocks: tuple[Block, ...] = ()
    ducts: tuple[Outline, ...] = ()  # that stay: no duct runs along over them


@dataclass(frozen=True, slots=True, eq=False)
class Tracks:
    """xy (n, 2); edges (m, 2) with length [m], weight [-], usable height [m] (inf where nothing limits it), what limits
    it.
    """

    xy: NDArray[np.float64]
    edges: NDArray[np.intp]
    length_m: NDArray[np.float64]
    weight: NDArray[np.float64]
    height_m: NDArray[np.float64]
    limit: NDArray[np.intp]  # into `names`, -1 for none
    names: tuple[str, ...]
    along_x: NDArray[np.bool_]
    corridor: NDArray[np.bool_]  # nodes above a corridor
    open: NDArray[np.bool_] = field(default_factory=lambda: np.zeros(0, bool))  # edges that may be used

    def nearest(self, at: Point) -> int:
        """Number of the node that lies nearest to a point in plan."""
        return int(np.argmin(((self.xy - np.asarray(at)) ** 2).sum(axis=1)))

    def without(self, closed: NDArray[np.bool_]) -> "Tracks":
        """The tracks with some stretches closed."""
        return replace(self, open=self.open & ~closed)


def tracks(
    space: Space, wanted: Sequence[Point], lanes_m: float = 0.0, also: Iterable[tuple[str, float]] = ()
) -> Tracks:
    """Lines through the wanted points, corridor axes and their quarter lines, room middles and the edges of obstacles.

    lanes_m  distance of further lanes in corridors (0: none)
    also     more lines, ("x" or "y", place)
    """
    lines = {"x": [], "y": []}
    for x, y in wanted:
        lines["x"].append((0, x))
        lines["y"].append((0, y))
    for axis, at in also:
        lines[axis].append((1, at))
    for outline in space.corridors:
        for part in _slabs(outline):
            x0, y0, x1, y1 = part
            long_x = x1 - x0 >= y1 - y0
            axis, low, high = ("y", y0, y1) if long_x else ("x", x0, x1)
            lines[axis] += [(1, low + (high - low) * f) for f in (0.5, 0.25, 0.75)]
            if lanes_m:
                lines[axis] += [(2, at) for at in np.arange(low + lanes_m / 2, high - lanes_m / 4, lanes_m)]
    for outline in space.rooms:
        xs, ys = [p[0] for p in outline], [p[1] for p in outline]
        lines["x"].append((3, (min(xs) + max(xs)) / 2))
        lines["y"].append((3, (min(ys) + max(ys)) / 2))
    for block in space.blocks:
        xs, ys = [p[0] for p in block.outline], [p[1] for p in block.outline]
        lines["x"] += [(4, min(xs) - BESIDE_M), (4, max(xs) + BESIDE_M)]
        lines["y"] += [(4, min(ys) - BESIDE_M), (4, max(ys) + BESIDE_M)]
        for gate, _ in block.gates:
            gx, gy = [p[0] for p in gate], [p[1] for p in gate]
            lines["x"].append((1, (min(gx) + max(gx)) / 2))
            lines["y"].append((1, (min(gy) + max(gy)) / 2))
    xs, ys = _thinned(lines["x"]), _thinned(lines["y"])
    while len(xs) * len(ys) > MOST_NODES:
        xs, ys = (xs[::2], ys) if len(xs) > len(ys) else (xs, ys[::2])
    return _network(space, np.array(xs), np.array(ys))


def _slabs(outline: Outline) -> list[tuple[float, float, float, float]]:
    """An upright outline cut into rectangles along its corners; neighbours in a row made one: the straight parts of a
    corridor.
    """
    import shapely

    shape = shapely.Polygon(outline)
    xs, ys = sorted({p[0] for p in outline}), sorted({p[1] for p in outline})
    parts = []
    for y0, y1 in itertools.pairwise(ys):
        run = None
        for x0, x1 in itertools.pairwise(xs):
            inside = shape.contains(shapely.Point((x0 + x1) / 2, (y0 + y1) / 2))
            if inside:
                run = (run[0], y0, x1, y1) if run else (x0, y0, x1, y1)
            elif run:
                parts.append(run)
                run = None
        if run:
            parts.append(run)
    return parts


def _thinned(lines: list[tuple[int, float]]) -> list[float]:
    """Lines by rank; those close to one of a better rank go."""
    kept: list[float] = []
    for _, at in sorted(lines):
        if all(abs(at - k) >= (CLOSE_M if _ else 1e-6) for k in kept):
            kept.append(float(at))
    return sorted(kept)


def _network(space: Space, xs: NDArray[Any], ys: NDArray[Any]) -> Tracks:
    import shapely

    building = shapely.unary_union([shapely.Polygon(o).buffer(0.02) for o in space.rooms])
    shut = shapely.unary_union([shapely.Polygon(o) for _, o in space.shut]) if space.shut else shapely.Polygon()
    shapely.prepare(building)
    gx, gy = np.meshgrid(xs, ys, indexing="ij")
    inside = shapely.contains_xy(building, gx, gy)
    if space.shut:
        inside &= ~shapely.contains_xy(shut, gx, gy)
    number = np.where(inside, np.cumsum(inside.ravel()).reshape(inside.shape) - 1, -1)
    xy = np.column_stack([gx[inside], gy[inside]])
    pairs, along = [], []
    for a, b, flat in ((number[:-1, :], number[1:, :], True), (number[:, :-1], number[:, 1:], False)):
        both = (a >= 0) & (b >= 0)
        pairs.append(np.column_stack([a[both], b[both]]))
        along.append(np.full(int(both.sum()), flat))
    edges, along_x = np.concatenate(pairs), np.concatenate(along)
    segments = shapely.linestrings(np.stack([xy[edges[:, 0]], xy[edges[:, 1]]], axis=1))
    kept = shapely.covers(building, segments)
    if space.shut:
        kept &= ~shapely.crosses(segments, shut)
    edges, along_x, segments = edges[kept], along_x[kept], segments[kept]
    length = np.abs(xy[edges[:, 0]] - xy[edges[:, 1]]).sum(axis=1)
    room = np.full(len(xy), -1)
    for i, outline in enumerate(space.rooms):
        room[shapely.contains_xy(shapely.Polygon(outline), xy[:, 0], xy[:, 1])] = i
    corridor = _in(space.corridors, xy)
    middle = (xy[edges[:, 0]] + xy[edges[:, 1]]) / 2
    weight = np.where(_in(space.corridors, middle), CORRIDOR, np.where(_in(space.in_view, middle), IN_VIEW, ROOM))
    walls = room[edges[:, 0]] != room[edges[:, 1]]
    weight = weight + np.where(walls, WALL_M / np.maximum(length, 1e-6), 0.0)
    height, limit, names = np.full(len(edges), np.inf), np.full(len(edges), -1), []
    for zone in space.zones:
        over = shapely.intersects(segments, shapely.Polygon(zone.outline).buffer(-0.02))
        names.append(zone.name)
        lower = over & (zone.free_m < height)
        height[lower], limit[lower] = zone.free_m, len(names) - 1
    for block in space.blocks:
        over = shapely.intersects(segments, shapely.Polygon(block.outline))
        free = np.full(len(edges), block.free_m)
        for gate, height_m in block.gates:
            free[shapely.intersects(segments, shapely.Polygon(gate))] = height_m
        names.append(block.name)
        lower = over & (free < height)
        height[lower], limit[lower] = free[lower], len(names) - 1
    usable = np.ones(len(edges), bool)
    for outline in space.ducts:
        shape = shapely.Polygon(outline)
        common = shapely.length(shapely.intersection(segments, shape))
        box = shape.minimum_rotated_rectangle
        across = min(
            shapely.Point(box.exterior.coords[0]).distance(shapely.Point(box.exterior.coords[1])),
            shapely.Point(box.exterior.coords[1]).distance(shapely.Point(box.exterior.coords[2])),
        )
        # crossing is judged later, by heights; running along is not possible
        usable &= common <= across + 0.05
        weight = weight + np.where(common > 0.01, 2.0 / np.maximum(length, 1e-6), 0.0)
    return Tracks(xy, edges, length, weight, height, limit, tuple(names), along_x, corridor, usable)


def _in(outlines: tuple[Outline, ...], xy: NDArray[Any]) -> NDArray[np.bool_]:
    import shapely

    found = np.zeros(len(xy), bool)
    for outline in outlines:
        found |= shapely.contains_xy(shapely.Polygon(outline), xy[:, 0], xy[:, 1])
    return found
