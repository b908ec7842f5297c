"""The tool that draws duct runs. A tool previews by itself and asks for one command when it is done."""

from dataclasses import dataclass
from math import hypot

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPainterPath, QTransform

from garnetfin import display
from garnetfin.project.ducts import Segment
from garnetfin.project.edits.duct_runs import DrawRun
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import distance_to, polygon
from garnetfin.ui.plan.points import PointTool, long_words, set_angle
from garnetfin.ui.theme import theme

SNAP_PX = 10.0
HINT = (
    "Click points; ends snap to ducts. Alt frees the angle; type a length in metres and Enter; PgUp and PgDn change "
    "the height: a riser "
    "comes by itself. Double click or Enter ends the run."
)
STEP_UP_M = 0.05


@dataclass(slots=True)
class Drawing:
    """How runs are drawn: shape, side that stays flat, angle [deg], height of the axis above the floor [m] (None: of
    the level's ducts),
    fall per metre, whether a free end in a room becomes a terminal, whether its last piece is flexible.
    """

    shape: str = "round"
    side: str = "centre"
    angle_deg: float = 90.0
    height_m: float | None = None
    slope: float = 0.0
    with_terminal: bool = True
    soft_end: bool = False


class DrawDuct(PointTool):
    """Draw a run by clicking points (x, y, z), with snapping, set angles, typed lengths and heights."""

    hint = HINT

    def __init__(self, canvas, drawing: Drawing | None = None, air: str = "supply") -> None:
        super().__init__(canvas)
        self.drawing, self.air = drawing or Drawing(), air
        self._snapped = ""
        self._levels: list[str] = []  # on which each point was clicked

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
        how = self.drawing
        if self._begins_free(points):
            # Drawn from a room to a duct: the free end is where it began.
            points = points[::-1]
        room = self._room_at(points[-1]) if how.with_terminal and not self._joins(points[-1]) else ""
        return DrawRun(
            system_id=self._system_id,
            level_id=self._levels[0] if self._levels else self.canvas.level_id,
            points=points,
            shape=how.shape,
            role="",
            terminal_room=room,
            air=self.air,
            side=how.side if how.shape != "round" else "centre",
            material="flexible" if how.soft_end and room and how.shape == "round" else "",
        )

    def key(self, event: QKeyEvent) -> bool:
        step = {Qt.Key.Key_PageUp: STEP_UP_M, Qt.Key.Key_PageDown: -STEP_UP_M}.get(event.key())
        if step is None or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            return super().key(event)
        self.drawing.height_m = round(self._height() + step - self._floor(), 4)
        self.on_height(self.drawing.height_m)
        if self._cursor is not None:
            self._cursor = (*self._cursor[:2], self._height())
        self.canvas.update()
        return True

    def on_height(self, height_m: float) -> None:
        """Told when a key changes the height; the view shows it."""

    # -- inside --------------------------------------------------------------------------------------------------
    def _take(self) -> None:
        if self._cursor is None or (self._points and self._cursor == self._points[-1]):
            return
        self._add(self._cursor)
        if len(self._points) > 1 and self._snapped:
            self.finish()

    def _add(self, point: tuple[float, float, float]) -> None:
        """A point at another height than the last is reached by a riser where the run stands."""
        if self._points:
            last = self._points[-1]
            fall = self.drawing.slope * hypot(point[0] - last[0], point[1] - last[1])
            if (
                abs(point[2] - last[2]) > 0.02
                and hypot(point[0] - last[0], point[1] - last[1]) > 0.02
                and abs(abs(point[2] - last[2]) - abs(fall)) > 0.005
            ):
                self._points.append((last[0], last[1], point[2]))
                self._levels.append(self.canvas.level_id)
        self._points.append(point)
        self._levels.append(self.canvas.level_id)

    def _let_go(self) -> None:
        super()._let_go()
        self._levels = []

    def _take_typed(self) -> None:
        last = self._points[-1]
        point = self._typed.point(last, self._cursor)
        if point is not None:
            self._add((*point, self._at_height(last, *point)))

    def _floor(self) -> float:
        return find(self.canvas.state.project.levels, self.canvas.level_id).elevation_m

    def _height(self) -> float:
        """Height of the run: what was typed, else what it starts from, else of the level's ducts, else below its
        structure.
        """
        state = self.canvas.state
        if self.drawing.height_m is not None:
            return self._floor() + self.drawing.height_m
        if self._points:
            # On another level the run goes on at the same height above the floor.
            was = find(state.project.levels, self._levels[-1]) if self._levels else None
            return self._points[-1][2] + (self._floor() - was.elevation_m if was is not None else 0.0)
        level = find(state.project.levels, self.canvas.level_id)
        own = {i for s in state.project.segments if s.air == self.air for i in (s.a, s.b)}
        heights = sorted(p.z_m for p in state.project.duct_points if p.level_id == self.canvas.level_id and p.id in own)
        return heights[len(heights) // 2] if heights else level.elevation_m + level.storey_m - 0.55

    def _at_height(self, last: tuple, x: float, y: float) -> float:
        """Height at a place: with a fall where one is asked for."""
        if self.drawing.slope and self._points:
            return round(last[2] - self.drawing.slope * hypot(x - last[0], y - last[1]), 4)
        return self._height()

    def _snap(self, at: QPointF, free: bool) -> tuple[tuple[float, float, float], str]:
        state, near = self.canvas.state, SNAP_PX / self.canvas.map.m11()
        x, y = at.x(), at.y()
        joining = self._points_to_join()
        for point in state.project.duct_points:
            if (
                point.level_id == self.canvas.level_id
                and point.id in joining
                and hypot(point.x_m - x, point.y_m - y) < near
            ):
                return (point.x_m, point.y_m, point.z_m), joining[point.id]
        if self._points and not free:
            x, y = set_angle(self._points[-1], x, y, self.drawing.angle_deg)
        side = self._side_of_duct(x, y, near, self._points[-1] if self._points and not free else None)
        if side is not None:
            return side, "side of a duct"
        if free or not self._points:
            x, y = round(x, 2), round(y, 2)
        return (x, y, self._at_height(self._points[-1], x, y) if self._points else self._height()), ""

    @property
    def _system_id(self) -> str:
        return self.canvas.state.show.system_id

    def _own(self) -> list[Segment]:
        """Ducts that a run may join: of its system and air."""
        project = self.canvas.state.project
        return [s for s in project.segments if (s.system_id, s.air) == (self._system_id, self.air)]

    def _points_to_join(self) -> dict[str, str]:
        """Points that a run joins, with what they are: ends of its own ducts, its terminals, where its unit stands."""
        project = self.canvas.state.project
        own_rooms = {r.id for r in project.rooms if r.system_id == self._system_id}
        found = {t.point_id: "terminal" for t in project.terminals if t.air == self.air and t.room_id in own_rooms}
        found |= {p: "duct end" for s in self._own() for p in (s.a, s.b)}
        system = find(project.air_systems, self._system_id)
        return found | ({i: "unit" for i in system.roots_of(self.air)} if system is not None else {})

    def _begins_free(self, points: tuple) -> bool:
        """A run from free space to a duct, in a system that has its unit."""
        system = find(self.canvas.state.project.air_systems, self._system_id)
        rooted = system is not None and bool(system.root_of(self.air))
        return rooted and self._joins(points[-1]) and not self._joins(points[0])

    def _side_of_duct(
        self, x: float, y: float, near: float, last: tuple | None = None
    ) -> tuple[float, float, float] | None:
        """The place on a duct's axis nearest to a point, at the height the duct has there; on the way there from
        `last`, where the two cross.
        """
        state, ducts = self.canvas.state, self.canvas.ducts
        known = ducts.segments if ducts is not None else {}
        for segment in self._own():
            one, two = (find(state.project.duct_points, p) for p in (segment.a, segment.b))
            if self.canvas.level_id not in (one.level_id, two.level_id):
                continue
            a, b = (one.x_m, one.y_m), (two.x_m, two.y_m)
            if hypot(b[0] - a[0], b[1] - a[1]) < near:
                continue  # a riser has no side on the plan
            half = known[segment.id].section.width_m / 2 if segment.id in known else 0.0
            apart, t = distance_to((x, y), a, b)
            if apart < near + half and 0 < t < 1:
                t = _crossing(last, (x, y), a, b, t) if last is not None else t
                z = one.z_m + t * (two.z_m - one.z_m)
                return a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), z
        return None

    def _joins(self, at: tuple[float, float, float]) -> bool:
        joining = self._points_to_join()
        if any(
            p.id in joining and hypot(p.x_m - at[0], p.y_m - at[1]) < 0.02 and abs(p.z_m - at[2]) < 0.02
            for p in self.canvas.state.project.duct_points
        ):
            return True
        side = self._side_of_duct(at[0], at[1], 1e-3)
        return side is not None and abs(side[2] - at[2]) < 0.02

    def _room_at(self, at: tuple[float, float, float]) -> str:
        """The room of this system at a place; a duct that ends in another's room is no outlet of its own."""
        for room in self.canvas.state.project.rooms:
            if (
                room.level_id == self.canvas.level_id
                and room.system_id == self._system_id
                and polygon(room.outline).containsPoint(QPointF(at[0], at[1]), Qt.FillRule.OddEvenFill)
            ):
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
            units = self.canvas.state.show.units
            words = long_words(length, units, self._typed.text)
            words += f" at {display.with_unit('length', line[-1][2] - self._floor(), units)}"
            layers.text(
                p,
                QPointF(at.x() + 10, at.y() - 14),
                f"{words}  {self._snapped}",
                c("garnet"),
                11,
                500,
                Qt.AlignmentFlag.AlignLeft,
                c("paper"),
            )


def _crossing(
    last: tuple, towards: tuple[float, float], a: tuple[float, float], b: tuple[float, float], foot: float
) -> float:
    """Share of a..b at which the way from `last` meets it; the foot where they do not meet between its ends."""
    dx, dy, ex, ey = towards[0] - last[0], towards[1] - last[1], b[0] - a[0], b[1] - a[1]
    across = dx * ey - dy * ex
    if abs(across) < 1e-9:
        return foot
    t = (dx * (last[1] - a[1]) - dy * (last[0] - a[0])) / across
    return t if 0 < t < 1 else foot
