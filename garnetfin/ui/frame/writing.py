"""What the window writes for other programs: gbXML, CSV, and the lifted levels on a page."""

from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF, QMimeData, QRectF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from garnetfin.engine.results import Results
from garnetfin.project.disk import write_whole
from garnetfin.report.to_csv import faces_csv, rooms_csv
from garnetfin.ui.plan.layers import text
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme


def exported(results: Results, what: str) -> bytes:
    """Bytes of a file: "gbxml", "rooms" or "faces"."""
    if what == "gbxml":
        from garnetfin.report.handover import Order, gbxml

        return gbxml(Order(results))
    return (rooms_csv(results) if what == "rooms" else faces_csv(results)).encode("utf-8-sig")


def write_lifted(view, path: Path) -> None:
    """The levels lifted apart on a landscape page, as vectors. Raises FileError when the file cannot be written."""
    page_file = QBuffer()
    page_file.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(page_file)
    writer.setTitle(view.session.project.name)
    writer.setPageLayout(
        QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Landscape, QMarginsF(10, 10, 10, 10))
    )
    writer.setResolution(96)
    dark = theme.dark
    theme.set_dark(False)  # paper is white
    try:
        p = QPainter(writer)
        page = QRectF(0, 0, writer.width(), writer.height())
        state = view.session.state
        style = view.plan_style(state)
        view.lifted.render_state(state, style.fills, style.hatched)
        view.lifted.paint(p, page.adjusted(0, 30, 0, 0))
        text(p, QRectF(0, 0, page.width(), 20).center(), view.session.project.name, theme.colour("ink"), 15, 600)
        p.end()
    finally:
        theme.set_dark(dark)
    write_whole(path, bytes(page_file.data()))


def copied(state: State, view) -> QMimeData:
    """What is in front: the page of Papers that is in sight, else the level's ducts as SVG with the view's main part as
    a picture.
    """
    made = QMimeData()
    sheet = getattr(view, "sheet", None)
    if sheet is not None and getattr(sheet, "boxes", None):
        page = sheet.page_at(view._scroll.verticalScrollBar().value() + view._scroll.viewport().height() / 3)
        made.setImageData(sheet.image(page - 1))
        return made
    plan = getattr(view, "plan", None)
    shown = plan if plan is not None and plan.isVisible() else view
    made.setImageData(shown.grab().toImage())
    if plan is not None and state.known:
        from garnetfin.report.handover import Order, plan_scale
        from garnetfin.report.sheets.plans import level_plan
        from garnetfin.report.to_svg import to_svg

        drawing = level_plan(state.results, state.show.level_id, state.show.units)
        if drawing is not None:
            made.setData(
                "image/svg+xml", to_svg(drawing, state.project.name, plan_scale(Order(state.results, state.show.units)))
            )
    return made
