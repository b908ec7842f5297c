"""Why? The derivation of a figure, made when it is asked for: an equation with its numbers, and what each of them rests
on.

An address names a figure: ("room", id, "cooling", month, hour) and the like. Each part of a derivation has an
address of its
own, down to what was typed, an entry of the office book, or a source.
"""

import numpy as np

from garnetfin import display
from garnetfin.core.fabric.layers import resistance
from garnetfin.core.loads.balance import day_hours, respond
from garnetfin.core.loads.faces import face_shares
from garnetfin.core.loads.heating import GROUND_FACTOR
from garnetfin.core.loads.plant import AT_COOL, FREE
from garnetfin.core.sun import hourly
from garnetfin.core.tables import MONTH_COLUMNS
from garnetfin.core.weather.design_day import RANGE_SHARE
from garnetfin.engine.derivation import Address, Part, Term, Why, given_figure, most
from garnetfin.engine.explain_air import AIR_KINDS
from garnetfin.engine.explain_building import BUILDING_KINDS
from garnetfin.engine.explain_ducts import DUCT_KINDS
from garnetfin.engine.explain_figures import FIGURE_KINDS
from garnetfin.engine.explain_lists import LIST_KINDS
from garnetfin.engine.explain_unit import UNIT_KINDS
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Climate, Results, RoomResult
from garnetfin.engine.stages.blocks import block_of
from garnetfin.engine.stages.climate import EMITTANCE, OUTER_FILM, SKY_LOSS_W_M2
from garnetfin.engine.stages.faces import R_SI, core_layers, outer_film, room_fabric
from garnetfin.engine.stages.loads import days_of
from garnetfin.project.book import ASSUMPTIONS
from garnetfin.project.lookup import find

INPUT_NAMES = {
    "area_m2": ("Floor area", "area"),
    "cooling_c": ("Set-point, cooling", "temperature"),
    "heating_c": ("Set-point, heating", "temperature"),
    "people": ("People", "count"),
    "people_area_m2": ("Floor for each person", "area"),
    "lights_w_m2": ("Lights", "power_density"),
    "equipment_w_m2": ("Equipment", "power_density"),
    "infiltration_1h": ("Infiltration", "air_change"),
    "air_change_1h": ("Least air change", "air_change"),
    "outdoor_m3s": ("Outdoor air", "room_flow"),
    "moisture_w": ("Moisture of a process", "load"),
    "cooling_limit_w": ("Cooling that is there", "load"),
    "heating_limit_w": ("Heating that is there", "load"),
    "extract_m3s": ("Extract air", "room_flow"),
}
SITE_NAMES = {
    "winter_c": ("Winter dry bulb", "temperature"),
    "winter_humidity": ("Winter humidity", "fraction"),
    "annual_mean_c": ("Mean of the year", "temperature"),
    "ground_reflectance": ("Ground reflectance", "plain"),
    "wind_m_s": ("Wind", "plain"),
}
MONTH_NAMES = {
    "dry_bulb_c": ("Dry bulb", "temperature"),
    "wet_bulb_c": ("Coincident wet bulb", "temperature"),
    "range_k": ("Daily range", "temperature_difference"),
    "wet_range_k": ("Range of the wet bulb", "temperature_difference"),
    "tau_b": ("Clearness of the beam", "plain"),
    "tau_d": ("Clearness of the sky", "plain"),
}
BALANCE = "Room heat balance with periodic response of every face, ISO 13786; see methods, Loads"


def explain(results: Results, address: Address) -> Why | None:
    """The derivation of a figure of these results, or None for one that is not (or no longer) there."""
    kind, *rest = address
    try:
        return _KINDS[kind](results, *rest)
    except (KeyError, IndexError, AttributeError, TypeError, StopIteration):
        return None


def _hour(month: int, hour: int) -> str:
    return display.hour(month, hour)


# -- rooms --------------------------------------------------------------------------------------------------------
def _room(results: Results, room_id: str, what: str, month: int = -1, hour: int = -1) -> Why:
    found = results.room(room_id)
    room = find(results.project.rooms, room_id)
    title = f"{room.number} {room.name}"
    if what == "heating":
        return _heating(results, found, title)
    if what == "latent":
        m, h = (month, hour) if month >= 0 else found.peak
        return _latent(results, found, title, m, h)
    if not found.kept:
        return _drift(results, found, title)
    if found.estimate is not None:
        return _estimate(results, found, title)
    m, h = (month, hour) if month >= 0 else found.peak
    values = [(c, float(found.by_cause_w[i, m, h])) for i, c in enumerate(CAUSES)]
    parts = tuple(
        Part(c.capitalize(), v, "load", ("cause", room_id, c, m, h), _delay(found, c, m, h))
        for c, v in sorted(values, key=lambda x: -abs(x[1]))
        if abs(v) >= 0.05
    )
    at_peak = (m, h) == found.peak
    return Why(
        f"Cooling of {title}, {_hour(m, h)}",
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


def _cause(results: Results, room_id: str, cause: str, m: int, h: int) -> Why:
    found, project, climate = results.room(room_id), results.project, results.climate
    room = find(project.rooms, room_id)
    value = float(found.by_cause_w[CAUSES.index(cause), m, h])
    name, f = f"{cause.capitalize()} of {room.number}, {_hour(m, h)}", found.figures
    inside, outdoor = f.cooling_c.figure, float(climate.days.dry_bulb_c[m, h])
    set_point = Term(inside, "temperature", ("input", room_id, "cooling_c"))
    out = Term(outdoor, "temperature", ("outdoor", m, h))
    if cause == "infiltration":
        flow = f.infiltration_1h.figure * found.volume_m3 / 3600
        heat = climate.dry_air_kg_m3 * 1006
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
            (Part("Air that leaks in", flow, "room_flow"),),
            "Mixed with the room at once",
            go=("room", room_id),
        )
    if cause == "bridges":
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
        return _gain(found, room, cause, name, value, m, h)
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
    return _faces(results, found, room, cause, name, value, m, h)


def _gain(found: RoomResult, room, cause: str, name: str, value: float, m: int, h: int) -> Why:
    f, use = found.figures, found.figures.use
    share = float(f.profile.summer[h])
    profile = Term(share, "fraction", ("profile", room.id))
    if cause == "people":
        full = f.people.figure * use.sensible_w
        radiant, terms = (
            use.people_radiant,
            (
                Term(f.people.figure, "count", ("input", room.id, "people")),
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
            Part("Given off in this hour", now, "load"),
            Part("of it to the air at once", now * (1 - radiant), "load"),
            Part("Stored before and coming back, less what is stored now", value - now, "load"),
        ),
        f"{use.source}" if cause == "people" else "",
        go=("room", room.id),
    )


def _faces(results: Results, found: RoomResult, room, cause: str, name: str, value: float, m: int, h: int) -> Why:
    """Causes that come through faces: each face with A U (behind − inside) and what of it arrives now."""
    project, climate = results.project, results.climate
    row, _, days = days_of(project, climate, room, results.rooms, Memo())
    reference = days.set_point_c[:1].repeat(12)
    through, sun = face_shares(days, _state(found), reference)
    parts, surfaces = [], row.fabric.surfaces
    if cause == "glass sun":
        for k, i in enumerate(days.window_surface):
            s = surfaces[i]
            entering = days.window_beam_w[k, m, h] + days.window_diffuse_w[k, m, h]
            parts.append(
                Part(
                    f"{display.direction(s.face.azimuth_deg)} {s.face.kind} {s.face.area_m2:.1f} m²",
                    float(sun[k, m, h]),
                    "load",
                    ("window", room.id, int(i), m, h),
                    f"{entering:.0f} W pass the glass now",
                )
            )
        source = "Clear sky: ASHRAE Fundamentals ch. 14; angle: Karlsson and Roos (2000)"
        equation = ("what passes the glass of each window, spread over floor and faces, and given off by them later",)
    else:
        for i, s in enumerate(surfaces):
            if s.cause != cause:
                continue
            behind = float(days.behind_c[i, m, h])
            at_once = s.face.area_m2 * s.face.u_w_m2k * (behind - found.figures.cooling_c.figure)
            lead = (
                display.direction(s.face.azimuth_deg) + " " if s.face.to == "outdoors" and s.face.kind != "roof" else ""
            )
            parts.append(
                Part(
                    f"{lead}{s.face.name} {s.face.area_m2:.1f} m²",
                    float(through[i, m, h]),
                    "load",
                    ("face", room.id, i, m, h),
                    f"U A ΔT now {display.number(at_once)} W",
                )
            )
        source = "Periodic response of layered slabs, ISO 13786, in hour means"
        equation = (
            "heat through each face, delayed by its layers; the temperature behind it counts from the set-point",
        )
    return Why(
        name, value, "load", equation, most(sorted(parts, key=lambda p: -abs(p.figure))), source, go=("room", room.id)
    )


def _state(found: RoomResult) -> np.ndarray:
    """Held or free in every hour, from what the room did: plant hours stand at their set-point."""
    return np.where(np.abs(found.sensible_w) > 1e-9, AT_COOL, FREE)[None].astype(np.int8)


def _face(results: Results, room_id: str, index: int, m: int, h: int) -> Why:
    project, climate, found = results.project, results.climate, results.room(room_id)
    room = find(project.rooms, room_id)
    row, _, days = days_of(project, climate, room, results.rooms, Memo())
    s = row.fabric.surfaces[index]
    through, _ = face_shares(days, _state(found), days.set_point_c[:1].repeat(12))
    response = respond(days.surfaces)
    hours = day_hours(response.through[index])
    behind = days.behind_c[index, m]
    late = int(np.argmax(np.abs(hours)))
    parts = [
        Part("Area", s.face.area_m2, "area"),
        Part("U-value", s.face.u_w_m2k, "u_value", ("u", room_id, index)),
        Part(
            "Temperature behind it now",
            float(behind[h]),
            "temperature",
            ("behind", room_id, index, m, h) if s.behind == "outdoors" else (),
        ),
        Part("Mean of the day behind it", float(behind.mean()), "temperature"),
        Part(f"Behind it {late} h ago, when most of what comes now set out", float(behind[h - late]), "temperature"),
    ]
    return Why(
        f"{s.face.name} of {room.number}, {_hour(m, h)}",
        float(through[index, m, h]),
        "load",
        (
            "Σ over 24 h of response × (temperature behind − ",
            Term(found.figures.cooling_c.figure, "temperature", ("input", room_id, "cooling_c")),
            ")",
        ),
        tuple(parts),
        "ISO 13786; response folded to hour means",
        go=("room", room_id),
    )


def _behind(results: Results, room_id: str, index: int, m: int, h: int) -> Why:
    project, climate = results.project, results.climate
    row, _, days = days_of(project, climate, find(project.rooms, room_id), results.rooms, Memo())
    s = row.fabric.surfaces[index]
    face = climate.face(s.face.azimuth_deg, s.face.tilt_deg)
    sun = float(hourly((face.beam + face.diffuse)[0])[m, h])
    sky = SKY_LOSS_W_M2 * max(0.0, float(np.cos(np.radians(s.face.tilt_deg))))
    return Why(
        f"Sol-air temperature on {s.face.name}, {_hour(m, h)}",
        float(days.behind_c[index, m, h]),
        "temperature",
        (
            Term(float(climate.days.dry_bulb_c[m, h]), "temperature", ("outdoor", m, h)),
            f" + ({s.absorptance:g} × ",
            Term(sun, "irradiance"),
            f" − {EMITTANCE:g} × ",
            Term(sky, "irradiance"),
            f") / {OUTER_FILM:g} W/m²K",
        ),
        (),
        "Sun on the face: ASHRAE Fundamentals ch. 14; sky loss 63 W/m² for a flat roof",
    )


def _window(results: Results, room_id: str, index: int, m: int, h: int) -> Why:
    project, climate, found = results.project, results.climate, results.room(room_id)
    room = find(project.rooms, room_id)
    row, _, days = days_of(project, climate, room, results.rooms, Memo())
    s = row.fabric.surfaces[index]
    k = list(days.window_surface).index(index)
    _, sun = face_shares(days, _state(found), days.set_point_c[:1].repeat(12))
    g = s.glazing
    face = climate.face(s.face.azimuth_deg, 90.0)
    on = float(hourly((face.beam + face.diffuse)[0])[m, h])
    beam, diffuse = float(days.window_beam_w[k, m, h]), float(days.window_diffuse_w[k, m, h])
    absorbed = float(days.window_glass_w_m2[k, m, h]) * s.face.area_m2
    clear = s.face.area_m2 * (1 - g.frame_share) * g.tau_e * float(hourly(face.beam[0])[m, h])
    parts = [
        Part("Sun on its face", on, "irradiance"),
        Part("Glass", s.face.area_m2 * (1 - g.frame_share), "area"),
        Part(
            "Beam that passes, after angle and shadow",
            beam,
            "load",
            (),
            f"{beam / clear:.0%} of plumb and unshaded" if clear > 1 else "",
        ),
        Part("Sky and ground light that pass", diffuse, "load"),
        Part("Taken up by the glass and given inwards", absorbed, "load"),
    ]
    if days.window_shade_w is not None:
        parts.append(Part("From the inside shade", float(days.window_shade_w[k, m, h]), "load"))
    return Why(
        f"Sun through {s.face.kind} of {room.number}, {_hour(m, h)}",
        float(sun[k, m, h]),
        "load",
        (
            f"glass “{g.name}”: g {g.g:.2f}, transmittance {g.tau_e:.2f}, frame {g.frame_share:.0%}",
            "; what faces stored comes later",
        ),
        tuple(parts),
        g.source,
        go=("opening", f"{s.face.wall_id}/{s.face.opening_id}"),
    )


def _u(results: Results, room_id: str, index: int) -> Why:
    project = results.project
    s = room_fabric(project, find(project.rooms, room_id)).surfaces[index]
    if s.glazing is not None or not s.layers:
        return Why(
            f"U-value of {s.face.name}",
            s.face.u_w_m2k,
            "u_value",
            ("whole window, frame included" if s.glazing else "given",),
            (),
            s.glazing.source if s.glazing else "typed",
            "typed",
        )
    build_up = next((b for b in project.build_ups if b.name == s.face.name.removesuffix(", in the ground")), None)
    layers = core_layers(build_up, project.book) if build_up else s.layers
    inner = R_SI["roof"] if s.face.kind == "roof" else R_SI["floor"] if s.face.kind == "floor" else R_SI["wall"]
    named = build_up.layers if build_up else ()
    parts = [Part("Inside film", inner, "resistance", (), "ISO 6946")]
    for i, layer in enumerate(layers):
        name = (named[i].name or named[i].material) if i < len(named) else f"layer {i + 1}"
        note = f"{layer.thickness_m * 1000:g} mm, {layer.conductivity_w_mk:g} W/mK" if layer.thickness_m else ""
        parts.append(Part(name.replace("_", " ") or "air gap", layer.resistance, "resistance", (), note))
    total = 1 / s.face.u_w_m2k
    rest = total - inner - resistance(layers)
    parts.append(
        Part(
            "Outer film" if s.face.to == "outdoors" else "Beyond it",
            rest,
            "resistance",
            (),
            f"{outer_film(build_up):g} W/m²K"
            if build_up and s.face.to == "outdoors"
            else "ISO 13370"
            if s.face.to == "ground"
            else "",
        )
    )
    return Why(
        f"U-value of {s.face.name}",
        s.face.u_w_m2k,
        "u_value",
        ("1 / ", Term(total, "resistance")),
        tuple(parts),
        "ISO 13370 for faces to the ground, ISO 6946 else",
    )


def _latent(results: Results, found: RoomResult, title: str, m: int, h: int) -> Why:
    f = found.figures
    share = float(f.profile.summer[h])
    people = f.people.figure * f.use.latent_w * share
    value = float(found.latent_w[m, h])
    return Why(
        f"Latent load of {title}, {_hour(m, h)}",
        value,
        "load",
        (
            "moisture of people, processes and leaking air against a room held at "
            f"{f.humidity:.0%} and {f.cooling_c.figure:g} °C",
        ),
        (
            Part("People", people, "load", ("input", found.room_id, "people"), f"{f.use.latent_w:g} W each"),
            Part("Process", f.moisture_w.figure * share, "load", ("input", found.room_id, "moisture_w")),
            Part("Infiltration, and what the air stores", value - people - f.moisture_w.figure * share, "load"),
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
        (f"no plant: the air drifts until what enters and what leaves agree; {_hour(m, h)}",),
        (
            Part("Outdoors then", float(results.climate.days.dry_bulb_c[m, h]), "temperature", ("outdoor", m, h)),
            Part("Mean radiant temperature then", float(found.star_c[m, h]), "temperature"),
            Part("Winter design day", found.winter_c, "temperature", (), "from its steady losses"),
        ),
        BALANCE,
        go=("room", found.room_id),
    )


def _estimate(results: Results, found: RoomResult, title: str) -> Why:
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
        Part(
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
        "A typical square floor with the office book's shell, through the same engine",
        go=("room", found.room_id),
        remark="Give the room outside walls, or draw it, and its own faces take over.",
    )


def _heating(results: Results, found: RoomResult, title: str) -> Why:
    climate = results.climate
    rows = [(c, float(found.heating_by_cause_w[i])) for i, c in enumerate(HEATING_CAUSES)]
    parts = [
        Part(c.capitalize(), v, "load", ("heating", found.room_id, c))
        for c, v in sorted(rows, key=lambda x: -x[1])
        if abs(v) >= 0.5
    ]
    steady = sum(v for _, v in rows)
    parts += [
        Part("All of it, steady", steady, "load", (), "EN 12831-1"),
        Part(
            "From the balance of all faces",
            found.heating_balanced_w,
            "load",
            (),
            "operative set-point held, no warm-up",
        ),
    ]
    if found.warm_up_w > 0:
        parts.append(Part("To warm up in time after a night off", found.warm_up_w, "load"))
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


def _heating_cause(results: Results, room_id: str, cause: str) -> Why:
    found, climate, project = results.room(room_id), results.climate, results.project
    f, room = found.figures, find(results.project.rooms, room_id)
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
    if cause == "infiltration":
        return Why(
            name,
            value,
            "load",
            (
                f"{0.34 * climate.pressure_pa / 101325:.3f} Wh/m³K × ",
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
        "glass conduction": ("window", "glass wall"),
        "floors": ("floor", "wall"),
    }
    parts = []
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
        elif cause == "bridges" and x.to == "outdoors":
            heat = x.area_m2 * assumption(project.book, "bridges_w_m2k").figure * rise
        elif (cause == "unheated beside" and x.to.startswith("unheated")) or (
            cause == "rooms beside" and x.to.startswith("room:")
        ):
            heat = (
                value
                * x.area_m2
                * x.u_w_m2k
                / max(1e-9, sum(y.area_m2 * y.u_w_m2k for y in found.faces if y.to.split(":")[0] == x.to.split(":")[0]))
            )
        else:
            continue
        parts.append(Part(f"{x.name} {x.area_m2:.1f} m²", heat, "load", ("u", room_id, i), f"U {x.u_w_m2k:.2f} W/m²K"))
    return Why(
        name,
        value,
        "load",
        ("Σ A U × ", *drop) if cause != "floors" else (f"Σ A U × {GROUND_FACTOR} × drop to the year's mean",),
        tuple(sorted(parts, key=lambda p: -p.figure)[:12]),
        "EN 12831-1; ground by ISO 13370",
    )


def _input(results: Results, room_id: str, field: str) -> Why:
    name, quantity = INPUT_NAMES[field]
    found = results.room(room_id)
    f = getattr(found.figures, field)
    why = given_figure(name, quantity, f, ("room", room_id))
    if field == "people" and f.origin == "rule":
        return Why(
            name,
            f.figure,
            quantity,
            (
                Term(found.figures.area_m2.figure, "area", ("input", room_id, "area_m2")),
                " / ",
                Term(found.figures.people_area_m2.figure, "area", ("input", room_id, "people_area_m2")),
                " each",
            ),
            (),
            f.source,
            "rule",
            ("room", room_id),
        )
    if field == "area_m2" and f.origin == "rule":
        outline = find(results.project.rooms, room_id).outline
        return Why(
            name,
            f.figure,
            quantity,
            (f"of an outline with {len(outline)} corners",),
            (
                Part("On wall centre lines", found.figures.centre_m2, "area"),
                Part("Net, between walls", found.figures.net_m2, "area"),
            ),
            f.source,
            "rule",
            ("room", room_id),
        )
    return why


def _profile(results: Results, room_id: str) -> Why:
    found = results.room(room_id)
    profile = found.figures.profile
    used = [h for h in range(24) if profile.summer[h] > 0]
    span = f"{used[0]}–{used[-1] + 1} h" if used else "never"
    return Why(
        f"Use through the day: {profile.name}",
        float(profile.summer.max()),
        "fraction",
        (f"in use {span}; the summer design day's profile",),
        (),
        "own profile" if profile.own else "profile that ships, project default",
        "pinned" if profile.own else "rule",
        ("room", room_id),
    )


# -- rooms together -----------------------------------------------------------------------------------------------
def _block(results: Results, ids: tuple[str, ...], what: str, month: int = -1, hour: int = -1) -> Why | None:
    known = [results.room(i) for i in ids if results.room(i)]
    if not known:
        return None
    if len(known) == 1:
        return _room(results, known[0].room_id, what, month, hour)
    block = block_of(results, ids)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    if what == "heating":
        parts = sorted(
            (Part(names[r.room_id], r.heating_w, "load", ("room", r.room_id, "heating")) for r in known),
            key=lambda p: -p.figure,
        )
        return Why(
            f"Heating of {len(known)} rooms",
            block.heating_w,
            "load",
            ("the sum of the rooms, less what they lose to each other",),
            most(parts),
            "EN 12831-1",
        )
    m, h = (month, hour) if month >= 0 else block.peak
    if what == "latent":
        return _block_latent(known, names, m, h)
    parts = sorted(
        (
            Part(
                names[r.room_id],
                float(r.sensible_w[m, h]),
                "load",
                ("room", r.room_id, "cooling", m, h),
                f"own peak {r.peak_w:.0f} W",
            )
            for r in known
        ),
        key=lambda p: -abs(p.figure),
    )
    return Why(
        f"Cooling of {len(known)} rooms, {_hour(m, h)}",
        float(block.sensible_w[m, h]),
        "load",
        (
            "the sum of the rooms at that hour; ",
            Term(block.peak_w / block.sum_of_peaks_w if block.sum_of_peaks_w else 1.0, "fraction"),
            " of the sum of their own peaks, ",
            Term(block.sum_of_peaks_w, "load"),
        ),
        most(parts),
        BALANCE,
    )


def _block_latent(known: list[RoomResult], names: dict[str, str], m: int, h: int) -> Why:
    parts = sorted(
        (Part(names[r.room_id], float(r.latent_w[m, h]), "load", ("room", r.room_id, "latent", m, h)) for r in known),
        key=lambda p: -p.figure,
    )
    return Why(
        f"Latent load of {len(known)} rooms, {_hour(m, h)}",
        sum(p.figure for p in parts),
        "load",
        ("the sum of the rooms at that hour",),
        most(parts),
    )


def _block_cause(results: Results, ids: tuple[str, ...], cause: str, m: int, h: int) -> Why:
    known = [results.room(i) for i in ids if results.room(i)]
    if len(known) == 1:
        return _cause(results, known[0].room_id, cause, m, h)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    i = CAUSES.index(cause)
    parts = sorted(
        (
            Part(names[r.room_id], float(r.by_cause_w[i, m, h]), "load", ("cause", r.room_id, cause, m, h))
            for r in known
            if abs(r.by_cause_w[i, m, h]) >= 0.05
        ),
        key=lambda p: -abs(p.figure),
    )
    return Why(
        f"{cause.capitalize()}, {_hour(m, h)}",
        float(sum(r.by_cause_w[i, m, h] for r in known)),
        "load",
        ("the sum over the rooms",),
        most(parts),
        BALANCE,
    )


def _block_heating(results: Results, ids: tuple[str, ...], cause: str) -> Why:
    known = [results.room(i) for i in ids if results.room(i)]
    if len(known) == 1:
        return _heating_cause(results, known[0].room_id, cause)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    i, block = HEATING_CAUSES.index(cause), block_of(results, ids)
    parts = sorted(
        (
            Part(names[r.room_id], float(r.heating_by_cause_w[i]), "load", ("heating", r.room_id, cause))
            for r in known
            if abs(r.heating_by_cause_w[i]) >= 0.05
        ),
        key=lambda p: -abs(p.figure),
    )
    return Why(
        f"Heating of {len(known)} rooms: {cause}",
        float(block.heating_by_cause_w[i]),
        "load",
        ("what rooms lose to each other is no loss of them together",)
        if cause == "rooms beside"
        else ("the sum over the rooms",),
        most(parts),
        "EN 12831-1",
    )


# -- place and book -----------------------------------------------------------------------------------------------
def _outdoor(results: Results, m: int, h: int) -> Why:
    climate: Climate = results.climate
    top, swing = (climate.figures.months[m][MONTH_COLUMNS.index(n)].figure for n in ("dry_bulb_c", "range_k"))
    return Why(
        f"Outdoor dry bulb, {_hour(m, h)}",
        float(climate.days.dry_bulb_c[m, h]),
        "temperature",
        (
            Term(top, "temperature", ("month", m, "dry_bulb_c")),
            f" − {RANGE_SHARE[h]:.2f} × ",
            Term(swing, "temperature_difference", ("month", m, "range_k")),
        ),
        (),
        "Share of the daily range: ASHRAE Fundamentals ch. 14 (verify edition)",
        go=("place", ""),
    )


def _month(results: Results, m: int, field: str) -> Why:
    name, quantity = MONTH_NAMES[field]
    return given_figure(
        f"{name}, {display.MONTHS[m]}",
        quantity,
        results.climate.figures.months[m][MONTH_COLUMNS.index(field)],
        ("place", ""),
    )


def _site(results: Results, field: str) -> Why:
    name, quantity = SITE_NAMES[field]
    return given_figure(name, quantity, getattr(results.climate.figures, field), ("place", ""))


def _book(results: Results, field: str) -> Why:
    _, quantity, _, _, label = ASSUMPTIONS[field]
    return given_figure(label, quantity, assumption(results.project.book, field), ("book", field))


_KINDS = {
    "room": _room,
    "cause": _cause,
    "face": _face,
    "behind": _behind,
    "window": _window,
    "u": _u,
    "heating": _heating_cause,
    "input": _input,
    "profile": _profile,
    "block": _block,
    "block cause": _block_cause,
    "block heating": _block_heating,
    "outdoor": _outdoor,
    "month": _month,
    "site": _site,
    "book": _book,
    **AIR_KINDS,
    **DUCT_KINDS,
    **FIGURE_KINDS,
    **BUILDING_KINDS,
    **UNIT_KINDS,
    **LIST_KINDS,
}
