"""Sizing by constant friction: the least metal among the standard sizes that keep every limit."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.friction import ROUGHNESS_M, gradient
from garnetfin.core.ducts.sizes import Section, Series

SOFT_ASPECT = 4.0


@dataclass(frozen=True, slots=True, eq=False)
class Ladder:
    """Every candidate of one segment: arrays (candidates,) beside series.sections.

    Masks say which limit a size breaks; `chosen` is what the rule gives, `relaxed` the limits it had to give up.
    """

    series: Series
    velocity_m_s: NDArray[np.float64]
    friction_pa_m: NDArray[np.float64]
    too_rough: NDArray[np.bool_]
    too_fast: NDArray[np.bool_]
    too_high: NDArray[np.bool_]
    too_flat: NDArray[np.bool_]
    chosen: int
    relaxed: tuple[str, ...]

    @property
    def section(self) -> Section:
        return self.series.sections[self.chosen]


@dataclass(frozen=True, slots=True)
class Limits:
    """friction [Pa/m], velocity [m/s], clear height [m] (inf where nothing is above or below)."""

    friction_pa_m: float
    velocity_m_s: float
    height_m: float


def size_ladder(series: Series, flow_m3s: float, limits: Limits, density: float, viscosity: float,
                roughness_m: float = ROUGHNESS_M["galvanised"], least_area_m2: float = 0.0) -> Ladder:
    """All candidates for a flow, and the lightest that keeps friction, velocity, height and aspect.

    least_area_m2   a duct is never smaller than one it feeds

    When none does, limits are given up in the order friction, aspect, velocity; height never is
    (then the lowest size is taken and "height" is reported).
    """
    velocity = flow_m3s / series.area_m2
    friction = gradient(flow_m3s, series.area_m2, series.hydraulic_m, roughness_m, density, viscosity)
    rough = friction > limits.friction_pa_m * (1 + 1e-9)
    fast = velocity > limits.velocity_m_s * (1 + 1e-9)
    high = series.height_m > limits.height_m + 1e-9
    flat = series.aspect > SOFT_ASPECT + 1e-9
    masks = {"friction": rough, "aspect": flat, "velocity": fast, "height": high}
    small = series.area_m2 < min(least_area_m2, float(series.area_m2.max())) * (1 - 1e-9)
    given_up: list[str] = []
    for limit in ("", "friction", "aspect", "velocity", "height"):
        if limit:
            given_up.append(limit)
        kept = [m for name, m in masks.items() if name not in given_up]
        fits = ~np.any([small, *kept], axis=0)
        if fits.any():
            break
    # Once friction is given up, the size that comes closest to it is wanted, not the lightest.
    rank = friction if "friction" in given_up else series.mass_kg_m
    if "height" in given_up:
        rank = series.height_m
    best = np.lexsort((friction, np.round(rank, 6), ~fits))[0]
    broken = tuple(name for name in given_up if masks[name][best])
    return Ladder(series, velocity, friction, rough, fast, high, flat, int(best), broken)
