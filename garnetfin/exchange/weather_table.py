"""Plain tables of weather: the line of headings found in five languages, hours put where they belong in the year.

Source: own method; the split of global radiation by Erbs, Klein and Duffie (1982).
"""

import re

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import FileError
from garnetfin.core.weather.hourly import FIELDS, HOURS, MONTH_DAYS, sine_of_sun
from garnetfin.exchange.list_headings import plain
from garnetfin.exchange.tables import rows_of_text

ACCEPTED = "A typical year as EPW or TMY3, or CSV with a line of headings and 8,760 hours, is accepted"
_BEFORE = np.concatenate([[0], np.cumsum(MONTH_DAYS)])
MOST_ROWS = 366 * 24 * 12 + 200  # every five minutes of a leap year, and its head
FIRST_ROWS = 80  # in which the headings are looked for
LOWEST_SUN = 0.05  # sine of its elevation: below it the beam on the level cannot be turned into the normal one
# Headings of a plain table, by what they hold, after lower case and without accents; the first that fits counts.
# Those that hold the words of another stand before it: a dew point is a temperature too.
WORDS = {
    "dew_c": r"dew|taupunkt|rosee|rocio|rugiada",
    "rh": r"humid|^rh\b|feucht|^rf\b|^hr\b|^ur\b|umidita",
    "pressure_pa": r"press|druck|presion",
    "level_beam_w_m2": r"(direct|beam|direkt).*horizont|horizont.*(direct|beam|direkt)|^bhi\b",
    "beam_w_m2": r"beam|direct|dni|direkt|diretta|directa",
    "diffuse_w_m2": r"diffus|dhi|sky|diffusa|difusa",
    "global_w_m2": r"global|ghi|horizont|globale",
    "wind_m_s": r"wind.?(speed|m)|^wind\b(?!.*(dir|richtung))|windgeschw|^vent\b|vitesse.*vent|viento|vento",
    "dry_c": r"dry|^temp|air.?temp|t_?db|temperatur|^t$|trocken|^t (c|°c|degc)$",
    "date": r"date|timestamp|datum|zeitstempel|fecha|^data\b",
    "month": r"^month|^monat|^mois|^mes\b|^mese|^mm$",
    "day": r"^day|^tag|^jour|^dia\b|^giorno|^dd$",
    "hour": r"^hour\b|^time$|^h$|^stunde|^heure|^hora|^ora\b|^hh$|^uhrzeit",
    "minute": r"^min(ute)?s?\b",
}


def mapping(headings: list[str]) -> dict[str, str]:
    """What each heading of a plain table is taken for."""
    found: dict[str, str] = {}
    for what, words in WORDS.items():
        for heading in headings:
            if heading and heading not in found.values() and re.search(words, plain(heading)):
                found[what] = heading
                break
    return found


def no_hours() -> dict[str, NDArray]:
    """A year of which nothing is known yet."""
    return {name: np.full(HOURS, np.nan) for name in FIELDS}


def plain_table(
    text: str, name: str, chosen: dict[str, str], place: dict[str, float]
) -> tuple[dict, list[str], list[str]]:
    """(columns of the year, what is to be said, headings) of a table.

    chosen: what -> heading, by hand; place: latitude, longitude, utc, by which global radiation is split.
    Raises FileError for a table that is no year or has no temperatures.
    """
    rows = rows_of_text(text, MOST_ROWS)
    if len(rows) < 25:
        raise FileError(f"{name} holds no year of hours", remedy=ACCEPTED)
    notes: list[str] = []
    head = _heading_row(rows, chosen)
    if head:
        notes.append(f"{head} line{'s' if head > 1 else ''} above the headings left out")
    headings = [h.strip() or f"column {i + 1}" for i, h in enumerate(rows[head])]
    rows = rows[head + 1 :]
    places = {h: i for i, h in enumerate(headings)}
    use = {what: h for what, h in {**mapping(headings), **chosen}.items() if h in places}
    if "dry_c" not in use:
        raise FileError(
            f"{name} has no column of dry bulb temperatures", where=", ".join(headings[:8]), remedy=ACCEPTED
        )

    def cells(what: str) -> list[str]:
        i = places[use[what]]
        return [row[i] if i < len(row) else "" for row in rows]

    while rows and np.isnan(_figure(cells("dry_c")[0])) and any(re.search(r"[a-zA-Z°%]", c) for c in rows[0]):
        notes.append("A line of units below the headings left out: " + ", ".join(c for c in rows[0] if c)[:80])
        rows = rows[1:]
    table = {what: np.array([_figure(c) for c in cells(what)]) for what in use if what not in ("date", "hour")}
    notes += _clock(table, cells, use, len(rows), name)
    if "dew_c" not in use and "rh" in use:
        table["dew_c"] = _dew(table["dry_c"], table["rh"])
        notes.append("The dew point follows from dry bulb and relative humidity")
    columns = no_hours() | {key: np.full(HOURS, np.nan) for key in ("global_w_m2", "level_beam_w_m2")}
    notes += place_hours(columns, table, name)
    notes += _sun(columns, place)
    return {key: columns[key] for key in FIELDS}, notes, headings


def _heading_row(rows: list[list[str]], chosen: dict[str, str]) -> int:
    """The first row that names a dry bulb and something beside it; 0 where none does."""
    for i, row in enumerate(rows[:FIRST_ROWS]):
        names = {cell.strip() for cell in row}
        if chosen and set(chosen.values()) <= names:
            return i
        if sum(bool(re.search(r"[A-Za-z]", cell)) for cell in row) >= 2:
            found = mapping([cell.strip() for cell in row])
            if "dry_c" in found and len(found) >= 2:
                return i
    return 0


def _clock(table: dict[str, NDArray], cells, use: dict[str, str], count: int, name: str) -> list[str]:
    """Month, day, hour and minute of every row into the table. Raises FileError where nothing places them."""
    notes: list[str] = []
    if "month" in use and "day" in use and "hour" in use:
        table["hour"], minutes = _hours(cells("hour"))
        if "minute" not in table:
            table["minute"] = minutes
    elif "date" in use and (when := _dates(cells("date"), cells("hour") if "hour" in use else None)):
        table.update(when)
    elif (steps := _steps(count)) is not None:
        days, parts = steps
        table["month"] = np.concatenate([np.full(n * 24 * parts, m + 1.0) for m, n in enumerate(days)])
        table["day"] = np.concatenate([np.repeat(np.arange(n) + 1.0, 24 * parts) for n in days])
        table["hour"] = np.tile(np.repeat(np.arange(24.0), parts), sum(days))
        table["minute"] = np.tile(np.arange(parts) * (60.0 / parts), sum(days) * 24)
        notes.append("The table names no month, day and hour: its rows are counted from 1 January, 0:00")
        return notes
    else:
        raise FileError(f"{name} has {count} rows and no columns of month, day and hour to place them", remedy=ACCEPTED)
    hour = table["hour"]
    if np.isfinite(hour).any() and np.nanmax(hour) >= 24 and np.nanmin(hour) >= 1:
        table["hour"] = hour - 1
        notes.append("Hours are counted 1 to 24: hour 1 ends at 1:00")
    return notes


def _steps(count: int) -> tuple[tuple[int, ...], int] | None:
    """(days of the months, rows an hour) of a table that holds a whole year and nothing else."""
    for parts in (1, 2, 3, 4, 6, 12):
        for leap in (0, 1):
            if count == (365 + leap) * 24 * parts:
                return (MONTH_DAYS[0], MONTH_DAYS[1] + leap, *MONTH_DAYS[2:]), parts
    return None


def place_hours(columns: dict[str, NDArray], table: dict[str, NDArray], name: str) -> list[str]:
    """Rows with month, day and hour put where they belong in the year; what is to be said of it.

    Rows of parts of an hour are averaged. Raises FileError where less than a day is left.
    """
    month, day, hour = (np.asarray(table[k], float) for k in ("month", "day", "hour"))
    good = np.isfinite(month + day + hour) & (month >= 1) & (month <= 12) & (day >= 1) & (day <= 31)
    good &= (hour >= 0) & (hour < 24)
    leap = good & (month == 2) & (day == 29)
    good &= ~leap
    m, d = month[good].astype(int) - 1, day[good].astype(int) - 1
    fits = d < np.array(MONTH_DAYS)[m]
    at = ((_BEFORE[m] + d) * 24 + hour[good].astype(int))[fits]
    rows = np.flatnonzero(good)[fits]
    notes = []
    if leap.any():
        first = int(np.flatnonzero(leap)[0]) + 1
        notes.append(f"{int(leap.sum())} hours of 29 February are left out, first in row {first}")
    wrong = int((~good & ~leap).sum() + (~fits).sum())
    if wrong:
        notes.append(f"{wrong} rows name no hour of a year and are left out")
    if len(np.unique(at)) < 24:
        raise FileError(f"{name} holds no year of hours", remedy=ACCEPTED)
    minute = np.nan_to_num(np.asarray(table.get("minute", np.zeros(len(month))), float))[rows]
    moments = len(np.unique(at * 60 + minute))
    twice = len(at) - moments
    if twice:
        notes.append(f"{twice} hours are there twice; the last one counts")
    if moments > len(np.unique(at)):
        parts = round(moments / len(np.unique(at)))
        notes.append(f"{parts} rows an hour are averaged to hours; the time of a row is taken as its beginning")
        _, last = np.unique((at * 60 + minute)[::-1], return_index=True)
        keep = len(at) - 1 - last
        at, rows = at[keep], rows[keep]
        for key in columns:
            if key in table:
                columns[key][:] = _means(at, np.asarray(table[key], float)[rows])
        return notes
    for key in columns:
        if key in table:
            columns[key][at] = np.asarray(table[key], float)[rows]
    return notes


def _means(at: NDArray, values: NDArray) -> NDArray:
    """Mean of what is known in each hour (8760,); NaN where nothing is."""
    known = np.isfinite(values)
    count = np.bincount(at[known], minlength=HOURS)
    total = np.bincount(at[known], weights=values[known], minlength=HOURS)
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)


def _sun(columns: dict[str, NDArray], place: dict[str, float]) -> list[str]:
    """Beam and diffuse from what the table holds instead of them; what is to be said of it."""
    beam, diffuse = columns["beam_w_m2"], columns["diffuse_w_m2"]
    level, whole = columns["level_beam_w_m2"], columns["global_w_m2"]
    if abs(place.get("latitude", 0.0)) > 90:
        return []
    sine = sine_of_sun(place.get("latitude", 0.0), place.get("longitude", 0.0), place.get("utc", 0.0))
    up = np.maximum(sine, LOWEST_SUN)
    if np.isnan(beam).all() and np.isfinite(level).any():
        beam[:] = np.where(np.isfinite(level), np.where(sine > 0, level / up, 0.0), np.nan)
        return ["The beam on the level is turned into the normal one by the height of the sun"]
    if np.isnan(whole).all():
        return []
    if np.isnan(beam).all() and np.isfinite(diffuse).any():
        beam[:] = np.where(sine > 0, np.maximum(whole - diffuse, 0.0) / up, 0.0)
        return ["The beam follows from global less diffuse radiation and the height of the sun"]
    if np.isnan(diffuse).all() and np.isfinite(beam).any():
        diffuse[:] = np.maximum(whole - beam * np.maximum(sine, 0.0), 0.0)
        return ["Diffuse radiation follows from global less beam"]
    if np.isnan(beam).all() and np.isnan(diffuse).all():
        from pvlib.irradiance import erbs

        day = np.arange(HOURS) // 24 + 1
        split = erbs(np.nan_to_num(whole), np.degrees(np.arccos(np.clip(sine, -1.0, 1.0))), day)
        lost = ~np.isfinite(whole)
        beam[:], diffuse[:] = np.where(lost, np.nan, split["dni"]), np.where(lost, np.nan, split["dhi"])
        return ["Only global radiation is there: split into beam and diffuse by Erbs (1982), an estimate"]
    return []


def _figure(text: str) -> float:
    text = text.replace("\u2212", "-").strip()
    try:
        return float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        return np.nan


def _hours(texts: list[str]) -> tuple[NDArray, NDArray]:
    """(hour, minute) of cells such as 5, 5.0, 05:15."""
    hour, minute = np.full(len(texts), np.nan), np.zeros(len(texts))
    for i, text in enumerate(texts):
        if match := re.match(r"\s*(\d{1,2}):(\d{2})", text):
            hour[i], minute[i] = float(match.group(1)), float(match.group(2))
        else:
            hour[i] = _figure(text)
    return hour, minute


def _dates(texts: list[str], clock: list[str] | None) -> dict[str, NDArray] | None:
    """Month, day, hour and minute of stamps such as 2021-03-01 05:00 or 01.03.2021 05:00; the clock may stand alone."""
    time = r"[T ]\s*(\d{1,2})(?::(\d{2}))?" if clock is None else r""
    found = [re.match(r"\s*(\d{4})-(\d{1,2})-(\d{1,2})" + time, t) for t in texts]
    take = (2, 3)
    if sum(m is not None for m in found) <= len(texts) / 2:
        found = [re.match(r"\s*(\d{1,2})\.(\d{1,2})\.(\d{2,4})" + time, t) for t in texts]
        take = (2, 1)
        if sum(m is not None for m in found) < len(texts) / 2:
            return None
    when = {
        key: np.array([float(m.group(k)) if m else np.nan for m in found]) for key, k in zip(("month", "day"), take)
    }
    if clock is not None:
        when["hour"], when["minute"] = _hours(clock)
    else:
        when["hour"] = np.array([float(m.group(4)) if m else np.nan for m in found])
        when["minute"] = np.array([float(m.group(5) or 0) if m else 0.0 for m in found])
    return when


def _dew(dry: NDArray, humidity: NDArray) -> NDArray:
    from garnetfin.core.psychro.properties import dew_point, humidity_ratio

    share = np.clip(np.where(np.nanmax(humidity) > 1.5, humidity / 100, humidity), 0.01, 1.0)
    good = np.isfinite(dry) & np.isfinite(share) & (dry > -60) & (dry < 60)
    result = np.full(len(dry), np.nan)
    result[good] = dew_point(humidity_ratio(dry[good], share[good], 101325.0), 101325.0)
    return result
