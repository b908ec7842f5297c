"""The bill of quantities: ducts by size, fittings, flexible ducts, dampers, terminals of every system."""

from garnetfin import display
from garnetfin.core.tables import fitting_words
from garnetfin.core.units import System
from garnetfin.engine.layout.take_off import take_off
from garnetfin.engine.results import Results
from garnetfin.report.blocks import Block, Col, Facts, Heading, TableBlock, Text, figure, number, with_unit

AIRS = {"supply": "Supply", "return": "Return", "extract": "Extract", "outdoor": "Outdoor air"}


def quantities(results: Results, units: System) -> list[Block]:
    blocks: list[Block] = []
    for system in results.project.air_systems:
        for network in sorted(results.networks(system.id), key=lambda d: list(AIRS).index(d.air)):
            found = take_off(results, network)
            length, area, mass = (display.unit(q, units) for q in ("length", "area", "mass"))
            blocks += [
                Heading(f"{system.name}, {AIRS[network.air].lower()}", 2),
                Facts(
                    (
                        ("Sheet", with_unit("area", found.sheet_m2, units)),
                        ("Mass of straights and fittings", with_unit("mass", found.mass_kg, units)),
                        ("Straight duct", with_unit("length", found.straight_m, units, 1)),
                        ("Axes as drawn", with_unit("length", network.length_m, units, 1)),
                        ("Flange frames", with_unit("length", found.flange_m, units, 1)),
                        ("Joints", number(found.made.joints)),
                    )
                ),
                TableBlock(
                    (
                        Col(f"Duct, {display.unit('duct_size', units)}", width=1.8, left=True),
                        Col("Material", width=1.4, left=True),
                        Col("Class", width=0.7, left=True),
                        Col("Sheet", display.unit("sheet", units), 0.9),
                        Col("Length", length),
                        Col("Sections", "", 1.0),
                        Col("Cut", "", 0.7),
                        Col("Area", area),
                        Col("Mass", mass),
                    ),
                    tuple(
                        (
                            display.size(r.section, units),
                            r.material,
                            r.tightness,
                            figure("sheet", r.thickness_m, units),
                            figure("length", r.length_m, units, 1),
                            number(r.standard),
                            number(r.cut),
                            figure("area", r.sheet_m2, units),
                            figure("mass", r.mass_kg, units),
                        )
                        for r in found.sizes
                    ),
                    (
                        "Straight duct",
                        "",
                        "",
                        "",
                        figure("length", sum(r.length_m for r in found.sizes), units, 1),
                        number(sum(r.standard for r in found.sizes)),
                        number(sum(r.cut for r in found.sizes)),
                        figure("area", sum(r.sheet_m2 for r in found.sizes), units),
                        figure("mass", sum(r.mass_kg for r in found.sizes), units),
                    ),
                    frozenset(range(4, 9)),
                ),
            ]
            if found.counts:
                blocks.append(
                    TableBlock(
                        (
                            Col("Kind", width=1, left=True),
                            Col("Part", width=3, left=True),
                            Col(f"Size, {display.unit('duct_size', units)}", width=1.4, left=True),
                            Col("Pieces", "", 0.8),
                            Col("Length", length),
                            Col("Area", area),
                            Col("Mass", mass),
                        ),
                        tuple(
                            (
                                r.kind,
                                fitting_words(r.name) if r.kind in ("fitting", "damper", "connector") else r.name,
                                r.size,
                                number(r.count),
                                figure("length", r.length_m, units, 1) if r.length_m else "",
                                figure("area", r.area_m2, units) if r.area_m2 else "",
                                figure("mass", r.mass_kg, units, 1) if r.mass_kg else "",
                            )
                            for r in found.counts
                        ),
                    )
                )
    return blocks or [Text("No ducts that could be computed.")]
