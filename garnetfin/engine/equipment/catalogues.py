"""Catalogues in force: rows of the office's own before those that ship, by sheet."""

from functools import lru_cache
from typing import Any

from garnetfin.core.equipment.catalogue import SHEETS, name_of, one_row, shipped
from garnetfin.core.equipment.room_units import FanCoils, rated_fan_coils
from garnetfin.project.book import Book
from garnetfin.project.lookup import Same


def rows(book: Book, sheet: str) -> tuple[Any, ...]:
    """Rows of a sheet; an own row takes the place of a shipped one of its name."""
    return _merged(Same(book.equipment), sheet) if book.equipment else shipped(sheet)


@lru_cache(maxsize=32)
def _merged(own: Same, sheet: str) -> tuple[Any, ...]:
    kind = SHEETS[sheet][0]
    found = {name_of(row): row for row in shipped(sheet)}
    for one in own.item:
        if one.sheet == sheet:
            row = one_row(kind, {c.heading: c.text for c in one.cells}, one.id)
            found[name_of(row)] = row
    return tuple(found.values())


def fan_coils(book: Book) -> tuple[tuple[Any, ...], FanCoils]:
    """(fan coils of the catalogue, what each passes), found once a catalogue."""
    return _fan_coils(Same(rows(book, "room_units")))


@lru_cache(maxsize=8)
def _fan_coils(units: Same) -> tuple[tuple[Any, ...], FanCoils]:
    models = tuple(u for u in units.item if u.kind == "fan_coil")
    return models, rated_fan_coils(models)
