"""The state list: its rows with their figures, the card of a row, and how it stands on the chart."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.core.units import to_shown
from garnetfin.engine.results import Missing, Point, TrainResult
from garnetfin.engine.studies.coil_sheet import AirState, air_state
from garnetfin.engine.studies.worksheet import SEA_LEVEL_PA, Answer, answers, places
from garnetfin.project.lookup import find
from garnetfin.project.state_list import ListRow
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.psychro import PathVM, StateVM
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

PROPERTIES = (
    ("t", "dry bulb"),
    ("rh", "relative humidity"),
    ("wb", "wet bulb"),
    ("td", "dew point"),
    ("w", "humidity ratio"),
    ("h", "enthalpy"),
    ("v", "volume"),
)
QUANTITIES = {
    "t": "temperature",
    "wb": "temperature",
    "td": "temperature",
    "rh": "fraction",
    "w": "humidity_ratio",
    "h": "enthalpy",
    "v": "specific_volume",
}
KINDS = (
    ("state", "State", "two properties"),
    ("outdoor", "Outdoor", "the design day"),
    ("air system", "Of the unit", "a place in it"),
    ("room", "Room", "its air"),
    ("mix", "Mix", "of any rows"),
    ("process", "Process", "two states and a flow"),
    ("difference", "Difference", "of two states"),
    ("flow", "Flow for", "a load"),
)


@dataclass(frozen=True)
class ListVM:
    """Rows answered once for table, card and chart."""

    rows: tuple[ListRow, ...]
    answers: tuple[Answer, ...]
    at: tuple = ()  # air system, month and hour of the point in force


def answered(state: State, point: Point | Missing) -> ListVM:
    points = {} if isinstance(point, Missing) else {state.show.system_id: point}
    return ListVM(
        state.project.state_list,
        answers(state.results, points) if state.known else (),
        () if isinstance(point, Missing) else (state.show.system_id, point.month, point.hour),
    )


def list_table(state: State, found: ListVM) -> TableVM:
    """Rows in their order; figures of a state, then what lies between two."""
    units = state.show.units
    columns = (
        Column("Name", width=104, left=True),
        Column("Made of", width=150, left=True, stretch=True),
        Column("", display.unit("temperature", units), 50),
        Column("", display.unit("humidity_ratio", units), 50),
        Column("", "%RH", 42),
        Column("Wet", display.unit("temperature", units), 60),
        Column("", display.unit("enthalpy", units), 54),
        Column("", display.unit("specific_volume", units), 60),
        Column("Flow", display.unit("room_flow", units), 66),
        Column("Heat", display.unit("load", units), 70),
        Column("Sensible", display.unit("load", units), 88),
        Column("Water", display.unit("moisture_flow", units), 76),
    )
    names = {r.id: r.name for r in found.rows}
    return TableVM(columns, tuple(_row(state, r, a, names, found.at) for r, a in zip(found.rows, found.answers)))


def _row(state: State, row: ListRow, a: Answer, names: dict[str, str], at: tuple) -> Row:
    units, blank = state.show.units, Cell(display.DASH, tone="faint")
    pressure = _pressure(state)
    name = Cell(row.name, edit=edits.list_row(row.id, "name"))
    if not a.known:
        return Row(
            "state row",
            row.id,
            (
                name,
                Cell(_made_of(state, row, names), tone="faint"),
                *(Cell("") for _ in range(9)),
                Cell(a.reason, tone="bad", italic=True, span=True),
            ),
        )
    cells = [blank] * 10
    if a.t == a.t:
        s: AirState = air_state(a.t, a.w, 1.0, pressure)
        cells[:6] = [
            Cell(text, why=("list row", row.id, what, at))
            for what, text in (
                ("t", display.figure("temperature", s.t, units)),
                ("w", display.figure("humidity_ratio", s.w, units)),
                ("rh", f"{s.rh * 100:.0f}"),
                ("wb", display.figure("temperature", s.wb, units)),
                ("h", display.figure("enthalpy", s.h, units)),
                ("volume", display.figure("specific_volume", s.volume, units)),
            )
        ]
    elif a.change[0] == a.change[0]:
        t, w, h = a.change
        cells[0] = Cell(_signed("temperature_difference", t, units))
        cells[1] = Cell(_signed("humidity_ratio", w, units))
        cells[4] = Cell(_signed("enthalpy_difference", h, units))
    if a.flow_m3s == a.flow_m3s:
        cells[6] = Cell(
            display.figure("room_flow", a.flow_m3s, units),
            tone="strong" if row.kind == "flow" else "",
            why=("list row", row.id, "flow_m3s", at),
        )
        cells[7] = Cell(
            display.figure("load", a.heat_w, units),
            tone="strong" if row.kind == "process" else "",
            why=("list row", row.id, "heat_w", at),
        )
        cells[8] = Cell(display.figure("load", a.sensible_w, units), why=("list row", row.id, "sensible_w", at))
        cells[9] = Cell(
            display.figure("moisture_flow", a.water_kg_s, units), why=("list row", row.id, "water_kg_s", at)
        )
    return Row("state row", row.id, (name, Cell(_made_of(state, row, names), tone="faint"), *cells))


def _signed(quantity: str, value: float, units) -> str:
    text = display.figure(quantity, value, units)
    return text if value <= 0 or text.startswith(display.MINUS) else f"+{text}"


def _pressure(state: State) -> float:
    climate = state.results.climate
    return SEA_LEVEL_PA if isinstance(climate, Missing) else climate.pressure_pa


def _made_of(state: State, row: ListRow, names: dict[str, str]) -> str:
    units = state.show.units
    sources = [names.get(s.row, "?") for s in row.sources]
    match row.kind:
        case "state":
            words = dict(PROPERTIES)
            return " · ".join(
                f"{words[k]} {display.with_unit(QUANTITIES[k], v, units)}"
                for k, v in ((row.a, row.a_value), (row.b, row.b_value))
            )
        case "outdoor":
            return "winter design day" if row.key == "winter" else "warmest hour of the design days"
        case "room":
            room = find(state.project.rooms, row.key)
            return f"{room.number} {room.name}" if room else "no room"
        case "air system":
            return dict(_places(state)).get(row.key, "no such place")
        case "mix":
            return (
                " + ".join(
                    f"{display.number(s.share, 2).rstrip('0').rstrip('.')} {n}" for s, n in zip(row.sources, sources)
                )
                or "nothing yet"
            )
    arrow = " − " if row.kind == "difference" else " → "
    pair = arrow.join(reversed(sources) if row.kind == "difference" else sources) or "two states"
    if row.kind == "process":
        return f"{pair}, {display.with_unit('room_flow', row.flow_m3s, units)}"
    return f"{pair}, {display.with_unit('load', row.load_w, units)}" if row.kind == "flow" else pair


def _places(state: State) -> tuple[tuple[str, str], ...]:
    """Places in the trains of the project that have a state."""
    found = []
    for system in state.project.air_systems:
        made = state.results.trains.get(system.id) if state.known else None
        if isinstance(made, TrainResult):
            many = f"{system.name}, " if len(state.project.air_systems) > 1 else ""
            found += [(f"{system.id}/{node}", f"{many}{title}") for node, title in places(system, made)]
    return tuple(found)


def first_key(state: State, kind: str) -> str:
    """What a new row shows by itself."""
    if kind == "room":
        chosen = [r.id for r in state.project.rooms if r.id in state.selection.of("room")]
        served = [r.id for r in state.project.rooms if r.system_id == state.show.system_id]
        return (chosen or served or [""])[0]
    if kind == "air system":
        return next((k for k, _ in _places(state) if k.startswith(f"{state.show.system_id}/")), "")
    return ""


def row_card(state: State, found: ListVM) -> CardVM:
    """A row of the state list with all it is made of."""
    units = state.show.units
    at = [r.id for r in found.rows].index(state.selection.ids[0])
    row, a = found.rows[at], found.answers[at]
    inputs = [InputVM(edits.list_row(row.id, "name"), "Name", row.name, "")]
    inputs += _inputs(state, row, units)
    heads, lines = (), ()

    def why(what: str) -> tuple:
        return ("list row", row.id, what, found.at)

    if a.known and a.t == a.t:
        s = air_state(a.t, a.w, 1.0, _pressure(state))
        heads = tuple(
            Headline(n, display.figure(q, v, units), display.unit(q, units), why=why(k))
            for n, q, v, k in (
                ("Dry bulb", "temperature", s.t, "t"),
                ("Water", "humidity_ratio", s.w, "w"),
                ("Enthalpy", "enthalpy", s.h, "h"),
            )
        )
        lines = (
            Line("Relative humidity", f"{s.rh * 100:.1f}", "%", why=why("rh")),
            Line(
                "Wet bulb",
                display.figure("temperature", s.wb, units),
                display.unit("temperature", units),
                why=why("wb"),
            ),
            Line(
                "Dew point",
                display.figure("temperature", s.td, units),
                display.unit("temperature", units),
                why=why("td"),
            ),
            Line(
                "Volume",
                display.figure("specific_volume", s.volume, units),
                display.unit("specific_volume", units),
                why=why("volume"),
            ),
        )
        if a.fog_kg > 0:
            lines += (
                Line(
                    "Fog that falls out",
                    display.figure("humidity_ratio", a.fog_kg, units, 2),
                    display.unit("humidity_ratio", units),
                ),
            )
    if a.known and a.flow_m3s == a.flow_m3s:
        m = a.flow_m3s
        heads = tuple(
            Headline(n, display.figure(q, v, units), display.unit(q, units), why=why(k))
            for n, q, v, k in (
                ("Heat", "load", a.heat_w, "heat_w"),
                ("Sensible", "load", a.sensible_w, "sensible_w"),
                ("Flow", "room_flow", m, "flow_m3s"),
            )
        )
        lines = (
            Line(
                "Water",
                display.figure("moisture_flow", a.water_kg_s, units, 2),
                display.unit("moisture_flow", units),
                why=why("water_kg_s"),
            ),
            Line("Latent", display.figure("load", a.heat_w - a.sensible_w, units), display.unit("load", units)),
            *lines,
        )
    remark = a.reason or a.doubt
    last = found.rows[-1].id if found.rows else ""
    return CardVM(
        "State list",
        row.name,
        remark or next(f"{n.lower()}, {w}" for k, n, w in KINDS if k == row.kind),
        heads,
        (
            Inputs("Made of", "the answer follows at once", tuple(inputs)),
            *((Lines("Figures", "", lines),) if lines else ()),
        ),
        ("Remove this row", edits.remove_row(row.id)) if last else ("", None),
    )


def _inputs(state: State, row: ListRow, units) -> list[InputVM]:
    rows = []
    match row.kind:
        case "state":
            for side in ("a", "b"):
                name, value = getattr(row, side), getattr(row, f"{side}_value")
                other = row.b if side == "a" else row.a
                rows.append(
                    InputVM(
                        edits.list_row(row.id, side),
                        "First is" if side == "a" else "Second is",
                        "",
                        "",
                        choices=tuple(p for p in PROPERTIES if p[0] != other),
                        chosen=name,
                    )
                )
                digits = {"w": 2 if units == "SI" else 1, "v": 4}.get(name)
                rows.append(
                    InputVM(
                        edits.list_row(row.id, f"{side}_value"),
                        dict(PROPERTIES)[name].capitalize(),
                        display.figure(QUANTITIES[name], value, units, digits),
                        display.unit(QUANTITIES[name], units),
                        "plain",
                        QUANTITIES[name],
                    )
                )
        case "outdoor":
            rows.append(
                InputVM(
                    edits.list_row(row.id, "key"),
                    "Day",
                    "",
                    "",
                    choices=(("summer", "warmest hour"), ("winter", "winter design day")),
                    chosen=row.key,
                )
            )
        case "room":
            rows.append(
                InputVM(
                    edits.list_row(row.id, "key"),
                    "Room",
                    "",
                    "",
                    choices=tuple((r.id, f"{r.number} {r.name}") for r in state.project.rooms if r.system_id),
                    chosen=row.key,
                )
            )
        case "air system":
            rows.append(InputVM(edits.list_row(row.id, "key"), "Place", "", "", choices=_places(state), chosen=row.key))
        case _:
            rows += _sources(state, row, units)
    if row.kind == "process":
        rows.append(
            InputVM(
                edits.list_row(row.id, "flow_m3s"),
                "Flow",
                display.figure("room_flow", row.flow_m3s, units),
                display.unit("room_flow", units),
                "plain",
                "room_flow",
            )
        )
    if row.kind == "flow":
        rows.append(
            InputVM(
                edits.list_row(row.id, "load_w"),
                "Sensible load",
                display.figure("load", row.load_w, units),
                display.unit("load", units),
                "plain",
                "load",
            )
        )
    return rows


def _sources(state: State, row: ListRow, units) -> list[InputVM]:
    """Source rows; a mix has a share for each and takes more."""
    choices = tuple(
        (r.id, r.name) for r in state.project.state_list if r.id != row.id and r.kind not in ("difference", "flow")
    )
    labels = {"process": ("From", "To"), "difference": ("From", "To"), "flow": ("Supply air", "Room air")}.get(row.kind)
    rows = []
    count = 2 if labels else len(row.sources) + 1
    for i in range(count):
        source = row.sources[i] if i < len(row.sources) else None
        label = labels[i] if labels else f"Stream {i + 1}" if source else "Add a stream"
        # A row that is gone stays to be seen, and to be taken away.
        gone = (("", "take it out"),) if source and not labels else ()
        known = (
            choices
            if source is None or any(k == source.row for k, _ in choices)
            else (*choices, (source.row, "no source"))
        )
        rows.append(
            InputVM(
                edits.list_source(row.id, i),
                label,
                "",
                "",
                choices=known + gone,
                chosen=source.row if source else "none",
            )
        )
        if source and not labels:
            rows.append(
                InputVM(
                    edits.list_share(row.id, i, source.row),
                    "    its share",
                    display.number(source.share, 3).rstrip("0").rstrip("."),
                    "",
                    "plain",
                    "plain",
                )
            )
    return rows


def on_chart(state: State, found: ListVM) -> tuple[tuple[StateVM, ...], tuple[PathVM, ...]]:
    """States of the list with their names, and a line for every process, mix and difference."""
    units, made, paths = state.show.units, [], []
    at = {r.id: a for r, a in zip(found.rows, found.answers) if a.known and a.t == a.t}

    def xy(a: Answer) -> tuple[float, float]:
        return float(to_shown("temperature", a.t, units)), float(to_shown("humidity_ratio", a.w, units))

    for row, a in zip(found.rows, found.answers):
        if row.id in at and row.kind != "process":
            x, y = xy(a)
            made.append(
                StateVM(
                    0,
                    row.id,
                    row.name,
                    "garnet",
                    x,
                    y,
                    (display.with_unit("temperature", a.t, units), display.with_unit("humidity_ratio", a.w, units)),
                )
            )
        ends = [at[s.row] for s in row.sources if s.row in at]
        if row.kind == "mix" and row.id in at:
            paths += [PathVM("garnet", (xy(e), xy(a))) for e in ends]
        elif len(ends) == 2 and a.known:
            paths.append(PathVM("garnet", (xy(ends[0]), xy(ends[1]))))
    return tuple(made), tuple(paths)
