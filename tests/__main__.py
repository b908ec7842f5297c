"""All tests with one summary line: python -m tests [names ...]"""

import sys
import time
import unittest
from pathlib import Path

import tests  # sets the platform before anything imports Qt


def main() -> int:
    started = time.monotonic()
    loader = unittest.TestLoader()
    root = Path(__file__).parent
    suite = (loader.loadTestsFromNames(sys.argv[1:]) if sys.argv[1:]
             else loader.discover(str(root), top_level_dir=str(root.parent)))
    result = unittest.TextTestRunner(verbosity=1).run(suite)
    for fault in tests.faults:
        print(f"In a slot or paint event:\n{fault}")
    failed = len(tests.faults) + len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    print(f"in {time.monotonic() - started:.0f} s")
    print(f"{result.testsRun - failed - skipped} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not result.testsRun else 0


if __name__ == "__main__":
    sys.exit(main())
