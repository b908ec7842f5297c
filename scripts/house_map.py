"""Writes docs/map.md: one line for each file, from the first sentence of each module.

python scripts/house_map.py
"""

import ast
from pathlib import Path

ROOT = Path(__file__).parents[1]
MAP = ROOT / "docs" / "map.md"
PACKAGES = ("core", "project", "engine", "exchange", "report", "ui", "cli")


def first_sentence(path: Path) -> str:
    """Of the module, in one line."""
    said = ast.get_docstring(ast.parse(path.read_text(encoding="utf-8"))) or ""
    line = " ".join(said.partition("\n\n")[0].split())
    end = line.find(". ")
    return line if end < 0 else line[: end + 1]


def written(root: Path = ROOT) -> str:
    """The map as its file holds it."""
    lines = [
        "# Map of the house",
        "",
        "One line a file, as each says itself (`python scripts/house_map.py` writes this page).",
    ]
    for package in PACKAGES:
        lines += ["", f"## {package}"]
        folder = ""
        for path in sorted((root / "garnetfin" / package).rglob("*.py"), key=lambda p: (p.parent.as_posix(), p.name)):
            if path.name == "__init__.py" or path.name == "__main__.py":
                continue
            inside = path.parent.relative_to(root / "garnetfin").as_posix()
            if inside != folder:
                folder = inside
                lines += ["", f"**`{folder}/`**", ""]
            lines.append(f"- `{path.name}`: {first_sentence(path)}")
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    MAP.write_text(written(), encoding="utf-8")
