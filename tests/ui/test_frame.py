"""The frame: finding and doing, files and banner, themes, keyboard, leaving."""

import itertools
import tempfile
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QCloseEvent, QColor
from PySide6.QtTest import QTest

from garnetfin.project.edits.rooms import SetRoomText
from garnetfin.project.store import save
from garnetfin.ui.frame.finder import Entry, rank
from garnetfin.ui.theme import colour_map, theme, tokens
from tests.example import one_room
from tests.ui.driver import WindowTest


class FindOrDo(WindowTest):
    def find(self, words: str) -> None:
        QTest.keyClick(self.window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClicks(self.window.finder, words)
        QTest.keyClick(self.window.finder, Qt.Key.Key_Return)
        self.wait()

    def test_a_room_is_found_by_name_and_shown_on_its_level(self):
        self.find("data room")
        self.assertEqual(self.window.card.vm.title, "Data room")
        self.assertEqual(self.session.show.level_id, "U")

    def test_a_command_is_done(self):
        self.find("si or ip")
        self.assertEqual(self.session.show.units, "IP")

    def test_a_terminal_and_a_finding(self):
        self.find("0.09a terminal")
        self.assertEqual(self.session.selection.kind, "terminal")
        self.find("touches beam")
        self.assertEqual((self.session.show.link, self.session.selection.kind), ("Ducts", "segment"))

    def test_ranking_prefers_what_begins_alike(self):
        entries = [Entry("room", t, "", lambda: None) for t in ("Upper corridor", "Corridor", "Hall")]
        self.assertEqual([e.text for e in rank(entries, "corr")], ["Corridor", "Upper corridor"])
        self.assertEqual(rank(entries, "nothing"), [])


class Files(WindowTest):
    def test_a_broken_file_is_said_in_the_banner_and_the_project_stays(self):
        project = self.session.project
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bad.gfin"
            path.write_bytes(b"PK nonsense")
            self.assertFalse(self.window.open(path))
            self.assertEqual(path.read_bytes(), b"PK nonsense")
        self.assertIs(self.session.project, project)
        self.assertTrue(self.window.banner.isVisible())
        self.assertIn("broken or not a project", self.window.banner.sentence.words)

    def test_opening_and_recent_files(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "one.gfin"
            save(one_room(), path)
            self.assertTrue(self.window.open(path))
            self.wait()
            self.assertEqual(self.link("Building").figure, "1")
            self.assertEqual(self.window._recent_paths(), [path.resolve()])

    def test_a_folder_that_cannot_be_written_keeps_the_edit(self):
        self.session.do(SetRoomText(self.session.project.rooms[0].id, "name", "Reading hall"))
        self.wait()
        self.assertFalse(self.window._save_to(Path("/nowhere/at/all/a.gfin")))
        self.assertTrue(self.session.unsaved)
        self.assertIn("could not be saved", self.window.banner.sentence.words)

    def test_closing_with_unsaved_edits_asks_in_the_banner_first(self):
        self.session.do(SetRoomText(self.session.project.rooms[0].id, "name", "Reading hall"))
        self.wait()
        event = QCloseEvent()
        self.window.closeEvent(event)
        self.assertFalse(event.isAccepted())
        self.assertIn("unsaved", self.window.banner.sentence.words)
        # a key held down asks again and again, and never goes without an answer
        for _ in range(3):
            event = QCloseEvent()
            self.window.closeEvent(event)
            self.assertFalse(event.isAccepted())
        self.window.banner._act(1)  # close without them
        self.assertFalse(self.window.isVisible())


class StartPage(WindowTest):
    open_example = False

    def test_first_page_opens_the_example(self):
        self.app.processEvents()
        self.assertTrue(self.window.start_page.isVisible())
        self.assertFalse(self.window.chain.isVisible())
        self.click(self.window.start_page.open_example, (20, 10))
        self.wait()
        self.assertTrue(self.window.chain.isVisible())
        self.assertEqual(self.session.project.name, "Tern Point Field Station")
        self.assertFalse(self.window.start_page.isVisible())


class Looks(WindowTest):
    def test_dark_and_light_come_from_one_file_and_repaint_everything(self):
        light = self.window.grab().toImage().pixelColor(640, 450)
        QTest.keyClick(
            self.window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        )
        self.wait()
        dark = self.window.grab().toImage().pixelColor(640, 450)
        self.assertTrue(theme.dark)
        self.assertNotEqual(light, dark)

    def test_text_has_contrast_on_every_ground(self):
        """WCAG contrast of 4.5 for text tones on paper, sheet, band, tint and selected rows."""

        def luminance(name: str, look: str) -> float:
            rgb = QColor(tokens()[look][name]).getRgbF()[:3]
            r, g, b = (c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in rgb)
            return 0.2126 * r + 0.7152 * g + 0.0722 * b

        for look in ("light", "dark"):
            for tone in ("ink", "faint", "garnet", "supply", "watch", "bad", "good"):
                for ground in ("paper", "sheet", "band", "tint", "garnet_tint"):
                    a, b = sorted((luminance(tone, look), luminance(ground, look)))
                    self.assertGreaterEqual((b + 0.05) / (a + 0.05), 4.45, f"{tone} on {ground}, {look}")

    def test_both_looks_have_every_token(self):
        self.assertEqual(set(tokens()["light"]), set(tokens()["dark"]))

    def test_maps_of_values_are_even(self):
        for name in ("amount", "diverging"):
            self.assertEqual(len(colour_map(name)), 256)
        lightness = [c.lightnessF() for c in colour_map("amount")]
        self.assertTrue(all(b <= a + 0.02 for a, b in itertools.pairwise(lightness)))


class Keyboard(WindowTest):
    def test_chain_by_arrow_keys(self):
        self.window.chain.setFocus()
        start = self.session.show.link
        QTest.keyClick(self.window.chain, Qt.Key.Key_Right)
        self.wait()
        self.assertNotEqual(self.session.show.link, start)

    def test_tab_walks_through_the_rooms_of_the_plan(self):
        plan = self.view("Building").plan
        plan.setFocus()
        QTest.keyClick(plan, Qt.Key.Key_Tab)
        self.wait()
        first = self.session.selection.ids
        QTest.keyClick(plan, Qt.Key.Key_Tab)
        self.wait()
        self.assertNotEqual(self.session.selection.ids, first)
        QTest.keyClick(plan, Qt.Key.Key_Escape)
        self.wait()
        self.assertEqual(self.session.selection.ids, ())
        last = [r.id for r in self.session.project.rooms if r.level_id == self.session.show.level_id][-1]
        self.session.select("room", last)
        self.wait()
        self.window.activateWindow()
        QTest.keyClick(plan, Qt.Key.Key_Tab)
        self.wait()
        self.assertEqual(self.session.selection.ids, (last,))

    def test_table_copies_as_text_for_a_spreadsheet(self):
        table = self.view("Building").table
        lines = table.as_text().splitlines()
        self.assertEqual(len(lines), 29)
        self.assertEqual(lines[1].split("\t")[:2], ["0.01", "Reading room"])
