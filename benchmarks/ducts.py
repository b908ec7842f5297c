"""Ducts by themselves: 5,000 segments sized and booked, least cost over life; a duct dragged in a system of 300;
proposals for 60 terminals.
"""

import statistics
import time
from collections.abc import Callable

import numpy as np
from msgspec import structs

from garnetfin.core.ducts.balance import run_losses
from garnetfin.core.ducts.life_cycle import Prices, by_cost
from garnetfin.core.ducts.sizes import round_series
from garnetfin.core.ducts.sizing import Ducts, Limits, by_limits
from garnetfin.core.ducts.tree import build_tree, gather_flows
from garnetfin.core.routes import trees
from garnetfin.core.routes.tracks import Space, tracks
from garnetfin.engine.layout.routes import Question, propose
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.ducts import DuctPoint, Terminal
from garnetfin.project.edits.duct_shape import MoveDucts
from garnetfin.project.edits.outlines import AddRoom
from garnetfin.project.edits.rooms import SetRoomUse
from garnetfin.project.new import new_project
from garnetfin.project.tree import Project

RHO, MU = 1.2, 1.81e-5


def tree_of(count: int) -> tuple:
    """Runs of ten pieces, each off one drawn before; flows of the leaves add up."""
    rng = np.random.default_rng(5)
    parent = np.array([-1] + [i - 1 if i % 10 else int(rng.integers(0, i)) for i in range(1, count)])
    ends = np.array([(0 if parent[i] < 0 else parent[i] + 1, i + 1) for i in range(count)])
    tree = build_tree(count + 1, ends, 0)
    leaf = np.setdiff1d(np.arange(count), parent)
    node = np.zeros(count + 1)
    node[leaf + 1] = rng.uniform(0.02, 0.08, len(leaf))
    flow = gather_flows(tree, node)
    return tree, flow, rng.uniform(0.5, 4.0, count), leaf


def middle(work: Callable[[], object], times: int = 5) -> float:
    work()
    taken = []
    for _ in range(times):
        started = time.perf_counter()
        work()
        taken.append(time.perf_counter() - started)
    return round(statistics.median(taken), 4)


def sizing() -> list[dict]:
    tree, flow, length, leaf = tree_of(5000)
    flow = np.minimum(flow, 12.0)  # the greatest size carries no more
    series = round_series(63, True)
    ducts = Ducts(flow, length, (series,) * 5000, (Limits(1.0, 8.0, np.inf),) * 5000, (None,) * 5000, RHO, MU)
    end_pa = np.full(5000, np.nan)
    end_pa[leaf] = 25.0

    def book() -> None:
        found = by_limits(tree, ducts)
        area, hydraulic = (np.array([getattr(s, n) for s in found.sections]) for n in ("area_m2", "hydraulic_m"))
        run_losses(tree, ducts.friction(area, hydraulic) * length, leaf, np.full(len(leaf), 25.0), 5001, 0)

    return [
        {
            "name": f"5,000 segments x {len(series.sections)} sizes sized and booked",
            "median_s": middle(book),
            "target_s": 0.1,
        },
        {
            "name": "least cost over life, 5,000 segments",
            "median_s": middle(lambda: by_cost(tree, ducts, np.zeros(5000), np.full(5000, 0.3), end_pa, Prices()), 3),
            "target_s": 1.5,
        },
    ]


def office(rooms: int = 30) -> Project:
    """A level of rooms on both sides of a corridor, two terminals each, none joined yet."""
    project = new_project()
    level = project.levels[0]
    system = project.air_systems[0]
    points, terminals = [], []
    half = rooms // 2
    for k in range(rooms):
        x, south = 4.0 * (k % half), k < half
        y = 0.0 if south else 8.0
        project = AddRoom(level.id, ((x, y), (x + 4, y), (x + 4, y + 6), (x, y + 6)), system_id=system.id).apply(
            project
        )
        room = project.rooms[-1]
        for i, dx in enumerate((1.0, 3.0)):
            points.append(
                DuctPoint(id=f"q{k}{'ab'[i]}", level_id=level.id, x_m=x + dx, y_m=y + (2.0 if south else 4.0), z_m=2.9)
            )
            terminals.append(
                Terminal(id=f"u{k}{'ab'[i]}", label=f"{room.number}{'ab'[i]}", point_id=points[-1].id, room_id=room.id)
            )
    project = SetRoomUse(tuple(r.id for r in project.rooms), "office_single").apply(project)
    project = AddRoom(
        level.id, ((-2.0, 6.0), (4.0 * half, 6.0), (4.0 * half, 8.0), (-2.0, 8.0)), system_id=system.id
    ).apply(project)
    project = SetRoomUse((project.rooms[-1].id,), "corridor").apply(project)
    start = DuctPoint(id="start", level_id=level.id, x_m=-1.5, y_m=7.0, z_m=2.9)
    project = structs.replace(project, duct_points=(start, *points), terminals=tuple(terminals))
    return structs.replace(
        project, air_systems=(structs.replace(system, root_point_id="start"), *project.air_systems[1:])
    )


def proposals() -> list[dict]:
    project = office()
    results = run(project, Memo())
    level, system = project.levels[0].id, project.air_systems[0].id
    question = Question(system, "supply", level, tuple(t.id for t in project.terminals))
    started = time.perf_counter()
    found = propose(results, question)
    taken = time.perf_counter() - started
    return [
        {
            "name": f"{len(found)} proposals for {len(project.terminals)} terminals",
            "seconds": round(taken, 2),
            "target_s": 10.0,
            "complete": sum(p.failure is None for p in found),
        }
    ]


def grid() -> list[dict]:
    rng = np.random.default_rng(1)
    rooms = tuple(
        ((i * 6.0, y), ((i + 1) * 6.0, y), ((i + 1) * 6.0, y + 6), (i * 6.0, y + 6))
        for y in (0.0, 8.0)
        for i in range(10)
    )
    corridor = ((0.0, 6.0), (60.0, 6.0), (60.0, 8.0), (0.0, 8.0))
    spots = [
        (float(x), float(y))
        for x, y in zip(rng.uniform(1, 59, 60), rng.choice([2, 3, 10, 11], 60) + rng.uniform(0, 1, 60))
    ]
    net = tracks(Space((*rooms, corridor), (corridor,)), [(0.5, 7.0), *spots])
    ways = trees.Ways(net, trees.Costs())
    root, nodes, q = net.nearest((0.5, 7.0)), [net.nearest(p) for p in spots], rng.uniform(0.03, 0.15, 60)
    return [
        {
            "name": f"a tree for 60 terminals on {len(net.xy)} nodes, unimproved",
            "median_s": middle(lambda: trees.grow(ways, root, nodes, q, range(60)), 3),
        }
    ]


def dragging() -> list[dict]:
    """A duct of about 300 dragged: one edit, engine and figures; and the preview of a step of the mouse in the real
    window.
    """
    from PySide6.QtCore import QPointF, Qt

    from garnetfin.ui.app import make_app
    from garnetfin.ui.frame.window import MainWindow
    from garnetfin.ui.session import Session

    project = office(90)
    results = run(project, Memo())
    question = Question(
        project.air_systems[0].id, "supply", project.levels[0].id, tuple(t.id for t in project.terminals)
    )
    taken = next(p for p in propose(results, question, mended=False) if p.failure is None)
    project = taken.command.apply(project)
    memo = Memo()
    run(project, memo)
    last = next(s for s in project.segments if s.role == "last")
    steps, state = [], project
    for k in range(8):
        state = MoveDucts((last.id,), 0.05 if k % 2 == 0 else -0.05, 0.0).apply(state)
        began = time.perf_counter()
        run(state, memo)
        steps.append(time.perf_counter() - began)
    app = make_app()
    window = MainWindow(Session())
    window.resize(1280, 800)
    window.show()
    window.session.start(project, None)
    window.session.set_show(link="Ducts")
    while not window.session.settled:
        app.processEvents()
    for _ in range(20):
        app.processEvents()
    plan, hand = window.view("Ducts").plan, window.view("Ducts").plan.hand
    window.session.select("segment", last.id)
    app.processEvents()
    a, b = ({p.id: p for p in project.duct_points}[i] for i in (last.a, last.b))
    at = plan.map.map(QPointF((a.x_m + b.x_m) / 2, (a.y_m + b.y_m) / 2))
    hand.press(at, Qt.KeyboardModifier.NoModifier)
    shown = []
    for k in range(1, 21):
        began = time.perf_counter()
        hand.move(at + QPointF(6 + 2 * k, 0))
        plan.repaint()
        shown.append(time.perf_counter() - began)
    hand.cancel()
    window.session._saved = window.session.project
    window.close()
    return [
        {
            "name": f"a step of the mouse while a duct of {len(project.segments)} is dragged, repainted",
            "median_s": round(statistics.median(shown), 4),
            "target_s": 0.05,
        },
        {"name": "the same edit through the whole engine", "median_s": round(statistics.median(steps), 4)},
    ]


def measure() -> list[dict]:
    return [*sizing(), *grid(), *proposals(), *dragging()]
