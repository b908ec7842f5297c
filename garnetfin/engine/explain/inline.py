"""Derivations of parts in ducts: which model, what it loses, how fast the air is in it."""

from garnetfin.core.equipment.catalogue import heading_of
from garnetfin.engine.explain.derivation import Contribution, NotThere, Term, Why, present
from garnetfin.engine.results import InlineRecord, Results
from garnetfin.project.inline import inline_part

REFUSED = {
    "shape": "another shape",
    "size": "smaller than the duct",
    "velocity": "too fast in it",
    "minutes": "too few minutes",
    "smoke": "no release for smoke",
}


def record_of(results: Results, part_id: str) -> InlineRecord:
    """What a part came to. Raises NotThere where it has no figures."""
    found = present(inline_part(results.project, part_id))
    segment = found[0]
    network = present(results.network(segment.system_id, segment.air))
    r = present(network.segments.get(segment.id))
    return present(next((p for p in r.inline if p.part_id == part_id), None))


def part_in_duct(results: Results, part_id: str, figure: str) -> Why:
    """A figure of a part: pressure_pa, velocity_m_s, length_m, mass_kg, flow_m3s."""
    p = record_of(results, part_id)
    go = ("inline", part_id)
    catalogue = f"catalogue of parts, {p.model.model}" if p.model is not None else ""
    match figure:
        case "pressure_pa":
            return _loss(p, catalogue, go)
        case "velocity_m_s":
            return Why(
                f"Velocity on the face of {p.tag}",
                p.velocity_m_s,
                "velocity",
                (
                    Term(p.flow_m3s, "room_flow", ("duct", p.segment_id, "flow")),
                    " through ",
                    Term(p.section.area_m2, "area"),
                ),
                go=go,
            )
        case "length_m":
            typed = p.model is None or p.length_m != p.model.length_m
            return Why(
                f"Length of {p.tag}",
                p.length_m,
                "length",
                ("as typed",) if typed else ("of its model",),
                (),
                catalogue,
                go=go,
            )
        case "near_m":
            return Why(
                f"Place of {p.tag}",
                p.near_m,
                "length",
                ("its middle, from the end of duct ", p.segment_id, " at the unit"),
                origin="typed",
                go=go,
            )
        case "mass_kg":
            return Why(f"Mass of {p.tag}", p.mass_kg, "mass", ("of its model",), (), catalogue, go=go)
        case "flow_m3s":
            return Why(
                f"Air through {p.tag}",
                p.flow_m3s,
                "room_flow",
                ("as its duct carries it",),
                (Contribution("Duct", p.flow_m3s, "room_flow", ("duct", p.segment_id, "flow")),),
                go=go,
            )
    raise NotThere


def _loss(p: InlineRecord, catalogue: str, go: tuple[str, str]) -> Why:
    """What a part loses: itself, by its law, and the transitions on either side."""
    parts = [Contribution("Itself", p.own_pa, "fine_pressure", note=_law(p))]
    if p.adapters_pa:
        parts.append(Contribution(f"Transitions to {p.section.label} and back", p.adapters_pa, "fine_pressure"))
    refused = [Contribution(model, 0.0, "count", note=REFUSED[why]) for model, why in list(p.refused.items())[-3:]]
    return Why(
        f"Loss of {p.tag}, {p.kind}",
        p.pressure_pa,
        "fine_pressure",
        (
            "itself",
            " and transitions" if p.adapters_pa else "",
            ", at ",
            Term(p.flow_m3s, "room_flow", ("duct", p.segment_id, "flow")),
        ),
        tuple(parts),
        "typed" if p.typed else catalogue,
        "pinned" if p.typed or p.pinned else "rule",
        go,
        ""
        if not refused or p.pinned
        else "Smaller ones that do not serve: " + ", ".join(f"{c.name} ({c.note})" for c in refused) + ".",
    )


def _law(p: InlineRecord) -> str:
    """How its loss follows from the flow."""
    if p.typed:
        return "as typed"
    m = p.model
    if m is None:
        return "nothing is known of it"
    if m.law == "k":
        return f"{heading_of(type(m), 'k_free')} {m.k_free:g} on the velocity in {m.free_m2:g} m²"
    if m.law == "power":
        return f"{m.rated_pa:g} Pa at {m.rated_m3s:g} m³/s, with the power {m.exponent:g} of the flow"
    return "from its curve" if m.law == "curve" else "of its blade, from the table of dampers"


INLINE_KINDS = {"inline": part_in_duct}
