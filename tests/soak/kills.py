"""The program killed at any moment, and saves cut off at any step: every edit it told of comes back."""

import io
import random
import unittest

from tests.ui.test_crash import Killed
from tests.ui.test_saving import CutOff


class Once(Killed):
    seeds: list[int] = []

    def runTest(self):
        self.rounds(self.seeds)


def drawn(rng: random.Random) -> dict:
    return {"seeds": [rng.randrange(2**32) for _ in range(rng.randrange(2, 6))]}


def play(case: dict) -> str:
    once, said = Once("runTest"), io.StringIO()
    once.seeds = case["seeds"]
    suite = unittest.TestSuite([once])
    if case["seeds"][0] % 4 == 0:
        suite.addTests(unittest.defaultTestLoader.loadTestsFromTestCase(CutOff))
    found = unittest.TextTestRunner(said).run(suite)
    if not found.wasSuccessful():
        raise AssertionError(said.getvalue()[-3000:])
    return f"{len(case['seeds'])} kills"
