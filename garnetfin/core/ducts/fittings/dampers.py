"""Single-blade balancing dampers: open loss, and the angle that takes a surplus.

Source: rows of the catalogue (Idelchik, sect. 9).
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from garnetfin.core.ducts.fittings.laws.free_area import orifice_k
from garnetfin.core.ducts.fittings.tables import invert, look_up
from garnetfin.core.ducts.sizes import Section

# a blade from here on is taken as shut: no air is meant to pass, so its run sets no fan
SHUT_DEG = 85.0
SHUT_K = 1e6


@dataclass(frozen=True, slots=True)
class DamperSetting:
    """Blade angle [deg], None where the damper cannot take the surplus; k above the open value."""

    surplus_pa: float
    added_k: float
    angle_deg: float | None
    free: float | None = None  # free area of an orifice plate instead of a blade [-]


def blade(section: Section) -> str:
    """Id in the catalogue of the single blade that goes with a section."""
    return "damper-butterfly-round" if section.shape == "round" else "damper-butterfly-rect"


@lru_cache(maxsize=1024)
def open_k(section: Section) -> float:
    """Coefficient [-] of the open blade of a section, on the velocity pressure of its duct."""
    return _k_of(blade(section), 0.0)


@lru_cache(maxsize=1)
def _plates() -> tuple[np.ndarray, np.ndarray]:
    free = np.geomspace(0.02, 1.0, 2000)[::-1]
    return np.array([orifice_k(float(f)) for f in free]), free


def orifice(velocity_pa: float, surplus_pa: float) -> DamperSetting:
    """The plate that takes `surplus_pa` at a velocity pressure of its duct; None of free area where no air moves."""
    if velocity_pa < 1e-6 or surplus_pa <= 0:
        return DamperSetting(
            max(surplus_pa, 0.0), 0.0, 0.0 if surplus_pa <= 0.5 else None, 1.0 if surplus_pa <= 0.5 else None
        )
    k = surplus_pa / velocity_pa
    rising, free = _plates()
    return DamperSetting(surplus_pa, k, None, float(np.interp(k, rising, free)))


def k_at(section: Section, angle_deg: float) -> float:
    """Coefficient of a blade at an angle [deg], on the velocity pressure of its duct."""
    return _k_of(blade(section), float(angle_deg))


@lru_cache(maxsize=4096)
def _k_of(fitting: str, angle_deg: float) -> float:
    return float(look_up(fitting, "k", angle_deg))


def setting(section: Section, velocity_pa: float, surplus_pa: float) -> DamperSetting:
    """Angle at which the damper takes `surplus_pa` more than open, at a velocity pressure of its duct."""
    if velocity_pa < 1e-6:
        return DamperSetting(surplus_pa, 0.0, None if surplus_pa > 0.5 else 0.0)
    added = max(surplus_pa, 0.0) / velocity_pa
    return DamperSetting(surplus_pa, added, invert(blade(section), "k", open_k(section) + added))
