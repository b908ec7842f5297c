"""Pressure along the runs: losses per segment, index run, surplus of every other run.

Source: conservation of energy along each run (Bernoulli).
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.tree import Tree


@dataclass(frozen=True, slots=True, eq=False)
class Runs:
    """Row t belongs to terminal t; pressures are total, above the rooms [Pa].

    loss_pa, surplus_pa (terminals,); index = the row of the greatest loss; fan_pa what the ducts need of the fan
    node_pa (nodes,)    total pressure at the end of each segment's downstream node, NaN where no duct leads
    """

    loss_pa: NDArray[np.float64]
    surplus_pa: NDArray[np.float64]
    index: int
    fan_pa: float
    node_pa: NDArray[np.float64]


def run_losses(
    tree: Tree,
    segment_loss_pa: NDArray[Any],
    terminal_segment: NDArray[np.intp],
    terminal_loss_pa: NDArray[Any],
    node_count: int,
    root: int,
) -> Runs:
    """Add up losses [Pa] of segments (each with its fittings) and terminals along every run. At least one terminal."""
    along = tree.along(segment_loss_pa)
    loss = along[terminal_segment] + terminal_loss_pa
    index = int(np.argmax(loss))
    needed = float(loss[index])
    node_pa = np.full(node_count, np.nan)
    node_pa[root] = needed
    node_pa[tree.leaving[tree.order]] = needed - along[tree.order]
    return Runs(loss, needed - loss, index, needed, node_pa)


def dampers_take(
    tree: Tree, surplus_pa: NDArray[Any], terminal_segment: NDArray[np.intp], fitted: NDArray[np.bool_]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(what the damper of each segment takes, what is left at each terminal) [Pa], where dampers are fitted
    (segments,).

    From the fan on, a damper takes what all terminals beyond it have to spare; those further on take the rest.
    """
    left = np.maximum(np.asarray(surplus_pa, float), 0.0)
    least = np.full(len(fitted), np.inf)
    np.minimum.at(least, terminal_segment, left)
    least = tree.beyond(least, np.minimum)
    taken, before = np.zeros(len(fitted)), np.zeros(len(fitted))
    for k, level in enumerate(tree.levels):
        spent = before[tree.parent[level]] if k else 0.0
        taken[level] = np.where(fitted[level] & np.isfinite(least[level]), np.maximum(least[level] - spent, 0.0), 0.0)
        before[level] = spent + taken[level]
    return taken, left - before[terminal_segment]


def component_loss(flow_m3s: float, rated_m3s: float, rated_pa: float, exponent: float) -> float:
    """Loss [Pa] of a bought component from one point, dp = p1 (q/q1)^n."""
    return float(rated_pa * (max(flow_m3s, 0.0) / rated_m3s) ** exponent)
