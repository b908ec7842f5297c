"""Underlays on the plan: lines of a drawing by layer, or a picture, where the project says they lie; and snapping to
lines.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import cos, hypot, radians, sin

import msgspec
import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QTransform

from garnetfin.exchange.results import Drawing, Words
from garnetfin.project.lookup import Same
from garnetfin.project.underlays import Underlay
from garnetfin.ui.plan.pens import pen
from garnetfin.ui.theme import theme

PICTURE_STRENGTH = 0.55
LEAST_TEXT_PX, MOST_TEXT_PX = 7.0, 16.0
STRAIGHT_M = 0.002  # how far a line may lean and still count as upright or level
# ends of lines that attract; a denser drawing attracts by those of its first layers
MOST_SNAPPED = 60_000


@dataclass(frozen=True, slots=True, eq=False)
class Lines:
    """Lines of a drawing by layer as Qt takes them, and as arrays (n, 4) in the drawing's units; its texts."""

    qt: dict[str, list[QLineF]]
    arrays: dict[str, np.ndarray]
    texts: tuple[Words, ...] = ()


@lru_cache(maxsize=8)
def _lines(same: Same) -> Lines:
    try:
        drawing = msgspec.json.decode(same.item, type=Drawing)
    except (msgspec.DecodeError, ValueError):
        # a damaged project file; the card says that nothing is there
        return Lines({}, {})
    arrays = {x.name: np.array(x.lines, float).reshape(-1, 4) for x in drawing.layers}
    return Lines({k: [QLineF(*row) for row in a.tolist()] for k, a in arrays.items()}, arrays, drawing.texts)


@lru_cache(maxsize=8)
def _image(same: Same) -> QImage:
    return QImage.fromData(same.item)


def lines_of(content: bytes) -> Lines:
    return _lines(Same(content))


def placement(under: Underlay) -> QTransform:
    """From the drawing's units (or pixels, y downwards) to metres."""
    c, s = cos(radians(under.turn_deg)) * under.scale, sin(radians(under.turn_deg)) * under.scale
    return (
        QTransform(c, s, -s, c, under.x_m, under.y_m)
        if under.kind == "lines"
        else QTransform(c, s, s, -c, under.x_m, under.y_m)
    )


def paint_underlay(p: QPainter, m: QTransform, under: Underlay, content: bytes) -> None:
    p.save()
    p.setTransform(placement(under) * m, True)
    if under.kind == "picture":
        image = _image(Same(content))
        p.setOpacity(PICTURE_STRENGTH)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        # The picture's lower left corner is the origin, so its rows run upwards from there.
        p.drawImage(QRectF(0, -image.height(), image.width(), image.height()), image)
    else:
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.setPen(pen(theme.colour("underlay"), 0.9))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for name, lines in lines_of(content).qt.items():
            if name not in under.hidden_layers:
                p.drawLines(lines)
        p.resetTransform()
        _paint_texts(p, placement(under) * m, under, lines_of(content).texts)
    p.restore()


def _paint_texts(p: QPainter, to_px: QTransform, under: Underlay, texts: tuple[Words, ...]) -> None:
    """Texts of a drawing where they can be read; all upright, as they are looked at."""
    scale = hypot(to_px.m11(), to_px.m12())
    p.setPen(theme.colour("faint"))
    for t in texts:
        px = t.height * scale
        if px >= LEAST_TEXT_PX and t.layer not in under.hidden_layers:
            p.setFont(theme.font(min(px, MOST_TEXT_PX)))
            p.drawText(to_px.map(QPointF(t.x, t.y)), t.words)


@lru_cache(maxsize=8)
def _segments(under: Underlay, same: Same) -> np.ndarray:
    arrays = [a for name, a in _lines(same).arrays.items() if name not in under.hidden_layers]
    if not arrays:
        return np.empty((0, 4))
    t = placement(under)
    raw = np.vstack(arrays)
    matrix, shift = np.array([[t.m11(), t.m12()], [t.m21(), t.m22()]]), np.array([t.dx(), t.dy()])
    return np.hstack([raw[:, :2] @ matrix + shift, raw[:, 2:] @ matrix + shift])


def texts_of(under: Underlay, content: bytes) -> list[tuple[float, float, str]]:
    """Visible texts of a drawing where they lie on the plan [m]."""
    if under.kind != "lines":
        return []
    t = placement(under)
    return [
        (at.x(), at.y(), words.words)
        for words in lines_of(content).texts
        if words.layer not in under.hidden_layers
        for at in (t.map(QPointF(words.x, words.y)),)
    ]


def segments(under: Underlay, content: bytes) -> np.ndarray:
    """Visible lines (n, 4) in metres on the plan."""
    return _segments(under, Same(content)) if under.kind == "lines" else np.empty((0, 4))


def lines_near(underlays: list[tuple[Underlay, bytes]], x: float, y: float, reach: float) -> np.ndarray:
    """Visible lines (n, 4) [m] whose box comes within reach of a place, wherever they begin."""
    near = [np.empty((0, 4))]
    for under, content in underlays:
        rows = segments(under, content)
        xs, ys = rows[:, ::2], rows[:, 1::2]
        near.append(
            rows[
                (xs.min(axis=1) < x + reach)
                & (xs.max(axis=1) > x - reach)
                & (ys.min(axis=1) < y + reach)
                & (ys.max(axis=1) > y - reach)
            ]
            if len(rows)
            else rows
        )
    return np.vstack(near)


def nearest_axes(
    underlays: list[tuple[Underlay, bytes]], x: float, y: float, near: float
) -> tuple[float | None, float | None]:
    """(x of an upright line, y of a level line) that run past a place within reach; None where there is none."""
    rows = lines_near(underlays, x, y, near)
    found: list[float | None] = []
    for k, here in ((0, x), (1, y)):
        straight = rows[np.abs(rows[:, k] - rows[:, k + 2]) < STRAIGHT_M]
        apart = np.abs(straight[:, k] - here)
        found.append(round(float(straight[apart.argmin(), k]), 4) if len(apart) and apart.min() < near else None)
    return found[0], found[1]


def nearest_end(underlays: list[tuple[Underlay, bytes]], x: float, y: float, near: float) -> tuple[float, float] | None:
    """The end of a visible line within reach of a point."""
    best, found = near, None
    for under, content in underlays:
        rows = segments(under, content)[:MOST_SNAPPED]
        for ends in (rows[:, :2], rows[:, 2:]):
            if len(ends):
                apart = np.hypot(ends[:, 0] - x, ends[:, 1] - y)
                i = int(apart.argmin())
                if apart[i] < best:
                    best, found = float(apart[i]), (round(float(ends[i, 0]), 4), round(float(ends[i, 1]), 4))
    return found


def bounds(under: Underlay, content: bytes) -> QRectF:
    """Where an underlay lies on the plan [m]."""
    if under.kind == "picture":
        image = _image(Same(content))
        return placement(under).mapRect(QRectF(0, -image.height(), image.width(), image.height()))
    rows = segments(under, content)
    if not len(rows):
        return QRectF()
    xs, ys = rows[:, ::2], rows[:, 1::2]
    return QRectF(float(xs.min()), float(ys.min()), float(np.ptp(xs)) or 0.1, float(np.ptp(ys)) or 0.1)
