"""The papers: blocks say what the results say, the set holds what is switched on, the PDF opens in an independent
reader.
"""

import itertools
import unittest
from functools import lru_cache

from msgspec import structs
from numpy.testing import assert_allclose
from pypdfium2 import PdfDocument
from shapely import Polygon, unary_union

from garnetfin import display
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.layout.duct_pieces import pieces_of
from garnetfin.engine.layout.level_outlines import duct_outlines
from garnetfin.engine.layout.piece_outlines import piece_outlines
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.edits.papers import AcceptFinding, PrintPaper, SetPapers, SetSheet
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.lookup import find
from garnetfin.project.new import new_project
from garnetfin.project.papers import PAPER_NAMES, PAPERS
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned
from garnetfin.report.asked import asked
from garnetfin.report.blocks import Facts, Heading, Number, Plan, Shape, Start, TableBlock, Text, figure, with_unit
from garnetfin.report.document import Order, document, paper, printed
from garnetfin.report.handover import look, pdf
from garnetfin.report.plan_sheet import fitting_scale
from garnetfin.report.sheets.balance import balance, noise
from garnetfin.report.sheets.changes import changes
from garnetfin.report.sheets.loads import summary
from garnetfin.report.sheets.plans import level_plan
from garnetfin.report.to_pdf import to_pdf
from tests.example import by_number, one_room, station, station_results

ALL = tuple(PAPER_NAMES)


@lru_cache(maxsize=1)
def whole() -> list:
    """Every paper, derivations too."""
    return document(Order(station_results()), ALL)


@lru_cache(maxsize=1)
def made():
    return to_pdf(document(Order(station_results())), look(Order(station_results())))


def tables(blocks: list) -> list[TableBlock]:
    return [b for b in blocks if isinstance(b, TableBlock)]


def texts(data: bytes) -> list[str]:
    return [page.get_textpage().get_text_range() for page in PdfDocument(data)]


class Cells(unittest.TestCase):
    def test_a_figure_keeps_its_value_in_the_printed_unit(self):
        cell = figure("room_flow", 0.12345, "SI")
        self.assertEqual((str(cell), cell.value), ("123", 123.45))
        cell = with_unit("temperature", 20.0, "IP")
        self.assertEqual((str(cell), cell.value, cell.unit), ("68.0 °F", 68.0, "°F"))
        self.assertNotIsInstance(figure("load", float("nan"), "SI"), Number)


class Asked(unittest.TestCase):
    def test_a_line_is_about_the_part_it_names_first(self):
        results, room = station_results(), by_number(station(), "0.09").id
        terminal = results.ducts["ahu-north"].terminals[0]
        for paper_id, line, address in (
            ("outdoor", "0.09 Canteen 24 290", ("need", room, "outdoor air")),
            ("terminals", f"{terminal.label} Reading room", ("terminal figure", terminal.terminal_id, "drop")),
            ("ducts", "s1 trunk 800 × 600", ("duct", "s1", "loss")),
            ("balance", f"{terminal.label} 12 Pa", ("surplus", terminal.terminal_id)),
        ):
            self.assertEqual(asked(results, paper_id, line), address)
        # Behind the first words figures stand that may look like a number of a room.
        self.assertEqual(asked(results, "outdoor", "the sum of all 0.09"), ("system outdoor", "ahu-north"))
        self.assertEqual(
            asked(results, "rooms", "People 24", "Room load sheets 0.09 Canteen"), ("room", room, "cooling")
        )

    def test_every_paper_comes_to_a_figure_that_is_derived_or_to_none(self):
        results = station_results()
        for paper_id in PAPER_NAMES:
            address = asked(results, paper_id, "")
            self.assertTrue(not address or explain(results, address) is not None, paper_id)
        empty = run(new_project(), Memo())
        for paper_id in PAPER_NAMES:
            address = asked(empty, paper_id, "0.09 s1")
            self.assertTrue(not address or explain(empty, address) is not None, paper_id)


class Blocks(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.blocks = whole()

    def facts(self, label: str) -> str:
        return next(v for b in self.blocks if isinstance(b, Facts) for k, v in b.rows if k == label)

    def of(self, paper_id: str) -> list:
        return paper(Order(station_results()), paper_id)

    def test_headline_figures(self):
        results = station_results()
        self.assertEqual(
            self.facts("Rooms together, cooling"), display.with_unit("load", results.blocks[""].peak_w, "SI", 1)
        )
        self.assertEqual(
            self.facts("Electric power"),
            display.with_unit("shaft_power", results.fans["ahu-north"].point.electric_w, "SI"),
        )

    def test_every_row_fits_its_head(self):
        for table in tables(self.blocks):
            for row in (*table.rows, *((table.total,) if table.total else ())):
                self.assertEqual(len(row), len(table.columns))

    def test_every_room_segment_size_and_terminal_has_its_row(self):
        rooms = next(
            t
            for t in tables(self.of("summary"))
            if "Peak" in [c.name for c in t.columns] and "No." in [c.name for c in t.columns]
        )
        self.assertEqual(len(rooms.rows), 28)
        dampers = next(t for t in tables(self.of("balance")) if "Blade" in [c.name for c in t.columns])
        self.assertEqual(len(dampers.rows), 34)
        self.assertEqual(len([b for b in self.of("rooms") if isinstance(b, Heading) and b.level == 2]), 28)

    def test_what_is_summed_adds_up(self):
        """Every total that is said to be the sum of its rows is; figures keep all digits, so only rounding of floats is
        left.
        """
        counted = 0
        for table in tables(self.blocks):
            for k in table.summed if table.rows else ():
                values = [r[k].value for r in table.rows if isinstance(r[k], Number)]
                self.assertIsInstance(table.total[k], Number, table.columns[k].name)
                self.assertAlmostEqual(
                    sum(values),
                    table.total[k].value,
                    delta=1e-6 * max(1.0, sum(map(abs, values))),
                    msg=f"{table.columns[0].name}, {table.columns[k].name}",
                )
                counted += 1
        self.assertGreater(counted, 60)

    def test_causes_of_a_room_sum_to_its_load(self):
        found = station_results().room(by_number(station(), "0.01").id)
        blocks = self.of("rooms")
        at = next(i for i, b in enumerate(blocks) if isinstance(b, Heading) and b.text.startswith("0.01"))
        causes = next(t for t in tables(blocks[at:]) if t.columns[0].name == "Cause")
        # Causes below half a watt are left out, 20 at most.
        self.assertAlmostEqual(sum(r[1].value for r in causes.rows if isinstance(r[1], Number)), found.peak_w, delta=10)

    def test_length_of_the_schedule_is_that_of_the_system(self):
        table = next(t for t in tables(self.of("ducts")) if "Pinned" in [c.name for c in t.columns])
        self.assertAlmostEqual(
            sum(r[2].value for r in table.rows), station_results().ducts["ahu-north"].length_m, places=6
        )

    def test_findings_and_deviations_are_printed(self):
        results = station_results()
        blocks = self.of("findings")
        self.assertEqual(
            next(b.note for b in blocks if isinstance(b, Heading) and b.text == "Open findings"),
            str(len(results.findings)),
        )
        f = results.findings[0]
        project = AcceptFinding(f.code, f.kind, f.object_id, "agreed with the client", "2026-11-23").apply(station())
        after = run(project, Memo())
        self.assertEqual(len(after.findings), len(results.findings) - 1)
        said = next(
            t for t in tables(paper(Order(after), "findings")) if "Accepted because" in [c.name for c in t.columns]
        )
        self.assertEqual(said.rows[0][3:], ("agreed with the client", "2026-11-23"))

    def test_derivations_lead_from_the_building_to_the_fan(self):
        names = [b.text for b in self.of("derivations") if isinstance(b, Heading)]
        for words in (
            "Building",
            "AHU North",
            "Supply temperature",
            "Cooling coil",
            "Run to 0.01b",
            "Electric power of GF-B710",
        ):
            self.assertTrue(any(n.startswith(words) for n in names), words)
        self.assertGreater(len(names), 20)
        self.assertTrue(any(isinstance(b, Text) and b.text.startswith("= ") for b in self.of("derivations")))

    def test_outdoor_air_adds_up_to_what_the_rooms_need(self):
        table = tables(self.of("outdoor"))[0]
        rooms = [r for r in station().rooms if r.system_id]
        self.assertAlmostEqual(
            table.total[7].value / 1000,
            sum(station_results().room(r.id).figures.outdoor_m3s.figure for r in rooms),
            places=9,
        )

    def test_ip_units(self):
        self.assertIn(
            "kBtu/h",
            next(
                v
                for b in summary(station_results(), "IP")
                if isinstance(b, Facts)
                for k, v in b.rows
                if k == "Rooms together, cooling"
            ),
        )

    def test_gaps_are_said_where_they_are(self):
        for project in (Project(), one_room(system_id="")):
            order = Order(run(project, Memo()))
            blocks = document(order, ALL)
            self.assertEqual([b.paper_id for b in blocks if isinstance(b, Start)], list(ALL))
            self.assertTrue(pdf(order, blocks).data.startswith(b"%PDF"))


class Contents(unittest.TestCase):
    def test_the_set_holds_what_is_switched_on(self):
        project = PrintPaper("rooms", False).apply(PrintPaper("derivations", True).apply(station()))
        order = Order(structs_results(project))
        self.assertNotIn("rooms", printed(order))
        self.assertIn("derivations", printed(order))
        self.assertNotIn("changes", printed(order))  # no mark to compare with
        self.assertIn("changes", printed(Order(order.results, before=order.results, before_name="x")))
        order_of = [i for i, _ in PAPERS]
        self.assertEqual(list(printed(order)), sorted(printed(order), key=order_of.index))

    def test_signatures_office_and_logo_are_on_the_pages(self):
        project = station()
        for command in (
            SetPapers("client", "Harbour Board"),
            SetPapers("made_by", "A. Reed"),
            SetSheet("company", "Reed & Daughters"),
            SetSheet("lines", ("Quay 4",)),
            SetSheet("logo", png()),
            *(PrintPaper(i, i in ("cover", "plans")) for i in ALL),
        ):
            project = command.apply(project)
        found = pdf(Order(structs_results(project)))
        pages = texts(found.data)
        for words in ("Harbour Board", "A. Reed", "Reed & Daughters", "Quay 4"):
            self.assertIn(words, pages[0])
        self.assertIn("Reed & Daughters", pages[1])
        self.assertEqual(len(list(PdfDocument(found.data)[0].get_objects(filter=[3]))), 1)  # 3: an image

    def test_a_logo_that_cannot_be_read_keeps_no_paper_back(self):
        broken = SetSheet("logo", b"\x89PNG\r\n\x1a\nnothing").apply(station())
        for i in ALL:
            broken = PrintPaper(i, i in ("cover", "plans")).apply(broken)
        found = pdf(Order(structs_results(broken)))
        self.assertIn("The logo cannot be read", texts(found.data)[0])
        self.assertEqual(found.pages, 3)

    def test_what_changed_names_room_cause_and_duct(self):
        before = station_results()
        edited = SetRoomValue((by_number(station(), "0.09").id,), "people", Pinned(value=10.0)).apply(station())
        blocks = changes(run(edited, Memo()), before, "before", "SI")
        rooms = next(t for t in tables(blocks) if t.columns[0].name == "No.")
        # The canteen first; what else moved feels it through the wall, by some watts.
        self.assertEqual(rooms.rows[0][0], "0.09")
        after = run(edited, Memo())
        for number in (r[0] for r in rooms.rows[1:]):
            room = by_number(station(), number).id
            assert_allclose(after.room(room).peak_w, before.room(room).peak_w, atol=20)
        self.assertIn("people 30 → 10", rooms.rows[0][-1])
        ducts = next(t for t in tables(blocks) if t.columns[0].name == "Duct")
        self.assertTrue(all("flow" in r[-1] for r in ducts.rows))
        self.assertTrue(any("Nothing moved" in getattr(b, "text", "") for b in changes(before, before, "before", "SI")))


def structs_results(project: Project):
    """The station's results under other papers; nothing of them is computed from papers."""
    import dataclasses

    return dataclasses.replace(station_results(), project=project)


def png() -> bytes:
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (40, 20), "#7E1F3B").save(out, "PNG")
    return out.getvalue()


class Pages(unittest.TestCase):
    def test_an_independent_reader_finds_the_figures(self):
        results = station_results()
        found = made()
        few = document(Order(results), ("cover", "plans", "fan"))
        # nothing of the clock is in it
        self.assertEqual(to_pdf(few, look(Order(results))).data, to_pdf(few, look(Order(results))).data)
        text = "\n".join(texts(found.data))
        for words in (
            "Tern Point Field Station",
            "Reading room",
            "issue 1 in work",
            f"1 of {found.pages}",
            "Index run",
            display.with_unit("pressure", results.fans["ahu-north"].point.pressure_pa, "SI"),
        ):
            self.assertIn(words, text)

    def test_contents_name_the_page_each_paper_begins_on(self):
        found, pages = made(), texts(made().data)
        self.assertEqual(found.pages, len(pages))
        self.assertEqual(found.starts["cover"], 1)
        for paper_id, first in found.starts.items():
            if paper_id not in ("cover", "plans"):
                self.assertIn(PAPER_NAMES[paper_id], pages[first - 1].splitlines()[0])
        numbers = pages[0].splitlines()
        for paper_id, first in found.starts.items():
            self.assertTrue(any(str(first) in line for line in numbers), paper_id)
        self.assertEqual(len(list(PdfDocument(found.data).get_toc())), len(found.starts))

    def test_plans_stand_on_sheets_of_their_own_to_one_scale(self):
        document_ = PdfDocument(made().data)
        sheets = [i for i in range(len(document_)) if document_[i].get_width() > document_[i].get_height()]
        self.assertEqual(len(sheets), 2)
        self.assertEqual(sheets[0] + 1, made().starts["plans"])
        self.assertEqual(made().scales, (100, 100))
        for i in sheets:
            width, height = (v / 72 * 25.4 for v in document_.get_page_size(i))
            self.assertAlmostEqual(width, 420, delta=0.1)
            self.assertAlmostEqual(height, 297, delta=0.1)
            self.assertIn("1:100 on A3", document_[i].get_textpage().get_text_range())

    def test_a_wall_is_as_long_on_the_sheet_as_its_scale_says(self):
        """Paths of the page are measured by the reader: the widest one is the frame, glass panes have their length at
        1:100.
        """
        document_ = PdfDocument(made().data)
        page = document_[made().starts["plans"] - 1]
        # 2: a path
        widths = [(b[2] - b[0]) / 72 * 25.4 for b in (o.get_bounds() for o in page.get_objects(filter=[2]))]
        window = next(
            o
            for w in station().walls
            if w.level_id == "G" and w.facing_deg == 180.0
            for o in w.openings
            if o.glazing_id
        )
        # A line of 0.25 pt around it: 0.1 mm.
        self.assertTrue(any(abs(w - window.width_m * 10) < 0.15 for w in widths), window.width_m)

    def test_the_scale_is_the_largest_that_fits_or_the_one_wanted(self):
        plan = level_plan(station_results(), "G", "SI")
        self.assertEqual(fitting_scale(plan, 394, 230, (50, 100, 200)), 100)
        self.assertEqual(fitting_scale(plan, 394, 230, (50, 100, 200), 200), 200)
        self.assertEqual(fitting_scale(plan, 394, 230, (50, 100, 200), 50), 100)  # it would not fit
        self.assertEqual(fitting_scale(plan, 10, 10, (50, 100)), 3900)

    def test_drawing_files_have_ducts_piece_by_piece_and_no_piece_is_lost(self):
        """Straight sections are those of the take-off; with the fittings they cover what the ducts cover: two routes
        to one area.
        """
        results = station_results()
        network = next(n for s in results.project.air_systems for n in results.networks(s.id) if n.segments)
        level = find(results.project.duct_points, results.project.segments[0].a).level_id
        found = duct_outlines(results.project.duct_points, results.project.segments, network, level)
        made = piece_outlines(results.project, network, found)
        listed = [
            stretch
            for run in pieces_of(results.project, network).runs
            if set(run.segment_ids) <= found.pieces.keys()
            for stretch in run.stretches_m
        ]
        self.assertEqual(len(made.straight), len(listed))
        whole = Polygon()
        for ring in found.rings:
            whole = whole.symmetric_difference(Polygon(ring))
        parts = [Polygon(ring) for ring in (*made.straight, *made.fittings)]
        # a hundredth of a millimetre around each section is nobody's
        self.assertLess(unary_union(parts).symmetric_difference(whole).area, 2e-4 * whole.area)
        self.assertLess(sum(p.area for p in parts), 1.001 * whole.area)  # and none lies on another
        plan = level_plan(results, level, "SI", pieces=True)
        on = [s for s in plan.shapes if s.layer.endswith(("supply duct", "fittings"))]
        self.assertGreater(len(on), len(parts) - 1)

    def test_plans_name_layers_by_system_and_air(self):
        plan = level_plan(station_results(), "G", "SI")
        layers = {s.layer for s in plan.shapes} | {x.layer for x in plan.labels}
        self.assertLessEqual(
            {
                "building walls",
                "building rooms",
                "building room names",
                "AHU North supply duct",
                "AHU North supply terminals",
                "AHU North supply size",
            },
            layers,
        )
        rooms = [s for s in plan.shapes if s.layer == "building rooms"]
        self.assertEqual(len(rooms), sum(r.level_id == "G" for r in station().rooms))
        self.assertTrue(all(isinstance(s, Shape) and s.layer for s in plan.shapes))
        self.assertTrue(any(isinstance(b, Plan) for b in paper(Order(station_results()), "plans")))


class BalanceSheets(unittest.TestCase):
    def test_run_commissioning_rooms_and_noise(self):
        blocks = balance(station_results(), "SI")
        named = {
            h.text: t for h, t in itertools.pairwise(blocks) if isinstance(h, Heading) and isinstance(t, TableBlock)
        }
        run_ = named["Pressure from the intake to the room of the index run"]
        self.assertAlmostEqual(sum(r[2].value for r in run_.rows), 0.0, places=3)
        self.assertEqual(len(named["What rooms really get"].rows), len(station_results().real["ahu-north"].rooms))
        self.assertEqual(
            len(tables(noise(station_results(), "SI"))[0].rows), len(station_results().noise["ahu-north"].rooms)
        )
        sheet = next(t for t in tables(blocks) if t.columns[0].name == "Step")
        self.assertEqual([r[0] for r in sheet.rows], [str(i) for i in range(1, 35)])
        self.assertEqual(sum(r[7] == "stays open" for r in sheet.rows), 1)
        self.assertTrue(all(r[9] == "" for r in sheet.rows))  # to be written on site

    def test_what_is_missing_is_said(self):
        blocks = balance(run(new_project(), Memo()), "SI")
        self.assertTrue(any(isinstance(b, Text) for b in blocks))


class Edits(unittest.TestCase):
    def test_papers_refuse_what_cannot_be_printed(self):
        from garnetfin.core.errors import InputError
        from garnetfin.project.edits.papers import IssuePapers, ReopenFinding

        for command, words in (
            (PrintPaper("poem", True), "no document"),
            (SetPapers("scale", 7), "1:7"),
            (SetPapers("client", "a\nb"), "one line"),
            (SetPapers("x", "y"), "no “x”"),
            (SetSheet("logo", b"GIF89a"), "PNG or a JPEG"),
            (SetSheet("logo", b"\x89PNG\r\n" + bytes(600 * 1024)), "512 kB"),
            (SetSheet("plans", "A9"), "A9"),
            (IssuePapers("tomorrow"), "no day"),
            (AcceptFinding("a", "room", "r", "  "), "needs a reason"),
        ):
            with self.assertRaisesRegex(InputError, words):
                command.apply(station())
        project = station()
        self.assertIs(PrintPaper("cover", True).apply(project), project)
        self.assertIs(ReopenFinding("a", "b", "c").apply(project), project)
        issued = IssuePapers("2026-11-23", "for tender").apply(IssuePapers("2026-10-14").apply(project))
        self.assertEqual(
            [(i.number, i.date, i.note) for i in issued.papers.issues],
            [(1, "2026-10-14", ""), (2, "2026-11-23", "for tender")],
        )
        self.assertEqual(structs.asdict(issued.papers)["left_out"], ("derivations",))
