"""Basis of design: place, design days, build-ups, assumptions."""

from garnetfin import display
from garnetfin.core.tables import materials
from garnetfin.core.units import System
from garnetfin.engine.resolve import ROOM_FIGURES, assumption
from garnetfin.engine.results import Missing, Results
from garnetfin.engine.studies.change_list import FIELDS
from garnetfin.project.book import ASSUMPTIONS
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, with_unit

show = with_unit


def basis(results: Results, units: System) -> list[Block]:
    project, climate = results.project, results.climate
    blocks: list[Block] = []
    if isinstance(climate, Missing):
        return [*blocks, Text(f"Climate: {climate.reason}. {climate.remedy}")]
    site, f = project.site, climate.figures
    blocks.append(
        Facts(
            (
                ("Place", site.name),
                ("Latitude, longitude", f"{site.latitude_deg:.2f}°, {site.longitude_deg:.2f}°"),
                ("Height", show("altitude", site.altitude_m, units)),
                ("Air pressure", f"{climate.pressure_pa / 1000:.1f} kPa"),
                ("Winter dry bulb", f"{show('temperature', f.winter_c.figure, units)} ({f.winter_c.origin})"),
                (
                    "Mean of the year",
                    f"{show('temperature', f.annual_mean_c.figure, units)} ({f.annual_mean_c.origin})",
                ),
                ("Ground reflectance", f"{f.ground_reflectance.figure:.2f} ({f.ground_reflectance.origin})"),
                ("Rooms", f"{len(project.rooms)}, of them {sum(bool(r.system_id) for r in project.rooms)} served"),
            )
        )
    )
    temperature = display.unit("temperature", units)
    blocks += [
        Heading("Design days", 3),
        TableBlock(
            (
                Col("Month", width=1.4, left=True),
                Col("Dry bulb", temperature),
                Col("Wet bulb", temperature),
                Col("Daily range", display.unit("temperature_difference", units)),
                Col("Beam tau"),
                Col("Sky tau"),
            ),
            tuple(
                (
                    name,
                    figure("temperature", dry.figure, units),
                    figure("temperature", wet.figure, units),
                    figure("temperature_difference", swing.figure, units),
                    f"{beam.figure:.3f}",
                    f"{sky.figure:.3f}",
                )
                for name, (dry, wet, swing, _, beam, sky) in zip(display.MONTHS, f.months)
            ),
        ),
    ]
    blocks += [
        Heading("Assumptions of the office standards", 3),
        TableBlock(
            (Col("Assumption", width=3, left=True), Col("Value", width=1.4), Col("Origin", width=1, left=True)),
            tuple(
                (label, show(quantity, a.figure, units), a.origin)
                for a, quantity, label in (
                    (assumption(project.book, name), quantity, label)
                    for name, (_, quantity, _, _, label) in ASSUMPTIONS.items()
                )
            ),
        ),
    ]
    blocks += [
        Heading("Build-ups and glass", 3),
        TableBlock(
            (Col("Name", width=2, left=True), Col("Layers from inside to outside", width=5, left=True)),
            tuple(
                (
                    b.name,
                    ", ".join(
                        f"{layer.name or _material(project, layer.material)} {layer.thickness_m * 1000:g} mm"
                        if layer.material
                        else f"{layer.name or 'air gap'} {layer.resistance_m2k_w:.2f} m²K/W"
                        for layer in b.layers
                    ),
                )
                for b in project.build_ups
            )
            + tuple(
                (
                    g.name,
                    f"U {show('u_value', g.u_w_m2k, units)} whole window, g {g.g:.2f} glass, frame {g.frame_share:.0%}",
                )
                for g in project.glazings
            ),
        ),
    ]
    blocks.append(
        Text(
            "Loads: room heat balance of clear-sky design days, the 21st of each month, with plant held around the "
            "clock or by its hours; "
            "hour means, solar radiation after ASHRAE Fundamentals ch. 14, conduction by periodic response (ISO "
            "13786). "
            "Heating: steady, in the manner of EN 12831-1. Outdoor air: EN 16798-1, method 1. Ground floors: ISO "
            "13370. "
            "Figures marked “rule” follow the office standards; “pinned” ones were fixed by the engineer.",
            True,
        )
    )
    return [*blocks, *_pinned(results, units)]


def _pinned(results: Results, units: System) -> list[Block]:
    """Every figure of a room that does not follow its rule: what stands, what the rule would give, where it comes
    from.
    """
    rows = []
    for room in results.project.rooms:
        found = results.room(room.id)
        for field in ROOM_FIGURES if found is not None else ():
            f, (name, quantity, _) = getattr(found.figures, field), FIELDS[field]
            if f.origin != "rule":
                rows.append(
                    (
                        room.number,
                        room.name,
                        name,
                        show(quantity, f.figure, units),
                        show(quantity, f.by_rule, units),
                        f.origin,
                        f.source,
                    )
                )
    if not rows:
        return [Heading("Figures of rooms that do not follow their rule", 3), Text("None.")]
    return [
        Heading("Figures of rooms that do not follow their rule", 3, str(len(rows))),
        TableBlock(
            (
                Col("No.", width=0.7, left=True),
                Col("Room", width=1.8, left=True),
                Col("Figure", width=2, left=True),
                Col("Stands at", width=1.3),
                Col("By rule", width=1.3),
                Col("Origin", width=1, left=True),
                Col("Where from", width=3, left=True),
            ),
            tuple(rows),
        ),
    ]


def _material(project: Project, material_id: str) -> str:
    found = find(project.book.materials, material_id) or materials().get(material_id)
    return found.name.lower() if found else material_id
