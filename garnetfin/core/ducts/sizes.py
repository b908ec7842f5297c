"""Sections of ducts: standard series, equivalent diameters, sheet."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray

ROUND_MM = (63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250)      # EN 1506
ROUND_EXTRA_MM = (112, 140, 150, 180, 224, 280, 300, 355, 450, 560, 710, 900, 1120)
SIDE_MM = (100, 150, 200, 250, 300, 400, 500, 600, 800, 1000, 1200, 1400, 1600, 1800, 2000)   # after EN 1505
STEEL_KG_M3 = 7850.0
SEAMS = 1.15                       # seams, flanges and waste; project default


@dataclass(frozen=True, slots=True)
class Section:
    """Inner size: round has width = height = diameter; rectangular has width beside height."""

    shape: str
    width_m: float
    height_m: float

    @property
    def label(self) -> str:
        if self.shape == "round":
            return f"ø{self.width_m * 1000:.0f}"
        return f"{self.width_m * 1000:.0f} × {self.height_m * 1000:.0f}"

    @property
    def area_m2(self) -> float:
        return np.pi * self.width_m**2 / 4 if self.shape == "round" else self.width_m * self.height_m

    @property
    def perimeter_m(self) -> float:
        return np.pi * self.width_m if self.shape == "round" else 2 * (self.width_m + self.height_m)

    @property
    def hydraulic_m(self) -> float:
        return 4 * self.area_m2 / self.perimeter_m

    @property
    def aspect(self) -> float:
        return max(self.width_m, self.height_m) / min(self.width_m, self.height_m)

    @property
    def mass_kg_m(self) -> float:
        """Steel per metre, seams and flanges included."""
        return self.perimeter_m * sheet_m(self.shape, max(self.width_m, self.height_m)) * STEEL_KG_M3 * SEAMS


def sheet_m(shape: str, greatest_m: float) -> float:
    """Sheet thickness [m] below 1000 Pa; project default (verify)."""
    steps = (((0.200, 0.5), (0.315, 0.6), (0.800, 0.7), (1.250, 0.9)) if shape == "round"
             else ((0.500, 0.7), (1.000, 0.9), (2.000, 1.1)))
    return next((t for limit, t in steps if greatest_m <= limit + 1e-9), 1.2) / 1000


def equal_friction_diameter(a: ArrayLike, b: ArrayLike) -> NDArray[np.float64]:
    """Round duct of the same friction at the same flow [m], for a rectangle (Huebscher)."""
    a, b = np.asarray(a, float), np.asarray(b, float)
    return 1.30 * (a * b) ** 0.625 / (a + b) ** 0.25


@dataclass(frozen=True, slots=True, eq=False)
class Series:
    """Candidate sections of one shape as columns."""

    sections: tuple[Section, ...]
    area_m2: NDArray[np.float64]
    hydraulic_m: NDArray[np.float64]
    height_m: NDArray[np.float64]
    aspect: NDArray[np.float64]
    mass_kg_m: NDArray[np.float64]


def _series(sections: tuple[Section, ...]) -> Series:
    def column(name: str) -> NDArray:
        return np.array([getattr(s, name) for s in sections])
    return Series(sections, column("area_m2"), column("hydraulic_m"), column("height_m"), column("aspect"),
                  column("mass_kg_m"))


@lru_cache(maxsize=32)
def round_series(least_mm: int = 100, extra: bool = False) -> Series:
    sizes = sorted(ROUND_MM + (ROUND_EXTRA_MM if extra else ()))
    return _series(tuple(Section("round", d / 1000, d / 1000) for d in sizes if d >= least_mm))


@lru_cache(maxsize=32)
def rectangular_series(step_mm: int = 50, greatest_mm: int = 1200, hard_aspect: float = 8.0, least_mm: int = 100) -> Series:
    """Upright side from the standard series, width in steps of the site, never narrower than high."""
    heights = [h for h in SIDE_MM if least_mm <= h <= greatest_mm] or [100]
    return _series(tuple(Section("rectangular", w / 1000, h / 1000) for h in heights
                         for w in range(h, greatest_mm + 1, step_mm) if w / h <= hard_aspect))


@lru_cache(maxsize=32)
def with_height(series: Series, height_m: float) -> Series:
    """Candidates of one height; widths beside it in the same steps where the standard series has no such height."""
    kept = tuple(s for s in series.sections if abs(s.height_m - height_m) < 1e-9)
    if not kept:
        widths = sorted({s.width_m for s in series.sections if height_m <= s.width_m <= 8 * height_m})
        kept = tuple(Section("rectangular", w, height_m) for w in widths) or series.sections
    return _series(kept)
