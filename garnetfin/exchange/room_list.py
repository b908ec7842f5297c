"""A list of rooms: which column means what, what was understood of each row, and the draft that follows."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import sqrt
from typing import Any

from msgspec import structs

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import room_uses
from garnetfin.core.units import System, parse
from garnetfin.exchange.list_headings import (
    BEARINGS,
    FIELDS,
    LEVEL_WORDS,
    Headings,
    decimal_comma,
    find_headings,
    guess_columns,
    is_total,
    plain,
    plain_figure,
    unit_in,
)
from garnetfin.exchange.tables import MOST_ROWS
from garnetfin.project.draft import Draft, Note
from garnetfin.project.new import usual_build_ups
from garnetfin.project.sketch import sketch_build_ups, sketch_faces
from garnetfin.project.spaces import Level, Room
from garnetfin.project.tree import Project
from garnetfin.project.uses import use_of
from garnetfin.project.values import Imported, Rule

USUAL_CEILING_M = 2.8
GAP_M, ROW_M = 1.5, 60.0  # the places where rooms without a place are drawn
FOOT2_M2 = 0.3048**2
# Uses whose rooms are small: twice as large as these in metres they are rather meant in feet.
SMALL_M2 = {"toilet": 40.0, "storage": 60.0, "office_single": 60.0, "locker": 80.0, "hotel_room": 60.0}
LEAST_ASKED, MOST_PEOPLE_M2 = 3, 12.0
NO_ROOM = ("no", "false", "0", "unheated", "n", "nein", "non", "unbeheizt")


@dataclass(frozen=True, slots=True)
class ListRow:
    """One line of the list: the room it makes, or why it makes none. `kind` of what is no room: wrong, total, group."""

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
    kind: str = "room"
    given: frozenset[str] = frozenset()  # fields that the list gives for it


@dataclass(frozen=True, slots=True)
class Understood:
    """What was made of a list with a mapping (field -> column).

    above     what stands above the headings
    unused    headings of columns that nothing is read from
    feet      areas without a unit that can hardly be metres: None where nothing speaks for feet, else (sum as square
              metres, sum as square feet in m2)
    comma     decimal commas were read
    present   numbers of rooms that are in the project already and are brought up to date
    """

    source: str
    heads: tuple[str, ...]
    mapping: dict[str, int]
    rows: tuple[ListRow, ...]
    above: tuple[str, ...] = ()
    unused: tuple[str, ...] = ()
    feet: tuple[float, float] | None = None
    comma: bool = False
    present: frozenset[str] = frozenset()
    over: int = 0  # rows beyond the limit

    @property
    def good(self) -> tuple[ListRow, ...]:
        return tuple(r for r in self.rows if r.room is not None)

    def refused(self) -> str:
        """Why nothing can be taken; "" where there are rooms."""
        if self.good:
            return ""
        if not {"number", "name", "area"} & set(self.mapping):
            return "No row of headings was found with a number or a name and an area"
        if "area" not in self.mapping:
            return f"No column of areas was found among: {', '.join(h for h in self.heads if h)[:120]}"
        wrong = next((r for r in self.rows if r.kind == "wrong"), None)
        return f"None of {len(self.rows)} rows is a room: {wrong.reason} (line {wrong.line})" if wrong else "No rows"


def understand(
    table: Sequence[Sequence[str]],
    source: str,
    units: System = "SI",
    mapping: dict[str, int] | None = None,
    present: frozenset[str] = frozenset(),
    area_unit: str = "",
) -> Understood:
    """Rows of a table as rooms. Headings are found among the first rows; wrong rows say why, right rows are kept.

    mapping    fields by column, "" for those that follow from the headings
    present    numbers of rooms that are in the project: theirs are brought up to date
    area_unit  of areas that have none, as it was answered: "m²" or "ft²"
    """
    if not table:
        raise InputError("The list is empty", remedy="Paste rows with a line of headings")
    rows = [list(r) for r in table]
    found = find_headings(rows) if mapping is None else None
    if found is None:
        # what the headings do not tell can be chosen by hand, with the first row as heads
        kept = find_headings(rows) if mapping is not None else None
        found = kept or Headings(tuple(rows[0]), {c: u for c, h in enumerate(rows[0]) if (u := unit_in(h))}, 1)
    mapping = guess_columns(list(found.heads)) if mapping is None else mapping
    below = rows[found.below :]
    figures = [c for k, i in mapping.items() if FIELDS[k][1] for r in below if i < len(r) for c in (r[i],)]
    comma = decimal_comma(figures)
    shown = {key: found.units.get(c, "") for key, c in mapping.items()}
    if not shown.get("area") and area_unit:
        shown["area"] = area_unit
    reader = _Reader(mapping, shown, units, comma if comma is not None else False)
    made = [reader.row(line, tuple(cells)) for line, cells in enumerate(below, found.below + 1)]
    used = set(mapping.values())
    unused = tuple(h for c, h in enumerate(found.heads) if h.strip() and c not in used)
    feet = _feet(made) if units == "SI" and not shown.get("area") and not area_unit else None
    return Understood(
        source,
        found.heads,
        dict(mapping),
        tuple(made),
        found.above,
        unused,
        feet,
        bool(comma),
        frozenset(r.room.number for r in made if r.room is not None) & present,
        max(len(table) - MOST_ROWS, 0),
    )


def _feet(rows: list[ListRow]) -> tuple[float, float] | None:
    """The two sums, where areas read as metres are far too large for what the rooms are: small uses as large as halls,
    or dozens of square metres for each person.
    """
    rooms = [r.room for r in rows if r.room is not None]
    areas = {r.id: r.area_m2.value for r in rooms if isinstance(r.area_m2, Imported)}
    small = [(areas[r.id], SMALL_M2[r.use_id]) for r in rooms if r.use_id in SMALL_M2 and r.id in areas]
    large = [area > limit for area, limit in small]
    crowd = [
        areas[r.id] / r.people.value > MOST_PEOPLE_M2 * 4
        for r in rooms
        if isinstance(r.people, Imported) and r.people.value >= 1 and r.id in areas
    ]
    asked = (len(large) >= LEAST_ASKED and sum(large) > 0.5 * len(large)) or (
        len(crowd) >= LEAST_ASKED and sum(crowd) > 0.5 * len(crowd)
    )
    total = sum(areas.values())
    return (total, total * FOOT2_M2) if asked else None


# The same figures come again and again in a list, and a unit costs a fifth of a millisecond.
_parsed = lru_cache(maxsize=8192)(parse)


class _Reader:
    """Reads row after row: numbers that were there, the level that a heading of a group names."""

    def __init__(self, mapping: dict[str, int], shown: dict[str, str], units: System, comma: bool) -> None:
        self.mapping, self.shown, self.units, self.comma = mapping, shown, units, comma
        self.seen: set[str] = set()
        self.level = ""  # of the group in which rows stand
        self.sum_m2 = 0.0

    def row(self, line: int, cells: tuple[str, ...]) -> ListRow:
        """One line as a room, a sum, a heading of a group, or what is wrong with it."""
        try:
            other = self._no_room(line, cells)
            return other if other is not None else self._room(line, cells)
        except GarnetfinError as error:
            return ListRow(line, cells, None, error.what, kind="wrong")

    def text(self, cells: tuple[str, ...], key: str) -> str:
        """What a row has for a field."""
        c = self.mapping.get(key)
        typed = cells[c].strip() if c is not None and c < len(cells) else ""
        # a table that was written with care marks what a spreadsheet would take for a formula
        return typed[1:] if re.match(r"'[=@+\-\t]", typed) else typed

    def figure(self, cells: tuple[str, ...], key: str) -> float | None:
        """The figure of a field in SI; None where there is none. Raises InputError where it is none."""
        typed = self.text(cells, key)
        if not typed or typed in ("-", "–", "—", "n/a", "N/A"):
            return None
        words, quantity = FIELDS[key]
        figure = plain_figure(typed, self.comma)
        if re.fullmatch(r"\s*[-+]?[\d.\s]+", figure) and self.shown.get(key) and quantity != "count":
            figure = f"{figure} {self.shown[key]}"
        try:
            return _parsed(figure, quantity, self.units)
        except GarnetfinError as error:
            raise InputError(f"{words} “{typed}”: {error.what}") from error

    def _no_room(self, line: int, cells: tuple[str, ...]) -> ListRow | None:
        """A row of sums or the heading of a group."""
        number, name, area = (self.text(cells, k) for k in ("number", "name", "area"))
        if is_total(cells) and (area or not number):
            return ListRow(line, cells, None, "a row of sums", kind="total")
        if not number and not name and area:
            value = self.figure(cells, "area")
            if value is not None and self.sum_m2 > 0 and abs(value - self.sum_m2) <= 0.005 * self.sum_m2:
                return ListRow(line, cells, None, "the sum of the areas above", kind="total")
        filled = [c.strip() for c in cells if c.strip()]
        if len(filled) == 1 and not area and not re.fullmatch(r"[\d.,]+", filled[0]):
            words = filled[0]
            if LEVEL_WORDS.search(plain(words)):
                self.level = words
                return ListRow(line, cells, None, f"a heading: the rooms below lie on “{words}”", kind="group")
            return ListRow(line, cells, None, f"a heading: “{words}”", kind="group")
        return None

    def _room(self, line: int, cells: tuple[str, ...]) -> ListRow:
        assumed: list[str] = []
        number, name = self.text(cells, "number"), self.text(cells, "name")
        if not number and not name:
            raise InputError("It has neither number nor name")
        if number and number in self.seen:
            raise InputError(f"Number {number} is there already")
        area = self.figure(cells, "area")
        sides = [
            (BEARINGS[k], self.figure(cells, f"wall {k}") or 0.0, self.figure(cells, f"glass {k}") or 0.0)
            for k in BEARINGS
        ]
        sides = [(b, length, glass) for b, length, glass in sides if length or glass]
        if area is None:
            raise InputError("The area is missing")
        if any(length < 0 or glass < 0 for _, length, glass in sides):
            raise InputError("A wall length or glass area is below 0")
        height = self.figure(cells, "height")
        given = {k for k in ("name", "use", "level", "zone", "served") if self.text(cells, k)}
        given |= {"height"} if height is not None else set()
        if height is None:
            height = USUAL_CEILING_M
            assumed.append(f"ceiling {USUAL_CEILING_M} m")
        use_id, note = use_of(self.text(cells, "use") or name)
        if note:
            assumed.append(note)
        values: dict[str, Any] = {
            f: Imported(value=v, source="room list")
            for f, key in VALUES.items()
            for v in (self.figure(cells, key),)
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
            system_id="" if self.text(cells, "served").lower() in NO_ROOM else "served",
            **values,
        )
        full = _full_sides(room, sides, height, assumed)
        roof, ground = self.figure(cells, "roof"), self.figure(cells, "ground")
        self.seen.add(number)
        self.sum_m2 += area
        level = self.text(cells, "level") or self.level
        if self.level and not self.text(cells, "level"):
            given.add("level")
        zone = self.text(cells, "zone")
        return ListRow(line, cells, room, "", level, zone, full, roof, ground, tuple(assumed), "room", frozenset(given))


VALUES = {
    "people": "people",
    "lights_w_m2": "lights",
    "equipment_w_m2": "equipment",
    "heating_c": "heating",
    "cooling_c": "cooling",
}


def _full_sides(
    room: Room, sides: list[tuple[float, float, float]], height: float, assumed: list[str]
) -> tuple[tuple[float, float, float], ...]:
    """Glass without a wall length: the wall is as long as the side of the drawn room."""
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
    return tuple(full)


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
    there = {r.number: r for r in project.rooms}
    updates = []
    for row in understood.good:
        listed = there_is(row.room)
        old = there.get(listed.number)
        if old is not None and (old.origin is None or old.origin.source != understood.source):
            updates.append(listed.id)
            zone_id = zones[row.zone].id if row.zone else ""
            rooms.append(_brought_up(row, old, by_name.get(row.level, old.level_id), zone_id))
            continue
        level = by_name.get(row.level, home)
        x, y, deepest, left = place[level]
        width, depth = max(p[0] for p in listed.outline), max(p[1] for p in listed.outline)
        if old is not None and _as_large(old.outline, width, depth):
            outline = old.outline  # it was drawn when the list was read before, and keeps its place
        else:
            if x > left and x - left + width > ROW_M:
                x, y, deepest = left, y - deepest - GAP_M, 0.0
            outline = tuple((round(px + x, 4), round(py + y - depth, 4)) for px, py in listed.outline)
            place[level] = (x + width + GAP_M, y, max(deepest, depth), left)
        room = structs.replace(listed, level_id=level, outline=outline, zone_id=zones[row.zone].id if row.zone else "")
        floor = area_of(room.outline) if isinstance(room.area_m2, Rule) else room.area_m2.value
        roof = row.roof_m2 if row.roof_m2 is not None else floor if level == highest else 0.0
        ground = row.ground_m2 if row.ground_m2 is not None else floor if level == lowest else 0.0
        made = sketch_faces(room, {b: (n, g) for b, n, g in row.sides}, roof, ground, room.ceiling_m, ids, glazing_id)
        rooms.append(room)
        walls += made[0]
        slabs += made[1]
    notes += _notes(understood, rooms, updates)
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
        updates=tuple(updates),
    )


def _as_large(outline: Sequence[tuple[float, float]], width: float, depth: float) -> bool:
    xs, ys = [p[0] for p in outline], [p[1] for p in outline]
    return abs(max(xs) - min(xs) - width) < 1e-3 and abs(max(ys) - min(ys) - depth) < 1e-3


def _brought_up(row: ListRow, old: Room, level_id: str, zone_id: str) -> Room:
    """A room that is there already with what the list gives for it; place, outline and what is left open stay."""
    new = there_is(row.room)
    return structs.replace(
        new,
        level_id=level_id if old.sketched and not old.placed else old.level_id,
        outline=old.outline,
        zone_id=zone_id,
        name=new.name if "name" in row.given else old.name,
        use_id=new.use_id if {"use", "name"} & row.given else old.use_id,
        ceiling_m=new.ceiling_m if "height" in row.given else old.ceiling_m,
        # the area of a drawn room is that of its outline
        area_m2=new.area_m2 if old.sketched else old.area_m2,
        system_id=new.system_id if "served" in row.given else old.system_id,
        sketched=old.sketched,
        placed=old.placed,
    )


def there_is(room: Room | None) -> Room:
    """A row's room. Raises LookupError where the row made none."""
    if room is None:
        raise LookupError("the row is no room")
    return room


def _notes(understood: Understood, rooms: list[Room], updates: list[str]) -> list[Note]:
    """All that was found, assumed and left out, with counts."""
    notes = [Note(kind="found", text=f"{len(rooms)} rooms")]
    if updates:
        notes.append(Note(kind="found", text=f"{len(updates)} of them are there already: their figures are compared"))
        faced = sum(bool(r.sides) for r in understood.good if there_is(r.room).id in set(updates))
        if faced:
            notes.append(Note(kind="left out", text=f"walls and glass of {faced} rooms that are there already"))
    for text in understood.above[:5]:
        notes.append(Note(kind="left out", text=f"above the headings: {text[:80]}"))
    if understood.unused:
        heads = ", ".join(understood.unused[:12]) + (" …" if len(understood.unused) > 12 else "")
        notes.append(Note(kind="left out", text=f"{len(understood.unused)} columns are not used: {heads}"))
    if understood.over:
        notes.append(Note(kind="left out", text=f"{understood.over} rows beyond the limit of {MOST_ROWS}"))
    if understood.comma:
        notes.append(Note(kind="assumed", text="figures are written with a decimal comma"))
    for row in [r for r in understood.rows if r.room is None][:100]:
        notes.append(Note(kind="left out", text=row.reason, where=f"line {row.line}"))
    fresh = len(rooms) - len(updates)
    if fresh and not isinstance(understood.mapping.get("roof"), int):
        notes.append(Note(kind="assumed", text="the uppermost level has a roof, the lowest stands on the ground"))
    return notes


_RANKS = {
    **{"basement": -1, "ground": 0, "first": 1, "upper": 1, "second": 2, "third": 3, "fourth": 4},
    **{"keller": -1, "kellergeschoss": -1, "ug": -1, "kg": -1, "erdgeschoss": 0, "eg": 0, "obergeschoss": 1, "og": 1},
    **{"sous": -1, "rez": 0, "rdc": 0, "sotano": -1, "baja": 0, "interrato": -1, "terra": 0, "terreno": 0},
}
_ORDINAL = re.compile(r"(-?\d{1,2})(?: ?(?:st|nd|rd|th|er|eme|o|a|º|ª))?\b")


def _rank(words: str) -> int | None:
    """Storeys above the ground that a word means: "2", "first floor", "1 og", "planta baja", "r+2"."""
    parts = words.split()
    up = re.match(r"r ?\+ ?(\d)", words)
    if up:
        return int(up.group(1))
    number = next((int(m.group(1)) for p in parts if (m := _ORDINAL.fullmatch(p))), None)
    named = next((_RANKS[p] for p in parts if p in _RANKS), None)
    if number is not None and named is not None:
        return number * named if named else 0  # 2. OG, 1. UG
    return number if number is not None else named


def _level_of(word: str, levels: list[Level]) -> Level | None:
    """The level a list means: by its name, or by "ground", "first", "2" counted from the level at the ground."""
    said = word.lower().strip()
    named = next((x for x in levels if said in (x.name.lower(), x.id.lower())), None)
    if named is not None:
        return named
    ranked = sorted(levels, key=lambda x: x.elevation_m)
    ground = min(range(len(ranked)), key=lambda i: abs(ranked[i].elevation_m))
    rank = _rank(plain(word))
    return ranked[ground + rank] if rank is not None and 0 <= ground + rank < len(ranked) else None


def _height(levels: list[Level], level_id: str) -> float:
    return next(x.elevation_m for x in levels if x.id == level_id)


def _free_place(project: Project, level_id: str) -> tuple[float, float, float, float]:
    """Where the first listed room is drawn: below what is on the level."""
    points = [p for r in project.rooms if r.level_id == level_id for p in r.outline]
    left = min((p[0] for p in points), default=0.0)
    return left, min((p[1] for p in points), default=0.0) - (3.0 if points else 0.0), 0.0, left


__all__ = ["FIELDS", "ListRow", "Understood", "guess_columns", "to_draft", "understand"]
