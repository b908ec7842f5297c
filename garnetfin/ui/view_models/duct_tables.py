"""Tables of ducts: methods of sizing, the bill of quantities, fittings; the section along a run."""

from garnetfin import display
from garnetfin.core.tables import fitting_words
from garnetfin.engine.layout.long_section import long_section
from garnetfin.engine.layout.take_off import take_off
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.ui.state import State
from garnetfin.ui.view_models.chart_data import LongSectionVM
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM


def method_table(state: State, rows) -> TableVM:
    """Every way of sizing with what it makes of this system; the one in force is chosen."""
    units = state.show.units
    if rows is None or isinstance(rows, Missing):
        words = rows.remedy if rows is not None else "Sizing the ducts in every way …"
        return TableVM(
            (Column("Sizing methods", width=400, left=True, stretch=True),),
            (Row("note", "note", (Cell(words, italic=True),)),),
        )
    columns = (
        Column("Sized by", width=170, left=True, stretch=True),
        Column("Duct mass", display.unit("mass", units), 90),
        Column("Sheet", display.unit("area", units), 90),
        Column("Index run", display.unit("pressure", units), 100),
        Column("Imbalance", "%", 118),
        Column("Sizes", width=64),
        Column("Limits broken", width=104),
        Column("Cost over life", width=120),
    )
    least = min(r.cost for r in rows)
    return TableVM(
        columns,
        tuple(
            Row(
                "method",
                r.method,
                (
                    Cell(r.name),
                    Cell(display.figure("mass", r.mass_kg, units)),
                    Cell(display.figure("area", r.sheet_m2, units, 0)),
                    Cell(display.figure("pressure", r.fan_pa, units)),
                    Cell(display.number(r.imbalance * 100, 1)),
                    Cell(str(r.sizes)),
                    Cell(str(r.broken) if r.broken else display.DASH, tone="watch" if r.broken else ""),
                    Cell(display.number(r.cost, 0), tone="strong" if r.cost <= least * 1.0001 else ""),
                ),
            )
            for r in rows
        ),
    )


WHY_ENDS = {"": "", "slow": "ends: slow already", "no size": "ends: no size regains it"}


def regain_table(state: State, ducts: DuctResult) -> TableVM:
    """Sections of the straight ways in the order of the air: what slowing down gives back, what is lost and left."""
    units = state.show.units
    if not ducts.regained:
        words = "These ducts are not sized by static regain, or no section goes straight on behind a takeoff."
        return TableVM(
            (Column("Regain", width=400, left=True, stretch=True),), (Row("note", "note", (Cell(words, italic=True),)),)
        )
    velocity, pressure = display.unit("velocity", units), display.unit("fine_pressure", units)
    columns = (
        Column("Section", width=90, left=True),
        Column("Pieces", width=60),
        Column("Length", display.unit("length", units), 80),
        Column("Before", velocity, 80),
        Column("In it", velocity, 80),
        Column("Gained", pressure, 84),
        Column("Lost", pressure, 84),
        Column("Carried", pressure, 84),
        Column("Left over", pressure, 90),
        Column("Static", pressure, 84),
        Column("", width=180, left=True, stretch=True),
    )
    rows = []
    for i, r in enumerate(ducts.regained):
        own = [ducts.segments[ducts.segment_ids[k]] for k in r.segments]
        figures = (
            ("length", "length", sum(s.length_m for s in own)),
            ("before", "velocity", r.before_m_s),
            ("velocity", "velocity", r.velocity_m_s),
            ("gained", "fine_pressure", r.gained_pa),
            ("lost", "fine_pressure", r.lost_pa),
            ("carried", "fine_pressure", r.carried_pa),
            ("left", "fine_pressure", r.left_pa),
            ("static", "fine_pressure", own[0].static_pa),
        )
        rows.append(
            Row(
                "segment",
                own[0].segment_id,
                (
                    Cell(own[0].segment_id),
                    Cell(str(len(own))),
                    *(
                        Cell(
                            display.figure(quantity, value, units),
                            why=("regain", ducts.system_id, ducts.air, i, what),
                            tone="watch" if what == "left" and r.ends else "",
                        )
                        for what, quantity, value in figures
                    ),
                    Cell(WHY_ENDS[r.ends], tone="watch" if r.ends else ""),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


BOOKED = ("fitting", "damper", "connector")  # rows that name something of the catalogue


def _of_row(ducts: DuctResult, row: int, what: str) -> tuple[str | int, ...]:
    return "bill row", ducts.system_id, ducts.air, row, what


def take_off_table(state: State, ducts: DuctResult) -> TableVM:
    """The bill of quantities: ducts by size, then fittings, flexible ducts, dampers, terminals; sums below."""
    units, bill = state.show.units, take_off(state.results, ducts)
    columns = (
        Column("What", width=230, left=True, stretch=True),
        Column("Size", display.unit("duct_size", units), 110),
        Column("Pieces", width=70),
        Column("Cut", width=54),
        Column("Length", display.unit("length", units), 86),
        Column("Sheet", display.unit("area", units), 86),
        Column("Thick", "mm", 72),
        Column("Duct mass", display.unit("mass", units), 86),
    )
    rows = [
        Row(
            "size",
            f"s{i}",
            (
                Cell(f"{r.section.shape} duct, {r.material}, class {r.tightness}"),
                Cell(display.size(r.section, units)),
                *(
                    Cell(text, why=("cut", ducts.system_id, ducts.air, i, what))
                    for what, text in (
                        ("pieces", str(r.standard)),
                        ("cut", str(r.cut) if r.cut else display.DASH),
                        ("length", display.figure("length", r.length_m, units, 1)),
                        ("sheet", display.figure("area", r.sheet_m2, units, 1)),
                        ("thickness", f"{r.thickness_m * 1000:.1f}"),
                        ("mass", display.figure("mass", r.mass_kg, units, 1)),
                    )
                ),
            ),
        )
        for i, r in enumerate(bill.sizes)
    ]
    rows.append(
        Row(
            "size",
            "sum",
            (
                Cell("All ducts and fittings", tone="strong"),
                Cell(""),
                *(
                    Cell(str(count), tone="strong", why=("bill", ducts.system_id, ducts.air, what))
                    for what, count in (
                        ("pieces", sum(r.standard for r in bill.sizes)),
                        ("cut", sum(r.cut for r in bill.sizes)),
                    )
                ),
                Cell(
                    display.figure("length", bill.straight_m, units, 1),
                    tone="strong",
                    why=("bill", ducts.system_id, ducts.air, "length"),
                ),
                Cell(
                    display.figure("area", bill.sheet_m2, units, 1),
                    tone="strong",
                    why=("bill", ducts.system_id, ducts.air, "sheet"),
                ),
                Cell(""),
                Cell(
                    display.figure("mass", bill.mass_kg, units, 1),
                    tone="strong",
                    why=("bill", ducts.system_id, ducts.air, "mass"),
                ),
            ),
        )
    )
    rows += [
        Row(
            "thickness",
            f"t{i}",
            (
                Cell("  of these, sheet"),
                Cell(""),
                Cell(""),
                Cell(""),
                Cell(""),
                Cell(
                    display.figure("area", sheet, units, 1), why=("bill sheet", ducts.system_id, ducts.air, i, "sheet")
                ),
                Cell(f"{t * 1000:.1f} mm"),
                Cell(display.figure("mass", mass, units, 1), why=("bill sheet", ducts.system_id, ducts.air, i, "mass")),
            ),
        )
        for i, (t, sheet, mass) in enumerate(bill.by_thickness())
    ]
    rows += [
        Row(
            "count",
            f"c{i}",
            (
                Cell(fitting_words(r.name) if r.kind in BOOKED else r.name, fitting=r.name if r.kind in BOOKED else ""),
                Cell(r.size),
                Cell(str(r.count), why=_of_row(ducts, i, "count")),
                Cell(""),
                *(
                    Cell(text, why=_of_row(ducts, i, what)) if shown else Cell("")
                    for what, shown, text in (
                        ("length", r.length_m, display.figure("length", r.length_m, units, 1)),
                        ("sheet", r.area_m2, display.figure("area", r.area_m2, units, 2)),
                        ("thickness", r.thickness_m, f"{r.thickness_m * 1000:.1f}"),
                        ("mass", r.mass_kg, display.figure("mass", r.mass_kg, units, 1)),
                    )
                ),
            ),
        )
        for i, r in enumerate(bill.counts)
    ]
    return TableVM(columns, tuple(rows))


def fitting_table(state: State, ducts: DuctResult) -> TableVM:
    """Every fitting where it is booked, the greatest loss first; a click selects its duct."""
    units = state.show.units
    columns = (
        Column("Fitting", width=200, left=True, stretch=True),
        Column("Before", width=90, left=True),
        Column("Size", display.unit("duct_size", units), 110),
        Column("k", width=60),
        Column("on", width=80, left=True),
        Column("Velocity", display.unit("velocity", units), 90),
        Column("Loss", display.unit("pressure", units), 80),
    )
    found = [(f, s, ("fitting", s.segment_id, i)) for s in ducts.segments.values() for i, f in enumerate(s.fittings)]
    found.sort(key=lambda fs: -fs[0].pressure_pa)
    return TableVM(
        columns,
        tuple(
            Row(
                "segment",
                s.segment_id,
                (
                    Cell(fitting_words(f.name), fitting=f.name),
                    Cell(s.segment_id, tone="faint"),
                    Cell(display.size(s.section, units), why=("duct", s.segment_id, "size")),
                    Cell(display.number(f.k, 2), why=why),
                    Cell(
                        {"duct": "the duct", "common": "before it", "small": "the smaller", "box": "its own flow"}[
                            f.reference
                        ],
                        tone="faint",
                    ),
                    Cell(display.figure("velocity", s.velocity_m_s, units), why=("duct", s.segment_id, "velocity")),
                    Cell(display.figure("fine_pressure", f.pressure_pa, units), why=why),
                ),
            )
            for f, s, why in found
        ),
    )


def section_vm(state: State, ducts: DuctResult | Missing) -> LongSectionVM:
    """The run to what is chosen; without a choice the index run."""
    if isinstance(ducts, Missing):
        return LongSectionVM(None, ducts.remedy, "supply", (), state.show.units)
    chosen = state.selection.of("segment")
    end = next((i for i in chosen if i in ducts.segments and ducts.tree.reached[ducts.segment_ids.index(i)]), "")
    if not end:
        end = next(
            (t.segment_id for t in ducts.terminals if t.terminal_id in state.selection.of("terminal")),
            ducts.index.segment_id,
        )
    # On to the last terminal beyond, so that a run is seen whole whichever piece of it is chosen.
    beyond = [t.segment_id for t in ducts.terminals if end in ducts.path(t.segment_id)]
    index = ducts.index.segment_id
    whole = index if index in beyond else max(beyond, key=lambda i: ducts.segments[i].distance_m) if beyond else end
    return LongSectionVM(
        long_section(state.results, ducts, whole), "", ducts.air, chosen, state.show.units, state.show.level_id
    )
