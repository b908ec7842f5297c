"""What makes a fan curve: the points of a catalogue, checked. Source: ISO 5801 for what a curve says."""

from collections.abc import Sequence

import numpy as np

from garnetfin.core.errors import InputError

FAN_KINDS = ("plug-backward", "housed-backward", "housed-forward", "mixed-inline", "axial")
FEWEST, MOST_EFFICIENCY, HIGH_EFFICIENCY = 4, 0.90, 0.85
# of the velocity pressure at the outlet, by which total less static may differ from it
OUTLET_BAND = 0.15


def check_points(
    flow_m3s: Sequence[float], total_pa: Sequence[float], shaft_w: Sequence[float], stalled: Sequence[bool], where: str
) -> None:
    """Raises InputError that names the point where rows are no fan curve: too few, flow not rising, power or pressure
    that cannot be,
    an efficiency above 0.90, a pressure that rises right of stall.
    """
    q, p, w = (np.asarray(x, float) for x in (flow_m3s, total_pa, shaft_w))
    if len(q) < FEWEST:
        raise InputError(f"A fan curve needs at least {FEWEST} points, got {len(q)}", where=where)

    def refuse(bad, what: str, remedy: str) -> None:
        if bad.any():
            i = int(np.flatnonzero(bad)[0])
            raise InputError(
                what.format(i=i + 1, q=q[i], p=p[i], w=w[i], e=q[i] * p[i] / w[i] if w[i] else 0.0),
                where=f"{where}, point {i + 1}",
                remedy=remedy,
            )

    refuse(~(np.isfinite(q) & (q >= 0) & (q < 500)), "Flow {q:g} m³/s cannot be", "Give m³/s from 0 up")
    refuse(~(np.isfinite(p) & (p > -500) & (p < 20000)), "Pressure {p:g} Pa cannot be", "Give Pa")
    refuse(~(np.isfinite(w) & (w > 0) & (w < 1e6)), "Shaft power {w:g} W cannot be", "Give W above 0")
    refuse(
        np.concatenate([[False], np.diff(q) <= 0]),
        "The flow {q:g} m³/s does not rise",
        "Sort the points of the fan by flow",
    )
    refuse(
        q * p / w > MOST_EFFICIENCY,
        "{q:g} m³/s at {p:g} Pa with {w:g} W would be an efficiency of {e:.2f}",
        "Check the units: m³/s, Pa and W",
    )
    right = ~np.asarray(stalled, bool)
    if not right.any():
        raise InputError(
            "Every point is marked as stall", where=where, remedy="Mark points right of the peak as normal"
        )
    first = int(np.flatnonzero(right)[0])
    refuse(
        np.concatenate([np.zeros(first + 1, bool), np.diff(p[first:]) > 1e-9 * np.abs(p[first:-1]).max(initial=1.0)]),
        "The pressure rises to {p:g} Pa right of stall: this is not a fan curve",
        "Mark the points left of the peak as stall",
    )
