"""System effect: what a fan loses because of how it is joined to the system."""

from math import pi, sqrt

from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.errors import InputError

SLOW_M_S, PER_M_S = 12.7, 5.0


def effective_length(outlet_m2: float, velocity_m_s: float) -> float:
    """Length of straight duct [m] behind an outlet that regains all of its velocity pressure: 2.5 diameters up to 12.7
    m/s, one more for
    each 5 m/s above. Source: AMCA 201.

    Raises InputError without an area.
    """
    if not outlet_m2 > 0 or not velocity_m_s >= 0:
        raise InputError(
            f"An outlet needs an area above 0 and a velocity from 0, got {outlet_m2:g} m² and {velocity_m_s:g} m/s",
            where="fan outlet",
        )
    return sqrt(4 * outlet_m2 / pi) * (2.5 + max(0.0, velocity_m_s - SLOW_M_S) / PER_M_S)


def outlet_effect(outlet_m2: float, flow_m3s: float, density_kg_m3: float, duct_m: float, blast: float) -> float:
    """Pressure [Pa] lost behind an outlet with `duct_m` of straight duct; blast: blast area over outlet area [-].

    Nothing from the effective length on, a linear share below it. Source: AMCA 201, coefficients of ASHRAE Handbook
    Fundamentals.
    """
    velocity = flow_m3s / outlet_m2
    short = 1 - min(max(duct_m, 0.0) / effective_length(outlet_m2, velocity), 1.0)
    return float(look_up("fan-outlet-free", "k", blast)) * density_kg_m3 / 2 * velocity**2 * short
