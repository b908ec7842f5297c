"""Holds the sources to their style: ruff with pyproject's rules, but for a list of exceptions by rule and file that
only shrinks.

python scripts/style.py             what breaks a rule, and what the list still allows though nobody needs it
python scripts/style.py --shrink    takes off the list what is mended
"""

import json
import subprocess
import sys
import tomllib
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).parents[1]
LIST = ROOT / "scripts" / "style_exceptions.toml"
FOLDERS = ("garnetfin", "tests", "benchmarks", "scripts", "demo")
Counts = Counter[tuple[str, str]]


def found(root: Path = ROOT) -> tuple[Counts, dict[tuple[str, str], list[str]]]:
    """(how often each rule is broken in each file, the places)."""
    command = [sys.executable, "-m", "ruff", "check", "--output-format", "json", "--no-cache", *FOLDERS]
    done = subprocess.run(command, cwd=root, capture_output=True, text=True, check=False)
    if done.returncode not in (0, 1):
        raise RuntimeError(done.stderr.strip())
    counts: Counts = Counter()
    places: dict[tuple[str, str], list[str]] = {}
    for one in json.loads(done.stdout):
        file = Path(one["filename"]).relative_to(root).as_posix()
        counts[one["code"], file] += 1
        places.setdefault((one["code"], file), []).append(f"{file}:{one['location']['row']}: {one['message']}")
    return counts, places


def unformatted(root: Path = ROOT) -> list[str]:
    """Files that the formatter would write otherwise."""
    command = [sys.executable, "-m", "ruff", "format", "--check", "--no-cache", *FOLDERS]
    done = subprocess.run(command, cwd=root, capture_output=True, text=True, check=False)
    return [line.partition(": ")[2] for line in done.stdout.splitlines() if line.startswith("Would reformat")]


def allowed() -> Counts:
    """What the list lets pass."""
    rules = tomllib.loads(LIST.read_text(encoding="utf-8"))
    return Counter({(rule, file): count for rule, files in rules.items() for file, count in files.items()})


def written(counts: Counts) -> str:
    """The list as its file holds it."""
    lines = [
        "# Where a rule of style is still broken, how often in which file. Only ever shortened, by scripts/style.py "
        "--shrink."
    ]
    for rule in sorted({rule for rule, _ in counts}):
        lines += ["", f"[{rule}]"]
        lines += [f'"{file}" = {counts[r, file]}' for r, file in sorted(counts) if r == rule]
    return "\n".join(lines) + "\n"


def compared(now: Counts, before: Counts) -> tuple[list[tuple[str, str]], Counts]:
    """(rules and files with more than the list allows, what the list allows beyond what is needed)."""
    return [key for key, count in now.items() if count > before[key]], before - now


def main() -> int:
    now, places = found()
    before = allowed()
    broken, spare = compared(now, before)
    if "--shrink" in sys.argv[1:]:
        LIST.write_text(written(now & before), encoding="utf-8")
        print(f"{spare.total()} exceptions taken off, {(now & before).total()} left")
    odd = unformatted()
    if odd:
        print(f"not formatted (ruff format): {', '.join(odd)}")
    for key in broken:
        print(f"{key[0]}: {now[key]} in {key[1]}, {before[key]} allowed")
        print("\n".join(f"    {place}" for place in places[key][:6]))
    return 1 if broken or odd else 0


if __name__ == "__main__":
    sys.exit(main())
