"""Options side by side as a table, and a study as lines of a plot."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.core.units import System, to_shown
from garnetfin.engine.studies.change_list import ARROW, ChangeList, Moved
from garnetfin.engine.studies.changes import differ
from garnetfin.engine.studies.study import Axis, Case, Parameter, Reading
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

MOST_OPTIONS = 7
MOST_LINES = 40  # of what an option changes
LEAST_PERCENT = 0.05


@dataclass(frozen=True, slots=True)
class LineVM:
    name: str
    points: tuple[tuple[float, float], ...]  # in shown units


@dataclass(frozen=True, slots=True)
class PlotVM:
    title: str
    x_name: str
    y_name: str
    x_digits: int
    y_digits: int
    lines: tuple[LineVM, ...]


@dataclass(frozen=True, slots=True)
class DifferencesVM:
    """By how much options differ from what stands [%], figure by figure; None where one of the two is not known."""

    names: tuple[str, ...]
    rows: tuple[tuple[str, tuple[float | None, ...]], ...]


@dataclass(frozen=True, slots=True)
class ChangedVM:
    """What an option changes against what stands: (where, figures, why) line by line."""

    name: str
    lines: tuple[tuple[str, str, str], ...]
    left_out: int = 0


def differences(readings: tuple[Reading, ...], found: dict[str, dict[str, float | None]]) -> DifferencesVM:
    """Only figures in which an option differs; in the order of the table."""
    base, *names = list(found)[: MOST_OPTIONS + 1]
    rows = []
    for r in readings:
        now = found[base].get(r.key)
        values = tuple(_share(now, found[n].get(r.key)) for n in names)
        if any(v is not None and abs(v) > LEAST_PERCENT for v in values):
            rows.append((r.name, values))
    return DifferencesVM(tuple(names), tuple(rows))


def _share(now: float | None, other: float | None) -> float | None:
    return None if now is None or other is None or abs(now) < 1e-12 else (other / now - 1) * 100


def changed(name: str, found: ChangeList, units: System) -> ChangedVM:
    """Rooms whose load or air moves, the greatest first, and ducts of another size."""

    def step(moved: Moved, word: str) -> str:
        if moved.before is None or moved.now is None or not moved.any:
            return ""
        before, now = (display.figure(moved.quantity, v, units) for v in (moved.before, moved.now))
        unit = display.unit(moved.quantity, units)
        return f"{word} {before} {ARROW} {now} {unit}" if before != now else ""

    lines = [
        (
            f"{r.number} {r.name}",
            ", ".join(x for x in (step(r.cooling, "cooling"), step(r.heating, "heating"), step(r.flow, "air")) if x),
            "; ".join(r.reasons),
        )
        for r in found.rooms
    ]
    lines += [(f"Duct {d.segment_id}", f"{d.before} {ARROW} {d.now}", d.reason) for d in found.ducts]
    return ChangedVM(name, tuple(lines[:MOST_LINES]), max(0, len(lines) - MOST_LINES))


def changed_table(vm: ChangedVM | None) -> TableVM:
    """The same as rows."""
    columns = (
        Column("Where", width=140, left=True),
        Column("Now and with it", width=250, left=True),
        Column("Why", width=200, left=True, stretch=True),
    )
    rows = [
        Row("change", str(i), (Cell(where, tone="strong"), Cell(figures), Cell(why, tone="faint")))
        for i, (where, figures, why) in enumerate(vm.lines if vm is not None else ())
    ]
    if vm is not None and vm.left_out:
        rows.append(Row("change", "more", (Cell(f"and {vm.left_out} more", tone="faint"), Cell(""), Cell(""))))
    return TableVM(columns, tuple(rows))


def options_table(readings: tuple[Reading, ...], found: dict[str, dict[str, float | None]], units: System) -> TableVM:
    """`found`: figures by name of the option, the project in hand first; steps against it stand in brackets behind
    each.
    """
    names = list(found)[: MOST_OPTIONS + 1]
    columns = (
        Column("Figure", width=260, left=True),
        Column("", "", 66, True),
        *(Column(n, "", 128) for n in names),
        Column("", stretch=True),
    )
    rows = []
    for r in readings:
        base = found[names[0]].get(r.key) if names else None
        cells = []
        for i, name in enumerate(names):
            value = found[name].get(r.key)
            text = display.DASH if value is None else display.figure(r.quantity, value, units)
            moved = i and value is not None and base is not None and differ(value, base)
            step = ""
            if moved:
                digits = len(display.figure(r.quantity, 0.0, units).partition(".")[2])
                step = (
                    "  ("
                    f"{display.signed(to_shown(r.quantity, value, units) - to_shown(r.quantity, base, units), digits)})"
                )
            cells.append(Cell(text + step, tone="garnet" if moved else "strong" if i == 0 else ""))
        rows.append(
            Row("reading", r.key, (Cell(r.name), Cell(display.unit(r.quantity, units), tone="faint"), *cells, Cell("")))
        )
    return TableVM(columns, tuple(rows))


def study_table(
    parameters: tuple[Parameter, ...], readings: tuple[Reading, ...], cases: tuple[Case, ...], units: System
) -> TableVM:
    """One row a combination; only figures that move have a column."""
    moving = [r for r in readings if len({round(v, 9) for c in cases if (v := c.readings.get(r.key)) is not None}) > 1]
    columns = (
        *(Column(p.name, display.unit(p.quantity, units), 150) for p in parameters),
        *(Column(r.name, display.unit(r.quantity, units), 150) for r in moving),
    )
    rows = []
    for i, case in enumerate(cases):
        cells = [
            Cell(display.figure(p.quantity, v, units, _digits(p.quantity, units)), tone="strong")
            for p, v in zip(parameters, case.values)
        ]
        if case.why:
            cells += [Cell(case.why if k == 0 else "", italic=True, tone="faint") for k in range(len(moving))]
        else:
            cells += [
                Cell(display.DASH if (v := case.readings.get(r.key)) is None else display.figure(r.quantity, v, units))
                for r in moving
            ]
        rows.append(Row("case", str(i), tuple(cells)))
    return TableVM(columns, tuple(rows))


def _digits(quantity: str, units: System) -> int:
    """A varied figure needs a place more than a printed one."""
    return len(display.figure(quantity, 0.0, units).partition(".")[2]) + 1


def plot(
    parameters: tuple[Parameter, ...], axes: tuple[Axis, ...], reading: Reading, cases: tuple[Case, ...], units: System
) -> PlotVM | None:
    """A reading over the first thing that is varied, one line for each combination of the others;

    None without two points.
    """
    lines: dict[tuple, list[tuple[float, float]]] = {}
    for case in cases:
        value = case.readings.get(reading.key)
        if value is not None:
            lines.setdefault(case.values[1:], []).append(
                (to_shown(parameters[0].quantity, case.values[0], units), to_shown(reading.quantity, value, units))
            )
    made = tuple(
        LineVM(
            ", ".join(
                display.with_unit(p.quantity, v, units, _digits(p.quantity, units)) for p, v in zip(parameters[1:], key)
            ),
            tuple(sorted(points)),
        )
        for key, points in lines.items()
        if len(points) > 1
    )
    if not made:
        return None

    def head(name: str, quantity: str) -> str:
        unit = display.unit(quantity, units)
        return f"{name}, {unit}" if unit else name

    return PlotVM(
        reading.name,
        head(parameters[0].name, parameters[0].quantity),
        display.unit(reading.quantity, units),
        _digits(parameters[0].quantity, units),
        len(display.figure(reading.quantity, 0.0, units).partition(".")[2]),
        made,
    )
