"""The engine: the chain in one run, what an edit recomputes, gaps that stop nothing, findings and their mends."""

import unittest
from unittest import mock

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import Cancelled
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, RoomResult
from garnetfin.engine.run import Token, run
from garnetfin.engine.stages.blocks import block_of, together
from garnetfin.engine.stages.terminals import terminal_flows
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import DrawRun, RemoveDucts, SetSize, SetTerminal
from garnetfin.project.edits.rooms import SetGlazing, SetOpening, SetRoomText, SetRoomValue, SetServed
from garnetfin.project.edits.site import SetMonth
from garnetfin.project.edits.systems import ChooseFan, SetFanValue, SetSystemValue
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule
from tests.example import by_number, one_room, station, station_results

SYSTEM = "ahu-north"


class Chain(unittest.TestCase):
    def test_the_whole_chain_is_computed(self):
        results = station_results()
        self.assertTrue(all(isinstance(r, RoomResult) for r in results.rooms.values()))
        self.assertIsInstance(results.air[SYSTEM], AirResult)
        self.assertIsInstance(results.ducts[SYSTEM], DuctResult)
        self.assertIsInstance(results.fans[SYSTEM], FanResult)

    def test_each_link_feeds_the_next(self):
        results = station_results()
        ducts, fan = results.ducts[SYSTEM], results.fans[SYSTEM]
        assert_allclose(sum(t.flow_m3s for t in ducts.terminals), results.air[SYSTEM].flow_m3s, rtol=1e-12)
        assert_allclose(ducts.flow_m3s - ducts.leak_m3s, results.air[SYSTEM].flow_m3s, rtol=1e-12)
        assert_allclose(
            fan.wanted_pa, ducts.runs.fan_pa + fan.allowance_pa + sum(pa for _, pa in fan.part_pa), rtol=1e-12
        )
        assert_allclose((fan.point.flow_m3s, fan.point.pressure_pa), (fan.wanted_m3s, fan.wanted_pa), rtol=1e-6)

    def test_figures_are_plausible_for_such_a_station(self):
        """Bands an engineer would expect of a well insulated research station of 780 m2 served floor."""
        results = station_results()
        area = sum(results.room(r.id).figures.area_m2.figure for r in station().rooms if r.system_id)
        block = results.blocks[SYSTEM]
        self.assertTrue(25 < block.peak_w / area < 60)
        self.assertTrue(20 < block.heating_w / area < 60)
        self.assertTrue(2 < results.air[SYSTEM].flow_m3s * 1000 / area < 6)
        self.assertTrue(0.6 < block.peak_w / block.sum_of_peaks_w <= 1)
        self.assertTrue(500 < results.fans[SYSTEM].point.specific_w_m3s < 1500)

    def test_block_is_the_sum_of_its_rooms_hour_by_hour(self):
        results = station_results()
        rooms = [results.room(i) for i in results.blocks[SYSTEM].room_ids]
        assert_allclose(results.blocks[SYSTEM].sensible_w, sum(r.sensible_w for r in rooms), rtol=1e-12)

    def test_causes_of_every_room_add_up(self):
        for room in station_results().rooms.values():
            assert_allclose(room.by_cause_w.sum(axis=0), room.sensible_w, atol=1e-6)
            steady = room.heating_by_cause_w.sum()
            assert_allclose(max(steady, room.heating_balanced_w, room.warm_up_w) * room.kept, room.heating_w, atol=1e-6)

    def test_every_path_loses_what_the_fan_gives(self):
        ducts = station_results().ducts[SYSTEM]
        for t in ducts.terminals:
            path = [ducts.segments[s] for s in ducts.path(t.segment_id)]
            assert_allclose(
                sum(s.loss_pa for s in path) + t.point.pressure_pa + t.surplus_pa, ducts.runs.fan_pa, rtol=1e-9
            )
            assert_allclose(path[-1].left_pa - t.point.pressure_pa, t.surplus_pa, atol=1e-9)

    def test_faces_have_the_areas_of_the_drawing(self):
        """Reading room: 8.4 x 3.6 m south wall with two windows, 5.2 x 2.8 m west glass wall, 10.8 m2 roof."""
        result = station_results().room(by_number(station(), "0.01").id)
        faces = {(f.kind, round(f.azimuth_deg)): f.area_m2 for f in result.faces if f.to == "outdoors"}
        assert_allclose(faces["wall", 180], 8.4 * 3.6 - 2 * 1.8 * 1.5)
        assert_allclose(faces["glass wall", 270], 5.2 * 2.8)
        assert_allclose(faces["roof", 180], 10.8)


class Independence(unittest.TestCase):
    def test_drawing_direction_and_order_change_nothing(self):
        turned = structs.replace(
            station(), segments=tuple(structs.replace(s, a=s.b, b=s.a) for s in station().segments[::-1])
        )
        before, after = station_results().ducts[SYSTEM], run(turned, Memo()).ducts[SYSTEM]
        assert_allclose(after.runs.fan_pa, before.runs.fan_pa, rtol=1e-9)
        self.assertEqual(after.index.label, before.index.label)

    def test_building_turned_by_the_compass_moves_the_sun(self):
        """North and south swapped at the same place: a south office must lose sun."""
        turned = structs.replace(
            one_room(), walls=(structs.replace(one_room().walls[0], facing_deg=0.0), one_room().walls[1])
        )
        south, north = (run(p, Memo()).room("r1").by_cause_w[0].max() for p in (one_room(), turned))
        self.assertGreater(south, 1.5 * north)


class Memory(unittest.TestCase):
    def setUp(self):
        self.memo = Memo()
        run(station(), self.memo)

    def recomputed(self, project: Project) -> int:
        return run(project, self.memo).recomputed

    def test_nothing_changed_computes_nothing(self):
        self.assertEqual(self.recomputed(station()), 0)

    def test_an_edit_of_one_room_computes_that_room_and_what_leans_on_it(self):
        room = by_number(station(), "1.02")
        edited = SetRoomValue((room.id,), "people", Pinned(value=3.0)).apply(station())
        before = run(station(), self.memo)
        after = run(edited, self.memo)
        changed = [i for i in before.rooms if before.rooms[i] is not after.rooms[i]]
        self.assertIn(room.id, changed)
        self.assertLess(len(changed), len(before.rooms) - 8)
        for i in set(changed) - {room.id}:
            # through two walls: thousandths of what they ask for
            assert_allclose(before.rooms[i].peak_w, after.rooms[i].peak_w, rtol=2e-3)

    def test_what_an_edit_does_not_move_is_the_very_part_of_before(self):
        """Whoever shows it need not look again: the air of other rooms, how ducts are drawn, findings of other
        rooms.
        """
        room = by_number(station(), "1.02")
        before, after = (
            run(station(), self.memo),
            run(SetRoomValue((room.id,), "people", Pinned(value=9.0)).apply(station()), self.memo),
        )
        moved = {i for i, row in after.room_air.items() if row is not before.room_air[i]}
        self.assertIn(room.id, moved)
        self.assertLess(len(moved), len(before.room_air) - 8)
        self.assertIsNot(before.ducts[SYSTEM], after.ducts[SYSTEM])
        self.assertIs(before.ducts[SYSTEM].tree, after.ducts[SYSTEM].tree)

    def test_a_name_is_felt_though_no_figure_moves(self):
        """Findings speak of rooms by name; places of rooms are known by it."""
        warm = next(f for f in run(station(), self.memo).findings if f.kind == "room")
        edited = SetRoomText(warm.object_id, "number", "9.99").apply(station())
        said = [
            f.title + f.reason
            for f in run(edited, self.memo).findings
            if (f.code, f.object_id) == (warm.code, warm.object_id)
        ]
        self.assertTrue(said and all("9.99" in s for s in said), said)

    def test_rooms_added_up_by_shares_are_the_rooms_added_up(self):
        with mock.patch("garnetfin.engine.stages.blocks.SHARE", 4):
            results = run(station(), Memo())
        found, alone = results.blocks[""], together([results.room(i) for i in results.blocks[""].room_ids])
        for name in (
            "by_cause_w",
            "sensible_w",
            "latent_w",
            "heating_by_cause_w",
            "heating_w",
            "sum_of_peaks_w",
            "area_m2",
            "low_w",
            "high_w",
        ):
            assert_allclose(getattr(found, name), getattr(alone, name), rtol=1e-12, atol=1e-9, err_msg=name)
        self.assertIs(block_of(results, found.room_ids), found)
        self.assertIsNone(block_of(results, ()))

    def test_undo_computes_nothing(self):
        edited = SetRoomValue((station().rooms[0].id,), "people", Pinned(value=3.0)).apply(station())
        self.recomputed(edited)
        self.assertEqual(self.recomputed(station()), 0)

    def test_weather_recomputes_rooms_but_not_the_sun(self):
        edited = SetMonth(7, "dry_bulb_c", Pinned(value=34.0)).apply(station())
        before, after = run(station(), self.memo), run(edited, self.memo)
        self.assertIs(before.climate.sun, after.climate.sun)
        self.assertGreater(after.blocks[""].peak_w, before.blocks[""].peak_w)

    def test_a_remembered_run_equals_a_fresh_one(self):
        edited = SetOpening("G-01", "W01", "width_m", 4.0).apply(station())
        warm, cold = run(edited, self.memo), run(edited, Memo())
        assert_allclose(warm.blocks[""].sensible_w, cold.blocks[""].sensible_w, rtol=1e-12)
        assert_allclose(warm.fans[SYSTEM].point.electric_w, cold.fans[SYSTEM].point.electric_w, rtol=1e-9)

    def test_a_run_that_is_no_longer_wanted_stops(self):
        self.assertRaises(Cancelled, run, station(), Memo(), Token(lambda: True))


class Consequences(unittest.TestCase):
    """Every edit is felt down the chain, and in the right direction."""

    def test_more_glass_costs_load_flow_and_power(self):
        before, after = run(one_room(), Memo()), run(SetOpening("w1", "W1", "width_m", 4.4).apply(one_room()), Memo())
        self.assertGreater(after.room("r1").peak_w, before.room("r1").peak_w)
        self.assertGreater(after.air["a"].flow_m3s, before.air["a"].flow_m3s)
        self.assertGreater(after.ducts["a"].runs.fan_pa / after.ducts["a"].flow_m3s, 0)

    def test_sizing_rule_margin_and_motor_are_felt_at_once_with_a_warm_memory(self):
        memo = Memo()
        before = run(station(), memo)
        gentle = run(SetSystemValue(SYSTEM, "friction_pa_m", Pinned(value=0.5)).apply(station()), memo)
        self.assertGreater(gentle.ducts[SYSTEM].mass_kg, before.ducts[SYSTEM].mass_kg)
        self.assertLess(gentle.ducts[SYSTEM].runs.fan_pa, before.ducts[SYSTEM].runs.fan_pa)
        margin = run(SetSystemValue(SYSTEM, "allowance", Pinned(value=0.2)).apply(station()), memo)
        assert_allclose(margin.fans[SYSTEM].allowance_pa, 0.2 * margin.ducts[SYSTEM].runs.fan_pa)
        motor = run(SetFanValue(SYSTEM, "motor_efficiency", Pinned(value=0.43)).apply(station()), memo)
        assert_allclose(motor.fans[SYSTEM].point.electric_w, 2 * before.fans[SYSTEM].point.electric_w, rtol=1e-6)

    def test_a_store_that_is_served_from_now_on_warms_its_neighbours_neighbour(self):
        """0.05 lies beside the workshop, which lies beside the unheated boat store."""
        memo, store = Memo(), by_number(station(), "0.07").id
        before = run(station(), memo)
        after = run(SetServed((store,), SYSTEM).apply(station()), memo)
        self.assertLess(
            after.room(by_number(station(), "0.06").id).heating_w,
            before.room(by_number(station(), "0.06").id).heating_w,
        )

    def test_darker_glass_takes_load_off(self):
        before, after = run(one_room(), Memo()), run(SetGlazing((("w1", "W1"),), "h").apply(one_room()), Memo())
        self.assertLess(
            after.room("r1").cause_w("solar through glass"), 0.6 * before.room("r1").cause_w("solar through glass")
        )

    def test_a_smaller_pinned_duct_needs_more_pressure(self):
        small = SetSize(("s1",), PinnedSize(shape="round", width_m=0.1, height_m=0.1)).apply(one_room())
        self.assertGreater(run(small, Memo()).ducts["a"].runs.fan_pa, run(one_room(), Memo()).ducts["a"].runs.fan_pa)

    def test_a_pinned_value_survives_a_change_of_use(self):
        pinned = SetRoomValue(("r1",), "people", Pinned(value=5.0)).apply(one_room())
        for use in ("meeting", "laboratory"):
            changed = structs.replace(pinned, rooms=(structs.replace(pinned.rooms[0], use_id=use),))
            self.assertEqual(run(changed, Memo()).room("r1").figures.people.figure, 5.0)

    def test_pinned_shares_come_first_and_never_exceed_the_room(self):
        results = station_results()
        terminals = [t for t in station().terminals if t.label.startswith("0.01")]
        project = SetTerminal(terminals[0].id, share=Pinned(value=0.5)).apply(station())
        flows = terminal_flows(project.terminals, results.air[SYSTEM])
        whole = results.room_air[terminals[0].room_id].flow_m3s
        assert_allclose([flows[t.id] for t in terminals], [whole / 2, whole / 4, whole / 4])
        for t in terminals:
            project = SetTerminal(t.id, share=Pinned(value=0.9)).apply(project)
        flows = terminal_flows(project.terminals, results.air[SYSTEM])
        assert_allclose(sum(flows[t.id] for t in terminals), whole)

    def test_a_pinned_speed_moves_the_operating_point_by_the_affinity_of_the_system(self):
        fan = station_results().fans[SYSTEM]
        faster = run(
            SetFanValue(SYSTEM, "speed_rpm", Pinned(value=fan.chosen.speed_rpm * 1.1)).apply(station()), Memo()
        ).fans[SYSTEM]
        self.assertTrue(1.05 < faster.point.flow_m3s / fan.point.flow_m3s < 1.2)
        self.assertGreater(faster.point.electric_w, fan.point.electric_w)

    def test_another_fan_is_taken_as_chosen(self):
        self.assertEqual(
            run(ChooseFan(SYSTEM, "GF-B710").apply(station()), Memo()).fans[SYSTEM].chosen.fan_id, "GF-B710"
        )


class Gaps(unittest.TestCase):
    def test_an_empty_project(self):
        results = run(Project(), Memo())
        self.assertEqual(results.climate, Missing("no place", "Give a place with its design conditions"))
        self.assertEqual(results.findings, ())

    def test_no_weather_stops_only_what_needs_it(self):
        results = run(structs.replace(one_room(), site=None), Memo())
        self.assertEqual(results.climate.reason, "no place")
        self.assertEqual(results.fans["a"].reason, "no place")

    def test_blank_months_follow_the_office_book(self):
        results = run(structs.replace(one_room(), site=structs.replace(one_room().site, months=())), Memo())
        self.assertTrue(
            all(
                f.origin == "rule" and "office standards" in f.source
                for row in results.climate.figures.months
                for f in row
            )
        )
        self.assertIsInstance(results.fans["a"], FanResult)

    def test_a_room_without_faces_lets_the_others_go_on(self):
        room = structs.replace(one_room().rooms[0], id="r2", number="2")
        results = run(structs.replace(one_room(), rooms=(*one_room().rooms, room)), Memo())
        self.assertEqual(results.rooms["r2"].reason, "no faces")
        self.assertIsInstance(results.fans["a"], FanResult)
        self.assertIn("room-open", [f.code for f in results.findings])

    def test_openings_larger_than_their_wall_are_a_finding(self):
        wall = structs.replace(one_room().walls[0], height_m=0.5)
        results = run(structs.replace(one_room(), walls=(wall, one_room().walls[1])), Memo())
        self.assertIn("Make windows smaller", results.rooms["r1"].remedy)

    def test_ducts_without_anything_to_feed(self):
        for project, reason in (
            (structs.replace(one_room(), terminals=()), "no terminals"),
            (structs.replace(one_room(), segments=(), terminals=()), "no ducts"),
            (
                structs.replace(
                    one_room(), air_systems=(structs.replace(one_room().air_systems[0], root_point_id=""),)
                ),
                "no start",
            ),
        ):
            results = run(project, Memo())
            self.assertEqual(results.ducts["a"].reason, reason)
            self.assertEqual(results.fans["a"].reason, reason)
            self.assertIsInstance(results.rooms["r1"], RoomResult)

    def test_supply_air_too_warm_is_said_with_a_mend_that_works(self):
        project = SetSystemValue("a", "supply_c", Pinned(value=26.0)).apply(one_room())
        results = run(project, Memo())
        finding = next(f for f in results.findings if f.code == "supply-too-warm")
        self.assertIsInstance(run(finding.mends[0].command.apply(project), Memo()).air["a"], AirResult)


class Findings(unittest.TestCase):
    def codes(self, project: Project) -> list[str]:
        return [f.code for f in run(project, Memo()).findings]

    def clears(self, project: Project, code: str) -> None:
        """The first mend of a finding takes that finding away."""
        found = next(f for f in run(project, Memo()).findings if f.code == code)
        self.assertTrue(found.title and found.reason)
        left = [(f.code, f.object_id) for f in run(found.mends[0].command.apply(project), Memo()).findings]
        self.assertNotIn((code, found.object_id), left)

    def test_beam_in_the_way(self):
        self.clears(station(), "height")

    def test_sun_through_glass(self):
        self.clears(station(), "sun-share")

    def test_damper_that_cannot_balance(self):
        self.clears(station(), "damper")

    def test_pinned_flow_below_what_is_needed(self):
        self.clears(SetRoomValue(("r1",), "supply_m3s", Pinned(value=0.005)).apply(one_room()), "flow-short")

    def test_pinned_duct_too_fast(self):
        self.clears(
            SetSize(("s1",), PinnedSize(shape="round", width_m=0.08, height_m=0.08)).apply(one_room()), "velocity"
        )

    def test_fan_that_turns_too_slowly(self):
        self.clears(SetFanValue(SYSTEM, "speed_rpm", Pinned(value=500.0)).apply(station()), "fan-flow")

    def test_terminal_cut_off_and_room_without_one(self):
        ducts = station_results().ducts[SYSTEM]
        path = ducts.path(next(t for t in ducts.terminals if t.label == "0.04").segment_id)
        self.assertIn("no-terminal", self.codes(RemoveDucts((path[-1],)).apply(station())))
        self.assertIn("not-joined", self.codes(RemoveDucts((path[-2],)).apply(station())))

    def test_ring(self):
        ring = DrawRun("a", "G", ((2.5, 6.0, 2.6), (4.0, 6.0, 2.6), (4.0, 4.0, 2.6), (2.5, 4.0, 2.6))).apply(one_room())
        self.assertIn("ring", self.codes(ring))

    def test_every_finding_names_a_part_that_exists(self):
        for finding in station_results().findings:
            parts = {
                "room": station().rooms,
                "segment": station().segments,
                "terminal": station().terminals,
                "part": station().air_systems[0].parts,
                "system": station().air_systems,
            }[finding.kind]
            system, _, part = finding.object_id.rpartition("/")  # a part is named with its air system
            self.assertIn(part, [p.id for p in parts])
            self.assertIn(system, ("", SYSTEM))


class Heights(unittest.TestCase):
    def test_ducts_in_a_ceiling_zone_fit_into_it(self):
        for s in station_results().ducts[SYSTEM].segments.values():
            if not s.pinned:
                self.assertLessEqual(s.section.height_m, s.clear_height_m + 1e-9)

    def test_no_duct_is_smaller_than_one_it_feeds(self):
        ducts = station_results().ducts[SYSTEM]
        for s, name in enumerate(ducts.segment_ids):
            parent = int(ducts.tree.parent[s])
            if parent >= 0 and not (ducts.segments[name].pinned or ducts.segments[ducts.segment_ids[parent]].pinned):
                self.assertGreaterEqual(
                    ducts.segments[ducts.segment_ids[parent]].section.area_m2,
                    ducts.segments[name].section.area_m2 * (1 - 1e-9),
                )

    def test_results_cannot_be_changed(self):
        room = station_results().room(station().rooms[0].id)
        self.assertRaises(ValueError, np.add, room.sensible_w, 1, room.sensible_w)
        self.assertRaises(AttributeError, setattr, room, "heating_w", 0.0)


class ByRule(unittest.TestCase):
    def test_unpinning_gives_the_rule_back(self):
        pinned = SetRoomValue(("r1",), "lights_w_m2", Pinned(value=20.0)).apply(one_room())
        free = SetRoomValue(("r1",), "lights_w_m2", Rule()).apply(pinned)
        figures = [run(p, Memo()).room("r1").figures.lights_w_m2 for p in (one_room(), pinned, free)]
        self.assertEqual([f.origin for f in figures], ["rule", "pinned", "rule"])
        self.assertEqual(figures[0].figure, figures[2].figure)
        self.assertEqual(figures[1].by_rule, figures[0].figure)
        self.assertTrue(all(f.source for f in figures))
