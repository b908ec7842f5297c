"""Climate: twelve design days."""

from PySide6.QtWidgets import QStackedWidget

from garnetfin.engine.results import Missing
from garnetfin.ui.charts.climate import MonthDays
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.view_models import charts
from garnetfin.ui.views.base import Nothing, View


class ClimateView(View):
    HINT = "Click a month, then type its figures in the card; everything that depends on them follows."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.month = 6
        self.days = MonthDays()
        self.days.picked.connect(self._choose)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(self.days)
        self._stack.addWidget(self._nothing)
        self.set_main(self._stack)
        self.tools.add_words("Twelve design days, one a month; the governing one is found for every room")

    def render_state(self, state: State) -> None:
        climate = state.results.climate if state.results else None
        if climate is None or isinstance(climate, Missing):
            self._nothing.say(climate)
            self._stack.setCurrentWidget(self._nothing)
            return
        self._stack.setCurrentWidget(self.days)
        self.days.render_vm(charts.months(state, climate, self.month))
        self.tools.note.set_words(f"{state.project.site.name} · {climate.pressure_pa / 1000:.1f} kPa")

    def _choose(self, month: int) -> None:
        self.month = month
        self.session.changed.emit()
