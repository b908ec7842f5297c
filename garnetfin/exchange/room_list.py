"""A list of rooms: which column means what, what was understood of each row, and the draft that follows."""

import re
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache
from math import sqrt
from typing import Any

from msgspec import structs

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.core.tables import room_uses
from garnetfin.core.units import System, parse
from garnetfin.project.draft import Draft, Note
from garnetfin.project.new import usual_build_ups
from garnetfin.project.sketch import sketch_build_ups, sketch_faces
from garnetfin.project.spaces import Level, Room
from garnetfin.project.tree import Project
from garnetfin.project.uses import use_of
from garnetfin.project.values import Imported

# What a column can mean: key -> (words on screen, quantity or "" for text, spellings of headings).
FIELDS: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "number": ("Number", "", ("number", "no", "nr", "room no", "room number", "id", "nummer")),
    "name": ("Name", "", ("name", "room", "room name", "designation", "description", "raum")),
    "level": ("Level", "", ("level", "storey", "story", "floor", "geschoss")),
    "use": ("Use", "", ("use", "usage", "type", "function", "room use", "nutzung")),
    "area": ("Area", "area", ("area", "floor area", "net area", "flache", "size")),
    "height": ("Ceiling height", "length", ("height", "ceiling", "ceiling height", "clear height", "hohe")),
    "people": ("People", "count", ("people", "persons", "occupants", "occupancy", "personen")),
    "lights": ("Lights", "power_density", ("lights", "lighting")),
    "equipment": ("Equipment", "power_density", ("equipment", "equip", "plug loads")),
    "heating": ("Heating set-point", "temperature", ("heating set-point", "heating setpoint", "winter temperature")),
    "cooling": ("Cooling set-point", "temperature", ("cooling set-point", "cooling setpoint", "summer temperature")),
    "roof": ("Roof area", "area", ("roof", "roof area")),
    "ground": ("Floor on ground", "area", ("ground", "ground area", "floor on ground", "ground floor area")),
    "zone": ("Zone", "", ("zone", "control zone")),
    "served": ("Served", "", ("served", "conditioned", "heated")),
}
BEARINGS = {"n": 0.0, "ne": 45.0, "e": 90.0, "se": 135.0, "s": 180.0, "sw": 225.0, "w": 270.0, "nw": 315.0}
_COMPASS = {
    "n": "North",
    "ne": "North-east",
    "e": "East",
    "se": "South-east",
    "s": "South",
    "sw": "South-west",
    "w": "West",
    "nw": "North-west",
}
for _key, _words in _COMPASS.items():
    FIELDS[f"wall {_key}"] = (f"Outside wall {_words.lower()}", "length", ())
    FIELDS[f"glass {_key}"] = (f"Glass {_words.lower()}", "area", ())
USUAL_CEILING_M = 2.8
GAP_M, ROW_M = 1.5, 60.0  # the places where rooms without a place are drawn
_WALL = re.compile(r"(?:outside |external |outer )?walls?(?: length)?[ _-]*")
_GLASS = re.compile(r"(?:glass|glazing|windows?)(?: area)?[ _-]*")


@dataclass(frozen=True, slots=True)
class ListRow:
    """One line of the list: the room it makes, or why it makes none."""

    line: int
    cells: tuple[str, ...]
    room: Room | None
    reason: str
    level: str = ""
    zone: str = ""
    sides: tuple[tuple[float, float, float], ...] = ()  # bearing, wall length, glass area
    roof_m2: float | None = None
    ground_m2: float | None = None
    assumed: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Understood:
    """What was made of a list with a mapping (field -> column)."""

    source: str
    heads: tuple[str, ...]
    mapping: dict[str, int]
    rows: tuple[ListRow, ...]

    @property
    def good(self) -> tuple[ListRow, ...]:
        return tuple(r for r in self.rows if r.room is not None)


def guess_columns(heads: list[str]) -> dict[str, int]:
    """Field -> column by the words of the headings; a column means one thing at most."""
    mapping: dict[str, int] = {}
    for column, head in enumerate(heads):
        key = _field_of(re.sub(r"[\[(].*?[\])]", "", head.lower()).strip(" .:_-²").replace("_", " "))
        if key and key not in mapping:
            mapping[key] = column
    return mapping


def _field_of(head: str) -> str:
    for pattern, kind in ((_WALL, "wall"), (_GLASS, "glass")):
        found = pattern.match(head)
        if found:
            side = head[found.end() :].strip()
            short = next(
                (k for k, words in _COMPASS.items() if side in (k, words.lower(), words.lower().replace("-", ""))), ""
            )
            if short:
                return f"{kind} {short}"
    head = head.removesuffix(" m2").removesuffix(" m")
    for key, (_, _, spellings) in FIELDS.items():
        if head in spellings:
            return key
    close = get_close_matches(head, [s for _, _, spellings in FIELDS.values() for s in spellings], 1, 0.86)
    return next((k for k, (_, _, s) in FIELDS.items() if close and close[0] in s), "")


def understand(
    table: list[list[str]],
    source: str,
    units: System = "SI",
    mapping: dict[str, int] | None = None,
    taken: frozenset[str] = frozenset(),
) -> Understood:
    """Rows of a table as rooms. The first row holds the headings; wrong rows say why, right rows are kept.

    taken   numbers that are in use already
    """
    if not table:
        raise InputError("The list is empty", remedy="Paste rows with a line of headings")
    heads = table[0]
    mapping = guess_columns(heads) if mapping is None else mapping
    shown = {key: _unit(heads[c]) for key, c in mapping.items() if c < len(heads)}
    seen: set[str] = set(taken)
    rows = []
    for line, cells in enumerate(table[1:], 2):

        def text(key: str, cells=cells) -> str:
            c = mapping.get(key)
            return cells[c].strip() if c is not None and c < len(cells) else ""

        rows.append(_row(line, tuple(cells), text, shown, units, seen))
    return Understood(source, tuple(heads), dict(mapping), tuple(rows))


def _unit(head: str) -> str:
    """A unit in brackets in a heading, e.g. Area [ft²]."""
    found = re.search(r"[\[(]\s*(.+?)\s*[\])]", head)
    return found.group(1) if found and len(found.group(1)) < 15 else ""


# The same figures come again and again in a list, and a unit costs a fifth of a millisecond.
_parsed = lru_cache(maxsize=8192)(parse)


def _row(line: int, cells: tuple[str, ...], text, shown: dict[str, str], units: System, seen: set[str]) -> ListRow:
    assumed: list[str] = []

    def figure(key: str) -> float | None:
        typed = text(key)
        if not typed or typed in ("-", "–"):
            return None
        words, quantity, _ = FIELDS[key]
        if re.fullmatch(r"[-+]?[\d.,\s]+", typed) and shown.get(key):
            typed = f"{typed} {shown[key]}"
        try:
            return _parsed(typed, quantity, units)
        except GarnetfinError as error:
            raise InputError(f"{words} “{text(key)}”: {error.what}") from error

    try:
        number, name = text("number"), text("name")
        if not number and not name:
            raise InputError("It has neither number nor name")
        if number and number in seen:
            raise InputError(f"Number {number} is there already")
        area = figure("area")
        sides = [(BEARINGS[k], figure(f"wall {k}") or 0.0, figure(f"glass {k}") or 0.0) for k in BEARINGS]
        sides = [(b, length, glass) for b, length, glass in sides if length or glass]
        if area is None:
            raise InputError("The area is missing")
        if any(length < 0 or glass < 0 for _, length, glass in sides):
            raise InputError("A wall length or glass area is below 0")
        height = figure("height")
        if height is None:
            height = USUAL_CEILING_M
            assumed.append(f"ceiling {USUAL_CEILING_M} m")
        use_id, note = use_of(text("use") or name)
        if note:
            assumed.append(note)
        values: dict[str, Any] = {
            f: Imported(value=v, source="room list")
            for f, v in (
                ("people", figure("people")),
                ("lights_w_m2", figure("lights")),
                ("equipment_w_m2", figure("equipment")),
                ("heating_c", figure("heating")),
                ("cooling_c", figure("cooling")),
            )
            if v is not None
        }
        room = Room(
            id=number or name,
            number=number or name[:20],
            name=name or room_uses()[use_id].name,
            level_id="",
            use_id=use_id,
            outline=_outline(area, sides),
            ceiling_m=height,
            area_m2=Imported(value=area, source="room list"),
            sketched=True,
            system_id="" if text("served").lower() in ("no", "false", "0", "unheated", "n") else "served",
            **values,
        )
        # Glass without a wall length: the wall is as long as the side of the drawn room.
        xs, ys = [p[0] for p in room.outline], [p[1] for p in room.outline]
        lengths = {0.0: max(xs) - min(xs), 90.0: max(ys) - min(ys)}
        full = []
        for bearing, length, glass in sides:
            if not length:
                length = lengths[90.0 if round(bearing / 90) % 2 else 0.0]
                assumed.append(f"wall {length:.1f} m")
            if glass > 0.95 * length * height:
                raise InputError(f"Glass of {glass:.1f} m² is larger than its wall of {length * height:.1f} m²")
            full.append((bearing, length, glass))
        seen.add(number)
        return ListRow(
            line,
            cells,
            room,
            "",
            text("level"),
            text("zone"),
            tuple(full),
            figure("roof"),
            figure("ground"),
            tuple(assumed),
        )
    except GarnetfinError as error:
        return ListRow(line, cells, None, error.what)


def _outline(area: float, sides: list[tuple[float, float, float]]) -> tuple:
    """A rectangle of the area whose sides are as long as the outside walls given for them."""
    if not 0.2 <= area <= 1e6:
        raise InputError(f"An area of {area:g} m² is not between 0.2 and 1 000 000")
    along_x = max((n for b, n, _ in sides if b % 180 == 0), default=0.0)
    along_y = max((n for b, n, _ in sides if b % 180 == 90), default=0.0)
    if along_x and along_y:
        width, depth = along_x, along_y
    elif along_x:
        width, depth = along_x, max(area / along_x, 0.5)
    elif along_y:
        width, depth = max(area / along_y, 0.5), along_y
    else:
        width = depth = sqrt(area)
    return ((0.0, 0.0), (width, 0.0), (width, depth), (0.0, depth))


def to_draft(understood: Understood, project: Project, level_id: str) -> Draft:
    """The good rows as a draft; rooms without a level word go to the level in hand, and lie in rows beside what is
    drawn.
    """
    levels, by_name = list(project.levels) or [Level(id="L0", name="Ground", elevation_m=0.0, storey_m=3.4)], {}
    for word in dict.fromkeys(r.level for r in understood.good if r.level):
        same = _level_of(word, levels)
        if same is None:
            top = max(levels, key=lambda x: x.elevation_m)
            same = Level(
                id=f"list {word}", name=word[:40], elevation_m=top.elevation_m + top.storey_m, storey_m=top.storey_m
            )
            levels.append(same)
        by_name[word] = same.id
    build_ups = project.build_ups or usual_build_ups()
    ids = sketch_build_ups(build_ups)
    glazing_id = project.glazings[0].id if project.glazings else ""
    lowest, highest = min(levels, key=lambda x: x.elevation_m).id, max(levels, key=lambda x: x.elevation_m).id
    home = level_id if any(x.id == level_id for x in levels) else levels[0].id
    rooms, walls, slabs, notes = [], [], [], []
    used = [by_name.get(r.level, home) for r in understood.good]
    lowest, highest = (
        (lowest, highest)
        if not used
        else (min(used, key=lambda i: _height(levels, i)), max(used, key=lambda i: _height(levels, i)))
    )
    from garnetfin.project.systems import Zone

    zones = {
        word: Zone(id=f"list {word}", name=word[:60])
        for word in dict.fromkeys(r.zone for r in understood.good if r.zone)
    }
    place = {x.id: _free_place(project, x.id) for x in levels}
    for row in understood.good:
        level = by_name.get(row.level, home)
        x, y, deepest, left = place[level]
        width, depth = max(p[0] for p in row.room.outline), max(p[1] for p in row.room.outline)
        if x > left and x - left + width > ROW_M:
            x, y, deepest = left, y - deepest - GAP_M, 0.0
        outline = tuple((round(px + x, 4), round(py + y - depth, 4)) for px, py in row.room.outline)
        place[level] = (x + width + GAP_M, y, max(deepest, depth), left)
        room = structs.replace(
            row.room, level_id=level, outline=outline, zone_id=zones[row.zone].id if row.zone else ""
        )
        floor = room.area_m2.value
        roof = row.roof_m2 if row.roof_m2 is not None else floor if level == highest else 0.0
        ground = row.ground_m2 if row.ground_m2 is not None else floor if level == lowest else 0.0
        made = sketch_faces(room, {b: (n, g) for b, n, g in row.sides}, roof, ground, room.ceiling_m, ids, glazing_id)
        rooms.append(room)
        walls += made[0]
        slabs += made[1]
    wrong = [r for r in understood.rows if r.room is None]
    notes.append(Note(kind="found", text=f"{len(rooms)} rooms"))
    notes += [Note(kind="left out", text=r.reason, where=f"line {r.line}") for r in wrong[:100]]
    if not isinstance(understood.mapping.get("roof"), int):
        notes.append(Note(kind="assumed", text="the uppermost level has a roof, the lowest stands on the ground"))
    return Draft(
        source=understood.source,
        name=understood.source,
        levels=tuple(levels),
        rooms=tuple(rooms),
        walls=tuple(walls),
        slabs=tuple(slabs),
        build_ups=build_ups,
        glazings=project.glazings,
        zones=tuple(zones.values()),
        notes=tuple(notes),
    )


_RANKS = {"basement": -1, "ground": 0, "first": 1, "upper": 1, "second": 2, "third": 3, "fourth": 4}


def _level_of(word: str, levels: list[Level]) -> Level | None:
    """The level a list means: by its name, or by "ground", "first", "2" counted from the level at the ground."""
    plain = word.lower().strip()
    named = next((x for x in levels if plain in (x.name.lower(), x.id.lower())), None)
    if named is not None:
        return named
    ranked = sorted(levels, key=lambda x: x.elevation_m)
    ground = min(range(len(ranked)), key=lambda i: abs(ranked[i].elevation_m))
    first = plain.split()[0] if plain else ""
    rank = _RANKS.get(first, int(first) if re.fullmatch(r"-?\d{1,2}", first) else None)
    return ranked[ground + rank] if rank is not None and 0 <= ground + rank < len(ranked) else None


def _height(levels: list[Level], level_id: str) -> float:
    return next(x.elevation_m for x in levels if x.id == level_id)


def _free_place(project: Project, level_id: str) -> tuple[float, float, float, float]:
    """Where the first listed room is drawn: below what is on the level."""
    points = [p for r in project.rooms if r.level_id == level_id for p in r.outline]
    left = min((p[0] for p in points), default=0.0)
    return left, min((p[1] for p in points), default=0.0) - (3.0 if points else 0.0), 0.0, left


__all__ = ["FIELDS", "ListRow", "Understood", "guess_columns", "to_draft", "understand"]
