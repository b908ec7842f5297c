"""Outdoor air of rooms:

EN 16798-1:2019 / ISO 17772-1 by three methods, and the people-and-area procedure of ASHRAE 62.1.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

LEAST_PERSON_M3S = 0.004
CO2_PERSON_M3S = 20e-3 / 3600  # given off by a seated person
RISE_PPM = {"I": 550.0, "II": 800.0, "III": 1350.0, "IV": 1350.0}


def perceived_quality(
    people: ArrayLike, area_m2: ArrayLike, person_m3s: ArrayLike, area_m3s_m2: ArrayLike
) -> NDArray[np.float64]:
    """Method 1 [m3/s]: for people and for the building, never below 4 L/s a person."""
    people = np.asarray(people, float)
    wanted = people * np.asarray(person_m3s, float) + np.asarray(area_m2, float) * np.asarray(area_m3s_m2, float)
    answer: NDArray[Any] = np.maximum(wanted, people * LEAST_PERSON_M3S)
    return answer


def dilution(source_m3s: ArrayLike, rise_ppm: ArrayLike, effectiveness: ArrayLike = 1.0) -> NDArray[np.float64]:
    """Method 2 [m3/s]: air that keeps a substance given off at source_m3s within a rise over outdoors.

    Raises InputError for a rise or an effectiveness of 0 or less.
    """
    rise, e = np.asarray(rise_ppm, float), np.asarray(effectiveness, float)
    if not np.all(rise > 0) or not np.all(e > 0):
        raise InputError("The rise over outdoors and the ventilation effectiveness must be above 0")
    answer: NDArray[Any] = np.asarray(source_m3s, float) / (rise * 1e-6 * e)
    return answer


def people_and_area(
    people: ArrayLike, area_m2: ArrayLike, person_m3s: ArrayLike, area_m3s_m2: ArrayLike, effectiveness: ArrayLike = 1.0
) -> NDArray[np.float64]:
    """Outdoor air of a zone [m3/s], ASHRAE 62.1: (Rp P + Ra A) / Ez.

    Raises InputError for an effectiveness of 0 or less.
    """
    e = np.asarray(effectiveness, float)
    if not np.all(e > 0):
        raise InputError("The zone effectiveness must be above 0")
    return (
        np.asarray(people, float) * np.asarray(person_m3s, float)
        + np.asarray(area_m2, float) * np.asarray(area_m3s_m2, float)
    ) / e


@dataclass(frozen=True, slots=True, eq=False)
class SystemVentilation:
    """Outdoor air of a system that recirculates. zone_efficiency (zones,); critical is the zone with the least."""

    uncorrected_m3s: float
    diversity: float
    share: float  # Xs = uncorrected / primary flow
    zone_efficiency: NDArray[np.float64]
    efficiency: float
    critical: int
    outdoor_m3s: float  # NaN where the critical zone cannot be ventilated

    @property
    def possible(self) -> bool:
        """False where the rooms ask for more outdoor air than the system moves."""
        return self.efficiency > 0


def multiple_zones(
    people_air_m3s: ArrayLike,
    area_air_m3s: ArrayLike,
    zone_effectiveness: ArrayLike,
    discharge_m3s: ArrayLike,
    people: ArrayLike,
    system_people: float,
    primary_m3s: float,
    primary_share: ArrayLike = 1.0,
    plant_share: ArrayLike = 1.0,
) -> SystemVentilation:
    """Multiple-zone system, ASHRAE 62.1 appendix: all zone arrays (zones,).

    people_air_m3s, area_air_m3s  Rp Pz and Ra Az
    discharge_m3s                 lowest expected discharge flow; zones without outdoor air may have none
    primary_share, plant_share    Ep, and Er: the share of secondary air that is plant return; 1 and 1 for a single duct

    Raises InputError for more people than the zones hold, and without a primary flow.
    """
    rp, ra, ez, vd, ep, er = (
        np.asarray(x, float)
        for x in (people_air_m3s, area_air_m3s, zone_effectiveness, discharge_m3s, primary_share, plant_share)
    )
    total = float(np.sum(people))
    if system_people > total + 1e-9:
        raise InputError(f"{system_people:g} people in the system are more than its zones hold ({total:g})")
    if not primary_m3s > 0:
        raise InputError("The system has no primary flow")
    diversity = system_people / total if total > 0 else 1.0
    uncorrected = diversity * float(rp.sum()) + float(ra.sum())
    xs = uncorrected / primary_m3s
    wanted = (rp + ra) / ez
    zd = np.where(wanted > 0, wanted / np.where(vd > 0, vd, 1e-9), 0.0)
    fa = ep + (1 - ep) * er
    fc = 1 - (1 - ez) * (1 - er) * (1 - ep)
    ev = np.broadcast_to((fa + xs * ep - zd * fc) / fa, np.broadcast(rp, zd, fa).shape)
    critical = int(ev.argmin())
    least = float(ev[critical])
    return SystemVentilation(
        uncorrected, diversity, xs, ev, least, critical, uncorrected / least if least > 0 else np.nan
    )


def simplified_efficiency(diversity: float) -> float:
    """Efficiency of a multiple-zone system without a look at its zones, by the diversity of people, both [-].

    Source: ASHRAE 62.1-2019.
    """
    return 0.88 * diversity + 0.22 if diversity < 0.6 else 0.75


# Effectiveness of air distribution by kind of terminal: cooling, and heating with return at the ceiling.
# Source: ASHRAE 62.1-2019 table 6-4; ceiling outlets get 1.0 in heating only where a jet reaches down, which is not
# known here.
EFFECTIVENESS = {"displ": (1.2, 0.7)}
MIXING_EFFECTIVENESS = (1.0, 0.8)


def discharge_for(target: float, outdoor_share: float, wanted_m3s: ArrayLike) -> NDArray[np.float64]:
    """Discharge flow of a single-duct zone [m3/s] that brings its efficiency to a target: from Ev = 1 + Xs - Zd."""
    answer: NDArray[Any] = np.asarray(wanted_m3s, float) / np.maximum(1 + outdoor_share - target, 1e-9)
    return answer
