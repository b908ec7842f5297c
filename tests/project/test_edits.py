"""Commands: the new value, sharing of the rest, refusals; history."""

import unittest

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import (
    AddTerminal,
    DrawRun,
    MovePoint,
    RemoveDucts,
    SetFlexible,
    SetShape,
    SetSize,
    SetTerminal,
)
from garnetfin.project.edits.rooms import (
    AddWindow,
    RemoveOpening,
    SetCeiling,
    SetGlazing,
    SetOpening,
    SetRoomText,
    SetRoomUse,
    SetRoomValue,
    SetServed,
    UnpinRoom,
)
from garnetfin.project.edits.site import SetMonth, SetSiteValue
from garnetfin.project.edits.systems import ChooseFan, SetPart, SetSystemValue
from garnetfin.project.history import History
from garnetfin.project.lookup import find, fresh_ids
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import one_room, station


class Rooms(unittest.TestCase):
    def setUp(self):
        self.project = one_room()

    def test_pinning_touches_one_room_and_shares_the_rest(self):
        station_rooms = station().rooms
        edited = SetRoomValue((station_rooms[3].id,), "people", Pinned(value=7.0)).apply(station())
        self.assertEqual(edited.rooms[3].people, Pinned(value=7.0))
        self.assertTrue(all(a is b for i, (a, b) in enumerate(zip(edited.rooms, station_rooms)) if i != 3))
        self.assertIs(edited.walls, station().walls)

    def test_the_same_value_is_no_edit(self):
        for command in (
            SetRoomValue(("r1",), "people", Rule()),
            SetRoomUse(("r1",), "office_single"),
            SetCeiling(("r1",), 2.8),
            SetServed(("r1",), "a"),
            SetOpening("w1", "W1", "width_m", 2.0),
            SetGlazing((("w1", "W1"),), "g"),
            SetSize(("s1",), Rule()),
            SetShape(("s1",), "round"),
            SetFlexible("s1", 0.0),
            UnpinRoom(("r1",)),
            SetTerminal("t1", share=Rule()),
            MovePoint("p1", 2.5, 8.0, 2.6),
            ChooseFan("a", ""),
            SetSystemValue("a", "supply_c", Rule()),
            SetMonth(0, "range_k", Pinned(value=10.0)),
            SetRoomText("r1", "name", "Room"),
            SetSiteValue("winter_c", Rule()),
        ):
            self.assertIs(command.apply(self.project), self.project, command)

    def test_unpin_sets_all_values_free(self):
        edited = SetRoomValue(("r1",), "supply_m3s", Pinned(value=0.1)).apply(self.project)
        edited = SetRoomValue(("r1",), "area_m2", Pinned(value=21.0)).apply(edited)
        self.assertEqual(UnpinRoom(("r1",)).apply(edited), self.project)

    def test_refusals_say_what_is_accepted(self):
        for command, pattern in (
            (SetRoomValue(("r1",), "cooling_c", Pinned(value=99.0)), "between 5 and 50"),
            (SetRoomValue(("r1",), "colour", Rule()), "no value"),
            (SetRoomUse(("r1",), "disco"), "office_single"),
            (SetOpening("w1", "W1", "width_m", 7.0), "At most 5.00 m"),
            (SetOpening("w1", "W1", "head_m", 0.5), "above the sill"),
            (SetOpening("w1", "W1", "colour", 1.0), "no measure"),
            (SetGlazing((("w1", "W1"),), "x"), "no such glazing"),
            (SetRoomText("r1", "name", "  "), "1 to 80"),
            (SetServed(("r1",), "zz"), "no such air system"),
            (SetPart("a", "filter", "pressure", Pinned(value=10.0)), "no longer in the project"),
            (ChooseFan("a", "big"), "not in the catalogue"),
            (SetMonth(13, "range_k", Rule()), "no figure"),
            (SetMonth(0, "wet_bulb_c", Pinned(value=40.0)), "above the dry bulb of 30"),
            (SetSiteValue("name", Rule()), "no value"),
        ):
            with self.subTest(command=command), self.assertRaisesRegex(GarnetfinError, pattern):
                command.apply(self.project)

    def test_a_vanished_room_is_said(self):
        self.assertRaisesRegex(
            GarnetfinError, "no longer in the project", SetCeiling(("gone",), 3.0).apply, self.project
        )


class Openings(unittest.TestCase):
    def test_a_wider_window_stays_on_its_wall(self):
        project = SetOpening("w1", "W1", "at_m", 1.0).apply(one_room())
        wider = SetOpening("w1", "W1", "width_m", 3.0).apply(project)
        self.assertEqual(wider.walls[0].openings[0].at_m, 1.5)

    def test_windows_never_overlap(self):
        self.assertRaisesRegex(InputError, "overlap", AddWindow("w1", "g", 1.0, 2.0).apply, one_room())
        added = AddWindow("w1", "g").apply(one_room())
        self.assertEqual(len(added.walls[0].openings), 2)
        check_links(added)

    def test_removing(self):
        self.assertEqual(RemoveOpening("w1", "W1").apply(one_room()).walls[0].openings, ())


class Ducts(unittest.TestCase):
    def setUp(self):
        self.project = one_room()

    def test_a_run_off_the_side_splits_the_duct_it_leaves(self):
        edited = DrawRun("a", "G", ((2.5, 5.0, 2.6), (4.5, 5.0, 2.6)), "round", "last", "r1").apply(self.project)
        check_links(edited)
        self.assertEqual(len(edited.segments), 3)
        middle = next(p.id for p in edited.duct_points if (p.x_m, p.y_m) == (2.5, 5.0))
        self.assertEqual(sum(middle in (s.a, s.b) for s in edited.segments), 3)
        self.assertEqual(edited.terminals[-1].room_id, "r1")

    def test_a_run_from_an_open_end_joins_it(self):
        edited = DrawRun("a", "G", ((2.5, 2.005, 2.6), (4.0, 2.0, 2.6), (4.0, 1.0, 2.6))).apply(self.project)
        self.assertEqual((len(edited.segments), len(edited.duct_points)), (3, 4))

    def test_a_run_along_what_is_there_is_refused(self):
        self.assertRaisesRegex(
            InputError, "already", DrawRun("a", "G", ((2.5, 8.0, 2.6), (2.5, 2.0, 2.6))).apply, self.project
        )
        self.assertRaisesRegex(
            InputError, "two points", DrawRun("a", "G", ((1.0, 1.0, 2.6), (1.0, 1.001, 2.6))).apply, self.project
        )

    def test_one_terminal_a_point(self):
        self.assertRaisesRegex(InputError, "already", AddTerminal("p2", "r1").apply, self.project)

    def test_removing_a_duct_takes_its_terminal_and_points_but_never_the_unit(self):
        edited = RemoveDucts(("s1",)).apply(self.project)
        self.assertEqual((edited.segments, edited.terminals), ((), ()))
        self.assertEqual([p.id for p in edited.duct_points], ["p1"])
        check_links(edited)

    def test_another_shape_lets_the_rule_size_again(self):
        pinned = SetSize(("s1",), PinnedSize(shape="round", width_m=0.2, height_m=0.2)).apply(self.project)
        self.assertEqual(SetShape(("s1",), "rectangular").apply(pinned).segments[0].size, Rule())

    def test_a_moved_point_takes_along_what_hangs_on_it(self):
        edited = MovePoint("p2", 4.0, 2.0, 2.6).apply(self.project)
        self.assertEqual(find(edited.duct_points, "p2").x_m, 4.0)
        self.assertIs(edited.segments, self.project.segments)

    def test_fresh_ids_count_on(self):
        self.assertEqual(fresh_ids(self.project.segments, "s", 2), ["s2", "s3"])


class Histories(unittest.TestCase):
    def test_undo_and_redo_walk_through_the_very_same_projects(self):
        first, second = one_room(), one_room(name="Other")
        history = History(first)
        self.assertTrue(history.push("Rename", second))
        self.assertFalse(history.push("Nothing", second))
        self.assertTrue(history.undo())
        self.assertIs(history.project, first)
        self.assertEqual(history.redo_label, "Rename")
        self.assertTrue(history.redo())
        self.assertIs(history.project, second)
        self.assertFalse(history.redo())

    def test_a_new_edit_forgets_what_was_undone(self):
        history = History(one_room())
        history.push("a", one_room(name="A"))
        history.undo()
        history.push("b", one_room(name="B"))
        self.assertEqual((history.redo_label, history.undo_label), ("", "b"))

    def test_one_gesture_is_one_step(self):
        history = History(one_room())
        for k in range(20):
            history.push("Pull", one_room(name=str(k)), gesture=7)
        self.assertTrue(history.undo())
        self.assertFalse(history.undo())

    def test_a_thousand_steps(self):
        history = History(one_room())
        for k in range(1000):
            history.push("Rename", one_room(name=str(k)))
        while history.undo():
            pass
        self.assertEqual(history.project.rooms[0].name, "Room")
