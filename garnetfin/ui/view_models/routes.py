"""Route proposals as they are shown: tiles side by side, and a card with one axis a figure."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.layout.routes import Proposal
from garnetfin.engine.results import DuctResult
from garnetfin.ui.state import State
from garnetfin.ui.view_models.card import Axes, CardVM, Line, Lines

LETTERS = "ABCDEFGH"
# (attribute, words, quantity): less is better on every one.
FIGURES = (
    ("mass_kg", "Duct mass", "mass"),
    ("fan_pa", "Duct pressure", "pressure"),
    ("fittings", "Fittings", ""),
    ("imbalance_pa", "Imbalance", "pressure"),
)


@dataclass(frozen=True, slots=True)
class TileVM:
    """A proposal: its letter, name and kind; figures (words, figure, unit, least); the catch; what would free it when
    it does not work.
    """

    letter: str
    name: str
    line: str
    works: bool
    figures: tuple[tuple[str, str, str, bool], ...]
    note: str
    watched: bool  # it can be built, and something is to be looked at first
    reason: str
    mends: tuple[str, ...]
    score: str


def _figure(name: str, value: float, quantity: str, units: System) -> tuple[str, str]:
    return (
        (str(round(value)), "")
        if not quantity
        else (display.figure(quantity, value, units), display.unit(quantity, units))
    )


def tiles(found: tuple[Proposal, ...], units: System) -> tuple[TileVM, ...]:
    works = [p for p in found if p.failure is None]
    # One that breaks a limit is least in nothing.
    least = {name: min((getattr(p, name) for p in works if not p.breaks), default=0.0) for name, _, _ in FIGURES}
    made = []
    for letter, p in zip(LETTERS, found):
        rows = (
            tuple(
                (
                    words,
                    *_figure(name, getattr(p, name), quantity, units),
                    len(works) > 1 and not p.breaks and getattr(p, name) <= least[name] * 1.0005,
                )
                for name, words, quantity in FIGURES
            )
            if p.failure is None
            else ()
        )
        made.append(
            TileVM(
                letter,
                p.name,
                p.line,
                p.failure is None,
                rows,
                display.in_units(p.breaks or p.note, units),
                bool(p.breaks) or not p.good,
                display.in_units(p.failure.reason, units) if p.failure else "",
                tuple(display.in_units(label, units) for label, _ in p.failure.mends) if p.failure else (),
                display.number(p.score, 2),
            )
        )
    return tuple(made)


def routes_card(state: State, found: tuple[Proposal, ...], chosen: int) -> CardVM:
    """All that work on one axis a figure; what taking the chosen one would change."""
    units, works = state.show.units, [(letter, p) for letter, p in zip(LETTERS, found) if p.failure is None]
    if not found:
        return CardVM("Proposals", "Routes", "each is sized before it is shown")
    axes = []
    for name, words, quantity in (*FIGURES, ("cost", "Cost over life", "")):
        values = [getattr(p, name) for _, p in works]
        low, high = min(values, default=0.0), max(values, default=1.0)
        span = max(high - low, 1e-9)
        axes.append(
            (
                words,
                display.unit(quantity, units) if quantity else "",
                tuple(
                    (
                        letter,
                        (getattr(p, name) - low) / span if high > low else 0.0,
                        _figure(name, getattr(p, name), quantity, units)[0],
                    )
                    for letter, p in works
                ),
            )
        )
    sections = [Axes("On every axis less is better", "", tuple(axes))] if works else []
    if 0 <= chosen < len(found) and found[chosen].failure is None:
        p = found[chosen]
        now = state.results.network(p.found.system_id, p.found.air)
        pinned = sum(s.pinned for s in p.found.segments.values())
        rows = []
        if isinstance(now, DuctResult):
            for words, quantity, a, b in (
                ("Duct pressure", "pressure", p.fan_pa, now.runs.fan_pa),
                ("Duct mass", "mass", p.mass_kg, now.mass_kg),
                ("Length", "length", p.found.length_m, now.length_m),
            ):
                rows.append(
                    Line(
                        words,
                        f"{a - b:+.0f}".replace("-", "−") if units == "SI" else display.figure(quantity, a - b, units),
                        display.unit(quantity, units),
                    )
                )
        rows += [
            Line("Index run", f"to {p.found.index.label}"),
            Line("Score", display.number(p.score, 2), "least is best"),
            Line("Sizes pinned", str(pinned), "kept"),
        ]
        sections.append(Lines(f"If you take {LETTERS[chosen]}", "against now", tuple(rows)))
    return CardVM(
        f"Proposals · {found[0].found.air if found[0].found else state.show.air}",
        "Side by side",
        "less is better on every axis" if works else "none works yet",
        (),
        tuple(sections),
    )
