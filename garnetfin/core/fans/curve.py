"""Fan curves: monotone interpolation of catalogue points, and the affinity laws."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.tables import FanModel, fan_models


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """One fan at one speed and density. Flow [m3/s], total pressure [Pa], shaft power [W]."""

    model: FanModel
    speed_rpm: float
    density_kg_m3: float

    @property
    def _k(self) -> float:
        return self.speed_rpm / self.model.speed_rpm

    @property
    def _s(self) -> float:
        return self.density_kg_m3 / self.model.density_kg_m3

    @property
    def greatest_m3s(self) -> float:
        return float(self.model.flow_m3s[-1]) * self._k

    @property
    def stall_m3s(self) -> float:
        """Flow of the first point right of stall."""
        normal = np.flatnonzero(~self.model.stalled)
        return float(self.model.flow_m3s[normal[0]]) * self._k

    def pressure(self, flow_m3s: ArrayLike) -> NDArray[np.float64]:
        """Total pressure; NaN beyond the catalogue's ends."""
        return _interpolators(self.model.fan_id)[0](np.asarray(flow_m3s, float) / self._k) * self._k**2 * self._s

    def shaft_power(self, flow_m3s: ArrayLike) -> NDArray[np.float64]:
        return _interpolators(self.model.fan_id)[1](np.asarray(flow_m3s, float) / self._k) * self._k**3 * self._s

    def sound_power(self, flow_m3s: float) -> float:
        """Sound power level [dB] at the point, moved by the affinity laws."""
        level = np.interp(flow_m3s / self._k, self.model.flow_m3s, self.model.sound_db)
        return float(level + 50 * np.log10(self._k) + 20 * np.log10(self._s))


@lru_cache(maxsize=None)
def _interpolators(fan_id: str):
    """(pressure, power) over flow at the catalogue's speed; SciPy is imported here, off the start path."""
    from scipy.interpolate import PchipInterpolator
    model = fan_models()[fan_id]
    return (PchipInterpolator(model.flow_m3s, model.total_pa, extrapolate=False),
            PchipInterpolator(model.flow_m3s, model.shaft_w, extrapolate=False))


def speed_for(model: FanModel, flow_m3s: float, pressure_pa: float, density_kg_m3: float) -> float | str:
    """Speed [rpm] that gives a duty right of stall, or in words why no speed does."""
    from scipy.optimize import brentq
    normal = int(np.flatnonzero(~model.stalled)[0])
    slowest = flow_m3s / model.flow_m3s[-1] * model.speed_rpm * (1 + 1e-9)
    fastest = flow_m3s / model.flow_m3s[normal] * model.speed_rpm * (1 - 1e-9)

    def excess(speed: float) -> float:
        return float(Curve(model, speed, density_kg_m3).pressure(flow_m3s)) - pressure_pa

    if excess(fastest) < 0:
        return "would run in stall"
    if excess(slowest) > 0:
        return "the duty lies beyond its curve"
    return float(brentq(excess, slowest, fastest, xtol=1e-6))
