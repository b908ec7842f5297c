"""Holds the sources to their style and their types: ruff and mypy with pyproject's rules, but for lists of exceptions
by rule and file that only shrink.

python scripts/style.py             what breaks a rule, and what the lists still allow though nobody needs it
python scripts/style.py --shrink    takes off the lists what is mended
"""

import json
import re
import subprocess
import sys
import tempfile
import tomllib
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).parents[1]
LIST = ROOT / "scripts" / "style_exceptions.toml"
TYPES = ROOT / "scripts" / "type_exceptions.toml"
FOLDERS = ("garnetfin", "tests", "benchmarks", "scripts", "demo")
Counts = Counter[tuple[str, str]]
Places = dict[tuple[str, str], list[str]]


def found(root: Path = ROOT) -> tuple[Counts, Places]:
    """(how often each rule is broken in each file, the places)."""
    command = [sys.executable, "-m", "ruff", "check", "--output-format", "json", "--no-cache", *FOLDERS]
    done = subprocess.run(command, cwd=root, capture_output=True, text=True, check=False)
    if done.returncode not in (0, 1):
        raise RuntimeError(done.stderr.strip())
    counts: Counts = Counter()
    places: Places = {}
    for one in json.loads(done.stdout):
        file = Path(one["filename"]).relative_to(root).as_posix()
        counts[one["code"], file] += 1
        places.setdefault((one["code"], file), []).append(f"{file}:{one['location']['row']}: {one['message']}")
    return counts, places


def mistyped(root: Path = ROOT, *options: str) -> tuple[Counts, Places]:
    """What the checker of types says of the program: strict where no interface is, standard elsewhere."""
    silent = ["--no-error-summary", "--hide-error-context", "--num-workers", "2"]
    command = [sys.executable, "-m", "mypy", *silent, *options]
    done = subprocess.run(command, cwd=root, capture_output=True, text=True, check=False)
    if done.returncode not in (0, 1) or done.stderr.strip():
        raise RuntimeError((done.stdout + done.stderr).strip())
    counts: Counts = Counter()
    places: Places = {}
    for line in done.stdout.splitlines():
        if match := re.match(r"(\S+?):(\d+): error: (.*?)  \[([a-z-]+)\]$", line):
            file, row, said, code = match.groups()
            counts[code, file] += 1
            places.setdefault((code, file), []).append(f"{file}:{row}: {said}")
    return counts, places


def unformatted(root: Path = ROOT) -> list[str]:
    """Files that the formatter would write otherwise."""
    command = [sys.executable, "-m", "ruff", "format", "--check", "--no-cache", *FOLDERS]
    done = subprocess.run(command, cwd=root, capture_output=True, text=True, check=False)
    return [line.partition(": ")[2] for line in done.stdout.splitlines() if line.startswith("Would reformat")]


def allowed(path: Path = LIST) -> Counts:
    """What a list lets pass."""
    rules = tomllib.loads(path.read_text(encoding="utf-8"))
    return Counter({(rule, file): count for rule, files in rules.items() for file, count in files.items()})


def written(counts: Counts) -> str:
    """The list as its file holds it."""
    lines = [
        "# Where a rule is still broken, how often in which file. Only ever shortened, by scripts/style.py --shrink."
    ]
    for rule in sorted({rule for rule, _ in counts}):
        lines += ["", f"[{rule}]"]
        lines += [f'"{file}" = {counts[r, file]}' for r, file in sorted(counts) if r == rule]
    return "\n".join(lines) + "\n"


def compared(now: Counts, before: Counts) -> tuple[list[tuple[str, str]], Counts]:
    """(rules and files with more than the list allows, what the list allows beyond what is needed)."""
    return [key for key, count in now.items() if count > before[key]], before - now


def main() -> int:
    wrong, shrinks = False, "--shrink" in sys.argv[1:]
    # What the checker remembers of a file may be older than the file it reads from: the list is cut by a check anew.
    with tempfile.TemporaryDirectory() as empty:
        typed = mistyped(ROOT, "--cache-dir", empty) if shrinks else mistyped()
    for path, (now, places) in ((LIST, found()), (TYPES, typed)):
        before = allowed(path)
        broken, spare = compared(now, before)
        if shrinks:
            path.write_text(written(now & before), encoding="utf-8")
            print(f"{path.name}: {spare.total()} exceptions taken off, {(now & before).total()} left")
        for key in broken:
            print(f"{key[0]}: {now[key]} in {key[1]}, {before[key]} allowed")
            print("\n".join(f"    {place}" for place in places[key][:6]))
        wrong = wrong or bool(broken)
    odd = unformatted()
    if odd:
        print(f"not formatted (ruff format): {', '.join(odd)}")
    return 1 if wrong or odd else 0


if __name__ == "__main__":
    sys.exit(main())
