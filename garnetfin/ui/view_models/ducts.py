"""Cards of duct segments and terminals; size ladder; tables of segments and runs."""

from math import isfinite

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.duct_methods import METHODS
from garnetfin.engine.long_section import long_section
from garnetfin.engine.results import DuctResult, Missing, SegmentResult
from garnetfin.engine.stages.duct_sizes import AVAILABLE_PA
from garnetfin.engine.stages.terminals import models
from garnetfin.engine.take_off import take_off
from garnetfin.project.ducts import MATERIALS, PLACES, TIGHTNESS, FittingChoice, Segment, fitting_choices
from garnetfin.project.lookup import find
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models.balance import DAMPERS, balance_section, damper_section, real
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Ladder, Line, Lines, Piece, Rung, StackBar
from garnetfin.ui.view_models.chart_data import LongSectionVM
from garnetfin.ui.view_models.room_air import duct_book
from garnetfin.ui.view_models.rooms import findings_section
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

RUNGS = 11


def the_ducts(state: State) -> DuctResult | Missing:
    """Ducts of the system and the air that are shown; those of a chosen segment or terminal whatever is shown."""
    if state.results is None:
        return Missing("computing")
    if state.selection.kind in ("segment", "terminal"):
        for found in state.results.networks(state.show.system_id):
            known = found.segments if state.selection.kind == "segment" else {t.terminal_id for t in found.terminals}
            if any(i in known for i in state.selection.ids):
                return found
    return state.results.network(state.show.system_id, state.show.air)


def ducts_card(state: State) -> CardVM:
    """Nothing selected: the system's ducts as a whole."""
    ducts, units = the_ducts(state), state.show.units
    system = state.system
    if isinstance(ducts, Missing):
        return CardVM(
            "Ducts" if state.show.air == "supply" else f"{state.show.air.capitalize()} ducts",
            system.name if system else "Ducts",
            ducts.remedy,
            (),
            findings_section(state.results, "", (), "Ducts") if state.results else (),
        )
    figures = state.results.air[system.id].figures
    index = ducts.index
    rows = (
        InputVM(
            ("system", (system.id,), "friction_pa_m"),
            "Friction, greatest",
            display.figure("friction", figures.friction_pa_m.figure, units),
            display.unit("friction", units),
            figures.friction_pa_m.origin,
            "friction",
            tip=figures.friction_pa_m.source,
        ),
        InputVM(
            ("system", (system.id,), "allowance"),
            "Margin on pressure",
            display.figure("fraction", figures.allowance.figure, units),
            "%",
            figures.allowance.origin,
            "fraction",
            tip=figures.allowance.source,
        ),
    )
    height = system.duct_height_m
    if system.sizing != "velocity":
        rows = (
            InputVM(
                ("system choice", (system.id,), "friction_from"),
                "Friction from",
                "",
                "",
                choices=FRICTION_FROM,
                chosen=system.friction_from,
            ),
            *(
                (
                    InputVM(
                        ("system", (system.id,), "available_pa"),
                        "Pressure for ducts",
                        display.figure(
                            "pressure",
                            AVAILABLE_PA if isinstance(system.available_pa, Rule) else system.available_pa.value,
                            units,
                        ),
                        display.unit("pressure", units),
                        "rule" if isinstance(system.available_pa, Rule) else "pinned",
                        "pressure",
                        tip="for every run, terminal included",
                    ),
                )
                if system.friction_from == "pressure"
                else rows[:1]
                if system.friction_from == "rate"
                else ()
            ),
            rows[1],
        )
    rows = (
        InputVM(("system choice", (system.id,), "sizing"), "Sized by", "", "", choices=METHODS, chosen=system.sizing),
        *rows,
        InputVM(
            ("system", (system.id,), "duct_height_m"),
            "Height, if fixed",
            "" if isinstance(height, Rule) else display.figure("duct_size", height.value, units),
            display.unit("duct_size", units),
            "rule" if isinstance(height, Rule) else "pinned",
            "duct_size",
            tip="of rectangular ducts; empty: the lightest that fits",
        ),
    )
    counts: dict[str, int] = {}
    for s in ducts.segments.values():
        for f in s.fittings:
            counts[f.name] = counts.get(f.name, 0) + 1
    sections = [
        Inputs("Sizing rule", "of this system", rows),
        Lines(
            "Index run",
            f"to {index.label}",
            (
                Line(
                    "Ducts and fittings",
                    display.figure("pressure", index.run_pa - index.point.pressure_pa, units),
                    display.unit("pressure", units),
                    why=("system figure", system.id, "way", ducts.air),
                ),
                Line(
                    "Terminal",
                    display.figure("pressure", index.point.pressure_pa, units),
                    display.unit("pressure", units),
                    why=("terminal loss", index.terminal_id),
                ),
                Line(
                    "Length",
                    display.figure("length", index.distance_m, units, 1),
                    display.unit("length", units),
                    why=("system figure", system.id, "run", ducts.air),
                ),
            ),
        ),
        Lines(
            "Fittings",
            f"{sum(counts.values())}",
            tuple(
                Line(name.replace("-", " ").capitalize(), str(n), why=("fittings", system.id, ducts.air, name))
                for name, n in sorted(counts.items(), key=lambda kv: -kv[1])[:7]
            ),
        ),
        *findings_section(
            state.results, "", (), state.show.link if state.show.link in ("Ducts", "Balance") else "Ducts"
        ),
        *((balance_section(state, ducts),) if state.show.link == "Balance" else ()),
        duct_book(state.project.book, units),
    ]
    pinned = sum(s.pinned for s in ducts.segments.values())
    return CardVM(
        f"{ducts.air.capitalize()} ducts · {system.name}",
        display.with_unit("length", ducts.length_m, units, 0),
        f"{len(ducts.segments)} segments, {len(ducts.terminals)} terminals, {pinned} sizes pinned",
        (
            Headline(
                "Flow",
                display.figure("system_flow", ducts.flow_m3s, units),
                display.unit("system_flow", units),
                "at the unit",
                why=("system figure", system.id, "flow", ducts.air),
            ),
            Headline(
                "Index run",
                display.figure("pressure", ducts.runs.fan_pa, units),
                display.unit("pressure", units),
                index.label,
                why=("run", index.terminal_id),
            ),
            Headline(
                "Steel",
                display.figure("mass", ducts.mass_kg, units),
                display.unit("mass", units),
                "seams included",
                why=("system figure", system.id, "mass", ducts.air),
            ),
        ),
        tuple(sections),
    )


def segment_card(state: State) -> CardVM:
    ducts, units, project = the_ducts(state), state.show.units, state.project
    ids = state.selection.ids
    if isinstance(ducts, Missing) or not any(i in ducts.segments for i in ids):
        return _unsized_card(state)
    if len(ids) > 1:
        return _several_segments(state, ducts)
    result = ducts.segments[ids[0]]
    segment = find(project.segments, ids[0])
    on_index = ids[0] in ducts.path(ducts.index.segment_id)
    limit = (
        result.friction_limit
        if isfinite(result.friction_limit)
        else state.results.air[segment.system_id].figures.friction_pa_m.figure
    )
    over, fast = result.friction_pa_m > limit * 1.001, result.velocity_m_s > result.velocity_limit * 1.001
    headlines = (
        Headline(
            "Flow",
            display.figure("room_flow", result.flow_m3s, units),
            display.unit("room_flow", units),
            f"{result.terminals_on} terminal{'s' if result.terminals_on != 1 else ''} on",
            why=("duct", ids[0], "flow"),
        ),
        Headline(
            "Velocity",
            display.figure("velocity", result.velocity_m_s, units),
            display.unit("velocity", units),
            f"limit {display.figure('velocity', result.velocity_limit, units)}",
            "watch" if fast else "",
            ("duct", ids[0], "velocity"),
        ),
        Headline(
            "Friction",
            display.figure("friction", result.friction_pa_m, units),
            display.unit("friction", units),
            f"rule {display.figure('friction', limit, units)}",
            "watch" if over else "",
            ("duct", ids[0], "friction"),
        ),
    )
    pressure = display.unit("pressure", units)
    rows = [
        Line(
            f"Friction, {display.with_unit('length', result.length_m, units, 1)}",
            display.figure("fine_pressure", result.friction_pa, units),
            pressure,
            why=("duct", ids[0], "loss"),
        )
    ]
    if result.flexible_pa:
        rows.append(Line("Flexible duct", display.figure("fine_pressure", result.flexible_pa, units), pressure))
    rows += [
        Line(
            f"{f.name.replace('-', ' ').capitalize()}, k {display.number(f.k, 2)}",
            display.figure("fine_pressure", f.pressure_pa, units),
            pressure,
            why=("fitting", ids[0], i),
        )
        for i, f in enumerate(result.fittings)
    ]
    rows.append(
        Line(
            "Left at its end",
            display.figure("fine_pressure", result.left_pa, units),
            pressure,
            strong=True,
            why=("left", result.segment_id),
        )
    )
    inputs = shape_inputs([segment], [result], units)
    if segment.role == "last":
        inputs.append(
            InputVM(
                ("flexible", ids, "flexible_m"),
                "Flexible at its end",
                display.figure("length", segment.flexible_m, units),
                display.unit("length", units),
                "plain",
                "length",
            )
        )
    fitting = fitting_inputs([segment], [result], units)
    sections = (
        ladder(result, ids, limit, units, ducts),
        Inputs(
            "Duct", f"level {find(project.levels, find(project.duct_points, segment.a).level_id).name}", tuple(inputs)
        ),
        Inputs(
            "Made of",
            f"{result.static_pa:.0f} Pa static".replace("-", "−"),
            tuple(make_inputs([segment], [result], units)),
        ),
        *((Inputs("Fittings before it", "", tuple(fitting)),) if fitting else ()),
        *(p for p in damper_section(state, segment, result, None) if p.rows),
        Lines("Pressure here", f"of {display.with_unit('pressure', ducts.runs.fan_pa, units)}", tuple(rows)),
        *findings_section(state.results, "segment", ids),
    )
    return CardVM(
        f"Segment {ids[0]} · {ducts.air}{' · index run' if on_index else ''}",
        display.size(result.section, units),
        f"{display.with_unit('length', result.length_m, units, 1)}, "
        f"{display.with_unit('mass', result.mass_kg, units, 1)}, {result.make.material}",
        headlines,
        sections,
        ("Remove this duct", ("remove ducts", ids, "segment")),
    )


FRICTION_FROM = (
    ("rate", "the rate below"),
    ("first velocity", "velocity of the first trunk"),
    ("pressure", "pressure over length"),
)
SHAPES = (("round", "round"), ("rectangular", "rectangular"), ("oval", "flat oval"))
SIDES = (("centre", "none, on its axis"), ("top", "top"), ("bottom", "bottom"), ("left", "left"), ("right", "right"))
ROLES = (("trunk", "trunk"), ("branch", "branch"), ("last", "last piece"))


def _same(values: list) -> str:
    return values[0] if len(set(values)) == 1 else "several"


def _listed(segments: list[Segment], kind: str, name: str, label: str, choices: tuple[tuple[str, str], ...]) -> InputVM:
    chosen = _same([getattr(s, name) for s in segments])
    return InputVM(
        (kind, tuple(s.id for s in segments), name),
        label,
        "several" if chosen == "several" else "",
        "",
        choices=choices,
        chosen=chosen,
    )


def _held(
    segments: list[Segment], name: str, label: str, quantity: str, units: System, ruled: list[float] | None, tip: str
) -> InputVM:
    """A value by rule or pinned on all of them; `ruled` is what stands where the rule decides, None for nothing."""
    own = [getattr(s, name) for s in segments]
    free = all(isinstance(v, Rule) for v in own)
    shown = [v.value if not isinstance(v, Rule) else r for v, r in zip(own, ruled or [None] * len(own))]
    one = len({None if v is None else round(v, 9) for v in shown}) == 1
    text = "several" if not one else "" if shown[0] is None else display.figure(quantity, shown[0], units)
    return InputVM(
        ("duct value", tuple(s.id for s in segments), name),
        label,
        text,
        display.unit(quantity, units),
        "rule" if free else "pinned" if one else "several",
        quantity,
        tip=tip,
    )


def shape_inputs(segments: list[Segment], results: list[SegmentResult], units: System) -> list[InputVM]:
    """Shape, role, held sides, own limits."""
    round_ = all(s.shape == "round" for s in segments)
    rows = [
        _listed(segments, "shape", "shape", "Shape", SHAPES),
        _listed(segments, "duct choice", "role", "Role", ROLES),
        _held(
            segments,
            "width_m",
            "Diameter held" if round_ else "Width held",
            "duct_size",
            units,
            None,
            "empty: by the method",
        ),
    ]
    if not round_:
        rows += [
            _held(segments, "height_m", "Height held", "duct_size", units, None, "empty: by the method"),
            _listed(segments, "duct choice", "side", "Flat side", SIDES),
        ]
    return [
        *rows,
        _held(
            segments,
            "velocity_m_s",
            "Velocity, greatest",
            "velocity",
            units,
            [r.velocity_limit for r in results],
            "by rule: by its role",
        ),
        _held(
            segments,
            "friction_pa_m",
            "Friction, greatest",
            "friction",
            units,
            [r.friction_limit if isfinite(r.friction_limit) else None for r in results],
            "by rule: as the system",
        ),
    ]


def make_inputs(segments: list[Segment], results: list[SegmentResult], units: System) -> list[InputVM]:
    """Material, lining, insulation, class and sheet."""
    classes = (("", f"by rule: {_same([r.tightness for r in results])}"), *((c, f"class {c}") for c in TIGHTNESS))
    return [
        _listed(
            segments,
            "duct choice",
            "material",
            "Material",
            (("", f"by rule: {_same([r.make.material for r in results])}"), *((m, m) for m in MATERIALS)),
        ),
        _held(
            segments,
            "lining_m",
            "Lining inside",
            "duct_size",
            units,
            [r.make.lining_m for r in results],
            "sizes are the clear inside",
        ),
        _held(
            segments,
            "insulation_m",
            "Insulation",
            "duct_size",
            units,
            [r.make.insulation_m for r in results],
            "outside; it takes height",
        ),
        _listed(segments, "duct choice", "tightness", "Class", classes),
        _held(
            segments,
            "thickness_m",
            "Sheet",
            "sheet",
            units,
            [r.thickness_m for r in results],
            "by rule: by size and pressure",
        ),
    ]


def fitting_inputs(segments: list[Segment], results: list[SegmentResult], units: System) -> list[InputVM]:
    """What may be chosen for the fittings that stand before them: kind, coefficient, equivalent length."""
    rows, ids = [], tuple(s.id for s in segments)
    for place in PLACES:
        there = [(s, f) for s, r in zip(segments, results) for f in r.fittings if f.place == place]
        if not there:
            continue
        own = [next((c for c in s.fittings if c.place == place), FittingChoice(place=place)) for s, _ in there]
        known = fitting_choices(place, there[0][0].shape, there[0][0].air)
        names = dict(known)
        ruled = _same([f.name for _, f in there])
        rows.append(
            InputVM(
                ("fitting", ids, place),
                place.capitalize(),
                "",
                "",
                choices=(("", f"by rule: {names.get(ruled, ruled)}"[:44]), *known),
                chosen=_same([c.fitting for c in own]),
            )
        )
        for name, label, quantity, shown in (
            ("k", "    its k", "plain", [f.k for _, f in there]),
            ("equivalent_m", "    or as a length", "length", [None] * len(there)),
        ):
            values = [getattr(c, name) for c in own]
            figures = [v.value if not isinstance(v, Rule) else x for v, x in zip(values, shown)]
            one = len({None if v is None else round(v, 6) for v in figures}) == 1
            rows.append(
                InputVM(
                    ("fitting", ids, f"{place} {name}"),
                    label,
                    "several" if not one else "" if figures[0] is None else display.figure(quantity, figures[0], units),
                    display.unit(quantity, units),
                    "rule" if all(isinstance(v, Rule) for v in values) else "pinned",
                    quantity,
                    tip="by rule: from the catalogue" if name == "k" else "a length of this duct that loses as much",
                )
            )
    return rows


def _unsized_card(state: State) -> CardVM:
    """A duct that is drawn but has no size yet: what is missing, and what can be decided already."""
    ids = tuple(i for i in state.selection.ids if find(state.project.segments, i) is not None)
    segments = [find(state.project.segments, i) for i in ids]
    if not segments:
        return CardVM("Segment", "Duct", "It is gone")
    network = state.results.network(segments[0].system_id, segments[0].air)
    missing = network.remedy if isinstance(network, Missing) else "Join it to the unit"
    return CardVM(
        f"Segment {ids[0]} · {segments[0].air}" if len(ids) == 1 else f"{len(ids)} segments",
        "Not sized yet",
        missing,
        (),
        (
            Inputs(
                "Duct",
                "",
                (
                    _listed(segments, "shape", "shape", "Shape", SHAPES),
                    _listed(segments, "duct choice", "role", "Role", ROLES),
                ),
            ),
            *findings_section(state.results, "segment", ids),
        ),
        ("Remove this duct" if len(ids) == 1 else "Remove these ducts", ("remove ducts", ids, "segment")),
    )


def _several_segments(state: State, ducts: DuctResult) -> CardVM:
    ids = tuple(i for i in state.selection.ids if i in ducts.segments)
    rows, units = [ducts.segments[i] for i in ids], state.show.units
    segments = [find(state.project.segments, i) for i in ids]
    fitting = fitting_inputs(segments, rows, units)
    return CardVM(
        "Segments",
        f"{len(ids)} ducts",
        display.with_unit("length", sum(r.length_m for r in rows), units, 1),
        (
            Headline(
                "Friction",
                display.figure("pressure", sum(r.loss_pa for r in rows), units),
                display.unit("pressure", units),
                "with fittings",
                why=("several ducts", ducts.system_id, ducts.air, "loss", ids),
            ),
            Headline(
                "Steel",
                display.figure("mass", sum(r.mass_kg for r in rows), units),
                display.unit("mass", units),
                why=("several ducts", ducts.system_id, ducts.air, "mass", ids),
            ),
        ),
        (
            Inputs("Ducts", "changes hold for all", tuple(shape_inputs(segments, rows, units))),
            Inputs("Made of", "", tuple(make_inputs(segments, rows, units))),
            *((Inputs("Fittings before them", "", tuple(fitting)),) if fitting else ()),
            Inputs(
                "Dampers",
                "at their starts",
                (
                    _listed(segments, "duct choice", "damper", "Kind", DAMPERS),
                    _held(
                        segments,
                        "damper_deg",
                        "Blade angle",
                        "plain",
                        units,
                        [
                            r.damper.angle_deg if r.damper is not None and r.damper.angle_deg is not None else 0.0
                            for r in rows
                        ],
                        "by rule: what takes the surplus; 0 is open",
                    ),
                ),
            ),
        ),
        ("Remove these ducts", ("remove ducts", ids, "segment")),
    )


def ladder(result: SegmentResult, ids: tuple[str, ...], limit: float, units: System, ducts: DuctResult) -> Ladder:
    """Rungs around what the rule gives, falling friction; sizes too deep are struck through with the reason."""
    found = result.ladder
    sections = found.series.sections
    now = next((i for i, s in enumerate(sections) if s == result.section), None)
    centre = found.chosen if now is None else now
    height = sections[found.chosen].height_m
    clearing = max((s.height_m for s in sections if s.height_m <= result.obstacle_height_m + 1e-9), default=height)
    heights = {height, result.section.height_m, min(clearing, height)}
    near = [
        i
        for i, s in enumerate(sections)
        if s.shape == "round"
        or i == centre
        or (s.aspect <= 4.01 and any(abs(s.height_m - h) <= (0.0505 if h == height else 1e-6) for h in heights))
    ]
    near.sort(key=lambda i: -found.friction_pa_m[i])
    at = near.index(centre)
    first = max(0, min(at - RUNGS // 2, len(near) - RUNGS))
    kept = near[first : first + RUNGS]
    for must in (found.chosen, centre):
        if must not in kept:
            kept = [*kept[1:], must]
    kept.sort(key=lambda i: -found.friction_pa_m[i])
    greatest = max(float(found.friction_pa_m[i]) for i in kept) or 1.0
    free = min(result.clear_height_m, result.obstacle_height_m)
    rungs = []
    for i in kept:
        s = sections[i]
        deep = s.height_m - result.clear_height_m
        rungs.append(
            Rung(
                display.size(s, units),
                display.figure("velocity", float(found.velocity_m_s[i]), units),
                display.figure("friction", float(found.friction_pa_m[i]), units),
                float(found.friction_pa_m[i]) / greatest,
                "–" if s.shape == "round" else display.number(s.aspect, 1),
                display.figure("linear_mass", s.mass_kg_m, units),
                (s.shape, s.width_m, s.height_m),
                f"too deep by {display.with_unit('duct_size', deep, units)}" if deep > 1e-9 else "",
                bool(found.too_rough[i]) or bool(found.too_fast[i]),
                i == found.chosen,
                result.pinned and s == result.section,
                isfinite(free) and s.height_m <= free + 1e-9,
            )
        )
    if result.pinned and now is None:
        rungs.insert(
            0,
            Rung(
                display.size(result.section, units),
                display.figure("velocity", result.velocity_m_s, units),
                display.figure("friction", result.friction_pa_m, units),
                min(1.0, result.friction_pa_m / greatest),
                display.number(result.section.aspect, 1),
                display.figure("linear_mass", result.section.mass_kg_m, units),
                (result.section.shape, result.section.width_m, result.section.height_m),
                pinned=True,
            ),
        )
    note = display.with_unit("room_flow", result.flow_m3s, units)
    if isfinite(free):
        low, high = sorted((free, result.clear_height_m))
        span = display.figure("duct_size", low, units) + (
            f"–{display.figure('duct_size', high, units)}" if high > low else ""
        )
        note += f" · free depth {span} {display.unit('duct_size', units)}"
    legend = f"fits beneath {result.obstacle}" if result.obstacle else ""
    return Ladder(
        "Size ladder",
        note,
        ids,
        limit / greatest,
        (
            display.unit("duct_size", units),
            display.unit("velocity", units),
            display.unit("friction", units),
            display.unit("linear_mass", units),
        ),
        tuple(rungs),
        legend,
    )


def terminal_card(state: State) -> CardVM:
    ducts, units, project = the_ducts(state), state.show.units, state.project
    terminal = find(project.terminals, state.selection.ids[0])
    found = (
        None
        if isinstance(ducts, Missing)
        else next((t for t in ducts.terminals if t.terminal_id == state.selection.ids[0]), None)
    )
    room = find(project.rooms, terminal.room_id) if terminal else None
    foot = ("Remove this terminal", ("remove ducts", state.selection.ids, "terminal"))
    if found is None:
        return CardVM(
            "Terminal",
            terminal.label if terminal else "Gone",
            "No duct leads from the unit to it",
            (),
            findings_section(state.results, "terminal", state.selection.ids) if state.results else (),
            foot,
        )
    segment = ducts.segments[found.segment_id]
    level = find(project.levels, room.level_id)
    pressure = display.unit("pressure", units)
    path = [ducts.segments[s] for s in ducts.path(found.segment_id)]
    trunk_ids = {s.id for s in project.segments if s.role == "trunk"}
    on_trunk = [s for s in path if s.segment_id in trunk_ids]
    branches = [s for s in path[:-1] if s.segment_id not in trunk_ids]

    def stretch(label: str, ducts_: list, colour: str) -> tuple:
        return (
            label,
            sum(s.loss_pa for s in ducts_),
            colour,
            ("along", found.terminal_id, label, tuple(s.segment_id for s in ducts_)),
        )

    surplus = ("surplus", found.terminal_id)
    parts = (
        stretch("Trunk from the unit", on_trunk, "supply"),
        stretch("Branches", branches, "outdoor"),
        stretch(
            f"Last piece {display.size(segment.section, units)}",
            [segment] if segment.segment_id not in trunk_ids else [],
            "glass",
        ),
        ("Terminal", found.point.pressure_pa, "return", ("terminal loss", found.terminal_id)),
        ("Dampers", found.surplus_pa - found.left_pa, "garnet", surplus),
        ("Not taken", found.left_pa, "bar", surplus),
    )
    whole = max(ducts.runs.fan_pa, 1e-9)
    bar = StackBar(
        f"Where its {display.figure('pressure', ducts.runs.fan_pa, units)} {pressure} go",
        pressure,
        tuple(
            Piece(label, pa / whole, display.figure("fine_pressure", pa, units), colour, why)
            for label, pa, colour, why in parts
            if pa > 0.05
        ),
        display.figure("fine_pressure", ducts.runs.fan_pa, units),
        "as every other path",
        ("run", ducts.index.terminal_id),
    )
    several = sum(t.room_id == terminal.room_id for t in project.terminals)
    share = found.flow_m3s / max(1e-9, sum(t.flow_m3s for t in ducts.terminals if t.room_id == terminal.room_id))
    rows = [
        InputVM(
            ("share", state.selection.ids, "share"),
            "Share of the room’s air",
            display.figure("fraction", share, units),
            "%",
            "rule" if type(terminal.share).__name__ == "Rule" else "pinned",
            "fraction",
            tip=f"by rule: alike among {several}",
        ),
        InputVM(
            ("model", state.selection.ids, "model"),
            "Model",
            found.point.model,
            "",
            "pinned" if terminal.model else "rule",
            choices=(
                ("", "by rule"),
                *((m.model, m.model) for m in models(project.book).values() if m.kind == terminal.kind),
            ),
            chosen=terminal.model,
        ),
    ]
    noise = state.results.noise.get(ducts.system_id) if ducts.air == "supply" else None
    sections = (
        bar,
        *damper_section(state, find(project.segments, found.segment_id), segment, noise, found.terminal_id),
        Inputs("Terminal", found.point.description, tuple(rows)),
        *((balance_section(state, ducts),) if state.show.link == "Balance" else ()),
        *findings_section(state.results, "terminal", state.selection.ids),
    )
    return CardVM(
        f"Terminal {terminal.label} · {level.name}",
        f"{room.number} {room.name}",
        f"{found.point.description} {found.point.model.rpartition('-')[2]} mm, "
        f"{display.with_unit('length', found.distance_m, units, 1)} from the unit",
        (
            Headline(
                "Design",
                display.figure("room_flow", found.flow_m3s, units),
                display.unit("room_flow", units),
                f"{share * 100:.0f} % of room",
                why=("terminal flow", found.terminal_id),
            ),
            _gets(state, found)
            or Headline(
                "Run",
                display.figure("pressure", found.run_pa, units),
                pressure,
                "index run" if found is ducts.index else "unit to room",
                why=("run", found.terminal_id),
            ),
            Headline(
                "Surplus",
                display.figure("pressure", found.surplus_pa, units),
                pressure,
                "damper takes it" if found.surplus_pa > 0.05 else "sets the fan",
                why=("surplus", found.terminal_id),
            ),
        ),
        sections,
        foot,
    )


def _gets(state: State, found) -> Headline | None:
    """In Balance what a terminal really gets."""
    flows = real(state)
    if state.show.link != "Balance" or flows is None or found.terminal_id not in flows.terminals:
        return None
    off = flows.ratio(found.terminal_id) - 1
    units = state.show.units
    return Headline(
        "Gets" if not state.show.what.any else "What if",
        display.figure("room_flow", flows.terminals[found.terminal_id], units),
        display.unit("room_flow", units),
        f"{display.signed(off * 100, 0)} %" if abs(off) >= 0.005 else "as designed",
        "watch" if abs(off) > 0.1 else "",
        () if state.show.what.any else ("gets", found.terminal_id),
    )


def method_table(state: State, rows) -> TableVM:
    """Every way of sizing with what it makes of this system; the one in force is chosen."""
    units = state.show.units
    if rows is None or isinstance(rows, Missing):
        words = rows.remedy if rows is not None else "Sizing the ducts in every way …"
        return TableVM(
            (Column("Ways of sizing", width=400, left=True, stretch=True),),
            (Row("note", "note", (Cell(words, italic=True),)),),
        )
    columns = (
        Column("Sized by", width=170, left=True, stretch=True),
        Column("Steel", display.unit("mass", units), 90),
        Column("Sheet", display.unit("area", units), 90),
        Column("Index run", display.unit("pressure", units), 100),
        Column("Spread of runs", "%", 118),
        Column("Sizes", width=64),
        Column("Limits broken", width=104),
        Column("Cost over life", width=120),
    )
    least = min(r.cost for r in rows)
    return TableVM(
        columns,
        tuple(
            Row(
                "method",
                r.method,
                (
                    Cell(r.name),
                    Cell(display.figure("mass", r.mass_kg, units)),
                    Cell(display.figure("area", r.sheet_m2, units, 0)),
                    Cell(display.figure("pressure", r.fan_pa, units)),
                    Cell(display.number(r.imbalance * 100, 1)),
                    Cell(str(r.sizes)),
                    Cell(str(r.broken) if r.broken else display.DASH, tone="watch" if r.broken else ""),
                    Cell(display.number(r.cost, 0), tone="strong" if r.cost <= least * 1.0001 else ""),
                ),
            )
            for r in rows
        ),
    )


def take_off_table(state: State, ducts: DuctResult) -> TableVM:
    """The bill of quantities: ducts by size, then fittings, flexible ducts, dampers, terminals; sums below."""
    units, bill = state.show.units, take_off(state.results, ducts)
    columns = (
        Column("What", width=230, left=True, stretch=True),
        Column("Size", display.unit("duct_size", units), 110),
        Column("Pieces", width=70),
        Column("Cut", width=54),
        Column("Length", display.unit("length", units), 86),
        Column("Sheet", display.unit("area", units), 86),
        Column("Thick", "mm", 72),
        Column("Steel", display.unit("mass", units), 86),
    )
    rows = [
        Row(
            "size",
            f"s{i}",
            (
                Cell(f"{r.section.shape} duct, {r.material}, class {r.tightness}"),
                Cell(display.size(r.section, units)),
                *(
                    Cell(text, why=("cut", ducts.system_id, ducts.air, i, what))
                    for what, text in (
                        ("pieces", str(r.standard)),
                        ("cut", str(r.cut) if r.cut else display.DASH),
                        ("length", display.figure("length", r.length_m, units, 1)),
                        ("sheet", display.figure("area", r.sheet_m2, units, 1)),
                        ("thickness", f"{r.thickness_m * 1000:.1f}"),
                        ("mass", display.figure("mass", r.mass_kg, units, 1)),
                    )
                ),
            ),
        )
        for i, r in enumerate(bill.sizes)
    ]
    rows.append(
        Row(
            "size",
            "sum",
            (
                Cell("All ducts", tone="strong"),
                Cell(""),
                Cell(str(sum(r.standard for r in bill.sizes)), tone="strong"),
                Cell(str(sum(r.cut for r in bill.sizes)), tone="strong"),
                Cell(
                    display.figure("length", ducts.length_m, units, 1),
                    tone="strong",
                    why=("system figure", ducts.system_id, "length", ducts.air),
                ),
                Cell(display.figure("area", bill.sheet_m2, units, 1), tone="strong"),
                Cell(""),
                Cell(
                    display.figure("mass", bill.mass_kg, units, 1),
                    tone="strong",
                    why=("system figure", ducts.system_id, "mass", ducts.air),
                ),
            ),
        )
    )
    rows += [
        Row(
            "thickness",
            f"t{i}",
            (
                Cell("  of these, sheet"),
                Cell(""),
                Cell(""),
                Cell(""),
                Cell(""),
                Cell(display.figure("area", sheet, units, 1)),
                Cell(f"{t * 1000:.1f}"),
                Cell(display.figure("mass", mass, units, 1)),
            ),
        )
        for i, (t, sheet, mass) in enumerate(bill.by_thickness())
    ]
    rows += [
        Row(
            "count",
            f"c{i}",
            (
                Cell(r.name.replace("-", " "), fitting=r.name if r.kind in ("fitting", "damper") else ""),
                Cell(r.size),
                Cell(
                    str(r.count),
                    why=("fittings", ducts.system_id, ducts.air, r.name, r.size)
                    if r.kind in ("fitting", "damper")
                    else (),
                ),
                Cell(""),
                Cell(display.figure("length", r.length_m, units, 1) if r.length_m else ""),
                Cell(display.figure("area", r.area_m2, units, 1) if r.area_m2 else ""),
                Cell(""),
                Cell(""),
            ),
        )
        for i, r in enumerate(bill.counts)
    ]
    return TableVM(columns, tuple(rows))


def fitting_table(state: State, ducts: DuctResult) -> TableVM:
    """Every fitting where it is booked, the greatest loss first; a click selects its duct."""
    units = state.show.units
    columns = (
        Column("Fitting", width=200, left=True, stretch=True),
        Column("Before", width=90, left=True),
        Column("Size", display.unit("duct_size", units), 110),
        Column("k", width=60),
        Column("on", width=80, left=True),
        Column("Velocity", display.unit("velocity", units), 90),
        Column("Loss", display.unit("pressure", units), 80),
    )
    found = [(f, s, ("fitting", s.segment_id, i)) for s in ducts.segments.values() for i, f in enumerate(s.fittings)]
    found.sort(key=lambda fs: -fs[0].pressure_pa)
    return TableVM(
        columns,
        tuple(
            Row(
                "segment",
                s.segment_id,
                (
                    Cell(f.name.replace("-", " ").capitalize(), fitting=f.name),
                    Cell(s.segment_id, tone="faint"),
                    Cell(display.size(s.section, units), why=("duct", s.segment_id, "size")),
                    Cell(display.number(f.k, 2), why=why),
                    Cell(
                        {"duct": "the duct", "common": "before it", "small": "the smaller"}[f.reference], tone="faint"
                    ),
                    Cell(display.figure("velocity", s.velocity_m_s, units), why=("duct", s.segment_id, "velocity")),
                    Cell(display.figure("fine_pressure", f.pressure_pa, units), why=why),
                ),
            )
            for f, s, why in found
        ),
    )


def section_vm(state: State, ducts: DuctResult | Missing) -> LongSectionVM:
    """The run to what is chosen; without a choice the index run."""
    if isinstance(ducts, Missing):
        return LongSectionVM(None, ducts.remedy, "supply", (), state.show.units)
    chosen = state.selection.of("segment")
    end = next((i for i in chosen if i in ducts.segments and ducts.tree.reached[ducts.segment_ids.index(i)]), "")
    if not end:
        end = next(
            (t.segment_id for t in ducts.terminals if t.terminal_id in state.selection.of("terminal")),
            ducts.index.segment_id,
        )
    # On to the last terminal beyond, so that a run is seen whole whichever piece of it is chosen.
    beyond = [t.segment_id for t in ducts.terminals if end in ducts.path(t.segment_id)]
    index = ducts.index.segment_id
    whole = index if index in beyond else max(beyond, key=lambda i: ducts.segments[i].distance_m) if beyond else end
    return LongSectionVM(
        long_section(state.results, ducts, whole), "", ducts.air, chosen, state.show.units, state.show.level_id
    )


def obstacle_card(state: State) -> CardVM:
    units, ids = state.show.units, state.selection.ids
    obstacle = find(state.project.obstacles, ids[0])
    unit = display.unit("length", units)
    hole = obstacle.sleeves[0].top_m - obstacle.sleeves[0].bottom_m if obstacle.sleeves else 0.0
    rows = (
        InputVM(("obstacle", ids, "kind"), "Kind", obstacle.kind, ""),
        *(
            InputVM(
                ("obstacle", ids, name),
                label,
                display.figure("length", getattr(obstacle, name), units),
                unit,
                "plain",
                "length",
            )
            for name, label in (("bottom_m", "Lower edge"), ("top_m", "Upper edge"))
        ),
        InputVM(
            ("obstacle", ids, "sleeve_m"),
            "Hole through it, height",
            display.figure("length", hole, units),
            unit,
            "plain",
            "length",
            tip="0: none",
        ),
    )
    return CardVM(
        "Obstacle",
        f"{obstacle.kind} {obstacle.id}",
        "heights above the floor",
        (),
        (Inputs("In the way", "", rows), *findings_section(state.results, "obstacle", ids)),
        ("Remove this obstacle", ("remove ceiling", ids, "obstacle")),
    )


def ceiling_zone_card(state: State) -> CardVM:
    units, ids = state.show.units, state.selection.ids
    zone = find(state.project.ceiling_zones, ids[0])
    unit = display.unit("length", units)
    rows = (
        InputVM(("ceiling zone", ids, "name"), "Name", zone.name, ""),
        *(
            InputVM(
                ("ceiling zone", ids, name),
                label,
                display.figure("length", getattr(zone, name), units),
                unit,
                "plain",
                "length",
            )
            for name, label in (("ceiling_m", "Ceiling"), ("soffit_m", "Structure"), ("allowance_m", "Kept free"))
        ),
    )
    return CardVM(
        "Ceiling zone",
        zone.name,
        "heights above the floor",
        (
            Headline(
                "Free",
                display.figure("duct_size", zone.free_m, units),
                display.unit("duct_size", units),
                "for ducts",
                why=("free height", zone.id),
            ),
        ),
        (Inputs("Heights", "", rows),),
        ("Remove this zone", ("remove ceiling", ids, "ceiling zone")),
    )
