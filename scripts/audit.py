"""Looks through requirements.lock without a network: every package at one version with hashes, none that an advisory
names. Exit code 1 else.
"""

import re
import sys
import tomllib
from pathlib import Path

ROOT = Path(__file__).parents[1]


def version(text: str) -> tuple[int, ...]:
    """The release part of a version, to be compared; trailing zeros count for nothing."""
    parts = [int(p) for p in re.match(r"\d+(?:\.\d+)*", text)[0].split(".")]
    while len(parts) > 1 and parts[-1] == 0:
        parts.pop()
    return tuple(parts)


def plain(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


def locked(text: str) -> tuple[dict[str, str], list[str]]:
    """(versions by package, what is wrong with the lock itself)."""
    versions, wrong = {}, []
    joined = re.sub(r"\\\n\s*", " ", text)
    for line in joined.splitlines():
        line = line.split(" #")[0].strip()
        if not line or line.startswith("#"):
            continue
        found = re.match(r"([A-Za-z0-9_.-]+)==([0-9][^\s;]*)", line)
        if found is None:
            wrong.append(f"not locked to one version: {line[:60]}")
            continue
        versions[plain(found[1])] = found[2]
        if not re.search(r"--hash=sha256:[0-9a-f]{64}", line):
            wrong.append(f"{found[1]} has no hash")
    return versions, wrong


def named(versions: dict[str, str], advisories: list[dict]) -> list[str]:
    """Locked versions that an advisory names."""
    found = []
    for a in advisories:
        have = versions.get(plain(a["package"]))
        if have is not None and version(a.get("from", "0")) <= version(have) < version(a["below"]):
            found.append(f"{a['package']} {have}: {a['id']}, mended in {a['below']}")
    return found


def main() -> int:
    versions, wrong = locked((ROOT / "requirements.lock").read_text(encoding="utf-8"))
    wrong += named(
        versions, tomllib.loads((ROOT / "scripts" / "advisories.toml").read_text(encoding="utf-8"))["advisory"]
    )
    for line in wrong:
        print(line)
    print(
        f"{len(versions)} packages locked" + (f", {len(wrong)} to look at" if wrong else ", none named by an advisory")
    )
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
