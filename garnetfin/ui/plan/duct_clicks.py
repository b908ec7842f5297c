"""Tools of Ducts that work by single clicks: join open ends, split, merge; and areas of the ceiling."""

from collections.abc import Callable
from math import hypot

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QTransform

from garnetfin import display
from garnetfin.engine.layout.joining import Joining, joining
from garnetfin.project.edits import Command
from garnetfin.project.edits.ceilings import AddCeilingZone, AddObstacle
from garnetfin.project.edits.duct_shape import MergeDuct, SplitDuct, open_ends
from garnetfin.project.edits.inline import PutInline
from garnetfin.project.lookup import find
from garnetfin.ui.plan import layers
from garnetfin.ui.plan.building_tools import ClickTool, mark
from garnetfin.ui.plan.geometry import distance_to, duct_paths
from garnetfin.ui.plan.room_tools import DrawRoom
from garnetfin.ui.theme import theme

NEAR_PX = 12.0


class JoinTool(ClickTool):
    """Two open ends joined with whatever fits; what it costs is shown before the second click."""

    hint = "Click an open end, then another: what joins them is shown with its loss before you click. Esc lets go."

    def __init__(self, canvas) -> None:
        super().__init__(canvas)
        self._first, self._over = "", ""
        self._found: Joining | None = None

    def _end_at(self, at: QPointF) -> str:
        project, near = self.canvas.state.project, NEAR_PX / self.canvas.map.m11()
        best = (near, "")
        for i in open_ends(project):
            point = find(project.duct_points, i)
            if point.level_id == self.canvas.level_id:
                best = min(best, (hypot(point.x_m - at.x(), point.y_m - at.y()), i))
        return best[1]

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        over = self._end_at(at)
        if over != self._over:
            self._over, self._found = over, None
            if over and self._first and over != self._first and self.canvas.state.known:
                self._found = joining(self.canvas.state.results, self._first, over)
        self.canvas.update()

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self.move(at, modifiers)
        if not self._over:
            self.canvas.hint.emit("There is no open end here. " + self.hint)
        elif not self._first or self._over == self._first:
            self._first = self._over
        elif self._found is not None and self._found.command is not None:
            self.canvas.intent.emit(self._found.command)
            self._first, self._over, self._found = "", "", None
        elif self._found is not None:
            self.canvas.hint.emit(f"Nothing fits: {self._found.missing}")
        self.canvas.update()

    def key(self, event: QKeyEvent) -> bool:
        if event.key() == Qt.Key.Key_Escape and self._first:
            self._first, self._found = "", None
            self.canvas.update()
            return True
        return False

    def paint(self, p: QPainter, m: QTransform) -> None:
        project, c = self.canvas.state.project, theme.colour
        known = {point.id for point in project.duct_points}
        for i in open_ends(project):
            point = find(project.duct_points, i)
            if point.level_id == self.canvas.level_id:
                p.setBrush(c("garnet") if i in (self._first, self._over) else c("sheet"))
                p.setPen(layers.pen(c("garnet"), 1.4))
                p.drawEllipse(m.map(QPointF(point.x_m, point.y_m)), 5, 5)
        if self._found is None or self._first not in known or self._over not in known:
            return
        a, b = find(project.duct_points, self._first), find(project.duct_points, self._over)
        line = [(a.x_m, a.y_m), *((x, y) for x, y, _ in self._found.between), (b.x_m, b.y_m)]
        at = m.map(QPointF(b.x_m, b.y_m))
        if self._found.command is None:
            layers.text(
                p,
                QPointF(at.x() + 10, at.y() - 14),
                self._found.missing,
                c("bad"),
                11,
                500,
                Qt.AlignmentFlag.AlignLeft,
                c("paper"),
            )
            return
        dashed = layers.pen(c("garnet"), 1.8)
        dashed.setDashPattern([4, 3])
        p.setPen(dashed)
        p.drawPolyline([m.map(QPointF(*q)) for q in line])
        words = self._found.kind + (
            ""
            if self._found.loss_pa is None
            else f", {display.with_unit('fine_pressure', self._found.loss_pa, self.canvas.state.show.units)}"
        )
        layers.text(
            p, QPointF(at.x() + 10, at.y() - 14), words, c("garnet"), 11, 500, Qt.AlignmentFlag.AlignLeft, c("paper")
        )


class _OnDuct(ClickTool):
    """A click on a duct gives one command, by the duct and the share of its length from its first end."""

    hint = ""

    def __init__(self, canvas, command: Callable[[str, float], Command]) -> None:
        super().__init__(canvas)
        self._command = command
        self._spot: tuple | None = None

    def _duct_at(self, at: QPointF) -> tuple[str, float, tuple[float, float]]:
        """(segment, share of its length from its first end, place) nearest to a point."""
        best = (NEAR_PX / self.canvas.map.m11(), "", 0.0, (0.0, 0.0))
        for network in self.canvas.networks:
            for i, (a, b) in duct_paths(self.canvas.state.project, network, self.canvas.level_id).lines.items():
                apart, t = distance_to((at.x(), at.y()), a, b)
                place = (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]))
                best = min(best, (max(0.0, apart - network.segments[i].section.width_m / 2), i, t, place))
        return best[1:]

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        found, _, place = self._duct_at(at)
        self._spot = place if found else None
        self.canvas.update()

    def press(self, at: QPointF, _modifiers: Qt.KeyboardModifier) -> None:
        found, share, _ = self._duct_at(at)
        if found:
            self.canvas.intent.emit(self._command(found, round(share, 4)))
        else:
            self.canvas.hint.emit("There is no duct here. " + self.hint)

    def paint(self, p: QPainter, m: QTransform) -> None:
        if self._spot is not None:
            mark(p, m, self._spot)


class SplitDuctTool(_OnDuct):
    hint = "Click a duct where it is to be divided: both pieces are then sized and moved by themselves. Esc ends."

    def __init__(self, canvas) -> None:
        super().__init__(canvas, SplitDuct)


class PartTool(_OnDuct):
    """Parts of one kind put into ducts, click by click."""

    hint = "Click a duct where the part is to stand; drag a part along its duct to move it. Esc ends."

    def __init__(self, canvas, kind: str) -> None:
        super().__init__(canvas, lambda segment_id, share: PutInline((segment_id,), kind, share))


class MergeDuctTool(_OnDuct):
    hint = "Click a short piece: it goes into the duct it continues. Esc ends."

    def __init__(self, canvas) -> None:
        super().__init__(canvas, lambda segment_id, _share: MergeDuct(segment_id))


class CeilingTool(DrawRoom):
    """A ceiling zone or an obstacle by two corners; its heights are typed in its card."""

    def __init__(self, canvas, kind: str) -> None:
        super().__init__(canvas, True)
        self.kind = kind
        self.hint = (
            f"Click two corners of the {'ceiling zone' if kind == 'zone' else 'obstacle'}; its heights are "
            f"then typed in its card. Esc ends."
        )

    def command(self, points: tuple) -> AddCeilingZone | AddObstacle | None:
        if len(points) < 3:
            return None
        return (
            AddCeilingZone(self.canvas.level_id, points)
            if self.kind == "zone"
            else AddObstacle(self.canvas.level_id, points)
        )
