"""Flow boxes against published figures, a room run to rest, and what must hold for any of them."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.equipment import boxes
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.errors import InputError

K = boxes.air_heat(101325.0)


def of(most, least, heating, warm):
    a = np.asarray
    return boxes.Limits(a(most, float), a(least, float), a(heating, float), a(heating, float), a(warm, float))


def ask(most, reheat=0.0, at=0.0, supply=14.0, hot=55.0, nc=30.0):
    return boxes.Asked(*(np.atleast_1d(np.asarray(x, float)) for x in (most, reheat, at, supply, hot, nc)))


class Control(unittest.TestCase):
    def at(self, load):
        return boxes.held(load, 30.0, 14.0, 24.0, 21.0, of(0.2, 0.05, 0.1, 32.0), K)

    def test_published(self):
        self.assertAlmostEqual(K, 1226.2, delta=0.05)
        cooling, reheat, more, heating = (self.at(q) for q in (1500.0, 300.0, 100.0, -900.0))
        assert_allclose([cooling.flow, cooling.room_c], [0.122329, 24.0], rtol=5e-5)
        assert_allclose([reheat.reheat_w, reheat.room_c], [39.170, 21.0], rtol=5e-4)
        assert_allclose([more.reheat_w, more.leaving_c], [239.170, 17.9010], rtol=1e-4)
        assert_allclose([heating.flow, heating.reheat_w], [0.0600525, 1325.45], rtol=5e-5)

    def test_a_room_run_to_rest(self):
        """With the flow and the air that were found the room ends where it was said to, step by step."""
        for load in (2600.0, 1500.0, 700.0, 300.0, 100.0, -200.0, -900.0, -2600.0):
            with self.subTest(load=load):
                found = self.at(load)
                flow, leaving = float(found.flow), float(found.leaving_c)
                room, store = 20.0, 5e4
                for _ in range(6000):
                    gains = load + 30.0 * (24.0 - room) - K * flow * (room - leaving)
                    room += gains * 60.0 / store
                self.assertAlmostEqual(room, float(found.room_c), delta=1e-6)
                self.assertTrue(0.05 - 1e-12 <= flow <= 0.2 + 1e-12 and leaving <= 32 + 1e-9)

    def test_no_reheat_while_the_room_is_above_its_set_point_and_more_coupling_never_asks_for_more(self):
        seed = np.random.default_rng(5)
        n = 4000
        least = seed.uniform(0.01, 0.1, n)
        limits = of(least + seed.uniform(0, 0.2, n), least, least, np.full(n, 33.0))
        load, fall = seed.uniform(-3000, 3000, n), seed.uniform(0, 60, n)
        supply = seed.uniform(10, 20, n)
        found = boxes.held(load, fall, supply, 25.0, 21.0, limits, K)
        self.assertTrue((found.reheat_w[found.room_c > 21 + 1e-9] < 1e-6).all())
        # the room's load is given at its cooling set-point: coupling takes heat in only below it, out of warmer air
        warmer = boxes.held(load, fall + 10, supply, 25.0, 21.0, limits, K)
        self.assertTrue((warmer.reheat_w <= found.reheat_w + 1e-6).all())
        balance = load + fall * (25 - found.room_c) - K * found.flow * (found.room_c - found.leaving_c)
        rests = found.short_w == 0
        assert_allclose(balance[rests], 0, atol=1e-6)
        self.assertTrue((found.short_w >= 0).all())

    def test_set_points_that_cross_and_rooms_held_by_nothing_are_refused(self):
        with self.assertRaises(InputError):
            boxes.held(100.0, 30.0, 14.0, 20.0, 21.0, of(0.2, 0.05, 0.1, 32.0), K)
        with self.assertRaises(InputError):
            boxes.held(100.0, 0.0, 14.0, 24.0, 21.0, of(0.2, 0.0, 0.1, 32.0), K)


class LimitsOfFlow(unittest.TestCase):
    def test_dual_and_single_maximum(self):
        one = boxes.limits(boxes.Flows(0.16, 0.04, 1100.0, 21.0, [True, False]), 11.0, 35.0, K)
        assert_allclose(one.heating, 0.081553, rtol=2e-5)
        assert_allclose(one.least, [0.04, one.heating[1]])
        assert_allclose(one.leaving_c, 32.0)

    def test_order_of_flows(self):
        seed = np.random.default_rng(3)
        most, wanted = seed.uniform(0, 0.5, 500), seed.uniform(0, 0.6, 500)
        found = boxes.limits(
            boxes.Flows(most, wanted, seed.uniform(0, 6000, 500), 21, seed.random(500) < 0.5, np.nan, 0.03), 11, 35, K
        )
        self.assertTrue((found.least <= found.heating).all() and (found.heating <= found.most).all())

    def test_refused(self):
        for bad in (
            (-0.1, 0, 0, 21, 11, 35),
            (0.1, -1, 0, 21, 11, 35),
            (0.1, 0, 0, 36, 11, 35),
            (np.nan, 0, 0, 21, 11, 35),
        ):
            with self.subTest(bad=bad), self.assertRaises(InputError):
                boxes.limits(boxes.Flows(*bad[:4]), *bad[4:], K)


class Choice(unittest.TestCase):
    def test_published(self):
        models = boxes.in_order(shipped("boxes"), "vav", True)
        flows = boxes.limits(boxes.Flows(0.16, 0.04, 1100.0, 21.0), 11.0, 35.0, K)
        winter = K * flows.heating * (32.0 - 14.0)
        summer = boxes.held(200.0, 15.0, 14.0, 24.0, 21.0, flows, K).reheat_w
        duty = max(float(winter), float(summer))
        judged = boxes.judge(models, ask(0.16, duty, flows.heating), boxes.Standards(), K)
        at = int(boxes.first(judged, len(models))[0])
        self.assertEqual(models[at].model, "GF-V160-R2")
        by_name = {m.model: i for i, m in enumerate(models)}
        self.assertEqual(boxes.REASONS[judged.why[0, by_name["GF-V160-R1"]]], "reheat")
        assert_allclose(judged.reheat_w[0, by_name["GF-V160-R1"]], 1419, atol=5)
        assert_allclose((judged.box_pa + judged.coil_pa)[0, at], 73.633, rtol=1e-4)
        assert_allclose([judged.radiated_nc[0, at], judged.discharge_nc[0, at]], [26.467, 27.592], atol=2e-3)
        assert_allclose(duty, 1800.0, atol=0.1)
        at_valve = boxes.coil_water([models[at]], *(np.array([x]) for x in (duty, float(flows.heating), 14.0, 55.0)), K)
        assert_allclose([at_valve.flow_kg_s[0], at_valve.back_c[0]], [0.02512, 37.88], rtol=1e-3)

    def test_the_first_of_the_order_that_passes_every_limit(self):
        models = boxes.in_order(shipped("boxes"), "cav", False)
        flows = np.linspace(0.01, 1.2, 60)
        judged = boxes.judge(models, ask(flows), boxes.Standards(), K)
        for i, at in enumerate(boxes.first(judged, len(models))):
            for j, model in enumerate(models):
                box, coil = boxes.drops([model], flows[i : i + 1, None])
                passes = (
                    flows[i] <= model.flow_max_m3s
                    and flows[i] / model.inlet_m2 <= 9.0
                    and float(box[0, 0] + coil[0, 0]) <= 100
                    and judged.radiated_nc[i, j] <= 30
                    and judged.discharge_nc[i, j] <= 30
                )
                if passes:
                    self.assertEqual(at, j)
                    break
            else:
                self.assertEqual(at, -1)

    def test_water_gives_the_duty_it_is_asked_for(self):
        model = next(m for m in shipped("boxes") if m.model == "GF-V200-R2")
        duty, flow, supply, hot = np.array([300.0, 1200.0, 1e5]), *(np.full(3, x) for x in (0.12, 14.0, 60.0))
        found = boxes.coil_water([model] * 3, duty, flow, supply, hot, K)
        share = found.flow_kg_s[:2] / model.coil_water_kg_s
        again = boxes.coil_heat([model] * 2, flow[:2], supply[:2], hot[:2], share, K)
        assert_allclose(again, duty[:2], rtol=1e-9)
        self.assertTrue(np.isnan(found.flow_kg_s[2]))

    def test_nothing_to_choose_from_is_refused(self):
        with self.assertRaises(InputError):
            boxes.judge((), ask(0.1), boxes.Standards(), K)
