"""Parts in ducts through edits: put in, moved, fixed, taken out; ducts divided, merged and stepped aside keep them."""

import unittest

from msgspec import structs

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.edits.duct_shape import MergeDuct, SplitDuct, StepAside
from garnetfin.project.edits.inline import MoveInline, PutInline, RemoveInline, SetInline, SetInlineChoice
from garnetfin.project.inline import Inline, inline_part, inline_places
from garnetfin.project.lookup import find
from garnetfin.project.store import decode_container, encode
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import station

DUCT = "s3"


def length_of(project, segment_id: str) -> float:
    s = find(project.segments, segment_id)
    a, b = (find(project.duct_points, i) for i in (s.a, s.b))
    return ((a.x_m - b.x_m) ** 2 + (a.y_m - b.y_m) ** 2 + (a.z_m - b.z_m) ** 2) ** 0.5


def place(project, part_id: str) -> tuple[float, float, float]:
    """Where a part stands in space."""
    s, part = inline_part(project, part_id)
    a, b = (find(project.duct_points, i) for i in (s.a, s.b))
    return tuple(u + part.at * (v - u) for u, v in ((a.x_m, b.x_m), (a.y_m, b.y_m), (a.z_m, b.z_m)))


class Edits(unittest.TestCase):
    def setUp(self):
        self.project = PutInline((DUCT,), "fire damper", 0.3, 60).apply(station())

    def test_put_in_several_each_with_an_id_of_its_own(self):
        project = PutInline(("s1", DUCT, "s4", "s4"), "attenuator").apply(self.project)
        self.assertEqual(sorted(inline_places(project.segments)), ["i1", "i2", "i3", "i4"])
        check_links(project)
        with self.assertRaisesRegex(InputError, "own part"):
            PutInline((DUCT,), "window").apply(project)

    def test_taken_out_leaves_what_was(self):
        self.assertEqual(RemoveInline(("i1",)).apply(self.project), station())
        with self.assertRaises(GarnetfinError):
            RemoveInline(("i1", "i9")).apply(self.project)

    def test_moved_along_and_into_another_duct(self):
        moved = MoveInline("i1", 0.8).apply(self.project)
        self.assertEqual(inline_part(moved, "i1")[1].at, 0.8)
        other = MoveInline("i1", 1.7, "s4").apply(moved)
        segment, part = inline_part(other, "i1")
        self.assertEqual((segment.id, part.at, part.fire_min), ("s4", 1.0, 60))

    def test_a_loss_is_typed_one_way(self):
        typed = SetInline(("i1",), "k", Pinned(value=2.0)).apply(self.project)
        typed = SetInline(("i1",), "rated_pa", Pinned(value=20.0)).apply(typed)
        part = inline_part(typed, "i1")[1]
        self.assertEqual((part.k, part.rated_pa.value), (Rule(), 20.0))
        with self.assertRaisesRegex(InputError, "coefficient and as a pressure"):
            structs.replace(part, k=Pinned(value=1.0))

    def test_wrong_values_are_refused(self):
        for edit in (
            SetInline(("i1",), "at", Pinned(value=1.0)),
            SetInline(("i1",), "k", Pinned(value=-1.0)),
            SetInline(("i1",), "angle_deg", Pinned(value=99.0)),
            SetInline(("i1",), "rated_pa", Pinned(value=-3.0)),
            SetInlineChoice(("i1",), "model", "NO-SUCH"),
            SetInlineChoice(("i1",), "fire_min", 45),
            SetInlineChoice(("i1",), "id", "x"),
            SetInlineChoice(("i7",), "tag", "x"),
        ):
            with self.subTest(edit), self.assertRaises(GarnetfinError):
                edit.apply(self.project)

    def test_another_kind_frees_the_model(self):
        fixed = SetInlineChoice(("i1",), "model", "GF-F60-800x600").apply(self.project)
        part = inline_part(SetInlineChoice(("i1",), "kind", "smoke damper").apply(fixed), "i1")[1]
        self.assertEqual((part.kind, part.model), ("smoke damper", ""))

    def test_ids_that_stand_twice_are_found(self):
        twice = structs.replace(
            find(self.project.segments, "s4"),
            inline=(Inline(id="i1", kind="filter"), Inline(id="bad id", kind="heater")),
        )
        segments = tuple(twice if s.id == "s4" else s for s in self.project.segments)
        with self.assertRaises(InputError):
            check_links(structs.replace(self.project, segments=segments), self.project)

    def test_a_duct_divided_and_merged_keeps_places_in_metres(self):
        project = PutInline((DUCT,), "filter", 0.9).apply(self.project)
        where = {i: place(project, i) for i in ("i1", "i2")}
        split = SplitDuct(DUCT, 0.6).apply(project)
        check_links(split)
        for i, at in where.items():
            for u, v in zip(place(split, i), at):
                self.assertAlmostEqual(u, v, places=9)
        first, second = (inline_part(split, i)[0].id for i in ("i1", "i2"))
        self.assertNotEqual(first, second)
        for piece in (first, second):  # either way round
            merged = MergeDuct(piece).apply(split)
            for i, at in where.items():
                for u, v in zip(place(merged, i), at):
                    self.assertAlmostEqual(u, v, places=9)

    def test_stepping_aside_keeps_parts_before_and_behind_the_step(self):
        project = PutInline(("s42",), "filter", 0.1).apply(self.project)
        project = PutInline(("s42",), "heater", 0.5).apply(project)
        where = {i: place(project, i) for i in ("i2", "i3")}
        aside = StepAside("s42", 0.5, 0.4, 0.35).apply(project)
        check_links(aside)
        for u, v in zip(place(aside, "i2"), where["i2"]):
            self.assertAlmostEqual(u, v, places=9)
        self.assertAlmostEqual(place(aside, "i3")[2] - where["i3"][2], 0.35)

    def test_sizes_leave_parts_and_files_keep_them(self):
        self.assertEqual(inline_places(SetSize((DUCT,), Rule()).apply(self.project).segments), {"i1": (DUCT, 0)})
        self.assertEqual(decode_container(encode(self.project), "x.garnetfin"), self.project)


if __name__ == "__main__":
    unittest.main()
