"""Blocks on A4 pages (vector PDF, by reportlab)."""

import io
from importlib.resources import files
from xml.sax.saxutils import escape

from garnetfin.report.blocks import Block, Facts, Figure, Heading, PageBreak, TableBlock, Text

COLOURS = {"ink": "#23262B", "faint": "#63676E", "rule": "#DDD7CD", "garnet": "#7E1F3B", "garnet_tint": "#F5E9EC",
           "supply": "#14666F", "supply_fill": "#D3E6E6", "wall": "#35383E", "paper": "#F3EFE8", "sheet": "#FFFFFF",
           "tint": "#F6F2EB"}
FONTS = {"Garnetfin": "Regular", "Garnetfin-Bold": "SemiBold", "Garnetfin-Italic": "Italic"}


def _register() -> None:
    """The bundled font, once a process."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    known = set(pdfmetrics.getRegisteredFontNames())
    for name, style in FONTS.items():
        if name not in known:
            data = files("garnetfin.ui").joinpath("assets", "fonts", f"GarnetfinSans-{style}.ttf").read_bytes()
            pdfmetrics.registerFont(TTFont(name, io.BytesIO(data)))


def to_pdf(blocks: list[Block], title: str, footer: str) -> bytes:
    """A PDF with page numbers. Same blocks give the same bytes."""
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate
    _register()

    class Numbered(Canvas):
        """Holds pages back until their number is known."""

        def __init__(self, *args, **kwargs) -> None:
            super().__init__(*args, **kwargs)
            self._pages: list[dict] = []

        def showPage(self) -> None:
            self._pages.append(dict(self.__dict__))
            self._startPage()

        def save(self) -> None:
            for number, page in enumerate(self._pages, 1):
                self.__dict__.update(page)
                self.setFont("Garnetfin", 7.5)
                self.setFillColor(COLOURS["faint"])
                self.drawString(18 * mm, 10 * mm, footer)
                self.drawRightString(A4[0] - 18 * mm, 10 * mm, f"{number} of {len(self._pages)}")
                self.setStrokeColor(COLOURS["rule"])
                self.line(18 * mm, 14 * mm, A4[0] - 18 * mm, 14 * mm)
                super().showPage()
            super().save()

    out = io.BytesIO()
    page = BaseDocTemplate(out, pagesize=A4, title=title, author="", creator="Garnetfin", invariant=1)
    width = A4[0] - 36 * mm
    page.addPageTemplates(PageTemplate(frames=[Frame(18 * mm, 17 * mm, width, A4[1] - 33 * mm, 0, 0, 0, 0)]))
    story = []
    for i, block in enumerate(blocks):
        story += _flow(block, width, first=i == 0)
    page.build(story, canvasmaker=Numbered)
    return out.getvalue()


def _style(size: float, bold: bool = False, colour: str = "ink", after: float = 0, before: float = 0, right: bool = False):
    from reportlab.lib.enums import TA_LEFT, TA_RIGHT
    from reportlab.lib.styles import ParagraphStyle
    return ParagraphStyle("s", fontName="Garnetfin-Bold" if bold else "Garnetfin", fontSize=size, leading=size * 1.32,
                          textColor=COLOURS[colour], spaceAfter=after, spaceBefore=before,
                          alignment=TA_RIGHT if right else TA_LEFT)


def _flow(block: Block, width: float, first: bool) -> list:
    from reportlab.platypus import PageBreak as NewPage
    from reportlab.platypus import Paragraph, Spacer
    match block:
        case PageBreak():
            return [] if first else [NewPage()]
        case Heading():
            size = {1: 19, 2: 14, 3: 10.5}[block.level]
            note = f'  <font name="Garnetfin" size="8.5" color="{COLOURS["faint"]}">{escape(block.note)}</font>'
            paragraph = Paragraph(escape(block.text) + (note if block.note else ""),
                                  _style(size, True, after=5, before=0 if block.level < 3 else 9))
            paragraph.keepWithNext = 1
            return [paragraph]
        case Text():
            return [Paragraph(escape(block.text), _style(8.5, colour="faint" if block.faint else "ink", after=6, before=4))]
        case Facts():
            return [_facts(block, width), Spacer(1, 7)]
        case TableBlock():
            return [_table(block, width), Spacer(1, 6)]
        case Figure():
            return [_figure(block, width), Spacer(1, 6)]
    raise TypeError(f"No way to print {type(block).__name__}")


def _facts(block: Facts, width: float):
    from reportlab.platypus import Paragraph, Table, TableStyle
    cells = [[Paragraph(escape(label), _style(7.5, colour="faint")), Paragraph(escape(value), _style(9.5, True))]
             for label, value in block.rows]
    cells += [""] * (-len(cells) % block.columns)
    rows = [cells[i:i + block.columns] for i in range(0, len(cells), block.columns)]
    return Table(rows, colWidths=[width / block.columns] * block.columns, style=TableStyle([
        ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0), ("TOPPADDING", (0, 0), (-1, -1), 2),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 3)]))


def _table(block: TableBlock, width: float):
    from reportlab.platypus import Paragraph, Table, TableStyle
    share = sum(c.width for c in block.columns)
    head = [Paragraph(f'{escape(c.name)} <font color="{COLOURS["faint"]}" size="6.5">{escape(c.unit)}</font>',
                      _style(7.2, True, right=not c.left)) for c in block.columns]
    small = 7.2 if len(block.columns) > 9 else 8

    def cell(text: str, column, bold: bool):
        return Paragraph(escape(text), _style(small, bold, right=not column.left))

    rows = [[cell(t, c, i in block.strong) for t, c in zip(row, block.columns)] for i, row in enumerate(block.rows)]
    if block.total:
        rows.append([cell(t, c, True) for t, c in zip(block.total, block.columns)])
    style = [("BACKGROUND", (0, 0), (-1, 0), COLOURS["tint"]), ("VALIGN", (0, 0), (-1, -1), "TOP"),
             ("LINEBELOW", (0, 0), (-1, -1), 0.3, COLOURS["rule"]), ("LEFTPADDING", (0, 0), (-1, -1), 2),
             ("RIGHTPADDING", (0, 0), (-1, -1), 2), ("TOPPADDING", (0, 0), (-1, -1), 1.4),
             ("BOTTOMPADDING", (0, 0), (-1, -1), 1.8)]
    if block.total:
        style.append(("LINEABOVE", (0, -1), (-1, -1), 0.7, COLOURS["ink"]))
    return Table([head, *rows], colWidths=[width * c.width / share for c in block.columns], repeatRows=1,
                 style=TableStyle(style))


def _figure(block: Figure, width: float):
    from reportlab.graphics.shapes import Drawing, Polygon, PolyLine, String
    from reportlab.lib.colors import HexColor
    from reportlab.lib.units import mm
    x0, y0, x1, y1 = block.box
    sx, sy = width / (x1 - x0), block.height_mm * mm / (y1 - y0)
    if block.alike:
        sx = sy = min(sx, sy)
    drawing = Drawing(width, (y1 - y0) * sy)

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return (point[0] - x0) * sx, (point[1] - y0) * sy

    for shape in block.shapes:
        flat = [v for p in shape.points for v in at(p)]
        if len(flat) < 4:
            continue
        made = Polygon(flat) if shape.closed else PolyLine(flat)
        made.strokeColor = HexColor(COLOURS[shape.stroke]) if shape.stroke else None
        made.strokeWidth = shape.width
        if shape.closed:
            made.fillColor = HexColor(COLOURS[shape.fill]) if shape.fill else None
        made.strokeDashArray = [3, 2] if shape.dashed else None
        drawing.add(made)
    for label in block.labels:
        x, y = at(label.at)
        drawing.add(String(x, y - label.size * 0.35, label.text, fontName="Garnetfin", fontSize=label.size,
                           fillColor=HexColor(COLOURS[label.colour]),
                           textAnchor={"left": "start", "centre": "middle", "right": "end"}[label.side]))
    return drawing
