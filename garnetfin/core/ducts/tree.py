"""The duct tree: air direction, flows, and the way from the fan to every terminal."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError


@dataclass(frozen=True, slots=True, eq=False)
class Tree:
    """Segments that the root reaches, in air direction. Arrays over all segments; -1 and False where cut off.

    entering, leaving   node at the start and at the end of each segment in air direction
    parent              segment before it, -1 at the root
    order               reached segments, each after its parent
    looped              segments that close a ring; they are left out of the tree
    """

    entering: NDArray[np.intp]
    leaving: NDArray[np.intp]
    parent: NDArray[np.intp]
    order: NDArray[np.intp]
    reached: NDArray[np.bool_]
    looped: tuple[int, ...]

    def path(self, segment: int) -> list[int]:
        """Segments from the root to `segment`, both included."""
        found = []
        while segment >= 0:
            found.append(segment)
            segment = int(self.parent[segment])
        return found[::-1]

    def paths_matrix(self, ends: NDArray[np.intp]) -> NDArray[np.bool_]:
        """(ends, segments): which segments lie on the way from the root to the end of each given segment."""
        on_way = np.zeros((len(ends), len(self.parent)), bool)
        for row, end in enumerate(ends):
            on_way[row, self.path(int(end))] = True
        return on_way


def build_tree(node_count: int, ends: NDArray[np.intp], root: int) -> Tree:
    """Walk from the root node over segments ends (segments, 2), whichever way each was drawn."""
    if not 0 <= root < node_count:
        raise InputError("The duct system has no start", remedy="Join a duct to the unit")
    beside: list[list[int]] = [[] for _ in range(node_count)]
    for s, (a, b) in enumerate(ends):
        beside[a].append(s)
        beside[b].append(s)
    count = len(ends)
    entering, leaving = np.full(count, -1), np.full(count, -1)
    parent, reached = np.full(count, -1), np.zeros(count, bool)
    order, looped, seen = [], [], {root: -1}
    queue = [root]
    for node in queue:
        for s in beside[node]:
            if reached[s] or s in looped:
                continue
            other = int(ends[s, 1] if ends[s, 0] == node else ends[s, 0])
            if other in seen:
                looped.append(s)
                continue
            seen[other] = s
            entering[s], leaving[s], parent[s], reached[s] = node, other, seen[node], True
            order.append(s)
            queue.append(other)
    return Tree(entering, leaving, parent, np.array(order, int), reached, tuple(looped))


def gather_flows(tree: Tree, node_flow_m3s: NDArray) -> NDArray[np.float64]:
    """Flow of each segment [m3/s]: what leaves at all nodes beyond it. node_flow_m3s (nodes,) or (nodes, hours)."""
    flow = np.zeros((len(tree.parent), *node_flow_m3s.shape[1:]))
    for s in tree.order[::-1]:
        flow[s] += node_flow_m3s[tree.leaving[s]]
        if tree.parent[s] >= 0:
            flow[tree.parent[s]] += flow[s]
    return flow
