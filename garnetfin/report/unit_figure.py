"""The drawing of an air handling unit, to scale: elevation from the side of its doors above, plan with the room that it
wants below. One drawing for window and papers.
"""

from garnetfin import display
from garnetfin.core.equipment.casings import BASE_M, BEHIND_M, ENDS_M, LEAST_FRONT_M, Layout, Station
from garnetfin.core.units import System
from garnetfin.engine.equipment.records import UnitRecord
from garnetfin.report.blocks import Figure, Label, Shape

APART_M = 0.9  # between elevation and plan
MARGIN_M = 0.5
HEIGHT_MM = 92.0
FILLS = {
    "cooling": "supply_fill",
    "heating": "return_fill",
    "preheat": "return_fill",
    "rotor": "exhaust_fill",
    "plate": "exhaust_fill",
    "runaround": "exhaust_fill",
    "fan": "tint",
}
WORDS = {
    "filter_panel": "filter",
    "filter_bag": "filter",
    "humidifier_steam": "steam",
    "humidifier_spray": "spray",
    "runaround": "run-around",
}
LETTERS_PER_M = 9.0  # that fit across a section at the size of its label
STROKE = {"supply": "supply", "exhaust": "exhaust", "both": "garnet"}


def unit_figure(unit: UnitRecord, units: System) -> Figure | None:
    """Elevation and plan of a unit; None of one that is not laid out."""
    made = unit.layout
    if made is None:
        return None
    wall, front = made.casing.wall_m, max(made.casing.width_m, LEAST_FRONT_M)
    lift = made.width_m + front + BEHIND_M + APART_M  # of the elevation above the plan
    shapes: list[Shape] = []
    labels: list[Label] = []
    _elevation(made, lift, shapes, labels)
    _plan(made, front, shapes, labels)
    _measures(made, lift, front, units, shapes, labels)
    side = ENDS_M / 2
    box = (-side - MARGIN_M, -MARGIN_M - wall, made.length_m + side + 2.2 * MARGIN_M, lift + made.height_m + MARGIN_M)
    return Figure(box, HEIGHT_MM, tuple(shapes), tuple(labels))


def _box(x: float, y: float, wide: float, high: float, stroke: str, width: float, **more: object) -> Shape:
    points = ((x, y), (x + wide, y), (x + wide, y + high), (x, y + high))
    return Shape(points, stroke, width, closed=True, **more)  # type: ignore[arg-type]


def _deck_at(made: Layout, station: Station, lift: float) -> tuple[float, float]:
    """(bottom, height) of a section in the elevation; the supply stands below."""
    casing, above = made.casing, lift + BASE_M + made.casing.wall_m
    step = casing.height_m + casing.wall_m if made.arrangement == "stacked" else 0.0
    if station.deck == "both":
        return above, casing.height_m + step
    return above + (step if station.deck == "exhaust" else 0.0), casing.height_m


def _elevation(made: Layout, lift: float, shapes: list[Shape], labels: list[Label]) -> None:
    wall = made.casing.wall_m
    shapes.append(_box(0.0, lift, made.length_m, BASE_M, "ink", 0.5, fill="rule"))
    shapes.append(_box(0.0, lift + BASE_M, made.length_m, made.height_m - BASE_M, "ink", 0.9, fill="sheet"))
    shown = [s for s in made.stations if made.arrangement == "stacked" or s.deck != "exhaust"]
    for s in shown:
        y, high = _deck_at(made, s, lift)
        x = s.start_m + wall
        shapes.append(_box(x, y, s.length_m, high, "ink", 0.4, fill=FILLS.get(s.section.kind, "paper")))
        _sign(s, x, y, high, shapes)
        labels.append(_name(s, x, y + 0.14))
        if s.gap_m > 0.2 and s.deck != "both":
            shapes.append(_box(x - s.gap_m + 0.04, y + 0.08, s.gap_m - 0.08, high - 0.16, "faint", 0.3, dashed=True))
    for k in range(1, made.pieces):
        at = made.length_m * k / made.pieces
        shapes.append(Shape(((at, lift + BASE_M), (at, lift + made.height_m)), "faint", 0.3, dashed=True))
    ends = [("supply", "supply"), ("exhaust", "exhaust")] if made.arrangement == "stacked" else [("supply", "supply")]
    for deck, colour in ends:
        row = [s for s in made.stations if s.deck == deck]
        if row:
            y, high = _deck_at(made, row[0], lift)
            _arrow(made.length_m, y + high / 2, deck == "supply", colour, shapes)


def _name(s: Station, x: float, y: float) -> Label:
    text = WORDS.get(s.section.kind, s.section.kind)
    narrow = len(text) > s.length_m * LETTERS_PER_M
    return Label(
        (x + s.length_m / 2, y + (0.3 if narrow else 0.0)), text, "ink", 5.5, turned_deg=90.0 if narrow else 0.0
    )


def _sign(s: Station, x: float, y: float, high: float, shapes: list[Shape]) -> None:
    """What tells a section from others at a glance: a stroke across coils and wheels, a zigzag for filters."""
    colour, right, top = STROKE[s.deck], x + s.length_m, y + high
    match s.section.kind:
        case "filter_panel" | "filter_bag":
            steps = 6
            zigzag = tuple(
                (x + s.length_m * (0.25 if k % 2 else 0.75), y + high * (0.3 + 0.6 * k / steps))
                for k in range(steps + 1)
            )
            shapes.append(Shape(zigzag, colour, 0.5))
        case "cooling" | "heating" | "preheat":
            shapes.append(Shape(((x, y), (right, top)), colour, 0.5))
        case "rotor" | "plate" | "runaround":
            shapes.append(Shape(((x, y), (right, top)), colour, 0.5))
            shapes.append(Shape(((x, top), (right, y)), colour, 0.5))
        case "damper" | "mixing":
            middle = x + s.length_m / 2
            for k in range(4):
                at = y + high * (0.35 + 0.16 * k)
                shapes.append(Shape(((middle - 0.06, at - 0.06), (middle + 0.06, at + 0.06)), colour, 0.5))
        case "silencer":
            for k in range(3):
                at = y + high * (0.3 + 0.2 * k)
                shapes.append(_box(x + 0.06, at, s.length_m - 0.12, high * 0.1, colour, 0.3, fill="rule"))


def _arrow(x: float, y: float, out: bool, colour: str, shapes: list[Shape]) -> None:
    """Air out of the unit at its right end, or into it."""
    tip, tail = (x + 0.42, x + 0.08) if out else (x + 0.08, x + 0.42)
    back = tip - 0.12 if out else tip + 0.12
    shapes.append(Shape(((tail, y), (tip, y)), colour, 1.0))
    shapes.append(Shape(((back, y + 0.08), (tip, y), (back, y - 0.08)), colour, 1.0))


def _plan(made: Layout, front: float, shapes: list[Shape], labels: list[Label]) -> None:
    wall, side = made.casing.wall_m, ENDS_M / 2
    whole = made.width_m + front + BEHIND_M
    shapes.append(_box(-side, 0.0, made.length_m + 2 * side, whole, "faint", 0.4, dashed=True))
    shapes.append(_box(0.0, front, made.length_m, made.width_m, "ink", 0.9, fill="sheet"))
    beside = made.arrangement == "side by side"
    for s in made.stations:
        if not beside and s.deck == "exhaust":
            continue  # it stands above the supply
        y = front + wall + (made.casing.width_m + wall if beside and s.deck == "exhaust" else 0.0)
        high = made.casing.width_m + (made.casing.width_m + wall if beside and s.deck == "both" else 0.0)
        x = s.start_m + wall
        shapes.append(_box(x, y, s.length_m, high, "ink", 0.3, fill=FILLS.get(s.section.kind, "paper")))
        if s.section.kind in ("cooling", "heating", "preheat"):
            reach = made.casing.width_m
            shapes.append(_box(x, front - reach, s.length_m, reach, "faint", 0.3, dashed=True))
    labels.append(Label((made.length_m * 0.22, front / 2), "room to serve it and to pull its coils out", "faint", 5.5))


def _measures(made: Layout, lift: float, front: float, units: System, shapes: list[Shape], labels: list[Label]) -> None:
    def across(x0: float, x1: float, y: float, text: str) -> None:
        shapes.append(Shape(((x0, y), (x1, y)), "faint", 0.35))
        for x in (x0, x1):
            shapes.append(Shape(((x, y - 0.06), (x, y + 0.06)), "faint", 0.35))
        labels.append(Label(((x0 + x1) / 2, y + 0.12), text, "ink", 6.0))

    def along(y0: float, y1: float, x: float, text: str) -> None:
        shapes.append(Shape(((x, y0), (x, y1)), "faint", 0.35))
        for y in (y0, y1):
            shapes.append(Shape(((x - 0.06, y), (x + 0.06, y)), "faint", 0.35))
        labels.append(Label((x + 0.14, (y0 + y1) / 2), text, "ink", 6.0, turned_deg=90.0))

    side = ENDS_M / 2
    across(0.0, made.length_m, lift - 0.35, display.measure(made.length_m, units))
    along(lift, lift + made.height_m, -0.35, display.measure(made.height_m, units))
    along(front, front + made.width_m, -0.35, display.measure(made.width_m, units))
    whole = made.width_m + front + BEHIND_M
    along(0.0, whole, made.length_m + side + 0.35, display.measure(whole, units))
    across(-side, made.length_m + side, -0.35, display.measure(made.length_m + 2 * side, units))
