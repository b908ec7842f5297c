"""Terminals: the air each takes, its size, pressure, throw and noise; and proposals for rooms."""

from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import Any

import numpy as np

from garnetfin.core.tables import TerminalModel, terminal_models
from garnetfin.core.terminal_choice import (
    FROM_WALL_M,
    PLACING,
    Selection,
    at_flow,
    frame_of,
    inside,
    nearest_wall,
    places,
    select,
)
from garnetfin.core.terminals import Limits, TerminalPoint, choose, point
from garnetfin.engine.memo import Memo, Ready, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, Missing, Results, RoomAir, TerminalAir
from garnetfin.project.book import Book
from garnetfin.project.ducts import Air, Terminal
from garnetfin.project.edits.terminals import Placement
from garnetfin.project.lookup import Same, find
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

LOUVRE_M_S = 2.5  # greatest on the face of a louvre
OF_ROOM: dict[Air, str] = {"supply": "flow_m3s", "return": "return_m3s", "extract": "extract_m3s"}
LEAST_M3S = 1e-6
APART_M = 0.9  # of a grille from a diffuser


@lru_cache(maxsize=8)
def _own(same: Same) -> dict[str, TerminalModel]:
    def column(own, name: str) -> np.ndarray:
        return np.array([getattr(p, name) for p in own.points])

    return terminal_models() | {
        o.id: TerminalModel(
            o.id,
            o.kind,
            o.description,
            o.use,
            o.neck_m2,
            o.effective_m2,
            o.size_m,
            column(o, "flow_m3s"),
            column(o, "pressure_pa"),
            column(o, "throw_050_m"),
            column(o, "throw_025_m"),
            column(o, "sound_db"),
            column(o, "nc"),
        )
        for o in same.item
    }


def models(book: Book) -> dict[str, TerminalModel]:
    """All models by name; the office's own stand before those that ship."""
    return _own(Same(book.terminals)) if book.terminals else terminal_models()


def limits_of(book: Book) -> Limits:
    return Limits(
        assumption(book, "neck_m_s").figure, assumption(book, "terminal_pa").figure, assumption(book, "noise_nc").figure
    )


def terminal_flows(terminals: Iterable[Terminal], air: AirResult) -> dict[str, float]:
    """Flow of each terminal [m3/s]: pinned shares first, the rest of the room's flow alike among the others of the same
    air.
    """
    rows = {r.room_id: r for r in air.rooms}
    groups: dict[tuple[str, Air], list[Terminal]] = {}
    for t in terminals:
        # All louvres together bring the unit its outdoor air, wherever they stand.
        groups.setdefault(("" if t.air == "outdoor" else t.room_id, t.air), []).append(t)
    flows: dict[str, float] = {}
    for (room_id, kind), members in groups.items():
        row = rows.get(room_id)
        whole = air.outdoor_m3s if kind == "outdoor" else getattr(row, OF_ROOM[kind]) if row is not None else 0.0
        typed = {t.id: t.share.value for t in members if not isinstance(t.share, Rule)}
        free = [t for t in members if t.id not in typed]
        total = sum(typed.values())
        # Shares that add up to more than the room's flow, or to less with none left by rule, are scaled to it.
        scale = 1 / total if total > 1 or (not free and total > 0) else 1.0
        rest = max(0.0, 1 - total * scale) / len(free) if free else 0.0
        for t in members:
            flows[t.id] = whole * (typed[t.id] * scale if t.id in typed else rest)
    return flows


def louvre_point(flow_m3s: float) -> TerminalPoint:
    """A louvre for its greatest velocity on the face.

    Its drop stands with the intake of the train, so that it counts once.
    """
    side = (max(flow_m3s, 1e-6) / LOUVRE_M_S) ** 0.5
    return TerminalPoint(
        f"louvre-{side * 1000:.0f}",
        "Outdoor-air louvre, square,",
        side,
        LOUVRE_M_S if flow_m3s > 0 else 0.0,
        0.0,
        False,
    )


def terminal_point(terminal: Terminal, flow: float, book: Book) -> TerminalPoint:
    if terminal.air == "outdoor":
        return louvre_point(flow)
    return _point(Same(book), terminal.kind, terminal.model, flow)


@lru_cache(maxsize=16_384)
def _point(book: Same, kind: str, model: str, flow: float) -> TerminalPoint:
    """By hand, or by rule; an edit moves the flow of few terminals of a building."""
    known = models(book.item)
    return point(known[model], flow) if model in known else choose(known, kind, flow, limits_of(book.item))


def terminals(project: Project, air: dict[str, AirResult | Missing], memo: Memo) -> dict[str, TerminalAir]:
    """Every terminal in a room that an air system serves."""
    found: dict[str, TerminalAir] = {}
    for flows in air.values():
        if not isinstance(flows, Missing):
            found |= memo.one(
                "terminals of a system",
                key(flows, project.book, Ready(_in_rooms(project, flows))),
                lambda f=flows: _of_system(project, f, memo),
            )
    return found


def _in_rooms(project: Project, flows: AirResult) -> Iterator[Same]:
    """Rooms of a system, their terminals and where these hang."""
    by_room = _by_room(Same(project.terminals))
    for row in flows.rooms:
        members = by_room.get(row.room_id)
        if members:
            room = find(project.rooms, row.room_id)
            yield Same(room.outline)
            for t in members:
                yield from (Same(t), Same(find(project.duct_points, t.point_id)))


@lru_cache(maxsize=4)
def _by_room(terminals: Same) -> dict[str, list[Terminal]]:
    by_room: dict[str, list[Terminal]] = {}
    for t in (x for x in terminals.item if x.air != "outdoor"):
        by_room.setdefault(t.room_id, []).append(t)
    return by_room


def _of_system(project: Project, flows: AirResult, memo: Memo) -> dict[str, TerminalAir]:
    found, by_room = {}, _by_room(Same(project.terminals))
    for row in flows.rooms:
        members = by_room.get(row.room_id)
        if members:
            room, spots = find(project.rooms, row.room_id), [find(project.duct_points, t.point_id) for t in members]
            found |= memo.one(
                "terminals of a room",
                key(
                    room.id, room.outline, project.book, *members, *spots, *(getattr(row, n) for n in OF_ROOM.values())
                ),
                lambda r=row, m=members, s=spots, x=room: _of_room(project.book, flows, x, r, m, s),
            )
    return found


def _of_room(
    book: Book, flows: AirResult, room: Room, row: RoomAir, members: list[Terminal], spots: list[Any]
) -> dict[str, TerminalAir]:
    each = terminal_flows(members, flows)
    outline = np.asarray(room.outline, float)
    at = np.array([(p.x_m, p.y_m) for p in spots])
    wall, _ = nearest_wall(outline, at)
    made, levels = {}, {}
    for i, t in enumerate(members):
        p = terminal_point(t, each[t.id], book)
        model = models(book)[p.model]
        figures = at_flow(model, np.array([max(each[t.id], 1e-9)]))
        beside = [float(np.hypot(*(at[i] - at[k]))) / 2 for k, o in enumerate(members) if k != i and o.air == t.air]
        way, band = PLACING.get(t.kind, ("area", None))
        frame = frame_of(room.outline)
        reach = {"wall": frame.length_m, "line": frame.width_m}.get(way, min([float(wall[i]), *beside]))
        throw = float(figures["throw_m"][0])
        ratio = throw / reach if band and reach > 0 else float("nan")
        nc = float(figures["nc"][0])
        levels[t.id] = nc
        made[t.id] = (t, p, throw, ratio, nc, band)
    loud = [v for v in levels.values() if np.isfinite(v)]
    together = float(10 * np.log10(sum(10 ** (v / 10) for v in loud))) if loud else float("nan")
    return {
        i: TerminalAir(
            i,
            room.id,
            t.air,
            t.kind,
            p,
            each[i],
            throw,
            ratio,
            bool(band and np.isfinite(ratio) and band[0] <= ratio <= band[1]) or not band,
            nc,
            together,
        )
        for i, (t, p, throw, ratio, nc, band) in made.items()
    }


# -- proposals ---------------------------------------------------------------------------------------------------------
CEILING = ("ceil4", "ceilr", "swirl")


def options(results: Results, room_id: str, air: Air, kinds: tuple[str, ...] = CEILING) -> Selection | Missing:
    """Models and grids for a room's supply, return or extract air; supply air by terminals of these kinds."""
    project = results.project
    row, room = results.room_air.get(room_id), find(project.rooms, room_id)
    if row is None or room is None:
        return Missing("no air", "Serve the room by an air system")
    flow = getattr(row, OF_ROOM[air])
    if flow <= LEAST_M3S:
        return Missing("no flow", f"The room has no {air} air")
    if room.sketched and not room.placed:
        return Missing("no outline", "Draw the room: one from a list has no place on the plan")
    fitting = [m for m in models(project.book).values() if air in m.air and (air != "supply" or m.kind in kinds)]
    return select(fitting, room.outline, flow, limits_of(project.book))


def _beside(project: Project, room: Room, air: Air, spots: np.ndarray) -> np.ndarray:
    """The same grid, shifted where it would lie on terminals of other air."""
    there = [find(project.duct_points, t.point_id) for t in project.terminals if t.room_id == room.id and t.air != air]
    if not there or not len(spots):
        return spots
    others = np.array([(p.x_m, p.y_m) for p in there])
    outline, frame = np.asarray(room.outline, float), frame_of(room.outline)
    for u, v in (
        (0, 0),
        (0, 0.25),
        (0, -0.25),
        (0.25, 0),
        (-0.25, 0),
        (0.12, 0.25),
        (-0.12, -0.25),
        (0.25, 0.25),
        (-0.25, -0.25),
    ):
        moved = frame.to_plan(frame.to_room(spots) + np.array([u * frame.length_m, v * frame.width_m]))
        apart = np.hypot(*(moved[:, None] - others).transpose(2, 0, 1)).min()
        if (
            apart >= APART_M
            and inside(outline, moved).all()
            and nearest_wall(outline, moved)[0].min() >= FROM_WALL_M - 1e-9
        ):
            return moved
    return spots


def single(results: Results, room_id: str, air: Air, kinds: tuple[str, ...] = CEILING) -> Placement | None:
    """One terminal in the middle of a room in which no even grid keeps every rule: the smallest by neck that keeps
    pressure and velocity, though
    its throw may be short or its flow below its table. None where none does.
    """
    room, row = find(results.project.rooms, room_id), results.room_air.get(room_id)
    flow = getattr(row, OF_ROOM[air]) if row is not None else 0.0
    limits = limits_of(results.project.book)
    fitting = [
        m for m in models(results.project.book).values() if air in m.air and (air != "supply" or m.kind in kinds)
    ]
    points = (
        [(m, point(m, flow)) for m in sorted(fitting, key=lambda m: (m.neck_m2, m.model))] if flow > LEAST_M3S else []
    )
    found = next((m for m, p in points if p.neck_m_s <= limits.neck_m_s and p.pressure_pa <= limits.pressure_pa), None)
    if found is None:
        return None
    # The place furthest from all walls of a fine grid, its middle first among equals: rooms may have corners.
    frame, outline = frame_of(room.outline), np.asarray(room.outline, float)
    u, v = np.meshgrid(np.linspace(0.5, 9.5, 19) / 10, np.linspace(0.5, 9.5, 19) / 10)
    grid = frame.to_plan(np.column_stack([u.ravel() * frame.length_m, v.ravel() * frame.width_m]))
    grid = grid[inside(outline, grid)]
    if not len(grid):
        return None
    off_middle = np.hypot(*(grid - grid.mean(axis=0)).T)
    spots = _beside(
        results.project, room, air, grid[[np.lexsort((off_middle, -np.round(nearest_wall(outline, grid)[0], 3)))[0]]]
    )
    return Placement(room_id, air, found.kind, found.model, tuple((float(x), float(y)) for x, y in spots))


def placement(
    results: Results, room_id: str, air: Air, model: str = "", kinds: tuple[str, ...] = CEILING
) -> Placement | Missing:
    """Where the best option stands, or the best of one model."""
    found = options(results, room_id, air, kinds)
    if isinstance(found, Missing):
        return found
    option = next((o for o in found.options if not model or o.model == model), None)
    if option is None:
        words = ", ".join(f"{name} ({n})" for name, n in found.counts[:2])
        return Missing(
            f"nothing fits: {found.counts[0][0]}" if found.counts else "nothing fits",
            f"Limits are too strict for this flow: {words}" if words else "The catalogue has no such terminal",
        )
    room, book = find(results.project.rooms, room_id), results.project.book
    kind = models(book)[option.model].kind
    spots = _beside(results.project, room, air, places(room.outline, kind, option.nx, option.ny)[0])
    by_rule = choose(models(book), kind, option.flow_m3s, limits_of(book)).model == option.model
    return Placement(
        room_id, air, kind, "" if by_rule and not model else option.model, tuple((float(x), float(y)) for x, y in spots)
    )
