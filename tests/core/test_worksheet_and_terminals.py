"""The state list's own engine, and terminals for rooms: check values, geometry, what cannot be."""

import unittest
from math import cos, isnan, sin

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import processes as do
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.worksheet import MOST_ROWS, Entry, evaluate
from garnetfin.core.tables import terminal_models
from garnetfin.core.terminal_choice import PLACING, at_flow, frame_of, inside, nearest_wall, places, select
from garnetfin.core.terminals import Limits

P, DENSITY = 101325.0, 1.2


def answers(*entries: Entry, outside=None) -> dict:
    return {a.id: a for a in evaluate(entries, outside or {}, P, DENSITY)}


class Worksheet(unittest.TestCase):
    A = Entry("a", "Outdoor", "state", (("t", 33.0), ("rh", 0.45)))
    B = Entry("b", "Room", "state", (("t", 25.0), ("rh", 0.5)))
    C = Entry("c", "Cold", "state", (("t", 14.0), ("rh", 0.9)))

    def test_three_streams_mix_as_published(self):
        mix = Entry("m", "Mix", "mix", sources=("a", "b", "c"), shares=(0.6, 1.7, 0.4))
        found = answers(mix, self.A, self.B, self.C)["m"]  # before its sources: the order is found
        self.assertAlmostEqual(found.t, 25.165, delta=0.01)
        self.assertAlmostEqual(found.w, 0.010758, delta=4e-6)

    def test_a_process_gives_heat_and_water(self):
        found = answers(self.B, self.C, Entry("p", "Cool", "process", sources=("b", "c"), flow_m3s=2.0))["p"]
        w1, w2 = (float(air.humidity_ratio(t, rh, P)) for t, rh in ((25.0, 0.5), (14.0, 0.9)))
        assert_allclose(found.heat_w, 2.4 * (air.enthalpy(14.0, w2) - air.enthalpy(25.0, w1)), rtol=1e-12)
        assert_allclose(found.water_kg_s, 2.4 * (w2 - w1), rtol=1e-12)
        assert_allclose((found.t, found.w), (14.0, w2))

    def test_flow_for_a_load(self):
        found = answers(self.B, self.C, Entry("f", "Flow", "flow", sources=("c", "b"), load_w=12e3))["f"]
        m = float(do.flow_for(12e3, 25.0, 14.0, air.humidity_ratio(14.0, 0.9, P)))
        assert_allclose(found.flow_m3s, m / DENSITY, rtol=1e-12)
        self.assertTrue(isnan(found.t))
        wrong = answers(self.B, self.C, Entry("f", "Flow", "flow", sources=("b", "c"), load_w=12e3))["f"]
        self.assertIn("warmer than the room", wrong.reason)

    def test_difference_and_states_known_elsewhere(self):
        found = answers(
            self.B,
            Entry("o", "Out", "outside", key="summer"),
            Entry("d", "Gap", "difference", sources=("b", "o")),
            outside={"summer": (32.0, 0.013)},
        )["d"]
        assert_allclose(found.change[:2], (7.0, 0.013 - float(air.humidity_ratio(25.0, 0.5, P))))
        self.assertEqual(answers(Entry("o", "Out", "outside", key="x"))["o"].reason, "no source")

    def test_a_row_that_cannot_be_says_so_and_leaves_the_others_alone(self):
        found = answers(
            self.A,
            Entry("x", "Wrong", "state", (("t", 20.0), ("wb", 25.0))),
            Entry("y", "Right", "state", (("t", 30.0), ("wb", 25.0))),
            Entry("m", "Mix", "mix", sources=("x", "a"), shares=(1.0, 1.0)),
            Entry("n", "Next", "mix", sources=("a",), shares=(1.0,)),
            Entry("z", "Mixed nothing", "mix", sources=("a",), shares=(0.0,)),
            Entry("q", "Still", "process", sources=("a", "y"), flow_m3s=0.0),
        )
        self.assertIn("wet bulb cannot be above", found["x"].reason)
        self.assertTrue(found["y"].known)
        self.assertEqual(found["m"].reason, "waits for Wrong")
        assert_allclose(found["n"].t, 33.0)
        self.assertIn("shares of 0", found["z"].reason)
        self.assertIn("flow above 0", found["q"].reason)

    def test_rows_in_a_circle_are_named_and_a_gone_source_is_said(self):
        found = answers(
            Entry("a", "One", "mix", sources=("b",), shares=(1.0,)),
            Entry("b", "Two", "mix", sources=("c",), shares=(1.0,)),
            Entry("c", "Three", "mix", sources=("a",), shares=(1.0,)),
            Entry("d", "Four", "mix", sources=("c",), shares=(1.0,)),
            Entry("e", "Five", "mix", sources=("gone",), shares=(1.0,)),
        )
        self.assertEqual(found["a"].reason, "goes in a circle: One → Two → Three → One")
        self.assertEqual(found["d"].reason, "waits for Three")
        self.assertEqual(found["e"].reason, "no source")

    def test_a_difference_is_no_state(self):
        found = answers(
            self.A,
            self.B,
            Entry("d", "Gap", "difference", sources=("a", "b")),
            Entry("m", "Mix", "mix", sources=("d",), shares=(1.0,)),
        )
        self.assertEqual(found["m"].reason, "Gap is no state")

    def test_a_long_chain_needs_no_deep_stack_and_a_longer_one_is_refused(self):
        rows = [
            self.A,
            *(
                Entry(f"r{i}", f"r{i}", "mix", sources=(f"r{i + 1}" if i < 397 else "a",), shares=(1.0,))
                for i in range(398)
            ),
        ]
        assert_allclose(answers(*rows)["r0"].t, 33.0)
        self.assertRaisesRegex(InputError, str(MOST_ROWS), evaluate, rows + rows, {}, P, DENSITY)


class Terminals(unittest.TestCase):
    SQUARE = ((0.0, 0.0), (6.0, 0.0), (6.0, 6.0), (0.0, 6.0))
    ELL = ((0.0, 0.0), (9.0, 0.0), (9.0, 5.0), (4.0, 5.0), (4.0, 8.0), (0.0, 8.0))

    def of(self, *kinds: str):
        return [m for m in terminal_models().values() if m.kind in kinds]

    def test_check_room(self):
        found = select(self.of("ceilr"), self.SQUARE, 0.3, Limits(nc=30))
        first = found.options[0]
        self.assertEqual((first.model, first.nx, first.ny), ("GF-ceilr-250", 2, 2))
        self.assertAlmostEqual(first.ratio, 1.22, delta=0.005)
        self.assertAlmostEqual(first.nc, 16.1, delta=0.06)
        self.assertEqual(found.feasible, 9)
        self.assertEqual(dict(found.stopped_by), {"GF-ceilr-315": "outside its table"})

    def test_figures_between_catalogue_points(self):
        at = at_flow(terminal_models()["GF-ceilr-200"], np.array([0.090, 0.001]))
        assert_allclose((at["pressure_pa"][0], at["throw_m"][0], at["nc"][0]), (9.35, 2.754, 23.1), atol=0.06)
        self.assertTrue(np.isnan(at["nc"][1]))  # nothing is read beyond the table

    def test_options_keep_every_limit_and_stand_in_order(self):
        limits = Limits(2.5, 12.0, 32.0)
        found = select(terminal_models().values(), self.ELL, 0.45, limits)
        self.assertGreater(len(found.options), 5)
        for o in found.options:
            self.assertLessEqual(o.neck_m_s, limits.neck_m_s + 1e-9)
            self.assertLessEqual(o.pressure_pa, limits.pressure_pa + 1e-9)
            self.assertLessEqual(o.nc, limits.nc + 1e-9)
            assert_allclose(o.flow_m3s * o.count, 0.45)
            self.assertEqual(len(places(self.ELL, terminal_models()[o.model].kind, o.nx, o.ny)[0]), o.count)
        self.assertEqual([o.count for o in found.options], sorted(o.count for o in found.options))

    def test_limits_too_strict_leave_nothing_but_reasons(self):
        found = select(self.of("swirl"), self.SQUARE, 0.3, Limits(nc=1.0))
        self.assertEqual(found.options, ())
        self.assertIn("noise", dict(found.counts))
        self.assertRaisesRegex(InputError, "above 0", Limits, 3.5, 20.0, 0.0)
        self.assertRaisesRegex(InputError, "needs no terminals", select, self.of("swirl"), self.SQUARE, 0.0, Limits())

    def test_places_lie_inside_evenly_and_off_the_walls(self):
        for kind, (way, _) in PLACING.items():
            at, _ = places(self.ELL, kind, 3, 3)
            self.assertTrue(inside(np.array(self.ELL), at).all(), kind)
            if way != "wall":
                self.assertGreaterEqual(nearest_wall(np.array(self.ELL), at)[0].min(), 0.3 - 1e-9, kind)
        at, moved = places(((0, 0), (1.5, 0), (1.5, 1.0), (0, 1.0)), "swirl", 3, 1)
        # cells half a metre wide put some too near a wall
        self.assertTrue(moved)
        self.assertGreaterEqual(
            nearest_wall(np.array([(0, 0), (1.5, 0), (1.5, 1.0), (0, 1.0)], float), at)[0].min(), 0.3 - 1e-9
        )

    def test_a_turned_room_turns_its_places(self):
        c, s = cos(0.5), sin(0.5)

        def turned(points):
            return np.array([(10 + c * x - s * y, 3 + s * x + c * y) for x, y in points])

        room = tuple(map(tuple, turned(((0, 0), (9, 0), (9, 5), (0, 5)))))
        frame = frame_of(room)
        assert_allclose((frame.length_m, frame.width_m), (9.0, 5.0), rtol=1e-9)
        assert_allclose(places(room, "swirl", 2, 1)[0], turned(((2.25, 2.5), (6.75, 2.5))), atol=1e-9)
        assert_allclose(frame.to_plan(frame.to_room(np.array(room))), np.array(room), atol=1e-9)
