"""Hours and months of an air system."""

from dataclasses import replace

import numpy as np

from garnetfin import display
from garnetfin.core.units import to_shown
from garnetfin.engine.results import Missing, Point, TrainResult
from garnetfin.engine.studies.air_year import AirYear
from garnetfin.engine.studies.year import date_of
from garnetfin.ui.state import State
from garnetfin.ui.view_models.chart_data import HourFieldVM, YearFieldVM
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM


def coil_field(state: State, results, system_id: str, solved) -> HourFieldVM:
    """What coils and room units take at every hour of the design days."""
    units = state.show.units
    cold = (solved.cooling_w + np.maximum(solved.unit_w, 0.0).sum(axis=0)).reshape(12, 24)
    found: TrainResult = results.trains[system_id]
    return HourFieldVM(
        "Coil load through the design days",
        f"all cooling coils and room units, {display.unit('load', units)}",
        tuple(tuple(to_shown("load", float(v), units) for v in row) for row in cold),
        (found.cooling.month, found.cooling.hour),
        display.unit("load", units),
        1,
        legend="taken out of the air",
    )


def with_chosen(field: HourFieldVM, point: Point | Missing) -> HourFieldVM:
    """The same field with the hour in force ringed."""
    return field if isinstance(point, Missing) or point.month < 0 else replace(field, chosen=(point.month, point.hour))


def air_year(state: State, year: AirYear) -> tuple[YearFieldVM, TableVM]:
    """The coils through the year, and what each month takes and saves."""
    units = state.show.units
    shown = np.asarray(to_shown("load", year.cold_w, units), float)
    at = int(shown.argmax())
    month, day, hour = date_of(at)
    unit = display.unit("load", units)
    field = YearFieldVM(
        "Coil load through the year",
        f"{display.figure('load', float(year.cold_w[at]), units, 1)} {unit} on {day} {display.MONTHS[month]}, "
        f"{hour}–{hour + 1} h",
        shown,
        0.0,
        float(shown.max()) or 1.0,
        unit,
        chosen=at,
    )
    columns = (
        Column("kWh", width=44, left=True, stretch=True),
        Column("Coils", width=58),
        Column("dry", width=54),
        Column("Heat", width=56),
        Column("reheat", width=56),
        Column("Recov.", width=52),
        Column("Fans", width=50),
        Column("Water", "kg", 50),
        Column("On", "h", 44),
        Column("Free", "h", 44),
        Column("partly", "h", 44),
        Column("Frost", "h", 44),
    )
    series = (
        year.cold_w,
        year.sensible_w,
        year.heat_w,
        year.reheat_w,
        np.abs(year.recovered_w),
        year.fans_w,
        year.water_kg_s * 3600.0 * 1000.0,
        year.on,
        year.free,
        year.partial,
        year.frost,
    )
    sums = [year.by_month(v) for v in series]
    rows = [
        Row("month", f"m{k}", (Cell(name), *(_sum_cell(v[k]) for v in sums))) for k, name in enumerate(display.MONTHS)
    ]
    rows.append(Row("month", "year", (Cell("Year", tone="strong"), *(_sum_cell(v.sum(), "strong") for v in sums))))
    return field, TableVM(columns, tuple(rows))


def _sum_cell(value: float, tone: str = "") -> Cell:
    return Cell(display.number(float(value), 0) if value >= 0.5 else display.DASH, tone=tone)
