"""Cards as plain values, without a window: what they say is what the engine found."""

import inspect
import unittest

from garnetfin import display
from garnetfin.core.errors import InputError
from garnetfin.core.tables import room_uses
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import SetSize, SetTerminal
from garnetfin.project.edits.papers import ReopenFinding
from garnetfin.project.edits.rooms import SetGlazing, SetRoomValue, UnpinRoom
from garnetfin.project.edits.systems import ChooseFan, SetFanValue
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule
from garnetfin.ui.state import Selection, Show, State
from garnetfin.ui.view_models import charts, edits
from garnetfin.ui.view_models.card import (
    CardVM,
    CauseBars,
    DayLine,
    FindingsVM,
    Inputs,
    Ladder,
    Lines,
    PartBars,
    StackBar,
)
from garnetfin.ui.view_models.cards import card
from garnetfin.ui.view_models.edits import typed
from garnetfin.ui.view_models.rooms import FAMILIES, family
from tests.example import by_number, one_room, station, station_results

SYSTEM = "ahu-north"


def state(link: str, kind: str = "", *ids: str, project: Project | None = None, units: str = "SI", **show) -> State:
    results = station_results() if project is None else run(project, Memo())
    project = project or station()
    shown = Show(
        link=link,
        system_id=project.air_systems[0].id if project.air_systems else "",
        level_id=project.levels[0].id if project.levels else "",
        units=units,
        **show,
    )
    return State(project, results, Selection(kind, ids) if ids else Selection(), shown, False)


def section(vm: CardVM, kind: type, title: str = ""):
    return next(s for s in vm.sections if isinstance(s, kind) and title in s.title)


def room(number: str) -> str:
    return by_number(station(), number).id


def terminal(label: str) -> str:
    return next(t.id for t in station().terminals if t.label == label)


def named(row) -> str:
    """The field that an input's command sets."""
    return getattr(row.edit.command, "field", row.edit.slot)


class RoomCards(unittest.TestCase):
    def test_headlines_are_the_engines_figures(self):
        vm = card(state("Building", "room", room("0.01")))
        result = station_results().room(room("0.01"))
        self.assertEqual(vm.title, "Reading room")
        self.assertEqual(
            [h.figure for h in vm.headlines][:2],
            [display.figure("load", result.peak_w, "SI"), display.figure("load", result.heating_w, "SI")],
        )
        self.assertEqual(vm.headlines[2].reason, "cooling governs")

    def test_marks_tell_rule_pin_and_import_apart(self):
        rows = {named(r): r.origin for r in section(card(state("Building", "room", room("0.01"))), Inputs).rows}
        self.assertEqual((rows["cooling_c"], rows["heating_c"], rows["people"]), ("rule", "pinned", "imported"))

    def test_tips_say_where_a_value_comes_from(self):
        rows = {named(r): r.tip for r in section(card(state("Building", "room", room("0.01"))), Inputs).rows}
        self.assertIn("office standards", rows["cooling_c"])
        self.assertIn("by rule 20", rows["heating_c"])
        self.assertIn("brief of the station", rows["people"])

    def test_faces_add_up_to_what_the_room_has(self):
        vm = card(state("Building", "room", room("0.01")))
        lines = section(vm, Lines, "Faces")
        faces = [f for f in station_results().room(room("0.01")).faces if f.to != "inside"]
        self.assertAlmostEqual(
            sum(float(r.value) for r in lines.rows), sum(f.area_m2 for f in faces), delta=0.05 * len(lines.rows)
        )
        self.assertEqual(next(r.target for r in lines.rows if r.label == "glass wall"), ("opening", "G-01/W01"))

    def test_an_unheated_room_says_so(self):
        vm = card(state("Building", "room", room("0.07")))
        found = station_results().room(room("0.07"))
        self.assertEqual((vm.headlines[0].label, vm.headlines[1].reason), ("Warmest", "not served: unconditioned"))
        self.assertEqual(vm.headlines[0].figure, display.figure("temperature", float(found.air_c.max()), "SI"))
        self.assertAlmostEqual(max(section(vm, DayLine).values), float(found.air_c.max()))

    def test_several_rooms_sum_up_at_their_common_hour(self):
        ids = (room("0.01"), room("0.02"))
        vm = card(state("Building", "room", *ids))
        both = sum(station_results().room(i).sensible_w for i in ids)
        self.assertEqual(vm.headlines[0].figure, display.figure("load", float(both.max()), "SI"))
        self.assertEqual(next(r.text for r in section(vm, Inputs).rows if named(r) == "people"), "several")

    def test_day_of_the_peak_has_its_peak(self):
        line = section(card(state("Building", "room", room("0.02"))), DayLine)
        self.assertEqual(max(range(24), key=lambda h: line.values[h]), line.peak_hour)

    def test_pinned_values_offer_to_be_unpinned(self):
        vm = card(state("Building", "room", room("0.01")))
        self.assertIn("2 pinned values", vm.foot[0])
        self.assertEqual(vm.foot[1].command, UnpinRoom((room("0.01"),)))
        self.assertEqual(card(state("Building", "room", room("0.02"))).foot[0], "")

    def test_loads_show_causes_on_both_sides(self):
        bars = section(card(state("Loads", "room", room("0.01"), scope="room")), CauseBars)
        self.assertEqual(bars.rows[0].label, "Solar through glass")
        self.assertTrue(any(r.left > 0 for r in bars.rows))
        self.assertLessEqual(max(abs(v) for r in bars.rows for v in (r.left, r.right)), 1.0 + 1e-9)

    def test_air_shows_every_need_and_the_one_that_governs(self):
        vm = card(state("Air", "room", room("0.02")))
        rows = section(vm, Lines, "What each need").rows
        self.assertEqual([r.label for r in rows if r.strong], ["Outdoor air"])
        self.assertIn("supply_m3s", [named(r) for r in section(vm, Inputs, "Needs").rows])

    def test_a_vanished_selection_falls_back(self):
        self.assertEqual(card(state("Building", "room", "gone")).kind, "Building")
        self.assertEqual(card(state("Ducts", "segment", "gone")).kind, "Supply ducts · AHU North")

    def test_before_the_first_results_it_says_computing(self):
        first = state("Building")
        waiting = State(first.project, None, first.selection, first.show, True)
        self.assertIn("Computing", card(waiting).line)

    def test_every_use_belongs_to_one_family_of_fills(self):
        for use in room_uses():
            self.assertIn(family(use), FAMILIES)
            self.assertLessEqual(sum(use in uses for _, uses in FAMILIES.values()), 1)


class OpeningCards(unittest.TestCase):
    def test_measures_and_what_it_does_to_its_room(self):
        vm = card(state("Building", "opening", "G-01/W01"))
        self.assertIn("Glass wall", vm.kind)
        self.assertEqual([h.figure for h in vm.headlines], ["14.6", "1.10", "0.32"])
        self.assertIn(SetGlazing, [type(r.edit.command) for r in section(vm, Inputs).rows])
        self.assertEqual(section(vm, Lines).rows[0].target, ("room", room("0.01")))

    def test_a_door_has_no_glass(self):
        vm = card(state("Building", "opening", "G-44/D01"))
        self.assertEqual(len(vm.headlines), 1)
        self.assertNotIn(SetGlazing, [type(r.edit.command) for r in section(vm, Inputs).rows])


class DuctCards(unittest.TestCase):
    def segment(self, label: str = "0.01a") -> str:
        ducts = station_results().ducts[SYSTEM]
        return next(t.segment_id for t in ducts.terminals if t.label == label)

    def test_pressure_lines_add_up_to_the_segments_loss(self):
        segment = self.segment()
        vm = card(state("Ducts", "segment", segment))
        lines = section(vm, Lines, "Pressure here").rows
        result = station_results().ducts[SYSTEM].segments[segment]
        self.assertAlmostEqual(
            sum(float(r.value.replace("−", "-")) for r in lines[:-1]), result.loss_pa, delta=0.05 * len(lines)
        )
        self.assertEqual(lines[-1].value, display.figure("fine_pressure", result.left_pa, "SI"))

    def test_ladder_marks_what_the_rule_gives_and_falls_in_friction(self):
        vm = section(card(state("Ducts", "segment", self.segment())), Ladder)
        self.assertEqual(sum(r.by_rule for r in vm.rungs), 1)
        friction = [float(r.friction) for r in vm.rungs]
        self.assertEqual(friction, sorted(friction, reverse=True))

    def test_ladder_strikes_what_is_too_deep_and_ticks_what_clears_the_beam(self):
        beamed = next(i for i, s in station_results().ducts[SYSTEM].segments.items() if "B1" in s.obstacle)
        vm = section(card(state("Ducts", "segment", beamed)), Ladder)
        self.assertTrue(any(r.clears for r in vm.rungs))
        self.assertFalse(next(r for r in vm.rungs if r.by_rule).clears)
        deep = SetSize((beamed,), PinnedSize(shape="rectangular", width_m=0.4, height_m=0.4)).apply(station())
        vm = section(card(state("Ducts", "segment", beamed, project=deep)), Ladder)
        self.assertTrue(any("too deep by 100 mm" in r.reason for r in vm.rungs))

    def test_a_pinned_size_off_the_series_has_its_own_rung(self):
        odd = SetSize(("s1",), PinnedSize(shape="round", width_m=0.173, height_m=0.173)).apply(one_room())
        vm = section(card(state("Ducts", "segment", "s1", project=odd)), Ladder)
        self.assertEqual([r.label for r in vm.rungs if r.pinned], ["ø173"])

    def test_terminal_parts_fill_the_whole_pressure(self):
        vm = card(state("Balance", "terminal", terminal("1.05")))
        bar = section(vm, StackBar)
        self.assertAlmostEqual(sum(share for _, share, *_ in bar.rows), 1.0, 3)

    def test_the_index_terminal_sets_the_fan(self):
        index = station_results().ducts[SYSTEM].index
        vm = card(state("Balance", "terminal", index.terminal_id))
        self.assertEqual(vm.headlines[2].reason, "sets the fan")
        self.assertEqual(next(r.text for r in section(vm, Inputs, "Damper").rows if r.label == "Blade angle"), "0")
        self.assertEqual(section(vm, Lines, "What it does").rows[0].value, "0.0")

    def test_a_chosen_model_is_pinned(self):
        project = SetTerminal(terminal("1.05"), model="GF-swirl-250").apply(station())
        rows = section(card(state("Balance", "terminal", terminal("1.05"), project=project)), Inputs, "Terminal").rows
        model = next(r for r in rows if r.edit.slot == "model")
        self.assertEqual((model.origin, model.text), ("pinned", "GF-swirl-250"))

    def test_several_segments(self):
        ids = [s.id for s in station().segments[:3]]
        vm = card(state("Ducts", "segment", *ids))
        self.assertEqual(vm.title, "3 ducts")

    def test_nothing_selected_shows_the_system(self):
        vm = card(state("Ducts"))
        self.assertEqual(vm.headlines[1].reason, station_results().ducts[SYSTEM].index.label)
        self.assertTrue(section(vm, FindingsVM).findings)


class SystemCards(unittest.TestCase):
    def test_fan_parts_sum_up(self):
        vm = card(state("Fan"))
        bars = section(vm, PartBars)
        self.assertAlmostEqual(
            sum(float(t) for _, _, t, *_ in bars.rows), float(bars.total), delta=0.5 * len(bars.rows)
        )

    def test_a_fan_that_cannot_do_it_says_why(self):
        vm = card(state("Fan", project=ChooseFan(SYSTEM, "GF-P250").apply(station())))
        self.assertIn("too fast", vm.line)

    def test_a_pinned_speed_is_marked(self):
        project = SetFanValue(SYSTEM, "speed_rpm", Pinned(value=800.0)).apply(station())
        rows = section(card(state("Fan", project=project)), Inputs).rows
        self.assertEqual(next(r.origin for r in rows if named(r) == "speed_rpm"), "pinned")

    def test_place(self):
        vm = card(state("Climate"), month=0)
        self.assertIn("Jan", section(vm, Inputs, "Design day").title)
        self.assertEqual(vm.headlines[1].figure, "−8.0")

    def test_air_system_counts_what_governs(self):
        rows = section(card(state("Air")), Lines, "What governs").rows
        self.assertEqual(sum(int(r.value) for r in rows), 26)

    def test_papers_name_what_is_open(self):
        vm = card(state("Documents"), pages=8, made="made now")
        bad = [f for f in station_results().findings if f.severity == "bad"]
        self.assertEqual(vm.headlines[2].figure, str(len(station_results().findings)))
        self.assertIn(str(len(bad)), vm.headlines[2].reason)

    def test_gaps_are_said_on_every_card(self):
        for link in ("Climate", "Building", "Loads", "Air", "Ducts", "Balance", "Fan", "Documents"):
            vm = card(state(link, project=Project()))
            self.assertTrue(vm.title, link)

    def test_ip_units_everywhere(self):
        for link, kind, ids in (
            ("Building", "room", (room("0.01"),)),
            ("Fan", "", ()),
            ("Climate", "", ()),
            ("Balance", "terminal", (terminal("1.05"),)),
        ):
            vm = card(state(link, kind, *ids, units="IP"))
            text = repr(vm)
            for si in ("'kW'", "'L/s'", "'Pa'", "'°C'", "'m²'"):
                self.assertNotIn(si, text, link)


class Entering(unittest.TestCase):
    def row(self, name: str):
        rows = section(card(state("Building", "room", room("0.01"))), Inputs).rows
        return next(r for r in rows if named(r) == name)

    def test_typed_text_becomes_a_command(self):
        self.assertEqual(
            typed(self.row("people"), "20", "SI"), SetRoomValue((room("0.01"),), "people", Pinned(value=20.0))
        )
        self.assertAlmostEqual(typed(self.row("cooling_c"), "75 °F", "SI").value.value, 23.8889, 4)

    def test_an_empty_field_lets_the_rule_decide_where_there_is_one(self):
        self.assertEqual(typed(self.row("people"), " ", "SI"), SetRoomValue((room("0.01"),), "people", Rule()))
        self.assertRaisesRegex(InputError, "needed here", typed, self.row("height_m"), "", "SI")

    def test_each_edit_fills_a_place_that_its_command_has(self):
        for name, make in inspect.getmembers(edits, inspect.isfunction):
            if make.__module__ != edits.__name__ or name == "typed":
                continue
            given = {
                p: ("x", "y") if p.endswith("ids") else 1 if p in ("at", "index", "month", "whole_m") else "k"
                for p in inspect.signature(make).parameters
            }
            edit = make(**given)
            with self.subTest(name=name):
                self.assertTrue(not edit.slot or edit.slot in type(edit.command).__struct_fields__)
                self.assertTrue(callable(edit.command.apply))
                if edit.slot:
                    entered = {
                        edits.pinned: 3.0,
                        edits.whole: 3.0,
                        edits.is_yes: "yes",
                        edits.span_of_months: "summer",
                    }.get(edit.fill, 0.8 if name == "inline_place" else "no")
                    self.assertNotEqual(edit.filled(entered), edit.command)
                    self.assertEqual(getattr(edit.filled(entered), edit.slot), edit.fill(entered))
                else:
                    self.assertEqual(edit.filled(), edit.command)

    def test_emptied_means_what_the_input_says(self):
        self.assertEqual(edits.deviation("a", "b", "c").filled("  "), ReopenFinding("a", "b", "c"))
        self.assertEqual(edits.list_row("r", "a_value").filled(None).value, 0.0)
        self.assertEqual(edits.apply_set("s").filled("").where, "all")
        self.assertEqual(edits.fan_count("s").filled(2.6).count, 3)
        self.assertEqual(edits.months("s", "cooling_months").filled("summer").months, (5, 6, 7, 8, 9))
        self.assertIs(edits.site_field("summer_time").filled("yes").value, True)


class ScopeOfLoads(unittest.TestCase):
    def test_scopes_hold_their_rooms(self):
        everything, name = charts.scope_rooms(state("Loads", scope="building"))
        self.assertEqual((len(everything), name), (26, "the building"))
        level, name = charts.scope_rooms(state("Loads", scope="level"))
        self.assertEqual((len(level), name), (14, "Ground level"))
        one, name = charts.scope_rooms(state("Loads", "room", room("0.02"), scope="room"))
        self.assertEqual((one, name), ((room("0.02"),), "Seminar room"))

    def test_hour_field_and_day_show_the_same_hour(self):
        s = state("Loads")
        block = charts.scope_block(s, charts.scope_rooms(s)[0])
        for kind in ("sensible", "latent", "total"):
            field, day = charts.hour_field(s, block, "x", kind), charts.day_by_cause(s, block, kind)
            month, hour = field.chosen
            self.assertAlmostEqual(field.values[month][hour], day.total[hour], 9)
            self.assertAlmostEqual(sum(v[hour] for _, v in day.causes), day.total[hour], 6)
            self.assertAlmostEqual(max(max(r) for r in field.values), field.values[month][hour], 9)
