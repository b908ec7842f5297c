"""The network solve against published values, a solution by another route, and what must hold whatever the network."""

import unittest
from dataclasses import dataclass, replace

import numpy as np
from numpy.testing import assert_allclose
from scipy.optimize import root

from garnetfin.core.ducts.fittings import junctions
from garnetfin.core.ducts.fittings.laws.law import number
from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.ducts.network import Network, Tees, arcs, fan_pressure, losses, solve
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.errors import InputError

RHO, MU = 1.2, 1.81e-5


@dataclass
class Parabola:
    """p = a - b q - c q2, of a fan without a stall."""

    a: float
    b: float
    c: float
    stall_m3s: float = 0.01
    greatest_m3s: float = 0.35

    def pressure(self, q):
        return self.a - self.b * np.asarray(q) - self.c * np.asarray(q) ** 2


def example(k1: float = 0.0) -> Network:
    """Unit 60 Pa at 0.2, a main, two branches with terminals of 25 Pa at 0.1; nodes 0 outside, 1 fan, 2 unit, 3
    junction, 4 and 5 before terminals.
    """
    return arcs(
        (
            {"start": 0, "end": 1},
            {"start": 1, "end": 2, "power_pa": 60, "power_m3s": 0.2},
            {"start": 2, "end": 3, "d": 0.25, "length_m": 10, "k": 0.5},
            {"start": 3, "end": 4, "d": 0.16, "length_m": 4, "k": 1.2 + k1},
            {"start": 3, "end": 5, "d": 0.16, "length_m": 15, "k": 1.8},
            {"start": 4, "end": 0, "power_pa": 25, "power_m3s": 0.1},
            {"start": 5, "end": 0, "power_pa": 25, "power_m3s": 0.1},
        ),
        nodes=6,
        fixed={0: 0.0},
        density=RHO,
        viscosity=MU,
        fans={0: Parabola(220.0, 100.0, 1300.0)},
    )


DESIGN = np.array([0.2, 0.2, 0.2, 0.1, 0.1, 0.1, 0.1])


class Published(unittest.TestCase):
    def test_flows_of_the_two_branches(self):
        found = solve(example(), DESIGN)
        self.assertTrue(found.converged)
        self.assertLessEqual(found.steps, 8)
        assert_allclose(found.flow_m3s[[3, 4, 0]], (0.115193, 0.089937, 0.205130), atol=1.5e-6)
        assert_allclose(found.pressure_pa[1], 144.7850, atol=1e-3)
        assert_allclose(found.pressure_pa[3], 67.6684, atol=1e-3)

    def test_the_damper_that_bookkeeping_asks_for_makes_them_equal(self):
        found = solve(example(2.15088), DESIGN)
        # it is set for 0.1 m3/s each; friction is not quite a square
        assert_allclose(found.flow_m3s[3], found.flow_m3s[4], rtol=1e-3)

    def test_cold_starts_lead_to_the_same(self):
        for start in (np.full(7, 0.02), np.full(7, 1.0), np.linspace(0.01, 0.3, 7)):
            assert_allclose(solve(example(), start).flow_m3s, solve(example(), DESIGN).flow_m3s, rtol=1e-7)


def random_system(rng: np.random.Generator, branches: int, loops: int) -> tuple[Network, np.ndarray]:
    """A fan, a trunk with a terminal at every joint, and links between joints that close rings."""
    rows = [
        {"start": 0, "end": 1},
        {"start": 1, "end": 2, "power_pa": float(rng.uniform(20, 120)), "power_m3s": 0.3, "exponent": 1.8},
    ]
    for i in range(branches):
        rows.append(
            {
                "start": 2 + i,
                "end": 3 + i,
                "d": float(rng.uniform(0.2, 0.4)),
                "length_m": float(rng.uniform(1, 12)),
                "k": float(rng.uniform(0, 1)),
            }
        )
        rows.append(
            {
                "start": 3 + i,
                "end": 0,
                "d": float(rng.uniform(0.12, 0.2)),
                "length_m": float(rng.uniform(1, 6)),
                "k": float(rng.uniform(0.5, 3)),
                "power_pa": float(rng.uniform(5, 40)),
                "power_m3s": 0.06,
            }
        )
    for _ in range(loops):
        a, b = sorted(rng.choice(np.arange(2, 3 + branches), 2, replace=False))
        rows.append(
            {
                "start": int(a),
                "end": int(b),
                "d": float(rng.uniform(0.1, 0.2)),
                "length_m": float(rng.uniform(2, 10)),
                "k": 0.5,
            }
        )
    net = arcs(
        rows,
        nodes=3 + branches,
        fixed={0: 0.0},
        density=RHO,
        viscosity=MU,
        fans={0: Parabola(300.0, 50.0, 600.0, 0.01, 0.8)},
    )
    return net, np.full(len(rows), 0.05)


class AnotherRoute(unittest.TestCase):
    def test_trees_and_rings_agree_with_a_general_solver(self):
        for seed in range(12):
            rng = np.random.default_rng(seed)
            net, start = random_system(rng, 3 + seed % 3, seed % 4)
            found = solve(net, start)
            self.assertTrue(found.converged, seed)
            free = [n for n in range(net.nodes) if n not in net.fixed]

            def residual(x, net=net, free=free):
                q, p = x[: len(net.start)], np.zeros(net.nodes)
                p[free] = x[len(net.start) :] * 100
                h, _ = losses(net, q)
                h[0] -= float(net.fans[0].pressure(q[0]))
                mass = np.zeros(net.nodes)
                np.add.at(mass, net.start, q)
                np.add.at(mass, net.end, -q)
                return np.concatenate([(h - (p[net.start] - p[net.end])) / 100, mass[free]])

            other = root(
                residual,
                np.concatenate([found.flow_m3s * 1.05 + 0.002, found.pressure_pa[free] / 100 * 0.95]),
                tol=1e-12,
            )
            self.assertTrue(np.abs(residual(other.x)).max() < 1e-8)
            assert_allclose(found.flow_m3s, other.x[: len(net.start)], atol=5e-6 * np.abs(found.flow_m3s).max())

    def test_mass_and_loops_close(self):
        net, start = random_system(np.random.default_rng(3), 30, 12)
        found = solve(net, start)
        mass = np.zeros(net.nodes)
        np.add.at(mass, net.start, found.flow_m3s)
        np.add.at(mass, net.end, -found.flow_m3s)
        self.assertLess(np.abs(mass).max(), 1e-6 * found.flow_m3s[0])
        self.assertLess(found.residual_pa, 0.01)


class Laws(unittest.TestCase):
    def test_slopes_are_those_of_the_losses(self):
        net, _ = random_system(np.random.default_rng(1), 6, 2)
        for q in (np.linspace(-0.2, 0.3, len(net.start)), np.full(len(net.start), 1e-4)):
            h, d = losses(net, q)
            e = 1e-7
            up, down = losses(net, q + e)[0], losses(net, q - e)[0]
            assert_allclose(d, np.maximum((up - down) / (2 * e), 1e-9), rtol=2e-3, atol=1e-6)
            assert_allclose(losses(net, -q)[0], -h, atol=1e-12)

    def test_legs_of_tees_have_the_coefficients_of_the_catalogue(self):
        main, small = Section("round", 0.4, 0.4), Section("round", 0.3, 0.3)
        a = small.area_m2 / main.area_m2  # within what every formula is made for
        for kind, figure, by_hand in (
            (number("square"), 1.0, junctions.branch(main, small, 1.0, 0.35, 90.0, "tee-div-90")),
            (number("takeoff-conical"), 0.0, junctions.branch(main, small, 1.0, 0.35, 90.0, "takeoff-conical")),
            (number("wye"), 45.0, junctions.branch(main, small, 1.0, 0.35, 45.0)),
            (number("joining square"), 0.0, junctions.branch_converging(main, small, 1.0, 0.35)),
            (number("joining wye"), 45.0, junctions.branch_converging(main, small, 1.0, 0.35, 45.0)),
            (number("joining head on"), 0.0, junctions.bullhead_converging(main, small, 1.0, 0.35)),
            (number("fixed"), 0.7, ("", 0.7)),
        ):
            found = Tees(np.array([0]), np.array([1]), np.array([kind]), np.array([a]), np.array([figure])).coefficient(
                np.array([0.35])
            )
            assert_allclose(found, by_hand[1], rtol=1e-12)
        straight = Tees(
            np.array([0]), np.array([1]), np.array([number("straight")]), np.array([1.0]), np.array([0.0])
        ).coefficient(np.array([0.6]))
        assert_allclose(straight, junctions.straight(main, main, 1.0, 0.6)[1])

    def test_a_coupled_tee_by_hand(self):
        # A main of 0.3 m3/s is driven through a tee: leg and straight share it so that both lose the same.
        rows = [
            {"start": 0, "end": 1},
            {"start": 1, "end": 2, "d": 0.3, "length_m": 5},
            {"start": 2, "end": 0, "d": 0.2, "length_m": 8},
            {"start": 2, "end": 0, "d": 0.25, "length_m": 8},
        ]
        net = arcs(
            rows, nodes=3, fixed={0: 0.0}, density=RHO, viscosity=MU, fans={0: Parabola(150.0, 50.0, 200.0, 0.01, 0.9)}
        )
        areas = net.area_m2
        net = replace(
            net,
            tees=Tees(
                np.array([2, 3]),
                np.array([1, 1]),
                np.array([number("square"), number("straight")]),
                areas[[2, 3]] / areas[1],
                np.array([1.0, 0.3]),
            ),
        )
        found = solve(net, np.array([0.3, 0.3, 0.1, 0.2]))
        self.assertTrue(found.converged)
        q1, q2, q3 = found.flow_m3s[1:]
        pv = RHO / 2 * (q1 / areas[1]) ** 2

        def rub(i, q):
            return 8 * float(duct_gradient(q, areas[i], net.hydraulic_m[i], 0.09e-3, 0.0, RHO, MU))

        s3 = q3 / areas[3] / (q1 / areas[1])
        leg = rub(2, q2) + (1 + (q2 / areas[2] / (q1 / areas[1])) ** 2) * pv
        straight = rub(3, q3) + (0.4 * (1 - s3) ** 2 if s3 <= 1 else 0.3 * s3**2 * min((s3 - 1) / 0.2, 1)) * pv
        assert_allclose((leg, straight), found.pressure_pa[2], rtol=1e-6)

    def test_what_must_hold(self):
        net, start = random_system(np.random.default_rng(5), 8, 3)
        found = solve(net, start)
        order = np.random.default_rng(0).permutation(len(net.start))
        names = (
            "start",
            "end",
            "length_m",
            "area_m2",
            "hydraulic_m",
            "roughness_m",
            "compression",
            "k",
            "power_pa",
            "power_m3s",
            "exponent",
        )
        shuffled = replace(
            net, **{n: getattr(net, n)[order] for n in names}, fans={int(np.flatnonzero(order == 0)[0]): net.fans[0]}
        )
        assert_allclose(solve(shuffled, start).flow_m3s, found.flow_m3s[order], atol=1e-9)
        turned = replace(
            net,
            start=np.where(np.arange(len(start)) == 3, net.end, net.start),
            end=np.where(np.arange(len(start)) == 3, net.start, net.end),
        )
        again = solve(turned, np.where(np.arange(len(start)) == 3, -start, start))
        assert_allclose(again.flow_m3s[3], -found.flow_m3s[3], rtol=1e-6)

    def test_a_shut_damper_takes_its_branch_away(self):
        shut = solve(example(1e6), DESIGN)
        self.assertTrue(shut.converged)
        self.assertLess(shut.flow_m3s[3], 2e-3)
        self.assertGreater(shut.flow_m3s[4], solve(example(), DESIGN).flow_m3s[4])


class Bad(unittest.TestCase):
    def test_a_fan_left_of_its_peak_is_named(self):
        weak = replace(example(1e5), fans={0: Parabola(220.0, 100.0, 1300.0, 0.3, 0.35)})
        found = solve(weak, DESIGN)
        self.assertTrue(found.converged)
        self.assertEqual(found.stalled, (0,))
        pa, slope, left = fan_pressure(Parabola(220.0, 100.0, 1300.0, 0.2, 0.35), 0.1)
        self.assertTrue(left and slope < 0 and pa > 220.0 - 20.0 - 52.0)

    def test_what_does_not_converge_says_so_with_its_residual(self):
        net = replace(example(), fans={0: Parabola(float("nan"), 0.0, 0.0)})
        found = solve(net, DESIGN)
        self.assertFalse(found.converged)
        self.assertEqual(len(found.flow_m3s), 7)

    def test_bad_arcs_are_refused(self):
        with self.assertRaisesRegex(InputError, "pressure is known"):
            arcs(({"start": 0, "end": 1},), nodes=2, fixed={}, density=RHO, viscosity=MU)
        with self.assertRaisesRegex(InputError, "above 0"):
            arcs(({"start": 0, "end": 1, "area_m2": 0.0},), nodes=2, fixed={0: 0.0}, density=RHO, viscosity=MU)
        with self.assertRaisesRegex(InputError, "finite k"):
            arcs(({"start": 0, "end": 1, "k": float("nan")},), nodes=2, fixed={0: 0.0}, density=RHO, viscosity=MU)


class OutOfReach(unittest.TestCase):
    """Where a step leads far off, and where air goes backwards, no error of a formula comes out."""

    def test_flows_beyond_friction_go_on_with_their_square(self):
        net = arcs(
            [{"start": 0, "end": 1, "d": 0.2, "length_m": 10.0}], nodes=2, fixed={0: 0.0}, density=1.2, viscosity=1.8e-5
        )
        one, two = (float(losses(net, np.array([q]))[0][0]) for q in (1e5, 2e5))
        self.assertAlmostEqual(two / one, 4.0, places=6)
        edge = 5e7 * 1.8e-5 / 1.2 * net.area_m2[0] / 0.2
        near = [float(losses(net, np.array([edge * k]))[0][0]) for k in (0.999, 1.0, 1.001)]
        self.assertTrue(near[0] < near[1] < near[2] < near[0] * 1.01)

    def test_a_tiny_leak_under_much_pressure_settles(self):
        rows = [
            {"start": 0, "end": 1, "k": 0.0},
            {"start": 1, "end": 2, "d": 0.3, "length_m": 20.0},
            {"start": 2, "end": 0, "power_pa": 0.001, "power_m3s": 1e-7, "exponent": 1 / 0.65},
            {"start": 2, "end": 0, "power_pa": 1e6, "power_m3s": 1e-3, "exponent": 2.0},
        ]
        fan = Falling(0.5, 900.0)
        net = arcs(rows, nodes=3, fixed={0: 0.0}, density=1.2, viscosity=1.8e-5, fans={0: fan})
        found = solve(net, np.array([0.0, 0.0, 0.0, 0.0]))
        self.assertTrue(np.isfinite(found.flow_m3s).all() and np.abs(found.flow_m3s).max() < 1e3)

    def test_air_backwards_through_a_steady_fan(self):
        pressure, slope, stalled = fan_pressure(Falling(0.5, 300.0), -0.2)
        self.assertTrue(np.isfinite(pressure) and slope < 0 and not stalled)
        self.assertGreater(pressure, 300.0)


class Falling:
    """A fan that falls from rest on, as one that is not chosen yet."""

    stall_m3s = 0.0

    def __init__(self, flow_m3s: float, pressure_pa: float) -> None:
        self.greatest_m3s, self._at, self._pa = 2.5 * flow_m3s, flow_m3s, pressure_pa

    def pressure(self, q):
        return self._pa * (1.2 - 0.2 * (np.asarray(q, float) / self._at) ** 2)
