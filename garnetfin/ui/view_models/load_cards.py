"""Loads of several rooms together: card, causes, what a mark had."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Block, Missing, Results, there
from garnetfin.engine.stages.blocks import block_of
from garnetfin.ui.state import State
from garnetfin.ui.view_models.card import BarLine, CardVM, CauseBars, Headline, Line, Lines
from garnetfin.ui.view_models.findings import findings_section
from garnetfin.ui.view_models.operation import assumptions, operation


def cause_bars(
    results: Results, room_ids: tuple[str, ...], units: System, at: tuple[int, int] | None = None
) -> CauseBars:
    """Causes in order of weight, heating to the left, cooling to the right, at the rooms' worst hour or another."""
    block = there(block_of(results, room_ids))
    by_cause, total = block.by_cause_w, block.sensible_w
    month, hour = at or block.peak
    cooling = {name: float(by_cause[i, month, hour]) for i, name in enumerate(CAUSES)}
    heating = {name: float(block.heating_by_cause_w[i]) for i, name in enumerate(HEATING_CAUSES)}
    names = sorted({*cooling, *heating}, key=lambda n: -max(abs(cooling.get(n, 0.0)), abs(heating.get(n, 0.0))))
    # A cause that takes heat out at this hour helps cooling; it stands on the heating side with its own sign.
    rows = [(n, heating.get(n, 0.0), cooling.get(n, 0.0)) for n in names]
    rows = [r for r in rows if max(abs(r[1]), abs(r[2])) > 0.5]
    greatest = max((max(abs(h), abs(c)) for _, h, c in rows), default=1.0)

    def show(w: float) -> str:
        return display.figure("load", w, units, 2 if greatest < 5000 else 1) if abs(w) >= 5 else ""

    return CauseBars(
        "Causes",
        f"heating {display.unit('load', units)} cooling",
        tuple(
            BarLine(
                n.capitalize(),
                h / greatest,
                c / greatest,
                show(h),
                show(c),
                ("block heating", tuple(room_ids), n) if n in HEATING_CAUSES else (),
                ("block cause", tuple(room_ids), n, month, hour) if n in CAUSES else (),
            )
            for n, h, c in rows[:10]
        ),
        display.with_unit("load", sum(heating.values()), units),
        display.with_unit("load", float(total[month, hour]), units),
    )


def against_lines(state: State, block: Block) -> Lines | None:
    """What changed against the mark: load, heating, and the causes that moved most."""
    other, units = state.against_block(block.room_ids), state.show.units
    if other is None:
        return None

    def change(now: float, then: float) -> str:
        return ("+" if now - then > 0 else "") + display.figure("load", now - then, units)

    unit = display.unit("load", units)
    rows = [
        Line(
            "Cooling",
            f"{display.figure('load', other.peak_w, units)} → {display.figure('load', block.peak_w, units)}",
            unit,
            strong=True,
        ),
        Line(
            "Heating",
            f"{display.figure('load', other.heating_w, units)} → {display.figure('load', block.heating_w, units)}",
            unit,
        ),
    ]
    m, h = block.peak
    m0, h0 = other.peak
    moved = sorted(
        ((c, float(block.by_cause_w[i, m, h]), float(other.by_cause_w[i, m0, h0])) for i, c in enumerate(CAUSES)),
        key=lambda x: -abs(x[1] - x[2]),
    )
    rows += [Line(f"of it {c}", change(a, b), unit) for c, a, b in moved[:4] if abs(a - b) >= 5]
    return Lines("Since the snapshot", state.against_name, tuple(rows))


def block_card(state: State, block: Block | Missing, title: str) -> CardVM:
    results, units = state.results, state.show.units
    if isinstance(block, Missing):
        return CardVM("Loads", title, block.remedy)
    month, hour = block.peak
    at = state.show.hour or block.peak
    ids = block.room_ids
    rows = (
        Headline(
            "Cooling",
            display.figure("load", block.peak_w, units, 1),
            display.unit("load", units),
            f"likely {display.figure('load', block.low_w, units, 0)}..{display.figure('load', block.high_w, units, 0)}"
            if block.estimated
            else f"{display.MONTHS[month]} {hour}–{hour + 1} h",
            why=("block", ids, "cooling"),
        ),
        Headline(
            "Heating",
            display.figure("load", block.heating_w, units, 1),
            display.unit("load", units),
            f"at {display.with_unit('temperature', results.climate.figures.winter_c.figure, units, 0)}",
            why=("block", ids, "heating"),
        ),
        Headline(
            "Diversity",
            f"{block.peak_w / block.sum_of_peaks_w * 100:.0f}",
            "%",
            "of room peaks",
            why=("diversity", ids),
        ),
    )
    latent = float(block.latent_w[at])
    lines = Lines(
        "Together",
        display.hour(*at),
        (
            Line(
                "Rooms, sensible",
                display.figure("load", float(block.sensible_w[at]), units),
                display.unit("load", units),
                why=("block", ids, "cooling", *at),
            ),
            Line(
                "Rooms, latent",
                display.figure("load", latent, units),
                display.unit("load", units),
                why=("block", ids, "latent", *at),
            ),
            Line(
                "Sum of room peaks",
                display.figure("load", block.sum_of_peaks_w, units),
                display.unit("load", units),
                why=("peaks", ids),
            ),
        ),
    )
    drifting = [(r, results.room(r.id)) for r in state.project.rooms if not r.kept]
    no_load = tuple(
        Line(
            f"{r.number} {r.name}",
            f"to {display.figure('temperature', x.warmest[0], units)}" if x else "open",
            display.unit("temperature", units) if x else "",
            target=("room", r.id),
            why=("room", r.id, "cooling"),
        )
        for r, x in drifting
    )
    sections = [cause_bars(results, block.room_ids, units, at), lines]
    if no_load:
        sections.append(Lines("No plant, warmest air", f"{len(no_load)} rooms", no_load[:4]))
    against = against_lines(state, block)
    if against is not None:
        sections.insert(0, against)
    sections += [operation(state), assumptions(state)]
    sections += findings_section(results, "", (), "Loads")
    count = len(block.room_ids)
    return CardVM(
        "Rooms at their common worst hour", title, f"{count} room{'s' if count != 1 else ''}", rows, tuple(sections)
    )
