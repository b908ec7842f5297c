"""The office standards of the window: saved as a file, another one looked at before it is taken, fabric kept in it and
brought from it.
"""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog

from garnetfin.core.errors import GarnetfinError
from garnetfin.project.book_file import SUFFIX, load_book, save_book
from garnetfin.project.edits.book import BringFabric, KeepFabric
from garnetfin.ui.frame.parts import WindowPart


class Books(WindowPart):
    """What the window does with office standards; part of MainWindow."""

    book_page = None

    def write_book(self, path: Path | None = None) -> None:
        """The office standards of this project as a file that other projects can take."""
        if path is None:
            chosen, _ = QFileDialog.getSaveFileName(
                self,
                "Save the office standards",
                str((self.session.path or Path.home() / "x").parent / f"office{SUFFIX}"),
                f"Office standards (*{SUFFIX})",
            )
            if not chosen:
                return
            path = Path(chosen)
        path = path if path.suffix else path.with_suffix(SUFFIX)
        try:
            save_book(self.session.project.book, path)
        except GarnetfinError as error:
            self.banner.say(str(error), "bad")
            return
        self.status.hint.set_words(f"Wrote {path.name}")

    def take_book(self, path: Path | None = None) -> None:
        """Other office standards beside the work: what differs in them and what they would move, before they apply."""
        if path is None:
            chosen, _ = QFileDialog.getOpenFileName(
                self,
                "Apply office standards",
                str((self.session.path or Path.home() / "x").parent),
                f"Office standards (*{SUFFIX})",
            )
            if not chosen:
                return
            path = Path(chosen)
        try:
            book = load_book(path)
        except GarnetfinError as error:
            self.banner.say(str(error), "bad")
            return
        if self.session.results is None:
            self.banner.say("Open or draw a building first", "watch")
            return
        if self.book_page is None:
            from garnetfin.ui.pages.book_page import BookPage

            self.book_page = BookPage()
            self.book_page.closed.connect(self.side.close_why)
            self.book_page.intent.connect(self.do)
        self.side.show_page(self.book_page)
        self.book_page.show_book(book, path.stem, self.session.results, self.session.show.units)

    def keep_fabric(self) -> None:
        """Build-ups, glass and fabric sets of this project into its book."""
        self.do(KeepFabric())
        book = self.session.project.book
        self.status.hint.set_words(
            f"The office standards hold {len(book.build_ups)} build-ups, {len(book.glazings)} kinds of glass, "
            f"{len(book.fabric_sets)} fabric sets"
        )

    def bring_fabric(self) -> None:
        """What the book has of fabric and this project has not."""
        before = len(self.session.project.build_ups) + len(self.session.project.glazings)
        self.do(BringFabric())
        more = len(self.session.project.build_ups) + len(self.session.project.glazings) - before
        self.status.hint.set_words(
            f"{more} build-ups and kinds of glass came from the office standards"
            if more
            else "The office standards have no fabric that is not here already"
        )
