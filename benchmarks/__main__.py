"""All benchmarks: python -m benchmarks. Prints them as JSON and writes docs/performance.md."""

import json
import os
import platform
import subprocess
import sys
import time
from pathlib import Path

ALL = ("loads_200_rooms", "edit_to_repaint", "start", "large", "edits", "building", "engine", "air", "ducts", "flows")
PAGE = Path(__file__).parents[1] / "docs" / "performance.md"


def page(found: list[dict], machine: str) -> str:
    """Every figure as measured beside its target; what misses it is said."""
    lines = [
        "# Performance",
        "",
        f"Measured by `make bench` on {time.strftime('%Y-%m-%d')}: {machine}. Medians in seconds unless a name says "
        f"otherwise; other work on the machine",
        "can make them twice as long.",
        "",
        "| what | measured | target |",
        "|---|---|---|",
    ]
    for one in found:
        targets = {k.removeprefix("target_"): v for k, v in one.items() if k.startswith("target")}
        figures = {k: v for k, v in one.items() if k != "name" and not k.startswith("target")}
        lines.append(f"| {one['name']} | {_words(figures)} | {_words(targets)} |")
    return "\n".join([*lines, "", NOTES])


def _words(figures: dict) -> str:
    return "; ".join(f"{k.replace('_', ' ')} {_words_of(v)}" for k, v in figures.items())


def _words_of(value: object) -> str:
    return (
        ", ".join(f"{k} {_words_of(v)}" for k, v in value.items())
        if isinstance(value, dict)
        else f"{value:g}"
        if isinstance(value, float)
        else str(value)
    )


NOTES = """## Large buildings

The large building has 1,000 rooms on ten levels, four air systems of 250 rooms and 5,040 ducts. Its file is on the
screen long before all is computed; while the engine works, views show what is known, loads of the project in hand
first. An edit computes what it reaches alone: names nothing behind them, a window or a wall its rooms and their air
system, a duct its system. What an air system costs is its rounds: ducts take up heat on their way, which moves flows,
which moves sizes; some five rounds settle it, each of which sizes 1,260 ducts with their leaks. That is three quarters
of an edit that reaches a system, and why such edits take 0.6 to 0.9 s in a quiet hour where 0.3 s are wanted; a name
takes 0.1 s, a coil's figure 0.3 s.
"""


def measured(name: str) -> list[dict]:
    """What one of the benchmarks measures, in a process of its own: what others left behind neither slows it nor counts
    as its memory.
    """
    code = f"import json; from benchmarks import {name}; print('\\n' + json.dumps({name}.measure()))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"{name} failed:\n{done.stderr}")
    found = json.loads(done.stdout.rsplit("\n", 2)[-2])
    return found if isinstance(found, list) else [found]


def main() -> None:
    found = [one for name in ALL for one in measured(name)]
    print(
        json.dumps({"machine": platform.machine(), "python": platform.python_version(), "benchmarks": found}, indent=1)
    )
    PAGE.write_text(
        page(found, f"{os.cpu_count()} cores, {platform.machine()}, Python {platform.python_version()}"),
        encoding="utf-8",
    )


if __name__ == "__main__":
    main()
