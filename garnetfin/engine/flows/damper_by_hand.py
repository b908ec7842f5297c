"""A damper set by hand from the pressure it is to take."""

from garnetfin.core.ducts.fittings import dampers
from garnetfin.core.ducts.fittings.tables import invert
from garnetfin.display import amount
from garnetfin.engine.results import DuctResult, Missing, Results, there
from garnetfin.project.edits.duct_values import SetDuctValue
from garnetfin.project.values import Pinned

LEAST_PV = 1e-6


def pinned_for(results: Results, system_id: str, terminal_id: str, pressure_pa: float) -> SetDuctValue | Missing:
    """The edit that pins the blade of a terminal's damper where it takes `pressure_pa` at design flow."""
    for ducts in results.networks(system_id):
        found = (
            next((t for t in ducts.terminals if t.terminal_id == terminal_id), None)
            if isinstance(ducts, DuctResult)
            else None
        )
        if found is None:
            continue
        r = ducts.segments[found.segment_id]
        velocity_pa = there(results.air[system_id]).density_kg_m3 * r.velocity_m_s**2 / 2
        if r.damper is None or r.damper.free is not None or velocity_pa < LEAST_PV:
            return Missing("no blade there", "Give its duct a single-blade damper")
        angle = invert(dampers.blade(r.section), "k", dampers.open_k(r.section) + max(pressure_pa, 0.0) / velocity_pa)
        if angle is None:
            return Missing(
                "no blade takes that",
                f"At {amount('velocity', r.velocity_m_s)} take a smaller duct or an orifice plate",
            )
        return SetDuctValue((found.segment_id,), "damper_deg", Pinned(value=round(angle, 1)))
    return Missing("no such terminal", "Join it to the ducts")
