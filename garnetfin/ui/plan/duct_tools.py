"""The tool that draws duct runs. A tool previews by itself and asks for one command when it is done."""

from math import hypot

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QTransform

from garnetfin import display
from garnetfin.project.edits.ducts import DrawRun
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import distance_to, duct_paths, polygon
from garnetfin.ui.plan.points import PointTool, right_angle
from garnetfin.ui.theme import theme

SNAP_PX = 10.0
HINT = ("Click points; ends snap to ducts. Right angles unless Alt is held; type a length in metres and Enter. "
        "Double click or Enter ends the run, Esc drops it.")


class DrawDuct(PointTool):
    """Draw a run by clicking points (x, y, z), with snapping, right angles and typed lengths."""

    hint = HINT

    def __init__(self, canvas, shape: str = "round", with_terminal: bool = True) -> None:
        super().__init__(canvas)
        self.shape, self.with_terminal = shape, with_terminal
        self._snapped = ""

    # -- input ---------------------------------------------------------------------------------------------------
    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self.move(at, modifiers)
        self._take()

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        free = bool(modifiers & Qt.KeyboardModifier.AltModifier)
        self._cursor, self._snapped = self._snap(at, free)
        self.canvas.update()

    def command(self, points: tuple) -> DrawRun | None:
        """The run. A free end in a room gets a terminal when the switch says so."""
        if len(points) < 2:
            return None
        room = self._room_at(points[-1]) if self.with_terminal and not self._joins(points[-1]) else ""
        return DrawRun(system_id=self.canvas.state.show.system_id, level_id=self.canvas.level_id, points=points,
                       shape=self.shape, role="last" if room and len(points) == 2 else "branch", terminal_room=room)

    # -- inside --------------------------------------------------------------------------------------------------
    def _take(self) -> None:
        if self._cursor is not None and (not self._points or self._cursor != self._points[-1]):
            self._points.append(self._cursor)
            if len(self._points) > 1 and self._snapped:
                self.finish()

    def _height(self) -> float:
        """Height of a new run: of what it starts from, else of the level's ducts, else below its structure."""
        state = self.canvas.state
        if self._points:
            return self._points[-1][2]
        level = find(state.project.levels, self.canvas.level_id)
        heights = sorted(p.z_m for p in state.project.duct_points if p.level_id == self.canvas.level_id)
        return heights[len(heights) // 2] if heights else level.elevation_m + level.storey_m - 0.55

    def _snap(self, at: QPointF, free: bool) -> tuple[tuple[float, float, float], str]:
        state, near = self.canvas.state, SNAP_PX / self.canvas.map.m11()
        x, y = at.x(), at.y()
        for point in state.project.duct_points:
            if point.level_id == self.canvas.level_id and hypot(point.x_m - x, point.y_m - y) < near:
                return (point.x_m, point.y_m, point.z_m), "duct end"
        if self._points and not free:
            x, y = right_angle(self._points[-1], x, y)
        side = self._side_of_duct(x, y, near)
        if side is not None:
            return side, "side of a duct"
        return (round(x, 2), round(y, 2), self._height()), ""

    def _side_of_duct(self, x: float, y: float, near: float) -> tuple[float, float, float] | None:
        state, ducts = self.canvas.state, self.canvas.ducts
        if ducts is None:
            return None
        for segment_id, (a, b) in duct_paths(state.project, ducts, self.canvas.level_id).lines.items():
            apart, t = distance_to((x, y), a, b)
            if apart < near + ducts.segments[segment_id].section.width_m / 2 and 0 < t < 1:
                z = find(state.project.duct_points, find(state.project.segments, segment_id).a).z_m
                return a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), z
        return None

    def _joins(self, at: tuple[float, float, float]) -> bool:
        used = {p for s in self.canvas.state.project.segments for p in (s.a, s.b)}
        if any(p.id in used and hypot(p.x_m - at[0], p.y_m - at[1]) < 0.02 and abs(p.z_m - at[2]) < 0.02
               for p in self.canvas.state.project.duct_points):
            return True
        return self._side_of_duct(at[0], at[1], 1e-3) is not None

    def _room_at(self, at: tuple[float, float, float]) -> str:
        for room in self.canvas.state.project.rooms:
            if room.level_id == self.canvas.level_id and polygon(room.outline).containsPoint(
                    QPointF(at[0], at[1]), Qt.FillRule.OddEvenFill):
                return room.id
        return ""

    # -- preview -------------------------------------------------------------------------------------------------
    def paint(self, p: QPainter, m: QTransform) -> None:
        c = theme.colour
        line = [*self._points, *([self._cursor] if self._cursor else [])]
        if not line:
            return
        path = QPainterPath(m.map(QPointF(line[0][0], line[0][1])))
        for x, y, _ in line[1:]:
            path.lineTo(m.map(QPointF(x, y)))
        p.setBrush(Qt.BrushStyle.NoBrush)
        dashed = layers.pen(c("garnet"), 1.6)
        dashed.setDashPattern([5, 3])
        p.strokePath(path, dashed)
        p.setPen(layers.pen(c("garnet"), 1.4))
        p.setBrush(c("sheet"))
        for x, y, _ in self._points:
            at = m.map(QPointF(x, y))
            p.drawRect(int(at.x()) - 3, int(at.y()) - 3, 6, 6)
        at = m.map(QPointF(line[-1][0], line[-1][1]))
        if self._snapped:
            p.drawEllipse(at, 6, 6)
        if len(line) > 1:
            length = hypot(line[-1][0] - line[-2][0], line[-1][1] - line[-2][1])
            words = f"{self._typed.text} m" if self._typed.text else f"{display.number(length, 2)} m"
            layers.text(p, QPointF(at.x() + 10, at.y() - 14), f"{words}  {self._snapped}", c("garnet"), 11, 500,
                        Qt.AlignmentFlag.AlignLeft, c("paper"))
