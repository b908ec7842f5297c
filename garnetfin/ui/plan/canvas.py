"""The plan: one scene for all views, panned and zoomed, with the tool in hand."""

import time
from math import atan2, degrees
from typing import Any

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPixmap, QTransform, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from garnetfin.engine.layout.equipment_outlines import Placed
from garnetfin.engine.layout.inline_outlines import PlacedPart
from garnetfin.engine.results import DuctResult
from garnetfin.project.edits.groups import SetNorth
from garnetfin.project.lookup import find
from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.air_layer import air_shadow, paint_air
from garnetfin.ui.plan.duct_layer import (
    DuctLabel,
    duct_labels,
    paint_ducts,
    paint_labels,
    paint_unsized,
    paint_zones,
    unsized,
)
from garnetfin.ui.plan.equipment_layer import equipment_shadow, paint_equipment, placed_on
from garnetfin.ui.plan.geometry import distance_to, duct_paths, polygon, wall_paths
from garnetfin.ui.plan.inline_layer import paint_parts, part_at, parts_on, parts_shadow
from garnetfin.ui.plan.underlay import bounds, nearest_axes, nearest_end, paint_underlay
from garnetfin.ui.state import Selection, State
from garnetfin.ui.theme import theme

MARGIN = 58.0
NEAR_PX = 7.0
# a plan that takes long to draw follows the hand as a picture and is drawn anew at rest
CRISP_AFTER_MS = 90
SLOW_S = 0.02
SNAP_PX = 9.0
CLOSEST = 42.0  # px/m at most when the whole plan is shown: a first room leaves space beside it


class PlanCanvas(QWidget):
    """Shows one level of a State in a PlanStyle; says what was picked and what the tool asks for."""

    picked = Signal(str, tuple, bool)  # kind, ids, add to what is selected
    intent = Signal(object)
    hint = Signal(str)
    north_asked = Signal()  # the north arrow was clicked

    def __init__(self, parent: QWidget | None = None, still: bool = False) -> None:
        super().__init__(parent)
        self._still = still  # a small plan: no pan, no zoom, no north arrow
        self._state: State | None = None
        self._style = layers.PlanStyle()
        self._level = ""
        self._scale, self._middle = 24.0, QPointF(17, 6)
        self._fitted = False
        self._grip: QPointF | None = None
        self._painted: tuple | None = None
        self._picture = QPixmap()
        self._parts: tuple = ()  # holds what the key names by identity
        self.tool: Any = None
        self.hand: Any = None  # set by a view whose rooms can be moved and pulled
        self.labels: tuple[DuctLabel, ...] = ()  # of ducts, where they were painted
        self.pieces: tuple[Placed, ...] = ()  # of equipment, where they were painted
        self.parts: tuple[PlacedPart, ...] = ()  # in ducts, where they were painted
        self.contents: dict[str, bytes] = {}  # what underlays show, by content hash
        self.button_down = False
        self._picture_map = QTransform()
        self._turn: float | None = None  # the arrow while it is dragged
        self._turn_from: QPointF | None = None
        self._took = 0.0
        self._rest = QTimer(self, singleShot=True, interval=CRISP_AFTER_MS)
        self._rest.timeout.connect(self.update)
        self.caption = ""  # the level's name, where two are shown
        self.legend: tuple = ()  # (fill, label) pairs at the foot
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus if still else Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Plan")

    # -- showing -------------------------------------------------------------------------------------------------
    def render_state(self, state: State, style: layers.PlanStyle, level_id: str) -> None:
        moved = self._state is None or state.project.levels is not self._state.project.levels
        self._state, self._style, self._level = state, style, level_id
        if moved or not self._fitted:
            self.fit()
        if self._key() != self._painted:
            self._rest.stop()
            self.update()

    def _key(self) -> tuple | None:
        """All that the picture depends on; while it stays, the picture does."""
        if self._state is None:
            return None
        project = self._state.project
        parts = (
            project.walls,
            project.plan_marks,
            project.obstacles,
            project.ceiling_zones,
            project.duct_points,
            project.segments,
            project.terminals,
            project.underlays,
            *self.networks,
        )
        return (
            tuple(id(x) for x in parts),
            tuple((r.id, r.outline) for r in project.rooms),
            self._style,
            self._level,
            self._state.selection,
            self.map,
            self.size(),
            self.devicePixelRatioF(),
            theme.dark,
            self.legend,
            self.caption,
            project.site.north_deg if project.site else 0.0,
            id(self._state.found) if self._style.air or self._style.terminals else 0,
        )

    @property
    def state(self) -> State | None:
        return self._state

    @property
    def level_id(self) -> str:
        return self._level

    @property
    def ducts(self) -> DuctResult | None:
        if self._state is None or not self._state.known:
            return None
        found = self._state.results.network(self._state.show.system_id, self._state.show.air)
        return found if isinstance(found, DuctResult) else None

    @property
    def networks(self) -> tuple[DuctResult, ...]:
        """All ducts of the system, in the order they are painted: supply last."""
        return (
            self._state.results.networks(self._state.show.system_id)
            if self._state is not None and self._state.known
            else ()
        )

    def fit(self) -> None:
        """The whole building in view: all levels share one frame, so that they lie over each other."""
        if self._state is None:
            return
        box = QRectF()
        for level in self._state.project.levels:
            if not self._still or level.id == self._level:
                box = box.united(wall_paths(self._state.project, level.id).bounds)
        if not self._still:
            for under, content in self.underlays(everywhere=True):
                box = box.united(bounds(under, content))
        if self.width() < 50:
            return
        if box.isEmpty():
            box = QRectF(-2, -2, 28, 16)  # room to draw in
        margin = 6.0 if self._still else MARGIN
        top, foot = (6.0, 6.0) if self._still else (20.0, 52.0)
        self._scale = min((self.width() - 2 * margin) / box.width(), (self.height() - top - foot) / box.height())
        self._scale = min(max(self._scale, 1.0), 1e9 if self._still else CLOSEST)
        self._middle = QPointF(box.center().x(), box.center().y() - (foot - top) / 2 / self._scale)
        self._fitted = True
        self.update()

    def refit(self) -> None:
        """Fit anew with the next rendering, when there is something new to see."""
        self._fitted = False
        self.fit()

    def _north_at(self) -> QPointF:
        return QPointF(self.width() - 32, 44)

    def zoom(self, factor: float, about: QPointF | None = None) -> None:
        about = about or QPointF(self.width() / 2, self.height() / 2)
        before = self.to_metres(about)
        self._scale = min(400.0, max(2.0, self._scale * factor))
        after = self.to_metres(about)
        self._middle += before - after
        self._follow()

    def pan(self, dx: float, dy: float) -> None:
        """Move what is seen by pixels."""
        self._middle -= QPointF(dx / self._scale, -dy / self._scale)
        self._follow()

    def _follow(self) -> None:
        """After a pan or zoom: a plan that is slow to draw follows as a picture until the hand rests."""
        if self._took > SLOW_S:
            self._rest.start()
        self.update()

    def underlays(self, everywhere: bool = False) -> list:
        """(underlay, content) of what lies under the level shown."""
        if self._state is None:
            return []
        return [
            (u, self.contents[u.content])
            for u in self._state.project.underlays
            if u.content in self.contents and u.visible and (everywhere or u.level_id == self._level)
        ]

    def nearest_line_end(self, at: QPointF) -> tuple[float, float] | None:
        """The end of a line of the drawing below that attracts the mouse at a place [m]."""
        return nearest_end(self.underlays(), at.x(), at.y(), SNAP_PX / self._scale)

    def nearest_line_axes(self, at: QPointF) -> tuple[float | None, float | None]:
        """x of an upright and y of a level line of the drawing below that attract the mouse [m]."""
        return nearest_axes(self.underlays(), at.x(), at.y(), SNAP_PX / self._scale)

    def centre_on(self, x: float, y: float) -> None:
        at = self.map.map(QPointF(x, y))
        if not QRectF(self.rect()).adjusted(20, 20, -20, -20).contains(at):
            self._middle = QPointF(x, y)
            self.update()

    @property
    def map(self) -> QTransform:
        s = self._scale
        return QTransform(
            s, 0, 0, -s, self.width() / 2 - self._middle.x() * s, self.height() / 2 + self._middle.y() * s
        )

    def to_metres(self, at: QPointF) -> QPointF:
        return self.map.inverted()[0].map(at)

    # -- painting ------------------------------------------------------------------------------------------------
    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour("paper"))
        if self._state is not None:
            key = self._key()
            if key != self._painted and not self._rest.isActive():
                started = time.perf_counter()
                self._picture, self._painted, self._picture_map = self._drawn(), key, self.map
                self._took = time.perf_counter() - started
                self._parts = self._state.project, self.networks, self._state.found
            if self._rest.isActive() and self.map != self._picture_map:
                p.setTransform(self._picture_map.inverted()[0] * self.map)
                p.drawPixmap(0, 0, self._picture)
                p.resetTransform()
            else:
                p.drawPixmap(0, 0, self._picture)
            for tool in (self.tool, self.hand):
                if tool is not None:
                    tool.paint(p, self.map)
        if ringed(self) and not self._still:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(layers.pen(theme.colour("garnet"), 1.0, Qt.PenStyle.DotLine))
            p.drawRect(QRectF(self.rect()).adjusted(1, 1, -2, -2))

    def _drawn(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        picture = QPixmap(self.size() * ratio)
        picture.setDevicePixelRatio(ratio)
        picture.fill(theme.colour("paper"))
        p = QPainter(picture)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint(p)
        p.end()
        return picture

    def paint(self, p: QPainter) -> None:
        state, m, level, style = self._state, self.map, self._level, self._style
        if state is None:
            return
        project = state.project
        below = self.underlays() if not self._still else []
        for under, content in below:
            if under.kind == "picture":
                paint_underlay(p, m, under, content)
        if below:
            p.setOpacity(0.6)
        layers.paint_rooms(p, m, project, level, style)
        p.setOpacity(1.0)
        for under, content in below:
            if under.kind == "lines":
                paint_underlay(p, m, under, content)
        pieces = self.pieces = self._equipment(state, level, style)
        parts = self.parts = parts_on(project, self.networks, level) if style.ducts and not self._still else ()
        own = any(x.kind.startswith("unit") for x in pieces)
        layers.paint_marks(p, m, project, level, style.compact, not own)
        labels: list[QRectF] = []
        shadow = equipment_shadow(m, pieces)
        if not self._still and not style.ducts:
            taken = None
            if style.air and state.known:
                taken = layers.duct_shadow(m, project, None, level)
                taken.addPath(shadow)
                taken.addPath(air_shadow(m, state, level, taken))
            labels = layers.paint_room_labels(p, m, project, level, style, taken)
        layers.paint_walls(p, m, project, level, style.wall_fills)
        if not style.compact and not style.ducts:
            layers.paint_doors(p, m, project, level, labels)
        if style.ducts:
            layers.paint_obstacles(p, m, project, level, style.others, state.selection.of("obstacle"))
            taken = layers.duct_shadow(m, project, None, level)
            for ducts in self.networks:
                taken.addPath(layers.duct_shadow(m, project, ducts, level))
            taken.addPath(shadow)
            taken.addPath(parts_shadow(m, parts))
            clear = tuple(m.mapRect(polygon(x.outline).boundingRect()) for x in pieces)
            clear += tuple(m.mapRect(polygon(x.corners).boundingRect()) for x in parts)
            self.labels = duct_labels(m, project, self.networks, level, style, taken, clear)
            for label in self.labels:
                taken.addRect(label.covered)
            labels = layers.paint_room_labels(p, m, project, level, style, taken)
            if not style.compact:
                layers.paint_doors(p, m, project, level, labels)
            if style.zones:
                paint_zones(p, m, project, level, style.units, state.selection, taken)
            for ducts in self.networks:
                paint_ducts(p, m, project, ducts, level, style, state.selection)
            if parts:
                beside = QPainterPath(taken)
                for box in labels:
                    beside.addRect(box)
                paint_parts(p, m, parts, state.selection, beside)
            paint_unsized(p, m, unsized(project, self.networks, state.show.system_id, level), state.selection)
            paint_labels(p, self.labels, self.networks, style, state.selection)
        if pieces:
            beside = layers.duct_shadow(m, project, None, level)
            beside.addPath(shadow)
            for box in (*labels, *((x.covered for x in self.labels) if style.ducts else ())):
                beside.addRect(box)
            for ducts in self.networks if style.ducts else ():
                beside.addPath(layers.duct_shadow(m, project, ducts, level))
            paint_equipment(p, m, pieces, state.selection, beside)
        if style.air and state.known:
            beside = layers.duct_shadow(m, project, None, level)
            beside.addPath(shadow)
            paint_air(p, m, state, level, beside)
        if style.ducts or style.terminals:
            known = state.results.terminals if state.known else {}
            layers.paint_terminals(
                p,
                m,
                project,
                {i: t.flow_m3s for i, t in known.items()},
                level,
                style.units,
                state.selection,
                style.quiet,
            )
        if self._still:
            layers.paint_room_labels(p, m, project, level, style)
        layers.paint_selection(p, m, project, level, state.selection, style.units, not style.compact)
        if not self._still:
            north = project.site.north_deg if project.site else 0.0
            layers.paint_north(p, self._north_at(), north if self._turn is None else self._turn)
            self._paint_foot(p, m, style.units)

    def _equipment(self, state: State, level: str, style: layers.PlanStyle) -> tuple[Placed, ...]:
        """Boxes and units in rooms, where the air or its ducts are shown in full."""
        if not state.known or self._still or style.compact or style.quiet or not (style.ducts or style.air):
            return ()
        drawn = state.results.ducts.get(state.show.system_id)
        return placed_on(state.results, drawn if isinstance(drawn, DuctResult) else None, level)

    def _paint_foot(self, p: QPainter, m: QTransform, units: str) -> None:
        if self.caption:
            layers.text(p, QPointF(16, 20), self.caption, theme.colour("ink"), 12.5, 600, Qt.AlignmentFlag.AlignLeft)
        y = self.height() - 16.0
        layers.paint_scale(p, m, QPointF(22, y), units)
        x = 22 + 10 * m.m11() + 34
        for fill, label in ((f, tr(words)) for f, words in self.legend):
            width = 20 + layers.text_width(label, 11, 400) + 14
            if x + width > self.width() - 8:
                break
            if callable(fill):
                fill(p, QRectF(x, y - 6, 14, 10))
            elif fill is not None:
                p.setBrush(fill)
                p.setPen(layers.pen(theme.colour("rule"), 1.0))
                p.drawRect(QRectF(x, y - 6, 11, 11))
            room = 20 if fill is not None else 0
            layers.text(p, QPointF(x + room, y), label, theme.colour("faint"), 11, align=Qt.AlignmentFlag.AlignLeft)
            x += width

    # -- picking -------------------------------------------------------------------------------------------------
    def what_is_at(self, at: QPointF) -> tuple[str, str]:
        """(kind, id) of the part under a pixel, the smallest first; ("", "") over nothing."""
        state = self._state
        if state is None:
            return "", ""
        metres = self.to_metres(at)
        here, near = (metres.x(), metres.y()), NEAR_PX / self._scale
        if self._style.terminals or self._style.ducts:
            for t in state.project.terminals:
                point = find(state.project.duct_points, t.point_id)
                if (
                    point.level_id == self._level
                    and abs(point.x_m - here[0]) < near * 1.4
                    and (abs(point.y_m - here[1]) < near * 1.4)
                ):
                    return "terminal", t.id
        if self._style.ducts:
            part = part_at(self.parts, self.map, at)
            if part is not None:
                return "inline", part.record.part_id
            best = (near, "")
            for network in self.networks[::-1]:  # the one on top first
                for segment_id, (a, b) in duct_paths(state.project, network, self._level).lines.items():
                    half = network.segments[segment_id].section.width_m / 2
                    best = min(best, (distance_to(here, a, b)[0] - half, segment_id))
            for segment_id, (_, a, b) in unsized(
                state.project, self.networks, state.show.system_id, self._level
            ).items():
                best = min(best, (distance_to(here, a, b)[0], segment_id))
            if best[1]:
                return "segment", best[1]
            found = self._in_ceiling(metres, near)
            if found[1]:
                return found
        else:
            for wall, opening, start, end in wall_paths(state.project, self._level).hits:
                if distance_to(here, start, end)[0] < max(near, wall.thickness_m / 2):
                    return "opening", f"{wall.id}/{opening.id}"
        room_id = self.room_at(metres)
        return ("room", room_id) if room_id else ("", "")

    def why_at(self, at: QPointF) -> tuple:
        """What the part under a pixel comes to, by the link in hand."""
        kind, found = self.what_is_at(at)
        match kind:
            case "room":
                return (
                    ("flow", found)
                    if self._state.show.link in ("Air", "Ducts", "Balance")
                    else ("room", found, "cooling")
                )
            case "segment":
                return ("duct", found, "flow" if self._state.show.link == "Balance" else "size")
            case "inline":
                return ("inline", found, "pressure_pa")
            case "terminal":
                # What a terminal gets under a what-if is solved beside the results.
                return (
                    ("terminal flow", found)
                    if self._state.show.link != "Balance"
                    else ("gets", found)
                    if not self._state.show.what.any
                    else ()
                )
            case "opening":
                return ("opening", *found.split("/"), "area")
            case "ceiling zone":
                return ("free height", found)
        return ()

    def _in_ceiling(self, metres: QPointF, near: float) -> tuple[str, str]:
        """The obstacle at a place, or the zone whose outline runs there."""
        here = (metres.x(), metres.y())
        for obstacle in self._state.project.obstacles:
            shown = obstacle.level_id == self._level and (self._style.others or not obstacle.source)
            if shown and polygon(obstacle.outline).containsPoint(metres, Qt.FillRule.OddEvenFill):
                return "obstacle", obstacle.id
        for zone in self._state.project.ceiling_zones if self._style.zones else ():
            corners = zone.outline
            if zone.level_id == self._level and any(
                distance_to(here, a, b)[0] < near * 0.7 for a, b in zip(corners, corners[1:] + corners[:1])
            ):
                return "ceiling zone", zone.id
        return "", ""

    def room_at(self, metres: QPointF) -> str:
        """The room at a place of the plan [m], "" where there is none."""
        for room in self._state.project.rooms if self._state else ():
            if room.level_id == self._level and polygon(room.outline).containsPoint(metres, Qt.FillRule.OddEvenFill):
                return room.id
        return ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() == Qt.MouseButton.MiddleButton and not self._still:
            self._grip = at
        elif event.button() == Qt.MouseButton.LeftButton:
            self.button_down = True
            if self.tool is not None:
                self.tool.press(self.to_metres(at), event.modifiers())
                return
            if self.hand is not None:
                if (at - self._north_at()).manhattanLength() < 20:
                    self._turn_from = at
                    return
                self.hand.press(at, event.modifiers())
                return
            kind, found = self.what_is_at(at)
            add = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier))
            self.picked.emit(kind, (found,) if found else (), add)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.tool is not None:
            self.tool.finish()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._grip is not None:
            self.pan(at.x() - self._grip.x(), at.y() - self._grip.y())
            self._grip = at
        elif self._turn_from is not None:
            self._turn_north(at)
        elif self.tool is not None:
            self.tool.move(self.to_metres(at), event.modifiers())
        elif self.hand is not None:
            if self.hand.busy:
                self.hand.move(at)
            else:
                self.setCursor(self.hand.cursor_at(at))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.MiddleButton:
            self._grip = None
            return
        self.button_down = False
        if self.tool is not None and event.button() == Qt.MouseButton.LeftButton and hasattr(self.tool, "release"):
            self.tool.release(self.to_metres(event.position()), event.modifiers())
            return
        if self._turn_from is not None:
            turned, self._turn_from, self._turn = self._turn, None, None
            if turned is None:
                self.north_asked.emit()
            else:
                self.intent.emit(SetNorth(turned))
            self.update()
            return
        if self.tool is None and self.hand is not None and self.hand.busy:
            self.hand.release(event.position())

    def _turn_north(self, at: QPointF) -> None:
        """Dragging around the arrow turns it, in steps of 5 degrees; a click asks for a typed one."""
        away = at - self._north_at()
        if self._turn is None and (at - self._turn_from).manhattanLength() < 6:
            return
        self._turn = -round(degrees(atan2(away.x(), -away.y())) / 5) * 5 % 360
        self.hint.emit(f"North at {self._turn:.0f}°")
        self._painted = None
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self._still:
            event.ignore()
            return
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.tool is not None and self.tool.key(event):
            return
        step = 40 / self._scale
        moves = {
            Qt.Key.Key_Left: (-step, 0),
            Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, step),
            Qt.Key.Key_Down: (0, -step),
        }
        far = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self.tool is None and self.hand is not None and self.hand.nudge(event.key(), far):
            return
        if event.key() in moves:
            self._middle += QPointF(*moves[event.key()])
            self._follow()
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.2)
        elif event.key() == Qt.Key.Key_Minus:
            self.zoom(1 / 1.2)
        elif event.key() == Qt.Key.Key_F:
            self.fit()
        elif event.key() == Qt.Key.Key_Escape:
            self.picked.emit("", (), False)
        else:
            super().keyPressEvent(event)

    def _pick_next(self) -> bool:
        """Walk through the rooms of the level by keyboard; False after the last one."""
        if self._state is None:
            return False
        rooms = [r.id for r in self._state.project.rooms if r.level_id == self._level]
        now = self._state.selection.of("room")
        at = rooms.index(now[0]) + 1 if now and now[0] in rooms else 0
        if at >= len(rooms):
            return False
        self.picked.emit("room", (rooms[at],), False)
        return True

    def event(self, event: QEvent) -> bool:
        # Tab walks through rooms while the plan has the focus, and after the last one on to the next part.
        if (
            event.type() == QEvent.Type.KeyPress
            and event.key() == Qt.Key.Key_Tab
            and not self._still
            and (not event.modifiers())
            and self.tool is None
            and self._pick_next()
        ):
            return True
        return super().event(event)

    def resizeEvent(self, event) -> None:
        if self._still or not event.oldSize().isValid() or not self._fitted or (event.oldSize().width() < 100):
            self.fit()
        super().resizeEvent(event)

    def selection(self) -> Selection:
        return self._state.selection if self._state else Selection()
