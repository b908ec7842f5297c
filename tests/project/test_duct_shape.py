"""Moving, splitting, merging and joining ducts; ceilings; the office standards as a file."""

import tempfile
import unittest
from pathlib import Path

from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError, GarnetfinError, InputError
from garnetfin.project.book import Book
from garnetfin.project.book_file import decode_book, encode_book, load_book, save_book
from garnetfin.project.ducts import FittingChoice
from garnetfin.project.edits import Commands
from garnetfin.project.edits.book import SetAssumption, TakeBook
from garnetfin.project.edits.ceilings import (
    AddCeilingZone,
    AddObstacle,
    RemoveCeilingParts,
    SetCeilingZone,
    SetObstacle,
)
from garnetfin.project.edits.duct_runs import DrawRun, MovePoint, RemoveDucts, SetShape
from garnetfin.project.edits.duct_shape import (
    JoinEnds,
    MergeDuct,
    MoveDucts,
    SplitDuct,
    StepAside,
    carried,
    open_ends,
    ways_between,
)
from garnetfin.project.edits.duct_values import MoveLabel, SetDuctChoice, SetDuctValue, SetFitting
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import one_room

Z = 2.6


def at(project: Project, point_id: str) -> tuple[float, float, float]:
    p = find(project.duct_points, point_id)
    return p.x_m, p.y_m, p.z_m


def with_branch() -> Project:
    """The duct of the one room with a branch to the east off its middle."""
    return DrawRun("a", "G", ((2.5, 5.0, Z), (6.0, 5.0, Z))).apply(one_room())


class Moving(unittest.TestCase):
    def test_a_branch_slides_along_and_the_trunk_stays_straight(self):
        project = with_branch()
        branch = project.segments[-1]
        joint = branch.a
        moved = MoveDucts((branch.id,), 0.0, 1.0).apply(project)
        self.assertEqual(at(moved, joint), (2.5, 6.0, Z))
        self.assertEqual(at(moved, branch.b), (6.0, 6.0, Z))
        self.assertEqual(at(moved, "p2"), (2.5, 2.0, Z))  # the terminal stays
        check_links(moved)

    def test_a_trunk_takes_its_straight_pieces_along_and_leaves_the_unit(self):
        project = with_branch()
        trunk = next(s for s in project.segments if "p2" in (s.a, s.b))
        moved = MoveDucts((trunk.id,), 0.5, 0.0).apply(project)
        self.assertEqual(at(moved, "p1"), (2.5, 8.0, Z))  # the unit's end
        self.assertEqual(at(moved, "p2"), (3.0, 2.0, Z))  # with its terminal
        self.assertEqual(len(moved.segments), len(project.segments) + 1)
        bridge = next(s for s in moved.segments if "p1" in (s.a, s.b))
        self.assertEqual({at(moved, bridge.a)[1], at(moved, bridge.b)[1]}, {8.0})
        check_links(moved)

    def test_ducts_upright_on_it_stay_upright(self):
        project = DrawRun("a", "G", ((6.0, 5.0, Z), (6.0, 5.0, 3.4), (6.0, 7.0, 3.4))).apply(with_branch())
        branch = next(s for s in project.segments if {at(project, s.a)[0], at(project, s.b)[0]} == {2.5, 6.0})
        points = carried(project, (branch.id,), (0.0, 1.0, 0.0))
        self.assertEqual(len(points), 3)  # its ends and the top of the riser
        moved = MoveDucts((branch.id,), 0.0, 1.0).apply(project)
        tops = [p for p in moved.duct_points if (p.x_m, p.z_m) == (6.0, 3.4)]
        self.assertEqual(sorted(p.y_m for p in tops), [6.0, 7.0])  # the run on top got shorter

    def test_a_piece_shrunk_to_nothing_is_gone(self):
        project = with_branch()
        upper = next(s for s in project.segments if "p1" in (s.a, s.b))
        moved = MoveDucts((project.segments[-1].id,), 0.0, 2.9999).apply(project)
        self.assertIsNone(find(moved.segments, upper.id))
        self.assertEqual(at(moved, "p1"), (2.5, 8.0, Z))
        check_links(moved)

    def test_moves_that_cannot_be(self):
        project = with_branch()
        self.assertIs(MoveDucts(("s1",), 0.0, 0.0).apply(project), project)
        with self.assertRaises(GarnetfinError):
            MoveDucts(("gone",), 1.0, 0.0).apply(project)
        with self.assertRaises(InputError):
            MoveDucts(("s1",), float("nan"), 0.0).apply(project)

    def test_stepping_aside_leaves_both_ends(self):
        project = one_room()
        stepped = StepAside("s1", 0.5, 0.5, -0.3).apply(project)
        self.assertEqual(len(stepped.segments), 5)
        self.assertEqual(sorted({round(p.z_m, 3) for p in stepped.duct_points}), [2.3, 2.6])
        self.assertEqual((at(stepped, "p1"), at(stepped, "p2")), (at(project, "p1"), at(project, "p2")))
        check_links(stepped)
        with self.assertRaisesRegex(InputError, "no length"):
            StepAside("s1", 0.02, 0.5, -0.3).apply(project)


class Pieces(unittest.TestCase):
    def test_split_and_merge_are_each_other_undone(self):
        project = SetDuctValue(("s1",), "velocity_m_s", Pinned(value=3.0)).apply(one_room())
        split = SplitDuct("s1", 0.25).apply(project)
        self.assertEqual(len(split.segments), 2)
        assert_allclose(at(split, split.duct_points[-1].id), (2.5, 3.5, Z))
        self.assertTrue(all(s.velocity_m_s == Pinned(value=3.0) for s in split.segments))
        check_links(split)
        merged = MergeDuct(split.segments[0].id).apply(split)
        self.assertEqual(len(merged.segments), 1)
        self.assertEqual({merged.segments[0].a, merged.segments[0].b}, {"p1", "p2"})
        self.assertEqual(merged.segments[0].role, "last")
        check_links(merged)

    def test_what_stands_at_an_end_stays_there_whichever_way_it_was_drawn(self):
        """s1 runs to the unit as drawn: its flexible end is at the terminal, its fittings and damper at the unit."""
        project = one_room()
        typed = structs.replace(
            project.segments[0],
            flexible_m=1.2,
            fittings=(FittingChoice(place="elbow", k=Pinned(value=0.4)),),
            damper="blade",
            damper_deg=Pinned(value=20.0),
        )
        for segment in (typed, structs.replace(typed, a=typed.b, b=typed.a)):
            split = SplitDuct("s1", 0.4).apply(structs.replace(project, segments=(segment,)))
            at_terminal = next(s for s in split.segments if "p2" in (s.a, s.b))
            at_unit = next(s for s in split.segments if "p1" in (s.a, s.b))
            self.assertEqual((at_terminal.flexible_m, at_unit.flexible_m), (1.2, 0.0))
            self.assertEqual((len(at_terminal.fittings), len(at_unit.fittings)), (0, 1))
            self.assertEqual((at_terminal.damper, at_unit.damper), ("", "blade"))

    def test_where_they_cannot_be(self):
        with self.assertRaisesRegex(InputError, "20 mm"):
            SplitDuct("s1", 0.001).apply(one_room())
        project = with_branch()
        upper = next(s for s in project.segments if "p1" in (s.a, s.b))
        with self.assertRaisesRegex(InputError, "junctions"):
            MergeDuct(upper.id).apply(project)
        loose = MergeDuct(project.segments[-1].id).apply(project)  # a free end simply goes
        self.assertEqual(len(loose.segments), 2)

    def test_open_ends(self):
        project = with_branch()
        self.assertEqual(open_ends(project), (project.segments[-1].b,))
        self.assertEqual(open_ends(one_room()), ())


class Joining(unittest.TestCase):
    def ends(self, first: tuple, second: tuple) -> tuple[Project, str, str]:
        """Two open ends; runs given from their far point to the open end."""
        project = DrawRun("a", "G", first).apply(one_room())
        project = DrawRun("a", "G", second).apply(project)
        ids = [next(p.id for p in project.duct_points if (p.x_m, p.y_m, p.z_m) == run[-1]) for run in (first, second)]
        return project, *ids

    def way(self, first, second, width=0.2):
        project, a, b = self.ends(first, second)
        return project, a, b, ways_between(project, a, b, width)

    def test_what_fits(self):
        line = ((10.0, 0.0, Z), (12.0, 0.0, Z))
        for second, kind, count in (
            (((20.0, 0.0, Z), (15.0, 0.0, Z)), "straight piece", 0),
            (((20.0, 1.0, Z), (15.0, 1.0, Z)), "offset of two 45° elbows", 2),
            (((20.0, 2.9, Z), (15.0, 2.9, Z)), "offset of two right angles", 2),
            (((15.0, 5.0, Z), (15.0, 1.0, Z)), "elbow", 1),
            (((15.0, 5.0, 3.2), (15.0, 1.0, 3.2)), "elbow and a step in height", 2),
            (((10.0, 2.0, Z), (12.0, 2.0, Z)), "two right angles", 2),
        ):
            project, a, b, (found, between, missing) = self.way(line, second)
            self.assertEqual((found, len(between), missing), (kind, count, ""))
            joined = JoinEnds(a, b, between).apply(project)
            check_links(joined)
            self.assertEqual(len(joined.segments), len(project.segments) + count + 1)
            self.assertNotIn(a, open_ends(joined))
            self.assertNotIn(b, open_ends(joined))

    def test_what_is_missing_is_said(self):
        line = ((10.0, 0.0, Z), (12.0, 0.0, Z))
        *_, (kind, _, missing) = self.way(line, ((20.0, 1.0, Z), (12.3, 1.0, Z)))
        self.assertEqual((kind, missing), ("", "100 mm of length is missing for an offset of 1000 mm"))
        project, a, b = self.ends(line, ((20.0, 0.0, Z), (15.0, 0.0, Z)))
        past = MovePoint(b, 11.0, 0.0, Z).apply(project)
        self.assertIn("overlap by 1000 mm", ways_between(past, a, b, 0.2)[2])
        *_, (kind, _, missing) = self.way(line, ((11.0, 5.0, Z), (11.0, 1.0, Z)))
        self.assertIn("behind an end", missing)

    def test_only_open_ends_of_one_air_are_joined(self):
        project, a, b = self.ends(((10.0, 0.0, Z), (12.0, 0.0, Z)), ((20.0, 0.0, Z), (15.0, 0.0, Z)))
        other = DrawRun("a", "G", ((20.0, 3.0, Z), (15.0, 3.0, Z)), air="return").apply(project)
        with self.assertRaisesRegex(InputError, "different air"):
            JoinEnds(a, next(p.id for p in other.duct_points if (p.x_m, p.y_m) == (15.0, 3.0))).apply(other)
        with self.assertRaisesRegex(InputError, "joined already"):
            JoinEnds(a, b).apply(JoinEnds(a, b).apply(project))


class Values(unittest.TestCase):
    def test_a_held_side_frees_the_pinned_size_and_a_round_duct_has_one(self):
        project = SetDuctValue(("s1",), "width_m", Pinned(value=0.25)).apply(one_room())
        self.assertEqual(project.segments[0].height_m, Pinned(value=0.25))
        boxed = SetShape(("s1",), "rectangular").apply(project)
        self.assertEqual(boxed.segments[0].width_m, Rule())
        self.assertEqual(SetDuctValue(("s1",), "height_m", Pinned(value=0.2)).apply(boxed).segments[0].width_m, Rule())
        for field, value in (("width_m", 0.0), ("velocity_m_s", 99.0), ("lining_m", 1.0), ("thickness_m", 0.5)):
            with self.assertRaises(InputError):
                SetDuctValue(("s1",), field, Pinned(value=value)).apply(project)
        with self.assertRaises(InputError):
            SetDuctValue(("s1",), "colour", Rule()).apply(project)

    def test_choices(self):
        self.assertEqual(
            SetDuctChoice(("s1",), "material", "plastic").apply(one_room()).segments[0].material, "plastic"
        )
        for field, value in (("material", "cheese"), ("tightness", "Z"), ("colour", "red")):
            with self.assertRaises(InputError):
                SetDuctChoice(("s1",), field, value).apply(one_room())

    def test_a_fitting_is_chosen_changed_and_let_go(self):
        project = SetFitting(("s1",), "elbow", fitting="elbow-round-mitred").apply(one_room())
        project = SetFitting(("s1",), "elbow", k=Pinned(value=0.5)).apply(project)
        (choice,) = project.segments[0].fittings
        self.assertEqual((choice.fitting, choice.k.value), ("elbow-round-mitred", 0.5))
        free = SetFitting(("s1",), "elbow", fitting="", k=Rule()).apply(project)
        self.assertEqual(free.segments[0].fittings, ())
        with self.assertRaisesRegex(InputError, "no elbow"):
            SetFitting(("s1",), "elbow", fitting="elbow-rect-radius").apply(one_room())
        with self.assertRaisesRegex(InputError, "no place"):
            SetFitting(("s1",), "ceiling").apply(one_room())

    def test_a_label_is_moved_and_placed_again(self):
        moved = MoveLabel("s1", (1.0, -0.5)).apply(one_room())
        self.assertEqual(moved.segments[0].label_at, (1.0, -0.5))
        self.assertEqual(MoveLabel("s1", None).apply(moved).segments[0].label_at, None)

    def test_several_edits_are_one(self):
        both = Commands("Two", (SetShape(("s1",), "oval"), RemoveDucts(("s1",)))).apply(one_room())
        self.assertEqual(both.segments, ())


class Ceilings(unittest.TestCase):
    SQUARE = ((0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0))

    def test_zones(self):
        project = AddCeilingZone("G", self.SQUARE).apply(one_room())
        zone = project.ceiling_zones[-1]
        self.assertAlmostEqual(zone.free_m, 0.4)  # 450 mm below a structure of 300 mm, 50 mm kept
        lower = SetCeilingZone(zone.id, "ceiling_m", 2.0).apply(project)
        self.assertAlmostEqual(lower.ceiling_zones[-1].free_m, 0.65)
        with self.assertRaisesRegex(InputError, "below the structure"):
            SetCeilingZone(zone.id, "ceiling_m", 3.0).apply(project)
        self.assertEqual(RemoveCeilingParts((zone.id,)).apply(project).ceiling_zones, ())
        with self.assertRaisesRegex(InputError, "outline"):
            AddCeilingZone("G", ((0.0, 0.0), (1.0, 0.0), (2.0, 0.0))).apply(one_room())

    def test_obstacles(self):
        project = AddObstacle("G", self.SQUARE).apply(one_room())
        obstacle = project.obstacles[-1]
        self.assertEqual((obstacle.kind, round(obstacle.bottom_m, 3), round(obstacle.top_m, 3)), ("beam", 2.4, 2.7))
        holed = SetObstacle(obstacle.id, "sleeve_m", 0.2).apply(project)
        self.assertAlmostEqual(holed.obstacles[-1].sleeves[0].top_m - holed.obstacles[-1].sleeves[0].bottom_m, 0.2)
        self.assertEqual(SetObstacle(obstacle.id, "sleeve_m", 0.0).apply(holed).obstacles[-1].sleeves, ())
        with self.assertRaisesRegex(InputError, "hole"):
            SetObstacle(obstacle.id, "sleeve_m", 0.5).apply(project)
        self.assertEqual(RemoveCeilingParts((), (obstacle.id,)).apply(project).obstacles, ())


class BookFile(unittest.TestCase):
    def test_there_and_back(self):
        book = SetAssumption("duct_trunk_m_s", Pinned(value=5.0)).apply(one_room()).book
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "office.gfbook"
            save_book(book, path)
            self.assertEqual(load_book(path), book)
        self.assertEqual(TakeBook(book).apply(one_room()).book, book)

    def test_what_is_none_is_refused(self):
        good = encode_book(Book())
        for data in (
            b"",
            b"{}",
            b"[1]",
            good.replace(b'"garnetfin_book": 1', b'"garnetfin_book": 9'),
            good.replace(b'"standard"', b'"odd"'),
            b"[" * 100_000,
            good[:-20],
        ):
            with self.assertRaisesRegex(FileError, "no file of office standards"):
                decode_book(data)
        with self.assertRaisesRegex(FileError, "cannot be read"):
            load_book(Path("/nowhere/office.gfbook"))

    def test_own_values_of_the_book_are_within_their_range(self):
        with self.assertRaises(InputError):
            structs.replace(Book(), duct_material="cheese")
