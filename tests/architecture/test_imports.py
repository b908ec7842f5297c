"""Who may import whom, read from the sources; nothing heavy at start; the reference counts of None stay."""

import ast
import subprocess
import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[2] / "garnetfin"
QT = "PySide6"
# Package -> what it may import of ours. `display` rounds and converts for screen and papers.
MAY = {
    "core": {"core"},
    "project": {"core", "project"},
    "engine": {"core", "project", "engine", "display", "processes"},
    "report": {"core", "project", "engine", "exchange", "report", "display"},
    "display": {"core"},
    "processes": set(),
    "exchange": {"core", "project", "exchange", "processes"},
    "ui": {"core", "project", "engine", "exchange", "report", "ui", "display", "processes"},
    "cli": {"core", "project", "engine", "exchange", "report", "ui", "cli", "display", "processes"},
}
# Of core the interface may use errors, units and the tables of choices: it never computes.
UI_OF_CORE = {"errors", "units", "tables"}
LAZY = {
    "scipy",
    "pvlib",
    "shapely",
    "pint",
    "pandas",
    "reportlab",
    "pypdfium2",
    "typer",
    "lxml",
    "openpyxl",
    "ezdxf",
    "ifcopenshell",
    "PIL",
}


def imports(path: Path, top_only: bool = False) -> list[str]:
    tree = ast.parse(path.read_text(encoding="utf-8"))
    nodes = tree.body if top_only else ast.walk(tree)
    found = []
    for node in nodes:
        if isinstance(node, ast.ImportFrom) and node.module and node.level == 0:
            found.append(node.module)
            found += [f"{node.module}.{a.name}" for a in node.names] if node.module == "garnetfin" else []
        elif isinstance(node, ast.Import):
            found += [a.name for a in node.names]
    return found


def package(path: Path) -> str:
    part = path.relative_to(ROOT).parts[0]
    return part.removesuffix(".py")


class Borders(unittest.TestCase):
    def test_packages_import_only_what_they_may(self):
        for path in ROOT.rglob("*.py"):
            own = package(path)
            if own not in MAY:
                continue
            for name in imports(path):
                parts = name.split(".")
                if parts[0] == "garnetfin" and len(parts) > 1 and parts[1] in MAY:
                    self.assertIn(parts[1], MAY[own], f"{path.relative_to(ROOT)} imports {name}")

    def test_core_project_and_engine_know_no_qt(self):
        for path in ROOT.rglob("*.py"):
            if (
                package(path) in ("core", "project", "engine", "exchange", "report", "display")
                or "view_models" in path.parts
            ):
                self.assertFalse([n for n in imports(path, True) if n.startswith(QT)], path)

    def test_the_interface_never_computes(self):
        for path in (ROOT / "ui").rglob("*.py"):
            for name in imports(path):
                parts = name.split(".")
                if parts[:2] == ["garnetfin", "core"]:
                    self.assertIn(parts[2], UI_OF_CORE, f"{path.relative_to(ROOT)} imports {name}")

    def test_heavy_packages_are_imported_inside_functions(self):
        for path in ROOT.rglob("*.py"):
            heavy = {n.split(".")[0] for n in imports(path, True)} & LAZY
            self.assertFalse(heavy, f"{path.relative_to(ROOT)} imports {heavy} at its top")


class Start(unittest.TestCase):
    def test_view_models_and_engine_load_without_qt(self):
        modules = [
            ".".join(p.relative_to(ROOT.parent).with_suffix("").parts)
            for p in (ROOT / "ui" / "view_models").glob("*.py")
        ]
        code = "import sys\n" + "\n".join(
            f"import {m}" for m in (*modules, "garnetfin.engine.run", "garnetfin.report.document")
        )
        done = subprocess.run(
            [sys.executable, "-c", code + "\nprint([m for m in sys.modules if m.startswith('PySide6')])"],
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.stdout.strip(), "[]", done.stderr)

    def test_the_window_starts_without_anything_heavy(self):
        code = (
            "import os, sys; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
            "from garnetfin.ui.app import make_app\nfrom garnetfin.ui.frame.window import MainWindow\n"
            "from garnetfin.ui.session import Session\n"
            "app = make_app(); w = MainWindow(Session()); w.show(); app.processEvents(); w.grab()\n"
            f"print(sorted(set(m.split('.')[0] for m in sys.modules) & {LAZY!r}), flush=True)\nos._exit(0)"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
        self.assertEqual(done.stdout.strip(), "[]", done.stderr)

    @unittest.skipIf(sys.version_info >= (3, 12), "None is immortal from 3.12 on")
    def test_qt_takes_no_reference_from_none(self):
        from PySide6.QtWidgets import QWidget

        from garnetfin.ui.app import make_app

        make_app()
        widget = QWidget()
        before = sys.getrefcount(None)
        for k in range(500):
            widget.resize(10 + k % 7, 10)
        self.assertLess(abs(sys.getrefcount(None) - before), 100)


class Sources(unittest.TestCase):
    def test_nothing_unfinished_is_shipped(self):
        for path in ROOT.rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            for word in ("NotImplemented" + "Error", "TO" + "DO", "FIX" + "ME"):
                self.assertNotIn(word, text, path)

    def test_every_module_says_what_it_is_for(self):
        for path in ROOT.rglob("*.py"):
            if path.name != "__init__.py":
                self.assertTrue(ast.get_docstring(ast.parse(path.read_text(encoding="utf-8"))), path)
