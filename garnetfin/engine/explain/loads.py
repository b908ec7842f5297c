"""Why? of the loads of one room: causes by hour, moisture, drift, early estimate, heating."""

import numpy as np

from garnetfin import display
from garnetfin.core.loads.heating import AIR_WH_M3K, GROUND_FACTOR, balanced_heating
from garnetfin.engine.explain.derivation import Contribution, Term, Why, present, the, the_room
from garnetfin.engine.explain.faces import faces_why
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Results, RoomResult
from garnetfin.engine.stages.boundary_conditions import Hours, Row, by_clock
from garnetfin.engine.stages.loads import WinterDay, days_of, winter_day
from garnetfin.engine.stages.plenum import lost_above
from garnetfin.project.spaces import Room

BALANCE = "Room heat balance with periodic response of every face, ISO 13786; see methods, Loads"


# -- rooms --------------------------------------------------------------------------------------------------------
def room_why(results: Results, room_id: str, what: str, month: int = -1, hour: int = -1) -> Why:
    found = the_room(results, room_id)
    room = the(results.project.rooms, room_id)
    title = f"{room.number} {room.name}"
    if what == "heating":
        return _heating(results, found, title)
    if what == "latent":
        m, h = (month, hour) if month >= 0 else found.peak
        return _latent(found, title, m, h, in_use(results, found, m, h))
    if not found.kept:
        return _drift(results, found, title)
    if found.estimate is not None:
        return _estimate(found, title)
    m, h = (month, hour) if month >= 0 else found.peak
    values = [(c, float(found.by_cause_w[i, m, h])) for i, c in enumerate(CAUSES)]
    parts = tuple(
        Contribution(c.capitalize(), v, "load", ("cause", room_id, c, m, h), _delay(found, c, m, h))
        for c, v in sorted(values, key=lambda x: -abs(x[1]))
        if abs(v) >= 0.05
    )
    at_peak = (m, h) == found.peak
    return Why(
        f"Cooling of {title}, {display.hour(m, h)}",
        float(found.sensible_w[m, h]),
        "load",
        ("the sum of its causes", *(("; the greatest of the counted hours of twelve design days",) if at_peak else ())),
        parts,
        BALANCE,
        "",
        ("room", room_id),
        f"Temperatures count from the set-point of {found.figures.cooling_c.figure:g} °C. What a face stored "
        "before and gives off now stands with the cause it came from.",
    )


def _delay(found: RoomResult, cause: str, m: int, h: int) -> str:
    at_once = float(found.instant_w[CAUSES.index(cause), m, h])
    return f"{display.number(at_once)} W enter in this hour" if abs(at_once) >= 0.5 else ""


def cause_why(results: Results, room_id: str, cause: str, m: int, h: int) -> Why:
    found, project, climate = the_room(results, room_id), results.project, results.climate
    room = the(project.rooms, room_id)
    value = float(found.by_cause_w[CAUSES.index(cause), m, h])
    name, f = f"{cause.capitalize()} of {room.number}, {display.hour(m, h)}", found.figures
    inside, outdoor = f.cooling_c.figure, float(climate.days.dry_bulb_c[m, h])
    set_point = Term(inside, "temperature", ("input", room_id, "cooling_c"))
    out = Term(outdoor, "temperature", ("outdoor", m, h))
    if cause == "infiltration":
        flow = f.infiltration_1h.figure * found.volume_m3 / 3600
        heat = climate.air_heat_j_m3k
        return Why(
            name,
            value,
            "load",
            (
                Term(f.infiltration_1h.figure, "air_change", ("input", room_id, "infiltration_1h")),
                " × ",
                Term(found.volume_m3, "volume"),
                f" / 3600 s × {heat:.0f} J/m³K × (",
                out,
                " − ",
                set_point,
                ")",
            ),
            (Contribution("Air that leaks in", flow, "room_flow"),),
            "Mixed with the room at once",
            go=("room", room_id),
        )
    if cause == "thermal bridges":
        area = sum(x.area_m2 for x in found.faces if x.to == "outdoors")
        return Why(
            name,
            value,
            "load",
            (
                Term(assumption(project.book, "bridges_w_m2k").figure, "u_value", ("book", "bridges_w_m2k")),
                " × ",
                Term(area, "area"),
                " of outside faces × (",
                out,
                " − ",
                set_point,
                ")",
            ),
            (),
            "Straight to outdoors, no delay",
            go=("room", room_id),
        )
    if cause in ("people", "lights", "equipment"):
        return _gain(found, room, cause, name, value, in_use(results, found, m, h))
    if cause == "set-point change":
        return Why(
            name,
            value,
            "load",
            ("what is left when the set-point differs by hour: cooling down what the room stored",),
            (),
            BALANCE,
            go=("room", room_id),
        )
    return faces_why(results, found, room, cause, name, value, m, h)


def in_use(results: Results, found: RoomResult, m: int, h: int) -> float:
    """Share of full use in an hour of a design day, in standard time as all hours of results are."""
    return float(by_clock(found.figures.profile.summer, results.project.site)[m, h])


def _gain(found: RoomResult, room: Room, cause: str, name: str, value: float, share: float) -> Why:
    f, use = found.figures, found.figures.use
    profile = Term(share, "fraction", ("profile", room.id))
    if cause == "people":
        full = f.people.figure * use.sensible_w
        radiant, terms = (
            use.people_radiant,
            (
                Term(f.people.figure, "plain", ("input", room.id, "people")),
                " people × ",
                f"{use.sensible_w:g} W × ",
                profile,
                " of full use",
            ),
        )
    else:
        field = f"{cause}_w_m2"
        density = getattr(f, field).figure
        full = density * f.area_m2.figure
        radiant = use.lights_radiant if cause == "lights" else use.equipment_radiant
        terms = (
            Term(density, "power_density", ("input", room.id, field)),
            " × ",
            Term(f.area_m2.figure, "area", ("input", room.id, "area_m2")),
            " × ",
            profile,
            " of full use",
        )
    now = full * share
    return Why(
        name,
        value,
        "load",
        (*terms, " = ", Term(now, "load"), f"; {radiant:.0%} of it radiates and is stored by faces first"),
        (
            Contribution("Given off in this hour", now, "load"),
            Contribution("of it to the air at once", now * (1 - radiant), "load"),
            Contribution("Stored before and coming back, less what is stored now", value - now, "load"),
        ),
        f"{use.source}" if cause == "people" else "",
        go=("room", room.id),
    )


def _latent(found: RoomResult, title: str, m: int, h: int, share: float) -> Why:
    f = found.figures
    people = f.people.figure * f.use.latent_w * share
    value = float(found.latent_w[m, h])
    return Why(
        f"Latent load of {title}, {display.hour(m, h)}",
        value,
        "load",
        (
            "moisture of people, processes and leaking air against a room held at "
            f"{f.humidity:.0%} and {f.cooling_c.figure:g} °C",
        ),
        (
            Contribution("People", people, "load", ("input", found.room_id, "people"), f"{f.use.latent_w:g} W each"),
            Contribution("Process", f.moisture_w.figure * share, "load", ("input", found.room_id, "moisture_w")),
            Contribution("Infiltration, and what the air stores", value - people - f.moisture_w.figure * share, "load"),
        ),
        "2.5 MJ/kg",
        go=("room", found.room_id),
    )


def _drift(results: Results, found: RoomResult, title: str) -> Why:
    warm, m, h = found.warmest
    return Why(
        f"Warmest air in {title}",
        warm,
        "temperature",
        (f"no plant: the air drifts until what enters and what leaves agree; {display.hour(m, h)}",),
        (
            Contribution(
                "Outdoors then", float(results.climate.days.dry_bulb_c[m, h]), "temperature", ("outdoor", m, h)
            ),
            Contribution("Mean radiant temperature then", float(found.star_c[m, h]), "temperature"),
            Contribution("Winter design day", found.winter_c, "temperature", (), "from its steady losses"),
        ),
        BALANCE,
        go=("room", found.room_id),
    )


def _estimate(found: RoomResult, title: str) -> Why:
    e, area = found.estimate, found.figures.area_m2.figure
    names = {
        "glass_share": ("Glass of an outside wall", "estimate_glass"),
        "g": ("Sun factor g", "estimate_g"),
        "wall_u": ("U-value of the wall", "estimate_wall_u"),
        "infiltration_1h": ("Infiltration", "estimate_leak_1h"),
        "people": ("People", ""),
        "lights_w_m2": ("Lights", ""),
        "equipment": ("Equipment", ""),
    }
    parts = tuple(
        Contribution(
            f"{names[n][0]}: low and high",
            (a - e.cooling_w_m2) * area,
            "load",
            ("book", names[n][1])
            if names[n][1]
            else ("input", found.room_id, "lights_w_m2" if "light" in n else "area_m2"),
            f"{(b - e.cooling_w_m2) * area:+.0f} W with its high",
        )
        for n, a, b in e.by_assumption
    )
    return Why(
        f"Early estimate for {title}",
        e.cooling_w_m2 * area,
        "load",
        (
            Term(e.cooling_w_m2, "power_density"),
            " × ",
            Term(area, "area", ("input", found.room_id, "area_m2")),
            "; likely ",
            Term(e.low_w_m2 * area, "load"),
            " to ",
            Term(e.high_w_m2 * area, "load"),
            ", at most ",
            Term(e.most_w_m2 * area, "load"),
        ),
        parts,
        "A typical square floor with the office standards' shell, through the same engine",
        go=("room", found.room_id),
        remark="Give the room outside walls, or draw it, and its own faces take over.",
    )


def _heating(results: Results, found: RoomResult, title: str) -> Why:
    climate = present(results.climate)
    rows = [(c, float(found.heating_by_cause_w[i])) for i, c in enumerate(HEATING_CAUSES)]
    parts = [
        Contribution(c.capitalize(), v, "load", ("heating", found.room_id, c))
        for c, v in sorted(rows, key=lambda x: -x[1])
        if abs(v) >= 0.5
    ]
    steady = sum(v for _, v in rows)
    parts += [
        Contribution("All of it, steady", steady, "load", (), "EN 12831-1"),
        Contribution(
            "From the balance of all faces",
            found.heating_balanced_w,
            "load",
            ("heating", found.room_id, "balance"),
            "operative set-point held, no warm-up",
        ),
    ]
    if found.warm_up_w > 0:
        parts.append(
            Contribution(
                "To warm up in time after a night off",
                found.warm_up_w,
                "load",
                ("heating", found.room_id, "start of the plant"),
            )
        )
    return Why(
        f"Heating of {title}",
        found.heating_w,
        "load",
        (
            "the greatest of the steady sum, the balance, and the warm-up, at ",
            Term(climate.figures.winter_c.figure, "temperature", ("site", "winter_c")),
            " outdoors and ",
            Term(found.figures.heating_c.figure, "temperature", ("input", found.room_id, "heating_c")),
            " inside",
        ),
        tuple(parts),
        "In the manner of EN 12831-1:2017",
        go=("room", found.room_id),
    )


def _one_winter_day(results: Results, found: RoomResult) -> tuple[Row, Hours, WinterDay]:
    project, climate = results.project, present(results.climate)
    row, hours, days = days_of(project, climate, the(project.rooms, found.room_id), results.rooms, Memo())
    return row, hours, winter_day(project, climate, [row], [hours], days)


def _balance(results: Results, found: RoomResult, number: str) -> Why:
    """What passes out through each face while the operative set-point is held."""
    row, _, day = _one_winter_day(results, found)
    held = balanced_heating(day.faces, day.behind_c, day.open_back, day.exchange_w_k, day.outside_c, day.inside_c)
    parts = [
        Contribution(f"{s.face.name} {s.face.area_m2:.1f} m²", float(w), "load", ("u", found.room_id, i))
        for i, (s, w) in enumerate(zip(row.fabric.surfaces, held.lost_w))
        if abs(w) >= 0.05
    ]
    through_air = float(day.exchange_w_k[0] * (held.air_c[0] - day.outside_c))
    gains = float(held.heat_w[0]) - found.heating_balanced_w
    parts.append(Contribution("Infiltration and thermal bridges", through_air, "load"))
    if abs(gains) >= 0.05:
        parts.append(Contribution("Gains by the winter day's profile", -gains, "load", ("profile", found.room_id)))
    return Why(
        f"Heating of {number} from the balance",
        found.heating_balanced_w,
        "load",
        (
            "air at ",
            Term(float(held.air_c[0]), "temperature"),
            " and faces at ",
            Term(float(held.star_c[0]), "temperature"),
            " in the mean: together the operative set-point of ",
            Term(found.figures.heating_c.figure, "temperature", ("input", found.room_id, "heating_c")),
        ),
        tuple(sorted(parts, key=lambda p: -p.figure)),
        BALANCE,
        go=("room", found.room_id),
    )


def _start_of_plant(results: Results, found: RoomResult, number: str) -> Why:
    """What warms the room up in time: its steady loss, and what the hours without plant took."""
    _, hours, day = _one_winter_day(results, found)
    steady = found.heating_balanced_w
    return Why(
        f"Heating of {number} to warm up in time",
        found.warm_up_w,
        "load",
        (
            f"the least steady heat with which the room is at its set-point when use begins; the plant runs "
            f"{display.hours_of_day(hours.winter.on)}, use begins at "
            + " and ".join(f"{h} h" for h in np.flatnonzero(hours.winter.first_used)),
        ),
        (
            Contribution("To hold the set-point", steady, "load", ("heating", found.room_id, "balance")),
            Contribution("What the hours without plant took, to be given back", found.warm_up_w - steady, "load"),
            Contribution("Outdoors", day.outside_c, "temperature", ("site", "winter_c")),
        ),
        "Room heat balance, plant by the hour; see methods, Loads",
        go=("room", found.room_id),
        remark="An earlier start needs less.",
    )


def _roof_of_void(results: Results, found: RoomResult, rise: float) -> list[Contribution]:
    """What lies above the ceiling tiles of a room with a void, and the walls beside it."""
    project = results.project
    row, _, _ = days_of(project, present(results.climate), the(project.rooms, found.room_id), {}, Memo())
    return [
        Contribution(f"{s.face.name}, at the void {s.face.area_m2:.1f} m²", ua * rise, "load", (), f"{ua:.2f} W/K")
        for s, ua in lost_above(project, row)
    ]


def heating_cause_why(results: Results, room_id: str, cause: str) -> Why:
    found, climate, project = the_room(results, room_id), results.climate, results.project
    if cause in ("balance", "start of the plant"):
        number = the(project.rooms, room_id).number
        return (_balance if cause == "balance" else _start_of_plant)(results, found, number)
    f, room = found.figures, the(results.project.rooms, room_id)
    value = float(found.heating_by_cause_w[HEATING_CAUSES.index(cause)])
    rise = f.heating_c.figure - climate.figures.winter_c.figure
    drop = (
        "(",
        Term(f.heating_c.figure, "temperature", ("input", room_id, "heating_c")),
        " − ",
        Term(climate.figures.winter_c.figure, "temperature", ("site", "winter_c")),
        ")",
    )
    name = f"Heating of {room.number}: {cause}"
    if cause == "warm-up" and value == 0:
        never = "its plant never goes off on the winter day: nothing is to be warmed up"
        return Why(name, 0.0, "load", (never,), (), "EN 12831-1, reheat")
    if cause == "warm-up":
        return Why(
            name,
            value,
            "load",
            (
                Term(assumption(project.book, "warm_up_w_m2").figure, "power_density", ("book", "warm_up_w_m2")),
                " × ",
                Term(f.area_m2.figure, "area", ("input", room_id, "area_m2")),
            ),
            (),
            "EN 12831-1, reheat",
        )
    if cause == "gains in winter":
        least = "the least heat of people, lights and equipment in the hours that count, by the winter day's profile"
        return Why(name, value, "load", (least,), (), "taken off the losses", go=("profile", room_id))
    if cause == "infiltration":
        return Why(
            name,
            value,
            "load",
            (
                f"{AIR_WH_M3K * climate.pressure_pa / 101325:.3f} Wh/m³K × ",
                Term(f.infiltration_1h.figure, "air_change", ("input", room_id, "infiltration_1h")),
                " × ",
                Term(found.volume_m3, "volume"),
                " × ",
                *drop,
            ),
            (),
            "EN 12831-1",
        )
    wanted = {
        "walls": ("wall", "door"),
        "roofs": ("roof",),
        "conduction through glass": ("window", "glass wall"),
        "floors": ("floor", "wall"),
    }
    parts = _roof_of_void(results, found, rise) if cause == "roofs" and found.void is not None else []
    for i, x in enumerate(found.faces):
        ground = x.to == "ground"
        if (
            cause in wanted
            and x.kind in wanted[cause]
            and x.to in ("outdoors", "ground")
            and (cause == "floors") == (ground or x.kind == "floor")
        ):
            heat = (
                x.area_m2
                * x.u_w_m2k
                * (GROUND_FACTOR * (f.heating_c.figure - climate.figures.annual_mean_c.figure) if ground else rise)
            )
        elif cause == "thermal bridges" and x.to == "outdoors":
            heat = x.area_m2 * assumption(project.book, "bridges_w_m2k").figure * rise
        elif (cause == "unheated spaces" and x.to.startswith("unheated")) or (
            cause == "adjacent rooms" and x.to.startswith("room:")
        ):
            heat = (
                value
                * x.area_m2
                * x.u_w_m2k
                / max(1e-9, sum(y.area_m2 * y.u_w_m2k for y in found.faces if y.to.split(":")[0] == x.to.split(":")[0]))
            )
        else:
            continue
        parts.append(
            Contribution(f"{x.name} {x.area_m2:.1f} m²", heat, "load", ("u", room_id, i), f"U {x.u_w_m2k:.2f} W/m²K")
        )
    return Why(
        name,
        value,
        "load",
        ("Σ A U × ", *drop) if cause != "floors" else (f"Σ A U × {GROUND_FACTOR} × drop to the year's mean",),
        tuple(sorted(parts, key=lambda p: -p.figure)[:12]),
        "EN 12831-1; ground by ISO 13370",
    )
