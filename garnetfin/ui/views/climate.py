"""Climate: the place, twelve design days, the year of hours with its duration curve, the sun's way over the plan."""

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QSplitter, QStackedWidget

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.tables import places
from garnetfin.engine.results import Climate, Missing, there
from garnetfin.engine.studies.year import Year, hours_of
from garnetfin.exchange.results import Answer, WeatherRead
from garnetfin.project.edits.site import SetPlace
from garnetfin.ui.charts.climate import MonthDays
from garnetfin.ui.charts.sun_path import SunPath
from garnetfin.ui.charts.year import DurationCurve, YearField
from garnetfin.ui.countdown import Countdown
from garnetfin.ui.pages.weather_page import WeatherPage, command_of
from garnetfin.ui.reader import Reader
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models import climate as vms
from garnetfin.ui.views.base import Nothing, View
from garnetfin.ui.widgets.bare import Menu
from garnetfin.ui.widgets.controls import TextButton


class ClimateView(View):
    HINT = "Click a month, then type its figures in the card; everything that depends on them follows."

    reading = Signal(str)
    told = Signal(str)  # what an edit of this view brought with it
    file_asked = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.month, self.hour = 6, 14
        self.shows, self.field_kind = "days", "dry"
        self._year: tuple[str, Year | None] = ("", None)
        self.reader = Reader(self)
        self.reader.done.connect(self._read)
        self.reader.failed.connect(lambda why: (self.reading.emit(""), self.refused.emit(why)))
        self.reader.stopped.connect(lambda: self.reading.emit(""))
        gone = Countdown()
        self.reader.progress.connect(
            lambda share, words: self.reading.emit(f"{words.capitalize()} … {gone.say(share)}")
        )
        self._path: Path | None = None
        self.days, self.sun = MonthDays(), SunPath()
        self.days.picked.connect(self._choose)
        self.field, self.curve = YearField(), DurationCurve()
        self.field.picked.connect(self._to_hour)
        self.year = QSplitter()
        self.year.setHandleWidth(1)
        self.year.setChildrenCollapsible(False)
        self.year.addWidget(self.field)
        self.year.addWidget(self.curve)
        self.year.setSizes([600, 384])
        self.page = WeatherPage()
        self.page.left.connect(self._leave_page)
        self.page.again.connect(self._read_again)
        self.page.kept.connect(self._keep)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        for part in (self.days, self.year, self.sun, self.page, self._nothing):
            self._stack.addWidget(part)
        self.set_main(self._stack)
        self.place_button, self.file_button = TextButton("Place …"), TextButton("Weather file …")
        self.place_button.clicked.connect(self._places)
        self.file_button.clicked.connect(lambda: self.file_asked.emit("weather"))
        self.tools.add(self.place_button)
        self.tools.add(self.file_button)
        self.show_strip = self.tools.add_strip(
            "Show", (("days", "Design days"), ("year", "Year"), ("sun", "Sun path")), self.show_part
        )
        self.kind_strip = self.tools.add_strip(
            "", (("dry", "Dry bulb"), ("beam", "Sun"), ("wind", "Wind")), self._field_of
        )

    # -- the hours -----------------------------------------------------------------------------------------------
    def hours(self, state: State) -> Year | None:
        """The hours of the project's weather file, None without one or when they are damaged."""
        weather = state.project.site.weather if state.project.site else None
        if weather is None:
            return None
        if self._year[0] != weather.content:
            data, year = self.session.contents.get(weather.content), None
            if data is not None:
                try:
                    year = hours_of(data)
                except GarnetfinError as error:
                    self.refused.emit(str(error))
            self._year = (weather.content, year)
        return self._year[1]

    def render_state(self, state: State) -> None:
        climate = state.results.climate if state.known else None
        self.show_strip.set_now(self.shows)
        self.kind_strip.setVisible(self.shows == "year")
        if self._stack.currentWidget() is self.page and self.page.found is not None:
            return
        if not isinstance(climate, Climate):
            self._nothing.say(climate)
            self._stack.setCurrentWidget(self._nothing)
            return
        site = there(state.project.site)
        self.tools.note.set_words(f"{site.name} · {climate.pressure_pa / 1000:.1f} kPa")
        if self.shows == "year":
            year = self.hours(state)
            if year is None:
                self._nothing.say(
                    Missing("no year of hours", "Read a weather file: a typical year as EPW or TMY3, or CSV")
                )
                self._stack.setCurrentWidget(self._nothing)
                return
            self.field.render_vm(vms.year_field(state, year, self.field_kind))
            self.curve.render_vm(vms.duration(state, climate, year))
            self._stack.setCurrentWidget(self.year)
        elif self.shows == "sun":
            month, hour = state.show.hour or (self.month, self.hour)
            self.sun.render_vm(vms.sun_path(state, climate, month, hour))
            self._stack.setCurrentWidget(self.sun)
        else:
            self.days.render_vm(charts.months(state, climate, self.month))
            self._stack.setCurrentWidget(self.days)

    def _choose(self, month: int) -> None:
        self.month = month
        self.session.changed.emit()

    def _to_hour(self, hour: int) -> None:
        self.month = int(charts.month_of(hour))
        self.hour = hour % 24
        self.session.changed.emit()

    def show_part(self, what: str) -> None:
        """days, year or sun."""
        self.shows = what
        self._leave_page()

    def _field_of(self, kind: str) -> None:
        self.field_kind = kind
        self.session.changed.emit()

    def _places(self) -> None:
        menu = Menu(self)
        for place in places().values():
            menu.addAction(place.name, lambda p=place.id: self.intent.emit(SetPlace(p)))
        menu.popup(self.place_button.mapToGlobal(self.place_button.rect().bottomLeft()))

    # -- taking a file in ----------------------------------------------------------------------------------------
    def insert(self, path: Path) -> None:
        self._path = path
        self.page.begin()
        self._read_again(self.page.options)

    def _read_again(self, options: dict) -> None:
        site = self.session.project.site
        place = (
            {"latitude": site.latitude_deg, "longitude": site.longitude_deg, "utc": site.utc_offset_h} if site else {}
        )
        if self._path is None or not self.reader.start(self._path, "weather", {**place, **options}, None):
            self.refused.emit("Another file is still being read")
            return
        self.reading.emit(f"Reading {self._path.name} …")

    def _read(self, answer: Answer, purpose: object) -> None:
        self.reading.emit("")
        if answer.weather is not None:
            site = self.session.project.site
            self.page.show_read(answer.weather, site.name if site else "")
            self._stack.setCurrentWidget(self.page)

    def _keep(self, found: WeatherRead, place: bool) -> None:
        try:
            content = self.session.keep(found.csv)
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return
        self.intent.emit(command_of(found, content, place))
        site = self.session.project.site
        if place and site is not None:
            self.told.emit(
                f"The place is now {site.name}, {site.latitude_deg:.2f}°, {site.longitude_deg:.2f}°, "
                f"{site.altitude_m:.0f} m, UTC{site.utc_offset_h:+g}, as the weather file says. "
                "Undo brings the old one back."
            )
        self.shows = "year"
        self._leave_page()

    def _leave_page(self) -> None:
        self.page.found = None
        self._stack.setCurrentWidget(self.days)
        self.session.changed.emit()
