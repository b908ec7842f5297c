"""Reading a catalogue of terminals: CSV, one row a measured point, as the file format describes it."""

import csv
import io
import math
from pathlib import Path

from garnetfin.core.errors import FileError, InputError
from garnetfin.project.catalogue import MOST_MODELS, MOST_POINTS, OwnTerminal, TerminalPoint

MOST_BYTES = 4 * 2**20
COLUMNS = (
    "model",
    "kind",
    "description",
    "use",
    "size_mm",
    "neck_area_m2",
    "effective_area_m2",
    "flow_L_s",
    "pressure_drop_Pa",
    "throw_050_m",
    "throw_025_m",
    "sound_power_dBA",
    "nc",
)


def read_terminals(path: Path) -> tuple[OwnTerminal, ...]:
    """Models of a catalogue. Raises FileError that names the row and column and what is accepted."""
    return parse(read_text(path), path.name)


def read_text(path: Path) -> str:
    """A catalogue's text, bounded in size."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise FileError(f"{path.name} is larger than the {MOST_BYTES // 2**20} MB accepted")
        return path.read_text(encoding="utf-8-sig")
    except OSError as error:
        raise FileError(f"{path.name} could not be read: {error.strerror or error}") from None
    except UnicodeDecodeError:
        raise FileError(f"{path.name} is no text in UTF-8", remedy="Save it as CSV UTF-8") from None


def parse(text: str, name: str) -> tuple[OwnTerminal, ...]:
    return tuple(_model(rows, name) for rows in grouped_rows(text, name, COLUMNS, "model", MOST_MODELS * MOST_POINTS))


def grouped_rows(text: str, name: str, columns: tuple[str, ...], by: str, most: int) -> list[list[dict]]:
    """Rows of a catalogue with the cells of the wanted columns and their row number, those of one model together."""
    lines = text.splitlines()
    numbers = [i for i, line in enumerate(lines, 1) if line.strip() and not line.startswith("#")]
    if not numbers:
        raise FileError(f"{name} holds no rows")
    if len(numbers) > most:
        raise FileError(f"{name} holds more rows than the {most} accepted")
    try:
        rows = list(csv.reader(io.StringIO("\n".join(lines[i - 1] for i in numbers)), strict=True))
    except csv.Error as error:
        raise FileError(f"{name} is no CSV: {error}") from None
    head = [c.strip() for c in rows[0]]
    missing = [c for c in columns if c not in head]
    if missing:
        raise FileError(f"{name} lacks the column {missing[0]}", remedy="The columns are " + ", ".join(columns))
    at = {c: head.index(c) for c in columns}
    models: dict[str, list[dict]] = {}
    for number, row in zip(numbers[1:], rows[1:]):
        if len(row) < len(head):
            raise FileError(f"{name}, row {number} has {len(row)} columns, the head has {len(head)}")
        cells = {c: row[i].strip() for c, i in at.items()}
        cells["row"] = number
        models.setdefault(cells[by], []).append(cells)
    return list(models.values())


def figure(cells: dict, column: str, name: str) -> float:
    try:
        value = float(cells[column])
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise FileError(f"{name}, row {cells['row']}: {column} is “{cells[column][:40]}”, not a number")
    return value


def _model(rows: list[dict], name: str) -> OwnTerminal:
    first = rows[0]
    for cells in rows:
        for column in ("kind", "use", "size_mm", "neck_area_m2"):
            if cells[column] != first[column]:
                raise FileError(
                    f"{name}, row {cells['row']}: {column} of {first['model']} differs from row {first['row']}"
                )
    if first["use"] not in ("supply", "return"):
        raise FileError(f"{name}, row {first['row']}: use is “{first['use'][:40]}”", remedy="Write supply or return")
    points = tuple(
        TerminalPoint(
            flow_m3s=figure(c, "flow_L_s", name) / 1000,
            pressure_pa=figure(c, "pressure_drop_Pa", name),
            throw_050_m=figure(c, "throw_050_m", name),
            throw_025_m=figure(c, "throw_025_m", name),
            sound_db=figure(c, "sound_power_dBA", name),
            nc=figure(c, "nc", name),
        )
        for c in rows
    )
    try:
        return OwnTerminal(
            id=first["model"],
            kind=first["kind"],
            description=first["description"],
            use=first["use"],
            size_m=figure(first, "size_mm", name) / 1000,
            neck_m2=figure(first, "neck_area_m2", name),
            effective_m2=figure(first, "effective_area_m2", name),
            points=points,
            source=name,
        )
    except InputError as error:
        raise FileError(f"{name}, rows {first['row']} to {rows[-1]['row']}: {error}") from None
