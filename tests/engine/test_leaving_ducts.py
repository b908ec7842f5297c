"""Ducts for air that leaves: return and extract trees beside the supply, joined by nothing but the unit."""

import unittest

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.ducts.fittings import junctions
from garnetfin.core.ducts.friction import gradient
from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.engine.run import run
from garnetfin.project.edits.duct_runs import DrawRun, RemoveDucts
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import SetPart
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned
from tests.example import by_number, one_room, station

AHU, Z = "ahu-north", 6.4


def with_return(order=(("1.01", 5.0), ("1.02", 8.0), ("1.03", 11.0)), backwards: bool = False) -> Project:
    """A return trunk along the upper corridor with grilles in three cells."""
    project = DrawRun(AHU, "U", ((16.0, 7.6, Z), (4.0, 7.6, Z)), shape="rectangular", role="trunk", air="return").apply(
        station()
    )
    for number, x in order:
        ends = ((x, 7.6, Z), (x, 4.0, Z))
        run_ = DrawRun(
            AHU,
            "U",
            ends[::-1] if backwards else ends,
            role="last",
            air="return",
            terminal_room="" if backwards else by_number(project, number).id,
        )
        project = run_.apply(project)
        if backwards:
            from garnetfin.project.edits.duct_runs import AddTerminal

            point = next(p for p in project.duct_points if (p.x_m, p.y_m, p.z_m) == (x, 4.0, Z))
            project = AddTerminal(point.id, by_number(project, number).id, "egrid", "return").apply(project)
    check_links(project)
    return project


class Junctions(unittest.TestCase):
    COMMON = Section("round", 0.4, 0.4)

    def test_published_coefficients(self):
        small = Section("round", 0.2, 0.2)  # a quarter of the area
        name, k = junctions.branch_converging(self.COMMON, small, 1.0, 0.3)
        self.assertEqual(name, "tee-conv-90")
        self.assertAlmostEqual(k, 1.46, places=3)
        self.assertAlmostEqual(junctions.straight_converging(self.COMMON, self.COMMON, 1.0, 0.7)[1], 0.375, places=9)

    def test_a_fast_stream_draws_a_slow_one_along(self):
        self.assertLess(junctions.branch_converging(self.COMMON, self.COMMON, 1.0, 0.05)[1], 0)
        self.assertEqual(junctions.branch_converging(self.COMMON, self.COMMON, 1.0, 0.4, 45.0)[0], "wye-conv")
        self.assertLess(
            junctions.branch_converging(self.COMMON, self.COMMON, 1.0, 0.4, 45.0)[1],
            junctions.branch_converging(self.COMMON, self.COMMON, 1.0, 0.4)[1],
        )

    def test_two_meeting_head_on_are_alike_with_equal_flows(self):
        a = Section("round", 0.315, 0.315)
        self.assertEqual(
            junctions.bullhead_converging(self.COMMON, a, 1.0, 0.5),
            junctions.bullhead_converging(self.COMMON, a, 1.0, 0.5),
        )
        area = a.area_m2 / self.COMMON.area_m2
        self.assertAlmostEqual(
            junctions.bullhead_converging(self.COMMON, a, 1.0, 0.5)[1], 1 + 1 / area**2 - 0.75 / area**2
        )

    def test_a_straight_leg_that_grows_pays_for_it(self):
        small = Section("round", 0.315, 0.315)
        self.assertGreater(
            junctions.straight_converging(self.COMMON, small, 1.0, 0.7)[1],
            junctions.straight_converging(self.COMMON, self.COMMON, 1.0, 0.7)[1],
        )


class OneDuct(unittest.TestCase):
    def setUp(self):
        self.project = DrawRun("a", "G", ((2.0, 8.0, 2.4), (2.0, 3.0, 2.4)), terminal_room="r1", air="return").apply(
            one_room()
        )
        self.results = run(self.project, Memo())
        self.found = self.results.network("a", "return")

    def test_its_loss_is_friction_grille_damper_and_connection(self):
        s = next(iter(self.found.segments.values()))
        assert_allclose(s.flow_m3s, self.results.room_air["r1"].return_m3s)
        air = self.results.air["a"]
        friction = (
            gradient(
                s.flow_m3s, s.section.area_m2, s.section.hydraulic_m, 0.09e-3, air.density_kg_m3, air.viscosity_pa_s
            )
            * 5.0
        )
        pv = air.density_kg_m3 * s.velocity_m_s**2 / 2
        assert_allclose(
            self.found.runs.fan_pa, friction + (0.05 + 0.2) * pv + self.found.terminals[0].point.pressure_pa, rtol=1e-9
        )
        self.assertEqual(self.project.terminals[1].label, "1-R")
        self.assertEqual(self.project.terminals[1].kind, "egrid")

    def test_supply_ducts_do_not_feel_it(self):
        before = run(one_room(), Memo()).ducts["a"]
        assert_allclose(self.results.ducts["a"].runs.fan_pa, before.runs.fan_pa)
        self.assertEqual(list(self.results.ducts["a"].segments), list(before.segments))

    def test_ducts_of_other_air_are_crossed_not_joined(self):
        across = DrawRun("a", "G", ((0.0, 5.0, 2.6), (5.0, 5.0, 2.6)), air="return").apply(one_room())
        self.assertEqual(sum(s.air == "supply" for s in across.segments), 1)  # the supply duct is not split
        own = DrawRun("a", "G", ((0.0, 5.0, 2.6), (5.0, 5.0, 2.6))).apply(one_room())
        # nor is one of its own air that is only passed over
        self.assertEqual(len(own.segments), 2)
        tapped = DrawRun("a", "G", ((2.5, 5.0, 2.6), (5.0, 5.0, 2.6))).apply(one_room())
        self.assertEqual(len(tapped.segments), 3)  # a drawn point on its side splits it
        same_end = DrawRun("a", "G", ((2.5, 2.0, 2.6), (4.0, 2.0, 2.6)), air="extract").apply(one_room())
        self.assertNotIn("p2", (same_end.segments[-1].a, same_end.segments[-1].b))  # nor is its end taken
        self.assertNotEqual(same_end.air_systems[0].extract_point_id, "")

    def test_removing_it_keeps_the_unit_end(self):
        gone = RemoveDucts((self.project.segments[-1].id,)).apply(self.project)
        self.assertEqual(len(gone.terminals), 1)
        check_links(gone)
        self.assertEqual(run(gone, Memo()).network("a", "return").reason, "no ducts")

    def test_an_extract_network_of_its_own(self):
        wet = SetRoomValue(("r1",), "extract_m3s", Pinned(value=0.03)).apply(self.project)
        both = DrawRun("a", "G", ((4.0, 8.0, 2.2), (4.0, 3.0, 2.2)), terminal_room="r1", air="extract").apply(wet)
        results = run(both, Memo())
        assert_allclose(results.network("a", "extract").flow_m3s, 0.03)
        assert_allclose(results.network("a", "return").flow_m3s, results.room_air["r1"].return_m3s)
        self.assertEqual([d.air for d in results.networks("a")], ["extract", "return", "supply"])


class Station(unittest.TestCase):
    def test_flows_gather_towards_the_unit_and_runs_balance(self):
        results = run(with_return(), Memo())
        found: DuctResult = results.network(AHU, "return")
        wanted = sum(results.room_air[by_number(station(), n).id].return_m3s for n in ("1.01", "1.02", "1.03"))
        assert_allclose(found.flow_m3s - found.leak_m3s, wanted)
        assert_allclose(found.runs.loss_pa + found.runs.surplus_pa, found.runs.fan_pa)
        names = {f.name for s in found.segments.values() for f in s.fittings}
        self.assertTrue({"tee-conv-90", "tee-conv-straight"} <= names)
        for s in found.segments.values():
            assert_allclose(s.loss_pa, s.friction_pa + s.flexible_pa + sum(f.pressure_pa for f in s.fittings))

    def test_order_and_direction_of_drawing_change_nothing(self):
        first = run(with_return(), Memo()).network(AHU, "return")
        for project in (with_return((("1.03", 11.0), ("1.01", 5.0), ("1.02", 8.0))), with_return(backwards=True)):
            other = run(project, Memo()).network(AHU, "return")
            assert_allclose(
                (other.runs.fan_pa, other.mass_kg, other.flow_m3s), (first.runs.fan_pa, first.mass_kg, first.flow_m3s)
            )

    def test_the_return_fan_lifts_what_they_need(self):
        before, after = run(station(), Memo()), run(with_return(), Memo())
        figure = after.trains[AHU].figures["return_fan", "pressure_pa"]
        system = after.project.air_systems[0]
        relief = next(p for p in system.parts if p.kind == "relief")
        # louvre and recovery by rule
        assert_allclose(figure.figure, after.network(AHU, "return").runs.fan_pa + 25.0 + 120.0)
        self.assertIn("operating point", figure.source)
        self.assertAlmostEqual(before.trains[AHU].figures["return_fan", "pressure_pa"].figure, 250.0, places=3)
        self.assertNotEqual(before.trains[AHU].coils_peak_w, after.trains[AHU].coils_peak_w)
        pinned = run(SetPart(AHU, relief.id, "pressure", Pinned(value=60.0)).apply(with_return()), Memo())
        assert_allclose(pinned.trains[AHU].figures["return_fan", "pressure_pa"].figure - figure.figure, 35.0)

    def test_rooms_without_a_grille_are_named_once(self):
        results = run(with_return(), Memo())
        found = [f for f in results.findings if f.code == "no-grille"]
        self.assertEqual(len(found), 1)
        self.assertIn("rooms have no return grille", found[0].title)
        self.assertNotIn("no-grille", [f.code for f in run(station(), Memo()).findings])

    def test_a_grille_without_a_duct_is_not_joined(self):
        project = with_return()
        at = {p.id: p.x_m for p in project.duct_points}

        def cut(*xs: float):
            segment = next(s for s in project.segments if s.air == "return" and {at[s.a], at[s.b]} == set(xs))
            return run(RemoveDucts((segment.id,)).apply(project), Memo())

        beyond = cut(11.0, 8.0)  # one grille is left before the gap
        self.assertEqual([f.title for f in beyond.findings if f.code == "not-joined"], ["2 terminals are not joined"])
        at_unit = cut(16.0, 11.0)
        self.assertEqual(at_unit.network(AHU, "return").reason, "not joined")
        found = [f for f in at_unit.findings if f.code == "not-joined"]
        self.assertEqual(len(found), 1)
        self.assertIn("return", found[0].title)

    def test_gaps(self):
        bare = structs.replace(with_return(), air_systems=(structs.replace(station().air_systems[0]),))
        self.assertEqual(run(bare, Memo()).network(AHU, "return").reason, "no start")
        self.assertIsInstance(run(station(), Memo()).network(AHU, "extract"), Missing)
        self.assertTrue(np.isfinite(run(bare, Memo()).trains[AHU].coils_peak_w))
