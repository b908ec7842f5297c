"""Air systems by themselves: 40 rooms with all feedbacks, one point, 288 hours of 100 rooms, a year; state list;
terminals; moist air.
"""

import statistics
import time
from collections.abc import Callable

import numpy as np

from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.worksheet import Entry, evaluate
from garnetfin.core.systems.parts import Control, Hours, Part, Rooms
from garnetfin.core.systems.train import solve
from garnetfin.core.tables import terminal_models
from garnetfin.core.terminal_choice import Limits, select

P = 101325.0
TRAIN = (
    Part("intake", "intake"),
    Part("recovery", "recovery", {"sensible": 0.75, "latent": 0.0, "frost_c": -3.0}),
    Part("mixing", "mixing", {"changeover_c": 18.0}, "enthalpy"),
    Part("coil", "cooling", {"bypass": 0.1}),
    Part("heat", "heating"),
    Part("fan", "supply_fan", {"pressure_pa": 800.0, "efficiency": 0.6}),
    Part("duct", "duct", {"leakage": 0.03, "ua_w_k": 60.0, "around_c": 26.0}),
    Part("terminals", "terminals", {}, "reheat"),
    Part("rooms", "rooms"),
    Part("plenum", "plenum"),
    Part("back", "return_fan", {"pressure_pa": 250.0, "efficiency": 0.5}),
    Part("relief", "relief"),
)


def case(rooms: int, hours: int) -> tuple[Rooms, Hours]:
    """Rooms of different loads through hours between -8 and 34 degC."""
    rng = np.random.default_rng(3)
    t = np.resize(13 + 21 * np.sin(np.linspace(-np.pi / 2, np.pi * 5.5, hours)), hours)
    m = rng.uniform(0.05, 0.4, rooms)
    load = m[:, None] * 1010 * (3 + 6 * (t - 10) / 20)[None, :] * rng.uniform(0.5, 1.0, (rooms, 1))
    some = np.ones(hours, bool)
    return (
        Rooms(
            m,
            0.3 * m,
            np.where(rng.random(rooms) < 0.15, 0.5 * m, 0.0),
            np.zeros(rooms),
            np.array([[0, rooms - 1]]),
            np.array([0.02]),
            np.full((rooms, hours), 24.0),
            load,
            np.full((rooms, hours), 80.0),
            np.full(rooms, 0.6),
            np.ones(rooms, bool),
            np.zeros(rooms, bool),
        ),
        Hours(t, air.humidity_ratio(t, 0.6, P), P, some, some, some, np.full(hours, 300.0)),
    )


def best(run: Callable[[], object], times: int = 5) -> float:
    run()
    taken = []
    for _ in range(times):
        started = time.perf_counter()
        run()
        taken.append(time.perf_counter() - started)
    return statistics.median(taken)


def measure() -> list[dict]:
    found = []
    for name, rooms, hours, flow, target in (
        ("one point of 40 rooms", 40, 1, "fixed", 0.020),
        ("40 rooms, 30 hours with all feedbacks", 40, 30, "load", 0.050),
        ("100 rooms, variable flow, 288 hours", 100, 288, "load", 1.0),
        ("40 rooms, 8,760 hours", 40, 8760, "load", 2.0),
    ):
        many, at = case(rooms, hours)
        control = Control(flow, "held", "reheat", 14.0, 11.0, 0.4 * many.design_kg_s.sum())
        step = 1460

        def run(many=many, at=at, control=control, hours=hours) -> float:
            worst = 0.0
            for lo in range(0, hours, step):
                k = slice(lo, lo + step)
                part = Rooms(
                    many.design_kg_s,
                    many.least_kg_s,
                    many.extract_kg_s,
                    many.offset_share,
                    many.moves,
                    many.transfer_kg_s,
                    many.set_c[:, k],
                    many.sensible_w[:, k],
                    many.latent_w[:, k],
                    many.humid_high,
                    many.units,
                    many.heaters,
                )
                solved = solve(
                    TRAIN,
                    part,
                    Hours(at.outdoor_c[k], at.outdoor_w[k], P, at.on[k], at.cooling[k], at.heating[k], at.plenum_w[k]),
                    control,
                )
                worst = max(
                    worst, float(np.abs(solved.energy["whole"]).max()) / max(float(solved.cooling_w.max()), 1.0)
                )
            return worst

        found.append(
            {
                "name": f"air system: {name}",
                "seconds": round(best(run, 3 if hours > 1000 else 5), 4),
                "target_s": target,
                "not_closing": f"{run():.1e}",
            }
        )
    rows = [
        Entry(f"s{i}", f"s{i}", "state", (("t", 10.0 + i), ("rh", 0.5)))
        if i % 2
        else Entry(f"s{i}", f"s{i}", "mix", sources=("s1", "s3"), shares=(1.0, 2.0))
        for i in range(50)
    ]
    found.append(
        {
            "name": "state list of 50 rows",
            "seconds": round(best(lambda: evaluate(rows, {}, P, 1.2)), 5),
            "target_s": 0.005,
        }
    )
    outline = ((0.0, 0.0), (9.0, 0.0), (9.0, 5.0), (4.0, 5.0), (4.0, 8.0), (0.0, 8.0))
    swirls = [m for m in terminal_models().values() if m.kind == "swirl"]
    found.append(
        {
            "name": "terminals of one kind for a room",
            "seconds": round(best(lambda: select(swirls, outline, 0.3, Limits())), 5),
            "target_s": 0.020,
        }
    )
    t, w = np.random.default_rng(1).uniform(-10, 40, 8760), np.full(8760, 0.004)
    w = np.minimum(w, air.humidity_ratio(t, 0.95, P))
    found.append(
        {"name": "8,760 wet bulbs", "seconds": round(best(lambda: air.wet_bulb(t, w, P)), 5), "target_s": 0.010}
    )
    return found


if __name__ == "__main__":
    for row in measure():
        print(row)
