"""Seeded edits of ducts one after the other: links hold, pressures and flows add up, what is remembered equals what is
computed anew.
"""

import random
import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, Results
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.ceilings import AddObstacle, SetCeilingZone
from garnetfin.project.edits.duct_runs import DrawRun, MovePoint, RemoveDucts, SetShape, SetSize
from garnetfin.project.edits.duct_shape import (
    JoinEnds,
    MergeDuct,
    MoveDucts,
    SplitDuct,
    StepAside,
    open_ends,
    ways_between,
)
from garnetfin.project.edits.duct_values import MoveLabel, SetDuctChoice, SetDuctValue, SetFitting
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import station

AHU = "ahu-north"
EDITS = 32


def edit(project: Project, r: random.Random):
    """A command such as a hand would give; some cannot be done."""
    segment = r.choice(project.segments)
    ids = (segment.id,)
    x, y = round(r.uniform(0, 27), 2), round(r.uniform(0.5, 14), 2)
    rooms = [q for q in project.rooms if q.level_id == "G"]
    match r.randrange(16):
        case 0:
            return DrawRun(
                AHU,
                "G",
                ((x, y, 3.03), (x, round(y + r.uniform(-3, 3), 2), 3.03)),
                shape=r.choice(("round", "rectangular", "oval")),
                terminal_room=r.choice(("", r.choice(rooms).id)),
                air=r.choice(("supply", "return", "extract", "outdoor")),
            )
        case 1:
            p = next(q for q in project.duct_points if q.id == segment.a)
            return DrawRun(
                AHU,
                p.level_id,
                ((p.x_m, p.y_m, p.z_m), (round(p.x_m + r.uniform(-4, 4), 2), p.y_m, p.z_m)),
                air=segment.air,
            )
        case 2:
            return MoveDucts(ids, round(r.uniform(-1, 1), 2), round(r.uniform(-1, 1), 2), r.choice((0.0, 0.0, -0.1)))
        case 3:
            return SplitDuct(segment.id, round(r.uniform(0.05, 0.95), 3))
        case 4:
            return MergeDuct(segment.id)
        case 5:
            return RemoveDucts(ids)
        case 6:
            return SetShape(ids, r.choice(("round", "rectangular", "oval")))
        case 7:
            return SetDuctValue(
                ids, r.choice(("width_m", "height_m")), r.choice((Rule(), Pinned(value=r.choice((0.2, 0.25, 0.3)))))
            )
        case 8:
            return SetDuctValue(
                ids, r.choice(("velocity_m_s", "friction_pa_m")), Pinned(value=round(r.uniform(0.3, 6), 2))
            )
        case 9:
            return SetDuctChoice(
                ids,
                *r.choice(
                    (
                        ("material", "plastic"),
                        ("material", "flexible"),
                        ("material", ""),
                        ("tightness", "A"),
                        ("side", "top"),
                    )
                ),
            )
        case 10:
            return SetDuctValue(ids, r.choice(("lining_m", "insulation_m")), Pinned(value=0.025))
        case 11:
            return SetFitting(ids, r.choice(("elbow", "takeoff", "transition")), equivalent_m=Pinned(value=2.0))
        case 12:
            ends = open_ends(project)
            if len(ends) < 2:
                return MoveLabel(segment.id, (0.5, 0.5))
            a, b = r.sample(ends, 2)
            return JoinEnds(a, b, ways_between(project, a, b, 0.2)[1])
        case 13:
            return StepAside(segment.id, 0.5, 0.3, r.choice((-0.2, 0.2)))
        case 14:
            p = r.choice(project.duct_points)
            return MovePoint(p.id, round(p.x_m + r.uniform(-0.5, 0.5), 2), p.y_m, p.z_m)
        case _:
            return r.choice(
                (
                    AddObstacle("G", ((x, y), (x + 1, y), (x + 1, y + 0.3), (x, y + 0.3))),
                    SetSize(ids, PinnedSize(shape="round", width_m=0.2, height_m=0.2)),
                    SetCeilingZone(project.ceiling_zones[0].id, "ceiling_m", round(r.uniform(2.4, 3.0), 2)),
                )
            )


class Random(unittest.TestCase):
    def holds(self, results: Results) -> int:
        count = 0
        for network in results.networks(AHU):
            count += 1
            self.adds_up(network)
        for finding in results.findings:
            for mend in finding.mends:
                self.assertTrue(mend.label)
        return count

    def adds_up(self, network: DuctResult) -> None:
        tree, ids = network.tree, network.segment_ids
        leaving = {t.segment_id: 0.0 for t in network.terminals}
        for t in network.terminals:
            leaving[t.segment_id] += t.flow_m3s
        children: dict[int, float] = {}
        for s in tree.order:
            if tree.parent[s] >= 0:
                children[int(tree.parent[s])] = (
                    children.get(int(tree.parent[s]), 0.0) + network.segments[ids[s]].flow_m3s
                )
        for s in tree.order:
            r = network.segments[ids[s]]
            leak = r.leak_m3s if network.air == "supply" else -r.leak_m3s
            assert_allclose(r.flow_m3s - leak, children.get(int(s), 0.0) + leaving.get(ids[s], 0.0), atol=1e-9)
            assert_allclose(
                r.loss_pa, r.friction_pa + r.flexible_pa + sum(f.pressure_pa for f in r.fittings), atol=1e-6
            )
            self.assertTrue(np.isfinite((r.loss_pa, r.velocity_m_s, r.mass_kg, r.static_pa, r.noise_db)).all())
        assert_allclose(network.runs.loss_pa + network.runs.surplus_pa, network.runs.fan_pa)

    def test_hands_that_edit_ducts(self):
        for seed in range(4):
            r, project, memo, done = random.Random(seed), station(), Memo(), 0
            with self.subTest(seed=seed):
                for k in range(EDITS):
                    command = edit(project, r)
                    try:
                        project = command.apply(project)
                    except GarnetfinError as refused:
                        self.assertTrue(str(refused))
                        continue
                    done += 1
                    check_links(project)
                    if k % 6 == 5:
                        self.holds(run(project, memo))
                self.assertGreater(done, EDITS // 2)
                live, anew = run(project, memo), run(project, Memo())
                self.assertEqual(len(live.networks(AHU)), len(anew.networks(AHU)))
                for a, b in zip(live.networks(AHU), anew.networks(AHU)):
                    self.assertEqual(
                        {i: (s.section, s.loss_pa) for i, s in a.segments.items()},
                        {i: (s.section, s.loss_pa) for i, s in b.segments.items()},
                    )
                self.assertEqual(
                    [(f.code, f.object_id) for f in live.findings], [(f.code, f.object_id) for f in anew.findings]
                )
