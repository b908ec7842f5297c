"""Air as plain values: trains of every pattern, chart, tables and cards in both units, against the results they
show.
"""

import math
import unittest
from functools import lru_cache

from garnetfin import display
from garnetfin.core.units import to_shown
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import NEEDS, Missing, Results
from garnetfin.engine.run import run
from garnetfin.project.edits.book import SetAssumption, SetBookChoice
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import AddPart, AddSystem, RemovePart, SetPart, SetPattern, SetSystemChoice
from garnetfin.project.edits.terminals import Placement, PlaceTerminals
from garnetfin.project.parts import KINDS
from garnetfin.project.values import Pinned
from garnetfin.ui.state import Selection, Show, State
from garnetfin.ui.view_models import air as vms
from garnetfin.ui.view_models import air_hours, air_tables, edits, psychro, state_list
from garnetfin.ui.view_models import terminals as terminal_vms
from garnetfin.ui.view_models.cards import card
from garnetfin.ui.view_models.tables import flow_table
from tests.example import TREATING, by_number, station

AHU = "ahu-north"
MEMO = Memo()


@lru_cache(maxsize=30)
def after(*edits) -> Results:
    project = station()
    for edit in edits:
        project = edit.apply(project)
    return run(project, MEMO)


def state(*edits, units="SI", selection=Selection(), link="Air", hour=None) -> State:
    results = after(*edits)
    return State(
        results.project, results, selection, Show(link=link, system_id=AHU, level_id="G", units=units, hour=hour), False
    )


def room(number: str) -> str:
    return by_number(station(), number).id


def number(text: str) -> float:
    return float(text.replace("\u202f", "").replace(display.MINUS, "-"))


class Trains(unittest.TestCase):
    def test_every_pattern_shows_its_parts_in_the_order_of_the_air(self):
        for name, pattern in TREATING.items():
            s = state(SetPattern(AHU, name))
            for kind in ("cooling", "heating"):
                vm = vms.train(s, vms.point_of(s, kind))
                self.assertEqual([p.kind for p in vm.parts], [k for k in pattern.kinds if k != "rooms"])
                sides = [p.side for p in vm.parts]
                self.assertEqual(sides, sorted(sides, key=("supply", "return").index))
                self.assertEqual(vm.states[0].node, "outdoor")
                self.assertEqual([x.number for x in vm.states], list(range(1, len(vm.states) + 1)))

    def test_the_air_changes_its_nature_where_it_is_mixed_and_conditioned(self):
        s = state()
        parts = {p.kind: p for p in vms.train(s, vms.point_of(s, "cooling")).parts}
        self.assertEqual(
            (parts["filter"].behind, parts["mixing"].behind, parts["cooling"].behind, parts["return_fan"].behind),
            ("outdoor", "faint", "supply", "return"),
        )
        bare = state(RemovePart(AHU, "mixing"))
        self.assertEqual(
            next(x.nature for x in vms.train(bare, vms.point_of(bare, "cooling")).states if x.node == "return"),
            "exhaust",
        )

    def test_states_that_do_not_differ_from_the_one_before_have_no_number(self):
        s = state()
        nodes = [x.node for x in vms.train(s, vms.point_of(s, "cooling")).states]
        self.assertNotIn("filter", nodes)
        self.assertNotIn("heating", nodes)  # off in summer
        self.assertIn("heating", [x.node for x in vms.train(s, vms.point_of(s, "heating")).states])

    def test_notes_say_what_a_part_does(self):
        s = state(AddPart(AHU, "humidifier"), AddPart(AHU, "preheat"), AddPart(AHU, "plenum"))
        summer = {p.kind: p.note for p in vms.train(s, vms.point_of(s, "cooling")).parts}
        winter = {p.kind: p.note for p in vms.train(s, vms.point_of(s, "heating")).parts}
        self.assertIn("off", summer["humidifier"])
        self.assertIn("kg/h", winter["humidifier"])
        self.assertIn("kW", winter["preheat"])
        self.assertIn("% outdoor", summer["mixing"])
        self.assertIn("leaks 0.8 %", summer["duct"])
        self.assertIn("reheat", summer["terminals"])
        units = state(SetPattern(AHU, "doas"))
        self.assertIn(
            "in rooms", {p.kind: p.note for p in vms.train(units, vms.point_of(units, "cooling")).parts}["terminals"]
        )

    def test_what_can_be_put_in_depends_on_what_is_there(self):
        offered = dict(vms.addable(state()))
        self.assertIn("preheat", offered)
        self.assertNotIn("mixing", offered)
        self.assertIn("mixing", dict(vms.addable(state(RemovePart(AHU, "mixing")))))
        for kind in offered:
            AddPart(AHU, kind).apply(station())  # every offer can be taken

    def test_any_hour_and_gaps(self):
        s = state(hour=(4, 10))
        point = vms.point_of(s, "hour")
        self.assertEqual((point.month, point.hour), (4, 10))
        self.assertIs(vms.point_of(state(), "hour"), state().results.trains[AHU].cooling)
        self.assertIsInstance(
            vms.point_of(State(station(), None, Selection(), Show(system_id=AHU), True), "cooling"), Missing
        )
        lost = State(station(), after(), Selection(), Show(system_id="none"), False)
        self.assertEqual(vms.point_of(lost, "cooling").reason, "no system")


class Tons(unittest.TestCase):
    def test_coil_and_plant_are_in_tons_where_the_office_asks_for_it(self):
        asked = SetBookChoice("cooling_unit", "tons")
        for units, asking, unit in (("IP", (asked,), "tons"), ("IP", (), "kBtu/h"), ("SI", (asked,), "kW")):
            s = state(*asking, units=units)
            coil = card(s).headlines[2]
            self.assertEqual(coil.unit, unit)
            # A ton is 12 000 Btu/h, a kilowatt 3 412.
            watts = {"tons": 3516.85, "kBtu/h": 293.07, "kW": 1000.0}[unit]
            self.assertAlmostEqual(number(coil.figure) * watts / s.results.trains[AHU].coils_peak_w, 1.0, places=2)
            self.assertTrue(air_tables.plant_table(s).rows[0].cells[1].text.endswith(unit))


class Chart(unittest.TestCase):
    def test_lines_are_made_once_and_states_lie_in_the_window(self):
        for units in ("SI", "IP"):
            s = state(units=units)
            one, two = (psychro.psychro(s, vms.point_of(s, k)) for k in ("cooling", "heating"))
            self.assertIs(one.lines, two.lines)
            for vm in (one, two):
                for x in (*vm.states, *vm.others):
                    self.assertTrue(vm.x_range[0] < x.t < vm.x_range[1] and 0 <= x.w < vm.y_range[1])
            self.assertEqual(one.units, (display.unit("temperature", units), display.unit("humidity_ratio", units)))
        labels = [x.label.split()[0] for x in one.lines if x.kind == "h" and x.label]
        self.assertTrue(labels and all(number(x) % 10 == 0 for x in labels), labels)  # round figures in IP as well

    def test_every_kind_of_line_is_named(self):
        for units, ends in (
            ("SI", {"h": "kJ/kg", "wb": "°C wet", "v": "m³/kg"}),
            ("IP", {"h": "Btu/lb", "v": "ft³/lb"}),
        ):
            s = state(units=units)
            lines = psychro.psychro(s, vms.point_of(s, "cooling")).lines
            for kind, end in ends.items():
                named = [x.label for x in lines if x.kind == kind and x.label]
                self.assertTrue(len(named) > 3 and all(x.endswith(end) for x in named), (kind, named))

    def test_the_ratio_line_runs_from_the_rooms_through_the_supply_air(self):
        s = state()
        vm = psychro.psychro(s, vms.point_of(s, "cooling"))
        (line,) = [p for p in vm.paths if p.label]
        (x1, y1), (x2, y2) = line.points
        places = {x.node: (x.t, x.w) for x in vm.states}
        self.assertEqual((x1, y1), places["rooms"])
        x, y = places["supply"]
        self.assertAlmostEqual((y - y1) / (x - x1), (y2 - y1) / (x2 - x1), places=6)
        # By heat and water that the air takes up: 1006 J/kgK against 2501 + 1.86 t kJ/kg of vapour.
        dry, wet = (x1 - x) * (1006 + 1.86 * y), (y1 - y) * (2501 + 1.86 * x1)
        self.assertAlmostEqual(float(line.label.split()[-1]), dry / (dry + wet), places=2)

    def test_paths_run_from_state_to_state(self):
        s = state()
        vm = psychro.psychro(s, vms.point_of(s, "cooling"))
        places = {x.node: (x.t, x.w) for x in vm.states}
        coil = next(p for p in vm.paths if p.points[-1] == places["cooling"] and not p.faint)
        self.assertGreater(len(coil.points), 5)  # bent, as a wet coil goes
        self.assertTrue(any(p.points[0] == places["return"] and p.points[-1] == places["mixing"] for p in vm.paths))

    def test_only_what_is_set_can_be_dragged(self):
        s = state()
        self.assertEqual(psychro.psychro(s, vms.point_of(s, "cooling")).movable, {"supply", "cooling"})
        self.assertEqual(psychro.psychro(s, vms.point_of(s, "heating")).movable, frozenset())
        free = state(SetSystemChoice(AHU, "supply", "room"))
        self.assertEqual(psychro.psychro(free, vms.point_of(free, "cooling")).movable, frozenset())


class Tables(unittest.TestCase):
    def test_states_in_both_units(self):
        for units in ("SI", "IP"):
            s = state(units=units)
            point = vms.point_of(s, "cooling")
            for row in air_tables.state_rows(s, point).rows:
                t, _w, m = point.node(row.id)
                self.assertAlmostEqual(number(row.cells[1].text), to_shown("temperature", t, units), delta=0.051)
                self.assertEqual(row.cells[5].text, display.figure("mass_flow", m, units))

    def test_balance_sums_levels_zones_and_the_system(self):
        s = state()
        table = air_tables.balance_table(s, s.results.air[AHU])
        sums = {r.id: r for r in table.rows if r.kind == "sum"}
        self.assertEqual({k.split()[0] for k in sums}, {"level", "zone", "system"})
        whole = number(sums["system"].cells[2].text)
        levels = sum(number(r.cells[2].text) for k, r in sums.items() if k.startswith("level"))
        self.assertAlmostEqual(whole, levels, delta=1.0)
        self.assertAlmostEqual(whole, s.results.air[AHU].flow_m3s * 1000, delta=0.6)
        kitchen = next(r for r in table.rows if r.id == room("0.10"))
        self.assertEqual((kitchen.cells[4].origin, kitchen.cells[-1].text), ("pinned", "0.09"))
        short = state(
            SetRoomValue((room("0.10"),), "supply_m3s", Pinned(value=0.02)),
            SetRoomValue((room("0.09"),), "supply_m3s", Pinned(value=0.0)),
        )
        self.assertTrue(air_tables.balance_table(short, short.results.air[AHU]).rows)

    def test_flows_that_no_air_can_meet_are_words(self):
        s = state(SetAssumption("humidity_high", Pinned(value=0.25)))
        texts = [c.text for r in flow_table(s).rows for c in r.cells]
        self.assertIn("no flow can", texts)
        self.assertNotIn("inf", " ".join(texts))

    def test_coil_check_has_its_ratios_with_bands(self):
        for units in ("SI", "IP"):
            s = state(units=units)
            rows = {r.cells[0].text: r.cells for r in air_tables.coil_table(s, vms.point_of(s, "cooling")).rows}
            for name in (
                "Dry bulb",
                "Enthalpy",
                "Total load",
                "Sensible",
                "Surface",
                "Outdoor air",
                "Ventilation load",
                "Room humidity",
                "Coil per floor",
                "Air per floor",
                "Floor per kW",
                "Sensible heat ratio",
                "Fan power per flow",
            ):
                self.assertIn(name, rows)
            self.assertIn("usual", rows["Coil per floor"][3].text)
        winter = state(SetPattern(AHU, "heating_ventilation"))
        self.assertEqual(len(air_tables.coil_table(winter, vms.point_of(winter, "cooling")).rows), 1)

    def test_proof_lists_what_the_load_is_made_of_and_every_node(self):
        s = state()
        table = air_tables.proof_table(s, vms.point_of(s, "cooling"))
        left = {r.cells[0].text: r.cells[1].text for r in table.rows if r.cells[0].text}
        parts = [v for k, v in left.items() if k not in ("Coils together", "Left over")]
        self.assertAlmostEqual(sum(map(number, parts)), number(left["Coils together"]), delta=0.01 * len(parts))
        self.assertIn("The whole system", [r.cells[2].text for r in table.rows])

    def test_plant_with_two_systems_and_with_none(self):
        s = state(AddSystem((room("0.03"),)))
        rows = {r.cells[0].text: r.cells[1].text for r in air_tables.plant_table(s).rows}
        self.assertIn("Cooling, sum of all coils", rows)
        self.assertTrue(any(k.startswith("Zone ") for k in rows))
        none = State(
            station(), after(SetSystemChoice(AHU, "flow", "fixed")), Selection(), Show(system_id="gone"), False
        )
        self.assertTrue(air_tables.plant_table(none).rows)

    def test_the_field_of_coil_load_rings_the_hour_in_force(self):
        from garnetfin.engine.stages.train import all_hours

        s = state()
        field = air_hours.coil_field(s, s.results, AHU, all_hours(s.results, AHU))
        self.assertEqual(field.chosen, (6, 14))
        self.assertAlmostEqual(max(map(max, field.values)), 88.2, delta=0.1)
        april = state(hour=(3, 9))
        self.assertEqual(air_hours.with_chosen(field, vms.point_of(april, "hour")).chosen, (3, 9))
        self.assertIs(air_hours.with_chosen(field, s.results.trains[AHU].heating), field)


class Cards(unittest.TestCase):
    def card(self, kind: str, *ids: str, edits=(), units="SI", at="cooling"):
        s = state(*edits, units=units, selection=Selection(kind, ids))
        return card(s, point=vms.point_of(s, at))

    def test_every_part_has_a_card_with_what_matters_on_it(self):
        edits = (AddPart(AHU, "humidifier"), AddPart(AHU, "preheat"), AddPart(AHU, "plenum"), AddPart(AHU, "precool"))
        for part in after(*edits).project.air_systems[0].parts:
            for units in ("SI", "IP"):
                vm = self.card("part", part.id, edits=edits, units=units)
                self.assertEqual(vm.title, part.title)
                inputs = [r for s in vm.sections if s.title == "Inputs" for r in s.rows]
                names = {r.edit.command.field for r in inputs}
                self.assertLessEqual(names, {*KINDS[part.kind].figures, "pressure", "choice", "name"})
                self.assertEqual("pressure" in names, KINDS[part.kind].pressure_pa is not None)
                if part.kind in ("rooms", "terminals"):
                    self.assertEqual(vm.foot[0], "")
                else:
                    self.assertIn("Remove from the unit", vm.foot[0])

    def test_what_would_change_without_a_part(self):
        vm = self.card("part", "cooling")
        rows = {r.label: r.value for s in vm.sections if s.title == "Without this component" for r in s.rows}
        self.assertAlmostEqual(number(rows["Cooling"]), -88.2, delta=0.1)
        self.assertIn("was", rows["Supply"])
        quiet = self.card("part", "attenuator")  # its pressure drop alone
        self.assertEqual(
            [r.label for s in quiet.sections if s.title == "Without this component" for r in s.rows],
            ["Cooling", "Fans"],
        )
        off = self.card("part", "heating")
        self.assertIn("Fans", [r.label for s in off.sections if s.title == "Without this component" for r in s.rows])

    def test_the_system_shows_both_flows_and_the_office_book(self):
        vm = self.card("")
        titles = [s.title for s in vm.sections]
        for title in ("Control", "Supply air", "What governs", "Constant and variable flow", "Assumptions for air"):
            self.assertIn(title, titles)
        book = next(s for s in vm.sections if s.title == "Assumptions for air")
        self.assertEqual({type(r.edit.command) for r in book.rows}, {SetAssumption, SetBookChoice})
        loads = card(state(link="Loads"), block=(after().blocks[AHU], "AHU North"))
        shown = {
            r.edit.command.field
            for s in loads.sections
            for r in getattr(s, "rows", ())
            if isinstance(getattr(getattr(r, "edit", None), "command", None), SetAssumption)
        }
        self.assertNotIn("noise_nc", shown)  # air's part of the book stands with air
        self.assertIn("infiltration_1h", shown)

    def test_a_room_lists_its_needs_and_transfers(self):
        vm = self.card("room", room("0.10"))
        needs = next(s for s in vm.sections if s.title == "What each need asks for")
        row = after().room_air[room("0.10")]
        self.assertEqual([r.label.lower() for r in needs.rows], [n for n in NEEDS if row.need(n) > 0])
        self.assertTrue(all(r.why[0] == "need" for r in needs.rows))
        gives = next(s for s in self.card("room", room("0.09")).sections if s.title == "Gives air")
        self.assertIn("0.10", gives.rows[0].label)
        many = self.card("room", room("0.01"), room("0.02"))
        first = next(s for s in many.sections if s.title == "Needs")
        self.assertEqual(next(r for r in first.rows if r.label == "Supply air").text, "several")
        self.assertTrue(self.card("room", room("0.07")).title)  # one that no system serves

    def test_terminals_one_and_several(self):
        own = [t.id for t in station().terminals if t.room_id == room("0.01")]
        one = self.card("terminal", own[0])
        self.assertEqual(one.headlines[0].figure, "87")
        self.assertIn("Of its reach", [r.label for s in one.sections if s.title == "What it does" for r in s.rows])
        self.assertIn("3 terminals", self.card("terminal", *own).foot[0])
        placed = (PlaceTerminals((Placement(room("0.07"), "return", "egrid", "", ((24.0, 9.0),)),)),)
        lost = next(t for t in after(*placed).project.terminals if t.room_id == room("0.07"))
        self.assertIn("no air system", self.card("terminal", lost.id, edits=placed).line)

    def test_every_input_leads_to_a_command_and_figures_to_their_why(self):
        for vm in (
            self.card(""),
            self.card("part", "recovery"),
            self.card("room", room("0.10")),
            self.card("state row", "row3"),
            self.card("state row", "row5"),
        ):
            for section in vm.sections:
                for r in getattr(section, "rows", ()):
                    if getattr(r, "edit", None) is None:
                        continue
                    if r.choices:
                        entered = next((k for k, _ in r.choices if k != r.chosen), r.choices[0][0])
                        if r.edit.slot == "months" and entered == "own":
                            continue
                    else:
                        entered = (
                            None if r.origin in ("rule", "pinned") and r.quantity else "x" if not r.quantity else 0.5
                        )
                    self.assertTrue(callable(r.edit.filled(entered).apply), r.label)
        self.assertEqual(
            edits.part_value(AHU, "recovery", "sensible").address("", ""), ("part figure", AHU, "recovery", "sensible")
        )


class StateList(unittest.TestCase):
    def test_each_kind_says_what_it_is_made_of(self):
        s = state()
        table = state_list.list_table(s, state_list.answered(s, vms.point_of(s, "cooling")))
        made = {r.cells[0].text: r.cells[1].text for r in table.rows}
        self.assertEqual(made["Outdoor"], "warmest hour of the design days")
        self.assertIn("relative humidity 50 %", made["Room wanted"])
        self.assertEqual(made["Mixed by hand"], "0.54 Outdoor + 0.46 Room wanted")
        self.assertIn("→", made["Coil by hand"])
        self.assertTrue(all(len(r.cells) == len(table.columns) for r in table.rows))

    def test_states_are_drawn_with_their_processes(self):
        s = state(units="IP")
        rows, paths = state_list.on_chart(s, state_list.answered(s, vms.point_of(s, "cooling")))
        self.assertEqual([r.name for r in rows], ["Outdoor", "Room wanted", "Mixed by hand", "Off the coil"])
        self.assertEqual(len(paths), 4)  # two into the mix, the process, the flow
        self.assertAlmostEqual(rows[0].t, to_shown("temperature", 31.8, "IP"), places=6)

    def test_cards_of_rows_offer_other_rows_but_not_themselves(self):
        s = state(selection=Selection("state row", ("row3",)))
        vm = state_list.row_card(s, state_list.answered(s, vms.point_of(s, "cooling")))
        sources = [r for r in vm.sections[0].rows if r.edit.slot == "source"]
        self.assertEqual(len(sources), 3)  # two streams and one to add
        self.assertNotIn("row3", [k for k, _ in sources[0].choices])
        self.assertIn("", [k for k, _ in sources[0].choices])
        self.assertEqual(state_list.first_key(s, "room"), next(r.id for r in station().rooms if r.system_id))


class TerminalTables(unittest.TestCase):
    def test_options_then_what_stops_the_others(self):
        table = terminal_vms.option_table(state(), room("0.01"), "supply", "ceiling")
        kinds = [r.kind for r in table.rows]
        self.assertEqual(kinds, sorted(kinds))  # options, then stopped ones
        self.assertIn("option", kinds)
        note = terminal_vms.option_table(state(), room("0.07"), "supply", "ceiling")
        self.assertIn("Serve the room", note.rows[0].cells[0].text)
        self.assertIn("Click a room", terminal_vms.option_table(state(), "", "supply", "ceiling").rows[0].cells[0].text)

    def test_schedule_in_both_units_and_its_warnings(self):
        for units in ("SI", "IP"):
            s = state(units=units)
            table = terminal_vms.schedule(s)
            self.assertEqual(len(table.rows), len(station().terminals))
            for row in table.rows:
                found = s.results.terminals[row.id]
                self.assertEqual(row.cells[4].text, display.figure("room_flow", found.flow_m3s, units))
                if math.isfinite(found.ratio) and not found.reaches:
                    self.assertEqual(row.cells[8].tone, "watch")
        strict = state(SetAssumption("noise_nc", Pinned(value=15.0)))
        self.assertTrue(any(r.cells[10].tone == "watch" for r in terminal_vms.schedule(strict).rows))
        self.assertIn("32 models", terminal_vms.catalogue_words(state()))

    def test_a_part_that_is_pinned_is_marked(self):
        s = state(SetPart(AHU, "recovery", "sensible", Pinned(value=0.6)))
        vm = card(
            State(s.project, s.results, Selection("part", ("recovery",)), s.show, False),
            point=vms.point_of(s, "cooling"),
        )
        row = next(r for x in vm.sections if x.title == "Inputs" for r in x.rows if r.edit.command.field == "sensible")
        self.assertEqual((row.origin, row.text), ("pinned", "60"))
