"""What Climate shows: card of the place, the year of hours, the duration curve, the sun's way."""

from math import radians

import numpy as np

from garnetfin import display
from garnetfin.core.tables import places
from garnetfin.core.units import System, to_shown
from garnetfin.engine.results import Climate, Missing, there
from garnetfin.engine.studies.year import Year, hours_beyond
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines, input_row
from garnetfin.ui.view_models.chart_data import DurationMark, DurationVM, PathHour, PathMonth, SunPathVM, YearFieldVM
from garnetfin.ui.view_models.findings import findings_section

MONTH_ROWS = (
    ("dry_bulb_c", "Dry bulb", "temperature", 1),
    ("wet_bulb_c", "Coincident wet bulb", "temperature", 1),
    ("range_k", "Daily range", "temperature_difference", 1),
    ("wet_range_k", "Range of the wet bulb", "temperature_difference", 1),
    ("tau_b", "Clearness of the beam", "plain", 3),
    ("tau_d", "Clearness of the sky", "plain", 3),
)
SITE_ROWS = (
    ("name", "Name", "", ""),
    ("latitude_deg", "Latitude", "plain", "° N"),
    ("longitude_deg", "Longitude", "plain", "° E"),
    ("altitude_m", "Above the sea", "altitude", ""),
    ("utc_offset_h", "Clock, UTC", "plain", "h"),
)


def site_card(state: State, month: int, year: Year | None = None) -> CardVM:
    project, results, units = state.project, state.found, state.show.units
    if project.site is None or results is None or isinstance(results.climate, Missing):
        reason = results.climate.remedy if results and isinstance(results.climate, Missing) else "computing"
        return CardVM("Place", project.site.name if project.site else "No place", reason)
    site, climate = project.site, results.climate
    climate: Climate
    f = climate.figures
    warmest = int(climate.days.dry_bulb_c.max(axis=1).argmax())
    place = [
        InputVM(
            edits.place(),
            "Place",
            "",
            "",
            "plain",
            choices=((("", "typed"),) if not site.place_id else ()) + tuple((p.id, p.name) for p in places().values()),
            chosen=site.place_id,
        )
    ]
    place += [
        InputVM(
            edits.site_field(name),
            label,
            getattr(site, name) if not quantity else display.figure(quantity, getattr(site, name), units),
            unit or display.unit(quantity, units) if quantity else "",
            "plain",
            quantity,
        )
        for name, label, quantity, unit in SITE_ROWS
    ]
    place.append(
        InputVM(
            edits.site_field("summer_time"),
            "Summer time",
            "",
            "",
            "plain",
            choices=(("no", "no, standard time"), ("yes", "yes, in the summer half")),
            chosen="yes" if site.summer_time else "no",
        )
    )
    rows = [
        input_row(f.winter_c, edits.site_value("winter_c"), "Winter dry bulb", "temperature", units),
        input_row(f.winter_humidity, edits.site_value("winter_humidity"), "Winter humidity", "fraction", units),
        input_row(f.annual_mean_c, edits.site_value("annual_mean_c"), "Mean of the year", "temperature", units),
        input_row(f.ground_reflectance, edits.site_value("ground_reflectance"), "Ground reflectance", "plain", units),
    ]
    if site.weather is not None:
        rows = [
            InputVM(
                edits.site_field("summer_percent"),
                "Summer",
                "",
                "",
                "plain",
                choices=tuple((p, f"{p} % of a month hotter") for p in ("0.4", "1", "2")),
                chosen=site.summer_percent,
            ),
            InputVM(
                edits.site_field("winter_percent"),
                "Winter",
                "",
                "",
                "plain",
                choices=tuple((p, f"{p} % of the year warmer") for p in ("99.6", "99")),
                chosen=site.winter_percent,
            ),
            *rows,
        ]
    typed = tuple(
        input_row(figure, edits.month_value(month, name), label, quantity, units, digits=digits)
        for (name, label, quantity, digits), figure in zip(MONTH_ROWS, f.months[month])
    )
    sun = {a: float(v[month].max()) for a, v in climate.compass_sun.items()}
    best = max(sun, key=sun.get)
    lines = tuple(
        Line(
            display.direction(a),
            display.figure("irradiance", sun[a], units),
            display.unit("irradiance", units),
            strong=a == best,
            why=("sun on", a, month),
        )
        for a in (0, 90, 180, 270)
    )
    ground = Line(
        "Ground below floors",
        display.figure("temperature", float(climate.ground_c[month, 0]), units),
        display.unit("temperature", units),
        why=("ground", month),
    )
    lat = f"{abs(site.latitude_deg):.1f}° {'N' if site.latitude_deg >= 0 else 'S'}"
    pinned = sum(r.origin == "pinned" for r in rows) + sum(x.origin == "pinned" for row in f.months for x in row)
    sections = [
        Inputs("Place", "by list or typed", tuple(place)),
        Inputs("Design conditions", f"{pinned} pinned", tuple(rows)),
        Inputs(f"Design day of {display.MONTHS[month]}", "click a month to change it", typed),
        Lines("Greatest sun on a wall", f"{display.MONTHS[month]}, clear sky", (*lines, ground)),
    ]
    if site.weather is not None:
        sections.insert(1, _file(state, climate, year, warmest, units))
    return CardVM(
        "Place",
        site.name,
        f"{lat} · {display.with_unit('altitude', site.altitude_m, units)} above the sea",
        (
            Headline(
                "Summer",
                display.figure("temperature", float(climate.days.dry_bulb_c[warmest].max()), units),
                display.unit("temperature", units),
                f"wet bulb {display.figure('temperature', float(climate.days.wet_bulb_c[warmest].max()), units)}",
                why=("month", warmest, "dry_bulb_c"),
            ),
            Headline(
                "Winter",
                display.figure("temperature", f.winter_c.figure, units),
                display.unit("temperature", units),
                f"{f.winter_humidity.figure * 100:.0f} % humid",
                why=("site", "winter_c"),
            ),
            Headline(
                "Air",
                display.figure("density", climate.dry_air_kg_m3, units, 2),
                display.unit("density", units),
                f"{climate.pressure_pa / 1000:.1f} kPa",
                why=("air density",),
            ),
        ),
        (*sections, *findings_section(results, "", (), "Climate")),
        ("Put the weather file away", edits.no_weather()) if site.weather is not None else ("", None),
    )


def _file(state: State, climate: Climate, year: Year | None, warmest: int, units: System) -> Lines:
    weather = there(state.project.site.weather)
    hot, cold = float(climate.figures.months[warmest][0].figure), climate.figures.winter_c.figure
    rows = [
        Line(
            "Warmest hour",
            display.figure("temperature", weather.greatest_c, units),
            display.unit("temperature", units),
            why=("weather hour", "greatest_c"),
        ),
        Line(
            "Coldest hour",
            display.figure("temperature", weather.least_c, units),
            display.unit("temperature", units),
            why=("weather hour", "least_c"),
        ),
    ]
    if year is not None:
        rows += [
            Line("Hours above the summer value", str(hours_beyond(year, hot)), "h"),
            Line("Hours below the winter value", str(hours_beyond(year, cold, False)), "h"),
        ]
    else:
        rows.append(Line("Its hours are not beside the project", "read it again"))
    rows += [Line(m[:44], "fixed") for m in weather.mended[:3]]
    return Lines("Weather file", weather.name[:28], tuple(rows))


def year_field(state: State, year: Year, kind: str) -> YearFieldVM:
    units = state.show.units
    quantity, values, colours = {
        "dry": ("temperature", year.dry_c, "diverging"),
        "beam": ("irradiance", year.beam_w_m2 + year.diffuse_w_m2, "amount"),
        "wind": ("velocity", year.wind_m_s, "amount"),
    }[kind]
    shown = np.nan_to_num(np.asarray(to_shown(quantity, values, units), float))
    low, high = float(shown.min()), float(shown.max())
    name = {"dry": "Dry bulb", "beam": "Sun, beam and sky", "wind": "Wind"}[kind]
    return YearFieldVM(
        name, "365 days across, hours of the day upwards", shown, low, high, display.unit(quantity, units), colours
    )


def duration(state: State, climate: Climate, year: Year) -> DurationVM:
    units = state.show.units
    warmest = int(climate.days.dry_bulb_c.max(axis=1).argmax())
    hot, cold = climate.figures.months[warmest][0], climate.figures.winter_c
    marks = tuple(
        DurationMark(
            float(to_shown("temperature", f.figure, units)),
            f"{name} {display.with_unit('temperature', f.figure, units)}, "
            f"{hours_beyond(year, f.figure, is_hot)} h {'above' if is_hot else 'below'}"
            + (", pinned" if f.origin == "pinned" else ""),
            is_hot,
        )
        for name, f, is_hot in (("summer", hot, True), ("winter", cold, False))
    )
    return DurationVM(
        "Duration curve",
        "dry bulb, sorted",
        np.asarray(to_shown("temperature", year.dry_c, units), float),
        marks,
        display.unit("temperature", units),
    )


def sun_path(state: State, climate: Climate, month: int, hour: int) -> SunPathVM:
    """Ways of the 21st of every month, lines of equal hour, and the building turned true to north."""
    sun, project = climate.sun, state.project
    months = []
    for m in range(12):
        up = sun.elevation[m] > 0
        runs = _runs([(float(a), float(e)) for a, e in zip(sun.azimuth[m], sun.elevation[m])], up)
        top = int(sun.elevation[m].argmax())
        months.append(
            PathMonth(m, runs, (float(sun.azimuth[m, top]), float(sun.elevation[m, top])) if up.any() else None)
        )
    hours = []
    for h in range(4, 21, 2):
        k = h * 12
        points, up = (
            [(float(sun.azimuth[m, k]), float(sun.elevation[m, k])) for m in range(12)],
            sun.elevation[:, k] > 0,
        )
        best = int(sun.elevation[:, k].argmax())
        hours.append(PathHour(h, _runs(points, up), points[best] if up.any() else None))
    turn = radians(project.site.north_deg)
    base = project.levels[0].id if project.levels else ""

    def turned(outline) -> tuple:
        return tuple(
            (x * float(np.cos(turn)) + y * float(np.sin(turn)), y * float(np.cos(turn)) - x * float(np.sin(turn)))
            for x, y in outline
        )

    plan = tuple(turned(r.outline) for r in project.rooms if not r.sketched and r.level_id == base)
    blocks = tuple(turned(b.outline) for b in project.plan_marks if b.kind == "block")
    k = min(287, hour * 12 + 6)
    a, e = float(sun.azimuth[month, k]), float(sun.elevation[month, k])
    up = sun.elevation[month] > 0
    rise = [int(i) / 12 for i in np.flatnonzero(up)]
    lines = (
        display.hour(month, hour),
        f"azimuth {np.degrees(a):.0f}°" if e > 0 else "the sun is down",
        f"elevation {np.degrees(e):.0f}°" if e > 0 else "",
        f"up {_clock(rise[0])}–{_clock(rise[-1])}" if rise else "never up",
        f"highest {np.degrees(sun.elevation[month].max()):.0f}°",
    )
    return SunPathVM(
        "21st of each month, standard time; plan true to north",
        tuple(months),
        tuple(hours),
        plan,
        blocks,
        (a, e) if e > 0 else None,
        month,
        lines,
    )


def _clock(hours: float) -> str:
    return f"{int(hours)}:{int(hours % 1 * 60):02d}"


def _runs(points: list[tuple[float, float]], up) -> tuple[tuple[tuple[float, float], ...], ...]:
    runs, now = [], []
    for point, above in zip(points, up):
        if above:
            now.append(point)
        elif now:
            runs.append(tuple(now))
            now = []
    if now:
        runs.append(tuple(now))
    return tuple(r for r in runs if len(r) > 1)
