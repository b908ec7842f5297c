"""Trees of ducts over tracks: grown by shortest ways, improved by taking terminals out and putting them back.

A metre that carries q costs weight x q^0.4 (the girth of a duct at constant friction), so that sharing a trunk pays;
bends and takeoffs cost
metres of their own.

Source: Dijkstra; trees improved by exchange.
"""

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.routes.tracks import BEND_M, TAKEOFF_M, Tracks

EXPONENT = 0.4
NO_WAY = -9999  # of SciPy's predecessors
SMALL = 1e-9
STRAIGHT = 1e-3  # sine of a turn that is none


@dataclass(frozen=True, slots=True)
class Costs:
    """How a tree is judged: exponent of the flow, metres for a bend and for a takeoff."""

    exponent: float = EXPONENT
    bend_m: float = BEND_M
    takeoff_m: float = TAKEOFF_M


@dataclass(slots=True)
class RouteTree:
    """parent of every node on it (-1 the root); terminal of a node, several may hang on one."""

    root: int
    parent: dict[int, int] = field(default_factory=dict)
    ends: dict[int, int] = field(default_factory=dict)  # terminal -> node

    def copy(self) -> "RouteTree":
        """A tree of its own with the same ways."""
        return RouteTree(self.root, dict(self.parent), dict(self.ends))

    def order(self) -> list[int]:
        """Nodes, each after its parent."""
        children: dict[int, list[int]] = {}
        for node, up in self.parent.items():
            if up >= 0:
                children.setdefault(up, []).append(node)
        found = [self.root]
        for node in found:
            found += sorted(children.get(node, ()))
        return found

    def flows(self, q: Sequence[float]) -> dict[int, float]:
        """Flow that enters every node from its parent."""
        flow = {n: 0.0 for n in self.parent}
        for terminal, node in self.ends.items():
            flow[node] += q[terminal]
        for node in reversed(self.order()):
            if self.parent[node] >= 0:
                flow[self.parent[node]] += flow[node]
        return flow


@dataclass(frozen=True, slots=True)
class NoWay:
    """A terminal that cannot be reached."""

    terminal: int


class Ways:
    """Shortest ways on tracks that may be used, bends counted: states are nodes, once for each direction of travel."""

    def __init__(self, tracks: Tracks, costs: Costs) -> None:
        from scipy.sparse import coo_matrix

        self.tracks, self.costs = tracks, costs
        n = len(tracks.xy)
        e, w = tracks.edges[tracks.open], (tracks.length_m * tracks.weight)[tracks.open]
        shift = np.where(tracks.along_x[tracks.open], 0, n)
        # A stretch from wing to wing carries its own bend: it is entered and left in either direction.
        free = np.flatnonzero(tracks.linking[tracks.open])
        a = np.concatenate([e[:, 0] + shift, e[free, 0] + n, e[free, 0], e[free, 0] + n])
        b = np.concatenate([e[:, 1] + shift, e[free, 1], e[free, 1] + n, e[free, 1] + n])
        a[free], b[free] = e[free, 0], e[free, 1]
        both = np.concatenate([w, w[free], w[free], w[free]])
        turn = np.arange(n)
        rows, cols = np.concatenate([a, b, turn, turn + n]), np.concatenate([b, a, turn + n, turn])
        data = np.concatenate([both, both, np.full(2 * n, costs.bend_m + SMALL)])
        self._n = n
        self.cost = {(int(u), int(v)): float(x) for (u, v), x in zip(e, w)}
        self.cost |= {(v, u): x for (u, v), x in self.cost.items()}
        self._csr = coo_matrix((data, (rows, cols)), shape=(2 * n, 2 * n)).tocsr()

    def from_nodes(self, offsets: dict[int, float]) -> tuple[NDArray[Any], NDArray[Any]]:
        """(distance, predecessor) of all states from nodes with a cost to start from each."""
        from scipy.sparse import csr_matrix
        from scipy.sparse.csgraph import dijkstra

        n2 = 2 * self._n
        nodes = np.fromiter(offsets, int, len(offsets))
        start = np.maximum(np.fromiter(offsets.values(), float, len(offsets)), SMALL)
        m = self._csr
        indptr = np.concatenate([m.indptr, [m.indptr[-1] + 2 * len(nodes)]])
        indices = np.concatenate([m.indices, nodes, nodes + self._n])
        data = np.concatenate([m.data, start, start])
        graph = csr_matrix((data, indices, indptr), shape=(n2 + 1, n2 + 1))
        answer: tuple[NDArray[Any], NDArray[Any]] = dijkstra(graph, indices=n2, return_predecessors=True)
        return answer

    def path(self, found: tuple[NDArray[Any], NDArray[Any]], node: int) -> tuple[list[int], float] | None:
        """(nodes from a start to `node`, distance); None where no way leads."""
        distance, before = found
        at = min((node, node + self._n), key=lambda s: distance[s])
        if not np.isfinite(distance[at]):
            return None
        whole = float(distance[at])
        way = []
        while at != NO_WAY and at < 2 * self._n:
            spot = int(at % self._n)
            if not way or way[-1] != spot:
                way.append(spot)
            at = int(before[at])
        return way[::-1], whole


def grow(
    ways: Ways,
    root: int,
    nodes: Sequence[int],
    q: Sequence[float],
    order: Sequence[int],
    seed: Sequence[Sequence[int]] = (),
) -> RouteTree | NoWay:
    """A tree that takes the terminals one after the other by the cheapest way to what is there;

    `seed` paths are laid first.
    """
    tree = RouteTree(root, {root: -1})
    for way in seed:
        _lay(tree, way)
    for t in order:
        if not add(ways, tree, t, nodes[t], q):
            return NoWay(int(t))
    return tree


def _lay(tree: RouteTree, way: Sequence[int]) -> None:
    """Nodes of a way hung on the last of them that the tree knows already."""
    last = max(i for i, node in enumerate(way) if node in tree.parent)
    for up, node in zip(way[last:], way[last + 1 :]):
        tree.parent[node] = up


def add(ways: Ways, tree: RouteTree, terminal: int, node: int, q: Sequence[float]) -> bool:
    """Joins a terminal by the cheapest way from the tree; False where no way leads to it."""
    if node not in tree.parent:
        flow, own, e = tree.flows(q), q[terminal] ** ways.costs.exponent, ways.costs.exponent
        more = {tree.root: 0.0}
        for n in tree.order()[1:]:
            up = tree.parent[n]
            rise = (flow[n] + q[terminal]) ** e - flow[n] ** e if flow[n] > 0 else own
            more[n] = more[up] + ways.cost.get((up, n), 0.0) * rise
        takeoff = ways.costs.takeoff_m if len(tree.parent) > 1 else 0.0
        found = ways.path(ways.from_nodes({n: x / own + takeoff for n, x in more.items()}), node)
        if found is None:
            return False
        _lay(tree, found[0])
    tree.ends[terminal] = node
    return True


def cut(tree: RouteTree, terminal: int) -> None:
    """Take a terminal out, and the way that led to it alone."""
    node = tree.ends.pop(terminal)
    held = set(tree.ends.values()) | {tree.root}
    used = set(tree.parent.values())
    while node not in held and node not in used:
        up = tree.parent.pop(node)
        node, used = up, set(tree.parent.values())


def prune(tree: RouteTree) -> None:
    """Ends that lead to no terminal go."""
    held = set(tree.ends.values()) | {tree.root}
    while True:
        used = set(tree.parent.values())
        idle = [n for n in tree.parent if n not in used and n not in held]
        if not idle:
            return
        for n in idle:
            del tree.parent[n]


def cost(ways: Ways, tree: RouteTree, q: Sequence[float]) -> float:
    """Of the whole tree as metres of duct [m], bends and takeoffs included."""
    flow, xy, e = tree.flows(q), ways.tracks.xy, ways.costs.exponent
    total = 0.0
    below: dict[int, int] = {}
    for node, up in tree.parent.items():
        if up < 0:
            continue
        below[up] = below.get(up, 0) + 1
        girth = flow[node] ** e
        total += ways.cost.get((up, node), 0.0) * girth
        before = tree.parent[up]
        if before >= 0 and not _goes_on(xy, before, up, node):
            total += ways.costs.bend_m * girth
    return total + sum(ways.costs.takeoff_m * (n - 1) * np.mean(q) ** e for n in below.values() if n > 1)


def improve(
    ways: Ways,
    tree: RouteTree,
    nodes: Sequence[int],
    q: Sequence[float],
    seconds: float,
    stopped: Callable[[], bool] = lambda: False,
) -> RouteTree:
    """Terminals taken out and put back one at a time, until none gains or the time is up."""
    best, least, until = tree, cost(ways, tree, q), time.monotonic() + seconds
    gained = True
    while gained:
        gained = False
        for t in sorted(best.ends, key=lambda i: (-q[i], i)):
            if time.monotonic() > until or stopped():
                return best
            tried = best.copy()
            cut(tried, t)
            if not add(ways, tried, t, nodes[t], q):
                continue
            now = cost(ways, tried, q)
            if now < least - 1e-6:
                best, least, gained = tried, now, True
    return best


def steiner(
    ways: Ways,
    root: int,
    nodes: Sequence[int],
    q: Sequence[float],
    seconds: float = 2.0,
    stopped: Callable[[], bool] = lambda: False,
) -> RouteTree | NoWay:
    """The least of three orders (near first, far first, greatest flow first), improved."""
    distance, _ = ways.from_nodes({root: 0.0})
    far = [min(distance[n], distance[n + len(ways.tracks.xy)]) for n in nodes]
    every = range(len(nodes))
    orders = (
        sorted(every, key=lambda t: (far[t], t)),
        sorted(every, key=lambda t: (-far[t], t)),
        sorted(every, key=lambda t: (-q[t], t)),
    )
    found: list[RouteTree] = []
    for order in orders:
        tree = grow(ways, root, nodes, q, order)
        if isinstance(tree, NoWay):
            return tree
        found.append(tree)
        if stopped():
            break
    best = min(found, key=lambda tree: cost(ways, tree, q))
    return improve(ways, best, nodes, q, seconds, stopped)


def trunk(
    ways: Ways, root: int, nodes: Sequence[int], q: Sequence[float], on_trunk: NDArray[np.bool_]
) -> RouteTree | NoWay:
    """One trunk over the given nodes (a corridor), as far as terminals lie beside it; each then joins by its own
    shortest way.
    """
    found = ways.from_nodes({root: 0.0})
    spots = np.flatnonzero(on_trunk)
    if not len(spots):
        return NoWay(0)
    xy = ways.tracks.xy
    seeds, ends = [], set()
    for t in nodes:  # where each terminal comes down on the trunk
        near = spots[np.argmin(((xy[spots] - xy[t]) ** 2).sum(axis=1))]
        ends.add(int(near))
    middle = min(ends, key=lambda n: min(found[0][n], found[0][n + len(xy)]))
    way = ways.path(found, middle)
    if way is None:
        return NoWay(0)
    tree = RouteTree(root, {root: -1})
    _lay(tree, way[0])
    # Along the trunk only: other ways are made dear.
    for end in sorted(ends, key=lambda n: -abs(xy[n] - xy[middle]).sum()):
        if end not in tree.parent:
            reach = ways.path(ways.from_nodes({n: 0.0 for n in tree.parent if on_trunk[n]} or {root: 0.0}), end)
            if reach is None:
                continue
            seeds.append(reach[0])
            _lay(tree, reach[0])
    for t in range(len(nodes)):
        if nodes[t] not in tree.parent:
            # Straight to the trunk; branches that fall together share their way.
            reach = ways.path(ways.from_nodes({n: 0.0 for n in tree.parent if on_trunk[n]} or {root: 0.0}), nodes[t])
            if reach is None:
                return NoWay(t)
            _lay(tree, reach[0])
        tree.ends[t] = nodes[t]
    prune(tree)
    return tree


def _goes_on(xy: NDArray[Any], before: int, at: int, after: int) -> bool:
    """Whether a way passes a node without a bend."""
    (ax, ay), (bx, by) = xy[at] - xy[before], xy[after] - xy[at]
    return bool(abs(ax * by - ay * bx) <= STRAIGHT * np.hypot(ax, ay) * np.hypot(bx, by))


def corners(tracks: Tracks, tree: RouteTree) -> tuple[list[int], list[tuple[int, int]]]:
    """(nodes that are kept, (parent, node) pairs between them): bends, junctions, ends; straight nodes in between
    go.
    """
    children: dict[int, list[int]] = {}
    for node, up in tree.parent.items():
        if up >= 0:
            children.setdefault(up, []).append(node)
    held = set(tree.ends.values()) | {tree.root}
    xy = tracks.xy

    def straight(node: int) -> bool:
        below, up = children.get(node, []), tree.parent[node]
        if node in held or len(below) != 1 or up < 0:
            return False
        return _goes_on(xy, up, node, below[0])

    kept, pairs = [tree.root], []
    for node in tree.order()[1:]:
        if straight(node):
            continue
        up = tree.parent[node]
        while straight(up):
            up = tree.parent[up]
        kept.append(node)
        pairs.append((up, node))
    return kept, pairs
