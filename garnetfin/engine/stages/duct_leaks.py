"""What leaks out of drawn ducts at design, or into those that are sucked, in agreement with flows and pressures."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.balance import dampers_take, run_losses
from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.ducts.leakage import leak, leak_coefficient
from garnetfin.core.ducts.sizes import Section, measures
from garnetfin.core.ducts.sizing import Sized
from garnetfin.engine.resolve import assumption, part_figure
from garnetfin.engine.stages import duct_make
from garnetfin.engine.stages.duct_flows import Carried
from garnetfin.engine.stages.duct_losses import Lost, lost
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Rule

Array = NDArray[np.float64]
SETTLED_M3S, MOST_ROUNDS, SIZE_ROUNDS = 1e-6, 20, 3
LEAKING = ("supply", "return", "extract")  # outdoor-air ducts draw in outdoor air all the same


@dataclass(frozen=True, slots=True, eq=False)
class Leaking:
    """Ducts with flows that hold their leaks, the sizes for these, and what they lose."""

    on: Carried
    found: Sized
    losses: Lost


def with_leaks(
    system: AirSystem, on: Carried, size: Callable[[Carried], Sized], near: Leaking | None = None
) -> Leaking:
    """Ducts sized for what they carry at their unit's ends, leaks included.

    size gives sections for flows; near is the answer for nearly the same flows in the same ducts.
    """
    share = _typed_share(system, on)
    if share is not None:
        on = on.leaking(_spread(on, size(on).sections, share))
        found = size(on)
        return Leaking(on, found, lost(on, found.sections))
    if system.leakage != "computed" or on.way not in LEAKING:
        found = size(on)
        return Leaking(on, found, lost(on, found.sections))
    if near is None:
        found = size(on)
        near = Leaking(on, found, lost(on, found.sections))
    for _ in range(SIZE_ROUNDS):
        on = on.leaking(_settled(on, near))
        found = size(on)
        same = found.sections == near.found.sections
        near = Leaking(on, found, lost(on, found.sections))
        if same:
            return near
    on = on.leaking(_settled(on, near))
    return Leaking(on, near.found, lost(on, near.found.sections))


def _typed_share(system: AirSystem, on: Carried) -> float | None:
    """What was pinned at the unit for its supply ducts, of the flow there; None where nothing was."""
    part = next((p for p in system.parts if p.kind == "duct"), None)
    if system.leakage != "computed" or on.way != "supply" or part is None or isinstance(part.given("leakage"), Rule):
        return None
    return part_figure(part, "leakage").figure


def _spread(on: Carried, sections: tuple[Section, ...], share: float) -> Array:
    """A share of the flow at the unit, leaked by ducts (segments,) as their surfaces are."""
    area, hydraulic = measures(sections)
    surface = np.where(on.at.tree.reached, 4 * area / hydraulic * on.at.length_m, 0.0)
    tree = on.at.tree
    whole = float(on.bare_m3s[tree.order[tree.parent[tree.order] < 0]].sum())
    return np.asarray(whole * share / (1 - share) * surface / max(float(surface.sum()), 1e-12))


def _settled(on: Carried, near: Leaking) -> Array:
    """Leaks [m3/s] (segments,) of ducts with the sizes of `near`, above 0 out of them, with flows and pressures that
    follow.
    """
    at, sections, losses = on.at, near.found.sections, near.losses
    area, hydraulic = measures(sections)
    surface = 4 * area / hydraulic * at.length_m
    coefficient = np.array([leak_coefficient(c) for c in classes(on, sections, losses.static_pa)])
    base = np.maximum(near.on.flow_m3s, 1e-12)
    local = (
        losses.loss_pa - losses.friction_pa_m * losses.straight_m
    )  # fittings and flexible ends, as the square of flow
    found = near.on.leak_m3s
    for _ in range(MOST_ROUNDS):
        now = on.leaking(found)
        rub = losses.straight_m * duct_gradient(
            now.mid_m3s, area, hydraulic, on.roughness_m, on.compression, on.air.density_kg_m3, on.air.viscosity_pa_s
        )
        loss = rub + local * (now.flow_m3s / base) ** 2
        first, last = statics(now, loss, rub, area)
        new = leak(coefficient, surface, first, last)
        moved = float(np.abs(new - found).max(initial=0.0))
        found = new
        if moved < SETTLED_M3S:
            break
    return found


def statics(on: Carried, loss_pa: Array, friction_pa: Array, area_m2: Array) -> tuple[Array, Array]:
    """Static pressures against the air around (segments,) behind the fittings at the unit's end of each straight, and
    at its far end [Pa]; behind a damper there is what the rest of the run needs.
    """
    at, tree = on.at, on.at.tree
    runs = run_losses(tree, loss_pa, at.own, on.point_pa, at.nodes, at.root)
    taken, _ = dampers_take(tree, runs.surplus_pa, at.own, at.free)
    end = np.where(tree.reached, runs.node_pa[tree.leaving], 0.0) - tree.along(taken)
    end = np.where(tree.reached, end, 0.0)
    sign = 1.0 if on.way == "supply" else -1.0
    velocity_pa = on.air.density_kg_m3 * (on.mid_m3s / area_m2) ** 2 / 2
    last = sign * end - velocity_pa
    return np.where(tree.reached, last + sign * friction_pa, 0.0), np.where(tree.reached, last, 0.0)


def classes(on: Carried, sections: tuple[Section, ...], static_pa: NDArray[Any]) -> list[str]:
    """Class of tightness of every duct: by hand, or by rule for the pressure it stands."""
    margin, least = assumption(on.book, "class_margin").figure, on.book.duct_class
    return [
        duct_make.tightness(s, section, p, least, margin)
        for s, section, p in zip(on.at.segments, sections, static_pa.tolist())
    ]
