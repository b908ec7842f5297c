"""A real window for tests: opened offscreen, driven by mouse and keyboard, waited for."""

import time
import unittest
from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QEvent, QPoint, QPointF, QSettings, Qt
from PySide6.QtGui import QCursor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.ui.app import make_app
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session
from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.field import ValueField
from tests.example import station


@lru_cache(maxsize=1)
def example_memo() -> Memo:
    memo = Memo()
    run(station(), memo)
    return memo


class WindowTest(unittest.TestCase):
    """Each test gets a window of 1280 x 800 with the example open and computed."""

    open_example = True
    first = "Building"  # the view that is in front when the window opens

    def setUp(self):
        self.app: QApplication = make_app()
        theme.set_dark(False)
        settings = QSettings(str(Path(self.enterContext(_folder())) / "settings.ini"), QSettings.Format.IniFormat)
        self.window = MainWindow(Session(), settings)
        self.addCleanup(self._close)
        self.window.show()
        self.session = self.window.session
        # Where a test before left the pointer it would still point at a figure.
        QCursor.setPos(self.window.mapToGlobal(QPoint(400, 10)))
        if self.open_example:
            # The example is computed once for all tests of a process; every test takes over what is remembered of it.
            self.session._memo._rows.update(example_memo()._rows)
            self.session.set_show(link=self.first)
            self.session.start(self.example(), None)
            self.wait()

    def example(self):
        """The project a test begins with."""
        return station()

    def _close(self):
        self.session._saved = self.session.project
        self.window.close()
        self.window.deleteLater()
        self.app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.app.processEvents()

    def wait(self, done=None, seconds: float = 240.0) -> None:
        """Run the event loop until the results belong to the project and the window has rendered them."""
        until = time.monotonic() + seconds
        while not (done or (lambda: self.session.settled and not self.window._refresh.isActive()))():
            self.app.processEvents()
            time.sleep(0.002)
            self.assertLess(time.monotonic(), until, "the window did not settle")
        for _ in range(4):
            self.app.processEvents()

    # -- the user's hands ----------------------------------------------------------------------------------------
    def view(self, name: str):
        """Click the link of the chain."""
        names = [k.name for k in self.window.chain.vm.links]
        self.click(self.window.chain, self.window.chain.box_of(names.index(name)).center())
        self.wait()
        return self.window.view(name)

    def click(self, widget, at, button=Qt.MouseButton.LeftButton, keys=Qt.KeyboardModifier.NoModifier) -> None:
        point = at.toPoint() if isinstance(at, QPointF) else QPoint(*at)
        QTest.mouseClick(widget, button, keys, point)
        self.app.processEvents()

    def click_plan(self, plan, x: float, y: float, keys=Qt.KeyboardModifier.NoModifier) -> None:
        """Click the plan at metres."""
        self.click(plan, plan.map.map(QPointF(x, y)), keys=keys)
        self.wait()

    def type_into(self, name: str, text: str):
        """Type into a field of the card and press Enter."""
        field = self.window.card.field(name)
        field.edit.setFocus()
        field.edit.selectAll()
        QTest.keyClick(field.edit, Qt.Key.Key_Delete)
        QTest.keyClicks(field.edit, text)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
        self.app.processEvents()
        return field

    def choose(self, name: str, key: str) -> None:
        """Choose in a list of the card by keyboard."""
        box = self.window.card.field(name).edit
        target = box.findData(key)
        self.assertGreaterEqual(target, 0, f"{key} is not offered")
        box.setFocus()
        # stands at nothing: its list opens, and one is picked there
        if box.currentIndex() < 0:
            QTest.keyClick(box, Qt.Key.Key_Down)
            self.assertTrue(box.view().isVisible())
            box.view().setCurrentIndex(box.model().index(target, 0))
            QTest.keyClick(box.view(), Qt.Key.Key_Return)
            # without a window manager the list would stay the active window
            self.window.activateWindow()
            self.wait()
            return
        stuck = 0
        while box.currentIndex() != target:
            before = box.currentIndex()
            QTest.keyClick(box, Qt.Key.Key_Down if before < target else Qt.Key.Key_Up)
            self.app.processEvents()
            box = self.window.card.field(name).edit
            if box.currentIndex() == before:  # results of the choice before may just have put it back
                stuck += 1
                if stuck > 3:
                    self.fail(f"{name} stays at {box.currentText()}")
                self.wait()
                box = self.window.card.field(name).edit
                box.setFocus()
        box.activated.emit(target)
        self.wait()

    def fields(self) -> list:
        """All fields of the card."""
        return self.window.card.findChildren(ValueField)

    def headline(self, label: str) -> str:
        return next(h.figure for h in self.window.card.vm.headlines if h.label == label)

    def link(self, name: str):
        return next(k for k in self.window.chain.vm.links if k.name == name)


def _folder():
    import tempfile

    return tempfile.TemporaryDirectory()
