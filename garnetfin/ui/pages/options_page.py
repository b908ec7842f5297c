"""Options side by side, and a study over ranges: in the place of the views while it is looked at."""

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import System, parse
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import Token, run
from garnetfin.engine.studies.change_list import ChangeList, change_list
from garnetfin.engine.studies.study import (
    Axis,
    Case,
    StudyStopped,
    combinations,
    parameters,
    read_off,
    readings,
    run_study,
    steps,
)
from garnetfin.engine.studies.study_places import TRUST, workers
from garnetfin.project.disk import write_whole
from garnetfin.ui.bridge import Newest
from garnetfin.ui.charts.differences import DifferencesChart
from garnetfin.ui.charts.study import StudyChart
from garnetfin.ui.countdown import Countdown
from garnetfin.ui.language import tr
from garnetfin.ui.session import Session
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.options import (
    MOST_OPTIONS,
    changed,
    changed_table,
    differences,
    options_table,
    plot,
    study_table,
)
from garnetfin.ui.widgets.bare import Choice
from garnetfin.ui.widgets.controls import LinkText, Strip, TextButton, ToolRow, Words
from garnetfin.ui.widgets.table import Table

PARTS = (("options", "Options side by side"), ("study", "Study"))
NOW = "Now"


class AxisRow(QWidget):
    """What is varied, from, to, in how many steps."""

    def __init__(self, number: int) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.what = QComboBox()
        self.what.setMinimumWidth(330)
        self.what.setMaxVisibleItems(24)
        self.low, self.high, self.count = QLineEdit(), QLineEdit(), QLineEdit("5")
        self.now = Words("", px=11.5)
        for field, width, name in ((self.low, 70, "from"), (self.high, 70, "to"), (self.count, 36, "steps")):
            field.setFixedWidth(width)
            field.setAccessibleName(f"{name}, thing {number}")
        self.what.setAccessibleName(f"Thing {number} that is varied")
        for part in (
            Words("Vary" if number == 1 else "and", px=12, tone="ink"),
            self.what,
            Words("from", px=12),
            self.low,
            Words("to", px=12),
            self.high,
            Words("in", px=12),
            self.count,
            Words("steps", px=12),
            self.now,
        ):
            row.addWidget(part)
        row.addStretch(1)
        self._units: System = "SI"
        self.known: dict = {}
        self.what.activated.connect(lambda i: self.show_range())

    def offer(self, known: tuple, units: System, none: bool) -> None:
        """All that may be varied; what was chosen stays."""
        key = self.what.currentData()
        self.known, self._units = {p.key: p for p in known}, units
        self.what.clear()
        if none:
            self.what.addItem("nothing more", "")
        for p in known:
            self.what.addItem(p.name, p.key)
        at = self.what.findData(key) if key is not None else 0
        self.what.setCurrentIndex(max(0, at))
        if key is None or at < 0:
            self.show_range()

    def show_range(self) -> None:
        p = self.known.get(self.what.currentData())
        for field in (self.low, self.high, self.count):
            field.setEnabled(p is not None)
        if p is None:
            self.low.clear()
            self.high.clear()
            self.now.set_words("")
            return
        from garnetfin import display

        digits = len(display.figure(p.quantity, 0.0, self._units).partition(".")[2]) + 1
        for field, value in ((self.low, p.low), (self.high, p.high)):
            field.setText(display.figure(p.quantity, value, self._units, digits))
        now = p.now(self.project) if hasattr(self, "project") else float("nan")
        unit = display.unit(p.quantity, self._units)
        self.now.set_words(
            ", ".join(
                x
                for x in (unit, f"now {display.figure(p.quantity, now, self._units, digits)}" if now == now else "")
                if x
            )
        )

    def axis(self) -> Axis | None:
        """Raises GarnetfinError for what cannot be read."""
        p = self.known.get(self.what.currentData())
        if p is None:
            return None
        count = self.count.text().strip()
        if not count.isdigit():
            raise GarnetfinError(f"“{count}” is no number of steps", remedy="Type a whole number")
        return Axis(
            p.key,
            steps(
                parse(self.low.text(), p.quantity, self._units),
                parse(self.high.text(), p.quantity, self._units),
                int(count),
            ),
        )


class OptionsPage(QWidget):
    closed = Signal()
    refused = Signal(str)
    said = Signal(str)
    _told = Signal(int, int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self.tools = ToolRow()
        self.strip: Strip = self.tools.add_strip("", PARTS, self.show_part)
        self.keep = TextButton("Keep what stands as an option …")
        self.tools.add(self.keep, 12)
        self.close_link = LinkText("Back to work")
        self.close_link.clicked.connect(self.closed)
        self.tools.add(self.close_link, 16)
        self._column.addWidget(self.tools)
        self._stack = QStackedWidget()
        self._column.addWidget(self._stack, 1)
        self.options = Table()
        self._stack.addWidget(self._options_part())
        self._stack.addWidget(self._study_part())
        self.found: dict[str, dict] = {}
        self.lists: dict[str, ChangeList] = {}  # what each option changes
        self.cases: tuple[Case, ...] = ()
        self.axes: tuple[Axis, ...] = ()
        self._asked = None
        self._memo = Memo()
        self._options_worker = Newest(self._compute_options, "options", self)
        self._options_worker.ready.connect(self._on_options)
        self._options_worker.failed.connect(self.refused)
        self._study_worker = Newest(self._compute_study, "study", self)
        self._study_worker.ready.connect(self._on_study)
        self._study_worker.failed.connect(lambda what: self._end(f"Stopped. {what}"))
        self._told.connect(self._say_study)
        self._stopped = self.busy = False
        self._gone = Countdown()

    def _say_study(self, done: int, of: int) -> None:
        if self.busy:
            self.state_words.set_words(f"{done} of {of} combinations, {self._gone.say(done / of)}")

    def _options_part(self) -> QWidget:
        """Figures of all options; below them by how much they differ, and what one of them changes."""
        part = QWidget()
        column = QVBoxLayout(part)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.options, 5)
        below = QHBoxLayout()
        below.setSpacing(0)
        self.differences, self.changed = DifferencesChart(), Table()
        side = QWidget()
        rows = QVBoxLayout(side)
        rows.setContentsMargins(14, 8, 0, 0)
        rows.setSpacing(4)
        head = QHBoxLayout()
        self.changed_of = Choice()
        self.changed_of.setAccessibleName(tr("Option whose changes are listed"))
        self.changed_of.activated.connect(lambda _: self._render_changed())
        self.changed_words = Words("", px=11.5)
        for widget, stretch in (
            (Words("What changes with", px=12, tone="ink", weight=600), 0),
            (self.changed_of, 0),
            (self.changed_words, 1),
        ):
            head.addWidget(widget, stretch)
        rows.addLayout(head)
        rows.addWidget(self.changed, 1)
        below.addWidget(self.differences, 1)
        below.addWidget(side, 1)
        column.addLayout(below, 6)
        return part

    def _study_part(self) -> QWidget:
        part = QWidget()
        column = QVBoxLayout(part)
        column.setContentsMargins(14, 10, 14, 8)
        column.setSpacing(6)
        self.rows = (AxisRow(1), AxisRow(2))
        for row in self.rows:
            column.addWidget(row)
        line = QHBoxLayout()
        line.setSpacing(8)
        self.address = QLineEdit()
        self.address.setPlaceholderText(tr("this machine"))
        self.address.setFixedWidth(200)
        self.address.setAccessibleName("Address of a Dask scheduler, empty for this machine")
        self.address.setToolTip(
            f"Address of a Dask scheduler, such as tcp://host:8786; empty computes in processes of this machine. "
            f"{TRUST}"
        )
        self.trust = Words("", px=11.5, tone="watch")
        self.address.textChanged.connect(lambda text: self.trust.set_words(TRUST if text.strip() else "", "watch"))
        self.run_button = TextButton("Compute", filled=True)
        self.run_button.clicked.connect(self.start_or_stop)
        self.state_words = Words("", px=12)
        self.csv_button, self.parquet_button = TextButton("Export CSV …"), TextButton("Export Parquet …")
        self.csv_button.clicked.connect(lambda: self.write("csv"))
        self.parquet_button.clicked.connect(lambda: self.write("parquet"))
        for widget in (
            Words("on", px=12),
            self.address,
            self.trust,
            self.run_button,
            self.csv_button,
            self.parquet_button,
        ):
            line.addWidget(widget)
        line.addWidget(self.state_words, 1)
        column.addLayout(line)
        shown = QHBoxLayout()
        self.reading = QComboBox()
        self.reading.setMinimumWidth(260)
        self.reading.setAccessibleName("Figure that is plotted")
        self.reading.activated.connect(lambda i: self._render_study())
        shown.addWidget(Words("Plot", px=12))
        shown.addWidget(self.reading)
        shown.addStretch(1)
        column.addLayout(shown)
        self.chart = StudyChart()
        self.table = Table()
        column.addWidget(self.chart, 3)
        column.addWidget(self.table, 2)
        return part

    # -- rendering -----------------------------------------------------------------------------------------------
    def show_part(self, part: str) -> None:
        self.strip.set_now(part)
        self._stack.setCurrentIndex([k for k, _ in PARTS].index(part))

    def render(self) -> None:
        """Follow the project in hand, its marks and the units."""
        session = self.session
        if session.results is None:
            return
        project, units = session.results.project, session.show.units
        names = tuple(session.marks)[-MOST_OPTIONS:]
        asked = (project, tuple((n, session.marks[n].project) for n in names), units)
        if self._asked is None or self._asked[0] is not project or self._asked[2] != units:
            for i, row in enumerate(self.rows):
                row.project = project
                row.offer(parameters(project), units, none=i > 0)
            kept = self.reading.currentData()
            self.reading.clear()
            for r in readings(project):
                self.reading.addItem(r.name, r.key)
            self.reading.setCurrentIndex(max(0, self.reading.findData(kept)))
        if asked != self._asked:
            self._asked = asked
            self.found = {NOW: read_off(session.results), **{n: f for n, f in self.found.items() if n in names}}
            self._render_options()
            self._options_worker.submit((asked[1], session.results, units))
        self.tools.note.set_words(
            f"{len(names)} {'option' if len(names) == 1 else 'options'} beside what stands"
            if names
            else "Keep what stands as an option, change it, and look at both here"
        )

    def _compute_options(self, job: tuple, stopped) -> dict[str, tuple[dict, ChangeList]]:
        marks, now, units = job
        found = {}
        for name, project in marks:
            results = run(project, self._memo, Token(stopped))
            found[name] = read_off(results), change_list(now, results, units)
        return found

    def _on_options(self, found: dict[str, tuple[dict, ChangeList]]) -> None:
        self.found = {NOW: self.found[NOW], **{name: figures for name, (figures, _) in found.items()}}
        self.lists = {name: listed for name, (_, listed) in found.items()}
        self._render_options()

    def _render_options(self) -> None:
        if self._asked is None:
            return
        known, units = readings(self._asked[0]), self._asked[2]
        self.options.render_vm(options_table(known, self.found, units), (), units)
        self.differences.render_vm(differences(known, self.found))
        chosen = self.changed_of.currentText()
        self.changed_of.clear()
        self.changed_of.addItems(list(self.lists))
        self.changed_of.setCurrentIndex(max(0, self.changed_of.findText(chosen)))
        self.changed_of.setVisible(bool(self.lists))
        self._render_changed()

    def _render_changed(self) -> None:
        """What the chosen option has other than what stands."""
        units, name = self.session.show.units, self.changed_of.currentText()
        listed = self.lists.get(name)
        vm = changed(name, listed, units) if listed is not None else None
        self.changed.render_vm(changed_table(vm), (), units)
        self.changed_words.set_words(
            "" if vm is None else "nothing" if not vm.lines else f"{len(vm.lines) + vm.left_out} rooms and ducts"
        )

    # -- the study -----------------------------------------------------------------------------------------------
    def start_or_stop(self) -> None:
        if self.busy:
            self._stopped = True
            self.state_words.set_words("Stopping", "faint")
            return
        if self.session.results is None:
            return
        try:
            axes = tuple(a for row in self.rows if (a := row.axis()) is not None)
            count = len(combinations(axes))
        except GarnetfinError as error:
            self.state_words.set_words(str(error), "bad")
            return
        self.busy, self._stopped = True, False
        self.run_button.setText("Stop")
        self.state_words.set_words(f"0 of {count} combinations", "faint")
        self._study_worker.submit((self.session.project, axes, self.address.text().strip()))

    def _compute_study(self, job: tuple, newer) -> tuple:
        project, axes, address = job
        try:
            with workers(address) as executor:
                return (
                    project,
                    axes,
                    run_study(project, axes, executor, self._told.emit, lambda: self._stopped or newer()),
                    "",
                )
        except StudyStopped as stopped:
            return project, axes, stopped.cases, ""
        except GarnetfinError as error:
            return project, axes, (), str(error)

    def _on_study(self, answer: tuple) -> None:
        project, axes, cases, why = answer
        if why:
            self._end(why, "bad")
            return
        if not cases:
            self._end("Stopped before the first combination")
            return
        self.study_project, self.axes, self.cases = project, axes, cases
        failed = sum(bool(c.why) for c in cases)
        self._end(
            (
                f"Stopped: {len(cases)} of {len(combinations(axes))} combinations"
                if self._stopped
                else f"{len(cases)} combinations"
            )
            + (f", {failed} could not be computed" if failed else "")
        )
        self._render_study()

    def _end(self, words: str, tone: str = "faint") -> None:
        self.busy = False
        self.run_button.setText("Compute")
        self.state_words.set_words(words, tone)

    def _render_study(self) -> None:
        if not self.cases:
            return
        known = {p.key: p for p in parameters(self.study_project)}
        varied = tuple(known[a.key] for a in self.axes)
        units = self.session.show.units
        reading = next((r for r in readings(self.study_project) if r.key == self.reading.currentData()), None)
        self.table.render_vm(study_table(varied, readings(self.study_project), self.cases, units), (), units)
        if reading is not None:
            shown = plot(varied, self.axes, reading, self.cases, units)
            if shown is not None:
                self.chart.render_vm(shown)
            self.chart.update()

    def write(self, kind: str, path: str = "") -> None:
        """The table of the study as a file."""
        if not self.cases:
            self.refused.emit("Compute a study first")
            return
        path = (
            path
            or QFileDialog.getSaveFileName(
                self,
                "Export the study",
                str((self.session.path or Path.home() / "x").parent / f"study.{kind}"),
                f"(*.{kind})",
            )[0]
        )
        if not path:
            return
        from garnetfin.report.study_files import study_csv, study_parquet

        try:
            write_whole(
                Path(path), (study_csv if kind == "csv" else study_parquet)(self.study_project, self.axes, self.cases)
            )
        except GarnetfinError as error:
            self.refused.emit(str(error))
        else:
            self.said.emit(f"Written: {path}")

    @property
    def settled(self) -> bool:
        return self._options_worker.idle and self._study_worker.idle

    def close_work(self) -> None:
        self._stopped = True
        self._options_worker.close()
        self._study_worker.close()

    def paintEvent(self, event) -> None:
        from PySide6.QtGui import QPainter

        QPainter(self).fillRect(self.rect(), theme.colour("paper"))

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        else:
            super().keyPressEvent(event)
