"""Taking a draft over: new rooms, and changes of rooms that were taken before. What was set by hand since stays."""

import hashlib
from dataclasses import dataclass
from typing import Any, ClassVar

import msgspec
from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import room_uses
from garnetfin.project.derive import along as along_wall
from garnetfin.project.derive import derive, ground_perimeter, off
from garnetfin.project.derive import slabs as derived_slabs
from garnetfin.project.draft import Draft
from garnetfin.project.edits.rooms import ROOM_VALUES
from garnetfin.project.fabric import Glazing
from garnetfin.project.lookup import find, fresh_ids, slabs_of, walls_of
from garnetfin.project.new import usual_build_ups
from garnetfin.project.spaces import INSIDE, NO_ROOM, Level, Room, RoomOrigin, Slab, Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import Imported, Pinned, Rule

SAME_LEVEL_M = 0.3
OPENING_NEAR_M = 1.0
PLAIN = ("number", "name", "use_id", "ceiling_m", "outline")
NAMES = {"number": "number", "name": "name", "use_id": "use", "ceiling_m": "ceiling", "outline": "outline"}


@dataclass(frozen=True, slots=True)
class Difference:
    """One room of the file (or one that it no longer has) against the project."""

    key: str
    room_id: str  # "" for a new room
    kind: str  # new, changed, same, gone
    number: str
    name: str
    area_m2: float
    lines: tuple[str, ...]  # what changes, or what stays because it was set here


def digest(project: Project, room_id: str) -> str:
    """A short sign of a room's walls, openings and slabs; equal signs mean that nobody touched them."""
    walls = sorted(
        (
            w.room_b if w.room_a == room_id else w.room_a,
            round(w.length_m, 3),
            round(w.height_m, 3),
            round(w.thickness_m, 4),
            w.build_up_id,
            round(w.facing_deg, 1) if w.outside else 0.0,
            sorted(
                (o.kind, round(o.at_m, 3), round(o.width_m, 3), round(o.sill_m, 3), round(o.head_m, 3), o.glazing_id)
                for o in w.openings
            ),
        )
        for w in walls_of(project.walls, room_id)
    )
    slabs = sorted(
        (s.kind, s.room_below, s.room_above, round(s.area_m2, 3), s.build_up_id)
        for s in slabs_of(project.slabs, room_id)
    )
    return hashlib.sha1(msgspec.json.encode([walls, slabs])).hexdigest()[:16]


def differences(project: Project, draft: Draft) -> tuple[Difference, ...]:
    """Room by room what taking the draft over would change."""
    known = taken_before(project, draft)
    found = []
    for room in draft.rooms:
        old = known.get(room.id)
        if old is None:
            found.append(Difference(room.id, "", "new", room.number, room.name, _area(room), ()))
            continue
        lines, changed = _changes(project, old, room, draft)
        found.append(
            Difference(room.id, old.id, "changed" if changed else "same", room.number, room.name, _area(room), lines)
        )
    keys = {r.id for r in draft.rooms}
    for key, old in known.items():
        if old.origin is not None and old.origin.source == draft.source and key not in keys:
            found.append(Difference(key, old.id, "gone", old.number, old.name, _area(old), ("no longer in the file",)))
    return tuple(found)


def taken_before(project: Project, draft: Draft) -> dict[str, Room]:
    """Rooms that came from this file, by its ids: from a file of that name, or of another with the same id and
    number.
    """
    numbers = {r.id: r.number for r in draft.rooms}
    found = {
        r.origin.key: r
        for r in project.rooms
        if r.origin is not None and (r.origin.source == draft.source or numbers.get(r.origin.key) == r.origin.number)
    }
    by_number = {r.number: r for r in project.rooms}
    return found | {i: by_number[numbers[i]] for i in draft.updates if numbers.get(i) in by_number}


def _known_origin(old: Room, source: str, key: str) -> RoomOrigin:
    """What the file gave before; of a room that never came from one, what it is now."""
    return old.origin if old.origin is not None else _origin(structs.replace(old, id=key), source)


def _area(room: Room) -> float:
    return area_of(room.outline) if isinstance(room.area_m2, Rule) else room.area_m2.value


def _changes(project: Project, old: Room, new: Room, draft: Draft) -> tuple[tuple[str, ...], bool]:
    lines, changed, origin = [], False, _known_origin(old, draft.source, new.id)
    for field in PLAIN:
        before, now, file = getattr(old, field), getattr(new, field), getattr(origin, field)
        if _equal(field, now, file) or _equal(field, now, before):
            continue
        if _equal(field, before, file):
            lines.append(_line(field, before, now))
            changed = True
        else:
            lines.append(f"{NAMES[field]} was edited here and stays")
    here, there = find(project.levels, old.level_id), find(draft.levels, new.level_id)
    if abs(here.elevation_m - there.elevation_m) > SAME_LEVEL_M:
        mine = old.level_id != origin.level_id
        lines.append("level was edited here and stays" if mine else f"level {here.name} → {there.name}")
        changed = changed or not mine
    for field in ROOM_VALUES:
        before, now = getattr(old, field), getattr(new, field)
        if isinstance(before, Pinned) and isinstance(now, Imported) and before.value != now.value:
            lines.append(
                f"{field.partition('_')[0]} is pinned at {before.value:g} and stays; the file has {now.value:g}"
            )
        elif (
            isinstance(now, Imported) and not isinstance(before, Pinned) and getattr(before, "value", None) != now.value
        ):
            was = f"{before.value:g}" if isinstance(before, Imported) else "by rule"
            lines.append(f"{field.partition('_')[0]} {was} → {now.value:g}")
            changed = True
    zone = _zone_line(project, old, new, draft)
    lines += [zone] if zone else []
    if not draft.derive and new.id not in draft.updates:
        fresh = _faces_line(project, old, draft)
        if fresh:
            touched = origin.faces and digest(project, old.id) != origin.faces
            lines.append("walls or windows were edited here and stay" if touched else fresh)
            changed = changed or not touched
    return tuple(lines), changed


def _zone_line(project: Project, old: Room, new: Room, draft: Draft) -> str:
    """Set-points of a room's zone that the file has otherwise; those of the project stay until changed here."""
    here, there = find(project.zones, old.zone_id), find(draft.zones, new.zone_id)
    if here is None or there is None:
        return ""
    parts = []
    for field, word in (("heating_c", "heating"), ("cooling_c", "cooling")):
        before, now = getattr(here, field), getattr(there, field)
        if isinstance(now, Imported) and getattr(before, "value", None) != now.value:
            was = "by rule" if isinstance(before, Rule) else f"{before.value:g} °C"
            parts.append(f"{word} {was} stays, the file has {now.value:g} °C")
    return f"zone {here.name}: {', '.join(parts)}" if parts else ""


def _equal(field: str, a: object, b: object) -> bool:
    if field == "ceiling_m":
        return bool(abs(a - b) < 1e-4)
    if field == "outline":
        return len(a) == len(b) and {(round(x, 3), round(y, 3)) for x, y in a} == {
            (round(x, 3), round(y, 3)) for x, y in b
        }
    return a == b


def _line(field: str, before: object, now: object) -> str:
    if field == "outline":
        return f"outline {area_of(before):.1f} → {area_of(now):.1f} m²"
    if field == "ceiling_m":
        return f"ceiling {before:.2f} → {now:.2f} m"
    if field == "use_id":
        before, now = room_uses()[before].name, room_uses()[now].name
    return f"{NAMES[field]} {before} → {now}"


def _sums(walls: tuple[Wall, ...], slabs: tuple[Slab, ...], room_id: str) -> tuple[float, float, int]:
    """(outside wall, glass [m2], openings) of a room."""
    outside = [w for w in walls if w.outside and w.room_a == room_id]
    return (
        sum(w.length_m * w.height_m for w in outside),
        sum(o.area_m2 for w in outside for o in w.openings if o.glazing_id),
        sum(len(w.openings) for w in walls if room_id in (w.room_a, w.room_b)),
    )


def _glass(walls: tuple[Wall, ...], glazings: tuple[Glazing, ...], room_id: str) -> tuple[float, float]:
    """(U [W/m2K], g) of a room's outside glass, by area; 0 without any."""
    known = {g.id: g for g in glazings}
    panes = [
        (o.area_m2, known[o.glazing_id])
        for w in walls
        if w.outside and w.room_a == room_id
        for o in w.openings
        if o.glazing_id in known
    ]
    area = sum(a for a, _ in panes)
    return (sum(a * g.u_w_m2k for a, g in panes) / area, sum(a * g.g for a, g in panes) / area) if area else (0.0, 0.0)


def _faces_line(project: Project, old: Room, draft: Draft) -> str:
    before = _sums(walls_of(project.walls, old.id), slabs_of(project.slabs, old.id), old.id)
    now = _sums(walls_of(draft.walls, old.origin.key), slabs_of(draft.slabs, old.origin.key), old.origin.key)
    parts = []
    if abs(before[0] - now[0]) > 0.01:
        parts.append(f"outside wall {before[0]:.1f} → {now[0]:.1f} m²")
    if abs(before[1] - now[1]) > 0.01:
        parts.append(f"glass {before[1]:.1f} → {now[1]:.1f} m²")
    elif before[2] != now[2]:
        parts.append(f"openings {before[2]} → {now[2]}")
    else:
        glass = _glass(project.walls, project.glazings, old.id), _glass(draft.walls, draft.glazings, old.origin.key)
        for word, a, b, digits in zip(("window U", "window g"), *glass, (2, 2)):
            if abs(a - b) > 0.005:
                parts.append(f"{word} {a:.{digits}f} → {b:.{digits}f}")
    return ", ".join(parts)


class TakeDraft(Struct, frozen=True):
    """Rooms of a draft, by the file's ids, taken into the project; rooms taken before are brought up to date.

    remove    ids of rooms of the project that the file no longer has and that shall go
    groups    classes and layers of what others draw, taken as obstacles; those taken before from the same file go
    """

    label: ClassVar[str] = "Import rooms"
    draft: Draft
    keys: tuple[str, ...]
    remove: tuple[str, ...] = ()
    groups: tuple[str, ...] = ()

    def apply(self, project: Project) -> Project:
        draft, wanted = self.draft, set(self.keys)
        if not wanted and not self.remove and not self.groups:
            return project
        if unknown := wanted - {r.id for r in draft.rooms}:
            raise InputError(f"“{sorted(unknown)[0]}” is not among the rooms of {draft.source}")
        if self.remove:
            from garnetfin.project.edits.outlines import RemoveRooms

            project = RemoveRooms(self.remove).apply(project)
        project = _placed(project, draft)
        made, levels = _levels(project, draft)
        made = _others(made, draft, levels, set(self.groups))
        if not wanted:
            return made
        made = _marks(made, draft, levels)
        made, build_ups = _matched(made, draft, "build_ups", "B")
        made, glazings = _matched(made, draft, "glazings", "G")
        if not made.build_ups:
            made = structs.replace(made, build_ups=usual_build_ups())
        made, zones = _zones(made, draft, wanted)
        before = taken_before(made, draft)
        untouched = {
            k
            for k, r in before.items()
            if r.origin is None or not r.origin.faces or digest(made, r.id) == r.origin.faces
        }
        fresh = iter(fresh_ids(made.rooms, "n", len(wanted)))
        ids = {k: r.id for k, r in before.items() if find(made.rooms, r.id) is not None}
        system = made.air_systems[0].id if made.air_systems else ""
        rooms = list(made.rooms)
        at = {r.id: i for i, r in enumerate(rooms)}
        redrawn: set[str] = set()
        for room in draft.rooms:
            if room.id not in wanted:
                continue
            room = structs.replace(
                room,
                level_id=levels[room.level_id],
                zone_id=zones.get(room.zone_id, ""),
                system_id=system if room.system_id else "",
            )
            if room.id in ids:
                old = rooms[at[ids[room.id]]]
                merged = _merged(old, room, draft)
                rooms[at[old.id]] = merged
                same = _equal("outline", merged.outline, room.outline)
                if same and room.id in untouched and room.id not in draft.updates:
                    redrawn.add(room.id)
            else:
                ids[room.id] = next(fresh)
                redrawn.add(room.id)
                rooms.append(structs.replace(room, id=ids[room.id], origin=_origin(room, draft.source)))
        made = structs.replace(made, rooms=tuple(rooms))
        made = (
            _derived(made, draft, {ids[k] for k in redrawn}, levels, build_ups, glazings)
            if draft.derive
            else (_with_faces(made, draft, redrawn, ids, levels, build_ups, glazings))
        )
        return _signed(_rejoined(made, before, draft), {ids[k] for k in redrawn})


def _rejoined(project: Project, before: dict[str, Room], draft: Draft) -> Project:
    """Rooms that left the file and were kept share walls with their neighbours again, which the file now gives as
    outdoors.
    """
    keys = {r.id for r in draft.rooms}
    kept = {
        r.id for k, r in before.items() if k not in keys and not r.sketched and find(project.rooms, r.id) is not None
    }
    try:
        return derive(project, kept) if kept else project
    except InputError:  # an opening does not fit any more: the file's faces stand
        return project


def _placed(project: Project, draft: Draft) -> Project:
    """The first building brings its north and its place; weather stays until another is given."""
    site = project.site
    if site is None or project.rooms:
        return project
    if draft.north_deg is not None:
        site = structs.replace(site, north_deg=draft.north_deg)
    if draft.altitude_m is not None:
        site = structs.replace(site, altitude_m=draft.altitude_m)
    if draft.latitude_deg is not None and draft.longitude_deg is not None:
        site = structs.replace(
            site,
            name=draft.name[:60] or site.name,
            latitude_deg=draft.latitude_deg,
            longitude_deg=draft.longitude_deg,
            utc_offset_h=float(round(draft.longitude_deg / 15)),
            note="Weather of an invented place until another is given.",
        )
    return structs.replace(project, site=site)


def _origin(room: Room, source: str) -> RoomOrigin:
    return RoomOrigin(
        source=source,
        key=room.id,
        number=room.number,
        name=room.name,
        use_id=room.use_id,
        level_id=room.level_id,
        ceiling_m=room.ceiling_m,
        outline=room.outline,
    )


def _merged(old: Room, new: Room, draft: Draft) -> Room:
    """The room with what changed in the file, but what was set by hand since it was read as it is."""
    source = draft.source
    origin, changes = _known_origin(old, source, new.id), {}
    for field in (*PLAIN, "level_id"):
        before, now, file = getattr(old, field), getattr(new, field), getattr(origin, field)
        if _equal(field, before, file) and not _equal(field, now, before):
            changes[field] = now
    for field in ROOM_VALUES:
        if not isinstance(getattr(old, field), Pinned) and not isinstance(getattr(new, field), Rule):
            changes[field] = getattr(new, field)
    if not old.zone_id and new.zone_id:
        changes["zone_id"] = new.zone_id
    # a list that brings figures of rooms which came from elsewhere does not make them its own
    own = old.origin is not None and old.origin.source == source
    if own or new.id not in draft.updates:
        changes["origin"] = structs.replace(_origin(new, source), faces=origin.faces)
    try:
        return structs.replace(old, **changes)
    except InputError:  # e.g. set-points that cross what is pinned here: figures stay, the rest comes
        return structs.replace(old, **{k: v for k, v in changes.items() if k not in ROOM_VALUES})


def _levels(project: Project, draft: Draft) -> tuple[Project, dict[str, str]]:
    """Levels of the draft among the project's by height, else new; a project without rooms takes the draft's alone."""
    held = {
        x.level_id
        for kind in ("rooms", "duct_points", "plan_marks", "ceiling_zones", "obstacles", "underlays")
        for x in getattr(project, kind)
    }
    levels = [x for x in project.levels if x.id in held or project.rooms or x in draft.levels]
    ids: dict[str, str] = {}
    for level in draft.levels:
        near = [x for x in levels if abs(x.elevation_m - level.elevation_m) <= SAME_LEVEL_M]
        if near:
            ids[level.id] = min(near, key=lambda x: abs(x.elevation_m - level.elevation_m)).id
        else:
            ids[level.id] = fresh_ids((*project.levels, *levels), "L", 1)[0]
            levels.append(structs.replace(level, id=ids[level.id]))
    levels.sort(key=lambda x: x.elevation_m)
    return structs.replace(
        project, levels=tuple(levels) or (Level(id="L0", name="Ground", elevation_m=0.0, storey_m=3.4),)
    ), ids


def _others(project: Project, draft: Draft, levels: dict[str, str], groups: set[str]) -> Project:
    """What others draw in the way, brought up to date for the groups taken; sleeves made here stay."""
    if not groups:
        return project
    before = {(o.group, o.outline): o for o in project.obstacles if o.source == draft.source and o.group in groups}
    kept = [o for o in project.obstacles if not (o.source == draft.source and o.group in groups)]
    wanted = [r for r in draft.references if r.group in groups]
    fresh = iter(fresh_ids(project.obstacles, "ob", len(wanted)))
    for reference in wanted:
        there = reference.obstacle
        old = before.get((reference.group, there.outline))
        kept.append(
            structs.replace(
                there,
                id=old.id if old is not None else next(fresh),
                level_id=levels[there.level_id],
                sleeves=old.sleeves if old is not None else (),
                source=draft.source,
                group=reference.group,
            )
        )
    return structs.replace(project, obstacles=tuple(kept))


def _marks(project: Project, draft: Draft, levels: dict[str, str]) -> Project:
    """Shafts of the file that do not stand there already."""
    there = {(m.kind, m.level_id, frozenset(m.outline)) for m in project.plan_marks}
    new = [
        structs.replace(m, level_id=levels[m.level_id])
        for m in draft.marks
        if (m.kind, levels[m.level_id], frozenset(m.outline)) not in there
    ]
    fresh = fresh_ids(project.plan_marks, "m", len(new))
    marks = (structs.replace(m, id=own) for m, own in zip(new, fresh))
    return structs.replace(project, plan_marks=(*project.plan_marks, *marks))


def _matched(project: Project, draft: Draft, kind: str, prefix: str) -> tuple[Project, dict[str, str]]:
    """Build-ups or glazings of the draft: one that is here with the same name and make-up, else a new one."""
    items, ids = list(getattr(project, kind)), {}
    known = {structs.replace(x, id=""): x.id for x in items}
    fresh = iter(fresh_ids(tuple(items), prefix, len(getattr(draft, kind))))
    for item in getattr(draft, kind):
        bare = structs.replace(item, id="")
        if bare not in known:
            known[bare] = next(fresh)
            items.append(structs.replace(item, id=known[bare]))
        ids[item.id] = known[bare]
    return structs.replace(project, **{kind: tuple(items)}), ids


def _zones(project: Project, draft: Draft, wanted: set[str]) -> tuple[Project, dict[str, str]]:
    used = {r.zone_id for r in draft.rooms if r.id in wanted}
    zones, ids = list(project.zones), {}
    for zone in draft.zones:
        if zone.id in used:
            same = next((z for z in zones if z.name == zone.name), None)
            ids[zone.id] = same.id if same else fresh_ids(tuple(zones), "z", 1)[0]
            if same is None:
                zones.append(structs.replace(zone, id=ids[zone.id]))
    return structs.replace(project, zones=tuple(zones)), ids


def _with_faces(
    project: Project,
    draft: Draft,
    keys: set[str],
    ids: dict[str, str],
    levels: dict[Any, Any],
    build_ups: dict[Any, Any],
    glazings: dict[Any, Any],
) -> Project:
    """Walls and slabs of the file in place of those the rooms had."""
    ours = {ids[k] for k in keys}

    # A file whose north differs from the project's lies turned beside it; its walls keep what the drawing's axes say
    # here.
    turned = (project.site.north_deg if project.site else 0.0) - (draft.north_deg or 0.0)

    def room(key: str) -> str:
        return key if key in NO_ROOM else ids.get(key, INSIDE)

    walls = [w for w in project.walls if not ours & {w.room_a, w.room_b}]
    fresh = iter(fresh_ids(project.walls, "w", len(draft.walls)))
    numbers = iter(
        fresh_ids(tuple(o for w in project.walls for o in w.openings), "W", sum(len(w.openings) for w in draft.walls))
    )
    for wall in draft.walls:
        if wall.room_a in keys or wall.room_b in keys:
            a, b, facing = (
                room(wall.room_a),
                room(wall.room_b),
                round((wall.facing_deg + turned) % 360, 6) if wall.outside else 0.0,
            )
            if a == INSIDE:
                a, b = b, a
            openings = tuple(
                structs.replace(o, id=next(numbers), glazing_id=glazings.get(o.glazing_id, "")) for o in wall.openings
            )
            walls.append(
                structs.replace(
                    wall,
                    id=next(fresh),
                    level_id=levels[wall.level_id],
                    room_a=a,
                    room_b=b,
                    facing_deg=facing,
                    build_up_id=build_ups[wall.build_up_id],
                    openings=openings,
                )
            )
    slabs = [s for s in project.slabs if not ours & {s.room_below, s.room_above}]
    numbers = iter(fresh_ids(project.slabs, "s", len(draft.slabs)))
    for slab in draft.slabs:
        if slab.room_below in keys or slab.room_above in keys:
            slabs.append(
                structs.replace(
                    slab,
                    id=next(numbers),
                    room_below=room(slab.room_below),
                    room_above=room(slab.room_above),
                    build_up_id=build_ups[slab.build_up_id],
                )
            )
    made = structs.replace(project, walls=tuple(walls), slabs=tuple(slabs))
    bare = ours - {i for s in slabs for i in (s.room_below, s.room_above)} - {r.id for r in made.rooms if r.sketched}
    if bare:  # a file may bound its rooms by walls alone
        made = structs.replace(made, slabs=derived_slabs(made, bare))
    # Files do not give the exposed edge of a floor on the ground: it follows from the outside walls.
    perimeter = ground_perimeter(made)
    return structs.replace(
        made,
        slabs=tuple(
            structs.replace(s, perimeter_m=round(perimeter(s.area_m2), 6))
            if s.kind == "ground" and not s.perimeter_m
            else s
            for s in made.slabs
        ),
    )


def _derived(
    project: Project,
    draft: Draft,
    ours: set[str],
    levels: dict[Any, Any],
    build_ups: dict[Any, Any],
    glazings: dict[Any, Any],
) -> Project:
    """Walls and slabs from the outlines, with the file's build-ups, and its openings on the nearest walls."""
    bare = structs.replace(
        project,
        walls=tuple(structs.replace(w, openings=()) if ours & {w.room_a, w.room_b} else w for w in project.walls),
    )
    made = derive(bare, ours)
    outside, inside = (build_ups.get(x, "") for x in (draft.outside_build_up, draft.inside_build_up))
    walls = []
    for w in made.walls:
        wanted = (outside if w.outside else inside) if ours & {w.room_a, w.room_b} else ""
        walls.append(structs.replace(w, build_up_id=wanted) if wanted else w)
    numbers = iter(fresh_ids(tuple(o for w in walls for o in w.openings), "W", len(draft.openings)))
    by_level: dict[str, list[int]] = {}
    for i, w in enumerate(walls):
        if ours & {w.room_a, w.room_b}:
            by_level.setdefault(w.level_id, []).append(i)
    for loose in draft.openings:
        glazed = bool(loose.opening.glazing_id)
        near = [
            (off(walls[i], loose.at), i)
            for i in by_level.get(levels[loose.level_id], ())
            if walls[i].length_m >= loose.opening.width_m and (walls[i].outside or not glazed)
        ]
        if near and min(near)[0] <= OPENING_NEAR_M:
            i = min(near)[1]
            wall, half = walls[i], loose.opening.width_m / 2
            at = min(max(along_wall(wall, loose.at), half), wall.length_m - half)
            if all(abs(o.at_m - at) >= (o.width_m + loose.opening.width_m) / 2 - 1e-6 for o in wall.openings):
                kind = loose.opening.kind
                kind = kind if glazed else "outside door" if wall.outside else "door"
                placed = structs.replace(
                    loose.opening,
                    id=next(numbers),
                    at_m=round(at, 6),
                    kind=kind,
                    glazing_id=glazings.get(loose.opening.glazing_id, ""),
                )
                walls[i] = structs.replace(wall, openings=(*wall.openings, placed))
    return structs.replace(made, walls=tuple(walls))


def homeless(before: Project, after: Project, command: TakeDraft) -> int:
    """How many windows and doors of a draft whose rooms were all taken found no wall to stand in."""
    draft = command.draft
    if not draft.derive or set(command.keys) < {r.id for r in draft.rooms} or before.rooms:
        return 0
    return len(draft.openings) - sum(len(w.openings) for w in after.walls)


def _signed(project: Project, ours: set[str]) -> Project:
    rooms = tuple(
        structs.replace(r, origin=structs.replace(r.origin, faces=digest(project, r.id)))
        if r.origin is not None and r.id in ours
        else r
        for r in project.rooms
    )
    return structs.replace(project, rooms=rooms)
