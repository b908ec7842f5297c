"""Schedules of equipment as tables of the window."""

from garnetfin import display
from garnetfin.engine.equipment.schedules import KEYS, Schedule, schedule
from garnetfin.engine.equipment.schedules import Column as Figure
from garnetfin.project.inline import level_of_part, system_of_part
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Figure as FigureBlock
from garnetfin.report.unit_figure import unit_figure
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

VARIABLE = ("least_m3s", "heating_m3s")
WIDTH = 66  # of a column of share 1
NOTHING = {
    "boxes": "No flow boxes: rooms of this system have neither flow by load nor reheat at their terminals",
    "room_units": "No units in rooms: choose rooms on the plan and put one",
    "coils": "No coil has anything to do",
    "units": "No air handler could be computed",
    "machines": "Nothing asks for cold or heat",
    "pumps": "Nothing asks for cold or heat",
    "silencers": "No silencer: units have none, or nothing is known yet of what is heard",
    "inline": "No parts in ducts: put some with the tool of Ducts (I), or in the card of a duct",
    "shafts": "Nothing passes from level to level",
}
ROOM_UNITS = (
    ("fan_coil", "Fan coil"),
    ("beam", "Chilled beam"),
    ("radiator", "Radiator"),
    ("convector", "Convector"),
    ("floor", "Floor"),
    ("ceiling", "Ceiling"),
    ("electric", "Electric"),
    ("direct", "Direct cooling"),
)


def schedule_table(state: State, key: str, this_system: bool, this_level: bool) -> TableVM:
    """One schedule; of the system in hand and the level in hand where that is asked for."""
    one = schedule(state.results, key)
    units = state.show.units
    columns = tuple(
        Column(
            c.name,
            display.unit(c.quantity, units) if c.quantity else "",
            round(WIDTH * c.width) + (14 if c.quantity else 0),
            not c.quantity,
            c.key == "served",
        )
        for c in one.columns
    )
    lines = [x for x in one.lines if _shown(state, one, x.id, this_system, this_level)]
    rows = tuple(Row(_kind(key), x.id, tuple(_cells(state, one, x))) for x in lines)
    if not rows:
        empty = (Cell(""), Cell(NOTHING[key], italic=True, tone="faint"), *[Cell("")] * (len(columns) - 2))
        return TableVM(columns, (Row("line", "none", empty),))
    return TableVM(columns, rows)


def _kind(key: str) -> str:
    return {"boxes": "box", "room_units": "room unit", "coils": "coil", "units": "unit", "inline": "inline"}.get(
        key, "machine"
    )


def rooms_of(state: State, key: str, item_id: str) -> tuple[str, ...]:
    """Rooms a piece serves, to be chosen with it."""
    of = state.results.equipment
    if key == "boxes" and item_id in of.boxes:
        return of.boxes[item_id].room_ids
    if key == "room_units" and item_id in of.room_units:
        return (of.room_units[item_id].room_id,)
    return ()


def _shown(state: State, one: Schedule, item_id: str, this_system: bool, this_level: bool) -> bool:
    of, show = state.results.equipment, state.show
    if this_system and one.key in ("boxes", "coils", "units", "inline"):
        system = {
            "boxes": lambda: of.boxes[item_id].system_id,
            "coils": lambda: of.coils[item_id].system_id,
            "units": lambda: item_id,
            "inline": lambda: system_of_part(state.project, item_id),
        }[one.key]()
        if system != show.system_id:
            return False
    if this_level and one.key == "inline" and show.level_id:
        return level_of_part(state.project, item_id) == show.level_id
    rooms = rooms_of(state, one.key, item_id)
    if this_level and rooms and show.level_id:
        levels = {r.level_id for i in rooms if (r := find(state.project.rooms, i)) is not None}
        return show.level_id in levels
    return True


def _cells(state: State, one: Schedule, line) -> list[Cell]:
    units, found = state.show.units, []
    for c, cell in zip(one.columns, line.cells):
        pinned = "pinned" if c.key in line.fixed else ""
        edit = (
            edits.equipment(one.sheet, line.id, c.edits, c.quantity)
            if c.edits and _editable(state, one, line, c.edits)
            else None
        )
        why = ("equipment", one.key, line.id, c.key)
        if isinstance(cell, str):
            bad = cell == "none serves"
            tone = "bad" if bad or (c.key == "model" and line.remark) else "faint" if c.key == "served" else ""
            found.append(Cell(cell, pinned, tone, edit=edit, why=why if c.key == "model" else ()))
        else:
            found.append(_figure(c, cell, units, pinned, edit, why))
    return found


def _editable(state: State, one: Schedule, line, field: str) -> bool:
    """Units that stand in a room by rule are put there before anything of them is fixed; a box of constant flow has
    one flow alone, that of its rooms.
    """
    if one.key == "boxes" and field in VARIABLE and state.results.equipment.boxes[line.id].kind == "cav":
        return False
    return one.key != "room_units" or find(state.project.room_units, line.id) is not None


def _figure(c: Figure, value: float, units, pinned: str, edit, why: tuple) -> Cell:
    text = display.figure(c.quantity, value, units, c.digits)
    if text == display.DASH:
        return Cell("", edit=edit, quantity=c.quantity if edit is not None else "")
    quantity = c.quantity if edit is not None else ""
    return Cell(text, pinned, edit=edit, quantity=quantity, why=why)


def counted(state: State) -> str:
    """How many of each kind there are, in words."""
    found = [
        f"{len(schedule(state.results, key).lines)} {title.lower()}"
        for key, title in KEYS
        if key not in ("pumps", "shafts", "silencers", "inline") and schedule(state.results, key).lines
    ]
    return " · ".join(found)


def casing_figure(state: State) -> FigureBlock | None:
    """The unit of the system in hand, drawn to scale; None where none is laid out."""
    unit = state.results.equipment.units.get(state.show.system_id) if state.known else None
    return unit_figure(unit, state.show.units) if unit is not None else None
