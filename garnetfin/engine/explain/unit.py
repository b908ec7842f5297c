"""Why? of the unit and its fans: what parts cost and what they are good for, all fans together, a year of running; and
of what is counted in ducts.
"""

from typing import Any

from garnetfin.core.tables import fitting_words
from garnetfin.engine.explain.building import greatest
from garnetfin.engine.explain.derivation import (
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    counted,
    fan_of,
    first,
    present,
    the,
)
from garnetfin.engine.explain.ducts import terminal_of
from garnetfin.engine.flows.fan_lines import FansTogether, together
from garnetfin.engine.flows.flow_results import Flows, NoiseResult
from garnetfin.engine.layout.duct_pieces import pieces_of
from garnetfin.engine.layout.without_part import without_part
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import DuctResult, FanResult, Missing, Results
from garnetfin.engine.stages.fan_duty import at_rated, lifted_parts


# -- parts of the unit --------------------------------------------------------------------------------------------
def part_drop(results: Results, system_id: str, part_id: str) -> Why:
    """What a part takes of the supply fan's pressure at the design flow; "" for the outdoor-air ducts."""
    system, ducts = present(results.system(system_id)), among(results.ducts, system_id)
    flow = Term(ducts.flow_m3s, "system_flow", ("system figure", system_id, "flow"))
    if not part_id:
        outdoor: DuctResult = present(results.network(system_id, "outdoor"))
        return Why(
            "Pressure of the outdoor-air ducts",
            outdoor.runs.fan_pa,
            "pressure",
            ("their longest run at ", flow),
            (),
            go=("system", system_id),
        )
    part = first(p for p in lifted_parts(system) if p.id == part_id)
    rated = at_rated(system, part, ducts.flow_m3s)
    fan = among(results.fans, system_id)
    pa = dict(fan.part_pa)[part.title] if isinstance(fan, FanResult) else rated
    return Why(
        f"Pressure drop of {part.title}",
        pa,
        "pressure",
        (
            Term(rated, "pressure", ("part figure", system_id, part_id, "pressure")),
            " × (",
            flow,
            " / ",
            Term(system.rated_m3s, "system_flow"),
            f")^{part.grows:g}",
        ),
        (),
        "at the design flow of the ducts; stated at the unit’s rated flow",
        go=("part", part_id),
    )


def drop_at_design(results: Results, system_id: str, title: str) -> tuple[Any, ...]:
    """Address of a part's drop by its title; () of what is no part."""
    system = the(results.project.air_systems, system_id)
    if title == "Outdoor-air ducts":
        return ("part drop", system_id, "")
    part = next((p.id for p in lifted_parts(system) if p.title == title), "")
    return ("part drop", system_id, part) if part else ()


def part_away(results: Results, system_id: str, part_id: str, month: int, hour: int, what: str) -> Why:
    """What a part's going would move."""
    among(results.trains, system_id)
    now, then = among(present(without_part(results, system_id, part_id, month, hour)), what)
    quantity, name = ("temperature", "Supply temperature") if what == "Supply" else ("load", what)
    title = the(the(results.project.air_systems, system_id).parts, part_id).title
    return Why(
        f"{name} without {title}",
        then if what == "Supply" else then - now,
        quantity,
        ("the system solved again without it: ", Term(then, quantity), " against ", Term(now, quantity), " with it"),
        (),
        "the supply fan then lifts that much less",
        go=("part", part_id),
    )


def dry_air(results: Results, system_id: str, node: str, month: int, hour: int) -> Why:
    """Mass of dry air at a state of the train."""
    from garnetfin.engine.stages.train import point_at

    point = present(point_at(results, system_id, month, hour))
    m = point.node(node)[2]
    density = among(results.air, system_id).density_kg_m3
    return Why(
        "Dry air there",
        m,
        "mass_flow",
        (Term(m / density, "system_flow"), f" at {density:.3f} kg/m³ of dry air"),
        (),
        "flows are counted at local standard density",
        go=("system", system_id),
    )


# -- fans together ------------------------------------------------------------------------------------------------
def _fans(results: Results, system_id: str) -> FansTogether:
    flows = among(results.real, system_id)
    found = together(results, system_id, flows) if isinstance(flows, Flows) else Missing("no flow")
    if isinstance(found, Missing):
        raise NotThere
    return found


def fans_figure(results: Results, system_id: str, what: str) -> Why:
    """Fans of a system together: electric power, per flow, a year's electricity and its price; or one of them by its
    name.
    """
    found, book = _fans(results, system_id), results.project.book
    go = ("system", system_id)
    electric = Term(found.electric_w, "shaft_power", ("fans", system_id, "electric"))
    hours = Term(found.hours, "count", ("book", "fan_hours"))
    match what:
        case "electric":
            return Why(
                "Fans together",
                found.electric_w,
                "shaft_power",
                ("their sum",),
                tuple(Contribution(n, w, "shaft_power", ("fans", system_id, n)) for n, w in found.fans),
                go=go,
            )
        case "specific":
            return Why(
                "Specific fan power of the system",
                found.specific_w_m3s,
                "specific_fan_power",
                (electric, " / ", Term(found.electric_w / found.specific_w_m3s, "system_flow"), " of the greater flow"),
                (),
                f"EN 16798-3, SFP {found.specific_class}",
                go=go,
            )
        case "year":
            return Why(
                "Electricity of a year [MWh]",
                found.year_wh / 1e6,
                "plain",
                (electric, " × ", hours, " h"),
                (),
                "at the operating point all the time",
                go=go,
            )
        case "price":
            return Why(
                "Price of a year",
                found.price,
                "plain",
                (
                    Term(found.year_wh / 1e6, "plain", ("fans", system_id, "year")),
                    " MWh × ",
                    Term(assumption(book, "energy_price").figure, "plain", ("book", "energy_price")),
                    " a kWh",
                ),
                (),
                go=go,
            )
    watts = among(dict(found.fans), what)
    flows: Flows = among(results.real, system_id)
    way = what.split(" ")[0].lower()
    duty = flows.fan if way == "supply" else flows.back.get(way) or fan_of(results, system_id, way).point
    if duty is None:
        raise NotThere
    return Why(
        what,
        watts,
        "shaft_power",
        (
            Term(duty.flow_m3s, "system_flow"),
            " × ",
            Term(duty.pressure_pa, "pressure"),
            " / ",
            Term(duty.flow_m3s * duty.pressure_pa / watts, "fraction"),
            " of wheel, drive and motor",
        ),
        (),
        "where the fan meets the network as it really is",
        go=go,
    )


# -- ducts together -----------------------------------------------------------------------------------------------
def several(results: Results, system_id: str, way: str, what: str, ids: tuple[str, ...]) -> Why:
    """Pressure that ducts lose, or what their sheet weighs, added up."""
    ducts: DuctResult = present(results.network(system_id, way))
    quantity, of = {"loss": ("pressure", lambda s: s.loss_pa), "mass": ("mass", lambda s: s.mass_kg)}[what]
    parts = [
        Contribution(
            f"{i}, {ducts.segments[i].section.label}",
            of(ducts.segments[i]),
            quantity,
            ("duct", i, "loss" if what == "loss" else "size"),
        )
        for i in ids
    ]
    return Why(
        "Loss of these ducts" if what == "loss" else "Sheet of these ducts",
        sum(p.figure for p in parts),
        quantity,
        (f"the sum of {len(parts)} ducts",),
        greatest(parts),
        go=("segment", ids[0]),
    )


def along(results: Results, terminal_id: str, where: str, ids: tuple[str, ...]) -> Why:
    """A stretch of the way to a terminal."""
    ducts, _ = terminal_of(results, terminal_id)
    parts = [
        Contribution(f"{i}, {r.section.label}", r.loss_pa, "fine_pressure", ("duct", i, "loss"))
        for i, r in ((i, among(ducts.segments, i)) for i in ids)
    ]
    return Why(
        where,
        sum(p.figure for p in parts),
        "fine_pressure",
        ("friction and fittings of its ducts",),
        greatest(parts),
        go=("terminal", terminal_id),
    )


def fittings(results: Results, system_id: str, way: str, name: str, size: str = "") -> Why:
    """How many pieces of a kind there are, of one size or of all."""
    ducts: DuctResult = present(results.network(system_id, way))
    pieces = [p for p in pieces_of(results.project, ducts).fittings if p.name == name and (not size or p.size == size)]
    if not pieces:
        raise NotThere
    return counted(
        f"{fitting_words(name)} in the {way} ducts",
        [
            Contribution(
                f"at {p.segment_ids[0]}",
                1,
                "count",
                ("duct", p.segment_ids[0], "loss"),
                f"{p.size}, {p.sheet_m2:.2f} m² of sheet" if p.sheet_m2 else p.size,
            )
            for p in pieces
        ],
    )


def after_balancing(results: Results, system_id: str, way: str, what: str) -> Why:
    """What balancing comes to: the furthest from its flow, rooms that fall short, dampers, surplus, noise."""
    ducts: DuctResult = present(results.network(system_id, way))
    label = {t.terminal_id: t.label for t in ducts.terminals}
    number = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    flows = among(results.real, system_id)
    match what:
        case "spread":
            off = sorted(
                ((i, flows.terminals[i] / q - 1) for i, q in flows.design.items() if q > 0), key=lambda x: -abs(x[1])
            )
            return Why(
                "Furthest from its flow",
                flows.spread,
                "fraction",
                (f"{label[off[0][0]]} gets the share of its design flow that differs most",),
                tuple(Contribution(label[i], share, "fraction", ("gets", i)) for i, share in off[:8]),
                go=("terminal", off[0][0]),
            )
        case "short":
            return counted(
                "Rooms short of a need",
                [
                    Contribution(number[r.room_id], 1, "count", ("need", r.room_id, r.short[0]), ", ".join(r.short))
                    for r in flows.rooms
                    if r.short
                ],
                "rooms in which a need is not met by what really comes",
            )
        case "set":
            there = [(i, s) for i, s in ducts.segments.items() if s.damper is not None]
            return counted(
                "Dampers that are set",
                [
                    Contribution(i, 1, "count", ("damper", i), f"{s.damper.surplus_pa:.1f} Pa")
                    for i, s in there
                    if s.damper.added_k > 1e-6
                ],
                f"of {len(there)}; the others stand open",
            )
        case "surplus":
            t = max(ducts.terminals, key=lambda t: t.surplus_pa)
            return Why(
                "Greatest excess pressure",
                t.surplus_pa,
                "pressure",
                (f"of the run to {t.label}: what the index run loses more",),
                (Contribution(t.label, t.surplus_pa, "fine_pressure", ("surplus", t.terminal_id)),),
                go=("terminal", t.terminal_id),
            )
    noise: NoiseResult = among(results.noise, system_id)
    return counted(
        "Rooms above their noise limit",
        [
            Contribution(
                number[r.room_id], 1, "count", ("room noise", r.room_id), f"NC {r.nc:.0f}, limit {r.limit_nc:.0f}"
            )
            for r in noise.rooms.values()
            if r.nc > r.limit_nc
        ],
    )


def findings(results: Results) -> Why:
    """What is open, by its link."""
    links = {f.link: 0 for f in results.findings}
    for f in results.findings:
        links[f.link] += 1
    return Why(
        "Open findings",
        len(results.findings),
        "count",
        ("limits that are broken or deserve a look, without those accepted",),
        tuple(Contribution(link, n, "count") for link, n in sorted(links.items(), key=lambda x: -x[1])),
    )


UNIT_KINDS = {
    "part drop": part_drop,
    "part away": part_away,
    "dry air": dry_air,
    "fans": fans_figure,
    "several ducts": several,
    "along": along,
    "fittings": fittings,
    "after balancing": after_balancing,
    "findings": findings,
}
