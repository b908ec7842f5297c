"""Duct plans, schedule, pressure calculation of the index run, terminals with dampers."""

from math import hypot

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import DuctResult, Missing, Results
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.report.blocks import Block, Col, Facts, Figure, Heading, Label, PageBreak, Shape, TableBlock, Text


def ducts(results: Results, units: System) -> list[Block]:
    blocks: list[Block] = []
    for system in results.project.air_systems:
        found = results.ducts[system.id]
        blocks += [PageBreak(), Heading(f"Supply ducts, {system.name}", 2)]
        if isinstance(found, Missing):
            blocks.append(Text(f"{found.reason}. {found.remedy}"))
            continue
        for level in results.project.levels:
            blocks += [Heading(f"{level.name} level", 3, "flows in " + display.unit("room_flow", units)),
                       plan(results.project, found, level.id, units)]
        blocks += [PageBreak(), *_index_run(found, units), *_schedule(results, found, units), PageBreak(),
                   *_terminals(results, found, units)]
    return blocks


def plan(project: Project, found: DuctResult, level_id: str, units: System) -> Figure:
    """A level to scale: room outlines, walls, ducts at true width, terminals with their flow."""
    shapes, labels = [], []
    for room in project.rooms:
        if room.level_id == level_id:
            shapes.append(Shape(room.outline, "faint", 0.4, "paper" if not room.system_id else "", True))
            x = sum(p[0] for p in room.outline) / len(room.outline)
            low = min(p[1] for p in room.outline)
            labels.append(Label((x, low + 0.45), f"{room.number} {room.name}", "faint", 5))
    shapes += [Shape((w.start, w.end), "wall", 2.2) for w in project.walls if w.level_id == level_id and w.outside]
    index = set(found.path(found.index.segment_id))
    for segment in project.segments:
        r = found.segments.get(segment.id)
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        length = hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        if r is None or length < 1e-6 or a.level_id != level_id or b.level_id != level_id:
            continue
        nx, ny = -(b.y_m - a.y_m) / length * r.section.width_m / 2, (b.x_m - a.x_m) / length * r.section.width_m / 2
        shapes.append(Shape(((a.x_m + nx, a.y_m + ny), (b.x_m + nx, b.y_m + ny), (b.x_m - nx, b.y_m - ny),
                             (a.x_m - nx, a.y_m - ny)), "supply", 0.5, "supply_fill", True))
        if segment.id in index:
            shapes.append(Shape(((a.x_m, a.y_m), (b.x_m, b.y_m)), "garnet", 0.6, dashed=True))
        if r.section.shape == "rectangular" and abs(b.x_m - a.x_m) > 1.6:
            labels.append(Label(((a.x_m + b.x_m) / 2, a.y_m), display.size(r.section, units), "supply", 4.8))
    for t in found.terminals:
        p = find(project.duct_points, find(project.terminals, t.terminal_id).point_id)
        if p.level_id == level_id:
            half = 0.22
            shapes.append(Shape(tuple((p.x_m + dx * half, p.y_m + dy * half) for dx, dy in (
                (-1, -1), (1, -1), (1, 1), (-1, 1))), "supply", 0.7, "sheet", True))
            labels.append(Label((p.x_m, p.y_m - 0.6), display.figure("room_flow", t.flow_m3s, units), "supply", 5.5))
    xs = [x for r in project.rooms for x, _ in r.outline]
    ys = [y for r in project.rooms for _, y in r.outline]
    return Figure((min(xs) - 0.6, min(ys) - 0.6, max(xs) + 0.6, max(ys) + 0.6), 92, tuple(shapes), tuple(labels))


def _index_run(found: DuctResult, units: System) -> list[Block]:
    rows = []
    for segment_id in found.path(found.index.segment_id):
        s = found.segments[segment_id]
        rows.append((segment_id, display.size(s.section, units), display.figure("room_flow", s.flow_m3s, units),
                     display.figure("length", s.length_m, units), display.figure("velocity", s.velocity_m_s, units),
                     display.figure("friction", s.friction_pa_m, units),
                     display.figure("fine_pressure", s.friction_pa + s.flexible_pa, units),
                     ", ".join(f"{f.name} {f.k:.2f}" for f in s.fittings),
                     display.figure("fine_pressure", sum(f.pressure_pa for f in s.fittings), units),
                     display.figure("fine_pressure", s.left_pa, units)))
    rows.append(("terminal", found.index.point.model, display.figure("room_flow", found.index.flow_m3s, units), "", "", "", "",
                 "", display.figure("fine_pressure", found.index.point.pressure_pa, units), "0"))
    return [Heading("Index run", 3, f"to {found.index.label}, {display.with_unit('pressure', found.runs.fan_pa, units)}"),
            TableBlock((Col("Segment", width=1, left=True), Col("Size", display.unit("duct_size", units), 1.4),
                        Col("Flow", display.unit("room_flow", units)), Col("Length", display.unit("length", units)),
                        Col("Vel.", display.unit("velocity", units), 0.9), Col("Frict.", display.unit("friction", units), 1.1),
                        Col("Pipe", display.unit("pressure", units), 0.8), Col("Fittings, k", width=3.2, left=True),
                        Col("Fittings", display.unit("pressure", units), 1.1),
                        Col("Left", display.unit("pressure", units), 0.9)), tuple(rows))]


def _schedule(results: Results, found: DuctResult, units: System) -> list[Block]:
    """Ducts of one size together."""
    sizes: dict[tuple, list] = {}
    for s in found.segments.values():
        sizes.setdefault((s.section.shape, s.section.width_m, s.section.height_m), []).append(s)
    rows = tuple((display.size(group[0].section, units), str(len(group)),
                  display.figure("length", sum(s.length_m for s in group), units, 1),
                  display.figure("mass", sum(s.mass_kg for s in group), units, 1), str(sum(s.pinned for s in group) or ""))
                 for _, group in sorted(sizes.items()))
    return [Heading("Ducts by size", 3), TableBlock(
        (Col("Size", display.unit("duct_size", units), 1.6, True), Col("Pieces"), Col("Length", display.unit("length", units)),
         Col("Steel", display.unit("mass", units)), Col("Pinned")), rows,
        ("Sum", str(len(found.segments)), display.figure("length", found.length_m, units, 1),
         display.figure("mass", found.mass_kg, units, 1), ""))]


def _terminals(results: Results, found: DuctResult, units: System) -> list[Block]:
    pressure = display.unit("pressure", units)
    rows = []
    for t in sorted(found.terminals, key=lambda t: t.label):
        room = find(results.project.rooms, t.room_id)
        r = found.segments[t.segment_id]
        d = t.damper if t.neck else r.damper
        angle = "none" if d is None else f"plate, {d.free:.0%} free" if d.free is not None else "open" if d.added_k <= 1e-9 else display.DASH if d.angle_deg is None else (
            f"{d.angle_deg:.0f}°{' pinned' if r.damper_pinned and not t.neck else ''}")
        rows.append((t.label, room.name, t.point.model, display.figure("room_flow", t.flow_m3s, units),
                     display.figure("fine_pressure", t.point.pressure_pa, units),
                     display.figure("fine_pressure", t.run_pa, units), display.figure("fine_pressure", t.surplus_pa, units),
                     display.number(d.added_k, 2) if d is not None else "", angle))
    return [Heading("Terminals and dampers", 3), Facts((
        ("Terminals", str(len(found.terminals))), ("Flow", display.with_unit("system_flow", found.flow_m3s, units)),
        ("Pressure the ducts need", display.with_unit("pressure", found.runs.fan_pa, units)))), TableBlock(
        (Col("Terminal", width=1, left=True), Col("Room", width=2.2, left=True), Col("Model", width=1.8, left=True),
         Col("Flow", display.unit("room_flow", units)), Col("Terminal", pressure, 1.1), Col("Run", pressure),
         Col("Surplus", pressure), Col("k", width=0.8), Col("Blade", width=1.3)), tuple(rows))]
