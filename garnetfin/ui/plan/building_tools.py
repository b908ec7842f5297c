"""Tools of the building beside drawing rooms: split, openings on walls, fill, paint groups, measure an underlay."""

from math import hypot

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QTransform

from garnetfin.project.edits.groups import SetZone
from garnetfin.project.edits.openings import AddOpening
from garnetfin.project.edits.outlines import FillRoom
from garnetfin.project.edits.rooms import SetServed
from garnetfin.project.edits.shape import SplitRoom
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import distance_to
from garnetfin.ui.plan.points import PointTool, long_words, right_angle
from garnetfin.ui.plan.room_tools import paint_outline, snap
from garnetfin.ui.plan.underlay import lines_near
from garnetfin.ui.theme import theme

WALL_PX = 12.0
REACH_M = 60.0  # of lines that may enclose a space around a click


class ClickTool:
    """A tool of single clicks: no points are gathered."""

    hint = ""

    def __init__(self, canvas) -> None:
        self.canvas = canvas
        canvas.setCursor(Qt.CursorShape.CrossCursor)
        canvas.hint.emit(self.hint)

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        """Nothing follows the mouse."""

    def key(self, event: QKeyEvent) -> bool:
        return False

    def finish(self) -> None:
        """A double click means the same as two clicks."""

    def paint(self, p: QPainter, m: QTransform) -> None:
        """Nothing to preview."""


class SplitTool(PointTool):
    """A line across a room; two clicks, or more and Enter."""

    hint = (
        "Click where the dividing line starts and ends; right angles unless Alt is held; type a length and Enter. "
        "Esc drops it."
    )

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self.move(at, modifiers)
        if not self._points or self._cursor != self._points[-1]:
            self._points.append(self._cursor)
        if len(self._points) == 2 and not modifiers & Qt.KeyboardModifier.ShiftModifier:
            self.finish()

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        point = snap(self.canvas, at, own=self._points)
        if self._points and not modifiers & Qt.KeyboardModifier.AltModifier:
            x, y = right_angle(self._points[-1], *point)
            point = round(x, 4), round(y, 4)
        self._cursor = point
        self.canvas.update()

    def command(self, points: tuple) -> SplitRoom | None:
        if len(points) < 2:
            return None
        middle = QPointF((points[0][0] + points[1][0]) / 2, (points[0][1] + points[1][1]) / 2)
        room_id = self.canvas.room_at(middle)
        if not room_id:
            self.canvas.hint.emit("The line does not lie in a room")
            return None
        return SplitRoom(room_id, points)

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._cursor is not None:
            line = [*self._points, self._cursor]
            paint_outline(p, m, line, closed=False)
            mark(p, m, self._cursor)
            if self._points:
                length = hypot(line[-1][0] - line[-2][0], line[-1][1] - line[-2][1])
                words = long_words(length, self.canvas.state.show.units, self._typed.text)
                at = m.map(QPointF(*self._cursor))
                layers.text(
                    p,
                    QPointF(at.x() + 10, at.y() - 14),
                    words,
                    theme.colour("garnet"),
                    11,
                    500,
                    Qt.AlignmentFlag.AlignLeft,
                    theme.colour("paper"),
                )


class OpeningTool(ClickTool):
    """A click on a wall puts a window or a door there."""

    def __init__(self, canvas, kind: str) -> None:
        self.kind = kind
        self.hint = (
            f"Click an outside wall: a {kind} goes there. Drag or type it to its place afterwards."
            if kind != "door"
            else "Click any wall: a door goes there. Drag or type it to its place afterwards."
        )
        self._spot: tuple | None = None
        super().__init__(canvas)

    def _wall_at(self, at: QPointF):
        """(wall, metres along it) under a point."""
        project, near = self.canvas.state.project, WALL_PX / self.canvas.map.m11()
        best = (near, None, 0.0)
        for wall in project.walls:
            if wall.level_id == self.canvas.level_id:
                apart, share = distance_to((at.x(), at.y()), wall.start, wall.end)
                if apart - wall.thickness_m / 2 < best[0]:
                    best = (apart - wall.thickness_m / 2, wall, share * wall.length_m)
        return best[1], best[2]

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        wall, along = self._wall_at(at)
        self._spot = (
            None
            if wall is None
            else (
                wall.start[0] + (wall.end[0] - wall.start[0]) * along / wall.length_m,
                wall.start[1] + (wall.end[1] - wall.start[1]) * along / wall.length_m,
            )
        )
        self.canvas.update()

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        wall, along = self._wall_at(at)
        if wall is None:
            self.canvas.hint.emit("There is no wall here. " + self.hint)
            return
        self.canvas.intent.emit(AddOpening(wall.id, self.kind, round(along, 2)))

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._spot is not None:
            mark(p, m, self._spot)


class FillTool(ClickTool):
    """A click into a space of the drawing below makes a room of it."""

    hint = "Click into a space that lines of the drawing enclose; gaps of a door are closed."

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        rows = lines_near(self.canvas.underlays(), at.x(), at.y(), REACH_M)
        near = tuple(tuple(r) for r in rows.tolist())
        self.canvas.intent.emit(
            FillRoom(self.canvas.level_id, (at.x(), at.y()), near, self.canvas.state.show.system_id)
        )


class PaintTool(ClickTool):
    """Rooms clicked or dragged over join a zone or an air system."""

    hint = "Click or drag over rooms: they join what is chosen above. With Alt they leave it."

    def __init__(self, canvas, kind: str, group_id: str) -> None:
        self.kind, self.group_id = kind, group_id
        super().__init__(canvas)

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        room = find(self.canvas.state.project.rooms, self.canvas.room_at(at))
        if room is None:
            return
        wanted = "" if modifiers & Qt.KeyboardModifier.AltModifier else self.group_id
        if (room.zone_id if self.kind == "zone" else room.system_id) != wanted:
            self.canvas.intent.emit(
                SetZone((room.id,), wanted) if self.kind == "zone" else SetServed((room.id,), wanted)
            )

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        if self.canvas.button_down:
            self.press(at, modifiers)


class ScaleTool(PointTool):
    """Two points of an underlay; the distance between them in truth is asked for."""

    hint = "Click two points of the underlay whose distance you know, e.g. the ends of a dimension."
    takes_lengths = False

    def __init__(self, canvas, on_points) -> None:
        self._on_points = on_points
        super().__init__(canvas)

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self.move(at, modifiers)
        self._points.append(self._cursor)
        if len(self._points) == 2:
            points = tuple(self._points)
            self._let_go()
            self._on_points(*points)

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self._cursor = self.canvas.nearest_line_end(at) or (at.x(), at.y())
        self.canvas.update()

    def command(self, points: tuple) -> None:
        return None

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._cursor is not None:
            paint_outline(p, m, [*self._points, self._cursor], closed=False)
            mark(p, m, self._cursor)


def mark(p: QPainter, m: QTransform, at: tuple[float, float]) -> None:
    """The spot where a click would count."""
    p.setBrush(theme.colour("sheet"))
    p.setPen(layers.pen(theme.colour("garnet"), 1.4))
    p.drawEllipse(m.map(QPointF(*at)), 3.5, 3.5)
