"""Terminals of rooms: what the catalogue offers for one, and the schedule of all."""

import math

from garnetfin import display
from garnetfin.engine.results import Missing, TerminalAir
from garnetfin.engine.stages.terminals import CEILING, OF_ROOM, PLACING, limits_of, models, options
from garnetfin.project.ducts import Air
from garnetfin.project.lookup import find
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

AIR = (("supply", "Supply"), ("return", "Return"), ("extract", "Extract"))
KINDS = (("ceiling", "Ceiling"), ("slot2", "Slot"), ("wallg", "Wall"), ("displ", "Low"))


def kinds_of(choice: str) -> tuple[str, ...]:
    return CEILING if choice == "ceiling" else (choice,)


def option_table(state: State, room_id: str, air: Air, kind: str) -> TableVM:
    """What fits a room, best first; then what does not, and why."""
    units = state.show.units
    columns = (
        Column("Model", width=104, left=True, stretch=True),
        Column("Grid", width=56),
        Column("Each", display.unit("room_flow", units), 64),
        Column("", display.unit("pressure", units), 40),
        Column("Throw", display.unit("length", units), 66),
        Column("of reach", width=64),
        Column("NC", width=52),
    )
    found = (
        options(state.results, room_id, air, kinds_of(kind))
        if room_id and state.known
        else Missing("no room", "Click a room of the plan or the schedule")
    )
    if isinstance(found, Missing):
        return TableVM(
            (Column("What the catalogue offers", width=300, left=True, stretch=True),),
            (Row("line", "none", (Cell(f"{found.reason.capitalize()}. {found.remedy}", italic=True),)),),
        )
    rows = []
    for o in found.options:
        rows.append(
            Row(
                "option",
                o.model,
                (
                    Cell(o.model),
                    Cell(f"{o.nx} × {o.ny}" if o.count == o.nx * o.ny else f"{o.count} of {o.nx * o.ny}"),
                    Cell(display.figure("room_flow", o.flow_m3s, units)),
                    Cell(display.figure("pressure", o.pressure_pa, units)),
                    Cell(display.figure("length", o.throw_m, units, 1) if o.throw_m > 0 else display.DASH),
                    Cell(f"{o.ratio:.2f}" if math.isfinite(o.ratio) else display.DASH),
                    Cell(_nc(o.nc)),
                ),
            )
        )
    for name, rule in found.stopped_by:
        rows.append(
            Row(
                "stopped",
                name,
                (
                    Cell(name, tone="faint"),
                    *(Cell("") for _ in range(5)),
                    Cell(rule, tone="faint", italic=True, span=True),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def _nc(value: float) -> str:
    return display.DASH if not math.isfinite(value) else "<15" if value < 15 else f"{value:.0f}"


def schedule(state: State) -> TableVM:
    """Every terminal with its room, model, flow and what it does there."""
    units, project, results = state.show.units, state.project, state.found
    columns = (
        Column("Terminal", width=78, left=True),
        Column("Room", width=104, left=True, stretch=True),
        Column("Air", width=58, left=True),
        Column("Model", width=104, left=True),
        Column("Flow", display.unit("room_flow", units), 72),
        Column("Neck", display.unit("velocity", units), 76),
        Column("", display.unit("pressure", units), 44),
        Column("Throw", display.unit("length", units), 70),
        Column("of reach", width=66),
        Column("NC", width=52),
        Column("Together NC", width=84),
    )
    limit = limits_of(project.book).nc
    rows = []
    for t in project.terminals:
        room, found = find(project.rooms, t.room_id), results.terminals.get(t.id) if results else None
        name = Cell(room.name if room else "no room")
        if found is None:
            rows.append(
                Row(
                    "terminal",
                    t.id,
                    (
                        Cell(t.label),
                        name,
                        Cell(t.air, tone="faint"),
                        Cell(t.model or "by rule"),
                        *(Cell("") for _ in range(6)),
                        Cell("no air system serves the room", tone="faint", italic=True, span=True),
                    ),
                )
            )
            continue
        rows.append(
            Row(
                "terminal",
                t.id,
                (
                    Cell(t.label),
                    name,
                    Cell(t.air, tone="faint"),
                    Cell(found.point.model, "pinned" if t.model else ""),
                    Cell(
                        display.figure("room_flow", found.flow_m3s, units),
                        "" if isinstance(t.share, Rule) else "pinned",
                        why=("terminal flow", t.id),
                    ),
                    Cell(
                        display.figure("velocity", found.point.neck_m_s, units), why=("terminal figure", t.id, "neck")
                    ),
                    Cell(
                        display.figure("pressure", found.point.pressure_pa, units),
                        why=("terminal figure", t.id, "drop"),
                    ),
                    *_reach(found, units),
                    Cell(_nc(found.nc), why=("terminal figure", t.id, "nc")),
                    Cell(
                        _nc(found.room_nc),
                        tone="watch" if found.room_nc > limit + 0.5 else "",
                        why=("terminal figure", t.id, "room nc"),
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def _reach(found: TerminalAir, units) -> tuple[Cell, Cell]:
    band = PLACING.get(found.kind, ("", None))[1]
    if band is None or not math.isfinite(found.throw_m):
        outside = "outside table" if found.point.outside_table else display.DASH
        return Cell(display.DASH), Cell(outside, tone="watch" if found.point.outside_table else "faint")
    return (
        Cell(display.figure("length", found.throw_m, units, 1), why=("terminal figure", found.terminal_id, "throw")),
        Cell(
            f"{found.ratio:.2f}",
            tone="" if found.reaches else "watch",
            why=("terminal figure", found.terminal_id, "ratio"),
        ),
    )


def catalogue_words(state: State) -> str:
    own = len(state.project.book.terminals)
    return (
        f"{len(models(state.project.book))} models, {own} of your own"
        if own
        else f"{len(models(state.project.book))} models, an invented sample"
    )


def terminal_air_card(state: State) -> CardVM:
    """A terminal in Air: its air, kind and model, what it does in the room. Several share their kind."""
    project, units = state.project, state.show.units
    chosen = [t for t in (find(project.terminals, i) for i in state.selection.ids) if t is not None]
    first = chosen[0]
    found, room = state.results.terminals.get(first.id), find(project.rooms, first.room_id)
    foot = (
        f"Remove {'this terminal' if len(chosen) == 1 else f'{len(chosen)} terminals'}",
        edits.remove_terminals(state.selection.ids),
    )
    kinds = sorted({m.kind for m in models(project.book).values() if first.air in m.air})
    words = {m.kind: m.description for m in models(project.book).values()}
    same = len({t.kind for t in chosen}) == 1
    rows = [
        InputVM(
            edits.terminal_kind(state.selection.ids),
            "Kind",
            "",
            "",
            choices=tuple((k, words[k]) for k in kinds),
            chosen=first.kind if same else "several",
        )
    ]
    title = f"{room.number} {room.name}" if room else "no room"
    if len(chosen) > 1 or found is None:
        line = f"{len(chosen)} terminals" if len(chosen) > 1 else "no air system serves the room"
        return CardVM(
            "Terminals",
            title if len({t.room_id for t in chosen}) == 1 else "Several rooms",
            line,
            (),
            (Inputs("Chosen", "", tuple(rows)),),
            foot,
        )
    p, own = found.point, [t for t in project.terminals if t.room_id == first.room_id and t.air == first.air]
    row = state.results.room_air[first.room_id]
    whole = getattr(row, OF_ROOM[first.air])
    rows += [
        InputVM(
            edits.terminal_model(first.id),
            "Model",
            p.model,
            "",
            "pinned" if first.model else "rule",
            choices=(
                ("", f"by rule: {p.model}" if not first.model else "by rule"),
                *((m.model, m.model) for m in models(project.book).values() if m.kind == first.kind),
            ),
            chosen=first.model,
        ),
        InputVM(
            edits.terminal_share(first.id),
            "Share of the air",
            display.figure("fraction", found.flow_m3s / whole if whole else 0.0, units),
            "%",
            "rule" if isinstance(first.share, Rule) else "pinned",
            "fraction",
            tip=f"by rule: alike among {len(own)}",
        ),
    ]
    limits = limits_of(project.book)
    lines = [
        Line(
            "Neck velocity",
            display.figure("velocity", p.neck_m_s, units),
            display.unit("velocity", units),
            why=("terminal figure", first.id, "neck"),
        ),
        Line(
            "Pressure drop",
            display.figure("pressure", p.pressure_pa, units),
            display.unit("pressure", units),
            why=("terminal figure", first.id, "drop"),
        ),
    ]
    if math.isfinite(found.throw_m) and found.throw_m > 0:
        lines += [
            Line(
                "Throw to 0.25 m/s",
                display.figure("length", found.throw_m, units, 1),
                display.unit("length", units),
                why=("terminal figure", first.id, "throw"),
            ),
            Line(
                "Of its reach",
                f"{found.ratio:.2f}" if math.isfinite(found.ratio) else display.DASH,
                "" if found.reaches else "outside 0.7 to 1.8",
                why=("terminal figure", first.id, "ratio"),
            ),
        ]
    remark = "outside its table" if p.outside_table else f"limit NC {limits.nc:.0f}"
    return CardVM(
        f"Terminal {first.label} · {first.air}",
        title,
        words.get(first.kind, first.kind),
        (
            Headline(
                "Air",
                display.figure("room_flow", found.flow_m3s, units),
                display.unit("room_flow", units),
                f"one of {len(own)}",
                why=_flow_address(state, first),
            ),
            Headline("NC", _nc(found.nc), "", "alone", why=("terminal figure", first.id, "nc")),
            Headline(
                "Together",
                _nc(found.room_nc),
                "NC",
                remark,
                "watch" if found.room_nc > limits.nc + 0.5 else "",
                ("terminal figure", first.id, "room nc"),
            ),
        ),
        (Inputs("Terminal", "", tuple(rows)), Lines("What it does", "", tuple(lines))),
        foot,
    )


def _flow_address(state: State, terminal) -> tuple:
    """Of its own flow where a duct leads to it, else of its room's."""
    if any(
        t.terminal_id == terminal.id
        for s in state.project.air_systems
        for d in state.results.networks(s.id)
        for t in d.terminals
    ):
        return ("terminal flow", terminal.id)
    return ("flow", terminal.room_id) if terminal.air == "supply" else ()
