"""All levels lifted apart, seen from above at a slant; drawn by QPainter as vectors, for the screen and for paper."""

from math import cos, hypot, radians, sin

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from garnetfin.engine.results import there
from garnetfin.project.lookup import find
from garnetfin.ui.focus import ringed
from garnetfin.ui.plan.layers import hatch, text
from garnetfin.ui.plan.pens import pen
from garnetfin.ui.state import State
from garnetfin.ui.theme import mix, theme
from garnetfin.ui.view_models.axonometry import Solid, shown_rooms, solids

SLANT = 0.55  # how much depth shrinks: the sine of the angle of view
RISE = 0.835  # how much height shrinks
MARGIN = 34.0
TURN_STEP = 15.0


class Axonometric(QWidget):
    """Renders a State; a click picks a face, a drag turns the building, the wheel zooms."""

    picked = Signal(str, tuple, bool)
    hint = Signal(str)
    HINT = "Click a face, window or floor. Drag or the arrow keys turn, the wheel zooms, + and − lift the levels apart."

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Exploded view")
        self._state: State | None = None
        self._fills: dict[str, QColor] = {}
        self._hatched: frozenset[str] = frozenset()
        self.turn_deg, self.apart, self.zoom, self.scope = 30.0, 0.8, 1.0, "all"
        self._offset = QPointF()
        self._press: QPointF | None = None
        self._dragged = False
        self._shapes: list[tuple[Solid, QPolygonF]] = []

    def render_state(self, state: State, fills: dict[str, QColor], hatched: frozenset[str]) -> None:
        self._state, self._fills, self._hatched = state, fills, hatched
        self.update()

    @property
    def shapes(self) -> list[tuple[Solid, QPolygonF]]:
        """What is drawn, in the order of drawing, in pixels."""
        return self._shapes

    # -- geometry ------------------------------------------------------------------------------------------------
    def _flat(self, p: tuple[float, float, float]) -> tuple[float, float, float]:
        """(right, down, depth) in metres of a point; depth grows towards the viewer."""
        c, s = cos(radians(self.turn_deg)), sin(radians(self.turn_deg))
        across, deep = p[0] * c - p[1] * s, p[0] * s + p[1] * c
        return across, -deep * SLANT - p[2] * RISE, -deep

    def _lift(self) -> float:
        """Metres by which each level is lifted, so that it clears the one below;

        `apart` 0 leaves the building as it stands.
        """
        deep = [self._flat((x, y, 0.0))[1] for r in self._state.project.rooms for x, y in r.outline]
        return self.apart * (max(deep) - min(deep)) / RISE if deep and len(self._state.project.levels) > 1 else 0.0

    def _laid(self, box: QRectF) -> list[tuple[Solid, QPolygonF]]:
        """Faces in drawing order: by level from below, floors, then walls from back to front."""
        state = there(self._state)
        kind, ids = state.selection.kind, state.selection.ids
        only = shown_rooms(state.project, self.scope, kind, ids)
        found = solids(state.project, self._lift() if only is None else 0.0, only)
        if not found:
            return []
        flat = [[self._flat(p) for p in solid.corners] for solid in found]
        left, right = min(p[0] for f in flat for p in f), max(p[0] for f in flat for p in f)
        top, foot = min(p[1] for f in flat for p in f), max(p[1] for f in flat for p in f)
        scale = (
            min((box.width() - 2 * MARGIN) / max(right - left, 1.0), (box.height() - 2 * MARGIN) / max(foot - top, 1.0))
            * self.zoom
        )
        middle = box.center() + self._offset
        ranks = {"floor": 0, "wall": 1, "glass": 1, "door": 1, "roof": 2}
        storeys = sorted({round(min(p[2] for p in s.corners), 3) for s in found if s.kind in ("floor", "wall")})

        def level(s: Solid) -> float:
            low = min(p[2] for p in s.corners)
            return max((z for z in storeys if z <= low + 1e-6), default=low)

        def depth(i: int) -> tuple:
            s = found[i]
            nearness = sum(p[2] for p in flat[i]) / len(flat[i])
            return level(s), ranks[s.kind], nearness, s.kind != "wall"

        order = sorted(range(len(found)), key=depth)
        return [
            (
                found[i],
                QPolygonF(
                    [
                        QPointF(
                            middle.x() + (x - (left + right) / 2) * scale, middle.y() + (y - (top + foot) / 2) * scale
                        )
                        for x, y, _ in flat[i]
                    ]
                ),
            )
            for i in order
        ]

    # -- painting ------------------------------------------------------------------------------------------------
    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour("paper"))
        if self._state is not None:
            self.paint(p, QRectF(self.rect()))
        if ringed(self):
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(pen(theme.colour("garnet"), 1.0, Qt.PenStyle.DotLine))
            p.drawRect(QRectF(self.rect()).adjusted(1, 1, -2, -2))

    def paint(self, p: QPainter, box: QRectF) -> None:
        """The whole view into a box of any painter: the screen, a PDF."""
        self._shapes = self._laid(box)
        if not self._shapes:
            text(p, box.center(), "Nothing to show: draw or import rooms first", theme.colour("faint"), 13)
            return
        chosen = self._chosen()
        c = theme.colour
        for solid, shape in self._shapes:
            on = solid.target in chosen
            fill, line, width = self._look(solid)
            p.setPen(pen(c("garnet") if on else line, 2.0 if on else width))
            p.setBrush(c("garnet_tint") if on else fill)
            p.drawPolygon(shape)
            if solid.kind == "floor" and solid.target[1] in self._hatched:
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(hatch(c("hatch")))
                p.drawPolygon(shape)
        # what is chosen stays visible through what stands before it
        for solid, shape in self._shapes:
            if solid.target in chosen:
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.setPen(pen(c("garnet"), 2.0))
                p.drawPolygon(shape)
        self._names(p)

    def _look(self, solid: Solid) -> tuple[QColor, QColor, float]:
        c = theme.colour
        if solid.kind == "floor":
            return self._fills.get(solid.target[1], c("sheet")), c("rule"), 0.8
        if solid.kind == "glass":
            glass = QColor(c("glass"))
            glass.setAlpha(170)
            return glass, c("glass"), 1.0
        if solid.kind == "door":
            return c("paper"), c("faint"), 0.8
        wall = QColor(mix(c("wall"), c("sheet"), 0.72 if solid.outside else 0.86))
        wall.setAlpha(120 if solid.outside else 70)
        return wall, c("wall"), 0.9 if solid.outside else 0.6

    def _chosen(self) -> set[tuple[str, str]]:
        kind, ids = self._state.selection.kind, self._state.selection.ids
        if kind == "zone":
            return {("room", r.id) for r in self._state.project.rooms if r.zone_id in ids}
        return {(kind, i) for i in ids}

    def _names(self, p: QPainter) -> None:
        """Numbers on floors where they fit; names of levels beside their lowest corner."""
        c, project = theme.colour, self._state.project
        foot: dict[str, QPointF] = {}
        for solid, shape in self._shapes:
            if solid.kind != "floor":
                continue
            room = find(project.rooms, solid.target[1])
            box = shape.boundingRect()
            leftmost = min(shape, key=lambda q: q.x())
            if room.level_id not in foot or leftmost.x() < foot[room.level_id].x():
                foot[room.level_id] = leftmost
            if box.width() > 44 and box.height() > 20:
                middle = sum((QPointF(q) for q in shape), QPointF()) / shape.size()
                text(p, middle, room.number, c("ink"), 10.5, halo=self._fills.get(room.id, c("sheet")))
        for level_id, at in foot.items():
            level = find(project.levels, level_id)
            text(
                p, QPointF(at.x() - 8, at.y()), level.name, c("faint"), 11, 500, Qt.AlignmentFlag.AlignRight, c("paper")
            )

    # -- hand ----------------------------------------------------------------------------------------------------
    def what_is_at(self, at: QPointF) -> tuple[str, str]:
        """The face in front under a pixel: openings before their wall, walls before floors where they are close."""
        for solid, shape in reversed(self._shapes):
            if solid.kind in ("glass", "door") and _near(shape, at):
                return solid.target
        for solid, shape in reversed(self._shapes):
            if shape.containsPoint(at, Qt.FillRule.OddEvenFill):
                return solid.target
        return "", ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._press, self._dragged = event.position(), False
        self._grip = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._press is None:
            return
        at = event.position()
        if not self._dragged and hypot(at.x() - self._press.x(), at.y() - self._press.y()) < 5:
            return
        self._dragged = True
        if event.buttons() & Qt.MouseButton.MiddleButton:
            self._offset += at - self._grip
        else:
            self.turn_deg = (self.turn_deg - (at.x() - self._grip.x()) * 0.4) % 360
        self._grip = at
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._press is not None and not self._dragged and event.button() == Qt.MouseButton.LeftButton:
            kind, found = self.what_is_at(event.position())
            add = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier))
            self.picked.emit(kind, (found,) if found else (), add)
        self._press = None

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom = min(12.0, max(0.3, self.zoom * 1.0015 ** event.angleDelta().y()))
        self.update()

    def fit(self) -> None:
        self.zoom, self._offset = 1.0, QPointF()
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.turn_deg = (self.turn_deg + (TURN_STEP if key == Qt.Key.Key_Left else -TURN_STEP)) % 360
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.apart = min(2.0, self.apart + 0.1)
        elif key == Qt.Key.Key_Minus:
            self.apart = max(0.0, self.apart - 0.1)
        elif key == Qt.Key.Key_F:
            self.fit()
        elif key == Qt.Key.Key_Escape:
            self.picked.emit("", (), False)
        else:
            super().keyPressEvent(event)
            return
        self.update()


def _near(shape: QPolygonF, at: QPointF) -> bool:
    """On an opening, or within 3 px of a narrow one."""
    if shape.containsPoint(at, Qt.FillRule.OddEvenFill):
        return True
    path = QPainterPath()
    path.addPolygon(shape)
    return path.intersects(QRectF(at.x() - 2, at.y() - 2, 4, 4))
