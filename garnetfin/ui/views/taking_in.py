"""Lists, foreign buildings and drawings on their way into the project: read, shown, and taken or left."""

from collections.abc import Callable, Sequence
from pathlib import Path

import msgspec
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QApplication, QStackedWidget

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.exchange.drawing_rooms import Said, draft_of, rooms_in
from garnetfin.exchange.reading import kind_of
from garnetfin.exchange.results import Answer, Drawing, Picture
from garnetfin.project.draft import Draft, groups_of
from garnetfin.project.edits.imports import TakeDraft, homeless
from garnetfin.project.edits.underlays import AddUnderlay, ScaleUnderlay
from garnetfin.project.lookup import find
from garnetfin.project.underlays import Underlay
from garnetfin.ui.bridge import Newest
from garnetfin.ui.countdown import Countdown
from garnetfin.ui.frame.ask import Wanted
from garnetfin.ui.pages.import_pages import DraftPage, ListPage, Sheets
from garnetfin.ui.plan.underlay import segments, texts_of
from garnetfin.ui.reader import Reader
from garnetfin.ui.session import Session
from garnetfin.ui.views.room_commands import RoomCommands

PICTURE_WIDTH_M = 30.0  # of a picture that says nothing about its scale, until two points are measured
FAR_M = 1000.0  # a drawing further from its origin is moved to the plan's


class TakingIn(RoomCommands):
    """A view whose plan gives way to a page while something is taken in."""

    reading = Signal(str)  # news of a file that is being read; "" when it is over
    file_asked = Signal(str)  # a file of a kind is to be chosen: list, building, underlay

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._source = ""
        self.reader = Reader(self)
        self.draft_page, self.list_page = DraftPage(), ListPage()
        self.draft_page.intent.connect(self._take)
        self.list_page.intent.connect(self._take)
        self.list_page.compared.connect(self.compare)
        self.list_page.file_asked.connect(lambda: self.file_asked.emit("list"))
        self.pages = QStackedWidget()
        for page in (self.draft_page, self.list_page):
            page.left.connect(self.show_plan)
            self.pages.addWidget(page)
        gone = Countdown()
        self.reader.progress.connect(
            lambda share, words: self.reading.emit(f"Reading {self._source}: {words}, {gone.say(share)}")
        )
        self.reader.done.connect(self._read)
        self.reader.failed.connect(self._not_read)
        self.reader.stopped.connect(lambda: self._not_read(f"{self._source} was left; the project is as it was"))
        self._finder = Newest(self._find_rooms, "rooms of a drawing", self)
        self._finder.ready.connect(self._rooms_found)
        self._finder.failed.connect(self._not_read)
        session.started.connect(self._started)
        self.fit_next = False  # what was taken in is shown whole once it is there

    def _started(self) -> None:
        """Another project: what was being taken into the one before is put away."""
        self.reader.stop()
        self.ask.drop()
        self.show_plan()

    def use_tool(self, name: str) -> None:
        """Take a tool of the plan in hand."""

    def start_list(self, text: str = "", source: str = "room list", sheets: Sheets = (), sheet: str = "") -> None:
        self.use_tool("select")
        self.list_page.begin(
            lambda: (self.session.project, self.session.show.level_id, self.session.show.units),
            text,
            source,
            sheets,
            sheet,
        )
        self.pages.setCurrentWidget(self.list_page)

    def paste(self) -> None:
        text = QApplication.clipboard().text()
        if text.strip():
            self.start_list(text)
        else:
            self.refused.emit("There is no text to paste; copy rows of a spreadsheet first")

    def insert(self, path: Path, page: int = 0) -> None:
        """Read a foreign file, each kind to its place; the window stays in use meanwhile."""
        try:
            kind = kind_of(path)
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return
        self._source = path.name
        purpose = (lambda answer: self._page_read(answer, path, page)) if kind == "page" else self._dispatch
        if self.reader.start(path, kind, {"page": page}, purpose):
            self.reading.emit(f"Reading {path.name}")
        else:
            self.refused.emit("Another file is still being read; stop it first")

    def _read(self, answer: Answer, purpose: Callable[[Answer], None]) -> None:
        self.reading.emit("")
        try:
            purpose(answer)
        except GarnetfinError as error:
            self.refused.emit(str(error))

    def _not_read(self, words: str) -> None:
        self.reading.emit("")
        self.refused.emit(words)

    def _dispatch(self, answer: Answer) -> None:
        if answer.table is not None:
            table = answer.table
            sheets = tuple((name, as_text(rows)) for name, rows in zip(table.sheets, table.others))
            self.start_list(as_text(table.rows), self._source, sheets, table.sheet)
        elif answer.draft is not None:
            self.compare(answer.draft)
        elif answer.lines is not None:
            self._put_lines(answer.lines)
        elif answer.picture is not None:
            self._put_picture(answer.picture)

    def compare(self, draft: Draft) -> None:
        """Rooms of a file, or of a list whose rooms are there already, against the project."""
        self.use_tool("select")
        self.draft_page.show_draft(draft, self.session.project, self.session.show.units)
        self.pages.setCurrentWidget(self.draft_page)

    # -- all rooms of a drawing ---------------------------------------------------------------------------------------
    def rooms_of_drawing(self) -> None:
        """Every space of the drawings below this level that holds a text becomes a room, shown before it is taken."""
        project, level_id = self.session.project, self.session.show.level_id
        level = find(project.levels, level_id)
        below = [
            (u, self.session.contents[u.content])
            for u in project.underlays
            if u.level_id == level_id and u.visible and u.kind == "lines" and u.content in self.session.contents
        ]
        if level is None or not below:
            self.refused.emit("No drawing lies below this level; put one there first")
            return
        lines = tuple(tuple(row) for u, content in below for row in segments(u, content).tolist())
        texts = tuple(Said(*place) for u, content in below for place in texts_of(u, content))
        taken = frozenset(r.number for r in project.rooms)
        self._finder.submit((lines, texts, level, taken, below[0][0].name))
        self.reading.emit("Looking for rooms in the drawing …")

    def close_finder(self) -> None:
        """Stop looking for rooms in a drawing."""
        self._finder.close()

    def _find_rooms(self, job: tuple, stopped: Callable[[], bool]) -> Draft | str:
        lines, texts, level, taken, source = job
        try:
            found, notes = rooms_in(lines, texts, stopped=stopped)
        except Cancelled:
            raise
        except GarnetfinError as error:
            return str(error)
        return draft_of(source, level, found, notes, taken)

    def _rooms_found(self, answer: Draft | str) -> None:
        self.reading.emit("")
        if isinstance(answer, str):
            self.refused.emit(answer)
        elif not answer.rooms:
            self.refused.emit(
                "No space with a text is enclosed in the drawing: fill rooms one by one, or show more layers"
            )
        else:
            self.compare(answer)

    def _page_read(self, answer: Answer, path: Path, page: int) -> None:
        self._put_picture(answer.picture, f", page {page + 1}")
        pages = answer.picture.pages
        if pages > 1 and page == 0:

            def another(values: dict) -> str:
                wanted = round(values["page"])
                if not 1 <= wanted <= pages:
                    return f"Pages 1 to {pages} are there"
                self.session.undo()
                self.insert(path, wanted - 1)
                return ""

            self.ask.ask(
                f"Page 1 of {pages} lies below",
                (Wanted("page", "another page", "2", "count", width=44),),
                "Put it",
                another,
                "SI",
            )

    def _put_lines(self, drawing: Drawing) -> None:
        x0, y0, x1, y1 = drawing.bounds
        guess = 0.001 if max(x1 - x0, y1 - y0) > 500 else 1.0
        scale = drawing.unit_m or guess
        near = max(abs(v) for v in (x0, y0, x1, y1)) * scale < FAR_M
        self._put(
            Underlay(
                id="",
                name=drawing.name[:60],
                level_id=self.session.show.level_id,
                kind="lines",
                scale=scale,
                content=self.session.keep(msgspec.json.encode(drawing)),
                x_m=0.0 if near else round(-x0 * scale, 6),
                y_m=0.0 if near else round(-y0 * scale, 6),
                hidden_layers=tuple(x.name for x in drawing.layers if not x.on),
            )
        )
        words = [f"{drawing.count} lines on {len(drawing.layers)} layers", *drawing.notes]
        if not drawing.unit_m:
            words.append("taken as " + ("millimetres" if guess < 1 else "metres") + "; scale it by two points")
        self.session.said.emit("; ".join(words))

    def _put_picture(self, picture: Picture, more: str = "") -> None:
        scale = picture.pixel_m or PICTURE_WIDTH_M / picture.width
        self._put(
            Underlay(
                id="",
                name=f"{picture.name[:50]}{more}",
                level_id=self.session.show.level_id,
                kind="picture",
                scale=scale,
                content=self.session.keep(picture.png),
            )
        )
        self.session.said.emit("; ".join([*picture.notes, "click two points you know the distance of, to scale it"]))
        self.use_tool("scale")

    def _put(self, under: Underlay) -> None:
        self.show_plan()
        self.intent.emit(AddUnderlay(under))
        made = self.session.project.underlays
        if made:
            self.session.select("underlay", made[-1].id)
        self.fit_next = True

    def _measured(self, a: tuple, b: tuple) -> None:
        """Two points of the underlay were clicked: ask how far they are apart."""
        project, level = self.session.project, self.session.show.level_id
        chosen = self.session.selection.of("underlay")
        under = (
            find(project.underlays, chosen[0])
            if chosen
            else next((u for u in reversed(project.underlays) if u.level_id == level), None)
        )
        if under is None:
            self.refused.emit("There is no underlay on this level")
            return
        now = ((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5
        self.use_tool("select")
        self._ask(
            "Between the two points",
            (
                Wanted("m", "distance", f"{now:.3f}", "length"),
                Wanted("level", "", "no", choices=(("no", "keep its turn"), ("yes", "lay the line level"))),
            ),
            "Scale",
            lambda v: ScaleUnderlay(under.id, a, b, v["m"], v["level"] == "yes"),
        )

    def _take(self, command: TakeDraft) -> None:
        project = self.session.project
        before = {r.id for r in project.rooms}
        first = not before
        why = self.session.do(command)
        if why:
            return
        new = [r for r in self.session.project.rooms if r.id not in before]
        self.show_plan()
        if new:
            self.session.set_show(level_id=new[0].level_id)
            self.session.select("room", *(r.id for r in new if r.level_id == new[0].level_id))
        self.fit_next = first
        left = homeless(project, self.session.project, command)
        more = f"; {left} windows and doors found no wall to stand in" if left else ""
        parts = sum(n for group, n in groups_of(command.draft).items() if group in command.groups)
        beside = f" and {parts} parts of others" if parts else ""
        self.session.said.emit(f"{len(new)} rooms{beside} taken from {command.draft.source}{more}")


def as_text(rows: Sequence[Sequence[str]]) -> str:
    """Rows as text that can be pasted and edited."""
    return "\n".join("\t".join(_quoted(c) for c in row) for row in rows)


def _quoted(cell: str) -> str:
    return '"' + cell.replace('"', '""') + '"' if any(c in cell for c in '\t"\n') else cell
