"""Catalogues of fans as CSV: taken whole, or refused with row and column."""

import tempfile
import unittest
from pathlib import Path

from numpy.testing import assert_allclose

from garnetfin.core import tables
from garnetfin.core.errors import FileError
from garnetfin.core.tables import fan_models
from garnetfin.engine.stages.fan import fan_table
from garnetfin.exchange.fan_catalogue import COLUMNS, parse_fans, read_fans
from garnetfin.project.edits.systems import ChooseFan, ClearOwnFans, TakeFans
from tests.example import station

SAMPLE = (Path(tables.__file__).parent / "data" / "fans_sample.csv").read_text(encoding="utf-8")


def own(**changes: str) -> str:
    """Four points of a fan of one's own, cells changed in its third row."""
    rows = [
        ("0.0", "600", "600", "150", "stall"),
        ("0.4", "620", "615", "380", "normal"),
        ("0.8", "560", "540", "620", "normal"),
        ("1.2", "380", "335", "760", "normal"),
    ]
    lines = [",".join(COLUMNS)]
    for i, (q, p, ps, w, region) in enumerate(rows):
        cells = dict(
            zip(
                COLUMNS,
                (
                    "OWN-1",
                    "plug-backward",
                    "0.4",
                    "0.14",
                    "1800",
                    "600",
                    "2400",
                    "1.2",
                    "1.1",
                    q,
                    p,
                    ps,
                    w,
                    "85",
                    region,
                ),
            )
        )
        if i == 2:
            cells |= changes
        lines.append(",".join(cells[c] for c in COLUMNS))
    return "\n".join(lines)


class Reading(unittest.TestCase):
    def test_the_sample_reads_as_it_ships(self):
        fans, remarks = parse_fans(SAMPLE, "sample")
        self.assertEqual([f.id for f in fans], list(fan_models()))
        for f in fans:
            assert_allclose([p.total_pa for p in f.points], fan_models()[f.id].total_pa)
            assert_allclose(f.outlet_m2, fan_models()[f.id].outlet_m2)
        self.assertEqual(remarks, ())

    def test_faults_name_row_and_reason(self):
        for changes, match in (
            ({"flow_m3_s": "abc"}, "row 4: flow_m3_s is “abc”, not a number"),
            ({"region": "left"}, "row 4: region is “left”"),
            ({"outlet_area_m2": "0.2"}, "row 4: outlet_area_m2 of OWN-1 differs from row 2"),
            ({"shaft_power_w": "0.62"}, "rows 2 to 5.*point 3.*Check the units"),
            ({"static_pressure_pa": "700"}, "row 4: the total pressure 560 Pa is below the static"),
            ({"flow_m3_s": "0.3"}, "does not rise"),
            ({"total_pressure_pa": "0.56", "static_pressure_pa": "0.54"}, "rises to 380 Pa.*point 4"),
        ):
            with self.subTest(changes):
                self.assertRaisesRegex(FileError, match, parse_fans, own(**changes), "own.csv")
        self.assertRaisesRegex(
            FileError,
            "lacks the column total_pressure_pa",
            parse_fans,
            own().replace("total_pressure_pa", "dp"),
            "own.csv",
        )
        self.assertRaisesRegex(
            FileError, "no kind of fan", parse_fans, own().replace("plug-backward", "turbine"), "own.csv"
        )

    def test_odd_rows_are_said_and_kept(self):
        fans, remarks = parse_fans(own(static_pressure_pa="440"), "own.csv")
        self.assertEqual(len(fans[0].points), 4)
        self.assertRegex(remarks[0], "row 4: total less static is 120 Pa, the outlet gives 20 Pa")

    def test_a_file(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "own.csv"
            path.write_text(own(), encoding="utf-8")
            self.assertEqual(read_fans(path)[0][0].id, "OWN-1")
            self.assertRaisesRegex(FileError, "could not be read", read_fans, Path(folder) / "none.csv")


class InTheBook(unittest.TestCase):
    def test_own_fans_are_chosen_and_leave_again(self):
        project = TakeFans(parse_fans(own(), "own.csv")[0]).apply(station())
        self.assertIn("OWN-1", fan_table(project.book))
        chosen = ChooseFan("ahu-north", "OWN-1").apply(project)
        cleared = ClearOwnFans().apply(chosen)
        self.assertEqual((cleared.book.fans, cleared.air_systems[0].fan("supply").model), ((), ""))
        self.assertIs(ClearOwnFans().apply(station()), station())
        again = TakeFans(parse_fans(own(motor_kw="1.1"), "own.csv")[0]).apply(project)
        self.assertEqual(len(again.book.fans), 1)
