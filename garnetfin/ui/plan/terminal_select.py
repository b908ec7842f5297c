"""The hand on the plan of Air: pick rooms and terminals, drag terminals, nudge them with the arrow keys."""

from math import hypot

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from garnetfin import display
from garnetfin.project.edits.terminals import MoveTerminals
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.equipment_layer import piece_at
from garnetfin.ui.theme import theme

THRESHOLD_PX, STEP_M, STRIDE_M, SNAP_PX = 5.0, 0.05, 0.5, 7.0
ADD = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier


class TerminalHand:
    """Takes the left mouse button of a canvas; asks for one command on release."""

    def __init__(self, canvas) -> None:
        self.canvas = canvas
        self._from: QPointF | None = None
        self._hit: tuple[str, str] = ("", "")
        self._shift: tuple[float, float] | None = None
        self._lines: tuple[float | None, float | None] = (None, None)

    @property
    def busy(self) -> bool:
        return self._from is not None

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self._from, self._shift = at, None
        self._hit = kind, found = self.canvas.what_is_at(at)
        add = bool(modifiers & ADD)
        piece = piece_at(self.canvas.pieces, self.canvas.map, at) if kind != "terminal" else None
        if piece is not None:  # equipment is chosen by the rooms it serves
            self.canvas.picked.emit("room", piece.room_ids, add)
            return
        if not found or add or found not in self.canvas.selection().of(kind):
            self.canvas.picked.emit(kind, (found,) if found else (), add)

    def move(self, at: QPointF) -> None:
        if (
            self._from is None
            or self._hit[0] != "terminal"
            or (self._shift is None and hypot(at.x() - self._from.x(), at.y() - self._from.y()) < THRESHOLD_PX)
        ):
            return
        a, b = self.canvas.to_metres(self._from), self.canvas.to_metres(at)
        self._shift = self._snapped(b.x() - a.x(), b.y() - a.y())
        self.canvas.hint.emit(
            f"Move by {display.number(self._shift[0], 2)}, {display.number(self._shift[1], 2)} m; lines up with "
            f"other terminals"
        )
        self.canvas.update()

    def release(self, at: QPointF) -> None:
        shift, self._from, self._shift = self._shift, None, None
        self._lines = (None, None)
        self.canvas.update()
        if shift is not None and any(shift):
            self.canvas.intent.emit(MoveTerminals(self._moved(), *shift))

    def nudge(self, key: int, far: bool) -> bool:
        """Chosen terminals by 50 mm with an arrow key, 0.5 m with Shift."""
        step = STRIDE_M if far else STEP_M
        way = {
            Qt.Key.Key_Left: (-step, 0.0),
            Qt.Key.Key_Right: (step, 0.0),
            Qt.Key.Key_Up: (0.0, step),
            Qt.Key.Key_Down: (0.0, -step),
        }.get(key)
        chosen = self.canvas.selection().of("terminal")
        if way is None or not chosen:
            return False
        self.canvas.intent.emit(MoveTerminals(chosen, *way))
        return True

    def cursor_at(self, at: QPointF) -> Qt.CursorShape:
        return (
            Qt.CursorShape.SizeAllCursor if self.canvas.what_is_at(at)[0] == "terminal" else Qt.CursorShape.ArrowCursor
        )

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._shift is None:
            return
        c, project = theme.colour, self.canvas.state.project
        for axis, at in zip("xy", self._lines):
            if at is not None:
                p.setPen(layers.pen(c("garnet"), 0.8, Qt.PenStyle.DotLine))
                place = m.map(QPointF(at, at))
                if axis == "x":
                    p.drawLine(QPointF(place.x(), 0), QPointF(place.x(), self.canvas.height()))
                else:
                    p.drawLine(QPointF(0, place.y()), QPointF(self.canvas.width(), place.y()))
        p.setPen(layers.pen(c("garnet"), 1.4))
        p.setBrush(c("garnet_tint"))
        for terminal_id in self._moved():
            point = find(project.duct_points, find(project.terminals, terminal_id).point_id)
            p.drawEllipse(m.map(QPointF(point.x_m + self._shift[0], point.y_m + self._shift[1])), 6, 6)

    def _moved(self) -> tuple[str, ...]:
        chosen = self.canvas.selection().of("terminal")
        return chosen if self._hit[1] in chosen else (self._hit[1],)

    def _snapped(self, dx: float, dy: float) -> tuple[float, float]:
        """In steps of 50 mm, or in line with another terminal of the level."""
        project, near = self.canvas.state.project, SNAP_PX / self.canvas.map.m11()
        moved = {find(project.terminals, i).point_id for i in self._moved()}
        own = find(project.duct_points, find(project.terminals, self._hit[1]).point_id)
        others = [find(project.duct_points, t.point_id) for t in project.terminals if t.point_id not in moved]
        others = [p for p in others if p.level_id == self.canvas.level_id]
        x = min((p.x_m for p in others), key=lambda v: abs(v - own.x_m - dx), default=None)
        y = min((p.y_m for p in others), key=lambda v: abs(v - own.y_m - dy), default=None)
        x = x if x is not None and abs(x - own.x_m - dx) < near else None
        y = y if y is not None and abs(y - own.y_m - dy) < near else None
        self._lines = (x, y)
        return (
            x - own.x_m if x is not None else round(dx / STEP_M) * STEP_M,
            y - own.y_m if y is not None else round(dy / STEP_M) * STEP_M,
        )
