"""Why? of what only lists show: candidates for a fan, rooms and terminals as they really are, bills of quantities,
faces, build-ups, proofs.
"""

from garnetfin.core.fabric.layers import resistance
from garnetfin.core.noise import weighted
from garnetfin.core.tables import fitting_words
from garnetfin.engine.explain.air import point_of
from garnetfin.engine.explain.building import greatest, room_name
from garnetfin.engine.explain.derivation import (
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    fan_of,
    first,
    nth,
    present,
    the,
    the_room,
)
from garnetfin.engine.flows.flow_results import SOURCES, Flows, NoiseResult
from garnetfin.engine.layout.duct_pieces import Piece
from garnetfin.engine.layout.sections import used_area
from garnetfin.engine.layout.take_off import take_off
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Missing, Results
from garnetfin.engine.stages.faces import R_SI, core_layers, outer_film
from garnetfin.engine.studies.coil_sheet import closing, coil_sheet, part_title
from garnetfin.engine.studies.face_list import face_row
from garnetfin.project.lookup import find

AIR_FIELDS = {
    "flow_m3s": ("Supply air", "flow"),
    "transfer_in_m3s": ("Air in by transfer", "air balance"),
    "extract_m3s": ("Extract air", "air balance"),
    "transfer_out_m3s": ("Air out by transfer", "air balance"),
    "return_m3s": ("Return air", "air balance"),
    "offset_m3s": ("Air that leaks out", "air balance"),
}


# -- fans ---------------------------------------------------------------------------------------------------------
def candidate(results: Results, system_id: str, fan_id: str, what: str, way: str = "supply") -> Why:
    """A fan of the catalogue at the wanted duty."""
    fan = fan_of(results, system_id, way)
    c = first(c for c in fan.candidates if c.fan_id == fan_id)
    d, go, source = c.point, ("system", system_id), f"{fan_id}: its curve moved to the duty by the affinity laws"
    flow, pressure = (
        Term(fan.wanted_m3s, "system_flow", ("system figure", system_id, "flow") if way == "supply" else ()),
        Term(fan.wanted_pa, "pressure", ("fan pressure", system_id, way)),
    )
    speed = Term(c.speed_rpm, "speed", ("candidate", system_id, fan_id, "speed", way))
    match what:
        case "power":
            return Why(
                f"Electric power of {fan_id}",
                d.electric_w,
                "shaft_power",
                (
                    flow,
                    " × ",
                    pressure,
                    " / ",
                    Term(d.efficiency, "fraction", ("candidate", system_id, fan_id, "efficiency", way)),
                    " of the wheel, drive and motor",
                ),
                (Contribution("At the shaft", d.shaft_w, "shaft_power"),),
                source,
                go=go,
            )
        case "efficiency":
            return Why(
                f"Efficiency of {fan_id}", d.efficiency, "fraction", ("read off its curve at ", flow), (), source, go=go
            )
        case "speed":
            return Why(
                f"Speed of {fan_id}",
                c.speed_rpm,
                "speed",
                ("at which its curve passes through ", flow, " and ", pressure),
                (),
                source,
                go=go,
            )
        case "reserve":
            return Why(
                f"Reserve of {fan_id}",
                c.reserve,
                "fraction",
                ("1 − ", speed, " / ", Term(c.max_rpm, "speed"), " at most"),
                (),
                "catalogue",
                go=go,
            )
        case "stall":
            return Why(
                f"Distance of {fan_id} from stall",
                d.from_stall,
                "fraction",
                ("how far ", flow, " lies above the flow of its greatest pressure"),
                (),
                source,
                go=go,
            )
        case "tip":
            return Why(
                f"Tip speed of {fan_id}",
                c.tip_m_s,
                "velocity",
                ("π × ", Term(c.wheel_m, "length"), " × ", speed, " / 60 s"),
                (),
                "",
                go=go,
            )
        case "sound":
            return Why(
                f"Sound power of {fan_id} [dB]",
                d.sound_db,
                "plain",
                ("from flow, pressure and efficiency at the duty",),
                (),
                "see methods, Noise",
                go=go,
            )
    return Why(
        f"Specific fan power of {fan_id}",
        d.specific_w_m3s,
        "specific_fan_power",
        (Term(d.electric_w, "shaft_power", ("candidate", system_id, fan_id, "power", way)), " / ", flow),
        (),
        f"EN 16798-3, SFP {d.specific_class}",
        go=go,
    )


# -- rooms and terminals as they really are -----------------------------------------------------------------------
def room_gets(results: Results, room_id: str, what: str) -> Why:
    """Design and real supply air of a room as designed, and what a shortage means."""
    system_id = the(results.project.rooms, room_id).system_id
    flows: Flows = among(results.real, system_id)
    row, name, go = (
        first(r for r in flows.rooms if r.room_id == room_id),
        room_name(results, room_id),
        ("room", room_id),
    )
    own = [t for t in among(results.ducts, system_id).terminals if t.room_id == room_id]
    match what:
        case "design":
            return Why(
                f"Designed for {name}",
                row.design_m3s,
                "room_flow",
                ("what its terminals are designed for",),
                tuple(Contribution(t.label, t.flow_m3s, "room_flow", ("terminal flow", t.terminal_id)) for t in own),
                go=go,
            )
        case "gets":
            return Why(
                f"Air that {name} gets",
                row.real_m3s,
                "room_flow",
                ("what its terminals really get",),
                tuple(
                    Contribution(t.label, flows.terminals[t.terminal_id], "room_flow", ("gets", t.terminal_id))
                    for t in own
                ),
                go=go,
            )
        case "share":
            return Why(
                f"Share that {name} gets",
                row.real_m3s / row.design_m3s,
                "fraction",
                (
                    Term(row.real_m3s, "room_flow", ("room gets", room_id, "gets")),
                    " / ",
                    Term(row.design_m3s, "room_flow", ("room gets", room_id, "design")),
                ),
                go=go,
            )
        case "lacks":
            return Why(
                f"Cooling that {name} lacks",
                row.lacks_w,
                "power",
                (
                    "its load less what ",
                    Term(row.real_m3s, "room_flow", ("room gets", room_id, "gets")),
                    " can carry away",
                ),
                (Contribution("Its load", the_room(results, room_id).peak_w, "power", ("room", room_id, "cooling")),),
                go=go,
            )
        case "warmer":
            return Why(
                f"Warmer in {name} by",
                row.warmer_k,
                "temperature_difference",
                (
                    "the load engine with what arrives as the limit of its plant: ",
                    Term(row.lacks_w, "power", ("room gets", room_id, "lacks")),
                    " less",
                ),
                (),
                "see methods, Real flows",
                go=go,
            )
    return Why(
        f"Pressure of {name}",
        row.pressure_pa,
        "pressure",
        ("at which what comes in leaves by return, extract, door and leaks",),
        (),
        "network of ducts, rooms and fans; see methods, Real flows",
        go=go,
    )


def terminal_noise(results: Results, terminal_id: str, what: str) -> Why:
    """What is heard of one terminal: by source [dB(A)], together [NC], what its damper may take, the limit."""
    for system_id, found in results.noise.items():
        if isinstance(found, NoiseResult) and terminal_id in found.terminals:
            n, t = (
                found.terminals[terminal_id],
                first(t for t in among(results.ducts, system_id).terminals if t.terminal_id == terminal_id),
            )
            levels, go = dict(zip(SOURCES, n.dba_by_source)), ("terminal", terminal_id)
            if what in levels:
                bands = tuple(
                    Contribution(f"{hz:.0f} Hz [dB]", float(v), "plain")
                    for hz, v in zip((63, 125, 250, 500, 1000, 2000, 4000, 8000), n.by_source[SOURCES.index(what)])
                )
                return Why(
                    f"{t.label}: from the {what} [dB(A)]",
                    levels[what],
                    "plain",
                    ("sound pressure in the room, by octave bands weighted A",),
                    bands,
                    "VDI 2081, Schultz; see methods, Noise",
                    go=go,
                )
            if what == "limit":
                return Why("Noise limit [NC]", n.limit_nc, "plain", (), (), "office standards", go=("book", "noise_nc"))
            if what == "heard":
                return Why(
                    f"Damper of {t.label} is unheard up to",
                    n.heard_pa,
                    "pressure",
                    ("the pressure at which it lifts the terminal’s sound to the limit of ", Term(n.limit_nc, "plain")),
                    (),
                    "ASHRAE Handbook Applications",
                    go=go,
                )
            return Why(
                f"{t.label} in its room [NC]",
                n.nc,
                "plain",
                ("the greatest over octave bands of all its sources together",),
                tuple(
                    Contribution(f"from the {s} [dB(A)]", float(v), "plain", ("terminal noise", terminal_id, s))
                    for s, v in zip(SOURCES, weighted(n.by_source))
                    if v > 0
                ),
                go=go,
            )
    raise NotThere


def air_of(results: Results, ids: tuple[str, ...], field: str) -> Why:
    """One column of the air balance over several rooms."""
    name, address = AIR_FIELDS[field]
    parts = [
        Contribution(room_name(results, i), getattr(among(results.room_air, i), field), "room_flow", (address, i))
        for i in ids
        if abs(getattr(among(results.room_air, i), field)) > 1e-9
    ]
    return Why(
        f"{name} of {len(ids)} rooms",
        sum(p.figure for p in parts),
        "room_flow",
        ("the sum of the rooms",),
        greatest(parts),
    )


def per_floor(results: Results, room_id: str) -> Why:
    """Supply air for a square metre of floor [L/s m2]."""
    flow, area = among(results.room_air, room_id).flow_m3s, the_room(results, room_id).figures.area_m2.figure
    return Why(
        f"Supply air per floor of {room_name(results, room_id)} [L/s m²]",
        flow * 1000 / area,
        "plain",
        (Term(flow, "room_flow", ("flow", room_id)), " / ", Term(area, "area", ("input", room_id, "area_m2"))),
        go=("room", room_id),
    )


# -- coil and plant -----------------------------------------------------------------------------------------------
def coil_figure(results: Results, system_id: str, month: int, hour: int, what: str) -> Why:
    """A line of the coil check sheet beside the load itself."""
    sheet = present(coil_sheet(results, system_id, point_of(results, system_id, month, hour)[1]))
    load = Term(sheet.total_w, "load", ("coil", system_id, month, hour))
    go = ("part", f"{system_id}/{sheet.part_id}")
    match what:
        case "sensible":
            return Why(
                "Sensible load of the coil",
                sheet.sensible_w,
                "load",
                (Term(sheet.ratio, "fraction"), " of ", load),
                (),
                sheet.at,
                go=go,
            )
        case "latent":
            return Why(
                "Latent load of the coil",
                sheet.total_w - sheet.sensible_w,
                "load",
                (load, " less what is sensible"),
                (Contribution("Condensate", sheet.condensate_kg_s, "moisture_flow"),),
                sheet.at,
                go=go,
            )
        case "surface":
            return Why(
                "Surface of the coil",
                sheet.adp_c,
                "temperature",
                (
                    "where the line from entering to leaving air meets saturation, by a bypass of ",
                    Term(sheet.bypass, "fraction"),
                ),
                (),
                sheet.at,
                go=go,
            )
        case "outdoor share":
            return Why(
                "Outdoor air in the handler’s air",
                sheet.outdoor_share,
                "fraction",
                ("outdoor air over what passes the coil, by mass",),
                (),
                sheet.at,
                go=go,
            )
        case "ventilation":
            return Why(
                "Ventilation load",
                sheet.ventilation_w,
                "load",
                ("outdoor air × the enthalpy it has more than the air that returns",),
                (Contribution("Sensible", sheet.ventilation_sensible_w, "load"),),
                sheet.at,
                go=go,
            )
        case "humidity":
            return Why(
                "Dampest room",
                sheet.rooms_rh[1],
                "fraction",
                ("limit ", Term(sheet.rooms_limit, "fraction", ("system", system_id, "humidity_high"))),
                (Contribution("Driest room", sheet.rooms_rh[0], "fraction"),),
                sheet.at,
                go=go,
            )
        case "residual":
            return Why(
                "Left over [W]",
                sheet.residual_w,
                "plain",
                (load, " less all its parts"),
                (),
                "proof: rounding alone",
                go=go,
            )
    if what in dict(sheet.parts):
        return Why(what, dict(sheet.parts)[what], "load", ("a part of ", load), (), sheet.at, go=go)
    ratio = first(r for r in sheet.ratios if r.name == what)
    band = (
        (
            Contribution("usual from", ratio.band[0], ratio.quantity or "plain"),
            Contribution("to", ratio.band[1], ratio.quantity or "plain"),
        )
        if ratio.band
        else ()
    )
    return Why(
        f"{ratio.name}{'' if ratio.quantity else f' [{ratio.unit}]'}",
        ratio.value,
        ratio.quantity or "plain",
        ("of ", load),
        band,
        sheet.at,
        go=go,
    )


def closes(results: Results, system_id: str, month: int, hour: int, node: str, what: str) -> Why:
    """Proof that a node of the train closes: dry air [kg/s], energy [W], water [g/h]."""
    found, point = point_of(results, system_id, month, hour)
    _, m, e, w = first(row for row in closing(found, point) if row[0] == node)
    title = part_title(results, system_id, node)
    if what == "air":
        return Why(f"Dry air through {title}", m, "mass_flow", ("what comes in goes out",), go=("system", system_id))
    return Why(
        f"{'Energy' if what == 'energy' else 'Water'} that does not close at {title}",
        e if what == "energy" else w * 3.6e6,
        "plain",
        ("what comes in less what goes out: rounding alone",),
        (),
        "W" if what == "energy" else "g/h",
        go=("system", system_id),
    )


def plant_water(results: Results, what: str) -> Why:
    """Chilled or heating water of the central plant."""
    plant, book = present(results.plant), results.project.book
    load, flow, a, b = (
        (plant.cooling_w, plant.chilled_m3s, "chilled_supply_c", "chilled_return_c")
        if what == "chilled"
        else (plant.heating_w, plant.hot_m3s, "hot_supply_c", "hot_return_c")
    )
    return Why(
        "Chilled water" if what == "chilled" else "Heating water",
        flow,
        "water_flow",
        (
            Term(load, "load", ("plant", "cooling" if what == "chilled" else "heating")),
            " / (density × 4.19 kJ/kgK × (",
            Term(assumption(book, b).figure, "temperature", ("book", b)),
            " − ",
            Term(assumption(book, a).figure, "temperature", ("book", a)),
            "))",
        ),
    )


def plant_floor(results: Results, what: str) -> Why:
    """Floor for the plant or for the air handlers, early."""
    plant, book = present(results.plant), results.project.book
    name = "plant_m2_kw" if what == "plant" else "handler_m2_m3s"
    area, ratio = (plant.plant_m2 if what == "plant" else plant.handlers_m2), assumption(book, name).figure
    of = Term(area / ratio * 1000, "load") if what == "plant" else Term(area / ratio, "system_flow")
    return Why(
        "Floor for the plant" if what == "plant" else "Floor for air handlers",
        area,
        "area",
        (Term(ratio, "plain", ("book", name)), " m²/kW × " if what == "plant" else " m² for 1 m³/s × ", of),
        (),
        "early estimate, ratio of the office standards",
    )


def cooling_sum(results: Results) -> Why:
    trains = {i: t for i, t in results.trains.items() if not isinstance(t, Missing)}
    names = {s.id: s.name for s in results.project.air_systems}
    return Why(
        "Cooling, sum of all coils",
        present(results.plant).cooling_sum_w,
        "load",
        ("each system at its own hour",),
        tuple(
            Contribution(names[i], t.coils_peak_w, "load", ("coil", i, t.cooling.month, t.cooling.hour), t.cooling.name)
            for i, t in trains.items()
        ),
    )


# -- static regain --------------------------------------------------------------------------------------------------
def regain(results: Results, system_id: str, way: str, row: int, what: str) -> Why:
    """A section sized by static regain: pressures on it, and where they come from."""
    ducts = present(results.network(system_id, way))
    r = nth(ducts.regained, row)
    own = [ducts.segments[ducts.segment_ids[k]] for k in r.segments]
    name, go = own[0].segment_id, ("segment", own[0].segment_id)
    before, inside = Term(r.before_m_s, "velocity"), Term(r.velocity_m_s, "velocity", ("duct", name, "velocity"))
    pressure = {"gained": r.gained_pa, "lost": r.lost_pa, "carried": r.carried_pa, "left": r.left_pa}
    term = {k: Term(v, "fine_pressure", ("regain", system_id, way, row, k)) for k, v in pressure.items()}
    match what:
        case "length":
            parts = [Contribution(s.segment_id, s.length_m, "length", ("duct", s.segment_id, "length")) for s in own]
            return Why(f"Length of {name}", sum(s.length_m for s in own), "length", ("its pieces",), tuple(parts))
        case "before" | "velocity":
            value = r.before_m_s if what == "before" else r.velocity_m_s
            words = "of the air before the takeoff" if what == "before" else "flow over the size that was tried best"
            return Why(f"Velocity {'before' if what == 'before' else 'in'} {name}", value, "velocity", (words,), go=go)
        case "static":
            words = "greatest in it against the air around, dampers as set"
            return Why(f"Static pressure in {name}", own[0].static_pa, "fine_pressure", (words,), go=go)
    equation: dict[str, tuple[str | Term, ...]] = {
        "gained": ("½ρ (", before, "² − ", inside, "²) less the loss of the straight leg"),
        "lost": ("friction and bends of its pieces at that size",),
        "carried": ("left over by the section before it",),
        "left": (term["carried"], " + ", term["gained"], " − ", term["lost"]),
    }
    return Why(
        f"Pressure {'left over' if what == 'left' else what} at {name}",
        pressure[what],
        "fine_pressure",
        equation[what],
        (),
        "static regain, ASHRAE Handbook Fundamentals",
        go=go,
    )


# -- bill of quantities -------------------------------------------------------------------------------------------
def cut(results: Results, system_id: str, way: str, row: int, what: str) -> Why:
    """A line of the bill of ducts of one size: length, sheet, steel, pieces, thickness."""
    ducts = present(results.network(system_id, way))
    r = nth(take_off(results, ducts).sizes, row)
    own = [ducts.segments[i] for i in r.segment_ids]
    name, length = (
        f"{r.section.shape} duct {r.section.label}",
        Term(r.length_m, "length", ("cut", system_id, way, row, "length")),
    )
    match what:
        case "length":
            return Why(
                f"Length of {name}",
                r.length_m,
                "length",
                ("its ducts as drawn, less what fittings take at their ends",),
                (
                    *greatest(
                        [
                            Contribution(s.segment_id, s.length_m, "length", ("duct", s.segment_id, "length"))
                            for s in own
                        ]
                    ),
                    Contribution("taken by fittings", r.length_m - r.axis_m, "length"),
                ),
            )
        case "sheet":
            return Why(
                f"Sheet of {name}",
                r.sheet_m2,
                "area",
                (length, " × ", Term(r.sheet_m2 / r.length_m if r.length_m else 0.0, "length"), " around it"),
            )
        case "mass":
            return Why(
                f"Duct mass of {name}",
                r.mass_kg,
                "mass",
                (
                    Term(r.sheet_m2, "area", ("cut", system_id, way, row, "sheet")),
                    f" × {r.thickness_m * 1000:.1f} mm, with laps and ",
                    Term(r.flange_m, "length"),
                    " of flange frames",
                ),
                (),
                "laps 3 %; frames by greatest side: own defaults",
            )
        case "thickness":
            return Why(
                f"Sheet thickness of {name} [mm]",
                r.thickness_m * 1000,
                "plain",
                ("by its greatest side and the pressure in it",),
                (),
                "after EN 1507 and EN 1506; to be checked before signing",
            )
    return Why(
        f"Pieces of {name}",
        r.standard if what == "pieces" else r.cut,
        "count",
        ("standard lengths that go into ", length)
        if what == "pieces"
        else ("what is left over of ", length, ", cut to fit"),
        (),
        "office standards, standard lengths",
    )


def bill(results: Results, system_id: str, way: str, what: str) -> Why:
    """Sums of the bill: straight length, sheet, steel of straights and fittings."""
    found = take_off(results, present(results.network(system_id, way)))
    fittings = [r for r in found.counts if r.kind == "fitting"]
    match what:
        case "length":
            made = found.made
            axis = sum(run.axis_m for run in made.runs)
            return Why(
                f"Straight {way} duct",
                found.straight_m,
                "length",
                ("axes as drawn, less what fittings take",),
                (
                    Contribution("axes", axis, "length", ("system figure", system_id, "length", way)),
                    Contribution("taken by fittings", found.straight_m - axis, "length"),
                ),
            )
        case "pieces" | "cut":
            own = [(r, r.standard if what == "pieces" else r.cut) for r in found.sizes]
            return Why(
                f"{'Whole sections' if what == 'pieces' else 'Cut sections'} of {way} duct",
                sum(n for _, n in own),
                "count",
                ("of every size",),
                greatest([Contribution(r.section.label, n, "count") for r, n in own if n]),
            )
        case "sheet":
            straight, rest, value, quantity = (
                sum(r.sheet_m2 for r in found.sizes),
                sum(r.area_m2 for r in fittings),
                found.sheet_m2,
                "area",
            )
        case _:
            straight, rest, value, quantity = (
                sum(r.mass_kg for r in found.sizes),
                sum(r.mass_kg for r in fittings),
                found.mass_kg,
                "mass",
            )
    return Why(
        f"{'Sheet' if what == 'sheet' else 'Duct mass'} of the {way} ducts",
        value,
        quantity,
        ("straight runs and fittings, each piece by its own shape",),
        (
            Contribution("straight runs", straight, quantity),
            Contribution(f"{sum(r.count for r in fittings)} fittings", rest, quantity),
        ),
    )


OF_ROW = {
    "count": ("Pieces", "count"),
    "length": ("Length", "length"),
    "sheet": ("Sheet", "area"),
    "mass": ("Mass", "mass"),
    "thickness": ("Sheet thickness [mm]", "plain"),
}
HOW = {
    "fitting": "each by its own shape, from the sizes of all its ends",
    "flexible": "flexible ducts of this diameter, whole ones and ends at terminals",
    "hanger": "one for every spacing of each drawn duct, one at each floor of a riser",
    "insulation": "around straight ducts, and around fittings in proportion to their sheet",
    "lining": "inside straight ducts and fittings",
    "terminal": "terminals of this model on these ducts",
}


def bill_row(results: Results, system_id: str, way: str, row: int, what: str) -> Why:
    """A line of the bill that is no straight duct: pieces of a fitting, flexible ducts, hangers, terminals."""
    found = take_off(results, present(results.network(system_id, way)))
    r = nth(found.counts, row)
    title, quantity = OF_ROW[what]
    value = {
        "count": float(r.count),
        "length": r.length_m,
        "sheet": r.area_m2,
        "mass": r.mass_kg,
        "thickness": r.thickness_m * 1000,
    }[what]
    alike = [p for p in found.made.fittings if (p.name, p.size) == (r.name, r.size)] if r.kind == "fitting" else []
    parts = [
        Contribution(f"at {p.segment_ids[0]}", x, quantity, ("duct", p.segment_ids[0], "loss"))
        for p in alike
        for x in (_of_piece(p, what),)
        if x
    ]
    return Why(
        f"{title} of {fitting_words(r.name) if r.kind == 'fitting' else r.name} {r.size}".strip(),
        value,
        quantity,
        ("by greatest side and pressure" if what == "thickness" else HOW.get(r.kind, "as drawn"),),
        greatest(parts),
        "own defaults, to be checked before signing" if r.kind == "hanger" else "",
    )


def _of_piece(piece: Piece, what: str) -> float:
    return {"count": 1.0, "sheet": piece.sheet_m2, "mass": piece.mass_kg}.get(what, 0.0)


def bill_sheet(results: Results, system_id: str, way: str, row: int, what: str) -> Why:
    """All sheet of one thickness: area or mass of straights and fittings."""
    found = take_off(results, present(results.network(system_id, way)))
    thickness, sheet, mass = nth(found.by_thickness(), row)
    value, quantity = (sheet, "area") if what == "sheet" else (mass, "mass")
    return Why(
        f"{'Sheet' if what == 'sheet' else 'Duct mass'} of {thickness * 1000:.1f} mm",
        value,
        quantity,
        ("straight ducts and fittings of this thickness",),
        (
            Contribution(
                "straight ducts",
                sum(r.sheet_m2 if what == "sheet" else r.mass_kg for r in found.sizes if r.thickness_m == thickness),
                quantity,
            ),
            Contribution(
                "fittings",
                sum(
                    r.area_m2 if what == "sheet" else r.mass_kg
                    for r in found.counts
                    if r.kind == "fitting" and r.thickness_m == thickness
                ),
                quantity,
            ),
        ),
    )


# -- faces and build-ups ------------------------------------------------------------------------------------------
def face_figure(results: Results, face_id: str, what: str) -> Why:
    """Area, glass or U-value of a wall, roof or floor of the building."""
    f = present(face_row(results.project, face_id))
    kind, _, part = face_id.partition("/")
    if what == "u":
        return build_up(results, f.build_up_id, "u", f.u_w_m2k)
    if kind == "wall":
        wall = the(results.project.walls, part)
        if what == "glass":
            return Why(
                f"Glass in wall {part}",
                f.glass_m2,
                "area",
                ("its windows",),
                tuple(
                    Contribution(f"{o.kind} {o.id}", o.area_m2, "area", ("opening", part, o.id, "area"))
                    for o in wall.openings
                    if o.glazing_id
                ),
            )
        return Why(
            f"Area of wall {part}",
            f.area_m2,
            "area",
            (Term(wall.length_m, "length"), " × ", Term(wall.height_m, "length"), " high, openings included"),
            (Contribution("of it openings", f.opened_m2, "area"),) if f.opened_m2 else (),
        )
    return Why(
        f"Area of {f.kind}",
        f.area_m2,
        "area",
        ("the part of the outline it covers",),
        (),
        f"outline of {room_name(results, f.room_id)}" if find(results.project.rooms, f.room_id) else "drawn",
    )


def build_up(results: Results, build_up_id: str, what: str, known: float | None = None) -> Why:
    project = results.project
    b = the(project.build_ups, build_up_id)
    if what == "area":
        area, _ = used_area(project, build_up_id)
        walls = [
            Contribution(
                f"Wall {w.id}",
                w.length_m * w.height_m - sum(o.area_m2 for o in w.openings),
                "area",
                ("face row", f"wall/{w.id}", "area"),
            )
            for w in project.walls
            if w.build_up_id == build_up_id
        ]
        slabs = [
            Contribution(f"{s.kind.capitalize()} {s.id}", s.area_m2, "area", ("face row", f"slab/{s.id}", "area"))
            for s in project.slabs
            if s.build_up_id == build_up_id
        ]
        return Why(
            f"In use of {b.name}",
            area,
            "area",
            ("walls without their openings, roofs and floors",),
            greatest([*walls, *slabs]),
        )
    layers = core_layers(b, project.book)
    u = known if known is not None else 1 / (R_SI["wall"] + resistance(layers) + 1 / outer_film(b))
    parts = [
        Contribution(
            (x.name or x.material or "air gap").replace("_", " "),
            layer.resistance,
            "resistance",
            (),
            f"{layer.thickness_m * 1000:g} mm",
        )
        for x, layer in zip(b.layers, layers)
    ]
    rest = 1 / u - sum(p.figure for p in parts)
    return Why(
        f"U-value of {b.name}",
        u,
        "u_value",
        ("1 / ", Term(1 / u, "resistance")),
        (*parts, Contribution("Films, soil and what layers bridge", rest, "resistance")),
        "ISO 6946, ISO 13370 in the ground",
    )


LIST_KINDS = {
    "candidate": candidate,
    "room gets": room_gets,
    "terminal noise": terminal_noise,
    "air of": air_of,
    "per floor": per_floor,
    "coil figure": coil_figure,
    "closes": closes,
    "plant water": plant_water,
    "plant floor": plant_floor,
    "cooling sum": cooling_sum,
    "cut": cut,
    "regain": regain,
    "bill": bill,
    "bill row": bill_row,
    "bill sheet": bill_sheet,
    "face row": face_figure,
    "build-up": build_up,
}
