"""Derivations of ducts, balance and fans: what a duct loses, what a run has to spare, where a damper stands, what a fan
has to lift.
"""

from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.ducts.leakage import leak_coefficient
from garnetfin.core.ducts.sizes import Section, Shape
from garnetfin.core.noise import weighted
from garnetfin.engine.equipment.records import BoxRecord
from garnetfin.engine.explain.derivation import (
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    fan_of,
    most,
    nth,
    present,
    the,
)
from garnetfin.engine.explain.inline import part_in_duct
from garnetfin.engine.flows.flow_results import SOURCES, Flows, NoiseResult
from garnetfin.engine.results import BOX_LOSS, INLINE_LOSS, DuctResult, Missing, Results, SegmentResult, TerminalResult
from garnetfin.project.values import Rule

FRICTION = "Darcy-Weisbach, Colebrook; see methods, Ducts"
ON = {
    "duct": "on its own velocity",
    "common": "on the velocity before it",
    "small": "on the smaller section",
    "box": "at its flow",
    "part": "at its flow",
}
FITTINGS = "ASHRAE Handbook Fundamentals, Idelchik; see methods, Ducts"


def ducts_of(results: Results, segment_id: str) -> tuple[DuctResult, SegmentResult]:
    """The ducts a segment belongs to, and what it comes to.

    Raises NotThere where it has no figures.
    """
    segment = the(results.project.segments, segment_id)
    ducts = present(results.network(segment.system_id, segment.air))
    return ducts, ducts.segments[segment_id]


def terminal_of(results: Results, terminal_id: str) -> tuple[DuctResult, TerminalResult]:
    """The ducts that reach a terminal, and what it comes to. Raises NotThere where none do."""
    for system in results.project.air_systems:
        for ducts in results.networks(system.id):
            for t in ducts.terminals:
                if t.terminal_id == terminal_id:
                    return ducts, t
    raise NotThere


PLACES = {
    "room": "in a room",
    "void": "in a ceiling void",
    "shaft": "in a shaft",
    "plant": "in the plant room",
    "outdoors": "outdoors",
}


def _heat(results: Results, ducts: DuctResult, r: SegmentResult, name: str) -> Why:
    """Air at the end of a duct from that at its beginning, and what passes through its wall."""
    heat = among(results.duct_heat, ducts.system_id)
    i, make = r.segment_id, r.make
    layers = (make.lining_m + make.insulation_m) * 1000 if make is not None else 0.0
    return Why(
        f"Air at the end of {name}",
        heat.end_c[i],
        "temperature",
        (
            Term(heat.start_c[i], "temperature"),
            f" at its beginning, {PLACES[heat.kinds[i]]} at ",
            Term(heat.around_c[i], "temperature"),
            f", through {layers:.0f} mm of lining and insulation",
        ),
        (
            Contribution("Taken up", heat.gained_w[i], "power"),
            Contribution("U on the inside", heat.u_w_m2k[i], "u_value"),
            Contribution("Outside of the duct", heat.outside_c[i], "temperature"),
            Contribution("Air around turns wet at", heat.dew_c[i], "temperature"),
        ),
        "films of Gnielinski and EN ISO 12241; see methods, Heat of ducts",
        go=("segment", i),
    )


def system_heat(results: Results, system_id: str) -> Why:
    """What the supply ducts of a system take up, duct by duct."""
    heat = among(results.duct_heat, system_id)
    parts = [Contribution(i, w, "power", ("duct", i, "heat"), PLACES[heat.kinds[i]]) for i, w in heat.gained_w.items()]
    return Why(
        "Heat taken up by the supply ducts",
        sum(heat.gained_w.values()),
        "power",
        (
            "conductance of all ducts ",
            Term(heat.ua_w_k, "plain"),
            " W/K, around them on the average ",
            Term(heat.mean_around_c, "temperature"),
        ),
        most(parts),
        "summer design day; see methods, Heat of ducts",
        go=("system", system_id),
    )


def _leak(results: Results, ducts: DuctResult, r: SegmentResult, name: str) -> Why:
    """Leak of a duct from its class, surface and the static pressures at its ends."""
    air = among(results.air, ducts.system_id)
    sign = 1.0 if ducts.air == "supply" else -1.0
    half_way = r.velocity_m_s * (1 - sign * r.leak_m3s / 2 / max(r.flow_m3s, 1e-12))
    last = sign * r.end_pa - air.density_kg_m3 * half_way**2 / 2
    first = last + sign * r.friction_pa
    surface = r.section.perimeter_m * r.length_m
    return Why(
        f"Leak of {name}",
        r.leak_m3s,
        "room_flow",
        (
            f"class {r.tightness}, {leak_coefficient(r.tightness) * 1e6:g} cm³/s from a square metre at one pascal × ",
            Term(surface, "area"),
            " × the mean of p^0.65 between ",
            Term(first, "fine_pressure"),
            " and ",
            Term(last, "fine_pressure"),
        ),
        (
            Contribution("Static at the unit’s end", first, "fine_pressure"),
            Contribution("Static at the far end", last, "fine_pressure"),
        ),
        "EN 12237, EN 1507; see methods, Leaks of ducts",
        go=("segment", r.segment_id),
    )


def segment(results: Results, segment_id: str, what: str) -> Why:
    ducts, r = ducts_of(results, segment_id)
    air, name, go = among(results.air, ducts.system_id), f"{segment_id}, {r.section.label}", ("segment", segment_id)
    match what:
        case "flow":
            beyond = [t for t in ducts.terminals if segment_id in ducts.path(t.segment_id)]
            leaks = abs(sum(ducts.segments[i].leak_m3s for i in ducts.beyond(segment_id)))
            lost = (
                (Contribution("Leaks up to there", leaks, "room_flow", ("duct", segment_id, "leak")),) if leaks else ()
            )
            return Why(
                f"Flow of {name}",
                r.flow_m3s,
                "room_flow",
                ("what terminals beyond it take" + (", at the hour of the coincident peak" if air.block_at else ""),),
                (
                    *(Contribution(t.label, t.flow_m3s, "room_flow", ("terminal flow", t.terminal_id)) for t in beyond),
                    *lost,
                ),
                go=go,
            )
        case "heat":
            return _heat(results, ducts, r, name)
        case "leak":
            return _leak(results, ducts, r, name)
        case "velocity":
            return Why(
                f"Velocity in {name}",
                r.velocity_m_s,
                "velocity",
                (Term(r.flow_m3s, "room_flow", ("duct", segment_id, "flow")), " / ", Term(r.section.area_m2, "area")),
                (Contribution("Greatest here", r.velocity_limit, "velocity"),),
                "the clear inside of the duct",
                go=go,
            )
        case "friction":
            pv = air.density_kg_m3 * r.velocity_m_s**2 / 2
            factor = r.friction_pa_m * r.section.hydraulic_m / pv if pv > 0 else 0.0
            return Why(
                f"Friction in {name}",
                r.friction_pa_m,
                "friction",
                (
                    f"f {factor:.4f} / ",
                    Term(r.section.hydraulic_m, "length"),
                    " × ",
                    Term(pv, "fine_pressure"),
                    " of velocity",
                ),
                (
                    Contribution("Roughness [mm]", r.make.roughness_m * 1000, "plain", (), r.make.material),
                    Contribution(
                        "Reynolds number / 1000",
                        air.density_kg_m3 * r.velocity_m_s * r.section.hydraulic_m / air.viscosity_pa_s / 1000,
                        "plain",
                    ),
                    Contribution(
                        "Smooth duct would lose",
                        float(
                            duct_gradient(
                                r.flow_m3s,
                                r.section.area_m2,
                                r.section.hydraulic_m,
                                1e-6,
                                0.0,
                                air.density_kg_m3,
                                air.viscosity_pa_s,
                            )
                        ),
                        "friction",
                    ),
                ),
                FRICTION,
                go=go,
            )
        case "length":
            drawn = the(results.project.segments, segment_id)
            a, b = (the(results.project.duct_points, i) for i in (drawn.a, drawn.b))
            return Why(
                f"Length of {name}",
                r.length_m,
                "length",
                ("between its ends as drawn",),
                (
                    Contribution("along", abs(b.x_m - a.x_m), "length"),
                    Contribution("across", abs(b.y_m - a.y_m), "length"),
                    Contribution("up or down", abs(b.z_m - a.z_m), "length"),
                ),
                "drawn",
                go=go,
            )
        case "size":
            by = {
                "limits": "the lightest standard size that keeps every limit",
                "pinned": "pinned by the engineer",
                "regain": "static regain",
                "cost": "least cost over life",
                "kept": "kept along the trunk",
                "first velocity": "the velocity of the first section",
            }.get(r.by, r.by)
            return Why(
                f"Size of {segment_id}",
                r.section.width_m,
                "duct_size",
                (by,),
                (
                    Contribution(
                        "Velocity",
                        r.velocity_m_s,
                        "velocity",
                        ("duct", segment_id, "velocity"),
                        f"limit {r.velocity_limit:.1f} m/s",
                    ),
                    Contribution(
                        "Friction",
                        r.friction_pa_m,
                        "friction",
                        ("duct", segment_id, "friction"),
                        f"limit {r.friction_limit:.2f} Pa/m" if r.friction_limit < 1e6 else "",
                    ),
                ),
                "size ladder",
                "pinned" if r.pinned else "rule",
                go,
            )
    own = [
        Contribution(
            f"{f.name.replace('-', ' ')}, k {f.k:.2f}",
            f.pressure_pa,
            "fine_pressure",
            ("fitting", segment_id, i),
            ON[f.reference],
        )
        for i, f in enumerate(r.fittings)
    ]
    if what == "fittings":
        return Why(
            f"Fittings before {name}",
            sum(p.figure for p in own),
            "fine_pressure",
            ("their sum",),
            tuple(own),
            FITTINGS,
            go=go,
        )
    parts = [
        Contribution(f"Friction, {r.length_m:.2f} m", r.friction_pa, "fine_pressure", ("duct", segment_id, "friction"))
    ]
    if r.flexible_pa:
        parts.append(Contribution("Flexible duct", r.flexible_pa, "fine_pressure"))
    parts += own
    return Why(
        f"Loss of {name}",
        r.loss_pa,
        "fine_pressure",
        ("friction and fittings before it",),
        tuple(parts),
        FITTINGS,
        go=go,
    )


def fitting(results: Results, segment_id: str, i: int) -> Why:
    """What one fitting before a duct loses."""
    _, r = ducts_of(results, segment_id)
    f = nth(r.fittings, i)
    base = f.pressure_pa / f.k if f.k else 0.0
    if f.reference == BOX_LOSS:
        own = _box_behind(results, segment_id)
        return Why(
            f"Flow box {own.tag}",
            f.pressure_pa,
            "fine_pressure",
            (
                "k ",
                Term(f.k, "plain"),
                " × ",
                Term(base, "fine_pressure"),
                " of velocity, which the box and its coil lose at ",
                Term(own.most_m3s, "room_flow", ("equipment", "boxes", own.id, "most_m3s")),
            ),
            (Contribution("Box and coil", own.drop_pa, "pressure", ("equipment", "boxes", own.id, "drop_pa")),),
            "catalogue of boxes",
            go=("segment", segment_id),
        )
    if f.reference == INLINE_LOSS:
        return part_in_duct(results, f.part_id, "pressure_pa")
    return Why(
        f"{f.name.replace('-', ' ').capitalize()} before {segment_id}",
        f.pressure_pa,
        "fine_pressure",
        ("k ", Term(f.k, "plain"), " × ", Term(base, "fine_pressure"), f" of velocity, {ON[f.reference]}"),
        (),
        FITTINGS,
        go=("segment", segment_id),
    )


def _box_behind(results: Results, segment_id: str) -> BoxRecord:
    """The box that stands in a duct: that of the first terminal beyond it. Raises NotThere without one."""
    ducts, _ = ducts_of(results, segment_id)
    for t in ducts.terminals:
        at: str | None = t.segment_id
        while at is not None:
            if at == segment_id:
                return present(results.equipment.box_of(t.room_id))
            before = ducts.before(at)
            at = before.segment_id if before is not None else None
    raise NotThere


def rung(results: Results, segment_id: str, shape: Shape, width_m: float, height_m: float) -> Why:
    """Another size for a duct: what it would come to."""
    ducts, r = ducts_of(results, segment_id)
    air, section = among(results.air, ducts.system_id), Section(shape, width_m, height_m)
    velocity = r.flow_m3s / section.area_m2
    friction = float(
        duct_gradient(
            r.flow_m3s,
            section.area_m2,
            section.hydraulic_m,
            r.make.roughness_m,
            r.make.compression,
            air.density_kg_m3,
            air.viscosity_pa_s,
        )
    )
    return Why(
        f"Friction of {segment_id} as {section.label}",
        friction,
        "friction",
        (Term(r.flow_m3s, "room_flow", ("duct", segment_id, "flow")), " in ", Term(section.area_m2, "area")),
        (
            Contribution("Velocity", velocity, "velocity", (), f"limit {r.velocity_limit:.1f} m/s"),
            Contribution("Friction limit", r.friction_limit, "friction")
            if r.friction_limit < 1e6
            else Contribution("Velocity limit", r.velocity_limit, "velocity"),
            Contribution("Height with what lies around it", section.height_m + 2 * r.make.around_m, "duct_size"),
            Contribution("Sheet", section.mass_kg_m, "linear_mass"),
        ),
        FRICTION,
        go=("segment", segment_id),
    )


def run_loss(results: Results, terminal_id: str) -> Why:
    ducts, t = terminal_of(results, terminal_id)
    parts = [
        Contribution(
            f"Duct {s}, {ducts.segments[s].section.label}",
            ducts.segments[s].loss_pa,
            "fine_pressure",
            ("duct", s, "loss"),
        )
        for s in ducts.path(t.segment_id)
    ]
    parts.append(
        Contribution(f"Terminal {t.point.model}", t.point.pressure_pa, "fine_pressure", ("terminal loss", terminal_id))
    )
    return Why(
        f"Run to {t.label}",
        t.run_pa,
        "fine_pressure",
        ("ducts from the unit, and the terminal",),
        tuple(parts),
        go=("terminal", terminal_id),
    )


def surplus(results: Results, terminal_id: str) -> Why:
    ducts, t = terminal_of(results, terminal_id)
    index = ducts.index
    taken = [
        Contribution(f"Damper in {s}", ducts.segments[s].damper.surplus_pa, "fine_pressure", ("damper", s))
        for s in ducts.path(t.segment_id)
        if ducts.segments[s].damper is not None
        and not ducts.segments[s].damper_pinned
        and ducts.segments[s].damper.surplus_pa > 0.005
    ]
    return Why(
        f"Excess pressure of {t.label}",
        t.surplus_pa,
        "fine_pressure",
        (
            Term(index.run_pa, "fine_pressure", ("run", index.terminal_id)),
            f" of the index run to {index.label} − ",
            Term(t.run_pa, "fine_pressure", ("run", terminal_id)),
        ),
        (*taken, *((Contribution("Taken by no damper", t.left_pa, "fine_pressure"),) if t.left_pa > 0.005 else ())),
        go=("terminal", terminal_id),
    )


def damper(results: Results, segment_id: str) -> Why:
    ducts, r = ducts_of(results, segment_id)
    d, air = present(r.damper), among(results.air, ducts.system_id)
    pv = air.density_kg_m3 * r.velocity_m_s**2 / 2
    seg = the(results.project.segments, segment_id)
    beyond = [t for t in ducts.terminals if segment_id in ducts.path(t.segment_id)]
    value, quantity = (
        (d.free, "fraction")
        if d.free is not None
        else (d.angle_deg if d.angle_deg is not None else float("nan"), "plain")
    )
    what = "Free area of the plate" if d.free is not None else "Blade [°]"
    return Why(
        f"{what} in {segment_id}",
        value,
        quantity,
        (
            "k ",
            Term(d.added_k, "plain"),
            " beyond open = ",
            Term(d.surplus_pa, "fine_pressure"),
            " / ",
            Term(pv, "fine_pressure"),
            " of velocity",
        ),
        tuple(
            Contribution(f"{t.label} has to spare", t.surplus_pa, "fine_pressure", ("surplus", t.terminal_id))
            for t in beyond[:8]
        ),
        "Idelchik, thin plate" if d.free is not None else "table of single blades, linear in ln k",
        "rule" if isinstance(seg.damper_deg, Rule) else "pinned",
        ("segment", segment_id),
        "What all terminals beyond it have to spare, less what dampers towards the fan take."
        if isinstance(seg.damper_deg, Rule)
        else "A pinned blade stays; what it takes is part of its run.",
    )


def terminal_loss(results: Results, terminal_id: str) -> Why:
    _, t = terminal_of(results, terminal_id)
    return Why(
        f"Loss of terminal {t.label}",
        t.point.pressure_pa,
        "fine_pressure",
        (f"{t.point.model} at ", Term(t.flow_m3s, "room_flow", ("terminal flow", terminal_id))),
        (Contribution("Neck velocity", t.point.neck_m_s, "velocity"),),
        "catalogue points, straight in logarithms" + (", beyond its table" if t.point.outside_table else ""),
        go=("terminal", terminal_id),
    )


def terminal_flow(results: Results, terminal_id: str) -> Why:
    """Flow of a terminal of a room, joined to a duct or not yet."""
    found, terminal = among(results.terminals, terminal_id), the(results.project.terminals, terminal_id)
    room, by_rule = among(results.room_air, found.room_id), isinstance(terminal.share, Rule)
    whole = {"supply": room.flow_m3s, "return": room.return_m3s, "extract": room.extract_m3s}[found.air]
    share = found.flow_m3s / whole if whole > 0 else 0.0
    return Why(
        f"Flow of {terminal.label}",
        found.flow_m3s,
        "room_flow",
        (
            Term(share, "fraction"),
            " of ",
            Term(whole, "room_flow", ("flow" if found.air == "supply" else "air balance", found.room_id)),
        ),
        (),
        "alike among the room’s terminals" if by_rule else "share pinned",
        "rule" if by_rule else "pinned",
        ("terminal", terminal_id),
    )


def gets(results: Results, terminal_id: str) -> Why:
    """The real flow as designed."""
    ducts, t = terminal_of(results, terminal_id)
    flows: Flows = among(results.real, ducts.system_id)
    real, left = flows.terminals[terminal_id], flows.left_pa[t.segment_id]
    room = next((r for r in flows.rooms if r.room_id == t.room_id), None)
    back = room.pressure_pa if room is not None else 0.0
    return Why(
        f"Air that {t.label} gets",
        real,
        "room_flow",
        (
            "the flow at which the terminal loses ",
            Term(abs(left - back), "fine_pressure"),
            " between its duct and the room",
        ),
        (
            Contribution("Designed", t.flow_m3s, "room_flow", ("terminal flow", terminal_id)),
            Contribution("Pressure in its duct", left, "fine_pressure"),
            Contribution("Pressure of the room", back, "fine_pressure"),
            Contribution("The fan gives", flows.fan_m3s, "system_flow"),
            Contribution("At", flows.fan_pa, "pressure", ("fan pressure", ducts.system_id)),
        ),
        "network of ducts, parts, rooms and fans by Newton’s method; see methods, Real flows",
        go=("terminal", terminal_id),
        remark=f"{flows.steps} steps; {flows.residual_pa:.1e} Pa and {flows.residual_m3s:.1e} m³/s are left.",
    )


WAY_WORDS = {
    "supply": "parts of the unit and the index run, at the design flow",
    "return": "return ducts with what stands on their way, and what the box behind the fan has to be lifted to",
    "exhaust": "the way of relief, beyond what the return fan lifts",
    "extract": "the longest run of the extract ducts",
}


def fan_pressure(results: Results, system_id: str, way: str = "supply") -> Why:
    """What a fan carries: parts, ducts, margin, system effect."""
    fan, ducts = fan_of(results, system_id, way), results.network(system_id, way)
    parts = [Contribution(name, pa, "pressure") for name, pa in fan.part_pa]
    if fan.duct_pa:
        index = ducts.index if isinstance(ducts, DuctResult) else None
        name = f"Ducts, index run to {index.label}" if index is not None else "Ducts, not drawn yet: office standards"
        go = ("run", index.terminal_id) if index is not None else ()
        parts.append(Contribution(name, fan.duct_pa, "pressure", go))
    if fan.allowance_pa:
        parts.append(
            Contribution(
                "Margin",
                fan.allowance_pa,
                "pressure",
                (),
                f"{among(results.air, system_id).figures.allowance.figure:.0%} of the ducts",
            )
        )
    if fan.effect_pa:
        parts.append(Contribution("System effect", fan.effect_pa, "pressure", (), "AMCA 201"))
    return Why(
        f"Required fan pressure, {way}",
        fan.wanted_pa,
        "pressure",
        (WAY_WORDS[way],),
        tuple(parts),
        "what no other fan on its way carries; see methods, Fans of a system",
        go=("system", system_id),
    )


def fan_power(results: Results, system_id: str, way: str = "supply") -> Why:
    """Electric power of a fan at its point."""
    fan = fan_of(results, system_id, way)
    if fan.point is None or isinstance(fan.chosen, Missing):
        raise NotThere
    d, electric = fan.point, fan.point.electric_w
    return Why(
        f"Electric power of {fan.chosen.fan_id}",
        electric,
        "shaft_power",
        (
            Term(d.flow_m3s, "system_flow"),
            " × ",
            Term(d.pressure_pa, "pressure", ("fan pressure", system_id, way)),
            " / ",
            Term(d.efficiency, "fraction"),
            " of the wheel / ",
            Term(d.shaft_w / electric, "fraction"),
            " of drive and motor",
        ),
        (
            Contribution("At the shaft", d.shaft_w, "shaft_power"),
            Contribution("Per flow [W/(m³/s)]", d.specific_w_m3s, "plain"),
        ),
        "curve of the catalogue by the affinity laws",
        go=("system", system_id),
    )


def room_noise(results: Results, room_id: str) -> Why:
    for system_id, found in results.noise.items():
        if isinstance(found, NoiseResult) and room_id in found.rooms:
            room, own = found.rooms[room_id], [n for n in found.terminals.values() if n.room_id == room_id]
            labels = {t.terminal_id: t.label for t in among(results.ducts, system_id).terminals}
            parts = tuple(
                Contribution(f"{labels[n.terminal_id]}, from the {name} [dB(A)]", float(level), "plain")
                for n in own
                for name, level in zip(SOURCES, weighted(n.by_source))
                if level > 0
            )
            return Why(
                "Noise in the room [NC]",
                room.nc,
                "plain",
                ("the greatest over octave bands of all its terminals together",),
                parts,
                "VDI 2081, Schultz; see methods, Noise",
                go=("room", room_id),
                remark=f"{room.dba:.0f} dB(A), NR {room.nr:.0f}; limit NC {room.limit_nc:.0f} of the office standards.",
            )
    raise NotThere


DUCT_KINDS = {
    "duct": segment,
    "rung": rung,
    "fitting": fitting,
    "run": run_loss,
    "surplus": surplus,
    "damper": damper,
    "terminal loss": terminal_loss,
    "terminal flow": terminal_flow,
    "gets": gets,
    "duct heat": system_heat,
    "fan pressure": fan_pressure,
    "fan power": fan_power,
    "room noise": room_noise,
}
