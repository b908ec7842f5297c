"""Rows of the tables below the plan and charts."""

from dataclasses import dataclass
from functools import lru_cache

from garnetfin import display
from garnetfin.core.tables import room_uses
from garnetfin.engine.flows.flow_results import Flows
from garnetfin.engine.results import NEEDS, DuctResult, FanResult, Missing
from garnetfin.engine.stages.blocks import together
from garnetfin.engine.stages.building import known_as
from garnetfin.project.lookup import Same, find
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.edit import Edit


@dataclass(frozen=True, slots=True)
class Column:
    name: str
    unit: str = ""
    width: int = 70
    left: bool = False
    stretch: bool = False


@dataclass(frozen=True, slots=True)
class Cell:
    """Text with the mark of its origin; `bar` 0..1 draws a bar before the text; `edit` is what typing into it gives."""

    text: str
    origin: str = ""
    tone: str = ""  # "", faint, watch, bad, garnet, strong
    italic: bool = False
    bar: float | None = None
    swing: float | None = None  # -1..1, a bar to either side of a middle line before the text
    edit: Edit | None = None
    quantity: str = ""
    span: bool = False  # spreads to the left over empty cells
    why: tuple = ()  # address of the figure's derivation
    fitting: str = ""  # drawn before the text


@dataclass(frozen=True, slots=True)
class Row:
    kind: str
    id: str
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class TableVM:
    columns: tuple[Column, ...]
    rows: tuple[Row, ...]


def _of_level(state: State, rooms) -> list:
    return [r for r in rooms if not state.show.level_id or r.level_id == state.show.level_id]


def room_table(state: State, served_only: bool = False, this_level: bool = False) -> TableVM:
    """All rooms with their inputs and what comes out of them."""
    units, project, results = state.show.units, state.project, state.found
    columns = (
        Column("No.", width=50, left=True),
        Column("Room", width=92, left=True, stretch=True),
        Column("Use", width=92, left=True),
        Column("Area", display.unit("area", units), 58),
        Column("Ceiling", display.unit("length", units), 64),
        Column("People", "", 54),
        Column("Lights", display.unit("power_density", units), 82),
        Column("Equip.", display.unit("power_density", units), 84),
        Column("Outdoor", display.unit("room_flow", units), 76),
        Column("Cooling", display.unit("power", units), 70),
        Column("Heating", display.unit("power", units), 72),
        Column("Supply", display.unit("room_flow", units), 70),
        Column("Input detail", width=76, left=True),
    )
    rows = []
    for room in _of_level(state, project.rooms) if this_level else project.rooms:
        if served_only and not room.kept:
            continue
        found = results.room(room.id) if results else None
        if found is None:
            missing = results.rooms.get(room.id) if results else None
            reason = missing.remedy if isinstance(missing, Missing) else "computing"
            rows.append(
                Row(
                    "room",
                    room.id,
                    (
                        *_room_head(room),
                        *[Cell("")] * 8,
                        Cell(reason, italic=True, tone="faint", span=True),
                        _known(project, room),
                    ),
                )
            )
        else:
            rows.append(
                _room_row(Same(room), Same(found), Same(results.room_air.get(room.id)), _known(project, room), units)
            )
    return TableVM(columns, tuple(rows))


def _known(project, room) -> Cell:
    return Cell(known_as(project, room).partition(" ")[0], tone="faint")


def _room_head(room) -> tuple[Cell, ...]:
    return (
        Cell(room.number, tone="faint", edit=edits.room_text(room.id, "number")),
        Cell(room.name, edit=edits.room_text(room.id, "name")),
        Cell(room_uses()[room.use_id].name),
    )


@lru_cache(maxsize=4096)
def _room_row(same_room: Same, same_found: Same, same_air: Same, known: Cell, units) -> Row:
    """A room that was computed; remembered, since of a large building an edit changes few."""
    room, found, air = same_room.item, same_found.item, same_air.item
    f = found.figures

    def value(name: str, quantity: str) -> Cell:
        figure = getattr(f, name)
        return Cell(
            display.figure(quantity, figure.figure, units),
            figure.origin if figure.origin == "pinned" else "",
            edit=edits.room_value((room.id,), name),
            quantity=quantity,
        )

    head = (
        *_room_head(room),
        value("area_m2", "area"),
        Cell(display.figure("length", room.ceiling_m, units), edit=edits.ceiling((room.id,)), quantity="length"),
        value("people", "people"),
        value("lights_w_m2", "electric_density"),
        value("equipment_w_m2", "electric_density"),
    )
    if not room.kept:
        return Row(
            "room",
            room.id,
            (
                *head,
                Cell(""),
                Cell(""),
                Cell(""),
                Cell("not served: unconditioned", italic=True, tone="faint", span=True),
                known,
            ),
        )
    return Row(
        "room",
        room.id,
        (
            *head,
            value("outdoor_m3s", "room_flow"),
            Cell(display.figure("power", found.peak_w, units), why=("room", room.id, "cooling")),
            Cell(display.figure("power", found.heating_w, units), why=("room", room.id, "heating")),
            Cell(
                display.figure("room_flow", air.flow_m3s, units) if air and air.flow_m3s else "transfer",
                air.origin if air and air.origin == "pinned" else "",
                tone="" if air and air.flow_m3s else "faint",
                edit=edits.room_value((room.id,), "supply_m3s"),
                quantity="room_flow",
            ),
            known,
        ),
    )


ROLE_NAMES = {"riser": "riser", "trunk": "trunk", "branch": "branch", "last": "runout"}
GROUPS = (("", "None"), ("level", "Level"), ("use", "Use"), ("zone", "Zone"))


def load_table(state: State, sort: tuple[int, bool] = (-1, False), group: str = "") -> TableVM:
    """Loads of all rooms; `sort` = (column, falling), -1 as in the project; `group` heads the rows with their sums."""
    units, project, results = state.show.units, state.project, state.found
    columns = (
        Column("No.", width=50, left=True),
        Column("Room", width=110, left=True, stretch=True),
        Column("Use", width=104, left=True),
        Column("Area", display.unit("area", units), 64),
        Column("Cooling", display.unit("power", units), 84),
        Column("", display.unit("power_density", units), 104),
        Column("Governing hour", "", 118),
        Column("Latent", display.unit("power", units), 76),
        Column("Sun", "%", 54),
        Column("Heating", display.unit("power", units), 84),
        Column("", display.unit("power_density", units), 70),
        Column("Basis", width=78, left=True),
    )
    greatest = (
        max(
            (r.peak_w / r.figures.area_m2.figure for r in results.rooms.values() if not isinstance(r, Missing)),
            default=1.0,
        )
        if results
        else 1.0
    )
    made = []
    for room in project.rooms:
        found = results.room(room.id) if results else None
        made.append((_group_of(project, room, group), *_load_row(state, room, found, max(greatest, 1e-9))))
    column, falling = sort
    if column >= 0:
        # Rooms without a figure stand below all others, whichever way it runs.
        known = sorted((m for m in made if m[1][column] is not None), key=lambda m: m[1][column], reverse=falling)
        made = [*known, *(m for m in made if m[1][column] is None)]
    if not group:
        return TableVM(columns, tuple(row for _, _, row in made))
    rows = []
    for name in dict.fromkeys(m[0] for m in made):
        own = [m for m in made if m[0] == name]
        known = [results.room(m[2].id) for m in own if results and results.room(m[2].id)]
        rows.append(_group_row(name, len(own), [r for r in known if r.kept], units))
        rows += [row for _, _, row in own]
    return TableVM(columns, tuple(rows))


def _group_of(project, room, group: str) -> str:
    if group == "level":
        level = find(project.levels, room.level_id)
        return level.name if level else ""
    if group == "use":
        return room_uses()[room.use_id].name
    if group == "zone":
        zone = find(project.zones, room.zone_id)
        return zone.name if zone else "in no zone"
    return ""


def _group_row(name: str, count: int, known: list, units) -> Row:
    if not known:
        return Row("group", f"group {name}", (Cell(""), Cell(name, tone="strong"), *[Cell("")] * 10))
    block = together(known)
    month, hour = block.peak
    return Row(
        "group",
        f"group {name}",
        (
            Cell(str(count), tone="faint"),
            Cell(name, tone="strong"),
            Cell("together", tone="faint"),
            Cell(display.figure("area", block.area_m2, units), tone="strong", why=("floor of", block.room_ids)),
            Cell(display.figure("power", block.peak_w, units), tone="strong", why=("block", block.room_ids, "cooling")),
            Cell(
                display.figure("power_density", block.peak_w / block.area_m2, units, 0),
                why=("block", block.room_ids, "cooling"),
            ),
            Cell(f"{display.MONTHS[month]} {hour}–{hour + 1} h"),
            Cell(
                display.figure("power", float(block.latent_w[month, hour]), units),
                why=("block", block.room_ids, "latent", month, hour),
            ),
            Cell(""),
            Cell(
                display.figure("power", block.heating_w, units), tone="strong", why=("block", block.room_ids, "heating")
            ),
            Cell(
                display.figure("power_density", block.heating_w / block.area_m2, units, 0),
                why=("block", block.room_ids, "heating"),
            ),
            Cell(""),
        ),
    )


def _load_row(state: State, room, found, greatest: float) -> tuple[tuple, Row]:
    """(what each column is sorted by, the row)."""
    units, project = state.show.units, state.project
    use = room_uses()[room.use_id].name
    known = known_as(project, room).partition(" ")[0]
    head = (Cell(room.number, tone="faint"), Cell(room.name), Cell(use, tone="faint"))
    if found is None or not found.kept:
        nothing = (
            *[Cell("")] * 7,
            Cell(
                f"not served: {display.with_unit('temperature', found.warmest[0], units)} at most"
                if found
                else "not computed",
                italic=True,
                tone="faint",
                span=True,
                why=("room", room.id, "cooling"),
            ),
            Cell(""),
        )
        area = found.figures.area_m2.figure if found else None
        cells = (
            (*head, *nothing)
            if found is None
            else (*head, Cell(display.figure("area", area, units), why=("input", room.id, "area_m2")), *nothing[1:])
        )
        return (room.number, room.name, use, area, *[None] * 7, known), Row("room", room.id, (*cells, Cell(""))[:12])
    area, (month, hour) = found.figures.area_m2.figure, found.peak
    sun = max(0.0, found.cause_w("solar through glass")) / found.peak_w * 100 if found.peak_w > 0 else None
    latent = float(found.latent_w[month, hour])
    why = ("room", room.id, "cooling")
    row = Row(
        "room",
        room.id,
        (
            *head,
            Cell(display.figure("area", area, units), why=("input", room.id, "area_m2")),
            Cell(display.figure("power", found.peak_w, units), why=why),
            Cell(
                display.figure("power_density", found.peak_w / area, units, 0),
                bar=found.peak_w / area / greatest,
                why=why,
            ),
            Cell(f"{display.MONTHS[month]} {hour}–{hour + 1} h", why=why),
            Cell(display.figure("power", latent, units), why=("room", room.id, "latent")),
            Cell(
                f"{sun:.0f}" if sun is not None else display.DASH,
                why=("cause", room.id, "solar through glass", month, hour),
            ),
            Cell(display.figure("power", found.heating_w, units), why=("room", room.id, "heating")),
            Cell(display.figure("power_density", found.heating_w / area, units, 0), why=("room", room.id, "heating")),
            Cell(
                "estimate" if found.estimate else known,
                tone="watch" if found.estimate else "faint",
                italic=bool(found.estimate),
            ),
        ),
    )
    keys = (
        room.number,
        room.name,
        use,
        area,
        found.peak_w,
        found.peak_w / area,
        month * 24.0 + hour,
        latent,
        sun or 0.0,
        found.heating_w,
        found.heating_w / area,
        known,
    )
    return keys, row


def density_rows(state: State, found) -> TableVM:
    """Cooling and heating densities of the project's uses, one column a climate."""
    units = state.show.units
    if found is None or isinstance(found, Missing):
        words = found.remedy if found is not None else "Computing what each use takes in each climate …"
        return TableVM(
            (Column("Early estimate", width=400, left=True, stretch=True),),
            (Row("note", "note", (Cell(words, italic=True),)),),
        )
    columns = (
        Column("Use", width=130, left=True, stretch=True),
        *(Column(name[:16], width=104) for name in found.places),
    )
    rows = tuple(
        Row(
            "use",
            use_id,
            (
                Cell(name),
                *(
                    Cell(
                        f"{display.figure('power_density', c, units, 0)} / "
                        f"{display.figure('power_density', h, units, 0)}",
                        tone="strong" if i == 0 else "",
                    )
                    for i, (c, h) in enumerate(values)
                ),
            ),
        )
        for use_id, name, values in found.rows
    )
    return TableVM(columns, rows)


def flow_table(state: State) -> TableVM:
    """Rooms of the air system: every need and the one that governs."""
    units, project, results = state.show.units, state.project, state.found
    symbol = display.unit("room_flow", units)
    columns = (
        Column("No.", width=54, left=True),
        Column("Room", width=120, left=True, stretch=True),
        Column("Cooling", symbol, 76),
        Column("Latent", symbol, 70),
        Column("Heating", symbol, 76),
        Column("Outdoor", symbol, 80),
        Column("Air ch.", symbol, 72),
        Column("Make-up", symbol, 82),
        Column("Supply air", symbol, 92),
        Column("Governs", "", 86, left=True),
        Column("Per floor", "L/s m²", 94),
    )
    rows = []
    air = results.air.get(state.show.system_id) if results else None
    for row in air.rooms if air is not None and not isinstance(air, Missing) else ():
        room, found = find(project.rooms, row.room_id), results.room(row.room_id)
        rows.append(
            Row(
                "room",
                room.id,
                (
                    Cell(room.number, tone="faint"),
                    Cell(room.name),
                    *(
                        Cell(
                            display.figure("room_flow", n, units) if n < 1e9 else "no flow can",
                            tone="strong" if row.governs == name else "" if name in row.carried else "faint",
                            why=("need", room.id, name),
                        )
                        for n, name in zip(row.needs_m3s, NEEDS)
                    ),
                    Cell(
                        display.figure("room_flow", row.flow_m3s, units),
                        row.origin if row.origin == "pinned" else "",
                        edit=edits.room_value((room.id,), "supply_m3s"),
                        quantity="room_flow",
                        tone="strong",
                        why=("flow", room.id),
                    ),
                    Cell(row.governs, tone="faint" if row.governs == "cooling" else "garnet"),
                    Cell(
                        display.number(row.flow_m3s * 1000 / found.figures.area_m2.figure, 1),
                        why=("per floor", room.id),
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def segment_table(state: State, ducts: DuctResult) -> TableVM:
    units = state.show.units
    columns = (
        Column("Segment", width=60, left=True),
        Column("Role", width=60, left=True),
        Column("Size", display.unit("duct_size", units), 96),
        Column("Flow", display.unit("room_flow", units), 76),
        Column("Length", display.unit("length", units), 76),
        Column("Velocity", display.unit("velocity", units), 84),
        Column("Friction", display.unit("friction", units), 92),
        Column("Fittings", display.unit("pressure", units), 84),
        Column("Loss", display.unit("pressure", units), 72),
        Column("At end", display.unit("pressure", units), 72),
        Column("Duct mass", display.unit("mass", units), 72),
        Column("Class", width=52),
    )
    rows = []
    index = set(ducts.path(ducts.index.segment_id))
    for segment in state.project.segments:
        r = ducts.segments.get(segment.id)
        if r is None:
            continue
        limit = r.friction_limit
        rows.append(
            Row(
                "segment",
                segment.id,
                (
                    Cell(segment.id, tone="garnet" if segment.id in index else "faint"),
                    Cell(ROLE_NAMES[r.role], tone="faint"),
                    Cell(
                        display.size(r.section, units), "pinned" if r.pinned else "", why=("duct", segment.id, "size")
                    ),
                    Cell(display.figure("room_flow", r.flow_m3s, units), why=("duct", segment.id, "flow")),
                    Cell(display.figure("length", r.length_m, units), why=("duct", segment.id, "length")),
                    Cell(
                        display.figure("velocity", r.velocity_m_s, units),
                        tone="watch" if r.velocity_m_s > r.velocity_limit * 1.001 else "",
                        why=("duct", segment.id, "velocity"),
                    ),
                    Cell(
                        display.figure("friction", r.friction_pa_m, units),
                        tone="watch" if r.friction_pa_m > limit * 1.001 else "",
                        why=("duct", segment.id, "friction"),
                    ),
                    Cell(
                        display.figure("fine_pressure", sum(f.pressure_pa for f in r.fittings), units),
                        why=("duct", segment.id, "fittings"),
                    ),
                    Cell(display.figure("fine_pressure", r.loss_pa, units), why=("duct", segment.id, "loss")),
                    Cell(display.figure("fine_pressure", r.left_pa, units), why=("left", segment.id)),
                    Cell(
                        display.figure("mass", r.mass_kg, units, 1),
                        why=("several ducts", ducts.system_id, ducts.air, "mass", (segment.id,)),
                    ),
                    Cell(r.tightness, "pinned" if r.tight_pinned else ""),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def run_table(state: State, ducts: DuctResult) -> TableVM:
    """Terminals by rising surplus: the index run first."""
    units = state.show.units
    pressure = display.unit("pressure", units)
    columns = (
        Column("To", width=58, left=True),
        Column("Room", width=112, left=True, stretch=True),
        Column("", display.unit("room_flow", units), 42),
        Column("Run", pressure, 54),
        Column("Excess pressure", pressure, 84),
        Column("", "blade °", 56),
    )
    greatest = max((t.surplus_pa for t in ducts.terminals), default=1.0) or 1.0
    rows = []
    for t in sorted(ducts.terminals, key=lambda t: (t.surplus_pa, t.label)):
        room = find(state.project.rooms, t.room_id)
        open_blade = t.surplus_pa < 0.05
        angle = "open" if open_blade else display.DASH if t.damper.angle_deg is None else f"{t.damper.angle_deg:.0f}"
        rows.append(
            Row(
                "terminal",
                t.terminal_id,
                (
                    Cell(t.label, tone="garnet" if t is ducts.index else ""),
                    Cell(room.name, tone="faint"),
                    Cell(display.figure("room_flow", t.flow_m3s, units), why=("terminal flow", t.terminal_id)),
                    Cell(display.figure("pressure", t.run_pa, units), why=("run", t.terminal_id)),
                    Cell(
                        display.figure("pressure", t.surplus_pa, units),
                        bar=t.surplus_pa / greatest,
                        why=("surplus", t.terminal_id),
                    ),
                    Cell(
                        angle,
                        tone="garnet"
                        if open_blade
                        else "watch"
                        if t.damper.angle_deg is None or t.damper.angle_deg > 55
                        else "",
                        why=("damper", t.segment_id),
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def fan_table(state: State, fan: FanResult) -> TableVM:
    """Candidates by power with what is left to stall and to their greatest speed; then those that cannot, with how far
    off they are.
    """
    units = state.show.units
    columns = (
        Column("", width=34, left=True),
        Column("Fan", width=160, left=True, stretch=True),
        Column("Electric power", display.unit("shaft_power", units), 150),
        Column("Efficiency", "%", 80),
        Column("Speed", "rpm", 70),
        Column("Reserve", "%", 72),
        Column("Stall margin", "%", 104),
        Column("Tip", display.unit("velocity", units), 60),
        Column("Sound", "dB", 62),
        Column("Specific", "kW/(m³/s)", 106),
    )
    able = [c for c in fan.candidates if c.point]
    greatest = max((c.point.electric_w for c in able), default=1.0)
    rows = []
    for place, c in enumerate(fan.candidates, 1):
        name = f"{c.kind.replace('-', ' ').capitalize()} {display.size_of_wheel(c.wheel_m, units)}, {c.fan_id}"
        if c.point is None:
            rows.append(
                Row(
                    "fan",
                    c.fan_id,
                    (
                        Cell("–", tone="faint"),
                        Cell(name, tone="faint"),
                        *[Cell("")] * 7,
                        Cell(c.reason, italic=True, tone="faint", span=True),
                    ),
                )
            )
            continue

        def cell(what: str, text: str, bar: float | None = None, fan_id: str = c.fan_id) -> Cell:
            return Cell(text, bar=bar, why=("candidate", fan.system_id, fan_id, what, fan.way))

        rows.append(
            Row(
                "fan",
                c.fan_id,
                (
                    Cell(str(place), tone="faint"),
                    Cell(name),
                    cell(
                        "power", display.figure("shaft_power", c.point.electric_w, units), c.point.electric_w / greatest
                    ),
                    cell("efficiency", f"{c.point.efficiency * 100:.0f}"),
                    cell("speed", f"{c.speed_rpm:.0f}"),
                    cell("reserve", f"{c.reserve * 100:.0f}"),
                    cell("stall", f"{c.point.from_stall * 100:.0f}", c.point.from_stall),
                    cell("tip", display.figure("velocity", c.tip_m_s, units, 0)),
                    cell("sound", f"{c.point.sound_db:.0f}"),
                    cell("specific", display.figure("specific_fan_power", c.point.specific_w_m3s, units)),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def state_table(state: State, states: tuple[Flows, ...]) -> TableVM:
    """The fan's operating point in every state of its system."""
    units = state.show.units
    columns = (
        Column("What if", width=200, left=True, stretch=True),
        Column("Flow", display.unit("system_flow", units), 90),
        Column("Pressure", display.unit("pressure", units), 90),
        Column("Electric", display.unit("shaft_power", units), 90),
        Column("Efficiency", "%", 84),
        Column("Stall margin", "%", 88),
        Column("Specific", "kW/(m³/s)", 106),
        Column("Furthest terminal", "%", 116),
        Column("Rooms short", width=92),
    )
    rows = []
    for i, f in enumerate(states):
        d = f.fan
        rows.append(
            Row(
                "state",
                str(i),
                (
                    Cell(f.what.words, tone="strong" if f.what == state.show.what else ""),
                    Cell(display.figure("system_flow", f.fan_m3s, units)),
                    Cell(display.figure("pressure", f.fan_pa, units)),
                    *(
                        (
                            Cell(display.figure("shaft_power", d.electric_w, units)),
                            Cell(f"{d.efficiency * 100:.0f}"),
                            Cell(f"{d.from_stall * 100:.0f}", tone="bad" if d.from_stall < 0.1 else ""),
                            Cell(display.figure("specific_fan_power", d.specific_w_m3s, units)),
                        )
                        if d
                        else (Cell(display.DASH),) * 4
                    ),
                    Cell(f"±{f.spread * 100:.0f}"),
                    Cell(str(sum(bool(r.short) for r in f.rooms)) or display.DASH),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def room_flows(state: State, flows: Flows, ducts: DuctResult) -> TableVM:
    """What each terminal gets with this fan at its speed, from the network."""
    units = state.show.units
    symbol = display.unit("room_flow", units)
    columns = (
        Column("To", width=70, left=True),
        Column("Room", width=160, left=True, stretch=True),
        Column("Design", symbol, 110),
        Column("With this fan", symbol, 130),
        Column("Difference", "%", 140),
    )
    rows = []
    for t in ducts.terminals:
        off = flows.ratio(t.terminal_id) - 1 if t.terminal_id in flows.terminals else float("nan")
        rows.append(
            Row(
                "terminal",
                t.terminal_id,
                (
                    Cell(t.label),
                    Cell(find(state.project.rooms, t.room_id).name, tone="faint"),
                    Cell(display.figure("room_flow", t.flow_m3s, units)),
                    Cell(display.figure("room_flow", flows.terminals.get(t.terminal_id, float("nan")), units)),
                    Cell(
                        display.signed(off * 100, 0) or "0",
                        swing=max(-1.0, min(1.0, off * 2)) if off == off else None,
                        tone="watch" if abs(off) > 0.05 else "",
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))
