"""Room loads by cause, and the rooms together."""

import numpy as np

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import CAUSES, Missing, Results, RoomResult
from garnetfin.engine.results import Block as LoadBlock
from garnetfin.report.blocks import Block, Col, Facts, Figure, Heading, Label, PageBreak, Shape, TableBlock, Text

# Heads of the columns, where the name of the cause is too long for one.
SHORT = {"glass sun": "sun", "glass conduction": "glass", "unheated beside": "unheated", "rooms beside": "beside",
         "infiltration": "infiltr.", "equipment": "equip.", "set-point change": "set-point"}


def loads(results: Results, units: System) -> list[Block]:
    project = results.project
    together = results.blocks[""]
    blocks: list[Block] = [PageBreak(), Heading("Room loads", 2, display.unit("power", units))]
    if isinstance(together, Missing):
        return [*blocks, Text(f"{together.reason}. {together.remedy}")]
    month, hour = together.peak
    blocks.append(Facts((
        ("Rooms together, cooling", display.with_unit("load", together.peak_w, units, 1)),
        ("At", display.hour(month, hour)), ("Rooms together, heating", display.with_unit("load", together.heating_w, units, 1)),
        ("Sum of room peaks", display.with_unit("load", together.sum_of_peaks_w, units, 1)),
        ("Diversity", f"{together.peak_w / together.sum_of_peaks_w:.0%}"),
        ("Latent at that hour", display.with_unit("load", float(together.latent_w[month, hour]), units, 1)))))
    blocks.append(_day(together, units))
    drawn = tuple(c for c in CAUSES if any(abs(r.cause_w(c)) >= 0.5 for r in results.rooms.values() if isinstance(r, RoomResult)))
    rows = []
    for room in project.rooms:
        found = results.room(room.id)
        if found is None or not room.system_id:
            rows.append((room.number, room.name, "not served" if found else "open", *[""] * (len(drawn) + 2)))
            continue
        m, h = found.peak
        rows.append((room.number, room.name, f"{display.MONTHS[m]} {h} h", display.figure("power", found.peak_w, units),
                     *(display.figure("power", found.cause_w(c), units) for c in drawn),
                     display.figure("power", found.heating_w, units)))
    total = ("", "Sum of room peaks", "", display.figure("power", together.sum_of_peaks_w, units), *[""] * len(drawn),
             display.figure("power", together.heating_w, units))
    blocks.append(TableBlock(
        (Col("No.", width=0.8, left=True), Col("Room", width=2.2, left=True), Col("Peak", width=1.3, left=True),
         Col("Cooling", width=1.1), *(Col(SHORT.get(c, c), width=0.95) for c in drawn), Col("Heating", width=1.1)), tuple(rows), total))
    return blocks


def _day(block: LoadBlock, units: System) -> Figure:
    """The day of the peak as a curve, 24 hours wide."""
    month, hour = block.peak
    values = [display.to_shown("load", float(v), units) for v in block.sensible_w[month]]
    high, low = max(values) * 1.15, min(0.0, min(values))
    curve = tuple((h + 0.5, v) for h, v in enumerate(values))
    labels = [Label((h, low - (high - low) * 0.07), str(h), "faint") for h in range(0, 25, 3)]
    labels.append(Label((hour + 0.5, values[hour] + (high - low) * 0.05),
                        f"{display.number(values[hour], 1)} {display.unit('load', units)}", "garnet", 7.5))
    marks = np.linspace(0, high, 5)[:-1]
    labels += [Label((-0.4, float(v)), display.number(float(v)), "faint", side="right") for v in marks]
    shapes = [Shape(((0.0, float(v)), (24.0, float(v))), "rule", 0.4) for v in marks]
    shapes += [Shape(((0.5, 0.0), *curve, (23.5, 0.0)), "", 0, "garnet_tint", True), Shape(curve, "garnet", 1.2)]
    return Figure((-1.6, low - (high - low) * 0.12, 24.4, high), 42, tuple(shapes), tuple(labels), alike=False)
