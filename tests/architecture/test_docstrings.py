"""Public functions of the core say what they give, in which unit, what they refuse, and where it comes from."""

import ast
import re
import unittest
from collections.abc import Iterator
from pathlib import Path

CORE = Path(__file__).parents[2] / "garnetfin" / "core"
# A unit in brackets or words, or a name that carries it.
UNIT = re.compile(
    r"\[[^\]]+\]|degC|\bm2\b|W/|\bshare|\bfraction|0\.\.1|coefficient|\bk\b|number|count|lg |weight|ratio"
)
NAMED = re.compile(r"_(w|c|m3s|pa|m|m2|m3|kg|kg_s|k|deg|rpm|db|m_s|pa_m|kg_m|kg_m3|w_m2|w_m2k|h|s|j_kg|w_k|share)$")
FIGURES = ("float", "NDArray[np.float64]", "Array")
SOURCE = re.compile(r"[Ss]ources?\b|ISO|EN \d|ASHRAE|Idelchik|Methods:|Colebrook|Schultz|own method|Pint|Newton")
# no methods of the field: words, records, what is read from a file
PLAIN = {"__init__.py", "errors.py", "texts.py", "laws/fixed.py", "laws/law.py"}


def public(body: list[ast.stmt], prefix: str = "") -> Iterator[tuple[str, ast.FunctionDef]]:
    for node in body:
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield prefix + node.name, node
        elif isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            yield from public(node.body, f"{node.name}.")


def refuses(node: ast.FunctionDef) -> bool:
    """Something is raised in its own body."""
    return any(isinstance(x, ast.Raise) and x.exc is not None for x in ast.walk(node))


class Docstrings(unittest.TestCase):
    def functions(self) -> Iterator[tuple[str, ast.FunctionDef, str]]:
        for path in sorted(CORE.rglob("*.py")):
            for name, node in public(ast.parse(path.read_text(encoding="utf-8")).body):
                yield f"{path.relative_to(CORE).as_posix()}: {name}", node, ast.get_docstring(node) or ""

    def test_every_public_function_says_what_it_gives(self):
        self.assertEqual([where for where, _, said in self.functions() if not said], [])

    def test_what_is_refused_is_said(self):
        silent = [where for where, node, said in self.functions() if refuses(node) and "Raises" not in said]
        self.assertEqual(silent, [])

    def test_figures_have_a_unit(self):
        bare = [
            where
            for where, node, said in self.functions()
            if node.returns is not None
            and ast.unparse(node.returns) in FIGURES
            and not UNIT.search(said)
            and not NAMED.search(node.name)
        ]
        self.assertEqual(bare, [])

    def test_every_method_has_its_source(self):
        without = []
        for path in sorted(CORE.rglob("*.py")):
            text, name = path.read_text(encoding="utf-8"), path.relative_to(CORE).as_posix()
            if path.name in PLAIN or name.partition("/")[2] in PLAIN or name.endswith(("laws/fixed.py", "laws/law.py")):
                continue
            said = [
                ast.get_docstring(n) or ""
                for n in ast.walk(ast.parse(text))
                if isinstance(n, (ast.Module, ast.FunctionDef, ast.ClassDef))
            ]
            if not any(SOURCE.search(s) for s in said):
                without.append(name)
        self.assertEqual(without, [])
