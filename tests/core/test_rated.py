"""Ducts through walls that resist fire: places by hand, turned buildings, joints, runs that only touch."""

import unittest

import numpy as np

from garnetfin.core.rated import crossings


def found(ducts, walls, minutes=None, z=2.5, turn_deg=0.0, nodes=None, heights=(0.0, 3.0)):
    c, s = np.cos(np.radians(turn_deg)), np.sin(np.radians(turn_deg))
    turn = np.array([[c, s], [-s, c]])
    flat = np.array(ducts, float).reshape(-1, 2, 2) @ turn
    high = np.full((*flat.shape[:2], 1), z)
    ends = np.concatenate([flat, high], axis=2)
    known: dict = {}
    numbers = [[known.setdefault(tuple(np.round(p, 6)), len(known)) for p in d] for d in flat]
    lines = np.array(walls, float).reshape(-1, 2, 2) @ turn
    count = len(lines)
    return crossings(
        ends,
        np.array(nodes if nodes is not None else numbers),
        lines,
        np.tile(heights, (count, 1)).astype(float),
        np.full(count, 0.2),
        np.array(minutes or [60.0] * count),
    )


class Places(unittest.TestCase):
    wall = (((0, 4), (12, 4)),)

    def test_a_branch_through_a_wall(self):
        for turn in (0.0, 27.0, 90.0, 211.0):
            (one,) = found([((6, 5), (6, 1))], self.wall, turn_deg=turn)
            self.assertAlmostEqual(one.share * 4, 1.0, places=9)

    def test_a_joint_of_two_walls_is_one_with_the_greater_minutes(self):
        walls = (((0, 5), (10, 5)), ((10, 5), (10, 9)))
        (one,) = found([((4, 2), (14, 7))], walls, [60.0, 30.0])
        self.assertAlmostEqual(one.share * np.hypot(10, 5), 6.7082, places=4)
        self.assertEqual(one.walls, (0, 1))
        self.assertEqual(found([((4, 2), (14, 7))], walls, [30.0, 60.0])[0].walls, (1, 0))

    def test_a_run_that_touches_and_stays_on_its_side_crosses_nothing(self):
        self.assertEqual(found([((2, 5), (8, 4)), ((8, 4), (14, 5))], self.wall), ())

    def test_a_point_in_the_wall_with_runs_to_both_sides_is_one(self):
        one = found([((6, 5), (6, 4)), ((6, 4), (6, 1))], self.wall)
        self.assertEqual([(x.duct, x.share) for x in one], [(0, 1.0)])

    def test_an_end_in_the_wall_is_none(self):
        self.assertEqual(found([((6, 5), (6, 4))], self.wall), ())

    def test_above_and_beside_the_wall_is_none(self):
        self.assertEqual(found([((6, 5), (6, 1))], self.wall, z=3.4), ())
        self.assertEqual(found([((13, 5), (13, 1))], self.wall), ())
        self.assertEqual(found([((6, 5), (6, 4.5))], self.wall), ())

    def test_along_the_wall_is_none(self):
        self.assertEqual(found([((2, 4), (8, 4))], self.wall), ())

    def test_two_walls_apart_are_two(self):
        two = found([((6, 9), (6, 1))], (((0, 4), (12, 4)), ((0, 6), (12, 6))))
        self.assertEqual([round(x.share, 6) for x in two], [0.375, 0.625])

    def test_nothing_given(self):
        self.assertEqual(found([], self.wall), ())
        self.assertEqual(found([((6, 5), (6, 1))], ()), ())

    def test_chance_against_signs(self):
        """A duct crosses a long wall where its ends lie on opposite sides of it."""
        rng = np.random.default_rng(5)
        ducts = rng.uniform(0, 10, (200, 2, 2))
        line = np.array([[-50.0, 3.0], [60.0, 6.3]])
        (ax, ay), (bx, by) = line
        side = np.sign((bx - ax) * (ducts[..., 1] - ay) - (by - ay) * (ducts[..., 0] - ax))
        wanted = np.flatnonzero(side[:, 0] != side[:, 1])
        self.assertEqual([x.duct for x in found(ducts, [line])], wanted.tolist())


if __name__ == "__main__":
    unittest.main()
