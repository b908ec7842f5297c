"""The map of the house is current: every file stands in it with what it says of itself."""

import sys
import unittest
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[2] / "scripts"))
import house_map

sys.path.pop(0)


class Map(unittest.TestCase):
    def test_it_is_as_the_files_say(self):
        self.assertEqual(house_map.MAP.read_text(encoding="utf-8"), house_map.written(), "python scripts/house_map.py")

    def test_every_file_says_what_it_is_for(self):
        silent = [line for line in house_map.written().splitlines() if line.startswith("- ") and line.endswith(": ")]
        self.assertEqual(silent, [])
