"""Plant by the hour: room R0 against published hours of a fine march, the complementarity itself, and balances."""

import unittest
from dataclasses import replace

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import HARMONICS, admittances
from garnetfin.core.loads.balance import Surfaces, day_hours, respond
from garnetfin.core.loads.faces import face_shares
from garnetfin.core.loads.humidity import HEAT_OF_VAPOUR, moisture_days
from garnetfin.core.loads.plant import (
    AT_COOL,
    AT_HEAT,
    COOL_LIMIT,
    FREE,
    HEAT_LIMIT,
    Plan,
    air_matrix,
    held_all_day,
    run_plant,
)
from garnetfin.core.loads.rooms import CAUSE, room_loads
from garnetfin.core.loads.start_up import cooling_start, warm_up
from tests.core.test_loads import C10, r0

CAPACITY = np.array([270_000.0])
DAY = slice(7, 19)  # hours 7 to 18 inclusive
# Plant on 7..18 at 24 C, off otherwise: peak, hour 7 and hour 18 [W] of the march the methods publish.
PEAK_W, FIRST_W, LAST_W = 1087.0, 776.9, 599.3


def plan(
    on=slice(0, 24), cool_limit: float = np.inf, heat_c: float = -50.0, cool_c: float = 24.0, rooms: int = 1
) -> Plan:
    runs = np.zeros((rooms, 24), bool)
    runs[:, on] = True
    return Plan(
        runs,
        np.full((rooms, 24), heat_c),
        np.full((rooms, 24), cool_c),
        np.full(rooms, np.inf),
        np.full(rooms, cool_limit),
        np.zeros(rooms, bool),
    )


def at_hour(hour: int) -> np.ndarray:
    """The first used hour after each start, for one room."""
    return (np.arange(24) == hour)[None]


def loads(p: Plan):
    return room_loads(replace(r0(), plan=p, capacity_j_k=CAPACITY))


class RoomR0ByTheHour(unittest.TestCase):
    def test_plant_off_at_night(self):
        found = loads(plan(DAY))
        load, air = found.sensible_w[0, 6], found.air_c[0, 6]
        self.assertEqual(int(load.argmax()), 14)
        # The methods accept 2 W here, and 0.3 K in the first hour the plant is off.
        assert_allclose((load[14], load[7], load[18]), (PEAK_W, FIRST_W, LAST_W), atol=2.0)
        assert_allclose((air[4], air[22]), (26.88, 27.12), atol=0.2)
        assert_allclose(air[19], 25.89, atol=0.3)
        self.assertEqual(load[:7].max(), 0.0)

    def test_two_times_of_use_in_a_day(self):
        """Use and gains 8..10 and 17..20, plant from an hour before each; hours of a march by brute force [W]."""
        days, used = r0(), np.zeros(24)
        used[[8, 9, 10, 17, 18, 19, 20]] = 1.0
        days = replace(
            days,
            convective_w=days.convective_w.max(axis=2, keepdims=True) * used,
            radiant_w=days.radiant_w.max(axis=2, keepdims=True) * used,
            plan=plan([7, 8, 9, 10, 16, 17, 18, 19, 20]),
            capacity_j_k=CAPACITY,
        )
        found = room_loads(days)
        wanted = (939, 979, 1440, 1181, 992)
        # 0.7 %: the march steps in seconds where the air's storage is stepped by the hour here.
        assert_allclose(found.sensible_w[0, 6, [7, 8, 16, 17, 20]], wanted, rtol=0.007)
        assert_allclose(found.air_c[0, 6, 15], 29.8, atol=0.1)

    def test_no_plant(self):
        air = loads(plan(slice(0, 0))).air_c[0, 6]
        assert_allclose((air[5], air[16]), (62.06, 67.09), atol=0.2)

    def test_too_little_cooling_lets_the_room_drift(self):
        found = loads(plan(DAY, cool_limit=700.0))
        assert_allclose(found.air_c[0, 6, 15], 36.23, atol=0.05)
        assert_allclose(found.given_w[0, 6].max(), 700.0, rtol=1e-9)
        # What would be needed is told beside what is given.
        assert_allclose(found.sensible_w[0, 6, 14], PEAK_W, atol=2.0)

    def test_around_the_clock_is_the_held_day(self):
        held, by_hour = room_loads(r0()), loads(plan())
        assert_allclose(by_hour.sensible_w, held.sensible_w, atol=1e-6)
        assert_allclose(by_hour.by_cause_w, held.by_cause_w, atol=1e-6)

    def test_causes_sum_to_the_load_in_every_hour_and_keep_their_delay(self):
        found = loads(plan(DAY))
        assert_allclose(found.by_cause_w.sum(axis=0), found.sensible_w, atol=1e-6)
        # With one set-point nothing is left over, and what gains stored at night comes back in the first hour.
        assert_allclose(found.by_cause_w[CAUSE["set-point change"]], 0.0, atol=1e-6)
        self.assertGreater(
            found.by_cause_w[CAUSE["solar through glass"], 0, 6, 7],
            found.instant_gain_w[CAUSE["solar through glass"], 0, 6, 7],
        )

    def test_two_set_points_in_a_day_leave_a_set_point_change(self):
        p = plan()
        cool = p.cool_c.copy()
        cool[:, 12:] = 22.0
        found = loads(replace(p, cool_c=cool))
        assert_allclose(found.by_cause_w.sum(axis=0), found.sensible_w, atol=1e-6)
        self.assertGreater(np.abs(found.by_cause_w[CAUSE["set-point change"], 0, 6]).max(), 20.0)

    def test_each_face_and_window_shares_in_its_cause(self):
        for p in (None, plan(DAY)):
            days = replace(r0(), plan=p, capacity_j_k=CAPACITY)
            found = room_loads(days)
            through, sun = face_shares(days, found.state, days.set_point_c[:1].repeat(12))
            assert_allclose(through[0], found.by_cause_w[CAUSE["walls"], 0], atol=1e-6)
            assert_allclose(sun[0], found.by_cause_w[CAUSE["solar through glass"], 0], atol=1e-6)

    def test_energy_of_the_day_closes(self):
        """What the plant takes out is what came in: gains, and steady losses at the mean air temperature."""
        days = replace(r0(), plan=plan(DAY), capacity_j_k=CAPACITY)
        found, response = room_loads(days), respond(days.surfaces)
        # At zero frequency every W of radiant gain or sun that a face keeps reaches the air or the back of a face.
        star = response.star[0, 0].real
        per_watt = response.per_flux[:, 0].real / days.surfaces.area_m2
        sun = days.window_diffuse_w[0, 6].mean() * (days.sun_weight * per_watt).sum()
        glass = days.window_glass_w_m2[0, 6].mean() * response.per_flux[1, 0].real
        gains = (
            days.convective_w[:, 0].sum(axis=0).mean() + star * days.radiant_w[:, 0].sum(axis=0).mean() + sun + glass
        )
        behind = (
            sum(response.through[i, 0].real * days.behind_c[i, 6].mean() for i in (0, 1))
            + 5.0 * days.outdoor_c[6].mean()
        )
        lost = (response.air[0, 0].real + 5.0) * found.air_c[0, 6].mean()
        taken = found.sensible_w[0, 6].mean()
        self.assertLess(abs(gains + behind - lost - taken), 1e-4 * taken)

    def test_mean_radiant_temperature_is_that_of_the_dense_balance(self):
        """A steady day by one 6 x 6 system of faces and star."""
        days = r0()
        flat = replace(
            days,
            behind_c=np.repeat(days.behind_c.mean(axis=2, keepdims=True), 24, axis=2),
            window_diffuse_w=np.zeros((1, 12, 24)),
            window_glass_w_m2=np.zeros((1, 12, 24)),
            convective_w=np.zeros((3, 1, 24)),
            radiant_w=np.full((3, 1, 24), 20.0),
        )
        s = days.surfaces
        y, t = s.y_in[:, 0].real, s.y_through[:, 0].real
        a, b = np.zeros((6, 6)), np.zeros(6)
        for i in range(5):
            a[i, i], a[i, 5] = y[i] + 8.0, -5.5
            b[i] = 2.5 * 24.0 + t[i] * flat.behind_c[i, 0, 0]
            a[5, i], a[5, 5] = -s.area_m2[i] * 5.5, a[5, 5] + s.area_m2[i] * 5.5
        b[5] = 60.0
        assert_allclose(room_loads(flat).star_c[0, 0], np.linalg.solve(a, b)[5], rtol=1e-9)


class Complementarity(unittest.TestCase):
    """Random rooms, hours, bands and limits: each hour is in a state that its signs allow."""

    def test_random_problems_all_settle(self):
        rng = np.random.default_rng(17)
        rooms, days = 150, 4
        surfaces = np.array([day_hours(respond(r0(copies=1).surfaces).air)[0]])
        g = air_matrix(
            np.repeat(surfaces, rooms, axis=0) * rng.uniform(0.3, 2.0, (rooms, 1)),
            rng.uniform(1, 40, rooms),
            rng.uniform(5e4, 1e6, rooms),
        )
        force = rng.normal(0, 900, (rooms, days, 24)) + g.sum(axis=2)[:, None] * rng.uniform(10, 32, (rooms, days, 1))
        heat_c = np.repeat(rng.uniform(16, 22, (rooms, 1)), 24, axis=1)
        on = rng.random((rooms, 24)) < 0.6
        limits = np.where(rng.random((2, rooms)) < 0.4, rng.uniform(100, 1500, (2, rooms)), np.inf)
        p = Plan(on, heat_c, heat_c + rng.uniform(0, 6, (rooms, 1)), limits[0], limits[1], np.zeros(rooms, bool))
        found = run_plant(g, force, p)
        self.assertFalse(found.unsolved.any())
        th, q, s = found.air_c, found.heat_w, found.state
        assert_allclose(np.einsum("rij,rmj->rmi", g, th), force + q, atol=1e-6)
        low, high = (np.broadcast_to(x[:, None], th.shape) for x in (p.heat_c, p.cool_c))
        runs = np.broadcast_to(on[:, None], th.shape)
        most, least = (np.broadcast_to(x[:, None, None], th.shape) for x in (limits[0], -limits[1]))
        tol_k, tol_w = 1e-6, 1e-4
        self.assertTrue(np.all(np.abs(q[s == FREE]) < tol_w))
        free = (s == FREE) & runs
        self.assertTrue(np.all((th[free] <= high[free] + tol_k) & (th[free] >= low[free] - tol_k)))
        self.assertTrue(np.all(s[~runs] == FREE))
        for state, level, sign in ((AT_HEAT, low, 1), (AT_COOL, high, -1)):
            at = s == state
            assert_allclose(th[at], level[at], atol=tol_k)
            self.assertTrue(np.all(sign * q[at] >= -tol_w))
            self.assertTrue(np.all((q[at] <= most[at] + tol_w) & (q[at] >= least[at] - tol_w)))
        self.assertTrue(np.all(th[s == HEAT_LIMIT] <= low[s == HEAT_LIMIT] + tol_k))
        self.assertTrue(np.all(th[s == COOL_LIMIT] >= high[s == COOL_LIMIT] - tol_k))
        self.assertGreater((s == COOL_LIMIT).sum() + (s == HEAT_LIMIT).sum(), 20)

    def test_crossed_set_points_and_negative_limits_are_refused(self):
        self.assertRaisesRegex(InputError, "above the cooling", plan, heat_c=26.0, cool_c=24.0)
        self.assertRaisesRegex(InputError, "0 W or more", plan, cool_limit=-1.0)

    def test_a_sealed_room_without_plant_is_refused(self):
        closed = np.array([admittances((C10,), None)[0]] * 2)
        shut = respond(
            Surfaces(
                np.zeros(2, int),
                np.ones(2),
                np.full(2, 2.5),
                np.full(2, 5.5),
                closed,
                np.zeros((2, HARMONICS), complex),
            )
        )
        g = air_matrix(day_hours(shut.air), np.zeros(1), np.full(1, 1e5))
        self.assertRaisesRegex(InputError, "nowhere for its heat", run_plant, g, np.ones((1, 1, 24)), plan(slice(0, 0)))

    def test_held_plan_is_what_it_says(self):
        p = held_all_day(np.array([21.0, 26.0]))
        self.assertTrue(p.held.all() and p.on.all())
        assert_allclose(p.cool_c[1], 26.0)


class Starts(unittest.TestCase):
    def setUp(self):
        days = r0()
        self.g = air_matrix(day_hours(respond(days.surfaces).air), np.array([5.0]), CAPACITY)
        found = loads(plan())
        self.force = np.einsum("rij,rj->ri", self.g, found.air_c[:, 6]) + found.sensible_w[:, 6]

    def test_a_step_back_needs_more_than_the_load_of_the_day_only_when_it_is_late(self):
        p = plan(slice(6, 19))
        need, hour = cooling_start(self.g, self.force, p, np.array([PEAK_W]), at_hour(7))
        self.assertEqual((need[0], hour[0, 7]), (PEAK_W, 6))
        self.assertEqual(hour[0].max(), 6)
        need, hour = cooling_start(self.g, self.force, p, np.array([200.0]), at_hour(7))
        self.assertGreater(need[0], 200.0)
        self.assertLessEqual(hour[0, 7], 8)

    def test_the_limit_serves_every_start_of_the_day(self):
        p = plan()
        p.on[:] = False
        p.on[0, [3, 4, 5, 6, 21, 22, 23, 0]] = True  # the second one runs across midnight
        first = at_hour(22) | at_hour(5)
        both, hours = cooling_start(self.g, self.force, p, np.array([1.0]), first)
        alone = [cooling_start(self.g, self.force, p, np.array([1.0]), at_hour(h))[0][0] for h in (22, 5)]
        # The one limit is what the harder start asks for; the bisection stops at a 65,000th of its span.
        assert_allclose(both[0], max(alone), rtol=1e-3)
        self.assertTrue(hours[0, 22] in (21, 22, 23) and hours[0, 5] in (3, 4, 5, 6))

    def test_the_least_heat_that_warms_up_in_time(self):
        force = np.full((1, 24), self.g.sum(axis=2)[0, 0] * -10.0)
        p = plan(slice(5, 18), heat_c=20.0, cool_c=90.0)
        need = warm_up(self.g, force, p, at_hour(7))[0]
        enough, less = (
            run_plant(self.g, force[:, None], replace(p, heat_limit_w=np.array([need * k]))).air_c[0, 0, 6]
            for k in (1.001, 0.97)
        )
        self.assertGreaterEqual(enough, 19.9 - 1e-6)
        self.assertLess(less, 19.9)
        longer = warm_up(self.g, force, plan(slice(2, 18), heat_c=20.0, cool_c=90.0), at_hour(7))[0]
        self.assertLess(longer, need)


class Moisture(unittest.TestCase):
    def test_held_all_day_takes_out_what_enters(self):
        """At a limit all day the latent load is sources and leakage, by hand."""
        sources = np.full((1, 1, 24), 2e-5)
        found = moisture_days(
            sources,
            np.array([0.01]),
            np.full((1, 24), 0.014),
            np.array([60.0]),
            np.ones((1, 24), bool),
            np.zeros(1),
            np.array([0.0095]),
        )
        assert_allclose(found.latent_w, HEAT_OF_VAPOUR * (2e-5 + 0.01 * (0.014 - 0.0095)), rtol=1e-6)
        assert_allclose(found.ratio, 0.0095, rtol=1e-6)

    def test_off_at_night_the_air_takes_up_what_comes(self):
        on = np.zeros((1, 24), bool)
        on[:, 8:18] = True
        found = moisture_days(
            np.zeros((1, 1, 24)),
            np.array([0.004]),
            np.full((1, 24), 0.014),
            np.array([60.0]),
            on,
            np.zeros(1),
            np.array([0.0095]),
        )
        self.assertTrue(np.all(found.ratio[0, 0, :8] > 0.0095) and np.all(found.latent_w[0, 0, :8] == 0))
        # Over the day what leaks in is what leaves again or is taken out.
        net = 0.004 * (0.014 - found.ratio[0, 0]).sum() * HEAT_OF_VAPOUR
        assert_allclose(found.latent_w[0, 0].sum(), net, rtol=1e-5)

    def test_dry_air_is_humidified_to_the_lower_limit(self):
        found = moisture_days(
            np.zeros((1, 1, 24)),
            np.array([0.01]),
            np.full((1, 24), 0.002),
            np.array([60.0]),
            np.ones((1, 24), bool),
            np.array([0.005]),
            np.array([np.inf]),
        )
        assert_allclose(found.latent_w, -HEAT_OF_VAPOUR * 0.01 * 0.003, rtol=1e-6)
