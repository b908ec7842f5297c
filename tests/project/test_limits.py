"""Project files that say little and unpack to much: refused with one sentence, before they cost memory."""

import io
import re
import subprocess
import sys
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

import msgspec
from msgspec import structs

from garnetfin.core.errors import FileError, GarnetfinError, InputError
from garnetfin.core.texts import MOST_QUOTED, shortened
from garnetfin.exchange.reading import read
from garnetfin.project import container, store
from garnetfin.project.store import content_id, load, load_all, load_contents, save
from garnetfin.project.tree import LISTS
from garnetfin.project.underlays import Underlay
from tests.example import one_room, station

ROOT = Path(__file__).parents[2]
MOST_MB = 600  # what any file may cost


def zipped(members: dict[str, bytes]) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return made.getvalue()


def raw(project) -> dict:
    return msgspec.json.decode(msgspec.json.encode(project))


class Bombs(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.path = cls.folder / "a.gfin"

    def refused(self, members: dict[str, bytes] | bytes, pattern: str) -> None:
        path = self.folder / f"{len(list(self.folder.iterdir()))}.gfin"
        path.write_bytes(members if isinstance(members, bytes) else zipped(members))
        with self.assertRaisesRegex(FileError, pattern) as caught:
            load_all(path)
        self.assertNotIn("\n", str(caught.exception))

    @classmethod
    def tearDownClass(cls):
        """All that was refused costs little, one after the other in a process of its own."""
        # A process that was just started is counted with the memory of the one it was forked from; its own stands in
        # its status.
        code = (
            "import re, sys\nfrom pathlib import Path\nfrom garnetfin.core.errors import GarnetfinError\nfrom "
            "garnetfin.project.store import load\n"
            "for path in map(Path, sys.argv[1:]):\n    try:\n        load(path)\n    except GarnetfinError:\n        "
            "pass\n"
            "print(int(re.search(r'VmHWM:\\s*(\\d+)', Path('/proc/self/status').read_text())[1]) // 1024)"
        )
        done = subprocess.run(
            [sys.executable, "-c", code, *map(str, cls.folder.iterdir())],
            capture_output=True,
            text=True,
            cwd=ROOT,
            check=False,
        )
        if not int(done.stdout) < MOST_MB:
            raise AssertionError(f"{done.stdout} MB, {done.stderr}")

    def test_the_reader_refuses_with_the_same_sentence(self):
        path = self.folder / "reader.gfin"
        path.write_bytes(zipped({"project.json": b" " * (container.LARGEST_JSON + 1)}))
        self.assertRaisesRegex(FileError, "unpacks to more than 80 MB", read, path, "project")
        save(station(), path)
        self.assertEqual(read(path, "project").project.project, station())

    def test_json_that_unpacks_to_gigabytes(self):
        self.refused({"project.json": b" " * (container.LARGEST_JSON + 1)}, "unpacks to more than 80 MB")
        self.refused({"project.json": b'{"format": 6, "rooms": [' + b"[]," * 20_000_000 + b"[]]}"}, "holds more values")
        self.refused(
            {"project.json": b'{"format": 4, "rooms": [' + b'"a",' * 15_000_000 + b'"a"]}'}, "holds more values"
        )
        self.refused(
            {"project.json": b'{"format": 6, "name": "' + b"x" * 70_000_000 + b'", "site": 3}'}, "cannot be opened"
        )

    def test_as_many_values_as_are_let_through(self):
        """The worst that passes the count: an older format, decoded without knowing what it is."""
        text = b'{"format": 4, "rooms": [' + b"[1.5]," * 1_400_000 + b'"a"]}'
        self.assertLess(text.count(b","), container.MOST_VALUES)
        self.refused({"project.json": text}, "cannot be opened")

    def test_drawings_that_are_gigabytes_together(self):
        data = bytes(container.LARGEST_UNDERLAY)
        self.refused(
            {"project.json": msgspec.json.encode(one_room()), **{f"underlays/{i}": data for i in range(8)}},
            "unpacks to more than a project may hold",
        )

    def test_kept_states_that_are_gigabytes_together(self):
        state = b'{"name": "a", "kept": "b", "project": ' + b" " * 25_000_000 + b"}"
        self.refused(
            {"project.json": msgspec.json.encode(one_room()), **{f"marks/{i:03d}.json": state for i in range(5)}},
            "unpacks to more than a project may hold",
        )

    def test_members_without_end(self):
        whole = zipped({f"m{i}": b"" for i in range(container.MOST_MEMBERS + 1)})
        self.refused(whole, "more than the 1000 members")
        lying = bytearray(whole)  # the end says fewer than the list holds
        at = whole.rindex(b"PK\x05\x06")
        lying[at + 8 : at + 12] = (5).to_bytes(2, "little") * 2
        self.refused(bytes(lying), "unpacks to more than a project may hold|broken")

    def test_rooms_without_end(self):
        room = structs.replace(one_room().rooms[0], zone_id="")
        rooms = b",".join(msgspec.json.encode(structs.replace(room, id=f"r{i}", number=str(i))) for i in range(20_000))
        text = msgspec.json.encode(
            {**raw(structs.replace(one_room(), rooms=())), "rooms": msgspec.Raw(b"[" + rooms + b"]")}
        )
        self.refused({"project.json": text}, "20000 rooms are more than the 15000 accepted")

    def test_what_could_not_be_read_again_is_not_written(self):
        save(one_room(), self.path)
        before = self.path.read_bytes()
        for name, most in (("LARGEST_JSON", 500), ("MOST_VALUES", 10), ("LARGEST_WEIGHT", 500)):
            with mock.patch.object(container, name, most), self.assertRaises(FileError):
                save(one_room(), self.path)
        self.assertEqual(self.path.read_bytes(), before)

    def test_contents_over_all_are_bounded_and_what_fits_comes(self):
        data = {content_id(x): x for x in (b"a" * 1000, b"b" * 1000)}
        level = one_room().levels[0].id
        project = structs.replace(
            one_room(),
            underlays=tuple(
                Underlay(id=f"u{i}", name="a", level_id=level, kind="lines", content=c, scale=1.0)
                for i, c in enumerate(data)
            ),
        )
        save(project, self.path, data)
        self.assertEqual(load_contents(self.path, load(self.path)), data)
        with mock.patch.object(container, "LARGEST_WEIGHT", 1500):
            self.assertRaises(FileError, load, self.path)


class Quoted(unittest.TestCase):
    LONG = "x\u202ey\n\x07" + "long " * 40_000

    def test_refusals_repeat_little_of_a_foreign_text(self):
        for part, change in (
            ("id", lambda p: p["rooms"][0].update(id=self.LONG)),
            ("level", lambda p: p["rooms"][0].update(level_id=self.LONG)),
            ("use", lambda p: p["rooms"][0].update(use_id=self.LONG)),
            ("field", lambda p: p["rooms"][0].update({self.LONG: 1})),
            ("number", lambda p: p["rooms"][0].update(number=self.LONG, ceiling_m=900)),
            ("choice", lambda p: p["rooms"][0].update(air=self.LONG)),
            ("double", lambda p: p.update(rooms=[{**p["rooms"][0], "id": "r1", "number": self.LONG}] * 2)),
            ("top", lambda p: p.update({self.LONG: 1})),
        ):
            with self.subTest(part=part):
                data = raw(one_room())
                change(data)
                with self.assertRaises(FileError) as caught:
                    store.decode_container(zipped({"project.json": msgspec.json.encode(data)}), "a.gfin")
                said = str(caught.exception)
                self.assertLess(len(said), 600)
                self.assertLessEqual(said.count("long"), 3 * MOST_QUOTED // 5)
                self.assertFalse(re.search("[\n\x07\u202e]", said))

    def test_what_is_short_is_said_as_it_is(self):
        self.assertEqual(
            str(GarnetfinError("“abc” is no room", where="room 1", remedy="Take 2\u202f300 W")),
            "“abc” is no room. room 1. Take 2\u202f300 W",
        )
        self.assertEqual(shortened("a b"), "a b")
        self.assertEqual(len(shortened("a" * 100)), MOST_QUOTED)


class Ids(unittest.TestCase):
    def test_every_kind_of_part_refuses_an_id_that_leads_elsewhere(self):
        whole = raw(station())
        for kind in LISTS:
            if kind == "accepted" or not whole[kind]:
                continue
            for odd in ("../../x", "a/b", "", "a\n", ".", "\u202ea", "x" * 121, "ü"):
                data = raw(station())
                data[kind][0]["id"] = odd
                with self.assertRaises(FileError, msg=(kind, odd)) as caught:
                    store.decode(msgspec.json.encode(data), "a.gfin")
                self.assertIn("is no id", str(caught.exception))

    def test_openings_too(self):
        data = raw(station())
        wall = next(w for w in data["walls"] if w["openings"])
        wall["openings"][0]["id"] = "../x"
        self.assertRaisesRegex(FileError, "is no id", store.decode, msgspec.json.encode(data), "a.gfin")

    def test_a_hostile_name_of_a_level_stays_in_the_folder(self):
        from garnetfin.engine.memo import Memo
        from garnetfin.engine.run import run
        from garnetfin.report.handover import Order, files, write_files

        project = structs.replace(
            one_room(), name="../../p", levels=(structs.replace(one_room().levels[0], name="/../../../…"),)
        )
        with tempfile.TemporaryDirectory() as folder:
            inside = Path(folder) / "out" / "chosen"
            inside.mkdir(parents=True)
            made = files(Order(run(project, Memo())), ("svg", "dxf", "csv"))
            self.assertTrue(made)
            for path in write_files(made, inside):
                self.assertTrue(path.resolve().is_relative_to(inside.resolve()))
            self.assertEqual([p.name for p in Path(folder).iterdir()], ["out"])
            self.assertEqual([p.name for p in (Path(folder) / "out").iterdir()], ["chosen"])
            with self.assertRaises(GarnetfinError):
                write_files({"../evil.csv": b"", "b.csv": b""}, inside)

    def test_input_errors_name_the_place(self):
        with self.assertRaises(InputError) as caught:
            from garnetfin.project.values import id_ok

            id_ok("a/b", "rooms")
        self.assertEqual(caught.exception.where, "rooms")
