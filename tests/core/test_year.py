"""The year of hours against the periodic engine: two routes that share no code but the data."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import Cancelled, InputError
from garnetfin.core.fabric.layers import Layer
from garnetfin.core.loads.year import YearDrive, YearFaces, YearPlan, run_year, volumes
from tests.core.test_loads import AREAS, BOARD, C10, C15, EPS, MARCHED_W, WINDOW_R
from tests.core.test_plant import FIRST_W, LAST_W, PEAK_W

T = np.arange(24) + 0.5


def r0_year(days: int = 1, on=slice(0, 24), limit: float = np.inf, rooms: int = 1):
    """R0 with the same day over and over."""
    outdoor = 26 + 6 * np.cos(2 * np.pi * (T - 15) / 24)
    sol_air = 28 + 10 * np.cos(2 * np.pi * (T - 14) / 24)
    sine, working = np.maximum(0, np.sin(np.pi * (T - 6) / 12)), ((T > 8) & (T < 18)) * 1.0
    weights = np.array([7.2, 0.0, 33.6, 48.0, 16.0]) / 104.8
    flux = np.array([800 * sine * weights[i] / AREAS[i] + (60 * sine / 4 if i == 1 else 0) for i in range(5)])
    behind = np.array([sol_air, outdoor, outdoor, outdoor, outdoor])

    def again(x: np.ndarray) -> np.ndarray:
        return np.tile(x, (rooms if x.ndim > 1 else 1, days))

    runs = np.zeros((rooms, 24), bool)
    runs[:, on] = True
    faces = YearFaces(
        np.repeat(np.arange(rooms), 5),
        np.tile(AREAS, rooms),
        np.full(5 * rooms, 2.5),
        np.full(5 * rooms, 5.5),
        ((C15, EPS), (Layer(resistance_m2k_w=WINDOW_R - 0.04),), (BOARD,), (C10,), (C10,)) * rooms,
        (25.0, 25.0, None, None, None) * rooms,
    )
    drive = YearDrive(
        again(behind),
        again(flux),
        again((200 * working)[None]),
        again((300 * working)[None]),
        np.tile(outdoor, days),
        np.full(rooms, 5.0),
        np.full(rooms, 270_000.0),
    )
    plan = YearPlan(
        runs, np.full((rooms, 24), -50.0), np.full((rooms, 24), 24.0), np.full(rooms, np.inf), np.full(rooms, limit)
    )
    return faces, drive, plan


class AgainstThePeriodicDay(unittest.TestCase):
    def test_held_day(self):
        # Coarse cells are worth 0.11 to 0.45 % of the peak in an hour (methods, c).
        found = run_year(*r0_year(), warm_days=60)
        assert_allclose(-found.heat_w[0], MARCHED_W, atol=0.0045 * max(MARCHED_W))

    def test_plant_off_at_night_and_limited(self):
        found = run_year(*r0_year(on=slice(7, 19)), warm_days=60)
        load = -found.heat_w[0]
        assert_allclose((load[14], load[7], load[18]), (PEAK_W, FIRST_W, LAST_W), rtol=0.005)
        assert_allclose(found.air_c[0, [4, 22]], (26.88, 27.12), atol=0.2)
        short = run_year(*r0_year(on=slice(7, 19), limit=700.0), warm_days=120)
        assert_allclose(short.air_c[0, 15], 36.23, atol=0.1)

    def test_no_plant(self):
        air = run_year(*r0_year(on=slice(0, 0)), warm_days=250).air_c[0]
        assert_allclose(air[[5, 16]], (62.06, 67.09), atol=0.2)

    def test_rooms_do_not_touch_each_other(self):
        one, three = run_year(*r0_year(2)), run_year(*r0_year(2, rooms=3))
        assert_allclose(three.heat_w, np.repeat(one.heat_w, 3, axis=0), atol=1e-6)

    def test_progress_may_stop_it(self):
        def stop(share: float) -> None:
            raise Cancelled

        self.assertRaises(Cancelled, run_year, *r0_year(2), stop)

    def test_half_days_are_refused(self):
        faces, drive, plan = r0_year(1)
        short = YearDrive(
            *(
                getattr(drive, n)[..., :20] if n not in ("exchange_w_k", "capacity_j_k") else getattr(drive, n)
                for n in YearDrive.__dataclass_fields__
            )
        )
        self.assertRaisesRegex(InputError, "whole days", run_year, faces, short, plan)


class Volumes(unittest.TestCase):
    def test_resistance_and_mass_are_kept(self):
        capacity, gaps = volumes((BOARD, Layer(resistance_m2k_w=0.18), C15, EPS))
        assert_allclose(gaps.sum(), 0.025 / 0.25 + 0.18 + 0.15 / 1.65 + 0.1 / 0.035)
        assert_allclose(capacity.sum(), 0.025 * 900e3 + 0.15 * 2.2e6 + 0.1 * 20 * 1450)

    def test_no_cell_is_deeper_than_half_an_hours_reach(self):
        capacity, _ = volumes((C15,))
        self.assertLessEqual(0.15 / len(capacity), 0.5 * np.sqrt(1.65 / 2.2e6 * 3600))

    def test_a_massless_layer_has_no_cells(self):
        self.assertEqual(len(volumes((Layer(resistance_m2k_w=0.5),))[0]), 0)
