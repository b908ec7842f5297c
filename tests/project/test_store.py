"""Project files: round trip, refusals in one sentence, atomic saving."""

import contextlib
import io
import json
import os
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

import msgspec
from msgspec import structs

from garnetfin.core.errors import FileError, InputError
from garnetfin.project import store
from garnetfin.project.migrate import migrate
from garnetfin.project.papers import Papers, Sheet
from garnetfin.project.systems import FanChoice
from garnetfin.project.values import Imported, Pinned
from tests.example import one_room, station


def container(text: bytes, name: str = "project.json") -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, text)
    return out.getvalue()


def raw(project) -> dict:
    return json.loads(msgspec.json.encode(project))


class RoundTrip(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_what_is_saved_is_what_is_loaded(self):
        path = self.folder / "a.gfin"
        store.save(station(), path)
        self.assertEqual(store.load(path), station())
        self.assertEqual(list(self.folder.iterdir()), [path])

    def test_same_project_gives_the_same_bytes(self):
        self.assertEqual(store.encode(one_room()), store.encode(one_room()))

    def test_a_failing_save_leaves_the_old_file_and_no_rest(self):
        path = self.folder / "a.gfin"
        store.save(one_room(), path)
        before = path.read_bytes()
        for call in ("os.fsync", "os.replace"):
            with self.subTest(call=call), mock.patch(call, side_effect=OSError(28, "No space left on device")):
                with self.assertRaisesRegex(FileError, "No space left.*another folder"):
                    store.save(station(), path)
            self.assertEqual(path.read_bytes(), before)
            self.assertEqual(os.listdir(self.folder), ["a.gfin"])

    def test_a_folder_that_is_gone_is_said(self):
        self.assertRaisesRegex(FileError, "could not be saved", store.save, one_room(), self.folder / "none" / "a.gfin")

    def test_schema_describes_what_is_saved(self):
        schema = store.schema()
        self.assertIn("Room", schema["$defs"])
        room = schema["$defs"]["Room"]
        self.assertEqual(set(raw(one_room())["rooms"][0]), set(room["properties"]))


class Refusals(unittest.TestCase):
    def refuse(self, data: bytes, pattern: str) -> None:
        with self.assertRaisesRegex(FileError, pattern) as caught:
            store.decode_container(data, "a.gfin")
        self.assertLess(len(str(caught.exception)), 320)
        self.assertNotIn("\n", str(caught.exception))

    def test_foreign_and_broken_containers(self):
        whole = store.encode(station())
        self.refuse(b"", "broken or not a project")
        self.refuse(b"%PDF-1.7 something else", "broken or not a project")
        self.refuse(container(b"{}", "other.json"), "holds no project.json")
        for part in (10, len(whole) // 2, len(whole) - 5):
            self.refuse(whole[:part], "broken or not a project")

    def test_no_byte_flip_escapes_as_anything_but_a_refusal(self):
        whole = bytearray(store.encode(one_room()))
        for at in range(0, len(whole), 7):
            flipped = bytes(whole[:at]) + bytes([whole[at] ^ 0xFF]) + bytes(whole[at + 1 :])
            with contextlib.suppress(FileError):
                store.decode_container(flipped, "a.gfin")

    def test_json_faults_say_where(self):
        self.refuse(container(b'{"format": 1, "rooms": ['), "cut off or not JSON")
        self.refuse(container(b"[1, 2]"), "holds no project")
        self.refuse(container(b"{}"), "names no format")
        deep = b'{"format":1,"name":' + b"[" * 100_000 + b"]" * 100_000 + b"}"
        self.refuse(container(deep), "cut off or not JSON|cannot be opened")

    def test_a_newer_format_is_refused_plainly(self):
        self.refuse(container(b'{"format": 99}'), "newer Garnetfin.*reads formats 1 to 8")

    def test_wrong_and_unknown_fields_name_their_path(self):
        data = raw(one_room())
        data["rooms"][0]["ceiling_m"] = "tall"
        self.refuse(container(json.dumps(data).encode()), r"Expected `float`.*rooms\[0\].ceiling_m")
        data = raw(one_room())
        data["rooms"][0]["colour"] = 1
        self.refuse(container(json.dumps(data).encode()), r"unknown field `colour`.*rooms\[0\]")

    def test_figures_outside_their_range_name_the_room(self):
        data = raw(one_room())
        data["rooms"][0]["ceiling_m"] = 900
        self.refuse(container(json.dumps(data).encode()), "Ceiling height.*room 1 Room")

    def test_dangling_and_double_ids(self):
        for change, pattern in (
            (lambda d: d["segments"][0].update(a="nowhere"), "nowhere.*duct points.*segment s1"),
            (lambda d: d["rooms"].append(d["rooms"][0]), "used twice.*rooms"),
            (lambda d: d["rooms"][0].update(use_id="disco"), "disco.*room use"),
            (lambda d: d["walls"][0].update(room_a="ghost"), "ghost.*rooms.*wall w1"),
        ):
            data = raw(one_room())
            change(data)
            self.refuse(container(json.dumps(data).encode()), pattern)

    def test_a_bomb_is_refused_by_its_size(self):
        with mock.patch.object(store.container, "LARGEST_JSON", 1000):
            self.refuse(container(b" " * 5000), "unpacks to more than")

    def test_missing_file_and_folder(self):
        with tempfile.TemporaryDirectory() as folder:
            self.assertRaisesRegex(FileError, "is a folder", store.load, Path(folder))
            self.assertRaisesRegex(FileError, "cannot be read", store.load, Path(folder) / "none.gfin")


class Migration(unittest.TestCase):
    def test_steps_run_in_order_up_to_the_newest(self):
        steps = {1: lambda d: {**d, "one": True}, 2: lambda d: {**d, "two": d["one"]}}
        self.assertEqual(migrate({"format": 1}, steps, 3), {"format": 3, "one": True, "two": True})

    def test_a_file_of_format_1_opens_as_it_was(self):
        project = store.load(Path(__file__).parents[1] / "data" / "format-1.gfin")
        self.assertEqual((project.format, project.zones, project.underlays), (8, (), ()))
        self.assertEqual(len(project.rooms), len(station().rooms))

    def test_a_file_of_format_2_keeps_its_conditions_as_taken_over(self):
        project = store.load(Path(__file__).parents[1] / "data" / "format-2.gfin")
        months = project.site.months
        self.assertEqual(months[6].dry_bulb_c, Imported(value=31.8, source="Tern Point"))
        self.assertTrue(all(isinstance(getattr(m, name), Imported) for m in months for name in m.__struct_fields__))
        self.assertEqual(len(project.rooms), len(station().rooms))

    def test_a_file_of_format_4_has_papers_by_rule(self):
        project = store.load(Path(__file__).parents[1] / "data" / "format-4.gfin")
        self.assertEqual((project.papers, project.accepted, project.book.sheet), (Papers(), (), Sheet()))
        # what stood typed stays typed; the year beside it was made by another formula of the sun
        floors = [b for b in project.build_ups if b.inside_absorptance == Pinned(value=0.6)]
        self.assertEqual([b.id for b in floors], ["F1", "F2"])
        typed = tuple(structs.replace(s, leakage="typed", boxes="none", coils="typed") for s in station().air_systems)
        self.assertEqual(project.air_systems, typed)  # what leaks stays as it was
        same = {
            "air_systems": station().air_systems,
            # ducts of the example follow its flows, which leaks are part of now
            "segments": station().segments,
            "name": station().name,
            "build_ups": station().build_ups,
            "site": station().site,
        }
        self.assertEqual(structs.replace(project, **same), station())
        self.assertEqual(structs.replace(project.site, weather=None), structs.replace(station().site, weather=None))

    def test_a_file_of_format_6_keeps_what_was_chosen_of_its_fan(self):
        system = store.load(Path(__file__).parents[1] / "data" / "format-6.gfin").air_systems[0]
        chosen = FanChoice(
            way="supply",
            speed_rpm=Pinned(value=1234.0),
            motor_efficiency=Pinned(value=0.81),
            effect_k=Pinned(value=0.4),
            count=2,
            arrangement="parallel",
        )
        self.assertEqual(system.fans, (chosen,))

    def test_a_file_of_format_7_has_no_equipment_and_its_coils_stay_as_typed(self):
        project = store.load(Path(__file__).parents[1] / "data" / "format-7.gfin")
        self.assertEqual([(s.boxes, s.coils) for s in project.air_systems], [("none", "typed")])
        kinds = ("flow_boxes", "room_units", "coils", "units", "machines")
        self.assertEqual([getattr(project, k) for k in kinds], [()] * 5)

    def test_nonsense_formats_are_refused(self):
        for found in (None, 0, True, "1", 1.5):
            self.assertRaisesRegex(FileError, "names no format", migrate, {"format": found})


class Values(unittest.TestCase):
    def test_no_number_never_enters_the_tree(self):
        for kind in (Pinned, Imported):
            self.assertRaisesRegex(InputError, "finite", kind, value=float("nan"))

    def test_crossed_set_points_are_refused(self):
        self.assertRaisesRegex(
            InputError, "above the cooling", one_room, cooling_c=Pinned(value=20.0), heating_c=Pinned(value=22.0)
        )
