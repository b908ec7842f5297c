"""Hours and months of an air system."""

from dataclasses import replace

import numpy as np

from garnetfin import display
from garnetfin.core.units import to_shown
from garnetfin.engine.equipment.machine_year import machine_year
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
        Column("Chillers", width=60),
        Column("Heaters", width=60),
        Column("Pumps", width=52),
    )
    cold, hot = (machine_year(state.results, c, year) for c in ("cold", "hot"))
    nothing = np.zeros(len(year.cold_w))
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
        cold.input_w if cold is not None else nothing,
        hot.input_w if hot is not None else nothing,
        sum((m.pump_w for m in (cold, hot) if m is not None), nothing),
    )
    sums = [year.by_month(v) for v in series]
    rows = [
        Row("month", f"m{k}", (Cell(name), *(_sum_cell(v[k]) for v in sums))) for k, name in enumerate(display.MONTHS)
    ]
    rows.append(Row("month", "year", (Cell("Year", tone="strong"), *(_sum_cell(v.sum(), "strong") for v in sums))))
    return field, TableVM(columns, tuple(rows))


def _sum_cell(value: float, tone: str = "") -> Cell:
    return Cell(display.number(float(value), 0) if value >= 0.5 else display.DASH, tone=tone)


def unmet(state: State, year: AirYear) -> str:
    """Hours in which the machines do not meet what this system alone asks for; "" where they meet all."""
    found = [
        f"{m.unmet_hours} h of {'cold' if c == 'cold' else 'heat'}"
        for c in ("cold", "hot")
        if (m := machine_year(state.results, c, year)) is not None and m.unmet_hours
    ]
    return f" · machines short {', '.join(found)}" if found else ""
