"""Sections of ducts: standard series, equivalent diameters, sheet."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

ROUND_MM = (63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250)  # EN 1506
ROUND_EXTRA_MM = (112, 140, 150, 180, 224, 280, 300, 355, 450, 560, 710, 900, 1120)
SIDE_MM = (100, 150, 200, 250, 300, 400, 500, 600, 800, 1000, 1200, 1400, 1600, 1800, 2000)  # after EN 1505
STEEL_KG_M3 = 7850.0
OVAL_HEIGHT_MM = (100, 125, 150, 200, 250, 300, 350, 400, 450, 500)  # own list, spiral ducts pressed flat
# Inch series [in]: round by 1, 2 and 4, sides by 2 and 4.
ROUND_IN = (*range(3, 11), *range(12, 37, 2), *range(40, 61, 4))
SIDE_IN = (*range(4, 37, 2), *range(40, 97, 4))
INCH_M = 0.0254
SEAMS = 1.15  # seams, flanges and waste; project default


Shape = Literal["round", "rectangular", "oval"]


@dataclass(frozen=True, slots=True)
class Section:
    """Inner size: round has width = height = diameter; rectangular and flat oval have width beside height."""

    shape: Shape
    width_m: float
    height_m: float

    @property
    def label(self) -> str:
        """Clear inside in mm: ø200, 400 × 250, 500 ⬭ 200."""
        if self.shape == "round":
            return f"ø{self.width_m * 1000:.0f}"
        between = " ⬭ " if self.shape == "oval" else " × "
        return f"{self.width_m * 1000:.0f}{between}{self.height_m * 1000:.0f}"

    @property
    def area_m2(self) -> float:
        """Clear inside; a flat oval is a circle drawn out."""
        if self.shape == "oval":
            low, wide = sorted((self.height_m, self.width_m))
            return np.pi * low**2 / 4 + low * (wide - low)
        return np.pi * self.width_m**2 / 4 if self.shape == "round" else self.width_m * self.height_m

    @property
    def perimeter_m(self) -> float:
        """Of the clear inside."""
        if self.shape == "oval":
            low, wide = sorted((self.height_m, self.width_m))
            return np.pi * low + 2 * (wide - low)
        return np.pi * self.width_m if self.shape == "round" else 2 * (self.width_m + self.height_m)

    def grown(self, by_m: float) -> "Section":
        """The same with `by_m` more on every side: around a lining or an insulation."""
        return Section(self.shape, self.width_m + 2 * by_m, self.height_m + 2 * by_m) if by_m else self

    @property
    def hydraulic_m(self) -> float:
        """Hydraulic diameter: four times the area over the perimeter."""
        return 4 * self.area_m2 / self.perimeter_m

    @property
    def aspect(self) -> float:
        """Longer side over shorter [-]."""
        return max(self.width_m, self.height_m) / min(self.width_m, self.height_m)

    @property
    def equal_area_m(self) -> float:
        """Diameter of the circle of the same area [m]."""
        return float(np.sqrt(4 * self.area_m2 / np.pi))

    @property
    def mass_kg_m(self) -> float:
        """Steel per metre, seams and flanges included."""
        return self.perimeter_m * sheet_m(self.shape, max(self.width_m, self.height_m)) * STEEL_KG_M3 * SEAMS


def measures(sections: Sequence[Section]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(area [m2], hydraulic diameter [m]) of sections (n,); of those that stand often, found once."""
    known: dict[int, tuple[float, float]] = {}
    rows = [known.get(id(s)) or known.setdefault(id(s), (s.area_m2, s.hydraulic_m)) for s in sections]
    area, hydraulic = np.array(rows).reshape(-1, 2).T
    return area, hydraulic


# Greatest side or diameter [m] and sheet [mm] up to 500, 1000 and 2000 Pa of static pressure.
SHEETS = {
    "rectangular": (
        (0.500, (0.7, 0.8, 0.9)),
        (1.000, (0.9, 1.0, 1.1)),
        (2.000, (1.1, 1.2, 1.5)),
        (float("inf"), (1.2, 1.5, 1.5)),
    ),
    "round": (
        (0.200, (0.5, 0.5, 0.6)),
        (0.315, (0.6, 0.6, 0.7)),
        (0.800, (0.7, 0.8, 0.9)),
        (1.250, (0.9, 1.0, 1.2)),
        (float("inf"), (1.2, 1.5, 1.5)),
    ),
}
SHEET_PA = (500.0, 1000.0)


def sheet_m(shape: str, greatest_m: float, static_pa: float = 0.0) -> float:
    """Sheet thickness [m] by greatest side or diameter and static pressure [Pa], above or below the air around.

    Source: after EN 1507, EN 1506 and common tables of sheet; to be checked against the maker's.
    """
    rows = SHEETS["rectangular" if shape == "rectangular" else "round"]
    column = sum(abs(static_pa) > limit for limit in SHEET_PA)
    return next(thick for limit, thick in rows if greatest_m <= limit + 1e-9)[column] / 1000


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
    def column(name: str) -> NDArray[Any]:
        return np.array([getattr(s, name) for s in sections])

    return Series(
        sections, column("area_m2"), column("hydraulic_m"), column("height_m"), column("aspect"), column("mass_kg_m")
    )


@lru_cache(maxsize=32)
def round_series(least_mm: int = 100, extra: bool = False, greatest_mm: int = 1250) -> Series:
    """Round ducts of EN 1506 between two diameters [mm], with the additional sizes where `extra` asks."""
    sizes = sorted(ROUND_MM + (ROUND_EXTRA_MM if extra else ()))
    return _series(
        tuple(Section("round", d / 1000, d / 1000) for d in sizes if least_mm <= d <= greatest_mm)
        or (Section("round", least_mm / 1000, least_mm / 1000),)
    )


@lru_cache(maxsize=32)
def rectangular_series(
    step_mm: int = 50, greatest_mm: int = 1200, hard_aspect: float = 8.0, least_mm: int = 100
) -> Series:
    """Upright side from the standard series, width in steps of the site, never narrower than high."""
    heights = [h for h in SIDE_MM if least_mm <= h <= greatest_mm] or [100]
    return _series(
        tuple(
            Section("rectangular", w / 1000, h / 1000)
            for h in heights
            for w in range(h, greatest_mm + 1, step_mm)
            if w / h <= hard_aspect
        )
    )


@lru_cache(maxsize=32)
def inch_series(shape: Shape, least_m: float = 0.1, greatest_m: float = 1.25, hard_aspect: float = 8.0) -> Series:
    """Round, rectangular or oval sizes in inches."""
    if shape == "round":
        return _series(
            tuple(
                Section("round", d * INCH_M, d * INCH_M)
                for d in ROUND_IN
                if least_m * 0.98 <= d * INCH_M <= greatest_m * 1.02
            )
        )
    sides = [s for s in SIDE_IN if least_m * 0.98 <= s * INCH_M <= greatest_m * 1.02] or [4]
    return _series(
        tuple(
            Section(shape, w * INCH_M, h * INCH_M)
            for h in sides
            for w in sides
            if h <= w <= h * hard_aspect and not (shape == "oval" and (w == h or h > 20))
        )
    )


@lru_cache(maxsize=32)
def oval_series(step_mm: int = 50, greatest_mm: int = 1200, hard_aspect: float = 8.0, least_mm: int = 100) -> Series:
    """Heights of the own list, width in steps, always wider than high."""
    return _series(
        tuple(
            Section("oval", w / 1000, h / 1000)
            for h in OVAL_HEIGHT_MM
            if h >= least_mm
            for w in range(h + step_mm, greatest_mm + 1, step_mm)
            if w / h <= hard_aspect
        )
    )


@lru_cache(maxsize=64)
def held(series: Series, width_m: float | None, height_m: float | None) -> Series:
    """Candidates with one side held or both; where the series has no such side, the other one in its steps. A height
    held of widths that
    are all less stays out of reach: the series stays as it is.
    """
    kept = tuple(
        s
        for s in series.sections
        if (width_m is None or abs(s.width_m - width_m) < 1e-9)
        and (height_m is None or abs(s.height_m - height_m) < 1e-9)
    )
    if not kept:
        shape = series.sections[0].shape
        if shape == "round":
            d = width_m if width_m is not None else height_m
            return _series((Section("round", d, d),)) if d is not None else series
        if width_m is not None and height_m is not None:
            return _series((Section(shape, width_m, height_m),))
        widths = [width_m] if width_m is not None else sorted({s.width_m for s in series.sections})
        heights = [height_m] if height_m is not None else sorted({s.height_m for s in series.sections})
        kept = (
            tuple(
                Section(shape, w, h)
                for h in heights
                for w in widths
                if h <= w <= 8 * h and not (shape == "oval" and w == h)
            )
            or series.sections
        )
    return _series(kept)
