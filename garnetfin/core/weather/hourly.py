"""A year of hours from a weather file: what may be wrong with it, and what it says of the place.

Source: own method; the sun by Spencer.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

HOURS = 8760
MONTH_DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
MONTH_OF_HOUR = np.repeat(np.arange(12), np.array(MONTH_DAYS) * 24)
MOST_GAP = 3  # hours that may be bridged by a straight line
LEAST_VALID = 8700
DEW_ROUNDING_K = 0.2  # by which two rounded figures of saturated air may differ
# What a sound hour may hold; outside of it a figure counts as wrong.
SOUND = {
    "dry_c": (-70.0, 60.0),
    "dew_c": (-80.0, 40.0),
    "pressure_pa": (40e3, 110e3),
    "beam_w_m2": (0.0, 1200.0),
    "diffuse_w_m2": (0.0, 900.0),
    "wind_m_s": (0.0, 70.0),
}
NAMES = {
    "dry_c": "dry bulb",
    "dew_c": "dew point",
    "pressure_pa": "pressure",
    "beam_w_m2": "beam radiation",
    "diffuse_w_m2": "diffuse radiation",
    "wind_m_s": "wind",
}
FIELDS = tuple(SOUND)


@dataclass(frozen=True, slots=True, eq=False)
class Year:
    """Hours 0..8759 of a year of 365 days, means over the hour in local standard time; NaN = missing."""

    dry_c: NDArray[np.float64]
    dew_c: NDArray[np.float64]
    pressure_pa: NDArray[np.float64]
    beam_w_m2: NDArray[np.float64]
    diffuse_w_m2: NDArray[np.float64]
    wind_m_s: NDArray[np.float64]

    def __post_init__(self) -> None:
        if any(len(getattr(self, name)) != HOURS for name in FIELDS):
            raise InputError(
                f"A year of weather has {HOURS} hours", remedy="Give 365 days of 24 hours; 29 February is left out"
            )


@dataclass(frozen=True, slots=True)
class Fault:
    """Something wrong with the hours of a file. `mend` says what taking it on would do; "" = nothing can be done."""

    kind: str  # place, units, zone, negative, range, gap, long gap, dew
    field: str
    rows: tuple[int, ...]  # the first few rows of the file, 1-based within the data
    count: int
    sentence: str
    mend: str = ""


def faults(year: Year, latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> tuple[Fault, ...]:
    """All that is wrong, in the order of its weight."""
    found = [*_place(latitude_deg, longitude_deg, utc_offset_h), *_units(year)]
    if not any(f.kind == "place" for f in found):
        found += _zone(year, latitude_deg, longitude_deg, utc_offset_h)
    for name in FIELDS:
        values, (low, high) = getattr(year, name), SOUND[name]
        if any(f.kind == "units" and f.field == name for f in found):
            continue
        bad = np.isfinite(values) & ((values < low) | (values > high))
        if name.endswith("w_m2"):
            negative = np.flatnonzero(values < 0)
            if len(negative):
                found.append(
                    Fault(
                        "negative",
                        name,
                        _rows(negative),
                        len(negative),
                        f"{NAMES[name].capitalize()} is below 0 in {len(negative)} hours",
                        "count them as 0",
                    )
                )
            bad &= values > high
        at = np.flatnonzero(bad)
        if len(at):
            found.append(
                Fault(
                    "range",
                    name,
                    _rows(at),
                    len(at),
                    f"{NAMES[name].capitalize()} is out of {low:g} to {high:g} in "
                    f"{len(at)} hours, first {values[at[0]]:g}",
                    "treat them as missing",
                )
            )
        for kind, holes in zip(("gap", "long gap"), _gaps(values)):
            if len(holes):
                hours = sum(b - a for a, b in holes)
                found.append(
                    Fault(
                        kind,
                        name,
                        tuple(a + 1 for a, _ in holes[:5]),
                        hours,
                        f"{NAMES[name].capitalize()} is missing in {hours} hours ({len(holes)} gap"
                        f"{'s' if len(holes) > 1 else ''})",
                        "draw a straight line across" if kind == "gap" else "take the hours of the day before",
                    )
                )
    if not any(f.kind in ("units", "range") and f.field in ("dry_c", "dew_c") for f in found):
        found += _dew(year)
    return tuple(found)


def _place(latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> list[Fault]:
    """Figures that name no place on the earth."""
    return [
        Fault("place", "", (1,), 1, f"The file names {value:g} as {name}, which is out of {low:g} to {high:g}")
        for name, value, low, high in (
            ("latitude", latitude_deg, -90.0, 90.0),
            ("longitude", longitude_deg, -180.0, 180.0),
            ("hours from UTC", utc_offset_h, -12.0, 14.0),
        )
        if not low <= value <= high
    ]


def _dew(year: Year) -> list[Fault]:
    """Hours in which air would hold more moisture than it can."""
    with np.errstate(invalid="ignore"):
        at = np.flatnonzero(year.dew_c > year.dry_c + DEW_ROUNDING_K)
    if not len(at):
        return []
    first = at[0]
    words = (
        f"The dew point is above the dry bulb in {len(at)} hours, first {year.dew_c[first]:.1f} "
        f"above {year.dry_c[first]:.1f} °C"
    )
    return [Fault("dew", "dew_c", _rows(at), len(at), words, "take these hours as saturated")]


def mended(year: Year, taken: tuple[Fault, ...]) -> Year:
    """The year with the faults that the engineer wants mended; everything else stays as it was read."""
    columns = {name: getattr(year, name).copy() for name in FIELDS}
    order = {"units": 0, "zone": 1, "negative": 2, "range": 3, "long gap": 4, "gap": 5, "dew": 6}
    for fault in sorted(taken, key=lambda f: order.get(f.kind, 9)):
        values = columns.get(fault.field)
        match fault.kind:
            case "units":
                columns[fault.field] = _CONVERT[fault.mend](values)
            case "zone":
                hours = fault.count
                for name in ("beam_w_m2", "diffuse_w_m2"):
                    columns[name] = np.roll(columns[name], hours)
            case "negative":
                values[values < 0] = 0.0
            case "range":
                low, high = SOUND[fault.field]
                values[(values < low) | (values > high)] = np.nan
                columns[fault.field] = _bridge(values)
            case "long gap":
                for a, b in _gaps(values)[1]:
                    for i in range(a, b):
                        values[i] = values[i - 24]
            case "gap":
                columns[fault.field] = _bridge(values)
            case "dew":
                columns["dew_c"] = np.fmin(columns["dew_c"], columns["dry_c"])
    return Year(**columns)


def usable(year: Year) -> Year:
    """Raises InputError for a year that too much is missing from to derive design conditions."""
    valid = int(np.isfinite(year.dry_c).sum())
    if valid < LEAST_VALID:
        raise InputError(
            f"Only {valid} hours have a dry bulb; {LEAST_VALID} are needed", remedy="Fix the gaps, or take another file"
        )
    return year


def complete(year: Year) -> Year:
    """Small holes of a usable year bridged for a run through all hours; radiation that is missing counts as 0."""
    fixed = {name: _bridge(getattr(year, name), limit=HOURS) for name in FIELDS}
    for name in ("beam_w_m2", "diffuse_w_m2", "wind_m_s"):
        fixed[name] = np.maximum(np.nan_to_num(fixed[name]), 0.0)
    if not np.isfinite(fixed["dew_c"]).all():
        fixed["dew_c"] = fixed["dry_c"] - 5.0
    if not np.isfinite(fixed["pressure_pa"]).all():
        fixed["pressure_pa"] = np.full(HOURS, 101325.0)
    return replace(year, **fixed)


def from_csv(text: bytes) -> Year:
    """The hours as they are kept beside a project. Raises InputError for anything else."""
    lines = text.decode("utf-8", "replace").splitlines()
    if len(lines) != HOURS + 1 or lines[0] != ",".join(FIELDS):
        raise InputError(
            "The hours beside the project are not as this program keeps them", remedy="Read the weather file again"
        )
    try:
        table = np.array([[float(cell) if cell else np.nan for cell in line.split(",")] for line in lines[1:]])
        return Year(*(table[:, k].copy() for k in range(len(FIELDS))))
    except (ValueError, IndexError) as error:
        raise InputError("The hours beside the project are damaged", remedy="Read the weather file again") from error


def _rows(at: NDArray[Any]) -> tuple[int, ...]:
    return tuple(int(i) + 1 for i in at[:5])


def _gaps(values: NDArray[Any]) -> tuple[list[tuple[int, int]], list[tuple[int, int]]]:
    """(short, long) runs of missing hours as (first, past the last).

    A column that is empty as a whole counts as absent.
    """
    missing = ~np.isfinite(values)
    if missing.all() or not missing.any():
        return [], []
    edges = np.flatnonzero(np.diff(np.concatenate([[0], missing.astype(int), [0]])))
    runs = [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2])]
    return [r for r in runs if r[1] - r[0] <= MOST_GAP], [r for r in runs if r[1] - r[0] > MOST_GAP]


def _bridge(values: NDArray[Any], limit: int = MOST_GAP) -> NDArray[Any]:
    known = np.flatnonzero(np.isfinite(values))
    if not len(known):
        return values
    filled = values.copy()
    every = np.interp(np.arange(len(values)), known, values[known])
    short, long_ = _gaps(values)
    for a, b in short + (long_ if limit > MOST_GAP else []):
        filled[a:b] = every[a:b]
    return filled


_CONVERT = {
    "read °F": lambda v: (v - 32) / 1.8,
    "read K": lambda v: v - 273.15,
    "read hPa": lambda v: v * 100.0,
    "read kPa": lambda v: v * 1000.0,
    "read kJ/m² in the hour": lambda v: v / 3.6,
    "read km/h": lambda v: v / 3.6,
}


def _units(year: Year) -> list[Fault]:
    """A whole column whose size betrays another unit."""
    found = []

    def middle(name: str) -> float:
        values = getattr(year, name)
        values = values[np.isfinite(values)]
        return float(np.median(values)) if len(values) else np.nan

    def add(name: str, value: float, mend: str) -> None:
        found.append(
            Fault(
                "units",
                name,
                (1,),
                HOURS,
                f"{NAMES[name].capitalize()} has a median of {value:.4g}: not in the unit expected",
                mend,
            )
        )

    for name in ("dry_c", "dew_c"):
        value = middle(name)
        if value > 200:
            add(name, value, "read K")
        elif value > 35 or np.nanmax(np.append(getattr(year, name), -99)) > 65:
            add(name, value, "read °F")
    pressure = middle("pressure_pa")
    if 40 <= pressure <= 115:
        add("pressure_pa", pressure, "read kPa")
    elif 400 <= pressure <= 1150:
        add("pressure_pa", pressure, "read hPa")
    for name in ("beam_w_m2", "diffuse_w_m2"):
        values = getattr(year, name)
        if np.isfinite(values).any() and np.nanpercentile(values, 99.5) > 1250:
            add(name, float(np.nanpercentile(values, 99.5)), "read kJ/m² in the hour")
    if middle("wind_m_s") > 13:
        add("wind_m_s", middle("wind_m_s"), "read km/h")
    return found


def _zone(year: Year, latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> list[Fault]:
    """The hours by which the radiation and the sun's way disagree, found by moving the one along the other."""
    total = np.nan_to_num(np.maximum(year.beam_w_m2, 0)) + np.nan_to_num(np.maximum(year.diffuse_w_m2, 0))
    if total.sum() < 1000 or abs(latitude_deg) > 85:
        return []
    up = np.maximum(sine_of_sun(latitude_deg, longitude_deg, utc_offset_h), 0.0)
    score = [float((np.roll(total, k) * up).sum()) for k in range(-12, 12)]
    best = int(np.argmax(score)) - 12
    if abs(best) < 1 or score[best + 12] < 1.03 * score[12]:
        return []
    return [
        Fault(
            "zone",
            "",
            (1,),
            best,
            f"The sun of the file stands {abs(best)} h {'early' if best > 0 else 'late'}: "
            f"its hours are not those of UTC{utc_offset_h:+g}",
            f"move the radiation by {best:+d} h",
        )
    ]


def sine_of_sun(latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> NDArray[np.float64]:
    """Sine [-] of the sun's elevation at the middle of each hour of the year (8760,), to about half a degree.

    Spencer (1971) for declination and equation of time: near enough to find a shifted clock; loads use core/sun's
    positions.
    """
    hour = np.arange(HOURS) + 0.5
    b = 2 * np.pi * hour / HOURS
    declination = (
        0.006918 - 0.399912 * np.cos(b) + 0.070257 * np.sin(b) - 0.006758 * np.cos(2 * b) + 0.000907 * np.sin(2 * b)
    )
    minutes = 229.18 * (
        0.000075 + 0.001868 * np.cos(b) - 0.032077 * np.sin(b) - 0.014615 * np.cos(2 * b) - 0.04089 * np.sin(2 * b)
    )
    angle = np.radians(15 * (hour % 24 - 12 + longitude_deg / 15 - utc_offset_h + minutes / 60))
    latitude = np.radians(latitude_deg)
    answer: NDArray[Any] = np.sin(latitude) * np.sin(declination) + np.cos(latitude) * np.cos(declination) * np.cos(
        angle
    )
    return answer
