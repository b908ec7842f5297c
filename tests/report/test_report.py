"""The report: its blocks say what the results say; the PDF opens in an independent reader."""

import unittest
from functools import lru_cache

from pypdfium2 import PdfDocument

from garnetfin import display
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.new import new_project
from garnetfin.project.tree import Project
from garnetfin.report.blocks import Facts, Figure, Heading, TableBlock, Text
from garnetfin.report.document import document
from garnetfin.report.sheets.balance import balance
from garnetfin.report.sheets.loads import loads
from garnetfin.report.to_pdf import to_pdf
from tests.example import one_room, station_results


@lru_cache(maxsize=1)
def paper() -> list:
    return document(station_results())


class Blocks(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.blocks = paper()

    def facts(self, label: str) -> str:
        return next(v for b in self.blocks if isinstance(b, Facts) for k, v in b.rows if k == label)

    def test_headline_figures(self):
        results = station_results()
        self.assertEqual(self.facts("Rooms together, cooling"), display.with_unit("load", results.blocks[""].peak_w, "SI", 1))
        self.assertEqual(self.facts("Electric power"), display.with_unit(
            "shaft_power", results.fans["ahu-north"].point.electric_w, "SI"))

    def test_every_room_segment_size_and_terminal_has_its_row(self):
        tables = [b for b in self.blocks if isinstance(b, TableBlock)]
        rooms = next(t for t in tables if "Heating" in [c.name for c in t.columns] and "Cooling" in [c.name for c in t.columns]
                     and "Peak" in [c.name for c in t.columns])
        self.assertEqual(len(rooms.rows), 28)
        terminals = next(t for t in tables if "Blade" in [c.name for c in t.columns])
        self.assertEqual(len(terminals.rows), 34)
        for table in tables:
            for row in table.rows:
                self.assertEqual(len(row), len(table.columns))

    def test_length_of_the_schedule_is_that_of_the_system(self):
        table = next(b for b in self.blocks if isinstance(b, TableBlock) and "Pinned" in [c.name for c in b.columns])
        total = sum(float(r[2]) for r in table.rows)
        # Each row is rounded to 0.1 m.
        self.assertAlmostEqual(total, station_results().ducts["ahu-north"].length_m, delta=0.05 * len(table.rows))

    def test_findings_are_printed(self):
        heading = next(b for b in self.blocks if isinstance(b, Heading) and b.text == "Findings")
        self.assertEqual(heading.note, str(len(station_results().findings)))

    def test_ip_units(self):
        self.assertIn("kBtu/h", next(v for b in loads(station_results(), "IP") if isinstance(b, Facts)
                                     for k, v in b.rows if k == "Rooms together, cooling"))

    def test_gaps_are_said_where_they_are(self):
        for project in (Project(), one_room(system_id="")):
            blocks = document(run(project, Memo()))
            self.assertTrue(any("no" in getattr(b, "text", "") for b in blocks))
            self.assertTrue(to_pdf(blocks, "x", "x").startswith(b"%PDF"))


class Pdf(unittest.TestCase):
    def test_an_independent_reader_finds_the_figures(self):
        results = station_results()
        pdf = to_pdf(paper(), "Tern Point", "footer words")
        self.assertEqual(pdf, to_pdf(paper(), "Tern Point", "footer words"))
        reader = PdfDocument(pdf)
        text = "\n".join(page.get_textpage().get_text_range() for page in reader)
        for words in ("Tern Point Field Station", "Reading room", "footer words", f"1 of {len(reader)}", "Index run",
                      display.with_unit("pressure", results.fans["ahu-north"].point.pressure_pa, "SI")):
            self.assertIn(words, text)

    def test_plans_are_drawn_to_one_scale_both_ways(self):
        figures = [b for b in paper() if isinstance(b, Figure) and b.alike]
        self.assertEqual(len(figures), 2)
        self.assertTrue(all(f.shapes and f.labels for f in figures))


class BalanceSheets(unittest.TestCase):
    def test_run_commissioning_rooms_and_noise(self):
        blocks = balance(station_results(), "SI")
        tables = {h.text: t for h, t in zip(blocks, blocks[1:]) if isinstance(h, Heading) and isinstance(t, TableBlock)}
        run_ = tables["Pressure from the intake to the room of the index run"]
        self.assertAlmostEqual(sum(float(r[2].replace("\u2212", "-")) for r in run_.rows), 0.0, delta=0.05 * len(run_.rows))       # each is rounded to 0.1
        self.assertEqual(len(tables["What rooms really get"].rows), len(station_results().real["ahu-north"].rooms))
        self.assertEqual(len(tables["Noise in rooms"].rows), len(station_results().noise["ahu-north"].rooms))
        sheet = next(t for t in blocks if isinstance(t, TableBlock) and t.columns[0].name == "Step")
        self.assertEqual([r[0] for r in sheet.rows], [str(i) for i in range(1, 35)])
        self.assertEqual(sum(r[7] == "stays open" for r in sheet.rows), 1)
        self.assertTrue(all(r[9] == "" for r in sheet.rows))                   # to be written on site

    def test_what_is_missing_is_said(self):
        project = new_project()
        blocks = balance(run(project, Memo()), "SI")
        self.assertTrue(any(isinstance(b, Text) for b in blocks))
