"""Draws cases by lot and plays each in a process of its own until the time is over; one that fails is made short and
kept as a test.

python -m tests.soak MINUTES [KIND ...] [--seed N]      python -m tests.soak --play FILE
"""

import argparse
import hashlib
import json
import os
import random
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from importlib import import_module
from pathlib import Path

KINDS = {
    "odd files": "odd_files",
    "foreign files": "foreign_files",
    "hands": "hands",
    "kills": "kills",
    "long life": "long_life",
}
OFTEN = {"odd files": 12, "foreign files": 8, "hands": 4, "kills": 2, "long life": 1}
KEPT = Path(__file__).parents[1] / "kept"
ROOT = Path(__file__).parents[2]
LONGEST_S, SHORTEN_S = 900, 600


def play(case: dict) -> str:
    """What a case came to; raises where a promise is broken."""
    return import_module(f"tests.soak.{KINDS[case['kind']]}").play(case)


def apart(case: dict, longest_s: float = LONGEST_S) -> tuple[bool, str]:
    """(whether it held, what it said), played in a process of its own."""
    try:
        done = subprocess.run(
            [sys.executable, "-m", "tests.soak", "--play", "-"],
            input=json.dumps(case),
            cwd=ROOT,
            capture_output=True,
            text=True,
            errors="replace",
            timeout=longest_s,
            check=False,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen", "OPENBLAS_NUM_THREADS": "1"},
        )
    except subprocess.TimeoutExpired:
        return False, f"not done within {longest_s:.0f} s"
    return done.returncode == 0, (done.stdout if done.returncode == 0 else done.stderr)[-4000:].strip()


def shorter(case: dict, until: float) -> dict:
    """The fewest of a case's seeds that still fail: halves, quarters and so on are left out as long as it does."""
    seeds, parts = list(case["seeds"]), 2
    while len(seeds) > 1 and time.monotonic() < until:
        size = -(-len(seeds) // parts)
        for at in range(0, len(seeds), size):
            fewer = seeds[:at] + seeds[at + size :]
            if fewer and time.monotonic() < until and not apart({**case, "seeds": fewer})[0]:
                seeds, parts = fewer, max(2, parts - 1)
                break
        else:
            if size == 1:
                break
            parts = min(len(seeds), parts * 2)
    return {**case, "seeds": seeds}


def keep(case: dict, why: str) -> Path:
    """A case that failed as a file that the tests play from now on."""
    KEPT.mkdir(exist_ok=True)
    told = {**case, "why": why.splitlines()[-1][:300] if why else ""}
    name = hashlib.sha256(json.dumps(case, sort_keys=True).encode()).hexdigest()[:10]
    path = KEPT / f"{case['kind'].replace(' ', '-')}-{name}.json"
    path.write_text(json.dumps(told, indent=1) + "\n", encoding="utf-8")
    return path


def watch(minutes: float, kinds: list[str], seed: int) -> int:
    """Exit code 1 where anything failed."""
    rng, until, counts, failed = random.Random(seed), time.monotonic() + 60 * minutes, dict.fromkeys(kinds, 0), []
    print(f"seed {seed}, {minutes:g} minutes: {', '.join(kinds)}", flush=True)

    def one(case: dict) -> None:
        if time.monotonic() > until:
            return
        began = time.monotonic()
        held, said = apart(case)
        counts[case["kind"]] += 1
        print(
            f"{'holds ' if held else 'FAILS '} {case['kind']:<14}{time.monotonic() - began:6.1f} s  seeds "
            f"{str(case['seeds'])[:60]}  {said.splitlines()[-1][:120] if said else ''}",
            flush=True,
        )
        if not held:
            short = shorter(case, time.monotonic() + SHORTEN_S)
            path = keep(short, said)
            failed.append(path)
            print(
                f"        kept as {path.relative_to(ROOT)} with {len(short['seeds'])} of {len(case['seeds'])} "
                f"seeds\n{said}",
                flush=True,
            )

    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        while time.monotonic() < until:
            cases = []
            for kind in rng.choices(kinds, [OFTEN[k] for k in kinds], k=2 * (os.cpu_count() or 1)):
                cases.append({"kind": kind, **import_module(f"tests.soak.{KINDS[kind]}").drawn(rng)})
            list(pool.map(one, cases))
    print(
        ", ".join(f"{n} {k}" for k, n in counts.items())
        + (f"; {len(failed)} failed and are kept" if failed else "; all hold")
    )
    return 1 if failed else 0


def main() -> int:
    ask = argparse.ArgumentParser(prog="python -m tests.soak", description=__doc__.splitlines()[0])
    ask.add_argument("minutes", nargs="?", type=float, default=10.0)
    ask.add_argument("kinds", nargs="*", metavar="KIND", help=", ".join(KINDS))
    ask.add_argument("--seed", type=int, default=None)
    ask.add_argument("--play", metavar="FILE")
    told = ask.parse_args()
    if told.play:
        print(play(json.loads(sys.stdin.read() if told.play == "-" else Path(told.play).read_text(encoding="utf-8"))))
        return 0
    wrong = [k for k in told.kinds if k not in KINDS]
    if wrong:
        ask.error(f"“{wrong[0]}” is none of: {', '.join(KINDS)}")
    return watch(
        told.minutes,
        told.kinds or list(KINDS),
        random.SystemRandom().randrange(2**31) if told.seed is None else told.seed,
    )


if __name__ == "__main__":
    sys.exit(main())
