"""Fan curves: monotone interpolation of catalogue points, the affinity laws, fans in series and in parallel.

Source: ISO 5801, fan laws.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import isfinite
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.tables import FanModel


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """Fans at one speed and density: one, or `fans` alike that add pressures (series) or flows (parallel, with
    non-return dampers).

    Flow [m3/s] and total pressure [Pa] of all together, shaft power [W] of all. The loss between fans in series is
    left to the duct.
    """

    model: FanModel
    speed_rpm: float
    density_kg_m3: float
    fans: int = 1
    series: bool = False

    def __post_init__(self) -> None:
        if self.fans < 1:
            raise InputError(f"At least one fan is needed, got {self.fans}", where=self.model.fan_id)

    def at(self, speed_rpm: float, density_kg_m3: float) -> "Curve":
        """The same fans at another speed and density."""
        return replace(self, speed_rpm=speed_rpm, density_kg_m3=density_kg_m3)

    @property
    def _k(self) -> float:
        return self.speed_rpm / self.model.speed_rpm

    @property
    def _s(self) -> float:
        return self.density_kg_m3 / self.model.density_kg_m3

    @property
    def _beside(self) -> int:
        """Fans that share the flow."""
        return 1 if self.series else self.fans

    @property
    def greatest_m3s(self) -> float:
        """Flow at the last point of the catalogue, at this speed."""
        return float(self.model.flow_m3s[-1]) * self._k * self._beside

    @property
    def stall_m3s(self) -> float:
        """Flow of the first point right of stall."""
        return first_normal(self.model) * self._k * self._beside

    def _of_one(self, flow_m3s: ArrayLike) -> NDArray[np.float64]:
        """Flow of one fan at the catalogue's speed."""
        return np.asarray(flow_m3s, float) / (self._k * self._beside)

    def pressure(self, flow_m3s: ArrayLike) -> NDArray[np.float64]:
        """Total pressure [Pa]; NaN beyond the catalogue's ends."""
        return (
            _interpolators(self.model)[0](self._of_one(flow_m3s))
            * self._k**2
            * self._s
            * (self.fans if self.series else 1)
        )

    def static(self, flow_m3s: ArrayLike) -> NDArray[np.float64]:
        """Static pressure [Pa]: total less the velocity pressure at the outlet of one fan."""
        outlet = np.asarray(flow_m3s, float) / self._beside / self.model.outlet_m2
        return self.pressure(flow_m3s) - self.density_kg_m3 / 2 * outlet**2

    def shaft_power(self, flow_m3s: ArrayLike) -> NDArray[np.float64]:
        """[W] of all fans at a flow [m3/s]."""
        answer: NDArray[Any] = _interpolators(self.model)[1](self._of_one(flow_m3s)) * self._k**3 * self._s * self.fans
        return answer

    def sound_power(self, flow_m3s: float) -> float:
        """Sound power level [dB] at the point, moved by the affinity laws; fans alike add up."""
        level = np.interp(self._of_one(flow_m3s), self.model.flow_m3s, self.model.sound_db)
        return float(level + 50 * np.log10(self._k) + 20 * np.log10(self._s) + 10 * np.log10(self.fans))


def first_normal(model: FanModel) -> float:
    """Flow [m3/s] right of stall at the catalogue's speed: the first point that is marked so, else the one of greatest
    pressure.
    """
    normal = np.flatnonzero(~model.stalled)
    peak = int(np.argmax(model.total_pa))
    return float(model.flow_m3s[normal[0] if model.stalled.any() and len(normal) else max(peak, 1)])


@lru_cache(maxsize=256)
def _interpolators(model: FanModel):
    """(pressure, power) over flow at the catalogue's speed; SciPy is imported here, off the start path."""
    from scipy.interpolate import PchipInterpolator

    return (
        PchipInterpolator(model.flow_m3s, model.total_pa, extrapolate=False),
        PchipInterpolator(model.flow_m3s, model.shaft_w, extrapolate=False),
    )


def speed_for(
    model: FanModel, flow_m3s: float, pressure_pa: float, density_kg_m3: float, fans: int = 1, series: bool = False
) -> float | str:
    """Speed [rpm] that gives a duty right of stall, or in words why no speed does and how far off it is."""
    from scipy.optimize import brentq

    if not (isfinite(flow_m3s) and isfinite(pressure_pa) and flow_m3s > 0 and pressure_pa > 0):
        return "there is no duty to do"
    each = flow_m3s if series else flow_m3s / fans
    slowest = each / model.flow_m3s[-1] * model.speed_rpm * (1 + 1e-9)
    fastest = each / first_normal(model) * model.speed_rpm * (1 - 1e-9)

    def excess(speed: float) -> float:
        return float(Curve(model, speed, density_kg_m3, fans, series).pressure(flow_m3s)) - pressure_pa

    short, beyond = excess(fastest), excess(slowest)
    if short < 0:
        return f"would run in stall, {-short:.0f} Pa short at its edge"
    if beyond > 0:
        return f"the duty lies beyond its curve by {beyond:.0f} Pa"
    return float(brentq(excess, slowest, fastest, xtol=1e-6))
