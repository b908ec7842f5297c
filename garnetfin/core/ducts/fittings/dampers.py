"""Single-blade balancing dampers: open loss, and the angle that takes a surplus."""

from dataclasses import dataclass
from functools import lru_cache

from garnetfin.core.ducts.fittings.tables import invert, look_up
from garnetfin.core.ducts.sizes import Section


@dataclass(frozen=True, slots=True)
class DamperSetting:
    """Blade angle [deg], None where the damper cannot take the surplus; k above the open value."""

    surplus_pa: float
    added_k: float
    angle_deg: float | None


def blade(section: Section) -> str:
    return "damper-butterfly-round" if section.shape == "round" else "damper-butterfly-rect"


@lru_cache(maxsize=1024)
def open_k(section: Section) -> float:
    return float(look_up(blade(section), "k", 0.0))


def k_at(section: Section, angle_deg: float) -> float:
    """Coefficient of a blade at an angle [deg], on the velocity pressure of its duct."""
    return float(look_up(blade(section), "k", angle_deg))


def setting(section: Section, velocity_pa: float, surplus_pa: float) -> DamperSetting:
    """Angle at which the damper takes `surplus_pa` more than open, at a velocity pressure of its duct."""
    if velocity_pa < 1e-6:
        return DamperSetting(surplus_pa, 0.0, None if surplus_pa > 0.5 else 0.0)
    added = max(surplus_pa, 0.0) / velocity_pa
    return DamperSetting(surplus_pa, added, invert(blade(section), "k", open_k(section) + added))
