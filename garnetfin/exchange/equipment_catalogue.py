"""Reading a catalogue of equipment: CSV, one row a model; its headings say which kind it is."""

from pathlib import Path

from garnetfin.core.equipment.catalogue import MOST_ROWS, SHEETS, headings, name_of, one_row
from garnetfin.core.errors import FileError, InputError
from garnetfin.exchange.terminal_catalogue import grouped_rows, read_text
from garnetfin.project.edits.equipment import TakeEquipment
from garnetfin.project.equipment import Cell, OwnEquipment


def read_equipment(path: Path) -> TakeEquipment:
    """The command that takes a catalogue over.

    Raises FileError that names row, column and what is accepted, or that says that the headings are of no kind.
    """
    text = read_text(path)
    return TakeEquipment(parse(text, path.name))


def sheet_of(text: str, name: str) -> str:
    """Which catalogue a file is: the one all of whose headings it has."""
    head = next((line for line in text.splitlines() if line.strip() and not line.startswith("#")), "")
    found = {cell.strip() for cell in head.split(",")}
    for sheet, (kind, _, _) in SHEETS.items():
        if set(headings(kind)) <= found:
            return sheet
    lacks = {sheet: sorted(set(headings(kind)) - found) for sheet, (kind, _, _) in SHEETS.items()}
    near = min(lacks, key=lambda s: len(lacks[s]))
    raise FileError(
        f"{name} has the headings of no catalogue of equipment",
        remedy=f"For {near.replace('_', ' ')} it lacks " + ", ".join(lacks[near][:6]),
    )


def parse(text: str, name: str) -> tuple[OwnEquipment, ...]:
    """Rows of a catalogue. Raises FileError at the first that cannot be used."""
    sheet = sheet_of(text, name)
    kind, _, keys = SHEETS[sheet]
    columns = headings(kind)
    first = keys[0]
    rows = [cells for group in grouped_rows(text, name, columns, first, MOST_ROWS) for cells in group]
    found: dict[str, OwnEquipment] = {}
    for cells in sorted(rows, key=lambda c: c["row"]):
        try:
            row = one_row(kind, {c: str(cells[c]) for c in columns}, f"{name}, row {cells['row']}")
            made = OwnEquipment(
                id=f"{sheet}:{name_of(row)}",
                sheet=sheet,
                cells=tuple(Cell(heading=c, text=str(cells[c])) for c in columns if cells[c]),
                source=name,
            )
        except InputError as error:
            raise FileError(str(error)) from None
        if made.id in found:
            raise FileError(f"{name}, row {cells['row']}: “{name_of(row)}” stands there twice")
        found[made.id] = made
    if not found:
        raise FileError(f"{name} holds no rows")
    return tuple(found.values())
