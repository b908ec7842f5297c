"""The hand on the plan when no tool is out: pick, drag rooms and openings, pull handles, band and lasso, nudge."""

from math import hypot

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QTransform

from garnetfin import display
from garnetfin.project.edits.openings import MoveOpening
from garnetfin.project.edits.outlines import MoveRooms
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import path_of
from garnetfin.ui.plan.room_tools import STEP_M, Reshape
from garnetfin.ui.theme import theme

THRESHOLD_PX = 6.0
NUDGE_M, STRIDE_M = 0.05, 0.5
ADD = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier


class SelectTool:
    """Takes the left mouse button of a canvas; previews by itself and asks for one command on release."""

    def __init__(self, canvas) -> None:
        self.canvas = canvas
        self._reshape = Reshape(canvas)
        self._from: QPointF | None = None
        self._hit: tuple[str, str] = ("", "")
        self._mode = ""  # "", move, opening, band, lasso
        self._was_chosen = False
        self._add = self._lasso = False
        self._shift = (0.0, 0.0)
        self._at_m = 0.0
        self._trail: list[QPointF] = []

    @property
    def busy(self) -> bool:
        return self._from is not None or self._reshape.busy

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        if self._reshape.begin(at, modifiers):
            return
        self._from, self._trail, self._mode = at, [at], ""
        self._hit = kind, found = self.canvas.what_is_at(at)
        self._add, self._lasso = bool(modifiers & ADD), bool(modifiers & Qt.KeyboardModifier.AltModifier)
        self._was_chosen = found in self.canvas.selection().of(kind)
        if found and not self._was_chosen and not self._lasso:
            self.canvas.picked.emit(kind, (found,), self._add)

    def move(self, at: QPointF) -> None:
        if self._reshape.busy:
            self._reshape.pull(self.canvas.to_metres(at))
            return
        if self._from is None:
            return
        if not self._mode:
            if hypot(at.x() - self._from.x(), at.y() - self._from.y()) < THRESHOLD_PX:
                return
            self._mode = self._mode_of()
        self._trail.append(at)
        if self._mode == "move":
            a, b = self.canvas.to_metres(self._from), self.canvas.to_metres(at)
            self._shift = self._stepped(b.x() - a.x(), b.y() - a.y())
            units = self.canvas.state.show.units
            by = display.measure(self._shift[0], units, False), display.measure(self._shift[1], units)
            self.canvas.hint.emit(f"Move by {by[0]}, {by[1]}")
        elif self._mode == "opening":
            self._slide(at)
        self.canvas.update()

    def _mode_of(self) -> str:
        kind, found = self._hit
        if self._lasso:
            return "lasso"
        if kind == "room" and not self._add and found in self.canvas.selection().of("room"):
            return "move"
        if kind == "opening" and not self._add:
            return "opening"
        return "band"

    def _stepped(self, dx: float, dy: float) -> tuple[float, float]:
        """Corners of the moved rooms jump to corners of other rooms nearby, else the move goes in steps of 50 mm."""
        canvas = self.canvas
        project, moved = canvas.state.project, set(canvas.selection().of("room"))
        near = 9.0 / canvas.map.m11()
        own = [p for r in project.rooms if r.id in moved for p in r.outline]
        rest = [p for r in project.rooms if r.id not in moved and r.level_id == canvas.level_id for p in r.outline]
        best = (
            min(
                ((hypot(x + dx - u, y + dy - v), u - x, v - y) for x, y in own for u, v in rest),
                default=(near, 0.0, 0.0),
            )
            if (len(own) * len(rest) < 40_000)
            else (near, 0.0, 0.0)
        )
        if best[0] < near:
            return round(best[1], 6), round(best[2], 6)
        return round(round(dx / STEP_M) * STEP_M, 6), round(round(dy / STEP_M) * STEP_M, 6)

    def _slide(self, at: QPointF) -> None:
        wall_id, _, _opening_id = self._hit[1].partition("/")
        wall = find(self.canvas.state.project.walls, wall_id)
        here = self.canvas.to_metres(at)
        along = (
            (here.x() - wall.start[0]) * (wall.end[0] - wall.start[0])
            + (here.y() - wall.start[1]) * (wall.end[1] - wall.start[1])
        ) / wall.length_m
        self._at_m = round(round(along / STEP_M) * STEP_M, 4)
        self.canvas.hint.emit(f"Middle at {display.number(self._at_m, 2)} m along the wall")

    def release(self, at: QPointF) -> None:
        canvas = self.canvas
        if self._reshape.busy:
            self._reshape.end()
            return
        if self._from is None:
            return
        mode, (kind, found) = self._mode, self._hit
        start, self._from, self._mode = self._from, None, ""
        if mode == "move":
            if self._shift != (0.0, 0.0):
                canvas.intent.emit(MoveRooms(canvas.selection().of("room"), *self._shift))
        elif mode == "opening":
            wall_id, _, opening_id = found.partition("/")
            canvas.intent.emit(MoveOpening(wall_id, opening_id, self._at_m))
        elif mode in ("band", "lasso"):
            area = self._lasso_path() if mode == "lasso" else _band(start, at)
            inside = tuple(
                r.id
                for r in canvas.state.project.rooms
                if r.level_id == canvas.level_id
                and all(area.contains(canvas.map.map(QPointF(x, y))) for x, y in r.outline)
            )
            if inside or not self._add:
                canvas.picked.emit("room" if inside else "", inside, self._add)
        elif not found:
            if not self._add:
                canvas.picked.emit("", (), False)
        elif self._was_chosen:
            canvas.picked.emit(kind, (found,), self._add)
        self._shift = (0.0, 0.0)
        canvas.update()

    def cancel(self) -> None:
        self._from, self._mode, self._shift = None, "", (0.0, 0.0)
        self.canvas.update()

    def cursor_at(self, at: QPointF) -> Qt.CursorShape:
        return Qt.CursorShape.SizeAllCursor if self._reshape.grip_at(at) else Qt.CursorShape.ArrowCursor

    def nudge(self, key: int, far: bool) -> bool:
        """Move the selected rooms a little by the arrow keys; False when nothing is selected."""
        ids = self.canvas.selection().of("room")
        step = STRIDE_M if far else NUDGE_M
        moves = {
            Qt.Key.Key_Left: (-step, 0.0),
            Qt.Key.Key_Right: (step, 0.0),
            Qt.Key.Key_Up: (0.0, step),
            Qt.Key.Key_Down: (0.0, -step),
        }
        if not ids or key not in moves:
            return False
        self.canvas.intent.emit(MoveRooms(ids, *moves[key]))
        return True

    def _lasso_path(self) -> QPainterPath:
        path = QPainterPath(self._trail[0])
        for p in self._trail[1:]:
            path.lineTo(p)
        path.closeSubpath()
        return path

    def paint(self, p: QPainter, m: QTransform) -> None:
        self._reshape.paint(p, m)
        c = theme.colour
        dashed = layers.pen(c("garnet"), 1.4)
        dashed.setDashPattern([5, 3])
        p.setPen(dashed)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if self._mode == "move":
            moved = QTransform(m)
            moved.translate(*self._shift)
            for room_id in self.canvas.selection().of("room"):
                room = find(self.canvas.state.project.rooms, room_id)
                if room is not None and room.level_id == self.canvas.level_id:
                    p.drawPath(moved.map(path_of(room.outline)))
        elif self._mode == "opening":
            wall = find(self.canvas.state.project.walls, self._hit[1].partition("/")[0])
            t = min(max(self._at_m / wall.length_m, 0.0), 1.0)
            at = m.map(
                QPointF(
                    wall.start[0] + t * (wall.end[0] - wall.start[0]), wall.start[1] + t * (wall.end[1] - wall.start[1])
                )
            )
            p.drawEllipse(at, 6, 6)
        elif self._mode == "band":
            p.drawPath(_band(self._trail[0], self._trail[-1]))
        elif self._mode == "lasso":
            p.drawPath(self._lasso_path())


def _band(a: QPointF, b: QPointF) -> QPainterPath:
    path = QPainterPath()
    path.addRect(QRectF(a, b).normalized())
    return path
