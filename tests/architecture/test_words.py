"""The interface speaks the trade's words: what it said before, and what an engineer would not say, is in no text of
it.
"""

import ast
import re
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[2] / "garnetfin"
TEXTS = ROOT / "ui" / "assets" / "translations" / "garnetfin_de.ts"
# Left: what is not said; right: what is said for it.
SAY = {
    r"[Oo]ffice book": "office standards",
    r"What moves it": "Sensitivity",
    r"What it has to lift|fan has to lift": "Required fan pressure",
    r"Where its \{?.* go\b": "Pressure breakdown",
    r"neediest room": "critical-room reset",
    r"held behind the coil": "constant coil leaving temperature",
    r"held at the rooms": "constant supply temperature",
    r"\brooms beside$|unheated beside|[Bb]locks? beside": "adjacent rooms, unheated spaces, surrounding buildings",
    r"Cooling lacks|^Gets$": "Cooling shortfall, Actual flow",
    r"Warmer by": "Above set-point",
    r"Unheard up to": "Damper pressure at the noise limit",
    r"From stall": "Stall margin",
    r"^Surplus|Left at its end|Spread of runs": "Excess pressure, Total pressure at end, Imbalance",
    r"\b[Ll]ast pieces?\b": "runout",
    r"turned down": "boxes at minimum",
    r"If it were away|out of the train|Put away|Leave it\b": "Without this component, Remove, Discard, Skip",
    r"lifted apart|rung pins": "Exploded view, Click a size to pin it",
    r"[Gg]lass (sun|conduction)|^[Bb]ridges\b(?!_)": "Solar through glass, Conduction through glass, Thermal bridges",
    r"Sun taken up|^Sun g$": "Solar absorptance, g-value",
    r"^Steel\b|Kept free|Diffuse, level": "Duct mass, Clearance, Diffuse horizontal",
    r"Known as|Stands on": "Input detail, Basis",
    r"go round$|cools for nothing": "Circular transfer, Free cooling",
    r"What helps most|^By resizing|Ways of sizing": "Most effective changes, Balance by resizing, Sizing methods",
    r"^Gathering$|Sleep, live|Stores, ways|Clear out": "Assembly, Bedrooms, living, Stores, circulation, Remove unused",
    r"[Ss]hut its duct|pressed together|flexible pressed|^ducts leak$": "Compressed flexible duct, Duct leakage",
    r"^Write (as|plans|tables|rooms|faces|building|CSV|Parquet|the)\b|^Write …": "Export",
    r"[Uu]se through the day": "Profile",
    r"[Ff]irst pass": "First design",
    r"[Dd]eviations?\b(?!-)": "accepted issue",
    r"^(Keep a|Since the|since the|no|needs a) mark": "snapshot",
    r"\b(these|the) papers\b": "documents, the set",
}


def texts(path: Path) -> list[tuple[int, str]]:
    """(line, text) of every string in a file that is no docstring."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    docs = {
        id(n.body[0].value)
        for n in ast.walk(tree)
        if isinstance(n, ast.Module | ast.ClassDef | ast.FunctionDef)
        and n.body
        and isinstance(n.body[0], ast.Expr)
        and isinstance(n.body[0].value, ast.Constant)
    }
    return [
        (n.lineno, n.value)
        for n in ast.walk(tree)
        if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in docs
    ]


class Words(unittest.TestCase):
    def test_no_text_says_what_an_engineer_would_not(self):
        files = [
            f for part in ("ui", "report", "engine", "project", "cli", "core") for f in (ROOT / part).rglob("*.py")
        ]
        found = [
            f"{path.relative_to(ROOT)}:{line}: “{text[:60]}” — say: {said}"
            for path in files
            for line, text in texts(path)
            for wrong, said in SAY.items()
            if re.search(wrong, text)
        ]
        self.assertEqual(found, [])

    def test_translations_are_of_what_is_said_now(self):
        sources = re.findall(r"<source>(.*?)</source>", TEXTS.read_text(encoding="utf-8"), re.S)
        self.assertGreater(len(sources), 1000)
        self.assertEqual([s for s in sources for wrong in SAY if re.search(wrong, s)], [])


if __name__ == "__main__":
    unittest.main()
