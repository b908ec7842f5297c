"""Nothing stays that nobody uses, but for a list with reasons that only shrinks."""

import subprocess
import sys
import tomllib
import unittest
from pathlib import Path

from garnetfin.project.book import ASSUMPTIONS

ROOT = Path(__file__).parents[2]
LIST = ROOT / "scripts" / "used_by_name.toml"


class Unused(unittest.TestCase):
    def test_every_name_is_read_or_listed_with_its_reason(self):
        command = [sys.executable, "-m", "vulture"]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertIn(done.returncode, (0, 3), done.stderr)
        found = {line.split("'")[1]: line for line in done.stdout.splitlines()}
        listed = {n for names in tomllib.loads(LIST.read_text(encoding="utf-8")).values() for n in names}
        # the office book's figures are read by the names of their assumptions
        dead = [line for name, line in sorted(found.items()) if name not in listed and name not in ASSUMPTIONS]
        self.assertEqual(dead, [], "take it out, or use it")
        self.assertEqual(sorted(listed - set(found)), [], "these are read now: take them off the list")
