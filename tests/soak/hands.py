"""A user with mouse and keyboard in the real window; the same actions every time for the same seeds."""

import io
import random
import unittest

import tests
from tests.ui.test_random_user import User


class Played(User):
    seeds: list[int] = []

    def runTest(self):
        self.play(self.seeds)


def drawn(rng: random.Random) -> dict:
    return {"seeds": [rng.randrange(2**32) for _ in range(rng.randrange(40, 160))]}


def play(case: dict) -> str:
    test, said = Played("runTest"), io.StringIO()
    test.seeds = case["seeds"]
    found = unittest.TextTestRunner(said).run(test)
    if not found.wasSuccessful() or tests.faults:
        raise AssertionError(said.getvalue()[-3000:] + "".join(tests.faults)[-3000:])
    return f"{len(case['seeds'])} actions"
