"""Air systems of the example through the engine: patterns, hours, balances, plant, findings with mends that help,
derivations.
"""

import unittest
from functools import lru_cache

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.psychro import properties as air
from garnetfin.engine.explain.derivation import Term
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import NEEDS, AirResult, Missing, Results, TrainResult
from garnetfin.engine.run import run
from garnetfin.engine.stages.train import all_hours, point_at, without
from garnetfin.engine.studies.air_year import air_year
from garnetfin.engine.studies.coil_sheet import closing, coil_sheet
from garnetfin.engine.studies.psychro_chart import chart_lines, coil_path
from garnetfin.engine.studies.worksheet import answers, places
from garnetfin.engine.studies.year import year_of
from garnetfin.project.edits.book import SetAssumption, SetBookChoice
from garnetfin.project.edits.groups import SetZoneValue
from garnetfin.project.edits.rooms import SetRoomChoice, SetRoomValue, SetServed
from garnetfin.project.edits.state_list import AddListRow
from garnetfin.project.edits.systems import (
    AddPart,
    AddSystem,
    MoveTransfer,
    RemovePart,
    SetMonths,
    SetPart,
    SetPattern,
    SetSystemChoice,
    SetSystemValue,
    SetTransfer,
)
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned
from tests.core.test_weather import synthetic
from tests.example import TREATING, by_number, station, station_results

AHU = "ahu-north"
MEMO = Memo()


def pinned(value: float) -> Pinned:
    return Pinned(value=value)


@lru_cache(maxsize=40)
def after(*edits) -> Results:
    """Results of the example after some edits; what does not change is remembered between tests."""
    project: Project = station()
    for edit in edits:
        project = edit.apply(project)
    return run(project, MEMO)


def room(number: str) -> str:
    return by_number(station(), number).id


class Patterns(unittest.TestCase):
    def test_every_pattern_is_solved_and_proved(self):
        for name, pattern in TREATING.items():
            results = after(SetPattern(AHU, name))
            found: TrainResult = results.trains[AHU]
            with self.subTest(pattern=name):
                self.assertIsInstance(found, TrainResult)
                self.assertEqual([p.kind for p in found.parts], list(pattern.kinds))
                greatest = max(found.coils_peak_w, found.heater_w(found.heating))
                # and the winter design day
                self.assertEqual(len(found.solved.handler_kg_s), len(found.hours) + 1)
                for node, left in found.solved.energy.items():
                    # A tenth of a per mille of the plant; the requirement is one per mille.
                    self.assertLess(float(np.abs(left).max()), 1e-4 * greatest, node)
                    self.assertLess(float(np.abs(found.solved.water[node]).max()), 1e-4 * greatest / 2.5e6, node)
                sheet = coil_sheet(results, AHU, found.cooling)
                if "cooling" in pattern.kinds:
                    assert_allclose(sum(v for _, v in sheet.parts), sheet.total_w, rtol=1e-6)
                    self.assertLess(abs(sheet.residual_w), 0.05)
                    self.assertEqual(len(closing(found, found.cooling)), len(found.cooling.solved.energy))
                else:
                    self.assertIsInstance(sheet, Missing)

    def test_the_coil_governs_over_all_hours_of_the_design_days(self):
        for name in ("cav_reheat", "vav_reheat", "doas"):
            results = after(SetPattern(AHU, name))
            found, every = results.trains[AHU], all_hours(results, AHU)
            cold = every.cooling_w + np.maximum(every.unit_w, 0).sum(axis=0)
            # Screening by a rough load must not miss the governing hour.
            assert_allclose(found.coils_peak_w, cold.max(), rtol=1e-6, err_msg=name)

    def test_any_hour_is_the_same_as_among_all_of_them(self):
        results = station_results()
        every = all_hours(results, AHU)
        for month, hour in ((0, 3), (3, 11), (6, 14), (9, 20)):
            point = point_at(results, AHU, month, hour)
            # Hours that settle apart from others stop at their own last step.
            assert_allclose(point.cooling_w, every.cooling_w[month * 24 + hour], rtol=1e-5, atol=0.05)
            assert_allclose(point.node("supply")[0], every.nodes["supply"].t[month * 24 + hour], atol=1e-4)
        self.assertIs(point_at(results, AHU, -1, 0), results.trains[AHU].heating)

    def test_flow_follows_the_coincident_peak_with_variable_flow(self):
        fixed, load = after().air[AHU], after(SetSystemChoice(AHU, "flow", "load")).air[AHU]
        assert_allclose(fixed.flow_m3s, sum(r.flow_m3s for r in fixed.rooms))
        assert_allclose(load.flow_m3s, load.flow_hours.sum(axis=0).max())
        self.assertLess(load.flow_m3s, load.peaks_m3s)
        assert_allclose(load.diversity, load.block_m3s / load.peaks_m3s)
        self.assertIsNotNone(load.block_at)
        self.assertIsNone(fixed.block_at)

    def test_the_fans_heat_is_that_of_the_pressure_the_ducts_need(self):
        results = station_results()
        found, fan = results.trains[AHU], results.fans[AHU]
        part = next(p for p in found.parts if p.kind == "supply_fan")
        assert_allclose(part.get("pressure_pa"), fan.point.pressure_pa)
        before = found.parts[[p.id for p in found.parts].index(part.id) - 1].id
        t, w, m = found.cooling.node(before)
        volume = float(air.specific_volume(t, w, found.pressure_pa))
        assert_allclose(
            found.cooling.heat_w(part.id), m * volume * fan.point.pressure_pa / part.get("efficiency"), rtol=1e-6
        )
        duct = next(p for p in found.parts if p.kind == "duct")
        assert_allclose(
            duct.get("surface_m2"),
            sum(s.section.perimeter_m * s.length_m for s in results.ducts[AHU].segments.values()),
        )

    def test_supply_held_behind_the_coil_moves_flows_until_both_agree(self):
        results = after(SetSystemChoice(AHU, "supply", "coil"))
        found = results.trains[AHU]
        last = [p.id for p in found.parts if p.kind in ("cooling", "heating")][-1]
        assert_allclose(found.cooling.node(last)[0], 14.0, atol=1e-4)
        # Flows rest on the warmer air that reaches the rooms; rounds stop below 5 mK.
        assert_allclose(results.air[AHU].supply_c, found.cooling.node("supply")[0], atol=0.02)
        self.assertGreater(results.air[AHU].flow_m3s, station_results().air[AHU].flow_m3s)

    def test_a_part_away_is_worth_what_it_takes(self):
        results = station_results()
        found = results.trains[AHU]
        at = found.cooling
        bare = without(results, AHU, "recovery", at.month, at.hour)
        self.assertGreater(bare.cooling_w, at.cooling_w)
        self.assertLess(bare.heat_w("supply_fan"), at.heat_w("supply_fan"))  # its pressure drop is away, too
        self.assertGreater(found.heater_w(without(results, AHU, "recovery", -1, 0)), found.heater_w(found.heating))
        self.assertIsInstance(without(results, AHU, "rooms", 6, 14), Missing)
        self.assertIsInstance(without(results, AHU, "nothing", 6, 14), Missing)


class RoomFlows(unittest.TestCase):
    def test_every_room_zone_and_system_balances(self):
        for results in (
            after(),
            after(SetRoomValue((room("0.02"),), "return_m3s", pinned(0.1))),
            after(SetRoomChoice((room("0.04"),), "pressure", "negative high")),
        ):
            for row in results.air[AHU].rooms:
                comes = row.flow_m3s + row.transfer_in_m3s + max(-row.offset_m3s, 0.0)
                goes = row.return_m3s + row.extract_m3s + row.transfer_out_m3s + max(row.offset_m3s, 0.0)
                # Make-up that is missing is drawn in from anywhere: it is part of the offset and said as short.
                assert_allclose(comes, goes, atol=1e-9, err_msg=row.room_id)
        self.assertEqual(
            after(SetRoomChoice((room("0.04"),), "pressure", "negative high")).room_air[room("0.04")].pressure,
            "negative high",
        )

    def test_a_pinned_need_governs_and_is_said_when_it_is_too_little(self):
        results = after(SetRoomChoice((room("0.01"),), "need", "air change"))
        row = results.room_air[room("0.01")]
        self.assertEqual(row.governs, "air change")
        assert_allclose(row.exact_m3s, row.need("air change"))
        found = next(f for f in results.findings if f.code == "pinned-need")
        self.assertEqual(found.object_id, room("0.01"))
        self.assertEqual(
            run(found.mends[0].command.apply(results.project), MEMO).room_air[room("0.01")].governs, "cooling"
        )

    def test_transfer_air_by_rule_is_what_the_room_lacks(self):
        results = station_results()
        kitchen = results.room_air[room("0.10")]
        move = next(m for m in results.air[AHU].moves if m.to_room == room("0.10"))
        self.assertTrue(move.by_rule)
        assert_allclose(move.flow_m3s, kitchen.transfer_in_m3s)
        self.assertEqual(kitchen.short_m3s, 0.0)
        typed = after(SetTransfer(room("0.09"), room("0.10"), pinned(0.05)))
        self.assertFalse(next(m for m in typed.air[AHU].moves if m.to_room == room("0.10")).by_rule)
        other = MoveTransfer("move1", room("0.08")).apply(station())
        self.assertEqual(other.transfers[0].from_room, room("0.08"))
        self.assertEqual(MoveTransfer("move1", "").apply(station()).transfers, ())

    def test_outdoor_air_by_each_method(self):
        quality, substance, both, area = (
            after(SetBookChoice("outdoor_method", m)).air[AHU]
            for m in ("quality", "substance", "both", "people and area")
        )
        for one, other, most in zip(quality.rooms, substance.rooms, both.rooms):
            assert_allclose(
                most.need("outdoor air"), max(one.need("outdoor air"), other.need("outdoor air")), atol=1e-12
            )
        self.assertIsNone(quality.ventilation)
        v = area.ventilation
        assert_allclose(area.outdoor_m3s, min(v.uncorrected_m3s / v.efficiency, area.flow_m3s))
        self.assertEqual(
            area.critical_room, area.rooms[[r.room_id for r in area.rooms].index(area.critical_room)].room_id
        )
        strict = after(SetBookChoice("category", "I")).air[AHU]
        self.assertGreater(strict.outdoor_m3s, quality.outdoor_m3s)

    def test_a_hood_asks_for_make_up_air(self):
        results = after(MoveTransfer("move1", ""))
        row = results.room_air[room("0.10")]
        self.assertEqual(row.governs, "make-up")
        assert_allclose(row.flow_m3s, 0.28)

    def test_dry_rooms_want_more_air_and_rooms_that_cannot_be_dried_say_so(self):
        wet = after(SetAssumption("humidity_high", pinned(0.45)))
        self.assertGreater(sum(r.governs == "latent" for r in wet.air[AHU].rooms), 3)
        hopeless = after(SetAssumption("humidity_high", pinned(0.25)))
        self.assertTrue(any(np.isinf(r.need("latent")) for r in hopeless.air[AHU].rooms))
        found = next(f for f in hopeless.findings if f.code == "latent")
        self.assertIn("damp", found.title)


class Plant(unittest.TestCase):
    def test_coincident_and_sum_differ_with_two_systems(self):
        south = tuple(r.id for r in station().rooms if r.system_id and r.number.startswith("1."))
        results = after(AddSystem(south))
        plant = results.plant
        peaks = [t.coils_peak_w for t in results.trains.values()]
        assert_allclose(plant.cooling_sum_w, sum(peaks))
        self.assertLessEqual(plant.cooling_w, plant.cooling_sum_w * (1 + 1e-9))
        # An independent route: both systems at every hour of the design days.
        together = sum(
            s.cooling_w + np.maximum(s.unit_w, 0).sum(axis=0) for s in (all_hours(results, i) for i in results.trains)
        )
        # twelve hours of the building's own load are looked at
        assert_allclose(plant.cooling_w, together.max(), rtol=1e-6)
        assert_allclose(plant.chilled_m3s, plant.cooling_w / (4.186e6 * 6.0))
        assert_allclose(plant.plant_m2, 0.06 * (plant.cooling_w + plant.heating_w) / 1000)

    def test_water_temperatures_and_ratios_move_it(self):
        results = after(SetAssumption("chilled_return_c", pinned(18.0)), SetAssumption("plant_m2_kw", pinned(0.12)))
        # other water makes another coil, whose surface dries the air otherwise
        more = results.plant.cooling_w / station_results().plant.cooling_w
        assert_allclose(results.plant.chilled_m3s, station_results().plant.chilled_m3s * more / 2)
        load, before = (r.plant.cooling_w + r.plant.heating_w for r in (results, station_results()))
        assert_allclose(results.plant.plant_m2, station_results().plant.plant_m2 * 2 * load / before)


class Findings(unittest.TestCase):
    # A way to each finding, and the code it has; applying its first mend must take it away.
    WAYS = {
        "adp": (SetSystemValue(AHU, "supply_c", pinned(6.0)),),
        "supply-cold": (SetSystemValue(AHU, "supply_c", pinned(8.0)),),
        "overcooled": (
            SetPattern(AHU, "vav"),
            SetSystemValue(AHU, "least_share", pinned(0.95)),
            SetRoomValue((room("1.02"),), "supply_m3s", pinned(0.6)),
        ),
        "humid": (SetPattern(AHU, "single_zone_cav"),),
        "preheat": (SetPattern(AHU, "doas"),),
        "cold": (SetPattern(AHU, "vav"),),
        "frost": (SetPattern(AHU, "vav"),),
        "warm": (SetPattern(AHU, "single_zone_cav"),),
        "make-up": (MoveTransfer("move1", ""), SetRoomValue((room("0.10"),), "supply_m3s", pinned(0.05))),
        "foul-return": (SetRoomValue((room("0.10"),), "extract_m3s", pinned(0.0)), MoveTransfer("move1", "")),
        "unbalanced": (SetSystemValue(AHU, "outdoor_m3s", pinned(1.6)),),
        "outdoor-driven": (),
        "outdoor-short": (SetSystemValue(AHU, "outdoor_m3s", pinned(1.6)),),
        "zone-supply": (SetZoneValue("z3", "supply_c", pinned(12.0)), SetSystemValue(AHU, "supply_c", pinned(15.0))),
        "humid-low": (SetZoneValue("z1", "humidity_low", pinned(0.4)),),
        "transfer-warm": (SetRoomValue((room("1.10"),), "equipment_w_m2", pinned(60.0)),),
        "ventilation": (
            SetBookChoice("outdoor_method", "people and area"),
            SetRoomValue((room("0.02"),), "people", pinned(140.0)),
            SetRoomValue((room("0.02"),), "supply_m3s", pinned(0.03)),
        ),
        "outdoor-above-supply": (SetSystemValue(AHU, "outdoor_m3s", pinned(4.0)),),
        "humidifier": (
            AddPart(AHU, "humidifier"),
            SetPart(AHU, "humidifier", "choice", "spray"),
            SetPart(AHU, "humidifier", "humidity", pinned(0.85)),
        ),
    }

    def test_each_is_reached_names_what_and_where_and_its_mend_helps(self):
        for code, edits in self.WAYS.items():
            results = after(*edits)
            with self.subTest(code=code):
                found = next((f for f in results.findings if f.code == code), None)
                self.assertIsNotNone(found, sorted({f.code for f in results.findings}))
                self.assertTrue(found.title and found.reason)
                for mend in found.mends[:1]:
                    again = run(mend.command.apply(results.project), MEMO)
                    same = [
                        f
                        for f in again.findings
                        if f.code == code and f.object_id == found.object_id and f.title == found.title
                    ]
                    self.assertEqual(same, [], mend.label)

    def test_a_steady_state_is_found_in_all_of_them(self):
        for edits in self.WAYS.values():
            self.assertNotIn("unsolved", {f.code for f in after(*edits).findings})


class Gaps(unittest.TestCase):
    def test_a_system_without_rooms_or_parts_or_flow_says_what_is_missing(self):
        results = after(AddSystem(()))
        new = next(i for i in results.air if i != AHU)
        self.assertIsInstance(results.air[new], Missing)
        self.assertIsInstance(results.trains[new], Missing)
        self.assertIsInstance(results.trains[AHU], TrainResult)  # nothing else stops
        bare = structs.replace(station(), air_systems=(structs.replace(station().air_systems[0], parts=()),))
        self.assertEqual(run(bare, MEMO).trains[AHU].reason, "no unit")
        warm = after(SetSystemValue(AHU, "supply_c", pinned(30.0)))
        self.assertIn("cannot cool", warm.trains[AHU].remedy)
        self.assertTrue(warm.rooms)

    def test_without_months_of_cooling_there_is_no_coil_load(self):
        found = after(SetMonths(AHU, "cooling_months", ())).trains[AHU]
        self.assertEqual(found.coils_peak_w, 0.0)
        self.assertGreater(found.heater_w(found.heating), 20e3)
        cold = after(SetMonths(AHU, "heating_months", (5, 6, 7, 8, 9)))
        # summer holds a month of the southern winter
        self.assertGreater(cold.trains[AHU].heater_w(cold.trains[AHU].heating), 20e3)
        self.assertLess(
            after(SetMonths(AHU, "heating_months", ()))
            .trains[AHU]
            .heater_w(after(SetMonths(AHU, "heating_months", ())).trains[AHU].heating),
            1.0,
        )

    def test_a_room_that_leaves_the_system_takes_its_air_along(self):
        less = after(SetServed((room("0.03"),), ""))
        self.assertNotIn(room("0.03"), less.trains[AHU].room_ids)
        self.assertLess(less.air[AHU].flow_m3s, station_results().air[AHU].flow_m3s)

    def test_without_mixing_all_air_is_outdoor_air(self):
        flows: AirResult = after(RemovePart(AHU, "mixing")).air[AHU]
        assert_allclose(flows.outdoor_m3s, flows.flow_m3s)


class Why(unittest.TestCase):
    def test_every_figure_of_air_leads_down_to_a_source(self):
        results, seen = station_results(), {}
        at = results.trains[AHU].cooling
        first = [("flow", r.room_id) for r in results.air[AHU].rooms] + [
            ("need", r.room_id, n) for r in results.air[AHU].rooms for n in NEEDS if r.need(n) > 0
        ]
        first += [("air balance", r.room_id) for r in results.air[AHU].rooms] + [
            ("coil", AHU, at.month, at.hour),
            ("system outdoor", AHU),
            ("plant", "cooling"),
            ("plant", "heating"),
        ]
        first += [
            ("part", AHU, p.id, m, h)
            for p in results.trains[AHU].parts
            if p.kind != "rooms"
            for m, h in ((at.month, at.hour), (-1, -1))
        ]
        first += [("air state", AHU, n, at.month, at.hour) for n in at.solved.nodes]

        def walk(address) -> None:
            if address in seen:
                return
            why = seen[address] = explain(results, address)
            self.assertIsNotNone(why, address)
            self.assertTrue(why.name and (why.equation or why.parts or why.source), address)
            for part in (*why.parts, *(p for p in why.equation if isinstance(p, Term))):
                if part.address:
                    walk(part.address)

        for address in first:
            walk(address)
        self.assertGreater(len(seen), 250)

    def test_figures_are_those_of_the_results(self):
        results = station_results()
        at = results.trains[AHU].cooling
        assert_allclose(explain(results, ("coil", AHU, at.month, at.hour)).figure, at.cooling_w)
        assert_allclose(explain(results, ("flow", room("0.02"))).figure, results.room_air[room("0.02")].flow_m3s)
        assert_allclose(explain(results, ("plant", "heating")).figure, results.plant.heating_w)
        for number, name in (("0.01", "cooling"), ("0.02", "heating"), ("0.09", "air change"), ("0.02", "outdoor air")):
            assert_allclose(
                explain(results, ("need", room(number), name)).figure, results.room_air[room(number)].need(name)
            )


class StateListAnswered(unittest.TestCase):
    def test_rows_know_weather_rooms_and_the_train(self):
        results = after(
            AddListRow("air system", f"{AHU}/mixing"),
            AddListRow("room", room("0.03")),
            AddListRow("room", room("0.07")),
            AddListRow("outdoor", "winter"),
        )
        found = {r.name: a for r, a in zip(results.project.state_list, answers(results, {}))}
        at = results.trains[AHU].cooling
        assert_allclose((found["State of 1"].t, found["State of 1"].w), at.node("mixing")[:2])
        here = results.trains[AHU].room_ids.index(room("0.03"))
        assert_allclose(found["Room air 1"].t, at.solved.room_c[here, at.i])
        self.assertIn("no air system serves", found["Room air 2"].reason)
        assert_allclose(found["Outdoor 1"].t, -8.0)
        assert_allclose(found["Outdoor"].t, 31.8)
        # By hand: 54 % of the warmest hour with 46 % of room air.
        mixed = found["Mixed by hand"]
        assert_allclose(mixed.w, 0.54 * found["Outdoor"].w + 0.46 * found["Room wanted"].w, rtol=1e-9)
        named = dict(places(results.project.air_systems[0], results.trains[AHU]))
        self.assertEqual(named["supply"], "Supply to rooms")

    def test_places_follow_the_point_in_force(self):
        results = after(AddListRow("air system", f"{AHU}/supply"))
        winter = results.trains[AHU].heating
        found = answers(results, {AHU: winter})[-1]
        assert_allclose(found.t, winter.node("supply")[0])


class Year(unittest.TestCase):
    def test_hours_months_and_an_hour_alone_agree(self):
        results, hours = station_results(), synthetic()
        rooms = year_of(results, hours, results.trains[AHU].room_ids)
        year = air_year(results, hours, AHU, rooms=rooms)
        self.assertEqual(int(year.on.sum()), 8760)
        assert_allclose(year.by_month(year.cold_w).sum(), year.cold_w.sum() / 1000)
        self.assertEqual(int(year.by_month(year.free).sum()), int(year.free.sum()))
        self.assertLess(year.closing_w, 1e-3 * max(year.cold_w.max(), year.heat_w.max()))
        self.assertFalse((year.free & (year.coil_w > 0.005 * year.design_w)).any())
        self.assertTrue(year.free.any() and year.partial.any())
        self.assertGreater(year.by_month(year.cold_w)[6], year.by_month(year.cold_w)[0])
        self.assertTrue((year.recovered_w.sum() != 0) and (year.reheat_w <= year.heat_w + 1e-6).all())

    def test_the_plant_rests_when_nobody_is_there(self):
        from garnetfin.project.edits.systems import SetOperation

        results, hours = (
            after(
                SetOperation(AHU, "mode", "hours"), SetOperation(AHU, "from_h", 7.0), SetOperation(AHU, "to_h", 18.0)
            ),
            synthetic(),
        )
        year = air_year(results, hours, AHU)
        # The data room is used every day, so the unit runs its 11 hours every day.
        self.assertEqual(int(year.on.sum()), 365 * 11)
        self.assertEqual(float(year.coil_w[~year.on].sum() + year.fans_w[~year.on].sum()), 0.0)


class Chart(unittest.TestCase):
    def test_lines_hold_their_property(self):
        for units in ("SI", "IP"):
            kinds = set()
            for line in chart_lines(90e3, units):
                t, w = line.points.T
                kinds.add(line.kind)
                inside = (w > 1e-6) & (t > -39)
                if not inside.any():
                    continue
                t, w = t[inside], w[inside]
                match line.kind:
                    case "rh":
                        assert_allclose(air.relative_humidity(t, w, 90e3), line.value, rtol=1e-9)
                    case "h":
                        assert_allclose(air.enthalpy(t, w), line.value, atol=1e-6)
                    case "v":
                        assert_allclose(air.specific_volume(t, w, 90e3), line.value, rtol=1e-9)
                    case "wb" if not -2 < line.value < 2:
                        # Where the wick freezes two wet bulbs exist.
                        assert_allclose(air.wet_bulb(t, w, 90e3), line.value, atol=0.02)
            self.assertEqual(kinds, {"rh", "h", "v", "wb"})

    def test_the_way_through_a_coil_stays_between_its_states_and_below_saturation(self):
        w1 = float(air.humidity_ratio(27.5, 0.5, 101325))
        way = coil_path(27.5, w1, 13.0, 0.008723)
        assert_allclose(way[0], (27.5, w1))
        assert_allclose(way[-1], (13.0, 0.008723))
        self.assertTrue((np.diff(way[:, 0]) < 0).all() and (np.diff(way[:, 1]) <= 1e-12).all())
        self.assertTrue((air.relative_humidity(way[:, 0], way[:, 1], 101325.0) <= 1 + 1e-9).all())
        # Air past a bypass and air at the surface mix: enthalpy and water run straight to the surface's state.
        h = air.enthalpy(way[:, 0], way[:, 1])
        assert_allclose((h - h[0]) / (h[-1] - h[0]), (way[:, 1] - w1) / (0.008723 - w1), atol=1e-9)
        dry = coil_path(27.0, 0.009, 20.0, 0.009)
        assert_allclose(dry[:, 1], 0.009)
        assert_allclose(dry[[0, -1], 0], (27.0, 20.0))
