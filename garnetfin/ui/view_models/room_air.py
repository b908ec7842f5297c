"""The card of rooms in Air: what each need asks for, what governs, extract and return, transfer air; and the office
book on air.
"""

import math
from typing import Any

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.resolve import Figure, assumption
from garnetfin.engine.results import NEEDS, AirResult, RoomAir
from garnetfin.project.book import ASSUMPTIONS, BOOK_CHOICES, Book
from garnetfin.project.edits.rooms import ROOM_CHOICES
from garnetfin.project.lookup import find
from garnetfin.project.parts import KINDS
from garnetfin.project.spaces import Room
from garnetfin.project.values import Value
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import Inputs, InputVM, Line, Lines, input_row, one_choice
from garnetfin.ui.view_models.room_equipment import equipment_sections

AIR_INPUTS = (("outdoor_m3s", "Outdoor air", "room_flow"), ("air_change_1h", "Least air change", "air_change"))
# What of the office book belongs to air; the rest is shown with the loads.
BOOK = (
    "humidity_high",
    "least_share",
    "fan_base",
    "fixture_m2",
    "noise_nc",
    "neck_m_s",
    "terminal_pa",
    "ceiling_module_m",
    "chilled_supply_c",
    "chilled_return_c",
    "hot_supply_c",
    "hot_return_c",
    "plant_m2_kw",
    "handler_m2_m3s",
)
DUCT_BOOK = (
    "duct_trunk_m_s",
    "duct_riser_m_s",
    "duct_branch_m_s",
    "duct_last_m_s",
    "duct_slow_trunk_m_s",
    "duct_slow_branch_m_s",
    "duct_slow_last_m_s",
    "duct_least_pa_m",
    "duct_aspect",
    "duct_least_m",
    "duct_most_m",
    "duct_step_m",
    "duct_reduce",
    "flexible_most_m",
    "flexible_share",
    "duct_lining_m",
    "duct_insulation_m",
    "class_margin",
    "piece_rectangular_m",
    "piece_round_m",
    "sheet_price",
    "energy_price",
    "fan_hours",
    "life_years",
    "interest",
)
DUCT_CHOICES = (
    ("duct_series", "Sizes"),
    ("duct_material", "Material"),
    ("duct_velocity", "Velocities"),
    ("duct_class", "Class"),
    ("elbow_round", "Round elbows"),
    ("elbow_rectangular", "Rectangular elbows"),
    ("takeoff_supply", "Takeoffs, supply"),
    ("takeoff_leaving", "Takeoffs, return"),
)
CHOICES = (
    ("outdoor_method", "Outdoor air"),
    ("category", "Category"),
    ("pollution", "Building is"),
    ("density", "Rates are"),
    ("recirculation", "Intake"),
    ("least_flows", "Least flows for"),
    ("fan_reset", "Fan’s held pressure"),
    ("cooling_unit", "Plant cooling in"),
)


def air_sections(state: State, rooms: list[Room], found: list) -> tuple:
    """Sections of the card of rooms."""
    results, units = state.results, state.show.units
    ids = tuple(r.id for r in rooms)
    rows = [results.room_air[i] for i in ids if i in results.room_air]
    inputs = [
        input_row(
            getattr(found[0].figures, name),
            edits.room_value(ids, name),
            label,
            quantity,
            units,
            len({getattr(f.figures, name).figure for f in found}) > 1,
        )
        for name, label, quantity in AIR_INPUTS
    ]
    if rows:
        inputs += [
            _flow(
                rows,
                rooms,
                "supply_m3s",
                "flow_m3s",
                "Supply air",
                units,
                f"by rule: the greatest need, {display.with_unit('room_flow', rows[0].exact_m3s, units)}, rounded up",
            ),
            _flow(rows, rooms, "extract_m3s", "extract_m3s", "Extract air", units, "by rule as its use asks"),
            _flow(
                rows, rooms, "return_m3s", "return_m3s", "Return air", units, "by rule it closes the room’s air balance"
            ),
        ]
    inputs.append(
        one_choice(
            rooms,
            edits.room_choice(ids, "need"),
            "need",
            "Governs",
            (("", "the greatest need"), *((n, n) for n in NEEDS)),
        )
    )
    inputs.append(
        one_choice(
            rooms,
            edits.room_choice(ids, "air"),
            "air",
            "Actual flow",
            (("supply", "supply air"), ("transfer", "transfer air alone")),
        )
    )
    inputs.append(
        one_choice(
            rooms,
            edits.room_choice(ids, "rest"),
            "rest",
            "Beside the air",
            (("", "as its air system"), *KINDS["terminals"].choices),
        )
    )
    inputs.append(
        one_choice(
            rooms,
            edits.room_choice(ids, "pressure"),
            "pressure",
            "Pressure",
            tuple((p, p) for p in ROOM_CHOICES["pressure"]),
        )
    )
    sections: list[Any] = [Inputs("Needs", "by rule or pinned", tuple(inputs))]
    if len(rooms) == 1 and rows:
        sections += [_needs(rows[0], units), *equipment_sections(state, rooms[0]), *_moves(state, rooms[0], units)]
    elif len(rooms) == 1:
        sections.append(Lines("What each need asks for", "", (Line("not served", display.DASH),)))
        sections += equipment_sections(state, rooms[0])
    return tuple(sections)


def _flow(
    rows: list[RoomAir], rooms: list[Room], field: str, of_row: str, label: str, units: System, tip: str
) -> InputVM:
    """A flow of rooms as it is in force; by rule or pinned."""
    values = {(round(getattr(r, of_row), 6), _origin(getattr(room, field))) for r, room in zip(rows, rooms)}
    several = len(values) > 1
    return InputVM(
        edits.room_value(tuple(r.id for r in rooms), field),
        label,
        "several" if several else display.figure("room_flow", getattr(rows[0], of_row), units),
        display.unit("room_flow", units),
        "several" if several else _origin(getattr(rooms[0], field)),
        "room_flow",
        tip=tip,
    )


def _origin(value: Value) -> str:
    return type(value).__name__.lower()


def _needs(row: RoomAir, units: System) -> Lines:
    def text(value: float) -> str:
        return display.figure("room_flow", value, units) if math.isfinite(value) else "no flow can"

    return Lines(
        "What each need asks for",
        display.unit("room_flow", units),
        tuple(
            Line(n.capitalize(), text(row.need(n)), strong=row.governs == n, why=("need", row.room_id, n))
            for n in NEEDS
            if row.need(n) > 0
        ),
    )


def _moves(state: State, room: Room, units: System) -> tuple:
    """Transfer air into the room, typed or by rule, and what it gives to others."""
    air = state.results.air.get(room.system_id)
    if not isinstance(air, AirResult):
        return ()
    project = state.project
    others = tuple(
        (r.id, f"{r.number} {r.name}") for r in project.rooms if r.system_id == room.system_id and r.id != room.id
    )
    rows: list[InputVM] = []
    for move in air.moves:
        if move.to_room != room.id:
            continue
        if move.transfer_id:
            rows.append(
                InputVM(
                    edits.transfer_source(move.transfer_id),
                    "Air from",
                    "",
                    "",
                    choices=(*others, ("", "no longer")),
                    chosen=move.from_room,
                )
            )
        else:
            rows.append(
                InputVM(edits.add_transfer(room.id), "By rule from", "", "", choices=others, chosen=move.from_room)
            )
        rows.append(
            InputVM(
                edits.transfer_flow(move.from_room, room.id),
                "    its flow",
                display.figure("room_flow", move.flow_m3s, units),
                display.unit("room_flow", units),
                "rule" if move.by_rule else "pinned",
                "room_flow",
                tip="by rule: what the room lacks",
            )
        )
    rows.append(InputVM(edits.add_transfer(room.id), "Take air from", "", "", choices=others, chosen="none"))
    gives = tuple(
        Line(
            f"to {find(project.rooms, m.to_room).number} {find(project.rooms, m.to_room).name}"[:34],
            display.figure("room_flow", m.flow_m3s, units),
            display.unit("room_flow", units),
            target=("room", m.to_room),
        )
        for m in air.moves
        if m.from_room == room.id
    )
    balance = next((r for r in air.rooms if r.room_id == room.id), None)
    sections: list[Any] = [Inputs("Transfer air", f"{balance.pressure} pressure" if balance else "", tuple(rows))]
    if gives:
        sections.append(Lines("Gives air", "click to select", gives))
    return tuple(sections)


def book_section(book: Book, units: System) -> Inputs:
    """The office standards on air: methods, limits, water, ratios."""
    return Inputs("Assumptions for air", "office standards", _book_rows(book, units, CHOICES, BOOK))


def duct_book(book: Book, units: System) -> Inputs:
    """The office standards on ducts: velocities by role, shape limits, prices."""
    return Inputs("Rules for ducts", "office standards", _book_rows(book, units, DUCT_CHOICES, DUCT_BOOK))


def _book_rows(book: Book, units: System, choices: tuple, names: tuple[str, ...]) -> tuple[InputVM, ...]:
    rows = [
        InputVM(edits.book_choice(name), label, "", "", choices=_choices(name), chosen=getattr(book, name))
        for name, label in choices
    ]
    for name in names:
        _, quantity, _, _, label = ASSUMPTIONS[name]
        figure: Figure = assumption(book, name)
        rows.append(input_row(figure, edits.assumption(name), label, quantity, units))
    return tuple(rows)


def _choices(name: str) -> tuple[tuple[str, str], ...]:
    known = BOOK_CHOICES[name]
    return tuple(known.items()) if isinstance(known, dict) else tuple((k, f"category {k}") for k in known)
