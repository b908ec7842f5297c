"""Papers: the report as pages, made in the background, written to a file on request."""

from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, QSize, Signal
from PySide6.QtGui import QImage, QPainter, QPen
from PySide6.QtWidgets import QFileDialog, QFrame, QScrollArea, QStackedWidget, QWidget

from garnetfin.engine.results import Missing
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.base import words
from garnetfin.ui.frame.controls import TextButton
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme
from garnetfin.ui.views.base import Nothing, View

PAGE_WIDTH = 620


class Pages(QWidget):
    """Pages one below the other on the desk."""

    def __init__(self) -> None:
        super().__init__()
        self.images: list[QImage] = []
        self.stale = False

    def set_images(self, images: list[QImage]) -> None:
        self.images = images
        self.setFixedHeight(int(sum(i.height() / i.devicePixelRatio() + 22 for i in images)) + 30)
        self.update()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("band"))
        y = 20.0
        for number, image in enumerate(self.images, 1):
            width, height = image.width() / image.devicePixelRatio(), image.height() / image.devicePixelRatio()
            box = QRectF((self.width() - width) / 2, y, width, height)
            if box.intersects(QRectF(event.rect())):
                p.fillRect(box.translated(3, 3), theme.colour("rule"))
                p.drawImage(box, image)
                p.setPen(QPen(theme.colour("rule"), 1))
                p.drawRect(box)
                words(p, QPointF(box.left() - 14, y + 12), str(number), "faint", 11, side="right")
            y += height + 22


class PapersView(View):
    HINT = "The report follows every edit. Write it with Ctrl+P, or from the command line."
    pages_made = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.pages, self.made, self.pdf = 0, "not made yet", b""
        self._for = None
        self._shown = False
        self._maker = Newest(self._make, "papers", self)
        self._maker.ready.connect(self._on_made)
        self._maker.failed.connect(lambda what: self.refused.emit(f"The report could not be made. {what}"))
        self.tools.add_words("One report, A4: basis, loads, air, ducts, fan, findings")
        self.export = TextButton("Write the PDF", filled=True)
        self.export.clicked.connect(lambda: self.write())
        self.tools.add(self.export, 14)
        self.sheet = Pages()
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QFrame.Shape.NoFrame)
        self._scroll.setWidget(self.sheet)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(self._scroll)
        self._stack.addWidget(self._nothing)
        self.set_main(self._stack)

    def render_state(self, state: State) -> None:
        self._shown = True
        wanted = (state.results, state.show.units)
        self.export.setEnabled(state.results is not None)
        if state.results is None:
            self._nothing.say(None)
            self._stack.setCurrentWidget(self._nothing)
        elif self._for != wanted and not state.stale:
            self._for = wanted
            if not self.pages:
                self._nothing.say(Missing("making the report", "A few moments"))
                self._stack.setCurrentWidget(self._nothing)
            self._maker.submit((*wanted, self.devicePixelRatioF()))
        self.tools.note.set_words(self.made)

    def _make(self, job, stopped) -> tuple[bytes, list[QImage]]:
        results, units, ratio = job
        from pypdfium2 import PdfDocument

        from garnetfin.report.document import document
        from garnetfin.report.to_pdf import to_pdf
        pdf = to_pdf(document(results, units), results.project.name, f"{results.project.name} · made by Garnetfin")
        images = []
        for page in PdfDocument(pdf):
            bitmap = page.render(scale=PAGE_WIDTH * ratio / page.get_width(), rev_byteorder=True)
            image = QImage(bitmap.buffer, bitmap.width, bitmap.height, bitmap.stride, QImage.Format.Format_RGB888).copy()
            image.setDevicePixelRatio(ratio)
            images.append(image)
        return pdf, images

    def _on_made(self, made: tuple[bytes, list[QImage]]) -> None:
        self.pdf, images = made
        self.pages = len(images)
        self.made = f"made {datetime.now():%H:%M}"
        self.sheet.set_images(images)
        self._stack.setCurrentWidget(self._scroll)
        self.tools.note.set_words(self.made)
        self.pages_made.emit(self.pages)

    @property
    def settled(self) -> bool:
        return bool(self.pdf) and self._maker.idle

    def write(self, path: str = "") -> None:
        """Write the report; without a path a file dialog asks for one."""
        results = self.session.results
        if results is None:
            self.refused.emit("There is nothing to print yet")
            return
        if not path:
            start = (self.session.path or Path.home() / "report").with_suffix(".pdf")
            path, _ = QFileDialog.getSaveFileName(self, "Write the report", str(start), "PDF (*.pdf)")
        if not path:
            return
        from garnetfin.report.document import document
        from garnetfin.report.to_pdf import to_pdf
        units = self.session.show.units
        pdf = self.pdf if self._for == (results, units) and self.settled else to_pdf(
            document(results, units), results.project.name, f"{results.project.name} · made by Garnetfin")
        try:
            Path(path).write_bytes(pdf)
        except OSError as error:
            self.refused.emit(f"{Path(path).name} could not be written: {error.strerror or error}")
        else:
            self.session.said.emit(f"Written: {path}")

    def close_maker(self) -> None:
        self._maker.close()

    def sizeHint(self) -> QSize:
        return QSize(PAGE_WIDTH + 80, 600)


