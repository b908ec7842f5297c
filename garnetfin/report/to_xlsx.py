"""The document set as a workbook: one sheet a paper, figures as numbers in the printed unit, sums as formulas
(openpyxl).
"""

import io
import re
import zipfile

from garnetfin import __version__, display
from garnetfin.core.texts import readable
from garnetfin.report.blocks import Block, Contents, Facts, Heading, Number, Start, TableBlock, Text
from garnetfin.report.to_csv import harmless

MOST_WIDE = 46.0
MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
FORBIDDEN = re.compile(r"[\[\]:*?/\\]")


def to_xlsx(blocks: list[Block], title: str) -> bytes:
    """A workbook; drawings and curves are left to the PDF."""
    from openpyxl import Workbook
    from openpyxl.styles import Alignment, Border, Font, PatternFill, Side

    book = Workbook()
    book.remove(book.active)
    book.properties.title, book.properties.creator = readable(title), f"Garnetfin {__version__}"
    tint, thin = PatternFill("solid", fgColor="F6F2EB"), Side(style="thin", color="23262B")
    bold, faint = Font(bold=True), Font(color="63676E", italic=True)
    right = Alignment(horizontal="right")
    sheet, row, wide, papers = None, 0, {}, []
    tables: list[int] = []  # rows of heads on the sheet in hand
    stored: dict[tuple[str, str], float] = {}  # (sheet, cell) -> what its formula comes to

    def put(column: int, text: str, font=None, fill=None):
        """A cell of the row in hand: a number where the text has one."""
        cell = sheet.cell(row, column)
        if isinstance(text, Number):
            cell.value, cell.number_format = text.value, number_format(text)
        else:
            cell.value = readable(harmless(text)) or None
        if font is not None:
            cell.font = font
        if fill is not None:
            cell.fill = fill
        return cell

    def begin(name: str) -> None:
        nonlocal sheet, row, wide
        finish()
        sheet, row, wide = book.create_sheet(FORBIDDEN.sub(" ", readable(name))[:31]), 1, {}
        tables.clear()
        papers.append(name)
        put(1, name, Font(bold=True, size=14))
        row = 3

    def finish() -> None:
        if sheet is None:
            return
        for column, width in wide.items():
            sheet.column_dimensions[_letter(column)].width = min(MOST_WIDE, width + 2)
        _for_paper(sheet, tables)

    for block in blocks:
        if isinstance(block, Start):
            begin(block.title)
            continue
        if sheet is None:
            begin(title)
        match block:
            case Heading():
                put(
                    1,
                    block.text + (f"   {block.note}" if block.note else ""),
                    Font(bold=True, size={1: 13, 2: 12, 3: 11}[block.level]),
                )
                row += 1
            case Text():
                put(1, block.text, faint if block.faint else None)
                row += 2
            case Facts():
                for label, value in block.rows:
                    put(1, label)
                    cell = put(2, value, bold)
                    cell.alignment = right
                    if isinstance(value, Number):
                        put(3, value.unit)
                    wide[1] = max(wide.get(1, 8.0), len(label))
                    wide[2] = max(wide.get(2, 8.0), min(len(value), 24))
                    row += 1
                row += 1
            case TableBlock():
                tables.append(row)
                for k, column in enumerate(block.columns, 1):
                    cell = put(k, column.name + (f" [{column.unit}]" if column.unit else ""), bold, tint)
                    cell.alignment = Alignment(
                        horizontal="left" if column.left else "right", wrap_text=True, vertical="top"
                    )
                    wide[k] = max(
                        wide.get(k, 8.0),
                        min(len(column.name) + len(column.unit) + 3, 16),
                        *(min(len(r[k - 1]), MOST_WIDE) for r in block.rows or ((" ",) * len(block.columns),)),
                    )
                first = row + 1
                for i, line in enumerate(block.rows):
                    row += 1
                    for k, text in enumerate(line, 1):
                        cell = put(k, text, bold if i in block.strong else None)
                        if not block.columns[k - 1].left:
                            cell.alignment = right
                if block.total:
                    row += 1
                    for k, text in enumerate(block.total, 1):
                        cell = put(k, text, bold)
                        if k - 1 in block.summed and block.rows:
                            cell.value = f"=SUM({_letter(k)}{first}:{_letter(k)}{row - 1})"
                            cell.number_format = number_format(text) if isinstance(text, Number) else "General"
                            parts = (line[k - 1] for line in block.rows)
                            stored[sheet.title, cell.coordinate] = sum(
                                part.value for part in parts if isinstance(part, Number)
                            )
                        cell.border = Border(top=thin)
                        if not block.columns[k - 1].left:
                            cell.alignment = right
                row += 2
            case Contents():
                continue
    if sheet is None:
        begin(title)
    finish()
    if "Cover and contents" in book.sheetnames:
        cover = book["Cover and contents"]
        last = cover.max_row + 2
        cover.cell(last, 1, "Sheets").font = bold
        for i, name in enumerate(book.sheetnames[1:], last + 1):
            cell = cover.cell(i, 1, name)
            cell.hyperlink = f"#'{name}'!A1"
    names = book.sheetnames
    out = io.BytesIO()
    book.save(out)
    return with_values(out.getvalue(), {(names.index(name) + 1, cell): v for (name, cell), v in stored.items()})


def _for_paper(sheet, tables: list[int]) -> None:
    """Heads that stay in sight and come again on each page; one page wide, across, no more than what is filled."""
    if len(tables) == 1:
        sheet.freeze_panes = f"A{tables[0] + 1}"
        sheet.print_title_rows = f"{tables[0]}:{tables[0]}"
    else:
        sheet.freeze_panes = "A2"  # with several tables the paper's name is all that holds for each
    sheet.page_setup.orientation, sheet.page_setup.paperSize = "landscape", sheet.PAPERSIZE_A4
    sheet.page_setup.fitToWidth, sheet.page_setup.fitToHeight = 1, 0
    sheet.sheet_properties.pageSetUpPr.fitToPage = True
    sheet.print_area = f"A1:{_letter(sheet.max_column)}{sheet.max_row}"


def with_values(book: bytes, stored: dict[tuple[int, str], float]) -> bytes:
    """The workbook with what its formulas come to beside them, for readers that do not compute.

    stored: (number of the sheet from 1, cell) -> figure; openpyxl writes formulas alone.
    """
    if not stored:
        return book
    from lxml import etree

    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(book)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for item in old.infolist():
            data = old.read(item)
            number = re.fullmatch(r"xl/worksheets/sheet(\d+)\.xml", item.filename)
            wanted = {c: v for (n, c), v in stored.items() if number and n == int(number.group(1))}
            if wanted:
                root = etree.fromstring(data)
                for cell in root.iter(f"{{{MAIN}}}c"):
                    if cell.get("r") in wanted:
                        value = cell.find(f"{{{MAIN}}}v")
                        value = etree.SubElement(cell, f"{{{MAIN}}}v") if value is None else value
                        value.text = repr(float(wanted[cell.get("r")]))
                data = etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True)
            new.writestr(item, data)
    return out.getvalue()


def number_format(text: Number) -> str:
    """As many decimals as are printed."""
    digits = str(text).removesuffix(text.unit).strip() if text.unit else str(text)
    decimals = len(digits.partition(".")[2])
    thousands = "#,##0" if display.THIN in digits else "0"
    return thousands + ("." + "0" * decimals if decimals else "")


def _letter(column: int) -> str:
    from openpyxl.utils import get_column_letter

    return get_column_letter(column)
