"""Papers: the document set as pages that follow every edit, what it holds, and the files it is handed over as."""

from collections import OrderedDict
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from time import monotonic

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPen
from PySide6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QScrollArea, QStackedWidget, QWidget

from garnetfin.core.errors import Cancelled, GarnetfinError, InputError
from garnetfin.engine.results import Missing
from garnetfin.project.edits.papers import IssuePapers, PrintPaper, SetSheet
from garnetfin.report import printing
from garnetfin.report.asked import asked
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.base import words
from garnetfin.ui.countdown import Countdown
from garnetfin.ui.frame.ask import Ask, Wanted
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.papers import changes_of, paper_list
from garnetfin.ui.views.base import Nothing, View
from garnetfin.ui.widgets.bare import thin
from garnetfin.ui.widgets.controls import LinkText, TextButton
from garnetfin.ui.widgets.paper_list import PaperList

PAGE_WIDTH = 620
GAP = 22
LINE_PT, HEAD_PT = 9.0, 140.0  # of a page: what a pointer takes in, where its head stands
SAID_S = 0.4  # between two words of progress
KEPT = 24  # pages that stay rendered
FORMATS = (
    ("pdf", "PDF"),
    ("xlsx", "XLSX"),
    ("csv", "CSV"),
    ("dxf", "DXF"),
    ("svg", "SVG"),
    ("ifc", "IFC"),
    ("gbxml", "gbXML"),
    ("bcf", "BCF"),
    ("ids", "IDS"),
)
ISSUED = ("pdf", "xlsx", "dxf", "ifc")
ONE_FILE = {
    "pdf": "PDF (*.pdf)",
    "xlsx": "Workbook (*.xlsx)",
    "ifc": "IFC4 (*.ifc)",
    "gbxml": "gbXML (*.xml)",
    "bcf": "BCF 3.0 (*.bcf)",
    "ids": "IDS 1.0 (*.ids)",
}


class Pages(QWidget):
    """Pages one below the other on the desk; each is rendered when it comes into sight."""

    def __init__(self) -> None:
        super().__init__()
        self._document = None
        self.boxes: list[QRectF] = []
        self._images: OrderedDict[tuple[int, float], QImage] = OrderedDict()

    def set_pdf(self, data: bytes) -> None:
        from pypdfium2 import PdfDocument

        self.close_pdf()
        self._document = PdfDocument(data)
        self._lay_out()

    def close_pdf(self) -> None:
        self._images.clear()
        if self._document is not None:
            self._document.close()
            self._document = None

    def _lay_out(self) -> None:
        self.boxes, y = [], float(GAP)
        for i in range(len(self._document) if self._document is not None else 0):
            width, height = self._document.get_page_size(i)
            shown = min(float(PAGE_WIDTH), self.width() - 2.0 * GAP)
            self.boxes.append(QRectF((self.width() - shown) / 2, y, shown, shown * height / width))
            y += self.boxes[-1].height() + GAP
        self.setFixedHeight(round(y))
        self.update()

    def resizeEvent(self, event) -> None:
        if event.oldSize().width() != event.size().width():
            self._lay_out()

    def page_at(self, y: float) -> int:
        """The page that takes most of what is seen, 0 for none."""
        return next((i for i, b in enumerate(self.boxes, 1) if b.bottom() > y), len(self.boxes))

    def line_at(self, at: QPointF) -> tuple[int, str, str]:
        """(page from 1 on, the words of the line there, those at the head of the page) under a point; page 0 beside the
        pages.
        """
        i = next((i for i, b in enumerate(self.boxes) if b.contains(at)), -1)
        if i < 0 or self._document is None:
            return 0, "", ""
        box, (width, height) = self.boxes[i], self._document.get_page_size(i)
        y = height * (1 - (at.y() - box.top()) / box.height())
        text = self._document[i].get_textpage()
        try:
            return (
                i + 1,
                text.get_text_bounded(0, y - LINE_PT / 2, width, y + LINE_PT / 2),
                text.get_text_bounded(0, height - HEAD_PT, width, height),
            )
        finally:
            text.close()

    def image(self, i: int) -> QImage:
        ratio = self.devicePixelRatioF()
        key = (i, self.boxes[i].width() * ratio)
        if key not in self._images:
            page = self._document[i]
            bitmap = page.render(scale=key[1] / page.get_width(), rev_byteorder=True)
            image = QImage(
                bitmap.buffer, bitmap.width, bitmap.height, bitmap.stride, QImage.Format.Format_RGB888
            ).copy()
            self._images[key] = image
            while len(self._images) > KEPT:
                self._images.popitem(last=False)
        return self._images[key]

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.fillRect(self.rect(), theme.colour("band"))
        for i, box in enumerate(self.boxes):
            if box.intersects(QRectF(event.rect())):
                p.fillRect(box.translated(3, 3), theme.colour("rule"))
                p.drawImage(box, self.image(i))
                p.setPen(QPen(theme.colour("rule"), 1))
                p.drawRect(box)
                words(p, QPointF(box.left() - 5, box.top() + 12), str(i + 1), "faint", 10.5, side="right")


class DocumentsView(View):
    HINT = "The set follows every edit. A switch takes a document in or leaves it out; a click shows it."
    pages_made = Signal(int)
    progress = Signal(float, str)  # from the threads that work

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.pages, self.made, self.pdf, self.starts = 0, "not made yet", b"", {}
        self.chosen, self.files = "cover", ()
        self._for = None
        self._gone = Countdown()
        self._changes = (None, None)
        self._maker = Newest(self._make, "papers", self)
        self._maker.ready.connect(self._on_made)
        self._maker.failed.connect(lambda what: self.refused.emit(f"The documents could not be made. {what}"))
        self._writer = Newest(self._write, "hand-over", self, in_turn=True)
        self._writer.ready.connect(self._on_written)
        self._writer.halted.connect(lambda: self._on_halted("Nothing was written"))
        self._maker.halted.connect(lambda: self._on_halted("The pages are as they were; the next edit makes them anew"))
        self.progress.connect(self._on_progress)
        self._writer.failed.connect(lambda what: self.refused.emit(f"The files could not be made. {what}"))
        self._printer = Newest(self._print, "printing", self)
        self._printer.ready.connect(self._on_printed)
        self._printer.failed.connect(lambda what: self.refused.emit(f"Not printed: {what}"))
        # folder and number of an issue whose files are still to be made
        self._issuing: tuple[Path, int] | None = None
        session.results_ready.connect(self._issue_files)
        self.format = self.tools.add_strip("Export", FORMATS, lambda kind: None)
        self.write_button = TextButton("Export …")
        self.write_button.clicked.connect(lambda: self.write(self.format.now))
        self.tools.add(self.write_button, 8)
        self.issue_button = TextButton("Issue the set", filled=True)
        self.issue_button.clicked.connect(self.ask_issue)
        self.tools.add(self.issue_button, 14)
        self.stop_link = LinkText("Stop")
        self.stop_link.clicked.connect(self.stop_work)
        self.tools.add(self.stop_link, 14)
        self.stop_link.setVisible(False)
        self.ask = Ask()
        self._column.addWidget(self.ask)
        self.list = PaperList()
        self.list.chosen.connect(self.show_paper)
        self.list.switched.connect(lambda paper, on: self.intent.emit(PrintPaper(paper, on)))
        listed = self._scrolled(self.list)
        listed.setFixedWidth(self.list.width())
        listed.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.sheet = Pages()
        self._scroll = self._scrolled(self.sheet)
        self._scroll.verticalScrollBar().valueChanged.connect(self._follow)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(self._scroll)
        self._stack.addWidget(self._nothing)
        main = QWidget()
        row = QHBoxLayout(main)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(listed)
        row.addWidget(self._stack, 1)
        self.set_main(main)

    @staticmethod
    def _scrolled(widget: QWidget) -> QScrollArea:
        area = QScrollArea()
        thin(area)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidget(widget)
        return area

    # -- rendering -----------------------------------------------------------------------------------------------
    def render_state(self, state: State) -> None:
        wanted = (state.found, state.show.units, state.against, state.against_name)
        for button in (self.write_button, self.issue_button):
            button.setEnabled(state.known)
        if not state.known:
            self._nothing.say(None)
            self._stack.setCurrentWidget(self._nothing)
            return
        if self._for != wanted and not state.stale:
            self._for = wanted
            if not self.pages:
                self._nothing.say(Missing("making the documents", "A few moments"))
                self._stack.setCurrentWidget(self._nothing)
            self._maker.submit(wanted)
        self.list.render_vm(paper_list(state, self.starts, self.pages, self.chosen, self.changes(state)))
        if self._maker.idle and self._writer.idle:
            self.tools.note.set_words(self.made)

    def changes(self, state: State):
        """What moved since the mark, worked out once for the same results."""
        key = (state.found, state.against, state.show.units)
        if self._changes[0] != key:
            self._changes = (key, changes_of(state))
        return self._changes[1]

    def _make(self, job, stopped):
        from garnetfin.report.document import Order
        from garnetfin.report.handover import pdf

        results, units, against, name = job
        return pdf(Order(results, units, against, name, watch=self._watch(stopped)))

    def _watch(self, stopped):
        """Tells how far the papers are, some times a second; stops them once others are wanted."""
        from garnetfin.report.watch import Watch

        last = [0.0]

        def told(share: float, words: str) -> None:
            now = monotonic()
            if now - last[0] > SAID_S:
                last[0] = now
                try:
                    self.progress.emit(share, words)
                except RuntimeError as gone:  # the window went while pages were being made
                    raise Cancelled() from gone

        return Watch(told, stopped)

    def _on_progress(self, share: float, words: str) -> None:
        if not self._maker.idle or not self._writer.idle:
            self.tools.note.set_words(f"{self._gone.say(share)}: {words}")
            self.stop_link.setVisible(True)

    def stop_work(self) -> None:
        """Give up pages or files that are being made."""
        self._maker.stop()
        self._writer.stop()

    def _on_halted(self, words: str) -> None:
        self.stop_link.setVisible(False)
        self.tools.note.set_words(self.made)
        self.session.said.emit(f"Stopped. {words}")

    def _on_made(self, made) -> None:
        self.pdf, self.pages, self.starts = made.data, made.pages, made.starts
        self.made = f"made {datetime.now():%H:%M}"
        self.stop_link.setVisible(not self._writer.idle)
        self.tools.note.set_words(self.made)
        at = self._scroll.verticalScrollBar().value()
        self.sheet.set_pdf(made.data)
        self._stack.setCurrentWidget(self._scroll)
        self._scroll.verticalScrollBar().setValue(at)
        self.pages_made.emit(self.pages)

    @property
    def settled(self) -> bool:
        return bool(self.pdf) and self._maker.idle

    # -- moving about --------------------------------------------------------------------------------------------
    def show_paper(self, paper_id: str) -> None:
        """Bring its first page into sight."""
        self.chosen = paper_id
        page = self.starts.get(paper_id)
        if page is not None and page <= len(self.sheet.boxes):
            self._scroll.verticalScrollBar().setValue(round(self.sheet.boxes[page - 1].top() - GAP / 2))
        self._show_chosen()

    def _follow(self, value: int) -> None:
        """The list follows the page in sight."""
        page = self.sheet.page_at(value + self._scroll.viewport().height() / 3)
        begun = [(first, i) for i, first in self.starts.items() if first <= page]
        now = max(begun)[1] if begun else self.chosen
        if now != self.chosen and self.starts.get(self.chosen) != page:
            self.chosen = now
            self._show_chosen()

    def _show_chosen(self) -> None:
        state = self.session.state
        if state.known:
            self.list.render_vm(paper_list(state, self.starts, self.pages, self.chosen, self.changes(state)))
        page = self.starts.get(self.chosen)
        self.hint.emit(f"Page {page} of {self.pages}" if page else self.HINT)

    # -- handing over --------------------------------------------------------------------------------------------
    def _order(self, issued: bool = False):
        from garnetfin.report.document import Order

        state = self.session.state
        return Order(state.results, state.show.units, state.against, state.against_name, issued)

    def write(self, kind: str = "pdf", path: str = "") -> None:
        """Write the set, its plans or the model; without a path a file dialog asks for one.

        Several files go into a folder.
        """
        if self.session.results is None:
            self.refused.emit("There is nothing to print yet")
            return
        start = (self.session.path or Path.home() / "papers").with_suffix("")
        if not path and kind in ONE_FILE:
            ending = ".xml" if kind == "gbxml" else f".{kind}"
            path, _ = QFileDialog.getSaveFileName(
                self, f"Export {dict(FORMATS)[kind]}", f"{start}{ending}", ONE_FILE[kind]
            )
        elif not path:
            path = QFileDialog.getExistingDirectory(self, f"Export {dict(FORMATS)[kind]} files into", str(start.parent))
        if path:
            name = dict(FORMATS)[kind]
            before = self._writer.submit((self._order(), (kind,), Path(path)))
            self.hint.emit(f"Writing {name} …" if not before else f"{name} is written after {before} that came before")

    def _write(self, job, stopped) -> tuple[list[Path], str]:
        """(files written, why not)."""
        from garnetfin.report.handover import files, write_files

        order, kinds, target = job
        try:
            return write_files(files(replace(order, watch=self._watch(stopped)), kinds), target), ""
        except OSError as error:
            return [], f"{target.name} could not be written: {error.strerror or error}"
        except GarnetfinError as error:
            return [], str(error)

    def _on_written(self, answer: tuple[list[Path], str]) -> None:
        written, why = answer
        self.stop_link.setVisible(False)
        self.tools.note.set_words(self.made)
        if why:
            self.refused.emit(why)
            return
        self.files = tuple(p.name for p in written)
        self.session.said.emit(
            f"Written: {written[0]}" if len(written) == 1 else f"Written: {len(written)} files in {written[0].parent}"
        )
        self.pages_made.emit(self.pages)

    @property
    def writing(self) -> bool:
        return not (self._writer.idle and self._printer.idle and self._issuing is None)

    def ask_issue(self) -> None:
        """What the issue is for; then it is numbered, kept as a mark, and its files are written."""
        number = self.session.project.papers.next_number
        self.ask.ask(
            f"Issue {number}",
            (Wanted("note", "what for", "", width=260),),
            "Issue",
            lambda v: self.issue(v["note"]),
            self.session.show.units,
        )

    def issue(self, note: str, folder: str = "") -> str | None:
        """Hand the set over; why not, if it cannot be."""
        if not folder and self.session.path is not None:
            folder = str(self.session.path.parent)
        folder = folder or QFileDialog.getExistingDirectory(
            self, "Export the files of the issue into", str(Path.home())
        )
        if not folder:
            return "An issue needs a folder for its files"
        number = self.session.project.papers.next_number
        why = self.session.do(IssuePapers(f"{date.today():%Y-%m-%d}", note))
        if why:
            return why
        self.session.keep_mark(f"Issue {number}")
        self._issuing = (Path(folder), number)
        return None

    def _issue_files(self, results) -> None:
        """Once the project with its new issue is computed, its files are made."""
        if self._issuing is None or len(results.project.papers.issues) < self._issuing[1]:
            return
        (folder, number), self._issuing = self._issuing, None
        before = self._writer.submit((self._order(issued=True), ISSUED, folder))
        self.hint.emit(f"Writing issue {number} …" if not before else f"Issue {number} is written after {before} more")

    def choose_logo(self, path: str = "") -> None:
        """A picture for the office's sheet."""
        path = path or QFileDialog.getOpenFileName(self, "Logo", str(Path.home()), "Pictures (*.png *.jpg *.jpeg)")[0]
        if not path:
            return
        try:
            data = Path(path).read_bytes()
        except OSError as error:
            self.refused.emit(f"{Path(path).name} cannot be read: {error.strerror or error}")
        else:
            self.intent.emit(SetSheet("logo", data))

    def ask_lines(self) -> None:
        """Lines below the office's name, one after the other."""
        lines = (*self.session.project.book.sheet.lines, "", "", "")[:3]
        self.ask.ask(
            "Below the office’s name",
            tuple(Wanted(f"line{i}", f"line {i + 1}", x, width=150) for i, x in enumerate(lines)),
            "Apply",
            lambda v: self.session.do(SetSheet("lines", tuple(x for x in v.values() if x))) or None,
            self.session.show.units,
        )

    def print_pages(self) -> None:
        """Ask for printer, pages and copies in a line, then send the set as it stands to the system's own print
        service.
        """
        if not self.pdf:
            self.refused.emit("There is nothing to print yet")
        elif not printing.ready():
            self.refused.emit("No printer is set up on this machine (no “lp”): write the PDF and print it elsewhere")
        else:
            self._printer.submit(None)  # asks the service first: its answer may take a while

    def _print(self, job: tuple | None, stopped) -> tuple[str, ...] | int | str:
        """Printers there are, or how many pages were sent, or why not."""
        if job is None:
            return printing.printers()
        pdf, title, pages, wanted = job
        try:
            printing.send(pdf, title, wanted)
        except GarnetfinError as error:
            return str(error)
        return printing.count_of(wanted.pages, pages) * wanted.copies

    def _on_printed(self, answer: tuple[str, ...] | int | str) -> None:
        if isinstance(answer, str):
            self.refused.emit(f"Not printed: {answer}")
            return
        if isinstance(answer, int):
            self.session.said.emit(f"Sent to the printer: {answer} pages")
            return
        wanted = (
            *((Wanted("printer", "printer", answer[0], choices=tuple((p, p) for p in answer)),) if answer else ()),
            Wanted("pages", f"pages of {self.pages}", "all", width=80),
            Wanted("copies", "copies", "1", width=36),
            Wanted("sides", "on", printing.SIDES[0][0], choices=printing.SIDES),
        )
        self.ask.ask("Print", wanted, "Print", self._send, self.session.show.units)

    def _send(self, values: dict) -> str | None:
        """What cannot be printed so, or None once it is on its way."""
        try:
            pages = printing.chosen_pages(values["pages"], self.pages)
        except InputError as error:
            return str(error)
        copies = values["copies"]
        if not copies.isdigit() or not 1 <= int(copies) <= printing.MOST_COPIES:
            return f"Copies are 1 to {printing.MOST_COPIES}"
        self._printer.submit(
            (
                self.pdf,
                self.session.project.name,
                self.pages,
                printing.PrintJob(values.get("printer", ""), pages, int(copies), values["sides"]),
            )
        )
        return None

    def why_at(self, at: QPointF) -> tuple:
        """What the line of the page under a point is about."""
        results = self.session.results
        page, *words_there = self.sheet.line_at(QPointF(self.sheet.mapFrom(self, at.toPoint())))
        begun = [(first, i) for i, first in self.starts.items() if first <= page]
        return asked(results, max(begun)[1], *words_there) if begun and page and results is not None else ()

    def close_maker(self) -> None:
        self._maker.close()
        self._writer.close()
        self._printer.close()
        self.sheet.close_pdf()
        self.sheet.boxes = []

    def sizeHint(self) -> QSize:
        return QSize(PAGE_WIDTH + 80, 600)
