"""Hourly weather files: the two common open layouts for typical years, and plain CSV with a column mapping."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np

from garnetfin.core.errors import FileError, InputError
from garnetfin.core.sun import sun_days
from garnetfin.core.weather.hourly import FIELDS, Year, faults, mended
from garnetfin.core.weather.percentiles import Statistics, statistics
from garnetfin.exchange.results import WeatherRead
from garnetfin.exchange.tables import decoded
from garnetfin.exchange.weather_table import ACCEPTED, no_hours, place_hours, plain_table
from garnetfin.project.site import MonthStatistics

LARGEST = 40 * 2**20
LEAP = 2020  # typical years name many years; a leap year takes their 29 February without a fault


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
        columns, notes, headings = plain_table(text, path.name, options.get("columns", {}), options)
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
    # A column in another unit, or a place that is none, would make nonsense of every figure that follows.
    if any(f.kind == "place" for f in left):
        why = "The place needs its latitude and longitude first"
    elif any(f.kind == "units" for f in left):
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


def _epw(path: Path) -> tuple[dict, dict, list[str]]:
    from pvlib.iotools import read_epw

    frame, meta = read_epw(str(path), coerce_year=LEAP)
    columns = no_hours()
    # The layout counts hours 1..24; the figures of hour k are those of the hour before the clock shows k.
    table = {"month": frame["month"].to_numpy(), "day": frame["day"].to_numpy(), "hour": frame["hour"].to_numpy() - 1.0}
    table["minute"] = frame["minute"].to_numpy(float)
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
    notes = place_hours(columns, table, path.name)
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

    frame, meta = read_tmy3(str(path), coerce_year=LEAP, map_variables=True)
    columns = no_hours()
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
    notes = place_hours(columns, table, path.name)
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
