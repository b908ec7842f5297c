"""Duct plans: every level as shapes in metres on named layers, for pages to scale and for drawing files alike."""

from math import atan2, cos, degrees, hypot, radians, sin

import numpy as np

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.layout.level_outlines import duct_outlines, label_box, wall_outlines
from garnetfin.engine.layout.piece_outlines import piece_outlines
from garnetfin.engine.results import DuctResult, Results
from garnetfin.project.lookup import find
from garnetfin.report.blocks import Block, Figure, Label, Plan, Shape, Text
from garnetfin.report.sheets.quantities import AIRS

# Colour of each air: stroke and fill are named in to_pdf.
COLOUR = {"supply": "supply", "return": "return", "extract": "exhaust", "outdoor": "outdoor"}
LEAST_LABEL_M = 1.6  # shorter ducts carry no size
AROUND_M = 0.5
LETTER_M = 0.11  # width of a letter of a label, at 1:100
TERMINAL_M = 0.22  # half the side of a terminal's sign


def plans(results: Results, units: System) -> list[Block]:
    """A sheet for each level that has rooms."""
    project = results.project
    made: list[Block] = []
    for level in project.levels:
        drawing = level_plan(results, level.id, units)
        if drawing is None:
            continue
        facts = (
            ("Job", project.papers.job or project.name),
            ("Client", project.papers.client),
            ("Drawing", f"Ducts, {level.name} level"),
            ("Flows in", display.unit("room_flow", units)),
            ("Sizes in", display.unit("duct_size", units)),
            ("Made by", project.papers.made_by),
            ("Checked by", project.papers.checked_by),
        )
        used = [a for a in AIRS if any(s.air == a for s in project.segments)]
        made.append(
            Plan(
                f"{level.name} level",
                drawing,
                facts,
                tuple((AIRS[a], COLOUR[a], f"{COLOUR[a]}_fill") for a in used),
                project.site.north_deg if project.site else 0.0,
            )
        )
    return made or [Text("No level with rooms on the plan.")]


def level_plan(results: Results, level_id: str, units: System, pieces: bool = False) -> Figure | None:
    """A level in metres: rooms, walls with openings, ducts at true width, terminals with their flow; None without a
    room on the plan.

    Layers are named “building …” and by air system and air, such as “AHU North supply duct”. With `pieces` every
    section of a duct and every fitting has an outline of its own, else all of an air are one.
    """
    project = results.project
    rooms = [r for r in project.rooms if r.level_id == level_id and (not r.sketched or r.placed)]
    if not rooms:
        return None
    shapes, labels = _building(results, level_id, rooms)
    for system in project.air_systems:
        for network in results.networks(system.id):
            more, words = _ducts(results, system, network, level_id, units, pieces)
            shapes += more
            labels += words
    labels += _names(rooms, labels, [s for s in shapes if s.layer.endswith(("duct", "terminals"))])
    xs, ys = ([p[k] for r in rooms for p in r.outline] for k in (0, 1))
    box = (min(xs) - AROUND_M, min(ys) - AROUND_M, max(xs) + AROUND_M, max(ys) + AROUND_M)
    return Figure(box, 0.0, tuple(shapes), tuple(labels))


def _building(results: Results, level_id: str, rooms: list) -> tuple[list[Shape], list[Label]]:
    project = results.project
    shapes = [
        Shape(r.outline, "", 0.0, "paper" if not r.system_id else "sheet", True, layer="building rooms") for r in rooms
    ]
    walls = wall_outlines(project.walls, {r.id: r.outline for r in project.rooms}, level_id)
    shapes += [Shape(o, "wall", 0.2, "wall", True, layer="building walls") for o in walls.solid]
    shapes += [Shape(o, "wall", 0.2, "glass", True, layer="building glass") for o in walls.glass]
    shapes += [Shape(line, "faint", 0.25, layer="building openings") for line in (*walls.panes, *walls.doors)]
    shapes += [
        Shape(m.outline, "faint", 0.35, closed=True, dashed=m.kind == "void", layer="building marks")
        for m in project.plan_marks
        if m.level_id == level_id
    ]
    return shapes, []


def _names(rooms: list, labels: list[Label], shapes: list[Shape]) -> list[Label]:
    """Number and name of each room where least of ducts, terminals and other words lies below them."""
    taken = [
        (min(x), min(y), max(x), max(y))
        for s in shapes
        if (x := [p[0] for p in s.points]) and (y := [p[1] for p in s.points])
    ]
    for label in labels:
        half = len(label.text) * LETTER_M / 2
        w, h = (0.12, half) if abs(label.turned_deg) > 45 else (half, 0.12)
        taken.append((label.at[0] - w, label.at[1] - h, label.at[0] + w, label.at[1] + h))
    boxes = np.array(taken, float).reshape(-1, 4)
    fractions = np.array(
        [(fx, fy) for fy in (0.5, 0.35, 0.65, 0.2, 0.8, 0.1, 0.9) for fx in (0.5, 0.3, 0.7, 0.15, 0.85)]
    )
    made = []
    for r in rooms:
        x0, y0, x1, y1 = label_box(r.outline)
        half = min(max(len(r.name), len(r.number)) * LETTER_M / 2 + 0.1, (x1 - x0) / 2)
        near = boxes[
            (boxes[:, 0] < x1 + half) & (boxes[:, 2] > x0 - half) & (boxes[:, 1] < y1 + 0.7) & (boxes[:, 3] > y0 - 0.7)
        ]
        x = x0 + half + fractions[:, 0] * max(0.0, x1 - x0 - 2 * half)
        y = y0 + 0.35 + fractions[:, 1] * max(0.0, y1 - y0 - 0.7)
        wide = np.minimum(x[:, None] + half, near[:, 2]) - np.maximum(x[:, None] - half, near[:, 0])
        high = np.minimum(y[:, None] + 0.32, near[:, 3]) - np.maximum(y[:, None] - 0.32, near[:, 1])
        under = (np.maximum(wide, 0.0) * np.maximum(high, 0.0)).sum(axis=1)
        k = int(np.flatnonzero(under < under.min() + 1e-9)[0])  # of equals the first: the middle
        best = (float(x[k]), float(y[k]))
        made += [
            Label((best[0], best[1] + 0.14), r.number, "faint", 5.0, layer="building room names"),
            Label((best[0], best[1] - 0.12), r.name, "ink", 5.5, layer="building room names"),
        ]
    return made


def _ducts(
    results: Results, system, network: DuctResult, level_id: str, units: System, pieces: bool
) -> tuple[list[Shape], list[Label]]:
    project, own = results.project, COLOUR[network.air]
    layer = f"{system.name} {AIRS[network.air].lower()}"
    found = duct_outlines(project.duct_points, project.segments, network, level_id)
    if pieces:
        parts = piece_outlines(project, network, found)
        drawn = [(ring, "duct") for ring in parts.straight] + [(ring, "fittings") for ring in parts.fittings]
    else:
        drawn = [(ring, "duct") for ring in found.rings]
    shapes = [Shape(ring, own, 0.5, f"{own}_fill", True, layer=f"{layer} {what}") for ring, what in drawn]
    labels: list[Label] = []
    for x, y, width, height in found.risers.values():
        corners = tuple((x + sx * width / 2, y + sy * height / 2) for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1)))
        shapes += [
            Shape(corners, own, 0.5, f"{own}_fill", True, layer=f"{layer} duct"),
            *(
                Shape(pair, own, 0.35, layer=f"{layer} duct")
                for pair in ((corners[0], corners[2]), (corners[1], corners[3]))
            ),
        ]
    index = set(network.path(network.index.segment_id)) if network.terminals else set()
    for segment_id, (a, b) in found.lines.items():
        length = hypot(b[0] - a[0], b[1] - a[1])
        if segment_id in index and network.air == "supply" and length > 0:
            shapes.append(Shape((a, b), "garnet", 0.6, dashed=True, layer=f"{layer} index run"))
        if length > LEAST_LABEL_M:
            turned = degrees(atan2(b[1] - a[1], b[0] - a[0]))
            turned = turned - 180 if turned > 90.5 else turned + 180 if turned <= -89.5 else turned
            section = network.segments[segment_id].section
            # A duct that is thinner than letters carries its size beside it.
            aside = 0.0 if section.width_m >= 0.2 else section.width_m / 2 + 0.14
            across = radians(turned + 90)
            labels.append(
                Label(
                    ((a[0] + b[0]) / 2 + aside * cos(across), (a[1] + b[1]) / 2 + aside * sin(across)),
                    display.size(section, units),
                    own,
                    4.6,
                    layer=f"{layer} size",
                    turned_deg=turned,
                )
            )
    for t in network.terminals:
        terminal = find(project.terminals, t.terminal_id)
        p = find(project.duct_points, terminal.point_id)
        if p.level_id != level_id:
            continue
        shapes += _terminal((p.x_m, p.y_m), network.air, own, f"{layer} terminals")
        # the side no duct comes from
        away = (
            1.0
            if any(b[1] < p.y_m - 0.3 for i in (t.segment_id,) if i in found.lines for b in found.lines[i])
            else -1.0
        )
        labels.append(
            Label(
                (p.x_m, p.y_m + 0.42 * away),
                f"{t.label}  {display.figure('room_flow', t.flow_m3s, units)}",
                own,
                4.6,
                layer=f"{layer} flow",
            )
        )
    return shapes, labels


def _terminal(at: tuple[float, float], air: str, colour: str, layer: str) -> list[Shape]:
    """The symbol of a terminal: a square with both diagonals where air comes in, with a bar where it goes out."""
    square = ((-1, -1), (1, -1), (1, 1), (-1, 1))
    bars = (((-1, -1), (1, 1)), ((-1, 1), (1, -1))) if air == "supply" else (((-1, 0), (1, 0)),)
    block = f"terminal {AIRS[air].lower()}"

    def placed(corners) -> tuple[tuple[float, float], ...]:
        return tuple((at[0] + dx * TERMINAL_M, at[1] + dy * TERMINAL_M) for dx, dy in corners)

    return [
        Shape(placed(square), colour, 0.6, "sheet", True, layer=layer, block=block, at=at),
        *(Shape(placed(bar), colour, 0.4, layer=layer, block=block, at=at) for bar in bars),
    ]
