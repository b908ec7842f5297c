"""The room balance against a second road: a time march of all nodes of another room, written here from scratch.

The room has an outside wall of brick and wool, a roof, a floor between alike rooms, a window and gains in blocks.
Finite volumes with inputs held by the hour; films, star and air exchange as in the engine's model.
"""

import unittest

import numpy as np
from numpy.testing import assert_allclose
from scipy.linalg import expm

from garnetfin.core.fabric.layers import Layer, admittances
from garnetfin.core.loads.balance import Surfaces, respond
from garnetfin.core.loads.rooms import CAUSE, RoomDays, room_loads

BRICK, WOOL, BOARD = Layer(0.12, 0.77, 1700, 1000), Layer(0.08, 0.035, 30, 1030), Layer(0.0125, 0.21, 700, 1000)
DECK = Layer(0.16, 2.3, 2300, 1000)
HC, HR, FILM = 2.5, 5.2, 25.0
SET = 25.0
# (area, layers inside to outside, film or None, share of sun)
FACES = ((12.0, (BOARD, WOOL, BRICK), FILM, 0.2), (18.0, (BOARD, WOOL, DECK), FILM, 0.1), (18.0, (DECK,), None, 0.7))
GLASS_AREA, GLASS_R = 3.0, 1 / 1.4 - 1 / 7.7
HOURS = np.arange(24)
OUTDOOR = 27 + 5 * np.cos(2 * np.pi * (HOURS + 0.5 - 15) / 24)
SOL_AIR = np.array(
    [
        OUTDOOR + 14 * np.maximum(0, np.sin(np.pi * (HOURS + 0.5 - 6) / 12)),
        OUTDOOR + 22 * np.maximum(0, np.sin(np.pi * (HOURS + 0.5 - 6) / 12)) - 3,
        OUTDOOR,
    ]
)
SUN = 500 * np.maximum(0, np.sin(np.pi * (HOURS + 0.5 - 6) / 12))
RADIANT, CONVECTIVE = (
    np.where((HOURS >= 9) & (HOURS < 17), 180.0, 20.0),
    np.where((HOURS >= 9) & (HOURS < 17), 260.0, 30.0),
)
EXCHANGE = 6.0


def slices(layers: tuple[Layer, ...]) -> tuple[np.ndarray, np.ndarray]:
    """(capacity of each cell, resistance between inside face and first middle, between middles, and to the outer
    face).
    """
    capacity, half = [], []
    for layer in layers:
        count = max(2, round(layer.thickness_m / 0.01))
        capacity += [layer.thickness_m / count * layer.density_kg_m3 * layer.specific_heat_j_kgk] * count
        half += [layer.thickness_m / count / layer.conductivity_w_mk / 2] * count
    half = np.array(half)
    return np.array(capacity), np.concatenate([[half[0]], half[:-1] + half[1:], [half[-1]]])


def march() -> np.ndarray:
    """Hour means of the heat to remove [W]: finite volumes of a centimetre, exact in time by the matrix exponential.

    Inputs u = (sol-air 0, sol-air 1, outdoor, sun, radiant, set-point, one) are held for an hour; the day is made
    periodic by one
    linear solve. Nothing here is shared with the engine.
    """
    cells = [slices(f[1]) for f in FACES]
    starts = np.cumsum([0] + [len(c) for c, _ in cells])
    n, inputs = starts[-1], 7
    areas = np.array([f[0] for f in FACES] + [GLASS_AREA])
    # Massless inside faces and star: K f = Lx x + Lu u.
    k, lx, lu = np.zeros((5, 5)), np.zeros((5, n)), np.zeros((5, inputs))
    for i in range(4):
        y = 1 / cells[i][1][0] if i < 3 else 1 / GLASS_R
        k[i, i], k[i, 4] = y + HC + HR, -HR
        k[4, i], k[4, 4] = -areas[i] * HR, k[4, 4] + areas[i] * HR
        lu[i, 5] = HC
        if i < 3:
            lx[i, starts[i]] = y
            lu[i, 3] = FACES[i][3] / FACES[i][0]
        else:
            lu[i, 2] = y
    lu[4, 4] = 1.0
    fx, fu = np.linalg.solve(k, lx)[:4], np.linalg.solve(k, lu)[:4]
    a, b = np.zeros((n, n)), np.zeros((n, inputs))
    for i, (capacity, r) in enumerate(cells):
        for j in range(len(capacity)):
            row = starts[i] + j
            if j == 0:
                a[row] += fx[i] / r[0] / capacity[0]
                b[row] += fu[i] / r[0] / capacity[0]
                a[row, row] -= 1 / r[0] / capacity[0]
            else:
                g = 1 / r[j] / capacity[j]
                a[row, row - 1] += g
                a[row, row] -= g
            if j < len(capacity) - 1:
                g = 1 / r[j + 1] / capacity[j]
                a[row, row + 1] += g
                a[row, row] -= g
            elif FACES[i][2]:
                g = 1 / (r[-1] + 1 / FACES[i][2]) / capacity[j]
                a[row, row] -= g
                b[row, i] += g
    # x' = A x + B u; its hour mean comes from the augmented system (x, u, integral of x).
    whole = np.zeros((2 * n + inputs, 2 * n + inputs))
    whole[:n, :n], whole[:n, n : n + inputs], whole[n + inputs :, :n] = a, b, np.eye(n)
    step = expm(whole * 3600.0)
    phi, gamma = step[:n, :n], step[:n, n : n + inputs]
    mean_x, mean_u = step[n + inputs :, :n] / 3600, step[n + inputs :, n : n + inputs] / 3600
    u = np.array([SOL_AIR[0], SOL_AIR[1], OUTDOOR, SUN, RADIANT, np.full(24, SET), np.ones(24)]).T
    day, forced = np.eye(n), np.zeros(n)
    for hour in range(24):
        day, forced = phi @ day, phi @ forced + gamma @ u[hour]
    x = np.linalg.solve(np.eye(n) - day, forced)
    load = np.zeros(24)
    for hour in range(24):
        faces = fx @ (mean_x @ x + mean_u @ u[hour]) + fu @ u[hour]
        load[hour] = (areas * HC * (faces - SET)).sum() + EXCHANGE * (OUTDOOR[hour] - SET) + CONVECTIVE[hour]
        x = phi @ x + gamma @ u[hour]
    return load


def engine() -> np.ndarray:
    answers = [admittances(f[1], f[2]) for f in FACES] + [admittances((), 1 / GLASS_R)]
    areas = np.array([f[0] for f in FACES] + [GLASS_AREA])
    behind = np.array([np.broadcast_to(x, (12, 24)) for x in (*SOL_AIR, OUTDOOR)])
    gains = np.zeros((3, 1, 24))
    gains[2] = CONVECTIVE
    radiant = np.zeros((3, 1, 24))
    radiant[2] = RADIANT
    days = RoomDays(
        Surfaces(
            np.zeros(4, int),
            areas,
            np.full(4, HC),
            np.full(4, HR),
            np.array([y for y, _ in answers]),
            np.array([t for _, t in answers]),
        ),
        behind,
        np.array([CAUSE["walls"], CAUSE["walls"], -1, CAUSE["conduction through glass"]]),
        np.array([f[3] for f in FACES] + [0.0]),
        np.zeros(4),
        np.array([3]),
        np.zeros((1, 12, 24)),
        np.broadcast_to(SUN, (1, 12, 24)),
        np.zeros((1, 12, 24)),
        gains,
        radiant,
        np.array([EXCHANGE]),
        np.broadcast_to(OUTDOOR, (12, 24)),
        np.array([SET]),
    )
    return room_loads(days).sensible_w[0, 0]


class SecondRoom(unittest.TestCase):
    def test_steady_part_equals_the_sum_of_its_losses(self):
        """The day's mean needs no dynamics: U A dT, exchange and gains through films solved by hand."""
        mean = engine().mean()
        # Air and star answer a steady day by one 5 x 5 system.
        a, b = np.zeros((5, 5)), np.zeros(5)
        areas = np.array([f[0] for f in FACES] + [GLASS_AREA])
        for i in range(4):
            if i == 3:
                y, behind, sun = 1 / GLASS_R, OUTDOOR.mean(), 0.0
            else:
                r = sum(layer.resistance for layer in FACES[i][1])
                y = 1 / (r + 1 / FILM) if FACES[i][2] else 0.0
                behind, sun = SOL_AIR[i].mean(), SUN.mean() * FACES[i][3] / FACES[i][0]
            a[i, i], a[i, 4], b[i] = y + HC + HR, -HR, y * behind + HC * SET + sun
            a[4, i], a[4, 4] = -areas[i] * HR, a[4, 4] + areas[i] * HR
        b[4] = RADIANT.mean()
        faces = np.linalg.solve(a, b)[:4]
        hand = (areas * HC * (faces - SET)).sum() + EXCHANGE * (OUTDOOR.mean() - SET) + CONVECTIVE.mean()
        assert_allclose(mean, hand, rtol=1e-10)

    def test_every_hour_equals_the_march(self):
        # Cells of 10 mm are worth about 0.1 % of the peak, the tail of the folding 0.04 %.
        marched = march()
        assert_allclose(engine(), marched, atol=0.002 * marched.max())

    def test_delay_is_there(self):
        """The load lags the gains: it peaks after the sun and is above zero at night."""
        load = engine()
        self.assertGreater(int(np.argmax(load)), 12)
        self.assertGreater(load[2], 0)

    def test_response_falls_with_frequency(self):
        answers = [admittances(f[1], f[2]) for f in FACES]
        surfaces = Surfaces(
            np.zeros(3, int),
            np.array([f[0] for f in FACES]),
            np.full(3, HC),
            np.full(3, HR),
            np.array([y for y, _ in answers]),
            np.array([t for _, t in answers]),
        )
        through = np.abs(respond(surfaces).through[0])
        self.assertTrue(np.all(np.diff(through) < 0))
