"""The chart of moist air: states, ways of the air, lines of equal humidity and enthalpy."""

import itertools
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from garnetfin import display
from garnetfin.core.units import to_shown
from garnetfin.engine.results import Point, TrainResult
from garnetfin.engine.studies.psychro_chart import chart_lines, coil_path, ratio_line
from garnetfin.ui.state import State

OUTDOOR, MIXED, SUPPLY, RETURN, EXHAUST = "outdoor", "faint", "supply", "return", "exhaust"


@dataclass(frozen=True)
class StateVM:
    """A numbered state: where it is, the air's nature (a colour), its figures."""

    number: int
    node: str
    name: str
    nature: str
    t: float  # in the unit shown
    w: float
    text: tuple[str, str]  # "26.5 °C", "11.5 g/kg"


@dataclass(frozen=True)
class LineVM:
    kind: str
    label: str
    points: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class PathVM:
    """A process from state to state; faint: of the other design point."""

    nature: str
    points: tuple[tuple[float, float], ...]
    faint: bool = False
    label: str = ""  # at its far end
    thin: bool = False


@dataclass(frozen=True)
class PsychroVM:
    lines: tuple[LineVM, ...]
    paths: tuple[PathVM, ...]
    states: tuple[StateVM, ...]
    others: tuple[StateVM, ...]  # of the other design point, without numbers
    other_name: str
    rows: tuple[StateVM, ...]  # of the state list
    row_paths: tuple[PathVM, ...]
    pressure: str
    x_range: tuple[float, float]
    y_range: tuple[float, float]
    units: tuple[str, str]
    movable: frozenset[str]  # nodes that can be dragged


def natures_of(found: TrainResult) -> dict[str, str]:
    """Nature of the air behind every part and at every node."""
    natures, now = {"outdoor": OUTDOOR}, OUTDOOR
    mixes = any(p.kind == "mixing" for p in found.parts)
    back = False
    for part in found.parts:
        if part.kind == "mixing":
            now = MIXED
        elif part.kind in ("cooling", "heating", "supply_fan") and now in (OUTDOOR, MIXED):
            now = SUPPLY
        elif part.kind == "rooms":
            now, back = RETURN, True
        elif part.kind == "relief" and back:
            now = EXHAUST
        natures[part.id] = now
    return natures | {
        "supply": SUPPLY,
        "rooms": RETURN,
        "return": RETURN if mixes else EXHAUST,
        "exhaust": EXHAUST,
        "before duct": SUPPLY,
    }


def _nodes(found: TrainResult, point: Point) -> list[tuple[str, str]]:
    """Nodes worth a number: (node, name), in the order of the air; where nothing changed there is none."""
    rows, last = [("outdoor", "Outdoor")], point.node("outdoor")
    names = {
        "recovery": "After recovery",
        "preheat": "Preheated",
        "precool": "Precooled",
        "mixing": "Mixed",
        "cooling": "Cooled",
        "heating": "Heated",
        "humidifier": "Humidified",
    }
    for part in found.parts:
        if part.kind == "rooms":
            break
        now = point.node(part.id)
        moved = abs(now[0] - last[0]) > 0.02 or abs(now[1] - last[1]) > 2e-5
        if part.kind in names and (moved or part.kind in ("cooling", "mixing")):
            rows.append((part.id, names[part.kind]))
            last = now
    rows += [("supply", "Supply to rooms"), ("rooms", "Rooms"), ("return", "Return")]
    if any(p.kind == "recovery" for p in found.parts):
        rows.append(("exhaust", "Exhaust"))
    return rows


def states(state: State, found: TrainResult, point: Point) -> tuple[StateVM, ...]:
    units, natures, made = state.show.units, natures_of(found), []
    for i, (node, name) in enumerate(_nodes(found, point), 1):
        t, w, _ = point.node(node)
        made.append(
            StateVM(
                i,
                node,
                name,
                natures.get(node, SUPPLY),
                to_shown("temperature", t, units),
                to_shown("humidity_ratio", w, units),
                (display.with_unit("temperature", t, units), display.with_unit("humidity_ratio", w, units)),
            )
        )
    return tuple(made)


def _shown(points: np.ndarray, units) -> tuple[tuple[float, float], ...]:
    return tuple(
        (to_shown("temperature", float(t), units), to_shown("humidity_ratio", float(w), units)) for t, w in points
    )


def _paths(
    state: State, found: TrainResult, point: Point, made: tuple[StateVM, ...], faint: bool = False
) -> tuple[PathVM, ...]:
    units, paths = state.show.units, []
    for a, b in itertools.pairwise(made):
        if b.node == "rooms":
            nature = "garnet"
        elif b.node in ("return", "exhaust"):
            nature = b.nature
        else:
            nature = b.nature if b.node != "supply" else SUPPLY
        ends = np.array([point.node(a.node)[:2], point.node(b.node)[:2]])
        coil = point.solved.coils.get(b.node)
        if coil is not None and not faint:
            ends = coil_path(*ends[0], *ends[1])
        if b.node == "exhaust" or a.node == "return":
            continue
        paths.append(PathVM(nature, _shown(ends, units), faint))
    back = next((s for s in made if s.node == "return"), None)
    mixed = next((s for s in made if any(p.id == s.node and p.kind == "mixing" for p in found.parts)), None)
    if back and mixed:
        paths.append(PathVM(MIXED, ((back.t, back.w), (mixed.t, mixed.w)), faint))
    return tuple(paths)


def _ratio(state: State, found: TrainResult, point: Point) -> tuple[PathVM, ...]:
    """The ratio line of the rooms together."""
    line = ratio_line(point.node("supply")[:2], point.node("rooms")[:2], found.pressure_pa)
    if line is None:
        return ()
    return (PathVM("garnet", _shown(line.points, state.show.units), label=f"room ratio {line.share:.2f}", thin=True),)


LABELLED_RH = (0.2, 0.4, 0.6, 0.8)
EVERY = {("h", "SI"): 20, ("h", "IP"): 10, ("wb", "SI"): 5, ("wb", "IP"): 10, ("v", "SI"): 0.04, ("v", "IP"): 0.5}
OF_KIND = {"h": "enthalpy", "wb": "temperature", "v": "specific_volume"}
DIGITS = {("v", "SI"): 2, ("v", "IP"): 1}


def line_label(kind: str, value: float, units) -> str:
    """What stands at a line of the chart; "" where lines would lie too near to name each."""
    if kind == "rh":
        return f"{value * 100:.0f} %" if value in LABELLED_RH else ""
    quantity, every = OF_KIND[kind], EVERY[kind, units]
    shown = to_shown(quantity, value, units)
    if abs(shown / every - round(shown / every)) > 1e-3:
        return ""
    text = display.with_unit(quantity, value, units, DIGITS.get((kind, units), 0))
    return f"{text} wet" if kind == "wb" else text


MOVABLE = ("held", "coil", "neediest")


@lru_cache(maxsize=8)
def _lines(pressure_pa: float, units: str) -> tuple[LineVM, ...]:
    """Lines of the chart; the same tuple while pressure and units stay."""
    lines = []
    for line in chart_lines(pressure_pa, units):
        lines.append(
            LineVM(
                "saturation" if line.kind == "rh" and line.value == 1.0 else line.kind,
                line_label(line.kind, line.value, units),
                _shown(line.points, units),
            )
        )
    return tuple(lines)


def psychro(
    state: State, point: Point, rows: tuple[StateVM, ...] = (), row_paths: tuple[PathVM, ...] = ()
) -> PsychroVM:
    units = state.show.units
    found: TrainResult = state.results.trains[state.show.system_id]
    other = found.heating if point.month >= 0 else found.cooling
    made, others = states(state, found, point), states(state, found, other)
    temperatures = [s.t for s in (*made, *others, *rows)]
    low, high = min(temperatures), max(temperatures)
    room = 0.12 * (high - low)
    most = max(s.w for s in (*made, *others, *rows))
    movable = (
        frozenset(
            s.node
            for s in made
            if state.system.supply in MOVABLE and (s.node == "supply" or s.node in point.solved.coils)
        )
        if point.month >= 0
        else frozenset()
    )
    return PsychroVM(
        _lines(found.pressure_pa, units),
        _paths(state, found, point, made) + _ratio(state, found, point) + _paths(state, found, other, others, True),
        made,
        others,
        other.name
        if other.month >= 0
        else f"winter, {display.with_unit('temperature', other.node('outdoor')[0], units, 0)}",
        rows,
        row_paths,
        display.with_unit("air_pressure", found.pressure_pa, units),
        (low - room, high + room),
        (0.0, most * 1.28),
        (display.unit("temperature", units), display.unit("humidity_ratio", units)),
        movable,
    )
