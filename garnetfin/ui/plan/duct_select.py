"""The hand on the plan of Ducts: pick, drag ducts, their ends, terminals and labels; what hangs on them follows; nudge
by the arrow keys.
"""

from math import hypot

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QTransform

from garnetfin import display
from garnetfin.core.errors import GarnetfinError
from garnetfin.project.edits.duct_runs import MovePoint
from garnetfin.project.edits.duct_shape import MoveDucts, carried
from garnetfin.project.edits.duct_values import MoveLabel
from garnetfin.project.edits.inline import MoveInline
from garnetfin.project.edits.terminals import MoveTerminals
from garnetfin.project.inline import inline_part
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.geometry import distance_to, duct_paths
from garnetfin.ui.theme import theme

THRESHOLD_PX, STEP_M, STRIDE_M, SNAP_PX, GRIP_PX = 5.0, 0.05, 0.5, 7.0, 7.0
ADD = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier


class DuctHand:
    """Takes the left mouse button of a canvas; previews by itself and asks for one command on release."""

    def __init__(self, canvas) -> None:
        self.canvas = canvas
        self._from: QPointF | None = None
        self._hit: tuple[str, str] = ("", "")  # segment, end (a duct point), terminal, label, "" (a band)
        self._shift: tuple[float, float] | None = None
        self._moved: frozenset[str] = frozenset()  # duct points that go along
        self._free = False

    @property
    def busy(self) -> bool:
        return self._from is not None

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self._from, self._shift, self._free = at, None, bool(modifiers & Qt.KeyboardModifier.AltModifier)
        label = next((x.segment_id for x in self.canvas.labels if x.covered.contains(at) and not x.on_duct), "")
        end = self._end_at(at)
        self._hit = ("end", end) if end else ("label", label) if label else self.canvas.what_is_at(at)
        kind, found = self._hit
        self._moved = frozenset()
        if kind in ("end", "label"):
            if kind == "label" and found not in self.canvas.selection().of("segment"):
                self.canvas.picked.emit("segment", (found,), False)
            return
        add = bool(modifiers & ADD)
        if not found or add or found not in self.canvas.selection().of(kind):
            self.canvas.picked.emit(kind, (found,) if found else (), add)

    def move(self, at: QPointF) -> None:
        if self._from is None or (
            self._shift is None and hypot(at.x() - self._from.x(), at.y() - self._from.y()) < THRESHOLD_PX
        ):
            return
        a, b = self.canvas.to_metres(self._from), self.canvas.to_metres(at)
        dx, dy = b.x() - a.x(), b.y() - a.y()
        kind = self._hit[0]
        if kind == "inline":
            self._shift, self._to = (dx, dy), at
            self._say_place()
            self.canvas.update()
            return
        if kind == "segment":
            dx, dy = self._across(dx, dy)
            if not self._moved:
                try:
                    self._moved = frozenset(carried(self.canvas.state.project, self._chosen(), (dx, dy, 0.0)))
                except GarnetfinError:
                    return
        self._shift = (dx, dy) if kind in ("label", "room", "") else self._stepped(dx, dy)
        if kind in ("segment", "end", "terminal"):
            self.canvas.hint.emit(
                f"Move by {display.number(self._shift[0], 2)}, {display.number(self._shift[1], 2)} m; what hangs on "
                f"it follows"
            )
        else:
            self._shift = (dx, dy)
        self._to = at
        self.canvas.update()

    def release(self, at: QPointF) -> None:
        shift, start, self._from, self._shift = self._shift, self._from, None, None
        self.canvas.update()
        if shift is None or not any(shift):
            return
        kind, found = self._hit
        project = self.canvas.state.project
        if kind == "segment":
            self.canvas.intent.emit(MoveDucts(self._chosen(), round(shift[0], 4), round(shift[1], 4)))
        elif kind == "end":
            point = find(project.duct_points, found)
            self.canvas.intent.emit(
                MovePoint(found, round(point.x_m + shift[0], 4), round(point.y_m + shift[1], 4), point.z_m)
            )
        elif kind == "terminal":
            chosen = self.canvas.selection().of("terminal")
            self.canvas.intent.emit(MoveTerminals(chosen if found in chosen else (found,), *shift))
        elif kind == "inline":
            place = self._place_of_part(at)
            if place is not None:
                self.canvas.intent.emit(MoveInline(found, place[1], place[0]))
        elif kind == "label":
            old = self._label_at(found)
            self.canvas.intent.emit(MoveLabel(found, (round(old[0] + shift[0], 3), round(old[1] + shift[1], 3))))
        elif kind in ("", "room"):
            self._band(start, at)

    def cancel(self) -> None:
        self._from, self._shift = None, None
        self.canvas.update()

    def nudge(self, key: int, far: bool) -> bool:
        """Chosen ducts or terminals by 50 mm with an arrow key, 0.5 m with Shift; ducts by PgUp and PgDn in height."""
        step = STRIDE_M if far else STEP_M
        way = {
            Qt.Key.Key_Left: (-step, 0.0, 0.0),
            Qt.Key.Key_Right: (step, 0.0, 0.0),
            Qt.Key.Key_Up: (0.0, step, 0.0),
            Qt.Key.Key_Down: (0.0, -step, 0.0),
            Qt.Key.Key_PageUp: (0.0, 0.0, step),
            Qt.Key.Key_PageDown: (0.0, 0.0, -step),
        }.get(key)
        selection = self.canvas.selection()
        if way is None or not (selection.of("segment") or selection.of("terminal")):
            return False
        if selection.of("segment"):
            self.canvas.intent.emit(MoveDucts(selection.ids, *way))
        elif not way[2]:
            self.canvas.intent.emit(MoveTerminals(selection.ids, *way[:2]))
        return True

    def cursor_at(self, at: QPointF) -> Qt.CursorShape:
        movable = (
            self._end_at(at)
            or self.canvas.what_is_at(at)[0] in ("segment", "terminal", "inline")
            or any(x.covered.contains(at) and not x.on_duct for x in self.canvas.labels)
        )
        return Qt.CursorShape.SizeAllCursor if movable else Qt.CursorShape.ArrowCursor

    # -- inside --------------------------------------------------------------------------------------------------
    def _place_of_part(self, at: QPointF) -> tuple[str, float] | None:
        """(duct, share of its length) where a dragged part would stand: along its own duct in steps of 50 mm, into
        another where it is taken onto one.
        """
        state = self.canvas.state
        found = inline_part(state.project, self._hit[1])
        if found is None:
            return None
        here = self.canvas.to_metres(at)
        near = GRIP_PX / self.canvas.map.m11()
        best = None
        for network in self.canvas.networks:
            for i, (a, b) in duct_paths(state.project, network, self.canvas.level_id).lines.items():
                apart, share = distance_to((here.x(), here.y()), a, b)
                apart = max(0.0, apart - network.segments[i].section.width_m / 2)
                if i != found[0].id and apart > near:
                    continue  # only its own duct draws it from afar
                long = hypot(b[0] - a[0], b[1] - a[1])
                step = round(share * long / STEP_M) * STEP_M / max(long, 1e-9)
                key = (apart + (0.0 if i == found[0].id else near / 4), i, min(max(step, 0.0), 1.0))
                best = key if best is None or key < best else best
        return None if best is None else (best[1], round(best[2], 5))

    def _say_place(self) -> None:
        place = self._place_of_part(self._to)
        if place is not None:
            self.canvas.hint.emit(f"Into duct {place[0]}, {place[1] * 100:.0f} % along it")

    def _chosen(self) -> tuple[str, ...]:
        chosen = self.canvas.selection().of("segment")
        return chosen if self._hit[1] in chosen else (self._hit[1],)

    def _end_at(self, at: QPointF) -> str:
        """The duct point at an end of the one chosen duct."""
        state = self.canvas.state
        ids = state.selection.of("segment") if state else ()
        segment = find(state.project.segments, ids[0]) if len(ids) == 1 else None
        for point_id in (segment.a, segment.b) if segment is not None else ():
            point = find(state.project.duct_points, point_id)
            place = self.canvas.map.map(QPointF(point.x_m, point.y_m))
            if (
                point.level_id == self.canvas.level_id
                and abs(place.x() - at.x()) < GRIP_PX
                and abs(place.y() - at.y()) < GRIP_PX
            ):
                return point_id
        return ""

    def _across(self, dx: float, dy: float) -> tuple[float, float]:
        """A single duct moves across itself unless Alt is held; an upright one either way."""
        if self._free or len(self._chosen()) > 1:
            return dx, dy
        project = self.canvas.state.project
        segment = find(project.segments, self._hit[1])
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        length = hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        if length < 0.02:
            return dx, dy
        nx, ny = -(b.y_m - a.y_m) / length, (b.x_m - a.x_m) / length
        along = round((dx * nx + dy * ny) / STEP_M) * STEP_M
        return nx * along, ny * along

    def _stepped(self, dx: float, dy: float) -> tuple[float, float]:
        """In line with another duct point nearby (ends), else in steps of 50 mm; what moves across itself keeps its
        way.
        """
        if self._hit[0] == "segment" and not self._free and len(self._chosen()) == 1:
            return dx, dy
        project, near = self.canvas.state.project, SNAP_PX / self.canvas.map.m11()
        if self._hit[0] == "end":
            own = find(project.duct_points, self._hit[1])
            others = [p for p in project.duct_points if p.id != own.id and p.level_id == own.level_id]
            x = min((p.x_m for p in others), key=lambda v: abs(v - own.x_m - dx), default=None)
            y = min((p.y_m for p in others), key=lambda v: abs(v - own.y_m - dy), default=None)
            x = x if x is not None and abs(x - own.x_m - dx) < near else None
            y = y if y is not None and abs(y - own.y_m - dy) < near else None
            return (
                x - own.x_m if x is not None else round(dx / STEP_M) * STEP_M,
                y - own.y_m if y is not None else round(dy / STEP_M) * STEP_M,
            )
        return round(dx / STEP_M) * STEP_M, round(dy / STEP_M) * STEP_M

    def _label_at(self, segment_id: str) -> tuple[float, float]:
        """Where a label stands now, from the middle of its duct [m]."""
        label = next(x for x in self.canvas.labels if x.segment_id == segment_id)
        at = self.canvas.to_metres(label.at)
        project = self.canvas.state.project
        segment = find(project.segments, segment_id)
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        return at.x() - (a.x_m + b.x_m) / 2, at.y() - (a.y_m + b.y_m) / 2

    def _band(self, start: QPointF, at: QPointF) -> None:
        box = QRectF(start, at).normalized()
        inside = tuple(
            i
            for network in self.canvas.networks
            for i, (a, b) in duct_paths(self.canvas.state.project, network, self.canvas.level_id).lines.items()
            if box.contains(self.canvas.map.map(QPointF(*a))) and box.contains(self.canvas.map.map(QPointF(*b)))
        )
        self.canvas.picked.emit("segment" if inside else "", inside, False)

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._shift is None:
            return
        c, project, (dx, dy) = theme.colour, self.canvas.state.project, self._shift
        kind, found = self._hit
        dashed = layers.pen(c("garnet"), 1.4)
        dashed.setDashPattern([5, 3])
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(dashed)
        if kind in ("", "room"):
            p.drawRect(QRectF(self._from, self._to).normalized())
            return
        if kind == "inline":
            self._paint_part(p, m)
            return
        if kind == "label":
            label = next((x for x in self.canvas.labels if x.segment_id == found), None)
            if label is not None:
                p.drawRect(label.box.translated(dx * m.m11(), -dy * m.m11()))
            return
        if kind == "terminal":
            chosen = self.canvas.selection().of("terminal")
            for terminal_id in chosen if found in chosen else (found,):
                point = find(project.duct_points, find(project.terminals, terminal_id).point_id)
                p.drawEllipse(m.map(QPointF(point.x_m + dx, point.y_m + dy)), 6, 6)
            return
        self._paint_ducts(p, m, self._moved if kind == "segment" else frozenset({found}), (dx, dy))

    def _paint_part(self, p: QPainter, m: QTransform) -> None:
        """A cross where the part would stand."""
        place = self._place_of_part(self._to)
        if place is None:
            return
        segment = find(self.canvas.state.project.segments, place[0])
        a, b = (find(self.canvas.state.project.duct_points, i) for i in (segment.a, segment.b))
        at = m.map(QPointF(a.x_m + place[1] * (b.x_m - a.x_m), a.y_m + place[1] * (b.y_m - a.y_m)))
        p.drawEllipse(at, 8, 8)
        p.drawLine(at + QPointF(-11, 0), at + QPointF(11, 0))
        p.drawLine(at + QPointF(0, -11), at + QPointF(0, 11))

    def _paint_ducts(self, p: QPainter, m: QTransform, moved: frozenset[str], by: tuple[float, float]) -> None:
        """Outlines of the ducts that go along."""
        project, (dx, dy) = self.canvas.state.project, by
        widths = {i: r.section.width_m for n in self.canvas.networks for i, r in n.segments.items()}
        path = QPainterPath()
        for segment in project.segments:
            if segment.a not in moved and segment.b not in moved:
                continue
            ends = []
            for point_id in (segment.a, segment.b):
                point = find(project.duct_points, point_id)
                along = point_id in moved
                ends.append((point.x_m + (dx if along else 0.0), point.y_m + (dy if along else 0.0)))
            (ax, ay), (bx, by) = ends
            length = hypot(bx - ax, by - ay)
            if length < 1e-6:
                continue
            half = widths.get(segment.id, 0.1) / 2
            nx, ny = -(by - ay) / length * half, (bx - ax) / length * half
            path.moveTo(ax + nx, ay + ny)
            for x, y in ((bx + nx, by + ny), (bx - nx, by - ny), (ax - nx, ay - ny), (ax + nx, ay + ny)):
                path.lineTo(x, y)
        p.drawPath(m.map(path))
