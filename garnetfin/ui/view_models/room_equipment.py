"""The flow box and the units of one room on its card: what may be fixed, and what each then does."""

from dataclasses import replace
from math import isfinite

from garnetfin import display
from garnetfin.engine.equipment.boxes import models_for
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import BoxRecord, RoomUnitRecord
from garnetfin.engine.equipment.schedules import KIND_WORDS
from garnetfin.engine.resolve import Figure
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Room
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import Inputs, InputVM, Line, Lines


def equipment_sections(state: State, room: Room) -> tuple[Inputs | Lines, ...]:
    """Sections of its box, then of each unit; none where there is neither."""
    of = state.results.equipment
    box = of.box_of(room.id)
    units = [u for u in of.room_units.values() if u.room_id == room.id]
    found: list[Inputs | Lines] = []
    if box is not None:
        found += [_box_inputs(state, box), _box_lines(state, box)]
    for unit in units:
        found += _unit(state, unit)
    return tuple(found)


def _input(state: State, box: BoxRecord, field: str, label: str, quantity: str, value: Figure) -> InputVM:
    """A figure of a box that may be typed."""
    units = state.show.units
    edit = replace(edits.equipment("flow_boxes", box.id, field, quantity), why=("equipment", "boxes", box.id, field))
    text, unit = display.figure(quantity, value.figure, units), display.unit(quantity, units)
    return InputVM(edit, label, text, unit, "pinned" if value.origin == "pinned" else "rule", quantity)


def _box_inputs(state: State, box: BoxRecord) -> Inputs:
    models = models_for(state.project.book, box)
    by_rule = f"by rule: {box.model.model}" if box.model is not None and not box.pinned else "by rule"
    choices = (("", by_rule), *((m.model, m.model) for m in models))
    model = InputVM(
        edits.equipment("flow_boxes", box.id, "model", ""),
        "Model",
        "",
        "",
        choices=choices,
        chosen=box.model.model if box.pinned and box.model is not None else "",
    )
    rows = [model]
    if box.kind == "vav":  # a constant one has one flow alone, that of its rooms
        rows.append(_input(state, box, "least_m3s", "Least flow", "room_flow", box.least))
        rows.append(_input(state, box, "heating_m3s", "Heating flow", "room_flow", box.heating))
    if box.reheat:
        rows.append(_input(state, box, "leave_c", "Air off at most", "temperature", box.leaving))
    shared = len(box.room_ids)
    note = f"for {shared} rooms" if shared > 1 else KIND_WORDS[box.kind]
    return Inputs(f"Flow box {box.tag}", note, tuple(rows))


def _box_lines(state: State, box: BoxRecord) -> Lines:
    m = box.model
    rows = [_line(state, "boxes", box.id, "most_m3s", "Greatest flow", "room_flow", box.most_m3s)]
    if m is not None:
        low, high = (display.figure("room_flow", x, state.show.units) for x in (m.flow_min_m3s, m.flow_max_m3s))
        rows.append(Line(f"Range of {m.model}", f"{low} to {high}", display.unit("room_flow", state.show.units)))
        rows.append(_line(state, "boxes", box.id, "drop_pa", "Box and coil lose", "pressure", box.drop_pa))
        rows.append(_line(state, "boxes", box.id, "radiated_nc", "NC through its casing", "plain", box.radiated_nc, 0))
        rows.append(_line(state, "boxes", box.id, "discharge_nc", "NC along the duct", "plain", box.discharge_nc, 0))
    stands = state.results.equipment.box_ducts.get(box.id, ())
    if stands:
        rows.append(Line("Stands in", ", ".join(stands), target=("segment", stands[0])))
    if box.reheat:
        rows.append(_line(state, "boxes", box.id, "reheat_w", "Reheat, greatest", "power", box.reheat_w))
    return Lines("What it does", f"at most {box.limit_nc:g} NC", tuple(rows))


def _line(
    state: State,
    key: str,
    item_id: str,
    column: str,
    label: str,
    quantity: str,
    value: float,
    digits: int | None = None,
) -> Line:
    units = state.show.units
    text = display.figure(quantity, value, units, digits) if isfinite(value) else display.DASH
    return Line(label, text, display.unit(quantity, units), why=("equipment", key, item_id, column))


def _unit(state: State, unit: RoomUnitRecord) -> list[Inputs | Lines]:
    found: list[Inputs | Lines] = []
    if find(state.project.room_units, unit.id) is not None:
        names = [m.model for m in catalogue(state.project.book, "room_units") if m.kind == unit.kind]
        names = list(dict.fromkeys(names))
        model = InputVM(
            edits.equipment("room_units", unit.id, "model", ""),
            "Model",
            "",
            "",
            choices=(("", "by rule"), *((n, n) for n in names)),
            chosen=unit.model.model if unit.pinned and unit.model is not None else "",
        )
        found.append(Inputs(f"{KIND_WORDS[unit.kind].capitalize()} {unit.tag}", "put by hand", (model,)))
    rows = []
    if unit.model is not None:
        rows.append(
            Line("Chosen", f"{unit.count} × {unit.model.model}", why=("equipment", "room_units", unit.id, "model"))
        )
    figures = (
        ("cool_need_w", "Cooling left for it", unit.cool_need_w),
        ("cool_total_w", "It cools", unit.cool_total_w),
        ("heat_need_w", "Heating left for it", unit.heat_need_w),
        ("heat_w", "It heats", unit.heat_w),
    )
    rows += [
        _line(state, "room_units", unit.id, column, label, "power", value)
        for column, label, value in figures
        if value >= 1.0
    ]
    if unit.model is not None and isfinite(unit.sound_dba) and unit.sound_dba > 0:
        rows.append(_line(state, "room_units", unit.id, "sound_dba", "Sound power, dB(A)", "plain", unit.sound_dba, 0))
    if rows:
        title = "What it does" if found else f"{KIND_WORDS[unit.kind].capitalize()} {unit.tag}"
        found.append(Lines(title, "beside the air" if not found else "", tuple(rows)))
    return found
