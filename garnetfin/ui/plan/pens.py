"""The pens of plan and charts: cosmetic, mitred, flat."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPen


def pen(colour: QColor, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    made = QPen(colour, width, style)
    made.setCosmetic(True)
    made.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    return made
