"""A drawing of the papers shown in the window: its shapes to scale, in the colours of the look in force."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter, QPen, QPolygonF

from garnetfin.report.blocks import Figure, Label, Shape
from garnetfin.ui.charts.base import Chart
from garnetfin.ui.theme import theme

PAD = 14.0
POINTS_PX = 1.75  # a letter of one point on paper
LINE_PX = 1.6
LOOKS = {"garnet_tint": "garnet_tint", "wall": "ink", "glass": "rule"}  # names that the window has otherwise


class FigureChart(Chart[Figure]):
    """Renders a Figure of report/blocks as large as it fits."""

    background = "sheet"

    def __init__(self, parent=None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Drawing to scale")

    def paint_chart(self, p: QPainter) -> None:
        x0, y0, x1, y1 = self.vm.box
        scale = min((self.width() - 2 * PAD) / (x1 - x0), (self.height() - 2 * PAD) / (y1 - y0))
        if scale <= 0:
            return
        left = (self.width() - scale * (x1 - x0)) / 2 - scale * x0
        foot = (self.height() + scale * (y1 - y0)) / 2 + scale * y0

        def at(point: tuple[float, float]) -> QPointF:
            return QPointF(left + scale * point[0], foot - scale * point[1])

        for shape in self.vm.shapes:
            self._shape(p, shape, [at(point) for point in shape.points])
        for label in self.vm.labels:
            self._label(p, label, at(label.at))

    def _shape(self, p: QPainter, shape: Shape, points: list[QPointF]) -> None:
        style = Qt.PenStyle.DashLine if shape.dashed else Qt.PenStyle.SolidLine
        p.setPen(QPen(theme.colour(LOOKS.get(shape.stroke, shape.stroke)), LINE_PX * shape.width, style))
        p.setBrush(QBrush(theme.colour(shape.fill)) if shape.fill else Qt.BrushStyle.NoBrush)
        if shape.closed:
            p.drawPolygon(QPolygonF(points))
        else:
            p.drawPolyline(QPolygonF(points))

    def _label(self, p: QPainter, label: Label, at: QPointF) -> None:
        p.setFont(theme.font(label.size * POINTS_PX, 500))
        p.setPen(theme.colour(label.colour))
        p.save()
        p.translate(at)
        p.rotate(-label.turned_deg)
        box = QRectF(-200, -12, 400, 24)
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, label.text)
        p.restore()
