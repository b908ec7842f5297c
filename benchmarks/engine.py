"""The load engine by itself: 1,000 rooms with plant by the hour and causes, growth, one room, a year; each beside a
plain reference.
"""

import statistics
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from garnetfin.core.fabric.layers import HARMONICS, Layer, admittances
from garnetfin.core.loads.balance import Surfaces, respond
from garnetfin.core.loads.plant import Plan
from garnetfin.core.loads.rooms import CAUSE, RoomDays, room_loads
from garnetfin.core.loads.year import YearDrive, YearFaces, YearPlan, run_year

CONCRETE, WOOL, BOARD = Layer(0.15, 1.65, 2200, 1000), Layer(0.10, 0.035, 20, 1450), Layer(0.025, 0.25, 900, 1000)
SLAB = Layer(0.10, 1.65, 2200, 1000)
LAYERS = (
    (CONCRETE, WOOL),
    (CONCRETE, WOOL),
    (Layer(resistance_m2k_w=0.6),),
    (BOARD,),
    (BOARD,),
    (SLAB,),
    (SLAB,),
    (BOARD,),
)
FILMS = (25.0, 25.0, 25.0, None, None, None, None, None)
FACES = len(LAYERS)
CAUSES = (CAUSE["walls"], CAUSE["roofs"], CAUSE["conduction through glass"], -1, -1, -1, -1, -1)


def rooms(count: int) -> RoomDays:
    """Rooms of eight faces with one window, differing in size and sun; plant from 6 to 18 h between 20 and 25 C."""
    rng = np.random.default_rng(1)
    answers = [admittances(a, b) for a, b in zip(LAYERS, FILMS)]
    room = np.repeat(np.arange(count), FACES)
    area = np.tile([7.0, 9, 4, 20, 12, 16, 16, 8], count) * rng.uniform(0.7, 1.3, FACES * count)
    surfaces = Surfaces(
        room,
        area,
        np.full(FACES * count, 2.5),
        np.full(FACES * count, 5.5),
        np.array([y for y, _ in answers] * count),
        np.array([t for _, t in answers] * count),
    )
    hour = np.arange(24) + 0.5
    outdoor = np.array(
        [20 + 8 * np.cos(2 * np.pi * (m - 6.5) / 12) + 6 * np.cos(2 * np.pi * (hour - 15) / 24) for m in range(12)]
    )
    behind = np.broadcast_to(outdoor, (FACES * count, 12, 24)) + rng.uniform(0, 5, (FACES * count, 1, 1))
    sine = np.maximum(0, np.sin(np.pi * (hour - 6) / 12))
    gains = np.zeros((3, count, 24))
    gains[2] = 300 * ((hour > 8) & (hour < 18))
    on = np.zeros((count, 24), bool)
    on[:, 6:18] = True
    endless = np.full(count, np.inf)
    plan = Plan(on, np.full((count, 24), 20.0), np.full((count, 24), 25.0), endless, endless, np.zeros(count, bool))
    return RoomDays(
        surfaces,
        behind,
        np.tile(CAUSES, count),
        np.tile([1, 1, 0, 1, 1, 3, 1, 1.0], count) / 9,
        np.zeros(FACES * count),
        FACES * np.arange(count) + 2,
        np.zeros((count, 12, 24)),
        np.broadcast_to(rng.uniform(300, 1200, (count, 1, 1)) * sine, (count, 12, 24)),
        np.broadcast_to(15 * sine, (count, 12, 24)),
        gains,
        gains * 0.6,
        np.full(count, 5.0),
        outdoor,
        np.full(count, 25.0),
        np.ones(count),
        np.full(count, 2e5),
        plan,
    )


def dense(surfaces: Surfaces, count: int) -> np.ndarray:
    """The plain reference: every room's faces and star as one complex system per harmonic, solved dense and batched."""
    n = FACES
    area, hc, hr = (x.reshape(count, n) for x in (surfaces.area_m2, surfaces.hc_w_m2k, surfaces.hr_w_m2k))
    a = np.zeros((count, HARMONICS, n + 1, n + 1), complex)
    y = surfaces.y_in.reshape(count, n, HARMONICS).transpose(0, 2, 1)
    i = np.arange(n)
    a[:, :, i, i] = y + (hc + hr)[:, None]
    a[:, :, i, n] = -hr[:, None]
    a[:, :, n, i] = -(area * hr)[:, None]
    a[:, :, n, n] = (area * hr).sum(axis=1)[:, None]
    right = np.zeros((count, HARMONICS, n + 1, 1), complex)
    right[:, :, :n, 0] = hc[:, None]
    faces = np.linalg.solve(a, right)[:, :, :n, 0]
    return ((area * hc)[:, None] * (1 - faces)).sum(axis=2)


def year(count: int, days: int = 365) -> tuple[YearFaces, YearDrive, YearPlan]:
    d = rooms(count)
    behind = np.tile(d.behind_c[:, 6], (1, days)).astype(np.float32)
    sun = np.zeros((FACES * count, 24 * days), np.float32)
    sun += np.tile(d.window_diffuse_w[:, 6] / 100, (1, days)).repeat(FACES, axis=0)
    faces = YearFaces(
        d.surfaces.room, d.surfaces.area_m2, d.surfaces.hc_w_m2k, d.surfaces.hr_w_m2k, LAYERS * count, FILMS * count
    )
    gains = np.tile(d.convective_w[2], (1, days))
    drive = YearDrive(behind, sun, gains * 0.6, gains, np.tile(d.outdoor_c[6], days), d.exchange_w_k, d.capacity_j_k)
    return faces, drive, YearPlan(d.plan.on, d.plan.heat_c, d.plan.cool_c, d.plan.heat_limit_w, d.plan.cool_limit_w)


def march(count: int, days: int) -> float:
    """The plain reference of the year: explicit steps of 60 s through the cells of one wall of each room [s]."""
    cells, steps = 12, days * 1440
    t = np.full((count, FACES, cells), 20.0)
    began = time.perf_counter()
    for _ in range(steps):
        t[:, :, 1:-1] += 0.1 * (t[:, :, 2:] - 2 * t[:, :, 1:-1] + t[:, :, :-2])
    return time.perf_counter() - began


def timed(work: Callable[[], object], rounds: int = 5) -> tuple[float, float]:
    taken = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return round(statistics.median(taken), 4), round(min(taken), 4)


def measure() -> list[dict]:
    found = []
    thousand, one = rooms(1000), rooms(1)
    room_loads(one)
    median, least = timed(lambda: room_loads(thousand))
    found.append(
        {
            "name": "1,000 rooms x 8 faces x 12 months x 24 h, plant by the hour, causes",
            "median_s": median,
            "least_s": least,
            "target_s": 0.4,
        }
    )
    median, least = timed(lambda: respond(thousand.surfaces))
    plain, _ = timed(lambda: dense(thousand.surfaces, 1000), 1)
    found.append(
        {
            "name": "responses of 1,000 rooms, beside a dense batched complex solve",
            "median_s": median,
            "least_s": least,
            "reference_s": plain,
        }
    )
    found.append(
        {
            "name": "the same, held around the clock",
            "median_s": timed(lambda: room_loads(replace(thousand, plan=None)), 3)[0],
        }
    )
    median, least = timed(lambda: room_loads(one), 20)
    found.append({"name": "one room", "median_s": median, "least_s": least, "target_s": 0.008})
    for count in (100, 10_000):
        days = rooms(count)
        found.append(
            {
                "name": f"{count:,} rooms",
                "median_s": timed(lambda days=days: room_loads(days), 3 if count < 1000 else 1)[0],
            }
        )
    hundred = year(100)
    median, least = timed(lambda: run_year(*hundred), 2)
    found.append(
        {
            "name": "8,760 h of 100 rooms, beside an explicit march of their walls through 3 days, scaled to a year",
            "median_s": median,
            "least_s": least,
            "target_s": 1.0,
            "reference_s": round(march(100, 3) * 365 / 3, 1),
        }
    )
    return found
