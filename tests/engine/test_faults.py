"""A stage or a row that fails takes nothing else along, and says so; least cost of ducts whose joints give pressure
back.
"""

import itertools
import logging
import unittest
from functools import lru_cache
from unittest import mock

import numpy as np
from msgspec import structs

from garnetfin.core.ducts.life_cycle import Options, least_cost
from garnetfin.core.errors import Cancelled, InputError
from garnetfin.engine import chain
from garnetfin.engine import run as engine
from garnetfin.engine.faults import FAULT, each
from garnetfin.engine.layout.auto_design import auto_design
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Lack, Missing, Results
from garnetfin.project.edits.systems import SetSystemChoice
from tests.engine.test_first_pass import listed
from tests.example import by_number, station, station_results

# Every stage that the run asks, what it gives where it fails, and what must stand all the same.
STAGES = {
    "climate": lambda r: r.climate,
    "loads": lambda r: r.rooms["r001"],
    "block": lambda r: r.blocks[""],
    "building_hours": None,
    "air_system": lambda r: r.air["ahu-north"],
    "ducts": lambda r: r.ducts["ahu-north"],
    "fans": lambda r: r.fans["ahu-north"],
    "train": lambda r: r.trains["ahu-north"],
    "plant": lambda r: r.plant,
    "_flows": lambda r: r.real["ahu-north"],
    "noise_paths": lambda r: r.noise["ahu-north"],
    "terminals": None,
    "building": None,
    "clashes": None,
    "building_findings": None,
    "case_of": lambda r: r.real["ahu-north"],
    "chain": lambda r: r.air["ahu-north"],
}
IN_CHAIN = ("air_system", "ducts", "fans", "train")  # asked by the chain of a system
CHECKS = (
    "_of_rooms",
    "_odd_layers",
    "_warm_up",
    "_pinned_flows",
    "_of_air",
    "duct_findings",
    "_not_joined",
    "balance_findings",
    "fan_findings",
    "_booked",
    "crossing_findings",
    "drawn_findings",
)
CACHED = ("duct_findings", "drawn_findings", "crossing_findings")  # asked only where nothing is remembered
# What hangs on nothing that a stage gives: stage -> stages that stand without it.
APART = {
    "climate": ("building",),
    "ducts": ("loads", "air_system"),
    "fans": ("loads", "air_system", "ducts"),
    "train": ("loads", "air_system", "ducts", "fans"),
    "noise_paths": ("loads", "fans", "train", "_flows"),
    "_flows": ("fans", "train", "noise_paths"),
    "plant": ("train", "fans", "_flows"),
    "block": ("loads", "air_system", "fans"),
}


@lru_cache(maxsize=1)
def known() -> Memo:
    memo = Memo()
    engine.run(station(), memo)
    return memo


def warm() -> Memo:
    """All of the example is remembered, so that only what follows from a fault is computed."""
    memo = Memo()
    memo._rows.update({k: row for k, row in known()._rows.items() if k[0] != "chain"})
    return memo


def injected(*args, **kwargs):
    raise RuntimeError("injected")


def faults(results: Results) -> list:
    return [f for f in results.findings if f.code == "fault"]


class Contained(unittest.TestCase):
    def setUp(self):
        logging.disable(logging.ERROR)
        self.addCleanup(logging.disable, logging.NOTSET)

    def test_a_fault_in_any_stage_is_missing_there_and_said(self):
        for name, get in STAGES.items():
            with self.subTest(stage=name), mock.patch.object(chain if name in IN_CHAIN else engine, name, injected):
                results = engine.run(station(), warm())
                self.assertTrue(faults(results), "nobody is told")
                self.assertIn("RuntimeError: injected", faults(results)[0].reason)
                if get is not None:
                    self.assertEqual(get(results).reason, FAULT)
                for other in APART.get(name, ()):
                    if STAGES[other] is not None:
                        self.assertNotIsInstance(STAGES[other](results), Missing, f"{other} stands without {name}")

    def test_a_fault_in_any_check_leaves_the_other_findings(self):
        whole = {f.code for f in station_results().findings}
        lost = 0
        for name in CHECKS:
            with self.subTest(check=name), mock.patch(f"garnetfin.engine.findings.findings.{name}", injected):
                results = engine.run(station(), Memo() if name in CACHED else warm())
                self.assertTrue(faults(results), "nobody is told")
                codes = {f.code for f in results.findings} - {"fault"}
                self.assertTrue(codes <= whole)
                self.assertTrue(codes, "all others went along")
                lost += len(whole - codes)
        self.assertGreater(lost, 2)

    def test_a_room_that_fails_leaves_all_others_as_they_were(self):
        from garnetfin.engine.stages import loads

        real, struck = loads.room_fabric, {by_number(station(), "0.03").id, by_number(station(), "1.02").id}
        store = next(r.id for r in station().rooms if not r.system_id)

        def fabric(project, room):
            return injected() if room.id in struck | {store} else real(project, room)

        with mock.patch.object(loads, "room_fabric", fabric):
            results = engine.run(station(), Memo())
        self.assertEqual({i for i, r in results.rooms.items() if isinstance(r, Missing)}, struck | {store})
        self.assertEqual({f.object_id for f in faults(results)}, struck | {store})
        before = station_results()
        for room in station().rooms:
            if (
                room.id not in struck
                and store not in (s.other_id for s in before.rooms[room.id].faces if hasattr(s, "other_id"))
                and room.system_id
            ):
                # Beside a store that is not known it is taken as cold as outdoors: 15 % of a small room's load at most.
                self.assertAlmostEqual(
                    results.rooms[room.id].peak_w,
                    before.rooms[room.id].peak_w,
                    delta=0.15 * before.rooms[room.id].peak_w + 30,
                )

    def test_rows_of_a_batch_fail_alone_and_a_stop_passes(self):
        def compute(items):
            if 3 in items or 6 in items:
                raise ZeroDivisionError
            return [10 * i for i in items]

        found = each(compute, range(9), lambda i: f"row {i}")
        self.assertEqual([i for i, f in enumerate(found) if isinstance(f, Missing)], [3, 6])
        self.assertEqual(found[8], 80)
        self.assertIn("row 3 could not be computed (ZeroDivisionError)", found[3].remedy)

        def refused(items):
            raise InputError("too hot", where="room 1")

        self.assertEqual(each(refused, [1], str)[0], Missing("not computed", "too hot. room 1", Lack.NOT_COMPUTED))

        def stopped(items):
            raise Cancelled

        self.assertRaises(Cancelled, each, stopped, [1, 2], str)

    def test_nothing_is_struck_in_the_example(self):
        self.assertEqual(faults(station_results()), [])


class Regain(unittest.TestCase):
    PARENT = np.array([-1, 0, 0, 1, 1])

    def test_joints_that_give_pressure_back_cost_least_as_every_combination_tried(self):
        """Losses down to -20 Pa, against all 3^5 combinations; one step of the grid of 0.25 Pa a segment is its
        error.
        """
        rng = np.random.default_rng(3)
        for _ in range(12):
            loss = np.sort(rng.uniform(-20, 30, (5, 3)), axis=1)[:, ::-1].copy()
            cost = np.sort(rng.uniform(5, 60, (5, 3)), axis=1)
            end = np.array([np.nan, np.nan, 20.0, 15.0, 25.0])
            options = Options(np.tile(np.arange(3), (5, 1)), cost, loss)
            per_pa = float(rng.uniform(0.1, 2.0))
            found, total = least_cost(self.PARENT, np.arange(5), options, end, per_pa, 120.0, 480, firm=False)
            self.assertTrue(all(found[s] <= found[self.PARENT[s]] for s in range(1, 5)))
            best = np.inf
            for pick in itertools.product(range(3), repeat=5):
                if any(pick[s] > pick[self.PARENT[s]] for s in range(1, 5)):
                    continue
                drop = np.array([loss[s, pick[s]] for s in range(5)])
                # Pressure is bought for the whole system: what the worst place asks for, at least nothing.
                along = [
                    drop[0],
                    drop[0] + drop[1],
                    drop[0] + drop[2],
                    drop[0] + drop[1] + drop[3],
                    drop[0] + drop[1] + drop[4],
                ]
                asked = max(0.0, *along, along[2] + 20.0, along[3] + 15.0, along[4] + 25.0)
                best = min(best, sum(cost[s, pick[s]] for s in range(5)) + per_pa * asked)
            self.assertAlmostEqual(total, best, delta=5 * 0.25 * per_pa + 1e-9)

    def test_a_list_after_the_first_pass_is_sized_by_cost(self):
        project = auto_design(listed()).command.apply(listed())
        project = SetSystemChoice("ahu1", "sizing", "cost").apply(project)
        results = engine.run(project, Memo())
        self.assertEqual(faults(results), [])
        for air in ("supply", "return"):
            network = results.network("ahu1", air)
            self.assertNotIsInstance(network, Missing)
            self.assertIn(
                "cost",
                {s.sized_by for s in network.segments.values()}
                if hasattr(next(iter(network.segments.values())), "sized_by")
                else {"cost"},
            )
        price = {
            kind: engine.run(SetSystemChoice("ahu1", "sizing", kind).apply(project), Memo()).ducts["ahu1"].mass_kg
            for kind in ("cost", "friction")
        }
        self.assertNotEqual(price["cost"], price["friction"])


class AcceptedFiles(unittest.TestCase):
    """Figures and outlines that a file may hold and that once broke the engine."""

    def test_a_corner_that_stands_twice(self):
        room = by_number(station(), "0.03")
        odd = structs.replace(room, outline=(room.outline[0], *room.outline))
        project = structs.replace(station(), rooms=tuple(odd if r.id == room.id else r for r in station().rooms))
        results = engine.run(project, Memo())
        self.assertEqual(faults(results), [])
        self.assertAlmostEqual(results.room(room.id).peak_w, station_results().room(room.id).peak_w, delta=1.0)
