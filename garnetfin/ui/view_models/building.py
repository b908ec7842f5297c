"""Cards and tables of the building: faces, levels, zones, underlays, and what an import would change."""

from garnetfin import display
from garnetfin.engine.resolve import resolve
from garnetfin.engine.results import Climate, Missing, there
from garnetfin.engine.stages.blocks import together
from garnetfin.engine.stages.faces import ABSORBED
from garnetfin.engine.studies.face_list import FaceRow, face_row, face_rows, sun_on
from garnetfin.exchange.room_list import Understood
from garnetfin.project.draft import Draft
from garnetfin.project.edits.imports import Difference
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import FIRE_MIN, Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines, input_row
from garnetfin.ui.view_models.edit import Edit
from garnetfin.ui.view_models.operation import operation_inputs
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

ZONE_ROWS = (
    ("cooling_c", "Set-point, cooling", "temperature"),
    ("heating_c", "Set-point, heating", "temperature"),
    ("supply_c", "Supply air", "temperature"),
    ("humidity_low", "Humidity, at least", "fraction"),
    ("humidity_high", "Humidity, at most", "fraction"),
)
KIND_WORDS = {"new": "new", "changed": "changed", "same": "as before", "gone": "no longer there"}


FIRE_CLASSES = (("0", "not rated"), *((str(m), f"{m} min") for m in FIRE_MIN if m))


def _room_name(state: State, room_id: str) -> str:
    room = find(state.project.rooms, room_id)
    return f"{room.number} {room.name}" if room else room_id


def face_words(row: FaceRow) -> str:
    """Where a face looks: a direction, up, down, or inside."""
    if row.azimuth_deg is None:
        return {"floor on ground": "down", "floor to outdoors": "down"}.get(row.kind, "inside")
    if row.kind == "roof" and row.tilt_deg < 1:
        return "up"
    words = display.direction(row.azimuth_deg)
    return f"{words}, {row.tilt_deg:.0f}°" if row.kind == "roof" else words


def face_table(state: State, wanted: str = "") -> TableVM:
    """Faces whose words hold all that was typed."""
    units, project = state.show.units, state.project
    columns = (
        Column("Room", width=130, left=True, stretch=True),
        Column("Face", width=116, left=True),
        Column("Looks", width=92, left=True),
        Column("To", width=120, left=True, stretch=True),
        Column("Build-up", width=130, left=True, stretch=True),
        Column("Area", display.unit("area", units), 76),
        Column("Glass", display.unit("area", units), 72),
        Column("U", display.unit("u_value", units), 78),
        Column("Level", width=86, left=True),
    )
    levels = {x.id: x.name for x in project.levels}
    typed = wanted.lower().split()
    rows = []
    for f in face_rows(project):
        other = _room_name(state, f.other)
        build_up = find(project.build_ups, f.build_up_id)
        texts = (_room_name(state, f.room_id), f.kind, face_words(f), other, build_up.name, levels.get(f.level_id, ""))
        whole = " ".join(texts).lower()
        if not all(word in whole for word in typed):
            continue
        rows.append(
            Row(
                "face",
                f.id,
                (
                    Cell(texts[0]),
                    Cell(f.kind),
                    Cell(texts[2], tone="faint"),
                    Cell(other, tone="faint"),
                    Cell(texts[4], tone="faint"),
                    Cell(display.figure("area", f.area_m2, units), why=("face row", f.id, "area")),
                    Cell(
                        display.figure("area", f.glass_m2, units) if f.glass_m2 else display.DASH,
                        tone="" if f.glass_m2 else "faint",
                        why=("face row", f.id, "glass"),
                    ),
                    Cell(
                        display.figure("u_value", f.u_w_m2k, units) if f.u_w_m2k is not None else display.DASH,
                        why=("face row", f.id, "u"),
                    ),
                    Cell(texts[5], tone="faint"),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def fire_inputs(walls: tuple[Wall, ...]) -> list[InputVM]:
    """Minutes for which walls resist fire, and smoke."""
    ids = tuple(w.id for w in walls)
    minutes, smoke = {w.fire_min for w in walls}, {w.smoke for w in walls}
    rows = [
        InputVM(
            edits.wall_minutes(ids),
            "Resists fire",
            "",
            "",
            choices=FIRE_CLASSES,
            chosen=str(next(iter(minutes))) if len(minutes) == 1 else "several",
        )
    ]
    if any(minutes):
        rows.append(
            InputVM(
                edits.wall_smoke(ids),
                "Smoke too",
                "",
                "",
                choices=(("no", "no"), ("yes", "yes")),
                chosen=("yes" if next(iter(smoke)) else "no") if len(smoke) == 1 else "several",
            )
        )
    return rows


def walls_around(project: Project, room_ids: tuple[str, ...]) -> InputVM | None:
    """Fire resistance of all inside walls around rooms; None where there are none."""
    inside = set(room_ids)
    around = [w for w in project.walls if not w.outside and (w.room_a in inside) != (w.room_b in inside)]
    if not around:
        return None
    minutes = {w.fire_min for w in around}
    return InputVM(
        edits.walls_around(room_ids),
        "Walls around",
        "",
        "",
        choices=FIRE_CLASSES,
        chosen=str(next(iter(minutes))) if len(minutes) == 1 else "several",
        tip="resist fire: all inside walls between these rooms and the others",
    )


def face_card(state: State) -> CardVM:
    """One wall, roof or floor: size, direction, U-value, what it is made of, and the sun on it at the hour."""
    project, results, units = state.project, state.results, state.show.units
    face_id = state.selection.ids[0]
    f = face_row(project, face_id)
    if f is None:
        return CardVM("Face", "Gone", "It is no longer in the project")
    kind, _, part = face_id.partition("/")
    heads = [
        Headline(
            "Area",
            display.figure("area", f.area_m2, units),
            display.unit("area", units),
            f"{display.figure('area', f.net_m2, units)} net" if f.opened_m2 else "",
        )
    ]
    lines = []
    month, hour = state.show.hour or _worst_hour(state)
    if isinstance(results.climate, Climate) and (sun := sun_on(results.climate, f)) is not None:
        heads.append(
            Headline(
                "Sun",
                display.figure("irradiance", float(sun[month, hour]), units),
                display.unit("irradiance", units),
                display.hour(month, hour),
            )
        )
        at = int(sun.max(axis=1).argmax())
        lines.append(
            Line(
                "Greatest sun of the year",
                display.figure("irradiance", float(sun.max()), units),
                display.unit("irradiance", units),
            )
        )
        lines.append(Line("at", f"21 {display.MONTHS[at]}, {int(sun[at].argmax())} h"))
    heads.append(
        Headline("U-value", display.figure("u_value", f.u_w_m2k, units), display.unit("u_value", units), "with films")
    )
    rows = [
        InputVM(
            edits.wall((part,), "build_up_id") if kind == "wall" else edits.slab(part, "build_up_id"),
            "Build-up",
            find(project.build_ups, f.build_up_id).name,
            "",
            "plain",
            choices=tuple((b.id, b.name) for b in project.build_ups),
            chosen=f.build_up_id,
        )
    ]
    if kind == "wall":
        wall = find(project.walls, part)
        rows += [
            _measure(edits.wall((part,), "thickness_m"), "Thickness", wall.thickness_m, units),
            _measure(edits.wall((part,), "height_m"), "Height", wall.height_m, units),
        ]
        rows += fire_inputs((wall,))
        if wall.outside:
            rows.append(_absorptance(project, f.build_up_id, units))
            rows.append(_measure(edits.wall((part,), "buried_m"), "Against earth", wall.buried_m, units))
        lines.insert(0, Line("Length", display.figure("length", wall.length_m, units), display.unit("length", units)))
        for o in wall.openings:
            lines.append(
                Line(
                    f"{o.kind} {o.id}",
                    display.figure("area", o.area_m2, units),
                    display.unit("area", units),
                    target=("opening", f"{wall.id}/{o.id}"),
                )
            )
    elif f.kind == "roof":
        slab = find(project.slabs, part)
        rows.append(
            InputVM(
                edits.slab(part, "tilt_deg"),
                "Tilt",
                display.figure("angle", slab.tilt_deg, units),
                "°",
                "plain",
                "angle",
            )
        )
        if slab.tilt_deg:
            rows.append(
                InputVM(
                    edits.slab(part, "azimuth_deg"),
                    "Looks to",
                    display.figure("angle", slab.azimuth_deg % 360, units),
                    "°",
                    "plain",
                    "angle",
                )
            )
    if f.kind == "roof":
        rows.append(_absorptance(project, f.build_up_id, units))
    rows += _inside(project, f, units)
    sides = [Line(_room_name(state, f.room_id), "on one side", target=("room", f.room_id))]
    other = find(project.rooms, f.other)
    sides.append(Line(_room_name(state, f.other), "on the other", target=("room", f.other) if other else ("", "")))
    return CardVM(
        f"Face · {part}",
        f"{f.kind.capitalize()}, {face_words(f).lower()}",
        _room_name(state, f.room_id),
        tuple(heads),
        (Inputs("Made of", "typed", tuple(rows)), Lines("Between", "", tuple(sides)), Lines("More", "", tuple(lines)))
        if lines
        else (Inputs("Made of", "typed", tuple(rows)), Lines("Between", "", tuple(sides))),
    )


def _worst_hour(state: State) -> tuple[int, int]:
    block = state.results.blocks.get("")
    return (6, 15) if block is None or isinstance(block, Missing) else block.peak


def _measure(edit: Edit, label: str, value: float, units: str) -> InputVM:
    return InputVM(
        edit, label, display.figure("length", value, units), display.unit("length", units), "plain", "length"
    )


def _inside(project, f, units) -> list[InputVM]:
    """What the face takes up of the sun inside; by rule as walls, floors, ceilings usually do."""
    build_up = find(project.build_ups, f.build_up_id)
    kinds = {"roof": "ceiling", "floor on ground": "floor", "floor to outdoors": "floor", "floor between": "floor"}
    usual = ABSORBED[kinds.get(f.kind, "wall")]
    figure = resolve(build_up.inside_absorptance, usual, "usual for such a face")
    return [input_row(figure, edits.taken_up_inside(build_up.id), "Solar absorptance inside", "fraction", units)]


def _absorptance(project, build_up_id: str, units) -> InputVM:
    """What the outside of a build-up takes up of the sun; all faces of it share the figure."""
    value = find(project.build_ups, build_up_id).absorptance
    return InputVM(
        edits.build_up(build_up_id, "absorptance"),
        "Solar absorptance",
        display.figure("fraction", value, units),
        "%",
        "plain",
        "fraction",
        tip="of the build-up, on all its faces",
    )


def level_card(state: State) -> CardVM:
    """A level: its heights, its rooms, and whether their floors add up."""
    project, results, units = state.project, state.results, state.show.units
    level = find(project.levels, state.selection.ids[0])
    if level is None:
        return CardVM("Level", "Gone", "It is no longer in the project")
    check = next((c for c in results.building.levels if c.level_id == level.id), None)
    rooms = [r for r in project.rooms if r.level_id == level.id]
    given = level.floor_m2
    rows = (
        InputVM(edits.level(level.id, "name"), "Name", level.name, "", "plain"),
        _measure(edits.level(level.id, "elevation_m"), "Elevation", level.elevation_m, units),
        _measure(edits.level(level.id, "storey_m"), "Storey height", level.storey_m, units),
        InputVM(
            edits.level_floor(level.id, "floor_m2"),
            "Floor by the drawing",
            display.DASH if isinstance(given, Rule) else display.figure("area", given.value, units),
            display.unit("area", units),
            "rule" if isinstance(given, Rule) else "pinned",
            "area",
            tip="the architect’s floor area, to check the rooms against; empty: none given",
        ),
    )
    heads, lines = (), ()
    if check is not None:
        heads = (
            Headline("Rooms", str(len(rooms)), "", "", why=("rooms of", "level_id", level.id)),
            Headline(
                "Floor in rooms",
                display.figure("area", check.rooms_m2, units, 0),
                display.unit("area", units),
                "",
                why=("floor", level.id),
            ),
        )
        if check.floor_m2:
            heads += (
                Headline(
                    "Of the drawing",
                    f"{check.rooms_m2 / check.floor_m2 * 100:.0f}",
                    "%",
                    "",
                    why=("unclaimed", level.id),
                ),
            )
        lines = (
            Line(
                "Enclosed, in no room",
                display.figure("area", check.unclaimed_m2, units),
                display.unit("area", units),
                why=("unclaimed", level.id),
            ),
        )
    removable = None if rooms or len(project.levels) == 1 else ("Remove this level", edits.remove_level(level.id))
    return CardVM(
        "Level",
        level.name,
        f"{display.with_unit('length', level.elevation_m, units)} above zero",
        heads,
        (Inputs("Heights", "typed", rows), *((Lines("Checked", "", lines),) if lines else ())),
        removable or ("", None),
    )


def zone_card(state: State) -> CardVM:
    """A zone: rooms that share control, with what they are held at."""
    project, results, units = state.project, state.results, state.show.units
    zone = find(project.zones, state.selection.ids[0])
    if zone is None:
        return CardVM("Zone", "Gone", "It is no longer in the project")
    rooms = [r for r in project.rooms if r.zone_id == zone.id]
    found = [results.room(r.id) for r in rooms if results.room(r.id)]
    rows = [InputVM(edits.zone_name(zone.id), "Name", zone.name, "", "plain")]
    for field, label, quantity in ZONE_ROWS:
        value = getattr(zone, field)
        origin = "rule" if isinstance(value, Rule) else "pinned" if type(value).__name__ == "Pinned" else "imported"
        rows.append(
            InputVM(
                edits.zone_value(zone.id, field),
                label,
                display.DASH if origin == "rule" else display.figure(quantity, value.value, units),
                display.unit(quantity, units),
                origin,
                quantity,
                tip="by rule: the room use and the air system decide"
                if origin == "rule"
                else "holds for all rooms of the zone",
            )
        )
    rows += operation_inputs(f"zone:{zone.id}", zone.operation, units, zone=True)
    heads = ()
    if found:
        block = together(found)
        heads = (
            Headline(
                "Floor",
                display.figure("area", sum(r.figures.area_m2.figure for r in found), units, 0),
                display.unit("area", units),
                f"{len(rooms)} rooms",
                why=("floor of", block.room_ids),
            ),
            Headline(
                "Cooling",
                display.figure("load", block.peak_w, units),
                display.unit("load", units),
                f"{display.MONTHS[block.peak[0]]} {block.peak[1]}–{block.peak[1] + 1} h",
                why=("block", block.room_ids, "cooling"),
            ),
            Headline(
                "Heating",
                display.figure("load", block.heating_w, units),
                display.unit("load", units),
                "together",
                why=("block", block.room_ids, "heating"),
            ),
        )
    members = tuple(
        Line(
            f"{r.number} {r.name}",
            display.figure("load", there(results.room(r.id)).peak_w, units) if results.room(r.id) else display.DASH,
            display.unit("load", units),
            target=("room", r.id),
            why=("room", r.id, "cooling"),
        )
        for r in rooms[:12]
    )
    return CardVM(
        "Zone",
        zone.name,
        f"{len(rooms)} rooms that share control",
        heads,
        (
            Inputs("Held at", "by rule or pinned", tuple(rows)),
            *((Lines("Rooms", "cooling", members),) if members else ()),
        ),
        ("Remove this zone", edits.remove_zone(zone.id)),
    )


def underlay_card(state: State, contents: frozenset[str], layers: tuple[str, ...]) -> CardVM:
    """A drawing below the plan: where it lies and which of its layers are shown."""
    project, units = state.project, state.show.units
    under = find(project.underlays, state.selection.ids[0])
    if under is None:
        return CardVM("Underlay", "Gone", "It is no longer in the project")
    own = (under.id,)
    rows = [
        InputVM(
            edits.underlay(own[0], "level_id"),
            "Level",
            "",
            "",
            "plain",
            choices=tuple((x.id, x.name) for x in project.levels),
            chosen=under.level_id,
        ),
        InputVM(
            edits.underlay(own[0], "visible"),
            "Shown",
            "",
            "",
            "plain",
            choices=(("yes", "yes"), ("no", "no")),
            chosen="yes" if under.visible else "no",
        ),
        _measure(edits.underlay(own[0], "x_m"), "Place, to the right", under.x_m, units),
        _measure(edits.underlay(own[0], "y_m"), "Place, upwards", under.y_m, units),
        InputVM(
            edits.underlay(own[0], "turn_deg"),
            "Turned",
            display.figure("angle", under.turn_deg, units, 1),
            "°",
            "plain",
            "angle",
        ),
        InputVM(
            edits.underlay(own[0], "scale"),
            "Metres per " + ("pixel" if under.kind == "picture" else "unit"),
            f"{under.scale:.5g}",
            "",
            "plain",
            "plain",
        ),
    ]
    hidden = set(under.hidden_layers)
    shown = tuple(
        InputVM(
            edits.underlay_layer(own[0], name),
            name[:24],
            "",
            "",
            "plain",
            choices=(("on", "on"), ("off", "off")),
            chosen="off" if name in hidden else "on",
        )
        for name in layers[:40]
    )
    sections = [Inputs("Place", "typed", tuple(rows))]
    if shown:
        sections.append(Inputs("Layers", f"{len(layers) - len(hidden & set(layers))} of {len(layers)} shown", shown))
    line = "" if under.content in contents else "Its contents are missing from the file"
    return CardVM(
        "Underlay",
        under.name[:40],
        line or f"on level {find(project.levels, under.level_id).name}",
        (),
        tuple(sections),
        ("Remove this underlay", edits.remove_underlay(own[0])),
    )


# -- imports -----------------------------------------------------------------------------------------------------
def import_table(draft: Draft, differences: tuple[Difference, ...], taken: frozenset[str], units: str) -> TableVM:
    """Room by room what the file has and what would change; a click takes a room or leaves it."""
    columns = (
        Column("", width=64, left=True),
        Column("No.", width=50, left=True),
        Column("Room", width=120, left=True),
        Column("Area", display.unit("area", units), 60),
        Column("", width=106, left=True),
        Column("Changes", width=140, left=True, stretch=True),
    )
    rows = []
    order = ("changed", "gone", "new", "same")
    for d in sorted(differences, key=lambda d: order.index(d.kind)):
        on = d.key in taken
        words = ("remove" if on else "keep") if d.kind == "gone" else ("take" if on else "leave")
        rows.append(
            Row(
                "draft",
                d.key,
                (
                    Cell(words, tone="garnet" if on else "faint"),
                    Cell(d.number, tone="faint"),
                    Cell(d.name),
                    Cell(display.figure("area", d.area_m2, units)),
                    Cell(
                        KIND_WORDS[d.kind],
                        tone="watch" if d.kind in ("gone", "changed") else "" if d.kind == "new" else "faint",
                    ),
                    Cell("; ".join(d.lines), tone="faint"),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def note_table(draft: Draft) -> TableVM:
    """What was found, missing, assumed and left out; alike notes count together."""
    grouped: dict[tuple[str, str], list[str]] = {}
    for n in draft.notes:
        grouped.setdefault((n.kind, n.text), []).append(n.where)
    order = ("found", "missing", "left out", "assumed")
    rows = []
    for i, ((kind, text), places) in enumerate(sorted(grouped.items(), key=lambda kv: order.index(kv[0][0]))):
        where = ", ".join(p for p in places[:3] if p) + (f" and {len(places) - 3} more" if len(places) > 3 else "")
        rows.append(
            Row(
                "note",
                str(i),
                (
                    Cell(kind, tone="" if kind == "found" else "watch" if kind != "assumed" else "faint"),
                    Cell(text),
                    Cell(where, tone="faint"),
                ),
            )
        )
    return TableVM(
        (
            Column("", width=68, left=True),
            Column("What", width=140, left=True, stretch=True),
            Column("Where", width=220, left=True),
        ),
        tuple(rows),
    )


def list_table(understood: Understood, units: str) -> TableVM:
    """What was understood of each line of a room list."""
    columns = (
        Column("Line", width=52, left=True),
        Column("No.", width=64, left=True),
        Column("Room", width=140, left=True, stretch=True),
        Column("Use", width=130, left=True),
        Column("Area", display.unit("area", units), 72),
        Column("Ceiling", display.unit("length", units), 76),
        Column("Outside wall", display.unit("length", units), 100),
        Column("Glass", display.unit("area", units), 72),
        Column("Understood", width=190, left=True, stretch=True),
    )
    from garnetfin.core.tables import room_uses

    rows = []
    for r in understood.rows:
        if r.room is None:
            said = " · ".join(c for c in r.cells if c)[:60]
            rows.append(
                Row(
                    "line",
                    str(r.line),
                    (
                        Cell(str(r.line), tone="bad"),
                        Cell(""),
                        Cell(said, tone="faint"),
                        *[Cell("")] * 5,
                        Cell(r.reason, tone="bad"),
                    ),
                )
            )
            continue
        rows.append(
            Row(
                "line",
                str(r.line),
                (
                    Cell(str(r.line), tone="faint"),
                    Cell(r.room.number),
                    Cell(r.room.name),
                    Cell(room_uses()[r.room.use_id].name, tone="faint"),
                    Cell(display.figure("area", r.room.area_m2.value, units)),
                    Cell(display.figure("length", r.room.ceiling_m, units)),
                    Cell(display.figure("length", sum(n for _, n, _ in r.sides), units) if r.sides else display.DASH),
                    Cell(display.figure("area", sum(g for _, _, g in r.sides), units) if r.sides else display.DASH),
                    Cell("assumed: " + ", ".join(r.assumed) if r.assumed else "", tone="faint", italic=bool(r.assumed)),
                ),
            )
        )
    return TableVM(columns, tuple(rows))
