"""The project file: a ZIP container (.gfin) with project.json inside.

Reading is bounded in size and refuses what it does not know; writing is atomic, so the file on disk is
always either the old state or the new one.
"""

import hashlib
import io
import json
import zipfile
import zlib
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Any

import msgspec

from garnetfin.core.errors import FileError, GarnetfinError, InputError
from garnetfin.core.tables import room_uses
from garnetfin.project import container
from garnetfin.project.container import AS_MADE
from garnetfin.project.disk import write_whole
from garnetfin.project.migrate import migrate
from garnetfin.project.tree import FORMAT, Project, check_links
from garnetfin.project.values import Node

MEMBER = "project.json"
UNDERLAYS, WEATHER, MARKS = "underlays", "weather", "marks"
MOST_MARKS = 200
KIND = "application/x-garnetfin"
SAVE_ELSEWHERE = "Save to another folder; nothing is lost here"


class Mark(Node, frozen=True):
    """A kept state of the project: its name, when it was kept (ISO 8601), and the project as it stood."""

    name: str
    kept: str
    project: Project


def encode(project: Project, contents: Mapping[str, bytes] | None = None, marks: Sequence[Mark] = ()) -> bytes:
    """The bytes of a project file; of the contents beside it those that the project or a mark names.

    Raises FileError for more than can be read again.
    """
    text = msgspec.json.format(msgspec.json.encode(project), indent=1)
    container.count(text, project.name, MEMBER)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        # The kind stands first and as it is, so that a desktop knows the file by its first bytes.
        for name, data, how in (("mimetype", KIND.encode(), zipfile.ZIP_STORED), (MEMBER, text, zipfile.ZIP_DEFLATED)):
            archive.writestr(zipfile.ZipInfo(name, (2000, 1, 1, 0, 0, 0)), data, how)
        beside = _beside_all(project, marks)
        for content, member in sorted(beside.items()):
            if content in (contents or {}):
                archive.writestr(
                    zipfile.ZipInfo(member, (2000, 1, 1, 0, 0, 0)), contents[content], zipfile.ZIP_DEFLATED
                )
        for i, mark in enumerate(marks[-MOST_MARKS:], 1):
            archive.writestr(
                zipfile.ZipInfo(f"{MARKS}/{i:03d}.json", (2000, 1, 1, 0, 0, 0)),
                msgspec.json.encode(mark),
                zipfile.ZIP_DEFLATED,
            )
    made = buffer.getvalue()
    with container.opened(made, project.name):  # what would not be opened again is not written either
        return made


def named_contents(project: Project, marks: Iterable[Mark] = ()) -> frozenset[str]:
    """Contents that a file of a project and its marks holds, by id."""
    return frozenset(_beside_all(project, marks))


def _beside_all(project: Project, marks: Iterable[Mark]) -> dict[str, str]:
    return {c: m for p in (project, *(m.project for m in marks)) for c, m in _beside(p).items()}


def _beside(project: Project) -> dict[str, str]:
    """Contents that lie beside the project, by id, and where in the container they stand."""
    found = {u.content: f"{UNDERLAYS}/{u.content}" for u in project.underlays}
    if project.site is not None and project.site.weather is not None:
        found[project.site.weather.content] = f"{WEATHER}/{project.site.weather.content}.csv"
    return found


def content_id(data: bytes) -> str:
    """The name under which contents of an underlay are kept."""
    return hashlib.sha256(data).hexdigest()[:32]


class Opened(Node, frozen=True):
    """All that a project file holds.

    `left_out`: members that cannot be read, one sentence each; the file still has them.
    `told`: what an older file means here that it did not mean where it was made.
    """

    project: Project
    marks: tuple[Mark, ...] = ()
    left_out: tuple[str, ...] = ()
    told: tuple[str, ...] = ()


def load_contents(path: Path, *projects: Project) -> dict[str, bytes]:
    """Drawings and weather of a loaded project and its marks; one that is missing or not what its name says is left
    out.
    """
    found: dict[str, bytes] = {}
    try:
        with container.opened(path, path.name) as archive:
            for content, place in {c: m for p in projects for c, m in _beside(p).items()}.items():
                try:
                    member = archive.getinfo(place)
                    if member.file_size <= container.LARGEST_UNDERLAY:
                        with archive.open(member) as inside:
                            data = inside.read(container.LARGEST_UNDERLAY + 1)
                        if content_id(data) == content:
                            found[content] = data
                except (KeyError, zipfile.BadZipFile, zlib.error, EOFError, RuntimeError):
                    continue
    except (OSError, FileError):
        return found
    return found


def load_marks(path: Path) -> tuple[Mark, ...]:
    """Marks of a project file in the order they were kept; one that cannot be read is left out, the others stay."""
    try:
        with container.opened(path, path.name) as archive:
            return _marks(archive, path.name)[0]
    except (OSError, FileError):
        return ()


def _marks(archive: zipfile.ZipFile, name: str) -> tuple[tuple[Mark, ...], tuple[str, ...]]:
    """(marks in their order, a sentence for each that cannot be read)."""
    found: list[Mark] = []
    left_out: list[str] = []
    members = sorted(n for n in archive.namelist() if n.startswith(f"{MARKS}/") and n.endswith(".json"))
    for member in members[:MOST_MARKS]:
        try:
            text = container.json_of(archive, member, name)
            told = msgspec.json.decode(text, type=_MarkHead)
            project = (
                _project_of(msgspec.json.decode(text)["project"])
                if told.project.format != FORMAT
                else msgspec.json.decode(text, type=Mark).project
            )
            check_links(project)
            found.append(Mark(name=told.name, kept=told.kept, project=project))
        except (KeyError, TypeError, ValueError, RecursionError, msgspec.MsgspecError, GarnetfinError):
            left_out.append(f"{member} cannot be read")
    left_out += [f"{member} is beyond the {MOST_MARKS} snapshots accepted" for member in members[MOST_MARKS:]]
    return tuple(found), tuple(left_out)


OWN_ROOFS = 6  # the first format in which roofs count with their own absorptance


class _FormatHead(msgspec.Struct):
    format: int = 0


class _MarkHead(msgspec.Struct):
    name: str
    kept: str
    project: _FormatHead


def save(project: Project, path: Path, contents: Mapping[str, bytes] | None = None, marks: Sequence[Mark] = ()) -> None:
    """Raises FileError; the old file stays."""
    write_encoded(path, encode(project, contents, marks))


def write_encoded(path: Path, data: bytes) -> None:
    """Put what `encode` made in the place of a project file. Raises FileError; the old file stays."""
    write_whole(path, data, SAVE_ELSEWHERE, "saved")


def load(path: Path) -> Project:
    """Read, migrate and check a project file. Raises FileError saying what, where in the file, what is accepted."""
    _is_file(path)
    with container.opened(path, path.name) as archive:
        return _decoded(archive, path.name)


def load_all(path: Path) -> Opened:
    """The project with its marks, but for the contents beside them. Raises FileError as `load` does."""
    _is_file(path)
    with container.opened(path, path.name) as archive:
        text = _text(archive, path.name)
        project = decode(text, path.name)
        marks, left_out = _marks(archive, path.name)
        return Opened(project=project, marks=marks, left_out=left_out, told=_told(text, project))


def _told(text: bytes, project: Project) -> tuple[str, ...]:
    """Up to format 5 roofs counted with at least 80 % of the sun taken up."""
    if msgspec.json.decode(text, type=_FormatHead).format >= OWN_ROOFS:
        return ()
    cool = {b.id for b in project.build_ups if b.absorptance < 0.8}
    count = sum(s.kind == "roof" and s.build_up_id in cool for s in project.slabs)
    roofs = "roof now counts with its" if count == 1 else "roofs now count with their"
    return (f"{count} {roofs} own absorptance, below 80 %.",) if count else ()


def _is_file(path: Path) -> None:
    try:
        if path.is_dir():
            raise FileError(f"{path.name} is a folder", remedy=AS_MADE)
        path.stat()
    except OSError as error:
        raise FileError(f"{path.name} cannot be read: {error.strerror or error}", where=str(path.parent)) from error


def decode_container(data: bytes, name: str) -> Project:
    """A checked project from the bytes of a project file; nothing is ever unpacked to disk."""
    with container.opened(data, name) as archive:
        return _decoded(archive, name)


def _decoded(archive: zipfile.ZipFile, name: str) -> Project:
    return decode(_text(archive, name), name)


def _text(archive: zipfile.ZipFile, name: str) -> bytes:
    try:
        return container.json_of(archive, MEMBER, name)
    except KeyError as error:
        raise FileError(f"{name} holds no {MEMBER}", where="ZIP container", remedy=AS_MADE) from error


def decode(data: bytes, name: str) -> Project:
    """A checked project from the text of project.json."""
    container.count(data, name, MEMBER)
    try:
        # One of the newest format is decoded as what it is: nothing that a project does not know is ever held in
        # memory.
        newest = data.lstrip()[:1] == b"{" and msgspec.json.decode(data, type=_FormatHead).format == FORMAT
        project = msgspec.json.decode(data, type=Project) if newest else _project_of(msgspec.json.decode(data), name)
        check_links(project)
        for room in project.rooms:
            if room.use_id not in room_uses():
                raise InputError(
                    f"“{room.use_id}” is not a room use of the office standards", where=f"room {room.number}"
                )
    except InputError as error:
        raise FileError(
            f"{name} cannot be opened: {error.what}", where=f"{MEMBER}, {error.where}", remedy=error.remedy or AS_MADE
        ) from error
    except msgspec.ValidationError as error:
        what, _, where = str(error).partition(" - at ")
        raise FileError(
            f"{name} cannot be opened: {what}",
            where=f"{MEMBER}, {where.strip('`') or 'top'}",
            remedy="See docs/file-format.md for what is accepted",
        ) from error
    except ArithmeticError as error:  # a figure beyond all ranges, met before its own check
        raise FileError(
            f"{name} cannot be opened: a figure is far outside every range", where=MEMBER, remedy=AS_MADE
        ) from error
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise FileError(f"{name} is cut off or not JSON", where=f"{MEMBER}, {error}", remedy=AS_MADE) from error
    return project


def _project_of(raw: object, name: str = "") -> Project:
    """A project of an older format. Raises FileError, msgspec.ValidationError."""
    if not isinstance(raw, dict):
        raise FileError(f"{name} holds no project", where=MEMBER, remedy=AS_MADE)
    return msgspec.convert(migrate(raw), Project)


def schema() -> dict[Any, Any]:
    """JSON Schema of project.json."""
    found = msgspec.json.schema(Project)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Garnetfin project", **found}


def schema_text() -> str:
    return json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"
