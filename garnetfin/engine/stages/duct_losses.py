"""What ducts of given sizes lose: friction, flexible ends, fittings; and what that means along every run."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.balance import Runs, dampers_take, run_losses
from garnetfin.core.ducts.friction import ROUGHNESS_M, duct_gradient
from garnetfin.core.ducts.sizes import Section, measures
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import BOX_LOSS, FittingLoss
from garnetfin.engine.stages.duct_fittings import fittings
from garnetfin.engine.stages.duct_flows import Carried
from garnetfin.engine.stages.duct_inline import Standing, losses_of, standing, taken_m

BOX = "flow-box"  # what it is called among the fittings of a duct


@dataclass(frozen=True, slots=True, eq=False)
class Lost:
    """Of ducts that have their sizes, all (segments,) but runs.

    velocity_pa     velocity pressure
    left_pa         total pressure at the end of each, NaN where the unit does not reach
    end_pa          the same with what dampers on the way take
    inline          parts in ducts, by place of the duct
    straight_m      length on which air rubs: without what parts take
    static_pa       greatest against the air around; below 0 it sucks
    taken_pa        surplus of its runs that its damper takes
    unspent_pa      (terminals,) surplus that no damper takes
    """

    area_m2: NDArray[np.float64]
    velocity_m_s: NDArray[np.float64]
    velocity_pa: NDArray[np.float64]
    friction_pa_m: NDArray[np.float64]
    flexible_pa: NDArray[np.float64]
    fittings: list[tuple[FittingLoss, ...]]
    inline: Standing
    straight_m: NDArray[np.float64]
    loss_pa: NDArray[np.float64]
    left_pa: NDArray[np.float64]
    end_pa: NDArray[np.float64]
    static_pa: NDArray[np.float64]
    taken_pa: NDArray[np.float64]
    unspent_pa: NDArray[np.float64]
    runs: Runs


def local_losses(
    on: Carried, sections: Sequence[Section], parts: Standing | None = None
) -> tuple[list[tuple[FittingLoss, ...]], NDArray[Any]]:
    """(fittings of each duct with the parts in it, loss of the flexible piece at its end [Pa])."""
    area, hydraulic = measures(sections)
    at, air, flow = on.at, on.air, on.flow_m3s
    flexible_pa = np.zeros(len(sections))
    hung = np.flatnonzero(at.flexible_m > 0)
    if len(hung):
        flexible_pa[hung] = at.flexible_m[hung] * duct_gradient(
            flow[hung],
            area[hung],
            np.sqrt(4 * area[hung] / np.pi),  # flexible duct is round, whatever it hangs on
            ROUGHNESS_M["flexible"],
            assumption(on.book, "flexible_share").figure * 100,
            air.density_kg_m3,
            air.viscosity_pa_s,
        )
    velocity_pa = air.density_kg_m3 * (flow / area) ** 2 / 2
    found = fittings(at, on.way, on.book, flow, sections, velocity_pa, _friction(on, area, hydraulic))
    for i in np.flatnonzero(on.box_pa > 0):
        k = float(on.box_pa[i] / max(velocity_pa[i], 1e-9))
        found[i] = (*found[i], FittingLoss(BOX, k, BOX_LOSS, float(on.box_pa[i]), "box"))
    for at_duct, there in (standing(on, sections) if parts is None else parts).items():
        found[at_duct] = (*found[at_duct], *losses_of(there, float(velocity_pa[at_duct])))
    return found, flexible_pa


def lost(on: Carried, sections: Sequence[Section]) -> Lost:
    at, tree = on.at, on.at.tree
    area, hydraulic = measures(sections)
    friction = _friction(on, area, hydraulic)
    velocity = on.flow_m3s / area
    velocity_pa = on.air.density_kg_m3 * velocity**2 / 2
    inline = standing(on, sections)
    straight = np.maximum(at.length_m - taken_m(inline, len(sections)), 0.0)
    parts, flexible_pa = local_losses(on, sections, inline)
    loss = friction * straight + flexible_pa + np.array([sum(f.pressure_pa for f in fs) for fs in parts])
    runs = run_losses(tree, loss, at.own, on.point_pa, at.nodes, at.root)
    taken, unspent = dampers_take(tree, runs.surplus_pa, at.own, at.free)
    left = np.where(tree.reached, runs.node_pa[tree.leaving], np.nan)
    end = left - tree.along(taken)
    # Air that leaves is sucked: below the air around by what is lost up to the unit, and by its own velocity.
    static = np.nan_to_num(left + loss - velocity_pa if on.way == "supply" else -(left + loss + velocity_pa))
    return Lost(
        area_m2=area,
        velocity_m_s=velocity,
        velocity_pa=velocity_pa,
        friction_pa_m=friction,
        flexible_pa=flexible_pa,
        fittings=parts,
        inline=inline,
        straight_m=straight,
        loss_pa=loss,
        left_pa=left,
        end_pa=end,
        static_pa=static,
        taken_pa=taken,
        unspent_pa=unspent,
        runs=runs,
    )


def _friction(on: Carried, area: NDArray[Any], hydraulic: NDArray[Any]) -> NDArray[np.float64]:
    return duct_gradient(
        on.mid_m3s, area, hydraulic, on.roughness_m, on.compression, on.air.density_kg_m3, on.air.viscosity_pa_s
    )
