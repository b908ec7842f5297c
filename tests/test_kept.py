"""Cases that a long watch found and made short, played again; and a little of each kind of watch."""

import json
import random
import unittest
from pathlib import Path
from unittest import mock

import tests.soak.__main__ as soak
from tests.soak import foreign_files, long_life, odd_files

KEPT = Path(__file__).parent / "kept"


class Kept(unittest.TestCase):
    def test_what_once_failed_holds(self):
        for path in sorted(KEPT.glob("*.json")):
            with self.subTest(case=path.name):
                case = json.loads(path.read_text(encoding="utf-8"))
                held, said = (
                    soak.apart(case) if case["kind"] in ("hands", "kills", "long life") else (True, soak.play(case))
                )
                self.assertTrue(held, said)


class Watches(unittest.TestCase):
    def test_odd_files(self):
        rng, accepted = random.Random(7), 0
        for _ in range(16):
            accepted += bool(odd_files.play({**odd_files.drawn(rng), "base": "room"}))
        self.assertGreater(accepted, 1)

    def test_foreign_files(self):
        for suffix in foreign_files.SAMPLES:
            with self.subTest(suffix=suffix):
                self.assertEqual(foreign_files.play({"suffix": suffix, "seeds": []}), "read")

    def test_a_window_that_opens_projects_again_and_again(self):
        with mock.patch.object(
            long_life, "projects", lambda: {"room": long_life.one_room(), "tower": long_life.tower(2, 2, 2)}
        ):
            self.assertIn("5 openings", long_life.play({"seeds": [3], "openings": 5, "actions": 10}))

    def test_a_sequence_that_fails_is_made_short(self):
        case = {"kind": "odd files", "base": "room", "seeds": list(range(40))}
        with mock.patch.object(soak, "apart", lambda case: (not {7, 23} <= set(case["seeds"]), "")):
            found = soak.shorter(case, float("inf"))
        self.assertEqual(found["seeds"], [7, 23])
