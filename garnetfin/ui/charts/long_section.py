"""The long section: a run unrolled from the unit, ducts at their height; drag a duct up or down, click to select."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QPen, QPolygonF

from garnetfin import display
from garnetfin.engine.layout.long_section import LongSection
from garnetfin.ui.charts.base import Chart, Labels, Scale, words, x_axis
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_data import LongSectionVM

STEP_M = 0.01
THRESHOLD_PX = 4.0


class SectionChart(Chart[LongSectionVM]):
    """Slabs hatched, ceilings a line, the lowest permitted edge dotted, beams solid; clashes as hatched boxes with one
    sentence.
    """

    picked = Signal(str)
    lifted = Signal(str, float)  # a duct by metres
    removed = Signal()

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Long section")
        self._grip: tuple[str, float] | None = None
        self._lift = 0.0

    def _shown(self) -> tuple:
        """Pieces of the level shown, with the riser that leads to it."""
        found = self._found
        return tuple(q for q in found.pieces if q.level_id == self.vm.level_id) or found.pieces

    @property
    def _found(self) -> LongSection:
        """The section that is shown. Raises LookupError where there is none."""
        if self.vm.found is None:
            raise LookupError("there is no section")
        return self.vm.found

    def _scales(self) -> tuple[Scale, Scale]:
        shown = self._shown()
        start, end = shown[0].start_m, max(shown[-1].end_m, shown[0].start_m + 1.0)
        heights = [
            z
            for q in shown
            if not q.upright
            for z in (
                q.z_start - q.height_m / 2,
                q.z_end + q.height_m / 2,
                q.z_end - q.height_m / 2,
                q.z_start + q.height_m / 2,
            )
        ]
        heights += [
            z for s in self._found.stretches if s.end_m > start and s.start_m < end for z in (s.low_m, s.high_m)
        ]
        heights = heights or [z for q in shown for z in (q.z_start, q.z_end)]
        low, high = min(heights) - 0.08, max(heights) + 0.15
        return (Scale(start, end, 92, self.width() - 20), Scale(low, high, self.height() - 42, 10))

    def paint_chart(self, p) -> None:
        vm, c = self.vm, theme.colour
        if vm.found is None or not vm.found.pieces:
            words(p, QPointF(self.width() / 2, self.height() / 2), vm.note, "faint", 12)
            return
        x, z = self._scales()
        own = {"supply": "supply", "return": "return", "extract": "exhaust", "outdoor": "outdoor"}[vm.air]
        p.save()
        p.setClipRect(QRectF(88, 4, self.width() - 106, self.height() - 44))
        for s in vm.found.stretches:
            if s.kind == "zone":
                slab = QRectF(QPointF(x(s.start_m), z(min(s.high_m + 0.2, z.high))), QPointF(x(s.end_m), z(s.high_m)))
                p.fillRect(slab, QBrush(c("faint"), Qt.BrushStyle.BDiagPattern))
                p.setPen(QPen(c("ink"), 1.2))
                p.drawLine(QPointF(x(s.start_m), z(s.high_m)), QPointF(x(s.end_m), z(s.high_m)))
                p.setPen(QPen(c("ink"), 1.4))
                p.drawLine(QPointF(x(s.start_m), z(s.low_m)), QPointF(x(s.end_m), z(s.low_m)))
                p.setPen(QPen(c("faint"), 1.0, Qt.PenStyle.DotLine))
                p.drawLine(QPointF(x(s.start_m), z(s.lowest_m)), QPointF(x(s.end_m), z(s.lowest_m)))
        for q in vm.found.pieces:
            self._piece(p, q, x, z, own)
        for s in vm.found.stretches:
            if s.kind != "zone":
                p.setBrush(c("wall"))
                p.setPen(Qt.PenStyle.NoPen)
                p.drawRect(
                    QRectF(QPointF(x(s.start_m), z(s.high_m)), QPointF(max(x(s.end_m), x(s.start_m) + 3), z(s.low_m)))
                )
        p.restore()
        labels = Labels()
        for o in vm.found.overlaps:
            box = QRectF(QPointF(x(o.start_m), z(o.high_m)), QPointF(max(x(o.end_m), x(o.start_m) + 4), z(o.low_m)))
            p.fillRect(box, QBrush(c("bad"), Qt.BrushStyle.DiagCrossPattern))
            p.setPen(QPen(c("bad"), 1.2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            if x.start < box.center().x() < x.end:
                labels.place(p, QPointF(box.center().x(), box.bottom() + 10), o.words, "bad", must=True)
        self._words(p, x, z, labels, own)
        x_axis(p, x, self.height() - 36, 8)
        words(p, QPointF(8, self.height() - 25), "m from unit", side="left")

    def _piece(self, p, q, x: Scale, z: Scale, own: str) -> None:
        c = theme.colour
        chosen = q.segment_id in self.vm.chosen
        lift = self._lift if self._grip is not None and self._grip[0] == q.segment_id else 0.0
        p.setBrush(c("garnet_tint" if chosen else f"{own}_fill"))
        p.setPen(QPen(c("garnet" if chosen else own), 2.0 if chosen else 1.1))
        p.drawPolygon(self._outline(q, x, z, lift))

    @staticmethod
    def _outline(q, x: Scale, z: Scale, lift: float = 0.0) -> QPolygonF:
        if q.upright:
            half = max(4.0, min(q.height_m, q.end_m - q.start_m) / 2 * abs(x.end - x.start) / max(x.high - x.low, 1e-9))
            middle = (x(q.start_m) + x(q.end_m)) / 2
            return QPolygonF(
                [
                    QPointF(middle - half, z(q.z_start)),
                    QPointF(middle + half, z(q.z_start)),
                    QPointF(middle + half, z(q.z_end)),
                    QPointF(middle - half, z(q.z_end)),
                ]
            )
        h = q.height_m / 2
        return QPolygonF(
            [
                QPointF(x(q.start_m), z(q.z_start + h + lift)),
                QPointF(x(q.end_m), z(q.z_end + h + lift)),
                QPointF(x(q.end_m), z(q.z_end - h + lift)),
                QPointF(x(q.start_m), z(q.z_start - h + lift)),
            ]
        )

    def _words(self, p, x: Scale, z: Scale, labels: Labels, own: str) -> None:
        """Sizes in the ducts where they fit, pressures along the foot, heights at the left."""
        units, last, last_size = self.vm.units, -1e9, ""
        for q in self._shown():
            size = display.size(q.section, units)
            middle = QPointF((x(q.start_m) + x(q.end_m)) / 2, z((q.z_start + q.z_end) / 2))
            if (
                not q.upright
                and (size != last_size or x(q.end_m) - x(q.start_m) > 220)
                and x(q.end_m) - x(q.start_m) > 6.4 * len(size)
            ):
                words(p, middle, size, "garnet" if q.segment_id in self.vm.chosen else own, 10.5, 600)
                labels.block(QRectF(middle.x() - 30, middle.y() - 7, 60, 14))
                last_size = size
            if x(q.end_m) - last > 40 and q.pressure_pa == q.pressure_pa:
                words(
                    p,
                    QPointF(x(q.end_m), self.height() - 9),
                    display.figure("pressure", q.pressure_pa, units),
                    "ink",
                    10.5,
                )
                last = x(q.end_m)
        words(p, QPointF(8, self.height() - 9), display.unit("pressure", units) + " left", side="left")
        level = next((x for x in self._found.levels if x.id == self.vm.level_id), None)
        zone = next(
            (s for s in self._found.stretches if s.kind == "zone" and s.end_m > x.low and z.low < s.low_m < z.high),
            None,
        )
        if level is not None and zone is not None:
            for value in (zone.low_m, zone.high_m):
                words(p, QPointF(84, z(value)), display.measure(value - level.elevation_m, units, False), side="right")

    # -- mouse and keys ------------------------------------------------------------------------------------------
    def _at(self, at: QPointF) -> str:
        if not self.shows or self.vm.found is None or not self.vm.found.pieces:
            return ""
        x, z = self._scales()
        return next(
            (
                q.segment_id
                for q in self.vm.found.pieces
                if self._outline(q, x, z).containsPoint(at, Qt.FillRule.OddEvenFill)
            ),
            "",
        )

    def why_at(self, at: QPointF) -> tuple:
        found = self._at(at)
        return ("duct", found, "loss") if found else ()

    def mousePressEvent(self, event) -> None:
        found = self._at(event.position())
        self._grip, self._lift = ((found, event.position().y()) if found else None), 0.0
        if found:
            self.picked.emit(found)

    def mouseMoveEvent(self, event) -> None:
        if self._grip is None:
            self.setCursor(Qt.CursorShape.SizeVerCursor if self._at(event.position()) else Qt.CursorShape.ArrowCursor)
            return
        moved = self._grip[1] - event.position().y()
        if abs(moved) < THRESHOLD_PX and not self._lift:
            return
        _, z = self._scales()
        self._lift = round((z.back(self._grip[1] - moved) - z.back(self._grip[1])) / STEP_M) * STEP_M
        self.update()

    def mouseReleaseEvent(self, event) -> None:
        grip, lift, self._grip, self._lift = self._grip, self._lift, None, 0.0
        if grip is not None and abs(lift) > 1e-6:
            self.lifted.emit(grip[0], round(lift, 3))
        self.update()

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Delete:
            self.removed.emit()
            return
        step = {Qt.Key.Key_Up: STEP_M * 5, Qt.Key.Key_Down: -STEP_M * 5}.get(event.key())
        if step is None or self.vm is None or not self.vm.chosen:
            super().keyPressEvent(event)
        else:
            self.lifted.emit(self.vm.chosen[0], step)
