"""Papers with the mouse and keyboard: contents, pages, hand-over, issues, deviations, marks, options."""

import tempfile
import unittest
from functools import lru_cache
from pathlib import Path
from unittest import mock

from msgspec import structs
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from garnetfin.engine.explain.explain import explain
from garnetfin.project.book_file import save_book
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.papers import PAPER_NAMES
from garnetfin.project.values import Pinned
from tests.example import by_number, station
from tests.report.test_report import png
from tests.ui.driver import WindowTest


@lru_cache(maxsize=1)
def short_papers():
    left_out = tuple(i for i in PAPER_NAMES if i not in ("cover", "air", "fan", "findings"))
    return structs.replace(station(), papers=structs.replace(station().papers, left_out=left_out))


class Papers(WindowTest):
    first = "Documents"

    def example(self):
        """Only short papers, so that each is made in a moment."""
        return short_papers()

    def setUp(self):
        super().setUp()
        self.papers = self.window.view("Documents")
        self.made()

    def made(self):
        self.wait()
        self.wait(lambda: self.session.settled and self.papers.settled and self.papers._for[0] is self.session.results)

    def written(self) -> None:
        self.wait(lambda: not self.papers.writing and self.session.settled)
        for _ in range(4):
            self.app.processEvents()

    def test_a_switch_leaves_a_paper_out_and_undo_brings_it_back(self):
        pages = self.papers.pages
        self.assertIn("fan", self.papers.starts)
        box = self.papers.list.box_of("fan")
        self.click(self.papers.list, QPointF(20, box.center().y()))
        self.made()
        self.assertLess(self.papers.pages, pages)
        self.assertNotIn("fan", self.papers.starts)
        self.assertEqual(next(r.pages for r in self.papers.list.vm.rows if r.paper_id == "fan"), "left out")
        self.session.undo()
        self.made()
        self.assertEqual(self.papers.pages, pages)

    def test_a_line_of_a_page_leads_to_the_derivation_of_what_it_is_about(self):
        results, sheet = self.session.results, self.papers.sheet

        def under(paper_id: str, word: str, page: int = 0) -> tuple:
            i = self.papers.starts[paper_id] - 1 + page
            self.papers.show_paper(paper_id)
            text = sheet._document[i].get_textpage()
            found = text.search(word, match_case=True, match_whole_word=True)
            first, _ = found.get_next()
            left, bottom, _right, top = text.get_charbox(first)
            width, height = sheet._document.get_page_size(i)
            box = sheet.boxes[i]
            at = QPointF(
                box.left() + left / width * box.width(), box.top() + (1 - (bottom + top) / 2 / height) * box.height()
            )
            address = self.papers.why_at(QPointF(sheet.mapTo(self.papers, at.toPoint())))
            self.assertIsNotNone(explain(results, address), (paper_id, word, address))
            return address

        self.assertEqual(under("fan", "Electric"), ("fan pressure", "ahu-north"))
        self.assertEqual(under("air", "0.09"), ("flow", by_number(station(), "0.09").id))
        self.assertEqual(self.papers.why_at(QPointF(2, 2)), ())  # the tools

    def test_a_click_and_arrow_keys_bring_a_paper_into_sight(self):
        self.click(self.papers.list, QPointF(100, self.papers.list.box_of("fan").center().y()))
        self.assertEqual(self.papers.chosen, "fan")
        self.assertIn(f"Page {self.papers.starts['fan']} of", self.window.status.hint.words)
        self.papers.list.setFocus()
        QTest.keyClick(self.papers.list, Qt.Key.Key_Up)
        self.assertNotEqual(self.papers.chosen, "fan")
        bar = self.papers._scroll.verticalScrollBar()
        bar.setValue(bar.maximum())
        self.assertEqual(self.papers.chosen, "findings")

    def test_pages_that_are_being_made_can_be_stopped(self):
        before = self.papers.pdf

        def endless(order) -> None:
            while True:
                order.watch(0.5, "rooms")

        with mock.patch("garnetfin.report.handover.pdf", endless):
            self.type_into("papers_client", "Harbour Board")
            self.wait(lambda: self.papers.stop_link.isVisible())
            self.assertRegex(self.papers.tools.note.words, "^50%(, \d+ s left)?: rooms$")
            self.click(self.papers.stop_link, (4, 4))
            self.wait(lambda: self.papers._maker.idle and not self.papers.stop_link.isVisible())
        self.assertEqual(self.papers.pdf, before)

    def test_names_typed_in_the_card_are_printed(self):
        self.type_into("papers_client", "Harbour Board")
        self.type_into("sheet_company", "Reed & Daughters")
        self.made()
        self.assertEqual(self.session.project.papers.client, "Harbour Board")
        from tests.report.test_report import texts

        self.assertIn("Harbour Board", texts(self.papers.pdf)[0])
        self.assertIn("Reed & Daughters", texts(self.papers.pdf)[-1])
        self.choose("papers_scale", "200")
        self.assertEqual(self.session.project.papers.scale, 200)

    def test_a_logo_is_taken_and_a_wrong_one_said(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "logo.png"
            path.write_bytes(png())
            self.papers.choose_logo(str(path))
            self.wait()
            self.assertEqual(self.session.project.book.sheet.logo, png())
            path.write_bytes(b"no picture")
            self.papers.choose_logo(str(path))
            self.assertIn("PNG or a JPEG", self.window.banner.sentence.words)
            self.papers.choose_logo(str(path) + "x")
            self.assertIn("cannot be read", self.window.banner.sentence.words)
        self.window.actions_["no logo"].trigger()
        self.assertEqual(self.session.project.book.sheet.logo, b"")
        self.papers.ask_lines()
        self.papers.ask.fields["line0"].setText("Quay 4")
        self.papers.ask.take()
        self.assertEqual(self.session.project.book.sheet.lines, ("Quay 4",))

    def test_every_format_is_written_and_a_folder_that_is_none_is_said(self):
        with tempfile.TemporaryDirectory() as folder:
            for kind, name in (
                ("pdf", "a.pdf"),
                ("xlsx", "a.xlsx"),
                ("csv", ""),
                ("svg", ""),
                ("dxf", ""),
                ("ifc", "a.ifc"),
                ("gbxml", "a.xml"),
                ("bcf", "a.bcf"),
            ):
                self.papers.write(kind, str(Path(folder) / name))
                self.written()
                self.assertTrue(self.papers.files, kind)
            names = {p.name for p in Path(folder).iterdir()}
            self.assertLessEqual(
                {
                    "a.pdf",
                    "a.xlsx",
                    "a.ifc",
                    "a.xml",
                    "a.bcf",
                    "tern-point-field-station-ground.svg",
                    "tern-point-field-station-upper.dxf",
                    "tern-point-field-station-tables",
                },
                names,
            )
            self.assertEqual((Path(folder) / "a.pdf").read_bytes()[:5], b"%PDF-")
            (Path(folder) / "file").write_text("x")
            self.papers.write("pdf", str(Path(folder) / "file" / "b.pdf"))
            self.written()
        self.assertIn("could not be written", self.window.banner.sentence.words)

    def test_a_second_write_waits_for_the_first_and_says_so(self):
        heard = []
        self.papers.hint.connect(heard.append)
        with tempfile.TemporaryDirectory() as folder:
            for kind in ("xlsx", "bcf", "ifc"):
                self.papers.write(kind, str(Path(folder) / f"a.{kind}"))
            self.written()
            self.assertEqual(sorted(p.name for p in Path(folder).iterdir()), ["a.bcf", "a.ifc", "a.xlsx"])
        self.assertEqual(heard[0], "Writing XLSX …")
        self.assertEqual(heard[2], "IFC is written after 2 that came before")

    def test_an_issue_is_numbered_kept_as_a_mark_and_written(self):
        with tempfile.TemporaryDirectory() as folder:
            self.session.path = Path(folder) / "job.gfin"
            self.click(self.papers.issue_button, (10, 10))
            self.papers.ask.fields["note"].setText("for tender")
            self.papers.ask.take()
            self.wait()
            self.written()
            issue = self.session.project.papers.issues[0]
            self.assertEqual((issue.number, issue.note), (1, "for tender"))
            self.assertIn("Issue 1", self.session.marks)
            names = sorted(p.name for p in Path(folder).iterdir())
            self.assertEqual(
                names,
                [
                    "tern-point-field-station-01-ground.dxf",
                    "tern-point-field-station-01-upper.dxf",
                    "tern-point-field-station-01.ifc",
                    "tern-point-field-station-01.pdf",
                    "tern-point-field-station-01.xlsx",
                ],
            )
            from tests.report.test_report import texts

            self.assertIn(f"issue 1, {issue.date}", texts((Path(folder) / names[3]).read_bytes())[0])
            self.session.path = None
        self.wait()
        self.assertEqual(self.link("Documents").figure, "issue 2")

    def test_a_finding_is_accepted_with_a_reason_and_opened_again(self):
        before = len(self.session.results.findings)
        from garnetfin.ui.widgets.card import FindingBlock

        block = self.window.card.findChildren(FindingBlock)[0]
        title = block.finding.title
        block.accept.click()
        self.assertTrue(block.reason.isVisible())
        QTest.keyClick(block.reason, Qt.Key.Key_Return)  # without a reason nothing happens
        self.assertEqual(self.session.project.accepted, ())
        block.accept.click()
        QTest.keyClicks(block.reason, "beam is moved on site")
        QTest.keyClick(block.reason, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(len(self.session.results.findings), before - 1)
        self.assertEqual([f.title for f, _ in self.session.results.accepted], [title])
        field = self.window.card.field("accept_finding_reason")
        field.edit.setFocus()
        field.edit.clear()
        field.edit.setModified(True)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
        self.wait()
        self.assertEqual(len(self.session.results.findings), before)

    def test_printing_says_what_is_missing(self):
        with mock.patch("shutil.which", return_value=None):
            self.papers.print_pages()
        self.assertIn("No printer is set up", self.window.banner.sentence.words)

    def test_printer_pages_copies_and_sides_are_asked_for_and_sent(self):
        sent = service(self)
        self.papers.print_pages()
        self.wait(lambda: self.papers.ask.isVisible())
        ask = self.papers.ask
        # the usual one first
        self.assertEqual([ask.fields["printer"].itemData(i) for i in range(3)], ["plotter", "office", "site"])
        ask.fields["pages"].setText("2-999")
        ask.take()
        self.assertIn("no pages of 1 to", ask.reason.words)
        ask.fields["pages"].setText("1-3, 5")
        ask.fields["copies"].setText("0")
        ask.take()
        self.assertIn("Copies", ask.reason.words)
        ask.fields["copies"].setText("2")
        ask.fields["printer"].setCurrentIndex(1)
        ask.fields["sides"].setCurrentIndex(1)
        ask.take()
        self.assertFalse(ask.isVisible())
        self.written()
        self.assertIn("Sent to the printer: 8 pages", self.window.status.hint.words)
        said = sent.read_text()
        for words in ("-d office", "-P 1-3,5", "-n 2", "sides=two-sided-long-edge", "%PDF"):
            self.assertIn(words, said)

    def test_a_printer_that_refuses_is_heard(self):
        service(self, refuses="out of paper")
        self.papers.print_pages()
        self.wait(lambda: self.papers.ask.isVisible())
        self.papers.ask.take()
        self.written()
        self.assertIn("Not printed: out of paper", self.window.banner.sentence.words)


def service(test, refuses: str = "") -> Path:
    """A print service of three printers on the path; what it was sent is written to the file given back."""
    folder = Path(test.enterContext(tempfile.TemporaryDirectory()))
    sent = folder / "sent"
    (folder / "lpstat").write_text(
        "#!/bin/sh\n[ $1 = -e ] && printf 'office\\nplotter\\nsite\\n' || echo 'system default destination: plotter'\n"
    )
    (folder / "lp").write_text(
        f'#!/bin/sh\n{f"echo {refuses} >&2; exit 1" if refuses else ""}\nfor file; do :; done\necho "$@" > {sent}; '
        f"head -c 8 $file >> {sent}\n"
    )
    for program in ("lpstat", "lp"):
        (folder / program).chmod(0o755)
    test.enterContext(mock.patch.dict("os.environ", {"PATH": f"{folder}:/usr/bin:/bin"}))
    return sent


class MarksAndOptions(WindowTest):
    def example(self):
        return short_papers()

    def people(self, count: float) -> None:
        self.session.do(SetRoomValue((by_number(station(), "0.09").id,), "people", Pinned(value=count)))
        self.wait()

    def test_a_mark_is_named_compared_renamed_gone_back_to_and_forgotten(self):
        self.window.actions_["keep mark"].trigger()
        self.window.ask.fields["name"].setText("before")
        self.window.ask.take()
        self.people(10.0)
        self.wait(lambda: self.session.settled and self.session.state.against is not None)
        self.assertIn("against: before", self.window.flag.text())
        loads = self.link("Loads")
        self.assertTrue(loads.changed)
        self.assertTrue(loads.note.startswith("−"), loads.note)
        self.assertEqual(self.link("Climate").note, "unchanged")
        self.window.rename_mark("before")
        self.window.ask.fields["name"].setText("first")
        self.window.ask.take()
        self.assertEqual(list(self.session.marks), ["first"])
        self.assertEqual(self.session.against, "first")
        self.window.restore_mark("first")
        self.wait()
        self.assertEqual(self.session.project, short_papers())
        self.session.undo()
        self.wait()
        self.assertNotEqual(self.session.project, short_papers())
        self.session.drop_mark("first")
        self.wait()
        self.assertEqual((self.session.marks, self.session.against), ({}, ""))
        self.assertFalse(self.window.flag.isVisible())

    def test_keys_of_marks_work_after_their_menu_was_open(self):
        for _ in range(2):
            self.window.fill_marks()
        shown = [a.text() for a in self.window.marks_menu.actions() if a.text()]
        self.assertEqual(shown[:3], ["Keep a snapshot …", "Options side by side", "Study over ranges"])
        keys = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        QTest.keyClick(self.window, Qt.Key.Key_K, keys)
        self.assertTrue(self.window.ask.isVisible())
        QTest.keyClick(self.window, Qt.Key.Key_O, keys)
        self.assertIs(self.window._middle.currentWidget(), self.window.options_page)

    def test_the_papers_list_says_what_moved(self):
        self.window.take_mark("a")
        self.people(10.0)
        papers = self.view("Documents")
        self.wait(lambda: self.session.state.against is not None and papers.list.vm is not None)
        rows = {r.paper_id: r for r in papers.list.vm.rows}
        self.assertEqual(
            (rows["air"].moved, rows["fan"].moved, rows["cover"].moved, rows["rooms"].moved),
            ("5 rooms", "moved", "", ""),
        )
        lines = next(s for s in self.window.card.vm.sections if s.title == "What changed").rows
        self.assertEqual((lines[0].lead, lines[0].label), ("0.09", "Canteen"))

    def test_options_stand_side_by_side(self):
        self.window.take_mark("as drawn")
        self.people(10.0)
        self.window.actions_["options"].trigger()
        page = self.window.options_page
        self.wait(lambda: page.settled and "as drawn" in page.found)
        vm = page.options.model_.vm
        self.assertEqual([c.name for c in vm.columns], ["Figure", "", "Now", "as drawn", ""])
        cooling = vm.rows[0].cells
        self.assertIn("(+", cooling[3].text)
        self.people(5.0)  # it follows the project in hand
        self.assertNotEqual(page.options.model_.vm.rows[0].cells[2], cooling[2])
        self.click(self.window.chain, self.window.chain.box_of(2).center())
        self.assertIs(self.window._middle.currentWidget(), self.window._work)
        # by how much it differs, in per cent of what stands, and what it changes
        shown = page.differences.vm
        self.assertEqual(shown.names, tuple(page.found)[1:])
        share = dict(shown.rows)["Cooling, rooms together"][0]
        (now, other) = (page.found[name]["cooling"] for name in list(page.found)[:2])
        self.assertAlmostEqual(share, (other / now - 1) * 100, places=9)
        for name, values in shown.rows:
            self.assertTrue(any(abs(v) > 0.05 for v in values), name)
        self.assertFalse(page.differences.grab().isNull())
        self.assertEqual(page.changed_of.currentText(), shown.names[0])
        rows = page.changed.model_.vm.rows
        self.assertTrue(rows)
        self.assertIn("cooling", " ".join(r.cells[1].text for r in rows))

    def test_a_study_is_computed_plotted_written_and_stopped(self):
        self.window.actions_["study"].trigger()
        page = self.window.options_page
        page.rows[0].count.setText("three")
        page.run_button.click()
        self.assertIn("no number of steps", page.state_words.words)
        page.rows[0].count.setText("2")
        from concurrent.futures import ThreadPoolExecutor

        with mock.patch(
            "garnetfin.engine.studies.study_places.ProcessPoolExecutor", lambda n, **more: ThreadPoolExecutor(1)
        ):
            page.run_button.click()
            self.assertTrue(page.busy)
            self.wait(lambda: not page.busy)
            self.assertEqual(len(page.cases), 2)
            self.assertIsNotNone(page.chart.vm)
            self.assertEqual(len(page.table.model_.vm.rows), 2)
            self.assertFalse(page.chart.grab().isNull())
            with tempfile.TemporaryDirectory() as folder:
                for kind in ("csv", "parquet"):
                    page.write(kind, str(Path(folder) / f"s.{kind}"))
                    self.assertTrue((Path(folder) / f"s.{kind}").exists())
                page.write("csv", str(Path(folder) / "none" / "s.csv"))
            self.assertIn("could not be written", self.window.banner.sentence.words)
            page.rows[0].count.setText("9")
            page.run_button.click()
            page.run_button.click()
            self.assertIn("Stopping", page.state_words.words)
            self.wait(lambda: page.settled and not page.busy)
            self.assertIn("Stopped", page.state_words.words)
            # what was computed by then is kept; nothing by then leaves the study before
            some = len(page.axes[0].values) == 9
            self.assertEqual(len(page.cases) == 2, not some)
            self.assertEqual(f"{len(page.cases)} of 9" in page.state_words.words, some)


class Books(WindowTest):
    def test_another_book_is_looked_at_before_it_is_taken(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "newer.gfbook"
            save_book(SetAssumption("infiltration_1h", Pinned(value=0.6)).apply(station()).book, path)
            self.window.take_book(path)
            page = self.window.book_page
            self.wait(lambda: page.moved is not None and not page.working)
            self.assertEqual([(d.name, d.before, d.now) for d in page.differences], [("Infiltration, edge", 0.2, 0.6)])
            text = "\n".join(r.text() for r in page._rows)
            self.assertIn("Infiltration, edge", text)
            self.assertIn("Heating of all rooms", text.replace("heating", "Heating"))
            self.assertIs(self.session.project.book, station().book)
            page.take_button.click()
            self.wait()
            self.assertEqual(self.session.project.book.infiltration_1h, Pinned(value=0.6))
            self.window.take_book(path)
            self.assertIn("nothing differs", page.line.text())
            self.assertFalse(page.take_button.isVisible())

    def test_fabric_is_kept_in_the_book_and_brought_from_it(self):
        self.window.actions_["keep fabric"].trigger()
        self.wait()
        self.assertEqual(len(self.session.project.book.build_ups), len(station().build_ups))
        self.window.actions_["bring fabric"].trigger()
        self.assertIn("no fabric that is not here", self.window.status.hint.words)


if __name__ == "__main__":
    unittest.main()
