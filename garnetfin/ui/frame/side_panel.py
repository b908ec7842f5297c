"""The right side of the window: the card, and in its place the derivation of a figure while one is asked for."""

from PySide6.QtCore import QPoint, QPointF, Qt, Signal
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QApplication, QStackedWidget, QWidget

from garnetfin.ui.session import Session
from garnetfin.ui.state import Selection
from garnetfin.ui.widgets.side_page import WIDTH, SidePage


def why_under(widget: QWidget | None, at: QPoint) -> tuple:
    """The address of the figure a widget, or one it lies in, shows at a point of the screen."""
    while widget is not None:
        if hasattr(widget, "why_at"):
            address = widget.why_at(QPointF(widget.mapFromGlobal(at)))
            if address:
                return address
        widget = widget.parentWidget()
    return ()


class SidePanel(QStackedWidget):
    """`shown` carries what a derivation rests on, to be brought to the front; `said` a word for the status line."""

    shown = Signal(str, tuple)
    said = Signal(str)

    def __init__(self, card: SidePage, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(WIDTH)
        self.card, self._session = card, session
        self._why: QWidget | None = None
        self._selection = session.selection
        self.choosing = False  # a page is about to choose what it tells of
        self.addWidget(card)

    @property
    def why(self):
        """The panel of derivations, made when it is first asked for."""
        if self._why is None:
            from garnetfin.ui.widgets.why import WhyPanel

            self._why = WhyPanel()
            self._why.asked.connect(lambda address: self.render_why())
            self._why.closed.connect(self.close_why)
            self._why.picked.connect(self.shown)
            self.addWidget(self._why)
        return self._why

    @property
    def open(self) -> bool:
        """Whether something else than the card is shown."""
        return self.currentWidget() is not self.card

    def give_way(self, selection: Selection) -> None:
        """What is chosen elsewhere is shown on its card; a page that chose it itself stays."""
        if selection != self._selection:
            if not self.choosing:
                self.close_why()
            self._selection = selection
        self.choosing = False

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape and self.open:
            self.close_why()
        else:
            super().keyPressEvent(event)

    def show_page(self, page: QWidget) -> None:
        """Another page in the place of the card, until it is closed or something is chosen elsewhere."""
        if self.indexOf(page) < 0:
            self.addWidget(page)
        self.setCurrentWidget(page)

    @property
    def asking(self) -> bool:
        return self._why is not None and self.currentWidget() is self._why

    def ask(self, address: tuple) -> None:
        """Show the derivation of a figure."""
        self.why.start(address)
        self.render_why()

    def render_why(self) -> None:
        """The derivation anew from the results in hand; a figure that is gone closes it."""
        from garnetfin.engine.explain.explain import explain
        from garnetfin.ui.view_models.why import why_vm

        results = self._session.results
        found = explain(results, self.why.address) if results is not None and self.why.address else None
        if found is None:
            self.close_why()
            return
        self.why.render_vm(why_vm(found, self._session.show.units))
        self.setCurrentWidget(self.why)

    def close_why(self) -> None:
        self.setCurrentWidget(self.card)

    def ask_here(self) -> None:
        """Of the figure under the pointer, else the one with the keyboard, else the card's first; asked again it
        closes.
        """
        if self.asking:
            self.close_why()
            return
        at, focused, window = QCursor.pos(), QApplication.focusWidget(), self.window()
        address = why_under(window.childAt(window.mapFromGlobal(at)), at) if window.isActiveWindow() else ()
        if not address and focused is not None:
            address = why_under(focused, focused.mapToGlobal(focused.rect().center()))
        heads = self.card.vm.headlines if self.card.vm else ()
        address = address or next((h.why for h in heads if h.why), ())
        if address:
            self.ask(address)
        else:
            self.said.emit("Point at a figure and press W; this one has no derivation")
