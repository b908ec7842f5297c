"""Two office standards side by side: every entry in which they differ, in words."""

from collections.abc import Iterator
from dataclasses import dataclass

from msgspec import structs

from garnetfin.core.tables import room_uses
from garnetfin.project.book import ASSUMPTIONS, BOOK_CHOICES, Book
from garnetfin.project.values import Rule

NONE = "–"
LISTED = (
    ("profiles", "Profile"),
    ("materials", "Material"),
    ("terminals", "Terminal"),
    ("fans", "Fan"),
    ("build_ups", "Build-up"),
    ("glazings", "Glass"),
    ("fabric_sets", "Fabric set"),
)


@dataclass(frozen=True, slots=True)
class BookDifference:
    """An entry: kind, name, what the first book has and what the second; figures in SI with their quantity, else
    words.
    """

    kind: str
    name: str
    before: float | str
    now: float | str
    quantity: str = ""


def compare(a: Book, b: Book) -> tuple[BookDifference, ...]:
    """All entries in which b differs from a, in the order of the book."""
    return (*_assumptions(a, b), *_choices(a, b), *_uses(a, b), *_lists(a, b), *_sheet(a, b))


def _assumptions(a: Book, b: Book) -> Iterator[BookDifference]:
    for field, (usual, quantity, _, _, label) in ASSUMPTIONS.items():
        x, y = (usual if isinstance(v, Rule) else v.value for v in (getattr(a, field), getattr(b, field)))
        if x != y:
            yield BookDifference("Assumption", label, x, y, quantity)


def _choices(a: Book, b: Book) -> Iterator[BookDifference]:
    for field, known in BOOK_CHOICES.items():
        x, y = getattr(a, field), getattr(b, field)
        if x != y:
            words = known if isinstance(known, dict) else {}
            yield BookDifference("Choice", field.replace("_", " ").capitalize(), words.get(x, x), words.get(y, y))


def _uses(a: Book, b: Book) -> Iterator[BookDifference]:
    old, new = ({(c.use_id, c.field): c.value for c in book.uses} for book in (a, b))
    known = room_uses()
    for key in (*old, *(k for k in new if k not in old)):
        use_id, field = key
        shipped = getattr(known[use_id], field, NONE) if use_id in known else NONE
        x, y = old.get(key, shipped), new.get(key, shipped)
        if x != y:
            yield BookDifference(
                "Use", f"{known[use_id].name if use_id in known else use_id}, {field.replace('_', ' ')}", x, y, "plain"
            )
    old, new = ({c.use_id: c.profile_id for c in book.use_profiles} for book in (a, b))
    for use_id in (*old, *(k for k in new if k not in old)):
        if old.get(use_id) != new.get(use_id):
            yield BookDifference(
                "Use",
                f"{known[use_id].name if use_id in known else use_id}, profile",
                old.get(use_id, "as it ships"),
                new.get(use_id, "as it ships"),
            )


def _lists(a: Book, b: Book) -> Iterator[BookDifference]:
    for field, kind in LISTED:
        old, new = ({_name(p): p for p in getattr(book, field)} for book in (a, b))
        for name in (*old, *(n for n in new if n not in old)):
            if name not in new:
                yield BookDifference(kind, name, "there", "gone")
            elif name not in old:
                yield BookDifference(kind, name, NONE, "new")
            elif (
                structs.replace(old[name], id=new[name].id) != new[name]
                if hasattr(new[name], "id")
                else old[name] != new[name]
            ):
                yield BookDifference(kind, name, "there", "changed")


def _name(part) -> str:
    return getattr(part, "name", "") or getattr(part, "id", "") or getattr(part, "model", "")


def _sheet(a: Book, b: Book) -> Iterator[BookDifference]:
    for field, label in (("company", "Name"), ("lines", "Lines"), ("logo", "Logo"), ("plans", "Plans on")):
        x, y = getattr(a.sheet, field), getattr(b.sheet, field)
        if x != y:
            words = (
                (lambda v: f"{len(v)} bytes" if v else NONE)
                if field == "logo"
                else (lambda v: ", ".join(v) or NONE)
                if field == "lines"
                else (lambda v: v or NONE)
            )
            yield BookDifference("Sheet", label, words(x), words(y))
