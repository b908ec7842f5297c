"""Cards of rooms, openings and blocks of rooms; the room table."""

from dataclasses import replace
from math import isfinite

from garnetfin import display
from garnetfin.core.tables import people_heat, profiles, room_uses
from garnetfin.core.units import System
from garnetfin.engine.resolve import Figure, use_in_force
from garnetfin.engine.results import Missing, Results, RoomResult, there
from garnetfin.engine.stages.blocks import block_of
from garnetfin.engine.stages.building import known_as
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Room
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.building import walls_around
from garnetfin.ui.view_models.card import CardVM, DayLine, Headline, Inputs, InputVM, Line, Lines, input_row, one_choice
from garnetfin.ui.view_models.findings import findings_section
from garnetfin.ui.view_models.load_cards import against_lines, cause_bars
from garnetfin.ui.view_models.room_air import air_sections

# (field, label, quantity) of the inputs of a room, in the order of the card.
ROOM_INPUTS = (
    ("cooling_c", "Set-point, cooling", "temperature"),
    ("heating_c", "Set-point, heating", "temperature"),
    ("people", "People", "people"),
    ("lights_w_m2", "Lights", "electric_density"),
    ("equipment_w_m2", "Equipment", "electric_density"),
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
        "Assembly",
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
    "work": ("Office", {"office_open", "office_single", "call_centre", "computer_room", "retail", "supermarket"}),
    "laboratory": ("Laboratory", {"laboratory"}),
    "wet": ("Wet", {"locker", "toilet"}),
    "stores": ("Stores, circulation", {"corridor", "storage", "reception", "server"}),
    "sleep": ("Bedrooms, living", {"hotel_room", "dwelling_living"}),
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
        rows.append(input_row(figures[0], edits.room_value(ids, name), label, quantity, units, several))
    return tuple(rows)


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
            f"{display.with_unit('volume', there(found[0]).volume_m3, units)}"
        )
        kind, title = f"Room {one.number} · {level.name}", one.name
    else:
        kind, title, line = "Rooms", f"{len(rooms)} rooms", display.with_unit("area", area, units)
    shown = _inputs(rooms, found, ROOM_INPUTS, units)
    uses = {r.use_id for r in rooms}
    use = InputVM(
        edits.room_use(ids),
        "Use",
        room_uses()[rooms[0].use_id].name if len(uses) == 1 else "several",
        "",
        "plain",
        choices=tuple((u.id, u.name) for u in room_uses().values()),
        chosen=rooms[0].use_id if len(uses) == 1 else "",
    )
    served = one_choice(
        rooms,
        edits.room_served(ids),
        "system_id",
        "Air system",
        (("", "none, unconditioned"), *((s.id, s.name) for s in project.air_systems)),
    )
    zone = one_choice(
        rooms, edits.room_zone(ids), "zone_id", "Zone", (("", "none"), *((z.id, z.name) for z in project.zones))
    )
    on_level = one_choice(
        rooms, edits.room_level(ids), "level_id", "Level", tuple((x.id, x.name) for x in project.levels)
    )
    ceilings = {r.ceiling_m for r in rooms}
    ceiling = InputVM(
        edits.ceiling(ids),
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
        if one and there(found[0]).estimate is not None:
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
                there(found[0]).figures.profile.name,
                (*_use_choices(state, rooms), *_inputs(rooms, found, USE_INPUTS, units), _void(rooms, units)),
            )
        )
        if one and there(found[0]).kept:
            sections.append(_plant(found[0], units))
        if len(uses) == 1:
            sections.append(_use_book(state, rooms[0].use_id))
    rated = walls_around(project, tuple(r.id for r in rooms)) if link == "Building" else None
    if rated is not None:
        sections.append(Inputs("Compartment", "", (rated,)))
    if one and link == "Building":
        sections.append(_faces(project, found[0], units))
        sections.append(_measured(state, one, found[0]))
    # A broken input is worth more than the shape of the day, so findings come first.
    sections += findings_section(results, "room", ids)
    if one and not there(found[0]).kept:
        warm, month, hour = there(found[0]).warmest
        sections.append(
            DayLine(
                "Air without plant",
                f"21 {display.MONTHS[month]}",
                tuple(display.to_shown("temperature", float(v), units) for v in there(found[0]).air_c[month]),
                hour,
                display.with_unit("temperature", warm, units),
                tuple(("air in", one.id, month, h) for h in range(24)),
            )
        )
    elif one:
        month, _ = there(found[0]).peak
        sections.append(
            DayLine(
                "Day of the peak",
                f"cooling, 21 {display.MONTHS[month]}",
                tuple(float(v) for v in there(found[0]).sensible_w[month]),
                there(found[0]).peak[1],
                display.with_unit("load", there(found[0]).peak_w, units),
                tuple(("room", one.id, "cooling", month, h) for h in range(24)),
            )
        )
    pins = sum(r.figures.pinned for r in found)
    foot = (
        (f"{pins} pinned value{'s' if pins > 1 else ''} here · unpin all", edits.unpin_rooms(ids))
        if pins
        else ("", None)
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
                "not served: unconditioned",
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
        (*rows, Line("Input detail", known_as(state.project, room))),
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
                edits.room_choice(tuple(r.id for r in rooms), field),
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
    ("lights_w_m2", "Lights", "electric_density"),
    ("equipment_w_m2", "Equipment", "electric_density"),
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
            edits.use_figure(use_id, f),
            label,
            quantity,
            units,
            digits=3 if f == "people_m2" else None,
        )
        for f, label, quantity in USE_BOOK
    )
    return Inputs(f"Every {ships.name.lower()}"[:34], "office standards", rows)


def _void(rooms: list[Room], units: System) -> InputVM:
    heights = {r.plenum_m for r in rooms}
    return InputVM(
        edits.void_above(tuple(r.id for r in rooms)),
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
    rows = [Line("Load is looked for", display.hours_of_day(found.counted[found.peak[0]]))]
    if found.start_up_w > 0:
        there = found.reached_h
        reached = "too late" if not there or max(there) > 23 else " and ".join(f"by {hour} h" for hour in there)
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
    if found.void is not None:
        rows.append(
            Line(
                "Air in the void then",
                display.figure("temperature", float(found.void.air_c[found.peak]), units),
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
    e = there(found.estimate)
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
