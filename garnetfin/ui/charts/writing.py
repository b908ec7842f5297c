"""A chart for other programs: as a picture, as vectors, as its figures."""

import csv
import io

from PySide6.QtCore import QBuffer, QIODevice, QRect
from PySide6.QtGui import QImage, QImageWriter, QPainter
from PySide6.QtSvg import QSvgGenerator
from PySide6.QtWidgets import QWidget

from garnetfin.report.to_csv import harmless
from garnetfin.ui.charts.base import Chart
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.chart_figures import figures_of

FINER = 2  # pixels of a picture for one of the screen
KINDS = {"png": "picture", "svg": "drawing", "csv": "figures"}


def chart_under(widget: QWidget | None) -> Chart | None:
    """The chart that a widget is, or lies in."""
    while widget is not None and not isinstance(widget, Chart):
        widget = widget.parentWidget()
    return widget if widget is not None and widget.shows else None


def picture(chart: Chart) -> QImage:
    """On white whatever the window's colours are."""
    size = chart.size() * FINER
    image = QImage(size, QImage.Format.Format_RGB32)
    _paint(chart, image)
    return image


def as_bytes(chart: Chart, kind: str) -> bytes:
    """A file of a kind of KINDS. Raises ValueError for figures of a chart that has none."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    match kind:
        case "png":
            QImageWriter(buffer, b"PNG").write(picture(chart))
        case "svg":
            made = QSvgGenerator()
            made.setOutputDevice(buffer)
            made.setSize(chart.size())
            made.setViewBox(QRect(0, 0, chart.width(), chart.height()))
            _paint(chart, made)
        case _:
            return csv_of(chart)
    return bytes(buffer.data().data())


def csv_of(chart: Chart) -> bytes:
    rows = figures_of(chart.vm)
    if rows is None:
        raise ValueError("this drawing has no figures of its own")
    out = io.StringIO()
    writer = csv.writer(out)
    for row in rows:
        writer.writerow([harmless(x) if isinstance(x, str) else f"{x:.6g}" for x in row])
    return out.getvalue().encode("utf-8-sig")


def _paint(chart: Chart, device) -> None:
    dark = theme.dark
    if dark:
        theme.set_dark(False)  # paper is white
    try:
        p = QPainter(device)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if isinstance(device, QImage):
            p.scale(FINER, FINER)
        p.fillRect(QRect(0, 0, chart.width(), chart.height()), theme.colour("sheet"))
        chart.paint_chart(p)
        p.end()
    finally:
        if dark:
            theme.set_dark(True)
