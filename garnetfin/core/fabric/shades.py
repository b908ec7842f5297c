"""Blinds and screens: what is left of the sun with one closed, and when it is closed."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

# W/m2K of the air beside the device; EN 13363-1 (verify edition)
GAP_INSIDE, GAP_OUTSIDE, GAP_OUTER = 30.0, 5.0, 10.0


@dataclass(frozen=True, slots=True)
class Device:
    """Solar transmittance and reflectance of a closed shade; the rest is absorbed."""

    tau: float
    rho: float
    outside: bool

    def __post_init__(self) -> None:
        if not (0 <= self.tau <= 1 and 0 <= self.rho <= 1 and self.tau + self.rho <= 1 + 1e-9):
            raise InputError("A shade's transmittance and reflectance must be 0..1 and at most 1 together")

    @property
    def alpha(self) -> float:
        """Share of the sun that the device takes up [-]."""
        return max(0.0, 1 - self.tau - self.rho)


def with_shade(g: float, tau_e: float, rho_e: float, u_w_m2k: float, device: Device) -> tuple[float, float]:
    """(g, solar transmittance) of glass with a closed shade [-].

    Source: EN 13363-1 / ISO 52022-1, simplified method.
    """
    through = tau_e * device.tau / (1 - rho_e * device.rho)
    if device.outside:
        lam = 1 / (1 / u_w_m2k + 1 / GAP_OUTSIDE + 1 / GAP_OUTER)
        total = device.tau * g + device.alpha * lam / GAP_OUTER + device.tau * (1 - g) * lam / GAP_OUTSIDE
    else:
        lam = 1 / (1 / u_w_m2k + 1 / GAP_INSIDE)
        total = g * (1 - g * device.rho - device.alpha * lam / GAP_INSIDE)
    return total, min(through, total)


def closed_hours(rule: str, sun_w_m2: NDArray[Any], limit_w_m2: float, hours: tuple[int, int]) -> NDArray[np.bool_]:
    """When a shade is closed, (..., 24): never, always, sun (more than the limit on its face), hours (from, to).

    States are of whole hours and decided before the balance is solved.

    Raises InputError for another rule.
    """
    if rule == "always":
        return np.ones(sun_w_m2.shape, bool)
    if rule == "sun":
        return sun_w_m2 > limit_w_m2
    if rule == "hours":
        hour, (start, end) = np.arange(24), hours
        shut = (hour >= start) & (hour < end) if start <= end else (hour >= start) | (hour < end)
        return np.broadcast_to(shut, sun_w_m2.shape)
    if rule != "never":
        raise InputError(f"A shade is closed never, always, with the sun or by hours, not “{rule}”")
    return np.zeros(sun_w_m2.shape, bool)
