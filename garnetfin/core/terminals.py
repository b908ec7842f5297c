"""Air terminals from a catalogue: pressure at a flow, and a size for a flow. Source: the catalogue."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from garnetfin.core.errors import InputError
from garnetfin.core.tables import TerminalModel


@dataclass(frozen=True, slots=True)
class Limits:
    """Of a terminal: velocity in its neck, pressure drop, noise in the room."""

    neck_m_s: float = 3.5
    pressure_pa: float = 20.0
    nc: float = 35.0

    def __post_init__(self) -> None:
        for name, value in (("neck velocity", self.neck_m_s), ("pressure drop", self.pressure_pa), ("noise", self.nc)):
            if not value > 0:
                raise InputError(f"The limit of {name} must be above 0, got {value:g}")


@dataclass(frozen=True, slots=True)
class TerminalPoint:
    model: str
    description: str
    neck_m: float
    neck_m_s: float
    pressure_pa: float
    outside_table: bool


def pressure(model: TerminalModel, flow_m3s: float) -> float:
    """Total pressure [Pa] at a flow: linear in logarithms, dp ~ q^2 beyond the last points."""
    if flow_m3s <= 0:
        return 0.0
    q, p = model.flow_m3s, model.pressure_pa
    if flow_m3s < q[0]:
        return float(p[0] * (flow_m3s / q[0]) ** 2)
    if flow_m3s > q[-1]:
        return float(p[-1] * (flow_m3s / q[-1]) ** 2)
    return float(np.exp(np.interp(np.log(flow_m3s), np.log(q), np.log(p))))


def point(model: TerminalModel, flow_m3s: float) -> TerminalPoint:
    """What a model does at a flow [m3/s]."""
    outside = not model.flow_m3s[0] <= flow_m3s <= model.flow_m3s[-1]
    return TerminalPoint(
        model.model, model.description, model.neck_m, flow_m3s / model.neck_m2, pressure(model, flow_m3s), bool(outside)
    )


def choose(models: Mapping[str, TerminalModel], kind: str, flow_m3s: float, limits: Limits = Limits()) -> TerminalPoint:
    """The smallest model of a kind within the limits of neck velocity and pressure; the largest when none is.

    Raises InputError for a kind without a model.
    """
    known = sorted((m for m in models.values() if m.kind == kind), key=lambda m: m.neck_m2)
    if not known:
        raise InputError(
            f"No terminal of kind “{kind}” in the catalogue",
            remedy="Take one of: " + ", ".join(sorted({m.kind for m in models.values()})),
        )
    for model in known:
        found = point(model, flow_m3s)
        if found.neck_m_s <= limits.neck_m_s and found.pressure_pa <= limits.pressure_pa:
            return found
    return point(known[-1], flow_m3s)
