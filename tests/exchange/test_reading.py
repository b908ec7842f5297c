"""The reading process: answers, progress, stopping, limits, and seeded damage to every kind of file."""

import random
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from garnetfin.core.errors import Cancelled, FileError
from garnetfin.exchange import reading, worker
from garnetfin.exchange.gbxml_write import write_gbxml
from garnetfin.exchange.results import Answer
from garnetfin.project.draft import Draft, check_draft
from tests.exchange.samples import tower, write_dxf, write_ifc


class Process(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.gbxml = cls.folder / "a.xml"
        cls.gbxml.write_bytes(write_gbxml(tower(1, 2, 1)))
        cls.ifc = write_ifc(tower(1, 2, 1), cls.folder / "a.ifc")

    def test_a_file_is_read_with_progress(self):
        heard = []
        found = reading.read(self.gbxml, progress=lambda share, words: heard.append((share, words)))
        self.assertEqual(len(found.draft.rooms), 2)
        self.assertIn("2 spaces", [w for _, w in heard])
        self.assertEqual(sorted(s for s, _ in heard), [s for s, _ in heard])

    def test_ifc_comes_back_through_the_process_too(self):
        self.assertEqual(len(reading.read(self.ifc).draft.rooms), 2)

    def test_refusals_come_back_as_sentences(self):
        bad = self.folder / "bad.ifc"
        bad.write_text("nothing")
        self.assertRaisesRegex(FileError, "not an IFC file", reading.read, bad)
        empty = self.folder / "empty.dxf"
        empty.touch()
        self.assertRaisesRegex(FileError, "is empty", reading.read, empty)
        self.assertRaisesRegex(FileError, "Accepted: .csv", reading.read, self.folder / "a.exe")
        self.assertRaisesRegex(FileError, "is not a file", reading.read, self.folder, "ifc")
        self.assertRaisesRegex(FileError, "is not a file", reading.read, self.folder / "none.ifc")

    def test_gigabyte_files_are_refused_unread(self):
        large = self.folder / "large.xml"
        with large.open("wb") as file:
            file.truncate(3 * 2**30)  # sparse: takes no room on disk
        started = time.monotonic()
        self.assertRaisesRegex(FileError, "larger than 200 MB", reading.read, large)
        self.assertLess(time.monotonic() - started, 1.0)
        large.unlink()

    def test_stopping_ends_the_reader_at_once(self):
        self.assertRaises(Cancelled, reading.read, self.gbxml, stopped=lambda: True)

    def test_a_reader_that_takes_too_long_or_falls_over_is_told(self):
        self.assertRaisesRegex(FileError, "not read within", reading.read, self.gbxml, longest_s=0.0)
        with mock.patch("garnetfin.processes.sys.executable", "/bin/false"):
            self.assertRaisesRegex(FileError, "brought its reader down", reading.read, self.gbxml)

    def test_an_answer_that_cannot_be_is_refused(self):
        draft = msgspec.to_builtins(Answer(draft=Draft(source="x")))
        draft["draft"]["rooms"] = [
            {
                "id": "a",
                "number": "1",
                "name": "n",
                "level_id": "none",
                "use_id": "storage",
                "ceiling_m": 3.0,
                "outline": [[0, 0], [1, 0], [1, float("nan")]],
            }
        ]
        self.assertRaisesRegex(FileError, "cannot be", reading._checked, msgspec.msgpack.encode(draft), "x")
        self.assertRaisesRegex(FileError, "cannot be", reading._checked, b"\xff\x00", "x")

    def test_a_table_and_an_option(self):
        path = self.folder / "a.csv"
        path.write_text("No;Area\n1;20")
        self.assertEqual(reading.read(path).table.rows, (("No", "Area"), ("1", "20")))


class Damage(unittest.TestCase):
    """Seeded: bytes changed, pieces dropped or doubled.

    The reader answers with a draft that holds together, or refuses in words.
    """

    ROUNDS = 60

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def damaged(self, data: bytes, rng: random.Random) -> bytes:
        data = bytearray(data)
        digits = [i for i, b in enumerate(data) if chr(b).isdigit()]
        # one wrong digit: the file still reads, with a figure that is off
        if digits and rng.random() < 0.3:
            data[rng.choice(digits)] = rng.choice(b"0123456789")
            return bytes(data)
        for _ in range(rng.randint(1, 6)):
            at = rng.randrange(len(data))
            match rng.randrange(5):
                case 0:
                    data[at] = rng.randrange(256)
                case 1:
                    del data[at : at + rng.randint(1, 400)]
                case 2:
                    data[at:at] = data[at : at + rng.randint(1, 400)]
                case 3:
                    data[at : at + 3] = rng.choice((b"NaN", b"1e9", b"-99", b"inf", b"\x00\x00\x00"))
                case _:
                    del data[max(200, at) :]
            if not data:
                data = bytearray(b" ")
        return bytes(data)

    def run_damaged(self, kind: str, data: bytes, suffix: str, rounds: int):
        rng = random.Random(f"{kind} 3")
        path, accepted = self.folder / f"a{suffix}", 0
        for _ in range(rounds):
            path.write_bytes(self.damaged(data, rng))
            found = worker.answer(kind, path, {}, lambda share, words: None)
            if found.refused:
                self.assertRegex(found.refused, r"^\S.{15,400}$")
                continue
            accepted += 1
            again = msgspec.msgpack.decode(msgspec.msgpack.encode(found), type=Answer)
            if again.draft is not None:
                check_draft(again.draft)
        return accepted

    def test_gbxml(self):
        self.assertGreater(self.run_damaged("gbxml", write_gbxml(tower(1, 2, 1)), ".xml", self.ROUNDS), 0)

    def test_dxf(self):
        self.assertGreater(self.run_damaged("dxf", write_dxf(self.folder / "g.dxf").read_bytes(), ".dxf", 12), 0)

    def test_tables(self):
        self.assertGreater(self.run_damaged("table", b"No;Room;Area\n" + b"1;Office;20\n" * 30, ".csv", self.ROUNDS), 0)

    def test_pictures(self):
        from PIL import Image

        Image.effect_noise((60, 40), 50).save(self.folder / "p.png")
        self.run_damaged("picture", (self.folder / "p.png").read_bytes(), ".png", self.ROUNDS)

    def test_ifc_in_its_own_process(self):
        """The native parser may end the process; this one lives on."""
        data = write_ifc(tower(1, 2, 1), self.folder / "g.ifc", boundaries=True).read_bytes()
        rng, path = random.Random("ifc 3"), self.folder / "a.ifc"
        for _ in range(6):
            path.write_bytes(self.damaged(data, rng))
            try:
                found = reading.read(path, longest_s=60.0)
                self.assertTrue(found.draft.rooms)
            except FileError as error:
                self.assertGreater(len(str(error)), 15)


if __name__ == "__main__":
    unittest.main()
