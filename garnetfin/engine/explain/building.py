"""Why? of the building itself: floors, glass, faces and openings, ceilings, and how rooms without plant drift."""

from garnetfin import display
from garnetfin.core.airflow.supply import NEEDS
from garnetfin.engine.explain.derivation import (
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    counted,
    first,
    most,
    the,
    the_room,
)
from garnetfin.engine.results import Results, RoomResult
from garnetfin.project.lookup import walls_of
from garnetfin.project.spaces import Room


def greatest(parts: list[Contribution]) -> tuple[Contribution, ...]:
    return most(sorted(parts, key=lambda p: -abs(p.figure)))


def room_name(results: Results, room_id: str) -> str:
    room = the(results.project.rooms, room_id)
    return f"{room.number} {room.name}"


# -- floors and counts --------------------------------------------------------------------------------------------
def floor(results: Results, level_id: str = "") -> Why:
    """Floor of the rooms of a level, or of all."""
    return _floor(results, [r for r in results.project.rooms if level_id in ("", r.level_id)])


def floor_of(results: Results, ids: tuple[str, ...]) -> Why:
    return _floor(results, [r for r in results.project.rooms if r.id in ids])


def _floor(results: Results, rooms: list[Room]) -> Why:
    parts = [
        Contribution(
            f"{r.number} {r.name}", the_room(results, r.id).figures.area_m2.figure, "area", ("input", r.id, "area_m2")
        )
        for r in rooms
        if results.room(r.id) is not None
    ]
    if not parts:
        raise NotThere
    basis = "on wall centre lines" if results.project.area_basis == "centre" else "between the walls"
    return Why(
        "Floor of the rooms",
        sum(p.figure for p in parts),
        "area",
        (f"the sum of {len(parts)} rooms, measured {basis} where nothing is typed",),
        greatest(parts),
    )


def rooms_of(results: Results, field: str, part_id: str) -> Why:
    """How many rooms a level or a zone has."""
    name = the(results.project.levels if field == "level_id" else results.project.zones, part_id).name
    rooms = [r for r in results.project.rooms if getattr(r, field) == part_id]
    return counted(
        f"Rooms of {name}",
        [
            Contribution(f"{r.number} {r.name}", 1, "count", ("room", r.id, "cooling") if results.room(r.id) else ())
            for r in rooms
        ],
    )


def governed(results: Results, system_id: str, what: str) -> Why:
    """How many rooms of a system take their air for one reason."""
    rows = [r for r in among(results.air, system_id).rooms if r.governs == what]
    reason = f"{what} is the greatest of the needs that air has to meet" if what in NEEDS else what
    return counted(
        f"Rooms in which {what} governs",
        [Contribution(room_name(results, r.room_id), 1, "count", ("flow", r.room_id)) for r in rows],
        reason,
    )


def unclaimed(results: Results, level_id: str) -> Why:
    check = first(c for c in results.building.levels if c.level_id == level_id)
    return Why(
        "Enclosed by rooms, in no room",
        check.unclaimed_m2,
        "area",
        ("gaps between rooms that rooms close in; they have no load and no air",),
        (
            Contribution("In rooms", check.rooms_m2, "area", ("floor", level_id)),
            *((Contribution("As the drawing gives it", check.floor_m2, "area"),) if check.floor_m2 else ()),
        ),
        go=("level", level_id),
    )


# -- faces and openings -------------------------------------------------------------------------------------------
def glass(results: Results, facing_deg: float | None = None) -> Why:
    """Glass in outside walls, of one direction or of all."""
    walls = [
        w
        for w in results.project.walls
        if w.outside and (facing_deg is None or round(w.facing_deg / 45) % 8 * 45 == facing_deg % 360)
    ]
    parts = [
        Contribution(
            f"{o.kind} {o.id}, {room_name(results, w.room_a)}", o.area_m2, "area", ("opening", w.id, o.id, "area")
        )
        for w in walls
        for o in w.openings
        if o.glazing_id
    ]
    whole = sum(w.length_m * w.height_m for w in walls)
    where = "all outside walls" if facing_deg is None else f"walls that look {display.direction(facing_deg).lower()}"
    area = sum(p.figure for p in parts)
    return Why(
        f"Glass, {where}",
        area,
        "area",
        (
            "the sum of its windows: ",
            Term(area / whole if whole else 0.0, "fraction"),
            " of ",
            Term(whole, "area"),
            " of wall",
        ),
        greatest(parts),
    )


def opening(results: Results, wall_id: str, opening_id: str, what: str) -> Why:
    wall = the(results.project.walls, wall_id)
    o = first(o for o in wall.openings if o.id == opening_id)
    name, go = f"{o.kind.capitalize()} {o.id}", ("opening", f"{wall_id}/{opening_id}")
    if what == "area":
        return Why(
            f"Area of {name}",
            o.area_m2,
            "area",
            (Term(o.width_m, "length"), " wide × (", Term(o.head_m, "length"), " − ", Term(o.sill_m, "length"), ")"),
            (),
            "drawn or typed",
            "typed",
            go,
        )
    g = the(results.project.glazings, o.glazing_id)
    if what == "u":
        return Why(
            f"U-value of {name}",
            g.u_w_m2k,
            "u_value",
            (),
            (),
            f"glass “{g.name}”, whole window with frame",
            "typed",
            go,
        )
    return Why(
        f"Sun factor of {name}",
        g.g,
        "plain",
        (),
        (Contribution("of it let through at once", g.tau_e, "plain"),),
        f"glass “{g.name}”, normal incidence",
        "typed",
        go,
    )


def faces(results: Results, room_id: str, which: tuple[int, ...]) -> Why:
    """Area of one face of a room, or of several that are alike."""
    found = the_room(results, room_id)
    if len(which) > 1:
        parts = [
            Contribution(
                f"{found.faces[i].name}, {display.direction(found.faces[i].azimuth_deg).lower()}",
                found.faces[i].area_m2,
                "area",
                ("faces", room_id, (i,)),
            )
            for i in which
        ]
        return Why(
            f"{len(which)} faces alike",
            sum(p.figure for p in parts),
            "area",
            ("their sum",),
            tuple(parts),
            go=("room", room_id),
        )
    return _face(results, found, which[0])


def _face(results: Results, found: RoomResult, i: int) -> Why:
    face, room, go = found.faces[i], the(results.project.rooms, found.room_id), ("room", found.room_id)
    if face.opening_id:
        return opening(results, face.wall_id, face.opening_id, "area")
    u = Contribution(f"its U-value, {face.name}", face.u_w_m2k, "u_value", ("u", found.room_id, i))
    if not face.wall_id:
        words = (
            "the plan area both rooms share"
            if face.to.startswith(("room:", "unheated", "inside"))
            else "the part of the outline under the sky"
            if face.kind == "roof"
            else "the part of the outline with nothing heated below"
        )
        slope = f", over the cosine of {face.tilt_deg:.0f}°" if face.kind == "roof" and face.tilt_deg > 0.5 else ""
        return Why(
            f"Area of {face.name}",
            face.area_m2,
            "area",
            (f"{words}{slope}",),
            (u,),
            f"outline of {room.number} on its level",
            go=go,
        )
    own = the(results.project.walls, face.wall_id)
    if not own.outside:
        return Why(
            f"Area of {face.name}",
            face.area_m2,
            "area",
            (Term(own.length_m, "length"), " × ", Term(own.height_m, "length"), " high"),
            (u,),
            "wall between the rooms",
            go=go,
        )
    buried = face.to == "ground"
    alike = [
        w
        for w in walls_of(results.project.walls, room.id)
        if w.outside
        and w.build_up_id == own.build_up_id
        and w.facing_deg % 360 == own.facing_deg % 360
        and (w.buried_m > 0) == (own.buried_m > 0)
    ]
    if buried:
        return Why(
            f"Area of {face.name}",
            face.area_m2,
            "area",
            ("length × depth in the ground",),
            tuple(Contribution(f"Wall {w.id}", w.length_m * w.buried_m, "area") for w in alike),
            go=go,
        )
    parts = [
        Contribution(
            f"Wall {w.id}",
            w.length_m * (w.height_m - w.buried_m),
            "area",
            (),
            f"{w.length_m:.2f} × {w.height_m - w.buried_m:.2f} m",
        )
        for w in alike
    ]
    parts += [
        Contribution(f"less {o.kind} {o.id}", -o.area_m2, "area", ("opening", w.id, o.id, "area"))
        for w in alike
        for o in w.openings
    ]
    return Why(
        f"Area of {face.name}, {display.direction(face.azimuth_deg).lower()}",
        face.area_m2,
        "area",
        ("walls of this direction and build-up, less what is in them",),
        (*parts, u),
        go=go,
    )


def measured(results: Results, room_id: str, basis: str) -> Why:
    """Floor of a room on wall centre lines or between its walls."""
    f, room = the_room(results, room_id).figures, the(results.project.rooms, room_id)
    if basis == "centre":
        return Why(
            f"Floor of {room.number} on wall centres",
            f.centre_m2,
            "area",
            (f"of an outline with {len(room.outline)} corners",),
            (Contribution("Volume", f.centre_m2 * room.ceiling_m, "volume", (), f"{room.ceiling_m:g} m high"),),
            "drawn",
            go=("room", room_id),
        )
    lost = [
        Contribution(f"Wall {w.id}, half of {w.thickness_m * 1000:.0f} mm", -w.length_m * w.thickness_m / 2, "area")
        for w in walls_of(results.project.walls, room_id)
    ]
    corners = f.net_m2 - f.centre_m2 - sum(p.figure for p in lost)
    return Why(
        f"Floor of {room.number} between its walls",
        f.net_m2,
        "area",
        (Term(f.centre_m2, "area", ("measured", room_id, "centre")), " less half of every wall around it"),
        (
            *greatest(lost),
            *((Contribution("Corners, counted twice", corners, "area"),) if abs(corners) > 0.005 else ()),
        ),
        "drawn",
        go=("room", room_id),
    )


def free_height(results: Results, zone_id: str) -> Why:
    zone = the(results.project.ceiling_zones, zone_id)

    def own(name: str, label: str) -> Term:
        return Term(getattr(zone, name), "length", ("given", "ceiling zone", (zone_id,), name, label, "length"))

    return Why(
        f"Free for ducts above {zone.name}",
        zone.free_m,
        "duct_size",
        (own("soffit_m", "Structure"), " − ", own("ceiling_m", "Ceiling"), " − ", own("allowance_m", "Clearance")),
        (),
        "heights above the floor",
        go=("ceiling zone", zone_id),
    )


# -- rooms that drift ---------------------------------------------------------------------------------------------
def air_in(results: Results, room_id: str, month: int, hour: int) -> Why:
    """Air of a room at an hour of the design days, kept or not."""
    found = the_room(results, room_id)
    return Why(
        f"Air in {room_name(results, room_id)}, {display.hour(month, hour)}",
        float(found.air_c[month, hour]),
        "temperature",
        ("no plant: what enters and what leaves agree there",) if not found.kept else ("with the limits of its plant",),
        (
            Contribution(
                "Outdoors then",
                float(results.climate.days.dry_bulb_c[month, hour]),
                "temperature",
                ("outdoor", month, hour),
            ),
            Contribution(
                "Mean radiant temperature then",
                float(found.star_c[month, hour]),
                "temperature",
                ("radiant", room_id, month, hour),
            ),
        ),
        go=("room", room_id),
    )


def radiant(results: Results, room_id: str, month: int, hour: int) -> Why:
    found = the_room(results, room_id)
    return Why(
        f"Mean radiant temperature in {room_name(results, room_id)}, {display.hour(month, hour)}",
        float(found.star_c[month, hour]),
        "temperature",
        ("of all its faces, each by its area and what it radiates",),
        (Contribution("Air then", float(found.air_c[month, hour]), "temperature", ("air in", room_id, month, hour)),),
        "the heat balance of the room; see methods, Loads",
        go=("room", room_id),
    )


def winter(results: Results, room_id: str) -> Why:
    found = the_room(results, room_id)
    return Why(
        f"Winter in {room_name(results, room_id)}",
        found.winter_c,
        "temperature",
        ("without plant it stands between the rooms beside and outdoors, by what it loses to each",),
        (
            Contribution(
                "Outdoors on the winter design day",
                results.climate.figures.winter_c.figure,
                "temperature",
                ("site", "winter_c"),
            ),
        ),
        "steady losses, EN ISO 13789",
        go=("room", room_id),
    )


BUILDING_KINDS = {
    "floor": floor,
    "floor of": floor_of,
    "rooms of": rooms_of,
    "governed": governed,
    "unclaimed": unclaimed,
    "glass": glass,
    "opening": opening,
    "faces": faces,
    "measured": measured,
    "free height": free_height,
    "air in": air_in,
    "radiant": radiant,
    "winter": winter,
}
