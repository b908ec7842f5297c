"""A page at the right side of the window: what cards, lists, derivations and settings stand on."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QPalette
from PySide6.QtWidgets import QFrame, QScrollArea, QWidget

from garnetfin.ui.widgets.bare import thin

WIDTH = 296


class SidePage(QScrollArea):
    """A page as wide as the side, on the colour of sheets, that scrolls upright only."""

    def __init__(self, name: str, inside: QWidget, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(WIDTH)
        thin(self)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName(name)
        for part in (self.viewport(), inside):
            part.setBackgroundRole(QPalette.ColorRole.Base)
            part.setAutoFillBackground(True)
        self.setWidget(inside)
