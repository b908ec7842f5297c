"""The duct tree: air direction, flows, and the way from the fan to every terminal. Source: own method."""

from dataclasses import dataclass
from typing import Any

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
    levels              reached segments by how many lie before them, those at the root first
    """

    entering: NDArray[np.intp]
    leaving: NDArray[np.intp]
    parent: NDArray[np.intp]
    order: NDArray[np.intp]
    reached: NDArray[np.bool_]
    looped: tuple[int, ...]
    levels: tuple[NDArray[np.intp], ...]

    @property
    def depth(self) -> NDArray[np.intp]:
        """How many segments lie before each one; 0 for those at the root and for those cut off."""
        depth = np.zeros(len(self.parent), np.intp)
        for k, level in enumerate(self.levels):
            depth[level] = k
        return depth

    def along(self, values: NDArray[Any]) -> NDArray[np.float64]:
        """Of each segment the sum of values (segments,) from the root to it, in their unit [any]; 0 where cut off."""
        found = np.where(self.reached, values, 0.0)
        for level in self.levels[1:]:
            found[level] += found[self.parent[level]]
        return found

    def beyond(self, values: NDArray[Any], gather: np.ufunc = np.add) -> NDArray[Any]:
        """Of each segment its own value and those of all beyond it, gathered: their sum, or np.minimum."""
        found = np.array(values)
        for level in self.levels[:0:-1]:
            gather.at(found, self.parent[level], found[level])
        return found

    def path(self, segment: int) -> list[int]:
        """Segments from the root to `segment`, both included."""
        found = []
        while segment >= 0:
            found.append(segment)
            segment = int(self.parent[segment])
        return found[::-1]


def build_tree(node_count: int, ends: NDArray[np.intp], root: int) -> Tree:
    """Walk from the root node over segments ends (segments, 2), whichever way each was drawn.

    Raises InputError for a root that is no node.
    """
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
    # The queue walks level by level, so that the number of segments before each one never falls along the order.
    depth = np.zeros(count, int)
    for s in order:
        depth[s] = depth[parent[s]] + 1 if parent[s] >= 0 else 0
    ordered = np.array(order, int)
    levels = np.split(ordered, np.flatnonzero(np.diff(depth[ordered])) + 1) if order else ()
    return Tree(entering, leaving, parent, ordered, reached, tuple(looped), tuple(levels))


def gather_flows(tree: Tree, node_flow_m3s: NDArray[Any]) -> NDArray[np.float64]:
    """Flow of each segment [m3/s]: what leaves at all nodes beyond it. node_flow_m3s (nodes,) or (nodes, hours)."""
    flow = np.zeros((len(tree.parent), *node_flow_m3s.shape[1:]))
    flow[tree.order] = node_flow_m3s[tree.leaving[tree.order]]
    return tree.beyond(flow)
