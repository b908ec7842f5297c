"""What ducts are made of: material, lining, insulation, sheet and class, by the office standards or by hand."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.friction import FLEXIBLE, ROUGHNESS_M
from garnetfin.core.ducts.sizes import SEAMS, Section, sheet_m
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Make
from garnetfin.project.book import Book
from garnetfin.project.ducts import TIGHTNESS, Segment
from garnetfin.project.values import Rule, Value

# kg/m3 of what sheets are made of; ducts of other materials are no sheet and weigh nothing on the take-off.
DENSITY_KG_M3 = {
    "galvanised": 7850.0,
    "galvanised, short joints": 7850.0,
    "black steel": 7850.0,
    "stainless": 7900.0,
    "aluminium": 2700.0,
    "plastic": 1400.0,
}
# Greatest pressure above and below the air around [Pa] by class: EN 1507 (rectangular), EN 12237 (round).
PRESSURES = {
    "rectangular": {"A": (400, 200), "B": (400, 500), "C": (2000, 750), "D": (2000, 750)},
    "round": {"A": (500, 500), "B": (1000, 750), "C": (2000, 750), "D": (2000, 750)},
}
# Greatest velocity of a main above a ceiling by the noise limit of the rooms [m/s]; own defaults.
NOISE_LIMIT, MAIN_M_S = (25.0, 35.0, 45.0), (4.5, 6.5, 9.0)
SHARE_OF_MAIN = {"trunk": 1.0, "riser": 1.0, "branch": 0.8, "last": 0.6}


WRAPPED_M = 0.03  # of supply ducts whose heat is computed, where neither they nor the office book say


def make(segment: Segment, book: Book, wraps: bool = False) -> Make:
    """What a duct is made of; wraps: as supply air that is colder than rooms is wrapped by rule."""

    def by(own: Value, name: str) -> float:
        return assumption(book, name).figure if isinstance(own, Rule) else own.value

    material = segment.material or book.duct_material
    soft = material in FLEXIBLE
    lining = 0.0 if soft else by(segment.lining_m, "duct_lining_m")
    return Make(
        material,
        ROUGHNESS_M["lined"] if lining > 0 else ROUGHNESS_M[material],
        assumption(book, "flexible_share").figure * 100 if soft else 0.0,
        lining,
        WRAPPED_M
        if wraps and isinstance(segment.insulation_m, Rule) and isinstance(book.duct_insulation_m, Rule)
        else by(segment.insulation_m, "duct_insulation_m"),
    )


def noise_velocity(role: str, limit: float) -> float:
    """Greatest velocity of a role [m/s] for rooms with a noise limit."""
    return float(np.interp(limit, NOISE_LIMIT, MAIN_M_S)) * SHARE_OF_MAIN[role]


def tightness(segment: Segment, section: Section, static_pa: float, least: str, margin: float) -> str:
    """The class by hand, or the lowest from the book's on that bears the pressure with a margin; the last of all where
    none does.
    """
    if segment.tightness:
        return segment.tightness
    for name in TIGHTNESS[TIGHTNESS.index(least) :]:
        if bears(name, section, static_pa * (1 + margin)):
            return name
    return TIGHTNESS[-1]


def bears(name: str, section: Section, static_pa: float) -> bool:
    above, below = PRESSURES["round" if section.shape != "rectangular" else "rectangular"][name]
    return -below <= static_pa <= above


def thickness(segment: Segment, outside: Section, static_pa: float) -> float:
    """Of the sheet [m]: by hand, or by its greatest side and the pressure."""
    if not isinstance(segment.thickness_m, Rule):
        return segment.thickness_m.value
    return sheet_m(outside.shape, max(outside.width_m, outside.height_m), static_pa)


def mass_per_m(section: Section, made: Make, thickness_m: float) -> float:
    """Sheet with seams and flanges [kg/m]."""
    return section.grown(made.lining_m).perimeter_m * thickness_m * DENSITY_KG_M3.get(made.material, 0.0) * SEAMS


def made_arrays(made: Sequence[Make]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(roughness [m], compression [%]) of segments."""
    return np.array([m.roughness_m for m in made]), np.array([m.compression for m in made])
