"""The ZIP container of a project file, opened within limits that are looked at before anything is unpacked.

A file of a few hundred kilobytes can say that it unpacks to gigabytes, or be made of a hundred thousand members;
what it says of itself
is added up first, and JSON is counted before it is decoded. Any file that passes is read in a few seconds and half a
gigabyte.
"""

import io
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from garnetfin.core.errors import FileError

LARGEST_FILE = 512 * 2**20
# of one project or kept state; a building of 10,000 rooms with its ducts takes 70 MB
LARGEST_JSON = 80 * 2**20
LARGEST_UNDERLAY = 64 * 2**20
LARGEST_WEIGHT = 480 * 2**20  # of all members together, JSON counted as often as
JSON_WEIGHT = 5  # decoding it multiplies it in memory
MOST_MEMBERS = 1_000
LARGEST_DIRECTORY = 2**20
MOST_VALUES, MOST_GROUPS = 4_000_000, 1_500_000
AS_MADE = "A .gfin file as this program saves it is accepted"
_END, _END_LENGTH, _LONGEST_NOTE = b"PK\x05\x06", 22, 65_535


@contextmanager
def opened(source: Path | bytes, name: str) -> Iterator[zipfile.ZipFile]:
    """The archive of a file or its bytes.

    Raises FileError for what is none, or would unpack to more than any file of ours.
    """
    try:
        file = io.BytesIO(source) if isinstance(source, bytes) else source.open("rb")
    except OSError as error:
        raise FileError(f"{name} cannot be read: {error.strerror or error}", where=str(source.parent)) from error
    with file:
        _look_at_the_end(file, name)
        try:
            archive = zipfile.ZipFile(file)
        except Exception as error:  # broken archives raise zipfile, zlib, lzma and struct errors without a common base
            raise _broken(name) from error
        with archive:
            _weigh(archive, name)
            yield archive


def _broken(name: str) -> FileError:
    return FileError(f"{name} is broken or not a project", where="ZIP container", remedy=AS_MADE)


def _look_at_the_end(file: io.BufferedIOBase, name: str) -> None:
    """How many members there are stands at the end, so that a list of a hundred thousand need not be read to be
    refused.
    """
    size = file.seek(0, io.SEEK_END)
    if size > LARGEST_FILE:
        raise FileError(f"{name} is larger than {LARGEST_FILE // 2**20} MB", remedy=AS_MADE)
    file.seek(max(0, size - _END_LENGTH - _LONGEST_NOTE))
    tail = file.read()
    at = tail.rfind(_END)
    if at < 0 or len(tail) - at < _END_LENGTH:
        raise _broken(name)
    members, directory = (
        int.from_bytes(tail[at + 10 : at + 12], "little"),
        int.from_bytes(tail[at + 12 : at + 16], "little"),
    )
    if members > MOST_MEMBERS or directory > LARGEST_DIRECTORY:
        raise FileError(
            f"{name} is made of more than the {MOST_MEMBERS} members accepted", where="ZIP container", remedy=AS_MADE
        )
    file.seek(0)


def _weigh(archive: zipfile.ZipFile, name: str) -> None:
    infos = archive.infolist()
    weight = sum(i.file_size * (JSON_WEIGHT if i.filename.endswith(".json") else 1) for i in infos)
    large = next((i for i in infos if i.filename.endswith(".json") and i.file_size > LARGEST_JSON), None)
    if large is not None:
        raise FileError(f"{name} unpacks to more than {LARGEST_JSON // 2**20} MB", where=large.filename, remedy=AS_MADE)
    if len(infos) > MOST_MEMBERS or weight > LARGEST_WEIGHT:
        raise FileError(
            f"{name} unpacks to more than a project may hold", where=f"{len(infos)} members", remedy=AS_MADE
        )


def json_of(archive: zipfile.ZipFile, member: str, name: str) -> bytes:
    """The text of a JSON member. Raises FileError, KeyError where there is none of that name."""
    info = archive.getinfo(member)
    try:
        with archive.open(info) as inside:
            text = inside.read(LARGEST_JSON + 1)
    except Exception as error:  # as above
        raise _broken(name) from error
    count(text, name, member)
    return text


def count(text: bytes, name: str, member: str) -> None:
    """Refuse JSON of more values than any project has, before it is decoded. Raises FileError."""
    if len(text) > LARGEST_JSON:
        raise FileError(f"{name} unpacks to more than {LARGEST_JSON // 2**20} MB", where=member, remedy=AS_MADE)
    if text.count(b",") > MOST_VALUES or text.count(b"{") + text.count(b"[") > MOST_GROUPS:
        raise FileError(f"{name} holds more values than a project may", where=member, remedy=AS_MADE)


def weight(path: Path) -> int:
    """What the JSON of a file unpacks to [bytes], by what it says of itself; 0 for what is no archive."""
    try:
        with opened(path, path.name) as archive:
            return sum(i.file_size for i in archive.infolist() if i.filename.endswith(".json"))
    except FileError:
        return 0
