"""Real flows: a large plant solved from its design flows, as a tree, with rings, with coupled junctions; what-ifs of
the example; pages of Balance.
"""

import statistics
import time
from dataclasses import replace

import numpy as np

from benchmarks.ducts import middle
from garnetfin.core.ducts import network as nw
from garnetfin.core.ducts.fittings.laws.law import number
from garnetfin.core.ducts.network import Tees, arcs, solve
from garnetfin.engine.flows.commissioning import commissioning
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import case_in
from garnetfin.engine.flows.real_flows import real_flows, with_temperatures
from garnetfin.engine.flows.resizing import resize
from garnetfin.engine.flows.single_changes import check
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.ui.example import example_project


class Fan:
    """A fan that falls gently through the duty."""

    stall_m3s = 0.01

    def __init__(self, flow_m3s: float, pressure_pa: float) -> None:
        self.flow, self.pa, self.greatest_m3s = flow_m3s, pressure_pa, 3 * flow_m3s

    def pressure(self, q):
        return self.pa * (1.3 - 0.3 * (np.asarray(q) / self.flow) ** 2)


def plant(mains: int = 11, branches: int = 18, taps: int = 12, loops: int = 0) -> tuple[nw.Network, np.ndarray]:
    """A trunk with mains, branches and taps, every junction coupled: about 5,000 ducts and 2,400 terminals; rings
    between ducts that lie near.
    """
    rng = np.random.default_rng(0)
    rows, parent, legs, terminals, nodes = [{"start": 0, "end": 1}], [-1], [], [], [2]

    def duct(start: int, before: int, length_m: float, kind: int | None = None) -> tuple[int, int]:
        end = nodes[0]
        nodes[0] += 1
        rows.append({"start": start, "end": end, "length_m": length_m, "k": float(rng.uniform(0, 0.1))})
        parent.append(before)
        if kind is not None:
            legs.append((len(rows) - 1, before, kind))
        return len(rows) - 1, end

    def chain(i: int, node: int, count: int, make) -> None:
        for k in range(count):
            make(i, node)
            if k < count - 1:
                i, node = duct(node, i, float(rng.uniform(1, 3)), number("straight"))

    def tap(i: int, node: int) -> None:
        terminals.append(
            duct(node, i, float(rng.uniform(1, 3)), int(rng.choice([number("square"), number("takeoff-conical")])))
        )

    def branch(i: int, node: int) -> None:
        chain(*duct(node, i, 2.0, int(rng.choice([number("square"), number("wye")]))), taps, tap)

    chain(*duct(1, 0, 5.0), mains, lambda i, node: chain(*duct(node, i, 2.0, number("square")), branches, branch))
    flow = np.zeros(len(rows))
    flow[[i for i, _ in terminals]] = 0.05
    for i in range(len(rows) - 1, 0, -1):
        flow[parent[i]] += flow[i]
    d = np.round(np.maximum(0.1, np.sqrt(4 * flow / np.clip(3 + 2 * flow**0.3, 3, 8) / np.pi)) / 0.05 + 0.49) * 0.05
    for i in range(1, len(rows)):
        rows[i]["d"] = float(d[i])
    start = list(flow)
    for i, end in terminals:
        rows.append({"start": end, "end": 0, "power_pa": 20.0, "power_m3s": 0.05})
        start.append(0.05)
    for _ in range(loops):
        a = int(rng.integers(2, nodes[0] - 30))
        rows.append({"start": a, "end": a + int(rng.integers(3, 25)), "d": 0.15, "length_m": 3.0, "k": 0.5})
        start.append(0.0)
    leg, whole, kind = (np.array(x) for x in zip(*legs))
    figure = np.where(kind == number("wye"), 45.0, np.where(kind == number("square"), 1.0, 0.2))
    net = arcs(
        rows,
        nodes=nodes[0],
        fixed={0: 0.0},
        density=1.2,
        viscosity=1.81e-5,
        fans={0: Fan(flow[0], 900.0)},
        tees=Tees(leg, whole, kind, (d[leg] / d[whole]) ** 2, figure),
    )
    return net, np.array(start)


def solving() -> list[dict]:
    found = []
    for loops, target in ((0, 0.1), (500, 0.2)):
        net, start = plant(loops=loops)
        few = np.random.default_rng(1).permutation(len(net.tees.leg))[: 2 * 929]
        some = replace(
            net, tees=Tees(*(getattr(net.tees, n)[few] for n in ("leg", "whole", "kind", "area_ratio", "figure")))
        )
        words = f", {loops} rings" if loops else ""
        found += [
            {
                "name": f"{len(start)} arcs solved from design flows{words}",
                "median_s": middle(lambda n=replace(net, tees=None), s=start: solve(n, s)),
                "target_s": 0.1,
            },
            {
                "name": f"the same with {len(few)} coupled legs{words}",
                "median_s": middle(lambda n=some, s=start: solve(n, s)),
                "target_s": target,
            },
            {
                "name": f"the same with all {len(net.tees.leg)} legs coupled{words}",
                "median_s": middle(lambda n=net, s=start: solve(n, s)),
            },
        ]
    return found


def example() -> list[dict]:
    results = run(example_project(), Memo())
    at, memo = case_in(results, "ahu-north"), Memo()
    found = [
        {
            "name": "a what-if of the example, temperatures included",
            "median_s": middle(
                lambda: with_temperatures(
                    at, real_flows(at, WhatIf(dampers_open=True, filter="final")), results.climate, memo
                )
            ),
        }
    ]
    for name, work in (
        ("commissioning of the example", lambda: commissioning(at)),
        ("resizing of the example", lambda: resize(results, at.system.id)),
        ("single changes of the example", lambda: check(results, at.system.id, WhatIf(dampers_open=True))),
    ):
        started = time.perf_counter()
        work()
        found.append({"name": name, "seconds": round(time.perf_counter() - started, 2)})
    return found


def toggling() -> list[dict]:
    """From a switch of Balance to the repainted window."""
    from garnetfin.ui.app import make_app
    from garnetfin.ui.frame.window import MainWindow
    from garnetfin.ui.session import Session

    app = make_app()
    window = MainWindow(Session())
    window.resize(1280, 800)
    window.show()
    window.session.start(example_project(), None)
    window.session.set_show(link="Balance")
    while not window.session.settled:
        app.processEvents()
    for _ in range(20):
        app.processEvents()
    view, taken = window.view("Balance"), []
    for k in range(12):
        began = time.perf_counter()
        view.switches["dampers_open" if k % 4 < 2 else "pressed"].click()
        asked = window.session.show.what
        while not (
            window.session.settled
            and view.stair.vm.solved == asked.any
            and getattr(window.session.state.flows, "what", None) == asked
        ):
            app.processEvents()
        window.repaint()
        taken.append(time.perf_counter() - began)
    window.session._saved = window.session.project
    window.close()
    return [
        {
            "name": "a what-if of the example from the switch to the repainted window",
            "median_s": round(statistics.median(taken), 4),
            "target_s": 0.1,
        }
    ]


def measure() -> list[dict]:
    return [*solving(), *example(), *toggling()]
