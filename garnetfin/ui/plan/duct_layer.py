"""Ducts of a level: true width or single lines, joints, caps, labels that keep out of each other's way, ceiling
zones.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import atan2, degrees, hypot

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QTransform

from garnetfin import display
from garnetfin.engine.layout.duct_pieces import end_caps, joints, pieces_of
from garnetfin.engine.results import DuctResult
from garnetfin.project.ducts import is_flexible
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.ui.plan.geometry import duct_paths, path_of
from garnetfin.ui.plan.layers import SMALL_SCALE, PlanStyle, hatch, pen, text, text_width
from garnetfin.ui.state import Selection
from garnetfin.ui.theme import theme

OWN = {"supply": "supply", "return": "return", "extract": "exhaust", "outdoor": "outdoor"}
HATCH = {
    "return": lambda ink: hatch(ink, "\\"),
    "extract": lambda ink: hatch(ink, "/"),
    "outdoor": lambda ink: QBrush(ink, Qt.BrushStyle.VerPattern),
}
LABEL_PX, LABEL_H = 10.5, 13.0
ALONG = (0.5, 0.3, 0.7, 0.2, 0.8)  # places on a duct, the first that is free


@dataclass(frozen=True, slots=True)
class DuctLabel:
    """A label in pixels: its middle, its turn, its box before turning;

    `leader` leads back to the duct where it was moved away.
    """

    segment_id: str
    words: str
    at: QPointF
    turn_deg: float
    box: QRectF
    on_duct: bool
    leader: QPointF | None = None

    @property
    def covered(self) -> QRectF:
        if not self.turn_deg:
            return self.box
        return (
            QTransform()
            .translate(self.at.x(), self.at.y())
            .rotate(self.turn_deg)
            .translate(-self.at.x(), -self.at.y())
            .mapRect(self.box)
        )


def paint_ducts(
    p: QPainter,
    m: QTransform,
    project: Project,
    ducts: DuctResult,
    level_id: str,
    style: PlanStyle,
    selection: Selection,
) -> None:
    c = theme.colour
    paths = duct_paths(project, ducts, level_id)
    own = OWN[ducts.air]
    if style.single:
        for segment_id, (a, b) in paths.lines.items():
            line = pen(style.duct_fills.get(segment_id, c(own)), 2.2)
            if ducts.air == "return":
                line.setDashPattern([6, 2])
            elif ducts.air == "extract":
                line.setDashPattern([6, 2, 1, 2])
            p.setPen(line)
            p.drawLine(m.map(QPointF(*a)), m.map(QPointF(*b)))
    else:
        union = m.map(paths.union)
        p.fillPath(union, c(f"{own}_fill"))
        if ducts.air != "supply":  # told apart by the hatch as well as by the colour
            p.fillPath(union, HATCH[ducts.air](c(own)))
        for segment_id, fill in style.duct_fills.items():
            if segment_id in paths.pieces:
                p.fillPath(m.map(paths.pieces[segment_id]), fill)
        p.strokePath(union, pen(c(own), 1.1))
        if style.joints:
            _joints(p, m, project, ducts, paths, c(own))
        _caps(p, m, ducts, paths, c(own))
    _soft(p, m, project, ducts, paths, c(own))
    for segment_id, path in paths.risers.items():
        p.fillPath(m.map(path), style.duct_fills.get(segment_id, c(f"{own}_fill")))
        p.strokePath(m.map(path), pen(c(own), 1.1))
    run = QPainterPath()
    for segment_id in style.index_run:
        if segment_id in paths.lines:
            a, b = paths.lines[segment_id]
            run.moveTo(*a)
            run.lineTo(*b)
    dashed = pen(c("garnet"), 1.3)
    dashed.setDashPattern([4, 3])
    p.strokePath(m.map(run), dashed)
    for segment_id in selection.of("segment"):
        path = paths.pieces.get(segment_id) or paths.risers.get(segment_id)
        if path is not None:
            p.fillPath(m.map(path), c("garnet_tint"))
            p.strokePath(m.map(path), pen(c("garnet"), 2.0))
    if len(selection.of("segment")) == 1 and selection.ids[0] in paths.lines:
        p.setBrush(c("sheet"))
        p.setPen(pen(c("garnet"), 1.4))
        for end in paths.lines[selection.ids[0]]:
            at = m.map(QPointF(*end))
            p.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7))


def _joints(p: QPainter, m: QTransform, project: Project, ducts: DuctResult, paths, colour: QColor) -> None:
    p.setPen(pen(colour, 0.8))
    for segment_id, t in _meeting(_Known(project, ducts)):
        if segment_id not in paths.lines:
            continue
        a, b = paths.lines[segment_id]
        length = hypot(b[0] - a[0], b[1] - a[1])
        if length < 0.05:
            continue
        i = ducts.segment_ids.index(segment_id)
        if ducts.ends is not None and ducts.tree.entering[i] != ducts.ends[i][0]:
            a, b = b, a
        ux, uy, half = (b[0] - a[0]) / length, (b[1] - a[1]) / length, ducts.segments[segment_id].section.width_m / 2
        x, y = a[0] + ux * t, a[1] + uy * t
        p.drawLine(m.map(QPointF(x - uy * half, y + ux * half)), m.map(QPointF(x + uy * half, y - ux * half)))


class _Known:
    """Ducts of a project, told apart by which they are: pieces are found once for many paintings."""

    def __init__(self, project: Project, ducts: DuctResult) -> None:
        self.project, self.ducts = project, ducts

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Known) and self.ducts is other.ducts and self.project is other.project

    def __hash__(self) -> int:
        return id(self.ducts)


@lru_cache(maxsize=8)
def _meeting(known: _Known) -> tuple[tuple[str, float], ...]:
    """(duct, distance from its end towards the unit [m]) of every joint of straight runs."""
    made = pieces_of(known.project, known.ducts)
    return tuple(place for run in made.runs for place in joints(made, run))


def _caps(p: QPainter, m: QTransform, ducts: DuctResult, paths, colour: QColor) -> None:
    """A thick end where a duct is capped."""
    p.setPen(pen(colour, 3.0))
    for segment_id in end_caps(ducts):
        if segment_id not in paths.lines:
            continue
        a, b = paths.lines[segment_id]
        i = ducts.segment_ids.index(segment_id)
        far = ducts.tree.leaving[i] == ducts.ends[i][1]
        (x, y), (x0, y0) = (b, a) if far else (a, b)
        length = max(hypot(x - x0, y - y0), 1e-9)
        ux, uy, half = (x - x0) / length, (y - y0) / length, ducts.segments[segment_id].section.width_m / 2
        p.drawLine(m.map(QPointF(x - uy * half, y + ux * half)), m.map(QPointF(x + uy * half, y - ux * half)))


def _soft(p: QPainter, m: QTransform, project: Project, ducts: DuctResult, paths, colour: QColor) -> None:
    """Flexible ducts: rings across."""
    p.setPen(pen(colour, 0.7))
    for segment_id, (a, b) in paths.lines.items():
        if not is_flexible(ducts.segments[segment_id].make.material):
            continue
        length = hypot(b[0] - a[0], b[1] - a[1])
        half = ducts.segments[segment_id].section.width_m / 2
        for k in range(1, int(length / 0.12)):
            x, y = a[0] + (b[0] - a[0]) * k * 0.12 / length, a[1] + (b[1] - a[1]) * k * 0.12 / length
            ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
            p.drawLine(m.map(QPointF(x - uy * half, y + ux * half)), m.map(QPointF(x + uy * half, y - ux * half)))


def unsized(project: Project, networks: tuple[DuctResult, ...], system_id: str, level_id: str) -> dict[str, tuple]:
    """Ducts of a level that no network knows a size for yet, as lines (air, from, to): drawn, but not joined or without
    a terminal.
    """
    known = {i for n in networks for i in n.segments}
    found = {}
    for s in project.segments:
        if s.id in known or s.system_id != system_id:
            continue
        a, b = find(project.duct_points, s.a), find(project.duct_points, s.b)
        if level_id in (a.level_id, b.level_id):
            found[s.id] = s.air, (a.x_m, a.y_m), (b.x_m, b.y_m)
    return found


def paint_unsized(p: QPainter, m: QTransform, lines: dict[str, tuple], selection: Selection) -> None:
    """A dashed line in the colour of their air; what stands upright as a cross."""
    for segment_id, (air, a, b) in lines.items():
        dashed = pen(theme.colour("garnet" if segment_id in selection.of("segment") else OWN[air]), 2.0)
        dashed.setDashPattern([5, 3])
        p.setPen(dashed)
        at, to = m.map(QPointF(*a)), m.map(QPointF(*b))
        if (at - to).manhattanLength() < 1:
            p.drawLine(at + QPointF(-4, -4), at + QPointF(4, 4))
            p.drawLine(at + QPointF(-4, 4), at + QPointF(4, -4))
        else:
            p.drawLine(at, to)


def duct_labels(
    m: QTransform,
    project: Project,
    networks: tuple[DuctResult, ...],
    level_id: str,
    style: PlanStyle,
    taken: QPainterPath,
    clear: tuple[QRectF, ...] = (),
) -> tuple[DuctLabel, ...]:
    """Where labels of ducts stand: moved ones where they were put; the others on their duct where they fit and nothing
    is to be kept clear, else beside it where nothing is.
    """
    if style.labels == "none" or m.m11() < SMALL_SCALE:
        return ()
    found: list[DuctLabel] = []
    boxes: list[QRectF] = [*clear]
    rows = []
    for network in networks:
        paths = duct_paths(project, network, level_id)
        rows += [(network, i, line) for i, line in paths.lines.items() if i not in paths.risers]
    rows.sort(
        key=lambda r: (
            find(project.segments, r[1]).label_at is None,
            -hypot(r[2][0][0] - r[2][1][0], r[2][0][1] - r[2][1][1]),
        )
    )
    for network, segment_id, ((ax, ay), (bx, by)) in rows:
        result = network.segments[segment_id]
        segment = find(project.segments, segment_id)
        a, b = m.map(QPointF(ax, ay)), m.map(QPointF(bx, by))
        middle = QPointF((a.x() + b.x()) / 2, (a.y() + b.y()) / 2)
        long_px, thick = hypot(b.x() - a.x(), b.y() - a.y()), result.section.width_m * m.m11()
        turn = degrees(atan2(b.y() - a.y(), b.x() - a.x()))
        # read from below or from the right
        turn = turn - 180 if turn > 89.9 else turn + 180 if turn < -90.1 else turn
        turn = 0.0 if abs(turn) < 1 else turn

        def made(
            words: str, width: float, at: QPointF, on_duct: bool, turned: float, leader: QPointF | None = None
        ) -> DuctLabel:
            return DuctLabel(
                segment_id,
                words,
                at,
                turned,
                QRectF(at.x() - width / 2 - 2, at.y() - LABEL_H / 2, width + 4, LABEL_H),
                on_duct,
                leader,
            )

        if segment.label_at is not None:
            at = m.map(QPointF((ax + bx) / 2 + segment.label_at[0], (ay + by) / 2 + segment.label_at[1]))
            words = label_words(project, result, style)[0]
            label = made(words, text_width(words, LABEL_PX, 600), at, False, 0.0, middle)
            found.append(label)
            boxes.append(label.covered)
            continue
        away = thick / 2 + LABEL_H / 2 + 1.5
        nx, ny = (a.y() - b.y()) / max(long_px, 1e-9), (b.x() - a.x()) / max(long_px, 1e-9)
        for words in label_words(project, result, style):  # the fullest that finds a place
            width = text_width(words, LABEL_PX, 600)
            if long_px < width * 0.8:
                continue
            tries = []
            if thick >= LABEL_H - 3 or (abs(turn) < 1 and result.role == "trunk"):
                tries += [made(words, width, _along(a, b, t), True, turn) for t in ALONG]
            tries += [
                made(words, width, _along(a, b, t) + QPointF(side * nx * away, side * ny * away), False, turn)
                for side in (-1, 1)
                for t in ALONG
            ]
            label = next(
                (
                    x
                    for x in tries
                    if not any(x.covered.intersects(t) for t in boxes)
                    and (x.on_duct or not taken.intersects(x.covered))
                ),
                None,
            )
            if label is not None:
                found.append(label)
                boxes.append(label.covered)
                break
    return tuple(found)


def _along(a: QPointF, b: QPointF, t: float) -> QPointF:
    return QPointF(a.x() + t * (b.x() - a.x()), a.y() + t * (b.y() - a.y()))


def label_words(project: Project, result, style: PlanStyle) -> tuple[str, ...]:
    """Size; with the flow; with the height of the lower edge above the floor; the fullest first."""
    forms = [display.size(result.section, style.units)]
    if style.labels in ("flow", "height"):
        forms.append(f"{forms[-1]}  {display.figure('room_flow', result.flow_m3s, style.units)}")
    if style.labels == "height":
        segment = find(project.segments, result.segment_id)
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        level = find(project.levels, a.level_id)
        underside_m = min(a.z_m, b.z_m) - result.outer_height_m / 2 - level.elevation_m
        forms.append(f"{forms[-1]}  +{display.figure('length', underside_m, style.units)}")
    return tuple(forms[::-1])


def paint_labels(
    p: QPainter, labels: tuple[DuctLabel, ...], networks: tuple[DuctResult, ...], style: PlanStyle, selection: Selection
) -> None:
    c = theme.colour
    air = {i: n.air for n in networks for i in n.segments}
    for label in labels:
        own = OWN[air[label.segment_id]]
        chosen = label.segment_id in selection.of("segment")
        fill = (
            style.duct_fills.get(label.segment_id, c("garnet_tint") if chosen else c(f"{own}_fill"))
            if label.on_duct and not style.single
            else c("paper")
        )
        ink = c("garnet") if chosen else c(own)
        if label.on_duct and label.segment_id in style.duct_fills and not style.single:
            ink = QColor("white") if fill.lightnessF() < 0.5 else QColor("#23262B")
        if label.leader is not None:
            p.setPen(pen(c("faint"), 0.8))
            p.drawLine(label.at, label.leader)
        p.save()
        p.translate(label.at)
        p.rotate(label.turn_deg)
        if label.on_duct or label.leader is not None:  # the index run and the edges of a slim duct pause for it
            p.fillRect(
                QRectF(
                    -label.box.width() / 2, -label.box.height() / 2 + 0.5, label.box.width(), label.box.height() - 1
                ),
                fill,
            )
        text(p, QPointF(0, 0), label.words, ink, LABEL_PX, 600, halo=fill)
        p.restore()


def paint_zones(
    p: QPainter, m: QTransform, project: Project, level_id: str, units: str, selection: Selection, taken: QPainterPath
) -> None:
    """Ceiling zones: a dotted outline, and in a quiet corner how much height is free; `taken` grows by the words."""
    c = theme.colour
    for zone in project.ceiling_zones:
        if zone.level_id != level_id:
            continue
        chosen = zone.id in selection.of("ceiling zone")
        ink = c("garnet" if chosen else "faint")
        p.setPen(pen(ink, 1.6 if chosen else 1.0, Qt.PenStyle.DotLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        shape = m.map(path_of(zone.outline))
        p.drawPath(shape)
        box = shape.boundingRect()
        for words in (
            f"{zone.name}: {display.with_unit('duct_size', zone.free_m, units)} free",
            display.with_unit("duct_size", zone.free_m, units),
        ):
            width = text_width(words, LABEL_PX, 400)
            corners = (
                (box.left() + 6, box.top() + 10),
                (box.right() - width - 6, box.top() + 10),
                (box.left() + 6, box.bottom() - 10),
                (box.right() - width - 6, box.bottom() - 10),
            )
            place = next(
                (
                    QRectF(x, y - 6, width, 12)
                    for x, y in corners
                    if width < box.width() - 12 and not taken.intersects(QRectF(x, y - 6, width, 12))
                ),
                None,
            )
            if place is not None:
                text(
                    p,
                    QPointF(place.left(), place.center().y()),
                    words,
                    ink,
                    LABEL_PX,
                    align=Qt.AlignmentFlag.AlignLeft,
                    halo=c("sheet"),
                )
                taken.addRect(place)
                break
