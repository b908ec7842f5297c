"""All tests with one summary line, in as many processes as there are cores:
python -m tests [names ...]
"""

import os
import re
import subprocess
import sys
import time
import unittest
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path

import tests  # sets the platform before anything imports Qt

ROOT = Path(__file__).parent
GROUPS = 3  # for each process
SLOWEST = int(os.environ.get("GARNETFIN_SLOWEST", "0"))  # tests that each process names
WINDOW_COST = 6  # a test that opens the window takes about this many times as long as another
# Modules of few tests that take long, as so many others.
HEAVY = {
    "tests.engine.test_every_input": 450,
    "tests.engine.test_directions": 280,
    "tests.architecture.test_style": 350,
    "tests.engine.test_outdoor_air": 130,
    "tests.engine.test_random_ducts": 160,
    "tests.engine.test_air_systems": 150,
    "tests.core.test_sun": 100,
}


class Timed(unittest.TextTestResult):
    """Knows how long each test took, its class's preparation included in the first of it."""

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.taken: list[tuple[float, str]] = []
        self._last = time.monotonic()

    def stopTest(self, test) -> None:
        super().stopTest(test)
        now = time.monotonic()
        self.taken.append((now - self._last, test.id()))
        self._last = now


def here(names: list[str]) -> int:
    """Run tests in this process; the last line counts them."""
    started = time.monotonic()
    suite = unittest.defaultTestLoader.loadTestsFromNames(names)
    result = unittest.TextTestRunner(verbosity=1, resultclass=Timed).run(suite)
    for seconds, name in sorted(result.taken, reverse=True)[:SLOWEST]:
        print(f"slow {seconds:6.1f} s  {name}")
    for fault in tests.faults:
        print(f"In a slot or paint event:\n{fault}")
    failed = len(tests.faults) + len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    print(f"in {time.monotonic() - started:.0f} s")
    print(f"{result.testsRun - failed - skipped} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not result.testsRun else 0


def shares(count: int) -> list[list[str]]:
    """All test modules in groups of about equal length."""
    found = []
    for path in sorted(ROOT.rglob("test_*.py")):
        text = path.read_text(encoding="utf-8")
        weight = len(re.findall(r"^    def test_", text, re.M)) * (
            WINDOW_COST if "WindowTest" in text or "MainWindow" in text else 1
        )
        name = ".".join(path.relative_to(ROOT.parent).with_suffix("").parts)
        found.append((HEAVY.get(name, weight), name))
    groups: list[tuple[int, list[str]]] = [(0, []) for _ in range(count)]
    for weight, name in sorted(found, reverse=True):
        least = min(range(count), key=lambda i: groups[i][0])
        groups[least] = (groups[least][0] + weight, [*groups[least][1], name])
    return [names for _, names in groups if names]


def everything(count: int) -> int:
    """One process for each share; what each says is printed when it is done."""
    started = time.monotonic()
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}

    def run(names: list[str]) -> subprocess.CompletedProcess:
        return subprocess.run(
            [sys.executable, "-m", "tests", *names],
            cwd=ROOT.parent,
            env=environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            errors="replace",
            check=False,
        )

    # More groups than processes, taken one after the other, so that no process idles while another has half of its work
    # left.
    groups = shares(count * GROUPS)
    passed = failed = skipped = broken = 0
    print(f"Tests in {len(groups)} groups, {count} at a time", flush=True)
    pool = ThreadPoolExecutor(count)
    for n, ended in enumerate(as_completed([pool.submit(run, names) for names in groups]), 1):
        done = ended.result()
        if done.returncode or SLOWEST:
            print(done.stdout, end="")
        counted = re.findall(r"^(\d+) passed, (\d+) failed(?:, (\d+) skipped)?$", done.stdout, re.M)
        if not counted or done.returncode not in (0, 1):  # it went down before it could count, or after
            broken += 1
            print(f"A group of tests ended with {done.returncode}")
        if not counted:
            continue
        last = ("", *counted[-1])
        passed, failed, skipped = passed + int(last[1]), failed + int(last[2]), skipped + int(last[3] or 0)
        print(
            f"{n} of {len(groups)} groups done after {time.monotonic() - started:.0f} s: {passed} passed, {failed} "
            f"failed",
            flush=True,
        )
    if failed or broken:
        print("One module again: .venv/bin/python -m tests tests.core.test_loads (or a class or a test of it)")
    print(f"in {time.monotonic() - started:.0f} s, {count} processes at a time")
    print(f"{passed} passed, {failed + broken} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or broken or not passed else 0


if __name__ == "__main__":
    sys.exit(here(sys.argv[1:]) if sys.argv[1:] else everything(max(1, min(4, os.cpu_count() or 1))))
