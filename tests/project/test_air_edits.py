"""Edits of trains, transfers, the state list, terminals and catalogues: what they change, what they keep, what they
refuse.
"""

import unittest
from pathlib import Path

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.core.terminal_choice import frame_of, inside
from garnetfin.project import store
from garnetfin.project.catalogue import OwnTerminal, TerminalPoint
from garnetfin.project.edits.book import SetAssumption, SetBookChoice
from garnetfin.project.edits.duct_runs import RemoveDucts, SetTerminal
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.rooms import SetRoomChoice
from garnetfin.project.edits.state_list import AddListRow, MoveListRow, RemoveListRow, SetListRow, SetListSource
from garnetfin.project.edits.systems import (
    AddPart,
    MovePart,
    RemovePart,
    RemoveTransfer,
    SetMonths,
    SetPart,
    SetPattern,
    SetSystemChoice,
    SetTransfer,
)
from garnetfin.project.edits.terminals import (
    AlignTerminals,
    ClearOwnTerminals,
    CopyTerminals,
    MoveTerminals,
    Placement,
    PlaceTerminals,
    TakeTerminals,
)
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import by_number, station

AHU = "ahu-north"


def kinds(project: Project) -> list[str]:
    return [p.kind for p in project.air_systems[0].parts]


def point_of(project: Project, terminal) -> tuple[float, float]:
    p = next(p for p in project.duct_points if p.id == terminal.point_id)
    return p.x_m, p.y_m


class Trains(unittest.TestCase):
    def test_a_part_goes_where_it_usually_stands_or_where_it_is_dropped(self):
        usual = AddPart(AHU, "preheat").apply(station())
        self.assertEqual(kinds(usual).index("preheat"), kinds(usual).index("recovery") - 1)
        self.assertEqual(
            kinds(AddPart(AHU, "preheat", "cooling").apply(station())).index("preheat"),
            kinds(station()).index("cooling"),
        )
        second = AddPart(AHU, "filter", "duct").apply(station())
        self.assertEqual(len({p.id for p in second.air_systems[0].parts}), len(second.air_systems[0].parts))

    def test_dragging_a_part_and_taking_it_out(self):
        blow = MovePart(AHU, "supply_fan", "cooling").apply(station())
        self.assertLess(kinds(blow).index("supply_fan"), kinds(blow).index("cooling"))
        self.assertIs(MovePart(AHU, "cooling", "cooling").apply(station()), station())
        self.assertNotIn("recovery", kinds(RemovePart(AHU, "recovery").apply(station())))
        for command, words in (
            (RemovePart(AHU, "terminals"), "needs terminals"),
            (MovePart(AHU, "cooling", "relief"), "wrong side"),
            (MovePart(AHU, "mixing", "recovery"), "before the mixing"),
            (AddPart(AHU, "mixing"), "one mixing"),
            (AddPart(AHU, "kite"), "no part"),
        ):
            self.assertRaisesRegex(InputError, words, command.apply, station())

    def test_a_pattern_keeps_what_is_pinned_on_parts_that_stay(self):
        doas = SetPattern(AHU, "doas").apply(station())
        self.assertNotIn("mixing", kinds(doas))
        recovery = next(p for p in doas.air_systems[0].parts if p.kind == "recovery")
        self.assertEqual((recovery.given("sensible").value, recovery.pressure_pa.value), (0.80, 138.0))
        self.assertEqual(
            (
                doas.air_systems[0].flow,
                doas.air_systems[0].supply,
                doas.air_systems[0].parts[kinds(doas).index("terminals")].choice,
            ),
            ("fixed", "held", "unit"),
        )
        back = SetPattern(AHU, "cav_reheat").apply(doas)
        self.assertEqual(kinds(back), kinds(station()))
        self.assertRaisesRegex(InputError, "no pattern", SetPattern(AHU, "magic").apply, station())

    def test_figures_out_of_range_are_refused_with_what_is_accepted(self):
        for field, value, words in (
            ("sensible", 1.2, "between 0 and 1"),
            ("sensible", float("nan"), "finite|between"),
            ("colour", 1.0, "no figure"),
        ):
            with self.assertRaisesRegex(InputError, words):
                SetPart(AHU, "recovery", field, Pinned(value=value)).apply(station())
        self.assertRaisesRegex(
            InputError, "cannot be", SetPart(AHU, "mixing", "choice", "by moonlight").apply, station()
        )
        self.assertRaisesRegex(
            InputError, "no pressure drop", SetPart(AHU, "supply_fan", "pressure", Pinned(value=10.0)).apply, station()
        )
        typed = SetPart(AHU, "recovery", "sensible", Pinned(value=0.7)).apply(station())
        self.assertEqual(SetPart(AHU, "recovery", "sensible", Rule()).apply(typed).air_systems[0].parts[2].figures, ())

    def test_months_and_control(self):
        summer = SetMonths(AHU, "cooling_months", (9, 5, 6, 7, 8, 5)).apply(station()).air_systems[0]
        self.assertEqual(summer.cooling_months, (5, 6, 7, 8, 9))
        self.assertRaisesRegex(InputError, "1 to 12", SetMonths(AHU, "cooling_months", (0, 5)).apply, station())
        self.assertRaisesRegex(InputError, "cannot have", SetSystemChoice(AHU, "flow", "sideways").apply, station())
        self.assertRaisesRegex(InputError, "needs a name", SetSystemChoice(AHU, "name", " ").apply, station())
        self.assertEqual(SetSystemChoice(AHU, "name", "AHU 7").apply(station()).air_systems[0].name, "AHU 7")

    def test_a_file_of_format_3_becomes_a_train_with_its_pressure_drops(self):
        old = store.load(Path(__file__).parents[1] / "data" / "format-3.gfin")
        self.assertEqual(old.format, 8)
        parts = {p.kind: p for p in old.air_systems[0].parts}
        self.assertEqual(
            [k for k in kinds(old)],
            [
                "intake",
                "filter",
                "recovery",
                "mixing",
                "cooling",
                "heating",
                "supply_fan",
                "attenuator",
                "duct",
                "terminals",
                "rooms",
                "return_fan",
                "relief",
            ],
        )
        for kind, drop in (
            ("intake", 22.0),
            ("filter", 96.0),
            ("recovery", 138.0),
            ("cooling", 84.0),
            ("heating", 31.0),
            ("attenuator", 38.0),
            ("mixing", 0.0),
        ):
            self.assertEqual(parts[kind].pressure_pa.value, drop, kind)
        self.assertEqual(len(old.terminals), len(station().terminals))


class Transfers(unittest.TestCase):
    def test_made_typed_and_taken_away_with_their_rooms(self):
        a, b = by_number(station(), "0.01").id, by_number(station(), "0.08").id
        made = SetTransfer(a, b).apply(station())
        self.assertEqual(len(made.transfers), 2)
        typed = SetTransfer(a, b, Pinned(value=0.02)).apply(made)
        self.assertEqual(typed.transfers[1].flow_m3s.value, 0.02)
        self.assertEqual(len(RemoveTransfer(typed.transfers[1].id).apply(typed).transfers), 1)
        self.assertEqual(len(RemoveRooms((a,)).apply(typed).transfers), 1)
        boat = by_number(station(), "0.07").id
        self.assertRaisesRegex(InputError, "no air system", SetTransfer(a, boat).apply, station())
        self.assertRaisesRegex(InputError, "itself", SetTransfer(a, a).apply, station())
        check_links(typed)

    def test_choices_of_rooms_and_of_the_book(self):
        a = by_number(station(), "0.01").id
        self.assertEqual(by_number(SetRoomChoice((a,), "need", "latent").apply(station()), "0.01").need, "latent")
        self.assertRaisesRegex(InputError, "cannot have", SetRoomChoice((a,), "need", "mood").apply, station())
        self.assertEqual(SetBookChoice("category", "I").apply(station()).book.category, "I")
        self.assertRaisesRegex(InputError, "no category", SetBookChoice("category", "V").apply, station())
        self.assertRaisesRegex(InputError, "no choice", SetBookChoice("colour", "red").apply, station())
        self.assertRaisesRegex(InputError, "between", SetAssumption("noise_nc", Pinned(value=500.0)).apply, station())


class StateList(unittest.TestCase):
    def test_rows_are_added_changed_moved_and_removed(self):
        project = AddListRow("mix").apply(station())
        row = project.state_list[-1]
        self.assertEqual([s.row for s in row.sources], ["row4", "row5"])  # the last two that are a state
        project = SetListSource(row.id, 2, "row1", 0.3).apply(project)
        project = SetListSource(row.id, 0, "").apply(project)
        self.assertEqual([(s.row, s.share) for s in project.state_list[-1].sources], [("row5", 1.0), ("row1", 0.3)])
        project = MoveListRow(row.id, -9).apply(project)
        self.assertEqual(project.state_list[0].id, row.id)
        project = RemoveListRow(("row1",)).apply(project)
        self.assertNotIn("row1", [r.id for r in project.state_list])
        # its dependents say that they have no source
        self.assertEqual(project.state_list[0].sources[1].row, "row1")
        check_links(project)

    def test_refusals(self):
        for command, words in (
            (SetListRow("row2", "a_value", -300.0), "between -60 and 90"),
            (SetListRow("row2", "b", "t"), "different"),
            (SetListRow("row2", "b", "colour"), "no property"),
            (SetListRow("row2", "name", " "), "needs a name"),
            (SetListRow("row2", "id", "x"), "has no id"),
            (SetListRow("row5", "flow_m3s", -1.0), "Flow"),
            (AddListRow("dream"), "no row"),
            (SetListSource("row3", 9, "row1"), "no such source"),
            (SetListRow("gone", "name", "x"), "no longer"),
        ):
            self.assertRaisesRegex(GarnetfinError, words, command.apply, station())

    def test_another_property_starts_at_a_figure_air_can_have(self):
        row = SetListRow("row2", "b", "wb").apply(station()).state_list[1]
        self.assertEqual((row.b, row.b_value), ("wb", 17.0))

    def test_it_lies_in_the_file(self):
        from tempfile import TemporaryDirectory

        with TemporaryDirectory() as folder:
            path = Path(folder) / "a.gfin"
            store.save(station(), path)
            self.assertEqual(store.load(path).state_list, station().state_list)


class Terminals(unittest.TestCase):
    def setUp(self):
        self.room = by_number(station(), "0.01")
        self.at = Placement(self.room.id, "return", "egrid", "", ((2.0, 2.0), (5.0, 2.0)))
        self.project = PlaceTerminals((self.at,)).apply(station())

    def own(self, project: Project, room, air: str) -> list:
        return [t for t in project.terminals if t.room_id == room.id and t.air == air]

    def test_placed_labelled_and_placed_anew(self):
        made = self.own(self.project, self.room, "return")
        self.assertEqual([t.label for t in made], ["0.01-Ra", "0.01-Rb"])
        check_links(self.project)
        again = PlaceTerminals((Placement(self.room.id, "return", "egrid", "GF-egrid-500", ((3.0, 2.5),)),)).apply(
            self.project
        )
        self.assertEqual([t.label for t in self.own(again, self.room, "return")], ["0.01-R"])
        self.assertEqual(len(again.duct_points), len(self.project.duct_points) - 1)
        z = next(p.z_m for p in again.duct_points if p.id == self.own(again, self.room, "return")[0].point_id)
        self.assertEqual(z, self.room.ceiling_m)

    def test_those_that_hang_on_ducts_stay(self):
        wanted = Placement(self.room.id, "supply", "swirl", "", ((2.0, 2.0),))
        self.assertRaisesRegex(InputError, "hang on ducts", PlaceTerminals((wanted,)).apply, station())
        # Taking a duct away takes its terminal, not those that never had one.
        segment = next(s for s in self.project.segments if s.role == "last")
        less = RemoveDucts((segment.id,)).apply(self.project)
        self.assertEqual(len(self.own(less, self.room, "return")), 2)
        self.assertLess(len(less.terminals), len(self.project.terminals))

    def test_moved_with_the_duct_that_ends_there(self):
        supply = self.own(self.project, self.room, "supply")[0]
        x, y = point_of(self.project, supply)
        moved = MoveTerminals((supply.id,), 0.25, -0.5).apply(self.project)
        assert_allclose(point_of(moved, self.own(moved, self.room, "supply")[0]), (x + 0.25, y - 0.5))
        self.assertIs(MoveTerminals((supply.id,), 0.0, 0.0).apply(self.project), self.project)
        self.assertEqual(moved.segments, self.project.segments)

    def test_aligned_to_tiles_each_its_own(self):
        crowd = PlaceTerminals(
            (Placement(self.room.id, "return", "egrid", "", ((2.0, 2.0), (2.05, 2.05), (2.1, 2.0))),)
        ).apply(station())
        aligned = AlignTerminals((self.room.id,), 0.6).apply(crowd)
        spots = [point_of(aligned, t) for t in aligned.terminals if t.room_id == self.room.id]
        self.assertEqual(len(set(spots)), len(spots))
        frame = frame_of(self.room.outline)
        steps = frame.to_room(np.array(spots)) / 0.6 - 0.5
        assert_allclose(steps, np.round(steps), atol=1e-3)  # places are kept to a tenth of a millimetre
        self.assertRaisesRegex(InputError, "module", AlignTerminals((self.room.id,), 9.0).apply, station())

    def test_copied_to_other_rooms_about_their_middles(self):
        there = by_number(station(), "0.02")
        bare = structs.replace(
            self.project,
            terminals=tuple(t for t in self.project.terminals if t.air == "return" or t.room_id != self.room.id),
        )
        copied = CopyTerminals(self.room.id, (there.id, self.room.id)).apply(bare)
        new = self.own(copied, there, "return")
        self.assertEqual(len(new), 2)
        self.assertTrue(inside(np.array(there.outline), np.array([point_of(copied, t) for t in new])).all())
        a = np.mean([point_of(copied, t) for t in self.own(copied, self.room, "return")], axis=0) - np.mean(
            self.room.outline, axis=0
        )
        b = np.mean([point_of(copied, t) for t in new], axis=0) - np.mean(there.outline, axis=0)
        assert_allclose(a, b, atol=1e-3)
        check_links(copied)
        self.assertRaisesRegex(
            InputError,
            "no terminals to copy",
            CopyTerminals(by_number(station(), "0.07").id, (there.id,)).apply,
            station(),
        )
        self.assertRaisesRegex(
            InputError, "not aligned by", CopyTerminals(self.room.id, (there.id,), "luck").apply, bare
        )

    def test_kinds_and_counts_that_cannot_be(self):
        for placement, words in (
            (Placement(self.room.id, "supply", "trumpet", "", ((1.0, 1.0),)), "no terminal"),
            (Placement(self.room.id, "return", "egrid", "", ()), "1 to 200"),
            (Placement(self.room.id, "wind", "egrid", "", ((1.0, 1.0),)), "no terminal"),
        ):
            self.assertRaisesRegex(InputError, words, PlaceTerminals((placement,)).apply, station())
        t = self.own(self.project, self.room, "supply")[0]
        self.assertEqual(
            next(x for x in SetTerminal(t.id, kind="ceilr").apply(self.project).terminals if x.id == t.id).kind, "ceilr"
        )
        self.assertRaisesRegex(InputError, "no kind", SetTerminal(t.id, kind="horn").apply, self.project)


class Catalogues(unittest.TestCase):
    def model(self, name: str = "OWN-1", flows=(0.05, 0.1), drops=(5.0, 20.0)) -> OwnTerminal:
        return OwnTerminal(
            id=name,
            kind="swirl",
            description="own",
            use="supply",
            size_m=0.2,
            neck_m2=0.03,
            effective_m2=0.02,
            points=tuple(
                TerminalPoint(flow_m3s=q, pressure_pa=p, throw_050_m=1.0, throw_025_m=2.0, sound_db=30.0, nc=20.0)
                for q, p in zip(flows, drops)
            ),
        )

    def test_own_models_join_the_book_and_leave_it(self):
        project = TakeTerminals((self.model(), self.model("OWN-2"))).apply(station())
        self.assertEqual([t.id for t in project.book.terminals], ["OWN-1", "OWN-2"])
        again = TakeTerminals((self.model(drops=(6.0, 21.0)),)).apply(project)
        self.assertEqual([t.id for t in again.book.terminals], ["OWN-2", "OWN-1"])
        chosen = SetTerminal(again.terminals[0].id, model="OWN-1").apply(again)
        cleared = ClearOwnTerminals().apply(chosen)
        self.assertEqual((cleared.book.terminals, cleared.terminals[0].model), ((), ""))

    def test_points_must_rise(self):
        self.assertRaisesRegex(InputError, "flow must rise", self.model, flows=(0.1, 0.05))
        self.assertRaisesRegex(InputError, "pressure drop must rise", self.model, drops=(20.0, 5.0))
        self.assertRaisesRegex(InputError, "2 to 60 points", self.model, flows=(0.1,))
