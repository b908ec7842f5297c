"""Drafts hold together or are refused; the contents of underlays are kept beside the project and checked by their
names.
"""

import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

from msgspec import structs

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.project.draft import Draft, LooseOpening, Note, check_draft
from garnetfin.project.edits.imports import TakeDraft, differences, digest, homeless
from garnetfin.project.edits.openings import AddOpening
from garnetfin.project.edits.underlays import AddUnderlay
from garnetfin.project.lookup import walls_of
from garnetfin.project.new import new_project
from garnetfin.project.spaces import Opening
from garnetfin.project.store import content_id, load, load_contents, save
from garnetfin.project.underlays import Underlay
from tests.project.test_shape import box, house


def draft(**change) -> Draft:
    """The two rooms of the small house as a file might give them: outlines, a loose window, build-ups."""
    project = house()
    rooms = tuple(structs.replace(r, system_id="served") for r in project.rooms)
    window = LooseOpening(
        level_id="L0",
        at=(2.0, 0.1),
        opening=Opening(id="o1", kind="window", at_m=0.0, width_m=1.2, sill_m=0.9, head_m=2.4, glazing_id="G1"),
    )
    return structs.replace(
        Draft(
            source="a.ifc",
            levels=project.levels,
            rooms=rooms,
            build_ups=project.build_ups,
            glazings=project.glazings,
            openings=(window,),
            derive=True,
        ),
        **change,
    )


class Drafts(unittest.TestCase):
    def test_ids_that_lead_nowhere_are_refused(self):
        good = draft()
        self.assertIs(check_draft(good), good)
        lost = structs.replace(good.rooms[0], level_id="none")
        zoned = structs.replace(good.rooms[0], zone_id="none")
        for broken in (
            {"rooms": (lost,)},
            {"rooms": (zoned,)},
            {"rooms": good.rooms * 2},
            {"walls": house().walls, "rooms": ()},
            {"slabs": house().slabs, "build_ups": ()},
            {"glazings": ()},
            {"levels": (), "rooms": ()},
        ):
            with self.subTest(broken=list(broken)):
                self.assertRaisesRegex(InputError, "leads nowhere|same id", check_draft, draft(**broken))

    def test_places_outside_the_globe_are_refused(self):
        self.assertRaisesRegex(InputError, "Latitude must lie", draft, latitude_deg=91.0)
        self.assertRaisesRegex(InputError, "Longitude must lie", draft, longitude_deg=float("nan"))
        self.assertRaisesRegex(InputError, "North must lie", draft, north_deg=1000.0)

    def test_loose_openings_go_to_the_wall_they_stand_in(self):
        made = TakeDraft(draft(), ("n1", "n2")).apply(new_project())
        wall = next(w for w in made.walls if w.openings)
        self.assertEqual((round(wall.facing_deg), round(wall.openings[0].at_m, 6)), (180, 2.0))
        far = draft(openings=(structs.replace(draft().openings[0], at=(3.0, 2.0)),))
        command = TakeDraft(far, ("n1", "n2"))
        lost = command.apply(new_project())
        self.assertFalse([w for w in lost.walls if w.openings])
        self.assertEqual(homeless(new_project(), lost, command), 1)
        self.assertEqual(homeless(new_project(), made, TakeDraft(draft(), ("n1", "n2"))), 0)

    def test_taking_nothing_changes_nothing_and_unknown_rooms_are_refused(self):
        project = new_project()
        self.assertIs(TakeDraft(draft(), ()).apply(project), project)
        self.assertRaisesRegex(InputError, "not among the rooms of a.ifc", TakeDraft(draft(), ("zz",)).apply, project)

    def test_a_first_building_brings_its_place_and_a_second_does_not(self):
        made = TakeDraft(draft(latitude_deg=60.0, longitude_deg=25.0, north_deg=10.0), ("n1",)).apply(new_project())
        self.assertEqual((made.site.latitude_deg, made.site.utc_offset_h, made.site.north_deg), (60.0, 2.0, 10.0))
        again = TakeDraft(draft(latitude_deg=-10.0, longitude_deg=0.0, source="b.ifc"), ("n2",)).apply(made)
        self.assertEqual(again.site, made.site)

    def test_the_sign_of_faces_changes_with_an_opening_and_not_with_a_name(self):
        project = house()
        before = digest(project, "n1")
        named = structs.replace(project, rooms=(structs.replace(project.rooms[0], name="x"), *project.rooms[1:]))
        self.assertEqual(digest(named, "n1"), before)
        north = next(w for w in walls_of(project.walls, "n1") if w.outside and round(w.facing_deg) == 0)
        self.assertNotEqual(digest(AddOpening(north.id, "window", 2.0).apply(project), "n1"), before)

    def test_a_moved_outline_is_a_difference_in_square_metres(self):
        made = TakeDraft(draft(), ("n1", "n2")).apply(new_project())
        wider = structs.replace(draft().rooms[1], outline=box(6, 0, 11, 4))
        found = {d.key: d for d in differences(made, draft(rooms=(draft().rooms[0], wider)))}
        self.assertEqual((found["n1"].kind, found["n2"].lines), ("same", ("outline 16.0 → 20.0 m²",)))

    def test_notes_have_one_of_four_kinds(self):
        import msgspec

        note = msgspec.to_builtins(Note(kind="found", text="x"))
        self.assertRaises(msgspec.ValidationError, msgspec.convert, {**note, "kind": "guessed"}, Note)


class Contents(unittest.TestCase):
    def setUp(self):
        self.path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "job.gfin"
        self.data = b'{"name": "plan", "layers": []}'
        under = Underlay(id="", name="plan", level_id="L0", kind="lines", content=content_id(self.data))
        self.project = AddUnderlay(under).apply(new_project())

    def test_what_an_underlay_shows_is_saved_once_and_only_while_it_is_named(self):
        save(self.project, self.path, {content_id(self.data): self.data, "other": b"not named"})
        with zipfile.ZipFile(self.path) as archive:
            self.assertEqual(
                [n for n in archive.namelist() if n.startswith("underlays/")], [f"underlays/{content_id(self.data)}"]
            )
        self.assertEqual(load_contents(self.path, load(self.path)), {content_id(self.data): self.data})

    def test_contents_that_do_not_fit_their_name_or_are_missing_are_left_out(self):
        save(self.project, self.path, {content_id(self.data): b"something else"})
        self.assertEqual(load_contents(self.path, load(self.path)), {})
        save(self.project, self.path)
        self.assertEqual(load_contents(self.path, load(self.path)), {})
        self.assertEqual(load_contents(self.path.with_name("none.gfin"), self.project), {})

    def test_a_session_takes_no_more_than_a_file_may_hold(self):
        from garnetfin.ui import session

        job = session.Session()
        self.addCleanup(job.close)
        with mock.patch.object(session, "MOST_CONTENTS", 20):
            self.assertEqual(job.keep(b"x" * 15), content_id(b"x" * 15))
            self.assertRaisesRegex(GarnetfinError, "larger than.*Remove one", job.keep, b"y" * 15)


if __name__ == "__main__":
    unittest.main()
