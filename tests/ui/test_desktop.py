"""Around the window: desktop entry and file types, languages, settings, help, the clipboard, where one was."""

import configparser
import re
import subprocess
import tempfile
import unittest
import zipfile
from pathlib import Path

from lxml import etree
from PySide6.QtCore import QRect, QSettings
from PySide6.QtWidgets import QApplication, QWidget

from garnetfin.cli import desktop
from garnetfin.project.store import save
from garnetfin.ui.app import fit_into, make_app
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.language import LANGUAGES, choose, tr
from garnetfin.ui.pages.help_pages import keys_of
from garnetfin.ui.session import Session
from tests.example import one_room, station
from tests.ui.driver import WindowTest
from tests.ui.test_session import spin

ASSETS = Path(desktop.__file__).parents[1] / "ui" / "assets"


class Entry(unittest.TestCase):
    def setUp(self):
        self.share = Path(self.enterContext(tempfile.TemporaryDirectory())) / "share"

    def test_entry_icon_and_types_are_written_and_taken_away(self):
        made = desktop.install(self.share)
        entry = configparser.ConfigParser(interpolation=None)
        entry.optionxform = str
        entry.read(made[0], encoding="utf-8")
        keys = entry["Desktop Entry"]
        self.assertEqual(
            (keys["Type"], keys["Name"], keys["Icon"], keys["Terminal"]),
            ("Application", "Garnetfin", "garnetfin", "false"),
        )
        self.assertRegex(keys["Exec"], r'^".*garnetfin" %f$')
        icon = etree.fromstring(made[1].read_bytes())
        self.assertTrue(icon.tag.endswith("svg"))
        self.assertNotIn(b"currentColor", made[1].read_bytes())
        types = etree.fromstring(made[2].read_bytes())
        globs = {t.get("type"): t.find("{*}glob").get("pattern") for t in types.findall("{*}mime-type")}
        self.assertEqual(globs, {"application/x-garnetfin": "*.gfin", "application/x-garnetfin-book": "*.gfbook"})
        self.assertEqual(set(keys["MimeType"].strip(";").split(";")), set(globs))
        self.assertEqual(desktop.remove(self.share), made)
        self.assertFalse(any(p.exists() for p in made))
        self.assertEqual(desktop.remove(self.share), [])

    def test_a_project_file_has_the_magic_the_type_names(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.gfin"
            save(one_room(), path)
            data = path.read_bytes()
            with zipfile.ZipFile(path) as archive:
                self.assertEqual(archive.infolist()[0].filename, "mimetype")
        match = etree.parse(str(ASSETS / "desktop" / "garnetfin-mime.xml")).find(".//{*}match")
        at, value = int(match.get("offset")), match.get("value").encode()
        self.assertEqual(data[at : at + len(value)], value)

    def test_paths_with_odd_signs_are_quoted(self):
        self.assertEqual(desktop._quoted('/a b/100%/"x"'), '"/a b/100%%/\\"x\\""')


class Languages(unittest.TestCase):
    def setUp(self):
        make_app()

    def tearDown(self):
        choose(make_app(), "en")

    def test_german_is_shown_and_english_comes_back(self):
        app = make_app()
        self.assertEqual(choose(app, "de"), "de")
        self.assertEqual(
            (tr("Loads"), tr("26 rooms"), tr("12 design days"), tr("585 Pa · 74 %")),
            ("Lasten", "26 Räume", "12 Auslegungstage", "585 Pa · 74 %"),
        )
        self.assertEqual(tr("not a text of ours"), "not a text of ours")
        self.assertEqual(tr("898 m² · 2 unheated"), "898 m² · 2 unbeheizt")
        window = MainWindow(Session())
        window.show()
        self.assertEqual(window.actions_["save"].text(), "Sichern")
        self.assertEqual(window.start_page.open_example.text(), "Beispiel öffnen")
        window.close()
        self.assertEqual(choose(app, "en"), "en")
        self.assertEqual(tr("Loads"), "Loads")
        self.assertEqual(choose(app, "xx"), "en")

    def test_every_translation_is_compiled_and_keeps_its_figures(self):
        app = make_app()
        for code in LANGUAGES:
            source = ASSETS / "translations" / f"garnetfin_{code}.ts"
            if code == "en":
                continue
            self.assertEqual(choose(app, code), code)
            messages = etree.parse(str(source)).findall(".//message")
            self.assertGreater(len(messages), 400)
            for m in messages:
                text, made = m.findtext("source"), m.findtext("translation")
                self.assertEqual(sorted(re.findall(r"%\d", text)), sorted(re.findall(r"%\d", made)), text)
                from PySide6.QtCore import QCoreApplication

                self.assertEqual(QCoreApplication.translate("garnetfin", text), made)

    def test_every_command_of_the_menus_has_its_german(self):
        window = MainWindow(Session())
        texts = {a.text() for n, a in window.actions_.items() if not n.startswith("link")}
        window.close()
        known = {
            m.findtext("source")
            for m in etree.parse(str(ASSETS / "translations" / "garnetfin_de.ts")).findall(".//message")
        }
        self.assertEqual({t for t in texts if re.sub(r"\d", "%1", t) not in known}, set())


class OnScreen(unittest.TestCase):
    """A window stands on the screen there is, wherever it stood when it was closed."""

    def placed(self, window: tuple, screen: tuple) -> tuple:
        make_app()
        widget = QWidget()
        widget.setMinimumSize(1024, 640)
        widget.setGeometry(*window)
        fit_into(widget, QRect(*screen))
        return widget.x(), widget.y(), widget.width(), widget.height()

    def test_no_larger_than_the_screen_and_all_of_it_in_sight(self):
        self.assertEqual(self.placed((0, 0, 1280, 800), (0, 0, 1280, 720)), (0, 0, 1280, 720))
        self.assertEqual(self.placed((2500, 90, 1280, 800), (0, 0, 1920, 1080)), (640, 90, 1280, 800))
        self.assertEqual(self.placed((-900, -40, 1280, 800), (0, 24, 1920, 1056)), (0, 24, 1280, 800))
        self.assertEqual(self.placed((200, 100, 1280, 800), (0, 0, 1920, 1080)), (200, 100, 1280, 800))
        # below the least size it keeps its head in sight
        self.assertEqual(self.placed((50, 50, 1280, 800), (0, 0, 800, 600)), (0, 0, 1024, 640))


class AroundTheWindow(WindowTest):
    def test_settings_stand_beside_the_first_page_too(self):
        window = MainWindow(Session(), self.window.settings.store)
        self.addCleanup(window.close)
        window.show()
        window.actions_["settings"].trigger()
        self.app.processEvents()
        page = window.settings_page
        self.assertTrue(page.isVisible() and window.start_page.isVisible())
        page.boxes["units"].setCurrentIndex(1)
        page.boxes["units"].activated.emit(1)
        self.assertEqual(window.settings.store.value("units"), "IP")
        page.close_link.click()
        self.assertFalse(page.isVisible())
        window.session.start(station(), None)  # and moves to the place of the card with a project
        self.wait(lambda: window.session.settled)
        window.actions_["settings"].trigger()
        self.assertIs(window.side.currentWidget(), page)
        window.session._saved = window.session.project

    def test_settings_take_effect_and_are_kept(self):
        self.window.actions_["settings"].trigger()
        page = self.window.settings_page
        self.assertTrue(page.isVisible())
        page.boxes["dark"].setCurrentIndex(1)
        page.boxes["dark"].activated.emit(1)
        from garnetfin.ui.theme import theme

        self.assertTrue(theme.dark)
        page.boxes["units"].setCurrentIndex(1)
        page.boxes["units"].activated.emit(1)
        self.assertEqual(self.window.settings.get("units"), "IP")
        page.boxes["dark"].setCurrentIndex(0)
        page.boxes["dark"].activated.emit(0)
        self.assertFalse(theme.dark)
        page.close_link.click()
        self.assertFalse(page.isVisible())

    def test_keys_and_tutorial_stand_beside_the_work(self):
        self.window.actions_["keys"].trigger()
        self.assertIn("Ctrl+K", self.window.help_page.text.text())
        shown = dict(keys_of(self.window.actions_))
        for action in self.window.actions_.values():
            if not action.shortcut().isEmpty():
                self.assertIn(action.shortcut().toString(), shown)
        self.window.actions_["tutorial"].trigger()
        self.assertIn("Ten minutes", self.window.help_page.text.text())
        self.window.help_page.close_link.click()
        self.assertTrue(self.window.card.isVisible())

    def test_no_two_commands_share_their_keys(self):
        keys = [a.shortcut().toString() for a in self.window.actions_.values() if not a.shortcut().isEmpty()]
        self.assertEqual(len(keys), len(set(keys)))

    def test_the_plan_goes_to_the_clipboard_as_picture_and_drawing(self):
        self.addCleanup(QApplication.clipboard().clear)
        for link, svg in (("Ducts", True), ("Building", True), ("Fan", False)):
            self.view(link)
            self.window.actions_["copy plan"].trigger()
            held = QApplication.clipboard().mimeData()
            self.assertTrue(held.hasImage(), link)
            self.assertEqual(held.hasFormat("image/svg+xml"), svg, link)
            if svg:
                self.assertTrue(etree.fromstring(bytes(held.data("image/svg+xml"))).tag.endswith("svg"))

    def test_where_one_was_comes_back_with_the_file(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.gfin"
            save(station(), path)
            settings = QSettings(str(Path(folder) / "s.ini"), QSettings.Format.IniFormat)
            first = MainWindow(Session(), settings)
            first.show()
            first.open(path)
            first.session.set_show(link="Fan", level_id="U", units="IP")
            first.close()
            second = MainWindow(Session(), settings)
            second.show()
            self.assertEqual(second.last_path(), path.resolve())
            second.open(path)
            show = second.session.show
            self.assertEqual((show.link, show.level_id, show.units), ("Fan", "U", "IP"))
            self.assertEqual(second.start_page.starts.keys() >= {"Ten minutes with the example"}, True)
            second.close()


class Started(unittest.TestCase):
    def test_the_command_line_puts_it_into_the_menus(self):
        import os
        import sys

        with tempfile.TemporaryDirectory() as folder:
            done = subprocess.run(
                [sys.executable, "-m", "garnetfin", "desktop"],
                capture_output=True,
                text=True,
                check=False,
                env={**os.environ, "XDG_DATA_HOME": folder},
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            self.assertEqual(done.stdout.count("written"), 3)
            self.assertTrue((Path(folder) / "applications" / "garnetfin.desktop").exists())

    def test_on_the_first_page_the_tutorial_opens_the_example(self):
        app = make_app()
        window = MainWindow(Session())
        window.show()
        window.start_page.starts["Ten minutes with the example"].click()
        self.assertTrue(spin(app, lambda: window.session.settled))
        self.assertIn("Ten minutes", window.help_page.text.text())
        window.close()
