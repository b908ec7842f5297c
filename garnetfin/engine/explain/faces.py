"""Why? of one face or window of a room: what enters through it, what lies behind it, its U-value."""

import numpy as np
from numpy.typing import NDArray

from garnetfin import display
from garnetfin.core.fabric.layers import resistance
from garnetfin.core.loads.balance import day_hours, respond
from garnetfin.core.loads.faces import face_shares
from garnetfin.core.loads.plant import held_all_day
from garnetfin.core.loads.rooms import RoomDays, counted_from, room_loads
from garnetfin.core.sun import hourly
from garnetfin.engine.explain.derivation import Contribution, Term, Why, first, most, nth, present, the, the_room
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results, RoomResult
from garnetfin.engine.stages.boundary_conditions import Row
from garnetfin.engine.stages.climate import EMITTANCE, OUTER_FILM, SKY_LOSS_W_M2
from garnetfin.engine.stages.faces import R_SI, core_layers, outer_film
from garnetfin.engine.stages.loads import days_of, row_of


def faces_why(results: Results, found: RoomResult, room, cause: str, name: str, value: float, m: int, h: int) -> Why:
    """Causes that come through faces: each face with A U (behind − inside) and what of it arrives now."""
    row, days, reference, through, sun = _each_face(results, found)
    parts, surfaces = [], row.fabric.surfaces
    if cause == "solar through glass":
        for k, i in enumerate(days.window_surface):
            s = surfaces[i]
            entering = days.window_beam_w[k, m, h] + days.window_diffuse_w[k, m, h]
            parts.append(
                Contribution(
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
            at_once = s.face.area_m2 * s.face.u_w_m2k * (behind - float(reference[m]))
            lead = (
                display.direction(s.face.azimuth_deg) + " " if s.face.to == "outdoors" and s.face.kind != "roof" else ""
            )
            parts.append(
                Contribution(
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


def _each_face(
    results: Results, found: RoomResult
) -> tuple[Row, RoomDays, NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """(the room as it was computed, its days, what temperatures count from (12,), heat through each face and sun
    through each window (n, 12, 24) [W]).
    """
    room = the(results.project.rooms, found.room_id)
    row, _, days = days_of(results.project, results.climate, room, results.rooms, Memo())
    whole = room_loads(days)
    reference = counted_from(days.plan or held_all_day(days.set_point_c), whole.sensible_w)[0]
    through, sun = face_shares(days, whole.state, reference)
    # Start-up hours give no more than the limit that brings the room to its set-point in time.
    asked = whole.sensible_w[0]
    given = np.where(np.abs(asked) > 1e-9, found.sensible_w / np.where(np.abs(asked) > 1e-9, asked, 1.0), 1.0)
    return row, days, reference, through * given, sun * given


def face_why(results: Results, room_id: str, index: int, m: int, h: int) -> Why:
    found, room = the_room(results, room_id), the(results.project.rooms, room_id)
    row, days, reference, through, _ = _each_face(results, found)
    s = nth(row.fabric.surfaces, index)
    response = respond(days.surfaces)
    hours = day_hours(response.through[index])
    behind = days.behind_c[index, m]
    late = int(np.argmax(np.abs(hours)))
    parts = [
        Contribution("Area", s.face.area_m2, "area"),
        Contribution("U-value", s.face.u_w_m2k, "u_value", ("u", room_id, index)),
        Contribution(
            "Temperature behind it now",
            float(behind[h]),
            "temperature",
            ("behind", room_id, index, m, h) if s.behind == "outdoors" else (),
        ),
        Contribution("Mean of the day behind it", float(behind.mean()), "temperature"),
        Contribution(
            f"Behind it {late} h ago, when most of what comes now set out", float(behind[h - late]), "temperature"
        ),
    ]
    return Why(
        f"{s.face.name} of {room.number}, {display.hour(m, h)}",
        float(through[index, m, h]),
        "load",
        (
            "Σ over 24 h of response × (temperature behind − ",
            Term(float(reference[m]), "temperature", ("input", room_id, "cooling_c")),
            ")",
        ),
        tuple(parts),
        "ISO 13786; response folded to hour means",
        go=("room", room_id),
    )


def behind_why(results: Results, room_id: str, index: int, m: int, h: int) -> Why:
    project, climate = results.project, results.climate
    row, _, days = days_of(project, climate, the(project.rooms, room_id), results.rooms, Memo())
    s = nth(row.fabric.surfaces, index)
    face = climate.face(s.face.azimuth_deg, s.face.tilt_deg)
    sun = float(hourly((face.beam + face.diffuse)[0])[m, h])
    sky = SKY_LOSS_W_M2 * max(0.0, float(np.cos(np.radians(s.face.tilt_deg))))
    return Why(
        f"Sol-air temperature on {s.face.name}, {display.hour(m, h)}",
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


def window_why(results: Results, room_id: str, index: int, m: int, h: int) -> Why:
    project, climate, found = results.project, results.climate, the_room(results, room_id)
    room = the(project.rooms, room_id)
    row, days, _, _, sun = _each_face(results, found)
    s = nth(row.fabric.surfaces, index)
    k = first(np.flatnonzero(days.window_surface == index))
    g = present(s.glazing)
    face = climate.face(s.face.azimuth_deg, 90.0)
    on = float(hourly((face.beam + face.diffuse)[0])[m, h])
    beam, diffuse = float(days.window_beam_w[k, m, h]), float(days.window_diffuse_w[k, m, h])
    absorbed = float(days.window_glass_w_m2[k, m, h]) * s.face.area_m2
    clear = s.face.area_m2 * (1 - g.frame_share) * g.tau_e * float(hourly(face.beam[0])[m, h])
    parts = [
        Contribution("Sun on its face", on, "irradiance"),
        Contribution("Glass", s.face.area_m2 * (1 - g.frame_share), "area"),
        Contribution(
            "Beam that passes, after angle and shadow",
            beam,
            "load",
            (),
            f"{beam / clear:.0%} of plumb and unshaded" if clear > 1 else "",
        ),
        Contribution("Sky and ground light that pass", diffuse, "load"),
        Contribution("Taken up by the glass and given inwards", absorbed, "load"),
    ]
    if days.window_shade_w is not None:
        parts.append(Contribution("From the inside shade", float(days.window_shade_w[k, m, h]), "load"))
    return Why(
        f"Sun through {s.face.kind} of {room.number}, {display.hour(m, h)}",
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


def u_why(results: Results, room_id: str, index: int) -> Why:
    project = results.project
    s = nth(row_of(project, the(project.rooms, room_id), results.rooms).fabric.surfaces, index)
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
    parts = [Contribution("Inside film", inner, "resistance", (), "ISO 6946")]
    for i, layer in enumerate(layers):
        name = (named[i].name or named[i].material) if i < len(named) else f"layer {i + 1}"
        note = f"{layer.thickness_m * 1000:g} mm, {layer.conductivity_w_mk:g} W/mK" if layer.thickness_m else ""
        parts.append(Contribution(name.replace("_", " ") or "air gap", layer.resistance, "resistance", (), note))
    total = 1 / s.face.u_w_m2k
    rest = total - inner - resistance(layers)
    parts.append(
        Contribution(
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
