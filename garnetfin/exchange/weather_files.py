"""Hourly weather files: the two common open layouts for typical years, and plain CSV with a column mapping."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import FileError, InputError
from garnetfin.core.sun import sun_days
from garnetfin.core.weather.hourly import FIELDS, HOURS, MONTH_DAYS, Year, faults, mended
from garnetfin.core.weather.percentiles import Statistics, statistics
from garnetfin.exchange.results import WeatherRead
from garnetfin.exchange.tables import decoded, rows_of_text
from garnetfin.project.site import MonthStatistics

LARGEST = 40 * 2**20
ACCEPTED = "A typical year as EPW or TMY3, or CSV with a line of headings and 8,760 hours, is accepted"
_BEFORE = np.concatenate([[0], np.cumsum(MONTH_DAYS)])
# Headings of a plain table, by what they hold; the first that fits counts.
WORDS = {
    "dry_c": r"dry|^temp|air.?temp|t_?db|temperature|^t$",
    "dew_c": r"dew",
    "rh": r"humid|^rh",
    "pressure_pa": r"press",
    "beam_w_m2": r"beam|direct|dni",
    "diffuse_w_m2": r"diffuse|dhi|sky",
    "global_w_m2": r"global|ghi|horizontal",
    "wind_m_s": r"wind.?(speed|m)|^wind$",
    "month": r"^month",
    "day": r"^day",
    "hour": r"^hour$|^hour \(|^time$|^h$",
    "date": r"date|timestamp",
}


def read_weather(path: Path, options: dict, say: Callable[[float, str], None]) -> WeatherRead:
    """The hours of a file with what is wrong with them, and design conditions once the wanted faults are mended.

    options: latitude, longitude, utc (used where the file names none), columns (what -> heading), mend (kinds and
    fields).
    Raises FileError for a file that is no year of weather.
    """
    with path.open("rb") as file:
        data = file.read(LARGEST + 1)
    if len(data) > LARGEST:
        raise FileError(f"{path.name} is larger than {LARGEST // 2**20} MB", remedy=ACCEPTED)
    text = decoded(data)
    say(0.2, "reading the hours")
    first = text[:200].splitlines()[0] if text.strip() else ""
    if first.upper().startswith("LOCATION,"):
        columns, meta, notes, headings = *_epw(path), ()
    elif re.match(r'^"?\d{5,6}"?,', first) and "TMY3" not in first and len(first.split(",")) in (7, 8):
        columns, meta, notes, headings = *_tmy3(path), ()
    else:
        columns, notes, headings = _plain(text, path.name, options.get("columns", {}))
        meta = {}
    place = {key: float(meta.get(key, options.get(key, 0.0))) for key in ("latitude", "longitude", "utc")}
    year = Year(**columns)
    say(0.5, "looking for faults")
    found = faults(year, place["latitude"], place["longitude"], place["utc"])
    wanted = {tuple(pair) for pair in options.get("mend", ())}
    taken = tuple(f for f in found if (f.kind, f.field) in wanted)
    for _ in range(2):  # gaps may follow from figures taken out as wrong
        year = mended(year, taken)
        left = faults(year, place["latitude"], place["longitude"], place["utc"])
        again = tuple(f for f in left if (f.kind, f.field) in wanted)
        if not again:
            break
        taken = (*taken, *again)
        year = mended(year, again)
    say(0.7, "deriving design conditions")
    months, winter, ends, why = (), (0.0, 0.0), (0.0, 0.0), ""
    # A column in another unit would make nonsense of every figure that follows.
    if any(f.kind == "units" for f in left):
        why = "The columns above need their units first"
    else:
        try:
            stats = statistics(year, sun_days(place["latitude"], place["longitude"], place["utc"]))
            months, winter = _months(stats), tuple(float(v) for v in stats.winter_c)
            ends = stats.greatest_c, stats.least_c
        except InputError as error:
            why = str(error)
    return WeatherRead(
        name=path.name,
        place=str(meta.get("name", "")),
        latitude_deg=place["latitude"],
        longitude_deg=place["longitude"],
        altitude_m=float(meta.get("altitude", np.nan)) if "altitude" in meta else None,
        utc_offset_h=place["utc"],
        located=bool(meta),
        csv=to_csv(year).encode(),
        faults=tuple((f.kind, f.field, f.sentence, f.mend, f.rows) for f in left),
        mended=tuple(dict.fromkeys(f"{f.sentence}: {f.mend}" for f in taken)),
        months=months,
        winter_c=winter,
        greatest_c=ends[0],
        least_c=ends[1],
        notes=tuple(notes),
        headings=tuple(headings),
        why_not=why,
    )


def _months(s: Statistics) -> tuple[MonthStatistics, ...]:
    return tuple(
        MonthStatistics(
            dry_bulb_c=tuple(round(float(v), 2) for v in s.dry_c[k]),
            wet_bulb_c=tuple(round(float(v), 2) for v in s.wet_c[k]),
            range_k=round(float(s.range_k[k]), 2),
            wet_range_k=round(float(s.wet_range_k[k]), 2),
            tau_b=round(float(s.tau_b[k]), 4),
            tau_d=round(float(s.tau_d[k]), 4),
            mean_c=round(float(s.mean_c[k]), 3),
            wind_m_s=round(float(s.wind_m_s[k]), 2),
        )
        for k in range(12)
    )


def to_csv(year: Year) -> str:
    """The hours as this program keeps them beside a project: one line of headings, 8,760 of figures, empty =
    missing.
    """
    columns = [getattr(year, name) for name in FIELDS]
    digits = (2, 2, 0, 1, 1, 2)
    lines = [",".join(FIELDS)]
    for row in zip(*columns):
        lines.append(",".join("" if v != v else f"{v:.{d}f}" for v, d in zip(row, digits)))
    return "\n".join(lines) + "\n"


def _none() -> dict[str, NDArray]:
    return {name: np.full(HOURS, np.nan) for name in FIELDS}


def _place(columns: dict, frame, names: dict, name: str) -> list[str]:
    """Rows of a table with month, day and hour put where they belong in the year; what it says of rows left over."""
    month, day, hour = (np.asarray(frame[k], float) for k in ("month", "day", "hour"))
    good = (
        np.isfinite(month + day + hour)
        & (month >= 1)
        & (month <= 12)
        & (day >= 1)
        & (day <= 31)
        & (hour >= 0)
        & (hour < 24)
    )
    leap = good & (month == 2) & (day == 29)
    good &= ~leap
    m, d = month[good].astype(int) - 1, day[good].astype(int) - 1
    fits = d < np.array(MONTH_DAYS)[m]
    at = (_BEFORE[m] + d) * 24 + hour[good].astype(int)
    rows = np.flatnonzero(good)[fits]
    notes = []
    if leap.any():
        notes.append(
            f"{int(leap.sum())} hours of 29 February are left out, first in row {int(np.flatnonzero(leap)[0]) + 1}"
        )
    wrong = int((~good & ~leap).sum() + (~fits).sum())
    if wrong:
        notes.append(f"{wrong} rows name no hour of a year and are left out")
    at = at[fits]
    twice = len(at) - len(np.unique(at))
    if twice:
        notes.append(f"{twice} hours are there twice; the last one counts")
    for ours, theirs in names.items():
        if theirs in frame:
            columns[ours][at] = np.asarray(frame[theirs], float)[rows]
    if len(np.unique(at)) < 24:
        raise FileError(f"{name} holds no year of hours", remedy=ACCEPTED)
    return notes


def _epw(path: Path) -> tuple[dict, dict, list[str]]:
    from pvlib.iotools import read_epw

    frame, meta = read_epw(str(path), coerce_year=2021)
    columns = _none()
    # The layout counts hours 1..24; the figures of hour k are those of the hour before the clock shows k.
    table = {"month": frame["month"].to_numpy(), "day": frame["day"].to_numpy(), "hour": frame["hour"].to_numpy() - 1.0}
    for ours, theirs, gone in (
        ("dry_c", "temp_air", 99.9),
        ("dew_c", "temp_dew", 99.9),
        ("pressure_pa", "atmospheric_pressure", 999999.0),
        ("beam_w_m2", "dni", 9999.0),
        ("diffuse_w_m2", "dhi", 9999.0),
        ("wind_m_s", "wind_speed", 999.0),
    ):
        values = frame[theirs].to_numpy(float)
        table[ours] = np.where(values >= gone, np.nan, values)
    notes = _place(columns, table, {n: n for n in FIELDS}, path.name)
    return (
        columns,
        {
            "name": str(meta.get("city", "")),
            "latitude": meta["latitude"],
            "longitude": meta["longitude"],
            "altitude": meta["altitude"],
            "utc": meta["TZ"],
        },
        notes,
    )


def _tmy3(path: Path) -> tuple[dict, dict, list[str]]:
    from pvlib.iotools import read_tmy3

    frame, meta = read_tmy3(str(path), coerce_year=2021, map_variables=True)
    columns = _none()
    hour = frame["Time (HH:MM)"].astype(str).str.slice(0, 2).astype(float).to_numpy() - 1.0
    date = frame["Date (MM/DD/YYYY)"].astype(str)
    table = {
        "month": date.str.slice(0, 2).astype(float).to_numpy(),
        "day": date.str.slice(3, 5).astype(float).to_numpy(),
        "hour": hour,
        "dry_c": frame["temp_air"].to_numpy(float),
        "dew_c": frame["temp_dew"].to_numpy(float),
        "pressure_pa": frame["pressure"].to_numpy(float) * 100.0,
        "beam_w_m2": frame["dni"].to_numpy(float),
        "diffuse_w_m2": frame["dhi"].to_numpy(float),
        "wind_m_s": frame["wind_speed"].to_numpy(float),
    }
    for name in FIELDS:
        table[name] = np.where(table[name] <= (-9900.0 if name != "pressure_pa" else -1.0), np.nan, table[name])
    notes = _place(columns, table, {n: n for n in FIELDS}, path.name)
    return (
        columns,
        {
            "name": str(meta.get("Name", "")).strip('" '),
            "latitude": meta["latitude"],
            "longitude": meta["longitude"],
            "altitude": meta["altitude"],
            "utc": meta["TZ"],
        },
        notes,
    )


def mapping(headings: list[str]) -> dict[str, str]:
    """What each heading of a plain table is taken for."""
    found: dict[str, str] = {}
    for what, words in WORDS.items():
        for heading in headings:
            if heading and heading not in found.values() and re.search(words, heading.strip().lower()):
                found[what] = heading
                break
    return found


def _plain(text: str, name: str, chosen: dict[str, str]) -> tuple[dict, list[str], list[str]]:
    rows = rows_of_text(text)
    if len(rows) < 25:
        raise FileError(f"{name} holds no year of hours", remedy=ACCEPTED)
    headings = [h or f"column {i + 1}" for i, h in enumerate(rows[0])]
    places = {h: i for i, h in enumerate(headings)}
    use = {what: h for what, h in {**mapping(headings), **chosen}.items() if h in places}
    if "dry_c" not in use:
        raise FileError(
            f"{name} has no column of dry bulb temperatures", where=", ".join(headings[:8]), remedy=ACCEPTED
        )

    def column(what: str) -> NDArray:
        i = places[use[what]]
        return np.array([_figure(row[i]) if i < len(row) else np.nan for row in rows[1:]])

    table: dict[str, NDArray] = {what: column(what) for what in use if what not in ("date",)}
    count, notes = len(rows) - 1, []
    if "month" in use and "day" in use and "hour" in use:
        if np.nanmax(table["hour"]) >= 24 or (np.nanmin(table["hour"]) >= 1 and np.nanmax(table["hour"]) > 23.5):
            table["hour"] = table["hour"] - 1
    elif "date" in use and (
        when := _dates([row[places[use["date"]]] if places[use["date"]] < len(row) else "" for row in rows[1:]])
    ):
        table.update(when)
    elif count in (HOURS, HOURS + 24):
        days = (*MONTH_DAYS[:1], MONTH_DAYS[1] + (count > HOURS), *MONTH_DAYS[2:])
        table["month"] = np.repeat(np.arange(12) + 1.0, np.array(days) * 24)
        table["day"] = np.concatenate([np.repeat(np.arange(n) + 1.0, 24) for n in days])
        table["hour"] = np.tile(np.arange(24.0), sum(days))
    else:
        raise FileError(f"{name} has {count} rows and no columns of month, day and hour to place them", remedy=ACCEPTED)
    if "dew_c" not in use and "rh" in use:
        table["dew_c"] = _dew(table["dry_c"], table["rh"])
        notes.append("The dew point follows from dry bulb and relative humidity")
    columns = _none()
    notes += _place(columns, table, {n: n for n in FIELDS}, name)
    if np.isnan(columns["diffuse_w_m2"]).all() and "global_w_m2" in use:
        notes.append("Only global radiation is there; loads through the year need beam and diffuse, and count no sun")
    return columns, notes, headings


def _figure(text: str) -> float:
    try:
        return float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        return np.nan


def _dates(texts: list[str]) -> dict[str, NDArray] | None:
    """Month, day and hour of timestamps such as 2021-03-01 05:00 or 01.03.2021 05:00."""
    found = [re.match(r"\s*(\d{4})-(\d{1,2})-(\d{1,2})[T ](\d{1,2})", t) for t in texts]
    if sum(m is not None for m in found) > len(texts) / 2:
        take = (2, 3, 4)
    else:
        found = [re.match(r"\s*(\d{1,2})\.(\d{1,2})\.(\d{2,4})\s+(\d{1,2})", t) for t in texts]
        take = (2, 1, 4)
        if sum(m is not None for m in found) < len(texts) / 2:
            return None
    return {
        key: np.array([float(m.group(k)) if m else np.nan for m in found])
        for key, k in zip(("month", "day", "hour"), take)
    }


def _dew(dry: NDArray, humidity: NDArray) -> NDArray:
    from garnetfin.core.psychro.properties import dew_point, humidity_ratio

    share = np.clip(np.where(np.nanmax(humidity) > 1.5, humidity / 100, humidity), 0.01, 1.0)
    good = np.isfinite(dry) & np.isfinite(share) & (dry > -60) & (dry < 60)
    result = np.full(len(dry), np.nan)
    result[good] = dew_point(humidity_ratio(dry[good], share[good], 101325.0), 101325.0)
    return result
