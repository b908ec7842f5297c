"""Blocks on pages: A4 for text and tables, a larger sheet with a title block for plans (vector PDF, by reportlab)."""

import io
from dataclasses import dataclass, field
from functools import lru_cache
from importlib.resources import files
from xml.sax.saxutils import escape

from garnetfin import __version__
from garnetfin.core.texts import shortened
from garnetfin.project.papers import PAPER_SIZES, SCALES
from garnetfin.report.blocks import (
    Block,
    Contents,
    Facts,
    Figure,
    Heading,
    Number,
    PageBreak,
    Plan,
    Start,
    TableBlock,
    Text,
)
from garnetfin.report.plan_sheet import BLOCK_MM, draw_plan, fitting_scale, read_logo
from garnetfin.report.watch import UNWATCHED, Watch

COLOURS = {
    "ink": "#23262B",
    "faint": "#63676E",
    "rule": "#DDD7CD",
    "garnet": "#7E1F3B",
    "garnet_tint": "#F5E9EC",
    "wall": "#35383E",
    "glass": "#7FA9B5",
    "paper": "#F3EFE8",
    "sheet": "#FFFFFF",
    "tint": "#F6F2EB",
    "supply": "#14666F",
    "supply_fill": "#D3E6E6",
    "return": "#8F5A0A",
    "return_fill": "#F3E3C6",
    "outdoor": "#54721F",
    "outdoor_fill": "#E2EAD2",
    "exhaust": "#64578C",
    "exhaust_fill": "#E4E0EF",
}
FONTS = {"Garnetfin": "Regular", "Garnetfin-Bold": "SemiBold", "Garnetfin-Italic": "Italic"}
LONGEST_TEXT = 20_000
TALLEST_CELL = 300.0  # points; half a page
LONGEST_CELL = 500  # letters; a row of a table must fit on a page, and the workbook has the whole text
LEFT_MM, FOOT_MM, HEAD_MM = 18.0, 17.0, 16.0


@dataclass(frozen=True, slots=True)
class Look:
    """What stands on every page: title of the file, foot line, the office's name, lines and logo, sheet and scale of
    plans (0: by rule).
    """

    title: str
    foot: str
    company: str = ""
    lines: tuple[str, ...] = ()
    logo: bytes = b""
    plans: str = "A3"
    scale: int = 0


@dataclass(frozen=True, slots=True)
class Pdf:
    """The file, how many pages it has, the page (from 1) on which each paper begins, and 1:n of each plan."""

    data: bytes
    pages: int
    starts: dict[str, int] = field(default_factory=dict)
    scales: tuple[int, ...] = ()


def register_fonts() -> None:
    """The bundled font, once a process."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    known = set(pdfmetrics.getRegisteredFontNames())
    for name, style in FONTS.items():
        if name not in known:
            data = files("garnetfin.ui").joinpath("assets", "fonts", f"GarnetfinSans-{style}.ttf").read_bytes()
            pdfmetrics.registerFont(TTFont(name, io.BytesIO(data)))


def to_pdf(blocks: list[Block], look: Look, watch: Watch = UNWATCHED) -> Pdf:
    """Pages with numbers, contents and bookmarks. Same blocks give the same bytes."""
    from reportlab import rl_config
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    register_fonts()
    build = _Build(blocks, look, A4[0] - 2 * LEFT_MM * mm)

    class Numbered(Canvas):
        """Holds pages back until their number is known, and with it what the contents say."""

        def __init__(self, *args, **kwargs) -> None:
            super().__init__(*args, **kwargs)
            self._pages: list[dict] = []

        def showPage(self) -> None:
            self._pages.append(dict(self.__dict__))
            self._startPage()

        def save(self) -> None:
            build.pages = len(self._pages)
            for number, page in enumerate(self._pages, 1):
                self.__dict__.update(page)
                width = self._pagesize[0]
                self.setFont("Garnetfin", 7.5)
                self.setFillColor(_ink("faint"))
                self.drawString(LEFT_MM * mm, 10 * mm, look.foot)
                self.drawRightString(width - LEFT_MM * mm, 10 * mm, f"{number} of {len(self._pages)}")
                if look.company:
                    self.drawRightString(width - LEFT_MM * mm - 60, 10 * mm, look.company)
                self.setStrokeColor(_ink("rule"))
                self.line(LEFT_MM * mm, 14 * mm, width - LEFT_MM * mm, 14 * mm)
                self.setFont("Garnetfin", 9)
                self.setFillColor(_ink("ink"))
                for paper_id, x, y in build.listed.get(number, ()):
                    self.drawRightString(x, y, str(build.starts[paper_id]))
                super().showPage()
            super().save()

    out = io.BytesIO()
    # one project gives the same bytes: the date is that of the issue, in the foot and here
    page = BaseDocTemplate(
        out,
        pagesize=A4,
        title=look.title,
        author=look.company or "Garnetfin",
        subject=look.foot,
        keywords="heating and cooling loads, air flows, ducts, fan",
        creator=f"Garnetfin {__version__}",
        invariant=1,
    )
    across = tuple(v * mm for v in reversed(PAPER_SIZES[look.plans]))
    page.addPageTemplates(
        [
            PageTemplate(
                "text",
                frames=[Frame(LEFT_MM * mm, FOOT_MM * mm, build.width, A4[1] - (FOOT_MM + HEAD_MM) * mm, 0, 0, 0, 0)],
                pagesize=A4,
            ),
            PageTemplate(
                "plan",
                frames=[Frame(10 * mm, FOOT_MM * mm, across[0] - 20 * mm, across[1] - (FOOT_MM + 10) * mm, 0, 0, 0, 0)],
                pagesize=across,
            ),
        ]
    )
    # pages as they are, not spelled out in letters, which takes a tenth of the time
    rl_config.useA85 = 0
    story = build.story()
    count = max(1, len(story))

    def told(kind: str, value) -> None:
        if kind == "PROGRESS" and value % 16 == 0:
            watch(min(1.0, value / count), "pages")

    page.setProgressCallBack(told)
    page.build(story, canvasmaker=Numbered)
    return Pdf(out.getvalue(), build.pages, build.starts, tuple(build.scales))


class _Build:
    """The story of one file, and what becomes known while pages are laid out."""

    def __init__(self, blocks: list[Block], look: Look, width: float) -> None:
        self.blocks, self.look, self.width = blocks, look, width
        self.papers = [(b.paper_id, b.title) for b in blocks if isinstance(b, Start)]
        self.starts: dict[str, int] = {}
        self.listed: dict[int, list[tuple[str, float, float]]] = {}
        self.scales: list[int] = []
        self.pages = 0
        self.scale = self._one_scale()

    def _one_scale(self) -> int:
        """1:n at which every plan of the set fits its sheet."""
        across, down = reversed(PAPER_SIZES[self.look.plans])
        return max(
            (
                fitting_scale(b.figure, across - 26, down - FOOT_MM - 16 - BLOCK_MM, SCALES, self.look.scale)
                for b in self.blocks
                if isinstance(b, Plan)
            ),
            default=0,
        )

    def story(self) -> list:
        from reportlab.platypus import NextPageTemplate
        from reportlab.platypus import PageBreak as NewPage

        made: list = []
        fresh, on_plan = True, False  # a page that nothing stands on yet; the page in hand is a plan's
        for block in self.blocks:
            if isinstance(block, Plan):
                # The mark of its paper moves on with the first plan, so that no page stays empty.
                mark = [made.pop()] if made and isinstance(made[-1], _mark_class()) else []
                if not (fresh and not made):
                    while made and mark and isinstance(made[-1], (NewPage, NextPageTemplate)):
                        made.pop()
                made += [NextPageTemplate("plan"), NewPage(), *mark, self._plan(block)]
                fresh, on_plan = False, True
                continue
            if on_plan or isinstance(block, Start) or (isinstance(block, PageBreak) and block.least_mm == float("inf")):
                if not fresh:
                    made += [NextPageTemplate("text"), NewPage()]
                fresh, on_plan = True, False
            if isinstance(block, PageBreak) and block.least_mm == float("inf"):
                continue
            made += self._flow(block)
            fresh = False
        return made

    def _flow(self, block: Block) -> list:
        from reportlab.platypus import CondPageBreak, Paragraph, Spacer

        match block:
            case Start():
                made = [_mark_class()(self, block)]
                if block.paper_id == "cover":
                    return made + self._office()
                return made
            case PageBreak():
                return [CondPageBreak(block.least_mm * 72 / 25.4)]
            case Heading():
                size = {1: 19, 2: 12.5, 3: 10}[block.level]
                note = (
                    f'  <font name="Garnetfin" size="8.5" '
                    f'color="{COLOURS["faint"]}">{escape(shortened(block.note, LONGEST_CELL))}</font>'
                )
                paragraph = Paragraph(
                    escape(shortened(block.text, LONGEST_CELL)) + (note if block.note else ""),
                    _style(size, True, after=5, before={1: 0, 2: 8, 3: 8}[block.level]),
                )
                return [CondPageBreak(62), paragraph]
            case Text():
                return [
                    Paragraph(
                        escape(shortened(block.text, LONGEST_TEXT)),
                        _style(8.5, colour="faint" if block.faint else "ink", after=6, before=4),
                    )
                ]
            case Contents():
                return [_contents_class()(self), Spacer(1, 6)]
            case Facts():
                return [_facts(block, self.width), Spacer(1, 7)]
            case TableBlock():
                return [_table(block, self.width), Spacer(1, 6)]
            case Figure():
                return [_figure(block, self.width), Spacer(1, 6)]
        raise TypeError(f"No way to print {type(block).__name__}")

    def _office(self) -> list:
        """Logo, name and lines of the office above the cover."""
        from reportlab.lib.units import mm
        from reportlab.platypus import Image, Paragraph, Spacer

        made: list = []
        logo = read_logo(self.look.logo)
        if logo is not None:
            width, height = logo.getSize()
            scale = min(60 * mm / width, 22 * mm / height)
            image = Image(io.BytesIO(self.look.logo), width * scale, height * scale)
            image.hAlign = "LEFT"
            made += [image, Spacer(1, 5)]
        elif self.look.logo:
            made.append(Paragraph("The logo cannot be read.", _style(8, colour="faint")))
        if self.look.company:
            made.append(Paragraph(escape(self.look.company), _style(11, True)))
        made += [Paragraph(escape(line), _style(8.5, colour="faint")) for line in self.look.lines]
        return [*made, Spacer(1, 14)] if made else []

    def _plan(self, block: Plan):
        from reportlab.platypus import Flowable

        build = self

        class Sheet(Flowable):
            def wrap(self, width, height):
                self.width, self.height = width, height
                return width, height

            def draw(self):
                build.scales.append(
                    draw_plan(self.canv, block, build.look, self.width, self.height, COLOURS, build.scale)
                )

        return Sheet()


def _mark_class():
    """Where a paper begins: its title across the page, its place among the bookmarks."""
    from reportlab.platypus import Flowable

    if "mark" not in _CLASSES:

        class Mark(Flowable):
            def __init__(self, build: _Build, start: Start) -> None:
                super().__init__()
                self.build, self.start = build, start

            def wrap(self, width, height):
                self.width = width
                return width, 0 if self.start.paper_id in ("cover", "plans") else 30

            def draw(self):
                canvas = self.canv
                self.build.starts[self.start.paper_id] = canvas.getPageNumber()
                canvas.bookmarkPage(self.start.paper_id)
                canvas.addOutlineEntry(self.start.title, self.start.paper_id, 0)
                if self.start.paper_id not in ("cover", "plans"):
                    canvas.setFont("Garnetfin-Bold", 15)
                    canvas.setFillColor(_ink("ink"))
                    canvas.drawString(0, 14, self.start.title)
                    canvas.setStrokeColor(_ink("ink"))
                    canvas.setLineWidth(0.8)
                    canvas.line(0, 6, self.width, 6)

        _CLASSES["mark"] = Mark
    return _CLASSES["mark"]


def _contents_class():
    from reportlab.platypus import Flowable

    if "contents" not in _CLASSES:

        class List(Flowable):
            ROW = 14.0

            def __init__(self, build: _Build) -> None:
                super().__init__()
                self.build = build

            def wrap(self, width, height):
                self.width = width
                self.height = self.ROW * len(self.build.papers) + 4
                return width, self.height

            def draw(self):
                canvas = self.canv
                for i, (paper_id, title) in enumerate(self.build.papers):
                    y = self.height - self.ROW * (i + 1) + 4
                    canvas.setFont("Garnetfin", 9)
                    canvas.setFillColor(_ink("ink"))
                    canvas.drawString(0, y, title)
                    canvas.setStrokeColor(_ink("rule"))
                    canvas.setLineWidth(0.3)
                    canvas.line(0, y - 4, self.width, y - 4)
                    canvas.linkRect("", paper_id, (0, y - 4, self.width, y + 10), relative=1)
                    self.build.listed.setdefault(canvas.getPageNumber(), []).append(
                        (paper_id, *canvas.absolutePosition(self.width, y))
                    )

        _CLASSES["contents"] = List
    return _CLASSES["contents"]


_CLASSES: dict[str, type] = {}  # made once reportlab is there
_STYLES: dict[tuple, object] = {}


@lru_cache
def _ink(name: str):
    """A colour by its name, made once: reportlab would read its figures anew for every word."""
    from reportlab.lib.colors import HexColor

    return HexColor(COLOURS[name])


def _style(
    size: float, bold: bool = False, colour: str = "ink", after: float = 0, before: float = 0, right: bool = False
):
    key = (size, bold, colour, after, before, right)
    if key not in _STYLES:
        from reportlab.lib.enums import TA_LEFT, TA_RIGHT
        from reportlab.lib.styles import ParagraphStyle

        _STYLES[key] = ParagraphStyle(
            "s",
            fontName="Garnetfin-Bold" if bold else "Garnetfin",
            fontSize=size,
            leading=size * 1.32,
            textColor=_ink(colour),
            spaceAfter=after,
            spaceBefore=before,
            alignment=TA_RIGHT if right else TA_LEFT,
        )
    return _STYLES[key]


def _facts(block: Facts, width: float):
    from reportlab.platypus import Table, TableStyle

    each = width / block.columns - 8
    cells = [
        [
            _fitting(shortened(label, LONGEST_CELL), each, _style(7.5, colour="faint")),
            _fitting(shortened(value, LONGEST_CELL), each, _style(9.5, True)),
        ]
        for label, value in block.rows
    ]
    cells += [""] * (-len(cells) % block.columns)
    rows = [cells[i : i + block.columns] for i in range(0, len(cells), block.columns)]
    return Table(
        rows,
        colWidths=[width / block.columns] * block.columns,
        style=TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
            ]
        ),
    )


def _table(block: TableBlock, width: float):
    """Cells that fit their column are set as they are, which is many times faster than as a paragraph; the others
    wrap.
    """
    from reportlab.pdfbase.pdfmetrics import stringWidth
    from reportlab.platypus import Paragraph, Table, TableStyle

    share = sum(c.width for c in block.columns)
    widths = [width * c.width / share for c in block.columns]
    small = 7.2 if len(block.columns) > 9 else 8
    size = 7.2 if len(block.columns) <= 12 else 5.8
    head = [
        Paragraph(
            f'{escape(c.name)} <font color="{COLOURS["faint"]}" size="{size - 0.7}">{escape(c.unit)}</font>',
            _style(size, True, right=not c.left),
        )
        for c in block.columns
    ]

    def cell(text: str, k: int, bold: bool):
        column = block.columns[k]
        text = text if isinstance(text, Number) else shortened(text, LONGEST_CELL)
        if not bold and (isinstance(text, Number) or stringWidth(text, "Garnetfin", small) <= widths[k] - 9):
            return str(text)
        return _fitting(text, widths[k] - 8, _style(small, bold, right=not column.left))

    rows = [[cell(t, k, i in block.strong) for k, t in enumerate(row)] for i, row in enumerate(block.rows)]
    if block.total:
        rows.append([cell(t, k, True) for k, t in enumerate(block.total)])
    style = [("BACKGROUND", (0, 0), (-1, 0), _ink("tint")), ("LINEBELOW", (0, 0), (-1, -1), 0.3, _ink("rule"))]
    if block.total:
        style.append(("LINEABOVE", (0, -1), (-1, -1), 0.7, _ink("ink")))
    # A figure and the words behind it do not touch.
    apart = [6 if k and c.left and not block.columns[k - 1].left else 2 for k, c in enumerate(block.columns)]
    # One style for all cells of a column: reportlab would set each property of each cell by itself.
    body = [_cell_style(small, left, "LEFT" if c.left else "RIGHT") for c, left in zip(block.columns, apart)]
    return Table(
        [head, *rows],
        colWidths=widths,
        repeatRows=1,
        style=TableStyle(style),
        cellStyles=[[_cell_style(small, left) for left in apart], *([body] * len(rows))],
    )


def _cell_style(size: float, left: float, align: str = "LEFT"):
    from reportlab.platypus.tables import CellStyle

    made = CellStyle(f"{size} {left} {align}")
    made.fontname, made.fontsize, made.leading, made.color, made.valign, made.alignment = (
        "Garnetfin",
        size,
        size * 1.32,
        _ink("ink"),
        "TOP",
        align,
    )
    made.leftPadding, made.rightPadding, made.topPadding, made.bottomPadding = left, 2, 1.4, 1.8
    return made


def _fitting(text: str, width: float, style):
    """A paragraph that is no higher than TALLEST_CELL; of a longer text as much as that is."""
    from reportlab.platypus import Paragraph

    made = Paragraph(escape(text), style)
    while len(text) > 100 and made.wrap(width, 1e6)[1] > TALLEST_CELL:
        text = shortened(text, len(text) * 2 // 3)
        made = Paragraph(escape(text), style)
    return made


def _figure(block: Figure, width: float):
    from reportlab.graphics.shapes import Drawing, Polygon, PolyLine, String
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
        made.strokeColor = _ink(shape.stroke) if shape.stroke else None
        made.strokeWidth = shape.width
        if shape.closed:
            made.fillColor = _ink(shape.fill) if shape.fill else None
        made.strokeDashArray = [3, 2] if shape.dashed else None
        drawing.add(made)
    for label in block.labels:
        x, y = at(label.at)
        drawing.add(
            String(
                x,
                y - label.size * 0.35,
                label.text,
                fontName="Garnetfin",
                fontSize=label.size,
                fillColor=_ink(label.colour),
                textAnchor={"left": "start", "centre": "middle", "right": "end"}[label.side],
            )
        )
    return drawing
