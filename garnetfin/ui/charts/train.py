"""The train: the air system as two drawn ducts with its parts in the order of the air; parts are dragged along, in and
out.
"""

from PySide6.QtCore import QMimeData, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QDrag, QFontMetricsF, QPainter, QPen, QPolygonF

from garnetfin.ui.charts.base import Chart, words
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.air import PartVM, TrainVM
from garnetfin.ui.view_models.psychro import StateVM
from garnetfin.ui.widgets.controls import ToolButton

FILLS = {
    "outdoor": "outdoor_fill",
    "supply": "supply_fill",
    "return": "return_fill",
    "exhaust": "exhaust_fill",
    "faint": "tint",
}
TOP_DUCT, TOP_HIGH, LOW_DUCT, LOW_HIGH = 36.0, 44.0, 134.0, 54.0
LEFT, RIGHT = 34.0, 18.0
ROOMS = 74.0  # at the right end, where the supply reaches the rooms
OUT_PX = 46.0  # dragged this far off its duct, a part leaves the train
MIME = "application/x-garnetfin-part"


class TrainChart(Chart[TrainVM]):
    """Renders a TrainVM. A click selects a part; dragging moves it, or takes it out; a part can be dropped in."""

    picked = Signal(str)
    opened = Signal(str)  # double click: its figures
    moved = Signal(str, str)  # part, before which part ("" = at the end)
    removed = Signal(str)
    dropped = Signal(str, str)  # kind, before which part

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(216)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Air system, parts in the order of the air")
        self.setAcceptDrops(True)
        self._pressed, self._at, self._from = "", QPointF(), QPointF()
        self._caret: float | None = None

    def sizeHint(self) -> QSize:
        return QSize(900, 240)

    # -- places ------------------------------------------------------------------------------------------------------
    def places(self) -> dict[str, float]:
        """Middle of every part along the chart [px]."""
        vm = self.vm
        supply = [p for p in vm.parts if p.side == "supply"]
        back = [p for p in vm.parts if p.side == "return"]
        width = self.width() - LEFT - RIGHT - ROOMS
        weights = [
            {"intake": 0.75, "terminals": 1.0, "recovery": 1.75, "duct": 1.1, "mixing": 1.75}.get(p.kind, 1.0)
            for p in supply
        ]
        total, x, found = sum(weights) or 1.0, LEFT, {}
        for part, weight in zip(supply, weights):
            found[part.id] = x + width * weight / total / 2
            x += width * weight / total
        crossing = [found[p.id] for p in supply if p.kind in ("recovery", "mixing")]
        inner = (max(crossing) + 40) if crossing else LEFT + width * 0.25
        inside = [p for p in back if p.kind not in ("exhaust_fan", "relief")]
        step = (self.width() - RIGHT - 40 - inner) / max(1, len(inside))
        for i, part in enumerate(inside):
            found[part.id] = self.width() - RIGHT - 40 - step * (i + 0.5)
        for part in back:
            if part.kind == "relief":
                found[part.id] = LEFT + 4
            elif part.kind == "exhaust_fan":
                # In the way of relief, between recovery or mixing and the louvre, clear of the state's tag.
                found[part.id] = LEFT + 0.75 * ((min(crossing) if crossing else inner) - LEFT)
        return found

    def part_at(self, at: QPointF) -> str:
        best, near = "", 34.0
        for part in self.vm.parts if self.shows else ():
            top = TOP_DUCT if part.side == "return" else LOW_DUCT
            high = TOP_HIGH if part.side == "return" else LOW_HIGH
            upper = TOP_DUCT if part.kind in ("recovery", "mixing") else top
            if upper - 14 <= at.y() <= top + high + (40 if part.side == "supply" else 6):
                distance = abs(at.x() - self.places()[part.id])
                if distance < near:
                    best, near = part.id, distance
        return best

    def before_at(self, at: QPointF, side: str) -> tuple[str, float]:
        """(part a drop at this place comes before, x of the gap)."""
        row = [p for p in self.vm.parts if p.side == side]
        places = self.places()
        if side == "return":  # the air runs to the left
            later = [p for p in row if places[p.id] < at.x()]
            x = max((places[p.id] for p in later), default=LEFT)
            return (later[0].id if later else ""), (at.x() + x) / 2 if later else at.x()
        later = [p for p in row if places[p.id] > at.x()]
        if not later:
            return "rooms", at.x()
        return later[0].id, at.x()

    # -- mouse -------------------------------------------------------------------------------------------------------
    def mousePressEvent(self, event) -> None:
        self._pressed = self.part_at(event.position()) if self.shows else ""
        self._from = self._at = event.position()
        self.picked.emit(self._pressed)

    def mouseMoveEvent(self, event) -> None:
        if self._pressed and event.buttons() & Qt.MouseButton.LeftButton:
            self._at = event.position()
            side = self._side(self._pressed)
            self._caret = None if self._off(side) else self._at.x()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.update()

    def mouseReleaseEvent(self, event) -> None:
        self.unsetCursor()
        part, self._pressed, self._caret = self._pressed, "", None
        self.update()
        if not part or (event.position() - self._from).manhattanLength() < 8:
            return
        side = self._side(part)
        self._at = event.position()
        if self._off(side):
            self.removed.emit(part)
            return
        before, _ = self.before_at(event.position(), side)
        self.moved.emit(part, before)

    def mouseDoubleClickEvent(self, event) -> None:
        part = self.part_at(event.position()) if self.shows else ""
        if part:
            self.opened.emit(part)

    def _side(self, part_id: str) -> str:
        return next((p.side for p in self.vm.parts if p.id == part_id), "supply")

    def _off(self, side: str) -> bool:
        top, high = (TOP_DUCT, TOP_HIGH) if side == "return" else (LOW_DUCT, LOW_HIGH)
        return not top - OUT_PX <= self._at.y() <= top + high + OUT_PX

    def dragEnterEvent(self, event) -> None:
        if event.mimeData().hasFormat(MIME) and self.shows:
            event.acceptProposedAction()

    def dragMoveEvent(self, event) -> None:
        self._caret = event.position().x()
        self._at = event.position()
        self.update()
        event.acceptProposedAction()

    def dragLeaveEvent(self, event) -> None:
        self._caret = None
        self.update()

    def dropEvent(self, event) -> None:
        kind = bytes(event.mimeData().data(MIME)).decode()
        side = "return" if event.position().y() < (TOP_DUCT + TOP_HIGH + LOW_DUCT) / 2 else "supply"
        self._caret = None
        self.update()
        self.dropped.emit(kind, self.before_at(event.position(), side)[0])
        event.acceptProposedAction()

    def keyPressEvent(self, event) -> None:
        ids = [p.id for p in self.vm.parts] if self.shows else []
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(event.key())
        now = self.vm.chosen if self.shows else ""
        if step and ids and event.modifiers() & Qt.KeyboardModifier.AltModifier and now in ids:
            row = [p.id for p in self.vm.parts if p.side == self._side(now)]
            at = row.index(now) + (2 if step > 0 else -1)
            if 0 <= at <= len(row):
                self.moved.emit(now, row[at] if at < len(row) else ("rooms" if self._side(now) == "supply" else ""))
        elif step and ids:
            self.picked.emit(ids[(ids.index(now) + step) % len(ids)] if now in ids else ids[0])
        elif event.key() == Qt.Key.Key_Delete and now:
            self.removed.emit(now)
        else:
            super().keyPressEvent(event)

    def why_at(self, at: QPointF) -> tuple:
        part = self.part_at(at) if self.shows else ""
        return next((q.why for q in self.vm.parts if q.id == part), ()) if part else ()

    # -- paint -------------------------------------------------------------------------------------------------------
    def paint_chart(self, p: QPainter) -> None:
        vm, places = self.vm, self.places()
        self._paint_ducts(p, vm, places)
        for part in vm.parts:
            self._paint_part(p, part, places[part.id], part.id == vm.chosen)
        self._paint_tags(p, vm, places)
        self._paint_names(p, vm, places)
        words(p, QPointF(self.width() - RIGHT, 22), vm.returned, "return", 12, side="right")
        if any(s.nature == "exhaust" for s in vm.states):
            words(p, QPointF(LEFT, 22), "Exhaust", "exhaust", 12, side="left")
        if self._caret is not None:
            side = (
                self._side(self._pressed)
                if self._pressed
                else ("return" if self._at.y() < (TOP_DUCT + TOP_HIGH + LOW_DUCT) / 2 else "supply")
            )
            top, high = (TOP_DUCT, TOP_HIGH) if side == "return" else (LOW_DUCT, LOW_HIGH)
            p.setPen(QPen(theme.colour("garnet"), 2.4))
            p.drawLine(QPointF(self._caret, top - 8), QPointF(self._caret, top + high + 8))
        elif self._pressed and self._off(self._side(self._pressed)):
            words(p, self._at + QPointF(0, -14), "let go to take it out", "garnet", 11.5, 500)

    def _paint_ducts(self, p: QPainter, vm: TrainVM, places: dict[str, float]) -> None:
        c, end = theme.colour, self.width() - RIGHT
        supply = [q for q in vm.parts if q.side == "supply"]
        back = [q for q in vm.parts if q.side == "return"]
        x, nature = LEFT, "outdoor"
        for part in supply:
            if part.behind != nature:
                p.fillRect(QRectF(x, LOW_DUCT, places[part.id] - x, LOW_HIGH), c(FILLS[nature]))
                x, nature = places[part.id], part.behind
        p.fillRect(QRectF(x, LOW_DUCT, end - x, LOW_HIGH), c(FILLS[nature]))
        crossing = {q.kind: places[q.id] for q in supply if q.kind in ("recovery", "mixing")}
        turn = crossing.get("mixing", crossing.get("recovery", LEFT))
        if "mixing" not in crossing and "recovery" not in crossing:
            turn = LEFT
        nature = "return" if "mixing" in crossing else "exhaust"
        p.fillRect(QRectF(turn, TOP_DUCT, end - turn, TOP_HIGH), c(FILLS[nature]))
        leaning = QColor(c(nature))
        leaning.setAlphaF(0.35)
        p.fillRect(QRectF(turn, TOP_DUCT, end - turn, TOP_HIGH), QBrush(leaning, Qt.BrushStyle.FDiagPattern))
        if turn > LEFT:
            p.fillRect(QRectF(LEFT, TOP_DUCT, turn - LEFT, TOP_HIGH), c(FILLS["exhaust"]))
        if "mixing" in crossing:
            x = crossing["mixing"]
            box = QRectF(x - 17, TOP_DUCT + TOP_HIGH, 34, LOW_DUCT - TOP_DUCT - TOP_HIGH)
            p.fillRect(box, c("return_fill"))
            p.fillRect(box, QBrush(leaning, Qt.BrushStyle.FDiagPattern))
            p.setPen(QPen(c("return"), 1.1))
            p.drawLine(box.topLeft(), box.bottomLeft())
            p.drawLine(box.topRight(), box.bottomRight())
        for y in (TOP_DUCT, TOP_DUCT + TOP_HIGH):
            p.setPen(QPen(c("return" if back else "rule"), 1.1))
            p.drawLine(QPointF(LEFT, y), QPointF(end, y))
        for y in (LOW_DUCT, LOW_DUCT + LOW_HIGH):
            p.setPen(QPen(c("supply"), 1.1))
            p.drawLine(QPointF(LEFT, y), QPointF(end, y))
        p.setPen(QPen(c("faint"), 1.2))
        for share in (0.06, 0.5, 0.985):
            self._arrow(p, QPointF(LEFT + (end - LEFT) * share, LOW_DUCT + LOW_HIGH / 2), 1)
        for share in (0.3, 0.9):
            self._arrow(p, QPointF(LEFT + (end - LEFT) * share, TOP_DUCT + TOP_HIGH / 2), -1)

    @staticmethod
    def _arrow(p: QPainter, at: QPointF, way: int) -> None:
        p.drawLine(at - QPointF(11 * way, 0), at + QPointF(11 * way, 0))
        p.drawPolyline(QPolygonF([at + QPointF(5 * way, -5), at + QPointF(11 * way, 0), at + QPointF(5 * way, 5)]))

    def _paint_part(self, p: QPainter, part: PartVM, x: float, chosen: bool) -> None:
        c = theme.colour
        top, high = (TOP_DUCT, TOP_HIGH) if part.side == "return" else (LOW_DUCT, LOW_HIGH)
        ink = c("garnet" if chosen else part.behind if part.kind.endswith("_fan") else "ink")
        pen = QPen(ink, 2.0 if chosen else 1.3)
        p.setPen(pen)
        p.setBrush(c("sheet"))
        middle = QPointF(x, top + high / 2)
        match part.kind:
            case "intake" | "relief":
                p.setBrush(Qt.BrushStyle.NoBrush)
                for y in range(4):
                    p.drawLine(QPointF(x - 5, top + 8 + y * high / 4.4), QPointF(x + 5, top + 1 + y * high / 4.4))
            case "filter":
                box = QRectF(x - 10, top, 20, high)
                p.drawRect(box)
                p.drawPolyline(
                    QPolygonF([QPointF(x - 9 + 18 * (i % 2), top + 3 + (high - 6) * i / 7) for i in range(8)])
                )
            case "recovery":
                box = QRectF(x - 27, TOP_DUCT - 6, 54, LOW_DUCT + LOW_HIGH - TOP_DUCT + 12)
                p.drawRoundedRect(box, 4, 4)
                p.setPen(QPen(c("rule"), 1))
                for i in range(1, 9):
                    y = box.top() + box.height() * i / 9
                    p.drawLine(QPointF(x - 20, y), QPointF(x + 20, y))
                p.fillRect(QRectF(x - 20, box.center().y() - 10, 40, 20), c("sheet"))
                words(p, QPointF(x, box.center().y()), self.vm.recovery, "garnet" if chosen else "ink", 12.5, 600)
            case "mixing":
                y = (TOP_DUCT + TOP_HIGH + LOW_DUCT) / 2
                p.drawLine(QPointF(x - 11, y + 7), QPointF(x + 11, y - 7))
                p.setBrush(ink)
                p.drawEllipse(QPointF(x, y), 2.6, 2.6)
            case "cooling" | "heating" | "preheat" | "precool":
                cold = part.kind in ("cooling", "precool")
                colour = c("garnet" if chosen else "supply" if cold else "bad")
                p.setPen(QPen(colour, 2.0 if chosen else 1.5))
                box = QRectF(x - 14, top - 5, 28, high + 10)
                p.drawRoundedRect(box, 3, 3)
                p.setPen(QPen(colour, 1))
                for dx in (-8, -3, 3, 8):
                    p.drawLine(QPointF(x + dx, top), QPointF(x + dx, top + high))
                p.setBrush(c("sheet"))
                p.drawEllipse(middle, 9, 9)
                p.setPen(QPen(colour, 1.8))
                p.drawLine(middle - QPointF(4, 0), middle + QPointF(4, 0))
                if not cold:
                    p.drawLine(middle - QPointF(0, 4), middle + QPointF(0, 4))
            case "humidifier":
                p.drawRect(QRectF(x - 11, top, 22, high))
                for i in range(3):
                    at = QPointF(x, top + high * (i + 0.7) / 3.4)
                    p.drawPolyline(QPolygonF([at + QPointF(-4, 4), at + QPointF(0, -4), at + QPointF(4, 4)]))
            case "supply_fan" | "return_fan" | "exhaust_fan":
                radius = min(high / 2 - 4, 23)
                p.drawEllipse(middle, radius, radius)
                for k in range(3):
                    p.save()
                    p.translate(middle)
                    p.rotate(120 * k + 20)
                    p.drawArc(QRectF(0, -radius * 0.42, radius * 0.95, radius * 0.84), 0, 180 * 16)
                    p.restore()
                p.drawEllipse(middle, 3, 3)
            case "attenuator":
                box = QRectF(x - 24, top, 48, high)
                p.drawRect(box)
                for i in range(3):
                    p.drawRoundedRect(QRectF(x - 18, top + 6 + i * (high - 8) / 3, 36, (high - 8) / 3 - 5), 4, 4)
            case "duct":
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawLine(QPointF(x - 16, top - 4), QPointF(x - 16, top + high + 4))
                p.drawLine(QPointF(x + 16, top - 4), QPointF(x + 16, top + high + 4))
                p.setPen(QPen(ink, 1, Qt.PenStyle.DashLine))
                p.drawLine(QPointF(x - 16, top + high / 2), QPointF(x + 16, top + high / 2))
            case "terminals":
                p.drawPolygon(
                    QPolygonF(
                        [
                            QPointF(x - 8, top + 10),
                            QPointF(x + 10, top + 2),
                            QPointF(x + 10, top + high - 2),
                            QPointF(x - 8, top + high - 10),
                        ]
                    )
                )
            case "plenum":
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.setPen(QPen(ink, 1.3, Qt.PenStyle.DashLine))
                p.drawRect(QRectF(x - 24, top + 5, 48, high - 10))

    def _tag_place(self, s: StateVM, places: dict[str, float]) -> tuple[float, float] | None:
        """(x, y) of the middle of a state's tag: between the ducts for the lower one, in the upper one for return
        air.
        """
        low = LOW_DUCT - 24.0
        supply = [q for q in self.vm.parts if q.side == "supply"]
        order = [q.id for q in supply]
        end = self.width() - RIGHT
        if s.node == "outdoor":
            return LEFT + 46, low
        if s.node in ("supply",):
            last = places[order[-1]] if order else end
            return max(last - 44, LEFT + 40), low
        if s.node == "rooms":
            return end - 30, low
        if s.node == "return":
            cross = [places[q.id] for q in supply if q.kind in ("recovery", "mixing")]
            return (max(cross) if cross else LEFT) + 84, TOP_DUCT + TOP_HIGH / 2
        if s.node == "exhaust":
            return LEFT + 62, TOP_DUCT + TOP_HIGH / 2
        if s.node in order:
            i = order.index(s.node)
            nearest = places[order[i + 1]] if i + 1 < len(order) else end
            gap = {"recovery": 27, "mixing": 17}.get(supply[i].kind, 14)
            return min(places[s.node] + gap + 38, max(places[s.node] + 30, (places[s.node] + nearest) / 2 + 16)), low
        return None

    def _paint_tags(self, p: QPainter, vm: TrainVM, places: dict[str, float]) -> None:
        taken: list[QRectF] = []
        for s in vm.states:
            at = self._tag_place(s, places)
            if at is None:
                continue
            box = QRectF(at[0] - 33, at[1] - 13.5, 66, 27)
            for _ in range(12):
                hit = next((t for t in taken if t.intersects(box)), None)
                if hit is None:
                    break
                box.moveLeft(hit.right() + 14)
            if box.right() > self.width() - 4:
                box.moveRight(self.width() - 4)
                while any(t.intersects(box) for t in taken) and box.left() > 40:
                    box.moveLeft(box.left() - 6)
            taken.append(box)
            colour = theme.colour(s.nature)
            p.setPen(QPen(colour, 1.1))
            p.setBrush(theme.colour("sheet"))
            p.drawRoundedRect(box, 3, 3)
            words(p, QPointF(box.right() - 6, box.top() + 8), s.text[0], "ink", 11.5, 500, "right")
            words(p, QPointF(box.right() - 6, box.top() + 20), s.text[1], "faint", 10.5, 400, "right")
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(colour)
            p.drawEllipse(QPointF(box.left(), box.center().y()), 7.5, 7.5)
            words(p, QPointF(box.left(), box.center().y()), str(s.number), "sheet", 10.5, 600)

    def _paint_names(self, p: QPainter, vm: TrainVM, places: dict[str, float]) -> None:
        row = [q for q in vm.parts if q.side == "supply"]
        y = LOW_DUCT + LOW_HIGH + 18
        for i, part in enumerate(row):
            left = places[row[i - 1].id] if i else 0.0
            right = places[row[i + 1].id] if i + 1 < len(row) else self.width() - 30
            room = min(places[part.id] - left, right - places[part.id]) - 6 if i else 84
            self._name(p, part, places[part.id], y, max(54.0, room))
        for part in vm.parts:
            if part.side == "return" and part.kind != "relief":
                words(
                    p,
                    QPointF(places[part.id], TOP_DUCT - 12),
                    f"{part.title} · {part.note}" if part.note else part.title,
                    "garnet" if part.id == vm.chosen else "ink",
                    11.5,
                )
        count, flow = vm.rooms
        words(p, QPointF(self.width() - RIGHT, y), count, "supply", 11.5, 500, "right")
        words(p, QPointF(self.width() - RIGHT, y + 14), flow, "faint", 10.5, side="right")

    def _name(self, p: QPainter, part: PartVM, x: float, y: float, room: float) -> None:
        chosen = part.id == self.vm.chosen
        tone = "garnet" if chosen else "watch" if part.id in self.vm.findings else "ink"
        title = part.title.partition(",")[0]
        metrics, small = QFontMetricsF(theme.font(11.5, 500)), QFontMetricsF(theme.font(10.5))
        wide = room * 1.0 + 8
        x = min(max(x, 36), self.width() - 40)
        words(p, QPointF(x, y), metrics.elidedText(title, Qt.TextElideMode.ElideRight, wide), tone, 11.5, 500)
        lines = part.note.split(" · ")
        for k, line in enumerate(lines[:2]):
            words(
                p, QPointF(x, y + 14 + 12 * k), small.elidedText(line, Qt.TextElideMode.ElideRight, wide), "faint", 10.5
            )


class PartButton(ToolButton):
    """A kind of part in the tool row: a click puts it where it usually stands, dragging drops it anywhere."""

    def __init__(self, kind: str, icon: str, tip: str, parent=None) -> None:
        super().__init__(icon, tip, parent)
        self.kind = kind
        self._pressed = QPointF()

    def mousePressEvent(self, event) -> None:
        self._pressed = event.position()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event) -> None:
        if (
            event.buttons() & Qt.MouseButton.LeftButton
            and (event.position() - self._pressed).manhattanLength() > 12
            and self.isEnabled()
        ):
            self.setDown(False)
            drag, data = QDrag(self), QMimeData()
            data.setData(MIME, self.kind.encode())
            drag.setMimeData(data)
            drag.exec(Qt.DropAction.CopyAction)
        else:
            super().mouseMoveEvent(event)
