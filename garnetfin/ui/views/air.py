"""Air: every room's needs on one scale, and the table of flows."""

from PySide6.QtWidgets import QFrame, QScrollArea, QStackedWidget

from garnetfin import display
from garnetfin.engine.results import Missing
from garnetfin.ui.charts.air import NeedsStrip
from garnetfin.ui.frame.drawer import Drawer, MainAndDrawer
from garnetfin.ui.frame.table import Table
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models.tables import flow_table
from garnetfin.ui.views.base import Nothing, View


class AirView(View):
    HINT = "Click a room; type its supply air in the card or the table to pin it, empty the field to let the rule decide."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.strip = NeedsStrip()
        self.strip.picked.connect(lambda room_id: self.pick("room", (room_id,)))
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QFrame.Shape.NoFrame)
        self._scroll.setWidget(self.strip)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(self._scroll)
        self._stack.addWidget(self._nothing)
        self.table = Table()
        self.table.picked.connect(self.pick)
        self.table.intent.connect(self.intent)
        self.table.refused.connect(self.refused)
        self.drawer = Drawer((("Room flows", self.table),))
        self.set_main(MainAndDrawer(self._stack, self.drawer, 190))
        self.tools.add_words("Constant flow: each room at its own greatest need, rounded up")

    def render_state(self, state: State) -> None:
        air = state.results.air.get(state.show.system_id) if state.results else None
        if air is None or isinstance(air, Missing):
            self._nothing.say(air or (Missing("no system", "Add an air system") if state.results else None))
            self._stack.setCurrentWidget(self._nothing)
            return
        self._stack.setCurrentWidget(self._scroll)
        self.strip.render_vm(charts.needs(state, air))
        self.table.render_vm(flow_table(state), state.selection.of("room"), state.show.units)
        units = state.show.units
        self.tools.note.set_words(f"supply at {display.with_unit('temperature', air.figures.supply_c.figure, units)}")
        self.drawer.set_note(f"sum {display.with_unit('system_flow', air.flow_m3s, units)}, at "
                             f"{display.with_unit('density', air.density_kg_m3, units, 2)}")
