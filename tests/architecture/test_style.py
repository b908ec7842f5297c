"""The rules of style hold but for a list of exceptions, and the list only shrinks."""

import sys
import tempfile
import unittest
from collections import Counter
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[2] / "scripts"))
import style

sys.path.pop(0)


class Style(unittest.TestCase):
    def test_no_rule_is_broken_beyond_the_list(self):
        now, places = style.found()
        broken, spare = style.compared(now, style.allowed())
        told = [f"{rule} in {file}: {now[rule, file]}, e.g. {places[rule, file][-1]}" for rule, file in broken]
        self.assertEqual(told, [], "mend these, or divide what is too long")
        self.assertEqual(spare, Counter(), "mended: python scripts/style.py --shrink takes them off the list")

    def test_all_is_as_the_formatter_writes_it(self):
        self.assertEqual(style.unformatted(), [], "ruff format writes them")

    def test_types_hold_beyond_the_list(self):
        now, places = style.mistyped()
        broken, spare = style.compared(now, style.allowed(style.TYPES))
        told = [f"{rule} in {file}: {now[rule, file]}, e.g. {places[rule, file][-1]}" for rule, file in broken]
        self.assertEqual(told, [], "mend these; `there` and `find` narrow what may be missing")
        self.assertEqual(spare, Counter(), "mended: python scripts/style.py --shrink takes them off the list")

    def test_a_wrong_type_is_found(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "one.py"
            path.write_text("def half(x: float) -> str:\n    return x / 2\n", encoding="utf-8")
            counts, _ = style.mistyped(Path(folder), "one.py")
        self.assertEqual(counts, Counter({("return-value", "one.py"): 1}))

    def test_the_lists_are_as_they_are_written_by_machine(self):
        for path in (style.LIST, style.TYPES):
            self.assertEqual(path.read_text(encoding="utf-8"), style.written(style.allowed(path)))

    def test_more_is_found_and_less_is_spare(self):
        before = Counter({("E501", "a.py"): 2, ("B008", "b.py"): 1})
        broken, spare = style.compared(Counter({("E501", "a.py"): 3, ("F401", "c.py"): 1}), before)
        self.assertEqual(sorted(broken), [("E501", "a.py"), ("F401", "c.py")])
        self.assertEqual(spare, Counter({("B008", "b.py"): 1}))
