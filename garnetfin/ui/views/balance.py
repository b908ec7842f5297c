"""Balance: the pressure stair and every terminal by its surplus."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from garnetfin import display
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.ui.charts.base import title, words
from garnetfin.ui.charts.stair import PressureStair
from garnetfin.ui.frame.table import Table
from garnetfin.ui.session import Session
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import charts
from garnetfin.ui.view_models.tables import run_table
from garnetfin.ui.views.base import Nothing, View


class _Head(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(36)
        self.note = ""

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour("paper"))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, 0, 0, self.height())
        title(p, 14, 20, "Terminals")
        words(p, QPointF(self.width() - 14, 20), self.note, "faint", 11.5, side="right")


class BalanceView(View):
    HINT = "Click a dot on the stair or a row: what stands above 0 at its end is what its damper takes."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.stair = PressureStair()
        self.stair.picked.connect(lambda t: self.pick("terminal", (t,)))
        self._head = _Head()
        self.table = Table(row_height=17.3)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.table.picked.connect(self.pick)
        side = QWidget()
        side.setFixedWidth(404)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._head)
        column.addWidget(self.table, 1)
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.stair, 1)
        row.addWidget(side)
        self._nothing = Nothing()
        self._stack = QStackedWidget()
        self._stack.addWidget(both)
        self._stack.addWidget(self._nothing)
        self.set_main(self._stack)
        self.tools.add_words("Every path at its design flow; dampers take what the others have to spare")

    def render_state(self, state: State) -> None:
        ducts = state.results.network(state.show.system_id) if state.results is not None else Missing("computing")
        if not isinstance(ducts, DuctResult):
            self._nothing.say(ducts)
            self._stack.setCurrentWidget(self._nothing)
            return
        self._stack.setCurrentIndex(0)
        fan = state.results.fans.get(state.show.system_id, Missing("no fan"))
        self.stair.render_vm(charts.stair(state, ducts, fan))
        self.table.render_vm(run_table(state, ducts), state.selection.of("terminal"), state.show.units)
        self._head.note = f"{len(ducts.terminals)}, by surplus"
        self._head.update()
        self.tools.note.set_words(f"{display.with_unit('system_flow', ducts.flow_m3s, state.show.units)} held by the fan")
