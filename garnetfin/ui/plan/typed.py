"""A length typed while drawing: digits gather, Enter takes them along the way the mouse points."""

from math import hypot

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

LONGEST_M = 1000.0


class TypedLength:
    """`text` is what stands there so far; "" when nothing was typed."""

    def __init__(self, say) -> None:
        self.text = ""
        self._say = say

    def clear(self) -> None:
        self.text = ""

    def take_key(self, event: QKeyEvent) -> bool:
        """True when the key belongs to a length."""
        if event.key() == Qt.Key.Key_Backspace and self.text:
            self.text = self.text[:-1]
        elif event.text() and event.text() in "0123456789.,":
            self.text += event.text().replace(",", ".")
            self._say(f"Length {self.text} m: Enter takes it")
        else:
            return False
        return True

    def point(self, last: tuple, towards: tuple | None) -> tuple[float, float] | None:
        """The point at the typed length from `last` towards the mouse; None and a sentence when there is none."""
        typed, self.text = self.text, ""
        try:
            length = float(typed)
        except ValueError:
            self._say(f"“{typed}” is not a length in metres")
            return None
        span = hypot(towards[0] - last[0], towards[1] - last[1]) if towards is not None else 0.0
        if span < 1e-6 or not 0 < length < LONGEST_M:
            self._say(f"Point the way first, then type 0 to {LONGEST_M:.0f} m")
            return None
        return (round(last[0] + (towards[0] - last[0]) / span * length, 6),
                round(last[1] + (towards[1] - last[1]) / span * length, 6))
