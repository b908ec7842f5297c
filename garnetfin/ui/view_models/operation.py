"""When plant runs, and what the office standards presumes of loads."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.resolve import assumption
from garnetfin.project.book import ASSUMPTIONS
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import Inputs, InputVM, input_row
from garnetfin.ui.view_models.room_air import BOOK, DUCT_BOOK

OPERATION_ROWS = (("lead_h", "Starts before use", "hours"), ("from_h", "From", "hours"), ("to_h", "To", "hours"))


def operation_inputs(owner: str, operation, units: System, zone: bool = False) -> tuple[InputVM, ...]:
    """When the plant runs; only what the chosen mode reads is shown."""
    mode = operation.mode if operation is not None else ""
    modes = (("always", "around the clock"), ("use", "while rooms are used"), ("hours", "between two hours"))
    rows = [
        InputVM(
            edits.operation(owner, "mode"),
            "Runs",
            "",
            "",
            "plain",
            choices=((("", "as the air system"),) if zone else ()) + modes,
            chosen=mode,
        )
    ]
    if operation is None or mode == "always":
        return tuple(rows)
    wanted = ("lead_h",) if mode == "use" else ("from_h", "to_h")
    rows += [
        InputVM(edits.operation(owner, f), label, str(getattr(operation, f)), "h", "plain", q)
        for f, label, q in OPERATION_ROWS
        if f in wanted
    ]
    for field, label in (("night_cooling_c", "Cooling at night"), ("night_heating_c", "Heating at night")):
        value = getattr(operation, field)
        off = isinstance(value, Rule)
        rows.append(
            InputVM(
                edits.operation(owner, field),
                label,
                "off" if off else display.figure("temperature", value.value, units),
                display.unit("temperature", units),
                "rule" if off else "pinned",
                "temperature",
                tip="by rule the plant is off; a temperature holds it at night",
            )
        )
    return tuple(rows)


def operation(state: State) -> Inputs:
    system = state.system
    if system is None:
        return Inputs("Plant", "no air system", ())
    return Inputs("Plant", system.name, operation_inputs(system.id, system.operation, state.show.units))


def assumptions(state: State) -> Inputs:
    """The office standards' assumptions; a changed one moves all that is by rule."""
    book, units = state.project.book, state.show.units
    rows = tuple(
        input_row(assumption(book, name), edits.assumption(name), label, quantity, units)
        for name, (_, quantity, _, _, label) in ASSUMPTIONS.items()
        if name not in (*BOOK, *DUCT_BOOK)
    )
    return Inputs("Assumptions", "office standards", rows)
