"""Cards of parts in ducts: one, several of a kind; and the rows a duct's card has for those in it."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import InlineRecord, Missing, SegmentResult
from garnetfin.engine.stages.duct_inline import model_names, tag_of
from garnetfin.project.ducts import Segment
from garnetfin.project.inline import KINDS, OWN, Inline, inline_part
from garnetfin.project.values import FIRE_MIN, Rule, Value
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines, Section
from garnetfin.ui.view_models.findings import findings_section

RESISTS = ("fire damper", "smoke damper")
MOST_CHOICES = 60


def put_input(segment_ids: tuple[str, ...]) -> InputVM:
    """A part of a kind in the middle of each of these ducts."""
    return InputVM(
        edits.put_inline(segment_ids),
        "Put in" if len(segment_ids) == 1 else "Put in each",
        "",
        "",
        choices=(("", "a part …"), *((k, k) for k in KINDS)),
        chosen="",
        tip="it goes to the middle; on the plan it is put with a click and dragged along",
    )


def part_lines(r: SegmentResult, units: System) -> tuple[Lines, ...]:
    """Parts in a duct from the unit on, each with what it loses; a click chooses it."""
    if not r.inline:
        return ()
    rows = tuple(
        Line(
            f"{p.tag} {p.kind}",
            display.figure("fine_pressure", p.pressure_pa, units),
            display.unit("pressure", units),
            target=("inline", p.part_id),
            why=("inline", p.part_id, "pressure_pa"),
        )
        for p in r.inline
    )
    return (Lines("Parts in it", "from the unit on", rows),)


def inline_card(state: State) -> CardVM:
    """One part, or several: the same inputs hold for all."""
    found = [x for i in state.selection.ids if (x := inline_part(state.project, i)) is not None]
    if not found:
        return CardVM("Part in a duct", "Gone", "It is no longer in the project")
    parts, ids = [part for _, part in found], tuple(part.id for _, part in found)
    records = [_record(state, segment, part) for segment, part in found]
    known = [r for r in records if r is not None]
    units = state.show.units
    one = len(parts) == 1
    foot = ("Take it out of the duct" if one else "Take them out of their ducts", edits.remove_inline(ids))
    sections: tuple[Section, ...] = (
        Inputs("Part", "", tuple(_choice_inputs(state, parts, records, found, units))),
        Inputs("Its loss, typed", "empty: the catalogue’s", tuple(_loss_inputs(parts, known, units))),
        *(_why_it(known[0], units) if one and known else ()),
        *findings_section(state.results, "inline", ids),
    )
    if not one:
        return CardVM(
            "Parts in ducts",
            f"{len(parts)} parts",
            ", ".join(dict.fromkeys(p.kind for p in parts)),
            _headlines_of_all(known, units),
            sections,
            foot,
        )
    segment, part = found[0]
    r = records[0]
    return CardVM(
        f"Part in duct {segment.id} · {segment.air}",
        f"{tag_of(part)} {part.kind}",
        "no figures yet: the duct has no size"
        if r is None
        else r.model.model
        if r.model is not None
        else "its loss is typed"
        if r.typed
        else "no model",
        () if r is None else _headlines(r, units),
        sections,
        foot,
    )


def _record(state: State, segment: Segment, part: Inline) -> InlineRecord | None:
    network = state.results.network(segment.system_id, segment.air)
    if network is None or isinstance(network, Missing) or segment.id not in network.segments:
        return None
    return next((p for p in network.segments[segment.id].inline if p.part_id == part.id), None)


def _headlines(r: InlineRecord, units: System) -> tuple[Headline, ...]:
    return (
        Headline(
            "Loss",
            display.figure("fine_pressure", r.pressure_pa, units),
            display.unit("pressure", units),
            "with transitions" if r.adapters_pa else "typed" if r.typed else "by its catalogue",
            "bad" if r.refusal == "none" and not r.typed and r.kind != OWN else "",
            ("inline", r.part_id, "pressure_pa"),
        ),
        Headline(
            "Velocity",
            display.figure("velocity", r.velocity_m_s, units),
            display.unit("velocity", units),
            f"at most {display.figure('velocity', r.model.most_m_s, units)}"
            if r.model is not None and r.model.most_m_s
            else "on its face",
            "watch" if r.refusal == "velocity" else "",
            ("inline", r.part_id, "velocity_m_s"),
        ),
        Headline(
            "Mass",
            display.figure("mass", r.mass_kg, units),
            display.unit("mass", units),
            r.section.label,
            "",
            ("inline", r.part_id, "mass_kg"),
        ),
    )


def _headlines_of_all(known: list[InlineRecord], units: System) -> tuple[Headline, ...]:
    return (
        Headline(
            "Mass",
            display.figure("mass", sum(r.mass_kg for r in known), units),
            display.unit("mass", units),
            "together",
        ),
    )


def _same(values: list[object]) -> str:
    return str(values[0]) if len(set(values)) == 1 else "several"


def _choice_inputs(
    state: State,
    parts: list[Inline],
    records: list[InlineRecord | None],
    found: list[tuple[Segment, Inline]],
    units: System,
) -> list[InputVM]:
    ids, kind = tuple(p.id for p in parts), _same([p.kind for p in parts])
    rows = [
        InputVM(edits.inline_choice(ids, "kind"), "Kind", "", "", choices=tuple((k, k) for k in KINDS), chosen=kind)
    ]
    if kind not in ("several", OWN):
        rows.append(_model_input(state, parts, records, ids, kind))
    if len(parts) == 1:
        segment, part = found[0]
        rows.append(
            InputVM(
                edits.inline_choice(ids, "tag"),
                "Tag",
                tag_of(part),
                "",
                "pinned" if part.tag else "rule",
                tip="by rule: kind and number",
            )
        )
        r = records[0]
        if r is not None:
            whole = _length(state, segment)
            rows.append(
                InputVM(
                    edits.inline_place(part.id, whole, r.from_a),
                    "From the unit’s end",
                    display.figure("length", r.near_m, units, 2),
                    display.unit("length", units),
                    "plain",
                    "length",
                    tip=f"its middle along {display.with_unit('length', whole, units)} of duct",
                )
            )
    rows.append(
        _value(parts, "length_m", "Length", "length", [r.length_m if r else None for r in records], units, "length_m")
    )
    if kind in RESISTS:
        rows.append(
            InputVM(
                edits.inline_minutes(ids),
                "Resists fire",
                "",
                "min",
                choices=(("0", "nothing asked"), *((str(m), f"{m} min") for m in FIRE_MIN if m)),
                chosen=_same([p.fire_min for p in parts]),
            )
        )
        rows.append(
            InputVM(
                edits.inline_smoke(ids),
                "For smoke too",
                "",
                "",
                choices=(("no", "no"), ("yes", "yes")),
                chosen=_same(["yes" if p.smoke else "no" for p in parts]),
            )
        )
    if kind == "volume damper":
        rows.append(_value(parts, "angle_deg", "Blade angle, °", "plain", [0.0] * len(parts), units, "pressure_pa"))
    return rows


def _model_input(
    state: State, parts: list[Inline], records: list[InlineRecord | None], ids: tuple[str, ...], kind: str
) -> InputVM:
    """Models of the kind and of the duct's shape, those that are not smaller first."""
    r = next((x for x in records if x is not None), None)
    fixed = _same([p.model for p in parts])
    names = model_names(state.project.book, kind, r)[:MOST_CHOICES]
    if fixed not in ("", "several") and fixed not in names:
        names.append(fixed)
    ruled = r.model.model if r is not None and r.model is not None and not r.pinned else "the smallest that serves"
    return InputVM(
        edits.inline_choice(ids, "model"),
        "Model",
        "",
        "",
        "pinned" if fixed else "rule",
        choices=(("", f"by rule: {ruled}"), *((n, n) for n in names)),
        chosen=fixed,
    )


def _loss_inputs(parts: list[Inline], known: list[InlineRecord], units: System) -> list[InputVM]:
    nothing = [None] * len(parts)
    return [
        _value(parts, "k", "Its k", "plain", nothing, units, "pressure_pa", "on the velocity of the duct"),
        _value(parts, "rated_pa", "or its loss", "pressure", nothing, units, "pressure_pa", "at the flow below"),
        _value(
            parts,
            "rated_m3s",
            "    at",
            "room_flow",
            [r.flow_m3s for r in known] if len(known) == len(parts) else nothing,
            units,
            "flow_m3s",
            "by rule: as its duct carries",
        ),
    ]


def _value(
    parts: list[Inline],
    field: str,
    label: str,
    quantity: str,
    ruled: list[float | None] | list[None] | list[float],
    units: System,
    why: str,
    tip: str = "",
) -> InputVM:
    """A figure that is typed or by rule, of one part or of several."""
    own: list[Value] = [getattr(p, field) for p in parts]
    shown = [r if isinstance(v, Rule) else v.value for v, r in zip(own, ruled)]
    one = len({None if v is None else round(v, 9) for v in shown}) == 1
    first = shown[0]
    return InputVM(
        edits.inline_value(tuple(p.id for p in parts), field, why),
        label,
        "several" if not one else "" if first is None else display.figure(quantity, first, units),
        display.unit(quantity, units),
        "rule" if all(isinstance(v, Rule) for v in own) else "pinned" if one else "several",
        quantity,
        tip=tip,
    )


def _length(state: State, segment: Segment) -> float:
    network = state.results.network(segment.system_id, segment.air)
    if network is None or isinstance(network, Missing) or segment.id not in network.segments:
        return 0.0
    return float(network.segments[segment.id].length_m)


def _why_it(r: InlineRecord, units: System) -> tuple[Lines, ...]:
    """What its loss is made of."""
    rows = [
        Line(
            "Itself",
            display.figure("fine_pressure", r.own_pa, units),
            display.unit("pressure", units),
            why=("inline", r.part_id, "pressure_pa"),
        )
    ]
    if r.adapters_pa:
        rows.append(
            Line(
                f"Transitions to {display.size(r.section, units)}",
                display.figure("fine_pressure", r.adapters_pa, units),
                display.unit("pressure", units),
                why=("inline", r.part_id, "pressure_pa"),
            )
        )
    rows.append(
        Line(
            "Flow",
            display.figure("room_flow", r.flow_m3s, units),
            display.unit("room_flow", units),
            why=("inline", r.part_id, "flow_m3s"),
        )
    )
    return (Lines("Pressure here", "", tuple(rows)),)
