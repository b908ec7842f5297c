"""Air terminals from a catalogue: pressure at a flow, and a size for a flow."""

from dataclasses import dataclass

import numpy as np

from garnetfin.core.errors import InputError
from garnetfin.core.tables import TerminalModel, terminal_models

NECK_LIMIT_M_S = 3.5
PRESSURE_LIMIT_PA = 20.0


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
    outside = not model.flow_m3s[0] <= flow_m3s <= model.flow_m3s[-1]
    return TerminalPoint(model.model, model.description, model.neck_m, flow_m3s / model.neck_m2,
                         pressure(model, flow_m3s), bool(outside))


def choose(kind: str, flow_m3s: float) -> TerminalPoint:
    """The smallest model of a kind within the limits of neck velocity and pressure; the largest when none is."""
    models = sorted((m for m in terminal_models().values() if m.kind == kind), key=lambda m: m.neck_m2)
    if not models:
        known = ", ".join(sorted({m.kind for m in terminal_models().values()}))
        raise InputError(f"No terminal of kind “{kind}” in the catalogue", remedy=f"Take one of: {known}")
    for model in models:
        found = point(model, flow_m3s)
        if found.neck_m_s <= NECK_LIMIT_M_S and found.pressure_pa <= PRESSURE_LIMIT_PA:
            return found
    return point(models[-1], flow_m3s)
