"""Findings of what ducts do to the air in them and around them: outsides that drip, terminals that get warm air."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from garnetfin.core.ducts.heat import FINISH, THICKNESSES_M, least_thickness
from garnetfin.display import amount
from garnetfin.engine.findings.naming import some
from garnetfin.engine.results import AirResult, DuctHeat, DuctResult, Finding, Mend
from garnetfin.engine.stages.duct_heat import wrapped_ducts
from garnetfin.project.edits.duct_values import SetDuctValue
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned

ABOVE_DEW_K = 1.0
WARM_SHARE = 0.1  # of the way from supply to room air, by which the air at a terminal may be warmer than the mean


def duct_heat_findings(
    project: Project, system: AirSystem, flows: AirResult, ducts: DuctResult, heat: DuctHeat
) -> Iterator[Finding]:
    """One finding of each kind for all ducts or terminals of a system."""
    yield from _dripping(project, flows, ducts, heat)
    yield from _warm(system, flows, ducts, heat)


def _dripping(project: Project, flows: AirResult, ducts: DuctResult, heat: DuctHeat) -> Iterator[Finding]:
    wet = [i for i in heat.kinds if heat.outside_c[i] < heat.dew_c[i] + ABOVE_DEW_K and ducts.segments[i].flow_m3s > 0]
    if not wet:
        return
    worst = min(wet, key=lambda i: heat.outside_c[i] - heat.dew_c[i])
    least = _least(project, flows, ducts, heat, wet)
    mends = (
        (
            Mend(
                f"Insulate with {amount('duct_size', least)}",
                SetDuctValue(tuple(wet), "insulation_m", Pinned(value=least)),
            ),
        )
        if least is not None
        else ()
    )
    yield Finding(
        "duct-condenses",
        "Ducts",
        "segment",
        worst,
        f"{len(wet)} ducts drip outside" if len(wet) > 1 else f"Duct {worst} drips outside",
        f"{some(wet)}: {amount('temperature', heat.outside_c[worst])} outside at {worst}, where air around turns wet "
        f"at {amount('temperature', heat.dew_c[worst])}.",
        "watch",
        mends,
    )


def _least(project: Project, flows: AirResult, ducts: DuctResult, heat: DuctHeat, wet: list[str]) -> float | None:
    """The thinnest insulation sold with which none of the ducts drips [m]; wrapped it has a bright outside."""
    drawn = [s for i in wet if (s := find(project.segments, i)) is not None]
    wrapped = replace(
        wrapped_ducts(project.duct_points, drawn, ducts, flows), finish=np.full(len(drawn), FINISH["bright"])
    )
    limits = [heat.dew_c[i] + ABOVE_DEW_K for i in wet]
    return least_thickness(wrapped, [heat.start_c[i] for i in wet], [heat.around_c[i] for i in wet], limits)


def _warm(system: AirSystem, flows: AirResult, ducts: DuctResult, heat: DuctHeat) -> Iterator[Finding]:
    weights = sum(t.flow_m3s for t in ducts.terminals)
    mean = sum(t.flow_m3s * heat.terminal_c[t.terminal_id] for t in ducts.terminals) / max(weights, 1e-12)
    most = WARM_SHARE * max(24.0 - flows.supply_c, 1.0)
    warm = sorted(
        (t for t in ducts.terminals if heat.terminal_c[t.terminal_id] - mean > most),
        key=lambda t: -heat.terminal_c[t.terminal_id],
    )
    if not warm:
        return
    path = ducts.path(warm[0].segment_id)
    thicker = next(
        (x for x in THICKNESSES_M if all((m := ducts.segments[i].make) and x > m.insulation_m for i in path)), None
    )
    mends = (
        (
            Mend(
                f"Insulate its way with {amount('duct_size', thicker)}",
                SetDuctValue(path, "insulation_m", Pinned(value=thicker)),
            ),
        )
        if thicker is not None
        else ()
    )
    first = warm[0]
    yield Finding(
        "terminal-warm",
        "Ducts",
        "terminal",
        first.terminal_id,
        f"Air arrives at {len(warm)} terminals warm" if len(warm) > 1 else f"Air arrives at {first.label} warm",
        f"{amount('temperature', heat.terminal_c[first.terminal_id])} at {first.label}, "
        f"{amount('temperature', mean)} at all of {system.name} together; their rooms need more of it.",
        "watch",
        mends,
    )
