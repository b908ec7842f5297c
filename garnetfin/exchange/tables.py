"""CSV, XLSX and pasted text as rows of cells."""

import csv
import io
import zipfile
from collections import Counter
from pathlib import Path
from typing import Any

from garnetfin.core.errors import FileError

MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 20_000, 200, 500
MOST_SHEETS = 50
LARGEST_TEXT = 20 * 2**20
LARGEST_UNPACKED = 200 * 2**20
ACCEPTED = "CSV or XLSX with a line of headings is accepted"


def rows_of_text(text: str, most: int = MOST_ROWS) -> list[list[str]]:
    """Cells of pasted or CSV text, `most` rows at most; the separator is the one of tab, semicolon and comma that
    divides the most lines alike.
    """
    text = text.replace("\x00", "")
    lines = [line for line in text.splitlines()[:most] if line.strip()]
    if not lines:
        return []
    sample = lines[:50]
    separator = max("\t;,|", key=lambda s: _divides(sample, s))
    reader = csv.reader(io.StringIO("\n".join(text.splitlines()[:most])), delimiter=separator)
    try:
        return [
            [cell.strip()[:LONGEST_CELL] for cell in row[:MOST_COLUMNS]]
            for row in reader
            if any(c.strip() for c in row)
        ]
    except csv.Error as error:
        raise FileError(f"The table cannot be read: {error}", remedy=ACCEPTED) from error


def _divides(lines: list[str], separator: str) -> tuple[int, int]:
    """How well a separator divides lines: how many it divides into as many cells as most, and into how many."""
    counts = Counter(line.count(separator) for line in lines)
    counts.pop(0, None)
    if not counts:
        return 0, 0
    cells, often = max(counts.items(), key=lambda pair: (pair[1], pair[0]))
    return often, cells


def decoded(data: bytes) -> str:
    """Text of a CSV file: with a byte order mark as it says, else UTF-8, else Western European."""
    for mark, name in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            return data.decode(name, errors="replace")
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")


def read_sheets(path: Path) -> list[tuple[str, list[list[str]]]]:
    """(name, rows) of every sheet that has rows; of a text file one without a name.

    Raises FileError for one that is no table or far too large.
    """
    with path.open("rb") as file:
        data = file.read(LARGEST_TEXT + 1)
    if len(data) > LARGEST_TEXT:
        raise FileError(f"{path.name} is larger than {LARGEST_TEXT // 2**20} MB", remedy=ACCEPTED)
    if data[:4] == b"PK\x03\x04":
        return _workbook(data, path.name)
    if data[:4] in (b"\xd0\xcf\x11\xe0", b"%PDF"):
        raise FileError(f"{path.name} is not a CSV or XLSX table", remedy=ACCEPTED)
    rows = rows_of_text(decoded(data))
    if not rows:
        raise FileError(f"{path.name} holds no rows", remedy=ACCEPTED)
    return [("", rows)]


def _workbook(data: bytes, name: str) -> list[tuple[str, list[list[str]]]]:
    import openpyxl

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(m.file_size for m in archive.infolist()) > LARGEST_UNPACKED:
                raise FileError(f"{name} unpacks to more than {LARGEST_UNPACKED // 2**20} MB", remedy=ACCEPTED)
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        left, sheets = MOST_ROWS, []
        for sheet in book.worksheets[:MOST_SHEETS]:
            if left <= 0:
                break
            rows = _cells(sheet, left)
            left -= len(rows)
            if rows:
                sheets.append((str(sheet.title)[:80], rows))
    except FileError:
        raise
    except Exception as error:  # openpyxl and zipfile raise many kinds for broken workbooks
        raise FileError(f"{name} is broken or not an XLSX workbook", remedy=ACCEPTED) from error
    if not sheets:
        raise FileError(f"{name} holds no rows on any sheet", remedy=ACCEPTED)
    return sheets


def _cells(sheet: Any, most: int) -> list[list[str]]:
    """Filled rows of a sheet as text."""
    rows = []
    for row in sheet.iter_rows(max_row=most, max_col=MOST_COLUMNS, values_only=True):
        cells = [
            "" if v is None else f"{v:.10g}" if isinstance(v, float) else str(v).strip()[:LONGEST_CELL] for v in row
        ]
        while cells and not cells[-1]:
            cells.pop()
        if cells:
            rows.append(cells)
    return rows
