"""Equipment through the whole engine: figures against an independent route, choices that hold when they are pinned,
what each piece gives back to its system, findings with their mends.
"""

import unittest
from functools import lru_cache

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.equipment import boxes as core_boxes
from garnetfin.core.equipment import coils as core_coils
from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.errors import InputError
from garnetfin.core.psychro.processes import cool_to
from garnetfin.engine.equipment.feedback import agree, with_coils
from garnetfin.engine.equipment.records import MachineRecord
from garnetfin.engine.equipment.schedules import KEYS, schedule, schedules
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Missing, Results
from garnetfin.engine.run import run
from garnetfin.project.edits.equipment import PutBox, PutRoomUnit, RemoveRoomUnits, SetEquipment
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.systems import SetPart, SetSystemChoice, SetSystemValue
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule
from tests.engine.equipped import bare, equipped, own_row, pin
from tests.example import by_number, station


@lru_cache(maxsize=8)
def results(project: Project) -> Results:
    return run(project, Memo())


def codes(found: Results) -> set[str]:
    return {f.code for f in found.findings}


class Boxes(unittest.TestCase):
    def test_each_room_with_variable_flow_has_one_and_its_flows_are_the_rooms(self):
        found = results(bare())
        air = {r.room_id: r for r in found.air["ahu1"].rooms}
        self.assertEqual({b.room_ids for b in found.equipment.boxes.values()}, {(i,) for i in air})
        for box in found.equipment.boxes.values():
            room = air[box.room_ids[0]]
            assert_allclose(box.most_m3s, room.flow_m3s)
            self.assertGreaterEqual(box.least.figure, room.least_m3s - 1e-12)
            self.assertLessEqual(box.least.figure, box.heating.figure + 1e-12)
            self.assertLessEqual(box.heating.figure, box.most_m3s + 1e-12)

    def test_reheat_is_what_a_room_needs_hour_by_hour(self):
        """One hour at a time with the balance of the room written out, in place of the arrays of the control."""
        found = results(bare())
        air = found.air["ahu1"]
        for i, row in enumerate(air.rooms):
            box = found.equipment.box_of(row.room_id)
            room, k = found.room(row.room_id), air.heat_j_m3k
            cooling, hold = room.figures.cooling_c.figure, min(air.hold_c[i], room.figures.cooling_c.figure)
            fall, supply = max(air.fall_w_k[i], 1e-6), air.supply_c
            most = 0.0
            cases = [(q, bool(c)) for q, c in zip(air.sensible_w[i], room.counted.reshape(288))]
            cases.append((-room.heating_w - fall * (cooling - hold), True))
            for load, used in cases:
                if not used:
                    continue
                if load > 0 and load / (k * (cooling - supply)) >= row.least_m3s:
                    continue  # it cools
                floats = (load + fall * cooling + k * row.least_m3s * supply) / (fall + k * row.least_m3s)
                if floats >= hold:
                    continue
                heat = -(load + fall * (cooling - hold)) + k * row.least_m3s * (hold - supply)
                warm = min(hold + air.figures.warm_limit_k.figure, 35.0)
                flow = row.least_m3s
                if heat > k * flow * (warm - supply):
                    needed = -(load + fall * (cooling - hold)) / (k * (warm - hold))
                    flow = min(max(needed, row.least_m3s), max(air.winter_m3s[i], row.least_m3s))
                    heat = k * flow * (warm - supply)
                most = max(most, heat)
            assert_allclose(box.reheat_w, most, rtol=1e-6, atol=1e-6)

    def test_the_chosen_box_serves_and_holds_when_it_is_pinned(self):
        found = results(bare())
        for box in found.equipment.boxes.values():
            self.assertIsNotNone(box.model)
            self.assertEqual(box.why, "")
            pinned = SetEquipment("flow_boxes", box.id, "model", box.model.model).apply(bare())
            again = results(pinned).equipment.boxes[box.id]
            self.assertTrue(again.pinned)
            self.assertEqual((again.model, again.why), (box.model, ""))
            assert_allclose(again.drop_pa, box.drop_pa, rtol=1e-9)

    def test_a_pinned_box_that_is_too_small_is_told_and_the_rule_mends_it(self):
        box = next(iter(results(bare()).equipment.boxes.values()))
        small = SetEquipment("flow_boxes", box.id, "model", "GF-V100-R2").apply(bare())
        found = results(small)
        told = next(f for f in found.findings if f.code == "box-limit")
        self.assertEqual(found.equipment.boxes[box.id].model.model, "GF-V100-R2")
        mended = told.mends[0].command.apply(small)
        self.assertEqual(mended.flow_boxes, ())
        self.assertNotIn("box-limit", codes(results(mended)))

    def test_its_pressure_is_in_the_run_once(self):
        with_, without = results(bare()), results(SetSystemChoice("ahu1", "boxes", "none").apply(bare()))
        self.assertEqual(without.equipment.boxes, {})
        for terminal in with_.ducts["ahu1"].terminals:
            way, s = [], terminal.segment_id
            while s:
                way.append(s)
                before = with_.ducts["ahu1"].before(s)
                s = before.segment_id if before is not None else ""
            drops = [f.pressure_pa for s in way for f in with_.ducts["ahu1"].segments[s].fittings if f.place == "box"]
            box = with_.equipment.box_of(terminal.room_id)
            assert_allclose(drops, [box.drop_pa], rtol=1e-6)
        self.assertGreater(with_.ducts["ahu1"].runs.fan_pa, without.ducts["ahu1"].runs.fan_pa + 20)
        self.assertGreater(with_.fans["ahu1"].wanted_pa, without.fans["ahu1"].wanted_pa + 20)

    def test_great_least_flows_are_told_once_and_radiators_spare_their_reheat(self):
        found = results(bare())
        great = [b for b in found.equipment.boxes.values() if b.reheat and b.least.figure > 0.5 * b.most_m3s]
        told = [f for f in found.findings if f.code == "box-reheat-high"]
        self.assertEqual((len(told), len(great) > 1), (1, True))
        self.assertIn(f"{len(great)} boxes", told[0].title)
        mended = results(told[0].mends[0].command.apply(bare()))
        self.assertNotIn("box-reheat-high", codes(mended))

    def test_a_model_that_cannot_close_far_enough_is_told(self):
        """An own row that holds more than the room asks for."""
        box = min(results(bare()).equipment.boxes.values(), key=lambda b: b.wanted_m3s)
        stiff = own_row("boxes", "OF-STIFF", flow_min_L_s=f"{box.wanted_m3s * 1200:.3f}", flow_max_L_s="3000")
        project = structs.replace(bare(), book=structs.replace(bare().book, equipment=(stiff,)))
        found = results(SetEquipment("flow_boxes", box.id, "model", "OF-STIFF").apply(project))
        told = next(f for f in found.findings if f.code == "box-minimum-raised")
        self.assertIn(box.tag, told.title + told.reason)
        self.assertNotIn("box-minimum-raised", codes(results(bare())))

    def test_a_group_shares_one_box_and_takes_what_its_rooms_ask_for_at_one_hour(self):
        project = PutBox(("n1", "n3")).apply(bare())
        found = results(project)
        air = found.air["ahu1"]
        rows = [i for i, r in enumerate(air.rooms) if r.room_id in ("n1", "n3")]
        group = found.equipment.box_of("n1")
        self.assertIs(group, found.equipment.box_of("n3"))
        at_once = max(air.flow_hours[rows].sum(axis=0).max(), air.winter_m3s[rows].sum())
        assert_allclose(group.most_m3s, at_once)
        self.assertLess(group.most_m3s, sum(air.rooms[i].flow_m3s for i in rows) + 1e-9)

    def test_typed_least_and_heating_flow_act_in_the_rooms(self):
        before = results(bare()).air["ahu1"]
        i = next(k for k, r in enumerate(before.rooms) if r.room_id == "n2")
        more = SetEquipment("flow_boxes", "box:n2", "least_m3s", pin(before.rooms[i].flow_m3s * 0.8)).apply(bare())
        after = results(more).air["ahu1"]
        assert_allclose(after.rooms[i].least_m3s, before.rooms[i].flow_m3s * 0.8)
        warm = SetEquipment("flow_boxes", "box:n2", "heating_m3s", pin(before.rooms[i].least_m3s)).apply(bare())
        found = results(warm)
        assert_allclose(found.air["ahu1"].winter_m3s[i], before.rooms[i].least_m3s)
        self.assertEqual(found.equipment.boxes["box:n2"].heating.origin, "pinned")

    def test_nothing_fixed_any_more_leaves_no_trace(self):
        for field, value, free in (("model", "GF-V200-R2", ""), ("least_m3s", pin(0.05), Rule()), ("tag", "A", "")):
            once = SetEquipment("flow_boxes", "box:n1", field, value).apply(bare())
            self.assertEqual(len(once.flow_boxes), 1)
            self.assertEqual(SetEquipment("flow_boxes", "box:n1", field, free).apply(once), bare())

    def test_rooms_that_go_take_their_boxes_and_units_along(self):
        gone = RemoveRooms(("n1", "n2")).apply(equipped())
        self.assertEqual([b.room_ids for b in gone.flow_boxes], [("n3",)])
        self.assertEqual({u.room_id for u in RemoveRooms(("n4", "n5")).apply(equipped()).room_units}, set())
        run(gone, Memo())


class Coils(unittest.TestCase):
    def test_a_coil_does_what_the_train_asks_of_it(self):
        """The coil computed alone, at its own water, leaves the air as cold as the train's node says."""
        found = results(bare())
        coil = found.equipment.coils["ahu1:cooling"]
        built, at = coil.chosen.built, found.trains["ahu1"]
        liquid = water.liquid(0.5 * (coil.water_in.figure + coil.water_out.figure))
        done = core_coils.perform(
            built.surface(coil.air_kg_s, coil.chosen.water_kg_s, liquid),
            core_coils.Air(coil.air_kg_s, coil.t1, coil.w1, at.pressure_pa),
            core_coils.Water(coil.chosen.water_kg_s, coil.water_in.figure, float(liquid.heat)),
        )
        self.assertLessEqual(float(done.t), coil.t2 + core_coils.REACHED_K + 1e-6)
        assert_allclose(coil.heat_w, max(at.solved.coils["cooling"].total_w), rtol=1e-9)

    def test_its_bypass_factor_and_drop_are_in_the_system(self):
        found = results(bare())
        coil, train = found.equipment.coils["ahu1:cooling"], found.trains["ahu1"]
        assert_allclose(train.figures["cooling", "bypass"].figure, coil.bypass, atol=2e-3)
        assert_allclose(train.figures["cooling", "pressure"].figure, coil.chosen.air_pa, atol=1.0)
        self.assertEqual(train.figures["cooling", "bypass"].origin, "rule")
        assert_allclose(dict(found.fans["ahu1"].part_pa)["Cooling coil"], coil.chosen.air_pa, atol=1.0)
        # the state the train leaves with is the one that this bypass factor gives
        i = int(np.argmax(train.solved.coils["cooling"].total_w))
        line = cool_to(coil.t1, coil.w1, coil.t2, train.figures["cooling", "bypass"].figure, train.pressure_pa)
        assert_allclose(train.solved.nodes["cooling"].w[i], line.w, rtol=1e-7)

    def test_typed_figures_stand(self):
        typed = SetPart("ahu1", "cooling", "bypass", Pinned(value=0.3)).apply(bare())
        typed = SetPart("ahu1", "cooling", "pressure", Pinned(value=111.0)).apply(typed)
        found = results(typed)
        self.assertEqual(found.trains["ahu1"].figures["cooling", "bypass"].figure, 0.3)
        self.assertEqual(found.trains["ahu1"].figures["cooling", "pressure"].figure, 111.0)
        left = results(SetSystemChoice("ahu1", "coils", "typed").apply(bare()))
        self.assertEqual(left.trains["ahu1"].figures["cooling", "bypass"].figure, 0.10)

    def test_coil_and_system_agree(self):
        found = results(bare())
        system = found.system("ahu1")
        again = with_coils(find(bare().air_systems, "ahu1"), found.equipment.coils)
        self.assertTrue(agree(system, again))
        self.assertNotIn("coil-loop", codes(found))

    def test_water_that_is_too_warm_is_told_with_what_helps(self):
        warm = SetEquipment("coils", "ahu1:cooling", "water_in_c", pin(13.5)).apply(bare())
        warm = SetEquipment("coils", "ahu1:cooling", "water_out_c", pin(19.0)).apply(warm)
        found = results(warm)
        self.assertIsNone(found.equipment.coils["ahu1:cooling"].chosen)
        told = next(f for f in found.findings if f.code == "coil-infeasible" and f.object_id == "ahu1/cooling")
        colder = told.mends[0].command.apply(warm)
        self.assertLess(find(colder.coils, "ahu1:cooling").water_in_c.value, 13.5)
        for _ in range(4):
            colder = told.mends[0].command.apply(colder)
        self.assertTrue(results(bare()).equipment.coils["ahu1:cooling"].chosen)

    def test_pinned_rows_are_judged(self):
        two = SetEquipment("coils", "ahu1:cooling", "rows", 2).apply(bare())
        found = results(two)
        self.assertEqual(found.equipment.coils["ahu1:cooling"].chosen.built.rows, 2)
        told = next(f for f in found.findings if f.code == "coil-limit")
        self.assertNotIn("coil-limit", codes(results(told.mends[0].command.apply(two))))


class Units(unittest.TestCase):
    def test_the_sheet_adds_up(self):
        found = results(bare())
        unit = found.equipment.units["ahu1"]
        made = unit.layout
        assert_allclose(unit.face_m_s, max(unit.supply_m3s, unit.exhaust_m3s) / made.casing.filter_face_m2)
        ends = max(s.start_m + s.length_m for s in made.stations)
        assert_allclose(made.length_m, ends + 2 * made.casing.wall_m)
        fans = [found.fans["ahu1"], *(f for (i, _), f in found.other_fans.items() if i == "ahu1")]
        electric = sum(f.point.electric_w for f in fans if getattr(f, "point", None) is not None)
        assert_allclose(unit.specific_w_m3s, electric / unit.supply_m3s)
        kinds = [s.section.kind for s in made.stations]
        self.assertEqual(kinds.count("fan"), sum(p.kind.endswith("_fan") for p in bare().air_systems[0].parts))

    def test_side_by_side_is_lower_and_wider(self):
        beside = SetEquipment("units", "ahu1", "arrangement", "side by side").apply(bare())
        one, two = results(bare()).equipment.units["ahu1"].layout, results(beside).equipment.units["ahu1"].layout
        self.assertLess(two.height_m, one.height_m)
        self.assertGreater(two.width_m, one.width_m)

    def test_a_small_casing_is_told(self):
        small = SetEquipment("units", "ahu1", "size", "GF-A01").apply(bare())
        found = results(small)
        self.assertEqual(found.equipment.units["ahu1"].layout.casing.size, "GF-A01")
        told = next(f for f in found.findings if f.code == "face-velocity")
        self.assertNotIn("face-velocity", codes(results(told.mends[0].command.apply(small))))


class RoomUnits(unittest.TestCase):
    def test_air_and_unit_share_the_load(self):
        """What the supply air carries and what the unit takes out make the load of the room at that hour."""
        project = structs.replace(
            bare(), rooms=tuple(structs.replace(r, rest="unit") if r.id == "n2" else r for r in bare().rooms)
        )
        found = results(project)
        train = found.trains["ahu1"]
        i = train.room_ids.index("n2")
        unit = next(u for u in found.equipment.room_units.values() if u.room_id == "n2")
        hour = int(np.argmax(train.solved.unit_w[i]))
        solved = train.solved
        cp = 1006 + 1860 * solved.nodes["duct"].w[hour]
        carried = solved.supply_kg_s[i, hour] * cp * (solved.room_c[i, hour] - solved.supply_c[i, hour])
        assert_allclose(carried + unit.cool_need_w, solved.load_w[i, hour], rtol=2e-3)
        assert_allclose(unit.cool_sensible_w, unit.cool_need_w, rtol=1e-3)
        self.assertEqual(unit.kind, "fan_coil")
        self.assertEqual(unit.short_cool_w, 0)

    def test_a_server_room_without_air_gets_its_own_cooler(self):
        served = structs.replace(bare(), rooms=tuple(structs.replace(r, use_id="server") for r in bare().rooms))
        project = PutRoomUnit(("n5",), "direct").apply(served)
        found = results(project)
        unit = next(u for u in found.equipment.room_units.values() if u.room_id == "n5")
        room = found.room("n5")
        load = np.where(room.counted, np.maximum(room.sensible_w, 0), 0).max()
        self.assertGreater(load, 1000)
        assert_allclose(unit.cool_need_w, load)
        assert_allclose(unit.cool_sensible_w, load, rtol=1e-6)
        self.assertIsNotNone(unit.model)

    def test_how_damp_a_room_with_a_fan_coil_becomes_is_told_with_its_unit(self):
        """The train takes the unit as dry: its rooms are left to the unit's own balance of water."""
        dry = structs.replace(station(), book=structs.replace(station().book, humidity_high=Pinned(value=0.35)))
        room, memo = by_number(dry, "0.04"), Memo()
        found = run(PutRoomUnit((room.id,), "fan_coil").apply(dry), memo)
        unit = next(u for u in found.equipment.room_units.values() if u.room_id == room.id)
        self.assertGreater(unit.cool_need_w, 100.0)
        self.assertGreater(unit.room_rh, 0.355)
        told = next(f for f in found.findings if f.code == "humid" and unit.tag in f.title)
        self.assertIn(f"{unit.room_rh:.0%}", told.title)
        free = structs.replace(dry, book=structs.replace(dry.book, humidity_high=Pinned(value=0.95)))
        self.assertNotIn("humid", codes(run(PutRoomUnit((room.id,), "fan_coil").apply(free), memo)))

    def test_floor_first_then_the_fan_coil_does_the_rest(self):
        found = results(equipped()).equipment.room_units
        floor, coil = found["unit:n4:2"], found["unit:n4:1"]
        assert_allclose(floor.heat_w + floor.short_heat_w, floor.heat_need_w)
        assert_allclose(coil.heat_need_w, floor.short_heat_w)

    def test_put_and_taken_away_is_as_before(self):
        put = PutRoomUnit(("n2",), "radiator").apply(bare())
        self.assertEqual(find(put.rooms, "n2").rest, "heater")
        back = RemoveRoomUnits((put.room_units[0].id,)).apply(put)
        self.assertEqual(back, bare())


class Plant(unittest.TestCase):
    def test_machines_carry_the_plant_with_its_margin(self):
        found = results(bare())
        for circuit, load, margin in (("cold", found.plant.cooling_w, 0.05), ("hot", found.plant.heating_w, 0.10)):
            machine = found.equipment.machines[circuit]
            self.assertIsInstance(machine, MachineRecord)
            assert_allclose(machine.load_w, load)
            self.assertGreaterEqual(machine.count * machine.each_w, load * (1 + margin) * (1 - 1e-9))
            of = water.liquid(0.5 * (machine.water_c + machine.back_c))
            carried = machine.pump.flow_m3s * float(of.density * of.heat) * abs(machine.water_c - machine.back_c)
            assert_allclose(carried, load)

    def test_condensate_of_fan_coils_is_cold_that_machines_give(self):
        """A wet room behind a fan coil: heat of its condensate by the water that leaves the air, at 2.5 MJ/kg."""
        project = PutRoomUnit(("n5",), "fan_coil").apply(bare())
        crowd = structs.replace(find(project.rooms, "n5"), people=Pinned(value=60.0))
        project = structs.replace(project, rooms=tuple(crowd if r.id == "n5" else r for r in project.rooms))
        found = results(project)
        unit = next(u for u in found.equipment.room_units.values() if u.kind == "fan_coil")
        machine = found.equipment.machines["cold"]
        self.assertGreater(unit.condensate_kg_s, 1e-6)
        assert_allclose(machine.wet_w, unit.condensate_kg_s * 2.5e6, rtol=0.03)  # 2.46 to 2.54 MJ/kg with the water
        assert_allclose(machine.load_w, found.plant.cooling_w + machine.wet_w)

    def test_a_building_without_air_has_its_machines(self):
        """Radiators and fan coils alone: heat of all rooms, cold of the hour in which all together ask for most."""
        project = structs.replace(bare(), rooms=tuple(structs.replace(r, system_id="") for r in bare().rooms))
        ids = tuple(r.id for r in project.rooms)
        project = PutRoomUnit(ids, "radiator").apply(PutRoomUnit(ids, "fan_coil").apply(project))
        found = results(project)
        heat = sum(found.rooms[i].heating_w for i in ids)
        cold = sum(np.maximum(found.rooms[i].sensible_w, 0.0) for i in ids).max()
        assert_allclose(found.plant.heating_w, heat)
        assert_allclose(found.plant.cooling_w, cold)
        self.assertIsInstance(found.equipment.machines["hot"], MachineRecord)
        assert_allclose(found.equipment.machines["hot"].load_w, heat)

    def test_one_of_two_systems_that_cannot_be_computed_leaves_no_half_of_a_plant(self):
        other = structs.replace(bare().air_systems[0], id="ahu2", name="Other", root_point_id="")
        moved = tuple(structs.replace(r, system_id="ahu2") if r.id == "n4" else r for r in bare().rooms)
        both = structs.replace(bare(), air_systems=(*bare().air_systems, other), rooms=moved)
        self.assertNotIsInstance(results(both).plant, Missing)
        found = results(SetSystemValue("ahu2", "supply_c", Pinned(value=40.0)).apply(both))
        self.assertNotIsInstance(found.trains["ahu1"], Missing)
        self.assertEqual(found.plant, found.trains["ahu2"])

    def test_a_system_that_cannot_be_computed_leaves_no_half_of_a_plant(self):
        project = PutRoomUnit(("n5",), "radiator").apply(bare())
        project = SetSystemValue("ahu1", "supply_c", Pinned(value=40.0)).apply(project)
        found = results(project)
        self.assertIsInstance(found.trains["ahu1"], Missing)
        self.assertIsInstance(found.plant, Missing)

    def test_reserve_and_fewest(self):
        two = SetEquipment("machines", "cold", "fewest", 2).apply(bare())
        spare = SetEquipment("machines", "cold", "standby", True).apply(two)
        self.assertEqual(
            results(spare).equipment.machines["cold"].count, results(two).equipment.machines["cold"].count + 1
        )
        self.assertGreaterEqual(results(two).equipment.machines["cold"].count, 2)

    def test_pinned_machines_that_are_short_are_told(self):
        short = SetEquipment("machines", "hot", "kind", "heat_pump_air").apply(bare())
        short = SetEquipment("machines", "hot", "model", "GF-AH20").apply(short)
        short = SetEquipment("machines", "hot", "count", 1).apply(short)
        machine = results(short).equipment.machines["hot"]
        if machine.spare < 0:
            self.assertIn("plant-short", codes(results(short)))
        self.assertEqual((machine.model.model, machine.count), ("GF-AH20", 1))


class Schedules(unittest.TestCase):
    def test_every_figure_answers_why_with_itself(self):
        asked = 0
        for project in (bare(), equipped()):
            found = results(project)
            for one in schedules(found):
                for line in one.lines:
                    for column, cell in zip(one.columns, line.cells):
                        if isinstance(cell, str) and column.key != "model":
                            continue
                        if not isinstance(cell, str) and not np.isfinite(cell):
                            continue
                        why = explain(found, ("equipment", one.key, line.id, column.key))
                        self.assertIsNotNone(why, (one.key, line.id, column.key))
                        if not isinstance(cell, str):
                            assert_allclose(why.figure, cell, rtol=1e-9, err_msg=f"{one.key} {column.key}")
                        asked += 1
        self.assertGreater(asked, 300)

    def test_each_kind_has_lines_and_their_cells_their_columns(self):
        found = results(equipped())
        for key, _ in KEYS:
            one = schedule(found, key)
            for line in one.lines:
                self.assertEqual(len(line.cells), len(one.columns), key)
        self.assertEqual(
            {s.key for s in schedules(found)} & {"boxes", "room_units", "coils", "units", "machines", "pumps"},
            {"boxes", "room_units", "coils", "units", "machines", "pumps"},
        )

    def test_tags_stay_through_edits_of_other_rooms(self):
        before = {b.room_ids: b.tag for b in results(bare()).equipment.boxes.values()}
        fewer = RemoveRooms(("n1",)).apply(bare())
        after = {b.room_ids: b.tag for b in run(fewer, Memo()).equipment.boxes.values()}
        self.assertEqual(after, {ids: tag for ids, tag in before.items() if ids != ("n1",)})


class Refused(unittest.TestCase):
    def test_what_no_catalogue_has_and_what_is_out_of_range(self):
        for command in (
            SetEquipment("flow_boxes", "box:n1", "model", "GF-V999"),
            SetEquipment("coils", "ahu1:cooling", "series", "none"),
            SetEquipment("units", "ahu1", "size", "GF-B1"),
            SetEquipment("units", "ahu1", "arrangement", "round"),
            SetEquipment("machines", "warm", "count", 1),
            SetEquipment("machines", "cold", "kind", "stove"),
            SetEquipment("flow_boxes", "box:n1", "colour", "red"),
            SetEquipment("flow_boxes", "box:n1", "leave_c", pin(200.0)),
            PutBox(("n1", "n5")),
            PutRoomUnit(("n1",), "stove"),
        ):
            with self.subTest(command=command), self.assertRaises(InputError):
                command.apply(bare())

    def test_an_own_row_takes_the_place_of_a_shipped_one(self):
        name = results(bare()).equipment.boxes["box:n1"].model.model
        loud = own_row("boxes", name, **{f"radiated_{b}": "120" for b in (63, 125, 250, 500, 1000, 2000, 4000, 8000)})
        loud = structs.replace(loud, cells=tuple(c for c in loud.cells))
        project = structs.replace(bare(), book=structs.replace(bare().book, equipment=(loud,)))
        found = results(project)
        self.assertNotEqual(getattr(found.equipment.boxes["box:n1"].model, "model", ""), name)
        self.assertEqual(len(shipped("boxes")), 40)

    def test_a_catalogue_without_a_box_of_the_kind_is_told(self):
        self.assertEqual(core_boxes.in_order((), "vav", True), ())


if __name__ == "__main__":
    unittest.main()
