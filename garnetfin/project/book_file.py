"""The office standards as a file of its own (.gfbook): JSON with the book's fields, shared between projects."""

import json
from pathlib import Path

import msgspec

from garnetfin.core.errors import FileError, InputError
from garnetfin.project.book import Book
from garnetfin.project.disk import write_whole
from garnetfin.project.migrate import absorptances

LARGEST = 16 * 1024 * 1024
FORMAT = 1
SUFFIX = ".gfbook"


def encode_book(book: Book) -> bytes:
    return msgspec.json.format(msgspec.json.encode({"garnetfin_book": FORMAT, "book": book}), indent=1)


def save_book(book: Book, path: Path) -> None:
    """Atomic. Raises FileError; a file that stood there stays as it was."""
    write_whole(path, encode_book(book))


def load_book(path: Path) -> Book:
    """Raises FileError for what is no file of office standards, naming the field that is wrong."""
    try:
        if path.stat().st_size > LARGEST:
            raise FileError(f"{path.name} is larger than the {LARGEST // 2**20} MB accepted", where=str(path.name))
        data = path.read_bytes()
    except OSError as error:
        raise FileError(f"{path.name} cannot be read: {error.strerror or error}", where=path.name) from error
    return decode_book(data, path.name)


def decode_book(data: bytes, name: str = "office standards") -> Book:
    try:
        raw = json.loads(data)
        if not isinstance(raw, dict) or raw.get("garnetfin_book") != FORMAT:
            raise FileError(
                f"{name} is no file of office standards",
                where=name,
                remedy="A .gfbook file as this program saves it is accepted",
            )
        # a book has no format of its own for this: what it says in the older way is read as it was meant
        return msgspec.convert(absorptances(raw).get("book"), Book)
    except (ValueError, RecursionError, msgspec.ValidationError, InputError) as error:
        raise FileError(
            f"{name} is no file of office standards: {error}",
            where=name,
            remedy="A .gfbook file as this program saves it is accepted",
        ) from error
