"""Cards of duct segments and terminals; size ladder; tables of segments and runs."""

from collections import Counter

from garnetfin import display
from garnetfin.core.tables import fitting_words
from garnetfin.core.units import System
from garnetfin.engine.layout.duct_methods import METHODS
from garnetfin.engine.layout.duct_pieces import pieces_of
from garnetfin.engine.results import DuctHeat, DuctResult, Missing, there
from garnetfin.engine.stages.duct_sizes import AVAILABLE_PA
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.balance import balance_section
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.duct_inputs import FRICTION_FROM, HEATS, LEAKAGES
from garnetfin.ui.view_models.findings import findings_section
from garnetfin.ui.view_models.room_air import duct_book


def the_ducts(state: State) -> DuctResult | Missing:
    """Ducts of the system and the air that are shown; those of a chosen segment or terminal whatever is shown."""
    if not state.known:
        return Missing("computing")
    if state.selection.kind in ("segment", "terminal"):
        for found in state.results.networks(state.show.system_id):
            known = found.segments if state.selection.kind == "segment" else {t.terminal_id for t in found.terminals}
            if any(i in known for i in state.selection.ids):
                return found
    return state.results.network(state.show.system_id, state.show.air)


def _leaks(ducts: DuctResult, units: System) -> tuple[Lines, ...]:
    """What leaks out of ducts, or into them, where it is computed."""
    if ducts.leak_m3s <= 0:
        return ()
    share = ducts.leak_m3s / max(ducts.flow_m3s, 1e-9)
    line = Line(
        "Out of them" if ducts.air == "supply" else "Into them",
        display.figure("room_flow", ducts.leak_m3s, units, 1),
        display.unit("room_flow", units),
        why=("system figure", ducts.system_id, "leak", ducts.air),
    )
    return (Lines("Leaks", f"{share:.1%} of the flow at the unit", (line,)),)


def _heat_of(state: State) -> DuctHeat | None:
    return state.results.duct_heat.get(state.show.system_id) if state.known else None


def _heat(heat: DuctHeat | None, ducts: DuctResult, units: System) -> tuple[Lines, ...]:
    """What supply ducts take up on their way, where it is computed."""
    if heat is None or ducts.air != "supply":
        return ()
    ends = heat.terminal_c.values()
    return (
        Lines(
            "Heat on the way",
            "summer design day",
            (
                Line(
                    "Taken up",
                    display.figure("power", sum(heat.gained_w.values()), units),
                    display.unit("power", units),
                    why=("duct heat", ducts.system_id),
                ),
                Line(
                    f"At terminals, {display.figure('temperature', min(ends), units)} to",
                    display.figure("temperature", max(ends), units),
                    display.unit("temperature", units),
                    why=("duct heat", ducts.system_id),
                ),
            ),
        ),
    )


def ducts_card(state: State) -> CardVM:
    """Nothing selected: the system's ducts as a whole."""
    ducts, units = the_ducts(state), state.show.units
    system = state.system
    if isinstance(ducts, Missing) or system is None:
        return CardVM(
            "Ducts" if state.show.air == "supply" else f"{state.show.air.capitalize()} ducts",
            system.name if system else "Ducts",
            ducts.remedy if isinstance(ducts, Missing) else "",
            (),
            findings_section(state.results, "", (), "Ducts") if state.known else (),
        )
    figures = there(state.results.air[system.id]).figures
    index = ducts.index
    rows = (
        InputVM(
            edits.system_value(system.id, "friction_pa_m"),
            "Friction, greatest",
            display.figure("friction", figures.friction_pa_m.figure, units),
            display.unit("friction", units),
            figures.friction_pa_m.origin,
            "friction",
            tip=figures.friction_pa_m.source,
        ),
        InputVM(
            edits.system_value(system.id, "allowance"),
            "Margin on pressure",
            display.figure("fraction", figures.allowance.figure, units),
            "%",
            figures.allowance.origin,
            "fraction",
            tip=figures.allowance.source,
        ),
    )
    height = system.duct_height_m
    if system.sizing != "velocity":
        rows = (
            InputVM(
                edits.system_choice(system.id, "friction_from"),
                "Friction from",
                "",
                "",
                choices=FRICTION_FROM,
                chosen=system.friction_from,
            ),
            *(
                (
                    InputVM(
                        edits.system_value(system.id, "available_pa"),
                        "Pressure for ducts",
                        display.figure(
                            "pressure",
                            AVAILABLE_PA if isinstance(system.available_pa, Rule) else system.available_pa.value,
                            units,
                        ),
                        display.unit("pressure", units),
                        "rule" if isinstance(system.available_pa, Rule) else "pinned",
                        "pressure",
                        tip="for every run, terminal included",
                    ),
                )
                if system.friction_from == "pressure"
                else rows[:1]
                if system.friction_from == "rate"
                else ()
            ),
            rows[1],
        )
    rows = (
        InputVM(edits.system_choice(system.id, "sizing"), "Sized by", "", "", choices=METHODS, chosen=system.sizing),
        *rows,
        InputVM(
            edits.system_value(system.id, "duct_height_m"),
            "Height, if fixed",
            "" if isinstance(height, Rule) else display.figure("duct_size", height.value, units),
            display.unit("duct_size", units),
            "rule" if isinstance(height, Rule) else "pinned",
            "duct_size",
            tip="of rectangular ducts; empty: the lightest that fits",
        ),
        InputVM(edits.system_choice(system.id, "leakage"), "Leaks", "", "", choices=LEAKAGES, chosen=system.leakage),
        InputVM(edits.system_choice(system.id, "heat"), "Heat", "", "", choices=HEATS, chosen=system.heat),
    )
    counts = Counter(p.name for p in pieces_of(state.project, ducts).fittings)
    sections = [
        Inputs("Sizing rule", "of this system", rows),
        *_leaks(ducts, units),
        *_heat(_heat_of(state), ducts, units),
        Lines(
            "Index run",
            f"to {index.label}",
            (
                Line(
                    "Ducts and fittings",
                    display.figure("pressure", index.run_pa - index.point.pressure_pa, units),
                    display.unit("pressure", units),
                    why=("system figure", system.id, "way", ducts.air),
                ),
                Line(
                    "Terminal",
                    display.figure("pressure", index.point.pressure_pa, units),
                    display.unit("pressure", units),
                    why=("terminal loss", index.terminal_id),
                ),
                Line(
                    "Length",
                    display.figure("length", index.distance_m, units, 1),
                    display.unit("length", units),
                    why=("system figure", system.id, "run", ducts.air),
                ),
            ),
        ),
        Lines(
            "Fittings",
            f"{sum(counts.values())} pieces",
            tuple(
                Line(fitting_words(name), str(n), why=("fittings", system.id, ducts.air, name))
                for name, n in counts.most_common(7)
            ),
        ),
        *findings_section(
            state.results, "", (), state.show.link if state.show.link in ("Ducts", "Balance") else "Ducts"
        ),
        *((balance_section(state, ducts),) if state.show.link == "Balance" else ()),
        duct_book(state.project.book, units),
    ]
    pinned = sum(s.pinned for s in ducts.segments.values())
    return CardVM(
        f"{ducts.air.capitalize()} ducts · {system.name}",
        display.with_unit("length", ducts.length_m, units, 0),
        f"{len(ducts.segments)} segments, {len(ducts.terminals)} terminals, {pinned} sizes pinned",
        (
            Headline(
                "Flow",
                display.figure("system_flow", ducts.flow_m3s, units),
                display.unit("system_flow", units),
                "at the unit",
                why=("system figure", system.id, "flow", ducts.air),
            ),
            Headline(
                "Index run",
                display.figure("pressure", ducts.runs.fan_pa, units),
                display.unit("pressure", units),
                index.label,
                why=("run", index.terminal_id),
            ),
            Headline(
                "Duct mass",
                display.figure("mass", ducts.mass_kg, units),
                display.unit("mass", units),
                "seams included",
                why=("system figure", system.id, "mass", ducts.air),
            ),
        ),
        tuple(sections),
    )
