"""States of the air on a psychrometric chart, as a figure of the papers."""

from itertools import pairwise

import numpy as np

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import Point, TrainResult
from garnetfin.engine.studies.psychro_chart import chart_lines, coil_path, ratio_line
from garnetfin.engine.studies.worksheet import places
from garnetfin.project.systems import AirSystem
from garnetfin.report.blocks import Figure, Label, Shape

HUMID = {0.2: "20 %", 0.4: "40 %", 0.6: "60 %", 0.8: "80 %", 1.0: ""}
QUANTITY = {"h": "enthalpy", "wb": "temperature", "v": "specific_volume"}
EVERY = {("wb", "SI"): 10.0, ("wb", "IP"): 20.0, ("v", "SI"): 0.04, ("v", "IP"): 1.0}  # named, of each kind
SIDE = {"v": "left"}
TOGETHER_K, TOGETHER_KG = 0.5, 2e-4
CLOSE = 0.05  # of the chart's width
MARGIN_K, MOST_G, HEIGHT_MM = 4.0, 1.25, 78.0


def state_chart(system: AirSystem, found: TrainResult, point: Point, units: System) -> Figure:
    """Places of the train, numbered as in the table below, with lines of humidity, enthalpy, wet bulb and volume."""
    nodes = [(k + 1, key, *point.node(key)[:2]) for k, (key, _title) in enumerate(places(system, found))]
    t, w = np.array([n[2] for n in nodes]), np.array([n[3] for n in nodes])
    low, high = float(t.min()) - MARGIN_K, float(t.max()) + MARGIN_K
    most = max(float(w.max()) * MOST_G, 0.004)
    box_t, box_w = zip(*_shown(np.array([[low, 0.0], [high, most]]), units))
    shapes: list[Shape] = []
    labels: list[Label] = []
    for line in chart_lines(found.pressure_pa, units, low, high, most):
        points = _shown(line.points, units)
        bold = line.kind == "rh" and line.value == 1.0
        if line.kind == "rh" and line.value not in HUMID:
            continue
        shapes.append(Shape(points, "ink" if bold else "rule", 0.8 if bold else 0.35, dashed=line.kind == "wb"))
        text = _named(line.kind, line.value, units)
        if text:
            labels.append(Label(_named_at(line.kind, points), text, "faint", 5.0, SIDE.get(line.kind, "right")))
    shapes += _ways(point, nodes, units)
    ratio = ratio_line(point.node("supply")[:2], point.node("rooms")[:2], found.pressure_pa)
    if ratio is not None:
        way = _shown(ratio.points, units)
        shapes.append(Shape(way, "garnet", 0.5, dashed=True))
        labels.append(Label(way[-1], f"room ratio {ratio.share:.2f}", "garnet", 5.5, "right"))
    last, raised = box_t[0] - 1e9, 0.0
    for at, text in sorted(_numbers(nodes, units)):
        # Beside the label before it a label stands a line higher.
        raised = 0.05 if at[0] - last < CLOSE * (box_t[1] - box_t[0]) and not raised else 0.0
        labels.append(Label((at[0], at[1] + (0.03 + raised) * (box_w[1] - box_w[0])), text, "garnet", 7.0))
        last = at[0]
    shapes += _crosses(nodes, units, box_t, box_w)
    labels += _axes(box_t, box_w, units)
    wide, tall = box_t[1] - box_t[0], box_w[1] - box_w[0]
    return Figure(
        (box_t[0] - 0.02 * wide, -0.09 * tall, box_t[1] + 0.06 * wide, box_w[1] + 0.09 * tall),
        HEIGHT_MM,
        tuple(shapes),
        tuple(labels),
        alike=False,
    )


def _shown(points: np.ndarray, units: System) -> tuple[tuple[float, float], ...]:
    return tuple(
        (display.to_shown("temperature", float(x), units), display.to_shown("humidity_ratio", float(y), units))
        for x, y in points
    )


def _named(kind: str, value: float, units: System) -> str:
    if kind == "rh":
        return HUMID.get(round(value, 2), "")
    every = EVERY.get((kind, units))
    shown = display.to_shown(QUANTITY[kind], value, units)
    if every is not None and abs(shown / every - round(shown / every)) > 1e-3:
        return ""
    return display.figure(QUANTITY[kind], value, units, 2 if kind == "v" and units == "SI" else 1 if kind == "v" else 0)


def _named_at(kind: str, points: tuple[tuple[float, float], ...]) -> tuple[float, float]:
    """Humidity and enthalpy are named at their upper ends, volumes at the foot, wet bulbs on their way."""
    if kind == "wb":
        return points[len(points) // 3]
    if kind == "v":
        return min(points, key=lambda q: q[1])
    return points[-1] if kind == "rh" else max(points, key=lambda q: q[1])


def _numbers(nodes: list[tuple[int, str, float, float]], units: System) -> list[tuple[tuple[float, float], str]]:
    """Numbers of places; those that lie together are told together, as "1-3, 5"."""
    groups: list[tuple[tuple[float, float], list[int]]] = []
    for number, _, t, w in nodes:
        near = next((g for g in groups if abs(g[0][0] - t) < TOGETHER_K and abs(g[0][1] - w) < TOGETHER_KG), None)
        if near is None:
            groups.append(((t, w), [number]))
        else:
            near[1].append(number)
    made = []
    for at, numbers in groups:
        runs: list[list[int]] = []
        for n in numbers:
            if runs and n == runs[-1][-1] + 1:
                runs[-1].append(n)
            else:
                runs.append([n])
        text = ", ".join(str(r[0]) if len(r) == 1 else f"{r[0]}–{r[-1]}" for r in runs)
        ((x, y),) = _shown(np.array([at]), units)
        made.append(((x, y), text))
    return made


def _ways(point: Point, nodes: list[tuple[int, str, float, float]], units: System) -> list[Shape]:
    """From place to place in the order of the air; coils by their bypass factor."""
    made = []
    for (_, _, *a), (_, key, *b) in pairwise(nodes):
        if key in ("return", "exhaust") or key not in point.solved.nodes:
            continue
        way = coil_path(*a, *b) if key in point.solved.coils else np.array([a, b])
        made.append(Shape(_shown(way, units), "garnet", 1.1))
    return made


def _crosses(
    nodes: list[tuple[int, str, float, float]], units: System, box_t: tuple[float, ...], box_w: tuple[float, ...]
) -> list[Shape]:
    dx, dy = 0.004 * (box_t[1] - box_t[0]), 0.01 * (box_w[1] - box_w[0])
    made = []
    for _, _, x, y in nodes:
        ((at_t, at_w),) = _shown(np.array([[x, y]]), units)
        corners = ((at_t - dx, at_w - dy), (at_t + dx, at_w - dy), (at_t + dx, at_w + dy), (at_t - dx, at_w + dy))
        made.append(Shape(corners, "garnet", 0.8, "sheet", True))
    return made


def _axes(box_t: tuple[float, ...], box_w: tuple[float, ...], units: System) -> list[Label]:
    tall, along = box_w[1] - box_w[0], 5.0 if units == "SI" else 10.0
    made = [
        Label((float(v), -0.05 * tall), display.number(float(v)), "faint", 5.5)
        for v in np.arange(np.ceil(box_t[0] / along) * along, box_t[1], along)
    ]
    step = next(s for s in (1, 2, 5, 10, 20, 50) if tall / s <= 8)
    made += [
        Label((box_t[1] + 0.01 * (box_t[1] - box_t[0]), float(v)), f"{v:g}", "faint", 5.5, "left")
        for v in np.arange(0, box_w[1], step)
    ]
    made.append(
        Label(
            (box_t[1], box_w[1] + 0.05 * tall),
            f"{display.unit('temperature', units)} dry bulb · {display.unit('humidity_ratio', units)} water · lines of "
            f"{display.unit('enthalpy', units)}, % humidity, wet bulb, volume",
            "faint",
            5.5,
            "right",
        )
    )
    return made
