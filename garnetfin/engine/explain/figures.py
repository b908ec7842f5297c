"""Why? of figures that sum: blocks of rooms, lengths and metal, the fan at its point, terminals, the air itself; and of
what was given.
"""

import math
from typing import Any

from garnetfin import display
from garnetfin.core.fans.ranking import drive_efficiency
from garnetfin.engine.explain.building import greatest, room_name
from garnetfin.engine.explain.derivation import (
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    fan_of,
    first,
    given_figure,
    present,
    the,
)
from garnetfin.engine.explain.ducts import ducts_of
from garnetfin.engine.resolve import Figure, resolve, use_in_force
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, Results
from garnetfin.engine.stages.blocks import block_of
from garnetfin.project.values import Imported, Pinned, Rule


# -- rooms together -----------------------------------------------------------------------------------------------
def peaks(results: Results, ids: tuple[str, ...]) -> Why:
    rooms = [results.room(i) for i in ids if results.room(i) is not None]
    parts = [
        Contribution(
            f"{room_name(results, r.room_id)}, {display.hour(*r.peak)}",
            r.peak_w,
            "load",
            ("room", r.room_id, "cooling"),
        )
        for r in rooms
    ]
    return Why(
        "Sum of the rooms’ own peaks",
        sum(p.figure for p in parts),
        "load",
        ("each room at its own hour",),
        greatest(parts),
    )


def diversity(results: Results, ids: tuple[str, ...]) -> Why:
    block = present(block_of(results, ids))
    if block.sum_of_peaks_w <= 0:
        raise NotThere
    return Why(
        "Diversity",
        block.peak_w / block.sum_of_peaks_w,
        "fraction",
        (
            Term(block.peak_w, "load", ("block", ids, "cooling")),
            " at the common hour / ",
            Term(block.sum_of_peaks_w, "load", ("peaks", ids)),
            " at the rooms’ own hours",
        ),
    )


# -- air systems --------------------------------------------------------------------------------------------------
def system_figure(results: Results, system_id: str, what: str, way: str = "supply") -> Why:
    """Flows of a system, length, metal and flow of its ducts of one air."""
    air, go = among(results.air, system_id), ("system", system_id)
    if what in ("supply", "peaks"):
        air: AirResult
        parts = [
            Contribution(room_name(results, r.room_id), r.flow_m3s, "room_flow", ("flow", r.room_id), r.governs)
            for r in air.rooms
            if r.flow_m3s > 0
        ]
        words = (
            "the sum of its rooms’ own flows"
            if what == "peaks" or air.block_at is None
            else "what its rooms take together at one hour; their own flows sum to more"
        )
        return Why(
            "Supply air" if what == "supply" else "Sum of the rooms’ own flows",
            air.flow_m3s if what == "supply" else air.peaks_m3s,
            "system_flow",
            (words,),
            greatest(parts),
            go=go,
        )
    if what in ("coincident", "diversity"):
        hour = display.hour(air.block_hour // 24, air.block_hour % 24)
        if what == "coincident":
            return Why(
                f"Coincident flow, {hour}",
                air.block_m3s,
                "system_flow",
                ("the greatest that loads and least flows ask for at one hour",),
                go=go,
            )
        return Why(
            "Diversity of flows",
            air.diversity,
            "fraction",
            (
                Term(air.block_m3s, "system_flow", ("system figure", system_id, "coincident")),
                " / ",
                Term(air.peaks_m3s, "system_flow", ("system figure", system_id, "peaks")),
            ),
            go=go,
        )
    ducts: DuctResult = present(results.network(system_id, way))
    if what == "flow":
        label = {t.id: t.label for t in results.project.terminals}
        parts = [
            Contribution(label[t.terminal_id], t.flow_m3s, "room_flow", ("terminal flow", t.terminal_id))
            for t in ducts.terminals
        ]
        if ducts.leak_m3s:
            parts.append(
                Contribution(
                    "Leaks of the ducts", ducts.leak_m3s, "room_flow", ("system figure", system_id, "leak", way)
                )
            )
        return Why(
            f"Flow of the {way} ducts at the unit",
            ducts.flow_m3s,
            "system_flow",
            ("what the terminals take; less where their loads peak at different hours",),
            greatest(parts),
            go=go,
        )
    if what == "leak":
        parts = [
            Contribution(
                f"{i}, {s.section.label}",
                s.leak_m3s if way == "supply" else -s.leak_m3s,
                "room_flow",
                ("duct", i, "leak"),
                s.tightness,
            )
            for i, s in ducts.segments.items()
        ]
        return Why(
            f"Leaks of the {way} ducts",
            ducts.leak_m3s,
            "room_flow",
            ("the sum of what each lets through by its class, surface and pressure",),
            greatest(parts),
            go=go,
        )
    if what == "run":
        path = ducts.path(ducts.index.segment_id)
        return Why(
            f"Way to {ducts.index.label}",
            ducts.index.distance_m,
            "length",
            (f"the sum of {len(path)} ducts",),
            greatest([Contribution(i, ducts.segments[i].length_m, "length", ("duct", i, "size")) for i in path]),
            go=go,
        )
    if what == "way":
        index = ducts.index
        parts = [
            Contribution(i, ducts.segments[i].loss_pa, "fine_pressure", ("duct", i, "loss"))
            for i in ducts.path(index.segment_id)
        ]
        return Why(
            f"Ducts and fittings on the way to {index.label}",
            index.run_pa - index.point.pressure_pa,
            "pressure",
            ("what its ducts lose, without the terminal",),
            greatest(parts),
            go=go,
        )
    quantity, of = {"length": ("length", lambda s: s.length_m), "mass": ("mass", lambda s: s.mass_kg)}[what]
    parts = [
        Contribution(
            f"{i}, {s.section.label}",
            of(s),
            quantity,
            ("duct", i, "size"),
            f"{s.length_m:.1f} m, {s.thickness_m * 1000:.1f} mm",
        )
        for i, s in ducts.segments.items()
    ]
    return Why(
        f"Length of the {way} ducts" if what == "length" else f"Sheet of the {way} ducts",
        sum(p.figure for p in parts),
        quantity,
        (
            "the sum of its straight ducts"
            + (": what lies around the section × length × thickness, seams included" if what == "mass" else ""),
        ),
        greatest(parts),
        go=go,
    )


def fan_figure(results: Results, system_id: str, what: str, way: str = "supply") -> Why:
    """The chosen fan at its operating point."""
    fan = fan_of(results, system_id, way)
    if fan.point is None or fan.curve is None or isinstance(fan.chosen, Missing):
        raise NotThere
    d, go, source = (
        fan.point,
        ("system", system_id),
        f"{fan.chosen.fan_id} at {fan.chosen.speed_rpm:.0f} rpm, curve of the catalogue by the affinity laws",
    )
    flow, pressure = (
        Term(d.flow_m3s, "system_flow", ("system figure", system_id, "supply") if way == "supply" else ()),
        Term(d.pressure_pa, "pressure", ("fan pressure", system_id, way)),
    )
    match what:
        case "flow":
            return Why(
                "Flow at the operating point",
                d.flow_m3s,
                "system_flow",
                ("where the fan’s curve meets the system’s: the rooms’ ", flow),
                (),
                source,
                go=go,
            )
        case "efficiency":
            return Why(
                "Efficiency of the wheel",
                d.efficiency,
                "fraction",
                (flow, " × ", pressure, " / power of the wheel, read off its curve"),
                (),
                source,
                go=go,
            )
        case "stall":
            return Why(
                "Distance from stall",
                d.from_stall,
                "fraction",
                ("how far the flow of ", flow, " lies above the flow of the greatest pressure"),
                (),
                source,
                go=go,
            )
        case "specific":
            return Why(
                "Specific fan power",
                d.specific_w_m3s,
                "specific_fan_power",
                (Term(d.electric_w, "shaft_power", ("fan power", system_id, way)), " / ", flow),
                (),
                f"EN 16798-3, SFP {d.specific_class}",
                go=go,
            )
        case "static":
            return Why(
                "Static pressure",
                float(fan.curve.static(d.flow_m3s)),
                "pressure",
                (pressure, " less the velocity pressure at its outlet"),
                (),
                source,
                go=go,
            )
        case "shaft":
            return Why(
                "Power at the shaft",
                d.shaft_w,
                "shaft_power",
                (
                    flow,
                    " × ",
                    pressure,
                    " / ",
                    Term(d.efficiency, "fraction", ("fan figure", system_id, "efficiency", way)),
                    ", with the drive",
                ),
                (),
                source,
                go=go,
            )
    return Why(
        "Sound power at the fan [dB]",
        d.sound_db,
        "plain",
        ("from flow, pressure and efficiency at its point",),
        (),
        f"{source}; see methods, Noise",
        go=go,
    )


def terminal_figure(results: Results, terminal_id: str, what: str) -> Why:
    found = among(results.terminals, terminal_id)
    label, p = the(results.project.terminals, terminal_id).label, found.point
    flow, source, go = (
        Term(found.flow_m3s, "room_flow", ("terminal flow", terminal_id)),
        f"points of {p.model} in the catalogue",
        ("terminal", terminal_id),
    )
    match what:
        case "neck":
            return Why(
                f"Neck velocity of {label}", p.neck_m_s, "velocity", (flow, " through its neck"), (), source, go=go
            )
        case "drop":
            return Why(
                f"Pressure drop of {label}",
                p.pressure_pa,
                "pressure",
                ("between the points of its model at ", flow),
                (),
                source,
                go=go,
            )
        case "throw":
            return Why(
                f"Throw of {label} to 0.25 m/s",
                found.throw_m,
                "length",
                ("between the points of its model at ", flow, ", isothermal"),
                (),
                source,
                go=go,
            )
        case "ratio":
            return Why(
                f"Throw of {label} over what it should reach",
                found.ratio,
                "plain",
                (
                    Term(found.throw_m, "length", ("terminal figure", terminal_id, "throw")),
                    " over its share of the room",
                ),
                (),
                "good between 0.7 and 1.8; see methods, Air",
                go=go,
            )
        case "room nc":
            others = [i for i, t in results.terminals.items() if t.room_id == found.room_id]
            parts = [
                Contribution(
                    the(results.project.terminals, i).label,
                    among(results.terminals, i).nc,
                    "plain",
                    ("terminal figure", i, "nc"),
                )
                for i in others
            ]
            return Why(
                "NC of all terminals of the room",
                found.room_nc,
                "plain",
                ("their powers added",),
                greatest(parts),
                go=go,
            )
    return Why(
        f"NC of {label} alone", found.nc, "plain", ("between the points of its model at ", flow), (), source, go=go
    )


def left(results: Results, segment_id: str) -> Why:
    """Total pressure at the end of a duct: what the way from there still needs."""
    ducts, s = ducts_of(results, segment_id)
    gone = [
        Contribution(i, ducts.segments[i].loss_pa, "fine_pressure", ("duct", i, "loss")) for i in ducts.path(segment_id)
    ]
    return Why(
        f"Total pressure at the end of {segment_id}",
        s.left_pa,
        "fine_pressure",
        (Term(ducts.runs.fan_pa, "pressure", ("run", ducts.index.terminal_id)), " at the unit less what the way took"),
        greatest(gone),
        go=("segment", segment_id),
    )


# -- climate ------------------------------------------------------------------------------------------------------
def air_density(results: Results) -> Why:
    c = present(results.climate)
    return Why(
        "Density of the air flows are counted at",
        c.dry_air_kg_m3,
        "density",
        ("1.2 kg/m³ at sea level, thinner by the local pressure of ", Term(c.pressure_pa, "air_pressure")),
        (Contribution("Height of the place", results.project.site.altitude_m, "altitude"),),
        "ASHRAE Fundamentals: standard atmosphere",
    )


def sun_on(results: Results, azimuth_deg: int, month: int) -> Why:
    value = float(results.climate.compass_sun[azimuth_deg][month].max())
    hour = int(results.climate.compass_sun[azimuth_deg][month].argmax())
    return Why(
        f"Sun on a wall that looks {display.direction(azimuth_deg).lower()}",
        value,
        "irradiance",
        (f"the greatest hour of the clear day of {display.MONTHS[month]}, {hour}–{hour + 1} h: beam, sky and ground",),
        (
            Contribution(
                "Clearness of the beam",
                float(results.climate.figures.months[month][4].figure),
                "plain",
                ("month", month, "tau_b"),
            ),
            Contribution(
                "Clearness of the sky",
                float(results.climate.figures.months[month][5].figure),
                "plain",
                ("month", month, "tau_d"),
            ),
        ),
        "ASHRAE Fundamentals ch. 14",
    )


def ground(results: Results, month: int) -> Why:
    c = present(results.climate)
    mean = c.figures.annual_mean_c.figure
    return Why(
        f"Ground below floors, {display.MONTHS[month]}",
        float(c.ground_c[month, 0]),
        "temperature",
        (
            "the mean of the year, and what is left of the year’s swing below the floor: ",
            Term(mean, "temperature", ("site", "annual_mean_c")),
        ),
        (Contribution("away from the mean by", float(c.ground_c[month, 0]) - mean, "temperature_difference"),),
        "ISO 13370",
    )


def weather_hour(results: Results, which: str) -> Why:
    weather = present(results.project.site.weather)
    return Why(
        "Warmest hour of the file" if which == "greatest_c" else "Coldest hour of the file",
        getattr(weather, which),
        "temperature",
        ("of its 8 760 hours",),
        (),
        weather.name,
        "imported",
    )


# -- what was given -----------------------------------------------------------------------------------------------
def given(results: Results, kind: str, ids: tuple[Any, ...], name: str, label: str, quantity: str) -> Why:
    """A figure of a card that is typed, pinned or by rule and is derived from nothing else; looked up in the project as
    it stands.
    """
    project = results.project
    go: tuple[str, str] = ("", "")
    by_rule, source = None, ""
    match kind:
        case "ceiling" | "void":
            value, go = (
                getattr(the(project.rooms, ids[0]), "ceiling_m" if kind == "ceiling" else "plenum_m"),
                ("room", ids[0]),
            )
        case "opening":
            value, go = (
                getattr(first(o for o in the(project.walls, ids[0]).openings if o.id == ids[1]), name),
                ("opening", f"{ids[0]}/{ids[1]}"),
            )
        case "level":
            value, go = getattr(the(project.levels, ids[0]), name), ("level", ids[0])
        case "glazing value":
            part = the(project.glazings, ids[0])
            value, source = getattr(part, name), f"glass “{part.name}”"
        case "site field":
            value = getattr(project.site, name)
        case "use figure":
            use = use_in_force(project.book, ids[0])
            own = any((c.use_id, c.field) == (ids[0], name) for c in project.book.uses)
            value, source = (
                getattr(use, name),
                f"office standards, {use.name}" + (", set by the office" if own else ", as it ships"),
            )
        case "system":
            system = the(project.air_systems, ids[0])
            figures = among(results.air, ids[0]).figures
            if hasattr(figures, name):
                f = getattr(figures, name)
                return given_figure(label, quantity, f, ("system", ids[0]))
            value, go = getattr(system, name), ("system", ids[0])
        case "fan value":
            system_id, way = ids[0].split("/")
            value, go = getattr(the(project.air_systems, system_id).fan(way), name), ("system", system_id)
            by_rule, source = _fan_rule(fan_of(results, system_id, way), name)
        case "duct value":
            segment, go = the(project.segments, ids[0]), ("segment", ids[0])
            value = getattr(segment, name)
            s = ducts_of(results, ids[0])[1]
            by_rule = {
                "velocity_m_s": s.velocity_limit,
                "friction_pa_m": s.friction_limit,
                "lining_m": s.make.lining_m,
                "insulation_m": s.make.insulation_m,
                "thickness_m": s.thickness_m,
                "damper_deg": s.damper.angle_deg if s.damper is not None else 0.0,
            }.get(name)
            source = (
                "office standards, sizing rules"
                if name != "damper_deg"
                else "what takes the excess pressure of its run"
                if s.damper is not None
                else "no damper stands there"
            )
        case "ceiling zone":
            value, go = getattr(the(project.ceiling_zones, ids[0]), name), ("ceiling zone", ids[0])
        case "fitting":
            place, _, field = name.partition(" ")
            i, found = first((i, f) for i in ids for f in ducts_of(results, i)[1].fittings if f.place == place)
            value, go = (
                next((getattr(f, field) for f in the(project.segments, i).fittings if f.place == place), Rule()),
                ("segment", i),
            )
            by_rule, source = (found.k if field == "k" else None), f"catalogue, {found.name.replace('-', ' ')}"
        case "obstacle":
            part = the(project.obstacles, ids[0])
            value, go = (
                (sum(s.top_m - s.bottom_m for s in part.sleeves[:1]) if name == "sleeve_m" else getattr(part, name)),
                ("obstacle", ids[0]),
            )
        case "share":
            t = the(project.terminals, ids[0])
            alike = sum(o.room_id == t.room_id and o.air == t.air for o in project.terminals)
            value, by_rule, source, go = (
                t.share,
                1 / alike,
                f"alike among the {alike} of its room",
                ("terminal", ids[0]),
            )
        case _:
            raise NotThere
    if isinstance(value, Rule):
        if by_rule is None:
            raise NotThere
        return given_figure(label, quantity, Figure(by_rule, "rule", by_rule, source), go)
    if isinstance(value, (Pinned, Imported)):
        return given_figure(label, quantity, resolve(value, math.nan if by_rule is None else by_rule, source), go)
    return Why(label, float(value), quantity, (), (), source or "typed or drawn", "" if source else "typed", go)


def _fan_rule(fan: FanResult, name: str) -> tuple[float | None, str]:
    """What rules give for a fan's own figures: (figure, where it comes from)."""
    if name == "motor_efficiency":
        return fan.motor.by_rule, "office standards, motor and speed control"
    if fan.curve is None or isinstance(fan.chosen, Missing):
        return None, ""
    drive = drive_efficiency(fan.curve.model)
    return {
        "speed_rpm": (fan.chosen.speed_rpm, "the speed that meets the duty"),
        "drive_efficiency": (drive, "office standards, by the kind of fan"),
    }.get(name, (None, ""))


FIGURE_KINDS = {
    "peaks": peaks,
    "diversity": diversity,
    "system figure": system_figure,
    "fan figure": fan_figure,
    "terminal figure": terminal_figure,
    "left": left,
    "air density": air_density,
    "sun on": sun_on,
    "ground": ground,
    "weather hour": weather_hour,
    "given": given,
}
