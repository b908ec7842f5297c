"""Cards of what is chosen among ducts: one, several, those without figures, terminals."""

from math import isfinite

from garnetfin import display
from garnetfin.core.tables import fitting_words
from garnetfin.engine.results import DuctResult, Missing, SegmentResult, there
from garnetfin.engine.stages.terminals import models
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.balance import DAMPERS, balance_section, damper_section, real
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines, Piece, StackBar
from garnetfin.ui.view_models.duct_inputs import ROLES, SHAPES, fitting_inputs, held, listed, make_inputs, shape_inputs
from garnetfin.ui.view_models.ducts import the_ducts
from garnetfin.ui.view_models.findings import findings_section
from garnetfin.ui.view_models.inline import part_lines, put_input
from garnetfin.ui.view_models.size_ladder import ladder


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
        else there(state.results.air[segment.system_id]).figures.friction_pa_m.figure
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
            f"{_tags(result).get(f.part_id, fitting_words(f.name))}, k {display.number(f.k, 2)}",
            display.figure("fine_pressure", f.pressure_pa, units),
            pressure,
            why=("fitting", ids[0], i),
        )
        for i, f in enumerate(result.fittings)
    ]
    heat = state.results.duct_heat.get(ducts.system_id) if state.known and ducts.air == "supply" else None
    if heat is not None:
        rows.append(
            Line(
                f"Air in it, {display.figure('temperature', heat.start_c[ids[0]], units)} to",
                display.figure("temperature", heat.end_c[ids[0]], units, 2 if units == "SI" else 1),
                display.unit("temperature", units),
                why=("duct", ids[0], "heat"),
            )
        )
    if result.leak_m3s:
        rows.append(
            Line(
                f"Leaks {'out' if result.leak_m3s > 0 else 'in'}, class {result.tightness}",
                display.figure("room_flow", abs(result.leak_m3s), units, 2),
                display.unit("room_flow", units),
                why=("duct", ids[0], "leak"),
            )
        )
    rows.append(
        Line(
            "Total pressure at end",
            display.figure("fine_pressure", result.left_pa, units),
            pressure,
            strong=True,
            why=("left", result.segment_id),
        )
    )
    inputs = shape_inputs([segment], [result], units)
    if result.role == "last":
        inputs.append(
            InputVM(
                edits.flexible(ids[0]),
                "Flexible at its end",
                display.figure("length", segment.flexible_m, units),
                display.unit("length", units),
                "plain",
                "length",
            )
        )
    inputs.append(put_input((ids[0],)))
    fitting = fitting_inputs([segment], [result], units)
    sections = (
        ladder(result, ids, limit, units),
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
        *part_lines(result, units),
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
        ("Remove this duct", edits.remove_ducts(ids)),
    )


def _tags(r: SegmentResult) -> dict[str, str]:
    """What parts in a duct are called among what it loses."""
    return {p.part_id: f"{p.tag} {p.kind}" for p in r.inline}


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
            Inputs("Duct", "", (listed(segments, "shape", "Shape", SHAPES), listed(segments, "role", "Role", ROLES))),
            *findings_section(state.results, "segment", ids),
        ),
        ("Remove this duct" if len(ids) == 1 else "Remove these ducts", edits.remove_ducts(ids)),
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
                "Duct mass",
                display.figure("mass", sum(r.mass_kg for r in rows), units),
                display.unit("mass", units),
                why=("several ducts", ducts.system_id, ducts.air, "mass", ids),
            ),
        ),
        (
            Inputs("Ducts", "changes hold for all", (*shape_inputs(segments, rows, units), put_input(ids))),
            Inputs("Made of", "", tuple(make_inputs(segments, rows, units))),
            *((Inputs("Fittings before them", "", tuple(fitting)),) if fitting else ()),
            Inputs(
                "Dampers",
                "at their starts",
                (
                    listed(segments, "damper", "Kind", DAMPERS),
                    held(
                        segments,
                        "damper_deg",
                        "Blade angle",
                        "plain",
                        units,
                        [
                            r.damper.angle_deg if r.damper is not None and r.damper.angle_deg is not None else 0.0
                            for r in rows
                        ],
                        "by rule: what takes the excess pressure; 0 is open",
                    ),
                ),
            ),
        ),
        ("Remove these ducts", edits.remove_ducts(ids)),
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
    foot = ("Remove this terminal", edits.remove_terminals(state.selection.ids))
    if found is None:
        return CardVM(
            "Terminal",
            terminal.label if terminal else "Gone",
            "No duct leads from the unit to it",
            (),
            findings_section(state.results, "terminal", state.selection.ids) if state.known else (),
            foot,
        )
    segment = ducts.segments[found.segment_id]
    level = find(project.levels, room.level_id)
    pressure = display.unit("pressure", units)
    path = [ducts.segments[s] for s in ducts.path(found.segment_id)]
    on_trunk = [s for s in path if s.role in ("trunk", "riser")]
    branches = [s for s in path[:-1] if s.role not in ("trunk", "riser")]

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
            f"Runout {display.size(segment.section, units)}",
            [segment] if segment.role not in ("trunk", "riser") else [],
            "glass",
        ),
        ("Terminal", found.point.pressure_pa, "return", ("terminal loss", found.terminal_id)),
        ("Dampers", found.surplus_pa - found.left_pa, "garnet", surplus),
        ("Not taken", found.left_pa, "bar", surplus),
    )
    whole = max(ducts.runs.fan_pa, 1e-9)
    bar = StackBar(
        f"Pressure breakdown of its {display.figure('pressure', ducts.runs.fan_pa, units)} {pressure}",
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
            edits.terminal_share(state.selection.ids[0]),
            "Share of the room’s air",
            display.figure("fraction", share, units),
            "%",
            "rule" if type(terminal.share).__name__ == "Rule" else "pinned",
            "fraction",
            tip=f"by rule: alike among {several}",
        ),
        InputVM(
            edits.terminal_model(state.selection.ids[0]),
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
                "Excess",
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
        "Actual flow" if not state.show.what.any else "What if",
        display.figure("room_flow", flows.terminals[found.terminal_id], units),
        display.unit("room_flow", units),
        f"{display.signed(off * 100, 0)} %" if abs(off) >= 0.005 else "as designed",
        "watch" if abs(off) > 0.1 else "",
        () if state.show.what.any else ("gets", found.terminal_id),
    )
