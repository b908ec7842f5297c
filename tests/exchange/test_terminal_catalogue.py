"""Catalogues of terminals: the sample reads as it ships; every fault is named with its row and what is accepted."""

import unittest
from pathlib import Path
from tempfile import TemporaryDirectory

from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError
from garnetfin.core.tables import terminal_models
from garnetfin.exchange.terminal_catalogue import COLUMNS, parse, read_terminals

SAMPLE = Path(__file__).parents[2] / "garnetfin" / "core" / "data" / "terminals_sample.csv"
HEAD = ",".join(COLUMNS)
ROW = "A,swirl,own,supply,200,0.03,0.02,{q},{p},1.0,2.0,30,20"


def text(*rows: str) -> str:
    return "\n".join((HEAD, *rows))


class Reading(unittest.TestCase):
    def test_the_sample_reads_as_the_program_knows_it(self):
        models = {m.id: m for m in read_terminals(SAMPLE)}
        self.assertEqual(set(models), set(terminal_models()))
        for name, own in models.items():
            shipped = terminal_models()[name]
            assert_allclose([p.flow_m3s for p in own.points], shipped.flow_m3s)
            assert_allclose([p.nc for p in own.points], shipped.nc)
            self.assertEqual((own.kind, own.use), (shipped.kind, shipped.use))

    def test_faults_name_the_row_and_what_is_accepted(self):
        good = ROW.format(q=50, p=5)
        for body, words in (
            ("", "no rows"),
            ("a,b\n1,2", "lacks the column model"),
            (text("A,swirl,own"), "row 2 has 3 columns"),
            (text(good, ROW.format(q="fast", p=9)), "row 3: flow_L_s is “fast”"),
            (text(good, ROW.format(q="nan", p=9)), "not a number"),
            (text(good, ROW.format(q=60, p=9).replace("swirl", "ceilr")), "row 3: kind of A differs from row 2"),
            (text(good.replace("supply", "both"), ROW.format(q=60, p=9).replace("supply", "both")), "supply or return"),
            (text(good, ROW.format(q=40, p=9)), "flow must rise"),
            (text(good, ROW.format(q=60, p=4)), "pressure drop must rise"),
            (
                text(good.replace("swirl", "trumpet"), ROW.format(q=60, p=9).replace("swirl", "trumpet")),
                "Take one of: ceil4",
            ),
            (
                text(good.replace("200,0.03", "200,-1"), ROW.format(q=60, p=9).replace("200,0.03", "200,-1")),
                "Neck area",
            ),
            (text('A,"swirl'), "no CSV|columns"),
        ):
            with self.subTest(words=words):
                self.assertRaisesRegex(FileError, words, parse, body, "own.csv")

    def test_files_that_are_none(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "x.csv"
            self.assertRaisesRegex(FileError, "could not be read", read_terminals, path)
            path.write_bytes(b"\xff\xfe\x00" * 20)
            self.assertRaisesRegex(FileError, "UTF-8", read_terminals, path)
            path.write_bytes(b"x" * (4 * 2**20 + 1))
            self.assertRaisesRegex(FileError, "larger than", read_terminals, path)
            path.write_text(
                "# a comment\n" + text(ROW.format(q=50, p=5), ROW.format(q=100, p=20)), encoding="utf-8-sig"
            )
            self.assertEqual(read_terminals(path)[0].points[1].flow_m3s, 0.1)
