"""Loads of the building, its air systems and zones, and of every room at its own peak."""

import numpy as np

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import CAUSES, Missing, Results, RoomResult
from garnetfin.engine.results import Block as LoadBlock
from garnetfin.report.blocks import (
    Block,
    Col,
    Facts,
    Figure,
    Heading,
    Label,
    Shape,
    TableBlock,
    Text,
    figure,
    number,
    with_unit,
)

# Heads of the columns, where the name of the cause is too long for one.
SHORT = {
    "solar through glass": "sun",
    "conduction through glass": "glass",
    "unheated spaces": "unheated",
    "adjacent rooms": "beside",
    "infiltration": "infiltr.",
    "equipment": "equip.",
    "set-point change": "set-point",
}


def summary(results: Results, units: System) -> list[Block]:
    project = results.project
    together = results.blocks[""]
    blocks: list[Block] = []
    if isinstance(together, Missing):
        return [*blocks, Text(f"{together.reason}. {together.remedy}")]
    month, hour = together.peak
    blocks.append(
        Facts(
            (
                ("Rooms together, cooling", with_unit("load", together.peak_w, units, 1)),
                ("At", display.hour(month, hour)),
                ("Rooms together, heating", with_unit("load", together.heating_w, units, 1)),
                ("Sum of room peaks", with_unit("load", together.sum_of_peaks_w, units, 1)),
                ("Diversity", f"{together.peak_w / together.sum_of_peaks_w:.0%}"),
                ("Latent at that hour", with_unit("load", float(together.latent_w[month, hour]), units, 1)),
            )
        )
    )
    blocks.append(day_figure(together, units))
    blocks += _groups(results, units)
    drawn = tuple(
        c for c in CAUSES if any(abs(r.cause_w(c)) >= 0.5 for r in results.rooms.values() if isinstance(r, RoomResult))
    )
    rows = []
    for room in project.rooms:
        found = results.room(room.id)
        if found is None or not room.system_id:
            rows.append((room.number, room.name, "not served" if found else "open", *[""] * (len(drawn) + 2)))
            continue
        m, h = found.peak
        rows.append(
            (
                room.number,
                room.name,
                f"{display.MONTHS[m]} {h} h",
                figure("power", found.peak_w, units),
                *(figure("power", found.cause_w(c), units) for c in drawn),
                figure("power", found.heating_w, units),
            )
        )
    total = (
        "",
        "Sum of room peaks",
        "",
        figure("power", together.sum_of_peaks_w, units),
        *[""] * len(drawn),
        figure("power", together.heating_w, units),
    )
    blocks.append(Heading("Rooms", 3, f"each at its own peak, {display.unit('power', units)}"))
    blocks.append(
        TableBlock(
            (
                Col("No.", width=0.8, left=True),
                Col("Room", width=2.2, left=True),
                Col("Peak", width=1.3, left=True),
                Col("Cooling", width=1.1),
                *(Col(SHORT.get(c, c), width=0.95) for c in drawn),
                Col("Heating", width=1.1),
            ),
            tuple(rows),
            total,
            frozenset({3}) if together.sum_of_peaks_w else frozenset(),
        )
    )
    return blocks


def _groups(results: Results, units: System) -> list[Block]:
    """Air systems and zones beside the building: coincident peaks, so they do not add up."""
    project, rows = results.project, []
    keys = (
        [("", "Building")]
        + [(s.id, s.name) for s in project.air_systems]
        + [(f"zone:{z.id}", f"Zone {z.name}") for z in project.zones]
    )
    for key, name in keys:
        found = results.blocks[key]
        if isinstance(found, Missing):
            rows.append((name, found.reason, *[""] * 6))
            continue
        month, hour = found.peak
        rows.append(
            (
                name,
                number(len(found.room_ids)),
                figure("area", found.area_m2, units, 0),
                f"{display.MONTHS[month]} {hour} h",
                figure("load", found.peak_w, units),
                figure("load", float(found.latent_w[month, hour]), units),
                figure("power_density", found.peak_w / found.area_m2 if found.area_m2 else None, units),
                figure("load", found.heating_w, units),
            )
        )
    load = display.unit("load", units)
    return [
        Heading("Building, air systems, zones", 3, "each at its own hour"),
        TableBlock(
            (
                Col("Rooms taken together", width=2.6, left=True),
                Col("Rooms", width=0.8),
                Col("Floor", display.unit("area", units)),
                Col("Peak", width=1.2, left=True),
                Col("Cooling", load),
                Col("Latent", load),
                Col("Per floor", display.unit("power_density", units), 1.2),
                Col("Heating", load),
            ),
            tuple(rows),
        ),
    ]


def day_figure(block: LoadBlock, units: System) -> Figure:
    """The day of the peak as a curve, 24 hours wide."""
    month, hour = block.peak
    return hours_figure(block.sensible_w[month], hour, units, 42)


def hours_figure(load_w: np.ndarray, hour: int, units: System, height_mm: float) -> Figure:
    """24 hours of a load as a curve, the hour that counts named."""
    values = [display.to_shown("load", float(v), units) for v in load_w]
    high, low = max(max(values) * 1.15, 1e-3), min(0.0, min(values))
    digits = 1 if high >= 5 else 2
    curve = tuple((h + 0.5, v) for h, v in enumerate(values))
    labels = [Label((h, low - (high - low) * 0.07), str(h), "faint") for h in range(0, 25, 3)]
    labels.append(
        Label(
            (hour + 0.5, values[hour] + (high - low) * 0.05),
            f"{display.number(values[hour], digits)} {display.unit('load', units)}",
            "garnet",
            7.5,
        )
    )
    marks = np.linspace(0, high, 5)[:-1]
    labels += [
        Label((-0.4, float(v)), display.number(float(v), 0 if high >= 5 else digits), "faint", side="right")
        for v in marks
    ]
    shapes = [Shape(((0.0, float(v)), (24.0, float(v))), "rule", 0.4) for v in marks]
    shapes += [Shape(((0.5, 0.0), *curve, (23.5, 0.0)), "", 0, "garnet_tint", True), Shape(curve, "garnet", 1.2)]
    return Figure((-1.6, low - (high - low) * 0.12, 24.4, high), height_mm, tuple(shapes), tuple(labels), alike=False)
