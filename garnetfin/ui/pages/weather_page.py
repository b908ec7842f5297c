"""A weather file on its way into the project: its place, its faults with what would mend them, what it says of the
months.
"""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QGridLayout, QSplitter, QWidget

from garnetfin import display
from garnetfin.exchange.results import WeatherRead
from garnetfin.exchange.weather_table import mapping
from garnetfin.project.edits.site import SetWeather
from garnetfin.project.site import WeatherYear
from garnetfin.ui.pages.import_pages import _Page as Page
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM
from garnetfin.ui.widgets.controls import LinkText, Words
from garnetfin.ui.widgets.table import Table

COLUMNS = (
    ("dry_c", "Dry bulb"),
    ("dew_c", "Dew point"),
    ("rh", "Relative humidity"),
    ("pressure_pa", "Pressure"),
    ("beam_w_m2", "Beam, normal"),
    ("diffuse_w_m2", "Diffuse horizontal"),
    ("global_w_m2", "Global, level"),
    ("wind_m_s", "Wind"),
)


class WeatherPage(Page):
    """A click on a fault, or Space, mends it; the file is read again with that.

    Nothing is mended without the engineer's word.
    """

    again = Signal(dict)  # read the file again with these options
    kept = Signal(object, bool)  # (WeatherRead, take the place too)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Weather file", parent)
        self.found: WeatherRead | None = None
        self.wanted: list[tuple[str, str]] = []
        self.columns: dict[str, str] = {}
        self.faults, self.months = Table(), Table()
        self.faults.clicked.connect(lambda index: self.toggle(index.row()))
        QShortcut(
            QKeySequence(Qt.Key.Key_Space), self.faults, lambda: self.toggle(self.faults.currentIndex().row())
        ).setContext(Qt.ShortcutContext.WidgetShortcut)
        self.notes = Words("", px=12)
        self._map = QWidget()
        self._grid = QGridLayout(self._map)
        self._grid.setContentsMargins(0, 0, 0, 4)
        self.boxes: dict[str, QComboBox] = {}
        for i, (what, label) in enumerate(COLUMNS):
            box = QComboBox()
            box.setAccessibleName(f"Column of {label.lower()}")
            box.activated.connect(lambda _=0, w=what: self._mapped(w))
            self.boxes[what] = box
            self._grid.addWidget(Words(label, px=11.5), 0, i)
            self._grid.addWidget(box, 1, i)
        halves = QSplitter(Qt.Orientation.Vertical)
        for part in (self.faults, self.months):
            halves.addWidget(part)
        halves.setSizes([230, 300])
        self._column.addWidget(self._map)
        self._column.addWidget(self.notes)
        self._column.addWidget(halves, 1)
        self.keep_place = LinkText("Keep the place")
        self.keep_place.clicked.connect(lambda: self._keep(False))
        self._foot(self.keep_place)

    def show_read(self, found: WeatherRead, own_place: str = "") -> None:
        """What a file says; `own_place` is the project's, which may be kept though the file names another."""
        self.found = found
        where = (
            f"{found.place or 'no name'}, {abs(found.latitude_deg):.2f}° {'N' if found.latitude_deg >= 0 else 'S'}, "
            f"{abs(found.longitude_deg):.2f}° {'E' if found.longitude_deg >= 0 else 'W'}, UTC{found.utc_offset_h:+g}"
        )
        self.title.set_words(found.name)
        self.line.set_words(where if found.located else "The file names no place; the project's is used")
        said = [*found.notes, *(f"Fixed: {m}" for m in found.mended)]
        self.notes.set_words(found.why_not or "  ·  ".join(said) or "Nothing else to say of it")
        self.take_button.setText("Apply weather and place" if found.located else "Apply weather")
        self.take_button.setEnabled(bool(found.months))
        self.keep_place.setText(
            f"Apply weather, keep {own_place[:24]}" if own_place else "Apply weather, keep the place"
        )
        self.keep_place.setVisible(found.located and bool(found.months))
        self._map.setVisible(bool(found.headings))
        chosen = {**mapping(list(found.headings)), **self.columns}
        for what, box in self.boxes.items():
            box.clear()
            box.addItem("none", "")
            for heading in found.headings:
                box.addItem(heading, heading)
            box.setCurrentIndex(max(0, box.findData(chosen.get(what, ""))))
        rows = [
            Row(
                "fault",
                str(i),
                (
                    Cell("", tone="watch"),
                    Cell(sentence),
                    Cell(", ".join(map(str, rows)) or display.DASH, tone="faint"),
                    Cell(mend or "cannot be fixed", tone="garnet" if mend else "faint"),
                ),
            )
            for i, (_, _, sentence, mend, rows) in enumerate(found.faults)
        ]
        if not rows:
            rows = [
                Row("fault", "none", (Cell(""), Cell("No faults left", italic=True, tone="faint"), Cell(""), Cell("")))
            ]
        self.faults.render_vm(
            TableVM(
                (
                    Column("", width=20),
                    Column("What is wrong", width=380, left=True, stretch=True),
                    Column("First rows", width=150, left=True),
                    Column("A click would", width=230, left=True),
                ),
                tuple(rows),
            ),
            (),
            "SI",
        )
        months = tuple(
            Row(
                "month",
                display.MONTHS[k],
                (
                    Cell(display.MONTHS[k]),
                    *(Cell(f"{v:.1f}") for v in (*m.dry_bulb_c, m.wet_bulb_c[0], m.range_k, m.mean_c)),
                    Cell(f"{m.tau_b:.3f}"),
                    Cell(f"{m.tau_d:.3f}"),
                ),
            )
            for k, m in enumerate(found.months)
        )
        self.months.render_vm(
            TableVM(
                (
                    Column("Month", width=70, left=True, stretch=True),
                    Column("0.4 % of it", "°C", 84),
                    Column("1 % of it", "°C", 80),
                    Column("2 % of it", "°C", 80),
                    Column("Wet bulb", "°C", 84),
                    Column("Range", "K", 72),
                    Column("Mean", "°C", 72),
                    Column("Beam tau", "", 80),
                    Column("Sky tau", "", 80),
                ),
                months,
            ),
            (),
            "SI",
        )

    def toggle(self, row: int) -> None:
        """Mend the fault of a row, and read again."""
        if self.found is None or not 0 <= row < len(self.found.faults) or not self.found.faults[row][3]:
            return
        kind, field = self.found.faults[row][:2]
        self.wanted.append((kind, field))
        self.again.emit(self.options)

    @property
    def options(self) -> dict:
        return {"mend": self.wanted, "columns": self.columns}

    def begin(self) -> None:
        self.wanted, self.columns = [], {}

    def _mapped(self, what: str) -> None:
        heading = self.boxes[what].currentData()
        self.columns = {**self.columns, what: heading}
        self.again.emit(self.options)

    def take(self) -> None:
        """With its place, height and clock where the file names them: a year belongs to where it was measured."""
        self._keep(self.found is not None and self.found.located)

    def _keep(self, place: bool) -> None:
        if self.found is not None and self.found.months:
            self.kept.emit(self.found, place)


def command_of(found: WeatherRead, content: str, place: bool) -> SetWeather:
    """The edit that takes a weather file over, its hours kept under `content`."""
    year = WeatherYear(
        content=content,
        name=found.name,
        months=found.months,
        winter_c=found.winter_c,
        greatest_c=found.greatest_c,
        least_c=found.least_c,
        mended=found.mended,
    )
    position = (
        (found.place, found.latitude_deg, found.longitude_deg, found.altitude_m, found.utc_offset_h) if place else None
    )
    return SetWeather(year, position)
