"""Tracks on which ducts may run on one level: straight lines along the axes of every wing, with what each stretch costs
and how high a duct may be there.

Source: own method.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.adjacency import LARGEST_GAP_M
from garnetfin.core.routes.wings import Outline as Outline
from garnetfin.core.routes.wings import Point, Wing, between, turned, turned_xy, wings

Area = Any  # a polygon of shapely, which is imported where it is needed
CLOSE_M = 0.15  # lines closer than this are one
MOST_NODES = 20_000
# weight of a metre: above a corridor, above a room, below a ceiling that hides nothing
CORRIDOR, ROOM, IN_VIEW = 1.0, 1.3, 2.2
WALL_M = 0.5  # more for a wall that is passed
BEND_M, TAKEOFF_M = 1.5, 1.0
EDGE_M = 0.02  # lines on an edge lie inside
LINKS_M, MOST_LINKS = (2.0, 6.0, 15.0), 6  # from wing to wing: how far, near first, and how many at a border
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
    marks: tuple[Outline, ...] = ()  # shafts and units, which ducts may cross and which turn no axes


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
    linking: NDArray[np.bool_]  # edges from wing to wing, in any direction
    wing: NDArray[np.intp]  # of a node
    axes: NDArray[np.float64]  # turn of each wing's axes [rad]
    open: NDArray[np.bool_] = field(default_factory=lambda: np.zeros(0, bool))  # edges that may be used

    def own_xy(self, wing: int) -> NDArray[np.float64]:
        """All nodes (n, 2) in the frame of a wing [m]."""
        return turned_xy(self.xy, -float(self.axes[wing])) if self.axes[wing] else self.xy

    def nearest(self, at: Point) -> int:
        """Number of the node that lies nearest to a point in plan."""
        return int(np.argmin(((self.xy - np.asarray(at)) ** 2).sum(axis=1)))

    def without(self, closed: NDArray[np.bool_]) -> "Tracks":
        """The tracks with some stretches closed."""
        return replace(self, open=self.open & ~closed)


def tracks(space: Space, wanted: Sequence[Point], lanes_m: float = 0.0, past_ducts_m: float = 0.0) -> Tracks:
    """Lines through the wanted points, corridor axes and their quarter lines, room middles and the edges of obstacles,
    in every wing along its own axes.

    lanes_m       distance of further lanes in corridors (0: none)
    past_ducts_m  distance of a line on either side of ducts that stay (0: none)
    """
    building = closed((*space.rooms, *space.marks))
    parts = wings(space.rooms, space.corridors) or (Wing(0.0, ()),)
    nets = []
    for wing in parts:
        shape = building if len(parts) == 1 else _shape_of(space, wing)
        xs, ys = _lines(space, wanted, lanes_m, past_ducts_m, wing, shape, len(parts) == 1)
        nets.append((wing, *_grid(space, building, shape, wing, xs, ys)))
    xy = np.concatenate([own for _, own, _, _ in nets])
    wing_of = np.concatenate([np.full(len(own), k) for k, (_, own, _, _) in enumerate(nets)])
    first = np.cumsum([0, *(len(own) for _, own, _, _ in nets)])
    edges = np.concatenate([pairs + first[k] for k, (_, _, pairs, _) in enumerate(nets)])
    along_x = np.concatenate([flat for _, _, _, flat in nets])
    links = _links(building, xy, wing_of, parts)
    edges = np.concatenate([edges, links])
    along_x = np.concatenate([along_x, np.zeros(len(links), bool)])
    linking = np.arange(len(edges)) >= len(edges) - len(links)
    axes = np.array([wing.axis for wing in parts])
    return _network(space, xy, edges, along_x, linking, wing_of, axes)


def closed(outlines: Sequence[Outline]) -> Area:
    """Outlines as one shape: rooms joined over walls as thick as neighbours are known by, edges 20 mm wider."""
    import shapely

    half = LARGEST_GAP_M / 2
    grown = shapely.unary_union([shapely.Polygon(o).buffer(half, join_style="mitre") for o in outlines])
    return grown.buffer(EDGE_M - half, join_style="mitre")


def _shape_of(space: Space, wing: Wing) -> Area:
    """A wing, with the shafts and units that touch it."""
    import shapely

    shape = closed([space.rooms[i] for i in wing.rooms])
    near = [m for m in space.marks if shapely.Polygon(m).distance(shape) < LARGEST_GAP_M]
    return closed([*(space.rooms[i] for i in wing.rooms), *near]) if near else shape


class _Lines:
    """Places of the lines of one wing in its own frame, each with a rank: the least stays where two are close."""

    def __init__(self, wing: Wing, shape: Area, alone: bool) -> None:
        self.wing, self.shape, self.alone = wing, shape, alone
        self.places: dict[str, list[tuple[int, float]]] = {"x": [], "y": []}

    def here(self, outline: Outline) -> bool:
        """Whether an outline touches the wing."""
        import shapely

        return self.alone or bool(self.shape.intersects(shapely.Polygon(outline)))

    def own(self, outline: Sequence[Point]) -> tuple[list[float], list[float]]:
        """Its corners along the two axes of the wing."""
        points = turned(outline, -self.wing.axis)
        return [p[0] for p in points], [p[1] for p in points]

    def through(self, points: Sequence[Point]) -> None:
        """Lines through points that lie in the wing."""
        import shapely

        for at in points:
            if self.alone or self.shape.distance(shapely.Point(at)) < EDGE_M:
                self._add(0, *self.own([at]))

    def past(self, outlines: Sequence[Outline], rank: int, beside_m: float) -> None:
        """Lines on either side of what is in the way."""
        for outline in filter(self.here, outlines):
            xs, ys = self.own(outline)
            self._add(rank, [min(xs) - beside_m, max(xs) + beside_m], [min(ys) - beside_m, max(ys) + beside_m])

    def middles(self, outlines: Sequence[Outline], rank: int) -> None:
        """Lines through the middles of outlines, and through a point inside where the middle is not."""
        import shapely

        for outline in filter(self.here, outlines):
            xs, ys = self.own(outline)
            self._add(rank, [(min(xs) + max(xs)) / 2], [(min(ys) + max(ys)) / 2])
            area = shapely.Polygon(turned(outline, -self.wing.axis))
            if not area.contains(shapely.box(*area.bounds).centroid):
                inside = area.representative_point()
                self._add(rank, [inside.x], [inside.y])

    def lanes(self, corridors: Sequence[Outline], lanes_m: float) -> None:
        """Axes and quarter lines of the straight parts of corridors, further lanes at a distance."""
        for outline in corridors:
            for x0, y0, x1, y1 in _slabs(turned(outline, -self.wing.axis)):
                axis, low, high = ("y", y0, y1) if x1 - x0 >= y1 - y0 else ("x", x0, x1)
                self.places[axis] += [(1, low + (high - low) * f) for f in (0.5, 0.25, 0.75)]
                if lanes_m:
                    self.places[axis] += [
                        (2, float(at)) for at in np.arange(low + lanes_m / 2, high - lanes_m / 4, lanes_m)
                    ]

    def kept(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """(places across, places along) those close to better ones left out, no more than can be searched."""
        xs, ys = _thinned(self.places["x"]), _thinned(self.places["y"])
        while len(xs) * len(ys) > MOST_NODES:
            xs, ys = (xs[::2], ys) if len(xs) > len(ys) else (xs, ys[::2])
        return np.array(xs), np.array(ys)

    def _add(self, rank: int, xs: Sequence[float], ys: Sequence[float]) -> None:
        self.places["x"] += [(rank, x) for x in xs]
        self.places["y"] += [(rank, y) for y in ys]


def _lines(
    space: Space, wanted: Sequence[Point], lanes_m: float, past_ducts_m: float, wing: Wing, shape: Area, alone: bool
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Places of the lines of one wing in its own frame: across its first axis, and along it."""
    made, rooms = _Lines(wing, shape, alone), [space.rooms[i] for i in wing.rooms]
    made.through(wanted)
    made.past(space.ducts if past_ducts_m else (), 1, past_ducts_m)
    made.lanes([o for o in space.corridors if alone or o in rooms], lanes_m)
    made.middles((*rooms, *space.marks), 3)
    made.past([block.outline for block in space.blocks], 4, BESIDE_M)
    made.middles([gate for block in space.blocks for gate, _ in block.gates], 1)
    return made.kept()


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


def _grid(
    space: Space, building: Area, shape: Area, wing: Wing, xs: NDArray[Any], ys: NDArray[Any]
) -> tuple[NDArray[np.float64], NDArray[np.intp], NDArray[np.bool_]]:
    """(nodes on the sheet, edges, whether each runs along the wing's first axis) where its lines cross inside it."""
    import shapely

    shut = shapely.unary_union([shapely.Polygon(o) for _, o in space.shut]) if space.shut else None
    gx, gy = np.meshgrid(xs, ys, indexing="ij")
    every = np.column_stack([gx.ravel(), gy.ravel()])
    every = turned_xy(every, wing.axis) if wing.axis else every
    shapely.prepare(shape)
    inside = shapely.contains_xy(shape, every[:, 0], every[:, 1])
    if shut is not None:
        inside &= ~shapely.contains_xy(shut, every[:, 0], every[:, 1])
    number = np.where(inside, np.cumsum(inside) - 1, -1).reshape(gx.shape)
    xy = every[inside]
    pairs, along = [], []
    for a, b, flat in ((number[:-1, :], number[1:, :], True), (number[:, :-1], number[:, 1:], False)):
        both = (a >= 0) & (b >= 0)
        pairs.append(np.column_stack([a[both], b[both]]))
        along.append(np.full(int(both.sum()), flat))
    edges, along_x = np.concatenate(pairs), np.concatenate(along)
    segments = shapely.linestrings(np.stack([xy[edges[:, 0]], xy[edges[:, 1]]], axis=1))
    shapely.prepare(building)
    kept = shapely.covers(building, segments)
    if shut is not None:
        kept &= ~shapely.crosses(segments, shut)
    return xy, edges[kept], along_x[kept]


def _links(building: Area, xy: NDArray[Any], wing_of: NDArray[Any], parts: Sequence[Wing]) -> NDArray[np.intp]:
    """Stretches from wing to wing between the nodes that lie nearest to each other, a few for each border."""
    from scipy.spatial import cKDTree

    made: list[tuple[int, int]] = []
    for a in range(len(parts)):
        for b in range(a + 1, len(parts)):
            one, two = np.flatnonzero(wing_of == a), np.flatnonzero(wing_of == b)
            if not len(one) or not len(two):
                continue
            trees = cKDTree(xy[one]), cKDTree(xy[two])
            for reach_m in LINKS_M:
                near = trees[0].sparse_distance_matrix(trees[1], reach_m, output_type="coo_matrix")
                pairs = [(one[near.row[k]], two[near.col[k]]) for k in np.argsort(near.data, kind="stable")]
                found = _apart(building, xy, pairs)
                made += found
                if found:
                    break
    return np.array(made, np.intp).reshape(-1, 2)


def _apart(building: Area, xy: NDArray[Any], pairs: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """The first few pairs of nodes that see each other, no node twice."""
    import shapely

    found: list[tuple[int, int]] = []
    used: set[int] = set()
    for i, j in pairs:
        if i in used or j in used or not building.covers(shapely.LineString([xy[i], xy[j]])):
            continue
        found.append((int(i), int(j)))
        used |= {i, j}
        if len(found) == MOST_LINKS:
            break
    return found


def _network(
    space: Space,
    xy: NDArray[Any],
    edges: NDArray[Any],
    along_x: NDArray[Any],
    linking: NDArray[Any],
    wing_of: NDArray[Any],
    axes: NDArray[Any],
) -> Tracks:
    """What each stretch weighs, and how high a duct may be there."""
    import shapely

    segments = shapely.linestrings(np.stack([xy[edges[:, 0]], xy[edges[:, 1]]], axis=1))
    length = np.hypot(*(xy[edges[:, 0]] - xy[edges[:, 1]]).T) if len(edges) else np.zeros(0)
    room = np.full(len(xy), -1)
    for i, outline in enumerate((*space.rooms, *space.marks)):
        room[shapely.contains_xy(shapely.Polygon(outline), xy[:, 0], xy[:, 1])] = i
    corridor = _in(space.corridors, xy)
    middle = (xy[edges[:, 0]] + xy[edges[:, 1]]) / 2
    weight = np.where(_in(space.corridors, middle), CORRIDOR, np.where(_in(space.in_view, middle), IN_VIEW, ROOM))
    one, two = room[edges[:, 0]], room[edges[:, 1]]
    # a node inside a wall, between two rooms, is half way through it
    through = np.where(one == two, 0.0, np.where((one < 0) | (two < 0), WALL_M / 2, WALL_M))
    weight = weight + through / np.maximum(length, 1e-6)
    if linking.any():
        bend = np.array([between(axes[wing_of[i]], axes[wing_of[j]]) for i, j in edges[linking]]) / (np.pi / 2)
        weight[linking] += BEND_M * bend / np.maximum(length[linking], 1e-6)
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
    return Tracks(
        xy, edges, length, weight, height, limit, tuple(names), along_x, corridor, linking, wing_of, axes, usable
    )


def _in(outlines: tuple[Outline, ...], xy: NDArray[Any]) -> NDArray[np.bool_]:
    import shapely

    found = np.zeros(len(xy), bool)
    for outline in outlines:
        found |= shapely.contains_xy(shapely.Polygon(outline), xy[:, 0], xy[:, 1])
    return found
