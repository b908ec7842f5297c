"""Friction, fittings, sizes, tree and runs against published values, exact solutions and hand calculation."""

import math
import random
import unittest

import numpy as np
from numpy.testing import assert_allclose
from scipy.optimize import brentq

from garnetfin.core.ducts.balance import component_loss, dampers_take, run_losses
from garnetfin.core.ducts.fittings import dampers, elbows, junctions, transitions
from garnetfin.core.ducts.fittings.tables import invert, look_up
from garnetfin.core.ducts.friction import flexible_factor, friction_factor, gradient
from garnetfin.core.ducts.sizes import Section, rectangular_series, round_series
from garnetfin.core.ducts.sizing import Limits, size_ladder
from garnetfin.core.ducts.tree import build_tree, gather_flows
from garnetfin.core.errors import InputError

RHO, MU, EPS = 1.2, 1.81e-5, 0.09e-3


def round_duct(mm: float) -> Section:
    return Section("round", mm / 1000, mm / 1000)


def rect(w: float, h: float) -> Section:
    return Section("rectangular", w / 1000, h / 1000)


class Friction(unittest.TestCase):
    def test_satisfies_colebrook(self):
        re, rr = (a.ravel() for a in np.meshgrid(np.geomspace(4000, 1e8, 9), [0.0, 1e-5, 1e-3, 0.05]))
        exact = [
            brentq(lambda f, r=r, n=n: f**-0.5 + 2 * np.log10(r / 3.7 + 2.51 / (n * f**0.5)), 1e-3, 1, xtol=1e-15)
            for n, r in zip(re, rr)
        ]
        # Both solve the same equation to rounding.
        assert_allclose(friction_factor(re, rr), exact, rtol=1e-12)

    def test_check_values(self):
        for q, d, wanted in (
            (0.1, 0.2, 0.702075),
            (0.5, 0.315, 1.456726),
            (2.0, 0.63, 0.628628),
            (0.02, 0.1, 1.117283),
        ):
            assert_allclose(gradient(q, math.pi * d**2 / 4, d, EPS, RHO, MU), wanted, atol=6e-7)
        assert_allclose(gradient(0.6, 0.125, 1 / 3, EPS, RHO, MU), 0.794379, atol=6e-7)

    def test_loss_rises_with_flow_through_the_transition(self):
        q = np.geomspace(1e-4, 1e-2, 400)
        self.assertTrue(np.all(np.diff(gradient(q, math.pi * 0.01**2 / 4 * 100, 0.1, EPS, RHO, MU)) > 0))

    def test_laminar_and_still_air(self):
        assert_allclose(friction_factor([0.0, 1000.0], 0.001), [0.0, 0.064], rtol=1e-12)

    def test_bad_element_is_named(self):
        self.assertRaisesRegex(InputError, "element 1.*Check size", friction_factor, [1e4, np.nan], 1e-4)

    def test_flexible_duct(self):
        assert_allclose(
            [flexible_factor(0.2, 4), flexible_factor(0.2, 15), flexible_factor(0.125, 30)],
            [1.8603, 4.2263, 10.360],
            atol=6e-4,
        )


class Sizes(unittest.TestCase):
    def test_a_rectangle_in_figures(self):
        s = rect(500, 250)
        assert_allclose([s.hydraulic_m, s.mass_kg_m / 1.15], [1 / 3, 8.243], atol=6e-4)

    def test_rule_gives_the_lightest_size_that_keeps_every_limit(self):
        limits = Limits(1.0, 6.0, 0.25)
        for flow in (0.05, 0.2, 0.56, 1.1):
            ladder = size_ladder(rectangular_series(), flow, limits, RHO, MU)
            good = ~(ladder.too_rough | ladder.too_fast | ladder.too_high | ladder.too_flat)
            self.assertEqual(ladder.relaxed, ())
            self.assertTrue(good[ladder.chosen])
            self.assertEqual(ladder.series.mass_kg_m[ladder.chosen], ladder.series.mass_kg_m[good].min())

    def test_limits_are_given_up_in_their_order_and_said(self):
        ladder = size_ladder(rectangular_series(), 2.0, Limits(1.0, 6.5, 0.10), RHO, MU)
        self.assertLessEqual(ladder.section.height_m, 0.1)
        self.assertEqual(ladder.relaxed[0], "friction")
        self.assertNotIn("height", ladder.relaxed)

    def test_no_smaller_than_what_it_feeds(self):
        ladder = size_ladder(round_series(), 0.02, Limits(1.0, 6.0, math.inf), RHO, MU, least_area_m2=0.05)
        self.assertGreaterEqual(ladder.section.area_m2, 0.049)

    def test_too_deep_everywhere_takes_the_lowest_and_says_so(self):
        ladder = size_ladder(round_series(), 0.5, Limits(1.0, 6.0, 0.06), RHO, MU)
        self.assertEqual((ladder.section.width_m, "height" in ladder.relaxed), (0.1, True))


class Fittings(unittest.TestCase):
    def test_elbows_at_table_points(self):
        assert_allclose(elbows.elbow(round_duct(200), 90)[1], 0.15)
        assert_allclose(elbows.elbow(round_duct(200), 45)[1], 0.15 * 0.6)
        assert_allclose(elbows.elbow(rect(400, 200), 90)[1], 0.25)  # H/W 0.5 in plan
        assert_allclose(elbows.elbow(rect(400, 200), 90, flat_bend=False)[1], 0.18)  # a drop: H/W 2

    def test_tables_clamp_and_interpolate(self):
        assert_allclose(look_up("elbow-round-smooth", "k", [0.1, 1.25, 9.0]), [0.71, 0.185, 0.12])
        low, high = look_up("damper-butterfly-round", "k", [0.0, 10.0])
        # linear in ln k
        assert_allclose(look_up("damper-butterfly-round", "k", 5.0), math.sqrt(low * high), rtol=1e-12)

    def test_transitions(self):
        self.assertIsNone(transitions.transition(rect(400, 200), rect(400, 200)))
        self.assertEqual(transitions.transition(rect(400, 200), rect(300, 200))[0], "trans-converging")
        self.assertEqual(transitions.transition(round_duct(200), round_duct(250))[0], "trans-round-diverging")

    def test_tee_branch_has_its_closed_form(self):
        common, branch = round_duct(250), round_duct(250)
        name, k = junctions.branch(common, branch, 0.5, 0.2)
        self.assertEqual(name, "tee-div-90")
        assert_allclose(k, 1 + 0.4**2)
        name, k = junctions.branch(round_duct(315), round_duct(200), 0.5, 0.15, 45.0)
        ratio = 0.3 / (200 / 315) ** 2
        self.assertEqual(name, "wye-div")
        factor = 1 - 0.1 * min(max((ratio - 0.75) / 0.1, 0), 1)
        assert_allclose(k, factor * (1 + ratio**2 - 2 * ratio * math.cos(math.radians(45))), rtol=1e-12)

    def test_straight_leg_regains_nothing_when_velocity_stays(self):
        self.assertEqual(junctions.straight(round_duct(250), round_duct(250), 0.5, 0.5)[1], 0.0)
        assert_allclose(junctions.straight(round_duct(250), round_duct(250), 0.5, 0.25)[1], 0.4 * 0.25)

    def test_small_branch_is_a_tap(self):
        self.assertEqual(junctions.branch(rect(600, 300), round_duct(160), 1.0, 0.06)[0], "takeoff-conical")

    def test_damper_angle_of_the_check(self):
        """Surplus 31.9233 Pa behind a damper in d 0.16 at 0.1 m3/s: k 2.15088 above open, 24.09 degrees."""
        pv = RHO / 2 * (0.1 / round_duct(160).area_m2) ** 2
        found = dampers.setting(round_duct(160), pv, 31.9233)
        assert_allclose(found.added_k, 2.15088, rtol=1e-5)
        # The table is rounded to two digits, the angle to four.
        assert_allclose(found.angle_deg, 24.09, atol=0.01)

    def test_what_no_blade_can_take_has_no_angle(self):
        self.assertIsNone(dampers.setting(round_duct(160), 2.0, 1000.0).angle_deg)
        self.assertIsNone(dampers.setting(round_duct(160), 0.0, 20.0).angle_deg)
        self.assertEqual(dampers.setting(round_duct(160), 0.0, 0.0).angle_deg, 0.0)

    def test_a_plate_takes_what_a_blade_cannot(self):
        found = dampers.orifice(2.0, 1000.0)
        assert_allclose(found.added_k * 2.0, 1000.0, rtol=1e-9)
        # interpolated between 2,000 plates
        assert_allclose(dampers.orifice_k(found.free), 500.0, rtol=2e-3)
        assert_allclose(dampers.orifice_k(0.5), 3.999396, rtol=1e-6)  # published check value
        self.assertEqual(dampers.orifice(2.0, 0.0).free, 1.0)

    def test_dampers_of_branches_take_what_all_beyond_have_to_spare(self):
        tree = build_tree(6, np.array([(0, 1), (1, 2), (1, 3), (3, 4), (3, 5)]), 0)
        surplus, ends = np.array([0.0, 30.0, 50.0]), np.array([1, 3, 4])
        only = np.array([False, True, False, True, True])
        taken, left = dampers_take(tree, surplus, ends, only)
        assert_allclose(taken[[1, 3, 4]], surplus)
        assert_allclose(left, 0.0)
        taken, left = dampers_take(tree, surplus, ends, np.array([False, True, True, True, True]))
        assert_allclose(taken, (0, 0, 30, 0, 20))
        assert_allclose(left, 0.0)
        taken, left = dampers_take(tree, surplus, ends, np.array([False, False, True, False, False]))
        assert_allclose((taken[2], *left), (30, 0, 0, 20))
        self.assertIsNone(invert("damper-butterfly-round", "k", 1e6))


class Runs(unittest.TestCase):
    def test_check_system(self):
        """Main with two branches: required 156.4465 Pa, surplus of the first 31.9233 Pa."""
        tree = build_tree(4, np.array([(0, 1), (1, 2), (3, 1)]), 0)
        flow = gather_flows(tree, np.array([0, 0, 0.1, 0.1]))
        assert_allclose(flow, [0.2, 0.1, 0.1])
        loss = []
        for q, d, length, k in ((0.2, 0.25, 10, 0.5), (0.1, 0.16, 4, 1.2), (0.1, 0.16, 15, 1.8)):
            area = math.pi * d * d / 4
            loss.append(float(gradient(q, area, d, EPS, RHO, MU)) * length + k * RHO / 2 * (q / area) ** 2)
        assert_allclose(loss, [13.3426, 26.1806, 58.1039], atol=6e-5)
        runs = run_losses(tree, np.array(loss), np.array([1, 2]), np.array([25.0, 25.0]), 4, 0)
        assert_allclose(runs.fan_pa + component_loss(0.2, 0.2, 60.0, 2.0), 156.4465, atol=6e-5)
        self.assertEqual(runs.index, 1)
        assert_allclose(runs.surplus_pa, [31.9233, 0.0], atol=6e-5)

    def test_random_trees_keep_their_invariants(self):
        for seed in range(8):
            rng = random.Random(seed)
            count = 40
            parents = [rng.randrange(i) for i in range(1, count)]
            ends = [(p, i) if rng.random() < 0.5 else (i, p) for i, p in enumerate(parents, 1)]
            order = list(range(len(ends)))
            rng.shuffle(order)
            leaves = sorted(set(range(1, count)) - set(parents))
            node_flow = np.zeros(count)
            node_flow[leaves] = [rng.uniform(0.01, 0.2) for _ in leaves]
            loss = np.array([rng.uniform(0.5, 9) for _ in ends])
            found = []
            for sequence in (range(len(ends)), order):
                tree = build_tree(count, np.array([ends[i] for i in sequence]), 0)
                flow = gather_flows(tree, node_flow)
                at = {int(tree.leaving[s]): int(s) for s in tree.order}
                for node in range(1, count):  # flow in = flow out + what leaves here
                    out = sum(flow[s] for s in range(len(flow)) if tree.entering[s] == node)
                    assert_allclose(flow[at[node]], out + node_flow[node], rtol=1e-12)
                own = np.array([at[n] for n in leaves])
                runs = run_losses(tree, loss[list(sequence)], own, np.zeros(len(leaves)), count, 0)
                self.assertEqual(float(runs.surplus_pa.min()), 0.0)
                assert_allclose(runs.node_pa[leaves], runs.surplus_pa, atol=1e-9)
                mine = loss[list(sequence)]
                assert_allclose([sum(mine[s] for s in tree.path(int(end))) for end in own], runs.loss_pa, rtol=1e-12)
                found.append(runs.loss_pa)
            assert_allclose(*found, rtol=1e-12)  # renumbering changes nothing

    def test_sums_along_and_beyond_are_those_of_the_paths(self):
        rng = random.Random(11)
        for count in (2, 9, 60):
            ends = np.array([(rng.randrange(n), n) for n in range(1, count)])
            tree = build_tree(count, ends, 0)
            values = np.array([rng.uniform(0, 5) for _ in ends])
            paths = [tree.path(s) for s in range(len(ends))]
            assert_allclose(tree.along(values), [sum(values[i] for i in p) for p in paths], rtol=1e-12)
            beyond = [[i for i, p in enumerate(paths) if s in p] for s in range(len(ends))]
            assert_allclose(tree.beyond(values), [sum(values[i] for i in b) for b in beyond], rtol=1e-12)
            assert_allclose(tree.beyond(values, np.minimum), [min(values[i] for i in b) for b in beyond])
            self.assertEqual([len(p) - 1 for p in paths], tree.depth.tolist())

    def test_rings_and_loose_pieces_are_told_apart(self):
        tree = build_tree(6, np.array([(0, 1), (1, 2), (2, 0), (4, 5)]), 0)
        self.assertEqual(len(tree.looped), 1)
        self.assertFalse(tree.reached[3])

    def test_a_system_without_start_is_refused(self):
        self.assertRaisesRegex(InputError, "no start", build_tree, 3, np.array([(0, 1)]), -1)
