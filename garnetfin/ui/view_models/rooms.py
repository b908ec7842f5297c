"""Cards of rooms, openings and blocks of rooms; the room table."""

from dataclasses import replace
from math import isfinite

from garnetfin import display
from garnetfin.core.tables import glass_types, people_heat, profiles, room_uses
from garnetfin.core.units import System
from garnetfin.engine.resolve import Figure, assumption, use_in_force
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Block, Missing, Results, RoomResult
from garnetfin.engine.stages.blocks import block_of
from garnetfin.engine.stages.building import known_as
from garnetfin.project.book import ASSUMPTIONS
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Room
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models.card import (
    BarLine,
    CardVM,
    CauseBars,
    DayLine,
    FindingsVM,
    Headline,
    Inputs,
    InputVM,
    Line,
    Lines,
    input_row,
    one_choice,
)
from garnetfin.ui.view_models.room_air import BOOK, DUCT_BOOK, air_sections

# (field, label, quantity) of the inputs of a room, in the order of the card.
ROOM_INPUTS = (
    ("cooling_c", "Set-point, cooling", "temperature"),
    ("heating_c", "Set-point, heating", "temperature"),
    ("people", "People", "count"),
    ("lights_w_m2", "Lights", "power_density"),
    ("equipment_w_m2", "Equipment", "power_density"),
    ("area_m2", "Floor area", "area"),
    ("infiltration_1h", "Infiltration", "air_change"),
)
USE_INPUTS = (
    ("people_area_m2", "Floor each person", "area"),
    ("moisture_w", "Moisture, latent", "load"),
    ("cooling_limit_w", "Cooling at most", "load"),
    ("heating_limit_w", "Heating at most", "load"),
)

# Families of uses that share a fill on the plan.
FAMILIES = {
    "gathering": (
        "Gathering",
        {
            "meeting",
            "classroom",
            "lecture",
            "restaurant",
            "canteen",
            "bar",
            "auditorium",
            "worship",
            "museum",
            "library",
            "kindergarten",
        },
    ),
    "work": ("Work", {"office_open", "office_single", "call_centre", "computer_room", "retail", "supermarket"}),
    "laboratory": ("Laboratory", {"laboratory"}),
    "wet": ("Wet", {"locker", "toilet"}),
    "stores": ("Stores, ways", {"corridor", "storage", "reception", "server"}),
    "sleep": ("Sleep, live", {"hotel_room", "dwelling_living"}),
    "workshop": ("Workshop, kitchen", {"kitchen", "workshop", "gym", "sports_hall"}),
}


def family(use_id: str) -> str:
    return next((key for key, (_, uses) in FAMILIES.items() if use_id in uses), "stores")


def _inputs(rooms: list[Room], found: list[RoomResult], names: tuple, units: System) -> tuple[InputVM, ...]:
    ids = tuple(r.id for r in rooms)
    rows = []
    for name, label, quantity in names:
        figures = [getattr(r.figures, name) for r in found]
        several = len({(round(f.figure, 9), f.origin) for f in figures}) > 1
        rows.append(input_row(figures[0], ("room", ids, name), label, quantity, units, several))
    return tuple(rows)


def findings_section(results: Results, kind: str, ids: tuple[str, ...], link: str = "") -> tuple[FindingsVM, ...]:
    own = tuple(f for f in results.findings if f.kind == kind and f.object_id in ids)
    own = own or tuple(f for f in results.findings if link and f.link == link)[:2]
    if not own:
        return ()
    return (FindingsVM("Finding" if len(own) == 1 else "Findings", f"{len(own)} of {len(results.findings)}", own[:3]),)


def room_card(state: State) -> CardVM:
    """Card of the selected rooms; a mixed value reads “several”."""
    project, results, units = state.project, state.results, state.show.units
    rooms = [r for r in (find(project.rooms, i) for i in state.selection.ids) if r is not None]
    found = [results.room(r.id) for r in rooms if results.room(r.id)]
    if not found:
        missing = results.rooms.get(rooms[0].id) if rooms else None
        reason = missing.remedy if isinstance(missing, Missing) else "computing"
        return CardVM(
            "Room",
            rooms[0].name if rooms else "Room",
            reason,
            (),
            findings_section(results, "room", tuple(r.id for r in rooms)),
        )
    one = rooms[0] if len(rooms) == 1 else None
    ids = tuple(r.id for r in rooms)
    area = sum(r.figures.area_m2.figure for r in found)
    level = find(project.levels, rooms[0].level_id)
    if one:
        line = (
            f"{display.with_unit('area', area, units)} · {display.with_unit('length', one.ceiling_m, units)} ceiling · "
            f"{display.with_unit('volume', found[0].volume_m3, units)}"
        )
        kind, title = f"Room {one.number} · {level.name}", one.name
    else:
        kind, title, line = "Rooms", f"{len(rooms)} rooms", display.with_unit("area", area, units)
    shown = _inputs(rooms, found, ROOM_INPUTS, units)
    uses = {r.use_id for r in rooms}
    use = InputVM(
        ("room use", ids, "use_id"),
        "Use",
        room_uses()[rooms[0].use_id].name if len(uses) == 1 else "several",
        "",
        "plain",
        choices=tuple((u.id, u.name) for u in room_uses().values()),
        chosen=rooms[0].use_id if len(uses) == 1 else "",
    )
    served = one_choice(
        rooms,
        "room served",
        "system_id",
        "Air system",
        (("", "none, unheated"), *((s.id, s.name) for s in project.air_systems)),
    )
    zone = one_choice(rooms, "room zone", "zone_id", "Zone", (("", "none"), *((z.id, z.name) for z in project.zones)))
    on_level = one_choice(rooms, "room level", "level_id", "Level", tuple((x.id, x.name) for x in project.levels))
    ceilings = {r.ceiling_m for r in rooms}
    ceiling = InputVM(
        ("ceiling", ids, "ceiling_m"),
        "Ceiling height",
        display.figure("length", rooms[0].ceiling_m, units) if len(ceilings) == 1 else "several",
        display.unit("length", units),
        "plain",
        "length",
    )
    pinned = sum(r.origin == "pinned" for r in shown)
    by_rule = sum(r.origin == "rule" for r in shown)
    sections: list = []
    link = state.show.link
    if link == "Air":
        sections += air_sections(state, rooms, found)
    if link == "Loads":
        against = (
            against_lines(state, block_of(results, [r.room_id for r in found])) if any(r.kept for r in found) else None
        )
        if against is not None:
            sections.append(against)
        if any(r.system_id for r in rooms):
            sections.append(cause_bars(results, ids, units, state.show.hour))
        if one and found[0].estimate is not None:
            sections.append(_estimate(found[0], units))
    sections.append(
        Inputs(
            "Inside",
            f"{by_rule} by rule · {pinned} pinned",
            (use, *shown, ceiling, served, zone, *((on_level,) if link == "Building" else ())),
        )
    )
    if link == "Loads":
        sections.append(
            Inputs(
                "Use and plant",
                found[0].figures.profile.name,
                (*_use_choices(state, rooms), *_inputs(rooms, found, USE_INPUTS, units), _void(rooms, units)),
            )
        )
        if one and found[0].kept:
            sections.append(_plant(found[0], units))
        if len(uses) == 1:
            sections.append(_use_book(state, rooms[0].use_id))
    if one and link == "Building":
        sections.append(_faces(project, found[0], units))
        sections.append(_measured(state, one, found[0]))
    # A broken input is worth more than the shape of the day, so findings come first.
    sections += findings_section(results, "room", ids)
    if one and not found[0].kept:
        warm, month, hour = found[0].warmest
        sections.append(
            DayLine(
                "Air without plant",
                f"21 {display.MONTHS[month]}",
                tuple(display.to_shown("temperature", float(v), units) for v in found[0].air_c[month]),
                hour,
                display.with_unit("temperature", warm, units),
                tuple(("air in", one.id, month, h) for h in range(24)),
            )
        )
    elif one:
        month, _ = found[0].peak
        sections.append(
            DayLine(
                "Day of the peak",
                f"cooling, 21 {display.MONTHS[month]}",
                tuple(float(v) for v in found[0].sensible_w[month]),
                found[0].peak[1],
                display.with_unit("load", found[0].peak_w, units),
                tuple(("room", one.id, "cooling", month, h) for h in range(24)),
            )
        )
    pins = sum(r.figures.pinned for r in found)
    foot = (
        (f"{pins} pinned value{'s' if pins > 1 else ''} here · unpin all", ("room unpin", ids, ""))
        if pins
        else ("", ())
    )
    return CardVM(kind, title, line, _room_headlines(results, rooms, found, units), tuple(sections), foot)


def _room_headlines(
    results: Results, rooms: list[Room], found: list[RoomResult], units: System
) -> tuple[Headline, ...]:
    block = block_of(results, [r.room_id for r in found])
    total, peak, heating = block.sensible_w, block.peak, block.heating_w
    winter = results.climate.figures.winter_c.figure
    supplied = [results.room_air[r.id] for r in rooms if r.id in results.room_air]
    cooling = Headline(
        "Cooling",
        display.figure("load", float(total[peak]), units),
        display.unit("load", units),
        f"{display.MONTHS[peak[0]]} {peak[1]}–{peak[1] + 1} h",
    )
    warm = sum(r.warm_up_w for r in found) >= heating > 0
    heat = Headline(
        "Heating",
        display.figure("load", heating, units),
        display.unit("load", units),
        "warm-up governs" if warm else f"at {display.with_unit('temperature', winter, units, 0)}",
    )
    if not any(r.kept for r in found):
        warm, month, hour = max((r.warmest for r in found), key=lambda w: w[0])
        return (
            Headline(
                "Warmest",
                display.figure("temperature", warm, units),
                display.unit("temperature", units),
                f"{display.MONTHS[month]} {hour}–{hour + 1} h",
                why=("room", found[0].room_id, "cooling"),
            ),
            Headline(
                "Winter",
                display.figure("temperature", min(r.winter_c for r in found), units),
                display.unit("temperature", units),
                "not served: no plant",
                why=("winter", min(found, key=lambda r: r.winter_c).room_id),
            ),
        )
    if block.estimated:
        cooling = replace(
            cooling,
            reason=f"likely {display.figure('load', block.low_w, units)}"
            f"..{display.figure('load', block.high_w, units)}",
            tone="watch",
        )
    ids = tuple(r.room_id for r in found)
    cooling, heat = replace(cooling, why=("block", ids, "cooling")), replace(heat, why=("block", ids, "heating"))
    air = Headline(
        "Supply air",
        display.figure("room_flow", sum(a.flow_m3s for a in supplied), units),
        display.unit("room_flow", units),
        (
            f"{supplied[0].governs} governs"
            if supplied[0].governs in ("cooling", "heating", "outdoor air", "air change")
            else supplied[0].governs
        )
        if len(supplied) == 1
        else "together",
        why=("flow", supplied[0].room_id)
        if len(supplied) == 1
        else ("flows of", tuple(a.room_id for a in supplied))
        if supplied
        else (),
    )
    return (cooling, heat, air)


def _measured(state: State, room: Room, result: RoomResult) -> Lines:
    """Floor and volume on wall centre lines and net, and which of them counts; how well the room is known."""
    f, units = result.figures, state.show.units
    used = "given" if f.area_m2.origin != "rule" else "net" if state.project.area_basis == "net" else "centre"

    def row(name: str, key: str, area: float) -> Line:
        return Line(
            f"{name}{' · used' if used == key else ''}",
            f"{display.figure('area', area, units)} / {display.figure('volume', area * room.ceiling_m, units)}",
            strong=used == key,
            why=("input", room.id, "area_m2") if key == "given" else ("measured", room.id, key),
        )

    rows = (row("Wall centres", "centre", f.centre_m2), row("Net, between walls", "net", f.net_m2))
    if used == "given":
        rows += (row(f.area_m2.origin.capitalize(), "given", f.area_m2.figure),)
    return Lines(
        "Measured",
        f"{display.unit('area', units)} / {display.unit('volume', units)}",
        (*rows, Line("Known as", known_as(state.project, room))),
    )


def _faces(project, result: RoomResult, units: System) -> Lines:
    """Faces to outdoors, ground and unheated rooms, alike openings counted together."""
    grouped: dict[tuple, list] = {}
    for i, face in enumerate(result.faces):
        if face.to == "inside":
            continue
        lead = (
            "Above"
            if face.kind in ("roof", "ceiling")
            else "Below"
            if face.kind == "floor"
            else ("Beside" if face.to.startswith(("unheated", "room:")) else display.direction(face.azimuth_deg))
        )
        grouped.setdefault((lead, face.kind, face.name, round(face.u_w_m2k, 4)), []).append(i)
    rows = []
    for (lead, kind, name, u), which in sorted(
        grouped.items(), key=lambda kv: -sum(result.faces[i].area_m2 for i in kv[1])
    ):
        faces, count = [result.faces[i] for i in which], len(which)
        label = f"{count} {kind}s" if count > 1 and faces[0].opening_id else kind if faces[0].opening_id else name
        target = ("opening", f"{faces[0].wall_id}/{faces[0].opening_id}") if faces[0].opening_id else ("", "")
        rows.append(
            Line(
                label,
                display.figure("area", sum(f.area_m2 for f in faces), units),
                display.figure("u_value", u, units),
                lead=lead,
                target=target,
                why=("faces", result.room_id, tuple(which)),
            )
        )
    return Lines("Faces", f"{display.unit('area', units)}   U {display.unit('u_value', units)}", tuple(rows[:9]))


def cause_bars(
    results: Results, room_ids: tuple[str, ...], units: System, at: tuple[int, int] | None = None
) -> CauseBars:
    """Causes in order of weight, heating to the left, cooling to the right, at the rooms' worst hour or another."""
    block = block_of(results, room_ids)
    by_cause, total = block.by_cause_w, block.sensible_w
    month, hour = at or block.peak
    cooling = {name: float(by_cause[i, month, hour]) for i, name in enumerate(CAUSES)}
    heating = {name: float(block.heating_by_cause_w[i]) for i, name in enumerate(HEATING_CAUSES)}
    names = sorted({*cooling, *heating}, key=lambda n: -max(abs(cooling.get(n, 0.0)), heating.get(n, 0.0)))
    # A cause that takes heat out at this hour helps cooling; it stands on the heating side with its own sign.
    rows = [(n, heating.get(n, 0.0), cooling.get(n, 0.0)) for n in names]
    rows = [r for r in rows if max(abs(r[1]), abs(r[2])) > 0.5]
    greatest = max((max(abs(h), abs(c)) for _, h, c in rows), default=1.0)

    def show(w: float) -> str:
        return display.figure("load", w, units, 2 if greatest < 5000 else 1) if abs(w) >= 5 else ""

    return CauseBars(
        "Causes",
        f"heating {display.unit('load', units)} cooling",
        tuple(
            BarLine(
                n.capitalize(),
                h / greatest,
                c / greatest,
                show(h),
                show(c),
                ("block heating", tuple(room_ids), n) if n in HEATING_CAUSES else (),
                ("block cause", tuple(room_ids), n, month, hour) if n in CAUSES else (),
            )
            for n, h, c in rows[:10]
        ),
        display.with_unit("load", sum(heating.values()), units),
        display.with_unit("load", float(total[month, hour]), units),
    )


def against_lines(state: State, block: Block) -> Lines | None:
    """What changed against the mark: load, heating, and the causes that moved most."""
    other, units = state.against_block(block.room_ids), state.show.units
    if other is None:
        return None

    def change(now: float, then: float) -> str:
        return ("+" if now - then > 0 else "") + display.figure("load", now - then, units)

    unit = display.unit("load", units)
    rows = [
        Line(
            "Cooling",
            f"{display.figure('load', other.peak_w, units)} → {display.figure('load', block.peak_w, units)}",
            unit,
            strong=True,
        ),
        Line(
            "Heating",
            f"{display.figure('load', other.heating_w, units)} → {display.figure('load', block.heating_w, units)}",
            unit,
        ),
    ]
    m, h = block.peak
    m0, h0 = other.peak
    moved = sorted(
        ((c, float(block.by_cause_w[i, m, h]), float(other.by_cause_w[i, m0, h0])) for i, c in enumerate(CAUSES)),
        key=lambda x: -abs(x[1] - x[2]),
    )
    rows += [Line(f"of it {c}", change(a, b), unit) for c, a, b in moved[:4] if abs(a - b) >= 5]
    return Lines("Since the mark", state.against_name, tuple(rows))


def _use_choices(state: State, rooms: list[Room]) -> tuple[InputVM, ...]:
    """Profile and activity, each by the use unless chosen."""
    own = tuple((p.id, p.name) for p in state.project.book.profiles)
    kinds = (
        ("profile_id", "Profile", (*own, *((k, k) for k in profiles()))),
        ("activity", "People are", tuple((k, k) for k in people_heat())),
    )
    made = []
    for field, label, choices in kinds:
        values = {getattr(r, field) for r in rooms}
        made.append(
            InputVM(
                ("room choice", tuple(r.id for r in rooms), field),
                label,
                "",
                "",
                "plain",
                choices=(("", "as the use has it"), *choices),
                chosen=values.pop() if len(values) == 1 else "several",
            )
        )
    return tuple(made)


USE_BOOK = (
    ("people_m2", "People each m²", "plain"),
    ("lights_w_m2", "Lights", "power_density"),
    ("equipment_w_m2", "Equipment", "power_density"),
    ("cooling_c", "Set-point, cooling", "temperature"),
    ("heating_c", "Set-point, heating", "temperature"),
    ("air_person_m3s", "Outdoor air, person", "room_flow"),
)


def _use_book(state: State, use_id: str) -> Inputs:
    """The use as the office has it; a changed figure moves every room of the use that is by rule."""
    book, units = state.project.book, state.show.units
    ships, now = room_uses()[use_id], use_in_force(book, use_id)
    changed = {c.field for c in book.uses if c.use_id == use_id}
    rows = tuple(
        input_row(
            Figure(
                getattr(now, f),
                "pinned" if f in changed else "rule",
                getattr(ships, f),
                "the office's own" if f in changed else ships.source,
            ),
            ("use figure", (use_id,), f),
            label,
            quantity,
            units,
            digits=3 if f == "people_m2" else None,
        )
        for f, label, quantity in USE_BOOK
    )
    return Inputs(f"Every {ships.name.lower()}"[:34], "office book", rows)


def _void(rooms: list[Room], units: System) -> InputVM:
    heights = {r.plenum_m for r in rooms}
    return InputVM(
        ("void", tuple(r.id for r in rooms), "plenum_m"),
        "Void over ceiling",
        display.figure("length", rooms[0].plenum_m, units) if len(heights) == 1 else "several",
        display.unit("length", units),
        "plain",
        "length",
        tip="above 0: return air passes the void, and takes part of roof and lights with it",
    )


def _plant(found: RoomResult, units: System) -> Lines:
    """What the plant does in the room: hours, start-up, what a limit leads to."""
    f = found.figures
    on = [h for h in range(24) if found.counted[h]]
    hours = "around the clock" if len(on) == 24 else f"{on[0]}–{on[-1] + 1} h" if on else "never"
    rows = [Line("Load is looked for", hours)]
    if found.start_up_w > 0:
        reached = f"by {found.reached_h} h" if 0 <= found.reached_h < 24 else "too late"
        rows.append(
            Line(
                f"Start-up need, there {reached}",
                display.figure("load", found.start_up_w, units),
                display.unit("load", units),
            )
        )
    if found.warm_up_w > 0:
        rows.append(Line("Warm-up need", display.figure("load", found.warm_up_w, units), display.unit("load", units)))
    if isfinite(f.cooling_limit_w.figure):
        warm, month, hour = found.warmest
        rows.append(
            Line(
                f"Warmest with that limit, {display.MONTHS[month]} {hour} h",
                display.figure("temperature", warm, units),
                display.unit("temperature", units),
            )
        )
        rows.append(Line("Design hours too warm", str(found.short_hours), "h"))
    if found.void_c is not None:
        rows.append(
            Line(
                "Air in the void then",
                display.figure("temperature", float(found.void_c[found.peak]), units),
                display.unit("temperature", units),
            )
        )
        rows.append(
            Line(
                "Return gain, on the coil",
                display.figure("load", float(found.return_gain_w[found.peak]), units),
                display.unit("load", units),
            )
        )
    star = float(found.star_c[found.peak])
    rows.append(
        Line(
            "Mean radiant temperature then",
            display.figure("temperature", star, units),
            display.unit("temperature", units),
            why=("radiant", found.room_id, *found.peak),
        )
    )
    rows.append(
        Line(
            "Heating from the balance",
            display.figure("load", found.heating_balanced_w, units),
            display.unit("load", units),
            why=("room", found.room_id, "heating"),
        )
    )
    return Lines("Plant", "", tuple(rows))


def _estimate(found: RoomResult, units: System) -> Lines:
    e = found.estimate
    return Lines(
        "Early estimate",
        display.unit("power_density", units),
        (
            Line(
                "Cooling",
                display.figure("power_density", e.cooling_w_m2, units, 0),
                strong=True,
                why=("room", found.room_id, "cooling"),
            ),
            Line(
                "likely",
                f"{display.figure('power_density', e.low_w_m2, units, 0)} to "
                f"{display.figure('power_density', e.high_w_m2, units, 0)}",
            ),
            Line(
                "at the corners",
                f"{display.figure('power_density', e.least_w_m2, units, 0)} to "
                f"{display.figure('power_density', e.most_w_m2, units, 0)}",
            ),
            Line(
                "Heating",
                f"{display.figure('power_density', e.heating_low_w_m2, units, 0)} to "
                f"{display.figure('power_density', e.heating_high_w_m2, units, 0)}",
            ),
        ),
    )


OPERATION_ROWS = (("lead_h", "Starts before use", "hours"), ("from_h", "From", "hours"), ("to_h", "To", "hours"))


def operation_inputs(owner: str, operation, units: System, zone: bool = False) -> tuple[InputVM, ...]:
    """When the plant runs; only what the chosen mode reads is shown."""
    mode = operation.mode if operation is not None else ""
    modes = (("always", "around the clock"), ("use", "while rooms are used"), ("hours", "between two hours"))
    rows = [
        InputVM(
            ("operation", (owner,), "mode"),
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
        InputVM(("operation", (owner,), f), label, str(getattr(operation, f)), "h", "plain", q)
        for f, label, q in OPERATION_ROWS
        if f in wanted
    ]
    for field, label in (("night_cooling_c", "Cooling at night"), ("night_heating_c", "Heating at night")):
        value = getattr(operation, field)
        off = isinstance(value, Rule)
        rows.append(
            InputVM(
                ("operation", (owner,), field),
                label,
                "off" if off else display.figure("temperature", value.value, units),
                display.unit("temperature", units),
                "rule" if off else "pinned",
                "temperature",
                tip="by rule the plant is off; a temperature holds it at night",
            )
        )
    return tuple(rows)


def _operation(state: State) -> Inputs:
    system = state.system
    if system is None:
        return Inputs("Plant", "no air system", ())
    return Inputs("Plant", system.name, operation_inputs(system.id, system.operation, state.show.units))


def assumptions(state: State) -> Inputs:
    """The office book's assumptions; a changed one moves all that is by rule."""
    book, units = state.project.book, state.show.units
    rows = tuple(
        input_row(assumption(book, name), ("book", (), name), label, quantity, units)
        for name, (_, quantity, _, _, label) in ASSUMPTIONS.items()
        if name not in (*BOOK, *DUCT_BOOK)
    )
    return Inputs("Assumptions", "office book", rows)


def block_card(state: State, block: Block | Missing, title: str) -> CardVM:
    results, units = state.results, state.show.units
    if isinstance(block, Missing):
        return CardVM("Loads", title, block.remedy)
    month, hour = block.peak
    at = state.show.hour or block.peak
    ids = block.room_ids
    rows = (
        Headline(
            "Cooling",
            display.figure("load", block.peak_w, units, 1),
            display.unit("load", units),
            f"likely {display.figure('load', block.low_w, units, 0)}..{display.figure('load', block.high_w, units, 0)}"
            if block.estimated
            else f"{display.MONTHS[month]} {hour}–{hour + 1} h",
            why=("block", ids, "cooling"),
        ),
        Headline(
            "Heating",
            display.figure("load", block.heating_w, units, 1),
            display.unit("load", units),
            f"at {display.with_unit('temperature', results.climate.figures.winter_c.figure, units, 0)}",
            why=("block", ids, "heating"),
        ),
        Headline(
            "Diversity",
            f"{block.peak_w / block.sum_of_peaks_w * 100:.0f}",
            "%",
            "of room peaks",
            why=("diversity", ids),
        ),
    )
    latent = float(block.latent_w[at])
    lines = Lines(
        "Together",
        display.hour(*at),
        (
            Line(
                "Rooms, sensible",
                display.figure("load", float(block.sensible_w[at]), units),
                display.unit("load", units),
                why=("block", ids, "cooling", *at),
            ),
            Line(
                "Rooms, latent",
                display.figure("load", latent, units),
                display.unit("load", units),
                why=("block", ids, "latent", *at),
            ),
            Line(
                "Sum of room peaks",
                display.figure("load", block.sum_of_peaks_w, units),
                display.unit("load", units),
                why=("peaks", ids),
            ),
        ),
    )
    drifting = [(r, results.room(r.id)) for r in state.project.rooms if not r.system_id]
    no_load = tuple(
        Line(
            f"{r.number} {r.name}",
            f"to {display.figure('temperature', x.warmest[0], units)}" if x else "open",
            display.unit("temperature", units) if x else "",
            target=("room", r.id),
            why=("room", r.id, "cooling"),
        )
        for r, x in drifting
    )
    sections = [cause_bars(results, block.room_ids, units, at), lines]
    if no_load:
        sections.append(Lines("No plant, warmest air", f"{len(no_load)} rooms", no_load[:4]))
    against = against_lines(state, block)
    if against is not None:
        sections.insert(0, against)
    sections += [_operation(state), assumptions(state)]
    sections += findings_section(results, "", (), "Loads")
    count = len(block.room_ids)
    return CardVM(
        "Rooms at their common worst hour", title, f"{count} room{'s' if count != 1 else ''}", rows, tuple(sections)
    )


GLASS_ROWS = (
    ("u_w_m2k", "U-value, whole", "u_value"),
    ("g", "Sun factor g", "plain"),
    ("tau_e", "Transmittance", "plain"),
    ("frame_share", "Share of frame", "fraction"),
    ("frame_u_w_m2k", "U-value of frame", "u_value"),
)
SHADE_ROWS = (("tau", "Lets through", "fraction"), ("rho", "Reflects", "fraction"))


def _glazing(state: State, glazing) -> list[Inputs]:
    """The glazing that all its windows share, and its shade with the rule that closes it."""
    units, project = state.show.units, state.project
    count = sum(o.glazing_id == glazing.id for w in project.walls for o in w.openings)
    rows = [InputVM(("glazing value", (glazing.id,), "name"), "Name", glazing.name, "", "plain")]
    rows += [
        InputVM(
            ("glazing value", (glazing.id,), f),
            label,
            display.figure(q, getattr(glazing, f), units),
            display.unit(q, units),
            "plain",
            q,
            tip=glazing.source,
        )
        for f, label, q in GLASS_ROWS
    ]
    rows.append(
        InputVM(
            ("add glazing", (), ""),
            "Add another",
            "",
            "",
            "plain",
            choices=(("", "from the library …"), *((g.id, g.name) for g in glass_types().values())),
            chosen="",
        )
    )
    shade = glazing.shade
    kinds = (("", "none"), ("inside", "inside blind"), ("outside", "outside blind"))
    blinds = [
        InputVM(
            ("shade", (glazing.id,), "kind"),
            "Shade",
            "",
            "",
            "plain",
            choices=kinds,
            chosen="" if shade is None else "outside" if shade.outside else "inside",
        )
    ]
    if shade is not None:
        blinds += [
            InputVM(
                ("shade", (glazing.id,), f),
                label,
                display.figure(q, getattr(shade, f), units),
                display.unit(q, units),
                "plain",
                q,
            )
            for f, label, q in SHADE_ROWS
        ]
        blinds.append(
            InputVM(
                ("shade", (glazing.id,), "rule"),
                "Closed",
                "",
                "",
                "plain",
                choices=(
                    ("sun", "with sun on the face"),
                    ("always", "always"),
                    ("never", "never"),
                    ("hours", "between two hours"),
                ),
                chosen=shade.rule,
            )
        )
        if shade.rule == "sun":
            blinds.append(
                InputVM(
                    ("shade", (glazing.id,), "limit_w_m2"),
                    "Sun above",
                    display.figure("irradiance", shade.limit_w_m2, units),
                    display.unit("irradiance", units),
                    "plain",
                    "irradiance",
                )
            )
        if shade.rule == "hours":
            blinds += [
                InputVM(("shade", (glazing.id,), f), label, str(getattr(shade, f)), "h", "plain", "hours")
                for f, label in (("from_h", "From"), ("to_h", "To"))
            ]
    return [
        Inputs("Glazing", f"{count} window{'s' if count != 1 else ''} share it", tuple(rows)),
        Inputs("Shade", "blind or screen", tuple(blinds)),
    ]


def opening_card(state: State) -> CardVM:
    """A window or door: measures, glazing, and what it does to its room."""
    project, results, units = state.project, state.results, state.show.units
    wall_id, _, opening_id = state.selection.ids[0].partition("/")
    wall = find(project.walls, wall_id)
    opening = next((o for o in wall.openings if o.id == opening_id), None) if wall else None
    if opening is None:
        return CardVM("Opening", "Gone", "It is no longer in the project")
    room = find(project.rooms, wall.room_a)
    place = display.direction(wall.facing_deg) if wall.outside else "inside"
    ids = (wall_id, opening_id)

    def measure(name: str, label: str) -> InputVM:
        return InputVM(
            ("opening", ids, name),
            label,
            display.figure("length", getattr(opening, name), units),
            display.unit("length", units),
            "plain",
            "length",
        )

    rows = [
        measure("width_m", "Width"),
        measure("sill_m", "Sill"),
        measure("head_m", "Head"),
        measure("at_m", "Middle, along the wall"),
    ]
    headlines = [
        Headline(
            "Area",
            display.figure("area", opening.area_m2, units),
            display.unit("area", units),
            place,
            why=("opening", wall_id, opening.id, "area"),
        )
    ]
    sections: list = []
    if opening.glazing_id:
        glazing = find(project.glazings, opening.glazing_id)
        rows += [
            measure("reveal_m", "Reveal"),
            measure("overhang_m", "Overhang"),
            measure("overhang_gap_m", "Gap below overhang"),
            measure("fin_left_m", "Fin, left outside"),
            measure("fin_right_m", "Fin, right outside"),
        ]
        rows.append(
            InputVM(
                ("glazing", (ids,), "glazing_id"),
                "Glazing",
                glazing.name,
                "",
                "plain",
                choices=tuple((g.id, f"{g.name} (g {g.g:.2f})") for g in project.glazings),
                chosen=opening.glazing_id,
            )
        )
        headlines += [
            Headline(
                "U-value",
                display.figure("u_value", glazing.u_w_m2k, units),
                display.unit("u_value", units),
                "whole window",
                why=("opening", wall_id, opening.id, "u"),
            ),
            Headline("Sun g", f"{glazing.g:.2f}", "", "glass alone", why=("opening", wall_id, opening.id, "g")),
        ]
    sections.append(Inputs("Measures", "typed", tuple(rows)))
    if opening.glazing_id:
        sections += _glazing(state, glazing)
    found = results.room(room.id) if results and room else None
    if found:
        sections.append(
            Lines(
                "Its room",
                f"{room.number}",
                (
                    Line(
                        "Cooling load",
                        display.figure("load", found.peak_w, units),
                        display.unit("load", units),
                        target=("room", room.id),
                        why=("room", room.id, "cooling"),
                    ),
                    Line(
                        "of it sun through glass",
                        display.figure("load", found.cause_w("glass sun"), units),
                        display.unit("load", units),
                        why=("cause", room.id, "glass sun", *found.peak),
                    ),
                ),
            )
        )
        sections += findings_section(results, "room", (room.id,))
    return CardVM(
        f"{opening.kind.capitalize()} {opening.id} · wall {wall_id}",
        f"{display.figure('length', opening.width_m, units)} × {display.with_unit('length', opening.height_m, units)}",
        f"{room.number} {room.name}, {place.lower()}" if room else place,
        tuple(headlines),
        tuple(sections),
        ("Remove this opening", ("remove opening", ids, "")),
    )
