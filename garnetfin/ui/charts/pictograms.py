"""Fittings as small drawings, one for each family and what sets its members apart; drawn in a box of any size."""

from math import cos, pi, sin

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen

from garnetfin.core.tables import fitting_tables


def paint_pictogram(p: QPainter, box: QRectF, fitting: str, ink: QColor) -> None:
    """The drawing of a fitting by its id in the catalogue; names of what the program adds itself are known as well."""
    entry = fitting_tables().get(fitting.split(",")[0])
    picture = (
        entry["picture"]
        if entry is not None
        else next((k for k in ("connection", "damper") if k in fitting), "straight")
    )
    path = QPainterPath()
    round_ = entry is not None and entry["shape"] == "round"
    kind, _, how = picture.partition(" ")
    match kind:
        case "elbow":
            _elbow(path, how)
        case "offset":
            _line(path, (0, 0.55), (0.3, 0.55), (0.7, 0.2), (1, 0.2))
            _line(path, (0, 0.85), (0.35, 0.85), (0.75, 0.5), (1, 0.5))
        case "sudden" | "narrowing" | "widening" | "round" | "one":
            _transition(path, picture)
        case "head" | "cross" | "wye" | "conical" | "shoe" | "tee":
            _junction(path, picture)
        case "entry" | "exit":
            _end(path, how, kind == "exit")
        case "damper":
            _line(path, (0, 0.25), (1, 0.25))
            _line(path, (0, 0.75), (1, 0.75))
            _line(path, (0.36, 0.68), (0.64, 0.32))
        case "box":
            path.addRect(QRectF(0.25, 0.2, 0.5, 0.6))
            _line(path, (0, 0.4), (0.25, 0.4))
            _line(path, (0, 0.6), (0.25, 0.6))
            _line(path, (0.4, 0.8), (0.4, 1))
            _line(path, (0.6, 0.8), (0.6, 1))
        case "part":
            path.addRect(QRectF(0.2, 0.15, 0.6, 0.7))
            _line(path, (0.2, 0.85), (0.8, 0.15))
        case "connection":
            _straight(path)
            for k in range(3):
                _line(path, (0.38 + 0.12 * k, 0.25), (0.44 + 0.12 * k, 0.5), (0.38 + 0.12 * k, 0.75))
        case _:
            _straight(path)
            if kind in ("cap", "across"):
                x = 0.8 if kind == "cap" else 0.5
                _line(path, (x, 0.25), (x, 0.75))
    side = min(box.width(), box.height())
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.translate(box.center().x() - side / 2, box.center().y() - side / 2)
    p.scale(side, side)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(ink, 1.15 / side, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    p.drawPath(path)
    if round_:  # round ducts bear their axis
        p.setPen(QPen(ink, 0.7 / side, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(0.02, 0.5), QPointF(0.2, 0.5))
    p.restore()


def _line(path: QPainterPath, *points: tuple[float, float]) -> None:
    path.moveTo(*points[0])
    for q in points[1:]:
        path.lineTo(*q)


def _straight(path: QPainterPath) -> None:
    _line(path, (0, 0.25), (0.8, 0.25))
    _line(path, (0, 0.75), (0.8, 0.75))


def _arc(path: QPainterPath, radius: float, steps: int) -> None:
    """A quarter about the lower left corner, from above it to its right; few steps make it segmented."""
    points = [(radius * sin(pi / 2 * k / steps), 1 - radius * cos(pi / 2 * k / steps)) for k in range(steps + 1)]
    _line(path, *points)


def _elbow(path: QPainterPath, how: str) -> None:
    if how in ("mitred", "vaned"):
        _line(path, (0, 0.1), (0.9, 0.1), (0.9, 1))
        _line(path, (0, 0.55), (0.45, 0.55), (0.45, 1))
        for k in range(3 if how == "vaned" else 0):
            t = 0.2 + 0.3 * k
            x, y = 0.45 + 0.45 * t, 0.55 - 0.45 * t
            path.moveTo(x - 0.09, y)
            path.quadTo(x, y, x, y + 0.09)
        return
    steps = 3 if how == "segmented" else 16
    _arc(path, 0.9, steps)
    _arc(path, 0.4, steps)
    if how == "with splitters":
        _arc(path, 0.57, 16)
        _arc(path, 0.73, 16)
    if how == "flexible":
        for k in range(1, 7):
            a = pi / 2 * k / 7
            _line(path, (0.4 * sin(a), 1 - 0.4 * cos(a)), (0.9 * sin(a), 1 - 0.9 * cos(a)))


def _transition(path: QPainterPath, picture: str) -> None:
    if picture.startswith("sudden"):
        first, then = ((0.35, 0.65), (0.15, 0.85)) if picture == "sudden widening" else ((0.15, 0.85), (0.35, 0.65))
        for a, b in zip(first, then):
            _line(path, (0, a), (0.5, a), (0.5, b), (1, b))
        return
    if picture == "one flat side":
        _line(path, (0, 0.2), (1, 0.2))
        _line(path, (0, 0.55), (0.25, 0.55), (0.75, 0.85), (1, 0.85))
        return
    small, large = (0.36, 0.64), (0.15, 0.85)
    first, then = (large, small) if picture == "narrowing" else (small, large)
    for a, b in zip(first, then):
        _line(path, (0, a), (0.25, a), (0.75, b), (1, b))
    if picture == "round to rectangular":
        _line(path, (0.25, first[0]), (0.75, then[1]))
        _line(path, (0.25, first[1]), (0.75, then[0]))


def _junction(path: QPainterPath, picture: str) -> None:
    if picture == "head on":
        _line(path, (0, 0.15), (1, 0.15))
        _line(path, (0, 0.5), (0.35, 0.5), (0.35, 1))
        _line(path, (1, 0.5), (0.65, 0.5), (0.65, 1))
        return
    if picture == "cross":
        for y, x in ((0.35, 0.0), (0.65, 1.0)):
            _line(path, (0, y), (0.35, y), (0.35, x))
            _line(path, (1, y), (0.65, y), (0.65, x))
        return
    _line(path, (0, 0.95), (1, 0.95))
    if picture == "wye":
        _line(path, (0, 0.55), (0.25, 0.55), (0.7, 0.1))
        _line(path, (1, 0.55), (0.62, 0.55), (0.95, 0.22))
    elif picture in ("conical tap", "shoe tap"):
        _line(path, (0, 0.55), (0.2, 0.55), (0.38, 0.35), (0.38, 0.05))
        right = (
            ((1, 0.55), (0.8, 0.55), (0.62, 0.35), (0.62, 0.05))
            if picture == "conical tap"
            else ((1, 0.55), (0.62, 0.55), (0.62, 0.05))
        )
        _line(path, *right)
    else:
        _line(path, (0, 0.55), (0.38, 0.55), (0.38, 0.05))
        _line(path, (1, 0.55), (0.62, 0.55), (0.62, 0.05))


def _end(path: QPainterPath, how: str, leaving: bool) -> None:
    _line(path, (0.35, 0.3), (1, 0.3))
    _line(path, (0.35, 0.7), (1, 0.7))
    if how == "flared":
        _line(path, (0.35, 0.3), (0.12, 0.08))
        _line(path, (0.35, 0.7), (0.12, 0.92))
    elif how != "projecting":
        _line(path, (0.35, 0.05), (0.35, 0.3))
        _line(path, (0.35, 0.7), (0.35, 0.95))
    if how == "screened":
        for k in range(4):
            _line(path, (0.35, 0.32 + 0.12 * k), (0.35, 0.36 + 0.12 * k))
    if leaving:
        _line(path, (0.7, 0.5), (0.5, 0.5))
    else:
        _line(path, (0.5, 0.5), (0.75, 0.5), (0.68, 0.45))
