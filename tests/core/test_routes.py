"""Tracks and trees of duct routes against exact minima by another route, and against walls, heights and shut rooms."""

import itertools
import unittest
from dataclasses import replace

import numpy as np

from garnetfin.core.routes import trees
from garnetfin.core.routes.tracks import Block, Space, Zone, tracks
from garnetfin.core.routes.wings import axis, between, direction, turned, wings

SQUARE = ((-1.0, -1.0), (11.0, -1.0), (11.0, 11.0), (-1.0, 11.0))
PLAIN = trees.Costs(0.0, 0.0, 0.0)  # pure length: nothing for flow, bends and takeoffs


def plain(space: Space, wanted):
    net = tracks(space, wanted)
    return replace(net, weight=np.ones(len(net.weight)))


def least_join(net, nodes) -> float:
    """Least length that joins nodes over open tracks, by dynamic programming over subsets (Dreyfus and Wagner)."""
    n = len(net.xy)
    apart = np.full((n, n), np.inf)
    np.fill_diagonal(apart, 0.0)
    for (a, b), length, is_open in zip(net.edges, net.length_m, net.open):
        if is_open:
            apart[a, b] = apart[b, a] = min(apart[a, b], length)
    for k in range(n):
        apart = np.minimum(apart, apart[:, k : k + 1] + apart[k : k + 1, :])
    ends = list(nodes[1:])
    best = {1 << i: apart[e].copy() for i, e in enumerate(ends)}
    for size in range(2, len(ends) + 1):
        for chosen in itertools.combinations(range(len(ends)), size):
            mask = sum(1 << i for i in chosen)
            joined = np.full(n, np.inf)
            part = (mask - 1) & mask
            while part:
                if part in best and mask ^ part in best:
                    joined = np.minimum(joined, best[part] + best[mask ^ part])
                part = (part - 1) & mask
            best[mask] = (joined[:, None] + apart).min(axis=0)
    return float(best[(1 << len(ends)) - 1][nodes[0]])


def grown(net, root, points) -> float:
    ways = trees.Ways(net, PLAIN)
    q = [1.0] * len(points)
    tree = trees.steiner(ways, net.nearest(root), [net.nearest(p) for p in points], q)
    return trees.cost(ways, tree, q)


class Least(unittest.TestCase):
    def test_known_minima(self):
        for root, points, wanted in (
            ((0.0, 0.0), [(10.0, 0.0), (5.0, 5.0)], 15.0),
            ((0.0, 5.0), [(10.0, 5.0), (5.0, 0.0), (5.0, 10.0)], 20.0),
        ):
            self.assertAlmostEqual(grown(plain(Space((SQUARE,)), [root, *points]), root, points), wanted, places=6)

    def test_near_the_exact_minimum_with_and_without_obstacles(self):
        rng = np.random.default_rng(7)
        for case in range(9):
            spots = [tuple(float(v) for v in p) for p in np.round(rng.uniform(0, 10, (3 + case % 4, 2)), 1)]
            blocks = (Block("rack", ((4.0, 2.0), (6.0, 2.0), (6.0, 8.0), (4.0, 8.0))),) if case % 3 == 0 else ()
            spots = [(x if not (3.8 < x < 6.2 and blocks) else 3.0, y) for x, y in spots]
            net = plain(Space((SQUARE,), blocks=blocks), spots)
            net = net.without(net.height_m < 0.1)
            exact = least_join(net, [net.nearest(p) for p in spots])
            found = grown(net, spots[0], spots[1:])
            self.assertGreaterEqual(found, exact - 1e-6)
            self.assertLessEqual(found, 1.10 * exact)  # the bound that the method asks for

    def test_sharing_a_trunk_pays_and_bends_cost(self):
        root, points = (0.0, 5.0), [(10.0, 4.0), (10.0, 6.0)]
        net = plain(Space((SQUARE,)), [root, *points])
        q = [0.1, 0.1]
        ways = trees.Ways(net, trees.Costs())
        tree = trees.steiner(ways, net.nearest(root), [net.nearest(p) for p in points], q)
        alone = sum(
            trees.cost(ways, trees.grow(ways, net.nearest(root), [net.nearest(p)], [0.1], [0]), [0.1]) for p in points
        )
        self.assertLess(trees.cost(ways, tree, q), alone)
        kept, pairs = trees.corners(net, tree)
        self.assertEqual(len(pairs), len(kept) - 1)


class Ground(unittest.TestCase):
    ROOMS = (
        ((0.0, 0.0), (10.0, 0.0), (10.0, 4.0), (0.0, 4.0)),
        ((0.0, 4.0), (10.0, 4.0), (10.0, 6.0), (0.0, 6.0)),
        ((0.0, 6.0), (10.0, 6.0), (10.0, 10.0), (0.0, 10.0)),
    )
    CORRIDOR = ROOMS[1]

    def space(self, **more) -> Space:
        return Space(self.ROOMS, (self.CORRIDOR,), **more)

    def test_tracks_stay_inside_and_keep_apart(self):
        net = tracks(self.space(), [(0.5, 5.0), (9.0, 2.0), (9.05, 8.0)])
        self.assertTrue(((net.xy >= -0.03) & (net.xy <= 10.03)).all())
        xs = np.unique(net.xy[:, 0])
        self.assertGreater(np.diff(xs).min(), 0.04)  # terminals keep their lines, others keep 150 mm
        self.assertTrue(net.corridor.any() and not net.corridor.all())

    def test_heights_are_those_of_zones_and_beams(self):
        beam = Block(
            "beam B9",
            ((5.0, 3.9), (5.2, 3.9), (5.2, 6.1), (5.0, 6.1)),
            0.12,
            ((((4.9, 4.8), (5.3, 4.8), (5.3, 5.2), (4.9, 5.2)), 0.28),),
        )
        net = tracks(self.space(zones=(Zone("Z", self.CORRIDOR, 0.3),), blocks=(beam,)), [(0.5, 5.0), (9.5, 5.0)])
        middle = (net.xy[net.edges[:, 0]] + net.xy[net.edges[:, 1]]) / 2
        under = (
            net.along_x
            & (np.minimum(net.xy[net.edges[:, 0], 0], net.xy[net.edges[:, 1], 0]) < 5.2)
            & (np.maximum(net.xy[net.edges[:, 0], 0], net.xy[net.edges[:, 1], 0]) > 5.0)
        )
        through = under & (np.abs(middle[:, 1] - 5.0) < 0.1)
        beside = under & (np.abs(middle[:, 1] - 4.5) < 0.1)
        self.assertTrue(through.any() and beside.any())
        self.assertTrue((net.height_m[through] == 0.28).all())  # a hole lets more through
        self.assertTrue((net.height_m[beside] == 0.12).all())
        self.assertEqual({net.names[i] for i in net.limit[beside]}, {"beam B9"})

    def test_a_shut_room_is_gone_round_or_said(self):
        root, end = (0.5, 5.0), (9.0, 2.0)
        net = tracks(self.space(), [root, end])
        ways = trees.Ways(net, trees.Costs())
        self.assertIsInstance(trees.grow(ways, net.nearest(root), [net.nearest(end)], [0.1], [0]), trees.RouteTree)
        shut = tracks(self.space(shut=(("r", self.CORRIDOR),)), [(0.5, 8.0), end])
        ways = trees.Ways(shut, trees.Costs())
        found = trees.grow(ways, shut.nearest((0.5, 8.0)), [shut.nearest(end)], [0.1], [0])
        self.assertEqual(found, trees.NoWay(0))

    def test_ducts_that_stay_are_crossed_but_not_run_over(self):
        duct = ((1.0, 4.8), (9.0, 4.8), (9.0, 5.2), (1.0, 5.2))
        net = tracks(self.space(ducts=(duct,)), [(0.5, 5.0), (9.5, 5.0), (4.0, 2.0), (4.0, 8.0)])
        middle = (net.xy[net.edges[:, 0]] + net.xy[net.edges[:, 1]]) / 2
        along = net.along_x & (np.abs(middle[:, 1] - 5.0) < 0.05) & (middle[:, 0] > 1.5) & (middle[:, 0] < 8.5)
        self.assertTrue(along.any() and not net.open[along & (net.length_m > 0.6)].any())
        across = ~net.along_x & (np.abs(middle[:, 0] - 4.0) < 0.01)
        self.assertTrue(net.open[across].all())

    def test_a_corridor_trunk_keeps_to_its_lane_and_reaches_all(self):
        points = [(2.0, 1.0), (5.0, 1.0), (8.0, 1.0), (2.0, 9.0), (8.0, 9.0)]
        root = (0.5, 5.0)
        net = tracks(self.space(), [root, *points])
        ways, q = trees.Ways(net, trees.Costs()), [0.1] * 5
        tree = trees.trunk(
            ways,
            net.nearest(root),
            [net.nearest(p) for p in points],
            q,
            net.corridor & (np.abs(net.xy[:, 1] - 5.0) < 0.01),
        )
        flow = tree.flows(q)
        main = [n for n in tree.parent if flow[n] > 0.25]
        self.assertTrue(all(abs(net.xy[n][1] - 5.0) < 0.01 for n in main))
        self.assertEqual(sorted(tree.ends), [0, 1, 2, 3, 4])
        self.assertAlmostEqual(flow[tree.root], 0.5)

    def test_taking_a_terminal_out_and_back_changes_nothing(self):
        points = [(2.0, 1.0), (8.0, 1.0), (5.0, 9.0)]
        net = tracks(self.space(), [(0.5, 5.0), *points])
        ways, q, nodes = trees.Ways(net, trees.Costs()), [0.1, 0.2, 0.3], [net.nearest(p) for p in points]
        tree = trees.grow(ways, net.nearest((0.5, 5.0)), nodes, q, [0, 1, 2])
        before = trees.cost(ways, tree, q)
        again = tree.copy()
        trees.cut(again, 2)
        self.assertLess(len(again.parent), len(tree.parent))
        self.assertTrue(trees.add(ways, again, 2, nodes[2], q))
        self.assertLessEqual(trees.cost(ways, again, q), before + 1e-6)
        self.assertLessEqual(trees.cost(ways, trees.improve(ways, tree, nodes, q, 0.2), q), before + 1e-9)


class Turned(unittest.TestCase):
    """Buildings that stand askew on the sheet: the same ways, along their own walls."""

    BOX = ((-1.0, -1.0), (17.0, -1.0), (17.0, 13.0), (-1.0, 13.0))
    SPOTS = ((2.5, 1.5), (16.0, 7.5), (12.0, 9.0), (5.0, 12.0))

    def test_the_axis_of_rooms_is_that_of_their_walls(self):
        by = np.radians(23.7)
        rooms = [turned(outline, by) for outline in Ground.ROOMS]
        (wing,) = wings(rooms)
        self.assertAlmostEqual(np.degrees(wing.axis), 23.7, places=9)
        self.assertEqual(wing.rooms, (0, 1, 2))
        # Corners drawn 30 mm off: a wall of 6 m turns by 0.4 degrees at most, and six of them even that out.
        rng = np.random.default_rng(3)
        loose = [tuple(map(tuple, np.array(o) + rng.normal(0, 0.03, (4, 2)))) for o in rooms]
        self.assertAlmostEqual(np.degrees(wings(loose)[0].axis), 23.7, delta=0.3)
        self.assertEqual(axis(direction(self.BOX)[0]), 0.0)
        self.assertAlmostEqual(np.degrees(between(np.radians(89), np.radians(2))), 3.0)

    def test_a_least_tree_is_as_long_turned_or_not(self):
        for degrees in (0.0, 23.7, 71.0):
            by = np.radians(degrees)
            spots = list(turned(self.SPOTS, by))
            net = plain(Space((turned(self.BOX, by),)), spots)
            # 25.5 m: the published least right-angled tree of these four points
            self.assertAlmostEqual(grown(net, spots[0], spots[1:]), 25.5, places=6)

    def test_two_wings_are_joined_where_they_touch(self):
        by = np.radians(30.0)
        first = ((0.0, 0.0), (10.0, 0.0), (10.0, 6.0), (0.0, 6.0))
        wedge = ((10.0, 0.0), (12.5, 0.0), (10.0, 2.5 / np.tan(by)))
        box = ((0.0, 0.0), (12.0, 0.0), (12.0, 5.0), (0.0, 5.0))
        second = tuple((x + 12.5, y) for x, y in turned(box, by))
        (x, y) = turned([(11.0, 2.0)], by)[0]
        far = (x + 12.5, y)
        net = tracks(Space((first, wedge, second)), [(1.0, 3.0), far])
        self.assertTrue({0.0, 30.0} <= set(np.round(np.degrees(net.axes), 6)))
        self.assertGreaterEqual(net.linking.sum(), 1)
        ways = trees.Ways(net, trees.Costs())
        nodes = [net.nearest((1.0, 3.0)), net.nearest(far)]
        tree = trees.grow(ways, nodes[0], [nodes[1]], [0.1], [0])
        self.assertIsInstance(tree, trees.RouteTree)
        _, pairs = trees.corners(net, tree)
        for up, node in pairs:  # every piece runs along a wing's axes, but for the one between the wings
            dx, dy = net.xy[node] - net.xy[up]
            turn = np.arctan2(dy, dx)
            same = net.wing[up] == net.wing[node]
            self.assertTrue(not same or between(turn, net.axes[net.wing[node]]) < 1e-6, (up, node))

    def test_rooms_with_net_outlines_are_neighbours_over_their_walls(self):
        net_rooms = tuple(tuple((x, y + 0.2 * k) for x, y in outline) for k, outline in enumerate(Ground.ROOMS))
        root, ends = (0.5, 5.2), [(9.0, 2.0), (9.0, 8.4)]
        net = tracks(Space(net_rooms, (net_rooms[1],)), [root, *ends])
        ways = trees.Ways(net, trees.Costs())
        tree = trees.grow(ways, net.nearest(root), [net.nearest(p) for p in ends], [0.1, 0.1], [0, 1])
        self.assertIsInstance(tree, trees.RouteTree)
        # further apart than any wall is thick they are two buildings
        apart = tuple(tuple((x, y + 0.6 * k) for x, y in outline) for k, outline in enumerate(Ground.ROOMS))
        net = tracks(Space(apart, (apart[1],)), [(0.5, 5.6), (9.0, 2.0)])
        found = trees.grow(
            trees.Ways(net, trees.Costs()), net.nearest((0.5, 5.6)), [net.nearest((9.0, 2.0))], [0.1], [0]
        )
        self.assertEqual(found, trees.NoWay(0))
