"""What the docs show is so: their code is run, their links lead somewhere."""

import doctest
import re
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[2]
PAGES = (*sorted((ROOT / "docs").glob("*.md")), *(ROOT / n for n in ("README.md", "CONTRIBUTING.md", "SECURITY.md")))


class Docs(unittest.TestCase):
    def test_the_walk_gives_the_figures_it_shows(self):
        found = doctest.testfile(str(ROOT / "docs" / "walk.md"), module_relative=False)
        self.assertEqual(found.failed, 0)
        self.assertGreater(found.attempted, 15)

    def test_links_and_named_files_are_there(self):
        gone = []
        for page in PAGES:
            text = page.read_text(encoding="utf-8")
            for target in re.findall(r"\]\((?!https?:|#|mailto:)([^)#\s]+)", text):
                if not (page.parent / target).exists():
                    gone.append(f"{page.name}: {target}")
            for named in re.findall(r"`((?:core|project|engine|exchange|report|ui|cli)/[\w/]+\.py)`", text):
                if not (ROOT / "garnetfin" / named).exists():
                    gone.append(f"{page.name}: {named}")
        self.assertEqual(gone, [])
