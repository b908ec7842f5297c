"""Balance: what each terminal really gets, runs part by part, commissioning, resizing, single changes, noise, as
tables; cards of dampers.
"""

from math import isfinite, isinf

from garnetfin import display
from garnetfin.engine.flows.balance_check import Step
from garnetfin.engine.flows.commissioning import Sheet
from garnetfin.engine.flows.flow_results import SOURCES, Flows, NoiseResult
from garnetfin.engine.flows.resizing import Resized
from garnetfin.engine.flows.single_changes import Check
from garnetfin.engine.results import DamperSetting, DuctResult, Missing, SegmentResult
from garnetfin.project.ducts import Segment
from garnetfin.project.lookup import find
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

SWING = 0.5  # of the design flow, at which a bar is full
DAMPERS = (("", "by rule"), ("blade", "single blade"), ("orifice", "orifice plate"), ("none", "none"))


def note_table(name: str, words: str) -> TableVM:
    """A table that says why it is empty."""
    return TableVM(
        (Column(name, width=400, left=True, stretch=True),), (Row("note", "note", (Cell(words, italic=True),)),)
    )


def real(state: State) -> Flows | None:
    return state.flows if isinstance(state.flows, Flows) else None


def share_cell(ratio: float, tolerance: float, why: tuple = ()) -> Cell:
    """Real against design as a swinging bar."""
    if not isfinite(ratio):
        return Cell(display.DASH, tone="faint")
    percent = (ratio - 1) * 100
    off = abs(ratio - 1) > tolerance + 1e-9
    return Cell(
        display.signed(percent, 0) if abs(percent) >= 0.5 else "0",
        swing=max(-1.0, min(1.0, (ratio - 1) / SWING)),
        tone="watch" if off else "",
        why=why,
    )


def setting_text(d: DamperSetting | None) -> str:
    """Where a damper stands."""
    if d is None:
        return "none"
    if d.free is not None:
        return f"{d.free * 100:.0f} %" if d.free < 0.999 else "open"
    if d.added_k <= 1e-9 and d.angle_deg is not None and d.angle_deg < 0.5:
        return "open"
    return display.DASH if d.angle_deg is None else f"{d.angle_deg:.0f}"


def terminal_table(state: State, ducts: DuctResult, tolerance: float) -> TableVM:
    """Terminals by rising surplus, the index run first: design flow, what comes of it, what the damper takes and where
    it stands.
    """
    units, flows = state.show.units, real(state)
    columns = (
        Column("To", width=64, left=True),
        Column("Room", width=80, left=True, stretch=True),
        Column("", display.unit("room_flow", units), 42),
        Column("actual", "%", 74),
        Column("Damper", display.unit("pressure", units), 68),
        Column("set", "°", 58),
    )
    rows, boxes = [], state.system is not None and state.system.flow == "load" and ducts.air == "supply"
    for t in sorted(ducts.terminals, key=lambda t: (t.surplus_pa, t.label)):
        room, r = find(state.project.rooms, t.room_id), ducts.segments[t.segment_id]
        damper = t.damper if t.neck else r.damper
        # Where boxes hold the flow they are the dampers.
        setting = "box" if boxes and not r.damper_pinned else setting_text(damper)
        fixed = not t.neck and r.damper is not None and r.damper.free is None
        ratio = flows.ratio(t.terminal_id) if flows is not None and t.terminal_id in flows.terminals else float("nan")
        rows.append(
            Row(
                "terminal",
                t.terminal_id,
                (
                    Cell(t.label, tone="garnet" if t is ducts.index else ""),
                    Cell(room.name, tone="faint"),
                    Cell(display.figure("room_flow", t.flow_m3s, units), why=("terminal flow", t.terminal_id)),
                    share_cell(ratio, tolerance, () if state.show.what.any else ("gets", t.terminal_id)),
                    Cell(
                        display.figure("pressure", damper.surplus_pa if damper else 0.0, units),
                        why=("surplus", t.terminal_id),
                    ),
                    Cell(
                        setting,
                        "pinned" if r.damper_pinned and not t.neck else "",
                        "garnet" if setting == "open" else "watch" if setting == display.DASH else "",
                        edit=edits.duct_value((t.segment_id,), "damper_deg") if fixed else None,
                        quantity="plain",
                        why=("damper", t.segment_id) if damper is not None and not t.neck else (),
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def room_table(state: State) -> TableVM:
    """Rooms under the what-if: design and real flow, what that means in watts and degrees, needs that are not met."""
    units, flows = state.show.units, real(state)
    if flows is None:
        return note_table("Rooms", state.flows.remedy if isinstance(state.flows, Missing) else "Solving …")
    symbol = display.unit("room_flow", units)
    columns = (
        Column("No.", width=50, left=True),
        Column("Room", width=130, left=True, stretch=True),
        Column("Design", symbol, 84),
        Column("Actual flow", symbol, 76),
        Column("", "%", 104),
        Column("Cooling shortfall", display.unit("power", units), 104),
        Column("Above set-point", display.unit("temperature_difference", units), 88),
        Column("Room", display.unit("pressure", units), 70),
        Column("Outdoor air", width=84, left=True),
        Column("Short of criterion", width=150, left=True),
    )
    rows = []

    def why(room_id: str, what: str) -> tuple:
        """As designed; what a what-if moves is solved beside the results."""
        return ("room gets", room_id, what) if not state.show.what.any else ()

    for r in sorted(flows.rooms, key=lambda r: r.real_m3s / r.design_m3s if r.design_m3s > 0 else 9.0):
        room = find(state.project.rooms, r.room_id)
        rows.append(
            Row(
                "room",
                r.room_id,
                (
                    Cell(room.number, tone="faint"),
                    Cell(room.name),
                    Cell(display.figure("room_flow", r.design_m3s, units), why=why(room.id, "design")),
                    Cell(display.figure("room_flow", r.real_m3s, units), why=why(room.id, "gets")),
                    share_cell(
                        r.real_m3s / r.design_m3s if r.design_m3s > 0 else float("nan"), 0.10, why(room.id, "share")
                    ),
                    Cell(
                        display.figure("power", r.lacks_w, units) if r.lacks_w else display.DASH,
                        tone="watch" if r.lacks_w else "faint",
                        why=why(room.id, "lacks"),
                    ),
                    Cell(
                        display.figure("temperature_difference", r.warmer_k, units, 1)
                        if r.warmer_k > 0.05
                        else display.DASH,
                        tone="watch" if r.warmer_k > 0.5 else "faint",
                        why=why(room.id, "warmer"),
                    ),
                    Cell(
                        display.figure("pressure", r.pressure_pa, units, 1),
                        tone="watch" if abs(r.pressure_pa) > 10 else "faint",
                        why=why(room.id, "pressure"),
                    ),
                    Cell("met" if r.outdoor_met else "short", tone="faint" if r.outdoor_met else "watch"),
                    Cell(
                        "cut off" if r.room_id in flows.isolated else ", ".join(r.short) or display.DASH,
                        tone="bad" if r.room_id in flows.isolated else "watch" if r.short else "faint",
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def step_table(state: State, steps: tuple[Step, ...]) -> TableVM:
    """A run from the intake to the room and back, total and static pressure behind every part."""
    units = state.show.units
    pressure = display.unit("pressure", units)
    columns = (
        Column("Where", width=70, left=True),
        Column("Part", width=220, left=True, stretch=True),
        Column("Loss", pressure, 90),
        Column("Total behind", pressure, 110),
        Column("Static behind", pressure, 110),
        Column("Velocity", display.unit("velocity", units), 90),
    )
    rows = []
    for i, s in enumerate(steps):
        kind, ref = s.ref
        rows.append(
            Row(
                kind if kind in ("segment", "terminal", "room") and ref else "step",
                ref if kind in ("segment", "terminal", "room") and ref else f"step{i}",
                (
                    Cell(s.side, tone="faint"),
                    Cell(s.name, tone="strong" if s.loss_pa < 0 or s.side == "room" else ""),
                    Cell(display.figure("fine_pressure", s.loss_pa, units)),
                    Cell(display.figure("fine_pressure", s.total_pa, units)),
                    Cell(display.figure("fine_pressure", s.static_pa, units)),
                    Cell(display.figure("velocity", s.velocity_m_s, units) if s.velocity_m_s else display.DASH),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def sheet_table(state: State, sheet: Sheet) -> TableVM:
    """The commissioning sheet in the order of work."""
    units = state.show.units
    symbol = display.unit("room_flow", units)
    columns = (
        Column("Step", width=46),
        Column("Damper", width=150, left=True, stretch=True),
        Column("Group", width=76, left=True),
        Column("Design", symbol, 80),
        Column("All open", "%", 84),
        Column("Set to", "%", 76),
        Column("Reading", symbol, 86),
        Column("At the end", "%", 92),
        Column("Blade", "°", 84),
        Column("Computed", "°", 90),
    )
    rows = []
    for r in sheet.rows:
        rows.append(
            Row(
                "terminal" if r.terminal_id else "segment",
                r.terminal_id or r.segment_id,
                (
                    Cell(str(r.order), tone="faint"),
                    Cell(r.label),
                    Cell(r.group, tone="faint"),
                    Cell(display.figure("room_flow", r.design_m3s, units)),
                    Cell(f"{r.first * 100:.0f}"),
                    Cell(f"{r.target * 100:.1f}"),
                    Cell(display.figure("room_flow", r.reading_m3s, units)),
                    Cell(f"{r.final * 100:.1f}", tone="" if r.within else "watch"),
                    Cell(
                        "stays open" if r.reference else display.DASH if r.angle_deg is None else f"{r.angle_deg:.0f}",
                        tone="garnet" if r.reference else "watch" if r.angle_deg is None else "",
                    ),
                    Cell(display.DASH if r.computed_deg is None else f"{r.computed_deg:.0f}", tone="faint"),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def ways_table(state: State, found: Resized) -> TableVM:
    """Dampers and smaller ducts side by side, by price and noise."""
    units = state.show.units
    pressure = display.unit("pressure", units)
    columns = (
        Column("Balanced", width=96, left=True, stretch=True),
        Column("Smaller", width=64),
        Column("Dampers", width=70),
        Column("Apply", pressure, 64),
        Column("Greatest", pressure, 84),
        Column("Spread", "%", 72),
        Column("Sheet", display.unit("area", units), 76),
        Column("Duct mass", display.unit("mass", units), 72),
        Column("Cost over life", width=104),
        Column("Loudest", "NC", 90),
        Column("At", width=64, left=True),
        Column("Over limit", width=84),
    )
    return TableVM(
        columns,
        tuple(
            Row(
                "way",
                w.name,
                (
                    Cell(w.name),
                    Cell(str(len(found.sizes)) if w is found.resized else display.DASH),
                    Cell(str(w.dampers)),
                    Cell(display.figure("pressure", w.taken_pa, units)),
                    Cell(display.figure("pressure", w.most_pa, units)),
                    Cell(display.number(w.spread * 100, 1)),
                    Cell(display.figure("area", w.sheet_m2, units, 1)),
                    Cell(display.figure("mass", w.mass_kg, units)),
                    Cell(display.number(w.cost, 0)),
                    Cell(f"{w.worst_nc:.1f}"),
                    Cell(w.loudest, tone="faint"),
                    Cell(
                        str(w.over_limit) if w.over_limit else display.DASH, tone="watch" if w.over_limit else "faint"
                    ),
                ),
            )
            for w in (found.throttled, found.resized)
        ),
    )


def change_table(state: State, found: Check) -> TableVM:
    """Single changes by what they gain; a double click makes one."""
    units = state.show.units
    columns = (
        Column("Change", width=240, left=True, stretch=True),
        Column("Air that is missing", "%", 190),
        Column("Rooms short", width=90),
        Column("Fan", display.unit("shaft_power", units), 80),
        Column("", width=150, left=True),
    )
    whole = max(found.missing, 1e-9)
    rows = [
        Row(
            "change",
            "as found",
            (
                Cell("As the system stands", tone="strong"),
                Cell(f"{found.missing * 100:.1f}", bar=1.0),
                Cell(str(len(found.rooms_short))),
                Cell(
                    display.figure("shaft_power", found.flows.fan.electric_w, units, 2)
                    if found.flows.fan
                    else display.DASH
                ),
                Cell(""),
            ),
        )
    ]
    rows += [
        Row(
            "change",
            str(i),
            (
                Cell(c.words),
                Cell(f"{c.after * 100:.1f}", bar=c.after / whole),
                Cell(str(c.rooms_short)),
                Cell(display.figure("shaft_power", c.electric_w, units, 2) if c.electric_w else display.DASH),
                Cell(
                    "computed whole" if c.proven else "on the network" if c.command is not None else "done on site",
                    tone="faint",
                ),
            ),
        )
        for i, c in enumerate(found.changes)
    ]
    return TableVM(columns, tuple(rows))


def noise_table(state: State, ducts: DuctResult, found: NoiseResult) -> TableVM:
    """Terminals by how loud they are in their room: level by source, what the damper may take before it is heard."""
    units = state.show.units
    columns = (
        Column("To", width=68, left=True),
        Column("Room", width=112, left=True, stretch=True),
        Column("From fan", "dB(A)", 100),
        Column("ducts", "dB(A)", 90),
        Column("terminal", "dB(A)", 104),
        Column("damper", "dB(A)", 96),
        Column("box", "dB(A)", 76),
        Column("Together", "NC", 92),
        Column("Room", "NC", 70),
        Column("Limit", "NC", 74),
        Column("Damper unheard to", display.unit("pressure", units), 150),
    )
    by_id = {t.terminal_id: t for t in ducts.terminals}
    rows = []
    for n in sorted(found.terminals.values(), key=lambda n: -n.nc):
        t, room = by_id[n.terminal_id], found.rooms[n.room_id]
        levels = n.dba_by_source
        top = max(range(len(levels)), key=lambda i: levels[i])
        over = room.nc > room.limit_nc
        rows.append(
            Row(
                "terminal",
                n.terminal_id,
                (
                    Cell(t.label, tone="garnet" if n.terminal_id == found.index else ""),
                    Cell(find(state.project.rooms, n.room_id).name, tone="faint"),
                    *(
                        Cell(
                            f"{v:.0f}" if v > 0 else display.DASH,
                            tone="strong" if i == top else "faint",
                            why=("terminal noise", n.terminal_id, SOURCES[i]),
                        )
                        for i, v in enumerate(levels)
                    ),
                    Cell(f"{n.nc:.0f}", why=("terminal noise", n.terminal_id, "nc")),
                    Cell(f"{room.nc:.0f}", tone="watch" if over else "", why=("room noise", n.room_id)),
                    Cell(f"{room.limit_nc:.0f}", tone="faint", why=("terminal noise", n.terminal_id, "limit")),
                    Cell(
                        "any"
                        if isinf(n.heard_pa)
                        else display.figure("pressure", n.heard_pa, units)
                        if n.heard_pa > 0
                        else "too loud without",
                        tone="" if n.heard_pa > 0 else "watch",
                        italic=not n.heard_pa > 0,
                        why=("terminal noise", n.terminal_id, "heard"),
                    ),
                ),
            )
        )
    return TableVM(columns, tuple(rows))


def damper_section(
    state: State, segment: Segment, r: SegmentResult, noise: NoiseResult | Missing | None, terminal_id: str = ""
) -> tuple[Inputs, Lines]:
    """The damper of a duct: kind and blade as inputs; pressure, coefficient and sound as lines."""
    units, ids = state.show.units, (segment.id,)
    rows = [InputVM(edits.duct_choice(ids, "damper"), "Kind", "", "", choices=DAMPERS, chosen=segment.damper)]
    if r.damper is not None and r.damper.free is None:
        rows.append(
            InputVM(
                edits.duct_value(ids, "damper_deg"),
                "Blade angle",
                {"open": "0", display.DASH: ""}.get(setting_text(r.damper), setting_text(r.damper)),
                "°",
                "rule" if isinstance(segment.damper_deg, Rule) else "pinned",
                "plain",
                tip="by rule: what takes the excess pressure; 0 is open",
            )
        )
    pressure = display.unit("pressure", units)
    lines = []
    if r.damper is not None:
        lines += [
            Line(
                "Pressure it takes",
                display.figure("fine_pressure", r.damper.surplus_pa, units),
                pressure,
                why=("damper", segment.id),
            ),
            Line("Coefficient beyond open", display.number(r.damper.added_k, 2), why=("damper", segment.id)),
        ]
        if r.damper.free is not None:
            lines.append(Line("Free area of the plate", f"{r.damper.free * 100:.0f}", "%"))
    own = noise.terminals.get(terminal_id) if isinstance(noise, NoiseResult) else None
    if own is not None:
        lines += [
            Line(
                "Damper pressure at the noise limit",
                "any"
                if isinf(own.heard_pa)
                else display.figure("pressure", own.heard_pa, units)
                if own.heard_pa
                else "too loud without",
                "" if isinf(own.heard_pa) or not own.heard_pa else pressure,
            ),
            Line(
                f"Room with it, limit NC {own.limit_nc:.0f}",
                f"{noise.rooms[own.room_id].nc:.0f}",
                "NC",
                strong=noise.rooms[own.room_id].nc > own.limit_nc,
                why=("room noise", own.room_id),
            ),
        ]
    return Inputs("Damper", "at the start of its duct", tuple(rows)), Lines("What it does", "", tuple(lines))


def balance_section(state: State, ducts: DuctResult) -> Lines:
    """The system after balancing, or under the what-if."""
    units, flows = state.show.units, real(state)
    set_ = [r for r in ducts.segments.values() if r.damper is not None and r.damper.added_k > 1e-6]
    fitted = sum(r.damper is not None for r in ducts.segments.values())
    noise = state.results.noise.get(ducts.system_id)
    loud = sum(r.nc > r.limit_nc for r in noise.rooms.values()) if isinstance(noise, NoiseResult) else 0
    rows = []

    def why(what: str) -> tuple:
        """As designed; what a what-if moves is solved beside the results."""
        return (
            ("after balancing", ducts.system_id, ducts.air, what)
            if not state.show.what.any or what in ("set", "surplus", "noise")
            else ()
        )

    if flows is not None and ducts.air == "supply":
        rows += [
            Line("Furthest from its flow", f"±{flows.spread * 100:.0f}", "%", why=why("spread")),
            Line("Rooms short of a need", str(sum(bool(r.short) for r in flows.rooms)), why=why("short")),
        ]
        if not flows.converged:
            rows.append(Line("Not solved: best state, off by", f"{flows.residual_pa:.2g}", "Pa", strong=True))
    rows += [
        Line("Dampers set / open", f"{len(set_)} / {fitted - len(set_)}", why=why("set")),
        Line(
            "Greatest excess pressure",
            display.figure("pressure", max((t.surplus_pa for t in ducts.terminals), default=0.0), units),
            display.unit("pressure", units),
            why=why("surplus"),
        ),
        Line("Rooms above their noise limit", str(loud), why=why("noise")),
    ]
    return Lines(
        "After balancing" if not state.show.what.any else state.show.what.words.capitalize()[:40],
        f"all {len(ducts.terminals)}",
        tuple(rows),
    )
