"""What the tools that draw by points share: their keys, right angles and typed lengths."""

import re
from abc import ABC, abstractmethod
from collections.abc import Callable
from math import atan2, cos, hypot, pi, sin

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

from garnetfin import display
from garnetfin.core.errors import InputError
from garnetfin.core.units import System, parse

LONGEST_M = 1000.0


def long_words(length_m: float, units: System, typed: str = "") -> str:
    """A length as drawn, or what is being typed for it, with the unit of whoever reads it."""
    if not typed:
        return display.measure(length_m, units)
    return typed if set(typed) & set("'\"") else f"{typed} {display.unit('length', units)}"


class TypedLength:
    """`text` is what stands there so far, in the reader's unit; "" when nothing was typed."""

    signs, what = "", "Length"

    def __init__(self, say: Callable[[str], None], units: Callable[[], System]) -> None:
        self.text = ""
        self._say, self._units = say, units

    def clear(self) -> None:
        self.text = ""

    def take_key(self, event: QKeyEvent) -> bool:
        """True when the key belongs to a length."""
        if event.key() == Qt.Key.Key_Backspace and self.text:
            self.text = self.text[:-1]
        elif (
            event.text()
            and event.text() in ("0123456789.,'\"" if self._units() == "IP" else "0123456789.,") + self.signs
        ):
            self.text += event.text().replace(",", ".")
            self._say(f"{self.what} {long_words(0.0, self._units(), self.text)}: Enter takes it")
        else:
            return False
        return True

    def point(self, last: tuple, towards: tuple | None) -> tuple[float, float] | None:
        """The point at the typed length from `last` towards the mouse; None and a sentence when there is none."""
        typed, self.text = self.text, ""
        length = self._length(typed)
        if length is None:
            return None
        span = hypot(towards[0] - last[0], towards[1] - last[1]) if towards is not None else 0.0
        if span < 1e-6 or not 0 < length < LONGEST_M:
            self._say(f"Point the way first, then type 0 to {self._longest()}")
            return None
        return (
            round(last[0] + (towards[0] - last[0]) / span * length, 6),
            round(last[1] + (towards[1] - last[1]) / span * length, 6),
        )

    def _length(self, typed: str) -> float | None:
        """What was typed [m]; None and a sentence when it is no length."""
        try:
            return parse(typed, "length", self._units())
        except InputError:
            self._say(f"“{typed}” is not a length in {display.unit('length', self._units())}")
            return None

    def _longest(self) -> str:
        return display.with_unit("length", LONGEST_M, self._units(), 0)


class TypedSides(TypedLength):
    """Width and depth of a rectangle: "4.5 x 3"."""

    signs, what = "x×* ", "Width × depth"

    def point(self, last: tuple, towards: tuple | None) -> tuple[float, float] | None:
        """The opposite corner, on the side of the mouse; None and a sentence when there is none."""
        parts = [part.strip() for part in re.split("[x×*]", self.text) if part.strip()]
        self.text = ""
        if len(parts) != 2:
            self._say("Type width × depth, such as 4.5 x 3")
            return None
        sides = [side for part in parts if (side := self._length(part)) is not None]
        if len(sides) < 2:
            return None
        if not all(0 < side < LONGEST_M for side in sides):
            self._say(f"Width and depth are 0 to {self._longest()}")
            return None
        aim = towards if towards is not None else last
        x, y = (p + (side if q >= p else -side) for p, q, side in zip(last, aim, sides))
        return round(x, 6), round(y, 6)


def right_angle(last: tuple, x: float, y: float) -> tuple[float, float]:
    """The point nearest to (x, y) straight beside, above or below `last`."""
    angle = round(atan2(y - last[1], x - last[0]) / (pi / 2)) * pi / 2
    span = abs((x - last[0]) * cos(angle) + (y - last[1]) * sin(angle))
    return last[0] + cos(angle) * span, last[1] + sin(angle) * span


def set_angle(last: tuple, x: float, y: float, step_deg: float) -> tuple[float, float]:
    """The point nearest to (x, y) on a way from `last` at a multiple of an angle [deg], a whole number of centimetres
    away.
    """
    step = step_deg * pi / 180
    angle = round(atan2(y - last[1], x - last[0]) / step) * step
    span = round((x - last[0]) * cos(angle) + (y - last[1]) * sin(angle), 2)
    return round(last[0] + cos(angle) * span, 6), round(last[1] + sin(angle) * span, 6)


class PointTool(ABC):
    """Gathers points; a tool says what a point may be and which command they make."""

    hint = ""
    takes_lengths = True

    def __init__(self, canvas) -> None:
        self.canvas = canvas
        self._points: list[tuple] = []
        self._cursor: tuple | None = None
        self._typed = TypedLength(canvas.hint.emit, lambda: canvas.state.show.units)
        canvas.setCursor(Qt.CursorShape.CrossCursor)
        canvas.hint.emit(self.hint)

    def key(self, event: QKeyEvent) -> bool:
        """True when the key was for the drawing."""
        if event.key() == Qt.Key.Key_Escape and self._points:
            self._let_go()
            self.canvas.hint.emit(self.hint)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take_typed() if self._typed.text else self.finish()
        elif self._points and self.takes_lengths and self._typed.take_key(event):
            pass
        elif event.key() == Qt.Key.Key_Backspace and self._points:
            self._points.pop()
        else:
            return False
        self.canvas.update()
        return True

    def release(self, at, modifiers: Qt.KeyboardModifier) -> None:
        """The button was let go, in metres; most tools have taken their point at its press."""
        del at, modifiers

    def finish(self) -> None:
        """Ask for what the points make, if they are enough; the next click begins anew."""
        command = self.command(tuple(self._points))
        self._let_go()
        if command is not None:
            self.canvas.intent.emit(command)
        self.canvas.hint.emit(self.hint)
        self.canvas.update()

    @abstractmethod
    def command(self, points: tuple):
        """The command the points make; None while they are too few."""

    def _let_go(self) -> None:
        self._points = []
        self._typed.clear()

    def _take_typed(self) -> None:
        last = self._points[-1]
        point = self._typed.point(last, self._cursor)
        if point is not None:
            self._points.append((*point, *last[2:]))
