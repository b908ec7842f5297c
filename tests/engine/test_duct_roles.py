"""Roles of ducts follow what hangs on them, in whatever order and whichever way runs are drawn by hand."""

import itertools
import random
import unittest

from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult
from garnetfin.engine.run import run
from garnetfin.project.edits.duct_runs import DrawRun, RemoveDucts
from garnetfin.project.edits.duct_values import SetDuctChoice
from garnetfin.project.lookup import find
from tests.example import by_number, station

AHU, Z = "ahu-north", 6.6
CELLS = (("1.01", 5.0), ("1.02", 8.0), ("1.03", 11.0), ("1.04", 14.0))


def bare():
    """The station without supply ducts on its upper level."""
    project = station()
    ids = tuple(s.id for s in project.segments)
    return RemoveDucts(ids).apply(project)


def trunk(shape="round"):
    return DrawRun(AHU, "U", ((17.0, 7.6, Z), (5.0, 7.6, Z)), shape=shape, role="")


def branch(project, number, x):
    return DrawRun(
        AHU, "U", ((x, 7.6, Z), (x, 4.0, Z)), shape="round", role="", terminal_room=by_number(project, number).id
    )


def drawn(order, trunk_at):
    """Branches in an order, the trunk before the one at `trunk_at`."""
    project = bare()
    for k, (number, x) in enumerate(order):
        if k == trunk_at:
            project = trunk().apply(project)
        project = branch(project, number, x).apply(project)
    return project if trunk_at < len(order) else trunk().apply(project)


def sizes(project):
    """Of every duct by where it lies: role, size, flow."""
    system = project.air_systems[0]
    root = next(p for p in project.duct_points if (p.x_m, p.y_m) == (17.0, 7.6))
    from msgspec import structs

    joined = structs.replace(
        project, air_systems=(structs.replace(system, root_point_id=root.id), *project.air_systems[1:])
    )
    net = run(joined, Memo()).ducts[AHU]
    assert isinstance(net, DuctResult), net
    found = {}
    for s in net.segments.values():
        segment = find(joined.segments, s.segment_id)
        ends = sorted(
            (round(p.x_m, 3), round(p.y_m, 3), round(p.z_m, 3))
            for p in (find(joined.duct_points, segment.a), find(joined.duct_points, segment.b))
        )
        found[tuple(ends)] = (s.role, s.section, round(s.flow_m3s, 9))
    return found


class AnyOrder(unittest.TestCase):
    def test_sizes_do_not_know_who_drew_first(self):
        first = sizes(drawn(CELLS, 0))
        self.assertEqual(len(first), 8)
        rng = random.Random(5)
        orders = list(itertools.permutations(CELLS))
        for order in rng.sample(orders, 6):
            for at in (0, 2):
                with self.subTest(order=[n for n, _ in order], trunk_at=at):
                    self.assertEqual(sizes(drawn(order, at)), first)

    def test_a_trunk_drawn_first_is_no_last_piece(self):
        found = sizes(drawn(CELLS, 0))
        roles = {ends: role for ends, (role, _, _) in found.items()}
        along = [r for ends, r in roles.items() if ends[0][1] == ends[1][1]]
        across = [r for ends, r in roles.items() if ends[0][1] != ends[1][1]]
        self.assertEqual((set(across), along.count("trunk")), ({"last"}, 3))


class ByHand(unittest.TestCase):
    def test_a_role_that_is_chosen_stands_but_for_last_pieces_of_many(self):
        project = drawn(CELLS, 0)
        stretch = next(
            s.id
            for s in project.segments
            if {find(project.duct_points, s.a).x_m, find(project.duct_points, s.b).x_m} == {8.0, 11.0}
        )
        for role, wanted in (("branch", "branch"), ("last", "trunk"), ("", "trunk")):
            found = sizes(SetDuctChoice((stretch,), "role", role).apply(project))
            self.assertEqual(found[((8.0, 7.6, Z), (11.0, 7.6, Z))][0], wanted)
