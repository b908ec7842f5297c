"""Tools that draw rooms and reshape them by their handles."""

from collections.abc import Sequence
from contextlib import suppress
from math import hypot
from typing import ClassVar, cast

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from garnetfin import display
from garnetfin.core.errors import InputError
from garnetfin.project.edits.marks import AddMark, Kind
from garnetfin.project.edits.outlines import AddRoom, MoveSide, SetOutline
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import path_of
from garnetfin.ui.plan.points import PointTool, TypedSides, long_words, right_angle
from garnetfin.ui.theme import theme

SNAP_PX, SNAP_M = 12.0, 0.25  # corners and walls attract within both
DRAG_PX = 8.0  # a press that is let go further away was a drag
STEP_M = 0.05
RECTANGLE = (
    "Drag a room, click two opposite corners, or type its size (4.5 x 3, Enter) after the first. Corners and walls of "
    "the level attract unless Alt is held. "
    "Esc drops it."
)
CORNERS = (
    "Click the corners; right angles unless Alt is held; type a length in metres and Enter. A click on the first "
    "corner, "
    "or Enter, closes the room. Esc drops it."
)

Point = tuple[float, float]


def snap(canvas, at: QPointF, without: str = "", own: Sequence[Point] = (), free: bool = False) -> Point:
    """A corner of a room of the level (or of the points drawn so far) nearby, else a wall line in x or y, else the next
    step of 50 mm; `free`: that step alone.
    """
    if free:
        return round(round(at.x() / STEP_M) * STEP_M, 4), round(round(at.y() / STEP_M) * STEP_M, 4)
    near = min(SNAP_PX / canvas.map.m11(), SNAP_M)
    beside = [r for r in canvas.state.project.rooms if r.id != without and r.level_id == canvas.level_id]
    corners = [*own, *(p for r in beside for p in r.outline)]
    best = min(((hypot(x - at.x(), y - at.y()), (x, y)) for x, y in corners), default=(near, None))
    if best[1] is not None and best[0] < near:
        return best[1]
    end = canvas.nearest_line_end(at)
    if end is not None:
        return end

    def line(value: float, candidates: set[float]) -> float:
        close = min(candidates, key=lambda c: abs(c - value), default=None)
        return close if close is not None and abs(close - value) < near else round(value / STEP_M) * STEP_M

    here = corners
    drawn_x, drawn_y = canvas.nearest_line_axes(at)
    x = drawn_x if drawn_x is not None else line(at.x(), {x for x, _ in here})
    y = drawn_y if drawn_y is not None else line(at.y(), {y for _, y in here})
    return round(x, 4), round(y, 4)


class DrawRoom(PointTool):
    """Draw a room by two corners of a rectangle or by all its corners."""

    def __init__(self, canvas, rectangle: bool = True) -> None:
        self.rectangle = rectangle
        self._pressed: QPointF | None = None  # where the first corner was pressed
        self.hint = RECTANGLE if rectangle else CORNERS
        super().__init__(canvas)
        if rectangle:
            self._typed = TypedSides(canvas.hint.emit, lambda: canvas.state.show.units)

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self._pressed = at if self.rectangle and not self._points else None
        self._take(self._pointed(at, modifiers))

    def release(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        """A rectangle that was dragged ends where the button is let go."""
        if self._pressed is not None and self._points:
            moved = max(abs(at.x() - self._pressed.x()), abs(at.y() - self._pressed.y())) * self.canvas.map.m11()
            if moved > DRAG_PX:
                self._take(self._pointed(at, modifiers))
        self._pressed = None

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self._pointed(at, modifiers)

    def _pointed(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Point:
        """The point that is meant, shown from now on."""
        unheld = bool(modifiers & Qt.KeyboardModifier.AltModifier)
        point = snap(self.canvas, at, own=self._points, free=unheld)
        free = self.rectangle or unheld
        closes = len(self._points) >= 3 and point == self._points[0]
        if self._points and not free and not closes:
            x, y = right_angle(self._points[-1], *point)
            point = round(x, 4), round(y, 4)
        self._cursor = point
        self.canvas.update()
        return point

    def command(self, points: tuple) -> AddRoom | None:
        if len(points) < 3:
            return None
        return AddRoom(self.canvas.level_id, points, system_id=self.canvas.state.show.system_id)

    def _take_typed(self) -> None:
        if not self.rectangle:
            super()._take_typed()
        elif (corner := self._typed.point(self._points[0], self._cursor)) is not None:
            self._pressed = None
            self._take(corner)

    def _take(self, point: Point) -> None:
        if self.rectangle and self._points:
            (x0, y0), (x1, y1) = self._points[0], point
            if min(abs(x1 - x0), abs(y1 - y0)) <= STEP_M:
                least = display.with_unit("duct_size", STEP_M, self.canvas.state.show.units)
                self.canvas.hint.emit(f"Both sides have to be longer than {least}")
            else:
                self._points = [
                    (min(x0, x1), min(y0, y1)),
                    (max(x0, x1), min(y0, y1)),
                    (max(x0, x1), max(y0, y1)),
                    (min(x0, x1), max(y0, y1)),
                ]
                self.finish()
        elif len(self._points) >= 3 and point == self._points[0]:
            self.finish()
        elif not self._points or point != self._points[-1]:
            self._points.append(point)

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._cursor is None:
            return
        c = theme.colour
        line = [*self._points, self._cursor]
        if self.rectangle and self._points:
            (x0, y0), (x1, y1) = line[0], line[1]
            line = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
        paint_outline(p, m, line)
        at = m.map(QPointF(*self._cursor))
        p.setBrush(c("sheet"))
        p.setPen(layers.pen(c("garnet"), 1.4))
        p.drawEllipse(at, 3.5, 3.5)
        if self._points:
            last = self._points[0] if self.rectangle else self._points[-1]
            dx, dy = abs(self._cursor[0] - last[0]), abs(self._cursor[1] - last[1])
            units = self.canvas.state.show.units
            words = (
                self._typed.text
                if self.rectangle and self._typed.text
                else f"{display.figure('length', dx, units)} × {display.with_unit('length', dy, units)}, "
                f"{display.with_unit('area', dx * dy, units)}"
                if self.rectangle
                else long_words(hypot(dx, dy), units, self._typed.text)
            )
            layers.text(
                p,
                QPointF(at.x() + 10, at.y() - 14),
                words,
                c("garnet"),
                11,
                500,
                Qt.AlignmentFlag.AlignLeft,
                c("paper"),
            )


class DrawMark(DrawRoom):
    """Draw a block beside, a shaft or a void by two corners of a rectangle."""

    HINTS: ClassVar = {
        "block": "Click two corners of the surrounding building; its height is then typed in its card. Esc ends.",
        "shaft": "Click two corners of the shaft; walls to it take no heat. Esc ends.",
        "void": "Click two corners of the void; its floor is in no room. Esc ends.",
    }

    def __init__(self, canvas, kind: str) -> None:
        super().__init__(canvas, True)
        self.kind, self.hint = kind, self.HINTS[kind]

    def command(self, points: tuple) -> AddMark | None:
        return AddMark(cast(Kind, self.kind), self.canvas.level_id, points) if len(points) >= 3 else None


class Reshape:
    """Pull a corner or a side of the selected room; a press elsewhere is not taken. Rooms across a side follow it, so
    that the wall they share moves as one; with Alt the side moves alone and nothing attracts it.
    """

    def __init__(self, canvas) -> None:
        self.canvas = canvas
        self._room = ""
        self._alone = False
        self._grip: tuple[str, int] | None = None
        self._outlines: dict[str, tuple[Point, ...]] = {}  # that would change, by the room's id
        self._command: MoveSide | SetOutline | None = None

    @property
    def busy(self) -> bool:
        return self._grip is not None

    def grip_at(self, at: QPointF) -> tuple[str, int] | None:
        """("corner" or "side", number) of the one selected room under a pixel."""
        state = self.canvas.state
        ids = state.selection.of("room") if state else ()
        room = find(state.project.rooms, ids[0]) if len(ids) == 1 else None
        if room is None or room.level_id != self.canvas.level_id:
            return None
        m = self.canvas.map
        points = [m.map(QPointF(*p)) for p in room.outline]
        for i, p in enumerate(points):
            if abs(p.x() - at.x()) < 6 and abs(p.y() - at.y()) < 6:
                return "corner", i
        for i, p in enumerate(points):
            q = points[(i + 1) % len(points)]
            if hypot((p.x() + q.x()) / 2 - at.x(), (p.y() + q.y()) / 2 - at.y()) < 7:
                return "side", i
        return None

    def begin(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> bool:
        self._grip = self.grip_at(at)
        if self._grip is not None:
            self._room = self.canvas.state.selection.ids[0]
            self._outlines, self._command = {}, None
            self._alone = bool(modifiers & Qt.KeyboardModifier.AltModifier)
        return self._grip is not None

    def pull(self, metres: QPointF) -> None:
        room = find(self.canvas.state.project.rooms, self._room)
        x, y = snap(self.canvas, metres, self._room, free=self._alone)
        kind, i = self._grip
        corners = list(room.outline)
        shift = (0.0, 0.0)
        if kind == "corner":
            corners[i] = (x, y)
        else:
            j = (i + 1) % len(corners)
            (x0, y0), (x1, y1) = corners[i], corners[j]
            if abs(x1 - x0) >= abs(y1 - y0):  # a side along x moves in y, and the other way round
                shift = (0.0, round(y - (y0 + y1) / 2, 4))
            else:
                shift = (round(x - (x0 + x1) / 2, 4), 0.0)
            corners[i], corners[j] = (x0 + shift[0], y0 + shift[1]), (x1 + shift[0], y1 + shift[1])
        outline = tuple((round(a, 4), round(b, 4)) for a, b in corners)
        self._outlines, self._command = {room.id: outline}, SetOutline(room.id, outline)
        if kind == "side" and not self._alone:
            self._command = MoveSide(room.id, i, *shift)
            with suppress(InputError):  # said when it is let go
                self._outlines = self._command.outlines(self.canvas.state.project)
        if kind == "side":
            self._say(shift[0] or shift[1])
        self.canvas.update()

    def _say(self, by: float) -> None:
        others = len(self._outlines) - 1
        along = f", {others} {'room goes' if others == 1 else 'rooms go'} along (Alt: alone)" if others else ""
        self.canvas.hint.emit(f"Move by {display.measure(by, self.canvas.state.show.units)}{along}")

    def end(self) -> None:
        """Ask for what was pulled; a release where it began asks for nothing."""
        command, outlines, self._grip = self._command, self._outlines, None
        rooms = self.canvas.state.project.rooms
        if command is not None and any(find(rooms, i).outline != outline for i, outline in outlines.items()):
            self.canvas.intent.emit(command)
        self.canvas.update()

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._grip is not None:
            for outline in self._outlines.values():
                paint_outline(p, m, list(outline))


def paint_outline(p: QPainter, m: QTransform, line: list[Point], closed: bool = True) -> None:
    """The dashed line of something under way."""
    c = theme.colour
    dashed = layers.pen(c("garnet"), 1.6)
    dashed.setDashPattern([5, 3])
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(dashed)
    if len(line) > 2 and closed:
        p.drawPath(m.map(path_of(tuple(line))))
    elif len(line) > 1:
        p.drawPolyline([m.map(QPointF(*q)) for q in line])
